// SPDX-License-Identifier: GPL-3.0-or-later
// Plays hidden faults against the program: it asks, a simulated bench answers. The truths come from a generator of their own (its odds and
// chains are written down here, not taken from the scenario enumerator), on a board whose parts are drawn within their tolerances, read by
// a meter with noise and leads, with looks that mislead. A seed belongs to a list of truths: tune on some, judge on others. Usage:
// ohmo_judgement [GAMES] [SEED]
#include "base/disk.h"
#include "circuit/square_wave.h"
#include "job/analysis.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <map>
#include <random>
#include <set>

namespace {

using namespace ohmo;

constexpr int kMostActs = 45;
constexpr double kSure = 0.95;

struct Truth {
    std::vector<Fault> faults; ///< the root first
    bool outside = false;      ///< two roots of different kinds, which the library holds for unlikely
    std::string symptom;
};

/// The bench's own idea of what fails and what that takes with it.
class Generator {
public:
    Generator(const Board& board, unsigned seed) : m_board(board), m_topology(find_topology(board)), m_random(seed) {}

    Truth draw() {
        Truth t;
        root(t);
        t.outside = chance(0.12);
        if (t.outside) {
            const std::string first = t.symptom;
            root(t);
            // A dead unit cannot tick: what stops it earlier on the way from the mains is what the customer sees.
            static const std::vector<std::string> order = {"bang",    "fuse-blows",  "dead",           "no-start",
                                                           "ticking", "high-output", "unstable-output"};
            const auto rank = [&](const std::string& word) { return std::find(order.begin(), order.end(), word) - order.begin(); };
            if (rank(first) < rank(t.symptom)) t.symptom = first;
        }
        return t;
    }

    std::mt19937& random() { return m_random; }
    bool chance(double p) { return std::uniform_real_distribution<double>()(m_random) < p; }

private:
    void add(Truth& t, int part, FaultMode mode, const std::string& place = {}) {
        if (part < 0) return;
        if (std::any_of(t.faults.begin(), t.faults.end(), [&](const Fault& f) { return f.part == part; })) return;
        t.faults.push_back({part, mode, place});
    }
    int any(const std::function<bool(const Part&)>& wanted) {
        std::vector<int> found;
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i)
            if (wanted(m_board.part(i))) found.push_back(i);
        return found.empty() ? -1 : found[m_random() % found.size()];
    }
    int of_kind(PartKind kind, const std::string& stage = {}) {
        return any([&](const Part& p) { return p.kind == kind && (stage.empty() || p.stage == stage); });
    }

    void fuse(Truth& t, double p) {
        if (chance(p))
            add(t, of_kind(PartKind::Fuse), FaultMode::Open);
        else if (chance(0.5))
            add(t, of_kind(PartKind::Thermistor), FaultMode::Open);
    }
    void switch_goes(Truth& t) {
        const bool all = chance(0.5);
        add(t, m_topology.power_switch, all ? FaultMode::Short : FaultMode::DsShort);
        for (int sense : m_topology.sense)
            if (chance(0.85)) add(t, sense, FaultMode::Open);
        if (all && chance(0.7)) add(t, m_topology.controller, FaultMode::OutputShort);
        if (chance(0.15)) add(t, of_kind(PartKind::Bridge), FaultMode::Short, chance(0.5) ? "~1+" : "~2-");
        fuse(t, 0.8);
        t.symptom = chance(0.6) ? "bang" : "dead";
    }
    void root(Truth& t) {
        const int roll = static_cast<int>(m_random() % 100);
        if (roll < 18 && !m_topology.bulk.empty()) {
            add(t, m_topology.bulk.front(), FaultMode::Dry);
            if (chance(0.6)) return switch_goes(t);
            t.symptom = "weak-under-load";
        } else if (roll < 34) {
            switch_goes(t);
        } else if (roll < 44) {
            add(t, of_kind(PartKind::Bridge), FaultMode::Short, chance(0.5) ? "~1-" : "~2+");
            fuse(t, 0.9);
            t.symptom = "fuse-blows";
        } else if (roll < 56) {
            add(t, any([](const Part& p) { return p.kind == PartKind::Electrolytic && p.stage == "smooth"; }),
                chance(0.75) ? FaultMode::Dry : FaultMode::Short);
            t.symptom = t.faults.back().mode == FaultMode::Dry ? "unstable-output" : "ticking";
        } else if (roll < 66) {
            add(t,
                any([](const Part& p) { return (p.kind == PartKind::Schottky || p.kind == PartKind::Diode) && p.stage == "rectify-out"; }),
                FaultMode::Short);
            t.symptom = "ticking";
        } else if (roll < 74) {
            add(t, any([](const Part& p) { return p.role == "start-up resistor"; }), FaultMode::Open);
            t.symptom = "no-start";
        } else if (roll < 82 && !m_topology.supply_capacitors.empty()) {
            add(t, m_topology.supply_capacitors.front(), FaultMode::Dry);
            t.symptom = "ticking";
        } else if (roll < 86) {
            add(t, of_kind(PartKind::Varistor), FaultMode::Short);
            fuse(t, 1);
            t.symptom = "fuse-blows";
        } else if (roll < 90) {
            add(t, of_kind(PartKind::Fuse), FaultMode::Open); // fatigue
            t.symptom = "dead";
        } else if (roll < 95) {
            add(t, of_kind(PartKind::Zener, "rails"), FaultMode::Short);
            t.symptom = "ticking";
        } else {
            add(t, any([](const Part& p) { return p.kind == PartKind::Resistor && p.stage == "feedback"; }), FaultMode::Open);
            t.symptom = "high-output";
        }
    }

    const Board& m_board;
    Topology m_topology;
    std::mt19937 m_random;
};

/// The board on the bench, as it really is.
class Bench {
public:
    Bench(const Board& board, Truth truth, unsigned seed) : m_board(board), m_truth(std::move(truth)), m_seed(seed), m_random(seed) {}

    const Truth& truth() const { return m_truth; }

    Entry answer(const NextAct& act) {
        Entry e;
        if (act.act == Act::Read) return read(act.query);
        e.part = m_board.part(act.part).ref;
        const auto fault = std::find_if(m_truth.faults.begin(), m_truth.faults.end(), [&](const Fault& f) { return f.part == act.part; });
        if (act.act == Act::Look) {
            e.act = Do::Look;
            e.saw = look(fault == m_truth.faults.end() ? nullptr : &*fault);
        } else {
            e.act = Do::Substitute;
            e.saw = fault != m_truth.faults.end() && m_truth.faults.size() == 1 ? "works" : "same";
        }
        return e;
    }

    Entry read(const Query& q) {
        Entry e;
        e.act = Do::Read;
        e.what = q.what == Quantity::Ohms ? "ohms" : q.what == Quantity::Diode ? "diode" : q.what == Quantity::Esr ? "esr" : "farads";
        e.from = m_board.net_name(q.red);
        e.to = m_board.net_name(q.black);
        BoardState state = q.state;
        if (q.alone >= 0) {
            e.part = m_board.part(q.alone).ref;
            const auto& part = m_board.part(q.alone);
            for (NetId net : {q.red, q.black})
                for (const auto& pin : part.pins)
                    if (pin.id == net) {
                        e.pins.push_back(pin.role);
                        break;
                    }
            e.from.clear();
            e.to.clear();
            e.lifted = true;
            state.lifted.assign(m_board.parts.size(), 1);
            state.lifted[static_cast<std::size_t>(q.alone)] = 0;
        }
        const Netlist net = drawn(state);
        MeterProfile meter;
        meter.leads = 0.02;
        const auto r = is_direct(q.what) ? read_dc(DcSolver(net), meter, q.what, q.red, q.black)
                                         : read_ac(AcSolver(net, q.what == Quantity::Esr ? meter.esr_hertz : meter.farads_hertz), meter,
                                                   q.what, q.red, q.black);
        if (r.over || !r.converged)
            e.over = true;
        else
            e.value = r.value * std::exp(0.006 * normal());
        e.rising = r.rising && !e.over && chance(0.5);
        if (e.rising) e.value = *e.value * 0.8;
        return e;
    }

private:
    double normal() { return std::normal_distribution<double>()(m_random); }
    bool chance(double p) { return std::uniform_real_distribution<double>()(m_random) < p; }

    std::string look(const Fault* fault) {
        if (fault == nullptr) return chance(0.02) ? "brown" : "fine";
        const auto kind = m_board.part(fault->part).kind;
        if (kind == PartKind::Electrolytic) return chance(0.7) ? (chance(0.8) ? "bulged" : "leaking") : "fine";
        if (kind == PartKind::Fuse) return chance(0.8) ? (chance(0.6) ? "open" : "black-glass") : "fine";
        if (fault->mode == FaultMode::Open) return chance(0.55) ? "burnt" : "fine";
        return chance(0.25) ? (chance(0.5) ? "cracked" : "hole") : "fine";
    }

    // Every element off its nominal value by its own draw, the same in every reading of a game.
    Netlist drawn(const BoardState& state) const {
        Netlist net = expand(m_board, state, m_truth.faults);
        std::map<int, unsigned> ordinal;
        const auto draw = [&](int part, double sigma) {
            std::mt19937 own(m_seed * 7919u + static_cast<unsigned>(part) * 104'729u + ordinal[part]++ * 31u);
            own.discard(3);
            return std::exp(0.7 * sigma * std::normal_distribution<double>()(own));
        };
        for (auto& r : net.resistors) r.ohms *= draw(r.part, r.ln_sigma);
        for (auto& j : net.junctions) j.is *= draw(j.part, j.ln_sigma);
        for (auto& c : net.capacitors) {
            c.farads *= draw(c.part, c.ln_sigma);
            c.esr *= draw(c.part, c.esr_ln_sigma);
        }
        for (auto& core : net.cores) {
            const double factor = draw(core.part, core.ln_sigma);
            for (auto& w : core.windings) w.ohms *= factor;
        }
        return net;
    }

    const Board& m_board;
    Truth m_truth;
    unsigned m_seed;
    std::mt19937 m_random;
};

struct Game {
    bool root_first = false, solved = false, stopped = false, wrong_and_sure = false;
    int acts = 0, until_sure = -1;
    double minutes = 0, minutes_until_sure = 0;
    int missed = 0, needless = 0;
    std::vector<std::pair<double, bool>> calibration; ///< chance said of a part at the end, and the truth
    std::string truth, said;
};

std::set<int> parts_of(const std::vector<Fault>& faults) {
    std::set<int> out;
    for (const auto& f : faults) out.insert(f.part);
    return out;
}

Game play(Analyst& analyst, const Job& start, Bench& bench) {
    Game g;
    Job job = start;
    const Board& board = start.board;
    const auto bad = parts_of(bench.truth().faults);
    for (const auto& f : bench.truth().faults) g.truth += fault_text(board, f) + " ";
    std::shared_ptr<const Analysis> a;
    for (int turn = 0; turn <= kMostActs; ++turn) {
        auto analysed = analyst.analyse(job, {});
        if (!analysed) break;
        a = *analysed;
        double set = 0; // chance of exactly the true set of bad parts
        for (const auto& [p, scenario] : a->assessment.posterior)
            if (parts_of(scenario.faults()) == bad) set += p;
        if (set > kSure && g.until_sure < 0) {
            g.until_sure = g.acts;
            g.minutes_until_sure = g.minutes;
            g.solved = true;
        }
        g.stopped = a->next.stop || a->next.acts.empty();
        if (g.stopped || turn == kMostActs) break;
        const auto& act = a->next.acts.front();
        const Entry answer = bench.answer(act);
        if (std::getenv("OHMO_SHOW_ACTS") != nullptr)
            std::printf("    %s %s %s-%s %s%s %s; true set %.3f\n", answer.what.c_str(), answer.part.c_str(), answer.from.c_str(),
                        answer.to.c_str(), answer.over ? "over" : fmt::format("{:.4g}", answer.value.value_or(0)).c_str(),
                        answer.rising ? " rising" : "", answer.saw.c_str(), set);
        job = job.with(answer);
        ++g.acts;
        g.minutes += act.minutes;
    }
    if (!a) return g;
    if (std::getenv("OHMO_SHOW_ACTS") != nullptr)
        for (std::size_t i = 0; i < std::min<std::size_t>(6, a->assessment.posterior.size()); ++i) {
            std::printf("    %.4f", a->assessment.posterior[i].first);
            for (const auto& step : a->assessment.posterior[i].second.steps) std::printf(" %s", fault_text(board, step.fault).c_str());
            std::printf("\n");
        }
    std::map<std::set<int>, double> sets;
    for (const auto& [p, scenario] : a->assessment.posterior) sets[parts_of(scenario.faults())] += p;
    for (const auto& [set, p] : sets) g.wrong_and_sure = g.wrong_and_sure || (p > kSure && set != bad);
    // The root: the first fault of the likeliest story.
    if (!a->assessment.stories.empty() && !a->assessment.stories.front().scenario.steps.empty())
        g.root_first = a->assessment.stories.front().scenario.steps.front().fault.part == bench.truth().faults.front().part;
    for (const auto& b : a->assessment.parts) {
        const bool is = bad.contains(b.part);
        if (is && b.bad < 0.5) ++g.missed;
        if (!is && b.bad > 0.5) ++g.needless;
        if (b.bad > 0.02) g.calibration.emplace_back(b.bad, is);
        if (b.bad > 0.3) g.said += fmt::format("{} {:.2f} ", fault_text(board, b.leading), b.bad);
    }
    return g;
}

double share(int count, std::size_t of) { return of == 0 ? 0 : 100.0 * count / static_cast<double>(of); }

template <class Get>
double median(const std::vector<Game>& games, Get get) {
    std::vector<double> v;
    for (const auto& g : games)
        if (g.solved) v.push_back(get(g));
    if (v.empty()) return 0;
    std::nth_element(v.begin(), v.begin() + static_cast<long>(v.size() / 2), v.end());
    return v[v.size() / 2];
}

} // namespace

int main(int argc, char** argv) {
    const int count = argc > 1 ? std::atoi(argv[1]) : 40;
    const unsigned seed = argc > 2 ? static_cast<unsigned>(std::atoi(argv[2])) : 1;
    const RealDisk disk;
    const auto reader = JobReader::make(disk, data_dir());
    const auto loaded = reader ? reader->load(disk, data_dir() / "demo" / "rb6-fresh.ohmo.json") : Result<LoadedJob>(reader.problems());
    auto analyst = Analyst::make(disk, data_dir());
    if (!loaded || !analyst) {
        std::fprintf(stderr, "cannot read the demo or the shipped data\n");
        return 3;
    }
    Job fresh = loaded->job;
    fresh.journal.clear();
    Entry discharge;
    discharge.act = Do::Discharge;
    discharge.value = 0.3;
    Generator generator(fresh.board, seed);
    std::vector<Game> games;
    for (int k = 0; k < count; ++k) {
        Bench bench(fresh.board, generator.draw(), seed * 1000u + static_cast<unsigned>(k));
        Entry symptom;
        symptom.act = Do::Symptom;
        symptom.saw = bench.truth().symptom;
        games.push_back(play(*analyst, fresh.with(symptom).with(discharge), bench));
        const auto& g = games.back();
        std::printf("%3d %-6s %2d acts %5.1f min, sure after %2d; truth: %s| said: %s\n", k,
                    g.wrong_and_sure ? "WRONG"
                    : g.solved       ? "solved"
                                     : "open",
                    g.acts, g.minutes, g.until_sure, g.truth.c_str(), g.said.c_str());
        std::fflush(stdout);
    }
    int root = 0, solved = 0, wrong = 0, missed = 0, stopped = 0, needless = 0;
    std::map<int, std::pair<int, int>> bins; // by tenth: said, true
    for (const auto& g : games) {
        root += g.root_first;
        solved += g.solved;
        wrong += g.wrong_and_sure;
        stopped += g.stopped;
        missed += g.stopped && g.missed > 0;
        needless += g.needless;
        for (const auto& [p, is] : g.calibration) {
            auto& bin = bins[std::min(9, static_cast<int>(p * 10))];
            ++bin.first;
            bin.second += is;
        }
    }
    std::printf("\nflyback, %zu games, seed %u\n", games.size(), seed);
    std::printf("root cause first        %5.1f %%\n", share(root, games.size()));
    std::printf("true set above 95 %%     %5.1f %%, median %.0f acts, %.1f minutes\n", share(solved, games.size()),
                median(games, [](const Game& g) { return g.until_sure; }),
                median(games, [](const Game& g) { return g.minutes_until_sure; }));
    std::printf("said enough             %5.1f %%; with a bad part missed %.1f %% of games\n", share(stopped, games.size()),
                share(missed, games.size()));
    std::printf("wrong set above 95 %%    %5.1f %%\n", share(wrong, games.size()));
    std::printf("needless parts condemned %.2f a game\n", static_cast<double>(needless) / static_cast<double>(games.size()));
    for (const auto& [tenth, bin] : bins)
        std::printf("said %2d to %3d %%: true %5.1f %% of %d\n", tenth * 10, tenth * 10 + 10,
                    share(bin.second, static_cast<std::size_t>(bin.first)), bin.first);
}
