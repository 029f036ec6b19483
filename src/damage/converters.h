// SPDX-License-Identifier: GPL-3.0-or-later
// Which rails stop with a converter, where a board has several: a standby supply, a main one that it feeds, step-down stages behind; and
// with a regulator of pass transistors, where the line feeds several rails.
#pragma once
#include "board/roles.h"

#include <map>
#include <vector>

namespace ohmo {

class Converters {
public:
    Converters(const Board& board, const BoardRoles& roles);

    /// By rail, whether it stops when this chip, power device, inductor or what biases a pass transistor does nothing; null where the board
    /// has one converter, or it is not known what the part is to one: then everything does.
    const std::vector<char>* stopped_with(int part) const;
    /// The same for a short of what one of several delivers, or of a rail of it; null where all of them feel it, or nobody can tell.
    const std::vector<char>* overloaded_by(const Part& part) const;
    const std::vector<char>* overloaded_by(std::size_t rail) const;
    /// It times one of several, or feeds the driver of its upper switch: shorted, it stops it too.
    bool clocks(int part) const;
    /// A pass transistor of one of several rails.
    bool regulates(int part) const;
    /// Rails behind those that are lost.
    void pass_on(std::vector<char>& lost) const;

private:
    struct Converter {
        std::vector<int> magnetics; ///< transformers and inductors that it switches
        std::vector<int> chips, devices;
        std::vector<int> clocks;   ///< on the timing and bootstrap pins of its chips
        std::vector<int> needed;   ///< devices none of which may be missing; where several work side by side, what drives them
        bool regulates = false;    ///< pass transistors: a short behind them is held at bay
        std::vector<NetId> nodes;  ///< where windings and inductors are switched
        std::vector<NetId> fed_at; ///< whatever its power stage and its chips hang on
        std::vector<char> rails, needs, stops;
        std::vector<char> outputs; ///< by net
    };
    void find_converters(const Board& board, const BoardRoles& roles);
    void find_regulators(const Board& board, const BoardRoles& roles);
    static void find_drive(const Board& board, const BoardRoles& roles, Converter& c);
    void find_chips(const Board& board, const BoardRoles& roles);
    void find_rails(const Board& board, const BoardRoles& roles);
    void find_outputs(const Board& board, const BoardRoles& roles);
    static bool hangs_on(const Board& board, const BoardRoles& roles, const Converter& c, std::size_t rail);
    static bool winds_supply_of(const Board& board, const BoardRoles& roles, const Converter& one, const Converter& other);
    std::vector<Converter> m_all;
    std::map<int, std::size_t> m_of; ///< by chip, device and inductor
};

} // namespace ohmo
