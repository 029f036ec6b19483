// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/supply_json.h"

#include <fmt/format.h>

namespace ohmo::detail {
namespace {

void at(Problems& all, Problems some, const std::string& place) {
    for (auto& p : some) {
        p.place = place;
        all.push_back(std::move(p));
    }
}

} // namespace

Result<Supply> read_supply(const nlohmann::json& object, const std::string& place) {
    Problems problems;
    const auto mismatch = [&](const std::string& key, const std::string& expected) {
        problems.push_back(
            {ProblemKind::SchemaMismatch, place + "/" + key, object.contains(key) ? object[key].dump() : "nothing", expected, 0, false});
    };
    if (!object.is_object()) return Problem{ProblemKind::SchemaMismatch, place, object.dump(), "an object", 0, false};
    Supply s;
    if (object.contains("family") && object["family"].is_string())
        s.family = object["family"].get<std::string>();
    else
        mismatch("family", "the name of a family");
    if (object.contains("feed") && object["feed"].is_string()) {
        if (const auto feed = parse_feed(object["feed"].get<std::string>()); feed)
            set_feed(s, *feed);
        else
            at(problems, feed.problems(), place + "/feed");
    } else
        mismatch("feed", "such as \"230V 50Hz\"");
    if (object.contains("rails") && object["rails"].is_array()) {
        std::size_t n = 0;
        for (const auto& text : object["rails"]) {
            const std::string here = fmt::format("{}/rails/{}", place, n++);
            const auto rail = parse_supply_rail(text.is_string() ? text.get<std::string>() : text.dump(), s.rails);
            if (rail)
                s.rails.push_back(*rail);
            else
                at(problems, rail.problems(), here);
        }
    } else
        mismatch("rails", "a list such as [\"12V 3A\"]");
    if (object.contains("options") && object["options"].is_object()) {
        for (const auto& [name, value] : object["options"].items())
            if (const auto chosen = parse_option(name, value.is_string() ? value.get<std::string>() : value.dump()); chosen)
                s.chosen[chosen->first] = chosen->second;
            else
                at(problems, chosen.problems(), place + "/options/" + name);
    }
    if (problems.empty()) problems = supply_problems(s);
    if (!problems.empty()) return problems;
    return s;
}

nlohmann::ordered_json write_supply(const Supply& supply) {
    nlohmann::ordered_json rails = nlohmann::ordered_json::array(), options = nlohmann::ordered_json::object();
    for (const auto& rail : supply.rails) rails.push_back(supply_rail_text(rail, supply.rails));
    for (const auto& [option, value] : supply.chosen) {
        const auto& info = option_info(option);
        options[std::string(info.name)] = info.values[static_cast<std::size_t>(value)];
    }
    return {{"family", supply.family}, {"feed", feed_text(supply)}, {"rails", rails}, {"options", options}};
}

} // namespace ohmo::detail
