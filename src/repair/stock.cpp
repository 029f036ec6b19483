// SPDX-License-Identifier: GPL-3.0-or-later
#include "repair/stock.h"

#include "base/csv.h"
#include "base/engineering.h"
#include "base/text.h"

#include <map>

namespace ohmo {
namespace {

class RowReader {
public:
    RowReader(const std::map<std::string, std::size_t>& columns, const std::vector<std::string>& fields, std::string place, int line,
              Problems& problems)
        : m_columns(columns), m_fields(fields), m_place(std::move(place)), m_line(line), m_problems(problems) {}

    std::string text(const std::string& column) const {
        const auto at = m_columns.find(column);
        return at == m_columns.end() || at->second >= m_fields.size() ? std::string() : trimmed(m_fields[at->second]);
    }
    std::optional<double> number(const std::string& column) {
        const std::string cell = text(column);
        if (cell.empty()) return std::nullopt;
        const auto q = parse_quantity(cell);
        if (!q || *q < 0) {
            m_problems.push_back({q ? ProblemKind::NegativeValue : ProblemKind::UnreadableValue, m_place + "/" + column, cell,
                                  "10, 4k7, 0.25", m_line, false});
            return std::nullopt;
        }
        return *q;
    }

private:
    const std::map<std::string, std::size_t>& m_columns;
    const std::vector<std::string>& m_fields;
    std::string m_place;
    int m_line;
    Problems& m_problems;
};

// Problems of a row keep it out.
std::optional<StockItem> read_item(RowReader& row, const std::string& place, int line, Problems& problems) {
    const auto kind = kind_from_name(row.text("kind"));
    if (!kind) {
        problems.push_back({ProblemKind::UnknownPartKind, place + "/kind", row.text("kind"), {}, line, false});
        return std::nullopt;
    }
    StockItem item;
    item.id = row.text("id");
    item.part.ref = item.id;
    item.part.kind = *kind;
    item.part.value = row.text("value");
    item.part.volts = row.number("volts");
    item.part.amps = row.number("amps");
    item.part.watts = row.number("watts");
    item.part.celsius = row.number("celsius");
    item.part.esr = row.number("esr");
    item.count = static_cast<int>(row.number("count").value_or(0));
    item.price = row.number("price").value_or(0);
    const std::string origin = row.text("origin");
    item.origin = origin == "salvaged" ? Origin::Salvaged : origin == "drawer" ? Origin::Drawer : Origin::New;
    const auto nominal = nominal_value(item.part);
    if (!nominal) {
        problems.push_back({nominal.problem().kind, place + "/value", item.part.value, nominal.problem().expected, line, false});
        return std::nullopt;
    }
    item.nominal = *nominal;
    return item;
}

} // namespace

Result<std::vector<StockItem>> parse_stock(const std::string& csv, const std::string& place) {
    std::map<std::string, std::size_t> columns;
    std::vector<StockItem> items;
    Problems problems;
    for (const auto& [line, cells] : parse_csv(csv)) {
        if (columns.empty()) {
            for (std::size_t i = 0; i < cells.size(); ++i) columns[lowered(trimmed(cells[i]))] = i;
            for (const char* need : {"id", "kind", "value", "count"})
                if (!columns.contains(need)) problems.push_back({ProblemKind::MissingField, place, need, {}, line, false});
            if (!problems.empty()) return problems;
            continue;
        }
        RowReader row(columns, cells, place, line, problems);
        if (auto item = read_item(row, place, line, problems)) items.push_back(std::move(*item));
    }
    if (!problems.empty()) return problems;
    return items;
}

} // namespace ohmo
