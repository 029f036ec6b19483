// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/meter_teacher.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "report/wording.h"

#include <fmt/format.h>

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QScopedValueRollback>
#include <QTableWidget>

namespace ohmo {
namespace {

enum Column { kRange, kKnown, kShown, kDiode, kSeries, kCurrent, kColumns };

} // namespace

MeterTeacher::MeterTeacher(QWidget* parent)
    : QDialog(parent), m_name(new QLineEdit(tr("bench"))), m_leads(new QLineEdit), m_diode(new QLineEdit), m_counts(new QComboBox),
      m_table(new QTableWidget(0, kColumns)), m_says(body({})), m_for_new(new QCheckBox(tr("also for new jobs"))),
      m_use(button(tr("Use this meter"), "meter-use", "main")) {
    auto* outer = dialog_layout(*this, "meter-teacher", tr("Teach the meter"), {860, 460});
    outer->addWidget(body(
        tr("Junctions read differently on every meter, as each range drives its own current. Hold the meter on a range, read one known "
           "resistor and one good silicon diode (red lead at the anode), and go on to the next. A meter that chooses the range itself "
           "stays on one when a resistor is put in series with the diode. Leave empty what you did not read."),
        "muted"));
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    const auto field = [&](const QString& text, QWidget* widget, const char* name, int width) {
        auto* label = new QLabel(text);
        label->setBuddy(widget);
        widget->setObjectName(QLatin1String(name));
        widget->setAccessibleName(QString(text).remove(QLatin1Char('&')));
        widget->setMinimumWidth(width);
        row->addWidget(label);
        row->addWidget(widget);
        row->addSpacing(8);
    };
    field(tr("&Name"), m_name, "meter-name", 90);
    for (const int counts : {2000, 4000, 6000}) m_counts->addItem(tr("%1 counts").arg(counts), counts);
    m_counts->setCurrentIndex(2);
    field(tr("&Display"), m_counts, "meter-counts", 120);
    m_diode->setPlaceholderText(QStringLiteral("0.58"));
    field(tr("Diode &test, V"), m_diode, "meter-diode", 70);
    m_leads->setPlaceholderText(QStringLiteral("0"));
    field(tr("&Tips touched, Ω"), m_leads, "meter-leads", 70);
    row->addStretch(1);
    outer->addLayout(row);
    m_table->setObjectName(QStringLiteral("meter-ranges"));
    m_table->setAccessibleName(tr("Ranges of the meter"));
    m_table->setHorizontalHeaderLabels(
        {tr("Range, up to"), tr("Known resistor"), tr("It shows"), tr("Diode shows"), tr("Resistor in series"), tr("Test current")});
    m_table->verticalHeader()->hide();
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_table->setEditTriggers(QAbstractItemView::AllEditTriggers);
    m_table->setTabKeyNavigation(true);
    outer->addWidget(m_table, 1);
    m_says->setObjectName(QStringLiteral("meter-says"));
    outer->addWidget(m_says);
    auto* ends = new QHBoxLayout;
    m_for_new->setObjectName(QStringLiteral("meter-for-new"));
    m_for_new->setChecked(true);
    ends->addWidget(m_for_new);
    ends->addStretch(1);
    auto* cancel = button(tr("Leave it as it is"), "meter-cancel");
    ends->addWidget(cancel);
    ends->addWidget(m_use);
    outer->addLayout(ends);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_use, &QPushButton::clicked, this, &QDialog::accept);
    connect(m_counts, &QComboBox::currentIndexChanged, this, &MeterTeacher::fill_ranges);
    connect(m_table, &QTableWidget::cellChanged, this, &MeterTeacher::learn);
    for (auto* line : {m_name, m_leads, m_diode}) connect(line, &QLineEdit::textChanged, this, &MeterTeacher::learn);
    cancel->setAutoDefault(false);
    m_use->setAutoDefault(false); // Enter ends a cell, not the dialog
    fill_ranges();
}

bool MeterTeacher::for_new_jobs() const { return m_for_new->isChecked(); }

void MeterTeacher::fill_ranges() {
    const auto ranges = ranges_of_counts(m_counts->currentData().toInt());
    {
        const QScopedValueRollback filling(m_filling, true);
        m_table->setRowCount(static_cast<int>(ranges.size()));
        for (int r = 0; r < m_table->rowCount(); ++r)
            for (int c = 0; c < kColumns; ++c) {
                if (m_table->item(r, c) == nullptr) m_table->setItem(r, c, new QTableWidgetItem);
                auto* item = m_table->item(r, c);
                if (c == kRange) item->setText(qs(format_nominal(ranges[static_cast<std::size_t>(r)].full, "Ω")));
                if (c == kRange || c == kCurrent) item->setFlags(Qt::NoItemFlags); // Tab passes over it
            }
        m_table->setCurrentCell(0, kKnown);
    }
    learn();
}

Result<MeterLesson> MeterTeacher::lesson() const {
    MeterLesson out;
    Problems problems;
    const auto number = [&](const QString& place, const QString& text) -> std::optional<double> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        const auto value = parse_quantity(ss(text.trimmed()));
        if (value) return *value;
        problems.push_back({ProblemKind::UnreadableValue, ss(place), ss(text), {}, 0, false});
        return std::nullopt;
    };
    out.id = ss(m_name->text().trimmed());
    out.diode = number(tr("diode test"), m_diode->text());
    out.leads = number(tr("tips touched"), m_leads->text()).value_or(0);
    out.ranges = ranges_of_counts(m_counts->currentData().toInt());
    for (int r = 0; r < m_table->rowCount(); ++r) {
        auto& range = out.ranges[static_cast<std::size_t>(r)];
        const auto cell = [&](int column) { return m_table->item(r, column)->text().trimmed(); };
        const QString place = tr("range up to %1").arg(cell(kRange));
        range.known = number(place, cell(kKnown));
        range.shown = number(place, cell(kShown));
        range.diode_over = cell(kDiode).compare(tr("over"), Qt::CaseInsensitive) == 0;
        if (!range.diode_over) range.diode = number(place, cell(kDiode));
        range.in_series = number(place, cell(kSeries)).value_or(0);
    }
    if (!problems.empty()) return problems;
    return out;
}

void MeterTeacher::learn() {
    if (m_filling) return;
    const QScopedValueRollback filling(m_filling, true);
    m_meter.reset();
    const auto said = lesson();
    Problems problems = said ? Problems{} : said.problems();
    if (said) {
        auto taught = teach_meter(*said);
        if (taught)
            m_meter = std::move(*taught);
        else
            problems = taught.problems();
    }
    int read = 0;
    for (int r = 0; r < m_table->rowCount(); ++r) {
        const bool here = m_meter && said->ranges[static_cast<std::size_t>(r)].diode.has_value();
        QString text = m_meter ? tr("as usual") : QString();
        if (here) {
            const auto& range = m_meter->ohms[static_cast<std::size_t>(r)];
            text = qs(format_quantity(range.amps, "A", 2)) + tr(" ± %1 %").arg(100 * range.spread, 0, 'f', 0);
            ++read;
        }
        m_table->item(r, kCurrent)->setText(text);
    }
    const char* voice = "muted";
    if (!problems.empty()) {
        voice = "bad";
        m_says->setText(qs(wording::problem(problems.front())));
    } else {
        const auto known = std::count_if(said->ranges.begin(), said->ranges.end(), [](const auto& r) { return r.known.has_value(); });
        m_says->setText(read == 0 && known == 0
                            ? tr("Nothing read yet. Values as they are printed: 2k2, 4.7k, 1M; “over” where the diode is out of range.")
                            : tr("Test current known on %1 of %2 ranges; it shows %3 % of what is there, within %4 %.")
                                  .arg(read)
                                  .arg(m_table->rowCount())
                                  .arg(100 * m_meter->gain, 0, 'f', 1)
                                  .arg(100 * m_meter->gain_spread, 0, 'f', 1));
        m_use->setEnabled(read > 0 || known > 0);
    }
    if (!problems.empty()) m_use->setEnabled(false);
    set_voice(*m_says, voice);
}

} // namespace ohmo
