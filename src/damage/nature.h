// SPDX-License-Identifier: GPL-3.0-or-later
// What a fault is like over time and in its sound, whatever the unit does under power: a crack opens and closes, a leak grows with heat, a
// reservoir that dries out lets ripple of the line through. It tells complaints apart that any unit out of order may give.
#pragma once
#include "board/fault.h"
#include "board/roles.h"

#include <string>
#include <vector>

namespace ohmo {

enum class Nature {
    LineRipple, ///< a rectifier of the line that has opened, or what smooths behind it dried out
    Dry,        ///< any other capacitor
    Leaks,
    Drifts,         ///< weak, high, low
    OpensAndCloses, ///< cracks and contacts
    ForGood         ///< open, shorted, dead
};

class Natures {
public:
    Natures(const Board& board, const BoardRoles& roles);
    Nature of(const Fault& fault) const;
    /// How far a fault of this nature brings the word about, 0 to 1.
    double chance(const std::string& word, const Fault& fault) const;

private:
    const Board& m_board;
    std::vector<char> m_at_line; ///< by part: rectifies the line, or smooths right behind
};

} // namespace ohmo
