// SPDX-License-Identifier: GPL-3.0-or-later
// Sparse elimination without pivoting against the library's dense LU with pivots, on circuits at random: conductances over twelve decades,
// capacitors, coupled windings.
#include "belief/elimination.h"

#include <gtest/gtest.h>

#include <random>

using namespace ohmo::belief;
using Complex = std::complex<double>;

namespace {

Circuit at_random(std::mt19937& random, int nodes) {
    Circuit c;
    c.nodes = nodes;
    std::uniform_int_distribution<int> node(0, nodes - 1);
    const auto pair = [&] {
        int a = node(random), b = node(random);
        while (b == a) b = node(random);
        return std::pair(a, b);
    };
    for (int n = 1; n < nodes; ++n) c.conductors.push_back({n, std::uniform_int_distribution<int>(0, n - 1)(random), 0, 0});
    for (int k = 0; k < nodes; ++k) {
        const auto [a, b] = pair();
        c.conductors.push_back({a, b, 0, 0});
    }
    for (int k = 0; k < nodes / 3; ++k) {
        const auto [a, b] = pair();
        c.reservoirs.push_back({a, b, 0, 0, 0.02, 0});
    }
    const auto [a, b] = pair();
    const auto [d, e] = pair();
    c.cores.push_back({{{a, b, 0, 0, 0}, {d, e, 0, 0, 0}}, 0.98});
    return c;
}

template <typename T>
void check(const Eliminated<T>& sparse, const typename Eliminated<T>::Matrix& dense) {
    const typename Eliminated<T>::Matrix by_lu = dense.inverse(), ours = sparse.inverse();
    EXPECT_LT((by_lu - ours).norm(), 1e-6 * by_lu.norm());
    typename Eliminated<T>::Vector right = Eliminated<T>::Vector::Zero(dense.rows());
    right(0) = 1;
    right(dense.rows() - 1) = -1;
    const typename Eliminated<T>::Vector x = sparse.solve(right);
    EXPECT_LT((dense * x - right).norm(), 1e-6);
}

} // namespace

TEST(Elimination, SolvesWhatTheDenseLibrarySolves) {
    std::mt19937 random(20);
    std::uniform_real_distribution<double> decades(-9, 3), resistance(-3, 0);
    for (int round = 0; round < 60; ++round) {
        const Circuit c = at_random(random, 4 + round);
        const Elimination order(c);
        ASSERT_EQ(order.nodes(), c.nodes);
        Eliminated<double> real(order, 1e-13);
        Eigen::MatrixXd dense = 1e-13 * Eigen::MatrixXd::Identity(c.nodes, c.nodes);
        real.add_to_earth(0, 1);
        dense(0, 0) += 1;
        const auto stamp = [](auto& g, int a, int b, auto y) {
            g(a, a) += y;
            g(b, b) += y;
            g(a, b) -= y;
            g(b, a) -= y;
        };
        for (const auto& e : c.conductors) {
            const double s = std::pow(10, decades(random));
            real.add(e.a, e.b, s);
            stamp(dense, e.a, e.b, s);
        }
        real.eliminate();
        check(real, dense);
        Eliminated<Complex> complex(order, 1e-11);
        Eigen::MatrixXcd g = dense.cast<Complex>();
        for (const auto& e : c.conductors) complex.add(e.a, e.b, 0.0);
        g += 1e-11 * Eigen::MatrixXcd::Identity(c.nodes, c.nodes);
        // the same conductances, read back from the dense matrix, then what only alternating current meets
        for (int a = 0; a < c.nodes; ++a) {
            complex.add_to_earth(a, dense(a, a));
            for (int b = 0; b < a; ++b)
                if (dense(a, b) != 0) complex.add_between(a, b, dense(a, b));
        }
        for (const auto& e : c.reservoirs) {
            const Complex y = 1.0 / Complex(std::pow(10, resistance(random)), -std::pow(10, resistance(random) + 2));
            complex.add(e.a, e.b, y);
            stamp(g, e.a, e.b, y);
        }
        for (const auto& core : c.cores) {
            Eigen::Matrix2cd z;
            z << Complex(0.5, 200), Complex(0, 0.98 * 100), Complex(0, 0.98 * 100), Complex(0.1, 50);
            const Eigen::Matrix2cd y = z.inverse();
            const auto &p = core.windings[0], &q = core.windings[1];
            complex.add(p.a, p.b, y(0, 0));
            stamp(g, p.a, p.b, y(0, 0));
            complex.add(q.a, q.b, y(1, 1));
            stamp(g, q.a, q.b, y(1, 1));
            for (const auto& [a, b, sign] :
                 {std::tuple(p.a, q.a, 1.0), std::tuple(p.b, q.b, 1.0), std::tuple(p.a, q.b, -1.0), std::tuple(p.b, q.a, -1.0)}) {
                complex.add_between(a, b, sign * y(0, 1));
                g(a, b) += sign * y(0, 1);
                g(b, a) += sign * y(0, 1);
            }
        }
        complex.eliminate();
        check(complex, g);
    }
}

// What nothing joins needs no place: a chain fills nothing in.
TEST(Elimination, AChainFillsNothingIn) {
    Circuit c;
    c.nodes = 50;
    for (int n = 1; n < 50; ++n) c.conductors.push_back({n, n - 1, 0, 0});
    const Elimination order(c);
    std::size_t worst = 0;
    for (int n = 1; n < 50; ++n) worst = std::max(worst, static_cast<std::size_t>(order.slot(n, n - 1)));
    EXPECT_EQ(worst, 48U) << "49 slots, one a link";
}
