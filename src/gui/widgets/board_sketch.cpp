// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/board_sketch.h"

#include "board/mains_side.h"

#include <QPainter>

#include <algorithm>
#include <array>
#include <cmath>
#include <string_view>

namespace ohmo {
namespace {

constexpr double kGap = 1.6, kEdge = 3, kBarrier = 5; // millimetres
constexpr double kAspect = 2.1;                       // of the board

// What stands together.
constexpr std::array<std::array<std::string_view, 3>, 5> kBlocks = {{{"mains-in", "filter", ""},
                                                                     {"rectify", "bulk", "switch"},
                                                                     {"control", "barrier", ""},
                                                                     {"rectify-out", "smooth", ""},
                                                                     {"feedback", "rails", ""}}};

std::size_t block_of(const std::string& stage) {
    for (std::size_t b = 0; b < kBlocks.size(); ++b)
        if (std::find(kBlocks[b].begin(), kBlocks[b].end(), stage) != kBlocks[b].end() && !stage.empty()) return b;
    return kBlocks.size() - 1;
}

double footprint(const Sketch::Placed& p) { return (p.package.length + kGap) * (p.package.width + kGap + (p.package.cooled ? 3 : 0)); }
double height_of(const Package& p) { return p.width + (p.cooled ? 3 : 0); }

// In rows as wide as `width`, largest first; gives the height.
double fill_rows(std::vector<Sketch::Placed>& parts, double width) {
    double x = 0, y = 0, row = 0;
    for (auto& p : parts) {
        const double w = p.package.length, h = height_of(p.package);
        if (x > 0 && x + w > width) {
            y += row + kGap;
            x = row = 0;
        }
        p.at = QRectF(x, y, w, h);
        x += w + kGap;
        row = std::max(row, h);
    }
    return y + row;
}

} // namespace

Sketch sketch_board(const Board& board) {
    std::array<std::vector<Sketch::Placed>, 2 * kBlocks.size()> blocks; // of the mains side, then of the other
    const auto mains = nets_on_mains(board);
    const auto on_mains = [&](const Part& part) {
        return std::any_of(part.pins.begin(), part.pins.end(),
                           [&](const Pin& pin) { return mains[static_cast<std::size_t>(pin.id)] != 0; });
    };
    double area = 0;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Sketch::Placed placed{i, package_of(board, i), {}, is_diode_like(board.part(i).kind)};
        if (placed.package.body == Body::None) continue;
        area += footprint(placed);
        const Part& part = board.part(i);
        blocks[block_of(part.stage) + (board.mains && !on_mains(part) ? kBlocks.size() : 0)].push_back(placed);
    }
    Sketch out;
    out.on_mains = board.mains.has_value();
    const double most = std::max(20.0, std::sqrt(area * 1.25 / kAspect));
    double x = kEdge, height = 0;
    for (std::size_t b = 0; b < blocks.size(); ++b) {
        auto& parts = blocks[b];
        if (parts.empty()) continue;
        std::stable_sort(parts.begin(), parts.end(),
                         [](const auto& l, const auto& r) { return height_of(l.package) > height_of(r.package); });
        double width = 0;
        for (const auto& p : parts) width = std::max(width, p.package.length);
        while (fill_rows(parts, width) > most) width += 1;
        if (b >= kBlocks.size() && out.barrier < 0 && x > kEdge) {
            x += kBarrier;
            out.barrier = x - (kBarrier + kGap) / 2;
        }
        double right = x;
        for (auto& p : parts) {
            p.at.translate(x, kEdge);
            right = std::max(right, p.at.right());
            height = std::max(height, p.at.bottom());
            out.parts.push_back(p);
        }
        x = right + kGap;
    }
    out.size = QSizeF(x - kGap + kEdge, height + kEdge);
    return out;
}

BoardSketch::BoardSketch(const ThemeSource& theme, QWidget* parent) : QWidget(parent), m_theme(theme) {
    setObjectName(QStringLiteral("board-sketch"));
    setAccessibleName(tr("What such a board looks like from above"));
    connect(&theme, &ThemeSource::changed, this, qOverload<>(&QWidget::update));
}

void BoardSketch::show_board(const Board& board) {
    m_sketch = sketch_board(board);
    update();
}

void BoardSketch::paintEvent(QPaintEvent*) {
    if (m_sketch.parts.empty()) return;
    const Theme& t = m_theme.theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double k = std::min((width() - 2) / m_sketch.size.width(), (height() - 2) / m_sketch.size.height());
    p.translate((width() - k * m_sketch.size.width()) / 2, (height() - k * m_sketch.size.height()) / 2);
    const QRectF outline(0, 0, k * m_sketch.size.width(), k * m_sketch.size.height());
    p.setPen(QPen(t.muted, 1.2));
    p.setBrush(m_sketch.on_mains ? t.hazardous : t.isolated);
    p.drawRoundedRect(outline, 4, 4);
    if (m_sketch.barrier >= 0) {
        p.setPen(Qt::NoPen);
        p.setBrush(t.isolated);
        p.drawRoundedRect(outline.adjusted(k * m_sketch.barrier, 1, -1, -1), 4, 4);
        p.setPen(QPen(t.hatch, 1.4, Qt::DashLine));
        p.drawLine(QPointF(k * m_sketch.barrier, 2), QPointF(k * m_sketch.barrier, outline.height() - 2));
    }
    for (const auto& placed : m_sketch.parts) paint_part(p, placed, k);
}

void BoardSketch::paint_part(QPainter& p, const Sketch::Placed& placed, double k) const {
    const Theme& t = m_theme.theme();
    const QRectF box(placed.at.x() * k, placed.at.y() * k, placed.at.width() * k, placed.at.height() * k);
    const QPen edge(t.text, 1);
    p.setPen(edge);
    p.setBrush(t.panel);
    switch (placed.package.body) {
    case Body::Can:
        p.drawEllipse(box);
        p.setBrush(t.muted);
        p.drawChord(box, -50 * 16, 100 * 16); // the stripe along its minus
        break;
    case Body::Disc:
        p.setBrush(t.inset);
        p.drawRoundedRect(box, box.height() / 2, box.height() / 2);
        break;
    case Body::Rod: {
        const double leg = std::min(box.width() * 0.18, 4.0);
        p.drawLine(QPointF(box.left(), box.center().y()), QPointF(box.right(), box.center().y()));
        const QRectF body = box.adjusted(leg, 0, -leg, 0);
        p.drawRoundedRect(body, 1.5, 1.5);
        if (placed.ring) p.fillRect(QRectF(body.right() - body.width() * 0.28, body.top(), body.width() * 0.16, body.height()), t.text);
        break;
    }
    case Body::Tab: {
        const double sink = placed.package.cooled ? 3 * k : 0;
        if (sink > 0) {
            p.setBrush(t.line);
            p.drawRect(QRectF(box.left(), box.top(), box.width(), sink));
        }
        p.setBrush(t.text);
        p.drawRect(box.adjusted(0, sink, 0, 0));
        break;
    }
    case Body::Legs:
        p.setBrush(t.text);
        p.drawChord(box, 0, 180 * 16);
        break;
    case Body::Chip: {
        p.setBrush(t.text);
        p.drawRect(box.adjusted(0, box.height() * 0.16, 0, -box.height() * 0.16));
        for (double x = box.left() + 2; x < box.right() - 1; x += std::max(3.0, 2.54 * k)) {
            p.drawLine(QPointF(x, box.top()), QPointF(x, box.top() + box.height() * 0.16));
            p.drawLine(QPointF(x, box.bottom() - box.height() * 0.16), QPointF(x, box.bottom()));
        }
        break;
    }
    case Body::Core: {
        p.setBrush(t.inset);
        p.drawRect(box);
        const QRectF coil = box.adjusted(box.width() * 0.16, -1, -box.width() * 0.16, 1);
        p.setBrush(t.suspect_fill);
        p.drawRect(coil);
        for (double x = coil.left() + 3; x < coil.right() - 1; x += 4)
            p.drawLine(QPointF(x, coil.top() + 2), QPointF(x, coil.bottom() - 2));
        break;
    }
    case Body::Ring: {
        p.setBrush(t.suspect_fill);
        p.drawEllipse(box);
        const QPointF middle = box.center();
        const double r = box.width() / 2;
        for (int turn = 0; turn < 14; ++turn) {
            const double a = turn * 2 * M_PI / 14;
            p.drawLine(middle + QPointF(std::cos(a), std::sin(a)) * r * 0.42, middle + QPointF(std::cos(a), std::sin(a)) * r);
        }
        p.setBrush(m_sketch.on_mains && (m_sketch.barrier < 0 || placed.at.x() < m_sketch.barrier) ? t.hazardous : t.isolated);
        p.drawEllipse(middle, r * 0.42, r * 0.42);
        break;
    }
    case Body::Tube:
        p.drawRoundedRect(box, box.height() / 3, box.height() / 3);
        p.fillRect(QRectF(box.left(), box.top(), box.width() * 0.2, box.height()), t.muted);
        p.fillRect(QRectF(box.right() - box.width() * 0.2, box.top(), box.width() * 0.2, box.height()), t.muted);
        p.drawLine(QPointF(box.left(), box.center().y()), QPointF(box.right(), box.center().y()));
        break;
    case Body::Terminals:
        p.setBrush(t.inset);
        p.drawRect(box);
        p.setBrush(t.text);
        for (double x = box.left() + 3 * k; x < box.right() - k; x += 6 * k) p.drawEllipse(QPointF(x, box.center().y()), 1.4 * k, 1.4 * k);
        break;
    case Body::Box:
        p.drawRect(box);
        break;
    case Body::None:
        break;
    }
}

} // namespace ohmo
