// SPDX-License-Identifier: GPL-3.0-or-later
// What must hold for any evidence.
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Job with_readings(const std::vector<Entry>& entries) {
    Entry d;
    d.act = Do::Discharge;
    d.value = 0.3;
    Job job = demo("rb6-fresh").with(d);
    for (const auto& e : entries) job = job.with(e);
    return job;
}

} // namespace

TEST(Invariants, TheOrderOfReadingsDoesNotMatter) {
    std::vector<Entry> entries = {read("ohms", "HV", "PGND", 41.2), read("ohms", "+24V", "0V", 1390), act(Do::Look, "C5", "bulged"),
                                  read_part("esr", "C5", 3.6)}; // an odd look before all of them tells of the whole board
    const auto first = analyse(with_readings(entries));
    std::reverse(entries.begin(), entries.end());
    const auto second = analyse(with_readings(entries));
    for (const auto& b : first->assessment.parts)
        EXPECT_NEAR(b.bad, second->assessment.of(b.part).bad, 1e-9) << demo_board().part(b.part).ref;
}

TEST(Invariants, ReasonsAddUpToTheTurnOfTheOdds) {
    const auto a = analyse(with_readings({read("ohms", "HV", "PGND", 262e3), read_part("esr", "C5", 3.6)}));
    const auto nothing = analyse(Job(demo("rb6-fresh")));
    const int c5 = at(demo_board(), "C5");
    double decibans = 0;
    for (const auto& r : a->assessment.of(c5).reasons) decibans += r.decibans;
    const auto odds = [](double p) { return 10 * std::log10(p / (1 - p)); };
    // The complaint's own words stand among the reasons as well, so the sum starts from the bare prior: at least the turn since then.
    EXPECT_GT(decibans, odds(a->assessment.of(c5).bad) - odds(nothing->assessment.of(c5).bad) - 3);
}

TEST(Invariants, AHealthyReadingNeverRaisesItsPart) {
    for (const auto& [red, black, ref] : std::vector<std::tuple<const char*, const char*, const char*>>{
             {"+12V", "0V", "C19"}, {"+5V", "0V", "C21"}, {"+24V", "0V", "C17"}}) {
        const auto before = analyse(with_readings({}));
        const auto value =
            before->predictor
                ->predict(
                    {Quantity::Ohms, *demo_board().find_net(red), *demo_board().find_net(black), -1, before->replay.evidence.state, 0}, {})
                .value;
        const auto after = analyse(with_readings({read("ohms", red, black, value)}));
        EXPECT_LE(bad(*after, ref), bad(*before, ref) * 1.02) << ref;
    }
}

TEST(Invariants, OneSideSaysLittleOfTheOther) {
    const auto before = analyse(with_readings({read("ohms", "HV", "PGND", 41.2)}));
    const auto after = analyse(with_readings({read("ohms", "HV", "PGND", 41.2), read("ohms", "+12V", "0V", 628)}));
    // Of what is on the map: a reading that is as it should be speaks for the map as a whole.
    const auto mapped = [](const Analysis& a, const char* ref) { return bad(a, ref) / (1 - a.assessment.unexplained); };
    for (const char* ref : {"Q1", "R9", "U1", "BR1"}) EXPECT_NEAR(mapped(*after, ref), mapped(*before, ref), 0.1) << ref;
}

TEST(Invariants, OneBlunderDoesNotHideTheTruth) {
    // The bulk reading was taken on the wrong pin; everything else says the switch is short.
    const auto a = analyse(with_readings({read("ohms", "DRAIN", "SRC", 0.3), read("diode", "SRC", "DRAIN", 0.001),
                                          read("ohms", "SRC", "DRAIN", 0.3), read("ohms", "HV", "PGND", 4.2e6)}));
    EXPECT_GT(bad(*a, "Q1"), 0.5);
}

TEST(Invariants, CancelledMeansNoAnswer) {
    auto analyst = Analyst::make(RealDisk(), data());
    const auto token = CancelToken::make();
    token.cancel();
    const auto result = analyst->analyse(demo("rb6-fresh"), token);
    ASSERT_FALSE(result);
    EXPECT_EQ(result.problem().kind, ProblemKind::Cancelled);
    EXPECT_TRUE(analyst->analyse(demo("rb6-fresh"), {})); // and the next question is answered
}

TEST(Invariants, MetersOfTheJobAreUsed) {
    // A meter whose leads add 0.5 ohm: the same healthy sense resistor reads 0.83.
    std::string text = demo_text("rb6-fresh");
    const auto where = text.find("  \"journal\"");
    text.insert(where, R"(  "meters": [{"id": "old", "leads": 0.5}],)"
                       "\n");
    const auto loaded = reader().parse(text);
    ASSERT_TRUE(loaded);
    Entry e = read("ohms", "SRC", "PGND", 0.83);
    Entry named = e;
    named.meter = "old";
    const auto plain = analyse(loaded->job.with(e)), leads = analyse(loaded->job.with(named));
    EXPECT_LT(bad(*leads, "R9"), bad(*plain, "R9") + 1e-9);
    EXPECT_EQ(leads->predictor->meters().size(), 3u); // the default, the job's, the low-power one that ships
}

TEST(Invariants, BandsAreOrderedAndApart) {
    const auto a = analyse(with_readings({}));
    for (const auto& act : a->next.acts) {
        if (act.act != Act::Read) continue;
        for (std::size_t i = 1; i < act.bands.size(); ++i) {
            if (act.bands[i].over) continue;
            EXPECT_FALSE(act.bands[i - 1].over);
            EXPECT_LE(act.bands[i - 1].lo, act.bands[i].lo * (1 + 1e-9));
        }
    }
}

// Calibration of one step: draw one of the stories that are told, as likely as each is among them, let the meter answer with its own
// spread; the belief in a part must on average be what these stories say of it (the martingale property of Bayes), within sampling error.
TEST(Invariants, BeliefsNeitherRiseNorFallOnAverage) {
    const auto start = analyse(with_readings({}));
    std::mt19937 random(8);
    std::uniform_real_distribution<double> uniform;
    std::normal_distribution<double> normal;
    const int q1 = at(demo_board(), "Q1"), draws = 24;
    double mean = 0, told = 0, with_q1 = 0;
    for (const auto& story : start->assessment.stories) {
        const auto faults = story.scenario.faults();
        told += story.p;
        if (std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return f.part == q1; })) with_q1 += story.p;
    }
    for (int k = 0; k < draws; ++k) {
        double u = uniform(random) * told;
        const Scenario* truth = &start->assessment.stories.back().scenario;
        for (const auto& story : start->assessment.stories)
            if ((u -= story.p) <= 0) {
                truth = &story.scenario;
                break;
            }
        const auto p = start->predictor->predict(
            {Quantity::Ohms, *demo_board().find_net("DRAIN"), *demo_board().find_net("SRC"), -1, start->replay.evidence.state, 0},
            truth->faults());
        Entry e = read("ohms", "DRAIN", "SRC", score_value(Quantity::Ohms, p.x + p.sigma * normal(random)));
        e.over = p.over;
        e.rising = p.rising;
        if (e.over) e.value.reset();
        mean += bad(*analyse(with_readings({e})), "Q1") / draws;
    }
    EXPECT_NEAR(mean, with_q1 / told, 0.25);
}
