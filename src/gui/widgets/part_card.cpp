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
namespace {

constexpr double kShownAbove = 0.005; // of a mode's chance
constexpr int kMostReasons = 4;

} // namespace

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
    if (index < 0 || index >= static_cast<int>(now.board.parts.size())) return;
    const auto& part = now.board.part(index);
    m_layout->addWidget(heading(qs(wording::part_title(part))));
    m_layout->addWidget(
        body(part.assumed ? tr("%1 · assumed, nobody has seen it yet").arg(qs(wording::part_role(part))) : qs(wording::part_role(part)),
             "muted"));
    if (part.assumed)
        if (const auto find = qs(wording::how_to_find(now.board, index)); !find.isEmpty())
            m_layout->addWidget(body(tr("How to find it: %1.").arg(find)));
    add_suspicion(index);
    add_looks(index);
    add_acts(index);
}

void PartCard::add_suspicion(int index) {
    const auto& board = m_with.session.replay().board;
    const auto& a = m_with.session.analysis();
    if (!a || index >= static_cast<int>(a->assessment.parts.size())) return;
    const auto& b = a->assessment.of(index);
    QStringList modes;
    for (const auto& [mode, p] : b.modes)
        if (p > kShownAbove) modes << qs(wording::mode(board.part(index).kind, mode) + " " + format_share(p));
    const QString bad = qs(format_share(b.bad));
    m_layout->addWidget(body(modes.isEmpty() ? tr("Bad: %1").arg(bad) : tr("Bad: %1 (%2)").arg(bad, modes.join(QStringLiteral(", ")))));
    QStringList reasons;
    for (const auto& r : b.reasons) {
        if (reasons.size() >= kMostReasons || r.entry < 0 || r.entry >= static_cast<int>(a->job.journal.size())) break;
        reasons << QStringLiteral("%1 %2 (%3 dB)")
                       .arg(r.decibans > 0 ? QStringLiteral("▲") : QStringLiteral("▼"),
                            qs(wording::entry(board, a->job.journal[static_cast<std::size_t>(r.entry)])))
                       .arg(std::lround(std::fabs(r.decibans)));
    }
    if (!reasons.isEmpty()) m_layout->addWidget(body(tr("Weighed by:\n%1").arg(reasons.join(QLatin1Char('\n'))), "muted"));
    if (!b.settled_cold && b.bad > 0.02)
        m_layout->addWidget(body(tr("No cold reading settles this fault: it takes a substitute or a gated live step."), "warn"));
}

void PartCard::add_looks(int index) {
    const auto& looked = m_with.session.replay().looks;
    const auto seen = looked.find(index);
    auto* looks = new QGridLayout;
    looks->setSpacing(4);
    int k = 0;
    const auto& a = m_with.session.analysis();
    if (!a) return;
    for (const auto& word : a->looks->at(m_with.session.replay().board.part(index).kind)) {
        auto* b = button(word_text(word), qPrintable(QStringLiteral("look-") + qs(word)));
        b->setToolTip(tr("Log the look: %1").arg(word_text(word)));
        b->setCheckable(true);
        b->setChecked(seen != looked.end() && seen->second == word);
        connect(b, &QPushButton::clicked, this, [this, word] { log(Do::Look, word); });
        looks->addWidget(b, k / 3, k % 3);
        ++k;
    }
    m_layout->addWidget(body(tr("It looks"), "muted"));
    m_layout->addLayout(looks);
}

void PartCard::add_acts(int index) {
    const auto& now = m_with.session.replay();
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
    const auto& a = m_with.session.analysis();
    if (a && a->assessment.of(index).leading.mode == FaultMode::DryJoint &&
        a->assessment.of(index).bad > now.board.practice().undecided_above) {
        auto* resolder = button(tr("Resoldered"), "part-resolder");
        resolder->setToolTip(tr("The joints of all its pins were made anew; the part stays"));
        connect(resolder, &QPushButton::clicked, this, [this] { log(Do::Resolder); });
        acts->addWidget(resolder, 1, 0, 1, 3);
    }
    auto* read = button(tr("Read…"), "part-read");
    read->setToolTip(tr("Put the part into the bench line"));
    connect(read, &QPushButton::clicked, this,
            [this, ref = now.board.part(index).ref] { m_with.write_bench_line(qs(ref) + QLatin1Char(' ')); });
    acts->addWidget(read, 0, 2);
    m_layout->addLayout(acts);
}

} // namespace ohmo
