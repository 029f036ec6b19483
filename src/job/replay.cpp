// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/replay.h"

#include "board/mains_side.h"
#include "board/open_ends.h"
#include "board/rail_sides.h"
#include "circuit/square_wave.h"
#include "job/act_entries.h"
#include "job/load_said.h"
#include "job/traced.h"
#include "readings/outside.h"
#include "readings/quantities.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace ohmo {
namespace {

constexpr std::string_view kNotFitted = "not-fitted";

class Replayer {
public:
    explicit Replayer(const Job& written) : m_out{}, m_job(now(written)) {
        const Job& job = m_job;
        m_out.board = job.board;
        know_meters();
        m_state.lifted.assign(job.board.parts.size(), 0);
        m_state.pulled.assign(job.board.parts.size(), 0);
        find_absent();
        m_out.roles = std::make_shared<const BoardRoles>(find_roles(job.board));
        m_out.rail_sides = rail_sides(job.board);
        m_out.may_hold_charge = !m_out.roles->bulk.empty() || (job.board.mains && half_traced(job.board)) || rectifies_mains(job.board);
        m_out.cold_unlocked = !m_out.may_hold_charge;
    }

    Replay run() {
        for (std::size_t i = 0; i < m_job.journal.size(); ++i)
            if (!m_out.retracted[i]) apply(m_job.journal[i], static_cast<int>(i));
        tries_told();
        if (m_repaired_between_tries) m_out.tries.emplace_back();
        m_out.evidence.state = m_state;
        auto& facts = m_out.facts;
        for (int i = 0; i < static_cast<int>(m_state.lifted.size()); ++i) {
            if (m_state.lifted[static_cast<std::size_t>(i)] && !absent(i)) facts.lifted.push_back(i);
            if (m_state.pulled[static_cast<std::size_t>(i)]) facts.pulled.push_back(i);
        }
        facts.discharged = m_out.cold_unlocked || m_out.mains_on; // under power the question is not asked; an abort asks it again
        return std::move(m_out);
    }

private:
    bool absent(int part) const { return m_out.evidence.absent.contains(part); }

    // The job's own, the usual one among them, and those that ship with the program. The one in hand at the end stands first.
    void know_meters() {
        auto& meters = m_out.evidence.meters;
        meters = m_job.meters;
        const auto is = [](const std::string& id) { return [id](const MeterProfile& m) { return m.id == id; }; };
        const auto usual = std::find_if(meters.begin(), meters.end(), [](const MeterProfile& m) { return m.usual; });
        if (usual != meters.end())
            std::rotate(meters.begin(), usual, usual + 1);
        else
            meters.insert(meters.begin(), MeterProfile{});
        const std::string shipped = milliohm_meter().id;
        const bool four_wires = std::any_of(m_job.journal.begin(), m_job.journal.end(), [&](const Entry& e) { return e.meter == shipped; });
        if (std::none_of(meters.begin(), meters.end(), is(low_power_meter().id))) meters.push_back(low_power_meter());
        if (four_wires && std::none_of(meters.begin(), meters.end(), is(shipped))) meters.push_back(milliohm_meter());
        const std::string of_old = meters.front().id;
        std::string hand = of_old;
        for (std::size_t i = 0; i < m_job.journal.size(); ++i)
            if (const Entry& e = m_job.journal[i]; e.act == Do::Meter && !m_out.retracted[i] && !e.meter.empty())
                hand = e.meter == kUsualMeter ? of_old : e.meter;
        if (const auto held = std::find_if(meters.begin(), meters.end(), is(hand)); held != meters.end())
            std::rotate(meters.begin(), held, held + 1);
        m_usual = meter_called(of_old);
        m_hand = m_usual;
    }

    std::size_t meter_called(const std::string& id) const {
        const auto& meters = m_out.evidence.meters;
        const auto found = std::find_if(meters.begin(), meters.end(), [&](const MeterProfile& m) { return m.id == id; });
        return found == meters.end() ? m_usual : static_cast<std::size_t>(found - meters.begin());
    }

    void take_in_hand(const Entry& e) {
        if (!e.meter.empty()) {
            m_hand = e.meter == kUsualMeter ? m_usual : meter_called(e.meter); // one that nobody knows: the usual
            m_out.hand = {m_hand == m_usual ? std::string() : e.meter, {}};
        }
        if (e.value) m_out.hand.leads = e.value;
    }

    // What turned out not to be fitted never was: also not for what was read before anybody looked.
    void find_absent() {
        for (std::size_t i = 0; i < m_job.journal.size(); ++i) {
            const Entry& e = m_job.journal[i];
            if (m_out.retracted[i] || e.act != Do::Look || e.saw != kNotFitted) continue;
            if (const auto part = m_job.board.find_part(e.part)) m_out.evidence.absent.insert(*part);
        }
        m_out.evidence.renewed = m_out.evidence.absent;
        for (int part : m_out.evidence.absent) m_state.lifted[static_cast<std::size_t>(part)] = 1;
    }

    void apply(const Entry& e, int index) {
        const auto part = m_out.board.find_part(e.part);
        switch (e.act) {
        case Do::Symptom:
            m_out.symptoms.push_back(e.saw);
            observe(index, Seen::Symptom).word = e.saw;
            break;
        case Do::History:
            m_out.history.push_back(e.saw);
            m_out.evidence.history.insert(e.saw);
            break;
        case Do::Look:
            return look(e, part, index);
        case Do::Read:
            return read(e, part, index);
        case Do::Discharge:
            m_out.cold_unlocked = true;
            m_out.mains_on = false;
            if (e.value) m_out.charge = Charge{*e.value, e.at};
            if (e.value && m_out.roles->hv >= 0)
                m_out.measured[std::minmax(m_out.roles->hv, m_out.roles->primary_ground)] = Charge{*e.value, e.at};
            break;
        case Do::Check:
            return outside(e, index);
        case Do::Try:
            return tried(e, index);
        case Do::Meter:
            return take_in_hand(e);
        case Do::Clean:
            m_out.facts.cleaned = true;
            break;
        case Do::Cool:
        case Do::Heat:
            return change_temperature(e, part, index);
        case Do::Note:
            take_apart_note(e, index, m_out.apart);
            if (e.what.empty()) m_out.notes.push_back(e.text);
            break;
        case Do::Photo:
            take_photo(e, m_out.photos, m_out.part_pictures);
            break;
        case Do::PowerStep:
            return power_step(e);
        case Do::SignOff:
            m_out.outcome = e.saw;
            break;
        default:
            if (part) return apply_to_part(e, *part, index);
            if (e.act == Do::Refit || e.act == Do::Plug) disturbed(); // whatever it was, the board was worked on
            break;
        }
    }

    void apply_to_part(const Entry& e, int part, int index) {
        char &lifted = m_state.lifted[static_cast<std::size_t>(part)], &pulled = m_state.pulled[static_cast<std::size_t>(part)];
        switch (e.act) {
        case Do::Lift:
        case Do::Remove:
            if (lifted != 0) m_out.evidence.assured.insert(part);
            lifted = 1;
            break;
        case Do::Refit:
            m_out.evidence.assured.erase(part);
            if (!absent(part)) lifted = 0;
            if (m_out.work.contains(part)) m_out.work[part] = Work{index, {}, {}, false, m_out.work[part].joints};
            disturbed();
            break;
        case Do::Pull:
            if (pulled != 0) m_out.evidence.assured.insert(part);
            pulled = 1;
            break;
        case Do::Plug:
            m_out.evidence.assured.erase(part);
            pulled = 0;
            disturbed();
            break;
        case Do::Replace:
            if (absent(part)) break;
            lifted = 0;
            tries_told();
            m_repaired_between_tries = !m_out.tries.empty();
            m_out.outside.clear();
            m_out.evidence.renewed.insert(part);
            m_out.work[part] = Work{index, {}, {}, false};
            disturbed();
            break;
        case Do::Resolder:
            if (absent(part)) break;
            tries_told();
            m_repaired_between_tries = !m_out.tries.empty();
            m_out.outside.clear();
            m_out.evidence.resoldered.insert(part);
            m_out.work[part] = Work{index, {}, {}, false, true};
            disturbed();
            break;
        case Do::Prove:
            return prove(e, part);
        case Do::Substitute: {
            auto& o = observe(index, Seen::Substitute);
            o.part = part;
            o.word = e.saw;
            break;
        }
        case Do::Verdict:
            return verdict(e, part, index);
        default:
            break;
        }
    }

    // A wrong adapter is not only a cause outside: what it did to the board is its history.
    void outside(const Entry& e, int index) {
        auto& o = observe(index, Seen::Outside);
        o.check = e.what;
        o.word = e.saw;
        m_out.outside[e.what] = e.saw;
        if (const auto told = history_told(e.saw); !told.empty()) m_out.evidence.history.insert(std::string(told));
    }

    void tried(const Entry& e, int index) {
        Try t;
        t.entry = index;
        t.how = e.saw == "runs" ? Tried::Runs : e.saw == "dies" ? Tried::Dies : Tried::Fails;
        if (!e.what.empty()) t.warm = e.what == "warm";
        t.seconds = e.value;
        m_tries.push_back(t);
    }

    // What the tries of this time come to is a complaint like any other.
    void tries_told() {
        if (m_tries.empty()) return;
        if (const TryTrend trend = trend_of(m_out.board.practice(), m_tries); !trend.word.empty())
            observe(m_tries.back().entry, Seen::Symptom).word = trend.word;
        m_out.tries.push_back(std::exchange(m_tries, {}));
        m_repaired_between_tries = false;
    }

    void prove(const Entry& e, int part) {
        const auto found = m_out.work.find(part);
        if (found == m_out.work.end()) return; // nothing new there
        const bool right = e.saw == "right";
        if (e.what == "look")
            found->second.look = right;
        else if (e.what == "joined")
            found->second.joined[e.pin] = right;
        else
            found->second.all = right;
    }

    void change_temperature(const Entry& e, std::optional<int> part, int index) {
        std::vector<int> area;
        for (int i = 0; i < static_cast<int>(m_out.board.parts.size()); ++i)
            if (part ? i == *part : !e.stage.empty() && m_out.board.part(i).stage == e.stage) area.push_back(i);
        if (area.empty()) return;
        auto& o = observe(index, e.act == Do::Cool ? Seen::Cooled : Seen::Heated);
        o.area = std::move(area);
        o.word = e.saw;
    }

    Observation& observe(int index, Seen kind) {
        Observation o;
        o.entry = index;
        o.kind = kind;
        o.renewed = m_out.evidence.renewed;
        o.resoldered = m_out.evidence.resoldered;
        m_out.evidence.observations.push_back(std::move(o));
        return m_out.evidence.observations.back();
    }

    // Cold proofs hold only until the board is worked on again.
    void disturbed() {
        m_out.facts.bulk_ohms.reset();
        m_out.facts.rail_ohms.clear();
    }

    void one_look(int part, const std::string& saw, int index) {
        m_out.looks[part] = saw;
        m_out.evidence.looked.insert(part);
        if (absent(part)) return; // nothing there that could look like anything
        if (saw == "soot" || saw == "burnt" || saw == "hole" || saw == "vented") {
            m_out.facts.soot = true;
            m_out.facts.cleaned = false;
        }
        auto& o = observe(index, Seen::Look);
        o.part = part;
        o.word = saw;
    }

    // Soot or a smell about a stage: something there went, nobody knows yet what.
    void area_look(const Entry& e, int index) {
        std::vector<int> area;
        for (int i = 0; i < static_cast<int>(m_out.board.parts.size()); ++i)
            if (m_out.board.part(i).stage == e.stage && !absent(i)) area.push_back(i);
        if (area.empty()) return;
        if (e.saw == "soot") {
            m_out.facts.soot = true;
            m_out.facts.cleaned = false;
        }
        auto& o = observe(index, Seen::Look);
        o.area = std::move(area);
        o.word = e.saw;
    }

    void look(const Entry& e, std::optional<int> part, int index) {
        if (part) return one_look(*part, e.saw, index);
        if (e.saw != "fine") return area_look(e, index);
        for (int i = 0; i < static_cast<int>(m_out.board.parts.size()); ++i)
            if (m_out.board.part(i).stage == e.stage && !m_out.looks.contains(i) && !looked_later(i, index)) one_look(i, "fine", index);
    }

    // A stage looked over covers only parts without a look of their own, wherever that stands in the journal.
    bool looked_later(int part, int index) const {
        for (std::size_t k = static_cast<std::size_t>(index) + 1; k < m_job.journal.size(); ++k)
            if (!m_out.retracted[k] && m_job.journal[k].act == Do::Look && m_out.board.find_part(m_job.journal[k].part) == part)
                return true;
        return false;
    }

    void read(const Entry& e, std::optional<int> part, int index) {
        const bool powered = !e.powered.empty() && e.powered != "off";
        if (e.powered == "mains" || e.powered == "limited") power_on();
        if (powered) m_out.measured.clear(); // a converter charges what a battery feeds
        const Leads leads = leads_of(m_out.board, e);
        if (powered && e.value && (e.what == "volts-dc" || e.what == "volts-ac"))
            m_out.live_readings.push_back({rail_name(leads.red, e.from), "V", *e.value});
        if (e.value && e.what == "amps") m_out.live_readings.push_back({"mains-current", "A", *e.value});
        if (e.what == "volts-dc") return volts(e, leads, powered, index);
        if ((e.what == "ripple" || e.what == "volts-ac") && fully_powered(e) && !held_back(m_out.board, m_out.facts.passed) && e.value &&
            leads.red >= 0) {
            auto& o = observe(index, e.what == "ripple" ? Seen::LiveRipple : Seen::LiveAlternating);
            o.query.red = leads.red;
            o.query.black = leads.black;
            o.value = *e.value;
            o.load = load_of(e);
            return;
        }
        const auto quantity = quantity_named(e.what);
        if (powered || !quantity || leads.red < 0 || leads.black < 0) return;
        auto& o = observe(index, Seen::Reading);
        o.query.what = *quantity;
        o.query.red = leads.red;
        o.query.black = leads.black;
        o.query.state = m_state;
        if (part && (e.lifted || m_state.is_lifted(*part))) o.query.alone = *part;
        o.query.meter = static_cast<int>(e.meter.empty() ? m_hand : meter_called(e.meter));
        o.value = told(m_out.evidence.meters[m_hand], m_out.hand, e);
        o.over = e.over || !e.value;
        o.rising = e.rising;
        if (e.what == "scope-residue") {
            const auto& generator = m_out.evidence.meters[static_cast<std::size_t>(o.query.meter)];
            o.over = o.value >= generator.square_open_volts() * 0.98;
            o.value = o.over ? 0 : esr_of_residue(o.value, generator.square_open_volts(), generator.square_ohms);
        }
        if (o.query.alone < 0 && *quantity == Quantity::Ohms) proofs(o);
    }

    void proofs(const Observation& o) {
        const PowerFacts::Cold cold{o.value, o.over, o.rising};
        const auto across = [&](NetId a, NetId b) {
            return (o.query.red == a && o.query.black == b) || (o.query.red == b && o.query.black == a);
        };
        bool whole = true;
        for (int i = 0; i < static_cast<int>(m_state.lifted.size()); ++i) whole = whole && (!m_state.is_lifted(i) || absent(i));
        whole = whole && std::all_of(m_state.pulled.begin(), m_state.pulled.end(), [](char c) { return c == 0; });
        if (!whole) return; // with a part out of circuit nothing is proven about the board
        if (m_out.roles->hv >= 0 && across(m_out.roles->hv, m_out.roles->primary_ground)) m_out.facts.bulk_ohms = cold;
        for (int r = 0; r < static_cast<int>(m_out.board.rails.size()); ++r)
            if (const auto& rail = m_out.board.rails[static_cast<std::size_t>(r)];
                across(rail.net_id, rail.return_id) || (!o.over && at_a_rail(o.query.red, o.query.black, rail))) // not by an open contact
                m_out.facts.rail_ohms[r] = cold;
    }

    // What contacts and coils join to a rail has its name.
    NetId side(NetId net) const { return net < 0 ? net : m_out.rail_sides[static_cast<std::size_t>(net)]; }
    std::string rail_name(NetId net, const std::string& otherwise) const { return net < 0 ? otherwise : m_out.board.net_name(side(net)); }
    bool at_a_rail(NetId one, NetId other, const Rail& rail) const {
        return std::minmax(side(one), side(other)) == std::minmax(rail.net_id, rail.return_id);
    }

    void volts(const Entry& e, const Leads& leads, bool powered, int index) {
        if (!e.value) return;
        const bool bulk = m_out.roles->hv >= 0 && leads.red == m_out.roles->hv;
        if (bulk) {
            m_out.charge = Charge{std::fabs(*e.value), e.at};
            if (!powered) {
                m_out.mains_on = false;
                m_out.decay.push_back({static_cast<double>(e.at), std::fabs(*e.value)});
                if (std::fabs(*e.value) <= working_volts())
                    m_out.cold_unlocked = true;
                else
                    m_out.cold_unlocked = false;
            }
        }
        if (!powered && !m_out.may_hold_charge && std::fabs(*e.value) <= working_volts()) {
            m_out.mains_on = false;
            m_out.cold_unlocked = true;
        }
        if (!powered && leads.red >= 0 && leads.black >= 0)
            m_out.measured[std::minmax(leads.red, leads.black)] = Charge{std::fabs(*e.value), e.at};
        if (!powered || leads.red < 0) return;
        m_out.live.emplace_back(m_out.board.net_name(side(leads.red)), *e.value);
        if (!fully_powered(e) || (held_back(m_out.board, m_out.facts.passed) && !regulates(leads, *e.value))) return;
        auto& o = observe(index, Seen::LiveVolts);
        o.query.red = leads.red;
        o.query.black = leads.black;
        o.value = *e.value;
        o.load = load_of(e);
    }

    // Behind a lamp or a variable transformer too little proves nothing; as much as it should be proves that it regulates.
    bool regulates(const Leads& leads, double volts) const {
        return std::any_of(m_out.board.rails.begin(), m_out.board.rails.end(), [&](const Rail& r) {
            return r.net_id == side(leads.red) && r.return_id == side(leads.black) &&
                   std::fabs(volts) >= std::fabs(r.volts) * (1 - r.tolerance);
        });
    }

    std::optional<double> load_of(const Entry& e) const {
        if (e.load.empty()) return std::nullopt;
        const auto share = load_share(m_out.board, rail_name(leads_of(m_out.board, e).red, e.from), e.load);
        return share ? std::optional(*share) : std::nullopt;
    }

    // On its own supply and nothing that holds it back; a board without mains has no other.
    bool fully_powered(const Entry& e) const { return e.powered == "mains" || (!m_out.board.mains && e.powered == "elv"); }

    void power_on() {
        m_out.mains_on = true;
        m_out.cold_unlocked = !m_out.may_hold_charge && !m_out.board.mains; // the plug is in, whatever holds a charge
        m_out.decay.clear();
        m_out.measured.clear();
    }

    void verdict(const Entry& e, int part, int index) {
        auto& o = observe(index, Seen::Verdict);
        o.part = part;
        o.word = e.saw;
        if (const auto mode = mode_from_name(e.mode)) {
            o.modes.push_back(*mode);
            if (*mode == FaultMode::Short) {
                o.modes.push_back(FaultMode::DsShort);
                o.modes.push_back(FaultMode::CeShort);
            }
            if (e.saw == "bad") m_out.found_bad[part] = *mode;
        }
    }

    void power_step(const Entry& e) {
        const bool passed = e.saw == "passed";
        const auto step = step_named(e.step);
        m_out.steps.push_back({e.step, passed});
        m_out.live_readings.clear();
        m_out.facts.aborted = e.saw == "aborted";
        if (passed && step) m_out.facts.passed.push_back(*step);
        if (e.saw == "aborted" || e.saw == "cleared") m_out.facts.passed.clear();
        if (e.saw == "cleared") m_out.facts.aborted = false;
        const bool live = step && on_mains(step->kind);
        // A passed mains step leaves the mains connected for the next hold; an abort pulls it.
        if (live && passed) power_on();
        if (e.saw == "aborted") {
            m_out.mains_on = false;
            m_out.cold_unlocked = m_out.cold_unlocked || !m_out.may_hold_charge;
        }
        if (live && !m_out.roles->bulk.empty()) m_out.charge = Charge{bulk_volts(m_out.board, *m_out.roles), e.at};
    }

    // The job as it reads with everything that was traced.
    Job now(const Job& written) {
        m_out.retracted = retractions(written.journal, written.journal.size());
        return traced(written, m_out.retracted);
    }

    Replay m_out;
    Job m_job;
    BoardState m_state;
    std::size_t m_usual = 0, m_hand = 0;   ///< of the evidence's meters
    std::vector<Try> m_tries;              ///< since the last repair
    bool m_repaired_between_tries = false; ///< something was replaced after the last of them
};

} // namespace

Leads leads_of(const Board& board, const Entry& entry) {
    Leads leads;
    if (entry.part.empty()) {
        leads.red = board.find_net(entry.from).value_or(-1);
        leads.black = board.find_net(entry.to).value_or(-1);
        return leads;
    }
    const auto index = board.find_part(entry.part);
    if (!index) return leads;
    const Part& part = board.part(*index);
    leads.part = *index;
    const auto& info = kind_info(part.kind);
    leads.red = part.net(entry.pins.size() == 2 ? entry.pins[0] : std::string(info.red));
    leads.black = part.net(entry.pins.size() == 2 ? entry.pins[1] : std::string(info.black));
    return leads;
}

std::vector<std::string> Replay::pictures() const {
    std::vector<std::string> out;
    for (const auto& photo : photos) out.push_back(photo.file);
    for (const auto& picture : part_pictures) out.push_back(picture.file);
    for (const auto& note : apart)
        if (!note.photo.empty()) out.push_back(note.photo);
    return out;
}

double told(const MeterProfile& in_hand, const MeterInHand& hand, const Entry& reading) {
    const double shown = reading.value.value_or(0);
    const bool through_leads = hand.leads && reading.act == Do::Read && reading.what == quantity_name(Quantity::Ohms) &&
                               (reading.meter.empty() || reading.meter == in_hand.id);
    return through_leads ? std::max(0.0, shown - *hand.leads + in_hand.leads) : shown;
}

double told(const Replay& now, const Entry& reading) { return told(now.evidence.meters.front(), now.hand, reading); }

Replay replay(const Job& job) { return Replayer(job).run(); }

} // namespace ohmo
