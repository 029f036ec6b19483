// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/conditioning.h"

#include "readings/likelihood.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kWide = 0.06; // of the score axis: tolerances of sound parts move a reading less and are not worth the sums
constexpr std::size_t kMostRead = 12;

bool wide(const Prediction& p) {
    double shared = 0;
    for (const auto& d : p.by_part) shared += d.change * d.change;
    return shared > kWide * kWide;
}

} // namespace

Conditioning::Conditioning(const Predictor& predictor, const std::vector<Observation>& seen, const std::vector<SetId>& sets)
    : m_group(sets.size(), 0), m_groups(1) {
    struct Read {
        const Observation* seen;
        std::vector<const Prediction*> by_story;
    };
    std::vector<Read> reads;
    for (const auto& o : seen) {
        if (o.kind != Seen::Reading || o.over || o.rising || o.query.what == Quantity::Continuity) continue;
        auto left = sets;
        if (!o.renewed.empty())
            for (SetId& s : left) s = predictor.without(s, o.renewed);
        reads.push_back({&o, predictor.predict_all(o.query, left)});
    }
    std::map<std::vector<std::pair<std::size_t, int>>, int> known;
    for (std::size_t s = 0; s < sets.size(); ++s) {
        std::vector<std::pair<std::size_t, int>> key;
        for (std::size_t r = reads.size(); r-- > 0 && key.size() < kMostRead;) { // the latest tell most of the place at hand
            const Prediction& p = *reads[r].by_story[s];
            if (wide(p) && shares_tolerances(*reads[r].seen, p)) key.emplace_back(r, p.number);
        }
        if (key.empty()) continue;
        const auto [at, fresh] = known.try_emplace(std::move(key), static_cast<int>(m_groups.size()));
        m_group[s] = at->second;
        if (!fresh) continue;
        Group group;
        const auto n = static_cast<Eigen::Index>(at->first.size());
        Eigen::VectorXd off(n);
        Eigen::MatrixXd covariance(n, n);
        for (Eigen::Index i = 0; i < n; ++i) {
            const Read& read = reads[at->first[static_cast<std::size_t>(i)].first];
            group.read.push_back(read.by_story[s]);
            off[i] = score_axis(read.seen->query.what, read.seen->value) - group.read.back()->x;
            for (Eigen::Index k = 0; k < i; ++k)
                covariance(i, k) = covariance(k, i) =
                    shared_variance(*group.read[static_cast<std::size_t>(i)], *group.read[static_cast<std::size_t>(k)]);
            covariance(i, i) = std::pow(group.read.back()->sigma, 2) * (1 + 1e-9);
        }
        group.factor.compute(covariance);
        if (group.factor.info() != Eigen::Success) {
            m_group[s] = at->second = 0;
            continue;
        }
        group.weighted = group.factor.solve(off);
        m_groups.push_back(std::move(group));
    }
}

std::optional<Prediction> Conditioning::given(int number, const Prediction& p) const {
    if (number == 0 || p.over || p.alternate_x || !p.converged || !wide(p)) return std::nullopt;
    const Group& group = m_groups[static_cast<std::size_t>(number)];
    Eigen::VectorXd with(static_cast<Eigen::Index>(group.read.size()));
    for (Eigen::Index i = 0; i < with.size(); ++i) with[i] = shared_variance(p, *group.read[static_cast<std::size_t>(i)]);
    if (with.isZero()) return std::nullopt;
    Prediction out = p;
    out.x += with.dot(group.weighted);
    const double left = p.sigma * p.sigma - with.dot(group.factor.solve(with));
    out.sigma = std::sqrt(std::max(left, 1e-6 * p.sigma * p.sigma));
    out.by_part.clear(); // what is left of each has changed too
    return out;
}

} // namespace ohmo
