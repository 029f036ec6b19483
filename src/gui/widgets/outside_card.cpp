// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/outside_card.h"

#include "base/text.h"
#include "gui/text.h"
#include "gui/widgets/column_grid.h"
#include "report/triage_wording.h"

#include <QHBoxLayout>

#include <algorithm>

namespace ohmo {
OutsideCard::OutsideCard(const Collaborators& with, QWidget* parent)
    : Card(tr("Before the cover comes off"), "plain", parent), m_with(with) {
    setObjectName(QStringLiteral("outside-card"));
    auto* grid = new ColumnGrid(2);
    for (const auto& check : outside_checks()) {
        m_rows.push_back(make_row(check));
        if (check.answers.size() <= 2)
            grid->add(m_rows.back().line);
        else
            content()->addWidget(m_rows.back().line);
    }
    content()->addWidget(grid);
}

OutsideCard::Row OutsideCard::make_row(const OutsideCheck& check) {
    Row row{&check, new QWidget, new QLabel(qs(wording::outside_check(check.id))), {}};
    auto* layout = new QHBoxLayout(row.line);
    layout->setContentsMargins(0, 0, 6, 0);
    layout->setSpacing(4);
    row.line->setToolTip(qs(wording::outside_how(check.id)));
    layout->addWidget(row.title, check.answers.size() <= 2 ? 1 : 0);
    auto* many = check.answers.size() > 2 ? new ColumnGrid(static_cast<int>(check.answers.size())) : nullptr;
    for (const auto answer : check.answers) {
        auto* b = button(word_text(wording::outside_answer(answer), true),
                         qPrintable(QStringLiteral("check-%1-%2").arg(qs(check.id), qs(answer))));
        b->setCheckable(true);
        b->setAccessibleName(QStringLiteral("%1: %2").arg(row.title->text(), b->text()));
        QObject::connect(b, &QPushButton::clicked, this, [this, &check, answer] { toggle(check, answer); });
        if (many != nullptr)
            many->add(b);
        else
            layout->addWidget(b);
        row.answers.push_back(b);
    }
    if (many != nullptr) layout->addWidget(many, 1);
    return row;
}

void OutsideCard::toggle(const OutsideCheck& check, std::string_view answer) {
    const auto& said = m_with.session.replay().outside; // since the last repair: an answer of before it stands as it was
    const auto at = said.find(std::string(check.id));
    const bool answered = at != said.end(), same = answered && at->second == answer;
    if (answered) m_with.logbook.retract(m_with.logbook.last([&](const Entry& e) { return e.act == Do::Check && e.what == check.id; }));
    if (same) return;
    Entry e;
    e.act = Do::Check;
    e.what = check.id;
    e.saw = answer;
    (void)m_with.logbook.log(e);
}

void OutsideCard::refresh() {
    const auto& now = m_with.session.replay();
    const auto& a = m_with.session.analysis();
    const bool worth = a && !a->triage.asks.empty() && a->triage.asks.front().bits > m_with.session.replay().board.practice().worth_asking;
    const OutsideCheck* first = worth ? a->triage.asks.front().check : nullptr;
    for (auto& row : m_rows) {
        row.line->setVisible(asked_of(*row.check, now.board));
        const auto said = now.outside.find(std::string(row.check->id));
        std::size_t k = 0;
        for (const auto answer : row.check->answers) row.answers[k++]->setChecked(said != now.outside.end() && said->second == answer);
    }
    set_title(first == nullptr ? tr("Before the cover comes off")
                               : tr("Before the cover comes off · first: %1").arg(qs(lowered(wording::outside_check(first->id)))));
}

} // namespace ohmo
