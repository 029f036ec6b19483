// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "board/roles.h"
#include "gui/stations/station.h"
#include "gui/text.h"
#include "gui/widgets/ladder_list.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/plot.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>

#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr int kStepsWidth = 330; // beside plots

class PowerUp : public QWidget {
    Q_OBJECT
public:
    explicit PowerUp(const Collaborators& with)
        : m_with(with), m_ladder(new LadderList(with.theme)),
          m_supply(new Plot("supply-plot", tr("Bulk capacitor by transformer setting"))),
          m_lamp(new Plot("lamp-plot", tr("Operating point with a lamp in series"))) {
        setObjectName(QStringLiteral("station-power-up"));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        QVBoxLayout* steps = nullptr;
        m_left = scrolled_column(steps, "panel");
        m_left->setMinimumWidth(240);
        steps->setContentsMargins(10, 10, 10, 10);
        steps->addWidget(heading(tr("Ladder")));
        m_ladder->setMinimumHeight(4 * (2 * fontMetrics().height() + 18));
        steps->addWidget(m_ladder, 1);
        m_locks = new Card({}, "warn");
        m_locks->setObjectName(QStringLiteral("locks"));
        steps->addWidget(m_locks);
        layout->addWidget(m_left, 2);
        QVBoxLayout* centre = nullptr;
        m_plots = scrolled_column(centre);
        centre->setContentsMargins(14, 12, 14, 12);
        m_supply_title = heading({});
        m_lamp_title = heading({});
        centre->addWidget(m_supply_title);
        centre->addWidget(m_supply, 1);
        centre->addWidget(m_lamp_title);
        centre->addWidget(m_lamp, 1);
        layout->addWidget(m_plots, 4);
        layout->addWidget(side(), kSideShare);
        QObject::connect(&with.session, &Session::analysis_changed, this, [this] { refresh(); });
        QObject::connect(&with.session, &Session::job_changed, this, [this] { refresh(); });
        QObject::connect(&with.theme, &ThemeSource::changed, this, [this] { refresh(); });
        refresh();
    }

private:
    QWidget* side() {
        QVBoxLayout* layout = nullptr;
        auto* column = side_column(layout);
        m_step = heading({});
        m_step->setObjectName(QStringLiteral("current-step"));
        layout->addWidget(m_step);
        m_detail = body({}, "muted");
        layout->addWidget(m_detail);
        m_figures = new QVBoxLayout;
        m_figures->setSpacing(6);
        layout->addLayout(m_figures);
        m_outside = new Card(tr("Outside its band"), "stop");
        m_outside->setObjectName(QStringLiteral("outside-band"));
        layout->addWidget(m_outside);
        m_go = button(tr("&Passed, go on"), "step-passed", "main");
        m_stop = button(tr("&Stop: mains off, discharge"), "step-abort", "danger");
        m_clear = button(tr("&Cause found, open the ladder again"), "step-clear");
        layout->addWidget(m_go);
        layout->addWidget(m_stop);
        layout->addWidget(m_clear);
        auto* abort = new Card(tr("Stop at once when"), "stop");
        m_abort = abort;
        layout->addWidget(abort);
        m_care = new Card(tr("Before you reach in"), "warn");
        m_care->setObjectName(QStringLiteral("before-you-reach-in"));
        layout->addWidget(m_care);
        layout->addStretch(1);
        QObject::connect(m_go, &QPushButton::clicked, this, [this] { log_step("passed"); });
        QObject::connect(m_stop, &QPushButton::clicked, this, [this] { log_step("aborted"); });
        QObject::connect(m_clear, &QPushButton::clicked, this, [this] { log_step("cleared"); });
        return column;
    }

    const LadderStep* current() const {
        const auto& a = m_with.session.analysis();
        if (!a || a->ladder.current < 0 || a->ladder.current >= static_cast<int>(a->ladder.steps.size())) return nullptr;
        return &a->ladder.steps[static_cast<std::size_t>(a->ladder.current)];
    }

    void log_step(const char* saw) {
        const auto* step = current();
        Entry e;
        e.act = Do::PowerStep;
        e.step = step != nullptr ? step_text(step->id) : "none";
        e.saw = saw;
        (void)m_with.logbook.log(e);
    }

    void refresh() {
        const auto& a = m_with.session.analysis();
        for (auto* b : {m_go, m_stop, m_clear}) b->setEnabled(false);
        if (!a) return m_step->setText(m_with.session.has_job() ? tr("Working it out…") : tr("No job is open"));
        const auto& board = a->replay.board;
        m_ladder->show_ladder(a->ladder);
        QStringList locks;
        for (const auto& l : a->ladder.locks) {
            locks << (l.open ? QStringLiteral("✓ ") : QStringLiteral("▪ ")) + qs(wording::lock(board, l));
            if (l.id == LockId::RiskLow && !l.open && a->next.reason == StopReason::RiskLeft)
                locks.back() += tr("; cheapest act that lowers it: %1").arg(qs(wording::act_title(board, a->next.acts.front())));
        }
        m_locks->set_look(a->ladder.locked ? "warn" : "good");
        m_locks->set_title(a->ladder.locked ? tr("Locked: cold evidence is missing") : tr("Locks open"));
        m_locks->set_text(locks.join(QLatin1Char('\n')));
        m_clear->setVisible(a->replay.facts.aborted);
        m_clear->setEnabled(a->replay.facts.aborted);
        show_step(*a);
        show_supply(*a);
        show_lamp(*a);
        const bool plots = !m_supply->isHidden() || !m_lamp->isHidden(); // a board without mains has neither: the steps take the room
        m_plots->setVisible(plots);
        m_left->setMaximumWidth(plots ? kStepsWidth : QWIDGETSIZE_MAX);
    }

    // Live readings outside the bands of the step under way.
    static QStringList outside(const Analysis& a) {
        QStringList out;
        for (const auto& f : a.live.figures)
            if (f.outside()) out << qs(wording::figure_name(f.figure) + " " + format_quantity(*f.read, f.figure.unit));
        return out;
    }

    // What can hurt differs: a barrier to the mains, none, or no mains at all.
    void show_cautions(bool mains, bool rails_on_mains) {
        const QString rest = tr("Local rules and a competent person decide whether this may be powered at all.");
        m_stop->setText(mains ? tr("&Stop: mains off, discharge") : tr("&Stop: supply off, discharge"));
        m_abort->set_text(mains ? tr("a figure leaves its band · the lamp stays bright for more than 3 s · current climbs while the "
                                     "setting stands still · smell, smoke, hiss or tick")
                                : tr("a figure leaves its band · the current limit is reached · current climbs while the setting "
                                     "stands still · smell, smoke, hiss or tick"));
        if (!mains)
            m_care->set_text(tr("Supply with a current limit, polarity checked twice. A battery or a large capacitor drives hundreds of "
                                "amperes: no ring, no loose tool. Eyes covered. ") +
                             rest);
        else if (rails_on_mains)
            m_care->set_text(
                tr("No isolation: the rails of this board are joined to the mains. Everything on it can kill, whatever its own "
                   "volts. Isolation transformer, no earthed probe clip anywhere, covers or shield on, eyes covered, one hand. ") +
                rest);
        else
            m_care->set_text(tr("Isolation transformer for the primary; behind it the residual-current device does not protect you. No "
                                "earthed probe clip on the primary. Covers or shield on, eyes covered, one hand. ") +
                             rest);
    }

    void show_step(const Analysis& a) {
        show_cautions(a.replay.board.mains.has_value(), a.replay.roles->rails_on_mains);
        clear_layout(m_figures);
        const auto* step = current();
        const QStringList off = outside(a);
        m_outside->setVisible(!off.isEmpty());
        QString care = tr("%1. Switch off, discharge, find out why before you go on.").arg(off.join(QStringLiteral(", ")));
        if (!a.live_next.empty())
            care += tr(" Only if nothing is hot, smells or draws more than it should: Probe (Ctrl+4) asks first for the volts that tell where "
                       "it stops.");
        m_outside->set_text(care);
        m_stop->setEnabled(a.replay.mains_on || (step != nullptr && !a.ladder.locked));
        if (a.ladder.locked) {
            m_step->setText(a.replay.mains_on      ? tr("Switch off now")
                            : a.replay.board.mains ? tr("Mains stays out")
                                                   : tr("Power stays off"));
            m_detail->setText(
                a.replay.mains_on
                    ? tr("Mains is connected and the evidence no longer allows it. Pull the plug, discharge, then look at the locks.")
                    : tr("Power goes on when every lock at the left is open. Read what is missing through the bench line; nothing here can "
                         "be skipped."));
            return;
        }
        if (step == nullptr) {
            m_step->setText(tr("Every step passed"));
            m_detail->setText(tr("Go to Hand back and sign off."));
            return;
        }
        m_step->setText(tr("Step %1 · %2").arg(a.ladder.current + 1).arg(qs(wording::ladder_step(*step))));
        const QString detail = qs(wording::ladder_detail(*step));
        m_detail->setText(step->live ? tr("%1. Mains is connected in this step.").arg(detail) : detail);
        for (const auto& f : a.live.figures) m_figures->addWidget(new FigureBar(f.figure, f.read, m_with.theme));
        m_go->setText(step->live ? tr("&Passed: on with mains connected") : tr("&Passed, go on"));
        m_go->setEnabled(!a.live.must_stop());
    }

    void show_supply(const Analysis& a) {
        const bool shown = a.replay.board.mains.has_value() && !a.replay.roles->bulk.empty() && a.replay.roles->droppers.empty();
        m_supply->setVisible(shown);
        m_supply_title->setVisible(shown);
        if (!shown) return;
        const Theme& t = m_with.theme.theme();
        const double mains = a.replay.board.mains->volts, top = mains * 1.05;
        m_supply_title->setText(a.ladder.start_volts_ac > 0 ? tr("Bulk capacitor by transformer setting; start near %1, rule of thumb")
                                                                  .arg(qs(format_quantity(a.ladder.start_volts_ac, "V")))
                                                            : tr("Bulk capacitor by transformer setting"));
        PlotScene scene;
        scene.x_title = tr("V AC set");
        scene.y_title = tr("V DC");
        scene.x_hi = std::ceil(top / 25) * 25;
        scene.y_hi = std::ceil(std::numbers::sqrt2 * top / 50) * 50;
        std::vector<QPointF> bulk;
        for (int i = 0; i <= 40; ++i)
            bulk.emplace_back(scene.x_hi * i / 40, std::max(0.0, std::numbers::sqrt2 * scene.x_hi * i / 40 - 1.8));
        scene.lines.push_back({tr("bulk"), bulk, t.accent, false, false});
        if (a.ladder.start_volts_ac > 0)
            scene.lines.push_back(
                {tr("start"), {{a.ladder.start_volts_ac, 0}, {a.ladder.start_volts_ac, scene.y_hi}}, t.suspect, true, false});
        std::vector<QPointF> limits;
        for (const auto& s : a.ladder.steps)
            if (s.id.kind == StepKind::VariableTransformer && !s.figures.empty())
                limits.emplace_back(s.id.setting, s.figures.front().expected);
        if (!limits.empty()) scene.lines.push_back({tr("holds"), limits, t.good, false, true});
        m_supply->show_scene(scene, t);
    }

    void show_lamp(const Analysis& a) {
        m_lamp->setVisible(a.ladder.lamp.has_value());
        m_lamp_title->setVisible(a.ladder.lamp.has_value());
        if (!a.ladder.lamp) return;
        const Theme& t = m_with.theme.theme();
        const auto& choice = *a.ladder.lamp;
        const double mains = choice.lamp.volts0;
        const QString size = qs(format_nominal(choice.lamp.watts0, "W"));
        m_lamp_title->setText(choice.points.upper ? tr("Will a %1 lamp let it run? Yes: at %2, taking %3 without load")
                                                        .arg(size, qs(format_quantity(*choice.points.upper, "V")),
                                                             qs(format_quantity(choice.supply_watts, "W")))
                                                  : tr("Will a %1 lamp let it run? No: it passes %2 at the most")
                                                        .arg(size, qs(format_quantity(choice.points.most_watts, "W"))));
        PlotScene scene;
        scene.x_title = tr("V across the supply");
        scene.y_title = tr("A");
        scene.x_hi = std::ceil(mains / 25) * 25;
        scene.y_hi = std::ceil(choice.lamp.amps(mains) * 1.25 * 20) / 20;
        std::vector<QPointF> passes, wants;
        for (int i = 0; i <= 80; ++i) {
            const double v = scene.x_hi * i / 80;
            if (v <= mains) passes.emplace_back(v, choice.lamp.amps(mains - v));
            if (v > 1 && choice.supply_watts / v < scene.y_hi) wants.emplace_back(v, choice.supply_watts / v);
        }
        scene.lines.push_back({tr("lamp passes"), passes, t.suspect, false, false});
        scene.lines.push_back({tr("wanted"), wants, t.text, false, false});
        if (choice.points.upper)
            scene.lines.push_back({tr("runs"), {{*choice.points.upper, choice.supply_watts / *choice.points.upper}}, t.good, false, true});
        if (choice.points.lower && choice.supply_watts / *choice.points.lower < scene.y_hi)
            scene.lines.push_back({tr("stalls"), {{*choice.points.lower, choice.supply_watts / *choice.points.lower}}, t.bad, false, true});
        m_lamp->show_scene(scene, t);
    }

    Collaborators m_with;
    LadderList* m_ladder;
    QWidget *m_left = nullptr, *m_plots = nullptr;
    Plot *m_supply, *m_lamp;
    QLabel *m_supply_title = nullptr, *m_lamp_title = nullptr, *m_step = nullptr, *m_detail = nullptr;
    QVBoxLayout* m_figures = nullptr;
    Card *m_locks = nullptr, *m_outside = nullptr, *m_abort = nullptr, *m_care = nullptr;
    QPushButton *m_go = nullptr, *m_stop = nullptr, *m_clear = nullptr;
};

} // namespace

QWidget* make_power_up(const Collaborators& with) { return new PowerUp(with); }

} // namespace ohmo

#include "power_up.moc"
