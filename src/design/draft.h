// SPDX-License-Identifier: GPL-3.0-or-later
// A board while it is being designed: parts go on under what they do, every figure with the sum that it comes from.
#pragma once
#include "board/board.h"
#include "design/supply.h"

#include <initializer_list>
#include <string>
#include <utility>
#include <vector>

namespace ohmo {

/// One sum: what was wanted and what was chosen from the values that exist.
enum class SumKind {
    InputWatts,     ///< wanted W; from: output W, efficiency
    Crest,          ///< V; from: V rms, factor of a doubler
    BulkFarads,     ///< F; from: W, crest V, valley V
    BulkVolts,      ///< V; from: crest V of the highest line
    BleederOhms,    ///< ohm, all in series; from: V at the start, V at the end, s
    FuseAmps,       ///< A; from: W, V rms
    InrushOhms,     ///< ohm; from: crest V, A
    SurgeVolts,     ///< V rms; from: V rms
    VoltsPerTurn,   ///< V; from: largest error of a rail
    PrimaryTurns,   ///< from: reflected V, V per turn
    PeakAmps,       ///< A; from: W, valley V, duty
    PrimaryHenry,   ///< H; from: duty, hertz
    SenseOhms,      ///< ohm; from: A
    SwitchVolts,    ///< V; from: highest V at the drain
    SwitchAmps,     ///< A; from: peak A
    ClampOhms,      ///< ohm; from: clamp V
    SupplyTurns,    ///< from: V wanted
    StartOhms,      ///< ohm in all; from: A
    RectifierVolts, ///< V; from: reverse V
    RectifierAmps,  ///< A; from: A of the rail
    RailFarads,     ///< F; from: ripple V, A
    RailVolts,      ///< V rating; from: V of the rail
    DividerOhms,    ///< ohm of the upper one; from: V of the rail, V of the reference
    SecondaryVolts, ///< V rms of a line transformer; from: V of the rail, V lost on the way
    RegulatorWatts, ///< W burnt in a series regulator; from: V in, A
    ChokeHenry,     ///< H; from: V of the rail, A of ripple
    LimitOhms,      ///< ohm; from: A
};

struct DesignSum {
    SumKind kind;
    std::string of; ///< ref of the part that it chose, or the rail's net; empty: the whole supply
    double wanted = 0, chosen = 0;
    std::vector<double> from; ///< as listed with the kind
};

struct Design {
    Board draft; ///< nets not yet numbered: for make_board
    std::vector<DesignSum> sums;
};

using Pins = std::initializer_list<std::pair<std::string_view, std::string>>;

class Draft {
public:
    Draft(const Supply& supply, const Practice& practice);

    const Supply& supply() const { return m_supply; }
    const Practice& p() const { return m_practice; }

    /// The ref is made from the role: "24 V rectifier" becomes 24V-rectifier, the second of them 24V-rectifier-2. The reference is good
    /// until the next part.
    Part& add(PartKind kind, std::string_view stage, const std::string& role, Pins pins);
    Part& resistor(std::string_view stage, const std::string& role, double ohms, double watts, const std::string& a, const std::string& b);
    Part& capacitor(PartKind kind, std::string_view stage, const std::string& role, double farads, double volts, const std::string& plus,
                    const std::string& minus);
    Part& diode(PartKind kind, std::string_view stage, const std::string& role, double volts, double amps, const std::string& anode,
                const std::string& cathode);
    Part& coil(std::string_view stage, const std::string& role, double henry, double ohms, double amps, const std::string& a,
               const std::string& b);

    /// Notes the sum and gives back what was chosen.
    double sum(SumKind kind, const std::string& of, double wanted, double chosen, std::vector<double> from = {});
    const std::string& net(int rail) const {
        return m_nets[static_cast<std::size_t>(rail)];
    } ///< of a rail: "+24V", the second of them "+24Vb"
    const SupplyRail& rail(int index) const { return m_supply.rails[static_cast<std::size_t>(index)]; }
    std::string word(int rail) const; ///< "24 V"
    int rails() const { return static_cast<int>(m_supply.rails.size()); }
    std::vector<int> own_rails() const; ///< those that come from no other
    Board& board() { return m_design.draft; }
    Design done() && { return std::move(m_design); }

private:
    const Supply& m_supply;
    const Practice& m_practice;
    std::vector<std::string> m_nets;
    Design m_design;
};

std::string rail_net(double volts); ///< "+24V", "-12V", "+3V3"
/// A ref made from what a part does.
std::string ref_of_role(std::string_view role);
std::string letter_volts(double volts, double amps); ///< "650V 7A"
std::string fuse_text(char kind, double amps);       ///< "T1.6A", "F500mA"

} // namespace ohmo
