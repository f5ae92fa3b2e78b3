// SPDX-License-Identifier: GPL-3.0-or-later
// The place on a shape that is seen at a pixel.
#pragma once

#include <QPointF>
#include <optional>

#include "app/viewport/renderer.h"

namespace bricol {

struct Spot {
    const SceneItem* item;
    std::size_t face;  ///< of the item's own mesh
    DVec3 at;
};

/// The spot that is seen at `at` (pixels of the view); of copies that share the pixel the nearest. Nothing where no
/// shape is seen.
std::optional<Spot> spot_at(Renderer& renderer, const Scene& scene, const Camera& camera, QSize size,
                            const QPointF& at);

}  // namespace bricol
