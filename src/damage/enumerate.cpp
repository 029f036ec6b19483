// SPDX-License-Identifier: GPL-3.0-or-later
// Method: every (part, mode) of the library is a root with its weight; a root that hurts others is split into the leaves of its chain;
// further independent faults, each with the ways it goes on, multiply by their odds and are enumerated best first with the usual lazy
// subset heap (append the next best extra, or replace the last one by it). Sets reached on several ways are merged, the likelier chain
// tells the story.
#include "damage/enumerate.h"

#include "base/parallel.h"
#include "base/statistics.h"
#include "board/nominal.h"
#include "circuit/dc_solver.h"
#include "damage/behaviour.h"
#include "damage/misuse.h"
#include "damage/slow_causes.h"
#include "damage/surge_tree.h"
#include "damage/telling.h"

#include <algorithm>
#include <cmath>
#include <queue>

namespace ohmo {
namespace {

constexpr double kInputOhms = 0.1, kInputSigma = 0.7,
                 kFuseMeltsAbove = 2.1; // battery or supply, wiring and a short that welds; fuse over its rating
constexpr double kStiffInput = 0.7;     // chance that it is one: adapters and bench supplies give way (common practice, no source)
constexpr double kRatingMargin = 1.35;  // rated over working volts of an input capacitor (common practice, no source)
constexpr std::size_t kMostSlowSteps = 3;
constexpr double kLeastSlowChance = 1e-3;
constexpr double kGateOhms = 5, kDriverAmps = 0.5, kDriverSigma = 0.7; // of a gate broken through; what a driving pin stands

struct Weighted {
    Fault fault;
    double weight;
};

std::vector<Weighted> root_faults(const Board& board, const FaultLibrary& library, const std::set<std::string>& history,
                                  const std::vector<PlaceStress>& places) {
    std::vector<Weighted> out;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        for (FaultMode mode : modes_of(part.kind)) {
            const double weight = library.weight(part, mode, history) * place_factor(part, mode, places[static_cast<std::size_t>(i)]);
            if (weight <= 0) continue;
            if (part.kind == PartKind::Bridge && (mode == FaultMode::Short || mode == FaultMode::Open || mode == FaultMode::Leaky))
                for (const char* leg : {"~1+", "~1-", "~2+", "~2-"}) out.push_back({{i, mode, leg}, weight / 4});
            else
                out.push_back({{i, mode, {}}, weight});
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
        std::map<std::vector<Fault>, std::size_t> index;
        std::vector<Surge> surges;
        for (std::size_t r = 0; r < roots.size() && !m_cancel.cancelled(); ++r) {
            slow[r] = slow_chains(roots[r]);
            for (const auto& c : slow[r])
                if (surges_on(c) && index.try_emplace(initial(c), surges.size()).second)
                    surges.push_back({initial(c), std::clamp(m_least_leaf / (priors[r] * c.chance), 0.004, 0.3), {}});
        }
        in_parallel(surges.size(), [&](std::size_t i) {
            SurgeTreeOptions options;
            options.least_chance = surges[i].least_chance;
            auto tree = surge_tree(m_surge, surges[i].initial, options, m_cancel);
            surges[i].leaves = tree ? std::move(*tree) : std::vector<SurgeLeaf>{{{}, 1.0}};
        });
        std::vector<std::vector<Chain>> out(roots.size());
        for (std::size_t r = 0; r < roots.size() && !m_cancel.cancelled(); ++r) {
            for (const auto& c : slow[r]) {
                if (!surges_on(c)) {
                    out[r].push_back(c);
                    continue;
                }
                for (const auto& leaf : surges[index.at(initial(c))].leaves) {
                    auto all = c.steps;
                    all.insert(all.end(), leaf.damage.begin(), leaf.damage.end());
                    out[r].push_back({std::move(all), c.chance * leaf.chance});
                }
            }
            if (m_board.mains) continue;
            reach_the_driver(out[r]);
            blow_input_fuse(out[r]);
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
                const double here = std::min(c.chance, 1 - kModelDoubt);
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

    // Boards fed with low voltage, where no surge is run: a switch that has lost its gate puts the input on the pin that drives it.
    void reach_the_driver(std::vector<Chain>& chains) {
        if (m_roles.controller < 0) return;
        const auto& controller = m_board.part(m_roles.controller);
        const std::size_t count = chains.size();
        for (std::size_t k = 0; k < count; ++k) {
            double ohms = -1; // between the gate and a driving pin
            for (const auto& step : chains[k].steps) {
                const auto& part = m_board.part(step.fault.part);
                if (part.kind != PartKind::Mosfet || step.fault.mode != FaultMode::Short || part.net("G") < 0) continue;
                for (const char* pin : {"DRV", "DRB"}) {
                    const NetId driver = controller.net(pin);
                    if (driver == part.net("G")) ohms = 0;
                    for (int d : m_roles.drive_path) {
                        const auto& between = m_board.part(d);
                        const auto n = nominal_value(between);
                        const bool joins = is_resistor_like(between.kind) &&
                                           (between.pins[0].id == driver || between.pins[1].id == driver) &&
                                           (between.pins[0].id == part.net("G") || between.pins[1].id == part.net("G"));
                        if (driver >= 0 && joins && n && n->ohms) ohms = *n->ohms;
                    }
                }
            }
            if (ohms < 0) continue;
            const double amps = input_volts() / (ohms + kGateOhms);
            const double chance = std::min(exceedance(amps / kDriverAmps, kDriverSigma), 1 - kModelDoubt);
            Chain more{chains[k].steps, chains[k].chance * chance};
            more.steps.push_back({{m_roles.controller, FaultMode::OutputShort, {}}, Cause::PinCurrent, amps, kDriverAmps, 0});
            chains[k].chance *= 1 - chance;
            chains.push_back(std::move(more));
        }
    }

    // Boards fed with low voltage: what shorts the input takes the fuse that stands before it.
    void blow_input_fuse(std::vector<Chain>& chains) {
        const std::size_t count = chains.size();
        for (std::size_t k = 0; k < count; ++k) {
            if (m_behaviour.judge(Scenario{chains[k].steps, 0}).running != Running::BlowsFuse) continue;
            for (int i : m_roles.input_fuses) {
                const double amps = input_volts() / kInputOhms, limit = kFuseMeltsAbove * *nominal_value(m_board.part(i))->amps;
                const double chance = kStiffInput * std::min(exceedance(amps / limit, kInputSigma), 1 - kModelDoubt);
                Chain blown{chains[k].steps, chains[k].chance * chance};
                blown.steps.push_back({{i, FaultMode::Open, {}}, Cause::Overcurrent, amps, limit, 0});
                chains[k].chance *= 1 - chance;
                chains.push_back(std::move(blown));
            }
        }
    }

    // What the input capacitors were chosen for, with the usual margin.
    double input_volts() const {
        double least = 0;
        for (const auto& part : m_board.parts) {
            const auto nominal = nominal_value(part);
            const bool entry = part.stage == "filter" || part.stage == "mains-in" || (part.stage == "smooth" && m_roles.switches.empty());
            if (is_wet_or_solid_electrolytic(part.kind) && entry && nominal && nominal->volts && (least == 0 || *nominal->volts < least))
                least = *nominal->volts;
        }
        return least > 0 ? least / kRatingMargin : 12;
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

} // namespace

Result<ScenarioSet> enumerate_scenarios(const Board& board, const BoardRoles& roles, const FaultLibrary& library,
                                        const std::set<std::string>& history, const EnumerateOptions& options, const CancelToken& cancel) {
    const auto roots = root_faults(board, library, history, place_stresses(board, roles, history, cancel));
    double total = 0;
    for (const auto& r : roots) total += r.weight;
    ScenarioSet set;
    set.reserve = library.reserve;
    const double budget = 1 - library.reserve;
    std::vector<Fault> faults;
    std::vector<double> priors;
    for (const auto& r : roots) {
        faults.push_back(r.fault);
        priors.push_back(budget * (1 - library.good_supply) * r.weight / total);
    }
    Enumerator enumerator(board, roles, history, options.least_leaf, cancel);
    auto chains = enumerator.chains(faults, priors);
    if (cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
    set.further = FurtherFaults(enumerator.fed_hard());
    std::vector<Base> bases = {{{}, budget * library.good_supply, {}}};
    for (std::size_t r = 0; r < roots.size(); ++r) {
        set.further.add(faults[r], library.second_fault * roots[r].weight / total, chains[r]);
        for (auto& chain : chains[r]) {
            Beside beside = set.further.beside(board, chain.steps);
            bases.push_back({std::move(chain.steps), priors[r] * chain.chance, std::move(beside)});
        }
    }
    set.further.sort();
    const auto& extras = set.further.all();

    // Leaves room for the extras of each base: without normalising, the masses of all subsets would sum to more than one.
    const auto odds_beside = [&](const Base& base, std::size_t e) { return set.further.odds(board, base.beside, extras[e]); };
    std::priority_queue<Entry> queue;
    for (std::size_t b = 0; b < bases.size(); ++b) {
        double spread = 1;
        for (std::size_t e = 0; e < extras.size() && !bases[b].steps.empty(); ++e) spread *= 1 + odds_beside(bases[b], e);
        queue.push({bases[b].prior / spread, b, {}});
    }

    std::map<std::vector<Fault>, std::size_t> known;
    while (!queue.empty() && static_cast<int>(set.scenarios.size()) < options.most && set.mass < options.mass * budget) {
        if (cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        const Entry entry = queue.top();
        queue.pop();
        const Base& base = bases[entry.base];
        const auto factor = [&](std::size_t e) { return odds_beside(base, e); };
        bool valid = true;
        std::set<int> used;
        for (std::size_t e : entry.extras) valid = valid && factor(e) > 0 && used.insert(extras[e].first().part).second;
        if (valid) {
            Scenario scenario{base.steps, entry.prior};
            const auto broken = scenario.faults();
            for (std::size_t e : entry.extras) add_further(board, broken, extras[e], scenario);
            tell_in_order(board, scenario);
            const auto key = scenario.key();
            set.mass += entry.prior;
            const auto [at, fresh] = known.try_emplace(key, set.scenarios.size());
            if (fresh)
                set.scenarios.push_back(std::move(scenario));
            else
                set.scenarios[at->second].prior += entry.prior;
        }
        if (base.steps.empty() || entry.extras.size() > 2) continue;
        const std::size_t next = entry.extras.empty() ? 0 : entry.extras.back() + 1;
        if (next >= extras.size()) continue;
        // Excluded extras are stepped over with their plain odds, so that the order of the heap stays right.
        Entry more = entry;
        more.extras.push_back(next);
        more.prior = entry.prior * std::max(factor(next), extras[next].odds);
        queue.push(more);
        if (!entry.extras.empty()) {
            Entry swapped = entry;
            swapped.extras.back() = next;
            swapped.prior = entry.prior / std::max(factor(entry.extras.back()), extras[entry.extras.back()].odds) *
                            std::max(factor(next), extras[next].odds);
            queue.push(swapped);
        }
    }
    std::stable_sort(set.scenarios.begin(), set.scenarios.end(), [](const Scenario& a, const Scenario& b) { return a.prior > b.prior; });
    return set;
}

} // namespace ohmo
