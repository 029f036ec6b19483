// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/designs.h"

#include "job/blueprints.h"
#include "support/demo.h"

#include <gtest/gtest.h>

namespace ohmo::test {

Supply usual_supply(const std::string& family) {
    const auto blueprint = read_blueprint(reader(), RealDisk(), blueprint_path(data(), family));
    EXPECT_TRUE(blueprint) << family;
    return *blueprint->supply;
}

Supply fitted(Supply s, const std::string& feed, const std::vector<std::string>& rails,
              const std::vector<std::pair<std::string, std::string>>& options) {
    const auto said = parse_feed(feed);
    EXPECT_TRUE(said) << feed;
    set_feed(s, *said);
    s.rails.clear();
    for (const auto& text : rails) {
        const auto rail = parse_supply_rail(text, s.rails);
        EXPECT_TRUE(rail) << text;
        s.rails.push_back(*rail);
    }
    for (const auto& [name, value] : options) {
        const auto chosen = parse_option(name, value);
        EXPECT_TRUE(chosen) << name;
        s.chosen[chosen->first] = chosen->second;
    }
    return s;
}

std::vector<DesignedSupply> designed_supplies() {
    const struct {
        const char* family;
        const char* feed;
        std::vector<std::string> rails;
        std::vector<std::pair<std::string, std::string>> options;
    } rows[] = {
        {"flyback", "120V 60Hz", {"5V 1A"}, {{"earth-capacitors", "no"}, {"snubber", "zener"}, {"pi-filter", "no"}}},
        {"flyback", "230V", {"12V 3A", "5V 1A from 12V", "-12V 0.3A"}, {{"line-filters", "2"}, {"standby", "yes"}}},
        {"flyback", "120V 60Hz", {"48V 3A", "15V 1A", "5V 4A", "3.3V 1A from 5V"}, {{"voltage-link", "closed"}, {"boards", "3"}}},
        {"flyback", "48V DC", {"12V 2A", "5V 1A"}, {{"line-filters", "0"}}},
        {"flyback-integrated", "100V 50Hz", {"5V 0.6A"}, {{"inrush", "none"}, {"surge-absorber", "no"}, {"line-filters", "0"}}},
        {"flyback-integrated", "230V", {"24V 1A"}, {{"snubber", "zener"}}},
        {"flyback-integrated", "240V", {"12V 3A", "5V 1A"}, {{"line-filters", "2"}, {"earth-capacitors", "yes"}}},
        {"flyback-synchronous", "120V 60Hz", {"5V 3A"}, {{"line-filters", "1"}}},
        {"flyback-synchronous", "230V", {"12V 5A"}, {{"pi-filter", "yes"}}},
        {"flyback-synchronous", "230V", {"24V 6A"}, {}},
        {"constant-current", "120V 60Hz", {"12V 0.7A"}, {{"pi-filter", "no"}}},
        {"constant-current", "230V", {"36V 1.4A"}, {}},
        {"constant-current", "230V", {"48V 3A"}, {{"line-filters", "2"}}},
        {"self-oscillating", "120V 60Hz", {"12V 1.5A"}, {}},
        {"self-oscillating", "230V", {"24V 2A", "12V 1A"}, {{"line-filters", "2"}}},
        {"self-oscillating", "120V 60Hz", {"36V 4A", "5V 1A from 36V"}, {{"voltage-link", "closed"}, {"over-voltage", "crowbar"}}},
        {"half-bridge", "230V", {"12V 8A"}, {{"standby", "no"}, {"voltage-link", "none"}}},
        {"half-bridge", "120V 60Hz", {"24V 10A", "12V 4A", "-12V 0.5A"}, {{"voltage-link", "closed"}}},
        {"half-bridge", "230V", {"48V 8A", "12V 5A", "5V 10A", "3.3V 5A from 5V"}, {{"boards", "4"}, {"over-voltage", "clamp"}}},
        {"linear", "120V 60Hz", {"5V 1A"}, {}},
        {"linear", "230V", {"15V 1A", "-15V 1A", "5V 0.5A from 15V"}, {}},
        {"linear", "230V", {"24V 5A", "12V 1A", "-12V 1A"}, {{"current-limit", "yes"}}},
        {"adapter", "120V 60Hz", {"5V 0.3A"}, {}},
        {"adapter", "230V", {"9V 1A"}, {{"over-voltage", "clamp"}}},
        {"adapter", "230V", {"24V 1A"}, {{"minimum-load", "yes"}}},
        {"ac-fed-split", "9V AC", {"5V 0.2A"}, {}},
        {"ac-fed-split", "18V AC", {"15V 0.5A", "-15V 0.5A", "5V 0.2A"}, {{"over-voltage", "clamp"}}},
        {"ac-fed-split", "24V AC", {"18V 0.5A", "-18V 0.5A"}, {{"input-switch", "yes"}}},
        {"buck", "5V DC", {"1.2V 3A"}, {}},
        {"buck", "24V DC", {"5V 3A", "3.3V 2A"}, {{"over-voltage", "clamp"}}},
        {"buck", "48V DC", {"12V 5A", "5V 5A", "3.3V 1A from 5V"}, {{"boards", "2"}}},
        {"rail", "5V DC", {"5V 1A"}, {{"boards", "2"}, {"pi-filter", "no"}}},
        {"rail", "12V DC", {"12V 2A", "5V 1A"}, {{"boards", "3"}}},
        {"rail", "24V DC", {"24V 4A", "12V 2A", "5V 2A"}, {{"boards", "6"}}},
        {"inverter", "12V DC", {"170V 0.8A"}, {}},
        {"inverter", "24V DC", {"320V 1.5A"}, {{"damper", "yes"}}},
        {"inverter", "48V DC", {"350V 4A"}, {{"input-switch", "yes"}}},
    };
    std::vector<DesignedSupply> out;
    for (const auto& row : rows) {
        std::string name = std::string(row.family) + " " + row.feed;
        for (const auto& r : row.rails) name += ", " + r;
        out.push_back({name, fitted(usual_supply(row.family), row.feed, row.rails, row.options)});
    }
    return out;
}

} // namespace ohmo::test
