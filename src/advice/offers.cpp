// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/offers.h"

#include "advice/choice.h"
#include "advice/places.h"
#include "advice/tracing.h"
#include "advice/unread.h"
#include "advice/word_acts.h"
#include "belief/axis.h"
#include "damage/telling.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace ohmo {
namespace {

constexpr std::size_t kRefined = 24;

bool symmetric(Quantity what) { return what == Quantity::Farads || what == Quantity::Esr; }

} // namespace

Offers::Offers(const Inquiry& about, std::vector<char> asked, CancelToken cancel)
    : m_board(about.board), m_p(about.board.practice()), m_about(about), m_assessment(about.assessment), m_evidence(about.evidence),
      m_cancel(std::move(cancel)), m_least_doubt(m_p.worth_reading), m_least_lifted(m_p.worth_lifting), m_least_bits(m_p.least_bits) {
    ask(std::move(asked));
    for (std::size_t m = 0; m < m_evidence.meters.size(); ++m)
        if (m_evidence.meters[m].residue < m_p.four_wire_residue &&
            (m_four_wires < 0 || m_evidence.meters[m].residue < m_evidence.meters[static_cast<std::size_t>(m_four_wires)].residue))
            m_four_wires = static_cast<int>(m);
}

void Offers::ask(std::vector<char> of, double least_mode) {
    clear();
    m_asked = std::move(of);
    m_forecasts.emplace(m_board, *m_assessment.belief, m_evidence, m_asked, least_mode);
}

void Offers::clear() {
    m_acts.clear();
    m_offered.clear();
}

void Offers::lower_the_least(double factor) {
    m_least_doubt *= factor;
    m_least_lifted = 0;
    m_least_bits *= factor;
}

void Offers::gather() {
    offer_in_circuit();
    refine();
    offer_lifted();
    offer_again();
    offer_assurance();
    for (auto& act : word_acts(m_board, m_about.library, m_assessment, m_evidence, m_least_bits)) m_acts.push_back(std::move(act));
    std::erase_if(m_acts, [&](const NextAct& act) { return act.bits < m_least_bits; });
}

bool Offers::doubted(const PartBelief& b) const { return b.readable > m_least_doubt && b.bad < 1 - m_least_doubt; }

Offers::Taken Offers::taken(const Query& query) const {
    Taken out;
    for (const auto& o : m_evidence.observations) {
        if (o.kind != Seen::Reading || !(o.query == query) || !of_one_time(o, m_evidence)) continue;
        const auto& by = m_assessment.contradicted_by;
        out.again = out.times == 0 && std::find(by.begin(), by.end(), o.entry) != by.end();
        ++out.times;
    }
    return out;
}

void Offers::offer(Act act, const Query& query, int part, double minutes, std::vector<int> to_lift) {
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

double Offers::bits_of(const std::vector<Case>& cases) {
    std::vector<Outcome> outcomes;
    for (const auto& c : cases) outcomes.push_back(c.outcome);
    return reading_information(std::move(outcomes));
}
double Offers::bits_of(const Query& query) { return bits_of(m_forecasts->cases(query)); }

// The best of the rough pass, and all that only a part on the leads could answer, with every state.
void Offers::refine() {
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

void Offers::offer_in_circuit() {
    const BoardState& now = m_evidence.state;
    for (const auto& b : m_assessment.parts)
        if (doubted(b) && !m_evidence.state.is_lifted(b.part)) offer_places(b.part, now, 0, {});
    const TakenOut without = shorted_taken_out(m_p.comes_out);
    if (!without.to_lift.empty())
        for (const auto& b : m_assessment.parts)
            if (doubted(b) && !without.state.is_lifted(b.part)) offer_places(b.part, without.state, without.minutes, without.to_lift);
    offer_pulls();
}

Offers::TakenOut Offers::shorted_taken_out(double least) const {
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

double Offers::minutes_to_lift(int part) const { return m_board.part(part).pins.size() > 2 ? m_p.minutes_lift_many : m_p.minutes_lift; }

void Offers::offer_places(int i, const BoardState& state, double minutes, const std::vector<int>& to_lift) {
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
void Offers::offer_pulls() {
    const auto& model = m_assessment.belief->model();
    for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
        const Part& part = m_board.part(i);
        if (part.kind != PartKind::Connector || part.stage == "mains-in" || m_evidence.state.is_pulled(i) || m_evidence.state.is_lifted(i))
            continue;
        BoardState pulled = m_evidence.state;
        pulled.pulled.resize(m_board.parts.size(), 0);
        pulled.pulled[static_cast<std::size_t>(i)] = 1;
        const auto pairs = part.pairs();
        for (std::size_t a = 0; a < pairs.size(); ++a)
            for (std::size_t b = a + 1; b < pairs.size(); ++b)
                for (const auto& [x, y] :
                     {std::pair(pairs[a].first->id, pairs[b].first->id), std::pair(pairs[a].second->id, pairs[b].second->id)}) {
                    if (x < 0 || y < 0 || model.home[static_cast<std::size_t>(x)].first != model.home[static_cast<std::size_t>(y)].first ||
                        !doubt_on(model.home[static_cast<std::size_t>(x)].first))
                        continue;
                    for (const auto& [red, black] : {std::pair(x, y), std::pair(y, x)})
                        offer(Act::Pull, {Quantity::Ohms, red, black, -1, pulled, 0}, i, m_p.minutes_pull + m_p.minutes_read);
                }
    }
}

bool Offers::doubt_on(int island) const {
    const auto& units = m_assessment.belief->model().islands[static_cast<std::size_t>(island)].units;
    return std::any_of(units.begin(), units.end(), [&](int u) {
        const double fine = m_assessment.belief->mode(u, 0);
        return fine > m_p.worth_reading && fine < 1 - m_p.worth_reading;
    });
}

void Offers::offer_alone(int i, bool routine) {
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
                          .why = routine ? NextAct::Why::Routine : NextAct::Why::Tells});
    }
}

bool Offers::may_lift(int part) const {
    const auto kind = m_board.part(part).kind;
    return kind != PartKind::Transformer && kind != PartKind::Load && !m_evidence.absent.contains(part);
}

bool Offers::worth_lifting(const PartBelief& b) const {
    return may_lift(b.part) && (m_evidence.state.is_lifted(b.part) || b.bad > m_least_lifted);
}

void Offers::offer_lifted() {
    for (const auto& b : m_assessment.parts)
        if (doubted(b) && worth_lifting(b) && (m_asked.empty() || m_asked[static_cast<std::size_t>(b.part)] != 0))
            offer_alone(b.part, false);
}

void Offers::offer_again() {
    for (const auto& o : m_evidence.observations) {
        if (o.kind != Seen::Reading || !taken(o.query).again || o.query.state.lifted != m_evidence.state.lifted ||
            o.query.state.pulled != m_evidence.state.pulled)
            continue;
        m_acts.push_back({.act = Act::Read,
                          .query = o.query,
                          .part = o.part,
                          .bits = doubt_bits(),
                          .minutes = m_p.minutes_read,
                          .why = NextAct::Why::Again});
    }
}

const Observation* Offers::reading_of(int entry) const {
    for (const auto& o : m_evidence.observations)
        if (o.kind == Seen::Reading && o.entry == entry) return &o;
    return nullptr;
}

void Offers::offer_assurance() {
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
            m_acts.push_back({.act = Act::Assure,
                              .query = o->query,
                              .part = i,
                              .bits = doubt_bits(),
                              .minutes = m_p.minutes_look,
                              .why = NextAct::Why::Again});
        }
    }
}

bool Offers::fits_with(const Observation& o, int part) {
    Query in_place = o.query;
    in_place.alone = -1;
    for (auto* out : {&in_place.state.lifted, &in_place.state.pulled})
        if (static_cast<std::size_t>(part) < out->size()) (*out)[static_cast<std::size_t>(part)] = 0;
    const auto shown =
        belief::touched(m_p, o.query.what, {o.value, o.over}, false, m_evidence.meters[static_cast<std::size_t>(o.query.meter)]);
    const auto leading = m_forecasts->leading(in_place);
    return leading && std::fabs(leading->y - shown.y) < kSame * leading->spread;
}

double Offers::doubt_bits() const { return entropy(std::clamp(m_assessment.unexplained, 0.02, 0.5)); }

} // namespace ohmo
