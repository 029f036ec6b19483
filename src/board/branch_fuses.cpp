// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/branch_fuses.h"

#include "board/nominal.h"

#include <algorithm>
#include <optional>

namespace ohmo {
namespace {

using Way = PowerPath::Way;

bool on(const std::vector<char>& nets, NetId net) { return net >= 0 && !nets.empty() && nets[static_cast<std::size_t>(net)] != 0; }

// The winding that feeds the fuse, if one does.
std::optional<BranchFuse> in_a_secondary(const Board& board, const PowerPath& path, int fuse) {
    const NetId a = board.part(fuse).pins[0].id, b = board.part(fuse).pins[1].id;
    const auto wire_a = path.stiff_reach({a}, Way::Wire, fuse), wire_b = path.stiff_reach({b}, Way::Wire, fuse);
    for (const auto& part : board.parts) {
        if (part.kind != PartKind::Transformer) continue;
        for (const auto& [one, other] : part.pairs()) {
            if (one == nullptr || other == nullptr || one->role.front() == 'P') continue;
            for (const auto& [end, far] : {std::pair(one->id, other->id), std::pair(other->id, one->id)}) {
                if (on(wire_a, end) == on(wire_b, end)) continue;
                const NetId load = on(wire_a, end) ? b : a;
                BranchFuse out{.part = fuse, .at = load == a ? wire_a : wire_b};
                for (const auto& [from, to] : {std::pair(load, far), std::pair(far, load)})
                    out.loops.push_back({path.stiff_reach({from}, Way::Forwards, fuse), path.stiff_reach({to}, Way::Backwards, fuse)});
                return out;
            }
        }
    }
    return std::nullopt;
}

std::optional<BranchFuse> in_a_rail(const Board& board, const PowerPath& path, int fuse) {
    std::vector<NetId> sources = path.entry();
    for (const auto& part : board.parts)
        if (part.kind == PartKind::Transformer)
            for (const auto& pin : part.pins)
                if (pin.role.front() != 'P') sources.push_back(pin.id);
    const auto live = path.fed_without(sources, fuse);
    const NetId a = board.part(fuse).pins[0].id, b = board.part(fuse).pins[1].id;
    if (on(live, a) == on(live, b)) return std::nullopt;
    BranchFuse out{.part = fuse};
    auto& loop = out.loops.emplace_back();
    loop.fed = path.stiff_reach({on(live, a) ? b : a}, Way::Forwards, fuse);
    loop.back.assign(board.nets.size(), 0);
    for (NetId n : path.returns()) loop.back[static_cast<std::size_t>(n)] = 1;
    return out;
}

} // namespace

bool BranchFuse::opened_by(const Board& board, const Fault& fault) const {
    const Part& shorted = board.part(fault.part);
    const auto joins = [&](NetId one, NetId other) {
        return std::any_of(loops.begin(), loops.end(), [&](const Loop& loop) {
            return (on(loop.fed, one) && on(loop.back, other)) || (on(loop.fed, other) && on(loop.back, one));
        });
    };
    if (fault.part == part) return false;
    switch (fault.mode) {
    case FaultMode::Short:
    case FaultMode::DsShort:
    case FaultMode::CeShort: {
        const bool rectifier = is_diode_like(shorted.kind) || shorted.kind == PartKind::Bridge;
        if (rectifier && std::any_of(shorted.pins.begin(), shorted.pins.end(), [&](const Pin& pin) { return on(at, pin.id); })) return true;
        return joins(shorted.net(kind_info(shorted.kind).red), shorted.net(kind_info(shorted.kind).black));
    }
    case FaultMode::SupplyShort: {
        const auto pins = chip_pins(shorted);
        return shorted.kind == PartKind::Regulator ? joins(shorted.net("IN"), shorted.net("GND"))
                                                   : joins(shorted.net(pins.supply), shorted.net(pins.ground));
    }
    default:
        return false;
    }
}

bool is_input_fuse(const Part& part) {
    if (part.kind != PartKind::Fuse || (part.stage != "mains-in" && part.stage != "filter")) return false;
    const auto nominal = likely_value(part);
    return nominal && nominal->amps;
}

std::vector<BranchFuse> find_branch_fuses(const Board& board, const PowerPath& path) {
    std::vector<BranchFuse> out;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& part = board.part(i);
        if (part.kind != PartKind::Fuse || is_input_fuse(part) || part.pins[0].id < 0 || part.pins[1].id < 0) continue;
        auto found = in_a_secondary(board, path, i);
        if (!found) found = in_a_rail(board, path, i);
        if (found) out.push_back(std::move(*found));
    }
    return out;
}

} // namespace ohmo
