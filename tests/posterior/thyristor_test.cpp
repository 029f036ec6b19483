// SPDX-License-Identifier: GPL-3.0-or-later
// A crowbar across a rail: what its thyristor shows sound and bad, and that it fires before the rail's capacitors suffer. Common practice,
// no source.
#include "board/roles.h"
#include "damage/slow_causes.h"
#include "design/design.h"
#include "job/board_files.h"
#include "support/demo.h"
#include "support/designs.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Job crowbar() {
    const Board b = board({"SCR1 thyristor - A=+12V K=0V G=GT", "ZD1 zener 15V A=GZ K=+12V", "R1 resistor 22R 1=GZ 2=GT",
                           "R2 resistor 220R 1=GT 2=0V", "C1 electrolytic 1000u +=+12V -=0V", "D1 schottky - A=SEC K=+12V",
                           "R3 resistor 1k 1=+12V 2=0V", "L1 inductor 10u 1=SEC 2=0V"});
    return job_of_board(b).with(act(Do::Symptom, "", "dead"));
}

Entry between(const char* what, const char* red, const char* black, double ohms) {
    Entry e = alone(what, "SCR1", ohms);
    e.pins = {red, black};
    return e;
}

} // namespace

TEST(Thyristor, BlocksBothWaysWhenItIsSound) {
    const Job sound = crowbar().with(over(between("ohms", "A", "K", 0))).with(between("diode", "G", "K", 0.55));
    EXPECT_LT(bad(*analyse(sound), "SCR1"), 0.02);
    EXPECT_LT(bad(*analyse(crowbar().with(read("ohms", "GT", "0V", 95))), "SCR1"), 0.2); // its gate is low-ohmic as it is
}

TEST(Thyristor, AShortIsFoundAloneAndInItsPlace) {
    EXPECT_GT(bad(*analyse(crowbar().with(between("ohms", "A", "K", 0.3))), "SCR1"), 0.98);
    Job job = crowbar().with(read("ohms", "+12V", "0V", 0.3));
    for (const char* ref : {"C1", "D1"}) job = job.with(act(Do::Verdict, ref, "good"));
    EXPECT_GT(bad(*analyse(job), "SCR1"), 0.7);
}

// With the feedback gone every rail climbs: its capacitors leak, where a crowbar stands it fires first and may stay short.
TEST(Thyristor, ACrowbarFiresBeforeCapacitorsSuffer) {
    for (const char* guard : {"none", "crowbar"}) {
        const auto design = design_supply(fitted(usual_supply("flyback"), "230V", {"12V 2A"}, {{"over-voltage", guard}}));
        ASSERT_TRUE(design);
        const Board b = make_board(design->draft)->board;
        const auto coupler = std::find_if(b.parts.begin(), b.parts.end(), [](const Part& p) { return p.kind == PartKind::Optocoupler; });
        ASSERT_NE(coupler, b.parts.end());
        bool leaks = false, fires = false;
        for (const auto& c : slow_consequences(b, find_roles(b), {static_cast<int>(coupler - b.parts.begin()), FaultMode::Open, {}})) {
            leaks = leaks || c.step.fault.mode == FaultMode::Leaky;
            fires = fires || b.part(c.step.fault.part).kind == PartKind::Thyristor;
        }
        EXPECT_EQ(leaks, std::string(guard) == "none");
        EXPECT_EQ(fires, !leaks);
    }
}
