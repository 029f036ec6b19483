// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "base/text.h"
#include "circuit/meter_lesson.h"
#include "cli/command.h"
#include "job/meters_file.h"

#include <fmt/format.h>

namespace ohmo::cli {
namespace {

struct Options {
    std::string id, leads, diode, tolerance, job;
    std::vector<std::string> ranges;
    bool json = false;
};

class LessonReader {
public:
    Result<MeterLesson> read(const Options& o) {
        m_lesson.id = o.id;
        if (!o.leads.empty()) m_lesson.leads = number("--leads", o.leads);
        if (!o.diode.empty()) m_lesson.diode = number("--diode", o.diode);
        if (!o.tolerance.empty()) m_lesson.resistor_tolerance = number("--tolerance", o.tolerance) / 100;
        for (const auto& text : o.ranges) m_lesson.ranges.push_back(range(text));
        if (!m_problems.empty()) return m_problems;
        return m_lesson;
    }

private:
    double number(const std::string& place, const std::string& text) {
        const auto value = parse_quantity(text);
        if (value) return *value;
        m_problems.push_back({ProblemKind::UnreadableValue, place, text, {}, 0, false});
        return 1;
    }

    // 6k,2k2=2k21,diode=5k9,with=100k
    RangeLesson range(const std::string& text) {
        RangeLesson out;
        const auto words = split(text, ',');
        for (std::size_t i = 0; i < words.size(); ++i) {
            const auto equals = words[i].find('=');
            const std::string name = words[i].substr(0, equals), shown = equals == std::string::npos ? "" : words[i].substr(equals + 1);
            const std::string place = "--range " + text;
            if (i == 0 && equals == std::string::npos)
                out.full = number(place, name);
            else if (i == 0 || equals == std::string::npos)
                m_problems.push_back({ProblemKind::Usage, place, words[i], "FULL,KNOWN=SHOWN,diode=SHOWN,with=OHMS", 0, false});
            else if (name == "diode" && shown == "over")
                out.diode_over = true;
            else if (name == "diode")
                out.diode = number(place, shown);
            else if (name == "with")
                out.in_series = number(place, shown);
            else {
                out.known = number(place, name);
                out.shown = number(place, shown);
            }
        }
        return out;
    }

    MeterLesson m_lesson;
    Problems m_problems;
};

void print(const MeterLesson& lesson, const MeterProfile& m, std::ostream& out) {
    out << fmt::format("{}: shows {:+.1f} %, within {:.1f} %\n", m.id, 100 * (m.gain - 1), 100 * m.gain_spread);
    for (std::size_t k = 0; k < m.ohms.size(); ++k) {
        const auto& r = m.ohms[k];
        out << fmt::format("{:>10}  {:>9}  {}\n", format_nominal(r.full, "Ω"), format_quantity(r.amps, "A", 2),
                           lesson.ranges[k].diode ? fmt::format("± {:.0f} %", 100 * r.spread) : "taken as usual: no diode was read here");
    }
}

void run(const Options& o, Context& context) {
    const auto lesson = LessonReader().read(o);
    if (!lesson) return context.fail(lesson.problems(), o.json);
    const auto meter = teach_meter(*lesson);
    if (!meter) return context.fail(meter.problems(), o.json);
    if (!o.job.empty()) {
        const auto loaded = context.load(o.job, o.json);
        if (!loaded) return;
        if (const auto written = save_job(context.disk, o.job, loaded->job.with_meter(*meter)); !written)
            return context.fail(written.problems(), o.json);
    }
    if (o.json) return context.print(meter_document(*meter));
    print(*lesson, *meter, context.out);
    if (o.job.empty())
        context.out << "Add --job JOB to make it the usual meter of a job.\n";
    else
        context.out << fmt::format("It is the usual meter of {} now.\n", o.job);
}

} // namespace

void add_meter(CLI::App& app, Context& context) {
    Command command(app, "meter", "Teaches a meter: its gain and test currents, from known resistors and one silicon diode");
    auto o = std::make_shared<Options>();
    command.required("NAME", o->id);
    command.option("--range", o->ranges,
                   "FULL,KNOWN=SHOWN,diode=SHOWN[,with=OHMS], once for each range, lowest first; diode=over where it is");
    command.option("--diode", o->diode, "volts of the same diode in diode test");
    command.option("--leads", o->leads, "ohms with the tips touched, where the meter does not take them off");
    command.option("--tolerance", o->tolerance, "of the known resistors, in per cent; 1");
    command.option("--job", o->job, "the job whose usual meter it becomes");
    command.flag("--json", o->json);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
