// SPDX-License-Identifier: GPL-3.0-or-later
// Averaged, not cycle by cycle: paths are judged by DC resistances of the faulted board (input path by junctions forward at 10 mA) against
// those of the healthy one, and by the structure of damage/power_path. The chances of the words are common practice, no source.
#include "damage/behaviour.h"

#include "board/driving.h"
#include "board/net_sets.h"
#include "board/nominal.h"
#include "board/series_switches.h"
#include "board/shunt_rails.h"
#include "board/switch_ends.h"
#include "circuit/dc_solver.h"
#include "damage/chip_pins_lost.h"
#include "damage/low_voltage.h"
#include "damage/melted.h"
#include "damage/short_beside.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace ohmo {
namespace {

constexpr double kLeastOfDesigned = 0.1; // of the current that start resistors are chosen for, what a chip draws while it waits

double ohms_between(const DcSolver& solver, NetId a, NetId b, double amps) {
    if (a < 0 || b < 0 || a == b || !solver.connected(a, b)) return kOpenOhms;
    const auto point = solver.solve(a, b, amps);
    return point.converged ? point.volts / amps : kOpenOhms;
}

constexpr double kLeastWatts = 1e-3; // of a rail of which nobody said what it gives
constexpr double kProbeAmps = 0.01;
constexpr double kUnlimited = std::numeric_limits<double>::infinity();
constexpr double kShortAmps = 1; // at which a diode against reversed polarity is no ohm

double inlet_amps(const Board& board) { return board.mains ? kProbeAmps : kShortAmps; }

double rail_ohms(const DcSolver& solver, const Rail& rail) {
    return rail.volts < 0 ? ohms_between(solver, rail.return_id, rail.net_id, kProbeAmps)
                          : ohms_between(solver, rail.net_id, rail.return_id, kProbeAmps);
}

bool lists(const std::vector<int>& parts, int part) { return std::find(parts.begin(), parts.end(), part) != parts.end(); }

bool lacks(const std::vector<Fault>& faults, const std::vector<int>& parts, FaultMode mode) {
    return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return f.mode == mode && lists(parts, f.part); });
}

// A chip behind rails of its own converter, as of an output bridge.
bool drives_legs_only(const Board& board, const BoardRoles& roles, int chip) {
    const Part& part = board.part(chip);
    if (board.rails.empty() || !is_controller(part.kind)) return false;
    const auto driven = [&](int device) {
        const NetId control = switch_ends(board.part(device)).control;
        return control >= 0 && drives(board, part, control);
    };
    return std::any_of(roles.legs.begin(), roles.legs.end(), driven) &&
           std::none_of(roles.power_devices.begin(), roles.power_devices.end(), driven);
}

} // namespace

std::string_view running_name(Running running) {
    static constexpr std::array<std::string_view, 7> names = {"no-input", "blows-fuse", "no-start", "hiccup", "high", "weak", "normal"};
    return names[static_cast<std::size_t>(running)];
}

BehaviourModel::BehaviourModel(const Board& board, BoardRoles roles)
    : m_board(board), m_roles(std::move(roles)), m_converters(board, m_roles), m_circuit(board, {}) {
    const DcSolver& healthy = m_circuit.healthy();
    const auto& inlet = m_roles.inlet;
    for (int i : m_roles.series_switches) m_driven.push_back(driven(board, i));
    if (!inlet.empty())
        m_inlet_ohms = ohms_between(m_driven.empty() ? healthy : m_circuit.dc(m_driven), inlet[0], inlet[1], inlet_amps(board));
    std::vector<NetId> rails;
    for (const auto& rail : board.rails) {
        m_rail_ohms.push_back(rail_ohms(healthy, rail));
        rails.insert(rails.end(), {rail.net_id, rail.return_id});
    }
    m_near_rails = parts_near(rails);
    find_limited_rails();
    m_near_entry.assign(board.parts.size(), 1); // how a low-voltage input is fed is a matter of the whole board
    const auto& windings = m_roles.line_windings;
    double carries = windings.empty() || windings.front().amps <= 0 ? kUnlimited : windings.front().amps;
    for (int fuse : m_roles.input_fuses) carries = std::min(carries, *likely_value(board.part(fuse))->amps);
    m_fuse_melts = board.practice().fuse_melts_above * carries;
    if (m_roles.hv < 0 || !board.mains) return;
    for (const auto& part : board.parts) {
        const NetId fed = part.net(chip_pins(part).supply);
        if (!is_controller(part.kind) || fed < 0) continue;
        const auto nominal = likely_value(part);
        const Supply supply{fed, nominal ? nominal->start_volts.value_or(board.practice().start_volts) : board.practice().start_volts};
        if (start_reach(healthy, supply) > supply.start_volts) m_supplies.push_back(supply);
    }
    std::vector<NetId> entry(inlet.begin(), inlet.begin() + static_cast<long>(std::min<std::size_t>(inlet.size(), 2)));
    entry.insert(entry.end(), {m_roles.hv, m_roles.primary_ground});
    for (const auto& supply : m_supplies) entry.push_back(supply.net);
    m_near_entry = parts_near(entry);
}

std::vector<char> BehaviourModel::parts_near(const std::vector<NetId>& nets) const {
    std::vector<char> out(m_board.parts.size(), 0);
    const DcSolver& healthy = m_circuit.healthy();
    for (NetId net : nets)
        for (std::size_t i = 0; i < out.size() && net >= 0; ++i)
            for (const auto& pin : m_board.parts[i].pins)
                if (healthy.connected(net, pin.id)) out[i] = 1;
    return out;
}

// Sorted. What joins islands makes every part near.
std::vector<Fault> BehaviourModel::relevant(const std::vector<Fault>& faults, const std::vector<char>& near) const {
    const bool joined = std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return joins_islands(m_board, f); });
    std::vector<Fault> out;
    for (const auto& f : faults)
        if ((changes_dc(m_board, f) || (f.mode == FaultMode::Dead && m_board.part(f.part).kind == PartKind::Regulator)) &&
            (joined || near[static_cast<std::size_t>(f.part)]))
            out.push_back(f);
    std::sort(out.begin(), out.end());
    return out;
}

// What the bulk capacitor brings a supply pin to while its chip waits, from three two-point resistances (reciprocal network, junctions off
// at 1 nA): its share of the crest behind the resistance there, on the little that the chip draws. A pin that nothing feeds any more floats
// to anything by the leaks of its neighbours alone.
double BehaviourModel::start_reach(const DcSolver& solver, const Supply& supply) const {
    const auto& t = m_roles;
    if (!solver.connected(t.hv, supply.net)) return 0;
    const double top = ohms_between(solver, t.hv, t.primary_ground, 1e-9), low = ohms_between(solver, supply.net, t.primary_ground, 1e-9),
                 across = ohms_between(solver, t.hv, supply.net, 1e-9);
    const double from_top = (top + across - low) / 2, from_ground = (top + low - across) / 2, own = (low + across - top) / 2;
    const double behind = std::max(0.0, own + from_top * from_ground / top);
    const double draws = supply.start_volts / (kLeastOfDesigned * m_board.practice().design_start_amps);
    return std::sqrt(2.0) * m_board.mains->volts * from_ground / top * draws / (draws + behind);
}

const BehaviourModel::Entry& BehaviourModel::entry(const std::vector<Fault>& faults) {
    auto key = relevant(faults, m_near_entry);
    const auto found = m_entries.find(key);
    if (found != m_entries.end()) return found->second;
    Entry out;
    auto running = key;
    for (const auto& on : m_driven)
        if (std::none_of(key.begin(), key.end(), [&](const Fault& f) { return f.part == on.part; })) running.push_back(on);
    const DcSolver solver = m_circuit.dc(running);
    const auto& t = m_roles;
    const auto& p = m_board.practice();
    const auto& inlet = t.inlet;
    const bool fed = !inlet.empty();
    const auto across = [&](NetId a, NetId b) { return a == b ? 0 : ohms_between(solver, a, b, kProbeAmps); };
    if (t.hv >= 0 && m_board.mains) {
        const bool bulk_shorted = across(t.hv, t.primary_ground) < p.bulk_short_ohms, limited = !t.droppers.empty();
        if (fed && limited)
            out.input = !bulk_shorted && t.path.input_fed(key); // all that gets in goes into the short
        else if (fed)
            out.input = across(inlet[0], t.hv) < p.input_path_ohms && across(t.primary_ground, inlet[1]) < p.input_path_ohms;
        const double burns = std::max(p.inlet_short_ohms, std::min(p.inlet_short_share * m_inlet_ohms, p.input_path_ohms));
        out.shorted = (bulk_shorted && !limited) || (fed && (across(inlet[0], inlet[1]) < burns || across(inlet[1], inlet[0]) < burns));
    } else {
        out.input = t.path.input_fed(key);
        const bool of_its_own = m_board.mains || t.own_rectifiers || !t.switches.empty() || !t.step_chips.empty();
        if (fed && of_its_own) // else the supply that feeds the board limits what a short draws
            out.shorted = ohms_between(solver, inlet[0], inlet[1], inlet_amps(m_board)) <
                          std::min(p.inlet_short_share * m_inlet_ohms,
                                   m_board.mains ? 1e9 : std::max(p.low_inlet_short_ohms, input_volts(m_board, t) / m_fuse_melts));
    }
    for (const auto& supply : m_supplies) out.reaches.push_back(start_reach(solver, supply));
    return m_entries.emplace(std::move(key), out).first->second;
}

double BehaviourModel::start_volts(NetId supply) const {
    const auto at = std::find_if(m_supplies.begin(), m_supplies.end(), [&](const Supply& s) { return s.net == supply; });
    return at == m_supplies.end() ? 0 : at->start_volts;
}

double BehaviourModel::supply_reach(NetId supply, const std::vector<Fault>& faults) {
    const auto at = std::find_if(m_supplies.begin(), m_supplies.end(), [&](const Supply& s) { return s.net == supply; });
    return at == m_supplies.end() ? 0 : entry(faults).reaches[static_cast<std::size_t>(at - m_supplies.begin())];
}

// Chips that do not get enough to start.
std::vector<int> BehaviourModel::unsupplied(const Entry& entry) const {
    std::vector<int> out;
    for (std::size_t i = 0; i < m_supplies.size(); ++i)
        for (int chip = 0; chip < static_cast<int>(m_board.parts.size()) && entry.reaches[i] <= m_supplies[i].start_volts; ++chip)
            if (const auto& part = m_board.part(chip); is_controller(part.kind) && part.net(chip_pins(part).supply) == m_supplies[i].net)
                out.push_back(chip);
    return out;
}

const std::vector<char>& BehaviourModel::shorted_rails(const std::vector<Fault>& faults) {
    auto key = relevant(faults, m_near_rails);
    const auto found = m_rail_shorts.find(key);
    if (found != m_rail_shorts.end()) return found->second;
    const DcSolver solver = m_circuit.dc(key);
    std::vector<char> low;
    for (std::size_t r = 0; r < m_rail_ohms.size(); ++r) {
        const double ohms = rail_ohms(solver, m_board.rails[r]);
        low.push_back(ohms < m_board.practice().rail_short_ohms && ohms < m_board.practice().rail_short_share * m_rail_ohms[r]);
    }
    return m_rail_shorts.emplace(std::move(key), std::move(low)).first->second;
}

Behaviour BehaviourModel::judge(const Scenario& scenario) {
    Behaviour b = judge(scenario.faults());
    b.violent = b.violent || scenario.violent();
    return b;
}

Behaviour BehaviourModel::judge(const std::vector<Fault>& faults) {
    Behaviour b;
    const auto is_fuse = [&](const Fault& f) { return f.mode == FaultMode::Open && m_board.part(f.part).kind == PartKind::Fuse; };
    b.fuse_open = std::any_of(faults.begin(), faults.end(), is_fuse);
    b.running = with_fuses(faults, b);
    if (!b.fuse_open) return b;
    auto renewed = faults;
    std::erase_if(renewed, is_fuse);
    Behaviour with_new_ones;
    if (with_fuses(renewed, with_new_ones) == Running::BlowsFuse) b.running = Running::BlowsFuse;
    return b;
}

// A short behind a fuse of its own takes away what that fuse feeds; where nothing runs without that, it is a unit that blows its fuse.
Running BehaviourModel::with_fuses(const std::vector<Fault>& faults, Behaviour& out) {
    for (const auto& f : faults)
        out.violent = out.violent || (f.mode == FaultMode::Short && m_board.part(f.part).kind == PartKind::Electrolytic);
    const auto melted = melt_branch_fuses(m_board, m_roles.branch_fuses, faults);
    const Running left = run(melted.faults, out);
    return melted.any && (left == Running::NoInput || left == Running::NoStart) ? Running::BlowsFuse : left;
}

// From the bulk capacitor, by resistors or by a current source inside.
bool BehaviourModel::starts_itself(int chip) const {
    const auto& part = m_board.part(chip);
    return part.kind == PartKind::IntegratedSwitch ||
           std::any_of(m_supplies.begin(), m_supplies.end(), [&](const Supply& s) { return s.net == part.net(chip_pins(part).supply); });
}

// Lies across what a dropper charges, and keeps its volts down.
bool BehaviourModel::holds_a_dropper(const Part& zener) const {
    if (m_roles.droppers.empty()) return false;
    const auto across = [&](NetId a, NetId b) { return a >= 0 && b >= 0 && zener.touches(a) && zener.touches(b); };
    return across(m_roles.hv, m_roles.primary_ground) ||
           std::any_of(m_board.rails.begin(), m_board.rails.end(), [&](const Rail& r) { return across(r.net_id, r.return_id); });
}

// Of its watts; whoever uses it says that it does not start, whatever a small rail beside goes on with.
bool BehaviourModel::mostly(const std::vector<char>& lost) const {
    double gone = 0, all = 0;
    for (std::size_t r = 0; r < lost.size(); ++r) {
        const double watts = std::max(std::fabs(m_board.rails[r].volts * m_board.rails[r].amps), kLeastWatts);
        all += watts;
        gone += lost[r] != 0 ? watts : 0;
    }
    return gone > all / 2;
}

// Of a regulator that feeds it, the output is through to ground inside.
bool BehaviourModel::gives_nothing(const std::vector<Fault>& faults, std::size_t rail) const {
    return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) {
        const auto& part = m_board.part(f.part);
        return part.kind == PartKind::Regulator && f.mode == FaultMode::OutputShort && within(m_limited[rail], part.net("OUT"));
    });
}

// What it limits a short to, the rail that it hangs on can give.
bool BehaviourModel::spares(const Part& regulator) const {
    const auto value = likely_value(regulator);
    const double amps = value && value->amps ? *value->amps : m_board.practice().regulator_limit;
    return std::any_of(m_board.rails.begin(), m_board.rails.end(), [&](const Rail& rail) {
        return within(m_roles.path.wired_to({rail.net_id}, {}), regulator.net("IN")) &&
               amps <= m_board.practice().overload_share * std::fabs(rail.amps);
    });
}

// What holds a short of the rail at bay: a regulator or pass transistor that the line or the input feeds, the resistor before a Zener;
// behind a converter, a regulator that limits it to what the converter can give.
void BehaviourModel::find_limited_rails() {
    const auto from_input = m_roles.path.behind(m_roles.path.entry(), false);
    std::vector<char> behind_a_resistor(m_board.rails.size(), 0);
    for (const auto& shunt : find_shunt_rails(m_board)) behind_a_resistor[static_cast<std::size_t>(shunt.rail)] = 1;
    for (std::size_t r = 0; r < m_board.rails.size(); ++r) {
        const auto& rail = m_board.rails[r];
        auto nets = m_roles.path.wired_to({rail.net_id}, {});
        bool held = behind_a_resistor[r] != 0;
        for (int i = 0; i < static_cast<int>(m_board.parts.size()) && m_roles.droppers.empty(); ++i) {
            const auto& part = m_board.part(i);
            if (part.kind == PartKind::Regulator && within(nets, part.net("OUT")))
                held = held || m_roles.line_fed() || within(from_input, part.net("IN")) || spares(part);
            if (m_roles.is_pass(i) && m_roles.line_fed())
                held = held || std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return within(nets, p.id); });
        }
        if (!held) nets.assign(nets.size(), 0);
        nets[static_cast<std::size_t>(rail.return_id)] = 0;
        m_limited.push_back(std::move(nets));
    }
}

bool BehaviourModel::held_at_bay(const Part& part) const {
    return std::any_of(m_limited.begin(), m_limited.end(), [&](const NetSet& nets) {
        return std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return within(nets, p.id); });
    });
}

// A regulator with nothing behind it that holds its own volts, as a chip's supply may have.
bool BehaviourModel::feeds_a_rail(const Part& regulator) const {
    for (std::size_t r = 0; r < m_board.rails.size(); ++r)
        if (within(m_roles.path.rail_nets(r), regulator.net("OUT"))) return true;
    return false;
}

// Of the converter that the part is to, or of all of them.
void BehaviourModel::take(const std::vector<char>* rails, std::vector<char>& from, bool& all) {
    all = all || rails == nullptr;
    for (std::size_t r = 0; rails != nullptr && r < from.size(); ++r) from[r] = from[r] != 0 || (*rails)[r] != 0;
}
void BehaviourModel::stop(int part, Effects& e) const {
    if (drives_legs_only(m_board, m_roles, part)) // the rails stand, and what the legs make of them does not
        e.sags = true;
    else
        take(m_converters.stopped_with(part), e.stopped, e.stuck_off);
}
void BehaviourModel::overload(const Part& part, Effects& e) const { take(m_converters.overloaded_by(part), e.pulsing, e.overload); }

// From one contact of the mains inlet to another, whatever else draws there.
bool BehaviourModel::across_the_line(const Part& part) const {
    if (!m_board.mains || m_roles.inlet.size() < 2 || part.pins.size() != 2) return false;
    const auto wired = [&](NetId contact, const Pin& pin) { return within(m_roles.path.wired_to({contact}, {}), pin.id); };
    const auto &one = part.pins[0], &other = part.pins[1];
    const NetId in = m_roles.inlet[0], out = m_roles.inlet[1];
    return (wired(in, one) && wired(out, other) && !wired(in, other)) || (wired(in, other) && wired(out, one) && !wired(in, one));
}

// Rectifiers, filters, windings, regulators: what takes energy on the way.
void BehaviourModel::add_power_effects(const Fault& f, Effects& e) const {
    const auto& t = m_roles;
    const auto& part = m_board.part(f.part);
    const bool hard = f.mode == FaultMode::Short, line_fed = t.line_fed();
    const double amps = line_amps_into(t.line_windings, m_board, f);
    if (amps > 0)
        (amps > m_fuse_melts ? e.fuse_blows : e.sags) = true; // else its winding alone is pulled down
    else if (part.kind == PartKind::Bridge && hard)
        e.fuse_blows = true; // on every other half cycle
    else if (hard && across_the_line(part))
        e.fuse_blows = true;
    else if (part.stage == "rectify-out" && hard && line_fed)
        e.fuse_blows = true;
    else if (part.stage == "rectify-out" && hard)
        overload(part, e);
    const bool in_series = part.kind == PartKind::Resistor || part.kind == PartKind::Regulator || t.is_pass(f.part);
    if (hard && amps <= 0 && !in_series && !held_at_bay(part) && (part.stage == "smooth" || (part.stage == "rails" && !line_fed))) {
        if (line_fed && t.own_rectifiers)
            e.fuse_blows = true;
        else
            overload(part, e);
    }
    const bool filters = part.stage == "bulk" || part.stage == "smooth" || (line_fed && part.stage == "rails");
    e.sags = e.sags || (f.mode == FaultMode::Dry && filters);
    if (part.kind == PartKind::Transformer && f.mode == FaultMode::ShortedTurns)
        (t.line_transformer >= 0 ? e.fuse_blows : e.overload) = true;
    if (part.kind == PartKind::Regulator) {
        e.high = e.high || ((f.mode == FaultMode::RegulatorHigh || hard) && feeds_a_rail(part));
        e.sags = e.sags || f.mode == FaultMode::Low;
        if (f.mode == FaultMode::SupplyShort || (f.mode == FaultMode::OutputShort && !line_fed && !spares(part))) overload(part, e);
    }
    const bool in_the_rail = t.is_pass(f.part) || m_converters.regulates(f.part);
    e.high = e.high || (in_the_rail && (f.mode == FaultMode::CeShort || hard));
    e.sags = e.sags || (lists(t.droppers, f.part) && (f.mode == FaultMode::Low || f.mode == FaultMode::Open));
    e.high = e.high || (part.kind == PartKind::Zener && f.mode == FaultMode::Open && holds_a_dropper(part));
}

// Switches, their drive, the chips and what tells them how high the output is.
void BehaviourModel::add_control_effects(const Fault& f, Effects& e) const {
    const auto& t = m_roles;
    const auto& part = m_board.part(f.part);
    const bool hard = f.mode == FaultMode::Short, open = f.mode == FaultMode::Open;
    const LoopLoss loop = t.loop.loss(m_board, f);
    e.let_through = e.let_through || std::any_of(t.step_downs.begin(), t.step_downs.end(), [&](const StepDown& s) { return s.through(f); });
    e.high = e.high || loop == LoopLoss::Climbs;
    e.sags = e.sags || (loop == LoopLoss::Falls && !hard) || (f.mode == FaultMode::Dry && lists(t.drive_capacitors, f.part));
    e.sags = e.sags || (f.mode == FaultMode::High && lists(t.sense, f.part)); // its limit comes too soon
    const auto& held = t.loop.compared(f.part);
    if (hard && loop == LoopLoss::Falls && !held.empty()) // those rails, and no other
        for (int rail : held) e.stopped[static_cast<std::size_t>(rail)] = 1;
    else
        e.stuck_off = e.stuck_off || (hard && (loop == LoopLoss::Falls || part.kind == PartKind::Optocoupler));
    if (lists(t.soft_start, f.part)) { // a leak takes the few microamperes that should charge it
        e.sags = e.sags || f.mode == FaultMode::Leaky;
        if (hard) stop(t.controller, e);
    }
    if (lists(t.clocking, f.part) && (hard || open)) stop(t.controller, e);
    if (hard && m_converters.clocks(f.part)) stop(f.part, e);
    if (open && (lists(t.drive_path, f.part) || lists(t.sense, f.part))) stop(t.controller >= 0 ? t.controller : t.power_switch, e);
    if (open && (t.is_switch(f.part) || m_converters.stopped_with(f.part) != nullptr)) stop(f.part, e);
    if (t.switches.size() > 1 && t.is_switch(f.part) && (f.mode == FaultMode::DsShort || f.mode == FaultMode::CeShort || hard))
        e.fuse_blows = true; // the other one of the pair turns on against it
    if (hard) {
        const ShortBeside short_of = short_beside(m_board, t, f.part);
        e.fuse_blows = e.fuse_blows || short_of.blows_the_fuse;
        e.overload = e.overload || short_of.overloads;
    }
    if (hard) stop_at_its_pins(part, e);
    if (open)
        for (int chip : left_without(m_board, part)) stop(chip, e);
    if ((open || hard) && is_diode_like(part.kind)) lose_the_freewheel(part, hard, e);
    if (t.is_leg(f.part)) {
        e.fuse_blows = e.fuse_blows || hard || f.mode == FaultMode::DsShort || f.mode == FaultMode::CeShort;
        if (open) (m_board.rails.empty() ? e.stuck_off : e.sags) = true;
    }
    const bool chip = is_controller(part.kind) && !t.is_switch(f.part);
    if ((chip && (f.mode == FaultMode::Dead || f.mode == FaultMode::OutputShort || f.mode == FaultMode::SupplyShort)) ||
        (part.kind == PartKind::IntegratedSwitch && f.mode == FaultMode::Dead))
        stop(f.part, e);
}

void BehaviourModel::stop_at_its_pins(const Part& across, Effects& e) const {
    for (int chip : shorted_by(m_board, across)) stop(chip, e);
}

// What takes over the current of a coil while the switch is off: without it the stage delivers nothing, and one behind a winding less;
// shorted, it lies across what the switch gives.
void BehaviourModel::lose_the_freewheel(const Part& diode, bool shorted, Effects& e) const {
    const auto returns = [&](NetId net) { return listed(m_roles.path.returns(), net) || net == m_roles.primary_ground; };
    if (returns(diode.net("A")) == returns(diode.net("K"))) return;
    const NetId node = returns(diode.net("A")) ? diode.net("K") : diode.net("A");
    bool coil = false, another = false;
    int device = -1;
    for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
        const auto& part = m_board.part(i);
        if (&part == &diode || !part.touches(node)) continue;
        coil = coil || part.kind == PartKind::Inductor;
        another = another || (is_diode_like(part.kind) && part.touches(diode.net("A")) && part.touches(diode.net("K")));
        if (m_roles.is_power_device(i) || inner_node(m_board, part) == node) {
            another = another || device >= 0;
            device = i;
        }
    }
    if (shorted && coil && device >= 0) return overload(diode, e);
    if (shorted || !coil || another) return;
    if (device >= 0)
        stop(device, e);
    else
        e.sags = true;
}

// Nothing of what the bulk capacitor keeps gets to a converter any more: a coil or a fuse between them is open.
void BehaviourModel::stop_what_is_cut_off(const std::vector<Fault>& faults, Effects& e) const {
    const auto& t = m_roles;
    const auto cuts = [&](const Fault& f) {
        const auto kind = m_board.part(f.part).kind;
        return f.mode == FaultMode::Open && (kind == PartKind::Inductor || kind == PartKind::Fuse || kind == PartKind::Thermistor ||
                                             kind == PartKind::Choke || kind == PartKind::Switch || is_resistor_like(kind));
    };
    if (!m_board.mains || t.hv < 0 || std::none_of(faults.begin(), faults.end(), cuts)) return;
    const auto whole = t.path.wired_to({t.hv}, {}), left = t.path.wired_to({t.hv}, faults);
    const auto lost = [&](NetId net) { return within(whole, net) && !within(left, net); };
    for (int d : t.power_devices) {
        const Part& device = m_board.part(d);
        const auto pins = chip_pins(device);
        const auto ends = switch_ends(device);
        bool off = lost(ends.high) || lost(device.net(pins.high));
        for (const auto& wound : m_board.parts) {
            const bool driven =
                wound.kind == PartKind::Transformer && std::any_of(wound.pins.begin(), wound.pins.end(), [&](const Pin& p) {
                    return p.role.front() == 'P' && (p.id == ends.high || p.id == ends.low || p.id == device.net(pins.high));
                });
            off = off || (driven && std::any_of(wound.pins.begin(), wound.pins.end(),
                                                [&](const Pin& p) { return p.role.front() == 'P' && lost(p.id); }));
        }
        if (off) stop(d, e);
    }
}

// Chips that start and have nothing to run on, or do not get enough to start.
void BehaviourModel::add_starved_chips(const std::vector<Fault>& faults, const Entry& entry, Effects& e) const {
    for (const int chip : m_roles.path.starved_chips(faults)) {
        if (starts_itself(chip))
            take(m_converters.stopped_with(chip), e.pulsing, e.starves);
        else
            stop(chip, e);
    }
    for (const auto& handed : m_roles.supply_switches) {
        if (!handed.off(faults)) continue;
        if (starts_itself(handed.chip))
            take(m_converters.stopped_with(handed.chip), e.pulsing, e.starves);
        else
            stop(handed.chip, e);
    }
    for (int chip : unsupplied(entry)) stop(chip, e);
    if (lacks(faults, m_roles.supply_capacitors, FaultMode::Dry)) take(m_converters.stopped_with(m_roles.controller), e.pulsing, e.starves);
}

Running BehaviourModel::run(const std::vector<Fault>& faults, Behaviour& out) {
    const auto& t = m_roles;
    const Entry& way_in = entry(faults);
    const auto& shorted = shorted_rails(faults);
    const std::size_t rails = m_board.rails.size();
    Effects e;
    e.stopped.assign(rails, 0);
    e.pulsing.assign(rails, 0);
    for (std::size_t r = 0; r < rails; ++r)
        if (shorted[r] != 0 && !limited_rail(r)) take(m_converters.overloaded_by(r), e.pulsing, e.overload);
    for (const auto& f : faults) {
        add_power_effects(f, e);
        add_control_effects(f, e);
    }
    add_starved_chips(faults, way_in, e);
    stop_what_is_cut_off(faults, e);
    auto& lost = out.lost = e.stopped;
    const auto feeds = t.path.rails(faults);
    for (std::size_t r = 0; r < rails; ++r) {
        const bool alone = limited_rail(r) && (shorted[r] != 0 || gives_nothing(faults, r)); // and the others stand
        lost[r] = lost[r] != 0 || alone || (feeds[r].whole > 0 && feeds[r].left == 0) || pulled_down(t.line_windings, r, m_board, faults);
    }
    m_converters.pass_on(lost);
    auto short_of = lost;
    for (std::size_t r = 0; r < rails; ++r) {
        short_of[r] = lost[r] != 0 || e.pulsing[r] != 0;
        e.sags = e.sags || short_of[r] != 0 || feeds[r].left < feeds[r].whole;
    }
    if (std::find(e.pulsing.begin(), e.pulsing.end(), 1) != e.pulsing.end()) out.pulsing = e.pulsing;
    const bool limited = !t.droppers.empty(); // what the dropper lets through goes into the short, and nothing else happens
    const auto open = [&](int part) { return lacks(faults, {part}, FaultMode::Open); };
    if (!way_in.input || (limited && std::all_of(t.droppers.begin(), t.droppers.end(), open))) return Running::NoInput;
    if (way_in.shorted || (e.fuse_blows && !limited)) return Running::BlowsFuse;
    if (limited && (e.fuse_blows || e.overload)) return Running::NoInput;
    const bool untold = std::all_of(feeds.begin(), feeds.end(), [](const PowerPath::Feed& f) { return f.whole == 0; });
    const int transformer = t.transformer >= 0 ? t.transformer : t.line_transformer;
    const bool silent = std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return silences(f, transformer, {}); });
    const bool cut_off = std::any_of(t.pass.begin(), t.pass.end(), [&](int i) { return open(i) && !m_converters.regulates(i); });
    const bool all = e.stuck_off || cut_off || (untold && silent);
    if (all) lost.assign(rails, 1);
    if (all || mostly(lost)) return Running::NoStart;
    if (e.overload || e.starves || mostly(short_of)) return Running::Hiccup;
    out.let_through = e.let_through;
    return e.high || e.let_through ? Running::High : e.sags ? Running::Weak : Running::Normal;
}

double symptom_chance(const Practice& p, std::string_view word, const Behaviour& behaviour) {
    if (word == "bang") return behaviour.violent ? p.bang_when_violent : p.bang_otherwise;
    if (word == "smoke") return behaviour.violent ? p.smoke_when_violent : p.smoke_otherwise;
    const auto row = p.symptoms.find(word);
    if (row == p.symptoms.end()) return p.other_symptom;
    // With a short behind it, a fuse that is whole is the exception: it would have to be a new one.
    const bool spared = behaviour.running == Running::BlowsFuse && !behaviour.fuse_open && (word == "dead" || word == "fuse-blows");
    const auto& by_state = row->second.by_state;
    const double chance = by_state[static_cast<std::size_t>(behaviour.running)] * (spared ? p.spared : 1);
    if (behaviour.running != Running::High || !behaviour.let_through) return chance;
    const double broken = p.runs_on_breaks; // nobody sees high volts then, but a machine that does nothing
    return (1 - broken) * chance + broken * by_state[static_cast<std::size_t>(Running::NoStart)];
}

} // namespace ohmo
