// SPDX-License-Identifier: GPL-3.0-or-later
// Dark corners of a drawn picture, out of its depth alone.
#pragma once

#include <vector>

namespace bricol {

/// What a picture knows of depth, row by row from the upper left.
struct DepthView {
    int width = 0, height = 0;
    std::vector<float> depth;  ///< metres along the view's axis; 0 where nothing is
    float half_height = 0.3f;  ///< of what is seen, a metre away; of a flat view in metres
    bool flat = false;
};

/// How much of the light from all around reaches each pixel, 0 to 1: what stands out of its tangent plane within
/// `radius` (metres) shuts some of it off. M. McGuire, M. Mara and D. Luebke, "Scalable ambient obscurance", HPG 2012;
/// worked out for every second pixel both ways and blended along surfaces. The same for any number of threads. About
/// 40 ns a pixel and thread.
std::vector<float> occlusion(const DepthView& view, float radius);

}  // namespace bricol
