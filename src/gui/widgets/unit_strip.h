// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/session.h"
#include "gui/theme/theme.h"

#include <QLabel>
#include <QTimer>
#include <QWidget>

namespace ohmo {

/// Which unit, its complaint, and the two facts that can kill: charge on the bulk capacitor and whether mains is connected.
class UnitStrip : public QWidget {
    Q_OBJECT
public:
    UnitStrip(const Session& session, const ThemeSource& theme, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void refresh();
    void show_charge();

    const Session& m_session;
    const ThemeSource& m_theme;
    void resizeEvent(QResizeEvent*) override { elide(); }
    void elide();

    QLabel *m_title, *m_detail, *m_charge, *m_mains, *m_busy;
    QString m_title_text, m_detail_text; ///< in full
    QTimer m_age;
};

/// "now", "3 min", "5 h", "8 months".
QString age_text(Seconds seconds);

} // namespace ohmo
