// SPDX-License-Identifier: GPL-3.0-or-later
// The values on a mesh that files have no place of their own for.
#pragma once

#include <string>
#include <vector>

#include "core/shape/mesh.h"

namespace bricol {

/// What the artist has written on elements of a kind, in the order it was made: no normals, UVs, colours and materials,
/// which files know, no shares of joints, and nothing Bricol keeps for itself.
std::vector<const Attribute*> own_values(const Mesh& mesh, Domain domain);
/// The same of what no skeleton moves: the values on copies.
std::vector<const Attribute*> own_values(const Attributes& attributes, Domain domain);

/// A name of letters, digits and "_" for every one of them, none twice; `capitals` as glTF wants ("_WEAR").
std::vector<std::string> plain_names(const std::vector<const Attribute*>& values, bool capitals);

/// How many numbers a value has, and each of them; sets are 0 and 1.
std::size_t value_width(const Column& column);
float value_at(const Column& column, std::size_t element, std::size_t component);

/// Colours of the points; those that stand on corners are averaged. Empty without any.
Array<Vec4> point_colours(const Mesh& mesh);

}  // namespace bricol
