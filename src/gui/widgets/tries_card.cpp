// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/tries_card.h"

#include "gui/text.h"
#include "report/triage_wording.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>

#include <algorithm>
#include <array>

namespace ohmo {

TriesCard::TriesCard(const Collaborators& with, QWidget* parent)
    : Card(tr("It comes and goes: try by try"), "plain", parent), m_with(with) {
    setObjectName(QStringLiteral("tries-card"));
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    m_cold = button(tr("Cold"), "try-cold");
    m_warm = button(tr("Warm"), "try-warm");
    for (auto* b : {m_cold, m_warm}) {
        b->setCheckable(true);
        row->addWidget(b);
        QObject::connect(b, &QPushButton::clicked, this, [this, b] { (b == m_cold ? m_warm : m_cold)->setChecked(false); });
    }
    row->addWidget(new QLabel(tr("it")));
    const auto how = [&](const QString& text, const char* name, const char* saw) {
        auto* b = button(text, name);
        QObject::connect(b, &QPushButton::clicked, this, [this, saw] { log(saw); });
        row->addWidget(b);
    };
    how(tr("Runs"), "try-runs", "runs");
    how(tr("Fails to start"), "try-fails", "fails");
    how(tr("Dies after"), "try-dies", "dies");
    m_minutes = new QLineEdit;
    m_minutes->setObjectName(QStringLiteral("try-minutes"));
    m_minutes->setPlaceholderText(tr("8 min"));
    m_minutes->setAccessibleName(tr("Time that it ran before it died"));
    QObject::connect(m_minutes, &QLineEdit::returnPressed, this, [this] { log("dies"); });
    row->addWidget(m_minutes, 1);
    content()->addLayout(row);
    m_says = body({}, "muted");
    m_says->setObjectName(QStringLiteral("tries-say"));
    content()->addWidget(m_says);
}

void TriesCard::log(const char* how) {
    std::string line = std::string("try ") + how;
    if (m_cold->isChecked()) line += " cold";
    if (m_warm->isChecked()) line += " warm";
    if (std::string(how) == "dies") line += " " + ss(m_minutes->text().trimmed());
    if (const auto problems = m_with.logbook.log_line(line); !problems.empty())
        return m_says->setText(qs(wording::problem(problems.front())));
    m_minutes->clear();
}

void TriesCard::refresh() {
    static constexpr std::array<const char*, 6> comes_and_goes = {"comes-and-goes",   "starts-when-warm", "dies-after-minutes",
                                                                  "flashes-then-off", "unstable-output",  "crackle"};
    const auto& now = m_with.session.replay();
    const bool said = std::any_of(now.symptoms.begin(), now.symptoms.end(), [](const std::string& word) {
        return std::find(comes_and_goes.begin(), comes_and_goes.end(), word) != comes_and_goes.end();
    });
    setVisible(said || !now.tries.empty());
    const auto lines = wording::all_tries(now.board.practice(), now.tries);
    QStringList texts;
    for (const auto& line : lines)
        if (!line.empty()) texts << qs(line);
    m_says->setText(texts.isEmpty() ? tr("One try proves nothing. Log each: cold or warm, and what it did.")
                                    : texts.join(QLatin1Char('\n')));
}

} // namespace ohmo
