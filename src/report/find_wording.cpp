// SPDX-License-Identifier: GPL-3.0-or-later
// How to find a part on a board that nobody has traced: what it looks like, what stands out beside it, what its tracks join.
#include "report/wording.h"

#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace ohmo::wording {
namespace {

std::string body_of(const Part& part) {
    switch (part.kind) {
    case PartKind::Resistor:
        return "small body with colour bands, or a chip with digits";
    case PartKind::FusibleResistor:
        return "resistor standing off the board, often grey or white";
    case PartKind::Thermistor:
        return "thick dark disc by the mains inlet";
    case PartKind::Varistor:
        return "disc in a coloured coat across the mains";
    case PartKind::Fuse:
        return "glass or ceramic tube, or a small box marked with amperes";
    case PartKind::Electrolytic:
        return part.volts.value_or(0) >= 160 ? "the tallest can, a stripe along its minus" : "can with a stripe along its minus";
    case PartKind::Tantalum:
        return "drop or block with a mark at its plus";
    case PartKind::XCapacitor:
        return "box with approval marks across the mains";
    case PartKind::YCapacitor:
        return "disc bridging the gap between the two sides";
    case PartKind::Film:
        return "box or pillow without polarity";
    case PartKind::Ceramic:
        return "small disc, or a chip without a mark";
    case PartKind::Diode:
    case PartKind::Zener:
        return "small cylinder, a ring at its cathode";
    case PartKind::Schottky:
        return "rectifier near the transformer's secondary pins, often on the heat sink";
    case PartKind::Bridge:
        return "block with four legs marked ~ ~ + -";
    case PartKind::Mosfet:
    case PartKind::Igbt:
    case PartKind::BjtNpn:
    case PartKind::BjtPnp:
        return "three legs, on a heat sink where it carries power";
    case PartKind::Controller:
        return "chip with six to sixteen legs on the mains side";
    case PartKind::IntegratedSwitch:
        return "chip with its legs spread or a tab, beside the transformer";
    case PartKind::Regulator:
    case PartKind::Thyristor:
        return "three legs with a tab";
    case PartKind::ShuntReference:
        return "three legs, small, near the optocoupler";
    case PartKind::Optocoupler:
        return "four legs across the gap between the two sides";
    case PartKind::Transformer:
        return "the largest wound part, in tape";
    case PartKind::Choke:
        return "two windings on one ring or frame near the inlet";
    case PartKind::Inductor:
        return "wound rod or ring";
    default:
        return {};
    }
}

bool stands_out(PartKind kind) {
    return kind == PartKind::Transformer || kind == PartKind::Bridge || kind == PartKind::Fuse || kind == PartKind::Connector ||
           kind == PartKind::Controller || kind == PartKind::IntegratedSwitch || kind == PartKind::Optocoupler ||
           kind == PartKind::Mosfet || kind == PartKind::Igbt;
}

constexpr std::size_t kMostBeside = 3;

} // namespace

std::string how_to_find(const Board& board, int index) {
    const Part& part = board.part(index);
    std::vector<std::string> words;
    if (const auto looks = body_of(part); !looks.empty()) words.push_back(looks);
    std::vector<std::string> beside;
    std::set<int> named;
    for (const auto& pin : part.pins)
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            const Part& other = board.part(i);
            const bool tall = other.kind == PartKind::Electrolytic && other.volts.value_or(0) >= 160;
            if (i == index || !(stands_out(other.kind) || tall) || beside.size() >= kMostBeside) continue;
            for (const auto& end : other.pins) {
                if (end.id != pin.id || !named.insert(i).second) continue;
                const std::string name = other.assumed ? part_role(other) : other.ref;
                beside.push_back(fmt::format("{} ({})", name, end.role));
            }
        }
    if (!beside.empty()) words.push_back("its tracks go to " + joined(beside, ", "));
    return joined(words, "; ");
}

} // namespace ohmo::wording
