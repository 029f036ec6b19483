// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include "base/text.h"
#include "job/act_entries.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <list>

namespace ohmo::test {
namespace {

[[noreturn]] void give_up(const std::string& what, const Problems& problems = {}) {
    std::fprintf(stderr, "test support: %s", what.c_str());
    for (const auto& p : problems) std::fprintf(stderr, " [%s %s %s]", p.place.c_str(), p.found.c_str(), p.expected.c_str());
    std::fprintf(stderr, "\n");
    std::abort();
}

} // namespace

Path data() { return data_dir(); }

const JobReader& reader() {
    static const auto made = JobReader::make(RealDisk(), data());
    if (!made) give_up("no reader", made.problems());
    return *made;
}

std::string demo_text(const std::string& name) {
    const auto text = RealDisk().read(data() / "demo" / (name + ".ohmo.json"), kLargestFile);
    if (!text) give_up(name, text.problems());
    return *text;
}

Job demo(const std::string& name) {
    auto loaded = reader().parse(demo_text(name));
    if (!loaded) give_up(name, loaded.problems());
    return loaded->job;
}

Job foreign(const std::string& name) {
    auto loaded = reader().load(RealDisk(), Path(OHMO_TEST_BOARDS) / (name + ".ohmo.json"));
    if (!loaded) give_up(name, loaded.problems());
    return loaded->job;
}

Job discharged(const std::string& name) {
    Job job = demo(name);
    job.journal.clear();
    Entry done;
    done.act = Do::Discharge;
    done.value = 0.2;
    return job.with(done);
}

std::vector<std::string> traced_lines(const std::string& name) {
    std::ifstream file(std::string(OHMO_TEST_BOARDS) + "/" + name + ".lines");
    std::vector<std::string> out;
    for (std::string text; std::getline(file, text);)
        if (!text.empty() && text.front() != '#') out.push_back(text);
    if (out.empty()) std::abort();
    return out;
}

const Board& demo_board() {
    static const Board made = demo("rb6-fresh").board;
    return made;
}

const FaultLibrary& library() {
    static const auto made = load_fault_library(RealDisk(), data() / "fault-library.json");
    if (!made) give_up("fault library", made.problems());
    return *made;
}

std::shared_ptr<const Analysis> analyse(const Job& job) {
    constexpr std::size_t boards = 4; // remembered at a time, the last one used in front
    static std::list<std::pair<std::string, Analyst>> known;
    auto at = std::find_if(known.begin(), known.end(), [&](const auto& k) { return k.first == job.board.name; });
    if (at == known.end()) {
        auto made = Analyst::make(RealDisk(), data());
        if (!made) give_up("analyst", made.problems());
        known.emplace_front(job.board.name, std::move(*made));
        if (known.size() > boards) known.pop_back();
    } else {
        known.splice(known.begin(), known, at);
    }
    auto result = known.front().second.analyse(job, {});
    if (!result) give_up("analysis", result.problems());
    return *result;
}

Part part(const std::string& line) {
    const auto words = split_words(line);
    Part p;
    p.ref = words.at(0);
    const auto kind = kind_from_name(words.at(1));
    if (!kind) give_up("kind " + words.at(1));
    p.kind = *kind;
    if (words.at(2) != "-") p.value = replaced(words[2], "_", " ");
    for (std::size_t i = 3; i < words.size(); ++i) {
        const auto eq = words[i].find('=');
        const std::string key = words[i].substr(0, eq), value = words[i].substr(eq + 1);
        if (key == "stage")
            p.stage = value;
        else if (key == "volts")
            p.volts = std::stod(value);
        else if (key == "watts")
            p.watts = std::stod(value);
        else if (key == "ohms")
            p.ohms = std::stod(value);
        else
            p.pins.push_back({key, value, -1});
    }
    return p;
}

Board board(const std::vector<std::string>& lines) {
    Board draft;
    for (const auto& line : lines) draft.parts.push_back(part(line));
    auto made = make_board(std::move(draft));
    if (!made) give_up("board", made.problems());
    return made->board;
}

int at(const Board& board, const std::string& ref) {
    const auto found = board.find_part(ref);
    if (!found) give_up("no part " + ref);
    return *found;
}

Fault fault(const Board& board, const std::string& text) {
    const auto f = parse_fault(board, text);
    if (!f) give_up("fault " + text, f.problems());
    return *f;
}

std::vector<Fault> faults(const Board& board, const std::vector<std::string>& texts) {
    std::vector<Fault> out;
    for (const auto& t : texts) out.push_back(fault(board, t));
    return out;
}

Entry read(const std::string& what, const std::string& from, const std::string& to, double value) {
    Entry e;
    e.act = Do::Read;
    e.what = what;
    e.from = from;
    e.to = to;
    e.value = value;
    return e;
}

Entry read_part(const std::string& what, const std::string& part, double value) {
    Entry e;
    e.act = Do::Read;
    e.what = what;
    e.part = part;
    e.value = value;
    return e;
}

Entry alone(const std::string& what, const std::string& part, double value) {
    Entry e = read_part(what, part, value);
    e.lifted = true;
    return e;
}

Entry over(Entry reading) {
    reading.value.reset();
    reading.over = true;
    return reading;
}

Job with_all(Job job, const std::vector<Entry>& entries) {
    for (const auto& e : entries) job = job.with(e);
    return job;
}

Entry proved(const std::string& part) {
    Entry e = act(Do::Prove, part, "right");
    e.what = "all";
    return e;
}

Entry said(const std::string& word) { return act(Do::Symptom, {}, word); }

Entry live(const std::string& what, const std::string& red, const std::string& black, double value, const std::string& powered) {
    Entry e = read(what, red, black, value);
    e.powered = powered;
    return e;
}

Entry act(Do what, const std::string& part, const std::string& saw) {
    Entry e;
    e.act = what;
    e.part = part;
    e.saw = saw;
    return e;
}

Entry answer(const Analysis& analysis, const NextAct& asked, const std::vector<Fault>& real, double factor) {
    Entry e = act_entries(analysis.replay.board, analysis.replay.evidence.meters, asked).asked;
    if (asked.act == Act::Look) {
        e.saw = "fine";
        return e;
    }
    const auto reading = analysis.predictor->predict(asked.query, real);
    e.over = reading.over;
    e.value = reading.over ? std::nullopt : std::optional(reading.value * factor);
    return e;
}

double bad(const Analysis& analysis, const std::string& ref) { return analysis.assessment.of(at(analysis.replay.board, ref)).bad; }

MeterReading ohms(const Board& board, const std::string& red, const std::string& black, const std::vector<Fault>& faults,
                  const BoardState& state) {
    const DcSolver solver(expand(board, state, faults));
    return read_dc(solver, MeterProfile{}, Quantity::Ohms, board.find_net(red).value_or(-1), board.find_net(black).value_or(-1));
}

} // namespace ohmo::test
