// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/pipeline.h"

#include "advice/live_acts.h"
#include "belief/belief.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo {
namespace {

constexpr std::size_t kCarriersNamed = 3;

void complete_facts(const Predictor& predictor, const Assessment& assessment, Replay& replay) {
    for (const auto& b : assessment.parts)
        if (b.bad > replay.board.practice().replace_above) replay.facts.bad_in_place.push_back(b.part);
    std::sort(replay.facts.bad_in_place.begin(), replay.facts.bad_in_place.end());
    replay.facts.harm_left = assessment.harm;
    auto parts = assessment.parts;
    std::stable_sort(parts.begin(), parts.end(), [](const PartBelief& a, const PartBelief& b) { return a.harm > b.harm; });
    for (std::size_t k = 0; k < std::min(kCarriersNamed, parts.size()) && parts[k].harm > 0; ++k)
        replay.facts.carriers.push_back(parts[k].part);
    for (int r = 0; r < static_cast<int>(replay.board.rails.size()); ++r) {
        const auto& rail = replay.board.rails[static_cast<std::size_t>(r)];
        if (rail.net_id < 0 || rail.return_id < 0) continue;
        const auto p = predictor.predict({Quantity::Ohms, rail.net_id, rail.return_id, -1, {}, 0}, {});
        if (!p.over) replay.facts.healthy_rail_ohms[r] = p.value;
    }
}

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
    if (!m_memory.predictor || !(m_memory.board == now.board) || m_memory.meters != now.evidence.meters) {
        m_memory = {now.board,
                    now.evidence.meters,
                    now.evidence.history,
                    std::make_shared<const Predictor>(now.board, now.evidence.meters, now.roles),
                    std::make_shared<belief::Memory>(),
                    {},
                    store_paths(now.board, *now.roles),
                    plan_discharge(now.board, *now.roles, {})};
        m_memory.belief->board = std::make_shared<const Board>(now.board);
        m_memory.belief->roles = now.roles;
    } else if (m_memory.history != now.evidence.history) {
        m_memory.history = now.evidence.history;
        auto fresh = std::make_shared<belief::Memory>();
        fresh->board = m_memory.belief->board;
        fresh->roles = m_memory.belief->roles;
        m_memory.belief = std::move(fresh);
    }
    out->predictor = m_memory.predictor;
    out->stores = m_memory.stores;
    if (const auto& d = m_memory.discharge) {
        out->discharge = with_readings(*d, now.decay);
        out->drawer = drawer_discharge(now.board.practice(), m_stock, d->farads, d->volts, working_volts());
    }
    out->looks = m_looks;
    return out;
}

std::optional<Problems> Analyst::conclude(Analysis& out, const CancelToken& cancel) {
    Replay& now = out.replay;
    auto belief = belief::Belief::make(m_library, now.evidence, *m_memory.belief, cancel);
    if (!belief) return belief.problems();
    out.assessment = assess(*m_memory.belief->board, std::move(*belief), now.evidence);
    out.triage = triage(*m_memory.belief->board, out.assessment, now.evidence);
    out.standing = standing_of(now, out.assessment);
    complete_facts(*m_memory.predictor, out.assessment, now);
    auto replaced = now.evidence.renewed;
    for (int part : now.evidence.absent) replaced.erase(part);
    out.plan = make_plan(now.board, *now.roles, out.assessment, replaced, now.evidence.resoldered, m_stock, m_school);
    const auto& told = out.assessment.stories;
    out.work = work_checks(now, told.empty() ? std::vector<Fault>{} : told.front().scenario.faults(), m_memory.work);
    for (const auto& [part, work] : now.work) now.facts.worked.push_back(part);
    for (const auto& c : out.work)
        if (c.state != WorkState::Passed && (now.facts.unproven.empty() || now.facts.unproven.back() != c.check.part))
            now.facts.unproven.push_back(c.check.part);
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
    auto next = next_acts({*m_memory.belief->board, *m_memory.belief->roles, m_library, out.assessment, now.evidence}, cancel);
    if (!next) return next.problems();
    out.next = std::move(*next);
    if (now.mains_on && !out.ladder.locked && !held_back(now.board, now.facts.passed))
        out.live_next = live_acts({*m_memory.belief->board, *m_memory.belief->roles, m_library, out.assessment, now.evidence},
                                  *m_memory.belief->alone, cancel);
    out.explained = out.next.stop || out.next.settled;
    return std::nullopt;
}

Result<std::shared_ptr<const Analysis>> Analyst::analyse(const Job& job, const CancelToken& cancel) {
    auto out = begin(job);
    if (auto problems = conclude(*out, cancel)) return *problems;
    return std::shared_ptr<const Analysis>(std::move(out));
}

} // namespace ohmo
