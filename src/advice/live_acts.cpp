// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/live_acts.h"

#include "advice/bands.h"
#include "advice/outcomes.h"
#include "belief/axis.h"
#include "belief/belief.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <tuple>

namespace ohmo {
namespace {

constexpr std::size_t kLiveOffered = 6, kLiveTried = 60; // acts; faults, the likeliest
constexpr double kLeastFault = 5e-4;                     // chance of a fault that is tried
constexpr double kLeastShare = 0.2;                      // of what a cold reading must tell: the leads are there, and power is on
constexpr double kLoad = 1;                              // as a reading counts whose load is not told
constexpr double kEvenOver = 3.46;                       // of what lies anywhere in a range: its length over one deviation

class LivePlanner {
public:
    LivePlanner(const Inquiry& about, belief::Alone& alone)
        : m_board(about.board), m_roles(about.roles), m_p(about.board.practice()), m_assessment(about.assessment),
          m_evidence(about.evidence), m_alone(alone) {}

    std::vector<NextAct> run(const CancelToken& cancel) {
        weigh_faults();
        if (!m_certain.empty()) {
            const Running so = m_alone.judge(m_certain).running;
            if (so == Running::NoInput || so == Running::BlowsFuse) return {};
        }
        find_points();
        std::vector<NextAct> out;
        for (const auto& [point, alternating] : m_points) {
            if (cancel.cancelled()) return {};
            auto outcomes = outcomes_at(point);
            if (!m_told.insert(shown_by(outcomes, alternating)).second) continue; // another place tells the same
            auto act = act_at(point, alternating, std::move(outcomes));
            if (act.bits >= kLeastShare * m_p.least_bits) out.push_back(std::move(act));
        }
        std::stable_sort(out.begin(), out.end(), [](const NextAct& a, const NextAct& b) { return a.rate() > b.rate() + 1e-9; });
        if (out.size() > kLiveOffered) out.resize(kLiveOffered);
        return out;
    }

private:
    struct Tried {
        Fault fault;
        double p = 0;
    };

    // How far a fault accounts for what is said of the unit as it is now; without one, what comes of itself.
    double explains(std::size_t unit, std::size_t mode) const {
        const auto& said = m_assessment.belief->complaints();
        double out = 1;
        for (std::size_t k = 0; k < said.list.size(); ++k)
            if (of_one_time(said.list[k], m_evidence)) out *= said.explains[unit][mode][k];
        return out;
    }
    double of_itself() const {
        double out = 1;
        for (const auto& c : m_assessment.belief->complaints().list)
            if (of_one_time(c, m_evidence)) out *= c.leak();
        return out;
    }

    // One fault beside what is certain, as the board is now: a new part counts as new. What the unit is said to do must come of it.
    void weigh_faults() {
        const auto& belief = *m_assessment.belief;
        m_none = std::max(of_itself(), kLeastFault * kLeastFault);
        const auto& units = belief.model().units;
        for (std::size_t u = 0; u < units.size(); ++u) {
            const auto& unit = units[u];
            if ((m_evidence.renewed.contains(unit.part) && !unit.renewed) || m_evidence.absent.contains(unit.part)) continue;
            for (std::size_t m = 1; m < unit.modes.size(); ++m) {
                const double p = belief.mode(static_cast<int>(u), static_cast<int>(m));
                const Fault& fault = unit.modes[m].fault;
                const bool soldered = fault.mode == FaultMode::DryJoint && m_evidence.resoldered.contains(fault.part);
                if (unit.modes[m].setting || soldered || p < kLeastFault) continue;
                if (p >= m_p.open_below) {
                    m_certain.push_back(fault);
                    m_none = std::max(m_none, explains(u, m));
                } else if (const double weight = p / (1 - p) * explains(u, m); weight > 0) {
                    m_tried.push_back({fault, weight});
                }
            }
        }
        std::stable_sort(m_tried.begin(), m_tried.end(), [](const Tried& a, const Tried& b) { return a.p > b.p; });
        if (m_tried.size() > kLiveTried) m_tried.resize(kLiveTried);
    }

    void find_points() {
        if (m_roles.hv >= 0) offer(m_roles.hv, m_roles.primary_ground);
        for (const auto& rail : m_board.rails) offer(rail.net_id, rail.return_id);
        for (const auto& pairs : m_roles.lead_pairs)
            for (const auto& [red, black] : pairs) offer(red, black);
        for (const auto& part : m_board.parts)
            if (part.kind == PartKind::Regulator) offer(part.net("OUT"), part.net("GND"));
        const auto& entry = m_roles.path.entry(); // along one side of the line against the contact of the other
        for (NetId from : entry)
            for (NetId other : entry) {
                if (other == from) continue;
                const auto along = m_roles.path.wired_to({from}, {});
                for (NetId net = 0; net < static_cast<NetId>(along.size()); ++net)
                    if (along[static_cast<std::size_t>(net)] != 0) offer(net, m_roles.ways.inside(other));
            }
    }

    // Of a connector the board's own side.
    void offer(NetId red, NetId black) {
        if (red < 0 || black < 0 || m_roles.ways.inside(red) != red || m_roles.ways.inside(black) != black) return;
        for (const bool alternating : {false, true}) {
            const auto point = m_alone.points().at(red, black, alternating);
            if (!point || !of_its_own(*point) || taken(red, black, alternating)) continue;
            if (alternating && m_offered.contains({black, red, true})) continue;
            if (m_offered.insert({red, black, alternating}).second) m_points.emplace_back(*point, alternating);
        }
    }

    // Contacts and coils show what the rail has.
    bool of_its_own(const LivePoint& point) const {
        if (point.what == LivePoint::What::Bulk) return point.red == m_roles.hv && point.black == m_roles.primary_ground;
        if (point.what != LivePoint::What::Rail) return true;
        const auto& rail = m_board.rails[static_cast<std::size_t>(point.rail)];
        return point.red == rail.net_id && point.black == rail.return_id;
    }

    bool taken(NetId red, NetId black, bool alternating) const {
        return std::any_of(m_evidence.observations.begin(), m_evidence.observations.end(), [&](const Observation& o) {
            return o.kind == (alternating ? Seen::LiveAlternating : Seen::LiveVolts) && o.query.red == red && o.query.black == black &&
                   of_one_time(o, m_evidence);
        });
    }

    LiveFigure figure(const LivePoint& point, const Fault* fault) {
        if (m_certain.empty()) return fault == nullptr ? m_alone.sound_at(point, kLoad) : m_alone.at(point, *fault, kLoad);
        auto all = m_certain;
        if (fault != nullptr) all.push_back(*fault);
        return m_alone.together(point, all, kLoad);
    }

    static Outcome outcome(const LiveFigure& figure, double p, int story) {
        const double high = std::isfinite(figure.high) ? figure.high : figure.low, volts = (figure.low + high) / 2;
        const double spread = std::hypot(figure.sigma, (high - figure.low) / kEvenOver);
        return {p, belief::live_axis(volts), (belief::live_axis(volts + spread) - belief::live_axis(volts - spread)) / 2, story};
    }

    // With none of the faults, then with each.
    std::vector<Outcome> outcomes_at(const LivePoint& point) {
        std::vector<Outcome> out = {outcome(figure(point, nullptr), m_none, -1)};
        for (const auto& t : m_tried) out.push_back(outcome(figure(point, &t.fault), t.p, t.fault.part));
        return out;
    }

    static std::vector<double> shown_by(const std::vector<Outcome>& outcomes, bool alternating) {
        std::vector<double> out = {alternating ? 1.0 : 0.0};
        for (const auto& o : outcomes) out.push_back(o.y);
        return out;
    }

    NextAct act_at(const LivePoint& point, bool alternating, std::vector<Outcome> outcomes) {
        const Quantity what = alternating ? Quantity::VoltsAlternating : Quantity::VoltsDirect;
        std::vector<Case> cases = {{outcomes.front(), m_certain}};
        for (std::size_t k = 0; k < m_tried.size(); ++k) cases.push_back({outcomes[k + 1], {m_tried[k].fault}});
        NextAct out{.act = Act::Read,
                    .query = {what, point.red, point.black, -1, m_evidence.state, 0},
                    .part = part_at(point),
                    .minutes = m_p.minutes_volts};
        out.bits = reading_information(std::move(outcomes));
        out.bands = bands_of(what, std::move(cases), outcome(m_alone.sound_at(point, kLoad), 1, -1), out.bits);
        return out;
    }

    // Whose pins the leads are easiest to find on.
    int part_at(const LivePoint& point) const {
        if (point.part >= 0) return point.part;
        int best = -1;
        double most = -1;
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            const auto& part = m_board.part(i);
            if (!part.touches(point.red)) continue;
            const double fits = (part.touches(point.black) ? 2 : 0) + (is_wet_or_solid_electrolytic(part.kind) ? 1 : 0);
            if (fits > most) {
                most = fits;
                best = i;
            }
        }
        return best;
    }

    const Board& m_board;
    const BoardRoles& m_roles;
    const Practice& m_p;
    const Assessment& m_assessment;
    const Evidence& m_evidence;
    belief::Alone& m_alone;
    std::vector<Fault> m_certain;
    std::vector<Tried> m_tried;
    double m_none = 1; ///< weight of none of them
    std::set<std::tuple<NetId, NetId, bool>> m_offered;
    std::set<std::vector<double>> m_told;             ///< what places that were weighed show
    std::vector<std::pair<LivePoint, bool>> m_points; ///< and whether alternating volts stand there
};

} // namespace

std::vector<NextAct> live_acts(const Inquiry& about, belief::Alone& alone, const CancelToken& cancel) {
    return LivePlanner(about, alone).run(cancel);
}

} // namespace ohmo
