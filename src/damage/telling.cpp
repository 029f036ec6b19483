// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/telling.h"

#include <algorithm>
#include <utility>

namespace ohmo {
bool conducts_wrongly(FaultMode mode) {
    return mode == FaultMode::Short || mode == FaultMode::DsShort || mode == FaultMode::CeShort || mode == FaultMode::OutputShort ||
           mode == FaultMode::SupplyShort;
}

bool opens_the_way_in(const Part& part) {
    return part.kind == PartKind::Fuse || part.kind == PartKind::FusibleResistor || part.kind == PartKind::Thermistor;
}

void tell_cause_first(const Practice& practice, const std::vector<Consequence>& consequences, const Fault& fault, Scenario& scenario) {
    auto& steps = scenario.steps;
    const auto own =
        std::find_if(steps.begin(), steps.end(), [&](const Step& s) { return s.cause == Cause::Independent && s.fault == fault; });
    if (own == steps.end() || own == steps.begin() || steps.front().cause != Cause::Root) return;
    const Fault first = steps.front().fault;
    const auto leads = std::find_if(consequences.begin(), consequences.end(), [&](const Consequence& c) {
        const bool same = c.step.fault.mode == first.mode || (conducts_wrongly(c.step.fault.mode) && conducts_wrongly(first.mode));
        return c.step.fault.part == first.part && same && c.chance >= practice.leads;
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
    const auto heads = [](const Step& s) { return s.cause == Cause::Root || s.cause == Cause::Independent; };
    if (steps.size() < 2 || std::none_of(steps.begin() + 1, steps.end(), heads)) return;
    struct Told {
        std::vector<Step> steps;
        bool stops_everything = false, conducts = false;
    };
    std::vector<Told> chains;
    for (const auto& s : steps) {
        if (chains.empty() || heads(s)) {
            chains.emplace_back();
            chains.back().stops_everything = s.fault.mode == FaultMode::Open && opens_the_way_in(board.part(s.fault.part));
        }
        chains.back().steps.push_back(s);
        chains.back().conducts = chains.back().conducts || conducts_wrongly(s.fault.mode);
    }
    const auto first = std::min_element(chains.begin(), chains.end(), [](const Told& a, const Told& b) {
        const bool a_late = a.stops_everything && b.conducts, b_late = b.stops_everything && a.conducts;
        return a_late != b_late ? b_late : a.steps.size() > b.steps.size();
    });
    if (first == chains.begin()) return;
    std::rotate(chains.begin(), first, first + 1);
    steps.clear();
    for (auto& c : chains) {
        c.steps.front().cause = steps.empty() ? Cause::Root : Cause::Independent;
        steps.insert(steps.end(), c.steps.begin(), c.steps.end());
    }
}

} // namespace ohmo
