// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/session.h"
#include "gui/map/map_layout.h"
#include "gui/map/map_painter.h"
#include "gui/selection.h"
#include "gui/theme/theme.h"

#include <QVariantAnimation>
#include <QWidget>

namespace ohmo {

/// Shows the map: what matters open and the rest folded by stage, or the whole board (W). Wheel or +/- zooms, 0 fits, drag moves, arrows
/// walk from tile to tile and onto folds, Enter opens a fold, a click selects.
class MapView : public QWidget {
    Q_OBJECT
public:
    MapView(const Session& session, Selection& selection, const ThemeSource& theme, QWidget* parent = nullptr);

    /// Numbered arrows of this story; an empty one shows none.
    void show_chain(const std::vector<Step>& steps);
    /// Marks the tile where the leads go next; part -1 for none.
    void show_leads(const MapLeads& leads);
    /// All parts at once, as large as the view allows, or only what matters at readable size.
    void show_whole(bool whole);
    bool whole() const { return m_whole; }
    void fit();
    const MapLayout& layout_shown() const { return m_layout; }
    double scale() const { return m_scale; }
    QPointF origin() const { return m_origin; } ///< of the layout, in the view
    QSize sizeHint() const override { return {760, 420}; }

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void showEvent(QShowEvent*) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override; // tool tips

private:
    void board_changed();
    void lay_out(std::vector<char> open); ///< `open`: by part, of what matters
    std::vector<char> parts_open() const;
    void toggle_fold(int fold);
    QString foot_text() const;
    QRectF foot() const; ///< "78 parts · 11 open · W whole board"
    void paint_foot(QPainter& painter) const;
    void paint_overview(QPainter& painter) const;
    double hazard_border(const MapLayout& layout) const;
    void paint_board(QPainter& painter, const MapLayout& layout, bool wires) const;
    MapLayout under_way() const; ///< tiles between where they were and where they are going
    void keep_in_view(int part);
    void zoom(double factor, QPointF about);
    void walk(int key);
    void describe_selection();
    QPointF to_map(QPointF at) const { return (at - m_origin) / m_scale; }

    const Session& m_session;
    Selection& m_selection;
    const ThemeSource& m_theme;
    MapLayout m_layout;
    std::string m_laid_out; // what the layout belongs to
    std::vector<Step> m_chain;
    MapLeads m_leads;
    std::set<int> m_unfolded;
    QVariantAnimation m_motion;
    std::vector<QRectF> m_from; // by part: where it stood before
    NetId m_lit = -1;
    int m_at_fold = -1;
    bool m_whole = false;
    double m_scale = 1;
    QPointF m_origin, m_drag_from;
    bool m_fitted = true, m_dragging = false;
};

} // namespace ohmo
