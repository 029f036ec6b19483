// SPDX-License-Identifier: GPL-3.0-or-later
#include "repair/rework.h"

#include "board/nominal.h"
#include "board/value_reading.h"
#include "circuit/board_circuit.h"
#include "readings/quantities.h"
#include "readings/reading_model.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

namespace ohmo {
namespace {

constexpr double kWide = 3;     // deviations within which sound work reads
constexpr double kApart = 2;    // deviations of a slip that must not reach into those
constexpr std::size_t kFew = 4; // pins up to which every pair is read

bool has_polarity(const Part& part) {
    if (is_wet_or_solid_electrolytic(part.kind) || is_diode_like(part.kind) || is_switch_device(part.kind) || is_controller(part.kind))
        return true;
    switch (part.kind) {
    case PartKind::Bridge:
    case PartKind::BjtNpn:
    case PartKind::BjtPnp:
    case PartKind::Regulator:
    case PartKind::ShuntReference:
    case PartKind::Optocoupler:
    case PartKind::Thyristor:
        return true;
    default:
        return false;
    }
}

bool has_value(const Part& part) {
    return is_capacitor(part.kind) || part.kind == PartKind::Resistor || part.kind == PartKind::FusibleResistor;
}

bool conducts_one_way(const Part& part) { return has_polarity(part) && !is_capacitor(part.kind); }

// What the meter shows at nets by name; nothing where the solve does not settle.
std::optional<Prediction> shown(const Board& board, const Rework& r, const std::string& red, const std::string& black, Quantity what) {
    const auto a = board.find_net(red), b = board.find_net(black);
    if (!a || !b || *a == *b) return std::nullopt;
    const BoardCircuit circuit(board, r.state);
    MeterReading reading;
    if (what == Quantity::Farads || what == Quantity::Esr)
        reading = read_ac(circuit.ac(r.still_bad, what == Quantity::Esr ? r.meter.esr_hertz : r.meter.farads_hertz), r.meter, what, *a, *b);
    else
        reading = read_dc(circuit.dc(r.still_bad), r.meter, what, *a, *b);
    if (!reading.converged) return std::nullopt;
    return prediction_of(board.practice(), what, r.meter, reading);
}

struct Candidate {
    ReworkCheck check;
    double minutes = 0;
    std::set<std::size_t> catches; ///< slips by index
};

class Finder {
public:
    Finder(const Rework& rework, int part)
        : m_r(rework), m_index(part), m_part(rework.board.part(part)), m_slips(slips_of(rework.board, part)) {
        if (rework.joints)
            std::erase_if(m_slips, [](const Slip& s) { return s.kind == SlipKind::Reversed || s.kind == SlipKind::WrongValue; });
        for (const auto& slip : m_slips) m_boards.push_back(with_slip(rework.board, part, slip));
    }

    std::vector<ReworkCheck> run() {
        by_eye();
        beeps();
        readings();
        return cover();
    }

private:
    // The stripe is seen at a glance; solder and small print are looked at closely, where no reading tells.
    void by_eye() {
        const auto& p = m_r.board.practice();
        for (const auto& [kind, minutes] : {std::pair{SlipKind::Reversed, p.minutes_glance},
                                            {SlipKind::Bridge, p.minutes_close_look},
                                            {SlipKind::WrongValue, p.minutes_close_look}})
            for (std::size_t k = 0; k < m_slips.size(); ++k) {
                if (m_slips[k].kind != kind) continue;
                Candidate c;
                c.check.part = m_index;
                c.minutes = minutes;
                c.catches.insert(k);
                m_all.push_back(std::move(c));
            }
    }

    void beeps() {
        for (const auto& pin : m_part.pins) {
            const auto to = elsewhere(pin);
            if (!to) continue;
            Candidate c;
            c.check.kind = CheckKind::Joined;
            c.check.part = m_index;
            c.check.pin = pin.role;
            c.check.other = *to;
            c.minutes = m_r.board.practice().minutes_beep;
            for (std::size_t k = 0; k < m_slips.size(); ++k)
                if (m_slips[k].kind == SlipKind::LiftedPad && m_slips[k].pin == pin.role) c.catches.insert(k);
            m_all.push_back(std::move(c));
        }
    }

    // Another part's pin on the same net that is in circuit.
    std::optional<PinName> elsewhere(const Pin& pin) const {
        for (int i = 0; i < static_cast<int>(m_r.board.parts.size()); ++i) {
            if (i == m_index || !in_circuit(m_r.board, m_r.state, i)) continue;
            for (const auto& p : m_r.board.part(i).pins)
                if (p.id == pin.id) return PinName{m_r.board.part(i).ref, p.role};
        }
        return std::nullopt;
    }

    void readings() {
        const auto& pins = m_part.pins;
        for (std::size_t i = 0; i < pins.size(); ++i)
            for (std::size_t j = 0; j < pins.size(); ++j) {
                const bool near = i + 1 == j || j + 1 == i;
                if (i == j || pins[i].id == pins[j].id || (pins.size() > kFew && !near)) continue;
                if (conducts_one_way(m_part)) reading(pins[i], pins[j], Quantity::Diode);
                if (i > j) continue; // the other way round tells the same, or is a diode test
                reading(pins[i], pins[j], Quantity::Ohms);
                if (is_capacitor(m_part.kind)) reading(pins[i], pins[j], Quantity::Farads);
            }
    }

    void reading(const Pin& red, const Pin& black, Quantity what) {
        const auto sound = shown(m_r.board, m_r, red.net, black.net, what);
        if (!sound) return;
        Candidate c;
        c.check.kind = CheckKind::Reading;
        c.check.part = m_index;
        c.check.query = {what, red.id, black.id, -1, m_r.state, 0};
        c.minutes = m_r.board.practice().minutes_proof;
        c.check.over = sound->over;
        const double reach = kWide * sound->sigma;
        c.check.low = sound->over ? 0 : score_value(what, sound->x - reach);
        c.check.high = sound->over ? 0 : score_value(what, sound->x + reach);
        for (std::size_t k = 0; k < m_slips.size(); ++k) {
            const auto slipped = shown(m_boards[k], m_r, red.net, black.net, what);
            if (!slipped) continue;
            const bool told =
                slipped->over != sound->over || (!sound->over && std::fabs(slipped->x - sound->x) > reach + kApart * slipped->sigma);
            if (told) c.catches.insert(k);
        }
        if (!c.catches.empty()) m_all.push_back(std::move(c));
    }

    // Whatever catches most of what is left for its minutes, until nothing more can be caught.
    std::vector<ReworkCheck> cover() {
        std::vector<Candidate> kept;
        std::set<std::size_t> left;
        for (std::size_t k = 0; k < m_slips.size(); ++k) left.insert(k);
        const auto gain = [&](const Candidate& c) {
            return static_cast<double>(std::count_if(c.catches.begin(), c.catches.end(), [&](std::size_t k) { return left.contains(k); })) /
                   c.minutes;
        };
        while (!left.empty()) {
            const auto best = std::max_element(m_all.begin(), m_all.end(), [&](const auto& a, const auto& b) { return gain(a) < gain(b); });
            if (best == m_all.end() || gain(*best) <= 0) break;
            for (std::size_t k : best->catches) left.erase(k);
            kept.push_back(*best);
        }
        std::stable_sort(kept.begin(), kept.end(), [](const auto& a, const auto& b) { return a.minutes < b.minutes; });
        std::stable_partition(kept.begin(), kept.end(), [](const auto& c) { return c.check.kind == CheckKind::Look; });
        std::vector<ReworkCheck> out;
        for (auto& c : kept) {
            for (std::size_t k : c.catches) c.check.catches.push_back(m_slips[k]);
            if (c.check.kind == CheckKind::Look && !out.empty()) // one look sees them all
                out.front().catches.insert(out.front().catches.end(), c.check.catches.begin(), c.check.catches.end());
            else
                out.push_back(std::move(c.check));
        }
        return out;
    }

    const Rework& m_r;
    int m_index;
    const Part& m_part;
    std::vector<Slip> m_slips;
    std::vector<Board> m_boards; ///< by slip
    std::vector<Candidate> m_all;
};

} // namespace

std::vector<Slip> slips_of(const Board& board, int index) {
    const Part& part = board.part(index);
    std::vector<Slip> out;
    for (const auto& pin : part.pins) {
        const bool shared =
            std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& p) { return &p != &part && p.touches(pin.id); });
        if (shared) out.push_back({SlipKind::LiftedPad, pin.role, {}, 1});
    }
    for (std::size_t k = 1; k < part.pins.size(); ++k)
        if (part.pins[k - 1].id != part.pins[k].id) out.push_back({SlipKind::Bridge, part.pins[k - 1].role, part.pins[k].role, 1});
    if (has_polarity(part) && part.pins.size() > 1) out.push_back({SlipKind::Reversed, {}, {}, 1});
    if (has_value(part) && !part.value.empty())
        for (const double factor : {board.practice().misread_factor, 1 / board.practice().misread_factor})
            out.push_back({SlipKind::WrongValue, {}, {}, factor});
    return out;
}

Board with_slip(const Board& board, int index, const Slip& slip) {
    Board out = board;
    Part& part = out.parts[static_cast<std::size_t>(index)];
    const auto net_of = [&](const std::string& role) {
        return std::find_if(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.role == role; })->net;
    };
    switch (slip.kind) {
    case SlipKind::LiftedPad:
        for (auto& pin : part.pins)
            if (pin.role == slip.pin) pin.net = own_net(part.ref, pin.role);
        break;
    case SlipKind::Bridge: {
        Part solder;
        solder.ref = own_net(part.ref, "bridge");
        solder.kind = PartKind::Track;
        solder.ohms = board.practice().solder_bridge_ohms;
        solder.stage = part.stage;
        solder.pins = {{"1", net_of(slip.pin), -1}, {"2", net_of(slip.other), -1}};
        out.parts.push_back(std::move(solder));
        break;
    }
    case SlipKind::Reversed:
        for (std::size_t i = 0, j = part.pins.size() - 1; i < j; ++i, --j) std::swap(part.pins[i].net, part.pins[j].net);
        break;
    case SlipKind::WrongValue: {
        const auto n = nominal_value(part);
        if (!n) break;
        if (n->farads) part.value = letter_code(*n->farads * slip.factor, 'F');
        if (n->ohms) part.value = letter_code(*n->ohms * slip.factor, 'R');
        break;
    }
    }
    auto made = make_board(std::move(out));
    return made ? std::move(made->board) : board;
}

std::vector<ReworkCheck> rework_checks(const Rework& rework, int part) { return Finder(rework, part).run(); }

bool passes(const ReworkCheck& check, double value, bool over) {
    if (check.over || over) return check.over == over;
    return value >= check.low && value <= check.high;
}

} // namespace ohmo
