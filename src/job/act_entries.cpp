// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/act_entries.h"

#include "job/replay.h"
#include "readings/quantities.h"

#include <algorithm>

namespace ohmo {
namespace {

Entry on_part(Do act, const Board& board, int part) {
    Entry e;
    e.act = act;
    e.part = board.part(part).ref;
    return e;
}

Do done(Act act) {
    switch (act) {
    case Act::Look:
        return Do::Look;
    case Act::Substitute:
        return Do::Substitute;
    case Act::Cool:
        return Do::Cool;
    case Act::Read:
    case Act::Pull:
    case Act::Assure:
        break;
    }
    return Do::Read;
}

} // namespace

bool reads_at(const Board& board, const Entry& reading, const Query& query) {
    if (reading.act != Do::Read || reading.what != quantity_name(query.what)) return false;
    const Leads leads = leads_of(board, reading);
    return leads.red >= 0 && leads.red == query.red && leads.black == query.black;
}

Entry reading_entry(const Board& board, const std::vector<MeterProfile>& meters, const Query& query) {
    Entry e;
    e.act = Do::Read;
    e.what = quantity_name(query.what);
    if (under_power(query.what)) e.powered = "mains";
    if (query.meter > 0) e.meter = meters[static_cast<std::size_t>(query.meter)].id;
    if (query.alone < 0) {
        e.from = board.net_name(query.red);
        e.to = board.net_name(query.black);
        return e;
    }
    const Part& part = board.part(query.alone);
    e.part = part.ref;
    e.lifted = true;
    e.pins = {part.role_on(query.red), part.role_on(query.black)};
    return e;
}

ActEntries act_entries(const Board& board, const std::vector<MeterProfile>& meters, const NextAct& act) {
    ActEntries out;
    if (act.act == Act::Assure) {
        out.asked = on_part(act.query.state.is_pulled(act.part) ? Do::Pull : Do::Lift, board, act.part);
        return out;
    }
    if (act.act != Act::Read && act.act != Act::Pull) {
        out.asked = on_part(done(act.act), board, act.part);
        return out;
    }
    out.asked = reading_entry(board, meters, act.query);
    if (act.act == Act::Pull) {
        out.before.push_back(on_part(Do::Pull, board, act.part));
        out.after.push_back(on_part(Do::Plug, board, act.part));
    } else if (act.query.alone < 0) { // what is read alone says so itself
        for (int part : act.to_lift) out.before.push_back(on_part(Do::Lift, board, part));
    }
    return out;
}

Job with_act(Job job, const ActEntries& act, const Entry& outcome) {
    for (const auto& e : act.before) job = job.with(e);
    job = job.with(outcome);
    for (const auto& e : act.after) job = job.with(e);
    return job;
}

} // namespace ohmo
