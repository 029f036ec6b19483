// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/analysis.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo {
namespace {

// Everything of the board and the meters that predictions depend on.
std::string board_key(const Board& board, const std::vector<MeterProfile>& meters) {
    std::string key = board.mains ? fmt::format("{}V{}Hz|", board.mains->volts, board.mains->hertz) : "|";
    for (const auto& p : board.parts) {
        key += fmt::format("{};{};{};{};{};{};{};{};{}", p.ref, int(p.kind), p.value, p.stage, p.volts.value_or(-1), p.amps.value_or(-1),
                           p.watts.value_or(-1), p.age_years.value_or(-1), p.assumed);
        for (const auto& pin : p.pins) key += pin.role + "=" + pin.net + ",";
        key += fmt::format("{};{}", p.ohms.value_or(-1), p.henry.value_or(-1));
        if (p.place) key += fmt::format(";{},{}", p.place->x, p.place->y);
        key += "|";
    }
    for (const auto& r : board.rails) key += fmt::format("{};{};{}|", r.net, r.volts, r.amps);
    for (const auto& m : meters) {
        key += fmt::format("{};{};{};{};{}|", m.id, m.compliance, m.leads, m.residue + m.accuracy, m.esr_hertz);
        for (const auto& r : m.ohms) key += fmt::format("{}:{},", r.full, r.amps);
    }
    return key;
}

void complete_facts(const Predictor& predictor, const Assessment& assessment, Replay& replay) {
    for (const auto& b : assessment.parts)
        if (b.bad > 0.5) replay.facts.bad_in_place.push_back(b.part);
    std::sort(replay.facts.bad_in_place.begin(), replay.facts.bad_in_place.end());
    for (int r = 0; r < static_cast<int>(replay.board.rails.size()); ++r) {
        const auto& rail = replay.board.rails[static_cast<std::size_t>(r)];
        if (rail.net_id < 0 || rail.return_id < 0) continue;
        const auto p = predictor.predict({Quantity::Ohms, rail.net_id, rail.return_id, -1, {}, 0}, {});
        if (!p.over) replay.facts.healthy_rail_ohms[r] = p.value;
    }
}

// A first look: enough of the likeliest to choose a sensible first act.
constexpr double kFirstMass = 0.95, kFirstLeaf = 2e-3;
constexpr int kFirstScenarios = 600;
constexpr std::size_t kFirstTold = 60;

constexpr std::size_t kShownUnderPower = 6; // stories
constexpr double kSuspectAbove = 0.1, kBadAbove = 0.9, kGoodBelow = 0.01;

std::vector<Standing> standing_of(const Replay& now, const Assessment& assessment) {
    std::vector<Standing> out(now.board.parts.size(), Standing::Unknown);
    std::set<int> touched = now.evidence.looked;
    for (const auto& o : now.evidence.observations) {
        if (o.part >= 0) touched.insert(o.part);
        if (o.kind != Seen::Reading) continue;
        for (int i = 0; i < static_cast<int>(out.size()); ++i) { // read across: both its ends were under the leads
            const auto& pins = now.board.part(i).pins;
            const auto on = [&](NetId net) { return std::any_of(pins.begin(), pins.end(), [&](const Pin& p) { return p.id == net; }); };
            if (o.query.alone == i || (o.query.alone < 0 && on(o.query.red) && on(o.query.black))) touched.insert(i);
        }
    }
    for (const auto& b : assessment.parts) {
        auto& s = out[static_cast<std::size_t>(b.part)];
        if (now.evidence.absent.contains(b.part))
            s = Standing::Good;
        else if (now.evidence.renewed.contains(b.part))
            s = Standing::Renewed;
        else if (b.bad >= kBadAbove)
            s = Standing::Bad;
        else if (b.bad >= kSuspectAbove)
            s = Standing::Suspect;
        else if (b.bad < kGoodBelow && touched.contains(b.part))
            s = Standing::Good;
    }
    return out;
}

} // namespace

Result<Analyst> Analyst::make(const Disk& disk, const Path& data) {
    auto library = load_fault_library(disk, data / "fault-library.json");
    if (!library) return library.problems();
    const auto csv = disk.read(data / "parts-drawer.csv", 64u << 20);
    if (!csv) return csv.problems();
    auto stock = parse_stock(*csv, "parts-drawer.csv");
    if (!stock) return stock.problems();
    return Analyst(std::move(*library), std::move(*stock));
}

// Replays the job and makes the predictor the board's.
std::shared_ptr<Analysis> Analyst::begin(const Job& job) {
    auto out = std::make_shared<Analysis>();
    out->job = job;
    out->replay = replay(job);
    Replay& now = out->replay;
    out->discharge = plan_discharge(now.board, *now.roles, now.decay);
    const std::string key = board_key(now.board, now.evidence.meters);
    if (key != m_board_key) {
        m_predictor = std::make_shared<const Predictor>(now.board, now.evidence.meters, now.roles);
        m_hypotheses.reset();
        m_board_key = key;
    }
    std::string history;
    for (const auto& word : now.evidence.history) history += word + ",";
    if (history != m_history_key) m_hypotheses.reset();
    m_history_key = history;
    out->predictor = m_predictor;
    return out;
}

Result<Hypotheses> Analyst::hypotheses(const Replay& now, const EnumerateOptions& options, const CancelToken& cancel) const {
    auto set = enumerate_scenarios(now.board, *now.roles, m_library, now.evidence.history, options, cancel);
    if (!set) return set.problems();
    return Hypotheses::of(*m_predictor, std::make_shared<const ScenarioSet>(std::move(*set)));
}

std::optional<Problems> Analyst::conclude(Analysis& out, const Hypotheses& hypotheses, const NextOptions& options,
                                          const CancelToken& cancel) const {
    Replay& now = out.replay;
    auto assessment = assess(*m_predictor, m_library, hypotheses, now.evidence, {}, cancel);
    if (!assessment) return assessment.problems();
    out.assessment = std::move(*assessment);
    out.standing = standing_of(now, out.assessment);
    complete_facts(*m_predictor, out.assessment, now);
    auto replaced = now.evidence.renewed;
    for (int part : now.evidence.absent) replaced.erase(part);
    out.plan = make_plan(now.board, *now.roles, out.assessment, replaced, m_stock, m_school);
    out.ladder = make_ladder(now.board, *now.roles, now.facts);
    now.evidence.live_allowed = !out.ladder.locked;
    const auto& stories = out.assessment.stories;
    for (std::size_t k = 0; k < std::min(kShownUnderPower, stories.size()); ++k) {
        const SetId left = m_predictor->without(m_predictor->id(stories[k].scenario.faults()), now.evidence.renewed);
        out.under_power.push_back(expected_of(m_predictor->behaviour(left), m_predictor->figures(left), now.board, out.ladder.lamp));
    }
    auto next = next_acts(*m_predictor, m_library, out.assessment, now.evidence, options, cancel);
    if (!next) return next.problems();
    out.next = std::move(*next);
    return std::nullopt;
}

Result<std::shared_ptr<const Analysis>> Analyst::analyse(const Job& job, const CancelToken& cancel) {
    auto out = begin(job);
    if (!m_hypotheses) {
        auto made = hypotheses(out->replay, {}, cancel);
        if (!made) return made.problems();
        m_hypotheses = std::move(*made);
    }
    if (auto problems = conclude(*out, *m_hypotheses, {}, cancel)) return *problems;
    return std::shared_ptr<const Analysis>(std::move(out));
}

Result<std::shared_ptr<const Analysis>> Analyst::first_look(const Job& job, const CancelToken& cancel) {
    auto out = begin(job);
    if (m_hypotheses) return std::shared_ptr<const Analysis>();
    const auto few = hypotheses(out->replay, {.mass = kFirstMass, .most = kFirstScenarios, .least_leaf = kFirstLeaf}, cancel);
    if (!few) return few.problems();
    out->first_look = true;
    if (auto problems = conclude(*out, *few, {kFirstTold}, cancel)) return *problems;
    return std::shared_ptr<const Analysis>(std::move(out));
}

Result<bool> Analyst::prepare(const Analysis& last, const CancelToken& cancel) const {
    const auto& evidence = last.replay.evidence;
    if (auto next = prepare_next(*m_predictor, last.assessment, evidence, cancel); !next || !m_hypotheses) return next;
    std::vector<Query> queries;
    for (const auto& o : evidence.observations)
        if (o.kind == Seen::Reading && o.renewed.empty()) queries.push_back(o.query);
    for (const auto& act : last.next.acts)
        if (act.act == Act::Read) queries.push_back(act.query);
    return prepare_assess(*m_predictor, *m_hypotheses, queries, cancel);
}

} // namespace ohmo
