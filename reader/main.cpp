// SPDX-License-Identifier: GPL-3.0-or-later
// bricol-reader SUFFIX [BYTES]: reads a file of shapes from standard input and writes what it holds, packed, to standard
// output. The first BYTES of the input are what stands beside the file, an OBJ's materials. Bricol starts it for every file from outside, so that a broken one breaks this process alone. It reaches
// nothing but those two.
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <exception>
#include <new>
#include <string>
#include <string_view>
#include <unistd.h>

#include "reader/readers.h"
#include "reader/walled_in.h"

namespace {

using namespace bricol;

std::string all_of_input() {
    std::string text;
    std::string piece(std::size_t(1) << 20, '\0');
    for (ssize_t got = 0; (got = read(STDIN_FILENO, piece.data(), piece.size())) > 0;)
        text.append(piece, 0, static_cast<std::size_t>(got));
    return text;
}

bool put_out(const std::string& bytes) {
    for (std::size_t done = 0; done < bytes.size();) {
        const ssize_t put = write(STDOUT_FILENO, bytes.data() + done, bytes.size() - done);
        if (put <= 0) return false;
        done += static_cast<std::size_t>(put);
    }
    return true;
}

wire::File read_by(const std::string& suffix, const std::string& text, std::size_t beside) {
    try {
        const std::string_view all(text);
        return suffix == "3mf"
                   ? reader::read_3mf(text)
                   : reader::read_by_assimp(suffix, all.substr(beside), all.substr(0, beside));
    } catch (const std::bad_alloc&) {
        return {.failed = "It needs more memory than may be taken for one file."};
    } catch (const std::exception& problem) {
        return {.failed = problem.what()};
    }
}

}  // namespace

int main(int count, char** words) {
    if (count != 2 && count != 3) {
        std::fputs("bricol-reader SUFFIX [BYTES] < file > shapes\nBricol starts this for files from outside.\n", stderr);
        return 2;
    }
    const std::string text = all_of_input();
    const std::size_t beside = count == 3 ? std::min<std::size_t>(std::strtoull(words[2], nullptr, 10), text.size()) : 0;
    if (!reader::bound_resources(wire::memory_for(text.size()), wire::seconds_for(text.size())) || !reader::wall_in()) {
        put_out(wire::packed({.failed = "This system cannot shut a reader in, so no file from outside is read."}));
        return 1;
    }
    // Nothing is given back piece by piece: the process is over.
    _exit(put_out(wire::packed(read_by(words[1], text, beside))) ? 0 : 1);
}
