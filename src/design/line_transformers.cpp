// SPDX-License-Identifier: GPL-3.0-or-later
// Supplies behind iron at the frequency of the mains: a series regulator of parts or of chips, the plug-top block, the split rail from an
// adapter with alternating volts.
#include "design/blocks.h"
#include "design/families.h"

#include "base/e_series.h"
#include "base/text.h"
#include "board/value_reading.h"
#include "design/sums.h"

#include <algorithm>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kPrimaryTurns = 1000; // ratios alone matter

// What a winding must give for a rail, and what stands on its reservoir then.
struct Reservoir {
    double rms = 0, volts = 0, farads = 0;
};

Reservoir reservoir_for(Draft& d, int rail, double diodes, const std::string& transformer) {
    const auto& p = d.p();
    const double volts = std::fabs(d.rail(rail).volts);
    const double crest = (volts + p.design_dropout_volts) / (1 - p.design_reservoir_ripple) + diodes * p.design_line_diode_volts;
    Reservoir r;
    const double rms = crest / p.design_lowest_line / std::numbers::sqrt2;
    r.rms = d.sum(SumKind::SecondaryVolts, transformer, rms, std::ceil(2 * rms) / 2,
                  {d.rail(rail).volts, p.design_dropout_volts + diodes * p.design_line_diode_volts});
    r.volts = crest_volts(r.rms) * p.design_idle_transformer - diodes * p.design_line_diode_volts;
    return r;
}

// Reservoir with its bypass; `ripple_hertz` twice the line behind a bridge.
void add_reservoir(Draft& d, int rail, const Reservoir& r, double ripple_hertz, const std::string& role, const std::string& plus,
                   const std::string& minus) {
    const double ripple = d.p().design_reservoir_ripple * r.volts, amps = d.rail(rail).amps;
    const double wanted = reservoir_farads(amps, ripple_hertz, ripple);
    const double chosen = std::clamp(preferred_at_least(wanted, 6), 47e-6, 22000e-6);
    const double rated = next_rating(capacitor_volts(), r.volts * d.p().design_highest_line);
    auto& part = d.capacitor(PartKind::Electrolytic, "smooth", role, chosen, rated, plus, minus);
    part.celsius = 85;
    const std::string ref = part.ref;
    d.sum(SumKind::RailFarads, ref, wanted, chosen, {ripple, amps});
    d.sum(SumKind::RailVolts, ref, r.volts * d.p().design_highest_line, rated, {r.volts});
    d.capacitor(PartKind::Ceramic, "smooth", role + " bypass", 100e-9, 50, plus, minus);
}

void add_output_capacitor(Draft& d, int rail, const std::string& role, double farads) {
    const bool negative = d.rail(rail).volts < 0;
    const std::string plus = negative ? "0V" : d.net(rail), minus = negative ? d.net(rail) : "0V";
    d.capacitor(PartKind::Electrolytic, "rails", trimmed(role + " output capacitor"), farads,
                next_rating(capacitor_volts(), std::fabs(d.rail(rail).volts) * d.p().design_capacitor_margin), plus, minus)
        .celsius = 85;
    d.capacitor(PartKind::Ceramic, "rails", trimmed(role + " output bypass"), 100e-9, 50, plus, minus);
}

void add_chip(Draft& d, int rail, const std::string& role, const std::string& in) {
    d.add(PartKind::Regulator, "control", role, {{"IN", in}, {"GND", "0V"}, {"OUT", d.net(rail)}}).value =
        letter_volts(d.rail(rail).volts, next_rating({0.1, 0.5, 1, 1.5, 3, 5, 10}, 1.2 * d.rail(rail).amps));
}

// Pass transistor, driver, error amplifier against a Zener.
void add_series_regulator(Draft& d, int rail, const Reservoir& r, const std::string& in) {
    const auto& p = d.p();
    const std::string& out = d.net(rail);
    const double volts = d.rail(rail).volts, amps = d.rail(rail).amps;
    const double stands = next_rating({45, 60, 80, 100, 140, 200}, 1.6 * r.volts), pass = next_rating(switch_ratings(), 3 * amps);
    d.add(PartKind::BjtNpn, "switch", "pass transistor", {{"C", in}, {"B", "PB"}, {"E", "EMI"}}).value = letter_volts(stands, pass);
    const double wanted = p.design_limit_volts / (p.design_limit_share * amps), ohms = nearest_preferred(wanted, 12);
    const auto ref =
        d.resistor("switch", "emitter resistor", ohms, next_rating({0.5, 1, 2, 3, 5, 10}, 2 * amps * amps * ohms), "EMI", out).ref;
    d.sum(SumKind::LimitOhms, ref, wanted, ohms, {amps});
    d.resistor("switch", "pass base bleeder", 100, 0.5, "PB", out);
    d.add(PartKind::BjtNpn, "control", "driver transistor", {{"C", in}, {"B", "DB"}, {"E", "PB"}}).value =
        letter_volts(next_rating({45, 60, 80, 100, 140, 200}, 1.6 * r.volts), 3);
    const double drive = nearest_preferred((r.volts - volts) / 3e-3, 12);
    d.resistor("control", "driver base resistor", drive, 0.5, in, "DB");
    d.add(PartKind::BjtNpn, "control", "error amplifier", {{"C", "DB"}, {"B", "TAP"}, {"E", "ZK"}}).value = "45V 0.2A";
    if (d.supply().has(Option::CurrentLimit))
        d.add(PartKind::BjtNpn, "control", "current limit transistor", {{"C", "DB"}, {"B", "EMI"}, {"E", out}}).value = "45V 0.2A";
    d.capacitor(PartKind::Ceramic, "control", "driver bypass", 10e-9, 50, "DB", "0V");
    const double zener = nearest_preferred(std::clamp(0.45 * volts, 2.7, 6.2), 24);
    d.add(PartKind::Zener, "feedback", "reference Zener", {{"A", "0V"}, {"K", "ZK"}}).value = fmt::format("{:g}V 0.5W", zener);
    d.resistor("feedback", "reference feed resistor", nearest_preferred((volts - zener) / 7e-3, 12), 0.5, out, "ZK");
    const double lower = 1000, upper = lower * (volts / (zener + 0.65) - 1), even = nearest_preferred(std::max(upper, 10.0), 96);
    const auto divider = d.resistor("feedback", "divider, upper", even, 0.25, out, "TAP").ref;
    d.sum(SumKind::DividerOhms, divider, upper, even, {volts, zener + 0.65});
    d.resistor("feedback", "divider, lower", lower, 0.25, "TAP", "0V");
}

// A transformer for these rails; its windings are filled in by what hangs on them.
Part& add_line_transformer(Draft& d, const std::string& line, const std::string& neutral, double watts) {
    auto& t = d.add(PartKind::Transformer, "switch", "mains transformer", {{"P1", line}, {"P2", neutral}});
    t.value = letter_code(
        two_figures(d.supply().volts * d.supply().volts / (2 * std::numbers::pi * d.supply().hertz * 0.1 * std::max(watts, 2.0))), 'H');
    t.turns["P1-P2"] = kPrimaryTurns;
    const double amps = watts / d.supply().volts;
    t.winding_ohms["P1-P2"] = two_figures(d.p().winding_share * d.supply().volts / amps);
    return t;
}

void set_winding(Draft& d, const std::string& transformer, int number, double rms, double amps, const std::string& a,
                 const std::string& b) {
    for (auto& t : d.board().parts) {
        if (t.ref != transformer) continue;
        const std::string one = fmt::format("S{}", 2 * number - 1), two = fmt::format("S{}", 2 * number), winding = one + "-" + two;
        t.pins.push_back({one, a, -1});
        t.pins.push_back({two, b, -1});
        t.turns[winding] = std::round(kPrimaryTurns * rms / d.supply().volts);
        t.winding_ohms[winding] = two_figures(d.p().winding_share * rms / std::max(amps, 0.02));
    }
}

} // namespace

Design design_linear(const Supply& supply, const Practice& practice) {
    Draft d(supply, practice);
    const double watts = supply.watts() / practice.design_linear_efficiency;
    d.sum(SumKind::InputWatts, "", watts, watts, {supply.watts(), practice.design_linear_efficiency});
    const auto [line, neutral] = add_line_filters(d, add_line_entry(d, "mains inlet", watts), watts);
    const std::string transformer = add_line_transformer(d, line, neutral, watts).ref;
    int number = 0;
    for (int i : d.own_rails()) {
        const auto& r = d.rail(i);
        const bool first = number++ == 0, negative = r.volts < 0;
        const std::string tail = first ? "" : d.net(i).substr(1), word = first ? "" : d.word(i) + " ";
        const std::string a = "SA" + tail, b = "SB" + tail, store = negative ? "-RES" + tail : "RES" + tail;
        const auto need = reservoir_for(d, i, 2, transformer);
        set_winding(d, transformer, number, need.rms, practice.winding_rms_share * r.amps, a, b);
        auto& bridge = d.add(PartKind::Bridge, "rectify-out", word + "rectifier bridge",
                             {{"~1", a}, {"~2", b}, {"+", negative ? "0V" : store}, {"-", negative ? store : "0V"}});
        bridge.value = letter_volts(next_rating(bridge_volts(), std::max(200.0, 2 * need.volts)),
                                    next_rating(rectifier_amps(), practice.design_rectifier_amps * r.amps));
        add_reservoir(d, i, need, 2 * supply.hertz, word + "reservoir", negative ? "0V" : store, negative ? store : "0V");
        const bool chip = negative || r.amps <= practice.design_chip_amps;
        if (!chip) {
            d.resistor("smooth", word + "reservoir bleeder", nearest_preferred(need.volts / 10e-3, 12), 1, store, "0V");
            const double amps = next_rating(fuse_amps(), 1.5 * r.amps);
            auto& fuse = d.add(PartKind::Fuse, "smooth", word + "secondary fuse", {{"1", store}, {"2", store + "F"}});
            fuse.value = fuse_text('F', amps);
            fuse.volts = 250;
        }
        // One regulator is built of parts; the others are chips.
        if (chip || !first)
            add_chip(d, i, word + "regulator", chip ? store : store + "F");
        else
            add_series_regulator(d, i, need, store + "F");
        add_output_capacitor(d, i, first ? "" : d.word(i), first ? 470e-6 : 100e-6);
    }
    add_post_regulators(d);
    add_rail_ends(d);
    return std::move(d).done();
}

Design design_adapter(const Supply& supply, const Practice& practice) {
    Draft d(supply, practice);
    const double watts = supply.watts() / practice.design_linear_efficiency;
    const std::string line = add_line_entry(d, "mains pins", watts);
    const std::string transformer = add_line_transformer(d, line, "N", watts).ref;
    const auto need = reservoir_for(d, 0, 2, transformer);
    set_winding(d, transformer, 1, need.rms, practice.winding_rms_share * d.rail(0).amps, "SA", "SB");
    for (const auto& [anode, cathode] : {std::pair{"SA", "RES"}, {"SB", "RES"}, {"0V", "SA"}, {"0V", "SB"}})
        d.diode(PartKind::Diode, "rectify-out", "rectifier diode", 200, next_rating(rectifier_amps(), d.rail(0).amps), anode, cathode);
    add_reservoir(d, 0, need, 2 * supply.hertz, "reservoir", "RES", "0V");
    add_chip(d, 0, "regulator", "RES");
    add_output_capacitor(d, 0, "", 220e-6);
    add_rail_ends(d);
    return std::move(d).done();
}

Design design_split(const Supply& supply, const Practice& practice) {
    Draft d(supply, practice);
    d.add(PartKind::Connector, "mains-in", "adapter socket", {{"1", "AC.in"}, {"1'", "ACA"}, {"2", "0V.in"}, {"2'", "0V"}});
    std::string line = "ACA";
    if (supply.has(Option::InputSwitch)) {
        d.add(PartKind::Switch, "mains-in", "input switch", {{"1", line}, {"2", "ACS"}}).amps = 2;
        line = "ACS";
    }
    const double amps =
        next_rating(fuse_amps(), practice.taken_fuse_share * supply.watts() / practice.design_linear_efficiency / supply.volts);
    auto& fuse = d.add(PartKind::Fuse, "mains-in", "input fuse", {{"1", line}, {"2", "AC"}});
    fuse.value = fuse_text('T', amps);
    fuse.volts = 63;
    d.capacitor(PartKind::Ceramic, "filter", "input bypass", 100e-9, 100, "AC", "0V");
    if (supply.has(Option::SurgeAbsorber))
        d.add(PartKind::Varistor, "filter", "input surge absorber", {{"1", "AC"}, {"2", "0V"}}).value =
            fmt::format("{:g}V", next_rating(surge_absorber_volts(), 1.4 * supply.volts));
    // One half wave each: the reservoir carries the load for a whole cycle.
    Reservoir r;
    r.rms = supply.volts;
    r.volts = crest_volts(supply.volts) * practice.design_idle_transformer - practice.design_line_diode_volts;
    for (const bool negative : {false, true}) {
        std::vector<int> fed;
        for (int i : d.own_rails())
            if ((d.rail(i).volts < 0) == negative) fed.push_back(i);
        if (fed.empty()) continue;
        const std::string which = negative ? "negative" : "positive", store = negative ? "-RES" : "+RES";
        d.diode(PartKind::Diode, "rectify-out", which + " rectifier", 200, 1, negative ? store : "AC", negative ? "AC" : store);
        add_reservoir(d, fed.front(), r, supply.hertz, which + " reservoir", negative ? "0V" : store, negative ? store : "0V");
        for (int i : fed) {
            const std::string role = fed.size() == 1 ? which : d.word(i);
            add_chip(d, i, role + " regulator", store);
            add_output_capacitor(d, i, role, 100e-6);
            d.diode(PartKind::Diode, "rails", role + " rail diode", 200, 1, negative ? d.net(i) : "0V", negative ? "0V" : d.net(i));
        }
    }
    add_post_regulators(d);
    add_rail_ends(d);
    return std::move(d).done();
}

} // namespace ohmo
