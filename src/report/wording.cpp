// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/wording.h"

#include "base/engineering.h"
#include "base/shortened.h"
#include "base/text.h"
#include "report/triage_wording.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

namespace ohmo::wording {
namespace {

std::string signed_pin(const std::string& role) { return role == "-" ? "−" : role; }

std::string refs(const Board& board, const std::vector<int>& parts) {
    std::vector<std::string> names;
    for (std::size_t i = 0; i < parts.size() && i < 6; ++i) names.push_back(board.part(parts[i]).ref);
    if (parts.size() > 6) names.push_back(fmt::format("{} more", parts.size() - 6));
    return joined(names, ", ");
}

std::string pin_of(const Part& part, NetId net) {
    const auto role = part.role_on(net);
    return role.empty() ? "?" : signed_pin(role);
}

} // namespace

std::string part_title(const Part& part) {
    const std::string value = nominal_text(part);
    return value.empty() ? part.ref : part.ref + " · " + value;
}

std::string part_name(const Part& part) { return part.assumed ? part_role(part) : part.ref; }

std::string part_role(const Part& part) {
    return part.role.empty() ? replaced(std::string(kind_info(part.kind).name), "-", " ") : part.role;
}

std::string mode(PartKind kind, FaultMode mode) {
    switch (mode) {
    case FaultMode::Open:
        return kind == PartKind::Fuse ? "blown" : "open";
    case FaultMode::High:
        return "gone high";
    case FaultMode::Dry:
        return "dried out";
    case FaultMode::Short:
        return is_switch_device(kind) ? "shorted on all pins" : kind == PartKind::Relay ? "contact welded" : "shorted";
    case FaultMode::Leaky:
        return "leaky";
    case FaultMode::Reversed:
        return "reversed";
    case FaultMode::Low:
        return is_capacitor(kind) ? "lost capacitance" : kind == PartKind::Regulator ? "output too low" : "gone low";
    case FaultMode::DsShort:
        return kind == PartKind::Controller ? "switch inside shorted" : "shorted drain to source";
    case FaultMode::CeShort:
        return "shorted collector to emitter";
    case FaultMode::GateLeak:
        return "gate leaking";
    case FaultMode::SupplyShort:
        return "supply pin shorted";
    case FaultMode::OutputShort:
        return "output shorted";
    case FaultMode::Dead:
        return "dead";
    case FaultMode::Weak:
        return "weak";
    case FaultMode::ShortedTurns:
        return "has shorted turns";
    case FaultMode::Breakdown:
        return "broken down";
    case FaultMode::RegulatorHigh:
        return "regulates high";
    case FaultMode::Intermittent:
        return "intermittent";
    case FaultMode::DryJoint:
        return "dry joint";
    case FaultMode::Carbon:
        return "carbon track";
    }
    return {};
}

std::string fault(const Board& board, const Fault& f) {
    const auto& part = board.part(f.part);
    std::string text = part.ref + " " + mode(part.kind, f.mode);
    if (!f.place.empty()) text += part.kind == PartKind::Bridge ? " (leg " + f.place + ")" : " at " + f.place;
    return text;
}

std::string step(const Board&, const Step& s) {
    const double ratio = s.limit > 0 ? s.value / s.limit : 0;
    const std::string unit(cause_unit(s.cause));
    const bool squared = unit == "A²s"; // with a prefix it would read as the square of that
    const auto q = [&](double v) {
        return squared ? fmt::format("{} A²s", v < 100 ? fmt::format("{:.3g}", v) : fmt::format("{:.0f}", v)) : format_quantity(v, unit);
    };
    switch (s.cause) {
    case Cause::Root:
        return "first to fail";
    case Cause::Independent:
        return "a fault of its own, same age and heat";
    case Cause::FuseI2t:
        return fmt::format("I²t {} against {} to melt: {:.1f} times", q(s.value), q(s.limit), ratio);
    case Cause::PulseEnergy:
        return fmt::format("{} driven into it, stands about {}: {:.1f} times", q(s.value), q(s.limit), ratio);
    case Cause::SurgeI2t:
        return fmt::format("surge {} against {}: {:.1f} times", q(s.value), q(s.limit), ratio);
    case Cause::GateVolts:
        return fmt::format("gate saw {}, breaks near {}", q(s.value), q(s.limit));
    case Cause::PinI2t:
        return fmt::format("surge {} through a pin, stands about {}", q(s.value), q(s.limit));
    case Cause::PinCurrent:
        return fmt::format("{} into a pin, stands about {}", q(s.value), q(s.limit));
    case Cause::CapacitorVolts:
        return fmt::format("{} across it, stands about {}", q(s.value), q(s.limit));
    case Cause::SwitchHeat:
        return fmt::format("deeper valley: {:.2f} times the heat it was built for, headroom {:.1f}", s.value, s.limit);
    case Cause::DrainVolts:
        return fmt::format("drain peaks at {}, avalanche near {}", q(s.value), q(s.limit));
    case Cause::OutputClimbs:
        return fmt::format("rail climbs to about {}, limit {}", q(s.value), q(s.limit));
    case Cause::RectifierHeat:
        return fmt::format("{:.1f} times its rated current", ratio);
    case Cause::WeakDrive:
        return fmt::format("driven too little: {:.1f} times the heat it was built for, headroom {:.1f}", s.value, s.limit);
    case Cause::Overcurrent:
        return fmt::format("carries {}, stands {}: {:.1f} times", q(s.value), q(s.limit), ratio);
    case Cause::TantalumMargin:
        return fmt::format("{} on it at every switch-on, fails near {}", q(s.value), q(s.limit));
    case Cause::Companion:
        return "benches see it go with the one before";
    case Cause::Blast:
        return fmt::format("{:.0f} mm from a part that burst; splinters and soot reach some {:.0f} mm", s.value, s.limit);
    }
    return {};
}

std::string under_power(const Board& board, const Expectation& e) {
    static constexpr std::array<std::string_view, 7> does = {"nothing gets in",
                                                             "it would blow its fuse",
                                                             "it does not start",
                                                             "it starts and stops",
                                                             "it runs out of regulation, too high",
                                                             "it runs, but sags or hums",
                                                             "it runs"};
    const auto running = e.behaviour.running;
    std::string out = e.behaviour.fuse_open && running == Running::BlowsFuse ? "the fuse is open, and a new one would blow"
                                                                             : std::string(does[static_cast<std::size_t>(running)]);
    const auto figure = [](const std::string& where, double volts, double ripple, double worth_saying) {
        std::string text = where + " " + format_quantity(volts, "V");
        if (ripple > worth_saying) text += " with " + format_quantity(ripple, "V") + " ripple";
        return text;
    };
    std::vector<std::string> figures;
    if (board.mains && e.figures.bulk_volts > 0) figures.push_back(figure("bulk", e.figures.bulk_volts, e.figures.bulk_ripple, 1));
    for (std::size_t r = 0; r < e.figures.rails.size(); ++r) {
        const auto& rail = e.figures.rails[r];
        figures.push_back(figure(board.rails[r].net, rail.volts, rail.ripple, 0.01 * std::fabs(board.rails[r].volts)));
    }
    if (!figures.empty()) out += "; " + joined(figures, ", ");
    if (e.lamp) {
        static constexpr std::array<std::string_view, 5> looks = {"stays dark", "flashes once, then stays dark", "flashes, then glows",
                                                                  "pulses", "is at full brightness"};
        out += fmt::format("; a {:.0f} W lamp in series {}", e.lamp->watts, looks[static_cast<std::size_t>(e.lamp->look)]);
    }
    out[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(out[0])));
    return out + ".";
}

std::string quantity(Quantity what) {
    switch (what) {
    case Quantity::Ohms:
        return "Ohms";
    case Quantity::Diode:
        return "Diode test";
    case Quantity::Continuity:
        return "Continuity";
    case Quantity::Farads:
        return "Capacitance";
    case Quantity::Esr:
        return "ESR";
    case Quantity::Leakage:
        return "Leakage";
    case Quantity::Residue:
        return "Scope residue";
    case Quantity::VoltsDirect:
        return "Volts";
    case Quantity::VoltsAlternating:
        return "Volts AC";
    }
    return {};
}

std::string unit(Quantity what) { return std::string(quantity_info(what).unit); }

std::string place(const Board& board, const Query& query, int index) {
    const int on = query.alone >= 0 ? query.alone : index;
    if (on >= 0) {
        const auto& part = board.part(on);
        const bool ends = std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.id == query.red; }) &&
                          std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.id == query.black; });
        if (ends) return fmt::format("across {} (red on {}, black on {})", part.ref, pin_of(part, query.red), pin_of(part, query.black));
    }
    return fmt::format("from {} (red) to {} (black)", board.net_name(query.red), board.net_name(query.black));
}

std::string reading(Quantity what, double value, bool over, bool rising) {
    if (what == Quantity::Continuity) return value > 0.5 ? "beeps" : "silent";
    if (over) return "over range";
    return format_quantity(value, unit(what)) + (rising ? ", rising" : "");
}

std::string meter(const std::string& id) {
    if (id.empty() || id == kUsualMeter) return "the usual meter";
    if (id == low_power_meter().id) return "ohms with few volts";
    if (id == milliohm_meter().id) return "milliohms, four wires";
    return id;
}

std::string in_hand(const std::string& meter_id, std::optional<double> leads) {
    std::vector<std::string> out;
    if (!meter_id.empty()) out.push_back("in hand: " + meter(meter_id));
    if (leads) out.push_back("leads " + (*leads > 0 ? format_quantity(*leads, "Ω") : "nulled"));
    return joined(out, ", ");
}

std::string entry(const Board& board, const Entry& e) {
    const std::string where = !e.part.empty()   ? e.part + (e.pins.size() == 2 ? " " + e.pins[0] + "–" + e.pins[1] : "")
                              : !e.from.empty() ? e.from + "–" + e.to
                                                : e.stage;
    switch (e.act) {
    case Do::Symptom:
    case Do::History:
        return in_words(e.saw);
    case Do::Look:
        return where + " " + in_words(e.saw);
    case Do::Read: {
        const std::string unit = e.what == "ohms" || e.what == "esr" ? "Ω"
                                 : e.what == "farads"                ? "F"
                                 : e.what == "amps"                  ? "A"
                                 : e.what == "celsius"               ? "°C"
                                 : e.what == "leakage"               ? "A"
                                 : e.what == "continuity"            ? ""
                                                                     : "V";
        std::string value = e.over    ? "over"
                            : e.value ? (e.what == "continuity" ? (*e.value > 0.5 ? "beeps" : "silent") : format_quantity(*e.value, unit))
                                      : "?";
        const std::string what = e.what == "ohms" || e.what.starts_with("volts") ? "" : e.what == "esr" ? " ESR" : " " + e.what;
        return where + what + " " + value + (e.rising ? " ↑" : "") + (e.lifted ? " lifted" : "");
    }
    case Do::Verdict:
        return e.part + (e.saw == "bad" ? " is bad" : " is good") + (e.mode.empty() ? "" : ": " + e.mode);
    case Do::Photo:
        return e.what == "mark"   ? fmt::format("{} {} on the photo", e.part, e.pin)
               : e.what == "gone" ? "photo taken out"
               : e.saw == "part"  ? "photo of " + e.part
                                  : "photo of the " + (e.saw.empty() ? "board" : e.saw);
    case Do::Prove:
        return "work on " + e.part +
               (e.what == "joined" ? fmt::format(": {} {}", e.pin, e.saw == "right" ? "beeps" : "is silent")
                : e.what == "look" ? " looks " + e.saw
                                   : " " + e.saw);
    case Do::Check:
        return lowered(outside_check(e.what)) + ": " + outside_answer(e.saw);
    case Do::Try:
        return "try " + e.saw +
               (e.value ? " after " + (*e.value < 60 ? fmt::format("{:.3g} s", *e.value) : fmt::format("{:.3g} min", *e.value / 60)) : "") +
               (e.what.empty() ? "" : ", " + e.what);
    case Do::Meter:
        return in_hand(e.meter, e.value);
    case Do::Note:
        if (e.what == "apart") return "came off: " + e.text;
        if (e.what == "twin") return "good unit: " + e.text;
        if (e.what == "together") return e.target < 0 ? "everything is back in place" : fmt::format("back in place: no. {}", e.target + 1);
        return shortened(e.text, 40);
    case Do::Retract:
        return fmt::format("took back no. {}", e.target + 1);
    case Do::PowerStep:
        return e.step + " " + e.saw;
    case Do::SignOff:
        return "outcome: " + outcome(e.saw);
    case Do::Recognise:
        return e.part + " → " + (e.ref.empty() ? e.part : e.ref) + (e.value_text.empty() ? "" : " " + e.value_text);
    case Do::Trace:
        return edits(board, e.edits);
    case Do::Discharge:
        return e.value ? "discharged to " + format_quantity(*e.value, "V") : "discharged";
    default:
        break;
    }
    return std::string(do_name(e.act)) + " " + where + (e.saw.empty() ? "" : " " + e.saw);
}

std::string understood(const Board& board, const Entry& e) {
    if (e.act == Do::Symptom) return "complaint: " + in_words(e.saw);
    if (e.act == Do::History) return "history: " + in_words(e.saw);
    if (e.act != Do::Read) return entry(board, e);
    static const std::map<std::string, std::pair<const char*, const char*>> names = {{"ohms", {"resistance", "Ω"}},
                                                                                     {"diode", {"diode test", "V"}},
                                                                                     {"continuity", {"continuity", ""}},
                                                                                     {"farads", {"capacitance", "F"}},
                                                                                     {"esr", {"ESR", "Ω"}},
                                                                                     {"leakage", {"leakage", "A"}},
                                                                                     {"volts-dc", {"voltage, DC", "V"}},
                                                                                     {"volts-ac", {"voltage, AC", "V"}},
                                                                                     {"ripple", {"ripple", "V"}},
                                                                                     {"amps", {"current", "A"}},
                                                                                     {"celsius", {"temperature", "°C"}},
                                                                                     {"scope-residue", {"scope residue", "V"}}};
    const auto at = names.find(e.what);
    const auto [name, unit] = at == names.end() ? std::pair("reading", "") : at->second;
    std::string where =
        !e.part.empty() ? (e.pins.size() == 2 ? fmt::format(" of {} from {} to {}", e.part, signed_pin(e.pins[0]), signed_pin(e.pins[1]))
                                              : " across " + e.part)
                        : fmt::format(" from {} to {}", e.from, e.to);
    std::string value = e.over                   ? "over range"
                        : e.what == "continuity" ? (e.value.value_or(0) > 0.5 ? "beeps" : "silent")
                                                 : format_quantity(e.value.value_or(0), unit);
    std::string how = e.what.starts_with("volts") ? (e.powered.empty() ? "unplugged" : e.powered) : e.lifted ? "lifted" : "in circuit";
    if (!e.load.empty()) how += e.load == "idle" ? ", idle" : e.load == "full" ? ", at full load" : " at " + e.load;
    if (e.meter == milliohm_meter().id) how += ", with four wires";
    return name + where + " = " + value + (e.rising ? ", rising" : "") + ", " + how;
}

std::string lock(const Board& board, const Lock& l) {
    switch (l.id) {
    case LockId::Discharged:
        return l.open ? "bulk capacitor measured low" : "measure the bulk capacitor and discharge it";
    case LockId::BulkClear:
        return l.open ? fmt::format("no short across {}", refs(board, l.parts))
                      : fmt::format("read ohms across {} after the repair: must climb past 100 kΩ", refs(board, l.parts));
    case LockId::RailsClear: {
        if (l.open) return "every rail reads as a good one";
        std::vector<std::string> names;
        for (int r : l.rails) names.push_back(board.rails[static_cast<std::size_t>(r)].net);
        return "read ohms on " + joined(names, ", ") + " after the repair";
    }
    case LockId::BadReplaced:
        return l.open ? "no part believed bad is left in place" : "still in place and believed bad: " + refs(board, l.parts);
    case LockId::RiskLow:
        return fmt::format("chance that damage is left which would take new parts along: {}{}", format_share(l.chance),
                           l.open || l.parts.empty() ? "" : fmt::format("; most of it {}", refs(board, l.parts)));
    case LockId::AllRefitted:
        return l.open ? "everything back in place" : "still lifted or pulled: " + refs(board, l.parts);
    case LockId::WorkProven:
        return l.open ? "the work on every new part is proved" : "not proved yet, see Probe: the work on " + refs(board, l.parts);
    case LockId::BarrierClean:
        return l.open ? "soot cleaned off" : "clean soot and residue, inspect the barrier, then log: clean";
    case LockId::Aborted:
        return "last step was aborted: find out why, then log: cleared";
    }
    return {};
}

std::string ladder_step(const LadderStep& s) {
    switch (s.id.kind) {
    case StepKind::ColdProof:
        return "Cold proof";
    case StepKind::Controller:
        return "Controller, bench supply";
    case StepKind::RailsBackFed:
        return "Rails fed backwards";
    case StepKind::LowSupply:
        return "Low supply with current limit";
    case StepKind::Lamp:
        return "Lamp in series";
    case StepKind::VariableTransformer:
        return fmt::format("Hold at {} V AC", s.id.setting);
    case StepKind::FullNoLoad:
        return "Full mains, no load";
    case StepKind::Load:
        return fmt::format("{} % load", s.id.setting);
    case StepKind::Soak:
        return "Soak at full load";
    case StepKind::Function:
        return "In the machine";
    }
    return {};
}

std::string ladder_detail(const LadderStep& s) {
    const auto at = [&](const char* key) { return s.settings.contains(key) ? s.settings.at(key) : 0.0; };
    switch (s.id.kind) {
    case StepKind::ColdProof:
        return "by cold evidence alone";
    case StepKind::Controller:
        return fmt::format("{:.0f} V, limit {:.0f} mA", at("volts-dc"), at("amps-limit") * 1000);
    case StepKind::RailsBackFed:
        return fmt::format("one by one, limit {:.0f} mA", at("amps-limit") * 1000);
    case StepKind::LowSupply:
        return fmt::format("limit {:.0f} mA", at("amps-limit") * 1000);
    case StepKind::Lamp:
        return fmt::format("{:.0f} V, {:.0f} W lamp", at("volts-ac"), at("lamp-watts"));
    case StepKind::VariableTransformer:
        return "variable transformer";
    case StepKind::FullNoLoad:
        return "right fuse, no load";
    case StepKind::Load:
        return fmt::format("right fuse, {:.0f} % of rated", at("load-share") * 100);
    case StepKind::Soak:
        return fmt::format("{:.0f} min at least", at("minutes"));
    case StepKind::Function:
        return "one cycle, covers closed";
    }
    return {};
}

std::string figure_name(const Figure& f) {
    if (f.where == "mains-current") return "Mains current";
    if (f.where == "bench-current") return "Bench supply current";
    if (f.where == "lamp") return "Volts across the lamp";
    return f.where;
}

std::string replace_reason(const Board& board, const PlanLine& line) {
    if (line.done) return line.resolder ? "resoldered" : "replaced";
    if (line.resolder) return fmt::format("cracked joint, {}: resolder every pin", format_share(line.bad));
    switch (line.reason) {
    case ReplaceReason::ProvenBad:
        return fmt::format("bad, {}", format_share(line.bad));
    case ReplaceReason::LikelyBad:
        return fmt::format("likely bad, {}", format_share(line.bad));
    case ReplaceReason::Consequence:
        return fmt::format("goes with {} (its surge)", board.part(line.because_of).ref);
    case ReplaceReason::SameFamily:
        return fmt::format("same type and age as {}", board.part(line.because_of).ref);
    case ReplaceReason::WetPart:
        return "full recap";
    }
    return {};
}

std::string rule_title(Rule rule) {
    switch (rule) {
    case Rule::SameKind:
        return "kind";
    case Rule::Voltage:
        return "voltage";
    case Rule::Temperature:
        return "temperature";
    case Rule::Capacitance:
        return "capacitance";
    case Rule::Esr:
        return "ESR";
    case Rule::Resistance:
        return "resistance";
    case Rule::Power:
        return "power";
    case Rule::Current:
        return "current";
    case Rule::FuseRating:
        return "rating";
    case Rule::Characteristic:
        return "time class";
    case Rule::NotSalvaged:
        return "not salvaged";
    case Rule::SameType:
        return "type";
    case Rule::TypeKnown:
        return "value known";
    }
    return {};
}

std::string rule(const RuleCheck& c) {
    const char* unit = c.rule == Rule::Voltage                                 ? "V"
                       : c.rule == Rule::Temperature                           ? "°C"
                       : c.rule == Rule::Capacitance                           ? "F"
                       : c.rule == Rule::Power                                 ? "W"
                       : c.rule == Rule::Current || c.rule == Rule::FuseRating ? "A"
                                                                               : "Ω";
    if (c.need == 0) return c.pass ? "ok" : "differs";
    if (c.rule == Rule::Temperature) return fmt::format("{:.0f} °C for {:.0f} °C", c.have, c.need);
    return fmt::format("{} for {}", format_nominal(c.have, unit), format_nominal(c.need, unit));
}

std::string marking(MarkingScheme scheme) {
    switch (scheme) {
    case MarkingScheme::Iec60062:
        return "letter code, IEC 60062";
    case MarkingScheme::ThreeDigit:
        return "three digits";
    case MarkingScheme::FourDigit:
        return "four digits";
    case MarkingScheme::Eia96:
        return "EIA-96";
    case MarkingScheme::ColourBands:
        return "colour bands, IEC 60062";
    case MarkingScheme::Capacitor:
        return "microfarads on a can";
    case MarkingScheme::Fuse:
        return "fuse, IEC 60127";
    }
    return {};
}

std::string outcome(std::string_view id) {
    if (id == "repaired") return "repaired";
    if (id == "works-not-fit") return "works, but not fit to be returned to service";
    if (id == "not-economic") return "beyond economic repair";
    if (id == "supply-good") return "the supply was good; look elsewhere";
    return std::string(id);
}

} // namespace ohmo::wording
