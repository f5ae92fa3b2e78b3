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

/// The outlines that can be lofted; refuses when there are too few or of both kinds.
std::vector<Row> rows_of(std::span<const Polyline> outlines, bool& round, LoftResult& result) {
    std::vector<Row> rows;
    std::size_t closed = 0;
    for (const Polyline& line : outlines) {
        Row row = row_of(line);
        if (row.size() < (line.closed ? 3u : 2u)) continue;
        closed += line.closed;
        rows.push_back(std::move(row));
    }
    round = closed > 0;
    if (rows.size() < 2)
        result.refused = "A loft needs two outlines or more.";
    else if (closed != 0 && closed != rows.size())
        result.refused = "Some outlines are open and some are closed; a loft goes through one kind.";
    return rows;
}

/// Rows of equally many points that start beside one another and run the same way.
std::vector<Row> laid_out(std::vector<Row> rows, bool round, const LoftOptions& options, LoftResult& result) {
    // Seams and directions first, on finely spread points, so that matching by corners starts at the same corner.
    if (options.align && options.match == LoftOptions::Match::corners && round)
        for (Row& row : rows)
            if (const auto corners = corners_of(row, true, 20); !corners.empty())
                std::rotate(row.begin(), row.begin() + static_cast<std::ptrdiff_t>(corners[0]), row.end());
    if (options.align && round)
        for (std::size_t r = 1; r < rows.size(); ++r)
            if (glm::dot(area_vector(rows[r - 1]), area_vector(rows[r])) < 0)
                std::reverse(rows[r].begin() + 1, rows[r].end()), ++result.turned;
    rows = matched(rows, round, options, result);
    if (options.align)
        for (std::size_t r = 1; r < rows.size(); ++r) lay_beside(rows[r - 1], rows[r], round, result);
    if (!round) return rows;
    const int points = static_cast<int>(rows[0].size()), shift = (options.seam % points + points) % points;
    for (Row& row : rows) std::rotate(row.begin(), row.begin() + shift, row.end());
    for (std::size_t r = 1; r < rows.size(); ++r)
        result.twist = std::max(result.twist, seam_turn(rows[r - 1], rows[r]));
    return rows;
}

/// The rows of the surface: those laid out, and what lies between them.
std::vector<Row> skin_through(const std::vector<Row>& rows, bool back, const LoftOptions& options) {
    const std::size_t n = rows.size(), m = rows[0].size(), stretches = back ? n : n - 1;
    const int pieces = std::max(1, options.rows);
    std::vector<Row> skin;
    for (std::size_t r = 0; r < stretches; ++r)
        for (int k = 0; k < pieces; ++k) {
            stop_point();
            const double t = static_cast<double>(k) / pieces;
            // At an end of an open loft the end itself stands in for the neighbour it lacks.
            const Row &b = rows[r], &c = rows[(r + 1) % n], &a = r > 0 || back ? rows[(r + n - 1) % n] : b,
                      &d = r + 2 < n || back ? rows[(r + 2) % n] : c;
            Row row(m);
            for (std::size_t j = 0; j < m; ++j)
                row[j] = options.smooth && k > 0 ? spline(a[j], b[j], c[j], d[j], t) : b[j] + (c[j] - b[j]) * t;
            skin.push_back(std::move(row));
        }
    if (!back) skin.push_back(rows.back());
    return skin;
}

/// The quads of a skin, and its caps.
class Skin {
public:
    Skin(const std::vector<Row>& rows, bool round, bool back)
        : rows_(rows),
          around_(rows[0].size()),
          spans_(back ? rows.size() : rows.size() - 1),
          columns_(round ? around_ : around_ - 1),
          flipped_(round && volume_of(rows, back) < 0) {}

    void walls() {
        for (std::size_t i = 0; i < spans_; ++i)
            for (std::size_t j = 0; j < columns_; ++j) {
                corner(i, j);
                flipped_ ? corner(i, j + 1) : corner(i + 1, j);
                corner(i + 1, j + 1);
                flipped_ ? corner(i + 1, j) : corner(i, j + 1);
                close();
            }
    }
    void cap(bool first) {
        const std::size_t i = first ? 0 : rows_.size() - 1;
        const Row& row = rows_[i];
        DVec3 low(1e300), high(-1e300);
        for (const DVec3& p : row) low = glm::min(low, p), high = glm::max(high, p);
        const DVec3 size = high - low;
        const int thin = size.x <= size.y && size.x <= size.z ? 0
                         : size.y <= size.z                   ? 1
                                                              : 2,
                  a = thin == 0 ? 1 : 0, b = thin == 2 ? 1 : 2;
        const double largest = std::max({size.x, size.y, size.z, 1e-12});
        // volume_of took the start cap in the row's own order.
        for (std::size_t s = 0; s < around_; ++s) {
            const std::size_t j = first != flipped_ ? s : around_ - 1 - s;
            corners_.push_back(static_cast<Index>(i * around_ + j));
            uv_.emplace_back(Vec2(DVec2(row[j][a] - low[a], row[j][b] - low[b]) / largest));
        }
        close();
    }
    std::size_t wall_faces() const { return spans_ * columns_; }

    Mesh mesh() {
        Array<Vec3> points;
        Array<float> share;
        for (std::size_t i = 0; i < rows_.size(); ++i)
            for (const DVec3& p : rows_[i]) {
                points.push_back(Vec3(p));
                share.push_back(static_cast<float>(static_cast<double>(i) / static_cast<double>(spans_)));
            }
        const auto count = static_cast<Index>(points.size());
        Mesh mesh(std::move(points), make_topology(count, std::move(offsets_), std::move(corners_)));
        mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uv_));
        mesh.attributes.set(Domain::vertex, "along", std::move(share));
        return mesh;
    }

private:
    void corner(std::size_t i, std::size_t j) {
        corners_.push_back(static_cast<Index>(i % rows_.size() * around_ + j % around_));
        uv_.emplace_back(static_cast<float>(j) / static_cast<float>(columns_),
                         static_cast<float>(i) / static_cast<float>(spans_));
    }
    void close() { offsets_.push_back(static_cast<Index>(corners_.size())); }

    const std::vector<Row>& rows_;
    std::size_t around_, spans_, columns_;
    bool flipped_;
    Array<Index> offsets_{0}, corners_;
    Array<Vec2> uv_;
};

}  // namespace

LoftResult loft(std::span<const Polyline> outlines, const LoftOptions& options) {
    LoftResult result;
    bool round = false;
    std::vector<Row> rows = rows_of(outlines, round, result);
    if (!result.refused.empty()) return result;
    const bool back = options.closed && rows.size() > 2;
    rows = laid_out(std::move(rows), round, options, result);
    const std::vector<Row> skin = skin_through(rows, back, options);
    Skin surface(skin, round, back);
    surface.walls();
    result.start.assign(surface.wall_faces(), 0);
    result.end = result.start;
    if (round && !back)
        for (const bool first : {true, false}) {
            if (!(first ? options.cap_start : options.cap_end)) continue;
            surface.cap(first);
            result.start.push_back(first);
            result.end.push_back(!first);
        }
    result.mesh = with_normals_by_angle(surface.mesh(), options.smooth_angle);
    return result;
}

}  // namespace bricol
