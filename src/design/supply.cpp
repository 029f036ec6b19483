// SPDX-License-Identifier: GPL-3.0-or-later
#include "design/supply.h"

#include "base/engineering.h"
#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kLeastMains = 90, kMostMains = 264; // V rms: nominal mains of the world with their tolerance
constexpr double kMostVolts = 1000, kMostAmps = 200; // beyond any bench supply
constexpr double kLeastDrop = 0.5;                   // V over a series regulator
constexpr double kMostDoubled = 132;                 // V rms: 120 V and a tenth
constexpr double kMostBuckShare = 0.9;               // of its input that a step-down converter can give

const std::vector<std::string_view>& flag() {
    static const std::vector<std::string_view> values = {"no", "yes"};
    return values;
}

std::string joined(const std::vector<std::string_view>& words) {
    std::string out;
    for (const auto w : words) out += (out.empty() ? "" : ", ") + std::string(w);
    return out;
}

Problem wrong(ProblemKind kind, const std::string& place, const std::string& found, const std::string& expected) {
    return {kind, place, found, expected, 0, false};
}

// "12V" and "3A" of "12 V 3 A": a figure without its unit takes the next word's.
std::vector<std::string> quantities(std::string_view text) {
    std::vector<std::string> out;
    for (const auto& word : split_words(text)) {
        const bool unit = !out.empty() && word.size() <= 2 && std::isalpha(static_cast<unsigned char>(word.front())) &&
                          !out.back().empty() && std::isdigit(static_cast<unsigned char>(out.back().back()));
        if (unit)
            out.back() += word;
        else
            out.push_back(word);
    }
    return out;
}

std::optional<double> with_unit(std::string text, char unit) {
    const bool negative = !text.empty() && text.front() == '-';
    if (negative || (!text.empty() && text.front() == '+')) text.erase(0, 1);
    const auto at = uppered(text).find(unit);
    if (at == std::string::npos) return std::nullopt;
    if (at + 1 == text.size())
        text.pop_back();
    else
        text[at] = '.'; // 3V3
    const auto value = parse_quantity(text);
    if (!value) return std::nullopt;
    return negative ? -*value : *value;
}

} // namespace

const std::vector<OptionInfo>& all_options() {
    static const std::vector<OptionInfo> options = {
        {Option::Inrush, "inrush", {"none", "thermistor", "resistor"}},
        {Option::LineFilters, "line-filters", {"0", "1", "2"}},
        {Option::SurgeAbsorber, "surge-absorber", flag()},
        {Option::InputSwitch, "input-switch", flag()},
        {Option::VoltageLink, "voltage-link", {"none", "open", "closed"}},
        {Option::Snubber, "snubber", {"none", "resistor-capacitor", "zener"}},
        {Option::Damper, "damper", flag()},
        {Option::EarthCapacitors, "earth-capacitors", flag()},
        {Option::Standby, "standby", flag()},
        {Option::PiFilter, "pi-filter", flag()},
        {Option::OverVoltage, "over-voltage", {"none", "clamp", "crowbar"}},
        {Option::PowerLed, "power-led", flag()},
        {Option::MinimumLoad, "minimum-load", flag()},
        {Option::CurrentLimit, "current-limit", flag()},
        {Option::Boards, "boards", {"1", "2", "3", "4", "5", "6"}},
    };
    return options;
}

const OptionInfo& option_info(Option option) { return all_options()[static_cast<std::size_t>(option)]; }

const OptionInfo* find_option(std::string_view name) {
    const auto& all = all_options();
    const auto found = std::find_if(all.begin(), all.end(), [&](const OptionInfo& o) { return o.name == name; });
    return found == all.end() ? nullptr : &*found;
}

const std::vector<FamilyInfo>& all_families() {
    using O = Option;
    static const std::vector<Option> entry = {O::InputSwitch, O::SurgeAbsorber, O::LineFilters, O::EarthCapacitors, O::Inrush};
    static const std::vector<Option> ends = {O::OverVoltage, O::MinimumLoad, O::PowerLed, O::Boards};
    const auto with = [](std::initializer_list<Option> own) {
        std::vector<Option> out = entry;
        out.insert(out.end(), own);
        out.insert(out.end(), ends.begin(), ends.end());
        return out;
    };
    static const std::vector<FamilyInfo> families = {
        {"flyback", {Feed::Mains, Feed::DirectVolts}, with({O::VoltageLink, O::Snubber, O::Standby, O::PiFilter}), 8, true, true},
        {"flyback-integrated", {Feed::Mains, Feed::DirectVolts}, with({O::VoltageLink, O::Snubber, O::PiFilter}), 8, true, true},
        {"flyback-synchronous", {Feed::Mains, Feed::DirectVolts}, with({O::VoltageLink, O::Snubber, O::PiFilter}), 1, false, false},
        {"constant-current", {Feed::Mains, Feed::DirectVolts}, with({O::VoltageLink, O::Snubber, O::PiFilter}), 1, false, false},
        {"self-oscillating", {Feed::Mains}, with({O::VoltageLink}), 4, false, true},
        {"half-bridge", {Feed::Mains}, with({O::VoltageLink, O::Damper, O::Standby}), 6, true, true},
        {"linear",
         {Feed::Mains},
         {O::InputSwitch, O::SurgeAbsorber, O::LineFilters, O::CurrentLimit, O::OverVoltage, O::MinimumLoad, O::PowerLed, O::Boards},
         6,
         true,
         true},
        {"adapter", {Feed::Mains}, {O::OverVoltage, O::MinimumLoad, O::PowerLed}, 1, false, false},
        {"ac-fed-split",
         {Feed::AlternatingVolts},
         {O::InputSwitch, O::SurgeAbsorber, O::OverVoltage, O::MinimumLoad, O::PowerLed},
         4,
         true,
         true},
        {"buck", {Feed::DirectVolts}, {O::Damper, O::OverVoltage, O::MinimumLoad, O::PowerLed, O::Boards}, 4, false, true},
        {"rail", {Feed::DirectVolts}, {O::PiFilter, O::OverVoltage, O::PowerLed, O::Boards}, 4, false, true},
        {"inverter", {Feed::DirectVolts}, {O::SurgeAbsorber, O::InputSwitch, O::Damper}, 1, false, false},
    };
    return families;
}

const FamilyInfo* find_family(std::string_view name) {
    const auto& all = all_families();
    const auto found = std::find_if(all.begin(), all.end(), [&](const FamilyInfo& f) { return f.name == name; });
    return found == all.end() ? nullptr : &*found;
}

int Supply::choice(Option option) const {
    const auto found = chosen.find(option);
    return found == chosen.end() ? 0 : found->second;
}

double Supply::watts() const {
    double sum = 0;
    for (const auto& r : rails)
        if (!r.from) sum += std::fabs(r.volts * r.amps);
    return sum;
}

Result<SupplyRail> parse_supply_rail(std::string_view text, const std::vector<SupplyRail>& before) {
    const auto bad = wrong(ProblemKind::UnreadableValue, "rail", std::string(text), "such as \"12V 3A\" or \"5V 1A from 12V\"");
    auto words = quantities(text);
    SupplyRail rail;
    if (words.size() >= 2 && words[words.size() - 2] == "from") {
        const auto source = with_unit(words.back(), 'V');
        if (!source) return bad;
        for (std::size_t i = 0; i < before.size() && !rail.from; ++i)
            if (std::fabs(before[i].volts - *source) < 1e-9) rail.from = static_cast<int>(i);
        if (!rail.from) return wrong(ProblemKind::OutOfRangeValue, "rail", "from " + words.back(), "a rail that was named before it");
        words.resize(words.size() - 2);
    }
    if (words.size() != 2) return bad;
    const auto volts = with_unit(words[0], 'V'), amps = with_unit(words[1], 'A');
    if (!volts || !amps) return bad;
    rail.volts = *volts;
    rail.amps = *amps;
    return rail;
}

std::string supply_rail_text(const SupplyRail& rail, const std::vector<SupplyRail>& rails) {
    std::string out = fmt::format("{:g}V {:g}A", rail.volts, rail.amps);
    if (rail.from) out += fmt::format(" from {:g}V", rails[static_cast<std::size_t>(*rail.from)].volts);
    return out;
}

Result<FeedSaid> parse_feed(std::string_view text) {
    const auto bad =
        wrong(ProblemKind::UnreadableValue, "feed", std::string(text), "such as \"230V\", \"120V 60Hz\", \"24V DC\" or \"15V AC\"");
    std::optional<double> volts, hertz;
    bool direct = false, alternating = false;
    for (const auto& word : quantities(text)) {
        const std::string w = uppered(word);
        if (w == "DC")
            direct = true;
        else if (w == "AC")
            alternating = true;
        else if (const auto v = with_unit(word, 'V'); v && !volts)
            volts = v;
        else if (w.size() > 2 && w.ends_with("HZ") && !hertz) {
            const auto h = parse_quantity(word.substr(0, word.size() - 2));
            if (!h) return bad;
            hertz = *h;
        } else if (w.size() > 3 && (w.ends_with("VDC") || w.ends_with("VAC")) && !volts) {
            (w.ends_with("DC") ? direct : alternating) = true;
            const auto figure = parse_quantity(word.substr(0, word.size() - 3));
            if (!figure) return bad;
            volts = *figure;
        } else
            return bad;
    }
    if (!volts || *volts <= 0 || (direct && (alternating || hertz))) return bad;
    if (direct) return FeedSaid{Feed::DirectVolts, *volts, 0};
    const double line = hertz.value_or(*volts >= kLeastMains && *volts < 130 ? 60 : 50);
    return FeedSaid{*volts >= kLeastMains ? Feed::Mains : Feed::AlternatingVolts, *volts, line};
}

void set_feed(Supply& supply, const FeedSaid& said) {
    supply.feed = said.feed;
    supply.volts = said.volts;
    supply.hertz = said.hertz;
}

std::string feed_text(const Supply& s) {
    if (s.feed == Feed::DirectVolts) return fmt::format("{:g}V DC", s.volts);
    return fmt::format("{:g}V {}{:g}Hz", s.volts, s.feed == Feed::AlternatingVolts ? "AC " : "", s.hertz);
}

Result<std::pair<Option, int>> parse_option(std::string_view name, std::string_view value) {
    const auto* info = find_option(name);
    if (info == nullptr) {
        std::vector<std::string_view> names;
        for (const auto& o : all_options()) names.push_back(o.name);
        return wrong(ProblemKind::UnknownWord, "option", std::string(name), joined(names));
    }
    const auto found = std::find(info->values.begin(), info->values.end(), value);
    if (found == info->values.end()) return wrong(ProblemKind::UnknownWord, std::string(name), std::string(value), joined(info->values));
    return std::pair{info->option, static_cast<int>(found - info->values.begin())};
}

bool applies(Option option, const Supply& s) {
    switch (option) {
    case Option::Inrush:
    case Option::LineFilters:
    case Option::VoltageLink:
        return s.feed == Feed::Mains;
    case Option::EarthCapacitors:
        return s.feed == Feed::Mains && s.has(Option::LineFilters);
    default:
        return true;
    }
}

Problems supply_problems(const Supply& s) {
    Problems out;
    const auto refuse = [&](const std::string& place, const std::string& found, const std::string& expected) {
        out.push_back(wrong(ProblemKind::OutOfRangeValue, place, found, expected));
    };
    const auto* family = find_family(s.family);
    if (family == nullptr) {
        std::vector<std::string_view> names;
        for (const auto& f : all_families()) names.push_back(f.name);
        out.push_back(wrong(ProblemKind::UnknownWord, "family", s.family, joined(names)));
        return out;
    }
    if (std::find(family->feeds.begin(), family->feeds.end(), s.feed) == family->feeds.end()) {
        std::vector<std::string_view> may;
        for (const auto f : family->feeds)
            may.push_back(f == Feed::Mains ? "mains" : f == Feed::DirectVolts ? "direct volts" : "alternating volts of an adapter");
        refuse("feed", s.feed == Feed::DirectVolts ? "direct volts" : "alternating volts", joined(may));
    }
    if (s.feed == Feed::Mains && (s.volts < kLeastMains || s.volts > kMostMains))
        refuse("feed", fmt::format("{:g} V", s.volts), fmt::format("mains of {:g} to {:g} V", kLeastMains, kMostMains));
    if (s.feed != Feed::DirectVolts && (s.hertz < 16 || s.hertz > 400)) refuse("feed", fmt::format("{:g} Hz", s.hertz), "16 to 400 Hz");
    if (!(s.volts > 0) || s.volts > kMostVolts) refuse("feed", fmt::format("{:g} V", s.volts), "volts above 0");
    if (s.rails.empty() || static_cast<int>(s.rails.size()) > family->most_rails)
        refuse("rails", fmt::format("{}", s.rails.size()), fmt::format("1 to {} of this family", family->most_rails));
    bool own = false;
    for (std::size_t i = 0; i < s.rails.size(); ++i) {
        const auto& r = s.rails[i];
        const std::string place = fmt::format("rail {}", i + 1);
        if (r.volts == 0 || !(std::fabs(r.volts) <= kMostVolts)) refuse(place, fmt::format("{:g} V", r.volts), "volts other than 0");
        if (!(r.amps > 0) || r.amps > kMostAmps) refuse(place, fmt::format("{:g} A", r.amps), "amperes above 0");
        if (r.volts < 0 && !family->negative) refuse(place, fmt::format("{:g} V", r.volts), "positive rails in this family");
        if (!r.from) {
            own = own || r.volts > 0;
            continue;
        }
        if (!family->regulated) refuse(place, "from another rail", "a rail of its own in this family");
        if (*r.from < 0 || *r.from >= static_cast<int>(i)) {
            refuse(place, "from a rail that comes later", "a rail that was named before it");
            continue;
        }
        const auto& source = s.rails[static_cast<std::size_t>(*r.from)];
        if (source.from) refuse(place, "from a rail that is regulated down itself", "a rail of a winding");
        if ((source.volts < 0) != (r.volts < 0) || std::fabs(source.volts) < std::fabs(r.volts) + kLeastDrop)
            refuse(place, fmt::format("{:g} V from {:g} V", r.volts, source.volts),
                   fmt::format("a rail of the same sign, at least {:g} V higher", kLeastDrop));
        if (source.amps < r.amps)
            refuse(place, fmt::format("{:g} A from {:g} A", r.amps, source.amps), "no more than the rail that it comes from gives");
    }
    if (!s.rails.empty() && !own) refuse("rails", "none positive with a winding of its own", "at least one");
    for (const auto& [option, value] : s.chosen) {
        const auto& info = option_info(option);
        if (value < 0 || value >= static_cast<int>(info.values.size()))
            refuse(std::string(info.name), fmt::format("{}", value), joined(info.values));
        else if (value > 0 && std::find(family->options.begin(), family->options.end(), option) == family->options.end())
            refuse(std::string(info.name), std::string(info.values[static_cast<std::size_t>(value)]), "not of this family");
    }
    if (s.has(Option::VoltageLink) && s.feed != Feed::Mains) refuse("voltage-link", "a link", "only where the mains is rectified");
    if (s.doubled() && s.volts > kMostDoubled)
        refuse("voltage-link", fmt::format("closed at {:g} V", s.volts),
               fmt::format("closed up to {:g} V: more would burst the capacitors", kMostDoubled));
    for (std::size_t i = 0; i < s.rails.size(); ++i)
        if (s.family == "buck" && !s.rails[i].from && s.rails[i].volts > kMostBuckShare * s.volts)
            refuse(fmt::format("rail {}", i + 1), fmt::format("{:g} V from {:g} V", s.rails[i].volts, s.volts),
                   "a rail below what feeds it");
    return out;
}

} // namespace ohmo
