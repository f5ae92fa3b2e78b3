// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/sweep.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/weld.h"
#include "core/ground/numbers.h"

namespace bricol {

namespace {

/// The section as it stands at one place: a plane, two directions in it and where it is along the path.
struct Ring {
    DVec3 at, right, up;  // lengths are the factors on the section
    DVec3 along;
    double share, length, factor;
    bool sharp;
};

double area_of(const SectionLoop& loop) {
    double sum = 0;
    for (std::size_t i = 0; i < loop.points.size(); ++i)
        sum += cross2(loop.points[i], loop.points[(i + 1) % loop.points.size()]);
    return sum / 2;
}

bool inside(const DVec2& p, const SectionLoop& loop) {
    bool in = false;
    for (std::size_t i = 0, j = loop.points.size() - 1; i < loop.points.size(); j = i++) {
        const DVec2 &a = loop.points[i], &b = loop.points[j];
        if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x) in = !in;
    }
    return in;
}

void turn_round(SectionLoop& loop) {
    std::reverse(loop.points.begin(), loop.points.end());
    std::reverse(loop.sharp.begin(), loop.sharp.end());
}

/// Loops as used: repeats dropped, outer ones counter-clockwise, holes clockwise. `owner` is the outer loop of a hole,
/// else itself.
std::vector<SectionLoop> split_at_sharp(std::span<const SectionLoop> section, std::vector<std::size_t>& owner) {
    std::vector<SectionLoop> loops;
    for (const SectionLoop& given : section) {
        SectionLoop loop;
        loop.closed = given.closed;
        for (std::size_t i = 0; i < given.points.size(); ++i) {
            stop_point(i);
            if (!loop.points.empty() && glm::distance(loop.points.back(), given.points[i]) < 1e-9) continue;
            loop.points.push_back(given.points[i]);
            loop.sharp.push_back(i < given.sharp.size() && given.sharp[i]);
        }
        while (loop.closed && loop.points.size() > 1 && glm::distance(loop.points.front(), loop.points.back()) < 1e-9)
            loop.points.pop_back(), loop.sharp.pop_back();
        if (loop.points.size() < 3) loop.closed = false;
        if (loop.points.size() > 1) loops.push_back(std::move(loop));
    }
    owner.resize(loops.size());
    std::vector<std::size_t> depth(loops.size(), 0);
    for (std::size_t i = 0; i < loops.size(); ++i) {
        owner[i] = i;
        if (!loops[i].closed) continue;
        double smallest = 1e300;
        for (std::size_t j = 0; j < loops.size(); ++j)
            if (j != i && loops[j].closed && inside(loops[i].points[0], loops[j])) {
                ++depth[i];
                if (const double area = std::abs(area_of(loops[j])); area < smallest) smallest = area, owner[i] = j;
            }
        if (depth[i] % 2 == 0) owner[i] = i;
    }
    for (std::size_t i = 0; i < loops.size(); ++i)
        if (loops[i].closed && (area_of(loops[i]) < 0) != (depth[i] % 2 == 1)) turn_round(loops[i]);
    return loops;
}

std::vector<Ring> rings_of(const Path& path, const SweepOptions& options, double closing, std::size_t& long_mitres) {
    std::vector<Ring> rings;
    const std::size_t count = path.size() + (path.closed ? 1 : 0);
    rings.reserve(count);
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t p = i % path.size();
        const Station& s = path.points[p];
        Ring ring{};
        ring.length = i == path.size() ? path.whole : path.length[p];
        ring.share = ring.length / path.whole;
        ring.factor = s.radius * (options.width ? options.width(ring.share) : 1);
        ring.at = s.at;
        ring.along = s.along;
        const double turn = options.roll + s.roll + (options.twist + closing) * ring.share, c = std::cos(turn),
                     n = std::sin(turn);
        ring.right = (s.right * c + s.up * n) * ring.factor;
        ring.up = (s.up * c - s.right * n) * ring.factor;
        if (path.sharp[p] && options.mitres) {
            // In the halving plane the section is longer along the bend by 1/cos of half the turn.
            const double half = path.turn_at(p) / 2;
            const double stretch = std::min(1 / std::max(std::cos(half), 1e-9), options.mitre_limit);
            long_mitres += i < path.size() && 1 / std::max(std::cos(half), 1e-9) > options.mitre_limit;
            const std::size_t n_points = path.size();
            const DVec3 in = glm::normalize(s.at - path.points[(p + n_points - 1) % n_points].at),
                        to = glm::normalize(path.points[(p + 1) % n_points].at - s.at);
            DVec3 bend = to - in;  // lies in the halving plane
            if (const double length = glm::length(bend); length > 1e-12) {
                bend /= length;
                ring.right += bend * (glm::dot(ring.right, bend) * (stretch - 1));
                ring.up += bend * (glm::dot(ring.up, bend) * (stretch - 1));
            }
        }
        ring.sharp = path.sharp[p] && path.turn_at(p) * 180 / pi > options.smooth_angle;
        rings.push_back(ring);
    }
    return rings;
}

void look_for_tight_bends(const Path& path, const std::vector<SectionLoop>& loops, const std::vector<Ring>& rings,
                          std::vector<TightBend>& tight) {
    std::vector<DVec2> hull;  // enough of it: the section's own points
    for (const SectionLoop& loop : loops) hull.insert(hull.end(), loop.points.begin(), loop.points.end());
    double reach = 0;
    for (const DVec2& p : hull) reach = std::max(reach, glm::length(p));
    bool running = false;
    for (std::size_t i = 0; i < path.size(); ++i) {
        DVec3 inward(0);
        const double radius = path.bend_at(i, &inward);
        const Ring& ring = rings[i];
        double needs = 0;
        if (!path.sharp[i] && radius < reach * std::abs(ring.factor))
            for (const DVec2& p : hull) needs = std::max(needs, glm::dot(ring.right * p.x + ring.up * p.y, inward));
        if (needs <= radius * (1 + 1e-4)) {
            running = false;
            continue;
        }
        const TightBend here{Vec3(ring.at), radius, needs};
        if (!running)
            tight.push_back(here);
        else if (radius - needs < tight.back().radius - tight.back().needs)
            tight.back() = here;
        running = true;
    }
}

/// Everything of the mesh while it grows.
struct SweepBuilder {
    Array<Vec3> positions;
    Array<std::array<Index, 2>> edges;
    Array<Index> offsets{0}, corner_vertex, corner_edge;
    Array<Vec2> uv;
    Array<Vec3> normal;   ///< of corners, or of vertices when everything is smooth
    bool corners = true;  ///< which of the two
    Array<float> along;
    std::vector<std::uint8_t> cap;  // per face: 0 wall, 1 start, 2 end

    void corner(Index vertex, Index edge, const Vec2& at, const Vec3& facing) {
        corner_vertex.push_back(vertex);
        corner_edge.push_back(edge);
        uv.push_back(at);
        if (corners) normal.push_back(facing);
    }
    void close_face(std::uint8_t kind) {
        offsets.push_back(static_cast<Index>(corner_vertex.size()));
        cap.push_back(kind);
    }
};

/// A loop's own rings: the path's, and those of round caps. The first and last may be a single point.
struct LoopRings {
    std::vector<Ring> rings;
    bool pole_start = false, pole_end = false;
};

LoopRings with_round_caps(const SectionLoop& loop, const std::vector<Ring>& rings, const SweepOptions& options,
                          bool closed_path) {
    LoopRings out;
    if (options.caps != SweepCaps::round || !loop.closed || closed_path) {
        out.rings = rings;
        return out;
    }
    DVec2 low(1e300), high(-1e300);
    for (const DVec2& p : loop.points) low = glm::min(low, p), high = glm::max(high, p);
    const DVec2 middle = (low + high) * 0.5;
    const double reach = (high.x - low.x + high.y - low.y) / 4;
    const int count = std::max(1, options.cap_rings);
    const auto add = [&](const Ring& end, double side) {
        for (int k = 1; k <= count; ++k) {
            const int step = side < 0 ? count + 1 - k : k;
            const double angle = pi / 2 * step / count, shrink = step == count ? 0 : std::cos(angle);
            Ring ring = end;
            ring.at += end.along * (side * reach * std::abs(end.factor) * std::sin(angle)) +
                       (end.right * middle.x + end.up * middle.y) * (1 - shrink);
            ring.right *= shrink;
            ring.up *= shrink;
            ring.sharp = false;
            out.rings.push_back(ring);
        }
    };
    add(rings.front(), -1);
    out.rings.insert(out.rings.end(), rings.begin(), rings.end());
    add(rings.back(), 1);
    out.pole_start = out.pole_end = true;
    return out;
}

struct LoopPlace {
    Index first_vertex = 0, last_vertex = 0, first_edge = 0, last_edge = 0;  // of the rings at either end
    Index count = 0;
};

/// Unit direction of the section at each point, before and behind it; the same where it is smooth.
void section_slopes(const SectionLoop& loop, double smooth_angle, std::vector<DVec2>& before,
                    std::vector<DVec2>& behind) {
    const std::size_t m = loop.points.size();
    before.assign(m, DVec2(0));
    behind.assign(m, DVec2(0));
    for (std::size_t j = 0; j < m; ++j) {
        if (loop.closed || j > 0) before[j] = glm::normalize(loop.points[j] - loop.points[(j + m - 1) % m]);
        if (loop.closed || j + 1 < m) behind[j] = glm::normalize(loop.points[(j + 1) % m] - loop.points[j]);
        if (!loop.closed && j == 0) before[j] = behind[j];
        if (!loop.closed && j + 1 == m) behind[j] = before[j];
        const double turn =
            std::atan2(std::abs(cross2(before[j], behind[j])), glm::dot(before[j], behind[j])) * 180 / pi;
        if (turn <= smooth_angle && glm::length(before[j] + behind[j]) > 1e-6)
            before[j] = behind[j] = glm::normalize(before[j] + behind[j]);
    }
}

LoopPlace add_wall(SweepBuilder& out, const SectionLoop& loop, const LoopRings& along, bool closed_path,
                   const SweepOptions& options) {
    const std::size_t m = loop.points.size(), n = along.rings.size();
    const auto columns = static_cast<Index>(m), pieces = static_cast<Index>(loop.closed ? m : m - 1);
    const std::size_t spans = n - 1;
    const auto is_pole = [&](std::size_t i) { return (i == 0 && along.pole_start) || (i + 1 == n && along.pole_end); };
    // Ring i stands at these; the last ring of a closed path is the first one again.
    std::vector<Index> vertex_base(n), ring_edge(n), span_edge(spans);
    Index vertex = static_cast<Index>(out.positions.size()), edge = static_cast<Index>(out.edges.size());
    for (std::size_t i = 0; i < n; ++i) {
        if (closed_path && i + 1 == n) {
            vertex_base[i] = vertex_base[0], ring_edge[i] = ring_edge[0];
            break;
        }
        vertex_base[i] = vertex, ring_edge[i] = edge;
        vertex += is_pole(i) ? 1 : columns;
        edge += is_pole(i) ? 0 : pieces;
    }
    for (std::size_t k = 0; k < spans; ++k) span_edge[k] = edge, edge += columns;
    out.positions.resize(vertex);
    out.along.resize(vertex);
    out.edges.resize(edge);

    std::vector<DVec2> before, behind;
    section_slopes(loop, options.smooth_angle, before, behind);
    std::vector<float> round(columns + 1, 0);
    double about = 0;
    for (Index j = 0; j < pieces; ++j)
        about += glm::distance(loop.points[j], loop.points[(j + 1) % m]), round[j + 1] = static_cast<float>(about);
    if (!options.real_uvs)
        for (float& r : round) r = static_cast<float>(r / about);

    // How fast a ring moves on: its middle and its two directions, central over both spans or one side at a break.
    // Every column's motion is made of these.
    struct Motion {
        DVec3 at, right, up;
    };
    double reach = 0;
    for (const DVec2& p : loop.points) reach = std::max(reach, glm::length(p));
    const auto motion_at = [&](std::size_t i, bool arriving) {
        const Ring& ring = along.rings[i];
        const bool wraps = closed_path && (i == 0 || i + 1 == n);
        std::size_t a = i > 0 ? i - 1 : wraps ? n - 2 : 0, b = i + 1 < n ? i + 1 : wraps ? 1 : n - 1;
        if (ring.sharp) (arriving ? b : a) = i;
        const Ring &last = along.rings[a], &next = along.rings[b];
        const auto step = [&](const Ring& from, const Ring& to) {
            return glm::distance(from.at, to.at) +
                   reach * (glm::distance(from.right, to.right) + glm::distance(from.up, to.up)) / 2;
        };
        const double from = step(last, ring), to = step(ring, next);
        // Weighted towards the nearer neighbour.
        const double back = from > 0 && to > 0 ? to / from : 1, ahead = from > 0 && to > 0 ? from / to : 1;
        return Motion{(ring.at - last.at) * back + (next.at - ring.at) * ahead,
                      (ring.right - last.right) * back + (next.right - ring.right) * ahead,
                      (ring.up - last.up) * back + (next.up - ring.up) * ahead};
    };
    struct Row {  ///< normals of a ring's points, before and behind each
        std::vector<Vec3> before, behind;
    };
    Row begin{std::vector<Vec3>(m), std::vector<Vec3>(m)}, end = begin;
    const auto fill_row = [&](Row& into, std::size_t i, bool arriving) {
        const Ring& ring = along.rings[i];
        if (is_pole(i)) {
            const Vec3 out_there(i == 0 ? -ring.along : ring.along);
            std::ranges::fill(into.before, out_there), std::ranges::fill(into.behind, out_there);
            return;
        }
        const Motion motion = motion_at(i, arriving);
        // Without width here the neighbour says how the section runs.
        const Ring& like = glm::dot(ring.right, ring.right) < 1e-24 ? along.rings[i + 1 < n ? i + 1 : i - 1] : ring;
        const double hand = ring.factor < 0 ? -1 : 1;
        const auto facing = [&](std::size_t j, const DVec2& slope) {
            const DVec3 normal = glm::cross(motion.at + motion.right * loop.points[j].x + motion.up * loop.points[j].y,
                                            like.right * slope.x + like.up * slope.y);
            const double length = glm::length(normal);
            return length > 0 ? Vec3(normal * (hand / length)) : Vec3(0, 0, 1);
        };
        for (std::size_t j = 0; j < m; ++j) {
            into.before[j] = facing(j, before[j]);
            into.behind[j] = before[j] == behind[j] ? into.before[j] : facing(j, behind[j]);
        }
    };
    for (std::size_t i = 0; i < n; ++i) {
        if (closed_path && i + 1 == n) break;
        const Ring& ring = along.rings[i];
        const auto base = vertex_base[i];
        if (is_pole(i)) {
            out.positions[base] = Vec3(ring.at);
            out.along[base] = static_cast<float>(ring.share);
            continue;
        }
        for (Index j = 0; j < columns; ++j) {
            out.positions[base + j] = Vec3(ring.at + ring.right * loop.points[j].x + ring.up * loop.points[j].y);
            out.along[base + j] = static_cast<float>(ring.share);
        }
        for (Index j = 0; j < pieces; ++j)
            out.edges[ring_edge[i] + j] = {base + j, base + (j + 1 == columns ? 0 : j + 1)};
    }
    if (!out.corners) out.normal.resize(vertex);
    const std::size_t faces = spans * pieces, first_corner = out.corner_vertex.size(), first_face = out.offsets.size();
    const std::size_t corner_count =
        faces * 4 - pieces * (static_cast<std::size_t>(along.pole_start) + static_cast<std::size_t>(along.pole_end));
    out.offsets.resize(first_face + faces);
    out.cap.resize(out.cap.size() + faces, 0);
    out.corner_vertex.resize(first_corner + corner_count);
    out.corner_edge.resize(first_corner + corner_count);
    out.uv.resize(first_corner + corner_count);
    if (out.corners) out.normal.resize(first_corner + corner_count);
    Index* corner_vertex = out.corner_vertex.data();
    Index* corner_edge = out.corner_edge.data();
    Vec2* uv = out.uv.data();
    Vec3* normal = out.normal.data();
    auto at = static_cast<Index>(first_corner);
    std::size_t face = first_face;
    const auto put = [&](Index which, Index side, float u, float v, const Vec3& facing) {
        corner_vertex[at] = which;
        corner_edge[at] = side;
        uv[at] = {u, v};
        if (out.corners) normal[at] = facing;
        ++at;
    };
    const auto keep_row = [&](std::size_t i, const Row& row) {  // everything smooth: one normal a vertex
        for (Index j = 0; j < (is_pole(i) ? 1 : columns); ++j) normal[vertex_base[i] + j] = row.behind[j];
    };
    fill_row(begin, 0, false);
    if (!out.corners) keep_row(0, begin);
    for (std::size_t k = 0; k < spans; ++k) {
        stop_point();
        const Index low = vertex_base[k], high = vertex_base[k + 1], across = span_edge[k], low_ring = ring_edge[k],
                    high_ring = ring_edge[k + 1];
        const bool pole_low = is_pole(k), pole_high = is_pole(k + 1);
        for (Index j = 0; j < columns; ++j)
            out.edges[across + j] = {pole_low ? low : low + j, pole_high ? high : high + j};
        fill_row(end, k + 1, true);
        if (!out.corners && !(closed_path && k + 1 == spans)) keep_row(k + 1, end);
        const Ring &a = along.rings[k], &b = along.rings[k + 1];
        const auto v0 = static_cast<float>(options.real_uvs ? a.length : a.share),
                   v1 = static_cast<float>(options.real_uvs ? b.length : b.share);
        for (Index j = 0; j < pieces; ++j) {
            const Index j1 = j + 1 == columns ? 0 : j + 1;
            const float u0 = round[j], u1 = round[j + 1];
            if (pole_low) {
                put(low, across + j, (u0 + u1) / 2, v0, begin.behind[j]);
            } else {
                put(low + j, across + j, u0, v0, begin.behind[j]);
            }
            if (pole_high) {
                put(high, across + j1, (u0 + u1) / 2, v1, end.behind[j]);
            } else {
                put(high + j, high_ring + j, u0, v1, end.behind[j]);
                put(high + j1, across + j1, u1, v1, end.before[j1]);
            }
            if (!pole_low) put(low + j1, low_ring + j, u1, v0, begin.before[j1]);
            out.offsets[face++] = at;
        }
        if (along.rings[k + 1].sharp)
            fill_row(begin, k + 1, false);
        else
            std::swap(begin, end);
    }
    return {vertex_base.front(), vertex_base[n - 1], ring_edge.front(), ring_edge[n - 1], columns};
}

/// One flat cap: an outer loop and the holes in it.
void add_cap(SweepBuilder& out, const std::vector<SectionLoop>& loops, const std::vector<LoopPlace>& places,
             const std::vector<std::size_t>& members, const Ring& ring, bool at_start, const SweepOptions& options) {
    const double hand = at_start ? -1 : 1;
    const Vec3 facing(glm::normalize(ring.along) * hand);
    DVec2 low(1e300), high(-1e300);
    for (const std::size_t l : members)
        for (const DVec2& p : loops[l].points) low = glm::min(low, p), high = glm::max(high, p);
    const double size = options.real_uvs ? 1 : std::max({high.x - low.x, high.y - low.y, 1e-12});
    const auto uv = [&](const DVec2& p) { return Vec2((p - (options.real_uvs ? DVec2(0) : low)) / size); };
    const auto base = [&](std::size_t l) { return at_start ? places[l].first_vertex : places[l].last_vertex; };
    const auto ring_base = [&](std::size_t l) { return at_start ? places[l].first_edge : places[l].last_edge; };
    if (members.size() == 1) {
        const std::size_t l = members[0];
        const Index m = places[l].count;
        for (Index s = 0; s < m; ++s) {
            const Index j = at_start ? s : m - 1 - s;
            const Index edge = at_start ? j : (j + m - 1) % m;
            out.corner(base(l) + j, ring_base(l) + edge, uv(loops[l].points[j]), facing);
        }
        out.close_face(at_start ? 1 : 2);
        return;
    }
    std::vector<std::vector<DVec2>> flat;
    std::vector<std::pair<std::size_t, Index>> source;
    for (const std::size_t l : members) {
        flat.push_back(loops[l].points);
        for (Index j = 0; j < places[l].count; ++j) source.emplace_back(l, j);
    }
    std::map<std::pair<Index, Index>, Index> known;
    for (const std::size_t l : members)
        for (Index j = 0; j < places[l].count; ++j) {
            const auto edge = out.edges[ring_base(l) + j];
            known[{std::min(edge[0], edge[1]), std::max(edge[0], edge[1])}] = ring_base(l) + j;
        }
    for (const auto& triangle : triangulate_loops(flat)) {
        std::array<int, 3> t = triangle;
        const auto at = [&](int i) { return loops[source[i].first].points[source[i].second]; };
        // Counter-clockwise in (right, up) faces back along the path.
        if ((cross2(at(t[1]) - at(t[0]), at(t[2]) - at(t[0])) > 0) != at_start) std::swap(t[1], t[2]);
        for (int s = 0; s < 3; ++s) {
            const auto [l, j] = source[t[s]];
            const auto [l2, j2] = source[t[(s + 1) % 3]];
            const Index a = base(l) + j, b = base(l2) + j2;
            const auto [it, fresh] =
                known.try_emplace({std::min(a, b), std::max(a, b)}, static_cast<Index>(out.edges.size()));
            if (fresh) out.edges.push_back({a, b});
            out.corner(a, it->second, uv(loops[l].points[j]), facing);
        }
        out.close_face(at_start ? 1 : 2);
    }
}

/// Whether some corner needs a normal of its own: breaks of the section or the path, or flat caps.
bool needs_corners(const std::vector<SectionLoop>& loops, const std::vector<Ring>& rings, const SweepOptions& options,
                   bool closed_path) {
    for (const Ring& ring : rings)
        if (ring.sharp) return true;
    std::vector<DVec2> before, behind;
    for (const SectionLoop& loop : loops) {
        if (options.caps == SweepCaps::flat && !closed_path && loop.closed) return true;
        section_slopes(loop, options.smooth_angle, before, behind);
        if (before != behind) return true;
    }
    return false;
}

}  // namespace

SectionLoop round_section(double radius, int sides) {
    SectionLoop loop;
    for (int i = 0; i < sides; ++i) {
        const double angle = 2 * pi * i / sides;
        loop.points.emplace_back(radius * std::cos(angle), radius * std::sin(angle));
    }
    loop.sharp.assign(loop.points.size(), 0);
    return loop;
}

SectionLoop rectangle_section(double width, double height) {
    SectionLoop loop;
    loop.points = {
        {-width / 2, -height / 2}, {width / 2, -height / 2}, {width / 2, height / 2}, {-width / 2, height / 2}};
    loop.sharp.assign(4, 1);
    return loop;
}

std::vector<SectionLoop> sections_from(std::span<const Polyline> lines, bool to_middle, double* left_out) {
    DVec3 low(1e300), high(-1e300);
    for (const Polyline& line : lines)
        for (const Vec3& p : line.points) low = glm::min(low, DVec3(p)), high = glm::max(high, DVec3(p));
    const DVec3 size = high - low;
    // Flat views: front x and z, side y and z, top x and y.
    int across = 0, up = 2, away = 1;
    if (size.x < size.y && size.x < size.z)
        across = 1, away = 0;
    else if (size.z < size.y)
        up = 1, away = 2;
    if (left_out) *left_out = lines.empty() ? 0 : size[away];
    const DVec3 origin = to_middle ? (low + high) * 0.5 : DVec3(0);
    std::vector<SectionLoop> loops;
    for (const Polyline& line : lines) {
        SectionLoop loop;
        loop.closed = line.closed;
        for (const Vec3& p : line.points) loop.points.emplace_back(p[across] - origin[across], p[up] - origin[up]);
        loop.sharp = line.sharp;
        loops.push_back(std::move(loop));
    }
    return loops;
}

SweepResult sweep(const Path& path, std::span<const SectionLoop> section, const SweepOptions& options) {
    SweepResult result;
    std::vector<std::size_t> owner;
    const std::vector<SectionLoop> loops = split_at_sharp(section, owner);
    if (path.size() < 2 || loops.empty()) return result;
    // On a closed path the section has to meet itself: what twist and knots leave over, a full turn taken away, is
    // told.
    double closing = 0;
    if (path.closed) {
        const double over = std::remainder(options.twist, 2 * pi);
        result.closing_gap = over * 180 / pi;
        closing = -over;
    }
    const std::vector<Ring> rings = rings_of(path, options, closing, result.long_mitres);
    look_for_tight_bends(path, loops, rings, result.tight);

    SweepBuilder out;
    out.corners = needs_corners(loops, rings, options, path.closed);
    std::vector<LoopPlace> places;
    bool vanishing = false;
    for (const Ring& ring : rings) vanishing |= std::abs(ring.factor) < 1e-9;
    for (const SectionLoop& loop : loops) {
        places.push_back(add_wall(out, loop, with_round_caps(loop, rings, options, path.closed), path.closed, options));
        stop_point();
    }
    if (options.caps == SweepCaps::flat && !path.closed)
        for (const bool at_start : {true, false}) {
            const Ring& ring = at_start ? rings.front() : rings.back();
            if (std::abs(ring.factor) < 1e-9) continue;
            for (std::size_t l = 0; l < loops.size(); ++l) {
                if (!loops[l].closed || owner[l] != l) continue;
                std::vector<std::size_t> members{l};
                for (std::size_t hole = 0; hole < loops.size(); ++hole)
                    if (hole != l && owner[hole] == l) members.push_back(hole);
                add_cap(out, loops, places, members, ring, at_start, options);
            }
        }
    auto topology = std::make_shared<Topology>();
    topology->vertex_count = static_cast<Index>(out.positions.size());
    topology->edges = std::move(out.edges);
    topology->face_offsets = std::move(out.offsets);
    topology->corner_vertex = std::move(out.corner_vertex);
    topology->corner_edge = std::move(out.corner_edge);
    result.start.resize(out.cap.size());
    result.end.resize(out.cap.size());
    for (std::size_t f = 0; f < out.cap.size(); ++f) result.start[f] = out.cap[f] == 1, result.end[f] = out.cap[f] == 2;
    const std::shared_ptr<const Topology> made = std::move(topology);
    result.mesh = Mesh(std::move(out.positions), made);
    result.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(out.uv));
    result.mesh.attributes.set(out.corners ? Domain::corner : Domain::vertex, attribute_name::normal,
                               std::move(out.normal));
    result.mesh.attributes.set(Domain::vertex, "along", std::move(out.along));
    if (vanishing) {  // rings without width become points
        result.mesh.attributes.set(Domain::face, "sweep start", Column(result.start));
        result.mesh.attributes.set(Domain::face, "sweep end", Column(result.end));
        result.mesh = weld(result.mesh, 1e-8, false).mesh;
        result.start = *result.mesh.attributes.values<std::uint8_t>(Domain::face, "sweep start");
        result.end = *result.mesh.attributes.values<std::uint8_t>(Domain::face, "sweep end");
        result.mesh.attributes.remove(Domain::face, "sweep start");
        result.mesh.attributes.remove(Domain::face, "sweep end");
    }
    return result;
}

}  // namespace bricol
