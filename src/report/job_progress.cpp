// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/job_progress.h"

#include "base/text.h"
#include "powerup/ladder.h"
#include "report/wording.h"

#include <fmt/format.h>

#include <algorithm>
#include <vector>

namespace ohmo {
namespace {

std::string counted(std::ptrdiff_t count, const char* one, const char* many) {
    return count == 1 ? fmt::format("1 {}", one) : fmt::format("{} {}", count, many);
}

std::string last_step(const PowerStepLog& log) {
    LadderStep step;
    if (const auto id = step_named(log.step)) step.id = *id;
    return fmt::format("power up: {} {}", lowered(wording::ladder_step(step)), log.passed ? "passed" : "aborted");
}

std::string state(const Job& job, const Replay& now) {
    if (!now.outcome.empty()) return "signed off: " + wording::outcome(now.outcome);
    if (job.journal.empty()) return "just begun";
    std::vector<std::string> words;
    std::ptrdiff_t readings = 0, renewed = 0, resoldered = 0;
    for (std::size_t i = 0; i < job.journal.size(); ++i) {
        if (now.retracted[i]) continue;
        readings += job.journal[i].act == Do::Read;
        renewed += job.journal[i].act == Do::Replace;
        resoldered += job.journal[i].act == Do::Resolder;
    }
    if (readings > 0) words.push_back(counted(readings, "reading", "readings"));
    if (renewed > 0) words.push_back(counted(renewed, "part renewed", "parts renewed"));
    if (resoldered > 0) words.push_back(counted(resoldered, "part resoldered", "parts resoldered"));
    if (!now.steps.empty()) words.push_back(last_step(now.steps.back()));
    if (now.mains_on) words.push_back("mains is connected");
    if (words.empty() && now.cold_unlocked) words.push_back("made safe");
    if (words.empty() && !now.symptoms.empty()) words.push_back("taken in: " + in_words(joined(now.symptoms, ", ")));
    return words.empty() ? "just begun" : joined(words, ", ");
}

} // namespace

JobProgress job_progress(const Job& job, const Replay& replay) {
    JobProgress out;
    std::vector<std::string> names;
    for (const auto* name : {&job.unit.maker, &job.unit.model, &job.unit.name})
        if (!name->empty()) names.push_back(*name);
    out.who = job.unit;
    out.unit = joined(names, " ");
    out.state = state(job, replay);
    for (const auto& entry : job.journal) out.last = std::max(out.last, entry.at);
    return out;
}

} // namespace ohmo
