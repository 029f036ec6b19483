// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/series_switches.h"

#include "board/net_sets.h"
#include "board/roles.h"
#include "board/switch_ends.h"

#include <algorithm>

namespace ohmo {
namespace {

void mark(NetSet& nets, NetId net) {
    if (net >= 0) nets[static_cast<std::size_t>(net)] = 1;
}

// What the current is for; on its way back, the grounds.
NetSet goals(const Board& board, const BoardRoles& t, bool backwards) {
    NetSet out(board.nets.size(), 0);
    for (const auto& rail : board.rails) mark(out, backwards ? rail.return_id : rail.net_id);
    mark(out, backwards ? t.primary_ground : t.hv);
    for (int i : t.bulk) mark(out, board.part(i).net(backwards ? "-" : "+"));
    for (const auto& part : board.parts) {
        if (is_controller(part.kind)) mark(out, part.net(backwards ? chip_pins(part).ground : chip_pins(part).supply));
        if (part.kind == PartKind::Transformer && !backwards)
            for (const auto& pin : part.pins)
                if (pin.role.front() == 'P') mark(out, pin.id);
    }
    for (int i : t.power_devices) {
        const SwitchEnds ends = switch_ends(board.part(i));
        mark(out, backwards ? ends.low : ends.high);
    }
    return out;
}

// Of the inlet, where current comes in: wires lead from there to what it is for. Where that is known of none, those that it does not leave
// by; of alternating current, all.
std::vector<NetId> contacts(const BoardRoles& t, const NetSet& to, const NetSet& from) {
    std::vector<NetId> in, not_out;
    for (NetId contact : t.inlet) {
        const NetSet wires = t.path.stiff_reach({contact}, PowerPath::Way::Wire, -1);
        const auto leads_to = [&](const NetSet& nets) {
            for (std::size_t n = 0; n < wires.size(); ++n)
                if (wires[n] != 0 && nets[n] != 0) return true;
            return false;
        };
        if (leads_to(to)) in.push_back(contact);
        if (!leads_to(from)) not_out.push_back(contact);
    }
    return in.empty() ? not_out : in;
}

} // namespace

SeriesEnds series_ends(const Part& part) {
    if (part.kind == PartKind::Relay) return {part.net("C"), part.net("NO")};
    const SwitchEnds ends = switch_ends(part);
    return {ends.high, ends.low};
}

Fault driven(const Board& board, int part) {
    return {part, board.part(part).kind == PartKind::Relay ? FaultMode::Short : FaultMode::DsShort, {}};
}

std::vector<int> find_series_switches(const Board& board, const BoardRoles& t) {
    std::vector<int> out;
    if (t.inlet.size() < 2) return out;
    const NetSet to = goals(board, t, false), from = goals(board, t, true);
    const auto meets = [](const NetSet& a, const NetSet& b, const NetSet* without = nullptr) {
        for (std::size_t n = 0; n < a.size(); ++n)
            if (a[n] != 0 && b[n] != 0 && (without == nullptr || (*without)[n] == 0)) return true;
        return false;
    };
    struct Way {
        NetSet here, other; ///< where the current is on its way, and the way that it must not join
        bool out, back;     ///< how it goes on
    };
    std::vector<Way> ways;
    const NetSet supplied = t.path.fed_without(contacts(t, to, from), -1, false),
                 drawn_on = t.path.fed_without(contacts(t, from, to), -1, true);
    ways.push_back({supplied, drawn_on, true, false});
    ways.push_back({drawn_on, supplied, false, true});
    for (NetId contact : {t.inlet[0], t.inlet[1]}) // alternating current comes by one and goes by the other, and turns
        if (NetSet here = either_way(t.path, contact); !meets(here, to) && !meets(here, from))
            ways.push_back({std::move(here),
                            t.path.stiff_reach({contact == t.inlet[0] ? t.inlet[1] : t.inlet[0]}, PowerPath::Way::Wire, -1), true, true});
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& part = board.part(i);
        const bool may = part.kind == PartKind::Relay || (part.kind == PartKind::Mosfet && !t.is_power_device(i) && !t.is_leg(i));
        if (!may || std::find(t.series_switches.begin(), t.series_switches.end(), i) != t.series_switches.end()) continue;
        const SeriesEnds ends = series_ends(part);
        const bool leads = std::any_of(ways.begin(), ways.end(), [&](const Way& way) {
            if (ends.one < 0 || ends.other < 0 || within(way.here, ends.one) == within(way.here, ends.other)) return false;
            const NetId far = within(way.here, ends.one) ? ends.other : ends.one;
            if (within(way.other, far)) return false; // from the supply to its return
            return (way.out && meets(t.path.fed_without({far}, -1, false), to, &way.here)) ||
                   (way.back && meets(t.path.fed_without({far}, -1, true), from, &way.here));
        });
        if (leads) out.push_back(i);
    }
    return out;
}

} // namespace ohmo
