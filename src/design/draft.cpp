// SPDX-License-Identifier: GPL-3.0-or-later
#include "design/draft.h"

#include "base/text.h"
#include "board/value_reading.h"

#include <cctype>
#include <cmath>

namespace ohmo {

std::string rail_net(double volts) {
    std::string figure = fmt::format("{:g}", std::fabs(volts));
    const auto point = figure.find('.');
    if (point == std::string::npos)
        figure += 'V';
    else
        figure[point] = 'V';
    return (volts < 0 ? "-" : "+") + figure;
}

std::string ref_of_role(std::string_view role) {
    std::string out;
    bool unit_may_follow = false;
    for (std::string word : split_words(role)) {
        std::erase_if(word, [](char c) { return c == '(' || c == ')' || c == ','; });
        if (word == "the" || word.empty()) continue;
        const bool figure = std::isdigit(static_cast<unsigned char>(word.back())) != 0;
        const bool unit = unit_may_follow && word == "V";
        out += (out.empty() || unit ? "" : "-") + word;
        unit_may_follow = figure;
    }
    return out;
}

std::string fuse_text(char kind, double amps) {
    return amps < 1 ? fmt::format("{}{:g}mA", kind, 1000 * amps) : fmt::format("{}{:g}A", kind, amps);
}

std::string letter_volts(double volts, double amps) { return fmt::format("{:g}V {:g}A", volts, amps); }

Draft::Draft(const Supply& supply, const Practice& practice) : m_supply(supply), m_practice(practice) {
    auto& b = m_design.draft;
    b.blueprint = supply.family;
    if (supply.feed == Feed::Mains) b.mains = Mains{supply.volts, supply.hertz};
    for (const auto& rail : supply.rails) {
        const std::string first = rail_net(rail.volts);
        std::string net = first;
        for (char more = 'b'; std::find(m_nets.begin(), m_nets.end(), net) != m_nets.end(); ++more) net = first + more;
        m_nets.push_back(net);
        b.rails.push_back({net, "0V", rail.volts, practice.design_rail_tolerance, rail.amps, -1, -1});
    }
}

std::string Draft::word(int index) const { return fmt::format("{:g} V", rail(index).volts); }

std::vector<int> Draft::own_rails() const {
    std::vector<int> out;
    for (int i = 0; i < rails(); ++i)
        if (!rail(i).from) out.push_back(i);
    return out;
}

Part& Draft::add(PartKind kind, std::string_view stage, const std::string& role, Pins pins) {
    auto& parts = m_design.draft.parts;
    Part part;
    part.kind = kind;
    part.stage = stage;
    part.role = role;
    part.assumed = true;
    for (const auto& [name, net] : pins) part.pins.push_back({std::string(name), net, -1});
    const std::string ref = ref_of_role(role);
    part.ref = ref;
    const auto taken = [&] { return std::any_of(parts.begin(), parts.end(), [&](const Part& p) { return p.ref == part.ref; }); };
    for (int n = 2; taken(); ++n) part.ref = fmt::format("{}-{}", ref, n);
    parts.push_back(std::move(part));
    return parts.back();
}

Part& Draft::resistor(std::string_view stage, const std::string& role, double ohms, double watts, const std::string& a,
                      const std::string& b) {
    auto& part = add(PartKind::Resistor, stage, role, {{"1", a}, {"2", b}});
    part.value = letter_code(ohms, 'R');
    part.watts = watts;
    return part;
}

Part& Draft::capacitor(PartKind kind, std::string_view stage, const std::string& role, double farads, double volts, const std::string& plus,
                       const std::string& minus) {
    const bool polar = is_wet_or_solid_electrolytic(kind);
    auto& part = polar ? add(kind, stage, role, {{"+", plus}, {"-", minus}}) : add(kind, stage, role, {{"1", plus}, {"2", minus}});
    part.value = letter_code(farads, 'F');
    part.volts = volts;
    if (kind == PartKind::Electrolytic) part.celsius = 105;
    return part;
}

Part& Draft::diode(PartKind kind, std::string_view stage, const std::string& role, double volts, double amps, const std::string& anode,
                   const std::string& cathode) {
    auto& part = add(kind, stage, role, {{"A", anode}, {"K", cathode}});
    part.value = letter_volts(volts, amps);
    return part;
}

Part& Draft::coil(std::string_view stage, const std::string& role, double henry, double ohms, double amps, const std::string& a,
                  const std::string& b) {
    auto& part = add(PartKind::Inductor, stage, role, {{"1", a}, {"2", b}});
    part.value = letter_code(henry, 'H');
    part.ohms = ohms;
    part.amps = amps;
    return part;
}

double Draft::sum(SumKind kind, const std::string& of, double wanted, double chosen, std::vector<double> from) {
    m_design.sums.push_back({kind, of, wanted, chosen, std::move(from)});
    return chosen;
}

} // namespace ohmo
