// SPDX-License-Identifier: GPL-3.0-or-later
// Steady volts and ripple of a unit under power with a set of faults, averaged.
#pragma once
#include "circuit/solver_store.h"
#include "damage/behaviour.h"

#include <map>
#include <memory>
#include <vector>

namespace ohmo {

struct RailFigure {
    double volts = 0;  ///< with the sign of the rail
    double sigma = 0;  ///< volts
    double ripple = 0; ///< volts, peak to peak
};

struct Figures {
    double bulk_volts = 0, bulk_ripple = 0; ///< at the crest, peak to peak; 0 without a bulk capacitor on the mains
    std::vector<RailFigure> rails;          ///< by rail
};

/// One board's figures; remembers what it has solved. Not thread safe; make one per thread. `board` must outlive it.
class FiguresModel {
public:
    FiguresModel(const Board& board, BoardRoles roles);

    /// At `load`, a share of the rails' full currents.
    Figures of(const std::vector<Fault>& faults, const Behaviour& behaviour, double load = 1);

private:
    enum class Source { Switched, Reservoir, Input };
    struct Feed {       ///< of a rail
        NetId net = -1; ///< where its rectifier or choke delivers
        Source source = Source::Input;
        std::vector<int> regulators; ///< pass transistors and regulators between it and the rail
        std::vector<int> reservoirs; ///< wet capacitors on it
        double crests = 2;           ///< a line cycle
        bool wound = false;          ///< a winding feeds it through a rectifier
    };
    double filtering_ohms(std::size_t rail, const std::vector<Fault>& faults);
    double ripple(std::size_t rail, const std::vector<Fault>& faults, double load);
    double let_through(std::size_t rail, const std::vector<Fault>& faults) const;
    bool moved(std::size_t rail, const std::vector<Fault>& faults, LoopLoss how) const;
    double farads(const std::vector<int>& parts, bool stacked, const std::vector<Fault>& faults) const;

    const Board& m_board;
    BoardRoles m_roles;
    SolverStore m_solvers;
    std::vector<Feed> m_feeds;
    std::map<std::vector<Fault>, std::vector<double>> m_filtering; ///< by what changes the filters: ohms by rail
};

} // namespace ohmo
