// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "board/value_reading.h"
#include "gui/logbook.h"

#include <QAbstractTableModel>

namespace ohmo {

/// The board's parts as a table that can be written: an assumed part's ref and value log it as recognised, everything else as traced.
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
    /// What was written has further readings; the first of these was taken.
    void ambiguous(const QString& ref, const std::vector<ohmo::ValueReading>& readings);

private:
    bool log(const Entry& entry);
    bool trace(PartEdit edit);
    bool write_ref(const Part& part, const std::string& text);
    bool write_value(const Part& part, const std::string& text);
    bool write_rating(const Part& part, const std::string& text);
    bool write_pins(const Part& part, const std::string& text);

    Session& m_session;
    Logbook& m_logbook;
};

} // namespace ohmo
