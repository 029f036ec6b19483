// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/application.h"

#include "gui/main_window.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "report/wording.h"

#include <QAction>
#include <QApplication>
#include <QCommandLineParser>
#include <QDialog>
#include <QElapsedTimer>
#include <QFontDatabase>
#include <QStandardPaths>
#include <QTimer>

#include <fontconfig/fontconfig.h>

#include <algorithm>
#include <cstdio>
#include <future>
#include <optional>
#include <utility>

namespace ohmo {
namespace {

constexpr int kShotPatienceMilliseconds = 60'000;
constexpr int kDialogMilliseconds = 600; // until what a dialog shows has been read

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

// Prints what is wrong and returns nothing when the arguments are not understood.
std::optional<StartOptions> read_arguments(const QStringList& arguments) {
    QCommandLineParser parser;
    parser.setApplicationDescription(QStringLiteral("Find out why a power supply died, plan the repair, bring it up step by step."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(QStringLiteral("JOB"), QStringLiteral("a job file (.ohmo.json)"));
    const auto option = [&](const char* name, const char* help, const char* value) {
        parser.addOption({QString::fromLatin1(name), QString::fromLatin1(help), QString::fromLatin1(value)});
    };
    option("station", "take-in, make-safe, trace, probe, story, parts, power-up or hand-back", "NAME");
    option("theme", "light or dark", "NAME");
    option("shot", "write a PNG of the window and quit", "FILE");
    option("dialog",
           "with --shot: of the dialog of this action instead: new, look-round, part-sheet, apart, rails-round, hunt, twin, meter-in-hand",
           "ACTION");
    option("size", "of the window, such as 1280x800", "WIDTHxHEIGHT");
    option("part", "select this part", "REF");
    option("text", "size of text in per cent, 80 to 200", "PERCENT");
    parser.addOption(
        {QStringLiteral("dated-today"), QStringLiteral("the job's entries moved in time, so that the last one is of a few minutes ago")});
    parser.addOption({QStringLiteral("time-start"), QStringLiteral("print the milliseconds until the window is usable, then quit")});
    if (!parser.parse(arguments)) {
        std::fprintf(stderr, "%s\n", qPrintable(parser.errorText()));
        return std::nullopt;
    }
    StartOptions o;
    if (parser.isSet(QStringLiteral("version"))) o.said = QStringLiteral("Ohmotrace %1\n").arg(QString::fromLatin1(OHMO_VERSION));
    if (parser.isSet(QStringLiteral("help"))) o.said = parser.helpText();
    if (!o.said.isEmpty()) return o;
    o.job = parser.positionalArguments().value(0);
    o.station = parser.value(QStringLiteral("station"));
    o.theme = parser.value(QStringLiteral("theme"));
    o.shot = parser.value(QStringLiteral("shot"));
    o.dialog = parser.value(QStringLiteral("dialog"));
    o.part = parser.value(QStringLiteral("part"));
    o.text_percent = parser.value(QStringLiteral("text")).toInt();
    o.time_start = parser.isSet(QStringLiteral("time-start"));
    o.dated_today = parser.isSet(QStringLiteral("dated-today"));
    const auto refuse = [](const char* name, const QString& found, const char* use) {
        std::fprintf(stderr, "--%s: \"%s\" is not understood; use %s\n", name, qPrintable(found), use);
        return std::nullopt;
    };
    const auto& stations = all_stations();
    if (!o.station.isEmpty() && std::none_of(stations.begin(), stations.end(), [&](const StationInfo& s) { return s.id == o.station; }))
        return refuse("station", o.station, "one that --help lists");
    if (!o.theme.isEmpty() && o.theme != QStringLiteral("light") && o.theme != QStringLiteral("dark"))
        return refuse("theme", o.theme, "light or dark");
    if (const QString size = parser.value(QStringLiteral("size")); !size.isEmpty()) {
        const auto sides = size.split(QLatin1Char('x'));
        o.width = sides.value(0).toInt();
        o.height = sides.value(1).toInt();
        if (sides.size() != 2 || o.width < 400 || o.height < 300) return refuse("size", size, "1280x800");
    }
    return o;
}

// Grabs the window once the analysis is there and everything has been painted.
void shoot_when_ready(MainWindow& window, Session& session, const QString& file, const QString& dialog) {
    const auto shoot = [&window, file, dialog] {
        if (auto* action = window.findChild<QAction*>(QStringLiteral("action-") + dialog)) action->trigger();
        QTimer::singleShot(dialog.isEmpty() ? 150 : kDialogMilliseconds, &window, [&window, file] {
            auto* shown = window.findChild<QDialog*>();
            if (shown != nullptr) shown->resize(shown->property(kWantedSize).toSize()); // whatever screen there is
            const bool saved = (shown != nullptr ? static_cast<QWidget*>(shown) : &window)->grab().save(file);
            if (!saved) std::fprintf(stderr, "%s: cannot be written\n", qPrintable(file));
            QApplication::exit(saved ? 0 : 3);
        });
    };
    if (session.up_to_date() || (!session.has_job() && !session.loading())) return shoot();
    QObject::connect(&session, &Session::analysis_changed, &window, [&session, shoot] {
        if (session.up_to_date()) shoot();
    });
    QTimer::singleShot(kShotPatienceMilliseconds, &window, [] { QApplication::exit(1); });
}

} // namespace

bool load_fonts(const Path& data) {
    bool all = true;
    for (const char* file : {"B612-Regular.otf", "B612-Bold.otf"})
        all = QFontDatabase::addApplicationFont(qs((data / "fonts" / file).string())) >= 0 && all;
    return all;
}

// Help and mistakes are for a terminal, with or without a display.
std::optional<StartOptions> arguments_of(int argc, char** argv) {
    const QCoreApplication terminal(argc, argv);
    return read_arguments(QCoreApplication::arguments());
}

int run_application(int argc, char** argv) {
    QElapsedTimer since_start;
    since_start.start();
    const auto o = arguments_of(argc, argv);
    if (!o) return 2;
    if (!o->said.isEmpty()) {
        std::fputs(qPrintable(o->said), stdout);
        return 0;
    }
    const Path data = data_dir();
    const RealDisk disk;
    const SystemClock clock;
    // While the display is being asked for: what is read, and the system's fonts, which take as long again to be found.
    auto finding_fonts = std::async(std::launch::async, [] { FcInit(); });
    auto reading = std::async(std::launch::async, [&] { return std::pair(JobReader::make(disk, data), Analyst::make(disk, data)); });
    QCoreApplication::setAttribute(
        Qt::AA_DontUseNativeMenuBar); // the menus stand in the window; nobody has to be asked over the desktop's bus
    QApplication app(argc, argv);
    QApplication::setApplicationName(QStringLiteral("Ohmotrace"));
    QApplication::setApplicationVersion(QStringLiteral(OHMO_VERSION));
    finding_fonts.wait();
    if (!load_fonts(data)) std::fprintf(stderr, "fonts missing in %s\n", data.string().c_str());

    auto [reader, analyst] = reading.get();
    if (!reader) return fail(reader.problems());
    if (!analyst) return fail(analyst.problems());
    const bool throwaway = !o->shot.isEmpty() || o->time_start;             // leaves no trace in the user's settings
    QCoreApplication::instance()->setProperty("still", !o->shot.isEmpty()); // tiles are where they belong at once
    Settings settings(throwaway ? QStringLiteral("/dev/null") : Settings::default_file());
    ThemeSource themes;
    themes.apply((o->theme.isEmpty() ? settings.theme() : o->theme) == QStringLiteral("dark"),
                 o->text_percent > 0 ? o->text_percent : settings.text_percent());
    Session session({disk, clock, data, throwaway ? Path() : state_dir() / "recovery.ohmo.json"}, std::move(*reader), std::move(*analyst));
    MainWindow window(session, settings, themes, o->station);
    if (o->width > 0) window.resize(o->width, o->height);
    if (!o->job.isEmpty() && o->dated_today)
        session.open_dated_today(ss(o->job));
    else if (!o->job.isEmpty())
        window.open_job(o->job);
    window.show();
    if (!throwaway) window.offer_recovery();
    if (!o->part.isEmpty()) QObject::connect(&session, &Session::opened, &window, [&] { window.select_part(o->part); });
    if (o->time_start)
        QTimer::singleShot(0, &window, [&] {
            std::printf("%lld\n", static_cast<long long>(since_start.elapsed()));
            std::fflush(stdout);
            QApplication::exit(0);
        });
    if (!o->shot.isEmpty()) shoot_when_ready(window, session, o->shot, o->dialog);
    return QApplication::exec();
}

} // namespace ohmo
