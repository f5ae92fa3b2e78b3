// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers that belong to elements themselves, so that what is random stays with them when others come or go.
#pragma once

#include "core/shape/mesh.h"

namespace bricol {

/// One well-mixed number per element. From the attribute "id" (int) where the domain has it, as scattered points do;
/// else from where the element's middle stands in the shape's box, so that it does not change with the element's place
/// in the list nor with the size of the shape. Elements at the same place share a number.
Array<std::uint32_t> element_numbers(const Mesh& mesh, Domain domain);
/// The same from an "id" column and a count alone: instances.
Array<std::uint32_t> element_numbers(const Attributes& attributes, Domain domain, std::size_t count);

}  // namespace bricol
