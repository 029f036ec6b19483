// SPDX-License-Identifier: GPL-3.0-or-later
// What the commands share. Each command sits in its own file and adds itself to the parser.
#pragma once
#include "job/job.h"
#include "job/pipeline.h"

#include <nlohmann/json.hpp>

#include <functional>
#include <istream>
#include <optional>
#include <ostream>
#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace ohmo::cli {

inline constexpr int kDone = 0, kProblems = 1, kUsage = 2, kFile = 3;

struct Context {
    const Disk& disk;
    Path data;
    std::ostream& out;
    std::ostream& err;
    std::optional<Analyst>* kept; ///< remembers between calls in one process; null: nothing is kept
    std::istream& in;
    bool one_line = false; ///< a JSON document is one line
    int code = kDone;
    std::optional<Analyst> own{}; ///< where none is kept

    /// Prints problems and sets the exit code. With `json` they go to `out` as one document.
    void fail(const Problems& problems, bool json);
    void print(const nlohmann::ordered_json& json) const;
    std::optional<LoadedJob> load(const std::string& path, bool json);
    /// The one that is kept between calls, or one of this context; null when the problems were printed.
    Analyst* analyst(bool json);
    std::shared_ptr<const Analysis> analyse(const std::string& path, bool json);
};

/// One command of the parser. Its header is large, so only command.cpp and cli.cpp read it.
class Command {
public:
    Command(CLI::App& app, const char* name, const char* help);
    Command& required(const char* name, std::string& into);
    Command& required(const char* name, std::vector<std::string>& into);
    Command& option(const char* name, std::string& into, const char* help = "");
    Command& option(const char* name, std::vector<std::string>& into, const char* help = "");
    Command& flag(const char* name, bool& into);
    void run(std::function<void()> what);

private:
    CLI::App& m_command;
};

/// A command that shows what an analysis says: JOB [--json]. `json` makes the document, `print` the readable table.
void add_analysis_command(CLI::App& app, Context& context, const char* name, const char* help,
                          std::function<nlohmann::ordered_json(const Analysis&)> json,
                          std::function<void(const Analysis&, std::ostream&)> print);

void add_check(CLI::App& app, Context& context);
void add_rank(CLI::App& app, Context& context);
void add_next(CLI::App& app, Context& context);
void add_follow(CLI::App& app, Context& context);
void add_assess(CLI::App& app, Context& context);
void add_predict(CLI::App& app, Context& context);
void add_story(CLI::App& app, Context& context);
void add_plan(CLI::App& app, Context& context);
void add_powerup(CLI::App& app, Context& context);
void add_report(CLI::App& app, Context& context);
void add_new(CLI::App& app, Context& context);
void add_log(CLI::App& app, Context& context);
void add_import(CLI::App& app, Context& context);
void add_export(CLI::App& app, Context& context);
void add_spice(CLI::App& app, Context& context);
void add_decode(CLI::App& app, Context& context);
void add_meter(CLI::App& app, Context& context);
void add_twin(CLI::App& app, Context& context);
void add_practice(CLI::App& app, Context& context);

// Tables used by more than one command.
void print_rank(const Analysis& analysis, std::ostream& out);
void print_next(const Analysis& analysis, std::ostream& out);

} // namespace ohmo::cli
