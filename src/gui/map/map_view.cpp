// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/map/map_view.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QCoreApplication>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPathStroker>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace ohmo {

namespace {

constexpr int kMotionMs = 170;
constexpr int kFewestOpen = 6;
constexpr std::size_t kSeenByLeads = 6; // parts on a net that the leads are on
constexpr int kNormalPixels = 13;       // of the text at 100 %
constexpr double kNeedles = 20;         // px below a tile, for the leads

} // namespace

MapView::MapView(const Session& session, Selection& selection, const ThemeSource& theme, QWidget* parent)
    : QWidget(parent), m_session(session), m_selection(selection), m_theme(theme) {
    setObjectName(QStringLiteral("board-map"));
    setAccessibleName(tr("Board map"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 140);
    m_motion.setDuration(kMotionMs);
    m_motion.setStartValue(0.0);
    m_motion.setEndValue(1.0);
    connect(&m_motion, &QVariantAnimation::valueChanged, this, qOverload<>(&QWidget::update));
    connect(&session, &Session::job_changed, this, &MapView::board_changed);
    connect(&session, &Session::analysis_changed, this, &MapView::board_changed);
    connect(&theme, &ThemeSource::changed, this, &MapView::board_changed);
    connect(&selection, &Selection::changed, this, [this] {
        m_at_fold = -1;
        describe_selection();
        board_changed();
        keep_in_view(m_selection.part());
    });
    board_changed();
}

void MapView::show_chain(const std::vector<Step>& steps) {
    m_chain = steps;
    board_changed();
}

void MapView::show_leads(const MapLeads& leads) {
    if (leads == m_leads) return;
    m_leads = leads;
    board_changed();
    keep_in_view(leads.part);
}

void MapView::show_whole(bool whole) {
    if (whole == m_whole) return;
    m_whole = whole;
    m_fitted = true;
    m_at_fold = -1;
    board_changed();
}

// What is bad, suspect, renewed or out of its place; what is looked at or comes next and all that its leads see; and where little stands
// out yet, the likeliest.
std::vector<char> MapView::parts_open() const {
    const auto& board = m_session.replay().board;
    std::vector<char> out(board.parts.size(), 0);
    const auto open = [&](int part) {
        if (part >= 0 && part < static_cast<int>(out.size())) out[static_cast<std::size_t>(part)] = 1;
    };
    const auto& now = m_session.replay().evidence;
    for (int i = 0; i < static_cast<int>(out.size()); ++i)
        if (now.state.is_lifted(i) || now.state.is_pulled(i)) open(i);
    open(m_selection.part());
    for (const auto& step : m_chain) open(step.fault.part);
    for (int part : {m_leads.part, m_leads.red_part, m_leads.black_part}) open(part);
    const auto returns = find_returns(board, *m_session.replay().roles);
    for (const NetId net : {m_leads.red, m_leads.black}) {
        if (m_leads.part < 0 || net < 0 || returns[static_cast<std::size_t>(net)] != 0) continue;
        std::vector<int> seen;
        for (int i = 0; i < static_cast<int>(out.size()); ++i)
            for (const auto& pin : board.part(i).pins)
                if (pin.id == net && (seen.empty() || seen.back() != i)) seen.push_back(i);
        if (seen.size() <= kSeenByLeads)
            for (int i : seen) open(i);
    }
    const auto& a = m_session.analysis();
    if (!a || a->standing.size() != out.size()) return out;
    for (std::size_t i = 0; i < out.size(); ++i)
        if (a->standing[i] == Standing::Bad || a->standing[i] == Standing::Suspect || a->standing[i] == Standing::Renewed) out[i] = 1;
    int few = static_cast<int>(std::count(out.begin(), out.end(), 1));
    for (const auto& b : a->assessment.parts) {
        if (few >= kFewestOpen) break;
        if (out[static_cast<std::size_t>(b.part)] != 0) continue;
        open(b.part);
        ++few;
    }
    return out;
}

void MapView::board_changed() {
    if (!isVisible()) return; // laid out when shown
    const auto& board = m_session.replay().board;
    std::string key = std::to_string(width()) + "x" + std::to_string(height()) + (m_whole ? "w" : "f") +
                      std::to_string(m_theme.text_percent()) + ":" + std::to_string(m_leads.red) + "," + std::to_string(m_leads.black);
    for (const auto& part : board.parts) {
        key += part.ref + "," + part.stage + "," + std::to_string(static_cast<int>(part.kind));
        for (const auto& pin : part.pins) key += pin.role + "=" + pin.net + ";";
    }
    for (const auto& rail : board.rails) key += rail.net + "/" + rail.ret + ";";
    std::vector<char> open;
    if (!m_whole) {
        open = parts_open();
        for (char c : open) key += c != 0 ? '1' : '0';
        for (int s : m_unfolded) key += "/" + std::to_string(s);
        if (m_selection.part() >= 0) key += "s" + std::to_string(m_selection.part());
    }
    if (key != m_laid_out) {
        m_laid_out = key;
        lay_out(std::move(open));
    }
    update();
}

void MapView::lay_out(std::vector<char> open) {
    const auto& board = m_session.replay().board;
    const MapLayout before = std::move(m_layout);
    if (m_whole) {
        m_layout = lay_out_map(board, *m_session.replay().roles, height() > 0 ? static_cast<double>(width()) / height() : 1.6);
    } else {
        MapFocus focus;
        focus.open = std::move(open);
        focus.unfolded = m_unfolded;
        focus.view = QSizeF(width(), foot().top());
        focus.text = font().pixelSize() > 0 ? static_cast<double>(font().pixelSize()) / kNormalPixels : 1;
        if (const int part = m_selection.part(); part >= 0 && part < static_cast<int>(board.parts.size()))
            for (const auto& pin : board.part(part).pins) focus.returns.insert(pin.id);
        m_layout = lay_out_focus(board, *m_session.replay().roles, focus);
    }
    if (m_fitted) fit();
    m_at_fold = std::min(m_at_fold, static_cast<int>(m_layout.folds.size()) - 1);
    m_motion.stop();
    if (before.folded != m_layout.folded || before.tile_of.size() != m_layout.tile_of.size() || !m_layout.folded) return;
    m_from.assign(board.parts.size(), {});
    bool moved = false;
    for (const auto& tile : before.tiles)
        for (int p : tile.parts) m_from[static_cast<std::size_t>(p)] = tile.box;
    for (const auto& fold : before.folds)
        if (!fold.open)
            for (int p : fold.parts) m_from[static_cast<std::size_t>(p)] = fold.box;
    for (const auto& tile : m_layout.tiles) moved = moved || m_from[static_cast<std::size_t>(tile.parts.front())] != tile.box;
    if (moved && before.size.width() == m_layout.size.width() && !QCoreApplication::instance()->property("still").toBool())
        m_motion.start();
}

MapLayout MapView::under_way() const {
    MapLayout out = m_layout;
    const double done = m_motion.currentValue().toDouble(), part = done * done * (3 - 2 * done);
    for (auto& tile : out.tiles) {
        const auto& from = m_from[static_cast<std::size_t>(tile.parts.front())];
        if (from.isNull()) continue;
        const auto between = [&](double a, double b) { return a + (b - a) * part; };
        tile.box = QRectF(between(from.left(), tile.box.left()), between(from.top(), tile.box.top()), tile.box.width(), tile.box.height());
    }
    return out;
}

void MapView::toggle_fold(int fold) {
    const auto& f = m_layout.folds[static_cast<std::size_t>(fold)];
    for (int stage : f.stages) {
        if (f.open)
            m_unfolded.erase(stage);
        else
            m_unfolded.insert(stage);
    }
    board_changed();
}

// What does not fit the view is brought into it.
void MapView::keep_in_view(int part) {
    if (m_whole || part < 0 || part >= static_cast<int>(m_layout.tile_of.size())) return;
    const int tile = m_layout.tile_of[static_cast<std::size_t>(part)];
    if (tile < 0) return;
    const QRectF box = m_layout.tiles[static_cast<std::size_t>(tile)].box;
    const QRectF seen(m_origin + box.topLeft() * m_scale, box.size() * m_scale);
    const double low = foot().top() - kNeedles;
    if (seen.bottom() > low) m_origin.ry() -= seen.bottom() - low;
    if (seen.top() < 0) m_origin.ry() -= seen.top();
    if (seen.right() > width()) m_origin.rx() -= seen.right() - width();
    if (seen.left() < 0) m_origin.rx() -= seen.left();
    update();
}

void MapView::fit() {
    m_fitted = true;
    if (m_layout.size.isEmpty()) return;
    if (m_layout.folded) { // at its own size, from the top
        m_scale = 1;
        m_origin = {};
        update();
        return;
    }
    const double room = std::max(1.0, foot().top()); // nothing lies under the line at the foot
    m_scale = std::min(width() / m_layout.size.width(), room / m_layout.size.height());
    m_origin = QPointF((width() - m_scale * m_layout.size.width()) / 2, std::max(0.0, (room - m_scale * m_layout.size.height()) / 2));
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
    const bool moving = m_motion.state() == QAbstractAnimation::Running;
    paint_board(painter, moving ? under_way() : m_layout, !moving);
    painter.resetTransform();
    if (m_whole && !m_fitted) paint_overview(painter);
    paint_foot(painter);
}

// Where the hazardous side ends, in pixels of the view: nowhere, where nothing is isolated.
double MapView::hazard_border(const MapLayout& layout) const {
    if (layout.hot_area.isNull()) return 0;
    return layout.cold_area.isNull() ? width() : m_origin.x() + m_scale * layout.hot_area.right();
}

void MapView::paint_board(QPainter& painter, const MapLayout& layout, bool wires) const {
    // The sides go on to the edges of the view, so that the map has no frame of its own.
    const Theme& t = m_theme.theme();
    const double border = hazard_border(layout);
    painter.fillRect(QRectF(0, 0, border, height()), t.hazardous);
    painter.fillRect(QRectF(border, 0, width() - border, height()), t.isolated);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(m_origin);
    painter.scale(m_scale, m_scale);
    MapLayout tall = layout;
    if (!layout.barrier.isNull()) { // the barrier to the top and bottom edge as well
        const double above = m_origin.y() / m_scale, below = height() / m_scale - above;
        tall.barrier.setTop(-above);
        tall.barrier.setBottom(below);
        tall.hot_area = tall.cold_area = QRectF();
    }
    paint_map(painter, {tall, m_session, t, m_selection.part(), m_chain, m_scale,
                        static_cast<double>(std::max(font().pixelSize(), kNormalPixels)), m_leads, m_at_fold, m_lit, wires});
}

QString MapView::foot_text() const {
    const auto count = static_cast<int>(m_session.replay().board.parts.size());
    const QString more = m_layout.size.height() * m_scale + m_origin.y() > height() + 1 ? tr(" · more below") : QString();
    if (m_whole) return tr("%1 parts · W what matters%2").arg(count).arg(more);
    return tr("%1 parts · %2 open · W whole board%3").arg(count).arg(m_layout.tiles.size()).arg(more);
}

QRectF MapView::foot() const {
    const QFontMetricsF metrics(font());
    const double h = metrics.height() + 8;
    return {8, height() - h - 6, metrics.horizontalAdvance(foot_text()) + 24, h};
}

void MapView::paint_foot(QPainter& painter) const {
    const Theme& t = m_theme.theme();
    const QRectF box = foot();
    if (!m_whole) { // nothing shows through beside it
        const double below = box.top() - 4, border = hazard_border(m_layout);
        const double cold = m_layout.cold_area.isNull() ? width() : m_origin.x() + m_scale * m_layout.cold_area.left();
        painter.fillRect(QRectF(0, below, border, height() - below), t.hazardous);
        painter.fillRect(QRectF(cold, below, width() - cold, height() - below), t.isolated);
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(font());
    painter.setPen(QPen(t.line, 1));
    painter.setBrush(t.panel);
    painter.drawRoundedRect(box, box.height() / 2, box.height() / 2);
    painter.setPen(t.muted);
    painter.drawText(box, Qt::AlignCenter, foot_text());
}

// Where in the board the view stands.
void MapView::paint_overview(QPainter& painter) const {
    const Theme& t = m_theme.theme();
    const double w = 150, h = w * m_layout.size.height() / m_layout.size.width();
    const QRectF box(width() - w - 10, height() - h - 10, w, h);
    const double k = w / m_layout.size.width();
    painter.setPen(QPen(t.line, 1));
    painter.setBrush(t.panel);
    painter.drawRect(box);
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.muted);
    for (const auto& tile : m_layout.tiles) painter.drawRect(QRectF(box.topLeft() + tile.box.topLeft() * k, tile.box.size() * k));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(t.accent, 2));
    const QRectF seen(box.topLeft() - m_origin * (k / m_scale), QSizeF(size()) * (k / m_scale));
    painter.drawRect(seen.intersected(box));
}

void MapView::resizeEvent(QResizeEvent*) { board_changed(); }

void MapView::showEvent(QShowEvent*) { board_changed(); }

// What is folded stands at its own size: the wheel scrolls where not all of it fits, and zooms with Ctrl.
void MapView::wheelEvent(QWheelEvent* event) {
    if (m_whole || (event->modifiers() & Qt::ControlModifier)) return zoom(std::pow(1.0015, event->angleDelta().y()), event->position());
    const double least = std::min(0.0, foot().top() - m_layout.size.height() * m_scale);
    m_origin.setY(std::clamp(m_origin.y() + event->angleDelta().y() / 2.0, least, 0.0));
    update();
}

void MapView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    if (foot().contains(event->position())) return show_whole(!m_whole);
    m_drag_from = event->position() - m_origin;
    if (const int fold = m_layout.fold_at(to_map(event->position())); fold >= 0) return toggle_fold(fold);
    const int tile = m_layout.tile_at(to_map(event->position()));
    m_dragging = tile < 0;
    if (tile < 0) return;
    // A second click on a shared tile goes on to its next part.
    const auto& parts = m_layout.tiles[static_cast<std::size_t>(tile)].parts;
    const auto at = std::find(parts.begin(), parts.end(), m_selection.part());
    m_selection.select(at == parts.end() || at + 1 == parts.end() ? parts.front() : *(at + 1));
}

void MapView::mouseMoveEvent(QMouseEvent* event) {
    if (!(event->buttons() & Qt::LeftButton)) { // the net under the pointer lights up
        const QPointF at = to_map(event->position());
        NetId lit = -1;
        QPainterPathStroker wide;
        wide.setWidth(7);
        for (const auto& wire : m_layout.wires)
            if (m_layout.folded && wide.createStroke(wire.path).contains(at)) lit = wire.net;
        if (lit != m_lit) {
            m_lit = lit;
            update();
        }
        return;
    }
    if (!m_dragging) return;
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
    case Qt::Key_W:
        return show_whole(!m_whole);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_at_fold >= 0) return toggle_fold(m_at_fold);
        return QWidget::keyPressEvent(event);
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

// To the nearest tile or fold in that direction, sideways distance counting double.
void MapView::walk(int key) {
    if (m_layout.tiles.empty()) return;
    const int part = m_selection.part();
    const int tile = part < 0 || part >= static_cast<int>(m_layout.tile_of.size()) ? -1 : m_layout.tile_of[static_cast<std::size_t>(part)];
    if (tile < 0 && m_at_fold < 0) return m_selection.select(m_layout.tiles.front().parts.front());
    const QPointF from = m_at_fold >= 0 ? m_layout.folds[static_cast<std::size_t>(m_at_fold)].box.center()
                                        : m_layout.tiles[static_cast<std::size_t>(tile)].box.center();
    int best = -1, best_fold = -1;
    double least = 1e18;
    const auto cost_of = [&](const QRectF& box) {
        const QPointF d = box.center() - from;
        const double along = key == Qt::Key_Left ? -d.x() : key == Qt::Key_Right ? d.x() : key == Qt::Key_Up ? -d.y() : d.y();
        const double aside = key == Qt::Key_Left || key == Qt::Key_Right ? std::fabs(d.y()) : std::fabs(d.x());
        return along < 1 ? 1e18 : along + 2 * aside;
    };
    for (std::size_t i = 0; i < m_layout.tiles.size(); ++i)
        if (const double cost = cost_of(m_layout.tiles[i].box); cost < least) {
            least = cost;
            best = static_cast<int>(i);
        }
    for (std::size_t i = 0; i < m_layout.folds.size(); ++i)
        if (const double cost = cost_of(m_layout.folds[i].box); cost < least) {
            least = cost;
            best_fold = static_cast<int>(i);
        }
    if (best_fold >= 0) {
        m_at_fold = best_fold;
        const auto& fold = m_layout.folds[static_cast<std::size_t>(best_fold)];
        setAccessibleDescription(fold.open ? tr("put %1 parts away").arg(fold.parts.size())
                                           : tr("%1 more parts, Enter opens them").arg(fold.parts.size()));
        return update();
    }
    if (best < 0) return;
    const int next = m_layout.tiles[static_cast<std::size_t>(best)].parts.front();
    m_at_fold = -1;
    if (next == part) return update();
    m_selection.select(next);
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
    const int tile = m_layout.tile_at(to_map(help->pos())), fold = m_layout.fold_at(to_map(help->pos()));
    if (fold >= 0) {
        QStringList refs;
        for (int p : m_layout.folds[static_cast<std::size_t>(fold)].parts) refs << qs(m_session.replay().board.part(p).ref);
        QToolTip::showText(help->globalPos(), refs.join(QStringLiteral(", ")), this);
        return true;
    }
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
