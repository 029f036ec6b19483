// SPDX-License-Identifier: GPL-3.0-or-later
#include "appcore/session.h"
#include "appcore/settings.h"
#include "support/demo.h"
#include "support/fakes.h"

#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

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
    ASSERT_FALSE(session->open("/a.ohmo.json"));
    EXPECT_FALSE(session->up_to_date()); // the answer comes later, the journal is there at once
    EXPECT_EQ(session->replay().symptoms.size(), 2u);
    ASSERT_TRUE(settled());
    EXPECT_EQ(answered.count(), 2); // a first look, then the whole
    EXPECT_FALSE(session->analysis()->first_look);
    EXPECT_FALSE(session->modified());
}

TEST_F(SessionTest, AFileThatFailsLeavesTheJob) {
    ASSERT_FALSE(session->open("/a.ohmo.json"));
    const auto problems = session->open("/bad.ohmo.json");
    ASSERT_TRUE(problems);
    EXPECT_EQ(problems->front().kind, ProblemKind::JsonBroken);
    EXPECT_EQ(session->path(), "/a.ohmo.json");
    EXPECT_EQ(session->job().unit.serial, "0417");
}

TEST_F(SessionTest, OnlyTheLastQuestionIsAnswered) {
    ASSERT_FALSE(session->open("/a.ohmo.json"));
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
    ASSERT_FALSE(session->open("/a.ohmo.json"));
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

TEST_F(SessionTest, ADamagedRecoveryIsIgnored) {
    disk.memory.files["/recovery.json"] = "{\"ohmotrace\": 1, \"jour";
    EXPECT_FALSE(session->recovery());
    disk.memory.files["/recovery.json"] = "[]";
    EXPECT_FALSE(session->recovery());
}

TEST_F(SessionTest, NewJobsComeFromTheBlueprint) {
    Unit unit;
    unit.name = "Cable reeler";
    ASSERT_FALSE(session->start_from_blueprint(data() / "blueprints" / "flyback.json", unit));
    EXPECT_TRUE(session->modified());
    EXPECT_TRUE(session->path().empty());
    EXPECT_EQ(session->job().unit.name, "Cable reeler");
    EXPECT_TRUE(session->start_from_blueprint("/nowhere.json", unit));
    EXPECT_EQ(session->job().unit.name, "Cable reeler");
}

TEST_F(SessionTest, ClosingWhileItComputesEndsCleanly) {
    ASSERT_FALSE(session->open("/a.ohmo.json"));
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
        s.add_recent_job(QStringLiteral("/job8"));
    }
    const Settings again(file);
    EXPECT_EQ(again.theme(), QStringLiteral("dark"));
    EXPECT_EQ(again.text_percent(), 140);
    EXPECT_EQ(again.recent_jobs().size(), 8);
    EXPECT_EQ(again.recent_jobs().first(), QStringLiteral("/job8"));
    EXPECT_EQ(again.recent_jobs().count(QStringLiteral("/job8")), 1);
}
