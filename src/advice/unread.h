// SPDX-License-Identifier: GPL-3.0-or-later
// What is still open, and what was not read by itself and should have been before it is believed. Parts are indices into Board::parts.
#pragma once
#include "posterior/assess.h"
#include "readings/evidence.h"

#include <map>
#include <vector>

namespace ohmo {

/// Neither bad nor good for certain, less certain where it would take new parts along; and of those that are unlikely each, the likeliest,
/// where together they hide too much.
std::vector<int> open_parts(const Assessment& assessment, const Practice& practice);

/// The same quantity at the same pins of the part that `q` reads alone, since it was put in.
bool read_alone(const Evidence& evidence, const Query& q);

/// Since it was put in, with both leads on its own pins; of a transistor on those that carry its current, of a bridge on each leg.
bool read_across(const Board& board, const Evidence& evidence, int part);

/// Nothing but looks speaks against it, such as parts that work have too now and then: leaking, bulged, brown, and no reading.
bool only_looks_bad(const Practice& practice, const Evidence& evidence, const PartBelief& belief);

/// Ohms between two of its places while it was out.
bool read_without(const Board& board, const Evidence& evidence, int part);

/// Another one that may be shorted stands between the same two nets, and was not read by itself either: what is read there speaks of the
/// place, and which of them it is was only weighed.
bool shares_its_place(const Board& board, const Assessment& assessment, const Evidence& evidence, int part);

/// By part that was not read across: what is open, is to be replaced, and may have been opened by a short of it, likeliest where there are
/// several. Nothing for what a part that is to be replaced as well explains.
std::map<int, int> may_have_blown(const Board& board, const Assessment& assessment, const Evidence& evidence);

/// Parts that were not read across and would bring about what the unit was brought in for, where what is to be replaced hardly does: a
/// capacitor that dried out makes no bang. Empty where all of the complaint is accounted for, or nothing is to be replaced.
std::vector<int> would_account(const Board& board, const Assessment& assessment, const Evidence& evidence);

} // namespace ohmo
