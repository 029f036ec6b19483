// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/meters.h"
#include "circuit/meter_lesson.h"
#include "support/demo.h"

#include <fmt/format.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

// What a meter shows of a diode held on one range, a resistor in series.
std::optional<double> on_range(const MeterProfile& meter, const OhmsRange& range, const Board& b, const char* from, const char* to) {
    MeterProfile held = meter;
    held.ohms = {range};
    held.over = range.full;
    const auto shown = read_dc(DcSolver(expand(b, {}, {})), held, Quantity::Ohms, *b.find_net(from), *b.find_net(to));
    return shown.over ? std::nullopt : std::optional(shown.value);
}

MeterLesson lesson_of(const MeterProfile& meter, const std::string& value, double series) {
    const Board b = board({"D1 diode " + value + " A=A K=B", fmt::format("R1 resistor {} 1=S 2=A", series)});
    MeterLesson out{.id = "bench"};
    out.diode = read_dc(DcSolver(expand(b, {}, {})), meter, Quantity::Diode, *b.find_net("A"), *b.find_net("B")).value;
    for (const auto& range : meter.ohms) {
        RangeLesson r{.full = range.full};
        r.diode = on_range(meter, range, b, "A", "B");
        if (!r.diode && series < range.full && (r.diode = on_range(meter, range, b, "S", "B"))) r.in_series = series;
        r.diode_over = !r.diode;
        out.ranges.push_back(r);
    }
    return out;
}

Problems refused(const MeterLesson& lesson) {
    const auto meter = teach_meter(lesson);
    return meter ? Problems{} : meter.problems();
}

} // namespace

// Every kind of meter that the program knows, taught with diodes of three families: the current comes back within what is claimed for it.
TEST(MeterLesson, CurrentsAreFoundAgain) {
    int found = 0, outside = 0;
    for (const auto& kind : belief::meter_kinds({}))
        for (const char* diode : {"1A", "0.2A", "8A"}) {
            const auto lesson = lesson_of(kind.profile, diode, 10);
            const auto taught = teach_meter(lesson);
            ASSERT_TRUE(taught);
            for (std::size_t k = 0; k < taught->ohms.size(); ++k) {
                if (!lesson.ranges[k].diode) continue;
                const auto& r = taught->ohms[k];
                const double off = std::abs(std::log(r.amps / kind.profile.ohms[k].amps));
                EXPECT_LT(off, 3 * r.spread) << diode << " range " << r.full;
                outside += off > r.spread;
                ++found;
            }
        }
    EXPECT_GT(found, 20);
    EXPECT_LT(outside, 0.4 * found);
}

TEST(MeterLesson, AResistorInSeriesIsTakenOff) {
    MeterLesson lesson{.id = "bench", .diode = 0.6};
    // 0.1 mA: by hand 0.6 V - 1.85 * 25.9 mV * ln 10 = 0.490 V, that is 4.90 kilohm, beside 2.2 in series.
    lesson.ranges = {{.full = 2e4, .diode = 4.90e3}};
    const auto bare = teach_meter(lesson);
    lesson.ranges[0].diode = 7.10e3;
    lesson.ranges[0].in_series = 2.2e3;
    const auto with = teach_meter(lesson);
    ASSERT_TRUE(bare && with);
    EXPECT_NEAR(bare->ohms[0].amps, 1e-4, 1e-6);
    EXPECT_NEAR(with->ohms[0].amps, bare->ohms[0].amps, 1e-7);
}

// Known resistors against what is known of any meter: three of them at 2 % more pull most of the way, never past it.
TEST(MeterLesson, GainComesFromKnownResistors) {
    MeterLesson lesson{.id = "bench"};
    for (double full : {600.0, 6e3, 6e4}) lesson.ranges.push_back({.full = full, .known = full / 3, .shown = full / 3 * 1.02});
    const auto three = teach_meter(lesson);
    lesson.ranges.resize(1);
    const auto one = teach_meter(lesson);
    ASSERT_TRUE(three && one);
    EXPECT_GT(three->gain, one->gain);
    EXPECT_GT(one->gain, 1.005);
    EXPECT_LT(three->gain, 1.02);
    EXPECT_LT(three->gain_spread, one->gain_spread);
    EXPECT_LT(one->gain_spread, 0.006);
}

TEST(MeterLesson, AMeterOfFewVoltsFindsNoJunction) {
    MeterLesson lesson{.id = "gentle"};
    lesson.ranges = ranges_of_counts(2000);
    EXPECT_EQ(lesson.ranges.front().full, 200);
    EXPECT_EQ(lesson.ranges.back().full, 2e7);
    EXPECT_EQ(ranges_of_counts(6000).front().full, 600);
    for (auto& r : lesson.ranges) r.diode_over = true;
    const auto taught = teach_meter(lesson);
    ASSERT_TRUE(taught);
    EXPECT_LT(taught->compliance, 0.45);
}

TEST(MeterLesson, SaysWhatDoesNotAddUp) {
    MeterLesson good{.id = "bench", .diode = 0.58, .ranges = {{.full = 6e3, .known = 2200.0, .shown = 2210.0, .diode = 5e3}}};
    EXPECT_TRUE(refused(good).empty());
    const auto place_of = [&](auto&& spoil) {
        MeterLesson bad = good;
        spoil(bad);
        const auto problems = refused(bad);
        return problems.empty() ? std::string() : problems.front().place;
    };
    EXPECT_EQ(place_of([](auto& l) { l.id.clear(); }), "id");
    EXPECT_EQ(place_of([](auto& l) { l.ranges.clear(); }), "ranges");
    EXPECT_EQ(place_of([](auto& l) { l.diode = 0.18; }), "diode"); // a Schottky
    EXPECT_EQ(place_of([](auto& l) { l.leads = 12; }), "leads");
    EXPECT_EQ(place_of([](auto& l) { l.ranges[0].shown = 3300; }), "range 1/shown");
    EXPECT_EQ(place_of([](auto& l) { l.ranges[0].known.reset(); }), "range 1/known");
    EXPECT_EQ(place_of([](auto& l) { l.ranges[0].diode = 2.0; }), "range 1/diode");
    EXPECT_EQ(place_of([](auto& l) { l.ranges[0].in_series = 1e4; }), "range 1/diode");
    EXPECT_EQ(place_of([](auto& l) { l.ranges.push_back({.full = 600}); }), "range 2/full");
}

// The meter of a job is the one of its readings, also after the file was written and read again.
TEST(MeterLesson, TheUsualMeterOfAJob) {
    Job job = demo("rb6-fresh");
    const auto taught =
        teach_meter({.id = "bench", .diode = 0.58, .ranges = {{.full = 6e3, .known = 2200.0, .shown = 2245.0, .diode = 5e3}}});
    ASSERT_TRUE(taught);
    const Job once = job.with_meter(*taught);
    const auto read = reader().parse(once.text());
    ASSERT_TRUE(read) << read.problems().front().place;
    const auto meters = replay(read->job).evidence.meters;
    EXPECT_EQ(meters.front().id, "bench");
    EXPECT_NEAR(meters.front().ohms[0].amps, taught->ohms[0].amps, 1e-12);
    EXPECT_NEAR(meters.front().gain, taught->gain, 1e-9);
    EXPECT_FALSE(belief::is_untaught(meters.front()));
    MeterProfile other = *taught;
    other.id = "other";
    const Job twice = once.with_meter(other).with_meter(*taught);
    EXPECT_EQ(twice.meters.size(), 2u);
    EXPECT_EQ(replay(twice).evidence.meters.front().id, "bench");
    EXPECT_EQ(std::count_if(twice.meters.begin(), twice.meters.end(), [](const MeterProfile& m) { return m.usual; }), 1);
}
