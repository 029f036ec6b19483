// SPDX-License-Identifier: GPL-3.0-or-later
// Wires told on the map by keys: J takes a pin of the selected part and, at a second part, one of its pins; Enter says that it beeps
// between them, X that it does not. Del strikes the selected part, Ins begins one.
#pragma once
#include "board/edit.h"
#include "gui/map/map_view.h"
#include "gui/stations/station.h"

#include <optional>

namespace ohmo {

class MapWiring : public QObject {
    Q_OBJECT
public:
    MapWiring(const Collaborators& with, MapView& map);
    bool eventFilter(QObject* watched, QEvent* event) override;

Q_SIGNALS:
    void said(const QString& what, bool good);
    void begin_part();
    void strike(const std::string& part);

private:
    bool key(int key); ///< whether it was one of these
    void take_pin();
    void log(bool joined);
    void leave_off();
    void say();
    const Part* selected() const;
    QString named(const PinName& pin) const; ///< "R12.1 (HV)"

    Collaborators m_with;
    MapView& m_map;
    std::optional<PinName> m_from, m_to;
};

} // namespace ohmo
