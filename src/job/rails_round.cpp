// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/rails_round.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kReach = 3;        // deviations that a sound rail may be off
constexpr double kSisterFactor = 4; // off from its sisters by more: an odd one
constexpr std::size_t kSisters = 3; // fewer do not tell which is odd
constexpr double kShortOhms = 2;    // no rail of a sound board reads so little

double median(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    const std::size_t n = values.size();
    return n % 2 == 1 ? values[n / 2] : (values[n / 2 - 1] + values[n / 2]) / 2;
}

void read_cold(const Analysis& a, RailRow& row) {
    const auto& rail = a.replay.board.rails[static_cast<std::size_t>(row.rail)];
    for (const auto& o : a.replay.evidence.observations) {
        if (o.kind != Seen::Reading || o.query.what != Quantity::Ohms || o.query.alone >= 0) continue;
        if (o.query.red != rail.net_id || o.query.black != rail.return_id) continue;
        row.value = o.value;
        row.value_over = o.over;
    }
}

void judge_alone(RailRow& row) {
    if (!row.value && !row.value_over) return;
    if (row.value_over || row.over)
        row.verdict = row.value_over == row.over ? RailVerdict::Fine : row.value_over ? RailVerdict::High : RailVerdict::Low;
    else
        row.verdict = *row.value < row.low ? RailVerdict::Low : *row.value > row.high ? RailVerdict::High : RailVerdict::Fine;
}

// How far each is off its own healthy figure is compared among them. The middle one of three is not moved by a single odd one.
void judge_among_sisters(std::vector<RailRow>& rows) {
    const auto off = [](const RailRow& r) { return std::log(*r.value / std::sqrt(std::max(r.low, 1e-3) * std::max(r.high, 1e-3))); };
    const auto counts = [](const RailRow& r) { return r.value && *r.value > 0 && !r.value_over && !r.over; };
    std::vector<double> all;
    for (const auto& row : rows)
        if (counts(row)) all.push_back(off(row));
    if (all.size() < kSisters) return;
    const double middle = median(all);
    for (auto& row : rows) {
        if (!counts(row)) continue;
        if (std::fabs(off(row) - middle) > std::log(kSisterFactor))
            row.verdict = RailVerdict::OddOneOut;
        else if (row.verdict != RailVerdict::Fine && *row.value > kShortOhms)
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
            std::tie(row.low, row.high) = rail.between(1 - rail.tolerance, 1 + rail.tolerance);
            for (const auto& [net, volts] : a.replay.live)
                if (net == rail.net) row.value = volts;
        } else {
            const auto sound = a.predictor->predict({Quantity::Ohms, rail.net_id, rail.return_id, -1, a.replay.evidence.state, 0}, {});
            row.over = sound.over;
            row.low = score_value(Quantity::Ohms, sound.x - kReach * sound.sigma);
            row.high = score_value(Quantity::Ohms, sound.x + kReach * sound.sigma);
            read_cold(a, row);
        }
        judge_alone(row);
        out.push_back(row);
    }
    if (!live) judge_among_sisters(out);
    return out;
}

} // namespace ohmo
