// SPDX-License-Identifier: GPL-3.0-or-later
// A board that nobody drew before, entered by keys at Trace.
#include "gui/window_driver.h"

#include "board/open_ends.h"
#include "gui/map/map_view.h"
#include "gui/models/parts_model.h"
#include "gui/models/rails_model.h"

#include <QClipboard>
#include <QTableView>

using namespace ohmo;
using namespace ohmo::test;

namespace {

class Tracing : public WindowTest {
protected:
    void begin(const char* blueprint) {
        start_from(blueprint);
        window->go_to(QStringLiteral("trace"));
    }

    // Types a line and logs it; the judgement may still be at work.
    void type(const std::string& line) {
        auto* input = find<QLineEdit>("bench-input");
        const auto before = session->job().journal.size();
        input->clear();
        QTest::keyClicks(input, QString::fromStdString(line));
        QTest::keyClick(input, Qt::Key_Return);
        ASSERT_EQ(session->job().journal.size(), before + 1) << line << ": " << find<QLabel>("bench-understood")->text().toStdString();
    }

    const Board& board() const { return session->replay().board; }
    QTableView* table() { return find<QTableView>("parts-table"); }
    void choose(const char* ref) {
        const int row = at(board(), ref);
        for (int r = 0; r < table()->model()->rowCount(); ++r)
            if (table()->model()->index(r, PartsModel::Ref).data().toString() == QString::fromLatin1(ref))
                table()->setCurrentIndex(table()->model()->index(r, 0));
        (void)row;
    }
    bool write(const char* ref, int column, const char* text) {
        choose(ref);
        return table()->model()->setData(table()->model()->index(table()->currentIndex().row(), column), QString::fromUtf8(text),
                                         Qt::EditRole);
    }
};

} // namespace

TEST_F(Tracing, ABoardThatNoBlueprintResemblesByKeysAlone) {
    begin("blank.json");
    for (const auto& line : traced_lines("df3-two-switch-forward")) type(line);
    EXPECT_EQ(board().parts.size(), 42u);
    EXPECT_EQ(find<QPushButton>("page-ends")->text(), QStringLiteral("Open ends 0"));
    for (const char* line : {"dead", "discharge 0.4", "F1 open", "Q2 D-S 0.3"}) log(line);
    EXPECT_GT(bad("F1"), 0.98);
    EXPECT_GT(bad("Q2"), 0.9);
    EXPECT_FALSE(session->analysis()->next.acts.empty());
}

TEST_F(Tracing, TheTableIsWrittenCellByCell) {
    begin("blank.json");
    for (const char* line : {"+ R1 4k7 HV VCC", "+ C1 47u VCC 0V", "+ D1 0V HV"}) type(line);
    EXPECT_TRUE(write("R1", PartsModel::Value, "470"));
    EXPECT_EQ(board().part(at(board(), "R1")).value, "470R");
    click("other-reading-1"); // or is it 47 ohm
    EXPECT_EQ(board().part(at(board(), "R1")).value, "47R");
    EXPECT_TRUE(write("D1", PartsModel::Role, "schottky"));
    EXPECT_TRUE(write("D1", PartsModel::Rating, "60V 3 A"));
    EXPECT_EQ(board().part(at(board(), "D1")).volts, 60);
    EXPECT_EQ(board().part(at(board(), "D1")).amps, 3);
    EXPECT_TRUE(write("D1", PartsModel::Nets, "A=0V K=+12V"));
    EXPECT_EQ(board().net_name(board().part(at(board(), "D1")).net("K")), "+12V");
    EXPECT_TRUE(write("D1", PartsModel::Stage, "rectify-out"));
    EXPECT_TRUE(write("D1", PartsModel::Ref, "D7"));
    EXPECT_TRUE(board().find_part("D7"));
    EXPECT_FALSE(write("D7", PartsModel::Ref, "R1"));
    EXPECT_FALSE(write("D7", PartsModel::Rating, "plenty"));
    EXPECT_FALSE(write("D7", PartsModel::Nets, "A"));
    EXPECT_FALSE(write("D7", PartsModel::Nets, "X=HV"));
    EXPECT_TRUE(find<QLabel>("trace-note")->isVisible());
}

TEST_F(Tracing, KeysOfTheTable) {
    begin("blank.json");
    type("+ R1 4k7 HV VCC");
    choose("R1");
    table()->setFocus();
    QTest::keyClick(table(), Qt::Key_Insert, Qt::ControlModifier);
    EXPECT_EQ(find<QLineEdit>("bench-input")->text(), QStringLiteral("double R1 R2 "));
    QTest::keyClick(find<QLineEdit>("bench-input"), Qt::Key_Return);
    EXPECT_TRUE(board().find_part("R2"));
    choose("R2");
    QTest::keyClick(table(), Qt::Key_Delete);
    EXPECT_FALSE(board().find_part("R2"));
    QTest::keyClick(table(), Qt::Key_Insert);
    EXPECT_EQ(find<QLineEdit>("bench-input")->text(), QStringLiteral("+ "));
    QGuiApplication::clipboard()->setText(QStringLiteral("C1\t104\tVCC\t0V\nC2\t10u\tVCC\t0V\n"));
    QTest::keySequence(table(), QKeySequence(QStringLiteral("Ctrl+V")));
    EXPECT_EQ(board().parts.size(), 3u);
    const auto before = session->job().journal.size();
    find<QAction>("action-undo")->trigger(); // all rows at once
    EXPECT_EQ(session->job().journal.size(), before - 1);
    EXPECT_EQ(board().parts.size(), 1u);
    QGuiApplication::clipboard()->setText(QStringLiteral("one two\n"));
    click("paste-rows");
    EXPECT_TRUE(find<QLabel>("trace-note")->text().contains(QStringLiteral("Nothing was pasted")));
    EXPECT_EQ(board().parts.size(), 1u);
}

// Two pins are chosen on the map; a beep joins their nets, none parts them.
TEST_F(Tracing, KeysOfTheMap) {
    begin("blank.json");
    type("+ R1 4k7 HV A");
    type("+ R2 1k B 0V");
    auto* map = window->findChild<QWidget*>(QStringLiteral("station-trace"))->findChild<MapView*>();
    ASSERT_NE(map, nullptr);
    const auto press = [&](const char* ref, std::vector<int> keys) {
        window->select_part(QString::fromLatin1(ref));
        for (int key : keys) QTest::keyClick(map, static_cast<Qt::Key>(key));
    };
    const auto same = [&] { return board().part(at(board(), "R1")).net("2") == board().part(at(board(), "R2")).net("1"); };
    press("R1", {Qt::Key_J, Qt::Key_J});
    EXPECT_TRUE(find<QLabel>("trace-note")->text().contains(QStringLiteral("R1.2 (A)")));
    press("R2", {Qt::Key_J});
    EXPECT_TRUE(find<QLabel>("trace-note")->text().contains(QStringLiteral("R2.1 (B)")));
    ASSERT_FALSE(same());
    press("R2", {Qt::Key_Return});
    EXPECT_TRUE(same());
    press("R1", {Qt::Key_J, Qt::Key_J});
    press("R2", {Qt::Key_J, Qt::Key_X});
    EXPECT_FALSE(same());
    const auto before = session->job().journal.size();
    press("R1", {Qt::Key_J, Qt::Key_Escape, Qt::Key_X, Qt::Key_Return});
    EXPECT_EQ(session->job().journal.size(), before); // left off: nothing is told
    press("R2", {Qt::Key_Delete});
    EXPECT_FALSE(board().find_part("R2"));
    press("R1", {Qt::Key_Insert});
    EXPECT_EQ(find<QLineEdit>("bench-input")->text(), QStringLiteral("+ "));
}

// A rating that is not printed on the part after all goes.
TEST_F(Tracing, RatingsAreThoseOfTheCell) {
    begin("blank.json");
    type("+ C1 220u 400V 105C HV 0V");
    ASSERT_TRUE(write("C1", PartsModel::Rating, "400V"));
    EXPECT_EQ(board().part(at(board(), "C1")).volts, 400);
    EXPECT_FALSE(board().part(at(board(), "C1")).celsius);
    ASSERT_TRUE(write("C1", PartsModel::Rating, ""));
    EXPECT_FALSE(board().part(at(board(), "C1")).volts);
    type("= C1 unrated 450V");
    EXPECT_EQ(board().part(at(board(), "C1")).volts, 450);
    EXPECT_EQ(replay(reader().parse(session->job().text())->job).board, board());
}

TEST_F(Tracing, OpenEndsAreMendedWhereTheyStand) {
    begin("blank.json");
    for (const char* line : {"mains none", "+ R1 4k7 HV VCC", "+ C1 47u VCC 0V", "+ R2 1k V-CC", "+ D1 0V HV", "rail VCC 0V 12V 1A"})
        type(line);
    click("page-ends");
    ASSERT_TRUE(settled()); // rows of before are gone
    const auto number = [&](OpenEndKind kind) {
        const auto ends = open_ends(board());
        for (std::size_t i = 0; i < ends.size(); ++i)
            if (ends[i].kind == kind) return "mend-" + std::to_string(i);
        return std::string();
    };
    click(number(OpenEndKind::LonelyNet).c_str());
    EXPECT_EQ(board().net_name(board().part(at(board(), "R2")).net("1")), "VCC");
    ASSERT_TRUE(settled());
    click(number(OpenEndKind::FreePin).c_str());
    EXPECT_EQ(find<QLineEdit>("bench-input")->text(), QStringLiteral("= R2 2="));
    QTest::keyClicks(find<QLineEdit>("bench-input"), QStringLiteral("0V"));
    QTest::keyClick(find<QLineEdit>("bench-input"), Qt::Key_Return);
    EXPECT_TRUE(open_ends(board()).empty());
}

TEST_F(Tracing, RailsAndMainsChange) {
    begin("flyback.json");
    click("page-rails");
    auto* rails = find<QTableView>("rails-table")->model();
    ASSERT_GT(rails->rowCount(), 0);
    EXPECT_TRUE(rails->setData(rails->index(0, RailsModel::Volts), QStringLiteral("18 V"), Qt::EditRole));
    EXPECT_TRUE(rails->setData(rails->index(0, RailsModel::Amps), QStringLiteral("2.5"), Qt::EditRole));
    EXPECT_TRUE(rails->setData(rails->index(0, RailsModel::Tolerance), QStringLiteral("10 %"), Qt::EditRole));
    EXPECT_EQ(board().rails[0].volts, 18);
    EXPECT_EQ(board().rails[0].amps, 2.5);
    EXPECT_EQ(board().rails[0].tolerance, 0.1);
    EXPECT_FALSE(rails->setData(rails->index(0, RailsModel::Volts), QStringLiteral("some"), Qt::EditRole));
    EXPECT_FALSE(rails->setData(rails->index(0, RailsModel::Net), QStringLiteral("nowhere"), Qt::EditRole));
    click("change-mains");
    auto* input = find<QLineEdit>("bench-input");
    EXPECT_EQ(input->text(), QStringLiteral("mains 230V 50Hz"));
    input->setText(QStringLiteral("mains 115V 60Hz"));
    QTest::keyClick(input, Qt::Key_Return);
    EXPECT_EQ(board().mains->volts, 115);
    const auto count = board().rails.size();
    find<QTableView>("rails-table")->setCurrentIndex(rails->index(0, 0));
    click("strike-rail");
    EXPECT_EQ(board().rails.size(), count - 1);
    ASSERT_TRUE(settled());
}

TEST_F(Tracing, NetlistsAreOpenedAndBoardsExported) {
    disk.memory.files["/jobs/winder.cir"] = "Winder\nR1 A B 4.7k\nC1 B 0 100n\nI1 B 0 1\n.end\n";
    open("/jobs/winder.cir");
    EXPECT_EQ(board().parts.size(), 2u);
    EXPECT_EQ(window->station(), QStringLiteral("trace"));
    EXPECT_TRUE(session->modified());
    EXPECT_TRUE(session->path().empty()); // saving asks for a name, the netlist stays
    ASSERT_TRUE(find<QWidget>("banner")->isVisible());
    click("banner-close");
    for (const char* name : {"/out/board.csv", "/out/board.md", "/out/board.cir", "/out/map.svg", "/out/map.png"}) {
        chosen = QString::fromLatin1(name);
        find<QAction>("action-export")->trigger();
        EXPECT_GT(disk.memory.files[name].size(), 40u) << name;
        click("banner-close");
    }
    EXPECT_NE(disk.memory.files["/out/map.svg"].find("<svg"), std::string::npos);
    EXPECT_NE(disk.memory.files["/out/map.svg"].find("R1</text>"), std::string::npos); // the map is in it
    EXPECT_GT(disk.memory.files["/out/map.png"].size(), 15000u);
    EXPECT_EQ(disk.memory.files["/out/map.png"].substr(1, 3), "PNG");
    chosen = QStringLiteral("/out/board.doc");
    find<QAction>("action-export")->trigger();
    EXPECT_FALSE(disk.memory.files.contains("/out/board.doc"));
}

TEST_F(Tracing, NoticesLeaveTheStationItsRoom) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* station = find<QWidget>("station-probe");
    const QSize before = station->size();
    window->open_job(QStringLiteral("/jobs/none.ohmo.json"));
    ASSERT_TRUE(wait([this] { return find<QWidget>("banner")->isVisible(); }));
    EXPECT_EQ(station->size(), before);
    EXPECT_TRUE(find<QWidget>("banner")->geometry().width() <= find<QWidget>("banner")->parentWidget()->width());
    click("banner-close");
}
