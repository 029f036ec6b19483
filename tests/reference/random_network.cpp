// SPDX-License-Identifier: GPL-3.0-or-later
#include "reference/random_network.h"

#include <cmath>

namespace ohmo::test {

Netlist random_network(std::mt19937& random, const NetworkKind& kind) {
    Netlist net;
    net.nodes = 4 + static_cast<int>(random() % 9);
    const auto pick = [&] { return static_cast<int>(random() % static_cast<unsigned>(net.nodes)); };
    const auto between = [&](double low, double high) { return std::uniform_real_distribution<double>(low, high)(random); };
    const auto decade = [&](double low, double high) { return std::pow(10, between(low, high)); };
    const auto pair = [&] {
        const int a = pick();
        int b = pick();
        while (b == a) b = pick();
        return std::pair(a, b);
    };
    const double least = kind.stores ? 0.5 : 0, most = kind.stores ? 4 : 6;
    int part = 0;
    for (int i = 1; i < net.nodes; ++i)
        net.resistors.push_back({i, static_cast<int>(random() % static_cast<unsigned>(i)), decade(least, most), 0.02, part++});
    for (int k = 0; k < net.nodes / 2; ++k) {
        const auto [a, b] = pair();
        net.resistors.push_back({a, b, decade(least, most), 0.02, part++});
    }
    if (!kind.resistors_only) {
        for (int k = 0; k < 3; ++k) { // diodes, then a Zener
            const auto [a, b] = pair();
            net.junctions.push_back({a, b, decade(-14, -7), between(1, 2), k == 2 ? between(3, 12) : 0.0, 0.5, part++, between(0, 0.5)});
        }
        for (int k = 0; k < 2; ++k) {
            const auto [c, b] = pair();
            int e = pick();
            while (e == b || e == c) e = pick();
            net.bipolars.push_back({c, b, e, random() % 2 == 0, decade(-15, -13), between(10, 200), between(0.5, 4), 8, 0.5, part++});
        }
        const auto [d, s] = pair();
        int g = pick();
        while (g == d || g == s) g = pick();
        net.channels.push_back({d, g, s, random() % 4 == 0, between(0.6, 4), decade(-3, 0), 0.3, part++});
        net.junctions.push_back({net.channels.back().p ? d : s, net.channels.back().p ? s : d, 1e-10, 1.2, 0, 0.5, part++});
    }
    if (kind.stores) {
        for (int k = 0; k < 3; ++k) {
            const auto [a, b] = pair();
            net.capacitors.push_back({a, b, decade(-7, -4.5), decade(-1.5, 0.5), 0.1, 0.3, part++});
        }
        const auto [a, b] = pair();
        const auto [c, d] = pair();
        net.cores.push_back({{{a, b, decade(-4, -2.5), between(0.1, 1)}, {c, d, decade(-4, -2.5), between(0.1, 1)}}, 0.95, 0.15, 0.15, part++});
        for (const auto& w : net.cores.back().windings) net.resistors.push_back({w.a, w.b, decade(2, 3), 0.02, part++});
    }
    if (random() % 2 == 0) {
        const auto [a, b] = pair();
        net.resistors.push_back({a, b, random() % 2 == 0 ? 0.3 : 3e3, 0.02, part++});
        if (net.nodes > 5 && random() % 2 == 0)
            net.resistors[net.nodes + random() % static_cast<unsigned>(net.nodes / 2) - 1].ohms = kOpenOhms;
    }
    return net;
}

} // namespace ohmo::test
