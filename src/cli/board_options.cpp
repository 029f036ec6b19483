// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/board_options.h"

namespace ohmo::cli {
namespace {

std::vector<char> flags(const Board& board, const std::vector<std::string>& refs, Problems& problems) {
    std::vector<char> out(board.parts.size(), 0);
    for (const auto& ref : refs) {
        if (const auto part = board.find_part(ref))
            out[static_cast<std::size_t>(*part)] = 1;
        else
            problems.push_back({ProblemKind::NoSuchPart, {}, ref, {}, 0, false});
    }
    return out;
}

} // namespace

void BoardOptions::add_to(Command& command) {
    command.option("--fault", m_faults, "REF:mode, as often as needed");
    command.option("--lift", m_lift, "a part out of circuit");
    command.option("--pull", m_pull, "a connector pulled");
}

std::vector<Fault> BoardOptions::faults(const Board& board, Problems& problems) const {
    std::vector<Fault> out;
    for (const auto& text : m_faults) {
        auto fault = parse_fault(board, text);
        if (fault)
            out.push_back(*fault);
        else
            problems.push_back(fault.problem());
    }
    return out;
}

BoardState BoardOptions::state(const Board& board, Problems& problems) const {
    return {flags(board, m_lift, problems), flags(board, m_pull, problems)};
}

} // namespace ohmo::cli
