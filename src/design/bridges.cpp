// SPDX-License-Identifier: GPL-3.0-or-later
// Two switches in a row across the bulk capacitors: with a controller and a drive transformer, or swinging by themselves.
#include "design/blocks.h"
#include "design/families.h"

#include "base/e_series.h"
#include "board/value_reading.h"
#include "design/sums.h"

#include <algorithm>

namespace ohmo {
namespace {

struct Windings {
    Turns turns;
    double primary = 0, peak_amps = 0;
};

// Half the bulk volts stand across the primary; a choke averages what the rectifiers let through.
Windings windings_of(Draft& d, const Entry& e, double duty) {
    Windings w;
    std::vector<double> volts;
    for (int i : d.own_rails()) volts.push_back((std::fabs(d.rail(i).volts) + d.p().design_bridge_diode_volts) / duty);
    w.turns = whole_turns(volts, d.p().design_bridge_turn_volts * std::sqrt(e.watts), d.p().design_turn_error);
    w.primary = std::max(4.0, std::round(e.valley / 2 / w.turns.volts_per_turn));
    w.peak_amps = 2 * e.watts / (e.valley * duty);
    return w;
}

// The main transformer with two halves a rail; `low` is the end that the coupling capacitor drives.
std::string add_transformer(Draft& d, const Entry& e, const Windings& w, const std::string& low, double hertz) {
    auto& t = d.add(PartKind::Transformer, "switch", "main transformer", {{"P1", "MID"}, {"P2", low}});
    t.turns["P1-P2"] = w.primary;
    t.winding_ohms["P1-P2"] = winding_ohms(d, e.watts, w.peak_amps * 0.8);
    t.value = letter_code(two_figures(e.valley / 2 / (4 * hertz * 0.1 * w.peak_amps)), 'H'); // a tenth of the current magnetises
    const auto own = d.own_rails();
    for (std::size_t k = 0; k < own.size(); ++k) {
        const std::string tail = d.net(own[k]).substr(1);
        const auto pin = [&](std::size_t n) { return fmt::format("S{}", 4 * k + n); };
        for (const auto& [name, net] :
             {std::pair{pin(1), "S" + tail}, {pin(2), std::string("0V")}, {pin(3), std::string("0V")}, {pin(4), "T" + tail}})
            t.pins.push_back({name, net, -1});
        for (std::size_t half : {1, 3}) {
            const std::string winding = pin(half) + "-" + pin(half + 1);
            t.turns[winding] = w.turns.of[k];
            t.winding_ohms[winding] = winding_ohms(d, std::fabs(d.rail(own[k]).volts) * d.rail(own[k]).amps / 2, d.rail(own[k]).amps * 0.7);
        }
    }
    const std::string ref = t.ref;
    d.sum(SumKind::VoltsPerTurn, ref, w.turns.volts_per_turn, w.turns.volts_per_turn, {w.turns.worst});
    d.sum(SumKind::PrimaryTurns, ref, w.primary, w.primary, {e.valley / 2, w.turns.volts_per_turn});
    return ref;
}

void add_output_rectifiers(Draft& d, const Entry& e, const Windings& w, double hertz) {
    const auto own = d.own_rails();
    for (std::size_t k = 0; k < own.size(); ++k) {
        const int i = own[k];
        const double reverse = e.highest * w.turns.of[k] / w.primary;
        const std::string tail = d.net(i).substr(1), raw = raw_net(d, i);
        add_rectifier(d, i, d.word(i) + " rectifier", reverse, "S" + tail, raw);
        add_rectifier(d, i, d.word(i) + " rectifier, other half", reverse, "T" + tail, raw);
        add_smoothing(d, i, raw, {2 * hertz, 1, true});
    }
}

double switch_volts(Draft& d, const Entry& e, const std::string& ref) {
    const double wanted = d.p().design_bridge_margin * e.highest;
    return d.sum(SumKind::SwitchVolts, ref, wanted, next_rating(silicon_volts(), wanted), {e.highest});
}

void add_coupling(Draft& d, const Entry& e, const std::string& middle, const std::string& to) {
    d.capacitor(PartKind::Film, "switch", "coupling capacitor", e.watts > 100 ? 1e-6 : 470e-9,
                next_rating({100, 250, 400, 630}, 0.6 * e.highest), middle, to);
}

} // namespace

Design design_half_bridge(const Supply& supply, const Practice& practice) {
    Draft d(supply, practice);
    const double hertz = practice.design_bridge_hertz, duty = practice.design_bridge_duty;
    const Entry e = add_entry(d, true);
    const auto w = windings_of(d, e, duty);
    for (const bool upper : {true, false}) {
        const std::string n = upper ? "1" : "2", which = upper ? "upper" : "lower";
        const std::string ref = d.add(PartKind::Mosfet, "switch", which + " switch",
                                      {{"D", upper ? e.high : "MID"}, {"G", "G" + n}, {"S", upper ? "MID" : e.ground}})
                                    .ref;
        const double volts = switch_volts(d, e, ref), wanted = practice.design_switch_amps * w.peak_amps;
        d.board().parts.back().value =
            letter_volts(volts, d.sum(SumKind::SwitchAmps, ref, wanted, next_rating(switch_ratings(), wanted), {w.peak_amps}));
        d.resistor("control", which + " gate resistor", 10, 0.25, "GD" + n, "G" + n);
        d.resistor("control", which + " gate pull-down", 10e3, 0.25, "G" + n, upper ? "MID" : e.ground);
    }
    add_coupling(d, e, e.middle, "CPL");
    add_transformer(d, e, w, "CPL", hertz);
    if (supply.has(Option::Damper)) {
        d.resistor("switch", "primary snubber resistor", 47, 2, "MID", "SNP");
        d.capacitor(PartKind::Ceramic, "switch", "primary snubber capacitor", 1e-9, 1000, "SNP", "CPL");
    }
    auto& drive = d.add(PartKind::Transformer, "control", "gate-drive transformer",
                        {{"P1", "DR1"}, {"P2", "DR2"}, {"S1", "GD1"}, {"S2", "MID"}, {"S3", e.ground}, {"S4", "GD2"}});
    drive.value = "800u";
    for (const char* winding : {"P1-P2", "S1-S2", "S3-S4"}) {
        drive.turns[winding] = 20;
        drive.winding_ohms[winding] = 0.4;
    }
    // With a standby supply the controller stands on the isolated side, where the rails are; without, it starts from the bulk capacitors.
    const bool standby = supply.has(Option::Standby);
    const std::string ground = standby ? "0V" : e.ground, stage = standby ? "feedback" : "control";
    d.add(PartKind::Controller, stage, "controller",
          {{"VCC", "VCC"}, {"GND", ground}, {"DRV", "DRA"}, {"DRB", "DR2"}, {"FB", "FB"}, {"SS", "SS"}, {"RT", "RT"}})
        .value = "9V 8V";
    d.capacitor(PartKind::Electrolytic, stage, "drive coupling capacitor", 10e-6, 50, "DRA", "DR1");
    d.capacitor(PartKind::Ceramic, stage, "soft-start capacitor", 220e-9, 50, "SS", ground);
    d.resistor(stage, "timing resistor", 12e3, 0.25, "RT", ground);
    if (standby) {
        d.capacitor(PartKind::Electrolytic, stage, "controller supply capacitor", 47e-6, 35, "VCC", ground);
        d.capacitor(PartKind::Ceramic, stage, "controller supply bypass", 100e-9, 50, "VCC", ground);
        add_standby(d, e, "VCC");
    } else {
        for (auto& part : d.board().parts)
            if (part.kind == PartKind::Transformer && part.stage == "switch") {
                part.pins.push_back({"A1", "AUX", -1});
                part.pins.push_back({"A2", ground, -1});
                part.turns["A1-A2"] = std::max(1.0, std::round(practice.design_supply_volts / w.turns.volts_per_turn));
                part.winding_ohms["A1-A2"] = 0.2;
            }
        add_controller_feed(d, e, "AUX");
    }
    add_output_rectifiers(d, e, w, hertz);
    const int held = held_rail(d);
    if (standby) {
        const double volts = d.rail(held).volts, lower = 10e3, upper = lower * (volts / 2.5 - 1),
                     even = nearest_preferred(std::max(upper, 10.0), 96);
        const auto ref = d.resistor("feedback", "divider, upper", even, 0.25, d.net(held), "FB").ref;
        d.sum(SumKind::DividerOhms, ref, upper, even, {volts, 2.5});
        d.resistor("feedback", "divider, lower", lower, 0.25, "FB", "0V");
        d.capacitor(PartKind::Film, "feedback", "loop capacitor", 22e-9, 63, "FB", "COMP");
        d.resistor("feedback", "loop resistor", 15e3, 0.25, "COMP", d.net(held));
    } else {
        add_feedback(d, held, "FB", ground);
    }
    d.capacitor(PartKind::YCapacitor, "barrier", "barrier capacitor", 2.2e-9, 250, e.ground, "0V");
    add_post_regulators(d);
    add_rail_ends(d);
    return std::move(d).done();
}

Design design_self_oscillating(const Supply& supply, const Practice& practice) {
    Draft d(supply, practice);
    const double hertz = practice.design_self_hertz, duty = practice.design_self_duty;
    const Entry e = add_entry(d);
    const auto w = windings_of(d, e, duty);
    const bool stacked = !e.middle.empty();
    const std::string middle = stacked ? e.middle : "CMID";
    if (!stacked) {
        const double stands = next_rating({100, 250, 400, 630}, 0.6 * e.highest);
        d.capacitor(PartKind::Film, "switch", "upper half-bridge capacitor", 1e-6, stands, e.high, middle);
        d.capacitor(PartKind::Film, "switch", "lower half-bridge capacitor", 1e-6, stands, middle, e.ground);
    }
    for (const bool upper : {true, false}) {
        const std::string n = upper ? "1" : "2", which = upper ? "upper" : "lower", emitter = upper ? "MID" : e.ground,
                          collector = upper ? e.high : "MID";
        const std::string ref =
            d.add(PartKind::BjtNpn, "switch", which + " switch", {{"C", collector}, {"B", "B" + n}, {"E", emitter}}).ref;
        const double volts = switch_volts(d, e, ref), wanted = practice.design_switch_amps * w.peak_amps;
        const double amps = d.sum(SumKind::SwitchAmps, ref, wanted, next_rating(switch_ratings(), wanted), {w.peak_amps});
        d.board().parts.back().value = letter_volts(volts, amps);
        d.diode(PartKind::Diode, "switch", which + " flyback diode", next_rating(silicon_volts(), 1.3 * e.highest), 3, emitter, collector);
        d.capacitor(PartKind::Electrolytic, "control", which + " base-drive capacitor", 4.7e-6, 50, "BX" + n, "BD" + n);
        d.diode(PartKind::Diode, "control", which + " base diode", 200, 1, "BX" + n, "BD" + n);
        d.resistor("control", which + " base resistor", 3.3, 0.5, "BX" + n, "B" + n);
        d.resistor("control", which + " base pull-down", 2200, 0.25, "B" + n, emitter);
        d.resistor("control", which + " start resistor", e.crest > 250 ? 330e3 : 150e3, 0.5, collector, "B" + n);
    }
    const std::string ref = add_transformer(d, e, w, middle, hertz);
    for (auto& part : d.board().parts)
        if (part.ref == ref) { // the winding that drives the bases
            part.pins.insert(part.pins.begin() + 2, {{"A1", "AUX1", -1}, {"A2", "AUX2", -1}});
            part.turns["A1-A2"] = std::max(1.0, std::round(practice.design_base_volts / w.turns.volts_per_turn));
            part.winding_ohms["A1-A2"] = 0.05;
        }
    auto& drive = d.add(PartKind::Transformer, "control", "base-drive transformer",
                        {{"P1", "DRVP"}, {"P2", "AUX2"}, {"S1", "BD1"}, {"S2", "MID"}, {"S3", e.ground}, {"S4", "BD2"}});
    drive.value = "400u";
    drive.turns = {{"P1-P2", 12}, {"S1-S2", 8}, {"S3-S4", 8}};
    drive.winding_ohms = {{"P1-P2", 0.2}, {"S1-S2", 0.15}, {"S3-S4", 0.15}};
    d.resistor("control", "base-drive feed resistor", 4.7, 1, "AUX1", "DRVP");
    d.capacitor(PartKind::YCapacitor, "barrier", "barrier capacitor", 2.2e-9, 250, e.ground, "0V");
    add_output_rectifiers(d, e, w, hertz);
    for (auto& rail : d.board().rails) rail.tolerance = practice.design_unregulated_tolerance;
    add_post_regulators(d);
    for (std::size_t i = 0; i < supply.rails.size(); ++i)
        if (supply.rails[i].from) d.board().rails[i].tolerance = practice.design_rail_tolerance;
    add_rail_ends(d);
    return std::move(d).done();
}

} // namespace ohmo
