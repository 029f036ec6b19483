// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "base/text.h"
#include "belief/under_power.h"
#include "cli/board_options.h"
#include "job/act_entries.h"
#include "job/load_said.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

#include <cmath>

namespace ohmo::cli {
namespace {

constexpr const char* kQuantities = "ohms, diode, continuity, farads, esr, leakage, scope-residue, volts-dc, volts-ac";

struct Options {
    std::string path, what = "ohms", from, to, part, pins, meter, load = "full";
    BoardOptions board;
    bool json = false;
};

Problem usage(const std::string& found, const std::string& expected) { return {ProblemKind::Usage, {}, found, expected, 0, false}; }

constexpr double kFourOfFive = 1.28; // deviations

// Volts under power: where the energy gets, with these faults.
void run_live(const Options& o, const Replay& now, const Leads& leads, const std::vector<Fault>& faults, Context& context) {
    const auto load = load_share(now.board, o.from, o.load);
    if (!load) return context.fail(load.problems(), o.json);
    belief::Alone alone(now.board, *now.roles);
    const auto point = alone.points().at(leads.red, leads.black, o.what == "volts-ac");
    if (!point)
        return context.fail({usage(o.what + " there", "the bulk capacitor, a rail, the line up to what rectifies it, a winding of a line "
                                                      "transformer, a reservoir behind one, a regulator's output, a chip's supply pin")},
                            o.json);
    Query place;
    place.red = leads.red;
    place.black = leads.black;
    const LiveFigure figure = faults.empty() ? alone.sound_at(*point, *load) : alone.together(*point, faults, *load);
    const double high = std::isfinite(figure.high) ? figure.high : figure.low; // at least so much
    if (o.json) return context.print(answers::live_volts(figure.low - kFourOfFive * figure.sigma, high + kFourOfFive * figure.sigma));
    context.out << fmt::format("Volts {}: {} … {}\n", wording::place(now.board, place, leads.part),
                               format_quantity(figure.low - kFourOfFive * figure.sigma, "V"),
                               format_quantity(high + kFourOfFive * figure.sigma, "V"));
}

void run(const Options& o, Context& context) {
    const auto loaded = context.load(o.path, o.json);
    if (!loaded) return;
    const Replay now = replay(loaded->job);
    Problems problems;
    const auto what = quantity_named(o.what);
    const bool live = o.what == "volts-dc" || o.what == "volts-ac";
    if (!what && !live) problems.push_back(usage(o.what, kQuantities));
    Entry entry;
    entry.act = Do::Read;
    entry.what = what || live ? o.what : "ohms"; // checked below with the rest of the place
    if (live) entry.powered = "mains";
    entry.value = 0;
    entry.from = o.from;
    entry.to = o.to;
    entry.part = o.part;
    if (!o.pins.empty()) entry.pins = split(o.pins, ',');
    for (auto& p : check_entry(now.board, {}, entry, 0)) problems.push_back(std::move(p));
    Query query;
    query.what = what.value_or(Quantity::Ohms);
    const auto faults = o.board.faults(now.board, problems);
    if (!o.meter.empty()) {
        const auto& meters = now.evidence.meters;
        const auto found = std::find_if(meters.begin(), meters.end(), [&](const MeterProfile& m) { return m.id == o.meter; });
        if (found == meters.end())
            problems.push_back(usage(o.meter, "the id of one of the job's meters, or low-power"));
        else
            query.meter = static_cast<int>(found - meters.begin());
    }
    query.state = o.board.state(now.board, problems);
    if (has_errors(problems)) {
        context.fail(problems, o.json);
        return;
    }
    const Leads leads = leads_of(now.board, entry);
    if (live) return run_live(o, now, leads, faults, context);
    query.red = leads.red;
    query.black = leads.black;
    if (leads.part >= 0 && query.state.is_lifted(leads.part)) query.alone = leads.part;
    const Predictor predictor(now.board, now.evidence.meters);
    const auto answer = answers::predict(predictor, query, faults);
    if (!answer["converged"].get<bool>()) {
        const int part = predictor.predict(query, faults).failed_part;
        return context.fail({{ProblemKind::SolveFailed, {}, part >= 0 ? now.board.part(part).ref : "", "predict", 0, false}}, o.json);
    }
    if (o.json) {
        context.print(answer);
        return;
    }
    const auto p = predictor.predict(query, faults);
    context.out << wording::quantity(query.what) << " " << wording::place(now.board, query, leads.part) << ": "
                << wording::reading(query.what, p.value, p.over, p.rising);
    if (!p.over)
        context.out << fmt::format(" ({} … {})", format_quantity(answer["lo"].get<double>(), wording::unit(query.what)),
                                   format_quantity(answer["hi"].get<double>(), wording::unit(query.what)));
    context.out << "\n";
}

} // namespace

void add_predict(CLI::App& app, Context& context) {
    Command command(app, "predict", "One reading as the meter would show it");
    auto o = std::make_shared<Options>();
    command.required("JOB", o->path);
    command.option("--what", o->what, kQuantities);
    command.option("--load", o->load, "of volts: idle, full, a share such as 50%, watts such as 30W");
    command.option("--meter", o->meter, "a meter of the job, or low-power");
    command.option("--from", o->from, "net of the red lead");
    command.option("--to", o->to, "net of the black lead");
    command.option("--part", o->part);
    command.option("--pins", o->pins, "red,black");
    o->board.add_to(command);
    command.flag("--json", o->json);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
