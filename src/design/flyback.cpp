// SPDX-License-Identifier: GPL-3.0-or-later
// Flybacks: with a separate switch, with the switch in the chip, with a transistor for a rectifier, held in current as well as in volts.
#include "design/blocks.h"
#include "design/families.h"

#include "base/e_series.h"
#include "board/value_reading.h"
#include "design/sums.h"

#include <algorithm>

namespace ohmo {
namespace {

// What the transformer gives, and what the parts round the switch stand.
struct Primary {
    FlybackSums sums;
    Turns turns; ///< of the rails with a winding, in order of `own_rails`
    double reflected = 0, primary_turns = 0, drain_volts = 0;
    int aux_turns = 0;
};

Primary primary_of(Draft& d, const Entry& e, double hertz) {
    Primary p;
    std::vector<double> volts;
    for (int i : d.own_rails())
        volts.push_back(std::fabs(d.rail(i).volts) +
                        (std::fabs(d.rail(i).volts) > 15 ? d.p().design_diode_volts : d.p().design_schottky_volts));
    const double reflected = d.p().design_reflected_share * e.crest;
    p.turns = whole_turns(volts, d.p().design_turn_volts * std::sqrt(e.watts), d.p().design_turn_error);
    p.primary_turns = std::max(2.0, std::round(reflected / p.turns.volts_per_turn));
    p.reflected = p.primary_turns * p.turns.volts_per_turn;
    p.aux_turns =
        std::max(1, static_cast<int>(std::lround((d.p().design_supply_volts + d.p().design_diode_volts) / p.turns.volts_per_turn)));
    p.sums = flyback_sums(e.watts, e.valley, p.reflected, hertz, d.p().design_leakage_share, d.p().design_clamp_share * p.reflected);
    p.drain_volts = e.highest + d.p().design_clamp_share * p.reflected;
    return p;
}

void add_transformer(Draft& d, const Entry& e, const Primary& p, const std::string& drain, double hertz) {
    auto& t = d.add(PartKind::Transformer, "switch", "main transformer", {{"P1", e.high}, {"P2", drain}, {"A1", "AUX"}, {"A2", e.ground}});
    t.value = letter_code(two_figures(p.sums.henry), 'H');
    t.turns = {{"P1-P2", p.primary_turns}, {"A1-A2", p.aux_turns}};
    t.winding_ohms = {{"P1-P2", winding_ohms(d, e.watts, p.sums.rms_amps)}, {"A1-A2", 0.3}};
    const auto own = d.own_rails();
    for (std::size_t k = 0; k < own.size(); ++k) {
        const auto& r = d.rail(own[k]);
        const std::string one = fmt::format("S{}", 2 * k + 1), two = fmt::format("S{}", 2 * k + 2), net = "S" + d.net(own[k]).substr(1);
        t.pins.push_back({one, r.volts < 0 ? "0V" : net, -1});
        t.pins.push_back({two, r.volts < 0 ? net : "0V", -1});
        t.turns[one + "-" + two] = p.turns.of[k];
        const double rms = r.amps * std::sqrt(4.0 / 3 / (1 - p.sums.duty)); // a falling triangle through the rest of the period
        t.winding_ohms[one + "-" + two] = winding_ohms(d, std::fabs(r.volts) * r.amps, rms);
    }
    const std::string ref = t.ref;
    d.sum(SumKind::VoltsPerTurn, ref, p.turns.volts_per_turn, p.turns.volts_per_turn, {p.turns.worst});
    d.sum(SumKind::PrimaryTurns, ref, p.primary_turns, p.primary_turns, {p.reflected, p.turns.volts_per_turn});
    d.sum(SumKind::SupplyTurns, ref, p.aux_turns, p.aux_turns, {d.p().design_supply_volts});
    d.sum(SumKind::PeakAmps, ref, p.sums.peak_amps, p.sums.peak_amps, {e.watts, e.valley, p.sums.duty});
    d.sum(SumKind::PrimaryHenry, ref, p.sums.henry, two_figures(p.sums.henry), {p.sums.duty, hertz});
}

std::string winding_net(const Draft& d, int rail) { return "S" + d.net(rail).substr(1); }

double switch_volts(Draft& d, const std::string& ref, const Primary& p) {
    const double rated = next_rating(silicon_volts(), p.drain_volts);
    return d.sum(SumKind::SwitchVolts, ref, p.drain_volts, rated, {p.drain_volts});
}

double switch_amps(Draft& d, const std::string& ref, const Primary& p) {
    const double wanted = d.p().design_switch_amps * p.sums.peak_amps;
    return d.sum(SumKind::SwitchAmps, ref, wanted, next_rating(switch_ratings(), wanted), {p.sums.peak_amps});
}

void add_snubber(Draft& d, const Entry& e, const Primary& p, const std::string& drain) {
    const int kind = d.supply().choice(Option::Snubber);
    if (kind == 0) return;
    const double clamp = d.p().design_clamp_share * p.reflected;
    const double stands = next_rating(silicon_volts(), std::max(d.p().design_rectifier_margin * p.drain_volts, 200.0));
    d.diode(PartKind::Diode, "switch", "snubber diode", stands, p.sums.peak_amps > 3 ? 3 : 1, drain, "CLAMP");
    if (kind == 2) {
        auto& part = d.add(PartKind::Zener, "switch", "snubber Zener", {{"A", e.high}, {"K", "CLAMP"}});
        part.value = fmt::format("{:g}V 5W", nearest_preferred(clamp, 12));
        return;
    }
    const double ohms = nearest_preferred(p.sums.clamp_ohms, 12), watts = clamp * clamp / ohms;
    d.capacitor(watts > 1 ? PartKind::Film : PartKind::Ceramic, "switch", "snubber capacitor",
                std::clamp(nearest_preferred(p.sums.clamp_farads, 6), 470e-12, 22e-9), 1000, e.high, "CLAMP");
    const int many = watts > 1.5 ? 2 : 1;
    for (int n = 0; n < many; ++n) {
        const double each = nearest_preferred(ohms * many, 12);
        const auto ref =
            d.resistor("switch", "snubber resistor", each, next_rating({0.5, 1, 2, 3, 5}, 1.5 * watts / many), e.high, "CLAMP").ref;
        if (n == 0) d.sum(SumKind::ClampOhms, ref, p.sums.clamp_ohms, each / many, {clamp});
    }
}

void add_switch(Draft& d, const Entry& e, const Primary& p) {
    const std::string ref = d.add(PartKind::Mosfet, "switch", "the switch", {{"D", "DRAIN"}, {"G", "GATE"}, {"S", "SRC"}}).ref;
    const double volts = switch_volts(d, ref, p), amps = switch_amps(d, ref, p);
    d.board().parts.back().value = letter_volts(volts, amps);
    const double wanted = d.p().design_sense_volts / (d.p().design_current_headroom * p.sums.peak_amps);
    const double ohms = nearest_preferred(wanted, 12),
                 watts = next_rating({0.25, 0.5, 1, 2, 3, 5}, 2 * p.sums.rms_amps * p.sums.rms_amps * ohms);
    const auto sense = d.resistor("switch", "current sense resistor", ohms, watts, "SRC", e.ground).ref;
    d.sum(SumKind::SenseOhms, sense, wanted, ohms, {p.sums.peak_amps});
    d.resistor("switch", "gate resistor", e.watts > d.p().design_snubber_watts ? 22 : 47, 0.25, "DRV", "GATE");
    d.resistor("switch", "gate pull-down", 10e3, 0.25, "GATE", e.ground);
}

void add_controller(Draft& d, const Entry& e) {
    d.add(PartKind::Controller, "control", "controller",
          {{"VCC", "VCC"}, {"GND", e.ground}, {"DRV", "DRV"}, {"CS", "CS"}, {"FB", "FB"}, {"RT", "RT"}})
        .value = "16V 10V";
    add_controller_feed(d, e, "AUX");
    d.add(PartKind::Zener, "control", "controller supply clamp", {{"A", e.ground}, {"K", "VCC"}}).value = "20V 0.5W";
    d.resistor("control", "sense filter resistor", 1000, 0.25, "SRC", "CS");
    d.capacitor(PartKind::Ceramic, "control", "sense filter capacitor", 220e-12, 50, "CS", e.ground);
    d.resistor("control", "timing resistor", 8200, 0.25, "RT", e.ground);
    d.capacitor(PartKind::Ceramic, "control", "timing capacitor", 2.2e-9, 50, "RT", e.ground);
    d.resistor("control", "feedback pin resistor", 22e3, 0.25, "FB", "FBC");
    d.capacitor(PartKind::Ceramic, "control", "feedback pin capacitor", 1e-9, 50, "FBC", e.ground);
}

void add_integrated(Draft& d, const Entry& e, const Primary& p) {
    const std::string ref = d.add(PartKind::IntegratedSwitch, "switch", "controller with switch",
                                  {{"D", "DRAIN"}, {"S", e.ground}, {"VCC", "VCC"}, {"FB", "FB"}})
                                .ref;
    const double volts = switch_volts(d, ref, p), amps = switch_amps(d, ref, p);
    auto& chip = d.board().parts.back();
    chip.value = "12V 8V";
    chip.volts = volts;
    chip.amps = amps;
    add_controller_feed(d, e, "AUX");
    d.capacitor(PartKind::Ceramic, "control", "feedback pin capacitor", 10e-9, 50, "FB", e.ground);
}

void add_rails(Draft& d, const Entry& e, const Primary& p, double hertz) {
    const auto own = d.own_rails();
    for (std::size_t k = 0; k < own.size(); ++k) {
        const int i = own[k];
        const double reverse = std::fabs(d.rail(i).volts) + e.highest * p.turns.of[k] / p.primary_turns;
        const std::string raw = d.supply().has(Option::PiFilter) ? raw_net(d, i) : d.net(i), from = winding_net(d, i);
        add_rectifier(d, i, d.word(i) + " rectifier", reverse, from, raw);
        if (d.supply().has(Option::Snubber) && std::fabs(d.rail(i).volts) * d.rail(i).amps > d.p().design_snubber_watts / 3) {
            d.resistor("rectify-out", d.word(i) + " rectifier snubber", 22, 0.5, from, "SN" + d.net(i).substr(1));
            d.capacitor(PartKind::Ceramic, "rectify-out", d.word(i) + " rectifier snubber", 1e-9, 200, "SN" + d.net(i).substr(1), raw);
        }
        add_smoothing(d, i, raw, {hertz, 2 / (1 - p.sums.duty), false});
    }
}

bool crosses_barrier(const Draft& d) { return d.supply().feed == Feed::Mains; }

void add_barrier_capacitor(Draft& d, const Entry& e) {
    if (crosses_barrier(d)) d.capacitor(PartKind::YCapacitor, "barrier", "barrier capacitor", 2.2e-9, 250, e.ground, "0V");
}

// The transistor in the return of the winding, its own chip, and what feeds that.
void add_synchronous_rectifier(Draft& d, const Entry& e, const Primary& p, double hertz) {
    const auto& r = d.rail(0);
    const std::string raw = d.supply().has(Option::PiFilter) ? raw_net(d, 0) : d.net(0);
    auto& transformer =
        *std::find_if(d.board().parts.begin(), d.board().parts.end(), [](const Part& part) { return part.kind == PartKind::Transformer; });
    transformer.pins[4].net = raw; // the winding's hot end goes straight to the reservoir
    transformer.pins[5].net = "SYN";
    const double reverse = r.volts + e.highest * p.turns.of[0] / p.primary_turns, wanted = d.p().design_rectifier_margin * reverse;
    const double volts = next_rating(silicon_volts(), wanted), amps = next_rating(switch_ratings(), d.p().design_rectifier_amps * r.amps);
    auto& fet = d.add(PartKind::Mosfet, "rectify-out", fmt::format("{} synchronous rectifier", d.word(0)),
                      {{"D", "SYN"}, {"G", "SG"}, {"S", "0V"}});
    fet.value = letter_volts(volts, amps);
    const std::string ref = fet.ref;
    d.sum(SumKind::RectifierVolts, ref, wanted, volts, {reverse});
    d.sum(SumKind::RectifierAmps, ref, d.p().design_rectifier_amps * r.amps, amps, {r.amps});
    d.add(PartKind::Controller, "rectify-out", "rectifier driver", {{"VCC", "SVCC"}, {"GND", "0V"}, {"DRV", "SDR"}, {"CS", "SCS"}}).value =
        "4V 3.5V";
    d.resistor("rectify-out", "rectifier gate resistor", 4.7, 0.25, "SDR", "SG");
    d.resistor("rectify-out", "rectifier gate pull-down", 10e3, 0.25, "SG", "0V");
    d.resistor("rectify-out", "rectifier sense resistor", 1000, 0.25, "SYN", "SCS");
    d.resistor("rectify-out", "rectifier driver supply resistor", 10, 0.25, raw, "SVCC");
    d.capacitor(PartKind::Ceramic, "rectify-out", "rectifier driver supply bypass", 1e-6, 50, "SVCC", "0V");
    d.resistor("rectify-out", "rectifier snubber resistor", 22, 0.5, "SYN", "SSN");
    d.capacitor(PartKind::Ceramic, "rectify-out", "rectifier snubber capacitor", 1e-9, 200, "SSN", "0V");
    add_smoothing(d, 0, raw, {hertz, 2 / (1 - p.sums.duty), false});
}

// A resistor in the return; what falls across it turns a transistor on that pulls the optocoupler's LED.
void add_current_loop(Draft& d) {
    const double wanted = d.p().design_diode_volts / (d.p().design_limit_share * d.rail(0).amps), ohms = nearest_preferred(wanted, 24);
    const double watts = next_rating({0.25, 0.5, 1, 2, 3, 5, 10}, 2 * d.rail(0).amps * d.rail(0).amps * ohms);
    const auto ref = d.resistor("feedback", "current sense resistor", ohms, watts, "0V", "0VS").ref;
    d.sum(SumKind::LimitOhms, ref, wanted, ohms, {d.rail(0).amps});
    d.add(PartKind::BjtNpn, "feedback", "current limit transistor", {{"C", "OPK"}, {"B", "CLB"}, {"E", "0VS"}}).value = "45V 0.2A";
    d.resistor("feedback", "current limit base resistor", 470, 0.25, "0V", "CLB");
    d.capacitor(PartKind::Ceramic, "feedback", "current limit capacitor", 100e-9, 50, "CLB", "0VS");
}

Design flyback(const Supply& supply, const Practice& practice, bool integrated, bool synchronous, bool current) {
    Draft d(supply, practice);
    const double hertz = practice.design_hertz;
    const Entry e = add_entry(d);
    const Primary p = primary_of(d, e, hertz);
    add_transformer(d, e, p, "DRAIN", hertz);
    if (integrated)
        add_integrated(d, e, p);
    else {
        add_switch(d, e, p);
        add_controller(d, e);
    }
    add_snubber(d, e, p, "DRAIN");
    if (synchronous)
        add_synchronous_rectifier(d, e, p, hertz);
    else
        add_rails(d, e, p, hertz);
    add_feedback(d, held_rail(d), "FB", e.ground);
    add_barrier_capacitor(d, e);
    if (current) {
        // What the winding and the reservoir return to lies before the resistor.
        for (auto& part : d.board().parts)
            for (auto& pin : part.pins)
                if (pin.net == "0V" && (part.kind == PartKind::Transformer || part.stage == "smooth")) pin.net = "0VS";
        add_current_loop(d);
    }
    if (supply.has(Option::Standby)) add_standby(d, e, "");
    add_post_regulators(d);
    add_rail_ends(d);
    return std::move(d).done();
}

} // namespace

void add_standby(Draft& d, const Entry& e, const std::string& controller_supply) {
    auto& t = d.add(PartKind::Transformer, "control", "standby transformer",
                    {{"P1", e.high}, {"P2", "DSB"}, {"A1", "ASB"}, {"A2", e.ground}, {"S1", "SSB"}, {"S2", "0V"}});
    t.value = "1500u";
    const double per_turn = (5 + d.p().design_schottky_volts) / 6;
    t.turns = {
        {"P1-P2", std::round(d.p().design_reflected_share * e.crest / per_turn)}, {"A1-A2", std::round(15.7 / per_turn)}, {"S1-S2", 6}};
    t.winding_ohms = {{"P1-P2", 3.2}, {"A1-A2", 0.5}, {"S1-S2", 0.03}};
    if (!controller_supply.empty()) {
        t.pins.push_back({"S3", "SVC", -1});
        t.pins.push_back({"S4", "0V", -1});
        t.turns["S3-S4"] = std::round(14 / per_turn);
        t.winding_ohms["S3-S4"] = 0.4;
    }
    auto& chip = d.add(PartKind::IntegratedSwitch, "control", "standby switch", {{"D", "DSB"}, {"S", e.ground}, {"VCC", "VSB"}});
    chip.value = "12V 8V";
    chip.volts = next_rating(silicon_volts(), e.highest * (1 + d.p().design_reflected_share * d.p().design_clamp_share));
    chip.amps = 1;
    d.resistor("control", "standby start-up resistor", 470e3, 1, e.high, "VSB");
    d.capacitor(PartKind::Electrolytic, "control", "standby supply capacitor", 22e-6, 50, "VSB", e.ground);
    d.diode(PartKind::Diode, "control", "standby supply diode", 200, 1, "ASB", "VSB");
    d.diode(PartKind::Schottky, "rectify-out", "standby rectifier", 60, 3, "SSB", "+5VS");
    d.capacitor(PartKind::Electrolytic, "smooth", "standby output capacitor", 1000e-6, 10, "+5VS", "0V");
    if (!controller_supply.empty()) d.diode(PartKind::Diode, "rectify-out", "controller supply diode", 200, 1, "SVC", controller_supply);
    d.resistor("rails", "standby LED resistor", 470, 0.25, "+5VS", "LEDS");
    d.add(PartKind::Diode, "rails", "standby LED", {{"A", "LEDS"}, {"K", "0V"}}).value = "LED";
    d.board().rails.push_back({"+5VS", "0V", 5, d.p().design_rail_tolerance, 0.5, -1, -1});
    d.add(PartKind::Connector, "rails", "standby out", {{"1", "+5VS"}, {"1'", "+5VS.out"}, {"2", "0V"}, {"2'", "0V.stby"}});
    d.add(PartKind::Load, "rails", "wake-up logic", {{"1", "+5VS.out"}, {"2", "0V.stby"}}).amps = 0.2;
}

Design design_flyback(const Supply& s, const Practice& p) { return flyback(s, p, false, false, false); }
Design design_integrated_flyback(const Supply& s, const Practice& p) { return flyback(s, p, true, false, false); }
Design design_synchronous_flyback(const Supply& s, const Practice& p) { return flyback(s, p, false, true, false); }
Design design_constant_current(const Supply& s, const Practice& p) { return flyback(s, p, false, false, true); }

} // namespace ohmo
