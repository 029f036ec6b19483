// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "gui/map/map_view.h"
#include "gui/models/plan_model.h"
#include "gui/stations/station.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/yielding.h"
#include "report/plan_csv.h"
#include "report/wording.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QTableView>

namespace ohmo {
namespace {

constexpr double kTableLeast = 0.3, kTableMost = 0.58; // of the height

class Parts : public QWidget {
    Q_OBJECT
public:
    explicit Parts(const Collaborators& with) : m_with(with), m_model(new PlanModel(with.session, this)) {
        setObjectName(QStringLiteral("station-parts"));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        m_split = new SplitByContent(kTableLeast, kTableMost);
        m_split->addWidget(new MapView(with.session, with.selection, with.theme));
        auto* table = m_table = new QTableView;
        table->setObjectName(QStringLiteral("plan-table"));
        table->setAccessibleName(tr("Replacement plan"));
        table->setModel(m_model);
        table->setSelectionBehavior(QAbstractItemView::SelectRows);
        table->setSelectionMode(QAbstractItemView::SingleSelection);
        table->setAlternatingRowColors(true);
        table->setShowGrid(false);
        table->verticalHeader()->hide();
        table->verticalHeader()->setDefaultSectionSize(30);
        table->setEditTriggers(QAbstractItemView::NoEditTriggers);
        share_columns(*table, {172, 200, 180, 176, 58, 54});
        m_split->addWidget(table);
        layout->addWidget(m_split, kCentreShare);
        layout->addWidget(side(), kSideShare);
        QObject::connect(table->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& at) {
            if (const int part = m_model->part_at(at.row()); part >= 0) m_with.selection.select(part);
        });
        QObject::connect(&with.session, &Session::analysis_changed, this, [this] { refresh(); });
        refresh();
    }

private:
    QComboBox* choice(QVBoxLayout* layout, const QString& label, const char* name, const QStringList& options, int current) {
        layout->addWidget(body(label, "muted"));
        auto* box = new ElidedChoice;
        box->setObjectName(QString::fromLatin1(name));
        box->setAccessibleName(label);
        box->addItems(options);
        box->setCurrentIndex(current);
        layout->addWidget(box);
        QObject::connect(box, &QComboBox::currentIndexChanged, this, [this] { school_changed(); });
        return box;
    }

    QWidget* side() {
        QVBoxLayout* layout = nullptr;
        auto* column = side_column(layout);
        layout->addWidget(heading(tr("The plan")));
        m_totals = body({});
        m_totals->setObjectName(QStringLiteral("plan-totals"));
        layout->addWidget(m_totals);
        m_undecided = new Card(tr("Measure before you buy"), "warn");
        m_undecided->setObjectName(QStringLiteral("plan-undecided"));
        layout->addWidget(m_undecided);
        layout->addWidget(heading(tr("Your school")));
        const School& s = m_with.session.school();
        m_extent =
            choice(layout, tr("How much to change"), "school-extent",
                   {tr("only what is proven"), tr("the family: same type and age"), tr("everything wet")}, static_cast<int>(s.extent));
        m_capacitors = choice(layout, tr("Capacitors"), "school-capacitors", {tr("same value"), tr("impedance first")},
                              static_cast<int>(s.capacitors));
        m_when =
            choice(layout, tr("When"), "school-when", {tr("all at once"), tr("stage the spend: primary first")}, s.stage_the_spend ? 1 : 0);
        auto* consequence = new Card(tr("Parts that go with the switch"), "plain");
        consequence->set_text(tr("After a switch short its sense resistor, gate parts and controller are changed with it even when they "
                                 "read fine, or the new switch dies in milliseconds. "
                                 "Fit compound and insulators again; seat capacitors flat; check polarity."));
        layout->addWidget(consequence);
        m_export = button(tr("E&xport list…"), "plan-export");
        m_export->setToolTip(tr("Write the plan as CSV"));
        QObject::connect(m_export, &QPushButton::clicked, this, [this] { export_csv(); });
        layout->addWidget(m_export);
        m_note = body({}, "warn");
        layout->addWidget(m_note);
        layout->addStretch(1);
        return column;
    }

    void school_changed() {
        School s;
        s.extent = static_cast<Extent>(m_extent->currentIndex());
        s.capacitors = static_cast<CapacitorSchool>(m_capacitors->currentIndex());
        s.stage_the_spend = m_when->currentIndex() == 1;
        m_with.session.set_school(s);
    }

    void export_csv() {
        if (!m_with.session.analysis()) return;
        m_with.choose_file(this, {tr("Export the plan"), QStringLiteral("plan.csv"), tr("CSV (*.csv)"), true}, [this](const QString& file) {
            const auto done = m_with.session.disk().write(ss(file), plan_csv(*m_with.session.analysis()));
            m_note->setText(done ? tr("Written to %1").arg(file) : qs(wording::problem(done.problem())));
        });
    }

    void refresh() {
        const int rows = m_model->rowCount() * m_table->verticalHeader()->defaultSectionSize();
        m_split->set_lower(m_table->horizontalHeader()->sizeHint().height() + rows + 2 * m_table->frameWidth());
        const auto& a = m_with.session.analysis();
        m_export->setEnabled(a && !a->plan.lines.empty());
        if (!a)
            return m_totals->setText(m_with.session.has_job() ? tr("Working it out…")
                                                              : tr("No job is open: Ctrl+N starts one, Ctrl+O opens one."));
        std::map<int, std::pair<int, double>> stages;
        int left = 0;
        for (const auto& l : a->plan.lines) {
            if (l.done) continue;
            ++left;
            ++stages[l.stage].first;
            if (l.choice) stages[l.stage].second += l.choice->price;
        }
        QStringList lines;
        if (a->plan.lines.empty()) lines << tr("Nothing to replace yet: no part is likely enough to be bad.");
        for (const auto& [stage, sum] : stages)
            lines << (sum.first == 1
                          ? tr("Stage %1: one part, %2 EUR from the drawer").arg(stage).arg(sum.second, 0, 'f', 2)
                          : tr("Stage %1: %2 parts, %3 EUR from the drawer").arg(stage).arg(sum.first).arg(sum.second, 0, 'f', 2));
        if (a->plan.to_order > 0) lines << tr("%1 to be ordered").arg(a->plan.to_order);
        if (const auto& worth = a->job.unit.worth; worth && left > 0)
            lines << tr("The unit is worth %1 %2: parts are %3 of it.")
                         .arg(*worth)
                         .arg(qs(a->job.unit.currency), qs(format_share(*worth > 0 ? a->plan.stock_cost / *worth : 1)));
        m_totals->setText(lines.join(QLatin1Char('\n')));
        QStringList open;
        for (int p : a->plan.undecided)
            open << qs(a->replay.board.part(p).assumed ? wording::part_role(a->replay.board.part(p))
                                                       : a->replay.board.part(p).ref + " " + format_share(a->assessment.of(p).bad));
        m_undecided->setVisible(!open.isEmpty());
        m_undecided->set_text(open.mid(0, 8).join(QStringLiteral(", ")));
    }

    Collaborators m_with;
    PlanModel* m_model;
    SplitByContent* m_split = nullptr;
    QTableView* m_table = nullptr;
    QLabel *m_totals = nullptr, *m_note = nullptr;
    Card* m_undecided = nullptr;
    QComboBox *m_extent = nullptr, *m_capacitors = nullptr, *m_when = nullptr;
    QPushButton* m_export = nullptr;
};

} // namespace

QWidget* make_parts(const Collaborators& with) { return new Parts(with); }

} // namespace ohmo

#include "parts.moc"
