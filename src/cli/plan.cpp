// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {
namespace {

struct Options {
    std::string path, stock, school;
    bool json = false;
};

void run(const Options& o, Context& context) {
    const auto loaded = context.load(o.path, o.json);
    if (!loaded) return;
    auto analyst = Analyst::make(context.disk, context.data); // of its own: its drawer and school are asked for here only
    if (!analyst) return context.fail(analyst.problems(), o.json);
    const auto school = parse_school(o.school);
    if (!school) {
        context.fail(school.problems(), o.json);
        context.code = kUsage;
        return;
    }
    analyst->set_school(*school);
    if (!o.stock.empty()) {
        const auto text = context.disk.read(o.stock, kLargestFile);
        if (!text) return context.fail(text.problems(), o.json);
        auto items = parse_stock(*text, o.stock);
        if (!items) return context.fail(items.problems(), o.json);
        analyst->set_stock(std::move(*items));
    }
    const auto result = analyst->analyse(loaded->job, {});
    if (!result) return context.fail(result.problems(), o.json);
    const Analysis& a = **result;
    if (o.json) {
        context.print(answers::plan(a));
        return;
    }
    for (const auto& l : a.plan.lines)
        context.out << fmt::format("stage {}  {:<8} {:<26} {:<44} {}\n", l.stage, a.replay.board.part(l.part).ref,
                                   nominal_text(a.replay.board.part(l.part)), wording::replace_reason(a.replay.board, l),
                                   l.done || l.resolder ? ""
                                   : l.choice           ? fmt::format("{} {} ({:.2f})", l.choice->id, l.choice->part.value, l.choice->price)
                                                        : "order");
    context.out << fmt::format("From the drawer {:.2f}, to order {} parts\n", a.plan.stock_cost, a.plan.to_order);
    if (!a.plan.undecided.empty()) {
        context.out << "Measure before buying:";
        for (int part : a.plan.undecided) context.out << " " << a.replay.board.part(part).ref;
        context.out << "\n";
    }
}

} // namespace

void add_plan(CLI::App& app, Context& context) {
    Command command(app, "plan", "Every replacement with its reason");
    auto o = std::make_shared<Options>();
    command.required("JOB", o->path);
    command.option("--stock", o->stock, "parts drawer, CSV");
    command.option("--school", o->school, "proven|family|wet, same-value|impedance, staged|at-once; joined by commas");
    command.flag("--json", o->json);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
