// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/feedback_loop.h"

#include "board/net_sets.h"
#include "board/nominal.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace ohmo {
namespace {

bool lists(const std::vector<int>& parts, int part) { return std::find(parts.begin(), parts.end(), part) != parts.end(); }

void add(std::vector<int>& parts, int part) {
    if (!lists(parts, part)) parts.push_back(part);
}

bool is_bipolar(const Part& part) { return part.kind == PartKind::BjtNpn || part.kind == PartKind::BjtPnp; }

/// Where a chip or transistor compares: a divider hangs there, its lower leg on `ground`.
struct SensePin {
    NetId net, ground;
    NetId other_end = -1;   ///< of an adjustable regulator: its output, to which the leg goes that holds it down
    bool for_all = false;   ///< of a reference: its coupler throttles whatever the converter feeds
    bool both_legs = false; ///< only a divider with both legs is one: a base may be driven by anything
};

class LoopFinder {
public:
    LoopFinder(const Board& board, const PowerPath& path)
        : m_board(board), m_p(board.practice()), m_path(path), m_on_rail(board.nets.size(), 0), m_returns(board.nets.size(), 0) {
        for (std::size_t r = 0; r < board.rails.size(); ++r)
            for (std::size_t n = 0; n < m_on_rail.size(); ++n)
                m_on_rail[n] = static_cast<char>(m_on_rail[n] != 0 || path.rail_nets(r)[n] != 0);
        for (NetId n : path.returns()) m_returns[static_cast<std::size_t>(n)] = 1;
        for (const auto& rail : board.rails) {
            if (rail.return_id < 0) continue;
            m_returns[static_cast<std::size_t>(rail.return_id)] = 1;
            m_on_rail[static_cast<std::size_t>(rail.return_id)] = 0;
        }
    }

    FeedbackLoop run() {
        for (int i = 0; i < parts(); ++i)
            if (m_board.part(i).kind == PartKind::ShuntReference) add(m_out.raises, i);
        for (const auto& pin : sense_pins()) divide(pin);
        for (int i = 0; i < parts(); ++i) {
            if (m_board.part(i).kind == PartKind::Optocoupler) couple(i);
            if (m_board.part(i).kind == PartKind::Zener) stabilise(i);
        }
        return std::move(m_out);
    }

private:
    int parts() const { return static_cast<int>(m_board.parts.size()); }

    static NetId far(const Part& part, NetId near) {
        if (part.pins.size() < 2) return -1; // nobody has traced it to its end
        return part.pins[0].id == near ? part.pins[1].id : part.pins[0].id;
    }

    template <class Work>
    void each_on(NetId net, const Work& work) const {
        for (int i = 0; i < parts(); ++i)
            if (net >= 0 && m_board.part(i).touches(net)) work(i);
    }

    std::vector<SensePin> sense_pins() const {
        std::vector<SensePin> out;
        for (const auto& part : m_board.parts) {
            const NetId ground = part.net(chip_pins(part).ground);
            if (part.kind == PartKind::ShuntReference) out.push_back({part.net("R"), ground, -1, true});
            if (is_controller(part.kind)) out.push_back({part.net("FB"), ground});
            if (part.kind == PartKind::Regulator && part.net("ADJ") >= 0) out.push_back({part.net("ADJ"), -1, part.net("OUT")});
            if (is_bipolar(part)) out.push_back({part.net("B"), -1, -1, false, true});
        }
        std::erase_if(out, [](const SensePin& pin) { return pin.net < 0; });
        return out;
    }

    // Resistors in a row that lead nowhere else are one leg; its end and all of them.
    std::pair<NetId, std::vector<int>> leg(int first, NetId from) const {
        std::vector<int> row = {first};
        NetId end = far(m_board.part(first), from);
        for (;;) {
            if (end < 0 || on_output(end)) break;
            int next = -1, others = 0;
            each_on(end, [&](int i) {
                if (lists(row, i)) return;
                ++others;
                if (m_board.part(i).kind == PartKind::Resistor) next = i;
            });
            if (others != 1 || next < 0) break;
            end = far(m_board.part(next), end);
            row.push_back(next);
        }
        return {end, row};
    }
    bool on_output(NetId net) const { return within(m_on_rail, net) || within(m_returns, net); }

    // A winding, or what a diode charges from the output, stands for it.
    bool samples(NetId net) const {
        bool does = false;
        each_on(net, [&](int i) {
            const Part& part = m_board.part(i);
            does = does || part.kind == PartKind::Transformer || part.kind == PartKind::Diode || part.kind == PartKind::Schottky;
        });
        return does;
    }

    void divide(const SensePin& pin) {
        std::vector<int> upper, lower;
        std::vector<NetId> ends;
        each_on(pin.net, [&](int i) {
            if (m_board.part(i).kind != PartKind::Resistor) return;
            const auto [end, row] = leg(i, pin.net);
            const bool to_ground = pin.ground >= 0 ? end == pin.ground : within(m_returns, end);
            if (to_ground || (end >= 0 && end == pin.other_end))
                lower.insert(lower.end(), row.begin(), row.end());
            else if (on_output(end) || (!pin.both_legs && samples(end))) {
                upper.insert(upper.end(), row.begin(), row.end());
                ends.push_back(end);
            }
        });
        if (pin.other_end >= 0) { // it holds its output a few volts above this pin: the leg to the return lets it climb
            upper = std::exchange(lower, {});
            const auto to_return =
                std::partition(upper.begin(), upper.end(), [&](int i) { return !m_board.part(i).touches(pin.other_end); });
            lower.assign(to_return, upper.end());
            upper.erase(to_return, upper.end());
        }
        if (pin.both_legs && (upper.empty() || lower.empty())) return;
        for (int i : upper) add(m_out.raises, i);
        for (int i : lower) add(m_out.lowers, i);
        if (pin.both_legs) reference_of(pin.net);
        if (pin.for_all) return;
        const auto rails = rails_of(pin.other_end >= 0 ? std::vector<NetId>{pin.other_end} : ends);
        for (const auto& side : {upper, lower})
            for (int i : side) m_out.senses[i] = rails;
    }

    std::vector<int> rails_of(const std::vector<NetId>& nets) const {
        std::vector<int> out;
        for (std::size_t r = 0; r < m_board.rails.size(); ++r)
            if (std::any_of(nets.begin(), nets.end(), [&](NetId n) { return within(m_path.rail_nets(r), n); }))
                out.push_back(static_cast<int>(r));
        return out;
    }

    // Of an error transistor: the Zener on its emitter.
    void reference_of(NetId base) {
        each_on(base, [&](int i) {
            const Part& transistor = m_board.part(i);
            if (!is_bipolar(transistor) || transistor.net("B") != base) return;
            each_on(transistor.net("E"), [&](int z) {
                if (m_board.part(z).kind == PartKind::Zener) add(m_out.raises, z);
            });
        });
    }

    // Whether the diode's current has a way from there through resistors and Zeners to an output, another supply, a reference or a
    // transistor; what it leads through. A Zener above its rail only protects. No net is entered twice.
    bool drives(NetId net, const Part& coupler, NetSet& been, std::vector<int>& through) const {
        if (net < 0 || std::exchange(been[static_cast<std::size_t>(net)], 1) != 0) return false;
        if (on_output(net) || samples(net) || stores(net)) return true;
        bool ends = false;
        each_on(net, [&](int i) {
            const Part& part = m_board.part(i);
            if (&part == &coupler) return;
            if (part.kind == PartKind::ShuntReference || is_bipolar(part) || is_controller(part.kind)) ends = true;
            const bool bypass = part.touches(coupler.net("A")) && part.touches(coupler.net("K"));
            if (bypass || (part.kind != PartKind::Resistor && part.kind != PartKind::Zener)) return;
            if (part.kind == PartKind::Zener && protects(part, -m_p.coupler_volts)) return;
            if (!drives(far(part, net), coupler, been, through)) return;
            through.push_back(i);
            ends = true;
        });
        return ends;
    }
    // To a plug, by which it is switched on and off, or to a Zener that only protects.
    bool leads_elsewhere(NetId net, NetSet& been) const {
        if (net < 0 || on_output(net) || std::exchange(been[static_cast<std::size_t>(net)], 1) != 0) return false;
        bool does = false;
        each_on(net, [&](int i) {
            const Part& part = m_board.part(i);
            const bool zener = part.kind == PartKind::Zener;
            does = does || part.kind == PartKind::Connector || part.kind == PartKind::Switch ||
                   (zener && protects(part, -m_p.coupler_volts)) ||
                   ((zener || part.kind == PartKind::Resistor) && leads_elsewhere(far(part, net), been));
        });
        return does;
    }
    bool stores(NetId net) const {
        bool does = false;
        each_on(net, [&](int i) { does = does || is_wet_or_solid_electrolytic(m_board.part(i).kind); });
        return does;
    }

    double highest_rail() const {
        double most = 0;
        for (const auto& rail : m_board.rails) most = std::max(most, std::fabs(rail.volts));
        return most;
    }
    // Conducts only when the output is too high. `in_series`: volts of a junction that the same output stands across.
    bool protects(const Part& zener, double in_series) const {
        const auto nominal = likely_value(zener);
        if (!nominal || !nominal->volts) return true; // most that stand across an output do
        double rail = highest_rail();
        for (const auto& r : m_board.rails)
            if (zener.touches(r.net_id)) rail = std::fabs(r.volts);
        return *nominal->volts > m_p.guard_share * rail + in_series;
    }

    void couple(int opto) {
        const Part& part = m_board.part(opto);
        std::vector<int> way;
        for (const char* pin : {"A", "K"}) {
            NetSet been(m_board.nets.size(), 0), again(m_board.nets.size(), 0);
            if (!drives(part.net(pin), part, been, way) && leads_elsewhere(part.net(pin), again)) return;
        }
        add(m_out.raises, opto); // also where its diode has not been traced to the end: most of them are there for that
        for (int i : way) add(m_out.raises, i);
        into_the_controller(part);
    }

    // The transistor's side: what carries its current to a pin is part of the way; what pulls that pin up against it is not.
    void into_the_controller(const Part& opto) {
        const bool follower = !grounds_a_chip(opto.net("E"));
        const auto feeds_a_chip = [&](NetId net) {
            return std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& p) {
                return is_controller(p.kind) && net >= 0 && (p.net(chip_pins(p).supply) == net || p.net("REF") == net);
            });
        };
        for (const char* pin : {"C", "E"}) {
            const NetId net = opto.net(pin);
            if (*pin == 'E' && !follower) continue;
            each_on(net, [&](int i) {
                const Part& part = m_board.part(i);
                if (part.kind != PartKind::Resistor) return;
                const NetId end = far(part, net);
                const bool pulls = *pin == 'C' ? !follower && feeds_a_chip(end) : grounds_a_chip(end);
                if (pulls)
                    add(m_out.lowers, i);
                else if (listens(end) || (*pin == 'C' && follower))
                    add(m_out.raises, i);
            });
        }
    }
    // A base, or a pin of a controller other than those that feed it.
    bool listens(NetId net) const {
        return net >= 0 && std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& p) {
                   if (is_bipolar(p)) return p.net("B") == net;
                   const auto pins = chip_pins(p);
                   return is_controller(p.kind) && p.touches(net) && p.net(pins.ground) != net && p.net(pins.supply) != net;
               });
    }
    bool grounds_a_chip(NetId net) const {
        return std::any_of(m_board.parts.begin(), m_board.parts.end(),
                           [&](const Part& p) { return is_controller(p.kind) && net >= 0 && p.net(chip_pins(p).ground) == net; });
    }

    // Holds a rail, or the base of what passes its current, at its own volts.
    void stabilise(int zener) {
        const Part& part = m_board.part(zener);
        if (!within(m_returns, part.net("A")) && !within(m_returns, part.net("K"))) return;
        const NetId held = within(m_returns, part.net("A")) ? part.net("K") : part.net("A");
        std::vector<NetId> followers;
        each_on(held, [&](int i) {
            const Part& other = m_board.part(i);
            if (is_bipolar(other) && other.net("B") == held && within(m_on_rail, other.net("E"))) followers.push_back(other.net("E"));
        });
        const bool itself = within(m_on_rail, held) && !protects(part, 0);
        if (!itself && (followers.empty() || protects(part, m_p.coupler_volts))) return;
        add(m_out.raises, zener);
        m_out.senses[zener] = rails_of(itself ? std::vector<NetId>{held} : followers);
    }

    const Board& m_board;
    const Practice& m_p;
    const PowerPath& m_path;
    NetSet m_on_rail, m_returns;
    FeedbackLoop m_out;
};

} // namespace

LoopLoss FeedbackLoop::loss(const Board& board, const Fault& fault) const {
    const bool up = lists(raises, fault.part), down = lists(lowers, fault.part);
    if (!up && !down) return LoopLoss::None;
    const bool resistor = board.part(fault.part).kind == PartKind::Resistor;
    switch (fault.mode) {
    case FaultMode::Open:
    case FaultMode::Weak:
    case FaultMode::High:
        return up ? LoopLoss::Climbs : LoopLoss::Falls;
    case FaultMode::Short:
        return up && !resistor ? LoopLoss::Falls : LoopLoss::None;
    default:
        return LoopLoss::None;
    }
}

const std::vector<int>& FeedbackLoop::compared(int part) const {
    static const std::vector<int> all;
    const auto found = senses.find(part);
    return found == senses.end() ? all : found->second;
}

FeedbackLoop find_feedback_loop(const Board& board, const PowerPath& path) { return LoopFinder(board, path).run(); }

} // namespace ohmo
