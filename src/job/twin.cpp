// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/twin.h"

#include "readings/quantities.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

constexpr double kFarApart = 99; // one of the two is out of range

TwinPlace place_of(const Replay& replay, const Query& q) {
    const Board& board = replay.board;
    TwinPlace out;
    out.what = q.what;
    const auto end = [&](NetId net) { return q.alone >= 0 ? board.part(q.alone).role_on(net) : board.net_name(net); };
    out.red = end(q.red);
    out.black = end(q.black);
    const bool turns = q.what == Quantity::Farads || q.what == Quantity::Esr;
    if (turns && out.black < out.red) std::swap(out.red, out.black);
    if (q.alone >= 0) {
        out.alone = board.part(q.alone).ref;
        return out; // whatever else is out, it is on the bench alone
    }
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if ((q.state.is_lifted(i) || q.state.is_pulled(i)) && !replay.evidence.absent.contains(i)) out.out.push_back(board.part(i).ref);
    std::sort(out.out.begin(), out.out.end());
    return out;
}

std::map<TwinPlace, TwinReading> readings_of(const Replay& replay) {
    std::map<TwinPlace, TwinReading> out;
    for (const auto& o : replay.evidence.observations)
        if (o.kind == Seen::Reading && o.query.red >= 0 && o.query.black >= 0) out[place_of(replay, o.query)] = {o.entry, o.value, o.over};
    return out;
}

// How much two good units may differ, on the axis that readings are compared on.
double usual_difference(const Practice& p, Quantity what) {
    if (!quantity_info(what).logarithmic) return p.twin_volts;
    return std::log(what == Quantity::Esr ? p.twin_esr_factor : p.twin_factor);
}

void judge(const Practice& p, TwinRow& row) {
    if (!row.here || !row.there) {
        row.like = row.here ? Like::OnlyHere : Like::OnlyThere;
        return;
    }
    if (row.here->over || row.there->over)
        row.off = row.here->over == row.there->over ? 0 : row.here->over ? kFarApart : -kFarApart;
    else
        row.off = (score_axis(row.place.what, row.here->value) - score_axis(row.place.what, row.there->value)) /
                  usual_difference(p, row.place.what);
    row.like = row.off > 1 ? Like::Higher : row.off < -1 ? Like::Lower : Like::Same;
}

int order_of(Like like) {
    return like == Like::Higher || like == Like::Lower ? 0 : like == Like::OnlyThere ? 1 : like == Like::Same ? 2 : 3;
}

} // namespace

std::vector<TwinRow> compare_with_twin(const Replay& here, const Replay& there) {
    std::map<TwinPlace, TwinRow> rows;
    for (const auto& [place, reading] : readings_of(here)) rows[place].here = reading;
    for (const auto& [place, reading] : readings_of(there)) rows[place].there = reading;
    std::vector<TwinRow> out;
    for (auto& [place, row] : rows) {
        row.place = place;
        judge(here.board.practice(), row);
        out.push_back(std::move(row));
    }
    std::stable_sort(out.begin(), out.end(), [](const TwinRow& a, const TwinRow& b) {
        const int first = order_of(a.like), second = order_of(b.like);
        return first != second ? first < second : std::fabs(a.off) > std::fabs(b.off);
    });
    return out;
}

} // namespace ohmo
