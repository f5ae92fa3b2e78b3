// SPDX-License-Identifier: GPL-3.0-or-later
// Knots as they are written in the recipe.
#pragma once

#include <QPointF>
#include <cmath>

#include "app/document/session.h"
#include "app/viewport/screen.h"
#include "core/shape/curve.h"

namespace bricol {

/// To a thousandth of a millimetre: files stay readable.
inline double rounded(double metres) { return std::round(metres * 1e6) / 1e6; }

/// A number or formula moved by an offset.
inline Json moved_number(const Json& written, double by) {
    if (written.is_string()) return with_offset(written.get<std::string>(), by);
    return rounded((written.is_number() ? written.get<double>() : 0) + by);
}

inline Json way_pair(const DVec3& way, const Curve& like) {
    const DVec3 n = like.plane.numbers_of_way(way);
    return Json::array({rounded(n.x), rounded(n.y)});
}
inline Json place_pair(const DVec3& place, const Curve& like) {
    const DVec3 n = like.plane.numbers(place);
    return Json::array({rounded(n.x), rounded(n.y)});
}
inline Json place_triple(const DVec3& place, const Curve& like) {
    const DVec3 n = like.plane.numbers(place);
    return Json::array({rounded(n.x), rounded(n.y), rounded(n.z)});
}
/// The place of three numbers, without the rounding of the plane's own floats.
inline DVec3 place_of(const DVec3& n, const Curve& like) {
    const DrawPlane& p = like.plane;
    return DVec3(p.origin) + DVec3(p.axes[0]) * n.x + DVec3(p.axes[1]) * n.y + DVec3(p.axes[2]) * n.z;
}

}  // namespace bricol
