// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/practice.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>

namespace ohmo {
namespace {

using PracticeJson = nlohmann::ordered_json;

constexpr const char* kShippedText =
#include "practice.inc"
    ;
constexpr const char* kVersion = "ohmotrace-practice";

Problem refusal(ProblemKind kind, const std::string& place, const std::string& found, const std::string& expected = {}) {
    return {kind, place, found, expected, 0, false};
}

// Where each figure is kept.
struct Slot {
    std::string_view name;
    double Practice::*value;
    double Practice::*spread;
};

const std::vector<Slot>& slots() {
    static const std::vector<Slot> all = [] {
        std::vector<Slot> out;
#define OHMO_FIGURE(field, name) out.push_back({name, &Practice::field, nullptr});
#define OHMO_SPREAD(field, name) out.back().spread = &Practice::field;
#include "practice_fields.inc"
#undef OHMO_FIGURE
#undef OHMO_SPREAD
        return out;
    }();
    return all;
}

const Slot* slot(std::string_view name) {
    const auto found = std::find_if(slots().begin(), slots().end(), [&](const Slot& s) { return s.name == name; });
    return found == slots().end() ? nullptr : &*found;
}

std::string text_of(const PracticeJson& object, const char* key) {
    const auto at = object.find(key);
    return at != object.end() && at->is_string() ? at->get<std::string>() : std::string();
}

std::vector<std::string> texts_of(const PracticeJson& object, const char* key) {
    std::vector<std::string> out;
    if (const auto at = object.find(key); at != object.end() && at->is_array())
        for (const auto& one : *at)
            if (one.is_string()) out.push_back(one.get<std::string>());
    return out;
}

// Chances and shares have an upper end; nothing here is negative.
double most_of(const std::string& unit) { return unit == "chance" ? 1 : 1e12; }

std::optional<double> number_at(const PracticeJson& object, const char* key, const std::string& place, double most, Problems& problems) {
    const auto at = object.find(key);
    if (at == object.end()) return std::nullopt;
    const std::string here = place + "/" + key;
    if (!at->is_number())
        problems.push_back(refusal(ProblemKind::SchemaMismatch, here, at->dump(), "a number"));
    else if (at->get<double>() < 0 || at->get<double>() > most)
        problems.push_back(refusal(ProblemKind::OutOfRangeValue, here, at->dump(), fmt::format("0 … {:g}", most)));
    else
        return at->get<double>();
    return std::nullopt;
}

void read_figure(const PracticeJson& object, const std::string& group, const std::string& place, PracticeFile& out, Problems& problems) {
    if (!object.is_object()) return problems.push_back(refusal(ProblemKind::SchemaMismatch, place, object.dump(), "an object"));
    PracticeFigure f;
    f.group = group;
    f.name = text_of(object, "name");
    f.unit = text_of(object, "unit");
    f.what = text_of(object, "what");
    f.source = text_of(object, "source");
    f.used = texts_of(object, "used");
    f.fixed = object.value("fixed", PracticeJson(false)) == PracticeJson(true);
    if (f.name.empty()) return problems.push_back(refusal(ProblemKind::MissingField, place, "name"));
    const auto value = number_at(object, "value", place, most_of(f.unit), problems);
    if (!value && !object.contains("value")) problems.push_back(refusal(ProblemKind::MissingField, place, "value"));
    f.value = value.value_or(0);
    f.spread = number_at(object, "spread", place, 1e3, problems);
    out.figures.push_back(std::move(f));
}

void read_group(const PracticeJson& group, const std::string& place, PracticeFile& out, Problems& problems) {
    if (!group.is_object() || !group.contains("figures") || !group["figures"].is_array())
        return problems.push_back(refusal(ProblemKind::SchemaMismatch, place, "no figures", "an object with a list \"figures\""));
    const std::string name = text_of(group, "group");
    out.about[name] = text_of(group, "what");
    std::size_t k = 0;
    for (const auto& figure : group["figures"]) read_figure(figure, name, fmt::format("{}/figures/{}", place, k++), out, problems);
}

void read_table(const std::string& name, const PracticeJson& table, const std::string& place, PracticeFile& out, Problems& problems) {
    if (!table.is_object() || !table.contains("rows") || !table["rows"].is_object())
        return problems.push_back(refusal(ProblemKind::SchemaMismatch, place, "no rows", "an object with \"rows\""));
    out.about[name] = text_of(table, "what");
    for (const auto& [row, values] : table["rows"].items()) {
        const std::string here = place + "/rows/" + row;
        PracticeRow& r = out.rows.emplace_back();
        r.table = name;
        r.name = row;
        for (const auto& v : values)
            if (v.is_number() && v.get<double>() >= 0 && v.get<double>() <= 1)
                r.values.push_back(v.get<double>());
            else
                problems.push_back(refusal(ProblemKind::OutOfRangeValue, here, v.dump(), "chances, 0 … 1"));
    }
}

// Puts the values of `file` into `into`.
void take(const PracticeFile& file, const std::string& place, Practice& into, Problems& problems) {
    for (const auto& f : file.figures) {
        const std::string here = fmt::format("{}: {}", place, f.name);
        const Slot* at = slot(f.name);
        if (at == nullptr) {
            problems.push_back(refusal(ProblemKind::UnknownFigure, place, f.name));
            continue;
        }
        into.*(at->value) = f.value;
        if (!f.spread) continue;
        if (at->spread != nullptr)
            into.*(at->spread) = *f.spread;
        else
            problems.push_back(refusal(ProblemKind::SchemaMismatch, here, "spread", "a value alone"));
    }
    const std::map<std::string_view, Practice::Temperature Practice::*> temperatures = {
        {"sound", &Practice::sound}, {"leaks", &Practice::leaks}, {"dry", &Practice::dry}, {"cracked", &Practice::cracked}};
    for (const auto& row : file.rows) {
        const auto temperature = row.table == "temperature" ? temperatures.find(row.name) : temperatures.end();
        if (row.table == "symptoms" && row.values.size() == Practice::kRunningStates + 1) {
            auto& told = into.symptoms[row.name];
            std::copy(row.values.begin(), row.values.end() - 1, told.by_state.begin());
            told.loosely = row.values.back();
        } else if (row.table == "natures" && row.values.size() == Practice::kNatures)
            std::copy(row.values.begin(), row.values.end(), into.natures[row.name].begin());
        else if (row.table == "outside" && row.values.size() == Practice::kOutsideColumns)
            std::copy(row.values.begin(), row.values.end(), into.outside[row.name].begin());
        else if (temperature != temperatures.end() && row.values.size() == 4)
            into.*(temperature->second) = {row.values[0], row.values[1], row.values[2], row.values[3]};
        else
            problems.push_back(refusal(ProblemKind::UnknownFigure, fmt::format("{}#/tables/{}", place, row.table), row.name));
    }
}

} // namespace

Result<PracticeFile> parse_practice_file(const std::string& text, const std::string& place) {
    const PracticeJson root = PracticeJson::parse(text, nullptr, false);
    if (root.is_discarded()) return refusal(ProblemKind::JsonBroken, place, {});
    if (!root.is_object() || root.value(kVersion, PracticeJson()) != PracticeJson(1))
        return refusal(ProblemKind::SchemaMismatch, place, "no list of figures", fmt::format("an object with \"{}\": 1", kVersion));
    PracticeFile out;
    Problems problems;
    std::size_t g = 0;
    if (const auto groups = root.find("groups"); groups != root.end())
        for (const auto& group : *groups) read_group(group, fmt::format("{}#/groups/{}", place, g++), out, problems);
    if (const auto tables = root.find("tables"); tables != root.end())
        for (const auto& [name, table] : tables->items()) read_table(name, table, fmt::format("{}#/tables/{}", place, name), out, problems);
    if (!problems.empty()) return problems;
    return out;
}

Result<Practice> practice_of(const PracticeFile& file, const std::string& place) {
    Practice out = shipped_practice();
    Problems problems;
    for (const auto& shipped : shipped_practice_file().figures) {
        const auto same =
            std::find_if(file.figures.begin(), file.figures.end(), [&](const PracticeFigure& f) { return f.name == shipped.name; });
        if (shipped.fixed && same != file.figures.end() && same->value != shipped.value)
            problems.push_back(refusal(ProblemKind::FixedFigure, place, shipped.name, fmt::format("{:g} {}", shipped.value, shipped.unit)));
    }
    take(file, place, out, problems);
    if (!problems.empty()) return problems;
    return out;
}

Result<Practice> load_practice(const Disk& disk, const Path& path) {
    const auto text = disk.read(path, 8u << 20);
    if (!text) return text.problems();
    if (*text == kShippedText) return shipped_practice();
    const std::string place = path.filename().string();
    const auto file = parse_practice_file(*text, place);
    if (!file) return file.problems();
    return practice_of(*file, place);
}

const PracticeFile& shipped_practice_file() {
    static const PracticeFile built_in = [] {
        auto parsed = parse_practice_file(kShippedText, "practice.json");
        return parsed ? std::move(*parsed) : PracticeFile{};
    }();
    return built_in;
}

const Practice& shipped_practice() {
    static const Practice built_in = [] {
        Practice out;
        Problems problems; // none: a test holds the shipped file to it
        take(shipped_practice_file(), "practice.json", out, problems);
        return out;
    }();
    return built_in;
}

} // namespace ohmo
