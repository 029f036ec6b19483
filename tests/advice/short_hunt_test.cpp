// SPDX-License-Identifier: GPL-3.0-or-later
// A short on a distributed rail: a trunk of track, connectors to branches, bypass capacitors along each. A hidden one of them is shorted;
// the program asks, a simulated four-wire meter with 0.4 per cent of noise answers.
#include "support/demo.h"

#include "job/act_entries.h"
#include "report/wording.h"

#include <random>

using namespace ohmo;
using namespace ohmo::test;

namespace {

constexpr int kBranches = 5, kOnEach = 4;

Board rail_board() {
    std::vector<std::string> lines = {"J1 connector - 1=V.in 1'=V 2=0V.in 2'=0V", "C1 electrolytic 470u +=V -=0V", "W0 track - 1=V 2=T0"};
    int capacitor = 2;
    for (int b = 0; b < kBranches; ++b) {
        const auto n = std::to_string(b), next = std::to_string(b + 1);
        lines.push_back("W" + next + " track - 1=T" + n + " 2=T" + next);
        lines.push_back("J" + std::to_string(b + 2) + " connector - 1=T" + next + " 1'=B" + n + "0");
        for (int k = 0; k < kOnEach; ++k) {
            const auto here = "B" + n + std::to_string(k), then = "B" + n + std::to_string(k + 1);
            lines.push_back("C" + std::to_string(capacitor++) + " ceramic 100n 1=" + here + " 2=0V");
            if (k + 1 < kOnEach) lines.push_back("W" + n + std::to_string(k) + "0 track - 1=" + here + " 2=" + then);
        }
    }
    Board draft = board(lines);
    for (auto& p : draft.parts) {
        p.stage = p.ref == "J1" || p.ref == "C1" ? "mains-in" : "rails";
        if (p.kind == PartKind::Track) p.ohms = 0.012;
    }
    draft.rails = {{"V", "0V", 5, 0.05, 1, -1, -1}};
    return make_board(draft)->board;
}

Job hunt_job() {
    Job job;
    job.board = rail_board();
    job.meters = {milliohm_meter()};
    Entry complaint;
    complaint.act = Do::Symptom;
    complaint.saw = "ticking";
    return job.with(complaint);
}

// What the meter shows on the real board, or what the connector leaves.
Entry answer(const Board& b, const NextAct& act, const Fault& hidden, std::mt19937& random) {
    Entry e = act_entries(b, {MeterProfile{}, milliohm_meter()}, act).asked;
    if (act.act == Act::Look) {
        e.saw = "fine";
        return e;
    }
    const auto& q = act.query;
    BoardState state = q.state;
    if (q.alone >= 0) {
        state.lifted.assign(b.parts.size(), 1);
        state.lifted[static_cast<std::size_t>(q.alone)] = 0;
    }
    const MeterProfile meter = q.meter == 0 ? MeterProfile{} : milliohm_meter();
    const Netlist net = expand(b, state, std::vector<Fault>{hidden});
    const auto r = is_direct(q.what) ? read_dc(DcSolver(net), meter, q.what, q.red, q.black)
                                     : read_ac(AcSolver(net, q.what == Quantity::Farads ? meter.farads_hertz : meter.esr_hertz), meter,
                                               q.what, q.red, q.black);
    e.over = r.over;
    if (!r.over) e.value = r.value * std::exp(0.004 * std::normal_distribution<double>()(random));
    return e;
}

struct Hunt {
    int acts = 0;
    bool found = false;
};

Hunt play(Analyst& analyst, int hidden) {
    Job job = hunt_job();
    std::mt19937 random(static_cast<unsigned>(hidden));
    const Fault fault{hidden, FaultMode::Short, {}};
    Hunt out;
    for (; out.acts < 30; ++out.acts) {
        const auto a = analyst.analyse(job, {});
        EXPECT_TRUE(a);
        const auto& beliefs = (*a)->assessment.parts;
        if (beliefs.front().bad > 0.9) {
            out.found = beliefs.front().part == hidden;
            return out;
        }
        if ((*a)->next.acts.empty()) return out;
        const auto& act = (*a)->next.acts.front();
        if (act.act == Act::Pull) job = job.with(test::act(Do::Pull, job.board.part(act.part).ref));
        job = job.with(answer(job.board, act, fault, random));
    }
    return out;
}

} // namespace

// A study of the engine: 3.8 readings for twenty parts with a good meter, 13 to 18 in random order. Here looks count as acts, three of
// which cost what two readings do.
TEST(ShortHunt, FollowsTheMilliohmsToTheShort) {
    auto analyst = Analyst::make(RealDisk(), data());
    ASSERT_TRUE(analyst);
    const Board b = rail_board();
    int acts = 0, games = 0, found = 0, ceramics = 0;
    for (int i = 0; i < static_cast<int>(b.parts.size()); ++i) {
        if (b.part(i).kind != PartKind::Ceramic || ceramics++ % kOnEach != 1) continue; // one on each branch
        const Hunt hunt = play(*analyst, i);
        acts += hunt.acts;
        found += hunt.found;
        ++games;
    }
    EXPECT_EQ(games, kBranches);
    EXPECT_GE(found, games / 2);
    EXPECT_LE(acts, 18 * games);
}

TEST(ShortHunt, SaysWhichSuspectsEachOutcomeLeaves) {
    auto analyst = Analyst::make(RealDisk(), data());
    ASSERT_TRUE(analyst);
    Job job = hunt_job();
    std::mt19937 random(1);
    const Fault fault{at(job.board, "C9"), FaultMode::Short, {}};
    bool explained = false, four_wires = false;
    for (int turn = 0; turn < 4 && !(explained && four_wires); ++turn) {
        const auto a = analyst->analyse(job, {});
        ASSERT_TRUE(a && !(*a)->next.acts.empty());
        const auto& act = (*a)->next.acts.front();
        for (const auto& offered : (*a)->next.acts) {
            for (const auto& band : offered.bands) explained = explained || !band.suspects.empty();
            four_wires = four_wires || offered.four_wires;
        }
        if (act.four_wires) {
            EXPECT_NE(wording::act_title(job.board, act).find("illiohms"), std::string::npos);
        }
        job = job.with(answer(job.board, act, fault, random));
    }
    EXPECT_TRUE(explained);
    EXPECT_TRUE(four_wires);
}
