// SPDX-License-Identifier: GPL-3.0-or-later
// What keeps the program from being sure too early, and what it asks for then.
#include "support/demo.h"
#include "support/journals.h"

#include "advice/outcomes.h"
#include "board/roles.h"
#include "damage/slow_causes.h"
#include "damage/telling.h"
#include "job/act_entries.h"
#include "report/wording.h"

#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Job blueprint(const std::string& name) {
    auto made = reader().from_blueprint(RealDisk(), data() / "blueprints" / (name + ".json"));
    if (!made) std::abort();
    Entry d;
    d.act = Do::Discharge;
    d.value = 0.2;
    return made->with(d);
}

Job all_good_but(Job job, const std::set<std::string>& refs) {
    const auto parts = job.board.parts;
    for (const auto& part : parts)
        if (!refs.contains(part.ref)) job = job.with(act(Do::Verdict, part.ref.c_str(), "good"));
    return job;
}

// Figures by which nothing is open that is likelier good, and little is left unexplained.
std::shared_ptr<Practice> easily_content(Job& job) {
    auto practice = std::make_shared<Practice>(job.board.practice());
    practice->open_above = practice->open_harm = 0.9;
    practice->most_acquitted = 10;
    practice->most_unexplained = 0.5;
    practice->sweep_chance = 0.5;
    job.board.edited_practice = practice;
    return practice;
}

} // namespace

// A chain says that a shorted switch takes fuse, sense resistor and controller. None of them has been read, so none is certain.
TEST(Judgement, WhatAChainSaysIsNotMeasured) {
    const auto a = analyse(discharged("rb6-fresh").with(said("bang")).with(read("ohms", "DRAIN", "SRC", 0.4)));
    EXPECT_GT(bad(*a, "Q1"), 0.9);
    for (const char* ref : {"F1", "R9", "U1"}) {
        EXPECT_LT(bad(*a, ref), 0.995) << ref;
        const bool asked = std::any_of(a->next.acts.begin(), a->next.acts.end(), [](const NextAct& n) { return n.bits > 0.05; });
        EXPECT_TRUE(asked);
    }
}

// With figures by which a chain alone is enough to replace a part, what has nothing of its own against it is read once all the same, and
// what was read is not.
TEST(Judgement, WhatOnlyTheStoryCondemnsIsReadBeforeItGoes) {
    Job job = discharged("rb6-fresh").with(said("bang")).with(alone("ohms", "Q1", 0.2));
    auto practice = std::make_shared<Practice>(job.board.practice());
    practice->open_below = 0.6;
    practice->open_above = 0.05;
    practice->open_harm = 0.05;
    job.board.edited_practice = practice;
    const auto before = analyse(job);
    std::set<std::string> told;
    for (const auto& b : before->assessment.parts) {
        const std::string ref = before->replay.board.part(b.part).ref;
        if (b.bad < practice->open_below)
            job = job.with(act(Do::Verdict, ref.c_str(), "good"));
        else if (b.spoken < practice->speaks_itself)
            told.insert(ref);
    }
    ASSERT_TRUE(told.contains("R9") && !told.contains("Q1")) << "the sense resistor by the chain, the switch by its reading";
    const auto a = analyse(job);
    for (int p : a->next.open) ADD_FAILURE() << a->replay.board.part(p).ref << " " << a->assessment.of(p).bad;
    EXPECT_FALSE(a->next.stop);
    ASSERT_FALSE(a->next.acts.empty());
    for (const auto& n : a->next.acts) {
        EXPECT_TRUE(n.why == NextAct::Why::Condemned && told.contains(a->replay.board.part(n.part).ref))
            << wording::act_title(a->replay.board, n);
        EXPECT_EQ(wording::act_title(a->replay.board, n).rfind("Before ", 0), 0u);
    }
    // Read alone it is sound; what was read alone and is bad is not asked for any more.
    Entry sound = read_part("ohms", "R9", 0.33);
    sound.lifted = true;
    EXPECT_LT(bad(*analyse(job.with(sound)), "R9"), 0.1);
    Entry open = read_part("ohms", "R9", 0);
    open.lifted = open.over = true;
    open.value.reset();
    for (const auto& n : analyse(job.with(open))->next.acts) EXPECT_NE(a->replay.board.part(n.part).ref, "R9");
}

// Two cracked emitter resistors and a driver that is through: some pass transistor must have drawn what cracked them, and the other is
// clear. That reading speaks for the other, not against this one.
TEST(Judgement, WhatClearsASisterSpeaksAgainstNobody) {
    Job job = foreign("test-pedestal");
    easily_content(job);
    job = with_all(job, {said("dead"),
                         act(Do::Look, "D3", "soot"),
                         act(Do::Look, "R2", "cracked"),
                         act(Do::Look, "R3", "cracked"),
                         act(Do::Look, "R5", "brown"),
                         act(Do::Look, "R6", "brown"),
                         over(read("ohms", "E1", "BQ", 0)),
                         read("ohms", "BQ", "BD", 1.533),
                         read("diode", "BQ", "BD", 0.001),
                         read("ohms", "VU", "0V", 4653),
                         read("ohms", "BQ", "EO", 4693),
                         read("ohms", "0V", "+30V", 32.4),
                         read("farads", "VU", "0V", 9.541e-3),
                         read("ohms", "+12V", "0V", 394.5),
                         act(Do::Pull, "J2"),
                         read("ohms", "OUT", "0V", 10400),
                         read("esr", "+30V", "0V", 0.042),
                         act(Do::Lift, "C9"),
                         over(alone("ohms", "C9", 0)),
                         act(Do::Look, "C6", "fine"),
                         act(Do::Lift, "R6"),
                         alone("ohms", "R6", 3300)});
    const auto a = analyse(job);
    EXPECT_GT(bad(*a, "Q2"), 0.95);
    EXPECT_LT(a->assessment.of(at(a->replay.board, "Q2")).spoken, a->replay.board.practice().speaks_itself);
    EXPECT_FALSE(a->next.stop);
    Entry sound = over(alone("diode", "Q2", 0));
    sound.pins = {"C", "E"};
    EXPECT_LT(bad(*analyse(job.with(sound)), "Q2"), 0.5);
}

// 82 ohm told and 2.6 read: nothing else on the map is low, so that the sums can only bend the lamp. It is read itself before "enough";
// where it is what the board says, something is on no map.
TEST(Judgement, WhatTheStoryBendsTooFarIsReadItself) {
    Job job = discharged("gl1-adapter");
    job.board = board({"H1 lamp 82R 1=A 2=0V", "R1 resistor 1k 1=A 2=0V", "C1 ceramic 1u 1=A 2=0V"});
    auto practice = std::make_shared<Practice>(job.board.practice()); // nothing else is left to ask
    practice->open_above = practice->open_harm = 0.9;
    practice->most_acquitted = 10;
    practice->most_unexplained = 0.9;
    job.board.edited_practice = practice;
    const Entry low = read("ohms", "A", "0V", 2.6);
    job = with_all(job, {low, act(Do::Lift, "C1"), over(alone("ohms", "C1", 0)), alone("farads", "C1", 1e-6), low, act(Do::Lift, "R1"),
                         alone("ohms", "R1", 1e3)});
    const auto a = analyse(job);
    ASSERT_FALSE(a->assessment.bent.empty());
    EXPECT_FALSE(a->next.stop);
    ASSERT_FALSE(a->next.acts.empty());
    EXPECT_EQ(a->replay.board.part(a->next.acts.front().part).ref, "H1");
    EXPECT_EQ(a->next.acts.front().query.what, Quantity::Ohms);
    EXPECT_GT(a->next.acts.front().bits, 0.1); // with as much weight as whether a story is right at all
    EXPECT_EQ(wording::act_title(a->replay.board, a->next.acts.front()).rfind("H1 would be far off its value: lift H1", 0), 0U);
    const auto read_itself = analyse(with_all(job, {act(Do::Lift, "H1"), alone("ohms", "H1", 82)}));
    EXPECT_NE(read_itself->next.reason, StopReason::Settled);
    EXPECT_GT(read_itself->assessment.unexplained, 0.05);
}

// All is settled but for a fuse that looks whole and that nobody has read: half a minute before "enough", alone or with what lies in
// series.
TEST(Judgement, AFuseIsReadBeforeEnough) {
    Job job = discharged("rb6-fresh").with(said("bang")).with(alone("ohms", "Q1", 0.2)).with(act(Do::Look, "F1", "fine"));
    easily_content(job)->open_protector = 0.01;
    job = all_good_but(std::move(job), {"F1", "Q1"});
    const auto a = analyse(job);
    const auto& board = a->replay.board;
    EXPECT_FALSE(a->next.stop);
    ASSERT_FALSE(a->next.acts.empty());
    for (const auto& n : a->next.acts) EXPECT_EQ(board.part(n.part).ref, "F1") << wording::act_title(board, n);
    const auto through = std::find_if(a->next.acts.begin(), a->next.acts.end(), [](const NextAct& n) { return !n.through.empty(); });
    ASSERT_NE(through, a->next.acts.end()) << "from the plug through what lies in series";
    EXPECT_NE(wording::act_title(board, *through).find(", through J1, SW1, F1"), std::string::npos) << wording::act_title(board, *through);
    const auto after = analyse(job.with(read("ohms", "LS", "L1", 0.1)));
    for (const auto& n : after->next.acts) EXPECT_NE(board.part(n.part).ref, "F1") << wording::act_title(board, n);
    EXPECT_LT(bad(*after, "F1"), 1e-3);
}

// What is left is hardly bad, and nothing that is read in its place tells of it: it stays where it is, and that is enough, unless somebody
// finds any doubt worth taking parts out.
TEST(Judgement, NothingIsTakenOutForASlightDoubt) {
    const auto next = [](double worth) {
        Job job = discharged("rb6-fresh").with(read("farads", "+24V", "0V", 1.47e-3)).with(read("esr", "+24V", "0V", 0.05));
        auto practice = easily_content(job);
        practice->open_above = practice->open_harm = 5e-4;
        practice->least_bits = 0.5; // more than any reading in place tells
        practice->worth_lifting = worth;
        return analyse(all_good_but(std::move(job), {"C17"}));
    };
    const auto as_shipped = next(shipped_practice().worth_lifting), eager = next(1e-4);
    EXPECT_GT(bad(*as_shipped, "C17"), 5e-4);
    EXPECT_LT(bad(*as_shipped, "C17"), shipped_practice().worth_lifting);
    EXPECT_TRUE(as_shipped->next.stop && as_shipped->next.settled && as_shipped->next.open.empty() && as_shipped->next.acts.empty());
    EXPECT_FALSE(eager->next.stop || eager->next.settled);
    EXPECT_TRUE(std::any_of(eager->next.acts.begin(), eager->next.acts.end(),
                            [&](const NextAct& n) { return n.to_lift == std::vector<int>{at(eager->replay.board, "C17")}; }));
}

// A capacitor that dried out makes no bang: what would have is read where it stands before it is enough, and no longer once it was.
TEST(Judgement, WhatWouldAccountForABangIsRead) {
    const auto found = [](const std::vector<Entry>& words) {
        Job job = with_all(discharged("rb6-fresh"), words).with(alone("farads", "C8", 3e-6)).with(alone("esr", "C8", 9));
        easily_content(job);
        return all_good_but(std::move(job), {"C8", "Q1"});
    };
    const auto asked = [](const Analysis& a) {
        return std::count_if(a.next.acts.begin(), a.next.acts.end(), [](const NextAct& n) { return n.why == NextAct::Why::Complaint; });
    };
    const Job loud = found({said("bang"), said("dead")});
    const auto a = analyse(loud);
    const auto& board = a->replay.board;
    ASSERT_GT(bad(*a, "C8"), 0.95);
    ASSERT_LT(bad(*a, "Q1"), 0.5);
    EXPECT_FALSE(a->next.stop);
    ASSERT_GT(asked(*a), 0);
    for (const auto& n : a->next.acts) {
        EXPECT_EQ(board.part(n.part).ref, "Q1") << wording::act_title(board, n);
        EXPECT_LT(n.query.alone, 0) << "nothing is taken out for it";
        EXPECT_NE(wording::act_title(board, n).find("Q1 would account for the complaint"), std::string::npos)
            << wording::act_title(board, n);
    }
    EXPECT_EQ(asked(*analyse(loud.with(over(read("ohms", "DRAIN", "SRC", 0))))), 0);
    EXPECT_EQ(asked(*analyse(found({said("no-start")}))), 0) << "a dry supply capacitor accounts for that";
}

// Three ohms on a supply that a clamp and a capacitor share speak of the place: whichever of them the sums prefer, it is read on its way
// out before that is enough.
TEST(Judgement, WhatSharesItsPlaceIsReadOnItsWayOut) {
    const auto a = analyse(with_all(discharged("fc1-inverter"), {said("low-output"),
                                                                 said("hum"),
                                                                 act(Do::Look, "R7", "brown"),
                                                                 act(Do::Look, "R14", "brown"),
                                                                 act(Do::Look, "F1", "fine"),
                                                                 read("ohms", "HGND", "HVDC", 57180),
                                                                 act(Do::Look, "C6", "fine"),
                                                                 act(Do::Look, "C4", "fine"),
                                                                 act(Do::Look, "C3", "fine"),
                                                                 act(Do::Look, "C2", "fine"),
                                                                 act(Do::Look, "C8", "fine"),
                                                                 over(read("diode", "GA", "0V", 0)),
                                                                 act(Do::Look, "C1", "fine"),
                                                                 over(read("diode", "DRB", "0V", 0)),
                                                                 read("ohms", "DB", "0V", 55010),
                                                                 read("ohms", "GL2", "HGND", 8610),
                                                                 read("esr", "HVDC", "HGND", 0.872),
                                                                 read("ohms", "GL1", "OUTA", 48830),
                                                                 read("esr", "VCC", "0V", 0.254),
                                                                 over(read("diode", "GH1", "OUTA", 0)),
                                                                 over(read("diode", "GH2", "OUTB", 0)),
                                                                 read("farads", "VHD", "HGND", 0.009396),
                                                                 read("diode", "HGND", "VHD", 0.003),
                                                                 read("farads", "BAT", "0V", 0.006622),
                                                                 act(Do::Look, "D6", "fine"),
                                                                 read("ohms", "HGND", "VHD", 3.2),
                                                                 read("ohms", "BAT.in", "BAT", 0.2)}));
    const auto& board = a->replay.board;
    EXPECT_GT(bad(*a, "D6") + bad(*a, "C8") + bad(*a, "U2"), 0.9);
    EXPECT_LT(bad(*a, "D6"), 0.8) << "that U2's pins have no clamp, which both gates say, is as likely in any story";
    ASSERT_FALSE(a->next.acts.empty());
    EXPECT_FALSE(a->next.stop);
    const auto alone = std::find_if(a->next.acts.begin(), a->next.acts.end(),
                                    [&](const NextAct& n) { return n.query.alone == at(board, "D6") || n.query.alone == at(board, "C8"); });
    ASSERT_NE(alone, a->next.acts.end());
}

// A fuse is open and nothing is shorted: what may have blown it is read across its own pins, each once, before anything is enough.
TEST(Judgement, WhatMayHaveBlownAFuseIsRead) {
    Job job = discharged("rb6-fresh").with(said("dead")).with(over(read("ohms", "LS", "L1", 0)));
    job = job.with(over(read("diode", "GATE", "SRC", 0))); // its gate says nothing of that
    easily_content(job);
    job = all_good_but(std::move(job), {"F1", "Q1"});
    const auto a = analyse(job);
    const auto& board = a->replay.board;
    ASSERT_GT(bad(*a, "F1"), 0.99);
    ASSERT_LT(bad(*a, "Q1"), 0.5);
    EXPECT_FALSE(a->next.stop);
    ASSERT_FALSE(a->next.acts.empty());
    for (const auto& n : a->next.acts) {
        EXPECT_EQ(board.part(n.part).ref, "Q1") << wording::act_title(board, n);
        EXPECT_EQ(n.because_of, *board.find_part("F1"));
        EXPECT_NE(wording::act_title(board, n).find("Q1 may have blown F1"), std::string::npos) << wording::act_title(board, n);
    }
    const auto after = analyse(job.with(over(alone("ohms", "Q1", 0))));
    for (const auto& n : after->next.acts) EXPECT_NE(n.why, NextAct::Why::Blew) << wording::act_title(board, n);
}

// All that is known is settled. A reading that may well show something else among what counts as good is still taken, with its reason; one
// that hardly may is not.
TEST(Judgement, WhatCountsAsGoodIsSweptOver) {
    Job job = discharged("gl1-adapter").with(said("low-output")).with(alone("ohms", "C4", 0.3)).with(alone("ohms", "C4", 0.3));
    auto practice = easily_content(job);
    practice->open_below = 0.8;
    practice->speaks_itself = practice->may_have_blown = practice->open_protector = 1;
    practice->hidden_short = 1;
    practice->sweep_chance = 1e-4;
    const auto a = analyse(job);
    ASSERT_TRUE(a->next.open.empty());
    ASSERT_FALSE(a->next.acts.empty());
    EXPECT_FALSE(a->next.stop);
    for (const auto& n : a->next.acts) {
        EXPECT_EQ(n.why, NextAct::Why::Sweeps);
        EXPECT_EQ(wording::act_title(a->replay.board, n).rfind("To be sure of ", 0), 0u) << wording::act_title(a->replay.board, n);
    }
    practice = easily_content(job);
    practice->open_below = 0.8;
    practice->speaks_itself = practice->may_have_blown = practice->open_protector = practice->hidden_short = 1;
    EXPECT_TRUE(analyse(job)->next.stop);
}

// A bridge that is out and was read over one leg is read over the others before it is enough; a transistor likewise, once each.
TEST(Judgement, WhatIsOutIsReadToTheEnd) {
    Entry leg = alone("diode", "BR1", 0.6);
    leg.pins = {"-", "~2"};
    Job job = discharged("rb6-fresh")
                  .with(said("low-output"))
                  .with(alone("ohms", "C17", 0.3))
                  .with(alone("ohms", "C17", 0.3))
                  .with(act(Do::Lift, "BR1"))
                  .with(leg);
    auto practice = easily_content(job);
    practice->open_below = 0.8;
    practice->speaks_itself = practice->may_have_blown = practice->open_protector = practice->hidden_short = 1;
    std::set<std::pair<NetId, NetId>> asked;
    for (int turn = 0; turn < 6; ++turn) {
        const auto a = analyse(job);
        if (a->next.acts.empty()) break;
        const auto& n = a->next.acts.front();
        ASSERT_EQ(a->replay.board.part(n.part).ref, "BR1") << wording::act_title(a->replay.board, n);
        EXPECT_EQ(n.query.alone, n.part);
        EXPECT_EQ(wording::act_title(a->replay.board, n).rfind("Before BR1 goes back: ", 0), 0u) << wording::act_title(a->replay.board, n);
        EXPECT_GT(n.bits, 0);
        EXPECT_TRUE(asked.insert(std::minmax(n.query.red, n.query.black)).second) << "each leg once";
        job = job.with(answer(*a, n, {}));
    }
    EXPECT_EQ(asked.size(), 3u);
    EXPECT_TRUE(analyse(job)->next.stop);
}

// A rectifier that is out and blocks the diode test may leak some kilohms all the same (common practice, no source): its ohms are read
// before it goes back, and one reading is enough for them.
TEST(Judgement, ARectifierThatIsOutIsReadInOhms) {
    Job job = discharged("rb6-fresh")
                  .with(said("low-output"))
                  .with(alone("ohms", "C17", 0.3))
                  .with(alone("ohms", "C17", 0.3))
                  .with(act(Do::Lift, "D7"))
                  .with(alone("diode", "D7", 0.21));
    auto practice = easily_content(job);
    practice->open_below = 0.8;
    practice->speaks_itself = practice->may_have_blown = practice->open_protector = practice->hidden_short = 1;
    const auto a = analyse(job);
    ASSERT_FALSE(a->next.acts.empty());
    for (const auto& n : a->next.acts) {
        EXPECT_EQ(a->replay.board.part(n.part).ref, "D7") << wording::act_title(a->replay.board, n);
        EXPECT_EQ(n.query.what, Quantity::Ohms);
        EXPECT_EQ(n.why, NextAct::Why::GoesBack);
    }
    EXPECT_TRUE(analyse(job.with(answer(*a, a->next.acts.front(), {})))->next.stop);
}

// What conducts where it should not takes new parts along when power goes on: it is swept for where as slight a chance of an open part is
// left alone.
TEST(Judgement, WhatConductsIsSweptForFirst) {
    Job job = discharged("gl1-adapter").with(said("low-output")).with(alone("ohms", "C4", 0.3)).with(alone("ohms", "C4", 0.3));
    auto practice = easily_content(job);
    practice->open_below = 0.8;
    practice->speaks_itself = practice->may_have_blown = practice->open_protector = practice->hidden_short = 1;
    practice->missed_conductor = 1;
    ASSERT_TRUE(analyse(job)->next.stop);
    practice->missed_conductor = 1000;
    const auto a = analyse(job);
    ASSERT_FALSE(a->next.acts.empty());
    for (const auto& n : a->next.acts) {
        EXPECT_EQ(n.why, NextAct::Why::Sweeps);
        EXPECT_LT(n.bits, entropy(practice->sweep_chance)); // what it tells is no more for that
        EXPECT_GT(n.weight, 1);
    }
}

// The bridge has cracked with a bang, and the likeliest stories have nothing else: the two switches behind it, a hundredth each, are in
// stories too rare to be weighed one by one. What a reading on them would show counts all the same.
TEST(Judgement, WhatOnlyRareStoriesHaveIsReadAllTheSame) {
    const Job job = with_all(discharged("tl12-half-bridge"),
                             {said("bang"), said("dead"), act(Do::Look, "BR1", "cracked"), act(Do::Look, "C3", "bulged"),
                              read("ohms", "L.in", "AC1", 5.4667), read("esr", "BM", "PGND", 0.137), read("ohms", "PGND", "BM", 103530),
                              read("farads", "BM", "PGND", 0.504e-3), read("farads", "+24V", "0V", 4.541e-3),
                              read("esr", "DRA", "DR1", 1.577), read("esr", "VSB", "PGND", 0.519), read("esr", "VCC", "0V", 0.533),
                              read("esr", "+5V", "0V", 0.014), read("esr", "+5VS", "0V", 0.056), read("ohms", "+5VS", "SSB", 2987.3),
                              read("ohms", "+5A", "SC", 43.6), read("ohms", "+24V", "0V", 655.33), read("ohms", "VCC", "SVC", 490e3)});
    const auto a = analyse(job);
    ASSERT_GT(bad(*a, "BR1"), 0.99);
    ASSERT_LT(bad(*a, "Q1"), 0.02);
    ASSERT_FALSE(a->next.acts.empty());
    double most = 0;
    for (const auto& n : a->next.acts)
        if (n.act == Act::Read && (a->replay.board.part(*a->replay.board.find_part("Q1")).touches(n.query.red) ||
                                   a->replay.board.part(*a->replay.board.find_part("Q1")).touches(n.query.black)))
            most = std::max(most, n.bits);
    EXPECT_GT(most, 0.02);
}

// Twenty-five ohms too many from the plug to the bridge, and each part on the way but one read: a sound contact has no such ohms, so that
// no story bends one to them.
TEST(Judgement, WhatOnlyOneContactCanHoldIsThatContact) {
    const Job job = with_all(discharged("rb6-fresh"),
                             {said("dead"), read("ohms", "L.in", "AC1", 30.7), act(Do::Lift, "RT1"), alone("ohms", "RT1", 5.0),
                              read("ohms", "L1", "L2", 0.2), read("ohms", "L.in", "L1", 25.6), read("ohms", "L.in", "L", 25.4)});
    const auto a = analyse(job);
    EXPECT_GT(bad(*a, "J1"), 0.95);
    EXPECT_LT(bad(*a, "F1"), 0.02);
    EXPECT_TRUE(a->assessment.bent.empty());
    EXPECT_LT(a->assessment.unexplained, 0.02);
}

// One more reading that says little: a fit that has given up a step counts by what it read where it stands, and no story gains by that.
TEST(Judgement, AReadingThatSaysLittleUnsaysNothing) {
    const auto a = analyse(step_given_up());
    for (const char* ref : {"F1", "R2", "Q1", "U1"}) EXPECT_GT(bad(*a, ref), 0.85) << ref;
    EXPECT_TRUE(a->assessment.contradicted_by.empty());
}

// An emitter resistor is open and a shorted reservoir would account for it; the transistor that the same current went through is read all
// the same.
TEST(Judgement, WhatTheSameCurrentWentThroughIsRead) {
    Job job = with_all(discharged("fd1-linear"), {said("dead"), over(alone("ohms", "R2", 0)), over(alone("ohms", "R2", 0)),
                                                  alone("ohms", "C5", 0.4), alone("ohms", "C5", 0.4)});
    auto practice = easily_content(job);
    practice->open_above = practice->open_harm = 0.982;
    practice->open_below = 0.985;
    practice->speaks_itself = practice->open_protector = practice->hidden_short = 1;
    job = all_good_but(std::move(job), {"R2", "C5", "Q1"});
    const auto a = analyse(job);
    ASSERT_GT(bad(*a, "R2"), practice->open_below);
    ASSERT_GT(bad(*a, "C5"), practice->open_below);
    ASSERT_FALSE(a->next.acts.empty());
    for (const auto& n : a->next.acts) {
        EXPECT_EQ(a->replay.board.part(n.part).ref, "Q1") << wording::act_title(a->replay.board, n);
        EXPECT_EQ(n.because_of, at(a->replay.board, "R2")) << wording::act_title(a->replay.board, n);
    }
}

// A shorted rectifier is out; its capacitor, shorted too, would have shown nothing beside it. Its place is read, once.
TEST(Judgement, WhatAShortHidIsReadOnceItIsOut) {
    Job job = with_all(discharged("rb6-fresh"), {said("dead"), read("ohms", "+5V", "0V", 0.9), act(Do::Lift, "D8"), alone("ohms", "D8", 1),
                                                 alone("diode", "D8", 0.001)});
    easily_content(job)->open_below = 0.95;
    job = all_good_but(std::move(job), {"D8", "C20"});
    const auto a = analyse(job);
    const auto& board = a->replay.board;
    ASSERT_GT(bad(*a, "D8"), 0.95);
    ASSERT_LT(bad(*a, "C20"), 0.5);
    const auto hid = [&](const Analysis& now) {
        return std::count_if(now.next.acts.begin(), now.next.acts.end(),
                             [&](const NextAct& n) { return n.why == NextAct::Why::Hid && n.because_of == *board.find_part("D8"); });
    };
    EXPECT_FALSE(a->next.stop);
    ASSERT_GT(hid(*a), 0) << (a->next.acts.empty() ? "nothing" : wording::act_title(board, a->next.acts.front()));
    EXPECT_NE(wording::act_title(board, a->next.acts.front()).find("Is the short gone with D8 out?"), std::string::npos);
    const auto free = analyse(job.with(read("ohms", "S5", "+5A", 215)));
    EXPECT_EQ(hid(*free), 0);
    // In place it hides as much, and comes out anyway.
    Job in_place = with_all(discharged("rb6-fresh"), {said("dead"), act(Do::Look, "C20", "bulged"), act(Do::Look, "C20", "leaking"),
                                                      read("ohms", "+5A", "0V", 0.4)});
    easily_content(in_place)->open_below = 0.6;
    const auto there = analyse(all_good_but(std::move(in_place), {"C20", "C21"}));
    ASSERT_GT(bad(*there, "C20"), 0.6);
    ASSERT_FALSE(there->next.acts.empty());
    EXPECT_EQ(there->next.acts.front().because_of, *board.find_part("C20")) << wording::act_title(board, there->next.acts.front());
    EXPECT_EQ(there->next.acts.front().to_lift, std::vector<int>{*board.find_part("C20")});
    const Job short_too = job.with(read("ohms", "S5", "+5A", 1.4));
    const auto once = analyse(short_too);
    EXPECT_GT(bad(*once, "C20"), 0.3);
    EXPECT_GT(bad(*analyse(short_too.with(read("ohms", "S5", "+5A", 1.4))), "C20"), 0.5);
}

// Nothing tells more of what is open, a transformer that nobody lifts: the fuse is read all the same.
TEST(Judgement, AFuseIsReadWhereNothingTellsOfWhatIsOpen) {
    Job job = discharged("rb6-fresh").with(said("dead")).with(act(Do::Look, "F1", "fine"));
    auto practice = std::make_shared<Practice>(job.board.practice());
    practice->open_harm = 1;
    practice->most_acquitted = 10;
    practice->most_unexplained = 1;
    practice->least_bits = 5;
    practice->open_protector = 0.001;
    practice->sweep_chance = 1;
    practice->verdict_right = 0.9995;
    job.board.edited_practice = practice;
    job = all_good_but(std::move(job), {"F1", "T1"});
    practice->open_above = 1;
    const double fuse = analyse(job)->assessment.of(at(job.board, "F1")).readable,
                 other = analyse(job)->assessment.of(at(job.board, "T1")).readable;
    practice->open_above = std::sqrt(fuse * other);
    const auto a = analyse(job);
    EXPECT_FALSE(a->next.settled);
    ASSERT_FALSE(a->next.acts.empty());
    for (const auto& n : a->next.acts) EXPECT_EQ(a->replay.board.part(n.part).ref, "F1") << wording::act_title(a->replay.board, n);
}

// Two rectifiers on one rail: the shorted one hides the other, so it is taken out and the place is read again.
TEST(Judgement, ReadsThePlaceOfABadPart) {
    Job job = discharged("bd2-self-oscillating").with(said("ticking")).with(read("ohms", "+24V", "0V", 0.19));
    Entry lifted = read_part("diode", "D5", 0.0004);
    lifted.lifted = true;
    job = job.with(lifted);
    for (const char* ref : {"C8", "C9", "C5", "C6", "C2"}) job = job.with(act(Do::Look, ref, "fine")); // what costs less comes first
    const auto a = analyse(job);
    ASSERT_GT(bad(*a, "D5"), 0.9);
    const auto& board = a->replay.board;
    const auto place = std::find_if(a->next.acts.begin(), a->next.acts.end(), [&](const NextAct& n) {
        return n.act == Act::Read && n.query.alone < 0 && n.to_lift == std::vector<int>{at(board, "D5")};
    });
    ASSERT_NE(place, a->next.acts.end());
    EXPECT_TRUE(place->query.state.is_lifted(at(board, "D5")));
    EXPECT_EQ(wording::act_title(board, *place).rfind("Take D5 out", 0), 0u);
    // With it out the rail is still low and its capacitors are good: the other one comes into sight.
    for (const char* ref : {"C8", "C9", "C10"}) job = job.with(act(Do::Verdict, ref, "good"));
    Entry out = act(Do::Lift, "D5");
    const auto after = analyse(job.with(out).with(read("ohms", "SA", "+24A", 0.15)).with(read("diode", "SB", "+24A", 0.0006)));
    EXPECT_GT(bad(*after, "D6"), 5 * bad(*a, "D6"));
}

// The first of a chain is the one that started it: a fuse does not go first and let the switch short on a dead unit.
TEST(Judgement, AShortOnADeadUnitComesFirst) {
    const Board& b = demo_board();
    const auto set = enumerate_scenarios(b, find_roles(b), library(), {}, {}, {});
    ASSERT_TRUE(set);
    const auto key = [&] {
        auto f = faults(b, {"BR1:short@~1+", "F1:open"});
        std::sort(f.begin(), f.end());
        return f;
    }();
    const auto found = std::find_if(set->scenarios.begin(), set->scenarios.end(), [&](const Scenario& s) { return s.key() == key; });
    ASSERT_NE(found, set->scenarios.end());
    EXPECT_EQ(found->steps.front().fault.part, at(b, "BR1"));
    EXPECT_NE(found->steps.back().cause, Cause::Independent);
}

TEST(Judgement, StoriesPutTheShortBeforeTheFuse) {
    const Board& b = demo_board();
    const auto step = [&](const char* text, Cause cause) { return Step{fault(b, text), cause, 0, 0, 0}; };
    Scenario s{{step("F1:open", Cause::Root), step("C21:dry", Cause::Independent), step("D8:short", Cause::Independent)}, 0.1};
    const auto key = s.key();
    tell_in_order(b, s);
    EXPECT_EQ(s.steps[0].fault, fault(b, "D8:short"));
    EXPECT_EQ(s.steps[0].cause, Cause::Root);
    EXPECT_EQ(s.steps[1].cause, Cause::Independent);
    EXPECT_EQ(s.key(), key);
    // A chain, an open part elsewhere and a fuse without a short stay as they are.
    for (auto unchanged : {Scenario{{step("Q1:ds-short", Cause::Root), step("F1:open", Cause::FuseI2t)}, 0.1},
                           Scenario{{step("R5:open", Cause::Root), step("D8:short", Cause::Independent)}, 0.1},
                           Scenario{{step("F1:open", Cause::Root), step("C21:dry", Cause::Independent)}, 0.1}}) {
        const auto before = unchanged.steps.front().fault;
        tell_in_order(b, unchanged);
        EXPECT_EQ(unchanged.steps.front().fault, before);
        EXPECT_EQ(unchanged.steps.front().cause, Cause::Root);
    }
}

TEST(Judgement, TheChainThatExplainsMostIsToldFirst) {
    const Board& b = demo_board();
    const auto step = [&](const char* text, Cause cause) { return Step{fault(b, text), cause, 1, 1, 0}; };
    Scenario s{{step("BR1:short@~1+", Cause::Root), step("F1:open", Cause::FuseI2t), step("C5:dry", Cause::Independent),
                step("Q1:ds-short", Cause::SwitchHeat), step("R9:open", Cause::PulseEnergy)},
               0.1};
    const auto key = s.key();
    tell_in_order(b, s);
    EXPECT_EQ(s.steps[0].fault, fault(b, "C5:dry"));
    EXPECT_EQ(s.steps[0].cause, Cause::Root);
    EXPECT_EQ(s.steps[3].fault, fault(b, "BR1:short@~1+"));
    EXPECT_EQ(s.steps[3].cause, Cause::Independent);
    EXPECT_EQ(s.steps[4].cause, Cause::FuseI2t); // what a chain broke stays behind it
    EXPECT_EQ(s.key(), key);
    // A fuse that opened on its own comes after a chain with a short in it, however long either is.
    Scenario late{{step("F1:open", Cause::Root), step("C5:dry", Cause::Independent), step("Q1:ds-short", Cause::SwitchHeat)}, 0.1};
    tell_in_order(b, late);
    EXPECT_EQ(late.steps[0].fault, fault(b, "C5:dry"));
    EXPECT_EQ(late.steps[2].fault, fault(b, "F1:open"));
}

// The blueprint has a bleeder that this board never had: it reads as open, is looked for before it is condemned, and then counts for
// nothing.
TEST(Judgement, APartThatWasNeverThereIsNotCondemned) {
    auto job = reader().from_blueprint(RealDisk(), data() / "blueprints" / "flyback.json");
    ASSERT_TRUE(job);
    const Board& b = job->board;
    int load = -1;
    for (int i = 0; i < static_cast<int>(b.parts.size()) && load < 0; ++i)
        if (b.part(i).kind == PartKind::Resistor && b.part(i).stage == "rails" && b.part(i).role.find("minimum load") != std::string::npos)
            load = i;
    ASSERT_GE(load, 0);
    ASSERT_TRUE(b.part(load).assumed);
    const auto& ref = b.part(load).ref;
    Entry empty;
    empty.act = Do::Discharge;
    empty.value = 0.3;
    Job seen = job->with(act(Do::Symptom, "", "dead")).with(empty);
    Entry open = read_part("ohms", ref, 0); // a lead where one end should be: nothing
    open.lifted = true;
    open.over = true;
    open.value.reset();
    seen = seen.with(open);
    const auto before = analyse(seen);
    ASSERT_GT(bad(*before, ref), 0.3);
    EXPECT_TRUE(before->next.trace.differs);
    EXPECT_EQ(before->next.trace.part, load);
    EXPECT_NE(wording::trace(*before).find("not-fitted"), std::string::npos);
    const auto after = analyse(seen.with(act(Do::Look, ref, "not-fitted")));
    EXPECT_LT(bad(*after, ref), 0.02);
    EXPECT_FALSE(after->next.trace.differs && after->next.trace.part == load);
    EXPECT_TRUE(after->replay.facts.lifted.empty()); // nothing waits to be refitted
    for (const auto& line : after->plan.lines) EXPECT_NE(line.part, load);
}

// A second, unrelated fault takes others with it as a first one does.
TEST(Judgement, AFurtherFaultBringsItsChain) {
    const Board& b = demo_board();
    const auto set = enumerate_scenarios(b, find_roles(b), library(), {}, {}, {});
    ASSERT_TRUE(set);
    double with_fuse = 0, without = 0;
    for (const auto& s : set->scenarios) {
        const auto key = s.key();
        const auto has = [&](const char* text) { return std::find(key.begin(), key.end(), fault(b, text)) != key.end(); };
        if (!has("D8:short") || !has("Q1:ds-short")) continue;
        (has("F1:open") ? with_fuse : without) += s.prior;
    }
    EXPECT_GT(with_fuse, 3 * without);
}

TEST(Judgement, StoriesPutTheCauseBeforeWhatItBrings) {
    const Board& b = demo_board();
    const auto step = [&](const char* text, Cause cause) { return Step{fault(b, text), cause, 0, 0, 0}; };
    const Fault dry = fault(b, "C5:dry");
    const auto leads = slow_consequences(b, find_roles(b), dry);
    ASSERT_FALSE(leads.empty());
    Scenario s{{step("Q1:ds-short", Cause::Root), step("F1:open", Cause::FuseI2t), step("C5:dry", Cause::Independent)}, 0.1};
    tell_cause_first(shipped_practice(), leads, dry, s);
    EXPECT_EQ(s.steps[0].fault, dry);
    EXPECT_EQ(s.steps[1].cause, Cause::SwitchHeat);
    EXPECT_GT(s.steps[1].value, 1); // with its sum
    EXPECT_EQ(s.steps[2].cause, Cause::FuseI2t);
    Scenario other{{step("D8:short", Cause::Root), step("C5:dry", Cause::Independent)}, 0.1};
    tell_cause_first(shipped_practice(), leads, dry, other);
    EXPECT_EQ(other.steps[0].fault, fault(b, "D8:short"));
}

TEST(Judgement, SlowCausesFollowEachOther) {
    const Board b = demo("bd2-self-oscillating").board;
    const auto set = enumerate_scenarios(b, find_roles(b), library(), {}, {}, {});
    ASSERT_TRUE(set);
    double through = 0; // dry drive capacitor, its switch, the other switch of the pair, the fuse
    for (const auto& s : set->scenarios) {
        if (s.steps.size() < 4 || s.steps[0].fault != fault(b, "C6:dry")) continue;
        if (s.steps[1].fault.part == at(b, "Q2") && s.steps[1].cause == Cause::WeakDrive && s.steps[2].fault.part == at(b, "Q1") &&
            s.steps[2].cause == Cause::Overcurrent && s.steps[3].cause == Cause::FuseI2t)
            through += s.prior;
    }
    EXPECT_GT(through, 0.01);
}

TEST(Judgement, BothSwitchesOfAPairMayDieOfHeat) {
    const Board b = demo("tl12-half-bridge").board;
    const auto roles = find_roles(b);
    const auto found = slow_consequences(b, roles, fault(b, "C2:dry"));
    double sum = 0;
    std::set<int> which;
    for (const auto& c : found)
        if (c.step.cause == Cause::SwitchHeat) {
            which.insert(c.step.fault.part);
            sum += c.chance;
        }
    EXPECT_EQ(which, (std::set<int>{at(b, "Q1"), at(b, "Q2")}));
    EXPECT_LE(sum, 1);
    EXPECT_NEAR(found[0].chance, found[1].chance, 1e-12);
}

// An assumed value is looked up where that would tell more; a traced board has nothing to trace.
TEST(Judgement, NamesWhatIsWorthTracing) {
    const auto assumed = analyse(blueprint("flyback").with(said("dead")));
    if (const auto& t = assumed->next.trace; t.part >= 0) {
        EXPECT_TRUE(assumed->replay.board.part(t.part).assumed);
        EXPECT_GT(t.bits, 0);
        EXPECT_EQ(wording::trace(*assumed).rfind("Worth tracing", 0), 0u);
    }
    const auto traced = analyse(discharged("rb6-fresh").with(said("dead")));
    EXPECT_EQ(traced->next.trace.part, -1);
    EXPECT_TRUE(wording::trace(*traced).empty());
}

TEST(Judgement, ABoardThatDiffersIsLookedAtFirst) {
    Analysis a = *analyse(blueprint("flyback"));
    const int part = at(a.replay.board, "mains-fuse");
    a.next.trace = {.part = part,
                    .differs = true,
                    .entry = 1,
                    .query = {Quantity::Ohms, a.replay.board.rails[0].net_id, a.replay.board.rails[0].return_id, -1, {}, 0}};
    EXPECT_EQ(wording::trace(a).rfind("The board may differ here", 0), 0u);
    EXPECT_NE(wording::trace(a).find("before condemning"), std::string::npos);
}

// Three kilohms between two places that nothing entered joins are never dropped without a word: they are read once more, then asked for by
// name, and it is not enough before. What dirt lets through says nothing.
TEST(Judgement, WhatReadsBetweenPlacesThatNothingJoinsHangsOnSomethingMissing) {
    const Job job = discharged("rb6-fresh").with(said("dead"));
    const auto reads = [](double ohms) { return read("ohms", "PGND", "0V", ohms); };
    const auto dirt = analyse(job.with(reads(12e6)));
    EXPECT_TRUE(dirt->assessment.contradicted_by.empty());
    EXPECT_FALSE(dirt->next.trace.missing);
    const auto once = analyse(job.with(reads(3e3)));
    const int entry = static_cast<int>(once->job.journal.size()) - 1;
    EXPECT_EQ(once->assessment.contradicted_by, std::vector<int>{entry});
    EXPECT_TRUE(once->next.trace.missing);
    EXPECT_TRUE(std::any_of(once->next.acts.begin(), once->next.acts.end(), [](const NextAct& a) { return a.why == NextAct::Why::Again; }));
    const auto twice = analyse(job.with(reads(3e3)).with(reads(3.02e3)));
    EXPECT_TRUE(twice->next.trace.missing);
    EXPECT_FALSE(twice->next.stop);
    EXPECT_NE(wording::trace(*twice).find("joins PGND and 0V"), std::string::npos);
}

// Bench guide: electrolytics in parallel read as their sum on a capacitance meter, so that a dry one among three shows there, while its
// ESR hides behind that of the good ones.
TEST(Judgement, ASumThatIsTooSmallTellsOfADryOneAmongThree) {
    const Job job = discharged("fc1-inverter").with(said("weak-under-load"));
    const auto before = analyse(job);
    const auto three = [](const Analysis& a) { return bad(a, "C1") + bad(a, "C2") + bad(a, "C3"); };
    const auto across = [&](double farads) { return analyse(job.with(read("farads", "BAT", "0V", farads))); };
    EXPECT_GT(three(*across(2 * 2200e-6 + 600e-6)), 0.8);
    EXPECT_LT(three(*across(3 * 2200e-6)), 0.5 * three(*before));
    for (const char* ref : {"C1", "C2", "C3"})
        EXPECT_NEAR(bad(*across(5e-3), ref), three(*across(5e-3)) / 3, 0.05) << ref; // which one, it does not tell
}

// Outcomes that run into each other are parted where one story gives way to the other, not shown as one band that says nothing.
TEST(Judgement, ASumOfCapacitorsIsOfferedInMoreThanOneBand) {
    const Job job = discharged("fc1-inverter").with(said("weak-under-load"));
    const auto a = analyse(job);
    Query sum;
    sum.what = Quantity::Farads;
    sum.red = *a->replay.board.find_net("BAT");
    sum.black = *a->replay.board.find_net("0V");
    sum.state = a->replay.evidence.state;
    const auto act = std::find_if(a->next.acts.begin(), a->next.acts.end(), [&](const NextAct& n) { return n.query == sum; });
    ASSERT_NE(act, a->next.acts.end());
    std::size_t offered = 0;
    for (const auto& band : act->bands) offered += band.p > 0.01;
    EXPECT_GE(offered, 2u);
    for (const auto& band : act->bands) EXPECT_LT(band.p, 0.97);
}

// Five faults, more than the enumeration holds: the story grows step by step.
TEST(Judgement, AStoryOfFiveFaultsIsGrown) {
    Job job = discharged("rb6-fresh").with(said("bang"));
    const auto real = faults(job.board, {"C5:dry", "Q1:short", "R9:open", "RT1:open", "R18:open"});
    const auto first = analyse(job);
    const auto measure = [&](Quantity what, const char* red, const char* black) {
        NextAct asked;
        asked.query.what = what;
        asked.query.red = *job.board.find_net(red);
        asked.query.black = *job.board.find_net(black);
        asked.query.state = first->replay.evidence.state;
        job = job.with(answer(*first, asked, real));
    };
    for (const auto& [red, black] : std::vector<std::pair<const char*, const char*>>{
             {"DRAIN", "SRC"}, {"GATE", "SRC"}, {"SRC", "PGND"}, {"L2", "AC1"}, {"L", "L1"}, {"REF", "0V"}, {"LOOP", "OPK"}, {"OPK", "0V"}})
        measure(Quantity::Ohms, red, black);
    measure(Quantity::Esr, "HV", "PGND");
    const auto a = analyse(job.with(over(alone("ohms", "R18", 0))));
    for (const char* ref : {"C5", "Q1", "R9", "RT1", "R18"}) EXPECT_GT(bad(*a, ref), 0.8) << ref;
    EXPECT_LT(bad(*a, "R19"), 0.1);
}

TEST(Judgement, CapacitanceIsAskedForWhereEsrIsHidden) {
    Job job = discharged("fc1-inverter").with(said("weak-under-load"));
    const auto real = faults(job.board, {"C2:dry"});
    for (int k = 0; k < 45; ++k) {
        const auto a = analyse(job);
        ASSERT_FALSE(a->next.acts.empty());
        const NextAct& next = a->next.acts.front();
        if (next.act == Act::Read && next.query.what == Quantity::Farads && next.query.alone < 0) return;
        job = job.with(answer(*a, next, real));
    }
    ADD_FAILURE() << "never asked";
}

// A supply that hums, sags or ticks gets its volts: nobody looks at its mains fuse first. One that is dead may well have lost it.
TEST(Judgement, WhatIsSaidToHumHasAWholeFuse) {
    for (const char* board : {"fd1-linear", "rb6-fresh", "sw3-flyback-integrated"}) {
        const auto dead = analyse(discharged(board).with(said("dead")));
        const auto told = [&](const char* word) { return analyse(discharged(board).with(said(word))); };
        for (const char* word : {"hum", "weak-under-load", "ticking"}) {
            const auto a = told(word);
            EXPECT_LT(bad(*a, "F1"), 0.4 * bad(*dead, "F1")) << board << " " << word;
            ASSERT_FALSE(a->next.acts.empty());
            EXPECT_NE(a->next.acts.front().part, at(a->replay.board, "F1")) << board << " " << word;
        }
        EXPECT_GT(bad(*told("fuse-blows"), "F1"), 0.5 * bad(*dead, "F1")) << board;
        const auto since = analyse(discharged(board).with(said("ticking")).with(said("dead"))); // it ticked, then it died
        EXPECT_GT(bad(*since, "F1"), 0.5 * bad(*dead, "F1")) << board;
    }
}

// A fuse that was seen to blow is no dried capacitor's doing; a whine or a sag may be anybody's.
TEST(Judgement, AFuseThatBlowsSpeaksForAShort) {
    for (const auto& [board, shorted, dried] :
         {std::tuple{"rb6-fresh", "Q1", "C17"}, {"fd1-linear", "BR1", "C5"}, {"tl12-half-bridge", "Q2", "C13"}}) {
        const auto blows = analyse(discharged(board).with(said("fuse-blows"))), sags = analyse(discharged(board).with(said("low-output")));
        EXPECT_GT(bad(*blows, shorted), 4 * bad(*sags, shorted)) << board;
        EXPECT_LT(bad(*blows, dried), bad(*sags, dried)) << board;
    }
}

// Whoever uses a rail whose connector passes nothing calls the unit dead, though the supply runs.
TEST(Judgement, AContactThatPassesNothingIsFeltAsDead) {
    for (const char* board : {"rb6-fresh", "tl12-half-bridge"}) {
        const auto before = analyse(discharged(board)), dead = analyse(discharged(board).with(said("dead")));
        EXPECT_GT(bad(*dead, "J2"), 1.5 * bad(*before, "J2")) << board << " " << bad(*before, "J2");
    }
}

// Some negative regulators are made one way and some the other, which the leads tell apart; but nothing is wrong with either.
TEST(Judgement, HowARegulatorIsMadeIsWorthNothing) {
    Entry d;
    d.act = Do::Discharge;
    d.value = 0.2;
    const auto a = analyse(foreign("strain-amplifier").with(d).with(said("dead")));
    const Board& b = a->replay.board;
    const Part& regulator = b.part(at(b, "U2")); // of -15 V
    ASSERT_FALSE(a->next.acts.empty());
    const auto& first = a->next.acts.front(); // the way in, as on any dead unit: a look at its fuse, or a reading through it
    const auto between = a->replay.roles->ways.between(first.query.red, first.query.black);
    EXPECT_TRUE(first.part == at(b, "F1") || std::find(between.begin(), between.end(), at(b, "F1")) != between.end());
    for (const auto& act : a->next.acts) {
        if (act.act != Act::Read || !regulator.touches(act.query.red) || !regulator.touches(act.query.black)) continue;
        EXPECT_LT(act.bits, 0.6) << b.nets[static_cast<std::size_t>(act.query.red)] << " "
                                 << b.nets[static_cast<std::size_t>(act.query.black)];
        for (const auto& band : act.bands) EXPECT_FALSE(band.story && band.story->mode == FaultMode::Reversed);
    }
}
