// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/parts_rows.h"

#include "base/csv.h"
#include "base/engineering.h"
#include "base/text.h"
#include "board/conventions.h"
#include "board/value_reading.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace ohmo {
namespace {

// Headings that other lists use for ours.
std::string our_heading(const std::string& text) {
    static const std::map<std::string, std::string> known = {
        {"ref", "ref"},   {"reference", "ref"}, {"refs", "ref"},      {"designator", "ref"}, {"part", "ref"},        {"kind", "kind"},
        {"type", "kind"}, {"value", "value"},   {"marking", "value"}, {"volts", "volts"},    {"voltage", "volts"},   {"v", "volts"},
        {"amps", "amps"}, {"current", "amps"},  {"watts", "watts"},   {"power", "watts"},    {"celsius", "celsius"}, {"stage", "stage"},
        {"role", "role"}, {"pins", "pins"},     {"function", "role"}, {"nets", "pins"},      {"net", "pins"}};
    const auto at = known.find(lowered(trimmed(text)));
    return at == known.end() ? std::string() : at->second;
}

char separator_of(const std::string& text) {
    const std::string line = text.substr(0, text.find('\n'));
    for (char c : {'\t', ';'})
        if (line.find(c) != std::string::npos) return c;
    return ',';
}

class Rows {
public:
    Rows(const Board& board, const std::string& text) : m_board(board), m_rows(parse_csv(text, separator_of(text))) {}

    Result<PartsRows> run() {
        if (m_rows.empty()) return Problem{ProblemKind::MissingField, {}, "ref", {}, 0, false};
        std::size_t first = 0;
        if (std::any_of(m_rows[0].cells.begin(), m_rows[0].cells.end(), [](const std::string& c) { return our_heading(c) == "ref"; })) {
            headings(m_rows[0]);
            first = 1;
        }
        for (std::size_t i = first; i < m_rows.size(); ++i) row(m_rows[i]);
        if (has_errors(m_problems)) {
            std::stable_partition(m_problems.begin(), m_problems.end(), [](const Problem& p) { return !p.warning; });
            return m_problems;
        }
        m_out.warnings = std::move(m_problems);
        return std::move(m_out);
    }

private:
    void say(ProblemKind kind, int line, const std::string& column, std::string found, std::string expected = {}, bool warning = false) {
        m_problems.push_back({kind, column, std::move(found), std::move(expected), line, warning});
    }

    void headings(const CsvRow& row) {
        for (std::size_t i = 0; i < row.cells.size(); ++i) {
            const std::string cell = trimmed(row.cells[i]), ours = our_heading(cell);
            const bool pin =
                std::any_of(all_kinds().begin(), all_kinds().end(), [&](const KindInfo& k) { return allows_role(k.kind, cell); });
            if (!ours.empty())
                m_columns[ours] = i;
            else if (pin && !cell.empty() && cell.size() <= kLongestPin)
                m_pin_columns.emplace_back(cell, i);
            else if (!cell.empty())
                say(ProblemKind::UnknownWord, row.line, "", cell, "ref, kind, value, volts, amps, watts, celsius, stage, role, pins", true);
        }
    }

    std::string cell(const CsvRow& row, const std::string& column) const {
        const auto at = m_columns.find(column);
        return at == m_columns.end() || at->second >= row.cells.size() ? std::string() : trimmed(row.cells[at->second]);
    }

    std::optional<double> number(const CsvRow& row, const char* column) {
        const std::string text = cell(row, column);
        if (text.empty()) return std::nullopt;
        const auto q = parse_quantity(text);
        if (q && *q >= 0) return *q;
        say(q ? ProblemKind::NegativeValue : ProblemKind::UnreadableValue, row.line, column, text, "10, 4k7, 0.25");
        return std::nullopt;
    }

    void row(const CsvRow& row) {
        if (m_columns.empty()) return bare(row);
        PartEdit e;
        e.ref = cell(row, "ref");
        if (e.ref.empty()) return say(ProblemKind::MissingField, row.line, "", "ref");
        for (const auto& pair : split_words(replaced(cell(row, "pins"), ",", " "))) {
            const auto sign = pair.find('=');
            if (sign == std::string::npos) {
                say(ProblemKind::UnknownWord, row.line, "pins", pair, "1=HV 2=VCC", true);
                continue;
            }
            e.pins.emplace_back(pair.substr(0, sign), pair.substr(sign + 1));
        }
        for (const auto& [role, at] : m_pin_columns)
            if (at < row.cells.size() && !trimmed(row.cells[at]).empty()) e.pins.emplace_back(role, trimmed(row.cells[at]));
        const std::string kind = lowered(cell(row, "kind"));
        if (!kind.empty()) {
            e.kind = kind_from_name(kind);
            if (!e.kind) return say(ProblemKind::UnknownPartKind, row.line, "kind", kind);
        }
        e.volts = number(row, "volts");
        e.amps = number(row, "amps");
        e.watts = number(row, "watts");
        e.celsius = number(row, "celsius");
        if (const auto stage = cell(row, "stage"); !stage.empty()) e.stage = stage;
        if (const auto role = cell(row, "role"); !role.empty()) e.role = role;
        finish(std::move(e), cell(row, "value"), row.line);
    }

    // Without headings: ref, value or kind in any order, then nets by the order of the pins.
    void bare(const CsvRow& row) {
        PartEdit e;
        std::vector<std::string> words;
        for (const auto& c : row.cells)
            if (!trimmed(c).empty()) words.push_back(trimmed(c));
        if (words.empty()) return;
        e.ref = words.front();
        std::string value;
        std::size_t at = 1;
        if (at < words.size())
            if (const auto kind = kind_from_name(lowered(words[at]))) {
                e.kind = kind;
                ++at;
            }
        const auto kind = kind_so_far(e, at < words.size() ? words[at] : "");
        if (!kind) return say(ProblemKind::MissingField, row.line, "", "kind");
        if (at < words.size() && words.size() - at > kind_info(*kind).roles.size()) value = words[at++];
        for (std::size_t i = 0; i < kind_info(*kind).roles.size() && at < words.size(); ++i)
            e.pins.emplace_back(std::string(kind_info(*kind).roles[i]), words[at++]);
        for (; at < words.size(); ++at) say(ProblemKind::UnknownWord, row.line, e.ref, words[at], "nothing more", true);
        finish(std::move(e), value, row.line);
    }

    std::optional<PartKind> kind_so_far(const PartEdit& e, const std::string& value) const {
        if (e.kind) return e.kind;
        if (const auto part = m_board.find_part(e.ref)) return m_board.part(*part).kind;
        std::vector<std::string> roles;
        for (const auto& [role, net] : e.pins) roles.push_back(role);
        return kind_of_ref(e.ref, value, roles);
    }

    void finish(PartEdit e, const std::string& value, int line) {
        const auto kind = kind_so_far(e, value);
        if (!kind) return say(ProblemKind::MissingField, line, e.ref, "kind");
        if (!e.kind && !m_board.find_part(e.ref)) e.kind = kind;
        if (!value.empty()) {
            const auto readings = value_readings(*kind, value);
            if (readings.empty()) return say(ProblemKind::UnreadableValue, line, e.ref, value, "4k7, 68u, T2A");
            e.value = readings.front().value;
            if (readings.front().volts && !e.volts) e.volts = readings.front().volts;
        }
        m_out.edits.emplace_back(std::move(e));
    }

    static constexpr std::size_t kLongestPin = 4; ///< what is longer is a heading of something else

    const Board& m_board;
    std::vector<CsvRow> m_rows;
    std::map<std::string, std::size_t> m_columns;
    std::vector<std::pair<std::string, std::size_t>> m_pin_columns;
    PartsRows m_out;
    Problems m_problems;
};

} // namespace

Result<PartsRows> parse_parts_rows(const Board& board, const std::string& text) { return Rows(board, text).run(); }

std::string parts_csv(const Board& board) {
    std::string out = csv_line({"ref", "kind", "value", "volts", "amps", "watts", "celsius", "stage", "role", "pins"});
    const auto figure = [](const std::optional<double>& value) { return value ? fmt::format("{:.12g}", *value) : std::string(); };
    for (const auto& part : board.parts) {
        std::vector<std::string> pins;
        for (const auto& pin : part.pins) pins.push_back(pin.role + "=" + pin.net);
        out += csv_line({part.ref, std::string(kind_info(part.kind).name), part.value, figure(part.volts), figure(part.amps),
                         figure(part.watts), figure(part.celsius), part.stage, part.role, joined(pins, " ")});
    }
    return out;
}

} // namespace ohmo
