// SPDX-License-Identifier: GPL-3.0-or-later
#include "design/blocks.h"

#include "base/e_series.h"
#include "board/value_reading.h"
#include "design/sums.h"

#include <algorithm>

namespace ohmo {
namespace {

double line_amps(const Draft& d, double watts) { return watts / (d.supply().volts * d.p().power_factor); }

void add_fuse(Draft& d, const std::string& role, double amps, double volts, char kind, double watts, const std::string& a,
              const std::string& b) {
    const double rated = next_rating(fuse_amps(), amps);
    auto& fuse = d.add(PartKind::Fuse, "mains-in", role, {{"1", a}, {"2", b}});
    fuse.value = fuse_text(kind, rated);
    fuse.volts = volts;
    d.sum(SumKind::FuseAmps, fuse.ref, amps, rated, {watts, d.supply().volts});
}

void add_absorber(Draft& d, const std::string& line, const std::string& neutral) {
    if (!d.supply().has(Option::SurgeAbsorber)) return;
    const double wanted = d.supply().volts * d.p().design_absorber_margin, rated = next_rating(surge_absorber_volts(), wanted);
    auto& part = d.add(PartKind::Varistor, "mains-in", "surge absorber", {{"1", line}, {"2", neutral}});
    part.value = fmt::format("{:g}V", rated);
    d.sum(SumKind::SurgeVolts, part.ref, wanted, rated, {d.supply().volts});
}

double line_capacitor_farads(const Practice& p, double watts) {
    return watts < p.design_small_watts ? 100e-9 : watts < p.design_large_watts ? 220e-9 : 470e-9;
}

void add_line_capacitor(Draft& d, const std::string& role, double farads, const std::string& a, const std::string& b) {
    d.capacitor(PartKind::XCapacitor, "filter", role, farads, 275, a, b);
}

// What limits the current at switch-on. Gives the net behind it.
std::string add_inrush(Draft& d, const std::string& line, double crest, double watts) {
    const int kind = d.supply().choice(Option::Inrush);
    if (kind == 0) return line;
    const double wanted = crest / d.p().design_inrush_amps;
    if (kind == 1) {
        const double ohms = next_rating({2.5, 5, 8, 10, 16, 22}, wanted / 2);
        auto& part = d.add(PartKind::Thermistor, "rectify", "inrush limiter", {{"1", line}, {"2", "AC1"}});
        part.value = letter_code(ohms, 'R');
        part.amps = next_rating(rectifier_amps(), 2 * line_amps(d, watts));
        d.sum(SumKind::InrushOhms, part.ref, wanted / 2, ohms, {crest, 2 * d.p().design_inrush_amps});
    } else {
        const double ohms = preferred_at_least(wanted / 2, 6), amps = line_amps(d, watts);
        auto& part = d.add(PartKind::FusibleResistor, "rectify", "inrush resistor", {{"1", line}, {"2", "AC1"}});
        part.value = letter_code(ohms, 'R');
        part.watts = next_rating({1, 2, 3, 5, 7, 10}, 2 * amps * amps * ohms);
        d.sum(SumKind::InrushOhms, part.ref, wanted / 2, ohms, {crest, 2 * d.p().design_inrush_amps});
    }
    return "AC1";
}

void add_bleeder(Draft& d, double farads, double volts, const std::string& plus, const std::string& minus, const std::string& which) {
    const double seconds = d.p().design_bleed_seconds, to = d.p().design_bleed_volts;
    const double wanted = bleeder_ohms(farads, volts, to, seconds), half = nearest_preferred(wanted / 2, 12);
    const bool split = volts > 250; // no small resistor stands more
    const double each = split ? half : nearest_preferred(wanted, 12);
    const double watts = next_rating({0.25, 0.5, 1, 2, 3, 5}, 2 * volts * volts / (each * (split ? 4 : 1)));
    if (split) {
        d.resistor("bulk", "upper " + which, each, watts, plus, "BLD");
        const auto& lower = d.resistor("bulk", "lower " + which, each, watts, "BLD", minus);
        d.sum(SumKind::BleederOhms, lower.ref, wanted, 2 * each, {volts, to, seconds});
    } else {
        const auto& only = d.resistor("bulk", which, each, watts, plus, minus);
        d.sum(SumKind::BleederOhms, only.ref, wanted, each, {volts, to, seconds});
    }
}

void add_bulk(Draft& d, Entry& e, bool stacked, bool doubled, const std::string& link) {
    const auto& s = d.supply();
    const double each_crest = doubled ? e.crest / 2 : e.crest;
    const double period = (doubled ? 1.0 : 0.5) / s.hertz;
    double farads = bulk_farads_for(doubled ? e.watts / 2 : e.watts, each_crest, d.p().design_valley_share * each_crest, s.hertz, period);
    if (stacked && !doubled) farads *= 2; // in series
    // Values of large cans go on in finer steps than E6 and end somewhere.
    const double chosen = std::min(preferred_at_least(std::max(farads, 4.7e-6), 6), 2200e-6);
    const double across = stacked ? e.highest / 2 : e.highest, rated = next_rating(capacitor_volts(), across);
    const auto one = [&](const std::string& role, const std::string& plus, const std::string& minus) {
        const auto ref = d.capacitor(PartKind::Electrolytic, "bulk", role, chosen, rated, plus, minus).ref;
        d.sum(SumKind::BulkFarads, ref, farads, chosen, {e.watts, each_crest, d.p().design_valley_share * each_crest});
        d.sum(SumKind::BulkVolts, ref, across, rated, {across});
    };
    if (!stacked) {
        one("main (bulk) capacitor", e.high, e.ground);
        if (e.watts > d.p().design_small_watts) d.capacitor(PartKind::Film, "bulk", "bulk bypass", 100e-9, 630, e.high, e.ground);
        add_bleeder(d, chosen, e.crest, e.high, e.ground, "bleeder");
        return;
    }
    e.middle = "BM";
    if (!link.empty()) {
        auto& part = d.add(PartKind::Switch, "rectify", "mains voltage link", {{"1", link}, {"2", e.middle}});
        part.value = doubled ? "closed" : "open";
        part.amps = 10;
    }
    one("upper bulk capacitor", e.high, e.middle);
    one("lower bulk capacitor", e.middle, e.ground);
    add_bleeder(d, chosen, e.crest / 2, e.high, e.middle, "upper bleeder");
    add_bleeder(d, chosen, e.crest / 2, e.middle, e.ground, "lower bleeder");
}

Entry direct_entry(Draft& d) {
    const auto& s = d.supply();
    Entry e;
    e.high = "VIN";
    e.ground = "PGND";
    e.crest = s.volts;
    e.highest = s.volts * d.p().design_highest_battery;
    e.valley = s.volts * d.p().design_lowest_battery;
    e.watts = d.sum(SumKind::InputWatts, "", s.watts() / d.p().efficiency, s.watts() / d.p().efficiency, {s.watts(), d.p().efficiency});
    auto& inlet =
        d.add(PartKind::Connector, "mains-in", "supply connector", {{"1", "IN.in"}, {"1'", "INA"}, {"2", "0V.in"}, {"2'", "PGND"}});
    inlet.amps = next_rating(rectifier_amps(), 2 * e.watts / e.valley);
    std::string line = "INA";
    if (s.has(Option::InputSwitch)) {
        d.add(PartKind::Switch, "mains-in", "input switch", {{"1", line}, {"2", "INS"}}).amps =
            next_rating(rectifier_amps(), 2 * e.watts / e.valley);
        line = "INS";
    }
    add_fuse(d, "input fuse", d.p().taken_fuse_share * e.watts / e.valley, 63, 'T', e.watts, line, "VIN");
    if (s.has(Option::SurgeAbsorber)) {
        auto& clamp = d.add(PartKind::Zener, "filter", "input suppressor", {{"A", "PGND"}, {"K", "VIN"}});
        clamp.value = fmt::format("{:g}V 5W", preferred_at_least(e.highest * d.p().design_clamp_margin, 24));
    }
    const double wanted = d.p().design_input_farads * e.watts / e.valley,
                 chosen = std::clamp(preferred_at_least(wanted, 6), 47e-6, 4700e-6);
    const double rated = next_rating(capacitor_volts(), e.highest * d.p().design_capacitor_margin);
    const auto ref = d.capacitor(PartKind::Electrolytic, "filter", "input capacitor", chosen, rated, "VIN", "PGND").ref;
    d.sum(SumKind::BulkVolts, ref, e.highest, rated, {e.highest});
    d.capacitor(PartKind::Ceramic, "filter", "input bypass", 100e-9, 100, "VIN", "PGND");
    return e;
}

} // namespace

double two_figures(double value) {
    if (!(value > 0)) return 0;
    const double step = std::pow(10, std::floor(std::log10(value)) - 1);
    return std::round(value / step) * step;
}

std::string add_line_entry(Draft& d, const std::string& inlet_role, double watts, bool earth) {
    auto& inlet = d.add(PartKind::Connector, "mains-in", inlet_role, {{"1", "L.in"}, {"1'", "L"}, {"2", "N.in"}, {"2'", "N"}});
    if (earth)
        for (const auto& [pin, net] : {std::pair{"3", "PE.in"}, std::pair{"3'", "PE"}}) inlet.pins.push_back({pin, net, -1});
    std::string line = "L";
    if (d.supply().has(Option::InputSwitch)) {
        d.add(PartKind::Switch, "mains-in", "mains switch", {{"1", line}, {"2", "LS"}}).amps =
            next_rating(rectifier_amps(), std::max(d.p().design_mains_switch_amps, 2 * line_amps(d, watts)));
        line = "LS";
    }
    const bool sealed = inlet_role == "mains pins"; // a plug-top block has its fuse wound into the transformer
    add_fuse(d, sealed ? "thermal fuse" : "mains fuse", d.p().taken_fuse_share * line_amps(d, watts), 250, 'T', watts, line, "L1");
    add_absorber(d, "L1", "N");
    return "L1";
}

std::pair<std::string, std::string> add_line_filters(Draft& d, const std::string& from, double watts) {
    std::string line = from, neutral = "N";
    const int stages = d.supply().choice(Option::LineFilters);
    if (stages == 0) return {line, neutral};
    const double farads = line_capacitor_farads(d.p(), watts), amps = line_amps(d, watts);
    const double ohms = preferred_at_least(d.p().design_line_discharge / (farads * stages), 12);
    add_line_capacitor(d, "line capacitor", farads, line, neutral);
    auto& bleeder = d.resistor("filter", "line capacitor bleeder", std::min(ohms, 1e6), 0.5, line, neutral);
    bleeder.value = letter_code(std::min(ohms, 1e6), 'R');
    for (int n = 1; n <= stages; ++n) {
        const std::string next = fmt::format("L{}", n + 1), other = fmt::format("N{}", n + 1);
        auto& choke = d.add(PartKind::Choke, "filter", n == 1 ? "common-mode choke" : "second common-mode choke",
                            {{"1", line}, {"2", next}, {"3", neutral}, {"4", other}});
        choke.value = letter_code(nearest_preferred(std::clamp(0.02 / std::max(amps, 0.5), 1e-3, 30e-3), 6), 'H');
        choke.ohms = two_figures(0.3 / std::max(amps, 0.3));
        choke.amps = next_rating(rectifier_amps(), 2 * amps);
        line = next;
        neutral = other;
        if (n < stages || stages == 1)
            add_line_capacitor(d, n == 1 ? "second line capacitor" : "third line capacitor", nearest_preferred(farads / 2, 6), line,
                               neutral);
    }
    if (d.supply().has(Option::EarthCapacitors)) {
        d.capacitor(PartKind::YCapacitor, "filter", "line to earth capacitor", 2.2e-9, 250, line, "PE");
        d.capacitor(PartKind::YCapacitor, "filter", "neutral to earth capacitor", 2.2e-9, 250, neutral, "PE");
    }
    return {line, neutral};
}

Entry add_entry(Draft& d, bool stacked) {
    const auto& s = d.supply();
    if (s.feed == Feed::DirectVolts) return direct_entry(d);
    Entry e;
    stacked = stacked || s.has(Option::VoltageLink);
    const double factor = s.doubled() ? 2 : 1;
    e.crest = d.sum(SumKind::Crest, "", factor * crest_volts(s.volts), factor * crest_volts(s.volts), {s.volts, factor});
    e.highest = e.crest * d.p().design_highest_line;
    e.valley = e.crest * d.p().design_valley_share;
    e.watts = d.sum(SumKind::InputWatts, "", s.watts() / d.p().efficiency, s.watts() / d.p().efficiency, {s.watts(), d.p().efficiency});
    add_line_entry(d, "mains inlet", e.watts, s.has(Option::EarthCapacitors) && s.has(Option::LineFilters));
    const auto [filtered, neutral] = add_line_filters(d, "L1", e.watts);
    const std::string behind = add_inrush(d, filtered, e.crest / factor, e.watts);
    auto& bridge = d.add(PartKind::Bridge, "rectify", "mains bridge", {{"~1", behind}, {"~2", neutral}, {"+", e.high}, {"-", e.ground}});
    const double amps = d.p().design_rectifier_amps * line_amps(d, e.watts), rated_amps = next_rating(rectifier_amps(), amps);
    const double blocks = d.p().design_rectifier_margin * e.highest, rated_volts = next_rating(bridge_volts(), blocks);
    bridge.value = letter_volts(rated_volts, rated_amps);
    const std::string ref = bridge.ref;
    d.sum(SumKind::RectifierVolts, ref, blocks, rated_volts, {e.highest});
    d.sum(SumKind::RectifierAmps, ref, amps, rated_amps, {line_amps(d, e.watts)});
    add_bulk(d, e, stacked, s.doubled(), s.has(Option::VoltageLink) ? neutral : "");
    return e;
}

void add_controller_feed(Draft& d, const Entry& e, const std::string& aux) {
    const double left =
        std::max(e.valley - d.p().design_supply_volts, d.p().design_least_start * e.valley); // a low feed supplies the chip itself
    const double ohms = left / d.p().design_start_amps;
    const bool split = e.crest > 250;
    const double each = nearest_preferred(split ? ohms / 2 : ohms, 12);
    const double watts = next_rating({0.25, 0.5, 1, 2}, 2 * e.highest * e.highest / (each * (split ? 4 : 1)));
    if (split) {
        d.resistor("control", "start-up resistor", each, watts, e.high, "STA");
        const auto& second = d.resistor("control", "start-up resistor", each, watts, "STA", "VCC");
        d.sum(SumKind::StartOhms, second.ref, ohms, 2 * each, {d.p().design_start_amps});
    } else {
        const auto& only = d.resistor("control", "start-up resistor", each, watts, e.high, "VCC");
        d.sum(SumKind::StartOhms, only.ref, ohms, each, {d.p().design_start_amps});
    }
    d.capacitor(PartKind::Electrolytic, "control", "controller supply capacitor", e.watts > d.p().design_small_watts ? 47e-6 : 22e-6, 35,
                "VCC", e.ground);
    d.capacitor(PartKind::Ceramic, "control", "controller supply bypass", 100e-9, 50, "VCC", e.ground);
    d.diode(PartKind::Diode, "control", "controller supply diode", 200, 1, aux, "AUXR");
    d.resistor("control", "controller supply resistor", 10, 0.5, "AUXR", "VCC").kind = PartKind::FusibleResistor;
}

} // namespace ohmo
