// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/flatten.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bricol {

namespace {

constexpr double sharp_cosine = 0.996;  // about 5 degrees: a break the eye sees in a highlight
constexpr int most_pieces = 512;

bool nearly_zero(const Vec3& v) { return glm::dot(v, v) < 1e-18f; }

/// A span is straight when neither handle leaves the chord or points backwards along it.
bool straight_span(const Knot& a, const Knot& b) {
    const DVec3 chord = DVec3(b.at) - DVec3(a.at);
    const double length = glm::length(chord);
    if (length < 1e-12) return true;
    const auto along = [&](const DVec3& handle) {
        return glm::length(glm::cross(handle, chord)) <= 1e-6 * length * length && glm::dot(handle, chord) >= 0 &&
               glm::length(handle) <= length;
    };
    return along(DVec3(a.out)) && along(-DVec3(b.in));
}

DVec3 bezier(const DVec3& a, const DVec3& b, const DVec3& c, const DVec3& d, double t) {
    const double s = 1 - t;
    return s * s * s * a + 3 * s * s * t * b + 3 * s * t * t * c + t * t * t * d;
}

int pieces_of(const Knot& a, const Knot& b, const Sampling& sampling) {
    if (straight_span(a, b)) return 1;
    if (sampling.tolerance <= 0) return std::clamp(sampling.per_span, 1, most_pieces);
    // Chord error of a cubic over a step h is at most h^2/8 times its largest second derivative, which is reached at
    // an end (the second derivative is linear).
    const DVec3 p0(a.at), p1 = p0 + DVec3(a.out), p3(b.at), p2 = p3 + DVec3(b.in);
    const double bend = 6 * std::max(glm::length(p0 - 2.0 * p1 + p2), glm::length(p1 - 2.0 * p2 + p3));
    return std::clamp(static_cast<int>(std::ceil(std::sqrt(bend / (8 * sampling.tolerance)))), 1, most_pieces);
}

/// Direction in which the curve leaves (or, with `arriving`, reaches) an end of the span a..b.
DVec3 span_direction(const Knot& a, const Knot& b, bool arriving) {
    const DVec3 handle = arriving ? -DVec3(b.in) : DVec3(a.out);
    DVec3 direction = glm::length(handle) > 1e-12 ? handle : DVec3(b.at) - DVec3(a.at);
    if (glm::length(handle) <= 1e-12) {
        const DVec3 other = arriving ? DVec3(a.at) + DVec3(a.out) : DVec3(b.at) + DVec3(b.in);
        direction = arriving ? DVec3(b.at) - other : other - DVec3(a.at);
    }
    const double length = glm::length(direction);
    return length > 1e-12 ? direction / length : DVec3(0);
}

}  // namespace

double arc_handle(double angle) { return 4.0 / 3.0 * std::tan(angle / 4.0); }

std::vector<Knot> with_handles(const Curve& curve) {
    std::vector<Knot> knots = curve.knots;
    const std::size_t count = knots.size();
    for (std::size_t i = 0; i < count; ++i) {
        Knot& knot = knots[i];
        if (knot.kind == KnotKind::corner) {
            knot.in = knot.out = Vec3(0);
            continue;
        }
        if (knot.kind == KnotKind::free || !nearly_zero(knot.in) || !nearly_zero(knot.out)) continue;
        const bool has_before = curve.closed || i > 0, has_after = curve.closed || i + 1 < count;
        const Vec3 before = curve.knots[(i + count - 1) % count].at, after = curve.knots[(i + 1) % count].at;
        Vec3 direction(0);
        if (has_before && has_after)
            direction = after - before;
        else
            continue;  // a loose end needs no handle: its span bends from the other side
        const float length = glm::length(direction);
        if (length < 1e-9f) continue;
        direction /= length;
        knot.in = -direction * (glm::distance(knot.at, before) / 3);
        knot.out = direction * (glm::distance(knot.at, after) / 3);
    }
    return knots;
}

Curve with_fillets(const Curve& curve, std::vector<HeldFillet>* held) {
    Curve out = curve;
    out.knots.clear();
    const std::vector<Knot> knots = with_handles(curve);
    const std::size_t count = knots.size();

    // How far along its two sides each fillet wants to reach.
    std::vector<double> reach(count, 0), turn(count, 0);
    for (std::size_t i = 0; i < count; ++i) {
        const Knot& knot = knots[i];
        const bool inner = curve.closed ? count > 2 : (i > 0 && i + 1 < count);
        if (knot.fillet <= 0 || knot.kind != KnotKind::corner || !inner) continue;
        const Knot &before = knots[(i + count - 1) % count], &after = knots[(i + 1) % count];
        const DVec3 in = DVec3(knot.at) - DVec3(before.at), to = DVec3(after.at) - DVec3(knot.at);
        const double in_length = glm::length(in), to_length = glm::length(to);
        if (in_length < 1e-9 || to_length < 1e-9) continue;
        turn[i] = std::acos(std::clamp(glm::dot(in, to) / (in_length * to_length), -1.0, 1.0));
        if (!straight_span(before, knot) || !straight_span(knot, after)) {
            if (held) held->push_back({static_cast<int>(i), knot.fillet, 0});
            continue;
        }
        if (turn[i] < 1e-4 || turn[i] > std::numbers::pi - 1e-3) continue;
        reach[i] = knot.fillet * std::tan(turn[i] / 2);
    }
    // Two fillets on one side share it in proportion to what they want.
    std::vector<double> share(count, 1);
    for (std::size_t i = 0; i < (curve.closed ? count : count - std::min<std::size_t>(count, 1)); ++i) {
        const std::size_t j = (i + 1) % count;
        const double side = glm::distance(DVec3(knots[i].at), DVec3(knots[j].at));
        const double wanted = reach[i] + reach[j];
        if (wanted > side && wanted > 0) {
            share[i] = std::min(share[i], side / wanted);
            share[j] = std::min(share[j], side / wanted);
        }
    }
    for (std::size_t i = 0; i < count; ++i) {
        const Knot& knot = knots[i];
        if (reach[i] <= 0) {
            out.knots.push_back(knot);
            continue;
        }
        const double radius = knot.fillet * share[i], length = reach[i] * share[i];
        if (share[i] < 1 - 1e-9 && held)
            held->push_back({static_cast<int>(i), knot.fillet, static_cast<float>(radius)});
        const DVec3 at(knot.at);
        const DVec3 back = glm::normalize(DVec3(knots[(i + count - 1) % count].at) - at);
        const DVec3 ahead = glm::normalize(DVec3(knots[(i + 1) % count].at) - at);
        const int arcs = turn[i] > std::numbers::pi / 2 + 1e-6 ? 2 : 1;
        const double handle = radius * arc_handle(turn[i] / arcs);
        Knot first = knot, last = knot;
        first.kind = last.kind = KnotKind::free;
        first.fillet = last.fillet = 0;
        first.at = Vec3(at + back * length);
        last.at = Vec3(at + ahead * length);
        first.in = last.out = Vec3(0);
        first.out = Vec3(-back * handle);
        last.in = Vec3(-ahead * handle);
        out.knots.push_back(first);
        if (arcs == 2) {
            Knot middle = first;
            const DVec3 inwards = glm::normalize(back + ahead);
            const DVec3 along = glm::normalize(ahead - back);
            middle.at = Vec3(at + inwards * (radius / std::cos(turn[i] / 2) - radius));
            middle.in = Vec3(-along * handle);
            middle.out = Vec3(along * handle);
            out.knots.push_back(middle);
        }
        out.knots.push_back(last);
    }
    return out;
}

Polyline flatten(const Curve& curve, std::vector<HeldFillet>* held) {
    Polyline line;
    if (curve.knots.empty()) return line;
    const Curve plain = with_fillets(curve, held);
    const std::vector<Knot> knots = with_handles(plain);
    const std::size_t count = knots.size();
    line.closed = curve.closed && count > 1;
    const std::size_t spans = line.closed ? count : count - 1;
    for (std::size_t i = 0; i < count; ++i) {
        const Knot& knot = knots[i];
        line.points.push_back(knot.at);
        // The source number travels with the knot through fillets, so that a finding can name the knot drawn.
        line.knot.push_back(knot.source >= 0 ? knot.source : static_cast<std::int32_t>(i));
        const bool inner = line.closed || (i > 0 && i + 1 < count);
        bool sharp = false;
        if (inner) {
            const Knot &before = knots[(i + count - 1) % count], &after = knots[(i + 1) % count];
            sharp = glm::dot(span_direction(before, knot, true), span_direction(knot, after, false)) < sharp_cosine;
        }
        line.sharp.push_back(sharp);
        line.radius.push_back(knot.radius);
        line.roll.push_back(knot.roll);
        const Knot& next = knots[(i + 1) % count];
        line.tangent.push_back(i < spans ? span_direction(knot, next, false) : i > 0 ? span_direction(knots[i - 1], knot, true) : DVec3(0));
        if (i >= spans) break;
        const int pieces = pieces_of(knot, next, curve.sampling);
        const DVec3 a(knot.at), b = a + DVec3(knot.out), d(next.at), c = d + DVec3(next.in);
        for (int p = 1; p < pieces; ++p) {
            const double t = static_cast<double>(p) / pieces;
            line.points.push_back(Vec3(bezier(a, b, c, d, t)));
            line.knot.push_back(-1);
            line.sharp.push_back(0);
            const DVec3 slope = (1 - t) * (1 - t) * (b - a) + 2 * (1 - t) * t * (c - b) + t * t * (d - c);
            const double length = glm::length(slope);
            line.tangent.push_back(length > 1e-15 ? slope / length : line.tangent.back());
            line.radius.push_back(static_cast<float>(knot.radius + (next.radius - knot.radius) * t));
            line.roll.push_back(static_cast<float>(knot.roll + (next.roll - knot.roll) * t));
        }
    }
    return line;
}

std::vector<Polyline> loose_edge_lines(const Mesh& mesh) {
    const Topology& topology = *mesh.topology;
    const Adjacency& near = topology.adjacency();
    const auto loose = [&](Index e) { return near.faces_of_edge(e).empty(); };
    const auto degree = [&](Index v) {
        int sum = 0;
        for (Index e : near.edges_of_vertex(v)) sum += loose(e);
        return sum;
    };
    std::vector<std::uint8_t> used(topology.edge_count(), 0);
    std::vector<Polyline> lines;
    const auto walk = [&](Index start, Index first_edge) {
        Polyline line;
        Index v = start, e = first_edge;
        line.points.push_back((*mesh.positions)[v]);
        while (e != no_index) {
            used[e] = 1;
            v = topology.edges[e][0] == v ? topology.edges[e][1] : topology.edges[e][0];
            if (v == start) {
                line.closed = true;
                break;
            }
            line.points.push_back((*mesh.positions)[v]);
            e = no_index;
            if (degree(v) == 2)
                for (Index candidate : near.edges_of_vertex(v))
                    if (loose(candidate) && !used[candidate]) e = candidate;
        }
        line.knot.resize(line.points.size());
        line.sharp.assign(line.points.size(), 0);
        for (std::size_t i = 0; i < line.knot.size(); ++i) line.knot[i] = static_cast<std::int32_t>(i);
        lines.push_back(std::move(line));
    };
    for (int pass = 0; pass < 2; ++pass)  // open chains first, from their ends; what is left are rings
        for (Index v = 0; v < mesh.vertex_count(); ++v)
            if (pass == 1 || degree(v) != 2)
                for (Index e : near.edges_of_vertex(v))
                    if (loose(e) && !used[e]) walk(v, e);
    return lines;
}

Curve curve_from(const Polyline& line) {
    Curve curve;
    curve.closed = line.closed;
    for (const Vec3& point : line.points) {
        Knot knot;
        knot.at = point;
        curve.knots.push_back(knot);
    }
    return curve;
}

double length_of(const Polyline& line) {
    double sum = 0;
    for (std::size_t i = 1; i < line.points.size(); ++i)
        sum += glm::distance(DVec3(line.points[i - 1]), DVec3(line.points[i]));
    if (line.closed && line.points.size() > 1)
        sum += glm::distance(DVec3(line.points.back()), DVec3(line.points.front()));
    return sum;
}

}  // namespace bricol
