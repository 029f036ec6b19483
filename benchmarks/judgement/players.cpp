// SPDX-License-Identifier: GPL-3.0-or-later
#include "players.h"

#include "job/act_entries.h"
#include "job/replay.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <cstdlib>

namespace ohmo::judgement {
namespace {

constexpr std::size_t kMostActs = 120, kMostFixedActs = 400, kLookEvery = 4;
constexpr double kSure = 0.95;
constexpr double kMinutesTrace = 0.5; // to find a part and its pins

std::set<int> parts_of(const std::vector<Fault>& faults) {
    std::set<int> out;
    for (const auto& f : faults) out.insert(f.part);
    return out;
}

Entry entry(Do act, const std::string& saw) {
    Entry e;
    e.act = act;
    e.saw = saw;
    return e;
}

// What a technician reads on a part without taking it out, and the look that goes with it.
void read_part(const Board& board, int i, std::vector<NextAct>& out) {
    const auto& part = board.part(i);
    const auto& info = kind_info(part.kind);
    const auto read = [&](Quantity what, NetId red, NetId black, double minutes) {
        if (red >= 0 && black >= 0 && red != black)
            out.push_back({.act = Act::Read, .query = {what, red, black, -1, {}, 0}, .part = i, .minutes = minutes});
    };
    if (part.kind == PartKind::Bridge) {
        for (const char* ac : {"~1", "~2"}) {
            read(Quantity::Diode, part.net(ac), part.net("+"), 0.6);
            read(Quantity::Diode, part.net("-"), part.net(ac), 0.6);
        }
    } else if (is_diode_like(part.kind)) {
        read(Quantity::Diode, part.net("A"), part.net("K"), 0.6);
    } else if (is_wet_or_solid_electrolytic(part.kind)) {
        read(Quantity::Ohms, part.net("+"), part.net("-"), 0.6);
        read(Quantity::Esr, part.net("+"), part.net("-"), 0.8);
    } else {
        read(Quantity::Ohms, part.net(info.red), part.net(info.black), 0.6);
        if (is_switch_device(part.kind)) read(Quantity::Ohms, part.net(part.net("G") >= 0 ? "G" : "B"), part.net(info.black), 0.6);
    }
}

void look_at(int i, std::vector<NextAct>& out) { out.push_back({.act = Act::Look, .part = i, .minutes = 0.4}); }

void lift(const Board& board, int i, std::vector<NextAct>& out) {
    const auto& part = board.part(i);
    const auto& info = kind_info(part.kind);
    if (part.kind == PartKind::Transformer || part.kind == PartKind::Connector || part.kind == PartKind::Load || is_controller(part.kind))
        return;
    const Quantity what = is_diode_like(part.kind)                  ? Quantity::Diode
                          : is_wet_or_solid_electrolytic(part.kind) ? Quantity::Esr
                                                                    : Quantity::Ohms;
    const NetId red = part.net(info.red), black = part.net(info.black);
    if (red >= 0 && black >= 0 && red != black)
        out.push_back({.act = Act::Read, .query = {what, red, black, i, {}, 0}, .part = i, .to_lift = {i}, .minutes = 4.6});
}

// Fuse, looks, the bulk capacitor, bridge, switch with sense and gate parts, controller supply, rectifiers, capacitors by ESR, the rest.
int routine_rank(const Part& p) {
    if (p.kind == PartKind::Fuse) return 0;
    if (p.stage == "bulk") return 1;
    if (p.kind == PartKind::Bridge || p.stage == "rectify") return 2;
    if (p.stage == "switch") return 3;
    if (p.stage == "control") return 4;
    if (p.stage == "rectify-out") return 5;
    if (is_wet_or_solid_electrolytic(p.kind)) return 6;
    return 7;
}

} // namespace

Table::Table(Job start, const FaultLibrary& library) : m_start(std::move(start)), m_library(library) {
    m_start.journal.clear();
    m_roles = std::make_shared<const BoardRoles>(find_roles(m_start.board));
}

std::vector<NextAct> Table::fixed_order(Player player, unsigned seed) const {
    const Board& board = m_start.board;
    std::vector<int> parts(board.parts.size());
    for (std::size_t i = 0; i < parts.size(); ++i) parts[i] = static_cast<int>(i);
    std::mt19937 random(seed);
    if (player == Player::Random) std::shuffle(parts.begin(), parts.end(), random);
    std::vector<NextAct> acts;
    if (player == Player::Routine) {
        std::stable_sort(parts.begin(), parts.end(),
                         [&](int a, int b) { return routine_rank(board.part(a)) < routine_rank(board.part(b)); });
        for (int i : parts)
            if (board.part(i).kind == PartKind::Fuse) read_part(board, i, acts);
        for (int i : parts)
            if (is_wet_or_solid_electrolytic(board.part(i).kind) || board.part(i).stage == "switch" || board.part(i).kind == PartKind::Fuse)
                look_at(i, acts);
    }
    for (int i : parts) {
        if (player != Player::Routine) look_at(i, acts);
        if (player != Player::Routine || board.part(i).kind != PartKind::Fuse) read_part(board, i, acts);
    }
    for (int i : parts) lift(board, i, acts);
    return acts;
}

Job Table::begin(const Bench& bench) const {
    Job job = m_start;
    for (const auto& word : bench.truth().symptoms) job = job.with(entry(Do::Symptom, word));
    for (const auto& word : bench.truth().history) job = job.with(entry(Do::History, word));
    Entry discharge;
    discharge.act = Do::Discharge;
    discharge.value = 0.3;
    return job.with(discharge);
}

std::optional<Assessment> Table::look(const Job& job) {
    const Replay now = replay(job);
    auto& memory = m_memory[now.evidence.history];
    if (!memory.board) {
        memory.board = std::make_shared<const Board>(m_start.board);
        memory.roles = m_roles;
    }
    auto belief = belief::Belief::make(m_library, now.evidence, memory, {});
    return belief ? std::optional(assess(*memory.board, std::move(*belief), now.evidence)) : std::nullopt;
}

Job Table::after(Job job, const NextAct& act, const Entry& answer) const {
    return with_act(std::move(job), act_entries(m_start.board, {}, act), answer);
}

namespace {

// How surely every part is on its right side: the odds of the one least so.
double certainty(const Assessment& a, const std::set<int>& bad) {
    double least = 1;
    for (const auto& b : a.parts) least = std::min(least, bad.contains(b.part) ? b.bad : 1 - b.bad);
    return least;
}

void explain(const Assessment& a, const Board& board, const std::set<int>& bad) {
    for (const auto& b : a.parts) {
        const bool is = bad.contains(b.part);
        if (is == (b.bad > 0.5)) continue;
        std::printf("    %s %s %.5f:", is ? "missed" : "needless", board.part(b.part).ref.c_str(), b.bad);
        for (const auto& r : b.reasons) std::printf(" [entry %d %+.1f dB]", r.entry, r.decibans);
        std::printf("\n");
    }
}

} // namespace

Game Table::play(Player player, Bench& bench, unsigned seed, bool show) {
    return player == Player::Program ? play_program(bench, show) : play_fixed(player, bench, seed);
}

// Only its length is asked: a look after every fourth act, then at those before it.
Game Table::play_fixed(Player player, Bench& bench, unsigned seed) {
    Game g;
    const auto bad = parts_of(bench.truth().faults);
    const auto acts = fixed_order(player, seed);
    const std::size_t most = std::min<std::size_t>(kMostFixedActs, acts.size());
    std::vector<Job> jobs = {begin(bench)};
    std::vector<double> minutes = {0};
    const auto sure = [&](std::size_t turn) {
        const auto a = look(jobs[turn]);
        return a && certainty(*a, bad) > kSure;
    };
    for (std::size_t turn = 0; turn <= most; ++turn) {
        if (turn % kLookEvery == 0 || turn == most) {
            if (sure(turn)) {
                std::size_t t = turn < kLookEvery ? 0 : turn - kLookEvery + 1;
                while (t < turn && !sure(t)) ++t;
                g.solved = true;
                g.until_sure = static_cast<int>(t);
                g.minutes_until_sure = minutes[t];
            }
            if (g.solved || turn == most) return g;
        }
        jobs.push_back(after(jobs.back(), acts[turn], bench.answer(acts[turn])));
        minutes.push_back(minutes.back() + acts[turn].minutes);
    }
    return g;
}

Game Table::play_program(Bench& bench, bool show) {
    Game g;
    g.outside = bench.truth().outside;
    const Board& board = m_start.board;
    const auto bad = parts_of(bench.truth().faults);
    for (const auto& f : bench.truth().faults) g.truth += fault_text(board, f) + " ";
    Job job = begin(bench);
    std::optional<Assessment> a;
    std::set<int> traced; // looked for because the board may differ there
    for (std::size_t turn = 0; turn <= kMostActs; ++turn) {
        a = look(job);
        if (!a) return g;
        for (const auto& b : a->parts)
            if (b.bad > 0.02) g.calibration.push_back({b.bad, bad.contains(b.part), fault_text(board, b.leading)});
        const double set = certainty(*a, bad);
        if (set > kSure && g.until_sure < 0) {
            g.until_sure = g.acts;
            g.minutes_until_sure = g.minutes;
            g.solved = true;
        }
        if (turn == kMostActs) break;
        const Replay now = replay(job);
        auto next = next_acts({board, *m_roles, m_library, *a, now.evidence}, {});
        g.stopped = !next || next->stop || next->acts.empty();
        if (g.stopped) break;
        if (next->trace.differs && traced.insert(next->trace.part).second) {
            const Entry seen = bench.trace(next->trace.part);
            if (show) std::printf("    traced %s: %s\n", seen.part.c_str(), seen.saw.c_str());
            job = job.with(seen);
            ++g.acts;
            g.minutes += kMinutesTrace;
            continue;
        }
        const NextAct act = next->acts.front();
        const Entry answer = bench.answer(act);
        for (std::size_t k = 0; show && k < std::min<std::size_t>(2, a->stories.size()); ++k) {
            std::printf("        %.3f", a->stories[k].p);
            for (const auto& step : a->stories[k].scenario.steps)
                std::printf(" %s (%s)", fault_text(board, step.fault).c_str(), std::string(cause_name(step.cause)).c_str());
            std::printf("\n");
        }
        if (show)
            std::printf("    %s %s %s-%s %s%s %s; true set %.3f\n", answer.what.c_str(), answer.part.c_str(), answer.from.c_str(),
                        answer.to.c_str(), answer.over ? "over" : fmt::format("{:.4g}", answer.value.value_or(0)).c_str(),
                        answer.rising ? " rising" : "", answer.saw.c_str(), set);
        job = after(std::move(job), act, answer);
        ++g.acts;
        g.minutes += act.minutes;
    }
    if (show) explain(*a, board, bad);
    for (const auto& b : a->parts) g.wrong_and_sure = g.wrong_and_sure || (bad.contains(b.part) ? b.bad < 1 - kSure : b.bad > kSure);
    g.alarmed = !a->contradicted_by.empty() || a->unexplained > 0.1;
    if (!a->stories.empty() && !a->stories.front().scenario.steps.empty())
        g.root_said = fault_text(board, a->stories.front().scenario.steps.front().fault);
    if (!a->stories.empty() && !a->stories.front().scenario.steps.empty())
        g.root_first = bench.truth().roots.contains(a->stories.front().scenario.steps.front().fault.part);
    for (const auto& b : a->parts) {
        const bool is = bad.contains(b.part);
        if (is && b.bad < 0.5) ++g.missed;
        if (!is && b.bad > 0.5) ++g.needless;
        if (b.bad > 0.3) g.said += fmt::format("{} {:.2f} ", fault_text(board, b.leading), b.bad);
    }
    return g;
}

} // namespace ohmo::judgement
