// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/spice_import.h"

#include "base/text.h"
#include "board/check.h"
#include "board/conventions.h"
#include "board/value_reading.h"
#include "job/board_json.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <functional>
#include <map>
#include <numeric>
#include <set>

namespace ohmo {
namespace {

constexpr std::string_view kOurs = "*@ ";
constexpr double kZenerBelow = 48;       // volts of breakdown in a model: a diode meant to break down (common practice, no source)
constexpr double kSchottkyFrom = 1e-9;   // ampere of saturation current in a model (common practice, no source)
constexpr std::size_t kMostParts = 5000; // no board; a netlist of something else
constexpr double kRootTwo = 1.4142135623730951;

// 0.33 of "33", whatever the locale.
double fraction(const std::string& digits) {
    double value = 0, place = 0.1;
    for (char c : digits) {
        value += (c - '0') * place;
        place /= 10;
    }
    return value;
}

// SPICE numbers: 4.7k, 10MEG, 33u, 1e-9F. Letters after the suffix mean nothing; M is milli.
std::optional<double> number(const std::string& word) {
    const std::string low = lowered(word);
    const std::size_t sign = low.starts_with('+') ? 1 : 0;
    double value = 0;
    const auto [end, error] = std::from_chars(low.data() + sign, low.data() + low.size(), value); // whatever the locale
    if (error != std::errc{}) return std::nullopt;
    const std::string tail(end, low.data() + low.size());
    static const std::vector<std::pair<std::string, double>> suffixes = {
        {"meg", 1e6}, {"mil", 25.4e-6}, {"t", 1e12},  {"g", 1e9},       {"k", 1e3},       {"m", 1e-3}, {"u", 1e-6},
        {"n", 1e-9},  {"p", 1e-12},     {"f", 1e-15}, {"\u00b5", 1e-6}, {"\u03bc", 1e-6}, {"r", 1}};
    for (const auto& [suffix, factor] : suffixes) {
        if (!tail.starts_with(suffix)) continue;
        const std::string after = tail.substr(suffix.size()); // 4k7, 0R33: the letter stands for the point
        if (all_digits(after)) value += fraction(after);
        return value * factor;
    }
    return value;
}

struct Line {
    int number = 0;
    std::string text; ///< continuations joined, comment at the end cut off
};

struct Model {
    std::string type; ///< "d", "npn" …
    std::map<std::string, double> figures;
};

struct Subcircuit {
    std::vector<std::string> ports;
    std::vector<Line> lines;
};

std::vector<std::string> words_of(std::string text) {
    for (char& c : text)
        if (c == '(' || c == ')' || c == ',') c = ' ';
    std::string spaced;
    for (char c : text) spaced += c == '=' ? std::string(" = ") : std::string(1, c);
    auto raw = split_words(spaced);
    std::vector<std::string> out; // "name = value" as one word
    for (std::size_t i = 0; i < raw.size(); ++i) {
        if (i + 2 < raw.size() && raw[i + 1] == "=") {
            out.push_back(raw[i] + "=" + raw[i + 2]);
            i += 2;
        } else {
            out.push_back(raw[i]);
        }
    }
    return out;
}

class SpiceReader {
public:
    explicit SpiceReader(const std::string& text) {
        int line_number = 0;
        for (std::string raw : split(text, '\n')) {
            ++line_number;
            if (!raw.empty() && raw.back() == '\r') raw.pop_back();
            if (raw.starts_with(kOurs)) {
                m_ours.push_back({line_number, raw.substr(kOurs.size())});
                continue;
            }
            if (const auto semicolon = raw.find(';'); semicolon != std::string::npos) raw.resize(semicolon);
            if (const auto dollar = raw.find(" $"); dollar != std::string::npos) raw.resize(dollar);
            const std::string line = trimmed(raw);
            if (line.empty() || line.front() == '*') {
                if (line_number == 1 && line.size() > 1) m_out.board.name = trimmed(line.substr(1));
                continue;
            }
            if (line_number == 1) { // the title, whatever it looks like
                m_out.board.name = line;
                continue;
            }
            if (line.front() == '+' && !m_lines.empty())
                m_lines.back().text += " " + line.substr(1);
            else
                m_lines.push_back({line_number, line});
        }
    }

    Result<SpiceBoard> run() {
        if (!m_ours.empty()) return own();
        std::vector<Line> elements;
        gather(elements);
        for (const auto& line : elements) element(line, "", {});
        if (m_too_many)
            return Problem{ProblemKind::OutOfRangeValue, {}, fmt::format("more than {} parts", kMostParts),
                           "the netlist of one board",   0,  false};
        couple();
        std::stable_sort(m_out.ignored.begin(), m_out.ignored.end(),
                         [](const IgnoredLine& a, const IgnoredLine& b) { return a.line < b.line; });
        for (auto& part : m_parts) m_out.board.parts.push_back(std::move(part));
        auto made = make_board(std::move(m_out.board));
        if (!made) return made.problems();
        fill_stages(made->board);
        m_out.board = std::move(made->board);
        return std::move(m_out);
    }

private:
    void ignore(const Line& line, IgnoredLine::Why why) { m_out.ignored.push_back({line.number, line.text, why}); }

    Result<SpiceBoard> own() {
        Problems problems;
        std::vector<std::string> texts;
        std::vector<int> numbers;
        for (const auto& line : m_ours) {
            texts.push_back(line.text);
            numbers.push_back(line.number);
        }
        auto board = detail::board_of_lines(texts, numbers);
        if (!board) return board.problems();
        m_out.board = std::move(*board);
        return std::move(m_out);
    }

    // Models and subcircuits aside, what is left are elements.
    void gather(std::vector<Line>& elements) {
        std::string inside;
        bool controlling = false;
        for (const auto& line : m_lines) {
            const auto words = words_of(line.text);
            if (words.empty()) { // nothing but brackets
                ignore(line, IgnoredLine::Why::Malformed);
                continue;
            }
            const std::string first = lowered(words.front());
            if (first == ".control" || controlling) { // orders to a simulator
                controlling = first != ".endc";
                ignore(line, IgnoredLine::Why::Control);
            } else if (first == ".subckt" && words.size() > 2) {
                inside = lowered(words[1]);
                auto& sub = m_subcircuits[inside];
                for (std::size_t i = 2; i < words.size(); ++i)
                    if (words[i].find('=') == std::string::npos && lowered(words[i]) != "params:") sub.ports.push_back(lowered(words[i]));
            } else if (first == ".ends") {
                inside.clear();
            } else if (first == ".model" && words.size() > 2) {
                auto& model = m_models[lowered(words[1])];
                model.type = lowered(words[2]);
                for (std::size_t i = 3; i < words.size(); ++i)
                    if (const auto sign = words[i].find('='); sign != std::string::npos)
                        if (const auto value = number(words[i].substr(sign + 1))) model.figures[lowered(words[i].substr(0, sign))] = *value;
            } else if (first.front() == '.') {
                if (first != ".end") ignore(line, IgnoredLine::Why::Control);
            } else if (!inside.empty()) {
                m_subcircuits[inside].lines.push_back(line);
            } else {
                elements.push_back(line);
            }
        }
    }

    using Nodes = std::map<std::string, std::string>; // of a subcircuit: its port to the net outside

    std::string net(const std::string& word, const std::string& prefix, const Nodes& ports) const {
        if (word == "0" || prefix.empty()) return word;
        const auto at = ports.find(lowered(word));
        return at != ports.end() ? at->second : prefix + word;
    }

    Part& add(const std::string& ref, PartKind kind, const std::vector<std::string>& nets) {
        m_too_many = m_parts.size() >= kMostParts;
        Part part;
        part.ref = ref;
        part.kind = kind;
        const auto& roles = kind_info(kind).roles;
        for (std::size_t i = 0; i < roles.size() && i < nets.size(); ++i) part.pins.push_back({std::string(roles[i]), nets[i], -1});
        m_parts.push_back(std::move(part));
        return m_parts.back();
    }

    void element(const Line& line, const std::string& prefix, const Nodes& ports) {
        if (m_too_many) return;
        const auto words = words_of(line.text);
        const std::string ref = prefix + words.front();
        const char letter = static_cast<char>(std::toupper(static_cast<unsigned char>(words.front().front())));
        const auto n = [&](std::size_t i) { return net(words[i], prefix, ports); };
        const std::size_t needs = letter == 'Q' || letter == 'K' || letter == 'Z' ? 4 : letter == 'M' ? 5 : 3;
        if (words.size() < needs) return ignore(line, IgnoredLine::Why::Malformed);
        switch (letter) {
        case 'R':
        case 'C':
        case 'L':
            return two_pole(line, letter, ref, n(1), n(2), words);
        case 'D':
            return diode(line, ref, n(1), n(2), words);
        case 'Q': {
            const auto model = find_model(words, 4);
            const bool pnp = model != nullptr && model->type == "pnp";
            if (model == nullptr) ignore(line, IgnoredLine::Why::NoModel);
            add(ref, pnp ? PartKind::BjtPnp : PartKind::BjtNpn, {n(1), n(2), n(3)});
            return;
        }
        case 'M':
            if (find_model(words, 4) == nullptr) ignore(line, IgnoredLine::Why::NoModel);
            add(ref, PartKind::Mosfet, {n(1), n(2), n(3)});
            return;
        case 'Z':
            add(ref, PartKind::Igbt, {n(1), n(2), n(3)});
            return;
        case 'S':
            add(ref, PartKind::Switch, {n(1), n(2)});
            return;
        case 'K':
            m_couplings.emplace_back(prefix, words);
            return;
        case 'V':
            return source(line, words);
        case 'X':
            return subcircuit(line, words, ref, prefix, ports);
        case 'I':
        case 'B':
        case 'E':
        case 'F':
        case 'G':
        case 'H':
            return ignore(line, IgnoredLine::Why::Source);
        default:
            return ignore(line, IgnoredLine::Why::Unknown);
        }
    }

    void two_pole(const Line& line, char letter, const std::string& ref, const std::string& a, const std::string& b,
                  const std::vector<std::string>& words) {
        // The first figure, be it bare or by the element's own letter; a model may stand before it, coefficients behind.
        std::optional<double> value;
        for (std::size_t i = 3; i < words.size() && !value; ++i) {
            const auto sign = words[i].find('=');
            const bool own = sign == 1 && std::toupper(static_cast<unsigned char>(words[i].front())) == letter;
            if (sign == std::string::npos || own) value = number(words[i].substr(own ? sign + 1 : 0));
        }
        if (!value || *value <= 0) return ignore(line, IgnoredLine::Why::Malformed);
        PartKind kind = letter == 'R' ? PartKind::Resistor : letter == 'L' ? PartKind::Inductor : PartKind::Ceramic;
        if (letter == 'C' && *value >= shipped_practice().electrolytic_from) kind = PartKind::Electrolytic;
        add(ref, kind, {a, b}).value = letter_code(*value, letter == 'R' ? 'R' : letter == 'C' ? 'F' : 'H');
    }

    const Model* find_model(const std::vector<std::string>& words, std::size_t from) const {
        for (std::size_t i = from; i < words.size(); ++i)
            if (const auto at = m_models.find(lowered(words[i])); at != m_models.end()) return &at->second;
        return nullptr;
    }

    void diode(const Line& line, const std::string& ref, const std::string& a, const std::string& k,
               const std::vector<std::string>& words) {
        const Model* model = find_model(words, 3);
        if (model == nullptr) ignore(line, IgnoredLine::Why::NoModel); // still a diode
        const auto figure = [&](const char* name) {
            return model != nullptr && model->figures.contains(name) ? model->figures.at(name) : 0.0;
        };
        const double bv = figure("bv");
        const PartKind kind = bv > 0 && bv <= kZenerBelow     ? PartKind::Zener
                              : figure("is") >= kSchottkyFrom ? PartKind::Schottky
                                                              : PartKind::Diode;
        Part& part = add(ref, kind, {a, k});
        if (bv > 0) part.value = fmt::format("{:g}V", bv);
    }

    // The mains are no part; what else feeds a simulation is the bench.
    void source(const Line& line, const std::vector<std::string>& words) {
        const auto sine =
            std::find_if(words.begin(), words.end(), [](const std::string& w) { return lowered(w) == "sin" || lowered(w) == "sine"; });
        const auto at = static_cast<std::size_t>(sine - words.begin());
        const auto peak = at + 2 < words.size() ? number(words[at + 2]) : std::nullopt;
        const auto hertz = at + 3 < words.size() ? number(words[at + 3]) : std::nullopt;
        const double volts = peak ? std::round(std::fabs(*peak) / kRootTwo) : 0;
        if (volts >= 1 && volts <= kMostMainsVolts && hertz && *hertz >= 16 && *hertz <= kMostMainsHertz)
            m_out.board.mains = Mains{volts, *hertz};
        ignore(line, IgnoredLine::Why::Source);
    }

    void subcircuit(const Line& line, const std::vector<std::string>& words, const std::string& ref, const std::string& prefix,
                    const Nodes& ports) {
        std::size_t last = words.size() - 1;
        while (last > 1 && (words[last].find('=') != std::string::npos || lowered(words[last]) == "params:")) --last;
        const auto at = m_subcircuits.find(lowered(words[last]));
        if (at == m_subcircuits.end() || at->second.ports.size() != last - 1 || m_open.contains(at->first))
            return ignore(line, IgnoredLine::Why::NoModel);
        Nodes inner;
        for (std::size_t i = 0; i < at->second.ports.size(); ++i) inner[at->second.ports[i]] = net(words[i + 1], prefix, ports);
        m_open.insert(at->first); // none inside itself
        for (const auto& one : at->second.lines) element(one, ref + ".", inner);
        m_open.erase(at->first);
    }

    // Coils on one core become one part: a choke where two are alike, a transformer otherwise.
    void couple() {
        std::map<std::string, std::size_t> coils;
        for (std::size_t i = 0; i < m_parts.size(); ++i)
            if (m_parts[i].kind == PartKind::Inductor) coils[lowered(m_parts[i].ref)] = i;
        std::vector<std::size_t> core(m_parts.size());
        std::iota(core.begin(), core.end(), std::size_t{0});
        const std::function<std::size_t(std::size_t)> root = [&](std::size_t i) { return core[i] == i ? i : root(core[i]); };
        for (const auto& [prefix, words] : m_couplings) {
            std::optional<std::size_t> first;
            for (std::size_t i = 1; i < words.size(); ++i)
                if (const auto at = coils.find(lowered(prefix + words[i])); at != coils.end()) {
                    if (first) core[root(at->second)] = root(*first);
                    first = at->second;
                }
        }
        std::map<std::size_t, std::vector<std::size_t>> wound;
        for (const auto& [name, i] : coils) wound[root(i)].push_back(i);
        std::set<std::size_t> gone;
        for (auto& [first, members] : wound) {
            if (members.size() < 2) continue;
            std::sort(members.begin(), members.end());
            Part& part = m_parts[members.front()];
            const bool choke = members.size() == 2 && m_parts[members[0]].value == m_parts[members[1]].value;
            part.kind = choke ? PartKind::Choke : PartKind::Transformer;
            const double primary = number(spice_value(part.value)).value_or(1);
            std::vector<Pin> pins;
            for (std::size_t k = 0; k < members.size(); ++k) {
                const Part& coil = m_parts[members[k]];
                const std::string letter = choke ? "" : k == 0 ? "P" : "S";
                const std::size_t at = choke ? 2 * k + 1 : k == 0 ? 1 : 2 * k - 1;
                const std::string a = letter + std::to_string(at), b = letter + std::to_string(at + 1);
                pins.push_back({a, coil.pins[0].net, -1});
                pins.push_back({b, coil.pins[1].net, -1});
                if (!choke) part.turns[a + "-" + b] = 100 * std::sqrt(number(spice_value(coil.value)).value_or(1) / primary);
                if (k > 0) gone.insert(members[k]);
            }
            part.pins = std::move(pins);
        }
        std::vector<Part> left;
        for (std::size_t i = 0; i < m_parts.size(); ++i)
            if (!gone.contains(i)) left.push_back(std::move(m_parts[i]));
        m_parts = std::move(left);
    }

    // "4u7" back into what number() reads.
    static std::string spice_value(const std::string& code) {
        const auto letter = code.find_first_of("GMkmunp");
        if (letter == std::string::npos) return code;
        std::string out = code;
        const char c = out[letter];
        out[letter] = '.';
        return out + (c == 'M' ? std::string("meg") : std::string(1, c));
    }

    std::vector<Line> m_lines, m_ours;
    std::map<std::string, Model> m_models;
    std::map<std::string, Subcircuit> m_subcircuits;
    std::vector<std::pair<std::string, std::vector<std::string>>> m_couplings;
    std::vector<Part> m_parts;
    std::set<std::string> m_open;
    bool m_too_many = false; // subcircuits in subcircuits multiply
    SpiceBoard m_out;
};

} // namespace

Result<SpiceBoard> read_spice(const std::string& text) { return SpiceReader(text).run(); }

std::string spice_header(const Board& board) {
    std::string out;
    for (const auto& line : detail::lines_of_board(board)) out += std::string(kOurs) + line + "\n";
    return out;
}

} // namespace ohmo
