// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/words.h"

#include "damage/blast.h"

#include <algorithm>
#include <string_view>

namespace ohmo {
namespace {

// Destroyed to the eye.
bool is_burnt(std::string_view word) { return word == "burnt" || word == "cracked" || word == "vented" || word == "black-glass"; }
bool is_holed(std::string_view word) { return word == "hole" || word == "blown-lead"; }

const Practice::Temperature& temperature_of(const Practice& p, const Fault* fault) {
    if (fault == nullptr) return p.sound;
    switch (fault->mode) {
    case FaultMode::Leaky:
    case FaultMode::GateLeak:
    case FaultMode::Weak:
        return p.leaks;
    case FaultMode::Dry:
    case FaultMode::Low:
        return p.dry;
    case FaultMode::Intermittent:
    case FaultMode::DryJoint:
        return p.cracked;
    default:
        return p.sound;
    }
}

double verdict_chance(const Practice& p, const Observation& seen, const Fault* fault) {
    if ((seen.word == "good") == (fault != nullptr)) return 1 - p.verdict_right;
    const bool names_another =
        fault != nullptr && !seen.modes.empty() && std::find(seen.modes.begin(), seen.modes.end(), fault->mode) == seen.modes.end();
    return names_another ? p.verdict_other_mode : p.verdict_right;
}

// Several in one draught of air: what any of them would do.
double draught_chance(const Practice& p, const Observation& seen, const std::vector<Fault>& faults) {
    const bool cooled = seen.kind == Seen::Cooled;
    double chance = temperature_chance(p, seen.word, cooled, nullptr);
    for (const auto& f : faults)
        if (std::find(seen.area.begin(), seen.area.end(), f.part) != seen.area.end() && !seen.renewed.contains(f.part))
            chance = std::max(chance, temperature_chance(p, seen.word, cooled, &f));
    return chance;
}

// Soot or a smell about several parts: from any of them that broke so that one sees it.
double area_chance(const Board& board, const FaultLibrary& library, const Observation& seen, const std::vector<Fault>& faults) {
    const Practice& p = board.practice();
    double chance = p.sound_looks_sooty;
    for (const auto& f : faults) {
        if (std::find(seen.area.begin(), seen.area.end(), f.part) == seen.area.end() || seen.renewed.contains(f.part)) continue;
        const ModeEntry* mode = library.find(board.part(f.part).kind, f.mode);
        if (mode == nullptr) continue;
        double shows = 0;
        for (const auto& [word, look] : mode->looks)
            if (word == "soot" || is_burnt(word) || is_holed(word) || (seen.word == "smell" && (word == "leaking" || word == "brown")))
                shows += look;
        chance = std::max(chance, p.soot_beside * std::min(shows, 1.0));
    }
    return chance;
}

// What the eye sees of a part that works. None that works is destroyed, unless the word was meant for another.
double sound_look(const Practice& p, const std::string& word) {
    return is_holed(word)                     ? p.sound_looks_holed
           : is_burnt(word) || word == "open" ? p.sound_looks_burnt
           : word == "fine"                   ? p.sound_looks_fine
           : word == "brown"                  ? p.sound_looks_brown
           : word == "bulged"                 ? p.sound_looks_bulged
           : word == "leaking"                ? p.sound_looks_leaking
           : word == "dry-joint"              ? p.sound_looks_dry
                                              : p.sound_looks_other;
}

} // namespace

bool looks_destroyed(std::string_view word) { return is_burnt(word) || is_holed(word); }

double look_chance(const Practice& p, const FaultLibrary& library, PartKind kind, const std::string& word, const Fault* fault,
                   double soot) {
    const double sooty = p.soot_beside * soot; // soot on a sound part points at what burst beside it
    const double sound = word == "soot" ? p.sound_looks_sooty + sooty : sound_look(p, word) * (1 - sooty);
    if (fault == nullptr) return sound;
    const ModeEntry* mode = library.find(kind, fault->mode);
    if (mode == nullptr) return word == "fine" ? p.unlisted_mode_fine : p.unlisted_mode_look;
    if (word == "fine") return mode->looks_fine();
    const auto look = mode->looks.find(word);
    return look != mode->looks.end() ? look->second : std::max(p.unlisted_look, sound); // no fault mends a look
}

double temperature_chance(const Practice& p, const std::string& word, bool cooled, const Fault* fault) {
    const auto& odds = temperature_of(p, fault);
    const double recovers = cooled ? odds.cooled_recovers : odds.heated_recovers, worse = cooled ? odds.cooled_worse : odds.heated_worse;
    return word == "recovers" ? recovers : word == "worse" ? worse : 1 - recovers - worse;
}

double substitute_chance(const Practice& p, const std::string& word, bool bad, bool alone) {
    if (word == "works" || word == "recovers") return bad ? (alone ? p.cured_alone : p.cured_among_others) : p.cured_by_chance;
    return bad && alone ? p.same_alone : p.same_otherwise;
}

double other_likelihood(const Board& board, const FaultLibrary& library, const Observation& seen, const std::vector<Fault>& faults,
                        const Behaviour& behaviour) {
    const Practice& p = board.practice();
    if (seen.kind == Seen::Symptom) return symptom_chance(p, seen.word, behaviour);
    if (seen.kind == Seen::Cooled || seen.kind == Seen::Heated) return draught_chance(p, seen, faults);
    if (seen.kind == Seen::Look && seen.part < 0) return area_chance(board, library, seen, faults);
    const auto found = std::find_if(faults.begin(), faults.end(), [&](const Fault& f) { return f.part == seen.part; });
    const Fault* fault = found != faults.end() && !seen.renewed.contains(seen.part) ? &*found : nullptr;
    if (seen.kind == Seen::Verdict) return verdict_chance(p, seen, fault);
    if (seen.kind == Seen::Substitute) return substitute_chance(p, seen.word, fault != nullptr, faults.size() == 1);
    return look_chance(p, library, board.part(seen.part).kind, seen.word, fault,
                       fault == nullptr ? blast_on(board, faults, seen.part).share : 0);
}

} // namespace ohmo
