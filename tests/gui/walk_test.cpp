// SPDX-License-Identifier: GPL-3.0-or-later
// A whole job in the real window: from the complaint to the ladder's first step, saved and opened again.
#include "gui/window_driver.h"

#include "gui/widgets/panel.h"

#include <QDialog>
#include <QTableWidget>

using namespace ohmo;
using namespace ohmo::test;

using Walk = WindowTest;

TEST_F(Walk, FromComplaintToPowerUp) {
    open("/jobs/fresh.ohmo.json");

    // Cold readings are refused until the bulk capacitor has been measured low.
    window->go_to(QStringLiteral("probe"));
    EXPECT_TRUE(find<QLabel>("next-title")->text().contains(QStringLiteral("may be charged")));
    const std::string before = first_suspect();
    log("HV 182");
    EXPECT_TRUE(find<QLabel>("charge-pill")->text().contains(QStringLiteral("182")));
    log("discharge 0.4");
    EXPECT_FALSE(find<QLabel>("next-title")->text().contains(QStringLiteral("may be charged")));

    // Suspects move with the readings.
    const double switch_before = bad("Q1");
    log("C5 bulged");
    log("F1 open");
    log("HV 41.2 ohm");
    log("Q1 D-S ohm 0.41");
    EXPECT_GT(bad("Q1"), switch_before);
    EXPECT_GT(bad("Q1"), 0.95);
    log("C5 esr 3.6");
    EXPECT_GT(bad("C5"), 0.95);
    log("+24V 1390");
    log("+12V 628");
    log("+5V 165");
    EXPECT_LT(bad("C16"), 0.3); // same age, not read yet
    EXPECT_NE(find<QListWidget>("suspects")->count(), 0);

    // The plan fills.
    window->go_to(QStringLiteral("parts"));
    auto* table = find<QAbstractItemView>("plan-table");
    EXPECT_GE(table->model()->rowCount(), 5);

    // Power-up refuses while the primary short is unproven.
    window->go_to(QStringLiteral("power-up"));
    EXPECT_FALSE(find<QPushButton>("step-passed")->isEnabled());
    EXPECT_TRUE(session->analysis()->ladder.locked);

    // Everything planned is replaced; still refused, nothing has been proven since.
    for (int guard = 0; guard < 15; ++guard) {
        const auto& lines = session->analysis()->plan.lines;
        const auto open_line = std::find_if(lines.begin(), lines.end(), [](const PlanLine& l) { return !l.done; });
        if (open_line == lines.end()) break;
        log(("replace " + session->replay().board.part(open_line->part).ref).c_str());
    }
    EXPECT_TRUE(session->analysis()->ladder.locked);
    EXPECT_FALSE(find<QPushButton>("step-passed")->isEnabled());

    const auto put_in = session->replay().work;
    for (const auto& [part, work] : put_in) log(("prove " + session->replay().board.part(part).ref).c_str());
    log("HV 262k rising");
    log("+24V 1400");
    log("+12V 625");
    EXPECT_TRUE(session->analysis()->ladder.locked); // one rail still unproven
    log("+5V 164");
    log("AC1 N2 412k");
    for (int guard = 0; guard < 8 && session->analysis()->ladder.locked; ++guard) { // whatever is still suspected is read or replaced
        const auto parts = session->analysis()->replay.facts.bad_in_place;
        ASSERT_FALSE(parts.empty());
        const std::string ref = session->replay().board.part(parts.front()).ref;
        log(("replace " + ref).c_str());
        log(("prove " + ref).c_str());
        log("HV 262k rising");
        log("+24V 1400");
        log("+12V 625");
        log("+5V 164");
    }
    EXPECT_FALSE(session->analysis()->ladder.locked);
    EXPECT_TRUE(find<QPushButton>("step-passed")->isEnabled());
    const int step = session->analysis()->ladder.current;
    click("step-passed");
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->analysis()->ladder.current, step + 1);

    // Save, reopen: the same state.
    ASSERT_TRUE(window->save_job_to(QStringLiteral("/jobs/walked.ohmo.json")));
    const auto shown = session->analysis();
    start();
    open("/jobs/walked.ohmo.json");
    const auto again = session->analysis();
    ASSERT_EQ(again->assessment.parts.size(), shown->assessment.parts.size());
    for (std::size_t i = 0; i < 12; ++i) {
        EXPECT_EQ(again->assessment.parts[i].part, shown->assessment.parts[i].part);
        EXPECT_DOUBLE_EQ(again->assessment.parts[i].bad, shown->assessment.parts[i].bad);
    }
    EXPECT_EQ(again->ladder.current, shown->ladder.current);
    EXPECT_EQ(again->job.journal.size(), shown->job.journal.size());
    EXPECT_EQ(window->station(), QStringLiteral("power-up")); // the last station is remembered
}

// Rails round: three values and three times Enter, no mouse.
TEST_F(Walk, RailsAreReadOneAfterTheOther) {
    open("/jobs/half.ohmo.json");
    const auto before = session->job().journal.size();
    find<QAction>("action-rails-round")->trigger();
    auto* value = find<QLineEdit>("rails-round-value");
    auto* table = find<QTableWidget>("rails-round-table");
    for (const char* text : {"1k4", "0.7", "nonsense", "164"}) {
        QTest::keyClicks(value, QString::fromLatin1(text));
        QTest::keyClick(value, Qt::Key_Return);
        ASSERT_TRUE(settled());
        if (!find<QLabel>("rails-round-says")->text().isEmpty()) value->clear(); // refused with the reason, and asked again
    }
    ASSERT_EQ(session->job().journal.size(), before + 3);
    EXPECT_EQ(session->job().journal.back().from, "+5V");
    EXPECT_TRUE(table->item(1, 3)->text().contains(QStringLiteral("odd one out"))) << table->item(1, 3)->text().toStdString();
    EXPECT_FALSE(table->item(0, 3)->text().contains(QStringLiteral("odd one out")));
    QTest::keyClick(value, Qt::Key_Up); // back to the one that was odd
    QTest::keyClicks(value, QStringLiteral("620"));
    QTest::keyClick(value, Qt::Key_Return);
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.back().from, "+12V");
    QTest::keyClick(value, Qt::Key_Escape);
    ASSERT_TRUE(wait([this] { return window->findChild<QDialog*>(QStringLiteral("rails-round")) == nullptr; }));
}

// What was put in is proved before anything else is asked: each check by F2, its answer, Enter.
TEST_F(Walk, ProbeAsksForTheProofOfNewWork) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    for (const char* line : {"replace Q1", "prove Q1", "replace R9", "prove R9", "replace F1", "prove F1", "replace U1", "prove U1",
                             "replace R8", "prove R8", "replace R11", "prove R11", "replace RT1", "prove RT1"})
        log(line);
    log("replace C5");
    auto* title = find<QLabel>("next-title");
    auto* line = find<QLineEdit>("bench-input");
    QStringList titles;
    for (int guard = 0; guard < 8 && title->text().contains(QStringLiteral("the new C5")); ++guard) {
        titles << title->text();
        const auto& work = session->analysis()->work;
        const auto open_check = std::find_if(work.begin(), work.end(), [](const WorkCheck& w) { return w.state == WorkState::Open; });
        ASSERT_NE(open_check, work.end());
        find<QAction>("action-take-suggestion")->trigger();
        const auto& c = open_check->check;
        const QString answer = c.kind == CheckKind::Look     ? QStringLiteral("right")
                               : c.kind == CheckKind::Joined ? QStringLiteral("beeps")
                               : c.over                      ? QStringLiteral("over")
                                                             : QString::number((c.low + c.high) / 2);
        ASSERT_FALSE(line->text().isEmpty());
        QTest::keyClicks(line, answer);
        QTest::keyClick(line, Qt::Key_Return);
        ASSERT_TRUE(settled());
    }
    EXPECT_GE(titles.size(), 2);
    for (const auto& w : session->analysis()->work)
        EXPECT_EQ(w.state, WorkState::Passed) << titles.join(QStringLiteral(" / ")).toStdString();
    log("prove C5 look wrong");
    EXPECT_TRUE(find<QLabel>("next-why")->text().contains(QStringLiteral("not right yet")));
}

TEST_F(Walk, FigureOutsideItsBandStopsTheLadder) {
    Job job = demo("rb6-half-way");
    for (const char* ref : {"Q1", "C5", "R9", "F1", "U1", "R8", "R11", "RT1", "BR1"})
        job = job.with(act(Do::Replace, ref)).with(proved(ref));
    Entry bulk = read("ohms", "HV", "PGND", 262e3);
    bulk.rising = true;
    job = job.with(bulk).with(read("ohms", "+24V", "0V", 1400)).with(read("ohms", "+12V", "0V", 625)).with(read("ohms", "+5V", "0V", 164));
    for (const char* step : {"controller-elv", "rails-back-fed"}) {
        Entry e;
        e.act = Do::PowerStep;
        e.step = step;
        e.saw = "passed";
        job = job.with(e);
    }
    disk.memory.files["/jobs/lamp.ohmo.json"] = job.text();
    open("/jobs/lamp.ohmo.json");
    window->go_to(QStringLiteral("power-up"));
    ASSERT_FALSE(session->analysis()->ladder.locked);
    EXPECT_TRUE(find<QLabel>("current-step")->text().contains(QStringLiteral("Lamp")));
    log("+24V 31.0 V mains");
    ASSERT_TRUE(wait([&] { return session->up_to_date(); }));
    EXPECT_TRUE(find<QWidget>("outside-band")->isVisible());
    EXPECT_FALSE(find<QPushButton>("step-passed")->isEnabled());
    EXPECT_TRUE(find<QLabel>("mains-pill")->text().contains(QStringLiteral("ON")));
    click("step-abort");
    ASSERT_TRUE(settled());
    EXPECT_TRUE(session->analysis()->ladder.locked);
    EXPECT_TRUE(find<QPushButton>("step-clear")->isEnabled());
}

TEST_F(Walk, NewJobFromTheBlueprintInAMinute) {
    start_from("flyback.json");
    EXPECT_EQ(window->station(), QStringLiteral("take-in"));
    click("symptom-dead");
    click("history-died-running");
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->replay().symptoms, (std::vector<std::string>{"dead"}));
    auto* name = find<QLineEdit>("unit-name");
    name->setText(QStringLiteral("Cable reeler"));
    Q_EMIT name->editingFinished();
    EXPECT_EQ(session->job().unit.name, "Cable reeler");
    log("discharge 1.2");
    window->go_to(QStringLiteral("probe"));
    ASSERT_FALSE(session->analysis()->next.acts.empty()); // a useful suggestion before a single part was traced
    EXPECT_TRUE(find<QPushButton>("next-use")->isEnabled());

    // Recognise one part at Trace.
    window->go_to(QStringLiteral("trace"));
    window->select_part(QStringLiteral("main-bulk-capacitor"));
    find<QLineEdit>("recognise-ref")->setText(QStringLiteral("C1"));
    find<QLineEdit>("recognise-value")->setText(QStringLiteral("82u"));
    click("recognise");
    const auto& board = session->replay().board;
    ASSERT_TRUE(board.find_part("C1"));
    EXPECT_EQ(board.part(*board.find_part("C1")).value, "82u");
    EXPECT_FALSE(board.part(*board.find_part("C1")).assumed);
}

TEST_F(Walk, SuggestionGoesIntoTheBenchLine) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    click("next-use");
    auto* input = find<QLineEdit>("bench-input");
    EXPECT_FALSE(input->text().isEmpty());
    QTest::keyClicks(input, input->text().startsWith(QStringLiteral("look")) ? QStringLiteral("fine") : QStringLiteral("12.6k"));
    EXPECT_TRUE(find<QPushButton>("bench-log")->isEnabled()) << input->text().toStdString();
}
