// SPDX-License-Identifier: GPL-3.0-or-later
// Sentences made from the core's values. The only layer below the interface that returns text for people.
#pragma once
#include "base/marking.h"
#include "board/open_ends.h"
#include "board/value_reading.h"
#include "job/pipeline.h"
#include "job/spice_import.h"

#include <string>
#include <string_view>

namespace ohmo::wording {

std::string problem(const Problem& problem);               ///< what, where, how to mend; one line
std::string part_title(const Part& part);                  ///< "C5 · 100 µF 400 V"
std::string part_name(const Part& part);                   ///< its ref, or what it does where nobody has seen it yet
std::string part_role(const Part& part);                   ///< "main (bulk) capacitor", else the kind
std::string fault(const Board& board, const Fault& fault); ///< "C5 dried out"
std::string mode(PartKind kind, FaultMode mode);           ///< "dried out"
std::string step(const Board& board, const Step& step);    ///< "took 0.94 J, stands about 0.25 J: 3.8 times"
/// What the unit would do if it were switched on as it is, in two or three short sentences.
std::string under_power(const Board& board, const Expectation& expectation);
std::string quantity(Quantity what); ///< "Ohms", "ESR" …
std::string unit(Quantity what);
/// "ohms with few volts": those that ship with the program in words, the job's own by their names.
std::string meter(const std::string& id);
/// "in hand: ohms with few volts, leads 200 mΩ"; what nobody said is left out, and empty when that is all.
std::string in_hand(const std::string& meter_id, std::optional<double> leads);
std::string place(const Board& board, const Query& query, int part); ///< "across C5 (red on +, black on −)"
std::string reading(Quantity what, double value, bool over, bool rising);
/// Why this part is worth tracing, or empty.
std::string trace(const Analysis& analysis);
std::string how_to_find(const Board& board, int part); ///< on a board that nobody has traced: its body, and where its tracks go
std::string act_title(const Board& board, const NextAct& act);
/// Why it is asked whether a part is out, and how either answer is logged; empty for other acts.
std::string assurance(const Board& board, const NextAct& act);
std::string band_range(const NextAct& act, const Band& band); ///< "over range", "burnt", "1.2 kΩ … 3 kΩ", "below 2.4 V"
/// What to mind while volts are read on the unit as it is now.
std::string live_caution(const Analysis& analysis);
std::string band_label(const Board& board, const NextAct& act, const Band& band); ///< of a pull: on which side of the connector the load is
/// Of a hunt among several suspects: which of them each outcome leaves. Empty where the bands say all there is.
std::string parts_suspects(const Board& board, const NextAct& act);
std::string stop(StopReason reason);
std::string proof(Proof proof);                                             ///< "own reading": for a list
std::string proof_short(Proof proof);                                       ///< "read": beside the odds
std::string proof_in_full(Proof proof);                                     ///< what a part's odds rest on, as a sentence
std::string learned(const Board& board, const Learned& learned);            ///< "R12: 14.2 kΩ rather than 10 kΩ"
std::string acquitted(const Assessment& assessment);                        ///< how much may be left among the parts taken for good
std::string looked_over(const Assessment& assessment);                      ///< what is taken of parts that nobody spoke of; empty: nothing
std::string entry(const Board& board, const Entry& entry);                  ///< short, for a chip: "C5 ESR 1.90 Ω"
std::string edits(const Board& board, const std::vector<BoardEdit>& edits); ///< "found R12 resistor 4.7 kΩ: 1 on HV, 2 on VCC"
std::string ignored(const IgnoredLine& line);                          ///< of a netlist: "line 12, V1 in 0 5: a source, the bench supplies"
std::string open_end(const Board& board, const OpenEnd& end);          ///< what a traced board lacks: "where does R12 pin 2 go?"
std::string value_reading(PartKind kind, const ValueReading& reading); ///< "4.7 kΩ, three digits"
std::string understood(const Board& board,
                       const Entry& entry); ///< what a bench line means, in full: "resistance across C5 = 2.90 Ω, in circuit, cold"
std::string lock(const Board& board, const Lock& lock);

/// "Beep from + of C5 to R3.1"; "Look at C5: stripe at −". What to do to prove new work.
std::string work_check(const Board& board, const ReworkCheck& check);
/// "8.2 kΩ … 12 kΩ when all is well; otherwise: lifted pad at 1, 10 times its value".
std::string work_tells(const Board& board, const ReworkCheck& check);
std::string ladder_step(const LadderStep& step);   ///< title
std::string ladder_detail(const LadderStep& step); ///< settings in words
std::string figure_name(const Figure& figure);
std::string replace_reason(const Board& board, const PlanLine& line);
std::string rule(const RuleCheck& check); ///< "400 V, needs 400 V"
std::string rule_title(Rule rule);
std::string marking(const MarkingScheme scheme);
std::string outcome(std::string_view id); ///< sign-off outcomes

} // namespace ohmo::wording
