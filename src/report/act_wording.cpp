// SPDX-License-Identifier: GPL-3.0-or-later
// What to do next, in words: the act, its outcomes, whom they leave, and why nothing is asked any more.
#include "report/wording.h"

#include "base/engineering.h"
#include "base/text.h"
#include "board/nominal.h"

#include <fmt/format.h>

#include <cctype>
#include <set>

namespace ohmo::wording {
namespace {

constexpr double kAlternatives = 1.6; // sum of chances: one of them, not several together

double together(const Band& band) {
    double sum = 0;
    for (const auto& [part, p] : band.suspects) sum += p;
    return sum;
}

std::string refs_of(const Board& board, const std::vector<int>& parts) { // "R1, C2 and Q3"
    std::string out;
    for (std::size_t i = 0; i < parts.size(); ++i) out += (i == 0 ? "" : i + 1 < parts.size() ? ", " : " and ") + board.part(parts[i]).ref;
    return out;
}

// "ESR" stays as it is.
std::string what_lower(Quantity what) {
    std::string name = quantity(what);
    if (std::islower(static_cast<unsigned char>(name.at(1))) != 0)
        name[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(name[0])));
    return name;
}

// The part that this reading would most likely show to be bad; the one it is read across where its bands name none.
std::string most_shown(const Board& board, const NextAct& act) {
    const Band* likeliest = nullptr;
    for (const auto& band : act.bands)
        if (!band.healthy && band.story && (likeliest == nullptr || band.p > likeliest->p)) likeliest = &band;
    return board.part(likeliest != nullptr ? likeliest->story->part : act.part).ref;
}

} // namespace

std::string trace(const Analysis& analysis) {
    const TraceAdvice& t = analysis.next.trace;
    const Board& board = analysis.replay.board;
    if (t.missing)
        return fmt::format(
            "Nothing that was entered joins {} and {}, and yet this was read: {}. A part or a track between them is missing from "
            "this board; it counts for nothing before that is found and entered.",
            board.net_name(t.query.red), board.net_name(t.query.black),
            entry(board, analysis.job.journal[static_cast<std::size_t>(t.entry)]));
    if (t.part < 0) return {};
    const auto& part = board.part(t.part);
    const std::string value = nominal_text(part);
    const std::string what = part_role(part) + (value.empty() ? "" : " (" + value + " assumed)");
    const std::string where = board.net_name(t.query.red) + " to " + board.net_name(t.query.black);
    if (t.differs)
        return fmt::format("The board may differ here: {} does not fit {}. Look at its marking and its pins before condemning a part; if "
                           "it is not there: look {} not-fitted.",
                           what, where, part.ref);
    return fmt::format("Worth tracing: {}. With its real value {} {} would tell {:.2f} bit more.", what, what_lower(t.query.what), where,
                       t.bits);
}

std::string act_title(const Board& board, const NextAct& act) {
    using Why = NextAct::Why;
    const std::string ref = act.part >= 0 ? board.part(act.part).ref : "";
    if (act.act == Act::Look) return fmt::format("Look closely at {}", ref);
    if (act.act == Act::Substitute) return fmt::format("Try a known-good part for {}", ref);
    if (act.act == Act::Cool) return fmt::format("With the unit running, cool {} and watch", ref);
    if (act.act == Act::Assure) return fmt::format("Is {} really {}?", ref, act.query.state.is_pulled(act.part) ? "apart" : "out");
    if (act.act == Act::Pull) return fmt::format("Pull {}, then {} {}", ref, what_lower(act.query.what), place(board, act.query, -1));
    const int other = act.because_of;
    if (act.why == Why::Hid) {
        const std::string out = act.to_lift.empty() ? board.part(other).ref : refs_of(board, act.to_lift);
        const bool its_own = act.to_lift.empty() || act.to_lift == std::vector<int>{other};
        return fmt::format("Is the short gone with {} out? Ohms {}", out, its_own ? "in its place" : place(board, act.query, other));
    }
    if (!act.to_lift.empty() && act.query.alone < 0) {
        const bool its_own = act.to_lift == std::vector<int>{act.part};
        return fmt::format("Take {} out, then {} {}", refs_of(board, act.to_lift), what_lower(act.query.what),
                           its_own ? "in its place" : place(board, act.query, act.part));
    }
    const std::string what = act.four_wires ? "milliohms" : what_lower(act.query.what);
    std::string text = what + " " + place(board, act.query, act.part);
    if (!act.through.empty()) text += ", through " + refs_of(board, act.through);
    if (!act.to_lift.empty()) text = fmt::format("lift {}, then {}", board.part(act.to_lift.front()).ref, text);
    if (act.why == Why::Again) return "Once more: " + text;
    if (act.why == Why::Condemned) return fmt::format("Before {} is replaced: {}", ref, text);
    if (act.why == Why::Blew) return fmt::format("{} may have blown {}: {}", ref, board.part(other).ref, text);
    if (act.why == Why::Complaint) return fmt::format("{} would account for the complaint: {}", ref, text);
    if (act.why == Why::GoesBack) return fmt::format("Before {} goes back: {}", ref, text);
    if (act.why == Why::Sweeps) return fmt::format("To be sure of {}: {}", most_shown(board, act), text);
    if (act.why == Why::Differs) return fmt::format("{} would be far off its value: {}", ref, text);
    text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
    return text;
}

std::string assurance(const Board& board, const NextAct& act) {
    if (act.act != Act::Assure) return {};
    const std::string ref = board.part(act.part).ref;
    const bool pulled = act.query.state.is_pulled(act.part);
    return fmt::format("The reading {} was logged with {} {}, but reads as if it were in its place. Look for a leg or a contact that still "
                       "touches. It is {}: log {} {} once more. It was not: take back what was logged so, then read again.",
                       place(board, act.query, -1), ref, pulled ? "apart" : "out", pulled ? "apart" : "out", pulled ? "pull" : "lift", ref);
}

std::string band_label(const Board& board, const NextAct& act, const Band& band) {
    if (act.act == Act::Pull) return band.healthy ? fmt::format("it is behind {}", board.part(act.part).ref) : "it is elsewhere";
    double leading = 0;
    for (const auto& [part, p] : band.suspects)
        if (band.story && band.story->part == part) leading = p;
    const bool one_of_many = band.suspects.size() > 1 && together(band) < kAlternatives && leading < 0.5;
    if (band.story && !(one_of_many && leading > 0)) return fault(board, *band.story) + (band.healthy ? " or healthy" : "");
    if (band.healthy) return "healthy";
    if (!one_of_many) return band.p > 0.5 ? "the leading story" : "other stories";
    std::vector<std::string> names;
    for (std::size_t i = 0; i < std::min<std::size_t>(3, band.suspects.size()); ++i)
        names.push_back(board.part(band.suspects[i].first).ref);
    return "one of " + joined(names, ", ") + (band.suspects.size() > 3 ? " …" : "");
}

std::string band_range(const NextAct& act, const Band& band) {
    if (band.over) return "over range";
    if (!band.looks.empty()) return band.looks.front();
    const std::string u = unit(act.query.what);
    if (under_power(act.query.what) && band.lo < 0 && band.hi > 0) // about nothing, whichever way round
        return "below " + format_quantity(std::max(band.hi, -band.lo), u);
    return format_quantity(band.lo, u) + " … " + format_quantity(band.hi, u);
}

std::string live_caution(const Analysis& analysis) {
    if (!analysis.replay.board.mains) return "Under power: insulated tips, no bridge between pins.";
    return std::string("Mains is connected: isolation transformer, insulated tips, one hand, no earthed clip.") +
           (analysis.replay.roles->rails_on_mains ? " The rails are joined to the mains as well." : "");
}

std::string parts_suspects(const Board& board, const NextAct& act) {
    if (act.act != Act::Read && act.act != Act::Pull) return {};
    std::vector<std::string> ways;
    std::set<int> all;
    for (const auto& b : act.bands) {
        if (b.p < 0.08 || b.suspects.empty() || ways.size() >= 3) continue;
        std::vector<std::string> names;
        if (together(b) > kAlternatives) return {}; // they fail together, and the bands tell more than a list of them
        for (const auto& [part, p] : b.suspects) {
            all.insert(part);
            names.push_back(board.part(part).ref);
        }
        std::string range = band_range(act, b);
        if (act.act == Act::Pull) range = b.healthy ? "it clears" : "it stays";
        ways.push_back(fmt::format("{}: {} ({:.0f} %)", range, joined(names, ", "), 100 * b.p));
    }
    if (ways.size() < 2 || all.size() < 4) return {};
    return "Parts the suspects. " + joined(ways, "; ") + ".";
}

std::string stop(StopReason reason) {
    switch (reason) {
    case StopReason::None:
        return {};
    case StopReason::Settled:
        return "Enough measured: nothing cold would change the replacement list now.";
    case StopReason::RiskLeft:
        return "Enough for the replacement list. Before power goes on: what could still take new parts along.";
    case StopReason::NothingTells:
        return "No cold reading would tell the remaining stories apart; take the decision, or go on to the gated live steps.";
    case StopReason::Contradicted:
        return "All that can be read has been read, and it still does not agree with the story. Put right what its own reading proves, "
               "then "
               "measure again what is marked as not fitting.";
    case StopReason::NotTraced:
        return "Too little of the board is known yet: enter where the energy comes in, what stands in its way, and the rails (Trace).";
    case StopReason::NoEvidence:
        return "Nothing has been logged yet.";
    }
    return {};
}

} // namespace ohmo::wording
