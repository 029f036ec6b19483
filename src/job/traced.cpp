// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/traced.h"

#include "board/conventions.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo {
namespace {

bool edits_board(const Entry& entry) { return entry.act == Do::Trace || entry.act == Do::Recognise; }

Result<Board> numbered(Board draft) {
    auto made = make_board(std::move(draft));
    if (!made) return made.problems();
    fill_stages(made->board);
    return std::move(made->board);
}

// The draft with all steps of one entry, or nothing where one does not fit: half an entry would be none.
Result<EditedBoard> with_entry(Board draft, const std::vector<BoardEdit>& edits) {
    EditedBoard out{std::move(draft), {}};
    for (std::size_t i = 0; i < edits.size(); ++i) {
        auto next = apply_edit(std::move(out.board), edits[i]);
        if (!next) {
            Problems problems = next.problems();
            if (edits.size() > 1)
                for (auto& p : problems) p.place = fmt::format("/steps/{}{}", i, p.place);
            return problems;
        }
        out.board = std::move(next->board);
        const auto follow = [](std::map<std::string, std::string>& all, const std::map<std::string, std::string>& more) {
            for (auto& [from, to] : all)
                if (const auto at = more.find(to); at != more.end()) to = at->second;
            all.insert(more.begin(), more.end());
        };
        follow(out.renames.refs, next->renames.refs);
        follow(out.renames.nets, next->renames.nets);
    }
    return out;
}

// What a name of an earlier time is called now.
class NamesNow {
public:
    void before(const Renames& step) {
        const auto one = [](std::map<std::string, std::string>& now, const std::map<std::string, std::string>& step_names) {
            std::map<std::string, std::string> older;
            for (const auto& [from, to] : step_names) older[from] = now.contains(to) ? now.at(to) : to;
            for (auto& [from, to] : older) now[from] = to;
        };
        one(m_refs, step.refs);
        one(m_nets, step.nets);
    }
    void rename(Entry& e) const {
        const auto swap = [](const std::map<std::string, std::string>& names, std::string& name) {
            if (const auto at = names.find(name); at != names.end()) name = at->second;
        };
        swap(m_refs, e.part);
        swap(m_nets, e.from);
        swap(m_nets, e.to);
    }

private:
    std::map<std::string, std::string> m_refs, m_nets;
};

} // namespace

Entry trace_entry(std::vector<BoardEdit> edits) {
    Entry e;
    e.act = Do::Trace;
    e.edits = std::move(edits);
    return e;
}

std::vector<BoardEdit> edits_of(const Entry& entry) {
    if (entry.act == Do::Trace) return entry.edits;
    if (entry.act != Do::Recognise) return {};
    PartEdit e;
    e.ref = entry.part;
    if (!entry.ref.empty()) e.new_ref = entry.ref;
    if (!entry.value_text.empty()) e.value = entry.value_text;
    e.volts = entry.volts;
    e.amps = entry.amps;
    e.watts = entry.watts;
    return {e};
}

std::vector<char> retractions(const std::vector<Entry>& journal, std::size_t upto) {
    std::vector<char> gone(journal.size(), 0);
    for (std::size_t i = std::min(upto, journal.size()); i-- > 0;) {
        const auto& e = journal[i];
        if (e.act == Do::Retract && !gone[i] && e.target >= 0 && e.target < static_cast<int>(i))
            gone[static_cast<std::size_t>(e.target)] = 1;
    }
    return gone;
}

Job traced(const Job& job, const std::vector<char>& retracted) {
    if (std::none_of(job.journal.begin(), job.journal.end(), edits_board)) return job;
    Job out = job;
    std::vector<Renames> renames(job.journal.size());
    bool any = false;
    for (std::size_t i = 0; i < job.journal.size(); ++i) {
        if (retracted[i] || !edits_board(job.journal[i])) continue;
        auto next = with_entry(out.board, edits_of(job.journal[i]));
        if (!next) continue;
        out.board = std::move(next->board);
        renames[i] = std::move(next->renames);
        any = true;
    }
    if (!any) return job;
    auto made = numbered(std::move(out.board));
    if (!made) return job; // every step was checked as it came
    out.board = std::move(*made);
    out.has_board = out.has_board || !out.board.parts.empty();
    NamesNow now;
    for (std::size_t i = job.journal.size(); i-- > 0;) {
        now.rename(out.journal[i]);
        now.before(renames[i]);
    }
    return out;
}

const Board& BoardThen::board() {
    if (!m_fresh)
        if (auto made = numbered(m_draft)) m_board = std::move(*made);
    m_fresh = true;
    return m_board;
}

void BoardThen::next(const Entry& entry, std::size_t i) {
    if (entry.act == Do::Retract && entry.target >= 0 && static_cast<std::size_t>(entry.target) < i) {
        const Do was = m_job.journal[static_cast<std::size_t>(entry.target)].act;
        if (was == Do::Trace || was == Do::Recognise || was == Do::Retract) rebuild(i + 1);
    }
    if (!edits_board(entry)) return;
    auto edited = with_entry(m_draft, edits_of(entry));
    if (!edited) return;
    m_draft = std::move(edited->board);
    m_fresh = false;
}

void BoardThen::rebuild(std::size_t upto) {
    const auto gone = retractions(m_job.journal, upto);
    m_draft = m_job.board;
    for (std::size_t i = 0; i < upto; ++i)
        if (!gone[i] && edits_board(m_job.journal[i]))
            if (auto next = with_entry(m_draft, edits_of(m_job.journal[i]))) m_draft = std::move(next->board);
    m_fresh = false;
}

Result<Board> with_edits(const Board& board, const std::vector<BoardEdit>& edits) {
    auto edited = with_entry(board, edits);
    if (!edited) return edited.problems();
    return numbered(std::move(edited->board));
}

} // namespace ohmo
