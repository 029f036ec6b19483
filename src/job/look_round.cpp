// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/look_round.h"

#include <algorithm>
#include <map>

namespace ohmo {
namespace {

constexpr std::size_t kMostLooks = 9; // one digit each

std::size_t place_of(const std::string& stage) {
    const auto& order = stage_order();
    return static_cast<std::size_t>(std::find(order.begin(), order.end(), stage) - order.begin());
}

} // namespace

std::vector<LookStop> look_round(const Replay& now) {
    std::vector<LookStop> out;
    for (int i = 0; i < static_cast<int>(now.board.parts.size()); ++i) {
        if (now.evidence.absent.contains(i)) continue;
        const auto seen = now.looks.find(i);
        out.push_back({i, now.board.part(i).stage, seen == now.looks.end() ? std::string() : seen->second});
    }
    std::stable_sort(out.begin(), out.end(), [](const LookStop& a, const LookStop& b) { return place_of(a.stage) < place_of(b.stage); });
    return out;
}

std::vector<std::string> looks_of(const FaultLibrary& library, PartKind kind) {
    std::map<std::string, double> weight;
    if (const auto found = library.kinds.find(kind); found != library.kinds.end())
        for (const auto& [mode, entry] : found->second.modes)
            for (const auto& [word, chance] : entry.looks) weight[word] += entry.share * chance;
    std::vector<std::pair<double, std::string>> by_weight;
    for (const auto& [word, w] : weight) by_weight.emplace_back(-w, word);
    std::sort(by_weight.begin(), by_weight.end());
    std::vector<std::string> out = {"fine"};
    const auto add = [&](const std::string& word) {
        if (out.size() < kMostLooks && std::find(out.begin(), out.end(), word) == out.end()) out.push_back(word);
    };
    for (const auto& [w, word] : by_weight) add(word);
    for (const char* word : {"burnt", "soot", "dry-joint", "cracked", "brown", "lifted-pad", "corroded", "not-fitted"}) add(word);
    return out;
}

LooksByKind looks_by_kind(const FaultLibrary& library) {
    LooksByKind out;
    for (const auto& info : all_kinds()) out[info.kind] = looks_of(library, info.kind);
    return out;
}

} // namespace ohmo
