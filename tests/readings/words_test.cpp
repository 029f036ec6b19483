// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/words.h"

#include "readings/quantities.h"
#include "support/demo.h"

#include <cmath>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const Practice& p = shipped_practice();

std::vector<std::string> looks_of(PartKind kind) {
    std::set<std::string> words = {"fine"};
    for (const auto& [mode, data] : library().kinds.at(kind).modes)
        for (const auto& [word, chance] : data.looks) words.insert(word);
    return {words.begin(), words.end()};
}

} // namespace

TEST(Words, LooksOfAKnownFaultAreThoseOfTheLibrary) {
    const Fault dry{0, FaultMode::Dry, {}};
    const auto* mode = library().find(PartKind::Electrolytic, FaultMode::Dry);
    ASSERT_NE(mode, nullptr);
    for (const auto& [word, chance] : mode->looks) EXPECT_EQ(look_chance(p, library(), PartKind::Electrolytic, word, &dry), chance) << word;
    EXPECT_EQ(look_chance(p, library(), PartKind::Electrolytic, "fine", &dry), mode->looks_fine());
}

TEST(Words, LooksAddUpToAboutOne) {
    for (PartKind kind : {PartKind::Electrolytic, PartKind::Mosfet, PartKind::Fuse, PartKind::Resistor}) {
        double sum = 0;
        for (const auto& word : looks_of(kind)) sum += look_chance(p, library(), kind, word, nullptr);
        EXPECT_NEAR(sum, 1, 0.06) << kind_info(kind).name;
    }
}

// What the library does not know of a fault is no likelier on a sound part: brown beside a leak once spoke for the part.
TEST(Words, NoFaultMendsALook) {
    for (const auto& [kind, entry] : library().kinds)
        for (const auto& [mode, data] : entry.modes) {
            const Fault broken{0, mode, {}};
            for (const char* word : {"brown", "corroded", "soot", "bulged"})
                if (!data.looks.contains(word))
                    EXPECT_GE(look_chance(p, library(), kind, word, &broken), 0.999 * look_chance(p, library(), kind, word, nullptr))
                        << kind_info(kind).name << " " << word;
        }
}

TEST(Words, SootOnASoundPartPointsAtItsNeighbour) {
    EXPECT_GT(look_chance(p, library(), PartKind::Resistor, "soot", nullptr, 1),
              10 * look_chance(p, library(), PartKind::Resistor, "soot", nullptr, 0));
    EXPECT_LT(look_chance(p, library(), PartKind::Resistor, "fine", nullptr, 1),
              look_chance(p, library(), PartKind::Resistor, "fine", nullptr, 0));
}

TEST(Words, ASubstituteCuresTheOnlyBadPart) {
    EXPECT_GT(substitute_chance(p, "works", true, true), substitute_chance(p, "works", true, false));
    EXPECT_GT(substitute_chance(p, "works", true, false), substitute_chance(p, "works", false, false));
    EXPECT_LT(substitute_chance(p, "same", true, true), substitute_chance(p, "same", false, false));
    EXPECT_EQ(substitute_chance(p, "recovers", true, true), substitute_chance(p, "works", true, true));
}

TEST(Words, AVerdictIsBelieved) {
    Observation good;
    good.kind = Seen::Verdict;
    good.word = "good";
    good.part = 0;
    Observation bad = good;
    bad.word = "bad";
    bad.modes = {FaultMode::Short};
    const std::vector<Fault> shorted = {{0, FaultMode::Short, {}}}, open = {{0, FaultMode::Open, {}}};
    const Board& b = demo_board();
    const auto chance = [&](const Observation& seen, const std::vector<Fault>& faults) {
        return other_likelihood(b, library(), seen, faults, {});
    };
    EXPECT_GT(chance(good, {}), 20 * chance(good, shorted));
    EXPECT_GT(chance(bad, shorted), 20 * chance(bad, {}));
    EXPECT_GT(chance(bad, shorted), chance(bad, open)); // another fault of the same part
    EXPECT_GT(chance(bad, open), chance(bad, {}));
    good.renewed = bad.renewed = {0}; // the old part is gone
    EXPECT_EQ(chance(good, shorted), chance(good, {}));
}

TEST(Quantities, AxisAndValueAreInverse) {
    for (auto what : {Quantity::Ohms, Quantity::Diode, Quantity::Farads, Quantity::Esr, Quantity::Leakage, Quantity::Residue})
        for (double value : {1e-6, 0.3, 2.0}) {
            const double x = score_axis(what, value);
            EXPECT_NEAR(score_value(what, x), value, 1e-9 * std::max(1.0, value)) << quantity_name(what);
            EXPECT_LE(score_axis(what, 0), x);
        }
}

TEST(Quantities, DensityCoversTheRange) { // a reading that may be anything: chance 1 over the scale, within a quarter
    for (auto what : {Quantity::Ohms, Quantity::Diode, Quantity::Esr, Quantity::Leakage, Quantity::Residue, Quantity::Continuity}) {
        const auto& q = quantity_info(what);
        const double length = score_axis(what, q.most) - score_axis(what, q.least);
        EXPECT_NEAR(q.density * length, 1, 0.25) << q.name;
    }
}

TEST(Quantities, NamesAreThoseOfTheJobFormat) {
    for (const char* name : {"ohms", "diode", "continuity", "farads", "esr", "leakage", "scope-residue"}) {
        ASSERT_TRUE(quantity_named(name)) << name;
        EXPECT_EQ(quantity_name(*quantity_named(name)), name);
    }
    EXPECT_FALSE(quantity_named("volts-dc"));
    EXPECT_FALSE(quantity_named(""));
}

// Soot about a stage: whatever there can burst is raised, what lies elsewhere or cannot is not.
TEST(Words, SootOfAnAreaSpeaksOfWhatCanBurstThere) {
    const Board& b = demo_board();
    Observation seen;
    seen.kind = Seen::Look;
    seen.word = "soot";
    for (int i = 0; i < static_cast<int>(b.parts.size()); ++i)
        if (b.part(i).stage == b.part(at(b, "Q1")).stage) seen.area.push_back(i);
    const auto chance = [&](const std::vector<Fault>& faults) { return other_likelihood(b, library(), seen, faults, {}); };
    EXPECT_EQ(chance({}), p.sound_looks_sooty);
    EXPECT_GT(chance(faults(b, {"Q1:short"})), 5 * chance({}));
    EXPECT_EQ(chance(faults(b, {"C16:short"})), chance({})) << "of another stage";
    seen.renewed.insert(at(b, "Q1"));
    EXPECT_EQ(chance(faults(b, {"Q1:short"})), chance({})) << "a new one did not burst then";
}
