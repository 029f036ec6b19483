// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/lead_pairs.h"

#include "board/step_down.h"
#include "board/switch_ends.h"

namespace ohmo {

std::vector<LeadPair> find_lead_pairs(const Board& board, const Part& part) {
    std::vector<LeadPair> out;
    if (part.kind == PartKind::Bridge) {
        for (const char* ac : {"~1", "~2"}) {
            out.emplace_back(part.net(ac), part.net("+"));
            out.emplace_back(part.net("-"), part.net(ac));
        }
    } else if (kind_info(part.kind).rule == PinRule::Pairs) {
        for (const auto& [a, b] : part.pairs()) out.emplace_back(a->id, b->id);
    } else if (is_switch_device(part.kind)) {
        const auto [g, d, s] = switch_ends(part);
        out = {{d, s}, {g, s}};
        if (part.kind == PartKind::BjtNpn) out.emplace_back(g, d); // a collector that is open shows nowhere else
        if (part.kind == PartKind::BjtPnp) out.emplace_back(d, g);
    } else if (part.kind == PartKind::Thyristor) {
        out = {{part.net("A"), part.net("K")}, {part.net("G"), part.net("K")}};
    } else if (is_controller(part.kind)) {
        const auto chip = chip_pins(part);
        const NetId ground = part.net(chip.ground);
        for (std::string_view pin : {chip.supply, std::string_view("DRV")})
            if (part.net(pin) >= 0) out.emplace_back(part.net(pin), ground);
        if (const NetId node = inner_node(board, part); node >= 0) out.emplace_back(part.net(chip.supply), node);
        if (part.net(chip.high) >= 0) out.emplace_back(part.net(chip.high), part.net(chip.low));
    } else {
        const auto& info = kind_info(part.kind);
        out.emplace_back(part.net(info.red), part.net(info.black));
    }
    return out;
}

} // namespace ohmo
