// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/disk.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fstream>
#include <sstream>

namespace ohmo {
namespace {

Problem io_problem(ProblemKind kind, const Path& path, const std::string& why) { return {kind, path.string(), why, {}, 0, false}; }

bool write_all(int file, const std::string& text) {
    std::size_t done = 0;
    while (done < text.size()) {
        const auto n = ::write(file, text.data() + done, text.size() - done);
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return false;
        done += static_cast<std::size_t>(n);
    }
    return ::fsync(file) == 0;
}

} // namespace

Result<std::string> RealDisk::read(const Path& path, std::uintmax_t limit) const {
    std::error_code error;
    if (std::filesystem::is_directory(path, error)) return io_problem(ProblemKind::FileUnreadable, path, "is a folder");
    std::ifstream in(path, std::ios::binary);
    if (!in) return io_problem(ProblemKind::FileUnreadable, path, std::strerror(errno));
    const auto size = std::filesystem::file_size(path, error);
    if (!error && size > limit) return io_problem(ProblemKind::FileTooLarge, path, std::to_string(size));
    std::ostringstream text;
    text << in.rdbuf();
    if (in.bad()) return io_problem(ProblemKind::FileUnreadable, path, std::strerror(errno));
    return text.str();
}

Result<Path> RealDisk::write(const Path& path, const std::string& text) const {
    std::error_code error;
    // A link keeps pointing where it did: the file behind it is replaced.
    Path target = std::filesystem::is_symlink(path, error) ? std::filesystem::canonical(path, error) : path;
    if (error) target = path;
    std::string pattern = target.string() + ".XXXXXX";
    const int file = ::mkstemp(pattern.data());
    if (file < 0) return io_problem(ProblemKind::FileUnwritable, path, std::strerror(errno));
    const bool written = write_all(file, text);
    const int cause = errno;
    struct stat old = {};
    const bool there = ::stat(target.c_str(), &old) == 0; // a file keeps the rights it had
    ::fchmod(file, there ? old.st_mode & 07777 : 0644);
    ::close(file);
    if (!written || ::rename(pattern.c_str(), target.c_str()) != 0) {
        const std::string why = std::strerror(written ? errno : cause);
        ::unlink(pattern.c_str());
        return io_problem(ProblemKind::FileUnwritable, path, why);
    }
    return path;
}

bool RealDisk::exists(const Path& path) const {
    std::error_code error;
    return std::filesystem::exists(path, error);
}

void RealDisk::remove(const Path& path) const {
    std::error_code error;
    std::filesystem::remove(path, error);
}

Path data_dir() {
    if (const char* set = std::getenv("OHMO_DATA"); set != nullptr && *set != 0) return set;
    std::error_code error;
    const Path self = std::filesystem::read_symlink("/proc/self/exe", error);
    if (!error) {
        Path installed = self.parent_path().parent_path() / "share" / "ohmotrace";
        if (std::filesystem::exists(installed / "schema", error)) return installed;
    }
    return OHMO_SOURCE_DATA;
}

} // namespace ohmo
