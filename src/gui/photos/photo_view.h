// SPDX-License-Identifier: GPL-3.0-or-later
// A photo of the board with its pins marked: what is suspect stands out, the leads of the next act show where they go.
#pragma once
#include "gui/map/map_view.h"
#include "gui/selection.h"
#include "gui/theme/theme.h"
#include "job/photos.h"

#include <QImage>
#include <QWidget>

#include <optional>
#include <vector>

namespace ohmo {

/// The picture as it is and halved again and again: what is painted is near the size it is painted at. Empty: no picture.
using PhotoSizes = std::vector<QImage>;
PhotoSizes photo_sizes(const QImage& picture); ///< not for the interface thread

class PhotoView : public QWidget {
    Q_OBJECT
public:
    PhotoView(const Session& session, Selection& selection, const ThemeSource& theme, QWidget* parent = nullptr);
    /// The picture, and which of the job's photos it is.
    void show_photo(const PhotoSizes& sizes, std::size_t photo);
    void show_leads(const MapLeads& leads);
    /// The pin that a click marks next; nothing: a click selects.
    void mark_next(const std::optional<std::string>& pin);
    /// Where a spot of the picture is painted, in the widget's pixels.
    QPointF at(const PhotoSpot& spot) const;
    QSize sizeHint() const override { return {760, 420}; }

Q_SIGNALS:
    void marked(const ohmo::PhotoSpot& spot);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void find_marks();
    QSize size_kept() const { return m_sizes.empty() ? QSize() : m_sizes.front().size(); }
    void fit();
    void zoom(double factor, QPointF about);
    PhotoSpot spot_at(QPointF point) const;
    Standing standing_of(int part) const;
    QColor colour_of(Standing standing) const;
    void paint_mark(QPainter& p, const std::string& ref, const PhotoSpot& spot, bool own) const;
    void paint_name(QPainter& p, const std::string& ref, const std::vector<PhotoSpot>& spots) const;
    void paint_tip(QPainter& p, NetId net, bool red) const;

    const Session& m_session;
    Selection& m_selection;
    const ThemeSource& m_theme;
    PhotoSizes m_sizes;
    DerivedMarks m_marks;
    std::size_t m_photo = 0;
    MapLeads m_leads;
    std::optional<std::string> m_next;
    double m_scale = 1; ///< widget pixels a picture's width
    QPointF m_origin, m_drag_from;
    bool m_fitted = true, m_dragging = false;
};

} // namespace ohmo
