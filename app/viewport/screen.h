// SPDX-License-Identifier: GPL-3.0-or-later
// Places on the picture.
#pragma once

#include <QPointF>
#include <glm/vec2.hpp>

namespace bricol {

inline QPointF point(const glm::dvec2& p) { return {p.x, p.y}; }

}  // namespace bricol
