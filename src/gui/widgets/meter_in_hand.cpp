// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/meter_in_hand.h"

#include "base/text.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "job/bench_line.h"
#include "report/wording.h"

#include <QButtonGroup>
#include <QFormLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPushButton>

#include <algorithm>

namespace ohmo {
namespace {

constexpr int kDigits = 9;

QString described(const std::string& id, const std::vector<MeterProfile>& known) {
    const QString name = qs(wording::meter(id));
    if (id == low_power_meter().id) return MeterInHandDialog::tr("%1: no junction conducts, resistors read alone").arg(name);
    if (id == milliohm_meter().id) return MeterInHandDialog::tr("%1: along a shorted rail").arg(name);
    if (id != kUsualMeter) return name;
    const auto usual = std::find_if(known.begin(), known.end(), [](const MeterProfile& m) { return m.usual; });
    return usual == known.end() ? MeterInHandDialog::tr("%1, not taught yet (Ctrl+M teaches it)").arg(name)
                                : MeterInHandDialog::tr("%1: %2").arg(name, qs(usual->id));
}

} // namespace

MeterInHandDialog::MeterInHandDialog(const Collaborators& with, QWidget* parent)
    : QDialog(parent), m_with(with), m_drawer(with.session.bench().meters), m_meters(new QButtonGroup(this)), m_leads(new QLineEdit),
      m_says(body({}, "muted")) {
    auto* layout = dialog_layout(*this, "meter-in-hand", tr("Meter in hand"), {620, 330});
    layout->addWidget(
        body(tr("Readings that name no other meter are taken with this one from here on. What is logged already stays as it was "
                "read.")));
    const auto& now = with.session.replay();
    const std::string held = now.hand.id.empty() ? std::string(kUsualMeter) : now.hand.id;
    for (int i = 0; i < static_cast<int>(m_drawer.size()) && i < kDigits; ++i) {
        const auto& id = m_drawer[static_cast<std::size_t>(i)];
        auto* choice = button(QStringLiteral("%1  %2").arg(i + 1).arg(described(id, now.evidence.meters)),
                              qPrintable(QStringLiteral("meter-") + qs(id)));
        choice->setCheckable(true);
        choice->setChecked(id == held);
        choice->setAutoDefault(false);
        m_meters->addButton(choice, i);
        layout->addWidget(choice);
    }
    auto* form = new QFormLayout;
    m_leads->setObjectName(QStringLiteral("meter-leads"));
    m_leads->setAccessibleName(tr("Ohms with the tips touched"));
    m_leads->setPlaceholderText(tr("0.2; 0 where the meter has taken them off"));
    if (now.hand.leads) m_leads->setText(QString::number(*now.hand.leads));
    form->addRow(tr("With the tips touched it shows, ohm"), m_leads);
    layout->addLayout(form);
    m_says->setObjectName(QStringLiteral("meter-says"));
    m_says->setText(tr("A digit takes a meter in hand; then touch the tips, type what it shows, Enter."));
    layout->addWidget(m_says);
    auto* done = button(tr("Done"), "meter-done", "main");
    layout->addWidget(done, 0, Qt::AlignRight);
    connect(m_meters, &QButtonGroup::idClicked, this, &MeterInHandDialog::take);
    connect(done, &QPushButton::clicked, this, &MeterInHandDialog::null_leads);
    connect(m_leads, &QLineEdit::returnPressed, this, &MeterInHandDialog::null_leads);
    done->setAutoDefault(false);
    if (auto* checked = m_meters->checkedButton()) checked->setFocus();
}

void MeterInHandDialog::keyPressEvent(QKeyEvent* event) {
    const int number = event->key() - Qt::Key_1;
    if (number >= 0 && number < static_cast<int>(m_meters->buttons().size()) && !m_leads->hasFocus()) return take(number);
    QDialog::keyPressEvent(event);
}

void MeterInHandDialog::take(int number) {
    const auto& id = m_drawer[static_cast<std::size_t>(number)];
    m_meters->button(number)->setChecked(true);
    const auto& hand = m_with.session.replay().hand;
    if (id != (hand.id.empty() ? std::string(kUsualMeter) : hand.id)) {
        m_with.logbook.log_line("meter " + id);
        m_leads->clear(); // those of the meter before
    }
    m_leads->setFocus();
    m_leads->selectAll();
}

void MeterInHandDialog::null_leads() {
    const std::string typed = trimmed(ss(m_leads->text()));
    const auto& leads = m_with.session.replay().hand.leads;
    if (typed.empty() || (leads && QString::number(*leads) == m_leads->text().trimmed())) return accept();
    if (const auto problems = m_with.logbook.log_line("leads " + typed); !problems.empty()) {
        set_voice(*m_says, "warn");
        m_says->setText(qs(wording::problem(problems.front())));
        return m_leads->selectAll();
    }
    accept();
}

} // namespace ohmo
