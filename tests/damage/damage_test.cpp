// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include "base/statistics.h"
#include "damage/behaviour.h"
#include "damage/slow_causes.h"
#include "damage/surge_tree.h"

#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const ScenarioSet& scenarios() {
    static const auto set = enumerate_scenarios(demo_board(), find_roles(demo_board()), library(), {}, {}, {});
    return *set;
}

Behaviour behave(const std::vector<std::string>& texts) {
    BehaviourModel model(demo_board(), find_roles(demo_board()));
    Scenario s;
    for (const auto& f : faults(demo_board(), texts)) s.steps.push_back({f, Cause::Root, 0, 0, 0});
    return model.judge(s);
}

} // namespace

TEST(FaultLibrary, EveryKindHasModesThatSumToOne) {
    for (const auto& kind : all_kinds()) {
        const auto entry = library().kinds.find(kind.kind);
        ASSERT_NE(entry, library().kinds.end()) << kind.name;
        double sum = 0;
        for (const auto& [mode, data] : entry->second.modes) sum += data.share;
        EXPECT_NEAR(sum, 1, 0.01) << kind.name;
    }
}

// Bench guide: a quarter to a third of dead electrolytics look perfect (common practice, no source).
TEST(FaultLibrary, DeadElectrolyticsMayLookPerfect) {
    const double fine = library().find(PartKind::Electrolytic, FaultMode::Dry)->looks_fine();
    EXPECT_GE(fine, 0.2);
    EXPECT_LE(fine, 0.35);
}

TEST(FaultLibrary, AgeAndHistoryRaiseTheRate) {
    Part c = part("C1 electrolytic 100u +=A -=B");
    c.age_years = 5;
    const double young = library().weight(c, FaultMode::Dry, {});
    c.age_years = 15;
    EXPECT_GT(library().weight(c, FaultMode::Dry, {}), 2 * young);
    EXPECT_GT(library().weight(c, FaultMode::Dry, {"faded-over-weeks"}), 3 * library().weight(c, FaultMode::Dry, {}));
}

TEST(FaultLibrary, BadFilesAreNamed) {
    EXPECT_EQ(parse_fault_library("{", "x").problem().kind, ProblemKind::JsonBroken);
    EXPECT_EQ(parse_fault_library(R"({"kinds": {"flux-capacitor": {}}})", "x").problem().kind, ProblemKind::UnknownPartKind);
    EXPECT_EQ(parse_fault_library(R"({"kinds": {"fuse": {"rate": 1, "modes": {"bulged": {"share": 1}}}}})", "x").problem().kind,
              ProblemKind::UnknownFaultMode);
    const auto shares = parse_fault_library(R"({"kinds": {"fuse": {"rate": 1, "modes": {"open": {"share": 0.4}}}}})", "x");
    ASSERT_FALSE(shares);
    EXPECT_EQ(shares.problem().place, "x#/kinds/fuse/modes");
}

TEST(SlowCauses, DryBulkCapacitorHeatsTheSwitch) {
    const Board& b = demo_board();
    const auto t = find_roles(b);
    const auto list = slow_consequences(b, t, fault(b, "C5:dry"));
    ASSERT_FALSE(list.empty());
    EXPECT_EQ(b.part(list.front().step.fault.part).ref, "Q1");
    EXPECT_EQ(list.front().step.cause, Cause::SwitchHeat);
    EXPECT_GT(list.front().chance, 0.05);
    EXPECT_LT(list.front().chance, 0.95);
    EXPECT_TRUE(slow_consequences(b, t, fault(b, "R24:open")).empty());
}

// Every number traces to a part's rating: a larger capacitor, a smaller chance; a higher drain rating, a smaller chance.
TEST(SlowCauses, RatingsChangeTheStory) {
    Board larger = demo_board();
    larger.parts[static_cast<std::size_t>(at(larger, "C5"))].value = "470u";
    const auto small = slow_consequences(demo_board(), find_roles(demo_board()), fault(demo_board(), "C5:dry"));
    const auto large = slow_consequences(larger, find_roles(larger), fault(larger, "C5:dry"));
    EXPECT_LT(large.empty() ? 0 : large.front().chance, small.front().chance);
    Board tougher = demo_board();
    tougher.parts[static_cast<std::size_t>(at(tougher, "Q1"))].value = "1200V 7A";
    const auto weak = slow_consequences(demo_board(), find_roles(demo_board()), fault(demo_board(), "D2:open"));
    const auto tough = slow_consequences(tougher, find_roles(tougher), fault(tougher, "D2:open"));
    ASSERT_FALSE(weak.empty());
    EXPECT_LT(tough.empty() ? 0 : tough.front().chance, weak.front().chance);
}

TEST(SlowCauses, LostFeedbackOvervoltsTheRails) {
    const auto list = slow_consequences(demo_board(), find_roles(demo_board()), fault(demo_board(), "OK1:open"));
    std::set<std::string> hurt;
    for (const auto& c : list) hurt.insert(demo_board().part(c.step.fault.part).ref);
    EXPECT_TRUE(hurt.contains("D9"));
    EXPECT_TRUE(hurt.contains("D10"));
}

TEST(BoardRoles, FindsThePartsFromWiring) {
    const Board& b = demo_board();
    const auto t = find_roles(b);
    EXPECT_EQ(b.part(t.power_switch).ref, "Q1");
    EXPECT_EQ(b.part(t.controller).ref, "U1");
    EXPECT_EQ(b.part(t.transformer).ref, "T1");
    ASSERT_EQ(t.sense.size(), 1u);
    EXPECT_EQ(b.part(t.sense.front()).ref, "R9");
    ASSERT_EQ(t.supply_capacitors.size(), 1u);
    EXPECT_EQ(b.part(t.supply_capacitors.front()).ref, "C8");
    // Names play no part: the same board with every ref and net renamed.
    Board other = b;
    for (auto& p : other.parts) {
        p.ref = "x" + p.ref;
        for (auto& pin : p.pins) pin.net = "n" + pin.net;
    }
    for (auto& r : other.rails) r.net = "n" + r.net, r.ret = "n" + r.ret;
    const Board renamed = make_board(other)->board;
    EXPECT_EQ(renamed.part(find_roles(renamed).power_switch).ref, "xQ1");
}

TEST(SurgeTree, ChancesSumToOneAndTheSenseResistorGoes) {
    const Board& b = demo_board();
    const auto tree = surge_tree(SurgeBoard(b, find_roles(b)), faults(b, {"Q1:ds-short"}), {}, {});
    ASSERT_TRUE(tree);
    double sum = 0, sense = 0, fuse = 0;
    for (const auto& leaf : *tree) {
        sum += leaf.chance;
        std::set<Fault> once;
        for (const auto& s : leaf.damage) {
            EXPECT_TRUE(once.insert(s.fault).second) << "a part broke twice";
            if (b.part(s.fault.part).ref == "R9") sense += leaf.chance;
            if (b.part(s.fault.part).ref == "F1") fuse += leaf.chance;
        }
    }
    EXPECT_NEAR(sum, 1, 1e-9);
    EXPECT_NEAR(sense, 1 - shipped_practice().model_doubt, 1e-3); // must break, but for what the model does not know
    EXPECT_GT(fuse, 0.3);
}

// A fuse and an inrush resistor carry the same current: which gives way first is a race of two limits, and the loser is saved.
TEST(SurgeTree, FuseAndInrushResistorRace) {
    const Job job = demo("sw3-flyback-integrated");
    const Board& b = job.board;
    const SurgeBoard surge(b, find_roles(b));
    const auto initial = faults(b, {"U1:ds-short"});
    const auto unbroken = surge.run(initial, {}, {}, {});
    ASSERT_TRUE(unbroken);
    const auto stress = [&](const char* ref) {
        return *std::find_if(unbroken->stresses.begin(), unbroken->stresses.end(),
                             [&](const Stress& s) { return b.part(s.becomes.part).ref == ref; });
    };
    const Stress fuse = stress("F1"), resistor = stress("R1");
    ASSERT_GT(resistor.ratio(), fuse.ratio());
    ASSERT_GT(fuse.ratio(), 1);
    const double fuse_first =
        (1 - shipped_practice().model_doubt) * exceedance(fuse.ratio() / resistor.ratio(), std::hypot(fuse.sigma_ln, resistor.sigma_ln));
    const auto tree = surge_tree(surge, initial, {}, {});
    ASSERT_TRUE(tree);
    double first_fuse = 0, saved = 0, sum = 0;
    for (const auto& leaf : *tree) {
        sum += leaf.chance;
        const auto of = [&](const char* ref) {
            return std::find_if(leaf.damage.begin(), leaf.damage.end(), [&](const Step& s) { return b.part(s.fault.part).ref == ref; });
        };
        first_fuse += of("F1") < of("R1") ? leaf.chance : 0;
        saved += of("F1") != leaf.damage.end() && of("R1") == leaf.damage.end() ? leaf.chance : 0;
    }
    EXPECT_NEAR(sum, 1, 1e-9);
    EXPECT_NEAR(first_fuse, fuse_first + (1 - fuse_first) * shipped_practice().model_doubt,
                0.06);     // or the resistor should have gone first and did not
    EXPECT_GT(saved, 0.1); // the arc in the fuse may still take the resistor
}

TEST(Enumerate, MassAndOrder) {
    const auto& set = scenarios();
    EXPECT_GT(set.scenarios.size(), 500u);
    double sum = set.reserve;
    for (std::size_t i = 0; i < set.scenarios.size(); ++i) {
        sum += set.scenarios[i].prior;
        if (i > 0) EXPECT_LE(set.scenarios[i].prior, set.scenarios[i - 1].prior * (1 + 1e-12));
    }
    EXPECT_LE(sum, 1 + 1e-9);
    EXPECT_GT(sum, 0.85);
}

TEST(Enumerate, NoSetTwiceAndNoPartTwice) {
    std::set<std::vector<Fault>> seen;
    for (const auto& s : scenarios().scenarios) {
        EXPECT_TRUE(seen.insert(s.key()).second);
        std::set<int> parts;
        for (const auto& f : s.faults()) EXPECT_TRUE(parts.insert(f.part).second);
    }
}

TEST(Enumerate, SameInputSameAnswer) {
    const auto again = enumerate_scenarios(demo_board(), find_roles(demo_board()), library(), {}, {}, {});
    ASSERT_EQ(again->scenarios.size(), scenarios().scenarios.size());
    for (std::size_t i = 0; i < again->scenarios.size(); i += 37) {
        EXPECT_EQ(again->scenarios[i].key(), scenarios().scenarios[i].key());
        EXPECT_DOUBLE_EQ(again->scenarios[i].prior, scenarios().scenarios[i].prior);
    }
}

// The bench guide's main chain is among the stories, with the bulk capacitor as root.
TEST(Enumerate, HoldsTheMainChain) {
    const Board& b = demo_board();
    bool found = false;
    for (const auto& s : scenarios().scenarios) {
        if (s.steps.size() < 3 || s.steps[0].fault != fault(b, "C5:dry") || s.steps[1].fault != fault(b, "Q1:ds-short")) continue;
        for (const auto& step : s.steps) found = found || (b.part(step.fault.part).ref == "R9" && step.value > step.limit);
    }
    EXPECT_TRUE(found);
}

TEST(Enumerate, HistoryMovesThePriors) {
    const auto surged = enumerate_scenarios(demo_board(), find_roles(demo_board()), library(), {"surge"}, {}, {});
    const auto share = [&](const ScenarioSet& set) {
        double p = 0;
        for (const auto& s : set.scenarios)
            if (!s.steps.empty() && demo_board().part(s.steps.front().fault.part).ref == "RV1") p += s.prior;
        return p;
    };
    EXPECT_GT(share(*surged), 2 * share(scenarios()));
}

TEST(Enumerate, CanBeCancelled) {
    const auto token = CancelToken::make();
    token.cancel();
    EXPECT_EQ(enumerate_scenarios(demo_board(), find_roles(demo_board()), library(), {}, {}, token).problem().kind, ProblemKind::Cancelled);
}

TEST(Behaviour, FollowsTheFaults) {
    EXPECT_EQ(behave({}).running, Running::Normal);
    EXPECT_EQ(behave({"F1:open"}).running, Running::NoInput);
    EXPECT_EQ(behave({"RT1:open"}).running, Running::NoInput);
    EXPECT_EQ(behave({"Q1:ds-short"}).running, Running::BlowsFuse);
    EXPECT_EQ(behave({"BR1:short@~1+"}).running, Running::BlowsFuse);
    EXPECT_EQ(behave({"R4:open"}).running, Running::NoStart);
    EXPECT_EQ(behave({"U1:dead"}).running, Running::NoStart);
    EXPECT_EQ(behave({"C8:dry"}).running, Running::Hiccup);
    EXPECT_EQ(behave({"D3:open"}).running, Running::Hiccup);   // starts by R4 and R5, and has nothing to run on
    EXPECT_EQ(behave({"R12:open"}).running, Running::Hiccup);  // the same
    EXPECT_EQ(behave({"D3:short"}).running, Running::NoStart); // what R4 and R5 bring goes into the winding
    EXPECT_EQ(behave({"C16:short"}).running, Running::Hiccup);
    EXPECT_EQ(behave({"OK1:open"}).running, Running::High);
    EXPECT_EQ(behave({"C5:dry"}).running, Running::Weak);
}

TEST(Behaviour, WordsFitTheBehaviour) {
    EXPECT_GT(symptom_chance(shipped_practice(), "ticking", behave({"C16:short"})),
              5 * symptom_chance(shipped_practice(), "ticking", behave({"F1:open"})));
    EXPECT_GT(symptom_chance(shipped_practice(), "dead", behave({"F1:open"})), 5 * symptom_chance(shipped_practice(), "dead", behave({})));
    EXPECT_GT(symptom_chance(shipped_practice(), "high-output", behave({"OK1:open"})),
              5 * symptom_chance(shipped_practice(), "high-output", behave({"C5:dry"})));
}
