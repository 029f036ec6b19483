// SPDX-License-Identifier: GPL-3.0-or-later
// The rank-one screen against solving anew: shorts, opens in the path of the current, junctions that go.
#include "belief/screen.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::belief;

namespace {

// A source resistor in the path, a way round it, a divider to ground and a junction across part of it; unknowns behind those of the meter.
struct Divider {
    static constexpr int kFirst = MeterUnknown::kCount;
    Circuit circuit;
    Bench bench;
    std::vector<Unknown> prior;
    std::vector<Sight> seen;

    Divider() {
        const Practice& p = shipped_practice();
        bench.meters.push_back(MeterProfile{});
        bench.out.push_back(std::vector<char>(8, 0));
        prior.assign(MeterUnknown::kCount, {0, 1e-3});
        circuit.nodes = 4;
        resistor(1, 2, 0.33);
        resistor(1, 2, 47e3); // the way round
        resistor(2, 3, 10e3);
        resistor(3, 0, 4.7e3);
        resistor(1, 0, 150e3);
        prior.push_back({-20, 0.5});
        circuit.junctions.push_back({3, 0, 2, {3, 0, 0}, {1, -1, 0}, kFirst + 5, 1.8, 5});
        for (const auto& [red, black] : std::vector<std::pair<int, int>>{{1, 0}, {2, 0}, {1, 2}, {0, 1}}) {
            const Place place{Quantity::Ohms, red, black, 0, 0};
            std::vector<double> values;
            for (const auto& u : prior) values.push_back(u.middle);
            Network network(circuit, bench.out, bench.meters, values);
            const auto f = network.read(place, nullptr, false);
            const Shown shown{f.value, f.over};
            seen.push_back({place, shown, touched(p, Quantity::Ohms, shown, false, bench.meters.front())});
        }
    }

    void resistor(int a, int b, double ohms) {
        circuit.conductors.push_back({a, b, static_cast<int>(prior.size()), static_cast<int>(circuit.conductors.size())});
        prior.push_back({std::log(ohms), 0.03});
    }

    std::vector<double> middles() const {
        std::vector<double> out;
        for (const auto& u : prior) out.push_back(u.middle);
        return out;
    }
};

// The screen around the middles, with what it stands on.
struct Screened {
    Divider divider;
    Fit base;
    Whereabouts where;
    Screen screen;

    Screened()
        : base(fit(divider.circuit, divider.bench, divider.prior, divider.middles(), divider.seen, {.rounds = 0})),
          where(Whereabouts::of(divider.circuit, divider.prior.size())),
          screen(divider.circuit, where, divider.bench, divider.prior, divider.seen, base) {}
};

} // namespace

TEST(Screen, AgreesWithSolvingAnew) {
    Screened it;
    struct Change {
        int which;
        double to;
    };
    for (const auto& [which, to] :
         std::vector<Change>{{0, kLnOpen}, {2, kLnOpen}, {2, std::log(0.5)}, {3, std::log(300.0)}, {5, kLnNoJunction}}) {
        const Override change{Divider::kFirst + which, to, 0.1};
        auto values = it.divider.middles();
        values[static_cast<std::size_t>(change.unknown)] = to;
        Network anew(it.divider.circuit, it.divider.bench.out, it.divider.bench.meters, values);
        for (std::size_t j = 0; j < it.divider.seen.size(); ++j) {
            const auto& s = it.divider.seen[j];
            const double exact = anew.read(s.place, &s.shown, false).y - s.touch.y + it.base.residual[j] * s.touch.noise;
            EXPECT_NEAR(it.screen.moved(j, {change}, 0), exact, 0.05 + 0.05 * std::fabs(exact)) << which << " reading " << j;
        }
    }
}

// A fault that what was read contradicts is not taken for one that it leaves open.
TEST(Screen, GainTellsAgreementFromContradiction) {
    Screened it;
    EXPECT_LT(it.screen.gain({{Divider::kFirst, kLnOpen, 1}}), -5); // opens, and reads 47 kohm where 0.3 ohm was read
    EXPECT_GT(it.screen.gain({{Divider::kFirst + 4, std::log(155e3), 0.03}}), -1);
}
