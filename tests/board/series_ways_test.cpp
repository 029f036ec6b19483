// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

using Refs = std::vector<std::string>;

NetId net(const Board& b, const char* name) {
    const auto at = std::find(b.nets.begin(), b.nets.end(), name);
    return at == b.nets.end() ? -1 : static_cast<NetId>(at - b.nets.begin());
}

Refs between(const Board& b, const char* from, const char* to) {
    const SeriesWays ways(b);
    Refs out;
    for (int i : ways.between(net(b, from), net(b, to))) out.push_back(b.part(i).ref);
    return out;
}

} // namespace

TEST(SeriesWays, FromThePlugAsFarAsItConducts) {
    const Board b = board({"J1 connector - 1=L.in 1'=L 2=N.in 2'=N", "SW1 switch - 1=L 2=LS", "F1 fuse T2A 1=LS 2=LF",
                           "CM1 choke 10m 1=LF 2=LC 3=N 4=NC", "R1 resistor 1M 1=LC 2=NC", "BR1 bridge - ~1=LC ~2=NC +=HV -=PGND"});
    EXPECT_EQ(between(b, "L.in", "LC"), (Refs{"J1", "SW1", "F1", "CM1"}));
    EXPECT_EQ(between(b, "LC", "L.in"), (Refs{"J1", "SW1", "F1", "CM1"}));
    EXPECT_EQ(between(b, "N.in", "NC"), (Refs{"J1", "CM1"}));
    EXPECT_TRUE(between(b, "L.in", "L").empty()) << "one part is read at its own pins";
    EXPECT_TRUE(between(b, "L.in", "NC").empty()) << "a resistor is no way";
}

TEST(SeriesWays, NotOutAgainThroughTheSamePlug) {
    const Board b = board({"J1 connector - 1=A.out 1'=0V 2=B.out 2'=0V", "J2 connector - 1=C.out 1'=0V", "R1 resistor 1k 1=0V 2=X"});
    EXPECT_TRUE(between(b, "A.out", "B.out").empty());
    EXPECT_EQ(between(b, "A.out", "C.out"), (Refs{"J1", "J2"}));
}

TEST(SeriesWays, InsideAndOutsideOfAConnector) {
    const Board b = board({"J1 connector - 1=+5V.out 1'=+5V 2=0V.out 2'=0V", "C1 electrolytic 100u +=+5V -=0V", "F1 fuse 1A 1=+5V 2=X",
                           "R1 resistor 1k 1=X 2=0V"});
    const SeriesWays ways(b);
    EXPECT_EQ(ways.outside(net(b, "+5V")), net(b, "+5V.out"));
    EXPECT_EQ(ways.inside(net(b, "+5V.out")), net(b, "+5V"));
    EXPECT_EQ(ways.outside(net(b, "X")), net(b, "X"));
    EXPECT_EQ(ways.inside(net(b, "0V")), net(b, "0V"));
}
