// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/series_feeds.h"

#include "board/nominal.h"
#include "board/switch_ends.h"

#include <algorithm>

namespace ohmo {
namespace {

bool has(const std::vector<char>& nets, NetId net) { return net >= 0 && nets[static_cast<std::size_t>(net)] != 0; }
bool at_any(const Part& part, const std::vector<char>& nets) {
    return std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return has(nets, p.id); });
}

class Finder {
public:
    Finder(const Board& board, const BoardRoles& roles) : m_board(board), m_roles(roles) {}

    std::vector<SeriesFeed> run() const {
        std::vector<SeriesFeed> out;
        for (int r = 0; r < static_cast<int>(m_board.rails.size()); ++r) {
            const Rail& rail = m_board.rails[static_cast<std::size_t>(r)];
            if (rail.net_id < 0) continue;
            const auto nets = wired(rail.net_id, rail.return_id);
            if (held(nets, rail.return_id) || fed(nets, rail)) continue;
            for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i)
                if (leads_to(m_board.part(i), nets, rail)) out.push_back({i, r});
        }
        return out;
    }

private:
    // It can give current to one of these nets: of a positive rail a cathode, of a negative an anode, not one that only clamps to the
    // return; a transistor from elsewhere than a base.
    bool delivers(const Part& part, const std::vector<char>& nets, const Rail& rail) const {
        const char *near = rail.volts > 0 ? "K" : "A", *far = rail.volts > 0 ? "A" : "K";
        switch (part.kind) {
        case PartKind::Diode:
        case PartKind::Schottky:
            return has(nets, part.net(near)) && part.net(far) != rail.return_id;
        case PartKind::Bridge:
            return has(nets, part.net(rail.volts > 0 ? "+" : "-"));
        case PartKind::Regulator:
            return has(nets, part.net("OUT"));
        case PartKind::BjtNpn:
        case PartKind::BjtPnp:
        case PartKind::Mosfet:
        case PartKind::Igbt:
            return passes_to(part, nets, rail.return_id);
        case PartKind::IntegratedSwitch:
        case PartKind::Transformer:
            return at_any(part, nets);
        default:
            return false;
        }
    }

    // From somewhere to these nets; not from the return, nor what pulls at another's base.
    bool passes_to(const Part& device, const std::vector<char>& nets, NetId back) const {
        const auto ends = switch_ends(device);
        if (has(nets, ends.high) == has(nets, ends.low)) return false;
        const NetId from = has(nets, ends.high) ? ends.low : ends.high;
        return from != back && std::none_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& other) {
                   return is_switch_device(other.kind) && switch_ends(other).control == from;
               });
    }
    // What hangs there by coils, contacts and fuses; the return is no way.
    std::vector<char> wired(NetId from, NetId back) const {
        auto out = m_roles.path.wired_to({from}, {});
        if (has(out, back)) out.assign(out.size(), 0);
        return out;
    }
    static bool held(const Part& part, const std::vector<char>& nets, NetId back) {
        return (part.kind == PartKind::Zener || part.kind == PartKind::ShuntReference) && part.touches(back) && at_any(part, nets);
    }
    bool held(const std::vector<char>& nets, NetId back) const {
        return std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& p) { return held(p, nets, back); });
    }
    bool fed(const std::vector<char>& nets, const Rail& rail) const {
        const bool inlet = m_roles.inlet.empty() // nobody said where it comes in: any contact may be where
                               ? std::any_of(m_board.parts.begin(), m_board.parts.end(),
                                             [&](const Part& p) { return p.kind == PartKind::Connector && at_any(p, nets); })
                               : std::any_of(m_roles.inlet.begin(), m_roles.inlet.end(), [&](NetId n) { return has(nets, n); });
        return inlet || std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& p) { return delivers(p, nets, rail); });
    }
    bool leads_to(const Part& part, const std::vector<char>& nets, const Rail& rail) const {
        const bool resistor = part.kind == PartKind::Resistor || part.kind == PartKind::FusibleResistor;
        if (!resistor || part.pins.size() != 2) return false;
        if (const auto value = nominal_or_none(part); !value || value->ohms) return false;
        for (const int end : {0, 1}) {
            const NetId here = part.pins[static_cast<std::size_t>(end)].id, there = part.pins[static_cast<std::size_t>(1 - end)].id;
            if (has(nets, here) && !has(nets, there) && there != rail.return_id && fed(wired(there, rail.return_id), rail)) return true;
        }
        return false;
    }

    const Board& m_board;
    const BoardRoles& m_roles;
};

} // namespace

std::vector<SeriesFeed> find_series_feeds(const Board& board, const BoardRoles& roles) { return Finder(board, roles).run(); }

} // namespace ohmo
