// SPDX-License-Identifier: GPL-3.0-or-later
// Which places of the ground lie in the shadow of shapes, seen from one place of a lamp. Worked out here and not by
// the graphics card: a mesh that was made just now is thrown from many places at once, and its triangles are far
// smaller than the pixels of the ground, which software drawing takes badly.
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "app/viewport/shadow_sources.h"
#include "core/shape/mesh.h"

namespace bricol {

/// A mesh that keeps light off, wherever it stands.
struct ShadowCaster {
    std::shared_ptr<const Array<Vec3>> points;
    std::shared_ptr<const Array<Index>> triangles;  ///< three points each
    std::shared_ptr<const Array<glm::mat4>> places;
    /// Triangles that are looked at to throw it once: of copies that would be specks only some.
    double work() const;
};

/// The triangles of a mesh but for those of glass, which lets nearly all light through.
std::shared_ptr<const Array<Index>> opaque_triangles(const Mesh& mesh);

/// A square on the ground, z = 0, in pixels that count along x and then along y.
struct GroundSquare {
    DVec3 corner{0};  ///< the lowest x and y (metres)
    double side = 1;  ///< metres
    int pixels = 256;
};

/// 1 for pixels whose middles lie in shadow, else 0. Without a source: what is covered as seen from above, by shapes
/// below the ground too; else nothing below the ground or above the source counts. Of copies with many triangles for a
/// pixel some are looked at, so many that few pixels are missed, and pixels they touch count.
std::vector<std::uint8_t> ground_cover(std::span<const ShadowCaster> casters, const std::optional<ShadowSource>& source,
                                       const GroundSquare& square);

}  // namespace bricol
