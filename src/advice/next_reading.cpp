// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that may be done now is weighed by its expected information (advice/outcomes) per minute of practice: roughly with the
// likeliest states, what comes out best again with all of them.
#include "advice/next_reading.h"

#include "advice/bands.h"
#include "advice/choice.h"
#include "advice/forecasts.h"
#include "advice/places.h"
#include "advice/tracing.h"
#include "advice/unread.h"
#include "advice/word_acts.h"
#include "belief/axis.h"
#include "board/open_ends.h"
#include "damage/telling.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>
#include <tuple>

namespace ohmo {
namespace {

constexpr std::size_t kRefined = 24, kOffered = 12, kTracedFor = 12;
constexpr double kLastResort = 0.2;                  // of what is otherwise worth a reading
constexpr double kSpare = 0.5;                       // of the risk that may be left: readings seldom clear a part altogether
constexpr double kFits = 3;                          // deviations: the reading is that of a part still in its place
constexpr double kMoves = 0.02;                      // of what moves a reading most
constexpr double kTells = 0.5;                       // of a doubt: the reading is about it
constexpr double kOfProtector = 0.25;                // of that doubt in one mode
constexpr double kSweptPart = 0.3, kSweptMode = 0.1; // of what a sweep may show, that a part or one of its modes must add
constexpr std::size_t kBehind = 6;                   // parts read themselves because a reading speaks against the story

class Planner {
public:
    Planner(const Inquiry& about, const CancelToken& cancel)
        : m_board(about.board), m_p(about.board.practice()), m_about(about), m_assessment(about.assessment), m_evidence(about.evidence),
          m_cancel(cancel), m_open(open_parts(m_assessment, m_p)), m_asked(asked_parts()), m_least_doubt(m_p.worth_reading),
          m_least_bits(m_p.least_bits) {
        m_forecasts.emplace(m_board, *about.assessment.belief, m_evidence, m_asked);
        for (std::size_t m = 0; m < m_evidence.meters.size(); ++m)
            if (m_evidence.meters[m].residue < m_p.four_wire_residue &&
                (m_four_wires < 0 || m_evidence.meters[m].residue < m_evidence.meters[static_cast<std::size_t>(m_four_wires)].residue))
                m_four_wires = static_cast<int>(m);
    }

    Result<NextAdvice> run() {
        NextAdvice out;
        out.open = m_open;
        out.trace = missing_link(m_assessment, m_evidence);
        const bool half = half_traced(m_board);
        out.settled = out.open.empty() && explained() && !half;
        if (out.settled && last_questions()) {
            if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
            out.settled = false;
            best_first(m_acts);
            take_the_best(out);
            return out;
        }
        if (out.settled && !m_assessment.contradicted_by.empty()) {
            out.settled = false;
            out.reason = StopReason::Contradicted;
            return out;
        }
        if (out.settled) {
            out.stop = true;
            out.reason = StopReason::Settled;
            if (m_evidence.live_allowed) return with_words(std::move(out));
            if (m_assessment.harm > m_p.most_left) before_power(out);
            return out;
        }
        gather();
        if (m_acts.empty() && !explained() && !m_cancel.cancelled()) last_resort({});
        if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        if (m_acts.empty()) offer_routine(out.open);
        if (m_acts.empty() && !half) last_questions(); // nothing tells of what is open; that is no reason to leave the rest unasked
        if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        best_first(m_acts);
        std::vector<NextAct> reads; // whatever comes before them
        for (const auto& act : m_acts)
            if (act.act == Act::Read && act.query.alone < 0 && reads.size() < kTracedFor) reads.push_back(act);
        take_the_best(out);
        Forecasts of_all(m_board, *m_assessment.belief, m_evidence); // an assumption is worth settling whichever part it hides
        if (!out.trace.missing) out.trace = worth_tracing(m_board, m_assessment, m_evidence, reads, of_all);
        if (out.acts.empty()) {
            const bool contradicted = !m_assessment.contradicted_by.empty();
            out.stop = !half && !contradicted;
            out.reason = half ? StopReason::NotTraced : contradicted ? StopReason::Contradicted : StopReason::NothingTells;
        }
        return out;
    }

private:
    // All that tells something of what is asked.
    void gather() {
        offer_in_circuit();
        refine();
        offer_lifted();
        offer_again();
        offer_assurance();
        for (auto& act : word_acts(m_board, m_about.library, m_assessment, m_evidence, m_least_bits)) m_acts.push_back(std::move(act));
        std::erase_if(m_acts, [&](const NextAct& act) { return act.bits < m_least_bits; });
    }

    // What is asked before it is enough, one after the other. False: nothing is left to ask.
    bool last_questions() {
        m_offered.clear();
        return question_the_story() || question_the_condemned() || question_the_bent() || question_what_was_hidden() ||
               question_what_blew() || prove_protectors() || sweep();
    }

    bool explained() const { return m_assessment.unexplained <= m_p.most_unexplained && m_assessment.open_complaints.empty(); }

    // Asks anew of these parts, of all where none are named, and down to smaller doubts: where nothing that is left tells what is open and
    // something that was seen is still unexplained, any part may be it, however good it looked.
    void last_resort(std::vector<char> asked) {
        m_asked = std::move(asked);
        m_offered.clear();
        m_least_doubt *= kLastResort;
        m_least_bits *= kLastResort;
        m_forecasts.emplace(m_board, *m_assessment.belief, m_evidence, m_asked);
        gather();
    }

    void take_the_best(NextAdvice& out) {
        keep_a_choice(m_acts, kOffered);
        for (auto& act : m_acts) {
            if (act.act == Act::Read || act.act == Act::Pull)
                act.bands = bands_of(act.query.what, m_forecasts->cases(act.query), m_forecasts->healthy(act.query), act.bits);
            out.acts.push_back(std::move(act));
        }
    }

    // The replacement list stands; what is left of the danger is in parts that it does not name.
    void before_power(NextAdvice& out) {
        std::vector<const PartBelief*> carriers;
        double left = 0;
        for (const auto& b : m_assessment.parts) {
            if (b.bad >= m_p.open_below || b.harm <= 0 || m_evidence.renewed.contains(b.part)) continue;
            carriers.push_back(&b);
            left += b.harm;
        }
        std::stable_sort(carriers.begin(), carriers.end(), [](const PartBelief* a, const PartBelief* b) { return a->harm > b->harm; });
        std::vector<char> asked(m_board.parts.size(), 0);
        for (const auto* b : carriers) {
            if (left <= kSpare * m_p.most_left) break;
            asked[static_cast<std::size_t>(b->part)] = 1;
            left -= b->harm;
        }
        if (std::none_of(asked.begin(), asked.end(), [](char c) { return c != 0; })) return;
        last_resort(std::move(asked));
        best_first(m_acts);
        take_the_best(out);
        if (!out.acts.empty()) out.reason = StopReason::RiskLeft;
    }

    // What is to be decided: the open parts, or where none is and something is still unexplained, all.
    std::vector<char> asked_parts() const {
        std::vector<char> out;
        if (!m_open.empty()) out.resize(m_board.parts.size(), 0);
        for (int part : m_open) out[static_cast<std::size_t>(part)] = 1;
        return out;
    }

    NextAdvice with_words(NextAdvice out) {
        out.acts = word_acts(m_board, m_about.library, m_assessment, m_evidence, m_p.least_bits);
        std::erase_if(out.acts, [](const NextAct& a) { return a.act == Act::Look; });
        if (out.acts.size() > kOffered) out.acts.resize(kOffered);
        out.stop = out.acts.empty();
        if (!out.stop) out.reason = StopReason::None;
        return out;
    }

    bool doubted(const PartBelief& b) const { return b.readable > m_least_doubt && b.bad < 1 - m_least_doubt; }

    // How often this was read, the board as it is now; and whether it may be read again: once more, where the leading story says otherwise.
    struct Taken {
        int times = 0;
        bool again = false;
    };
    Taken taken(const Query& query) const {
        Taken out;
        for (const auto& o : m_evidence.observations) {
            if (o.kind != Seen::Reading || !(o.query == query) || !of_one_time(o, m_evidence)) continue;
            const auto& by = m_assessment.contradicted_by;
            out.again = out.times == 0 && std::find(by.begin(), by.end(), o.entry) != by.end();
            ++out.times;
        }
        return out;
    }

    static bool symmetric(Quantity what) { return what == Quantity::Farads || what == Quantity::Esr; }

    void offer(Act act, const Query& query, int part, double minutes, std::vector<int> to_lift = {}) {
        if (m_cancel.cancelled() || query.red < 0 || query.black < 0 || query.red == query.black) return;
        if (!m_offered.insert({query.what, query.red, query.black, query.meter, query.state.lifted, query.state.pulled}).second) return;
        if (symmetric(query.what) &&
            m_offered.contains({query.what, query.black, query.red, query.meter, query.state.lifted, query.state.pulled}))
            return;
        Query turned = query;
        std::swap(turned.red, turned.black);
        if (taken(query).times > 0 || (symmetric(query.what) && taken(turned).times > 0)) return;
        auto outcomes = m_forecasts->roughly(query);
        NextAct out{.act = act,
                    .query = query,
                    .part = part,
                    .to_lift = std::move(to_lift),
                    .minutes = minutes + (part >= 0 ? minutes_to_find(m_board, part) : 0)};
        const double low = query.what == Quantity::Ohms ? m_forecasts->chance_below(outcomes, m_p.four_wire_ohms) : 0;
        out.bits = reading_information(std::move(outcomes));
        if (query.alone < 0 && query.what == Quantity::Ohms) out.through = m_about.roles.ways.between(query.red, query.black);
        out.four_wires = m_four_wires > 0 && query.meter == m_four_wires;
        m_acts.push_back(out);
        if (m_four_wires > 0 && query.meter == 0 && act == Act::Read && low > m_p.four_wire_chance) {
            Query fine = query;
            fine.meter = m_four_wires;
            offer(act, fine, part, minutes + m_p.minutes_four_wires, out.to_lift);
        }
    }

    static double bits_of(const std::vector<Case>& cases) {
        std::vector<Outcome> outcomes;
        for (const auto& c : cases) outcomes.push_back(c.outcome);
        return reading_information(std::move(outcomes));
    }
    double bits_of(const Query& query) { return bits_of(m_forecasts->cases(query)); }

    // The best of the rough pass, and all that only a part on the leads could answer, with every state.
    void refine() {
        best_first(m_acts);
        std::vector<NextAct> kept;
        std::set<std::tuple<int, Quantity, bool>> leaf_seen;
        for (std::size_t k = 0; k < m_acts.size(); ++k) {
            const auto& q = m_acts[k].query;
            const SeriesWays& ways = m_about.roles.ways;
            const bool from_outside = ways.inside(q.red) != q.red || ways.inside(q.black) != q.black;
            const bool first_of_part = m_acts[k].part >= 0 && leaf_seen.insert({m_acts[k].part, q.what, from_outside}).second &&
                                       doubted(m_assessment.of(m_acts[k].part));
            if (k < kRefined || first_of_part) kept.push_back(std::move(m_acts[k]));
        }
        for (auto& act : kept) act.bits = bits_of(act.query);
        m_acts = std::move(kept);
    }

    void offer_in_circuit() {
        const BoardState& now = m_evidence.state;
        for (const auto& b : m_assessment.parts)
            if (doubted(b) && !m_evidence.state.is_lifted(b.part)) offer_places(b.part, now, 0, {});
        const TakenOut without = shorted_taken_out(m_p.comes_out);
        if (!without.to_lift.empty())
            for (const auto& b : m_assessment.parts)
                if (doubted(b) && !without.state.is_lifted(b.part)) offer_places(b.part, without.state, without.minutes, without.to_lift);
        offer_pulls();
    }

    // What shorts hides its neighbours, and comes out anyway.
    struct TakenOut {
        BoardState state;
        std::vector<int> parts, to_lift; ///< those that short; what of them is in its place now
        double minutes = 0;
    };
    TakenOut shorted_taken_out(double least) const {
        TakenOut out{m_evidence.state, {}, {}};
        for (const auto& b : m_assessment.parts) {
            if (b.bad < least) break;
            const auto kind = m_board.part(b.part).kind;
            if (!conducts_wrongly(b.leading.mode) || m_evidence.renewed.contains(b.part) || is_controller(kind) ||
                kind == PartKind::Transformer)
                continue;
            out.parts.push_back(b.part);
            if (out.state.is_lifted(b.part)) continue;
            out.state.lifted.resize(m_board.parts.size(), 0);
            out.state.lifted[static_cast<std::size_t>(b.part)] = 1;
            out.to_lift.push_back(b.part);
            out.minutes += minutes_to_lift(b.part);
        }
        return out;
    }

    double minutes_to_lift(int part) const { return m_board.part(part).pins.size() > 2 ? m_p.minutes_lift_many : m_p.minutes_lift; }

    void offer_places(int i, const BoardState& state, double minutes, const std::vector<int>& to_lift) {
        const SeriesWays& ways = m_about.roles.ways;
        for (const auto& r : readings_in_place(m_board, m_about.roles, i)) {
            offer(Act::Read, {r.what, r.red, r.black, -1, state, 0}, i, minutes + r.minutes, to_lift);
            const NetId red = ways.outside(r.red), black = ways.outside(r.black); // the same with both leads outside a connector
            if (red != r.red && black != r.black) offer(Act::Read, {r.what, red, black, -1, state, 0}, i, minutes + r.minutes, to_lift);
        }
        for (const auto& way : ways.all())
            if (std::find(way.parts.begin(), way.parts.end(), i) != way.parts.end())
                offer(Act::Read, {Quantity::Ohms, way.from, way.to, -1, state, 0}, i, minutes + m_p.minutes_read, to_lift);
    }

    // Which side of a connector holds what loads a rail.
    void offer_pulls() {
        const auto& model = m_assessment.belief->model();
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            const Part& part = m_board.part(i);
            if (part.kind != PartKind::Connector || part.stage == "mains-in" || m_evidence.state.is_pulled(i) ||
                m_evidence.state.is_lifted(i))
                continue;
            BoardState pulled = m_evidence.state;
            pulled.pulled.resize(m_board.parts.size(), 0);
            pulled.pulled[static_cast<std::size_t>(i)] = 1;
            const auto pairs = part.pairs();
            for (std::size_t a = 0; a < pairs.size(); ++a)
                for (std::size_t b = a + 1; b < pairs.size(); ++b)
                    for (const auto& [x, y] :
                         {std::pair(pairs[a].first->id, pairs[b].first->id), std::pair(pairs[a].second->id, pairs[b].second->id)}) {
                        if (x < 0 || y < 0 ||
                            model.home[static_cast<std::size_t>(x)].first != model.home[static_cast<std::size_t>(y)].first ||
                            !doubt_on(model.home[static_cast<std::size_t>(x)].first))
                            continue;
                        for (const auto& [red, black] : {std::pair(x, y), std::pair(y, x)})
                            offer(Act::Pull, {Quantity::Ohms, red, black, -1, pulled, 0}, i, m_p.minutes_pull + m_p.minutes_read);
                    }
        }
    }

    bool doubt_on(int island) const {
        const auto& units = m_assessment.belief->model().islands[static_cast<std::size_t>(island)].units;
        return std::any_of(units.begin(), units.end(), [&](int u) {
            const double fine = m_assessment.belief->mode(u, 0);
            return fine > m_p.worth_reading && fine < 1 - m_p.worth_reading;
        });
    }

    // The readings that a part out of circuit is judged by.
    void offer_alone(int i, bool routine) {
        const bool out = m_evidence.state.is_lifted(i);
        const double effort = (out ? 0 : minutes_to_lift(i)) + minutes_to_find(m_board, i);
        for (const auto& r : readings_alone(m_board, m_about.roles, i)) {
            const Query q{r.what, r.red, r.black, i, m_evidence.state, 0};
            if (m_cancel.cancelled() || read_alone(m_evidence, q)) continue;
            m_acts.push_back({.act = Act::Read,
                              .query = q,
                              .part = i,
                              .to_lift = out ? std::vector<int>{} : std::vector<int>{i},
                              .bits = bits_of(q),
                              .minutes = r.minutes + effort,
                              .routine = routine});
        }
    }

    bool may_lift(int part) const {
        const auto kind = m_board.part(part).kind;
        return kind != PartKind::Transformer && kind != PartKind::Load && !m_evidence.absent.contains(part);
    }

    void offer_lifted() {
        for (const auto& b : m_assessment.parts)
            if (doubted(b) && may_lift(b.part) && (m_asked.empty() || m_asked[static_cast<std::size_t>(b.part)] != 0))
                offer_alone(b.part, false);
    }

    // What no story explains is touched again before anything else is believed of it.
    void offer_again() {
        for (const auto& o : m_evidence.observations) {
            if (o.kind != Seen::Reading || !taken(o.query).again || o.query.state.lifted != m_evidence.state.lifted ||
                o.query.state.pulled != m_evidence.state.pulled)
                continue;
            m_acts.push_back(
                {.act = Act::Read, .query = o.query, .part = o.part, .bits = doubt_bits(), .minutes = m_p.minutes_read, .again = true});
        }
    }

    const Observation* reading_of(int entry) const {
        for (const auto& o : m_evidence.observations)
            if (o.kind == Seen::Reading && o.entry == entry) return &o;
        return nullptr;
    }

    // A reading that fits the story as soon as a part that counts as out is taken to be in: one leg may still touch.
    void offer_assurance() {
        std::set<int> asked = m_evidence.assured;
        for (int entry : m_assessment.contradicted_by) {
            const auto* o = reading_of(entry);
            if (o == nullptr || taken(o->query).again) continue; // the touch comes first
            for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
                if (!(o->query.state.is_lifted(i) && m_evidence.state.is_lifted(i)) &&
                    !(o->query.state.is_pulled(i) && m_evidence.state.is_pulled(i)))
                    continue;
                if (m_evidence.absent.contains(i) || asked.contains(i) || !fits_with(*o, i)) continue;
                asked.insert(i);
                m_acts.push_back(
                    {.act = Act::Assure, .query = o->query, .part = i, .bits = doubt_bits(), .minutes = m_p.minutes_look, .again = true});
            }
        }
    }

    bool fits_with(const Observation& o, int part) {
        Query in_place = o.query;
        in_place.alone = -1;
        for (auto* out : {&in_place.state.lifted, &in_place.state.pulled})
            if (static_cast<std::size_t>(part) < out->size()) (*out)[static_cast<std::size_t>(part)] = 0;
        const auto shown =
            belief::touched(m_p, o.query.what, {o.value, o.over}, false, m_evidence.meters[static_cast<std::size_t>(o.query.meter)]);
        const auto leading = m_forecasts->leading(in_place);
        return leading && std::fabs(leading->y - shown.y) < kFits * leading->spread;
    }

    // A reading that does not fit is taken again; where it says the same it speaks against the story. What counts as out may still touch;
    // what the story blames by readings in circuit alone is read itself, and at last whatever moves that reading. False: nothing is left.
    bool question_the_story() {
        if (m_assessment.contradicted_by.empty()) return false;
        offer_again();
        offer_assurance();
        if (!m_acts.empty()) return true;
        const auto unread = [&](const PartBelief& b) {
            return b.proof != Proof::Own && may_lift(b.part) && !m_evidence.renewed.contains(b.part);
        };
        for (const auto& b : m_assessment.parts)
            if (b.bad >= m_p.open_below && unread(b)) offer_alone(b.part, true);
        if (!m_acts.empty()) return true;
        for (int part : behind_contradictions())
            if (unread(m_assessment.of(part))) offer_alone(part, true);
        return !m_acts.empty();
    }

    // What is to be replaced because the story has it so, while little that was seen or read speaks against the part itself, is read once,
    // in its place or on its way out: a story is less sure than its sums. False: there is no such part.
    bool question_the_condemned() {
        std::vector<NextAct> telling;
        for (const auto& b : m_assessment.parts) {
            if (b.bad < m_p.open_below) break;
            if (b.readable < m_p.open_below || m_evidence.renewed.contains(b.part)) continue;
            if (b.spoken < m_p.speaks_itself)
                read_itself(b.part, may_lift(b.part), telling);
            else if (b.leading.mode == FaultMode::Short && b.proof != Proof::Own && may_lift(b.part) &&
                     shares_its_place(m_board, m_assessment, m_evidence, b.part)) {
                m_acts.clear();
                offer_alone(b.part, false);
                for (auto& act : m_acts)
                    if (bits_on(b.part, act.query) >= kTells * entropy(m_p.story_alone)) telling.push_back(std::move(act));
            }
        }
        for (auto& act : telling) act.confirms = true;
        m_acts = std::move(telling);
        return !m_acts.empty();
    }

    // What the story takes for sound, but so far off its value as such parts hardly are, is read itself: it may be the board that differs,
    // or another part that has no story. False: there is no such part.
    bool question_the_bent() {
        m_acts.clear();
        for (const auto& l : m_assessment.bent)
            if (may_lift(l.part) && !m_evidence.renewed.contains(l.part)) offer_alone(l.part, true);
        std::erase_if(m_acts, [&](const NextAct& act) {
            return std::none_of(m_assessment.bent.begin(), m_assessment.bent.end(), [&](const Learned& l) {
                const Quantity told = l.what == "farads" ? Quantity::Farads : l.what == "ESR" ? Quantity::Esr : Quantity::Ohms;
                return l.part == act.part && told == act.query.what;
            });
        });
        for (auto& act : m_acts) act.differs = true;
        return !m_acts.empty();
    }

    // A short hides whatever is shorted or leaks across it. With all of them out, which they will be anyway, the place of each is read: one
    // reading for all that lies there. False: none is left.
    bool question_what_was_hidden() {
        m_acts.clear();
        const TakenOut without = shorted_taken_out(m_p.open_below);
        if (without.parts.empty()) return false;
        m_offered.clear();
        m_forecasts.emplace(m_board, *m_assessment.belief, m_evidence);
        std::vector<NextAct> telling;
        for (int part : without.parts) {
            if (read_without(m_board, m_evidence, part)) continue;
            m_acts.clear();
            offer_places(part, without.state, without.minutes, without.to_lift);
            for (auto& act : m_acts) {
                const double hidden = act.query.what == Quantity::Ohms ? may_show_another(m_forecasts->cases(act.query)) : 0;
                if (hidden < m_p.hidden_short) continue;
                act.bits = entropy(std::min(hidden, 0.5));
                act.hid = part;
                telling.push_back(std::move(act));
            }
        }
        m_acts = std::move(telling);
        return !m_acts.empty();
    }

    // Chance that this reading says otherwise than it would if only what is to be replaced were bad.
    double may_show_another(const std::vector<Case>& cases) const {
        if (cases.empty()) return 0;
        const Outcome& leading = cases.front().outcome;
        double out = 0;
        for (const auto& c : cases) {
            const bool another =
                std::any_of(c.faults.begin(), c.faults.end(), [&](const Fault& f) { return m_assessment.of(f.part).bad < m_p.open_below; });
            if (another && std::fabs(c.outcome.y - leading.y) > kFits * std::hypot(c.outcome.spread, leading.spread)) out += c.outcome.p;
        }
        return out;
    }

    // What is open is to be replaced, and nothing that is shorted with it: each part whose short may have opened it is read across its own
    // pins. False: there is none that was not.
    bool question_what_blew() {
        std::vector<NextAct> telling;
        for (const auto& [part, opened] : may_have_blown(m_board, m_assessment, m_evidence)) {
            const std::size_t before = telling.size();
            read_itself(part, may_lift(part), telling);
            for (std::size_t i = before; i < telling.size(); ++i) telling[i].blew = opened;
        }
        m_acts = std::move(telling);
        return !m_acts.empty();
    }

    // A fuse that nobody has read since the unit came in: seldom the last thing that is wrong, and half a minute. With the parts before and
    // behind it where that is one reading. False: none is left.
    bool prove_protectors() {
        std::vector<char> asked(m_board.parts.size(), 0);
        std::vector<int> protectors;
        for (const auto& b : m_assessment.parts) {
            const auto kind = m_board.part(b.part).kind;
            if ((kind != PartKind::Fuse && kind != PartKind::FusibleResistor) || b.readable <= m_p.open_protector ||
                b.bad >= m_p.open_below || m_evidence.state.is_lifted(b.part) || m_evidence.renewed.contains(b.part))
                continue;
            asked[static_cast<std::size_t>(b.part)] = 1;
            protectors.push_back(b.part);
        }
        if (protectors.empty()) return false;
        m_forecasts.emplace(m_board, *m_assessment.belief, m_evidence, std::move(asked), kOfProtector * m_p.open_protector);
        std::vector<NextAct> telling;
        for (int part : protectors) read_itself(part, false, telling);
        m_acts = std::move(telling);
        return !m_acts.empty();
    }

    // What counts as good is swept over, many parts a reading, as long as one reading may well show what nobody asked for: a reading that
    // clears ten parts of which each is hardly bad is worth more than one that clears the likeliest. False: none may.
    bool sweep() {
        std::vector<char> asked(m_board.parts.size(), 0);
        for (const auto& b : m_assessment.parts)
            asked[static_cast<std::size_t>(b.part)] = b.bad < m_p.open_below && !m_evidence.renewed.contains(b.part) ? 1 : 0;
        m_acts.clear();
        m_offered.clear();
        m_forecasts.emplace(m_board, *m_assessment.belief, m_evidence, std::move(asked), kSweptMode * m_p.sweep_chance);
        for (const auto& b : m_assessment.parts)
            if (b.readable > kSweptPart * m_p.sweep_chance && b.bad < m_p.open_below && !m_evidence.state.is_lifted(b.part))
                offer_places(b.part, m_evidence.state, 0, {});
        std::erase_if(m_acts, [&](NextAct& act) {
            const auto cases = m_forecasts->cases(act.query);
            if (may_show_another(cases) < m_p.sweep_chance) return true;
            act.bits = bits_of(cases);
            act.sweeps = true;
            return false;
        });
        return !m_acts.empty();
    }

    // The readings that tell of this part whether it is bad: in its place, and on its way out if it may go. Uses `m_acts`.
    void read_itself(int part, bool lifted_too, std::vector<NextAct>& telling) {
        m_acts.clear();
        if (!m_evidence.state.is_lifted(part)) offer_places(part, m_evidence.state, 0, {});
        if (lifted_too) offer_alone(part, false);
        for (auto& act : m_acts) {
            act.bits = bits_on(part, act.query);
            if (act.bits >= kTells * entropy(m_p.story_alone)) telling.push_back(std::move(act));
        }
    }

    // On whether this part is bad, were it sound as often as stories alone are wrong.
    double bits_on(int part, const Query& query) {
        std::array<double, 2> sum{};
        std::vector<Outcome> outcomes;
        for (auto& c : m_forecasts->cases(query)) {
            c.outcome.story = std::any_of(c.faults.begin(), c.faults.end(), [&](const Fault& f) { return f.part == part; }) ? 1 : 0;
            sum[static_cast<std::size_t>(c.outcome.story)] += c.outcome.p;
            outcomes.push_back(c.outcome);
        }
        if (sum[0] <= 0 || sum[1] <= 0) return 0;
        for (auto& o : outcomes) o.p *= (o.story == 0 ? m_p.story_alone : 1 - m_p.story_alone) / sum[static_cast<std::size_t>(o.story)];
        return reading_information(std::move(outcomes));
    }

    // The parts that move what speaks against the story, most of all first.
    std::vector<int> behind_contradictions() {
        std::map<int, double> moved;
        for (int entry : m_assessment.contradicted_by)
            if (const auto* o = reading_of(entry))
                for (const auto& [part, variance] : m_forecasts->variances(o->query)) moved[part] = std::max(moved[part], variance);
        std::vector<std::pair<double, int>> order;
        for (const auto& [part, variance] : moved) order.emplace_back(-variance, part);
        std::sort(order.begin(), order.end());
        std::vector<int> out;
        for (const auto& [variance, part] : order)
            if (out.size() < kBehind && variance <= kMoves * kMoves * order.front().first) out.push_back(part);
        return out;
    }

    static double entropy(double p) { return -p * std::log2(p) - (1 - p) * std::log2(1 - p); } // bits
    double doubt_bits() const { return entropy(std::clamp(m_assessment.unexplained, 0.02, 0.5)); }

    // Nothing promises much and something is open: out of circuit, part by part, best first.
    void offer_routine(const std::vector<int>& open) {
        for (int part : open)
            if (may_lift(part)) offer_alone(part, true);
    }

    const Board& m_board;
    const Practice& m_p;
    const Inquiry& m_about;
    const Assessment& m_assessment;
    const Evidence& m_evidence;
    CancelToken m_cancel;
    std::vector<int> m_open;
    std::vector<char> m_asked; ///< by part; empty: all
    double m_least_doubt, m_least_bits;
    std::optional<Forecasts> m_forecasts;
    int m_four_wires = -1; ///< a meter that resolves milliohms, if the bench has one
    std::vector<NextAct> m_acts;
    std::set<std::tuple<Quantity, NetId, NetId, int, std::vector<char>, std::vector<char>>> m_offered;
};

} // namespace

Result<NextAdvice> next_acts(const Inquiry& about, const CancelToken& cancel) { return Planner(about, cancel).run(); }

} // namespace ohmo
