// SPDX-License-Identifier: GPL-3.0-or-later
// A prediction given the readings so far. A short's own resistance is hardly known until one reading has gone through it; a reading
// elsewhere on the same rail then differs only by the track between the two. Method: conditional Gaussian of the deviations that readings
// share (score axis); stories whose wide readings are the same form a group.
#pragma once
#include "readings/predictor.h"

#include <Eigen/Dense>

#include <map>
#include <optional>
#include <vector>

namespace ohmo {

class Conditioning {
public:
    Conditioning() = default;
    /// `sets`: the faults of each story.
    Conditioning(const Predictor& predictor, const std::vector<Observation>& seen, const std::vector<SetId>& sets);

    /// Stories of one group are conditioned alike; 0: nothing wide has been read through.
    int group(std::size_t story) const { return story < m_group.size() ? m_group[story] : 0; }

    /// The prediction given those readings (conditional Gaussian of the shared deviations); empty where they say nothing of it.
    std::optional<Prediction> given(int group, const Prediction& prediction) const;

private:
    struct Group {
        std::vector<const Prediction*> read;
        Eigen::VectorXd weighted; ///< inverse covariance times what was read less what was predicted
        Eigen::LLT<Eigen::MatrixXd> factor;
    };
    std::vector<int> m_group; ///< by story
    std::vector<Group> m_groups;
};

} // namespace ohmo
