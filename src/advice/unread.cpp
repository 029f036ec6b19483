// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/unread.h"

#include "belief/belief.h"
#include "readings/words.h"

#include <algorithm>
#include <set>

namespace ohmo {
namespace {

// Parts whose short opens this one: the chance.
std::map<int, double> openers(const belief::Belief& belief, int part) {
    std::map<int, double> out;
    const auto& units = belief.model().units;
    for (int unit : belief.model().units_of[static_cast<std::size_t>(part)])
        for (int e : belief.net().into[static_cast<std::size_t>(unit)]) {
            const auto& edge = belief.net().edges[static_cast<std::size_t>(e)];
            const auto &from = units[static_cast<std::size_t>(edge.parent)], &to = units[static_cast<std::size_t>(edge.child)];
            if (to.modes[static_cast<std::size_t>(edge.child_mode)].fault.mode != FaultMode::Open ||
                !from.modes[static_cast<std::size_t>(edge.parent_mode)].conducts)
                continue;
            auto& chance = out[from.part];
            chance = std::max(chance, edge.chance);
        }
    return out;
}

bool may_be_shorted(PartKind kind) {
    return is_wet_or_solid_electrolytic(kind) || is_diode_like(kind) || kind == PartKind::Ceramic || kind == PartKind::Varistor;
}

// They meet on a net that is no rail, other than a gate or base.
bool in_series(const Board& board, int a, int b) {
    return std::any_of(board.part(a).pins.begin(), board.part(a).pins.end(), [&](const Pin& pin) {
        const bool control = is_switch_device(board.part(a).kind) && (pin.role == "G" || pin.role == "B");
        return !control && board.part(b).touches(pin.id) && std::none_of(board.rails.begin(), board.rails.end(), [&](const Rail& r) {
            return pin.id == r.net_id || pin.id == r.return_id;
        });
    });
}

} // namespace

std::vector<int> open_parts(const Assessment& assessment, const Practice& p) {
    std::vector<int> out;
    std::vector<const PartBelief*> unlikely;
    double left = 0;
    for (const auto& b : assessment.parts) {
        if (b.bad >= p.open_below) continue;
        if (b.readable > p.open_above || (b.harm > p.open_harm && b.readable > 0))
            out.push_back(b.part);
        else if (b.readable > p.worth_reading) {
            unlikely.push_back(&b);
            left += b.readable;
        }
    }
    std::stable_sort(unlikely.begin(), unlikely.end(), [](const PartBelief* a, const PartBelief* b) { return a->readable > b->readable; });
    for (const auto* b : unlikely) {
        if (left <= p.most_acquitted) break;
        out.push_back(b->part);
        left -= b->readable;
    }
    return out;
}

bool read_alone(const Evidence& evidence, const Query& q) {
    return std::any_of(evidence.observations.begin(), evidence.observations.end(), [&](const Observation& o) {
        return o.kind == Seen::Reading && o.query.alone == q.alone && o.query.what == q.what && o.query.red == q.red &&
               o.query.black == q.black && o.renewed.contains(q.alone) == evidence.renewed.contains(q.alone);
    });
}

bool read_across(const Board& board, const Evidence& evidence, int part) {
    const auto& p = board.part(part);
    const auto carries = [&](NetId net) {
        return std::any_of(p.pins.begin(), p.pins.end(), [&](const Pin& pin) {
            return pin.id == net && !(is_switch_device(p.kind) && (pin.role == "G" || pin.role == "B"));
        });
    };
    const auto read = [&](const auto& between) {
        return std::any_of(evidence.observations.begin(), evidence.observations.end(),
                           [&](const Observation& o) { return o.kind == Seen::Reading && between(o.query.red, o.query.black); });
    };
    const auto read_over = [&](NetId one, NetId other) {
        return read([&](NetId a, NetId b) { return std::minmax(a, b) == std::minmax(one, other); });
    };
    if (evidence.renewed.contains(part)) return true;
    if (p.kind != PartKind::Bridge) return read([&](NetId a, NetId b) { return carries(a) && carries(b); });
    return std::all_of(p.pins.begin(), p.pins.end(), [&](const Pin& line) { // each leg hides behind the others
        return line.role.front() != '~' || (read_over(line.id, p.net("+")) && read_over(line.id, p.net("-")));
    });
}

bool only_looks_bad(const Practice& p, const Evidence& evidence, const PartBelief& belief) {
    bool looks = false;
    for (const auto& o : evidence.observations) {
        const auto says = std::find_if(belief.reasons.begin(), belief.reasons.end(), [&](const Reason& r) { return r.entry == o.entry; });
        if (says == belief.reasons.end() || says->decibans < p.speaks_itself || o.kind == Seen::Symptom) continue;
        if (o.kind != Seen::Look || o.part != belief.part || looks_destroyed(o.word)) return false;
        looks = true;
    }
    return looks;
}

bool read_without(const Board& board, const Evidence& evidence, int part) {
    const auto& p = board.part(part);
    return std::any_of(evidence.observations.begin(), evidence.observations.end(), [&](const Observation& o) {
        return o.kind == Seen::Reading && o.query.alone < 0 && o.query.what == Quantity::Ohms && of_one_time(o, evidence) &&
               o.query.state.is_lifted(part) && p.touches(o.query.red) && p.touches(o.query.black);
    });
}

bool shares_its_place(const Board& board, const Assessment& assessment, const Evidence& evidence, int part) {
    const auto& pins = board.part(part).pins;
    return pins.size() == 2 && std::any_of(assessment.parts.begin(), assessment.parts.end(), [&](const PartBelief& b) {
               const auto& other = board.part(b.part);
               return b.part != part && may_be_shorted(other.kind) && other.pins.size() == 2 && other.touches(pins[0].id) &&
                      other.touches(pins[1].id) && b.proof != Proof::Own && !evidence.renewed.contains(b.part) &&
                      !evidence.absent.contains(b.part);
           });
}

std::map<int, int> may_have_blown(const Board& board, const Assessment& assessment, const Evidence& evidence) {
    const auto& p = board.practice();
    std::map<int, std::pair<double, int>> found;
    for (const auto& b : assessment.parts) {
        if (b.bad < p.open_below) break; // sorted
        const auto by = openers(*assessment.belief, b.part);
        const bool explained =
            std::any_of(by.begin(), by.end(), [&](const auto& opener) { return assessment.of(opener.first).bad >= p.open_below; });
        if (evidence.renewed.contains(b.part)) continue;
        for (const auto& [part, chance] : by) {
            if (explained && !in_series(board, part, b.part)) continue; // the same current went through both, whatever drew it
            if (chance >= p.may_have_blown && assessment.of(part).proof != Proof::Own && !read_across(board, evidence, part))
                found[part] = std::max(found[part], {chance, b.part});
        }
    }
    std::map<int, int> out;
    for (const auto& [part, why] : found) out[part] = why.second;
    return out;
}

std::vector<int> would_account(const Board& board, const Assessment& assessment, const Evidence& evidence) {
    const auto& p = board.practice();
    if (assessment.parts.empty() || assessment.parts.front().bad < p.open_below) return {};
    const auto& belief = *assessment.belief;
    const auto& units = belief.model().units;
    const auto& complaints = belief.complaints();
    std::set<int> out;
    for (std::size_t k = 0; k < complaints.list.size(); ++k) {
        if (!of_one_time(complaints.list[k], evidence)) continue;
        double most = 0, silent = 1, all = 0;
        std::map<int, double> by_part; // chance that it is what brings this about
        for (std::size_t u = 0; u < units.size(); ++u) {
            double here = 0;
            for (std::size_t m = 1; m < units[u].modes.size(); ++m) {
                const double explains = complaints.explains[u][m][k];
                most = std::max(most, explains);
                here += belief.mode(static_cast<int>(u), static_cast<int>(m)) * explains;
            }
            const int part = units[u].part;
            if (assessment.of(part).bad >= p.open_below)
                silent *= 1 - here;
            else
                all += by_part[part] += here;
        }
        if (1 - silent >= p.hardly_accounts * most) continue;
        for (const auto& [part, chance] : by_part)
            if (chance >= p.share_of_complaint * all && chance >= p.slight_account * most && assessment.of(part).proof != Proof::Own &&
                !read_across(board, evidence, part))
                out.insert(part);
    }
    return {out.begin(), out.end()};
}

} // namespace ohmo
