// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts read without colour: a filled square with a cross and a heavy edge is bad, a slanted notch and a dashed edge is suspect, a tick
// and a plain edge is good, a ring is renewed, a faint dotted edge is assumed.
#include "gui/map/map_painter.h"

#include "base/engineering.h"
#include "board/nominal.h"
#include "gui/text.h"
#include "gui/text_fit.h"
#include "report/wording.h"

#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace ohmo {
namespace {

constexpr double kLane = 7, kLanesApart = 5, kGapBelow = 7;  // px at 100 % text: beside and below tiles, where arrows run
constexpr double kNarrowFold = 80;                           // px at 100 % text: room for a number only
constexpr double kRef = 14, kValue = 11;                     // px of the layout of a whole board
constexpr double kOfStrip = 0.7;                             // of a heading's strip, its letters at the most
constexpr double kSmaller = 11.0 / 13, kSmallest = 9.0 / 13; // of what is legible for a ref: for a value, for a role of two lines

// A needle's tip below a tile, with the name of its pin.
struct Needle {
    QPointF tip;
    double k;
    bool left; // of the tile; its name stands towards the middle
    QString pin;
    QRectF name; // empty: not written
    QColor colour;

    QPolygonF shape() const { return {{tip, tip + QPointF(-6, 14) * k, tip + QPointF(6, 14) * k}}; }
    QRectF whole() const { return shape().boundingRect().united(name); }
};

class Painter {
public:
    Painter(QPainter& painter, const MapPicture& picture)
        : p(painter), m(picture), t(picture.theme), m_board(picture.session.replay().board) {}

    void run() {
        areas();
        if (m.wires) wires();
        chain(true); // arrows pass beneath the tiles between two steps
        for (const auto& tile : m.layout.tiles) paint_tile(tile);
        for (std::size_t f = 0; f < m.layout.folds.size(); ++f) paint_fold(m.layout.folds[f], static_cast<int>(f) == m.fold);
        for (const auto& pill : m.layout.pills) paint_pill(pill);
        chain(false);
        leads();
    }

private:
    const Analysis* analysis() const { return m.session.analysis().get(); }

    QFont font(double size, bool bold) const {
        QFont f(QStringLiteral("B612"));
        f.setPixelSize(static_cast<int>(std::lround(size * m.layout.text)));
        f.setBold(bold);
        return f;
    }

    // The whole board is drawn as small as it must be. Where a value could not be read any more, the ref stands alone, as large as it is
    // read at arm's length or as its tile lets it.
    bool refs_only() const { return !m.layout.folded && m.scale * kValue < m.legible * kSmaller - 0.5; }
    double on_screen(double share) const { return share * m.legible / m.scale; }

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
        p.setPen(t.muted);
        for (const auto& region : m.layout.regions) {
            p.setFont(font(m.layout.folded ? 11
                           : refs_only()   ? std::min(on_screen(kSmaller), kOfStrip * region.box.height())
                                           : 12,
                           !refs_only()));
            const QFontMetricsF metrics(p.font());
            if (m.layout.barrier.contains(region.box.center())) { // keeps its title off the hatching
                p.setPen(Qt::NoPen);
                p.setBrush(t.panel);
                p.drawRect(QRectF(region.box.left() - 4, region.box.top() + 3, metrics.horizontalAdvance(region.title) + 8,
                                  region.box.height() - 6));
                p.setPen(t.muted);
            }
            const QString title =
                m.layout.folded || refs_only() ? metrics.elidedText(region.title, Qt::ElideRight, region.box.width()) : region.title;
            if (title.size() > 2 || title == region.title)
                p.drawText(region.box, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextDontClip, title);
        }
    }

    bool lit(NetId net) const {
        if (net == m.lit || (m.leads.part >= 0 && (net == m.leads.red || net == m.leads.black))) return true;
        if (m.selected < 0 || m.selected >= static_cast<int>(m_board.parts.size())) return false;
        for (const auto& pin : m_board.part(m.selected).pins)
            if (pin.id == net) return true;
        return false;
    }

    void wires() {
        p.setBrush(Qt::NoBrush);
        bool any = false;
        for (const auto& wire : m.layout.wires) any = any || lit(wire.net);
        for (int pass = 0; pass < 2; ++pass)
            for (const auto& wire : m.layout.wires) {
                const bool chosen = lit(wire.net);
                const bool back = m.layout.is_return[static_cast<std::size_t>(wire.net)] != 0;
                if (chosen != (pass == 1) || (back && !chosen)) continue;
                QColor colour = wire.hot ? t.hot_wire : t.cold_wire;
                if (!chosen && (!wire.main || any)) colour.setAlphaF(any && !wire.main ? 0.3F : 0.5F);
                if (back) colour.setAlphaF(0.55F);
                QPen pen(colour, chosen ? 3.0 : wire.main ? 2.6 : 1.4);
                if (back) pen.setStyle(Qt::DashLine);
                p.setPen(pen);
                p.drawPath(wire.path);
            }
        if (!m.layout.folded) return;
        const auto tips = needles();
        for (const auto& wire : m.layout.wires)
            if (lit(wire.net)) name_of(wire, tips);
    }

    void name_of(const MapWire& wire, const std::vector<Needle>& tips) {
        const QString name = qs(m_board.net_name(wire.net));
        p.setFont(font(11, true));
        const QFontMetricsF metrics(p.font());
        const double w = metrics.horizontalAdvance(name) + 8, h = std::min(metrics.height(), 13.0 * m.layout.text);
        QRectF box(wire.label.x() - w / 2, wire.label.y() - h / 2, w, h);
        for (const auto& needle : tips)
            if (needle.whole().intersects(box)) {
                if (needle.left)
                    box.moveRight(needle.whole().left() - 1);
                else
                    box.moveLeft(needle.whole().right() + 1);
            }
        for (const auto& tile : m.layout.tiles)
            if (tile.box.intersects(box)) return; // no name over a tile's text
        for (const auto& fold : m.layout.folds)
            if (fold.box.intersects(box)) return;
        p.setPen(Qt::NoPen);
        p.setBrush(t.accent);
        p.drawRoundedRect(box, 3, 3);
        p.setPen(t.on_accent);
        p.drawText(box, Qt::AlignCenter, name);
    }

    // "9 more · 3 read fine"
    void paint_fold(const MapFold& fold, bool at) {
        int fine = 0;
        for (int part : fold.parts) fine += standing(part) == Standing::Good ? 1 : 0;
        const auto count = static_cast<int>(fold.parts.size());
        QString text = fold.open ? QObject::tr("put away") : QObject::tr("%1 more").arg(count);
        if (!fold.open && analysis() != nullptr && fine > 0)
            text += fine == count ? QObject::tr(" · fine") : QObject::tr(" · %1 fine").arg(fine);
        const double k = m.layout.text;
        if (!fold.open && fold.box.width() < kNarrowFold * k) text = QStringLiteral("+%1").arg(count);
        p.setBrush(t.panel);
        p.setPen(QPen(at ? t.accent : t.line, at ? 2.5 : 1.2));
        p.drawRoundedRect(fold.box, fold.box.height() / 2, fold.box.height() / 2);
        p.setPen(t.muted);
        p.setFont(font(11, false));
        const QRectF room = fold.box.adjusted(10 * k, 0, -18 * k, 0);
        p.drawText(room, Qt::AlignLeft | Qt::AlignVCenter, QFontMetricsF(p.font()).elidedText(text, Qt::ElideRight, room.width()));
        const QPointF tip(fold.box.right() - 10 * k, fold.box.center().y());
        p.setPen(QPen(t.muted, 1.8, Qt::SolidLine, Qt::RoundCap));
        p.setBrush(Qt::NoBrush);
        const double d = fold.open ? -3.5 * k : 3.5 * k;
        p.drawPolyline(QPolygonF({tip + QPointF(-d, -d), tip, tip + QPointF(-d, d)}));
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
        const double k = m.layout.text;
        p.save();
        p.translate(box.right() - 13 * k, box.top() + 13 * k);
        p.scale(k, k);
        mark(stands, {});
        p.restore();
        if (analysis() != nullptr) {
            const double bad = analysis()->assessment.of(worst).bad;
            const QRectF bar(box.left() + 8 * k, box.bottom() - 6 * k, box.width() - 16 * k, 3 * k);
            p.setPen(Qt::NoPen);
            p.setBrush(t.inset);
            p.drawRect(bar);
            if (bad > 0.004) {
                p.setBrush(stands == Standing::Bad ? t.bad : stands == Standing::Suspect ? t.suspect : t.muted);
                p.drawRect(QRectF(bar.topLeft(), QSizeF(std::max(2.0, bar.width() * bad), bar.height())));
            }
        }
    }

    // Left of a tile's mark, for the numbers of a chain.
    double badges_on(const MapTile& tile) const {
        const auto on = std::count_if(m.chain.begin(), m.chain.end(), [&](const Step& step) {
            return std::find(tile.parts.begin(), tile.parts.end(), step.fault.part) != tile.parts.end();
        });
        if (on == 0 || !m.layout.folded) return 0; // elsewhere they stand on the edge
        return (20.0 * static_cast<double>(on) + 4) * m.layout.text;
    }

    // As many lines as the room has, from its middle.
    void lines(const QRectF& room, const QString& text) {
        const QFontMetricsF metrics(p.font());
        const double line = metrics.ascent() + metrics.descent();
        const auto parts = in_lines(text, metrics, room.width(), std::max(1, static_cast<int>(room.height() / line)));
        const double top = room.center().y() - line * static_cast<double>(parts.size()) / 2;
        for (qsizetype i = 0; i < parts.size(); ++i)
            p.drawText(QRectF(room.left(), top + line * static_cast<double>(i), room.width(), line),
                       Qt::AlignLeft | Qt::AlignVCenter | Qt::TextDontClip, parts[i]);
    }

    void tile_text(const MapTile& tile, int worst, const QRectF& box) {
        const auto& part = m_board.part(worst);
        const double numbers = badges_on(tile);
        const double k = m.layout.text;
        const QRectF top = refs_only()       ? box.adjusted(6, 0, -20, -6)
                           : m.layout.folded ? box.adjusted(8 * k, 4 * k, -22 * k - numbers, -box.height() / 2)
                                             : box.adjusted(8, 4, -22, -26),
                     low = m.layout.folded ? box.adjusted(8 * k, box.height() / 2 - 3 * k, -4 * k, -9 * k) : box.adjusted(8, 19, -4, -9);
        p.setPen(part.assumed ? t.muted : t.text);
        if (part.assumed) { // nobody has seen it: its role is its name
            p.setFont(font(refs_only() ? on_screen(kSmallest) : 11, false));
            const QRectF room = refs_only() ? box.adjusted(4, 1, -4, -1) : box.adjusted(8 * k, 4 * k, -20 * k - numbers, -8 * k);
            lines(room, qs(wording::part_role(part)));
            return;
        }
        const Standing stands = standing(worst);
        p.setFont(font(m.layout.folded ? 15 : refs_only() ? std::min(on_screen(1), box.height() - 12) : kRef, true));
        if (m.layout.folded && QFontMetricsF(p.font()).horizontalAdvance(qs(part.ref)) > top.width()) {
            p.setFont(font(13, true));
            if (stands != Standing::Bad && stands != Standing::Renewed) { // a name rather than a ref: it needs the line of the value
                lines(box.adjusted(8 * k, 2 * k, -20 * k - numbers, -7 * k), qs(part.ref));
                return;
            }
        }
        const QFontMetricsF metrics(p.font());
        QString refs = metrics.elidedText(qs(part.ref), Qt::ElideMiddle, top.width());
        for (int other : tile.parts)
            if (other != worst) {
                const auto fits = [&](const QString& text) { return metrics.horizontalAdvance(text) <= top.width(); };
                const QString longer = refs + QLatin1Char(' ') + qs(m_board.part(other).ref), cut = refs + QChar(0x2026);
                if (fits(longer))
                    refs = longer;
                else if (!refs.endsWith(QChar(0x2026)) && fits(cut))
                    refs = cut;
            }
        p.drawText(top, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextDontClip, refs);
        if (refs_only()) return;
        p.setFont(font(m.layout.folded ? 12 : kValue, false));
        p.setPen(t.muted);
        QString value = qs(nominal_text(part));
        if (value.isEmpty()) value = qs(wording::part_role(part));
        if (m.layout.folded && stands == Standing::Bad) {
            p.setPen(t.text);
            value = qs(wording::mode(part.kind, analysis()->assessment.of(worst).leading.mode));
        }
        if (m.layout.folded && stands == Standing::Renewed) value = QObject::tr("renewed");
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
        const auto side = [&](NetId net) { return net < 0 ? net : m.session.replay().rail_sides[static_cast<std::size_t>(net)]; };
        const auto there = [&](const Observation& o) {
            const NetId red = side(o.query.red), black = side(o.query.black);
            return (red == rail.net_id && black == rail.return_id) || (red == rail.return_id && black == rail.net_id);
        };
        for (const auto& o : m.session.replay().evidence.observations)
            if (o.kind == Seen::Reading && o.query.what == Quantity::Ohms && o.query.alone < 0 && there(o))
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
        const double half = box.height() / 2;
        if (refs_only()) {
            p.setFont(font(std::min(on_screen(1), box.height() - 12), true));
            pill_text(box, qs(rail.net));
            return;
        }
        p.setFont(font(13, true));
        pill_text(box.adjusted(6, 4, -6, -half + 1), qs(rail.net));
        p.setFont(font(m.layout.folded ? 12 : 11, false));
        p.setPen(t.muted);
        const QString reading = rail_reading(rail);
        pill_text(box.adjusted(4, half - 1, -4, -5), reading.isEmpty() ? QObject::tr("not read") : reading);
    }

    void pill_text(const QRectF& room, const QString& text) {
        const QString fits = QFontMetricsF(p.font()).elidedText(text, Qt::ElideMiddle, room.width() - room.height() / 2); // round ends
        p.drawText(room, Qt::AlignCenter | Qt::TextDontClip, fits);
    }

    // Null where the part has no tile of its own.
    QRectF box_of(int part) const {
        if (part < 0 || part >= static_cast<int>(m.layout.tile_of.size())) return {};
        const int tile = m.layout.tile_of[static_cast<std::size_t>(part)];
        return tile < 0 ? QRectF() : m.layout.tiles[static_cast<std::size_t>(tile)].box;
    }

    // At the two ends of the tile; or each below the tile that has its pin.
    std::vector<Needle> needles() {
        const QRectF box = box_of(m.leads.part), red = box_of(m.leads.red_part), black = box_of(m.leads.black_part);
        if (box.isNull() || m.leads.red < 0) return {}; // to be looked at, not read
        const double k = m.layout.text;
        const QFontMetricsF metrics(font(11, true));
        const auto needle = [&](const QRectF& at, const QColor& colour, const QString& pin, bool left) {
            const double x = left ? at.left() + 14 * k : at.right() - 14 * k, w = metrics.horizontalAdvance(pin) + 6 * k;
            const bool named = !pin.isEmpty() && m.layout.folded;
            return Needle{.tip = {x, at.bottom() - 1},
                          .k = k,
                          .left = left,
                          .pin = pin,
                          .name = named ? QRectF(left ? x + 8 * k : x - 8 * k - w, at.bottom() + 1 * k, w, 13 * k) : QRectF(),
                          .colour = colour};
        };
        return {needle(red.isNull() ? box : red, QColor(0xd0281a), m.leads.red_pin, true),
                needle(black.isNull() ? box : black, QColor(Qt::black), m.leads.black_pin, false)};
    }

    void leads() {
        const QRectF box = box_of(m.leads.part);
        if (box.isNull()) return;
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(t.accent, 2.5));
        p.drawRoundedRect(box, 5, 5);
        for (const auto& needle : needles()) {
            p.setPen(QPen(t.dark ? t.text : t.panel, 1.5));
            p.setBrush(needle.colour);
            p.drawPolygon(needle.shape());
            if (needle.name.isEmpty()) continue;
            p.setPen(Qt::NoPen);
            p.setBrush(t.panel);
            p.drawRoundedRect(needle.name, 3, 3);
            p.setPen(t.text);
            p.setFont(font(11, true));
            p.drawText(needle.name, Qt::AlignCenter, needle.pin);
        }
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
            if (boxes[i] != boxes[i - 1] && !boxes[i].isNull() && !boxes[i - 1].isNull() && m.chain[i].cause != Cause::Independent)
                m.layout.folded ? lane(boxes[i - 1], boxes[i], static_cast<int>(i % 3)) : arrow(boxes[i - 1], boxes[i]);
        if (arrows) return;
        std::map<double, int> used; // badges already on one tile
        for (std::size_t i = 0; i < boxes.size(); ++i) {
            const double key = boxes[i].left() * 10000 + boxes[i].top();
            const double k = m.layout.text;
            const QPointF at = m.layout.folded ? boxes[i].topRight() + QPointF(-33 - 20 * used[key]++, 13) * k // beside the mark
                                               : boxes[i].topLeft() + QPointF(-3 + 20 * k * used[key]++, -6);
            badge(at, static_cast<int>(i) + 1);
        }
    }

    // Between the tiles: out of one's side, along the gap below it, into the other's side.
    void lane(const QRectF& a, const QRectF& b, int which) {
        const double k = m.layout.text, out = (kLane + kLanesApart * which) * k;
        const bool right = b.left() > a.right() - 1, same = std::fabs(a.left() - b.left()) < 1;
        const double ya = a.center().y() + (4 + 5 * which) * k, yb = b.center().y() - (4 + 5 * which) * k;
        QPolygonF points;
        if (same) {
            points << QPointF(a.left(), ya) << QPointF(a.left() - out, ya) << QPointF(a.left() - out, yb) << QPointF(b.left(), yb);
        } else {
            const double x1 = right ? a.right() + out : a.left() - out, x2 = right ? b.left() - out : b.right() + out;
            points << QPointF(right ? a.right() : a.left(), ya) << QPointF(x1, ya);
            if (std::fabs(x1 - x2) > 2 * out) {
                const double gap = b.top() >= a.top() ? a.bottom() + kGapBelow * k : a.top() - kGapBelow * k;
                points << QPointF(x1, gap) << QPointF(x2, gap);
            }
            points << QPointF(std::fabs(x1 - x2) > 2 * out ? x2 : x1, yb) << QPointF(right ? b.left() : b.right(), yb);
        }
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(t.panel, 6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p.drawPolyline(points);
        p.setPen(QPen(t.bad, 2.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p.drawPolyline(points);
        const QPointF end = points.back();
        const double way = points.back().x() > points[points.size() - 2].x() ? 1 : -1;
        const QPointF head[] = {end, end + QPointF(-10 * way, 5), end + QPointF(-10 * way, -5)};
        p.setPen(Qt::NoPen);
        p.setBrush(t.bad);
        p.drawPolygon(head, 3);
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
        const double radius = 9 * m.layout.text;
        const QRectF box(at.x() - radius, at.y() - radius, 2 * radius, 2 * radius);
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
