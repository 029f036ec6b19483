// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/board.h"

#include "base/text.h"
#include "board/check.h"
#include "board/mains_side.h"
#include "board/nominal.h"
#include "board/taken.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace ohmo {
namespace {

Problem at(ProblemKind kind, std::string place, std::string found, std::string expected = {}, bool warning = false) {
    return {kind, std::move(place), std::move(found), std::move(expected), 0, warning};
}

void check_pins(const Part& part, const std::string& place, Problems& out) {
    for (const auto& role : kind_info(part.kind).roles)
        if (std::none_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.role == role; }))
            out.push_back(at(ProblemKind::MissingPin, place + "/pins", std::string(role), part.ref));
    if (is_controller(part.kind) && part.pins.size() < 2) out.push_back(at(ProblemKind::MissingPin, place + "/pins", "GND", part.ref));
    std::set<std::string> seen;
    for (const auto& pin : part.pins) {
        const std::string pin_place = place + "/pins/" + pin.role;
        if (!allows_role(part.kind, pin.role) || !seen.insert(pin.role).second)
            out.push_back(at(ProblemKind::UnknownPin, pin_place, pin.role, roles_text(part.kind)));
        if (trimmed(pin.net).empty()) out.push_back(at(ProblemKind::PinOnNoNet, pin_place, part.ref + "." + pin.role));
    }
    if (kind_info(part.kind).rule == PinRule::Pairs)
        for (const auto& [a, b] : part.pairs())
            if (b == nullptr) out.push_back(at(ProblemKind::MissingPin, place + "/pins", "partner of " + a->role, part.ref));
}

void check_numbers(const Part& part, const std::string& place, Problems& out) {
    const std::pair<const char*, std::optional<double>> fields[] = {
        {"volts", part.volts}, {"amps", part.amps}, {"watts", part.watts},        {"ohms", part.ohms},
        {"henry", part.henry}, {"esr", part.esr},   {"age_years", part.age_years}};
    for (const auto& [name, value] : fields)
        if (value && *value < 0) out.push_back(at(ProblemKind::NegativeValue, place + "/" + name, fmt::format("{}", *value)));
}

void check_nets(const Board& board, Problems& out) {
    std::vector<int> uses(board.nets.size(), 0);
    for (const auto& part : board.parts) // the far side of a connector goes elsewhere
        for (const auto& pin : part.pins) uses[static_cast<std::size_t>(pin.id)] += part.kind == PartKind::Connector ? 2 : 1;
    for (std::size_t n = 0; n < uses.size(); ++n)
        if (uses[n] == 1) out.push_back(at(ProblemKind::NetWithOnePin, "/board/parts", board.nets[n], {}, true));
}

} // namespace

std::string roles_text(PartKind kind) {
    std::vector<std::string> roles;
    for (auto r : kind_info(kind).roles) roles.emplace_back(r);
    return joined(roles, ", ");
}

void check_part(const Part& part, const std::string& place, Problems& out) {
    check_pins(part, place, out);
    check_numbers(part, place, out);
}

void check_value(const Part& part, const std::string& place, bool just_written, Problems& out) {
    if (part.value.empty()) return;
    const auto nominal = nominal_value(part);
    if (nominal) return;
    auto p = nominal.problem();
    p.place = place + "/value";
    p.warning = p.kind == ProblemKind::UnreadableValue && !just_written;
    out.push_back(p);
}

NetId Part::net(std::string_view pin_role) const {
    for (const auto& pin : pins)
        if (pin.role == pin_role) return pin.id;
    return -1;
}

std::string Part::role_on(NetId net) const {
    const auto pin = std::find_if(pins.begin(), pins.end(), [&](const Pin& p) { return p.id == net; });
    return pin == pins.end() ? std::string() : pin->role;
}

bool Part::touches(NetId wanted) const {
    return wanted >= 0 && std::any_of(pins.begin(), pins.end(), [&](const Pin& pin) { return pin.id == wanted; });
}

ChipPins chip_pins(const Part& part) {
    const auto first = [&](std::initializer_list<std::string_view> names) -> std::string_view {
        for (auto name : names)
            if (part.net(name) >= 0) return name;
        return {};
    };
    ChipPins out;
    const bool regulator = part.kind == PartKind::Regulator, sw = part.kind == PartKind::IntegratedSwitch;
    out.ground = first({"GND", "VSS", "PGND", "COM", "AGND", "SGND", "VEE", "V-",
                        part.kind == PartKind::ShuntReference ? "A"
                        : regulator                           ? "ADJ"
                        : sw                                  ? "S"
                                                              : ""});
    out.supply = regulator ? first({"IN", "VIN"}) : first({"VCC", "VDD", "VIN", "IN", "V+"});
    out.own_supply = out.supply == "VCC" || out.supply == "VDD";
    if (!sw) return out;
    const std::string_view drain = first({"D"}), source = first({"S"}), node = first({"SW", "LX"}), input = first({"VIN", "IN"});
    out.high = !drain.empty() ? drain : !node.empty() && !input.empty() ? input : node;
    out.low = drain.empty() && !node.empty() && !input.empty() ? node : source.empty() ? out.ground : source;
    return out;
}

std::vector<std::string_view> chip_outputs(const Part& part) {
    const auto named = [&](std::initializer_list<std::string_view> names) { // "DRV", "DRB", "HO1"
        std::vector<std::string_view> out;
        for (const auto& pin : part.pins) {
            const std::string_view role = pin.role;
            if (std::any_of(names.begin(), names.end(),
                            [&](std::string_view n) { return role.starts_with(n) && role.size() <= n.size() + 1; }))
                out.push_back(role);
        }
        return out;
    };
    auto out = named({"DRV",   "DR", "OUT", "HO", "LO", "GATE", "GD", "HDRV", "LDRV", "UGATE",
                      "LGATE", "UG", "LG",  "TG", "BG", "DH",   "DL", "GH",   "GL",   "HG"});
    return out.empty() ? named({"SW", "LX"}) : out;
}

bool ChipWell::holds(const Pin& pin) const {
    return high >= 0 && (pin.id == low || pin.id == high || std::find(drives.begin(), drives.end(), pin.role) != drives.end());
}

NetId chip_boost(const Part& part) {
    for (const auto* role : {"HB", "VB", "BST", "BOOT", "BS", "CB"})
        if (const NetId net = part.net(role); net >= 0) return net;
    return -1;
}

ChipWell chip_well(const Board& board, const Part& part) {
    ChipWell out;
    if (!is_controller(part.kind)) return out;
    for (const auto* role : {"SW", "LX", "HS", "VS", "PHASE", "PH"})
        if (out.low < 0) out.low = part.net(role);
    out.high = chip_boost(part);
    if (out.low < 0 || out.high < 0) return {};
    std::vector<NetId> gates;
    for (const auto& sw : board.parts)
        if (is_switch_device(sw.kind) && (sw.net("S") == out.low || sw.net("E") == out.low))
            for (const auto* role : {"G", "B"})
                if (sw.net(role) >= 0) gates.push_back(sw.net(role));
    for (const auto role : chip_outputs(part)) {
        const NetId net = part.net(role);
        if (net == out.low) continue;
        for (const NetId gate : gates) {
            const bool through = std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& between) {
                return is_resistor_like(between.kind) && between.touches(net) && between.touches(gate);
            });
            if (net == gate || through) out.drives.push_back(role);
        }
    }
    return out;
}

std::vector<std::string_view> places_of_output_short(const Part& part) {
    auto out = is_controller(part.kind) ? chip_outputs(part) : std::vector<std::string_view>{};
    if (out.size() < 2) out.clear();
    return out;
}

std::vector<std::pair<const Pin*, const Pin*>> Part::pairs() const {
    const auto find = [&](const std::string& wanted) -> const Pin* {
        for (const auto& pin : pins)
            if (pin.role == wanted) return &pin;
        return nullptr;
    };
    std::vector<std::pair<const Pin*, const Pin*>> out;
    for (const auto& pin : pins) {
        if (kind == PartKind::Connector) {
            if (!pin.role.ends_with('\'')) out.emplace_back(&pin, find(pin.role + "'"));
            continue;
        }
        std::size_t digits = 0;
        while (digits < pin.role.size() && (pin.role[digits] < '0' || pin.role[digits] > '9')) ++digits;
        if (!all_digits(std::string_view(pin.role).substr(digits)) || pin.role.size() - digits > 4) continue;
        const int number = std::stoi(pin.role.substr(digits));
        if (number % 2 == 1) out.emplace_back(&pin, find(pin.role.substr(0, digits) + std::to_string(number + 1)));
    }
    return out;
}

std::optional<int> Board::find_part(std::string_view ref) const {
    for (std::size_t i = 0; i < parts.size(); ++i)
        if (parts[i].ref == ref) return static_cast<int>(i);
    const std::string low = lowered(ref);
    for (std::size_t i = 0; i < parts.size(); ++i)
        if (lowered(parts[i].ref) == low) return static_cast<int>(i);
    return std::nullopt;
}

std::optional<NetId> Board::find_net(std::string_view wanted) const {
    for (std::size_t i = 0; i < nets.size(); ++i)
        if (nets[i] == wanted) return static_cast<NetId>(i);
    const std::string low = lowered(wanted);
    for (std::size_t i = 0; i < nets.size(); ++i)
        if (lowered(nets[i]) == low) return static_cast<NetId>(i);
    return std::nullopt;
}

Result<MadeBoard> make_board(Board board) {
    Problems problems;
    std::set<std::string> names, refs;
    for (std::size_t i = 0; i < board.parts.size(); ++i) {
        auto& part = board.parts[i];
        const std::string place = fmt::format("/board/parts/{}", i);
        if (trimmed(part.ref).empty()) problems.push_back(at(ProblemKind::MissingField, place, "ref"));
        if (!refs.insert(part.ref).second) problems.push_back(at(ProblemKind::DuplicateRef, place + "/ref", part.ref));
        check_part(part, place, problems);
        check_value(part, place, false, problems);
        for (const auto& pin : part.pins) names.insert(pin.net);
    }
    board.nets.assign(names.begin(), names.end());
    for (auto& part : board.parts)
        for (auto& pin : part.pins)
            pin.id = static_cast<NetId>(std::lower_bound(board.nets.begin(), board.nets.end(), pin.net) - board.nets.begin());
    for (std::size_t i = 0; i < board.rails.size(); ++i) {
        auto& rail = board.rails[i];
        const std::string place = fmt::format("/board/rails/{}", i);
        const auto net = board.find_net(rail.net), ret = board.find_net(rail.ret);
        // A board without parts is only the list of rails that the take-in knows.
        if (!board.parts.empty()) {
            if (!net) problems.push_back(at(ProblemKind::NoSuchNet, place + "/net", rail.net));
            if (!ret) problems.push_back(at(ProblemKind::NoSuchNet, place + "/return", rail.ret));
        }
        if (rail.amps < 0 || rail.tolerance < 0) problems.push_back(at(ProblemKind::NegativeValue, place, rail.net));
        rail.net_id = net.value_or(-1);
        rail.return_id = ret.value_or(-1);
    }
    if (has_errors(problems)) return problems;
    check_nets(board, problems);
    settle_stages(board);
    take_values(board);
    return MadeBoard{std::move(board), std::move(problems)};
}

namespace {

// "P1-P2", "1-1'": one winding or contact of several.
bool names_a_pair(const Part& part, std::string_view place) {
    const auto pairs = part.pairs();
    return std::any_of(pairs.begin(), pairs.end(), [&](const auto& pair) { return pair.first->role + "-" + pair.second->role == place; });
}

} // namespace

Result<Fault> parse_fault(const Board& board, std::string_view text) {
    const auto colon = text.find(':');
    const std::string ref(text.substr(0, colon));
    const auto part = board.find_part(ref);
    if (!part) return at(ProblemKind::NoSuchPart, std::string(text), ref);
    std::string mode_text(colon == std::string_view::npos ? "" : text.substr(colon + 1));
    std::string place;
    if (const auto sign = mode_text.find('@'); sign != std::string::npos) {
        place = mode_text.substr(sign + 1);
        mode_text.resize(sign);
    }
    const PartKind kind = board.part(*part).kind;
    std::vector<std::string> known;
    for (auto m : modes_of(kind)) known.emplace_back(mode_name(m));
    const auto mode = mode_from_name(mode_text);
    if (!mode || !mode_applies(kind, *mode)) return at(ProblemKind::UnknownFaultMode, std::string(text), mode_text, joined(known, ", "));
    Fault fault{*part, *mode, place};
    if (kind == PartKind::Bridge && (*mode == FaultMode::Short || *mode == FaultMode::Open || *mode == FaultMode::Leaky)) {
        if (place.empty())
            fault.place = "~1+";
        else if (place != "~1+" && place != "~1-" && place != "~2+" && place != "~2-")
            return at(ProblemKind::UnknownPin, std::string(text), place, "~1+, ~1-, ~2+, ~2-");
    } else if (const auto outputs = places_of_output_short(board.part(*part)); *mode == FaultMode::OutputShort && place.empty()) {
        if (!outputs.empty()) fault.place = outputs.front();
    } else if (!place.empty() && board.part(*part).net(place) < 0 && !names_a_pair(board.part(*part), place)) {
        return at(ProblemKind::UnknownPin, std::string(text), place, roles_text(kind));
    }
    return fault;
}

std::string fault_text(const Board& board, const Fault& fault) {
    std::string text = board.part(fault.part).ref + ":" + std::string(mode_name(fault.mode));
    if (!fault.place.empty()) text += "@" + fault.place;
    return text;
}

const std::vector<std::string>& stage_order() {
    static const std::vector<std::string> order = {"mains-in", "filter",      "rectify", "bulk",     "switch", "control",
                                                   "barrier",  "rectify-out", "smooth",  "feedback", "rails"};
    return order;
}

} // namespace ohmo
