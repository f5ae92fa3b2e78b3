// SPDX-License-Identifier: GPL-3.0-or-later
// Where pinned places have gone.
#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>

#include "core/ground/stop.h"
#include "core/kernels/choose.h"
#include "core/kernels/measure.h"
#include "core/kernels/normals.h"

namespace bricol {

namespace {

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

/// The element whose middle lies nearest to a place, and how near the next one lies.
struct Nearest {
    Index element = no_index;
    double apart = 1e300, second = 1e300;
};

/// Looks for elements by their middles. Many places are looked up among middles in the order of x, per kind of element:
/// a search runs outwards from the wanted x and ends when nothing farther along can be nearer. A few look at every
/// middle, which is sooner done than sorting them.
class PlaceSearch {
public:
    PlaceSearch(const Mesh& mesh, std::size_t places) : mesh_(mesh), sorted_(places > 12), flat_(face_normals(mesh)) {}

    Nearest nearest(const Place& place, const DVec3& wanted) {
        const std::vector<Middle>& list = middles_of(place.element);
        Nearest found;
        const auto consider = [&](const Middle& middle) {
            const double apart = glm::distance(middle.at, wanted);
            if (apart > found.second || turned(place, middle.element)) return;
            if (apart < found.apart || (apart == found.apart && middle.element < found.element))
                found = {middle.element, apart, found.apart};
            else
                found.second = apart;
        };
        if (!sorted_) {
            for (std::size_t i = 0; i < list.size(); ++i) {
                stop_point(i);
                consider(list[i]);
            }
            return found;
        }
        auto after = std::ranges::lower_bound(list, wanted.x, {}, [](const Middle& m) { return m.at.x; });
        auto before = after;
        while (true) {
            const double left = before == list.begin() ? 1e300 : wanted.x - std::prev(before)->at.x,
                         right = after == list.end() ? 1e300 : after->at.x - wanted.x;
            if (std::min(left, right) > found.second || (left == 1e300 && right == 1e300)) return found;
            if (left <= right)
                consider(*--before);
            else
                consider(*after++);
        }
    }

private:
    struct Middle {
        DVec3 at;
        Index element;
    };

    /// Whether an element faces another way than it did: normals for faces, directions (either way) for edges.
    bool turned(const Place& place, std::size_t i) const {
        if (!place.facing || place.element == Domain::vertex) return false;
        if (place.element == Domain::face) return glm::dot(DVec3(flat_[i]), *place.facing) < 0.5;
        const auto& edge = mesh_.topology->edges[i];
        const DVec3 run = DVec3((*mesh_.positions)[edge[1]]) - DVec3((*mesh_.positions)[edge[0]]);
        const double length = glm::length(run);
        return length > 0 && std::abs(glm::dot(run / length, *place.facing)) < 0.5;
    }

    const std::vector<Middle>& middles_of(Domain element) {
        auto [at, fresh] = middles_.try_emplace(element);
        std::vector<Middle>& list = at->second;
        if (!fresh) return list;
        const std::size_t count = mesh_.domain_sizes()[static_cast<std::size_t>(element)];
        list.reserve(count);
        for (Index i = 0; i < count; ++i) {
            stop_point(i);
            list.push_back({middle_of(mesh_, element, i), i});
        }
        std::size_t compared = 0;
        if (sorted_)
            std::ranges::sort(list, [&](const Middle& m, const Middle& n) {
                stop_point(++compared);
                return std::tie(m.at.x, m.element) < std::tie(n.at.x, n.element);
            });
        return list;
    }

    const Mesh& mesh_;
    const bool sorted_;
    const Array<Vec3> flat_;
    std::map<Domain, std::vector<Middle>> middles_;
};

}  // namespace

FoundPlaces found_places(const Mesh& mesh, std::span<const Place> places, double tolerance) {
    FoundPlaces found;
    found.element.assign(places.size(), no_index);
    if (places.empty()) return found;
    Shape shape;
    shape.mesh = mesh;
    const std::optional<Box> box = box_of(shape);
    PlaceSearch search(mesh, places.size());
    for (std::size_t k = 0; k < places.size(); ++k) {
        const Place& place = places[k];
        if (place.number && *place.number < mesh.domain_sizes()[static_cast<std::size_t>(place.element)] &&
            place.topology == static_cast<std::uint32_t>(mesh.topology->content_hash())) {
            found.element[k] = *place.number;
            continue;
        }
        std::vector<DVec3> tries{place.at};
        if (place.share && box) tries.push_back(box->low + *place.share * box->size());
        // The share is tried second: most changes leave a picked place where it was.
        for (const DVec3& wanted : tries) {
            const Nearest best = search.nearest(place, wanted);
            if (best.element == no_index) continue;
            const double reach = reach_of(mesh, place.element, best.element);
            if (best.apart > tolerance * reach + 1e-9) continue;
            found.element[k] = best.element;
            if (best.apart > 1e-6 + 0.05 * reach && best.second < best.apart * 1.5) found.doubtful.push_back(k);
            break;
        }
        if (found.element[k] == no_index) found.lost.push_back(k);
    }
    return found;
}

}  // namespace bricol
