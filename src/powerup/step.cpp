// SPDX-License-Identifier: GPL-3.0-or-later
#include "powerup/step.h"

#include <array>
#include <charconv>
#include <utility>

namespace ohmo {
namespace {

struct Name {
    StepKind kind;
    std::string_view text;
    bool has_setting;
};

// The first name of a kind is written, all are read.
constexpr std::array<Name, 11> kNames = {{
    {StepKind::ColdProof, "cold-proof", false},
    {StepKind::Controller, "controller-elv", false},
    {StepKind::RailsBackFed, "rails-back-fed", false},
    {StepKind::LowSupply, "low-supply", false},
    {StepKind::Lamp, "lamp", false},
    {StepKind::VariableTransformer, "transformer-", true},
    {StepKind::VariableTransformer, "variac-", true},
    {StepKind::FullNoLoad, "full-no-load", false},
    {StepKind::Load, "load-", true},
    {StepKind::Soak, "soak", false},
    {StepKind::Function, "function", false},
}};

std::optional<int> whole_number(std::string_view text) {
    int out = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), out);
    return error == std::errc() && end == text.data() + text.size() && out >= 0 ? std::optional(out) : std::nullopt;
}

} // namespace

std::string step_text(const StepId& step) {
    for (const auto& name : kNames)
        if (name.kind == step.kind) return std::string(name.text) + (name.has_setting ? std::to_string(step.setting) : std::string());
    return {};
}

std::optional<StepId> step_named(std::string_view text) {
    for (const auto& name : kNames) {
        if (!name.has_setting && text == name.text) return StepId{name.kind, 0};
        if (!name.has_setting || !text.starts_with(name.text)) continue;
        if (const auto setting = whole_number(text.substr(name.text.size()))) return StepId{name.kind, *setting};
    }
    return std::nullopt;
}

bool on_mains(StepKind kind) { return kind >= StepKind::Lamp && kind <= StepKind::Soak; }

} // namespace ohmo
