// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/complaints.h"

#include "board/branch_fuses.h"
#include "board/open_ends.h"
#include "board/roles.h"
#include "board/ways_out.h"
#include "damage/nature.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <map>
#include <optional>

namespace ohmo::belief {
namespace {

constexpr double kAsGoodAsSound = 1.5; // nats: a sound board explains a live reading as well as any fault
constexpr double kContradicted = 2;    // nats: a fault by itself would not have let that reading be
constexpr double kDeviations = 3;      // beyond which a reading is not of what stands there

// Something that happened, once: nobody says so of a unit that only runs badly.
bool is_event(const std::string& word) { return word == "bang" || word == "smoke"; }

// How well behaviours account for a word, each 0 to 1: beyond what a running unit is complained of.
class Saying {
public:
    Saying(const Practice& p, const std::string& word) : m_by_state{}, m_misjudged(p.misjudged_behaviour) {
        const auto chance = [&](int r, bool open) {
            return symptom_chance(p, word, {.running = static_cast<Running>(r), .violent = true, .fuse_open = open});
        };
        const double normal = symptom_chance(p, word, {});
        double most = normal;
        for (int r = 0; r < kStates; ++r)
            for (const bool open : {false, true}) most = std::max(most, chance(r, open));
        const auto told = p.symptoms.find(word);
        if (most <= normal || told == p.symptoms.end()) return;
        // Customers' words are loose, some more than others: a unit that does not run as it should is complained of in any of them.
        for (int r = 0; r < kStates; ++r)
            for (const bool open : {false, true})
                m_by_state[static_cast<std::size_t>(r)][open ? 1 : 0] =
                    std::max(std::clamp((chance(r, open) - normal) / (most - normal), 0.0, 1.0),
                             static_cast<Running>(r) == Running::Normal ? 0.0 : told->second.loosely);
        double sum = 0, best = 0;
        for (int r = 0; r < static_cast<int>(Running::Normal); ++r) {
            sum += fits(static_cast<Running>(r), true);
            best = std::max(best, fits(static_cast<Running>(r), true));
        }
        m_misjudged = std::min(p.misjudged_behaviour, (sum - best) / (static_cast<int>(Running::Normal) - 1));
    }

    double fits(Running running, bool fuse_open = false) const { return m_by_state[static_cast<std::size_t>(running)][fuse_open ? 1 : 0]; }
    /// Where the behaviour is another than was reckoned and than the word is said of most: some words go with many behaviours, a fuse that
    /// blows or an output that is too high with one.
    double misjudged() const { return m_misjudged; }

private:
    static constexpr int kStates = static_cast<int>(Practice::kRunningStates);
    std::array<std::array<double, 2>, Practice::kRunningStates> m_by_state; // with the fuse whole, and open
    double m_misjudged;
};

// Of what a unit is said most, by the table of words; nothing for a word that is in none.
std::optional<Running> said_most_of(const Practice& p, const std::string& word) {
    const auto found = p.symptoms.find(word);
    if (found == p.symptoms.end()) return std::nullopt;
    const auto& by_state = found->second.by_state;
    return static_cast<Running>(std::max_element(by_state.begin(), by_state.end()) - by_state.begin());
}

// A complaint of the supply: one of what it feeds, as good as sound, asks for no fault on the board.
bool told_of_running(const Practice& p, const std::string& word) {
    const auto most = said_most_of(p, word);
    return is_event(word) || (most && *most != Running::Normal);
}

bool tells_that_it_does_not_start(const Practice& p, const std::string& word) {
    const auto most = said_most_of(p, word);
    return most && *most < Running::Hiccup;
}

// Of a unit in this state, against those that the word is said of most. 1 for a word that is in no table.
double said_of(const Practice& p, const std::string& word, Running state) {
    const auto most = said_most_of(p, word);
    if (!most) return 1;
    const auto& chance = p.symptoms.find(word)->second.by_state;
    return chance[static_cast<std::size_t>(state)] / chance[static_cast<std::size_t>(*most)];
}

// It hums, ticks, sags, gives too much: said most of a unit that starts, and of one in this state, which does not or starts over and over,
// so many times less.
bool tells_that_it_starts(const Practice& p, const std::string& word, Running state) {
    const auto most = said_most_of(p, word);
    return most && *most >= Running::Hiccup && said_of(p, word, state) * p.hardly_said <= 1;
}

class ComplaintMaker {
public:
    ComplaintMaker(const Model& model, const Board& board, const BoardRoles& roles, const std::vector<std::vector<char>>& violent,
                   Alone& alone)
        : m_model(model), m_board(board), m_roles(roles), m_p(board.practice()), m_natures(board, roles), m_violent(violent),
          m_alone(alone), m_ways_out(ways_out(board)) {
        for (const auto& unit : model.units) {
            m_out.explains.emplace_back(unit.modes.size(), std::array<double, kMostComplaints>{});
            m_out.ln_spared.emplace_back(unit.modes.size(), 0.0);
        }
    }

    Complaints run(const Evidence& evidence) {
        m_seen = &evidence.observations;
        for (const auto& o : evidence.observations)
            if (o.kind == Seen::Symptom && told_of_running(m_p, o.word)) word(o);
        nobody_mentions_joints();
        for (const Running state : {Running::NoInput, Running::BlowsFuse, Running::NoStart, Running::Hiccup}) started(state);
        std::vector<Live> odd;
        for (const auto& o : evidence.observations)
            if (o.kind == Seen::LiveVolts || o.kind == Seen::LiveRipple || o.kind == Seen::LiveAlternating)
                if (auto read = under_power(o)) odd.push_back(std::move(*read));
        for (const auto& read : odd) wants_a_fault(read);
        for (auto& c : m_out.list) outside(c, evidence);
        return std::move(m_out);
    }

private:
    // What was asked before the cover came off, of this time.
    void outside(Complaint& c, const Evidence& evidence) {
        for (const auto& o : evidence.observations)
            if (o.kind == Seen::Outside && of_one_time(o, c)) c.outside.hear(o.check, o.word);
        if (c.outside.board_factor(false) == c.outside.board_factor(true)) return;
        const auto k = static_cast<std::size_t>(&c - m_out.list.data());
        for_each_mode([&](std::size_t u, std::size_t m) {
            const bool shorting = m_alone.behaviour(m_model.units[u].modes[m].fault).running == Running::BlowsFuse;
            m_out.explains[u][m][k] *= c.outside.board_factor(shorting);
        });
    }

    // The complaint of this time, a new one where there is none; nothing when there are too many.
    int complaint(const Observation& o, double here, bool fresh) {
        for (std::size_t k = 0; k < m_out.list.size() && !fresh; ++k)
            if (of_one_time(m_out.list[k], o) && m_of_words[k] != 0) {
                m_out.list[k].entries.push_back(o.entry);
                return static_cast<int>(k);
            }
        if (m_out.list.size() == kMostComplaints && !make_room()) return -1;
        const double of_itself = half_traced(m_board) ? m_p.unexplained_untraced : m_p.unexplained_complaint;
        m_out.list.push_back({{o.entry}, o.renewed, o.resoldered, OutsideOdds(m_board, of_itself, here, unfed(o)), here});
        m_of_words.push_back(fresh ? 0 : 1);
        for_each_mode([&](std::size_t u, std::size_t m) { m_out.explains[u][m][m_out.list.size() - 1] = 1; });
        return static_cast<int>(m_out.list.size()) - 1;
    }

    // Two readings of one time that one fault brings about become one complaint.
    bool make_room() {
        std::size_t one = 0, other = 0;
        double best = m_p.live_one_story;
        for (std::size_t j = 0; j < m_out.list.size(); ++j)
            for (std::size_t k = j + 1; k < m_out.list.size(); ++k) {
                if (m_of_words[j] != 0 || m_of_words[k] != 0 || !of_one_time(m_out.list[j], m_out.list[k])) continue;
                double common = 0;
                for_each_mode(
                    [&](std::size_t u, std::size_t m) { common = std::max(common, m_out.explains[u][m][j] * m_out.explains[u][m][k]); });
                if (common <= best) continue;
                best = common;
                one = j;
                other = k;
            }
        if (other == 0) return false;
        for_each_mode([&](std::size_t u, std::size_t m) {
            auto& each = m_out.explains[u][m];
            each[one] *= each[other];
            std::move(each.begin() + static_cast<long>(other) + 1, each.end(), each.begin() + static_cast<long>(other));
        });
        auto& entries = m_out.list[one].entries;
        const auto& more = m_out.list[other].entries;
        entries.insert(entries.end(), more.begin(), more.end());
        std::vector<Complaint> left;
        for (std::size_t k = 0; k < m_out.list.size(); ++k)
            if (k != other) left.push_back(std::move(m_out.list[k]));
        m_out.list.swap(left);
        m_of_words.erase(m_of_words.begin() + static_cast<long>(other));
        return true;
    }

    // Against any other complaint: a bang is nobody's fancy, and a fuse that blows or an output that is too high, which few faults bring
    // about, is as seldom that of one that nobody thought of. What is said at the same time counts together.
    double made_up(const Observation& o) const {
        return least_of_words(o, [&](const std::string& word) {
            const double most = m_p.misjudged_behaviour;
            return is_event(word) ? m_p.made_up_event : most > 0 ? std::max(Saying(m_p, word).misjudged() / most, m_p.least_made_up) : 1.0;
        });
    }
    // Nobody says of a unit that gets nothing that it hums.
    double unfed(const Observation& o) const {
        return least_of_words(o, [&](const std::string& word) { return is_event(word) ? 1 : said_of(m_p, word, Running::NoInput); });
    }

    template <class Of>
    double least_of_words(const Observation& o, const Of& of) const {
        double least = 1;
        if (o.kind != Seen::Symptom) return least;
        for (const auto& other : *m_seen)
            if (other.kind == Seen::Symptom && of_one_time(other, o) && told_of_running(m_p, other.word))
                least = std::min(least, of(other.word));
        return least;
    }

    template <class Work>
    void for_each_mode(const Work& work) {
        for (std::size_t u = 0; u < m_model.units.size(); ++u)
            for (std::size_t m = 1; m < m_model.units[u].modes.size(); ++m) work(u, m);
    }

    // Words that a joint which opens and closes is told by.
    bool tells_of_joints(const std::string& word) const {
        const auto row = m_p.natures.find(word);
        return row != m_p.natures.end() && row->second[static_cast<std::size_t>(Nature::OpensAndCloses)] >= m_p.told_of_joints;
    }

    // Whoever complains of something else, and not that it comes and goes, has hardly a joint that does, unless it is what the words are
    // of.
    void nobody_mentions_joints() {
        const bool spoken = std::any_of(m_of_words.begin(), m_of_words.end(), [](char c) { return c != 0; });
        const bool of_joints = std::any_of(m_seen->begin(), m_seen->end(),
                                           [&](const Observation& o) { return o.kind == Seen::Symptom && tells_of_joints(o.word); });
        if (!spoken || of_joints) return;
        for_each_mode([&](std::size_t u, std::size_t m) {
            if (!opens_and_closes(m_model.units[u].modes[m].fault.mode)) return;
            double told = 0;
            for (std::size_t k = 0; k < m_out.list.size(); ++k) told = std::max(told, m_out.explains[u][m][k]);
            m_out.ln_spared[u][m] += (1 - told) * std::log(m_p.joint_unmentioned);
        });
    }

    bool gone(std::size_t u, std::size_t m, const Observation& o) const {
        const auto& mode = m_model.units[u].modes[m];
        return mode.setting || o.renewed.contains(mode.fault.part) ||
               (mode.fault.mode == FaultMode::DryJoint && o.resoldered.contains(mode.fault.part));
    }
    static double doubted(double chance, double otherwise, double doubt) { return (1 - doubt) * chance + doubt * otherwise; }

    void word(const Observation& o) {
        const int k = complaint(o, made_up(o), false);
        if (k < 0) return;
        const Saying saying(m_p, o.word);
        const bool of_fuses = said_most_of(m_p, o.word) == Running::BlowsFuse;
        for_each_mode([&](std::size_t u, std::size_t m) {
            const Fault& fault = m_model.units[u].modes[m].fault;
            if (of_fuses && fault.mode == FaultMode::Open && is_input_fuse(m_board.part(fault.part)) && !gone(u, m, o))
                m_out.ln_spared[u][m] -= std::log(m_p.spared); // that it is whole is the exception
            auto& chance = m_out.explains[u][m][static_cast<std::size_t>(k)];
            Behaviour b = m_alone.behaviour(fault);
            b.violent = b.violent || m_violent[u][m] != 0;
            if (b.running == Running::BlowsFuse) b.fuse_open = true; // and with it the fuse
            chance = std::min(chance, gone(u, m, o)      ? 0.0
                                      : is_event(o.word) ? symptom_chance(m_p, o.word, b)
                                                         : word_chance(saying, fault, b, m_natures.chance(o.word, fault)));
        });
    }

    // It was heard or seen to start, or to run, and nobody says that it died of it: something that lets nothing in, blows the fuse or stops
    // it came afterwards, or the words are not to be trusted.
    void started(Running state) {
        const Observation* told = nullptr;
        for (const auto& o : *m_seen) {
            if (o.kind != Seen::Symptom) continue;
            if (is_event(o.word) || tells_that_it_does_not_start(m_p, o.word)) return;
            if (told == nullptr && tells_that_it_starts(m_p, o.word, state)) told = &o;
        }
        if (told == nullptr) return;
        for_each_mode([&](std::size_t u, std::size_t m) {
            const Fault& fault = m_model.units[u].modes[m].fault;
            if (gone(u, m, *told) || opens_and_closes(fault.mode)) return; // it starts now and then
            if (m_alone.behaviour(fault).running == state) m_out.ln_spared[u][m] += std::log(m_p.broken_since);
        });
    }

    double word_chance(const Saying& saying, const Fault& fault, const Behaviour& behaviour, double nature) const {
        double fits = saying.fits(behaviour.running, behaviour.fuse_open);
        if (opens_and_closes(fault.mode) && behaviour.running != Running::Normal)
            fits = std::max(fits, nature); // between that and a sound unit: whatever is said of what comes and goes
        if (cuts_off(fault))               // whoever uses it gets nothing, or too little
            fits = std::max({fits, saying.fits(Running::NoStart), saying.fits(Running::Weak)});
        return nature * doubted(fits, saying.misjudged(), m_p.behaviour_doubt);
    }

    // The supply runs; what it feeds gets nothing.
    bool cuts_off(const Fault& fault) const {
        const bool contact = m_board.part(fault.part).kind == PartKind::Connector;
        return m_ways_out[static_cast<std::size_t>(fault.part)] != 0 &&
               (fault.mode == FaultMode::Open || fault.mode == FaultMode::DryJoint || (contact && fault.mode == FaultMode::High));
    }

    /// A reading under power that a sound board does not give.
    struct Live {
        const Observation* seen;
        UnderPower there;
        std::vector<std::vector<double>> each; ///< ln by unit and mode
        double sound = 0, most = 0;
    };

    // That much got there: a fault that lets less through, whatever else is broken, was not there.
    void got_through(const Live& read) {
        const Observation& o = *read.seen;
        for_each_mode([&](std::size_t u, std::size_t m) {
            const Fault& fault = m_model.units[u].modes[m].fault;
            if (gone(u, m, o) || opens_and_closes(fault.mode)) return;
            const LiveFigure left = read.there.figure(&fault);
            const bool nothing = std::max(std::fabs(left.low), std::fabs(left.high)) < kDeviations * left.sigma;
            if ((nothing || m_alone.behaviour(fault).running < Running::Weak) && left.beyond(o.value) > kDeviations * left.sigma)
                spare(u, m, read, read.each[u][m] - read.most);
        });
    }

    void spare(std::size_t u, std::size_t m, const Live& read, double ln) {
        const double blunder = std::log(m_p.live_blunder * (read.there.path ? m_p.path_doubt : 1));
        m_out.ln_spared[u][m] += std::clamp(ln, blunder, 0.0);
        if (ln < -kContradicted) m_runs_on[{u, m}].push_back(read.seen);
    }

    // Another reading of that time says that it does not do what the sums say.
    bool runs_on(std::size_t u, std::size_t m, const Observation& o) const {
        const auto known = m_runs_on.find({u, m});
        return known != m_runs_on.end() &&
               std::any_of(known->second.begin(), known->second.end(), [&](const Observation* other) { return of_one_time(*other, o); });
    }

    // A reading that a sound board gives speaks against every fault that would spoil it; any other wants a fault that brings it about, and
    // is returned.
    std::optional<Live> under_power(const Observation& o) {
        auto there = under_power_at(o, m_board, m_roles, m_alone);
        if (!there) return std::nullopt;
        Live read{&o, std::move(*there), {}, 0, 0};
        const auto& ln = read.there.ln;
        read.sound = read.most = ln(nullptr);
        for (const auto& unit : m_model.units) read.each.emplace_back(unit.modes.size(), read.sound);
        for_each_mode([&](std::size_t u, std::size_t m) {
            if (!gone(u, m, o)) read.most = std::max(read.most, read.each[u][m] = ln(&m_model.units[u].modes[m].fault));
        });
        if (read.sound > read.most - kAsGoodAsSound) {
            for_each_mode([&](std::size_t u, std::size_t m) { spare(u, m, read, read.each[u][m] - read.sound); });
            return std::nullopt;
        }
        if (read.there.figure) got_through(read);
        return read;
    }

    void wants_a_fault(const Live& read) {
        const Observation& o = *read.seen;
        const auto& there = read.there;
        const int k = complaint(o, there.path || there.dead ? m_p.path_doubt : 1, true); // where nothing arrives, something holds it up
        if (k < 0) return;
        const double doubt = there.path ? m_p.path_doubt : m_p.behaviour_doubt;
        const double otherwise = there.path ? 0 : m_p.misjudged_behaviour; // what does not stop the energy does not stop it
        const auto goes_on = [&](const Fault& fault) { // and a rail at which nothing arrives has to do with more than what sags or hums
            const Running running = m_alone.behaviour(fault).running;
            return there.dead && (running == Running::Weak || running == Running::High || running == Running::Normal);
        };
        for_each_mode([&](std::size_t u, std::size_t m) {
            const Fault& fault = m_model.units[u].modes[m].fault;
            const double ln = read.each[u][m];
            const bool unlike = runs_on(u, m, o);
            double explains = unlike || ln <= read.sound + 0.1 ? 0 : std::exp(ln - read.most);
            if (there.path && m_alone.behaviour(fault).running == Running::BlowsFuse) explains *= m_p.spared; // the open fuse does so
            const double beside = there.dead && (unlike || goes_on(fault)) ? otherwise * m_p.path_doubt : otherwise;
            m_out.explains[u][m][static_cast<std::size_t>(k)] = gone(u, m, o) ? 0 : doubted(explains, beside, doubt);
        });
    }

    const Model& m_model;
    const Board& m_board;
    const BoardRoles& m_roles;
    const Practice& m_p;
    const Natures m_natures;
    const std::vector<Observation>* m_seen = nullptr;
    const std::vector<std::vector<char>>& m_violent;
    Alone& m_alone;
    std::vector<char> m_ways_out; ///< by part
    Complaints m_out;
    std::vector<char> m_of_words;
    std::map<std::pair<std::size_t, std::size_t>, std::vector<const Observation*>> m_runs_on;
};

} // namespace

double Complaints::silent(int unit, int mode, int subset) const {
    double out = 1;
    if (mode == 0) return out;
    for (std::size_t k = 0; k < list.size(); ++k)
        if ((subset >> k & 1) != 0) out *= 1 - explains[static_cast<std::size_t>(unit)][static_cast<std::size_t>(mode)][k];
    return out;
}

Complaints make_complaints(const Model& model, const Board& board, const BoardRoles& roles, const Evidence& evidence,
                           const std::vector<std::vector<char>>& violent, Alone& alone) {
    return ComplaintMaker(model, board, roles, violent, alone).run(evidence);
}

} // namespace ohmo::belief
