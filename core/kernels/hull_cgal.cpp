// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/hull.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Surface_mesh.h>
#include <CGAL/convex_hull_3.h>
#include <algorithm>
#include <map>

#include "core/ground/disjoint_sets.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Hull = CGAL::Surface_mesh<Kernel::Point_3>;

/// CGAL walks its hulls by address, and cuts flat sides into triangles this way or that: each flat side becomes one
/// polygon again, and points and polygons are put in an order of their own, the same on every run.
std::vector<std::vector<Kernel::Point_3>> flat_sides(const Hull& hull) {
    DisjointSets sides(hull.number_of_faces() + hull.number_of_removed_faces());
    const auto flat = [&](Hull::Halfedge_index h) {
        const auto far = hull.target(hull.next(hull.opposite(h)));
        return CGAL::coplanar(hull.point(hull.source(h)), hull.point(hull.target(h)),
                              hull.point(hull.target(hull.next(h))), hull.point(far));
    };
    for (const auto e : hull.edges()) {
        const auto h = hull.halfedge(e);
        if (flat(h)) sides.join(hull.face(h), hull.face(hull.opposite(h)));
    }
    std::map<Index, std::map<Index, Hull::Halfedge_index>> rims;  // of each side, by where they start
    for (const auto h : hull.halfedges())
        if (sides.root(hull.face(h)) != sides.root(hull.face(hull.opposite(h))))
            rims[sides.root(hull.face(h))][hull.source(h)] = h;
    std::vector<std::vector<Kernel::Point_3>> out;
    for (const auto& [side, rim] : rims) {
        std::vector<Kernel::Point_3> loop;
        Index at = rim.begin()->first;
        do {
            loop.push_back(hull.point(Hull::Vertex_index(at)));
            at = hull.target(rim.at(at));
        } while (at != rim.begin()->first);
        std::vector<Kernel::Point_3> corners;
        for (std::size_t i = 0; i < loop.size(); ++i)
            if (!CGAL::collinear(loop[(i + loop.size() - 1) % loop.size()], loop[i], loop[(i + 1) % loop.size()]))
                corners.push_back(loop[i]);
        out.push_back(std::move(corners));
    }
    return out;
}

/// Points with every corner of their hull among them. CGAL does not ask whether it should stop: many points are hulled
/// a batch at a time first, and what lies within the hull of its batch is left out.
std::vector<Kernel::Point_3> outermost(std::span<const Vec3> points) {
    constexpr std::size_t batch = 20000;
    std::vector<Kernel::Point_3> out;
    for (std::size_t from = 0; from < points.size(); from += batch) {
        stop_point();
        std::vector<Kernel::Point_3> some;
        for (const Vec3& p : points.subspan(from, std::min(batch, points.size() - from)))
            some.emplace_back(p.x, p.y, p.z);
        Hull hull;
        if (points.size() > batch && some.size() > 3) CGAL::convex_hull_3(some.begin(), some.end(), hull);
        if (hull.number_of_faces() < 4) {  // all in one plane, or few: they all stay
            out.insert(out.end(), some.begin(), some.end());
            continue;
        }
        for (const auto v : hull.vertices()) out.push_back(hull.point(v));
    }
    return out;
}

}  // namespace

Mesh convex_hull(std::span<const Vec3> points) {
    const std::vector<Kernel::Point_3> at = outermost(points);
    Hull hull;
    if (at.size() < 4) return {};
    CGAL::convex_hull_3(at.begin(), at.end(), hull);
    if (hull.number_of_faces() < 4 || !CGAL::is_closed(hull)) return {};
    const std::vector<std::vector<Kernel::Point_3>> sides = flat_sides(hull);
    std::map<Kernel::Point_3, Index> number;  // CGAL's points are ordered by x, y and z
    for (const auto& side : sides)
        for (const Kernel::Point_3& p : side) number.emplace(p, 0);
    Array<Vec3> corners;
    for (auto& [p, n] : number) {
        n = static_cast<Index>(corners.size());
        corners.push_back(Vec3(p.x(), p.y(), p.z()));
    }
    std::vector<std::vector<Index>> faces;
    for (const auto& side : sides) {
        std::vector<Index> face;
        for (const Kernel::Point_3& p : side) face.push_back(number.at(p));
        std::ranges::rotate(face, std::ranges::min_element(face));
        faces.push_back(std::move(face));
    }
    std::ranges::sort(faces);
    Array<Index> offsets{0}, vertices;
    for (const auto& face : faces) {
        vertices.insert(vertices.end(), face.begin(), face.end());
        offsets.push_back(static_cast<Index>(vertices.size()));
    }
    const auto count = static_cast<Index>(corners.size());
    return Mesh(std::move(corners), make_topology(count, std::move(offsets), std::move(vertices)));
}

}  // namespace bricol
