// SPDX-License-Identifier: GPL-3.0-or-later
// Rules: voltage and temperature never lower; safety parts like for like and never salvaged; resistors by value, power and type;
// semiconductors by kind, volts and amps. Margins are those of the bench rules: capacitance -20 % to +100 % on smoothing duty;
// impedance-first takes a third of the value where the ESR is lower, never in a mains-frequency reservoir. After a switch short its sense
// resistor, drive parts and controller go too.
#include "repair/plan.h"

#include "base/text.h"
#include "board/switch_ends.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ohmo {
namespace {

bool semiconductor(PartKind kind) {
    return is_diode_like(kind) || kind == PartKind::Bridge || is_switch_device(kind) || kind == PartKind::Thyristor;
}
bool polarised(PartKind kind) {
    return is_wet_or_solid_electrolytic(kind) || semiconductor(kind) || is_controller(kind) || kind == PartKind::Optocoupler ||
           kind == PartKind::ShuntReference;
}

void at_least(std::vector<RuleCheck>& out, Rule rule, std::optional<double> have, std::optional<double> need) {
    if (need) out.push_back({rule, have && *have >= *need * 0.999, have.value_or(0), *need});
}

bool is_secondary(const Part& part) {
    return part.stage == "rectify-out" || part.stage == "smooth" || part.stage == "feedback" || part.stage == "rails";
}

class Planner {
public:
    Planner(const Board& board, const BoardRoles& roles, const Assessment& assessment, const std::set<int>& renewed,
            const std::set<int>& resoldered, const std::vector<StockItem>& stock, const School& school)
        : m_board(board), m_assessment(assessment), m_renewed(renewed), m_resoldered(resoldered), m_stock(stock), m_school(school),
          m_roles(roles) {}

    Plan run() {
        for (int part : m_renewed) add(part, 1, ReplaceReason::ProvenBad, -1, true);
        for (int part : m_resoldered)
            if (!m_renewed.contains(part)) resolder(part, 1, true);
        for (const auto& b : m_assessment.parts) {
            if (m_renewed.contains(b.part)) continue;
            if (b.bad >= m_board.practice().replace_above && b.leading.mode == FaultMode::DryJoint)
                resolder(b.part, b.bad, false);
            else if (b.bad >= m_board.practice().replace_above)
                add(b.part, b.bad, b.bad >= m_board.practice().proven_above ? ReplaceReason::ProvenBad : ReplaceReason::LikelyBad, -1,
                    false);
            else if (b.bad >= m_board.practice().undecided_above)
                m_plan.undecided.push_back(b.part);
        }
        consequences();
        families();
        std::erase_if(m_plan.undecided, [&](int part) { return has(part); });
        for (const auto& line : m_plan.lines) {
            if (line.done || line.resolder) continue;
            if (line.choice)
                m_plan.stock_cost += line.choice->price;
            else
                ++m_plan.to_order;
        }
        return std::move(m_plan);
    }

private:
    bool has(int part) const {
        return std::any_of(m_plan.lines.begin(), m_plan.lines.end(), [&](const PlanLine& l) { return l.part == part; });
    }

    void resolder(int part, double bad, bool done) {
        PlanLine line;
        line.part = part;
        line.bad = bad;
        line.reason = bad >= m_board.practice().proven_above ? ReplaceReason::ProvenBad : ReplaceReason::LikelyBad;
        line.resolder = true;
        line.done = done;
        m_plan.lines.push_back(std::move(line));
    }

    void add(int part, double bad, ReplaceReason reason, int because_of, bool done) {
        if (has(part)) return;
        const Part& original = m_board.part(part);
        PlanLine line;
        line.part = part;
        line.bad = bad;
        line.reason = reason;
        line.because_of = because_of;
        line.polarity = polarised(original.kind);
        line.stage = m_school.stage_the_spend && is_secondary(original) ? 2 : 1;
        line.done = done;
        std::size_t most = 0;
        for (const auto& item : m_stock) {
            if (item.part.kind != original.kind) continue;
            const int used = static_cast<int>(std::count_if(m_plan.lines.begin(), m_plan.lines.end(), [&](const PlanLine& l) {
                return l.choice && l.choice->id == item.id && !l.done;
            }));
            if (item.count <= used) continue;
            auto checks = check_substitute(m_board.practice(), original, item, m_school);
            const bool ok = passes(checks);
            const auto passed =
                static_cast<std::size_t>(std::count_if(checks.begin(), checks.end(), [](const RuleCheck& c) { return c.pass; }));
            if (ok && (!line.choice || better(item, *line.choice))) {
                line.choice = item;
                line.checks = std::move(checks);
            } else if (!ok && !line.choice && passed > most) {
                most = passed;
                line.checks = std::move(checks);
            }
        }
        m_plan.lines.push_back(std::move(line));
    }

    // New or known stock before salvaged silicon, whatever it costs; then the cheaper one.
    static bool better(const StockItem& a, const StockItem& b) {
        const bool salvaged_a = a.origin == Origin::Salvaged, salvaged_b = b.origin == Origin::Salvaged;
        return salvaged_a != salvaged_b ? salvaged_b : a.price < b.price;
    }

    // A switch that shorted has sent the bulk capacitor through its neighbours, whether they still measure fine or not.
    void consequences() {
        const int sw = m_roles.power_switch;
        if (sw < 0 || !has(sw)) return;
        const bool shorted =
            m_renewed.contains(sw) || std::any_of(m_assessment.parts.begin(), m_assessment.parts.end(), [&](const PartBelief& b) {
                if (b.part != sw) return false;
                double p = 0;
                for (auto m : {FaultMode::DsShort, FaultMode::CeShort, FaultMode::Short})
                    if (const auto at = b.modes.find(m); at != b.modes.end()) p += at->second;
                return p > 0.5;
            });
        if (!shorted) return;
        auto victims = m_roles.sense;
        victims.insert(victims.end(), m_roles.drive.begin(), m_roles.drive.end());
        if (m_roles.controller >= 0) victims.push_back(m_roles.controller);
        for (int part : victims)
            if (!gets_a_switch_going(part) && (is_resistor_like(m_board.part(part).kind) || is_diode_like(m_board.part(part).kind) ||
                                               is_controller(m_board.part(part).kind)))
                add(part, m_assessment.of(part).bad, ReplaceReason::Consequence, sw, m_renewed.contains(part));
    }

    bool gets_a_switch_going(int part) const {
        return is_resistor_like(m_board.part(part).kind) && std::any_of(m_roles.switches.begin(), m_roles.switches.end(), [&](int sw) {
                   return lies_across(m_board.part(part), m_board.part(sw));
               });
    }

    void families() {
        if (m_school.extent == Extent::ProvenOnly) return;
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            const auto& part = m_board.part(i);
            if (part.kind != PartKind::Electrolytic || has(i)) continue;
            if (m_school.extent == Extent::EverythingWet) {
                add(i, m_assessment.of(i).bad, ReplaceReason::WetPart, -1, false);
                continue;
            }
            for (const auto& line : m_plan.lines) {
                const auto& bad = m_board.part(line.part);
                const bool same =
                    bad.kind == part.kind && bad.age_years == part.age_years && bad.value == part.value && bad.volts == part.volts;
                const bool batch = !bad.batch.empty() && bad.batch == part.batch;
                if (!same && !batch) continue;
                add(i, m_assessment.of(i).bad, ReplaceReason::SameFamily, line.part, false);
                break;
            }
        }
    }

    const Board& m_board;
    const Assessment& m_assessment;
    const std::set<int>&m_renewed, &m_resoldered;
    const std::vector<StockItem>& m_stock;
    const School& m_school;
    const BoardRoles& m_roles;
    Plan m_plan;
};

void check_capacitor(const Practice& p, const Part& original, const Nominal& need, const StockItem& item, const School& school,
                     std::vector<RuleCheck>& out) {
    at_least(out, Rule::Voltage, item.nominal.volts, need.volts);
    at_least(out, Rule::Temperature, item.part.celsius, original.celsius);
    const double farads = item.nominal.farads.value_or(0), wanted = need.farads.value_or(0);
    const bool mains_reservoir = original.stage == "bulk";
    const bool impedance = school.capacitors == CapacitorSchool::ImpedanceFirst && is_wet_or_solid_electrolytic(original.kind) &&
                           !mains_reservoir && item.part.esr;
    const double least = impedance ? wanted * p.impedance_share : wanted * p.least_capacitance;
    const bool exact = is_safety_part(original.kind) || original.stage == "control" || original.stage == "feedback";
    const bool wet = original.kind == PartKind::Electrolytic;
    const double most = exact && !wet ? wanted * (1 + p.exact_capacitance) : wanted * p.most_capacitance;
    out.push_back(
        {Rule::Capacitance, farads >= (exact && !wet ? wanted * (1 - p.exact_capacitance) : least) && farads <= most, farads, wanted});
    if (impedance && original.esr) out.push_back({Rule::Esr, *item.part.esr <= *original.esr, *item.part.esr, *original.esr});
}

} // namespace

Result<School> parse_school(std::string_view words) {
    School school;
    for (const auto& raw : split(words, ',')) {
        const std::string word = trimmed(raw);
        if (word.empty()) continue;
        if (word == "proven")
            school.extent = Extent::ProvenOnly;
        else if (word == "family")
            school.extent = Extent::Family;
        else if (word == "wet")
            school.extent = Extent::EverythingWet;
        else if (word == "same-value")
            school.capacitors = CapacitorSchool::SameValue;
        else if (word == "impedance")
            school.capacitors = CapacitorSchool::ImpedanceFirst;
        else if (word == "staged")
            school.stage_the_spend = true;
        else if (word == "at-once")
            school.stage_the_spend = false;
        else
            return Problem{ProblemKind::Usage, "--school", word, "proven, family, wet, same-value, impedance, staged, at-once", 0, false};
    }
    return school;
}

std::vector<RuleCheck> check_substitute(const Practice& practice, const Part& original, const StockItem& item, const School& school) {
    std::vector<RuleCheck> out = {{Rule::SameKind, item.part.kind == original.kind, 0, 0}};
    const auto nominal = nominal_value(original);
    const Nominal need = nominal ? *nominal : Nominal{};
    if (original.value.empty() && !is_controller(original.kind) && kind_info(original.kind).kind != PartKind::Connector)
        out.push_back({Rule::TypeKnown, false, 0, 0});
    if (is_capacitor(original.kind)) {
        check_capacitor(practice, original, need, item, school, out);
    } else if (is_resistor_like(original.kind)) {
        const double ohms = item.nominal.ohms.value_or(0), wanted = need.ohms.value_or(0);
        out.push_back({Rule::Resistance, wanted > 0 && std::fabs(ohms / wanted - 1) < practice.resistance_match, ohms, wanted});
        at_least(out, Rule::Power, item.nominal.watts, need.watts);
    } else if (original.kind == PartKind::Fuse) {
        out.push_back(
            {Rule::FuseRating, need.amps && item.nominal.amps == need.amps, item.nominal.amps.value_or(0), need.amps.value_or(0)});
        out.push_back({Rule::Characteristic, item.nominal.characteristic == need.characteristic, 0, 0});
        at_least(out, Rule::Voltage, item.nominal.volts, need.volts);
    } else if (original.kind == PartKind::Zener || original.kind == PartKind::Varistor) {
        const double volts = item.nominal.volts.value_or(0), wanted = need.volts.value_or(0);
        out.push_back({Rule::Voltage, wanted > 0 && std::fabs(volts / wanted - 1) < practice.clamp_match, volts, wanted});
        at_least(out, Rule::Power, item.nominal.watts, need.watts);
    } else if (semiconductor(original.kind)) {
        at_least(out, Rule::Voltage, item.nominal.volts, need.volts);
        at_least(out, Rule::Current, item.nominal.amps, need.amps);
    } else {
        out.push_back({Rule::SameType, !original.value.empty() && lowered(item.part.value) == lowered(original.value), 0, 0});
    }
    if (is_safety_part(original.kind)) out.push_back({Rule::NotSalvaged, item.origin != Origin::Salvaged, 0, 0});
    return out;
}

bool passes(const std::vector<RuleCheck>& checks) {
    return std::all_of(checks.begin(), checks.end(), [](const RuleCheck& c) { return c.pass; });
}

Plan make_plan(const Board& board, const BoardRoles& roles, const Assessment& assessment, const std::set<int>& renewed,
               const std::set<int>& resoldered, const std::vector<StockItem>& stock, const School& school) {
    return Planner(board, roles, assessment, renewed, resoldered, stock, school).run();
}

std::string_view rule_name(Rule rule) {
    static constexpr std::array<std::string_view, 13> names = {"same-kind",    "voltage",   "temperature", "capacitance", "esr",
                                                               "resistance",   "power",     "current",     "fuse-rating", "characteristic",
                                                               "not-salvaged", "same-type", "type-known"};
    return names[static_cast<std::size_t>(rule)];
}

std::string_view reason_name(ReplaceReason reason) {
    static constexpr std::array<std::string_view, 5> names = {"proven-bad", "likely-bad", "consequence", "same-family", "wet-part"};
    return names[static_cast<std::size_t>(reason)];
}

} // namespace ohmo
