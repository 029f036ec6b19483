// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/logbook.h"

#include <QAbstractTableModel>

namespace ohmo {

/// The board's rails as a table that can be written; every change is an entry of the journal.
class RailsModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { Net, Return, Volts, Amps, Tolerance, Count };

    RailsModel(Session& session, Logbook& logbook, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;

Q_SIGNALS:
    void refused(const QString& why);

private:
    Session& m_session;
    Logbook& m_logbook;
};

} // namespace ohmo
