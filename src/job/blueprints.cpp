// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/blueprints.h"

#include "job/supply_json.h"

#include <nlohmann/json.hpp>

namespace ohmo {

const std::vector<std::string_view>& blueprint_names() {
    static const std::vector<std::string_view> names = {"flyback",
                                                        "flyback-integrated",
                                                        "flyback-synchronous",
                                                        "constant-current",
                                                        "self-oscillating",
                                                        "half-bridge",
                                                        "linear",
                                                        "adapter",
                                                        "ac-fed-split",
                                                        "buck",
                                                        "rail",
                                                        "inverter",
                                                        "blank"};
    return names;
}

Path blueprint_path(const Path& data, std::string_view name) { return data / "blueprints" / (std::string(name) + ".json"); }

Result<Blueprint> read_blueprint(const JobReader& reader, const Disk& disk, const Path& path) {
    auto job = reader.from_blueprint(disk, path);
    if (!job) return job.problems();
    const auto text = disk.read(path, kLargestFile);
    if (!text) return text.problems();
    const auto data = nlohmann::json::parse(*text, nullptr, false);
    const auto word = [&](const char* key) {
        return data.contains(key) && data[key].is_string() ? data[key].get<std::string>() : std::string();
    };
    Blueprint out{path.stem().string(), word("title"), word("recognise"), {}, std::move(*job)};
    if (data.contains("supply"))
        if (const auto supply = detail::read_supply(data["supply"], path.string() + "#/supply")) out.supply = *supply;
    return out;
}

} // namespace ohmo
