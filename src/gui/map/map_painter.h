// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/session.h"
#include "gui/map/map_layout.h"
#include "gui/theme/theme.h"

class QPainter;

namespace ohmo {

/// Where the leads go next.
struct MapLeads {
    int part = -1;
    NetId red = -1, black = -1;
    int red_part = -1, black_part = -1; ///< on whose pins the tips are; mostly that part
    QString red_pin, black_pin;
    bool operator==(const MapLeads&) const = default;
};

struct MapPicture {
    const MapLayout& layout;
    const Session& session;
    const Theme& theme;
    int selected = -1;
    const std::vector<Step>& chain;
    double scale = 1;    ///< screen pixels to one of the layout
    double legible = 13; ///< px on the screen at which a ref is read at arm's length
    MapLeads leads{};
    int fold = -1;     ///< the fold that the keyboard stands on
    NetId lit = -1;    ///< the net under the pointer
    bool wires = true; ///< not while tiles are under way
};

void paint_map(QPainter& painter, const MapPicture& picture);

} // namespace ohmo
