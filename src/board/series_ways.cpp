// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/series_ways.h"

#include <algorithm>
#include <numeric>

namespace ohmo {
namespace {

struct Step {
    NetId to;
    int part;
};

bool conducts(const Part& part) {
    switch (part.kind) {
    case PartKind::Fuse:
    case PartKind::FusibleResistor:
    case PartKind::Thermistor:
    case PartKind::Switch:
    case PartKind::Connector:
    case PartKind::Track:
    case PartKind::Choke:
    case PartKind::Inductor:
        return true;
    default:
        return false;
    }
}

// From `end` over all that conducts; a way for each net where it ends.
void walk(const std::vector<std::vector<Step>>& steps, NetId end, std::vector<SeriesWay>& out) {
    std::vector<int> by(steps.size(), -1);
    std::vector<NetId> before(steps.size(), -1), order{end};
    std::vector<char> leads_on(steps.size(), 0);
    before[static_cast<std::size_t>(end)] = end;
    for (std::size_t k = 0; k < order.size(); ++k)
        for (const auto& step : steps[static_cast<std::size_t>(order[k])]) {
            auto& came = before[static_cast<std::size_t>(step.to)];
            if (came >= 0) continue;
            came = order[k];
            by[static_cast<std::size_t>(step.to)] = step.part;
            leads_on[static_cast<std::size_t>(order[k])] = 1;
            order.push_back(step.to);
        }
    for (NetId net : order) {
        if (leads_on[static_cast<std::size_t>(net)] || net == end) continue;
        SeriesWay way{end, net, {}};
        for (NetId at = net; at != end; at = before[static_cast<std::size_t>(at)]) way.parts.push_back(by[static_cast<std::size_t>(at)]);
        std::reverse(way.parts.begin(), way.parts.end());
        auto once = way.parts; // back out of the same connector or choke says nothing of the way in
        std::sort(once.begin(), once.end());
        if (way.parts.size() >= 2 && std::adjacent_find(once.begin(), once.end()) == once.end()) out.push_back(std::move(way));
    }
}

} // namespace

SeriesWays::SeriesWays(const Board& board) : m_outside(board.nets.size()), m_inside(board.nets.size()) {
    std::iota(m_outside.begin(), m_outside.end(), 0);
    m_inside = m_outside;
    std::vector<int> pins(board.nets.size(), 0);
    std::vector<std::vector<Step>> steps(board.nets.size());
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& part = board.part(i);
        for (const auto& pin : part.pins)
            if (pin.id >= 0) ++pins[static_cast<std::size_t>(pin.id)];
        if (!conducts(part)) continue;
        for (const auto& [a, b] : part.pairs()) {
            if (a == nullptr || b == nullptr || a->id < 0 || b->id < 0 || a->id == b->id) continue;
            steps[static_cast<std::size_t>(a->id)].push_back({b->id, i});
            steps[static_cast<std::size_t>(b->id)].push_back({a->id, i});
        }
    }
    for (std::size_t n = 0; n < steps.size(); ++n) {
        if (pins[n] != 1 || steps[n].size() != 1) continue;
        const auto end = static_cast<NetId>(n);
        walk(steps, end, m_ways);
        if (board.part(steps[n].front().part).kind != PartKind::Connector) continue;
        const auto behind = static_cast<std::size_t>(steps[n].front().to);
        m_inside[n] = steps[n].front().to;
        if (m_outside[behind] == static_cast<NetId>(behind)) m_outside[behind] = end;
    }
}

const std::vector<int>& SeriesWays::between(NetId a, NetId b) const {
    static const std::vector<int> none;
    const auto at = std::find_if(m_ways.begin(), m_ways.end(),
                                 [&](const SeriesWay& w) { return (w.from == a && w.to == b) || (w.from == b && w.to == a); });
    return at == m_ways.end() ? none : at->parts;
}

} // namespace ohmo
