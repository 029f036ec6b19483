// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "gui/map/map_view.h"
#include "gui/models/parts_model.h"
#include "gui/stations/station.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/part_card.h"
#include "gui/widgets/yielding.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QSortFilterProxyModel>
#include <QSplitter>
#include <QTableView>

namespace ohmo {
namespace {

class Trace : public QWidget {
    Q_OBJECT
public:
    explicit Trace(const Collaborators& with)
        : m_with(with), m_model(new PartsModel(with.session, with.logbook, this)), m_filter(new QSortFilterProxyModel(this)),
          m_table(new QTableView) {
        setObjectName(QStringLiteral("station-trace"));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        auto* split = new QSplitter(Qt::Vertical);
        auto* map = new MapView(with.session, with.selection, with.theme);
        map->show_whole(true); // every part is to be found
        split->addWidget(map);
        split->addWidget(make_table());
        split->setStretchFactor(0, 3);
        split->setStretchFactor(1, 2);
        split->setSizes({380, 230});
        layout->addWidget(split, kCentreShare);
        layout->addWidget(side(), kSideShare);
        QObject::connect(&with.session, &Session::job_changed, this, [this] { refresh(); });
        QObject::connect(&with.session, &Session::analysis_changed, this, [this] { refresh(); });
        refresh();
    }

private:
    QWidget* make_table() {
        auto* box = new QWidget;
        auto* layout = new QVBoxLayout(box);
        layout->setContentsMargins(12, 8, 12, 8);
        auto* row = new QHBoxLayout;
        auto* find = new QLineEdit;
        find->setObjectName(QStringLiteral("find-part"));
        find->setPlaceholderText(tr("find a part, value or net"));
        find->setAccessibleName(tr("Find a part, value or net"));
        row->addWidget(find, 1);
        m_note = body({}, "warn");
        m_note->setObjectName(QStringLiteral("trace-note"));
        row->addWidget(m_note, 2);
        layout->addLayout(row);
        m_filter->setSourceModel(m_model);
        m_filter->setFilterKeyColumn(-1);
        m_filter->setFilterCaseSensitivity(Qt::CaseInsensitive);
        m_table->setModel(m_filter);
        m_table->setObjectName(QStringLiteral("parts-table"));
        m_table->setAccessibleName(tr("Parts of the board"));
        m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
        m_table->setSelectionMode(QAbstractItemView::SingleSelection);
        m_table->setAlternatingRowColors(true);
        m_table->setShowGrid(false);
        m_table->verticalHeader()->hide();
        m_table->verticalHeader()->setDefaultSectionSize(26);
        share_columns(*m_table, {80, 210, 120, 110, 90, 110});
        layout->addWidget(m_table, 1);
        QObject::connect(find, &QLineEdit::textChanged, m_filter, &QSortFilterProxyModel::setFilterFixedString);
        QObject::connect(m_model, &PartsModel::refused, m_note, &QLabel::setText);
        QObject::connect(&m_with.session, &Session::job_changed, m_note, [this] { m_note->clear(); });
        QObject::connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& at) {
            if (at.isValid()) m_with.selection.select(m_filter->mapToSource(at).row());
        });
        QObject::connect(&m_with.selection, &Selection::changed, this, [this](int part) {
            const auto at = m_filter->mapFromSource(m_model->index(part, 0));
            if (at.isValid() && at.row() != m_table->currentIndex().row()) m_table->setCurrentIndex(at);
        });
        return box;
    }

    QWidget* side() {
        QVBoxLayout* layout = nullptr;
        auto* column = side_column(layout);
        layout->addWidget(heading(tr("Open questions")));
        m_progress = body({}, "muted");
        layout->addWidget(m_progress);
        m_ask = new Card(tr("Trace this next"), "plain");
        m_ask->setObjectName(QStringLiteral("trace-next"));
        layout->addWidget(m_ask);
        m_ref = new QLineEdit;
        m_ref->setObjectName(QStringLiteral("recognise-ref"));
        m_ref->setPlaceholderText(tr("printed ref, such as C5"));
        m_ref->setAccessibleName(tr("Printed ref"));
        m_value = new QLineEdit;
        m_value->setObjectName(QStringLiteral("recognise-value"));
        m_value->setPlaceholderText(tr("value, such as 68u"));
        m_value->setAccessibleName(tr("Value"));
        m_seen = button(tr("&I have seen it"), "recognise", "main");
        m_seen->setToolTip(tr("The selected part is there, with this ref and value"));
        m_form = new Card({}, "plain");
        m_form->content()->addWidget(m_ref);
        m_form->content()->addWidget(m_value);
        m_form->content()->addWidget(m_seen);
        layout->addWidget(m_form);
        QObject::connect(m_seen, &QPushButton::clicked, this, [this] { recognise(); });
        QObject::connect(&m_with.selection, &Selection::changed, this, [this] { show_form(); });
        layout->addWidget(new PartCard(m_with));
        layout->addStretch(1);
        return column;
    }

    void recognise() {
        const int index = m_with.selection.part();
        const auto& board = m_with.session.replay().board;
        if (index < 0) return;
        if (!m_ref->text().trimmed().isEmpty() && !m_model->setData(m_model->index(index, PartsModel::Ref), m_ref->text(), Qt::EditRole))
            return;
        if (!m_value->text().trimmed().isEmpty()) m_model->setData(m_model->index(index, PartsModel::Value), m_value->text(), Qt::EditRole);
        if (board.part(index).assumed) { // seen as assumed: nothing to correct
            Entry e;
            e.act = Do::Recognise;
            e.part = board.part(index).ref;
            (void)m_with.logbook.log(e);
        }
        m_ref->clear();
        m_value->clear();
    }

    void show_form() {
        const int index = m_with.selection.part();
        const auto& board = m_with.session.replay().board;
        const bool some = index >= 0 && index < static_cast<int>(board.parts.size());
        m_form->setVisible(some && board.part(index).assumed);
        if (some) m_form->set_title(tr("Recognised the %1?").arg(qs(wording::part_role(board.part(index)))));
    }

    void refresh() {
        show_form();
        const auto& board = m_with.session.replay().board;
        const auto assumed = std::count_if(board.parts.begin(), board.parts.end(), [](const Part& p) { return p.assumed; });
        m_progress->setText(
            board.parts.empty() ? tr("No board yet: Job menu, New from blueprint.")
            : assumed == 0      ? tr("All %1 parts have been seen.").arg(board.parts.size())
                           : tr("%1 of %2 parts are assumed: faint on the map, wide in every sum.").arg(assumed).arg(board.parts.size()));
        const auto& a = m_with.session.analysis();
        const QString ask = a ? qs(wording::trace(*a)) : QString(); // one rule for this station and for Probe
        m_ask->setVisible(!ask.isEmpty());
        m_ask->set_text(ask);
    }

    Collaborators m_with;
    PartsModel* m_model;
    QSortFilterProxyModel* m_filter;
    QTableView* m_table;
    QLabel *m_note = nullptr, *m_progress = nullptr;
    Card *m_ask = nullptr, *m_form = nullptr;
    QLineEdit *m_ref = nullptr, *m_value = nullptr;
    QPushButton* m_seen = nullptr;
};

} // namespace

QWidget* make_trace(const Collaborators& with) { return new Trace(with); }

} // namespace ohmo

#include "trace.moc"
