// SPDX-License-Identifier: GPL-3.0-or-later
// Fault sets by number, predictions in tables, scenarios given up early: faster ways to the same answers.
#include "support/demo.h"

#include "board/lead_pairs.h"
#include "posterior/weighing.h"
#include "readings/words.h"

#include <cmath>
#include <numeric>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Evidence evidence_of(const Job& job) { return replay(job).evidence; }

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

// Bayes written out: every scenario against every observation.
TEST(Weighing, GivesUpNothingThatMatters) {
    const Board& b = demo_board();
    const Evidence seen = evidence_of(demo("rb6-half-way"));
    ASSERT_GT(seen.observations.size(), 8u);
    const Predictor predictor(b, seen.meters);
    const auto set = few(b, 3000);
    const auto hypotheses = Hypotheses::of(predictor, set);
    Weighing weighing(predictor, library(), seen.observations, {});
    std::vector<const Scenario*> all;
    for (const auto& s : set->scenarios) all.push_back(&s);
    weighing.add(all, hypotheses.sets, false);
    weighing.settle();
    double best = -1e300;
    std::map<SetId, double> by_hand;
    for (std::size_t k = 0; k < all.size(); ++k) {
        double weight = std::log(all[k]->prior);
        for (const auto& o : seen.observations) {
            auto behaviour = predictor.behaviour(hypotheses.sets[k]);
            behaviour.violent = behaviour.violent || all[k]->violent();
            const double l = o.kind == Seen::Reading
                                 ? reading_likelihood(shipped_practice(), o, predictor.predict(o.query, hypotheses.sets[k]))
                                 : other_likelihood(b, library(), o, all[k]->faults(), behaviour);
            weight += std::log(l);
        }
        by_hand[hypotheses.sets[k]] = weight;
        best = std::max(best, weight);
    }
    for (const auto& c : weighing.candidates()) {
        EXPECT_NEAR(c.ln_alone, by_hand.at(c.set), 1e-9);
        by_hand.erase(c.set);
    }
    EXPECT_GT(weighing.candidates().size(), 20u);
    EXPECT_GT(by_hand.size(), 1000u); // so something was given up
    for (const auto& [id, weight] : by_hand) EXPECT_LT(weight, best - Weighing::kNegligible + 1e-9);
}

TEST(Weighing, ALikelierChainToTheSameFaultsIsTaken) {
    const Board& b = demo_board();
    const Predictor predictor(b, {});
    const auto two = faults(b, {"Q1:ds-short", "F1:open"});
    const Scenario chance{{{two[0], Cause::Root, 0, 0, 0}, {two[1], Cause::Independent, 0, 0, 0}}, 1e-6};
    const Scenario chain{{{two[0], Cause::Root, 0, 0, 0}, {two[1], Cause::FuseI2t, 0, 0, 0}}, 1e-3};
    const SetId id = predictor.id(two);
    Weighing weighing(predictor, library(), {}, {});
    EXPECT_TRUE(weighing.add({&chance}, {id}, false));
    EXPECT_TRUE(weighing.add({&chain}, {id}, false));
    EXPECT_FALSE(weighing.add({&chance}, {id}, false));
    ASSERT_EQ(weighing.candidates().size(), 1u);
    EXPECT_EQ(weighing.candidates().front().scenario, &chain);
    Weighing together(predictor, library(), {}, {});
    EXPECT_TRUE(together.add({&chance, &chain, &chance}, {id, id, id}, false));
    ASSERT_EQ(together.candidates().size(), 1u);
    EXPECT_EQ(together.candidates().front().scenario, &chain);
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

// What was worked out ahead changes how long an answer takes, nothing else.
TEST(Analyst, PreparedAnswersAreTheSame) {
    const Job job = demo("rb6-half-way");
    auto make = [] { return *Analyst::make(RealDisk(), data()); };
    auto prepared = make(), plain = make();
    const auto before = prepared.analyse(job, {});
    ASSERT_TRUE(before);
    const auto solved = (*before)->predictor->solved();
    ASSERT_TRUE(prepared.prepare(**before, {}));
    EXPECT_GT((*before)->predictor->solved(), solved);
    const Job more = job.with(read("ohms", "HV", "PGND", 2.5));
    const auto a = prepared.analyse(more, {}), c = plain.analyse(more, {});
    ASSERT_TRUE(a && c);
    ASSERT_EQ((*a)->assessment.parts.size(), (*c)->assessment.parts.size());
    for (const auto& belief : (*a)->assessment.parts)
        EXPECT_DOUBLE_EQ(belief.bad, (*c)->assessment.belief(belief.part).bad) << job.board.part(belief.part).ref;
    ASSERT_EQ((*a)->next.acts.size(), (*c)->next.acts.size());
    for (std::size_t i = 0; i < (*a)->next.acts.size(); ++i) {
        EXPECT_EQ((*a)->next.acts[i].query, (*c)->next.acts[i].query);
        EXPECT_DOUBLE_EQ((*a)->next.acts[i].bits, (*c)->next.acts[i].bits);
    }
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
    ASSERT_EQ(grown.posterior.size(), once.posterior.size());
    for (std::size_t i = 0; i < grown.posterior.size(); ++i) EXPECT_DOUBLE_EQ(grown.posterior[i].first, once.posterior[i].first);
    for (const auto& belief : grown.parts) {
        const auto& other = once.belief(belief.part);
        EXPECT_DOUBLE_EQ(belief.bad, other.bad);
        ASSERT_EQ(belief.reasons.size(), other.reasons.size());
        for (std::size_t r = 0; r < belief.reasons.size(); ++r) EXPECT_DOUBLE_EQ(belief.reasons[r].decibans, other.reasons[r].decibans);
    }
}

TEST(Weighed, KeepsWhatIsSeenAgainAndForgetsTheRest) {
    const auto seen = evidence_of(demo("rb6-half-way")).observations;
    ASSERT_GT(seen.size(), 3u);
    Weighed weighed;
    auto& first = weighed.of({seen[0], seen[1]}, 5);
    for (auto& column : first) column.ln_likelihood.assign(5, -1.5);
    auto later = seen[1];
    later.entry = 77; // moved within the journal
    auto& second = weighed.of({seen[2], later}, 5);
    ASSERT_EQ(second.size(), 2u);
    EXPECT_TRUE(std::isnan(second[0].ln_likelihood.front()));
    EXPECT_EQ(second[1].ln_likelihood, std::vector<double>(5, -1.5));
    auto other_value = seen[1];
    other_value.value += 1;
    EXPECT_TRUE(std::isnan(weighed.of({other_value}, 5).front().ln_likelihood.front()));
    weighed.of({seen[1]}, 5).front().ln_likelihood.assign(5, -1.5);
    EXPECT_TRUE(std::isnan(weighed.of({seen[1]}, 6).front().ln_likelihood.front())); // other hypotheses
}

TEST(Analyst, FirstLookOnlyAtANewBoard) {
    auto analyst = *Analyst::make(RealDisk(), data());
    const Job job = discharged("rb6-fresh");
    const auto look = analyst.first_look(job, {});
    ASSERT_TRUE(look && *look);
    EXPECT_TRUE((*look)->first_look);
    EXPECT_FALSE((*look)->next.acts.empty());
    const auto whole = analyst.analyse(job, {});
    ASSERT_TRUE(whole);
    EXPECT_FALSE((*whole)->first_look);
    EXPECT_GT((*whole)->assessment.posterior.size(), (*look)->assessment.posterior.size());
    const auto again = analyst.first_look(job, {});
    ASSERT_TRUE(again);
    EXPECT_EQ(*again, nullptr); // the whole answer keeps no one waiting now
    auto token = CancelToken::make();
    token.cancel();
    EXPECT_FALSE(analyst.prepare(**whole, token));
}

// Every kind that can be read has a place, and its nets are the part's own.
TEST(Places, AreOnThePart) {
    const Board& b = demo_board();
    for (const auto& part : b.parts) {
        const auto all = find_lead_pairs(part);
        EXPECT_FALSE(all.empty()) << part.ref;
        for (const auto& [red, black] : all)
            for (NetId net : {red, black})
                EXPECT_TRUE(net < 0 || std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.id == net; }))
                    << part.ref;
    }
    EXPECT_EQ(find_lead_pairs(b.part(at(b, "BR1"))).size(), 4u);
    EXPECT_EQ(find_lead_pairs(b.part(at(b, "Q1"))).size(), 2u);
    EXPECT_EQ(find_lead_pairs(b.part(at(b, "F1"))).size(), 1u);
}
