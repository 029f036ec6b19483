// SPDX-License-Identifier: GPL-3.0-or-later
// What a shorted switch takes along, board by board: the chances as the belief has them before anything is read, with the sums they come
// from held to the trade. Prints rows of a table.
//   ohmo_chains DATA JOB…
#include "base/disk.h"
#include "belief/belief.h"
#include "job/pipeline.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <functional>
#include <map>

using namespace ohmo;

namespace {

enum Column { kFuse, kFusible, kSense, kGate, kController, kBridge, kColumns };

int column_of(const Board& board, const BoardRoles& roles, const Fault& fault) {
    const auto& part = board.part(fault.part);
    const auto among = [&](const std::vector<int>& some) { return std::find(some.begin(), some.end(), fault.part) != some.end(); };
    if (among(roles.input_fuses)) return kFuse;
    if (part.kind == PartKind::FusibleResistor || part.kind == PartKind::Thermistor) return kFusible;
    if (among(roles.sense)) return kSense;
    if (among(roles.bridges)) return kBridge;
    if (fault.part == roles.controller) return kController;
    if (among(roles.drive) && part.kind == PartKind::Resistor) return kGate;
    return kColumns;
}

// Chance that at least one of each sort fails with the switch, by what follows from it and from what that brings down in turn.
void print(const Analysis& a) {
    const Board& board = a.replay.board;
    const auto& belief = *a.assessment.belief;
    const auto& net = belief.net();
    for (std::size_t u = 0; u < belief.model().units.size(); ++u) {
        const auto& unit = belief.model().units[u];
        if (!a.replay.roles->is_switch(unit.part)) continue;
        for (std::size_t m = 1; m < unit.modes.size(); ++m) {
            if (!unit.modes[m].conducts || net.out_of[u].empty()) continue;
            std::map<int, double> fails; // by part, its ways of failing together: along the likeliest chain
            const std::function<void(int, int, double, int)> follow = [&](int from, int mode, double p, int depth) {
                std::map<int, double> here;
                for (int e : net.out_of[static_cast<std::size_t>(from)]) {
                    const auto& edge = net.edges[static_cast<std::size_t>(e)];
                    if (edge.parent_mode != mode || depth > 3) continue;
                    here[belief.model().units[static_cast<std::size_t>(edge.child)].part] += p * edge.chance;
                    follow(edge.child, edge.child_mode, p * edge.chance, depth + 1);
                }
                for (const auto& [part, chance] : here) fails[part] = std::max(fails[part], std::min(1.0, chance));
            };
            follow(static_cast<int>(u), static_cast<int>(m), 1, 0);
            std::array<double, kColumns> spared;
            spared.fill(1);
            for (const auto& [part, p] : fails)
                if (const int c = column_of(board, *a.replay.roles, {part, FaultMode::Open, {}}); c < kColumns)
                    spared[static_cast<std::size_t>(c)] *= 1 - p;
            std::string row = fmt::format("| {} | {} |", board.name, fault_text(board, unit.modes[m].fault));
            for (double s : spared) row += s < 1 ? fmt::format(" {:.0f} % |", 100 * (1 - s)) : " - |";
            std::puts(row.c_str());
        }
    }
}

} // namespace

int main(int count, char** arguments) {
    if (count < 3) {
        std::fprintf(stderr, "usage: ohmo_chains DATA JOB...\n");
        return 2;
    }
    auto analyst = Analyst::make(RealDisk(), Path(arguments[1]));
    const auto reader = JobReader::make(RealDisk(), Path(arguments[1]));
    if (!analyst || !reader) return 3;
    std::puts("| board | switch | fuse | fusible, inrush | sense | gate or base resistor | controller | bridge "
              "|\n|---|---|---|---|---|---|---|---|");
    for (int i = 2; i < count; ++i) {
        auto loaded = reader->load(RealDisk(), Path(arguments[i]));
        if (!loaded) continue;
        loaded->job.journal.clear();
        const auto a = analyst->analyse(loaded->job, {});
        if (a) print(**a);
    }
    return 0;
}
