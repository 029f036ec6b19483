// SPDX-License-Identifier: GPL-3.0-or-later
// What faults are like over time and in their sound. Common practice, no source.
#include "damage/nature.h"

#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

class Of {
public:
    explicit Of(const Board& board) : m_board(board), m_roles(find_roles(m_board)), m_natures(m_board, m_roles) {}
    Nature operator()(const std::string& text) const { return m_natures.of(fault(m_board, text)); }
    double chance(const std::string& word, const std::string& text) const { return m_natures.chance(word, fault(m_board, text)); }

private:
    Board m_board;
    BoardRoles m_roles;
    Natures m_natures;
};

} // namespace

// Behind a line transformer reservoirs smooth the line's ripple; behind a regulator, or on a converter's rails, capacitors do not.
TEST(Nature, RippleOfTheLineComesFromWhatSmoothsIt) {
    const Of linear(demo("fd1-linear").board), flyback(demo("rb6-fresh").board), buck(demo("cr8-buck").board);
    int reservoirs = 0, others = 0;
    for (const auto& part : demo("fd1-linear").board.parts)
        if (part.kind == PartKind::Electrolytic) ++(linear(part.ref + ":dry") == Nature::LineRipple ? reservoirs : others);
    EXPECT_GT(reservoirs, 0);
    EXPECT_GT(others, 0);
    EXPECT_EQ(flyback("C5:dry"), Nature::LineRipple); // the bulk capacitor
    for (const auto& part : demo("rb6-fresh").board.parts)
        if (part.kind == PartKind::Electrolytic && part.stage != "bulk") EXPECT_EQ(flyback(part.ref + ":dry"), Nature::Dry) << part.ref;
    for (const auto& part : demo("cr8-buck").board.parts) // fed with direct current
        if (part.kind == PartKind::Electrolytic) EXPECT_EQ(buck(part.ref + ":dry"), Nature::Dry) << part.ref;
}

// A half-wave rectifier on each side of ground: what hangs on the common return alone is no reservoir.
TEST(Nature, TheReturnMakesNoReservoir) {
    Board b = board({"J1 connector - 1=LI 1'=L 2=NI 2'=N stage=mains-in", "T1 transformer - P1=L P2=N S1=AC S2=0V stage=switch",
                     "D1 diode - A=AC K=VP stage=rectify-out", "D2 diode - A=VN K=AC stage=rectify-out",
                     "C1 electrolytic 470u +=VP -=0V stage=smooth", "C2 electrolytic 470u +=0V -=VN stage=smooth",
                     "R1 resistor 1k 1=VP 2=X stage=rails", "C3 electrolytic 10u +=X -=0V stage=rails"});
    b.mains = Mains{230, 50};
    b.rails = {{"VP", "0V", 12, 0.1, 0.1, -1, -1}, {"VN", "0V", -12, 0.1, 0.1, -1, -1}};
    const Of of(make_board(b)->board);
    for (const char* reservoir : {"C1:dry", "C2:dry", "D1:open", "D2:open"}) EXPECT_EQ(of(reservoir), Nature::LineRipple) << reservoir;
    EXPECT_EQ(of("C3:dry"), Nature::Dry);
}

TEST(Nature, ContactsOpenAndCloseWhatIsBrokenStays) {
    const Of of(demo("rb6-fresh").board);
    EXPECT_EQ(of("J2:open"), Nature::OpensAndCloses);
    EXPECT_EQ(of("F1:open"), Nature::ForGood);
    EXPECT_EQ(of("Q1:ds-short"), Nature::ForGood);
    EXPECT_EQ(of("Q1:gate-leak"), Nature::Leaks);
    EXPECT_EQ(of("OK1:weak"), Nature::Drifts);
    EXPECT_EQ(of("R9:high"), Nature::Drifts);
    EXPECT_LT(of.chance("comes-and-goes", "Q1:ds-short"), 0.2 * of.chance("comes-and-goes", "J2:open"));
    EXPECT_LT(of.chance("starts-when-warm", "Q1:gate-leak"), of.chance("starts-when-warm", "C5:dry"));
    EXPECT_GT(of.chance("dies-after-minutes", "Q1:gate-leak"), of.chance("dies-after-minutes", "Q1:ds-short"));
    EXPECT_EQ(of.chance("dead", "F1:open"), 1);
}
