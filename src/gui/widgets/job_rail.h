// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/stations/station.h"

#include <QAbstractButton>

namespace ohmo {

/// The eight stations down the left edge, with their state and the reason on hover.
class JobRail : public QWidget {
    Q_OBJECT
public:
    JobRail(const Session& session, const ThemeSource& theme, QWidget* parent = nullptr);
    void set_current(const QString& id);

Q_SIGNALS:
    void chosen(const QString& id);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    class Button;
    void refresh();
    const Session& m_session;
    const ThemeSource& m_theme;
    std::vector<Button*> m_buttons;
};

} // namespace ohmo
