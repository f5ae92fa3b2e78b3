// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/overlap.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <xxhash.h>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/boolean_shadows.h"
#include "core/kernels/pieces.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

std::vector<BodyPiece> body_pieces(const Mesh& mesh) {
    const std::vector<MeshPiece> list = pieces_of(mesh);
    std::vector<BodyPiece> out(list.size());
    std::vector<Index> piece_of(mesh.face_count(), 0), number(mesh.vertex_count(), no_index);
    for (std::size_t p = 0; p < list.size(); ++p) {
        out[p].closed = list[p].closed;
        for (const Index f : list[p].faces) piece_of[f] = static_cast<Index>(p);
    }
    const Topology& t = *mesh.topology;
    const Triangles all = triangulated(mesh);
    for (std::size_t i = 0; i < all.count(); ++i) {
        stop_point(i);
        const Index p = piece_of[all.face[i]];
        TaggedTriangles& soup = out[p].soup;
        std::array<Index, 3> triangle{};
        for (int k = 0; k < 3; ++k) {
            const Index v = t.corner_vertex[all.corners[3 * i + k]];
            if (number[v] == no_index) {
                number[v] = static_cast<Index>(soup.points.size());
                soup.points.emplace_back((*mesh.positions)[v]);
            }
            triangle[k] = number[v];
        }
        if (list[p].closed && list[p].volume < 0) std::swap(triangle[1], triangle[2]);
        soup.triangles.push_back(triangle);
        soup.tags.push_back(static_cast<Index>(soup.tags.size()));
    }
    return out;
}

std::uint64_t hash_of(const BodyPiece& piece) {
    const auto& [points, triangles, tags] = piece.soup;
    return XXH3_64bits_withSeed(triangles.data(), triangles.size() * sizeof(triangles[0]),
                                XXH3_64bits(points.data(), points.size() * sizeof(points[0])));
}

/// The number of a piece, or that of one which is the same in every point: parts that take the same shape, and shapes
/// laid over one another, are held against the others once.
Index kept_piece(Bodies& bodies, BodyPiece&& piece) {
    const std::uint64_t hash = hash_of(piece);
    const auto [begin, end] = bodies.by_hash.equal_range(hash);
    for (auto known = begin; known != end; ++known) {
        const BodyPiece& other = bodies.pieces[known->second];
        if (other.closed == piece.closed && other.soup.points == piece.soup.points &&
            other.soup.triangles == piece.soup.triangles)
            return known->second;
    }
    const auto number = static_cast<Index>(bodies.pieces.size());
    bodies.by_hash.emplace(hash, number);
    bodies.pieces.push_back(std::move(piece));
    return number;
}

/// A piece where its body stands, outward there too.
TaggedTriangles placed(const Bodies& bodies, const Body& body, const DVec3& moved) {
    TaggedTriangles soup = bodies.pieces[body.piece].soup;
    const bool mirrored = glm::determinant(glm::dmat3(body.place)) < 0;
    for (DVec3& p : soup.points) p = DVec3(body.place * glm::dvec4(p, 1)) + moved;
    if (mirrored)
        for (auto& t : soup.triangles) std::swap(t[1], t[2]);
    return soup;
}

double volume_of(const TaggedTriangles& soup, const DVec3& middle) {
    double volume = 0;
    for (const auto& [a, b, c] : soup.triangles)
        volume += glm::dot(soup.points[a] - middle, glm::cross(soup.points[b] - middle, soup.points[c] - middle)) / 6;
    return volume;
}

double area_of(const TaggedTriangles& soup) {
    double area = 0;
    for (const auto& [a, b, c] : soup.triangles)
        area += glm::length(glm::cross(soup.points[b] - soup.points[a], soup.points[c] - soup.points[a])) / 2;
    return area;
}

struct Look {
    bool overlaps = false, inside = false;
    double volume = 0;
    DVec3 where{0};
};

Box box_round(const TaggedTriangles& soup) {
    Box box = Box::nothing();
    for (const DVec3& point : soup.points) box.add(point);
    return box;
}

/// The triangles that reach into a box, and those round their points: the ways points count as moved stay what they
/// are.
TaggedTriangles reaching_into(const TaggedTriangles& soup, const Box& reach) {
    std::vector<char> wanted(soup.points.size(), 0);
    for (const auto& t : soup.triangles) {
        Box box = Box::nothing();
        for (const Index v : t) box.add(soup.points[v]);
        if (!box.touches(reach)) continue;
        for (const Index v : t) wanted[v] = 1;
    }
    TaggedTriangles out;
    std::vector<Index> number(soup.points.size(), no_index);
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        const auto& t = soup.triangles[i];
        if (std::ranges::none_of(t, [&](Index v) { return wanted[v]; })) continue;
        for (const Index v : t) number[v] = 0;
        out.triangles.push_back(t);
        out.tags.push_back(soup.tags[i]);
    }
    for (std::size_t v = 0; v < number.size(); ++v) {
        if (number[v] == no_index) continue;
        number[v] = static_cast<Index>(out.points.size());
        out.points.push_back(soup.points[v]);
    }
    for (auto& t : out.triangles)
        for (Index& v : t) v = number[v];
    return out;
}

/// Whether faces cross however one of them is moved a `little`: what only touches, or lies in one plane, comes clear.
Look sheets_held(const TaggedTriangles& a, const TaggedTriangles& b, double little) {
    Look out;
    const ShadowSurface p(a, -1);
    for (const int axis : {0, 1, 2})
        for (const double sign : {-1.0, 1.0}) {
            TaggedTriangles moved = b;
            for (DVec3& point : moved.points) point[axis] += sign * little;
            const ShadowSurface q(moved, 0);
            const Crossed crossed = crossings_of(p, q, false, false);
            if (crossed.of_p.empty() && crossed.of_q.empty()) return {};
            out.where = crossed.of_p.empty() ? crossed.of_q[0].at : crossed.of_p[0].at;
        }
    out.overlaps = true;
    return out;
}

/// Whether one box lies in the other: only then may a piece lie in another without crossing it.
bool one_in_the_other(const Box& a, const Box& b) {
    const DVec3 low = glm::min(a.low, b.low), high = glm::max(a.high, b.high);
    return (low == a.low && high == a.high) || (low == b.low && high == b.high);
}

/// What two pieces share.
Look held_against(const TaggedTriangles& a, const TaggedTriangles& b, bool closed_a, bool closed_b) {
    stop_point();
    const Box box_a = box_round(a), box_b = box_round(b);
    if (!box_a.touches(box_b)) return {};
    const double smaller = std::min(glm::length(box_a.size()), glm::length(box_b.size()));
    {
        // Mostly a small piece beside a large one: what lies out of reach is not prepared.
        const double little = closed_a && closed_b ? 0 : 1e-4 * smaller;
        Box reach{glm::max(box_a.low, box_b.low) - little, glm::min(box_a.high, box_b.high) + little};
        const TaggedTriangles near_a = reaching_into(a, reach), near_b = reaching_into(b, reach);
        if (near_a.triangles.empty() || near_b.triangles.empty()) {
            if (little > 0 || !one_in_the_other(box_a, box_b)) return {};
        } else if (little > 0) {
            return sheets_held(near_a, near_b, little);
        } else if (!one_in_the_other(box_a, box_b)) {
            const Crossed crossed = crossings_of(ShadowSurface(near_a, -1), ShadowSurface(near_b, 0), false, false);
            if (crossed.of_p.empty() && crossed.of_q.empty()) return {};
        }
    }
    Look out;
    const ShadowSurface p(a, -1), q(b, 0);
    const Crossed crossed = crossings_of(p, q, true, true);
    const auto any = [](const std::vector<std::int32_t>& windings) {
        return std::ranges::any_of(windings, [](std::int32_t w) { return w != 0; });
    };
    if (crossed.of_p.empty() && crossed.of_q.empty() && !any(crossed.winding_p) && !any(crossed.winding_q)) return out;
    const TaggedTriangles common = kept_parts(p, q, crossed, {0, 0, 1}, nullptr);
    if (common.triangles.empty()) return out;
    const Box box = box_round(common);
    out.volume = volume_of(common, box.centre());
    const double thick = 2 * out.volume / std::max(area_of(common), 1e-300);
    const DVec3 far = glm::max(glm::abs(box.low), glm::abs(box.high));
    out.overlaps = thick > 1e-5 * smaller + 1e-6 * std::max({far.x, far.y, far.z});
    out.where = common.points[0];
    const double least = std::min(volume_of(a, box_a.centre()), volume_of(b, box_b.centre()));
    out.inside = crossed.of_p.empty() && crossed.of_q.empty() && out.volume > (1 - 1e-6) * least;
    return out;
}

/// Making a pair ready to be held against each other costs as much as this many triangles of it (measured).
constexpr double faces_of_a_pair = 200;

/// Pairs whose boxes meet by more than a touch, in order, and whether these are all: every one of twenty thousand
/// pieces in one place would meet every other.
std::pair<std::vector<std::array<Index, 2>>, bool> near_pairs(const Bodies& bodies, Among among) {
    constexpr std::size_t most_pairs = 2000000;
    std::vector<Index> order(bodies.list.size());
    for (Index i = 0; i < order.size(); ++i) order[i] = i;
    const auto left = [&](Index i) { return bodies.list[i].box.low.x; };
    std::stable_sort(order.begin(), order.end(), [&](Index i, Index j) { return left(i) < left(j); });
    std::vector<std::array<Index, 2>> pairs;
    bool all = true;
    for (std::size_t i = 0; i < order.size() && all; ++i) {
        stop_point(i);
        const Body& a = bodies.list[order[i]];
        for (std::size_t j = i + 1; all && j < order.size() && left(order[j]) < a.box.high.x; ++j) {
            const Body& b = bodies.list[order[j]];
            // What stands in the same copy is looked at in the first of its kind only.
            if (!a.box.touches(b.box) || (among == Among::shapes && a.shape == b.shape)) continue;
            if (a.shape == b.shape && a.copy == b.copy && !a.first) continue;
            pairs.push_back({std::min(order[i], order[j]), std::max(order[i], order[j])});
            all = pairs.size() < most_pairs;
        }
    }
    std::size_t compared = 0;
    std::ranges::sort(pairs, [&compared](const auto& a, const auto& b) {
        stop_point(++compared);
        return a < b;
    });
    return {std::move(pairs), all};
}

/// How one piece stands to another, to a millionth: alike for the neighbours in a row.
std::vector<std::int64_t> standing(const Body& a, const Body& b) {
    const double size = std::max(glm::length(a.box.size()), 1e-12);
    const glm::dmat4 between = glm::inverse(a.place) * b.place;
    std::vector<std::int64_t> key = {a.piece, b.piece};
    for (int c = 0; c < 4; ++c)
        for (int r = 0; r < 3; ++r)
            key.push_back(std::llround(std::clamp(between[c][r] / (c == 3 ? size : 1.0), -1e9, 1e9) * 1e6));
    // The place itself says how large the piece stands there.
    for (int c = 0; c < 3; ++c) key.push_back(std::llround(glm::length(DVec3(a.place[c])) * 1e6));
    return key;
}

}  // namespace

void add_bodies(Bodies& bodies, const ShapePtr& shape, Index number, std::size_t most) {
    Index copy = 0;
    for (const PlacedMesh& placed : placed_meshes(shape)) {
        if (placed.shape->mesh.face_count() == 0) continue;
        std::vector<Index> pieces;
        for (BodyPiece& piece : body_pieces(placed.shape->mesh)) {
            stop_point(pieces.size());
            pieces.push_back(kept_piece(bodies, std::move(piece)));
        }
        for (std::size_t i = 0; i < placed.places.size(); ++i) {
            if (placed.shape != shape) ++copy;
            for (const Index p : pieces) {
                if (bodies.list.size() >= most) {
                    bodies.all = false;
                    return;
                }
                stop_point(bodies.list.size());
                Body body{p, glm::dmat4(placed.places[i]), Box::nothing(), copy, i == 0, number};
                for (const DVec3& at : bodies.pieces[p].soup.points)
                    body.box.add(DVec3(body.place * glm::dvec4(at, 1)));
                bodies.list.push_back(body);
            }
        }
    }
}

Overlaps overlaps_of(const Bodies& bodies, Among among, double most_faces) {
    Overlaps out;
    const auto [pairs, all_pairs] = near_pairs(bodies, among);
    // Pairs that stand alike, the first of each kind with those after it.
    std::map<std::vector<std::int64_t>, std::size_t> known;
    std::vector<std::size_t> kind(pairs.size()), firsts;
    double faces = 0;
    std::size_t looked_at = 0;
    for (; looked_at < pairs.size(); ++looked_at) {
        stop_point(looked_at);
        const Body &a = bodies.list[pairs[looked_at][0]], &b = bodies.list[pairs[looked_at][1]];
        const auto [at, fresh] = known.try_emplace(standing(a, b), firsts.size());
        if (fresh) {
            faces += static_cast<double>(bodies.pieces[a.piece].soup.triangles.size() +
                                         bodies.pieces[b.piece].soup.triangles.size()) +
                     faces_of_a_pair;
            if (faces > most_faces) break;
            firsts.push_back(looked_at);
        }
        kind[looked_at] = at->second;
    }
    out.all = all_pairs && looked_at == pairs.size();
    std::vector<Look> looks(firsts.size());
    parallel::each(std::size_t(0), firsts.size(), [&](std::size_t i) {
        const Body &a = bodies.list[pairs[firsts[i]][0]], &b = bodies.list[pairs[firsts[i]][1]];
        looks[i] = held_against(placed(bodies, a, DVec3(0)), placed(bodies, b, DVec3(0)), bodies.pieces[a.piece].closed,
                                bodies.pieces[b.piece].closed);
    });
    for (std::size_t i = 0; i < looked_at; ++i) {
        stop_point(i);
        const Look& look = looks[kind[i]];
        if (!look.overlaps) continue;
        // The place is told where this pair stands, not where the first of its kind does.
        const Body &a = bodies.list[pairs[i][0]], &like = bodies.list[pairs[firsts[kind[i]]][0]];
        const DVec3 where = DVec3(a.place * glm::inverse(like.place) * glm::dvec4(look.where, 1));
        out.pairs.push_back({pairs[i][0], pairs[i][1], look.volume, look.inside, where});
    }
    return out;
}

std::optional<double> clearing_move(const Bodies& bodies, const Overlap& pair) {
    const Body &a = bodies.list[pair.a], &b = bodies.list[pair.b];
    DVec3 way = b.box.centre() - a.box.centre();
    const double size = std::max(glm::length(a.box.size()), glm::length(b.box.size()));
    if (glm::length(way) < 1e-9 * size) return std::nullopt;
    way = glm::normalize(way);
    const TaggedTriangles still = placed(bodies, a, DVec3(0));
    const auto clear = [&](double move) {
        return !held_against(still, placed(bodies, b, way * move), bodies.pieces[a.piece].closed,
                             bodies.pieces[b.piece].closed)
                    .overlaps;
    };
    // Beyond this their boxes are apart.
    double reach = 1e300;
    for (int k = 0; k < 3; ++k)
        if (std::abs(way[k]) > 1e-9)
            reach = std::min(
                reach, (way[k] > 0 ? a.box.high[k] - b.box.low[k] : b.box.high[k] - a.box.low[k]) / std::abs(way[k]));
    const double smaller = std::min(glm::length(a.box.size()), glm::length(b.box.size()));
    reach = std::min(reach * (1 + 1e-6) + 1e-9 * size, 0.5 * smaller);
    constexpr int steps = 20;
    double touching = 0;
    for (int i = 1; i <= steps; ++i) {
        // Small moves first, in steps that grow with them.
        const double move = reach * (std::pow(1e3, static_cast<double>(i) / steps) - 1) / (1e3 - 1);
        for (const double sign : {1.0, -1.0}) {
            if (!clear(sign * move)) continue;
            double low = touching, high = move;
            while (high - low > 1e-3 * high) {
                const double middle = (low + high) / 2;
                (clear(sign * middle) ? high : low) = middle;
            }
            return sign * high;
        }
        touching = move;
    }
    return std::nullopt;
}

}  // namespace bricol
