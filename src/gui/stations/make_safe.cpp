// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "board/roles.h"
#include "circuit/energised.h"
#include "gui/stations/station.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/plot.h"
#include "gui/widgets/stores_table.h"
#include "gui/widgets/unit_strip.h"
#include "powerup/decay.h"
#include "report/wording.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

QString span(double seconds) {
    if (!std::isfinite(seconds)) return QStringLiteral("–");
    if (seconds < 120) return qs(format_quantity(seconds, "s"));
    return QObject::tr("%1 min").arg(seconds / 60, 0, 'f', 1);
}

// Never less than it is.
QString deviation(double seconds) { return QObject::tr("%1 s").arg(std::max(1.0, std::ceil(2 * seconds))); }

class MakeSafe : public QWidget {
    Q_OBJECT
public:
    explicit MakeSafe(const Collaborators& with) : m_with(with), m_plot(new Plot("decay-plot", tr("Decay of the bulk capacitor"))) {
        setObjectName(QStringLiteral("station-make-safe"));
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        QVBoxLayout* centre = nullptr;
        auto* column = scrolled_column(centre);
        centre->setContentsMargins(20, 14, 20, 14);
        centre->setSpacing(10);
        m_title = heading({});
        centre->addWidget(m_title);
        m_facts = body({});
        m_facts->setObjectName(QStringLiteral("decay-facts"));
        centre->addWidget(m_facts);
        m_when = body({});
        m_when->setObjectName(QStringLiteral("decay-when"));
        centre->addWidget(m_when);
        m_odd = body({}, "warn");
        m_odd->setObjectName(QStringLiteral("decay-odd"));
        centre->addWidget(m_odd);
        m_stores = new StoresTable(with);
        centre->addWidget(m_stores);
        centre->addWidget(m_plot, 1);
        auto* row = new QHBoxLayout;
        m_volts = new QLineEdit;
        m_volts->setObjectName(QStringLiteral("volts-now"));
        m_volts->setPlaceholderText(tr("volts on the bulk capacitor now"));
        m_volts->setAccessibleName(tr("Volts on the bulk capacitor now"));
        row->addWidget(m_volts, 1);
        m_log = button(tr("&Log reading"), "log-volts");
        m_log->setToolTip(tr("Two falling readings give the real time constant"));
        row->addWidget(m_log);
        m_done = button(tr("&Discharged, this is left"), "log-discharge", "main");
        m_done->setToolTip(tr("Discharged through a resistor and measured again: opens the cold readings when below 10 V"));
        row->addWidget(m_done);
        centre->addLayout(row);
        m_problem = body({}, "warn");
        centre->addWidget(m_problem);
        centre->addStretch(0); // takes the room when there is no plot
        layout->addWidget(column, kCentreShare);
        layout->addWidget(side(), kSideShare);
        QObject::connect(m_stores, &StoresTable::chosen, this, [this] { name_field(); });
        QObject::connect(m_volts, &QLineEdit::textChanged, this, [this] { check(); });
        QObject::connect(m_volts, &QLineEdit::returnPressed, this, [this] { log_volts(); });
        QObject::connect(m_log, &QPushButton::clicked, this, [this] { log_volts(); });
        QObject::connect(m_done, &QPushButton::clicked, this, [this] { log_discharge(); });
        QObject::connect(&with.session, &Session::job_changed, this, [this] { refresh(); });
        QObject::connect(&with.session, &Session::analysis_changed, this, [this] { refresh(); });
        QObject::connect(&with.theme, &ThemeSource::changed, this, [this] { refresh(); });
        m_clock.setInterval(1000);
        QObject::connect(&m_clock, &QTimer::timeout, this, [this] { count_down(); });
        refresh();
    }

protected:
    void showEvent(QShowEvent*) override { m_clock.start(); }
    void hideEvent(QHideEvent*) override { m_clock.stop(); }

private:
    QWidget* side() {
        QVBoxLayout* layout = nullptr;
        auto* column = side_column(layout);
        m_lock = new Card({}, "warn");
        m_lock->setObjectName(QStringLiteral("cold-lock"));
        layout->addWidget(m_lock);
        m_resistor = new Card(tr("Discharge through"), "plain");
        m_resistor->setObjectName(QStringLiteral("resistor-advice"));
        layout->addWidget(m_resistor);
        auto* never = new Card(tr("Not with a screwdriver"), "stop");
        never->set_text(tr("A dead short throws weld spatter, stresses the capacitor and can shock you. Use the resistor with insulated "
                           "probes, one hand, and measure afterwards."));
        layout->addWidget(never);
        auto* care = new Card(tr("Before you reach in"), "warn");
        care->set_text(tr("Pull the plug, do not trust the switch.\n"
                          "A bleeder may be open, and a capacitor whose lead has blown off can hold charge that the track does not show: "
                          "measure at its own legs.\n"
                          "Output capacitors and inverter inputs store charge too.\n"
                          "“It has been off for years” is not a measurement.\n"
                          "Electrolyte and soot: gloves, ventilate, clean."));
        layout->addWidget(care);
        layout->addStretch(1);
        return column;
    }

    std::optional<double> typed() const {
        const auto v = parse_quantity(ss(m_volts->text()));
        return v && *v >= 0 && *v < 2000 ? std::optional(*v) : std::nullopt;
    }

    void check() {
        const auto& now = m_with.session.replay();
        const auto v = typed();
        m_log->setEnabled(store_nets().first >= 0 && v);
        m_done->setEnabled((now.may_hold_charge || now.mains_on) && v && *v <= working_volts());
        QString say;
        const double most = most_volts(now.board);
        if (v && most > 0 && *v > most) {
            m_log->setEnabled(false);
            say = tr("%1 cannot be: mains of %2 V charge a capacitor to %3 at the most, doubled. Check the meter's range and the figure.")
                      .arg(qs(format_quantity(*v, "V")))
                      .arg(now.board.mains->volts)
                      .arg(qs(format_quantity(most, "V", 2)));
        } else if (!m_volts->text().isEmpty() && !v)
            say = tr("Type volts, such as 182 or 0.4.");
        else if (v && *v > working_volts())
            say = tr("%1 is above the working limit of 10 V: log it as a reading, go on discharging.").arg(qs(format_quantity(*v, "V")));
        m_problem->setText(say);
    }

    // Where the leads go: across the capacitor chosen in the table, else across the bulk.
    std::pair<NetId, NetId> store_nets() const {
        if (const auto* chosen = m_stores->chosen_store(); chosen != nullptr && !chosen->main) return {chosen->plus, chosen->minus};
        const auto& t = *m_with.session.replay().roles;
        return {t.hv, t.primary_ground};
    }

    void name_field() {
        const auto* chosen = m_stores->chosen_store();
        const QString what = chosen == nullptr || chosen->main ? tr("the bulk capacitor") : m_stores->name_of(*chosen);
        m_volts->setPlaceholderText(tr("volts on %1 now").arg(what));
        m_volts->setAccessibleName(tr("Volts on %1 now").arg(what));
        check();
    }

    void log_volts() {
        const auto v = typed();
        const auto [plus, minus] = store_nets();
        if (!v || plus < 0) return;
        Entry e;
        e.act = Do::Read;
        e.what = "volts-dc";
        e.from = m_with.session.replay().board.net_name(plus);
        e.to = m_with.session.replay().board.net_name(minus);
        e.value = *v;
        m_volts->clear();
        (void)m_with.logbook.log(e);
    }

    void log_discharge() {
        const auto v = typed();
        if (!v || *v > working_volts()) return;
        Entry e;
        e.act = Do::Discharge;
        e.value = *v;
        m_volts->clear();
        (void)m_with.logbook.log(e);
    }

    void show_field(bool shown) {
        for (QWidget* w : {static_cast<QWidget*>(m_volts), static_cast<QWidget*>(m_log), static_cast<QWidget*>(m_done)})
            w->setVisible(shown);
        m_volts->setEnabled(m_with.session.has_job());
    }

    void show_nothing() {
        m_plot->hide();
        m_resistor->hide();
        show_field(true);
        const bool job = m_with.session.has_job();
        m_title->setText(job ? tr("Working it out…") : tr("No job is open"));
        m_facts->setText(job ? QString()
                             : tr("Start one from a blueprint (Ctrl+N) or open one (Ctrl+O). Whatever you have on the bench: measure its "
                                  "big capacitors before you touch anything."));
        if (job) return;
        m_lock->set_look("warn");
        m_lock->set_title(tr("Nothing is known of this unit"));
        m_lock->set_text(tr("Treat every large capacitor as charged."));
    }

    void refresh() {
        check();
        const auto& now = m_with.session.replay();
        const bool open = now.cold_unlocked && !now.mains_on;
        const bool stale = open && now.charge && m_with.session.now() - now.charge->at > static_cast<Seconds>(stale_charge_seconds());
        m_lock->set_look(open && !stale ? "good" : "warn");
        m_lock->set_title(open ? tr("Cold readings are unlocked") : tr("Cold readings are locked"));
        m_lock->set_text(
            stale ? tr("But the low reading was %1. Measure again before you touch anything.")
                        .arg(age_text(m_with.session.now() - now.charge->at))
            : open && !now.charge
                ? tr("This board has no capacitor at mains or high voltage on its map. Unplug it, and measure what you find.")
            : open ? tr("The bulk capacitor was measured low. Measure again after a break: charge can come back.") + unmeasured()
            : now.may_hold_charge ? tr("They open on a reading of 10 V or less across the bulk capacitor, taken after the last power.")
                                  : tr("The journal says that mains is connected. Pull the plug, measure what is left, and log it: 10 V or "
                                       "less opens them."));
        const auto& a = m_with.session.analysis();
        m_decay = fit_decay(now.board.practice(), now.decay, a && a->discharge ? a->discharge->predicted_tau : 0);
        m_odd->setText(open ? QString() : odd());
        count_down();
        m_stores->refresh();
        name_field();
        if (!m_with.session.has_job() || !a) return show_nothing();
        auto d = a->discharge; // of this state of the job, or of the one before for a moment
        if (d) d = with_readings(*d, now.decay);
        m_plot->setVisible(d.has_value());
        m_resistor->setVisible(d.has_value());
        show_field(now.may_hold_charge || now.mains_on || !a->stores.empty()); // nothing to ask where nothing holds a charge
        if (!d && now.may_hold_charge) {
            m_title->setText(tr("The map does not show where this board keeps its charge: treat it as charged"));
            m_facts->setText(
                tr("Find the largest capacitor on the mains side, measure across its own legs, discharge it through some kilohms, "
                   "measure again, and write what is left here."));
            return;
        }
        if (!d) {
            m_title->setText(tr("No bulk capacitor on the map"));
            m_facts->setText(tr(
                "This board has no reservoir at mains or high voltage as far as it is known. Measure every large capacitor all the same, "
                "then go on to Trace (Ctrl+3)."));
            return;
        }
        m_title->setText(
            tr("Main capacitor: %1 at %2 hold %3")
                .arg(qs(format_quantity(d->farads, "F")), qs(format_quantity(d->volts, "V")), qs(format_quantity(d->joules, "J"))));
        const double from = now.decay.empty() ? d->volts : now.decay.front().volts;
        const double tau = d->tau();
        if (m_decay.tau > 0 && !open)
            m_facts->setText(d->predicted_tau > 0
                                 ? tr("Its bleeders would let it fall with a time constant of %1.").arg(span(d->predicted_tau))
                                 : tr("No bleeder on the map takes it down."));
        else
            m_facts->setText(
                tr("Time constant %1 (%2). From %3 to 60 V: %4, to 30 V: %5, to the working limit of 10 V: %6, if the bleeder is whole.")
                    .arg(span(tau), d->measured_tau ? tr("measured") : tr("predicted from the board's bleeders"),
                         qs(format_quantity(from, "V")), span(decay_seconds(from, 60, tau)), span(decay_seconds(from, 30, tau)),
                         span(decay_seconds(from, working_volts(), tau))));
        m_resistor->set_text(
            tr("%1, %2 at first, 500 V: 10 V after %3. Keep it on, then measure.")
                .arg(qs(format_nominal(d->resistor_ohms, "Ω")), qs(format_quantity(d->resistor_watts, "W")), span(d->resistor_seconds)) +
            drawer_text(*a));
        draw(*d, from);
    }

    // Others at hazardous volts that nobody has measured since the last power.
    QString unmeasured() const {
        QStringList names;
        for (const auto* path : m_stores->unmeasured()) names << m_stores->name_of(*path);
        return names.isEmpty() ? QString() : QLatin1Char('\n') + tr("Not measured yet: %1.").arg(names.join(QStringLiteral(", ")));
    }

    // What lies in the drawer for it.
    QString drawer_text(const Analysis& a) const {
        if (!a.drawer) return QLatin1Char('\n') + tr("The drawer has none that stands it: order one before you go on.");
        const auto& d = *a.drawer;
        const QString one = QStringLiteral("%1 %2").arg(qs(nominal_text(d.part)), qs(format_nominal(*d.part.watts, "W")));
        return QLatin1Char('\n') + (d.count == 1 ? tr("In the drawer: %1 (%2), %3 at first, low in %4.")
                                                       .arg(one, qs(d.id), qs(format_quantity(d.watts_each, "W")), span(d.seconds))
                                                 : tr("In the drawer: %1 of %2 (%3) in series, %4 each at first, low in %5.")
                                                       .arg(d.count)
                                                       .arg(one, qs(d.id), qs(format_quantity(d.watts_each, "W")), span(d.seconds)));
    }

    // What the readings say of the bleeder and of the capacitor's leads.
    QString odd() const {
        switch (m_decay.verdict) {
        case DecayVerdict::Slow:
            return tr(
                "It falls much more slowly than its bleeders would let it: a bleeder is open or high. Do not wait for it, discharge it.");
        case DecayVerdict::Fast:
            return tr(
                "It falls much faster than it should: the capacitor has lost capacitance or leaks, or one of its leads is off and only the "
                "track is emptied. Measure at the capacitor's own legs.");
        case DecayVerdict::Stands:
            return tr("It does not fall: no bleeder takes it down. It stays charged until you discharge it.");
        case DecayVerdict::Recovers:
            return tr(
                "A little has come back after the discharge, as the dielectric of a large electrolytic does. Discharge it once more.");
        case DecayVerdict::Rises:
            return tr("It rises: power is still on, or another capacitor feeds it. Pull the plug before anything else.");
        default:
            return {};
        }
    }

    // The prediction in the time of the wall clock, and how long that is from now.
    void count_down() {
        const auto& now = m_with.session.replay();
        const bool low = now.cold_unlocked && !now.mains_on;
        QStringList lines;
        for (const double limit : {hazard_volts(), working_volts()}) {
            const auto when = low || now.mains_on ? std::nullopt : when_below(m_decay, limit);
            if (!when) continue;
            const double left = when->at_seconds - static_cast<double>(m_with.session.now());
            const auto at = QDateTime::fromSecsSinceEpoch(static_cast<qint64>(when->at_seconds)).toString(QStringLiteral("HH:mm:ss"));
            lines << tr("below %1 V at %2 ± %3%4")
                         .arg(limit)
                         .arg(at, deviation(when->sigma), left > 0 ? tr(", in %1").arg(span(left)) : tr(", by now: measure it"));
        }
        m_when->setVisible(!lines.isEmpty());
        m_when->setText(tr("By your readings, time constant %1 ± %2: ").arg(span(m_decay.tau), deviation(m_decay.tau_sigma)) +
                        lines.join(QStringLiteral("; ")) + QLatin1Char('.'));
        m_odd->setVisible(!m_odd->text().isEmpty());
    }

    void draw(const Discharge& d, double from) {
        const auto& now = m_with.session.replay();
        const Theme& t = m_with.theme.theme();
        const double tau = std::max(d.tau(), 1.0);
        PlotScene scene;
        scene.x_title = tr("seconds");
        scene.y_title = tr("volts");
        scene.x_hi = std::ceil(tau * 4 / 50) * 50;
        scene.y_hi = std::ceil(std::max(from, d.volts) / 50) * 50;
        const auto curve = [&](double volts, double constant) {
            std::vector<QPointF> points;
            for (int i = 0; i <= 120; ++i) points.emplace_back(scene.x_hi * i / 120, volts * std::exp(-scene.x_hi * i / 120 / constant));
            return points;
        };
        scene.lines.push_back({d.measured_tau ? tr("your readings") : tr("bleeders"), curve(from, tau), t.accent, false, false});
        scene.lines.push_back({tr("resistor"), curve(from, std::max(d.resistor_tau, 0.5)), t.good, true, false});
        for (const auto& [volts, colour] : {std::pair(hazard_volts(), t.bad), std::pair(working_volts(), t.suspect)})
            scene.lines.push_back({volts == hazard_volts() ? tr("60 V, hazard") : tr("10 V, working"),
                                   {{0, volts}, {scene.x_hi, volts}},
                                   colour,
                                   true,
                                   false});
        std::vector<QPointF> dots;
        for (const auto& r : now.decay) dots.emplace_back(r.at_seconds - now.decay.front().at_seconds, r.volts);
        if (!dots.empty()) scene.lines.push_back({tr("logged"), dots, t.text, false, true});
        m_plot->show_scene(scene, t);
    }

    Collaborators m_with;
    Plot* m_plot;
    QLabel *m_title = nullptr, *m_facts = nullptr, *m_problem = nullptr, *m_when = nullptr, *m_odd = nullptr;
    StoresTable* m_stores = nullptr;
    Decay m_decay;
    QTimer m_clock;
    QLineEdit* m_volts = nullptr;
    QPushButton *m_log = nullptr, *m_done = nullptr;
    Card *m_lock = nullptr, *m_resistor = nullptr;
};

} // namespace

QWidget* make_make_safe(const Collaborators& with) { return new MakeSafe(with); }

} // namespace ohmo

#include "make_safe.moc"
