// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/taken.h"

#include "board/nominal.h"
#include "board/roles.h"
#include "board/taken_capacitors.h"
#include "board/taken_resistors.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <utility>

namespace ohmo {
namespace {

constexpr double kPrimaryTurns = 1000;

class Taker {
public:
    explicit Taker(const Board& board) : m_board(board), m_p(board.practice()), m_roles(find_roles(board)), m_resistors(board, m_roles) {}

    int line_transformer() const { return m_roles.line_transformer; }

    // Peak volts that a winding is likely made for, by the reservoirs that rectifiers lead it to; by the rails where those are not rated.
    double peak(const Pin& a, const Pin& b) const {
        std::vector<char> reached(m_board.nets.size(), 0);
        reached[static_cast<std::size_t>(a.id)] = reached[static_cast<std::size_t>(b.id)] = 1;
        double rating = 0;
        for (bool grew = true; grew;) {
            grew = false;
            for (const auto& part : m_board.parts) {
                const bool here = std::any_of(part.pins.begin(), part.pins.end(),
                                              [&](const Pin& p) { return reached[static_cast<std::size_t>(p.id)] != 0; });
                if (!here) continue;
                if (part.kind == PartKind::Electrolytic) rating = std::max(rating, part.volts.value_or(0));
                if (!is_diode_like(part.kind) && part.kind != PartKind::Bridge && part.kind != PartKind::Fuse) continue;
                for (const auto& p : part.pins)
                    if (!std::exchange(reached[static_cast<std::size_t>(p.id)], 1)) grew = true;
            }
        }
        if (rating > 0) return rating * m_p.taken_reservoir_share;
        double volts = 0;
        for (const auto& rail : m_board.rails) volts = std::max(volts, std::fabs(rail.volts));
        return volts / m_p.taken_reservoir_share + m_p.taken_rectifier_volts;
    }

    std::optional<Taken> value(int index) const {
        const Part& part = m_board.part(index);
        if (part.kind == PartKind::Resistor || part.kind == PartKind::FusibleResistor) return m_resistors.of(index);
        if (part.kind == PartKind::Fuse) return amps();
        if (part.kind == PartKind::Choke) return Taken{m_p.taken_choke_henry};
        if (is_capacitor(part.kind)) return taken_capacitor(m_board, m_roles, index);
        return std::nullopt;
    }

private:
    // Twice the line current of a capacitor-input rectifier.
    std::optional<Taken> amps() const {
        if (!m_board.mains || m_roles.input_watts <= 0) return std::nullopt;
        return Taken{m_p.taken_fuse_share * m_roles.input_watts / (m_board.mains->volts * m_p.power_factor)};
    }

    const Board& m_board;
    const Practice& m_p;
    BoardRoles m_roles;
    TakenResistors m_resistors;
};

bool wants_one(const Part& part) {
    const auto n = nominal_or_none(part);
    if (!n) return false;
    switch (part.kind) {
    case PartKind::Resistor:
    case PartKind::FusibleResistor:
        return !n->ohms;
    case PartKind::Fuse:
        return !n->amps;
    case PartKind::Choke:
        return !n->henry;
    default:
        return is_capacitor(part.kind) && !n->farads;
    }
}

void take_turns(Board& board, int transformer, const Taker& taker) {
    Part& part = board.parts[static_cast<std::size_t>(transformer)];
    const double line = board.mains->volts * std::numbers::sqrt2;
    std::map<std::string, double> turns;
    for (const auto& [a, b] : part.pairs())
        turns[a->role + "-" + b->role] = a->role.front() == 'P' ? kPrimaryTurns : kPrimaryTurns * taker.peak(*a, *b) / line;
    part.turns = std::move(turns);
}

} // namespace

void take_values(Board& board) {
    for (auto& part : board.parts) {
        part.taken_for.reset();
        part.taken_spread = 0;
    }
    std::vector<int> without;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (wants_one(board.part(i))) without.push_back(i);
    const bool may_lack_turns = board.mains && std::any_of(board.parts.begin(), board.parts.end(), [](const Part& p) {
                                    return p.kind == PartKind::Transformer && p.turns.empty();
                                });
    if (without.empty() && !may_lack_turns) return;
    const Taker taker(board);
    std::vector<std::optional<Taken>> values;
    for (int i : without) values.push_back(taker.value(i));
    for (std::size_t k = 0; k < without.size(); ++k) {
        if (!values[k]) continue;
        Part& part = board.parts[static_cast<std::size_t>(without[k])];
        part.taken_for = values[k]->value;
        part.taken_spread = values[k]->spread;
    }
    if (const int line = taker.line_transformer(); line >= 0 && board.part(line).turns.empty()) take_turns(board, line, taker);
}

} // namespace ohmo
