// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fakes.h"

namespace ohmo::test {

bool FakeDisk::exists(const Path& path) const {
    const std::lock_guard guard(m_lock);
    return files.contains(path.string());
}

void FakeDisk::remove(const Path& path) const {
    const std::lock_guard guard(m_lock);
    files.erase(path.string());
}

Result<std::string> FakeDisk::read(const Path& path, std::uintmax_t limit) const {
    const std::lock_guard guard(m_lock);
    const auto found = files.find(path.string());
    if (found == files.end()) return Problem{ProblemKind::FileUnreadable, path.string(), "No such file or directory", {}, 0, false};
    if (found->second.size() > limit)
        return Problem{ProblemKind::FileTooLarge, path.string(), std::to_string(found->second.size()), {}, 0, false};
    return found->second;
}

Result<Path> FakeDisk::write(const Path& path, const std::string& text) const {
    const std::lock_guard guard(m_lock);
    if (full) return Problem{ProblemKind::FileUnwritable, path.string(), "No space left on device", {}, 0, false};
    files[path.string()] = text;
    return path;
}

Result<std::string> DemoDisk::read(const Path& path, std::uintmax_t limit) const {
    if (memory.exists(path)) return memory.read(path, limit);
    return RealDisk().read(path, limit);
}

} // namespace ohmo::test
