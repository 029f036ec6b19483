// SPDX-License-Identifier: GPL-3.0-or-later
// What an act that shows no number may come to, a button each; a digit presses one, a letter begins a line.
#pragma once
#include <QWidget>

#include <functional>
#include <vector>

class QGridLayout;

namespace ohmo {

class OutcomeButtons : public QWidget {
    Q_OBJECT
public:
    struct Outcome {
        QString label, chance; ///< such as "70 %"; may be empty
        std::function<void()> log;
    };
    explicit OutcomeButtons(QWidget* parent = nullptr);
    void show_outcomes(std::vector<Outcome> outcomes);

Q_SIGNALS:
    void begun(const QString& text); ///< a letter was typed: the beginning of a line, no outcome

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void arrange(); ///< in as many columns as there is room for; what has no room is left to the bench line

    QGridLayout* m_grid;
    std::vector<QWidget*> m_buttons;
    std::vector<Outcome> m_outcomes;
    QStringList m_shown; ///< labels with chances, as they stand
};

} // namespace ohmo
