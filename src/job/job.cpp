// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/job.h"

#include "base/text.h"
#include "board/conventions.h"
#include "design/design.h"
#include "job/blueprints.h"
#include "job/board_files.h"
#include "job/load_said.h"
#include "job/read_json.h"
#include "job/schema.h"
#include "job/supply_json.h"
#include "job/traced.h"
#include "readings/outside.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

namespace ohmo {
namespace {

constexpr double kTallestPhoto = 10; // widths

using detail::Json;

Problem broken_json(const std::string& text, const std::string& what, std::size_t byte) {
    const std::size_t upto = std::min(byte, text.size());
    const int line = 1 + static_cast<int>(std::count(text.begin(), text.begin() + static_cast<long>(upto), '\n'));
    const auto start = text.rfind('\n', upto == 0 ? 0 : upto - 1);
    const std::size_t column = upto - (start == std::string::npos ? 0 : start + 1);
    std::string detail = what;
    if (const auto colon = detail.find("syntax error"); colon != std::string::npos) detail = detail.substr(colon);
    return {
        ProblemKind::JsonBroken, fmt::format("line {}, column {}", line, column), detail, upto >= text.size() ? "end" : "", line, false};
}

void check_journal(const Job& job, const Vocabulary& vocabulary, Problems& out) {
    BoardThen then(job);
    std::vector<std::string> known = {std::string(kUsualMeter), low_power_meter().id, milliohm_meter().id};
    for (const auto& m : job.meters) known.push_back(m.id);
    for (std::size_t i = 0; i < job.journal.size(); ++i) {
        const Entry& e = job.journal[i];
        Problems problems = check_entry(then.board(), vocabulary, e, i);
        if (!e.meter.empty() && std::find(known.begin(), known.end(), e.meter) == known.end())
            problems.push_back({ProblemKind::UnknownWord, "/meter", e.meter, joined(known, ", "), 0, true});
        then.next(e, i);
        for (auto& p : problems) {
            p.place = fmt::format("/journal/{}", i) + p.place;
            out.push_back(std::move(p));
        }
    }
}

bool known_word(const std::vector<std::string>& words, const std::string& word) {
    return std::find(words.begin(), words.end(), word) != words.end();
}

class EntryCheck {
public:
    EntryCheck(const Board& board, const Vocabulary& vocabulary, const Entry& entry, std::size_t size)
        : m_board(board), m_vocabulary(vocabulary), m_e(entry), m_size(size) {}

    Problems run() {
        if (m_e.text.size() > kLongestNote)
            say(ProblemKind::NoteTooLong, "/text", std::to_string(m_e.text.size()), std::to_string(kLongestNote));
        switch (m_e.act) {
        case Do::Symptom:
            word(m_vocabulary.symptoms);
            break;
        case Do::History:
            word(m_vocabulary.history);
            break;
        case Do::Look:
            word(m_vocabulary.looks);
            if (m_e.stage.empty())
                need_part();
            else if (std::find(stage_order().begin(), stage_order().end(), m_e.stage) == stage_order().end())
                say(ProblemKind::UnknownWord, "/stage", m_e.stage, joined(stage_order(), ", "), true);
            break;
        case Do::Read:
            read();
            break;
        case Do::Pull:
        case Do::Plug:
            if (const auto part = need_part(); part && m_board.part(*part).kind != PartKind::Connector)
                say(ProblemKind::NotAConnector, "/part", m_e.part);
            break;
        case Do::Lift:
        case Do::Refit:
        case Do::Remove:
        case Do::Replace:
        case Do::Resolder:
        case Do::Recognise:
            need_part();
            break;
        case Do::Trace:
            if (m_e.edits.empty())
                say(ProblemKind::MissingField, "", "part");
            else if (const auto board = with_edits(m_board, m_e.edits); !board)
                m_out.insert(m_out.end(), board.problems().begin(), board.problems().end());
            break;
        case Do::Verdict:
            verdict();
            break;
        case Do::Prove:
            prove();
            break;
        case Do::Photo:
            photo();
            break;
        case Do::Note:
            note();
            break;
        case Do::Check:
            outside();
            break;
        case Do::Try:
            tried();
            break;
        case Do::Meter:
            in_hand();
            break;
        case Do::Retract:
            if (m_e.target < 0 || static_cast<std::size_t>(m_e.target) >= m_size)
                say(ProblemKind::NoSuchEntry, "/entry", std::to_string(m_e.target));
            break;
        default:
            if (!m_e.part.empty()) need_part();
            break;
        }
        return std::move(m_out);
    }

private:
    void say(ProblemKind kind, std::string place, std::string found, std::string expected = {}, bool warning = false) {
        m_out.push_back({kind, std::move(place), std::move(found), std::move(expected), 0, warning});
    }

    void word(const std::vector<std::string>& words) {
        if (m_e.saw.empty())
            say(ProblemKind::MissingField, "", "saw");
        else if (!known_word(words, m_e.saw))
            say(ProblemKind::UnknownWord, "/saw", m_e.saw, joined(words, ", "), true);
    }

    std::optional<int> need_part() {
        const auto part = m_board.find_part(m_e.part);
        if (m_e.part.empty())
            say(ProblemKind::MissingField, "", "part");
        else if (!part)
            say(ProblemKind::NoSuchPart, "/part", m_e.part);
        return part;
    }

    void net(const char* key, const std::string& name) {
        if (name.empty())
            say(ProblemKind::MissingField, "", key);
        else if (!m_board.find_net(name))
            say(ProblemKind::NoSuchNet, std::string("/") + key, name);
    }

    void read() {
        static const std::vector<std::string> quantities = {"ohms",     "diode",    "continuity", "farads", "esr",     "leakage",
                                                            "volts-dc", "volts-ac", "ripple",     "amps",   "celsius", "scope-residue"};
        if (m_e.what.empty())
            say(ProblemKind::MissingField, "", "what");
        else if (!known_word(quantities, m_e.what))
            say(ProblemKind::UnknownWord, "/what", m_e.what, joined(quantities, ", "));
        if (!m_e.value && !m_e.over) say(ProblemKind::MissingField, "", "value");
        const bool signed_quantity = m_e.what == "volts-dc" || m_e.what == "celsius" || m_e.what == "diode" || m_e.what == "amps";
        if (m_e.value && *m_e.value < 0 && !signed_quantity) say(ProblemKind::NegativeValue, "/value", fmt::format("{}", *m_e.value));
        if (!m_e.powered.empty() && !known_word({"off", "elv", "limited", "mains"}, m_e.powered))
            say(ProblemKind::UnknownWord, "/powered", m_e.powered, "off, elv, limited, mains");
        if (!m_e.load.empty()) {
            const auto share = load_share(m_board, m_e.from, m_e.load);
            if (!share) m_out.push_back(share.problems().front());
        }
        if (m_e.what == "amps" || m_e.what == "celsius") return; // may be of the whole unit
        if (m_e.part.empty()) {
            net("from", m_e.from);
            net("to", m_e.to);
            if (!m_e.from.empty() && m_e.from == m_e.to) say(ProblemKind::SameNetTwice, "/to", m_e.to);
            return;
        }
        const auto part = need_part();
        if (!part) return;
        if (!m_e.pins.empty() && m_e.pins.size() != 2) say(ProblemKind::MissingField, "/pins", "two pins");
        for (const auto& pin : m_e.pins)
            if (m_board.part(*part).net(pin) < 0) say(ProblemKind::UnknownPin, "/pins", pin, m_e.part);
    }

    void photo() {
        if (m_e.what.empty()) return; // of an older program: a note that one was taken
        if (!known_word({"added", "mark", "gone"}, m_e.what)) return say(ProblemKind::UnknownWord, "/what", m_e.what, "added, mark, gone");
        if (m_e.ref.empty() || m_e.ref.find_first_of("/\\") != std::string::npos)
            say(ProblemKind::MissingField, "/ref", "ref"); // a name beside the job, never a way elsewhere
        if (m_e.what == "added" && !known_word({"front", "back", "part"}, m_e.saw))
            say(ProblemKind::UnknownWord, "/saw", m_e.saw, "front, back, part");
        if (m_e.what != "mark" && m_e.saw != "part") return;
        const auto part = need_part();
        if (m_e.what != "mark") return;
        if (part && m_board.part(*part).net(m_e.pin) < 0) say(ProblemKind::UnknownPin, "/pin", m_e.pin, m_e.part);
        for (const auto& [name, value] : {std::pair{"x", m_e.x}, std::pair{"y", m_e.y}})
            if (!value)
                say(ProblemKind::MissingField, "", name);
            else if (!(*value >= 0 && *value <= kTallestPhoto))
                say(ProblemKind::OutOfRangeValue, std::string("/") + name, fmt::format("{}", *value), "a place on the picture");
    }

    void note() {
        if (m_e.what.empty()) return;
        if (!known_word({"apart", "together", "twin"}, m_e.what))
            return say(ProblemKind::UnknownWord, "/what", m_e.what, "apart, together, twin");
        if (m_e.what != "together" && m_e.text.empty()) say(ProblemKind::MissingField, "", "text");
        if (m_e.ref.find_first_of("/\\") != std::string::npos) say(ProblemKind::OutOfRangeValue, "/ref", m_e.ref, "a name beside the job");
        if (m_e.what == "together" && m_e.target >= static_cast<int>(m_size))
            say(ProblemKind::NoSuchEntry, "/entry", std::to_string(m_e.target));
    }

    void outside() {
        const OutsideCheck* check = outside_check(m_e.what);
        if (check == nullptr) {
            std::vector<std::string> known;
            for (const auto& c : outside_checks()) known.emplace_back(c.id);
            return say(ProblemKind::UnknownWord, "/what", m_e.what, joined(known, ", "));
        }
        const std::vector<std::string> answers(check->answers.begin(), check->answers.end());
        if (!known_word(answers, m_e.saw)) say(ProblemKind::UnknownWord, "/saw", m_e.saw, joined(answers, ", "));
        if (!asked_of(*check, m_board))
            say(ProblemKind::OutOfRangeValue, "/what", m_e.what,
                m_board.mains ? "a board on mains has no adapter" : "a board without mains has no socket, plug fuse or mains lead");
    }

    void tried() {
        if (!known_word({"runs", "fails", "dies"}, m_e.saw)) say(ProblemKind::UnknownWord, "/saw", m_e.saw, "runs, fails, dies");
        if (!m_e.what.empty() && !known_word({"cold", "warm"}, m_e.what)) say(ProblemKind::UnknownWord, "/what", m_e.what, "cold, warm");
        if (m_e.value && *m_e.value < 0) say(ProblemKind::NegativeValue, "/value", fmt::format("{}", *m_e.value));
    }

    void in_hand() {
        if (m_e.meter.empty() && !m_e.value) say(ProblemKind::MissingField, "", "meter");
        if (!m_e.value) return;
        if (*m_e.value < 0) say(ProblemKind::NegativeValue, "/value", fmt::format("{}", *m_e.value));
        if (const double most = m_board.practice().broken_lead_ohms; *m_e.value > most)
            say(ProblemKind::OutOfRangeValue, "/value", fmt::format("{}", *m_e.value), fmt::format("0 … {} ohm", most));
    }

    void prove() {
        const auto part = need_part();
        if (!known_word({"look", "joined", "all"}, m_e.what)) say(ProblemKind::UnknownWord, "/what", m_e.what, "look, joined, all");
        if (!known_word({"right", "wrong"}, m_e.saw)) say(ProblemKind::UnknownWord, "/saw", m_e.saw, "right, wrong");
        if (part && m_e.what == "joined" && m_board.part(*part).net(m_e.pin) < 0) say(ProblemKind::UnknownPin, "/pin", m_e.pin, m_e.part);
    }

    void verdict() {
        const auto part = need_part();
        if (m_e.saw != "good" && m_e.saw != "bad") say(ProblemKind::UnknownWord, "/is", m_e.saw, "good, bad");
        if (!part || m_e.mode.empty()) return;
        const auto mode = mode_from_name(m_e.mode);
        if (!mode || !mode_applies(m_board.part(*part).kind, *mode)) {
            std::vector<std::string> known;
            for (auto m : modes_of(m_board.part(*part).kind)) known.emplace_back(mode_name(m));
            say(ProblemKind::UnknownFaultMode, "/mode", m_e.mode, joined(known, ", "));
        }
    }

    const Board& m_board;
    const Vocabulary& m_vocabulary;
    const Entry& m_e;
    std::size_t m_size;
    Problems m_out;
};

} // namespace

std::string_view do_name(Do act) {
    static constexpr std::array<std::string_view, kDoes> names = {
        "symptom",  "history", "look",      "read",  "discharge",  "lift",    "refit", "pull",  "plug",    "remove",
        "replace",  "clean",   "cool",      "heat",  "substitute", "verdict", "note",  "photo", "choose",  "power-step",
        "sign-off", "retract", "recognise", "trace", "prove",      "check",   "try",   "meter", "resolder"};
    return names[static_cast<std::size_t>(act)];
}

namespace {

// The file's own JSON to be changed; that of an empty job where there is none.
std::shared_ptr<Json> own_json(const Job& job) {
    return std::make_shared<Json>(job.source ? *job.source : Json{{"ohmotrace", 1}, {"journal", Json::array()}});
}

} // namespace

Job Job::with(const Entry& entry) const {
    Job next = *this;
    auto json = own_json(*this);
    (*json)["journal"].push_back(detail::write_entry(entry));
    next.source = std::move(json);
    next.journal.push_back(entry);
    return next;
}

Job Job::with_unit(const Unit& other) const {
    Job next = *this;
    next.unit = other;
    auto json = own_json(*this);
    Json& u = (*json)["unit"];
    if (!u.is_object()) u = Json::object();
    u["name"] = other.name;
    u["model"] = other.model;
    u["maker"] = other.maker;
    u["serial"] = other.serial;
    if (other.worth) u["worth"] = {{"amount", *other.worth}, {"currency", other.currency.empty() ? "EUR" : other.currency}};
    next.source = std::move(json);
    return next;
}

Job Job::with_meter(MeterProfile meter) const {
    meter.usual = true;
    Job next = *this;
    auto json = own_json(*this);
    Json& list = (*json)["meters"];
    Json kept = Json::array();
    if (list.is_array())
        for (auto& m : list)
            if (m.value("id", "") != meter.id) {
                if (m.contains("usual")) m["usual"] = false;
                kept.push_back(std::move(m));
            }
    kept.push_back(detail::write_meter(meter));
    list = std::move(kept);
    next.source = std::move(json);
    std::erase_if(next.meters, [&](const MeterProfile& m) { return m.id == meter.id; });
    for (auto& m : next.meters) m.usual = false;
    next.meters.push_back(std::move(meter));
    return next;
}

Job redated(Job job, Seconds last) {
    if (job.journal.empty()) return job;
    const Seconds by = last - job.journal.back().at;
    auto json = own_json(job);
    for (std::size_t i = 0; i < job.journal.size(); ++i) {
        job.journal[i].at += by;
        (*json)["journal"][i]["at"] = format_time(job.journal[i].at);
    }
    job.source = std::move(json);
    return job;
}

std::string Job::text() const { return source ? detail::pretty(*source) : "{\"ohmotrace\": 1, \"journal\": []}\n"; }

Problems check_entry(const Board& board, const Vocabulary& vocabulary, const Entry& entry, std::size_t journal_size) {
    return EntryCheck(board, vocabulary, entry, journal_size).run();
}

Result<JobReader> JobReader::make(const Disk& disk, const Path& data) {
    JobReader reader;
    const Path schema = data / "schema" / "job.schema.json", words = data / "vocabulary.json";
    const auto schema_text = disk.read(schema, kLargestFile);
    if (!schema_text) return schema_text.problems();
    const auto words_text = disk.read(words, kLargestFile);
    if (!words_text) return words_text.problems();
    reader.m_schema = std::make_shared<const nlohmann::json>(nlohmann::json::parse(*schema_text, nullptr, false));
    const auto vocabulary = nlohmann::json::parse(*words_text, nullptr, false);
    if (reader.m_schema->is_discarded()) return Problem{ProblemKind::JsonBroken, schema.string(), {}, {}, 0, false};
    if (vocabulary.is_discarded()) return Problem{ProblemKind::JsonBroken, words.string(), {}, {}, 0, false};
    reader.m_vocabulary = {vocabulary.value("symptom", std::vector<std::string>{}), vocabulary.value("history", std::vector<std::string>{}),
                           vocabulary.value("look", std::vector<std::string>{})};
    const Path figures = data / "practice.json";
    auto practice = load_practice(disk, figures);
    if (!practice) return practice.problems();
    if (!(*practice == shipped_practice())) reader.m_edited_practice = std::make_shared<const Practice>(std::move(*practice));
    return reader;
}

Result<LoadedJob> JobReader::parse(const std::string& text) const {
    Json root;
    try {
        root = Json::parse(text);
    } catch (const Json::parse_error& error) {
        return broken_json(text, error.what(), error.byte);
    }
    Problems problems;
    LoadedJob loaded;
    const auto finish = [&]() -> Result<LoadedJob> {
        for (auto& p : problems) p.line = line_of_pointer(text, p.place);
        if (has_errors(problems)) return problems;
        loaded.warnings = problems;
        return std::move(loaded);
    };
    if (!root.is_object()) {
        problems.push_back({ProblemKind::SchemaMismatch, "", root.type_name(), "object", 0, false});
        return finish();
    }
    if (const auto version = root.find("ohmotrace"); version == root.end() || !version->is_number_integer() || *version != 1)
        problems.push_back({ProblemKind::SchemaMismatch, "/ohmotrace", version == root.end() ? "nothing" : version->dump(), "1", 0, false});
    Job& job = loaded.job;
    if (const auto unit = root.find("unit"); unit != root.end() && unit->is_object()) job.unit = detail::read_unit(*unit, problems);
    if (const auto meters = root.find("meters"); meters != root.end() && meters->is_array())
        job.meters = detail::read_meters(*meters, problems);
    if (const auto board = root.find("board"); board != root.end() && board->is_object()) {
        job.board = detail::read_board(*board, "/board", problems);
        job.has_board = true;
        if (!has_errors(problems)) {
            job.board.edited_practice = m_edited_practice;
            auto made = make_board(job.board);
            if (made) {
                job.board = std::move(made->board);
                fill_stages(job.board); // whoever wrote the file may not know of stages
                problems.insert(problems.end(), made->warnings.begin(), made->warnings.end());
            } else {
                problems.insert(problems.end(), made.problems().begin(), made.problems().end());
            }
        }
    }
    if (const auto journal = root.find("journal"); journal != root.end() && journal->is_array())
        for (std::size_t i = 0; i < journal->size(); ++i)
            job.journal.push_back(detail::read_entry((*journal)[i], fmt::format("/journal/{}", i), problems));
    if (!has_errors(problems)) check_journal(job, m_vocabulary, problems);
    if (!has_errors(problems)) detail::schema_problems(*m_schema, text, problems);
    job.source = std::make_shared<const Json>(std::move(root));
    return finish();
}

Result<LoadedJob> JobReader::load(const Disk& disk, const Path& path) const {
    const auto text = disk.read(path, kLargestFile);
    if (!text) return text.problems();
    return parse(*text);
}

Result<Job> JobReader::from_blueprint(const Disk& disk, const Path& blueprint) const {
    const auto text = disk.read(blueprint, kLargestFile);
    if (!text) return text.problems();
    const Json data = Json::parse(*text, nullptr, false);
    if (data.is_discarded() || !data.is_object() || !(data.contains("board") || data.contains("supply")))
        return Problem{ProblemKind::JsonBroken, blueprint.string(), {}, {}, 0, false};
    if (data.contains("supply")) {
        const auto supply = detail::read_supply(data["supply"], blueprint.string() + "#/supply");
        if (!supply) return supply.problems();
        auto made = design(*supply);
        if (!made) return made.problems();
        return std::move(made->job);
    }
    Json root = {{"ohmotrace", 1}, {"unit", Json::object()}, {"board", data["board"]}, {"journal", Json::array()}};
    auto loaded = parse(detail::pretty(root));
    if (!loaded) return loaded.problems();
    return std::move(loaded->job);
}

Result<DesignedJob> JobReader::design(const Supply& supply) const {
    auto design = design_supply(supply, m_edited_practice ? *m_edited_practice : shipped_practice());
    if (!design) return design.problems();
    auto loaded = parse(job_of_board(design->draft).text());
    if (!loaded) return loaded.problems();
    return DesignedJob{std::move(loaded->job), std::move(design->sums)};
}

Result<Path> save_job(const Disk& disk, const Path& path, const Job& job) { return disk.write(path, job.text()); }

} // namespace ohmo
