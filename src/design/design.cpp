// SPDX-License-Identifier: GPL-3.0-or-later
#include "design/design.h"

#include "design/families.h"

namespace ohmo {
namespace {

using Maker = Design (*)(const Supply&, const Practice&);

Maker maker_of(std::string_view family) {
    static const std::map<std::string_view, Maker> makers = {
        {"flyback", design_flyback},
        {"flyback-integrated", design_integrated_flyback},
        {"flyback-synchronous", design_synchronous_flyback},
        {"constant-current", design_constant_current},
        {"self-oscillating", design_self_oscillating},
        {"half-bridge", design_half_bridge},
        {"linear", design_linear},
        {"adapter", design_adapter},
        {"ac-fed-split", design_split},
        {"buck", design_buck},
        {"rail", design_distribution},
        {"inverter", design_inverter},
    };
    return makers.at(family);
}

} // namespace

Result<Design> design_supply(const Supply& supply, const Practice& practice) {
    if (auto problems = supply_problems(supply); !problems.empty()) return problems;
    Design design = maker_of(supply.family)(supply, practice);
    auto made = make_board(std::move(design.draft));
    if (!made) return made.problems();
    design.draft = std::move(made->board);
    return design;
}

} // namespace ohmo
