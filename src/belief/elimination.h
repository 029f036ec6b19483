// SPDX-License-Identifier: GPL-3.0-or-later
// The nodal matrix of a circuit, solved by symmetric elimination in an order that fills little in. The order follows from what is joined to
// what, which no value changes: it is found once a circuit (A. George and J. W. Liu, Computer Solution of Large Sparse Positive Definite
// Systems, 1981). Without pivoting: the real part is positive definite and stays so in what is left, so that no pivot vanishes. How far
// they may grow is bounded for real matrices, and for complex ones where the imaginary part is definite too (N. J. Higham, Math. Comp. 67,
// 1998); where inductances and capacitances swing against each other it is not, and only tests against a dense LU say that it is enough.
#pragma once
#include "belief/circuit.h"

#include <Eigen/Dense>

#include <complex>

namespace ohmo::belief {

/// Where the matrix of a circuit keeps what, and what is eliminated when. A node's place is its turn.
class Elimination {
public:
    explicit Elimination(const Circuit& circuit);

    int nodes() const { return static_cast<int>(m_turn.size()); }
    int turn(int node) const { return m_turn[static_cast<std::size_t>(node)]; }
    /// Of what two different nodes that an element joins share, below the diagonal.
    int slot(int a, int b) const { return at(std::max(turn(a), turn(b)), std::min(turn(a), turn(b))); }

private:
    template <typename T>
    friend class Eliminated;
    int at(int row, int column) const; ///< slot, by turns
    std::vector<int> m_turn;           ///< by node
    std::vector<int> m_first;          ///< by turn: of its column's slots; one more at the end
    std::vector<int> m_row;            ///< by slot
    std::vector<int> m_updated;        ///< what each column changes, in the order of the elimination
};

/// The matrix with its values, real or complex; filled by add(), then eliminated once.
template <typename T>
class Eliminated {
public:
    using Vector = Eigen::Matrix<T, Eigen::Dynamic, 1>;
    using Matrix = Eigen::Matrix<T, Eigen::Dynamic, Eigen::Dynamic>;

    /// `to_earth`: siemens at every node.
    Eliminated(const Elimination& order, double to_earth)
        : m_order(order), m_diagonal(Vector::Constant(order.nodes(), T(to_earth))),
          m_below(Vector::Zero(static_cast<Eigen::Index>(order.m_row.size()))) {}

    void add_to_earth(int node, T siemens) { m_diagonal(m_order.turn(node)) += siemens; }
    void add(int a, int b, T siemens) {
        if (a == b) return;
        add_to_earth(a, siemens);
        add_to_earth(b, siemens);
        add_between(a, b, -siemens);
    }
    /// To both entries of two nodes, which may be the same one.
    void add_between(int a, int b, T siemens) {
        if (a == b)
            m_diagonal(m_order.turn(a)) += 2.0 * siemens;
        else
            m_below(m_order.slot(a, b)) += siemens;
    }

    void eliminate();
    Vector solve(const Vector& right) const;
    Matrix inverse() const; ///< symmetric

private:
    const Elimination& m_order;
    Vector m_diagonal, m_below; ///< of D and L once it is eliminated
};

extern template class Eliminated<double>;
extern template class Eliminated<std::complex<double>>;

} // namespace ohmo::belief
