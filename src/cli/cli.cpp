// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/cli.h"

#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <CLI/CLI.hpp>

namespace ohmo {
namespace cli {

void Context::fail(const Problems& problems, bool json) {
    bool file = false;
    for (const auto& p : problems)
        file =
            file || p.kind == ProblemKind::FileUnreadable || p.kind == ProblemKind::FileUnwritable || p.kind == ProblemKind::FileTooLarge;
    code = file ? kFile : has_errors(problems) ? kProblems : kDone;
    if (json)
        print(answers::problems(problems));
    else
        for (const auto& p : problems) err << (p.warning ? "warning: " : "error: ") << wording::problem(p) << "\n";
}

void Context::print(const nlohmann::ordered_json& json) const {
    out << json.dump(one_line ? -1 : 2, ' ', false, nlohmann::ordered_json::error_handler_t::replace) << std::endl;
}

std::optional<LoadedJob> Context::load(const std::string& path, bool json) {
    const auto reader = JobReader::make(disk, data);
    if (!reader) {
        fail(reader.problems(), json);
        return std::nullopt;
    }
    auto loaded = reader->load(disk, path);
    if (!loaded) {
        fail(loaded.problems(), json);
        return std::nullopt;
    }
    return std::move(*loaded);
}

Analyst* Context::analyst(bool json) {
    auto& worker = kept != nullptr ? *kept : own;
    if (worker) return &*worker;
    auto made = Analyst::make(disk, data);
    if (!made) {
        fail(made.problems(), json);
        return nullptr;
    }
    worker = std::move(*made);
    return &*worker;
}

std::shared_ptr<const Analysis> Context::analyse(const std::string& path, bool json) {
    auto loaded = load(path, json);
    if (!loaded) return nullptr;
    Analyst* worker = analyst(json);
    if (worker == nullptr) return nullptr;
    auto result = worker->analyse(loaded->job, {});
    if (!result) {
        fail(result.problems(), json);
        return nullptr;
    }
    return *result;
}

} // namespace cli

int run_cli(const std::vector<std::string>& arguments, const Disk& disk, const Path& data, std::ostream& out, std::ostream& err,
            std::optional<Analyst>* kept, std::istream& in) {
    CLI::App app{"Ohmotrace without its window: finds out why a power supply died and plans its repair.", "ohmo"};
    app.set_version_flag("--version", OHMO_VERSION);
    app.require_subcommand(1);
    cli::Context context{disk, data, out, err, kept, in};
    cli::add_check(app, context);
    cli::add_rank(app, context);
    cli::add_next(app, context);
    cli::add_assess(app, context);
    cli::add_follow(app, context);
    cli::add_predict(app, context);
    cli::add_story(app, context);
    cli::add_twin(app, context);
    cli::add_plan(app, context);
    cli::add_powerup(app, context);
    cli::add_report(app, context);
    cli::add_new(app, context);
    cli::add_log(app, context);
    cli::add_import(app, context);
    cli::add_export(app, context);
    cli::add_spice(app, context);
    cli::add_decode(app, context);
    cli::add_meter(app, context);
    cli::add_practice(app, context);
    std::vector<std::string> reversed(arguments.rbegin(), arguments.rend());
    try {
        app.parse(reversed);
    } catch (const CLI::ParseError& error) {
        const int code = app.exit(error, out, err);
        return code == 0 ? cli::kDone : cli::kUsage;
    }
    return context.code;
}

} // namespace ohmo
