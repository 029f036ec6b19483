// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include "job/photos.h"
#include "report/wording.h"

#include <complex>
#include <random>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Entry photo(const char* what, const char* file) {
    Entry e;
    e.act = Do::Photo;
    e.what = what;
    e.ref = file;
    return e;
}

Entry mark(const char* file, const char* part, const char* pin, double x, double y) {
    Entry e = photo("mark", file);
    e.part = part;
    e.pin = pin;
    e.x = x;
    e.y = y;
    return e;
}

} // namespace

// The back is the front mirrored, turned, scaled and moved: two pins on both sides give all the others. Worked by complex numbers.
TEST(Photos, TheBackFollowsFromTwoPins) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> place(0, 1), turn(-3, 3), size(0.5, 2);
    for (int n = 0; n < 200; ++n) {
        const auto factor = std::polar(size(random), turn(random));
        const std::complex<double> shift(place(random), place(random));
        const auto behind = [&](const PhotoSpot& f) {
            const auto z = factor * std::complex(1 - f.x, f.y) + shift; // seen from behind: left is right
            return PhotoSpot{z.real(), z.imag()};
        };
        PhotoMarks front, back;
        for (const char* pin : {"1", "2", "3", "4"}) front[{"Q1", pin}] = {place(random), place(random)};
        for (const char* pin : {"1", "2"}) back[{"Q1", pin}] = behind(front[{"Q1", pin}]);
        const auto fit = align(front, back);
        ASSERT_TRUE(fit);
        for (const char* pin : {"3", "4"}) {
            const auto expected = behind(front[{"Q1", pin}]), got = fit->back_of(front[{"Q1", pin}]), again = fit->front_of(got);
            EXPECT_NEAR(got.x, expected.x, 1e-9);
            EXPECT_NEAR(got.y, expected.y, 1e-9);
            EXPECT_NEAR(again.x, (front[{"Q1", pin}].x), 1e-9);
        }
        back.erase({"Q1", "2"});
        EXPECT_FALSE(align(front, back));
    }
    EXPECT_FALSE(align({{{"C5", "+"}, {0.5, 0.5}}, {{"C5", "-"}, {0.5, 0.5}}}, {{{"C5", "+"}, {0.1, 0.1}}, {{"C5", "-"}, {0.2, 0.2}}}));
}

TEST(Photos, MarksLiveInTheJournal) {
    Entry front = photo("added", "a.jpg"), back = photo("added", "b.jpg");
    front.saw = "front";
    back.saw = "back";
    Job job = demo("rb6-fresh").with(front).with(back).with(mark("a.jpg", "C5", "+", 0.2, 0.3)).with(mark("a.jpg", "C5", "-", 0.2, 0.35));
    job = job.with(mark("a.jpg", "Q1", "D", 0.5, 0.5)).with(mark("b.jpg", "C5", "+", 0.8, 0.3)).with(mark("b.jpg", "C5", "-", 0.8, 0.35));
    const auto loaded = reader().parse(job.text());
    ASSERT_TRUE(loaded) << wording::problem(loaded.problem());
    const auto now = replay(loaded->job);
    ASSERT_EQ(now.photos.size(), 2u);
    EXPECT_EQ(now.photos[0].marks.size(), 3u);
    const auto shown = marks_of(now.photos, 1);
    EXPECT_EQ(shown.own.size(), 2u);
    ASSERT_EQ(shown.derived.size(), 1u); // Q1's drain, from the front
    EXPECT_NEAR((shown.derived.at({"Q1", "D"}).x), 0.5, 1e-9);
    EXPECT_EQ(replay(job.with(photo("gone", "a.jpg"))).photos.size(), 1u);
    const auto with_one = job.with(part_picture("c.jpg", "C5")).with(part_picture("c.jpg", "C5")).with(part_picture("c.jpg", "Q1"));
    EXPECT_EQ(replay(with_one).part_pictures, (std::vector<PartPicture>{{"c.jpg", "C5"}, {"c.jpg", "Q1"}}));
    EXPECT_EQ(replay(with_one).photos.size(), 2u); // and are none of the board
    EXPECT_EQ(replay(with_one).pictures().size(), 4u);
    EXPECT_TRUE(replay(with_one.with(photo("gone", "c.jpg"))).part_pictures.empty());
    for (const Entry& bad :
         {photo("added", ""), photo("added", "../../elsewhere.jpg"), photo("eaten", "a.jpg"), mark("a.jpg", "C5", "X", 0.1, 0.1),
          mark("a.jpg", "C99", "+", 0.1, 0.1), mark("a.jpg", "C5", "+", -1, 0.1), part_picture("c.jpg", "C99"), part_picture("c.jpg", "")})
        EXPECT_TRUE(has_errors(check_entry(demo_board(), reader().vocabulary(), bad, 0))) << bad.what << " " << bad.ref;
}
