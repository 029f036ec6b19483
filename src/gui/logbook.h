// SPDX-License-Identifier: GPL-3.0-or-later
// Every change of the job goes through here, so that each can be undone.
#pragma once
#include "appcore/session.h"

#include <QObject>
#include <QUndoStack>

#include <functional>
#include <string>

namespace ohmo {

class Logbook : public QObject {
    Q_OBJECT
public:
    explicit Logbook(Session& session, QObject* parent = nullptr) : QObject(parent), m_session(session) {}

    /// Adds an entry at the present time. Its problems are returned and nothing is added when it does not fit the board.
    Problems log(const Entry& entry);
    /// The same of a bench line; empty when it was taken, warnings are left out.
    Problems log_line(const std::string& line);
    /// Index of the last entry that stands and for which `matches` holds, -1 without one.
    int last(const std::function<bool(const Entry&)>& matches) const;
    /// Takes an entry back; the entry itself stays in the journal.
    void retract(int index);
    void set_unit(const Unit& unit);
    void set_meter(const MeterProfile& meter); ///< the usual one from now on

    QUndoStack& undo_stack() { return m_undo; }
    void clear() { m_undo.clear(); }

private:
    void change(const Job& next, const QString& text);

    Session& m_session;
    QUndoStack m_undo;
};

} // namespace ohmo
