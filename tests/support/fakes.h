// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "base/clock.h"
#include "base/disk.h"

#include <map>
#include <mutex>
#include <string>

namespace ohmo::test {

/// Files in memory; can be full. Threads may use it side by side; `files` itself is for when nothing runs.
class FakeDisk final : public Disk {
public:
    Result<std::string> read(const Path& path, std::uintmax_t limit) const override;
    Result<Path> write(const Path& path, const std::string& text) const override;
    bool exists(const Path& path) const override;
    void remove(const Path& path) const override;

    mutable std::map<std::string, std::string> files;
    bool full = false;

private:
    mutable std::mutex m_lock;
};

/// Reads the shipped data from the real disk, everything else from memory.
class DemoDisk final : public Disk {
public:
    Result<std::string> read(const Path& path, std::uintmax_t limit) const override;
    Result<Path> write(const Path& path, const std::string& text) const override { return memory.write(path, text); }
    bool exists(const Path& path) const override { return memory.exists(path); }
    void remove(const Path& path) const override { memory.remove(path); }

    FakeDisk memory;
};

class FakeClock final : public Clock {
public:
    Seconds now() const override { return time; }
    Seconds time = 1'772'442'000; // 2026-03-02T09:00:00Z
};

} // namespace ohmo::test
