// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/application.h"

#include "gui/main_window.h"
#include "gui/text.h"
#include "report/wording.h"

#include <CLI/CLI.hpp>

#include <QApplication>
#include <QElapsedTimer>
#include <QFontDatabase>
#include <QStandardPaths>
#include <QTimer>

#include <cstdio>

namespace ohmo {
namespace {

constexpr int kShotPatienceMilliseconds = 60'000;

Path state_dir() {
    const Path dir = ss(QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation)) + "/ohmotrace";
    std::error_code error;
    std::filesystem::create_directories(dir, error);
    return dir;
}

int fail(const Problems& problems) {
    for (const auto& p : problems) std::fprintf(stderr, "%s\n", wording::problem(p).c_str());
    return 3;
}

// Grabs the window once the analysis is there and everything has been painted.
void shoot_when_ready(MainWindow& window, Session& session, const QString& file) {
    const auto shoot = [&window, file] {
        QTimer::singleShot(150, &window, [&window, file] {
            const bool saved = window.grab().save(file);
            if (!saved) std::fprintf(stderr, "%s: cannot be written\n", qPrintable(file));
            QApplication::exit(saved ? 0 : 3);
        });
    };
    if (session.up_to_date() || !session.has_job()) return shoot();
    QObject::connect(&session, &Session::analysis_changed, &window, shoot, Qt::SingleShotConnection);
    QTimer::singleShot(kShotPatienceMilliseconds, &window, [] { QApplication::exit(1); });
}

} // namespace

bool load_fonts(const Path& data) {
    bool all = true;
    for (const char* file : {"B612-Regular.otf", "B612-Bold.otf"})
        all = QFontDatabase::addApplicationFont(qs((data / "fonts" / file).string())) >= 0 && all;
    return all;
}

int run_application(int argc, char** argv) {
    QElapsedTimer since_start;
    since_start.start();
    StartOptions o;
    std::string job, station, theme, shot, part, size;
    CLI::App parser{"Ohmotrace: find out why a power supply died, plan the repair, bring it up step by step."};
    parser.add_option("JOB", job, "a job file (.ohmo.json)");
    parser.add_option("--station", station, "take-in, make-safe, trace, probe, story, parts, power-up, hand-back");
    parser.add_option("--theme", theme, "light or dark")->check(CLI::IsMember({"light", "dark"}));
    parser.add_option("--shot", shot, "write a PNG of the window and quit");
    parser.add_option("--size", size, "WIDTHxHEIGHT of the window");
    parser.add_option("--part", part, "select this part");
    parser.add_option("--text", o.text_percent, "size of text in per cent, 80 to 200");
    parser.add_flag("--time-start", o.time_start, "print the milliseconds until the window is usable, then quit");
    try {
        parser.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return parser.exit(error) == 0 ? 0 : 2;
    }
    const bool sized = !size.empty();
    if (sized && (std::sscanf(size.c_str(), "%dx%d", &o.width, &o.height) != 2 || o.width < 400 || o.height < 300)) {
        std::fprintf(stderr, "--size: “%s” is not understood; use 1280x800\n", size.c_str());
        return 2;
    }
    QApplication app(argc, argv);
    QApplication::setApplicationName(QStringLiteral("Ohmotrace"));
    const Path data = data_dir();
    if (!load_fonts(data)) std::fprintf(stderr, "fonts missing in %s\n", data.string().c_str());

    const RealDisk disk;
    const SystemClock clock;
    auto reader = JobReader::make(disk, data);
    if (!reader) return fail(reader.problems());
    auto analyst = Analyst::make(disk, data);
    if (!analyst) return fail(analyst.problems());
    const bool throwaway = !shot.empty() || o.time_start; // leaves no trace in the user's settings
    Settings settings(throwaway ? QStringLiteral("/dev/null") : Settings::default_file());
    ThemeSource themes;
    themes.apply((theme.empty() ? ss(settings.theme()) : theme) == "dark", o.text_percent > 0 ? o.text_percent : settings.text_percent());
    Session session({disk, clock, data, throwaway ? Path() : state_dir() / "recovery.ohmo.json"}, std::move(*reader), std::move(*analyst));
    MainWindow window(session, settings, themes);
    if (sized) window.resize(o.width, o.height);
    if (!job.empty()) window.open_job(qs(job));
    if (!station.empty()) window.go_to(qs(station));
    window.show();
    if (!throwaway) window.offer_recovery();
    if (!part.empty()) window.select_part(qs(part));
    if (o.time_start)
        QTimer::singleShot(0, &window, [&] {
            std::printf("%lld\n", static_cast<long long>(since_start.elapsed()));
            QApplication::exit(0);
        });
    if (!shot.empty()) shoot_when_ready(window, session, qs(shot));
    return QApplication::exec();
}

} // namespace ohmo
