// SPDX-License-Identifier: GPL-3.0-or-later
// What families share, from the inlet to the rails. Each block puts its parts on the draft and notes its sums.
#pragma once
#include "design/draft.h"

#include <string>
#include <utility>

namespace ohmo {

/// The way in of a switching supply, as far as what stores.
struct Entry {
    std::string high = "HV", ground = "PGND", middle; ///< nets; `middle` between stacked capacitors, else empty
    double crest = 0, highest = 0, valley = 0;        ///< V across what stores: nominal, on the highest line, at the end of a valley
    double watts = 0;                                 ///< drawn from it at full load
};
/// Inlet, switch, fuse, surge absorber, filters, inrush limiter, bridge, bulk capacitors with bleeders; of direct volts inlet, fuse,
/// suppressor, capacitors.
Entry add_entry(Draft& d, bool stacked = false);

/// Inlet, switch, fuse and surge absorber on the mains; `earth`: with an earth contact. Gives the line's net behind the fuse; the other is
/// N.
std::string add_line_entry(Draft& d, const std::string& inlet_role, double watts, bool earth = false);

/// Line capacitors and common-mode chokes behind `line`, capacitors to earth. Gives line and neutral behind them.
std::pair<std::string, std::string> add_line_filters(Draft& d, const std::string& line, double watts);

/// Start-up resistors, supply capacitor, bypass, diode and resistor from the auxiliary winding at `aux`.
void add_controller_feed(Draft& d, const Entry& entry, const std::string& aux);

/// Reservoir on `raw`, behind a choke or not the rail: pi filter, output capacitor, bypass. `hertz` of the ripple; `choke` where the
/// inductor is part of the converter.
struct Smoothing {
    double hertz = 0, peak_share = 2; ///< crest of the rectifier's current over the rail's
    bool choke = false;
};
void add_smoothing(Draft& d, int rail, const std::string& raw, const Smoothing& how);

/// Rectifier of a winding with `reverse` volts across it when it blocks: a Schottky where it may be.
Part& add_rectifier(Draft& d, int rail, const std::string& role, double reverse, const std::string& from, const std::string& to);

/// Shunt reference, divider and optocoupler that hold `rail`; the optocoupler pulls `pin` of the controller to `ground`.
void add_feedback(Draft& d, int rail, const std::string& pin, const std::string& ground);
/// The rail that a supply is held by: the lowest positive one of its own.
int held_rail(const Draft& d);

/// Rails regulated down from others: a series regulator, or a converter chip where it would burn too much.
void add_post_regulators(Draft& d);
void add_rail_guards(Draft& d); ///< clamps, minimum loads, the lamp
void add_rail_ends(Draft& d);   ///< the same, then connectors and loads of all rails

std::string raw_net(const Draft& d, int rail); ///< behind the rectifier: "+24A"
/// Winding resistance that loses the usual share of the watts.
double winding_ohms(const Draft& d, double watts, double rms_amps);
double two_figures(double value);

} // namespace ohmo
