// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/curve_edit.h"
#include "core/ground/stop.h"
#include "core/kernels/cubic.h"
#include "core/shape/knot_values.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <polyclipping/clipper.hpp>

namespace bricol {

namespace {

struct CubicSpan {
    DVec3 a, b, c, d;
    DVec3 at(double t) const { return cubic_at({a, b, c, d}, t); }
    double speed(double t) const { return 3 * glm::length(cubic_way({a, b, c, d}, t)); }
    /// Length from 0 to t: Gauss-Legendre with five points on 16 pieces (nodes: M. Abramowitz and I. Stegun,
    /// table 25.4).
    double length(double t) const {
        constexpr double node[5] = {0, 0.5384693101056831, -0.5384693101056831, 0.9061798459386640,
                                    -0.9061798459386640};
        constexpr double weight[5] = {0.5688888888888889, 0.4786286704993665, 0.4786286704993665, 0.2369268850561891,
                                      0.2369268850561891};
        double sum = 0;
        for (int k = 0; k < 16; ++k)
            for (int g = 0; g < 5; ++g) sum += weight[g] * speed(t * (k + 0.5 + node[g] / 2) / 16);
        return sum * t / 32;
    }
    double parameter(double wanted) const {
        double low = 0, high = 1;
        const double whole = length(1);
        for (int round = 0; round < 60 && (high - low) * whole > 1e-10 * whole; ++round) {
            const double middle = (low + high) / 2;
            (length(middle) < wanted ? low : high) = middle;
        }
        return (low + high) / 2;
    }
};

CubicSpan span_of(const Knot& p, const Knot& q) {
    const DVec3 a(p.at), d(q.at);
    if (p.out == Vec3(0) && q.in == Vec3(0))
        return {a, a + (d - a) / 3.0, d - (d - a) / 3.0, d};  // straight, at even speed
    return {a, a + DVec3(p.out), d + DVec3(q.in), d};
}

/// Knot inside a span; the handles of its neighbours shrink with it.
Knot parted(Knot& before, Knot& behind, double t) {
    const CubicSpan s = span_of(before, behind);
    const DVec3 ab = s.a + (s.b - s.a) * t, bc = s.b + (s.c - s.b) * t, cd = s.c + (s.d - s.c) * t;
    const DVec3 abc = ab + (bc - ab) * t, bcd = bc + (cd - bc) * t, at = abc + (bcd - abc) * t;
    const bool straight = before.out == Vec3(0) && behind.in == Vec3(0);
    Knot knot = before;
    knot.kind = straight ? KnotKind::corner : KnotKind::free;
    knot.fillet = 0;
    knot.source = -1;
    knot.radius = static_cast<float>(before.radius + (behind.radius - before.radius) * t);
    knot.roll = static_cast<float>(before.roll + (behind.roll - before.roll) * t);
    knot.values = blended(before.values, behind.values, t);
    if (straight) {
        knot.at = Vec3(s.a + (s.d - s.a) * t);
        knot.in = knot.out = Vec3(0);
        return knot;
    }
    knot.at = Vec3(at);
    knot.in = Vec3(abc - at);
    knot.out = Vec3(bcd - at);
    before.out = Vec3(ab - s.a);
    behind.in = Vec3(cd - s.d);
    return knot;
}

/// Handles written out, so that knots can be parted without their neighbours' say.
std::vector<Knot> plain_knots(const Curve& curve) {
    Curve filleted = with_fillets(curve);
    std::vector<Knot> knots = with_handles(filleted);
    for (Knot& knot : knots)
        if (knot.kind == KnotKind::smooth) knot.kind = KnotKind::free;
    return knots;
}

DVec3 leaving(const Curve& curve, bool at_end) {
    const std::vector<Knot> knots = plain_knots(curve);
    const Knot &end = at_end ? knots.back() : knots.front(), &next = at_end ? knots[knots.size() - 2] : knots[1];
    DVec3 d = at_end ? -DVec3(end.in) : -DVec3(end.out);
    if (glm::length(d) < 1e-12) {
        const DVec3 other = DVec3(next.at) + DVec3(at_end ? next.out : next.in);
        d = DVec3(end.at) - other;
    }
    return glm::length(d) > 1e-15 ? glm::normalize(d) : DVec3(0);
}

bool straight_end(const Curve& curve, bool at_end) {
    const Knot &a = at_end ? curve.knots.back() : curve.knots.front(),
               &b = at_end ? curve.knots[curve.knots.size() - 2] : curve.knots[1];
    return a.kind == KnotKind::corner && b.kind == KnotKind::corner;
}

}  // namespace

Curve reversed(const Curve& curve) {
    Curve out = curve;
    std::reverse(out.knots.begin(), out.knots.end());
    for (Knot& knot : out.knots) {
        std::swap(knot.in, knot.out);
        knot.roll = -knot.roll;
    }
    // A closed curve keeps its first knot.
    if (out.closed && out.knots.size() > 1) std::rotate(out.knots.begin(), out.knots.end() - 1, out.knots.end());
    return out;
}

double length_of(const Curve& curve) {
    const std::vector<Knot> knots = plain_knots(curve);
    double sum = 0;
    for (std::size_t i = 0; i + 1 < knots.size(); ++i) sum += span_of(knots[i], knots[i + 1]).length(1);
    if (curve.closed && knots.size() > 1) sum += span_of(knots.back(), knots.front()).length(1);
    return sum;
}

Curve trimmed(const Curve& curve, double from, double to) {
    Curve out = curve;
    std::vector<Knot> knots = plain_knots(curve);
    if (knots.size() < 2) return out;
    const bool closed = curve.closed;
    if (closed) knots.push_back(knots.front());
    std::vector<double> start{0};
    for (std::size_t i = 0; i + 1 < knots.size(); ++i)
        start.push_back(start.back() + span_of(knots[i], knots[i + 1]).length(1));
    const double whole = start.back();
    if (closed) {
        if (to > from && to - from >= whole - 1e-12) return curve;
        from = std::fmod(std::fmod(from, whole) + whole, whole);
        to = std::fmod(std::fmod(to, whole) + whole, whole);
        if (to <= from) {  // over the start: go round twice
            const std::size_t n = knots.size();
            for (std::size_t i = 1; i < n; ++i) knots.push_back(knots[i]), start.push_back(whole + start[i]);
            to += whole;
        }
    }
    out.closed = false;
    const auto point = [&](double where) {  // index of a knot there, made when it must be
        const double held = std::clamp(where, 0.0, start.back());
        for (std::size_t i = 0; i < knots.size(); ++i)
            if (std::abs(start[i] - held) < 1e-9 * std::max(whole, 1e-9)) return i;
        const auto i = static_cast<std::size_t>(std::upper_bound(start.begin(), start.end(), held) - start.begin()) - 1;
        const Knot fresh = parted(knots[i], knots[i + 1], span_of(knots[i], knots[i + 1]).parameter(held - start[i]));
        knots.insert(knots.begin() + static_cast<std::ptrdiff_t>(i) + 1, fresh);
        start.insert(start.begin() + static_cast<std::ptrdiff_t>(i) + 1, held);
        return i + 1;
    };
    if (from > to) std::swap(from, to);
    const std::size_t a = point(from), b = point(to);
    out.knots.assign(knots.begin() + static_cast<std::ptrdiff_t>(a),
                     knots.begin() + static_cast<std::ptrdiff_t>(b) + 1);
    if (out.knots.size() < 2 || closed) return out;
    const auto extend = [&](bool at_end, double by) {
        const DVec3 way = leaving(out, at_end);
        Knot& end = at_end ? out.knots.back() : out.knots.front();
        Knot fresh = end;
        fresh.kind = KnotKind::corner;
        fresh.in = fresh.out = Vec3(0);
        fresh.at = Vec3(DVec3(end.at) + way * by);
        fresh.source = -1;
        const Knot& next = at_end ? out.knots[out.knots.size() - 2] : out.knots[1];
        if (end.kind == KnotKind::corner && next.kind == KnotKind::corner) {
            end.at = fresh.at;  // a straight end only grows
            return;
        }
        out.knots.insert(at_end ? out.knots.end() : out.knots.begin(), fresh);
    };
    if (from < 0) extend(false, -from);
    if (to > whole) extend(true, to - whole);
    return out;
}

namespace {

/// Where two straight ends meet when led on, if they do within reach and nearly in one place.
bool meeting(const Curve& a, bool a_end, const Curve& b, bool b_end, const JoinOptions& options, DVec3& at) {
    if (options.reach <= 0 || !straight_end(a, a_end) || !straight_end(b, b_end)) return false;
    const DVec3 p(a_end ? a.knots.back().at : a.knots.front().at), q(b_end ? b.knots.back().at : b.knots.front().at);
    const DVec3 u = leaving(a, a_end), v = leaving(b, b_end), w = p - q;
    const double uv = glm::dot(u, v), denominator = 1 - uv * uv;
    if (denominator < 1e-8) return false;
    const double s = (uv * glm::dot(v, w) - glm::dot(u, w)) / denominator,
                 t = (glm::dot(v, w) - uv * glm::dot(u, w)) / denominator;
    const DVec3 x = p + u * s, y = q + v * t;
    if (std::abs(s) > options.reach || std::abs(t) > options.reach ||
        glm::distance(x, y) > std::max(options.within, 1e-9))
        return false;
    // Cutting back must leave something of both.
    const auto length = [](const Curve& c, bool end) {
        return glm::distance(DVec3(end ? c.knots.back().at : c.knots.front().at),
                             DVec3(end ? c.knots[c.knots.size() - 2].at : c.knots[1].at));
    };
    if (s <= -length(a, a_end) || t <= -length(b, b_end)) return false;
    at = (x + y) * 0.5;
    return true;
}

}  // namespace

JoinResult joined_curves(std::span<const Curve> curves, const JoinOptions& options) {
    JoinResult result;
    std::vector<Curve> open;
    for (const Curve& curve : curves) {
        if (curve.closed || curve.knots.size() < 2) {
            result.curves.push_back(curve);
            continue;
        }
        Curve own = curve;
        own.knots = with_handles(curve);
        for (Knot& knot : own.knots)
            if (knot.kind == KnotKind::smooth) knot.kind = KnotKind::free;
        open.push_back(std::move(own));
    }
    std::vector<std::uint8_t> used(open.size(), 0);
    // One knot where the end of `a` meets the start of `b`.
    const auto meet = [&](Knot& a, const Knot& b, const DVec3& at) {
        a.at = Vec3(at);
        a.out = b.out;
        const bool bent = a.in != Vec3(0) || a.out != Vec3(0);
        a.kind = bent ? KnotKind::free : KnotKind::corner;
        a.fillet = options.fillet;
        a.source = -1;
        a.values = of_one_knot(a.values, b.values);
    };
    for (std::size_t first = 0; first < open.size(); ++first) {
        if (used[first]) continue;
        used[first] = 1;
        Curve chain = open[first];
        for (int side = 0; side < 2; ++side) {  // grow at the end, then turn round and grow at the other
            while (true) {
                std::size_t best = open.size();
                bool best_end = false;
                DVec3 best_at(0);
                double nearest = 1e300;
                const DVec3 end(chain.knots.back().at);
                for (std::size_t i = 0; i < open.size(); ++i) {
                    if (used[i]) continue;
                    for (const bool at_end : {false, true}) {
                        const DVec3 other(at_end ? open[i].knots.back().at : open[i].knots.front().at);
                        const double distance = glm::distance(end, other);
                        DVec3 at = (end + other) * 0.5;
                        if (distance > options.within && !meeting(chain, true, open[i], at_end, options, at)) continue;
                        if (distance < nearest) nearest = distance, best = i, best_end = at_end, best_at = at;
                    }
                }
                if (best == open.size()) break;
                used[best] = 1;
                const Curve next = best_end ? reversed(open[best]) : open[best];
                meet(chain.knots.back(), next.knots.front(), best_at);
                chain.knots.insert(chain.knots.end(), next.knots.begin() + 1, next.knots.end());
                ++result.joined;
            }
            if (side == 0) chain = reversed(chain);
        }
        if (options.close && chain.knots.size() > 2) {
            DVec3 at = (DVec3(chain.knots.front().at) + DVec3(chain.knots.back().at)) * 0.5;
            if (glm::distance(DVec3(chain.knots.front().at), DVec3(chain.knots.back().at)) <= options.within ||
                meeting(chain, true, chain, false, options, at)) {
                meet(chain.knots.back(), chain.knots.front(), at);
                chain.knots.front() = chain.knots.back();
                chain.knots.pop_back();
                chain.closed = true;
                ++result.joined;
            }
        }
        result.curves.push_back(std::move(chain));
    }
    std::vector<std::pair<std::size_t, Vec3>> ends;
    for (std::size_t i = 0; i < result.curves.size(); ++i)
        if (!result.curves[i].closed && !result.curves[i].knots.empty())
            ends.emplace_back(i, result.curves[i].knots.front().at),
                ends.emplace_back(i, result.curves[i].knots.back().at);
    for (std::size_t i = 0; i < ends.size() && ends.size() < 4000; ++i)
        for (std::size_t j = i + 1; j < ends.size(); ++j)
            if (const double d = glm::distance(DVec3(ends[i].second), DVec3(ends[j].second));
                d < result.nearest_miss && (ends[i].first != ends[j].first || options.close))
                result.nearest_miss = d, result.miss_at = ends[i].second;
    return result;
}

DVec3 plane_normal(const Polyline& line, double* off_plane) {
    DVec3 sum(0), middle(0);
    const std::size_t n = line.points.size();
    for (const Vec3& p : line.points) middle += DVec3(p) / static_cast<double>(std::max<std::size_t>(n, 1));
    for (std::size_t i = 0; i < n; ++i)
        sum += glm::cross(DVec3(line.points[i]) - middle, DVec3(line.points[(i + 1) % n]) - middle);
    double extent = 0;
    for (const Vec3& p : line.points) extent = std::max(extent, glm::distance(DVec3(p), middle));
    DVec3 normal(0, 0, 1);
    if (glm::length(sum) > 1e-9 * extent * extent)
        normal = glm::normalize(sum);
    else if (n > 1) {  // in line: any plane through it, the one nearest to level
        const DVec3 along = DVec3(line.points.back()) - DVec3(line.points.front());
        if (glm::length(along) > 0) {
            const DVec3 a = glm::normalize(along), wish = std::abs(a.z) < 0.999 ? DVec3(0, 0, 1) : DVec3(0, -1, 0);
            normal = glm::normalize(wish - a * glm::dot(wish, a));
        }
    }
    if (off_plane) {
        *off_plane = 0;
        for (const Vec3& p : line.points)
            *off_plane = std::max(*off_plane, std::abs(glm::dot(DVec3(p) - middle, normal)));
    }
    return normal;
}

Curve relaxed(Curve curve, int rounds, double strength) {
    const std::size_t n = curve.knots.size();
    if (n < 3) return curve;
    std::vector<DVec3> at(n), next(n);
    for (std::size_t i = 0; i < n; ++i) at[i] = DVec3(curve.knots[i].at);
    for (int round = 0; round < rounds; ++round) {
        for (std::size_t i = 0; i < n; ++i) {
            const bool end = !curve.closed && (i == 0 || i + 1 == n);
            next[i] = end ? at[i] : at[i] + ((at[(i + n - 1) % n] + at[(i + 1) % n]) * 0.5 - at[i]) * strength;
        }
        at.swap(next);
    }
    for (std::size_t i = 0; i < n; ++i) curve.knots[i].at = Vec3(at[i]);
    return curve;
}

void hold_ends(Curve& curve, int axis) {
    if (curve.closed || curve.knots.size() < 2) return;
    for (const bool at_end : {false, true}) {
        const std::size_t i = at_end ? curve.knots.size() - 1 : 0, j = at_end ? i - 1 : 1;
        const DVec3 span = DVec3(curve.knots[j].at) - DVec3(curve.knots[i].at);
        DVec3 way(0);
        way[axis] = span[axis] < 0 ? -1 : 1;
        Knot& end = curve.knots[i];
        end.kind = KnotKind::free;
        end.in = end.out = Vec3(0);
        (at_end ? end.in : end.out) = Vec3(way * (glm::length(span) / 3));
    }
}

std::vector<std::size_t> threaded(std::span<const Vec3> points, ThreadOrder order, int axis) {
    std::vector<std::size_t> out(points.size());
    for (std::size_t i = 0; i < out.size(); ++i) out[i] = i;
    if (order == ThreadOrder::axis)
        std::stable_sort(out.begin(), out.end(),
                         [&](std::size_t a, std::size_t b) { return points[a][axis] < points[b][axis]; });
    if (order == ThreadOrder::nearest)
        for (std::size_t i = 0; i + 1 < out.size(); ++i) {
            std::size_t best = i + 1;
            for (std::size_t j = i + 2; j < out.size(); ++j)
                if (glm::distance(points[out[i]], points[out[j]]) < glm::distance(points[out[i]], points[out[best]]))
                    best = j;
            std::rotate(out.begin() + static_cast<std::ptrdiff_t>(i) + 1,
                        out.begin() + static_cast<std::ptrdiff_t>(best),
                        out.begin() + static_cast<std::ptrdiff_t>(best) + 1);
        }
    return out;
}

std::vector<Polyline> edge_lines(const Mesh& mesh, std::span<const std::uint8_t> edges) {
    std::vector<std::array<Index, 2>> chosen;
    for (std::size_t e = 0; e < edges.size(); ++e)
        if (edges[e]) chosen.push_back(mesh.topology->edges[e]);
    const Mesh only(*mesh.positions, make_topology(static_cast<Index>(mesh.vertex_count()), {}, {}, chosen));
    std::vector<std::vector<Index>> vertices;
    std::vector<Polyline> lines = loose_edge_lines(only, &vertices);
    const auto carried = [](const Attribute& a) {
        return a.domain == Domain::vertex && a.name != attribute_name::normal && a.name != attribute_name::id;
    };
    Attributes handed_on;
    for (const Attribute& a : mesh.attributes.all())
        if (carried(a)) handed_on.set(a);
    if (!handed_on.all().empty())
        for (std::size_t l = 0; l < lines.size(); ++l)
            for (const Index v : vertices[l]) lines[l].values.push_back(values_at(handed_on, Domain::vertex, v));
    return lines;
}

}  // namespace bricol
