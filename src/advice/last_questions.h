// SPDX-License-Identifier: GPL-3.0-or-later
// What is asked before it is enough, when everything that is open has been decided. Internal to the next reading.
#pragma once
#include "advice/offers.h"

namespace ohmo {

class LastQuestions {
public:
    LastQuestions(const Inquiry& about, Offers& offers);

    /// The first of them that has anything to ask, as the acts of `offers`. False: nothing is left to ask.
    bool ask();

private:
    bool question_the_story();
    bool question_the_condemned();
    bool question_the_bent();
    bool question_what_was_hidden();
    bool question_what_blew();
    bool question_the_complaint();
    bool prove_protectors();
    bool read_to_the_end();
    bool sweep();
    void read_each(const std::vector<int>& parts, double least_mode, bool lifted_too);
    void read_itself(int part, bool lifted_too, std::vector<NextAct>& telling);
    double bits_on(int part, const Query& query);
    struct Another {
        double chance = 0, conducting = 0; ///< that a reading shows a part which is not to be replaced; one that conducts
    };
    Another another(const std::vector<Case>& cases) const;
    std::vector<int> behind_contradictions();

    const Board& m_board;
    const Practice& m_p;
    const Assessment& m_assessment;
    const Evidence& m_evidence;
    Offers& m_offers;
    std::vector<NextAct>& m_acts; ///< of `m_offers`
};

} // namespace ohmo
