// SPDX-License-Identifier: GPL-3.0-or-later
// Boards that another supply or a battery feeds: step-down converters, rails spread over boards, the inverter.
#include "design/blocks.h"
#include "design/families.h"

#include "base/e_series.h"
#include "board/value_reading.h"
#include "design/sums.h"

#include <algorithm>

namespace ohmo {
namespace {

// Connector, fuse and capacitors of a low-voltage input.
void add_input(Draft& d, double amps, const std::string& volts) {
    const auto& s = d.supply();
    d.add(PartKind::Connector, "mains-in", "supply connector", {{"1", volts + ".in"}, {"1'", volts + "A"}, {"2", "0V.in"}, {"2'", "0V"}});
    const double rated = next_rating(fuse_amps(), d.p().taken_fuse_share * amps);
    auto& fuse = d.add(PartKind::Fuse, "mains-in", "input fuse", {{"1", volts + "A"}, {"2", "VIN"}});
    fuse.value = fuse_text('F', rated);
    fuse.volts = 63;
    const std::string ref = fuse.ref;
    d.sum(SumKind::FuseAmps, ref, d.p().taken_fuse_share * amps, rated, {s.watts(), s.volts});
    const double highest = s.volts * d.p().design_highest_battery;
    d.add(PartKind::Zener, "filter", "input suppressor", {{"A", "0V"}, {"K", "VIN"}}).value =
        fmt::format("{:g}V 5W", preferred_at_least(highest * d.p().design_clamp_margin, 24));
    const double stands = next_rating(capacitor_volts(), highest * d.p().design_capacitor_margin);
    d.capacitor(PartKind::Electrolytic, "filter", "input capacitor", std::clamp(preferred_at_least(amps * 100e-6, 6), 47e-6, 1000e-6),
                stands, "VIN", "0V");
    d.capacitor(PartKind::Ceramic, "filter", "input bypass", 10e-6, stands, "VIN", "0V");
}

// One synchronous step-down converter. `tail` tells its nets from those of the others, `word` its parts.
void add_buck(Draft& d, int rail, const std::string& tail, const std::string& word) {
    const auto& s = d.supply();
    const auto& r = d.rail(rail);
    const double stands = next_rating(silicon_volts(), 1.6 * s.volts), amps = next_rating(switch_ratings(), 3 * r.amps);
    const std::string node = "SWN" + tail, &out = d.net(rail);
    d.add(PartKind::Mosfet, "switch", word + "upper switch", {{"D", "VIN"}, {"G", "G1" + tail}, {"S", node}}).value =
        letter_volts(stands, amps);
    d.add(PartKind::Mosfet, "switch", word + "lower switch", {{"D", node}, {"G", "G2" + tail}, {"S", "0V"}}).value =
        letter_volts(stands, amps);
    d.diode(PartKind::Schottky, "switch", word + "boost diode", 30, 1, "VDD" + tail, "BST" + tail);
    d.capacitor(PartKind::Ceramic, "switch", word + "boost capacitor", 220e-9, 25, "BST" + tail, node);
    if (s.has(Option::Damper)) {
        d.resistor("switch", word + "switch snubber resistor", 2.2, 0.25, node, "SNB" + tail);
        d.capacitor(PartKind::Ceramic, "switch", word + "switch snubber capacitor", 1e-9, 50, "SNB" + tail, "0V");
    }
    d.add(PartKind::Controller, "control", word + "controller",
          {{"VCC", "VDD" + tail},
           {"GND", "0V"},
           {"DRV", "G1" + tail},
           {"DRB", "G2" + tail},
           {"SW", node},
           {"FB", "FB" + tail},
           {"SS", "SS" + tail},
           {"BST", "BST" + tail},
           {"EN", "EN" + tail},
           {"RT", "RT" + tail}})
        .value = "4.5V 4V";
    d.resistor("control", word + "controller supply resistor", 10, 0.25, "VIN", "VDD" + tail);
    d.capacitor(PartKind::Ceramic, "control", word + "controller supply capacitor", 1e-6, 25, "VDD" + tail, "0V");
    d.capacitor(PartKind::Ceramic, "control", word + "soft-start capacitor", 6.8e-9, 25, "SS" + tail, "0V");
    d.resistor("control", word + "enable resistor", 100e3, 0.125, "VIN", "EN" + tail);
    d.resistor("control", word + "enable pull-down", 47e3, 0.125, "EN" + tail, "0V");
    d.resistor("control", word + "timing resistor", 68e3, 0.125, "RT" + tail, "0V");
    const double ripple = d.p().design_choke_ripple * r.amps,
                 henry = r.volts * (1 - r.volts / s.volts) / (ripple * d.p().design_chip_hertz);
    const double even = preferred_at_least(henry, 6);
    const auto coil = d.coil("smooth", word + "output inductor", even, two_figures(0.01 * r.volts / r.amps),
                             next_rating(rectifier_amps(), 1.5 * r.amps), node, out)
                          .ref;
    d.sum(SumKind::ChokeHenry, coil, henry, even, {r.volts, ripple});
    const double rated = next_rating(capacitor_volts(), r.volts * d.p().design_capacitor_margin);
    const double wanted = d.p().design_esr_farads * ripple / (d.p().design_ripple_share * r.volts);
    const double chosen = std::clamp(preferred_at_least(wanted, 6), 100e-6, 1000e-6);
    const auto cap = d.capacitor(PartKind::Electrolytic, "smooth", word + "output capacitor", chosen, rated, out, "0V").ref;
    d.sum(SumKind::RailFarads, cap, wanted, chosen, {d.p().design_ripple_share * r.volts, ripple});
    d.capacitor(PartKind::Ceramic, "smooth", word + "output bypass", 22e-6, rated, out, "0V");
    const double lower = 10e3, upper = lower * (r.volts / d.p().design_chip_reference - 1),
                 even_upper = nearest_preferred(std::max(upper, 10.0), 96);
    const auto ref = d.resistor("feedback", word + "divider, upper", even_upper, 0.125, out, "FB" + tail).ref;
    d.sum(SumKind::DividerOhms, ref, upper, even_upper, {r.volts, d.p().design_chip_reference});
    d.resistor("feedback", word + "divider, lower", lower, 0.125, "FB" + tail, "0V");
    d.capacitor(PartKind::Ceramic, "feedback", word + "feed-forward capacitor", 470e-12, 50, out, "FB" + tail);
}

} // namespace

Design design_buck(const Supply& supply, const Practice& practice) {
    Draft d(supply, practice);
    add_input(d, supply.watts() / practice.efficiency / supply.volts, fmt::format("{:g}V", supply.volts));
    const auto own = d.own_rails();
    for (int i : own) add_buck(d, i, own.size() == 1 ? "" : "." + d.net(i).substr(1), own.size() == 1 ? "" : d.word(i) + " ");
    add_post_regulators(d);
    add_rail_ends(d);
    return std::move(d).done();
}

// Every rail comes in through a connector; the first is filtered on each board, the others go through.
Design design_distribution(const Supply& supply, const Practice& practice) {
    Draft d(supply, practice);
    auto& inlet = d.add(PartKind::Connector, "mains-in", "supply connector", {});
    const auto own = d.own_rails();
    const auto contact = [](Part& part, const std::string& outside, const std::string& inside) {
        const std::string pin = fmt::format("{}", part.pins.size() / 2 + 1);
        part.pins.push_back({pin, outside, -1});
        part.pins.push_back({pin + "'", inside, -1});
    };
    for (int i : own) contact(inlet, d.net(i).substr(1) + ".in", d.net(i) == d.net(own.front()) ? d.net(i) + ".s" : d.net(i));
    contact(inlet, "0V.in", "0V");
    const int first = own.front();
    const double volts = d.rail(first).volts;
    const std::string word = d.word(first), start = d.net(first) + ".s";
    const double stands = next_rating(capacitor_volts(), volts * practice.design_capacitor_margin);
    d.capacitor(PartKind::Electrolytic, "mains-in", word + " entry capacitor", 470e-6, stands, start, "0V");
    const double amps = next_rating(fuse_amps(), practice.taken_fuse_share * d.rail(first).amps);
    auto& fuse = d.add(PartKind::Fuse, "mains-in", word + " entry fuse", {{"1", start}, {"2", d.net(first)}});
    fuse.value = fuse_text('T', amps);
    fuse.volts = 63;
    for (int i : own)
        if (i != first)
            d.capacitor(PartKind::Electrolytic, "mains-in", d.word(i) + " entry capacitor", 1000e-6,
                        next_rating(capacitor_volts(), d.rail(i).volts * practice.design_capacitor_margin), d.net(i), "0V");
    const int boards = supply.choice(Option::Boards) + 1;
    std::string before = d.net(first);
    for (int n = 1; n <= boards; ++n) {
        const std::string name = fmt::format("board {}", n), at = fmt::format("D{}", n), here = fmt::format("{}.b{}", d.net(first), n);
        auto& track = d.add(PartKind::Track, "smooth", fmt::format("{} track to {}", word, name), {{"1", before}, {"2", at}});
        track.ohms = 0.03;
        auto& plug = d.add(PartKind::Connector, "smooth", name + " connector", {});
        contact(plug, at, here);
        for (int i : own)
            if (i != first) contact(plug, d.net(i), fmt::format("{}.b{}", d.net(i), n));
        std::string filtered = here;
        if (supply.has(Option::PiFilter)) {
            filtered = here + "F";
            d.coil("rails", name + " inductor", 10e-6, 0.15, 1, here, filtered);
        }
        d.capacitor(PartKind::Tantalum, "rails", name + " tantalum", 10e-6, stands, filtered, "0V");
        d.capacitor(PartKind::Tantalum, "rails", name + " second tantalum", 4.7e-6, stands, filtered, "0V");
        d.capacitor(PartKind::Ceramic, "rails", name + " bypass", 100e-9, 50, filtered, "0V");
        d.add(PartKind::Load, "rails", name, {{"1", filtered}, {"2", "0V"}}).amps =
            two_figures(practice.design_load_share * d.rail(first).amps / boards);
        for (int i : own) {
            if (i == first) continue;
            const std::string net = fmt::format("{}.b{}", d.net(i), n), what = name + " " + d.word(i);
            d.capacitor(PartKind::Electrolytic, "rails", what + " capacitor", 47e-6,
                        next_rating(capacitor_volts(), d.rail(i).volts * practice.design_capacitor_margin), net, "0V");
            d.capacitor(PartKind::Ceramic, "rails", what + " bypass", 100e-9, 50, net, "0V");
            d.add(PartKind::Load, "rails", what + " load", {{"1", net}, {"2", "0V"}}).amps =
                two_figures(practice.design_load_share * d.rail(i).amps / boards);
        }
        before = at;
    }
    add_post_regulators(d);
    add_rail_guards(d);
    return std::move(d).done();
}

Design design_inverter(const Supply& supply, const Practice& practice) {
    Draft d(supply, practice);
    const auto& p = d.p();
    auto& rail = d.board().rails.front();
    rail.net = "HVDC";
    rail.ret = "HGND";
    rail.tolerance = p.design_unregulated_tolerance;
    const double watts = supply.watts() / p.design_inverter_efficiency, amps = watts / supply.volts;
    d.sum(SumKind::InputWatts, "", watts, watts, {supply.watts(), p.design_inverter_efficiency});
    auto& posts = d.add(PartKind::Connector, "mains-in", "battery posts", {{"1", "BAT.in"}, {"1'", "BATA"}, {"2", "0V.in"}, {"2'", "0V"}});
    posts.amps = next_rating(rectifier_amps(), 1.5 * amps);
    const double fuse_rated = next_rating(fuse_amps(), 1.25 * amps);
    auto& fuse =
        d.add(PartKind::Fuse, "mains-in", "battery fuse", {{"1", "BATA"}, {"2", supply.has(Option::InputSwitch) ? "BATS" : "BAT"}});
    fuse.value = fuse_text('F', fuse_rated);
    fuse.volts = supply.volts > 25 ? 80 : 32;
    const std::string fuse_ref = fuse.ref;
    d.sum(SumKind::FuseAmps, fuse_ref, 1.25 * amps, fuse_rated, {watts, supply.volts});
    if (supply.has(Option::InputSwitch))
        d.add(PartKind::Switch, "mains-in", "input switch", {{"1", "BATS"}, {"2", "BAT"}}).amps = fuse_rated;
    const double highest = supply.volts * p.design_highest_battery, stands = next_rating(capacitor_volts(), highest * 1.1);
    const int many = std::clamp(static_cast<int>(std::ceil(amps / 15)), 1, 6);
    for (int n = 0; n < many; ++n) d.capacitor(PartKind::Electrolytic, "filter", "input capacitor", 2200e-6, stands, "BAT", "0V");
    if (supply.has(Option::SurgeAbsorber))
        d.add(PartKind::Zener, "filter", "input suppressor", {{"A", "0V"}, {"K", "BAT"}}).value =
            fmt::format("{:g}V 5W", preferred_at_least(highest * p.design_clamp_margin, 24));
    const double high = d.rail(0).volts, per_turn = supply.volts * p.design_lowest_battery / 3;
    auto& t = d.add(PartKind::Transformer, "switch", "main transformer",
                    {{"P1", "DA"}, {"P2", "BAT"}, {"P3", "BAT"}, {"P4", "DB"}, {"S1", "HS1"}, {"S2", "HS2"}});
    t.value = "60u";
    t.turns = {{"P1-P2", 3}, {"P3-P4", 3}, {"S1-S2", std::round(high / per_turn)}};
    t.winding_ohms = {
        {"P1-P2", winding_ohms(d, watts, amps)}, {"P3-P4", winding_ohms(d, watts, amps)}, {"S1-S2", winding_ohms(d, watts, watts / high)}};
    const std::string transformer = t.ref;
    d.sum(SumKind::VoltsPerTurn, transformer, per_turn, per_turn, {0});
    const int pairs = std::clamp(static_cast<int>(std::ceil(p.design_switch_amps * amps / 180)), 1, 3);
    for (const char* side : {"A", "B"}) {
        const std::string s(side);
        for (int n = 0; n < pairs; ++n) {
            const double wanted = 2 * highest * p.design_rectifier_margin, volts = next_rating(silicon_volts(), wanted);
            const double each = p.design_switch_amps * amps / pairs;
            const auto ref = d.add(PartKind::Mosfet, "switch", "push-pull switch " + s, {{"D", "D" + s}, {"G", "G" + s}, {"S", "0V"}}).ref;
            d.board().parts.back().value = letter_volts(volts, next_rating(switch_ratings(), each));
            d.sum(SumKind::SwitchVolts, ref, wanted, volts, {2 * highest});
        }
        d.resistor("switch", "gate resistor " + s, 10, 0.25, "DR" + s, "G" + s);
        d.resistor("switch", "gate pull-down " + s, 10e3, 0.25, "G" + s, "0V");
        if (supply.has(Option::Damper)) {
            d.resistor("switch", "snubber resistor " + s, 10, 2, "D" + s, "SN" + s);
            d.capacitor(PartKind::Film, "switch", "snubber capacitor " + s, 10e-9, 250, "SN" + s, "0V");
        }
    }
    d.add(PartKind::Controller, "control", "push-pull controller",
          {{"VCC", "VCC"}, {"GND", "0V"}, {"DRV", "DRA"}, {"DRB", "DRB"}, {"FB", "FB"}, {"RT", "RT"}})
        .value = "9V 8V";
    d.resistor("control", "controller supply resistor", supply.volts > 16 ? 470 : 10, 0.5, "BAT", "VCC");
    if (supply.volts > 16) d.add(PartKind::Zener, "control", "controller supply clamp", {{"A", "0V"}, {"K", "VCC"}}).value = "15V 1W";
    d.capacitor(PartKind::Electrolytic, "control", "controller supply capacitor", 100e-6, 25, "VCC", "0V");
    d.capacitor(PartKind::Ceramic, "control", "controller supply bypass", 100e-9, 50, "VCC", "0V");
    d.resistor("control", "timing resistor", 10e3, 0.25, "RT", "0V");
    const double reverse = high * 1.2, diode_volts = next_rating(silicon_volts(), p.design_rectifier_margin * reverse),
                 diode_amps = next_rating(rectifier_amps(), 5 * d.rail(0).amps);
    for (const auto& [anode, cathode] : {std::pair{"HS1", "HVDC"}, {"HS2", "HVDC"}, {"HGND", "HS1"}, {"HGND", "HS2"}})
        d.diode(PartKind::Diode, "rectify-out", "high-voltage rectifier", diode_volts, diode_amps, anode, cathode);
    const double high_stands = next_rating(capacitor_volts(), high * 1.15);
    const auto store = d.capacitor(PartKind::Electrolytic, "bulk", "high-voltage capacitor",
                                   preferred_at_least(0.25e-6 * supply.watts() * (320 / high), 6), high_stands, "HVDC", "HGND")
                           .ref;
    d.sum(SumKind::RailVolts, store, high * 1.15, high_stands, {high});
    d.resistor("bulk", "high-voltage bleeder", 330e3, 1, "HVDC", "HGND");
    d.capacitor(PartKind::Film, "bulk", "high-voltage bypass", 220e-9, 630, "HVDC", "HGND");
    d.add(PartKind::Optocoupler, "barrier", "feedback optocoupler", {{"A", "HFB"}, {"K", "HGND"}, {"C", "FB"}, {"E", "0V"}});
    const double feed = nearest_preferred(high / 0.5e-3 / 2, 12);
    d.resistor("feedback", "feedback upper resistor", feed, 0.5, "HVDC", "HFU");
    d.resistor("feedback", "feedback lower resistor", feed, 0.5, "HFU", "HFB");
    d.resistor("feedback", "feedback pull-up", 4700, 0.25, "VCC", "FB");
    const double leg_volts = next_rating(silicon_volts(), p.design_rectifier_margin * high),
                 leg_amps = next_rating(switch_ratings(), 8 * d.rail(0).amps);
    for (const auto& [role, drain, gate, source] : {std::tuple{"upper A", "HVDC", "GH1", "OUTA"},
                                                    {"lower A", "OUTA", "GL1", "HGND"},
                                                    {"upper B", "HVDC", "GH2", "OUTB"},
                                                    {"lower B", "OUTB", "GL2", "HGND"}}) {
        d.add(PartKind::Mosfet, "rails", std::string("output bridge, ") + role, {{"D", drain}, {"G", gate}, {"S", source}}).value =
            letter_volts(leg_volts, leg_amps);
        d.resistor("rails", "bridge gate pull-down", 10e3, 0.25, gate, source);
    }
    d.add(PartKind::Controller, "rails", "bridge driver",
          {{"VCC", "VHD"}, {"GND", "HGND"}, {"DRV", "GL1"}, {"DRB", "GL2"}, {"HO1", "GH1"}, {"HO2", "GH2"}})
        .value = "11V 9V";
    d.resistor("rails", "bridge driver supply resistor", nearest_preferred(high / 3e-3, 12), 2, "HVDC", "VHD");
    d.add(PartKind::Zener, "rails", "bridge driver supply clamp", {{"A", "HGND"}, {"K", "VHD"}}).value = "15V 1W";
    d.capacitor(PartKind::Electrolytic, "rails", "bridge driver supply capacitor", 22e-6, 25, "VHD", "HGND");
    d.capacitor(PartKind::XCapacitor, "rails", "output capacitor", 470e-9, 275, "OUTA", "OUTB");
    d.add(PartKind::Connector, "rails", "output socket", {{"1", "OUTA"}, {"1'", "OUTA.out"}, {"2", "OUTB"}, {"2'", "OUTB.out"}});
    d.add(PartKind::Load, "rails", "what it feeds", {{"1", "OUTA.out"}, {"2", "OUTB.out"}}).amps = d.rail(0).amps;
    return std::move(d).done();
}

} // namespace ohmo
