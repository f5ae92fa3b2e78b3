// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/remesh.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <optional>

#include "core/ground/box.h"
#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/even_triangles.h"
#include "core/kernels/normals.h"
#include "core/kernels/surface_finder.h"
#include "core/kernels/triangulate.h"

namespace bricol {

/// A cut across a polygon may run where another edge runs already; there the surface would have
/// an edge of four faces, so the cut gets a point in its middle.
RemeshTriangles remesh_soup(const Mesh& mesh, const Triangles& cut, std::vector<Index>& number) {
    const Topology& t = *mesh.topology;
    RemeshTriangles soup;
    std::vector<Index> face;
    number.assign(t.vertex_count, no_index);
    const auto key = [](Index a, Index b) { return std::uint64_t(std::min(a, b)) << 32 | std::max(a, b); };
    std::vector<std::uint64_t> uses;
    uses.reserve(3 * cut.count());
    const Array<Vec3> normals = face_normals(mesh);
    for (std::size_t i = 0; i < cut.count(); ++i) {
        stop_point(i);
        std::array<Index, 3> triangle{};
        for (std::size_t k = 0; k < 3; ++k) {
            const Index v = t.corner_vertex[cut.corners[3 * i + k]];
            if (number[v] == no_index) {
                number[v] = static_cast<Index>(soup.points.size());
                soup.points.emplace_back((*mesh.positions)[v]);
            }
            triangle[k] = number[v];
        }
        for (std::size_t k = 0; k < 3; ++k) uses.push_back(key(triangle[k], triangle[(k + 1) % 3]));
        soup.triangles.push_back(triangle);
        face.push_back(cut.face[i]);
        soup.face_normals.emplace_back(normals[cut.face[i]]);
    }
    // Edges of more than two triangles: few, or none.
    std::size_t compared = 0;
    std::ranges::sort(uses, [&compared](std::uint64_t a, std::uint64_t b) {
        stop_point(++compared);
        return a < b;
    });
    std::vector<std::uint64_t> crowded;
    for (std::size_t i = 0; i + 2 < uses.size(); ++i)
        if (uses[i] == uses[i + 2] && (crowded.empty() || crowded.back() != uses[i])) crowded.push_back(uses[i]);
    if (crowded.empty()) return soup;
    // Edges of each face, to know a cut from them.
    const auto is_cut = [&](Index f, Index a, Index b) {
        const auto loop = t.face(f);
        for (std::size_t k = 0; k < loop.size(); ++k)
            if (key(number[loop[k]], number[loop[(k + 1) % loop.size()]]) == key(a, b)) return false;
        return true;
    };
    std::map<std::pair<std::uint64_t, Index>, Index> middles;  // of a cut in a face
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        stop_point(i);
        for (std::size_t k = 0; k < 3; ++k) {
            const std::array<Index, 3> triangle = soup.triangles[i];
            const Index a = triangle[k], b = triangle[(k + 1) % 3], c = triangle[(k + 2) % 3], f = face[i];
            if (!std::ranges::binary_search(crowded, key(a, b)) || t.face(f).size() == 3 || !is_cut(f, a, b)) continue;
            const auto [middle, fresh] = middles.try_emplace({key(a, b), f}, static_cast<Index>(soup.points.size()));
            if (fresh) soup.points.push_back((soup.points[a] + soup.points[b]) * 0.5);
            soup.triangles[i] = {a, middle->second, c};
            soup.triangles.push_back({middle->second, b, c});
            face.push_back(f);
            soup.face_normals.emplace_back(normals[f]);
            k = static_cast<std::size_t>(-1);  // its other sides are looked at anew
        }
    }
    return soup;
}

RemeshExtent remesh_extent(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    RemeshExtent out;
    const Array<Vec3> normals = face_normals(mesh);
    Box box = Box::nothing();
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        const auto loop = t.face(f);
        DVec3 sum(0);
        double longest = 0;
        const DVec3 first(p[loop[0]]);
        for (std::size_t k = 0; k < loop.size(); ++k) {
            const DVec3 a(p[loop[k]]), b(p[loop[(k + 1) % loop.size()]]);
            sum += glm::cross(a - first, b - first);
            longest = std::max(longest, glm::distance(a, b));
            box.add(a);
        }
        out.area += glm::length(sum) / 2;
        out.longest.push_back(longest);
    }
    std::size_t compared = 0;
    std::ranges::sort(out.longest, [&compared](double a, double b) {
        stop_point(++compared);
        return a > b;
    });
    if (t.face_count() == 0) return out;
    for (const double side : {box.size().x, box.size().y, box.size().z})
        if (side > 1e-6 * glm::length(box.size())) out.thinnest = std::min(out.thinnest, side);
    return out;
}

double RemeshExtent::faces(double edge) const {
    // An even triangle of edge a has the area a^2 * sqrt(3) / 4. A face thinner than that is cut along its length only.
    double along = 0;
    for (const double length : longest) {
        if (length <= edge * 4 / 3) break;
        along += 2 * length / edge;
    }
    return std::max(area / (edge * edge * 0.433), along);
}

double RemeshExtent::fitting_edge() const {
    const auto for_faces = [&](double count) { return std::sqrt(area / (0.433 * count)); };
    const double edge = std::max(std::min(for_faces(4000), thinnest), for_faces(50000));
    const double step = std::pow(10, std::floor(std::log10(edge)) - 1);
    return std::round(edge / step) * step;
}

std::vector<std::array<Index, 2>> remesh_held_edges(const Topology& topology, std::span<const Index> edges,
                                                    const std::vector<Index>& point_of) {
    std::vector<std::array<Index, 2>> out;
    for (const Index e : edges) {
        const Index a = point_of[topology.edges[e][0]], b = point_of[topology.edges[e][1]];
        if (a != no_index && b != no_index) out.push_back({std::min(a, b), std::max(a, b)});
    }
    std::ranges::sort(out);
    return out;
}

RemeshResult remeshed(const Mesh& mesh, RemeshOptions options, std::span<const Index> held, const RemeshSizes& sizes) {
    RemeshResult result;
    const Triangles cut = triangulated(mesh);
    std::vector<Index> point_of;
    RemeshTriangles soup = remesh_soup(mesh, cut, point_of);
    options.held_edges = remesh_held_edges(*mesh.topology, held, point_of);
    const bool twice = sizes.by != RemeshSizes::By::even;
    if (twice) options.share_behind = 0.5;
    EvenTriangles work;
    std::optional<SurfaceFinder> finder;  // its tree grows on one thread, beside the first round
    bool good = false;
    parallel::together([&] { finder.emplace(mesh); }, [&] { good = remesh_cut(work, soup, options); });
    const SurfaceFinder& surface = *finder;
    if (!good) {
        result.refused = true;
        result.mesh = mesh;
        return result;
    }
    remesh_rest(work, options, surface);
    if (twice) {
        options.share_before = 0.5, options.share_behind = 1;
        options.lengths = remesh_sizes(work, sizes, options.edge, surface);
        remesh_further(work, options, surface);
    }
    soup = remesh_soup(work);
    Array<Vec3> points(soup.points.size());
    for (std::size_t i = 0; i < points.size(); ++i) points[i] = Vec3(soup.points[i]);
    Array<Index> offsets{0}, corners;
    for (const auto& triangle : soup.triangles) {
        stop_point(offsets.size());
        corners.insert(corners.end(), triangle.begin(), triangle.end());
        offsets.push_back(static_cast<Index>(corners.size()));
    }
    const auto count = static_cast<Index>(points.size());
    result.mesh = with_attributes_from(
        Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners))), surface);
    return result;
}

}  // namespace bricol
