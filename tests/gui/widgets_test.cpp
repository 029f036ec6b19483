// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/window_driver.h"

#include "report/story_to_tell.h"

#include "gui/action_list.h"
#include "gui/map/map_view.h"
#include "gui/models/parts_model.h"
#include "gui/models/plan_model.h"
#include "gui/ruler/reading_ruler.h"
#include "gui/widgets/chain_view.h"
#include "gui/widgets/ladder_list.h"
#include "gui/widgets/yielding.h"

#include <QAbstractItemModelTester>
#include <QAction>
#include <QHeaderView>
#include <QSignalSpy>
#include <QTableView>

#include <set>

using namespace ohmo;
using namespace ohmo::test;

using Widgets = WindowTest;

namespace {

int pixels(const QImage& image, const QColor& colour) {
    int n = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x) n += image.pixelColor(x, y) == colour;
    return n;
}

} // namespace

TEST_F(Widgets, PartsModelRecognisesParts) {
    start_from("flyback.json");
    Logbook logbook(*session);
    PartsModel model(*session, logbook);
    const QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::Fatal);
    const QSignalSpy refused(&model, &PartsModel::refused);
    const int row = at(session->replay().board, "switch");
    EXPECT_TRUE(model.setData(model.index(row, PartsModel::Ref), QStringLiteral("Q7"), Qt::EditRole));
    EXPECT_EQ(session->replay().board.part(row).ref, "Q7");
    EXPECT_FALSE(model.setData(model.index(row + 1, PartsModel::Ref), QStringLiteral("Q7"), Qt::EditRole)); // one ref, one part
    const int sense = at(session->replay().board, "current-sense-resistor");
    EXPECT_FALSE(model.setData(model.index(sense, PartsModel::Value), QStringLiteral("plenty"), Qt::EditRole));
    EXPECT_EQ(refused.count(), 2);
    EXPECT_TRUE(model.setData(model.index(sense, PartsModel::Value), QStringLiteral("0R47"), Qt::EditRole));
    EXPECT_EQ(model.index(sense, PartsModel::Value).data().toString(), QStringLiteral("470 mΩ"));
    EXPECT_TRUE(model.flags(model.index(0, PartsModel::Stage)).testFlag(Qt::ItemIsEditable));
}

TEST_F(Widgets, PlanModelShowsEveryLine) {
    open("/jobs/half.ohmo.json");
    PlanModel model(*session);
    const QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::Fatal);
    ASSERT_EQ(model.rowCount(), static_cast<int>(session->analysis()->plan.lines.size()));
    for (int r = 0; r < model.rowCount(); ++r) {
        EXPECT_EQ(model.part_at(r), session->analysis()->plan.lines[static_cast<std::size_t>(r)].part);
        for (int c = 0; c < PlanModel::Count; ++c) EXPECT_FALSE(model.index(r, c).data().toString().isEmpty()) << r << " " << c;
    }
    EXPECT_EQ(model.part_at(999), -1);
}

// A plan of few lines leaves the map the room; one of many has no more than its share; a handle that was moved stays.
TEST_F(Widgets, ThePlanLeavesTheMapWhatItDoesNotNeed) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("parts"));
    auto* split = window->findChild<QWidget*>(QStringLiteral("station-parts"))->findChild<SplitByContent*>();
    auto* table = find<QTableView>("plan-table");
    ASSERT_NE(split, nullptr);
    const auto heights = [&] {
        QCoreApplication::processEvents();
        return split->sizes();
    };
    split->set_lower(1);
    const auto few = heights();
    EXPECT_GT(few[0], 2 * few[1]);
    split->set_lower(10000);
    const auto many = heights();
    EXPECT_LT(many[0], many[1]);
    EXPECT_GT(2 * many[0], many[1]);
    session->set_school({});
    ASSERT_TRUE(settled());
    const int wanted = table->horizontalHeader()->height() + table->model()->rowCount() * table->rowHeight(0);
    EXPECT_GE(heights()[1], std::min(wanted, many[1]));
    Q_EMIT split->splitterMoved(100, 1);
    const auto moved = heights();
    split->set_lower(1);
    EXPECT_EQ(heights(), moved);
}

TEST_F(Widgets, MapWalksByKeyboardAndSelectsByClick) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* map = find<QWidget>("station-probe")->findChild<MapView*>();
    ASSERT_NE(map, nullptr);
    map->setFocus();
    QTest::keyClick(map, Qt::Key_W); // the whole board
    std::set<QString> visited;
    QTest::keyClick(map, Qt::Key_Right);
    for (int i = 0; i < 12; ++i) {
        QTest::keyClick(map, Qt::Key_Right);
        visited.insert(map->accessibleDescription());
    }
    EXPECT_GE(visited.size(), 6u); // from the inlet to the rails
    const double before = map->scale();
    QTest::keyClick(map, Qt::Key_Plus);
    EXPECT_GT(map->scale(), before);
    QTest::keyClick(map, Qt::Key_0);
    EXPECT_NEAR(map->scale(), before, 1e-9);
    const auto& layout = map->layout_shown();
    const int q1 = at(demo_board(), "Q1");
    const QRectF box = layout.tiles[static_cast<std::size_t>(layout.tile_of[static_cast<std::size_t>(q1)])].box;
    QTest::mouseClick(map, Qt::LeftButton, {}, (map->origin() + box.center() * map->scale()).toPoint());
    EXPECT_TRUE(map->accessibleDescription().startsWith(QStringLiteral("Q1")));
}

TEST_F(Widgets, MapShowsSidesAndVerdicts) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* map = find<QWidget>("station-probe")->findChild<MapView*>();
    const QImage image = map->grab().toImage();
    const Theme& t = themes.theme();
    EXPECT_GT(pixels(image, t.hazardous), 10000);
    EXPECT_GT(pixels(image, t.isolated), 10000);
    EXPECT_GT(pixels(image, t.bad), 200);
    EXPECT_GT(pixels(image, t.bad_fill), 1000);
    open("/jobs/fresh.ohmo.json");
    EXPECT_EQ(pixels(map->grab().toImage(), t.bad_fill), 0); // nothing is proven there
}

TEST_F(Widgets, RulerShowsTheHealthyBandAlways) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* ruler = find<ReadingRuler>("reading-ruler");
    for (int k = 0; k < 12 && ruler->scene().bands.empty(); ++k) click("next-forward"); // looks have no scale
    bool healthy = false;
    for (const auto& b : ruler->scene().bands) healthy = healthy || b.healthy;
    EXPECT_TRUE(healthy);
    EXPECT_FALSE(ruler->accessibleDescription().isEmpty());
    auto* title = find<QLabel>("next-title");
    const auto first = title->text();
    click("next-forward");
    EXPECT_NE(title->text(), first);
    click("next-back");
    EXPECT_EQ(title->text(), first);
}

TEST_F(Widgets, ScaleOnlyForReadings) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* ruler = find<ReadingRuler>("reading-ruler");
    const auto& acts = session->analysis()->next.acts;
    ASSERT_FALSE(acts.empty());
    for (const auto& act : acts) {
        EXPECT_EQ(ruler->isVisible(), act.act == Act::Read || act.act == Act::Pull);
        click("next-forward");
    }
}

TEST_F(Widgets, ProbeNamesWhatIsWorthTracing) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    EXPECT_FALSE(find<QLabel>("next-trace")->isVisible()); // every part of it is traced
    start_from("flyback.json");
    window->go_to(QStringLiteral("probe"));
    log("dead");
    log("discharge 0.2");
    auto* trace = find<QLabel>("next-trace");
    EXPECT_EQ(trace->isVisible(), session->analysis()->next.trace.part >= 0);
    if (trace->isVisible()) EXPECT_TRUE(trace->text().startsWith(QStringLiteral("Worth tracing")));
}

TEST_F(Widgets, ProbeTellsTheStoryToGoBy) {
    disk.memory.files["/jobs/rail.ohmo.json"] = demo_text("rb6-rail");
    open("/jobs/rail.ohmo.json");
    Job job = session->job();
    job.journal.clear();
    session->set_job(with_all(job, {said("dead")}));
    ASSERT_TRUE(settled());
    window->go_to(QStringLiteral("probe"));
    const auto& stories = session->analysis()->assessment.stories;
    const bool nothing = stories[story_to_tell(stories)].scenario.steps.empty();
    bool said_so = false;
    for (const auto* label : find<QWidget>("story-card")->findChildren<QLabel*>())
        said_so = said_so || label->text().contains(QLatin1String("Nothing on the board"));
    EXPECT_EQ(said_so, nothing);
}

TEST_F(Widgets, ANewBoardIsAnsweredOnce) {
    start();
    const QSignalSpy changed(session.get(), &Session::analysis_changed);
    window->open_job(QStringLiteral("/jobs/half.ohmo.json"));
    ASSERT_TRUE(wait([&] { return changed.count() > 0; }));
    ASSERT_TRUE(settled());
    EXPECT_EQ(changed.count(), 1);
    EXPECT_TRUE(find<QLabel>("busy")->text().isEmpty());
}

TEST_F(Widgets, StoryShowsTheChainAndItsRivals) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("story"));
    auto* chain = find<ChainView>("chain");
    EXPECT_TRUE(chain->accessibleDescription().startsWith(QStringLiteral("C5 dried out")));
    auto* rivals = find<QListWidget>("rivals");
    ASSERT_GE(rivals->count(), 2);
    QString shown;
    for (const auto* label : find<QWidget>("under-power")->findChildren<QLabel*>()) shown += label->text();
    EXPECT_TRUE(shown.contains(QStringLiteral("othing gets in")) || shown.contains(QStringLiteral("The fuse is open")))
        << shown.toStdString();
    rivals->setCurrentRow(1);
    EXPECT_TRUE(find<QLabel>("story-title")->text().contains(QStringLiteral("Rival")));
}

TEST_F(Widgets, LadderListsEveryStep) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("power-up"));
    auto* ladder = find<LadderList>("ladder");
    EXPECT_EQ(ladder->count(), static_cast<int>(session->analysis()->ladder.steps.size()));
    EXPECT_TRUE(ladder->item(3)->data(Qt::AccessibleTextRole).toString().contains(QStringLiteral("locked")));
}

TEST_F(Widgets, ThemeAndTextSize) {
    open("/jobs/half.ohmo.json");
    find<QAction>("action-theme")->trigger();
    EXPECT_TRUE(themes.theme().dark);
    EXPECT_EQ(settings.theme(), QStringLiteral("dark"));
    for (int i = 0; i < 15; ++i) find<QAction>("action-larger")->trigger();
    EXPECT_EQ(themes.text_percent(), 200);
    for (const auto& info : all_stations()) window->go_to(info.id);
    EXPECT_FALSE(window->grab().isNull());
    find<QAction>("action-theme")->trigger();
    themes.apply(false, 100);
}

TEST_F(Widgets, ActionListSearchesAndRuns) {
    find<QAction>("action-actions")->trigger();
    auto* list = window->findChild<ActionList*>();
    ASSERT_NE(list, nullptr);
    auto* search = list->findChild<QLineEdit*>(QStringLiteral("action-search"));
    QTest::keyClicks(search, QStringLiteral("hand back"));
    QTest::keyClick(search, Qt::Key_Return);
    EXPECT_EQ(window->station(), QStringLiteral("hand-back"));
}

TEST_F(Widgets, ShortcutsDoNotCollide) {
    std::set<QString> keys;
    for (auto* action : window->findChildren<QAction*>()) {
        if (action->shortcut().isEmpty()) continue;
        EXPECT_TRUE(keys.insert(action->shortcut().toString()).second) << action->shortcut().toString().toStdString();
    }
    EXPECT_GE(keys.size(), 15u);
}

TEST_F(Widgets, HandBackGuardsTheWordRepaired) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("hand-back"));
    EXPECT_FALSE(find<QPushButton>("outcome-repaired")->isEnabled()); // nothing is proven under power
    click("outcome-not-economic");
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->replay().outcome, "not-economic");
    auto* lesson = find<QLineEdit>("lesson");
    QTest::keyClicks(lesson, QStringLiteral("C5 sits beside the heatsink"));
    QTest::keyClick(lesson, Qt::Key_Return);
    EXPECT_EQ(session->replay().notes.back(), "C5 sits beside the heatsink");
}

TEST_F(Widgets, MakeSafeOpensTheLockOnlyOnALowReading) {
    open("/jobs/fresh.ohmo.json");
    window->go_to(QStringLiteral("make-safe"));
    auto* volts = find<QLineEdit>("volts-now");
    QTest::keyClicks(volts, QStringLiteral("182"));
    EXPECT_FALSE(find<QPushButton>("log-discharge")->isEnabled());
    click("log-volts");
    EXPECT_FALSE(session->replay().cold_unlocked);
    clock.time += 30;
    QTest::keyClicks(volts, QStringLiteral("95"));
    click("log-volts");
    EXPECT_TRUE(find<QLabel>("decay-when")->text().startsWith(QStringLiteral("By your readings"))); // two falling ones
    EXPECT_TRUE(find<QLabel>("decay-when")->text().contains(QStringLiteral("below 10 V at")))
        << find<QLabel>("decay-when")->text().toStdString();
    find<QLineEdit>("volts-now")->setText(QStringLiteral("1500"));
    EXPECT_FALSE(find<QPushButton>("log-volts")->isEnabled()); // 230 V mains cannot do that
    find<QLineEdit>("volts-now")->clear();
    QTest::keyClicks(volts, QStringLiteral("0.6"));
    click("log-discharge");
    EXPECT_TRUE(session->replay().cold_unlocked);
    QTest::keyClicks(volts, QStringLiteral("many"));
    EXPECT_FALSE(find<QPushButton>("log-volts")->isEnabled());
}
