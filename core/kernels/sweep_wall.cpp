// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/sweep_wall.h"

#include <algorithm>
#include <cmath>

#include "core/ground/numbers.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

/// One wall while it is laid.
class Wall {
public:
    Wall(SweepBuilder& out, const SectionLoop& loop, const LoopRings& along, bool closed_path,
         const SweepOptions& options)
        : out_(out),
          loop_(loop),
          along_(along),
          closed_(closed_path),
          options_(options),
          m_(loop.points.size()),
          n_(along.rings.size()),
          columns_(static_cast<Index>(m_)),
          pieces_(static_cast<Index>(loop.closed ? m_ : m_ - 1)) {
        for (const DVec2& p : loop.points) reach_ = std::max(reach_, glm::length(p));
    }

    LoopPlace laid() {
        number();
        section_slopes(loop_, options_.smooth_angle, before_, behind_);
        measure_section();
        lay_points();
        lay_faces();
        return {vertex_base_.front(), vertex_base_[n_ - 1], ring_edge_.front(), ring_edge_[n_ - 1], columns_};
    }

private:
    struct Row {  ///< normals of a ring's points, before and behind each
        std::vector<Vec3> before, behind;
    };
    /// How fast a ring moves on: its middle and its two directions. Every column's motion is made of these.
    struct Motion {
        DVec3 at, right, up;
    };

    bool is_pole(std::size_t i) const { return (i == 0 && along_.pole_start) || (i + 1 == n_ && along_.pole_end); }

    /// Where each ring's vertices and edges lie; the last ring of a closed path is the first one again.
    void number() {
        vertex_base_.resize(n_), ring_edge_.resize(n_), span_edge_.resize(n_ - 1);
        Index vertex = static_cast<Index>(out_.positions.size()), edge = static_cast<Index>(out_.edges.size());
        for (std::size_t i = 0; i < n_; ++i) {
            if (closed_ && i + 1 == n_) {
                vertex_base_[i] = vertex_base_[0], ring_edge_[i] = ring_edge_[0];
                break;
            }
            vertex_base_[i] = vertex, ring_edge_[i] = edge;
            vertex += is_pole(i) ? 1 : columns_;
            edge += is_pole(i) ? 0 : pieces_;
        }
        for (Index& first : span_edge_) first = edge, edge += columns_;
        out_.positions.resize(vertex);
        out_.along.resize(vertex);
        out_.edges.resize(edge);
        if (!out_.corners) out_.normal.resize(vertex);
    }

    /// Distance round the section, for u.
    void measure_section() {
        round_.assign(columns_ + 1, 0);
        double about = 0;
        for (Index j = 0; j < pieces_; ++j)
            about += glm::distance(loop_.points[j], loop_.points[(j + 1) % m_]),
                round_[j + 1] = static_cast<float>(about);
        if (!options_.real_uvs)
            for (float& r : round_) r = static_cast<float>(r / about);
    }

    void lay_points() {
        for (std::size_t i = 0; i < n_; ++i) {
            if (closed_ && i + 1 == n_) break;
            const Ring& ring = along_.rings[i];
            const auto base = vertex_base_[i];
            if (is_pole(i)) {
                out_.positions[base] = Vec3(ring.at);
                out_.along[base] = static_cast<float>(ring.share);
                continue;
            }
            for (Index j = 0; j < columns_; ++j) {
                out_.positions[base + j] = Vec3(ring.at + ring.right * loop_.points[j].x + ring.up * loop_.points[j].y);
                out_.along[base + j] = static_cast<float>(ring.share);
            }
            for (Index j = 0; j < pieces_; ++j)
                out_.edges[ring_edge_[i] + j] = {base + j, base + (j + 1 == columns_ ? 0 : j + 1)};
        }
    }

    /// Central over both spans, or one side at a break.
    Motion motion_at(std::size_t i, bool arriving) const {
        const Ring& ring = along_.rings[i];
        const bool wraps = closed_ && (i == 0 || i + 1 == n_);
        std::size_t a = i > 0 ? i - 1 : wraps ? n_ - 2 : 0, b = i + 1 < n_ ? i + 1 : wraps ? 1 : n_ - 1;
        if (ring.sharp) (arriving ? b : a) = i;
        const Ring &last = along_.rings[a], &next = along_.rings[b];
        const auto step = [&](const Ring& from, const Ring& to) {
            return glm::distance(from.at, to.at) +
                   reach_ * (glm::distance(from.right, to.right) + glm::distance(from.up, to.up)) / 2;
        };
        const double from = step(last, ring), to = step(ring, next);
        // Weighted towards the nearer neighbour.
        const double back = from > 0 && to > 0 ? to / from : 1, ahead = from > 0 && to > 0 ? from / to : 1;
        return {(ring.at - last.at) * back + (next.at - ring.at) * ahead,
                (ring.right - last.right) * back + (next.right - ring.right) * ahead,
                (ring.up - last.up) * back + (next.up - ring.up) * ahead};
    }

    void fill_row(Row& into, std::size_t i, bool arriving) const {
        const Ring& ring = along_.rings[i];
        if (is_pole(i)) {
            const Vec3 out_there(i == 0 ? -ring.along : ring.along);
            std::ranges::fill(into.before, out_there), std::ranges::fill(into.behind, out_there);
            return;
        }
        const Motion motion = motion_at(i, arriving);
        // Without width here the neighbour says how the section runs.
        const Ring& like = glm::dot(ring.right, ring.right) < 1e-24 ? along_.rings[i + 1 < n_ ? i + 1 : i - 1] : ring;
        const double hand = ring.factor < 0 ? -1 : 1;
        const auto facing = [&](std::size_t j, const DVec2& slope) {
            const DVec3 normal =
                glm::cross(motion.at + motion.right * loop_.points[j].x + motion.up * loop_.points[j].y,
                           like.right * slope.x + like.up * slope.y);
            const double length = glm::length(normal);
            return length > 0 ? Vec3(normal * (hand / length)) : Vec3(0, 0, 1);
        };
        for (std::size_t j = 0; j < m_; ++j) {
            into.before[j] = facing(j, before_[j]);
            into.behind[j] = before_[j] == behind_[j] ? into.before[j] : facing(j, behind_[j]);
        }
    }

    /// Everything smooth: one normal a vertex.
    void keep_row(std::size_t i, const Row& row) {
        for (Index j = 0; j < (is_pole(i) ? 1 : columns_); ++j) out_.normal[vertex_base_[i] + j] = row.behind[j];
    }

    void lay_faces() {
        const std::size_t spans = n_ - 1, faces = spans * pieces_;
        face_ = out_.offsets.size();
        corner_ = static_cast<Index>(out_.corner_vertex.size());
        const std::size_t corners =
            corner_ + faces * 4 -
            pieces_ * (static_cast<std::size_t>(along_.pole_start) + static_cast<std::size_t>(along_.pole_end));
        out_.offsets.resize(face_ + faces);
        out_.cap.resize(out_.cap.size() + faces, 0);
        out_.corner_vertex.resize(corners);
        out_.corner_edge.resize(corners);
        out_.uv.resize(corners);
        if (out_.corners) out_.normal.resize(corners);
        Row begin{std::vector<Vec3>(m_), std::vector<Vec3>(m_)}, end = begin;
        fill_row(begin, 0, false);
        if (!out_.corners) keep_row(0, begin);
        for (std::size_t k = 0; k < spans; ++k) {
            stop_point();
            fill_row(end, k + 1, true);
            if (!out_.corners && !(closed_ && k + 1 == spans)) keep_row(k + 1, end);
            lay_span(k, begin, end);
            if (along_.rings[k + 1].sharp)
                fill_row(begin, k + 1, false);
            else
                std::swap(begin, end);
        }
    }

    void put(Index vertex, Index edge, float u, float v, const Vec3& facing) {
        out_.corner_vertex[corner_] = vertex;
        out_.corner_edge[corner_] = edge;
        out_.uv[corner_] = {u, v};
        if (out_.corners) out_.normal[corner_] = facing;
        ++corner_;
    }

    void lay_span(std::size_t k, const Row& begin, const Row& end) {
        const Index low = vertex_base_[k], high = vertex_base_[k + 1], across = span_edge_[k], low_ring = ring_edge_[k],
                    high_ring = ring_edge_[k + 1];
        const bool pole_low = is_pole(k), pole_high = is_pole(k + 1);
        for (Index j = 0; j < columns_; ++j)
            out_.edges[across + j] = {pole_low ? low : low + j, pole_high ? high : high + j};
        const Ring &a = along_.rings[k], &b = along_.rings[k + 1];
        const auto v0 = static_cast<float>(options_.real_uvs ? a.length : a.share),
                   v1 = static_cast<float>(options_.real_uvs ? b.length : b.share);
        for (Index j = 0; j < pieces_; ++j) {
            const Index j1 = j + 1 == columns_ ? 0 : j + 1;
            const float u0 = round_[j], u1 = round_[j + 1];
            if (pole_low)
                put(low, across + j, (u0 + u1) / 2, v0, begin.behind[j]);
            else
                put(low + j, across + j, u0, v0, begin.behind[j]);
            if (pole_high) {
                put(high, across + j1, (u0 + u1) / 2, v1, end.behind[j]);
            } else {
                put(high + j, high_ring + j, u0, v1, end.behind[j]);
                put(high + j1, across + j1, u1, v1, end.before[j1]);
            }
            if (!pole_low) put(low + j1, low_ring + j, u1, v0, begin.before[j1]);
            out_.offsets[face_++] = corner_;
        }
    }

    SweepBuilder& out_;
    const SectionLoop& loop_;
    const LoopRings& along_;
    const bool closed_;
    const SweepOptions& options_;
    const std::size_t m_, n_;  ///< points of the section, rings
    const Index columns_, pieces_;
    double reach_ = 0;  ///< of the section from the path
    std::vector<Index> vertex_base_, ring_edge_, span_edge_;
    std::vector<DVec2> before_, behind_;
    std::vector<float> round_;
    std::size_t face_ = 0;
    Index corner_ = 0;
};

}  // namespace

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
    return Wall(out, loop, along, closed_path, options).laid();
}

}  // namespace bricol
