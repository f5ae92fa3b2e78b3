// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/bevel.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/corner_patch.h"
#include "core/kernels/normals.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/uv_plane.h"
#include "core/ground/disjoint_sets.h"
#include "core/ground/numbers.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

constexpr double steepest = 5;  ///< a slide is never longer than this many widths, however flat the angle

/// One new point: where it starts and how it moves as the width grows from 0 to 1.
struct Mover {
    DVec3 velocity{0};
    Index point = no_index;
};

/// What becomes of one corner of an old face: points in the order round the vertex (from its outgoing edge to its
/// incoming one), as a range of the pool.
struct CornerList {
    Index first = 0, count = 0;
};

class Beveller {
public:
    Beveller(const Mesh& mesh, const BevelOptions& options)
        : mesh_(mesh),
          t_(*mesh.topology),
          p_(*mesh.positions),
          options_(options),
          flat_(face_normals(mesh)),
          uvs_(mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv)) {
        previous_.resize(t_.corner_count());
        next_.resize(t_.corner_count());
        face_.resize(t_.corner_count());
        for (std::size_t f = 0; f < t_.face_count(); ++f)
            for (Index c = t_.face_offsets[f], end = t_.face_offsets[f + 1]; c < end; ++c) {
                previous_[c] = t_.prior_in(f, c);
                next_[c] = t_.next_in(f, c);
                face_[c] = static_cast<Index>(f);
            }
        at_offsets_.assign(t_.vertex_count + 1, 0);
        for (Index v : t_.corner_vertex) ++at_offsets_[v + 1];
        for (std::size_t i = 1; i < at_offsets_.size(); ++i) at_offsets_[i] += at_offsets_[i - 1];
        at_.resize(t_.corner_count());
        Array<Index> cursor(at_offsets_.begin(), at_offsets_.end());
        for (Index c = 0; c < t_.corner_count(); ++c) at_[cursor[t_.corner_vertex[c]]++] = c;
    }

    BevelResult run(std::span<const float> edge_width, std::span<const float> vertex_width) {
        edge_width_ = edge_width;
        vertex_width_ = vertex_width;
        corner_.assign(t_.corner_count(), {});
        arc_.assign(2 * t_.edge_count(), no_index);
        group_ = DisjointSets(t_.vertex_count);
        for (Index e = 0; e < edge_width.size(); ++e)
            if (edge_width[e] > 0) join(t_.edges[e][0], t_.edges[e][1]);
        for (Index v = 0; v < t_.vertex_count; ++v) stop_point(v), lay_out(v);
        hold();
        for (std::size_t f = 0; f < fans_.size(); ++f) stop_point(f), place(fans_[f]);
        return build();
    }

private:
    struct Fan {
        Index vertex = 0;
        Index first = 0, count = 0;  ///< corners, in fan_corners_
        bool closed = false;
        bool keeps_vertex = false;  ///< some corner still uses the old vertex
        Index edges() const { return closed ? count : count + 1; }
    };

    Index outgoing(Index c) const { return t_.corner_edge[c]; }
    Index incoming(Index c) const { return t_.corner_edge[previous_[c]]; }
    DVec3 at(Index v) const { return DVec3(p_[v]); }
    Index root(Index v) { return group_.root(v); }
    void join(Index a, Index b) { group_.join(a, b); }

    Index corner_of(const Fan& fan, Index i) const { return fan_corners_[fan.first + i % fan.count]; }
    /// Edge i of the fan: the outgoing edge of corner i, or the last one of an open fan.
    Index edge_of(const Fan& fan, Index i) const {
        if (fan.closed) return outgoing(corner_of(fan, i));
        return i < fan.count ? outgoing(fan_corners_[fan.first + i])
                             : incoming(fan_corners_[fan.first + fan.count - 1]);
    }
    bool bevels(const Fan& fan, Index i) const {
        if (edge_width_.empty() || (!fan.closed && (i == 0 || i == fan.count))) return false;
        return edge_width_[edge_of(fan, i)] > 0;
    }
    DVec3 direction(const Fan& fan, Index i) const {
        const auto& edge = t_.edges[edge_of(fan, i)];
        return unit(at(edge[0] == fan.vertex ? edge[1] : edge[0]) - at(fan.vertex));
    }

    /// Length along edge `slide` at which it is `width` away from edge `bevel` (both of the fan).
    double slide_length(const Fan& fan, Index bevel, Index slide) const {
        const double sine = glm::length(glm::cross(direction(fan, bevel), direction(fan, slide)));
        return edge_width_[edge_of(fan, bevel)] / std::max(sine, 1 / steepest);
    }

    /// Where two bevels in the same face meet: the crossing of the lines parallel to both edges.
    DVec3 meeting(const Fan& fan, Index corner) const {
        const Index c = corner_of(fan, corner);
        const DVec3 first = direction(fan, corner), second = direction(fan, corner + 1), up(flat_[face_[c]]);
        const double w1 = edge_width_[edge_of(fan, corner)], w2 = edge_width_[edge_of(fan, corner + 1)];
        const double sine = glm::dot(up, glm::cross(first, second));
        const DVec3 across = unit(unit(glm::cross(up, first)) - unit(glm::cross(up, second)));
        if (std::abs(sine) < 0.02) return across * std::max(w1, w2);  // nearly one straight line
        const DVec3 met = (first * w2 + second * w1) / sine;
        const double length = glm::length(met), most = steepest * std::max(w1, w2);
        return length > most ? met * (most / length) : met;
    }

    Index mover(const DVec3& velocity) {
        movers_.push_back({velocity, no_index});
        return static_cast<Index>(movers_.size() - 1);
    }
    void give(const Fan& fan, Index corner, std::initializer_list<Index> list) {
        CornerList& slot = corner_[corner_of(fan, corner)];
        slot = {static_cast<Index>(pool_.size()), static_cast<Index>(list.size())};
        pool_.insert(pool_.end(), list.begin(), list.end());
    }

    /// Splits the corners round a vertex into fans and decides, for each, which points take its place.
    void lay_out(Index v) {
        const std::span<const Index> corners(at_.data() + at_offsets_[v], at_.data() + at_offsets_[v + 1]);
        bool touched = !vertex_width_.empty() && vertex_width_[v] > 0;
        if (!touched && !edge_width_.empty())
            for (const Index c : corners) touched |= edge_width_[outgoing(c)] > 0 || edge_width_[incoming(c)] > 0;
        if (!touched) return;
        used_.assign(corners.size(), 0);
        const auto find = [&](auto edge_at, Index edge) {
            for (std::size_t i = 0; i < corners.size(); ++i)
                if (!used_[i] && edge_at(corners[i]) == edge) return i;
            return corners.size();
        };
        const auto out = [this](Index c) { return outgoing(c); };
        const auto in = [this](Index c) { return incoming(c); };
        const auto walk = [&](std::size_t start) {
            Fan fan;
            fan.vertex = v;
            fan.first = static_cast<Index>(fan_corners_.size());
            for (std::size_t i = start; i < corners.size(); i = find(out, in(corners[i])), ++fan.count) {
                used_[i] = 1;
                fan_corners_.push_back(corners[i]);
                if (fan.count > 0 && in(corners[i]) == out(corners[start])) {
                    ++fan.count;
                    break;
                }
            }
            fan.closed = fan.count > 1 && in(fan_corners_.back()) == out(corners[start]);
            settle(fan);
        };
        for (std::size_t i = 0; i < corners.size(); ++i)  // borders first: their fans start where they are open
            if (!used_[i] && std::ranges::none_of(corners, [&](Index c) { return in(c) == out(corners[i]); })) walk(i);
        for (std::size_t i = 0; i < corners.size(); ++i)
            if (!used_[i]) walk(i);
    }

    void settle(Fan fan) {
        if (!vertex_width_.empty()) {
            settle_vertex(fan);
            return;
        }
        const Index n = fan.edges();
        marked_.clear();
        for (Index i = 0; i < n; ++i)
            if (bevels(fan, i)) marked_.push_back(i);
        if (marked_.empty()) return;
        if (fan.closed) {  // start at a bevelled edge
            std::rotate(fan_corners_.begin() + fan.first, fan_corners_.begin() + fan.first + marked_[0],
                        fan_corners_.begin() + fan.first + fan.count);
            const Index shift = marked_[0];
            for (Index& i : marked_) i -= shift;
        }
        const std::size_t m = marked_.size();
        if (fan.closed && m == 1) {
            outer_side(fan, 0, n - 1);
        } else {
            for (std::size_t k = 0; k + 1 < m || (fan.closed && k < m); ++k)
                between(fan, marked_[k], k + 1 < m ? marked_[k + 1] : n);
            if (!fan.closed) {
                run_out(fan, marked_.back(), n - 1 - marked_.back(), true);
                run_out(fan, marked_.front(), marked_.front(), false);
            }
        }
        fans_.push_back(fan);
    }

    /// Corners between two bevelled edges of the fan.
    void between(Fan& fan, Index from, Index to) {
        const Index inner = to - from - 1;  // edges in between that are not bevelled
        if (inner == 0) {
            give(fan, from, {mover(meeting(fan, from))});
            return;
        }
        const double first = slide_length(fan, from, from + 1), last = slide_length(fan, to % fan.edges(), to - 1);
        Index before = no_index;
        for (Index k = 1; k <= inner; ++k) {
            const double share = inner == 1 ? 0.5 : static_cast<double>(k - 1) / (inner - 1);
            const Index here = mover(direction(fan, from + k) * (first + (last - first) * share));
            if (k == 1)
                give(fan, from, {here});
            else
                give(fan, from + k - 1, {before, here});
            before = here;
        }
        give(fan, to - 1, {before});
    }

    /// The single bevel of a closed fan ends here: edges 1..count are all plain.
    void outer_side(Fan& fan, Index bevel, Index count) {
        const Index first = mover(direction(fan, bevel + 1) * slide_length(fan, bevel, bevel + 1));
        if (count == 1) {
            give(fan, 0, {first});
            give(fan, 1, {first});
            return;
        }
        const Index last = mover(direction(fan, bevel + count) * slide_length(fan, bevel, bevel + count));
        give(fan, 0, {first});
        give(fan, count, {last});
        if (count == 2) {
            give(fan, 1, {first, last});
            return;
        }
        fan.keeps_vertex = true;
        const Index stay = mover(DVec3(0));
        give(fan, 1, {first, stay});
        for (Index k = 2; k + 1 < count; ++k) give(fan, k, {stay});
        give(fan, count - 1, {stay, last});
    }

    /// The plain edges between an outermost bevel of an open fan and the border.
    void run_out(Fan& fan, Index bevel, Index count, bool after) {
        const Index edge = after ? bevel + 1 : bevel - 1;
        const Index slide = mover(direction(fan, edge) * slide_length(fan, bevel, edge));
        give(fan, after ? bevel : bevel - 1, {slide});
        if (count == 1) return;
        fan.keeps_vertex = true;
        const Index stay = mover(DVec3(0));
        if (after) {
            give(fan, bevel + 1, {slide, stay});
            for (Index k = bevel + 2; k < fan.count; ++k) give(fan, k, {stay});
        } else {
            give(fan, bevel - 2, {stay, slide});
            for (Index k = 0; k + 2 < bevel; ++k) give(fan, k, {stay});
        }
    }

    void settle_vertex(Fan& fan) {
        const double width = vertex_width_[fan.vertex];
        Index first = no_index, before = no_index;
        for (Index i = 0; i < fan.count; ++i) {
            if (i == 0) first = before = mover(direction(fan, 0) * width);
            const Index after = fan.closed && i + 1 == fan.count ? first : mover(direction(fan, i + 1) * width);
            give(fan, i, {before, after});
            before = after;
        }
        fans_.push_back(fan);
    }

    /// Finds how much of the asked width each connected group of bevels can have.
    void hold() {
        share_.assign(t_.vertex_count, 1);
        if (!options_.hold) return;
        const auto velocity = [&](Index c, bool leaving) {
            const CornerList& list = corner_[c];
            if (list.count == 0) return DVec3(0);
            return movers_[pool_[list.first + (leaving ? 0 : list.count - 1)]].velocity;
        };
        for (Index c = 0; c < t_.corner_count(); ++c) {
            stop_point(c);
            const Index d = next_[c], v = t_.corner_vertex[c], w = t_.corner_vertex[d];
            if (corner_[c].count == 0 && corner_[d].count == 0) continue;
            const DVec3 along = at(w) - at(v);
            const double length = glm::length(along);
            if (length == 0) continue;
            // The side starts at the point nearest its own edge and ends at the last one of the next corner.
            const double closing = glm::dot(velocity(c, true) - velocity(d, false), along / length);
            if (closing <= 0 || closing * 1.001 < length) continue;
            const double most = 0.98 * length / closing;
            for (const Index end : {v, w}) share_[root(end)] = std::min(share_[root(end)], most);
        }
    }

    Index new_point(const DVec3& place, Index source) {
        points_.push_back(Vec3(place));
        source_.push_back(source);
        return static_cast<Index>(points_.size() - 1);
    }
    Index point_of(Index m, const Fan& fan) {
        Mover& mover = movers_[m];
        if (mover.point == no_index) {
            if (mover.velocity == DVec3(0))
                mover.point = kept(fan.vertex);
            else
                mover.point = new_point(at(fan.vertex) + mover.velocity * share_[root(fan.vertex)], fan.vertex);
        }
        return mover.point;
    }
    Index kept(Index v) {
        if (kept_.empty()) kept_.assign(t_.vertex_count, no_index);
        if (kept_[v] == no_index) kept_[v] = new_point(at(v), v);
        return kept_[v];
    }

    /// Points of an arc between two placed points about a pole, ends included, appended to the arc pool.
    Index lay_arc(Index a, Index b, const DVec3& pole, Index source) {
        const auto start = static_cast<Index>(arcs_.size());
        const Conic conic(DVec3(points_[a]), DVec3(points_[b]), pole, options_.profile);
        arcs_.push_back(a);
        for (int s = 1; s < options_.segments; ++s)
            arcs_.push_back(a == b ? a : new_point(conic.at(static_cast<double>(s) / options_.segments), source));
        arcs_.push_back(b);
        return start;
    }
    Index reversed_arc(Index arc) {
        const auto start = static_cast<Index>(arcs_.size());
        for (int s = options_.segments; s >= 0; --s) arcs_.push_back(arcs_[arc + static_cast<Index>(s)]);
        return start;
    }
    Index& arc_slot(Index edge, Index v) { return arc_[2 * edge + (t_.edges[edge][0] == v ? 0 : 1)]; }

    /// Gives a fan's points their places, lays its arcs and fills what is left in the middle.
    void place(const Fan& fan) {
        const Index n = fan.edges();
        for (Index i = 0; i < fan.count; ++i) {
            const CornerList& list = corner_[corner_of(fan, i)];
            for (Index k = 0; k < list.count; ++k) point_of(pool_[list.first + k], fan);
        }
        if (!vertex_width_.empty()) {
            place_vertex(fan);
            return;
        }
        marked_.clear();
        for (Index i = 0; i < n; ++i)
            if (bevels(fan, i)) marked_.push_back(i);
        const auto start_of = [&](Index i) {  // last point of the corner before edge i
            const CornerList& list = corner_[corner_of(fan, i + fan.count - 1)];
            return movers_[pool_[list.first + list.count - 1]].point;
        };
        const auto end_of = [&](Index i) { return movers_[pool_[corner_[corner_of(fan, i)].first]].point; };
        const bool through = fan.closed && marked_.size() == 2 && start_of(marked_[0]) == end_of(marked_[1]) &&
                             end_of(marked_[0]) == start_of(marked_[1]);
        ring_.clear();
        ring_arcs_.clear();
        const Index n_marked = static_cast<Index>(marked_.size());
        bool single = fan.closed && n_marked >= 3;
        for (Index k = 0; k < n_marked; ++k) {
            const Index i = marked_[k], a = start_of(i), b = end_of(i);
            DVec3 pole = at(fan.vertex);
            if (!through && n_marked > 1) {
                const DVec3 along = direction(fan, i);
                pole += along *
                        (0.5 * (glm::dot(DVec3(points_[a]) - pole, along) + glm::dot(DVec3(points_[b]) - pole, along)));
            }
            const Index arc = through && k == 1 ? reversed_arc(arc_slot(edge_of(fan, marked_[0]), fan.vertex))
                                                : lay_arc(a, b, pole, fan.vertex);
            arc_slot(edge_of(fan, i), fan.vertex) = arc;
            ring_arcs_.push_back(arc);
            ring_.insert(ring_.end(), arcs_.begin() + arc, arcs_.begin() + arc + options_.segments + 1);
            // Points of the plain edges up to the next bevel.
            const Index stop = k + 1 < n_marked ? marked_[k + 1] : fan.closed ? n : n - 1;
            for (Index c = i; c < stop; ++c) {
                const CornerList& list = corner_[corner_of(fan, c)];
                if (list.count > 1) single = false;
                for (Index q = 0; q < list.count; ++q) ring_.push_back(movers_[pool_[list.first + q]].point);
            }
        }
        if (through) return;
        if (!fan.closed)  // plain corners before the first bevel
            for (Index c = 0; c < marked_[0]; ++c) {
                const CornerList& list = corner_[corner_of(fan, c)];
                for (Index q = 0; q < list.count; ++q) ring_.push_back(movers_[pool_[list.first + q]].point);
            }
        if (fan.closed && n_marked == 1 && n == 3) {
            // Two plain edges: the face between them takes the arc, and nothing is left to fill.
            const Index c = corner_of(fan, 1), arc = ring_arcs_[0];
            CornerList& list = corner_[c];
            list = {static_cast<Index>(pool_.size()), static_cast<Index>(options_.segments + 1)};
            for (int s = options_.segments; s >= 0; --s) {
                movers_.push_back({DVec3(points_[arcs_[arc + static_cast<Index>(s)]]) - at(fan.vertex),
                                   arcs_[arc + static_cast<Index>(s)]});
                pool_.push_back(static_cast<Index>(movers_.size() - 1));
            }
            return;
        }
        if (!fan.closed && !fan.keeps_vertex && n_marked == 1) return;
        fill(fan, single);
    }

    void place_vertex(const Fan& fan) {
        ring_.clear();
        ring_arcs_.clear();
        for (Index i = 0; i < fan.count; ++i) {
            CornerList& list = corner_[corner_of(fan, i)];
            const Index a = movers_[pool_[list.first]].point, b = movers_[pool_[list.first + 1]].point;
            const Index arc = lay_arc(a, b, at(fan.vertex), fan.vertex);
            list = {static_cast<Index>(pool_.size()), static_cast<Index>(options_.segments + 1)};
            for (Index s = 0; s <= static_cast<Index>(options_.segments); ++s) {
                movers_.push_back({DVec3(points_[arcs_[arc + s]]) - at(fan.vertex), arcs_[arc + s]});
                pool_.push_back(static_cast<Index>(movers_.size() - 1));
            }
            ring_arcs_.push_back(arc);
            ring_.insert(ring_.end(), arcs_.begin() + arc, arcs_.begin() + arc + options_.segments);
        }
        if (fan.closed) fill(fan, fan.count >= 3);
    }

    /// Closes the hole round the old vertex: a patch where only arcs meet, else one polygon.
    void fill(const Fan& fan, bool only_arcs) {
        const Index face = face_[corner_of(fan, 0)];
        if (only_arcs && options_.segments > 1) {
            patch_arcs_.clear();
            for (const Index arc : ring_arcs_)
                patch_arcs_.push_back({arcs_.data() + arc, static_cast<std::size_t>(options_.segments) + 1});
            fill_corner(
                patch_arcs_, options_.segments, points_,
                [&](const DVec3& place) { return new_point(place, fan.vertex); },
                [&](std::span<const Index> quad) { add_extra(quad, face, fan); });
            return;
        }
        add_extra(ring_, face, fan);
    }

    void add_extra(std::span<const Index> ring, Index face, const Fan& fan) {
        const std::size_t begin = extra_.size();
        for (const Index v : ring)
            if (extra_.size() == begin || extra_.back() != v) extra_.push_back(v);
        while (extra_.size() > begin + 1 && extra_.back() == extra_[begin]) extra_.pop_back();
        if (extra_.size() < begin + 3) {
            extra_.resize(begin);
            return;
        }
        extra_ends_.push_back(static_cast<Index>(extra_.size()));
        extra_face_.push_back(face);
        extra_corner_.push_back(corner_of(fan, 0));
    }

    /// Continued over the plane of a corner and its neighbours; the corner's own where these lie on a line.
    Vec2 uv_at(Index corner, const DVec3& place) const {
        const Index n = next_[corner], q = previous_[corner];
        const DVec3 v = at(t_.corner_vertex[corner]);
        const UvPlane plane{
            v, at(t_.corner_vertex[n]) - v, at(t_.corner_vertex[q]) - v, (*uvs_)[corner], (*uvs_)[n], (*uvs_)[q]};
        if (plane.determinant() <= 1e-12 * glm::dot(plane.a, plane.a) * glm::dot(plane.b, plane.b))
            return plane.at_origin;
        return plane.at(place);
    }

    void put(Index point, Index source, Index uv_corner) {
        faces_.corner(point, source);
        if (uvs_) uv_corners_.push_back(uv_corner);
    }
    void close(Index face, bool made) {
        if (faces_.close(face))
            result_.made.push_back(made);
        else if (uvs_)
            uv_corners_.resize(faces_.corners.size());
    }
    /// Untouched vertices keep their place.
    Index plain(Index v) {
        if (whole_[v] == no_index) whole_[v] = kept_.empty() || kept_[v] == no_index ? new_point(at(v), v) : kept_[v];
        return whole_[v];
    }
    void count_share(double share, const Vec3& place) {
        ++result_.edges;
        result_.smallest_share = std::min(result_.smallest_share, share);
        if (share >= 1) return;
        ++result_.held;
        if (result_.places.size() < 64) result_.places.push_back(place);
    }

    void old_faces() {
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) {
                const CornerList& list = corner_[c];
                if (list.count == 0) put(plain(t_.corner_vertex[c]), c, c);
                for (Index k = list.count; k-- > 0;) {
                    const Index point = movers_[pool_[list.first + k]].point;
                    if (faces_.corners.size() > faces_.offsets.back() && faces_.corners.back() == point) continue;
                    put(point, c, c);
                }
            }
            close(static_cast<Index>(f), false);
        }
    }
    void strips() {
        const auto segments = static_cast<Index>(options_.segments);
        for (Index e = 0; e < edge_width_.size(); ++e) {
            stop_point(e);
            const Index first = arc_[2 * e], second = arc_[2 * e + 1];
            if (first == no_index || second == no_index) continue;
            count_share(share_[root(t_.edges[e][0])], Vec3((at(t_.edges[e][0]) + at(t_.edges[e][1])) * 0.5));
            const Index face = t_.adjacency().faces_of_edge(e)[0];
            Index corner = t_.face_offsets[face];
            while (t_.corner_edge[corner] != e) ++corner;
            for (Index j = 0; j < segments; ++j) {
                const std::array<Index, 4> quad = {arcs_[first + j + 1], arcs_[first + j], arcs_[second + segments - j],
                                                   arcs_[second + segments - j - 1]};
                Index before = no_index;
                for (std::size_t k = 0; k < 4; ++k) {
                    if (quad[k] == before || (k == 3 && quad[3] == quad[0])) continue;
                    put(quad[k], no_index, corner);
                    before = quad[k];
                }
                close(face, true);
            }
        }
    }
    void patches() {
        for (std::size_t x = 0, begin = 0; x < extra_ends_.size(); begin = extra_ends_[x++]) {
            for (std::size_t i = begin; i < extra_ends_[x]; ++i) put(extra_[i], no_index, extra_corner_[x]);
            close(extra_face_[x], true);
        }
        for (Index v = 0; v < vertex_width_.size(); ++v)
            if (vertex_width_[v] > 0 && at_offsets_[v] < at_offsets_[v + 1]) count_share(share_[root(v)], p_[v]);
    }
    void what_has_no_face() {
        const Adjacency& near = t_.adjacency();
        for (Index e = 0; e < t_.edge_count(); ++e)
            if (near.faces_of_edge(e).empty()) faces_.loose.push_back({plain(t_.edges[e][0]), plain(t_.edges[e][1])});
        for (Index v = 0; v < t_.vertex_count; ++v)
            if (near.edges_of_vertex(v).empty()) plain(v);
    }

    BevelResult build() {
        const std::size_t most = t_.corner_count() + 4 * extra_.size() + arcs_.size() * 4;
        faces_.corners.reserve(most);
        faces_.corner_source.reserve(most);
        if (uvs_) uv_corners_.reserve(most);
        whole_.assign(t_.vertex_count, no_index);
        old_faces();
        strips();
        patches();
        what_has_no_face();
        Array<Vec2> uvs(uv_corners_.size());
        parallel::each(tbb::blocked_range<std::size_t>(0, uvs.size(), 4096), [&](const auto& range) {
            stop_point();
            for (std::size_t i = range.begin(); i != range.end(); ++i)
                uvs[i] = uv_at(uv_corners_[i], DVec3(points_[faces_.corners[i]]));
        });
        Mesh old = mesh_;
        for (const Domain domain : {Domain::vertex, Domain::corner})
            old.attributes.remove(domain, attribute_name::normal);
        old.attributes.remove(Domain::corner, attribute_name::uv);
        old.attributes.remove(Domain::edge, attribute_name::bevel);  // used up
        result_.mesh = rebuilt(old, std::move(points_), source_, faces_);
        if (uvs_) result_.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uvs));
        return std::move(result_);
    }

    const Mesh& mesh_;
    const Topology& t_;
    const Array<Vec3>& p_;
    const BevelOptions& options_;
    const Array<Vec3> flat_;
    const Array<Vec2>* uvs_;
    std::span<const float> edge_width_, vertex_width_;
    Array<Index> previous_, next_, face_, at_offsets_, at_;
    std::vector<Fan> fans_;
    Array<Index> fan_corners_, pool_, arcs_, arc_, kept_;
    DisjointSets group_{0};
    std::vector<CornerList> corner_;
    std::vector<Mover> movers_;
    Array<double> share_;
    Array<Vec3> points_;
    Array<Index> source_;
    Array<Index> extra_, extra_ends_, extra_face_, extra_corner_;
    FaceList faces_;
    Array<Index> uv_corners_;  ///< where each corner's UV is continued from
    Array<Index> whole_;
    BevelResult result_;
    // Reused by one fan after another.
    std::vector<std::uint8_t> used_;
    std::vector<Index> marked_, ring_, ring_arcs_;
    std::vector<std::span<const Index>> patch_arcs_;
};

}  // namespace

BevelResult bevelled_edges(const Mesh& mesh, std::span<const float> width, const BevelOptions& options) {
    Array<float> usable(mesh.edge_count(), 0);
    const Topology& t = *mesh.topology;
    const Array<EdgeUse> uses = edge_uses(t);
    bool any = false;
    for (std::size_t e = 0; e < usable.size(); ++e)
        if (uses[e].between_two() && width[e] > 0 && t.edges[e][0] != t.edges[e][1]) usable[e] = width[e], any = true;
    if (!any) return {mesh, Mask(mesh.face_count(), 0), 0, 0, 1, {}};
    return Beveller(mesh, options).run(usable, {});
}

BevelResult bevelled_vertices(const Mesh& mesh, std::span<const float> width, const BevelOptions& options) {
    if (std::ranges::none_of(width, [](float w) { return w > 0; }))
        return {mesh, Mask(mesh.face_count(), 0), 0, 0, 1, {}};
    return Beveller(mesh, options).run({}, width);
}

Array<float> edge_angles(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    Array<float> angles(t.edge_count(), 0);
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        const auto faces = near.faces_of_edge(e);
        if (faces.size() != 2) continue;
        const DVec3 a(flat[faces[0]]), b(flat[faces[1]]);
        const double turn = glm::degrees(std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b)));
        // Concave when the other face rises above this one.
        Index c = t.face_offsets[faces[0]];
        while (t.corner_edge[c] != e) ++c;
        const Index from = t.corner_vertex[c], to = t.corner_vertex[t.next_in(faces[0], c)];
        const DVec3 along = DVec3((*mesh.positions)[to]) - DVec3((*mesh.positions)[from]);
        angles[e] = static_cast<float>(glm::dot(glm::cross(a, b), along) < 0 ? -turn : turn);
    }
    return angles;
}

}  // namespace bricol
