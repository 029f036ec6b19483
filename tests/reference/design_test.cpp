// SPDX-License-Identifier: GPL-3.0-or-later
// A designer's sums against ngspice: what they size is built of nearly ideal parts and run, and does what it was sized for.
#include "design/sums.h"
#include "reference/spice.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numeric>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const char* kIdealDiode = ".model d d(is=1e-9 n=0.1 rs=1m)";

struct Extremes {
    double least = 1e300, most = -1e300, mean = 0;
};

/// Of one quantity from `from` seconds on; the mean by time.
Extremes extremes(const DeckRun& run, const std::vector<double>& values, double from) {
    Extremes out;
    double area = 0, span = 0;
    for (std::size_t i = 1; i < values.size(); ++i) {
        if (run.seconds[i - 1] < from) continue;
        out.least = std::min(out.least, values[i]);
        out.most = std::max(out.most, values[i]);
        const double step = run.seconds[i] - run.seconds[i - 1];
        area += step * (values[i] + values[i - 1]) / 2;
        span += step;
    }
    out.mean = area / span;
    return out;
}

std::vector<double> difference(const std::vector<double>& a, const std::vector<double>& b) {
    std::vector<double> out(a.size());
    std::transform(a.begin(), a.end(), b.begin(), out.begin(), std::minus<>());
    return out;
}

} // namespace

// A bridge, the capacitor and a load of constant watts: it sinks to the very valley it was sized for.
TEST(DesignAgainstNgspice, BulkCapacitorHoldsItsValley) {
    struct Case {
        double line, hertz, watts, valley_share;
    };
    for (const auto& c :
         {Case{230, 50, 60, 0.85}, Case{120, 60, 25, 0.7}, Case{100, 50, 150, 0.8}, Case{240, 50, 8, 0.92}, Case{24, 50, 15, 0.75}}) {
        const double crest = crest_volts(c.line), valley = crest * c.valley_share;
        const double farads = bulk_farads_for(c.watts, crest, valley, c.hertz, 1 / (2 * c.hertz));
        const auto run = spice_transient_of_deck({fmt::format("v1 a b sin(0 {:.9g} {:.9g})", crest, c.hertz), "d1 a p d", "d2 b p d",
                                                  "d3 0 a d", "d4 0 b d", fmt::format("c1 p 0 {:.9g} ic={:.9g}", farads, crest),
                                                  fmt::format("b1 p 0 i={:.9g}/max(v(p),{:.9g})", c.watts, crest / 10), "ra a 0 1meg",
                                                  "rb b 0 1meg", kIdealDiode},
                                                 6 / c.hertz, 0.002 / c.hertz, {"p"});
        ASSERT_TRUE(run) << c.line << "\n" << spice_log();
        const auto volts = extremes(*run, run->values.at("p"), 3 / c.hertz);
        EXPECT_NEAR(volts.least / valley, 1, 0.01) << c.line << " V, " << c.watts << " W";
        EXPECT_NEAR(volts.most / crest, 1, 0.01) << c.line << " V, " << c.watts << " W";
    }
}

// Each capacitor of a doubler is filled once a cycle and gives half the watts.
TEST(DesignAgainstNgspice, DoublerHoldsItsValley) {
    const double crest = crest_volts(120), valley = 0.8 * crest, watts = 80;
    const double farads = bulk_farads_for(watts / 2, crest, valley, 60, 1.0 / 60);
    const auto run = spice_transient_of_deck(
        {fmt::format("v1 a m sin(0 {:.9g} 60)", crest), "d1 a p d", "d2 0 a d", fmt::format("c1 p m {:.9g} ic={:.9g}", farads, crest),
         fmt::format("c2 m 0 {:.9g} ic={:.9g}", farads, crest), fmt::format("b1 p 0 i={:.9g}/max(v(p),50)", watts), kIdealDiode},
        0.15, 3e-5, {"p", "m"});
    ASSERT_TRUE(run) << spice_log();
    const auto upper = extremes(*run, difference(run->values.at("p"), run->values.at("m")), 0.08);
    // The load draws more while the sum of both is low: half the watts each is a mean, good for three in a hundred.
    EXPECT_NEAR(upper.least / valley, 1, 0.03);
}

// The linear approximation leaves out the arc in which the line fills it: what it gives is never too small, by a third too large at most.
TEST(DesignAgainstNgspice, ReservoirRipplesNoMoreThanItMay) {
    for (const double share : {0.05, 0.1, 0.2, 0.3}) {
        const double crest = crest_volts(18), amps = 2, ripple = share * crest;
        const double farads = reservoir_farads(amps, 100, ripple);
        const auto run = spice_transient_of_deck({fmt::format("v1 a b sin(0 {:.9g} 50)", crest), "d1 a p d", "d2 b p d", "d3 0 a d",
                                                  "d4 0 b d", fmt::format("c1 p 0 {:.9g} ic={:.9g}", farads, crest),
                                                  fmt::format("i1 p 0 dc {:.9g}", amps), "ra a 0 1meg", "rb b 0 1meg", kIdealDiode},
                                                 0.1, 2e-5, {"p"});
        ASSERT_TRUE(run) << spice_log();
        const auto volts = extremes(*run, run->values.at("p"), 0.04);
        EXPECT_LE(volts.most - volts.least, ripple * 1.005) << share;
        EXPECT_GE(volts.most - volts.least, ripple * 0.67) << share;
    }
}

// A switch with the duty, the primary and the clamp of the sums: the rail has its volts, the current its peak, the clamp its level.
TEST(DesignAgainstNgspice, FlybackGivesWhatItWasSizedFor) {
    struct Case {
        double watts, valley, reflected, rail;
    };
    for (const auto& c : {Case{100, 290, 110, 24}, Case{12, 120, 90, 5}, Case{40, 240, 130, 19}, Case{30, 20, 18, 12}}) {
        const double hertz = 65e3, leakage = 0.01, clamp = 1.7 * c.reflected;
        const auto s = flyback_sums(c.watts, c.valley, c.reflected, hertz, leakage, clamp);
        const double ratio = c.rail / c.reflected, period = 1 / hertz, load = c.rail * c.rail / c.watts;
        const double farads = 25 * period / load; // settles within a hundred periods
        const auto run = spice_transient_of_deck(
            {fmt::format("vin p 0 dc {:.9g}", c.valley), "vm p p1 dc 0", fmt::format("llk p1 p2 {:.9g}", leakage * s.henry),
             fmt::format("l1 p2 d {:.9g}", s.henry), fmt::format("l2 0 s {:.9g}", s.henry * ratio * ratio), "k1 l1 l2 0.99999",
             "s1 d 0 g 0 sw", ".model sw sw(vt=2.5 vh=0.1 ron=1m roff=10meg)",
             fmt::format("vg g 0 pulse(0 5 0 10n 10n {:.9g} {:.9g})", s.duty * period - 10e-9, period), "d1 s o d",
             fmt::format("c1 o 0 {:.9g} ic={:.9g}", farads, c.rail), fmt::format("r1 o 0 {:.9g}", load), "d2 d c d",
             fmt::format("rc c p {:.9g}", s.clamp_ohms), fmt::format("cc c p {:.9g} ic={:.9g}", s.clamp_farads, clamp), "cd d e 20p",
             "rd e 0 1k", kIdealDiode},
            160 * period, period / 120, {"o", "c", "p", "vm#branch"}, "reltol=1e-3 abstol=1e-7 vntol=1e-4 itl4=200 method=gear");
        ASSERT_TRUE(run) << c.watts << " W\n" << spice_log();
        const double from = 120 * period;
        EXPECT_NEAR(extremes(*run, run->values.at("o"), from).mean / c.rail, 1, 0.03) << c.watts << " W";
        EXPECT_NEAR(extremes(*run, run->values.at("vm#branch"), from).most / s.peak_amps, 1, 0.04) << c.watts << " W";
        EXPECT_NEAR(extremes(*run, difference(run->values.at("c"), run->values.at("p")), from).mean / clamp, 1, 0.08) << c.watts << " W";
        const auto& amps = run->values.at("vm#branch");
        double squares = 0;
        for (std::size_t i = 1; i < amps.size(); ++i)
            if (run->seconds[i - 1] >= from && amps[i] > 0) squares += amps[i] * amps[i] * (run->seconds[i] - run->seconds[i - 1]);
        EXPECT_NEAR(std::sqrt(squares / (run->seconds.back() - from)) / s.rms_amps, 1, 0.05) << c.watts << " W";
    }
}

// Down to what it was meant to be when it was meant to, and at e times that, one time constant before.
TEST(DesignAgainstNgspice, BleederTakesItsTime) {
    const double farads = 68e-6, ohms = bleeder_ohms(farads, 325, 60, 34.5);
    const auto run =
        spice_transient_of_deck({fmt::format("c1 a 0 {:.9g} ic=325", farads), fmt::format("r1 a 0 {:.9g}", ohms)}, 34.5, 0.05, {"a"});
    ASSERT_TRUE(run) << spice_log();
    const auto& volts = run->values.at("a");
    EXPECT_NEAR(volts.back(), 60, 0.1);
    const auto at = std::lower_bound(run->seconds.begin(), run->seconds.end(), 34.5 - farads * ohms) - run->seconds.begin();
    EXPECT_NEAR(volts[static_cast<std::size_t>(at)], 60 * std::exp(1.0), 1);
}
