// SPDX-License-Identifier: GPL-3.0-or-later
// What is taken of parts that nobody spoke of: whoever notes odd looks before he reads anything has looked the board over.
#include "readings/looked_over.h"

#include "advice/word_acts.h"
#include "readings/words.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Observation look(int part, const std::string& word) {
    Observation o;
    o.kind = Seen::Look;
    o.part = part;
    o.word = word;
    return o;
}

Observation of_kind(Seen kind) {
    Observation o;
    o.kind = kind;
    return o;
}

double over_with(const std::vector<Observation>& all) {
    Evidence evidence;
    evidence.observations = all;
    return looked_over(demo_board().practice(), evidence);
}

Job after(const std::vector<Entry>& entries) { return with_all(discharged("rb6-fresh"), entries); }

Entry seen(const char* part, const char* word) { return act(Do::Look, part, word); }

} // namespace

TEST(LookedOver, OddLooksBeforeAnyReadingTell) {
    const auto& p = demo_board().practice();
    const auto complaint = of_kind(Seen::Symptom), reading = of_kind(Seen::Reading);
    EXPECT_EQ(over_with({}), 0);
    EXPECT_EQ(over_with({complaint, reading}), 0);
    EXPECT_EQ(over_with({complaint, look(1, "fine"), look(2, "brown")}), 0) << "answers, one by one";
    EXPECT_EQ(over_with({reading, look(1, "brown")}), 0) << "an answer";
    const double one = over_with({complaint, look(1, "brown")}), two = over_with({look(1, "brown"), look(2, "soot")});
    EXPECT_NEAR(one, p.looked_over * p.look_noticed, 1e-12);
    EXPECT_GT(two, one);
    EXPECT_LT(over_with(std::vector<Observation>(40, look(1, "brown"))), p.look_noticed + 1e-9) << "eyes miss something";
    EXPECT_EQ(over_with({look(1, "brown"), reading, look(2, "soot")}), one);
}

TEST(LookedOver, TellsAgainstWhatShowsOnly) {
    const auto& p = demo_board().practice();
    const Fault dry = fault(demo_board(), "C5:dry");
    const auto nothing_said = [&](const Fault* f, double over) { return unnoted_chance(p, library(), PartKind::Electrolytic, f, over); };
    EXPECT_EQ(nothing_said(&dry, 0), 1);
    EXPECT_NEAR(nothing_said(&dry, 1), look_chance(p, library(), PartKind::Electrolytic, "fine", &dry), 1e-12);
    EXPECT_GT(nothing_said(nullptr, 0.9), 0.98);
    EXPECT_LT(nothing_said(&dry, 0.9), 0.5) << "three dried-out ones in four show it";
}

// The same two odd looks: noted at the start they speak for capacitors of which nothing is noted, after a reading they do not; and a look
// that says "fine" of each part leaves nothing of the difference.
TEST(LookedOver, CapacitorsThatNobodySpokeOfCountAsFine) {
    const Entry complaint = said("weak-under-load"), brown = seen("R4", "brown"), soot = seen("D2", "soot"),
                reading = read("ohms", "HV", "PGND", 120e3);
    const auto first = analyse(after({complaint, brown, soot, reading})), later = analyse(after({complaint, reading, brown, soot}));
    ASSERT_GT(first->assessment.looked_over, 0.5);
    EXPECT_EQ(later->assessment.looked_over, 0);
    double before = 0, without = 0;
    for (const char* c : {"C5", "C8", "C17"}) {
        before += bad(*first, c);
        without += bad(*later, c);
    }
    EXPECT_LT(before, 0.8 * without);
    std::vector<Entry> fine;
    for (const auto& part : demo_board().parts)
        if (part.ref != "R4" && part.ref != "D2" && part.kind != PartKind::Load) fine.push_back(seen(part.ref.c_str(), "fine"));
    std::vector<Entry> a = {complaint, brown, soot}, b = {complaint};
    a.insert(a.end(), fine.begin(), fine.end());
    b.insert(b.end(), fine.begin(), fine.end());
    b.insert(b.end(), {brown, soot});
    const auto said_first = analyse(after(a)), said_last = analyse(after(b));
    for (const char* c : {"C5", "C8", "C17", "R4", "Q1"}) EXPECT_NEAR(bad(*said_first, c), bad(*said_last, c), 1e-6) << c;
}

// What may have been seen already is worth less of a look.
TEST(LookedOver, ALookPromisesLess) {
    const auto bits = [](const std::vector<Entry>& entries, const char* part) {
        const auto a = analyse(after(entries));
        const auto acts = word_acts(a->replay.board, library(), a->assessment, a->replay.evidence, 1e-9);
        const auto found = std::find_if(acts.begin(), acts.end(),
                                        [&](const NextAct& n) { return n.act == Act::Look && n.part == at(a->replay.board, part); });
        return found == acts.end() ? 0.0 : found->bits;
    };
    const Entry complaint = said("weak-under-load"), reading = read("ohms", "HV", "PGND", 120e3), brown = seen("R4", "brown"),
                soot = seen("D2", "soot");
    const double fresh = bits({complaint, reading, brown, soot}, "C8");
    ASSERT_GT(fresh, 0);
    EXPECT_LT(bits({complaint, brown, soot, reading}, "C8"), 0.7 * fresh);
}
