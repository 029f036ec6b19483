// SPDX-License-Identifier: GPL-3.0-or-later
// What the map says, as it is painted: inside its tile, over nothing else, as large as it is read at arm's length.
#include "gui/painted_text.h"
#include "gui/window_driver.h"

#include "design/design.h"
#include "support/designs.h"

#include "gui/map/map_painter.h"
#include "gui/map/map_view.h"
#include "gui/text_fit.h"

#include <cmath>
#include <random>

using namespace ohmo;
using namespace ohmo::test;

namespace {

constexpr double kRefPixels = 13, kLeastPixels = 11; // at 100 % text

void expect_apart(const std::vector<PaintedText>& texts, const std::string& where) {
    for (std::size_t i = 0; i < texts.size(); ++i)
        for (std::size_t k = 0; k < i; ++k) {
            const QRectF shared = texts[i].box & texts[k].box;
            EXPECT_FALSE(shared.width() > 0.5 && shared.height() > 0.5)
                << where << ": " << texts[i].text.toStdString() << " over " << texts[k].text.toStdString();
        }
}

void expect_legible(const std::vector<PaintedText>& texts, double scale, const std::string& where) {
    for (const auto& each : texts)
        EXPECT_GE(each.pixels, kLeastPixels * scale - 0.51) << where << ": " << each.text.toStdString(); // whole pixels
}

// The steps of a chain: every number in its circle, if it stands in one. How many do.
int expect_in_their_circles(const TextRecorder& painted, const std::string& where) {
    int numbers = 0;
    for (const auto& each : painted.texts())
        for (const auto& circle : painted.circles())
            if (each.bold && each.text.toInt() > 0 && circle.contains(each.box.center())) {
                const QPointF corner(std::max(circle.center().x() - each.box.left(), each.box.right() - circle.center().x()),
                                     std::max(circle.center().y() - each.box.top(), each.box.bottom() - circle.center().y()));
                EXPECT_LE(std::hypot(corner.x(), corner.y()), circle.width() / 2) << where << ": " << each.text.toStdString();
                for (const auto& other : painted.texts()) // the strip at the foot covers what goes on below it
                    EXPECT_TRUE(&other == &each || other.text.contains(u" · W ") || !circle.adjusted(1, 1, -1, -1).intersects(other.box))
                        << where << ": " << each.text.toStdString() << " over " << other.text.toStdString();
                ++numbers;
            }
    return numbers;
}

// The strip at the foot of the map is painted over what goes on below it.
std::vector<PaintedText> above_the_foot(std::vector<PaintedText> texts) {
    const auto foot = std::find_if(texts.begin(), texts.end(), [](const PaintedText& each) { return each.text.contains(u" · W "); });
    if (foot == texts.end()) return texts;
    const double top = foot->box.top();
    std::erase_if(texts, [&](const PaintedText& each) { return each.box.bottom() > top - 4; });
    return texts;
}

class MapText : public WindowTest {
protected:
    // This board as it is painted with some of its parts open.
    void look_at(const Job& job, unsigned seed, double share, double text) {
        session->set_job(job);
        const Board& board = session->replay().board;
        std::mt19937 random(seed);
        MapFocus focus;
        focus.view = {846, 460};
        focus.text = text;
        for (std::size_t i = 0; i < board.parts.size(); ++i) focus.open.push_back(std::bernoulli_distribution(share)(random) ? 1 : 0);
        const auto layout = lay_out_focus(board, find_roles(board), focus);
        TextRecorder recorder(layout.size.toSize());
        {
            QPainter painter(&recorder);
            paint_map(painter, {layout, *session, themes.theme(), -1, {}});
        }
        const std::string where = board.name + " " + std::to_string(text);
        ASSERT_FALSE(recorder.texts().empty()) << where;
        expect_apart(recorder.texts(), where);
        expect_legible(recorder.texts(), text, where);
        std::vector<QRectF> boxes;
        for (const auto& tile : layout.tiles) boxes.push_back(tile.box);
        for (const auto& fold : layout.folds) boxes.push_back(fold.box);
        for (const auto& pill : layout.pills) boxes.push_back(pill.box);
        for (const auto& each : recorder.texts())
            for (const auto& box : boxes)
                if (box.intersects(each.box))
                    EXPECT_TRUE(box.adjusted(-0.5, -0.5, 0.5, 0.5).contains(each.box)) << where << ": " << each.text.toStdString();
        for (const auto& tile : layout.tiles) {
            const auto name = std::find_if(recorder.texts().begin(), recorder.texts().end(),
                                           [&](const PaintedText& each) { return tile.box.contains(each.box.center()); });
            ASSERT_NE(name, recorder.texts().end()) << where << " " << board.part(tile.parts.front()).ref;
            if (name->bold) EXPECT_GE(name->pixels, kRefPixels * text - 0.51) << where << ": " << name->text.toStdString();
        }
    }
};

} // namespace

TEST(TextFit, BreaksWhereNamesHaveTheirJoints) {
    const QFontMetricsF metrics(QFont(QStringLiteral("B612"), 13));
    const auto wide = [&](const char* text) { return metrics.horizontalAdvance(QString::fromLatin1(text)) + 1; };
    const auto fitted = [&](const char* text, double width, int most) { return in_lines(QString::fromLatin1(text), metrics, width, most); };
    EXPECT_EQ(fitted("C5", wide("C5"), 2), QStringList({QStringLiteral("C5")}));
    EXPECT_EQ(fitted("main-bulk-capacitor", wide("capacitor"), 3),
              QStringList({QStringLiteral("main-"), QStringLiteral("bulk-"), QStringLiteral("capacitor")}));
    EXPECT_EQ(fitted("-12V reservoir", wide("reservoir"), 2), QStringList({QStringLiteral("-12V"), QStringLiteral("reservoir")}));
    for (const char* name : {"controller-supply-capacitor", "Rectifierheatsinkscrew", "a b c d e f g h", "-"})
        for (const double width : {10.0, 40.0, 90.0})
            for (const int most : {1, 2, 3}) {
                const auto lines = fitted(name, width, most);
                EXPECT_LE(lines.size(), most);
                for (const auto& line : lines)
                    EXPECT_LE(metrics.horizontalAdvance(line), std::max(width, metrics.horizontalAdvance(QChar(0x2026))))
                        << name << " " << width;
            }
}

TEST_F(MapText, KeepsToItsTileOnEveryBoard) {
    for (const char* name : {"rb6-half-way", "gl1-adapter", "tl12-half-bridge", "bd2-self-oscillating", "cr8-buck", "fc1-inverter",
                             "sw3-flyback-integrated", "fd1-linear", "tm4-ac-fed-split", "rb6-rail"})
        for (const double text : {0.8, 1.0, 1.5, 2.0}) look_at(demo(name), 3, 0.3, text);
}

// The name of a track stands where its track goes, and that is often just below the tile where a lead is to go.
TEST_F(MapText, LeavesTheNeedlesClear) {
    std::size_t needles = 0, names = 0;
    for (const char* name : {"rb6-half-way", "rb6-rail", "fc1-inverter", "tl12-half-bridge"}) {
        session->set_job(demo(name));
        const Board& board = session->replay().board;
        for (int part = 0; part < static_cast<int>(board.parts.size()); ++part) {
            const auto& pins = board.part(part).pins;
            if (pins.size() != 2) continue;
            MapFocus focus;
            focus.view = {846, 460};
            focus.text = 1;
            std::mt19937 random(static_cast<unsigned>(part));
            for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
                focus.open.push_back(i == part || std::bernoulli_distribution(board.part(i).touches(pins[0].id) ? 0.5 : 0.1)(random));
            const auto layout = lay_out_focus(board, find_roles(board), focus);
            TextRecorder recorder(layout.size.toSize());
            {
                QPainter painter(&recorder);
                paint_map(painter, {.layout = layout,
                                    .session = *session,
                                    .theme = themes.theme(),
                                    .chain = {},
                                    .leads = {.part = part,
                                              .red = pins[0].id,
                                              .black = pins[1].id,
                                              .red_pin = QString::fromStdString(pins[0].role),
                                              .black_pin = QString::fromStdString(pins[1].role)}});
            }
            for (const auto& needle : recorder.triangles()) {
                ++needles;
                for (const auto& each : recorder.texts())
                    EXPECT_FALSE(each.box.intersects(needle.adjusted(-3, 1, 3, -1)))
                        << name << " " << board.part(part).ref << ": " << each.text.toStdString();
            }
            for (const auto& each : recorder.texts())
                for (const auto& pin : pins) names += each.text.toStdString() == board.net_name(pin.id) ? 1 : 0;
        }
    }
    EXPECT_GT(needles, 100U);
    EXPECT_GT(names, 50U);
}

// The refs of parts that were traced on a designed board are the names of their roles.
TEST_F(MapText, KeepsToItsTileOnDesignedBoards) {
    unsigned seed = 0;
    for (const auto& one : designed_supplies()) {
        const auto design = design_supply(one.supply);
        ASSERT_TRUE(design) << one.name;
        Job job = demo("rb6-fresh");
        job.journal.clear();
        job.board = design->draft;
        job.board.name = one.name;
        ++seed;
        for (auto& part : job.board.parts) part.assumed = seed % 4 == 0;
        look_at(job, seed, 0.3, seed % 2 == 0 ? 1 : 1.5);
    }
}

// With verdicts, leads and the story's arrows, half way through a job.
TEST_F(MapText, OfTheWindowIsReadAtArmsLength) {
    open("/jobs/half.ohmo.json");
    for (const int percent : {80, 100, 150, 200}) {
        themes.apply(false, percent);
        for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(1920, 1080)}) {
            window->resize(size);
            for (const char* station : {"probe", "story", "trace"}) {
                window->go_to(QString::fromLatin1(station));
                QApplication::processEvents();
                const auto* page = find<QWidget>((std::string("station-") + station).c_str());
                auto* map = page->findChild<MapView*>();
                ASSERT_TRUE(map != nullptr && map->isVisible()) << station;
                TextRecorder recorder(map->size());
                map->render(&recorder, {}, {}, QWidget::DrawWindowBackground);
                const std::string where = std::string(station) + " " + std::to_string(percent) + " % " + std::to_string(size.width());
                ASSERT_FALSE(recorder.texts().empty()) << where;
                expect_apart(above_the_foot(recorder.texts()), where);
                if (station == std::string("story")) {
                    auto* chain = find<QWidget>("chain");
                    TextRecorder steps(chain->size());
                    chain->render(&steps);
                    EXPECT_GT(expect_in_their_circles(recorder, where + ", map"), 0);
                    EXPECT_GT(expect_in_their_circles(steps, where + ", chain"), 1);
                }
                if (station != std::string("trace"))
                    expect_legible(recorder.texts(), (13 * percent / 100) / 13.0, where); // it has the whole board
            }
        }
    }
    themes.apply(false, 100);
}
