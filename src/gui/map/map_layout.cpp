// SPDX-License-Identifier: GPL-3.0-or-later
// Method: layered drawing after K. Sugiyama et al. (IEEE Trans. SMC 11, 1981): columns by stage, split by distance from the mains where one
// would be too tall, order within a column by barycentre sweeps, then rows assigned near the barycentre so that a rail runs straight.
// Control and feedback stand in a band of their own under the energy path of their side. Wires run in the gutters, each net on its own
// track.
#include "gui/map/map_layout.h"

#include "board/roles.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

namespace ohmo {
namespace {

constexpr double kTileW = 96, kTileH = 44, kGutterX = 22, kGapY = 16, kHeader = 26, kMargin = 10;
constexpr double kPitchX = kTileW + kGutterX, kPitchY = kTileH + kGapY;
constexpr int kMostInTile = 3;

int weight_of(PartKind kind) { // who leads a shared tile
    if (is_wet_or_solid_electrolytic(kind)) return 0;
    if (kind == PartKind::Diode || kind == PartKind::Schottky || kind == PartKind::Zener) return 1;
    if (is_capacitor(kind)) return 2;
    return 3;
}

bool may_share(const Part& part) {
    return part.pins.size() == 2 && part.pins[0].id != part.pins[1].id &&
           (is_capacitor(part.kind) || is_resistor_like(part.kind) || is_diode_like(part.kind));
}

std::vector<std::vector<int>> group_parts(const Board& board, const std::vector<int>& stage) {
    const int count = static_cast<int>(board.parts.size());
    std::vector<int> pins_on(board.nets.size(), 0);
    for (const auto& part : board.parts)
        for (const auto& pin : part.pins) ++pins_on[static_cast<std::size_t>(pin.id)];
    std::vector<int> group(static_cast<std::size_t>(count));
    std::iota(group.begin(), group.end(), 0);
    const auto size = [&](int g) { return std::count(group.begin(), group.end(), g); };
    for (int a = 0; a < count; ++a) {
        if (!may_share(board.part(a))) continue;
        for (int b = a + 1; b < count; ++b) {
            if (!may_share(board.part(b)) || stage[static_cast<std::size_t>(a)] != stage[static_cast<std::size_t>(b)]) continue;
            const auto &p = board.part(a).pins, &q = board.part(b).pins;
            const bool parallel = (p[0].id == q[0].id && p[1].id == q[1].id) || (p[0].id == q[1].id && p[1].id == q[0].id);
            bool series = false;
            for (const auto& x : p)
                for (const auto& y : q) series = series || (x.id == y.id && pins_on[static_cast<std::size_t>(x.id)] == 2);
            const int ga = group[static_cast<std::size_t>(a)], gb = group[static_cast<std::size_t>(b)];
            if ((parallel || series) && ga != gb && size(ga) + size(gb) <= kMostInTile) std::replace(group.begin(), group.end(), gb, ga);
        }
    }
    std::map<int, std::vector<int>> by_group;
    for (int i = 0; i < count; ++i) by_group[group[static_cast<std::size_t>(i)]].push_back(i);
    std::vector<std::vector<int>> out;
    for (auto& [g, parts] : by_group) {
        std::stable_sort(parts.begin(), parts.end(),
                         [&](int a, int b) { return weight_of(board.part(a).kind) < weight_of(board.part(b).kind); });
        out.push_back(parts);
    }
    return out;
}

class Layouter {
public:
    Layouter(const Board& board, const BoardRoles& roles, const std::vector<char>& returns)
        : m_board(board), m_roles(roles), m_returns(returns) {
        const auto stage = stage_index(board);
        for (auto& parts : group_parts(board, stage)) {
            m_stage.push_back(stage[static_cast<std::size_t>(parts.front())]);
            m_tiles.push_back({std::move(parts), {}, 0, false});
        }
        connect_tiles();
        measure_depth();
    }

    MapLayout place(int rows) {
        MapLayout out;
        choose_columns(rows);
        order_rows();
        set_boxes(out);
        out.tiles = m_tiles;
        out.is_return = m_returns;
        out.tile_of.assign(m_board.parts.size(), -1);
        for (std::size_t t = 0; t < m_tiles.size(); ++t)
            for (int p : m_tiles[t].parts) out.tile_of[static_cast<std::size_t>(p)] = static_cast<int>(t);
        return out;
    }

private:
    static bool is_support(int stage) { return stage == 5 || stage == 9; }
    static bool is_hot(int stage) { return stage <= 5; }
    static constexpr int kBarrier = 6;

    void connect_tiles() {
        std::vector<std::set<int>> on_net(m_board.nets.size());
        for (std::size_t t = 0; t < m_tiles.size(); ++t)
            for (int p : m_tiles[t].parts)
                for (const auto& pin : m_board.part(p).pins) on_net[static_cast<std::size_t>(pin.id)].insert(static_cast<int>(t));
        m_near.resize(m_tiles.size());
        for (std::size_t n = 0; n < on_net.size(); ++n) {
            if (m_returns[n]) continue;
            for (int a : on_net[n])
                for (int b : on_net[n])
                    if (a != b) m_near[static_cast<std::size_t>(a)].push_back(b);
        }
    }

    // Steps from the first stage present, by tiles.
    void measure_depth() {
        m_depth.assign(m_tiles.size(), 1000);
        std::vector<int> front;
        const int first = m_stage.empty() ? 0 : *std::min_element(m_stage.begin(), m_stage.end());
        for (std::size_t t = 0; t < m_tiles.size(); ++t)
            if (m_stage[t] == first && m_board.part(m_tiles[t].parts.front()).kind == PartKind::Connector) {
                m_depth[t] = 0;
                front.push_back(static_cast<int>(t));
            }
        if (front.empty() && !m_tiles.empty()) {
            m_depth[0] = 0;
            front.push_back(0);
        }
        while (!front.empty()) {
            std::vector<int> next;
            for (int t : front)
                for (int other : m_near[static_cast<std::size_t>(t)])
                    if (m_depth[static_cast<std::size_t>(other)] == 1000) {
                        m_depth[static_cast<std::size_t>(other)] = m_depth[static_cast<std::size_t>(t)] + 1;
                        next.push_back(other);
                    }
            front = std::move(next);
        }
    }

    void choose_columns(int rows) {
        m_columns.clear();
        m_column_stage.clear();
        for (int s = 0; s < static_cast<int>(stage_order().size()); ++s) {
            if (is_support(s)) continue;
            std::vector<int> members;
            for (std::size_t t = 0; t < m_tiles.size(); ++t)
                if (m_stage[t] == s) members.push_back(static_cast<int>(t));
            if (members.empty()) continue;
            std::stable_sort(members.begin(), members.end(),
                             [&](int a, int b) { return m_depth[static_cast<std::size_t>(a)] < m_depth[static_cast<std::size_t>(b)]; });
            const int parts = (static_cast<int>(members.size()) + rows - 1) / rows;
            const int each = (static_cast<int>(members.size()) + parts - 1) / parts;
            for (int c = 0; c < parts; ++c) {
                const auto from = members.begin() + c * each;
                m_columns.emplace_back(from, std::min(from + each, members.end()));
                m_column_stage.push_back(s);
            }
        }
        m_rows = 0;
        for (const auto& c : m_columns) m_rows = std::max(m_rows, static_cast<int>(c.size()));
        m_rows = std::max(m_rows, static_cast<int>(m_board.rails.size()));
        for (std::size_t c = 0; c < m_columns.size(); ++c)
            for (int t : m_columns[c]) m_tiles[static_cast<std::size_t>(t)].column = static_cast<int>(c);
    }

    double barycentre(int tile, int step) const { // of neighbours in columns on the side the sweep comes from
        double sum = 0;
        int n = 0;
        const int column = m_tiles[static_cast<std::size_t>(tile)].column;
        for (int other : m_near[static_cast<std::size_t>(tile)]) {
            if (is_support(m_stage[static_cast<std::size_t>(other)])) continue;
            const int there = m_tiles[static_cast<std::size_t>(other)].column;
            if ((step > 0 && there < column) || (step < 0 && there > column)) {
                sum += m_row[static_cast<std::size_t>(other)];
                ++n;
            }
        }
        return n > 0 ? sum / n : m_row[static_cast<std::size_t>(tile)];
    }

    void order_rows() {
        m_row.assign(m_tiles.size(), 0);
        for (const auto& c : m_columns)
            for (std::size_t k = 0; k < c.size(); ++k) m_row[static_cast<std::size_t>(c[k])] = static_cast<double>(k);
        for (int sweep = 0; sweep < 8; ++sweep) {
            const int step = sweep % 2 == 0 ? 1 : -1;
            for (std::size_t k = 0; k < m_columns.size(); ++k) place_column(m_columns[step > 0 ? k : m_columns.size() - 1 - k], step);
        }
    }

    void place_column(std::vector<int>& column, int step) {
        std::map<int, double> wanted;
        for (int t : column) wanted[t] = barycentre(t, step);
        std::stable_sort(column.begin(), column.end(), [&](int a, int b) { return wanted[a] < wanted[b]; });
        int row = 0;
        for (std::size_t k = 0; k < column.size(); ++k) {
            const int latest = m_rows - static_cast<int>(column.size() - k);
            row = std::clamp(static_cast<int>(std::lround(wanted[column[k]])), row, std::max(latest, row));
            m_row[static_cast<std::size_t>(column[k])] = row++;
        }
    }

    QRectF cell(double column, double row, double top) const { return {kMargin + column * kPitchX, top + row * kPitchY, kTileW, kTileH}; }

    // Columns of one side, for its support band.
    void support_band(MapLayout& out, int stage, int first, int last, double top) {
        std::vector<int> members;
        for (std::size_t t = 0; t < m_tiles.size(); ++t)
            if (m_stage[t] == stage) members.push_back(static_cast<int>(t));
        if (members.empty()) return;
        const int wide = std::max(1, last - first + 1);
        const int rows = (static_cast<int>(members.size()) + wide - 1) / wide;
        // Nearest below what they belong to: sort by mean column of their neighbours.
        std::map<int, double> wanted;
        for (int t : members) {
            double sum = 0;
            int n = 0;
            for (int other : m_near[static_cast<std::size_t>(t)])
                if (!is_support(m_stage[static_cast<std::size_t>(other)])) sum += m_tiles[static_cast<std::size_t>(other)].column, ++n;
            wanted[t] = n > 0 ? sum / n : (first + last) / 2.0;
        }
        std::stable_sort(members.begin(), members.end(), [&](int a, int b) { return wanted[a] < wanted[b]; });
        for (std::size_t k = 0; k < members.size(); ++k) {
            const auto t = static_cast<std::size_t>(members[k]);
            // Aligned to the right end on the hazardous side, where the switch stands.
            const int column = is_hot(stage) ? last - wide + 1 + static_cast<int>(k) / rows : first + static_cast<int>(k) / rows;
            m_tiles[t].column = column;
            m_tiles[t].box = cell(column, static_cast<int>(k) % rows, top + kHeader);
        }
        m_support_rows = std::max(m_support_rows, rows);
        out.regions.push_back({stage_title(m_board, stage), {kMargin + first * kPitchX, top, wide * kPitchX - kGutterX, kHeader}});
    }

    void set_boxes(MapLayout& out) {
        const double top = kMargin + kHeader;
        int first_cold = static_cast<int>(m_columns.size()), barrier = -1;
        for (std::size_t c = 0; c < m_columns.size(); ++c) {
            const int s = m_column_stage[c];
            if (s == kBarrier) barrier = static_cast<int>(c);
            if (s > kBarrier) first_cold = std::min(first_cold, static_cast<int>(c));
            const int rows = static_cast<int>(m_columns[c].size());
            const double shift = s == kBarrier ? m_rows - rows : 0; // the coupler stands low, beside control and feedback
            for (std::size_t k = 0; k < m_columns[c].size(); ++k) {
                const auto t = static_cast<std::size_t>(m_columns[c][k]);
                m_tiles[t].box = cell(static_cast<double>(c), s == kBarrier ? shift + static_cast<double>(k) : m_row[t], top);
            }
            if (c == 0 || m_column_stage[c - 1] != s)
                out.regions.push_back({stage_title(m_board, s), {kMargin + static_cast<double>(c) * kPitchX, kMargin, kTileW, kHeader}});
        }
        for (std::size_t t = 0; t < m_tiles.size(); ++t) m_tiles[t].hot = is_hot(m_stage[t]);
        const int columns = static_cast<int>(m_columns.size());
        pills(out, columns, top);
        const double band = top + m_rows * kPitchY;
        m_support_rows = 0;
        const int last_hot = (barrier >= 0 ? barrier : first_cold) - 1;
        support_band(out, 5, 0, std::max(0, last_hot), band);
        support_band(out, 9, std::min(first_cold, columns - 1), columns - 1 + (out.pills.empty() ? 0 : 1), band);
        const double height = band + (m_support_rows > 0 ? kHeader + m_support_rows * kPitchY : 0) + kMargin - kGapY / 2;
        const double width = 2 * kMargin + (columns + (out.pills.empty() ? 0 : 1)) * kPitchX;
        out.size = {width, height};
        const auto edge = [&](int c) { return kMargin + c * kPitchX - kGutterX / 2; };
        if (m_roles.rails_on_mains) {
            for (auto& tile : m_tiles) tile.hot = true;
            out.hot_area = {0, 0, width, height};
            return;
        }
        if (last_hot >= 0 && m_board.mains) out.hot_area = {0, 0, edge(last_hot + 1), height};
        const double cold_from = barrier >= 0 ? edge(barrier + 1) : out.hot_area.right();
        if (first_cold < columns || !m_board.mains) out.cold_area = {cold_from, 0, width - cold_from, height};
        if (barrier >= 0) out.barrier = {edge(barrier), 0, kPitchX, height};
    }

    void pills(MapLayout& out, int column, double top) const {
        std::vector<std::pair<double, int>> wanted;
        for (int r = 0; r < static_cast<int>(m_board.rails.size()); ++r) {
            const NetId net = m_board.rails[static_cast<std::size_t>(r)].net_id;
            double sum = 0;
            int n = 0;
            for (std::size_t t = 0; t < m_tiles.size(); ++t)
                for (int p : m_tiles[t].parts)
                    for (const auto& pin : m_board.part(p).pins)
                        if (pin.id == net && !is_support(m_stage[t]) && m_tiles[t].parts.size() < 4 && m_board.part(p).pins.size() == 2)
                            sum += m_row[t], ++n;
            wanted.emplace_back(n > 0 ? sum / n : r, r);
        }
        std::stable_sort(wanted.begin(), wanted.end());
        int row = 0;
        for (std::size_t k = 0; k < wanted.size(); ++k) {
            const int latest = m_rows - static_cast<int>(wanted.size() - k);
            row = std::clamp(static_cast<int>(std::lround(wanted[k].first)), row, std::max(row, latest));
            out.pills.push_back({wanted[k].second, cell(column, row++, top)});
        }
        if (!out.pills.empty()) out.regions.push_back({QStringLiteral("OUTPUT"), {kMargin + column * kPitchX, kMargin, kTileW, kHeader}});
    }

    const Board& m_board;
    const BoardRoles& m_roles;
    const std::vector<char>& m_returns;
    std::vector<MapTile> m_tiles;
    std::vector<int> m_stage, m_depth; // by tile
    std::vector<std::vector<int>> m_near;
    std::vector<std::vector<int>> m_columns;
    std::vector<int> m_column_stage;
    std::vector<double> m_row;
    int m_rows = 0, m_support_rows = 0;
};

// A polyline with rounded corners.
QPainterPath rounded(const std::vector<QPointF>& points, double radius = 5) {
    QPainterPath path(points.front());
    for (std::size_t i = 1; i + 1 < points.size(); ++i) {
        const QPointF in = points[i] - points[i - 1], out = points[i + 1] - points[i];
        const double a = std::hypot(in.x(), in.y()), b = std::hypot(out.x(), out.y());
        const double r = std::min({radius, a / 2, b / 2});
        if (a < 1e-6 || b < 1e-6) continue;
        path.lineTo(points[i] - in * (r / a));
        path.quadTo(points[i], points[i] + out * (r / b));
    }
    path.lineTo(points.back());
    return path;
}

QPainterPath route(const QRectF& a, const QRectF& b, double ya, double yb, double track) {
    const bool same_column = std::fabs(a.left() - b.left()) < 1;
    const double gx = a.right() + kGutterX * track;
    if (same_column) return rounded({{a.right(), ya}, {gx, ya}, {gx, yb}, {b.right(), yb}});
    if (b.left() - a.right() < kGutterX + 1) return rounded({{a.right(), ya}, {gx, ya}, {gx, yb}, {b.left(), yb}});
    const double ex = b.left() - kGutterX * (1 - track);
    if (std::fabs(a.top() - b.top()) < 1 && std::fabs(ya - yb) < 1e-6) return rounded({{a.right(), ya}, {b.left(), yb}});
    const double channel = b.top() - kGapY * (0.15 + 0.7 * track);
    return rounded({{a.right(), ya}, {gx, ya}, {gx, channel}, {ex, channel}, {ex, yb}, {b.left(), yb}});
}

void add_wires(const Board& board, const BoardRoles& roles, MapLayout& out) {
    struct End {
        QRectF box;
        double y;
    };
    std::vector<std::vector<End>> ends(board.nets.size());
    for (const auto& tile : out.tiles) {
        std::set<NetId> nets;
        for (int p : tile.parts)
            for (const auto& pin : board.part(p).pins) nets.insert(pin.id);
        std::size_t k = 0;
        for (NetId net : nets)
            ends[static_cast<std::size_t>(net)].push_back(
                {tile.box, tile.box.top() + tile.box.height() * (static_cast<double>(++k)) / (static_cast<double>(nets.size()) + 1)});
    }
    for (const auto& pill : out.pills)
        if (const NetId net = board.rails[static_cast<std::size_t>(pill.rail)].net_id; net >= 0)
            ends[static_cast<std::size_t>(net)].push_back({pill.box, pill.box.center().y()});
    for (NetId net = 0; net < static_cast<NetId>(board.nets.size()); ++net) {
        auto& list = ends[static_cast<std::size_t>(net)];
        if (list.size() < 2) continue;
        std::stable_sort(list.begin(), list.end(), [](const End& a, const End& b) {
            return a.box.left() != b.box.left() ? a.box.left() < b.box.left() : a.box.top() < b.box.top();
        });
        MapWire wire;
        wire.net = net;
        wire.hot = out.hot_area.contains(list.front().box.center());
        wire.main = net == roles.hv || net == roles.drain ||
                    std::any_of(board.rails.begin(), board.rails.end(), [&](const Rail& r) { return r.net_id == net; });
        const double track = 0.18 + 0.64 * std::fmod(net * 0.381966, 1.0);
        for (std::size_t i = 1; i < list.size(); ++i)
            wire.path.addPath(route(list[i - 1].box, list[i].box, list[i - 1].y, list[i].y, track));
        out.wires.push_back(std::move(wire));
    }
}

} // namespace

QString stage_title(const Board& board, int stage) {
    const auto& name = stage_order()[static_cast<std::size_t>(stage)];
    if (name == "mains-in" && !board.mains) return QStringLiteral("INPUT");
    return QString::fromStdString(name).replace(QLatin1Char('-'), QLatin1Char(' ')).toUpper();
}

std::vector<int> stage_index(const Board& board) {
    std::vector<int> out;
    const auto& order = stage_order();
    for (const auto& part : board.parts) {
        const auto at = std::find(order.begin(), order.end(), part.stage);
        out.push_back(at == order.end() ? static_cast<int>(order.size()) - 1 : static_cast<int>(at - order.begin()));
    }
    return out;
}

std::vector<char> find_returns(const Board& board, const BoardRoles& roles) {
    std::vector<char> out(board.nets.size(), 0);
    const auto mark = [&](NetId net) {
        if (net >= 0) out[static_cast<std::size_t>(net)] = 1;
    };
    mark(roles.primary_ground);
    for (const auto& rail : board.rails) mark(rail.return_id);
    if (const auto earth = board.find_net("PE")) mark(*earth);
    return out;
}

int MapLayout::tile_at(QPointF point) const {
    for (std::size_t t = 0; t < tiles.size(); ++t)
        if (tiles[t].box.contains(point)) return static_cast<int>(t);
    return -1;
}

int MapLayout::fold_at(QPointF point) const {
    for (std::size_t f = 0; f < folds.size(); ++f)
        if (folds[f].box.contains(point)) return static_cast<int>(f);
    return -1;
}

MapLayout lay_out_map(const Board& board, const BoardRoles& roles, double aspect) {
    MapLayout best;
    if (board.parts.empty()) return best;
    const auto returns = find_returns(board, roles);
    Layouter layouter(board, roles, returns);
    double best_scale = 0;
    for (int rows = 3; rows <= 12; ++rows) {
        MapLayout candidate = layouter.place(rows);
        const double scale = std::min(aspect / candidate.size.width(), 1 / candidate.size.height());
        if (scale <= best_scale) continue;
        best_scale = scale;
        best = std::move(candidate);
    }
    add_wires(board, roles, best);
    return best;
}

} // namespace ohmo
