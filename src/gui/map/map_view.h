// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/session.h"
#include "gui/map/map_layout.h"
#include "gui/selection.h"
#include "gui/theme/theme.h"

#include <QWidget>

namespace ohmo {

/// Shows the map: wheel or +/- zooms, 0 fits, drag moves, arrows walk from tile to tile, a click selects.
class MapView : public QWidget {
    Q_OBJECT
public:
    MapView(const Session& session, Selection& selection, const ThemeSource& theme, QWidget* parent = nullptr);

    /// Numbered arrows of this story; an empty one shows none.
    void show_chain(const std::vector<Step>& steps);
    /// Marks the tile where the leads go next; -1 for none.
    void show_leads(int part);
    void fit();
    const MapLayout& layout_shown() const { return m_layout; }
    double scale() const { return m_scale; }
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
    int m_leads = -1;
    double m_scale = 1;
    QPointF m_origin, m_drag_from;
    bool m_fitted = true, m_dragging = false;
};

} // namespace ohmo
