// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/outcome_buttons.h"

#include "gui/widgets/panel.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QPushButton>

namespace ohmo {
namespace {

constexpr int kColumns = 4;
constexpr std::size_t kMost = 9; // one digit each

} // namespace

OutcomeButtons::OutcomeButtons(QWidget* parent) : QWidget(parent), m_grid(new QGridLayout(this)) {
    setObjectName(QStringLiteral("outcomes"));
    setAccessibleName(tr("What it came to"));
    setFocusPolicy(Qt::StrongFocus);
    m_grid->setContentsMargins(0, 4, 0, 4);
    m_grid->setAlignment(Qt::AlignTop);
    for (int c = 0; c < kColumns; ++c) m_grid->setColumnStretch(c, 1);
}

void OutcomeButtons::show_outcomes(std::vector<Outcome> outcomes) {
    outcomes.resize(std::min(outcomes.size(), kMost));
    QStringList shown;
    for (const auto& o : outcomes) shown << o.label + QLatin1Char('|') + o.chance;
    m_outcomes = std::move(outcomes);
    if (shown == m_shown) return; // the buttons stay, what they do is new
    m_shown = shown;
    while (QLayoutItem* item = m_grid->takeAt(0)) {
        item->widget()->deleteLater();
        delete item;
    }
    for (std::size_t k = 0; k < m_outcomes.size(); ++k) {
        const auto& o = m_outcomes[k];
        const int number = static_cast<int>(k);
        auto* b = button(
            QStringLiteral("%1   %2%3").arg(number + 1).arg(o.label, o.chance.isEmpty() ? QString() : QStringLiteral("   ") + o.chance),
            qPrintable(QStringLiteral("outcome-%1").arg(number + 1)));
        b->setAccessibleName(o.label);
        b->setToolTip(tr("Log it: %1").arg(o.label));
        b->setFocusPolicy(Qt::TabFocus);
        connect(b, &QPushButton::clicked, this, [this, k] {
            if (const auto log = k < m_outcomes.size() ? m_outcomes[k].log : nullptr) log();
        });
        m_grid->addWidget(b, number / kColumns, number % kColumns);
    }
}

void OutcomeButtons::keyPressEvent(QKeyEvent* event) {
    const int at = event->key() - Qt::Key_1;
    if (event->modifiers() != Qt::NoModifier || at < 0 || at >= static_cast<int>(m_outcomes.size())) return QWidget::keyPressEvent(event);
    const auto log = m_outcomes[static_cast<std::size_t>(at)].log; // the outcomes may be others before it returns
    log();
}

} // namespace ohmo
