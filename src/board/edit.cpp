// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/edit.h"

#include "base/text.h"
#include "board/check.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo {
namespace {

bool has_net(const Board& board, const std::string& net) {
    return std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& part) {
        return std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& pin) { return pin.net == net; });
    });
}

Pin* pin_of(Part& part, std::string_view role) {
    for (auto& pin : part.pins)
        if (pin.role == role) return &pin;
    for (auto& pin : part.pins)
        if (lowered(pin.role) == lowered(role)) return &pin;
    return nullptr;
}

// As it is written elsewhere on the board, whatever the case.
std::string spelled(const Board& board, const std::string& net) {
    std::string loose;
    for (const auto& part : board.parts)
        for (const auto& pin : part.pins) {
            if (pin.net == net) return net;
            if (loose.empty() && lowered(pin.net) == lowered(net)) loose = pin.net;
        }
    return loose.empty() ? net : loose;
}

void rename_net(Board& board, const std::string& from, const std::string& to) {
    for (auto& part : board.parts)
        for (auto& pin : part.pins)
            if (pin.net == from) pin.net = to;
    for (auto& rail : board.rails) {
        if (rail.net == from) rail.net = to;
        if (rail.ret == from) rail.ret = to;
    }
}

class Editor {
public:
    explicit Editor(Board board) { m_out.board = std::move(board); }

    Result<EditedBoard> run(const BoardEdit& edit) {
        std::visit([this](const auto& one) { apply(one); }, edit);
        if (!m_problems.empty()) return m_problems;
        return std::move(m_out);
    }

private:
    Board& board() { return m_out.board; }

    void say(ProblemKind kind, std::string place, std::string found, std::string expected = {}) {
        m_problems.push_back({kind, std::move(place), std::move(found), std::move(expected), 0, false});
    }

    void apply(const PartEdit& e) {
        if (trimmed(e.ref).empty()) return say(ProblemKind::MissingField, "", "part");
        const auto index = board().find_part(e.ref);
        if (e.gone) {
            if (!index) return say(ProblemKind::NoSuchPart, "/part", e.ref);
            board().parts.erase(board().parts.begin() + *index);
            return check_rails();
        }
        if (!index && !e.kind) return say(ProblemKind::MissingField, "", "kind");
        Part part = index ? board().part(*index) : Part{};
        const Part before = part;
        if (!index) part.ref = e.ref;
        if (e.kind && (!index || *e.kind != part.kind)) turn_into(part, *e.kind);
        for (const auto& [role, net] : e.pins) wire(part, role, net);
        if (!m_problems.empty()) return;
        number(part, e);
        note_down(part, e);
        own_nets(part);
        part.known = !index                                                                   ? HowKnown::Found
                     : part.kind == before.kind && part.pins == before.pins && !e.pins.size() ? HowKnown::Recognised
                                                                                              : HowKnown::Corrected;
        if (index && !before.assumed && before.known != HowKnown::Recognised)
            part.known = before.known == HowKnown::Found ? before.known : HowKnown::Corrected;
        part.assumed = false;
        check_part(part, "", m_problems);
        if (e.value) check_value(part, "", true, m_problems);
        if (!m_problems.empty()) return;
        if (index)
            board().parts[static_cast<std::size_t>(*index)] = std::move(part);
        else
            board().parts.push_back(std::move(part));
        check_rails();
    }

    // Pins keep their nets by name, or by order where there are as many.
    void turn_into(Part& part, PartKind kind) {
        const auto& roles = kind_info(kind).roles;
        std::vector<Pin> pins;
        if (part.pins.size() == roles.size() &&
            std::none_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return allows_role(kind, p.role); })) {
            for (std::size_t i = 0; i < roles.size(); ++i) pins.push_back({std::string(roles[i]), part.pins[i].net, -1});
        } else {
            for (const auto& pin : part.pins)
                if (allows_role(kind, pin.role)) pins.push_back(pin);
        }
        part.kind = kind;
        part.pins = std::move(pins);
        part.taken_for.reset();
        part.taken_spread = 0;
    }

    void wire(Part& part, const std::string& role, const std::string& net) {
        std::string spelt = role;
        if (!allows_role(part.kind, spelt) && allows_role(part.kind, uppered(spelt))) spelt = uppered(spelt);
        if (!allows_role(part.kind, spelt)) return say(ProblemKind::UnknownPin, "/pins/" + role, role, roles_text(part.kind));
        const std::string to = trimmed(net);
        if (to.empty()) return say(ProblemKind::PinOnNoNet, "/pins/" + role, part.ref + "." + role);
        if (Pin* pin = pin_of(part, spelt))
            pin->net = spelled(board(), to);
        else
            part.pins.push_back({spelt, spelled(board(), to), -1});
    }

    void number(Part& part, const PartEdit& e) {
        if (!e.new_ref || *e.new_ref == part.ref) return;
        const std::string ref = trimmed(*e.new_ref);
        if (ref.empty()) return say(ProblemKind::MissingField, "", "ref");
        if (const auto other = board().find_part(ref); other && board().part(*other).ref != part.ref)
            return say(ProblemKind::DuplicateRef, "/ref", ref);
        m_out.renames.refs[part.ref] = ref;
        for (auto& pin : part.pins)
            if (pin.net == own_net(part.ref, pin.role)) {
                m_out.renames.nets[pin.net] = own_net(ref, pin.role);
                rename_net(board(), pin.net, own_net(ref, pin.role));
                pin.net = own_net(ref, pin.role);
            }
        part.ref = ref;
    }

    static void note_down(Part& part, const PartEdit& e) {
        if (e.value) {
            part.value = *e.value;
            part.taken_for.reset();
            part.taken_spread = 0;
        }
        if (e.stage) part.stage = *e.stage;
        if (e.role) part.role = *e.role;
        if (e.unrated)
            for (auto* rating : {&part.volts, &part.amps, &part.watts, &part.celsius}) rating->reset();
        if (e.volts) part.volts = e.volts;
        if (e.amps) part.amps = e.amps;
        if (e.watts) part.watts = e.watts;
        if (e.celsius) part.celsius = e.celsius;
    }

    static void own_nets(Part& part) {
        for (const auto& role : kind_info(part.kind).roles)
            if (pin_of(part, role) == nullptr) part.pins.push_back({std::string(role), own_net(part.ref, role), -1});
        if (kind_info(part.kind).rule != PinRule::Pairs) return;
        for (const auto& [a, b] : part.pairs()) {
            if (b != nullptr) continue;
            std::string partner = a->role + "'";
            if (part.kind != PartKind::Connector) {
                const auto digit = a->role.find_first_of("0123456789");
                partner = a->role.substr(0, digit) + std::to_string(std::stoi(a->role.substr(digit)) + 1);
            }
            part.pins.push_back({partner, own_net(part.ref, partner), -1});
            return own_nets(part); // the list of pairs points into the pins
        }
    }

    void apply(const NetEdit& e) {
        const std::string from = spelled(board(), e.net), to = trimmed(e.name);
        if (!has_net(board(), from)) return say(ProblemKind::NoSuchNet, "/net", e.net);
        if (to.empty()) return say(ProblemKind::MissingField, "", "name");
        if (from == to) return;
        const std::string name = lowered(from) == lowered(to) ? to : spelled(board(), to);
        rename_net(board(), from, name);
        m_out.renames.nets[from] = name;
        check_rails();
    }

    Pin* find(const PinName& name, const char* place) {
        const auto part = board().find_part(name.ref);
        if (!part) {
            say(ProblemKind::NoSuchPart, std::string("/") + place, name.ref);
            return nullptr;
        }
        Part& found = board().parts[static_cast<std::size_t>(*part)];
        Pin* pin = pin_of(found, name.role);
        if (pin == nullptr) {
            std::vector<std::string> roles;
            for (const auto& p : found.pins) roles.push_back(p.role);
            say(ProblemKind::UnknownPin, std::string("/") + place, name.role, joined(roles, ", "));
        }
        return pin;
    }

    void apply(const JointEdit& e) {
        Pin *a = find(e.a, "from"), *b = find(e.b, "to");
        if (a == nullptr || b == nullptr) return;
        seen(e.a.ref);
        seen(e.b.ref);
        if (e.joined == (a->net == b->net)) return; // as was assumed
        if (e.joined) {
            const bool keep_a = weight(a->net) > weight(b->net);
            const std::string gone = keep_a ? b->net : a->net, stays = keep_a ? a->net : b->net;
            rename_net(board(), gone, stays);
            m_out.renames.nets[gone] = stays;
            return check_rails();
        }
        const std::string ref = board().part(*board().find_part(e.a.ref)).ref;
        std::string own = own_net(ref, a->role);
        while (has_net(board(), own)) own += "'";
        a->net = own;
        check_rails();
    }

    // Probes were on it: it is there.
    void seen(const std::string& ref) {
        Part& part = board().parts[static_cast<std::size_t>(*board().find_part(ref))];
        if (part.assumed) part.known = HowKnown::Recognised;
        part.assumed = false;
    }

    // Which name is worth more: a rail's, one that somebody gave, the one at more pins.
    int weight(const std::string& net) {
        int pins = 0;
        bool own = false;
        for (const auto& part : board().parts)
            for (const auto& pin : part.pins)
                if (pin.net == net) {
                    ++pins;
                    own = own || net == own_net(part.ref, pin.role);
                }
        const bool rail =
            std::any_of(board().rails.begin(), board().rails.end(), [&](const Rail& r) { return r.net == net || r.ret == net; });
        return pins + (own ? 0 : 1000) + (rail ? 10000 : 0);
    }

    void apply(const RailEdit& e) {
        Rail rail = e.rail;
        rail.net = spelled(board(), trimmed(rail.net));
        rail.ret = spelled(board(), trimmed(rail.ret));
        const auto there = std::find_if(board().rails.begin(), board().rails.end(), [&](const Rail& r) { return r.net == rail.net; });
        if (e.gone) {
            if (there == board().rails.end()) return say(ProblemKind::NoSuchNet, "/rail/net", rail.net);
            board().rails.erase(there);
            return;
        }
        if (rail.amps < 0 || rail.tolerance < 0) say(ProblemKind::NegativeValue, "/rail", rail.net);
        if (rail.net == rail.ret) say(ProblemKind::SameNetTwice, "/rail/return", rail.net);
        if (!board().parts.empty())
            for (const auto& [key, net] : {std::pair("/rail/net", rail.net), std::pair("/rail/return", rail.ret)})
                if (!has_net(board(), net)) say(ProblemKind::NoSuchNet, key, net);
        if (!m_problems.empty()) return;
        if (there == board().rails.end())
            board().rails.push_back(std::move(rail));
        else
            *there = std::move(rail);
    }

    void apply(const MainsEdit& e) {
        if (e.mains && (e.mains->volts <= 0 || e.mains->volts > kMostMainsVolts))
            return say(ProblemKind::OutOfRangeValue, "/mains/volts", fmt::format("{}", e.mains->volts), "1 … 480");
        if (e.mains && (e.mains->hertz <= 0 || e.mains->hertz > kMostMainsHertz))
            return say(ProblemKind::OutOfRangeValue, "/mains/hertz", fmt::format("{}", e.mains->hertz), "1 … 500");
        board().mains = e.mains;
    }

    // A rail stays only where somebody's pins are.
    void check_rails() {
        if (board().parts.empty()) return;
        for (const auto& rail : board().rails) {
            if (rail.net == rail.ret) say(ProblemKind::SameNetTwice, "/rail/return", rail.net);
            for (const auto& net : {rail.net, rail.ret})
                if (!has_net(board(), net)) say(ProblemKind::RailsNet, "", net, rail.net);
        }
    }

    EditedBoard m_out;
    Problems m_problems;
};

} // namespace

Result<EditedBoard> apply_edit(Board board, const BoardEdit& edit) { return Editor(std::move(board)).run(edit); }

std::optional<PinName> pin_name(std::string_view text) {
    const auto dot = text.find('.');
    if (dot == std::string_view::npos || dot == 0 || dot + 1 == text.size()) return std::nullopt;
    return PinName{std::string(text.substr(0, dot)), std::string(text.substr(dot + 1))};
}

std::string own_net(std::string_view ref, std::string_view role) { return fmt::format("{}.{}", ref, role); }

} // namespace ohmo
