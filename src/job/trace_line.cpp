// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/trace_line.h"

#include "base/engineering.h"
#include "base/text.h"
#include "board/conventions.h"
#include "board/value_reading.h"
#include "job/traced.h"

#include <algorithm>

namespace ohmo {
namespace {

using Words = std::vector<std::string>;

Problem usage(std::string found, std::string expected) { return {ProblemKind::Usage, {}, std::move(found), std::move(expected), 0, false}; }

Result<Entry> checked(const Board& board, BoardEdit edit) {
    Entry e = trace_entry({std::move(edit)});
    const auto made = with_edits(board, e.edits);
    if (!made) return made.problems();
    return e;
}

// "400V", "0.25W", "2A", "105C": a rating, where no net is called that.
std::optional<double> rating(const Board& board, const std::string& word, char unit) {
    if (word.size() < 2 || word.back() != unit || board.find_net(word)) return std::nullopt;
    const std::string figure = word.substr(0, word.size() - 1);
    if (figure.find_first_of("0123456789") == std::string::npos || figure.front() == '+' || figure.front() == '-')
        return std::nullopt; // +12V too
    const auto value = parse_quantity(figure);
    return value && *value > 0 ? std::optional(*value) : std::nullopt; // 0V is a net
}

class PartWords {
public:
    PartWords(const Board& board, const Words& words) : m_board(board), m_words(words) {}

    // "REF [kind] [value] [ratings] [@stage] [NET …] [PIN=NET …]", from the second word.
    Result<Entry> run(bool add) {
        if (m_words.size() < 2) return usage(m_words.front(), add ? "+ R12 4k7 HV VCC" : "= R12 4k7, = Q1 G=GATE");
        m_edit.ref = m_words[1];
        const auto there = m_board.find_part(m_edit.ref);
        if (add && there) return Problem{ProblemKind::DuplicateRef, {}, m_edit.ref, {}, 0, false};
        if (!add && !there) return Problem{ProblemKind::NoSuchPart, {}, m_edit.ref, {}, 0, false};
        if (there) m_edit.ref = m_board.part(*there).ref;
        Words rest;
        for (std::size_t i = 2; i < m_words.size(); ++i)
            if (!named(m_words[i], i == 2)) rest.push_back(m_words[i]);
        if (there) m_kind = m_edit.kind.value_or(m_board.part(*there).kind);
        if (!there && !m_edit.kind) guess_kind(rest);
        if (!there && !m_edit.kind) return Problem{ProblemKind::MissingField, {}, "kind", {}, 0, false};
        if (m_edit.kind) m_kind = *m_edit.kind;
        if (!there && m_kind == PartKind::Diode && uppered(m_edit.ref).starts_with("LED")) m_value = {"LED"};
        for (const auto& word : rest)
            if (!take(word, there.has_value())) return usage(word, "a value, a rating (400V, 2A, 0.25W), PIN=NET, @stage");
        finish_value();
        PartEdit nothing;
        nothing.ref = m_edit.ref;
        if (there && m_edit == nothing && !m_board.part(*there).assumed)
            return usage(m_edit.ref, "what it is, where it goes: = R12 4k7, = Q1 G=GATE");
        for (auto& [role, net] : m_edit.pins)
            if (const auto known = m_board.find_net(net)) net = m_board.net_name(*known);
        return checked(m_board, m_edit);
    }

private:
    // What says itself what it is. What people call a kind is one at once after the ref, and where no net is called so.
    bool named(const std::string& word, bool first) {
        const auto sign = word.find('=');
        if (sign != std::string::npos && sign > 0) {
            m_edit.pins.emplace_back(word.substr(0, sign), word.substr(sign + 1));
            return true;
        }
        if (lowered(word) == "unrated") {
            m_edit.unrated = true;
            return true;
        }
        if (word.size() > 1 && word.front() == '@') {
            m_edit.stage = lowered(word.substr(1));
            return true;
        }
        if (!m_edit.kind)
            if (const auto kind = first && !m_board.find_net(word) ? kind_of_word(word) : kind_from_name(lowered(word))) {
                m_edit.kind = kind;
                if (lowered(word) == "led") m_value = {"LED"};
                return true;
            }
        return false;
    }

    void guess_kind(const Words& rest) {
        Words roles;
        for (const auto& [role, net] : m_edit.pins) roles.push_back(role);
        for (const auto& word : rest) {
            if (rating(m_board, word, 'V') || word.front() == '+' || word.front() == '-' || m_board.find_net(word)) continue;
            m_edit.kind = kind_of_ref(m_edit.ref, word, roles);
            if (m_edit.kind != PartKind::Ceramic) return; // one word may still make it an electrolytic
        }
        m_edit.kind = kind_of_ref(m_edit.ref, "", roles);
    }

    bool take(const std::string& word, bool there) {
        if (!is_controller(m_kind) && take_rating(word)) return true; // a chip's volts are where it starts and stops
        const auto& info = kind_info(m_kind);
        const bool is_net = m_board.find_net(word).has_value();
        const bool measured = is_resistor_like(m_kind) || is_capacitor(m_kind) || m_kind == PartKind::Fuse ||
                              m_kind == PartKind::Inductor || m_kind == PartKind::Choke;
        if (!is_net && m_value.empty() && (measured ? !value_readings(m_kind, word).empty() : info.rule == PinRule::Function || there)) {
            m_value.push_back(word);
            return true;
        }
        if (there) return false;                // wires of a part that is there are named
        if (m_positions >= info.roles.size()) { // a chip has no order of pins: what is not named is its value
            if (measured || is_net) return false;
            m_value.push_back(word); // words of a family: "600V 6A"
            return true;
        }
        while (m_positions < info.roles.size() && is_named(info.roles[m_positions])) ++m_positions;
        if (m_positions >= info.roles.size()) return false;
        m_edit.pins.emplace_back(info.roles[m_positions++], word);
        return true;
    }

    bool take_rating(const std::string& word) {
        if (const auto v = rating(m_board, word, 'V'); v && !m_edit.volts) return m_edit.volts = v, true;
        if (const auto w = rating(m_board, word, 'W'); w && !m_edit.watts) return m_edit.watts = w, true;
        if (const auto c = rating(m_board, word, 'C'); c && is_capacitor(m_kind) && !m_edit.celsius) return m_edit.celsius = c, true;
        if (const auto a = rating(m_board, word, 'A'); a && m_kind != PartKind::Fuse && !m_edit.amps) return m_edit.amps = a, true;
        return false;
    }

    bool is_named(std::string_view role) const {
        return std::any_of(m_edit.pins.begin(), m_edit.pins.end(), [&](const auto& pin) { return uppered(pin.first) == role; });
    }

    void finish_value() {
        if (m_value.empty()) return;
        const auto readings = value_readings(m_kind, joined(m_value, " "));
        m_edit.value = readings.empty() ? joined(m_value, " ") : readings.front().value;
        if (!readings.empty() && readings.front().volts && !m_edit.volts) m_edit.volts = readings.front().volts;
    }

    const Board& m_board;
    const Words& m_words;
    PartEdit m_edit;
    PartKind m_kind = PartKind::Resistor;
    Words m_value;
    std::size_t m_positions = 0;
};

Result<Entry> doubled(const Board& board, const Words& words) {
    if (words.size() < 3) return usage("double", "double R12 R13, then nets where they differ: double R12 R13 2=GATE");
    const auto from = board.find_part(words[1]);
    if (!from) return Problem{ProblemKind::NoSuchPart, {}, words[1], {}, 0, false};
    if (board.find_part(words[2])) return Problem{ProblemKind::DuplicateRef, {}, words[2], {}, 0, false};
    const Part& like = board.part(*from);
    PartEdit e;
    e.ref = words[2];
    e.kind = like.kind;
    if (!like.value.empty()) e.value = like.value;
    e.volts = like.volts;
    e.amps = like.amps;
    e.watts = like.watts;
    e.celsius = like.celsius;
    if (!like.stage.empty()) e.stage = like.stage;
    for (const auto& pin : like.pins)
        if (pin.net != own_net(like.ref, pin.role)) e.pins.emplace_back(pin.role, pin.net);
    std::size_t position = 0;
    for (std::size_t i = 3; i < words.size(); ++i) {
        const auto sign = words[i].find('=');
        if (sign == std::string::npos) {
            if (position >= like.pins.size()) return usage(words[i], "PIN=NET");
            e.pins.emplace_back(like.pins[position++].role, words[i]);
        } else {
            e.pins.emplace_back(words[i].substr(0, sign), words[i].substr(sign + 1));
        }
    }
    return checked(board, e);
}

Result<Entry> rail(const Board& board, const Words& words) {
    constexpr const char* kHow = "rail +12V 0V 12V 2A 5%, rail +12V gone";
    if (words.size() < 3) return usage(words.back(), kHow);
    RailEdit e;
    e.rail.net = words[1];
    if (lowered(words[2]) == "gone") {
        e.gone = true;
        return checked(board, e);
    }
    e.rail.ret = words[2];
    e.rail.amps = 1;
    bool volts = false;
    for (std::size_t i = 3; i < words.size(); ++i) {
        const std::string& word = words[i];
        const auto value = parse_quantity(word.ends_with('%') ? word.substr(0, word.size() - 1) : word);
        if (!value) return usage(word, kHow);
        if (word.ends_with('%'))
            e.rail.tolerance = *value / 100;
        else if (word.ends_with('A') || word.ends_with('a'))
            e.rail.amps = *value;
        else if (!volts)
            e.rail.volts = *value, volts = true;
        else
            return usage(word, kHow);
    }
    if (!volts) {
        const auto named = parse_quantity(e.rail.net);
        if (!named) return usage(words.back(), kHow);
        e.rail.volts = *named; // "+12V" says it
    }
    return checked(board, e);
}

Result<Entry> mains(const Board& board, const Words& words) {
    if (words.size() < 2) return usage("mains", "mains 230V 50Hz, mains none");
    MainsEdit e;
    if (lowered(words[1]) == "none") return checked(board, e);
    const auto volts = parse_quantity(words[1]);
    if (!volts) return volts.problems();
    e.mains = Mains{*volts, 50};
    if (words.size() > 2) {
        const auto hertz = parse_quantity(words[2]);
        if (!hertz) return hertz.problems();
        e.mains->hertz = *hertz;
    }
    return checked(board, e);
}

std::optional<Result<Entry>> beep(const Board& board, const Words& words) {
    if (words.size() != 3) return std::nullopt;
    const std::string heard = lowered(words[2]);
    const auto a = pin_name(words[0]), b = pin_name(words[1]);
    if (!a || !b || (heard != "beep" && heard != "beeps" && heard != "silent")) return std::nullopt;
    if (!board.find_part(a->ref) || !board.find_part(b->ref)) return std::nullopt;
    return checked(board, JointEdit{*a, *b, heard != "silent"});
}

} // namespace

std::optional<Result<Entry>> parse_trace_line(const Board& board, const Words& words) {
    if (words.empty()) return std::nullopt;
    const std::string first = lowered(words.front());
    if (first == "+" || first == "=") return PartWords(board, words).run(first == "+");
    if (first == "-") {
        if (words.size() != 2) return usage(words.back(), "- R12: it is not on this board");
        PartEdit e;
        e.ref = words[1];
        e.gone = true;
        return checked(board, e);
    }
    if (board.find_net(first) || board.find_part(first)) return std::nullopt; // a net called MAINS is read, not changed
    if (first == "net") {
        if (words.size() != 3) return usage(words.back(), "net N7 VCC: the net N7 is called VCC");
        return checked(board, NetEdit{words[1], words[2]});
    }
    if (first == "number") {
        if (words.size() != 3) return usage(words.back(), "number R12 R13: what is called R12 has R13 printed beside it");
        if (!board.find_part(words[1])) return Problem{ProblemKind::NoSuchPart, {}, words[1], {}, 0, false};
        PartEdit e;
        e.ref = words[1];
        e.new_ref = words[2];
        return checked(board, e);
    }
    if (first == "double") return doubled(board, words);
    if (first == "rail") return rail(board, words);
    if (first == "mains") return mains(board, words);
    return beep(board, words);
}

std::vector<std::string> trace_words(const Board& board, const std::vector<std::string>& before) {
    if (before.empty()) return {};
    const std::string first = lowered(before.front());
    const bool add = first == "+", change = first == "=";
    Words out;
    const auto refs = [&] {
        for (const auto& p : board.parts) out.push_back(p.ref);
    };
    if (add && before.size() >= 2) {
        out = board.nets;
        for (const auto& k : all_kinds()) out.emplace_back(k.name);
        for (const auto& s : stage_order()) out.push_back("@" + s);
    } else if (change && before.size() >= 2) {
        if (const auto part = board.find_part(before[1]))
            for (const auto& pin : board.part(*part).pins)
                for (const auto& net : board.nets) out.push_back(pin.role + "=" + net);
        for (const auto& k : all_kinds()) out.emplace_back(k.name);
        for (const auto& s : stage_order()) out.push_back("@" + s);
    } else if ((change || first == "-" || first == "number" || first == "double") && before.size() == 1) {
        refs();
    } else if ((first == "net" || first == "rail") && before.size() <= 2) {
        out = board.nets;
    }
    return out;
}

} // namespace ohmo
