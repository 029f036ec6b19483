// SPDX-License-Identifier: GPL-3.0-or-later
// What the frame knows of a station. Stations get their collaborators in the constructor and are made when first shown.
#pragma once
#include "appcore/session.h"
#include "gui/logbook.h"
#include "gui/selection.h"
#include "gui/theme/theme.h"

#include <QWidget>

#include <functional>
#include <vector>

namespace ohmo {

struct Collaborators {
    Session& session;
    Logbook& logbook;
    Selection& selection;
    const ThemeSource& theme;
    std::function<void(const QString&)> write_bench_line; ///< puts text into the bench line and goes there
    std::function<void(const QString&)> go_to;            ///< shows a station by id
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
