// SPDX-License-Identifier: GPL-3.0-or-later
// What a meter shows on an island at given values of the unknowns, and how that changes with each of them.
// Method: the linear part is inverted once per state of the board; junctions are ports of that inverse, with Newton's iteration over those
// that conduct; derivatives by one adjoint solve a reading (L. O. Chua and P.-M. Lin, Computer-Aided Analysis of Electronic Circuits, 1975,
// chapter 15). Alternating current: complex nodal analysis at the meter's frequency; a square wave by its harmonics.
#pragma once
#include "belief/circuit.h"
#include "belief/elimination.h"
#include "circuit/meter.h"

#include <Eigen/Dense>

#include <complex>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace ohmo::belief {

/// One place to read: nodes of a circuit, in one setting (units that are out of circuit).
struct Place {
    Quantity what = Quantity::Ohms;
    int red = -1, black = -1;
    int setting = 0;
    int meter = 0;
    bool operator==(const Place&) const = default;
};

/// Which range showed a value a little past the full scale of one: the one that comes nearer, that one, or the next.
enum class RangeTaken { Nearer, Below, Above };

/// What the display said, as far as the sums must know: a shown value has a range, and no compliance in the way.
struct Shown {
    double value = 0;
    bool over = false;
    RangeTaken taken = RangeTaken::Nearer;
};

/// Whether two ranges may have shown it.
bool on_the_edge(const MeterProfile& meter, const Shown& shown);

struct Forecast {
    double y = 0;     ///< on the axis of axis.h
    double value = 0; ///< SI
    bool over = false;
    double blur = 0;             ///< of y, by the sums alone: a capacitance behind more resistance than reactance
    Eigen::VectorXd slope;       ///< dy by unknown; empty when it was not asked for
    Eigen::VectorXd volts, pull; ///< direct current only: node volts, and what a current into a node changes; for screening
    std::vector<int> ports;      ///< junctions that conduct, -1: the meter's compliance
    std::vector<double> port_volts, port_siemens;
    double amps = 0;
    int range = -1;       ///< of a meter that shows ohms
    double ohm_slope = 0; ///< dy per volt at the leads
};

/// An island at one set of values. Lazy: each setting is solved when it is first asked for. Not for two threads at once.
class Network {
public:
    /// `out`: by setting, whether a unit is out of circuit. All must outlive this.
    Network(const Circuit& circuit, const std::vector<std::vector<char>>& out, const std::vector<MeterProfile>& meters,
            const std::vector<double>& values)
        : m_circuit(circuit), m_order(circuit.order ? circuit.order : std::make_shared<const Elimination>(circuit)), m_out(out),
          m_meters(meters), m_values(values), m_direct(out.size()), m_alternating(out.size()) {
        for (const auto& j : circuit.junctions) {
            m_draws.push_back(drawn_by(j));
            m_saturation.push_back(std::exp(value(j.is)));
        }
    }

    /// `like`: a forecast of the same reading at other values; saves time only. May be the one that is assigned to.
    Forecast read(const Place& place, const Shown* shown, bool slopes, const Forecast* like = nullptr);

    const Eigen::MatrixXcd& alternating(const Place& place); ///< volts at each node for an ampere into each other one
    double omega(const Place& place) const;
    /// Ohms between two nodes as a small current sees them while `f` is read: junctions that conduct included. `f` must outlive this.
    double between(const Place& place, const Forecast& f, int a, int b);

private:
    using Complex = std::complex<double>;
    struct Alternating {
        Eliminated<Complex> matrix;
        std::optional<Eigen::MatrixXcd> inverse;
    };
    const Eigen::MatrixXd& direct(int setting);
    Alternating& factored(const Place& place, double omega);
    Eigen::VectorXcd node_volts(const Place& place, double omega); ///< for an ampere from red to black
    bool is_out(int setting, int unit) const {
        return unit >= 0 && m_out[static_cast<std::size_t>(setting)][static_cast<std::size_t>(unit)] != 0;
    }
    struct Operating;
    std::pair<int, int> ends(const Place& place, int port) const; ///< nodes
    void draw(const Place& place, const Eigen::MatrixXd& z, int port, double amps, Eigen::VectorXd& volts) const;
    double drawn(const Place& place, const Eigen::MatrixXd& z, int a, int b, int port) const;
    double operate(const Place& place, const Eigen::MatrixXd& z, double amps, double compliance, Operating& at, const Forecast* like) const;
    void adjoint(const Place& place, const Eigen::MatrixXd& z, const Operating& at, Forecast& out) const;
    void slopes(const Place& place, const Operating& at, double factor, Forecast& out) const;
    Forecast read_direct(const Place& place, const Shown* shown, bool slopes, const Forecast* like);
    Forecast read_alternating(const Place& place, const Shown* shown, bool slopes);
    Forecast read_square(const Place& place, bool slopes);
    void add_slopes(const Place& place, const Eigen::VectorXcd& v, double omega, const std::function<double(Complex)>& chain,
                    Forecast& out) const;
    double wound_share(const Place& place, const Eigen::VectorXcd& v, double w) const;
    std::array<double, 3> drawn_by(const JunctionPath& j) const {
        if (j.gain < 0) return j.draws;
        const double base = j.draws[0] * std::exp(-value(j.gain));
        return {j.draws[0], base, -j.draws[0] - base};
    }
    double value(int unknown) const { return m_values[static_cast<std::size_t>(unknown)]; }
    int meter_unknown(const Place& place, int which) const { return place.meter * MeterUnknown::kCount + which; }

    const Circuit& m_circuit;
    std::shared_ptr<const Elimination> m_order;
    const std::vector<std::vector<char>>& m_out;
    const std::vector<MeterProfile>& m_meters;
    const std::vector<double>& m_values;
    std::vector<std::array<double, 3>> m_draws; ///< by junction
    std::vector<double> m_saturation;           ///< amperes, by junction
    std::vector<std::optional<Eigen::MatrixXd>> m_direct;
    std::vector<std::map<double, Alternating>> m_alternating; ///< by setting and radians a second
    std::map<const Forecast*, Eigen::PartialPivLU<Eigen::MatrixXd>> m_conducting;
};

/// Admittance of a capacitor at these values of its unknowns.
std::complex<double> admittance(const Reservoir& of, double ln_farads, double esr, double omega);

/// Impedances of coupled windings, ohm, with their unknowns' values.
Eigen::MatrixXcd impedances(const Core& core, double omega, const std::function<double(int)>& value);

} // namespace ohmo::belief
