// SPDX-License-Identifier: GPL-3.0-or-later
// What of a board is joined to the mains, by its parts: a transformer, an optocoupler, a relay and a Y capacitor part the sides.
#pragma once
#include "board/board.h"

namespace ohmo {

/// Nets that a part joins, in groups: a transformer's windings one by one.
std::vector<std::vector<NetId>> joined_nets(const Part& part);

/// What direct or alternating current passes on its way: contacts, fuses, switches, coils.
bool hands_on(PartKind kind);

/// By net: these and what hangs on them by what hands current on, and by rectifiers where `rectifies`; a rail's return ends it.
std::vector<char> nets_along(const Board& board, const std::vector<NetId>& from, bool rectifies);

/// By net: reached from the inlet without crossing a barrier. All false on a board without mains, or without a part of stage "mains-in".
std::vector<char> nets_on_mains(const Board& board);

/// What rectifies and stores behind a transformer is of its outputs, whatever it was called: "rectify" becomes "rectify-out" there, and
/// "bulk" "smooth". As far as the wires tell.
void settle_stages(Board& board);

/// A board on mains that rectifies them before any transformer, as far as its wires tell: somewhere it keeps them. Needs no stages. Also
/// true of a board on mains with rectifiers and no transformer.
bool rectifies_mains(const Board& board);

/// A board on mains without isolation: some rail, or its return, is on the mains side. Everything on it can kill.
bool rails_on_mains(const Board& board);

} // namespace ohmo
