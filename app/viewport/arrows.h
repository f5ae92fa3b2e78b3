// SPDX-License-Identifier: GPL-3.0-or-later
// Three arrows and a knob at a point of space, to pull it along an axis or across the view.
#pragma once

#include <QPainter>

#include "app/viewport/camera.h"

namespace bricol::arrows {

inline constexpr int none = -1, knob = 3;  ///< 0 to 2 are the axes

/// What of the arrows at a point lies under the pointer (pixels).
int hit(const DVec3& at, const Projector& projector, const glm::dvec2& pointer);
void paint(QPainter& painter, const DVec3& at, const Projector& projector, int hot);

/// How far a point moves when the pointer goes from one pixel to another while an arrow is held: along its axis, or for
/// the knob in the plane across the view (metres).
DVec3 pulled(const DVec3& at, int grip, const Camera& camera, const Projector& projector, const glm::dvec2& from,
             const glm::dvec2& to);
/// The same along any direction of unit length: metres along it.
double pulled_along(const DVec3& at, const DVec3& direction, const Projector& projector, const glm::dvec2& from,
                    const glm::dvec2& to);

/// Nearest multiple of `step`.
double snapped(double value, double step);

}  // namespace bricol::arrows
