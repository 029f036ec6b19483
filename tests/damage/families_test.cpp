// SPDX-License-Identifier: GPL-3.0-or-later
// Facts of the trade on the ten families of supply, each on its demo board. Common practice, no source, unless a line says otherwise.
#include "support/demo.h"

#include "damage/behaviour.h"
#include "damage/misuse.h"
#include "damage/slow_causes.h"

#include <filesystem>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const Board& family(const std::string& name) {
    static std::map<std::string, Board> known;
    const auto found = known.find(name);
    return found != known.end() ? found->second : known.emplace(name, demo(name).board).first->second;
}

Running runs(const std::string& name, const std::vector<std::string>& texts) {
    const Board& b = family(name);
    BehaviourModel model(b, find_roles(b));
    Scenario s;
    for (const auto& f : faults(b, texts)) s.steps.push_back({f, Cause::Root, 0, 0, 0});
    return model.judge(s).running;
}

std::optional<Consequence> consequence(const std::vector<Consequence>& list, const Board& b, const std::string& text) {
    for (const auto& c : list)
        if (c.step.fault == fault(b, text)) return c;
    return std::nullopt;
}

double prior_of(const ScenarioSet& set, const Fault& root) {
    double p = 0;
    for (const auto& s : set.scenarios)
        if (!s.steps.empty() && s.steps.front().fault == root) p += s.prior;
    return p;
}

constexpr const char* kLinear = "fd1-linear";
constexpr const char* kSplit = "tm4-ac-fed-split";
constexpr const char* kBuck = "cr8-buck";
constexpr const char* kRail = "rb6-rail";
constexpr const char* kHalfBridge = "tl12-half-bridge";
constexpr const char* kSelf = "bd2-self-oscillating";
constexpr const char* kInverter = "fc1-inverter";
constexpr const char* kAdapter = "gl1-adapter";

} // namespace

TEST(Families, EveryBlueprintAndDemoRunsWhenHealthy) {
    std::set<std::string> blueprints, demos;
    for (const auto& file : std::filesystem::directory_iterator(data() / "blueprints")) {
        const auto job = reader().from_blueprint(RealDisk(), file.path());
        ASSERT_TRUE(job) << file.path();
        if (job->board.parts.empty()) continue; // to be traced by hand
        blueprints.insert(job->board.blueprint);
        EXPECT_EQ(BehaviourModel(job->board, find_roles(job->board)).judge(Scenario{}).running, Running::Normal) << file.path();
        for (const auto& part : job->board.parts) EXPECT_TRUE(part.assumed) << file.path() << " " << part.ref;
    }
    for (const auto& file : std::filesystem::directory_iterator(data() / "demo")) {
        const auto job = reader().load(RealDisk(), file.path());
        ASSERT_TRUE(job) << file.path();
        demos.insert(job->job.board.blueprint);
        EXPECT_EQ(BehaviourModel(job->job.board, find_roles(job->job.board)).judge(Scenario{}).running, Running::Normal) << file.path();
    }
    EXPECT_EQ(blueprints.size(), 12u);
    EXPECT_TRUE(std::includes(blueprints.begin(), blueprints.end(), demos.begin(), demos.end()));
    EXPECT_EQ(demos.size(), 10u);
}

TEST(Families, AnOpenFuseLeavesEveryFedBoardDead) {
    for (const char* name : {kLinear, kSplit, kBuck, kHalfBridge, kSelf, kInverter, kAdapter, "sw3-flyback-integrated"}) {
        const auto running = runs(name, {"F1:open"});
        EXPECT_TRUE(running == Running::NoInput || running == Running::NoStart) << name;
    }
}

TEST(Families, ShortsBlowOrTickByWhatFeedsThem) {
    EXPECT_EQ(runs(kLinear, {"C2:short"}), Running::BlowsFuse); // reservoir behind the line transformer
    EXPECT_EQ(runs(kLinear, {"Q1:ce-short"}), Running::High);   // the rail climbs to the reservoir
    EXPECT_EQ(runs(kAdapter, {"D1:short"}), Running::BlowsFuse);
    EXPECT_EQ(runs(kRail, {"C8:short"}), Running::Hiccup); // the supply that feeds the rail ticks
    EXPECT_EQ(runs(kBuck, {"C9:short"}), Running::Hiccup);
    EXPECT_EQ(runs(kInverter, {"Q1:ds-short"}), Running::BlowsFuse);
    EXPECT_EQ(runs(kHalfBridge, {"Q1:ds-short"}), Running::BlowsFuse); // the other one turns on against it
}

// What the customer saw is what it does with a fuse in; with a short behind it, a blown one in the holder is the rule.
TEST(Families, BlownFuseBelongsToTheShortBehindIt) {
    const Board& b = family(kAdapter);
    BehaviourModel model(b, find_roles(b));
    const auto judge = [&](const std::vector<std::string>& texts) {
        Scenario s;
        for (const auto& f : faults(b, texts)) s.steps.push_back({f, Cause::Root, 0, 0, 0});
        return model.judge(s);
    };
    const auto both = judge({"D4:short", "F1:open"}), whole = judge({"D4:short"}), tired = judge({"F1:open"});
    EXPECT_EQ(both.running, Running::BlowsFuse);
    EXPECT_TRUE(both.fuse_open);
    EXPECT_EQ(tired.running, Running::NoInput);
    for (const char* word : {"fuse-blows", "dead"})
        EXPECT_GT(symptom_chance(shipped_practice(), word, both), 2 * symptom_chance(shipped_practice(), word, whole)) << word;
    EXPECT_GT(symptom_chance(shipped_practice(), "fuse-blows", both), 10 * symptom_chance(shipped_practice(), "fuse-blows", tired));
}

// The resistor on the controller's timing pin, open.
std::string timing(const char* name) {
    const Board& b = family(name);
    const auto roles = find_roles(b);
    const NetId pin = b.part(roles.controller).net("RT");
    for (const auto& part : b.parts)
        if (part.kind == PartKind::Resistor && part.touches(pin)) return part.ref + ":open";
    return {};
}

TEST(Families, LostDriveAndSupplyOnlyStopIt) {
    EXPECT_EQ(runs(kHalfBridge, {"R5:open"}), Running::NoStart);
    EXPECT_EQ(runs(kHalfBridge, {"R6:open"}), Running::Normal); // a pull-down is not the way of the drive
    EXPECT_EQ(runs(kHalfBridge, {"U2:dead"}), Running::NoStart);
    EXPECT_EQ(runs(kBuck, {"R2:open"}), Running::NoInput); // the chip runs from the input
    EXPECT_EQ(runs("sw3-flyback-integrated", {"R4:open"}), Running::NoStart);
    EXPECT_EQ(runs("sw3-flyback-integrated", {"C4:dry"}), Running::Hiccup);
    EXPECT_EQ(runs("sw3-flyback-integrated", {"D2:open"}), Running::Hiccup); // starts, and nothing keeps it running
    EXPECT_EQ(runs(kHalfBridge, {"D1:open"}), Running::Hiccup);              // the standby converter the same
    EXPECT_EQ(runs(kHalfBridge, {"D3:open"}), Running::NoStart);             // its chip waits for the standby winding
    EXPECT_EQ(runs(kBuck, {timing(kBuck)}), Running::NoStart);               // no clock
}

// A leaky soft-start capacitor takes the pin's few microamperes: stuck low, not dead.
TEST(Families, LeakySoftStartSticksLow) {
    EXPECT_EQ(runs(kBuck, {"C7:leaky"}), Running::Weak);
    EXPECT_EQ(runs(kBuck, {"C7:short"}), Running::NoStart);
}

TEST(SlowCauses, DryBaseDriveTakesItsSwitch) {
    const Board& b = family(kSelf);
    const auto list = slow_consequences(b, find_roles(b), fault(b, "C6:dry"));
    const auto hit = consequence(list, b, "Q2:ce-short");
    ASSERT_TRUE(hit);
    EXPECT_EQ(hit->step.cause, Cause::WeakDrive);
    EXPECT_GT(hit->chance, 0.5);
    EXPECT_FALSE(consequence(list, b, "Q1:ce-short")); // its neighbour has a capacitor of its own
    Board stiff = b;                                   // with a large base resistor the ESR matters little
    stiff.parts[static_cast<std::size_t>(at(b, "R7"))].value = "220R";
    const auto less = slow_consequences(stiff, find_roles(stiff), fault(stiff, "C6:dry"));
    const auto still = consequence(less, stiff, "Q2:ce-short");
    EXPECT_TRUE(!still || still->chance < 0.5 * hit->chance);
}

TEST(SlowCauses, TheOtherHalfShootsThrough) {
    const Board& b = family(kHalfBridge);
    const auto list = slow_consequences(b, find_roles(b), fault(b, "Q2:ds-short"));
    const auto hit = consequence(list, b, "Q1:ds-short");
    ASSERT_TRUE(hit);
    EXPECT_GT(hit->step.value, hit->step.limit);
    EXPECT_TRUE(slow_consequences(b, find_roles(b), fault(b, "Q2:gate-leak")).empty());
}

// The fuse sees the secondary's short through the turns ratio; one that is far too large does not melt in time.
TEST(SlowCauses, FuseBehindALineTransformer) {
    const Board& b = family(kLinear);
    const auto t = find_roles(b);
    const auto right = consequence(slow_consequences(b, t, fault(b, "C2:short")), b, "F1:open");
    ASSERT_TRUE(right);
    const double chance = right->chance;
    const auto list = slow_consequences(b, t, fault(b, "C2:short"), {"oversized-fuse"});
    const auto wrong = consequence(list, b, "F1:open");
    EXPECT_TRUE(!wrong || wrong->chance < 0.2 * chance);
}

TEST(SlowCauses, OversizedFuseLetsThePassTransistorDie) {
    const Board& b = family(kLinear);
    const auto t = find_roles(b);
    const auto with = slow_consequences(b, t, fault(b, "C6:short"), {"oversized-fuse"}),
               without = slow_consequences(b, t, fault(b, "C6:short"));
    ASSERT_TRUE(consequence(with, b, "Q1:ce-short"));
    const auto rare = consequence(without, b, "Q1:ce-short");
    EXPECT_LT(rare ? rare->chance : 0, 0.3 * consequence(with, b, "Q1:ce-short")->chance);
}

// Clearing the first shorted tantalum, a second of the same margin often follows; with a rating of twice the rail it does not.
TEST(SlowCauses, SecondTantalumAfterTheFirst) {
    const Board& b = family(kRail);
    const auto list = slow_consequences(b, find_roles(b), fault(b, "C3:short"));
    ASSERT_TRUE(consequence(list, b, "C8:short"));
    Board wide = b;
    for (auto& part : wide.parts)
        if (part.kind == PartKind::Tantalum) part.volts = 35;
    EXPECT_FALSE(consequence(slow_consequences(wide, find_roles(wide), fault(wide, "C3:short")), wide, "C8:short"));
}

// With the gate broken through, the input reaches the driver; a gate resistor of hundreds of ohms holds it off.
TEST(Families, ALostGateReachesTheDriver) {
    const auto share = [](const Board& b) {
        const auto set = enumerate_scenarios(b, find_roles(b), library(), {}, {}, {});
        double with = 0, all = 0;
        for (const auto& s : set->scenarios) {
            const auto has = [&](const Fault& f) {
                return std::any_of(s.steps.begin(), s.steps.end(), [&](const Step& t) { return t.fault == f; });
            };
            if (!has(fault(b, "Q1:short"))) continue;
            all += s.prior;
            if (has(fault(b, "U1:output-short"))) with += s.prior;
        }
        return with / all;
    };
    Board b = family(kInverter);
    const double near = share(b);
    EXPECT_GT(near, 0.4);
    b.parts[static_cast<std::size_t>(at(b, "R1"))].value = "470R";
    EXPECT_LT(share(b), 0.3 * near);
}

TEST(Misuse, DirectAdapterReversesOneCapacitorOnly) {
    const Board& b = family(kSplit);
    const auto places = service_stresses(b, find_roles(b), {"wrong-adapter"}, {});
    EXPECT_GT(places[static_cast<std::size_t>(at(b, "C3"))].reverse_volts, 1.5);
    for (const char* other : {"C2", "C6", "C7"}) EXPECT_LT(places[static_cast<std::size_t>(at(b, other))].reverse_volts, 1) << other;
    for (const auto& p : service_stresses(b, find_roles(b), {}, {})) EXPECT_EQ(p.reverse_volts, 0);
    const auto set = enumerate_scenarios(b, find_roles(b), library(), {"wrong-adapter"}, {}, {});
    ASSERT_TRUE(set);
    double rest = 0, best = 0;
    for (const auto& part : {"C2", "C6", "C7"}) rest = std::max(rest, prior_of(*set, fault(b, std::string(part) + ":short")));
    best = prior_of(*set, fault(b, "C3:short"));
    EXPECT_GT(best, 10 * rest);
}

TEST(Misuse, BackFedOutputAndTightTantalum) {
    const Board& adapter = family(kAdapter);
    const auto fed = service_stresses(adapter, find_roles(adapter), {"back-fed"}, {});
    EXPECT_TRUE(fed[static_cast<std::size_t>(at(adapter, "C3"))].back_fed);
    EXPECT_FALSE(fed[static_cast<std::size_t>(at(adapter, "C1"))].back_fed); // behind the regulator
    Part tantalum = part("C1 tantalum 10u +=A -=B");
    tantalum.volts = 16;
    ServiceStress on15{15, 0, false}, on5{5, 0, false};
    EXPECT_GT(service_factor(shipped_practice(), tantalum, FaultMode::Short, on15),
              4 * service_factor(shipped_practice(), tantalum, FaultMode::Short, on5));
    EXPECT_EQ(service_factor(shipped_practice(), tantalum, FaultMode::Open, on15), 1);
}

TEST(Misuse, ResistorsAcrossTheBulkVoltsWearOut) {
    const Board& b = demo_board();
    const auto places = service_stresses(b, find_roles(b), {}, {});
    for (int i = 0; i < static_cast<int>(b.parts.size()); ++i) {
        const auto& p = b.part(i);
        const double factor = service_factor(shipped_practice(), p, FaultMode::Open, places[static_cast<std::size_t>(i)]);
        if (p.role == "start-up resistor") EXPECT_GT(factor, 1) << p.ref;
        if (p.kind == PartKind::Resistor && p.stage == "feedback") EXPECT_EQ(factor, 1) << p.ref;
    }
}

// Chains of every family sum to what the root had, whatever branches.
TEST(Families, PriorsSumToOne) {
    for (const char* name : {kLinear, kSplit, kBuck, kRail, kHalfBridge, kSelf, kInverter, kAdapter}) {
        const auto set = enumerate_scenarios(family(name), find_roles(family(name)), library(), {}, {}, {});
        ASSERT_TRUE(set) << name;
        double sum = set->reserve;
        for (const auto& s : set->scenarios) sum += s.prior;
        EXPECT_LE(sum, 1 + 1e-9) << name;
        EXPECT_GT(sum, 0.9) << name;
    }
}

// Every figure of a step comes from the board: another rating, another story.
TEST(Families, RatingsChangeTheStory) {
    Board b = family(kHalfBridge);
    const auto sum = [&](const Board& board) {
        const auto set = enumerate_scenarios(board, find_roles(board), library(), {}, {}, {});
        double open = 0, all = 0;
        const Fault root = fault(board, "BR1:short@~1-");
        for (const auto& s : set->scenarios) {
            if (s.steps.empty() || s.steps.front().fault != root) continue;
            all += s.prior;
            for (const auto& step : s.steps)
                if (step.fault == fault(board, "TH1:open")) open += s.prior;
        }
        return open / all;
    };
    const double before = sum(b);
    b.parts[static_cast<std::size_t>(at(b, "TH1"))].amps = 0.5; // a smaller disc holds less heat
    EXPECT_GT(sum(b), before + 0.2);
}

// A short behind a line transformer takes the fuse; with a fuse that is too large, the primary.
TEST(Families, ALineTransformerThatNoFuseSavesOpens) {
    const Board b = demo(kLinear).board;
    const auto t = find_roles(b);
    const auto chance = [&](const std::set<std::string>& history) {
        double left = 1, primary = 0;
        for (const auto& c : slow_consequences(b, t, fault(b, "BR1:short@~1+"), history)) {
            if (c.step.fault.part == t.line_transformer) {
                EXPECT_GT(c.step.value, c.step.limit); // the sum stands in the story
                primary = left * c.chance;
            }
            left *= 1 - c.chance;
        }
        return primary;
    };
    EXPECT_GT(chance({"oversized-fuse"}), 0.2);
    EXPECT_LT(chance({}), 0.3 * chance({"oversized-fuse"}));
}
