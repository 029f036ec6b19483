// SPDX-License-Identifier: GPL-3.0-or-later
// On a board with several power transistors each takes along what is its own.
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::string ref_of(const Board& b, const std::string& role) {
    for (const auto& part : b.parts)
        if (part.role.find(role) != std::string::npos) return part.ref;
    return {};
}

} // namespace

// A transistor that rectifies shorts the secondary: the primary's controller limits its current, so that neither the sense resistor nor the
// mains' bridge goes, as they do with the primary's own switch.
TEST(WhoseDamage, ASynchronousRectifierTakesNothingOfThePrimary) {
    const auto job = reader().from_blueprint(RealDisk(), data() / "blueprints" / "flyback-synchronous.json");
    ASSERT_TRUE(job);
    const Board& b = job->board;
    const std::string rectifier = ref_of(b, "synchronous rectifier"), own = ref_of(b, "the switch"), sense = ref_of(b, "current sense"),
                      bridge = ref_of(b, "mains bridge");
    Entry empty;
    empty.act = Do::Discharge;
    empty.value = 0.2;
    const Job dead = job->with(act(Do::Symptom, "", "dead")).with(empty);
    const auto before = analyse(dead), secondary = analyse(dead.with(alone("ohms", rectifier, 0.2))),
               primary = analyse(dead.with(alone("ohms", own, 0.2)));
    ASSERT_GT(bad(*secondary, rectifier), 0.95);
    EXPECT_LT(bad(*secondary, sense), bad(*secondary, own));
    EXPECT_LT(bad(*secondary, bridge), bad(*before, bridge));
    ASSERT_GT(bad(*primary, own), 0.95);
    EXPECT_GT(bad(*primary, sense), 0.4);
    EXPECT_GT(bad(*primary, bridge), bad(*secondary, bridge));
    EXPECT_LT(bad(*before, sense), bad(*before, own)) << "it goes with the switch, seldom of itself";
}

// A leg of the bridge that is through puts alternating current on the capacitor behind it: that is not taken for good before it was read,
// and one reading across it settles it.
TEST(WhoseDamage, AShortedBridgeLeavesItsCapacitorInDoubt) {
    Entry leg = alone("ohms", "BR1", 0.3);
    leg.pins = {"~1", "+"};
    const Job job = discharged("rb6-fresh").with(act(Do::Symptom, "", "dead")).with(leg);
    const auto shorted = [](const Analysis& a) {
        const auto& modes = a.assessment.of(at(a.replay.board, "C5")).modes;
        const auto found = modes.find(FaultMode::Short);
        return found == modes.end() ? 0.0 : found->second;
    };
    const auto beside = analyse(job);
    ASSERT_GT(bad(*beside, "BR1"), 0.9);
    EXPECT_GT(shorted(*beside), 0.02);
    EXPECT_LT(shorted(*beside), 0.3);
    EXPECT_LT(shorted(*analyse(job.with(read("ohms", "HV", "PGND", 120e3)))), 0.01);
}

// What drives the gate burns with it; what holds it down carries nothing then, as a start resistor across a transistor does not.
TEST(WhoseDamage, OnlyWhatDrivesAGateGoesWithIt) {
    Entry gone = alone("ohms", "Q1", 0.3);
    const Job job = discharged("rb6-fresh").with(act(Do::Symptom, "", "dead"));
    const auto a = analyse(job.with(gone).with(read("ohms", "GATE", "SRC", 4)));
    ASSERT_GT(bad(*a, "Q1"), 0.95);
    EXPECT_GT(bad(*a, "R8"), 0.1);
    EXPECT_LT(bad(*a, "R11"), 0.25 * bad(*a, "R8"));
    const Job base = discharged("tl12-half-bridge").with(act(Do::Symptom, "", "dead"));
    const auto b = analyse(base.with(alone("ohms", "Q2", 0.3)));
    EXPECT_GT(bad(*b, "Q2"), 0.95);
    EXPECT_LT(bad(*b, "R8"), 0.5 * bad(*b, "R7")) << "10 kilohm between gate and source, 10 ohm in front of it";
}

// A shorted switch of a supply that a battery feeds takes the inrush limiter that lies in one wire with the fuse.
TEST(WhoseDamage, AnInrushLimiterInOneWireWithTheFuse) {
    const auto a = analyse(foreign("winch-drive").with(said("bang")).with(alone("ohms", "Q1", 0.3)).with(act(Do::Look, "F1", "open")));
    EXPECT_GT(bad(*a, "Q1"), 0.95);
    EXPECT_GT(bad(*a, "RT1"), 0.1);
}
