// SPDX-License-Identifier: GPL-3.0-or-later
// An attribute on the shape: its colour scale with a legend, its numbers beside the elements, its directions as arrows.
#pragma once

#include <QPainter>

#include "app/viewport/camera.h"
#include "app/viewport/mesh_buffer.h"
#include "core/shape/shape.h"

namespace bricol {

struct AttributeOverlay {
    std::string name;  ///< "weight", "flow.x"; empty for none
    bool numbers = false, arrows = false;

    /// What there is to show on these shapes, each once.
    static std::vector<std::string> names(const std::vector<ShapePtr>& shapes);
    /// The attribute over its range on these shapes; the first there is when nothing was chosen.
    Paint paint(const std::vector<ShapePtr>& shapes);
    /// Legend, numbers and arrows over the picture. At most about 300 numbers and 4 000 arrows, of elements that face
    /// the viewer.
    void draw(QPainter& painter, const Camera& camera, QSize view, const std::vector<ShapePtr>& shapes) const;

    Paint shown;  ///< as last asked for
};

}  // namespace bricol
