// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/choose.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/ground/stop.h"
#include "core/kernels/bevel.h"
#include "core/kernels/normals.h"

namespace bricol {

namespace {

std::size_t count_in(const Mesh& mesh, Domain domain) { return mesh.domain_sizes()[static_cast<std::size_t>(domain)]; }

Mask where(const Mesh& mesh, Domain domain, const auto& inside) {
    Mask mask(count_in(mesh, domain));
    for (std::size_t i = 0; i < mask.size(); ++i) {
        stop_point(i);
        mask[i] = inside(middle_of(mesh, domain, i));
    }
    return mask;
}

}  // namespace

DVec3 middle_of(const Mesh& mesh, Domain domain, std::size_t element) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    if (domain == Domain::vertex) return DVec3(p[element]);
    if (domain == Domain::edge) return (DVec3(p[t.edges[element][0]]) + DVec3(p[t.edges[element][1]])) * 0.5;
    DVec3 sum(0);
    const auto face = t.face(element);
    for (const Index v : face) sum += DVec3(p[v]);
    return sum / static_cast<double>(face.size());
}

Mask in_box(const Mesh& mesh, Domain domain, const Box& box) {
    return where(mesh, domain, [&](const DVec3& m) {
        return glm::all(glm::greaterThanEqual(m, box.low)) && glm::all(glm::lessThanEqual(m, box.high));
    });
}

Mask in_ball(const Mesh& mesh, Domain domain, const DVec3& centre, double radius) {
    return where(mesh, domain, [&](const DVec3& m) { return glm::distance(m, centre) <= radius; });
}

Mask facing(const Mesh& mesh, const DVec3& direction, double degrees) {
    const Array<Vec3> flat = face_normals(mesh);
    Mask mask(flat.size(), 0);
    const double length = glm::length(direction), cosine = std::cos(glm::radians(degrees)) - 1e-9;
    if (length > 0)
        for (std::size_t f = 0; f < flat.size(); ++f)
            mask[f] = flat[f] != Vec3(0) && glm::dot(DVec3(flat[f]), direction) >= cosine * length;
    return mask;
}

Mask sharp_edges(const Mesh& mesh, double degrees, Turn turn) {
    const Array<float> angles = edge_angles(mesh);
    Mask mask(angles.size());
    for (std::size_t e = 0; e < mask.size(); ++e) {
        const bool side = turn == Turn::both || (angles[e] > 0) == (turn == Turn::convex);
        mask[e] = side && std::abs(angles[e]) > degrees;
    }
    return mask;
}

Mask farthest_along(const Mesh& mesh, Domain domain, const DVec3& direction, double near) {
    const std::size_t count = mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    Mask out(count, 0);
    if (glm::length(direction) == 0) return out;
    const DVec3 way = glm::normalize(direction);
    std::vector<double> along(count);
    double most = -std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < count; ++i) {
        stop_point(i);
        along[i] = glm::dot(middle_of(mesh, domain, i), way);
        most = std::max(most, along[i]);
    }
    for (std::size_t i = 0; i < count; ++i) out[i] = along[i] >= most - near - 1e-9;
    return out;
}

Mask open_edges(const Mesh& mesh) {
    Mask mask(mesh.edge_count());
    const Adjacency& near = mesh.topology->adjacency();
    for (Index e = 0; e < mask.size(); ++e) {
        stop_point(e);
        mask[e] = near.faces_of_edge(e).size() == 1;
    }
    return mask;
}

Mask every_nth(std::size_t count, int n, int first) {
    Mask mask(count);
    const auto step = static_cast<std::size_t>(std::max(1, n)), start = static_cast<std::size_t>(std::max(0, first));
    for (std::size_t i = 0; i < count; ++i) mask[i] = i >= start && (i - start) % step == 0;
    return mask;
}

Mask grown(const Mesh& mesh, Domain domain, Mask mask, int rounds) {
    const Topology& t = *mesh.topology;
    for (int r = 0; r < rounds; ++r) {
        if (domain == Domain::face) {
            const Mask edges = turned_over(mesh, mask, Domain::face, Domain::edge);
            const Adjacency& near = t.adjacency();
            for (Index e = 0; e < edges.size(); ++e) {
                stop_point(e);
                if (edges[e])
                    for (const Index f : near.faces_of_edge(e)) mask[f] = 1;
            }
        } else {
            const Mask vertices = turned_over(mesh, mask, domain, Domain::vertex);
            if (domain == Domain::edge) {
                for (Index e = 0; e < mask.size(); ++e) {
                    stop_point(e);
                    mask[e] = vertices[t.edges[e][0]] || vertices[t.edges[e][1]];
                }
            } else {
                Mask next = mask;
                for (std::size_t e = 0; e < t.edges.size(); ++e) {
                    stop_point(e);
                    const auto [a, b] = t.edges[e];
                    next[a] |= mask[b], next[b] |= mask[a];
                }
                mask = std::move(next);
            }
        }
    }
    return mask;
}

Mask shrunk(const Mesh& mesh, Domain domain, Mask mask, int rounds) {
    for (std::uint8_t& b : mask) b = !b;
    stop_point();
    mask = grown(mesh, domain, std::move(mask), rounds);
    stop_point();
    for (std::uint8_t& b : mask) b = !b;
    return mask;
}

Pinner::Pinner(const Mesh& mesh) : mesh_(mesh), flat_(face_normals(mesh)) {
    Shape shape;
    shape.mesh = mesh;
    box_ = box_of(shape);
}

Place Pinner::pinned(Domain domain, Index element) const {
    Place place;
    place.element = domain;
    place.at = middle_of(mesh_, domain, element);
    place.number = element;
    place.topology = static_cast<std::uint32_t>(mesh_.topology->content_hash());
    if (box_) {
        const DVec3 size = box_->size();
        DVec3 share(0);
        for (int i = 0; i < 3; ++i) share[i] = size[i] > 0 ? (place.at[i] - box_->low[i]) / size[i] : 0.5;
        place.share = share;
    }
    if (domain == Domain::face) {
        place.facing = DVec3(flat_[element]);
    } else if (domain == Domain::edge) {
        const auto& [a, b] = mesh_.topology->edges[element];
        const DVec3 run = DVec3((*mesh_.positions)[b]) - DVec3((*mesh_.positions)[a]);
        if (glm::length(run) > 0) place.facing = glm::normalize(run);
    }
    return place;
}

}  // namespace bricol
