// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/fault_library.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <cmath>

namespace ohmo {
namespace {

using nlohmann::json;

double number(const json& object, const char* key, double fallback, const std::string& place, Problems& out, double low, double high) {
    const auto at = object.find(key);
    if (at == object.end()) return fallback;
    if (!at->is_number() || at->get<double>() < low || at->get<double>() > high) {
        out.push_back({ProblemKind::OutOfRangeValue, place + "/" + key, at->dump(), fmt::format("{} … {}", low, high), 0, false});
        return fallback;
    }
    return at->get<double>();
}

// The object under `key`, or an empty one; a reference, because items() keeps one.
const json& object_under(const json& object, const char* key) {
    static const json empty = json::object();
    const auto at = object.find(key);
    return at != object.end() && at->is_object() ? *at : empty;
}

ModeEntry mode_entry(const json& object, const std::string& place, Problems& out) {
    ModeEntry entry;
    entry.share = number(object, "share", 0, place, out, 0, 1);
    double sum = 0;
    for (const auto& [look, chance] : object_under(object, "looks").items()) {
        entry.looks[look] = chance.is_number() ? chance.get<double>() : -1;
        if (entry.looks[look] < 0)
            out.push_back({ProblemKind::OutOfRangeValue, place + "/looks/" + look, chance.dump(), "0 … 1", 0, false});
        sum += entry.looks[look];
    }
    if (sum > 1 + 1e-9) out.push_back({ProblemKind::OutOfRangeValue, place + "/looks", fmt::format("{}", sum), "0 … 1", 0, false});
    return entry;
}

KindEntry kind_entry(PartKind kind, const json& object, const std::string& place, Problems& out) {
    KindEntry entry;
    entry.rate = number(object, "rate", 0, place, out, 0, 1e6);
    entry.age_per_year = number(object, "age_per_year", 0, place, out, -1, 1);
    for (const auto& [word, factor] : object_under(object, "history").items())
        if (factor.is_number()) entry.history[word] = factor.get<double>();
    double shares = 0;
    for (const auto& [name, value] : object_under(object, "modes").items()) {
        const std::string mode_place = fmt::format("{}/modes/{}", place, name);
        auto mode = mode_from_name(name);
        if (mode == FaultMode::High && kind == PartKind::Regulator) mode = FaultMode::RegulatorHigh;
        if (!mode || !mode_applies(kind, *mode) || !value.is_object()) {
            out.push_back({ProblemKind::UnknownFaultMode, mode_place, name, {}, 0, false});
            continue;
        }
        entry.modes[*mode] = mode_entry(value, mode_place, out);
        shares += entry.modes[*mode].share;
    }
    if (std::fabs(shares - 1) > 0.01)
        out.push_back({ProblemKind::OutOfRangeValue, place + "/modes", fmt::format("shares sum to {}", shares), "1", 0, false});
    return entry;
}

} // namespace

double ModeEntry::looks_fine() const {
    double rest = 1;
    for (const auto& [look, chance] : looks) rest -= chance;
    return std::max(rest, 0.02);
}

const ModeEntry* FaultLibrary::find(PartKind kind, FaultMode mode) const {
    const auto entry = kinds.find(kind);
    if (entry == kinds.end()) return nullptr;
    const auto at = entry->second.modes.find(mode);
    return at == entry->second.modes.end() ? nullptr : &at->second;
}

double FaultLibrary::weight(const Part& part, FaultMode mode, const std::set<std::string>& history) const {
    const auto entry = kinds.find(part.kind);
    const auto* mode_data = find(part.kind, mode);
    if (entry == kinds.end() || mode_data == nullptr) return 0;
    double weight = entry->second.rate * mode_data->share;
    if (part.age_years) weight *= std::exp(entry->second.age_per_year * (*part.age_years - 5));
    for (const auto& word : history)
        if (const auto factor = entry->second.history.find(word); factor != entry->second.history.end()) weight *= factor->second;
    return weight;
}

Result<FaultLibrary> parse_fault_library(const std::string& text, const std::string& place) {
    const json data = json::parse(text, nullptr, false);
    if (data.is_discarded() || !data.is_object()) return Problem{ProblemKind::JsonBroken, place, {}, {}, 0, false};
    FaultLibrary library;
    Problems problems;
    library.good_supply = number(data, "good_supply", library.good_supply, place, problems, 0, 0.9);
    library.second_fault = number(data, "second_fault", library.second_fault, place, problems, 0, 5);
    library.reserve = number(data, "reserve", library.reserve, place, problems, 1e-6, 0.5);
    for (const auto& [name, value] : object_under(data, "kinds").items()) {
        const auto kind = kind_from_name(name);
        const std::string kind_place = fmt::format("{}#/kinds/{}", place, name);
        if (!kind || !value.is_object())
            problems.push_back({ProblemKind::UnknownPartKind, kind_place, name, {}, 0, false});
        else
            library.kinds[*kind] = kind_entry(*kind, value, kind_place, problems);
    }
    if (!problems.empty()) return problems;
    return library;
}

Result<FaultLibrary> load_fault_library(const Disk& disk, const Path& path) {
    const auto text = disk.read(path, 8u << 20);
    if (!text) return text.problems();
    return parse_fault_library(*text, path.filename().string());
}

} // namespace ohmo
