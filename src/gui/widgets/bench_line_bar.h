// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/logbook.h"
#include "gui/theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace ohmo {

/// The line that logs anything. Shows what it understood before Enter; Tab completes; Up and Down recall; the last entries stand as chips.
class BenchLineBar : public QWidget {
    Q_OBJECT
public:
    BenchLineBar(Session& session, Logbook& logbook, const ThemeSource& theme, QWidget* parent = nullptr);
    void write(const QString& text);
    /// The place that a value alone is meant for.
    void take_asked(const QString& line);
    void focus_line() { m_line->setFocus(); }

Q_SIGNALS:
    void logged();
    void understood(const std::optional<ohmo::Entry>& entry); ///< what stands in the line, as far as it means something

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override { show_chips(); }

private:
    QString meant() const; ///< the line, with the place that is asked for where it is a value alone
    void preview();
    void submit();
    void show_chips();
    void recall(int step);
    bool complete();

    Session& m_session;
    Logbook& m_logbook;
    const ThemeSource& m_theme;
    QLineEdit* m_line;
    QLabel* m_understood;
    QPushButton* m_log;
    QHBoxLayout* m_chips;
    QWidget* m_chip_row;
    QString m_asked;
    QStringList m_history;
    int m_recalled = 0;
};

} // namespace ohmo
