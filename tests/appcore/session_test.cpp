// SPDX-License-Identifier: GPL-3.0-or-later
#include "appcore/session.h"
#include "appcore/settings.h"
#include "support/demo.h"
#include "support/fakes.h"

#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

#include <functional>

using namespace ohmo;
using namespace ohmo::test;

namespace {

class SessionTest : public testing::Test {
protected:
    SessionTest() {
        disk.memory.files["/a.ohmo.json"] = demo_text("rb6-half-way");
        disk.memory.files["/bad.ohmo.json"] = "{";
        session =
            std::make_unique<Session>(SessionPlaces{disk, clock, data(), "/recovery.json"}, reader(), *Analyst::make(RealDisk(), data()));
    }
    /// The problems with which it was refused; none when it was opened.
    Problems open(const Path& path) {
        return answer([&] { session->open(path); });
    }
    Problems answer(const std::function<void()>& ask) {
        const QSignalSpy opened(session.get(), &Session::opened), refused(session.get(), &Session::refused);
        ask();
        EXPECT_TRUE(session->loading());
        EXPECT_TRUE(QTest::qWaitFor([&] { return opened.count() + refused.count() > 0; }, 60000));
        return refused.isEmpty() ? Problems{} : refused.first().at(1).value<Problems>();
    }
    bool settled() {
        return QTest::qWaitFor([this] { return session->up_to_date(); }, 60000);
    }

    DemoDisk disk;
    FakeClock clock;
    std::unique_ptr<Session> session;
};

} // namespace

TEST_F(SessionTest, OpensAndAnalysesOffThisThread) {
    const QSignalSpy answered(session.get(), &Session::analysis_changed);
    ASSERT_TRUE(open("/a.ohmo.json").empty());
    EXPECT_FALSE(session->up_to_date()); // the answer comes later, the journal is there at once
    EXPECT_EQ(session->replay().symptoms.size(), 2u);
    ASSERT_TRUE(settled());
    EXPECT_EQ(answered.count(), 1);
    EXPECT_FALSE(session->modified());
}

TEST_F(SessionTest, AFileThatFailsLeavesTheJob) {
    ASSERT_TRUE(open("/a.ohmo.json").empty());
    const auto problems = open("/bad.ohmo.json");
    ASSERT_FALSE(problems.empty());
    EXPECT_EQ(problems.front().kind, ProblemKind::JsonBroken);
    EXPECT_EQ(session->path(), "/a.ohmo.json");
    EXPECT_EQ(session->job().unit.serial, "0417");
}

TEST_F(SessionTest, OnlyTheLastQuestionIsAnswered) {
    ASSERT_TRUE(open("/a.ohmo.json").empty());
    ASSERT_TRUE(settled());
    QSignalSpy answered(session.get(), &Session::analysis_changed);
    for (int i = 0; i < 8; ++i) session->set_job(session->with(read("ohms", "+12A", "0V", 600 + i)));
    ASSERT_TRUE(settled());
    EXPECT_LE(answered.count(), 2);
    EXPECT_EQ(session->analysis()->job.journal.size(), session->job().journal.size());
}

TEST_F(SessionTest, EntriesCarryTheTime) {
    clock.time = 1'800'000'000;
    EXPECT_EQ(session->with(act(Do::Lift, "Q1")).journal.back().at, 1'800'000'000);
}

TEST_F(SessionTest, RecoveryIsWrittenReadAndForgotten) {
    ASSERT_TRUE(open("/a.ohmo.json").empty());
    EXPECT_FALSE(session->recovery());
    session->set_job(session->with(act(Do::Look, "C16", "leaking")));
    ASSERT_TRUE(QTest::qWaitFor([&] { return disk.memory.exists("/recovery.json"); }, 10000));
    const auto kept = session->recovery();
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->belongs_to, "/a.ohmo.json");
    EXPECT_EQ(kept->job.journal.back().saw, "leaking");
    ASSERT_FALSE(session->save("/a.ohmo.json"));
    EXPECT_FALSE(session->recovery());
}

TEST_F(SessionTest, ARecoveryCopyOutlivesADialogThatIsGivenUp) {
    ASSERT_TRUE(open("/a.ohmo.json").empty());
    session->set_job(session->with(act(Do::Look, "C16", "leaking")));
    ASSERT_TRUE(QTest::qWaitFor([&] { return disk.memory.exists("/recovery.json"); }, 10000));
    EXPECT_FALSE(open("/bad.ohmo.json").empty()); // nothing came of it
    EXPECT_TRUE(session->recovery());
    ASSERT_TRUE(open("/a.ohmo.json").empty()); // another job is there
    EXPECT_FALSE(session->recovery());
}

TEST_F(SessionTest, ACopyThatNobodyAnsweredForIsKeptBeside) {
    disk.memory.files["/recovery.json"] = demo_text("rb6-fresh");
    ASSERT_TRUE(open("/a.ohmo.json").empty());
    EXPECT_TRUE(disk.memory.exists("/recovery.json"));
    session->set_job(session->with(act(Do::Look, "C16", "leaking")));
    ASSERT_TRUE(QTest::qWaitFor([&] { return disk.memory.exists("/recovery.json.older"); }, 10000));
    EXPECT_EQ(disk.memory.files["/recovery.json.older"], demo_text("rb6-fresh"));
}

TEST_F(SessionTest, ADemoIsOfToday) {
    clock.time = 2'000'000'000;
    const QSignalSpy opened(session.get(), &Session::opened);
    session->open_dated_today("/a.ohmo.json");
    ASSERT_TRUE(QTest::qWaitFor([&] { return opened.count() > 0; }, 60000));
    const auto& journal = session->job().journal;
    EXPECT_EQ(journal.back().at, clock.time - 120);
    const auto as_filed = demo("rb6-half-way").journal;
    EXPECT_EQ(journal.back().at - journal.front().at, as_filed.back().at - as_filed.front().at);
    EXPECT_NE(session->job().text().find(format_time(clock.time - 120)), std::string::npos);
    EXPECT_FALSE(session->modified());
}

TEST_F(SessionTest, ADamagedRecoveryIsIgnored) {
    disk.memory.files["/recovery.json"] = "{\"ohmotrace\": 1, \"jour";
    EXPECT_FALSE(session->recovery());
    disk.memory.files["/recovery.json"] = "[]";
    EXPECT_FALSE(session->recovery());
}

TEST_F(SessionTest, NewJobsComeFromTheBlueprint) {
    Unit unit;
    unit.name = "Cable reeler";
    ASSERT_TRUE(answer([&] { session->start_from_blueprint(data() / "blueprints" / "flyback.json", unit); }).empty());
    EXPECT_TRUE(session->modified());
    EXPECT_TRUE(session->path().empty());
    EXPECT_EQ(session->job().unit.name, "Cable reeler");
    EXPECT_FALSE(answer([&] { session->start_from_blueprint("/nowhere.json", unit); }).empty());
    EXPECT_EQ(session->job().unit.name, "Cable reeler");
}

TEST_F(SessionTest, ClosingWhileItComputesEndsCleanly) {
    ASSERT_TRUE(open("/a.ohmo.json").empty());
    session.reset(); // joins the worker; a hang here is a failure by time-out
    SUCCEED();
}

TEST(SettingsFile, KeepsWhatItIsTold) {
    const QTemporaryDir folder;
    const QString file = folder.filePath(QStringLiteral("s.ini"));
    {
        Settings s(file);
        EXPECT_EQ(s.theme(), QStringLiteral("light"));
        s.set_theme(QStringLiteral("dark"));
        s.set_text_percent(140);
        for (int i = 0; i < 12; ++i) s.add_recent_job(QStringLiteral("/job%1").arg(i));
        s.set_station_of(QStringLiteral("/job8"), QStringLiteral("probe"));
        s.set_station_of(QStringLiteral("/job11"), QStringLiteral("story"));
        s.set_station_of(QStringLiteral("/never-opened"), QStringLiteral("parts"));
        s.add_recent_job(QStringLiteral("/job8"));
        s.set_voice(true);
    }
    const Settings again(file);
    EXPECT_EQ(again.theme(), QStringLiteral("dark"));
    EXPECT_EQ(again.text_percent(), 140);
    EXPECT_EQ(again.recent_jobs().size(), 8);
    EXPECT_EQ(again.recent_jobs().first(), QStringLiteral("/job8"));
    EXPECT_EQ(again.recent_jobs().count(QStringLiteral("/job8")), 1);
    EXPECT_EQ(again.station_of(QStringLiteral("/job8")), QStringLiteral("probe"));
    EXPECT_EQ(again.station_of(QStringLiteral("/job11")), QStringLiteral("story"));
    EXPECT_TRUE(again.station_of(QStringLiteral("/job10")).isEmpty());
    EXPECT_TRUE(again.station_of(QStringLiteral("/never-opened")).isEmpty());
    EXPECT_TRUE(again.voice());
}
