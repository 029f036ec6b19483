// SPDX-License-Identifier: GPL-3.0-or-later
// One line of text logs anything: "C5 ohm 2.9", "HV 322", "F1 open", "C5 bulged", "lift Q1", "+24 V 1k9", "Q1 D-S short".
#pragma once
#include "job/replay.h"

#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

/// What a line is read against. Made once per board; its state follows the journal.
struct BenchContext {
    Board board;
    Vocabulary vocabulary;
    std::vector<NetId> return_of;    ///< by net: where the black lead goes when only one net is named; -1 when nothing suggests itself
    bool cold = false;               ///< bare numbers are ohms; otherwise volts
    std::string powered;             ///< "" or "mains": goes into voltage readings
    std::vector<std::string> meters; ///< that can be taken in hand
};

/// What a bench has in its drawer: the usual meter, the job's others, those that ship with the program.
std::vector<std::string> meters_at_hand(const Replay& replay);

BenchContext bench_context(const Replay& replay, const Vocabulary& vocabulary);
void set_state(BenchContext& context, const Replay& replay);

/// The entry a line means; its time is left 0. A bare number on nets is volts until the cold readings are unlocked and ohms afterwards; a
/// unit or a word (ohm, V, esr, F, diode, beep) always decides. Errors: Usage, NoSuchPart, NoSuchNet, UnknownPin, UnreadableValue,
/// NegativeValue, SameNetTwice …; `found` is the word that was not understood.
Result<Entry> parse_bench_line(const BenchContext& context, std::string_view line);

/// Words that could stand where the last word of `line` stands, best first, 12 at the most.
std::vector<std::string> complete_bench_line(const BenchContext& context, std::string_view line);

} // namespace ohmo
