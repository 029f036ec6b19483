// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with the board and what has been taken off it, from the command line.
#pragma once
#include "cli/command.h"

namespace ohmo::cli {

class BoardOptions {
public:
    void add_to(Command& command); ///< --fault, --lift, --pull
    std::vector<Fault> faults(const Board& board, Problems& problems) const;
    BoardState state(const Board& board, Problems& problems) const;

private:
    std::vector<std::string> m_faults, m_lift, m_pull;
};

} // namespace ohmo::cli
