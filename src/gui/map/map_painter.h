// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/session.h"
#include "gui/map/map_layout.h"
#include "gui/theme/theme.h"

class QPainter;

namespace ohmo {

struct MapPicture {
    const MapLayout& layout;
    const Session& session;
    const Theme& theme;
    int selected = -1;
    const std::vector<Step>& chain;
    double scale = 1; ///< keeps strokes and small text readable
    int leads = -1;   ///< part that the leads go to next
};

void paint_map(QPainter& painter, const MapPicture& picture);

} // namespace ohmo
