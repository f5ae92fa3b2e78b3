// SPDX-License-Identifier: GPL-3.0-or-later
// The shapes of a scene as rays meet them (Embree behind).
#pragma once

#include <memory>

#include "core/still/lamps.h"
#include "core/still/still_scene.h"

namespace bricol {

struct RayHit {
    float distance = 0;  ///< metres; 0 for nothing hit
    Vec3 at{0};
    Vec3 flat{0};    ///< unit normal of the triangle, turned to where the ray came from
    Vec3 normal{0};  ///< the same of the shading
    Vec3 colour{1};  ///< base colour there, points' colours counted
    const Material* material = nullptr;
    bool inside = false;  ///< the ray ran inside a closed shape
    bool thin = false;    ///< of an open sheet
    std::int32_t part = -1, material_number = 0;
    explicit operator bool() const { return distance > 0; }
};

/// Trees in which rays look for triangles.
enum class RayTrees {
    of_each,  ///< one for each mesh: where a part changes, only its own is built
    one       ///< one for all that does not stand as copies: rays go quicker, and any change builds it whole
};

/// Copies share their mesh. Questions may be asked from any thread.
class RayScene {
public:
    /// What `before` knows of the same shapes is used again: only what changed is built.
    RayScene(const std::vector<ShapePtr>& shapes, const DVec3& plain_colour, RayTrees trees,
             const RayScene* before = nullptr);
    ~RayScene();
    RayScene(const RayScene&) = delete;
    RayScene& operator=(const RayScene&) = delete;

    RayHit along(const Vec3& from, const Vec3& way) const;
    /// The triangles of materials that glow, where they stand.
    std::vector<ShiningTriangle> shining() const;
    /// Triangles that are held, each once however many copies show it, and meshes built anew.
    std::size_t triangles() const;
    std::size_t built() const;
    /// Whether something stands between.
    bool blocked(const Vec3& from, const Vec3& way, float distance) const;

private:
    struct Inside;
    std::unique_ptr<Inside> inside_;
};

}  // namespace bricol
