// SPDX-License-Identifier: GPL-3.0-or-later
// An attribute as one number per element of any domain.
#pragma once

#include <optional>

#include "core/shape/mesh.h"

namespace bricol {

/// Values of an attribute as numbers on `domain`: sets as 0 and 1, vectors as their length (`name.x` one component).
/// When the attribute stands on another domain every element takes the mean of the elements it touches there (vertices
/// of a face, faces of a vertex and so on). Nothing when there is none.
std::optional<Array<float>> numbers_on(const Mesh& mesh, Domain domain, std::string_view name);

/// Numbers carried from one domain to another as a mean over what touches.
Array<float> carried(const Mesh& mesh, const Array<float>& values, Domain from, Domain to);

}  // namespace bricol
