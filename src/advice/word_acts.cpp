// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/word_acts.h"

#include "advice/outcomes.h"
#include "belief/belief.h"
#include "damage/telling.h"
#include "readings/looked_over.h"
#include "readings/words.h"

#include <functional>
#include <map>
#include <set>

namespace ohmo {
namespace {

constexpr double kLeastShown = 0.01; // of a band's chance

// What a story says of the part asked about.
struct Condition {
    std::optional<Fault> fault;
    bool alone = false;                                 ///< nothing else is bad
    auto operator<=>(const Condition&) const = default; // NOLINT(modernize-use-nullptr): compares with 0 behind the scenes
};

/// Chance of a word under a condition.
using WordChance = std::function<double(const std::string& word, const Condition& condition)>;

// Splits the odds by one part's condition.
NextAct act_of(const Practice& p, const Assessment& assessment, Act act, int part, double minutes, const std::vector<std::string>& words,
               const WordChance& chance) {
    std::map<Condition, double> mass;
    const auto& belief = *assessment.belief;
    double bad = 0, others = 1;
    for (const auto& b : assessment.parts)
        if (b.part != part) others *= 1 - b.bad;
    for (int u : belief.model().units_of[static_cast<std::size_t>(part)]) {
        const auto& unit = belief.model().units[static_cast<std::size_t>(u)];
        for (std::size_t m = 1; m < unit.modes.size(); ++m) {
            const double chance_of = belief.mode(u, static_cast<int>(m));
            mass[{unit.modes[m].fault, false}] += chance_of * (1 - others);
            mass[{unit.modes[m].fault, true}] += chance_of * others;
            bad += chance_of;
        }
    }
    mass[{std::nullopt, false}] += std::max(0.0, 1 - bad);
    std::vector<WordCase> cases;
    for (const auto& [condition, m] : mass) {
        WordCase& c = cases.emplace_back();
        c.p = m;
        for (const auto& word : words) c.chance.push_back(chance(word, condition));
    }
    NextAct out{.act = act, .part = part, .bits = word_information(cases), .minutes = minutes};
    for (std::size_t w = 0; w < words.size(); ++w) {
        Band band;
        double best = 0, faulty = 0;
        std::size_t k = 0;
        for (const auto& [condition, m] : mass) {
            const double here = m * cases[k++].chance[w];
            band.p += here;
            if (condition.fault) faulty += here;
            if (here <= best) continue;
            best = here;
            band.story = condition.fault;
        }
        band.healthy = !band.story;
        band.looks = {words[w]};
        if (faulty > p.open_above * band.p && faulty < p.open_below * band.p) out.after += band.p * p.minutes_read;
        if (band.p > kLeastShown) out.bands.push_back(std::move(band));
    }
    return out;
}

const Fault* fault_of(const Condition& c) { return c.fault ? &*c.fault : nullptr; }

// The looks that the library knows of this kind; the chances of what is left go to "anything else", so that they sum to one.
// `over`: chance that an odd look would have been noted already.
std::optional<NextAct> look(const Practice& p, const FaultLibrary& library, PartKind kind, const Assessment& assessment, int part,
                            double over) {
    const auto entry = library.kinds.find(kind);
    if (entry == library.kinds.end()) return std::nullopt;
    std::set<std::string> words;
    for (const auto& [mode, data] : entry->second.modes)
        for (const auto& [word, chance] : data.looks) words.insert(word);
    std::vector<std::string> all(words.begin(), words.end());
    all.emplace_back("fine");
    return act_of(p, assessment, Act::Look, part, p.minutes_look, all, [&](const std::string& word, const Condition& c) {
        const auto of = [&](const std::string& w) { return look_chance(p, library, kind, w, fault_of(c)) * (w == "fine" ? 1 : 1 - over); };
        double sum = 0;
        for (const auto& w : all) sum += of(w);
        return of(word) / sum;
    });
}

bool moves_with_heat(FaultMode mode) {
    return mode == FaultMode::Leaky || mode == FaultMode::Dry || mode == FaultMode::Weak || mode == FaultMode::GateLeak;
}

} // namespace

std::vector<NextAct> word_acts(const Board& board, const FaultLibrary& library, const Assessment& assessment, const Evidence& evidence,
                               double least_bits) {
    std::vector<NextAct> out;
    const auto offer = [&](NextAct act) {
        if (act.bits >= least_bits) out.push_back(std::move(act));
    };
    const Practice& p = board.practice();
    for (const auto& b : assessment.parts) {
        if (b.bad < p.worth_a_look) break;
        if (evidence.looked.contains(b.part) || evidence.renewed.contains(b.part) || b.bad > p.certain) continue;
        if (auto act = look(p, library, board.part(b.part).kind, assessment, b.part, assessment.looked_over)) offer(std::move(*act));
    }
    if (!evidence.live_allowed) return out;
    for (const auto& b : assessment.parts) {
        if (b.bad < p.worth_power) break;
        if (b.bad > p.certain) continue;
        if (!b.settled_cold) // a known-good part in its place
            offer(act_of(p, assessment, Act::Substitute, b.part, p.minutes_substitute, {"works", "same"},
                         [&](const std::string& word, const Condition& c) {
                             const auto of = [&](const char* w) { return substitute_chance(p, w, c.fault.has_value(), c.alone); };
                             return of(word.c_str()) / (of("works") + of("same"));
                         }));
        if (moves_with_heat(b.leading.mode)) // a leak recovers within seconds
            offer(act_of(p, assessment, Act::Cool, b.part, p.minutes_cool, {"recovers", "worse", "same"},
                         [&](const std::string& word, const Condition& c) { return temperature_chance(p, word, true, fault_of(c)); }));
    }
    return out;
}

} // namespace ohmo
