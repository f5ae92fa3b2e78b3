// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers that knots of curves and standing copies have of their own, besides attributes: places, handles, radii,
// sizes.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

#include "core/shape/attributes.h"
#include "core/shape/shape.h"

namespace bricol {

struct StandingField {
    std::string_view name, help;
    bool writable = true;
};

/// Those of knots (`Domain::knot`) or of copies (`Domain::instance`); none for other domains.
std::span<const StandingField> standing_fields(Domain domain);
const StandingField* find_standing_field(Domain domain, std::string_view name);

/// One value for each knot, curves one after another, or for each copy, groups one after another. Places (x, y, z) are
/// those of `came_in`, which has the same knots and copies; everything else is as it is now. Metres and degrees.
std::vector<double> standing_values(const Shape& now, const Shape& came_in, Domain domain, std::string_view name);

/// Writes values to those that are chosen. A corner knot that gets a handle becomes a free one, on which handles count.
void write_standing(Shape& shape, Domain domain, std::string_view name, std::span<const double> values,
                    const std::function<bool(std::size_t)>& chosen);

/// Where the knot or copy of that number stands; nothing for other domains.
std::optional<Vec3> standing_place(const Shape& shape, Domain domain, std::size_t element);

}  // namespace bricol
