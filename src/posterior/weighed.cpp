// SPDX-License-Identifier: GPL-3.0-or-later
#include "posterior/weighed.h"

#include <algorithm>
#include <cmath>

namespace ohmo {

std::vector<Weighed::Column>& Weighed::of(const std::vector<Observation>& seen, std::size_t hypotheses) {
    std::vector<Column> now;
    now.reserve(seen.size());
    for (Observation o : seen) {
        o.entry = -1;
        const auto known = std::find_if(m_columns.begin(), m_columns.end(),
                                        [&](const Column& c) { return c.ln_likelihood.size() == hypotheses && c.seen == o; });
        if (known != m_columns.end())
            now.push_back(std::move(*known));
        else
            now.push_back({std::move(o), std::vector<double>(hypotheses, std::nan("")), false});
    }
    m_columns = std::move(now);
    return m_columns;
}

} // namespace ohmo
