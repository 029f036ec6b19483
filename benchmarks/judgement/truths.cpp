// SPDX-License-Identifier: GPL-3.0-or-later
// Odds and chains are common practice, no source.
#include "truths.h"

#include <algorithm>

namespace ohmo::judgement {
namespace {

bool role_has(const Part& p, const char* word) { return p.role.find(word) != std::string::npos; }
bool is_power_switch(const Part& p) { return p.stage == "switch" && (is_switch_device(p.kind) || p.kind == PartKind::IntegratedSwitch); }
bool is_rectifier(const Part& p) { return p.stage == "rectify-out" && (p.kind == PartKind::Diode || p.kind == PartKind::Schottky); }
bool is_smoothing(const Part& p) { return p.kind == PartKind::Electrolytic && (p.stage == "smooth" || p.stage == "rails"); }
bool is_sense(const Part& p) { return role_has(p, "sense resistor"); }

// Nearest the mains first: what stops the unit earlier is what the customer sees.
const std::vector<std::string>& order() {
    static const std::vector<std::string> words = {"bang",        "smoke",      "fuse-blows",      "dead", "no-start",       "ticking",
                                                   "high-output", "low-output", "unstable-output", "hum",  "weak-under-load"};
    return words;
}

} // namespace

Truth Generator::draw() {
    Truth t;
    root(t);
    t.roots.insert(t.faults.front().part);
    t.outside = chance(0.12) || m_two_roots;
    if (t.outside) {
        const auto first = t.symptoms;
        const auto until = t.faults.size();
        root(t);
        if (t.faults.size() > until) t.roots.insert(t.faults[until].part);
        const auto rank = [](const std::string& word) { return std::find(order().begin(), order().end(), word) - order().begin(); };
        if (rank(first.front()) < rank(t.symptoms.front())) t.symptoms = first;
        const auto rectifiers = all(is_rectifier);
        const bool no_output = !rectifiers.empty() && std::all_of(rectifiers.begin(), rectifiers.end(), [&](int i) {
            return std::find(t.faults.begin(), t.faults.end(), Fault{i, FaultMode::Open, {}}) != t.faults.end();
        });
        if (no_output && rank("dead") < rank(t.symptoms.front())) t.symptoms = {"dead"}; // nothing comes out, not little
    }
    return t;
}

void Generator::root(Truth& t) {
    std::vector<std::pair<double, Recipe>> list;
    recipes(list);
    double total = 0;
    for (const auto& [weight, recipe] : list) total += weight;
    double left = std::uniform_real_distribution<double>(0, total)(m_random);
    for (const auto& [weight, recipe] : list)
        if ((left -= weight) <= 0) return recipe(t);
    list.back().second(t);
}

std::vector<int> Generator::all(const Wanted& wanted) const {
    std::vector<int> found;
    for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i)
        if (wanted(m_board.part(i))) found.push_back(i);
    return found;
}

int Generator::any(const Wanted& wanted) {
    const auto found = all(wanted);
    return found.empty() ? -1 : found[m_random() % found.size()];
}

void Generator::add(Truth& t, int part, FaultMode mode, const std::string& place) {
    if (part < 0) return;
    if (std::any_of(t.faults.begin(), t.faults.end(), [&](const Fault& f) { return f.part == part; })) return;
    t.faults.push_back({part, mode, place});
}

void Generator::fuse(Truth& t, double p) {
    if (chance(p))
        add(t, any([](const Part& x) { return x.kind == PartKind::Fuse && x.stage == "mains-in"; }), FaultMode::Open);
    else if (chance(0.5))
        add(t, any([](const Part& x) {
                return (x.kind == PartKind::Thermistor || x.kind == PartKind::FusibleResistor) && x.stage == "rectify";
            }),
            FaultMode::Open);
}

void Generator::one(std::vector<std::pair<double, Recipe>>& out, double weight, const Wanted& wanted, FaultMode mode,
                    const std::string& symptom, const std::string& place) {
    if (all(wanted).empty()) return;
    out.emplace_back(weight, [this, wanted, mode, symptom, place](Truth& t) {
        add(t, any(wanted), mode, place);
        t.symptoms = {symptom};
    });
}

void Generator::switch_goes(Truth& t, int which) {
    const auto& part = m_board.part(which);
    const bool bipolar = part.kind == PartKind::BjtNpn;
    const bool whole = chance(0.5), alone = t.faults.empty();
    add(t, which, whole ? FaultMode::Short : bipolar ? FaultMode::CeShort : FaultMode::DsShort);
    for (int sense : all(is_sense))
        if (chance(0.85)) add(t, sense, FaultMode::Open);
    const auto switches = all(is_power_switch);
    if (switches.size() > 1 && part.stage == "switch") // the other half of the pair
        for (int other : switches)
            if (chance(0.6)) {
                if (alone && other != which) t.roots.insert(other); // which of the two went first nobody can tell
                add(t, other, bipolar ? FaultMode::CeShort : FaultMode::DsShort);
            }
    if (whole && part.kind == PartKind::Mosfet && chance(0.7))
        add(t, any([](const Part& p) { return p.kind == PartKind::Controller; }), FaultMode::OutputShort);
    if (chance(0.15)) add(t, any([](const Part& p) { return p.kind == PartKind::Bridge; }), FaultMode::Short, chance(0.5) ? "~1+" : "~2-");
    fuse(t, 0.8);
    t.symptoms = {chance(0.6) ? "bang" : m_board.mains ? "dead" : "fuse-blows"};
}

void Generator::recipes(std::vector<std::pair<double, Recipe>>& out) {
    const bool bulk = !all([](const Part& p) { return p.stage == "bulk"; }).empty();
    if (bulk && m_board.mains)
        offline(out);
    else if (m_board.mains)
        line_fed(out);
    else
        low_voltage(out);
}

void Generator::offline(std::vector<std::pair<double, Recipe>>& out) {
    const auto bulk = [](const Part& p) { return p.stage == "bulk" && p.kind == PartKind::Electrolytic; };
    const auto bridge = [](const Part& p) { return p.kind == PartKind::Bridge; };
    out.emplace_back(18, [this, bulk](Truth& t) {
        add(t, any(bulk), FaultMode::Dry);
        if (chance(0.6)) return switch_goes(t, any(is_power_switch));
        t.symptoms = {"weak-under-load"};
    });
    out.emplace_back(16, [this](Truth& t) { switch_goes(t, any(is_power_switch)); });
    out.emplace_back(10, [this, bridge](Truth& t) {
        add(t, any(bridge), FaultMode::Short, chance(0.5) ? "~1-" : "~2+");
        fuse(t, 0.9);
        t.symptoms = {"fuse-blows"};
    });
    out.emplace_back(4, [this](Truth& t) {
        add(t, any([](const Part& p) { return p.kind == PartKind::Varistor; }), FaultMode::Short);
        fuse(t, 1);
        t.symptoms = {"fuse-blows"};
    });
    const auto drive = [](const Part& p) { return role_has(p, "base-drive capacitor"); };
    if (!all(drive).empty())
        out.emplace_back(16, [this, drive](Truth& t) {
            add(t, any(drive), FaultMode::Dry);
            if (chance(0.7)) return switch_goes(t, any(is_power_switch));
            t.symptoms = {"no-start"};
        });
    const auto smoothing = [](const Part& p) { return p.kind == PartKind::Electrolytic && p.stage == "smooth"; };
    one(out, 9, smoothing, FaultMode::Dry, "unstable-output");
    one(out, 3, smoothing, FaultMode::Short, "ticking");
    one(out, 10, is_rectifier, FaultMode::Short, "ticking");
    one(
        out, 8, [](const Part& p) { return role_has(p, "start-up resistor"); }, FaultMode::Open, "no-start");
    one(
        out, 8, [](const Part& p) { return p.kind == PartKind::Electrolytic && role_has(p, "supply capacitor"); }, FaultMode::Dry,
        "ticking");
    one(
        out, 4, [](const Part& p) { return p.kind == PartKind::Fuse; }, FaultMode::Open, "dead"); // fatigue
    one(
        out, 5, [](const Part& p) { return p.kind == PartKind::Zener && p.stage == "rails"; }, FaultMode::Short, "ticking");
    one(
        out, 5, [](const Part& p) { return p.kind == PartKind::Resistor && p.stage == "feedback"; }, FaultMode::Open, "high-output");
}

void Generator::line_fed(std::vector<std::pair<double, Recipe>>& out) {
    const auto rectifier = [](const Part& p) {
        return p.stage == "rectify-out" && (p.kind == PartKind::Bridge || p.kind == PartKind::Diode);
    };
    out.emplace_back(16, [this, rectifier](Truth& t) {
        const int part = any(rectifier);
        add(t, part, FaultMode::Short, m_board.part(part).kind == PartKind::Bridge ? (chance(0.5) ? "~1+" : "~2-") : "");
        fuse(t, 0.8);
        t.symptoms = {"fuse-blows"};
    });
    const auto reservoir = [](const Part& p) { return p.kind == PartKind::Electrolytic && p.stage == "smooth"; };
    one(out, 20, reservoir, FaultMode::Dry, "hum");
    out.emplace_back(6, [this, reservoir](Truth& t) {
        add(t, any(reservoir), FaultMode::Short);
        fuse(t, 0.8);
        t.symptoms = {"fuse-blows"};
    });
    one(
        out, 14, [](const Part& p) { return role_has(p, "pass transistor"); }, FaultMode::CeShort, "high-output");
    one(
        out, 6, [](const Part& p) { return role_has(p, "driver transistor"); }, FaultMode::Open, "dead");
    one(
        out, 8, [](const Part& p) { return p.kind == PartKind::Zener && p.stage == "feedback"; }, FaultMode::Short, "low-output");
    one(
        out, 8, [](const Part& p) { return p.kind == PartKind::Regulator; }, FaultMode::OutputShort, "high-output");
    one(
        out, 8, [](const Part& p) { return p.kind == PartKind::Electrolytic && p.stage == "rails"; }, FaultMode::Short, "low-output");
    one(
        out, 8, [](const Part& p) { return p.kind == PartKind::Electrolytic && p.stage == "rails"; }, FaultMode::Dry, "unstable-output");
    one(
        out, 6, [](const Part& p) { return p.kind == PartKind::Transformer; }, FaultMode::Open, "dead");
    one(
        out, 8, [](const Part& p) { return p.kind == PartKind::Fuse; }, FaultMode::Open, "dead");
}

void Generator::low_voltage(std::vector<std::pair<double, Recipe>>& out) {
    const auto fused = [this](double p) { return [this, p](Truth& t) { fuse(t, p); }; };
    const auto on_entry = [](const Part& p) { return p.stage == "filter" || p.stage == "mains-in"; };
    one(
        out, 24, [](const Part& p) { return p.kind == PartKind::Tantalum; }, FaultMode::Short, "ticking");
    const auto tantalum = [](const Part& p) { return p.kind == PartKind::Tantalum && p.stage == "rails"; };
    if (all(tantalum).size() > 1)
        out.emplace_back(6, [this, tantalum](Truth& t) { // the second after the first
            add(t, any(tantalum), FaultMode::Short);
            add(t, any(tantalum), FaultMode::Short);
            for (const auto& f : t.faults) // which of two equal ones went first nobody can tell
                if (f.mode == FaultMode::Short && tantalum(m_board.part(f.part))) t.roots.insert(f.part);
            t.symptoms = {"ticking"};
        });
    one(
        out, 4, [](const Part& p) { return p.kind == PartKind::Ceramic && (p.stage == "rails" || p.stage == "smooth"); }, FaultMode::Short,
        "ticking");
    one(out, 12, is_smoothing, FaultMode::Dry, "unstable-output");
    one(out, 4, is_smoothing, FaultMode::Short, "ticking");
    one(
        out, 6, [=](const Part& p) { return p.kind == PartKind::Electrolytic && on_entry(p); }, FaultMode::Dry, "weak-under-load");
    one(out, 8, is_rectifier, FaultMode::Open, "low-output");
    const auto rectifier_short = fused(0.6);
    if (!all(is_rectifier).empty())
        out.emplace_back(8, [this, rectifier_short](Truth& t) {
            add(t, any(is_rectifier), FaultMode::Short);
            rectifier_short(t);
            t.symptoms = {"fuse-blows"};
        });
    one(
        out, 8, [](const Part& p) { return role_has(p, "soft-start capacitor"); }, FaultMode::Leaky, "low-output");
    if (!all(is_power_switch).empty()) out.emplace_back(16, [this](Truth& t) { switch_goes(t, any(is_power_switch)); });
    const auto output_bridge = [](const Part& p) { return p.kind == PartKind::Mosfet && p.stage == "rails"; };
    if (!all(output_bridge).empty())
        out.emplace_back(10, [this, output_bridge](Truth& t) {
            add(t, any(output_bridge), FaultMode::DsShort);
            add(t, any(output_bridge), FaultMode::DsShort);
            for (const auto& f : t.faults)
                if (output_bridge(m_board.part(f.part))) t.roots.insert(f.part);
            t.symptoms = {"ticking"};
        });
    one(
        out, 4, [](const Part& p) { return p.kind == PartKind::Inductor && p.stage == "rails"; }, FaultMode::Open, "low-output");
    one(
        out, 5, [](const Part& p) { return p.kind == PartKind::Regulator; }, FaultMode::OutputShort, "high-output");
    one(
        out, 5, [](const Part& p) { return p.kind == PartKind::Fuse; }, FaultMode::Open, "dead");
    const auto negative = [](const Part& p) { return role_has(p, "negative reservoir") && p.kind == PartKind::Electrolytic; };
    if (!all(negative).empty())
        out.emplace_back(12, [this, negative](Truth& t) { // a direct adapter on the alternating input
            add(t, any(negative), FaultMode::Short);
            t.symptoms = {"smoke"};
            t.history = {"wrong-adapter"};
        });
}

} // namespace ohmo::judgement
