// SPDX-License-Identifier: GPL-3.0-or-later
// What the plain curve steps share: a plane to lie in and a way to put knots there.
#pragma once

#include "core/steps/step.h"

namespace bricol {

/// The "plane" parameter of a plain curve.
inline ParameterInfo curve_plane(std::string_view standard) {
    std::vector<Choice> planes = {{"front", "front"}, {"side", "side"}, {"top", "top"}};
    for (std::size_t i = 0; i < planes.size(); ++i)
        if (planes[i].key == standard) std::swap(planes[0], planes[i]);
    return choice_of("plane", "Plane", std::move(planes), "The plane the curve lies in.");
}

/// Point (a, b) of a plane: front x and z, side y and z, top x and y.
inline Vec3 on_plane(const std::string& plane, double a, double b) {
    if (plane == "top") return Vec3(DVec3(a, b, 0));
    return Vec3(plane == "side" ? DVec3(0, a, b) : DVec3(a, 0, b));
}

inline Knot knot_on(const std::string& plane, double a, double b, KnotKind kind = KnotKind::corner) {
    Knot knot;
    knot.at = on_plane(plane, a, b);
    knot.kind = kind;
    return knot;
}

inline void give_curve(StepRun& run, Curve curve) {
    Shape shape;
    shape.curves.push_back(std::move(curve));
    run.give(std::move(shape));
}

}  // namespace bricol
