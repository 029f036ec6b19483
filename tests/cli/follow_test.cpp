// SPDX-License-Identifier: GPL-3.0-or-later
// The commands that other programs lean on: a path a line in, an answer a line out; and a good unit beside this one.
#include "support/demo.h"
#include "support/fakes.h"

#include "cli/cli.h"

#include <nlohmann/json.hpp>

#include <sstream>

using namespace ohmo;
using namespace ohmo::test;
using nlohmann::json;

namespace {

struct Said {
    int code = 0;
    std::vector<std::string> lines;
    std::string err;
    json answer(std::size_t line) const { return json::parse(lines.at(line), nullptr, false); }
};

class Follow : public testing::Test {
protected:
    Follow() {
        disk.memory.files["fresh"] = demo_text("rb6-fresh");
        disk.memory.files["half"] = demo_text("rb6-half-way");
        disk.memory.files["broken"] = demo_text("rb6-fresh").substr(0, 900);
    }
    Said run(const std::vector<std::string>& arguments, const std::string& typed = {}) {
        std::ostringstream out, err;
        std::istringstream in(typed);
        Said said;
        said.code = run_cli(arguments, disk, data(), out, err, nullptr, in);
        said.err = err.str();
        std::istringstream lines(out.str());
        for (std::string line; std::getline(lines, line);) said.lines.push_back(line);
        return said;
    }
    DemoDisk disk;
};

} // namespace

TEST_F(Follow, EveryLineIsTheAnswerOfAssess) {
    const Said said = run({"follow"}, "fresh\nhalf\n");
    ASSERT_EQ(said.lines.size(), 2u);
    EXPECT_EQ(said.code, 0);
    for (const auto& [line, job] : {std::pair<std::size_t, const char*>{0, "fresh"}, {1, "half"}}) {
        const Said alone = run({"assess", job, "--json"});
        std::string whole;
        for (const auto& l : alone.lines) whole += l + "\n";
        const json expected = json::parse(whole);
        EXPECT_EQ(said.answer(line)["rank"]["parts"], expected["rank"]["parts"]) << job;
        EXPECT_EQ(said.answer(line)["next"]["next"], expected["next"]["next"]) << job;
    }
}

// A bench asks a hundred times: one job that cannot be read must not end it.
TEST_F(Follow, AJobThatCannotBeReadAnswersWithItsProblems) {
    const Said said = run({"follow"}, "fresh\nbroken\nnowhere\nfresh\n");
    ASSERT_EQ(said.lines.size(), 4u);
    EXPECT_NE(said.code, 0);
    EXPECT_TRUE(said.answer(0).contains("rank"));
    for (std::size_t bad : {1u, 2u}) {
        EXPECT_FALSE(said.answer(bad).is_discarded()) << said.lines[bad];
        EXPECT_FALSE(said.answer(bad).contains("rank"));
        EXPECT_FALSE(said.answer(bad)["problems"].empty()) << said.lines[bad];
    }
    EXPECT_EQ(said.answer(3)["rank"]["parts"], said.answer(0)["rank"]["parts"]);
}

TEST_F(Follow, BlankLinesAndForeignLineEndsAreTaken) {
    EXPECT_EQ(run({"follow"}, "\n\r\nfresh\r\n\n").lines.size(), 1u);
    EXPECT_TRUE(run({"follow"}, "").lines.empty());
    EXPECT_EQ(run({"follow"}, "fresh").lines.size(), 1u); // the last line may lack its end
}

// An entry more on the same board: the answer moves, as it would in a process of its own.
TEST_F(Follow, AJobThatGrows) {
    json grown = json::parse(demo_text("rb6-fresh"));
    grown["journal"].push_back({{"at", "2026-11-30T10:00:00Z"}, {"do", "symptom"}, {"saw", "bang"}});
    disk.memory.files["grown"] = grown.dump();
    const Said said = run({"follow"}, "fresh\ngrown\n");
    ASSERT_EQ(said.lines.size(), 2u);
    EXPECT_NE(said.answer(0)["rank"]["parts"], said.answer(1)["rank"]["parts"]);
    EXPECT_EQ(said.answer(1)["rank"]["parts"], run({"follow"}, "grown\n").answer(0)["rank"]["parts"]);
}

TEST_F(Follow, AGoodUnitBesideThisOne) {
    const json there = json::parse(demo_text("rb6-half-way"));
    disk.memory.files["good"] = there.dump();
    const Said same = run({"twin", "half", "good"});
    EXPECT_EQ(same.code, 0);
    EXPECT_FALSE(same.lines.empty());
    const Said rows = run({"twin", "half", "good", "--json"});
    std::string whole;
    for (const auto& l : rows.lines) whole += l + "\n";
    EXPECT_FALSE(json::parse(whole, nullptr, false).is_discarded()) << whole;
    EXPECT_NE(run({"twin", "half", "nowhere"}).code, 0);
}
