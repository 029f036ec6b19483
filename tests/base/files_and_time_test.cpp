// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/base64.h"
#include "base/clock.h"
#include "base/disk.h"
#include "base/text.h"

#include <unistd.h>

using namespace ohmo;

namespace {

class Folder {
public:
    Folder() : path(std::filesystem::temp_directory_path() / ("ohmo-test-" + std::to_string(::getpid()))) {
        std::filesystem::create_directories(path);
    }
    ~Folder() {
        std::error_code error;
        std::filesystem::permissions(path, std::filesystem::perms::owner_all, error);
        std::filesystem::remove_all(path, error);
    }
    Path path;
};

} // namespace

TEST(Disk, WritesInOneStepAndLeavesNothingBeside) {
    const Folder folder;
    const RealDisk disk;
    ASSERT_TRUE(disk.write(folder.path / "a.txt", "one"));
    ASSERT_TRUE(disk.write(folder.path / "a.txt", "two"));
    EXPECT_EQ(*disk.read(folder.path / "a.txt", 100), "two");
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path), {}), 1);
}

TEST(Disk, FailureKeepsTheOldFile) {
    const Folder folder;
    const RealDisk disk;
    ASSERT_TRUE(disk.write(folder.path / "a.txt", "old"));
    // A name that is too long cannot be written; the sibling stays as it is.
    EXPECT_FALSE(disk.write(folder.path / std::string(300, 'x'), "new"));
    EXPECT_FALSE(disk.write(folder.path / "no-such-folder" / "a.txt", "new"));
    EXPECT_EQ(*disk.read(folder.path / "a.txt", 100), "old");
}

TEST(Disk, AFileKeepsItsRights) {
    const Folder folder;
    const RealDisk disk;
    const Path file = folder.path / "a.txt";
    using std::filesystem::perms;
    ASSERT_TRUE(disk.write(file, "new"));
    EXPECT_EQ(std::filesystem::status(file).permissions(), perms::owner_read | perms::owner_write | perms::group_read | perms::others_read);
    for (const perms rights :
         {perms::owner_read | perms::owner_write, perms::owner_read | perms::owner_write | perms::group_read | perms::group_write}) {
        std::filesystem::permissions(file, rights);
        ASSERT_TRUE(disk.write(file, "again"));
        EXPECT_EQ(std::filesystem::status(file).permissions(), rights);
    }
}

TEST(Disk, SaysWhatIsWrong) {
    const Folder folder;
    const RealDisk disk;
    EXPECT_EQ(disk.read(folder.path / "missing", 10).problem().kind, ProblemKind::FileUnreadable);
    EXPECT_EQ(disk.read(folder.path, 10).problem().kind, ProblemKind::FileUnreadable);
    ASSERT_TRUE(disk.write(folder.path / "big", std::string(11, 'x')));
    EXPECT_EQ(disk.read(folder.path / "big", 10).problem().kind, ProblemKind::FileTooLarge);
}

TEST(Time, RoundTrips) {
    for (const char* text : {"2026-03-02T09:14:00Z", "1970-01-01T00:00:00Z", "2024-02-29T23:59:59Z"})
        EXPECT_EQ(format_time(*parse_time(text)), text);
}

TEST(Time, OffsetsAndShortForms) {
    EXPECT_EQ(format_time(*parse_time("2026-03-02T10:14:00+01:00")), "2026-03-02T09:14:00Z");
    EXPECT_EQ(format_time(*parse_time("2026-03-02T09:14Z")), "2026-03-02T09:14:00Z");
    EXPECT_EQ(format_time(*parse_time("2026-03-02T09:14:05.25Z")), "2026-03-02T09:14:05Z");
}

TEST(Time, RefusesWhatIsNoDate) {
    for (const char* text : {"2026-03-02T09:14:00Zx", "2026-03-02T09:14:00+1", " 2026-03-02T09:14:00Z ", "", "yesterday",
                             "2026-13-02T09:14:00Z", "2026-02-30T09:14:00Z", "2026-03-02", "2026-03-02T25:00:00Z", "2026-03-02T09:14:00"})
        EXPECT_FALSE(parse_time(text)) << text;
}

TEST(Text, SmallTools) {
    EXPECT_EQ(split_words("  a  b c "), (std::vector<std::string>{"a", "b", "c"}));
    EXPECT_EQ(split("a,,b", ','), (std::vector<std::string>{"a", "", "b"}));
    EXPECT_EQ(joined({"a", "b"}, ", "), "a, b");
    EXPECT_EQ(replaced("a-b-c", "-", "+"), "a+b+c");
    EXPECT_EQ(in_words("low-output"), "low output");
    EXPECT_EQ(in_words("led-only"), "LED only");
    EXPECT_EQ(in_words("hum, led-only"), "hum, LED only");
    EXPECT_EQ(in_words("not-fitted"), "not fitted");
    EXPECT_EQ(uppered("äb"), "äB");
    EXPECT_TRUE(all_digits("012"));
    EXPECT_FALSE(all_digits(""));
}

// The test vectors of RFC 4648, section 10.
TEST(Text, Base64) {
    const std::pair<const char*, const char*> vectors[] = {
        {"", ""}, {"f", "Zg=="}, {"fo", "Zm8="}, {"foo", "Zm9v"}, {"foob", "Zm9vYg=="}, {"fooba", "Zm9vYmE="}, {"foobar", "Zm9vYmFy"}};
    for (const auto& [bytes, text] : vectors) EXPECT_EQ(base64(bytes), text);
    EXPECT_EQ(base64(std::string("\xff\x00\xfe", 3)), "/wD+");
}
