// SPDX-License-Identifier: GPL-3.0-or-later
#include "design/blocks.h"

#include "base/e_series.h"
#include "board/value_reading.h"
#include "design/sums.h"

#include <algorithm>

namespace ohmo {
namespace {

double standard_watts(double watts) { return next_rating({0.125, 0.25, 0.5, 1, 2, 3, 5, 7, 10}, watts); }

// Ends of a capacitor or clamp on a rail: the higher one first.
std::pair<std::string, std::string> ends(const Draft& d, int rail, const std::string& net) {
    return d.rail(rail).volts < 0 ? std::pair{std::string("0V"), net} : std::pair{net, std::string("0V")};
}

double capacitor_rating(Draft& d, int rail, const std::string& ref, double volts) {
    const double wanted = std::fabs(volts) * d.p().design_capacitor_margin, rated = next_rating(capacitor_volts(), wanted);
    d.sum(SumKind::RailVolts, ref, wanted, rated, {d.rail(rail).volts});
    return rated;
}

} // namespace

std::string raw_net(const Draft& d, int rail) {
    std::string net = d.net(rail);
    if (net.ends_with('V'))
        net.back() = 'A';
    else
        net += 'A';
    return net;
}

double winding_ohms(const Draft& d, double watts, double rms_amps) {
    return two_figures(d.p().design_copper_share * watts / (rms_amps * rms_amps));
}

Part& add_rectifier(Draft& d, int rail, const std::string& role, double reverse, const std::string& from, const std::string& to) {
    const double volts = std::fabs(d.rail(rail).volts), wanted = d.p().design_rectifier_margin * reverse;
    const double amps = d.p().design_rectifier_amps * d.rail(rail).amps, rated_amps = next_rating(rectifier_amps(), amps);
    const bool schottky = volts <= d.p().design_schottky_rail && wanted <= schottky_volts().back();
    const double rated = next_rating(schottky ? schottky_volts() : silicon_volts(), std::max(wanted, schottky ? 0.0 : 200.0));
    const bool negative = d.rail(rail).volts < 0;
    auto& part = d.diode(schottky ? PartKind::Schottky : PartKind::Diode, "rectify-out", role, rated, rated_amps, negative ? to : from,
                         negative ? from : to);
    d.sum(SumKind::RectifierVolts, part.ref, wanted, rated, {reverse});
    d.sum(SumKind::RectifierAmps, part.ref, amps, rated_amps, {d.rail(rail).amps});
    return part;
}

void add_smoothing(Draft& d, int rail, const std::string& raw, const Smoothing& how) {
    const auto& r = d.rail(rail);
    const std::string word = d.word(rail), &net = d.net(rail);
    const double volts = std::fabs(r.volts), ripple = d.p().design_ripple_share * volts;
    // What an electrolytic lets through is its ESR, which goes against its farads.
    const double amps = how.choke ? d.p().design_choke_ripple * r.amps : how.peak_share * r.amps;
    const double wanted = std::max(d.p().design_esr_farads * amps / ripple, 10e-6);
    const double chosen = std::min(preferred_at_least(wanted * 0.8, 6), 3300e-6);
    const int many = std::clamp(static_cast<int>(std::ceil(wanted * 0.8 / chosen)), 1, 4);
    const auto reservoir = [&](const std::string& role, double farads, const std::string& on, bool noted) {
        const auto [plus, minus] = ends(d, rail, on);
        const auto ref = d.capacitor(PartKind::Electrolytic, "smooth", role, farads, 0, plus, minus).ref;
        if (noted) d.sum(SumKind::RailFarads, ref, wanted, farads * many, {ripple, amps});
        d.board().parts.back().volts = capacitor_rating(d, rail, ref, volts);
    };
    const double coil_amps = next_rating(rectifier_amps(), 1.5 * r.amps), coil_ohms = two_figures(0.01 * volts / std::max(r.amps, 0.1) / 2);
    if (how.choke) {
        const double ripple_amps = d.p().design_choke_ripple * r.amps;
        const double henry = volts * 0.3 / (ripple_amps * how.hertz), even = nearest_preferred(henry, 6);
        const auto ref = d.coil("smooth", word + " output choke", even, std::min(coil_ohms, 0.5), coil_amps, raw, net).ref;
        d.sum(SumKind::ChokeHenry, ref, henry, even, {volts, ripple_amps});
        for (int n = 0; n < many; ++n) reservoir(word + " output capacitor", chosen, net, n == 0);
    } else if (raw == net) {
        for (int n = 0; n < many; ++n) reservoir(word + " output capacitor", chosen, net, n == 0);
    } else {
        for (int n = 0; n < many; ++n) reservoir(word + " reservoir", chosen, raw, n == 0);
        d.coil("smooth", word + " filter inductor", r.amps > 2 ? 4.7e-6 : 10e-6, std::min(coil_ohms, 0.2), coil_amps, raw, net);
        reservoir(word + " output capacitor", nearest_preferred(chosen / 2, 6), net, false);
    }
    const auto [plus, minus] = ends(d, rail, net);
    d.capacitor(PartKind::Ceramic, "smooth", word + " bypass", 100e-9, volts > 40 ? 100 : 50, plus, minus);
}

int held_rail(const Draft& d) {
    int best = -1;
    for (int i : d.own_rails())
        if (d.rail(i).volts > 0 && (best < 0 || d.rail(i).volts < d.rail(best).volts)) best = i;
    return best;
}

void add_feedback(Draft& d, int rail, const std::string& pin, const std::string& ground) {
    const std::string& net = d.net(rail);
    const double volts = d.rail(rail).volts;
    const bool low = volts < d.p().design_reference + d.p().design_led_volts + 1;
    const double reference = low ? d.p().design_low_reference : d.p().design_reference;
    d.add(PartKind::Optocoupler, "barrier", "feedback optocoupler", {{"A", "OPA"}, {"K", "OPK"}, {"C", pin}, {"E", ground}});
    d.add(PartKind::ShuntReference, "feedback", "shunt reference", {{"A", "0V"}, {"K", "OPK"}, {"R", "REF"}}).value =
        fmt::format("{:g}V", reference);
    const double lower = reference / d.p().design_divider_amps, even_lower = nearest_preferred(lower, 24);
    const double upper = even_lower * (volts / reference - 1), even = nearest_preferred(std::max(upper, 10.0), 96);
    const auto ref =
        d.resistor("feedback", "divider, upper", even, standard_watts(2 * volts * volts / (even + even_lower)), net, "REF").ref;
    d.sum(SumKind::DividerOhms, ref, upper, even, {volts, reference});
    d.resistor("feedback", "divider, lower", even_lower, 0.25, "REF", "0V");
    const double led = std::max((volts - reference - d.p().design_led_volts) / d.p().design_led_amps, 47.0),
                 even_led = nearest_preferred(led, 12);
    d.resistor("feedback", "optocoupler LED resistor", even_led, standard_watts(2 * volts * d.p().design_led_amps), net, "OPA");
    d.resistor("feedback", "optocoupler LED bypass", 1000, 0.25, "OPA", "OPK");
    d.resistor("feedback", "loop resistor", 10e3, 0.25, "REF", "LOOP");
    d.capacitor(PartKind::Film, "feedback", "loop capacitor", 100e-9, 63, "LOOP", "OPK");
}

void add_post_regulators(Draft& d) {
    for (int i = 0; i < d.rails(); ++i) {
        const auto& r = d.rail(i);
        if (!r.from) continue;
        const std::string word = d.word(i), &net = d.net(i), &source = d.net(*r.from);
        const double in = d.rail(*r.from).volts, burnt = std::fabs(in - r.volts) * r.amps;
        const auto [in_plus, in_minus] = ends(d, *r.from, source);
        const auto [plus, minus] = ends(d, i, net);
        d.capacitor(PartKind::Ceramic, "rails", word + " regulator input bypass", 330e-9, 50, in_plus, in_minus);
        if (burnt <= d.p().design_regulator_watts || r.volts < 0) {
            auto& chip = d.add(PartKind::Regulator, "rails", word + " regulator", {{"IN", source}, {"GND", "0V"}, {"OUT", net}});
            chip.value = letter_volts(r.volts, next_rating({0.1, 0.5, 1, 1.5, 3, 5, 10}, 1.2 * r.amps));
            const std::string ref = chip.ref;
            d.sum(SumKind::RegulatorWatts, ref, burnt, burnt, {in, r.amps});
            const auto cap = d.capacitor(PartKind::Electrolytic, "rails", word + " output capacitor", 100e-6, 0, plus, minus).ref;
            d.board().parts.back().volts = capacitor_rating(d, i, cap, r.volts);
        } else {
            const std::string node = "SW" + net;
            auto& chip = d.add(PartKind::IntegratedSwitch, "rails", word + " converter chip",
                               {{"VIN", source}, {"SW", node}, {"GND", "0V"}, {"FB", net}});
            chip.volts = next_rating(capacitor_volts(), 1.5 * in);
            chip.amps = next_rating(rectifier_amps(), 1.5 * r.amps);
            const std::string ref = chip.ref;
            d.sum(SumKind::RegulatorWatts, ref, burnt, 0, {in, r.amps});
            d.diode(PartKind::Schottky, "rails", word + " catch diode", next_rating(schottky_volts(), 1.5 * in),
                    next_rating(rectifier_amps(), 1.5 * r.amps), "0V", node);
            const double ripple = d.p().design_choke_ripple * r.amps,
                         henry = r.volts * (1 - r.volts / in) / (ripple * d.p().design_chip_hertz);
            const double even = preferred_at_least(henry, 6);
            const auto coil =
                d.coil("rails", word + " converter inductor", even, two_figures(0.02 * r.volts / r.amps), chip.amps.value_or(3), node, net)
                    .ref;
            d.sum(SumKind::ChokeHenry, coil, henry, even, {r.volts, ripple});
            const auto cap = d.capacitor(PartKind::Electrolytic, "rails", word + " output capacitor", 330e-6, 0, plus, minus).ref;
            d.board().parts.back().volts = capacitor_rating(d, i, cap, r.volts);
        }
        d.capacitor(PartKind::Ceramic, "rails", word + " bypass", 100e-9, 50, plus, minus);
    }
}

// Past the Zener's volts the gate is fed, and the thyristor shorts the rail until the supply gives up.
void add_crowbar(Draft& d, int rail, const std::string& plus, const std::string& minus, const std::string& gate) {
    const double volts = std::fabs(d.rail(rail).volts), ohms = d.p().design_crowbar_ohms;
    d.resistor("rails", d.word(rail) + " crowbar gate resistor", ohms / 10, 0.25, gate + ".z", gate);
    d.resistor("rails", d.word(rail) + " crowbar gate pull-down", ohms, 0.25, gate, minus);
    d.capacitor(PartKind::Ceramic, "rails", d.word(rail) + " crowbar gate capacitor", 100e-9, 50, gate, minus);
    auto& thyristor = d.add(PartKind::Thyristor, "rails", d.word(rail) + " crowbar thyristor", {{"A", plus}, {"K", minus}, {"G", gate}});
    thyristor.volts = next_rating(silicon_volts(), 2 * volts);
    thyristor.amps = next_rating(rectifier_amps(), 2 * d.rail(rail).amps);
}

void add_rail_guards(Draft& d) {
    const auto& s = d.supply();
    for (int i = 0; i < d.rails(); ++i) {
        const auto& r = d.rail(i);
        const double volts = std::fabs(r.volts);
        const auto [plus, minus] = ends(d, i, d.net(i));
        if (s.has(Option::OverVoltage)) {
            const bool crowbar = s.choice(Option::OverVoltage) > 1;
            const double limit = preferred_at_least(volts * d.p().design_clamp_margin, 24);
            const std::string gate = d.net(i) + ".gate";
            auto& zener = d.add(PartKind::Zener, "rails", d.word(i) + (crowbar ? " crowbar Zener" : " over-voltage clamp"),
                                {{"A", crowbar ? gate + ".z" : minus}, {"K", plus}});
            zener.value = fmt::format("{:g}V {}", limit, crowbar ? "0.5W" : "5W");
            if (crowbar) add_crowbar(d, i, plus, minus, gate);
        }
        if (s.has(Option::MinimumLoad)) {
            const double ohms = nearest_preferred(volts / (d.p().design_minimum_share * r.amps), 12);
            d.resistor("rails", d.word(i) + " minimum load", std::clamp(ohms, 10.0, 47e3), standard_watts(2 * volts * volts / ohms), plus,
                       minus);
        }
    }
    const int lamp = held_rail(d) >= 0 ? held_rail(d) : 0;
    if (s.has(Option::PowerLed)) {
        const double ohms = nearest_preferred(std::max(d.rail(lamp).volts - 2, 1.0) / d.p().design_led_amps, 12);
        d.resistor("rails", "power LED resistor", ohms, standard_watts(2 * d.rail(lamp).volts * d.p().design_led_amps), d.net(lamp),
                   "LEDA");
        d.add(PartKind::Diode, "rails", "power LED", {{"A", "LEDA"}, {"K", "0V"}}).value = "LED";
    }
}

void add_rail_ends(Draft& d) {
    add_rail_guards(d);
    const int boards = d.supply().choice(Option::Boards) + 1;
    for (int n = 0; n < boards; ++n) {
        const std::string end = boards == 1 ? ".out" : fmt::format(".out{}", n + 1);
        auto& plug = d.add(PartKind::Connector, "rails", boards == 1 ? "rails out" : fmt::format("connector of board {}", n + 1), {});
        const auto contact = [&](const std::string& net) {
            const std::string pin = fmt::format("{}", plug.pins.size() / 2 + 1);
            plug.pins.push_back({pin, net, -1});
            plug.pins.push_back({pin + "'", net + end, -1});
        };
        for (int i = 0; i < d.rails(); ++i) contact(d.net(i));
        contact("0V");
        for (int i = 0; i < d.rails(); ++i) {
            const auto [plus, minus] = ends(d, i, d.net(i));
            const std::string role = boards == 1 ? "load on " + d.word(i) : fmt::format("board {} on {}", n + 1, d.word(i));
            d.add(PartKind::Load, "rails", role, {{"1", plus + end}, {"2", minus + end}}).amps =
                two_figures(d.p().design_load_share * d.rail(i).amps / boards);
        }
    }
}

} // namespace ohmo
