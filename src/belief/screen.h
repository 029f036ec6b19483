// SPDX-License-Identifier: GPL-3.0-or-later
// What one changed mode would do to every reading, without solving the board again: each conductor or capacitor that changes is a change of
// rank one of the inverse (J. Sherman and W. J. Morrison, 1950), coupled windings one of their number (M. A. Woodbury, Inverting modified
// matrices, 1950); the innovation matrix is held.
#pragma once
#include "belief/fit.h"
#include "belief/model.h"

#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace ohmo::belief {

/// Where each unknown of a circuit stands.
struct Whereabouts {
    std::vector<std::vector<int>> conductors, junctions, reservoirs, cores; ///< by unknown
    static Whereabouts of(const Circuit& circuit, std::size_t unknowns);
};

class Screen {
public:
    /// Around the values of `base`, whose forecasts and innovation are used. All must outlive this.
    Screen(const Circuit& circuit, const Whereabouts& where, const Bench& bench, const std::vector<Unknown>& prior,
           const std::vector<Sight>& seen, const Fit& base);

    /// Change of a reading when these unknowns take middle + z spread; by the change of one conductance where that has digits enough,
    /// else solved.
    double moved(std::size_t reading, const std::vector<Override>& values, double z);
    /// The same where several of them carry one current, so that each alone moves less than all at once.
    double moved_together(std::size_t reading, const std::vector<Override>& values, double z);
    /// The same by solving the network anew, whatever that takes.
    double moved_solved(std::size_t reading, const std::vector<Override>& values, double z);

    /// ln of how much better the readings agree with these middles and spreads in place of the present ones, at the best of their values.
    double gain(const std::vector<Override>& values);

    /// What the readings pulled far from what it was taken to be, between the very nodes where these values would conduct: with them it
    /// goes back.
    std::vector<Override> let_go(const std::vector<Override>& values) const;

private:
    /// The network with these unknowns at other values, and what was read of it.
    struct Solved {
        std::vector<double> values;
        std::unique_ptr<Network> network;
        std::map<std::size_t, Forecast> forecasts;
    };
    /// What a conductor is to a direct reading.
    struct Path {
        double across = 0; ///< ohms between its ends, junctions as they conduct there
        double volts = 0;  ///< at the leads, for a siemens more of it, as long as that changes little
    };
    const Path& path(std::size_t reading, int conductor);
    double misfit(const Eigen::VectorXd& innovation) const;
    Solved& solved(const std::vector<Override>& values, double z);
    const Forecast& solved_reading(Solved& there, std::size_t reading);
    double left(std::size_t reading, const Forecast& f) const;                           ///< of what was read, on its axis
    std::vector<std::pair<int, int>> ends_of(const std::vector<Override>& values) const; ///< of the conductors among them
    bool side_by_side(const std::vector<Override>& values) const;
    bool one_behind_the_other(const std::vector<Override>& values) const;
    std::optional<double> moved_about(std::size_t reading, const std::vector<Override>& values, double z);
    std::optional<double> moved_direct(std::size_t reading, const Override& value, double to);
    double moved_alternating(std::size_t reading, const std::vector<Override>& values, double z);
    double gain_solved(const std::vector<Override>& values, const std::vector<std::optional<double>>& about);
    double at(int unknown) const { return m_base.values[static_cast<std::size_t>(unknown)]; }
    bool out_of(std::size_t reading, int unit) const {
        return unit >= 0 && m_bench.out[static_cast<std::size_t>(m_seen[reading].place.setting)][static_cast<std::size_t>(unit)] != 0;
    }

    const Circuit& m_circuit;
    const Whereabouts& m_where;
    const Bench& m_bench;
    const std::vector<Unknown>& m_prior;
    const std::vector<Sight>& m_seen;
    const Fit& m_base;
    Network m_network;
    std::vector<std::optional<Path>> m_paths; ///< by reading and conductor, as they are asked for
    Eigen::VectorXd m_innovation;
    double m_misfit = 0, m_ln_determinant = 0;
    std::map<std::vector<double>, Solved> m_solved; ///< by unknowns and their values
};

} // namespace ohmo::belief
