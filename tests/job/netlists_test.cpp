// SPDX-License-Identifier: GPL-3.0-or-later
// Netlists as others write them, each in another habit, by hand for this test: what must come out of them, and nothing that crashes.
#include "job/board_files.h"
#include "report/wording.h"
#include "support/demo.h"

#include <fmt/format.h>

#include <random>

using namespace ohmo;
using namespace ohmo::test;

namespace {

struct Foreign {
    const char* habit;
    const char* text;
    std::vector<std::pair<const char*, const char*>> values; ///< by ref, as the board writes it; empty: only that it is there
    int ignored;
};

const std::vector<Foreign>& foreign_netlists() {
    static const std::vector<Foreign> all = {
        {"plain", "t\nR1 a b 4.7k\nC1 b 0 100n\n.end\n", {{"R1", "4k7"}, {"C1", "100n"}}, 0},
        {"upper case", "T\nR1 A B 4.7K\nC1 B 0 100N\n.END\n", {{"R1", "4k7"}, {"C1", "100n"}}, 0},
        {"tabs and blanks", "t\nR1\ta   b\t\t10k\n  C1 b  0   1u  \n", {{"R1", "10k"}, {"C1", "1u"}}, 0},
        {"line ends of the other sort", "t\r\nR1 a b 1k\r\nR2 b 0 2k2\r\n", {{"R1", "1k"}, {"R2", ""}}, 0},
        {"no last line end", "t\nR1 a b 1k", {{"R1", "1k"}}, 0},
        {"mega and milli", "t\nR1 a b 2Meg\nR2 b 0 2MEG\nR3 a 0 5m\n", {{"R1", "2M"}, {"R2", "2M"}, {"R3", "0R005"}}, 0},
        {"units behind",
         "t\nR1 a b 10kOhm\nC1 b 0 22uF\nL1 a c 10mH\nR2 c 0 5Ohms\n",
         {{"R1", "10k"}, {"C1", "22u"}, {"L1", "10m"}, {"R2", "5R"}},
         0},
        {"exponents", "t\nR1 a b 1e3\nC1 b 0 4.7E-6\nR2 a 0 1.0e+2\n", {{"R1", "1k"}, {"C1", "4u7"}, {"R2", "100R"}}, 0},
        {"comments at the end", "t\nR1 a b 1k ; first\nR2 b 0 2k $ second\n* third\n", {{"R1", "1k"}, {"R2", "2k"}}, 0},
        {"continued", "t\nR1 a\n+ b\n+ 1k\n* between\nC1 b 0\n+ 10n\n", {{"R1", "1k"}, {"C1", "10n"}}, 0},
        {"values by name", "t\nR1 a b R=330\nC1 b 0 C=47n\nL1 a 0 L=2m\n", {{"R1", "330R"}, {"C1", "47n"}, {"L1", "2m"}}, 0},
        {"value with a model", "t\n.model rmod R(TC1=0.001)\nR1 a b rmod 1k\nR2 b 0 2k rmod\n", {{"R1", "1k"}, {"R2", "2k"}}, 0},
        {"temperature coefficients", "t\nR1 a b 1k TC=0.01,0.002\nR2 b 0 2k tc1=0.1\n", {{"R1", "1k"}, {"R2", "2k"}}, 0},
        {"start values", "t\nC1 a 0 10u IC=5\nL1 a b 1m ic=0.1\nR1 b 0 1k\n", {{"C1", "10u"}, {"L1", "1m"}, {"R1", "1k"}}, 0},
        {"diodes",
         "t\n.model D1N D(Is=2.5n Rs=.5 N=1.7 BV=100)\n.model DZ D(BV=12)\n.model DS D(IS=1u N=1.05)\nD1 a b D1N\nD2 0 a DZ\nD3 b 0 DS 1\n",
         {{"D1", ""}, {"D2", ""}, {"D3", ""}},
         0},
        {"model after use",
         "t\nQ1 c b e QN\nR1 c v 1k\nR2 b v 10k\nR3 e 0 100\nR4 v 0 1k\n.model QN NPN(BF=100)\n",
         {{"Q1", ""}, {"R3", "100R"}},
         0},
        {"substrate", "t\n.model QP PNP\nQ1 c b e s QP\nR1 c 0 1k\nR2 b 0 1k\nR3 e 0 1k\n", {{"Q1", ""}}, 0},
        {"transistors with sizes",
         "t\n.model MN NMOS(VTO=3 KP=2)\nM1 d g s s MN L=1u W=10u\nR1 d 0 1k\nR2 g 0 1k\nR3 s 0 1\n",
         {{"M1", ""}, {"R3", "1R"}},
         0},
        {"flat subcircuit", "t\nX1 a 0 half\n.subckt half p q\nR1 p m 1k\nR2 m q 1k\n.ends half\n", {{"X1.R1", "1k"}, {"X1.R2", "1k"}}, 0},
        {"subcircuit with parameters",
         "t\nX1 a 0 half PARAMS: k=2\n.subckt half p q PARAMS: k=1\nR1 p q 1k\n.ends\nR9 a 0 2k\n",
         {{"X1.R1", "1k"}, {"R9", "2k"}},
         0},
        {"sources",
         "t\nV1 in 0 DC 12\nI1 in 0 1m\nE1 x 0 in 0 2\nG1 y 0 in 0 1\nH1 z 0 V1 1\nF1 w 0 V1 1\nB1 q 0 V=1\nR1 in 0 1k\n",
         {{"R1", "1k"}},
         7},
        {"control cards",
         "t\n.options reltol=1e-4\n.tran 1u 1m\n.ic v(a)=1\n.param x=2\n.include models.lib\nR1 a 0 1k\n.op\n.end\n",
         {{"R1", "1k"}},
         6},
        {"control block", "t\nR1 a 0 1k\n.control\nrun\nprint v(a)\n.endc\n.end\n", {{"R1", "1k"}}, 0},
        {"coupled coils", "t\nL1 a b 1m\nL2 c d 100u\nL3 e f 100u\nK1 L1 L2 L3 0.98\nR1 a c 1k\nR2 b d 1k\nR3 e f 1k\n", {{"L1", ""}}, 0},
        {"unknown elements", "t\nJ1 d g s JN\nT1 a 0 b 0 Z0=50\nR1 a b 1k\nO1 a 0 b 0 line\n", {{"R1", "1k"}}, 3},
        {"mains", "t\nV1 L N SIN(0 170 60)\nR1 L x 10\nC1 x N 100n\n", {{"R1", "10R"}, {"C1", "100n"}}, 1},
        {"names with signs",
         "t\nR_load +12V GND 100\nC-out +12V GND 470u\nRsense1 GND 0 0.1\n",
         {{"R_load", "100R"}, {"C-out", "470u"}},
         0},
        {"micro in its own letter", "t\nC1 a 0 10µ\nC2 a 0 2.2µF\nR1 a 0 1k\n", {{"C1", "10u"}, {"C2", "2u2"}, {"R1", "1k"}}, 0},
        {"commas between", "t\nR1,a,b,1k\nR2 (b 0) 2k\n", {{"R1", "1k"}, {"R2", "2k"}}, 0},
        {"two figures written together", "t\nR1 a b 4k7\nR2 b 0 0R33\nR3 a 0 1M5\n", {{"R1", "4k7"}, {"R2", "0R33"}}, 0},
    };
    return all;
}

} // namespace

TEST(Netlists, ThirtyHabitsOfOthers) {
    ASSERT_GE(foreign_netlists().size(), 30u);
    for (const auto& f : foreign_netlists()) {
        const auto read = import_board("x.cir", f.text);
        ASSERT_TRUE(read) << f.habit << ": " << wording::problem(read.problem());
        for (const auto& [ref, value] : f.values) {
            const auto part = read->board.find_part(ref);
            ASSERT_TRUE(part) << f.habit << " " << ref;
            if (*value != 0) EXPECT_EQ(read->board.part(*part).value, value) << f.habit << " " << ref;
        }
        EXPECT_GE(static_cast<int>(read->ignored.size()), f.ignored) << f.habit; // what became no part is named
    }
}

// Letters changed, lines lost, doubled and swapped, the end cut off: a board or a reason, ten thousand times.
TEST(Netlists, TenThousandDamagedFiles) {
    std::mt19937 random(16);
    const auto below = [&](std::size_t n) { return static_cast<std::size_t>(random() % n); };
    std::vector<std::string> whole;
    for (const auto& f : foreign_netlists()) whole.push_back(f.text);
    whole.push_back(board_as_spice(demo("gl1-adapter").board, Unit{}));
    int boards = 0, refused = 0;
    for (int n = 0; n < 10000; ++n) {
        std::string text = whole[below(whole.size())];
        for (std::size_t k = 1 + below(6); k > 0 && !text.empty(); --k) {
            const std::size_t at = below(text.size());
            switch (below(6)) {
            case 0:
                text[at] = static_cast<char>(random() % 256);
                break;
            case 1:
                text.erase(at, 1 + below(20));
                break;
            case 2:
                text.insert(at, text.substr(below(text.size()), 1 + below(30)));
                break;
            case 3:
                text.resize(at);
                break;
            case 4:
                text.insert(at, "\n");
                break;
            default:
                text.insert(at, fmt::format("{:g}", std::pow(10.0, static_cast<double>(below(700)) - 350)));
                break;
            }
        }
        const auto read = import_board("x.cir", text);
        if (read) {
            ++boards;
            EXPECT_FALSE(read->board.parts.empty());
        } else {
            ++refused;
            EXPECT_FALSE(wording::problem(read.problem()).empty());
        }
    }
    EXPECT_GT(boards, 2000);
    EXPECT_GT(refused, 200);
}
