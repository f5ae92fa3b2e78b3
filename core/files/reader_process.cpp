// SPDX-License-Identifier: GPL-3.0-or-later
// Starting the reader, waiting for it, and making an end of it.
#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstdlib>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

#include "core/files/own_place.h"
#include "core/files/read_shape.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

namespace fs = std::filesystem;

/// A file in memory without a name, closed at the end.
class MemoryFile {
public:
    explicit MemoryFile(const char* name) : at_(memfd_create(name, MFD_CLOEXEC)) {}
    ~MemoryFile() {
        if (at_ >= 0) close(at_);
    }
    MemoryFile(const MemoryFile&) = delete;
    MemoryFile& operator=(const MemoryFile&) = delete;

    int number() const { return at_; }
    bool fill(std::initializer_list<const std::string*> contents) const {
        for (const std::string* content : contents)
            for (std::size_t done = 0; done < content->size();) {
                const ssize_t put = write(at_, content->data() + done, content->size() - done);
                if (put <= 0) return false;
                done += static_cast<std::size_t>(put);
            }
        return lseek(at_, 0, SEEK_SET) == 0;
    }

private:
    int at_;
};

/// The reader: the one the environment names, the one beside us, the installed one, or the one that was built with us.
std::string reader_program() {
    if (const char* named = std::getenv("BRICOL_READER")) return named;
    const fs::path here = own_place();
    std::error_code none;
    for (const fs::path& place : {here / "bricol-reader", here / "../libexec/bricol/bricol-reader",
                                  here / "../../libexec/bricol/bricol-reader", fs::path(BRICOL_READER_BUILT)})
        if (fs::exists(place, none)) return place.string();
    return {};
}

constexpr const char* too_costly = ": it took more time or memory than a file of its size may";

Problem broke_down(const std::string& why) {
    return {"Reading it broke down" + why + ".", "",
            "The file is damaged, or made to do harm. Open it in the program it comes from and write it anew."};
}

/// Waits for the process; an exit status, or why it was ended.
Result<int> waited_for(pid_t process, std::chrono::seconds longest) {
    const auto begun = std::chrono::steady_clock::now();
    int status = 0;
    // Short waits first, so that small files cost no more than they take; never so long that a stop is not obeyed.
    auto pause = std::chrono::microseconds(200);
    for (;;) {
        const pid_t ended = waitpid(process, &status, WNOHANG);
        if (ended == process) return status;
        if (ended < 0 && errno != EINTR) return broke_down("");
        const bool too_long = std::chrono::steady_clock::now() - begun > longest;
        if (too_long || stop_asked()) {
            kill(process, SIGKILL);
            waitpid(process, &status, 0);
            if (!too_long) throw Stopped{};
            return broke_down(too_costly);
        }
        std::this_thread::sleep_for(pause);
        pause = std::min(pause * 2, std::chrono::microseconds(10000));
    }
}

/// Starts it with `in` and `out` as its only files.
Result<pid_t> started(const std::string& program, const std::string& suffix, std::size_t beside, int in, int out) {
    posix_spawn_file_actions_t files;
    posix_spawn_file_actions_init(&files);
    posix_spawn_file_actions_adddup2(&files, in, STDIN_FILENO);
    posix_spawn_file_actions_adddup2(&files, out, STDOUT_FILENO);
    posix_spawn_file_actions_addopen(&files, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
    posix_spawn_file_actions_addclosefrom_np(&files, STDERR_FILENO + 1);
    std::string name = "bricol-reader", word = suffix, first = std::to_string(beside), locale = "LC_ALL=C";
    const std::array<char*, 4> words{name.data(), word.data(), first.data(), nullptr};
    const std::array<char*, 2> surroundings{locale.data(), nullptr};
    pid_t process = 0;
    const int failed = posix_spawn(&process, program.c_str(), &files, nullptr, words.data(), surroundings.data());
    posix_spawn_file_actions_destroy(&files);
    if (failed != 0)
        return Problem{fmt::format("The program that reads files from outside does not start ({}).", program), "",
                       "Install Bricol again."};
    return process;
}

}  // namespace

Result<wire::File> read_outside(const std::string& suffix, const std::string& content, const std::string& beside) {
    const std::string program = reader_program();
    if (program.empty())
        return Problem{"The program that reads files from outside (bricol-reader) is not there.", "",
                       "Install Bricol again, or name it in BRICOL_READER."};
    const MemoryFile in("bricol-in"), out("bricol-out");
    if (in.number() < 0 || out.number() < 0 || !in.fill({&beside, &content}))
        return Problem{"There is not enough memory to read it.", "", "Close other programs, or take a smaller file."};
    const auto process = started(program, suffix, beside.size(), in.number(), out.number());
    if (!process) return process.problem();
    // On a busy machine it waits; its time on the processor it bounds itself.
    const auto status =
        waited_for(*process, std::chrono::seconds(10 * wire::seconds_for(content.size() + beside.size())));
    if (!status) return status.problem();
    if (WIFSIGNALED(*status))
        return broke_down(WTERMSIG(*status) == SIGXCPU || WTERMSIG(*status) == SIGKILL
                              ? too_costly
                              : fmt::format(" (signal {})", WTERMSIG(*status)));
    const auto size = static_cast<std::size_t>(std::max<off_t>(0, lseek(out.number(), 0, SEEK_END)));
    if (size == 0) return broke_down("");
    void* at = mmap(nullptr, size, PROT_READ, MAP_PRIVATE, out.number(), 0);
    if (at == MAP_FAILED) return broke_down("");
    auto file = wire::unpacked({static_cast<const char*>(at), size});
    munmap(at, size);
    if (!file) return broke_down("");
    if (!file->failed.empty())
        return Problem{fmt::format("It cannot be read: {}", file->failed), "",
                       "Open it in the program it comes from and write it anew."};
    return std::move(*file);
}

}  // namespace bricol
