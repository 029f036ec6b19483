// SPDX-License-Identifier: GPL-3.0-or-later
// What must be replaced, why, and by what.
#pragma once
#include "board/roles.h"
#include "posterior/assess.h"
#include "repair/stock.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

enum class Extent { ProvenOnly, Family, EverythingWet };
enum class CapacitorSchool { SameValue, ImpedanceFirst };

struct School {
    Extent extent = Extent::ProvenOnly;
    CapacitorSchool capacitors = CapacitorSchool::SameValue;
    bool stage_the_spend = true; ///< primary first, prove it runs, then the secondary
};

/// Words of the command line: proven, family, wet, same-value, impedance, staged, at-once; joined by commas. Errors: Usage.
Result<School> parse_school(std::string_view words);

enum class ReplaceReason { ProvenBad, LikelyBad, Consequence, SameFamily, WetPart };

enum class Rule {
    SameKind,
    Voltage,
    Temperature,
    Capacitance,
    Esr,
    Resistance,
    Power,
    Current,
    FuseRating,
    Characteristic,
    NotSalvaged,
    SameType,
    TypeKnown
};

/// One rule applied to one substitute: what it has against what is needed.
struct RuleCheck {
    Rule rule;
    bool pass = false;
    double have = 0, need = 0; ///< SI; both 0 for rules without a figure
};

struct PlanLine {
    int part = -1;
    double bad = 0;
    ReplaceReason reason = ReplaceReason::LikelyBad;
    int because_of = -1;             ///< part, for Consequence and SameFamily
    std::optional<StockItem> choice; ///< empty: to be ordered
    std::vector<RuleCheck> checks;   ///< of the choice, or of the best that failed
    bool polarity = false;           ///< can be fitted the wrong way round
    int stage = 1;                   ///< buying stage
    bool resolder = false;           ///< the part is good: its joints are to be made anew
    bool done = false;               ///< already replaced, or resoldered, according to the journal
};

struct Plan {
    std::vector<PlanLine> lines;
    std::vector<int> undecided; ///< parts between "fine" and "replace": measure before buying
    double stock_cost = 0;
    int to_order = 0;
};

std::vector<RuleCheck> check_substitute(const Practice& practice, const Part& original, const StockItem& item, const School& school);
bool passes(const std::vector<RuleCheck>& checks);

Plan make_plan(const Board& board, const BoardRoles& roles, const Assessment& assessment, const std::set<int>& renewed,
               const std::set<int>& resoldered, const std::vector<StockItem>& stock, const School& school);

std::string_view rule_name(Rule rule);
std::string_view reason_name(ReplaceReason reason);

} // namespace ohmo
