// SPDX-License-Identifier: GPL-3.0-or-later
// The only file that includes CGAL's triangulations: it takes seconds to compile.
#include "core/kernels/triangulate.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <deque>

namespace bricol {

namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using VertexBase = CGAL::Triangulation_vertex_base_with_info_2<int, Kernel>;
using FaceInfo = CGAL::Triangulation_face_base_with_info_2<int, Kernel>;  // nesting: odd is inside
using FaceBase = CGAL::Constrained_triangulation_face_base_2<Kernel, FaceInfo>;
using Storage = CGAL::Triangulation_data_structure_2<VertexBase, FaceBase>;
using Triangulation =
    CGAL::Constrained_Delaunay_triangulation_2<Kernel, Storage,
                                               CGAL::No_constraint_intersection_requiring_constructions_tag>;

}  // namespace

std::vector<std::array<int, 3>> triangulate_polygon(const std::vector<DVec2>& loop) {
    auto triangles = triangulate_loops({loop});
    if (triangles.size() + 2 != loop.size()) triangles.clear();
    return triangles;
}

std::vector<std::array<int, 3>> triangulate_loops(const std::vector<std::vector<DVec2>>& loops) {
    std::vector<std::array<int, 3>> triangles;
    try {
        Triangulation triangulation;
        int number = 0;
        for (const auto& loop : loops) {
            std::vector<Triangulation::Vertex_handle> handles;
            for (const DVec2& p : loop) {
                const auto before = triangulation.number_of_vertices();
                handles.push_back(triangulation.insert({p.x, p.y}));
                if (triangulation.number_of_vertices() == before) return {};  // a repeated point: not a simple polygon
                handles.back()->info() = number++;
            }
            for (std::size_t i = 0; i < loop.size(); ++i)
                triangulation.insert_constraint(handles[i], handles[(i + 1) % loop.size()]);
        }

        if (triangulation.dimension() < 2) return {};  // everything in one line
        // Flood from the outside; crossing a side of the polygon changes in and out.
        for (auto face : triangulation.all_face_handles()) face->info() = -1;
        std::deque<Triangulation::Face_handle> queue{triangulation.infinite_face()};
        queue.front()->info() = 0;
        while (!queue.empty()) {
            const auto face = queue.front();
            queue.pop_front();
            for (int side = 0; side < 3; ++side) {
                const auto neighbour = face->neighbor(side);
                const bool wall = triangulation.is_constrained({face, side});
                if (neighbour->info() >= 0) continue;
                neighbour->info() = face->info() + wall;
                wall ? queue.push_back(neighbour) : queue.push_front(neighbour);
            }
        }
        for (auto face : triangulation.finite_face_handles())
            if (face->info() % 2 == 1)
                triangles.push_back({face->vertex(0)->info(), face->vertex(1)->info(), face->vertex(2)->info()});
    } catch (const std::exception&) {
        return {};
    }
    // CGAL's order of faces follows memory; ours follows the polygon, so that results repeat.
    for (auto& t : triangles) std::rotate(t.begin(), std::min_element(t.begin(), t.end()), t.end());
    std::sort(triangles.begin(), triangles.end());
    return triangles;
}

}  // namespace bricol
