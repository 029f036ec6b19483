// SPDX-License-Identifier: GPL-3.0-or-later
// The board laid out by itself along the energy path. A pure function of the board and the shape of the window.
#pragma once
#include "board/roles.h"

#include <QPainterPath>
#include <QRectF>
#include <QString>

#include <set>
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
    QPointF label;     ///< where its name goes, on its own track
};

/// What is settled or unlikely of some stages, in one counted tile.
struct MapFold {
    std::vector<int> parts;
    std::vector<int> stages;
    QRectF box;
    bool open = false; ///< its parts are shown; the tile puts them away again
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
    std::vector<MapFold> folds;
    std::vector<MapRegion> regions;
    QRectF hot_area, cold_area, barrier; ///< null where the board has none
    std::vector<int> tile_of;            ///< by part
    std::vector<char> is_return;         ///< by net: grounds and returns, drawn only when asked for
    double text = 1;                     ///< of the text scale, already in every box
    bool folded = false;

    int tile_at(QPointF point) const; ///< -1: none
    int fold_at(QPointF point) const; ///< -1: none
};

/// What of a board is to be seen in detail.
struct MapFocus {
    std::vector<char> open; ///< by part
    std::set<int> unfolded; ///< stages opened by hand, by their place in stage_order()
    std::set<int> returns;  ///< nets of grounds and returns that are drawn
    QSizeF view;            ///< logical pixels
    double text = 1;
};

/// The open parts in tiles of readable size, the rest of each stage folded into one; at scale 1 it is as wide as the view unless that is
/// narrower than four tiles.
MapLayout lay_out_focus(const Board& board, const BoardRoles& roles, const MapFocus& focus);

/// Grounds and returns, by net; earth.
std::vector<char> find_returns(const Board& board, const BoardRoles& roles);
/// By part: its place in stage_order().
std::vector<int> stage_index(const Board& board);
/// Heading of a column: a board without mains has an input.
QString stage_title(const Board& board, int stage);

/// `aspect`: width over height of the view; the number of rows is chosen so that everything is shown as large as possible.
MapLayout lay_out_map(const Board& board, const BoardRoles& roles, double aspect);

} // namespace ohmo
