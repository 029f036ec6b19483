// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/board_files.h"

#include "base/text.h"
#include "circuit/board_circuit.h"
#include "circuit/spice.h"
#include "job/board_json.h"
#include "job/parts_rows.h"
#include "job/traced.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>

namespace ohmo {
namespace {

bool is_list(const Path& name) {
    const std::string end = lowered(name.extension().string());
    return end == ".csv" || end == ".tsv";
}

} // namespace

bool importable(const Path& name) {
    const std::string end = lowered(name.extension().string());
    return is_list(name) || end == ".cir" || end == ".net" || end == ".sp" || end == ".spice" || end == ".ckt";
}

Result<ImportedBoard> import_board(const Path& name, const std::string& text) {
    ImportedBoard out;
    if (is_list(name)) {
        auto rows = parse_parts_rows(Board{}, text);
        if (!rows) return rows.problems();
        auto board = with_edits(Board{}, rows->edits);
        if (!board) return board.problems();
        out.board = std::move(*board);
        out.warnings = std::move(rows->warnings);
    } else if (!importable(name)) {
        return Problem{ProblemKind::Usage,
                       name.string(),
                       name.extension().string(),
                       "a netlist (.cir, .net, .sp) or a parts list (.csv, .tsv)",
                       0,
                       false};
    } else {
        auto read = read_spice(text);
        if (!read) return read.problems();
        out.board = std::move(read->board);
        out.ignored = std::move(read->ignored);
    }
    if (out.board.parts.empty()) return Problem{ProblemKind::MissingField, {}, "part", {}, 0, false};
    for (auto& part : out.board.parts) part.known = HowKnown::File;
    return out;
}

Job job_of_board(const Board& board) {
    Job job;
    job.board = board;
    job.has_board = true;
    job.source = std::make_shared<detail::Json>(detail::Json{
        {"ohmotrace", 1}, {"unit", detail::Json::object()}, {"board", detail::write_board(board)}, {"journal", detail::Json::array()}});
    return job;
}

std::string board_as_spice(const Board& board, const Unit& unit, const BoardState& state, const std::vector<Fault>& faults) {
    const Netlist net = expand(board, state, faults);
    const auto letters = [](const std::string& name) {
        std::string out;
        for (char c : name) out += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
        return out;
    };
    std::vector<std::string> names; // two nets never become one
    for (int n = 0; n < net.nodes; ++n) {
        if (n >= static_cast<int>(board.nets.size())) {
            names.push_back(fmt::format("inner{}", n));
            continue;
        }
        std::string name = letters(board.net_name(n));
        const auto taken = [&] { // simulators do not tell capitals from small letters
            return std::any_of(names.begin(), names.end(), [&](const std::string& other) { return lowered(other) == lowered(name); });
        };
        while (taken()) name += "_";
        names.push_back(name == "0" ? "net0" : name);
    }
    std::string text = fmt::format(
        "* {}, {}\n* Nets keep their names, other characters than letters and digits as _; tie one of them to 0.\n", unit.name, board.name);
    const auto none = [](const std::vector<char>& flags) {
        return std::none_of(flags.begin(), flags.end(), [](char c) { return c != 0; });
    };
    if (faults.empty() && none(state.lifted) && none(state.pulled)) text += spice_header(board);
    const auto lines = spice_lines(
        net, SpiceUse::Full, [&](int n) { return names[static_cast<std::size_t>(n)]; }, {},
        [&](int part) { return letters(board.part(part).ref); });
    for (const auto& line : lines) text += line + "\n";
    return text + ".end\n";
}

} // namespace ohmo
