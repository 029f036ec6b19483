// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/part_sheet.h"

#include "board/lead_pairs.h"
#include "board/nominal.h"
#include "board/step_down.h"
#include "board/switch_ends.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

struct Touch {
    Quantity what;
    NetId red, black;
};

// Where the leads go on a part, by what its kind is tested for. Junctions are tested both ways round.
std::vector<Touch> leads_on(const Board& board, const Part& part) {
    std::vector<Touch> out;
    const auto both = [&](Quantity what, NetId a, NetId b) {
        out.push_back({what, a, b});
        out.push_back({what, b, a});
    };
    const auto pairs = find_lead_pairs(board, part);
    if (is_capacitor(part.kind)) {
        for (const auto& [a, b] : pairs)
            for (const auto what : {Quantity::Farads, Quantity::Esr, Quantity::Ohms}) out.push_back({what, a, b});
    } else if (is_diode_like(part.kind) || part.kind == PartKind::Bridge) {
        for (const auto& [a, b] : pairs) both(Quantity::Diode, a, b);
    } else if (is_switch_device(part.kind)) {
        const auto [g, d, s] = switch_ends(part);
        const bool field_effect = part.net("G") >= 0;
        both(Quantity::Ohms, d, s);
        if (field_effect) {
            both(Quantity::Diode, s, d);
            out.push_back({Quantity::Ohms, g, s});
            out.push_back({Quantity::Ohms, g, d});
        } else {
            both(Quantity::Diode, g, s);
            both(Quantity::Diode, g, d);
        }
    } else if (is_controller(part.kind)) {
        for (const auto& [a, b] : pairs) both(Quantity::Ohms, a, b);
    } else if (part.kind == PartKind::Optocoupler) {
        for (const auto& [a, b] : pairs) both(Quantity::Diode, a, b);
        if (part.net("C") >= 0 && part.net("E") >= 0) both(Quantity::Ohms, part.net("C"), part.net("E"));
    } else {
        for (const auto& [a, b] : pairs) out.push_back({Quantity::Ohms, a, b});
    }
    std::erase_if(out, [](const Touch& l) { return l.red < 0 || l.black < 0 || l.red == l.black; });
    return out;
}

std::string role_at(const Part& part, NetId net) {
    for (const auto& pin : part.pins)
        if (pin.id == net) return pin.role;
    return {};
}

class Sheet {
public:
    Sheet(const Analysis& a, int part) : m_a(a), m_board(a.replay.board), m_part(m_board.part(part)) { m_out.part = part; }

    PartSheet run() {
        find_sisters();
        for (const auto& leads : leads_on(m_board, m_part)) m_out.tests.push_back(test(leads));
        for (std::size_t i = 0; i < m_a.job.journal.size(); ++i)
            if (const auto& e = m_a.job.journal[i]; !m_a.replay.retracted[i] && e.part == m_part.ref && e.act != Do::Photo)
                m_out.history.push_back(static_cast<int>(i));
        if (is_capacitor(m_part.kind)) losses();
        return std::move(m_out);
    }

private:
    void find_sisters() {
        const auto value = nominal_text(m_part);
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            const Part& other = m_board.part(i);
            if (i == m_out.part || other.kind != m_part.kind || other.volts != m_part.volts || nominal_text(other) != value) continue;
            if (value.empty() && other.stage != m_part.stage) continue;
            m_out.sisters.push_back(i);
            if (m_a.assessment.of(i).bad > m_board.practice().replace_above || m_a.replay.found_bad.contains(i))
                m_out.sisters_bad.push_back(i);
        }
    }

    Shown shown(const Query& query, const std::vector<Fault>& faults) const {
        return shown_of(*m_a.predictor, query, faults, m_board.practice().usual_reach);
    }

    PartTest test(const Touch& leads) const {
        PartTest out;
        out.what = leads.what;
        out.red = role_at(m_part, leads.red);
        out.black = role_at(m_part, leads.black);
        Query here{leads.what, leads.red, leads.black, -1, m_a.replay.evidence.state, 0}, alone = here;
        alone.alone = m_out.part;
        out.here = shown(here, {});
        out.alone = shown(alone, {});
        for (const auto mode : modes_of(m_part.kind)) {
            if (!may_fail(m_board, m_part, mode)) continue;
            const Shown bad = shown(alone, {{m_out.part, mode, place_of(out)}});
            const bool apart = bad.over != out.alone.over || (!bad.over && (bad.low > out.alone.high || bad.high < out.alone.low));
            if (apart) out.failures.push_back({mode, bad});
        }
        out.read = last_read(leads, m_out.part);
        if (out.read) out.against = held(out.read->alone ? out.alone : out.here, out.read->value, out.read->over);
        for (int sister : m_out.sisters) {
            const Part& other = m_board.part(sister);
            const NetId red = other.net(out.red), black = other.net(out.black);
            if (red < 0 || black < 0) continue;
            if (const auto read = last_read({leads.what, red, black}, sister)) out.sisters.emplace_back(sister, *read);
        }
        return out;
    }

    // A bridge breaks leg by leg: each test is asked of its own.
    std::string place_of(const PartTest& test) const {
        if (m_part.kind != PartKind::Bridge) return {};
        const bool in = test.red.front() == '~';
        return (in ? test.red : test.black) + (in ? test.black : test.red);
    }

    // Of the part itself while it is out, else across its nets; what was read before it was replaced is of another part.
    std::optional<PartTest::Read> last_read(const Touch& leads, int part) const {
        std::optional<PartTest::Read> out;
        const bool either_way = leads.what != Quantity::Diode && !is_polar(m_board.part(part).kind);
        for (const auto& o : m_a.replay.evidence.observations) {
            if (o.kind != Seen::Reading || o.query.what != leads.what || (o.query.alone >= 0 && o.query.alone != part)) continue;
            if (m_a.replay.evidence.renewed.contains(part) && !o.renewed.contains(part)) continue;
            const bool same = o.query.red == leads.red && o.query.black == leads.black;
            const bool turned = o.query.red == leads.black && o.query.black == leads.red;
            if (same || (turned && either_way)) out = PartTest::Read{o.entry, o.value, o.over, o.query.alone == part};
        }
        return out;
    }

    static bool is_polar(PartKind kind) {
        return is_diode_like(kind) || kind == PartKind::Bridge || is_switch_device(kind) || is_controller(kind) ||
               is_wet_or_solid_electrolytic(kind) || kind == PartKind::Optocoupler;
    }

    // tan(delta) = 2 pi f C ESR.
    void losses() {
        const double omega = 2 * std::numbers::pi * m_a.replay.evidence.meters.front().esr_hertz;
        const PartTest *farads = nullptr, *esr = nullptr;
        for (const auto& t : m_out.tests) {
            if (t.what == Quantity::Farads) farads = &t;
            if (t.what == Quantity::Esr) esr = &t;
        }
        if (farads == nullptr || esr == nullptr) return;
        if (!farads->alone.over && !esr->alone.over)
            m_out.loss_usual =
                omega * std::sqrt(farads->alone.low * farads->alone.high) * std::sqrt(std::max(esr->alone.low, 1e-3) * esr->alone.high);
        if (farads->read && esr->read && !farads->read->over && !esr->read->over)
            m_out.loss = omega * farads->read->value * esr->read->value;
    }

    const Analysis& m_a;
    const Board& m_board;
    const Part& m_part;
    PartSheet m_out;
};

} // namespace

PartSheet part_sheet(const Analysis& analysis, int part) { return Sheet(analysis, part).run(); }

} // namespace ohmo
