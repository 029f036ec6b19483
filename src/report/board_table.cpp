// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/board_table.h"

#include "base/engineering.h"
#include "base/text.h"
#include "board/nominal.h"
#include "job/board_files.h"
#include "job/parts_rows.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo {

std::string board_markdown(const Board& board, const Unit& unit) {
    const auto cell = [](const std::string& text) { return replaced(text, "|", "\\|"); };
    std::string out = fmt::format("# {}\n\n", unit.name.empty() ? board.name : unit.name + (board.name.empty() ? "" : ", " + board.name));
    if (board.mains) out += fmt::format("Mains {:g} V, {:g} Hz\n\n", board.mains->volts, board.mains->hertz);
    if (!board.rails.empty()) out += "| rail | return | volts | amps |\n|---|---|---|---|\n";
    for (const auto& r : board.rails)
        out += fmt::format("| {} | {} | {} ±{:g} % | {} |\n", cell(r.net), cell(r.ret), format_nominal(r.volts, "V"), r.tolerance * 100,
                           format_nominal(r.amps, "A"));
    if (!board.rails.empty()) out += "\n";
    out += "| ref | what it is | value | pins and nets |\n|---|---|---|---|\n";
    for (const auto& part : board.parts) {
        std::vector<std::string> pins;
        for (const auto& pin : part.pins) pins.push_back(pin.role + " " + pin.net);
        out += fmt::format("| {} | {}{} | {} | {} |\n", cell(part.ref), cell(wording::part_role(part)), part.assumed ? ", assumed" : "",
                           cell(nominal_text(part)), cell(joined(pins, ", ")));
    }
    return out;
}

Result<std::string> board_as(const Board& board, const Unit& unit, const Path& name) {
    const std::string end = lowered(name.extension().string());
    if (end == ".csv") return parts_csv(board);
    if (end == ".md") return board_markdown(board, unit);
    if (end == ".cir" || end == ".net" || end == ".sp") return board_as_spice(board, unit);
    return Problem{ProblemKind::Usage, name.string(), end, "a name that ends in .csv, .md or .cir", 0, false};
}

} // namespace ohmo
