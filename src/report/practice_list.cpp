// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/practice_list.h"

#include "base/text.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <functional>

namespace ohmo {
namespace {

// Calls `group` before the figures of each group, in the order of the file.
void walk(const PracticeFile& file, const std::function<void(const std::string&)>& group,
          const std::function<void(const PracticeFigure&)>& figure) {
    std::string last;
    for (const auto& f : file.figures) {
        if (f.group != last) group(last = f.group);
        figure(f);
    }
}

std::string spread_text(const PracticeFigure& f) { return f.spread ? fmt::format("{:g}", *f.spread) : std::string(); }

std::string values_text(const PracticeRow& row) {
    std::string out;
    for (double v : row.values) out += (out.empty() ? "" : " ") + fmt::format("{:g}", v);
    return out;
}

} // namespace

std::string practice_text(const PracticeFile& file) {
    std::string out;
    walk(
        file, [&](const std::string& g) { out += fmt::format("{}: {}\n", g, file.about.at(g)); },
        [&](const PracticeFigure& f) {
            out += fmt::format("  {:<28} {:>10g} {:<7} {:>6}  {} ({})\n", f.name, f.value, f.unit, spread_text(f), f.what, f.source);
        });
    std::string table;
    for (const auto& row : file.rows) {
        if (row.table != table) out += fmt::format("{}: {}\n", row.table, file.about.at(table = row.table));
        out += fmt::format("  {:<28} {}\n", row.name, values_text(row));
    }
    return out;
}

std::string practice_markdown(const PracticeFile& file) {
    std::string out =
        "# Figures of practice\n\n"
        "Made by `ohmo practice --markdown` from `data/practice.json`; a test holds this page to that file. These are judgements of\n"
        "practice, not numerics; a technician may edit the file (what is left out keeps its shipped value; safety limits stay). A spread\n"
        "is the standard deviation of the natural logarithm where the unit does not say otherwise. How parts fail, and how they look\n"
        "then, is in [fault-library.md](fault-library.md).\n";
    walk(
        file,
        [&](const std::string& g) {
            out += fmt::format(
                "\n## {}\n\n{}.\n\n| figure | value | unit | spread | what | source | used in |\n|---|---|---|---|---|---|---|\n", g,
                file.about.at(g));
        },
        [&](const PracticeFigure& f) {
            out += fmt::format("| {} | {:g} | {} | {} | {}{} | {} | {} |\n", f.name, f.value, f.unit, spread_text(f), f.what,
                               f.fixed ? " (a safety limit)" : "", f.source, joined(f.used, ", "));
        });
    std::string table;
    for (const auto& row : file.rows) {
        if (row.table != table)
            out += fmt::format("\n## Table: {}\n\nThe {}.\n\n| row | chances |\n|---|---|\n", row.table, file.about.at(table = row.table));
        out += fmt::format("| {} | {} |\n", row.name, values_text(row));
    }
    return out;
}

nlohmann::ordered_json practice_json(const PracticeFile& file) {
    auto figures = nlohmann::ordered_json::array(), rows = nlohmann::ordered_json::array();
    for (const auto& f : file.figures) {
        nlohmann::ordered_json one = {{"group", f.group}, {"name", f.name}, {"value", f.value}, {"unit", f.unit}};
        if (f.spread) one["spread"] = *f.spread;
        one["fixed"] = f.fixed;
        one["what"] = f.what;
        one["source"] = f.source;
        one["used"] = f.used;
        figures.push_back(std::move(one));
    }
    for (const auto& r : file.rows) rows.push_back({{"table", r.table}, {"row", r.name}, {"values", r.values}});
    return {{"figures", figures}, {"rows", rows}};
}

} // namespace ohmo
