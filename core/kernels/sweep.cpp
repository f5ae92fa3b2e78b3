// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/sweep.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/line_values.h"
#include "core/kernels/normals.h"
#include "core/kernels/sweep_wall.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/weld.h"
#include "core/ground/numbers.h"

namespace bricol {

namespace {

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
    give_path_values(result.mesh, path);
    if (vanishing) {  // rings without width become points
        WeldResult welded = weld(result.mesh, 1e-8, false);
        result.mesh = std::move(welded.mesh);
        if (welded.welded > 0)
            for (Mask* caps : {&result.start, &result.end}) {
                Mask left(welded.face_source.size());
                for (std::size_t f = 0; f < left.size(); ++f) left[f] = (*caps)[welded.face_source[f]];
                *caps = std::move(left);
            }
    }
    return result;
}

}  // namespace bricol
