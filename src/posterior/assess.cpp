// SPDX-License-Identifier: GPL-3.0-or-later
#include "posterior/assess.h"

#include "belief/belief.h"
#include "board/open_ends.h"
#include "posterior/story.h"
#include "readings/looked_over.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kWorthReasons = 0.02; // of a part's odds, or of a part that was cleared
constexpr std::size_t kMostReasoned = 10;
constexpr double kLeastDecibans = 0.5;
constexpr double kOwn = 3;                          // nats: its own evidence settles it
constexpr double kRaised = 1.3;                     // times its wear: its sisters' age shows
constexpr double kSurprises = 0.7, kNarrowed = 0.6; // spreads off the middle; share of the spread left
constexpr std::size_t kMostLearned = 8;
constexpr double kDecibans = 4.342944819; // of one nat

class Assessor {
public:
    Assessor(const Board& board, std::shared_ptr<const belief::Belief> belief, const Evidence& evidence)
        : m_board(board), m_belief(std::move(belief)), m_b(*m_belief), m_evidence(evidence) {}

    Assessment run() {
        Assessment out;
        out.belief = m_belief;
        const bool half = half_traced(m_board); // nobody can call good what nobody has seen
        out.supply_good = half ? 0 : m_b.supply_good();
        out.unexplained = m_board.parts.empty() ? 1 : m_b.unexplained();
        for (std::size_t c = 0; c < kOutsides; ++c) out.outside[c] = m_b.outside(static_cast<Outside>(c));
        out.contradicted_by = m_b.slipped();
        out.open_complaints = m_b.complaints_unexplained();
        for (const auto& joint : m_b.joints()) tell(joint, out.stories);
        std::stable_sort(out.stories.begin(), out.stories.end(), [](const Story& a, const Story& b) { return a.p > b.p; });
        if (m_board.parts.empty()) out.stories.clear();
        if (out.stories.empty()) out.stories.emplace_back();
        for (int p = 0; p < static_cast<int>(m_board.parts.size()); ++p) out.parts.push_back(part(p));
        std::stable_sort(out.parts.begin(), out.parts.end(), [](const PartBelief& a, const PartBelief& b) { return a.bad > b.bad; });
        double none = 1;
        for (auto& b : out.parts) {
            if (b.bad <= m_board.practice().open_above) out.acquitted_odds += b.bad;
            none *= 1 - b.harm;
        }
        out.harm = 1 - none;
        out.looked_over = looked_over(m_board.practice(), m_evidence);
        reasons(out);
        learned(out);
        return out;
    }

private:
    // Two ways of drying out are one story.
    void tell(const belief::Joint& joint, std::vector<Story>& stories) const {
        Scenario scenario = told(m_board, m_b, joint);
        const auto same = std::find_if(stories.begin(), stories.end(), [&](const Story& s) { return s.scenario.key() == scenario.key(); });
        if (same != stories.end())
            same->p += joint.p;
        else
            stories.push_back({joint.p, std::move(scenario)});
    }

    const belief::Unit& unit(int u) const { return m_b.model().units[static_cast<std::size_t>(u)]; }
    const std::vector<int>& units_of(int part) const { return m_b.model().units_of[static_cast<std::size_t>(part)]; }

    // The likeliest way for it to be bad, however many degrees of it are told apart, where it is likeliest.
    Fault leading(int p, const std::map<FaultMode, double>& modes) const {
        Fault out{p, modes_of(m_board.part(p).kind).front(), {}};
        const auto likeliest =
            std::max_element(modes.begin(), modes.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
        double best = -1;
        for (int u : units_of(p))
            for (std::size_t m = 1; m < unit(u).modes.size() && likeliest != modes.end() && !unit(u).renewed; ++m) {
                const auto& mode = unit(u).modes[m];
                const double chance = m_b.mode(u, static_cast<int>(m));
                if (mode.setting || mode.fault.mode != likeliest->first || chance <= best) continue;
                best = chance;
                out = mode.fault;
            }
        return out;
    }

    PartBelief part(int p) const {
        PartBelief b;
        b.part = p;
        for (int u : units_of(p)) {
            if (unit(u).renewed) continue;
            for (std::size_t m = 1; m < unit(u).modes.size(); ++m) {
                if (unit(u).modes[m].setting) continue;
                const double chance = m_b.mode(u, static_cast<int>(m));
                b.modes[unit(u).modes[m].fault.mode] += chance;
                if (!unit(u).modes[m].values.empty()) b.readable += chance;
                b.harm += chance * belief::takes_along(m_b.net(), u, static_cast<int>(m));
            }
        }
        b.bad = m_b.bad(p);
        double sum = 0; // windings and contacts may fail side by side: the ways add up to more than one of them
        for (const auto& [mode, chance] : b.modes) sum += chance;
        if (m_evidence.resoldered.contains(p))
            if (const auto joints = b.modes.find(FaultMode::DryJoint); joints != b.modes.end()) {
                b.bad = std::max(0.0, b.bad - joints->second);
                sum -= joints->second;
                b.modes.erase(joints);
            }
        b.leading = leading(p, b.modes);
        for (auto& [mode, chance] : b.modes) chance *= sum > 0 ? b.bad / sum : 1;
        b.readable *= sum > 0 ? b.bad / sum : 1;
        b.harm *= sum > 0 ? b.bad / sum : 1;
        b.proof = proof(p);
        if (m_evidence.renewed.contains(p)) {
            b.bad = m_evidence.absent.contains(p) ? 0 : m_board.practice().new_part_bad;
            b.readable = b.harm = 0;
            b.modes.clear();
        }
        b.settled_cold = settled_cold(m_board, b.leading);
        return b;
    }

    // ln of how its own evidence moves the odds.
    double own(int u) const {
        const auto& ln = m_b.direct().ln[static_cast<std::size_t>(u)];
        double bad = 0, wear = 0, top = *std::max_element(ln.begin(), ln.end());
        for (std::size_t m = 1; m < ln.size(); ++m) {
            bad += unit(u).modes[m].wear * std::exp(ln[m] - top);
            wear += unit(u).modes[m].wear;
        }
        return wear > 0 ? std::log(std::max(bad, 1e-300) / wear) - (ln[0] - top) : 0;
    }

    Proof proof(int p) const {
        Proof out = Proof::Wear;
        const bool bad = m_b.bad(p) > 0.5;
        for (int u : units_of(p)) {
            if (unit(u).renewed) continue;
            const double mine = own(u);
            if (bad ? mine > kOwn : mine < -kOwn) return Proof::Own;
            const auto& island = *m_b.islands()[static_cast<std::size_t>(unit(u).island)];
            if (island.moved(u)) {
                out = Proof::Circuit;
            } else if (out != Proof::Circuit && std::any_of(m_b.net().into[static_cast<std::size_t>(u)].begin(),
                                                            m_b.net().into[static_cast<std::size_t>(u)].end(), [&](int e) {
                                                                const auto& edge = m_b.net().edges[static_cast<std::size_t>(e)];
                                                                return m_b.mode(edge.parent, edge.parent_mode) > 0.3;
                                                            })) {
                out = Proof::Story;
            } else if (out == Proof::Wear && unit(u).ages && 1 - m_b.mode(u, 0) > kRaised * unit(u).wear()) {
                out = Proof::Age;
            } else if (out == Proof::Wear && bad) {
                out = Proof::Story; // of a complaint, or of what was read under power
            }
        }
        return out;
    }

    // What each reading moved: the likeliest state with the part bad against the likeliest with it sound, reading by reading in the order
    // of the journal; looks and readings alone by their own likelihood.
    void reasons(Assessment& out) const {
        std::size_t done = 0;
        for (auto& b : out.parts) {
            if (b.bad < kWorthReasons || done++ >= kMostReasoned) break;
            std::map<int, double> moved;
            bool beside = true;
            double alone = 0, sound = 0;
            for (int u : units_of(b.part)) {
                if (unit(u).renewed) continue;
                for (const auto& [entry, ln] : m_b.direct_reasons(u)) {
                    moved[entry] += ln * kDecibans;
                    alone += ln * kDecibans;
                }
                beside = in_circuit_reasons(u, moved, sound) && beside;
            }
            // The likeliest story without it may blame a third part that a reading clears: that reading speaks for the third, not against
            // this one.
            double all = 0;
            for (const auto& [entry, decibans] : moved) all += decibans;
            if (beside) b.spoken = std::min(all, alone + sound);
            for (const auto& [entry, decibans] : moved)
                if (std::fabs(decibans) > kLeastDecibans) b.reasons.push_back({entry, std::clamp(decibans, -99.0, 99.0)});
            std::stable_sort(b.reasons.begin(), b.reasons.end(),
                             [](const Reason& x, const Reason& y) { return std::fabs(x.decibans) > std::fabs(y.decibans); });
        }
    }

    // `sound`: decibans by which the likeliest story with the part bad fits better than the same with it sound. False: no state is left in
    // which it is otherwise.
    bool in_circuit_reasons(int u, std::map<int, double>& moved, double& sound) const {
        const auto& island = *m_b.islands()[static_cast<std::size_t>(unit(u).island)];
        const auto at = island.position(u);
        if (at < 0 || !island.enumerated(static_cast<std::size_t>(at)) || island.seen().empty()) return true;
        const belief::State *bad = nullptr, *fine = nullptr;
        for (const auto& s : island.states()) {
            auto& best = s->mode[static_cast<std::size_t>(at)] != 0 ? bad : fine;
            if (best == nullptr || s->score > best->score) best = s.get();
        }
        if (bad == nullptr || fine == nullptr) return false;
        const auto with = island.fit_of(*bad, 0), without = island.fit_of(*fine, 0);
        for (std::size_t j = 0; j < island.seen().size(); ++j) moved[island.seen()[j].entry] += (with.ln[j] - without.ln[j]) * kDecibans;
        const auto same = island.fit_without(*bad, static_cast<std::size_t>(at));
        for (std::size_t j = 0; j < island.seen().size(); ++j) sound += (with.ln[j] - same.ln[j]) * kDecibans;
        return true;
    }

    // Unknowns that ended far from where they were taken to be, in the likeliest state of each island.
    void learned(Assessment& out) const {
        std::vector<Learned> found;
        for (const auto& island : m_b.islands()) {
            if (island->seen().empty()) continue;
            const auto& best = island->likeliest();
            const auto fit = island->fit_of(best, 0);
            const auto prior = island->prior_of(best.mode);
            for (std::size_t k = 0; k < prior.size(); ++k) {
                if (fit.slopes.col(static_cast<Eigen::Index>(k)).isZero() || prior[k].spread < 0.01) continue;
                const int owner = island->island().owner[k];
                if (owner >= 0 && best.mode[static_cast<std::size_t>(island->position(owner))] != 0) continue; // of a fault
                const double off = (fit.values[k] - prior[k].middle) / prior[k].spread, left = fit.spread_of(static_cast<int>(k));
                if (std::fabs(off) < kSurprises || left > kNarrowed * prior[k].spread) continue;
                Learned l = named(*island, static_cast<int>(k), owner);
                if (l.what.empty()) continue;
                const bool offset = owner < 0 && l.what == "leads";
                l.assumed = offset ? prior[k].middle : std::exp(prior[k].middle);
                l.now = offset ? fit.values[k] : std::exp(fit.values[k]);
                l.spread = left;
                l.off = off;
                if (owner < 0 && !offset) { // of each island one; they were read with the same meter
                    const double amps = current_of(static_cast<int>(k));
                    l.assumed *= amps;
                    l.now *= amps;
                    const auto known = std::find_if(found.begin(), found.end(),
                                                    [&](const Learned& f) { return f.part < 0 && f.what == l.what && f.range == l.range; });
                    if (known != found.end()) {
                        if (left < known->spread) *known = l;
                        continue;
                    }
                }
                found.push_back(l);
            }
        }
        std::stable_sort(found.begin(), found.end(),
                         [](const Learned& a, const Learned& b) { return std::fabs(a.off) > std::fabs(b.off); });
        for (const auto& l : found)
            if (l.part >= 0 && l.what != "pin" && std::fabs(l.off) >= m_board.practice().bent_too_far) out.bent.push_back(l);
        found.resize(std::min(found.size(), kMostLearned));
        out.learned = std::move(found);
    }

    const OhmsRange* range_of(int unknown) const {
        const auto& meters = m_b.bench().meters;
        const std::size_t meter = static_cast<std::size_t>(unknown / belief::MeterUnknown::kCount);
        const int range = unknown % belief::MeterUnknown::kCount - belief::MeterUnknown::kAmps;
        if (range < 0 || meter >= meters.size() || static_cast<std::size_t>(range) >= meters[meter].ohms.size()) return nullptr;
        return &meters[meter].ohms[static_cast<std::size_t>(range)];
    }
    double current_of(int unknown) const {
        const auto* range = range_of(unknown);
        return range != nullptr ? range->amps
                                : m_b.bench().meters[static_cast<std::size_t>(unknown / belief::MeterUnknown::kCount)].diode_amps;
    }

    Learned named(const belief::IslandSearch& island, int unknown, int owner) const {
        Learned out;
        if (owner < 0) {
            const int which = unknown % belief::MeterUnknown::kCount;
            const auto* range = range_of(unknown);
            out.what = which == belief::MeterUnknown::kOffset      ? "leads"
                       : which == belief::MeterUnknown::kDiodeAmps ? "diode test"
                       : range != nullptr                          ? "test current"
                                                                   : "";
            if (range != nullptr) out.range = range->full;
            return out;
        }
        out.part = unit(owner).part;
        const auto& circuit = island.island().circuit;
        const auto kind = m_board.part(out.part).kind;
        for (const auto& c : circuit.conductors)
            if (c.ohms == unknown)
                out.what = is_controller(kind) || kind == PartKind::Regulator || kind == PartKind::ShuntReference ? "pin"
                           : is_capacitor(kind)                                                                   ? "leakage"
                                                                                                                  : "ohms";
        for (const auto& j : circuit.junctions)
            if (j.is == unknown) out.what = ""; // of no use to anyone at the bench
        for (const auto& c : circuit.reservoirs) {
            if (c.farads == unknown) out.what = "farads";
            if (c.esr == unknown) out.what = "ESR";
        }
        return out;
    }

    const Board& m_board;
    std::shared_ptr<const belief::Belief> m_belief;
    const belief::Belief& m_b;
    const Evidence& m_evidence;
};

} // namespace

std::string_view proof_name(Proof proof) {
    static constexpr std::array<std::string_view, 5> names = {"wear", "own", "circuit", "story", "age"};
    return names[static_cast<std::size_t>(proof)];
}

const PartBelief& Assessment::of(int part) const {
    return *std::find_if(parts.begin(), parts.end(), [&](const PartBelief& b) { return b.part == part; });
}

Assessment assess(const Board& board, std::shared_ptr<const belief::Belief> belief, const Evidence& evidence) {
    return Assessor(board, std::move(belief), evidence).run();
}

bool settled_cold(const Board& board, const Fault& fault) {
    const bool capacitor = is_capacitor(board.part(fault.part).kind);
    return changes_dc(board, fault) ||
           (capacitor && (fault.mode == FaultMode::Dry || fault.mode == FaultMode::Low || fault.mode == FaultMode::Open));
}

} // namespace ohmo
