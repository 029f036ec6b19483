// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/triage_wording.h"

#include "base/engineering.h"
#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <vector>

namespace ohmo::wording {
namespace {

struct CheckWords {
    const char *title, *how;
};

const std::map<std::string_view, CheckWords>& checks() {
    static const std::map<std::string_view, CheckWords> table = {
        {"socket", {"Socket", "Plug something else into the same socket."}},
        {"plug-fuse", {"Fuse in the plug", "Unplug it, take the fuse out of the plug and beep it. Plugs without one: leave this open."}},
        {"lead-live", {"Lead, live core", "Unplugged: beep from the plug's pin to the inlet, and bend the lead at both ends."}},
        {"lead-neutral", {"Lead, neutral core", "Unplugged: beep from the plug's pin to the inlet, and bend the lead at both ends."}},
        {"lead-earth", {"Lead, earth core", "Unplugged: beep from the plug's earth to the metal of the case. No earth: leave this open."}},
        {"between-cores", {"Core to core", "Unplugged and switched on or not, lead out of the unit: no beep between any two cores."}},
        {"adapter", {"Adapter", "Its label and what it really gives: kind, volts, polarity; then volts under load."}},
        {"load-off", {"Load unplugged", "Unplug what it feeds and switch it on by itself: does it do the same?"}},
        {"other-supply", {"Another supply", "A supply known to be good, of the same volts and at least the amps, in its place."}}};
    return table;
}

std::string cause_title(Outside cause) {
    return cause == Outside::Feed ? "the way in: socket, plug or lead" : cause == Outside::Adapter ? "the adapter" : "what it feeds";
}

std::string cause_next(Outside cause) {
    return cause == Outside::Feed
               ? "Mend that first, then try again. A fuse in the plug that blew has a reason: the supply is still to be read "
                 "cold before it is plugged in."
           : cause == Outside::Adapter
               ? "Try the right one, within its volts, kind and polarity. What a wrong one did to the board is counted "
                 "as its history."
               : "The supply is good: look at the load boards, the output stage, the plugs.";
}

} // namespace

std::string outside_check(std::string_view id) {
    const auto at = checks().find(id);
    return at == checks().end() ? std::string(id) : at->second.title;
}

std::string outside_how(std::string_view id) {
    const auto at = checks().find(id);
    return at == checks().end() ? std::string() : at->second.how;
}

std::string outside_answer(std::string_view answer) {
    static const std::map<std::string_view, const char*> table = {{"ac-for-dc", "AC, wants DC"},
                                                                  {"dc-for-ac", "DC, wants AC"},
                                                                  {"comes-up", "now it runs"},
                                                                  {"too-many-volts", "too many volts"},
                                                                  {"too-few-volts", "too few volts"}};
    const auto at = table.find(answer);
    return at != table.end() ? at->second : std::string(answer);
}

std::string verdict_title(const Triage& t) {
    switch (t.verdict) {
    case Verdict::NothingSaid:
        return "Whether the supply is good: nothing said yet";
    case Verdict::Untraced:
        return "Whether the supply is good: not known yet";
    case Verdict::RunsRight:
        return fmt::format("The supply is good: {}", format_share(t.chance));
    case Verdict::Outside:
        return fmt::format("It comes from {}: {}", cause_title(t.cause), format_share(t.chance));
    case Verdict::WeakUnderLoad:
        return "Weak under load";
    case Verdict::AtFault:
        return fmt::format("The supply is at fault: {}", format_share(t.chance));
    case Verdict::Open:
        return "Supply or not: still open";
    }
    return {};
}

std::string verdict_text(const Triage& t) {
    std::string out;
    switch (t.verdict) {
    case Verdict::NothingSaid:
        out = "Say what it does or does not do.";
        break;
    case Verdict::Untraced:
        out = "Too little of the board is entered to judge it.";
        break;
    case Verdict::RunsRight:
        out = "Every rail was right under load. Look at the load boards, the output stage and the plugs.";
        break;
    case Verdict::Outside:
        out = cause_next(t.cause);
        break;
    case Verdict::WeakUnderLoad:
        out = "Right idle, low under load: dry capacitors, a tired rectifier or switch, a contact that drops volts.";
        break;
    case Verdict::AtFault:
    case Verdict::Open:
        out = t.rails_would_tell ? "The rails at its own connector, idle and loaded, would tell most."
                                 : "What is left is told on the board itself.";
        break;
    }
    if (t.earth_open) out += " The earth core is open: no power before it is mended.";
    return out;
}

std::string tries(const Practice& p, const TryTrend& t) {
    if (t.tries == 0) return {};
    std::string out = fmt::format("Without a fault {} of {}", t.tries - t.faults, t.tries);
    if (t.warm > 0 || t.cold > 0) {
        std::vector<std::string> parts;
        if (t.cold > 0) parts.push_back(fmt::format("started cold {} of {}", t.cold_starts, t.cold));
        if (t.warm > 0) parts.push_back(fmt::format("warm {} of {}", t.warm_starts, t.warm));
        out += ": " + joined(parts, ", ");
    }
    out += ".";
    if (t.word == "starts-when-warm") out += fmt::format(" It starts better warm ({}).", format_share(t.warm_better));
    if (!t.lived.empty()) {
        const bool seconds = std::all_of(t.lived.begin(), t.lived.end(), [](double s) { return s < 60; });
        std::vector<std::string> lived;
        for (double s : t.lived) lived.push_back(fmt::format("{:.3g}", seconds ? s : s / 60));
        out += fmt::format(" Ran for {} {} before it died", joined(lived, ", "), seconds ? "s" : "min");
        if (t.shorter > p.tries_show)
            out += fmt::format(": shorter each time ({}).", format_share(t.shorter));
        else if (t.shorter < 1 - p.tries_show)
            out += fmt::format(": longer each time ({}).", format_share(1 - t.shorter));
        else
            out += ".";
    }
    if (t.to_prove) out += fmt::format(" A repair is proved by {} good tries in a row, not by one.", *t.to_prove);
    return out;
}

std::string tries_since(const Practice& p, const TryTrend& before, const TryTrend& since) {
    if (before.faults == 0) return tries(p, since);
    if (since.faults > 0) return fmt::format("Since the repair it failed {} of {} tries: it is not mended.", since.faults, since.tries);
    if (since.tries == 0)
        return before.to_prove ? fmt::format("Since the repair: no try yet; {} good ones in a row prove it.", *before.to_prove)
                               : std::string();
    const double luck = luck_of(before, since.tries);
    return fmt::format("Since the repair {} of {} good. Unrepaired it would run so often by luck with {}{}.", since.tries, since.tries,
                       format_share(luck),
                       before.to_prove && since.tries < *before.to_prove ? fmt::format("; {} in a row prove it", *before.to_prove)
                                                                         : std::string(": enough"));
}

std::vector<std::string> all_tries(const Practice& p, const std::vector<std::vector<Try>>& times) {
    std::vector<std::string> out;
    TryTrend before;
    for (const auto& time : times) {
        const TryTrend now = trend_of(p, time);
        out.push_back(&time == &times.front() ? tries(p, now) : tries_since(p, before, now));
        if (now.tries > 0) before = now;
    }
    return out;
}

} // namespace ohmo::wording
