// SPDX-License-Identifier: GPL-3.0-or-later
// What one sees of a supply before it is traced: its family, what feeds it, the rails on its label or plug, and what stands on the board.
#pragma once
#include "base/result.h"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace ohmo {

/// A rail as the label or the plug gives it.
struct SupplyRail {
    double volts = 0;        ///< V, negative for a negative rail
    double amps = 0;         ///< A at full load, with what other rails are regulated down from it
    std::optional<int> from; ///< the rail that it is regulated down from; nothing: a winding, or the input, of its own
    bool operator==(const SupplyRail&) const = default;
};

/// What may stand on a board or not. Each takes one of a few named values.
enum class Option {
    Inrush,        ///< what limits the current at switch-on
    LineFilters,   ///< common-mode chokes
    SurgeAbsorber, ///< a varistor across the input
    InputSwitch,
    VoltageLink, ///< two stacked bulk capacitors and a link to their middle: open, or closed to double 120 V
    Snubber,     ///< what takes the peak at the switch of a flyback
    Damper,      ///< resistor and capacitor where switches ring
    EarthCapacitors,
    Standby,  ///< a small supply of its own that runs all the time
    PiFilter, ///< an inductor and a second capacitor on each rail
    OverVoltage,
    PowerLed,
    MinimumLoad,
    CurrentLimit, ///< a transistor that watches the current of a series regulator
    Boards,       ///< how many boards hang on a rail
};

struct OptionInfo {
    Option option;
    std::string_view name;                ///< as on the command line: "inrush"
    std::vector<std::string_view> values; ///< of a flag: "no", "yes"
};
const std::vector<OptionInfo>& all_options();
const OptionInfo& option_info(Option option);
const OptionInfo* find_option(std::string_view name);

enum class Feed { Mains, AlternatingVolts, DirectVolts };

/// What a family can be.
struct FamilyInfo {
    std::string_view name; ///< as the blueprint is called
    std::vector<Feed> feeds;
    std::vector<Option> options;
    int most_rails = 1;
    bool negative = false;  ///< rails may be negative
    bool regulated = false; ///< rails may be regulated down from another
};
const std::vector<FamilyInfo>& all_families();
const FamilyInfo* find_family(std::string_view name);

struct Supply {
    std::string family;
    Feed feed = Feed::Mains;
    double volts = 230; ///< of the feed, rms where it alternates
    double hertz = 50;  ///< 0 for direct volts
    std::vector<SupplyRail> rails;
    std::map<Option, int> chosen; ///< index of the value of each option; what is left out is the first

    int choice(Option option) const;
    bool has(Option option) const { return choice(option) > 0; }
    bool doubled() const { return choice(Option::VoltageLink) == 2; }
    double watts() const; ///< all rails at full load; what is regulated down is part of its source
    bool operator==(const Supply&) const = default;
};

/// "12V 3A", "-12 V 0.5 A", "5V 1A from 12V": `before` are the rails that it may come from. Errors: UnreadableValue, OutOfRangeValue.
Result<SupplyRail> parse_supply_rail(std::string_view text, const std::vector<SupplyRail>& before);
std::string supply_rail_text(const SupplyRail& rail, const std::vector<SupplyRail>& rails); ///< the same back

/// "230V", "120V 60Hz", "24V DC", "15V AC": mains from 90 V up, direct where it says DC. Errors: UnreadableValue.
struct FeedSaid {
    Feed feed;
    double volts, hertz;
};
Result<FeedSaid> parse_feed(std::string_view text);
void set_feed(Supply& supply, const FeedSaid& said);
std::string feed_text(const Supply& supply); ///< the same back

/// "inrush", "thermistor". Errors: UnknownWord.
Result<std::pair<Option, int>> parse_option(std::string_view name, std::string_view value);

/// Whether an option of its family makes a difference: what only the mains has is left out where direct volts feed it.
bool applies(Option option, const Supply& supply);

/// Whether the family can be so. Errors: UnknownWord, OutOfRangeValue; places are "family", "mains", "rail 2", an option.
Problems supply_problems(const Supply& supply);

} // namespace ohmo
