// SPDX-License-Identifier: GPL-3.0-or-later
// The board as tracing has made it, and the journal in the names of today.
#pragma once
#include "job/job.h"

#include <vector>

namespace ohmo {

/// The entry that holds these steps; its time is left 0.
Entry trace_entry(std::vector<BoardEdit> edits);

/// The steps of an entry: those it holds (trace), or what was recognised.
std::vector<BoardEdit> edits_of(const Entry& entry);

/// Entries that are taken back, by journal index; a retract can be taken back itself. `upto`: only entries before this one count.
std::vector<char> retractions(const std::vector<Entry>& journal, std::size_t upto);

/// The job once everything that was traced is known: whatever was learned of the board was always so, also for what was read before.
/// Entries name parts and nets as they are called now; those about a part that is gone name none. A step that does not fit any more,
/// because an earlier one was taken back, is left out.
Job traced(const Job& job, const std::vector<char>& retracted);

/// Follows the journal and knows the board as it was when each entry was written.
class BoardThen {
public:
    explicit BoardThen(const Job& job) : m_job(job), m_draft(job.board), m_board(job.board) {}
    const Board& board(); ///< before the next entry
    void next(const Entry& entry, std::size_t i);

private:
    void rebuild(std::size_t upto);

    const Job& m_job;
    Board m_draft, m_board;
    bool m_fresh = true; ///< m_board is m_draft, numbered
};

/// The board with these steps, numbered. Errors: those of apply_edit and make_board, places relative to the entry.
Result<Board> with_edits(const Board& board, const std::vector<BoardEdit>& edits);

} // namespace ohmo
