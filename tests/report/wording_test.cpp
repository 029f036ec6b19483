// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever the core can say has words, and the words say what, where and how to mend.
#include "report/story_to_tell.h"
#include "report/wording.h"

#include "base/csv.h"
#include "report/answers.h"
#include "report/plan_csv.h"
#include "report/practice_list.h"
#include "report/record.h"
#include "support/demo.h"
#include "support/fakes.h"

#include <set>

using namespace ohmo;
using namespace ohmo::test;

TEST(Wording, EveryProblemSaysWhatAndHowToMend) {
    std::set<std::string> all;
    for (int k = 0; k <= static_cast<int>(ProblemKind::Usage); ++k) {
        const std::string text = wording::problem({static_cast<ProblemKind>(k), "/journal/3/value", "xyz", "a net", 12, false});
        EXPECT_GT(text.size(), 20u) << k;
        EXPECT_NE(text.find("/journal/3/value"), std::string::npos) << text;
        EXPECT_NE(text.find("12"), std::string::npos) << text;
        EXPECT_TRUE(all.insert(text).second) << "two kinds say the same: " << text;
    }
}

TEST(Wording, LongFindingsAreCutShort) {
    EXPECT_LT(wording::problem({ProblemKind::UnknownWord, "/journal/0/saw", std::string(5000, 'x'), "dead", 1, true}).size(), 1000u);
}

TEST(Wording, NamesAllThatComesOutFirst) {
    const Board& b = demo_board();
    NextAct act;
    act.query.what = Quantity::Diode;
    act.part = at(b, "D7");
    act.query.red = b.part(act.part).net("A");
    act.query.black = b.part(act.part).net("K");
    act.to_lift = {act.part};
    EXPECT_NE(wording::act_title(b, act).find("in its place"), std::string::npos) << wording::act_title(b, act);
    act.to_lift = {at(b, "C5"), at(b, "R9"), at(b, "Q1")}; // another part is read without them
    const auto title = wording::act_title(b, act);
    EXPECT_EQ(title.rfind("Take C5, R9 and Q1 out, then ", 0), 0u) << title;
    EXPECT_NE(title.find("across D7"), std::string::npos) << title;
}

TEST(Wording, EveryFaultModeOfEveryKind) {
    for (const auto& kind : all_kinds())
        for (auto mode : modes_of(kind.kind)) EXPECT_FALSE(wording::mode(kind.kind, mode).empty()) << kind.name << " " << mode_name(mode);
}

TEST(Wording, EveryCauseShowsItsFigures) {
    for (int c = 0; c <= static_cast<int>(Cause::RectifierHeat); ++c) {
        const Step step{fault(demo_board(), "Q1:ds-short"), static_cast<Cause>(c), 3.2, 1.6, 0.001};
        const std::string text = wording::step(demo_board(), step);
        EXPECT_FALSE(text.empty());
        if (c > static_cast<int>(Cause::Independent)) EXPECT_NE(text.find_first_of("0123456789"), std::string::npos) << text;
    }
}

TEST(Wording, LocksReasonsRulesStopsSteps) {
    for (int i = 0; i <= static_cast<int>(LockId::Aborted); ++i)
        for (bool open : {true, false}) EXPECT_FALSE(wording::lock(demo_board(), {static_cast<LockId>(i), open, {1, 2}, {0}}).empty()) << i;
    for (int i = 0; i <= static_cast<int>(Rule::TypeKnown); ++i) {
        EXPECT_FALSE(wording::rule_title(static_cast<Rule>(i)).empty());
        EXPECT_FALSE(wording::rule({static_cast<Rule>(i), true, 2, 1}).empty());
        const auto without_figures = wording::rule({static_cast<Rule>(i), false, 0, 0}); // its title stands before it
        EXPECT_EQ(without_figures.find(wording::rule_title(static_cast<Rule>(i))), std::string::npos) << without_figures;
    }
    for (int i = 1; i <= static_cast<int>(StopReason::NoEvidence); ++i) EXPECT_FALSE(wording::stop(static_cast<StopReason>(i)).empty());
    const auto a = analyse(demo("rb6-half-way"));
    for (const auto& step : a->ladder.steps) {
        EXPECT_FALSE(wording::ladder_step(step).empty()) << "no title of its own";
        EXPECT_FALSE(wording::ladder_detail(step).empty()) << step_text(step.id);
    }
    for (const char* id : {"repaired", "works-not-fit", "not-economic", "supply-good"})
        EXPECT_NE(wording::outcome(id), id == std::string("repaired") ? "" : id);
}

TEST(Wording, EntriesAreShort) {
    for (const auto& e : demo("rb6-half-way").journal) {
        EXPECT_FALSE(wording::entry(demo_board(), e).empty());
        EXPECT_LT(wording::entry(demo_board(), e).size(), 60u);
    }
    Entry note;
    note.text = std::string(500, 'n');
    EXPECT_LT(wording::entry(demo_board(), note).size(), 60u);
}

// Safety words: nothing the program writes may claim that a unit is safe.
TEST(Record, ClaimsNothing) {
    const auto a = analyse(demo("rb6-half-way"));
    for (const auto& text : {record_markdown(*a), record_html(*a)}) {
        EXPECT_NE(text.find("certifies nothing"), std::string::npos);
        EXPECT_EQ(text.find("is safe"), std::string::npos);
        EXPECT_NE(text.find("Q1"), std::string::npos);
        EXPECT_NE(text.find("Still open"), std::string::npos);
    }
}

TEST(Record, EscapesWhatPeopleType) {
    Job job = demo("rb6-half-way");
    Entry note;
    note.text = "<script>alert(1)</script> & more";
    const auto html = record_html(*analyse(job.with(note)));
    EXPECT_EQ(html.find("<script>"), std::string::npos);
    EXPECT_NE(html.find("&lt;script&gt;"), std::string::npos);
}

// Photos go into the page itself; one that has gone from beside the job is named.
TEST(Record, CarriesItsPhotos) {
    FakeDisk disk;
    disk.files["/jobs/half.0011.png"] = "PNG";
    Job job = demo("rb6-half-way");
    for (const auto& [file, side] : {std::pair{"half.0011.png", "front"}, {"half.2233.jpg", "back"}}) {
        Entry photo;
        photo.act = Do::Photo;
        photo.what = "added";
        photo.ref = file;
        photo.saw = side;
        job = job.with(photo);
    }
    const auto a = analyse(job);
    const auto pictures = record_pictures(disk, "/jobs/half.ohmo.json", *a);
    const auto html = record_html(*a, pictures), markdown = record_markdown(*a, pictures);
    EXPECT_NE(html.find("data:image/png;base64,UE5H\""), std::string::npos);
    EXPECT_NE(html.find("half.2233.jpg is not beside the job any more"), std::string::npos);
    EXPECT_NE(markdown.find("(half.0011.png)"), std::string::npos);
    EXPECT_EQ(record_html(*a).find("Photos"), std::string::npos);
}

// What is to be replaced is marked on the board's photo in the middle of its pins, what was found on a part is named with it.
TEST(Record, MarksItsPhotos) {
    Entry photo;
    photo.act = Do::Photo;
    photo.what = "added";
    photo.ref = "half.0011.png";
    photo.saw = "front";
    Job job = demo("rb6-half-way").with(photo).with(part_picture("half.4455.png", "C5"));
    photo.what = "mark";
    photo.part = "C5";
    for (const auto& [pin, x] : {std::pair{"+", 0.2}, {"-", 0.3}}) {
        photo.pin = pin;
        photo.x = x;
        photo.y = 0.25;
        job = job.with(photo);
    }
    const auto a = analyse(job);
    ASSERT_TRUE(
        std::any_of(a->plan.lines.begin(), a->plan.lines.end(), [&](const auto& l) { return a->replay.board.part(l.part).ref == "C5"; }));
    auto pictures = pictures_of(*a);
    ASSERT_EQ(pictures.size(), 2u);
    ASSERT_EQ(pictures[0].marks.size(), 1u);
    EXPECT_EQ(pictures[0].marks[0].text, "✕ C5");
    EXPECT_NEAR(pictures[0].marks[0].spot.x, 0.25, 1e-9);
    EXPECT_EQ(pictures[1].title.substr(0, 2), "C5");
    for (auto& picture : pictures) picture.bytes = "PNG";
    EXPECT_NE(record_html(*a, pictures).find("left:160px;top:160px\">✕ C5<"), std::string::npos);
}

// A note stands in the record as long as it is, words of the vocabulary as people say them.
TEST(Record, IsWrittenForPeople) {
    Entry note;
    note.text = "The customer keeps it beside the washing line, where it has been rained on twice this summer and once in spring";
    const auto text = record_markdown(*analyse(demo("gl1-adapter").with(note)));
    EXPECT_NE(text.find(note.text), std::string::npos);
    EXPECT_NE(text.find("Complaint: low output, hum. History: back fed."), std::string::npos);
    EXPECT_EQ(text.find("low-output"), std::string::npos);
}

// Before anything is read a chain of three in a hundred is no finding; where its parts are bad it is.
TEST(Record, FindsNothingBeforeItIsFound) {
    const auto early = record_markdown(*analyse(discharged("cr8-buck").with(act(Do::Symptom, "", "dead")))),
               later = record_markdown(*analyse(demo("rb6-half-way")));
    EXPECT_NE(early.find("Nothing is settled yet. Suspect:"), std::string::npos);
    EXPECT_EQ(early.find("chain of events"), std::string::npos);
    EXPECT_NE(early.find("C8 dried out"), std::string::npos);
    EXPECT_NE(later.find("Likeliest chain of events"), std::string::npos);
    const auto renewed = record_markdown(*analyse(demo("rb6-half-way").with(act(Do::Replace, "C5"))));
    EXPECT_NE(renewed.find("C5 dried out: first to fail"), std::string::npos);
}

// Elsewhere it is cut, but never within a character.
TEST(Wording, ALongNoteIsCutBetweenCharacters) {
    for (std::size_t lead = 0; lead < 4; ++lead) {
        Entry note;
        note.text = std::string(lead, 'x') + "ΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩΩ";
        const std::string text = wording::entry(demo_board(), note);
        EXPECT_LE(text.size(), 40u);
        EXPECT_TRUE(text.ends_with("Ω…")) << text;
    }
}

TEST(Record, LeavesOutWhatWasTakenBack) {
    Job job = demo("rb6-half-way");
    Entry note;
    note.text = "unique-remark";
    job = job.with(note);
    Entry back;
    back.act = Do::Retract;
    back.target = static_cast<int>(job.journal.size()) - 1;
    EXPECT_NE(record_markdown(*analyse(job)).find("unique-remark"), std::string::npos);
    EXPECT_EQ(record_markdown(*analyse(job.with(back))).find("unique-remark"), std::string::npos);
}

TEST(Answers, NumbersAreFinite) {
    const auto a = analyse(demo("rb6-half-way"));
    for (const auto& document : {answers::rank(*a), answers::next(*a), answers::plan(*a), answers::powerup(*a), answers::story(*a)}) {
        const std::string text = document.dump();
        EXPECT_EQ(text.find("nan"), std::string::npos);
        EXPECT_EQ(text.find("inf,"), std::string::npos);
    }
}

TEST(Answers, ProbabilitiesOfPartsAgreeWithTheirModes) {
    const auto a = analyse(demo("rb6-half-way"));
    for (const auto& b : a->assessment.parts) {
        double sum = 0;
        for (const auto& [mode, p] : b.modes) sum += p;
        EXPECT_NEAR(sum, b.bad, 1e-6) << demo_board().part(b.part).ref;
        EXPECT_GE(b.bad, 0);
        EXPECT_LE(b.bad, 1);
    }
}

TEST(Wording, EveryCauseHasItsOwnWords) {
    const Board& b = demo_board();
    std::set<std::string> said;
    for (int k = 0; k <= static_cast<int>(Cause::Blast); ++k) {
        const Step step{fault(b, "Q1:ds-short"), static_cast<Cause>(k), 12.5, 5, 1e-4};
        const std::string words = wording::step(b, step);
        EXPECT_FALSE(words.empty()) << cause_name(step.cause);
        EXPECT_TRUE(said.insert(words).second) << cause_name(step.cause) << ": " << words;
        EXPECT_EQ(words.find("{}"), std::string::npos) << words;
    }
}

TEST(PlanCsv, QuotesAreDoubledAndEveryLineReadsBack) {
    auto a = std::make_shared<Analysis>(*analyse(demo("rb6-half-way")));
    const int q1 = at(a->replay.board, "Q1");
    a->replay.board.parts[static_cast<std::size_t>(q1)].value = "600V 6A, \"T\" type";
    const auto rows = parse_csv(plan_csv(*a));
    ASSERT_EQ(rows.size(), a->plan.lines.size() + 1);
    EXPECT_EQ(rows.front().cells, (std::vector<std::string>{"ref", "value", "reason", "choice", "price", "stage"}));
    bool found = false;
    for (const auto& row : rows) {
        ASSERT_EQ(row.cells.size(), 6u);
        found = found || (row.cells[0] == "Q1" && row.cells[1] == "600V 6A, \"T\" type");
    }
    EXPECT_TRUE(found);
}

TEST(PracticeList, MarkdownHasARowForEveryFigure) {
    const std::string page = practice_markdown(shipped_practice_file());
    for (const auto& f : shipped_practice_file().figures) EXPECT_NE(page.find("| " + f.name + " |"), std::string::npos) << f.name;
    EXPECT_NE(page.find("## Table: symptoms"), std::string::npos);
}

// "mA²s" would read as the square of milliamperes.
TEST(Wording, ASquareOfAmperesHasNoPrefix) {
    const Fault chip{0, FaultMode::Dead, {}};
    EXPECT_EQ(wording::step(demo_board(), {chip, Cause::PinI2t, 5.16e-3, 2e-4, 0}),
              "surge 0.00516 A²s through a pin, stands about 0.0002 A²s");
    const std::string melts = wording::step(demo_board(), {chip, Cause::FuseI2t, 1083, 4, 0});
    EXPECT_NE(melts.find("1083 A²s against 4 A²s"), std::string::npos) << melts;
}

// Of a unit that is dead the single likeliest set may be the empty one although something is wrong in nineteen of twenty.
TEST(StoryToTell, NothingWrongOnlyWhereItIsLikelierThanNot) {
    Story nothing, fault;
    fault.scenario.steps.push_back({});
    nothing.p = 0.05, fault.p = 0.04;
    EXPECT_EQ(story_to_tell({nothing, fault}), 1u);
    EXPECT_EQ(story_to_tell({nothing}), 0u);
    EXPECT_EQ(story_to_tell({fault, nothing}), 0u);
    nothing.p = 0.6;
    EXPECT_EQ(story_to_tell({nothing, fault}), 0u);
}
