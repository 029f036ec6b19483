// SPDX-License-Identifier: GPL-3.0-or-later
// What the commands share. Each command sits in its own file and adds itself to the parser.
#pragma once
#include "job/analysis.h"
#include "job/job.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <optional>
#include <ostream>
#include <string>

namespace ohmo::cli {

inline constexpr int kDone = 0, kProblems = 1, kUsage = 2, kFile = 3;

struct Context {
    const Disk& disk;
    Path data;
    std::ostream& out;
    std::ostream& err;
    int code = kDone;

    /// Prints problems and sets the exit code. With `json` they go to `out` as one document.
    void fail(const Problems& problems, bool json);
    void print(const nlohmann::ordered_json& json) const;
    std::optional<LoadedJob> load(const std::string& path, bool json);
    std::optional<Analyst> analyst(bool json);
    std::shared_ptr<const Analysis> analyse(const std::string& path, bool json);
};

void add_check(CLI::App& app, Context& context);
void add_rank(CLI::App& app, Context& context);
void add_next(CLI::App& app, Context& context);
void add_assess(CLI::App& app, Context& context);
void add_predict(CLI::App& app, Context& context);
void add_story(CLI::App& app, Context& context);
void add_plan(CLI::App& app, Context& context);
void add_powerup(CLI::App& app, Context& context);
void add_report(CLI::App& app, Context& context);
void add_decode(CLI::App& app, Context& context);

// Tables used by more than one command.
void print_rank(const Analysis& analysis, std::ostream& out);
void print_next(const Analysis& analysis, std::ostream& out);

} // namespace ohmo::cli
