// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/part_words.h"

#include "base/engineering.h"
#include "base/text.h"
#include "report/wording.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo::wording {
namespace {

using Sign = PartReason::Sign;

std::string value_text(Quantity what, double value, bool over) { return reading(what, value, over, false); }

std::string refs(const Board& board, const std::vector<int>& parts) {
    std::vector<std::string> out;
    for (int p : parts) out.push_back(board.part(p).ref);
    return joined(out, ", ");
}

} // namespace

std::string shown(Quantity what, const Shown& s) {
    if (s.over) return "over range";
    const std::string low = format_quantity(s.low, unit(what), 2), high = format_quantity(s.high, unit(what), 2);
    if (s.low < s.high / 20) return "up to " + high;
    return low == high ? low : low + " … " + high;
}

std::string test_name(const PartTest& t) {
    const std::string q = t.what == Quantity::Esr ? "ESR" : lowered(quantity(t.what));
    return t.red.empty() ? q : fmt::format("{} {}→{}", q, t.red, t.black);
}

std::string test_read(const PartTest& t) {
    if (!t.read) return {};
    const char* says = t.against == Held::Fits ? "✓" : t.against == Held::Low ? "✕ low" : "✕ high";
    return fmt::format("{}{} {}", value_text(t.what, t.read->value, t.read->over), t.read->alone ? ", lifted" : "", says);
}

std::string test_failures(const Board& board, int part, const PartTest& t) {
    std::vector<std::pair<std::string, std::string>> by_shown; // what shows the same is named together
    for (const auto& f : t.failures) {
        const std::string name = mode(board.part(part).kind, f.mode), text = shown(t.what, f.alone);
        const auto same = std::find_if(by_shown.begin(), by_shown.end(), [&](const auto& s) { return s.first == text; });
        if (same == by_shown.end())
            by_shown.emplace_back(text, name);
        else
            same->second += ", " + name;
    }
    std::vector<std::string> out;
    for (const auto& [text, names] : by_shown) out.push_back(names + ": " + text);
    return joined(out, "; ");
}

std::string test_sisters(const Board& board, const PartTest& t) {
    std::vector<std::string> out;
    for (const auto& [part, read] : t.sisters)
        out.push_back(board.part(part).ref + " " + value_text(t.what, read.value, read.over) + (read.alone ? " lifted" : ""));
    return joined(out, ", ");
}

std::string part_judgement(const Analysis& a, const PartSheet& sheet) {
    const Practice& p = a.replay.board.practice();
    const std::string& ref = a.replay.board.part(sheet.part).ref;
    const double bad = a.assessment.of(sheet.part).bad;
    const char* word = bad >= p.proven_above ? "bad" : bad > p.replace_above ? "probably bad" : bad > p.shown_suspect ? "open" : "sound";
    return fmt::format("{}: {}, {} bad", ref, word, format_share(bad));
}

std::vector<PartReason> part_reasons(const Analysis& a, const PartSheet& sheet) {
    const Board& board = a.replay.board;
    std::vector<PartReason> out;
    const auto look = a.replay.looks.find(sheet.part);
    if (look == a.replay.looks.end())
        out.push_back({Sign::Open, "not looked at yet"});
    else
        out.push_back({look->second == "fine" ? Sign::For : Sign::Against, "looks " + in_words(look->second)});
    const PartTest* unread = nullptr;
    for (const auto& t : sheet.tests) {
        if (!t.read) {
            if (unread == nullptr && !t.failures.empty()) unread = &t;
            continue;
        }
        const Shown& sound = t.read->alone ? t.alone : t.here;
        out.push_back({t.against == Held::Fits ? Sign::For : Sign::Against,
                       fmt::format("{} {}, a sound one shows {}{}", test_name(t), value_text(t.what, t.read->value, t.read->over),
                                   shown(t.what, sound), t.read->alone ? "" : " here")});
    }
    if (sheet.loss && sheet.loss_usual)
        out.push_back(
            {*sheet.loss > board.practice().loss_worn * *sheet.loss_usual ? Sign::Against : Sign::For,
             fmt::format("loss angle: tangent {:.2g} at the ESR meter's frequency, usual {:.2g}", *sheet.loss, *sheet.loss_usual)});
    if (!sheet.sisters.empty()) {
        if (sheet.sisters_bad.empty())
            out.push_back({Sign::For, "none of its sisters is believed bad: " + refs(board, sheet.sisters)});
        else
            out.push_back({Sign::Against, fmt::format("{} of {} sisters believed bad: {}", sheet.sisters_bad.size(), sheet.sisters.size(),
                                                      refs(board, sheet.sisters_bad))});
    }
    if (unread != nullptr && a.assessment.of(sheet.part).bad < board.practice().proven_above)
        out.push_back({Sign::Open, fmt::format("{} not read yet{}", test_name(*unread),
                                               unread->here.over == unread->alone.over ? "" : ": lifted it tells more than in place")});
    return out;
}

} // namespace ohmo::wording
