// SPDX-License-Identifier: GPL-3.0-or-later
// What the frame knows of a station. Stations get their collaborators in the constructor and are made when first shown.
#pragma once
#include "appcore/session.h"
#include "gui/logbook.h"
#include "gui/selection.h"
#include "gui/theme/theme.h"

#include <QObject>
#include <QWidget>

#include <functional>
#include <vector>

namespace ohmo {

/// What the window's keys ask of the suggested reading, wherever one is.
class Suggestions : public QObject {
    Q_OBJECT
Q_SIGNALS:
    void take();
    void step(int by);                                         ///< to the one after (1) or before (-1)
    void asked(const QString& line);                           ///< its line as far as the value; empty: nothing wants one
    void being_typed(const std::optional<ohmo::Entry>& entry); ///< what the bench line understands so far
};

/// A file to be named by the user.
struct FileQuestion {
    QString title, suggested, filter;
    bool save = false; ///< else to be opened
};
/// Asks without blocking; `then` is called only when a name was given.
using ChooseFile = std::function<void(QWidget* window, const FileQuestion& question, std::function<void(const QString& file)> then)>;

struct Collaborators {
    Session& session;
    Logbook& logbook;
    Selection& selection;
    const ThemeSource& theme;
    std::function<void(const QString&)> write_bench_line; ///< puts text into the bench line and goes there
    std::function<void(const QString&)> go_to;            ///< shows a station by id
    Suggestions& suggestions;
    ChooseFile choose_file;
    std::function<QStringList()> recent_jobs;
};

enum class StationState { Open, Done, Locked };

struct StationStatus {
    StationState state = StationState::Open;
    QString why;
};

struct StationInfo {
    QString id, title;
    std::function<QWidget*(const Collaborators&)> make;
    std::function<StationStatus(const Session&)> status;
};

/// How a station stands; without a job none is done.
StationStatus status_of(const StationInfo& info, const Session& session);

/// The eight stations in working order.
const std::vector<StationInfo>& all_stations();

QWidget* make_take_in(const Collaborators& with);
QWidget* make_make_safe(const Collaborators& with);
QWidget* make_trace(const Collaborators& with);
QWidget* make_probe(const Collaborators& with);
QWidget* make_story(const Collaborators& with);
QWidget* make_parts(const Collaborators& with);
QWidget* make_power_up(const Collaborators& with);
QWidget* make_hand_back(const Collaborators& with);

} // namespace ohmo
