// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"

#include "design/design.h"
#include "job/blueprints.h"
#include "job/supply_json.h"
#include "report/design_wording.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo::cli {
namespace {

struct Options {
    std::string family, file, feed;
    std::vector<std::string> rails, with, without;
    bool json = false, sums = false;

    bool changed() const { return !feed.empty() || !rails.empty() || !with.empty() || !without.empty(); }
};

void usage(Context& context, const std::string& text) {
    context.err << text << "\n";
    context.code = kUsage;
}

void list(const JobReader& reader, const Options& o, Context& context) {
    nlohmann::ordered_json all = nlohmann::ordered_json::array();
    for (const auto name : blueprint_names()) {
        const auto blueprint = read_blueprint(reader, context.disk, blueprint_path(context.data, name));
        if (!blueprint) return context.fail(blueprint.problems(), o.json);
        const auto* family = find_family(name);
        nlohmann::ordered_json options = nlohmann::ordered_json::object();
        std::string line;
        if (family != nullptr)
            for (const auto option : family->options) {
                const auto& info = option_info(option);
                options[std::string(info.name)] = info.values;
                std::string values;
                for (const auto v : info.values) values += (values.empty() ? "" : "|") + std::string(v);
                line += fmt::format(" {}={}", info.name, values);
            }
        if (o.json)
            all.push_back({{"blueprint", blueprint->name},
                           {"title", blueprint->title},
                           {"recognise", blueprint->recognise},
                           {"parts", blueprint->job.board.parts.size()},
                           {"supply", blueprint->supply ? detail::write_supply(*blueprint->supply) : nlohmann::ordered_json()},
                           {"options", options}});
        else
            context.out << fmt::format("{:<20} {} ({} parts)\n{:<20} {}\n", blueprint->name, blueprint->title,
                                       blueprint->job.board.parts.size(), "", blueprint->recognise)
                        << (line.empty() ? "" : fmt::format("{:<20} --with{}\n", "", line));
    }
    if (o.json) context.print({{"blueprints", all}});
}

// The blueprint's supply with what was said of it. Errors: those of the parts said, each under its own name.
Result<Supply> said_supply(Supply supply, const Options& o) {
    Problems problems;
    const auto add = [&](const Problems& more) { problems.insert(problems.end(), more.begin(), more.end()); };
    if (!o.feed.empty()) {
        const auto feed = parse_feed(o.feed);
        if (feed)
            set_feed(supply, *feed);
        else
            add(feed.problems());
    }
    if (!o.rails.empty()) supply.rails.clear();
    for (const auto& text : o.rails) {
        const auto rail = parse_supply_rail(text, supply.rails);
        if (rail)
            supply.rails.push_back(*rail);
        else
            add(rail.problems());
    }
    const auto choose = [&](const std::string& name, const std::string& value) {
        const auto chosen = parse_option(name, value);
        if (chosen)
            supply.chosen[chosen->first] = chosen->second;
        else
            add(chosen.problems());
    };
    for (const auto& text : o.with) {
        const auto equals = text.find('=');
        const auto* info = find_option(text);
        choose(text.substr(0, equals), equals != std::string::npos ? text.substr(equals + 1)
                                       : info != nullptr           ? std::string(info->values[1])
                                                                   : "");
    }
    for (const auto& name : o.without) {
        const auto* info = find_option(name);
        choose(name, info != nullptr ? std::string(info->values.front()) : "");
    }
    if (problems.empty()) problems = supply_problems(supply);
    if (!problems.empty()) return problems;
    return supply;
}

void run(const Options& o, Context& context) {
    const auto reader = JobReader::make(context.disk, context.data);
    if (!reader) return context.fail(reader.problems(), o.json);
    if (o.family.empty()) return list(*reader, o, context);
    const auto& names = blueprint_names();
    if (std::find(names.begin(), names.end(), o.family) == names.end()) {
        std::string known;
        for (const auto name : names) known += (known.empty() ? "" : ", ") + std::string(name);
        return usage(context, fmt::format("There is no blueprint \"{}\"; there are {}.", o.family, known));
    }
    if (o.file.empty() && !o.sums) return usage(context, "Say where the job goes: -o FILE.ohmo.json");
    if (!o.file.empty() && context.disk.exists(o.file)) {
        context.err << fmt::format("{} is there already and was left alone; choose another name.\n", o.file);
        context.code = kFile;
        return;
    }
    const auto blueprint = read_blueprint(*reader, context.disk, blueprint_path(context.data, o.family));
    if (!blueprint) return context.fail(blueprint.problems(), o.json);
    if (!blueprint->supply && (o.changed() || o.sums))
        return usage(context, fmt::format("\"{}\" is not designed from anything: log its parts, rails and mains instead.", o.family));
    Job job = blueprint->job;
    std::vector<DesignSum> sums;
    if (blueprint->supply) {
        const auto supply = said_supply(*blueprint->supply, o);
        if (!supply) return context.fail(supply.problems(), o.json);
        auto design = reader->design(*supply);
        if (!design) return context.fail(design.problems(), o.json);
        job = std::move(design->job);
        sums = std::move(design->sums);
    }
    if (!o.file.empty())
        if (const auto written = save_job(context.disk, o.file, job); !written) return context.fail(written.problems(), o.json);
    if (o.json) {
        auto lines = nlohmann::ordered_json::array();
        for (const auto& s : sums) lines.push_back(wording::design_sum(s));
        nlohmann::ordered_json out = {{"written", o.file}, {"parts", job.board.parts.size()}};
        if (o.sums) out["sums"] = lines;
        return context.print(out);
    }
    if (o.sums)
        for (const auto& s : sums) context.out << wording::design_sum(s) << "\n";
    if (!o.file.empty()) context.out << o.file << "\n";
}

} // namespace

void add_new(CLI::App& app, Context& context) {
    Command command(
        app, "new",
        "A fresh job from a blueprint, fitted to what one sees; --sums tells where its values come from; without a name, the list");
    auto o = std::make_shared<Options>();
    command.option("--blueprint", o->family, "the family of supply");
    command.option("--feed", o->feed, "what feeds it: \"120V 60Hz\", \"24V DC\", \"15V AC\"");
    command.option("--rail", o->rails, "a rail, once for each: \"12V 3A\", \"-12V 0.5A\", \"5V 1A from 12V\"");
    command.option("--with", o->with, "what stands on the board: standby, inrush=resistor; the list without a name tells all");
    command.option("--without", o->without, "what does not");
    command.flag("--sums", o->sums);
    command.option("-o,--output", o->file, "the job to write");
    command.flag("--json", o->json);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
