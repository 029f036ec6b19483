// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "gui/act_line.h"
#include "gui/ruler/reading_ruler.h"
#include "gui/stations/station.h"
#include "gui/text.h"
#include "gui/widgets/board_pane.h"
#include "gui/widgets/outcome_buttons.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/part_card.h"
#include "gui/widgets/suspect_list.h"
#include "job/act_entries.h"
#include "report/story_to_tell.h"
#include "report/wording.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QPushButton>
#include <QShortcut>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <array>

namespace ohmo {
namespace {

class Probe : public QWidget {
    Q_OBJECT
public:
    explicit Probe(const Collaborators& with) : m_with(with), m_map(new BoardPane(with)), m_ruler(new ReadingRuler(with.theme)) {
        setObjectName(QStringLiteral("station-probe"));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        auto* centre = new QVBoxLayout;
        centre->setSpacing(0);
        centre->addWidget(m_map, 1);
        centre->addWidget(make_ask());
        layout->addLayout(centre, kCentreShare);
        layout->addWidget(make_side(), kSideShare);
        QObject::connect(&with.session, &Session::analysis_changed, this, [this] {
            m_index = 0;
            m_fell.reset();
            show_all();
        });
        QObject::connect(&with.session, &Session::job_changed, this, [this] {
            note_fallen();
            show_all();
        });
        QObject::connect(&with.suggestions, &Suggestions::being_typed, this,
                         [this](const std::optional<Entry>& entry) { m_ruler->show_typed(entry ? needle_of(*entry) : std::nullopt); });
        QObject::connect(m_ruler, &ReadingRuler::typed, this, [this](const QString& text) { type(text); });
        QObject::connect(m_outcomes, &OutcomeButtons::begun, this, [this](const QString& text) { m_with.write_bench_line(text); });
        show_all();
    }

protected:
    void hideEvent(QHideEvent* event) override {
        QWidget::hideEvent(event);
        Q_EMIT m_with.suggestions.asked({});
    }

    void showEvent(QShowEvent* event) override {
        QWidget::showEvent(event);
        Q_EMIT m_with.suggestions.asked(wants_number() ? asked_line() : QString());
        m_answer->currentWidget()->setFocus();
    }

private:
    QWidget* make_ask() {
        auto* ask = new QWidget;
        ask->setProperty("surface", QStringLiteral("panel"));
        auto* layout = new QVBoxLayout(ask);
        layout->setContentsMargins(16, 8, 16, 6);
        layout->setSpacing(2);
        auto* row = new QHBoxLayout;
        m_title = heading_line();
        m_title->setObjectName(QStringLiteral("next-title"));
        row->addWidget(m_title, 1);
        m_before = button(QStringLiteral("‹"), "next-back");
        m_after = button(QStringLiteral("›"), "next-forward");
        m_use = button(tr("Take it"), "next-use", "main");
        m_before->setToolTip(tr("The suggestion before (Alt+PgUp)"));
        m_after->setToolTip(tr("Another suggestion (Alt+PgDown)"));
        m_use->setToolTip(tr("Put this reading into the bench line, then type its value (F2)"));
        m_before->setAccessibleName(tr("Suggestion before"));
        m_after->setAccessibleName(tr("Next suggestion"));
        for (auto* b : {m_before, m_after, m_use}) row->addWidget(b);
        QObject::connect(m_before, &QPushButton::clicked, this, [this] { step(-1); });
        QObject::connect(m_after, &QPushButton::clicked, this, [this] { step(1); });
        QObject::connect(m_use, &QPushButton::clicked, this, [this] { take(); });
        QObject::connect(&m_with.suggestions, &Suggestions::take, this, [this] { take(); });
        QObject::connect(&m_with.suggestions, &Suggestions::step, this, [this](int by) { step(by); });
        layout->addLayout(row);
        m_why = body({}, "muted");
        m_why->setObjectName(QStringLiteral("next-why"));
        layout->addWidget(m_why);
        m_trace = body({});
        m_trace->setObjectName(QStringLiteral("next-trace"));
        layout->addWidget(m_trace);
        m_answer = new QStackedWidget; // of one height: the map does not jump when an act has no scale
        m_answer->setSizePolicy(m_ruler->sizePolicy());
        m_outcomes = new OutcomeButtons;
        m_answer->addWidget(m_ruler);
        m_answer->addWidget(m_outcomes);
        layout->addWidget(m_answer);
        return ask;
    }

    QWidget* make_side() {
        QVBoxLayout* side = nullptr;
        auto* column = side_column(side);
        side->addWidget(heading(tr("Suspects")));
        m_state = body({}, "muted");
        side->addWidget(m_state);
        auto* list = new SuspectList(m_with.session, m_with.selection, m_with.theme);
        list->setMinimumHeight(9 * (fontMetrics().height() + 12) + 4);
        side->addWidget(list, 3);
        m_story = new Card(tr("Likeliest story"), "plain");
        m_story->setObjectName(QStringLiteral("story-card"));
        side->addWidget(m_story);
        m_warning = new Card({}, "warn");
        m_warning->setObjectName(QStringLiteral("probe-warning"));
        side->addWidget(m_warning);
        side->addWidget(new PartCard(m_with));
        side->addStretch(1);
        return column;
    }

    const NextAct* current() const {
        const auto acts = acts_now(m_with.session);
        if (acts.empty()) return nullptr;
        const int at = std::clamp(m_index, 0, offers() - 1) - static_cast<int>(open_work().size());
        return at < 0 ? nullptr : &acts[static_cast<std::size_t>(at)];
    }

    bool locked() const { return !m_with.session.replay().cold_unlocked; }

    // Checks of new work come before everything else that is done cold.
    std::vector<const WorkCheck*> open_work() const {
        std::vector<const WorkCheck*> out;
        if (locked()) return out;
        if (const auto& a = m_with.session.analysis())
            for (const auto& w : a->work)
                if (w.state == WorkState::Open || w.state == WorkState::Failed) out.push_back(&w);
        return out;
    }

    int offers() const { return static_cast<int>(open_work().size() + acts_now(m_with.session).size()); }

    const WorkCheck* current_work() const {
        const auto work = open_work();
        const int at = std::clamp(m_index, 0, std::max(offers() - 1, 0));
        return at < static_cast<int>(work.size()) ? work[static_cast<std::size_t>(at)] : nullptr;
    }

    // Nothing is left to ask.
    bool done() const { return m_with.session.analysis() && !locked() && offers() == 0; }

    // Into the bench line; before cold readings are unlocked, on to Make safe; once nothing is left to ask, on to Parts.
    void take() {
        if (!m_with.session.has_job()) return;
        if (locked() && offers() == 0)
            m_with.go_to(QStringLiteral("make-safe"));
        else if (done())
            m_with.go_to(QStringLiteral("parts"));
        else if (const auto* work = current_work())
            m_with.write_bench_line(line_for(m_with.session.replay().board, work->check));
        else if (const auto* act = current())
            m_with.write_bench_line(line_for(m_with.session.replay().board, m_with.session.replay().evidence.meters, *act));
    }

    // A digit, or a letter that a word for a value begins with; refs and nets begin with others, or with capitals.
    static bool begins_a_value(QChar first) {
        static const std::array<QLatin1String, 7> words = {QLatin1String("open"),  QLatin1String("over"),   QLatin1String("inf"),
                                                           QLatin1String("beeps"), QLatin1String("silent"), QLatin1String("right"),
                                                           QLatin1String("wrong")};
        return !first.isLetter() || std::any_of(words.begin(), words.end(), [&](QLatin1String word) { return first == word.front(); });
    }

    // Of what is asked, as far as its value; empty for an act without one.
    QString asked_line() const {
        const auto* act = current();
        const auto* work = current_work();
        if (act == nullptr && work == nullptr) return {};
        const auto& now = m_with.session.replay();
        const QString line = work != nullptr ? line_for(now.board, work->check) : line_for(now.board, now.evidence.meters, *act);
        return line.endsWith(QLatin1Char(' ')) ? line : QString();
    }

    bool wants_number() const {
        const auto* act = current();
        const auto* work = current_work();
        return work != nullptr ? work->check.kind == CheckKind::Reading : act != nullptr && act->act == Act::Read;
    }

    // What is typed at the ruler goes on in the bench line, and the next value may be typed at the ruler again.
    void type(const QString& text) {
        if (!begins_a_value(text.front())) return m_with.write_bench_line(text); // something else is told
        const QString line = asked_line();
        if (line.isEmpty()) return;
        m_with.write_bench_line(line + text);
        m_typed_here = true;
    }

    std::optional<RulerScene::Needle> needle_of(const Entry& entry) const {
        const auto* act = current();
        if (act == nullptr || !(entry.value || entry.over) || !reads_at(m_with.session.replay().board, entry, act->query))
            return std::nullopt;
        return RulerScene::Needle{told(m_with.session.replay(), entry), entry.over || !entry.value};
    }

    void note_fallen() {
        const auto& journal = m_with.session.job().journal;
        const bool longer = journal.size() > m_entries;
        m_entries = journal.size();
        if (!longer || journal.empty()) return;
        m_fell = needle_of(journal.back());
        if (std::exchange(m_typed_here, false)) m_ruler->setFocus();
    }

    void step(int by) {
        const auto& a = m_with.session.analysis();
        if (!a || offers() == 0) return;
        const int count = offers();
        m_index = (m_index + by + count) % count;
        show_ask();
    }

    void show_all() {
        show_ask();
        show_side();
    }

    // Where an act puts the leads: on the pins of its part, by name; where it has none there, on those of the first in series that has.
    MapLeads leads_at(int part, const Query& query, const std::vector<int>& through = {}) const {
        MapLeads out;
        out.part = part;
        out.red = query.red;
        out.black = query.black;
        const auto& board = m_with.session.replay().board;
        const auto end = [&](NetId net, int& on, QString& pin) {
            on = part;
            for (int other : through)
                if (!board.part(on).touches(net) && board.part(other).touches(net)) on = other;
            for (int other = 0; other < static_cast<int>(board.parts.size()); ++other) // outside a connector
                if (!board.part(on).touches(net) && board.part(other).touches(net)) on = other;
            pin = qs(board.part(on).touches(net) ? board.part(on).role_on(net) : board.net_name(net));
        };
        end(out.red, out.red_part, out.red_pin);
        end(out.black, out.black_part, out.black_pin);
        return out;
    }

    MapLeads leads_of(const NextAct& act) const {
        if (act.act == Act::Read && act.part >= 0) return leads_at(act.part, act.query, act.through);
        MapLeads out;
        out.part = act.act == Act::Pull ? -1 : act.part;
        return out;
    }

    // The scale of a reading, or what an act without a number may come to. Whoever answers there goes on answering.
    void answer_by(QWidget* widget) {
        const bool answers = m_answer->isAncestorOf(QApplication::focusWidget());
        if (m_answer->currentWidget() == widget) return;
        m_answer->setCurrentWidget(widget);
        if (answers) widget->setFocus();
    }

    OutcomeButtons::Outcome logs(const QString& label, const QString& chance, const QString& line) {
        return {label, chance, [this, line] { (void)m_with.logbook.log_line(ss(line)); }};
    }

    std::vector<OutcomeButtons::Outcome> outcomes_of(const Analysis& a, const NextAct& act) {
        const auto& board = a.replay.board;
        const QString line = line_for(board, a.replay.evidence.meters, act);
        std::vector<OutcomeButtons::Outcome> out;
        if (act.act == Act::Assure) {
            const bool pulled = act.query.state.is_pulled(act.part);
            out.push_back(logs(pulled ? tr("It is apart") : tr("It is out"), {}, line));
            out.push_back({tr("It was not"), {}, [this, ref = board.part(act.part).ref] {
                               const int at = m_with.logbook.last([&](const Entry& e) {
                                   return (e.act == Do::Lift || e.act == Do::Remove || e.act == Do::Pull) && e.part == ref;
                               });
                               if (at >= 0) m_with.logbook.retract(at);
                           }});
            return out;
        }
        auto bands = act.bands;
        std::stable_sort(bands.begin(), bands.end(), [](const Band& x, const Band& y) { return x.p > y.p; });
        for (const auto& b : bands)
            if (!b.looks.empty()) out.push_back(logs(word_text(b.looks.front()), qs(format_share(b.p)), line + qs(b.looks.front())));
        return out;
    }

    void show_ask() {
        if (isVisible()) Q_EMIT m_with.suggestions.asked(wants_number() ? asked_line() : QString());
        const auto& a = m_with.session.analysis();
        const auto* act = current();
        const auto* work = current_work();
        answer_by(m_ruler);
        for (auto* b : {m_before, m_after, m_use}) b->setEnabled(act != nullptr || work != nullptr);
        m_trace->setText(a ? qs(wording::trace(*a)) : QString());
        m_trace->setVisible(!m_trace->text().isEmpty());
        m_map->show_leads(act != nullptr ? leads_of(*act) : MapLeads{});
        const bool shut = locked() && act == nullptr;
        m_use->setText(shut ? tr("Make safe first") : done() ? tr("On to Parts") : tr("Take it"));
        m_use->setEnabled(shut || act != nullptr || work != nullptr || done());
        if (!m_with.session.has_job()) {
            m_title->setText(tr("No job is open"));
            m_why->setText(tr("Start one from a blueprint (Ctrl+N) or open one (Ctrl+O)."));
            m_use->setEnabled(false);
            m_ruler->show_scene({});
            return;
        }
        if (shut) {
            const bool plugged = m_with.session.replay().mains_on;
            m_title->setText(plugged ? tr("Not yet: mains is connected") : tr("Not yet: the bulk capacitor may be charged"));
            m_why->setText(plugged ? tr("Cold readings wait until the plug is out and what is left was measured. Go to Make safe (Ctrl+2). "
                                        "What is read under power may be logged all the same.")
                                   : tr("Cold readings wait until it has been measured low. Go to Make safe (Ctrl+2)."));
            m_ruler->show_scene({});
            return;
        }
        if (work != nullptr) return show_work(*a, *work);
        if (act == nullptr) {
            const QString said = a ? qs(wording::stop(a->next.reason)) : QString(), enough = tr("Enough measured");
            m_title->setText(!a ? tr("Working out the stories…") : said.startsWith(enough) ? enough : tr("Nothing left to read"));
            m_why->setText(a ? QString(said).remove(enough + QStringLiteral(": "))
                             : tr("The first answer of a board takes a few seconds; the bench line works meanwhile."));
            m_ruler->show_scene({});
            return;
        }
        const auto& board = a->replay.board;
        m_title->setText(qs(wording::act_title(board, *act)));
        m_title->setToolTip(m_title->text());
        QStringList why;
        const bool live = under_power(act->query.what);
        why << tr("suggestion %1 of %2").arg(m_index + 1).arg(offers());
        if (live) why << tr("under power");
        if (!live && act->act == Act::Read && act->to_lift.empty() && act->query.alone < 0) why << tr("in circuit, cold");
        why << tr("about %1 min").arg(act->minutes, 0, 'g', 2) << tr("worth %1 bit").arg(act->bits, 0, 'f', 2);
        if (act->act == Act::Read && act->to_lift.empty()) why << tr("type its value");
        if (a->next.stop && !live) why << qs(wording::stop(a->next.reason));
        QString reason = why.join(QStringLiteral(" · "));
        if (live)
            reason += QLatin1Char('\n') + qs(wording::live_caution(*a)) + tr(" Cold readings wait until it is off (Make safe, Ctrl+2).");
        if (const auto hunt = wording::parts_suspects(board, *act); !hunt.empty()) reason += QLatin1Char('\n') + qs(hunt);
        if (const auto note = wording::assurance(board, *act); !note.empty()) reason += QLatin1Char('\n') + qs(note);
        if (act->part >= 0 && board.part(act->part).assumed)
            if (const auto find = qs(wording::how_to_find(board, act->part)); !find.isEmpty())
                reason += QLatin1Char('\n') + tr("How to find it: %1").arg(find);
        m_why->setText(reason);
        RulerScene scene;
        scene.what = act->query.what;
        if (act->act == Act::Read || act->act == Act::Pull) {
            scene.bands = act->bands;
            for (const auto& b : act->bands) scene.labels.push_back(qs(wording::band_label(board, *act, b)));
            scene.needle = m_fell;
        } else {
            m_outcomes->show_outcomes(outcomes_of(*a, *act));
            answer_by(m_outcomes);
        }
        m_ruler->show_scene(scene);
    }

    void show_work(const Analysis& a, const WorkCheck& work) {
        const auto& board = a.replay.board;
        const auto& check = work.check;
        m_title->setText(qs(wording::work_check(board, check)));
        m_title->setToolTip(m_title->text());
        QString first = work.state == WorkState::Failed ? tr("not right yet: mend it, then check again") : tr("prove the new work");
        const QString typed = check.kind == CheckKind::Look     ? tr("type right or wrong")
                              : check.kind == CheckKind::Joined ? tr("type beeps or silent")
                                                                : tr("type its value");
        m_why->setText(tr("%1 · check %2 of %3 · %4").arg(first).arg(m_index + 1).arg(open_work().size()).arg(typed) + QLatin1Char('\n') +
                       qs(wording::work_tells(board, check)));
        if (check.kind != CheckKind::Reading) {
            const QString line = line_for(board, check);
            std::vector<OutcomeButtons::Outcome> outcomes;
            const bool looked = check.kind == CheckKind::Look;
            for (const char* word : {looked ? "right" : "beeps", looked ? "wrong" : "silent"})
                outcomes.push_back(logs(word_text(word), {}, line + QLatin1String(word)));
            m_outcomes->show_outcomes(std::move(outcomes));
            answer_by(m_outcomes);
        }
        RulerScene scene;
        scene.what = check.query.what;
        if (check.kind == CheckKind::Reading) {
            Band well;
            well.lo = check.low;
            well.hi = check.high;
            well.over = check.over;
            well.healthy = true;
            well.p = 1;
            scene.bands = {well};
            scene.labels = {tr("all is well")};
            m_map->show_leads(leads_at(check.part, check.query));
        }
        m_ruler->show_scene(scene);
    }

    void show_side() {
        const auto& a = m_with.session.analysis();
        if (!a) return;
        const auto& board = a->replay.board;
        const auto readings =
            std::count_if(a->replay.evidence.observations.begin(), a->replay.evidence.observations.end(), [](const Observation& o) {
                return o.kind == Seen::Reading || o.kind == Seen::LiveVolts || o.kind == Seen::LiveRipple ||
                       o.kind == Seen::LiveAlternating;
            });
        QStringList state = {readings == 1 ? tr("after one reading") : tr("after %1 readings").arg(readings)};
        if (a->assessment.unexplained > 0.05) state << tr("%1 not on the map").arg(qs(format_share(a->assessment.unexplained)));
        m_state->setText(state.join(QStringLiteral(" · ")));
        if (a->assessment.stories.empty()) {
            m_story->set_text(tr("No story has one chance in a thousand yet."));
        } else {
            const auto& s = a->assessment.stories[story_to_tell(a->assessment.stories)];
            m_story->set_title(tr("Likeliest story · exactly so %1").arg(qs(format_share(s.p))));
            QStringList lines;
            int n = 0;
            for (const auto& st : s.scenario.steps) lines << QStringLiteral("%1  %2").arg(++n).arg(qs(wording::fault(board, st.fault)));
            m_story->set_text(lines.isEmpty() ? tr("Nothing on the board is wrong.") : lines.join(QLatin1Char('\n')));
        }
        QStringList odd;
        for (int e : a->assessment.contradicted_by)
            if (e != a->next.trace.entry || !a->next.trace.missing) // else it is told beside the suggestion
                odd << qs(wording::entry(board, a->job.journal[static_cast<std::size_t>(e)]));
        if (!odd.isEmpty()) {
            m_warning->set_title(tr("Not explained"));
            const auto& acts = a->next.acts;
            const auto doubt = std::find_if(acts.begin(), acts.end(), [](const NextAct& n) { return n.act == Act::Assure; });
            const QString ask = doubt != acts.end() ? qs(wording::act_title(board, *doubt)) : tr("Repeat it before you condemn anything.");
            m_warning->set_text(tr("The leading story does not fit: %1. %2").arg(odd.join(QStringLiteral(", ")), ask));
            m_warning->show();
            return;
        }
        m_warning->setVisible(a->fuse.has_value());
        if (!a->fuse) return;
        QStringList others;
        for (int part : a->fuse->because) others << qs(board.part(part).ref);
        m_warning->set_title(tr("Do not fit a new fuse yet"));
        m_warning->set_text(
            tr("It blew for a reason. Power-up stays locked until dealt with: %1.").arg(others.mid(0, 5).join(QStringLiteral(", "))));
    }

    Collaborators m_with;
    BoardPane* m_map;
    ReadingRuler* m_ruler;
    QStackedWidget* m_answer = nullptr; ///< the ruler, or the outcomes of an act without a number
    OutcomeButtons* m_outcomes = nullptr;
    QLabel *m_title = nullptr, *m_why = nullptr, *m_trace = nullptr, *m_state = nullptr;
    QPushButton *m_before = nullptr, *m_after = nullptr, *m_use = nullptr;
    Card *m_story = nullptr, *m_warning = nullptr;
    int m_index = 0;
    std::optional<RulerScene::Needle> m_fell; ///< the reading just logged at the place that is asked for
    std::size_t m_entries = 0;
    bool m_typed_here = false;
};

} // namespace

QWidget* make_probe(const Collaborators& with) { return new Probe(with); }

} // namespace ohmo

#include "probe.moc"
