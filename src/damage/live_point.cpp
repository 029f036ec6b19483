// SPDX-License-Identifier: GPL-3.0-or-later
// Sums: a reservoir stands at the crest of its winding less two diodes; a chip that cannot run swings between stopping and starting; one
// that is not fed enough stands at what the resistances leave it (damage/behaviour). Spreads are common practice, no source.
#include "damage/live_point.h"

#include "board/net_sets.h"
#include "board/nominal.h"
#include "board/rail_sides.h"
#include "damage/melted.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace ohmo {
namespace {

using What = LivePoint::What;

constexpr double kHalfOfTolerance = 0.5; // one deviation of a rail that is right
constexpr double kLastDigit = 0.03;      // V
constexpr double kNearlyDead = 20;       // V on a bulk capacitor, below which its spread is no share of them

bool runs(Running running) { return running == Running::Normal || running == Running::Weak || running == Running::High; }
bool has(const std::vector<Fault>& faults, int part, std::initializer_list<FaultMode> modes) {
    return std::any_of(faults.begin(), faults.end(),
                       [&](const Fault& f) { return f.part == part && std::find(modes.begin(), modes.end(), f.mode) != modes.end(); });
}

bool silent(int transformer, const Pin& one, const Pin& other, const std::vector<Fault>& faults) {
    const std::string winding = one.role + "-" + other.role;
    return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return silences(f, transformer, winding); });
}

// The contact of the inlet that a net hangs on by what passes both ways; -1 for neither or several.
NetId contact_of(const PowerPath& path, NetId net, std::span<const Fault> faults) {
    NetId out = -1;
    for (NetId entry : path.entry()) {
        if (!within(path.wired_to({entry}, faults), net)) continue;
        if (out >= 0) return -1;
        out = entry;
    }
    return out;
}

bool between_contacts(const PowerPath& path, NetId red, NetId black, std::span<const Fault> faults) {
    const NetId one = contact_of(path, red, faults), other = contact_of(path, black, faults);
    return one >= 0 && other >= 0 && one != other;
}

// Direct current, through rectifiers too: from one contact to red and from black back to another, but behind no regulator.
bool passed_on(const PowerPath& path, NetId red, NetId black, std::span<const Fault> faults) {
    const auto gets = [&](NetId contact, bool backwards, NetId net) {
        const auto way = backwards ? PowerPath::Way::Backwards : PowerPath::Way::Forwards;
        return within(path.stiff_reach({contact}, way, -1), net) && within(path.fed_with({contact}, backwards, faults), net);
    };
    for (NetId one : path.entry())
        for (NetId other : path.entry())
            if (one != other && gets(one, false, red) && gets(other, true, black)) return true;
    return false;
}

std::optional<LivePoint> across_a_winding(const Board& board, const BoardRoles& roles, NetId red, NetId black) {
    for (std::size_t w = 0; w < roles.line_windings.size(); ++w) {
        const auto& winding = roles.line_windings[w];
        if (winding.shorts.loops.empty()) continue; // a primary
        const auto [one, other] = board.part(roles.line_transformer).pairs()[w];
        if (std::minmax(one->id, other->id) == std::minmax(red, black))
            return LivePoint{.what = What::Winding, .red = red, .black = black, .volts = winding.volts, .winding = static_cast<int>(w)};
    }
    return std::nullopt;
}

// Against a return, or across a capacitor; not at the end of a winding that is none.
bool may_store(const Board& board, const BoardRoles& roles, NetId red, NetId black) {
    const auto returns = [&](NetId net) { return listed(roles.path.returns(), net); };
    const auto wound = [&](NetId net) { return board.part(roles.line_transformer).touches(net) && !returns(net); };
    return !wound(red) && !wound(black) &&
           (returns(red) || returns(black) || std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& p) {
                return is_capacitor(p.kind) && p.touches(red) && p.touches(black);
            }));
}

std::optional<LivePoint> on_a_reservoir(const Board& board, const BoardRoles& roles, NetId red, NetId black) {
    if (roles.line_windings.empty() || !may_store(board, roles, red, black)) return std::nullopt;
    const auto charges = [](const ShortLoops::Loop& loop, NetId high, NetId low) {
        return within(loop.fed, high) && !within(loop.back, high) && within(loop.back, low) && !within(loop.fed, low);
    };
    for (std::size_t w = 0; w < roles.line_windings.size(); ++w) {
        const auto& winding = roles.line_windings[w];
        const double crest = std::numbers::sqrt2 * winding.volts - board.practice().bridge_drop_volts;
        LivePoint out{.what = What::Reservoir, .red = red, .black = black, .winding = static_cast<int>(w)};
        for (const auto& loop : winding.shorts.loops) {
            out.volts = charges(loop, red, black) ? crest : charges(loop, black, red) ? -crest : 0;
            if (out.volts != 0) return out;
        }
    }
    return std::nullopt;
}

} // namespace

LivePoints::LivePoints(const Board& board, BoardRoles roles, BehaviourModel& behaviour)
    : m_board(board), m_roles(std::move(roles)), m_behaviour(behaviour) {
    for (const auto& rail : board.rails) m_rails.push_back(ends(rail.net_id, rail.return_id));
    m_bulk = ends(m_roles.hv, m_roles.primary_ground);
}

// A meter sees the same at an outlet's contact, and on either side of a coil.
LivePoints::Ends LivePoints::ends(NetId red, NetId black) const {
    return {joined_without_loss(m_board, red, black), joined_without_loss(m_board, black, red)};
}

std::optional<LivePoint> LivePoints::at(NetId red, NetId black, bool alternating) const {
    if (red < 0 || black < 0 || red == black) return std::nullopt;
    if (!alternating && m_board.mains && within(m_bulk.red, red) && within(m_bulk.black, black))
        return LivePoint{.what = What::Bulk, .red = red, .black = black, .volts = running_bulk_volts(m_board, m_roles)};
    for (const bool itself : {true, false}) // and not another rail behind a coil
        for (std::size_t r = 0; r < m_board.rails.size() && !alternating; ++r) {
            const auto& rail = m_board.rails[r];
            if (itself ? rail.net_id == red && rail.return_id == black : within(m_rails[r].red, red) && within(m_rails[r].black, black))
                return LivePoint{.what = What::Rail, .red = red, .black = black, .volts = rail.volts, .rail = static_cast<int>(r)};
        }
    if (m_board.mains.has_value() == alternating &&
        (between_contacts(m_roles.path, red, black, {}) || (!alternating && passed_on(m_roles.path, red, black, {}))))
        return LivePoint{.what = What::Line,
                         .red = red,
                         .black = black,
                         .volts = m_board.mains ? m_board.mains->volts : m_board.practice().least_input_volts,
                         .least = !m_board.mains};
    if (alternating) return across_a_winding(m_board, m_roles, red, black);
    if (const auto reservoir = on_a_reservoir(m_board, m_roles, red, black)) return reservoir;
    for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
        const auto& part = m_board.part(i);
        const auto nominal = likely_value(part);
        LivePoint out{.what = What::Regulated, .red = red, .black = black, .part = i};
        if (part.kind == PartKind::Regulator && part.net("OUT") == red && nominal && nominal->volts &&
            (part.net("GND") == black || listed(m_roles.path.returns(), black))) {
            out.volts = *nominal->volts;
            return out;
        }
        if (!is_controller(part.kind) || part.net(chip_pins(part).supply) != red || part.net(chip_pins(part).ground) != black) continue;
        out.what = What::Supply;
        out.volts = m_behaviour.start_volts(red);
        if (out.volts > 0) return out;
        const auto& switches = m_roles.supply_switches;
        if (std::none_of(switches.begin(), switches.end(), [&](const SupplySwitch& s) { return s.chip == i; })) continue;
        out.what = What::Handed;
        out.volts = nominal ? nominal->start_volts.value_or(m_board.practice().start_volts) : m_board.practice().start_volts;
        return out;
    }
    return std::nullopt;
}

// From what the figures are of.
bool LivePoints::parted(const LivePoint& point, std::span<const Fault> faults) const {
    const Rail* rail = point.what == What::Rail ? &m_board.rails[static_cast<std::size_t>(point.rail)] : nullptr;
    const NetId high = rail != nullptr ? rail->net_id : m_roles.hv, low = rail != nullptr ? rail->return_id : m_roles.primary_ground;
    const auto joined = [&](NetId here, NetId there) { return here == there || within(m_roles.path.wired_to({here}, faults), there); };
    return !faults.empty() && (!joined(high, point.red) || !joined(low, point.black));
}

bool LivePoints::fed_all_the_same(const LivePoint& point, std::span<const Fault> faults) const {
    if (point.what == What::Rail) return m_roles.path.reaches(static_cast<std::size_t>(point.rail), point.red, faults);
    return within(m_roles.path.fed_with(m_roles.path.entry(), false, faults), point.red);
}

LiveFigure LivePoints::of(const LivePoint& point, const Figures& figures, std::span<const Fault> faults) const {
    const auto& p = m_board.practice();
    if (parted(point, faults))
        return fed_all_the_same(point, faults) ? about(point.volts, p.live_volts_spread * std::fabs(point.volts)) : nothing();
    if (point.what == What::Bulk) {
        const double volts = figures.bulk_volts;
        return about(volts, std::max(p.bulk_volts_spread * std::max(std::fabs(volts), kNearlyDead), 1.0));
    }
    const auto r = static_cast<std::size_t>(point.rail);
    const double least = std::max(m_board.rails[r].tolerance * std::fabs(point.volts) * kHalfOfTolerance, kLastDigit);
    return about(figures.rails[r].volts, std::max(figures.rails[r].sigma, least));
}

bool LivePoints::line_reaches(const LivePoint& point, std::span<const Fault> faults) const {
    return between_contacts(m_roles.path, point.red, point.black, faults) ||
           (!m_board.mains && passed_on(m_roles.path, point.red, point.black, faults));
}

// What is ahead of the fuse stays live when it blows.
bool LivePoints::fuse_spares(const LivePoint& point) const {
    return std::all_of(m_roles.input_fuses.begin(), m_roles.input_fuses.end(), [&](int fuse) {
        const std::vector<Fault> open{{fuse, FaultMode::Open, {}}};
        return line_reaches(point, open);
    });
}

// By either half wave.
bool LivePoints::winding_reaches(const LivePoint& point, std::span<const Fault> faults) const {
    const auto pair = m_board.part(m_roles.line_transformer).pairs()[static_cast<std::size_t>(point.winding)];
    const NetId high = point.volts < 0 ? point.black : point.red, low = point.volts < 0 ? point.red : point.black;
    for (const auto& [from, to] : {std::pair(pair.first->id, pair.second->id), std::pair(pair.second->id, pair.first->id)})
        if (within(m_roles.path.fed_with({from}, false, faults), high) && within(m_roles.path.fed_with({to}, true, faults), low))
            return true;
    return false;
}

// By a part across it, or by the supply pin of a chip there.
bool LivePoints::shorted_across(const LivePoint& point, const std::vector<Fault>& faults) const {
    return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) {
        const Part& part = m_board.part(f.part);
        if (f.mode == FaultMode::SupplyShort && is_controller(part.kind)) {
            const auto pins = chip_pins(part);
            return part.net(pins.supply) == point.red && part.net(pins.ground) == point.black;
        }
        return f.mode == FaultMode::Short && f.part != point.part && part.touches(point.red) && part.touches(point.black);
    });
}

LiveFigure LivePoints::regulated(const LivePoint& point, const std::vector<Fault>& faults, Running running) const {
    const auto& p = m_board.practice();
    const Part& part = m_board.part(point.part);
    const bool shorted = shorted_across(point, faults);
    const bool dead = has(faults, point.part, {FaultMode::Open, FaultMode::Dead, FaultMode::OutputShort, FaultMode::SupplyShort});
    std::vector<NetId> sources = m_roles.path.entry();
    for (int t = 0; t < static_cast<int>(m_board.parts.size()); ++t)
        if (m_board.part(t).kind == PartKind::Transformer && (t == m_roles.line_transformer || runs(running)))
            for (const auto& [one, other] : m_board.part(t).pairs())
                if (one->role.front() != 'P' && other != nullptr && !silent(t, *one, *other, faults))
                    sources.insert(sources.end(), {one->id, other->id});
    const bool input = running != Running::NoInput && running != Running::BlowsFuse && m_roles.path.input_fed(faults);
    if (shorted || dead || !input || !within(m_roles.path.fed_with(sources, point.volts < 0, faults), part.net("IN"))) return nothing();
    const double volts = point.volts, size = std::fabs(volts);
    if (has(faults, point.part, {FaultMode::RegulatorHigh, FaultMode::Short}))
        return about(p.regulator_spare * volts, p.climbed_spread * size);
    if (has(faults, point.part, {FaultMode::Low})) return about(p.held_down * volts, p.held_down_spread * size);
    return about(volts, p.regulated_volts_spread * size);
}

LiveFigure LivePoints::supply(const LivePoint& point, const std::vector<Fault>& faults, Running running) {
    const auto& p = m_board.practice();
    if (running == Running::NoInput || running == Running::BlowsFuse) return nothing();
    if (runs(running)) return about(p.supply_runs * point.volts, p.supply_runs_spread * point.volts);
    const double reaches = m_behaviour.supply_reach(point.red, faults);
    if (reaches < point.volts) return {0, p.supply_starved * reaches, p.dead_point_spread};
    return about(p.supply_waits * point.volts, p.supply_waits_spread * point.volts);
}

// Somewhere about what the chip runs on, as long as something is handed on; anything up to that where nobody can tell what runs.
LiveFigure LivePoints::handed(const LivePoint& point, const std::vector<Fault>& faults, Running running) {
    const auto& p = m_board.practice();
    if (running == Running::NoInput || running == Running::BlowsFuse) return nothing();
    const auto& switches = m_roles.supply_switches;
    const bool off =
        std::any_of(switches.begin(), switches.end(), [&](const SupplySwitch& s) { return s.chip == point.part && s.off(faults); });
    const auto starved = m_roles.path.starved_chips(faults);
    if (off || shorted_across(point, faults) || std::find(starved.begin(), starved.end(), point.part) != starved.end()) return nothing();
    const double most = p.handed_most * point.volts, sigma = p.supply_runs_spread * point.volts;
    bool on = runs(running);
    if (!on) {
        const auto lost = m_behaviour.judge(faults).lost;
        on = std::find(lost.begin(), lost.end(), 0) != lost.end();
    }
    return {on ? p.handed_least * point.volts : 0, most, sigma};
}

LiveFigure LivePoints::of(const LivePoint& point, std::vector<Fault> faults, Running running) {
    const auto& p = m_board.practice();
    if (auto melted = melt_branch_fuses(m_board, m_roles.branch_fuses, faults); melted.any) {
        faults = std::move(melted.faults);
        if (running == Running::BlowsFuse) running = Running::NoStart; // not the input's
    }
    if (point.what == What::Supply) return supply(point, faults, running);
    if (point.what == What::Handed) return handed(point, faults, running);
    if (point.what == What::Regulated) return regulated(point, faults, running);
    if (point.what == What::Line) {
        if (!line_reaches(point, faults) || (running == Running::BlowsFuse && !fuse_spares(point))) return nothing();
        const double sigma = p.live_volts_spread * point.volts;
        return {point.volts, point.least ? std::numeric_limits<double>::infinity() : point.volts, sigma};
    }
    const bool fed = running != Running::NoInput && running != Running::BlowsFuse && m_roles.path.input_fed(faults);
    const Part& transformer = m_board.part(m_roles.line_transformer);
    const auto pair = transformer.pairs()[static_cast<std::size_t>(point.winding)];
    if (!fed || silent(m_roles.line_transformer, *pair.first, *pair.second, faults) ||
        (point.what == What::Reservoir && !winding_reaches(point, faults)))
        return nothing();
    return about(point.volts, p.live_volts_spread * std::fabs(point.volts));
}

} // namespace ohmo
