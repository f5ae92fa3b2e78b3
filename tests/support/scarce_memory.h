// SPDX-License-Identifier: GPL-3.0-or-later
// Memory that ends: while it lives, this program's requests for large pieces fail.
#pragma once

#include <cstddef>

namespace bricol::test {

class ScarceMemory {
public:
    /// Requests of at least this many bytes fail with bad_alloc, on every thread.
    explicit ScarceMemory(std::size_t bytes);
    ~ScarceMemory();
    ScarceMemory(const ScarceMemory&) = delete;
    ScarceMemory& operator=(const ScarceMemory&) = delete;
    /// How many have failed.
    int refused() const;
};

}  // namespace bricol::test
