// SPDX-License-Identifier: GPL-3.0-or-later
// Curves as they are described: knots, handles and corner kinds. They become points only when a step needs points.
#pragma once

#include <array>
#include <string>
#include <variant>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// How the curve passes through a knot.
enum class KnotKind : std::uint8_t {
    corner,  ///< no handles: straight towards both neighbours unless a neighbour bends its own side
    smooth,  ///< handles in one line; found from the neighbours when not given
    free     ///< two handles that do not know each other
};

/// What a knot carries under a name: one cell of the types that columns have. A byte is in a set or not.
struct KnotValue {
    std::string name;
    std::variant<std::uint8_t, std::int32_t, float, Vec2, Vec3, Vec4> value;

    bool operator==(const KnotValue&) const = default;
};
using KnotValues = std::vector<KnotValue>;  ///< each name once

struct Knot {
    Vec3 at{0};
    Vec3 in{0}, out{0};  ///< handles relative to `at`; zero means none (or, for smooth knots, automatic)
    KnotKind kind = KnotKind::corner;
    float fillet = 0;          ///< radius in metres by which a corner is rounded; 0 for none
    float radius = 1;          ///< factor on a section swept along the curve
    float roll = 0;            ///< radians about the curve
    std::int32_t source = -1;  ///< number of this knot in the step that drew it, -1 when it was not drawn
    KnotValues values;         ///< its attributes and sets; they go where the knot goes
};

/// How finely a curve is turned into points.
struct Sampling {
    int per_span = 8;     ///< pieces of a bent span between two knots; straight spans always give one
    float tolerance = 0;  ///< when positive: as many pieces as keep the chord within this distance (metres)
};

/// What the three numbers of a drawn knot mean: lengths along three directions of unit length, across one another, from
/// a point. The first two lie in the plane that was drawn on, the third stands off it.
struct DrawPlane {
    Vec3 origin{0};
    std::array<Vec3, 3> axes{Vec3(1, 0, 0), Vec3(0, 0, 1), Vec3(0, 1, 0)};  ///< the front view's

    /// A direction, and a place, from its numbers.
    Vec3 way(const Vec3& numbers) const { return axes[0] * numbers.x + axes[1] * numbers.y + axes[2] * numbers.z; }
    Vec3 place(const Vec3& numbers) const { return origin + way(numbers); }
    /// The numbers of a direction, and of a place.
    DVec3 numbers_of_way(const DVec3& v) const {
        return {glm::dot(v, DVec3(axes[0])), glm::dot(v, DVec3(axes[1])), glm::dot(v, DVec3(axes[2]))};
    }
    DVec3 numbers(const DVec3& place) const { return numbers_of_way(place - DVec3(origin)); }
};

/// A curve of cubic Bézier spans; a polyline is one whose knots are all corners.
struct Curve {
    bool closed = false;
    std::vector<Knot> knots;
    Sampling sampling;
    std::string source_step;        ///< id of the step that drew it, for remedies that change that step
    std::int32_t source_curve = 0;  ///< number of the curve in that step
    DrawPlane plane;                ///< that its knots were written in

    // Copied and ended in many files; compiled once, in curve.cpp.
    Curve();
    Curve(const Curve&);
    Curve(Curve&&) noexcept;
    Curve& operator=(const Curve&);
    Curve& operator=(Curve&&) noexcept;
    ~Curve();
};

}  // namespace bricol
