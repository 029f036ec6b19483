// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answers.h"

#include "job/act_entries.h"
#include "report/wording.h"

#include <array>
#include <cmath>

namespace ohmo::answers {
namespace {

// Six figures are more than any of this is worth; they keep the output the same on every machine.
double neat(double v) {
    if (v == 0 || !std::isfinite(v)) return 0;
    const double scale = std::pow(10.0, 5 - std::floor(std::log10(std::fabs(v))));
    return std::round(v * scale) / scale;
}

std::string full_mode(const Fault& f) { return std::string(mode_name(f.mode)) + (f.place.empty() ? "" : "@" + f.place); }

Json under_power_of(const Board& board, const Expectation& e) {
    Json rails = Json::array();
    for (std::size_t r = 0; r < e.figures.rails.size(); ++r)
        rails.push_back({{"net", board.rails[r].net},
                         {"volts", neat(e.figures.rails[r].volts)},
                         {"sigma", neat(e.figures.rails[r].sigma)},
                         {"ripple", neat(e.figures.rails[r].ripple)}});
    Json out = {{"running", std::string(running_name(e.behaviour.running))}, {"fuse_open", e.behaviour.fuse_open}, {"rails", rails}};
    if (board.mains) out["bulk"] = {{"volts", neat(e.figures.bulk_volts)}, {"ripple", neat(e.figures.bulk_ripple)}};
    if (e.lamp)
        out["lamp"] = {{"watts", neat(e.lamp->watts)}, {"look", std::string(lamp_look_name(e.lamp->look))}, {"volts", neat(e.lamp->volts)}};
    return out;
}

Json steps_of(const Board& board, const Scenario& scenario) {
    Json out = Json::array();
    for (const auto& s : scenario.steps)
        out.push_back({{"ref", board.part(s.fault.part).ref},
                       {"mode", full_mode(s.fault)},
                       {"cause", std::string(cause_name(s.cause))},
                       {"value", neat(s.value)},
                       {"limit", neat(s.limit)},
                       {"unit", std::string(cause_unit(s.cause))},
                       {"at_seconds", neat(s.at_seconds)}});
    return out;
}

Json refs_of(const Board& board, const std::vector<int>& parts) {
    Json out = Json::array();
    for (int p : parts) out.push_back(board.part(p).ref);
    return out;
}

Json figure_of(const Figure& f) {
    return {{"where", f.where}, {"unit", f.unit}, {"expected", neat(f.expected)}, {"lo", neat(f.lo)}, {"hi", neat(f.hi)}};
}

Json figures_of(const std::vector<Figure>& figures) {
    Json out = Json::array();
    for (const auto& f : figures) out.push_back(figure_of(f));
    return out;
}

Json triage_of(const Analysis& a) {
    const Triage& t = a.triage;
    Json asks = Json::array();
    for (const auto& ask : t.asks)
        asks.push_back({{"check", std::string(ask.check->id)}, {"bits", neat(ask.bits)}, {"minutes", neat(ask.minutes)}});
    Json outside = Json::object();
    for (std::size_t c = 0; c < kOutsides; ++c) outside[std::string(outside_name(static_cast<Outside>(c)))] = neat(a.assessment.outside[c]);
    return {{"verdict", std::string(verdict_name(t.verdict))},
            {"chance", neat(t.chance)},
            {"proved_by", t.proved_by},
            {"outside", outside},
            {"asks", asks}};
}

// Why it is asked for, as a key of the answer, and whether its value is the other part; in the order of NextAct::Why.
struct WhyWord {
    const char* key;
    bool of_another = false;
};
constexpr std::array<WhyWord, 10> kWhy{
    {{""}, {"repeat"}, {"confirms"}, {"differs"}, {"hid", true}, {"blew", true}, {"complaint"}, {"goes_back"}, {"sweeps"}, {"routine"}}};

Json act_of(const Analysis& a, const NextAct& act) {
    const Board& board = a.replay.board;
    Json o;
    if (act.act == Act::Read || act.act == Act::Pull) {
        o["do"] = "read";
        o["what"] = std::string(quantity_name(act.query.what));
        if (act.query.alone >= 0) {
            const auto& part = board.part(act.query.alone);
            o["part"] = part.ref;
            o["lifted"] = true;
            o["pins"] = {part.role_on(act.query.red), part.role_on(act.query.black)};
        }
        o["from"] = board.net_name(act.query.red);
        o["to"] = board.net_name(act.query.black);
        o["powered"] = under_power(act.query.what) ? "mains" : "off";
        if (const auto& why = kWhy[static_cast<std::size_t>(act.why)]; why.of_another)
            o[why.key] = board.part(act.because_of).ref;
        else if (act.why != NextAct::Why::Tells)
            o[why.key] = true;
        if (act.query.meter > 0) o["meter"] = a.replay.evidence.meters[static_cast<std::size_t>(act.query.meter)].id;
        std::vector<int> lifted = act.to_lift, pulled;
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            const bool listed = std::find(lifted.begin(), lifted.end(), i) != lifted.end();
            if (act.query.state.is_lifted(i) && !listed) lifted.push_back(i);
            if (act.query.state.is_pulled(i)) pulled.push_back(i);
        }
        o["state"] = {{"lift", refs_of(board, lifted)}, {"pull", refs_of(board, pulled)}};
    } else if (act.act == Act::Assure) {
        o["do"] = "assure";
        o["part"] = board.part(act.part).ref;
        o["is"] = act.query.state.is_pulled(act.part) ? "apart" : "out";
    } else {
        o["do"] = act.act == Act::Look ? "look" : act.act == Act::Cool ? "cool" : "substitute";
        o["part"] = board.part(act.part).ref;
    }
    if (act.part >= 0 && board.part(act.part).assumed) o["find"] = wording::how_to_find(board, act.part);
    o["bits"] = neat(act.bits);
    o["minutes"] = neat(act.minutes);
    Json bands = Json::array();
    for (const auto& b : act.bands) {
        Json band;
        if (act.act == Act::Read || act.act == Act::Pull) {
            band["lo"] = b.over ? Json() : Json(neat(b.lo));
            band["hi"] = b.over ? Json() : Json(neat(b.hi));
            band["over"] = b.over;
        } else {
            band["saw"] = b.looks;
        }
        band["p"] = neat(b.p);
        band["healthy"] = b.healthy;
        band["story"] = b.story ? fault_text(board, *b.story) : b.healthy ? "healthy" : "";
        bands.push_back(std::move(band));
    }
    o["bands"] = std::move(bands);
    return o;
}

} // namespace

Json rank(const Analysis& a) {
    const Board& board = a.replay.board;
    Json parts = Json::array(), stories = Json::array();
    for (const auto& b : a.assessment.parts) {
        Json modes = Json::object();
        std::vector<std::pair<double, FaultMode>> sorted;
        for (const auto& [mode, p] : b.modes)
            if (p > 5e-4) sorted.emplace_back(p, mode);
        std::sort(sorted.begin(), sorted.end(),
                  [](const auto& x, const auto& y) { return x.first != y.first ? x.first > y.first : x.second < y.second; });
        for (const auto& [p, mode] : sorted) modes[std::string(mode_name(mode))] = neat(p);
        Json reasons = Json::array();
        for (const auto& r : b.reasons) reasons.push_back({{"entry", r.entry}, {"decibans", neat(r.decibans)}});
        parts.push_back({{"ref", board.part(b.part).ref},
                         {"bad", neat(b.bad)},
                         {"mode", full_mode(b.leading)},
                         {"modes", modes},
                         {"settled_cold", b.settled_cold},
                         {"proof", std::string(proof_name(b.proof))},
                         {"reasons", reasons}});
    }
    for (const auto& s : a.assessment.stories) {
        Json faults = Json::array();
        for (const auto& f : s.scenario.faults()) {
            const bool root = !s.scenario.steps.empty() && f.part == s.scenario.steps.front().fault.part;
            faults.push_back({{"ref", board.part(f.part).ref}, {"mode", full_mode(f)}, {"root", root}});
        }
        stories.push_back({{"p", neat(s.p)}, {"faults", faults}, {"steps", steps_of(board, s.scenario)}});
    }
    Json learned = Json::array();
    for (const auto& l : a.assessment.learned)
        learned.push_back({{"ref", l.part >= 0 ? Json(board.part(l.part).ref) : Json()},
                           {"what", l.what},
                           {"assumed", neat(l.assumed)},
                           {"now", neat(l.now)},
                           {"spread", neat(l.spread)}});
    for (std::size_t i = 0; i < learned.size(); ++i)
        if (a.assessment.learned[i].range > 0) learned[i]["range"] = neat(a.assessment.learned[i].range);
    return {{"parts", parts},
            {"stories", stories},
            {"supply_good", neat(a.assessment.supply_good)},
            {"triage", triage_of(a)},
            {"unexplained", neat(a.assessment.unexplained)},
            {"acquitted_odds", neat(a.assessment.acquitted_odds)},
            {"looked_over", neat(a.assessment.looked_over)},
            {"contradicted_by", a.assessment.contradicted_by},
            {"learned", learned}};
}

Json twin(const std::vector<TwinRow>& rows) {
    static constexpr std::array<std::string_view, 5> names = {"higher", "lower", "same", "only-there", "only-here"};
    Json out = Json::array();
    for (const auto& row : rows) {
        const auto& p = row.place;
        Json o = {{"what", std::string(quantity_name(p.what))}};
        if (!p.alone.empty()) o["part"] = p.alone;
        o["from"] = p.red;
        o["to"] = p.black;
        if (!p.out.empty()) o["out"] = p.out;
        for (const auto& [name, reading] : {std::pair("here", &row.here), std::pair("there", &row.there)})
            if (*reading) o[name] = (*reading)->over ? Json("over") : Json(neat((*reading)->value));
        o["like"] = std::string(names[static_cast<std::size_t>(row.like)]);
        out.push_back(std::move(o));
    }
    return {{"places", out}};
}

Json next(const Analysis& a) {
    const Board& board = a.replay.board;
    Json acts = Json::array(), live = Json::array();
    for (const auto& act : a.next.acts) acts.push_back(act_of(a, act));
    for (const auto& act : a.live_next) live.push_back(act_of(a, act));
    Json out = {{"next", acts}, {"stop", a.next.stop}, {"reason", wording::stop(a.next.reason)}};
    if (!live.empty()) out["live"] = std::move(live);
    if (const auto& t = a.next.trace; t.part >= 0)
        out["trace"] = {{"part", board.part(t.part).ref}, {"differs", t.differs}, {"bits", neat(t.bits)}, {"text", wording::trace(a)}};
    else if (t.missing)
        out["trace"] = {{"missing", {board.net_name(t.query.red), board.net_name(t.query.black)}}, {"text", wording::trace(a)}};
    for (const auto& w : a.work) {
        static constexpr std::array<std::string_view, 4> kinds = {"look", "joined", "reading"},
                                                         states = {"open", "passed", "failed", "waiting"};
        const auto& c = w.check;
        Json o = {{"part", board.part(c.part).ref},
                  {"check", std::string(kinds[static_cast<std::size_t>(c.kind)])},
                  {"state", std::string(states[static_cast<std::size_t>(w.state)])},
                  {"text", wording::work_check(board, c)},
                  {"tells", wording::work_tells(board, c)}};
        if (c.kind == CheckKind::Joined) o["pin"] = c.pin;
        if (c.kind == CheckKind::Reading) {
            o["what"] = std::string(quantity_name(c.query.what));
            o["from"] = board.net_name(c.query.red);
            o["to"] = board.net_name(c.query.black);
        }
        out["work"].push_back(std::move(o));
    }
    return out;
}

Json story(const Analysis& a) {
    if (a.assessment.stories.empty()) return {{"p", 0}, {"steps", Json::array()}};
    const auto& s = a.assessment.stories.front();
    Json out = {{"p", neat(s.p)}, {"steps", steps_of(a.replay.board, s.scenario)}};
    if (!a.under_power.empty()) out["under_power"] = under_power_of(a.replay.board, a.under_power.front());
    return out;
}

Json plan(const Analysis& a) {
    const Board& board = a.replay.board;
    Json lines = Json::array();
    for (const auto& l : a.plan.lines) {
        Json checks = Json::array();
        for (const auto& c : l.checks)
            checks.push_back({{"rule", std::string(rule_name(c.rule))}, {"pass", c.pass}, {"have", neat(c.have)}, {"need", neat(c.need)}});
        Json o = {{"ref", board.part(l.part).ref}, {"bad", neat(l.bad)}, {"reason", std::string(reason_name(l.reason))}};
        if (l.because_of >= 0) o["because_of"] = board.part(l.because_of).ref;
        o["choice"] = l.choice ? Json(l.choice->id) : Json();
        o["value"] = l.choice ? l.choice->part.value : board.part(l.part).value;
        o["price"] = l.choice ? neat(l.choice->price) : 0.0;
        o["stage"] = l.stage;
        if (l.resolder) o["resolder"] = true;
        o["polarity"] = l.polarity;
        o["done"] = l.done;
        o["checks"] = std::move(checks);
        lines.push_back(std::move(o));
    }
    return {
        {"plan", lines}, {"undecided", refs_of(board, a.plan.undecided)}, {"cost", neat(a.plan.stock_cost)}, {"to_order", a.plan.to_order}};
}

Json powerup(const Analysis& a) {
    const Board& board = a.replay.board;
    Json locks = Json::array(), steps = Json::array();
    for (const auto& l : a.ladder.locks) {
        Json rails = Json::array();
        for (int r : l.rails) rails.push_back(board.rails[static_cast<std::size_t>(r)].net);
        locks.push_back({{"lock", std::string(lock_name(l.id))},
                         {"open", l.open},
                         {"parts", refs_of(board, l.parts)},
                         {"rails", rails},
                         {"text", wording::lock(board, l)}});
        if (l.id == LockId::RiskLow) locks.back()["chance"] = neat(l.chance);
    }
    for (const auto& s : a.ladder.steps) {
        Json settings = Json::object();
        for (const auto& [key, value] : s.settings) settings[key] = neat(value);
        steps.push_back({{"step", step_text(s.id)},
                         {"state", std::string(step_state_name(s.state))},
                         {"live", s.live},
                         {"settings", settings},
                         {"figures", figures_of(s.figures)}});
    }
    Json live = Json::array();
    for (const auto& f : a.live.figures) {
        if (!f.read) continue;
        Json one = figure_of(f.figure);
        one["read"] = neat(*f.read);
        one["outside"] = f.outside();
        live.push_back(std::move(one));
    }
    Json out = {{"locked", a.ladder.locked},
                {"locks", locks},
                {"steps", steps},
                {"live", live},
                {"must_stop", a.live.must_stop()},
                {"abort",
                 {"figure outside its band", "smell or smoke", "hiss or tick", "lamp stays bright longer than 3 s",
                  "current climbs while the setting stands still"}}};
    if (a.discharge)
        out["discharge"] = {{"farads", neat(a.discharge->farads)},
                            {"volts", neat(a.discharge->volts)},
                            {"joules", neat(a.discharge->joules)},
                            {"tau", neat(a.discharge->tau())},
                            {"resistor_ohms", neat(a.discharge->resistor_ohms)},
                            {"resistor_watts", neat(a.discharge->resistor_watts)},
                            {"seconds_to_10V", neat(a.discharge->resistor_seconds)}};
    if (a.ladder.lamp)
        out["lamp"] = {{"watts", neat(a.ladder.lamp->lamp.watts0)},
                       {"supply_watts", neat(a.ladder.lamp->supply_watts)},
                       {"runs_at", a.ladder.lamp->points.upper ? Json(neat(*a.ladder.lamp->points.upper)) : Json()},
                       {"stalls_below", a.ladder.lamp->points.lower ? Json(neat(*a.ladder.lamp->points.lower)) : Json()}};
    return out;
}

Json predict(const Predictor& predictor, const Query& query, const std::vector<Fault>& faults) {
    const Prediction p = predictor.predict(query, faults);
    Query turned = query;
    std::swap(turned.red, turned.black);
    const Prediction r = predictor.predict(turned, faults);
    const auto refs = [&] {
        Json out = Json::array();
        for (int part : p.conducting) out.push_back(predictor.board().part(part).ref);
        return out;
    };
    Json o;
    o["value"] = p.over ? Json() : Json(neat(p.value));
    o["lo"] = p.over ? Json() : Json(neat(score_value(query.what, p.x - 1.28 * p.sigma)));
    o["hi"] = p.over ? Json() : Json(neat(score_value(query.what, p.x + 1.28 * p.sigma)));
    o["over"] = p.over ? 1.0 : 0.0;
    o["rising"] = p.rising;
    o["reversed"] = r.over ? Json() : Json(neat(r.value));
    o["junctions"] = refs();
    if (p.alternate_x) o["other_range"] = neat(score_value(query.what, *p.alternate_x));
    o["converged"] = p.converged;
    return o;
}

Json live_volts(double lo, double hi) { return {{"value", neat((lo + hi) / 2)}, {"lo", neat(lo)}, {"hi", neat(hi)}}; }

Json problems(const Problems& list) {
    Json out = Json::array();
    for (const auto& p : list)
        out.push_back({{"place", p.place},
                       {"line", p.line},
                       {"warning", p.warning},
                       {"found", p.found.substr(0, 200)},
                       {"expected", p.expected},
                       {"text", wording::problem(p)}});
    return {{"problems", out}, {"ok", !has_errors(list)}};
}

Json markings(const std::string& marking, const std::vector<MarkingMeaning>& meanings) {
    Json out = Json::array();
    for (const auto& m : meanings) {
        Json o = {{"marking", marking}, {"scheme", wording::marking(m.scheme)}, {"quantity", m.quantity}, {"value", neat(m.value)}};
        if (m.tolerance) o["tolerance"] = *m.tolerance;
        if (m.volts) o["volts"] = *m.volts;
        if (!m.characteristic.empty()) o["characteristic"] = m.characteristic;
        out.push_back(std::move(o));
    }
    return out;
}

} // namespace ohmo::answers
