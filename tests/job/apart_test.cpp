// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/apart.h"

#include "job/bench_line.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Entry off(const std::string& text) {
    Entry e;
    e.act = Do::Note;
    e.what = "apart";
    e.text = text;
    return e;
}

Entry back(int entry) {
    Entry e;
    e.act = Do::Note;
    e.what = "together";
    e.target = entry;
    return e;
}

} // namespace

TEST(Apart, LastOffIsFirstBack) {
    Job job;
    job.board = demo_board();
    job = with_all(job, {off("lid, 4 screws M3"), off("ribbon, red edge left"), off("board, 2 clips")});
    auto left = to_put_back(replay(job).apart);
    ASSERT_EQ(left.size(), 3U);
    EXPECT_EQ(left.front().text, "board, 2 clips");
    EXPECT_EQ(left.back().text, "lid, 4 screws M3");
    left = to_put_back(replay(job.with(back(2))).apart);
    EXPECT_EQ(left.front().text, "ribbon, red edge left");
    EXPECT_TRUE(to_put_back(replay(job.with(back(-1))).apart).empty()) << "everything at once";
}

TEST(Apart, SurvivesTheFileAndIsNoOrdinaryNote) {
    Job job = demo("rb6-fresh");
    const int first = static_cast<int>(job.journal.size());
    Entry with_picture = off("lid");
    with_picture.ref = "job-0123.jpg";
    job = with_all(job, {with_picture, back(first)});
    const auto loaded = reader().parse(job.text());
    ASSERT_TRUE(loaded);
    const auto now = replay(loaded->job);
    ASSERT_EQ(now.apart.size(), 1U);
    EXPECT_TRUE(now.apart[0].together);
    EXPECT_EQ(now.pictures(), std::vector<std::string>{"job-0123.jpg"});
    EXPECT_TRUE(now.notes.empty() || now.notes.back() != "lid");
}

TEST(Apart, NonsenseIsRefused) {
    const auto wrong = [](Entry e) { return !check_entry(demo_board(), reader().vocabulary(), e, 3).empty(); };
    EXPECT_TRUE(wrong(off("")));
    EXPECT_TRUE(wrong(back(3)));
    EXPECT_FALSE(wrong(back(2)));
    Entry outside = off("lid");
    outside.ref = "../../secret.jpg";
    EXPECT_TRUE(wrong(outside));
}
