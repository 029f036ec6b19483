// SPDX-License-Identifier: GPL-3.0-or-later
// What an act of the program comes to in the journal.
#pragma once
#include "advice/next_reading.h"
#include "job/job.h"

#include <optional>
#include <string_view>
#include <vector>

namespace ohmo {

/// Whether a reading has the leads where a query puts them.
bool reads_at(const Board& board, const Entry& reading, const Query& query);

/// The entry of a reading, its value left out. `meters`: those that the query counts in.
Entry reading_entry(const Board& board, const std::vector<MeterProfile>& meters, const Query& query);

/// An act as it is written down, its outcome left out.
struct ActEntries {
    std::vector<Entry> before; ///< what comes out or apart first
    Entry asked;
    std::vector<Entry> after; ///< what is put together again
};
ActEntries act_entries(const Board& board, const std::vector<MeterProfile>& meters, const NextAct& act);

/// The job with an act done; `outcome` is its `asked` filled in.
Job with_act(Job job, const ActEntries& act, const Entry& outcome);

} // namespace ohmo
