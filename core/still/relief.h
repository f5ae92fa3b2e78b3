// SPDX-License-Identifier: GPL-3.0-or-later
// Form that is there in the light alone: a fine relief, and hard edges that shine as if they were round.
#pragma once

#include <embree3/rtcore.h>
#include <memory>
#include <vector>

#include "core/shape/material.h"
#include "core/shape/mesh.h"

namespace bricol {

/// The normal at a place of a surface with its material's relief on it: noise of three layers as a height field, whose
/// slope turns the normal (J. Blinn, "Simulation of wrinkled surfaces", 1978).
Vec3 with_relief(const Material& material, const Vec3& at, const Vec3& normal);

/// The edges of a mesh where its faces meet at more than 20 degrees.
class HardEdges {
public:
    HardEdges(const Mesh& mesh, std::shared_ptr<RTCDeviceTy> device);
    ~HardEdges();
    HardEdges(const HardEdges&) = delete;
    HardEdges& operator=(const HardEdges&) = delete;

    /// The normal at a place, of a triangle with the normal `flat`, as if the edges within `radius` were round: on an
    /// edge it looks midway between the two faces, a radius away from it as the face does.
    Vec3 rounded(const Vec3& at, const Vec3& flat, const Vec3& normal, float radius) const;

private:
    struct Edge {
        Vec3 a, b;
        Vec3 normals[2];  ///< of its two faces
    };
    std::vector<Edge> edges_;
    std::shared_ptr<RTCDeviceTy> device_;
    RTCScene scene_ = nullptr;
};

}  // namespace bricol
