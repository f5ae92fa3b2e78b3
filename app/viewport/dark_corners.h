// SPDX-License-Identifier: GPL-3.0-or-later
// Ambient occlusion laid over a drawn picture.
#pragma once

#include <QImage>
#include <vector>

#include "app/viewport/camera.h"

namespace bricol {

/// Darkens what light from all around hardly reaches. `window_depth` as OpenGL gives it, 0 to 1, rows from the top.
void darken_corners(QImage& image, const std::vector<float>& window_depth, const Camera& camera);

}  // namespace bricol
