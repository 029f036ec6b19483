// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/hunt.h"

#include "board/nominal.h"
#include "damage/telling.h"

#include <algorithm>
#include <functional>
#include <numeric>
#include <set>

namespace ohmo {
namespace {

constexpr double kWorthAsking = 0.05; // of the whole chance: a part that is asked about where no lead along the rail tells
constexpr double kShown = 0.002;      // of the whole chance: a part that is named

// Between which of its nets a part hands current on with next to nothing of resistance.
std::vector<LeadPair> hands_on(const Practice& p, const Part& part) {
    std::vector<LeadPair> out;
    switch (part.kind) {
    case PartKind::Connector:
    case PartKind::Choke:
        for (const auto& [a, b] : part.pairs()) out.emplace_back(a->id, b->id);
        return out;
    case PartKind::Resistor:
    case PartKind::FusibleResistor:
        if (const auto value = likely_value(part); !value || value->ohms.value_or(p.hunt_hands_on_ohms + 1) > p.hunt_hands_on_ohms)
            return out;
        break;
    case PartKind::Track:
    case PartKind::Fuse:
    case PartKind::Inductor:
    case PartKind::Switch:
    case PartKind::Thermistor:
        break;
    default:
        return out;
    }
    out.emplace_back(part.pins.front().id, part.pins.back().id);
    return out;
}

double conducts(const Assessment& assessment, int part) {
    double p = 0;
    for (const auto& [mode, chance] : assessment.of(part).modes)
        if (conducts_wrongly(mode) || mode == FaultMode::Leaky) p += chance;
    return p;
}

class Tree {
public:
    Tree(const Analysis& analysis, int rail)
        : m_a(analysis), m_board(analysis.replay.board), m_rail(m_board.rails[static_cast<std::size_t>(rail)]) {
        m_out.rail = rail;
    }

    Hunt run() {
        grow(m_rail.net_id, -1, -1, 0);
        if (const NetId source = fed_at(); source >= 0 && source != m_rail.net_id) { // told from where it comes
            m_met.clear();
            m_out.places.clear();
            grow(source, -1, -1, 0);
        }
        hang();
        for (std::size_t k = m_out.places.size(); k-- > 0;) {
            auto& place = m_out.places[k];
            place.beyond += place.here;
            if (place.above >= 0) m_out.places[static_cast<std::size_t>(place.above)].beyond += place.beyond;
        }
        read();
        aim();
        return std::move(m_out);
    }

private:
    void grow(NetId net, int via, int above, int depth) {
        if (net < 0 || net == m_rail.return_id || !m_met.insert(net).second) return;
        const int here = static_cast<int>(m_out.places.size());
        auto& place = m_out.places.emplace_back();
        place.net = net;
        place.via = via;
        place.above = above;
        place.depth = depth;
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i)
            for (const auto& [a, b] : hands_on(m_board.practice(), m_board.part(i))) {
                if (a == net) grow(b, i, here, depth + 1);
                if (b == net) grow(a, i, here, depth + 1);
            }
    }

    // Where a rectifier, a regulator or a connector from outside feeds what was found.
    NetId fed_at() const {
        for (const auto& place : m_out.places)
            for (int i : m_a.replay.roles->rectifiers)
                if (m_board.part(i).touches(place.net)) return place.net;
        for (const auto& place : m_out.places)
            for (const auto& part : m_board.parts) {
                const bool regulates = part.kind == PartKind::Regulator && part.net("OUT") == place.net;
                if (regulates || (part.kind == PartKind::Connector && part.stage == "mains-in" && part.touches(place.net)))
                    return place.net;
            }
        return -1;
    }

    // What may pull the rail down where it hangs; a part on two places counts at the outer one.
    void hang() {
        std::set<int> done;
        for (std::size_t k = m_out.places.size(); k-- > 0;) {
            auto& place = m_out.places[k];
            for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
                if (!m_board.part(i).touches(place.net) || !hands_on(m_board.practice(), m_board.part(i)).empty() ||
                    m_a.replay.evidence.state.is_lifted(i))
                    continue;
                if (!done.insert(i).second) continue;
                place.hangs.emplace_back(i, conducts(m_a.assessment, i));
                m_out.shorted += place.hangs.back().second;
            }
        }
        for (auto& place : m_out.places) {
            for (auto& [part, p] : place.hangs) place.here += p /= std::max(m_out.shorted, kShown);
            std::stable_sort(place.hangs.begin(), place.hangs.end(), [](const auto& a, const auto& b) { return a.second > b.second; });
        }
        m_out.shorted = std::min(1.0, m_out.shorted);
    }

    void read() {
        for (const auto& o : m_a.replay.evidence.observations) {
            const auto& q = o.query;
            if (o.kind != Seen::Reading || q.what != Quantity::Ohms || q.alone >= 0 || q.state != m_a.replay.evidence.state ||
                !of_one_time(o, m_a.replay.evidence) || o.over)
                continue;
            for (auto& place : m_out.places)
                if ((q.red == place.net && q.black == m_rail.return_id) || (q.black == place.net && q.red == m_rail.return_id))
                    place.ohms = o.value;
        }
    }

    // A reading along the rail, or the best that can be done on what hangs there.
    void aim() {
        const auto at = [&](NetId net) { return m_met.contains(net) || net == m_rail.return_id; };
        const auto along = [&](const NextAct& act) {
            return (act.act == Act::Read || act.act == Act::Pull) && act.query.alone < 0 && at(act.query.red) && at(act.query.black);
        };
        const auto on_suspect = [&](const NextAct& act) {
            return act.act == Act::Read && is_direct(act.query.what) &&
                   std::any_of(m_out.places.begin(), m_out.places.end(), [&](const HuntPlace& place) {
                       return std::any_of(place.hangs.begin(), place.hangs.end(),
                                          [&](const auto& h) { return h.first == act.part && h.second > kWorthAsking; });
                   });
        };
        const auto& acts = m_a.next.acts;
        auto found = std::find_if(acts.begin(), acts.end(), along);
        if (found == acts.end()) found = std::find_if(acts.begin(), acts.end(), on_suspect);
        if (found == acts.end()) return;
        m_out.next = &*found;
        for (auto& place : m_out.places) {
            place.red = found->query.alone < 0 && place.net == found->query.red;
            place.black = found->query.alone < 0 && place.net == found->query.black;
        }
    }

    const Analysis& m_a;
    const Board& m_board;
    const Rail& m_rail;
    std::set<NetId> m_met;
    Hunt m_out;
};

} // namespace

int Hunt::likeliest() const {
    std::pair<double, int> best{-1, -1};
    for (const auto& place : places)
        for (const auto& [part, p] : place.hangs) best = std::max(best, {p, part});
    return best.second;
}

std::vector<int> rails_by_suspicion(const Analysis& analysis) {
    std::vector<double> shorted;
    for (int r = 0; r < static_cast<int>(analysis.replay.board.rails.size()); ++r) shorted.push_back(hunt(analysis, r).shorted);
    std::vector<int> out(shorted.size());
    std::iota(out.begin(), out.end(), 0);
    std::stable_sort(out.begin(), out.end(),
                     [&](int a, int b) { return shorted[static_cast<std::size_t>(a)] > shorted[static_cast<std::size_t>(b)]; });
    return out;
}

Hunt hunt(const Analysis& analysis, int rail) { return Tree(analysis, rail).run(); }

} // namespace ohmo
