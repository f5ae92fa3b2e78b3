// SPDX-License-Identifier: GPL-3.0-or-later
// What a result depends on, as one number.
#pragma once

#include <cstdint>
#include <string_view>
#include <type_traits>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// Collects what a result depends on, as bytes with a length before everything of variable size.
class Digest {
public:
    template <class T>
    requires std::is_arithmetic_v<T>
    void add(T value) { raw(&value, sizeof value); }
    void add(std::string_view text);
    void add(const Vec3& v) { add(v.x), add(v.y), add(v.z); }
    void add(const DVec3& v) { add(v.x), add(v.y), add(v.z); }
    /// XXH3 of all that was added.
    std::uint64_t hash() const;

private:
    void raw(const void* bytes, std::size_t count);
    std::vector<char> bytes_;
};

}  // namespace bricol
