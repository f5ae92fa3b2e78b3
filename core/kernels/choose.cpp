// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/choose.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/kernels/bevel.h"
#include "core/kernels/normals.h"

namespace bricol {

namespace {

std::size_t count_in(const Mesh& mesh, Domain domain) { return mesh.domain_sizes()[static_cast<std::size_t>(domain)]; }

Mask where(const Mesh& mesh, Domain domain, const auto& inside) {
    Mask mask(count_in(mesh, domain));
    for (std::size_t i = 0; i < mask.size(); ++i) mask[i] = inside(middle_of(mesh, domain, i));
    return mask;
}

/// Mean length of the edges at an element: what "near" means there.
double reach_of(const Mesh& mesh, Domain domain, std::size_t element) {
    const Topology& t = *mesh.topology;
    const auto length = [&](Index e) {
        return static_cast<double>(glm::distance((*mesh.positions)[t.edges[e][0]], (*mesh.positions)[t.edges[e][1]]));
    };
    double sum = 0;
    std::size_t n = 0;
    if (domain == Domain::edge) return length(static_cast<Index>(element));
    if (domain == Domain::face)
        for (Index c = t.face_offsets[element]; c < t.face_offsets[element + 1]; ++c)
            sum += length(t.corner_edge[c]), ++n;
    else
        for (const Index e : t.adjacency().edges_of_vertex(static_cast<Index>(element))) sum += length(e), ++n;
    return n > 0 ? sum / static_cast<double>(n) : 0;
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
    for (Index e = 0; e < mask.size(); ++e) mask[e] = near.faces_of_edge(e).size() == 1;
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
            for (Index e = 0; e < edges.size(); ++e)
                if (edges[e])
                    for (const Index f : near.faces_of_edge(e)) mask[f] = 1;
        } else {
            const Mask vertices = turned_over(mesh, mask, domain, Domain::vertex);
            if (domain == Domain::edge) {
                for (Index e = 0; e < mask.size(); ++e) mask[e] = vertices[t.edges[e][0]] || vertices[t.edges[e][1]];
            } else {
                Mask next = mask;
                for (const auto& [a, b] : t.edges) next[a] |= mask[b], next[b] |= mask[a];
                mask = std::move(next);
            }
        }
    }
    return mask;
}

Mask shrunk(const Mesh& mesh, Domain domain, Mask mask, int rounds) {
    for (std::uint8_t& b : mask) b = !b;
    mask = grown(mesh, domain, std::move(mask), rounds);
    for (std::uint8_t& b : mask) b = !b;
    return mask;
}

FoundPlaces found_places(const Mesh& mesh, std::span<const Place> places, double tolerance) {
    FoundPlaces found;
    found.element.assign(places.size(), no_index);
    if (places.empty()) return found;
    Shape shape;
    shape.mesh = mesh;
    const std::optional<Box> box = box_of(shape);
    const Array<Vec3> flat = face_normals(mesh);
    const Topology& t = *mesh.topology;
    // How well an element faces the way it did: normals for faces, directions (either way) for edges.
    const auto turned = [&](const Place& place, std::size_t i) {
        if (!place.facing || place.element == Domain::vertex) return false;
        if (place.element == Domain::face) return glm::dot(DVec3(flat[i]), *place.facing) < 0.5;
        const DVec3 run = DVec3((*mesh.positions)[t.edges[i][1]]) - DVec3((*mesh.positions)[t.edges[i][0]]);
        const double length = glm::length(run);
        return length > 0 && std::abs(glm::dot(run / length, *place.facing)) < 0.5;
    };
    // Middles in the order of x, per kind of element that is asked for: a search runs outwards from the wanted x and
    // ends when nothing farther along can be nearer.
    struct Middle {
        DVec3 at;
        Index element;
    };
    std::map<Domain, std::vector<Middle>> middles;
    for (const Place& place : places) {
        auto [list, fresh] = middles.try_emplace(place.element);
        if (!fresh) continue;
        for (Index i = 0; i < count_in(mesh, place.element); ++i)
            list->second.push_back({middle_of(mesh, place.element, i), i});
        std::ranges::stable_sort(list->second, {}, [](const Middle& m) { return m.at.x; });
    }
    for (std::size_t k = 0; k < places.size(); ++k) {
        const Place& place = places[k];
        if (place.number && *place.number < count_in(mesh, place.element) &&
            place.topology == static_cast<std::uint32_t>(t.content_hash())) {
            found.element[k] = *place.number;
            continue;
        }
        const std::vector<Middle>& list = middles[place.element];
        std::vector<DVec3> tries{place.at};
        if (place.share && box) tries.push_back(box->low + *place.share * box->size());
        // The share is tried second: most changes leave a picked place where it was.
        for (const DVec3& wanted : tries) {
            double nearest = 1e300, second = 1e300;
            Index best = no_index;
            const auto consider = [&](const Middle& middle) {
                const double distance = glm::distance(middle.at, wanted);
                if (distance > second || turned(place, middle.element)) return;
                if (distance < nearest || (distance == nearest && middle.element < best)) {
                    second = nearest;
                    nearest = distance;
                    best = middle.element;
                } else {
                    second = distance;
                }
            };
            auto after = std::ranges::lower_bound(list, wanted.x, {}, [](const Middle& m) { return m.at.x; });
            auto before = after;
            while (true) {
                const double left = before == list.begin() ? 1e300 : wanted.x - std::prev(before)->at.x,
                             right = after == list.end() ? 1e300 : after->at.x - wanted.x;
                if (std::min(left, right) > second || (left == 1e300 && right == 1e300)) break;
                if (left <= right)
                    consider(*--before);
                else
                    consider(*after++);
            }
            if (best == no_index) continue;
            const double reach = reach_of(mesh, place.element, best);
            if (nearest > tolerance * reach + 1e-9) continue;
            found.element[k] = best;
            if (nearest > 1e-6 + 0.05 * reach && second < nearest * 1.5) found.doubtful.push_back(k);
            break;
        }
        if (found.element[k] == no_index) found.lost.push_back(k);
    }
    return found;
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
