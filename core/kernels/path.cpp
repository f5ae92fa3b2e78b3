// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/path.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/ground/stop.h"
#include "core/kernels/whole_pieces.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

constexpr double same_spot = 1e-9;

DVec3 unit_or(const DVec3& v, const DVec3& otherwise) {
    const double length = glm::length(v);
    return length > 1e-15 ? v / length : otherwise;
}

/// Some direction square to `along`, as near to `wish` as can be.
DVec3 square_to(const DVec3& along, const DVec3& wish) {
    DVec3 up = wish - along * glm::dot(along, wish);
    if (glm::length(up) > 1e-6) return glm::normalize(up);
    const DVec3 other = std::abs(along.y) < 0.9 ? DVec3(0, 1, 0) : DVec3(1, 0, 0);
    up = other - along * glm::dot(along, other);
    return glm::normalize(up);
}

DVec3 reflected_way(const DVec3& v, const DVec3& normal, double square) {
    return v - normal * (2 * glm::dot(normal, v) / square);
}

/// `up` carried from one point to the next without turning about the path (equations of the paper, table I).
DVec3 carried(const Station& from, const Station& to) {
    const DVec3 chord = to.at - from.at;
    const double c1 = glm::dot(chord, chord);
    if (c1 <= 0) return square_to(to.along, from.up);
    const DVec3 up = reflected_way(from.up, chord, c1), along = reflected_way(from.along, chord, c1);
    const DVec3 second = to.along - along;
    const double c2 = glm::dot(second, second);
    return square_to(to.along, c2 > 1e-30 ? reflected_way(up, second, c2) : up);
}

void set_up(Station& station, const DVec3& up) {
    station.up = up;
    station.right = glm::cross(station.along, up);
}

DVec3 turned_about(const DVec3& v, const DVec3& axis, double angle) {  // v square to axis
    return v * std::cos(angle) + glm::cross(axis, v) * std::sin(angle);
}

/// Upright frames by fixed turns: as upright as the path lets them. Where the path runs straight along `up` the frame
/// before is kept; past it, without `turn_over`, the section stands the way round that turns less.
void fixed_frames(Path& path, const DVec3& up, bool turn_over) {
    std::size_t first = path.size();
    for (std::size_t i = 0; i < path.size() && first == path.size(); ++i)
        if (glm::length(up - path.points[i].along * glm::dot(path.points[i].along, up)) > 1e-4 * glm::length(up))
            first = i;
    for (std::size_t i = 0; i < path.size(); ++i) {
        Station& s = path.points[i];
        const DVec3 across = up - s.along * glm::dot(s.along, up);
        if (glm::length(across) <= 1e-4 * glm::length(up)) {
            path.upright.push_back(Vec3(s.at));
            const DVec3 later = first == path.size()
                                    ? DVec3(0, 1, 0)
                                    : up - path.points[first].along * glm::dot(path.points[first].along, up);
            // The frame before tells best how the section stood; at the start the first one that is plain does.
            set_up(s, i > 0 ? square_to(s.along, path.points[i - 1].up) : square_to(s.along, later));
            continue;
        }
        DVec3 plain = glm::normalize(across);
        if (i > 0 && !turn_over) {
            const DVec3 before = carried(path.points[i - 1], s);
            if (glm::dot(before, plain) < -0.5) {
                plain = -plain;
                path.turned_over.push_back(Vec3(s.at));
            }
        }
        set_up(s, plain);
    }
}

void least_turn_frames(Path& path, const DVec3& up) {
    set_up(path.points[0], square_to(path.points[0].along, up));
    for (std::size_t i = 1; i < path.size(); ++i) set_up(path.points[i], carried(path.points[i - 1], path.points[i]));
    if (!path.closed) return;
    const Station& first = path.points.front();
    const DVec3 round = carried(path.points.back(), first);
    path.closing_turn = std::atan2(glm::dot(glm::cross(round, first.up), first.along), glm::dot(round, first.up));
    for (std::size_t i = 1; i < path.size(); ++i) {
        Station& s = path.points[i];
        set_up(s, turned_about(s.up, s.along, path.closing_turn * path.length[i] / path.whole));
    }
}

}  // namespace

double Path::turn_at(std::size_t i) const {
    const std::size_t n = size();
    if (n < 3 || (!closed && (i == 0 || i + 1 == n))) return 0;
    const DVec3 in = glm::normalize(points[i].at - points[(i + n - 1) % n].at),
                to = glm::normalize(points[(i + 1) % n].at - points[i].at);
    return std::atan2(glm::length(glm::cross(in, to)), glm::dot(in, to));
}

double Path::bend_at(std::size_t i, DVec3* inward) const {
    const std::size_t n = size();
    if (n < 3 || (!closed && (i == 0 || i + 1 == n))) return std::numeric_limits<double>::infinity();
    const DVec3 a = points[(i + n - 1) % n].at - points[i].at, b = points[(i + 1) % n].at - points[i].at;
    const DVec3 normal = glm::cross(a, b);
    const double area = glm::length(normal);
    if (area < 1e-12 * glm::length(a) * glm::length(b)) return std::numeric_limits<double>::infinity();
    // Middle of the circle through three points, seen from the one between.
    const DVec3 middle = glm::cross(glm::dot(a, a) * b - glm::dot(b, b) * a, normal) / (2 * area * area);
    const double radius = glm::length(middle);
    if (inward) *inward = middle / std::max(radius, 1e-300) * (glm::dot(middle, a + b) < 0 ? -1.0 : 1.0);
    return radius;
}

std::size_t Path::piece_at(double where, double& share) const {
    const std::size_t last = pieces() - 1;
    const double scaled = where / whole * static_cast<double>(finder.size());
    const auto slot = static_cast<std::size_t>(std::clamp(scaled, 0.0, static_cast<double>(finder.size() - 1)));
    std::size_t i = finder[slot];
    while (i < last && length[i + 1] <= where) ++i;
    while (i > 0 && length[i] > where) --i;
    const double end = i + 1 < length.size() ? length[i + 1] : whole, step = end - length[i];
    share = step > 0 ? std::clamp((where - length[i]) / step, 0.0, 1.0) : 0;
    return i;
}

Rails::Rails(const Path& path, bool level, double mitre_limit)
    : closed_(path.closed), level_(level), whole_(path.whole), finder_(path.finder) {
    const std::size_t n = path.size();
    rails_.resize(n);
    for (std::size_t i = 0; i < n; ++i) {
        const Station& s = path.points[i];
        DVec3 right = s.right, up = s.up;
        if (level) {
            up = {0, 0, 1};
            right = unit_or(glm::cross(s.along, up), DVec3(1, 0, 0));
        } else {
            const double c = std::cos(s.roll), k = std::sin(s.roll);
            right = (s.right * c + s.up * k) * s.radius;
            up = (s.up * c - s.right * k) * s.radius;
        }
        if (const double half = path.turn_at(i) / 2; half > 0) {
            const DVec3 in = glm::normalize(s.at - path.points[(i + n - 1) % n].at),
                        to = glm::normalize(path.points[(i + 1) % n].at - s.at);
            const DVec3 bend = unit_or(to - in, DVec3(0));
            const double longer = std::min(1 / std::max(std::cos(half), 1e-9), mitre_limit) - 1;
            right += bend * (glm::dot(right, bend) * longer);
            if (!level) up += bend * (glm::dot(up, bend) * longer);
        }
        rails_[i] = {path.length[i], s.at, right, up};
    }
    first_ = path.points.front().along;
    last_ = path.points.back().along;
    if (closed_) {
        rails_.push_back(rails_.front());
        rails_.back().length = whole_;
    }
    slots_ = static_cast<double>(finder_.size()) / whole_;
}

DVec3 Rails::at(double length, double right, double up) const {
    if (closed_) {
        length = std::fmod(length, whole_);
        if (length < 0) length += whole_;
    }
    // The finder is a first guess only; the walk from it makes the piece the same whatever it was.
    const std::size_t most = rails_.size() - 2,
                      slot = length > 0 ? std::min(static_cast<std::size_t>(std::min(length * slots_, 4e9)),
                                                   finder_.size() - 1)
                                        : 0;
    std::size_t i = std::min<std::size_t>(finder_[slot], most);
    while (i < most && rails_[i + 1].length <= length) ++i;
    while (i > 0 && rails_[i].length > length) --i;
    const Rail &a = rails_[i], &b = rails_[i + 1];
    const double step = b.length - a.length, t = step > 0 ? std::clamp((length - a.length) / step, 0.0, 1.0) : 0;
    DVec3 at = a.at + (b.at - a.at) * t + (a.right + (b.right - a.right) * t) * right;
    if (level_)
        at.z += up;
    else
        at += (a.up + (b.up - a.up) * t) * up;
    if (length < 0) at += first_ * length;
    if (length > whole_) at += last_ * (length - whole_);
    return at;
}

Station Path::at(double where) const {
    if (closed) {
        where = std::fmod(where, whole);
        if (where < 0) where += whole;
    }
    const std::size_t n = size();
    if (!closed && where <= 0) {
        Station s = points.front();
        s.at += s.along * where;
        return s;
    }
    if (!closed && where >= whole) {
        Station s = points.back();
        s.at += s.along * (where - whole);
        return s;
    }
    double t = 0;
    const std::size_t i = piece_at(where, t);
    const Station &a = points[i], &b = points[(i + 1) % n];
    Station s;
    s.at = a.at + (b.at - a.at) * t;
    // At a break the piece's own direction holds over its whole length.
    const DVec3 chord = unit_or(b.at - a.at, a.along);
    const DVec3 from = sharp[i] ? chord : a.along, to = sharp[(i + 1) % n] ? chord : b.along;
    s.along = unit_or(from + (to - from) * t, chord);
    const DVec3 up = a.up + (b.up - a.up) * t;
    set_up(s, square_to(s.along, up));
    s.radius = a.radius + (b.radius - a.radius) * t;
    s.roll = a.roll + (b.roll - a.roll) * t;
    return s;
}

KnotValues Path::values_at(double where) const {
    if (values.empty()) return {};
    double t = 0;
    const std::size_t i = piece_at(closed && whole > 0 ? where - whole * std::floor(where / whole) : where, t);
    return blended(values[i], values[(i + 1) % size()], t);
}

namespace {

/// Lengths of the whole and to each point, and the finder, for points that stand.
void measure_path(Path& path) {
    const std::size_t n = path.size();
    path.length.assign(n, 0);
    for (std::size_t i = 1; i < n; ++i)
        path.length[i] = path.length[i - 1] + glm::distance(path.points[i].at, path.points[i - 1].at);
    path.whole = path.length[n - 1] + (path.closed ? glm::distance(path.points[n - 1].at, path.points[0].at) : 0);
    path.finder.resize(2 * n);
    for (std::size_t slot = 0, i = 0; slot < path.finder.size(); ++slot) {
        const double where = path.whole * static_cast<double>(slot) / static_cast<double>(path.finder.size());
        while (i + 1 < path.pieces() && path.length[i + 1] <= where) ++i;
        path.finder[slot] = static_cast<std::uint32_t>(i);
    }
}

}  // namespace

Path in_pieces_up_to(const Path& path, double longest) {
    if (path.empty() || longest <= 0) return path;
    Path out = path;
    out.points.clear();
    out.sharp.clear();
    out.values.clear();
    for (std::size_t i = 0; i < path.size(); ++i) {
        stop_point(i);
        out.points.push_back(path.points[i]);
        out.sharp.push_back(path.sharp[i]);
        if (!path.values.empty()) out.values.push_back(path.values[i]);
        if (i == path.pieces()) continue;
        const double from = path.length[i], to = i + 1 < path.size() ? path.length[i + 1] : path.whole;
        const int parts = static_cast<int>(std::min(pieces_up_to(to - from, longest), 1e6));
        for (int k = 1; k < parts; ++k) {
            out.points.push_back(path.at(from + (to - from) * k / parts));
            out.sharp.push_back(0);
            if (!path.values.empty()) out.values.push_back(path.values_at(from + (to - from) * k / parts));
        }
    }
    measure_path(out);
    return out;
}

Path make_path(const Polyline& line, const PathOptions& options) {
    Path path;
    path.closed = line.closed;
    std::vector<std::size_t> source;
    for (std::size_t i = 0; i < line.points.size(); ++i) {
        stop_point(i);
        const DVec3 p(line.points[i]);
        if (!path.points.empty() && glm::distance(p, path.points.back().at) < same_spot) {
            ++path.repeats;
            path.sharp.back() |= i < line.sharp.size() && line.sharp[i];
            continue;
        }
        Station s;
        s.at = p;
        s.radius = i < line.radius.size() ? line.radius[i] : 1;
        s.roll = i < line.roll.size() ? line.roll[i] : 0;
        path.points.push_back(s);
        path.sharp.push_back(i < line.sharp.size() && line.sharp[i]);
        if (!line.values.empty()) path.values.push_back(line.values[i]);
        source.push_back(i);
    }
    while (path.closed && path.size() > 1 && glm::distance(path.points.front().at, path.points.back().at) < same_spot) {
        path.points.pop_back();
        path.sharp.pop_back();
        if (!path.values.empty()) path.values.pop_back();
        ++path.repeats;
    }
    const std::size_t n = path.size();
    if (n < 2) return {};
    if (n == 2) path.closed = false;  // there and back on one line encloses nothing
    measure_path(path);
    for (std::size_t i = 0; i < n; ++i) {
        const bool first = !path.closed && i == 0, last = !path.closed && i + 1 == n;
        const DVec3 in = first ? DVec3(0) : glm::normalize(path.points[i].at - path.points[(i + n - 1) % n].at);
        const DVec3 to = last ? DVec3(0) : glm::normalize(path.points[(i + 1) % n].at - path.points[i].at);
        const DVec3 half = unit_or(in + to, to);
        // The curve's own direction, where it has one: chords would be off by as much as the pieces are uneven.
        const bool drawn =
            source[i] < line.tangent.size() && !path.sharp[i] && glm::dot(line.tangent[source[i]], half) > 0.5;
        path.points[i].along = drawn ? line.tangent[source[i]] : half;
        if (!first && !last && !drawn && glm::dot(in, to) < 0.996)
            path.sharp[i] = 1;  // as flatten tells breaks, about 5 degrees
    }
    if (options.fixed_up)
        fixed_frames(path, options.up, options.turn_over);
    else
        least_turn_frames(path, options.up);
    return path;
}

Curve finer(Curve curve, int pieces) {
    curve.sampling.per_span = std::max(curve.sampling.per_span, pieces);
    curve.sampling.tolerance = 0;
    return curve;
}

Shape finer(Shape shape, int pieces) {
    for (Curve& curve : shape.curves) curve = finer(std::move(curve), pieces);
    return shape;
}

Path make_path(const Curve& curve, const PathOptions& options, int finest) {
    return make_path(flatten(finest > 1 ? finer(curve, finest) : curve), options);
}

std::vector<Polyline> lines_of(const Shape& shape) {
    std::vector<Polyline> lines;
    for (const Curve& curve : shape.curves) lines.push_back(flatten(curve));
    if (shape.mesh.topology->has_loose_edges())
        for (Polyline& line : loose_edge_lines(shape.mesh)) lines.push_back(std::move(line));
    return lines;
}

}  // namespace bricol
