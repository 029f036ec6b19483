// SPDX-License-Identifier: GPL-3.0-or-later
// Structure, not volts: which parts pass energy on is a matter of their kind, their value and their state. A pass element counts as
// driven. Resistors above 300 ohm pass no supply
// current, and above 20 ohm what is behind them does not pull a rail down (common practice, no source).
#include "board/power_path.h"

#include "board/droppers.h"
#include "board/net_sets.h"
#include "board/nominal.h"
#include "board/roles.h"
#include "board/series_switches.h"
#include "board/shunt_rails.h"

#include <algorithm>

namespace ohmo {
namespace {

bool interrupts(const Fault& f) {
    switch (f.mode) {
    case FaultMode::Open:
    case FaultMode::High:
    case FaultMode::DryJoint:
    case FaultMode::Dead:
        return true;
    default:
        return false;
    }
}

} // namespace

PowerPath::PowerPath(const Board& board, const BoardRoles& roles) : m_nets(board.nets.size()), m_rails(board.rails), m_entry(roles.inlet) {
    for (const auto& rail : board.rails)
        if (!listed(m_returns, rail.return_id)) m_returns.push_back(rail.return_id);
    add_edges(board, roles);
    if (!roles.droppers.empty()) m_behind_dropper = dropper_goals(board, roles);
    find_goals(board, roles);
    find_ways_in(roles.primary_ground);
    const auto windings = half_waves(board);
    find_sources(windings, roles);
    find_fed_chips(board, windings);
    find_rail_nets(board);
}

void PowerPath::add_edges(const Board& board, const BoardRoles& roles) {
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) add_part(board.part(i), i, roles.is_pass(i), board.practice());
    for (int i : roles.series_switches) {
        const SeriesEnds ends = series_ends(board.part(i));
        m_edges.push_back({ends.one, ends.other, i, nullptr, true, false});
    }
    for (const auto& s : roles.supply_switches) m_edges.push_back({s.from, s.to, s.part, nullptr, false, false, true});
    for (const auto& shunt : find_shunt_rails(board)) {
        const Rail& rail = board.rails[static_cast<std::size_t>(shunt.rail)];
        for (int i : shunt.feeds) {
            const auto& pins = board.part(i).pins;
            const NetId from = pins[pins[0].id == rail.net_id ? 1 : 0].id;
            m_edges.push_back(rail.volts < 0 ? Edge{rail.net_id, from, i, nullptr, false, true}
                                             : Edge{from, rail.net_id, i, nullptr, false, true});
        }
    }
    for (int i : roles.droppers) m_edges.push_back({board.part(i).pins[0].id, board.part(i).pins[1].id, i, nullptr, true, true});
}

// `passes`: a transistor in series with a rail.
void PowerPath::add_part(const Part& part, int i, bool passes, const Practice& p) {
    const auto one_way = [&](const char* from, const char* to, const char* leg) {
        m_edges.push_back({part.net(from), part.net(to), i, leg, false});
    };
    const auto both_ways = [&](NetId a, NetId b, bool soft = false) { m_edges.push_back({a, b, i, nullptr, true, soft}); };
    switch (part.kind) {
    case PartKind::Fuse:
    case PartKind::Thermistor:
    case PartKind::Track:
    case PartKind::Inductor:
    case PartKind::Lamp:
        both_ways(part.pins[0].id, part.pins[1].id);
        break;
    case PartKind::Resistor:
    case PartKind::FusibleResistor:
        if (const auto nominal = likely_value(part); nominal && nominal->ohms.value_or(1e9) <= p.supply_path_ohms)
            both_ways(part.pins[0].id, part.pins[1].id, *nominal->ohms > p.stiff_path_ohms);
        break;
    case PartKind::Switch:
        if (part.value == "open") break;
        [[fallthrough]];
    case PartKind::Connector:
    case PartKind::Choke:
        for (const auto& [a, b] : part.pairs())
            if (a != nullptr && b != nullptr) both_ways(a->id, b->id);
        break;
    case PartKind::Diode:
    case PartKind::Schottky:
        one_way("A", "K", nullptr);
        break;
    case PartKind::Bridge:
        one_way("~1", "+", "~1+");
        one_way("~2", "+", "~2+");
        one_way("-", "~1", "~1-");
        one_way("-", "~2", "~2-");
        break;
    case PartKind::Regulator:
        both_ways(part.net("IN"), part.net("OUT"));
        m_edges.back().limits = true;
        break;
    case PartKind::BjtNpn:
    case PartKind::BjtPnp:
        if (!passes) break;
        both_ways(part.net("C"), part.net("E"));
        m_edges.back().limits = true;
        break;
    default:
        break;
    }
}

bool PowerPath::reached_by_input(NetId net) const {
    return std::any_of(m_entry.begin(), m_entry.end(), [&](NetId entry) { return within(either_way(*this, entry), net); });
}

// What the input must reach.
void PowerPath::find_goals(const Board& board, const BoardRoles& t) {
    if (t.hv >= 0 && board.mains) {
        m_goals = {{{t.hv}}, {{t.primary_ground}, true}};
    } else if (t.line_transformer >= 0) {
        const auto pins = board.part(t.line_transformer).pairs().front();
        m_goals = {{{pins.first->id}}, {{pins.second->id}}};
    } else if (const auto& devices = t.switches.empty() ? t.power_devices : t.switches; !devices.empty()) {
        std::vector<NetId> nets;
        for (int i : devices)
            for (const auto& pin : board.part(i).pins)
                if (!listed(m_returns, pin.id) && pin.id != t.primary_ground && pin.role != "G" && pin.role != "B") nets.push_back(pin.id);
        if (t.transformer >= 0)
            for (const auto& pin : board.part(t.transformer).pins)
                if (pin.role.front() == 'P') nets.push_back(pin.id);
        auto fed = nets; // not what the way back reaches as well
        const auto low = t.source >= 0 ? wired_to({t.source}, {}) : NetSet{};
        std::erase_if(fed, [&](NetId n) { return within(low, n) || !reached_by_input(n); });
        m_goals = {{std::move(fed.empty() ? nets : fed)}};
    } else if (!t.step_chips.empty()) {
        std::vector<NetId> nets; // chips behind others are theirs
        for (const auto& chip : t.step_chips)
            if (const NetId supply = board.part(chip.part).net(chip_pins(board.part(chip.part)).supply); reached_by_input(supply))
                nets.push_back(supply);
        if (!nets.empty()) m_goals = {{std::move(nets)}};
    } else if (!t.series_switches.empty()) {
        std::vector<NetId> nets; // what no chip's inside keeps apart from the input
        for (const auto& rail : board.rails)
            if (reached_by_input(rail.net_id)) nets.push_back(rail.net_id);
        if (!nets.empty()) m_goals = {{std::move(nets)}};
    }
    if (m_goals.size() != 1) return;
    // Fed with low voltage: the way back, and the chips that run from the input.
    auto back = m_returns;
    back.push_back(t.source);
    std::erase_if(back, [&](NetId n) { return !reached_by_input(n); });
    if (!back.empty()) m_goals.push_back({std::move(back), true});
    for (const auto& part : board.parts) {
        const NetId supply = is_controller(part.kind) ? part.net(chip_pins(part).supply) : -1;
        if (supply >= 0 && !m_entry.empty() && reach({m_entry.front()}, false, {}, {})[static_cast<std::size_t>(supply)])
            m_goals.push_back({{supply}});
    }
}

// What lies on a way back feeds nothing, whatever clamps lie between.
void PowerPath::find_ways_in(NetId primary_ground) {
    auto back = m_returns;
    back.push_back(primary_ground);
    for (NetId entry : m_entry) {
        const auto wired = wired_to({entry}, {});
        const bool returns = std::any_of(back.begin(), back.end(), [&](NetId n) { return within(wired, n); });
        (returns ? m_ways_out : m_ways_in).push_back(entry);
    }
    if (m_ways_in.empty()) m_ways_in = m_entry;
    if (m_ways_out.empty()) m_ways_out = m_entry;
}

// One after the other, where one ends at the tap where the next begins.
std::optional<PowerPath::Source> PowerPath::Source::then(const Source& next) const {
    if (end != next.from || from == next.end) return std::nullopt;
    Source both{from, next.end, transformer, windings};
    both.windings.insert(both.windings.end(), next.windings.begin(), next.windings.end());
    return both;
}

// Of all windings but primaries: each way round, and across several that share a tap.
std::vector<PowerPath::Source> PowerPath::half_waves(const Board& board) {
    std::vector<Source> out;
    for (int t = 0; t < static_cast<int>(board.parts.size()); ++t) {
        const auto& part = board.part(t);
        if (part.kind != PartKind::Transformer) continue;
        const std::size_t first = out.size();
        for (const auto& [one, other] : part.pairs()) {
            if (one->role.front() == 'P' || other == nullptr) continue;
            const std::string name = one->role + "-" + other->role;
            const std::size_t earlier = out.size();
            for (const Source& here : {Source{one->id, other->id, t, {name}}, Source{other->id, one->id, t, {name}}}) {
                for (std::size_t i = first; i < earlier; ++i) {
                    if (const auto both = out[i].then(here)) out.push_back(*both);
                    if (const auto both = here.then(out[i])) out.push_back(*both);
                }
                out.push_back(here);
            }
        }
    }
    return out;
}

// Where the rails' energy comes from: windings, also of a second, smaller converter; else the switching node; else the input.
void PowerPath::find_sources(const std::vector<Source>& windings, const BoardRoles& t) {
    std::vector<NetId> candidates; // where no winding has both its ends on a rail
    for (const auto& half : windings)
        if (half.windings.front().front() == 'S' && !listed(candidates, half.from)) candidates.push_back(half.from);
    if (candidates.empty() && t.switching >= 0) candidates.push_back(t.switching);
    for (const auto& chip : t.step_chips)
        for (NetId node : chip.nodes)
            if (!listed(candidates, node)) candidates.push_back(node);
    if (candidates.empty()) candidates = m_entry;
    for (const auto& rail : m_rails) {
        auto& sources = m_sources.emplace_back();
        const bool negative = rail.volts < 0;
        for (const auto& half : windings)
            if (!listed(m_returns, half.from) && feeds(half, rail.net_id, rail.return_id, negative, {})) sources.push_back(half);
        for (const auto* from : {&candidates, &m_entry}) { // what no converter feeds hangs on the input
            if (!sources.empty()) break;
            for (NetId c : *from)
                if (const Source of{c}; !listed(m_returns, c) && c != rail.net_id && feeds(of, rail.net_id, rail.return_id, negative, {}))
                    sources.push_back(of);
        }
    }
}

void PowerPath::find_fed_chips(const Board& board, const std::vector<Source>& windings) {
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (!is_controller(part.kind)) continue;
        const auto pins = chip_pins(part);
        FedChip chip{i, pins.own_supply ? part.net(pins.supply) : -1, part.net(pins.ground), {}};
        if (chip.supply < 0) continue;
        for (const auto& half : windings)
            if (half.from != chip.ground && half.from != chip.supply && feeds(half, chip.supply, chip.ground, false, {}))
                chip.sources.push_back(half);
        if (!chip.sources.empty()) m_fed_chips.push_back(std::move(chip));
    }
}

std::vector<char> PowerPath::these(const std::vector<NetId>& nets) const {
    std::vector<char> out(m_nets, 0);
    for (NetId n : nets)
        if (n >= 0) out[static_cast<std::size_t>(n)] = 1;
    return out;
}

// Over all that passes it on, from one end or, forwards false, from the other.
template <class Passes>
void PowerPath::grow(std::vector<char>& nets, const Passes& passes) const {
    for (bool grown = true; grown;) {
        grown = false;
        for (const auto& e : m_edges) {
            if (e.from < 0 || e.to < 0) continue;
            char &from = nets[static_cast<std::size_t>(e.from)], &to = nets[static_cast<std::size_t>(e.to)];
            if (from == to || !passes(e, from != 0)) continue;
            from = to = 1;
            grown = true;
        }
    }
}

// Back along the current's way, up to the rectifiers.
void PowerPath::find_rail_nets(const Board& board) {
    for (const auto& rail : board.rails) {
        auto& nets = m_rail_nets.emplace_back(board.nets.size(), 0);
        nets[static_cast<std::size_t>(rail.net_id)] = 1;
        grow(nets, [&](const Edge& e, bool) { return e.both_ways && !e.soft && e.from != rail.return_id && e.to != rail.return_id; });
    }
}

bool PowerPath::broken(const Edge& e, std::span<const Fault> faults) {
    return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) {
        return f.part == e.part && interrupts(f) && (e.leg == nullptr || f.place.empty() || f.place == e.leg);
    });
}

bool PowerPath::broken(const Source& s, std::span<const Fault> faults) {
    return std::any_of(s.windings.begin(), s.windings.end(), [&](const std::string& winding) {
        return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return silences(f, s.transformer, winding); });
    });
}

std::vector<char> PowerPath::reach(const std::vector<NetId>& from, bool backwards, const std::vector<NetId>& barred,
                                   std::span<const Fault> faults) const {
    auto reached = these(from);
    grow(reached, [&](const Edge& e, bool forwards) {
        return (e.both_ways || forwards != backwards) && !listed(barred, forwards ? e.from : e.to) && !broken(e, faults);
    });
    return reached;
}

std::vector<char> PowerPath::stiff_reach(const std::vector<NetId>& from, Way way, int without) const {
    auto reached = these(from);
    grow(reached, [&](const Edge& e, bool forwards) {
        return !e.soft && !e.limits && e.part != without && (e.both_ways || way == (forwards ? Way::Forwards : Way::Backwards));
    });
    return reached;
}

std::vector<char> PowerPath::fed_without(const std::vector<NetId>& sources, int part, bool backwards) const {
    const std::vector<Fault> open{{part, FaultMode::Open, {}}};
    return reach(sources, backwards, {}, open);
}

std::vector<char> PowerPath::fed_with(const std::vector<NetId>& sources, bool backwards, std::span<const Fault> faults) const {
    return reach(sources, backwards, {}, faults);
}

std::vector<char> PowerPath::wired_to(const std::vector<NetId>& nets, std::span<const Fault> faults) const {
    auto reached = these(nets);
    grow(reached, [&](const Edge& e, bool) { return e.both_ways && !e.limits && !broken(e, faults); });
    return reached;
}

bool PowerPath::input_fed(std::span<const Fault> faults) const {
    if (!m_behind_dropper.empty()) // both contacts of the inlet have to get there
        return std::all_of(m_entry.begin(), m_entry.begin() + 2, [&](NetId entry) {
            const auto out = reach({entry}, false, {}, faults), back = reach({entry}, true, {}, faults);
            return std::any_of(m_behind_dropper.begin(), m_behind_dropper.end(),
                               [&](NetId n) { return out[static_cast<std::size_t>(n)] != 0 || back[static_cast<std::size_t>(n)] != 0; });
        });
    if (!has_input() || m_goals.empty()) return true;
    const auto gets = [&](NetId entry, const Goal& goal) {
        for (bool backwards : {false, true}) {
            const auto reached = reach({entry}, backwards, {}, faults);
            if (std::any_of(goal.nets.begin(), goal.nets.end(), [&](NetId n) { return within(reached, n); })) return true;
        }
        return false;
    };
    const bool back = std::any_of(m_goals.begin(), m_goals.end(), [](const Goal& g) { return g.back; });
    if (!back || m_ways_in != m_ways_out)
        return std::all_of(m_goals.begin(), m_goals.end(), [&](const Goal& goal) {
            const auto& entries = goal.back ? m_ways_out : m_ways_in;
            return std::any_of(entries.begin(), entries.end(), [&](NetId entry) { return gets(entry, goal); });
        });
    for (NetId in : m_ways_in) // alternating current: by one contact and out by another
        for (NetId out : m_ways_out)
            if (in != out && std::all_of(m_goals.begin(), m_goals.end(), [&](const Goal& g) { return gets(g.back ? out : in, g); }))
                return true;
    return false;
}

// Its current gets there and comes back.
bool PowerPath::feeds(const Source& source, NetId to, NetId back, bool backwards, std::span<const Fault> faults) const {
    if (broken(source, faults) || !within(reach({source.from}, backwards, {back}, faults), to)) return false;
    return source.end < 0 || within(reach({source.end}, !backwards, {to}, faults), back);
}

PowerPath::Feed PowerPath::feed(const std::vector<Source>& sources, NetId to, NetId back, bool backwards,
                                std::span<const Fault> faults) const {
    Feed out;
    for (const auto& s : sources) {
        ++out.whole;
        out.left += feeds(s, to, back, backwards, faults);
    }
    return out;
}

std::vector<PowerPath::Feed> PowerPath::rails(std::span<const Fault> faults) const {
    std::vector<Feed> out;
    for (std::size_t r = 0; r < m_rails.size(); ++r)
        out.push_back(feed(m_sources[r], m_rails[r].net_id, m_rails[r].return_id, m_rails[r].volts < 0, faults));
    return out;
}

bool PowerPath::reaches(std::size_t r, NetId net, std::span<const Fault> faults) const {
    const Rail& rail = m_rails[r];
    return std::any_of(m_sources[r].begin(), m_sources[r].end(),
                       [&](const Source& s) { return feeds(s, net, rail.return_id, rail.volts < 0, faults); });
}

std::vector<int> PowerPath::starved_chips(std::span<const Fault> faults) const {
    std::vector<int> out;
    for (const auto& chip : m_fed_chips)
        if (feed(chip.sources, chip.supply, chip.ground, false, faults).left == 0) out.push_back(chip.part);
    return out;
}

} // namespace ohmo
