// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/connector_rails.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QGridLayout>

namespace ohmo {

ConnectorRails::ConnectorRails(const Collaborators& with, QWidget* parent)
    : Card(tr("Rails at its connector"), "plain", parent), m_with(with), m_grid(new QGridLayout), m_says(body({}, "muted")) {
    setObjectName(QStringLiteral("connector-rails"));
    m_grid->setHorizontalSpacing(2);
    m_grid->setVerticalSpacing(4);
    content()->addLayout(m_grid);
    content()->addWidget(m_says);
    m_says->setObjectName(QStringLiteral("connector-rails-says"));
}

void ConnectorRails::build() {
    clear_layout(m_grid);
    m_idle.clear();
    m_loaded.clear();
    m_grid->addWidget(body(tr("idle"), "muted"), 0, 1);
    m_grid->addWidget(body(tr("load"), "muted"), 0, 2);
    for (std::size_t r = 0; r < m_rails.size(); ++r) {
        const int row = static_cast<int>(r) + 1;
        const QString name = qs(m_rails[r].net);
        m_grid->addWidget(new QLabel(name), row, 0);
        for (const bool idle : {true, false}) {
            auto* field = new QLineEdit;
            field->setObjectName(QStringLiteral("%1-%2").arg(idle ? QStringLiteral("rail-idle") : QStringLiteral("rail-loaded"), name));
            field->setPlaceholderText(qs(format_nominal(m_rails[r].volts, "V")));
            field->setAccessibleName(idle ? tr("%1 idle").arg(name) : tr("%1 loaded").arg(name));
            QObject::connect(field, &QLineEdit::returnPressed, this, [this, r, idle, field] { log(r, idle, *field); });
            m_grid->addWidget(field, row, idle ? 1 : 2);
            (idle ? m_idle : m_loaded).push_back(field);
        }
    }
    m_grid->setColumnStretch(1, 1);
    m_grid->setColumnStretch(2, 1);
}

void ConnectorRails::log(std::size_t rail, bool idle, QLineEdit& field) {
    const QString text = field.text().trimmed();
    if (text.isEmpty()) return;
    const std::string value = ss(text) + (text.endsWith(QLatin1Char('V'), Qt::CaseInsensitive) ? "" : " V");
    const std::string power = m_with.session.replay().board.mains ? " mains" : " elv";
    const auto problems =
        m_with.logbook.log_line(m_rails[rail].net + " " + m_rails[rail].ret + " " + value + power + (idle ? " idle" : " full"));
    if (!problems.empty()) {
        m_says->setText(qs(wording::problem(problems.front())));
        return field.selectAll();
    }
    field.nextInFocusChain()->setFocus();
}

void ConnectorRails::refresh() {
    const auto& now = m_with.session.replay();
    setVisible(!now.board.rails.empty());
    if (m_rails != now.board.rails) {
        m_rails = now.board.rails;
        build();
    }
    for (auto* list : {&m_idle, &m_loaded})
        for (auto* field : *list)
            if (!field->hasFocus()) field->clear();
    for (const auto& o : now.evidence.observations) {
        if (o.kind != Seen::LiveVolts || !of_one_time(o, now.evidence)) continue;
        for (std::size_t r = 0; r < m_rails.size(); ++r)
            if (o.query.red == m_rails[r].net_id && o.query.black == m_rails[r].return_id) {
                auto* field = o.load.value_or(1) <= now.board.practice().idle_load ? m_idle[r] : m_loaded[r];
                if (!field->hasFocus()) field->setText(qs(format_quantity(o.value, "V")));
            }
    }
    m_says->setText(tr("Cover on, at the plug that goes to the machine, red on the rail. Above 60 V: stop, Power up says how."));
}

} // namespace ohmo
