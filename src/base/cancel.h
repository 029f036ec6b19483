// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <atomic>
#include <memory>

namespace ohmo {

/// Handed by value into long work; every copy sees the same request to stop. A default token never asks.
class CancelToken {
public:
    static CancelToken make() {
        CancelToken t;
        t.m_flag = std::make_shared<std::atomic<bool>>(false);
        return t;
    }
    void cancel() const {
        if (m_flag) m_flag->store(true, std::memory_order_relaxed);
    }
    bool cancelled() const { return m_flag && m_flag->load(std::memory_order_relaxed); }

private:
    std::shared_ptr<std::atomic<bool>> m_flag;
};

} // namespace ohmo
