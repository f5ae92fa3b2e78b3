// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/transform.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

#include "core/ground/stop.h"
#include "core/kernels/flatten.h"
#include "core/ground/parallel.h"
#include "core/shape/skeleton.h"

namespace bricol {

std::optional<Box> box_of(const Shape& shape) {
    std::optional<Box> box;
    const auto add = [&](const Vec3& p) {
        const DVec3 point(p);
        if (!box) box = Box{point, point};
        box->low = glm::min(box->low, point);
        box->high = glm::max(box->high, point);
    };
    if (const Array<Vec3>& points = *shape.mesh.positions; !points.empty()) {
        using Reach = std::pair<Vec3, Vec3>;
        const Reach reach = parallel::reduce(
            parallel::Numbers<std::size_t>(0, points.size(), 16384), Reach(points[0], points[0]),
            [&](const auto& range, Reach r) {
                for (std::size_t i = range.begin(); i != range.end(); ++i)
                    r.first = glm::min(r.first, points[i]), r.second = glm::max(r.second, points[i]);
                return r;
            },
            [](const Reach& a, const Reach& b) {
                return Reach(glm::min(a.first, b.first), glm::max(a.second, b.second));
            });
        add(reach.first);
        add(reach.second);
    }
    for (const Curve& curve : shape.curves)
        for (const Vec3& p : flatten(curve).points) add(p);
    for (const Instances& group : shape.instances) {
        // Thousands of copies of a large mesh: each is measured by the corners of its box, which may overstate it a
        // little when it is turned; few and small ones exactly.
        const Shape& one = *group.shape;
        const auto own = box_of(one);
        if (!own) continue;
        const bool exact =
            one.instances.empty() && one.curves.empty() && one.mesh.vertex_count() * group.count() <= 500000;
        for (const glm::mat4& place : group.places) {
            if (exact)
                for (const Vec3& p : *one.mesh.positions) add(Vec3(place * Vec4(p, 1)));
            else
                for (int corner = 0; corner < 8; ++corner)
                    add(Vec3(place * Vec4(corner & 1 ? own->high.x : own->low.x, corner & 2 ? own->high.y : own->low.y,
                                          corner & 4 ? own->high.z : own->low.z, 1)));
        }
    }
    return box;
}

namespace {

/// Joints go along and turn; girths of sticks are sized as roundings of corners are.
void turn_sticks(Mesh& mesh, const glm::dmat3& linear, const DVec3& move, double determinant) {
    if (mesh.skeleton) {
        Skeleton turned = *mesh.skeleton;
        const auto way = [&](const DVec3& v) {
            const DVec3 w = linear * v;
            return glm::length(w) > 0 ? glm::normalize(w) : v;
        };
        for (Joint& joint : turned.joints)
            joint.at = linear * joint.at + move, joint.along = way(joint.along), joint.across = way(joint.across);
        mesh.skeleton = std::make_shared<const Skeleton>(std::move(turned));
    }
    if (const auto* girths = mesh.attributes.values<Vec2>(Domain::vertex, stick_name::girth)) {
        Array<Vec2> sized = *girths;
        for (Vec2& girth : sized) girth *= static_cast<float>(std::cbrt(std::abs(determinant)));
        mesh.attributes.set(Domain::vertex, stick_name::girth, std::move(sized));
    }
}

}  // namespace

Shape transformed(const Shape& shape, const glm::dmat4& matrix) {
    Shape out = shape;
    const glm::dmat3 linear(matrix);
    const DVec3 move(matrix[3]);
    const bool mirrors = glm::determinant(linear) < 0;
    Array<Vec3> points(shape.mesh.vertex_count());
    parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 8192), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i)
            points[i] = Vec3(linear * DVec3((*shape.mesh.positions)[i]) + move);
    });
    out.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    if (mirrors) out.mesh = flipped(out.mesh);
    const double determinant = glm::determinant(linear);
    for (const Domain domain : {Domain::vertex, Domain::corner})
        if (const auto* normals = out.mesh.attributes.values<Vec3>(domain, attribute_name::normal)) {
            if (determinant == 0) {
                out.mesh.attributes.remove(domain, attribute_name::normal);
                continue;
            }
            // flipped() has negated them already when the matrix mirrors; the inverse transpose turns them back right.
            const glm::dmat3 turn = glm::transpose(glm::inverse(linear)) * (mirrors ? -1.0 : 1.0);
            Array<Vec3> turned(normals->size());
            for (std::size_t i = 0; i < turned.size(); ++i)
                turned[i] = Vec3(glm::normalize(turn * DVec3((*normals)[i])));
            out.mesh.attributes.set(domain, attribute_name::normal, std::move(turned));
        }
    turn_sticks(out.mesh, linear, move, determinant);
    for (Curve& curve : out.curves) {
        curve.source_step.clear();  // its knots no longer stand where they were drawn
        curve.knots = with_handles(curve);
        for (Knot& knot : curve.knots) {
            knot.at = Vec3(linear * DVec3(knot.at) + move);
            knot.in = Vec3(linear * DVec3(knot.in));
            knot.out = Vec3(linear * DVec3(knot.out));
            knot.fillet *= static_cast<float>(std::cbrt(std::abs(determinant)));
        }
    }
    for (Instances& group : out.instances)
        for (glm::mat4& place : group.places) place = glm::mat4(matrix * glm::dmat4(place));
    return out;
}

glm::dmat4 placement(const DVec3& move, const DVec3& turn, const DVec3& size, const DVec3& pivot) {
    glm::dmat4 matrix = glm::translate(glm::dmat4(1), pivot + move);
    matrix = glm::rotate(matrix, glm::radians(turn.z), DVec3(0, 0, 1));
    matrix = glm::rotate(matrix, glm::radians(turn.y), DVec3(0, 1, 0));
    matrix = glm::rotate(matrix, glm::radians(turn.x), DVec3(1, 0, 0));
    matrix = glm::scale(matrix, size);
    return glm::translate(matrix, -pivot);
}

DVec3 turn_of(const glm::dmat3& m) {
    const double sine = std::clamp(-m[0][2], -1.0, 1.0);
    if (std::abs(sine) > 1 - 1e-12) return {0, std::copysign(90.0, sine), glm::degrees(std::atan2(-m[1][0], m[1][1]))};
    return glm::degrees(DVec3(std::atan2(m[1][2], m[2][2]), std::asin(sine), std::atan2(m[0][1], m[0][0])));
}

Mesh flipped(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    auto turned = std::make_shared<Topology>();
    turned->vertex_count = t.vertex_count;
    turned->edges = t.edges;
    turned->face_offsets = t.face_offsets;
    turned->corner_vertex.resize(t.corner_count());
    turned->corner_edge.resize(t.corner_count());
    Array<Index> source(t.corner_count());
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        const Index begin = t.face_offsets[f], count = t.face_offsets[f + 1] - begin;
        for (Index i = 0; i < count; ++i) {
            const Index from = begin + (count - i) % count;  // the first corner stays first
            source[begin + i] = from;
            turned->corner_vertex[begin + i] = t.corner_vertex[from];
            turned->corner_edge[begin + i] = t.corner_edge[begin + (2 * count - i - 1) % count];
        }
    }
    Mesh out = mesh;
    out.topology = std::move(turned);
    out.attributes.remove_all(Domain::corner);
    mesh.attributes.gather_into(out.attributes, Domain::corner, source);
    for (const Domain domain : {Domain::vertex, Domain::corner})
        if (const auto* normals = out.attributes.values<Vec3>(domain, attribute_name::normal)) {
            Array<Vec3> negated(normals->size());
            for (std::size_t i = 0; i < negated.size(); ++i) negated[i] = -(*normals)[i];
            out.attributes.set(domain, attribute_name::normal, std::move(negated));
        }
    return out;
}

}  // namespace bricol
