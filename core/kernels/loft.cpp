// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/loft.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/transform.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/point_row.h"

namespace bricol {

namespace {

/// Points of a stretch at equal lengths, its last one left out.
void spread(const Row& points, std::size_t from, std::size_t to, int pieces,
            Row& out) {  // to may exceed the size of a closed row
    const std::size_t n = points.size();
    std::vector<double> along{0};
    for (std::size_t i = from; i < to; ++i)
        along.push_back(along.back() + glm::distance(points[i % n], points[(i + 1) % n]));
    std::size_t i = 0;
    for (int k = 0; k < pieces; ++k) {
        const double target = along.back() * k / pieces;
        while (i + 2 < along.size() && along[i + 1] <= target) ++i;
        const double step = along[i + 1] - along[i], t = step > 0 ? (target - along[i]) / step : 0;
        out.push_back(points[(from + i) % n] * (1 - t) + points[(from + i + 1) % n] * t);
    }
}

Row even_row(const Row& row, bool closed, int pieces) {
    Row out;
    spread(row, 0, closed ? row.size() : row.size() - 1, pieces, out);
    if (!closed) out.push_back(row.back());
    return out;
}

/// Points where the direction breaks; the ends of open rows belong to them.
std::vector<std::size_t> corners_of(const Row& row, bool closed, double degrees) {
    std::vector<std::size_t> out;
    const std::size_t n = row.size();
    for (std::size_t i = 0; i < n; ++i) {
        if (!closed && (i == 0 || i + 1 == n)) {
            out.push_back(i);
            continue;
        }
        const DVec3 in = glm::normalize(row[i] - row[(i + n - 1) % n]), to = glm::normalize(row[(i + 1) % n] - row[i]);
        if (glm::degrees(std::acos(std::clamp(glm::dot(in, to), -1.0, 1.0))) > degrees) out.push_back(i);
    }
    return out;
}

/// All rows with the same number of points, by the rule asked for.
std::vector<Row> matched(const std::vector<Row>& rows, bool closed, const LoftOptions& options, LoftResult& result) {
    std::size_t most = 0;
    bool equal = true;
    for (const Row& row : rows) most = std::max(most, row.size()), equal &= row.size() == rows[0].size();
    const int pieces =
        options.columns > 0 ? std::max(options.columns, closed ? 3 : 1) : static_cast<int>(closed ? most : most - 1);
    std::vector<Row> out;
    if (options.match == LoftOptions::Match::points && equal) return rows;
    if (options.match == LoftOptions::Match::points) result.counts_differ = true;
    if (options.match == LoftOptions::Match::corners) {
        std::vector<std::vector<std::size_t>> corners;
        bool same = true;
        for (const Row& row : rows)
            corners.push_back(corners_of(row, closed, 20)), same &= corners.back().size() == corners[0].size();
        if (same && corners[0].size() >= (closed ? 2u : 3u)) {
            const std::size_t runs = closed ? corners[0].size() : corners[0].size() - 1;
            const int each =
                std::max(1, static_cast<int>(std::lround(static_cast<double>(pieces) / static_cast<double>(runs))));
            for (std::size_t r = 0; r < rows.size(); ++r) {
                Row row;
                for (std::size_t c = 0; c < runs; ++c) {
                    const std::size_t from = corners[r][c], to = c + 1 < corners[r].size()
                                                                     ? corners[r][c + 1]
                                                                     : corners[r][0] + rows[r].size();
                    spread(rows[r], from, to, each, row);
                }
                if (!closed) row.push_back(rows[r].back());
                out.push_back(std::move(row));
            }
            return out;
        }
        result.corners_differ = true;
    }
    for (const Row& row : rows) out.push_back(even_row(row, closed, pieces));
    return out;
}

/// Turns a closed row's start (or an open row's direction) to where it lies nearest its neighbour, both about their
/// middles.
void lay_beside(const Row& before, Row& row, bool closed, LoftResult& result) {
    const DVec3 shift = middle_of_row(before) - middle_of_row(row);
    const auto cost = [&](std::size_t start, bool back) {
        double sum = 0;
        const std::size_t n = row.size();
        for (std::size_t i = 0; i < n; ++i) {
            const DVec3 d = row[back ? (start + n - i) % n : (start + i) % n] + shift - before[i];
            sum += glm::dot(d, d);
        }
        return sum;
    };
    if (!closed) {
        if (cost(row.size() - 1, true) < cost(0, false) * (1 - 1e-9))
            std::reverse(row.begin(), row.end()), ++result.turned;
        return;
    }
    if (glm::dot(area_vector(before), area_vector(row)) < 0) std::reverse(row.begin() + 1, row.end()), ++result.turned;
    std::size_t best = 0;
    double least = cost(0, false);
    for (std::size_t s = 1; s < row.size(); ++s)
        if (const double c = cost(s, false); c < least * (1 - 1e-9)) least = c, best = s;
    std::rotate(row.begin(), row.begin() + static_cast<std::ptrdiff_t>(best), row.end());
}

/// Degrees by which the start of the second row is turned against the first, seen along the line between their middles.
double seam_turn(const Row& a, const Row& b) {
    const DVec3 axis_a = area_vector(a), axis_b = area_vector(b);
    const DVec3 axis = axis_a / std::max(glm::length(axis_a), 1e-300) + axis_b / std::max(glm::length(axis_b), 1e-300);
    if (glm::length(axis) < 1e-6) return 180;
    const DVec3 unit = glm::normalize(axis);
    const auto spoke = [&](const Row& row) {
        const DVec3 s = row[0] - middle_of_row(row);
        return s - unit * glm::dot(s, unit);
    };
    const DVec3 s = spoke(a), t = spoke(b);
    const double lengths = glm::length(s) * glm::length(t);
    return lengths > 0 ? glm::degrees(std::acos(std::clamp(glm::dot(s, t) / lengths, -1.0, 1.0))) : 0;
}

/// A cubic between b and c whose slopes come from their neighbours, knots spaced by the root of the distance
/// (centripetal).
DVec3 spline(const DVec3& a, const DVec3& b, const DVec3& c, const DVec3& d, double t) {
    const double t1 = std::max(std::sqrt(glm::distance(b, c)), 1e-12);
    const double t0 = std::max(std::sqrt(glm::distance(a, b)), 1e-12),
                 t2 = std::max(std::sqrt(glm::distance(c, d)), 1e-12);
    DVec3 m1 = c - b, m2 = c - b;
    if (glm::distance(a, b) > 0) m1 = t1 * ((b - a) / t0 - (c - a) / (t0 + t1) + (c - b) / t1);
    const bool before = glm::distance(a, b) > 0, behind = glm::distance(c, d) > 0;
    if (behind) m2 = t1 * ((c - b) / t1 - (d - b) / (t1 + t2) + (d - c) / t2);
    // At an end: the slope that makes the stretch a parabola.
    if (!before && behind) m1 = 2.0 * (c - b) - m2;
    if (before && !behind) m2 = 2.0 * (c - b) - m1;
    const double s = t * t, k = s * t;
    return (2 * k - 3 * s + 1) * b + (k - 2 * s + t) * m1 + (3 * s - 2 * k) * c + (k - s) * m2;
}

/// Signed volume of a closed grid of rows; its sign tells which way the quads face.
double volume_of(const std::vector<Row>& rows, bool round_rows) {
    double six = 0;
    const std::size_t n = rows.size(), m = rows[0].size();
    const DVec3 origin = rows[0][0];
    for (std::size_t i = 0; i < (round_rows ? n : n - 1); ++i)
        for (std::size_t j = 0; j < m; ++j) {
            const DVec3 a = rows[i][j] - origin, b = rows[(i + 1) % n][j] - origin,
                        c = rows[(i + 1) % n][(j + 1) % m] - origin, d = rows[i][(j + 1) % m] - origin;
            six += glm::dot(a, glm::cross(b, c)) + glm::dot(a, glm::cross(c, d));
        }
    if (!round_rows)
        for (const bool first : {true, false}) {
            const Row& row = first ? rows.front() : rows.back();
            for (std::size_t j = 0; j < m; ++j)
                six += glm::dot(middle_of_row(row) - origin, glm::cross(row[first ? j : (j + 1) % m] - origin,
                                                                        row[first ? (j + 1) % m : j] - origin));
        }
    return six / 6;
}

}  // namespace

std::vector<DVec3> even_points(const Polyline& line, int pieces) {
    const Row row = row_of(line);
    if (row.size() < 2) return row;
    return even_row(row, line.closed, std::max(pieces, 1));
}

LoftResult loft(std::span<const Polyline> outlines, const LoftOptions& options) {
    LoftResult result;
    std::vector<Row> rows;
    std::size_t closed_count = 0;
    for (const Polyline& line : outlines) {
        Row row = row_of(line);
        if (row.size() < (line.closed ? 3u : 2u)) continue;
        closed_count += line.closed;
        rows.push_back(std::move(row));
    }
    if (rows.size() < 2) {
        result.refused = "A loft needs two outlines or more.";
        return result;
    }
    if (closed_count != 0 && closed_count != rows.size()) {
        result.refused = "Some outlines are open and some are closed; a loft goes through one kind.";
        return result;
    }
    const bool round = closed_count > 0, back = options.closed && rows.size() > 2;
    // Seams and directions first, on finely spread points, so that matching by corners starts at the same corner.
    if (options.align && options.match == LoftOptions::Match::corners && round)
        for (Row& row : rows)
            if (const auto corners = corners_of(row, true, 20); !corners.empty())
                std::rotate(row.begin(), row.begin() + static_cast<std::ptrdiff_t>(corners[0]), row.end());
    if (round)
        for (std::size_t r = 1; r < rows.size(); ++r)
            if (options.align && glm::dot(area_vector(rows[r - 1]), area_vector(rows[r])) < 0)
                std::reverse(rows[r].begin() + 1, rows[r].end()), ++result.turned;
    rows = matched(rows, round, options, result);
    if (options.align)
        for (std::size_t r = 1; r < rows.size(); ++r) lay_beside(rows[r - 1], rows[r], round, result);
    const std::size_t m = rows[0].size();
    if (round && options.seam != 0)
        for (Row& row : rows)
            std::rotate(
                row.begin(),
                row.begin() + ((options.seam % static_cast<int>(m) + static_cast<int>(m)) % static_cast<int>(m)),
                row.end());
    if (round)
        for (std::size_t r = 1; r < rows.size(); ++r)
            result.twist = std::max(result.twist, seam_turn(rows[r - 1], rows[r]));

    std::vector<Row> skin;
    const std::size_t stretches = back ? rows.size() : rows.size() - 1;
    const std::size_t n = rows.size();
    for (std::size_t r = 0; r < stretches; ++r)
        for (int k = 0; k < std::max(1, options.rows); ++k) {
            stop_point();
            const double t = static_cast<double>(k) / std::max(1, options.rows);
            Row row(m);
            for (std::size_t j = 0; j < m; ++j) {
                const DVec3 &b = rows[r][j], &c = rows[(r + 1) % n][j];
                if (!options.smooth || k == 0) {
                    row[j] = b + (c - b) * t;
                    continue;
                }
                const DVec3 &a = r > 0  ? rows[r - 1][j]
                                 : back ? rows[n - 1][j]
                                        : b,
                            &d = r + 2 < n ? rows[r + 2][j]
                                 : back    ? rows[(r + 2) % n][j]
                                           : c;
                row[j] = spline(a, b, c, d, t);
            }
            skin.push_back(std::move(row));
        }
    if (!back) skin.push_back(rows.back());
    bool flip = false;
    if (round) flip = volume_of(skin, back) < 0;

    const std::size_t along = skin.size(), spans = back ? along : along - 1, columns = round ? m : m - 1;
    Array<Vec3> points;
    Array<float> share;
    for (std::size_t i = 0; i < along; ++i)
        for (const DVec3& p : skin[i])
            points.push_back(Vec3(p)),
                share.push_back(static_cast<float>(static_cast<double>(i) / static_cast<double>(spans)));
    Array<Index> offsets{0}, corners;
    Array<Vec2> uv;
    const auto corner = [&](std::size_t i, std::size_t j) {
        corners.push_back(static_cast<Index>(i % along * m + j % m));
        uv.emplace_back(static_cast<float>(j) / static_cast<float>(columns),
                        static_cast<float>(i) / static_cast<float>(spans));
    };
    for (std::size_t i = 0; i < spans; ++i)
        for (std::size_t j = 0; j < columns; ++j) {
            if (!flip)
                corner(i, j), corner(i + 1, j), corner(i + 1, j + 1), corner(i, j + 1);
            else
                corner(i, j), corner(i, j + 1), corner(i + 1, j + 1), corner(i + 1, j);
            offsets.push_back(static_cast<Index>(corners.size()));
        }
    result.start.assign(spans * columns, 0);
    result.end = result.start;
    if (round && !back)
        for (const bool first : {true, false}) {
            if (!(first ? options.cap_start : options.cap_end)) continue;
            const std::size_t i = first ? 0 : along - 1;
            const Row& row = skin[i];
            DVec3 low(1e300), high(-1e300);
            for (const DVec3& p : row) low = glm::min(low, p), high = glm::max(high, p);
            const DVec3 size = high - low;
            const int thin = size.x <= size.y && size.x <= size.z ? 0
                             : size.y <= size.z                   ? 1
                                                                  : 2,
                      a = thin == 0 ? 1 : 0, b = thin == 2 ? 1 : 2;
            const double largest = std::max({size.x, size.y, size.z, 1e-12});
            // volume_of took the start cap in the row's own order.
            for (std::size_t s = 0; s < m; ++s) {
                const std::size_t j = first != flip ? s : m - 1 - s;
                corners.push_back(static_cast<Index>(i * m + j));
                uv.emplace_back(Vec2(DVec2(row[j][a] - low[a], row[j][b] - low[b]) / largest));
            }
            offsets.push_back(static_cast<Index>(corners.size()));
            result.start.push_back(first);
            result.end.push_back(!first);
        }
    const auto count = static_cast<Index>(points.size());
    result.mesh = Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners)));
    result.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uv));
    result.mesh.attributes.set(Domain::vertex, "along", std::move(share));
    result.mesh = with_normals_by_angle(result.mesh, options.smooth_angle);
    return result;
}

}  // namespace bricol
