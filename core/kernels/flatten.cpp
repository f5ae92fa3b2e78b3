// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/flatten.h"

#include "core/kernels/bent_fillet.h"
#include "core/kernels/cubic.h"
#include "core/shape/knot_values.h"

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

namespace {

Cubic cubic_of(const Knot& a, const Knot& b) {
    const DVec3 p(a.at), q(b.at);
    if (nearly_zero(a.out) && nearly_zero(b.in))
        return {p, p + (q - p) / 3.0, q - (q - p) / 3.0, q};  // straight, at even speed
    return {p, p + DVec3(a.out), q + DVec3(b.in), q};
}

/// What a fillet puts in place of knot i: the arc's knots, its ends' outer handles left to the spans.
void add_arc(std::vector<Knot>& knots, const Knot& like, const DVec3& from, const DVec3& to, const DVec3& begins,
             const DVec3& ends, const DVec3& middle, double radius, double angle) {
    const int arcs = angle > std::numbers::pi / 2 + 1e-6 ? 2 : 1;
    const double handle = radius * arc_handle(angle / arcs);
    Knot first = like, last = like;
    first.kind = last.kind = KnotKind::free;
    first.fillet = last.fillet = 0;
    first.at = Vec3(from);
    last.at = Vec3(to);
    first.in = last.out = Vec3(0);
    first.out = Vec3(begins * handle);
    last.in = Vec3(-ends * handle);
    knots.push_back(first);
    if (arcs == 2) {
        Knot top = first;
        const DVec3 along = glm::normalize(begins + ends);
        top.at = Vec3(middle);
        top.in = Vec3(-along * handle);
        top.out = Vec3(along * handle);
        knots.push_back(top);
    }
    knots.push_back(last);
}

}  // namespace

namespace {

/// The fillets of a curve and what is left of its spans between them.
class Fillets {
public:
    Fillets(const Curve& curve, std::vector<HeldFillet>* held)
        : curve_(curve),
          held_(held),
          knots_(with_handles(curve)),
          count_(knots_.size()),
          reach_(count_, 0),
          turn_(count_, 0),
          share_(count_, 1),
          from_(count_, 0),
          to_(count_, 1),
          bent_(count_, 0),
          circle_(count_) {
        ask();
        divide_sides();
        find_circles();
    }

    Curve rounded() {
        Curve out = curve_;
        out.knots.clear();
        for (std::size_t i = 0; i < count_; ++i) {
            const std::size_t first = out.knots.size();
            if (circle_[i].radius > 0)
                add_touching(out, i);
            else if (reach_[i] > 0)
                add_between_lines(out, i);
            else
                out.knots.push_back(knots_[i]);
            hand_on(out.knots[first], out.knots.back(), i);
        }
        return out;
    }

private:
    std::size_t prior(std::size_t i) const { return (i + count_ - 1) % count_; }
    const Knot& before(std::size_t i) const { return knots_[prior(i)]; }
    const Knot& after(std::size_t i) const { return knots_[(i + 1) % count_]; }
    bool plain(std::size_t span) const { return nearly_zero(knots_[span].out) && nearly_zero(after(span).in); }
    bool shortened(std::size_t span) const { return from_[span] > 0 || to_[span] < 1; }
    Cubic left_of(std::size_t span) const {
        return cubic_between(cubic_of(knots_[span], after(span)), from_[span], to_[span]);
    }
    void hold(std::size_t i, float used) {
        if (held_) held_->push_back({static_cast<int>(i), knots_[i].fillet, used});
    }

    /// How far along its two sides each fillet between straight runs wants to reach; the others are found by their
    /// circle.
    void ask() {
        for (std::size_t i = 0; i < count_; ++i) {
            const Knot& knot = knots_[i];
            const bool inner = curve_.closed ? count_ > 2 : (i > 0 && i + 1 < count_);
            if (knot.fillet <= 0 || knot.kind == KnotKind::smooth || !inner) continue;
            const DVec3 in = DVec3(knot.at) - DVec3(before(i).at), to = DVec3(after(i).at) - DVec3(knot.at);
            const double in_length = glm::length(in), to_length = glm::length(to);
            if (in_length < 1e-9 || to_length < 1e-9) continue;
            // Straight runs without handles; one with handles along itself is parted like a bend, so that they shrink
            // with it.
            if (!plain(prior(i)) || !plain(i)) {
                const DVec3 arriving = span_direction(before(i), knot, true),
                            leaving = span_direction(knot, after(i), false);
                bent_[i] = glm::length(glm::cross(arriving, leaving)) > 1e-4;  // else there is nothing to round
                continue;
            }
            turn_[i] = std::acos(std::clamp(glm::dot(in, to) / (in_length * to_length), -1.0, 1.0));
            if (turn_[i] < 1e-4 || turn_[i] > std::numbers::pi - 1e-3) continue;
            reach_[i] = knot.fillet * std::tan(turn_[i] / 2);
        }
    }

    /// Two fillets on one side share it in proportion to what they want; beside one that bends each keeps to its half.
    void divide_sides() {
        for (std::size_t i = 0; i < (curve_.closed ? count_ : count_ - std::min<std::size_t>(count_, 1)); ++i) {
            const std::size_t j = (i + 1) % count_;
            const double side = glm::distance(DVec3(knots_[i].at), DVec3(knots_[j].at));
            const double wanted = reach_[i] + reach_[j], room = bent_[i] || bent_[j] ? side / 2 : side;
            if (wanted > room && wanted > 0) {
                share_[i] = std::min(share_[i], room / wanted);
                share_[j] = std::min(share_[j], room / wanted);
            }
        }
    }

    void find_circles() {
        const auto half_taken = [&](std::size_t i) { return knots_[i].fillet > 0 && (bent_[i] || reach_[i] > 0); };
        for (std::size_t i = 0; i < count_; ++i) {
            if (!bent_[i]) continue;
            const std::size_t b = prior(i), a = (i + 1) % count_;
            circle_[i] = touching_circle(cubic_of(knots_[b], knots_[i]), cubic_of(knots_[i], knots_[a]),
                                         static_cast<double>(knots_[i].fillet), half_taken(b) ? 0.5 : 0,
                                         half_taken(a) ? 0.5 : 1);
            const auto used = static_cast<float>(circle_[i].radius);
            if (used < knots_[i].fillet * (1 - 1e-6f)) hold(i, used);
            if (circle_[i].radius > 0) to_[b] = circle_[i].arriving, from_[i] = circle_[i].leaving;
        }
    }

    void add_touching(Curve& out, std::size_t i) const {
        const TouchingCircle& c = circle_[i];
        const DVec3 start = left_of(prior(i))[3], end = left_of(i)[0], inwards = glm::normalize(c.begins - c.ends);
        // Seen from the centre the middle of the arc lies towards the corner; its depth is between those of its ends.
        DVec3 middle = c.centre + inwards * c.radius;
        const DVec3 normal = glm::normalize(glm::cross(c.begins, c.ends));
        middle += normal * glm::dot((start + end) * 0.5 - middle, normal);
        add_arc(out.knots, knots_[i], start, end, c.begins, c.ends, middle, c.radius, c.angle);
    }

    void add_between_lines(Curve& out, std::size_t i) {
        const double radius = knots_[i].fillet * share_[i], length = reach_[i] * share_[i];
        if (share_[i] < 1 - 1e-9) hold(i, static_cast<float>(radius));
        const DVec3 at(knots_[i].at), back = glm::normalize(DVec3(before(i).at) - at),
                                      ahead = glm::normalize(DVec3(after(i).at) - at);
        const DVec3 inwards = glm::normalize(back + ahead);
        add_arc(out.knots, knots_[i], at + back * length, at + ahead * length, -back, ahead,
                at + inwards * (radius / std::cos(turn_[i] / 2) - radius), radius, turn_[i]);
    }

    /// Spans that lost a stretch hand on the handles of what is left; straight ones need none.
    void hand_on(Knot& arrives, Knot& leaves, std::size_t i) const {
        const auto free = [](Knot& knot) {
            if (knot.kind == KnotKind::corner || knot.kind == KnotKind::smooth) knot.kind = KnotKind::free;
        };
        if (const std::size_t b = prior(i); (curve_.closed || i > 0) && shortened(b) && !plain(b)) {
            const Cubic left = left_of(b);
            arrives.in = Vec3(left[2] - left[3]);
            free(arrives);
        }
        if ((curve_.closed || i + 1 < count_) && shortened(i) && !plain(i)) {
            const Cubic left = left_of(i);
            leaves.out = Vec3(left[1] - left[0]);
            free(leaves);
        }
    }

    const Curve& curve_;
    std::vector<HeldFillet>* held_;
    const std::vector<Knot> knots_;
    const std::size_t count_;
    std::vector<double> reach_, turn_, share_;  ///< of a fillet between straight runs
    std::vector<double> from_, to_;             ///< what is left of the span that leaves a knot
    std::vector<std::uint8_t> bent_;
    std::vector<TouchingCircle> circle_;
};

}  // namespace

Curve with_fillets(const Curve& curve, std::vector<HeldFillet>* held) { return Fillets(curve, held).rounded(); }

Polyline flatten(const Curve& curve, std::vector<HeldFillet>* held) {
    Polyline line;
    if (curve.knots.empty()) return line;
    const Curve plain = with_fillets(curve, held);
    const std::vector<Knot> knots = with_handles(plain);
    const std::size_t count = knots.size();
    line.closed = curve.closed && count > 1;
    const bool valued = std::ranges::any_of(knots, [](const Knot& knot) { return !knot.values.empty(); });
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
        if (valued) line.values.push_back(knot.values);
        const Knot& next = knots[(i + 1) % count];
        line.tangent.push_back(i < spans ? span_direction(knot, next, false)
                               : i > 0   ? span_direction(knots[i - 1], knot, true)
                                         : DVec3(0));
        if (i >= spans) break;
        const int pieces = pieces_of(knot, next, curve.sampling);
        const DVec3 a(knot.at), d(next.at);
        const Cubic span{a, a + DVec3(knot.out), d + DVec3(next.in), d};
        for (int p = 1; p < pieces; ++p) {
            const double t = static_cast<double>(p) / pieces;
            line.points.push_back(Vec3(cubic_at(span, t)));
            line.knot.push_back(-1);
            line.sharp.push_back(0);
            const DVec3 slope = cubic_way(span, t);
            const double length = glm::length(slope);
            line.tangent.push_back(length > 1e-15 ? slope / length : line.tangent.back());
            line.radius.push_back(static_cast<float>(knot.radius + (next.radius - knot.radius) * t));
            line.roll.push_back(static_cast<float>(knot.roll + (next.roll - knot.roll) * t));
            if (valued) line.values.push_back(blended(knot.values, next.values, t));
        }
    }
    return line;
}

std::vector<Polyline> loose_edge_lines(const Mesh& mesh, std::vector<std::vector<Index>>* vertices) {
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
        std::vector<Index> passed{v};
        line.points.push_back((*mesh.positions)[v]);
        while (e != no_index) {
            used[e] = 1;
            v = topology.edges[e][0] == v ? topology.edges[e][1] : topology.edges[e][0];
            if (v == start) {
                line.closed = true;
                break;
            }
            line.points.push_back((*mesh.positions)[v]);
            passed.push_back(v);
            e = no_index;
            if (degree(v) == 2)
                for (Index candidate : near.edges_of_vertex(v))
                    if (loose(candidate) && !used[candidate]) e = candidate;
        }
        line.knot.resize(line.points.size());
        line.sharp.assign(line.points.size(), 0);
        for (std::size_t i = 0; i < line.knot.size(); ++i) line.knot[i] = static_cast<std::int32_t>(i);
        lines.push_back(std::move(line));
        if (vertices) vertices->push_back(std::move(passed));
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
    for (std::size_t i = 0; i < line.points.size(); ++i) {
        Knot knot;
        knot.at = line.points[i];
        if (!line.values.empty()) knot.values = line.values[i];
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
