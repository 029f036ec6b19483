// SPDX-License-Identifier: GPL-3.0-or-later
// What is to be believed of every part after all that was seen and read: islands searched on their own, joined by the age of families and
// by the complaints, beside a reserve for what is on no map. The reserve keeps what was read on parts alone: whatever the story, that stays
// true.
#pragma once
#include "base/result.h"
#include "belief/alone.h"
#include "belief/search.h"
#include "readings/evidence.h"

#include <memory>
#include <mutex>

namespace ohmo::belief {

/// What is computed once for a board with its meters and history, and what parts alone were found to say. Not for two threads at once.
struct Memory {
    std::shared_ptr<const Board> board;
    std::shared_ptr<const BoardRoles> roles;
    std::optional<RootFaults> roots;
    std::unique_ptr<Alone> alone;
    std::map<std::set<int>, std::pair<std::shared_ptr<const Model>, std::shared_ptr<const Net>>> models; ///< by renewed parts
    struct DirectKey {
        int unit, meter_kind;
        std::vector<double> readings;
        auto operator<=>(const DirectKey&) const = default; // NOLINT(modernize-use-nullptr)
    };
    std::map<std::pair<std::set<int>, DirectKey>, AloneFit> direct;
};

/// A set of faults with the chance that exactly it is there.
struct Joint {
    double p = 0;
    std::vector<std::pair<int, int>> faults; ///< unit and mode
};

class Belief {
public:
    /// Of the memory's board. Errors: Cancelled.
    static Result<std::shared_ptr<const Belief>> make(const FaultLibrary& library, const Evidence& evidence, Memory& memory,
                                                      const CancelToken& cancel);

    const Model& model() const { return *m_model; }
    const Net& net() const { return *m_net; }
    const Bench& bench() const { return m_bench; }
    const std::vector<std::unique_ptr<IslandSearch>>& islands() const { return m_islands; } ///< by island
    const Complaints& complaints() const { return m_complaints; }
    const DirectEvidence& direct() const { return m_direct; }

    double mode(int unit, int mode) const { return m_marginal[static_cast<std::size_t>(unit)][static_cast<std::size_t>(mode)]; }
    double bad(int part) const { return m_bad[static_cast<std::size_t>(part)]; } ///< as it was found, whatever has been replaced since
    double unexplained() const { return m_unexplained; }
    double supply_good() const { return m_supply_good; }
    /// Chance that a complaint comes from there and from nothing on the board.
    double outside(Outside cause) const { return m_outside[static_cast<std::size_t>(cause)]; }
    double outside() const { return outside(Outside::Feed) + outside(Outside::Adapter) + outside(Outside::Load); }
    const std::vector<Joint>& joints() const { return m_joints; } ///< likeliest first
    const std::vector<int>& slipped() const { return m_slipped; } ///< entries that the best states take for slips
    /// Journal entries of words that the leading story leaves open.
    const std::set<int>& complaints_unexplained() const { return m_open_complaints; }
    /// What each entry that speaks of this unit alone says: ln of its odds, the likeliest of the bad modes against fine.
    std::vector<std::pair<int, double>> direct_reasons(int unit) const;
    std::size_t states() const;

    /// Number of the setting that leaves these units out; among those of the evidence or one more made for asking.
    std::vector<char> out_of(const BoardState& state, const std::set<int>& renewed) const;

private:
    friend class Maker;
    Belief() = default;
    std::shared_ptr<const Board> m_board;
    std::shared_ptr<const Model> m_model;
    std::shared_ptr<const Net> m_net;
    Bench m_bench;
    Ages m_ages;
    Complaints m_complaints;
    DirectEvidence m_direct;
    std::vector<std::unique_ptr<IslandSearch>> m_islands;
    std::vector<std::map<int, std::vector<double>>> m_entries; ///< by unit, by entry, by mode: ln likelihood
    std::vector<std::vector<double>> m_marginal;
    std::vector<double> m_bad;
    std::vector<Joint> m_joints;
    std::vector<int> m_slipped;
    std::set<int> m_open_complaints;
    double m_unexplained = 0, m_supply_good = 0;
    std::array<double, kOutsides> m_outside{};
};

} // namespace ohmo::belief
