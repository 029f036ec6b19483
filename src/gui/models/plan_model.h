// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/session.h"

#include <QAbstractTableModel>

namespace ohmo {

/// The replacement plan: one row a part.
class PlanModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { Part, Reason, Fit, Rules, Price, Stage, Count };

    explicit PlanModel(const Session& session, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    int part_at(int row) const; ///< -1: no such row

private:
    AnalysisPtr m_analysis;
};

} // namespace ohmo
