// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/part_card.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "report/wording.h"

#include <QGridLayout>
#include <QPushButton>

#include <cmath>

namespace ohmo {

PartCard::PartCard(const Collaborators& with, QWidget* parent) : QWidget(parent), m_with(with), m_layout(new QVBoxLayout(this)) {
    setObjectName(QStringLiteral("part-card"));
    m_layout->setContentsMargins(0, 0, 0, 0);
    connect(&with.selection, &Selection::changed, this, &PartCard::refresh);
    connect(&with.session, &Session::job_changed, this, &PartCard::refresh);
    connect(&with.session, &Session::analysis_changed, this, &PartCard::refresh);
    refresh();
}

void PartCard::log(Do act, const std::string& saw, const std::string& mode) {
    Entry e;
    e.act = act;
    e.part = m_with.session.replay().board.part(m_with.selection.part()).ref;
    e.saw = saw;
    e.mode = mode;
    (void)m_with.logbook.log(e);
}

void PartCard::refresh() {
    clear_layout(m_layout);
    const auto& now = m_with.session.replay();
    const int index = m_with.selection.part();
    if (index < 0 || index >= static_cast<int>(now.board.parts.size())) {
        m_layout->addWidget(body(tr("Choose a part on the map or in the list to see why it is suspected and to log a look."), "muted"));
        return;
    }
    const auto& part = now.board.part(index);
    m_layout->addWidget(heading(qs(wording::part_title(part))));
    QString about = qs(wording::part_role(part));
    if (part.assumed) about += tr(" · assumed, nobody has seen it yet");
    m_layout->addWidget(body(about, "muted"));
    if (const auto& a = m_with.session.analysis(); a && index < static_cast<int>(a->assessment.parts.size())) {
        const auto& b = a->assessment.belief(index);
        QStringList modes;
        for (const auto& [mode, p] : b.modes)
            if (p > 0.005) modes << qs(wording::mode(part.kind, mode) + " " + format_share(p));
        m_layout->addWidget(
            body(tr("Bad: %1").arg(qs(format_share(b.bad))) +
                 (modes.isEmpty() ? QString() : QStringLiteral(" (") + modes.join(QStringLiteral(", ")) + QLatin1Char(')'))));
        QStringList reasons;
        for (const auto& r : b.reasons) {
            if (reasons.size() >= 4 || r.entry < 0 || r.entry >= static_cast<int>(a->job.journal.size())) break;
            reasons << QStringLiteral("%1 %2 (%3 dB)")
                           .arg(r.decibans > 0 ? QStringLiteral("▲") : QStringLiteral("▼"),
                                qs(wording::entry(now.board, a->job.journal[static_cast<std::size_t>(r.entry)])))
                           .arg(std::lround(std::fabs(r.decibans)));
        }
        if (!reasons.isEmpty()) m_layout->addWidget(body(tr("Weighed by\n") + reasons.join(QLatin1Char('\n')), "muted"));
        if (!b.settled_cold && b.bad > 0.02)
            m_layout->addWidget(body(tr("No cold reading settles this fault: it takes a substitute or a gated live step."), "warn"));
    }
    auto* looks = new QGridLayout;
    looks->setSpacing(4);
    int k = 0;
    for (const char* word : {"fine", "bulged", "leaking", "burnt", "brown", "cracked", "hole", "soot", "dry-joint"}) {
        auto* b = button(QString::fromLatin1(word), qPrintable(QStringLiteral("look-") + QString::fromLatin1(word)));
        b->setToolTip(tr("Log the look: %1").arg(QString::fromLatin1(word)));
        const auto seen = now.looks.find(index);
        b->setCheckable(true);
        b->setChecked(seen != now.looks.end() && seen->second == word);
        connect(b, &QPushButton::clicked, this, [this, word] { log(Do::Look, word); });
        looks->addWidget(b, k / 3, k % 3);
        ++k;
    }
    m_layout->addWidget(body(tr("It looks"), "muted"));
    m_layout->addLayout(looks);
    auto* acts = new QGridLayout;
    acts->setSpacing(4);
    const bool lifted = now.evidence.state.is_lifted(index);
    auto* lift = button(lifted ? tr("Refit") : tr("Lift"), "part-lift");
    connect(lift, &QPushButton::clicked, this, [this, lifted] { log(lifted ? Do::Refit : Do::Lift); });
    acts->addWidget(lift, 0, 0);
    auto* replace = button(tr("Replaced"), "part-replace");
    replace->setToolTip(tr("A new part has been fitted in its place"));
    connect(replace, &QPushButton::clicked, this, [this] { log(Do::Replace); });
    acts->addWidget(replace, 0, 1);
    auto* read = button(tr("Read…"), "part-read");
    read->setToolTip(tr("Put the part into the bench line"));
    connect(read, &QPushButton::clicked, this, [this, ref = part.ref] { m_with.write_bench_line(qs(ref) + QLatin1Char(' ')); });
    acts->addWidget(read, 0, 2);
    m_layout->addLayout(acts);
}

} // namespace ohmo
