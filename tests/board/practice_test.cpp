// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/practice.h"

#include "base/text.h"
#include "support/fakes.h"

#include <cctype>
#include <fstream>
#include <map>
#include <set>
#include <sstream>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::string shipped_text() { return *RealDisk().read(data_dir() / "practice.json", 8u << 20); }

Problems problems_of(const std::string& text) {
    const auto file = parse_practice_file(text, "practice.json");
    if (!file) return file.problems();
    const auto taken = practice_of(*file, "practice.json");
    return taken ? Problems{} : taken.problems();
}

std::string edited(const std::string& figure) {
    return R"({"ohmotrace-practice": 1, "groups": [{"group": "mine", "figures": [)" + figure + "]}]}";
}

const std::string& source_text(const std::string& file) {
    static std::map<std::string, std::string> known;
    const auto [at, fresh] = known.try_emplace(file);
    if (fresh) {
        std::ifstream in(data_dir().parent_path() / "src" / file);
        std::ostringstream out;
        out << in.rdbuf();
        at->second = out.str();
    }
    return at->second;
}

bool has_word(const std::string& text, const std::string& word) {
    const auto part_of_a_name = [](char c) { return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_'; };
    for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) {
        const std::size_t end = at + word.size();
        if ((at == 0 || !part_of_a_name(text[at - 1])) && (end >= text.size() || !part_of_a_name(text[end]))) return true;
    }
    return false;
}

} // namespace

TEST(Practice, TheShippedFileIsTaken) {
    EXPECT_TRUE(problems_of(shipped_text()).empty());
    const auto file = parse_practice_file(shipped_text(), "practice.json");
    ASSERT_TRUE(file);
    EXPECT_EQ(*practice_of(*file, "practice.json"), shipped_practice());
    EXPECT_GE(file->figures.size(), 200u);
    EXPECT_EQ(shipped_practice().symptoms.size(), 17u);
}

TEST(Practice, EveryFigureSaysWhatItIsAndWhereFrom) {
    std::set<std::string> names;
    for (const auto& f : shipped_practice_file().figures) {
        EXPECT_TRUE(names.insert(f.name).second) << f.name << " stands twice";
        EXPECT_FALSE(f.what.empty()) << f.name;
        EXPECT_FALSE(f.source.empty()) << f.name;
        EXPECT_FALSE(f.used.empty()) << f.name;
    }
}

TEST(Practice, EveryFigureIsUsedWhereItSays) {
    for (const auto& f : shipped_practice_file().figures) {
        const std::string field = replaced(f.name, "-", "_");
        for (const auto& used : f.used) {
            const std::string& text = source_text(used);
            ASSERT_FALSE(text.empty()) << f.name << " names " << used;
            EXPECT_TRUE(has_word(text, field) || has_word(text, field + "_spread")) << f.name << " in " << used;
        }
    }
}

TEST(Practice, ChancesAreChances) {
    for (const auto& f : shipped_practice_file().figures)
        if (f.unit == "chance") {
            EXPECT_GE(f.value, 0) << f.name;
            EXPECT_LE(f.value, 1) << f.name;
        }
}

TEST(Practice, AnEditedFigureCountsTheOthersStay) {
    const auto file = parse_practice_file(
        edited(R"({"name": "model-doubt", "value": 0.08}, {"name": "short-ohms", "value": 0.4, "spread": 1.3})"), "mine.json");
    ASSERT_TRUE(file);
    const auto mine = practice_of(*file, "mine.json");
    ASSERT_TRUE(mine);
    EXPECT_EQ(mine->model_doubt, 0.08);
    EXPECT_EQ(mine->short_ohms_spread, 1.3);
    EXPECT_EQ(mine->live_blunder, shipped_practice().live_blunder);
    EXPECT_NE(*mine, shipped_practice());
}

TEST(Practice, BadFiguresAreNamedWithTheirPlace) {
    const auto kind = [](const std::string& figure) { return problems_of(edited(figure)).front().kind; };
    EXPECT_EQ(kind(R"({"name": "no-such-thing", "value": 1})"), ProblemKind::UnknownFigure);
    EXPECT_EQ(kind(R"({"name": "model-doubt", "unit": "chance", "value": 1.5})"), ProblemKind::OutOfRangeValue);
    EXPECT_EQ(kind(R"({"name": "model-doubt", "value": -0.5})"), ProblemKind::OutOfRangeValue);
    EXPECT_EQ(kind(R"({"name": "model-doubt", "value": "much"})"), ProblemKind::SchemaMismatch);
    EXPECT_EQ(kind(R"({"name": "model-doubt"})"), ProblemKind::MissingField);
    EXPECT_EQ(kind(R"({"value": 1})"), ProblemKind::MissingField);
    EXPECT_EQ(kind(R"({"name": "model-doubt", "value": 0.1, "spread": 0.3})"), ProblemKind::SchemaMismatch); // it has none
    EXPECT_EQ(problems_of(edited(R"({"name": "model-doubt", "value": -0.5})")).front().place, "practice.json#/groups/0/figures/0/value");
    EXPECT_EQ(problems_of("{").front().kind, ProblemKind::JsonBroken);
    EXPECT_EQ(problems_of("{}").front().kind, ProblemKind::SchemaMismatch);
    EXPECT_EQ(problems_of(R"({"ohmotrace-practice": 1, "tables": {"symptoms": {"rows": {"dead": [0.5]}}}})").front().kind,
              ProblemKind::UnknownFigure);
    EXPECT_EQ(problems_of(R"({"ohmotrace-practice": 1, "tables": {"symptoms": {"rows": {"dead": [2, 0, 0, 0, 0, 0, 0]}}}})").front().kind,
              ProblemKind::OutOfRangeValue);
}

TEST(Practice, SafetyLimitsStay) {
    for (const auto& f : shipped_practice_file().figures) {
        if (!f.fixed) continue;
        const auto text = edited("{\"name\": \"" + f.name + "\", \"value\": " + std::to_string(f.value * 2) + "}");
        EXPECT_EQ(problems_of(text).front().kind, ProblemKind::FixedFigure) << f.name;
    }
    EXPECT_EQ(shipped_practice().working_volts, 10);
    EXPECT_EQ(shipped_practice().hazard_volts, 60); // IEC 61010-1, from memory
}

TEST(Practice, AFileThatCannotBeReadSaysSo) {
    FakeDisk disk;
    EXPECT_EQ(load_practice(disk, "/nowhere.json").problem().kind, ProblemKind::FileUnreadable);
    disk.files["/mine.json"] = edited(R"({"name": "live-blunder", "value": 0.03})");
    EXPECT_EQ(load_practice(disk, "/mine.json")->live_blunder, 0.03);
}
