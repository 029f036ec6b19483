// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/places.h"

#include <utility>

namespace ohmo {
namespace {

class Places {
public:
    explicit Places(const Practice& practice) : m_p(practice) {}

    void add(Quantity what, NetId red, NetId black, double minutes) {
        if (red >= 0 && black >= 0 && red != black) m_out.push_back({what, red, black, minutes});
    }
    void both_ways(Quantity what, NetId red, NetId black) {
        add(what, red, black, m_p.minutes_read);
        add(what, black, red, m_p.minutes_read);
    }
    void capacitor(const Part& part) {
        const auto& info = kind_info(part.kind);
        if (is_wet_or_solid_electrolytic(part.kind)) add(Quantity::Esr, part.net(info.red), part.net(info.black), m_p.minutes_esr);
        if (loses_capacitance(part.kind)) add(Quantity::Farads, part.net(info.red), part.net(info.black), m_p.minutes_farads);
    }
    std::vector<PartReading> take() { return std::move(m_out); }

private:
    const Practice& m_p;
    std::vector<PartReading> m_out;
};

} // namespace

std::vector<PartReading> readings_in_place(const Board& board, const BoardRoles& roles, int i) {
    const Part& part = board.part(i);
    std::vector<LeadPair> pairs = roles.lead_pairs[static_cast<std::size_t>(i)];
    const bool chip = is_controller(part.kind), three = is_switch_device(part.kind) || part.kind == PartKind::Regulator ||
                                                        part.kind == PartKind::ShuntReference || part.kind == PartKind::Thyristor;
    if (part.kind == PartKind::Bridge) pairs.emplace_back(part.net("+"), part.net("-"));
    if (three)
        for (std::size_t a = 0; a < part.pins.size(); ++a)
            for (std::size_t b = a + 1; b < part.pins.size(); ++b) pairs.emplace_back(part.pins[a].id, part.pins[b].id);
    if (part.kind == PartKind::Optocoupler) pairs.emplace_back(part.net("C"), part.net("E"));
    if (chip) {
        const NetId ground = part.net(chip_pins(part).ground);
        for (const auto& pin : part.pins)
            if (pin.id != ground && ground >= 0) pairs.emplace_back(pin.id, ground);
    }
    const bool junction = is_diode_like(part.kind) || part.kind == PartKind::Bridge || three || chip || part.kind == PartKind::Optocoupler;
    Places out(board.practice());
    for (const auto& [red, black] : pairs) {
        out.both_ways(Quantity::Ohms, red, black);
        if (junction) out.both_ways(Quantity::Diode, red, black);
    }
    out.capacitor(part);
    return out.take();
}

std::vector<PartReading> readings_alone(const Board& board, const BoardRoles& roles, int i) {
    const Part& part = board.part(i);
    std::vector<LeadPair> pairs = roles.lead_pairs[static_cast<std::size_t>(i)];
    if (part.kind == PartKind::Optocoupler) pairs.emplace_back(part.net("C"), part.net("E"));
    if (part.kind == PartKind::Regulator) pairs.emplace_back(part.net("OUT"), part.net(chip_pins(part).ground));
    const bool junction = is_diode_like(part.kind) || part.kind == PartKind::Bridge || part.kind == PartKind::BjtNpn ||
                          part.kind == PartKind::BjtPnp || part.kind == PartKind::Thyristor || part.kind == PartKind::Regulator ||
                          part.kind == PartKind::ShuntReference;
    Places out(board.practice());
    for (const auto& [red, black] : pairs) {
        out.add(Quantity::Ohms, red, black, board.practice().minutes_read);
        if (!junction) continue;
        out.add(Quantity::Ohms, black, red, board.practice().minutes_read);
        out.both_ways(Quantity::Diode, red, black);
    }
    out.capacitor(part);
    return out.take();
}

} // namespace ohmo
