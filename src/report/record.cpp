// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/record.h"

#include "base/base64.h"
#include "base/engineering.h"
#include "base/text.h"
#include "belief/belief.h"
#include "job/photo_file.h"
#include "report/triage_wording.h"
#include "report/wording.h"

#include <fmt/format.h>

#include <map>

namespace ohmo {
namespace {

constexpr int kPictureWidth = 640; // pixels

// One outline, written twice: as Markdown and as HTML.
class Writer {
public:
    virtual ~Writer() = default;
    virtual void title(const std::string& text) = 0;
    virtual void heading(const std::string& text) = 0;
    virtual void line(const std::string& text) = 0;
    virtual void items(const std::vector<std::string>& lines) = 0;
    virtual void picture(const RecordPicture& picture) = 0; ///< one that was read
};

class MarkdownWriter final : public Writer {
public:
    void title(const std::string& text) override { out += "# " + text + "\n\n"; }
    void heading(const std::string& text) override { out += "## " + text + "\n\n"; }
    void line(const std::string& text) override { out += text + "\n\n"; }
    void items(const std::vector<std::string>& lines) override {
        for (const auto& l : lines) out += "- " + l + "\n";
        out += "\n";
    }
    void picture(const RecordPicture& p) override { out += fmt::format("![{}]({})\n\n", p.title, p.file); }
    std::string out;
};

std::string escaped(const std::string& text) { return replaced(replaced(replaced(text, "&", "&amp;"), "<", "&lt;"), ">", "&gt;"); }

class HtmlWriter final : public Writer {
public:
    void title(const std::string& text) override { out += "<h1>" + escaped(text) + "</h1>\n"; }
    void heading(const std::string& text) override { out += "<h2>" + escaped(text) + "</h2>\n"; }
    void line(const std::string& text) override { out += "<p>" + escaped(text) + "</p>\n"; }
    void items(const std::vector<std::string>& lines) override {
        out += "<ul>\n";
        for (const auto& l : lines) out += "<li>" + escaped(l) + "</li>\n";
        out += "</ul>\n";
    }
    void picture(const RecordPicture& p) override {
        out += fmt::format("<div class=\"picture\"><img width=\"{}\" alt=\"{}\" src=\"data:image/{};base64,{}\">\n", kPictureWidth,
                           escaped(p.title), p.file.ends_with(".png") ? "png" : "jpeg", base64(p.bytes));
        for (const auto& m : p.marks)
            out += fmt::format("<span style=\"left:{:.0f}px;top:{:.0f}px\">{}</span>\n", m.spot.x * kPictureWidth, m.spot.y * kPictureWidth,
                               escaped(m.text));
        out += "</div>\n<p>" + escaped(p.title) + "</p>\n";
    }
    std::string out;
};

// A chain of events is a finding once every part of it is likelier bad than not; before that the record names who is suspect.
void write_finding(const Analysis& a, Writer& w) {
    const Board& board = a.replay.board;
    std::vector<std::string> story, suspects;
    bool stands = true;
    if (!a.assessment.stories.empty())
        for (const auto& s : a.assessment.stories.front().scenario.steps) {
            story.push_back(wording::fault(board, s.fault) + ": " + wording::step(board, s));
            stands = stands && a.assessment.belief->bad(s.fault.part) >= board.practice().replace_above; // as it was found
        }
    for (const auto& b : a.assessment.parts)
        if (b.bad >= board.practice().shown_suspect && !a.replay.evidence.renewed.contains(b.part))
            suspects.push_back(fmt::format("{}, {}", wording::fault(board, b.leading), format_share(b.bad)));
    if (!story.empty() && stands) {
        w.line(fmt::format("Likeliest chain of events (exactly this and nothing else: {}):", format_share(a.assessment.stories.front().p)));
        w.items(story);
    } else if (suspects.empty()) {
        w.line(story.empty() ? "Nothing on the board explains the complaint." : "Nothing is settled, and no part stands out.");
    } else {
        w.line("Nothing is settled yet. Suspect:");
        w.items(suspects);
    }
}

// What is to be replaced and what is suspect, each once, in the middle of its marked pins.
std::vector<RecordMark> marks_on(const Analysis& a, std::size_t photo) {
    std::map<std::string, std::vector<PhotoSpot>> spots;
    const auto marks = marks_of(a.replay.photos, photo);
    for (const auto* set : {&marks.own, &marks.derived})
        for (const auto& [pin, spot] : *set) spots[pin.first].push_back(spot);
    std::vector<RecordMark> out;
    const auto mark = [&](int part, const std::string& sign) {
        const auto found = spots.find(a.replay.board.part(part).ref);
        if (found == spots.end()) return;
        PhotoSpot middle;
        for (const auto& s : found->second) {
            middle.x += s.x / static_cast<double>(found->second.size());
            middle.y += s.y / static_cast<double>(found->second.size());
        }
        out.push_back({sign + found->first, middle});
        spots.erase(found);
    };
    for (const auto& line : a.plan.lines) mark(line.part, "✕ ");
    for (const auto& b : a.assessment.parts)
        if (b.bad >= a.replay.board.practice().shown_suspect) mark(b.part, "? ");
    return out;
}

void write(const Analysis& a, const std::vector<RecordPicture>& pictures, Writer& w) {
    const auto& unit = a.job.unit;
    const Board& board = a.replay.board;
    w.title(unit.name.empty() ? "Repair record" : fmt::format("{} {} {}", unit.maker, unit.model, unit.name));
    w.line(fmt::format("Serial {}; supply board {}.", unit.serial.empty() ? "not given" : unit.serial,
                       board.name.empty() ? "without a name" : board.name));
    w.line("Complaint: " + (a.replay.symptoms.empty() ? std::string("none logged") : in_words(joined(a.replay.symptoms, ", "))) +
           (a.replay.history.empty() ? "" : ". History: " + in_words(joined(a.replay.history, ", "))) + ".");
    if (!a.replay.outside.empty()) {
        std::vector<std::string> said;
        for (const auto& [check, answer] : a.replay.outside)
            said.push_back(lowered(wording::outside_check(check)) + ": " + wording::outside_answer(answer));
        w.line("Before the cover came off: " + joined(said, "; ") + ".");
    }
    for (const auto& line : wording::all_tries(board.practice(), a.replay.tries)) w.line(line);
    w.heading("Finding");
    write_finding(a, w);
    w.heading("Parts");
    std::vector<std::string> parts;
    for (const auto& l : a.plan.lines) parts.push_back(wording::part_title(board.part(l.part)) + ": " + wording::replace_reason(board, l));
    if (parts.empty()) parts.emplace_back("none");
    w.items(parts);
    if (const auto left = to_put_back(a.replay.apart); !left.empty()) {
        w.heading("Still off");
        std::vector<std::string> off;
        for (const auto& n : left) off.push_back(n.text);
        w.items(off);
    }
    if (!pictures.empty()) w.heading("Photos");
    for (const auto& p : pictures) {
        if (p.bytes.empty())
            w.line(fmt::format("{}: {} is not beside the job any more.", p.title, p.file));
        else
            w.picture(p);
    }
    w.heading("Journal");
    std::vector<std::string> lines;
    for (std::size_t i = 0; i < a.job.journal.size(); ++i) {
        const Entry& e = a.job.journal[i];
        if (a.replay.retracted[i]) continue;
        const bool note = e.act == Do::Note && e.what.empty(); // stands as it was written
        lines.push_back(replaced(format_time(e.at).substr(0, 16), "T", " ") + " " + (note ? e.text : wording::entry(board, e)));
    }
    w.items(lines);
    w.heading("Outcome");
    w.line(a.replay.outcome.empty() ? "Still open." : wording::outcome(a.replay.outcome) + ".");
    w.line("This record lists what was measured and done. It certifies nothing; local rules and a competent person decide on use.");
}

} // namespace

std::vector<RecordPicture> pictures_of(const Analysis& a) {
    std::vector<RecordPicture> out;
    for (std::size_t i = 0; i < a.replay.photos.size(); ++i) {
        const auto& photo = a.replay.photos[i];
        out.push_back({photo.file, photo.back ? "The board from behind" : "The board from the front", marks_on(a, i), {}});
    }
    for (const auto& [file, ref] : a.replay.part_pictures) {
        const auto part = a.replay.board.find_part(ref);
        const auto seen = part ? a.replay.looks.find(*part) : a.replay.looks.end();
        const std::string title = part ? wording::part_title(a.replay.board.part(*part)) : ref;
        out.push_back({file, seen == a.replay.looks.end() ? title : title + ": " + in_words(seen->second), {}, {}});
    }
    return out;
}

std::vector<RecordPicture> record_pictures(const Disk& disk, const Path& job, const Analysis& analysis) {
    auto out = pictures_of(analysis);
    for (auto& picture : out)
        if (auto bytes = disk.read(photo_path(job, picture.file), kLargestPhoto)) picture.bytes = std::move(*bytes);
    return out;
}

std::string record_markdown(const Analysis& analysis, const std::vector<RecordPicture>& pictures) {
    MarkdownWriter writer;
    write(analysis, pictures, writer);
    return writer.out;
}

std::string record_html(const Analysis& analysis, const std::vector<RecordPicture>& pictures) {
    HtmlWriter writer;
    write(analysis, pictures, writer);
    return "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>Repair record</title>\n"
           "<style>body{font-family:B612,sans-serif;max-width:46em;margin:2em auto;line-height:1.4}h2{border-bottom:1px solid "
           "#bbb}"
           ".picture{position:relative;line-height:1}.picture "
           "span{position:absolute;transform:translate(6px,-50%);background:#fff;border:1px solid "
           "#000;padding:0 3px;font-size:13px}</style></head><body>\n" +
           writer.out + "</body></html>\n";
}

} // namespace ohmo
