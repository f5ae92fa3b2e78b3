// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of text or bytes made on all threads and written in order.
#pragma once

#include <charconv>
#include <string>
#include <vector>

#include "core/files/files.h"
#include "core/ground/parallel.h"

namespace bricol {

/// A piece of output with room for appending numbers without asking for memory each time.
class RowBuffer {
public:
    void reserve(std::size_t bytes) { text_.resize(bytes); }
    /// Makes sure `bytes` more fit; call once per row.
    void room(std::size_t bytes) {
        if (used_ + bytes > text_.size()) text_.resize(std::max(text_.size() * 2, used_ + bytes));
    }
    void add(char c) { text_[used_++] = c; }
    void add(std::string_view s) { s.copy(text_.data() + used_, s.size()), used_ += s.size(); }
    /// Shortest digits that read back as the same float.
    void add(float value) {
        used_ = static_cast<std::size_t>(std::to_chars(text_.data() + used_, text_.data() + text_.size(), value).ptr -
                                         text_.data());
    }
    void add(std::size_t value) {
        used_ = static_cast<std::size_t>(std::to_chars(text_.data() + used_, text_.data() + text_.size(), value).ptr -
                                         text_.data());
    }
    void add_bytes(const void* data, std::size_t size) { add(std::string_view(static_cast<const char*>(data), size)); }
    std::string_view view() const { return {text_.data(), used_}; }
    void clear() { used_ = 0; }

private:
    std::string text_;
    std::size_t used_ = 0;
};

/// Calls `row(buffer, i)` for 0..count-1 in blocks on all threads; hands the blocks to the sink in order.
template <class Row>
void write_rows(std::size_t count, const Sink& sink, Row row) {
    constexpr std::size_t block = 16384, wave = 16;
    std::vector<RowBuffer> buffers(wave);
    for (std::size_t start = 0; start < count; start += block * wave) {
        const std::size_t blocks = std::min(wave, (count - start + block - 1) / block);
        parallel::each(std::size_t(0), blocks, [&](std::size_t b) {
            RowBuffer& buffer = buffers[b];
            buffer.clear();
            const std::size_t from = start + b * block, to = std::min(count, from + block);
            for (std::size_t i = from; i < to; ++i) row(buffer, i);
        });
        for (std::size_t b = 0; b < blocks; ++b)
            if (!sink(buffers[b].view())) return;
    }
}

}  // namespace bricol
