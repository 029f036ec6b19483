// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/families.h"

#include "base/constants.h"
#include "base/text.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace ohmo {
namespace {

using Json = nlohmann::json;

constexpr const char* kBuiltIn =
#include "device_families.inc"
    ;

Problem wrong(ProblemKind kind, const std::string& place, const std::string& found, const std::string& expected) {
    return {kind, place, found, expected, 0, false};
}

// Reads a positive number into `out`; absent is fine.
template <class Out>
bool number(const Json& from, const char* key, Out& out, const std::string& at, Problems& problems) {
    if (!from.contains(key)) return false;
    const auto& v = from[key];
    if (!v.is_number() || v.get<double>() <= 0) {
        problems.push_back(wrong(ProblemKind::OutOfRangeValue, at + "/" + key, v.dump(), "a number above 0"));
        return false;
    }
    out = v.get<double>();
    return true;
}

DeviceFamily read_family(const Json& j, const std::string& at, Problems& problems) {
    DeviceFamily f;
    f.name = j.value("name", "");
    f.base.family = f.name;
    if (f.name.empty()) problems.push_back(wrong(ProblemKind::SchemaMismatch, at, "no name", "\"name\": \"…\""));
    for (const auto& kind : j.value("kinds", Json::array())) {
        const auto k = kind.is_string() ? kind_from_name(kind.get<std::string>()) : std::nullopt;
        if (k)
            f.kinds.push_back(*k);
        else
            problems.push_back(wrong(ProblemKind::UnknownPartKind, at + "/kinds", kind.dump(), "a kind of docs/job-format.md"));
    }
    for (const auto& word : j.value("words", Json::array()))
        if (word.is_string()) f.words.push_back(uppered(word.get<std::string>()));
    number(j, "least_volts", f.least_volts, at, problems);
    number(j, "most_volts", f.most_volts, at, problems);
    number(j, "most_amps", f.most_amps, at, problems);
    number(j, "least_amps", f.least_amps, at, problems);
    if (j.contains("junction") && j["junction"].is_object()) {
        const auto& p = j["junction"];
        f.has_junction = true;
        auto& m = f.base.junction;
        number(p, "is", m.is, at + "/junction", problems);
        number(p, "n", m.n, at + "/junction", problems);
        number(p, "breakdown", m.bv, at + "/junction", problems);
        number(p, "breakdown_exponent", f.breakdown_exponent, at + "/junction", problems);
        number(p, "is_per_amp", f.is_per_amp, at + "/junction", problems);
        number(p, "series_volts", f.series_volts, at + "/junction", problems);
        number(p, "breakdown_share", f.breakdown_share, at + "/junction", problems);
    }
    if (j.contains("bipolar") && j["bipolar"].is_object()) {
        const auto& p = j["bipolar"];
        f.has_bipolar = true;
        auto& m = f.base.bipolar;
        number(p, "is", m.is, at + "/bipolar", problems);
        number(p, "forward_gain", m.forward_gain, at + "/bipolar", problems);
        number(p, "reverse_gain", m.reverse_gain, at + "/bipolar", problems);
        number(p, "emitter_breakdown", m.emitter_breakdown, at + "/bipolar", problems);
    }
    if (j.contains("channel") && j["channel"].is_object()) {
        const auto& p = j["channel"];
        f.has_channel = true;
        auto& m = f.base.channel;
        number(p, "threshold", m.threshold, at + "/channel", problems);
        number(p, "gate_farads", m.gate_farads, at + "/channel", problems);
        number(p, "gain_per_amp", f.gain_per_amp, at + "/channel", problems);
    }
    return f;
}

bool fits(const DeviceFamily& f, const Part& part, const Nominal& nominal) {
    if (std::find(f.kinds.begin(), f.kinds.end(), part.kind) == f.kinds.end()) return false;
    if (!f.words.empty()) {
        const auto words = split_words(uppered(part.value));
        if (std::none_of(f.words.begin(), f.words.end(),
                         [&](const std::string& w) { return std::find(words.begin(), words.end(), w) != words.end(); }))
            return false;
    }
    if (f.least_volts && nominal.volts.value_or(0) < *f.least_volts) return false;
    if (f.most_volts && (!nominal.volts || *nominal.volts > *f.most_volts)) return false;
    if (f.least_amps && nominal.amps.value_or(0) < *f.least_amps) return false;
    if (f.most_amps && (!nominal.amps || *nominal.amps > *f.most_amps)) return false;
    return true;
}

} // namespace

Result<DeviceFamilies> parse_device_families(const std::string& text, const std::string& place) {
    const Json root = Json::parse(text, nullptr, false);
    if (root.is_discarded()) return wrong(ProblemKind::JsonBroken, place, {}, "JSON");
    if (!root.is_object() || !root.contains("families") || !root["families"].is_array())
        return wrong(ProblemKind::SchemaMismatch, place, "no families", "an object with a list \"families\"");
    Problems problems;
    DeviceFamilies out;
    std::size_t i = 0;
    for (const auto& f : root["families"]) {
        const std::string at = place + "#/families/" + std::to_string(i++);
        if (f.is_object())
            out.push_back(read_family(f, at, problems));
        else
            problems.push_back(wrong(ProblemKind::SchemaMismatch, at, f.dump(), "an object"));
    }
    if (!problems.empty()) return problems;
    return out;
}

const DeviceFamilies& device_families() {
    static const DeviceFamilies built_in = [] {
        auto parsed = parse_device_families(kBuiltIn, "device-families.json");
        return parsed ? std::move(*parsed) : DeviceFamilies{};
    }();
    return built_in;
}

DeviceModel device_model(const Part& part, const Nominal& nominal, const DeviceFamilies& families) {
    for (const auto& f : families) {
        if (!fits(f, part, nominal)) continue;
        DeviceModel m = f.base;
        const double amps = nominal.amps.value_or(part.kind == PartKind::Schottky ? 3.0 : 1.0);
        if (f.is_per_amp) m.junction.is = *f.is_per_amp * amps;
        if (f.series_volts) m.junction.rs = *f.series_volts / amps;
        if (f.breakdown_share && nominal.volts) m.junction.bv = *f.breakdown_share * *nominal.volts;
        if (f.breakdown_exponent && m.junction.bv > 0) // as steep for every rating
            m.junction.breakdown_ideality = m.junction.bv / (*f.breakdown_exponent * kThermalVolts);
        if (f.gain_per_amp) m.channel.gain = *f.gain_per_amp * amps;
        return m;
    }
    return {};
}

} // namespace ohmo
