// SPDX-License-Identifier: GPL-3.0-or-later
// The small types everything stands on: vectors, and arrays that do not clear memory they will overwrite.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <memory>
#include <new>
#include <string>
#include <type_traits>
#include <utility>
#include <vector>

namespace bricol {

using Vec2 = glm::vec2;
using Vec3 = glm::vec3;
using Vec4 = glm::vec4;
using DVec2 = glm::dvec2;
using DVec3 = glm::dvec3;
using Index = std::uint32_t;

/// "No such element" in arrays of indices.
inline constexpr Index no_index = 0xffffffffu;

/// Allocator that leaves plain values uninitialised on resize. Kernels size an array and then write every element;
/// clearing it first costs as much as the kernel itself for large meshes.
template <class T>
struct UnclearedAllocator : std::allocator<T> {
    template <class U>
    struct rebind {
        using other = UnclearedAllocator<U>;
    };
    template <class U>
    void construct(U* place) noexcept(std::is_nothrow_default_constructible_v<U>) {
        ::new (static_cast<void*>(place)) U;
    }
    template <class U, class... Arguments>
    void construct(U* place, Arguments&&... arguments) {
        ::new (static_cast<void*>(place)) U(std::forward<Arguments>(arguments)...);
    }
};

/// Contiguous bulk data. `resize` leaves new plain elements unset.
template <class T>
using Array = std::vector<T, UnclearedAllocator<T>>;

}  // namespace bricol
