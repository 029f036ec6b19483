// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/rails_round.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr std::size_t kSisters = 3; // fewer do not tell which is odd

double median(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    const std::size_t n = values.size();
    return n % 2 == 1 ? values[n / 2] : (values[n / 2 - 1] + values[n / 2]) / 2;
}

void read_cold(const Analysis& a, RailRow& row) {
    const auto& rail = a.replay.board.rails[static_cast<std::size_t>(row.rail)];
    for (const auto& o : a.replay.evidence.observations) {
        if (o.kind != Seen::Reading || o.query.what != Quantity::Ohms || o.query.alone >= 0) continue;
        if (o.query.red < 0 || o.query.black < 0) continue;
        const auto side = [&](NetId net) { return a.replay.rail_sides[static_cast<std::size_t>(net)]; };
        if (side(o.query.red) != rail.net_id || side(o.query.black) != rail.return_id) continue;
        row.value = o.value;
        row.value_over = o.over;
    }
}

void judge_alone(RailRow& row) {
    if (!row.value && !row.value_over) return;
    const Held against = held(row.sound, row.value.value_or(0), row.value_over);
    row.verdict = against == Held::Fits ? RailVerdict::Fine : against == Held::Low ? RailVerdict::Low : RailVerdict::High;
}

// How far each is off its own healthy figure is compared among them. The middle one of three is not moved by a single odd one.
void judge_among_sisters(const Practice& p, std::vector<RailRow>& rows) {
    const auto off = [](const RailRow& r) {
        return std::log(*r.value / std::sqrt(std::max(r.sound.low, 1e-3) * std::max(r.sound.high, 1e-3)));
    };
    const auto counts = [](const RailRow& r) { return r.value && *r.value > 0 && !r.value_over && !r.sound.over; };
    std::vector<double> all;
    for (const auto& row : rows)
        if (counts(row)) all.push_back(off(row));
    if (all.size() < kSisters) return;
    const double middle = median(all);
    for (auto& row : rows) {
        if (!counts(row)) continue;
        if (std::fabs(off(row) - middle) > std::log(p.rail_sister_factor))
            row.verdict = RailVerdict::OddOneOut;
        else if (row.verdict != RailVerdict::Fine && *row.value > p.sound_rail_ohms)
            row.verdict = RailVerdict::Fine; // as its sisters
    }
}

} // namespace

std::vector<RailRow> rails_round(const Analysis& a, bool live) {
    std::vector<RailRow> out;
    const auto& board = a.replay.board;
    for (int i = 0; i < static_cast<int>(board.rails.size()); ++i) {
        const auto& rail = board.rails[static_cast<std::size_t>(i)];
        if (rail.net_id < 0 || rail.return_id < 0) continue;
        RailRow row;
        row.rail = i;
        if (live) {
            std::tie(row.sound.low, row.sound.high) = rail.between(1 - rail.tolerance, 1 + rail.tolerance);
            for (const auto& [net, volts] : a.replay.live)
                if (net == rail.net) row.value = volts;
        } else {
            row.sound = shown_of(*a.predictor, {Quantity::Ohms, rail.net_id, rail.return_id, -1, a.replay.evidence.state, 0}, {},
                                 board.practice().rail_reach);
            read_cold(a, row);
        }
        judge_alone(row);
        out.push_back(row);
    }
    if (!live) judge_among_sisters(board.practice(), out);
    return out;
}

} // namespace ohmo
