// SPDX-License-Identifier: GPL-3.0-or-later
#include "reference/spice.h"

#include "base/text.h"

#include "circuit/dc_solver.h"
#include "circuit/spice.h"

#include <fmt/format.h>
#include <ngspice/sharedspice.h>

#include <cstring>
#include <numbers>

namespace ohmo::test {
namespace {

std::string g_log;

int on_text(char* text, int, void*) {
    g_log += text;
    g_log += "\n";
    return 0;
}
int on_status(char*, int, void*) { return 0; }
int on_exit(int, NG_BOOL, NG_BOOL, int, void*) { return 0; }

void command(const std::string& text) { ngSpice_Command(const_cast<char*>(text.c_str())); }

bool run(const std::vector<std::string>& lines, const std::string& options, const std::string& analysis) {
    static const bool started = ngSpice_Init(on_text, on_status, on_exit, nullptr, nullptr, nullptr, nullptr) == 0;
    if (!started) return false;
    command("destroy all");
    command("remcirc");
    g_log.clear();
    std::vector<std::string> all = {"* ohmotrace"};
    all.insert(all.end(), lines.begin(), lines.end());
    all.push_back(".options " + options);
    all.emplace_back(".end");
    std::vector<char*> pointers;
    for (auto& l : all) pointers.push_back(l.data());
    pointers.push_back(nullptr);
    ngSpice_Circ(pointers.data());
    command("optran 1 1 1 0 0 0");
    command(analysis);
    return g_log.find("onvergence") == std::string::npos && g_log.find("ingular") == std::string::npos &&
           g_log.find("too small") == std::string::npos;
}

vector_info* vector_of(const std::string& name) { return ngGet_Vec_Info(const_cast<char*>(name.c_str())); }

std::string name_of(int n, int ground) { return n == ground ? std::string("0") : spice_node(n); }

const char* kTight = "reltol=1e-6 abstol=1e-15 vntol=1e-9 gmin=1e-15 itl1=2000";

} // namespace

std::string spice_log() { return g_log; }

std::string spice_node(int n) { return fmt::format("n{}", n); }

std::vector<std::string> operating_deck(const Netlist& net, int ground) {
    auto out = spice_lines(net, SpiceUse::OperatingPoint, [&](int n) { return name_of(n, ground); });
    const DcSolver islands(net);
    std::vector<char> tied(static_cast<std::size_t>(net.nodes), 0);
    for (int n = 0; n < net.nodes; ++n) {
        const auto island = static_cast<std::size_t>(islands.island(n));
        if (!islands.connected(n, ground) && !tied[island]) {
            tied[island] = 1;
            out.push_back(fmt::format("rt{} {} 0 1e9", n, spice_node(n)));
        }
    }
    return out;
}

std::optional<double> spice_volts(const Netlist& net, int node, int ground, double amps, std::optional<double> near) {
    auto lines = operating_deck(net, ground);
    if (near) lines.push_back(fmt::format(".nodeset v({})={:.9g}", spice_node(node), *near));
    lines.push_back(fmt::format("itest 0 {} {:.9g}", spice_node(node), amps));
    if (!run(lines, kTight, "op")) return std::nullopt;
    const auto* v = vector_of(spice_node(node));
    if (v == nullptr || v->v_length < 1 || v->v_realdata == nullptr) return std::nullopt;
    return v->v_realdata[0];
}

std::optional<double> spice_volts_of_file(const std::string& text, const std::string& node, const std::string& ground, double amps,
                                          const std::vector<std::string>& floating) {
    std::vector<std::string> lines;
    for (const auto& line : split(text, '\n'))
        if (!line.starts_with(".end")) lines.push_back(line);
    lines.erase(lines.begin()); // its title: the analysis has one of its own
    lines.push_back(fmt::format("vtie {} 0 0", ground));
    int k = 0;
    for (const auto& name : floating) lines.push_back(fmt::format("rtie{} {} 0 1e9", ++k, name));
    lines.push_back(fmt::format("itest 0 {} {:.9g}", node, amps));
    if (!run(lines, kTight, "op")) return std::nullopt;
    const auto* v = vector_of(lowered(node));
    if (v == nullptr || v->v_length < 1 || v->v_realdata == nullptr) return std::nullopt;
    return v->v_realdata[0];
}

std::optional<std::complex<double>> spice_impedance(const Netlist& net, int node, int ground, double hertz) {
    auto lines = spice_lines(net, SpiceUse::JunctionsOff, [&](int n) { return name_of(n, ground); });
    for (int n = 0; n < net.nodes; ++n)
        if (n != ground) lines.push_back(fmt::format("rg{} {} 0 1e12", n, spice_node(n)));
    lines.push_back(fmt::format("itest 0 {} dc 0 ac 1", spice_node(node)));
    if (!run(lines, kTight, fmt::format("ac lin 1 {} {}", hertz, hertz))) return std::nullopt;
    const auto* v = vector_of(spice_node(node));
    if (v == nullptr || v->v_length < 1 || v->v_compdata == nullptr) return std::nullopt;
    return std::complex<double>(v->v_compdata[0].cx_real, v->v_compdata[0].cx_imag);
}

std::optional<SpiceRun> spice_transient(const Netlist& net, const std::vector<Source>& sources, const std::vector<double>& capacitor_volts,
                                        int ground, double seconds, double longest, const std::vector<int>& nodes,
                                        const std::string& options) {
    const auto name = [&](int n) { return name_of(n, ground); };
    auto lines = spice_lines(net, SpiceUse::Full, name, capacitor_volts);
    int k = 0;
    for (const auto& s : sources) {
        ++k;
        lines.push_back(fmt::format("rs{} {} vs{} {:.9g}", k, name(s.plus), k, s.ohms));
        lines.push_back(fmt::format("vs{} vs{} {} dc 0 sin({:.9g} {:.9g} {:.9g} 0 0 {:.9g})", k, k, name(s.minus), s.dc, s.amplitude,
                                    s.hertz > 0 ? s.hertz : 1, s.phase * 180 / std::numbers::pi));
    }
    for (int n = 0; n < net.nodes; ++n)
        if (n != ground) lines.push_back(fmt::format("rg{} {} 0 1e11", n, spice_node(n)));
    std::vector<std::string> vectors;
    for (int n : nodes)
        if (n != ground) vectors.push_back(spice_node(n));
    auto run = spice_transient_of_deck(lines, seconds, longest, vectors, options);
    if (!run) return std::nullopt;
    SpiceRun out{std::move(run->seconds), {}};
    for (int n : nodes)
        if (n == ground)
            out.volts[n].assign(out.seconds.size(), 0.0);
        else
            out.volts[n] = run->values.at(spice_node(n));
    return out;
}

std::optional<DeckRun> spice_transient_of_deck(const std::vector<std::string>& lines, double seconds, double longest,
                                               const std::vector<std::string>& vectors, const std::string& options) {
    if (!run(lines, options, fmt::format("tran {:.9g} {:.9g} 0 {:.9g} uic", longest, seconds, longest))) return std::nullopt;
    const auto read = [&](const std::string& vector, std::vector<double>& into) {
        const auto* v = vector_of(vector);
        if (v == nullptr || v->v_realdata == nullptr) return false;
        into.assign(v->v_realdata, v->v_realdata + v->v_length);
        return v->v_length > 1;
    };
    DeckRun out;
    if (!read("time", out.seconds) || out.seconds.back() < seconds * 0.999) return std::nullopt;
    for (const auto& name : vectors)
        if (!read(name, out.values[name])) return std::nullopt;
    return out;
}

} // namespace ohmo::test
