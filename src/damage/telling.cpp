// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/telling.h"

#include <algorithm>

namespace ohmo {
namespace {

constexpr double kLeads = 0.03; // chance that one fault brings the other, from which it is told so

} // namespace

bool conducts_wrongly(FaultMode mode) {
    return mode == FaultMode::Short || mode == FaultMode::DsShort || mode == FaultMode::CeShort || mode == FaultMode::OutputShort ||
           mode == FaultMode::SupplyShort;
}

bool opens_the_way_in(const Part& part) {
    return part.kind == PartKind::Fuse || part.kind == PartKind::FusibleResistor || part.kind == PartKind::Thermistor;
}

void tell_cause_first(const std::vector<Consequence>& consequences, const Fault& fault, Scenario& scenario) {
    auto& steps = scenario.steps;
    const auto own =
        std::find_if(steps.begin(), steps.end(), [&](const Step& s) { return s.cause == Cause::Independent && s.fault == fault; });
    if (own == steps.end() || own == steps.begin() || steps.front().cause != Cause::Root) return;
    const Fault first = steps.front().fault;
    const auto leads = std::find_if(consequences.begin(), consequences.end(), [&](const Consequence& c) {
        const bool same = c.step.fault.mode == first.mode || (conducts_wrongly(c.step.fault.mode) && conducts_wrongly(first.mode));
        return c.step.fault.part == first.part && same && c.chance >= kLeads;
    });
    if (leads == consequences.end()) return;
    steps.front().cause = leads->step.cause;
    steps.front().value = leads->step.value;
    steps.front().limit = leads->step.limit;
    own->cause = Cause::Root;
    std::rotate(steps.begin(), own, own + 1);
}

void tell_in_order(const Board& board, Scenario& scenario) {
    auto& steps = scenario.steps;
    if (steps.size() < 2 || steps.front().fault.mode != FaultMode::Open || !opens_the_way_in(board.part(steps.front().fault.part))) return;
    const auto shorted = std::find_if(steps.begin(), steps.end(),
                                      [](const Step& s) { return s.cause == Cause::Independent && conducts_wrongly(s.fault.mode); });
    if (shorted == steps.end()) return;
    steps.front().cause = Cause::Independent;
    shorted->cause = Cause::Root;
    std::rotate(steps.begin(), shorted, shorted + 1);
}

} // namespace ohmo
