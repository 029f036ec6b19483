// SPDX-License-Identifier: GPL-3.0-or-later
// Method: every (part, mode) of the library is a root with its weight; a root that hurts others is split into the leaves of its chain;
// further independent faults, each with the ways it goes on, multiply by their odds and are enumerated best first with the usual lazy
// subset heap (append the next best extra, or replace the last one by it). Sets reached on several ways are merged, the likelier chain
// tells the story.
#include "damage/enumerate.h"

#include "base/parallel.h"
#include "board/step_down.h"
#include "circuit/dc_solver.h"
#include "damage/behaviour.h"
#include "damage/low_voltage.h"
#include "damage/misuse.h"
#include "damage/slow_causes.h"
#include "damage/surge_tree.h"
#include "damage/telling.h"

#include <algorithm>
#include <cmath>
#include <queue>

namespace ohmo {
namespace {

constexpr std::size_t kMostSlowSteps = 3;
constexpr double kLeastSlowChance = 1e-3;

// Of one of several windings or contacts: its share of what its kind fails. The primary of a transformer on the line is of thin wire, often
// with a thermal cut-out in it, and opens before any other, however many there are.
double share_of(const Board& board, const BoardRoles& roles, int part, std::size_t pair, std::size_t pairs, FaultMode mode) {
    const bool primary =
        part == roles.line_transformer && pair < roles.line_windings.size() && roles.line_windings[pair].shorts.loops.empty();
    return primary && mode == FaultMode::Open ? board.practice().line_primary_opens : 1 / static_cast<double>(pairs);
}

std::vector<RootFault> root_faults(const Board& board, const BoardRoles& roles, const FaultLibrary& library,
                                   const std::set<std::string>& history, const std::vector<ServiceStress>& places, bool each_pair) {
    std::vector<RootFault> out;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        const auto pairs = !each_pair                                    ? decltype(part.pairs()){}
                           : kind_info(part.kind).rule == PinRule::Pairs ? part.pairs()
                                                                         : decltype(part.pairs()){};
        for (FaultMode mode : modes_of(part.kind)) {
            if (!may_fail(board, part, mode)) continue;
            const double weight =
                library.weight(part, mode, history) * service_factor(board.practice(), part, mode, places[static_cast<std::size_t>(i)]);
            if (weight <= 0) continue;
            if (part.kind == PartKind::Bridge && (mode == FaultMode::Short || mode == FaultMode::Open || mode == FaultMode::Leaky))
                for (const char* leg : {"~1+", "~1-", "~2+", "~2-"}) out.push_back({{i, mode, leg}, weight / 4, {}});
            else if (pairs.size() > 1 && (mode == FaultMode::Open || mode == FaultMode::High)) // any one winding or contact
                for (std::size_t k = 0; k < pairs.size(); ++k)
                    out.push_back({{i, mode, pairs[k].first->role + "-" + pairs[k].second->role},
                                   weight * share_of(board, roles, i, k, pairs.size(), mode),
                                   {}});
            else if (const auto outputs = places_of_output_short(part); mode == FaultMode::OutputShort && !outputs.empty())
                for (const auto pin : outputs)
                    out.push_back({{i, mode, std::string(pin)}, weight / static_cast<double>(outputs.size()), {}});
            else if (part.kind == PartKind::Relay && mode != FaultMode::Short && part.net("C") >= 0 && part.net("NC") >= 0)
                for (const char* path : {"1-2", "C-NC"}) out.push_back({{i, mode, path}, weight / 2, {}}); // coil or contact
            else if (part.kind != PartKind::Relay || mode != FaultMode::Short || (part.net("C") >= 0 && part.net("NO") >= 0))
                out.push_back({{i, mode, {}}, weight, {}});
        }
    }
    return out;
}

class Enumerator {
public:
    Enumerator(const Board& board, const BoardRoles& roles, const std::set<std::string>& history, double least_leaf,
               const CancelToken& cancel)
        : m_board(board), m_history(history), m_roles(roles), m_healthy(expand(board, {}, {})), m_surge(board, roles),
          m_behaviour(board, roles), m_cancel(cancel), m_least_leaf(least_leaf) {}

    // All ways each root can go on, by root; their chances sum to 1. `priors` decide how far surges are branched.
    std::vector<std::vector<Chain>> chains(const std::vector<Fault>& roots, const std::vector<double>& priors) {
        std::vector<std::vector<Chain>> slow(roots.size());
        for (std::size_t r = 0; r < roots.size() && !m_cancel.cancelled(); ++r) {
            slow[r] = slow_chains(roots[r]);
            for (const auto& c : slow[r])
                if (surges_on(c) && m_index.try_emplace(initial(c), m_surges.size()).second)
                    m_surges.push_back({initial(c), std::clamp(m_least_leaf / (priors[r] * c.chance), 0.004, 0.3), {}});
        }
        run_surges();
        std::vector<std::vector<Chain>> out(roots.size());
        for (std::size_t r = 0; r < roots.size() && !m_cancel.cancelled(); ++r) {
            for (const auto& c : slow[r]) add_endings(c, out[r]);
            if (m_board.mains) continue;
            reach_the_driver(m_board, m_roles, out[r]);
            blow_input_fuse(m_board, m_roles, m_behaviour, out[r]);
        }
        return out;
    }

    /// By part, whether a short of it draws hard on the source: it hangs on the mains or the bulk capacitor; on boards fed with low voltage
    /// it is one of the switches or behind them.
    std::vector<char> fed_hard() const {
        std::vector<char> out;
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            const auto& stage = m_board.part(i).stage;
            out.push_back((m_board.mains ? on_primary(i) : stage == "switch" || stage == "rectify-out") ? 1 : 0);
        }
        return out;
    }

private:
    struct Surge {
        std::vector<Fault> initial;
        double least_chance;
        std::vector<SurgeLeaf> leaves;
    };

    void run_surges() {
        in_parallel(m_surges.size(), [&](std::size_t i) {
            SurgeTreeOptions options;
            options.least_chance = m_surges[i].least_chance;
            auto tree = surge_tree(m_surge, m_surges[i].initial, options, m_cancel);
            m_surges[i].leaves = tree ? std::move(*tree) : std::vector<SurgeLeaf>{{{}, 1.0}};
        });
    }

    // The chain as it is, or with each way its surge can end.
    void add_endings(const Chain& chain, std::vector<Chain>& out) const {
        if (!surges_on(chain)) return out.push_back(chain);
        for (const auto& leaf : m_surges[m_index.at(initial(chain))].leaves) {
            auto all = chain.steps;
            all.insert(all.end(), leaf.damage.begin(), leaf.damage.end());
            out.push_back({std::move(all), chain.chance * leaf.chance});
        }
    }

    // One slow consequence after the other: a dry drive capacitor, the switch it starves, the other switch of the pair.
    std::vector<Chain> slow_chains(const Fault& root) {
        std::vector<Chain> out;
        follow({{root, Cause::Root, 0, 0, 0}}, 1, out);
        return out;
    }

    void follow(std::vector<Step> steps, double chance, std::vector<Chain>& out) {
        if (steps.size() <= kMostSlowSteps)
            for (const auto& c : consequences(steps.back().fault)) {
                const auto same = [&](const Step& s) { return s.fault.part == c.step.fault.part; };
                const double here = std::min(c.chance, 1 - m_board.practice().model_doubt);
                if (chance * here < kLeastSlowChance || std::any_of(steps.begin(), steps.end(), same)) continue;
                auto more = steps;
                more.push_back(c.step);
                follow(std::move(more), chance * here, out);
                chance *= 1 - here;
            }
        out.push_back({std::move(steps), chance});
    }

    const std::vector<Consequence>& consequences(const Fault& fault) {
        const auto found = m_consequences.find(fault);
        if (found != m_consequences.end()) return found->second;
        return m_consequences.emplace(fault, slow_consequences(m_board, m_roles, fault, m_history)).first->second;
    }

    bool surges_on(const Chain& chain) const {
        const Fault& last = chain.steps.back().fault;
        return conducts_wrongly(last.mode) && on_primary(last.part);
    }

    static std::vector<Fault> initial(const Chain& chain) {
        std::vector<Fault> out;
        for (const auto& s : chain.steps) out.push_back(s.fault);
        return out;
    }

    bool on_primary(int part) const {
        if (m_roles.hv < 0) return false;
        const auto& pins = m_board.part(part).pins;
        return std::any_of(pins.begin(), pins.end(), [&](const Pin& p) { return m_healthy.connected(p.id, m_roles.hv); });
    }

    const Board& m_board;
    const std::set<std::string>& m_history;
    const BoardRoles& m_roles;
    DcSolver m_healthy;
    SurgeBoard m_surge;
    BehaviourModel m_behaviour;
    CancelToken m_cancel;
    double m_least_leaf;
    std::map<Fault, std::vector<Consequence>> m_consequences;
    std::vector<Surge> m_surges; ///< different starts of a surge
    std::map<std::vector<Fault>, std::size_t> m_index;
};

struct Base {
    std::vector<Step> steps;
    double prior;
    Beside beside;
};

struct Entry {
    double prior;
    std::size_t base;
    std::vector<std::size_t> extras; // ascending indices into the further faults
    bool operator<(const Entry& o) const { return prior != o.prior ? prior < o.prior : base != o.base ? base > o.base : extras > o.extras; }
};

// Bases with further faults beside them, likeliest first.
class BestFirst {
public:
    BestFirst(const Board& board, const std::vector<Base>& bases, ScenarioSet& set) : m_board(board), m_bases(bases), m_set(set) {
        // Leaves room for the extras of each base: without normalising, the masses of all subsets would sum to more than one.
        for (std::size_t b = 0; b < bases.size(); ++b) {
            double spread = 1;
            for (std::size_t e = 0; e < extras().size() && !bases[b].steps.empty(); ++e) spread *= 1 + odds(bases[b], e);
            m_queue.push({bases[b].prior / spread, b, {}});
        }
    }

    // False when nothing is left.
    bool step() {
        if (m_queue.empty()) return false;
        const Entry entry = m_queue.top();
        m_queue.pop();
        take(entry);
        push_successors(entry);
        return true;
    }

private:
    const std::vector<Further>& extras() const { return m_set.further.all(); }
    double odds(const Base& base, std::size_t e) const { return m_set.further.odds(m_board, base.beside, extras()[e]); }

    void take(const Entry& entry) {
        const Base& base = m_bases[entry.base];
        std::set<int> used;
        for (std::size_t e : entry.extras)
            if (odds(base, e) <= 0 || !used.insert(extras()[e].first().part).second) return;
        Scenario scenario{base.steps, entry.prior};
        const auto broken = scenario.faults();
        for (std::size_t e : entry.extras) add_further(m_board, broken, extras()[e], scenario);
        tell_in_order(m_board, scenario);
        m_set.mass += entry.prior;
        const auto [at, fresh] = m_known.try_emplace(scenario.key(), m_set.scenarios.size());
        if (fresh)
            m_set.scenarios.push_back(std::move(scenario));
        else
            m_set.scenarios[at->second].prior += entry.prior;
    }

    // With the next extra as well, or with it instead of the last one. Extras that the base excludes are stepped over with their plain
    // odds, so that the order of the heap stays right.
    void push_successors(const Entry& entry) {
        const Base& base = m_bases[entry.base];
        if (base.steps.empty() || entry.extras.size() > 2) return;
        const std::size_t next = entry.extras.empty() ? 0 : entry.extras.back() + 1;
        if (next >= extras().size()) return;
        const auto factor = [&](std::size_t e) { return std::max(odds(base, e), extras()[e].odds); };
        Entry more = entry;
        more.extras.push_back(next);
        more.prior = entry.prior * factor(next);
        m_queue.push(std::move(more));
        if (entry.extras.empty()) return;
        Entry swapped = entry;
        swapped.extras.back() = next;
        swapped.prior = entry.prior / factor(entry.extras.back()) * factor(next);
        m_queue.push(std::move(swapped));
    }

    const Board& m_board;
    const std::vector<Base>& m_bases;
    ScenarioSet& m_set;
    std::priority_queue<Entry> m_queue;
    std::map<std::vector<Fault>, std::size_t> m_known;
};

} // namespace

Result<RootFaults> root_chains(const Board& board, const BoardRoles& roles, const FaultLibrary& library,
                               const std::set<std::string>& history, double least_leaf, bool each_pair, const CancelToken& cancel) {
    RootFaults out;
    out.roots = root_faults(board, roles, library, history, service_stresses(board, roles, history, cancel), each_pair);
    for (const auto& r : out.roots) out.total += r.weight;
    std::vector<Fault> faults;
    std::vector<double> priors;
    for (const auto& r : out.roots) {
        faults.push_back(r.fault);
        priors.push_back((1 - library.reserve) * (1 - library.good_supply) * r.weight / out.total);
    }
    Enumerator enumerator(board, roles, history, least_leaf, cancel);
    auto chains = enumerator.chains(faults, priors);
    if (cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
    for (std::size_t r = 0; r < out.roots.size(); ++r) out.roots[r].chains = std::move(chains[r]);
    out.fed_hard = enumerator.fed_hard();
    return out;
}

Result<ScenarioSet> enumerate_scenarios(const Board& board, const BoardRoles& roles, const FaultLibrary& library,
                                        const std::set<std::string>& history, const EnumerateOptions& options, const CancelToken& cancel) {
    const Problem cancelled{ProblemKind::Cancelled, {}, {}, {}, 0, false};
    auto made = root_chains(board, roles, library, history, options.least_leaf, false, cancel);
    if (!made) return cancelled;
    auto& roots = made->roots;
    ScenarioSet set;
    set.reserve = library.reserve;
    const double budget = 1 - library.reserve;
    set.further = FurtherFaults(made->fed_hard);
    std::vector<Base> bases = {{{}, budget * library.good_supply, {}}};
    for (auto& root : roots) {
        set.further.add(root.fault, library.second_fault * root.weight / made->total, root.chains);
        for (auto& chain : root.chains) {
            Beside beside = set.further.beside(board, chain.steps);
            bases.push_back(
                {std::move(chain.steps), budget * (1 - library.good_supply) * root.weight / made->total * chain.chance, std::move(beside)});
        }
    }
    set.further.sort();
    BestFirst queue(board, bases, set);
    while (static_cast<int>(set.scenarios.size()) < options.most && set.mass < options.mass * budget) {
        if (cancel.cancelled()) return cancelled;
        if (!queue.step()) break;
    }
    std::stable_sort(set.scenarios.begin(), set.scenarios.end(), [](const Scenario& a, const Scenario& b) { return a.prior > b.prior; });
    return set;
}

} // namespace ohmo
