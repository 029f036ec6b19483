// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/outcomes.h"

#include "base/statistics.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

constexpr int kCells = 96;
constexpr double kReach = 6; // deviations either side of a prediction

struct Axis {
    double lo, hi;
    double cell() const { return (hi - lo) / kCells; }
};

Axis whole_axis(Quantity what) {
    const auto& q = quantity_info(what);
    return {score_axis(what, q.least), score_axis(what, q.most)};
}

double entropy(double p) { return p > 0 ? -p * std::log2(p) : 0; }

double spread_of(const Prediction& p, int known) {
    double variance = p.sigma * p.sigma;
    for (const auto& d : p.by_part)
        if (d.part == known) variance -= d.change * d.change;
    return std::sqrt(std::max(variance, known < 0 ? p.sigma * p.sigma : std::pow(0.03, 2)));
}

// What blunders give every cell, over-range and all that lies beside the grid.
struct Floor {
    double cell, over, beside;
};

std::vector<std::pair<const Prediction*, double>> told_apart(const std::vector<std::pair<const Prediction*, double>>& predicted) {
    std::map<Alike, std::size_t> index;
    std::vector<std::pair<const Prediction*, double>> out;
    for (const auto& [p, mass] : predicted) {
        const auto [at, fresh] = index.try_emplace(alike(*p), out.size());
        if (fresh)
            out.emplace_back(p, mass);
        else
            out[at->second].second += mass;
    }
    return out;
}

// Outcome distribution of one prediction beyond that floor.
struct Outcomes {
    int first = 0; ///< cell of cells[0]
    std::vector<float> cells;
    double over = 0;
    double entropy = 0; ///< of the whole, the floor included
};

Outcomes outcomes(const Prediction& p, double spread, Quantity what, const Axis& axis, const Floor& floor, double blunder) {
    Outcomes out;
    const auto total = [&] {
        double h = static_cast<double>(kCells - static_cast<int>(out.cells.size())) * entropy(floor.cell) + entropy(floor.over + out.over) +
                   entropy(floor.beside);
        for (float c : out.cells) h += entropy(floor.cell + static_cast<double>(c));
        return h;
    };
    if (p.over) {
        out.over = 1 - blunder;
        out.entropy = total();
        return out;
    }
    const double spread_in_cells = std::max(spread, axis.cell() / 2);
    const auto cell = [&](double x) { return std::clamp(static_cast<int>((x - axis.lo) / axis.cell()), 0, kCells - 1); };
    const double other = p.alternate_x.value_or(p.x), reach = kReach * spread_in_cells;
    out.first = cell(std::min(p.x, other) - reach);
    const int last = cell(std::max(p.x, other) + reach);
    out.cells.assign(static_cast<std::size_t>(last - out.first) + 1, 0.0F);
    const bool ends_over = what == Quantity::Ohms && axis.hi >= whole_axis(what).hi - 1e-9;
    const auto add = [&](double x, double share) {
        const bool none = what == Quantity::Farads && x < whole_axis(what).lo + 1e-6; // no capacitor found: one outcome
        const double sigma = none ? axis.cell() / 2 : spread_in_cells;
        double before = 0;
        for (std::size_t i = 0; i < out.cells.size(); ++i) {
            const int c = out.first + static_cast<int>(i);
            const double upto = c + 1 == kCells && !ends_over ? 1.0 : normal_cdf((axis.lo + (c + 1) * axis.cell() - x) / sigma);
            out.cells[i] += static_cast<float>((1 - blunder) * share * (upto - before));
            before = upto;
        }
        out.over += (1 - blunder) * share * (1 - before);
    };
    if (p.alternate_x) {
        add(p.x, 0.5);
        add(*p.alternate_x, 0.5);
    } else {
        add(p.x, 1.0);
    }
    out.entropy = total();
    return out;
}

} // namespace

Alike alike(const Prediction& p) {
    if (p.over) return {1, 0, 0, 0, 0};
    const double grade = std::floor(std::log(std::max(p.sigma, 1e-6)) / 0.05), step = std::exp(0.05 * grade) / 10;
    const auto cell = [&](double x) { return std::lround(x / step); };
    return {0, static_cast<long>(grade), cell(p.x), p.alternate_x ? 1 : 0, cell(p.alternate_x.value_or(0))};
}

double reading_information(const Practice& practice, const std::vector<std::pair<const Prediction*, double>>& all, Quantity what, int known,
                           double least) {
    const auto predicted = known < 0 ? told_apart(all) : all;
    if (predicted.size() < 2) return 0;
    double most = 0; // it cannot tell more than which of them it is
    for (const auto& [p, mass] : predicted) most += entropy(mass);
    if (most < least) return most;
    const Axis whole = whole_axis(what);
    Axis axis{whole.hi, whole.lo};
    std::vector<double> spread;
    for (const auto& [p, mass] : predicted) {
        spread.push_back(spread_of(*p, known));
        if (p->over) continue;
        const double other = p->alternate_x.value_or(p->x), reach = kReach * spread.back();
        axis.lo = std::min(axis.lo, std::min(p->x, other) - reach);
        axis.hi = std::max(axis.hi, std::max(p->x, other) + reach);
    }
    axis = {std::max(axis.lo, whole.lo), std::min(axis.hi, whole.hi)};
    if (axis.hi - axis.lo < 1e-6) axis = whole; // nothing but over-range, or all off the scale
    const double inside = (axis.hi - axis.lo) / (whole.hi - whole.lo);
    const double blunder = practice.blunder;
    const Floor floor{blunder * (1 - practice.blunder_over) * inside / kCells, blunder * practice.blunder_over,
                      blunder * (1 - practice.blunder_over) * (1 - inside)};
    std::array<double, kCells> mixed;
    mixed.fill(floor.cell);
    double over = floor.over, conditional = 0;
    for (std::size_t k = 0; k < predicted.size(); ++k) {
        const auto& [p, mass] = predicted[k];
        const Outcomes o = outcomes(*p, spread[k], what, axis, floor, blunder);
        for (std::size_t i = 0; i < o.cells.size(); ++i)
            mixed[static_cast<std::size_t>(o.first) + i] += mass * static_cast<double>(o.cells[i]);
        over += mass * o.over;
        conditional += mass * o.entropy;
    }
    double total = entropy(over) + entropy(floor.beside);
    for (double p : mixed) total += entropy(p);
    return std::max(0.0, total - conditional);
}

double word_information(const std::vector<WordCase>& cases) {
    if (cases.size() < 2) return 0;
    double total = 0, conditional = 0;
    for (std::size_t w = 0; w < cases.front().chance.size(); ++w) {
        double p = 0;
        for (const auto& c : cases) {
            p += c.p * c.chance[w];
            conditional += c.p * entropy(c.chance[w]);
        }
        total += entropy(p);
    }
    return std::max(0.0, total - conditional);
}

} // namespace ohmo
