// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/net.h"

#include "board/mains_side.h"
#include "board/nominal.h"
#include "board/switch_ends.h"
#include "damage/telling.h"

#include <algorithm>
#include <map>
#include <tuple>

namespace ohmo::belief {
namespace {

// Sums of one fault and what it is told to lead to next: a slow cause ends with what it breaks, the surge that follows belongs to that.
bool slow(Cause cause) {
    switch (cause) {
    case Cause::SwitchHeat:
    case Cause::DrainVolts:
    case Cause::OutputClimbs:
    case Cause::RectifierHeat:
    case Cause::WeakDrive:
    case Cause::TantalumMargin:
        return true;
    default:
        return false;
    }
}

} // namespace

double takes_along(const Net& net, int unit, int mode) {
    double spared = 1;
    for (int e : net.out_of[static_cast<std::size_t>(unit)]) {
        const Edge& edge = net.edges[static_cast<std::size_t>(e)];
        if (edge.parent_mode == mode && !slow(edge.told.cause)) spared *= 1 - edge.chance;
    }
    return 1 - spared;
}

namespace {

// Strongly connected parts of the net: what can be reached from each other (few edges, the plain way).
void find_circles(Net& net) {
    const std::size_t n = net.out_of.size();
    std::vector<std::vector<char>> reaches(n, std::vector<char>(n, 0));
    for (std::size_t u = 0; u < n; ++u) {
        std::vector<std::size_t> open = {u};
        while (!open.empty()) {
            const std::size_t at = open.back();
            open.pop_back();
            for (int e : net.out_of[at]) {
                const auto child = static_cast<std::size_t>(net.edges[static_cast<std::size_t>(e)].child);
                if (reaches[u][child] != 0) continue;
                reaches[u][child] = 1;
                open.push_back(child);
            }
        }
    }
    net.circle.assign(n, -1);
    for (std::size_t u = 0; u < n; ++u) {
        if (net.circle[u] >= 0 || reaches[u][u] == 0) continue;
        for (std::size_t v = u; v < n; ++v)
            if (reaches[u][v] != 0 && reaches[v][u] != 0) net.circle[v] = net.circles;
        ++net.circles;
    }
}

class NetBuilder {
public:
    NetBuilder(const Model& model, const Board& board, const BoardRoles& roles)
        : m_model(model), m_board(board), m_roles(roles), m_p(board.practice()), m_on_mains(nets_on_mains(board)) {
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) m_bridge_diodes += is_bridge_diode(i) ? 1 : 0;
    }

    Net run(const RootFaults& roots) {
        for (const auto& root : roots.roots) sums(root);
        for (std::size_t u = 0; u < m_model.units.size(); ++u)
            for (std::size_t m = 1; m < m_model.units[u].modes.size(); ++m) trade(static_cast<int>(u), static_cast<int>(m));
        Net net;
        net.into.resize(m_model.units.size());
        net.out_of.resize(m_model.units.size());
        const auto chance_of = [&](const Sum& edge) {
            if (edge.seen > 0) return m_p.trust_in_sums * edge.summed + (1 - m_p.trust_in_sums) * edge.seen;
            return slow(edge.told.cause) ? m_p.slow_struck * edge.summed : edge.summed;
        };
        std::map<std::tuple<int, int, int>, double> to_child; // a bridge has a way to be short for each leg: few of them alone would count
        for (const auto& [key, edge] : m_edges) to_child[{std::get<0>(key), std::get<1>(key), std::get<2>(key)}] += chance_of(edge);
        for (const auto& [key, edge] : m_edges) {
            const auto [parent, parent_mode, child, child_mode] = key;
            const double chance = chance_of(edge);
            if (to_child[{parent, parent_mode, child}] < m_p.least_edge) continue;
            const int number = static_cast<int>(net.edges.size());
            net.edges.push_back({parent, parent_mode, child, child_mode, std::min(chance, 1 - m_p.model_doubt), edge.told});
            net.into[static_cast<std::size_t>(child)].push_back(number);
            net.out_of[static_cast<std::size_t>(parent)].push_back(number);
        }
        find_circles(net);
        return net;
    }

private:
    struct Sum {
        double summed = 0, seen = 0;
        Step told{{}, Cause::Companion, 0, 0, 0};
        double told_chance = 0;
    };

    void sums(const RootFault& root) {
        std::map<Fault, std::pair<double, Step>> leads;
        for (const auto& chain : root.chains)
            for (std::size_t s = 1; s < chain.steps.size(); ++s) {
                auto& [chance, step] = leads[chain.steps[s].fault];
                chance += chain.chance;
                step = chain.steps[s];
                if (slow(chain.steps[1].cause)) break;
            }
        for (const auto& [unit, mode] : modes_like(root.fault))
            for (const auto& [fault, to] : leads) {
                const auto [child, child_mode] = find_mode(m_model, fault);
                if (child < 0 || child == unit) continue;
                for (const auto& [as, share] : with_the_gate(child, child_mode)) {
                    auto& edge = m_edges[{unit, mode, child, as}];
                    edge.summed += share * to.first;
                    if (share * to.first <= edge.told_chance) continue;
                    edge.told = to.second;
                    edge.told.fault.mode = mode_of(child, as).fault.mode;
                    edge.told_chance = share * to.first;
                }
            }
    }

    const UnitMode& mode_of(int unit, int mode) const {
        return m_model.units[static_cast<std::size_t>(unit)].modes[static_cast<std::size_t>(mode)];
    }

    // The sums end where a transistor's channel is through; its gate or base breaks with it as often as such transistors are found so.
    std::vector<std::pair<int, double>> with_the_gate(int unit, int mode) const {
        const auto channel = mode_of(unit, mode).fault.mode;
        const auto& modes = m_model.units[static_cast<std::size_t>(unit)].modes;
        if (!is_switch_device(m_board.part(m_model.units[static_cast<std::size_t>(unit)].part).kind) ||
            (channel != FaultMode::DsShort && channel != FaultMode::CeShort))
            return {{mode, 1}};
        for (std::size_t m = 1; m < modes.size(); ++m)
            if (modes[m].fault.mode == FaultMode::Short && modes[m].wear > 0) {
                const double gate = modes[m].wear / (modes[m].wear + mode_of(unit, mode).wear);
                return {{mode, 1 - gate}, {static_cast<int>(m), gate}};
            }
        return {{mode, 1}};
    }

    // A mode may stand for one fault in several ways (dry by capacitance, dry by ESR).
    std::vector<std::pair<int, int>> modes_like(const Fault& fault) const {
        std::vector<std::pair<int, int>> out;
        for (int u : m_model.units_of[static_cast<std::size_t>(fault.part)]) {
            const auto& unit = m_model.units[static_cast<std::size_t>(u)];
            for (std::size_t m = 1; m < unit.modes.size() && !unit.renewed; ++m)
                if (unit.modes[m].fault == fault) out.emplace_back(u, static_cast<int>(m));
        }
        return out;
    }

    // What benches see beside a shorted part between the mains and the transformer, whatever the sums of one board say.
    void trade(int u, int m) {
        const auto& unit = m_model.units[static_cast<std::size_t>(u)];
        const auto& mode = unit.modes[static_cast<std::size_t>(m)];
        if (mode.fault.mode == FaultMode::Dry) twins(u, m);
        if (!mode.conducts) return;
        const auto kind = m_board.part(unit.part).kind;
        const bool through = mode.fault.mode != FaultMode::SupplyShort && mode.fault.mode != FaultMode::OutputShort;
        const bool sw = (m_roles.is_power_device(unit.part) || m_roles.is_leg(unit.part)) && through,
                   pass = m_roles.is_pass(unit.part) && through;
        const bool bridge = kind == PartKind::Bridge || is_bridge_diode(unit.part);
        const bool bulk = is_bulk(unit.part);
        bool guarded = false; // a fuse that goes before the one at the input
        for (const auto& fuse : m_roles.branch_fuses) {
            if (!fuse.opened_by(m_board, mode.fault)) continue;
            guarded = guarded || fuse.first;
            seen(u, m, {fuse.part, FaultMode::Open, {}}, m_p.fuse_with_short);
            beside_a_fuse(u, m, fuse.part);
        }
        if (!m_board.mains && m_roles.is_switch(unit.part) && through) // what feeds the board lets it draw all that the fuse stands
            for (int fuse : m_roles.input_fuses) beside_a_fuse(u, m, fuse);
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            if (i == unit.part) continue;
            if (m_board.mains && !guarded && m_roles.droppers.empty() && ((sw && from_the_mains(unit.part)) || bridge || bulk))
                on_the_way_in(u, m, i);
            if (bulk) in_the_bridge(u, m, i, m_p.bridge_with_bulk);
            if (bridge && m_board.mains && m_roles.droppers.empty() && mode.fault.mode == FaultMode::Short && is_bulk(i))
                seen(u, m, {i, FaultMode::Short, {}}, m_p.bulk_with_bridge / static_cast<double>(m_roles.bulk.size()));
            if (sw || pass) around_the_switch(u, m, i, mode.fault);
            if (is_wet_or_solid_electrolytic(kind) && feeds(i, unit.part)) {
                seen(u, m, {i, FaultMode::Short, {}}, m_p.rectifier_with_capacitor * 2 / 3);
                seen(u, m, {i, FaultMode::Open, {}}, m_p.rectifier_with_capacitor / 3);
            }
            if (pass && behind_pass(unit.part, i)) {
                seen(u, m, {i, FaultMode::Short, {}}, m_p.output_with_pass / 2);
                seen(u, m, {i, FaultMode::Leaky, {}}, m_p.output_with_pass / 2);
            }
        }
    }

    // What limits a current, and opens with a fuse in the same wire.
    static bool may_melt(PartKind kind) { return kind == PartKind::FusibleResistor || kind == PartKind::Thermistor; }
    void beside_a_fuse(int u, int m, int fuse) {
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i)
            if (may_melt(m_board.part(i).kind) && in_series(m_board.part(fuse), m_board.part(i)))
                seen(u, m, {i, FaultMode::Open, {}}, m_p.fusible_with_short);
    }
    bool in_series(const Part& fuse, const Part& part) const {
        return std::any_of(fuse.pins.begin(), fuse.pins.end(), [&](const Pin& pin) {
            const auto there = [&](const Part& other) { return other.touches(pin.id); };
            return part.touches(pin.id) && std::count_if(m_board.parts.begin(), m_board.parts.end(), there) == 2;
        });
    }
    bool is_bulk(int part) const { return std::find(m_roles.bulk.begin(), m_roles.bulk.end(), part) != m_roles.bulk.end(); }

    // One of those that make up a bridge which is no part of its own.
    bool is_bridge_diode(int part) const {
        const auto kind = m_board.part(part).kind;
        return is_diode_like(kind) && kind != PartKind::Zener && m_board.part(part).stage == "rectify";
    }

    // A short of it draws on the mains itself.
    bool from_the_mains(int part) const {
        const auto& pins = m_board.part(part).pins;
        return m_roles.is_switch(part) || m_roles.is_leg(part) ||
               std::any_of(pins.begin(), pins.end(), [&](const Pin& p) { return m_on_mains[static_cast<std::size_t>(p.id)] != 0; });
    }

    // They stood in the same heat for as long. One way round: the odds go both ways along it.
    void twins(int u, int m) {
        const int one = m_model.units[static_cast<std::size_t>(u)].part;
        const Part& part = m_board.part(one);
        const auto value = nominal_value(part);
        if (!value || !value->farads) return;
        for (int i = one + 1; i < static_cast<int>(m_board.parts.size()); ++i) {
            const Part& other = m_board.part(i);
            const auto its = nominal_value(other);
            if (other.kind != part.kind || other.stage != part.stage || other.volts != part.volts || !its || its->farads != value->farads)
                continue;
            seen(u, m, {i, FaultMode::Dry, {}}, m_p.twin_worn);
        }
    }

    void on_the_way_in(int u, int m, int i) {
        const auto& part = m_board.part(i);
        const bool way_in = part.stage == "mains-in" || part.stage == "filter" || part.stage == "rectify" || part.stage == "bulk";
        if (std::find(m_roles.input_fuses.begin(), m_roles.input_fuses.end(), i) != m_roles.input_fuses.end())
            seen(u, m, {i, FaultMode::Open, {}}, m_p.fuse_with_short);
        if (may_melt(part.kind) && way_in) seen(u, m, {i, FaultMode::Open, {}}, m_p.fusible_with_short);
    }

    void around_the_switch(int u, int m, int i, const Fault& fault) {
        const auto& part = m_board.part(i);
        const bool gate_gone = fault.mode == FaultMode::Short;
        if (m_roles.is_switch(fault.part) && std::find(m_roles.sense.begin(), m_roles.sense.end(), i) != m_roles.sense.end())
            seen(u, m, {i, FaultMode::Open, {}}, m_p.sense_with_switch);
        else if (part.kind == PartKind::Resistor)
            seen(u, m, {i, FaultMode::Open, {}},
                 m_p.source_resistor_with_switch * whose(fault.part, [&](int sw) { return on_source(sw, i); }));
        if (part.kind == PartKind::Resistor) {
            const double share =
                whose(fault.part, [&](int sw) { return shares_gate(sw, i); }) * (in_the_drive(i) ? 1 : m_p.gate_resistor_idle);
            seen(u, m, {i, FaultMode::Open, {}}, m_p.gate_resistor_with_switch * (gate_gone ? 1 : m_p.gate_resistor_gate_whole) * share);
        }
        if (part.kind == PartKind::Controller && gate_gone && !m_roles.is_pass(fault.part)) {
            double share = whose(fault.part, [&](int sw) { return drives(i, sw); });
            if (i == m_roles.controller && m_roles.is_switch(fault.part))
                share = std::max(share, m_p.sister_share); // through what nobody traced
            const double chance = m_p.controller_with_switch * share;
            seen(u, m, {i, FaultMode::OutputShort, {}}, chance / 2);
            seen(u, m, {i, FaultMode::SupplyShort, {}}, chance / 2);
        }
        if (are_sisters(fault.part, i)) // a transistor has one of the latter two
            for (const auto mode : {FaultMode::Short, FaultMode::CeShort, FaultMode::DsShort})
                seen(u, m, {i, mode, {}}, m_p.sister_with_switch / 2);
        if (from_the_mains(fault.part)) in_the_bridge(u, m, i, m_p.bridge_with_switch);
    }

    void in_the_bridge(int u, int m, int i, double chance) {
        if (!m_board.mains) return;
        if (m_board.part(i).kind == PartKind::Bridge) seen(u, m, {i, FaultMode::Short, {}}, chance);
        if (is_bridge_diode(i)) seen(u, m, {i, FaultMode::Short, {}}, chance / static_cast<double>(m_bridge_diodes));
    }

    bool are_sisters(int one, int other) const {
        const auto among = [](const std::vector<int>& all, int part) { return std::find(all.begin(), all.end(), part) != all.end(); };
        return (among(m_roles.switches, one) && among(m_roles.switches, other)) || (among(m_roles.legs, one) && among(m_roles.legs, other));
    }

    // Whether it holds for this switch or pass transistor, or in part for a sister.
    template <class Holds>
    double whose(int sw, const Holds& holds) const {
        if (holds(sw)) return 1;
        const auto among = [&](const std::vector<int>& all) {
            return std::find(all.begin(), all.end(), sw) != all.end() &&
                   std::any_of(all.begin(), all.end(), [&](int s) { return s != sw && holds(s); });
        };
        const bool sisters = among(m_roles.switches) || among(m_roles.legs) || among(m_roles.pass);
        return sisters ? m_p.sister_share : 0;
    }

    bool shares_gate(int sw, int part) const { return m_board.part(part).touches(switch_ends(m_board.part(sw)).control); }

    // It leads on from a gate or base, other than to a pin of that transistor, and is low enough to burn.
    bool in_the_drive(int resistor) const {
        const auto& part = m_board.part(resistor);
        const auto value = likely_value(part);
        if (value && value->ohms && *value->ohms > m_p.gate_resistor_burns_below) return false;
        return std::none_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& device) {
            return is_switch_device(device.kind) && part.touches(switch_ends(device).control) && lies_across(part, device);
        });
    }

    // A resistor low enough to carry the current of a short.
    bool on_source(int sw, int resistor) const {
        const auto value = likely_value(m_board.part(resistor));
        return value && value->ohms && *value->ohms <= m_p.sense_ohms && m_board.part(resistor).touches(switch_ends(m_board.part(sw)).low);
    }

    // Straight or through a resistor; not through a drive transformer.
    bool drives(int controller, int sw) const {
        const auto& chip = m_board.part(controller);
        if (shares_gate(sw, controller)) return true;
        for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
            const Part& resistor = m_board.parts[i];
            if (resistor.kind != PartKind::Resistor || !shares_gate(sw, static_cast<int>(i))) continue;
            for (const auto& pin : chip.pins)
                if (pin.id != chip.net(chip_pins(chip).ground) && resistor.touches(pin.id)) return true;
        }
        return false;
    }

    // A rectifier whose current goes straight into the capacitor.
    bool feeds(int rectifier, int capacitor) const {
        const auto& part = m_board.part(rectifier);
        if (part.stage != "rectify-out" && part.stage != "rectify") return false;
        if (!is_diode_like(part.kind) && part.kind != PartKind::Bridge) return false;
        const auto& c = m_board.part(capacitor);
        const NetId out = part.kind == PartKind::Bridge ? part.net("+") : part.net("K"), in = part.net("A");
        return (out >= 0 && c.net("+") == out) || (in >= 0 && c.net("-") == in);
    }

    // Polarised capacitors on a net of the pass transistor, or on a rail it feeds.
    bool behind_pass(int pass, int i) const {
        const auto& part = m_board.part(i);
        if (!is_wet_or_solid_electrolytic(part.kind) || (part.stage != "smooth" && part.stage != "rails")) return false;
        for (const auto& pin : m_board.part(pass).pins)
            for (const auto& other : part.pins)
                if (pin.id == other.id && other.role == "+") return true;
        return std::any_of(m_board.rails.begin(), m_board.rails.end(), [&](const Rail& r) { return part.net("+") == r.net_id; });
    }

    // Where a part can fail so in several places (the legs of a bridge), in each alike.
    void seen(int u, int m, const Fault& child, double chance) {
        if (chance <= 0) return;
        std::vector<std::pair<int, int>> places;
        for (int at : m_model.units_of[static_cast<std::size_t>(child.part)]) {
            const auto& unit = m_model.units[static_cast<std::size_t>(at)];
            for (std::size_t k = 1; k < unit.modes.size() && !unit.renewed; ++k)
                if (unit.modes[k].fault.mode == child.mode) places.emplace_back(at, static_cast<int>(k));
        }
        for (const auto& [at, mode] : places) {
            auto& edge = m_edges[{u, m, at, mode}];
            edge.seen = std::max(edge.seen, chance / static_cast<double>(places.size()));
            if (edge.told_chance == 0)
                edge.told.fault = m_model.units[static_cast<std::size_t>(at)].modes[static_cast<std::size_t>(mode)].fault;
        }
    }

    const Model& m_model;
    const Board& m_board;
    const BoardRoles& m_roles;
    const Practice& m_p;
    const std::vector<char> m_on_mains; ///< by net
    int m_bridge_diodes = 0;
    std::map<std::tuple<int, int, int, int>, Sum> m_edges;
};

} // namespace

std::pair<int, int> find_mode(const Model& model, const Fault& fault) {
    std::pair<int, int> like{-1, 0};
    for (int u : model.units_of[static_cast<std::size_t>(fault.part)]) {
        const auto& unit = model.units[static_cast<std::size_t>(u)];
        for (std::size_t m = 1; m < unit.modes.size() && !unit.renewed; ++m) {
            if (unit.modes[m].fault == fault) return {u, static_cast<int>(m)};
            if (like.first < 0 && unit.modes[m].fault.mode == fault.mode) like = {u, static_cast<int>(m)};
        }
    }
    return like;
}

double chance_of_circle(const std::vector<double>& own, const std::vector<std::vector<double>>& by) {
    const std::size_t n = own.size();
    if (n > kLargestCircle) {
        double all = 1;
        for (std::size_t j = 0; j < n; ++j) {
            double spared = 1 - own[j];
            for (std::size_t i = 0; i < n; ++i) spared *= i == j ? 1 : 1 - by[i][j];
            all *= 1 - spared;
        }
        return all * *std::max_element(own.begin(), own.end());
    }
    // all[t]: that every member of t falls when only t can bring its members down.
    std::vector<double> all(std::size_t{1} << n, 0);
    all[0] = 1;
    for (std::size_t t = 1; t < all.size(); ++t) {
        double less = 0;
        for (std::size_t fallen = (t - 1) & t;; fallen = (fallen - 1) & t) {
            double p = all[fallen];
            for (std::size_t j = 0; j < n && p > 0; ++j) {
                if ((t >> j & 1) == 0 || (fallen >> j & 1) != 0) continue;
                p *= 1 - own[j];
                for (std::size_t i = 0; i < n; ++i)
                    if ((fallen >> i & 1) != 0) p *= 1 - by[i][j];
            }
            less += p;
            if (fallen == 0) break;
        }
        all[t] = std::max(0.0, 1 - less);
    }
    return all.back();
}

Ages Ages::of(const Practice& p) {
    return {{p.young_factor, 1, p.old_factor}, {p.young_chance, 1 - p.young_chance - p.old_chance, p.old_chance}};
}

Net make_net(const Model& model, const Board& board, const BoardRoles& roles, const RootFaults& roots) {
    return NetBuilder(model, board, roles).run(roots);
}

} // namespace ohmo::belief
