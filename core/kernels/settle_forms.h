// SPDX-License-Identifier: GPL-3.0-or-later
// Bodies as their convex parts round their centre of mass, for the file that has Bullet.
#pragma once

#include <LinearMath/btConvexHullComputer.h>
#include <cmath>
#include <vector>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/settle.h"
#include "core/kernels/settle_corners.h"

namespace bricol::bodies {

/// A body's corners round its own middle, in sizes.
struct Form {
    std::vector<std::vector<btVector3>> parts;
    DVec3 middle{0};  ///< centre of mass in the world (metres)
    double volume = 0, radius = 0;
};

/// Volume and centre of mass of the hull of points, by tetrahedra.
struct Solid {
    double volume = 0;
    DVec3 moment{0};
};
inline Solid solid_of(const std::vector<DVec3>& points) {
    std::vector<btVector3> corners;
    for (const DVec3& p : points) corners.push_back(vector(p - points[0]));
    btConvexHullComputer hull;
    hull.compute(&corners[0].m_floats[0], sizeof(btVector3), static_cast<int>(corners.size()), 0, 0);
    Solid out;
    const auto at = [&](int v) { return DVec3(hull.vertices[v].x(), hull.vertices[v].y(), hull.vertices[v].z()); };
    for (int f = 0; f < hull.faces.size(); ++f) {
        const auto* first = &hull.edges[hull.faces[f]];
        const DVec3 a = at(first->getSourceVertex());
        for (const auto* edge = first->getNextEdgeOfFace(); edge->getTargetVertex() != first->getSourceVertex();
             edge = edge->getNextEdgeOfFace()) {
            const DVec3 b = at(edge->getSourceVertex()), c = at(edge->getTargetVertex());
            const double volume = std::abs(glm::dot(a, glm::cross(b, c))) / 6;
            out.volume += volume;
            out.moment += volume * ((a + b + c) / 4.0 + points[0]);
        }
    }
    return out;
}

inline Form form_of(const SettleBody& body) {
    Form out;
    DVec3 moment(0), mean(0);
    std::vector<std::vector<DVec3>> parts;
    std::size_t count = 0;
    for (const auto& part : *body.form) {
        if (part.size() < 4) continue;
        auto& points = parts.emplace_back();
        for (const Vec3& p : part) points.emplace_back(body.place * glm::dvec4(DVec3(p), 1));
        const Solid solid = solid_of(points);
        out.volume += solid.volume, moment += solid.moment;
        for (const DVec3& p : points) mean += p, ++count;
    }
    out.middle = out.volume > 0 ? moment / out.volume : count > 0 ? mean / static_cast<double>(count) : DVec3(0);
    for (const auto& points : parts) {
        auto& corners = out.parts.emplace_back();
        for (const DVec3& p : points) {
            corners.push_back(vector(p - out.middle));
            out.radius = std::max(out.radius, glm::distance(p, out.middle));
        }
    }
    return out;
}

inline std::vector<Form> forms_of(std::span<const SettleBody> bodies) {
    std::vector<Form> forms(bodies.size());
    parallel::each(std::size_t(0), bodies.size(), [&](std::size_t i) {
        stop_point();
        forms[i] = form_of(bodies[i]);
    });
    return forms;
}

}  // namespace bricol::bodies
