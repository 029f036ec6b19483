// SPDX-License-Identifier: GPL-3.0-or-later
// Boards designed for what one sees. Designers' figures are common practice, no source, unless a line says otherwise.
#include "support/demo.h"
#include "support/designs.h"

#include "damage/behaviour.h"
#include "design/design.h"
#include "design/sums.h"
#include "job/blueprints.h"
#include "job/board_files.h"

#include <random>

using namespace ohmo;
using namespace ohmo::test;

namespace {

// Holds together, and the healthy board runs.
void expect_sound(const Supply& s, const std::string& what) {
    const auto design = design_supply(s);
    ASSERT_TRUE(design) << what << ": " << design.problems().front().place << " " << design.problems().front().found;
    const Board& b = design->draft;
    const auto again = make_board(b);
    ASSERT_TRUE(again) << what;
    for (const auto& w : again->warnings) ADD_FAILURE() << what << ": " << w.place << " " << w.found << " " << w.expected;
    EXPECT_GE(b.rails.size(), s.rails.size()) << what;
    for (const auto& part : b.parts) {
        EXPECT_TRUE(part.assumed) << what << " " << part.ref;
        EXPECT_TRUE(nominal_value(part)) << what << " " << part.ref << " " << part.value;
    }
    EXPECT_EQ(BehaviourModel(b, find_roles(b)).judge(Scenario{}).running, Running::Normal) << what;
}

const Part& part(const Board& b, const std::string& ref) {
    const auto found = b.find_part(ref);
    EXPECT_TRUE(found) << ref;
    return b.part(found.value_or(0));
}

} // namespace

TEST(Design, EveryFamilyAtThreeSizesHoldsTogetherAndRuns) {
    std::map<std::string, int> sizes;
    for (const auto& one : designed_supplies()) {
        expect_sound(one.supply, one.name);
        ++sizes[one.supply.family];
    }
    EXPECT_EQ(sizes.size(), all_families().size());
    for (const auto& [family, count] : sizes) EXPECT_GE(count, 3) << family;
}

// Whatever is asked for is refused with a reason or gives a board that holds together.
TEST(Design, WhateverIsAskedIsRefusedOrHoldsTogether) {
    std::mt19937 random(20261128);
    const auto pick = [&](auto list) { return list[random() % list.size()]; };
    int made = 0, refused = 0;
    for (int n = 0; n < 600; ++n) {
        Supply s;
        const auto& family = all_families()[random() % all_families().size()];
        s.family = family.name;
        s.feed = random() % 8 == 0 ? pick(std::vector<Feed>{Feed::Mains, Feed::DirectVolts, Feed::AlternatingVolts}) : pick(family.feeds);
        s.volts = s.feed == Feed::Mains ? pick(std::vector<double>{100, 115, 120, 127, 220, 230, 240})
                                        : pick(std::vector<double>{5, 9, 12, 15, 24, 48});
        s.hertz = s.feed == Feed::DirectVolts ? 0 : pick(std::vector<double>{50, 60});
        const int rails = 1 + static_cast<int>(random() % (random() % 4 == 0 ? 9 : static_cast<unsigned>(family.most_rails)));
        for (int i = 0; i < rails; ++i) {
            SupplyRail r{pick(std::vector<double>{1.2, 1.8, 3.3, 5, 5, 9, 12, 12, 15, 19, 24, 36, 48, 320, -5, -12, -15}),
                         pick(std::vector<double>{0.05, 0.2, 1, 2, 5, 12}),
                         {}};
            if (i > 0 && random() % 3 == 0) r.from = static_cast<int>(random() % static_cast<unsigned>(i));
            s.rails.push_back(r);
        }
        for (const auto& o : all_options())
            if (random() % 2 == 0 || std::find(family.options.begin(), family.options.end(), o.option) != family.options.end())
                s.chosen[o.option] = random() % 3 == 0 ? static_cast<int>(random() % o.values.size()) : 0;
        const auto design = design_supply(s);
        if (design) {
            ++made;
            const auto again = make_board(design->draft);
            ASSERT_TRUE(again);
            EXPECT_TRUE(again->warnings.empty())
                << s.family << " " << again->warnings.front().place << " " << again->warnings.front().found;
            for (const auto& sum : design->sums)
                EXPECT_TRUE(std::isfinite(sum.wanted) && std::isfinite(sum.chosen)) << s.family << " " << sum.of;
            const auto& rails_made = design->draft.rails;
            for (std::size_t i = 0; i < s.rails.size(); ++i) EXPECT_EQ(rails_made[i].volts, s.rails[i].volts);
        } else {
            ++refused;
            for (const auto& p : design.problems()) EXPECT_FALSE(p.place.empty() || p.expected.empty()) << s.family;
        }
    }
    EXPECT_GT(made, 100);
    EXPECT_GT(refused, 50);
}

// Worked from the closed forms in the header; the crests are check values 1 of the handbook of mains figures.
TEST(Design, SumsOfADesigner) {
    EXPECT_NEAR(crest_volts(230), 325.27, 0.01);
    EXPECT_NEAR(crest_volts(120), 169.71, 0.01);
    // 60 W at 50 Hz from 325.3 - 1.8 V down to 288.2 V is what 47 uF hold: the ripple sum of the same capacitor, worked the other way.
    EXPECT_NEAR(bulk_farads_for(60, 323.5, 288.2, 50, 0.01) * 1e6, 47, 0.5);
    EXPECT_NEAR(bleeder_ohms(68e-6, 325, 60, 34.5), 300e3, 1500); // 150k + 150k beside 68 uF: 34.5 s to 60 V
    const auto s = flyback_sums(100, 290, 110, 65e3, 0.01, 187);
    EXPECT_NEAR(s.duty, 110.0 / 400, 1e-12);
    EXPECT_NEAR(s.peak_amps * s.peak_amps * s.henry / 2 * 65e3, 100, 1e-9);      // each pulse stores what is drawn
    EXPECT_NEAR(187 * 187 / s.clamp_ohms, 0.01 * 100 * 187 / (187 - 110), 1e-9); // what leaks, and what the primary gives meanwhile
    EXPECT_NEAR(reservoir_farads(1, 100, 4.545), 2200e-6, 1e-6);                 // 1 A, 2200 uF, full wave at 50 Hz: 4.55 V
}

TEST(Design, WholeTurnsFitTheRails) {
    const auto t = whole_turns({24.7, 12.5, 5.5}, 1.4, 0.03);
    EXPECT_EQ(t.of, (std::vector<int>{18, 9, 4}));
    EXPECT_LE(t.worst, 0.03);
    EXPECT_EQ(whole_turns({5.5}, 10, 0.03).of, std::vector<int>{1});
    EXPECT_TRUE(whole_turns({}, 1, 0.03).of.empty());
}

// What a technician would read off a label and find on the board: rules of thumb, no source.
TEST(Design, ValuesAreThoseOfTheTrade) {
    const auto small = design_supply(fitted(usual_supply("flyback-integrated"), "230V", {"12V 1A"}));
    ASSERT_TRUE(small);
    EXPECT_NEAR(*nominal_value(part(small->draft, "main-bulk-capacitor"))->farads * 1e6, 15, 8); // a microfarad a watt at 230 V
    EXPECT_EQ(part(small->draft, "main-bulk-capacitor").volts, 400);
    const auto american = design_supply(fitted(usual_supply("flyback-integrated"), "120V 60Hz", {"12V 1A"}));
    ASSERT_TRUE(american);
    EXPECT_NEAR(*nominal_value(part(american->draft, "main-bulk-capacitor"))->farads * 1e6, 40, 20); // three at 120 V
    EXPECT_EQ(part(american->draft, "main-bulk-capacitor").volts, 200);
    const auto notebook = design_supply(fitted(usual_supply("flyback-synchronous"), "230V", {"19V 4A"}));
    ASSERT_TRUE(notebook);
    EXPECT_NEAR(*nominal_value(part(notebook->draft, "mains-fuse"))->amps, 2, 1.2); // T3.15A on a line of 100 to 240 V
    const auto linear = design_supply(fitted(usual_supply("linear"), "230V", {"13.8V 3A"}));
    ASSERT_TRUE(linear);
    EXPECT_NEAR(*nominal_value(part(linear->draft, "reservoir"))->farads * 1e6, 6600, 3500); // 2200 uF an ampere
    const auto five = design_supply(fitted(usual_supply("flyback"), "230V", {"5V 2A"}));
    ASSERT_TRUE(five);
    EXPECT_EQ(part(five->draft, "divider-upper").value, "10k"); // 2.5 V of 5
    EXPECT_EQ(part(five->draft, "5V-rectifier").kind, PartKind::Schottky);
}

// Nothing can be ticked that makes no difference, and what cannot be ticked makes none.
TEST(Design, EveryOptionOfAFamilyChangesItsBoard) {
    for (const auto& family : all_families()) {
        Supply s = usual_supply(std::string(family.name));
        if (s.feed == Feed::Mains) set_feed(s, *parse_feed("120V 60Hz"));
        s.chosen[Option::LineFilters] =
            std::find(family.options.begin(), family.options.end(), Option::LineFilters) != family.options.end();
        for (const auto option : family.options) {
            std::set<std::string> seen;
            const auto& info = option_info(option);
            for (int v = 0; v < static_cast<int>(info.values.size()); ++v) {
                s.chosen[option] = v;
                const auto design = design_supply(s);
                ASSERT_TRUE(design) << family.name << " " << info.name << " " << design.problems().front().expected;
                EXPECT_TRUE(seen.insert(job_of_board(design->draft).text()).second) << family.name << " " << info.name << " " << v;
            }
            s.chosen[option] = option == Option::LineFilters;
        }
    }
}

TEST(Design, RailsFollowTheirSource) {
    const auto d = design_supply(fitted(usual_supply("flyback"), "230V", {"24V 3A", "5V 2A from 24V", "15V 0.3A from 24V"}));
    ASSERT_TRUE(d);
    EXPECT_EQ(part(d->draft, "5V-converter-chip").kind, PartKind::IntegratedSwitch); // 38 W are too much for a series regulator
    EXPECT_EQ(part(d->draft, "15V-regulator").kind, PartKind::Regulator);
    const auto& transformer = part(d->draft, "main-transformer");
    EXPECT_EQ(transformer.turns.size(), 3u); // primary, controller, 24 V
}

TEST(Design, WordsOfRailsAndFeeds) {
    const std::vector<SupplyRail> before = {{12, 3, {}}};
    EXPECT_EQ(parse_supply_rail("5 V 1 A from 12 V", before)->from, 0);
    EXPECT_EQ(parse_supply_rail("-12V 0.5A", before)->volts, -12);
    EXPECT_EQ(parse_supply_rail("3V3 500mA", before)->volts, 3.3);
    EXPECT_EQ(parse_supply_rail("3.3V 500mA", before)->amps, 0.5);
    for (const char* text : {"", "12", "12V", "5V 1A from 9V", "5V 1A from", "a b", "12A 3V", "5V 1A 2A"})
        EXPECT_FALSE(parse_supply_rail(text, before)) << text;
    EXPECT_EQ(parse_feed("120V")->hertz, 60);
    EXPECT_EQ(parse_feed("230 V 50 Hz")->feed, Feed::Mains);
    EXPECT_EQ(parse_feed("24VDC")->feed, Feed::DirectVolts);
    EXPECT_EQ(parse_feed("15 V AC")->feed, Feed::AlternatingVolts);
    for (const char* text : {"", "mains", "230", "24V DC 50Hz", "-5V", "12V AC DC"}) EXPECT_FALSE(parse_feed(text)) << text;
    for (const char* text : {"230V 50Hz", "24V DC", "15V AC 50Hz"}) {
        Supply s;
        set_feed(s, *parse_feed(text));
        EXPECT_EQ(feed_text(s), text);
    }
}

TEST(Design, RefusesWithTheReason) {
    const auto place = [](const Supply& s) {
        const auto problems = supply_problems(s);
        return problems.empty() ? std::string() : problems.front().place;
    };
    EXPECT_EQ(place(fitted(usual_supply("linear"), "24V DC", {"12V 1A"})), "feed");
    EXPECT_EQ(place(fitted(usual_supply("flyback"), "230V", {"12V 1A"}, {{"voltage-link", "closed"}})), "voltage-link");
    EXPECT_EQ(place(fitted(usual_supply("adapter"), "230V", {"12V 1A"}, {{"standby", "yes"}})), "standby");
    EXPECT_EQ(place(fitted(usual_supply("adapter"), "230V", {"12V 1A", "5V 1A"})), "rails");
    EXPECT_EQ(place(fitted(usual_supply("flyback"), "230V", {"12V 1A", "11.8V 0.5A from 12V"})), "rail 2");
    EXPECT_EQ(place(fitted(usual_supply("flyback"), "230V", {"12V 1A", "5V 2A from 12V"})), "rail 2");
    EXPECT_EQ(place(fitted(usual_supply("flyback"), "230V", {"-12V 1A"})), "rails");
    EXPECT_EQ(place(fitted(usual_supply("buck"), "5V DC", {"12V 1A"})), "rail 1");
    EXPECT_EQ(place(usual_supply("flyback")), "");
    Supply none;
    none.family = "perpetual";
    EXPECT_EQ(place(none), "family");
}
