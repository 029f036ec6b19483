// SPDX-License-Identifier: GPL-3.0-or-later
// What one changed mode would do to every reading, without solving the board again: each conductor or capacitor that changes is a change of
// rank one of the inverse (J. Sherman and W. J. Morrison, 1950), the innovation matrix is held.
#pragma once
#include "belief/fit.h"
#include "belief/model.h"

#include <optional>
#include <vector>

namespace ohmo::belief {

/// Where each unknown of a circuit stands.
struct Whereabouts {
    std::vector<std::vector<int>> conductors, junctions, reservoirs; ///< by unknown
    static Whereabouts of(const Circuit& circuit, std::size_t unknowns);
};

class Screen {
public:
    /// Around the values of `base`, whose forecasts and innovation are used. All must outlive this.
    Screen(const Circuit& circuit, const Whereabouts& where, const Bench& bench, const std::vector<Unknown>& prior,
           const std::vector<Sight>& seen, const Fit& base);

    /// Change of a reading when these unknowns take middle + z spread; nothing where a junction that carries current comes or goes.
    std::optional<double> moved(std::size_t reading, const std::vector<Override>& values, double z);

    /// ln of how much better the readings agree with these middles and spreads in place of the present ones, at the best of their values;
    /// nothing where that cannot be told without solving.
    std::optional<double> gain(const std::vector<Override>& values);

private:
    double moved_direct(std::size_t reading, const Override& value, double to);
    double moved_alternating(std::size_t reading, const std::vector<Override>& values, double z);
    double at(int unknown) const { return m_base.values[static_cast<std::size_t>(unknown)]; }
    bool out_of(std::size_t reading, int unit) const {
        return unit >= 0 && m_bench.out[static_cast<std::size_t>(m_seen[reading].place.setting)][static_cast<std::size_t>(unit)] != 0;
    }

    const Circuit& m_circuit;
    const Whereabouts& m_where;
    const Bench& m_bench;
    const std::vector<Sight>& m_seen;
    const Fit& m_base;
    Network m_network;
    Eigen::VectorXd m_innovation;
    double m_misfit = 0;
};

} // namespace ohmo::belief
