// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/edit_json.h"

#include "base/text.h"

#include <fmt/format.h>

namespace ohmo::detail {
namespace {

std::optional<BoardEdit> read_part(const Fields& f) {
    PartEdit e;
    e.ref = f.text("part", true);
    if (const std::string kind = f.text("kind"); !kind.empty()) {
        e.kind = kind_from_name(kind);
        if (!e.kind) f.complain(ProblemKind::UnknownPartKind, "kind", kind);
    }
    const auto text = [&](const char* key, std::optional<std::string>& into) {
        if (f.child(key) != nullptr) into = f.text(key);
    };
    text("ref", e.new_ref);
    text("value", e.value);
    text("stage", e.stage);
    text("role", e.role);
    e.volts = f.number("volts");
    e.amps = f.number("amps");
    e.watts = f.number("watts");
    e.celsius = f.number("celsius");
    e.unrated = f.flag("unrated");
    e.gone = f.flag("gone");
    if (const Json* pins = f.child("pins"); pins != nullptr && pins->is_object())
        for (const auto& [role, net] : pins->items()) {
            if (!net.is_string()) f.complain(ProblemKind::PinOnNoNet, "pins/" + role, net.dump());
            e.pins.emplace_back(role, net.is_string() ? net.get<std::string>() : std::string());
        }
    return e;
}

std::optional<BoardEdit> read_joint(const Fields& f) {
    const std::string from = f.text("from", true), to = f.text("to", true), saw = f.text("saw", true);
    const auto a = pin_name(from), b = pin_name(to);
    if (!a) f.complain(ProblemKind::UnknownPin, "from", from, "a part and its pin, such as R12.1");
    if (!b) f.complain(ProblemKind::UnknownPin, "to", to, "a part and its pin, such as R12.1");
    if (saw != "joined" && saw != "apart") f.complain(ProblemKind::UnknownWord, "saw", saw, "joined, apart");
    if (!a || !b) return std::nullopt;
    return JointEdit{*a, *b, saw == "joined"};
}

BoardEdit read_rail(const Json& object, const std::string& place, Problems& problems) {
    const Fields r(object, place, problems);
    const bool gone = r.flag("gone");
    return RailEdit{{r.text("net", true), r.text("return", !gone), r.number("volts", !gone).value_or(0),
                     r.number("tolerance").value_or(0.05), r.number("amps").value_or(1), -1, -1},
                    gone};
}

std::optional<BoardEdit> read_edit(const Json& object, const std::string& place, Problems& problems) {
    const Fields f(object, place, problems);
    if (const Json* rail = f.child("rail"); rail != nullptr && rail->is_object()) return read_rail(*rail, place + "/rail", problems);
    if (const Json* mains = f.child("mains"); mains != nullptr) {
        if (!mains->is_object()) return MainsEdit{};
        const Fields m(*mains, place + "/mains", problems);
        return MainsEdit{Mains{m.number("volts", true).value_or(0), m.number("hertz").value_or(50)}};
    }
    if (f.child("net") != nullptr) return NetEdit{f.text("net"), f.text("name", true)};
    if (f.child("from") != nullptr) return read_joint(f);
    return read_part(f);
}

void write(const PartEdit& e, Json& o) {
    o["part"] = e.ref;
    if (e.gone) o["gone"] = true;
    if (e.kind) o["kind"] = std::string(kind_info(*e.kind).name);
    if (e.new_ref) o["ref"] = *e.new_ref;
    if (e.value) o["value"] = *e.value;
    if (e.unrated) o["unrated"] = true;
    if (e.volts) o["volts"] = *e.volts;
    if (e.amps) o["amps"] = *e.amps;
    if (e.watts) o["watts"] = *e.watts;
    if (e.celsius) o["celsius"] = *e.celsius;
    if (e.stage) o["stage"] = *e.stage;
    if (e.role) o["role"] = *e.role;
    for (const auto& [role, net] : e.pins) o["pins"][role] = net;
}

void write(const NetEdit& e, Json& o) {
    o["net"] = e.net;
    o["name"] = e.name;
}

void write(const JointEdit& e, Json& o) {
    o["from"] = fmt::format("{}.{}", e.a.ref, e.a.role);
    o["to"] = fmt::format("{}.{}", e.b.ref, e.b.role);
    o["saw"] = e.joined ? "joined" : "apart";
}

void write(const RailEdit& e, Json& o) {
    o["rail"] = {{"net", e.rail.net}};
    if (e.gone)
        o["rail"]["gone"] = true;
    else
        o["rail"].update({{"return", e.rail.ret}, {"volts", e.rail.volts}, {"tolerance", e.rail.tolerance}, {"amps", e.rail.amps}});
}

void write(const MainsEdit& e, Json& o) {
    o["mains"] = e.mains ? Json{{"volts", e.mains->volts}, {"hertz", e.mains->hertz}} : Json(nullptr);
}

void write_one(const BoardEdit& edit, Json& o) {
    std::visit([&](const auto& e) { write(e, o); }, edit);
}

} // namespace

std::vector<BoardEdit> read_edits(const Json& entry, const std::string& place, Problems& problems) {
    std::vector<BoardEdit> out;
    const auto steps = entry.find("steps");
    if (steps == entry.end() || !steps->is_array()) {
        if (auto one = read_edit(entry, place, problems)) out.push_back(std::move(*one));
        return out;
    }
    for (std::size_t i = 0; i < steps->size(); ++i) {
        const std::string where = fmt::format("{}/steps/{}", place, i);
        if (!(*steps)[i].is_object())
            problems.push_back({ProblemKind::SchemaMismatch, where, (*steps)[i].type_name(), "object", 0, false});
        else if (auto one = read_edit((*steps)[i], where, problems))
            out.push_back(std::move(*one));
    }
    return out;
}

void write_edits(const std::vector<BoardEdit>& edits, Json& entry) {
    if (edits.size() == 1) return write_one(edits.front(), entry);
    Json steps = Json::array();
    for (const auto& edit : edits) {
        Json one = Json::object();
        write_one(edit, one);
        steps.push_back(std::move(one));
    }
    entry["steps"] = std::move(steps);
}

} // namespace ohmo::detail
