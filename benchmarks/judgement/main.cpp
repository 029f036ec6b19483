// SPDX-License-Identifier: GPL-3.0-or-later
// Plays hidden faults against the program and against three fixed ways of working, family by family.
// --partial gives the program the same parts as assumptions only, while the bench holds the traced board with other values; --two-roots
// plays only truths with two unrelated roots, which no list of scenarios has. --help lists the rest.
#include "base/disk.h"
#include "base/parallel.h"
#include "board/nominal.h"
#include "damage/fault_library.h"
#include "players.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <map>
#include <mutex>
#include <random>

namespace {

using namespace ohmo;
using namespace ohmo::judgement;

const std::vector<std::pair<std::string, std::string>> kFamilies = {{"flyback", "rb6-fresh"},
                                                                    {"flyback-integrated", "sw3-flyback-integrated"},
                                                                    {"self-oscillating", "bd2-self-oscillating"},
                                                                    {"half-bridge", "tl12-half-bridge"},
                                                                    {"linear", "fd1-linear"},
                                                                    {"ac-fed-split", "tm4-ac-fed-split"},
                                                                    {"adapter", "gl1-adapter"},
                                                                    {"buck", "cr8-buck"},
                                                                    {"rail", "rb6-rail"},
                                                                    {"inverter", "fc1-inverter"}};

double share(double count, std::size_t of) { return of == 0 ? 0 : 100.0 * count / static_cast<double>(of); }

template <class Get>
double median(const std::vector<Game>& games, Get get) {
    std::vector<double> v;
    for (const auto& g : games)
        if (g.solved) v.push_back(get(g));
    if (v.empty()) return NAN;
    std::nth_element(v.begin(), v.begin() + static_cast<long>(v.size() / 2), v.end());
    return v[v.size() / 2];
}

void heading() {
    std::printf("\n%-20s %5s %6s %6s %5s %6s %6s %7s %6s %8s\n", "family", "games", "root%", "solved", "acts", "min", "enough", "missed%",
                "wrong%", "needless");
}

void line(const std::string& name, const std::vector<Game>& games) {
    int root = 0, solved = 0, wrong = 0, missed = 0, stopped = 0, needless = 0;
    for (const auto& g : games) {
        root += g.root_first;
        solved += g.solved;
        wrong += g.wrong_and_sure;
        stopped += g.stopped;
        missed += g.stopped && g.missed > 0;
        needless += g.needless;
    }
    const auto n = games.size();
    std::printf("%-20s %5zu %6.1f %6.1f %5.0f %6.1f %6.1f %7.1f %6.1f %8.2f\n", name.c_str(), n, share(root, n), share(solved, n),
                median(games, [](const Game& g) { return g.until_sure; }),
                median(games, [](const Game& g) { return g.minutes_until_sure; }), share(stopped, n), share(missed, n), share(wrong, n),
                n == 0 ? 0 : needless / static_cast<double>(n));
}

void calibration(const std::vector<Game>& games) {
    std::map<int, std::pair<int, int>> bins;             // by tenth: said, true
    std::pair<int, int> ninety;                          // the same around 90 %
    std::map<std::string, std::pair<int, int>> by_fault; // the same of each fault
    std::size_t outside = 0;
    int alarmed = 0, wrong = 0;
    for (const auto& g : games) {
        if (g.outside) {
            ++outside;
            alarmed += g.alarmed || g.solved || (g.missed == 0 && g.needless == 0);
            wrong += g.wrong_and_sure;
        }
        for (const auto& [p, is, fault] : g.calibration) {
            auto& bin = bins[std::min(9, static_cast<int>(p * 10))];
            ++bin.first;
            bin.second += is;
            if (p < 0.85 || p > 0.95) continue;
            ++ninety.first;
            ninety.second += is;
            ++by_fault[fault].first;
            by_fault[fault].second += is;
        }
    }
    for (const auto& [tenth, bin] : bins)
        std::printf("said %2d to %3d %%: true %5.1f %% of %d\n", tenth * 10, tenth * 10 + 10,
                    share(bin.second, static_cast<std::size_t>(bin.first)), bin.first);
    std::printf("said 85 to  95 %%: true %5.1f %% of %d\n", share(ninety.second, static_cast<std::size_t>(ninety.first)), ninety.first);
    for (const auto& [fault, times] : by_fault)
        if (times.first - times.second > 3)
            std::printf("    %s: true %.0f %% of %d\n", fault.c_str(), share(times.second, static_cast<std::size_t>(times.first)),
                        times.first);
    std::printf("two unrelated roots: %zu games, all named or the misfit said %.0f %%, wrong above 95 %% %.0f %%\n", outside,
                share(alarmed, outside), share(wrong, outside));
}

// What a game said around 90 % and was not so, with the number of turns it said it.
std::string too_sure(const Game& game) {
    std::map<std::string, int> times;
    for (const auto& [p, is, fault] : game.calibration)
        if (p >= 0.85 && p <= 0.95 && !is) ++times[fault];
    std::string out;
    for (const auto& [fault, n] : times) out += (out.empty() ? "| too sure of: " : ", ") + fault + " " + std::to_string(n);
    return out;
}

// Two parts without which the unit works as well, not where the blueprint has them: one not fitted, one on another rail.
Differences rearranged(Board& board, const Truth& truth, unsigned seed) {
    std::mt19937 random(seed * 31u + 7u);
    std::vector<int> spare, loads;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& p = board.part(i);
        if (std::any_of(truth.faults.begin(), truth.faults.end(), [&](const Fault& f) { return f.part == i; })) continue;
        const bool small =
            p.kind == PartKind::Ceramic || p.kind == PartKind::YCapacitor || p.kind == PartKind::Film || p.kind == PartKind::Resistor;
        if (small && (p.stage == "rails" || p.stage == "smooth" || p.stage == "rectify-out" || p.stage == "filter")) spare.push_back(i);
        if (p.kind == PartKind::Resistor && p.stage == "rails" && board.rails.size() > 1) loads.push_back(i);
    }
    Differences out;
    if (!loads.empty()) {
        const int i = loads[random() % loads.size()];
        const auto& rail = board.rails[random() % board.rails.size()];
        for (auto& pin : board.parts[static_cast<std::size_t>(i)].pins) {
            if (pin.id == rail.return_id || pin.id == rail.net_id) continue;
            pin.id = rail.net_id;
            out.moved.insert(i);
            break;
        }
    }
    if (!spare.empty())
        if (const int i = spare[random() % spare.size()]; !out.moved.contains(i)) out.absent.insert(i);
    return out;
}

// The same board with the values of a maker who chose otherwise.
Board varied(Board board, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    for (auto& part : board.parts) {
        const double factor = std::exp(0.3 * normal(random));
        const auto nominal = nominal_value(part);
        if (part.kind == PartKind::Resistor && part.role.find("sense") == std::string::npos && nominal && nominal->ohms)
            part.ohms = *nominal->ohms * factor;
    }
    return board;
}

// The same parts, none of them seen yet.
Job assumed(Job job) {
    for (auto& part : job.board.parts) part.assumed = true;
    return job;
}

} // namespace

int main(int argc, char** argv) {
    int count = 20;
    unsigned seed = 1;
    int only = -1; // this game of each family
    bool partial = false, other = false, baselines = false, show = false, two_roots = false;
    std::vector<std::string> wanted;
    CLI::App arguments{"Plays hidden faults against the program and against three fixed ways of working, family by family."};
    arguments.add_option("GAMES", count, "per family")->check(CLI::PositiveNumber);
    arguments.add_option("SEED", seed, "of the list of truths: tune on some, judge on others");
    arguments.add_option("FAMILY", wanted, "these only");
    arguments.add_flag("--partial", partial, "the program only assumes its parts, the bench has the traced board with other values");
    arguments.add_flag("--other", other, "the same, and one part is missing on the bench and another moved");
    arguments.add_flag("--two-roots", two_roots, "only truths with two unrelated roots");
    arguments.add_flag("--baselines", baselines, "parts in order, at random, and the usual routine beside the program");
    arguments.add_flag("--show", show, "every question and answer");
    arguments.add_option("--only", only, "this game of each family");
    CLI11_PARSE(arguments, argc, argv);
    partial = partial || other;
    const RealDisk disk;
    const auto reader = JobReader::make(disk, data_dir());
    const auto library = load_fault_library(disk, data_dir() / "fault-library.json");
    if (!reader || !library) {
        std::fprintf(stderr, "cannot read the shipped data\n");
        return 3;
    }
    struct Row {
        std::string family, file;
        std::vector<Game> games;
        std::map<Player, std::vector<Game>> others;
        bool failed = false;
    };
    std::vector<Row> rows;
    for (const auto& [family, file] : kFamilies)
        if (wanted.empty() || std::find(wanted.begin(), wanted.end(), family) != wanted.end())
            rows.push_back({family, file, {}, {}, false});
    std::mutex printing;
    const auto play_family = [&](std::size_t r) {
        Row& row = rows[r];
        const auto traced = reader->load(disk, data_dir() / "demo" / (row.file + ".ohmo.json"));
        if (!traced) {
            row.failed = true;
            return;
        }
        Table table(partial ? assumed(traced->job) : traced->job, *library);
        Generator generator(traced->job.board, seed, two_roots);
        for (int k = 0; k < count; ++k) {
            const Truth truth = generator.draw();
            if (only >= 0 && k != only) continue;
            const unsigned game = seed * 1000u + static_cast<unsigned>(k);
            Board real = partial ? varied(traced->job.board, game) : traced->job.board;
            const Differences differences = other ? rearranged(real, truth, game) : Differences{};
            const auto play = [&](Player player) {
                Bench bench(table.start().board, real, truth, game, differences);
                return table.play(player, bench, game, show && player == Player::Program);
            };
            Game g = play(Player::Program);
            {
                const std::lock_guard guard(printing);
                std::printf("%-18s %3d %-6s %s%s %2d acts %5.1f min, sure after %2d; truth: %s| said: %s| root said: %s %s\n",
                            row.family.c_str(), k,
                            g.wrong_and_sure ? "WRONG"
                            : g.solved       ? "solved"
                                             : "open",
                            g.missed > 0 ? "MISSED " : "", g.root_first ? "" : "other root", g.acts, g.minutes, g.until_sure,
                            g.truth.c_str(), g.said.c_str(), g.root_said.c_str(), too_sure(g).c_str());
                std::fflush(stdout);
            }
            row.games.push_back(std::move(g));
            if (baselines)
                for (Player p : {Player::InOrder, Player::Random, Player::Routine}) row.others[p].push_back(play(p));
        }
    };
    if (show) // one after the other, so that the questions stay together
        for (std::size_t r = 0; r < rows.size(); ++r) play_family(r);
    else
        in_parallel(rows.size(), play_family);
    std::vector<Game> everything;
    std::map<Player, std::vector<Game>> others;
    for (const auto& row : rows) {
        if (row.failed) {
            std::fprintf(stderr, "cannot read %s\n", row.file.c_str());
            return 3;
        }
        everything.insert(everything.end(), row.games.begin(), row.games.end());
        for (const auto& [p, games] : row.others) others[p].insert(others[p].end(), games.begin(), games.end());
    }
    heading();
    for (const auto& row : rows) line(row.family, row.games);
    line("all, the program", everything);
    if (baselines) {
        line("parts in order", others[Player::InOrder]);
        line("random order", others[Player::Random]);
        line("usual routine", others[Player::Routine]);
    }
    calibration(everything);
}
