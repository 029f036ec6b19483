// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/line_windings.h"

#include "board/branch_fuses.h"
#include "board/net_sets.h"
#include "board/nominal.h"

#include <algorithm>
#include <cmath>
#include <string>
#include <utility>

namespace ohmo {
namespace {

using Way = PowerPath::Way;

class Windings {
public:
    Windings(const Board& board, const PowerPath& path, const Part& transformer)
        : m_board(board), m_path(path), m_part(transformer), m_p(board.practice()) {}

    std::vector<LineWinding> all() const {
        std::vector<LineWinding> out;
        double watts = 0;
        const auto pairs = m_part.pairs();
        for (const auto& [a, b] : pairs) {
            out.push_back(a == nullptr || b == nullptr ? LineWinding{}
                          : is_primary(*a)             ? LineWinding{.volts = m_board.mains->volts}
                                                       : secondary(*a, *b));
        }
        share_rails(out);
        for (const auto& w : out) watts += w.volts * w.amps;
        for (std::size_t w = 0; w < out.size(); ++w) {
            if (out[w].volts <= 0) continue;
            if (is_primary(*pairs[w].first)) out[w].amps = watts > 0 ? watts / out[w].volts : by_the_fuse();
            resist(out[w], name(*pairs[w].first, *pairs[w].second), is_primary(*pairs[w].first));
        }
        for (auto& w : out) {
            if (w.shorts.loops.empty()) continue;
            const double ratio = w.volts / out.front().volts;
            w.primary_amps = w.volts / (w.ohms + out.front().ohms * ratio * ratio) * ratio;
        }
        return out;
    }

private:
    static bool is_primary(const Pin& pin) { return pin.role.front() == 'P'; }
    static std::string name(const Pin& a, const Pin& b) { return a.role + "-" + b.role; }

    double turns(const std::string& winding, double otherwise) const {
        const auto at = m_part.turns.find(winding);
        return at == m_part.turns.end() || at->second <= 0 ? otherwise : at->second;
    }

    LineWinding secondary(const Pin& a, const Pin& b) const {
        const auto primary = m_part.pairs().front();
        const double ratio = turns(name(a, b), 1) / turns(name(*primary.first, *primary.second), m_p.primary_turns);
        LineWinding out{.volts = m_board.mains->volts * ratio};
        for (const auto& [from, to] : {std::pair(a.id, b.id), std::pair(b.id, a.id)})
            out.shorts.loops.push_back({m_path.stiff_reach({from}, Way::Forwards, -1), m_path.stiff_reach({to}, Way::Backwards, -1)});
        out.shorts.at.assign(m_board.nets.size(), 0);
        for (NetId end : {a.id, b.id}) // a middle tap is the way back of everything
            if (!is_return(end)) {
                const auto wire = m_path.stiff_reach({end}, Way::Wire, -1);
                for (std::size_t n = 0; n < wire.size(); ++n) out.shorts.at[n] = static_cast<char>(out.shorts.at[n] != 0 || wire[n] != 0);
            }
        std::vector<NetId> ends; // from the way back of everything the others' rails would be reached
        for (NetId end : {a.id, b.id})
            if (!is_return(end)) ends.push_back(end);
        for (std::size_t r = 0; r < m_board.rails.size(); ++r) {
            const auto& rail = m_board.rails[r];
            const auto reached = m_path.fed_with(ends, rail.volts < 0, {});
            if (within(reached, rail.net_id) && !within(reached, rail.return_id)) out.rails.push_back(static_cast<int>(r));
        }
        return out;
    }

    bool is_return(NetId net) const { return listed(m_path.returns(), net); }

    // Both halves of a tapped winding carry half of it.
    void share_rails(std::vector<LineWinding>& windings) const {
        for (std::size_t r = 0; r < m_board.rails.size(); ++r) {
            const auto feeds = [&](const LineWinding& w) {
                return std::find(w.rails.begin(), w.rails.end(), static_cast<int>(r)) != w.rails.end();
            };
            const auto sharing = std::count_if(windings.begin(), windings.end(), feeds);
            for (auto& w : windings)
                if (feeds(w)) w.amps += m_p.winding_rms_share * std::fabs(m_board.rails[r].amps) / static_cast<double>(sharing);
        }
    }

    double by_the_fuse() const {
        for (const auto& part : m_board.parts)
            if (is_input_fuse(part)) return *likely_value(part)->amps / m_p.taken_fuse_share;
        return 0;
    }

    void resist(LineWinding& winding, const std::string& name, bool primary) const {
        const auto at = m_part.winding_ohms.find(name);
        winding.given = at != m_part.winding_ohms.end();
        winding.ohms = winding.given      ? at->second
                       : winding.amps > 0 ? m_p.winding_share * winding.volts / winding.amps
                       : primary          ? m_p.line_primary_ohms
                                          : m_p.line_secondary_ohms;
    }

    const Board& m_board;
    const PowerPath& m_path;
    const Part& m_part;
    const Practice& m_p;
};

} // namespace

double line_amps_into(const std::vector<LineWinding>& windings, const Board& board, const Fault& fault) {
    double most = 0;
    for (const auto& w : windings)
        if (w.shorts.closed_by(board, fault)) most = std::max(most, w.primary_amps);
    return most;
}

bool pulled_down(const std::vector<LineWinding>& windings, std::size_t rail, const Board& board, const std::vector<Fault>& faults) {
    return std::any_of(windings.begin(), windings.end(), [&](const LineWinding& w) {
        return std::find(w.rails.begin(), w.rails.end(), static_cast<int>(rail)) != w.rails.end() &&
               std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return w.shorts.closed_by(board, f); });
    });
}

std::vector<LineWinding> find_line_windings(const Board& board, const PowerPath& path, int transformer) {
    if (transformer < 0 || !board.mains || board.part(transformer).pairs().size() < 2 ||
        board.part(transformer).pairs().front().first->role.front() != 'P')
        return {};
    return Windings(board, path, board.part(transformer)).all();
}

} // namespace ohmo
