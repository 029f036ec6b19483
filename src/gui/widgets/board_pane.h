// SPDX-License-Identifier: GPL-3.0-or-later
// The board as a map or as it looks: photos of front and back, with the pins that were marked on them.
#pragma once
#include "gui/map/map_view.h"
#include "gui/stations/station.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QStackedWidget;

namespace ohmo {

class PhotoView;

class BoardPane : public QWidget {
    Q_OBJECT
public:
    explicit BoardPane(const Collaborators& with, QWidget* parent = nullptr);
    MapView& map() { return *m_map; }
    void show_leads(const MapLeads& leads);
    void toggle(); ///< map or photo
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void add(bool back);
    void show_side(bool back);
    void load();
    void refresh();
    void mark(const PhotoSpot& spot);
    int photo_shown() const; ///< index among the job's photos, -1 for none
    std::optional<std::string> next_pin() const;
    void say(const QString& text, bool good);

    Collaborators m_with;
    MapView* m_map;
    PhotoView* m_photo;
    QStackedWidget* m_stack;
    QWidget* m_bar = nullptr;
    QPushButton* m_to_photo = nullptr;
    QPushButton *m_as_map, *m_front, *m_back, *m_marking, *m_add;
    QLabel* m_note;
    bool m_showing_back = false;
    std::string m_loaded; ///< file of the picture that is shown or on its way
    int m_load = 0;
};

} // namespace ohmo
