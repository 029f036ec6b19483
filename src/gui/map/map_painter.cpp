// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts read without colour: a filled square with a cross and a heavy edge is bad, a slanted notch and a dashed edge is suspect, a tick
// and a plain edge is good, a ring is renewed, a faint dotted edge is assumed.
#include "gui/map/map_painter.h"

#include "base/engineering.h"
#include "board/nominal.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace ohmo {
namespace {

class Painter {
public:
    Painter(QPainter& painter, const MapPicture& picture)
        : p(painter), m(picture), t(picture.theme), m_board(picture.session.replay().board) {}

    void run() {
        areas();
        wires();
        chain(true); // arrows pass beneath the tiles between two steps
        for (const auto& tile : m.layout.tiles) paint_tile(tile);
        for (const auto& pill : m.layout.pills) paint_pill(pill);
        chain(false);
        leads();
    }

private:
    const Analysis* analysis() const { return m.session.analysis().get(); }

    QFont font(double size, bool bold) const {
        QFont f(QStringLiteral("B612"));
        f.setPixelSize(static_cast<int>(std::lround(size)));
        f.setBold(bold);
        return f;
    }

    void areas() {
        p.setPen(Qt::NoPen);
        p.setBrush(t.isolated);
        p.drawRect(m.layout.cold_area);
        p.setBrush(t.hazardous);
        p.drawRect(m.layout.hot_area);
        if (!m.layout.barrier.isNull()) {
            p.setBrush(t.panel);
            p.drawRect(m.layout.barrier);
            const QRectF b = m.layout.barrier;
            p.save();
            p.setClipRect(b);
            p.setPen(QPen(t.hatch, 3));
            for (double x = b.left() - b.height(); x < b.right(); x += 16)
                p.drawLine(QPointF(x, b.bottom()), QPointF(x + b.height(), b.top()));
            p.restore();
            p.setPen(Qt::NoPen);
        }
        p.setFont(font(12, true));
        p.setPen(t.muted);
        for (const auto& region : m.layout.regions) {
            if (m.layout.barrier.contains(region.box.center())) { // keeps its title off the hatching
                const double w = QFontMetricsF(p.font()).horizontalAdvance(region.title);
                p.setPen(Qt::NoPen);
                p.setBrush(t.panel);
                p.drawRect(QRectF(region.box.left() - 4, region.box.top() + 3, w + 8, region.box.height() - 6));
                p.setPen(t.muted);
            }
            p.drawText(region.box, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextDontClip, region.title);
        }
    }

    bool on_selected(NetId net) const {
        if (m.selected < 0 || m.selected >= static_cast<int>(m_board.parts.size())) return false;
        for (const auto& pin : m_board.part(m.selected).pins)
            if (pin.id == net) return true;
        return false;
    }

    void wires() {
        p.setBrush(Qt::NoBrush);
        for (int pass = 0; pass < 2; ++pass)
            for (const auto& wire : m.layout.wires) {
                const bool chosen = on_selected(wire.net);
                const bool back = m.layout.is_return[static_cast<std::size_t>(wire.net)] != 0;
                if (chosen != (pass == 1) || (back && !chosen)) continue;
                QColor colour = wire.hot ? t.hot_wire : t.cold_wire;
                if (!chosen && !wire.main) colour.setAlphaF(0.5F);
                if (back) colour.setAlphaF(0.55F);
                QPen pen(colour, chosen ? 3.0 : wire.main ? 2.6 : 1.4);
                if (back) pen.setStyle(Qt::DashLine);
                p.setPen(pen);
                p.drawPath(wire.path);
            }
    }

    int worst_of(const MapTile& tile) const {
        int worst = tile.parts.front();
        if (analysis() == nullptr) return worst;
        double bad = -1;
        for (int part : tile.parts)
            if (const double b = analysis()->assessment.of(part).bad; b > bad + 0.02) {
                bad = b;
                worst = part;
            }
        return worst;
    }

    Standing standing(int part) const {
        const auto* a = analysis();
        return a != nullptr && part < static_cast<int>(a->standing.size()) ? a->standing[static_cast<std::size_t>(part)]
                                                                           : Standing::Unknown;
    }

    void paint_tile(const MapTile& tile) {
        const int worst = worst_of(tile);
        const auto& part = m_board.part(worst);
        const Standing stands = standing(worst);
        const bool chosen = std::find(tile.parts.begin(), tile.parts.end(), m.selected) != tile.parts.end();
        const QRectF box = tile.box;

        QColor edge = t.line, fill = t.panel;
        Qt::PenStyle style = Qt::SolidLine;
        double width = 1.2;
        switch (stands) {
        case Standing::Bad:
            edge = t.bad, fill = t.bad_fill, width = 3.2;
            break;
        case Standing::Suspect:
            edge = t.suspect, style = Qt::DashLine, width = 2.0;
            break;
        case Standing::Good:
            edge = t.good, width = 1.6;
            break;
        case Standing::Renewed:
            edge = t.accent, width = 2.0;
            break;
        case Standing::Unknown:
            break;
        }
        if (part.assumed && stands != Standing::Bad) style = Qt::DotLine;
        p.setBrush(fill);
        p.setPen(QPen(edge, width, style));
        p.drawRoundedRect(box, 5, 5);
        if (chosen) {
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(t.accent, 3));
            p.drawRoundedRect(box.adjusted(-3, -3, 3, 3), 7, 7);
        }
        tile_text(tile, worst, box);
        mark(stands, QPointF(box.right() - 13, box.top() + 12));
        if (analysis() != nullptr) {
            const double bad = analysis()->assessment.of(worst).bad;
            const QRectF bar(box.left() + 8, box.bottom() - 7, box.width() - 16, 3);
            p.setPen(Qt::NoPen);
            p.setBrush(t.inset);
            p.drawRect(bar);
            if (bad > 0.004) {
                p.setBrush(stands == Standing::Bad ? t.bad : stands == Standing::Suspect ? t.suspect : t.muted);
                p.drawRect(QRectF(bar.topLeft(), QSizeF(std::max(2.0, bar.width() * bad), bar.height())));
            }
        }
    }

    void tile_text(const MapTile& tile, int worst, const QRectF& box) {
        const auto& part = m_board.part(worst);
        const QRectF top = box.adjusted(8, 4, -22, -26), low = box.adjusted(8, 19, -4, -9);
        p.setPen(part.assumed ? t.muted : t.text);
        if (part.assumed) { // nobody has seen it: its role is its name
            p.setFont(font(11, false));
            const QString role = qs(wording::part_role(part));
            p.drawText(box.adjusted(8, 5, -20, -10), Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, role);
            return;
        }
        p.setFont(font(14, true));
        QString refs = qs(part.ref);
        const QFontMetricsF metrics(p.font());
        for (int other : tile.parts)
            if (other != worst) {
                const QString longer = refs + QLatin1Char(' ') + qs(m_board.part(other).ref);
                refs = metrics.horizontalAdvance(longer) <= top.width() ? longer
                       : refs.endsWith(QChar(0x2026))                   ? refs
                                                                        : refs + QChar(0x2026);
            }
        p.drawText(top, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextDontClip, refs);
        p.setFont(font(11, false));
        p.setPen(t.muted);
        QString value = qs(nominal_text(part));
        if (value.isEmpty()) value = qs(wording::part_role(part));
        p.drawText(low, Qt::AlignLeft | Qt::AlignVCenter, QFontMetricsF(p.font()).elidedText(value, Qt::ElideRight, low.width()));
    }

    void mark(Standing stands, QPointF at) {
        switch (stands) {
        case Standing::Bad:
            p.setPen(Qt::NoPen);
            p.setBrush(t.bad);
            p.drawRect(QRectF(at.x() - 7, at.y() - 7, 14, 14));
            p.setPen(QPen(t.panel, 2));
            p.drawLine(at + QPointF(-3.5, -3.5), at + QPointF(3.5, 3.5));
            p.drawLine(at + QPointF(-3.5, 3.5), at + QPointF(3.5, -3.5));
            break;
        case Standing::Suspect: {
            p.setPen(Qt::NoPen);
            p.setBrush(t.suspect);
            const QPointF slant[] = {at + QPointF(-6, 6), at + QPointF(-1, -6), at + QPointF(6, -6), at + QPointF(1, 6)};
            p.drawPolygon(slant, 4);
            break;
        }
        case Standing::Good:
            p.setPen(QPen(t.good, 2.4, Qt::SolidLine, Qt::RoundCap));
            p.drawPolyline(QPolygonF({at + QPointF(-5, 0), at + QPointF(-1.5, 4), at + QPointF(5, -5)}));
            break;
        case Standing::Renewed:
            p.setPen(QPen(t.accent, 2.4));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(at, 5, 5);
            break;
        case Standing::Unknown:
            break;
        }
    }

    // Last cold reading between the rail and its return.
    QString rail_reading(const Rail& rail) const {
        QString text;
        for (const auto& o : m.session.replay().evidence.observations)
            if (o.kind == Seen::Reading && o.query.what == Quantity::Ohms && o.query.alone < 0 && o.query.red == rail.net_id &&
                o.query.black == rail.return_id)
                text = qs(wording::reading(Quantity::Ohms, o.value, o.over, o.rising));
        for (const auto& [net, volts] : m.session.replay().live)
            if (net == rail.net) text = qs(format_quantity(volts, "V"));
        return text;
    }

    void paint_pill(const MapPill& pill) {
        const auto& rail = m_board.rails[static_cast<std::size_t>(pill.rail)];
        const QRectF box = pill.box;
        p.setBrush(t.panel);
        p.setPen(QPen(t.cold_wire, 2));
        p.drawRoundedRect(box, box.height() / 2, box.height() / 2);
        p.setPen(t.text);
        p.setFont(font(13, true));
        p.drawText(box.adjusted(6, 4, -6, -21), Qt::AlignCenter, qs(rail.net));
        p.setFont(font(11, false));
        p.setPen(t.muted);
        const QString reading = rail_reading(rail);
        p.drawText(box.adjusted(4, 21, -4, -5), Qt::AlignCenter, reading.isEmpty() ? QStringLiteral("not read") : reading);
    }

    // Two needle tips that point at the tile: red and black lead.
    void leads() {
        if (m.leads < 0 || m.leads >= static_cast<int>(m.layout.tile_of.size())) return;
        const QRectF box = m.layout.tiles[static_cast<std::size_t>(m.layout.tile_of[static_cast<std::size_t>(m.leads)])].box;
        const auto needle = [&](double x, const QColor& colour) {
            const QPointF tip(x, box.bottom() - 1);
            const QPointF shape[] = {tip, tip + QPointF(-6, 15), tip + QPointF(6, 15)};
            p.setPen(QPen(t.dark ? t.text : t.panel, 1.5));
            p.setBrush(colour);
            p.drawPolygon(shape, 3);
        };
        needle(box.left() + 22, QColor(0xd0281a));
        needle(box.right() - 22, QColor(Qt::black));
    }

    void chain(bool arrows) {
        std::vector<QRectF> boxes;
        for (const auto& step : m.chain) {
            const int tile = step.fault.part < static_cast<int>(m.layout.tile_of.size())
                                 ? m.layout.tile_of[static_cast<std::size_t>(step.fault.part)]
                                 : -1;
            boxes.push_back(tile >= 0 ? m.layout.tiles[static_cast<std::size_t>(tile)].box : QRectF());
        }
        for (std::size_t i = 1; arrows && i < boxes.size(); ++i)
            if (boxes[i] != boxes[i - 1] && m.chain[i].cause != Cause::Independent) arrow(boxes[i - 1], boxes[i]);
        if (arrows) return;
        std::map<double, int> used; // badges already on one tile
        for (std::size_t i = 0; i < boxes.size(); ++i) {
            const double key = boxes[i].left() * 10000 + boxes[i].top();
            badge(boxes[i].topLeft() + QPointF(-3 + 20 * used[key]++, -6), static_cast<int>(i) + 1);
        }
    }

    void arrow(const QRectF& a, const QRectF& b) {
        const QPointF from = a.center(), to = b.center();
        const QPointF d = to - from;
        const double length = std::hypot(d.x(), d.y());
        if (length < 1) return;
        const QPointF unit = d / length, normal(-unit.y(), unit.x());
        const auto leave = [](const QRectF& r, QPointF u) {
            return std::min(std::fabs(u.x()) > 1e-6 ? r.width() / 2 / std::fabs(u.x()) : 1e9,
                            std::fabs(u.y()) > 1e-6 ? r.height() / 2 / std::fabs(u.y()) : 1e9);
        };
        const QPointF start = from + unit * leave(a, unit), end = to - unit * (leave(b, unit) + 4);
        const QPointF bend = (start + end) / 2 + normal * std::min(26.0, length * 0.15);
        QPainterPath path(start);
        path.quadTo(bend, end);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(t.panel, 6, Qt::SolidLine, Qt::RoundCap));
        p.drawPath(path);
        p.setPen(QPen(t.bad, 2.6, Qt::SolidLine, Qt::RoundCap));
        p.drawPath(path);
        QPointF back = bend - end;
        back /= std::max(1.0, std::hypot(back.x(), back.y()));
        const QPointF side(-back.y(), back.x());
        p.setBrush(t.bad);
        p.setPen(Qt::NoPen);
        const QPointF head[] = {end, end + back * 12 + side * 5, end + back * 12 - side * 5};
        p.drawPolygon(head, 3);
    }

    void badge(QPointF at, int number) {
        const QRectF box(at.x() - 9, at.y() - 9, 18, 18);
        p.setPen(QPen(t.panel, 1.5));
        p.setBrush(t.bad);
        p.drawEllipse(box);
        p.setPen(t.dark ? t.window : QColor(Qt::white));
        p.setFont(font(12, true));
        p.drawText(box, Qt::AlignCenter, QString::number(number));
    }

    QPainter& p;
    const MapPicture& m;
    const Theme& t;
    const Board& m_board;
};

} // namespace

void paint_map(QPainter& painter, const MapPicture& picture) { Painter(painter, picture).run(); }

} // namespace ohmo
