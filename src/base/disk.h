// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "base/result.h"

#include <cstdint>
#include <filesystem>
#include <string>

namespace ohmo {

using Path = std::filesystem::path;

/// Files behind an interface, so that tests can let a disk be full or a file unreadable.
class Disk {
public:
    virtual ~Disk() = default;

    /// Whole file as text. Errors: FileUnreadable, FileTooLarge (limit in bytes).
    virtual Result<std::string> read(const Path& path, std::uintmax_t limit) const = 0;

    /// Replaces the file in one step (write beside it, flush, rename): after an error the old file still stands. Errors: FileUnwritable.
    virtual Result<Path> write(const Path& path, const std::string& text) const = 0;

    virtual bool exists(const Path& path) const = 0;
    virtual void remove(const Path& path) const = 0;
};

class RealDisk final : public Disk {
public:
    Result<std::string> read(const Path& path, std::uintmax_t limit) const override;
    Result<Path> write(const Path& path, const std::string& text) const override;
    bool exists(const Path& path) const override;
    void remove(const Path& path) const override;
};

/// Folder of the shipped data: $OHMO_DATA, else share/ohmotrace beside the program, else the source tree's data/.
Path data_dir();

} // namespace ohmo
