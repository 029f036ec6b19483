// SPDX-License-Identifier: GPL-3.0-or-later
// Method: one heat capacity a part, explicit Euler at the steps of the electrical run, which are short against the parts' time constants
// (milliseconds for a filament, seconds for a thermistor). Filament: resistivity of tungsten as T^1.2 and radiation as T^4, which together
// give the handbook's I ~ V^0.55 to V^0.6 (from memory). Heat capacities are typical, common practice, no source.
#include "circuit/thermal.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kRoom = 298, kFilamentKelvin = 2700, kHotThermistorKelvin = 440;
constexpr double kWorthChanging = 0.02;

} // namespace

double ThermalPart::ohms() const {
    switch (law) {
    case Law::Ntc:
        return ohms25 * std::exp(beta * (1 / kelvin - 1 / kRoom));
    case Law::Ptc:
        return kelvin <= knee ? ohms25 : ohms25 * std::pow(10, std::min((kelvin - knee) / 20, 5.0));
    case Law::Filament:
        return ohms25 * std::pow(kelvin / kRoom, 1.2);
    }
    return ohms25;
}

double ThermalPart::cooling_watts() const {
    if (law == Law::Filament) return radiated * (std::pow(kelvin, 4) - std::pow(kRoom, 4));
    return watts_per_kelvin * (kelvin - kRoom);
}

ThermalPart inrush_thermistor(std::size_t resistor, double ohms25, double amps) {
    ThermalPart t;
    t.resistor = resistor;
    t.ohms25 = ohms25;
    ThermalPart hot = t;
    hot.kelvin = kHotThermistorKelvin;
    t.watts_per_kelvin = amps * amps * hot.ohms() / (kHotThermistorKelvin - kRoom);
    t.joules_per_kelvin = t.watts_per_kelvin * 40; // about forty seconds to cool
    return t;
}

ThermalPart filament_lamp(std::size_t resistor, double watts, double volts) {
    ThermalPart t;
    t.law = ThermalPart::Law::Filament;
    t.resistor = resistor;
    t.ohms25 = volts * volts / watts / std::pow(kFilamentKelvin / kRoom, 1.2);
    t.radiated = watts / (std::pow(kFilamentKelvin, 4) - std::pow(kRoom, 4));
    t.joules_per_kelvin = watts * 3e-5; // a tenth of a second from cold at its rating
    return t;
}

ThermalParts::ThermalParts(Transient& run, std::vector<ThermalPart> parts) : m_run(run), m_parts(std::move(parts)) {
    for (const auto& p : m_parts) m_run.set_ohms(p.resistor, p.ohms());
}

void ThermalParts::after_step(double dt) {
    for (auto& p : m_parts) {
        const double amps = m_run.resistor_amps(p.resistor), ohms = m_run.netlist().resistors[p.resistor].ohms;
        const double gain = (amps * amps * ohms - p.cooling_watts()) * dt / p.joules_per_kelvin;
        p.kelvin = std::clamp(p.kelvin + std::clamp(gain, -0.1 * p.kelvin, 0.1 * p.kelvin), kRoom, 3600.0);
        if (std::fabs(p.ohms() / ohms - 1) > kWorthChanging) m_run.set_ohms(p.resistor, p.ohms());
    }
}

LampStart lamp_start(double volts_ac, double hertz, double lamp_watts, double farads, double load_ohms, double seconds) {
    enum : int { kLive, kLamp, kNeutral, kPlus, kMinus, kNodes };
    Netlist net;
    net.nodes = kNodes;
    net.resistors = {{kLive, kLamp, 100, 0, 0}, {kPlus, kMinus, load_ohms, 0, 1}};
    for (auto [a, k] : {std::pair(kLamp, kPlus), std::pair(kNeutral, kPlus), std::pair(kMinus, kLamp), std::pair(kMinus, kNeutral)})
        net.junctions.push_back({a, k, 5e-9, 1.9, 0, 0, 2, 0.02});
    net.capacitors.push_back({kPlus, kMinus, farads, 0.05, 0, 0, 3});
    TransientOptions options;
    options.first_step = 1e-6;
    options.shortest_step = 1e-8;
    options.longest_step = 0.02 / hertz;
    options.relative = 5e-3;
    options.volts = options.amps = 0.1;
    Transient run(net, {{kLive, kNeutral, 0.5, 0, std::numbers::sqrt2 * volts_ac, hertz, 0}}, options);
    ThermalParts heat(run, {filament_lamp(0, lamp_watts, volts_ac)});
    LampStart out;
    double joules = 0, window = 0;
    while (run.now() < seconds) {
        const double then = run.now();
        if (!run.step(seconds)) break;
        const double dt = run.now() - then, amps = run.resistor_amps(0);
        joules += amps * amps * run.netlist().resistors[0].ohms * dt;
        heat.after_step(dt);
        if (run.now() - window < 0.5 / hertz) continue;
        const double watts = joules / (run.now() - window);
        out.brightest_watts = std::max(out.brightest_watts, watts);
        out.settled_watts = watts;
        if (watts > lamp_watts / 2) out.seconds_bright += run.now() - window;
        joules = 0;
        window = run.now();
    }
    out.bulk_volts = run.state().capacitor_volts[0];
    return out;
}

} // namespace ohmo
