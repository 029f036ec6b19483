// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/logbook.h"

#include <QAbstractTableModel>

namespace ohmo {

/// The board's parts as a table. Ref and value can be written: that logs the part as recognised.
class PartsModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { Ref, Role, Value, Rating, Stage, Nets, Count };

    PartsModel(Session& session, Logbook& logbook, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;

Q_SIGNALS:
    void refused(const QString& why); ///< an edit that does not fit

private:
    Session& m_session;
    Logbook& m_logbook;
};

} // namespace ohmo
