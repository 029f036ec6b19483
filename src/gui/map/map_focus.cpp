// SPDX-License-Identifier: GPL-3.0-or-later
// The map with what matters open: columns by stage along the energy path, neighbouring stages sharing a column where the view is narrow;
// control and feedback in a band of their own. Tiles stand on a grid, so that the gutters beside them and the channels below them are free
// for wires; every net has a track of its own in each that it uses.
#include "gui/map/map_layout.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace ohmo {
namespace {

constexpr double kTileW = 116, kTileH = 48, kFoldH = 26, kGutter = 24, kGap = 14, kHeader = 26, kTitle = 14, kMargin = 8, kStrip = 62;
constexpr int kControl = 5, kBarrier = 6, kFeedback = 9, kRails = 10, kFewestColumns = 4;

constexpr double kWidestTile = 150;
constexpr std::size_t kMixed = 2; // rows that one more stage in a column is as bad as

bool is_support(int stage) { return stage == kControl || stage == kFeedback; }

class FocusLayouter {
public:
    FocusLayouter(const Board& board, const BoardRoles& roles, const MapFocus& focus)
        : m_board(board), m_roles(roles), m_focus(focus), m_stage(stage_index(board)), m_k(focus.text) {}

    MapLayout run() {
        m_out.text = m_k;
        m_out.folded = true;
        m_out.is_return = find_returns(m_board, m_roles);
        m_out.tile_of.assign(m_board.parts.size(), -1);
        make_columns();
        fit_columns();
        place();
        Wires(*this).run();
        return std::move(m_out);
    }

private:
    struct Column {
        std::vector<int> stages, open, folded;
        bool cold = false, strip = false, pills = false, goes_on = false; ///< goes_on: of the column before
        bool unfolded = false;
        double x = 0, w = 0;
        int above = 0; ///< rows that figures of rails take
        int rows() const { return above + static_cast<int>(open.size()) + (folded.empty() && !unfolded ? 0 : 1); }
    };

    bool open(int part) const {
        return m_focus.open[static_cast<std::size_t>(part)] != 0 || m_focus.unfolded.contains(m_stage[static_cast<std::size_t>(part)]);
    }

    Column column_of(int stage) const {
        Column c;
        c.stages = {stage};
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i)
            if (m_stage[static_cast<std::size_t>(i)] == stage) (open(i) ? c.open : c.folded).push_back(i);
        c.unfolded = m_focus.unfolded.contains(stage);
        c.cold = stage > kBarrier;
        return c;
    }

    void make_columns() {
        for (int s = 0; s < static_cast<int>(stage_order().size()); ++s) {
            Column c = column_of(s);
            if (c.open.empty() && c.folded.empty()) continue;
            if (is_support(s)) {
                m_support.push_back(std::move(c));
                continue;
            }
            c.strip = s == kBarrier && c.open.empty();
            m_columns.push_back(std::move(c));
        }
        if (m_board.rails.empty()) return;
        Column c;
        c.pills = c.cold = true;
        c.above = static_cast<int>(m_board.rails.size());
        m_columns.push_back(std::move(c));
    }

    double width_of(const Column& c) const { return (c.strip ? kStrip : kTileW) * m_k; }
    double total() const {
        double sum = 2 * kMargin;
        for (const auto& c : m_columns) sum += width_of(c) + kGutter * m_k;
        return sum;
    }
    static bool mergeable(const Column& a, const Column& b) {
        if (b.pills) return a.stages == std::vector<int>{kRails}; // under the rails' figures
        return !a.pills && !b.pills && a.cold == b.cold && a.stages.front() != kBarrier && b.stages.front() != kBarrier;
    }

    // Neighbours of one side share a column until all fit; a tall one is split where there is room.
    void fit_columns() {
        while (total() > m_focus.view.width() && m_columns.size() > kFewestColumns) {
            std::size_t best = m_columns.size();
            std::size_t least = 1000;
            for (std::size_t i = 1; i < m_columns.size(); ++i) {
                if (!mergeable(m_columns[i - 1], m_columns[i])) continue;
                const auto &a = m_columns[i - 1], &b = m_columns[i];
                const std::size_t rows = a.open.size() + b.open.size() + (b.pills ? 0 : kMixed * (a.stages.size() + b.stages.size()));
                if (rows < least) {
                    least = rows;
                    best = i;
                }
            }
            if (best == m_columns.size()) break;
            auto &a = m_columns[best - 1], &b = m_columns[best];
            a.stages.insert(a.stages.end(), b.stages.begin(), b.stages.end());
            a.open.insert(a.open.end(), b.open.begin(), b.open.end());
            a.folded.insert(a.folded.end(), b.folded.begin(), b.folded.end());
            a.unfolded = a.unfolded || b.unfolded;
            a.pills = b.pills;
            a.above = b.above;
            m_columns.erase(m_columns.begin() + static_cast<std::ptrdiff_t>(best));
        }
        for (;;) {
            const auto tallest =
                std::max_element(m_columns.begin(), m_columns.end(), [](const Column& a, const Column& b) { return a.rows() < b.rows(); });
            if (tallest == m_columns.end() || tallest->rows() <= rows_that_fit() ||
                total() + (kTileW + kGutter) * m_k > m_focus.view.width() || tallest->open.size() < 2 || tallest->pills)
                return;
            Column more = *tallest;
            const auto half = static_cast<std::ptrdiff_t>((tallest->open.size() + 1) / 2);
            more.open.assign(tallest->open.begin() + half, tallest->open.end());
            more.goes_on = true;
            tallest->open.resize(static_cast<std::size_t>(half));
            tallest->folded.clear();
            tallest->unfolded = false;
            m_columns.insert(tallest + 1, std::move(more));
        }
    }

    double pitch() const { return (kTileH + kGap) * m_k; }
    int rows_that_fit() const {
        const double band = m_support.empty() ? 0 : pitch() + kTitle * m_k;
        return std::max(2, static_cast<int>((m_focus.view.height() - kMargin - kHeader * m_k - band) / pitch()));
    }

    void place() {
        double x = kMargin;
        int last = 1;
        const auto wide = static_cast<double>(std::count_if(m_columns.begin(), m_columns.end(), [](const Column& c) { return !c.strip; }));
        const double spare = std::max(0.0, m_focus.view.width() - total()) / std::max(wide, 1.0);
        for (auto& c : m_columns) {
            c.x = x;
            c.w = width_of(c) + (c.strip ? 0 : std::min(spare, (kWidestTile - kTileW) * m_k));
            x += c.w + kGutter * m_k;
            last = std::max(last, c.strip ? 0 : c.rows());
        }
        std::vector<Band> bands;
        for (const auto& s : m_support) {
            bands.push_back(band(s));
            last = std::max(last, bands.back().row + bands.back().rows);
        }
        const double width = std::max(x - kGutter * m_k + kMargin, m_focus.view.width());
        const double top = kMargin + kHeader * m_k;
        std::set<int> titled; // rows with a title above, which wires keep off
        for (const auto& b : bands)
            if (!b.under.empty()) titled.insert(b.row);
        for (int r = 0; r < last; ++r)
            m_row_y.push_back(top + r * pitch() + kTitle * m_k * static_cast<double>(std::distance(titled.begin(), titled.upper_bound(r))));
        for (const auto& c : m_columns) {
            for (int r = 0; r < c.above; ++r) m_out.pills.push_back({r, {c.x, m_row_y[static_cast<std::size_t>(r)], c.w, kTileH * m_k}});
            stand(c, static_cast<std::size_t>(c.above));
            if (!c.goes_on) m_out.regions.push_back({title(c), {c.x, kMargin, c.w + kGutter * m_k * 0.7, kHeader * m_k}});
        }
        for (std::size_t k = 0; k < m_support.size(); ++k) support(m_support[k], bands[k]);
        m_out.size = {width, std::max(m_row_y.back() + pitch() + kMargin, m_focus.view.height())};
        areas(width);
    }

    void stand(const Column& c, std::size_t row) {
        for (int part : c.open) tile(part, c, row++);
        fold(c, c.x, c.w, m_row_y[std::min(row, m_row_y.size() - 1)]);
    }

    void tile(int part, const Column& c, std::size_t row) {
        MapTile t;
        t.parts = {part};
        t.box = {c.x, m_row_y[row], c.w, kTileH * m_k};
        t.column = static_cast<int>(&c - m_columns.data());
        t.hot = !c.cold || m_roles.rails_on_mains;
        m_out.tile_of[static_cast<std::size_t>(part)] = static_cast<int>(m_out.tiles.size());
        m_out.tiles.push_back(std::move(t));
    }

    void fold(const Column& c, double x, double w, double y) {
        if (c.folded.empty() && !c.unfolded) return;
        MapFold f;
        f.stages = c.stages;
        f.parts = c.folded;
        f.open = c.folded.empty();
        if (f.open) f.parts = c.open;
        f.box = {x, y, w, kFoldH * m_k};
        m_out.folds.push_back(std::move(f));
    }

    /// Where control or feedback stands: columns that are free from a row on.
    struct Band {
        std::vector<const Column*> under;
        int row = 0, rows = 0;
    };

    // As high as it ends soonest; among those the widest.
    Band band(const Column& s) const {
        const bool cold = s.stages.front() == kFeedback;
        std::vector<const Column*> side;
        for (const auto& c : m_columns)
            if (c.cold == cold && !c.strip && (c.stages.empty() || c.stages.front() != kBarrier)) side.push_back(&c);
        if (side.empty())
            for (const auto& c : m_columns)
                if (!c.strip) side.push_back(&c);
        Band best;
        for (const auto* lowest : side) {
            Band b;
            b.row = lowest->rows();
            for (const auto* c : side)
                if (c->rows() <= b.row) b.under.push_back(c);
            const auto wide = static_cast<int>(b.under.size());
            b.rows = (s.rows() + wide - 1) / wide;
            const int end = b.row + b.rows, least = best.row + best.rows;
            if (best.under.empty() || end < least || (end == least && b.under.size() > best.under.size())) best = std::move(b);
        }
        return best;
    }

    // Row by row, its title above, under the tracks of the gap.
    void support(const Column& s, const Band& in) {
        if (in.under.empty()) return;
        const double y = m_row_y[static_cast<std::size_t>(in.row)];
        m_out.regions.push_back({title(s), {in.under.front()->x, y - kTitle * m_k, in.under.front()->w, kTitle * m_k}});
        std::size_t k = 0;
        const auto row = [&] { return static_cast<std::size_t>(in.row) + k / in.under.size(); };
        for (int part : s.open) {
            tile(part, *in.under[k % in.under.size()], row());
            ++k;
        }
        const auto& c = *in.under[k % in.under.size()];
        if (!s.folded.empty() || s.unfolded) fold(s, c.x, c.w, m_row_y[row()]);
    }

    QString title(const Column& c) const {
        if (c.pills && c.stages.empty()) return QStringLiteral("OUTPUT");
        QStringList words;
        for (int s : c.stages) words << stage_title(m_board, s);
        return words.size() > 2 ? words.front() + QStringLiteral(" – ") + words.back() : words.join(QStringLiteral(" · "));
    }

    void areas(double width) {
        const double height = m_out.size.height();
        double hot = 0, cold = width, barrier_left = -1, barrier_right = -1;
        for (const auto& c : m_columns) {
            const double left = c.x - kGutter * m_k / 2, right = c.x + c.w + kGutter * m_k / 2;
            if (!c.stages.empty() && c.stages.front() == kBarrier) {
                barrier_left = left;
                barrier_right = right;
            } else if (c.cold) {
                cold = std::min(cold, left);
            } else {
                hot = std::max(hot, right);
            }
        }
        if (m_roles.rails_on_mains) { // no isolation: nothing here is on the safe side of anything
            m_out.hot_area = {0, 0, width, height};
            return;
        }
        if (hot > 0 && m_board.mains) m_out.hot_area = {0, 0, barrier_left >= 0 ? barrier_left : hot, height};
        if (barrier_left >= 0) m_out.barrier = {barrier_left, 0, barrier_right - barrier_left, height};
        const double from = barrier_right >= 0 ? barrier_right : m_out.hot_area.right();
        if (cold < width || !m_board.mains) m_out.cold_area = {from, 0, width - from, height};
    }

    // Two passes: what each net uses, then a track for each net in each gutter and channel.
    class Wires {
    public:
        explicit Wires(FocusLayouter& of) : m(of) {}

        void run() {
            collect();
            for (auto& w : m_wanted) plan(w);
            for (auto& w : m_wanted) draw(w);
        }

    private:
        struct End {
            QRectF box;
            std::size_t column, row;
            bool left = false;
            double y = 0;
        };
        struct Wanted {
            NetId net = -1;
            std::vector<End> ends;
            std::set<std::size_t> gutters; ///< gutter g is right of column g
            int channel = -1;
        };

        std::size_t row_of(double y) const {
            std::size_t best = 0;
            for (std::size_t r = 0; r < m.m_row_y.size(); ++r)
                if (std::fabs(m.m_row_y[r] - y) < std::fabs(m.m_row_y[best] - y)) best = r;
            return best;
        }

        void collect() {
            std::map<NetId, std::vector<End>> ends;
            for (const auto& tile : m.m_out.tiles)
                for (const auto& pin : m.m_board.part(tile.parts.front()).pins) {
                    auto& list = ends[pin.id];
                    const bool again = std::any_of(list.begin(), list.end(), [&](const End& e) { return e.box == tile.box; });
                    if (!again) list.push_back({tile.box, static_cast<std::size_t>(tile.column), row_of(tile.box.top()), false, 0});
                }
            for (const auto& pill : m.m_out.pills)
                if (const NetId net = m.m_board.rails[static_cast<std::size_t>(pill.rail)].net_id; net >= 0)
                    ends[net].push_back({pill.box, m.m_columns.size() - 1, row_of(pill.box.top()), true, 0});
            for (auto& [net, list] : ends) {
                if (net < 0 || list.size() < 2) continue;
                if (m.m_out.is_return[static_cast<std::size_t>(net)] != 0 && !m.m_focus.returns.contains(net)) continue;
                m_wanted.push_back({net, std::move(list), {}, -1});
            }
        }

        void plan(Wanted& w) {
            std::size_t first = w.ends.front().column, last = first;
            for (const auto& e : w.ends) {
                first = std::min(first, e.column);
                last = std::max(last, e.column);
            }
            for (auto& e : w.ends) {
                // Towards the others: to the right unless all of them are further left.
                e.left = last > first ? e.column == last : e.column + 1 == m.m_columns.size() && e.column > 0;
                const std::size_t gutter = e.left ? e.column - 1 : e.column;
                w.gutters.insert(gutter);
                auto& beside = m_side[{gutter, e.row}];
                if (beside.empty() || beside.back() != w.net) beside.push_back(w.net);
            }
            for (std::size_t g : w.gutters) m_gutter[g].push_back(w.net);
            if (w.gutters.size() < 2) return;
            std::vector<std::size_t> rows;
            for (const auto& e : w.ends) rows.push_back(e.row);
            std::sort(rows.begin(), rows.end());
            w.channel = static_cast<int>(rows[(rows.size() - 1) / 2]);
            m_channel[w.channel].push_back(w.net);
        }

        static double share(const std::vector<NetId>& nets, NetId net) {
            const auto at = std::find(nets.begin(), nets.end(), net) - nets.begin();
            return (static_cast<double>(at) + 1) / (static_cast<double>(nets.size()) + 1);
        }

        void draw(const Wanted& w) {
            const auto& out = m.m_out;
            MapWire wire;
            wire.net = w.net;
            wire.hot = out.hot_area.contains(w.ends.front().box.center());
            const auto& rails = m.m_board.rails;
            wire.main = w.net == m.m_roles.hv || w.net == m.m_roles.drain ||
                        std::any_of(rails.begin(), rails.end(), [&](const Rail& r) { return r.net_id == w.net; });
            const auto gutter_x = [&](std::size_t g) {
                const auto& c = m.m_columns[g];
                return c.x + c.w + kGutter * m.m_k * share(m_gutter[g], w.net);
            };
            const double channel_y = w.channel < 0 ? 0
                                                   : m.m_row_y[static_cast<std::size_t>(w.channel)] + kTileH * m.m_k +
                                                         kGap * m.m_k * share(m_channel[w.channel], w.net);
            std::map<std::size_t, std::pair<double, double>> spans;
            const auto reach = [&](std::size_t g, double y) {
                const auto [at, fresh] = spans.try_emplace(g, y, y);
                at->second.first = std::min(at->second.first, y);
                at->second.second = std::max(at->second.second, y);
            };
            for (const auto& e : w.ends) {
                const std::size_t g = e.left ? e.column - 1 : e.column;
                const double y = e.box.top() + e.box.height() * share(m_side[{g, e.row}], w.net);
                reach(g, y);
                wire.path.moveTo(e.left ? e.box.left() : e.box.right(), y);
                wire.path.lineTo(gutter_x(g), y);
            }
            if (w.channel >= 0) {
                double left = 1e9, right = -1e9;
                for (std::size_t g : w.gutters) {
                    reach(g, channel_y);
                    left = std::min(left, gutter_x(g));
                    right = std::max(right, gutter_x(g));
                }
                wire.path.moveTo(left, channel_y);
                wire.path.lineTo(right, channel_y);
                wire.label = {(left + right) / 2, m.m_row_y[static_cast<std::size_t>(w.channel)] + (kTileH + kGap / 2) * m.m_k};
            }
            for (const auto& [g, span] : spans) {
                if (span.second - span.first < 0.5) continue;
                wire.path.moveTo(gutter_x(g), span.first);
                wire.path.lineTo(gutter_x(g), span.second);
            }
            if (w.channel < 0) {
                const auto& [g, span] = *spans.begin();
                wire.label = {gutter_x(g), (span.first + span.second) / 2};
            }
            m.m_out.wires.push_back(std::move(wire));
        }

        FocusLayouter& m;
        std::vector<Wanted> m_wanted;
        std::map<std::size_t, std::vector<NetId>> m_gutter;
        std::map<int, std::vector<NetId>> m_channel;
        std::map<std::pair<std::size_t, std::size_t>, std::vector<NetId>> m_side; ///< by gutter and row: the ends from both sides
    };

    const Board& m_board;
    const BoardRoles& m_roles;
    const MapFocus& m_focus;
    std::vector<int> m_stage;
    double m_k;
    std::vector<Column> m_columns, m_support;
    std::vector<double> m_row_y;
    MapLayout m_out;
};

} // namespace

MapLayout lay_out_focus(const Board& board, const BoardRoles& roles, const MapFocus& focus) {
    if (board.parts.empty()) return {};
    return FocusLayouter(board, roles, focus).run();
}

} // namespace ohmo
