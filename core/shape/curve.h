// SPDX-License-Identifier: GPL-3.0-or-later
// Curves as they are described: knots, handles and corner kinds. They become points only when a step needs points.
#pragma once

#include <array>

#include "core/shape/types.h"

namespace bricol {

/// How the curve passes through a knot.
enum class KnotKind : std::uint8_t {
    corner,  ///< no handles: straight towards both neighbours unless a neighbour bends its own side
    smooth,  ///< handles in one line; found from the neighbours when not given
    free     ///< two handles that do not know each other
};

struct Knot {
    Vec3 at{0};
    Vec3 in{0}, out{0};      ///< handles relative to `at`; zero means none (or, for smooth knots, automatic)
    KnotKind kind = KnotKind::corner;
    float fillet = 0;        ///< radius in metres by which a corner is rounded; 0 for none
    float radius = 1;        ///< factor on a section swept along the curve
    float roll = 0;          ///< radians about the curve
    std::int32_t source = -1;  ///< number of this knot in the step that drew it, -1 when it was not drawn
};

/// How finely a curve is turned into points.
struct Sampling {
    int per_span = 8;     ///< pieces of a bent span between two knots; straight spans always give one
    float tolerance = 0;  ///< when positive: as many pieces as keep the chord within this distance (metres)
};

/// A curve of cubic Bézier spans; a polyline is one whose knots are all corners.
struct Curve {
    bool closed = false;
    std::vector<Knot> knots;
    Sampling sampling;
    std::string source_step;        ///< id of the step that drew it, for remedies that change that step
    std::int32_t source_curve = 0;  ///< number of the curve in that step
    std::array<std::int8_t, 3> written{0, 2, 1};  ///< axis (0 x, 1 y, 2 z) of each number a knot was written with
};

}  // namespace bricol
