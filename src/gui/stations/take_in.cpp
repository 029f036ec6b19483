// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "base/text.h"
#include "gui/stations/station.h"
#include "gui/text.h"
#include "gui/widgets/column_grid.h"
#include "gui/widgets/connector_rails.h"
#include "gui/widgets/outside_card.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/tries_card.h"
#include "report/triage_wording.h"

#include <QCompleter>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>

namespace ohmo {
namespace {

constexpr int kMostColumns = 6;
constexpr qsizetype kMostThoughts = 4;

class TakeIn : public QWidget {
    Q_OBJECT
public:
    explicit TakeIn(const Collaborators& with) : m_with(with) {
        setObjectName(QStringLiteral("station-take-in"));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        QVBoxLayout* centre = nullptr;
        auto* column = scrolled_column(centre);
        centre->setContentsMargins(20, 12, 20, 8);
        centre->setSpacing(8);
        centre->addWidget(heading(tr("What does it do, or not do?")));
        centre->addWidget(words(Do::Symptom, with.session.vocabulary().symptoms));
        centre->addWidget(heading(tr("What happened to it before?")));
        centre->addWidget(words(Do::History, with.session.vocabulary().history));
        m_tries = new TriesCard(with);
        centre->addWidget(m_tries);
        m_outside = new OutsideCard(with);
        centre->addWidget(m_outside);
        centre->addWidget(unit_form());
        centre->addStretch(1);
        layout->addWidget(column, kCentreShare);
        layout->addWidget(side(), kSideShare);
        QObject::connect(&with.session, &Session::job_changed, this, [this] { refresh(); });
        QObject::connect(&with.session, &Session::analysis_changed, this, [this] { refresh(); });
        refresh();
    }

protected:
    void showEvent(QShowEvent* event) override {
        QWidget::showEvent(event);
        if (!m_completed) complete();
    }

private:
    // Machine, model, maker as they were written on earlier jobs.
    void complete() {
        m_completed = true;
        std::vector<Path> paths;
        for (const auto& job : m_with.recent_jobs()) paths.push_back(ss(job));
        m_with.session.read_progress(paths, this, [this](const std::vector<std::optional<JobProgress>>& found) {
            const auto offer = [&](QLineEdit* edit, std::string Unit::*field) {
                QStringList words;
                for (const auto& job : found)
                    if (job && !((job->who.*field).empty()) && !words.contains(qs(job->who.*field))) words << qs(job->who.*field);
                words.sort(Qt::CaseInsensitive);
                auto* completer = new QCompleter(words, edit);
                completer->setCaseSensitivity(Qt::CaseInsensitive);
                completer->setFilterMode(Qt::MatchContains);
                edit->setCompleter(completer);
            };
            offer(m_name, &Unit::name);
            offer(m_model, &Unit::model);
            offer(m_maker, &Unit::maker);
        });
    }

    QWidget* words(Do act, const std::vector<std::string>& list) {
        auto* grid = new ColumnGrid(kMostColumns);
        for (const auto& word : list) {
            auto* b = button(word_text(word, true), (act == Do::Symptom ? "symptom-" + word : "history-" + word).c_str());
            b->setCheckable(true);
            b->setMinimumHeight(30);
            QObject::connect(b, &QPushButton::clicked, this, [this, act, word] { toggle(act, word); });
            grid->add(b);
            m_words.push_back({act, word, b});
        }
        return grid;
    }

    int entry_of(Do act, const std::string& word) const {
        return m_with.logbook.last([&](const Entry& e) { return e.act == act && e.saw == word; });
    }

    void toggle(Do act, const std::string& word) {
        if (const int at = entry_of(act, word); at >= 0) return m_with.logbook.retract(at);
        Entry e;
        e.act = act;
        e.saw = word;
        (void)m_with.logbook.log(e);
    }

    QWidget* unit_form() {
        auto* card = new Card(tr("The unit"), "plain");
        auto* form = new QGridLayout;
        const auto field = [&](const QString& label, const char* name, QLineEdit*& edit, int row, int column) {
            edit = new QLineEdit;
            edit->setObjectName(QString::fromLatin1(name));
            edit->setAccessibleName(label);
            auto* caption = new QLabel(label);
            caption->setBuddy(edit);
            form->addWidget(caption, row, 2 * column);
            form->addWidget(edit, row, 2 * column + 1);
            QObject::connect(edit, &QLineEdit::editingFinished, this, [this] { store_unit(); });
        };
        field(tr("Machine"), "unit-name", m_name, 0, 0);
        field(tr("Model"), "unit-model", m_model, 0, 1);
        field(tr("Maker"), "unit-maker", m_maker, 0, 2);
        field(tr("Serial"), "unit-serial", m_serial, 1, 0);
        field(tr("Worth (EUR)"), "unit-worth", m_worth, 1, 1);
        for (int column : {1, 3, 5}) form->setColumnStretch(column, 1);
        card->content()->addLayout(form);
        return card;
    }

    void store_unit() {
        Unit unit = m_with.session.job().unit;
        const Unit before = unit;
        unit.name = ss(m_name->text());
        unit.model = ss(m_model->text());
        unit.maker = ss(m_maker->text());
        unit.serial = ss(m_serial->text());
        if (const auto worth = parse_quantity(ss(m_worth->text())); worth && *worth >= 0) unit.worth = *worth;
        if (unit.name != before.name || unit.model != before.model || unit.maker != before.maker || unit.serial != before.serial ||
            unit.worth != before.worth)
            m_with.logbook.set_unit(unit);
    }

    QWidget* side() {
        QVBoxLayout* layout = nullptr;
        auto* column = side_column(layout);
        layout->addWidget(heading(tr("Is it the supply at all?")));
        m_verdict = new Card({}, "plain");
        m_verdict->setObjectName(QStringLiteral("triage-verdict"));
        layout->addWidget(m_verdict);
        m_rails = new ConnectorRails(m_with);
        layout->addWidget(m_rails);
        m_first = new Card(tr("First thoughts"), "plain");
        m_first->setObjectName(QStringLiteral("first-thoughts"));
        layout->addWidget(m_first);
        auto* next = button(tr("On to &Make safe"), "to-make-safe", "main");
        QObject::connect(next, &QPushButton::clicked, this, [this] { m_with.go_to(QStringLiteral("make-safe")); });
        layout->addWidget(next);
        layout->addWidget(body(tr("Ohmotrace helps you reason. It certifies nothing: local electrical codes and a competent person decide "
                                  "what may be worked on and used."),
                               "muted"));
        layout->addStretch(1);
        return column;
    }

    void refresh() {
        for (auto& w : m_words) w.button->setChecked(entry_of(w.act, w.word) >= 0);
        m_outside->refresh();
        m_tries->refresh();
        m_rails->refresh();
        const auto& unit = m_with.session.job().unit;
        const auto fill = [](QLineEdit* edit, const QString& text) {
            if (!edit->hasFocus() && edit->text() != text) edit->setText(text);
        };
        fill(m_name, qs(unit.name));
        fill(m_model, qs(unit.model));
        fill(m_maker, qs(unit.maker));
        fill(m_serial, qs(unit.serial));
        fill(m_worth, unit.worth ? QString::number(*unit.worth) : QString());
        const auto& a = m_with.session.analysis();
        if (!a) {
            const bool job = m_with.session.has_job();
            m_verdict->set_title(job ? tr("Working it out…") : tr("No job is open"));
            m_verdict->set_text(job ? QString() : tr("Start one from a blueprint (Ctrl+N) or open one (Ctrl+O)."));
            m_first->set_text({});
            return;
        }
        const auto& t = a->triage;
        m_verdict->set_look(t.earth_open ? "stop" : t.verdict == Verdict::RunsRight || t.verdict == Verdict::Outside ? "good" : "plain");
        m_verdict->set_title(qs(wording::verdict_title(t)));
        m_verdict->set_text(qs(wording::verdict_text(t)));
        QStringList lines;
        for (const auto& b : a->assessment.parts) {
            if (lines.size() >= kMostThoughts || b.bad < 0.05) break;
            const auto& part = a->replay.board.part(b.part);
            lines << QStringLiteral("%1  %2").arg(qs(format_share(b.bad)), qs(wording_of(part)));
        }
        m_first->set_text(lines.isEmpty() ? tr("No part stands out yet.") : lines.join(QLatin1Char('\n')));
    }

    static std::string wording_of(const Part& part) {
        const std::string role = part.role.empty() ? std::string(kind_info(part.kind).name) : part.role;
        return part.assumed ? role : part.ref + ", " + role;
    }

    struct WordButton {
        Do act;
        std::string word;
        QPushButton* button;
    };
    Collaborators m_with;
    std::vector<WordButton> m_words;
    QLineEdit *m_name = nullptr, *m_model = nullptr, *m_maker = nullptr, *m_serial = nullptr, *m_worth = nullptr;
    Card *m_verdict = nullptr, *m_first = nullptr;
    OutsideCard* m_outside = nullptr;
    TriesCard* m_tries = nullptr;
    ConnectorRails* m_rails = nullptr;
    bool m_completed = false; ///< the fields know the units of earlier jobs
};

} // namespace

QWidget* make_take_in(const Collaborators& with) { return new TakeIn(with); }

} // namespace ohmo

#include "take_in.moc"
