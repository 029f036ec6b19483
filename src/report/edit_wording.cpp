// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/wording.h"

#include "base/engineering.h"
#include "base/shortened.h"
#include "base/text.h"
#include "board/nominal.h"

#include <fmt/format.h>

namespace ohmo::wording {
namespace {

std::string words(const Board& board, const PartEdit& e) {
    if (e.gone) return e.ref + " is not on this board";
    const auto there = board.find_part(e.ref);
    if (e.new_ref && !e.kind && !e.value && e.pins.empty()) return fmt::format("{} is numbered {}", e.ref, *e.new_ref);
    std::vector<std::string> out = {e.new_ref ? *e.new_ref : e.ref};
    Part part = there ? board.part(*there) : Part{};
    if (e.kind) part.kind = *e.kind;
    if (e.kind) out.emplace_back(kind_info(part.kind).name);
    if (e.value) {
        part.value = *e.value;
        part.volts.reset();
        out.push_back(nominal_text(part));
    }
    if (e.unrated) out.emplace_back(e.volts || e.amps || e.watts || e.celsius ? "rated only" : "has no ratings known");
    if (e.volts) out.push_back(format_nominal(*e.volts, "V"));
    if (e.amps) out.push_back(format_nominal(*e.amps, "A"));
    if (e.watts) out.push_back(format_nominal(*e.watts, "W"));
    if (e.celsius) out.push_back(fmt::format("{:g} °C", *e.celsius));
    if (e.stage) out.push_back("in " + *e.stage);
    std::vector<std::string> wires;
    for (const auto& [role, net] : e.pins) wires.push_back(role + " on " + net);
    return (there ? "" : "found ") + joined(out, " ") + (wires.empty() ? "" : ": " + joined(wires, ", "));
}

std::string words(const Board& board, const NetEdit& e) {
    return board.find_net(e.name) ? fmt::format("{} and {} are one net", e.net, e.name) : fmt::format("{} is called {}", e.net, e.name);
}

std::string words(const Board&, const JointEdit& e) {
    const std::string a = e.a.ref + "." + e.a.role, b = e.b.ref + "." + e.b.role;
    return e.joined ? fmt::format("{} beeps to {}", a, b) : fmt::format("no beep from {} to {}", a, b);
}

std::string words(const Board&, const RailEdit& e) {
    if (e.gone) return "no rail " + e.rail.net;
    return fmt::format("rail {} against {}: {}, {}, ±{:g} %", e.rail.net, e.rail.ret, format_nominal(e.rail.volts, "V"),
                       format_nominal(e.rail.amps, "A"), e.rail.tolerance * 100);
}

std::string words(const Board&, const MainsEdit& e) {
    return e.mains ? fmt::format("mains {:g} V {:g} Hz", e.mains->volts, e.mains->hertz) : "no mains: DC or battery";
}

} // namespace

std::string edits(const Board& board, const std::vector<BoardEdit>& all) {
    if (all.empty()) return "traced";
    std::string first = std::visit([&](const auto& e) { return words(board, e); }, all.front());
    return all.size() == 1 ? first : fmt::format("{}, and {} more", first, all.size() - 1);
}

std::string open_end(const Board& board, const OpenEnd& end) {
    const auto name = [&](int part) { return board.part(part).assumed ? part_role(board.part(part)) : board.part(part).ref; };
    switch (end.kind) {
    case OpenEndKind::FreePin:
        return fmt::format("Where does {} pin {} go?", name(end.part), end.pin);
    case OpenEndKind::LonelyNet:
        return fmt::format("{} pin {} is alone on the net {}{}", name(end.part), end.pin, end.net,
                           end.near.empty() ? ". What else is on it?" : fmt::format("; is that {}?", end.near));
    case OpenEndKind::SidesMeet: {
        std::vector<std::string> names;
        for (int part : end.way) names.push_back(name(part));
        return fmt::format("The rail {} hangs together with the mains, by {}. One of these wires is wrong, or the board has no isolation.",
                           end.net, names.empty() ? "a shared net" : joined(names, ", "));
    }
    case OpenEndKind::NoWayBack:
        return fmt::format("Nothing joins the rail {} to its return", end.net);
    case OpenEndKind::NoInlet:
        return "Where do the mains come in? No fuse, switch or other part stands there yet.";
    case OpenEndKind::NoRails:
        return "No rail yet: which nets does the supply deliver, and how many volts?";
    }
    return {};
}

std::string ignored(const IgnoredLine& line) {
    using Why = IgnoredLine::Why;
    const char* why = line.why == Why::Source      ? "a source: the bench supplies, not the board"
                      : line.why == Why::Control   ? "an instruction to a simulator"
                      : line.why == Why::NoModel   ? "its model or subcircuit is not in the file"
                      : line.why == Why::Malformed ? "too few words, or no value"
                                                   : "no kind of part that a board has";
    return fmt::format("line {}, {}: {}", line.line, shortened(line.text, 60), why);
}

std::string value_reading(PartKind kind, const ValueReading& reading) {
    Part part;
    part.kind = kind;
    part.value = reading.value;
    part.volts = reading.volts;
    return nominal_text(part) + (reading.scheme ? ", " + marking(*reading.scheme) : "");
}

} // namespace ohmo::wording
