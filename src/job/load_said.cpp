// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/load_said.h"

#include "base/engineering.h"
#include "base/text.h"

#include <cmath>

namespace ohmo {
namespace {

constexpr double kMost = 2; // of the full load: an overload test

double watts_of(const Board& board, std::string_view net) {
    double all = 0;
    for (const auto& rail : board.rails) {
        const double watts = rail.watts();
        if (rail.net == net) return watts;
        all += watts;
    }
    return all;
}

} // namespace

Result<double> load_share(const Board& board, std::string_view rail, std::string_view said) {
    const std::string word = lowered(std::string(said));
    const Problem wrong{ProblemKind::OutOfRangeValue, "/load", std::string(said), std::string(kLoadsSaid), 0, false};
    if (word == "idle") return 0.0;
    if (word == "full") return 1.0;
    const bool percent = word.ends_with('%'), watts = word.ends_with('w');
    const auto number = parse_quantity(percent || watts ? word.substr(0, word.size() - 1) : word);
    if (!number) return wrong;
    const double full = watts ? watts_of(board, rail) : percent ? 100 : 1;
    if (full <= 0 || *number < 0 || *number / full > kMost) return wrong;
    return *number / full;
}

} // namespace ohmo
