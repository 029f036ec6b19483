// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/bench_line.h"

#include "base/engineering.h"
#include "base/text.h"
#include "board/roles.h"
#include "circuit/dc_solver.h"
#include "job/trace_line.h"
#include "readings/outside.h"

#include <algorithm>
#include <map>
#include <numeric>

namespace ohmo {
namespace {

using Words = std::vector<std::string>;

const std::map<std::string, Do>& verbs() {
    static const std::map<std::string, Do> table = {
        {"lift", Do::Lift},       {"refit", Do::Refit},       {"pull", Do::Pull},     {"plug", Do::Plug},    {"remove", Do::Remove},
        {"replace", Do::Replace}, {"resolder", Do::Resolder}, {"prove", Do::Prove},   {"clean", Do::Clean},  {"discharge", Do::Discharge},
        {"note", Do::Note},       {"apart", Do::Note},        {"together", Do::Note}, {"look", Do::Look},    {"substitute", Do::Substitute},
        {"cool", Do::Cool},       {"heat", Do::Heat},         {"bad", Do::Verdict},   {"good", Do::Verdict}, {"cleared", Do::PowerStep},
        {"check", Do::Check},     {"try", Do::Try},           {"meter", Do::Meter},   {"leads", Do::Meter}};
    return table;
}

const std::map<std::string, std::string>& quantity_words() {
    static const std::map<std::string, std::string> table = {
        {"ohm", "ohms"},       {"ohms", "ohms"},       {"diode", "diode"},     {"esr", "esr"},
        {"farad", "farads"},   {"farads", "farads"},   {"cap", "farads"},      {"volt", "volts-dc"},
        {"volts", "volts-dc"}, {"dc", "volts-dc"},     {"ac", "volts-ac"},     {"ripple", "ripple"},
        {"amps", "amps"},      {"leakage", "leakage"}, {"celsius", "celsius"}, {"residue", "scope-residue"}};
    return table;
}

// "8 min", "480 s", "1 h"; a bare number is minutes.
Result<double> duration(std::string text) {
    double unit = 60;
    for (const auto& [end, seconds] : {std::pair{"min", 60.0}, {"m", 60.0}, {"s", 1.0}, {"h", 3600.0}})
        if (text.ends_with(end)) {
            text.resize(text.size() - std::string_view(end).size());
            unit = seconds;
            break;
        }
    auto number = parse_quantity(text);
    if (!number) return number;
    return *number * unit;
}

bool contains(const Words& list, const std::string& word) { return std::find(list.begin(), list.end(), word) != list.end(); }
bool is_over(const std::string& word) { return word == "open" || word == "over" || word == "ol" || word == "inf"; }

class Parser {
public:
    Parser(const BenchContext& context, Words words) : m_context(context), m_words(std::move(words)) {}

    Result<Entry> run() {
        if (m_words.empty()) return usage("", "a part or net and what was read, seen or done");
        const std::string first = lowered(m_words.front());
        if (auto traced = parse_trace_line(m_context.board, m_words)) return std::move(*traced);
        if (const auto verb = verbs().find(first); verb != verbs().end()) return act(first, verb->second);
        if (m_words.size() == 1) {
            if (contains(m_context.vocabulary.symptoms, first)) return word_entry(Do::Symptom, first);
            if (contains(m_context.vocabulary.history, first)) return word_entry(Do::History, first);
        }
        return about_place();
    }

private:
    static Problem usage(std::string found, std::string expected) {
        return {ProblemKind::Usage, {}, std::move(found), std::move(expected), 0, false};
    }

    static Entry word_entry(Do act, const std::string& word) {
        Entry e;
        e.act = act;
        e.saw = word;
        return e;
    }

    Result<Entry> checked(Entry e) const {
        auto problems = check_entry(m_context.board, m_context.vocabulary, e, 0);
        for (const auto& p : problems)
            if (!p.warning || p.kind == ProblemKind::UnknownWord) return p;
        return e;
    }

    // "prove C5", "prove C5 look right", "prove C5 + beeps".
    Result<Entry> prove(Entry e, int part) const {
        const auto expects =
            usage(joined(m_words, " "),
                  "prove and a part, then look right or look wrong, or a lead and beeps or silent; the part alone: all as it should be");
        if (m_words.size() == 2) {
            e.what = "all";
            e.saw = "right";
            return checked(std::move(e));
        }
        if (m_words.size() != 4) return expects;
        const std::string last = lowered(m_words[3]);
        const bool good = last == "right" || last == "beeps" || last == "beep" || last == "ok",
                   bad = last == "wrong" || last == "silent" || last == "open";
        if (!good && !bad) return expects;
        e.saw = good ? "right" : "wrong";
        e.what = lowered(m_words[2]) == "look" ? "look" : "joined";
        if (e.what == "joined")
            for (const auto& pin : m_context.board.part(part).pins)
                if (lowered(pin.role) == lowered(m_words[2])) e.pin = pin.role;
        if (e.what == "joined" && e.pin.empty()) e.pin = m_words[2];
        return checked(std::move(e));
    }

    // "check plug-fuse blown", "check lead live open".
    Result<Entry> outside(Entry e) const {
        if (m_words.size() < 3) {
            std::vector<std::string> known;
            for (const auto& c : outside_checks())
                if (asked_of(c, m_context.board)) known.emplace_back(c.id);
            return usage(joined(m_words, " "), "check, what (" + joined(known, ", ") + ") and what it said");
        }
        e.saw = lowered(m_words.back());
        e.what = lowered(joined(Words(m_words.begin() + 1, m_words.end() - 1), "-"));
        return checked(std::move(e));
    }

    // "try runs", "try fails cold", "try dies 8 min warm".
    Result<Entry> tried(Entry e) const {
        std::string time;
        for (std::size_t k = 1; k < m_words.size(); ++k) {
            const std::string word = lowered(m_words[k]);
            if (word == "runs" || word == "fails" || word == "dies")
                e.saw = word;
            else if (word == "cold" || word == "warm")
                e.what = word;
            else if (word != "after")
                time += word;
        }
        if (e.saw.empty()) return usage(joined(m_words, " "), "try, then runs, fails or dies; cold or warm; dies 8 min");
        if (!time.empty()) {
            const auto seconds = duration(time);
            if (!seconds) return seconds.problems();
            e.value = *seconds;
        }
        return checked(std::move(e));
    }

    // "meter low-power", "leads 0.2", "meter usual leads 0.15".
    Result<Entry> in_hand(Entry e) const {
        std::size_t at = 0;
        if (lowered(m_words[at]) == "meter") {
            const std::string named = m_words.size() > 1 ? m_words[1] : "";
            const auto known = std::find_if(m_context.meters.begin(), m_context.meters.end(),
                                            [&](const auto& id) { return lowered(id) == lowered(named); });
            if (known == m_context.meters.end()) return usage(named.empty() ? "meter" : named, joined(m_context.meters, ", "));
            e.meter = *known;
            at = 2;
        }
        if (at == m_words.size()) return e;
        if (lowered(m_words[at]) != "leads" || at + 1 == m_words.size())
            return usage(joined(m_words, " "), "leads and the ohms shown with the tips touched; 0 when they were nulled");
        const auto ohms = parse_quantity(joined(Words(m_words.begin() + static_cast<long>(at) + 1, m_words.end()), ""));
        if (!ohms) return ohms.problems();
        e.value = *ohms;
        return checked(std::move(e));
    }

    Result<Entry> act(const std::string& verb, Do act) {
        Entry e;
        e.act = act;
        m_at = 1;
        if (act == Do::Check) return outside(std::move(e));
        if (act == Do::Try) return tried(std::move(e));
        if (act == Do::Meter) return in_hand(std::move(e));
        if (act == Do::Note) {
            Words rest(m_words.begin() + 1, m_words.end());
            e.text = joined(rest, " ");
            if (verb != "note") e.what = verb;
            if (e.text.empty() && verb != "together") return usage(verb, verb + " and a text");
            if (verb == "together" && !e.text.empty()) return usage(joined(m_words, " "), "together alone: everything is back in place");
            return e;
        }
        if (act == Do::Clean) return e;
        if (act == Do::PowerStep) {
            e.step = "fault";
            e.saw = "cleared";
            return e;
        }
        if (act == Do::Discharge) {
            if (m_words.size() < 2) return usage("discharge", "discharge and the volts that are left, measured");
            const auto volts = parse_quantity(joined(Words(m_words.begin() + 1, m_words.end()), ""));
            if (!volts) return volts.problems();
            if (*volts < 0) return Problem{ProblemKind::NegativeValue, {}, m_words[1], {}, 0, false};
            e.value = *volts;
            return e;
        }
        if (m_words.size() < 2) return usage(verb, verb + " and a part");
        const auto part = m_context.board.find_part(m_words[1]);
        if (!part) {
            const bool stage = act == Do::Look && contains(stage_order(), lowered(m_words[1]));
            if (!stage) return Problem{ProblemKind::NoSuchPart, {}, m_words[1], {}, 0, false};
            e.stage = lowered(m_words[1]);
        } else {
            e.part = m_context.board.part(*part).ref;
        }
        const std::string third = m_words.size() > 2 ? lowered(m_words[2]) : "";
        if (act == Do::Prove) return prove(std::move(e), *part);
        if (act == Do::Verdict) {
            e.saw = verb;
            e.mode = third;
        } else if (act == Do::Look || act == Do::Cool || act == Do::Heat || act == Do::Substitute) {
            e.saw = third;
            if (third.empty())
                return usage(verb, act == Do::Look         ? joined(m_context.vocabulary.looks, ", ")
                                   : act == Do::Substitute ? "works, same"
                                                           : "recovers, worse, same");
        }
        return checked(std::move(e));
    }

    // The place at the start of the line, then what was read there.
    Result<Entry> about_place() {
        Entry e;
        e.act = Do::Read;
        if (auto problem = place(e)) return *problem;
        if (m_at >= m_words.size())
            return usage(m_words.back(), e.part.empty() ? "a value: 1k9, 322 V, over" : "a value or a look: 2.9, esr 1.4, bulged, open");
        const std::string word = lowered(m_words[m_at]);
        const bool last = m_at + 1 == m_words.size();
        if (!e.part.empty() && last && contains(m_context.vocabulary.looks, word) && !is_over(word)) {
            e.act = Do::Look;
            e.saw = word;
            e.pins.clear();
            return checked(std::move(e));
        }
        return reading(std::move(e));
    }

    std::optional<Problem> place(Entry& e) {
        const Board& board = m_context.board;
        if (const auto part = board.find_part(m_words.front())) {
            e.part = board.part(*part).ref;
            m_at = 1;
            return pins(board.part(*part), e);
        }
        // "+24 V" is the rail "+24V" when such a net exists.
        std::string first = m_words.front();
        m_at = 1;
        if (!board.find_net(first) && m_words.size() > 2 && board.find_net(first + m_words[1])) {
            first += m_words[1];
            m_at = 2;
        }
        for (const char* sign : {"+", "-"})
            if (!board.find_net(first) && board.find_net(sign + first)) first = sign + first;
        std::string second;
        if (!board.find_net(first)) { // "HV-PGND"
            for (std::size_t dash = first.find('-', 1); dash != std::string::npos; dash = first.find('-', dash + 1))
                if (board.find_net(first.substr(0, dash)) && board.find_net(first.substr(dash + 1))) {
                    second = first.substr(dash + 1);
                    first.resize(dash);
                    break;
                }
        } else if (m_at + 1 < m_words.size() && board.find_net(m_words[m_at])) {
            second = m_words[m_at++];
        }
        const auto red = board.find_net(first);
        if (!red)
            return Problem{ProblemKind::NoSuchPart,
                           {},
                           m_words.front(),
                           "a part or a net of this board, or a word such as lift, look, note",
                           0,
                           false};
        e.from = board.net_name(*red);
        if (!second.empty()) {
            e.to = board.net_name(*board.find_net(second));
        } else {
            const NetId back = m_context.return_of[static_cast<std::size_t>(*red)];
            if (back < 0) return usage(e.from, "two nets: " + e.from + " and where the black lead was");
            e.to = board.net_name(back);
        }
        return std::nullopt;
    }

    // "D-S", "D S": red pin, black pin.
    std::optional<Problem> pins(const Part& part, Entry& e) {
        const auto has = [&](const std::string& role) { return part.net(role) >= 0; };
        const auto cased = [&](const std::string& word) { return has(word) ? word : uppered(word); };
        if (m_at >= m_words.size()) return std::nullopt;
        const std::string word = m_words[m_at];
        if (contains(m_context.vocabulary.looks, lowered(word)) || lowered(word) == "four-wire")
            return std::nullopt; // no pins: black-glass
        for (std::size_t dash = word.find('-', 1); dash != std::string::npos; dash = word.find('-', dash + 1)) {
            const std::string a = cased(word.substr(0, dash)), b = cased(word.substr(dash + 1));
            if (!has(a) || !has(b)) {
                if (word.find_first_of("0123456789.") == 0) return std::nullopt;
                std::string all;
                for (const auto& pin : part.pins) all += (all.empty() ? "" : ", ") + pin.role;
                return Problem{ProblemKind::UnknownPin, {}, has(a) ? b : a, all, 0, false};
            }
            e.pins = {a, b};
            ++m_at;
            return std::nullopt;
        }
        const bool numbered = all_digits(word); // "R9 1 2" could be values: pins are then written 1-2
        if (!numbered && m_at + 2 < m_words.size() && has(cased(word)) && has(cased(m_words[m_at + 1]))) {
            e.pins = {cased(word), cased(m_words[m_at + 1])};
            m_at += 2;
        }
        return std::nullopt;
    }

    Result<Entry> reading(Entry e) {
        std::string number;
        bool beep = false, silent = false;
        for (; m_at < m_words.size(); ++m_at) {
            const std::string raw = m_words[m_at], word = lowered(raw);
            if (const auto q = quantity_words().find(word); q != quantity_words().end())
                e.what = q->second;
            else if (word == "milliohm" || word == "four-wire") {
                e.what = "ohms";
                e.meter = milliohm_meter().id;
            } else if (word == "lifted")
                e.lifted = true;
            else if (word == "rising" || word == "up" || word == "↑")
                e.rising = true;
            else if (word == "mains" || word == "limited" || word == "elv")
                e.powered = word;
            else if (word == "beep" || word == "beeps" || word == "short")
                beep = true;
            else if (word == "silent")
                silent = true;
            else if (is_over(word))
                e.over = true;
            else if (word == "idle" || word == "full" || (word.ends_with('%') && !number.empty()))
                e.load = word;
            else if (word == "at" && m_at + 1 < m_words.size())
                e.load = m_words[++m_at];
            else if (number.empty() || number.find_first_of("0123456789") != std::string::npos)
                number += raw;
            else
                return usage(raw, "ohm, V, esr, diode, F, open, beep, rising, lifted, idle, at 50%");
        }
        if (beep || silent) {
            e.what = "continuity";
            e.value = beep ? 1 : 0;
            return checked(std::move(e));
        }
        if (e.over) {
            if (e.what.empty()) e.what = "ohms";
            return checked(std::move(e));
        }
        if (number.empty()) return usage(m_words.back(), "a value: 2.9, 1k9, 322 V, open");
        const auto value = parse_quantity(number);
        if (!value) return value.problems();
        e.value = *value;
        if (e.what.empty()) e.what = guessed(number, e);
        if (e.what.starts_with("volts") && e.powered.empty()) e.powered = m_context.powered;
        return checked(std::move(e));
    }

    std::string guessed(const std::string& number, const Entry& e) const {
        const auto ends = [&](std::string_view unit) { return number.ends_with(unit); };
        const auto part = e.part.empty() ? std::nullopt : m_context.board.find_part(e.part);
        if (ends("V") || ends("v"))
            return part && m_context.cold && m_context.powered.empty() && !is_capacitor(m_context.board.part(*part).kind) ? "diode"
                                                                                                                          : "volts-dc";
        if (ends("A")) return "amps";
        if (ends("F") || (part && is_capacitor(m_context.board.part(*part).kind) && number.find_first_of("unpµ") != std::string::npos))
            return "farads";
        const bool ohms = ends("Ω") || ends("ohm") || number.find_first_of("kKMRr") != std::string::npos;
        if (ohms || !e.part.empty()) return "ohms";
        return m_context.cold && m_context.powered.empty() ? "ohms" : "volts-dc";
    }

    const BenchContext& m_context;
    Words m_words;
    std::size_t m_at = 0;
};

} // namespace

std::vector<std::string> meters_at_hand(const Replay& replay) {
    std::vector<std::string> out = {std::string(kUsualMeter)};
    for (const auto& m : replay.evidence.meters)
        if (!m.id.empty() && !m.usual && !contains(out, m.id)) out.push_back(m.id);
    if (!contains(out, milliohm_meter().id)) out.push_back(milliohm_meter().id);
    return out;
}

void set_state(BenchContext& context, const Replay& replay) {
    context.cold = replay.cold_unlocked && !replay.mains_on;
    context.powered = replay.mains_on ? "mains" : "";
    context.meters = meters_at_hand(replay);
}

BenchContext bench_context(const Replay& replay, const Vocabulary& vocabulary) {
    BenchContext context{replay.board, vocabulary, {}, false, {}, meters_at_hand(replay)};
    set_state(context, replay);
    const Board& board = context.board;
    context.return_of.assign(board.nets.size(), -1);
    if (board.parts.empty()) return context;
    const DcSolver solver(expand(board, {}, {}));
    std::vector<NetId> returns;
    if (const NetId ground = replay.roles->primary_ground; ground >= 0) returns.push_back(ground);
    for (const auto& rail : board.rails)
        if (rail.return_id >= 0) returns.push_back(rail.return_id);
    for (NetId net = 0; net < static_cast<NetId>(board.nets.size()); ++net)
        for (NetId back : returns)
            if (back != net && solver.connected(net, back) && context.return_of[static_cast<std::size_t>(net)] < 0)
                context.return_of[static_cast<std::size_t>(net)] = back;
    for (const auto& rail : board.rails)
        if (rail.net_id >= 0) context.return_of[static_cast<std::size_t>(rail.net_id)] = rail.return_id;
    return context;
}

Result<Entry> parse_bench_line(const BenchContext& context, std::string_view line) { return Parser(context, split_words(line)).run(); }

std::vector<std::string> complete_bench_line(const BenchContext& context, std::string_view line) {
    const auto words = split_words(line);
    const bool fresh = line.empty() || line.back() == ' ';
    const std::string start = fresh || words.empty() ? "" : lowered(words.back());
    const std::size_t index = fresh ? words.size() : words.size() - 1;
    std::vector<std::string> pool =
        trace_words(context.board, {words.begin(), words.begin() + static_cast<long>(std::min(index, words.size()))});
    if (!pool.empty()) {
    } else if (index == 0) {
        for (const auto& p : context.board.parts) pool.push_back(p.ref);
        for (const auto& n : context.board.nets) pool.push_back(n);
        for (const auto& [verb, act] : verbs()) pool.push_back(verb);
        pool.insert(pool.end(), context.vocabulary.symptoms.begin(), context.vocabulary.symptoms.end());
        pool.insert(pool.end(), context.vocabulary.history.begin(), context.vocabulary.history.end());
    } else if (lowered(words.front()) == "meter" && index < 3) {
        if (index == 1) pool = context.meters;
        if (index == 2) pool = {"leads"};
    } else if (verbs().contains(lowered(words.front()))) {
        if (index == 1)
            for (const auto& p : context.board.parts) pool.push_back(p.ref);
        else if (lowered(words.front()) == "look")
            pool = context.vocabulary.looks;
    } else if (context.board.find_part(words.front())) {
        pool = {"ohm", "esr", "diode", "open", "beep"};
        pool.insert(pool.end(), context.vocabulary.looks.begin(), context.vocabulary.looks.end());
    } else {
        pool = context.board.nets;
    }
    std::vector<std::string> out;
    if (start.empty() && index == 0) return out;
    for (const auto& word : pool)
        if (lowered(word).starts_with(start) && lowered(word) != start && !contains(out, word)) out.push_back(word);
    std::stable_sort(out.begin(), out.end(), [](const std::string& a, const std::string& b) { return a.size() < b.size(); });
    if (out.size() > 12) out.resize(12);
    return out;
}

} // namespace ohmo
