// SPDX-License-Identifier: GPL-3.0-or-later
// Photos of the board: kept beside the job, pins marked on them, and what is no picture refused.
#include "gui/photos/photo_import.h"
#include "gui/photos/photo_view.h"
#include "gui/widgets/board_pane.h"
#include "report/wording.h"
#include "window_driver.h"

#include <QBuffer>
#include <QDialog>
#include <QImage>
#include <QImageReader>
#include <QPainter>
#include <QTableView>
#include <QTextBrowser>
#include <QToolButton>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::string picture(QSize size, const char* format, bool speaks = false) {
    QImage image(size, QImage::Format_RGB32);
    image.fill(QColor(30, 90, 40));
    QPainter p(&image);
    for (int x = 0; x < size.width(); x += 40) p.fillRect(x, x * size.height() / size.width(), 20, 20, QColor(200, 190, 60));
    p.end();
    if (speaks) image.setText(QStringLiteral("Author"), QStringLiteral("somebody at home"));
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, format);
    return bytes.toStdString();
}

class Photo : public WindowTest {};

} // namespace

TEST_F(Photo, APictureIsKeptWithoutWhatItSays) {
    disk.memory.files["/in/board.png"] = picture({600, 400}, "PNG", true);
    ASSERT_NE(disk.memory.files["/in/board.png"].find("somebody"), std::string::npos);
    const auto kept = keep_photo(disk.memory, "/in/board.png", "/jobs/half.ohmo.json");
    ASSERT_TRUE(kept);
    const auto& bytes = disk.memory.files.at("/jobs/" + kept->file);
    EXPECT_EQ(bytes.find("somebody"), std::string::npos);
    EXPECT_TRUE(kept->file.starts_with("half.") && kept->file.ends_with(".png"));
    EXPECT_EQ(keep_photo(disk.memory, "/in/board.png", "/jobs/half.ohmo.json")->file, kept->file); // by its content
    EXPECT_EQ(kept_photo(disk.memory, "/jobs/half.ohmo.json", kept->file)->size(), QSize(600, 400));
}

TEST_F(Photo, WhatIsNoPictureIsRefusedWithTheReason) {
    const std::string whole = picture({800, 600}, "PNG");
    disk.memory.files["/in/short.png"] = whole.substr(0, whole.size() / 2);
    disk.memory.files["/in/text.jpg"] = "a shopping list: solder, flux, tea";
    disk.memory.files["/in/empty.png"] = "";
    disk.memory.files["/in/fine.png"] = whole;
    for (const char* name : {"short.png", "text.jpg", "empty.png", "nowhere.png"}) {
        const auto kept = keep_photo(disk.memory, Path("/in") / name, "/jobs/half.ohmo.json");
        ASSERT_FALSE(kept) << name;
        EXPECT_NE(wording::problem(kept.problem()).find(name), std::string::npos) << wording::problem(kept.problem());
    }
    const auto before = disk.memory.files.size();
    disk.memory.full = true; // as a folder without permission
    const auto kept = keep_photo(disk.memory, "/in/fine.png", "/jobs/half.ohmo.json");
    ASSERT_FALSE(kept);
    EXPECT_EQ(kept.problem().kind, ProblemKind::FileUnwritable);
    EXPECT_EQ(disk.memory.files.size(), before);
}

// 40 megapixels come in off the interface thread, made smaller on the way.
TEST_F(Photo, FortyMegapixelsAreMadeSmaller) {
    disk.memory.files["/in/large.jpg"] = picture({7300, 5500}, "JPEG");
    const auto kept = keep_photo(disk.memory, "/in/large.jpg", "/jobs/half.ohmo.json");
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->image.width(), 4096);
    EXPECT_LT(disk.memory.files.at("/jobs/" + kept->file).size(), disk.memory.files.at("/in/large.jpg").size());
}

// Added, two parts marked by clicks, read again after a save; the leads of the next act are shown on it.
TEST_F(Photo, PinsAreMarkedByClicks) {
    open("/jobs/half.ohmo.json");
    disk.memory.files["/in/front.png"] = picture({800, 400}, "PNG");
    chosen = QStringLiteral("/in/front.png");
    window->go_to(QStringLiteral("trace"));
    find<QAction>("action-photo")->trigger();
    auto* pane = window->findChild<QWidget*>(QStringLiteral("station-trace"))->findChild<BoardPane*>();
    ASSERT_NE(pane, nullptr);
    const auto press = [&](const char* name) { pane->findChild<QPushButton*>(QString::fromLatin1(name))->click(); };
    press("pane-add");
    ASSERT_TRUE(wait([this] { return !session->replay().photos.empty(); }));
    ASSERT_TRUE(settled());
    auto* view = pane->findChild<PhotoView*>();
    press("pane-mark");
    auto* note = pane->findChild<QLabel*>(QStringLiteral("pane-note"));
    auto* table = find<QTableView>("parts-table");
    const auto rows = table->model()->match(table->model()->index(0, 0), Qt::DisplayRole, QStringLiteral("C5"), 1, Qt::MatchExactly);
    ASSERT_EQ(rows.size(), 1);
    table->setCurrentIndex(rows.front());
    EXPECT_TRUE(note->text().contains(QStringLiteral("C5")));
    const std::vector<PhotoSpot> spots = {{0.25, 0.2}, {0.3, 0.25}};
    for (const auto& spot : spots) {
        ASSERT_TRUE(wait([&] { return view->at({1, 0}).x() - view->at({0, 0}).x() > 50; })); // the picture is there
        QTest::mouseClick(view, Qt::LeftButton, {}, view->at(spot).toPoint());
        ASSERT_TRUE(settled());
    }
    EXPECT_TRUE(note->text().contains(QStringLiteral("All pins of C5")));
    const auto& marks = session->replay().photos.front().marks;
    ASSERT_EQ(marks.size(), 2u);
    EXPECT_NEAR((marks.at({"C5", "+"}).x), 0.25, 0.01);
    EXPECT_NEAR((marks.at({"C5", "-"}).y), 0.25, 0.01);
    ASSERT_TRUE(window->save_job_to(QStringLiteral("/elsewhere/again.ohmo.json")));
    EXPECT_TRUE(disk.memory.files.contains("/elsewhere/" + session->replay().photos.front().file)); // it goes along
    view->grab();                                                                                   // and is painted with its marks
    find<QAction>("action-photo")->trigger();
    EXPECT_TRUE(pane->map().isVisible());
}

// A picture of what was found: taken in the round, shown on the part's sheet, printed in the record.
TEST_F(Photo, AFindingHasItsPicture) {
    open("/jobs/half.ohmo.json");
    disk.memory.files["/in/near.jpg"] = picture({300, 200}, "JPEG");
    chosen = QStringLiteral("/in/near.jpg");
    find<QAction>("action-look-round")->trigger();
    auto* round = find<QDialog>("look-round");
    auto* where = find<QLabel>("look-round-part");
    for (std::size_t k = 0; k <= session->replay().board.parts.size(); ++k)
        QTest::keyClick(round, where->text().startsWith(QStringLiteral("C5 ")) ? Qt::Key_Shift : k == 0 ? Qt::Key_Left : Qt::Key_Right);
    ASSERT_TRUE(where->text().startsWith(QStringLiteral("C5 "))) << where->text().toStdString();
    QTest::keyClick(round, Qt::Key_P);
    ASSERT_TRUE(wait([this] { return !session->replay().part_pictures.empty(); }));
    EXPECT_EQ(session->replay().part_pictures.front().part, "C5");
    EXPECT_TRUE(disk.memory.files.contains("/jobs/" + session->replay().part_pictures.front().file));
    round->close();
    window->select_part(QStringLiteral("C5"));
    find<QAction>("action-part-sheet")->trigger();
    ASSERT_TRUE(wait([this] { return !find<QToolButton>("part-sheet-shown")->icon().isNull(); }));
    find<QToolButton>("part-sheet-shown")->click();
    auto* large = find<QLabel>("picture-shown");
    ASSERT_TRUE(wait([&] { return !large->pixmap(Qt::ReturnByValue).isNull(); }));
    ASSERT_TRUE(settled());
    window->go_to(QStringLiteral("hand-back"));
    auto* preview = find<QTextBrowser>("record-preview");
    EXPECT_TRUE(wait([&] { return preview->toHtml().contains(QStringLiteral("<img")); }));
}

TEST_F(Photo, WithoutAFileThereIsNowhereToKeepIt) {
    start_from("adapter.json");
    window->go_to(QStringLiteral("trace"));
    find<QAction>("action-photo")->trigger();
    auto* pane = window->findChild<QWidget*>(QStringLiteral("station-trace"))->findChild<BoardPane*>();
    pane->findChild<QPushButton*>(QStringLiteral("pane-add"))->click();
    EXPECT_TRUE(pane->findChild<QLabel*>(QStringLiteral("pane-note"))->text().contains(QStringLiteral("Ctrl+S")));
    EXPECT_TRUE(session->replay().photos.empty());
}
