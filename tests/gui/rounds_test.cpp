// SPDX-License-Identifier: GPL-3.0-or-later
// Take in, make safe and the dialogs that go round: look round, part sheet, taking apart.
#include "gui/window_driver.h"

#include "gui/text.h"
#include "job/look_round.h"

#include <QAction>
#include <QComboBox>
#include <QCompleter>
#include <QDialog>
#include <QTableWidget>
#include <QTreeWidget>

using namespace ohmo;
using namespace ohmo::test;

using Rounds = WindowTest;

TEST_F(Rounds, TakeInAsksOutsideCountsTriesAndReadsRails) {
    open("/jobs/fresh.ohmo.json");
    window->go_to(QStringLiteral("take-in"));
    EXPECT_FALSE(find<QWidget>("tries-card")->isVisible());
    click("symptom-comes-and-goes");
    ASSERT_TRUE(settled());
    EXPECT_TRUE(find<QWidget>("tries-card")->isVisible());
    click("try-cold");
    click("try-fails");
    find<QLineEdit>("try-minutes")->setText(QStringLiteral("8"));
    click("try-dies");
    ASSERT_TRUE(settled());
    ASSERT_EQ(session->replay().tries.size(), 1U);
    EXPECT_EQ(session->replay().tries[0].back().seconds, 480);
    EXPECT_EQ(session->replay().tries[0].back().warm, false);

    click("check-plug-fuse-whole");
    click("check-lead-live-open");
    ASSERT_TRUE(settled());
    EXPECT_TRUE(find<QPushButton>("check-lead-live-open")->isChecked());
    click("check-lead-live-through"); // another answer takes the place of the first
    ASSERT_TRUE(settled());
    EXPECT_FALSE(find<QPushButton>("check-lead-live-open")->isChecked());
    EXPECT_EQ(session->replay().outside.at("lead-live"), "through");
    click("check-lead-live-through"); // and is taken back by itself
    ASSERT_TRUE(settled());
    EXPECT_FALSE(session->replay().outside.contains("lead-live"));

    auto* idle = find<QLineEdit>("rail-idle-+24V");
    idle->setFocus();
    idle->setText(QStringLiteral("24.1"));
    QTest::keyClick(idle, Qt::Key_Return);
    EXPECT_TRUE(find<QLineEdit>("rail-loaded-+24V")->hasFocus());
    QTest::keyClicks(find<QLineEdit>("rail-loaded-+24V"), QStringLiteral("18.2 V"));
    QTest::keyClick(find<QLineEdit>("rail-loaded-+24V"), Qt::Key_Return);
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->analysis()->triage.verdict, Verdict::WeakUnderLoad);
    EXPECT_EQ(idle->text(), QStringLiteral("24.1 V"));
}

TEST_F(Rounds, TakeInCompletesUnitsOfEarlierJobs) {
    settings.add_recent_job(QStringLiteral("/jobs/half.ohmo.json"));
    open("/jobs/fresh.ohmo.json");
    window->go_to(QStringLiteral("take-in"));
    auto* maker = find<QLineEdit>("unit-maker");
    ASSERT_TRUE(wait([&] { return maker->completer() != nullptr; }));
    maker->completer()->setCompletionPrefix(QStringLiteral("quill"));
    EXPECT_EQ(maker->completer()->currentCompletion(), QStringLiteral("Quillmere"));
}

TEST_F(Rounds, LookRoundTakesOneKeyAFinding) {
    open("/jobs/fresh.ohmo.json");
    find<QAction>("action-look-round")->trigger();
    auto* round = find<QDialog>("look-round");
    ASSERT_NE(round, nullptr);
    const int parts = static_cast<int>(demo_board().parts.size());
    const auto first = session->replay().board.part(look_round(session->replay()).front().part).ref;
    QTest::keyClick(round, Qt::Key_2); // the commonest look of that kind when it is bad
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.back().part, first);
    EXPECT_NE(session->job().journal.back().saw, "fine");
    QTest::keyClick(round, Qt::Key_Return);
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.back().saw, "fine");
    QTest::keyClick(round, Qt::Key_O);
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.back().saw, "soot");
    EXPECT_FALSE(session->job().journal.back().stage.empty());
    for (int stage = 0; stage < 12; ++stage) QTest::keyClick(round, Qt::Key_L);
    ASSERT_TRUE(settled());
    EXPECT_EQ(static_cast<int>(session->replay().looks.size()), parts) << "every part has been looked at";
    EXPECT_TRUE(find<QLabel>("look-round-part")->text().startsWith(QStringLiteral("Once round")));
    QTest::keyClick(round, Qt::Key_Left);
    EXPECT_FALSE(find<QLabel>("look-round-part")->text().startsWith(QStringLiteral("Once round")));
}

TEST_F(Rounds, MakeSafeListsWhatHoldsChargeAndLogsOnIt) {
    open("/jobs/fresh.ohmo.json");
    log("+ C99 film 4u7 630V HV2 PGND"); // a second store that no bleeder reaches
    window->go_to(QStringLiteral("make-safe"));
    auto* table = find<QTableWidget>("stores-table");
    ASSERT_EQ(table->rowCount(), 2);
    int row = 0;
    while (row < 1 && !table->item(row, 0)->text().contains(QStringLiteral("C99"))) ++row;
    EXPECT_EQ(table->item(row, 3)->text(), QStringLiteral("not yet"));
    EXPECT_TRUE(table->item(row, 2)->text().contains(QStringLiteral("nothing")));
    log("HV 4 V");
    table->setCurrentCell(row, 0);
    EXPECT_TRUE(find<QLineEdit>("volts-now")->placeholderText().contains(QStringLiteral("C99")));
    find<QLineEdit>("volts-now")->setText(QStringLiteral("0.25"));
    click("log-volts");
    ASSERT_TRUE(settled());
    EXPECT_TRUE(table->item(row, 3)->text().startsWith(QStringLiteral("250 mV"))) << table->item(row, 3)->text().toStdString();
    log("HV 322 V mains"); // power was on again: what was measured is worth nothing
    EXPECT_EQ(table->item(row, 3)->text(), QStringLiteral("not yet"));
}

TEST_F(Rounds, PartSheetFollowsTheSelectionAndFillsTheBenchLine) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    window->select_part(QStringLiteral("C5"));
    find<QAction>("action-part-sheet")->trigger();
    auto* tests = find<QTableWidget>("part-sheet-tests");
    ASSERT_TRUE(wait([&] { return tests->rowCount() == 3; }));
    EXPECT_TRUE(find<QLabel>("part-sheet-judged")->text().contains(QStringLiteral("bad")));
    window->select_part(QStringLiteral("Q1"));
    ASSERT_TRUE(wait([&] { return tests->rowCount() > 3; }));
    tests->setCurrentCell(0, 0);
    QTest::keyClick(tests, Qt::Key_Return);
    EXPECT_TRUE(find<QLineEdit>("bench-input")->text().startsWith(QStringLiteral("Q1 D-S ohms")));
}

TEST_F(Rounds, WhatCameOffComesBackInOrder) {
    open("/jobs/fresh.ohmo.json");
    find<QAction>("action-apart")->trigger();
    auto* text = find<QLineEdit>("apart-text");
    for (const char* thing : {"lid, 4 screws", "ribbon, red edge left"}) {
        text->setText(QString::fromLatin1(thing));
        QTest::keyClick(text, Qt::Key_Return);
    }
    auto* list = find<QListWidget>("apart-list");
    ASSERT_EQ(list->count(), 2);
    EXPECT_TRUE(list->item(0)->text().startsWith(QStringLiteral("ribbon")));
    window->go_to(QStringLiteral("hand-back"));
    EXPECT_TRUE(find<QLabel>("hand-back-apart")->text().contains(QStringLiteral("ribbon")));
    list->item(0)->setCheckState(Qt::Checked);
    EXPECT_TRUE(find<QLabel>("apart-left")->text().contains(QStringLiteral("lid")));
    list->item(0)->setCheckState(Qt::Unchecked);
    EXPECT_EQ(to_put_back(session->replay().apart).size(), 2U);
    for (int k : {0, 1}) list->item(k)->setCheckState(Qt::Checked);
    ASSERT_TRUE(settled());
    EXPECT_FALSE(find<QLabel>("hand-back-apart")->isVisible());
}

TEST_F(Rounds, AGoodUnitIsChosenOnceAndTheOddOnesComeFirst) {
    const auto with = [&](const std::vector<Entry>& entries) { return with_all(discharged("rb6-fresh"), entries).text(); };
    disk.memory.files["/jobs/good.ohmo.json"] = with({read("ohms", "HV", "PGND", 310e3), read("ohms", "+12V", "0V", 820)});
    disk.memory.files["/jobs/here.ohmo.json"] = with({read("ohms", "HV", "PGND", 2.9)});
    open("/jobs/here.ohmo.json");
    find<QAction>("action-twin")->trigger();
    EXPECT_TRUE(find<QLabel>("twin-unit")->text().startsWith(QStringLiteral("No good unit")));
    chosen = QStringLiteral("/jobs/good.ohmo.json");
    click("twin-choose");
    auto* table = find<QTableWidget>("twin-table");
    ASSERT_TRUE(wait([&] { return table->rowCount() == 2; }));
    EXPECT_EQ(session->job().journal.back().text, "good.ohmo.json");
    EXPECT_TRUE(table->item(0, 3)->text().contains(QStringLiteral("lower"))) << table->item(0, 3)->text().toStdString();
    EXPECT_EQ(table->item(1, 3)->text(), QStringLiteral("not read here"));
    Q_EMIT table->cellActivated(1, 0);
    EXPECT_EQ(find<QLineEdit>("bench-input")->text(), QStringLiteral("+12V 0V ohm "));
}

TEST_F(Rounds, AGoodUnitThatIsNotThereIsNamed) {
    open("/jobs/fresh.ohmo.json");
    find<QAction>("action-twin")->trigger();
    chosen = QStringLiteral("/jobs/gone.ohmo.json");
    click("twin-choose");
    ASSERT_TRUE(wait([&] { return find<QLabel>("twin-unit")->text().contains(QStringLiteral("cannot be read")); }));
}

TEST_F(Rounds, AShortHuntLogsAlongTheRail) {
    disk.memory.files["/jobs/low.ohmo.json"] =
        with_all(discharged("rb6-fresh"), {act(Do::Symptom, "", "ticking"), act(Do::Pull, "J2"), read("ohms", "+12V", "0V", 0.4)}).text();
    open("/jobs/low.ohmo.json");
    find<QAction>("action-hunt")->trigger();
    EXPECT_TRUE(find<QComboBox>("hunt-rail")->currentText().startsWith(QStringLiteral("+12V")));
    auto* tree = find<QTreeWidget>("hunt-tree");
    const auto places = tree->findItems(QStringLiteral("+12V  by"), Qt::MatchStartsWith | Qt::MatchRecursive);
    ASSERT_EQ(places.size(), 1) << "the rail hangs on what its rectifier feeds";
    EXPECT_EQ(places.front()->text(3), QStringLiteral("400 mΩ"));
    auto* value = find<QLineEdit>("hunt-value");
    ASSERT_TRUE(value->isEnabled()) << find<QLabel>("hunt-next")->text().toStdString();
    const auto before = session->job().journal.size();
    value->setText(QStringLiteral("nonsense"));
    QTest::keyClick(value, Qt::Key_Return);
    EXPECT_EQ(session->job().journal.size(), before);
    EXPECT_FALSE(value->text().isEmpty()) << "what was not understood stays to be mended";
    value->setText(QStringLiteral("0.38"));
    QTest::keyClick(value, Qt::Key_Return);
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.size(), before + 1);
}

TEST_F(Rounds, ALookIsLoggedByItsButtonOrItsDigit) {
    disk.memory.files["/jobs/look.ohmo.json"] =
        with_all(discharged("rb6-fresh"), {act(Do::Symptom, "", "bang"), act(Do::Symptom, "", "dead")}).text();
    open("/jobs/look.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    const auto& acts = session->analysis()->next.acts;
    const auto look = std::find_if(acts.begin(), acts.end(), [](const NextAct& n) { return n.act == Act::Look; });
    ASSERT_NE(look, acts.end());
    const std::string part = session->replay().board.part(look->part).ref;
    for (auto k = look - acts.begin(); k > 0; --k) click("next-forward");
    auto* outcomes = find<QWidget>("outcomes");
    ASSERT_TRUE(outcomes->isVisible());
    EXPECT_FALSE(find<QWidget>("reading-ruler")->isVisible());
    auto* line = find<QLineEdit>("bench-input");
    const auto before = session->job().journal.size();
    QTest::keyClicks(outcomes, QStringLiteral("F")); // of "F1 open": its digit is no answer
    ASSERT_TRUE(line->hasFocus());
    QTest::keyClicks(line, QStringLiteral("1"));
    EXPECT_EQ(line->text(), QStringLiteral("F1"));
    EXPECT_EQ(session->job().journal.size(), before);
    line->clear();
    outcomes->setFocus();
    const QString first = find<QPushButton>("outcome-1")->accessibleName();
    QTest::keyClick(outcomes, Qt::Key_1);
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.back().part, part);
    EXPECT_EQ(word_text(session->job().journal.back().saw), first);
}

TEST_F(Rounds, APartThatWasNotOutIsTakenBack) {
    Entry gate = alone("ohms", "Q1", 0.4);
    gate.pins = {"G", "S"};
    const auto still = read("ohms", "GATE", "SRC", 0.4);
    disk.memory.files["/jobs/out.ohmo.json"] =
        with_all(discharged("rb6-fresh"), {act(Do::Symptom, "", "bang"), gate, act(Do::Lift, "Q1"), still, still}).text();
    open("/jobs/out.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    EXPECT_EQ(find<QLabel>("next-title")->text(), QStringLiteral("Is Q1 really out?"));
    click("outcome-2");
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.back().act, Do::Retract);
    EXPECT_TRUE(session->analysis()->assessment.contradicted_by.empty());
}

TEST_F(Rounds, TheMeterInHandIsAKeyAndAValue) {
    open("/jobs/half.ohmo.json");
    find<QAction>("action-meter-in-hand")->trigger();
    auto* dialog = find<QDialog>("meter-in-hand");
    ASSERT_NE(dialog, nullptr);
    EXPECT_TRUE(find<QPushButton>("meter-usual")->isChecked());
    QTest::keyClick(dialog, Qt::Key_2);
    auto* leads = find<QLineEdit>("meter-leads");
    EXPECT_EQ(session->replay().hand.id, "low-power");
    QTest::keyClicks(leads, QStringLiteral("99"));
    QTest::keyClick(leads, Qt::Key_Return);
    EXPECT_TRUE(dialog->isVisible()) << "a broken lead is no value to take off";
    EXPECT_TRUE(find<QLabel>("meter-says")->text().contains(QStringLiteral("10")));
    leads->setText(QStringLiteral("0.2"));
    QTest::keyClick(leads, Qt::Key_Return);
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->replay().hand.leads, 0.2);
    EXPECT_TRUE(find<QLabel>("bench-understood")->text().contains(QStringLiteral("ohms with few volts")));
    const auto entries = session->job().journal.size();
    find<QAction>("action-meter-in-hand")->trigger();
    QTest::keyClick(find<QDialog>("meter-in-hand"), Qt::Key_2); // the one that is in hand already
    QTest::keyClick(find<QLineEdit>("meter-leads"), Qt::Key_Return);
    EXPECT_EQ(session->job().journal.size(), entries) << "nothing new is nothing to log";
}
