// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that may be done now is weighed by its expected information (advice/outcomes) per minute of practice.
#include "advice/next_reading.h"

#include "advice/bands.h"
#include "advice/choice.h"
#include "advice/last_questions.h"
#include "advice/tracing.h"
#include "advice/unread.h"
#include "advice/word_acts.h"
#include "board/open_ends.h"

#include <algorithm>

namespace ohmo {
namespace {

constexpr std::size_t kOffered = 12, kTracedFor = 12;
constexpr double kLastResort = 0.2; // of what is otherwise worth a reading
constexpr double kSpare = 0.5;      // of the risk that may be left: readings seldom clear a part altogether

// What is to be decided: the open parts, or where none is and something is still unexplained, all.
std::vector<char> asked_parts(const Board& board, const std::vector<int>& open) {
    std::vector<char> out;
    if (!open.empty()) out.resize(board.parts.size(), 0);
    for (int part : open) out[static_cast<std::size_t>(part)] = 1;
    return out;
}

class Planner {
public:
    Planner(const Inquiry& about, const CancelToken& cancel)
        : m_about(about), m_p(about.board.practice()), m_cancel(cancel), m_open(open_parts(about.assessment, m_p)),
          m_offers(about, asked_parts(about.board, m_open), cancel) {}

    Result<NextAdvice> run() {
        NextAdvice out;
        out.open = m_open;
        out.trace = missing_link(m_about.assessment, m_about.evidence);
        const bool half = half_traced(m_about.board);
        out.settled = out.open.empty() && explained() && !half;
        if (out.settled && LastQuestions(m_about, m_offers).ask()) {
            if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
            out.settled = false;
            best_first(m_offers.acts());
            take_the_best(out);
            return out;
        }
        if (out.settled && !m_about.assessment.contradicted_by.empty()) {
            out.settled = false;
            out.reason = StopReason::Contradicted;
            return out;
        }
        if (out.settled) return enough(std::move(out));
        m_offers.gather();
        if (m_offers.acts().empty() && !explained() && !m_cancel.cancelled()) last_resort({});
        if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        if (m_offers.acts().empty() && !half)
            LastQuestions(m_about, m_offers).ask(); // nothing tells of what is open; that is no reason to leave the rest unasked
        if (m_offers.acts().empty()) offer_routine(out.open);
        if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        if (m_offers.acts().empty() && explained() && !half && m_about.assessment.contradicted_by.empty() && only_slight(out.open)) {
            out.settled = true;
            out.open.clear();
            return enough(std::move(out));
        }
        best_first(m_offers.acts());
        std::vector<NextAct> reads; // whatever comes before them
        for (const auto& act : m_offers.acts())
            if (act.act == Act::Read && act.query.alone < 0 && reads.size() < kTracedFor) reads.push_back(act);
        take_the_best(out);
        Forecasts of_all(m_about.board, *m_about.assessment.belief,
                         m_about.evidence); // an assumption is worth settling whichever part it hides
        if (!out.trace.missing) out.trace = worth_tracing(m_about.board, m_about.assessment, m_about.evidence, reads, of_all);
        if (out.acts.empty()) {
            const bool contradicted = !m_about.assessment.contradicted_by.empty();
            out.stop = !half && !contradicted;
            out.reason = half ? StopReason::NotTraced : contradicted ? StopReason::Contradicted : StopReason::NothingTells;
        }
        return out;
    }

private:
    bool explained() const { return m_about.assessment.unexplained <= m_p.most_unexplained && m_about.assessment.open_complaints.empty(); }

    // What is open is so unlikely that it stays where it is.
    bool only_slight(const std::vector<int>& open) const {
        return std::all_of(open.begin(), open.end(), [&](int part) { return m_about.assessment.of(part).bad <= m_p.worth_lifting; });
    }

    NextAdvice enough(NextAdvice out) {
        out.stop = true;
        out.reason = StopReason::Settled;
        if (m_about.evidence.live_allowed) return with_words(std::move(out));
        if (m_about.assessment.harm > m_p.most_left) before_power(out);
        return out;
    }

    // Asks anew of these parts, of all where none are named, and down to smaller doubts: where nothing that is left tells what is open and
    // something that was seen is still unexplained, any part may be it, however good it looked.
    void last_resort(std::vector<char> asked) {
        m_offers.lower_the_least(kLastResort);
        m_offers.ask(std::move(asked));
        m_offers.gather();
    }

    void take_the_best(NextAdvice& out) {
        keep_a_choice(m_offers.acts(), kOffered);
        for (auto& act : m_offers.acts()) {
            if (act.act == Act::Read || act.act == Act::Pull)
                act.bands =
                    bands_of(act.query.what, m_offers.forecasts().cases(act.query), m_offers.forecasts().healthy(act.query), act.bits);
            out.acts.push_back(std::move(act));
        }
    }

    // The replacement list stands; what is left of the danger is in parts that it does not name.
    void before_power(NextAdvice& out) {
        std::vector<const PartBelief*> carriers;
        double left = 0;
        for (const auto& b : m_about.assessment.parts) {
            if (b.bad >= m_p.open_below || b.harm <= 0 || m_about.evidence.renewed.contains(b.part)) continue;
            carriers.push_back(&b);
            left += b.harm;
        }
        std::stable_sort(carriers.begin(), carriers.end(), [](const PartBelief* a, const PartBelief* b) { return a->harm > b->harm; });
        std::vector<char> asked(m_about.board.parts.size(), 0);
        for (const auto* b : carriers) {
            if (left <= kSpare * m_p.most_left) break;
            asked[static_cast<std::size_t>(b->part)] = 1;
            left -= b->harm;
        }
        if (std::none_of(asked.begin(), asked.end(), [](char c) { return c != 0; })) return;
        last_resort(std::move(asked));
        best_first(m_offers.acts());
        take_the_best(out);
        if (!out.acts.empty()) out.reason = StopReason::RiskLeft;
    }

    NextAdvice with_words(NextAdvice out) {
        out.acts = word_acts(m_about.board, m_about.library, m_about.assessment, m_about.evidence, m_p.least_bits);
        std::erase_if(out.acts, [](const NextAct& a) { return a.act == Act::Look; });
        if (out.acts.size() > kOffered) out.acts.resize(kOffered);
        out.stop = out.acts.empty();
        if (!out.stop) out.reason = StopReason::None;
        return out;
    }

    // Nothing promises much and something is open: out of circuit, part by part, best first, as far as it is worth that.
    void offer_routine(const std::vector<int>& open) {
        for (int part : open)
            if (m_offers.worth_lifting(m_about.assessment.of(part))) m_offers.offer_alone(part, true);
    }

    const Inquiry& m_about;
    const Practice& m_p;
    CancelToken m_cancel;
    std::vector<int> m_open;
    Offers m_offers;
};

} // namespace

Result<NextAdvice> next_acts(const Inquiry& about, const CancelToken& cancel) { return Planner(about, cancel).run(); }

} // namespace ohmo
