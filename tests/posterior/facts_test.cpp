// SPDX-License-Identifier: GPL-3.0-or-later
// What every technician of the trade concludes from a few readings, asked of the program. Common practice, no source.
#include "support/demo.h"

#include "board/nominal.h"
#include "readings/words.h"
#include "report/answers.h"
#include "report/wording.h"

#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Entry history(const std::string& word) {
    Entry e = said(word);
    e.act = Do::History;
    return e;
}

Entry over(const std::string& part) {
    Entry e = read_part("ohms", part, 0);
    e.value.reset();
    e.over = true;
    e.lifted = true;
    return e;
}

double any_bad(const Analysis& a, const std::vector<std::string>& refs) {
    double none = 1;
    for (const auto& ref : refs) none *= 1 - bad(a, ref);
    return 1 - none;
}

} // namespace

TEST(Facts, FewOhmsAcrossAProvenBulkCapacitorMeansTheSwitch) {
    auto good = read_part("ohms", "C5", 4e6); // lifted, climbing past megohms
    good.lifted = true;
    const auto a = analyse(discharged("rb6-fresh").with(said("dead")).with(read("ohms", "HV", "PGND", 2.9)).with(good));
    for (const auto& b : a->assessment.parts) { // the fuse may have gone with it, but only the switch explains the ohms
        const auto& ref = a->replay.board.part(b.part).ref;
        if (ref == "F1") continue;
        EXPECT_EQ(ref, "Q1");
        break;
    }
    EXPECT_GT(bad(*a, "Q1"), 0.5);  // one reading may be a slip; the next one settles it
    EXPECT_LT(bad(*a, "R6"), 0.05); // bleeders of hundreds of kilohms cannot explain it
}

TEST(Facts, AnOpenFuseAloneIsNeverJustTheFuse) {
    for (const char* name : {"rb6-fresh", "fd1-linear", "tl12-half-bridge"}) {
        const auto a = analyse(discharged(name).with(said("dead")).with(over("F1")));
        double others = 1;
        for (const auto& b : a->assessment.parts)
            if (a->replay.board.part(b.part).ref != "F1") others *= 1 - b.bad;
        EXPECT_LT(others, 0.5) << name;
        EXPECT_FALSE(a->next.stop) << name;
    }
}

TEST(Facts, APulledConnectorThatClearsTheRailNamesTheBranch) {
    const Job job = discharged("rb6-rail").with(said("ticking")).with(read("ohms", "+15D", "0V", 0.8));
    const auto before = analyse(job);
    const auto offered =
        std::find_if(before->next.acts.begin(), before->next.acts.end(), [](const NextAct& n) { return n.act == Act::Pull; });
    ASSERT_NE(offered, before->next.acts.end());
    EXPECT_FALSE(offered->bands.empty());
    for (const auto& band : offered->bands)
        EXPECT_EQ(wording::band_label(before->replay.board, *offered, band).starts_with("it is behind J"), band.healthy);
    const auto json = answers::next(*before);
    EXPECT_TRUE(std::any_of(json["next"].begin(), json["next"].end(),
                            [](const auto& o) { return o.contains("state") && !o["state"]["pull"].empty(); }));
    const auto after = analyse(job.with(act(Do::Pull, "J3")).with(read("ohms", "+15D", "0V", 630)));
    EXPECT_GT(any_bad(*after, {"C8", "C9", "C10", "LD3", "L2"}), 0.7);
    const auto still = analyse(job.with(act(Do::Pull, "J3")).with(read("ohms", "+15D", "0V", 0.8)));
    EXPECT_LT(any_bad(*still, {"C8", "C9", "C10"}), 0.1);
}

TEST(Facts, CoolingThatRecoversAStuckRailNamesTheSoftStart) {
    Job job = discharged("cr8-buck").with(said("low-output"));
    const double before = bad(*analyse(job), "C7");
    for (const char* part : {"C8", "C9", "C2"}) {
        auto esr = read_part("esr", part, 0.03);
        if (std::string(part) == "C9") esr.value = 0.09;
        esr.lifted = true; // together they would hide behind the ceramic one
        job = job.with(esr);
    }
    const auto a = analyse(job.with(act(Do::Cool, "C7", "recovers")));
    EXPECT_GT(bad(*a, "C7"), 0.2);
    const auto odds = [](double p) { return p / (1 - p); };
    EXPECT_GT(odds(bad(*a, "C7")), 4 * odds(before));
    EXPECT_LT(bad(*analyse(job.with(act(Do::Cool, "C7", "same"))), "C7"), bad(*a, "C7"));
}

TEST(Facts, CoolingAStageSpeaksOfItsParts) {
    Entry draught = act(Do::Cool, {}, "recovers");
    draught.stage = "control";
    const Job job = discharged("cr8-buck").with(said("low-output"));
    EXPECT_GT(bad(*analyse(job.with(draught)), "C7"), 5 * bad(*analyse(job), "C7"));
}

// Leaks grow with heat, a dry capacitor comes back with it.
TEST(Facts, TemperatureOdds) {
    const Fault leak{0, FaultMode::Leaky, {}}, dry{0, FaultMode::Dry, {}};
    EXPECT_GT(temperature_chance(shipped_practice(), "recovers", true, &leak),
              10 * temperature_chance(shipped_practice(), "recovers", true, nullptr));
    EXPECT_GT(temperature_chance(shipped_practice(), "recovers", false, &dry),
              10 * temperature_chance(shipped_practice(), "recovers", false, nullptr));
    for (const Fault* f : {&leak, &dry, static_cast<const Fault*>(nullptr)})
        for (bool cooled : {true, false}) {
            double sum = 0;
            for (const char* word : {"recovers", "worse", "same"}) sum += temperature_chance(shipped_practice(), word, cooled, f);
            EXPECT_NEAR(sum, 1, 1e-12);
        }
}

TEST(Facts, ADirectAdapterVentsTheReversedCapacitorOnly) {
    const auto a =
        analyse(discharged("tm4-ac-fed-split").with(said("smoke")).with(history("wrong-adapter")).with(act(Do::Look, "C3", "vented")));
    EXPECT_EQ(a->replay.board.part(a->assessment.parts.front().part).ref, "C3");
    EXPECT_GT(bad(*a, "C3"), 0.9);
    for (const char* other : {"C2", "C6", "C7"}) EXPECT_LT(bad(*a, other), 0.3) << other;
}

// The small electrolytic that feeds the chip is named as the cause, not only as another bad part.
TEST(Facts, ShortedIntegratedSwitchBesideALeakingSupplyCapacitor) {
    const Job job = discharged("sw3-flyback-integrated").with(said("dead")).with(act(Do::Look, "C4", "leaking"));
    const auto a = analyse(job.with(read_part("esr", "C4", 18)).with(read("ohms", "DRAIN", "PGND", 0.4)));
    ASSERT_FALSE(a->assessment.stories.empty());
    const auto& steps = a->assessment.stories.front().scenario.steps;
    ASSERT_GE(steps.size(), 2u);
    EXPECT_EQ(a->replay.board.part(steps[0].fault.part).ref, "C4");
    EXPECT_EQ(a->replay.board.part(steps[1].fault.part).ref, "U1");
    EXPECT_EQ(steps[1].cause, Cause::WeakDrive);
}

// Nothing on the map reads so: the conflict is named or the odds that no story is true rise; it is not called settled.
TEST(Facts, ContradictionsAreSaidNotExplainedAway) {
    Job job = discharged("fd1-linear").with(said("dead"));
    for (const char* r : {"R5", "R6", "R7", "R8"}) { // low out of circuit, never heard of in resistors
        Entry low = read_part("ohms", r, 3.3);
        low.lifted = true;
        job = job.with(low);
    }
    const auto a = analyse(job);
    EXPECT_FALSE(a->next.settled);
}

// Destroyed to the eye is bad, of whatever kind, until a reading speaks for it.
TEST(Facts, AHoleCondemnsAPartOfAnyKind) {
    const Job job = discharged("rb6-fresh");
    std::set<PartKind> seen;
    for (const auto& part : job.board.parts)
        if (seen.insert(part.kind).second) {
            EXPECT_GT(bad(*analyse(job.with(act(Do::Look, part.ref, "hole"))), part.ref), 0.95) << part.ref;
            EXPECT_GT(bad(*analyse(job.with(act(Do::Look, part.ref, "blown-lead"))), part.ref), 0.95) << part.ref;
        }
}

TEST(Facts, CrackedSiliconAndBurntResistorsAreBad) {
    const Job job = discharged("rb6-fresh");
    for (const auto& part : job.board.parts) {
        const bool silicon =
            is_diode_like(part.kind) || is_switch_device(part.kind) || part.kind == PartKind::Bridge || part.kind == PartKind::Controller;
        const auto looks = [&](const char* word) { return bad(*analyse(job.with(act(Do::Look, part.ref, word))), part.ref); };
        if (silicon) EXPECT_GT(looks("cracked"), 0.9) << part.ref;
        if (part.kind == PartKind::Resistor) EXPECT_GT(looks("burnt"), 0.9) << part.ref;
    }
    const auto read_right = analyse(
        job.with(act(Do::Look, "R2", "burnt")).with(alone("ohms", "R2", *nominal_value(job.board.part(at(job.board, "R2")))->ohms)));
    EXPECT_LT(bad(*read_right, "R2"), 0.35) << "what it reads outweighs what it looks like";
}

// A winding whose ohms the board gives reads them within its heat and make; a twentieth of them is a short.
TEST(Facts, ALoadFarBelowItsOhmsIsShorted) {
    const Job job = discharged("fc1-inverter").with(said("dead")); // a motor of 26 ohm
    EXPECT_GT(bad(*analyse(job.with(alone("ohms", "LD1", 1.4))), "LD1"), 0.9);
    for (const double shown : {18.0, 26.0, 35.0}) EXPECT_LT(bad(*analyse(job.with(alone("ohms", "LD1", shown))), "LD1"), 0.02) << shown;
}
