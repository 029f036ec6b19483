// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/outside.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ohmo {
namespace {

constexpr double kLeast = 1e-9; // chance of what the answers leave of the board

double entropy(const std::array<double, kOutsides + 1>& p) {
    const double sum = std::accumulate(p.begin(), p.end(), 0.0);
    double bits = 0;
    for (double x : p)
        if (x > 0) bits -= x / sum * std::log2(x / sum);
    return bits;
}

} // namespace

std::string_view outside_name(Outside cause) {
    static constexpr std::array<std::string_view, kOutsides> names = {"feed", "adapter", "load"};
    return names[static_cast<std::size_t>(cause)];
}

const std::vector<OutsideCheck>& outside_checks() {
    static const std::vector<OutsideCheck> all = {
        {"socket", {"live", "dead"}, true, false, &Practice::minutes_socket},
        {"plug-fuse", {"whole", "blown"}, true, false, &Practice::minutes_plug_fuse},
        {"lead-live", {"through", "open"}, true, false, &Practice::minutes_core},
        {"lead-neutral", {"through", "open"}, true, false, &Practice::minutes_core},
        {"lead-earth", {"through", "open"}, true, false, &Practice::minutes_core},
        {"between-cores", {"clear", "joined"}, true, false, &Practice::minutes_core},
        {"adapter",
         {"right", "dead", "weak", "ac-for-dc", "dc-for-ac", "reversed", "too-many-volts", "too-few-volts"},
         false,
         true,
         &Practice::minutes_adapter},
        {"load-off", {"same", "comes-up"}, false, false, &Practice::minutes_load_off},
        {"other-supply", {"works", "same"}, false, false, &Practice::minutes_other_supply}};
    return all;
}

const OutsideCheck* outside_check(std::string_view id) {
    const auto& all = outside_checks();
    const auto at = std::find_if(all.begin(), all.end(), [&](const OutsideCheck& c) { return c.id == id; });
    return at == all.end() ? nullptr : &*at;
}

std::string_view history_told(std::string_view answer) {
    if (answer == "reversed") return "reversed-polarity";
    return answer == "ac-for-dc" || answer == "dc-for-ac" || answer == "too-many-volts" ? "wrong-adapter" : "";
}

bool asked_of(const OutsideCheck& check, const Board& board) { return (!check.mains || board.mains) && (!check.adapter || !board.mains); }

AnswerChances answer_chances(const Practice& practice, std::string_view check, std::string_view answer) {
    const auto at = practice.outside.find(fmt::format("{} {}", check, answer));
    if (at == practice.outside.end()) return {{1, 1, 1}, 1, 1, 1};
    const auto& row = at->second;
    return {{row[0], row[1], row[2]}, row[3], row[4], row[5]};
}

OutsideOdds::OutsideOdds(const Board& board, double itself, double made_up, double unfed)
    : m_practice(board.practice()), m_itself(made_up * itself) {
    m_cause = {board.mains ? unfed * m_practice.outside_feed : 0, board.mains ? 0 : m_practice.outside_adapter, m_practice.outside_load};
    for (double& cause : m_cause) cause *= made_up;
}

void OutsideOdds::hear(std::string_view check, std::string_view answer) {
    const AnswerChances chances = answer_chances(m_practice, check, answer);
    for (std::size_t c = 0; c < kOutsides; ++c) m_cause[c] *= chances.outside[c];
    m_itself *= chances.itself;
    m_board *= chances.board;
    m_shorting *= chances.shorting;
}

double OutsideOdds::weight(Outside cause) const {
    return m_cause[static_cast<std::size_t>(cause)] / std::max({m_board, m_shorting, kLeast});
}

double OutsideOdds::all() const { return weight(Outside::Feed) + weight(Outside::Adapter) + weight(Outside::Load); }

double OutsideOdds::itself() const {
    const double board = std::max(m_board, m_shorting);
    return std::clamp(m_itself / (m_itself + (1 - m_itself) * board), 1e-6, 1 - 1e-6);
}

double OutsideOdds::board_factor(bool shorting) const {
    const double most = std::max(m_board, m_shorting);
    return most > 0 ? (shorting ? m_shorting : m_board) / most : 1;
}

double OutsideOdds::bits(const OutsideCheck& check, const std::array<double, kOutsides>& outside) const {
    std::array<double, kOutsides + 1> now{};
    std::copy(outside.begin(), outside.end(), now.begin());
    now[kOutsides] = std::max(0.0, 1 - std::accumulate(outside.begin(), outside.end(), 0.0));
    double gain = entropy(now), whole = 0;
    std::vector<std::pair<double, double>> answers; // chance, bits left
    for (const auto answer : check.answers) {
        const AnswerChances chances = answer_chances(m_practice, check.id, answer);
        std::array<double, kOutsides + 1> then = now;
        for (std::size_t c = 0; c < kOutsides; ++c) then[c] *= chances.outside[c];
        then[kOutsides] *= chances.board;
        const double p = std::accumulate(then.begin(), then.end(), 0.0);
        if (p > 0) answers.emplace_back(p, entropy(then));
        whole += p;
    }
    for (const auto& [p, left] : answers) gain -= p / whole * left;
    return std::max(0.0, gain);
}

} // namespace ohmo
