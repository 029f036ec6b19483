// SPDX-License-Identifier: GPL-3.0-or-later
// Is it the supply at all? What is asked before the cover comes off, and what each answer says of causes that lie outside the board: the
// way in (socket, plug fuse, lead), the adapter, what is fed. Chances come from the table "outside" of data/practice.json.
#pragma once
#include "board/board.h"

#include <array>
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

enum class Outside {
    Feed,    ///< socket, plug fuse, lead
    Adapter, ///< of a board that has no mains of its own
    Load,    ///< what it feeds
};
inline constexpr std::size_t kOutsides = 3;
std::string_view outside_name(Outside cause); ///< "feed", "adapter", "load"

struct OutsideCheck {
    std::string_view id;
    std::vector<std::string_view> answers; ///< the first is what a sound one gives
    bool mains = false, adapter = false;   ///< only where there is one
    double Practice::*minutes = nullptr;
};

/// What an answer tells of the unit's history: "reversed-polarity", "wrong-adapter", or nothing.
std::string_view history_told(std::string_view answer);

const std::vector<OutsideCheck>& outside_checks();
const OutsideCheck* outside_check(std::string_view id);
bool asked_of(const OutsideCheck& check, const Board& board);

/// Chances of an answer: by outside cause, with a complaint that comes of itself, with the fault on the board, with a fault there that
/// blows fuses.
struct AnswerChances {
    std::array<double, kOutsides> outside{};
    double itself = 1, board = 1, shorting = 1;
};
AnswerChances answer_chances(const Practice& practice, std::string_view check, std::string_view answer);

/// What stands outside, as answers come in: that nothing on the board is wrong and the complaint comes from elsewhere, held against a
/// fault on the board.
class OutsideOdds {
public:
    /// `itself`: chance that a complaint comes from nowhere that is known; `made_up`: how seldom this one does so, against any other;
    /// `unfed`: how far it is said of a unit that gets nothing.
    OutsideOdds(const Board& board, double itself, double made_up = 1, double unfed = 1);
    void hear(std::string_view check, std::string_view answer);

    /// Chance, before anything is said of the board, that it is sound and the complaint comes from there; as the answers leave it.
    double weight(Outside cause) const;
    double all() const;    ///< of all causes
    double itself() const; ///< that the complaint comes of itself, whatever the board is
    /// Chance of all answers with a fault on the board, one that blows fuses or not: the larger of both is 1.
    double board_factor(bool shorting) const;
    /// Bits that an answer to the check would bring on "the board, or where outside", with the chances `outside` as they stand.
    double bits(const OutsideCheck& check, const std::array<double, kOutsides>& outside) const;

private:
    const Practice& m_practice;
    std::array<double, kOutsides> m_cause{};
    double m_itself, m_board = 1, m_shorting = 1;
};

} // namespace ohmo
