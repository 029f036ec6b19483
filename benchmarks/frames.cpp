// SPDX-License-Identifier: GPL-3.0-or-later
// What every interaction takes until it stands on the screen, on the demo half way: the event, what it changes, and the paint. A frame at
// 60 Hz is 16.7 ms. Also the layout of a map of 300 parts, and what the process holds in memory.
#include "gui/application.h"
#include "gui/main_window.h"
#include "gui/map/map_view.h"
#include "gui/photos/photo_view.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPushButton>
#include <QTemporaryDir>
#include <QWheelEvent>

#include <algorithm>
#include <cstdio>
#include <fstream>
#include <functional>
#include <string>
#include <vector>

using namespace ohmo;

namespace {

constexpr int kRepeats = 60;

double milliseconds(const std::function<void()>& work) {
    QElapsedTimer timer;
    timer.start();
    work();
    QCoreApplication::sendPostedEvents();
    QCoreApplication::processEvents();
    return static_cast<double>(timer.nsecsElapsed()) / 1e6;
}

void report(const char* what, std::vector<double> times) {
    std::sort(times.begin(), times.end());
    std::printf("%-44s median %6.2f ms, 95 %% %6.2f ms, most %6.2f ms (%zu)\n", what, times[times.size() / 2],
                times[times.size() * 95 / 100], times.back(), times.size());
}

void repeat(const char* what, const std::function<void(int)>& act) {
    std::vector<double> times;
    for (int i = 0; i < kRepeats; ++i) times.push_back(milliseconds([&] { act(i); }));
    report(what, times);
}

void press(QWidget* where, int key, const QString& text = {}, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QKeyEvent down(QEvent::KeyPress, key, with, text), up(QEvent::KeyRelease, key, with, text);
    QApplication::sendEvent(where, &down);
    QApplication::sendEvent(where, &up);
}

void move(QWidget* where, QPointF at) {
    QMouseEvent event(QEvent::MouseMove, at, where->mapToGlobal(at), Qt::NoButton, Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(where, &event);
}

// The demo's board several times over.
Board several(const Board& one, std::size_t parts) {
    Board out = one;
    const std::size_t nets = one.nets.size();
    for (int copy = 1; out.parts.size() < parts; ++copy) {
        for (std::size_t n = 0; n < nets; ++n) out.nets.push_back(one.nets[n] + "_" + std::to_string(copy));
        for (Part part : one.parts) {
            part.ref += "_" + std::to_string(copy);
            for (auto& pin : part.pins)
                if (pin.id >= 0) pin.id += static_cast<NetId>(nets * static_cast<std::size_t>(copy));
            out.parts.push_back(part);
        }
    }
    return out;
}

double resident_megabytes() {
    std::ifstream file("/proc/self/status");
    for (std::string line; std::getline(file, line);)
        if (line.starts_with("VmRSS:")) return std::stod(line.substr(6)) / 1024;
    return 0;
}

// A picture of forty million pixels, taken in, shown, and gone over with the wheel: the longest that the window answers nothing.
void photos(MainWindow& window, Session& session, const QTemporaryDir& folder, const QString& photo) {
    QImage image(7296, 5472, QImage::Format_RGB32);
    for (int y = 0; y < image.height(); ++y) {
        auto* row = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < image.width(); ++x) row[x] = qRgb((x * 7 + y) & 255, (x ^ y) & 255, (x * y / 64) & 255);
    }
    if (!image.save(photo, "JPEG", 90) || session.save(folder.filePath(QStringLiteral("job.ohmo.json")).toStdString())) return;
    window.go_to(QStringLiteral("trace"));
    window.findChild<QAction*>(QStringLiteral("action-photo"))->trigger();
    auto* view = window.findChild<QWidget*>(QStringLiteral("station-trace"))->findChild<PhotoView*>();
    std::vector<double> gaps;
    gaps.push_back(milliseconds([&] {
        window.findChild<QWidget*>(QStringLiteral("station-trace"))->findChild<QPushButton*>(QStringLiteral("pane-add"))->click();
    }));
    const auto shown = [&] { return view->at({1, 0}).x() - view->at({0, 0}).x() > 50; };
    while (!shown() || !session.up_to_date()) gaps.push_back(milliseconds([] {}));
    report("a photo of 40 megapixels taken in, gaps", gaps);
    repeat("photo: wheel", [&](int i) {
        const QPointF at(300, 150);
        QWheelEvent event(at, view->mapToGlobal(at), {}, {0, i % 20 < 10 ? 120 : -120}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                          false);
        QApplication::sendEvent(view, &event);
    });
    gaps.clear();
    gaps.push_back(milliseconds([&] { (void)session.save(folder.filePath(QStringLiteral("other/job.ohmo.json")).toStdString()); }));
    report("the job saved elsewhere, its photo along", gaps);
}

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    const RealDisk disk;
    const SystemClock clock;
    const Path data = data_dir();
    load_fonts(data);
    auto reader = JobReader::make(disk, data);
    auto analyst = Analyst::make(disk, data);
    if (!reader || !analyst) return 3;
    const QTemporaryDir folder;
    Settings settings(folder.filePath(QStringLiteral("settings.ini")));
    ThemeSource themes;
    themes.apply(false, 100);
    Session session({disk, clock, data, {}}, std::move(*reader), std::move(*analyst));
    const QString photo = folder.filePath(QStringLiteral("board.jpg"));
    MainWindow window(session, settings, themes, QStringLiteral("probe"),
                      [&](QWidget*, const FileQuestion&, const std::function<void(const QString&)>& then) { then(photo); });
    window.resize(1280, 800);
    window.show();
    session.open_dated_today(data / "demo" / "rb6-half-way.ohmo.json");
    while (!session.up_to_date()) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
    for (int i = 0; i < 200; ++i) QCoreApplication::processEvents();

    auto* map = window.findChild<QWidget*>(QStringLiteral("station-probe"))->findChild<MapView*>();
    auto* line = window.findChild<QLineEdit*>(QStringLiteral("bench-input"));
    repeat("pointer over the map", [&](int i) { move(map, {40.0 + 11.0 * i, 40.0 + 5.0 * i}); });
    repeat("map: the next part by key", [&](int i) { press(map, i % 4 == 3 ? Qt::Key_Down : Qt::Key_Right); });
    repeat("map: whole board, what matters", [&](int) { press(map, Qt::Key_W, QStringLiteral("w")); });
    press(map, Qt::Key_W, QStringLiteral("w"));
    repeat("map: wheel on the whole board", [&](int i) {
        const QPointF at(300, 200);
        QWheelEvent event(at, map->mapToGlobal(at), {}, {0, i % 20 < 10 ? 120 : -120}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                          false);
        QApplication::sendEvent(map, &event);
    });
    press(map, Qt::Key_W, QStringLiteral("w"));
    repeat("a letter in the bench line", [&](int i) {
        const QString text = QStringLiteral("C5 esr 1.9 ");
        if (i % text.size() == 0) line->clear();
        press(line, 0, text.mid(i % text.size(), 1));
    });
    line->clear();
    repeat("another suggestion", [&](int) { window.findChild<QAction*>(QStringLiteral("action-suggestion-after"))->trigger(); });
    for (const auto& info : all_stations()) window.go_to(info.id); // each is made once
    repeat("another station", [&](int i) { window.go_to(all_stations()[static_cast<std::size_t>(i) % all_stations().size()].id); });
    repeat("a suspect selected", [&](int i) {
        const auto& parts = session.replay().board.parts;
        window.select_part(QString::fromStdString(parts[static_cast<std::size_t>(i) % parts.size()].ref));
    });

    const double resident = resident_megabytes();
    photos(window, session, folder, photo);

    const Board large = several(session.replay().board, 300);
    const auto roles = find_roles(large);
    std::vector<double> whole, folded;
    MapFocus focus;
    focus.view = {860, 420};
    for (std::size_t i = 0; i < large.parts.size(); ++i) focus.open.push_back(i % 12 == 0);
    for (int i = 0; i < 10; ++i) {
        whole.push_back(milliseconds([&] { (void)lay_out_map(large, roles, 2.0); }));
        folded.push_back(milliseconds([&] { (void)lay_out_focus(large, roles, focus); }));
    }
    std::printf("%zu parts:\n", large.parts.size());
    report("  the whole map laid out", whole);
    report("  what matters laid out", folded);
    std::printf("resident with the demo: %.0f MB, at the end %.0f MB\n", resident, resident_megabytes());
    return 0;
}
