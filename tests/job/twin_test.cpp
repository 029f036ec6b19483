// SPDX-License-Identifier: GPL-3.0-or-later
// This unit beside a good one.
#include "job/twin.h"
#include "report/twin_words.h"
#include "support/demo.h"

#include <gtest/gtest.h>

#include <algorithm>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::vector<TwinRow> beside(const std::vector<Entry>& here, const std::vector<Entry>& there) {
    return compare_with_twin(replay(with_all(discharged("rb6-fresh"), here)), replay(with_all(discharged("rb6-fresh"), there)));
}

} // namespace

TEST(Twin, OddOnesFirstThenWhatIsToBeRead) {
    const auto rows = beside({read("ohms", "HV", "PGND", 2.9), read("diode", "HV", "PGND", 0.48), read("ohms", "+12V", "0V", 410)},
                             {read("ohms", "HV", "PGND", 310e3), read("diode", "HV", "PGND", 0.50), read("ohms", "+12V", "0V", 820),
                              read("ohms", "VCC", "PGND", 12e3)});
    ASSERT_EQ(rows.size(), 4U);
    EXPECT_EQ(rows[0].like, Like::Lower);
    EXPECT_EQ(rows[0].place.red, "HV");
    EXPECT_EQ(rows[1].like, Like::Lower);
    EXPECT_EQ(wording::twin_says(rows[1]), "▼ 2 times lower");
    EXPECT_EQ(rows[2].like, Like::OnlyThere);
    EXPECT_EQ(rows[3].like, Like::Same) << "20 mV of a junction are nothing";
    EXPECT_EQ(wording::twin_sum(rows), "2 of 3 places read otherwise than on the good unit. One was read there only.");
}

TEST(Twin, OnlyTheSameStateIsComparable) {
    const auto rows = beside({act(Do::Lift, "Q1"), read("ohms", "HV", "PGND", 300e3)}, {read("ohms", "HV", "PGND", 310e3)});
    ASSERT_EQ(rows.size(), 2U);
    EXPECT_TRUE(std::none_of(rows.begin(), rows.end(), [](const TwinRow& r) { return r.here && r.there; }));
}

TEST(Twin, LeadsMayBeTurnedWhereItDoesNotMatter) {
    const auto capacitor = beside({read("farads", "HV", "PGND", 66e-6)}, {read("farads", "PGND", "HV", 68e-6)});
    ASSERT_EQ(capacitor.size(), 1U);
    EXPECT_EQ(capacitor[0].like, Like::Same);
    EXPECT_EQ(beside({read("diode", "HV", "PGND", 0.5)}, {read("diode", "PGND", "HV", 0.5)}).size(), 2U);
}

TEST(Twin, OpenOnOneOfThem) {
    const auto rows = beside({over(alone("ohms", "F1", 0))}, {alone("ohms", "F1", 0.2)});
    ASSERT_EQ(rows.size(), 1U);
    EXPECT_EQ(rows[0].like, Like::Higher);
    EXPECT_EQ(wording::twin_says(rows[0]), "▲ open here");
    EXPECT_EQ(rows[0].place.alone, "F1");
    EXPECT_EQ(wording::twin_line(rows[0].place), "F1 1-2 ohm lifted ");
}
