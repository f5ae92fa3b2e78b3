// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/preview_script.h"

#include <array>
#include <new>
#include <zlib.h>

// A file of this size as a literal would take the compiler seconds; the assembler takes it as it is.
asm(".section .rodata\n"
    ".hidden bricol_preview_begin\n.global bricol_preview_begin\nbricol_preview_begin:\n"
    ".incbin \"" BRICOL_PREVIEW_SCRIPT
    "\"\n"
    ".hidden bricol_preview_end\n.global bricol_preview_end\nbricol_preview_end:\n"
    ".byte 0\n.text\n");

extern "C" {
extern const char bricol_preview_begin[];
extern const char bricol_preview_end[];
}

namespace bricol {

std::string preview_script() {
    z_stream stream{};
    if (inflateInit2(&stream, 16 + MAX_WBITS) != Z_OK) throw std::bad_alloc();  // gzip, RFC 1952
    stream.next_in = const_cast<Bytef*>(reinterpret_cast<const Bytef*>(bricol_preview_begin));
    stream.avail_in = static_cast<uInt>(bricol_preview_end - bricol_preview_begin);
    std::string out;
    std::array<char, 65536> piece{};
    int state = Z_OK;
    while (state == Z_OK) {
        stream.next_out = reinterpret_cast<Bytef*>(piece.data());
        stream.avail_out = static_cast<uInt>(piece.size());
        state = inflate(&stream, Z_NO_FLUSH);
        out.append(piece.data(), piece.size() - stream.avail_out);
    }
    inflateEnd(&stream);
    return out;
}

}  // namespace bricol
