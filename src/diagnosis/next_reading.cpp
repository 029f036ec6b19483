// SPDX-License-Identifier: GPL-3.0-or-later
// Expected information: I(scenario; outcome) = H(outcome) - sum p H(outcome | scenario), the outcome on a grid of the score axis with
// over-range as one more cell. Scenarios that predict the same are one signature, so the cost is that of a few dozen signatures per
// reading. Minutes are common practice, no source: a reading in circuit 0.6, ESR 0.8, a look 0.4, lifting a part 4 (three legs and more 6),
// a substitution 12,
// pulling a connector 1, cooling a suspect 3.
#include "diagnosis/next_reading.h"

#include "base/statistics.h"
#include "diagnosis/likelihood.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <functional>
#include <numeric>
#include <set>
#include <utility>

namespace ohmo {
namespace {

constexpr double kMinutesRead = 0.6, kMinutesEsr = 0.8, kMinutesLook = 0.4, kMinutesLift = 4, kMinutesLiftMany = 6, kMinutesSubstitute = 12,
                 kMinutesPull = 1, kMinutesCool = 3;
constexpr double kLeastBits = 0.01;
// Once a story stands, what is left are further faults that nothing has asked for yet. A reading that rules out one of two in ten thousand
// is still worth its half minute against new silicon lost at the first power-up.
constexpr double kStandsAbove = 0.9, kSettledAbove = 0.97, kCheckBits = 0.003;
constexpr int kCells = 96;
constexpr std::size_t kCoarse = 150, kRefined = 60;      // scenarios of the first pass; acts that are weighed again with all
constexpr double kLiftAbove = 0.03, kLiftToCheck = 0.01; // suspicion worth the iron; once the rest stands, what could still be missed
constexpr double kWorthTracing = 0.05;                   // bits
constexpr double kComesOut = 0.9;                        // a part that will be replaced whatever else is found
constexpr std::size_t kPreparedTogether = 32, kMostPrepared = 400'000; // scenarios at a time; predictions kept, some 300 bytes each

struct Axis {
    double lo, hi;
    double cell() const { return (hi - lo) / kCells; }
};

Axis axis_of(Quantity what) {
    switch (what) {
    case Quantity::Diode:
        return {0, 3};
    case Quantity::Esr:
        return {score_axis(what, 0), score_axis(what, 100)};
    case Quantity::Farads:
        return {std::log(1e-12), std::log(0.1)};
    case Quantity::Continuity:
        return {-0.5, 1.5};
    case Quantity::Leakage:
        return {score_axis(what, 0), score_axis(what, 1e-3)};
    case Quantity::Residue:
        return {0, 2};
    default:
        return {score_axis(what, 0), score_axis(what, 2e7)};
    }
}

double entropy(double p) { return p > 0 ? -p * std::log2(p) : 0; }

constexpr double kFloor = kBlunder * 0.85 / kCells, kFloorOver = kBlunder * 0.15;

// Outcome distribution of one prediction over kCells cells and over-range, beyond the floor that blunders give every cell.
struct Outcomes {
    int first = 0; ///< cell of cells[0]
    std::vector<float> cells;
    double over = 0;
    double entropy = 0; ///< of the whole, the floor included
};

Outcomes outcomes(const Prediction& p, Quantity what) {
    Outcomes out;
    const auto total = [&] {
        double h = static_cast<double>(kCells - static_cast<int>(out.cells.size())) * entropy(kFloor) + entropy(kFloorOver + out.over);
        for (float c : out.cells) h += entropy(kFloor + static_cast<double>(c));
        return h;
    };
    if (p.over) {
        out.over = 1 - kBlunder;
        out.entropy = total();
        return out;
    }
    const Axis axis = axis_of(what);
    const double sigma = std::max(p.sigma, axis.cell() / 2);
    const auto cell = [&](double x) { return std::clamp(static_cast<int>((x - axis.lo) / axis.cell()), 0, kCells - 1); };
    const double other = p.alternate_x.value_or(p.x), reach = 6 * sigma;
    out.first = cell(std::min(p.x, other) - reach);
    out.cells.assign(static_cast<std::size_t>(cell(std::max(p.x, other) + reach) - out.first + 1), 0.0F);
    const auto spread = [&](double x, double share) {
        double before = 0;
        for (std::size_t i = 0; i < out.cells.size(); ++i) {
            const int c = out.first + static_cast<int>(i);
            const double upto = c + 1 == kCells && what != Quantity::Ohms ? 1.0 : normal_cdf((axis.lo + (c + 1) * axis.cell() - x) / sigma);
            out.cells[i] += static_cast<float>((1 - kBlunder) * share * (upto - before));
            before = upto;
        }
        out.over += (1 - kBlunder) * share * (1 - before);
    };
    if (p.alternate_x) {
        spread(p.x, 0.5);
        spread(*p.alternate_x, 0.5);
    } else {
        spread(p.x, 1.0);
    }
    out.entropy = total();
    return out;
}

// As if the part's value had been read from its marking.
Prediction without_spread(Prediction p, int part) {
    for (const auto& [of, change] : p.by_part)
        if (of == part) p.sigma = std::sqrt(std::max(p.sigma * p.sigma - change * change, std::pow(0.03, 2)));
    return p;
}

struct Signature {
    const Prediction* prediction;
    double p = 0;
    std::vector<std::size_t> carriers; // scenarios
};

class Planner {
public:
    Planner(const Predictor& predictor, const FaultLibrary& library, const Assessment& assessment, const Evidence& evidence,
            const NextOptions& options, const CancelToken& cancel)
        : m_predictor(predictor), m_library(library), m_assessment(assessment), m_evidence(evidence), m_cancel(cancel) {
        std::map<std::vector<int>, double> sets; // by bad parts, whatever their modes
        for (const auto& [p, scenario] : assessment.posterior) {
            std::vector<int> parts;
            for (const auto& f : scenario.faults()) parts.push_back(f.part);
            std::sort(parts.begin(), parts.end());
            m_leading = std::max(m_leading, sets[parts] += p);
        }
        const bool stands = m_leading > kStandsAbove;
        m_least_bits = stands ? kCheckBits : kLeastBits;
        double carried = 0;
        const std::size_t most = options.most_scenarios > 0 ? options.most_scenarios : stands ? 1500 : 600;
        for (const auto& [p, scenario] : assessment.posterior) {
            if (carried > (stands ? 0.9998 : 0.995) || m_weights.size() >= most) break;
            auto faults = scenario.faults();
            std::erase_if(faults, [&](const Fault& f) { return evidence.renewed.contains(f.part); });
            m_weights.push_back(p);
            m_sets.push_back(predictor.id(faults));
            m_faults.push_back(std::move(faults));
            carried += p;
        }
        for (double& w : m_weights) w /= std::max(carried, 1e-12);
    }

    Result<NextAdvice> run() {
        // A first pass with the likeliest scenarios only; what comes out best is weighed again with all of them.
        const bool coarse = m_leading <= kStandsAbove && m_sets.size() > kCoarse;
        m_told = coarse ? kCoarse : m_sets.size();
        offer_all();
        if (coarse) {
            m_told = m_sets.size();
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
            if (act.act == Act::Read || act.act == Act::Pull) act.bands = bands(act.query);
            out.acts.push_back(std::move(act));
        }
        out.trace = worth_tracing(out.acts);
        const bool settled = m_leading > kSettledAbove;
        if (out.acts.empty()) {
            out.stop = true;
            out.reason = settled ? StopReason::Settled : StopReason::NothingTells;
        }
        return out;
    }

    std::vector<Band> bands(const Query& query) const;

    // Every reading that could be offered, whatever it tells.
    std::vector<Query> queries() {
        m_listed.emplace();
        offer_readings();
        offer_lifted();
        offer_places_of_the_bad();
        offer_pulls();
        return std::move(*std::exchange(m_listed, std::nullopt));
    }

private:
    void offer_all() {
        offer_readings();
        offer_looks();
        offer_lifted();
        offer_places_of_the_bad();
        offer_pulls();
        offer_substitutes();
        offer_cooling();
    }

    void sort_acts() {
        std::stable_sort(m_acts.begin(), m_acts.end(), [](const NextAct& a, const NextAct& b) { return a.rate() > b.rate() + 1e-9; });
    }

    // What the living scenarios predict, each different prediction once.
    std::vector<Signature> signatures(const Query& query) const {
        const auto predictions = m_predictor.predict_all(query, m_sets);
        std::vector<Signature> out;
        m_index.clear();
        for (std::size_t s = 0; s < m_sets.size(); ++s) {
            const auto number = static_cast<std::size_t>(predictions[s]->number);
            if (m_index.size() <= number) m_index.resize(number + 1, -1);
            if (m_index[number] < 0) {
                m_index[number] = static_cast<int>(out.size());
                out.push_back({predictions[s], 0, {}});
            }
            auto& sig = out[static_cast<std::size_t>(m_index[number])];
            sig.p += m_weights[s];
            sig.carriers.push_back(s);
        }
        return out;
    }

    // Predictions that no meter tells apart count as one.
    static std::vector<Signature> merged(const std::vector<Signature>& sigs) {
        std::vector<Signature> out;
        std::map<std::pair<long, long>, std::size_t> index;
        for (const auto& sig : sigs) {
            const auto& p = *sig.prediction;
            const std::pair key{p.over ? 1'000'000L : std::lround(p.x * 50), std::lround(p.sigma * 50)};
            const auto [at, fresh] = index.try_emplace(key, out.size());
            if (fresh) {
                out.push_back(sig);
                continue;
            }
            auto& into = out[at->second];
            into.p += sig.p;
            into.carriers.insert(into.carriers.end(), sig.carriers.begin(), sig.carriers.end());
        }
        return out;
    }

    bool assumed(int part) const { return m_predictor.board().part(part).assumed; }

    TraceAdvice worth_tracing(const std::vector<NextAct>& acts) const {
        const auto& parts = m_predictor.board().parts;
        TraceAdvice best;
        if (m_sets.empty() || std::none_of(parts.begin(), parts.end(), [](const Part& p) { return p.assumed; })) return best;
        double weight = 0;
        for (const auto& o : m_evidence.observations) { // what the leading story does not explain, an assumption may
            const auto& by = m_assessment.contradicted_by;
            if (o.kind != Seen::Reading || std::find(by.begin(), by.end(), o.entry) == by.end()) continue;
            for (const auto& [part, change] : m_predictor.predict(o.query, m_sets.front()).by_part)
                if (assumed(part) && std::fabs(change) > weight) {
                    weight = std::fabs(change);
                    best = {part, true, o.entry, 0, o.query};
                }
        }
        if (best.part >= 0) return best;
        for (const auto& act : acts) {
            if (act.act != Act::Read || m_cancel.cancelled()) continue;
            std::set<int> shaky;
            for (const auto& sig : signatures(act.query))
                if (sig.p > 0.02)
                    for (const auto& [part, change] : sig.prediction->by_part)
                        if (assumed(part) && std::fabs(change) > 0.3 * sig.prediction->sigma) shaky.insert(part);
            for (int part : shaky) {
                const double gain = information(act.query, part) - act.bits;
                if (gain > std::max(best.bits, kWorthTracing)) best = {part, false, -1, gain, act.query};
            }
        }
        return best;
    }

    // `known`: a part whose share of the spread is taken off; -1: none.
    double information(const Query& query, int known = -1) const {
        const std::size_t told = std::min(m_told, m_sets.size());
        const std::vector<SetId> sets(m_sets.begin(), m_sets.begin() + static_cast<long>(told));
        const auto predictions = m_predictor.predict_all(query, sets);
        const double whole = std::accumulate(m_weights.begin(), m_weights.begin() + static_cast<long>(told), 0.0);
        m_mass.clear();
        std::vector<const Prediction*> different;
        for (std::size_t s = 0; s < told; ++s) {
            const auto number = static_cast<std::size_t>(predictions[s]->number);
            if (m_mass.size() <= number) m_mass.resize(number + 1, 0.0);
            if (m_mass[number] == 0) different.push_back(predictions[s]);
            m_mass[number] += m_weights[s] / whole;
        }
        if (different.size() < 2) return 0;
        std::array<double, kCells> mixed;
        mixed.fill(kFloor);
        double over = kFloorOver, conditional = 0;
        for (const auto* p : different) {
            const double mass = m_mass[static_cast<std::size_t>(p->number)];
            const Outcomes o = outcomes(known < 0 ? *p : without_spread(*p, known), query.what);
            for (std::size_t i = 0; i < o.cells.size(); ++i)
                mixed[static_cast<std::size_t>(o.first) + i] += mass * static_cast<double>(o.cells[i]);
            over += mass * o.over;
            conditional += mass * o.entropy;
        }
        double total = entropy(over);
        for (double p : mixed) total += entropy(p);
        return std::max(0.0, total - conditional);
    }

    bool taken(const Query& query) const {
        return std::any_of(m_evidence.observations.begin(), m_evidence.observations.end(), [&](const Observation& o) {
            return o.kind == Seen::Reading && o.query == query && o.renewed == m_evidence.renewed;
        });
    }

    void offer(const Query& query, int part, double minutes, std::vector<int> to_lift = {}) {
        if (m_cancel.cancelled() || query.red == query.black || taken(query)) return;
        if (m_listed) return m_listed->push_back(query);
        const double bits = information(query);
        if (bits >= m_least_bits) m_acts.push_back({Act::Read, query, part, std::move(to_lift), bits, minutes, {}});
    }

    Query in_circuit(Quantity what, NetId red, NetId black) const { return {what, red, black, -1, m_evidence.state, 0}; }

    void offer_readings() {
        const auto& board = m_predictor.board();
        std::set<std::pair<NetId, NetId>> pairs;
        for (const auto& rail : board.rails) offer_pair(rail.net_id, rail.return_id, -1, pairs);
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            if (m_evidence.state.is_lifted(i)) offer_alone(i); // and what is left in its place
            const auto& part = board.part(i);
            for (const auto& [red, black] : places(part)) offer_pair(red, black, i, pairs);
            if (is_diode_like(part.kind) || part.kind == PartKind::Bridge || is_switch_device(part.kind))
                for (const auto& [red, black] : places(part)) offer(in_circuit(Quantity::Diode, red, black), i, kMinutesRead);
            if (is_wet_or_solid_electrolytic(part.kind)) offer(in_circuit(Quantity::Esr, part.net("+"), part.net("-")), i, kMinutesEsr);
        }
    }

    void offer_pair(NetId red, NetId black, int part, std::set<std::pair<NetId, NetId>>& pairs) {
        if (red < 0 || black < 0 || !pairs.insert({red, black}).second || pairs.contains({black, red})) return;
        offer(in_circuit(Quantity::Ohms, red, black), part, kMinutesRead);
    }

    static std::vector<std::pair<NetId, NetId>> places(const Part& part) {
        std::vector<std::pair<NetId, NetId>> out;
        if (part.kind == PartKind::Bridge) {
            for (const char* ac : {"~1", "~2"}) {
                out.emplace_back(part.net(ac), part.net("+"));
                out.emplace_back(part.net("-"), part.net(ac));
            }
        } else if (kind_info(part.kind).rule == PinRule::Pairs || part.kind == PartKind::Choke) {
            for (const auto& [a, b] : part.pairs()) out.emplace_back(a->id, b->id);
        } else if (is_switch_device(part.kind)) {
            const auto& roles = kind_info(part.kind);
            const NetId d = part.net(roles.red), s = part.net(roles.black), g = part.net(part.net("G") >= 0 ? "G" : "B");
            out = {{d, s}, {g, s}};
            if (part.kind == PartKind::BjtNpn) out.emplace_back(g, d); // a collector that is open shows nowhere else
            if (part.kind == PartKind::BjtPnp) out.emplace_back(d, g);
        } else if (is_controller(part.kind)) {
            const NetId ground = part.net(part.net("GND") >= 0 ? "GND" : "S");
            for (const char* pin : {"VCC", "DRV", "D"})
                if (part.net(pin) >= 0) out.emplace_back(part.net(pin), ground);
        } else {
            const auto& info = kind_info(part.kind);
            out.emplace_back(part.net(info.red), part.net(info.black));
        }
        return out;
    }

    void offer_alone(int i, bool to_lift = false) {
        const auto& part = m_predictor.board().part(i);
        const auto& info = kind_info(part.kind);
        Query q{Quantity::Ohms, part.net(info.red), part.net(info.black), i, m_evidence.state, 0};
        if (q.red == q.black) return;
        const double effort = !to_lift ? 0 : part.pins.size() > 2 ? kMinutesLiftMany : kMinutesLift;
        const auto lift = to_lift ? std::vector<int>{i} : std::vector<int>{};
        offer(q, i, kMinutesRead + effort, lift);
        q.what = Quantity::Diode;
        if (is_diode_like(part.kind)) offer(q, i, kMinutesRead + effort, lift);
        q.what = Quantity::Esr;
        if (is_wet_or_solid_electrolytic(part.kind)) offer(q, i, kMinutesEsr + effort, lift);
    }

    // Lifting is worth while only for parts in doubt.
    void offer_lifted() {
        for (const auto& b : m_assessment.parts) {
            if (b.bad < (m_leading > kStandsAbove ? kLiftToCheck : kLiftAbove)) break;
            if (b.bad > 0.995 || m_evidence.state.is_lifted(b.part)) continue;
            const auto kind = m_predictor.board().part(b.part).kind;
            if (kind == PartKind::Transformer || kind == PartKind::Connector || is_controller(kind) || kind == PartKind::Load) continue;
            offer_alone(b.part, true);
        }
    }

    // A part that has failed hides its neighbours: two diodes of one rail, two switches in parallel. It comes out anyway, so what is read
    // in its place with it gone costs little.
    void offer_places_of_the_bad() {
        const auto& board = m_predictor.board();
        std::set<std::pair<NetId, NetId>> pairs;
        for (const auto& b : m_assessment.parts) {
            if (b.bad < kComesOut) break;
            if (m_evidence.state.is_lifted(b.part) || m_evidence.renewed.contains(b.part)) continue;
            const auto& part = board.part(b.part);
            if (!changes_dc(board, b.leading) || part.kind == PartKind::Transformer || part.kind == PartKind::Connector) continue;
            BoardState without = m_evidence.state;
            without.lifted.resize(board.parts.size(), 0);
            without.lifted[static_cast<std::size_t>(b.part)] = 1;
            for (const auto& [red, black] : places(part)) {
                if (red < 0 || black < 0 || !pairs.insert({red, black}).second) continue;
                const double minutes = kMinutesRead + (part.pins.size() > 2 ? kMinutesLiftMany : kMinutesLift);
                offer({Quantity::Ohms, red, black, -1, without, 0}, b.part, minutes, {b.part});
                if (is_diode_like(part.kind) || is_switch_device(part.kind))
                    offer({Quantity::Diode, red, black, -1, without, 0}, b.part, minutes, {b.part});
                if (is_wet_or_solid_electrolytic(part.kind)) offer({Quantity::Esr, red, black, -1, without, 0}, b.part, minutes, {b.part});
            }
        }
    }

    // Which side of a connector holds what loads a rail: worth asking only where the rail may be shorted.
    void offer_pulls() {
        const auto& board = m_predictor.board();
        for (const auto& rail : board.rails) {
            const Query now = in_circuit(Quantity::Ohms, rail.net_id, rail.return_id);
            if (rail.net_id < 0 || rail.return_id < 0 || rail.net_id == rail.return_id) continue;
            const auto sigs = signatures(now);
            const Prediction healthy = m_predictor.predict(now, {});
            double low = 0;
            for (const auto& sig : sigs)
                if (!sig.prediction->over && sig.prediction->x < healthy.x - std::log(3.0)) low += sig.p;
            if (low < 0.05) continue;
            for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
                const auto& part = board.part(i);
                if (part.kind != PartKind::Connector || part.stage == "mains-in" || m_evidence.state.is_pulled(i)) continue;
                Query pulled = now;
                pulled.state.pulled.resize(board.parts.size(), 0);
                pulled.state.pulled[static_cast<std::size_t>(i)] = 1;
                if (m_cancel.cancelled() || taken(pulled)) continue;
                if (m_listed) m_listed->push_back(pulled);
                if (m_listed) continue;
                const double bits = information(pulled);
                if (bits >= m_least_bits) m_acts.push_back({Act::Pull, pulled, i, {}, bits, kMinutesPull + kMinutesRead, {}});
            }
        }
    }

    // A leak recovers within seconds; on a running unit only.
    void offer_cooling() {
        for (const auto& b : m_assessment.parts) {
            if (b.bad < 0.05) break;
            const bool moves = b.leading.mode == FaultMode::Leaky || b.leading.mode == FaultMode::Dry ||
                               b.leading.mode == FaultMode::Weak || b.leading.mode == FaultMode::GateLeak;
            if (!moves || b.bad > 0.95 || !m_evidence.live_allowed) continue;
            offer_outcomes(Act::Cool, b.part, kMinutesCool, {"recovers", "worse", "same"},
                           [](const std::string& word, const Fault* fault) { return temperature_chance(word, true, fault); });
        }
    }

    // Splits the mass by one part's state; `chance` gives the outcome odds for its mode (or healthy).
    void offer_outcomes(Act act, int part, double minutes, const std::vector<std::string>& words,
                        const std::function<double(const std::string&, const Fault*)>& chance) {
        std::map<std::optional<Fault>, double> mass;
        for (std::size_t s = 0; s < m_faults.size(); ++s) {
            std::optional<Fault> mine;
            for (const auto& f : m_faults[s])
                if (f.part == part) mine = f;
            mass[mine] += m_weights[s];
        }
        if (mass.size() < 2) return;
        double total = 0, conditional = 0;
        std::vector<Band> outcome;
        for (const auto& word : words) {
            double p = 0, best = 0;
            std::optional<Fault> story;
            for (const auto& [fault, m] : mass) {
                const double c = m * chance(word, fault ? &*fault : nullptr);
                p += c;
                if (c > best) {
                    best = c;
                    story = fault;
                }
            }
            total += entropy(p);
            Band band;
            band.p = p;
            band.story = story;
            band.healthy = !story;
            band.looks = {word};
            if (p > 0.01) outcome.push_back(band);
        }
        for (const auto& [fault, m] : mass)
            for (const auto& word : words) conditional += m * entropy(chance(word, fault ? &*fault : nullptr));
        const double bits = total - conditional;
        if (bits < m_least_bits) return;
        NextAct a{act, {}, part, {}, bits, minutes, std::move(outcome)};
        m_acts.push_back(std::move(a));
    }

    void offer_looks() {
        for (const auto& b : m_assessment.parts) {
            if (b.bad < 0.01) break;
            if (m_evidence.looked.contains(b.part)) continue;
            const auto kind = m_predictor.board().part(b.part).kind;
            const auto entry = m_library.kinds.find(kind);
            if (entry == m_library.kinds.end()) continue;
            std::set<std::string> words;
            for (const auto& [mode, data] : entry->second.modes)
                for (const auto& [look, chance] : data.looks) words.insert(look);
            std::vector<std::string> all(words.begin(), words.end());
            all.emplace_back("fine");
            offer_outcomes(Act::Look, b.part, kMinutesLook, all, [&](const std::string& word, const Fault* fault) {
                if (fault == nullptr) return word == "fine" ? 0.985 : 0.015 / static_cast<double>(words.size());
                const auto* mode = m_library.find(kind, fault->mode);
                if (mode == nullptr) return word == "fine" ? 0.8 : 0.2 / static_cast<double>(words.size());
                if (word == "fine") return mode->looks_fine();
                const auto look = mode->looks.find(word);
                return look == mode->looks.end() ? 0.001 : look->second;
            });
        }
    }

    // What no cold reading can settle: a known-good part in its place.
    void offer_substitutes() {
        for (const auto& b : m_assessment.parts) {
            if (b.bad < 0.05) break;
            if (b.settled_cold || b.bad > 0.95 || !m_evidence.live_allowed) continue;
            offer_outcomes(Act::Substitute, b.part, kMinutesSubstitute, {"works", "same"}, [](const std::string& word, const Fault* fault) {
                return (word == "works") == (fault != nullptr) ? 0.85 : 0.15;
            });
        }
    }

    const Predictor& m_predictor;
    const FaultLibrary& m_library;
    const Assessment& m_assessment;
    const Evidence& m_evidence;
    CancelToken m_cancel;
    double m_leading = 0; ///< chance of the likeliest set of bad parts
    double m_least_bits = kLeastBits;
    std::vector<double> m_weights;
    std::vector<std::vector<Fault>> m_faults;
    std::vector<SetId> m_sets;
    std::size_t m_told = SIZE_MAX; ///< of these, from the front: the ones that information() tells apart
    std::vector<NextAct> m_acts;
    std::optional<std::vector<Query>> m_listed; ///< filled instead of m_acts while it is there
    mutable std::vector<int> m_index;           ///< room kept between queries: by number of the prediction
    mutable std::vector<double> m_mass;         ///< the same
};

// The fault that tells this group from the others.
std::optional<Fault> distinguishing(const std::map<Fault, double>& inside, double mass, const std::map<Fault, double>& everywhere) {
    std::optional<Fault> best;
    double gain = 0.15;
    for (const auto& [fault, p] : inside) {
        const double here = p / mass;
        const double rest = mass < 0.9999 ? (everywhere.at(fault) - p) / (1 - mass) : 0;
        if (here - std::max(rest, 0.0) > gain) {
            gain = here - std::max(rest, 0.0);
            best = fault;
        }
    }
    return best;
}

std::vector<Band> Planner::bands(const Query& query) const {
    auto sigs = merged(signatures(query));
    const Prediction healthy = m_predictor.predict(query, {});
    std::map<Fault, double> everywhere;
    for (const auto& sig : sigs)
        for (std::size_t s : sig.carriers)
            for (const auto& fault : m_faults[s]) everywhere[fault] += m_weights[s];
    std::stable_sort(sigs.begin(), sigs.end(), [](const Signature& a, const Signature& b) {
        return a.prediction->over != b.prediction->over ? b.prediction->over : a.prediction->x < b.prediction->x;
    });
    std::vector<Band> out;
    std::map<Fault, double> inside;
    double x_lo = 0, x_hi = 0, reach = 0;
    const auto close = [&] {
        if (out.empty()) return;
        Band& band = out.back();
        if (!band.over) {
            band.lo = score_value(query.what, x_lo);
            band.hi = score_value(query.what, x_hi);
        }
        band.story = distinguishing(inside, band.p, everywhere);
    };
    for (const auto& sig : sigs) {
        if (sig.p < 0.002) continue;
        const Prediction& p = *sig.prediction;
        const double half = 1.6 * std::max(p.sigma, 0.01);
        const bool joins = !out.empty() && out.back().over == p.over && (p.over || p.x - half < reach);
        if (!joins) {
            close();
            out.emplace_back();
            out.back().over = p.over;
            inside.clear();
            x_lo = p.x - half;
            x_hi = reach = p.x + half;
        }
        out.back().p += sig.p;
        x_lo = std::min(x_lo, p.x - half);
        x_hi = std::max(x_hi, p.x + half);
        reach = std::max(reach, p.x + half);
        for (std::size_t s : sig.carriers)
            for (const auto& fault : m_faults[s]) inside[fault] += m_weights[s];
    }
    close();
    // The healthy band is shown even when no living story is healthy here.
    const double lo = score_value(query.what, healthy.x - 1.6 * healthy.sigma),
                 hi = score_value(query.what, healthy.x + 1.6 * healthy.sigma);
    const auto holds = [&](const Band& b) { return healthy.over ? b.over : !b.over && healthy.value >= b.lo && healthy.value <= b.hi; };
    const auto mine = std::find_if(out.begin(), out.end(), holds);
    if (mine != out.end()) {
        mine->healthy = true;
    } else {
        Band band;
        band.lo = healthy.over ? 0 : lo;
        band.hi = healthy.over ? 0 : hi;
        band.over = healthy.over;
        band.healthy = true;
        out.push_back(band);
        std::stable_sort(out.begin(), out.end(), [](const Band& a, const Band& b) { return a.over != b.over ? b.over : a.lo < b.lo; });
    }
    return out;
}

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
