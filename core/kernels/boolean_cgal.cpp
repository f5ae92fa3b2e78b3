// SPDX-License-Identifier: GPL-3.0-or-later
// The only file that includes CGAL's corefinement: it takes half a minute and 1.6 GB to compile.
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/clip.h>
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/orientation.h>
#include <CGAL/Random.h>
#include <CGAL/Surface_mesh.h>
#include <CGAL/box_intersection_d.h>
#include <algorithm>
#include <numeric>

#include "core/kernels/boolean.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

namespace PMP = CGAL::Polygon_mesh_processing;
using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Surface = CGAL::Surface_mesh<Kernel::Point_3>;
using FaceTag = Surface::Property_map<Surface::Face_index, Index>;

/// Hands every piece the number of the triangle it was cut from.
struct Inherit : PMP::Corefinement::Default_visitor<Surface> {
    struct Known {
        const Surface* mesh;
        FaceTag tags;
    };
    explicit Inherit(std::array<Known, 2>* meshes) : known(meshes) {}
    FaceTag& of(const Surface& mesh) { return (*known)[&mesh == (*known)[0].mesh ? 0 : 1].tags; }
    void before_subface_creations(Surface::Face_index f, Surface& mesh) { tag = of(mesh)[f]; }
    void after_subface_created(Surface::Face_index f, Surface& mesh) { of(mesh)[f] = tag; }
    void after_face_copy(Surface::Face_index from, const Surface& source, Surface::Face_index to, Surface& target) {
        of(target)[to] = of(source)[from];
    }
    std::array<Known, 2>* known;  // CGAL copies visitors
    Index tag = no_index;
};

/// CGAL's box sweep draws lots; from the same seed it numbers what it finds the same way on every run and thread.
void start_alike() { CGAL::get_default_random() = CGAL::Random(1); }

Surface surface_of(const TaggedTriangles& soup) {
    Surface mesh;
    mesh.reserve(static_cast<Surface::size_type>(soup.points.size()),
                 static_cast<Surface::size_type>(soup.triangles.size() * 3 / 2),
                 static_cast<Surface::size_type>(soup.triangles.size()));
    auto tags = mesh.add_property_map<Surface::Face_index, Index>("f:tag", no_index).first;
    for (const DVec3& p : soup.points) mesh.add_vertex({p.x, p.y, p.z});
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        const auto& [a, b, c] = soup.triangles[i];
        const auto f = mesh.add_face(Surface::Vertex_index(a), Surface::Vertex_index(b), Surface::Vertex_index(c));
        if (f == Surface::null_face()) return {};
        tags[f] = soup.tags[i];
    }
    return mesh;
}

/// The same triangles numbered by where they are: CGAL's own numbers differ from run to run.
TaggedTriangles in_order(const TaggedTriangles& soup) {
    std::vector<Index> order(soup.points.size()), number(soup.points.size());
    std::iota(order.begin(), order.end(), 0);
    const auto key = [&](Index i) { return std::tie(soup.points[i].x, soup.points[i].y, soup.points[i].z); };
    std::sort(order.begin(), order.end(), [&](Index a, Index b) { return key(a) < key(b); });
    TaggedTriangles sorted;
    for (const Index i : order) {
        number[i] = static_cast<Index>(sorted.points.size());
        sorted.points.push_back(soup.points[i]);
    }
    std::vector<std::pair<Index, std::array<Index, 3>>> faces;
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        std::array<Index, 3> t = {number[soup.triangles[i][0]], number[soup.triangles[i][1]],
                                  number[soup.triangles[i][2]]};
        std::rotate(t.begin(), std::min_element(t.begin(), t.end()), t.end());
        faces.emplace_back(soup.tags[i], t);
    }
    std::sort(faces.begin(), faces.end());
    for (const auto& [tag, triangle] : faces) {
        sorted.tags.push_back(tag);
        sorted.triangles.push_back(triangle);
    }
    return sorted;
}

TaggedTriangles soup_of(const Surface& mesh, const FaceTag& tags) {
    TaggedTriangles soup;
    std::vector<Index> number(mesh.num_vertices() + mesh.number_of_removed_vertices(), no_index);
    for (const auto f : mesh.faces()) {
        std::array<Index, 3> triangle{};
        int k = 0;
        for (const auto v : mesh.vertices_around_face(mesh.halfedge(f))) {
            Index& n = number[v.idx()];
            if (n == no_index) {
                n = static_cast<Index>(soup.points.size());
                const auto& p = mesh.point(v);
                soup.points.emplace_back(p.x(), p.y(), p.z());
            }
            triangle[k++] = n;
        }
        soup.triangles.push_back(triangle);
        soup.tags.push_back(tags[f]);
    }
    return in_order(soup);
}

}  // namespace

std::optional<TaggedTriangles> boolean_of_triangles(const TaggedTriangles& first, const TaggedTriangles& second,
                                                    BooleanKind kind) {
    start_alike();
    try {
        Surface a = surface_of(first), b = surface_of(second);
        if ((a.is_empty() && !first.triangles.empty()) || (b.is_empty() && !second.triangles.empty()))
            return std::nullopt;
        std::array<Inherit::Known, 2> known = {{{&a, a.property_map<Surface::Face_index, Index>("f:tag").first},
                                                {&b, b.property_map<Surface::Face_index, Index>("f:tag").first}}};
        // Corefinement of surfaces that cross themselves where they meet the other one would run into the open: CGAL is
        // told to look there and give up.
        const auto options = CGAL::parameters::visitor(Inherit(&known)).throw_on_self_intersection(true);
        const auto other = CGAL::parameters::throw_on_self_intersection(true);
        const bool good = kind == BooleanKind::unite ? PMP::corefine_and_compute_union(a, b, a, options, other)
                          : kind == BooleanKind::subtract
                              ? PMP::corefine_and_compute_difference(a, b, a, options, other)
                              : PMP::corefine_and_compute_intersection(a, b, a, options, other);
        if (!good) return std::nullopt;
        return soup_of(a, known[0].tags);
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

std::optional<std::array<RefinedTriangles, 2>> corefined_triangles(const TaggedTriangles& first,
                                                                   const TaggedTriangles& second) {
    start_alike();
    try {
        std::array<Surface, 2> surfaces = {surface_of(first), surface_of(second)};
        Surface &a = surfaces[0], &b = surfaces[1];
        if (a.is_empty() || b.is_empty()) return std::nullopt;
        std::array<Inherit::Known, 2> known = {{{&a, a.property_map<Surface::Face_index, Index>("f:tag").first},
                                                {&b, b.property_map<Surface::Face_index, Index>("f:tag").first}}};
        const auto lines_a = a.add_property_map<Surface::Edge_index, bool>("e:line", false).first,
                   lines_b = b.add_property_map<Surface::Edge_index, bool>("e:line", false).first;
        PMP::corefine(a, b,
                      CGAL::parameters::visitor(Inherit(&known))
                          .edge_is_constrained_map(lines_a)
                          .throw_on_self_intersection(true),
                      CGAL::parameters::edge_is_constrained_map(lines_b).throw_on_self_intersection(true));
        std::array<RefinedTriangles, 2> out;
        for (int s = 0; s < 2; ++s) {
            const Surface& mesh = surfaces[s];
            if (mesh.has_garbage()) return std::nullopt;  // numbers would not hold
            TaggedTriangles& soup = out[s].soup;
            for (const auto v : mesh.vertices())
                soup.points.emplace_back(mesh.point(v).x(), mesh.point(v).y(), mesh.point(v).z());
            for (const auto f : mesh.faces()) {
                std::array<Index, 3> triangle{};
                int k = 0;
                for (const auto v : mesh.vertices_around_face(mesh.halfedge(f))) triangle[k++] = v.idx();
                soup.triangles.push_back(triangle);
                soup.tags.push_back(known[s].tags[f]);
            }
            const auto& lines = s == 0 ? lines_a : lines_b;
            for (const auto e : mesh.edges())
                if (lines[e]) out[s].lines.push_back({mesh.vertex(e, 0).idx(), mesh.vertex(e, 1).idx()});
        }
        return out;
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

std::optional<TaggedTriangles> sheet_cut_triangles(const TaggedTriangles& sheet, const TaggedTriangles& solid,
                                                   bool keep_inside) {
    start_alike();
    try {
        Surface a = surface_of(sheet), b = surface_of(solid);
        if (a.is_empty() || b.is_empty()) return std::nullopt;
        if (!keep_inside) PMP::reverse_face_orientations(b);
        std::array<Inherit::Known, 2> known = {{{&a, a.property_map<Surface::Face_index, Index>("f:tag").first},
                                                {&b, b.property_map<Surface::Face_index, Index>("f:tag").first}}};
        const bool good = PMP::clip(
            a, b, CGAL::parameters::clip_volume(false).visitor(Inherit(&known)).throw_on_self_intersection(true),
            CGAL::parameters::throw_on_self_intersection(true));
        if (!good) return std::nullopt;
        return soup_of(a, known[0].tags);
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

std::vector<std::array<Index, 2>> crossing_faces(const Mesh& mesh, std::size_t most) {
    using Triangle = Kernel::Triangle_3;
    using Box = CGAL::Box_intersection_d::Box_with_info_d<double, 3, Index>;
    const Triangles all = triangulated(mesh);
    // Every triangle is drawn in by a thousandth towards its middle: neighbours, T-shaped touches and what rounding
    // does to thin triangles are no crossings then.
    std::vector<Triangle> triangles;
    std::vector<Box> boxes;
    for (Index i = 0; i < all.count(); ++i) {
        std::array<DVec3, 3> p;
        for (std::size_t k = 0; k < 3; ++k)
            p[k] = DVec3((*mesh.positions)[mesh.topology->corner_vertex[all.corners[3 * i + k]]]);
        const DVec3 middle = (p[0] + p[1] + p[2]) / 3.0;
        for (DVec3& q : p) q += (middle - q) * 1e-3;
        triangles.emplace_back(Kernel::Point_3(p[0].x, p[0].y, p[0].z), Kernel::Point_3(p[1].x, p[1].y, p[1].z),
                               Kernel::Point_3(p[2].x, p[2].y, p[2].z));
        if (!triangles.back().is_degenerate()) boxes.emplace_back(triangles.back().bbox(), i);
    }
    std::vector<std::array<Index, 2>> pairs;
    struct Enough {};
    const auto look = [&](const Box& x, const Box& y) {
        const Index i = x.info(), j = y.info();
        if (all.face[i] == all.face[j] || !CGAL::do_intersect(triangles[i], triangles[j])) return;
        pairs.push_back({std::min(all.face[i], all.face[j]), std::max(all.face[i], all.face[j])});
        if (pairs.size() >= most) throw Enough();
    };
    start_alike();
    try {
        CGAL::box_self_intersection_d(boxes.begin(), boxes.end(), look);
    } catch (const Enough&) {
    }
    std::sort(pairs.begin(), pairs.end());
    pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
    return pairs;
}

}  // namespace bricol
