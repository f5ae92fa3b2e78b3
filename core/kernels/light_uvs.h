// SPDX-License-Identifier: GPL-3.0-or-later
// A second set of UVs for light baked into a picture: every place of the surface has its own, none lies over another.
#pragma once

#include "core/shape/mesh.h"

namespace bricol {

struct LightUvs {
    Mesh mesh;               ///< with TEXCOORD_1 on its corners, within 0..1
    std::size_t charts = 0;  ///< flat pieces
    double covered = 0;      ///< share of the square that they fill
};
/// Faces are gathered into charts that turn no more than `degrees` away from their mean direction, each is laid flat
/// along it, and they are packed in rows at one scale, at least `margin` (share of the square's side) apart. A chart
/// that would lie over itself is halved until it does not. O(corners x log corners).
LightUvs with_light_uvs(const Mesh& mesh, double margin = 1.0 / 256, double degrees = 45);

}  // namespace bricol
