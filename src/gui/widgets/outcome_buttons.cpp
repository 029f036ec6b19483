// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/outcome_buttons.h"

#include "gui/widgets/panel.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QPushButton>

#include <algorithm>

namespace ohmo {
namespace {

constexpr int kMostColumns = 4;
constexpr std::size_t kMost = 9; // one digit each

} // namespace

OutcomeButtons::OutcomeButtons(QWidget* parent) : QWidget(parent), m_grid(new QGridLayout(this)) {
    setObjectName(QStringLiteral("outcomes"));
    setAccessibleName(tr("What it came to"));
    setFocusPolicy(Qt::StrongFocus);
    m_grid->setContentsMargins(0, 4, 0, 4);
    m_grid->setAlignment(Qt::AlignTop);
}

void OutcomeButtons::show_outcomes(std::vector<Outcome> outcomes) {
    outcomes.resize(std::min(outcomes.size(), kMost));
    QStringList shown;
    for (const auto& o : outcomes) shown << o.label + QLatin1Char('|') + o.chance;
    m_outcomes = std::move(outcomes);
    if (shown == m_shown) return; // the buttons stay, what they do is new
    m_shown = shown;
    for (auto* b : m_buttons) b->deleteLater();
    m_buttons.clear();
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
        b->setParent(this);
        m_buttons.push_back(b);
    }
    arrange();
}

void OutcomeButtons::arrange() {
    int wide = 1, high = 1;
    for (auto* b : m_buttons) {
        wide = std::max(wide, b->sizeHint().width());
        high = std::max(high, b->sizeHint().height());
    }
    const int gap = std::max(m_grid->spacing(), 4), columns = std::clamp((width() + gap) / (wide + gap), 1, kMostColumns);
    const int rows = std::max(1, (height() - m_grid->contentsMargins().top()) / (high + gap));
    for (int c = 0; c < kMostColumns; ++c) m_grid->setColumnStretch(c, c < columns ? 1 : 0);
    for (int k = 0; k < static_cast<int>(m_buttons.size()); ++k) {
        auto* b = m_buttons[static_cast<std::size_t>(k)];
        m_grid->removeWidget(b);
        b->setVisible(k < rows * columns);
        if (k < rows * columns) m_grid->addWidget(b, k / columns, k % columns);
    }
}

void OutcomeButtons::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    arrange();
}

void OutcomeButtons::keyPressEvent(QKeyEvent* event) {
    const QString text = event->text();
    if (!(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier)) && !text.isEmpty() && text.front().isLetter()) {
        Q_EMIT begun(text);
        return;
    }
    const int at = event->key() - Qt::Key_1;
    if (event->modifiers() != Qt::NoModifier || at < 0 || at >= static_cast<int>(m_outcomes.size())) return QWidget::keyPressEvent(event);
    const auto log = m_outcomes[static_cast<std::size_t>(at)].log; // the outcomes may be others before it returns
    log();
}

} // namespace ohmo
