// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/last_questions.h"

#include "advice/choice.h"
#include "advice/unread.h"
#include "damage/telling.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>
#include <set>
#include <utility>

namespace ohmo {
namespace {

using Why = NextAct::Why;

constexpr double kMoves = 0.02;    // of what moves a reading most
constexpr double kHardly = 1e-6;   // of a mode that no story has: what a reading would show if it were there all the same
constexpr std::size_t kBehind = 6; // parts read themselves because a reading speaks against the story

double chance_outside(const Outcome& outcome, double low, double high) {
    const auto above = [&](double y) { return 0.5 * std::erfc((y - outcome.y) / (outcome.spread * std::numbers::sqrt2)); };
    return 1 - above(low) + above(high);
}

// Bits of a chance, and no fewer for more than an even one: a weighted chance may be beyond it.
double bits_of_chance(double p) { return entropy(std::min(p, 0.5)); }

} // namespace

LastQuestions::LastQuestions(const Inquiry& about, Offers& offers)
    : m_board(about.board), m_p(about.board.practice()), m_assessment(about.assessment), m_evidence(about.evidence), m_offers(offers),
      m_acts(offers.acts()) {}

bool LastQuestions::ask() {
    m_offers.clear();
    return question_the_story() || question_the_condemned() || question_the_bent() || question_what_was_hidden() || question_what_blew() ||
           question_the_complaint() || prove_protectors() || read_to_the_end() || sweep();
}

// A reading that does not fit is taken again; where it says the same it speaks against the story. What counts as out may still touch;
// what the story blames by readings in circuit alone is read itself, and at last whatever moves that reading. False: nothing is left.
bool LastQuestions::question_the_story() {
    if (m_assessment.contradicted_by.empty()) return false;
    m_offers.offer_again();
    m_offers.offer_assurance();
    if (!m_acts.empty()) return true;
    const auto unread = [&](const PartBelief& b) {
        return b.proof != Proof::Own && m_offers.may_lift(b.part) && !m_evidence.renewed.contains(b.part);
    };
    for (const auto& b : m_assessment.parts)
        if (b.bad >= m_p.open_below && unread(b)) m_offers.offer_alone(b.part, true);
    if (!m_acts.empty()) return true;
    for (int part : behind_contradictions())
        if (unread(m_assessment.of(part))) m_offers.offer_alone(part, true);
    return !m_acts.empty();
}

// What is to be replaced because the story has it so, while little that was seen or read speaks against the part itself, or nothing but a
// look that misleads now and then, is read once, in its place or on its way out. False: there is no such part.
bool LastQuestions::question_the_condemned() {
    std::vector<NextAct> telling;
    for (const auto& b : m_assessment.parts) {
        if (b.bad < m_p.open_below) break;
        if (b.readable < m_p.open_below || m_evidence.renewed.contains(b.part)) continue;
        if (b.spoken < m_p.speaks_itself || only_looks_bad(m_p, m_evidence, b))
            read_itself(b.part, m_offers.may_lift(b.part), telling);
        else if (b.leading.mode == FaultMode::Short && b.proof != Proof::Own && m_offers.may_lift(b.part) &&
                 shares_its_place(m_board, m_assessment, m_evidence, b.part)) {
            m_acts.clear();
            m_offers.offer_alone(b.part, false);
            for (auto& act : m_acts)
                if (bits_on(b.part, act.query) >= m_p.telling_share * entropy(m_p.story_alone)) telling.push_back(std::move(act));
        }
    }
    for (auto& act : telling) act.why = Why::Condemned;
    m_acts = std::move(telling);
    return !m_acts.empty();
}

// What the story takes for sound, but so far off its value as such parts hardly are, is read itself: it may be the board that differs,
// or another part that has no story. False: there is no such part.
bool LastQuestions::question_the_bent() {
    m_acts.clear();
    for (const auto& l : m_assessment.bent)
        if (m_offers.may_lift(l.part) && !m_evidence.renewed.contains(l.part)) m_offers.offer_alone(l.part, true);
    std::erase_if(m_acts, [&](const NextAct& act) {
        return std::none_of(m_assessment.bent.begin(), m_assessment.bent.end(), [&](const Learned& l) {
            const Quantity told = l.what == "farads" ? Quantity::Farads : l.what == "ESR" ? Quantity::Esr : Quantity::Ohms;
            return l.part == act.part && told == act.query.what;
        });
    });
    for (auto& act : m_acts) {
        act.why = Why::Differs;
        act.bits = std::max(act.bits, m_p.telling_share * entropy(m_p.story_alone)); // the belief has no doubt of it: that is what is asked
    }
    return !m_acts.empty();
}

// A short hides whatever is shorted or leaks across it. With all of them out, which they will be anyway, the place of each is read: one
// reading for all that lies there. False: none is left.
bool LastQuestions::question_what_was_hidden() {
    m_acts.clear();
    const auto without = m_offers.shorted_taken_out(m_p.open_below);
    if (without.parts.empty()) return false;
    m_offers.ask({});
    std::vector<NextAct> telling;
    for (int part : without.parts) {
        if (read_without(m_board, m_evidence, part)) continue;
        m_acts.clear();
        m_offers.offer_places(part, without.state, without.minutes, without.to_lift);
        for (auto& act : m_acts) {
            const double hidden = act.query.what == Quantity::Ohms ? another(m_offers.forecasts().cases(act.query)).chance : 0;
            if (hidden < m_p.hidden_short) continue;
            act.bits = bits_of_chance(hidden);
            act.why = Why::Hid;
            act.because_of = part;
            telling.push_back(std::move(act));
        }
    }
    m_acts = std::move(telling);
    return !m_acts.empty();
}

// That this reading says otherwise than it would if only what is to be replaced were bad.
LastQuestions::Another LastQuestions::another(const std::vector<Case>& cases) const {
    Another out;
    if (cases.empty()) return out;
    const Outcome& leading = cases.front().outcome;
    for (const auto& c : cases) {
        bool more = false, conducts = false;
        for (const auto& f : c.faults)
            if (m_assessment.of(f.part).bad < m_p.open_below) {
                more = true;
                conducts = conducts || conducts_wrongly(f.mode) || f.mode == FaultMode::Leaky;
            }
        if (!more) continue;
        const double seen =
            c.outcome.p * chance_outside(c.outcome, leading.y - Offers::kSame * leading.spread, leading.y + Offers::kSame * leading.spread);
        out.chance += seen;
        if (conducts) out.conducting += seen;
    }
    return out;
}

// What is open is to be replaced, and nothing that is shorted with it: each part whose short may have opened it is read across its own
// pins. False: there is none that was not.
bool LastQuestions::question_what_blew() {
    const auto suspects = may_have_blown(m_board, m_assessment, m_evidence);
    if (suspects.empty()) return false;
    std::vector<int> parts;
    for (const auto& [part, opened] : suspects) parts.push_back(part);
    read_each(parts, kHardly, true);
    for (auto& act : m_acts) {
        act.why = Why::Blew;
        act.because_of = suspects.at(act.part);
    }
    return !m_acts.empty();
}

// What is to be replaced hardly accounts for what the unit was brought in for: each part that would is read across its own pins,
// where it stands: nothing is taken out for so slight a chance. False: there is none that was not.
bool LastQuestions::question_the_complaint() {
    const auto suspects = would_account(m_board, m_assessment, m_evidence);
    if (suspects.empty()) return false;
    read_each(suspects, kHardly, false);
    for (auto& act : m_acts) act.why = Why::Complaint;
    return !m_acts.empty();
}

// A fuse that nobody has read since the unit came in: seldom the last thing that is wrong, and half a minute. With the parts before and
// behind it where that is one reading. False: none is left.
bool LastQuestions::prove_protectors() {
    std::vector<int> protectors;
    for (const auto& b : m_assessment.parts) {
        const auto kind = m_board.part(b.part).kind;
        if ((kind != PartKind::Fuse && kind != PartKind::FusibleResistor) || b.readable <= m_p.open_protector || b.bad >= m_p.open_below ||
            m_evidence.state.is_lifted(b.part) || m_evidence.renewed.contains(b.part))
            continue;
        protectors.push_back(b.part);
    }
    if (protectors.empty()) return false;
    read_each(protectors, m_p.protector_mode * m_p.open_protector, false);
    return !m_acts.empty();
}

// A bridge or transistor that was taken out and read between two of its pins tells nothing of the others: each pair is read before it goes
// back. And a rectifier that blocks a diode test may still leak some kilohms: it is read in ohms too. False: none is left.
bool LastQuestions::read_to_the_end() {
    std::vector<NextAct> telling;
    bool asked = false;
    for (const auto& b : m_assessment.parts) {
        const auto kind = m_board.part(b.part).kind;
        const bool rectifier = is_diode_like(kind);
        if ((kind != PartKind::Bridge && !is_switch_device(kind) && !rectifier) || b.bad >= m_p.open_below ||
            !m_evidence.state.is_lifted(b.part) || m_evidence.renewed.contains(b.part))
            continue;
        std::set<std::pair<NetId, NetId>> read;
        bool any = false;
        for (const auto& o : m_evidence.observations)
            if (o.kind == Seen::Reading && o.query.alone == b.part) {
                any = true;
                if (!rectifier || o.query.what == Quantity::Ohms) read.insert(std::minmax(o.query.red, o.query.black));
            }
        if (!any || (rectifier && !read.empty())) continue;
        if (!std::exchange(asked, true)) m_offers.ask({}, kHardly); // forecasts are made where something is out only
        m_acts.clear();
        m_offers.offer_alone(b.part, false);
        best_first(m_acts);
        for (auto& act : m_acts) {
            if (rectifier && act.query.what != Quantity::Ohms) continue;
            if (!read.insert(std::minmax(act.query.red, act.query.black)).second) continue;
            act.why = Why::GoesBack;
            act.bits = bits_on(b.part, act.query);
            telling.push_back(std::move(act));
        }
    }
    m_acts = std::move(telling);
    return !m_acts.empty();
}

// What counts as good is swept over, many parts a reading, as long as one reading may well show what nobody asked for: a reading that
// clears ten parts of which each is hardly bad is worth more than one that clears the likeliest. What conducts where it should not weighs
// more: it would take new parts along. False: none may.
bool LastQuestions::sweep() {
    std::vector<char> asked(m_board.parts.size(), 0);
    for (const auto& b : m_assessment.parts)
        asked[static_cast<std::size_t>(b.part)] = b.bad < m_p.open_below && !m_evidence.renewed.contains(b.part) ? 1 : 0;
    const double least = m_p.sweep_chance / m_p.missed_conductor;
    m_offers.ask(std::move(asked), m_p.swept_mode * least);
    for (const auto& b : m_assessment.parts)
        if (b.readable > m_p.swept_part * least && b.bad < m_p.open_below && !m_evidence.state.is_lifted(b.part))
            m_offers.offer_places(b.part, m_evidence.state, 0, {});
    std::erase_if(m_acts, [&](NextAct& act) {
        const auto seen = another(m_offers.forecasts().cases(act.query));
        const double costs = seen.chance + (m_p.missed_conductor - 1) * seen.conducting;
        if (costs < m_p.sweep_chance) return true;
        act.bits = bits_of_chance(seen.chance);
        act.weight = bits_of_chance(costs) / act.bits;
        act.why = Why::Sweeps;
        return false;
    });
    return !m_acts.empty();
}

// Asks of these parts alone; for each the readings that tell of it, as the acts.
void LastQuestions::read_each(const std::vector<int>& parts, double least_mode, bool lifted_too) {
    std::vector<char> asked(m_board.parts.size(), 0);
    for (int part : parts) asked[static_cast<std::size_t>(part)] = 1;
    m_offers.ask(std::move(asked), least_mode);
    std::vector<NextAct> telling;
    for (int part : parts) read_itself(part, lifted_too && m_offers.may_lift(part), telling);
    m_acts = std::move(telling);
}

// The readings that tell of this part whether it is bad: in its place, and on its way out if it may go. Uses `m_acts`.
void LastQuestions::read_itself(int part, bool lifted_too, std::vector<NextAct>& telling) {
    m_acts.clear();
    if (!m_evidence.state.is_lifted(part)) m_offers.offer_places(part, m_evidence.state, 0, {});
    if (lifted_too) m_offers.offer_alone(part, false);
    const double least =
        m_p.telling_share * entropy(m_p.story_alone) * (m_board.part(part).kind == PartKind::Bridge ? m_p.telling_of_leg : 1);
    for (auto& act : m_acts) {
        act.bits = bits_on(part, act.query);
        if (act.bits >= least) telling.push_back(std::move(act));
    }
}

// On whether this part is bad, were it sound as often as stories alone are wrong.
double LastQuestions::bits_on(int part, const Query& query) {
    std::array<double, 2> sum{};
    std::vector<Outcome> outcomes;
    for (auto& c : m_offers.forecasts().cases(query)) {
        c.outcome.story = std::any_of(c.faults.begin(), c.faults.end(), [&](const Fault& f) { return f.part == part; }) ? 1 : 0;
        sum[static_cast<std::size_t>(c.outcome.story)] += c.outcome.p;
        outcomes.push_back(c.outcome);
    }
    if (sum[0] <= 0 || sum[1] <= 0) return 0;
    for (auto& o : outcomes) o.p *= (o.story == 0 ? m_p.story_alone : 1 - m_p.story_alone) / sum[static_cast<std::size_t>(o.story)];
    return reading_information(std::move(outcomes));
}

// The parts that move what speaks against the story, most of all first.
std::vector<int> LastQuestions::behind_contradictions() {
    std::map<int, double> moved;
    for (int entry : m_assessment.contradicted_by)
        if (const auto* o = m_offers.reading_of(entry))
            for (const auto& [part, variance] : m_offers.forecasts().variances(o->query)) moved[part] = std::max(moved[part], variance);
    std::vector<std::pair<double, int>> order;
    for (const auto& [part, variance] : moved) order.emplace_back(-variance, part);
    std::sort(order.begin(), order.end());
    std::vector<int> out;
    for (const auto& [variance, part] : order)
        if (out.size() < kBehind && variance <= kMoves * kMoves * order.front().first) out.push_back(part);
    return out;
}

} // namespace ohmo
