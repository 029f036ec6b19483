// SPDX-License-Identifier: GPL-3.0-or-later
// Odds are common practice, no source.
#include "damage/further.h"

#include "damage/telling.h"

#include <algorithm>

namespace ohmo {
namespace {

constexpr double kLeastOdds = 1e-7; // of a further fault with its chain

bool has(const std::vector<Step>& steps, int part) {
    return std::any_of(steps.begin(), steps.end(), [&](const Step& s) { return s.fault.part == part; });
}

// Whether all faults of one list are in the other.
bool goes_on(const std::vector<Step>& steps, const std::vector<Step>& from) {
    return std::all_of(from.begin(), from.end(), [&](const Step& s) {
        return std::any_of(steps.begin(), steps.end(), [&](const Step& t) { return t.fault == s.fault; });
    });
}

} // namespace

void FurtherFaults::add(const Fault& fault, double odds, const std::vector<Chain>& chains) {
    m_odds[fault] = odds;
    for (const auto& chain : chains) {
        if (odds * chain.chance < kLeastOdds) continue;
        m_all.push_back({odds * chain.chance, chain.chance, chain.steps});
        m_all.back().steps.front().cause = Cause::Independent;
    }
}

void FurtherFaults::sort() {
    std::stable_sort(m_all.begin(), m_all.end(), [](const Further& a, const Further& b) { return a.odds > b.odds; });
}

double FurtherFaults::odds(const Fault& fault) const {
    const auto found = m_odds.find(fault);
    return found == m_odds.end() ? 0 : found->second;
}

Beside FurtherFaults::beside(const Board& board, const std::vector<Step>& story) const {
    Beside out;
    std::vector<Fault> broken;
    for (const auto& s : story) {
        const Fault& f = s.fault;
        const bool opens = f.mode == FaultMode::Open && opens_the_way_in(board.part(f.part));
        out.parts.insert(f.part);
        out.hard = out.hard || (conducts_wrongly(f.mode) && m_fed[static_cast<std::size_t>(f.part)] != 0);
        out.open = out.open || opens;
        out.dead = story.size() == 1 && opens;
        broken.push_back(f);
    }
    out.dry = !story.empty() && story.front().fault.mode == FaultMode::Dry;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (const Blast blast = blast_on(board, broken, i); blast.share > 0) out.blasts[i] = blast;
    return out;
}

double FurtherFaults::odds(const Board& board, const Beside& beside, const Further& more) const {
    const Fault& fault = more.first();
    if (beside.parts.contains(fault.part)) return 0;
    const auto at_least = [&](double odds) { return more.odds * std::max(1.0, odds / m_odds.at(fault)); };
    if (beside.hard && !beside.open && fault.mode == FaultMode::Open && opens_the_way_in(board.part(fault.part)))
        return at_least(board.practice().old_fuse_goes);
    if (beside.hard && fault.mode == FaultMode::Short && board.part(fault.part).kind == PartKind::Bridge)
        return at_least(board.practice().bridge_leg_goes);
    const auto blast = beside.blasts.find(fault.part);
    const bool same_age = beside.dry && fault.mode == FaultMode::Dry, too_late = beside.dead && conducts_wrongly(fault.mode);
    return more.odds * (same_age ? board.practice().same_age_factor : 1) * (too_late ? board.practice().after_dead : 1) *
           (blast == beside.blasts.end() ? 1 : blast_factor(blast->second, board, fault));
}

void add_further(const Board& board, const std::vector<Fault>& broken, const Further& more, Scenario& scenario) {
    const auto there = scenario.steps;
    scenario.steps.push_back(further_step(board, broken, more.first()));
    for (std::size_t k = 1; k < more.steps.size(); ++k)
        if (!has(there, more.steps[k].fault.part)) scenario.steps.push_back(more.steps[k]);
}

std::vector<Scenario> gone_on_otherwise(const FurtherFaults& further, const Scenario& story) {
    std::vector<Scenario> out;
    for (const auto& begun : story.steps) {
        // The way it went here: what it broke is all there. Of several the longest, and of those the likeliest, which come first.
        const Further* here = nullptr;
        for (const auto& way : further.all()) {
            const bool took = way.first() == begun.fault && goes_on(story.steps, way.steps);
            if (took && (here == nullptr || way.steps.size() > here->steps.size())) here = &way;
        }
        if (here == nullptr) continue;
        for (const auto& way : further.all()) {
            if (!(way.first() == begun.fault) || !goes_on(way.steps, here->steps)) continue;
            Scenario other = story;
            other.prior *= way.chance / here->chance;
            for (std::size_t k = 1; k < way.steps.size(); ++k)
                if (!has(story.steps, way.steps[k].fault.part)) other.steps.push_back(way.steps[k]);
            if (other.steps.size() > story.steps.size()) out.push_back(std::move(other));
        }
    }
    return out;
}

} // namespace ohmo
