// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "base/marking.h"
#include "base/text.h"
#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {

void add_decode(CLI::App& app, Context& context) {
    Command command(app, "decode", "What a marking means");
    auto words = std::make_shared<std::vector<std::string>>();
    auto json = std::make_shared<bool>(false);
    command.required("MARKING", *words);
    command.flag("--json", *json);
    command.run([&context, words, json] {
        const auto meanings = decode_marking(joined(*words, " "));
        if (!meanings) {
            context.fail(meanings.problems(), *json);
            return;
        }
        if (*json) {
            context.print(answers::markings(*meanings));
            return;
        }
        for (const auto& m : *meanings) {
            const char* unit = m.quantity == "resistance" ? "Ω" : m.quantity == "capacitance" ? "F" : "A";
            context.out << format_nominal(m.value, unit);
            if (m.tolerance) context.out << fmt::format(" ±{:g} %", *m.tolerance * 100);
            if (m.volts) context.out << " " << format_nominal(*m.volts, "V");
            if (!m.characteristic.empty()) context.out << " " << m.characteristic;
            context.out << "  (" << wording::marking(m.scheme) << ")\n";
        }
    });
}

} // namespace ohmo::cli
