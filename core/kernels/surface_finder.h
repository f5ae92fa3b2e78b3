// SPDX-License-Identifier: GPL-3.0-or-later
// Nearest points on a mesh and rays against it (Embree behind).
#pragma once

#include <memory>
#include <optional>
#include <span>

#include "core/shape/mesh.h"

namespace bricol {

struct SurfaceHit {
    Index triangle = no_index;  ///< of SurfaceFinder::triangles; no_index for nothing found
    DVec3 at{0};                ///< the place on it (metres)
    DVec3 share{0};             ///< weights of the triangle's three corners there
    double distance = 0;
    explicit operator bool() const { return triangle != no_index; }
};

/// What a ray meets first, in single precision: enough to tell which of several is nearer.
struct SurfaceRay {
    Index triangle = no_index;  ///< as in SurfaceHit
    float distance = 0;         ///< metres; off by some 1e-6 of the coordinates
    explicit operator bool() const { return triangle != no_index; }
};

/// A mesh prepared for questions about its surface. Faces are cut into triangles as everywhere; triangles without area
/// are left out. Questions may be asked from any thread; the answers do not depend on how many there are.
class SurfaceFinder {
public:
    explicit SurfaceFinder(const Mesh& mesh);
    ~SurfaceFinder();
    SurfaceFinder(const SurfaceFinder&) = delete;
    SurfaceFinder& operator=(const SurfaceFinder&) = delete;

    bool empty() const;
    const Mesh& mesh() const;
    /// Corner numbers of the mesh, three a triangle, and the face each triangle is of.
    std::span<const std::array<Index, 3>> triangles() const;
    std::span<const Index> face_of() const;

    /// Nearest place within `radius`. Of two triangles equally near, the lower number.
    SurfaceHit nearest(const DVec3& point, double radius = 1e30) const;
    /// First triangle from `from` along `way` (any length), within `reach` lengths of it.
    SurfaceHit along(const DVec3& from, const DVec3& way, double reach = 1e30) const;
    /// The same in its two halves, for where not every ray's place is used. `unit` is of length 1; `reach` in metres.
    SurfaceRay first(const DVec3& from, const DVec3& unit, double reach = 1e30) const;
    SurfaceHit crossing(const SurfaceRay& ray, const DVec3& from, const DVec3& unit) const;
    /// Whether a closed mesh holds the point: rays in three directions cross it an odd number of times, by majority.
    bool inside(const DVec3& point) const;

    /// The same for many points on all threads. `start` is a guess of the distance, to save work; 0 for none.
    void nearest(std::span<const Vec3> points, std::span<SurfaceHit> hits, double start = 0) const;

private:
    struct Scene;
    std::unique_ptr<Scene> scene_;
};

/// Copies to `to` what stood on the nearest place of `from`: vertex attributes interpolated (those that are not numbers
/// of parts of one: of the nearest vertex), face attributes of the nearest face. NORMAL, corner and edge attributes are
/// left out.
Mesh with_attributes_from(Mesh to, const SurfaceFinder& from);
/// The same from a mesh; nothing is prepared when it has no such attributes.
Mesh with_attributes_from(Mesh to, const Mesh& from);

}  // namespace bricol
