// SPDX-License-Identifier: GPL-3.0-or-later
// Wear and chains as one net: a part is sound if neither its own wear nor any fault that stands brought it down (noisy-or: J. Pearl,
// Probabilistic Reasoning in Intelligent Systems, 1988, section 4.3). The chances of its edges are those of the surge runs and slow causes,
// held to what the trade sees. No fault is "the" root; any number may stand together.
#pragma once
#include "belief/model.h"
#include "damage/enumerate.h"

#include <array>
#include <vector>

namespace ohmo::belief {

/// One fault that brings another with it.
struct Edge {
    int parent, parent_mode; ///< unit and mode
    int child, child_mode;
    double chance;
    Step told; ///< how the sums tell it; cause Companion where only the trade says so
};

struct Net {
    std::vector<Edge> edges;
    std::vector<std::vector<int>> into, out_of; ///< by unit
    std::vector<int> circle;                    ///< by unit: number of the circle of parts that bring each other down, -1 for none
    int circles = 0;
};

/// The chains as edges between units of `model`.
Net make_net(const Model& model, const Board& board, const BoardRoles& roles, const RootFaults& roots);

/// Chance that a fault which stands takes something else along as soon as power goes on.
double takes_along(const Net& net, int unit, int mode);

/// Chance that all of a circle stand: each fell by a cause outside it, with chance `own`, or was brought down by one that had fallen, j by
/// i with chance `by[i][j]`. Two parts that bring each other down do not stand for want of a cause. By sets that fall first, cost 3^n;
/// larger ones are taken as if all but the surest had a cause of their own.
inline constexpr std::size_t kLargestCircle = 9;
double chance_of_circle(const std::vector<double>& own, const std::vector<std::vector<double>>& by);

/// Unit and mode of a fault, {-1, 0} where the model has none. A mode without its place matches any place.
std::pair<int, int> find_mode(const Model& model, const Fault& fault);

/// One latent age for each family whose parts wear together: the wet capacitors of a unit are young, usual or worn out.
inline constexpr int kAges = 3;
struct Ages {
    std::array<double, kAges> factor{}, chance{};
    static Ages of(const Practice& practice);
};

/// Chances of a unit's modes at one age, given which modes its parents stand in. `mode_of` answers with a parent's mode, 0 for none.
template <class ModeOf>
void mode_chances(const Unit& unit, const std::vector<Edge>& edges, const std::vector<int>& into, double age, const ModeOf& mode_of,
                  std::vector<double>& out) {
    out.assign(unit.modes.size(), 0);
    double fine = 1;
    const double factor = unit.ages ? age : 1, wear = unit.wear() * factor;
    const double held = wear > 0.6 ? factor * 0.6 / wear : factor;
    for (std::size_t m = 1; m < unit.modes.size(); ++m) out[m] = unit.modes[m].wear * held;
    fine -= wear > 0.6 ? 0.6 : wear;
    for (int e : into) {
        const Edge& edge = edges[static_cast<std::size_t>(e)];
        if (mode_of(edge.parent) != edge.parent_mode) continue;
        out[static_cast<std::size_t>(edge.child_mode)] += edge.chance;
        fine *= 1 - edge.chance;
    }
    double sum = 0;
    for (double p : out) sum += p;
    out[0] = fine;
    if (sum > 0)
        for (std::size_t m = 1; m < out.size(); ++m) out[m] *= (1 - fine) / sum;
}

} // namespace ohmo::belief
