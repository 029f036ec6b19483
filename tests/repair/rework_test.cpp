// SPDX-License-Identifier: GPL-3.0-or-later
// What rework leaves behind is found by the checks that are offered: common practice, no source.
#include "support/demo.h"

#include "circuit/board_circuit.h"
#include "repair/rework.h"

#include <fmt/format.h>

#include <random>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const MeterProfile kMeter;

struct Shown {
    double value = 0;
    bool over = false;
};

// What the check shows on this board, which may be another one than it was made for.
Shown show(const Board& board, const Board& made_for, const ReworkCheck& check) {
    const BoardState state;
    const auto net = [&](NetId id) { return board.find_net(made_for.net_name(id)).value_or(-1); };
    const int red = net(check.query.red), black = net(check.query.black);
    EXPECT_TRUE(red >= 0 && black >= 0);
    const BoardCircuit circuit(board, state);
    const auto reading = check.query.what == Quantity::Farads
                             ? read_ac(circuit.ac({}, kMeter.farads_hertz), kMeter, check.query.what, red, black)
                             : read_dc(circuit.dc({}), kMeter, check.query.what, red, black);
    return {reading.value, reading.over};
}

bool finds(const ReworkCheck& check, const Board& sound, const Board& slipped, const Slip& slip) {
    switch (check.kind) {
    case CheckKind::Look: // what one looks for is seen
        return std::find(check.catches.begin(), check.catches.end(), slip) != check.catches.end();
    case CheckKind::Joined: {
        const auto& part = slipped.part(check.part);
        const auto& other = slipped.part(*slipped.find_part(check.other.ref));
        return part.net(check.pin) != other.net(check.other.role);
    }
    case CheckKind::Reading: {
        const auto seen = show(slipped, sound, check);
        return !passes(check, seen.value, seen.over);
    }
    }
    return false;
}

// Values within their tolerances, as new parts are.
Board specimen(Board board, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> spread(0, 0.02);
    for (auto& part : board.parts)
        if (part.kind == PartKind::Resistor)
            if (const auto n = nominal_value(part); n && n->ohms) part.value = fmt::format("{:.4g}", *n->ohms * std::exp(spread(random)));
    return make_board(std::move(board))->board;
}

} // namespace

// Lifted pad, bridge, reversed part, wrong value, one at a time, at every part of three boards.
TEST(Rework, EverySlipIsFoundByTheChecksOffered) {
    const BoardState state;
    const std::vector<Fault> none;
    std::map<SlipKind, int> slips, found, read;
    for (const char* name : {"rb6-fresh", "cr8-buck", "fd1-linear"}) {
        const Board& board = demo(name).board;
        const Board other = specimen(board, 7);
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            const auto& part = board.part(i);
            if (part.kind == PartKind::Load || part.kind == PartKind::Connector) continue;
            const auto checks = rework_checks({board, state, kMeter, none}, i);
            for (const auto& check : checks)
                if (check.kind == CheckKind::Reading) {
                    const auto sound = show(other, board, check);
                    EXPECT_TRUE(passes(check, sound.value, sound.over))
                        << name << " " << part.ref << " sound work is refused at " << sound.value;
                }
            for (const auto& slip : slips_of(board, i)) {
                ++slips[slip.kind];
                const Board slipped = with_slip(board, i, slip);
                read[slip.kind] += std::any_of(checks.begin(), checks.end(),
                                               [&](const auto& c) { return c.kind != CheckKind::Look && finds(c, board, slipped, slip); });
                found[slip.kind] +=
                    std::any_of(checks.begin(), checks.end(), [&](const auto& c) { return finds(c, board, slipped, slip); });
            }
        }
    }
    for (const auto& [kind, count] : slips) EXPECT_GE(count, 20) << static_cast<int>(kind);
    EXPECT_EQ(found[SlipKind::LiftedPad], slips[SlipKind::LiftedPad]);
    EXPECT_EQ(found[SlipKind::Reversed], slips[SlipKind::Reversed]);
    EXPECT_EQ(found[SlipKind::Bridge], slips[SlipKind::Bridge]);
    EXPECT_EQ(found[SlipKind::WrongValue], slips[SlipKind::WrongValue]);
    // The eye is trusted only with what no reading in circuit tells, polarity apart.
    EXPECT_GE(read[SlipKind::Bridge], slips[SlipKind::Bridge] * 4 / 5);
    EXPECT_GE(read[SlipKind::WrongValue], slips[SlipKind::WrongValue] * 2 / 3);
}

TEST(Rework, AsFewChecksAsTell) {
    const Board& board = demo("rb6-fresh").board;
    const BoardState state;
    const std::vector<Fault> none;
    const auto of = [&](const char* ref) { return rework_checks({board, state, kMeter, none}, *board.find_part(ref)); };
    const auto bulk = of("C5");
    ASSERT_FALSE(bulk.empty());
    EXPECT_EQ(bulk.front().kind, CheckKind::Look); // before anything else
    EXPECT_LE(bulk.size(), 4u);
    for (const auto& part : board.parts) {
        const auto checks = of(part.ref.c_str());
        EXPECT_LE(checks.size(), part.pins.size() + 4) << part.ref;
        for (std::size_t a = 0; a < checks.size(); ++a)
            for (std::size_t b = a + 1; b < checks.size(); ++b)
                EXPECT_FALSE(checks[a].kind == CheckKind::Joined && checks[b].kind == CheckKind::Joined && checks[a].pin == checks[b].pin);
    }
}
