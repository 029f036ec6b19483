// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/logbook.h"

#include "gui/text.h"
#include "job/bench_line.h"
#include "report/wording.h"

#include <QUndoCommand>

namespace ohmo {
namespace {

class ChangeJob : public QUndoCommand {
public:
    ChangeJob(Session& session, Job before, Job after, const QString& text)
        : QUndoCommand(text), m_session(session), m_before(std::move(before)), m_after(std::move(after)) {}
    void redo() override { m_session.set_job(m_after); }
    void undo() override { m_session.set_job(m_before); }

private:
    Session& m_session;
    Job m_before, m_after; // copies share their text
};

} // namespace

Problems Logbook::log(const Entry& entry) {
    const auto problems = check_entry(m_session.replay().board, m_session.vocabulary(), entry, m_session.job().journal.size());
    if (has_errors(problems)) return problems;
    change(m_session.with(entry), qs(wording::entry(m_session.replay().board, entry)));
    return problems;
}

Problems Logbook::log_line(const std::string& line) {
    const auto entry = parse_bench_line(m_session.bench(), line);
    Problems problems = entry ? log(*entry) : entry.problems();
    std::erase_if(problems, [](const Problem& p) { return p.warning; });
    return problems;
}

int Logbook::last(const std::function<bool(const Entry&)>& matches) const {
    const auto& journal = m_session.job().journal;
    for (int i = static_cast<int>(journal.size()) - 1; i >= 0; --i)
        if (!m_session.replay().retracted[static_cast<std::size_t>(i)] && matches(journal[static_cast<std::size_t>(i)])) return i;
    return -1;
}

void Logbook::retract(int index) {
    Entry e;
    e.act = Do::Retract;
    e.target = index;
    change(m_session.with(e), tr("take back no. %1").arg(index + 1));
}

void Logbook::set_unit(const Unit& unit) { change(m_session.job().with_unit(unit), tr("unit")); }

void Logbook::set_meter(const MeterProfile& meter) { change(m_session.job().with_meter(meter), tr("meter taught")); }

void Logbook::change(const Job& next, const QString& text) { m_undo.push(new ChangeJob(m_session, m_session.job(), next, text)); }

} // namespace ohmo
