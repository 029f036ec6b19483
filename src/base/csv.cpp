// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/csv.h"

#include <csv.h>

#include <algorithm>

namespace ohmo {
namespace {

struct Reading {
    std::vector<CsvRow> rows;
    CsvRow row;
    int line = 0; // being read
};

void take_cell(void* text, std::size_t length, void* into) {
    auto& reading = *static_cast<Reading*>(into);
    if (reading.row.cells.empty()) reading.row.line = reading.line;
    reading.row.cells.emplace_back(static_cast<const char*>(text), length);
}

void take_row(int, void* into) {
    auto& reading = *static_cast<Reading*>(into);
    const bool blank = std::all_of(reading.row.cells.begin(), reading.row.cells.end(), [](const std::string& c) { return c.empty(); });
    if (!blank) reading.rows.push_back(std::move(reading.row));
    reading.row = {};
}

} // namespace

std::vector<CsvRow> parse_csv(const std::string& text, char separator) {
    csv_parser parser;
    if (csv_init(&parser, 0) != 0) return {};
    csv_set_delim(&parser, static_cast<unsigned char>(separator));
    if (separator == '\t') csv_set_space_func(&parser, [](unsigned char c) { return c == ' ' ? 1 : 0; }); // a tab parts cells
    Reading reading;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size() - 1) + 1;
        ++reading.line;
        const bool between_rows = parser.pstate == 0; // libcsv: no row has begun
        if (!between_rows || text[at] != '#') csv_parse(&parser, text.data() + at, end - at, take_cell, take_row, &reading);
        at = end;
    }
    csv_fini(&parser, take_cell, take_row, &reading);
    csv_free(&parser);
    return std::move(reading.rows);
}

std::string csv_line(const std::vector<std::string>& cells) {
    std::string out;
    for (const auto& cell : cells) {
        if (&cell != &cells.front()) out += ',';
        if (cell.find_first_of(",\"\r\n") == std::string::npos) {
            out += cell;
            continue;
        }
        std::string quoted(csv_write(nullptr, 0, cell.data(), cell.size()), '\0');
        csv_write(quoted.data(), quoted.size(), cell.data(), cell.size());
        out += quoted;
    }
    return out + "\n";
}

} // namespace ohmo
