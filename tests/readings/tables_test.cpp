// SPDX-License-Identifier: GPL-3.0-or-later
// Fault sets by number, predictions in tables, journals that grow: faster ways to the same answers.
#include "support/demo.h"

#include "board/lead_pairs.h"
#include "damage/enumerate.h"
#include "readings/words.h"

#include <cmath>
#include <numeric>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::shared_ptr<const ScenarioSet> few(const Board& board, int most) {
    return std::make_shared<const ScenarioSet>(*enumerate_scenarios(board, find_roles(board), library(), {}, {.most = most}, {}));
}

} // namespace

TEST(FaultSets, SameNumberInAnyOrder) {
    const Fault a{3, FaultMode::Open, {}}, b{1, FaultMode::Short, "~1+"}, c{7, FaultMode::Dry, {}};
    FaultSets sets;
    const SetId all = sets.id({a, b, c});
    EXPECT_EQ(sets.id({c, a, b}), all);
    EXPECT_NE(sets.id({a, b}), all);
    EXPECT_EQ(sets.without(all, {7}), sets.id({b, a}));
    EXPECT_EQ(sets.without(all, {99}), all);
    EXPECT_EQ(sets.without(all, {1, 3, 7}), sets.id({}));
    EXPECT_EQ(sets.faults(all), (std::vector<Fault>{b, a, c}));
    EXPECT_EQ(sets.parts(all).size(), 3u);
    EXPECT_EQ(sets.fault_count(), 3u);
}

TEST(Predictor, TablesSayWhatSinglePredictionsSay) {
    const Board& b = demo_board();
    const Predictor predictor(b, {});
    const auto set = few(b, 200);
    const auto ids = predictor.ids(set->scenarios);
    const Query q{Quantity::Ohms, b.rails[0].net_id, b.rails[0].return_id, -1, {}, 0};
    for (int number : predictor.remembered(q, ids)) EXPECT_EQ(number, -1); // nothing was asked yet
    const auto all = predictor.predict_all(q, ids);
    const auto numbers = predictor.remembered(q, ids);
    const auto solved = predictor.solved();
    for (std::size_t k = 0; k < ids.size(); ++k) {
        EXPECT_EQ(all[k], &predictor.predict(q, ids[k]));
        EXPECT_EQ(numbers[k], all[k]->number);
        EXPECT_LT(all[k]->number, static_cast<int>(solved));
    }
    EXPECT_EQ(predictor.solved(), solved); // asked again, nothing is computed again
    EXPECT_LT(solved, ids.size() / 2);     // most faults cannot be seen from this rail
}

TEST(Predictor, BehaviourIsRememberedByFaults) {
    const Board& b = demo_board();
    const Predictor predictor(b, {});
    const auto set = predictor.id(faults(b, {"Q1:ds-short", "F1:open"}));
    EXPECT_FALSE(predictor.remembered_behaviour({set}).front());
    const auto computed = predictor.behaviour(set);
    ASSERT_TRUE(predictor.remembered_behaviour({set}).front());
    EXPECT_EQ(predictor.remembered_behaviour({set}).front()->running, computed.running);
    EXPECT_EQ(BehaviourModel(b, find_roles(b)).judge(faults(b, {"F1:open", "Q1:ds-short"})).running, computed.running);
}

// {} is the board without faults, whatever set was numbered first.
TEST(Predictor, NoFaultsIsTheHealthyBoard) {
    const Board& b = demo_board();
    const Predictor predictor(b, {});
    const Query bulk{Quantity::Esr, *b.find_net("HV"), *b.find_net("PGND"), -1, {}, 0};
    const SetId dry = predictor.id(faults(b, {"C5:dry"}));
    EXPECT_EQ(dry, 0);
    EXPECT_GT(predictor.predict(bulk, dry).value, 8 * predictor.predict(bulk, {}).value);
    EXPECT_EQ(predictor.predict(bulk, {}).value, predictor.predict(bulk, std::vector<Fault>{}).value);
    EXPECT_EQ(predictor.predict(bulk, dry).value, predictor.predict(bulk, faults(b, {"C5:dry"})).value);
}

// Read line by line, with a slip that is taken back, or all at once: what is kept between the answers changes the time taken only.
TEST(Analyst, AJournalThatGrewSaysWhatItSaysAtOnce) {
    Job job = discharged("gl1-adapter");
    const Rail rail = job.board.rails.front();
    const std::vector<Entry> journal = {
        act(Do::Look, "F1", "fine"),          read("ohms", rail.net, rail.ret, 30), read("diode", rail.ret, rail.net, 0.55),
        read("esr", rail.net, rail.ret, 2.5), act(Do::Look, "C1", "bulged"),        read("farads", rail.net, rail.ret, 40e-6)};
    auto make = [] { return *Analyst::make(RealDisk(), data()); };
    auto patient = make(), plain = make();
    for (std::size_t i = 0; i < journal.size(); ++i) {
        if (i == 3) ASSERT_TRUE(patient.analyse(job.with(read("ohms", rail.net, rail.ret, 0.4)), {}));
        job = job.with(journal[i]);
        ASSERT_TRUE(patient.analyse(job, {}));
    }
    const auto a = patient.analyse(job, {}), c = plain.analyse(job, {});
    ASSERT_TRUE(a && c);
    const auto &grown = (*a)->assessment, &once = (*c)->assessment;
    ASSERT_EQ(grown.stories.size(), once.stories.size());
    for (std::size_t i = 0; i < grown.stories.size(); ++i) EXPECT_DOUBLE_EQ(grown.stories[i].p, once.stories[i].p);
    for (const auto& belief : grown.parts) {
        const auto& other = once.of(belief.part);
        EXPECT_DOUBLE_EQ(belief.bad, other.bad);
        ASSERT_EQ(belief.reasons.size(), other.reasons.size());
        for (std::size_t r = 0; r < belief.reasons.size(); ++r) EXPECT_DOUBLE_EQ(belief.reasons[r].decibans, other.reasons[r].decibans);
    }
}

// Every kind that can be read has a place, and its nets are the part's own.
TEST(Places, AreOnThePart) {
    const Board& b = demo_board();
    for (const auto& part : b.parts) {
        const auto all = find_lead_pairs(b, part);
        EXPECT_FALSE(all.empty()) << part.ref;
        for (const auto& [red, black] : all)
            for (NetId net : {red, black})
                EXPECT_TRUE(net < 0 || std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.id == net; }))
                    << part.ref;
    }
    EXPECT_EQ(find_lead_pairs(b, b.part(at(b, "BR1"))).size(), 4u);
    EXPECT_EQ(find_lead_pairs(b, b.part(at(b, "Q1"))).size(), 2u);
    EXPECT_EQ(find_lead_pairs(b, b.part(at(b, "F1"))).size(), 1u);
}
