// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/window_driver.h"

#include "gui/map/map_layout.h"
#include "gui/map/map_view.h"
#include "gui/ruler/reading_ruler.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/unit_strip.h"

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QTableWidget>
#include <QToolButton>

#include <set>

using namespace ohmo;
using namespace ohmo::test;

using Window = WindowTest;

TEST_F(Window, BadFilesShowWhereAndKeepTheJob) {
    open("/jobs/half.ohmo.json");
    const auto before = session->job().text();
    std::string negative = demo_text("rb6-half-way");
    negative.replace(negative.find("\"value\": 1390"), 13, "\"value\": -139");
    disk.memory.files["/jobs/truncated.ohmo.json"] = demo_text("rb6-half-way").substr(0, 3000);
    disk.memory.files["/jobs/negative.ohmo.json"] = negative;
    for (const char* path : {"/jobs/truncated.ohmo.json", "/jobs/negative.ohmo.json", "/jobs/missing.ohmo.json"}) {
        window->open_job(QString::fromLatin1(path));
        EXPECT_FALSE(opened());
        auto* banner = find<QWidget>("banner");
        EXPECT_TRUE(banner->isVisible());
        QString text;
        for (auto* label : banner->findChildren<QLabel*>()) text += label->text();
        EXPECT_TRUE(text.contains(QString::fromLatin1(path))) << text.toStdString();
        EXPECT_EQ(session->job().text(), before);
    }
    click("banner-close");
    EXPECT_FALSE(find<QWidget>("banner")->isVisible());
}

TEST_F(Window, FullDiskSaysSoAndKeepsTheOldFile) {
    open("/jobs/half.ohmo.json");
    log("C16 fine");
    const auto old = disk.memory.files["/jobs/half.ohmo.json"];
    disk.memory.full = true;
    EXPECT_FALSE(window->save_job_to(QStringLiteral("/jobs/half.ohmo.json")));
    EXPECT_TRUE(find<QWidget>("banner")->isVisible());
    EXPECT_EQ(disk.memory.files["/jobs/half.ohmo.json"], old);
    EXPECT_TRUE(session->modified());
}

TEST_F(Window, UndoAndRedo) {
    open("/jobs/half.ohmo.json");
    const auto before = session->job().text();
    log("C16 leaking");
    find<QAction>("action-undo")->trigger();
    EXPECT_EQ(session->job().text(), before);
    find<QAction>("action-redo")->trigger();
    EXPECT_EQ(session->job().journal.back().saw, "leaking");
}

TEST_F(Window, ChipsTakeBack) {
    open("/jobs/half.ohmo.json");
    const auto last = session->job().journal.size() - 1;
    auto* chip = window->findChild<QToolButton*>(QStringLiteral("chip-%1").arg(last));
    ASSERT_NE(chip, nullptr);
    chip->click();
    ASSERT_TRUE(settled());
    EXPECT_TRUE(session->replay().retracted[last]);
    EXPECT_EQ(session->job().journal.back().act, Do::Retract); // nothing is deleted
}

TEST_F(Window, AutosaveAndRecovery) {
    open("/jobs/half.ohmo.json");
    log("C16 leaking");
    ASSERT_TRUE(wait([&] { return disk.memory.exists("/recovery.json"); }));
    start(); // as after a crash: nothing was saved
    window->offer_recovery();
    EXPECT_TRUE(find<QWidget>("banner")->isVisible());
    click("banner-restore");
    EXPECT_EQ(session->job().journal.back().saw, "leaking");
    EXPECT_EQ(session->path(), "/jobs/half.ohmo.json");
    EXPECT_TRUE(session->modified());
    EXPECT_EQ(session->job().text().find("recovered-from"), std::string::npos);
    ASSERT_TRUE(window->save_job_to(QStringLiteral("/jobs/half.ohmo.json")));
    EXPECT_FALSE(disk.memory.exists("/recovery.json"));
}

TEST_F(Window, BenchLinePreviewsCompletesAndRecalls) {
    open("/jobs/half.ohmo.json");
    auto* input = find<QLineEdit>("bench-input");
    auto* said = find<QLabel>("bench-understood");
    QTest::keyClicks(input, QStringLiteral("C5 esr 1.4"));
    EXPECT_TRUE(said->text().contains(QStringLiteral("ESR across C5 = 1.40 Ω")));
    EXPECT_TRUE(find<QPushButton>("bench-log")->isEnabled());
    input->clear();
    QTest::keyClicks(input, QStringLiteral("X9 3"));
    EXPECT_FALSE(find<QPushButton>("bench-log")->isEnabled());
    const auto count = session->job().journal.size();
    QTest::keyClick(input, Qt::Key_Return);
    EXPECT_EQ(session->job().journal.size(), count);
    EXPECT_EQ(input->text(), QStringLiteral("X9 3")); // bad input stays to be mended
    input->clear();
    QTest::keyClicks(input, QStringLiteral("lift Q"));
    QTest::keyClick(input, Qt::Key_Tab);
    EXPECT_EQ(input->text(), QStringLiteral("lift Q1 "));
    input->clear();
    log("C17 fine");
    QTest::keyClick(input, Qt::Key_Up);
    EXPECT_EQ(input->text(), QStringLiteral("C17 fine"));
    QTest::keyClick(input, Qt::Key_Down);
    EXPECT_TRUE(input->text().isEmpty());
}

TEST_F(Window, EveryStationOpensAndNothingInteractiveIsNameless) {
    open("/jobs/half.ohmo.json");
    for (const auto& info : all_stations()) {
        find<QAction>(qPrintable(QStringLiteral("action-station-") + info.id))->trigger();
        EXPECT_EQ(window->station(), info.id);
        auto* page = find<QWidget>(qPrintable(QStringLiteral("station-") + info.id));
        ASSERT_NE(page, nullptr);
        EXPECT_TRUE(page->isVisible());
    }
    for (auto* w : window->findChildren<QWidget*>()) {
        const bool interactive = qobject_cast<QAbstractButton*>(w) != nullptr || qobject_cast<QLineEdit*>(w) != nullptr;
        if (!interactive || w->objectName().startsWith(QStringLiteral("qt_"))) continue;
        const auto* b = qobject_cast<QAbstractButton*>(w);
        EXPECT_FALSE(w->accessibleName().isEmpty() && (b == nullptr || b->text().isEmpty()) &&
                     !w->parentWidget()->inherits("QAbstractItemView") && !w->inherits("QTableCornerButton"))
            << w->metaObject()->className() << " " << w->objectName().toStdString();
    }
    EXPECT_FALSE(find<QAbstractButton>("rail-power-up")->toolTip().isEmpty());
}

TEST_F(Window, EmptyStateSaysWhatToDo) {
    EXPECT_TRUE(find<QLabel>("unit-title")->text().contains(QStringLiteral("No job")));
    for (const auto& info : all_stations()) window->go_to(info.id); // nothing to show, nothing breaks
    EXPECT_FALSE(session->has_job());
}

TEST_F(Window, ChargePillTellsTheTruth) {
    open("/jobs/fresh.ohmo.json");
    EXPECT_TRUE(find<QLabel>("charge-pill")->text().contains(QStringLiteral("unknown")));
    log("HV 182");
    EXPECT_TRUE(find<QLabel>("charge-pill")->toolTip().contains(QStringLiteral("hazardous")));
    log("HV 2 V");
    EXPECT_TRUE(find<QLabel>("charge-pill")->text().contains(QStringLiteral("2.0 V")));
    clock.time += 3600;
    window->go_to(QStringLiteral("take-in"));
    log("C16 fine");
    EXPECT_TRUE(find<QLabel>("charge-pill")->toolTip().contains(QStringLiteral("old")));
}

TEST_F(Window, PartCardLogsLooksAndLifts) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    window->select_part(QStringLiteral("Q1"));
    click("look-hole");
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.back().saw, "hole");
    click("part-lift");
    ASSERT_TRUE(settled());
    EXPECT_TRUE(session->replay().evidence.state.is_lifted(at(demo_board(), "Q1")));
}

TEST_F(Window, SchoolsChangeThePlan) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("parts"));
    auto* table = find<QAbstractItemView>("plan-table");
    const int before = table->model()->rowCount();
    auto* extent = window->findChild<QWidget*>(QStringLiteral("school-extent"));
    ASSERT_NE(extent, nullptr);
    QTest::keyClick(extent, Qt::Key_End);
    ASSERT_TRUE(wait([&] { return session->up_to_date() && table->model()->rowCount() > before; }));
}

TEST(Themes, TextKeepsItsContrast) {
    for (const Theme& t : {light_theme(), dark_theme()}) {
        for (const QColor& surface : {t.window, t.panel, t.inset})
            for (const QColor& ink : {t.text, t.muted})
                EXPECT_GE(contrast(ink, surface), 4.5) << t.dark << surface.name().toStdString() << ink.name().toStdString();
        for (const QColor& ink : {t.good, t.suspect, t.bad}) EXPECT_GE(contrast(ink, t.panel), 4.5) << ink.name().toStdString();
        EXPECT_GE(contrast(t.good, t.good_fill), 4.5);
        EXPECT_GE(contrast(t.suspect, t.suspect_fill), 4.5);
        EXPECT_GE(contrast(t.bad, t.bad_fill), 4.5);
        for (const QColor& fill : {t.good_fill, t.suspect_fill, t.bad_fill, t.hazardous, t.isolated})
            EXPECT_GE(contrast(t.text, fill), 4.5);
        for (const QColor& side : {t.hazardous, t.isolated}) EXPECT_GE(contrast(t.muted, side), 4.5);
        EXPECT_GE(contrast(t.on_accent, t.accent), 4.5);
        EXPECT_GE(contrast(t.rail_text, t.rail), 4.5);
    }
}

TEST(MapLayout, EveryPartHasAPlaceAndNoTilesOverlap) {
    for (double aspect : {0.8, 1.3, 1.8, 3.0}) {
        const auto layout = lay_out_map(demo_board(), find_roles(demo_board()), aspect);
        std::set<int> parts;
        for (std::size_t i = 0; i < layout.tiles.size(); ++i) {
            for (int p : layout.tiles[i].parts) EXPECT_TRUE(parts.insert(p).second);
            EXPECT_TRUE(QRectF(QPointF(0, 0), layout.size).contains(layout.tiles[i].box));
            for (std::size_t k = 0; k < i; ++k) EXPECT_FALSE(layout.tiles[i].box.intersects(layout.tiles[k].box));
            for (const auto& pill : layout.pills) EXPECT_FALSE(layout.tiles[i].box.intersects(pill.box));
        }
        EXPECT_EQ(parts.size(), demo_board().parts.size());
        EXPECT_EQ(layout.pills.size(), demo_board().rails.size());
    }
}

TEST(MapLayout, SidesAreKeptApart) {
    const auto layout = lay_out_map(demo_board(), find_roles(demo_board()), 1.6);
    const auto tile = [&](const char* ref) {
        return layout.tiles[static_cast<std::size_t>(layout.tile_of[static_cast<std::size_t>(at(demo_board(), ref))])].box;
    };
    for (const char* ref : {"F1", "BR1", "C5", "Q1", "U1", "C8"}) EXPECT_TRUE(layout.hot_area.contains(tile(ref))) << ref;
    for (const char* ref : {"D6", "C16", "U2", "LD1"}) EXPECT_TRUE(layout.cold_area.contains(tile(ref))) << ref;
    EXPECT_TRUE(layout.barrier.contains(tile("OK1").center()));
    EXPECT_LT(tile("F1").left(), tile("BR1").left()); // along the energy path
    EXPECT_LT(tile("BR1").left(), tile("C5").left());
    EXPECT_LT(tile("C5").left(), tile("Q1").left());
    EXPECT_LT(tile("D6").left(), tile("C17").left());
}

TEST(MapLayout, OddBoards) {
    EXPECT_TRUE(lay_out_map(Board{}, find_roles(Board{}), 1.5).tiles.empty());
    const auto plain = lay_out_map(board({"R1 resistor 1k 1=A 2=B"}), find_roles(board({"R1 resistor 1k 1=A 2=B"})), 1.5);
    EXPECT_EQ(plain.tiles.size(), 1u);
    EXPECT_TRUE(plain.hot_area.isNull());
}

TEST(Ruler, PlacesValues) {
    EXPECT_DOUBLE_EQ(ReadingRuler::place(Quantity::Ohms, 0.01), 0);
    EXPECT_DOUBLE_EQ(ReadingRuler::place(Quantity::Ohms, 1e9), 1);
    EXPECT_NEAR(ReadingRuler::place(Quantity::Diode, 1.5), 0.5, 1e-9);
    double before = -1;
    for (double r = 0.1; r < 2e7; r *= 3) {
        EXPECT_GT(ReadingRuler::place(Quantity::Ohms, r), before);
        before = ReadingRuler::place(Quantity::Ohms, r);
    }
}

TEST(Words, Ages) {
    EXPECT_EQ(age_text(5), QStringLiteral("now"));
    EXPECT_EQ(age_text(180), QStringLiteral("3 min ago"));
    EXPECT_EQ(age_text(7200), QStringLiteral("2 h ago"));
}

TEST_F(Window, BlueprintPickerStartsTheFamilyChosen) {
    find<QAction>("action-new")->trigger();
    ASSERT_TRUE(wait([this] { return window->findChild<QWidget*>(QStringLiteral("blueprint-picker")) != nullptr; }));
    auto* picker = find<QWidget>("blueprint-picker");
    ASSERT_NE(picker, nullptr);
    auto* list = find<QListWidget>("blueprint-list");
    ASSERT_EQ(list->count(), 13);
    QString seen;
    for (int row = 0; row < list->count(); ++row) {
        list->setCurrentRow(row);
        QString text;
        for (auto* label : picker->findChildren<QLabel*>()) text += label->text();
        EXPECT_NE(text, seen); // each says what to recognise it by
        seen = text;
        if (list->item(row)->text().contains(QStringLiteral("Step-down"))) break;
    }
    click("blueprint-start");
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().board.blueprint, "buck");
    EXPECT_EQ(window->station(), QStringLiteral("take-in"));
}

// What is read off the label fits the board; what cannot be keeps the button shut and says why.
TEST_F(Window, BlueprintPickerFitsTheBoardToTheLabel) {
    find<QAction>("action-new")->trigger();
    ASSERT_TRUE(wait([this] { return window->findChild<QWidget*>(QStringLiteral("blueprint-picker")) != nullptr; }));
    auto* rails = find<QLineEdit>("supply-rails");
    auto* problem = find<QLabel>("supply-problem");
    auto* start = find<QPushButton>("blueprint-start");
    rails->selectAll();
    QTest::keyClicks(rails, QStringLiteral("12V 3A, 5V 1A from 9V"));
    EXPECT_FALSE(start->isEnabled());
    EXPECT_TRUE(problem->isVisible() && problem->text().contains(QStringLiteral("9V")));
    rails->selectAll();
    QTest::keyClicks(rails, QStringLiteral("12V 3A, 5V 0.3A from 12V"));
    EXPECT_TRUE(start->isEnabled() && !problem->isVisible());
    find<QComboBox>("supply-feed")->setEditText(QStringLiteral("120V 60Hz"));
    find<QComboBox>("supply-inrush")->setCurrentIndex(2);
    find<QCheckBox>("supply-standby")->click();
    EXPECT_GT(find<QListWidget>("blueprint-sums")->count(), 20);
    find<QComboBox>("supply-feed")->setEditText(QStringLiteral("48V DC"));
    EXPECT_FALSE(find<QComboBox>("supply-inrush")->isEnabled()); // only the mains has it
    find<QComboBox>("supply-feed")->setEditText(QStringLiteral("120V 60Hz"));
    click("blueprint-start");
    ASSERT_TRUE(settled());
    const auto& board = session->job().board;
    ASSERT_TRUE(board.mains);
    EXPECT_EQ(board.mains->volts, 120);
    EXPECT_EQ(board.rails.size(), 3u); // and the standby's
    for (const char* ref : {"inrush-resistor", "5V-regulator", "standby-transformer"}) EXPECT_TRUE(board.find_part(ref)) << ref;
}

TEST_F(Window, BlueprintPickerCanBeLeft) {
    open("/jobs/half.ohmo.json");
    const auto before = session->job().text();
    find<QAction>("action-new")->trigger();
    ASSERT_TRUE(wait([this] { return window->findChild<QWidget*>(QStringLiteral("blueprint-picker")) != nullptr; }));
    click("blueprint-cancel");
    EXPECT_EQ(session->job().text(), before);
}

// The bench's own meter: typed in as it was read, used by this job and taken along by the next one; undone like any other change.
TEST_F(Window, AMeterIsTaught) {
    open("/jobs/half.ohmo.json");
    find<QAction>("action-teach-meter")->trigger();
    auto* use = find<QPushButton>("meter-use");
    ASSERT_NE(use, nullptr);
    EXPECT_FALSE(use->isEnabled()); // nothing read yet
    auto* table = find<QTableWidget>("meter-ranges");
    find<QComboBox>("meter-counts")->setCurrentIndex(2);
    QTest::keyClicks(find<QLineEdit>("meter-diode"), QStringLiteral("0.583"));
    table->item(1, 1)->setText(QStringLiteral("2k2"));
    table->item(1, 2)->setText(QStringLiteral("3k3"));
    EXPECT_FALSE(use->isEnabled());
    EXPECT_TRUE(find<QLabel>("meter-says")->text().contains(QStringLiteral("2.2 kΩ")));
    table->item(1, 2)->setText(QStringLiteral("2k21"));
    table->item(1, 3)->setText(QStringLiteral("5k6"));
    EXPECT_TRUE(table->item(1, 5)->text().contains(QStringLiteral("µA"))) << table->item(1, 5)->text().toStdString();
    table->item(0, 3)->setText(QStringLiteral("over"));
    click("meter-use");
    ASSERT_TRUE(settled());
    ASSERT_EQ(session->job().meters.size(), 1u);
    EXPECT_NEAR(session->replay().evidence.meters.front().ohms[1].amps, 8.3e-5, 0.1e-5);
    find<QAction>("action-undo")->trigger();
    ASSERT_TRUE(settled());
    EXPECT_TRUE(session->job().meters.empty());
    start_from("buck.json");
    ASSERT_EQ(session->job().meters.size(), 1u);
    EXPECT_TRUE(session->job().meters.front().usual);
}

// Probe asks, the value is typed: nothing else to press but Enter, and the next one may follow at once.
TEST_F(Window, TheValueIsTypedAtTheRuler) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* ruler = find<ReadingRuler>("reading-ruler");
    auto* line = find<QLineEdit>("bench-input");
    const auto asked_first = session->analysis()->next.acts.front();
    ASSERT_EQ(asked_first.act, Act::Read);
    for (int k = 0; k < 2; ++k) {
        for (const auto& act : session->analysis()->next.acts) { // to the first that is a reading
            if (act.act == Act::Read) break;
            find<QAction>("action-suggestion-after")->trigger();
        }
        ASSERT_TRUE(wait([&] { return ruler->hasFocus(); })) << k;
        const auto entries = session->job().journal.size();
        QTest::keyClicks(ruler, QStringLiteral("2"));
        EXPECT_TRUE(line->hasFocus());
        QTest::keyClicks(line, QStringLiteral("k1"));
        EXPECT_TRUE(line->text().endsWith(QStringLiteral(" 2k1"))) << line->text().toStdString();
        QTest::keyClick(line, Qt::Key_Return);
        ASSERT_EQ(session->job().journal.size(), entries + 1);
        EXPECT_EQ(session->job().journal.back().value, 2100.0);
        ASSERT_TRUE(settled());
    }
    const auto& first = session->replay().evidence.observations[session->replay().evidence.observations.size() - 2];
    EXPECT_EQ(first.query.red, asked_first.query.red);
    EXPECT_EQ(first.query.black, asked_first.query.black);
    QTest::keyClick(ruler, Qt::Key_2, Qt::ControlModifier); // a key of the window's, not a value
    EXPECT_TRUE(line->text().isEmpty());
    QTest::keyClicks(ruler, QStringLiteral("L")); // a net: something else is told, with a place of its own
    EXPECT_EQ(line->text(), QStringLiteral("L"));
    EXPECT_TRUE(line->hasFocus());
}

TEST_F(Window, AValueAloneIsMeantForThePlaceThatIsAsked) {
    open("/jobs/half.ohmo.json");
    auto* line = find<QLineEdit>("bench-input");
    line->setText(QStringLiteral("2k1"));
    EXPECT_FALSE(find<QPushButton>("bench-log")->isEnabled()) << "nothing is asked at the station that is open";
    line->clear();
    window->go_to(QStringLiteral("probe"));
    const auto acts = session->analysis()->next.acts;
    ASSERT_EQ(acts.front().act, Act::Read);
    const auto entries = session->job().journal.size();
    log("2 k1");
    ASSERT_EQ(session->job().journal.size(), entries + 1);
    const auto& read = session->replay().evidence.observations.back();
    EXPECT_EQ(read.query.red, acts.front().query.red);
    EXPECT_EQ(read.query.black, acts.front().query.black);
    EXPECT_NEAR(session->job().journal.back().value.value_or(0), 2100, 1e-9);
    window->go_to(QStringLiteral("parts"));
    line->setText(QStringLiteral("over"));
    EXPECT_FALSE(find<QPushButton>("bench-log")->isEnabled());
}

// While mains is connected Probe asks for volts; switched off, for what it asked before.
TEST_F(Window, WhileItIsOnProbeAsksForVolts) {
    open("/jobs/fresh.ohmo.json");
    log("dead");
    log("discharge 0.2");
    for (const char* cold : {"HV PGND ohm 268k", "+24V 0V ohm 1410", "+12V 0V ohm 621", "+5V 0V ohm 163"}) log(cold);
    log("HV PGND 322 V mains");
    QTest::keyClick(window.get(), Qt::Key_4, Qt::ControlModifier); // as Power up says
    EXPECT_TRUE(find<QWidget>("station-probe")->isVisible());
    auto* ruler = find<ReadingRuler>("reading-ruler");
    ASSERT_FALSE(session->analysis()->live_next.empty());
    const auto wanted = session->analysis()->live_next.front();
    EXPECT_TRUE(find<QLabel>("next-title")->text().startsWith(QStringLiteral("Volts")));
    EXPECT_TRUE(find<QLabel>("next-why")->text().contains(QStringLiteral("isolation transformer")));
    EXPECT_EQ(ruler->scene().what, wanted.query.what);
    EXPECT_FALSE(ruler->scene().bands.empty());
    QTest::keyClicks(ruler, QStringLiteral("0"));
    QTest::keyClicks(find<QLineEdit>("bench-input"), QStringLiteral(".1"));
    QTest::keyClick(find<QLineEdit>("bench-input"), Qt::Key_Return);
    ASSERT_TRUE(settled());
    const auto& read = session->replay().evidence.observations.back();
    EXPECT_EQ(read.kind, Seen::LiveVolts);
    EXPECT_EQ(read.query.red, wanted.query.red);
    EXPECT_EQ(read.query.black, wanted.query.black);
    log("discharge 0.3");
    EXPECT_TRUE(session->analysis()->live_next.empty());
    EXPECT_FALSE(find<QLabel>("next-title")->text().startsWith(QStringLiteral("Volts")));
}

// A crack that was seen is soldered: the card offers it, the plan says so and then counts it as done.
TEST_F(Window, ACrackedJointIsSoldered) {
    open("/jobs/fresh.ohmo.json");
    log("comes-and-goes");
    log("J2 dry-joint");
    window->go_to(QStringLiteral("probe"));
    auto* list = find<QListWidget>("suspects");
    for (int row = 0; row < list->count(); ++row)
        if (list->item(row)->text().contains(QStringLiteral("J2"))) list->setCurrentRow(row);
    ASSERT_EQ(session->analysis()->assessment.of(*session->replay().board.find_part("J2")).leading.mode, FaultMode::DryJoint);
    click("part-resolder");
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.back().act, Do::Resolder);
    window->go_to(QStringLiteral("parts"));
    const auto& lines = session->analysis()->plan.lines;
    EXPECT_TRUE(std::any_of(lines.begin(), lines.end(), [](const PlanLine& l) { return l.resolder && l.done; }));
}

// What is left unlisted is never fewer parts than are said to be fine among it.
TEST_F(Window, TheRestOfTheSuspectsAddsUp) {
    Job job = discharged("rb6-fresh").with(said("dead"));
    for (const auto& part : demo("rb6-fresh").board.parts)
        if (part.ref != "Q1") {
            Entry good = act(Do::Verdict, part.ref.c_str(), "good");
            job = job.with(good);
        }
    disk.memory.files["/jobs/all-good.ohmo.json"] = job.text();
    open("/jobs/all-good.ohmo.json");
    ASSERT_TRUE(settled());
    window->go_to(QStringLiteral("probe"));
    const auto* list = find<QListWidget>("suspects");
    ASSERT_GT(list->count(), 1);
    const QString rest = list->item(list->count() - 1)->text();
    const auto numbers = rest.split(QLatin1Char(' '));
    ASSERT_TRUE(rest.contains(QStringLiteral("read fine"))) << rest.toStdString();
    EXPECT_LE(numbers.at(2).toInt(), numbers.at(0).toInt()) << rest.toStdString();
    EXPECT_GT(numbers.at(2).toInt(), 0) << rest.toStdString();
}

TEST_F(Window, TheNeedleFallsAndTheNextSceneWaits) {
    ReadingRuler ruler(themes);
    ruler.show();
    RulerScene empty;
    const auto band = [](double lo, double hi, double p, bool healthy) {
        Band b;
        b.lo = lo;
        b.hi = hi;
        b.p = p;
        b.healthy = healthy;
        return b;
    };
    empty.bands = {band(10, 100, 0.5, true), band(1e3, 1e4, 0.5, false)};
    empty.labels = {QStringLiteral("healthy"), QStringLiteral("R1 open")};
    ruler.show_scene(empty);
    RulerScene fell = empty;
    fell.needle = RulerScene::Needle{2100};
    EXPECT_TRUE(fell.excluded(fell.bands[0]));
    EXPECT_FALSE(fell.excluded(fell.bands[1]));
    EXPECT_FALSE(empty.excluded(empty.bands[0]));
    const auto inked = [&] { return ruler.grab().toImage(); };
    const QImage before = inked();
    ruler.show_scene(fell);
    RulerScene next;
    next.bands = {band(1, 2, 1, false)};
    next.labels = {QStringLiteral("next")};
    ruler.show_scene(next);
    EXPECT_EQ(ruler.scene().labels.front(), QStringLiteral("next")); // what holds
    EXPECT_NE(inked(), before);
    const QImage falling = inked();
    EXPECT_TRUE(wait([&] { return inked() != falling; }, 5000)); // and is shown in the end
}
