// SPDX-License-Identifier: GPL-3.0-or-later
// The board laid out by itself along the energy path. A pure function of the board and the shape of the window.
#pragma once
#include "board/roles.h"

#include <QPainterPath>
#include <QRectF>
#include <QString>

#include <vector>

namespace ohmo {

/// Parts that sit across the same two nets, or in series through a net of their own, share a tile.
struct MapTile {
    std::vector<int> parts; ///< the one most likely to matter first
    QRectF box;
    int column = 0;
    bool hot = false; ///< on the hazardous side
};

struct MapWire {
    NetId net = -1;
    QPainterPath path;
    bool hot = false;
    bool main = false; ///< bulk, drain and rail nets: drawn heavier
};

struct MapPill {
    int rail = -1;
    QRectF box;
};

struct MapRegion {
    QString title;
    QRectF box; ///< its header strip
};

struct MapLayout {
    QSizeF size;
    std::vector<MapTile> tiles;
    std::vector<MapWire> wires;
    std::vector<MapPill> pills;
    std::vector<MapRegion> regions;
    QRectF hot_area, cold_area, barrier; ///< null where the board has none
    std::vector<int> tile_of;            ///< by part
    std::vector<char> is_return;         ///< by net: grounds and returns, drawn only when asked for

    int tile_at(QPointF point) const; ///< -1: none
};

/// `aspect`: width over height of the view; the number of rows is chosen so that everything is shown as large as possible.
MapLayout lay_out_map(const Board& board, const BoardRoles& roles, double aspect);

} // namespace ohmo
