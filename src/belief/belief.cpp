// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/belief.h"

#include "belief/alone.h"
#include "belief/nothing_wrong.h"
#include "belief/off_the_map.h"
#include "belief/unjoined.h"
#include "belief/whatever_beside.h"

#include "belief/across.h"

#include "base/parallel.h"
#include "belief/meters.h"
#include "readings/looked_over.h"
#include "readings/words.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <tuple>

namespace ohmo::belief {
namespace {

constexpr double kLeastLn = -60;
constexpr double kNegligible = 1e-14; // of a state
constexpr std::size_t kMostJoints = 40, kBranches = 24;
constexpr double kSwitchMeter = 0.7;                      // nats by which another kind of meter must be better
constexpr double kBarrierOver = 0.05, kBarrierReads = 20; // odds that a reading across the barrier gives what joins its sides

bool same_reading(const Observation& a, const Observation& b) {
    return a.kind == Seen::Reading && b.kind == Seen::Reading && a.query == b.query && of_one_time(a, b);
}

} // namespace

class Maker {
public:
    Maker(const FaultLibrary& library, const Evidence& evidence, Memory& memory, const CancelToken& cancel)
        : m_board(*memory.board), m_roles(*memory.roles), m_p(m_board.practice()), m_library(library), m_evidence(evidence),
          m_memory(memory), m_cancel(cancel) {}

    Result<std::shared_ptr<const Belief>> run() {
        const Problem cancelled{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        if (!m_memory.roots) {
            auto roots = root_chains(m_board, m_roles, m_library, m_evidence.history, 2e-3, true, m_cancel);
            if (!roots) return roots.problems();
            m_memory.roots = std::move(*roots);
            m_memory.alone = std::make_unique<Alone>(m_board, m_roles);
        }
        m_out.reset(new Belief());
        m_out->m_board = m_memory.board;
        m_out->m_ages = Ages::of(m_p);
        take_model();
        m_out->m_complaints = make_complaints(model(), m_board, m_roles, m_evidence, violent(), *m_memory.alone);
        m_out->m_bench.meters = m_evidence.meters;
        gather();
        const int first = choose_meter_before();
        search(first);
        if (m_cancel.cancelled()) return cancelled;
        if (const int better = choose_meter_after(first); better != first) search(better);
        if (m_cancel.cancelled()) return cancelled;
        join();
        return std::shared_ptr<const Belief>(m_out);
    }

private:
    const Model& model() const { return *m_out->m_model; }
    const Unit& unit(int u) const { return model().units[static_cast<std::size_t>(u)]; }

    void take_model() {
        std::set<int> renewed = m_evidence.renewed;
        for (int part : m_evidence.absent) renewed.erase(part);
        auto& [made, net] = m_memory.models[renewed];
        if (!made) {
            std::vector<RootWeight> weights;
            for (const auto& r : m_memory.roots->roots) weights.push_back({r.fault, r.weight});
            made = std::make_shared<const Model>(make_model(m_board, m_roles, weights, m_evidence.meters, renewed));
            net = std::make_shared<const Net>(make_net(*made, m_board, m_roles, *m_memory.roots));
        }
        m_renewed = renewed;
        m_out->m_model = made;
        m_out->m_net = net;
    }

    // By unit and mode: it breaks with noise, or takes something along that does.
    std::vector<std::vector<char>> violent() const {
        std::vector<std::vector<char>> out;
        for (const auto& u : model().units) {
            out.emplace_back(u.modes.size(), 0);
            const bool power = m_roles.is_power_device(u.part) || m_roles.is_leg(u.part);
            for (std::size_t m = 1; m < u.modes.size(); ++m) out.back()[m] = u.modes[m].conducts && power;
        }
        for (const auto& e : m_out->m_net->edges)
            if (broken_with_noise(e.told.cause)) out[static_cast<std::size_t>(e.parent)][static_cast<std::size_t>(e.parent_mode)] = 1;
        return out;
    }

    // Readings in circuit by island, everything else by part.
    void gather() {
        const auto& all = m_evidence.observations;
        m_sights.resize(model().islands.size());
        m_alone.resize(model().units.size());
        auto& direct = m_out->m_direct;
        m_out->m_entries.resize(model().units.size());
        for (const auto& u : model().units) {
            direct.ln.emplace_back(u.modes.size(), 0.0);
            direct.refined.emplace_back();
        }
        for (std::size_t u = 0; u < model().units.size(); ++u)
            for (std::size_t m = 0; m < unit(static_cast<int>(u)).modes.size(); ++m) direct.ln[u][m] += m_out->m_complaints.ln_spared[u][m];
        for (std::size_t i = 0; i < all.size(); ++i) {
            const auto& o = all[i];
            if (o.kind == Seen::Reading) {
                const bool again = std::any_of(all.begin() + static_cast<long>(i) + 1, all.end(),
                                               [&](const Observation& later) { return same_reading(o, later); });
                if (!again) reading(o, static_cast<std::size_t>(i));
            } else if (o.part >= 0 || !o.area.empty()) { // all else speaks of the whole unit
                words(o);
            }
        }
        unnoted();
        const auto key = [](const Sight& s) { return std::tuple(s.place.what, s.place.red, s.place.black, s.shown.value, s.shown.over); };
        for (auto* lists : {&m_sights, &m_alone}) // the order of the journal must not tell, not even in where a search ends
            for (auto& seen : *lists)
                std::stable_sort(seen.begin(), seen.end(), [&](const Sight& a, const Sight& b) { return key(a) < key(b); });
    }

    void reading(const Observation& o, std::size_t index) {
        Sight s;
        s.entry = o.entry;
        s.shown = {o.value, o.over};
        s.place.what = o.query.what == Quantity::Leakage ? Quantity::Ohms : o.query.what;
        s.place.meter = o.query.meter;
        if (o.query.what == Quantity::Leakage && !o.over && o.value > 0) { // amperes at the tester's volts
            const auto& m = m_evidence.meters[static_cast<std::size_t>(o.query.meter)];
            s.shown.value = std::max(0.0, m.insulation_volts / o.value - m.insulation_ohms);
        }
        const bool alone = o.query.alone >= 0;
        int confirmed = 0;
        for (std::size_t k = 0; k < index; ++k)
            confirmed += same_reading(o, m_evidence.observations[k]) &&
                         agree(m_p, o.query.what, {o.value, o.over}, {m_evidence.observations[k].value, m_evidence.observations[k].over},
                               m_evidence.meters[static_cast<std::size_t>(o.query.meter)]);
        s.slip = alone ? m_p.slip_alone * std::pow(m_p.slip_alone_again, confirmed)
                       : m_p.slip_in_circuit * std::pow(m_p.slip_in_circuit_again, confirmed);
        s.touch = touched(m_p, s.place.what, s.shown, alone, m_evidence.meters[static_cast<std::size_t>(o.query.meter)]);
        if (alone) {
            const auto u = model().unit_between(o.query.alone, o.query.red, o.query.black, o.renewed.contains(o.query.alone));
            if (!u || o.query.red == o.query.black) return;
            s.place.red = unit(*u).alone_node.at(o.query.red);
            s.place.black = unit(*u).alone_node.at(o.query.black);
            m_alone[static_cast<std::size_t>(*u)].push_back(s);
            return;
        }
        if (o.query.red < 0 || o.query.black < 0 || o.query.red == o.query.black) return;
        if (between_islands(model(), o.query)) {
            if (const auto apart = unjoined(model(), m_board, o, s.shown)) across(*apart);
            return;
        }
        const auto red = model().home[static_cast<std::size_t>(o.query.red)], black = model().home[static_cast<std::size_t>(o.query.black)];
        s.place.red = red.second;
        s.place.black = black.second;
        s.place.setting = setting(m_out->out_of(o.query.state, o.renewed));
        m_sights[static_cast<std::size_t>(red.first)].push_back(s);
    }

    int setting(std::vector<char> out) {
        auto& known = m_out->m_bench.out;
        const auto at = std::find(known.begin(), known.end(), out);
        if (at != known.end()) return static_cast<int>(at - known.begin());
        known.push_back(std::move(out));
        return static_cast<int>(known.size()) - 1;
    }

    // Between two islands only what breaks the barrier conducts.
    void across(const Unjoined& reading) {
        for (const auto& [u, m] : reading.breaks)
            say(static_cast<std::size_t>(u), static_cast<std::size_t>(m), reading.entry,
                std::log(reading.conducts ? kBarrierReads : kBarrierOver));
        if (reading.conducts) m_conducting.push_back(reading);
    }

    // Nothing that may have broken through there has.
    bool nothing_joins(const Unjoined& reading) const {
        double sum = 0;
        for (const auto& [u, m] : reading.breaks) sum += m_out->mode(u, m);
        return sum < 0.5;
    }

    void say(std::size_t u, std::size_t m, int entry, double ln) {
        m_out->m_direct.ln[u][m] += ln;
        auto& mine = m_out->m_entries[u][entry];
        mine.resize(unit(static_cast<int>(u)).modes.size(), 0.0);
        mine[m] += ln;
    }

    void words(const Observation& o) {
        for (std::size_t u = 0; u < model().units.size(); ++u) {
            const auto& mine = unit(static_cast<int>(u));
            const bool in_area = std::find(o.area.begin(), o.area.end(), mine.part) != o.area.end();
            if ((mine.part != o.part && !in_area) || o.renewed.contains(mine.part) || mine.renewed) continue;
            const auto chance = [&](const Fault* fault) {
                return other_likelihood(m_board, m_library, o, fault != nullptr ? std::vector<Fault>{*fault} : std::vector<Fault>{}, {});
            };
            const double sound = chance(nullptr);
            for (std::size_t m = 1; m < mine.modes.size(); ++m)
                say(u, m, o.entry,
                    std::clamp(std::log(std::max(chance(&mine.modes[m].fault), 1e-9) / std::max(sound, 1e-9)), kLeastLn, -kLeastLn));
        }
    }

    // What nobody said of parts that were before his eyes.
    void unnoted() {
        const double over = looked_over(m_p, m_evidence);
        if (over <= 0) return;
        for (std::size_t u = 0; u < model().units.size(); ++u) {
            const auto& mine = unit(static_cast<int>(u));
            const auto kind = m_board.part(mine.part).kind;
            if (mine.renewed || kind == PartKind::Load || m_evidence.looked.contains(mine.part)) continue;
            const double sound = unnoted_chance(m_p, m_library, kind, nullptr, over);
            for (std::size_t m = 1; m < mine.modes.size(); ++m)
                m_out->m_direct.ln[u][m] += std::log(unnoted_chance(m_p, m_library, kind, &mine.modes[m].fault, over) / sound);
        }
    }

    // A part alone is a circuit of a few nodes for the same sums; what it says of its unknowns is their prior on the board.
    void read_alone(int kind) {
        auto& direct = m_out->m_direct;
        for (std::size_t u = 0; u < m_alone.size(); ++u) {
            if (m_alone[u].empty()) continue;
            Memory::DirectKey key{static_cast<int>(u), kind, {}};
            for (const auto& s : m_alone[u])
                for (double x : {static_cast<double>(s.place.what), static_cast<double>(s.place.red), static_cast<double>(s.place.black),
                                 static_cast<double>(s.place.meter), s.shown.value, s.shown.over ? 1.0 : 0.0, s.slip})
                    key.readings.push_back(x);
            auto& known = m_memory.direct[{m_renewed, key}];
            if (known.ln.empty()) known = fit_alone(model(), static_cast<int>(u), m_out->m_bench.meters, m_alone[u]);
            for (std::size_t m = 0; m < known.ln.size(); ++m) direct.ln[u][m] += known.ln[m] - m_taken[u][m];
            m_taken[u] = known.ln;
            direct.refined[u] = known.refined;
            for (std::size_t j = 0; j < m_alone[u].size(); ++j) {
                auto& mine = m_out->m_entries[u][m_alone[u][j].entry];
                mine.assign(known.ln.size(), 0.0);
                for (std::size_t m = 0; m < known.ln.size(); ++m) mine[m] = known.each[m][j];
            }
        }
    }

    // The meter that nobody has taught; null where each is known.
    const MeterProfile* untaught() const {
        const auto found = std::find_if(m_evidence.meters.begin(), m_evidence.meters.end(), is_untaught);
        return found == m_evidence.meters.end() ? nullptr : &*found;
    }

    void use_meter(int kind) {
        if (const auto* meter = untaught())
            m_out->m_bench.meters[static_cast<std::size_t>(meter - m_evidence.meters.data())] =
                meter_kinds(*meter)[static_cast<std::size_t>(kind)].profile;
    }

    std::size_t read_count() const {
        std::size_t n = 0;
        for (const auto& s : m_sights) n += s.size();
        return n;
    }

    // Which kind of meter this is, by the likeliest state of each island as it looks before any search.
    int choose_meter_before() {
        m_taken.clear();
        for (const auto& u : model().units) m_taken.emplace_back(u.modes.size(), 0.0);
        if (m_out->m_bench.out.empty()) setting(m_out->out_of(m_evidence.state, m_evidence.renewed));
        const auto* meter = untaught();
        if (meter == nullptr || read_count() < 2) return 0;
        const auto kinds = meter_kinds(*meter);
        int best = 0;
        double most = kNone;
        for (std::size_t k = 0; k < kinds.size(); ++k) {
            use_meter(static_cast<int>(k));
            double ln = kinds[k].ln_prior;
            for (std::size_t c = 0; c < m_sights.size(); ++c) {
                if (m_sights[c].empty()) continue;
                const auto& island = model().islands[c];
                std::vector<double> start;
                for (const auto& p : island.prior) start.push_back(p.middle);
                ln += fit(island.circuit, m_out->m_bench, island.prior, start, m_sights[c], {}).evidence;
            }
            if (ln > most + (k > 0 ? kSwitchMeter : 0)) {
                most = ln;
                best = static_cast<int>(k);
            }
        }
        return best;
    }

    int choose_meter_after(int now) {
        const auto* meter = untaught();
        if (meter == nullptr || read_count() < 2) return now;
        const auto kinds = meter_kinds(*meter);
        int best = now;
        double most = kNone;
        for (std::size_t k = 0; k < kinds.size(); ++k) {
            use_meter(static_cast<int>(k));
            double ln = kinds[k].ln_prior + (static_cast<int>(k) == now ? kSwitchMeter : 0);
            for (const auto& island : m_out->m_islands) {
                if (island->seen().empty()) continue;
                std::vector<const State*> top;
                for (const auto& s : island->states()) top.push_back(s.get());
                std::partial_sort(top.begin(), top.begin() + static_cast<long>(std::min<std::size_t>(3, top.size())), top.end(),
                                  [](const State* a, const State* b) { return a->score > b->score; });
                double here = kNone;
                for (std::size_t s = 0; s < std::min<std::size_t>(3, top.size()); ++s)
                    here = std::max(here, (static_cast<int>(k) == now ? top[s]->evidence : island->fit_of(*top[s], 5).evidence) -
                                              top[s]->evidence + top[s]->score);
                ln += here;
            }
            if (ln > most) {
                most = ln;
                best = static_cast<int>(k);
            }
        }
        use_meter(now);
        return best;
    }

    void search(int kind) {
        use_meter(kind);
        read_alone(kind);
        auto& islands = m_out->m_islands;
        islands.clear();
        const auto fresh = [&](std::size_t c) {
            return std::make_unique<IslandSearch>(model(), static_cast<int>(c), *m_out->m_net, m_out->m_ages, m_out->m_direct,
                                                  m_out->m_complaints, m_out->m_bench, m_sights[c], SearchLimits{});
        };
        for (std::size_t c = 0; c < model().islands.size(); ++c) islands.push_back(fresh(c));
        in_parallel(islands.size(), [&](std::size_t c) { islands[c]->run(m_cancel); });
        auto brought = brought_across(model(), *m_out->m_net, islands);
        std::vector<std::size_t> again;
        for (const auto& [c, chances] : brought) again.push_back(c);
        for (std::size_t c : again) {
            islands[c] = fresh(c);
            islands[c]->brought_by_others(brought[c]);
        }
        in_parallel(again.size(), [&](std::size_t k) { islands[again[k]]->run(m_cancel); });
        in_parallel(islands.size(), [&](std::size_t c) {
            auto absent = islands[c]->better_without();
            if (absent.empty()) return;
            islands[c] = fresh(c);
            if (const auto chances = brought.find(c); chances != brought.end()) islands[c]->brought_by_others(chances->second);
            islands[c]->without_junctions(std::move(absent));
            islands[c]->run(m_cancel);
        });
    }

    // Sums over the islands, by age and by subset of complaints that nothing brings about.
    void join() {
        auto& out = *m_out;
        const auto& complaints = out.m_complaints;
        const int subsets = complaints.subsets();
        const std::size_t count = out.m_islands.size();
        using Table = std::array<std::array<double, kSubsets>, kAges>;
        const auto at = [](const State& s, int a, int k) { return k == 0 ? s.ln_all[a] : s.ln_silent[a][k]; };
        std::vector<Table> sum(count);
        Table total{};
        for (int a = 0; a < kAges; ++a)
            for (int k = 0; k < subsets; ++k) {
                total[a][k] = std::log(out.m_ages.chance[static_cast<std::size_t>(a)]);
                for (std::size_t c = 0; c < count; ++c) {
                    double ln = kNone;
                    for (const auto& s : out.m_islands[c]->states()) ln = ln_sum(ln, at(*s, a, k));
                    sum[c][a][k] = ln;
                    total[a][k] += ln;
                }
            }
        // Inclusion and exclusion: the chance that every complaint has something that brings it about, or comes of itself.
        std::array<double, kSubsets> sign{};
        for (int k = 0; k < subsets; ++k) {
            sign[k] = 1;
            for (std::size_t b = 0; b < complaints.list.size(); ++b)
                if ((k >> b & 1) != 0) sign[k] *= -(1 - complaints.list[b].leak());
        }
        double top = kNone;
        for (const auto& row : total) top = std::max(top, row[0]);
        m_beside = ln_whatever_beside(model(), out.m_bench, m_sights, m_p.slip_in_circuit);
        const double ln_off = ln_off_the_map(out.m_islands, complaints, m_beside, m_p.off_the_map);
        top = std::max(top, ln_off);
        double whole = std::exp(ln_off - top);
        for (int a = 0; a < kAges; ++a) {
            double w = 0;
            for (int k = 0; k < subsets; ++k) w += sign[k] * std::exp(total[a][k] - top);
            whole += std::max(0.0, w);
        }
        const auto fine = ln_nothing_wrong(out.m_islands, out.m_ages);
        std::array<double, kOutsides> outside{};
        for (std::size_t c = 0; c < kOutsides; ++c)
            whole += outside[c] = std::exp(ln_outside(fine, complaints, static_cast<Outside>(c)) - top);
        const double z = top + std::log(whole), off = std::exp(ln_off - z);
        for (std::size_t c = 0; c < kOutsides; ++c) out.m_outside[c] = outside[c] / whole;
        double open = 0;
        for (std::size_t b = 0; b < complaints.list.size(); ++b) {
            double here = 0;
            for (int a = 0; a < kAges; ++a)
                for (int k = 0; k < subsets; ++k)
                    if ((k >> b & 1) == 0) here += complaints.list[b].leak() * sign[k] * std::exp(total[a][k | 1 << b] - z);
            if (here > 0.5)
                for (int e : complaints.list[b].entries) out.m_open_complaints.insert(e);
            open = std::max(open, here);
        }
        out.m_unexplained = std::clamp(off + open, 0.0, 1.0);
        marginals(sum, total, sign, z, off);
        joints();
        out.m_supply_good = std::min(1.0, std::exp(ln_of_itself(fine, complaints) - z) + out.outside());
    }

    template <class Tables, class Table>
    void marginals(const Tables& sum, const Table& total, const std::array<double, kSubsets>& sign, double z, double off) {
        auto& out = *m_out;
        const int subsets = out.m_complaints.subsets();
        out.m_marginal.resize(model().units.size());
        for (std::size_t u = 0; u < model().units.size(); ++u) out.m_marginal[u].assign(unit(static_cast<int>(u)).modes.size(), 0.0);
        std::vector<double> chances;
        for (std::size_t c = 0; c < out.m_islands.size(); ++c) {
            const auto& island = *out.m_islands[c];
            const auto& units = island.island().units;
            std::array<std::array<double, kSubsets>, kAges> weight{}; // of all states together
            std::vector<std::array<std::array<double, kSubsets>, kAges>> apart(
                units.size()); // of states in which a parent of the leaf stands
            const auto leaf_at = [&](std::size_t i, const State* s, int a, int k, double w) {
                if (w == 0) return;
                island.odds().leaf(i, s, a, chances);
                double all = 0;
                for (std::size_t m = 0; m < chances.size(); ++m)
                    all += chances[m] *= out.m_complaints.silent(units[i], static_cast<int>(m), k);
                auto& mine = out.m_marginal[static_cast<std::size_t>(units[i])];
                for (std::size_t m = 0; m < chances.size() && all > 0; ++m) mine[m] += w * chances[m] / all;
            };
            for (const auto& s : island.states()) {
                std::array<std::array<double, kSubsets>, kAges> w{};
                s->p = 0;
                for (int a = 0; a < kAges; ++a)
                    for (int k = 0; k < subsets; ++k) {
                        w[a][k] = sign[k] * std::exp((k == 0 ? s->ln_all[a] : s->ln_silent[a][k]) + total[a][k] - sum[c][a][k] - z);
                        s->p += w[a][k];
                        weight[a][k] += w[a][k];
                    }
                if (s->p < kNegligible) {
                    s->p = std::max(s->p, 0.0);
                    continue;
                }
                for (std::size_t i = 0; i < units.size(); ++i) {
                    if (island.enumerated(i)) {
                        out.m_marginal[static_cast<std::size_t>(units[i])][s->mode[i]] += s->p;
                        continue;
                    }
                    const auto& into = out.m_net->into[static_cast<std::size_t>(units[i])];
                    const bool touched = std::any_of(into.begin(), into.end(), [&](int e) {
                        const auto& edge = out.m_net->edges[static_cast<std::size_t>(e)];
                        const auto at = std::find(units.begin(), units.end(), edge.parent);
                        return at != units.end() && island.enumerated(static_cast<std::size_t>(at - units.begin())) &&
                               s->mode[static_cast<std::size_t>(at - units.begin())] == edge.parent_mode;
                    });
                    if (!touched) continue;
                    for (int a = 0; a < kAges; ++a)
                        for (int k = 0; k < subsets; ++k) {
                            leaf_at(i, s.get(), a, k, w[a][k]);
                            apart[i][a][k] += w[a][k];
                        }
                }
            }
            for (std::size_t i = 0; i < units.size(); ++i) {
                if (!island.enumerated(i))
                    for (int a = 0; a < kAges; ++a)
                        for (int k = 0; k < subsets; ++k) leaf_at(i, nullptr, a, k, weight[a][k] - apart[i][a][k]);
                const auto unit = static_cast<std::size_t>(units[i]);
                const auto alone = off_the_map(island, i, m_beside[unit]).chances;
                for (std::size_t m = 0; m < alone.size(); ++m) out.m_marginal[unit][m] += off * alone[m];
            }
        }
        for (auto& mine : out.m_marginal) {
            mine[0] += out.outside();
            double all = 0;
            for (double& m : mine) all += m = std::max(m, 0.0);
            for (double& m : mine) m /= std::max(all, 1e-12);
        }
        out.m_bad.assign(m_board.parts.size(), 0.0);
        for (std::size_t p = 0; p < m_board.parts.size(); ++p) {
            double fine = 1;
            for (int u : model().units_of[p])
                if (!unit(u).renewed) fine *= 1 - faulty(u, out.m_marginal[static_cast<std::size_t>(u)]);
            out.m_bad[p] = 1 - fine;
        }
    }

    // Neither fine nor set in a way that is no fault.
    double faulty(int u, const std::vector<double>& chance) const {
        double sum = 0;
        for (std::size_t m = 1; m < chance.size(); ++m)
            if (!unit(u).modes[m].setting) sum += chance[m];
        return sum;
    }

    // The likeliest sets of faults over all islands. Leaves stand as they are likeliest.
    void joints() {
        auto& out = *m_out;
        std::vector<Joint> list(1);
        list.front().p = 1;
        for (const auto& island : out.m_islands) {
            std::vector<const State*> states;
            double all = 0;
            for (const auto& s : island->states()) {
                states.push_back(s.get());
                all += s->p;
            }
            std::stable_sort(states.begin(), states.end(), [](const State* a, const State* b) { return a->p > b->p; });
            if (states.size() > kBranches) states.resize(kBranches);
            std::vector<Joint> next;
            for (const auto& j : list)
                for (const State* s : states) {
                    const double p = all > 0 ? j.p * s->p / all : j.p;
                    if (p < 1e-5 && !next.empty()) break;
                    Joint more = j;
                    more.p = p;
                    for (std::size_t i = 0; i < s->mode.size(); ++i)
                        if (island->enumerated(i) && s->mode[i] != 0) more.faults.emplace_back(island->island().units[i], s->mode[i]);
                    next.push_back(std::move(more));
                }
            std::stable_sort(next.begin(), next.end(), [](const Joint& a, const Joint& b) { return a.p > b.p; });
            if (next.size() > kMostJoints) next.resize(kMostJoints);
            list = std::move(next);
            for (std::size_t i = 0; i < island->island().units.size(); ++i) {
                if (island->enumerated(i)) continue;
                const int u = island->island().units[i];
                const auto& mine = out.m_marginal[static_cast<std::size_t>(u)];
                const bool bad = mine[0] < 0.5;
                const auto mode = static_cast<int>(std::max_element(mine.begin() + (bad ? 1 : 0), mine.end()) - mine.begin());
                for (auto& j : list) {
                    j.p *= bad ? 1 - mine[0] : mine[0];
                    if (bad) j.faults.emplace_back(u, mode);
                }
            }
        }
        // The islands were taken one by one: which of these sets brings the complaints about is asked of each as a whole.
        double before = 0, after = 0;
        for (auto& j : list) {
            before += j.p;
            for (std::size_t k = 0; k < out.m_complaints.list.size(); ++k) {
                double silent = 1 - out.m_complaints.list[k].leak();
                for (const auto& [u, m] : j.faults) silent *= out.m_complaints.silent(u, m, 1 << k);
                j.p *= 1 - silent;
            }
            after += j.p;
        }
        const double outside = out.outside();
        for (auto& j : list) j.p *= std::max(0.0, 1 - out.m_unexplained - outside) * (after > 0 ? before / after : 1);
        const auto sound = std::find_if(list.begin(), list.end(), [](const Joint& j) { return j.faults.empty(); });
        if (sound != list.end())
            sound->p += outside;
        else if (outside > 0)
            list.push_back({outside, {}});
        std::stable_sort(list.begin(), list.end(), [](const Joint& a, const Joint& b) { return a.p > b.p; });
        out.m_joints = std::move(list);
        for (const auto& island : out.m_islands) {
            if (island->seen().empty()) continue;
            const Fit at = island->fit_of(island->likeliest(), 2);
            for (std::size_t j = 0; j < island->seen().size(); ++j)
                if (at.slipped[j] != 0) out.m_slipped.push_back(island->seen()[j].entry);
        }
        for (const auto& reading : m_conducting)
            if (nothing_joins(reading)) out.m_slipped.push_back(reading.entry);
        std::sort(out.m_slipped.begin(), out.m_slipped.end());
    }

    const Board& m_board;
    const BoardRoles& m_roles;
    const Practice& m_p;
    const FaultLibrary& m_library;
    const Evidence& m_evidence;
    Memory& m_memory;
    CancelToken m_cancel;
    std::set<int> m_renewed;
    std::shared_ptr<Belief> m_out;
    std::vector<std::vector<Sight>> m_sights;  ///< by island
    std::vector<std::vector<Sight>> m_alone;   ///< by unit
    std::vector<Unjoined> m_conducting;        ///< between islands
    std::vector<std::vector<double>> m_taken;  ///< by unit and mode: what read_alone() has added
    std::vector<std::vector<double>> m_beside; ///< by unit and mode: what readings in circuit leave of it whatever lies beside
};

Result<std::shared_ptr<const Belief>> Belief::make(const FaultLibrary& library, const Evidence& evidence, Memory& memory,
                                                   const CancelToken& cancel) {
    return Maker(library, evidence, memory, cancel).run();
}

} // namespace ohmo::belief
