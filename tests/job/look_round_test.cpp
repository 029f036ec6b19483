// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/look_round.h"

#include "support/demo.h"

#include <set>

using namespace ohmo;
using namespace ohmo::test;

TEST(LookRound, PassesEveryPartOnceFromTheFuseToTheRails) {
    const auto now = replay(demo("rb6-fresh"));
    const auto stops = look_round(now);
    ASSERT_EQ(stops.size(), now.board.parts.size());
    std::set<int> parts;
    for (const auto& s : stops) parts.insert(s.part);
    EXPECT_EQ(parts.size(), stops.size());
    EXPECT_EQ(stops.front().stage, "mains-in");
    EXPECT_EQ(stops.back().stage, "rails");
    std::set<std::string> left;
    for (std::size_t k = 1; k < stops.size(); ++k)
        if (stops[k].stage != stops[k - 1].stage) EXPECT_TRUE(left.insert(stops[k - 1].stage).second) << "comes back to " << stops[k].stage;
}

TEST(LookRound, KnowsWhatWasSeenAndLeavesOutWhatIsNotThere) {
    const auto now = replay(with_all(demo("rb6-fresh"), {act(Do::Look, "C5", "bulged"), act(Do::Look, "R9", "not-fitted")}));
    for (const auto& s : look_round(now)) {
        EXPECT_NE(now.board.part(s.part).ref, "R9");
        if (now.board.part(s.part).ref == "C5") EXPECT_EQ(s.seen, "bulged");
    }
}

TEST(LookRound, LooksOfAKindBeginWithFineAndItsCommonest) {
    const auto wet = looks_of(library(), PartKind::Electrolytic);
    ASSERT_GT(wet.size(), 3U);
    EXPECT_EQ(wet[0], "fine");
    EXPECT_EQ(wet[1], "bulged");
    EXPECT_EQ(looks_of(library(), PartKind::Fuse)[1], "open");
    for (const auto& [kind, entry] : library().kinds) {
        const auto words = looks_of(library(), kind);
        EXPECT_LE(words.size(), 9U);
        EXPECT_EQ(std::set<std::string>(words.begin(), words.end()).size(), words.size());
        for (const auto& word : words)
            EXPECT_NE(std::find(reader().vocabulary().looks.begin(), reader().vocabulary().looks.end(), word),
                      reader().vocabulary().looks.end())
                << word;
    }
}
