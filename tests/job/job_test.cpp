// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/schema.h"
#include "support/demo.h"
#include "support/fakes.h"

#include "base/text.h"
#include "report/wording.h"

#include <nlohmann/json.hpp>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Problems problems_of(const std::string& text) {
    const auto loaded = reader().parse(text);
    return loaded ? loaded->warnings : loaded.problems();
}

std::optional<Problem> find(const Problems& list, ProblemKind kind) {
    for (const auto& p : list)
        if (p.kind == kind) return p;
    return std::nullopt;
}

// The half-way demo with one piece of text exchanged.
std::string changed(const std::string& from, const std::string& to) {
    std::string text = demo_text("rb6-half-way");
    const auto where = text.find(from);
    EXPECT_NE(where, std::string::npos) << from;
    return text.replace(where, from.size(), to);
}

} // namespace

TEST(Job, ShippedJobsAndBlueprintsAreValid) {
    for (const auto& file : std::filesystem::directory_iterator(data() / "demo")) {
        const auto loaded = reader().load(RealDisk(), file.path());
        ASSERT_TRUE(loaded) << file.path();
        EXPECT_TRUE(loaded->warnings.empty()) << file.path();
    }
    for (const auto& file : std::filesystem::directory_iterator(data() / "blueprints"))
        EXPECT_TRUE(reader().from_blueprint(RealDisk(), file.path())) << file.path();
}

TEST(Job, BlueprintGivesAssumedPartsWithoutRefs) {
    const auto job = reader().from_blueprint(RealDisk(), data() / "blueprints" / "flyback.json");
    ASSERT_TRUE(job);
    for (const auto& p : job->board.parts) EXPECT_TRUE(p.assumed) << p.ref;
    EXPECT_EQ(job->board.rails.size(), demo_board().rails.size());
}

TEST(Job, RoundTripsToTheByte) {
    for (const char* name : {"rb6-fresh", "rb6-half-way"}) {
        const Job job = demo(name);
        const auto again = reader().parse(job.text());
        ASSERT_TRUE(again);
        EXPECT_EQ(again->job.text(), job.text());
        EXPECT_EQ(again->job.journal.size(), job.journal.size());
    }
}

TEST(Job, UnknownFieldsSurviveASave) {
    const auto loaded = reader().parse(changed(R"("name": "QPS-6",)", R"("name": "QPS-6", "shelf": "B3",)"));
    ASSERT_TRUE(loaded);
    EXPECT_NE(loaded->job.with(act(Do::Lift, "Q1")).text().find("\"shelf\": \"B3\""), std::string::npos);
}

TEST(Job, EveryKindOfEntrySurvivesASave) {
    Job job = demo("rb6-fresh");
    std::vector<Entry> entries = {act(Do::Look, "C5", "bulged"),
                                  act(Do::Lift, "Q1"),
                                  act(Do::Refit, "Q1"),
                                  act(Do::Pull, "J2"),
                                  act(Do::Plug, "J2"),
                                  act(Do::Replace, "Q1"),
                                  act(Do::Substitute, "U1", "works")};
    Entry e = read_part("esr", "C5", 1.4);
    e.lifted = true;
    entries.push_back(e);
    e = read("ohms", "HV", "PGND", 0);
    e.over = true;
    e.value.reset();
    entries.push_back(e);
    e = act(Do::Verdict, "Q1", "bad");
    e.mode = "ds-short";
    entries.push_back(e);
    e = act(Do::PowerStep, "", "passed");
    e.step = "lamp";
    entries.push_back(e);
    e = {};
    e.act = Do::Retract;
    e.target = 2;
    entries.push_back(e);
    for (const auto& x : entries) job = job.with(x);
    const auto again = reader().parse(job.text());
    ASSERT_TRUE(again) << wording::problem(again.problem());
    ASSERT_EQ(again->job.journal.size(), job.journal.size());
    for (std::size_t i = 0; i < job.journal.size(); ++i)
        EXPECT_EQ(wording::entry(demo_board(), again->job.journal[i]), wording::entry(demo_board(), job.journal[i]));
}

TEST(JobErrors, TruncatedJsonNamesTheLine) {
    const std::string text = demo_text("rb6-half-way");
    const auto list = problems_of(text.substr(0, text.size() / 2));
    ASSERT_EQ(list.size(), 1u);
    EXPECT_EQ(list.front().kind, ProblemKind::JsonBroken);
    EXPECT_GT(list.front().line, 10);
    EXPECT_NE(wording::problem(list.front()).find("breaks off"), std::string::npos);
}

TEST(JobErrors, UnknownKind) {
    const auto list = problems_of(changed(R"("kind": "mosfet")", R"("kind": "moosfet")"));
    const auto p = find(list, ProblemKind::UnknownPartKind);
    ASSERT_TRUE(p);
    EXPECT_EQ(p->found, "moosfet");
    EXPECT_GT(p->line, 0);
    EXPECT_NE(wording::problem(*p).find("mosfet"), std::string::npos); // names what would do
}

TEST(JobErrors, PinOnNoNet) {
    const auto p = find(problems_of(changed(R"("D": "DRAIN")", R"("D": "")")), ProblemKind::PinOnNoNet);
    EXPECT_TRUE(p);
}

TEST(JobErrors, ReadingBetweenNetsThatDoNotExist) {
    const auto list = problems_of(changed(R"("from": "+12V")", R"("from": "+13V")"));
    const auto p = find(list, ProblemKind::NoSuchNet);
    ASSERT_TRUE(p);
    EXPECT_EQ(p->found, "+13V");
    EXPECT_NE(p->place.find("/journal/"), std::string::npos);
}

TEST(JobErrors, NegativeResistance) {
    const auto p = find(problems_of(changed("\"value\": 1390", "\"value\": -1390")), ProblemKind::NegativeValue);
    ASSERT_TRUE(p);
    EXPECT_NE(p->place.find("/journal/"), std::string::npos);
}

TEST(JobErrors, TenMegabyteNote) {
    const auto list = problems_of(changed("Nothing opened so far.", std::string(10 << 20, 'x')));
    const auto p = find(list, ProblemKind::NoteTooLong);
    ASSERT_TRUE(p);
    EXPECT_LT(wording::problem(*p).size(), 500u);
}

TEST(Job, PlacesAndMetersAreRead) {
    const auto loaded = reader().parse(
        changed(R"("ref": "C5",)", R"("place": [31.5, 12], "ref": "C5",)")
            .insert(1, R"("meters": [{"id": "fine", "ohms": [{"full": 2, "amps": 0.1}], "residue": 0.0005, "accuracy": 0.004}],)"));
    ASSERT_TRUE(loaded);
    const auto& c5 = loaded->job.board.part(at(loaded->job.board, "C5"));
    ASSERT_TRUE(c5.place);
    EXPECT_EQ(c5.place->x, 31.5);
    EXPECT_EQ(c5.place->y, 12);
    ASSERT_EQ(loaded->job.meters.size(), 1u);
    EXPECT_EQ(loaded->job.meters[0].residue, 5e-4);
    EXPECT_EQ(loaded->job.meters[0].accuracy, 4e-3);
    EXPECT_TRUE(find(problems_of(changed(R"("ref": "C5",)", R"("place": [3], "ref": "C5",)")), ProblemKind::SchemaMismatch));
}

TEST(JobErrors, UnknownWordIsOnlyAWarning) {
    const auto loaded = reader().parse(changed(R"("saw": "dead")", R"("saw": "sulks")"));
    ASSERT_TRUE(loaded);
    ASSERT_EQ(loaded->warnings.size(), 1u);
    EXPECT_EQ(loaded->warnings.front().kind, ProblemKind::UnknownWord);
}

TEST(JobErrors, WrongTypesAndShapes) {
    for (const char* text :
         {"[]", "3", "null", "{}", R"({"ohmotrace": 2})", R"({"ohmotrace": 1, "board": []})", R"({"ohmotrace": 1, "journal": {}})",
          R"({"ohmotrace": 1, "journal": [{"do": 3}]})", R"({"ohmotrace": 1, "board": {"parts": [3]}})",
          R"({"ohmotrace": 1, "journal": [{"do": "read", "at": "x"}]})"}) {
        const auto loaded = reader().parse(text);
        EXPECT_FALSE(loaded) << text;
        if (loaded) continue;
        for (const auto& p : loaded.problems()) EXPECT_FALSE(wording::problem(p).empty());
    }
}

TEST(JobErrors, AMissingBoardIsValid) {
    EXPECT_TRUE(reader().parse(R"({"ohmotrace": 1, "unit": {"name": "Rope braider"}, "journal": []})"));
}

// Whatever byte is damaged: an error or a job, never a crash, and errors have words.
TEST(JobErrors, DamagedBytes) {
    std::mt19937 random(31);
    const std::string whole = demo_text("rb6-half-way");
    for (int k = 0; k < 150; ++k) {
        std::string text = whole;
        for (int n = 0; n < 3; ++n) text[random() % text.size()] = static_cast<char>(32 + random() % 95);
        const auto loaded = reader().parse(text);
        if (!loaded)
            for (const auto& p : loaded.problems()) EXPECT_FALSE(wording::problem(p).empty());
    }
}

TEST(JobSave, FullDiskKeepsTheOldFile) {
    FakeDisk disk;
    ASSERT_TRUE(save_job(disk, "a.ohmo.json", demo("rb6-fresh")));
    const auto before = disk.files["a.ohmo.json"];
    disk.full = true;
    EXPECT_EQ(save_job(disk, "a.ohmo.json", demo("rb6-half-way")).problem().kind, ProblemKind::FileUnwritable);
    EXPECT_EQ(disk.files["a.ohmo.json"], before);
}

TEST(Replay, RetractionsAndTheirRetraction) {
    Job job = demo("rb6-half-way");
    const int esr = static_cast<int>(job.journal.size()) - 1;
    Entry back;
    back.act = Do::Retract;
    back.target = esr;
    const auto without = replay(job.with(back));
    EXPECT_EQ(without.evidence.observations.size() + 1, replay(job).evidence.observations.size());
    Entry again;
    again.act = Do::Retract;
    again.target = esr + 1;
    EXPECT_EQ(replay(job.with(back).with(again)).evidence.observations.size(), replay(job).evidence.observations.size());
}

// Nothing holds a charge at high voltage behind an iron transformer, but under power its primary is at mains all the same.
TEST(Replay, MainsLocksColdReadingsWithoutABulkCapacitor) {
    const Job job = foreign("winder-supply");
    EXPECT_TRUE(replay(job).cold_unlocked);
    Entry live = read("volts-ac", "L", "N", 229);
    live.powered = "mains";
    const Job plugged = job.with(live);
    EXPECT_FALSE(replay(plugged).cold_unlocked);
    EXPECT_TRUE(replay(plugged).mains_on);
    Entry emptied;
    emptied.act = Do::Discharge;
    emptied.value = 0.6;
    EXPECT_FALSE(replay(plugged.with(read("volts-dc", "+65V", "0V", 40))).cold_unlocked) << "still charged";
    for (const Job& safe : {plugged.with(read("volts-dc", "+65V", "0V", 0.6)), plugged.with(emptied)}) {
        EXPECT_TRUE(replay(safe).cold_unlocked);
        EXPECT_FALSE(replay(safe).mains_on);
    }
}

TEST(Replay, ColdReadingsUnlockOnALowVoltageAndLockAgainUnderPower) {
    Job job = demo("rb6-fresh");
    EXPECT_FALSE(replay(job).cold_unlocked);
    job = job.with(read("volts-dc", "HV", "PGND", 182));
    EXPECT_FALSE(replay(job).cold_unlocked);
    EXPECT_DOUBLE_EQ(replay(job).charge->volts, 182);
    job = job.with(read("volts-dc", "HV", "PGND", 3));
    EXPECT_TRUE(replay(job).cold_unlocked);
    Entry live = read("volts-dc", "+24V", "0V", 24);
    live.powered = "mains";
    job = job.with(live);
    EXPECT_FALSE(replay(job).cold_unlocked);
    EXPECT_TRUE(replay(job).mains_on);
}

// A passed step leaves the plug in, whether or not anything was read then; stopping pulls it, and the charge is asked for.
TEST(Replay, AMainsStepLocksColdReadings) {
    Entry step;
    step.act = Do::PowerStep;
    step.step = "full-no-load";
    step.saw = "passed";
    const Job plugged = discharged("rb6-fresh").with(step);
    EXPECT_TRUE(replay(plugged).mains_on);
    EXPECT_FALSE(replay(plugged).cold_unlocked);
    step.saw = "aborted";
    EXPECT_FALSE(replay(plugged.with(step)).mains_on);
    EXPECT_FALSE(replay(plugged.with(step)).cold_unlocked);
}

TEST(Replay, LiftedPartsAreReadAlone) {
    const auto r = replay(demo("rb6-half-way").with(act(Do::Lift, "C5")).with(read_part("esr", "C5", 3.5)));
    EXPECT_EQ(r.evidence.observations.back().query.alone, at(demo_board(), "C5"));
    EXPECT_TRUE(r.evidence.state.is_lifted(at(demo_board(), "C5")));
}

TEST(Replay, RecognisedPartsTakeTheirRefAndValue) {
    Job job = *reader().from_blueprint(RealDisk(), data() / "blueprints" / "flyback.json");
    Entry e = act(Do::Recognise, "main-bulk-capacitor");
    e.ref = "C5";
    e.value_text = "68u";
    job = job.with(e);
    const auto r = replay(job);
    const int c5 = at(r.board, "C5");
    EXPECT_FALSE(r.board.part(c5).assumed);
    EXPECT_EQ(r.board.part(c5).value, "68u");
    EXPECT_TRUE(reader().parse(job.with(act(Do::Look, "C5", "bulged")).text())); // later entries may use the new ref
}

// Check value 4: 200 mV of 1 V left behind 50 ohm is 12.5 ohm; 1 V left is open.
TEST(Replay, ScopeResidueBecomesEsr) {
    EXPECT_NEAR(replay(demo("rb6-half-way").with(read_part("scope-residue", "C16", 0.2))).evidence.observations.back().value, 12.5, 1e-9);
    EXPECT_TRUE(replay(demo("rb6-half-way").with(read_part("scope-residue", "C16", 1.0))).evidence.observations.back().over);
}

TEST(Analysis, RepairedBoardUnlocksAfterProof) {
    Job job = demo("rb6-half-way");
    for (const char* ref : {"Q1", "C5", "R9", "F1", "U1", "R8", "R11"}) job = job.with(act(Do::Replace, ref));
    EXPECT_TRUE(analyse(job)->ladder.locked); // nothing is proven since the repair
    Entry bulk = read("ohms", "HV", "PGND", 262e3);
    bulk.rising = true;
    job = job.with(bulk).with(read("ohms", "+24V", "0V", 1400)).with(read("ohms", "+12V", "0V", 625)).with(read("ohms", "+5V", "0V", 164));
    // A shorted switch takes a leg of the bridge along in one case of ten, and that would take the new fuse.
    EXPECT_TRUE(analyse(job)->ladder.locked);
    for (const auto& [red, black] :
         std::vector<std::pair<const char*, const char*>>{{"AC1", "HV"}, {"N2", "HV"}, {"PGND", "AC1"}, {"PGND", "N2"}})
        job = job.with(read("diode", red, black, 0.55));
    job = job.with(read("ohms", "L1", "N", 220e3));
    const auto unproved = analyse(job);
    for (const auto& lock : unproved->ladder.locks)
        EXPECT_EQ(lock.open, lock.id != LockId::WorkProven) << wording::lock(demo_board(), lock);
    for (const char* ref : {"Q1", "C5", "R9", "F1", "U1", "R8", "R11"}) job = job.with(proved(ref));
    const auto a = analyse(job);
    for (const auto& lock : a->ladder.locks) EXPECT_TRUE(lock.open) << wording::lock(demo_board(), lock);
    EXPECT_FALSE(a->ladder.locked);
    EXPECT_TRUE(analyse(job.with(act(Do::Lift, "D6")))->ladder.locked);
}

// A look, beeps from the leads, a reading: each check of new work stands until the part goes out again.
TEST(Analysis, NewWorkIsProvedCheckByCheck) {
    Job job = demo("rb6-half-way").with(act(Do::Replace, "C5"));
    const auto alone = analyse(job);
    const auto waits = [](const WorkCheck& w) { return w.state == WorkState::Waiting; };
    EXPECT_TRUE(std::any_of(alone->work.begin(), alone->work.end(), waits)); // a shorted switch beside it still hides what it shows
    for (const char* ref : {"Q1", "R9", "F1", "U1", "R8", "R11", "RT1"}) job = job.with(act(Do::Replace, ref)).with(proved(ref));
    const auto fresh = analyse(job);
    ASSERT_FALSE(fresh->work.empty());
    const auto failed = [](const std::shared_ptr<const Analysis>& a) {
        return std::count_if(a->work.begin(), a->work.end(), [](const WorkCheck& w) { return w.state == WorkState::Failed; });
    };
    const int c5 = *fresh->replay.board.find_part("C5");
    for (const auto& w : fresh->work) {
        if (w.check.part != c5) continue;
        EXPECT_EQ(w.state, WorkState::Open);
        Entry e;
        e.act = Do::Prove;
        e.part = "C5";
        e.what = w.check.kind == CheckKind::Look ? "look" : "joined";
        e.pin = w.check.pin;
        e.saw = "wrong";
        const Board& board = fresh->replay.board;
        if (w.check.kind == CheckKind::Reading) {
            const auto& q = w.check.query;
            const double good = std::sqrt(std::max(w.check.low, 1e-15) * std::max(w.check.high, 1e-15));
            Entry wrong = read(std::string(quantity_name(q.what)).c_str(), board.net_name(q.red).c_str(), board.net_name(q.black).c_str(),
                               good * 1000);
            const auto told = analyse(job.with(wrong)); // it fails, or something beside it is taken for bad and the proof waits
            EXPECT_FALSE(std::all_of(told->work.begin(), told->work.end(), [](const WorkCheck& c) { return c.state == WorkState::Passed; }))
                << wording::work_check(board, w.check);
            wrong.value = good;
            wrong.over = w.check.over;
            job = job.with(wrong);
            continue;
        }
        EXPECT_EQ(failed(analyse(job.with(e))), 1) << wording::work_check(board, w.check);
        e.saw = "right";
        job = job.with(e);
    }
    const auto done = analyse(job);
    for (const auto& w : done->work) EXPECT_EQ(w.state, WorkState::Passed) << wording::work_check(done->replay.board, w.check);
    const auto again = analyse(job.with(act(Do::Lift, "C5")).with(act(Do::Refit, "C5")));
    for (const auto& w : again->work)
        if (w.check.part == c5) EXPECT_NE(w.state, WorkState::Passed);
    EXPECT_TRUE(analyse(demo("rb6-half-way"))->work.empty());
}

TEST(Analysis, SameJobSameAnswer) {
    const auto a = analyse(demo("rb6-half-way")), b = analyse(demo("rb6-fresh")), c = analyse(demo("rb6-half-way"));
    ASSERT_EQ(a->assessment.parts.size(), c->assessment.parts.size());
    for (std::size_t i = 0; i < a->assessment.parts.size(); ++i) EXPECT_DOUBLE_EQ(a->assessment.parts[i].bad, c->assessment.parts[i].bad);
    ASSERT_EQ(a->next.acts.size(), c->next.acts.size());
    for (std::size_t i = 0; i < a->next.acts.size(); ++i) EXPECT_DOUBLE_EQ(a->next.acts[i].bits, c->next.acts[i].bits);
    EXPECT_NE(a->assessment.parts.front().bad, b->assessment.parts.front().bad);
}

TEST(Analysis, AJobWithoutABoardStillAnswers) {
    const auto job = reader().parse(R"({"ohmotrace": 1, "journal": [{"at": "2026-03-02T09:00:00Z", "do": "symptom", "saw": "dead"}]})");
    ASSERT_TRUE(job);
    const auto a = analyse(job->job);
    EXPECT_TRUE(a->assessment.parts.empty());
    EXPECT_TRUE(a->plan.lines.empty());
}

TEST(PracticeSchema, TakesTheShippedFigures) {
    const auto text = [](const char* file) { return *RealDisk().read(data() / file, kLargestFile); };
    const auto schema = nlohmann::json::parse(text("schema/practice.schema.json"));
    Problems problems;
    detail::schema_problems(schema, text("practice.json"), problems);
    EXPECT_TRUE(problems.empty()) << problems.front().place << " " << problems.front().found;
    detail::schema_problems(schema, R"({"ohmotrace-practice": 1, "groups": [{"group": "x", "figures": [{"name": "a b", "value": -1}]}]})",
                            problems);
    EXPECT_FALSE(problems.empty());
}
