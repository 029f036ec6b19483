// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "job/replay.h"

#include <string>

namespace ohmo {

/// How far a job is, by its journal alone: nothing is worked out for it, so that a list of jobs can be shown at once.
struct JobProgress {
    Unit who;
    std::string unit;  ///< "Quillmere RB-6 Rope braider", empty where none was named
    std::string state; ///< "signed off: repaired", "14 readings, 2 parts renewed"
    Seconds last = 0;  ///< time of the last entry, s since 1970; 0 without any
};

JobProgress job_progress(const Job& job, const Replay& replay);

} // namespace ohmo
