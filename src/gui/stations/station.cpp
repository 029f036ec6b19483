// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/stations/station.h"

#include "base/engineering.h"
#include "board/open_ends.h"
#include "gui/text.h"

#include <QCoreApplication>

#include <algorithm>

namespace ohmo {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("stations", text); }

StationStatus take_in(const Session& s) {
    if (!s.replay().symptoms.empty()) return {StationState::Done, tr("complaint logged")};
    return {StationState::Open, tr("log what the customer saw")};
}

StationStatus make_safe(const Session& s) {
    if (s.replay().mains_on) return {StationState::Open, tr("mains is connected: pull it and discharge")};
    if (s.replay().cold_unlocked) return {StationState::Done, tr("bulk capacitor measured low")};
    return {StationState::Open, tr("measure the bulk capacitor, discharge it, measure again")};
}

StationStatus trace(const Session& s) {
    const auto& parts = s.replay().board.parts;
    if (parts.empty()) return {StationState::Open, tr("no board yet: start from a blueprint, or enter the parts")};
    if (half_traced(s.replay().board)) return {StationState::Open, tr("where the energy comes in and the rails are still to be entered")};
    const auto assumed = std::count_if(parts.begin(), parts.end(), [](const Part& p) { return p.assumed; });
    if (assumed == 0) return {StationState::Done, tr("every part recognised")};
    return {StationState::Open, tr("%1 of %2 parts are still assumed").arg(assumed).arg(parts.size())};
}

bool settled(const Session& s) { return s.analysis() && s.analysis()->explained; }

StationStatus probe(const Session& s) {
    if (!s.replay().cold_unlocked)
        return {StationState::Locked, tr("cold readings wait until the bulk capacitor is measured low (Make safe)")};
    if (settled(s)) return {StationState::Done, tr("one story explains the readings")};
    return {StationState::Open, tr("readings that split the stories are waiting")};
}

StationStatus story(const Session& s) {
    if (settled(s) && s.analysis()->assessment.contradicted_by.empty())
        return {StationState::Done,
                tr("the likeliest story has %1")
                    .arg(qs(format_share(s.analysis()->assessment.stories.empty() ? 0 : s.analysis()->assessment.stories.front().p)))};
    return {StationState::Open, tr("the stories are not told apart yet")};
}

StationStatus parts(const Session& s) {
    const auto& a = s.analysis();
    if (!a || a->plan.lines.empty()) return {StationState::Open, tr("nothing to replace yet")};
    const auto left = std::count_if(a->plan.lines.begin(), a->plan.lines.end(), [](const PlanLine& l) { return !l.done; });
    if (left == 0) return {StationState::Done, tr("every planned part is fitted")};
    return {StationState::Open, tr("%1 parts to replace").arg(left)};
}

StationStatus power_up(const Session& s) {
    const auto& a = s.analysis();
    if (!a || a->ladder.locked) return {StationState::Locked, tr("cold evidence is not complete; the locks are listed inside")};
    if (a->ladder.current >= static_cast<int>(a->ladder.steps.size())) return {StationState::Done, tr("every step passed")};
    return {StationState::Open, tr("step %1 of %2").arg(a->ladder.current + 1).arg(a->ladder.steps.size())};
}

StationStatus hand_back(const Session& s) {
    if (!s.replay().outcome.empty()) return {StationState::Done, tr("signed off")};
    return {StationState::Open, tr("no outcome yet")};
}

} // namespace

StationStatus status_of(const StationInfo& info, const Session& session) {
    if (!session.has_job()) return {StationState::Open, tr("no job is open: start one with Ctrl+N or open one with Ctrl+O")};
    return info.status(session);
}

const std::vector<StationInfo>& all_stations() {
    static const std::vector<StationInfo> stations = {{QStringLiteral("take-in"), tr("Take in"), make_take_in, take_in},
                                                      {QStringLiteral("make-safe"), tr("Make safe"), make_make_safe, make_safe},
                                                      {QStringLiteral("trace"), tr("Trace"), make_trace, trace},
                                                      {QStringLiteral("probe"), tr("Probe"), make_probe, probe},
                                                      {QStringLiteral("story"), tr("Story"), make_story, story},
                                                      {QStringLiteral("parts"), tr("Parts"), make_parts, parts},
                                                      {QStringLiteral("power-up"), tr("Power up"), make_power_up, power_up},
                                                      {QStringLiteral("hand-back"), tr("Hand back"), make_hand_back, hand_back}};
    return stations;
}

} // namespace ohmo
