// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/map/map_view.h"

#include "base/engineering.h"
#include "gui/map/map_painter.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace ohmo {

MapView::MapView(const Session& session, Selection& selection, const ThemeSource& theme, QWidget* parent)
    : QWidget(parent), m_session(session), m_selection(selection), m_theme(theme) {
    setObjectName(QStringLiteral("board-map"));
    setAccessibleName(tr("Board map"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 140);
    connect(&session, &Session::job_changed, this, &MapView::board_changed);
    connect(&session, &Session::analysis_changed, this, qOverload<>(&QWidget::update));
    connect(&theme, &ThemeSource::changed, this, qOverload<>(&QWidget::update));
    connect(&selection, &Selection::changed, this, [this] {
        describe_selection();
        update();
    });
    board_changed();
}

void MapView::show_chain(const std::vector<Step>& steps) {
    m_chain = steps;
    update();
}

void MapView::show_leads(int part) {
    m_leads = part;
    update();
}

void MapView::board_changed() {
    if (!isVisible()) return; // laid out when shown
    std::string key = std::to_string(width()) + "x" + std::to_string(height());
    for (const auto& part : m_session.replay().board.parts) {
        key += part.ref + "," + part.stage + ",";
        for (const auto& pin : part.pins) key += pin.net + ";";
    }
    if (key != m_laid_out) {
        m_laid_out = key;
        m_layout =
            lay_out_map(m_session.replay().board, *m_session.replay().roles, height() > 0 ? static_cast<double>(width()) / height() : 1.6);
        if (m_fitted) fit();
    }
    update();
}

void MapView::fit() {
    m_fitted = true;
    if (m_layout.size.isEmpty()) return;
    m_scale = std::min(width() / m_layout.size.width(), height() / m_layout.size.height());
    m_origin = QPointF((width() - m_scale * m_layout.size.width()) / 2, std::max(0.0, (height() - m_scale * m_layout.size.height()) / 2));
    update();
}

void MapView::zoom(double factor, QPointF about) {
    const double next = std::clamp(m_scale * factor, 0.3, 4.0);
    m_origin = about - (about - m_origin) * (next / m_scale);
    m_scale = next;
    m_fitted = false;
    update();
}

void MapView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = m_theme.theme();
    painter.fillRect(rect(), t.window);
    if (m_layout.tiles.empty()) {
        painter.setPen(t.muted);
        painter.drawText(rect().adjusted(40, 0, -40, 0), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("No board yet. Start a job from a blueprint: Job menu, New from blueprint."));
        return;
    }
    // The sides go on to the edges of the view, so that the map has no frame of its own.
    const double border = m_layout.hot_area.isNull() ? 0 : m_origin.x() + m_scale * m_layout.hot_area.right();
    painter.fillRect(QRectF(0, 0, border, height()), t.hazardous);
    painter.fillRect(QRectF(border, 0, width() - border, height()), t.isolated);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(m_origin);
    painter.scale(m_scale, m_scale);
    if (!m_layout.barrier.isNull()) {
        // Barrier to the top and bottom edge as well.
        MapLayout tall = m_layout;
        const double above = m_origin.y() / m_scale, below = height() / m_scale - above;
        tall.barrier.setTop(-above);
        tall.barrier.setBottom(below);
        tall.hot_area = tall.cold_area = QRectF();
        paint_map(painter, {tall, m_session, t, m_selection.part(), m_chain, m_scale, m_leads});
        return;
    }
    paint_map(painter, {m_layout, m_session, t, m_selection.part(), m_chain, m_scale, m_leads});
}

void MapView::resizeEvent(QResizeEvent*) { board_changed(); }

void MapView::showEvent(QShowEvent*) { board_changed(); }

void MapView::wheelEvent(QWheelEvent* event) { zoom(std::pow(1.0015, event->angleDelta().y()), event->position()); }

void MapView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    m_drag_from = event->position() - m_origin;
    const int tile = m_layout.tile_at(to_map(event->position()));
    m_dragging = tile < 0;
    if (tile < 0) return;
    // A second click on a shared tile goes on to its next part.
    const auto& parts = m_layout.tiles[static_cast<std::size_t>(tile)].parts;
    const auto at = std::find(parts.begin(), parts.end(), m_selection.part());
    m_selection.select(at == parts.end() || at + 1 == parts.end() ? parts.front() : *(at + 1));
}

void MapView::mouseMoveEvent(QMouseEvent* event) {
    if (!m_dragging || !(event->buttons() & Qt::LeftButton)) return;
    m_origin = event->position() - m_drag_from;
    m_fitted = false;
    update();
}

void MapView::mouseReleaseEvent(QMouseEvent*) { m_dragging = false; }

void MapView::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        return zoom(1.2, rect().center());
    case Qt::Key_Minus:
        return zoom(1 / 1.2, rect().center());
    case Qt::Key_0:
        return fit();
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down:
        return walk(event->key());
    case Qt::Key_Escape:
        return m_selection.select(-1);
    default:
        QWidget::keyPressEvent(event);
    }
}

// To the nearest tile in that direction, sideways distance counting double.
void MapView::walk(int key) {
    if (m_layout.tiles.empty()) return;
    const int part = m_selection.part();
    if (part < 0 || part >= static_cast<int>(m_layout.tile_of.size())) return m_selection.select(m_layout.tiles.front().parts.front());
    const int here = m_layout.tile_of[static_cast<std::size_t>(part)];
    const QPointF from = m_layout.tiles[static_cast<std::size_t>(here)].box.center();
    int best = -1;
    double least = 1e18;
    for (std::size_t i = 0; i < m_layout.tiles.size(); ++i) {
        const QPointF d = m_layout.tiles[i].box.center() - from;
        const double along = key == Qt::Key_Left ? -d.x() : key == Qt::Key_Right ? d.x() : key == Qt::Key_Up ? -d.y() : d.y();
        const double aside = key == Qt::Key_Left || key == Qt::Key_Right ? std::fabs(d.y()) : std::fabs(d.x());
        if (along < 1) continue;
        if (const double cost = along + 2 * aside; cost < least) {
            least = cost;
            best = static_cast<int>(i);
        }
    }
    if (best >= 0) m_selection.select(m_layout.tiles[static_cast<std::size_t>(best)].parts.front());
}

void MapView::describe_selection() {
    const int part = m_selection.part();
    const auto& board = m_session.replay().board;
    setAccessibleDescription(part < 0 || part >= static_cast<int>(board.parts.size())
                                 ? QString()
                                 : qs(wording::part_title(board.part(part)) + ", " + wording::part_role(board.part(part))));
}

bool MapView::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const int tile = m_layout.tile_at(to_map(help->pos()));
    if (tile < 0) {
        QToolTip::hideText();
        return true;
    }
    QStringList lines;
    for (int p : m_layout.tiles[static_cast<std::size_t>(tile)].parts) {
        const auto& part = m_session.replay().board.part(p);
        QString line = qs(wording::part_title(part) + ", " + wording::part_role(part));
        if (const auto& a = m_session.analysis()) line = tr("%1: %2 bad").arg(line, qs(format_share(a->assessment.of(p).bad)));
        lines << line;
    }
    QToolTip::showText(help->globalPos(), lines.join(QLatin1Char('\n')), this);
    return true;
}

} // namespace ohmo
