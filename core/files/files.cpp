// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/files.h"

#include <atomic>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

#include "core/ground/stop.h"

namespace bricol {

namespace {

std::string reason(int error, bool reading = false) {
    switch (error) {
        case ENOSPC:
            return "the disk is full";
        case EDQUOT:
            return "your share of the disk is used up";
        case EACCES:
        case EPERM:
            return reading ? "you may not read it" : "you may not write there";
        case EROFS:
            return "the disk cannot be written to";
        case ENOENT:
            return "the folder or file does not exist";
        case EISDIR:
            return "it is a folder";
        case EINVAL:
            return "it is not a plain file";
        case ECANCELED:
            return "it was stopped";
        case ELOOP:
            return "its links lead in a circle";
        default:
            return std::strerror(error);
    }
}

/// A new file beside `target` under a name nobody has, with the permissions new files get here: the system applies the
/// mask itself, which must not be looked up by changing it while other threads make files. -1, and errno, on failure.
int open_beside(const std::string& target, std::string& name) {
    static std::atomic<unsigned> counter = 0;
    for (int tries = 0; tries < 100; ++tries) {
        name = fmt::format("{}.{}-{}", target, ::getpid(), counter++);
        const int file = ::open(name.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
        if (file >= 0 || errno != EEXIST) return file;
    }
    return -1;
}

Problem cannot_write(const std::string& path, int error) {
    return {fmt::format("The file could not be written: {}.", reason(error)), path,
            "Nothing was changed there. Save under another name or in another folder."};
}

/// What is left when writing ends early, whatever ends it: nothing.
struct Unfinished {
    std::string name;
    int file;
    bool done = false;
    ~Unfinished() {
        if (file >= 0) ::close(file);
        if (!done) ::unlink(name.c_str());
    }
};

/// The file a path leads to: links followed to their end, whether something is there or not. Empty for a circle.
std::string led_to(std::string path) {
    namespace fs = std::filesystem;
    std::error_code ignored;
    for (int links = 0; fs::is_symlink(fs::symlink_status(path, ignored)); ++links) {
        if (links == 40) return {};
        const fs::path next = fs::read_symlink(path, ignored);
        path = (next.is_absolute() ? next : fs::path(path).parent_path() / next).string();
    }
    return path;
}

}  // namespace

Result<std::string> read_file(const std::string& path, std::size_t most_bytes) {
    // Without waiting: opening a pipe would last until somebody writes into it.
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (file < 0)
        return Problem{fmt::format("The file could not be read: {}.", reason(errno, true)), path,
                       "Check the name and the folder."};
    struct stat about {};
    ::fstat(file, &about);
    if (!S_ISREG(about.st_mode)) {
        ::close(file);
        return Problem{"This is not a file that can be read.", path, "Choose a file."};
    }
    if (static_cast<std::size_t>(about.st_size) > most_bytes) {
        ::close(file);
        return Problem{fmt::format("The file has {} MB; up to {} MB are read.", about.st_size >> 20, most_bytes >> 20),
                       path, ""};
    }
    std::string content(static_cast<std::size_t>(about.st_size), '\0');
    std::size_t got = 0;
    while (got < content.size()) {
        const ssize_t n = ::read(file, content.data() + got, content.size() - got);
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) {  // half a file is never handed on as a whole one
            const std::string why = n < 0 ? reason(errno, true) : "it became shorter while it was read";
            ::close(file);
            return Problem{fmt::format("The file could not be read to its end: {}.", why), path, "Try again."};
        }
        got += static_cast<std::size_t>(n);
    }
    ::close(file);
    return content;
}

std::optional<Problem> write_file(const std::string& path, const std::function<void(const Sink&)>& produce) {
    // A link is followed, so that saving replaces what it points to and not the link.
    std::error_code ignored;
    const std::string target = led_to(path);
    if (target.empty()) return cannot_write(path, ELOOP);
    if (std::filesystem::is_directory(target, ignored)) return cannot_write(path, EISDIR);
    struct stat old {};
    const bool existed = ::stat(target.c_str(), &old) == 0;
    // Never rename over a device or a pipe.
    if (existed && !S_ISREG(old.st_mode)) return cannot_write(path, EINVAL);
    if (existed && ::access(target.c_str(), W_OK) != 0) return cannot_write(path, errno);
    std::string temporary;
    Unfinished unfinished{{}, open_beside(target, temporary)};
    if (unfinished.file < 0) return cannot_write(path, errno);
    unfinished.name = temporary;
    int failure = 0;
    constexpr std::size_t at_once = 4 << 20;
    off64_t written = 0, begun = 0;  // bytes; those the disk was told to begin with
    const Sink sink = [&](std::string_view piece) {
        if (stop_asked()) failure = ECANCELED;
        while (!piece.empty() && failure == 0) {
            const ssize_t n = ::write(unfinished.file, piece.data(), std::min(piece.size(), at_once));
            if (n < 0) {
                if (errno != EINTR) failure = errno;
                continue;
            }
            piece.remove_prefix(static_cast<std::size_t>(n));
            written += n;
            if (written - begun < static_cast<off64_t>(at_once)) continue;
            // The disk begins while the next piece is got ready; whether it all arrived is asked at the end.
            ::sync_file_range(unfinished.file, begun, written - begun, SYNC_FILE_RANGE_WRITE);
            begun = written;
        }
        return failure == 0;
    };
    produce(sink);
    if (existed) ::fchmod(unfinished.file, old.st_mode & 07777);
    if (failure == 0 && stop_asked()) failure = ECANCELED;
    if (failure == 0 && ::fdatasync(unfinished.file) != 0 && errno != EINVAL) failure = errno;
    if (::close(std::exchange(unfinished.file, -1)) != 0 && failure == 0) failure = errno;
    if (failure == 0 && ::rename(temporary.c_str(), target.c_str()) != 0) failure = errno;
    if (failure != 0) return cannot_write(path, failure);
    unfinished.done = true;
    return std::nullopt;
}

std::string unfinished_of(std::string_view name) {
    const auto digits = [&](std::size_t from, std::size_t to) {
        return from < to && name.substr(from, to - from).find_first_not_of("0123456789") == std::string_view::npos;
    };
    const std::size_t dot = name.rfind('.'), dash = name.rfind('-');
    if (dot == std::string_view::npos || dash == std::string_view::npos || dash < dot) return "";
    return digits(dot + 1, dash) && digits(dash + 1, name.size()) ? std::string(name.substr(0, dot)) : "";
}

std::optional<Problem> write_file(const std::string& path, std::string_view content) {
    return write_file(path, [&](const Sink& sink) { sink(content); });
}

}  // namespace bricol
