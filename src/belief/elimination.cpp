// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/elimination.h"

#include <Eigen/OrderingMethods>
#include <Eigen/SparseCore>

#include <set>

namespace ohmo::belief {
namespace {

std::vector<std::pair<int, int>> joined(const Circuit& circuit) {
    std::vector<std::pair<int, int>> out;
    const auto join = [&](int a, int b) {
        if (a != b) out.emplace_back(a, b);
    };
    for (const auto& c : circuit.conductors) join(c.a, c.b);
    for (const auto& c : circuit.reservoirs) join(c.a, c.b);
    for (const auto& core : circuit.cores) {
        std::vector<int> ends;
        for (const auto& w : core.windings) ends.insert(ends.end(), {w.a, w.b});
        for (int a : ends)
            for (int b : ends) join(a, b);
    }
    return out;
}

// Turn by node: those with the fewest neighbours first, as they are when their turn comes.
std::vector<int> least_fill(int nodes, const std::vector<std::pair<int, int>>& pairs) {
    std::vector<Eigen::Triplet<double>> entries;
    for (int n = 0; n < nodes; ++n) entries.emplace_back(n, n, 1.0);
    for (const auto& [a, b] : pairs) {
        entries.emplace_back(a, b, 1.0);
        entries.emplace_back(b, a, 1.0);
    }
    Eigen::SparseMatrix<double> pattern(nodes, nodes);
    pattern.setFromTriplets(entries.begin(), entries.end());
    Eigen::PermutationMatrix<Eigen::Dynamic, Eigen::Dynamic, int> order;
    Eigen::AMDOrdering<int>()(pattern, order); // its indices: node by turn
    std::vector<int> turn(static_cast<std::size_t>(nodes));
    for (int k = 0; k < nodes; ++k) turn[static_cast<std::size_t>(order.indices()(k))] = k;
    return turn;
}

} // namespace

Elimination::Elimination(const Circuit& circuit) {
    const auto pairs = joined(circuit);
    m_turn = least_fill(circuit.nodes, pairs);
    std::vector<std::set<int>> column(m_turn.size()); // rows below the diagonal
    for (const auto& [a, b] : pairs) column[static_cast<std::size_t>(std::min(turn(a), turn(b)))].insert(std::max(turn(a), turn(b)));
    for (auto& rows : column) // what is left of a node's neighbours is joined by its going
        if (!rows.empty()) column[static_cast<std::size_t>(*rows.begin())].insert(std::next(rows.begin()), rows.end());
    for (const auto& rows : column) {
        m_first.push_back(static_cast<int>(m_row.size()));
        m_row.insert(m_row.end(), rows.begin(), rows.end());
    }
    m_first.push_back(static_cast<int>(m_row.size()));
    for (const auto& rows : column)
        for (auto i = rows.begin(); i != rows.end(); ++i)
            for (auto j = std::next(i); j != rows.end(); ++j) m_updated.push_back(at(*j, *i));
}

int Elimination::at(int row, int column) const {
    const auto from = m_row.begin() + m_first[static_cast<std::size_t>(column)];
    const auto to = m_row.begin() + m_first[static_cast<std::size_t>(column) + 1];
    return static_cast<int>(std::lower_bound(from, to, row) - m_row.begin());
}

template <typename T>
void Eliminated<T>::eliminate() {
    const int* updated = m_order.m_updated.data();
    const int* row = m_order.m_row.data();
    for (int k = 0; k < m_order.nodes(); ++k) {
        const int from = m_order.m_first[static_cast<std::size_t>(k)], to = m_order.m_first[static_cast<std::size_t>(k) + 1];
        const T pivot = 1.0 / m_diagonal(k);
        for (int i = from; i < to; ++i) {
            const T share = m_below(i) * pivot;
            m_diagonal(row[i]) -= share * m_below(i);
            for (int j = i + 1; j < to; ++j) m_below(*updated++) -= share * m_below(j);
        }
        for (int i = from; i < to; ++i) m_below(i) *= pivot;
    }
}

template <typename T>
typename Eliminated<T>::Vector Eliminated<T>::solve(const Vector& right) const {
    const int n = m_order.nodes();
    const int *row = m_order.m_row.data(), *first = m_order.m_first.data();
    Vector x(n);
    for (int node = 0; node < n; ++node) x(m_order.turn(node)) = right(node);
    for (int k = 0; k < n; ++k) {
        const T here = x(k);
        if (here == T(0)) continue;
        for (int i = first[k]; i < first[k + 1]; ++i) x(row[i]) -= m_below(i) * here;
    }
    for (int k = n - 1; k >= 0; --k) {
        T here = x(k) / m_diagonal(k);
        for (int i = first[k]; i < first[k + 1]; ++i) here -= m_below(i) * x(row[i]);
        x(k) = here;
    }
    Vector out(n);
    for (int node = 0; node < n; ++node) out(node) = x(m_order.turn(node));
    return out;
}

// All right sides at once, a row at a time.
template <typename T>
typename Eliminated<T>::Matrix Eliminated<T>::inverse() const {
    const int n = m_order.nodes();
    const int *row = m_order.m_row.data(), *first = m_order.m_first.data();
    Eigen::Matrix<T, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor> x = Matrix::Identity(n, n);
    for (int k = 0; k < n; ++k)
        for (int i = first[k]; i < first[k + 1]; ++i) x.row(row[i]).head(k + 1) -= m_below(i) * x.row(k).head(k + 1);
    for (int k = n - 1; k >= 0; --k) {
        x.row(k) /= m_diagonal(k);
        for (int i = first[k]; i < first[k + 1]; ++i) x.row(k) -= m_below(i) * x.row(row[i]);
    }
    Matrix out(n, n);
    for (int a = 0; a < n; ++a)
        for (int b = 0; b < n; ++b) out(b, a) = x(m_order.turn(a), m_order.turn(b));
    return out;
}

template class Eliminated<double>;
template class Eliminated<std::complex<double>>;

} // namespace ohmo::belief
