// SPDX-License-Identifier: GPL-3.0-or-later
// Sums: the input's volts over the ohms on the way, against what the driving pin or the fuse stands. The input's volts are what its
// capacitors were chosen for, less the usual margin.
#include "damage/low_voltage.h"

#include "base/statistics.h"
#include "board/nominal.h"
#include "damage/melted.h"

#include <algorithm>
#include <optional>

namespace ohmo {
namespace {

struct Driven {
    double ohms;
    std::string_view by; ///< pin of the controller
};

// Between the gate of a part and a driving pin of the controller; empty where nothing joins them.
std::optional<Driven> from_the_driver(const Board& board, const BoardRoles& roles, const Part& part) {
    std::optional<Driven> out;
    const NetId gate = part.net("G");
    for (const auto pin : chip_outputs(board.part(roles.controller))) {
        const NetId driver = board.part(roles.controller).net(pin);
        if (driver == gate) out = Driven{0, pin};
        for (int d : roles.drive_path) {
            const auto& between = board.part(d);
            if (!is_resistor_like(between.kind) || driver < 0) continue;
            const auto n = likely_value(between);
            if (between.touches(driver) && between.touches(gate) && n && n->ohms) out = Driven{*n->ohms, pin};
        }
    }
    return out;
}

// Parts a chain in two: it goes on by `step` with this chance, or does not.
void part_chain(std::vector<Chain>& chains, std::size_t k, Step step, double chance) {
    Chain more{chains[k].steps, chains[k].chance * chance};
    more.steps.push_back(std::move(step));
    chains[k].chance *= 1 - chance;
    chains.push_back(std::move(more));
}

} // namespace

double input_volts(const Board& board, const BoardRoles& roles) {
    double least = 0;
    for (const auto& part : board.parts) {
        const auto nominal = likely_value(part);
        const bool entry =
            part.stage == "filter" || part.stage == "mains-in" || part.stage == "bulk" || (part.stage == "smooth" && roles.line_fed());
        if (is_wet_or_solid_electrolytic(part.kind) && entry && nominal && nominal->volts && (least == 0 || *nominal->volts < least))
            least = *nominal->volts;
    }
    return least > 0 ? least / board.practice().rating_margin : board.practice().unknown_input_volts;
}

void reach_the_driver(const Board& board, const BoardRoles& roles, std::vector<Chain>& chains) {
    if (roles.controller < 0) return;
    const auto& p = board.practice();
    const std::size_t count = chains.size();
    for (std::size_t k = 0; k < count; ++k) {
        std::optional<Driven> driven;
        for (const auto& step : chains[k].steps) {
            const auto& part = board.part(step.fault.part);
            if (part.kind != PartKind::Mosfet || step.fault.mode != FaultMode::Short || part.net("G") < 0) continue;
            if (const auto here = from_the_driver(board, roles, part)) driven = here;
        }
        if (!driven) continue;
        const double amps = input_volts(board, roles) / (driven->ohms + p.broken_gate_ohms);
        const double chance = std::min(exceedance(amps / p.driver_amps, p.driver_amps_spread), 1 - p.model_doubt);
        const bool one = places_of_output_short(board.part(roles.controller)).empty();
        const Fault fault{roles.controller, FaultMode::OutputShort, one ? std::string() : std::string(driven->by)};
        part_chain(chains, k, {fault, Cause::PinCurrent, amps, p.driver_amps, 0}, chance);
    }
}

void blow_input_fuse(const Board& board, const BoardRoles& roles, BehaviourModel& behaviour, std::vector<Chain>& chains) {
    const auto& p = board.practice();
    const std::size_t count = chains.size();
    for (std::size_t k = 0; k < count; ++k) {
        const Scenario scenario{chains[k].steps, 0};
        if (behaviour.judge(scenario).running != Running::BlowsFuse) continue;
        if (melt_branch_fuses(board, roles.branch_fuses, scenario.faults()).any) continue; // which spares it
        for (int i : roles.input_fuses) {
            const double amps = input_volts(board, roles) / p.input_ohms, limit = p.fuse_melts_above * *likely_value(board.part(i))->amps;
            const double chance = p.stiff_input * std::min(exceedance(amps / limit, p.input_ohms_spread), 1 - p.model_doubt);
            part_chain(chains, k, {{i, FaultMode::Open, {}}, Cause::Overcurrent, amps, limit, 0}, chance);
        }
    }
}

} // namespace ohmo
