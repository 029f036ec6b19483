// SPDX-License-Identifier: GPL-3.0-or-later
#include "posterior/story.h"

#include "damage/telling.h"

#include <algorithm>
#include <functional>

namespace ohmo {

Scenario told(const Board& board, const belief::Belief& belief, const belief::Joint& as_found) {
    const auto& model = belief.model();
    auto joint = as_found;
    std::erase_if(joint.faults, [&](const auto& f) {
        return model.units[static_cast<std::size_t>(f.first)].modes[static_cast<std::size_t>(f.second)].setting;
    });
    const auto& net = belief.net();
    const std::size_t count = joint.faults.size();
    const auto mode_at = [&](std::size_t i) -> const belief::UnitMode& {
        return model.units[static_cast<std::size_t>(joint.faults[i].first)].modes[static_cast<std::size_t>(joint.faults[i].second)];
    };
    std::vector<int> parent(count, -1);
    std::vector<const belief::Edge*> by(count, nullptr);
    const auto above = [&](std::size_t i, std::size_t k) { // whether k hangs below i
        for (int at = static_cast<int>(k); at >= 0; at = parent[static_cast<std::size_t>(at)])
            if (at == static_cast<int>(i)) return true;
        return false;
    };
    struct Link {
        const belief::Edge* edge;
        std::size_t from, to;
    };
    std::vector<Link> links;
    for (std::size_t i = 0; i < count; ++i)
        for (int e : net.into[static_cast<std::size_t>(joint.faults[i].first)]) {
            const auto& edge = net.edges[static_cast<std::size_t>(e)];
            for (std::size_t k = 0; k < count; ++k)
                if (joint.faults[k] == std::pair(edge.parent, edge.parent_mode) && edge.chance > mode_at(i).wear)
                    links.push_back({&edge, k, i});
        }
    std::stable_sort(links.begin(), links.end(), [](const Link& a, const Link& b) { return a.edge->chance > b.edge->chance; });
    for (const auto& link : links)
        if (parent[link.to] < 0 && !above(link.to, link.from)) {
            parent[link.to] = static_cast<int>(link.from);
            by[link.to] = link.edge;
        }
    Scenario out;
    const std::function<void(std::size_t)> tell = [&](std::size_t i) {
        Step step{mode_at(i).fault, parent[i] >= 0 ? Cause::Companion : out.steps.empty() ? Cause::Root : Cause::Independent, 0, 0, 0};
        if (by[i] != nullptr) {
            step = by[i]->told;
            step.fault = mode_at(i).fault;
        }
        out.steps.push_back(step);
        std::vector<std::size_t> children;
        for (std::size_t k = 0; k < count; ++k)
            if (parent[k] == static_cast<int>(i)) children.push_back(k);
        std::stable_sort(children.begin(), children.end(),
                         [&](std::size_t a, std::size_t b) { return by[a]->told.at_seconds < by[b]->told.at_seconds; });
        for (std::size_t k : children) tell(k);
    };
    for (std::size_t i = 0; i < count; ++i)
        if (parent[i] < 0) tell(i);
    tell_in_order(board, out);
    out.prior = joint.p;
    return out;
}

} // namespace ohmo
