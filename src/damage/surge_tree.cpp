// SPDX-License-Identifier: GPL-3.0-or-later
// Method: run the surge with everything left unbreakable but the faults so far; of the parts whose limit is in doubt take the one that
// reaches its limit first; with the chance that its limit (log-normal) lies below the stress it breaks there and the surge is run again
// with that event, with the rest of the chance it survives and the next part of the same run is asked. Opened parts thus change what the
// others have to take. Where one of the two ways is too unlikely to be told apart, the likelier one takes its chance. Two that gather heat
// in one surge, a fuse and a resistor before it, race: the later one by its median limit gives way first with the chance that its limit, as
// a share of what it gets, is the lower one, their shares growing in proportion; the other is known then to have stood what it got so far.
#include "damage/surge_tree.h"

#include "base/statistics.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace ohmo {
namespace {

Cause cause_of(StressKind kind) {
    switch (kind) {
    case StressKind::FuseI2t:
        return Cause::FuseI2t;
    case StressKind::PulseEnergy:
        return Cause::PulseEnergy;
    case StressKind::SurgeI2t:
        return Cause::SurgeI2t;
    case StressKind::GateVolts:
        return Cause::GateVolts;
    case StressKind::PinCurrent:
        return Cause::PinCurrent;
    case StressKind::CapacitorVolts:
        return Cause::CapacitorVolts;
    }
    return Cause::Root;
}

bool gathers(const Stress& s) {
    return s.kind == StressKind::FuseI2t || s.kind == StressKind::PulseEnergy || s.kind == StressKind::SurgeI2t;
}

// Chance that a stress exceeds a limit which is known to lie above `stood` times its median.
double breaks_after(const Stress& s, double stood) {
    const double whole = 1 - exceedance(stood, s.sigma_ln), left = 1 - exceedance(std::max(s.ratio(), stood), s.sigma_ln);
    return whole > 1e-9 ? 1 - left / whole : 0;
}

// Chance that `later` gives way before `sooner`.
double overtakes(const Stress& later, const Stress& sooner) {
    return exceedance(std::min(1.0, later.ratio() / sooner.ratio()), std::hypot(later.sigma_ln, sooner.sigma_ln));
}

class Tree {
public:
    Tree(const SurgeBoard& board, const std::vector<Fault>& initial, const SurgeTreeOptions& options, const CancelToken& cancel)
        : m_board(board), m_initial(initial), m_options(options), m_cancel(cancel) {}

    Result<std::vector<SurgeLeaf>> grow() {
        branch({}, {}, {}, {}, 1.0);
        if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        double sum = 0;
        for (const auto& leaf : m_leaves) sum += leaf.chance;
        for (auto& leaf : m_leaves) leaf.chance /= sum;
        return std::move(m_leaves);
    }

private:
    // `stood`: multiples of their median limit that parts are known to have taken.
    void branch(const std::vector<SurgeEvent>& events, std::vector<Step> damage, std::set<Fault> survivors, std::map<Fault, double> stood,
                double chance) {
        if (m_cancel.cancelled()) return;
        if (++m_runs > m_options.most_runs) return leaf(std::move(damage), chance);
        const auto run = m_board.run(m_initial, events, {}, m_cancel);
        if (!run) return leaf(std::move(damage), chance);
        auto stresses = run->stresses;
        std::sort(stresses.begin(), stresses.end(), [](const Stress& a, const Stress& b) {
            const bool ra = a.ratio() >= 1, rb = b.ratio() >= 1;
            if (ra != rb) return ra;
            if (ra) return a.reached_at < b.reached_at;
            return a.ratio() > b.ratio();
        });
        const double since = events.empty() ? 0.0 : events.back().at;
        // What has broken already keeps the stress it had until then.
        const auto out_of_it = [&](const Stress& s) {
            return survivors.contains(s.becomes) ||
                   std::any_of(events.begin(), events.end(), [&](const SurgeEvent& e) { return e.fault == s.becomes; });
        };
        const auto goes_on = [&](const Stress& s, std::map<Fault, double> known, double how_likely) {
            auto more_events = events;
            // What was over its limit before the last event would have broken there: it breaks now.
            const double at = std::max(s.reached_at, since);
            more_events.push_back({at, s.becomes});
            auto more_damage = damage;
            std::erase_if(more_damage, [&](const Step& d) { return d.fault.part == s.becomes.part && d.fault.mode == FaultMode::DsShort; });
            more_damage.push_back({s.becomes, cause_of(s.kind), s.value, s.limit, at});
            branch(more_events, std::move(more_damage), survivors, std::move(known), how_likely);
        };
        for (std::size_t k = 0; k < stresses.size(); ++k) {
            const Stress& s = stresses[k];
            if (out_of_it(s)) continue;
            const auto known = stood.find(s.becomes);
            const double breaks = std::min(breaks_after(s, known == stood.end() ? 0 : known->second), 1 - kModelDoubt);
            const bool both = std::min(breaks, 1 - breaks) * chance >= m_options.least_chance;
            if (!both && breaks < 0.5) continue;
            // Only what opens can save it, and only the nearest rival is asked.
            const auto rival = std::find_if(stresses.begin() + static_cast<long>(k) + 1, stresses.end(), [&](const Stress& other) {
                return gathers(other) && other.becomes.mode == FaultMode::Open && other.ratio() >= 1 && !stood.contains(other.becomes) &&
                       !out_of_it(other);
            });
            if (gathers(s) && rival != stresses.end()) {
                const double first = overtakes(*rival, s) * (1 - kModelDoubt);
                if (first * chance >= m_options.least_chance) {
                    auto more = stood;
                    more[s.becomes] = s.ratio() / rival->ratio();
                    goes_on(*rival, std::move(more), chance * first);
                    chance *= 1 - first;
                }
            }
            goes_on(s, stood, both ? chance * breaks : chance);
            if (!both) return;
            survivors.insert(s.becomes);
            chance *= 1 - breaks;
        }
        leaf(std::move(damage), chance);
    }

    void leaf(std::vector<Step> damage, double chance) {
        if (chance > 1e-9) m_leaves.push_back({std::move(damage), chance});
    }

    const SurgeBoard& m_board;
    const std::vector<Fault>& m_initial;
    const SurgeTreeOptions& m_options;
    const CancelToken& m_cancel;
    std::vector<SurgeLeaf> m_leaves;
    int m_runs = 0;
};

} // namespace

Result<std::vector<SurgeLeaf>> surge_tree(const SurgeBoard& board, const std::vector<Fault>& initial, const SurgeTreeOptions& options,
                                          const CancelToken& cancel) {
    return Tree(board, initial, options, cancel).grow();
}

} // namespace ohmo
