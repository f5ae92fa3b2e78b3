// SPDX-License-Identifier: GPL-3.0-or-later
// Small pictures of shapes that stand in no view: cards of the start page, variants, what a trial broke.
#pragma once

#include <utility>
#include <vector>

#include "app/viewport/renderer.h"
#include "core/make/make.h"

namespace bricol {

/// Shapes with the number of the part each is of, which decides its clay.
using PartShapes = std::vector<std::pair<std::size_t, ShapePtr>>;

/// What of a recipe stands in files and pictures.
PartShapes delivered_shapes(const Recipe& recipe, const Made& made);
std::optional<Box> box_of_shapes(const PartShapes& shapes);
/// In their materials, from where a view of them begins; `camera` instead when it is given. Null without faces.
QImage picture_of_shapes(Renderer& renderer, const PartShapes& shapes, QSize pixels, const Camera* camera = nullptr);

}  // namespace bricol
