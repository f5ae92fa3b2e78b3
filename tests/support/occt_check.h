// SPDX-License-Identifier: GPL-3.0-or-later
// OpenCASCADE's own opinion of a B-spline.
#pragma once

#include "core/kernels/nurbs.h"

namespace bricol::test {

/// Place, first and second derivative by Geom_BSplineCurve::D2.
NurbsPoint occt_point(const Nurbs& curve, double u);

}  // namespace bricol::test
