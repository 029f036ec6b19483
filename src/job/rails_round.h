// SPDX-License-Identifier: GPL-3.0-or-later
// Every rail to its return, one after the other: what each shows, and the odd one out.
#pragma once
#include "job/pipeline.h"
#include "job/shown.h"

#include <optional>
#include <vector>

namespace ohmo {

enum class RailVerdict {
    Unread,
    Fine,
    Low,      ///< below what a sound board shows
    High,     ///< above it
    OddOneOut ///< off by another factor than its sisters, whose loads nobody knows either
};

struct RailRow {
    int rail = -1;
    Shown sound; ///< ohm cold, volts live
    std::optional<double> value;
    bool value_over = false;
    RailVerdict verdict = RailVerdict::Unread;
};

/// `live`: volts under power since the last power step, else cold ohms since the board was last worked on. The loads of a rail are seldom
/// known: cold rails that are all off by the same factor are fine, one that is off otherwise is odd.
std::vector<RailRow> rails_round(const Analysis& analysis, bool live);

} // namespace ohmo
