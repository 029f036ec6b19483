// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "base/disk.h"
#include "base/result.h"

#include <QString>

namespace ohmo {

/// Registers the shipped fonts. False when one is missing.
bool load_fonts(const Path& data);

/// What the program was started with.
struct StartOptions {
    QString job, station, theme, shot;
    QString part;              ///< selected at the start
    int width = 0, height = 0; ///< 0: as remembered
    int text_percent = 0;      ///< 0: as in the settings
    bool time_start = false;   ///< prints milliseconds until the window is usable, then quits
};

int run_application(int argc, char** argv);

} // namespace ohmo
