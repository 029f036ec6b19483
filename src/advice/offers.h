// SPDX-License-Identifier: GPL-3.0-or-later
// What may be done at the bench now, with what each would tell. Internal to the next reading.
#pragma once
#include "advice/forecasts.h"
#include "advice/next_reading.h"

#include <optional>
#include <set>
#include <tuple>
#include <vector>

namespace ohmo {

/// Collects acts about what is asked, weighed by the belief: roughly with the likeliest states, what comes out best again with all of them.
class Offers {
public:
    static constexpr double kSame = 3; ///< deviations within which a reading says the same

    /// `asked`: by part, whether it is to be decided; empty: all are.
    Offers(const Inquiry& about, std::vector<char> asked, CancelToken cancel);

    /// Asks anew of these parts, without anything collected so far. `least_mode`: as for Forecasts.
    void ask(std::vector<char> of, double least_mode = Forecasts::kLeastMode);
    /// Drops what was collected so far; asks of the same parts.
    void clear();
    /// From now on down to smaller doubts and less news, by this factor; any doubt is then worth lifting a part.
    void lower_the_least(double factor);
    /// All that tells something of what is asked.
    void gather();

    /// The readings in place that tell of a part. `to_lift`: out for it, with the minutes that takes.
    void offer_places(int part, const BoardState& state, double minutes, const std::vector<int>& to_lift);
    /// The readings that a part out of circuit is judged by.
    void offer_alone(int part, bool routine);
    /// What no story explains is touched again before anything else is believed of it.
    void offer_again();
    /// A reading that fits the story as soon as a part that counts as out is taken to be in: one leg may still touch.
    void offer_assurance();

    /// What shorts hides its neighbours, and comes out anyway.
    struct TakenOut {
        BoardState state;
        std::vector<int> parts, to_lift; ///< those that short; what of them is in its place now
        double minutes = 0;
    };
    TakenOut shorted_taken_out(double least) const;

    bool may_lift(int part) const;
    /// It is out, or doubtful enough for that.
    bool worth_lifting(const PartBelief& b) const;
    const Observation* reading_of(int entry) const; ///< null: none
    double bits_of(const Query& query);             ///< on what is asked
    static double bits_of(const std::vector<Case>& cases);

    std::vector<NextAct>& acts() { return m_acts; }
    Forecasts& forecasts() { return *m_forecasts; }

private:
    // How often this was read, the board as it is now; and whether it may be read again: once more, where the leading story says otherwise.
    struct Taken {
        int times = 0;
        bool again = false;
    };
    Taken taken(const Query& query) const;
    bool doubted(const PartBelief& b) const;
    bool doubt_on(int island) const;
    bool fits_with(const Observation& o, int part);
    double minutes_to_lift(int part) const;
    double doubt_bits() const;
    void offer(Act act, const Query& query, int part, double minutes, std::vector<int> to_lift = {});
    void offer_in_circuit();
    void offer_pulls();
    void offer_lifted();
    void refine();

    const Board& m_board;
    const Practice& m_p;
    const Inquiry& m_about;
    const Assessment& m_assessment;
    const Evidence& m_evidence;
    CancelToken m_cancel;
    std::vector<char> m_asked; ///< by part; empty: all
    double m_least_doubt, m_least_lifted, m_least_bits;
    std::optional<Forecasts> m_forecasts;
    int m_four_wires = -1; ///< a meter that resolves milliohms, if the bench has one
    std::vector<NextAct> m_acts;
    std::set<std::tuple<Quantity, NetId, NetId, int, std::vector<char>, std::vector<char>>> m_offered;
};

} // namespace ohmo
