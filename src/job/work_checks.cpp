// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/work_checks.h"

#include <algorithm>

namespace ohmo {
namespace {

WorkState of(std::optional<bool> right, bool all) {
    if (right) return *right ? WorkState::Passed : WorkState::Failed;
    return all ? WorkState::Passed : WorkState::Open;
}

void judge(WorkCheck& out, const Work& work, const Evidence& evidence, bool disturbed) {
    switch (out.check.kind) {
    case CheckKind::Look:
        out.state = of(work.look, work.all);
        break;
    case CheckKind::Joined: {
        const auto said = work.joined.find(out.check.pin);
        out.state = of(said == work.joined.end() ? std::nullopt : std::optional(said->second), work.all);
        break;
    }
    case CheckKind::Reading: {
        out.state = of({}, work.all);
        if (disturbed && !work.all) {
            out.state = WorkState::Waiting;
            break;
        }
        for (const auto& o : evidence.observations) {
            if (o.entry <= work.since || o.kind != Seen::Reading) continue;
            const auto &was = o.query, &wanted = out.check.query;
            if (was.what != wanted.what || was.red != wanted.red || was.black != wanted.black || was.alone >= 0) continue;
            out.state = passes(out.check, o.value, o.over) ? WorkState::Passed : WorkState::Failed;
            out.entry = o.entry;
        }
        break;
    }
    }
}

} // namespace

std::vector<WorkCheck> work_checks(const Replay& now, std::vector<Fault> still_bad, WorkMemory& memory) {
    std::vector<WorkCheck> out;
    if (now.work.empty()) return out;
    std::erase_if(still_bad, [&](const Fault& f) { return now.evidence.renewed.contains(f.part); });
    if (!(memory.state == now.evidence.state) || memory.still_bad != still_bad) memory = {now.evidence.state, still_bad, {}};
    for (const auto& [part, work] : now.work) {
        if (now.evidence.state.is_lifted(part)) continue; // out again
        const std::pair key(part, work.joints);
        const auto found = memory.checks.find(key);
        const auto& checks =
            found != memory.checks.end()
                ? found->second
                : memory.checks
                      .emplace(key,
                               rework_checks({now.board, now.evidence.state, now.evidence.meters.front(), still_bad, work.joints}, part))
                      .first->second;
        for (const auto& check : checks) {
            out.push_back({check, WorkState::Open, -1});
            const auto on_its_nets = [&](const Fault& f) {
                const auto& other = now.board.part(f.part);
                return other.touches(check.query.red) || other.touches(check.query.black);
            };
            judge(out.back(), work, now.evidence, std::any_of(still_bad.begin(), still_bad.end(), on_its_nets));
        }
    }
    return out;
}

} // namespace ohmo
