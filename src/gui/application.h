// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "base/disk.h"
#include "base/result.h"

#include <QString>

#include <optional>

namespace ohmo {

/// Registers the shipped fonts. False when one is missing.
bool load_fonts(const Path& data);

/// What the program was started with.
struct StartOptions {
    QString job, station, theme, shot, dialog;
    QString part;              ///< selected at the start
    int width = 0, height = 0; ///< 0: as remembered
    int text_percent = 0;      ///< 0: as in the settings
    bool dated_today = false;  ///< the job's entries are moved in time
    QString said;              ///< help or version: printed, and nothing else is done
    bool time_start = false;   ///< prints milliseconds until the window is usable, then quits
};

/// What the arguments ask for; prints what is wrong and returns nothing when they are not understood. Needs no display.
std::optional<StartOptions> arguments_of(int argc, char** argv);

int run_application(int argc, char** argv);

} // namespace ohmo
