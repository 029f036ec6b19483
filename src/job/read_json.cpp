// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/read_json.h"

#include "base/text.h"
#include "board/check.h"
#include "job/edit_json.h"

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <functional>

namespace ohmo::detail {
namespace {

constexpr double kToldCurrent = 0.02; // of the diode test, as a share, where the job says it

std::string shown(const Json& value) {
    std::string text = value.dump(-1, ' ', false, Json::error_handler_t::replace);
    if (text.size() > 60) text = text.substr(0, 57) + "...";
    return text;
}

Part read_part(const Json& object, const std::string& place, Problems& problems) {
    Part part;
    if (!object.is_object()) {
        problems.push_back({ProblemKind::SchemaMismatch, place, shown(object), "object", 0, false});
        return part;
    }
    const Fields f(object, place, problems);
    part.ref = f.text("ref", true);
    const std::string kind = f.text("kind", true);
    if (const auto k = kind_from_name(kind))
        part.kind = *k;
    else if (!kind.empty())
        f.complain(ProblemKind::UnknownPartKind, "kind", kind);
    if (const Json* value = f.child("value")) part.value = value->is_number() ? fmt::format("{}", value->get<double>()) : f.text("value");
    part.stage = f.text("stage");
    part.role = f.text("role");
    part.volts = f.number("volts");
    part.amps = f.number("amps");
    part.watts = f.number("watts");
    part.celsius = f.number("celsius");
    part.henry = f.number("henry");
    part.esr = f.number("esr");
    part.age_years = f.number("age_years");
    part.batch = f.text("batch");
    part.assumed = f.flag("assumed");
    if (const Json* at = f.child("place"); at != nullptr) {
        if (at->is_array() && at->size() == 2 && (*at)[0].is_number() && (*at)[1].is_number())
            part.place = BoardPosition{(*at)[0].get<double>(), (*at)[1].get<double>()};
        else
            f.complain(ProblemKind::SchemaMismatch, "place", shown(*at), "[x, y] in millimetres");
    }
    if (const Json* ohms = f.child("ohms"); ohms != nullptr && ohms->is_number()) part.ohms = ohms->get<double>();
    const auto by_winding = [&](const char* key, std::map<std::string, double>& out) {
        const Json* map = f.child(key);
        if (map == nullptr || !map->is_object()) return;
        for (const auto& [name, number] : map->items()) {
            if (!number.is_number() || number.get<double>() < 0)
                f.complain(ProblemKind::NegativeValue, std::string(key) + "/" + name, shown(number));
            else
                out[name] = number.get<double>();
        }
    };
    by_winding("turns", part.turns);
    by_winding("winding_ohms", part.winding_ohms);
    if (const Json* pins = f.child("pins"); pins != nullptr && pins->is_object()) {
        for (const auto& [role, net] : pins->items()) {
            if (!net.is_string()) f.complain(ProblemKind::PinOnNoNet, "pins/" + role, shown(net));
            part.pins.push_back({role, net.is_string() ? net.get<std::string>() : std::string(), -1});
        }
    } else {
        f.complain(ProblemKind::MissingField, "pins", "pins");
    }
    return part;
}

} // namespace

void Fields::complain(ProblemKind kind, const std::string& key, std::string found, std::string expected) const {
    m_problems.push_back({kind, m_place + "/" + key, std::move(found), std::move(expected), 0, false});
}

std::string Fields::text(const char* key, bool required) const {
    const auto at = m_object.find(key);
    if (at == m_object.end()) {
        if (required) complain(ProblemKind::MissingField, "", key);
        return {};
    }
    if (!at->is_string()) {
        complain(ProblemKind::SchemaMismatch, key, shown(*at), "text");
        return {};
    }
    return at->get<std::string>();
}

std::optional<double> Fields::number(const char* key, bool required) const {
    const auto at = m_object.find(key);
    if (at == m_object.end() || at->is_null()) {
        if (required && at == m_object.end()) complain(ProblemKind::MissingField, "", key);
        return std::nullopt;
    }
    if (!at->is_number() || !std::isfinite(at->get<double>())) {
        complain(ProblemKind::SchemaMismatch, key, shown(*at), "number");
        return std::nullopt;
    }
    return at->get<double>();
}

bool Fields::flag(const char* key) const {
    const auto at = m_object.find(key);
    if (at == m_object.end()) return false;
    if (!at->is_boolean()) complain(ProblemKind::SchemaMismatch, key, shown(*at), "true, false");
    return at->is_boolean() && at->get<bool>();
}

const Json* Fields::child(const char* key) const {
    const auto at = m_object.find(key);
    return at == m_object.end() ? nullptr : &*at;
}

Unit read_unit(const Json& object, Problems& problems) {
    const Fields f(object, "/unit", problems);
    Unit unit{f.text("name"), f.text("model"), f.text("maker"), f.text("serial"), "", std::nullopt};
    if (const Json* worth = f.child("worth"); worth != nullptr && worth->is_object()) {
        const Fields w(*worth, "/unit/worth", problems);
        unit.worth = w.number("amount");
        unit.currency = w.text("currency");
    }
    return unit;
}

Board read_board(const Json& object, const std::string& place, Problems& problems) {
    Board board;
    const Fields f(object, place, problems);
    board.name = f.text("name");
    board.blueprint = f.text("blueprint");
    if (const Json* mains = f.child("mains"); mains != nullptr && mains->is_object()) {
        const Fields m(*mains, place + "/mains", problems);
        board.mains = Mains{m.number("volts", true).value_or(230), m.number("hertz").value_or(50)};
        if (board.mains->volts <= 0 || board.mains->volts > kMostMainsVolts)
            m.complain(ProblemKind::OutOfRangeValue, "volts", fmt::format("{}", board.mains->volts), "1 … 480");
        if (board.mains->hertz <= 0 || board.mains->hertz > kMostMainsHertz)
            m.complain(ProblemKind::OutOfRangeValue, "hertz", fmt::format("{}", board.mains->hertz), "1 … 500");
    }
    if (const Json* rails = f.child("rails"); rails != nullptr && rails->is_array())
        for (std::size_t i = 0; i < rails->size(); ++i) {
            const Json& r = (*rails)[i];
            if (!r.is_object()) continue;
            const Fields rf(r, fmt::format("{}/rails/{}", place, i), problems);
            board.rails.push_back({rf.text("net", true), rf.text("return", true), rf.number("volts", true).value_or(0),
                                   rf.number("tolerance").value_or(0.05), rf.number("amps").value_or(1), -1, -1});
        }
    if (const Json* parts = f.child("parts"); parts != nullptr && parts->is_array())
        for (std::size_t i = 0; i < parts->size(); ++i)
            board.parts.push_back(read_part((*parts)[i], fmt::format("{}/parts/{}", place, i), problems));
    return board;
}

std::vector<MeterProfile> read_meters(const Json& array, Problems& problems) {
    std::vector<MeterProfile> out;
    for (std::size_t i = 0; i < array.size(); ++i) {
        if (!array[i].is_object()) continue;
        const Fields f(array[i], fmt::format("/meters/{}", i), problems);
        MeterProfile m;
        m.id = f.text("id", true);
        if (const Json* ohms = f.child("ohms"); ohms != nullptr && ohms->is_array() && !ohms->empty()) {
            m.ohms.clear();
            for (std::size_t k = 0; k < ohms->size(); ++k) {
                if (!(*ohms)[k].is_object()) continue;
                const Fields r((*ohms)[k], fmt::format("/meters/{}/ohms/{}", i, k), problems);
                const OhmsRange range{r.number("full", true).value_or(0), r.number("amps", true).value_or(0),
                                      r.number("spread").value_or(0)};
                if (range.spread < 0) r.complain(ProblemKind::NegativeValue, "spread", fmt::format("{}", range.spread));
                if (range.full <= 0 || range.amps <= 0) r.complain(ProblemKind::OutOfRangeValue, "full", "0", "> 0");
                m.ohms.push_back(range);
            }
        }
        m.compliance = f.number("compliance").value_or(m.compliance);
        m.over = f.number("over").value_or(m.over);
        m.leads = f.number("leads").value_or(0);
        m.residue = f.number("residue").value_or(m.residue);
        m.accuracy = f.number("accuracy").value_or(m.accuracy);
        m.usual = f.flag("usual");
        if (const Json* o = f.child("gain"); o != nullptr && o->is_object()) {
            const Fields g(*o, f.place() + "/gain", problems);
            m.gain = g.number("shown").value_or(1);
            m.gain_spread = g.number("spread").value_or(0);
            if (m.gain <= 0.5 || m.gain >= 2) g.complain(ProblemKind::OutOfRangeValue, "shown", fmt::format("{}", m.gain), "about 1");
            if (m.gain_spread < 0) g.complain(ProblemKind::NegativeValue, "spread", fmt::format("{}", m.gain_spread));
        }
        if (m.accuracy <= 0) f.complain(ProblemKind::OutOfRangeValue, "accuracy", fmt::format("{}", m.accuracy), "> 0");
        if (m.residue <= 0) f.complain(ProblemKind::OutOfRangeValue, "residue", fmt::format("{}", m.residue), "> 0");
        if (m.leads < 0) f.complain(ProblemKind::NegativeValue, "leads", fmt::format("{}", m.leads));
        const auto nested = [&](const char* key, const char* field, double& into) {
            if (const Json* o = f.child(key); o != nullptr && o->is_object())
                into = Fields(*o, f.place() + "/" + key, problems).number(field).value_or(into);
        };
        nested("diode", "amps", m.diode_amps);
        if (const Json* o = f.child("diode"); o != nullptr && o->is_object() && o->contains("amps")) m.diode_spread = kToldCurrent;
        nested("diode", "volts", m.diode_volts);
        nested("farads", "hertz", m.farads_hertz);
        nested("esr", "hertz", m.esr_hertz);
        nested("insulation", "volts", m.insulation_volts);
        nested("insulation", "ohms", m.insulation_ohms);
        nested("square", "hertz", m.square_hertz);
        nested("square", "ohms", m.square_ohms);
        nested("square", "volts", m.square_volts);
        if (const Json* o = f.child("square"); o != nullptr && o->is_object()) {
            const std::string display = Fields(*o, f.place() + "/square", problems).text("display");
            m.square_into_load = display == "into-load";
            if (!display.empty() && display != "open" && display != "into-load")
                f.complain(ProblemKind::OutOfRangeValue, "square/display", display, "open or into-load");
        }
        for (double positive : {m.insulation_volts, m.insulation_ohms, m.square_hertz, m.square_ohms, m.square_volts, m.esr_hertz,
                                m.farads_hertz, m.diode_amps})
            if (positive <= 0) f.complain(ProblemKind::OutOfRangeValue, "id", fmt::format("{}", positive), "settings above 0");
        out.push_back(std::move(m));
    }
    return out;
}

Json write_meter(const MeterProfile& m) {
    Json o{{"id", m.id}, {"usual", m.usual}};
    for (const auto& r : m.ohms) {
        Json range{{"full", r.full}, {"amps", r.amps}};
        if (r.spread > 0) range["spread"] = r.spread;
        o["ohms"].push_back(std::move(range));
    }
    o["compliance"] = m.compliance;
    o["over"] = m.over;
    o["leads"] = m.leads;
    if (m.gain_spread > 0) o["gain"] = {{"shown", m.gain}, {"spread", m.gain_spread}};
    return o;
}

Entry read_entry(const Json& object, const std::string& place, Problems& problems) {
    Entry e;
    if (!object.is_object()) {
        problems.push_back({ProblemKind::SchemaMismatch, place, shown(object), "object", 0, false});
        return e;
    }
    const Fields f(object, place, problems);
    const std::string act = f.text("do", true);
    bool known = false;
    for (int d = 0; d < kDoes; ++d)
        if (do_name(static_cast<Do>(d)) == act) {
            e.act = static_cast<Do>(d);
            known = true;
        }
    if (!known && !act.empty()) f.complain(ProblemKind::UnknownAction, "do", act);
    if (const std::string at = f.text("at", true); !at.empty()) {
        if (const auto time = parse_time(at))
            e.at = *time;
        else
            f.complain(ProblemKind::UnreadableTime, "at", at, "2026-03-02T09:14:00Z");
    }
    if (e.act == Do::Trace) {
        e.edits = read_edits(object, place, problems);
        e.text = f.text("text");
        return e;
    }
    e.saw = f.text("saw");
    e.part = f.text("part");
    e.stage = f.text("stage");
    e.what = f.text("what");
    e.from = f.text("from");
    e.to = f.text("to");
    e.powered = f.text("powered");
    e.load = f.text("load");
    e.pin = f.text("pin");
    e.meter = f.text("meter");
    e.text = f.text("text");
    e.mode = f.text("mode");
    e.ref = f.text("ref");
    e.step = f.text("step");
    if (e.act == Do::Verdict) e.saw = f.text("is");
    e.over = f.flag("over");
    e.rising = f.flag("rising");
    e.lifted = f.flag("lifted");
    if (e.act == Do::Recognise)
        e.value_text = f.text("value");
    else
        e.value = f.number("value");
    e.volts = f.number("volts");
    e.amps = f.number("amps");
    e.watts = f.number("watts");
    if (e.act == Do::Photo) {
        e.x = f.number("x");
        e.y = f.number("y");
    }
    if (e.act == Do::Retract || e.act == Do::Note) e.target = static_cast<int>(f.number("entry", e.act == Do::Retract).value_or(-1));
    if (const Json* pins = f.child("pins"); pins != nullptr && pins->is_array())
        for (const auto& p : *pins)
            if (p.is_string()) e.pins.push_back(p.get<std::string>());
    return e;
}

Json write_entry(const Entry& e) {
    Json o;
    o["at"] = format_time(e.at);
    o["do"] = std::string(do_name(e.act));
    const auto text = [&](const char* key, const std::string& value) {
        if (!value.empty()) o[key] = value;
    };
    if (e.act == Do::Trace) {
        write_edits(e.edits, o);
        text("text", e.text);
        return o;
    }
    text("what", e.what);
    text("from", e.from);
    text("to", e.to);
    text("part", e.part);
    text("pin", e.pin);
    text("stage", e.stage);
    if (!e.pins.empty()) o["pins"] = e.pins;
    if (e.act == Do::Verdict)
        text("is", e.saw);
    else
        text("saw", e.saw);
    text("mode", e.mode);
    text("step", e.step);
    text("ref", e.ref);
    if (e.act == Do::Recognise)
        text("value", e.value_text);
    else if (e.value)
        o["value"] = *e.value;
    else if (e.over)
        o["value"] = nullptr;
    if (e.volts) o["volts"] = *e.volts;
    if (e.amps) o["amps"] = *e.amps;
    if (e.watts) o["watts"] = *e.watts;
    if (e.x) o["x"] = *e.x;
    if (e.y) o["y"] = *e.y;
    if (e.over) o["over"] = true;
    if (e.rising) o["rising"] = true;
    if (e.lifted) o["lifted"] = true;
    text("powered", e.powered);
    text("load", e.load);
    text("meter", e.meter);
    text("text", e.text);
    if (e.act == Do::Retract || (e.act == Do::Note && e.target >= 0)) o["entry"] = e.target;
    return o;
}

std::string pretty(const Json& root) {
    const auto line = [](const Json& v) { return v.dump(-1, ' ', false, Json::error_handler_t::replace); };
    const auto list = [&](const Json& array, const std::string& indent) {
        if (array.empty()) return std::string("[]");
        std::string out = "[\n";
        for (std::size_t i = 0; i < array.size(); ++i) out += indent + "  " + line(array[i]) + (i + 1 < array.size() ? ",\n" : "\n");
        return out + indent + "]";
    };
    const std::function<std::string(const Json&, const std::string&, int)> object = [&](const Json& o, const std::string& indent,
                                                                                        int depth) {
        std::string out = "{\n";
        std::size_t i = 0;
        for (const auto& [key, value] : o.items()) {
            out += indent + "  " + Json(key).dump() + ": ";
            if (value.is_array() && !value.empty() && value.front().is_object())
                out += list(value, indent + "  ");
            else if (value.is_object() && depth == 0 && key == "board")
                out += object(value, indent + "  ", depth + 1);
            else
                out += line(value);
            out += ++i < o.size() ? ",\n" : "\n";
        }
        return out + indent + "}";
    };
    return object(root, "", 0) + "\n";
}

} // namespace ohmo::detail
