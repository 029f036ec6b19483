// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/board_sketch.h"

#include "board/mains_side.h"
#include "job/blueprints.h"
#include "support/demo.h"
#include "support/fakes.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

// Ten families and boards that resemble none: nothing over another, nothing off the board, the mains side left of the barrier.
TEST(BoardSketch, EverythingStandsBesideTheOthers) {
    std::vector<Board> boards;
    for (const auto name : blueprint_names()) {
        const auto blueprint = read_blueprint(reader(), RealDisk(), blueprint_path(data(), name));
        ASSERT_TRUE(blueprint) << name;
        if (!blueprint->job.board.parts.empty()) boards.push_back(blueprint->job.board);
    }
    for (const char* name : {"spool-counter", "winch-brake", "spindle-link", "tension-gauge", "pattern-reader"})
        boards.push_back(foreign(name).board);
    int with_barrier = 0;
    for (const auto& b : boards) {
        const Sketch sketch = sketch_board(b);
        ASSERT_GT(sketch.parts.size(), 8u) << b.name;
        const QRectF all(QPointF(0, 0), sketch.size);
        const auto mains = nets_on_mains(b);
        for (std::size_t i = 0; i < sketch.parts.size(); ++i) {
            const auto& p = sketch.parts[i];
            EXPECT_TRUE(all.contains(p.at)) << b.name << " " << b.part(p.part).ref;
            for (std::size_t j = i + 1; j < sketch.parts.size(); ++j)
                EXPECT_FALSE(p.at.intersects(sketch.parts[j].at)) << b.part(p.part).ref << " " << b.part(sketch.parts[j].part).ref;
            bool hot = false;
            for (const auto& pin : b.part(p.part).pins) hot |= mains[static_cast<std::size_t>(pin.id)] != 0;
            if (sketch.barrier >= 0) EXPECT_EQ(hot, p.at.right() < sketch.barrier) << b.part(p.part).ref;
        }
        with_barrier += sketch.barrier >= 0;
        EXPECT_EQ(sketch.on_mains, b.mains.has_value());
        EXPECT_GT(sketch.size.width(), sketch.size.height()) << b.name;
        ThemeSource themes;
        BoardSketch widget(themes);
        widget.resize(400, 200);
        const QImage empty = widget.grab().toImage();
        widget.show_board(b);
        EXPECT_NE(widget.grab().toImage(), empty) << b.name;
    }
    EXPECT_GE(with_barrier, 7);
}
