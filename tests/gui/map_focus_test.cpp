// SPDX-License-Identifier: GPL-3.0-or-later
// The folded map: nothing overlaps, every part is somewhere, wires keep to their own tracks and off the tiles, text keeps its height.
#include "gui/window_driver.h"

#include "design/design.h"
#include "support/designs.h"

#include <QAction>

#include "gui/actions.h"
#include "gui/glance.h"
#include "gui/map/map_view.h"
#include "gui/start_page.h"

#include <random>
#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const std::vector<std::string> kBoards = {"rb6-fresh",        "gl1-adapter",  "tl12-half-bridge",       "bd2-self-oscillating",
                                          "cr8-buck",         "fc1-inverter", "sw3-flyback-integrated", "fd1-linear",
                                          "tm4-ac-fed-split", "rb6-rail"};

MapFocus some_open(const Board& board, unsigned seed, double share, QSizeF view, double text) {
    std::mt19937 random(seed);
    MapFocus focus;
    focus.view = view;
    focus.text = text;
    for (std::size_t i = 0; i < board.parts.size(); ++i) focus.open.push_back(std::bernoulli_distribution(share)(random) ? 1 : 0);
    if (seed % 2 == 1) focus.unfolded.insert(static_cast<int>(seed % 11));
    return focus;
}

// A board of 300 parts: resistors and capacitors strung through all stages.
Board large() {
    std::vector<std::string> lines;
    for (int i = 0; i < 300; ++i) {
        const std::string a = "N" + std::to_string(i / 2), b = "N" + std::to_string((i * 7 + 11) % 150);
        lines.push_back((i % 3 == 0 ? "C" : "R") + std::to_string(i) + (i % 3 == 0 ? " ceramic 10n" : " resistor 1k") + " 1=" + a +
                        " 2=" + (a == b ? "GND" : b));
    }
    Board out = board(lines);
    for (std::size_t i = 0; i < out.parts.size(); ++i) out.parts[i].stage = stage_order()[i * stage_order().size() / out.parts.size()];
    return out;
}

// Straight pieces of a path.
std::vector<QLineF> pieces(const QPainterPath& path) {
    std::vector<QLineF> out;
    for (int i = 1; i < path.elementCount(); ++i)
        if (path.elementAt(i).type == QPainterPath::LineToElement)
            out.emplace_back(QPointF(path.elementAt(i - 1)), QPointF(path.elementAt(i)));
    return out;
}

bool shares_track(const QLineF& p, const QLineF& q) {
    const auto over = [](double a, double b, double c, double d) {
        return std::min(std::max(a, b), std::max(c, d)) - std::max(std::min(a, b), std::min(c, d)) > 0.5;
    };
    const bool upright_p = std::fabs(p.dx()) < 1e-6, upright_q = std::fabs(q.dx()) < 1e-6;
    if (upright_p != upright_q) return false;
    if (upright_p) return std::fabs(p.x1() - q.x1()) < 0.05 && over(p.y1(), p.y2(), q.y1(), q.y2());
    return std::fabs(p.y1() - q.y1()) < 0.05 && over(p.x1(), p.x2(), q.x1(), q.x2());
}

void check(const Board& board, const MapFocus& focus) {
    const auto layout = lay_out_focus(board, find_roles(board), focus);
    std::vector<QRectF> boxes;
    std::set<int> parts;
    for (const auto& tile : layout.tiles) {
        boxes.push_back(tile.box);
        for (int p : tile.parts) EXPECT_TRUE(parts.insert(p).second);
    }
    for (const auto& fold : layout.folds) {
        boxes.push_back(fold.box);
        for (int p : fold.parts)
            if (!fold.open) EXPECT_TRUE(parts.insert(p).second);
    }
    for (const auto& pill : layout.pills) boxes.push_back(pill.box);
    for (const auto& region : layout.regions)
        boxes.push_back(region.box.adjusted(0, 0.5, 0, -0.5).intersected({{0, 0}, layout.size})); // it touches what it heads
    EXPECT_EQ(parts.size(), board.parts.size());
    for (std::size_t i = 0; i < boxes.size(); ++i) {
        EXPECT_TRUE(QRectF(QPointF(0, 0), layout.size).contains(boxes[i]));
        for (std::size_t k = 0; k < i; ++k) EXPECT_FALSE(boxes[i].intersects(boxes[k]));
    }
    for (std::size_t w = 0; w < layout.wires.size(); ++w)
        for (const auto& line : pieces(layout.wires[w].path)) {
            for (const auto& box : boxes) {
                const QRectF inside = box.adjusted(1, 1, -1, -1);
                const bool through = std::fabs(line.dx()) < 1e-6 ? line.x1() > inside.left() && line.x1() < inside.right() &&
                                                                       std::max(line.y1(), line.y2()) > inside.top() &&
                                                                       std::min(line.y1(), line.y2()) < inside.bottom()
                                                                 : line.y1() > inside.top() && line.y1() < inside.bottom() &&
                                                                       std::max(line.x1(), line.x2()) > inside.left() &&
                                                                       std::min(line.x1(), line.x2()) < inside.right();
                EXPECT_FALSE(through) << board.name << " " << board.net_name(layout.wires[w].net);
            }
            for (std::size_t v = 0; v < w; ++v)
                for (const auto& other : pieces(layout.wires[v].path))
                    EXPECT_FALSE(shares_track(line, other))
                        << board.name << " " << board.net_name(layout.wires[w].net) << " and " << board.net_name(layout.wires[v].net);
        }
}

class Glances : public WindowTest {};

} // namespace

TEST(MapFocus, NothingOverlapsOnAnyBoard) {
    for (const auto& name : kBoards) {
        const Board board = demo(name).board;
        for (unsigned seed = 0; seed < 8; ++seed)
            for (const QSizeF view : {QSizeF(846, 460), QSizeF(664, 360), QSizeF(1480, 760)})
                check(board, some_open(board, seed, 0.05 + 0.1 * seed, view, seed % 3 == 2 ? 1.5 : 1));
    }
}

// Boards that are designed: every family at three sizes.
TEST(MapFocus, NothingOverlapsOnDesignedBoards) {
    unsigned seed = 0;
    for (const auto& one : designed_supplies()) {
        const auto design = design_supply(one.supply);
        ASSERT_TRUE(design) << one.name;
        ++seed;
        check(design->draft,
              some_open(design->draft, seed, 0.1 + 0.02 * (seed % 10), seed % 2 == 0 ? QSizeF(846, 460) : QSizeF(664, 360), 1));
    }
}

TEST(MapFocus, ThreeHundredParts) {
    const Board board = large();
    for (unsigned seed = 0; seed < 4; ++seed) check(board, some_open(board, seed, 0.03 + 0.04 * seed, {846, 460}, 1));
}

TEST(MapFocus, TilesKeepTheirSizeAndGrowWithTheText) {
    const Board& board = demo_board();
    for (const double text : {0.8, 1.0, 1.5, 2.0}) {
        const auto layout = lay_out_focus(board, find_roles(board), some_open(board, 4, 0.2, {846, 460}, text));
        EXPECT_EQ(layout.text, text);
        for (const auto& tile : layout.tiles) {
            EXPECT_NEAR(tile.box.height(), 48 * text, 1e-9); // room for a ref of 15 px and a value of 12, times the scale
            EXPECT_GE(tile.box.width(), 116 * text - 1e-9);
        }
    }
    EXPECT_TRUE(lay_out_focus(Board{}, find_roles(Board{}), {}).tiles.empty());
}

TEST_F(Glances, FoldsOpenByKeyAndTheWholeBoardIsOneKeyAway) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* map = find<QWidget>("station-probe")->findChild<MapView*>();
    const auto tiles = map->layout_shown().tiles.size(), parts = demo_board().parts.size();
    EXPECT_LT(tiles, parts / 2);
    map->setFocus();
    for (int i = 0; i < 40 && !map->accessibleDescription().contains(QStringLiteral("Enter")); ++i)
        QTest::keyClick(map, i % 2 == 0 ? Qt::Key_Down : Qt::Key_Right);
    ASSERT_TRUE(map->accessibleDescription().contains(QStringLiteral("Enter")));
    QTest::keyClick(map, Qt::Key_Return);
    EXPECT_GT(map->layout_shown().tiles.size(), tiles);
    QTest::keyClick(map, Qt::Key_W);
    EXPECT_TRUE(map->whole());
    std::size_t shown = 0;
    for (const auto& tile : map->layout_shown().tiles) shown += tile.parts.size();
    EXPECT_EQ(shown, parts);
    QTest::keyClick(map, Qt::Key_W);
    EXPECT_FALSE(map->whole());
}

TEST_F(Glances, WhatTheLeadsSeeIsOpen) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("probe"));
    auto* map = find<QWidget>("station-probe")->findChild<MapView*>();
    for (const auto& act : session->analysis()->next.acts) {
        if (act.act == Act::Read && act.part >= 0)
            EXPECT_GE(map->layout_shown().tile_of[static_cast<std::size_t>(act.part)], 0) << demo_board().part(act.part).ref;
        click("next-forward");
    }
}

TEST_F(Glances, LogsWithTheFootSwitch) {
    open("/jobs/half.ohmo.json");
    find<QAction>("action-glance")->trigger();
    auto* value = find<QLineEdit>("glance-value");
    ASSERT_TRUE(wait([&] { return value->isEnabled(); }));
    const auto* next = find<QLabel>("glance-next");
    for (int i = 0; i < 12 && !next->text().startsWith(QStringLiteral("Ohms")); ++i) QTest::keyClick(value, Qt::Key_Space);
    ASSERT_TRUE(next->text().startsWith(QStringLiteral("Ohms"))) << next->text().toStdString();
    const auto entries = session->job().journal.size();
    QTest::keyClicks(value, QStringLiteral("22.1"));
    QTest::keyClick(value, Qt::Key_PageDown);
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->job().journal.size(), entries + 1);
    EXPECT_TRUE(value->text().isEmpty());
    EXPECT_TRUE(find<QLabel>("glance-last")->text().contains(QStringLiteral("22.1")));
    QTest::keyClicks(value, QStringLiteral("nonsense"));
    QTest::keyClick(value, Qt::Key_Return);
    EXPECT_EQ(session->job().journal.size(), entries + 1);
    QTest::keyClick(value, Qt::Key_Escape);
    EXPECT_TRUE(wait([&] { return window->findChild<Glance*>() == nullptr; }));
}

TEST_F(Glances, NewWorkIsProvedFromTwoMetres) {
    open("/jobs/half.ohmo.json");
    log("replace C5");
    find<QAction>("action-glance")->trigger();
    auto* value = find<QLineEdit>("glance-value");
    ASSERT_TRUE(find<QLabel>("glance-next")->text().startsWith(QStringLiteral("Look at the new C5")));
    QTest::keyClicks(value, QStringLiteral("right"));
    QTest::keyClick(value, Qt::Key_Return);
    ASSERT_TRUE(settled());
    EXPECT_EQ(session->replay().work.begin()->second.look, true);
    EXPECT_FALSE(find<QLabel>("glance-next")->text().startsWith(QStringLiteral("Look at the new C5")));
}

TEST_F(Glances, TheVoiceSaysWhatWasLoggedAndWhatComesNext) {
    open("/jobs/half.ohmo.json");
    EXPECT_TRUE(spoken_there.isEmpty());
    auto* voice = find<QAction>("action-voice");
    voice->trigger();
    EXPECT_TRUE(voice->isChecked());
    EXPECT_TRUE(settings.voice());
    ASSERT_EQ(spoken_there.size(), 1);
    EXPECT_TRUE(spoken_there.last().startsWith(QStringLiteral("Next: "))) << spoken_there.last().toStdString();
    log("+24V 0V ohm 1.39k");
    const int logged = static_cast<int>(spoken_there.indexOf(QStringLiteral("(hush)"))) + 1;
    ASSERT_LT(logged, spoken_there.size());
    EXPECT_TRUE(spoken_there[logged].startsWith(QStringLiteral("resistance from plus 24 volts to 0V is 1.39 kilohms")))
        << spoken_there[logged].toStdString();
    voice->trigger();
    const auto said = spoken_there.size();
    log("+12V 0V ohm 600");
    EXPECT_EQ(spoken_there.size(), said);
    EXPECT_FALSE(settings.voice());
}

TEST_F(Glances, AMachineThatCannotSpeakSaysSo) {
    can_speak = false;
    find<QAction>("action-voice")->trigger();
    EXPECT_FALSE(find<QAction>("action-voice")->isChecked());
    EXPECT_TRUE(find<QWidget>("banner")->isVisible());
    EXPECT_FALSE(settings.voice());
}

TEST_F(Glances, AJobIsOpenedWhereItWasLeft) {
    open("/jobs/half.ohmo.json");
    window->go_to(QStringLiteral("story"));
    open("/jobs/fresh.ohmo.json");
    window->go_to(QStringLiteral("trace"));
    open("/jobs/half.ohmo.json");
    EXPECT_EQ(window->station(), QStringLiteral("story"));
    settings.add_recent_job(QStringLiteral("/jobs/gone.ohmo.json"));
    find<QAction>("action-start")->trigger();
    const auto tiles = find<StartPage>("start-page")->findChildren<QPushButton*>(QStringLiteral("start-recent"));
    ASSERT_EQ(tiles.size(), 3);
    const auto says = [&](int tile, const char* words) { return tiles[tile]->accessibleName().contains(QString::fromUtf8(words)); };
    EXPECT_TRUE(wait([&] { return says(1, "last at Story"); }));
    EXPECT_TRUE(says(0, "cannot be read"));
    EXPECT_TRUE(says(1, "9 readings") && says(1, "Rope braider")) << tiles[1]->accessibleName().toStdString();
    EXPECT_TRUE(says(2, "taken in: dead, bang") && says(2, "last at Trace")) << tiles[2]->accessibleName().toStdString();
}

TEST_F(Glances, StartPageLeadsIntoAJob) {
    auto* page = find<StartPage>("start-page");
    ASSERT_NE(page, nullptr);
    EXPECT_TRUE(page->isVisible());
    click("start-demo");
    ASSERT_TRUE(settled());
    EXPECT_FALSE(page->isVisible());
    EXPECT_TRUE(find<QLabel>("unit-title")->text().contains(QStringLiteral("braider")));
    find<QAction>("action-start")->trigger();
    EXPECT_TRUE(page->isVisible());
    EXPECT_TRUE(page->findChild<QPushButton*>(QStringLiteral("start-recent")) != nullptr);
}
