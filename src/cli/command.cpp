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

} // namespace ohmo::cli
