// SPDX-License-Identifier: GPL-3.0-or-later
// Capacitors that can hurt: what they hold, what empties them, what was measured on them.
#pragma once
#include "gui/stations/station.h"
#include "powerup/store_paths.h"

#include <QTableWidget>

#include <vector>

namespace ohmo {

class StoresTable : public QTableWidget {
    Q_OBJECT
public:
    explicit StoresTable(const Collaborators& with, QWidget* parent = nullptr);
    void refresh();
    const StorePath* chosen_store() const; ///< null where none is
    QString name_of(const StorePath& path) const;
    std::vector<const StorePath*> unmeasured() const; ///< hazardous ones without a reading since the last power, the bulk left out

Q_SIGNALS:
    void chosen();

private:
    QString holds(const StorePath& path) const;
    QString emptied_by(const StorePath& path) const;
    QString measured(const StorePath& path) const;
    std::optional<Charge> charge_of(const StorePath& path) const;

    Collaborators m_with;
    std::vector<StorePath> m_paths;
};

} // namespace ohmo
