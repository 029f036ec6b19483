// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <algorithm>
#include <atomic>
#include <cstddef>
#include <thread>
#include <vector>

namespace ohmo {

/// Calls work(0) … work(count - 1), each once, on as many threads as the machine has cores. `work` must not throw and must not depend on
/// the order.
template <class Work>
void in_parallel(std::size_t count, const Work& work) {
    std::atomic<std::size_t> next{0};
    const auto run = [&] {
        for (std::size_t i = next++; i < count; i = next++) work(i);
    };
    const std::size_t helpers = std::min<std::size_t>(std::max(1U, std::thread::hardware_concurrency()), count) - (count > 0 ? 1 : 0);
    std::vector<std::jthread> threads;
    for (std::size_t t = 0; t < helpers; ++t) threads.emplace_back(run);
    run();
}

} // namespace ohmo
