// SPDX-License-Identifier: GPL-3.0-or-later
// Against RFC 4180, section 2.
#include "base/csv.h"

using namespace ohmo;

namespace {

std::vector<std::vector<std::string>> cells(const std::string& text) {
    std::vector<std::vector<std::string>> out;
    for (const auto& row : parse_csv(text)) out.push_back(row.cells);
    return out;
}

} // namespace

TEST(Csv, ReadsRowsCellsAndQuotes) {
    EXPECT_EQ(cells("a,b,c\r\n1,,3\n"), (std::vector<std::vector<std::string>>{{"a", "b", "c"}, {"1", "", "3"}}));
    EXPECT_EQ(cells("\"x, y\",\"he said \"\"yes\"\"\"\n"), (std::vector<std::vector<std::string>>{{"x, y", "he said \"yes\""}}));
    EXPECT_EQ(cells("last,line"), (std::vector<std::vector<std::string>>{{"last", "line"}})); // rule 2: no line break at the end
    EXPECT_EQ(cells("\"two\nlines\",z\n"), (std::vector<std::vector<std::string>>{{"two\nlines", "z"}})); // rule 6
    EXPECT_TRUE(cells("").empty());
    EXPECT_TRUE(cells("\n\r\n  \n").empty());
}

TEST(Csv, LeavesRemarksOutAndCountsLines) {
    const auto rows = parse_csv("# drawer of 2026\n\na,b\n# more\n\"x\n# no remark\",y\nz,w\n");
    ASSERT_EQ(rows.size(), 3u);
    EXPECT_EQ(rows[0].line, 3);
    EXPECT_EQ(rows[1].cells.front(), "x\n# no remark");
    EXPECT_EQ(rows[2].line, 7);
    EXPECT_EQ(rows[2].cells.back(), "w");
}

TEST(Csv, AnOpenQuoteLosesNothing) {
    const auto rows = parse_csv("a,\"b\nc,d\n");
    ASSERT_EQ(rows.size(), 1u);
    EXPECT_EQ(rows[0].cells.back().substr(0, 5), "b\nc,d");
}

TEST(Csv, WritesWhatItReads) {
    const std::vector<std::vector<std::string>> rows = {
        {"plain", "with, comma", "with \"quotes\""}, {"", "two\nlines", "\""}, {"ends with quote\"", "10 µF 450 V", "x"}};
    std::string text;
    for (const auto& row : rows) text += csv_line(row);
    EXPECT_EQ(cells(text), rows);
    EXPECT_EQ(csv_line({"a", "b\"c", "d"}), "a,\"b\"\"c\",d\n");
}
