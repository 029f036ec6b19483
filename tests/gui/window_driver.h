// SPDX-License-Identifier: GPL-3.0-or-later
// Drives the real window by widget names and waits on conditions.
#pragma once
#include "support/demo.h"
#include "support/fakes.h"

#include "gui/main_window.h"

#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>

#include <functional>

namespace ohmo::test {

/// Keeps what it is told.
class FakeSpeaker : public Speaker {
public:
    FakeSpeaker(QStringList& words, const bool& can) : m_words(words), m_can(can) {}
    bool ready() override { return m_can; }
    void say(const QString& words) override { m_words << words; }
    void hush() override { m_words << QStringLiteral("(hush)"); }

private:
    QStringList& m_words;
    const bool& m_can;
};

class WindowTest : public testing::Test {
protected:
    WindowTest() : settings(folder.filePath(QStringLiteral("settings.ini"))) {
        themes.apply(false, 100);
        disk.memory.files["/jobs/fresh.ohmo.json"] = demo_text("rb6-fresh");
        disk.memory.files["/jobs/half.ohmo.json"] = demo_text("rb6-half-way");
        start();
    }

    void start() {
        window.reset();
        session =
            std::make_unique<Session>(SessionPlaces{disk, clock, data(), "/recovery.json"}, reader(), *Analyst::make(RealDisk(), data()));
        window = std::make_unique<MainWindow>(
            *session, settings, themes, QString(),
            [this](QWidget*, const FileQuestion& question, const std::function<void(const QString&)>& then) {
                asked.push_back(question);
                if (!chosen.isEmpty()) then(chosen);
            },
            std::make_unique<FakeSpeaker>(spoken_there, can_speak));
        window->show();
    }

    static bool wait(const std::function<bool()>& condition, int milliseconds = 60000) { return QTest::qWaitFor(condition, milliseconds); }
    bool settled() {
        return wait([this] { return session->up_to_date(); });
    }

    void open(const char* path) {
        window->open_job(QString::fromLatin1(path));
        ASSERT_TRUE(settled());
    }

    /// Whether what was begun came to a job on screen.
    bool opened() {
        EXPECT_TRUE(wait([this] { return !session->loading(); }));
        return !find<QWidget>("banner")->isVisible();
    }

    void start_from(const char* blueprint) {
        window->new_from_blueprint(QString::fromStdString((data() / "blueprints" / blueprint).string()));
        ASSERT_TRUE(settled());
    }

    template <class W>
    W* find(const char* name) {
        auto* w = window->findChild<W*>(QString::fromLatin1(name));
        EXPECT_NE(w, nullptr) << name;
        return w;
    }

    void click(const char* name) {
        auto* b = find<QPushButton>(name);
        ASSERT_NE(b, nullptr) << name;
        ASSERT_TRUE(b->isEnabled()) << name;
        QTest::mouseClick(b, Qt::LeftButton);
    }

    /// Types into the bench line and presses Enter; the answer is there afterwards.
    void log(const char* line) {
        auto* input = find<QLineEdit>("bench-input");
        input->clear();
        QTest::keyClicks(input, QString::fromUtf8(line));
        const auto before = session->job().journal.size();
        QTest::keyClick(input, Qt::Key_Return);
        ASSERT_EQ(session->job().journal.size(), before + 1) << line << ": " << find<QLabel>("bench-understood")->text().toStdString();
        ASSERT_TRUE(settled());
    }

    double bad(const char* ref) { return test::bad(*session->analysis(), ref); }
    std::string first_suspect() {
        auto* list = find<QListWidget>("suspects");
        return list->count() > 0 ? list->item(0)->text().toStdString() : "";
    }

    QTemporaryDir folder;
    DemoDisk disk;
    FakeClock clock;
    Settings settings;
    ThemeSource themes;
    std::vector<FileQuestion> asked; ///< for a file
    QString chosen;                  ///< the answer; empty: the dialog is given up
    QStringList spoken_there;
    bool can_speak = true;
    std::unique_ptr<Session> session;
    std::unique_ptr<MainWindow> window;
};

} // namespace ohmo::test
