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
#include <optional>
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
    case StressKind::PinI2t:
        return Cause::PinI2t;
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
        branch({});
        if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        double sum = 0;
        for (const auto& leaf : m_leaves) sum += leaf.chance;
        for (auto& leaf : m_leaves) leaf.chance /= sum;
        return std::move(m_leaves);
    }

private:
    // How a surge has gone so far.
    struct Way {
        std::vector<SurgeEvent> events;
        std::vector<Step> damage;
        std::set<Fault> survivors;     // that did not come about
        std::map<Fault, double> stood; // multiples of their median limit that parts are known to have taken
        double chance = 1;

        // What has broken already keeps the stress it had until then.
        bool decided(const Stress& s) const {
            return survivors.contains(s.becomes) ||
                   std::any_of(events.begin(), events.end(), [&](const SurgeEvent& e) { return e.fault == s.becomes; });
        }
        double stood_by(const Stress& s) const {
            const auto known = stood.find(s.becomes);
            return known == stood.end() ? 0 : known->second;
        }
        // The same with `s` broken. What was over its limit before the last event would have broken there: it breaks now.
        Way broken(const Stress& s, double how_likely) const {
            Way out = *this;
            const double at = std::max(s.reached_at, events.empty() ? 0.0 : events.back().at);
            out.events.push_back({at, s.becomes});
            std::erase_if(out.damage, [&](const Step& d) { return d.fault.part == s.becomes.part && d.fault.mode == FaultMode::DsShort; });
            out.damage.push_back({s.becomes, cause_of(s.kind), s.value, s.limit, at});
            out.chance = how_likely;
            return out;
        }
    };

    double doubt() const { return m_board.board().practice().model_doubt; }

    void branch(Way way) {
        if (m_cancel.cancelled()) return;
        const auto stresses = run(way);
        if (!stresses) return leaf(std::move(way));
        for (std::size_t k = 0; k < stresses->size(); ++k) {
            const Stress& s = (*stresses)[k];
            if (way.decided(s)) continue;
            const double breaks = std::min(breaks_after(s, way.stood_by(s)), 1 - doubt());
            const bool both = std::min(breaks, 1 - breaks) * way.chance >= m_options.least_chance;
            if (!both && breaks < 0.5) continue;
            if (const Stress* rival = nearest_rival(way, *stresses, k)) race(way, s, *rival);
            branch(way.broken(s, both ? way.chance * breaks : way.chance));
            if (!both) return;
            way.survivors.insert(s.becomes);
            way.chance *= 1 - breaks;
        }
        leaf(std::move(way));
    }

    // Those over their limit first, in the order of reaching it, then the others by falling stress. Empty when nothing more is run.
    std::optional<std::vector<Stress>> run(const Way& way) {
        if (++m_runs > m_options.most_runs) return std::nullopt;
        const auto run = m_board.run(m_initial, way.events, {}, m_cancel);
        if (!run) return std::nullopt;
        auto stresses = run->stresses;
        std::sort(stresses.begin(), stresses.end(), [](const Stress& a, const Stress& b) {
            const bool ra = a.ratio() >= 1, rb = b.ratio() >= 1;
            if (ra != rb) return ra;
            if (ra) return a.reached_at < b.reached_at;
            return a.ratio() > b.ratio();
        });
        return stresses;
    }

    // Only what opens can save the part, and only the nearest rival is asked. Null without one.
    const Stress* nearest_rival(const Way& way, const std::vector<Stress>& stresses, std::size_t k) const {
        if (!gathers(stresses[k])) return nullptr;
        const auto rival = std::find_if(stresses.begin() + static_cast<long>(k) + 1, stresses.end(), [&](const Stress& other) {
            return gathers(other) && other.becomes.mode == FaultMode::Open && other.ratio() >= 1 && !way.stood.contains(other.becomes) &&
                   !way.decided(other);
        });
        return rival == stresses.end() ? nullptr : &*rival;
    }

    // The rival goes first with this chance; that chance is taken off `way`.
    void race(Way& way, const Stress& s, const Stress& rival) {
        const double first = overtakes(rival, s) * (1 - doubt());
        if (first * way.chance < m_options.least_chance) return;
        Way other = way;
        other.stood[s.becomes] = s.ratio() / rival.ratio();
        branch(other.broken(rival, way.chance * first));
        way.chance *= 1 - first;
    }

    void leaf(Way way) {
        if (way.chance > 1e-9) m_leaves.push_back({std::move(way.damage), way.chance});
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
