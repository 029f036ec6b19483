// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/branch_fuses.h"

#include "board/net_sets.h"
#include "board/nominal.h"

#include <algorithm>
#include <optional>
#include <span>
#include <utility>

namespace ohmo {
namespace {

using Way = PowerPath::Way;

// The winding that feeds the fuse, if one does.
std::optional<BranchFuse> in_a_secondary(const Board& board, const PowerPath& path, int fuse) {
    const NetId a = board.part(fuse).pins[0].id, b = board.part(fuse).pins[1].id;
    const auto wire_a = path.stiff_reach({a}, Way::Wire, fuse), wire_b = path.stiff_reach({b}, Way::Wire, fuse);
    for (const auto& part : board.parts) {
        if (part.kind != PartKind::Transformer) continue;
        for (const auto& [one, other] : part.pairs()) {
            if (one == nullptr || other == nullptr || one->role.front() == 'P') continue;
            for (const auto& [end, far] : {std::pair(one->id, other->id), std::pair(other->id, one->id)}) {
                if (within(wire_a, end) == within(wire_b, end)) continue;
                const NetId load = within(wire_a, end) ? b : a;
                BranchFuse out{.part = fuse, .shorts = {.at = load == a ? wire_a : wire_b}};
                for (const auto& [from, to] : {std::pair(load, far), std::pair(far, load)})
                    out.shorts.loops.push_back(
                        {path.stiff_reach({from}, Way::Forwards, fuse), path.stiff_reach({to}, Way::Backwards, fuse)});
                return out;
            }
        }
    }
    return std::nullopt;
}

std::optional<double> rated(const Part& part) {
    const auto nominal = likely_value(part);
    return nominal ? nominal->amps : std::nullopt;
}

// Between the inlet and the fuse there is nothing that changes the current.
bool in_the_inputs_current(const Board& board, const PowerPath& path, int fuse, NetId live) {
    return board.mains && (within(path.stiff_reach(path.entry(), Way::Forwards, fuse), live) ||
                           within(path.stiff_reach(path.entry(), Way::Backwards, fuse), live));
}

bool input_holds_longer(const Board& board, int fuse) {
    const auto mine = rated(board.part(fuse));
    return std::all_of(board.parts.begin(), board.parts.end(),
                       [&](const Part& p) { return !is_input_fuse(p) || (mine && *rated(p) > *mine); });
}

NetId red_of(const Part& part) { return part.net(kind_info(part.kind).red); }
NetId black_of(const Part& part) { return part.net(kind_info(part.kind).black); }

// The far ends of primary windings.
void through_windings(const Board& board, std::vector<char>& nets, const std::vector<char>& but_not) {
    for (bool grown = true; std::exchange(grown, false);)
        for (const auto& part : board.parts) {
            if (part.kind != PartKind::Transformer) continue;
            for (const auto& [one, other] : part.pairs()) {
                if (one == nullptr || other == nullptr || one->role.front() != 'P' || within(nets, one->id) == within(nets, other->id))
                    continue;
                const NetId far = within(nets, one->id) ? other->id : one->id;
                if (far < 0 || within(but_not, far)) continue;
                nets[static_cast<std::size_t>(far)] = 1;
                grown = true;
            }
        }
}

// A converter's switches conduct in turn: what stands between one on the branch and one on its way back is on both while they run.
void through_switches(const Board& board, std::span<const int> switches, ShortLoops::Loop& loop) {
    through_windings(board, loop.fed, loop.back);
    const auto beside = [&](const std::vector<char>& side) {
        std::vector<char> out(board.nets.size(), 0);
        for (int i : switches)
            for (const auto& [end, far] :
                 {std::pair(red_of(board.part(i)), black_of(board.part(i))), std::pair(black_of(board.part(i)), red_of(board.part(i)))})
                if (within(side, end) && far >= 0 && !within(loop.fed, far) && !within(loop.back, far))
                    out[static_cast<std::size_t>(far)] = 1;
        return out;
    };
    auto between = beside(loop.fed);
    through_windings(board, between, loop.back);
    const auto low = beside(loop.back);
    for (std::size_t n = 0; n < board.nets.size(); ++n)
        if (low[n] != 0 && between[n] != 0)
            for (std::size_t k = 0; k < board.nets.size(); ++k)
                if (between[k] != 0) loop.fed[k] = loop.back[k] = 1;
}

// Where current leaves the fuse for a positive branch, or comes back through it from a negative one.
std::optional<BranchFuse> in_a_branch(const Board& board, const PowerPath& path, std::span<const int> switches, int fuse) {
    std::vector<NetId> sources = path.entry();
    for (const auto& part : board.parts)
        if (part.kind == PartKind::Transformer)
            for (const auto& pin : part.pins)
                if (pin.role.front() != 'P') sources.push_back(pin.id);
    const NetId a = board.part(fuse).pins[0].id, b = board.part(fuse).pins[1].id;
    for (const auto& [out, back] : {std::pair(Way::Forwards, Way::Backwards), std::pair(Way::Backwards, Way::Forwards)}) {
        const auto live = path.fed_without(sources, fuse, out == Way::Backwards);
        if (within(live, a) == within(live, b)) continue;
        BranchFuse made{.part = fuse,
                        .first = !in_the_inputs_current(board, path, fuse, within(live, a) ? a : b) || input_holds_longer(board, fuse)};
        auto& loop = made.shorts.loops.emplace_back();
        loop.fed = path.stiff_reach({within(live, a) ? b : a}, out, fuse);
        const auto fed_otherwise = path.stiff_reach(sources, out, fuse); // where a diode back from the output leads, too
        for (std::size_t n = 0; n < board.nets.size(); ++n)
            if (fed_otherwise[n] != 0) loop.fed[n] = 0;
        loop.back = path.stiff_reach(sources, back, fuse);
        for (NetId n : path.returns()) loop.back[static_cast<std::size_t>(n)] = 1;
        for (std::size_t n = 0; n < board.nets.size(); ++n)
            if (loop.fed[n] != 0) loop.back[n] = 0;
        through_switches(board, switches, loop);
        return made;
    }
    return std::nullopt;
}

} // namespace

bool is_input_fuse(const Part& part) {
    if (part.kind != PartKind::Fuse || (part.stage != "mains-in" && part.stage != "filter")) return false;
    return rated(part).has_value();
}

std::vector<BranchFuse> find_branch_fuses(const Board& board, const PowerPath& path, std::span<const int> switches) {
    std::vector<BranchFuse> out;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& part = board.part(i);
        if (part.kind != PartKind::Fuse || is_input_fuse(part) || part.pins[0].id < 0 || part.pins[1].id < 0) continue;
        auto found = in_a_secondary(board, path, i);
        if (!found) found = in_a_branch(board, path, switches, i);
        if (found) out.push_back(std::move(*found));
    }
    return out;
}

} // namespace ohmo
