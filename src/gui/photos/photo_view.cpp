// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/photos/photo_view.h"

#include "gui/text.h"
#include "job/pipeline.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

constexpr double kMarkRadius = 5, kTipRadius = 11; // pixels at 100 % text
constexpr double kNameGap = 12, kTipGap = 5;
constexpr double kNear = 14; // pixels within which a click means a mark
constexpr double kCloser = 1.25, kClosest = 12;
constexpr int kSmallest = 400; // pixels: no halving below

} // namespace

PhotoView::PhotoView(const Session& session, Selection& selection, const ThemeSource& theme, QWidget* parent)
    : QWidget(parent), m_session(session), m_selection(selection), m_theme(theme) {
    setObjectName(QStringLiteral("photo-view"));
    setAccessibleName(tr("Photo of the board"));
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(160);
    const auto again = [this] { update(); };
    connect(&session, &Session::job_changed, this, [this] {
        find_marks();
        update();
    });
    connect(&session, &Session::analysis_changed, this, again);
    connect(&selection, &Selection::changed, this, again);
    connect(&theme, &ThemeSource::changed, this, again);
}

PhotoSizes photo_sizes(const QImage& picture) {
    PhotoSizes out = {picture.convertToFormat(QImage::Format_RGB32)};
    while (out.back().width() > kSmallest)
        out.push_back(out.back().scaled(out.back().size() / 2, Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
    return out;
}

void PhotoView::show_photo(const PhotoSizes& sizes, std::size_t photo) {
    m_sizes = sizes;
    m_photo = photo;
    find_marks();
    fit();
}

void PhotoView::find_marks() {
    const auto& photos = m_session.replay().photos;
    m_marks = m_photo < photos.size() ? marks_of(photos, m_photo) : DerivedMarks{};
}

void PhotoView::show_leads(const MapLeads& leads) {
    m_leads = leads;
    update();
}

void PhotoView::mark_next(const std::optional<std::string>& pin) {
    m_next = pin;
    setCursor(pin ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
}

void PhotoView::fit() {
    m_fitted = true;
    if (m_sizes.empty()) return update();
    const QSizeF scaled = QSizeF(size_kept()).scaled(size(), Qt::KeepAspectRatio);
    m_scale = scaled.width();
    m_origin = {(width() - scaled.width()) / 2, (height() - scaled.height()) / 2};
    update();
}

void PhotoView::zoom(double factor, QPointF about) {
    const double fitted = QSizeF(size_kept()).scaled(size(), Qt::KeepAspectRatio).width();
    const double next = std::clamp(m_scale * factor, fitted, kClosest * fitted);
    if (m_sizes.empty()) return;
    if (next <= fitted) return fit();
    m_origin = about + (m_origin - about) * (next / m_scale);
    m_scale = next;
    m_fitted = false;
    update();
}

QPointF PhotoView::at(const PhotoSpot& spot) const { return m_origin + QPointF(spot.x, spot.y) * m_scale; }

PhotoSpot PhotoView::spot_at(QPointF point) const {
    const QPointF s = (point - m_origin) / m_scale;
    return {s.x(), s.y()};
}

void PhotoView::resizeEvent(QResizeEvent*) {
    if (m_fitted) fit();
}

void PhotoView::wheelEvent(QWheelEvent* event) { zoom(event->angleDelta().y() > 0 ? kCloser : 1 / kCloser, event->position()); }

void PhotoView::keyPressEvent(QKeyEvent* event) {
    const QPointF middle(width() / 2.0, height() / 2.0);
    if (event->key() == Qt::Key_Plus)
        zoom(kCloser, middle);
    else if (event->key() == Qt::Key_Minus)
        zoom(1 / kCloser, middle);
    else if (event->key() == Qt::Key_0)
        fit();
    else
        QWidget::keyPressEvent(event);
}

void PhotoView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || m_sizes.empty()) return;
    const PhotoSpot spot = spot_at(event->position());
    const double tall = static_cast<double>(size_kept().height()) / size_kept().width();
    if (m_next && spot.x >= 0 && spot.x <= 1 && spot.y >= 0 && spot.y <= tall) {
        Q_EMIT marked(spot);
        return;
    }
    for (const auto* set : {&m_marks.own, &m_marks.derived})
        for (const auto& [pin, where] : *set)
            if (QLineF(at(where), event->position()).length() < kNear) {
                m_selection.select(m_session.replay().board.find_part(pin.first).value_or(-1));
                return;
            }
    m_dragging = true;
    m_drag_from = event->position() - m_origin;
}

void PhotoView::mouseMoveEvent(QMouseEvent* event) {
    if (!m_dragging) return;
    m_origin = event->position() - m_drag_from;
    m_fitted = false;
    update();
}

void PhotoView::mouseReleaseEvent(QMouseEvent*) { m_dragging = false; }

Standing PhotoView::standing_of(int part) const {
    const auto& a = m_session.analysis();
    const bool known = a && a->replay.board.parts.size() == m_session.replay().board.parts.size();
    return known ? a->standing[static_cast<std::size_t>(part)] : Standing::Unknown;
}

QColor PhotoView::colour_of(Standing standing) const {
    const auto& t = m_theme.theme();
    switch (standing) {
    case Standing::Bad:
        return t.bad;
    case Standing::Suspect:
        return t.suspect;
    case Standing::Good:
        return t.good;
    case Standing::Renewed:
        return t.accent;
    case Standing::Unknown:
        break;
    }
    return t.text;
}

// A dot in the colour of how the part stands; its name says it besides.
void PhotoView::paint_mark(QPainter& p, const std::string& ref, const PhotoSpot& spot, bool own) const {
    const auto& t = m_theme.theme();
    const auto part = m_session.replay().board.find_part(ref);
    if (!part) return;
    const auto standing = standing_of(*part);
    const QColor edge = colour_of(standing);
    const bool chosen = *part == m_selection.part();
    const QPointF c = at(spot);
    const double r = kMarkRadius * m_theme.text_percent() / 100.0 + (chosen ? 2 : 0);
    p.setPen(QPen(t.panel, 3.5));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(c, r + 1, r + 1);
    p.setPen(QPen(edge, chosen ? 3 : 2, own ? Qt::SolidLine : Qt::DotLine));
    p.setBrush(standing == Standing::Bad || standing == Standing::Suspect ? edge : t.panel);
    p.drawEllipse(c, r, r);
}

// One name a part, right of its marks.
void PhotoView::paint_name(QPainter& p, const std::string& ref, const std::vector<PhotoSpot>& spots) const {
    const auto part = m_session.replay().board.find_part(ref);
    if (!part) return;
    const auto standing = standing_of(*part);
    QPointF from(-1e9, 0);
    for (const auto& spot : spots) from = {std::max(from.x(), at(spot).x()), from.y() + at(spot).y() / static_cast<double>(spots.size())};
    QString text = qs(ref);
    if (standing == Standing::Bad) text += QStringLiteral(" ✕");
    if (standing == Standing::Suspect) text += QStringLiteral(" ?");
    const QRectF box = QRectF(p.fontMetrics().boundingRect(text)).adjusted(-4, -2, 4, 2);
    QRectF label(QPointF(from.x() + kNameGap, from.y() - box.height() / 2), box.size());
    if (label.right() > width()) label.moveRight(width());
    p.setPen(QPen(colour_of(standing), 1));
    p.setBrush(m_theme.theme().panel);
    p.drawRoundedRect(label, 3, 3);
    p.setPen(m_theme.theme().text);
    p.drawText(label, Qt::AlignCenter, text);
}

// The lead goes to the pin of the part it is about, or else to any marked pin of the net.
void PhotoView::paint_tip(QPainter& p, NetId net, bool red) const {
    if (net < 0) return;
    const auto& board = m_session.replay().board;
    const PhotoSpot* best = nullptr;
    bool own_part = false;
    for (const auto* set : {&m_marks.own, &m_marks.derived})
        for (const auto& [pin, spot] : *set) {
            const auto part = board.find_part(pin.first);
            if (!part || board.part(*part).net(pin.second) != net) continue;
            const bool its = *part == m_leads.part;
            if (best == nullptr || (its && !own_part)) {
                best = &spot;
                own_part = its;
            }
        }
    if (best == nullptr) return;
    const QPointF c = at(*best);
    const double r = kTipRadius * m_theme.text_percent() / 100.0;
    const QColor colour = red ? QColor(0xc62828) : QColor(0x101010);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(Qt::white, 6));
    p.drawEllipse(c, r, r);
    p.setPen(QPen(colour, 3.5));
    p.drawEllipse(c, r, r);
    const QString word = red ? tr("red") : tr("black");
    const QRectF box = QRectF(p.fontMetrics().boundingRect(word)).adjusted(-4, -2, 4, 2);
    const double top = red ? c.y() - r - kTipGap - box.height() : c.y() + r + kTipGap; // one above, one below: they never cover each other
    const QRectF label(QPointF(c.x() - box.width() / 2, top), box.size());
    p.setPen(Qt::NoPen);
    p.setBrush(colour);
    p.drawRoundedRect(label, 3, 3);
    p.setPen(Qt::white);
    p.drawText(label, Qt::AlignCenter, word);
}

void PhotoView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto& t = m_theme.theme();
    p.fillRect(rect(), t.inset);
    if (m_sizes.empty()) return;
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    auto near = m_sizes.begin(); // the smallest that is no smaller than what is painted
    while (std::next(near) != m_sizes.end() && std::next(near)->width() >= m_scale * devicePixelRatioF()) ++near;
    p.drawImage(QRectF(m_origin, QSizeF(m_scale, m_scale * size_kept().height() / size_kept().width())), *near, near->rect());
    std::map<std::string, std::vector<PhotoSpot>> parts;
    for (const auto* set : {&m_marks.own, &m_marks.derived})
        for (const auto& [pin, spot] : *set) {
            paint_mark(p, pin.first, spot, set == &m_marks.own);
            parts[pin.first].push_back(spot);
        }
    for (const auto& [ref, spots] : parts) paint_name(p, ref, spots);
    paint_tip(p, m_leads.red, true);
    paint_tip(p, m_leads.black, false);
}

} // namespace ohmo
