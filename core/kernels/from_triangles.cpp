// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/from_triangles.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <optional>
#include <utility>
#include <xxhash.h>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/merge_faces.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/uv_plane.h"

namespace bricol {

namespace {

/// Adding 0 makes -0 the same as 0.
Vec3 place_key(const Vec3& p) { return p + Vec3(0); }

/// Places of a mesh's vertices, in a table of twice their number. Each goes by the number of the first vertex there.
class KnownPlaces {
public:
    explicit KnownPlaces(const Array<Vec3>& points)
        : points_(points), first_(std::bit_ceil(2 * points.size() + 1), no_index), number_(points.size()) {
        for (Index v = 0; v < points.size(); ++v) {
            stop_point(v);
            Index& slot = first_[slot_of(points[v])];
            if (slot == no_index) slot = v;
            number_[v] = slot;
        }
    }
    /// no_index where there is no vertex.
    Index number(const Vec3& place) const { return first_[slot_of(place)]; }
    Index number_of_vertex(Index v) const { return number_[v]; }

private:
    /// Where the place stands, or would.
    std::size_t slot_of(const Vec3& place) const {
        const Vec3 key = place_key(place);
        std::size_t slot = XXH3_64bits(&key, sizeof key) & (first_.size() - 1);
        while (first_[slot] != no_index && place_key(points_[first_[slot]]) != key)
            slot = (slot + 1) & (first_.size() - 1);
        return slot;
    }
    const Array<Vec3>& points_;
    std::vector<Index> first_;
    Array<Index> number_;
};

DVec3 unit_normal(const DVec3& a, const DVec3& b, const DVec3& c) {
    const DVec3 n = glm::cross(b - a, c - a);
    const double length = glm::length(n);
    return length > 0 ? n / length : DVec3(0);
}

/// The planes of a mesh's faces. A face that is not flat is several: its pieces are joined plane by plane, so that the
/// surface stays where it was.
class FacePlanes {
public:
    explicit FacePlanes(const Mesh& mesh) : mesh_(mesh), range_(mesh.face_count(), {0, 0}) {}
    /// The plane of a face that a piece lies in; the first of equal ones, so that a flat face is one plane.
    Index nearest(Index f, const DVec3& normal) {
        if (range_[f][1] == 0) work_out(f);
        const auto [first, end] = range_[f];
        std::size_t best = first;
        double nearest = -2;
        for (std::size_t i = first; end - first > 1 && i < end; ++i)
            if (const double along = std::abs(glm::dot(normal_[i], normal)); along > nearest + 1e-9)
                nearest = along, best = i;
        return static_cast<Index>(same_as_[best]);
    }

private:
    /// Only of faces that are asked about: most of a mesh nobody cut.
    void work_out(Index f) {
        // Triangles of a flat face differ by what single precision leaves of a plane, some 1e-5: they are one plane.
        constexpr double alike = 1 - 1e-8;
        const Triangles flats = triangulated(mesh_, f, f + std::size_t(1));
        const std::size_t first = normal_.size(), end = first + std::max<std::size_t>(1, flats.count());
        range_[f] = {first, end};
        normal_.resize(end, DVec3(0));
        for (std::size_t i = first; i < end; ++i) same_as_.push_back(i);
        for (std::size_t i = first; i < first + flats.count(); ++i) {
            const auto at = [&](std::size_t k) {
                return DVec3((*mesh_.positions)[mesh_.topology->corner_vertex[flats.corners[3 * (i - first) + k]]]);
            };
            normal_[i] = unit_normal(at(0), at(1), at(2));
            for (std::size_t j = first; j < i && same_as_[i] == i; ++j)
                if (same_as_[j] == j && glm::dot(normal_[i], normal_[j]) > alike) same_as_[i] = j;
        }
    }
    const Mesh& mesh_;
    std::vector<std::array<std::size_t, 2>> range_;  ///< of a face's triangles in the lists; {0, 0} before it is asked
    std::vector<DVec3> normal_;
    std::vector<std::size_t> same_as_;
};

class Rebuilding {
public:
    Rebuilding(const TaggedTriangles& soup, const Mesh& old)
        : soup_(soup),
          old_(old),
          t_(*old.topology),
          uvs_(old.attributes.values<Vec2>(Domain::corner, attribute_name::uv)),
          points_(soup.points.size()),
          source_(soup.points.size(), no_index),
          may_drop_(soup.points.size(), 0),
          corner_of_(soup.triangles.size()),
          pieces_(t_.face_count(), 0),
          at_corner_(t_.corner_count(), no_index),
          side_there_(t_.corner_count(), 0) {
        for (std::size_t i = 0; i < points_.size(); ++i) points_[i] = Vec3(soup.points[i]) + Vec3(0);
    }

    FromTriangles mesh() {
        find_sources();
        write_faces();
        for (std::size_t i = 0; i < soup_.triangles.size(); ++i)
            for (const Index v : soup_.triangles[i])
                if (may_drop_[v]) source_[v] = t_.corner_vertex[t_.face_offsets[soup_.tags[i]]];
        for (Index& source : source_)
            if (source == no_index) source = 0;  // used by nothing
        Mesh plain = old_;
        for (const Domain domain : {Domain::vertex, Domain::corner})
            plain.attributes.remove(domain, attribute_name::normal);
        plain.attributes.remove(Domain::corner, attribute_name::uv);
        Mesh out = rebuilt(plain, std::move(points_), source_, std::move(faces_));
        if (uvs_) out.attributes.set(Domain::corner, attribute_name::uv, std::move(new_uvs_));
        FromTriangles result;
        result.mesh = merged_faces(out, group_, may_drop_, &result.face_source);
        if (part_ill_joined(result)) result.mesh = merged_faces(out, group_, may_drop_, &result.face_source);
        for (Index& f : result.face_source) f = faces_.face_source[f];
        carry_pieces_of_edges(result);
        return result;
    }

private:
    /// Joined pieces that make a polygon which touches itself may be cut into other triangles than they were: such
    /// groups stay triangles. Whether there are any.
    bool part_ill_joined(const FromTriangles& made) {
        const Mesh& mesh = made.mesh;
        const auto at = [&](Index v) { return DVec3((*mesh.positions)[v]); };
        Mask ill_face(mesh.face_count(), 0);
        parallel::each(Index(0), static_cast<Index>(mesh.face_count()), [&](Index f) {
            stop_point(f);
            const auto face = mesh.topology->face(f);
            if (face.size() == 3 || group_[made.face_source[f]] == no_index) return;
            const Triangles drawn = triangulated(mesh, f, f + std::size_t(1));
            DVec3 area(0), wanted(0);
            for (std::size_t i = 0; i < drawn.count(); ++i) {
                const auto vertex = [&](std::size_t k) {
                    return at(mesh.topology->corner_vertex[drawn.corners[3 * i + k]]);
                };
                const DVec3 a = vertex(0);
                area += glm::cross(vertex(1) - a, vertex(2) - a);
            }
            double size = 0;
            for (std::size_t i = 1; i + 1 < face.size(); ++i) {
                const DVec3 u = at(face[i]) - at(face[0]), v = at(face[i + 1]) - at(face[0]);
                wanted += glm::cross(u, v);
                size = std::max({size, glm::dot(u, u), glm::dot(v, v)});
            }
            ill_face[f] = !(glm::length(wanted - area) <= 1e-6 * size);
        });
        bool any = false;
        std::vector<std::uint8_t> ill;
        for (Index f = 0; f < mesh.face_count(); ++f) {
            if (!ill_face[f]) continue;
            const Index group = group_[made.face_source[f]];
            if (group >= ill.size()) ill.resize(group + std::size_t(1), 0);
            ill[group] = 1;
            any = true;
        }
        for (Index& group : group_)
            if (group != no_index && group < ill.size() && ill[group]) group = no_index;
        return any;
    }

    /// Pieces of a cut edge stay in its sets and keep its values.
    void carry_pieces_of_edges(FromTriangles& made) const {
        if (std::ranges::none_of(old_.attributes.all(), [](const auto& a) { return a.domain == Domain::edge; })) return;
        float far = 0;
        for (const Vec3& p : *old_.positions) far = std::max({far, std::abs(p.x), std::abs(p.y), std::abs(p.z)});
        const double rounding = 3e-7 * static_cast<double>(far);
        const Topology& t = *made.mesh.topology;
        Array<Index> old_vertex(made.mesh.vertex_count(), no_index), on_edge = old_vertex;
        for (std::size_t f = 0; f < t.face_count(); ++f) {
            const Index face = made.face_source[f];
            for (const Index v : t.face(f)) {
                if (old_vertex[v] != no_index || on_edge[v] != no_index) continue;
                const DVec3 at((*made.mesh.positions)[v]);
                for (Index k = t_.face_offsets[face]; k < t_.face_offsets[face + 1]; ++k) {
                    stop_point(k);
                    const DVec3 from((*old_.positions)[t_.corner_vertex[k]]),
                        way = DVec3((*old_.positions)[t_.corner_vertex[t_.next_in(face, k)]]) - from;
                    const double length = glm::length(way), along = glm::dot(at - from, way) / std::max(length, 1e-300);
                    if (glm::distance(at, from) <= rounding)
                        old_vertex[v] = t_.corner_vertex[k];
                    else if (along > 0 && along < length &&
                             glm::length(glm::cross(at - from, way)) <= (2e-6 * length + rounding) * length &&
                             glm::distance(at, from + way) > rounding)
                        on_edge[v] = t_.corner_edge[k];
                    if (old_vertex[v] != no_index || on_edge[v] != no_index) break;
                }
            }
        }
        carry_edge_pieces(made.mesh, old_, old_vertex, on_edge);
    }

    /// The corner of its old face that each triangle corner is, the vertex that each point is, and how many triangles
    /// an old face has now.
    void find_sources() {
        const KnownPlaces known(*old_.positions);
        Array<Index> number(points_.size());
        parallel::each(parallel::Numbers<std::size_t>(0, points_.size(), 8192), [&](const auto& range) {
            stop_point();
            for (std::size_t v = range.begin(); v != range.end(); ++v) number[v] = known.number(points_[v]);
        });
        for (std::size_t i = 0; i < soup_.triangles.size(); ++i) {
            stop_point(i);
            const Index f = soup_.tags[i];
            bool whole = true;
            for (std::size_t k = 0; k < 3; ++k) {
                const Index v = soup_.triangles[i][k];
                Index& corner = corner_of_[i][k] = no_index;
                const Index at = number[v];
                for (Index c = t_.face_offsets[f]; at != no_index && c < t_.face_offsets[f + 1]; ++c)
                    if (known.number_of_vertex(t_.corner_vertex[c]) == at) {
                        corner = c;
                        break;
                    }
                whole &= corner != no_index;
                if (source_[v] != no_index) continue;
                source_[v] = corner != no_index ? t_.corner_vertex[corner] : at;
                may_drop_[v] = at == no_index;
            }
            pieces_[f] = whole && pieces_[f] != no_index && on_ring(i, f) ? pieces_[f] + 1 : no_index;
        }
        // Only what still has every side of its old face, each once, is that face.
        for (std::size_t f = 0; f < pieces_.size(); ++f)
            if (pieces_[f] != no_index && pieces_[f] > 0)
                for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c)
                    if (!side_there_[c]) pieces_[f] = no_index;
    }
    /// Notes a triangle's corners and sides in its old face; false when another point or side is there already.
    bool on_ring(std::size_t i, Index f) {
        const Index first = t_.face_offsets[f], end = t_.face_offsets[f + 1];
        for (std::size_t k = 0; k < 3; ++k) {
            const Index a = corner_of_[i][k], b = corner_of_[i][(k + 1) % 3], v = soup_.triangles[i][k];
            if (at_corner_[a] == no_index) at_corner_[a] = v;
            if (at_corner_[a] != v) return false;
            const auto next = [&](Index c) { return c + 1 < end ? c + 1 : first; };
            if (next(a) != b && next(b) != a) continue;
            std::uint8_t& there = side_there_[next(a) == b ? a : b];
            if (there) return false;
            there = 1;
        }
        return true;
    }

    void write_faces() {
        FacePlanes planes(old_);
        corners_left_.resize(t_.face_count());
        for (std::size_t f = 0; f < t_.face_count(); ++f) corners_left_[f] = static_cast<Index>(t_.face(f).size());
        told_.assign(t_.corner_count(), 0);
        for (std::size_t i = 0; i < soup_.triangles.size(); ++i) {
            stop_point(i);
            const Index f = soup_.tags[i];
            const auto& [a, b, c] = soup_.triangles[i];
            if (t_.face(f).size() > 3 && (corners_left_[f] < t_.face(f).size() || untouched(f))) {
                gather_polygon(i);
                continue;
            }
            for (std::size_t k = 0; k < 3; ++k) put(soup_.triangles[i][k], corner_of_[i][k], f);
            faces_.close(f);
            group_.push_back(untouched(f)  // a triangle as it was has nothing to be joined to
                                 ? no_index
                                 : planes.nearest(f, unit_normal(soup_.points[a], soup_.points[b], soup_.points[c])));
        }
    }
    bool untouched(Index f) const { return pieces_[f] == t_.face(f).size() - 2; }

    /// A polygon nobody cut is written as it was, when its triangles have told all its corners.
    void gather_polygon(std::size_t i) {
        const Index f = soup_.tags[i], first = t_.face_offsets[f], end = t_.face_offsets[f + 1];
        if (!untouched(f)) return;  // written already
        for (const Index corner : corner_of_[i]) corners_left_[f] -= !std::exchange(told_[corner], 1);
        if (corners_left_[f] > 0) return;
        // Walls of a hole are the cutter's faces the other way round.
        const auto& [a, b, c] = corner_of_[i];
        const bool turned = (a < b) + (b < c) + (c < a) == 1;
        for (Index n = 0; n < end - first; ++n) {
            const Index corner = turned ? end - 1 - n : first + n;
            put(at_corner_[corner], corner, f);
        }
        faces_.close(f);
        group_.push_back(no_index);
        pieces_[f] = 0;
    }

    void put(Index v, Index corner, Index f) {
        faces_.corner(v, corner);
        if (uvs_) new_uvs_.push_back(corner != no_index ? (*uvs_)[corner] : uv_at(f, soup_.points[v]));
    }
    /// Continued over the plane of the face's first corner and the two next ones that span the most.
    Vec2 uv_at(Index f, const DVec3& place) {
        if (std::exchange(plane_of_, f) != f) {
            plane_.reset();
            const Index first = t_.face_offsets[f], end = t_.face_offsets[f + 1];
            const auto at = [&](Index c) { return DVec3((*old_.positions)[t_.corner_vertex[c]]); };
            double most = 0;
            for (Index c = first + 1; c + 1 < end; ++c) {
                const UvPlane plane{at(first),      at(c) - at(first), at(c + 1) - at(first),
                                    (*uvs_)[first], (*uvs_)[c],        (*uvs_)[c + 1]};
                if (const double spanned = plane.determinant(); spanned > most) most = spanned, plane_ = plane;
            }
        }
        return plane_ ? plane_->at(place) : (*uvs_)[t_.face_offsets[f]];
    }

    const TaggedTriangles& soup_;
    const Mesh& old_;
    const Topology& t_;
    const Array<Vec2>* uvs_;
    Array<Vec3> points_;
    Array<Index> source_;
    Mask may_drop_;
    std::vector<std::array<Index, 3>> corner_of_;
    Array<Index> pieces_;        ///< triangles of a face; no_index once one of them has a corner that is not the face's
    Array<Index> at_corner_;     ///< the point that stands at each old corner
    Mask side_there_;            ///< whether the side from each old corner to the next is there
    Array<Index> corners_left_;  ///< of polygons nobody cut: how many corners no triangle has told yet
    Mask told_;                  ///< corners that were told
    FaceList faces_;
    Array<Vec2> new_uvs_;
    Index plane_of_ = no_index;  ///< the face whose plane of UVs was asked for last
    std::optional<UvPlane> plane_;
    Array<Index> group_;
};

}  // namespace

FromTriangles from_triangles(const TaggedTriangles& soup, const Mesh& old) { return Rebuilding(soup, old).mesh(); }

}  // namespace bricol
