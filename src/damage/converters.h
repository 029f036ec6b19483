// SPDX-License-Identifier: GPL-3.0-or-later
// Which rails stop with a converter, where a board has several: a standby supply, a main one that it feeds, step-down stages behind.
#pragma once
#include "board/roles.h"

#include <map>
#include <vector>

namespace ohmo {

class Converters {
public:
    Converters(const Board& board, const BoardRoles& roles);

    /// By rail, whether it stops when this chip or power device does nothing; null where the board has one converter, or it is not known
    /// what the part is to one: then everything does.
    const std::vector<char>* stopped_with(int part) const;

private:
    struct Converter {
        std::vector<int> magnetics; ///< transformers and inductors that it switches
        std::vector<int> chips, devices;
        std::vector<NetId> fed_at; ///< nets of its power stage that are not switched
        std::vector<char> rails, stops;
    };
    void find_converters(const Board& board, const BoardRoles& roles);
    void find_chips(const Board& board, const BoardRoles& roles);
    void find_rails(const Board& board, const BoardRoles& roles);
    bool needs(const Board& board, const BoardRoles& roles, const Converter& one, const Converter& other) const;
    std::vector<Converter> m_all;
    std::map<int, std::size_t> m_of; ///< by chip and device
};

} // namespace ohmo
