// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/open_ends.h"

#include "base/text.h"
#include "board/mains_side.h"

#include <algorithm>
#include <deque>
#include <numeric>

namespace ohmo {
namespace {

constexpr std::size_t kTypo = 1; // letters changed, added or left out between two names for one net

std::size_t distance(const std::string& a, const std::string& b) {
    std::vector<std::size_t> row(b.size() + 1);
    std::iota(row.begin(), row.end(), std::size_t{0});
    for (std::size_t i = 1; i <= a.size(); ++i) {
        std::size_t corner = row[0];
        row[0] = i;
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const std::size_t above = row[j];
            row[j] = std::min({above + 1, row[j - 1] + 1, corner + (a[i - 1] == b[j - 1] ? 0 : 1)});
            corner = above;
        }
    }
    return row[b.size()];
}

// A mistyped name: as long, no figure changed (VCC1 and VCC2 are two nets).
std::string similar_net(const Board& board, const std::string& net, const std::vector<int>& pins) {
    const auto letters = [](std::string text) {
        std::erase_if(text, [](unsigned char c) { return c == '_' || c == '-' || c == ' ' || c == '.'; });
        return lowered(text);
    };
    const auto figures = [](const std::string& text) {
        std::string out;
        for (char c : text)
            if (c >= '0' && c <= '9') out += c;
        return out;
    };
    for (std::size_t n = 0; n < board.nets.size(); ++n) {
        const std::string& other = board.nets[n];
        if (other == net || pins[n] < 2 || figures(other) != figures(net)) continue;
        if (letters(other) == letters(net)) return other;
        if (std::min(net.size(), other.size()) >= 3 && distance(lowered(net), lowered(other)) <= kTypo) return other;
    }
    return {};
}

// The shortest way over parts from any net of `from` to `to`; empty when there is none.
std::vector<int> way(const Board& board, const std::vector<char>& from, NetId to) {
    std::vector<int> by(board.nets.size(), -1);
    std::vector<NetId> before(board.nets.size(), -1);
    std::vector<char> seen = from;
    std::vector<std::pair<int, std::vector<NetId>>> groups;
    for (int p = 0; p < static_cast<int>(board.parts.size()); ++p)
        for (auto& group : joined_nets(board.part(p))) groups.emplace_back(p, std::move(group));
    std::deque<NetId> open;
    for (std::size_t n = 0; n < from.size(); ++n)
        if (from[n]) open.push_back(static_cast<NetId>(n));
    while (!open.empty() && !seen[static_cast<std::size_t>(to)]) {
        const NetId at = open.front();
        open.pop_front();
        for (const auto& [p, group] : groups) {
            if (std::find(group.begin(), group.end(), at) == group.end()) continue;
            for (NetId next : group) {
                if (next < 0 || seen[static_cast<std::size_t>(next)]) continue;
                seen[static_cast<std::size_t>(next)] = 1;
                by[static_cast<std::size_t>(next)] = p;
                before[static_cast<std::size_t>(next)] = at;
                open.push_back(next);
            }
        }
    }
    std::vector<int> out;
    for (NetId n = to; n >= 0 && by[static_cast<std::size_t>(n)] >= 0; n = before[static_cast<std::size_t>(n)])
        out.push_back(by[static_cast<std::size_t>(n)]);
    std::reverse(out.begin(), out.end());
    return out;
}

void contradictions(const Board& board, std::vector<OpenEnd>& out) {
    const bool barrier = std::any_of(board.parts.begin(), board.parts.end(), [](const Part& p) {
        return p.kind == PartKind::Optocoupler || (p.kind == PartKind::Transformer && p.pins.size() > 2);
    });
    const bool inlet = std::any_of(board.parts.begin(), board.parts.end(), [](const Part& p) { return p.stage == "mains-in"; });
    if (barrier && rails_on_mains(board)) {
        std::vector<char> mains(board.nets.size(), 0);
        for (const auto& part : board.parts)
            if (part.stage == "mains-in")
                for (const auto& pin : part.pins) mains[static_cast<std::size_t>(pin.id)] = 1;
        const auto on = nets_on_mains(board);
        for (const auto& rail : board.rails) {
            if (!on[static_cast<std::size_t>(rail.net_id)] && !on[static_cast<std::size_t>(rail.return_id)]) continue;
            OpenEnd end;
            end.kind = OpenEndKind::SidesMeet;
            end.net = rail.net;
            end.way = way(board, mains, on[static_cast<std::size_t>(rail.net_id)] ? rail.net_id : rail.return_id);
            end.part = end.way.empty() ? -1 : end.way[end.way.size() / 2];
            out.push_back(std::move(end));
        }
    }
    if (board.mains && !inlet && !board.parts.empty()) out.push_back({OpenEndKind::NoInlet, -1, {}, {}, {}, {}, {}});
    if (board.rails.empty() && !board.parts.empty()) out.push_back({OpenEndKind::NoRails, -1, {}, {}, {}, {}, {}});
    for (const auto& rail : board.rails) {
        if (rail.net_id < 0 || rail.return_id < 0) continue;
        std::vector<char> start(board.nets.size(), 0);
        start[static_cast<std::size_t>(rail.net_id)] = 1;
        if (way(board, start, rail.return_id).empty()) out.push_back({OpenEndKind::NoWayBack, -1, {}, rail.net, {}, {}, {}});
    }
}

} // namespace

bool half_traced(const Board& board) {
    if (board.parts.empty()) return true;
    if (std::none_of(board.parts.begin(), board.parts.end(), [](const Part& p) { return p.known == HowKnown::Found; })) return false;
    std::vector<OpenEnd> ends;
    contradictions(board, ends);
    return std::any_of(ends.begin(), ends.end(), [](const OpenEnd& e) { return e.kind != OpenEndKind::SidesMeet; });
}

std::vector<OpenEnd> open_ends(const Board& board) {
    std::vector<OpenEnd> out;
    contradictions(board, out);
    std::vector<int> pins(board.nets.size(), 0);
    for (const auto& part : board.parts)
        for (const auto& pin : part.pins) ++pins[static_cast<std::size_t>(pin.id)];
    for (int p = 0; p < static_cast<int>(board.parts.size()); ++p) {
        const Part& part = board.part(p);
        if (part.kind == PartKind::Connector) continue; // its far side goes elsewhere
        for (const auto& pin : part.pins) {
            if (pins[static_cast<std::size_t>(pin.id)] != 1) continue;
            OpenEnd end{
                pin.net == own_net(part.ref, pin.role) ? OpenEndKind::FreePin : OpenEndKind::LonelyNet, p, pin.role, pin.net, {}, {}, {}};
            if (end.kind == OpenEndKind::LonelyNet) {
                end.near = similar_net(board, pin.net, pins);
                if (!end.near.empty()) end.repair = NetEdit{pin.net, end.near};
            }
            out.push_back(std::move(end));
        }
    }
    return out;
}

} // namespace ohmo
