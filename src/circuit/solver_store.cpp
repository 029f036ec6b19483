// SPDX-License-Identifier: GPL-3.0-or-later
#include "circuit/solver_store.h"

#include <optional>

namespace ohmo {
namespace {

constexpr std::size_t kMost = 3000; // of a kind; some 60 kB each

template <class Shelf>
void tidy(Shelf& shelf) {
    if (shelf.kept.size() < kMost) return;
    auto healthy = shelf.kept.extract(std::vector<Fault>{});
    shelf.kept.clear();
    if (healthy) shelf.kept.insert(std::move(healthy));
}

} // namespace

SolverStore::SolverStore(std::shared_ptr<const BoardCircuit> circuit) : m_circuit(std::move(circuit)) {}

template <class Solver, class Full, class From>
std::shared_ptr<const Solver> SolverStore::find(Shelf<Solver>& shelf, const std::vector<Fault>& faults, const Full& full,
                                                const From& from) {
    auto& kept = shelf.kept[faults];
    if (kept) return kept;
    std::optional<Solver> made;
    if (!faults.empty()) {
        const auto healthy = find(shelf, {}, full, from);
        made = from(*healthy, {}, faults);
        std::vector<Fault> stubborn; // updates of the healthy board are no way to them
        for (const auto& f : made ? std::vector<Fault>{} : faults) {
            const auto [at, fresh] = shelf.updates.try_emplace(f, false);
            if (fresh) at->second = from(*healthy, {}, {f}).has_value();
            if (!at->second) stubborn.push_back(f);
        }
        if (!stubborn.empty() && stubborn.size() < faults.size()) made = from(*find(shelf, stubborn, full, from), stubborn, faults);
    }
    kept = std::make_shared<const Solver>(made ? std::move(*made) : full(faults));
    return kept;
}

std::shared_ptr<const DcSolver> SolverStore::dc(const std::vector<Fault>& faults) {
    tidy(m_dc);
    return find(
        m_dc, faults, [&](const std::vector<Fault>& f) { return f.empty() ? m_circuit->healthy() : DcSolver(m_circuit->netlist(f)); },
        [&](const DcSolver& base, const std::vector<Fault>& of_base, const std::vector<Fault>& f) {
            return m_circuit->dc_from(base, of_base, f);
        });
}

std::shared_ptr<const AcSolver> SolverStore::ac(double hertz, const std::vector<Fault>& faults) {
    auto& shelf = m_ac[hertz];
    tidy(shelf);
    return find(
        shelf, faults, [&](const std::vector<Fault>& f) { return m_circuit->ac(f, hertz); },
        [&](const AcSolver& base, const std::vector<Fault>& of_base, const std::vector<Fault>& f) {
            return m_circuit->ac_from(base, of_base, f);
        });
}

} // namespace ohmo
