// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "base/marking.h"
#include "base/text.h"
#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {
namespace {

struct Decoded {
    std::string marking;
    Result<std::vector<MarkingMeaning>> meanings;
};

// Several markings may stand in one call, and one marking may be several words ("yellow violet red gold", "107 16V"): the longest run of
// words that means something is taken as one.
std::vector<Decoded> decode_words(const std::vector<std::string>& words) {
    std::vector<Decoded> out;
    for (std::size_t at = 0; at < words.size();) {
        std::size_t end = words.size();
        const auto run = [&] { return joined({words.begin() + static_cast<long>(at), words.begin() + static_cast<long>(end)}, " "); };
        while (end > at + 1 && !decode_marking(run())) --end;
        out.push_back({run(), decode_marking(run())});
        at = end;
    }
    return out;
}

void print(const MarkingMeaning& m, std::ostream& out) {
    const char* unit = m.quantity == "resistance" ? "Ω" : m.quantity == "capacitance" ? "F" : m.quantity == "voltage" ? "V" : "A";
    out << format_nominal(m.value, unit);
    if (m.tolerance) out << fmt::format(" ±{:g} %", *m.tolerance * 100);
    if (m.volts) out << " " << format_nominal(*m.volts, "V");
    if (!m.characteristic.empty()) out << " " << m.characteristic;
    out << "  (" << wording::marking(m.scheme) << ")\n";
}

void run(const std::vector<std::string>& words, bool json, Context& context) {
    const auto all = decode_words(words);
    Problems problems;
    auto answer = nlohmann::ordered_json::array();
    for (const auto& [marking, meanings] : all) {
        if (!meanings) {
            problems.insert(problems.end(), meanings.problems().begin(), meanings.problems().end());
            continue;
        }
        if (json) {
            for (auto& one : answers::markings(marking, *meanings)) answer.push_back(std::move(one));
            continue;
        }
        if (all.size() > 1) context.out << marking << "\n";
        for (const auto& m : *meanings) {
            if (all.size() > 1) context.out << "  ";
            print(m, context.out);
        }
    }
    if (!problems.empty()) return context.fail(problems, json);
    if (json) context.print(answer);
}

} // namespace

void add_decode(CLI::App& app, Context& context) {
    Command command(app, "decode", "What markings mean");
    auto words = std::make_shared<std::vector<std::string>>();
    auto json = std::make_shared<bool>(false);
    command.required("MARKING", *words);
    command.flag("--json", *json);
    command.run([&context, words, json] { run(*words, *json, context); });
}

} // namespace ohmo::cli
