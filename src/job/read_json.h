// SPDX-License-Identifier: GPL-3.0-or-later
// JSON into values, problems instead of exceptions. Used inside the job layer only.
#pragma once
#include "job/job.h"

#include <nlohmann/json.hpp>

namespace ohmo::detail {

using Json = nlohmann::ordered_json;

/// Reads fields of one object; a field of the wrong type becomes a problem with its JSON pointer.
class Fields {
public:
    Fields(const Json& object, std::string place, Problems& problems) : m_object(object), m_place(std::move(place)), m_problems(problems) {}

    std::string text(const char* key, bool required = false) const;
    std::optional<double> number(const char* key, bool required = false) const;
    bool flag(const char* key) const;
    const Json* child(const char* key) const; ///< null when absent
    void complain(ProblemKind kind, const std::string& key, std::string found, std::string expected = {}) const;
    const std::string& place() const { return m_place; }

private:
    const Json& m_object;
    std::string m_place;
    Problems& m_problems;
};

Unit read_unit(const Json& object, Problems& problems);
Board read_board(const Json& object, const std::string& place, Problems& problems);
std::vector<MeterProfile> read_meters(const Json& array, Problems& problems);
Json write_meter(const MeterProfile& meter); ///< what a lesson tells; the rest of a profile keeps its usual value
Entry read_entry(const Json& object, const std::string& place, Problems& problems);
Json write_entry(const Entry& entry);
std::string pretty(const Json& root); ///< one part, rail, meter or entry a line

} // namespace ohmo::detail
