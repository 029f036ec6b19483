// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/mains_side.h"

#include <algorithm>

namespace ohmo {
std::vector<std::vector<NetId>> joined_nets(const Part& part) {
    const auto all = [&] {
        std::vector<NetId> out;
        for (const auto& pin : part.pins) out.push_back(pin.id);
        return out;
    };
    switch (part.kind) {
    case PartKind::YCapacitor:
        return {};
    case PartKind::Optocoupler:
        return {{part.net("A"), part.net("K")}, {part.net("C"), part.net("E")}};
    case PartKind::Relay:
        return {{part.net("1"), part.net("2")}, {part.net("C"), part.net("NO"), part.net("NC")}};
    case PartKind::Transformer:
    case PartKind::Choke:
    case PartKind::Connector:
    case PartKind::Switch: {
        std::vector<std::vector<NetId>> out;
        for (const auto& [a, b] : part.pairs())
            if (a != nullptr && b != nullptr) out.push_back({a->id, b->id});
        return out;
    }
    default:
        return {all()};
    }
}

bool hands_on(PartKind kind) {
    using K = PartKind;
    return kind == K::Fuse || kind == K::FusibleResistor || kind == K::Thermistor || kind == K::Switch || kind == K::Track ||
           kind == K::Inductor || kind == K::Choke || kind == K::Connector;
}

std::vector<char> nets_along(const Board& board, const std::vector<NetId>& from, bool rectifies) {
    std::vector<char> out(board.nets.size(), 0);
    for (NetId n : from)
        if (n >= 0) out[static_cast<std::size_t>(n)] = 1;
    const auto on = [&](NetId n) { return n >= 0 && out[static_cast<std::size_t>(n)] != 0; };
    const auto is_return = [&](NetId n) {
        return std::any_of(board.rails.begin(), board.rails.end(), [&](const Rail& r) { return r.return_id == n; });
    };
    for (bool grows = true; grows;) {
        grows = false;
        for (const auto& part : board.parts) {
            const bool diode = part.kind == PartKind::Bridge || (is_diode_like(part.kind) && part.kind != PartKind::Zener);
            if (!hands_on(part.kind) && !(rectifies && diode)) continue;
            for (const auto& group : joined_nets(part)) {
                if (std::none_of(group.begin(), group.end(), [&](NetId n) { return on(n) && !is_return(n); })) continue;
                for (NetId n : group)
                    if (n >= 0 && !on(n)) {
                        out[static_cast<std::size_t>(n)] = 1;
                        grows = true;
                    }
            }
        }
    }
    return out;
}

namespace {

// All that hangs together with these nets without crossing a barrier.
void spread(const Board& board, std::vector<char>& nets) {
    for (bool grew = true; grew;) {
        grew = false;
        for (const auto& part : board.parts)
            for (const auto& group : joined_nets(part)) {
                const auto on = [&](NetId n) { return n >= 0 && nets[static_cast<std::size_t>(n)] != 0; };
                if (std::none_of(group.begin(), group.end(), on)) continue;
                for (NetId n : group)
                    if (n >= 0 && !on(n)) {
                        nets[static_cast<std::size_t>(n)] = 1;
                        grew = true;
                    }
            }
    }
}

} // namespace

std::vector<char> nets_on_mains(const Board& board) {
    std::vector<char> out(board.nets.size(), 0);
    if (!board.mains) return out;
    const auto reach = [&](NetId n) {
        if (n >= 0) out[static_cast<std::size_t>(n)] = 1;
    };
    for (const auto& part : board.parts) {
        if (part.stage != "mains-in") continue;
        if (part.kind == PartKind::Transformer) { // its other windings are where the mains end
            for (const auto& pin : part.pins)
                if (pin.role.starts_with('P')) reach(pin.id);
        } else
            for (const auto& pin : part.pins) reach(pin.id);
    }
    spread(board, out);
    return out;
}

void settle_stages(Board& board) {
    const auto mains = nets_on_mains(board);
    if (std::find(mains.begin(), mains.end(), 1) == mains.end()) return;
    std::vector<char> behind(board.nets.size(), 0);
    for (const auto& part : board.parts)
        if (part.kind == PartKind::Transformer)
            for (const auto& pin : part.pins)
                if (pin.id >= 0 && mains[static_cast<std::size_t>(pin.id)] == 0) behind[static_cast<std::size_t>(pin.id)] = 1;
    spread(board, behind);
    for (auto& part : board.parts) {
        if (part.stage != "rectify" && part.stage != "bulk") continue;
        const bool all = std::all_of(part.pins.begin(), part.pins.end(), [&](const Pin& pin) {
            const auto n = static_cast<std::size_t>(pin.id);
            return pin.id >= 0 && behind[n] != 0 && mains[n] == 0;
        });
        if (all) part.stage = part.stage == "bulk" ? "smooth" : "rectify-out";
    }
}

bool rectifies_mains(const Board& board) {
    if (!board.mains) return false;
    const auto rectifier = [](const Part& p) { return p.kind == PartKind::Bridge || is_diode_like(p.kind); };
    std::vector<char> reached(board.nets.size(), 0);
    bool transformer = false;
    for (const auto& part : board.parts) {
        if (part.kind != PartKind::Transformer) continue;
        transformer = true;
        for (const char* pin : {"P1", "P2"})
            if (const NetId n = part.net(pin); n >= 0) reached[static_cast<std::size_t>(n)] = 1;
    }
    if (!transformer) return std::any_of(board.parts.begin(), board.parts.end(), rectifier);
    for (bool grew = true; grew;) {
        grew = false;
        for (const auto& part : board.parts)
            for (const auto& group : joined_nets(part)) {
                const auto on = [&](NetId n) { return n >= 0 && reached[static_cast<std::size_t>(n)] != 0; };
                if (std::none_of(group.begin(), group.end(), on)) continue;
                if (rectifier(part)) return true;
                for (NetId n : group)
                    if (n >= 0 && !on(n)) {
                        reached[static_cast<std::size_t>(n)] = 1;
                        grew = true;
                    }
            }
    }
    return false;
}

bool rails_on_mains(const Board& board) {
    const auto on = nets_on_mains(board);
    const auto reached = [&](NetId n) { return n >= 0 && on[static_cast<std::size_t>(n)] != 0; };
    return std::any_of(board.rails.begin(), board.rails.end(), [&](const Rail& r) { return reached(r.net_id) || reached(r.return_id); });
}

} // namespace ohmo
