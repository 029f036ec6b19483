// SPDX-License-Identifier: GPL-3.0-or-later
// The commands that other programs lean on: a path a line in, an answer a line out; and a good unit beside this one.
#include "cli/commands.h"

using namespace ohmo;
using namespace ohmo::test;
using nlohmann::json;

namespace {

class Follow : public Cli {
protected:
    std::vector<json> follow(const std::string& typed) { return run({"follow"}, true, typed).documents(); }
};

} // namespace

TEST_F(Follow, EveryLineIsTheAnswerOfAssess) {
    const auto said = follow("fresh\nhalf\n");
    ASSERT_EQ(said.size(), 2u);
    EXPECT_EQ(run({"follow"}, true, "fresh\n").code, 0);
    for (const auto& [line, job] : {std::pair<std::size_t, const char*>{0, "fresh"}, {1, "half"}}) {
        const json expected = run({"assess", job, "--json"}, true).document();
        EXPECT_EQ(said[line]["rank"]["parts"], expected["rank"]["parts"]) << job;
        EXPECT_EQ(said[line]["next"]["next"], expected["next"]["next"]) << job;
    }
}

// A bench asks a hundred times: one job that cannot be read must not end it.
TEST_F(Follow, AJobThatCannotBeReadAnswersWithItsProblems) {
    const Answer answer = run({"follow"}, true, "fresh\nbroken\nnowhere\nfresh\n");
    const auto said = answer.documents();
    ASSERT_EQ(said.size(), 4u);
    EXPECT_NE(answer.code, 0);
    EXPECT_TRUE(said[0].contains("rank"));
    for (std::size_t bad : {1u, 2u}) {
        EXPECT_FALSE(said[bad].is_discarded());
        EXPECT_FALSE(said[bad].contains("rank"));
        EXPECT_FALSE(said[bad]["problems"].empty());
    }
    EXPECT_EQ(said[3]["rank"]["parts"], said[0]["rank"]["parts"]);
}

TEST_F(Follow, BlankLinesAndForeignLineEndsAreTaken) {
    EXPECT_EQ(follow("\n\r\nfresh\r\n\n").size(), 1u);
    EXPECT_TRUE(follow("").empty());
    EXPECT_EQ(follow("fresh").size(), 1u); // the last line may lack its end
}

// An entry more on the same board: the answer moves, as it would in a process of its own.
TEST_F(Follow, AJobThatGrows) {
    json grown = json::parse(demo_text("rb6-fresh"));
    grown["journal"].push_back({{"at", "2026-11-30T10:00:00Z"}, {"do", "symptom"}, {"saw", "bang"}});
    disk.memory.files["grown"] = grown.dump();
    const auto said = follow("fresh\ngrown\n");
    ASSERT_EQ(said.size(), 2u);
    EXPECT_NE(said[0]["rank"]["parts"], said[1]["rank"]["parts"]);
    EXPECT_EQ(said[1]["rank"]["parts"], follow("grown\n").at(0)["rank"]["parts"]);
}

TEST_F(Follow, AGoodUnitBesideThisOne) {
    disk.memory.files["good"] = demo_text("rb6-half-way");
    const Answer same = run({"twin", "half", "good"});
    EXPECT_EQ(same.code, 0);
    EXPECT_FALSE(same.out.empty());
    EXPECT_FALSE(run({"twin", "half", "good", "--json"}).document().is_discarded());
    EXPECT_NE(run({"twin", "half", "nowhere"}).code, 0);
}
