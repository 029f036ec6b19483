// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include "board/nominal.h"
#include "circuit/stress.h"
#include "circuit/transient.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

// What the parts of a board took while `amps` flowed from A to B for so long.
std::vector<Stress> after(const Board& b, double amps, double seconds) {
    const double ohms = 1000; // stiff against the fuse's milliohms
    TransientOptions options;
    options.longest_step = seconds / 50;
    Transient run(expand(b, {}, {}), {{*b.find_net("A"), *b.find_net("B"), ohms, amps * ohms, 0, 0, 0}}, options);
    StressBook book(b);
    while (run.now() < seconds * (1 - 1e-9)) {
        const double then = run.now();
        EXPECT_TRUE(run.step(seconds));
        book.record(run, {}, run.now() - then, run.now());
    }
    return book.take();
}

} // namespace

// IEC 60127-2, sheet 3 (time-lag, low breaking capacity): 20 to 300 ms at ten times the rated current.
TEST(Stress, TimeLagFusesMeltWithinTheStandardsTimes) {
    for (double rated : {1.0, 2.0, 3.15}) {
        const Board b = board({"F1 fuse T" + std::to_string(rated) + "A 1=A 2=B", "R1 resistor 100k 1=A 2=B"});
        const auto at = [&](double seconds) {
            for (const auto& s : after(b, 10 * rated, seconds))
                if (s.kind == StressKind::FuseI2t) return s;
            return Stress{};
        };
        const double sigma = at(0.1).sigma_ln;
        ASSERT_GT(sigma, 0);
        EXPECT_NEAR(std::log(at(0.02).ratio()) / sigma, -2, 0.1) << rated; // one in fifty melts sooner
        EXPECT_NEAR(std::log(at(0.3).ratio()) / sigma, 2, 0.1) << rated;
    }
}

// The same standard, sheet 1 (quick-acting): at the most 20 ms there.
TEST(Stress, QuickFusesAreQuick) {
    const Board b = board({"F1 fuse F2A 1=A 2=B", "R1 resistor 100k 1=A 2=B"});
    for (const auto& s : after(b, 20, 0.02))
        if (s.kind == StressKind::FuseI2t) EXPECT_GT(std::log(s.ratio()) / s.sigma_ln, 1.5);
}

// What fills the bulk capacitor at every plugging in does not harm the resistor it passes.
TEST(Stress, InrushResistorsStandTheInrush) {
    const Board b = demo("sw3-flyback-integrated").board;
    const SurgeBoard surge(b, find_roles(b));
    const auto run = surge.run(faults(b, {"U1:ds-short"}), {}, {}, {});
    ASSERT_TRUE(run);
    double joules = 0; // that the capacitor holds: the resistor turns as much into heat
    for (int i : find_roles(b).bulk) joules += 0.5 * nominal_value(b.part(i))->farads.value_or(0) * 2 * std::pow(b.mains->volts, 2);
    bool seen = false;
    for (const auto& s : run->stresses)
        if (b.part(s.becomes.part).kind == PartKind::FusibleResistor) {
            seen = true;
            EXPECT_GT(s.limit, 3 * joules);
        }
    EXPECT_TRUE(seen);
}
