// SPDX-License-Identifier: GPL-3.0-or-later
// Minutes are common practice, no source: a look 0.4, a substitution 12, cooling a suspect 3.
#include "advice/word_acts.h"

#include "advice/outcomes.h"
#include "damage/telling.h"
#include "readings/likelihood.h"

#include <functional>
#include <map>
#include <set>

namespace ohmo {
namespace {

constexpr double kMinutesLook = 0.4, kMinutesSubstitute = 12, kMinutesCool = 3;
constexpr double kWorthALook = 0.01, kWorthPower = 0.05, kCertain = 0.95; // suspicion
constexpr double kWorks = 0.85;                                           // a good part in the place of a bad one
constexpr double kLeastShown = 0.01;                                      // of a band's chance

/// Odds of a word with this fault of the part; without one: null.
using WordChance = std::function<double(const std::string& word, const Fault* fault)>;

// Splits the mass by one part's state.
NextAct act_of(const Living& living, Act act, int part, double minutes, const std::vector<std::string>& words, const WordChance& chance) {
    std::map<std::optional<Fault>, double> mass;
    for (std::size_t s = 0; s < living.faults.size(); ++s) {
        std::optional<Fault> mine;
        for (const auto& f : living.faults[s])
            if (f.part == part) mine = f;
        mass[mine] += living.weights[s];
    }
    std::vector<WordCase> cases;
    for (const auto& [fault, m] : mass) {
        WordCase& c = cases.emplace_back();
        c.p = m;
        for (const auto& word : words) c.chance.push_back(chance(word, fault ? &*fault : nullptr));
    }
    NextAct out{.act = act, .part = part, .bits = word_information(cases), .minutes = minutes};
    for (std::size_t w = 0; w < words.size(); ++w) {
        Band band;
        double best = 0;
        std::size_t k = 0;
        for (const auto& [fault, m] : mass) {
            const double here = m * cases[k++].chance[w];
            band.p += here;
            if (here <= best) continue;
            best = here;
            band.story = fault;
        }
        band.healthy = !band.story;
        band.looks = {words[w]};
        if (band.p > kLeastShown) out.bands.push_back(std::move(band));
    }
    return out;
}

std::optional<NextAct> look(const FaultLibrary& library, PartKind kind, const Living& living, int part) {
    const auto entry = library.kinds.find(kind);
    if (entry == library.kinds.end()) return std::nullopt;
    std::set<std::string> words;
    for (const auto& [mode, data] : entry->second.modes)
        for (const auto& [word, chance] : data.looks) words.insert(word);
    std::vector<std::string> all(words.begin(), words.end());
    all.emplace_back("fine");
    return act_of(living, Act::Look, part, kMinutesLook, all, [&](const std::string& word, const Fault* fault) {
        if (fault == nullptr) return word == "fine" ? 0.985 : 0.015 / static_cast<double>(words.size());
        const auto* mode = library.find(kind, fault->mode);
        if (mode == nullptr) return word == "fine" ? 0.8 : 0.2 / static_cast<double>(words.size());
        if (word == "fine") return mode->looks_fine();
        const auto found = mode->looks.find(word);
        return found == mode->looks.end() ? 0.001 : found->second;
    });
}

bool moves_with_heat(FaultMode mode) {
    return mode == FaultMode::Leaky || mode == FaultMode::Dry || mode == FaultMode::Weak || mode == FaultMode::GateLeak;
}

} // namespace

std::vector<NextAct> word_acts(const Board& board, const FaultLibrary& library, const Assessment& assessment, const Evidence& evidence,
                               const Living& living, double least_bits) {
    std::vector<NextAct> out;
    const auto offer = [&](NextAct act) {
        if (act.bits >= least_bits) out.push_back(std::move(act));
    };
    for (const auto& b : assessment.parts) {
        if (b.bad < kWorthALook) break;
        if (evidence.looked.contains(b.part)) continue;
        if (auto act = look(library, board.part(b.part).kind, living, b.part)) offer(std::move(*act));
    }
    if (!evidence.live_allowed) return out;
    for (const auto& b : assessment.parts) {
        if (b.bad < kWorthPower) break;
        if (b.bad > kCertain) continue;
        if (!b.settled_cold) // a known-good part in its place
            offer(act_of(
                living, Act::Substitute, b.part, kMinutesSubstitute, {"works", "same"},
                [](const std::string& word, const Fault* fault) { return (word == "works") == (fault != nullptr) ? kWorks : 1 - kWorks; }));
        if (moves_with_heat(b.leading.mode)) // a leak recovers within seconds
            offer(act_of(living, Act::Cool, b.part, kMinutesCool, {"recovers", "worse", "same"},
                         [](const std::string& word, const Fault* fault) { return temperature_chance(word, true, fault); }));
    }
    return out;
}

} // namespace ohmo
