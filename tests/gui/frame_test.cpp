// SPDX-License-Identifier: GPL-3.0-or-later
// The frame: every promised key, what is shown without a job, unsaved changes, exports, arguments.
#include "gui/window_driver.h"

#include "gui/action_list.h"
#include "gui/actions.h"
#include "gui/application.h"
#include "gui/glance.h"
#include "gui/map/map_view.h"
#include "gui/widgets/plot.h"

#include <QAction>
#include <QDialog>
#include <QRegularExpression>

#include <fstream>
#include <set>
#include <sstream>

using namespace ohmo;
using namespace ohmo::test;

namespace {

class Frame : public WindowTest {
protected:
    // As from a keyboard, with the window shown and active.
    void press(const QKeySequence& keys) {
        window->activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window.get()));
        const auto combination = keys[0];
        QTest::keyClick(window->windowHandle(), combination.key(), combination.keyboardModifiers());
    }

    static ActionInfo info(const QString& id) {
        for (const auto& one : all_actions())
            if (one.id == id) return one;
        ADD_FAILURE() << id.toStdString();
        return {};
    }
};

std::string text_of(const Path& path) {
    std::ifstream in(path);
    std::ostringstream out;
    out << in.rdbuf();
    return out.str();
}

} // namespace

// What the README says of them is what they do.
TEST_F(Frame, KeysOfTheBoard) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* photo = window->findChild<QWidget*>(QStringLiteral("photo-view"));
    ASSERT_NE(photo, nullptr);
    EXPECT_FALSE(photo->isVisible());
    press(QKeySequence(QStringLiteral("F3")));
    EXPECT_TRUE(wait([&] { return photo->isVisible(); }));
    press(QKeySequence(QStringLiteral("F3")));
    EXPECT_TRUE(wait([&] { return !photo->isVisible(); }));
    press(QKeySequence(QStringLiteral("Ctrl+F")));
    auto* ref = find<QLineEdit>("find-ref");
    QTest::keyClicks(ref, QStringLiteral("C16"));
    QTest::keyClick(ref, Qt::Key_Return);
    EXPECT_TRUE(wait([this] {
        const auto labels = window->findChildren<QLabel*>();
        return std::any_of(labels.begin(), labels.end(),
                           [](const QLabel* l) { return l->isVisible() && l->text().startsWith(QStringLiteral("C16 ·")); });
    })); // its card is there
    press(QKeySequence(QStringLiteral("F4")));
    EXPECT_TRUE(wait([this] { return window->findChild<QWidget*>(QStringLiteral("rails-round")) != nullptr; }));
    QTest::keyClick(find<QLineEdit>("rails-round-value"), Qt::Key_Escape);
    EXPECT_TRUE(wait([this] { return window->findChild<QWidget*>(QStringLiteral("rails-round")) == nullptr; }));
}

TEST_F(Frame, EveryKeyOfTheTableReachesItsAction) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    log("C16 fine"); // so that there is something to undo
    // Others come in the tests below: they close the window or open others.
    const std::set<QString> elsewhere = {QStringLiteral("quit"), QStringLiteral("new"), QStringLiteral("open"), QStringLiteral("save"),
                                         QStringLiteral("save-as")};
    for (const auto& one : all_actions()) {
        if (!one.in_menu() || elsewhere.contains(one.id)) continue;
        auto* action = find<QAction>(qPrintable(QStringLiteral("action-") + one.id));
        ASSERT_NE(action, nullptr);
        EXPECT_EQ(action->shortcut(), one.key) << one.id.toStdString();
        bool reached = false;
        const auto watch = QObject::connect(action, &QAction::triggered, window.get(), [&reached] { reached = true; });
        press(one.key);
        EXPECT_TRUE(reached) << one.id.toStdString() << " by " << one.key.toString().toStdString();
        QObject::disconnect(watch);
        for (auto* list : window->findChildren<ActionList*>()) list->close();
        for (auto* dialog : window->findChildren<QDialog*>()) dialog->reject();
        if (auto* field = window->findChild<QLineEdit*>(QStringLiteral("find-ref"))) QTest::keyClick(field, Qt::Key_Escape);
        ASSERT_TRUE(settled());
    }
    themes.apply(false, 100);
}

// As they are printed in the README, whatever the table says.
TEST_F(Frame, KeysOfTheReadmeDoWhatItSays) {
    const auto keys = [this](const char* text) { press(QKeySequence(QString::fromLatin1(text))); };
    open("/jobs/half.ohmo.json");
    for (const auto& [key, station] : {std::pair{"Ctrl+1", "take-in"},
                                       {"Ctrl+4", "probe"},
                                       {"Ctrl+5", "story"},
                                       {"Ctrl+6", "parts"},
                                       {"Ctrl+7", "power-up"},
                                       {"Ctrl+8", "hand-back"},
                                       {"Ctrl+3", "trace"},
                                       {"Ctrl+2", "make-safe"}}) {
        keys(key);
        EXPECT_EQ(window->station(), QString::fromLatin1(station)) << key;
    }
    const auto opens = [&](const char* key, const char* dialog) {
        keys(key);
        EXPECT_TRUE(find<QDialog>(dialog)->isVisible()) << key;
        find<QDialog>(dialog)->reject();
        EXPECT_TRUE(wait([&] { return window->findChild<QDialog*>(QString::fromLatin1(dialog)) == nullptr; })) << key;
    };
    opens("F5", "twin");
    opens("F12", "hunt");
    opens("F6", "look-round");
    opens("F7", "part-sheet");
    opens("F8", "apart");
    opens("F10", "meter-in-hand");
    keys("Ctrl+L");
    EXPECT_TRUE(find<QLineEdit>("bench-input")->hasFocus());
    const bool dark = themes.theme().dark;
    keys("Ctrl+D");
    EXPECT_NE(themes.theme().dark, dark);
    keys("Ctrl+D");
    EXPECT_EQ(themes.theme().dark, dark);
    window->go_to(QStringLiteral("probe"));
    keys("F11");
    EXPECT_NE(window->findChild<Glance*>(), nullptr);
    keys("F11"); // again leaves
    EXPECT_TRUE(wait([this] { return window->findChild<Glance*>() == nullptr; }));
    keys("F2");
    EXPECT_FALSE(find<QLineEdit>("bench-input")->text().isEmpty());
    auto* voice = find<QAction>("action-voice");
    keys("F9");
    EXPECT_TRUE(voice->isChecked());
    EXPECT_FALSE(spoken_there.isEmpty());
    keys("F9");
    EXPECT_FALSE(voice->isChecked());
    keys("F1");
    ASSERT_FALSE(window->findChildren<ActionList*>().empty());
    for (auto* list : window->findChildren<ActionList*>()) list->close();
    keys("Ctrl+M");
    auto* teacher = find<QDialog>("meter-teacher");
    EXPECT_TRUE(teacher->isVisible());
    teacher->reject();
    keys("Ctrl+0");
    EXPECT_TRUE(find<QWidget>("start-page")->isVisible());
    const std::size_t before = asked.size();
    keys("Ctrl+O");
    EXPECT_EQ(asked.size(), before + 1);
    keys("Ctrl+Q");
    EXPECT_TRUE(wait([this] { return !window->isVisible(); }));
}

TEST_F(Frame, TakeItWorksAlsoWhenProbeWasShownBeforeTheLockOpened) {
    open("/jobs/fresh.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    press(info(QStringLiteral("take-suggestion")).key); // locked: on to what opens it
    EXPECT_EQ(window->station(), QStringLiteral("make-safe"));
    window->go_to(QStringLiteral("probe"));
    log("discharge 0.4");
    press(info(QStringLiteral("take-suggestion")).key);
    EXPECT_FALSE(find<QLineEdit>("bench-input")->text().isEmpty());
    auto* title = find<QLabel>("next-title");
    const QString first = title->text();
    press(info(QStringLiteral("suggestion-after")).key);
    EXPECT_NE(title->text(), first);
    press(info(QStringLiteral("suggestion-before")).key);
    EXPECT_EQ(title->text(), first);
    find<QLineEdit>("bench-input")->clear();
    window->go_to(QStringLiteral("story")); // from any station
    press(info(QStringLiteral("take-suggestion")).key);
    EXPECT_EQ(window->station(), QStringLiteral("probe"));
    EXPECT_FALSE(find<QLineEdit>("bench-input")->text().isEmpty());
}

TEST_F(Frame, KeysOfTheMapMoveIt) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* map = find<QWidget>("station-probe")->findChild<MapView*>();
    const double whole = map->scale();
    map->setFocus();
    press(info(QStringLiteral("map-closer")).key);
    EXPECT_GT(map->scale(), whole);
    press(info(QStringLiteral("map-farther")).key);
    EXPECT_NEAR(map->scale(), whole, 1e-9);
    std::set<QString> visited;
    for (const char* way : {"map-right", "map-right", "map-down", "map-left", "map-up"}) {
        press(info(QString::fromLatin1(way)).key);
        visited.insert(map->accessibleDescription());
    }
    EXPECT_GE(visited.size(), 3u);
    press(info(QStringLiteral("map-closer")).key);
    press(info(QStringLiteral("map-fit")).key);
    EXPECT_NEAR(map->scale(), whole, 1e-9);
    press(info(QStringLiteral("map-whole")).key);
    EXPECT_TRUE(map->whole());
    press(info(QStringLiteral("map-whole")).key);
    EXPECT_FALSE(map->whole());
}

TEST_F(Frame, EveryKeyInReadmeOrToolTipIsInTheTable) {
    open("/jobs/half.ohmo.json");
    for (const auto& station : all_stations()) window->go_to(station.id);
    std::set<QString> known;
    for (const auto& one : all_actions()) known.insert(one.key.toString());
    known.insert(QStringLiteral("Enter")); // the other name of Return
    QStringList texts = {QString::fromStdString(text_of(data().parent_path() / "README.md"))};
    for (auto* w : window->findChildren<QWidget*>()) texts << w->toolTip();
    const QRegularExpression keys(
        QStringLiteral("\\b(F[0-9]{1,2}|(?:Ctrl|Alt|Shift)\\+(?:Shift\\+)?(?:PgUp|PgDown|[A-Z0-9])|Tab|Enter)\\b"));
    int found = 0;
    for (const auto& text : texts)
        for (auto it = keys.globalMatch(text); it.hasNext();) {
            const QString key = it.next().captured(1);
            ++found;
            EXPECT_TRUE(known.contains(key)) << key.toStdString() << " in: " << text.left(80).toStdString();
        }
    EXPECT_GE(found, 10);
}

TEST_F(Frame, F1ListsEveryKey) {
    press(info(QStringLiteral("actions")).key);
    auto* list = window->findChild<ActionList*>();
    ASSERT_NE(list, nullptr);
    EXPECT_TRUE(QTest::qWaitForWindowActive(list)); // the keys go there
    auto* items = list->findChild<QListWidget*>(QStringLiteral("action-items"));
    ASSERT_EQ(items->count(), static_cast<int>(all_actions().size()));
    QString all;
    for (int i = 0; i < items->count(); ++i) all += items->item(i)->text() + QLatin1Char('\n');
    for (const char* key : {"F2", "Alt+PgUp", "Alt+PgDown", "Ctrl+1", "Tab"}) EXPECT_TRUE(all.contains(QString::fromLatin1(key))) << key;
}

TEST_F(Frame, FindingAPartGoesWithEscapeAndWithTheKeys) {
    open("/jobs/half.ohmo.json");
    const auto field = [this] { return window->findChild<QLineEdit*>(QStringLiteral("find-ref")); };
    press(info(QStringLiteral("find")).key);
    ASSERT_NE(field(), nullptr);
    QTest::keyClick(field(), Qt::Key_Escape);
    ASSERT_TRUE(wait([&] { return field() == nullptr; }));
    press(info(QStringLiteral("find")).key);
    press(info(QStringLiteral("bench-line")).key); // nothing was typed, and still it goes
    ASSERT_TRUE(wait([&] { return field() == nullptr; }));
    window->go_to(QStringLiteral("probe"));
    press(info(QStringLiteral("find")).key);
    QTest::keyClicks(field(), QStringLiteral("Q1"));
    QTest::keyClick(field(), Qt::Key_Return);
    EXPECT_NE(window->findChild<QPushButton*>(QStringLiteral("part-lift")), nullptr); // its card is shown
}

TEST_F(Frame, WithoutAJobNothingIsDoneAndNothingWaits) {
    ASSERT_FALSE(session->has_job());
    for (const auto& station : all_stations()) {
        window->go_to(station.id);
        EXPECT_FALSE(
            find<QAbstractButton>(qPrintable(QStringLiteral("rail-") + station.id))->accessibleName().contains(QStringLiteral("done")));
        EXPECT_EQ(status_of(station, *session).state, StationState::Open) << station.id.toStdString();
        for (auto* label : find<QWidget>(qPrintable(QStringLiteral("station-") + station.id))->findChildren<QLabel*>())
            if (label->isVisible()) EXPECT_FALSE(label->text().contains(QStringLiteral("Working"))) << station.id.toStdString();
    }
    auto* empty = find<QLabel>("chips-empty");
    EXPECT_TRUE(empty->text().contains(QStringLiteral("Ctrl+N")));
    EXPECT_LE(empty->mapTo(window.get(), QPoint(empty->sizeHint().width(), 0)).x(), window->width()); // not cut by the edge
    press(info(QStringLiteral("take-suggestion")).key);                                               // nothing to take, nothing breaks
    EXPECT_TRUE(find<QLineEdit>("bench-input")->text().isEmpty());
}

TEST_F(Frame, UnsavedEntriesAreAskedAboutAndADialogGivenUpLosesNothing) {
    open("/jobs/half.ohmo.json");
    log("C16 leaking");
    ASSERT_TRUE(wait([&] { return disk.memory.exists("/recovery.json"); }));
    press(info(QStringLiteral("open")).key);
    EXPECT_TRUE(find<QWidget>("banner")->isVisible());
    EXPECT_TRUE(asked.empty());              // not before the answer
    press(info(QStringLiteral("open")).key); // asked once more, while it stands there
    const auto* stay = find<QPushButton>("changes-stay");
    EXPECT_GE(stay->height(), stay->sizeHint().height());
    click("changes-stay");
    EXPECT_FALSE(find<QWidget>("banner")->isVisible());
    EXPECT_TRUE(asked.empty());
    press(info(QStringLiteral("open")).key);
    click("changes-drop");
    ASSERT_EQ(asked.size(), 1u); // the dialog comes, and is given up
    EXPECT_FALSE(asked.front().save);
    EXPECT_TRUE(disk.memory.exists("/recovery.json"));
    EXPECT_EQ(session->job().journal.back().saw, "leaking");
    EXPECT_TRUE(session->modified());
    chosen = QStringLiteral("/jobs/fresh.ohmo.json");
    press(info(QStringLiteral("open")).key);
    click("changes-drop");
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->path(), "/jobs/fresh.ohmo.json");
    EXPECT_FALSE(disk.memory.exists("/recovery.json")); // now it has gone
}

TEST_F(Frame, UnsavedEntriesAreSavedFirst) {
    open("/jobs/half.ohmo.json");
    log("C16 leaking");
    chosen = QStringLiteral("/jobs/fresh.ohmo.json");
    press(info(QStringLiteral("open")).key);
    click("changes-save");
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->path(), "/jobs/fresh.ohmo.json");
    EXPECT_NE(disk.memory.files["/jobs/half.ohmo.json"].find("leaking"), std::string::npos);
}

TEST_F(Frame, ClosingAsksAndRemembersTheAnswer) {
    open("/jobs/half.ohmo.json");
    log("C16 leaking");
    press(info(QStringLiteral("quit")).key);
    EXPECT_TRUE(window->isVisible());
    click("changes-stay");
    EXPECT_TRUE(window->isVisible());
    press(info(QStringLiteral("quit")).key);
    click("changes-drop");
    EXPECT_FALSE(window->isVisible());
    EXPECT_FALSE(disk.memory.exists("/recovery.json"));
}

TEST_F(Frame, SavingUnderAName) {
    start_from("buck.json");
    press(info(QStringLiteral("save")).key);
    ASSERT_EQ(asked.size(), 1u);
    EXPECT_TRUE(asked.front().save);
    EXPECT_TRUE(session->modified()); // given up
    chosen = QStringLiteral("/jobs/named");
    press(info(QStringLiteral("save-as")).key);
    EXPECT_TRUE(disk.memory.exists("/jobs/named.ohmo.json"));
    EXPECT_FALSE(session->modified());
    press(info(QStringLiteral("save")).key);
    EXPECT_EQ(asked.size(), 2u); // it has a name now
}

TEST_F(Frame, NewFromBlueprintByKey) {
    press(info(QStringLiteral("new")).key);
    ASSERT_TRUE(wait([this] { return window->findChild<QDialog*>() != nullptr; }));
    auto* picker = window->findChild<QDialog*>();
    EXPECT_TRUE(picker->isVisible());
    QTest::keyClick(picker, Qt::Key_Escape);
    EXPECT_FALSE(session->has_job());
}

TEST_F(Frame, RecoveryButtonsGoWithTheBanner) {
    disk.memory.files["/recovery.json"] = demo_text("rb6-half-way");
    window->offer_recovery();
    EXPECT_NE(window->findChild<QPushButton*>(QStringLiteral("banner-restore")), nullptr);
    click("banner-close");
    EXPECT_TRUE(disk.memory.exists("/recovery.json")); // not answered yet
    window->open_job(QStringLiteral("/jobs/missing.ohmo.json"));
    EXPECT_FALSE(opened());
    ASSERT_TRUE(wait([this] { return window->findChild<QPushButton*>(QStringLiteral("banner-restore")) == nullptr; }));
    EXPECT_TRUE(find<QWidget>("banner")->isVisible());
}

TEST_F(Frame, ThePlanIsExported) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("parts"));
    click("plan-export"); // given up
    EXPECT_EQ(asked.size(), 1u);
    chosen = QStringLiteral("/out/plan.csv");
    click("plan-export");
    ASSERT_TRUE(disk.memory.exists("/out/plan.csv"));
    EXPECT_EQ(disk.memory.files["/out/plan.csv"].rfind("ref,value,reason,choice,price,stage\n", 0), 0u);
    disk.memory.full = true;
    click("plan-export");
    QString said;
    for (auto* label : find<QWidget>("station-parts")->findChildren<QLabel*>()) said += label->text();
    EXPECT_TRUE(said.contains(QStringLiteral("cannot be written")));
}

TEST_F(Frame, TheRecordIsExported) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("hand-back"));
    for (const char* file : {"/out/record.pdf", "/out/record.html", "/out/record.md"}) {
        chosen = QString::fromLatin1(file);
        click("record-export");
        ASSERT_TRUE(wait([&] { return disk.memory.exists(file); })) << file;
    }
    EXPECT_EQ(disk.memory.files["/out/record.pdf"].rfind("%PDF-", 0), 0u);
    EXPECT_NE(disk.memory.files["/out/record.html"].find("certifies nothing"), std::string::npos);
    EXPECT_EQ(disk.memory.files["/out/record.md"].rfind("# ", 0), 0u);
}

TEST_F(Frame, PlotsSayWhatTheyShow) {
    open("/jobs/half.ohmo.json");
    for (const char* station : {"make-safe", "power-up"}) {
        window->go_to(QString::fromLatin1(station));
        const auto plots = find<QWidget>(qPrintable(QStringLiteral("station-%1").arg(QString::fromLatin1(station))))->findChildren<Plot*>();
        ASSERT_FALSE(plots.isEmpty());
        for (auto* plot : plots) {
            EXPECT_FALSE(plot->accessibleName().isEmpty()) << plot->objectName().toStdString();
            EXPECT_FALSE(plot->accessibleDescription().isEmpty()) << plot->objectName().toStdString();
        }
    }
}

TEST_F(Frame, StationsHaveClassesOfTheirOwn) { // so that each has its own context for translators
    std::set<std::string> classes;
    for (const auto& station : all_stations()) {
        window->go_to(station.id);
        classes.insert(find<QWidget>(qPrintable(QStringLiteral("station-") + station.id))->metaObject()->className());
    }
    EXPECT_EQ(classes.size(), all_stations().size());
    EXPECT_FALSE(classes.contains("QWidget"));
}
