// SPDX-License-Identifier: GPL-3.0-or-later
// Fault sets by number: tables over thousands of scenarios are then arrays.
#pragma once
#include "board/fault.h"

#include <cstddef>
#include <deque>
#include <map>
#include <set>
#include <unordered_map>
#include <vector>

namespace ohmo {

using SetId = int; ///< number of a fault set within one FaultSets

/// Numbers single faults and sets of them in the order of their first asking. Not thread safe.
class FaultSets {
public:
    struct Hash {
        std::size_t operator()(const std::vector<int>& numbers) const;
    };

    /// The same number for the same faults in any order.
    SetId id(const std::vector<Fault>& faults);
    /// `id` without the faults of these parts.
    SetId without(SetId id, const std::set<int>& parts);

    const std::vector<int>& members(SetId id) const { return m_sets[static_cast<std::size_t>(id)].members; } ///< fault numbers, ascending
    const std::vector<int>& parts(SetId id) const { return m_sets[static_cast<std::size_t>(id)].parts; }     ///< lives as long as this
    const Fault& fault(int number) const { return m_faults[static_cast<std::size_t>(number)]; }
    std::vector<Fault> faults(SetId id) const; ///< ascending
    std::size_t size() const { return m_sets.size(); }
    std::size_t fault_count() const { return m_faults.size(); }

private:
    SetId keep(std::vector<int> numbers);

    std::vector<Fault> m_faults;
    std::map<Fault, int> m_numbers;
    struct Set {
        std::vector<int> members, parts;
    };
    std::deque<Set> m_sets;
    std::unordered_map<std::vector<int>, SetId, Hash> m_ids;
};

} // namespace ohmo
