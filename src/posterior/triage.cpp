// SPDX-License-Identifier: GPL-3.0-or-later
#include "posterior/triage.h"

#include "belief/belief.h"
#include "board/open_ends.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

// The last volts of a rail idle and under load, with the entries they were logged at.
struct RailRead {
    const Observation *idle = nullptr, *loaded = nullptr;
};

class Judge {
public:
    Judge(const Board& board, const Assessment& assessment, const Evidence& evidence)
        : m_board(board), m_p(board.practice()), m_assessment(assessment), m_evidence(evidence), m_rails(board.rails.size()) {
        for (const auto& o : evidence.observations) {
            if (o.kind == Seen::Outside && of_one_time(o, evidence)) m_answers[o.check] = &o;
            if (o.kind == Seen::LiveVolts && of_one_time(o, evidence)) live(o);
            m_said = m_said || o.kind == Seen::Symptom || o.kind == Seen::LiveVolts || o.kind == Seen::Outside;
        }
    }

    Triage run() {
        asks();
        const auto earth = m_answers.find("lead-earth");
        m_out.earth_open = earth != m_answers.end() && earth->second->word == "open";
        // Nobody switches on again what went off with a bang.
        const bool violent = std::any_of(m_evidence.observations.begin(), m_evidence.observations.end(), [](const Observation& o) {
            return o.kind == Seen::Symptom && (o.word == "bang" || o.word == "smoke" || o.word == "fuse-blows");
        });
        m_out.rails_would_tell =
            !violent && 1 - m_assessment.supply_good < m_p.verdict_sure && !m_board.rails.empty() &&
            std::none_of(m_rails.begin(), m_rails.end(), [](const RailRead& r) { return r.idle != nullptr || r.loaded != nullptr; });
        m_out.verdict = verdict();
        return std::move(m_out);
    }

private:
    void live(const Observation& o) {
        for (std::size_t r = 0; r < m_board.rails.size(); ++r) {
            if (o.query.red != m_board.rails[r].net_id || o.query.black != m_board.rails[r].return_id) continue;
            const double load = o.load.value_or(1);
            if (load <= m_p.idle_load) m_rails[r].idle = &o;
            if (load >= m_p.loaded_from) m_rails[r].loaded = &o;
        }
    }

    bool right(std::size_t rail, const Observation& o) const {
        const Rail& r = m_board.rails[rail];
        return std::fabs(o.value - r.volts) <= r.tolerance * std::fabs(r.volts);
    }
    bool low(std::size_t rail, const Observation& o) const {
        const Rail& r = m_board.rails[rail];
        return std::fabs(o.value) < std::fabs(r.volts) * (1 - r.tolerance);
    }

    Verdict verdict() {
        if (!m_said) return Verdict::NothingSaid;
        if (weak_under_load()) return Verdict::WeakUnderLoad;
        if (from_outside()) return Verdict::Outside;
        if (all_right_loaded()) return Verdict::RunsRight;
        if (half_traced(m_board)) return Verdict::Untraced;
        m_out.chance = 1 - m_assessment.supply_good - m_assessment.unexplained;
        return m_out.chance > m_p.verdict_stands ? Verdict::AtFault : Verdict::Open;
    }

    bool weak_under_load() {
        for (std::size_t r = 0; r < m_rails.size(); ++r) {
            const auto& [idle, loaded] = m_rails[r];
            if (idle == nullptr || loaded == nullptr || !right(r, *idle) || !low(r, *loaded)) continue;
            m_out.proved_by = {idle->entry, loaded->entry};
            m_out.chance = 1 - m_assessment.supply_good;
            return true;
        }
        return false;
    }

    bool from_outside() {
        const auto cause = std::max_element(m_assessment.outside.begin(), m_assessment.outside.end());
        if (*cause <= m_p.verdict_stands || m_answers.empty()) return false;
        m_out.cause = static_cast<Outside>(cause - m_assessment.outside.begin());
        m_out.chance = *cause;
        for (const auto& [check, o] : m_answers)
            if (const AnswerChances c = answer_chances(m_p, check, o->word); c.outside[static_cast<std::size_t>(m_out.cause)] > c.board)
                m_out.proved_by.push_back(o->entry);
        return true;
    }

    bool all_right_loaded() {
        for (std::size_t r = 0; r < m_rails.size(); ++r)
            if (m_rails[r].loaded == nullptr || !right(r, *m_rails[r].loaded)) return false;
        for (const auto& r : m_rails) m_out.proved_by.push_back(r.loaded->entry);
        m_out.chance = m_assessment.supply_good;
        return !m_rails.empty();
    }

    void asks() {
        const belief::Complaint* last = nullptr;
        for (const auto& c : m_assessment.belief->complaints().list)
            if (of_one_time(c, m_evidence)) last = &c;
        if (last == nullptr) return;
        for (const auto& check : outside_checks()) {
            if (!asked_of(check, m_board) || m_answers.contains(std::string(check.id))) continue;
            m_out.asks.push_back({&check, last->outside.bits(check, m_assessment.outside), m_p.*check.minutes});
        }
        std::stable_sort(m_out.asks.begin(), m_out.asks.end(),
                         [](const OutsideAsk& a, const OutsideAsk& b) { return a.bits / a.minutes > b.bits / b.minutes; });
    }

    const Board& m_board;
    const Practice& m_p;
    const Assessment& m_assessment;
    const Evidence& m_evidence;
    std::map<std::string, const Observation*> m_answers;
    std::vector<RailRead> m_rails;
    bool m_said = false;
    Triage m_out;
};

} // namespace

std::string_view verdict_name(Verdict verdict) {
    static constexpr std::array<std::string_view, 7> names = {"nothing-said",    "untraced", "runs-right", "outside",
                                                              "weak-under-load", "at-fault", "open"};
    return names[static_cast<std::size_t>(verdict)];
}

Triage triage(const Board& board, const Assessment& assessment, const Evidence& evidence) {
    return Judge(board, assessment, evidence).run();
}

} // namespace ohmo
