// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"

#include "job/blueprints.h"

#include <fmt/format.h>

namespace ohmo::cli {
namespace {

struct Options {
    std::string family, file;
    bool json = false;
};

void list(const JobReader& reader, const Options& o, Context& context) {
    nlohmann::ordered_json all = nlohmann::ordered_json::array();
    for (const auto name : blueprint_names()) {
        const auto blueprint = read_blueprint(reader, context.disk, blueprint_path(context.data, name));
        if (!blueprint) return context.fail(blueprint.problems(), o.json);
        if (o.json)
            all.push_back({{"blueprint", blueprint->name},
                           {"title", blueprint->title},
                           {"recognise", blueprint->recognise},
                           {"parts", blueprint->job.board.parts.size()}});
        else
            context.out << fmt::format("{:<20} {} ({} parts)\n{:<20} {}\n", blueprint->name, blueprint->title,
                                       blueprint->job.board.parts.size(), "", blueprint->recognise);
    }
    if (o.json) context.print({{"blueprints", all}});
}

void run(const Options& o, Context& context) {
    const auto reader = JobReader::make(context.disk, context.data);
    if (!reader) return context.fail(reader.problems(), o.json);
    if (o.family.empty()) return list(*reader, o, context);
    const auto& names = blueprint_names();
    if (std::find(names.begin(), names.end(), o.family) == names.end()) {
        std::string known;
        for (const auto name : names) known += (known.empty() ? "" : ", ") + std::string(name);
        context.err << fmt::format("There is no blueprint \"{}\"; there are {}.\n", o.family, known);
        context.code = kUsage;
        return;
    }
    if (o.file.empty()) {
        context.err << "Say where the job goes: -o FILE.ohmo.json\n";
        context.code = kUsage;
        return;
    }
    if (context.disk.exists(o.file)) {
        context.err << fmt::format("{} is there already and was left alone; choose another name.\n", o.file);
        context.code = kFile;
        return;
    }
    const auto blueprint = read_blueprint(*reader, context.disk, blueprint_path(context.data, o.family));
    if (!blueprint) return context.fail(blueprint.problems(), o.json);
    if (const auto written = save_job(context.disk, o.file, blueprint->job); !written) return context.fail(written.problems(), o.json);
    if (o.json)
        context.print({{"written", o.file}});
    else
        context.out << o.file << "\n";
}

} // namespace

void add_new(CLI::App& app, Context& context) {
    Command command(app, "new", "A fresh job from a blueprint; without a name, the list of them");
    auto o = std::make_shared<Options>();
    command.option("--blueprint", o->family, "the family of supply");
    command.option("-o,--output", o->file, "the job to write");
    command.flag("--json", o->json);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
