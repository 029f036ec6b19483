// SPDX-License-Identifier: GPL-3.0-or-later
// A value or the problem that kept it from being made. Library boundaries return this; they do not throw.
#pragma once
#include "base/problem.h"

#include <utility>
#include <variant>

namespace ohmo {

template <class T>
class [[nodiscard]] Result {
public:
    Result(T value) : m_state(std::in_place_index<0>, std::move(value)) {}
    Result(Problem problem) : m_state(std::in_place_index<1>, Problems{std::move(problem)}) {}
    Result(Problems problems) : m_state(std::in_place_index<1>, std::move(problems)) {}

    explicit operator bool() const { return m_state.index() == 0; }
    const T& operator*() const& { return std::get<0>(m_state); }
    T& operator*() & { return std::get<0>(m_state); }
    T operator*() && { return std::get<0>(std::move(m_state)); } ///< by value: a range-for over *f() must not dangle
    const T* operator->() const { return &std::get<0>(m_state); }
    T* operator->() { return &std::get<0>(m_state); }
    const Problems& problems() const { return std::get<1>(m_state); }
    const Problem& problem() const { return std::get<1>(m_state).front(); }

private:
    std::variant<T, Problems> m_state;
};

} // namespace ohmo
