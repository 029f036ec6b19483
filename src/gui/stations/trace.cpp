// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "gui/map/map_wiring.h"
#include "gui/models/rails_model.h"
#include "gui/stations/station.h"
#include "gui/text.h"
#include "gui/widgets/board_pane.h"
#include "gui/widgets/open_ends_list.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/part_card.h"
#include "gui/widgets/parts_table.h"
#include "gui/widgets/yielding.h"
#include "job/traced.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTableView>

namespace ohmo {
namespace {

class Trace : public QWidget {
    Q_OBJECT
public:
    explicit Trace(const Collaborators& with) : m_with(with), m_table(new PartsTable(with)), m_ends(new OpenEndsList(with)) {
        setObjectName(QStringLiteral("station-trace"));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        auto* split = new QSplitter(Qt::Vertical);
        auto* map = new BoardPane(with);
        map->map().show_whole(true); // every part is to be found
        split->addWidget(map);
        split->addWidget(make_tables());
        auto* wiring = new MapWiring(with, map->map());
        QObject::connect(wiring, &MapWiring::said, this, [this](const QString& what, bool good) { say(what, good); });
        QObject::connect(wiring, &MapWiring::begin_part, m_table, &PartsTable::begin_part);
        QObject::connect(wiring, &MapWiring::strike, m_table, &PartsTable::strike);
        split->setStretchFactor(0, 3);
        split->setStretchFactor(1, 2);
        split->setSizes({380, 230});
        layout->addWidget(split, kCentreShare);
        layout->addWidget(side(), kSideShare);
        QObject::connect(&with.session, &Session::job_changed, this, [this] {
            select_what_was_traced();
            refresh();
        });
        QObject::connect(&with.session, &Session::analysis_changed, this, [this] { refresh(); });
        refresh();
    }

private:
    QWidget* make_tables() {
        auto* box = new QWidget;
        auto* layout = new QVBoxLayout(box);
        layout->setContentsMargins(12, 8, 12, 8);
        auto* row = new QHBoxLayout;
        m_pages = new QStackedWidget;
        const auto page = [&](QWidget* what, const char* name) {
            const int number = m_pages->addWidget(what);
            auto* b = button({}, name);
            b->setCheckable(true);
            b->setAutoExclusive(true);
            b->setChecked(number == 0);
            QObject::connect(b, &QPushButton::clicked, this, [this, number] { m_pages->setCurrentIndex(number); });
            row->addWidget(b);
            m_page_buttons.push_back(b);
        };
        page(m_table, "page-parts");
        page(make_rails(), "page-rails");
        page(m_ends, "page-ends");
        auto* find = new QLineEdit;
        find->setObjectName(QStringLiteral("find-part"));
        find->setPlaceholderText(tr("find a part, value or net"));
        find->setAccessibleName(tr("Find a part, value or net"));
        row->addWidget(find, 1);
        layout->addLayout(row);
        m_said = new QHBoxLayout;
        m_note = body({}, "warn");
        m_note->setObjectName(QStringLiteral("trace-note"));
        m_said->addWidget(m_note, 1);
        layout->addLayout(m_said);
        m_note->hide();
        layout->addWidget(m_pages, 1);
        QObject::connect(find, &QLineEdit::textChanged, m_table, &PartsTable::filter);
        QObject::connect(m_table, &PartsTable::said, this, [this](const QString& what, bool good) { say(what, good); });
        QObject::connect(&m_table->parts(), &PartsModel::ambiguous, this, &Trace::offer);
        QObject::connect(&m_with.session, &Session::job_changed, this, [this] { say({}, true); });
        return box;
    }

    QWidget* make_rails() {
        auto* box = new QWidget;
        auto* layout = new QHBoxLayout(box);
        layout->setContentsMargins(0, 0, 0, 0);
        auto* model = new RailsModel(m_with.session, m_with.logbook, box);
        auto* table = new QTableView;
        table->setObjectName(QStringLiteral("rails-table"));
        table->setAccessibleName(tr("Rails of the board"));
        table->setModel(model);
        table->setSelectionBehavior(QAbstractItemView::SelectRows);
        table->setShowGrid(false);
        table->setAlternatingRowColors(true);
        table->verticalHeader()->hide();
        table->verticalHeader()->setDefaultSectionSize(26);
        share_columns(*table, {3, 3, 2, 2, 2});
        layout->addWidget(table, 3);
        auto* side = new QVBoxLayout;
        m_mains = body({}, nullptr);
        m_mains->setObjectName(QStringLiteral("mains-line"));
        side->addWidget(m_mains);
        auto* change = button(tr("Change the mains…"), "change-mains");
        auto* add = button(tr("New rail…"), "new-rail");
        auto* strike = button(tr("No such rail"), "strike-rail");
        for (auto* b : {change, add, strike}) side->addWidget(b);
        side->addStretch(1);
        layout->addLayout(side, 2);
        QObject::connect(change, &QPushButton::clicked, this, [this] {
            const auto& mains = m_with.session.replay().board.mains;
            m_with.write_bench_line(mains ? QStringLiteral("mains %1V %2Hz").arg(mains->volts).arg(mains->hertz)
                                          : QStringLiteral("mains 230V 50Hz"));
        });
        QObject::connect(add, &QPushButton::clicked, this, [this] { m_with.write_bench_line(QStringLiteral("rail ")); });
        QObject::connect(strike, &QPushButton::clicked, this, [this, table, model] {
            const auto at = table->currentIndex();
            if (!at.isValid()) return say(tr("Choose the rail first."), false);
            const auto& rail = m_with.session.replay().board.rails[static_cast<std::size_t>(at.row())];
            (void)m_with.logbook.log(trace_entry({RailEdit{rail, true}}));
        });
        QObject::connect(model, &RailsModel::refused, this, [this](const QString& why) { say(why, false); });
        return box;
    }

    void say(const QString& what, bool good) {
        while (m_said->count() > 1) {
            auto* item = m_said->takeAt(1);
            item->widget()->deleteLater();
            delete item;
        }
        set_voice(*m_note, good ? "good" : "warn");
        m_note->setText(what);
        m_note->setVisible(!what.isEmpty());
    }

    // What was written can be read in other ways too: one button each.
    void offer(const QString& ref, const std::vector<ValueReading>& readings) {
        const auto index = m_with.session.replay().board.find_part(ss(ref));
        if (!index) return;
        const PartKind kind = m_with.session.replay().board.part(*index).kind;
        say(tr("%1 taken as %2. Or is it:").arg(ref, qs(wording::value_reading(kind, readings.front()))), true);
        for (std::size_t i = 1; i < readings.size(); ++i) {
            auto* b = button(qs(wording::value_reading(kind, readings[i])), qPrintable(QStringLiteral("other-reading-%1").arg(i)));
            QObject::connect(b, &QPushButton::clicked, this, [this, ref, reading = readings[i]] {
                PartEdit edit;
                edit.ref = ss(ref);
                edit.value = reading.value;
                edit.volts = reading.volts;
                (void)m_with.logbook.log(trace_entry({edit}));
            });
            m_said->addWidget(b);
        }
    }

    void select_what_was_traced() {
        const auto& journal = m_with.session.job().journal;
        const auto& board = m_with.session.replay().board;
        const bool grew = journal.size() > m_entries;
        m_entries = journal.size();
        if (!grew || journal.empty() || journal.back().act != Do::Trace || journal.back().edits.size() != 1) return;
        if (const auto* edit = std::get_if<PartEdit>(&journal.back().edits.front()))
            m_with.selection.select(board.find_part(edit->new_ref.value_or(edit->ref)).value_or(-1));
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
        auto* help = new Card(tr("In the bench line"), "plain");
        help->setObjectName(QStringLiteral("trace-help"));
        help->set_text(tr("+ R12 4k7 HV VCC   a part that you found\n"
                          "+ Q1 mosfet 600V D=HV G=GATE S=SNS\n"
                          "= R12 472   what is printed on it\n"
                          "= R12 2=GATE   where a pin goes\n"
                          "R12.1 C5.+ beep   one net (silent: two)\n"
                          "net N7 VCC   its name\n"
                          "- R12   it is not on this board\n"
                          "rail +12V 0V 12V 2A   mains 230V 50Hz\n"
                          "or on the map: J a pin, J another, Enter it beeps, X not"));
        layout->addWidget(help);
        auto* row = new QHBoxLayout;
        const auto act = [&](const QString& text, const QString& tip, const char* name, void (PartsTable::*what)()) {
            auto* b = button(text, name);
            b->setToolTip(tip);
            QObject::connect(b, &QPushButton::clicked, m_table, what);
            row->addWidget(b);
        };
        act(tr("New part"), tr("Begin a part in the bench line (Ins in the table)"), "new-part", &PartsTable::begin_part);
        act(tr("Paste rows"), tr("Rows of a spreadsheet: ref, value, nets in the order of the pins (Ctrl+V in the table)"), "paste-rows",
            &PartsTable::paste_rows);
        layout->addLayout(row);
        layout->addStretch(1);
        return column;
    }

    void recognise() {
        const int index = m_with.selection.part();
        const auto& board = m_with.session.replay().board;
        if (index < 0) return;
        if (!m_ref->text().trimmed().isEmpty() &&
            !m_table->parts().setData(m_table->parts().index(index, PartsModel::Ref), m_ref->text(), Qt::EditRole))
            return;
        if (!m_value->text().trimmed().isEmpty())
            m_table->parts().setData(m_table->parts().index(index, PartsModel::Value), m_value->text(), Qt::EditRole);
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
            board.parts.empty()
                ? tr("No parts yet. Ins in the table, or + in the bench line: + F1 T2A L L1. A beep tells too: R1.2 C5.+ beep.")
            : assumed == 0 ? tr("All %1 parts have been seen.").arg(board.parts.size())
                           : tr("%1 of %2 parts are assumed: faint on the map, wide in every sum.").arg(assumed).arg(board.parts.size()));
        const auto& a = m_with.session.analysis();
        const QString ask = a ? qs(wording::trace(*a)) : QString(); // one rule for this station and for Probe
        m_ask->setVisible(!ask.isEmpty());
        m_ask->set_text(ask);
        m_page_buttons[0]->setText(tr("Parts %1").arg(board.parts.size()));
        m_page_buttons[1]->setText(tr("Rails %1").arg(board.rails.size()));
        m_page_buttons[2]->setText(tr("Open ends %1").arg(m_ends->count()));
        m_mains->setText(board.mains ? tr("Mains %1 V, %2 Hz").arg(board.mains->volts).arg(board.mains->hertz)
                                     : tr("No mains: DC or battery"));
    }

    Collaborators m_with;
    PartsTable* m_table;
    OpenEndsList* m_ends;
    QStackedWidget* m_pages = nullptr;
    std::vector<QPushButton*> m_page_buttons;
    QHBoxLayout* m_said = nullptr;
    QLabel *m_note = nullptr, *m_progress = nullptr, *m_mains = nullptr;
    std::size_t m_entries = 0;
    Card *m_ask = nullptr, *m_form = nullptr;
    QLineEdit *m_ref = nullptr, *m_value = nullptr;
    QPushButton* m_seen = nullptr;
};

} // namespace

QWidget* make_trace(const Collaborators& with) { return new Trace(with); }

} // namespace ohmo

#include "trace.moc"
