// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/motion.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/rigid_fit.h"
#include "core/kernels/transform.h"

namespace bricol {

namespace {

Problem cannot(std::string what) {
    return {std::move(what), "", "Keep its faces and copies the same in all frames, or hand it over standing still."};
}

/// One placed mesh in every frame.
Result<PlacedMotion> placed_motion(std::span<const std::vector<PlacedMesh>> frames, std::size_t which) {
    PlacedMotion out;
    const PlacedMesh& first = frames[0][which];
    const Mesh& mesh = first.shape->mesh;
    bool places_move = false, points_move = false;
    for (const std::vector<PlacedMesh>& frame : frames) {
        stop_point();
        const PlacedMesh& now = frame[which];
        if (now.places.size() != first.places.size())
            return cannot(
                fmt::format("it has {} copies in one frame and {} in another", first.places.size(), now.places.size()));
        if (now.shape->mesh.topology->content_hash() != mesh.topology->content_hash())
            return cannot("its faces change from frame to frame");
        places_move |= now.places != first.places;
        points_move |= now.shape != first.shape && *now.shape->mesh.positions != *mesh.positions;
        out.places.push_back(now.places);
        out.points.push_back(*now.shape->mesh.positions);
    }
    if (!points_move) out.points.clear();
    if (points_move && !mesh.skeleton && mesh.vertex_count() >= 3) {
        // All as one? Then the places move instead.
        const auto box = box_of(*first.shape);
        const double bound = 1e-6 * (box ? glm::length(box->size()) : 0);
        std::vector<Array<glm::mat4>> places = out.places;
        bool as_one = true;
        for (std::size_t k = 0; k < frames.size() && as_one; ++k) {
            if (out.points[k] == *mesh.positions) continue;
            const RigidFit fit = rigid_fit(*mesh.positions, out.points[k]);
            as_one = fit.worst <= std::max(bound, 1e-7) && glm::determinant(glm::dmat3(fit.place)) > 1e-12;
            for (glm::mat4& place : places[k]) place = glm::mat4(glm::dmat4(place) * fit.place);
        }
        if (as_one) {
            out.places = std::move(places);
            out.points.clear();
            places_move = true;
        }
    }
    if (!places_move) out.places.clear();
    if (places_move && !first.tints.empty()) return cannot("tinted copies move, whose colours stand on their points");
    for (const Array<glm::mat4>& places : out.places)
        if (std::ranges::any_of(places, sheared_place)) return cannot("sheared copies move");
    return out;
}

}  // namespace

Array<Vec3> moved_normals(const Mesh& mesh, const Array<Vec3>& points) {
    Mesh now = mesh;
    now.positions = std::make_shared<const Array<Vec3>>(points);
    now.attributes.remove(Domain::vertex, attribute_name::normal);
    now.attributes.remove(Domain::corner, attribute_name::normal);
    return corner_normals(now);
}

bool sheared_place(const glm::mat4& m) {
    const Vec3 a(m[0]), b(m[1]), c(m[2]);
    return std::abs(glm::dot(a, b)) > 1e-5f * glm::length(a) * glm::length(b) ||
           std::abs(glm::dot(b, c)) > 1e-5f * glm::length(b) * glm::length(c) ||
           std::abs(glm::dot(c, a)) > 1e-5f * glm::length(c) * glm::length(a);
}

bool PartMotion::moves() const {
    return std::ranges::any_of(placed,
                               [](const PlacedMotion& one) { return !one.places.empty() || !one.points.empty(); });
}

Result<PartMotion> motion_of(std::span<const ShapePtr> frames, double rate) {
    PartMotion out;
    std::vector<std::vector<PlacedMesh>> placed;
    for (std::size_t k = 0; k < frames.size(); ++k) {
        out.seconds.push_back(static_cast<float>(static_cast<double>(k) / rate));
        placed.push_back(placed_meshes(frames[k]));
        if (placed[k].size() != placed[0].size()) return cannot("what stands in it changes from frame to frame");
    }
    for (std::size_t i = 0; i < placed[0].size(); ++i) {
        auto one = placed_motion(placed, i);
        if (!one) return one.problem();
        out.placed.push_back(std::move(*one));
    }
    return out;
}

}  // namespace bricol
