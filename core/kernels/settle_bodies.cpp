// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/settle_bodies.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/hull.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/remove_elements.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

/// So many corners at most, and no more once the hull lies within this share of its size: finer ones cost time and
/// change little.
constexpr std::size_t most_corners = 64;
constexpr double near_enough = 0.004;
/// Directions spread evenly over the sphere (Fibonacci's lattice, common practice).
std::vector<DVec3> even_ways(std::size_t count) {
    std::vector<DVec3> out;
    for (std::size_t i = 0; i < count; ++i) {
        const double z = 1 - (2.0 * static_cast<double>(i) + 1) / static_cast<double>(count), r = std::sqrt(1 - z * z),
                     angle = 2.399963229728653 * static_cast<double>(i);  // the golden angle
        out.emplace_back(r * std::cos(angle), r * std::sin(angle), z);
    }
    return out;
}

/// The corners of the hull of points; of fine ones those that matter most: one after another the one that stands
/// farthest out of what was taken before.
std::vector<Vec3> hull_corners(std::span<const Vec3> points) {
    const Mesh hull = convex_hull(points);
    const Array<Vec3>& all = *hull.positions;
    if (all.size() <= most_corners) return {all.begin(), all.end()};
    static const std::vector<DVec3> ways = even_ways(600);
    std::vector<std::size_t> farthest(ways.size(), 0);  // of all, for each way
    std::vector<double> reach(ways.size()), taken(ways.size(), -1e300);
    double size = 0;
    for (std::size_t w = 0; w < ways.size(); ++w) {
        for (std::size_t v = 1; v < all.size(); ++v)
            if (glm::dot(DVec3(all[v] - all[farthest[w]]), ways[w]) > 0) farthest[w] = v;
        reach[w] = glm::dot(DVec3(all[farthest[w]]), ways[w]);
        size = std::max(size, glm::distance(DVec3(all[farthest[w]]), DVec3(all[0])));
    }
    std::vector<Vec3> out;
    for (std::size_t w = 0; out.size() < most_corners;) {
        const Vec3 corner = all[farthest[w]];
        out.push_back(corner);
        for (std::size_t k = 0; k < ways.size(); ++k) {
            taken[k] = std::max(taken[k], glm::dot(DVec3(corner), ways[k]));
            if (reach[k] - taken[k] > reach[w] - taken[w]) w = k;
        }
        if (reach[w] - taken[w] < near_enough * size) break;
    }
    return out;
}

/// One hull, or at most so many convex pieces.
std::shared_ptr<const SettleForm> form_of(const Mesh& mesh, std::size_t parts) {
    auto form = std::make_shared<SettleForm>();
    if (parts > 0)
        for (const Mesh& hull : convex_pieces(mesh, parts)) form->push_back(hull_corners(*hull.positions));
    if (form->empty()) form->push_back(hull_corners(*mesh.positions));
    return form;
}

void add(SettleBodies& out, std::shared_ptr<const SettleForm> form, const glm::dmat4& place, SettleBodies::From from) {
    const bool solid = std::ranges::any_of(*form, [](const auto& part) { return part.size() >= 4; });
    if (!solid) {
        ++out.flat;
        return;
    }
    out.list.push_back({std::move(form), place, false});
    out.from.push_back(from);
}

}  // namespace

SettleBodies settle_bodies(const Shape& shape, std::size_t parts) {
    SettleBodies out;
    for (std::size_t g = 0; g < shape.instances.size(); ++g) {
        const Instances& group = shape.instances[g];
        const ShapePtr real = real_geometry(group.shape);
        const auto form = form_of(real->mesh, parts);
        for (std::size_t i = 0; i < group.count(); ++i) add(out, form, glm::dmat4(group.places[i]), {g, i, false});
    }
    if (shape.mesh.face_count() == 0) return out;
    out.pieces = pieces_of(shape.mesh);
    for (std::size_t i = 0; i < out.pieces.size(); ++i) {
        stop_point();
        add(out, form_of(only_faces(shape.mesh, out.pieces[i].faces), parts), glm::dmat4(1), {0, i, true});
    }
    return out;
}

SettleStill settle_still(Shape shape, bool hulls) {
    SettleStill out;
    if (hulls) {
        std::erase_if(shape.instances, [&](const Instances& group) {
            auto form = std::make_shared<SettleForm>();
            form->push_back(hull_corners(*real_geometry(group.shape)->mesh.positions));
            if (form->front().size() < 4) return false;  // too flat for a hull: its faces are felt
            for (const glm::mat4& place : group.places) out.bodies.push_back({form, glm::dmat4(place), true});
            return true;
        });
    }
    const ShapePtr real = real_geometry(std::make_shared<const Shape>(std::move(shape)));
    out.points.assign(real->mesh.positions->begin(), real->mesh.positions->end());
    const Triangles triangles = triangulated(real->mesh);
    for (const Index corner : triangles.corners) out.triangles.push_back(real->mesh.topology->corner_vertex[corner]);
    return out;
}

Shape put_down(const Shape& shape, const SettleBodies& bodies, const Settled& done) {
    Shape out = shape;
    std::vector<std::vector<std::uint8_t>> fallen_copies;
    for (const Instances& group : shape.instances) fallen_copies.emplace_back(group.count(), std::uint8_t(0));
    Array<Vec3> points = *shape.mesh.positions;
    Mask fallen_faces(shape.mesh.face_count(), 0);
    for (std::size_t b = 0; b < bodies.list.size(); ++b) {
        const SettleBodies::From& from = bodies.from[b];
        if (!from.piece) {
            out.instances[from.group].places[from.copy] = glm::mat4(done.places[b]);
            fallen_copies[from.group][from.copy] = done.fell[b];
            continue;
        }
        for (const Index f : bodies.pieces[from.copy].faces) {
            fallen_faces[f] = done.fell[b];
            for (const Index v : shape.mesh.topology->face(f))
                points[v] = Vec3(done.places[b] * glm::dvec4(DVec3((*shape.mesh.positions)[v]), 1));
        }
    }
    if (!bodies.pieces.empty()) {
        out.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
        for (const Domain domain : {Domain::vertex, Domain::corner})
            out.mesh.attributes.remove(domain, attribute_name::normal);  // they turned with their bodies
        if (std::ranges::find(fallen_faces, 1) != fallen_faces.end())
            out.mesh = without_faces(out.mesh, Selection(fallen_faces));
    }
    for (std::size_t g = 0; g < out.instances.size(); ++g) {
        std::vector<Index> stay;
        for (std::size_t i = 0; i < fallen_copies[g].size(); ++i)
            if (!fallen_copies[g][i]) stay.push_back(static_cast<Index>(i));
        if (stay.size() == fallen_copies[g].size()) continue;
        Instances rest;
        rest.shape = out.instances[g].shape;
        for (const Index i : stay) rest.places.push_back(out.instances[g].places[i]);
        out.instances[g].attributes.gather_into(rest.attributes, Domain::instance, stay);
        out.instances[g] = std::move(rest);
    }
    std::erase_if(out.instances, [](const Instances& group) { return group.places.empty(); });
    return out;
}

}  // namespace bricol
