// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/fault_sets.h"

#include <algorithm>
#include <cstdint>

namespace ohmo {

// FNV-1a over the numbers.
std::size_t FaultSets::Hash::operator()(const std::vector<int>& numbers) const {
    std::uint64_t h = 14695981039346656037ull;
    for (int n : numbers) h = (h ^ static_cast<std::uint64_t>(n)) * 1099511628211ull;
    return static_cast<std::size_t>(h ^ (h >> 29));
}

SetId FaultSets::keep(std::vector<int> numbers) {
    std::sort(numbers.begin(), numbers.end());
    const auto [at, fresh] = m_ids.try_emplace(std::move(numbers), static_cast<int>(m_sets.size()));
    if (fresh) {
        m_sets.push_back({at->first, {}});
        for (int n : at->first) m_sets.back().parts.push_back(fault(n).part);
    }
    return at->second;
}

SetId FaultSets::id(const std::vector<Fault>& faults) {
    std::vector<int> numbers;
    for (const auto& f : faults) {
        const auto [at, fresh] = m_numbers.try_emplace(f, static_cast<int>(m_faults.size()));
        if (fresh) m_faults.push_back(f);
        numbers.push_back(at->second);
    }
    return keep(std::move(numbers));
}

SetId FaultSets::without(SetId id, const std::set<int>& parts) {
    std::vector<int> left;
    for (int n : members(id))
        if (!parts.contains(fault(n).part)) left.push_back(n);
    return left.size() == members(id).size() ? id : keep(std::move(left));
}

std::vector<Fault> FaultSets::faults(SetId id) const {
    std::vector<Fault> out;
    for (int n : members(id)) out.push_back(fault(n));
    std::sort(out.begin(), out.end());
    return out;
}

} // namespace ohmo
