// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/schema.h"

#include <nlohmann/json.hpp>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

#include <set>

namespace ohmo::detail {

void schema_problems(const nlohmann::json& schema_text, const std::string& text, Problems& out) {
    const nlohmann::json plain = nlohmann::json::parse(text);
    valijson::Schema schema;
    valijson::SchemaParser().populateSchema(valijson::adapters::NlohmannJsonAdapter(schema_text), schema);
    valijson::ValidationResults results;
    valijson::Validator validator;
    if (validator.validate(schema, valijson::adapters::NlohmannJsonAdapter(plain), &results)) return;
    valijson::ValidationResults::Error error;
    std::set<std::string> said;
    while (results.popError(error) && out.size() < 20) {
        std::string place;
        for (const auto& step : error.context) {
            if (step == "<root>") continue;
            std::string name = step;
            if (name.size() > 1 && name.front() == '[') name = name.substr(1, name.size() - 2);
            if (name.size() > 1 && name.front() == '"') name = name.substr(1, name.size() - 2);
            place += "/" + name;
        }
        if (said.insert(place + error.description).second)
            out.push_back({ProblemKind::SchemaMismatch, place, error.description, {}, 0, false});
    }
}

} // namespace ohmo::detail
