// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/pipeline.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo {
namespace {

void complete_facts(const Predictor& predictor, const Assessment& assessment, Replay& replay) {
    for (const auto& b : assessment.parts)
        if (b.bad > replay.board.practice().replace_above) replay.facts.bad_in_place.push_back(b.part);
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
        else if (b.bad >= now.board.practice().shown_bad)
            s = Standing::Bad;
        else if (b.bad >= now.board.practice().shown_suspect)
            s = Standing::Suspect;
        else if (b.bad < now.board.practice().shown_good && touched.contains(b.part))
            s = Standing::Good;
    }
    return out;
}

std::optional<FuseAdvice> fuse_advice(const Board& board, const Assessment& assessment) {
    FuseAdvice out;
    for (const auto& b : assessment.parts) {
        if (b.bad < board.practice().replace_above) break;
        if (board.part(b.part).kind == PartKind::Fuse)
            out.fuse = b.part;
        else
            out.because.push_back(b.part);
    }
    return out.fuse >= 0 && !out.because.empty() ? std::optional(out) : std::nullopt;
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
    if (!m_memory.predictor || !(m_memory.board == now.board) || m_memory.meters != now.evidence.meters) {
        m_memory = {now.board,
                    now.evidence.meters,
                    now.evidence.history,
                    std::make_shared<const Predictor>(now.board, now.evidence.meters, now.roles),
                    std::nullopt,
                    {}};
    } else if (m_memory.history != now.evidence.history) {
        m_memory.history = now.evidence.history;
        m_memory.hypotheses.reset();
    }
    out->predictor = m_memory.predictor;
    return out;
}

Result<Hypotheses> Analyst::hypotheses(const Replay& now, const EnumerateOptions& options, const CancelToken& cancel) const {
    auto set = enumerate_scenarios(now.board, *now.roles, m_library, now.evidence.history, options, cancel);
    if (!set) return set.problems();
    return Hypotheses::of(*m_memory.predictor, std::make_shared<const ScenarioSet>(std::move(*set)));
}

std::optional<Problems> Analyst::conclude(Analysis& out, const Hypotheses& hypotheses, const NextOptions& options, Weighed* weighed,
                                          const CancelToken& cancel) const {
    Replay& now = out.replay;
    auto assessment = assess(*m_memory.predictor, m_library, hypotheses, now.evidence, {}, cancel, weighed);
    if (!assessment) return assessment.problems();
    out.assessment = std::move(*assessment);
    out.standing = standing_of(now, out.assessment);
    complete_facts(*m_memory.predictor, out.assessment, now);
    auto replaced = now.evidence.renewed;
    for (int part : now.evidence.absent) replaced.erase(part);
    out.plan = make_plan(now.board, *now.roles, out.assessment, replaced, m_stock, m_school);
    out.ladder = make_ladder(now.board, *now.roles, now.facts);
    out.live = live_check(out.ladder, now.live_readings);
    out.fuse = fuse_advice(now.board, out.assessment);
    now.evidence.live_allowed = !out.ladder.locked;
    const auto& stories = out.assessment.stories;
    for (std::size_t k = 0; k < std::min(kShownUnderPower, stories.size()); ++k) {
        const SetId left = m_memory.predictor->without(m_memory.predictor->id(stories[k].scenario.faults()), now.evidence.renewed);
        out.under_power.push_back(
            expected_of(m_memory.predictor->behaviour(left), m_memory.predictor->figures(left), now.board, out.ladder.lamp));
    }
    auto next = next_acts(*m_memory.predictor, m_library, out.assessment, now.evidence, options, cancel);
    if (!next) return next.problems();
    out.next = std::move(*next);
    out.explained = out.next.stop || out.next.settled;
    return std::nullopt;
}

Result<std::shared_ptr<const Analysis>> Analyst::analyse(const Job& job, const CancelToken& cancel) {
    auto out = begin(job);
    if (!m_memory.hypotheses) {
        auto made = hypotheses(out->replay, {}, cancel);
        if (!made) return made.problems();
        m_memory.hypotheses = std::move(*made);
        m_memory.weighed = {};
    }
    if (auto problems = conclude(*out, *m_memory.hypotheses, {}, &m_memory.weighed, cancel)) return *problems;
    return std::shared_ptr<const Analysis>(std::move(out));
}

Result<std::shared_ptr<const Analysis>> Analyst::first_look(const Job& job, const CancelToken& cancel) {
    auto out = begin(job);
    if (m_memory.hypotheses) return std::shared_ptr<const Analysis>();
    const auto few = hypotheses(out->replay, {.mass = kFirstMass, .most = kFirstScenarios, .least_leaf = kFirstLeaf}, cancel);
    if (!few) return few.problems();
    out->first_look = true;
    if (auto problems = conclude(*out, *few, {kFirstTold}, nullptr, cancel)) return *problems;
    return std::shared_ptr<const Analysis>(std::move(out));
}

Result<bool> Analyst::prepare(const Analysis& last, const CancelToken& cancel) const {
    const auto& evidence = last.replay.evidence;
    if (auto next = prepare_next(*m_memory.predictor, last.assessment, evidence, cancel); !next || !m_memory.hypotheses) return next;
    std::vector<Query> queries;
    for (const auto& o : evidence.observations)
        if (o.kind == Seen::Reading && o.renewed.empty()) queries.push_back(o.query);
    for (const auto& act : last.next.acts)
        if (act.act == Act::Read) queries.push_back(act.query);
    return prepare_assess(*m_memory.predictor, *m_memory.hypotheses, queries, cancel);
}

} // namespace ohmo
