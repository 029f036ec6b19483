// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"

#include <CLI/CLI.hpp>

namespace ohmo::cli {

Command::Command(CLI::App& app, const char* name, const char* help) : m_command(*app.add_subcommand(name, help)) {}

Command& Command::required(const char* name, std::string& into) {
    m_command.add_option(name, into)->required();
    return *this;
}

Command& Command::required(const char* name, std::vector<std::string>& into) {
    m_command.add_option(name, into)->required();
    return *this;
}

Command& Command::option(const char* name, std::string& into, const char* help) {
    m_command.add_option(name, into, help);
    return *this;
}

Command& Command::option(const char* name, std::vector<std::string>& into, const char* help) {
    m_command.add_option(name, into, help);
    return *this;
}

Command& Command::flag(const char* name, bool& into) {
    m_command.add_flag(name, into);
    return *this;
}

void Command::run(std::function<void()> what) { m_command.callback(std::move(what)); }

void add_analysis_command(CLI::App& app, Context& context, const char* name, const char* help,
                          std::function<nlohmann::ordered_json(const Analysis&)> json,
                          std::function<void(const Analysis&, std::ostream&)> print) {
    Command command(app, name, help);
    auto path = std::make_shared<std::string>();
    auto as_json = std::make_shared<bool>(false);
    command.required("JOB", *path);
    command.flag("--json", *as_json);
    command.run([&context, path, as_json, json = std::move(json), print = std::move(print)] {
        const auto a = context.analyse(*path, *as_json);
        if (!a) return;
        if (*as_json)
            context.print(json(*a));
        else
            print(*a, context.out);
    });
}

} // namespace ohmo::cli
