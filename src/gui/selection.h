// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QObject>

namespace ohmo {

/// The part everybody looks at; -1 when none.
class Selection : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    int part() const { return m_part; }
    void select(int part) {
        if (part == m_part) return;
        m_part = part;
        Q_EMIT changed(part);
    }

Q_SIGNALS:
    void changed(int part);

private:
    int m_part = -1;
};

} // namespace ohmo
