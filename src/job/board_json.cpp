// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/board_json.h"

#include <fmt/format.h>

namespace ohmo::detail {
namespace {

Json write_part(const Part& part) {
    Json o{{"ref", part.ref}, {"kind", std::string(kind_info(part.kind).name)}};
    const auto text = [&](const char* key, const std::string& value) {
        if (!value.empty()) o[key] = value;
    };
    const auto number = [&](const char* key, const std::optional<double>& value) {
        if (value) o[key] = *value;
    };
    text("value", part.value);
    number("volts", part.volts);
    number("amps", part.amps);
    number("watts", part.watts);
    number("celsius", part.celsius);
    number("ohms", part.ohms);
    number("henry", part.henry);
    number("esr", part.esr);
    number("age_years", part.age_years);
    if (!part.turns.empty()) o["turns"] = part.turns;
    if (!part.winding_ohms.empty()) o["winding_ohms"] = part.winding_ohms;
    o["pins"] = Json::object();
    for (const auto& pin : part.pins) o["pins"][pin.role] = pin.net;
    text("stage", part.stage);
    text("role", part.role);
    text("batch", part.batch);
    if (part.place) o["place"] = {part.place->x, part.place->y};
    if (part.assumed) o["assumed"] = true;
    return o;
}

Json write_rail(const Rail& rail) {
    return {{"net", rail.net}, {"return", rail.ret}, {"volts", rail.volts}, {"tolerance", rail.tolerance}, {"amps", rail.amps}};
}

Json write_head(const Board& board) {
    Json o{{"name", board.name}, {"blueprint", board.blueprint}};
    if (board.mains) o["mains"] = {{"volts", board.mains->volts}, {"hertz", board.mains->hertz}};
    return o;
}

} // namespace

Json write_board(const Board& board) {
    Json o = write_head(board);
    o["rails"] = Json::array();
    o["parts"] = Json::array();
    for (const auto& rail : board.rails) o["rails"].push_back(write_rail(rail));
    for (const auto& part : board.parts) o["parts"].push_back(write_part(part));
    return o;
}

std::vector<std::string> lines_of_board(const Board& board) {
    std::vector<std::string> out = {Json{{"board", write_head(board)}}.dump()};
    for (const auto& rail : board.rails) out.push_back(Json{{"rail", write_rail(rail)}}.dump());
    for (const auto& part : board.parts) out.push_back(Json{{"part", write_part(part)}}.dump());
    return out;
}

Result<Board> board_of_lines(const std::vector<std::string>& lines, const std::vector<int>& numbers) {
    Json whole{{"rails", Json::array()}, {"parts", Json::array()}};
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const Json line = Json::parse(lines[i], nullptr, false);
        const auto broken = [&] {
            return Problem{ProblemKind::JsonBroken, fmt::format("line {}", numbers[i]), lines[i], {}, numbers[i], false};
        };
        if (line.is_discarded() || !line.is_object() || line.empty()) return broken();
        const std::string key = line.begin().key();
        const Json& value = line.begin().value();
        if (!value.is_object()) return broken();
        if (key == "board")
            whole.update(value);
        else if (key == "rail")
            whole["rails"].push_back(value);
        else if (key == "part")
            whole["parts"].push_back(value);
        else
            return broken();
    }
    Problems problems;
    Board board = read_board(whole, "/board", problems);
    if (has_errors(problems)) return problems;
    auto made = make_board(std::move(board));
    if (!made) return made.problems();
    return std::move(made->board);
}

} // namespace ohmo::detail
