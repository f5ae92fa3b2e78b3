// SPDX-License-Identifier: GPL-3.0-or-later
// Sets: named choices of vertices, edges or faces, kept as boolean columns.
#pragma once

#include <optional>

#include "core/shape/mesh.h"

namespace bricol {

/// One byte per element, 0 or 1.
using Mask = Array<std::uint8_t>;

struct SetInfo {
    std::string name;
    Domain domain{};
    std::size_t size = 0;
};
/// Every set of a mesh, in the order they were made.
std::vector<SetInfo> sets_of(const Mesh& mesh);

/// The members of a set as elements of `domain`. A set kept on another domain is turned over: faces give all their
/// edges and vertices; vertices give the edges and faces they fill wholly; edges give their vertices, and the faces
/// whose edges they all are. Nothing when no set has that name. O(elements).
std::optional<Mask> set_members(const Mesh& mesh, Domain domain, std::string_view name);

/// A mask turned over from one domain to another, by the same rules.
Mask turned_over(const Mesh& mesh, const Mask& mask, Domain from, Domain to);

/// Keeps `mask` as a set. A set of that name on another domain goes.
void keep_set(Mesh& mesh, Domain domain, std::string_view name, Mask mask);

/// The existing set most like a mistyped name; empty when nothing is near.
std::string nearest_set(const Mesh& mesh, std::string_view name);

std::size_t count_of(const Mask& mask);

}  // namespace bricol
