// SPDX-License-Identifier: GPL-3.0-or-later
// Runs the commands in process, files in memory.
#pragma once
#include "support/demo.h"
#include "support/fakes.h"

#include "cli/cli.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <optional>
#include <sstream>
#include <string>
#include <vector>

namespace ohmo::test {

struct Answer {
    int code = 0;
    std::string out, err;
    nlohmann::json document() const { return nlohmann::json::parse(out, nullptr, false); }
    /// One a line, of `follow`.
    std::vector<nlohmann::json> documents() const {
        std::vector<nlohmann::json> all;
        std::istringstream lines(out);
        for (std::string line; std::getline(lines, line);) all.push_back(nlohmann::json::parse(line, nullptr, false));
        return all;
    }
};

class Cli : public testing::Test {
protected:
    Cli() {
        disk.memory.files["fresh"] = demo_text("rb6-fresh");
        disk.memory.files["half"] = demo_text("rb6-half-way");
        disk.memory.files["broken"] = demo_text("rb6-fresh").substr(0, 900);
    }
    // `fresh`: as a process of its own would.
    Answer run(std::vector<std::string> arguments, bool fresh = false, const std::string& typed = {}) {
        static std::optional<Analyst> kept;
        std::ostringstream out, err;
        std::istringstream in(typed);
        Answer a;
        a.code = run_cli(arguments, disk, data(), out, err, fresh ? nullptr : &kept, in);
        a.out = out.str();
        a.err = err.str();
        return a;
    }
    DemoDisk disk;
};

} // namespace ohmo::test
