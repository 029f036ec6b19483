// SPDX-License-Identifier: GPL-3.0-or-later
// Units of an island that no reading in circuit tells apart: the same elements between the same nodes, with the same figures and modes, out
// of circuit together or not at all. What was worked out for one of them holds for all.
#pragma once
#include "belief/fit.h"
#include "belief/model.h"

#include <cstdint>
#include <vector>

namespace ohmo::belief {

struct DirectEvidence;

class Twins {
public:
    Twins() = default;
    Twins(const Model& model, const Island& island, const Bench& bench, const DirectEvidence& direct);

    bool none() const { return m_groups.empty(); }
    const std::vector<std::vector<std::size_t>>& groups() const { return m_groups; }
    /// Modes with those of twins in order: equal for states that differ only in which of them it is.
    std::vector<std::uint8_t> in_order(std::vector<std::uint8_t> mode) const;
    /// Values of the unknowns at modes `to`, from those at modes `from`; both are the same in order.
    std::vector<double> exchanged(std::vector<double> values, const std::vector<std::uint8_t>& from,
                                  const std::vector<std::uint8_t>& to) const;

private:
    std::vector<std::vector<std::size_t>> m_groups; ///< positions of twins, two at least
    std::vector<std::vector<int>> m_unknowns;       ///< by position
};

} // namespace ohmo::belief
