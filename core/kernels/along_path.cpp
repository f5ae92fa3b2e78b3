// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/along_path.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

#include "core/kernels/whole_pieces.h"

namespace bricol {

namespace {

double room(const Path& path, const AlongOptions& options) { return path.whole - options.start - options.end; }

/// Straight steps of one length from the start, as many as asked for or as fit. Returns the length where the last ends.
double chain(const Path& path, const AlongOptions& options, double piece, std::size_t most,
             std::vector<AlongPlace>& places) {
    places.clear();
    const double last = path.whole - options.end;
    double from = options.start;
    while (places.size() < most) {
        const double to = step_along(path, from, piece);
        if (to < 0 || to > last + 1e-9 * path.whole) break;
        places.push_back({from, to, path.at(from).at, path.at(to).at});
        // A gap lies straight behind the end; copies that sink into one another begin before it, on the path as well.
        const double next = options.gap == 0  ? to
                            : options.gap > 0 ? step_along(path, to, options.gap)
                                              : step_along(path, from, std::max(piece + options.gap, 0.0));
        if (next < 0 || (next <= from && places.size() + 1 < most && piece + options.gap <= 0)) break;
        from = next;
    }
    return places.empty() ? options.start : places.back().to;
}

/// The straight length of which exactly `count` steps lead to the end, found by halving: the end moves on with the
/// length.
double piece_for(const Path& path, const AlongOptions& options, std::size_t count) {
    double low = 0, high = room(path, options) * 1.001 / static_cast<double>(count) + 1e-12;
    std::vector<AlongPlace> places;
    for (int round = 0; round < 60; ++round) {
        const double middle = (low + high) / 2;
        chain(path, options, middle, count, places);
        (places.size() == count ? low : high) = middle;
    }
    return low;
}

/// Which way a copy looks: the directions its own axes go to.
struct Way {
    DVec3 along, right, up;
};

Way way_of(AlongStance::Look look, const DVec3& along, const Station& here) {
    Way way;
    way.along = along;
    if (look == AlongStance::Look::level) {
        const DVec3 flat(along.x, along.y, 0);
        way.along = glm::length(flat) > 1e-9 ? glm::normalize(flat) : DVec3(1, 0, 0);
        way.up = {0, 0, 1};
    } else {
        way.up = here.up - way.along * glm::dot(here.up, way.along);
        way.up = glm::length(way.up) > 1e-9 ? glm::normalize(way.up) : here.up;
    }
    way.right = glm::cross(way.along, way.up);
    return way;
}

/// Matrix that takes the copy's own axis to `along`, keeping it right-handed: x ahead, y left and z up, or turned on
/// from there.
glm::dmat3 turned_to(const Way& way, int axis) {
    glm::dmat3 m;
    m[axis] = way.along;
    m[(axis + 1) % 3] = axis == 2 ? way.up : axis == 1 ? way.up : -way.right;
    m[(axis + 2) % 3] = glm::cross(m[axis], m[(axis + 1) % 3]);
    return m;
}

}  // namespace

double step_along(const Path& path, double from, double distance) {
    const DVec3 start = path.at(from).at;
    double share = 0;
    std::size_t i = path.piece_at(from, share);
    const std::size_t n = path.size();
    double low = from;
    for (; i < path.pieces(); ++i) {
        const double high = i + 1 < n ? path.length[i + 1] : path.whole;
        const DVec3 a = path.at(low).at, b = path.points[(i + 1) % n].at;
        if (glm::distance(start, b) >= distance) {
            // Where the piece a..b leaves the ball about the start.
            const DVec3 d = b - a, o = a - start;
            const double dd = glm::dot(d, d), od = glm::dot(o, d), c = glm::dot(o, o) - distance * distance;
            if (dd <= 0) return high;
            const double t = (-od + std::sqrt(std::max(0.0, od * od - dd * c))) / dd;
            return low + (high - low) * std::clamp(t, 0.0, 1.0);
        }
        low = high;
    }
    return -1;
}

double copies_along(const Path& path, const AlongOptions& options) {
    if (options.by == AlongOptions::By::count) return options.count;
    const double each = options.by == AlongOptions::By::spacing ? options.spacing : options.own + options.gap;
    return each > 0 ? std::max(0.0, room(path, options)) / each + 1 : 1e300;
}

AlongPlaces places_along(const Path& path, const AlongOptions& options) {
    using By = AlongOptions::By;
    AlongPlaces out;
    const double length = room(path, options);
    if (path.empty() || length < 0) return out;
    const auto add = [&](double where) {
        const DVec3 at = path.at(where).at;
        out.places.push_back({where, where, at, at});
    };
    const bool round = path.closed && options.start == 0 && options.end == 0;
    if (options.stiff) {
        if (options.by == By::count) {
            out.piece = piece_for(path, options, static_cast<std::size_t>(std::max(1, options.count)));
        } else if (options.by == By::fit) {
            chain(path, options, options.own, static_cast<std::size_t>(1e7), out.places);
            out.piece = out.places.empty() ? options.own : piece_for(path, options, out.places.size());
        } else {
            out.piece = options.by == By::spacing ? options.spacing : options.own;
        }
        const double end = chain(path, options, out.piece,
                                 options.by == By::count ? static_cast<std::size_t>(std::max(1, options.count))
                                 : out.places.empty()    ? static_cast<std::size_t>(1e7)
                                                         : out.places.size(),
                                 out.places);
        out.left_over = std::max(0.0, path.whole - options.end - end);
        if (out.left_over < 1e-9 * path.whole) out.left_over = 0;
        return out;
    }
    if (options.by == By::count) {
        const int n = std::max(1, options.count);
        const int gaps = round ? n : n - 1;
        for (int i = 0; i < n; ++i) add(options.start + (gaps > 0 ? length * i / gaps : 0));
        return out;
    }
    if (options.by == By::spacing) {
        if (options.spacing <= 0) return out;
        const auto whole = static_cast<std::size_t>(whole_pieces_in(length, options.spacing));
        const std::size_t n =
            round && length - static_cast<double>(whole) * options.spacing < 1e-9 * length ? whole : whole + 1;
        for (std::size_t i = 0; i < n; ++i) add(options.start + options.spacing * static_cast<double>(i));
        out.left_over = length - options.spacing * static_cast<double>(whole);
        if (out.left_over < 1e-9 * length) out.left_over = 0;
        return out;
    }
    const double each = options.own + options.gap;
    if (each <= 0) return out;
    const double rest = round ? 0 : options.gap;  // no gap behind the last
    const auto n = static_cast<std::size_t>(whole_pieces_in(length + rest, each));
    if (options.by == By::touching) {
        for (std::size_t i = 0; i < n; ++i) add(options.start + options.own / 2 + each * static_cast<double>(i));
        out.left_over = std::max(0.0, length + rest - each * static_cast<double>(n));
        if (out.left_over < 1e-9 * length) out.left_over = 0;
    } else {
        const std::size_t fitted = std::max<std::size_t>(1, n);
        for (std::size_t i = 0; i < fitted; ++i)
            add(options.start + length * (static_cast<double>(i) + 0.5) / static_cast<double>(fitted));
    }
    return out;
}

glm::mat4 copy_on(const AlongPlace& place, const Station& here, bool straight, const AlongStance& stance) {
    const DVec3 chord = place.b - place.a;
    const Way way =
        way_of(stance.look, straight && glm::length(chord) > 1e-12 ? glm::normalize(chord) : here.along, here);
    const glm::dmat3 turn = stance.look == AlongStance::Look::same ? glm::dmat3(1) : turned_to(way, stance.axis);
    DVec3 own_axis(0);
    own_axis[stance.axis] = 1;
    const glm::dmat4 to = glm::translate(glm::dmat4(1), (place.a + place.b) * 0.5);
    return glm::mat4(to * glm::dmat4(turn) * glm::rotate(glm::dmat4(1), stance.roll + here.roll, own_axis) *
                     glm::scale(glm::dmat4(1), stance.size) * glm::translate(glm::dmat4(1), -stance.pivot));
}

}  // namespace bricol
