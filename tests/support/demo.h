// SPDX-License-Identifier: GPL-3.0-or-later
// The demo jobs, small boards from text, and analyses that are made once a process.
#pragma once
#include "damage/enumerate.h"
#include "job/job.h"
#include "job/pipeline.h"

#include <memory>
#include <string>
#include <vector>

namespace ohmo::test {

Path data();
const JobReader& reader();
std::string demo_text(const std::string& name); ///< "rb6-fresh", "rb6-half-way"
Job demo(const std::string& name);
Job discharged(const std::string& name);                        ///< the demo of that name, nothing said of it yet but that it is discharged
Job foreign(const std::string& name);                           ///< of tests/support/boards: boards that no blueprint resembles
std::vector<std::string> traced_lines(const std::string& name); ///< of the same folder: a board as somebody types it
const Board& demo_board();
const FaultLibrary& library();
std::shared_ptr<const Analysis> analyse(const Job& job); ///< shares scenarios and predictions between calls

/// A board from lines "REF kind value PIN=NET PIN=NET …"; "-" for no value. Aborts when it does not validate.
Board board(const std::vector<std::string>& lines);
Part part(const std::string& line);

/// Index of a part of this board; aborts when missing.
int at(const Board& board, const std::string& ref);
Fault fault(const Board& board, const std::string& text);
std::vector<Fault> faults(const Board& board, const std::vector<std::string>& texts);

Entry read(const std::string& what, const std::string& from, const std::string& to, double value);
Entry read_part(const std::string& what, const std::string& part, double value);
Entry alone(const std::string& what, const std::string& part, double value); ///< read_part() of a lifted part
Entry over(Entry reading);                                                   ///< the same, out of range
Job with_all(Job job, const std::vector<Entry>& entries);
Entry said(const std::string& word); ///< by the customer
/// A reading under power: `what` is volts-dc, volts-ac or ripple.
Entry live(const std::string& what, const std::string& red, const std::string& black, double value, const std::string& powered = "mains");
Entry act(Do what, const std::string& part, const std::string& saw = {});
Entry proved(const std::string& part); ///< new work that is all as it should be

/// What a bench with these faults answers to a reading or a look: what the model predicts, off by a factor; looks find nothing.
Entry answer(const Analysis& analysis, const NextAct& asked, const std::vector<Fault>& real, double factor = 1);

double bad(const Analysis& analysis, const std::string& ref);

/// Ohms as the default meter shows them.
MeterReading ohms(const Board& board, const std::string& red, const std::string& black, const std::vector<Fault>& faults = {},
                  const BoardState& state = {});

} // namespace ohmo::test
