// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/nominal.h"

#include "base/engineering.h"
#include "base/marking.h"
#include "base/text.h"
#include "board/value_reading.h"

#include <fmt/format.h>

#include <map>
#include <regex>
#include <utility>

namespace ohmo {
namespace {

constexpr std::size_t kMostMarkings = 4096; // of all boards that were opened; a board has dozens

Problem unreadable(const Part& part, const char* expected) { return {ProblemKind::UnreadableValue, {}, part.value, expected, 0, false}; }

// "6V2" is 6.2V, "C5V1" (its tolerance before it) 5.1V, "0A5" 0.5A: the unit in the place of the point.
std::string unit_last(const std::string& word) {
    static const std::regex code("([A-E]?)([-+]?[0-9]+)([VAW])([0-9]+)");
    std::smatch found;
    if (!std::regex_match(word, found, code) || (found[1].length() > 0 && found[3] != "V")) return word;
    return found[2].str() + "." + found[4].str() + found[3].str();
}

// "600V 6A", "16V 10V", "40W", "LED": words with their units; other words (families) are left alone.
void ratings(const Part& part, Nominal& n) {
    for (const auto& word : split_words(part.value)) {
        const std::string upper = uppered(word), figure = unit_last(upper);
        if (upper == "LED") n.led = true;
        const char unit = figure.empty() ? ' ' : figure.back();
        if (unit != 'V' && unit != 'A' && unit != 'W') continue;
        const auto q = parse_quantity(figure == upper ? word : figure);
        if (!q) continue;
        if (unit == 'V' && !n.volts)
            n.volts = *q;
        else if (unit == 'V')
            n.stop_volts = *q;
        else if (unit == 'A')
            n.amps = *q;
        else
            n.watts = *q;
    }
}

// "82R": what a meter shows of a lamp.
std::optional<double> lamp_ohms(const Part& part) {
    for (const auto& word : split_words(part.value))
        if (word.find_first_of("VAW") == std::string::npos && word.find_first_of("Rk") != std::string::npos)
            if (const auto ohms = printed_figure(PartKind::Resistor, word)) return ohms;
    return {};
}

bool fuse_value(const Part& part, Nominal& n) {
    const auto meanings = decode_marking(part.value);
    if (!meanings) return false;
    for (const auto& m : *meanings)
        if (m.scheme == MarkingScheme::Fuse) {
            n.amps = m.value;
            n.characteristic = m.characteristic;
            return true;
        }
    return false;
}

// What is printed on a part, without what is said of it beside.
Result<Nominal> decoded(const Part& part) {
    Nominal n;
    if (part.value.empty()) return n;
    const bool figured = is_resistor_like(part.kind) || is_capacitor(part.kind) || part.kind == PartKind::Inductor ||
                         part.kind == PartKind::Choke || part.kind == PartKind::Transformer;
    const auto figure = figured ? printed_figure(part.kind, part.value) : std::nullopt;
    const auto words = split_words(part.value);
    const auto first = parse_quantity(words.empty() ? std::string() : words.front());
    const bool signed_volts = part.kind == PartKind::Regulator; // "-15V 1A"
    if (first && *first < 0 && !signed_volts) return Problem{ProblemKind::NegativeValue, {}, part.value, {}, 0, false};
    if (is_resistor_like(part.kind)) {
        if (!figure) return unreadable(part, "4k7, 0R33, 22R");
        n.ohms = figure;
    } else if (is_capacitor(part.kind)) {
        if (!figure || *figure == 0) return unreadable(part, "68u, 4n7, 220n");
        n.farads = figure;
    } else if (part.kind == PartKind::Inductor || part.kind == PartKind::Choke) {
        if (!figure) return unreadable(part, "10u, 15m");
        n.henry = figure;
    } else if (part.kind == PartKind::Transformer) {
        n.henry = figure;
    } else if (part.kind == PartKind::Fuse) {
        if (!fuse_value(part, n)) return unreadable(part, "T2A, F3.15A, T630mA");
    } else {
        ratings(part, n);
        if (part.kind == PartKind::Lamp) n.ohms = lamp_ohms(part);
    }
    return n;
}

// A board asks what is printed on its parts at every fault of every part: each marking is taken apart once a thread.
const Result<Nominal>& printed_value(const Part& part) {
    thread_local std::map<std::pair<PartKind, std::string>, Result<Nominal>> known;
    if (known.size() >= kMostMarkings) known.clear();
    const auto key = std::make_pair(part.kind, part.value);
    const auto found = known.find(key);
    return found != known.end() ? found->second : known.emplace(key, decoded(part)).first->second;
}

} // namespace

Result<Nominal> nominal_value(const Part& part) {
    const auto& printed = printed_value(part);
    if (!printed) return printed;
    Nominal n = *printed;
    if (is_controller(part.kind)) {
        n.start_volts = n.volts;
        n.volts.reset();
    }
    if (part.ohms) n.ohms = part.ohms;
    if (part.henry) n.henry = part.henry;
    if (part.volts) n.volts = part.volts;
    if (part.amps) n.amps = part.amps;
    if (part.watts) n.watts = part.watts;
    return n;
}

Result<Nominal> nominal_or_none(const Part& part) {
    auto out = nominal_value(part);
    if (out || out.problem().kind != ProblemKind::UnreadableValue) return out;
    Part bare = part;
    bare.value.clear();
    return nominal_value(bare);
}

Result<Nominal> likely_value(const Part& part) {
    auto out = nominal_or_none(part);
    if (!out || !part.taken_for) return out;
    if (part.kind == PartKind::Fuse) {
        if (!out->amps) {
            out->amps = part.taken_for;
            out->characteristic = "time-lag";
        }
    } else if (part.kind == PartKind::Choke) {
        if (!out->henry) out->henry = part.taken_for;
    } else if (is_capacitor(part.kind)) {
        if (!out->farads) out->farads = part.taken_for;
    } else if (!out->ohms) {
        out->ohms = part.taken_for;
    }
    return out;
}

std::string nominal_text(const Part& part) {
    const auto n = nominal_value(part);
    if (!n) return part.value;
    std::vector<std::string> words;
    if (n->farads)
        words.push_back(*n->farads < 1e-3 ? format_nominal(*n->farads, "F") : fmt::format("{:g} µF", *n->farads * 1e6)); // as it is printed
    else if (n->ohms && is_resistor_like(part.kind))
        words.push_back(format_nominal(*n->ohms, "Ω"));
    else if (n->henry)
        words.push_back(format_nominal(*n->henry, "H"));
    else if (!part.value.empty())
        words.push_back(part.value);
    const bool volts_matter = is_capacitor(part.kind) || part.kind == PartKind::Fuse;
    if (volts_matter && n->volts) words.push_back(format_nominal(*n->volts, "V"));
    return joined(words, " ");
}

} // namespace ohmo
