// SPDX-License-Identifier: GPL-3.0-or-later
// Faults of their own beside a story: two things that broke apart from each other. Each brings the ways it goes on.
#pragma once
#include "board/board.h"
#include "damage/blast.h"
#include "damage/scenario.h"

#include <map>
#include <set>
#include <vector>

namespace ohmo {

/// One way a fault goes on, its consequences included.
struct Chain {
    std::vector<Step> steps; ///< the fault itself first
    double chance;           ///< given that fault
};

/// A further fault with one of its chains.
struct Further {
    double odds; ///< of the fault and this chain
    double chance;
    std::vector<Step> steps; ///< the first one independent
    const Fault& first() const { return steps.front().fault; }
};

/// What the odds of a further fault depend on.
struct Beside {
    std::set<int> parts;         ///< those of the story
    std::map<int, Blast> blasts; ///< parts that something bursting there reaches
    bool dry = false;            ///< it began with a wet capacitor that dried out
    bool hard = false;           ///< a short that the source feeds: whatever the sums say, a bridge leg may have gone with it
    bool open = false;           ///< the way in has opened; while it has not, an old fuse may have gone with less than the sums say
    bool dead = false;           ///< its only fault is a part in the way in that opened: without power nothing shorts afterwards
};

class FurtherFaults {
public:
    FurtherFaults() = default;
    /// `fed`: by part, whether a short of it draws hard on the source.
    explicit FurtherFaults(std::vector<char> fed) : m_fed(std::move(fed)) {}

    void add(const Fault& fault, double odds, const std::vector<Chain>& chains);
    void sort(); ///< likeliest first; after the last add()

    const std::vector<Further>& all() const { return m_all; }
    /// Odds of the fault alone, whatever it leads to; nothing known: 0.
    double odds(const Fault& fault) const;
    const std::map<Fault, double>& by_fault() const { return m_odds; }

    Beside beside(const Board& board, const std::vector<Step>& story) const;
    /// Odds of `more` beside a story; 0 where its part has failed already.
    double odds(const Board& board, const Beside& beside, const Further& more) const;

private:
    std::vector<char> m_fed;
    std::vector<Further> m_all;
    std::map<Fault, double> m_odds;
};

/// Adds what `more` breaks that was whole until then. `broken`: what may have hurt its first part.
void add_further(const Board& board, const std::vector<Fault>& broken, const Further& more, Scenario& scenario);

/// The story with consequences that it says did not come about: one of its faults gone on further than it did here. The prior changes by
/// the ratio of the chances of the two ways.
std::vector<Scenario> gone_on_otherwise(const FurtherFaults& further, const Scenario& story);

} // namespace ohmo
