// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that may be done now is weighed by its expected information (advice/outcomes) per minute of practice. A first pass with the
// likeliest stories picks what is weighed again with all of them.
#include "advice/next_reading.h"

#include "advice/bands.h"
#include "advice/outcomes.h"
#include "advice/tracing.h"
#include "advice/word_acts.h"
#include "damage/telling.h"
#include "readings/likelihood.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numeric>
#include <set>
#include <tuple>
#include <utility>

namespace ohmo {
namespace {

constexpr double kMayStandNext = 0.7; // what is asked once it stands is worked out from here on
constexpr std::size_t kCoarse = 110, kRefined = 40,
                      kCoarseSums = 24'000;                            // scenarios of the first pass; acts that are weighed again with all
constexpr double kLeastDoubt = 1e-4;                                   // of a part whose place is read again without what hides it
constexpr std::size_t kPreparedTogether = 32, kMostPrepared = 400'000; // scenarios at a time; predictions kept, some 300 bytes each

class Planner {
public:
    Planner(const Predictor& predictor, const FaultLibrary& library, const Assessment& assessment, const Evidence& evidence,
            const NextOptions& options, const CancelToken& cancel)
        : m_predictor(predictor), m_p(predictor.board().practice()), m_library(library), m_assessment(assessment), m_evidence(evidence),
          m_cancel(cancel) {
        for (std::size_t m = 0; m < evidence.meters.size(); ++m)
            if (evidence.meters[m].residue < m_p.four_wire_residue &&
                (m_four_wires < 0 || evidence.meters[m].residue < evidence.meters[static_cast<std::size_t>(m_four_wires)].residue))
                m_four_wires = static_cast<int>(m);
        std::map<std::vector<int>, double> sets, measurable; // by bad parts, whatever their modes; of those that a cold reading settles
        for (const auto& [p, scenario] : assessment.posterior) {
            std::vector<int> parts, told;
            for (const auto& f : scenario.faults()) {
                parts.push_back(f.part);
                if (settled_cold(predictor.board(), f)) told.push_back(f.part);
            }
            std::sort(parts.begin(), parts.end());
            std::sort(told.begin(), told.end());
            m_leading = std::max(m_leading, sets[parts] += p);
            m_clear = std::max(m_clear, measurable[told] += p);
        }
        m_least_bits = stands() ? m_p.check_bits : m_p.least_bits;
        double carried = 0;
        const std::size_t most = options.most_scenarios > 0 ? options.most_scenarios : stands() ? 1500 : 600;
        for (const auto& [p, scenario] : assessment.posterior) {
            if (carried > (stands() ? 0.9998 : 0.995) || m_living.weights.size() >= most) break;
            auto faults = scenario.faults();
            std::erase_if(faults, [&](const Fault& f) { return evidence.renewed.contains(f.part); });
            m_living.weights.push_back(p);
            m_living.sets.push_back(predictor.id(faults));
            m_living.faults.push_back(std::move(faults));
            carried += p;
        }
        for (double& w : m_living.weights) w /= std::max(carried, 1e-12);
        m_living.conditioning = Conditioning(predictor, evidence.observations, m_living.sets);
    }

    Result<NextAdvice> run() {
        // A first pass with the likeliest scenarios only; what comes out best is weighed again with all of them.
        const std::size_t few = std::clamp(kCoarseSums / std::max<std::size_t>(m_predictor.board().parts.size(), 1), kCoarse / 2, kCoarse);
        const bool coarse = !stands() && m_living.sets.size() > few;
        m_told = coarse ? few : m_living.sets.size();
        offer_all();
        if (coarse) {
            m_told = m_living.sets.size();
            sort_acts();
            if (m_acts.size() > kRefined) m_acts.resize(kRefined);
            for (auto& act : m_acts)
                if (act.act == Act::Read || act.act == Act::Pull) act.bits = information(act.query);
            std::erase_if(m_acts, [&](const NextAct& act) { return act.bits < m_least_bits; });
            if (m_acts.empty()) offer_all();
        }
        if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        sort_acts();
        NextAdvice out;
        for (auto& act : m_acts) {
            if (out.acts.size() >= 12) break;
            if (act.act == Act::Read || act.act == Act::Pull) act.bands = bands(act.query, act.bits);
            out.acts.push_back(std::move(act));
        }
        out.trace = worth_tracing(
            m_predictor, m_assessment, m_evidence, m_living, out.acts,
            [&](const Query& query, int known) { return information(query, known); }, m_cancel);
        const bool settled = m_leading > m_p.settled_above;
        out.settled = settled;
        if (out.acts.empty()) {
            out.stop = true;
            out.reason = settled ? StopReason::Settled : StopReason::NothingTells;
        }
        return out;
    }

    std::vector<Band> bands(const Query& query, double bits = 0) const { return bands_of(m_predictor, query, m_living, bits); }

    // Every reading that could be offered, whatever it tells.
    std::vector<Query> queries() {
        m_listed.emplace();
        offer_readings();
        offer_lifted();
        offer_where_the_bad_were();
        offer_twins();
        offer_pulls();
        return std::move(*std::exchange(m_listed, std::nullopt));
    }

private:
    void offer_all() {
        offer_readings();
        offer_lifted();
        offer_where_the_bad_were();
        offer_twins();
        offer_pulls();
        for (auto& act : word_acts(m_predictor.board(), m_library, m_assessment, m_evidence, m_living, m_least_bits))
            m_acts.push_back(std::move(act));
    }

    // The likeliest story is clear, what is left is to rule out others beside it. What is listed ahead counts on it a little earlier.
    bool stands() const { return m_clear > (m_listed ? kMayStandNext : m_p.stands_above); }
    bool comes_out(double bad) const { return bad >= (m_listed ? kMayStandNext : m_p.comes_out); }

    void sort_acts() {
        std::stable_sort(m_acts.begin(), m_acts.end(), [](const NextAct& a, const NextAct& b) { return a.rate() > b.rate() + 1e-9; });
    }

    // `known`: a part whose share of the spread is taken off; -1: none.
    double information(const Query& query, int known = -1) const {
        const auto sigs = signatures(m_predictor, query, m_living, m_told, false);
        double whole = 0;
        m_different.clear();
        for (const auto& sig : sigs) whole += sig.p;
        for (const auto& sig : sigs) m_different.emplace_back(sig.prediction, sig.p / whole);
        m_low = 0;
        for (const auto& [p, mass] : m_different)
            if (!p->over && p->value < m_p.four_wire_ohms) m_low += mass;
        return reading_information(m_p, m_different, query.what, known, known < 0 ? m_least_bits : 0);
    }

    // How often this was read, the board as it is now; and whether it may be read again: once more, where the leading story says otherwise.
    struct Taken {
        int times = 0;
        bool again = false;
    };
    Taken taken(const Query& query) const {
        Taken out;
        for (const auto& o : m_evidence.observations) {
            if (o.kind != Seen::Reading || !(o.query == query) || o.renewed != m_evidence.renewed) continue;
            const auto& by = m_assessment.contradicted_by;
            out.again = out.times == 0 && std::find(by.begin(), by.end(), o.entry) != by.end();
            ++out.times;
        }
        return out;
    }

    void offer(const Query& query, int part, double minutes, std::vector<int> to_lift = {}) {
        const Taken before = taken(query);
        if (m_cancel.cancelled() || query.red == query.black || (before.times > 0 && !before.again)) return;
        Query fine = query;
        fine.meter = m_four_wires;
        const bool place_of_a_short = m_four_wires >= 0 && query.what == Quantity::Ohms && query.meter == 0;
        if (m_listed) {
            m_listed->push_back(query);
            if (place_of_a_short) m_listed->push_back(fine);
            return;
        }
        const double bits = information(query);
        if (bits >= m_least_bits)
            m_acts.push_back({.act = Act::Read,
                              .query = query,
                              .part = part,
                              .to_lift = to_lift,
                              .bits = bits,
                              .minutes = minutes,
                              .four_wires = m_four_wires >= 0 && query.meter == m_four_wires,
                              .again = before.again});
        if (place_of_a_short && m_low > m_p.four_wire_chance) offer(fine, part, minutes + m_p.minutes_four_wires, std::move(to_lift));
    }

    // The board as it is read, and what has to come out of it first.
    struct Setting {
        BoardState state;
        std::vector<int> to_lift;
        double minutes = 0;
        std::set<std::tuple<Quantity, NetId, NetId>> offered; ///< already, for whichever part lies there

        Query query(Quantity what, NetId red, NetId black) const { return {what, red, black, -1, state, 0}; }
    };
    Setting as_it_is() const { return {m_evidence.state, {}, 0, {}}; }
    void take_out(Setting& from, int i) const {
        const auto& board = m_predictor.board();
        from.state.lifted.resize(board.parts.size(), 0);
        from.state.lifted[static_cast<std::size_t>(i)] = 1;
        from.to_lift.push_back(i);
        from.minutes += minutes_to_lift(board.part(i));
    }
    double minutes_to_lift(const Part& part) const { return part.pins.size() > 2 ? m_p.minutes_lift_many : m_p.minutes_lift; }

    void offer_readings() {
        const auto& board = m_predictor.board();
        Setting now = as_it_is();
        for (const auto& rail : board.rails) offer_pair(now, Quantity::Ohms, rail.net_id, rail.return_id, -1, m_p.minutes_read);
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            if (m_evidence.absent.contains(i)) continue;
            if (m_evidence.state.is_lifted(i)) offer_alone(i); // and what is left in its place
            offer_lead_pairs(now, i);
        }
    }

    void offer_lead_pairs(Setting& in, int i) {
        const auto& part = m_predictor.board().part(i);
        for (const auto& [red, black] : m_predictor.roles().lead_pairs[static_cast<std::size_t>(i)])
            offer_pair(in, Quantity::Ohms, red, black, i, m_p.minutes_read);
        if (is_diode_like(part.kind) || part.kind == PartKind::Bridge || is_switch_device(part.kind))
            for (const auto& [red, black] : m_predictor.roles().lead_pairs[static_cast<std::size_t>(i)])
                offer_pair(in, Quantity::Diode, red, black, i, m_p.minutes_read);
        const auto& info = kind_info(part.kind);
        const NetId red = part.net(info.red), black = part.net(info.black);
        if (is_wet_or_solid_electrolytic(part.kind)) offer_pair(in, Quantity::Esr, red, black, i, m_p.minutes_esr);
        if (loses_capacitance(part.kind) && in.to_lift.empty()) offer_pair(in, Quantity::Farads, red, black, i, m_p.minutes_farads);
    }

    void offer_pair(Setting& in, Quantity what, NetId red, NetId black, int part, double minutes) {
        if (red < 0 || black < 0 || !in.offered.insert({what, red, black}).second) return;
        if (what != Quantity::Diode && in.offered.contains({what, black, red})) return;
        offer(in.query(what, red, black), part, minutes + in.minutes, in.to_lift);
    }

    void offer_alone(int i, bool to_lift = false) {
        const auto& part = m_predictor.board().part(i);
        const auto& info = kind_info(part.kind);
        Query q{Quantity::Ohms, part.net(info.red), part.net(info.black), i, m_evidence.state, 0};
        if (q.red == q.black) return;
        const double effort = to_lift ? minutes_to_lift(part) : 0;
        const auto lift = to_lift ? std::vector<int>{i} : std::vector<int>{};
        offer(q, i, m_p.minutes_read + effort, lift);
        q.what = Quantity::Diode;
        if (is_diode_like(part.kind)) offer(q, i, m_p.minutes_read + effort, lift);
        q.what = Quantity::Esr;
        if (is_wet_or_solid_electrolytic(part.kind)) offer(q, i, m_p.minutes_esr + effort, lift);
        q.what = Quantity::Farads;
        if (loses_capacitance(part.kind) && !is_wet_or_solid_electrolytic(part.kind)) offer(q, i, m_p.minutes_farads + effort, lift);
    }

    // Lifting is worth while only for parts in doubt.
    void offer_lifted() {
        for (const auto& b : m_assessment.parts) {
            if (b.bad < (stands() ? m_p.lift_to_check : m_p.lift_above)) break;
            if (b.bad > m_p.no_need_to_lift || m_evidence.state.is_lifted(b.part)) continue;
            const auto kind = m_predictor.board().part(b.part).kind;
            if (kind == PartKind::Transformer || kind == PartKind::Connector || is_controller(kind) || kind == PartKind::Load) continue;
            offer_alone(b.part, true);
        }
    }

    // A part that has failed hides its neighbours: two diodes of one rail, two switches in parallel. It comes out anyway, so what is read
    // in its place with it gone costs little. A short hides more than that: once the story stands, the places of all that is still in doubt
    // are read without what shorts.
    void offer_where_the_bad_were() {
        const auto& board = m_predictor.board();
        Setting no_shorts = as_it_is();
        for (const auto& b : m_assessment.parts) {
            if (!comes_out(b.bad)) break;
            if (m_evidence.state.is_lifted(b.part) || m_evidence.renewed.contains(b.part)) continue;
            const auto kind = board.part(b.part).kind;
            if (!changes_dc(board, b.leading) || kind == PartKind::Transformer || kind == PartKind::Connector) continue;
            Setting without = as_it_is();
            take_out(without, b.part);
            offer_lead_pairs(without, b.part);
            if (conducts_wrongly(b.leading.mode) && !is_controller(kind)) take_out(no_shorts, b.part);
        }
        if (no_shorts.to_lift.empty() || !stands()) return;
        for (const auto& b : m_assessment.parts) {
            if (b.bad < kLeastDoubt) break;
            if (!comes_out(b.bad) && !m_evidence.absent.contains(b.part)) offer_lead_pairs(no_shorts, b.part);
        }
    }

    // Of diodes that stand for each other an open one shows only where its twins are out: once the story stands, worth the iron.
    void offer_twins() {
        if (!stands()) return;
        const auto& twins_of = m_predictor.roles().twins;
        for (const auto& b : m_assessment.parts) {
            if (b.bad < kLeastDoubt) break;
            if (comes_out(b.bad) || m_evidence.state.is_lifted(b.part)) continue; // alone already, or as a bad part
            Setting alone = as_it_is();
            for (int twin : twins_of[static_cast<std::size_t>(b.part)])
                if (!m_evidence.state.is_lifted(twin) && !m_evidence.absent.contains(twin)) take_out(alone, twin);
            if (!alone.to_lift.empty()) offer_lead_pairs(alone, b.part);
        }
    }

    // Which side of a connector holds what loads a rail: worth asking only where the rail may be shorted.
    void offer_pulls() {
        const auto& board = m_predictor.board();
        for (const auto& rail : board.rails) {
            const Query now = as_it_is().query(Quantity::Ohms, rail.net_id, rail.return_id);
            if (rail.net_id < 0 || rail.return_id < 0 || rail.net_id == rail.return_id) continue;
            const auto sigs = signatures(m_predictor, now, m_living);
            const Prediction healthy = m_predictor.predict(now, {});
            double low = 0;
            for (const auto& sig : sigs)
                if (!sig.prediction->over && sig.prediction->x < healthy.x - std::log(m_p.pull_below)) low += sig.p;
            if (low < m_p.pull_chance) continue;
            for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
                const auto& part = board.part(i);
                if (part.kind != PartKind::Connector || part.stage == "mains-in" || m_evidence.state.is_pulled(i)) continue;
                Query pulled = now;
                pulled.state.pulled.resize(board.parts.size(), 0);
                pulled.state.pulled[static_cast<std::size_t>(i)] = 1;
                if (m_cancel.cancelled() || taken(pulled).times > 0) continue;
                if (m_listed) m_listed->push_back(pulled);
                if (m_listed) continue;
                const double bits = information(pulled);
                if (bits >= m_least_bits)
                    m_acts.push_back(
                        {.act = Act::Pull, .query = pulled, .part = i, .bits = bits, .minutes = m_p.minutes_pull + m_p.minutes_read});
            }
        }
    }

    const Predictor& m_predictor;
    const Practice& m_p;
    const FaultLibrary& m_library;
    const Assessment& m_assessment;
    const Evidence& m_evidence;
    CancelToken m_cancel;
    double m_leading = 0, m_clear = 0; ///< chance of the likeliest set of bad parts, of what can be measured of it
    double m_least_bits = 0;
    Living m_living;
    int m_four_wires = -1;         ///< a meter that resolves milliohms, if the bench has one
    std::size_t m_told = SIZE_MAX; ///< how many stories, likeliest first, information() distinguishes
    std::vector<NextAct> m_acts;
    std::optional<std::vector<Query>> m_listed;                            ///< filled instead of m_acts while it is there
    mutable std::vector<std::pair<const Prediction*, double>> m_different; ///< room kept between queries
    mutable double m_low = 0;                                              ///< chance that the reading asked for last shows a short
};

} // namespace

Result<NextAdvice> next_acts(const Predictor& predictor, const FaultLibrary& library, const Assessment& assessment,
                             const Evidence& evidence, const NextOptions& options, const CancelToken& cancel) {
    return Planner(predictor, library, assessment, evidence, options, cancel).run();
}

Result<bool> prepare_next(const Predictor& predictor, const Assessment& assessment, const Evidence& evidence, const CancelToken& cancel) {
    static const FaultLibrary none;
    const auto queries = Planner(predictor, none, assessment, evidence, {}, cancel).queries();
    std::vector<SetId> some;
    for (std::size_t s = 0; s < assessment.posterior.size(); ++s) {
        auto faults = assessment.posterior[s].second.faults();
        std::erase_if(faults, [&](const Fault& f) { return evidence.renewed.contains(f.part); });
        some.push_back(predictor.id(faults));
        if (some.size() < kPreparedTogether && s + 1 < assessment.posterior.size()) continue;
        for (const auto& q : queries) {
            if (cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
            predictor.predict_all(q, some);
        }
        some.clear();
        if (predictor.solved() > kMostPrepared) break;
    }
    return true;
}

std::vector<Band> reading_bands(const Predictor& predictor, const Assessment& assessment, const Evidence& evidence, const Query& query) {
    static const FaultLibrary none;
    return Planner(predictor, none, assessment, evidence, {}, {}).bands(query);
}

} // namespace ohmo
