// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/lathe.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/ground/numbers.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

/// Where the vertices and edges of each profile point and span stand in the mesh.
struct Layout {
    std::size_t points = 0, spans = 0;  // along the profile
    Index columns = 0, steps = 0;       // round the axis: vertex columns, face columns
    bool wraps = false;
    std::vector<std::uint8_t> pole;
    std::vector<Index> vertex_base, ring_edge, span_edge;
    Index vertex_count = 0, edge_count = 0;

    std::size_t after(std::size_t i) const { return i + 1 == points ? 0 : i + 1; }
    Index vertex(std::size_t i, Index column) const { return vertex_base[i] + (pole[i] ? 0 : column); }
    bool has_faces(std::size_t span) const { return !(pole[span] && pole[after(span)]); }
};

Layout make_layout(const LatheProfile& profile, Index steps, bool poles_weld) {
    Layout layout;
    layout.points = profile.points.size();
    layout.spans = profile.closed ? layout.points : layout.points - 1;
    layout.steps = steps;
    layout.wraps = profile.full_turn;
    layout.columns = layout.wraps ? steps : steps + 1;
    layout.pole.resize(layout.points);
    for (std::size_t i = 0; i < layout.points; ++i) layout.pole[i] = poles_weld && profile.points[i].radius == 0;
    for (std::size_t i = 0; i < layout.points; ++i) {
        layout.vertex_base.push_back(layout.vertex_count);
        layout.vertex_count += layout.pole[i] ? 1 : layout.columns;
        layout.ring_edge.push_back(layout.edge_count);
        layout.edge_count += layout.pole[i] ? 0 : layout.steps;
    }
    for (std::size_t k = 0; k < layout.spans; ++k) {
        layout.span_edge.push_back(layout.edge_count);
        layout.edge_count += layout.has_faces(k) ? layout.columns : 0;
    }
    return layout;
}

/// Runs of profile points that bound one cap: the whole loop, or stretches from pole to pole closed along the axis.
struct CapRun {
    std::vector<Index> points;
    bool along_axis = false;
};

std::vector<CapRun> cap_runs(const Layout& layout, bool closed) {
    std::vector<CapRun> runs;
    std::vector<Index> poles;
    for (Index i = 0; i < layout.points; ++i)
        if (layout.pole[i]) poles.push_back(i);
    if (closed && poles.size() < 2) {
        CapRun run;
        for (Index i = 0; i < layout.points; ++i) run.points.push_back(i);
        runs.push_back(std::move(run));
        return runs;
    }
    const std::size_t stretches = closed ? poles.size() : poles.size() - std::min<std::size_t>(1, poles.size());
    for (std::size_t s = 0; s < stretches; ++s) {
        CapRun run;
        run.along_axis = true;
        const Index last = poles[(s + 1) % poles.size()];
        for (Index i = poles[s];; i = static_cast<Index>(layout.after(i))) {
            run.points.push_back(i);
            if (i == last) break;
        }
        if (run.points.size() > 2) runs.push_back(std::move(run));
    }
    return runs;
}

/// Twice the signed volume swept, up to a positive factor: rotation gives angle/2 of the ring integral of r^2 dh, the
/// pull gives rise times the area seen along the axis. Its sign says which way the walls must face.
double swept_sign(const LatheProfile& profile, double total_angle, double total_rise) {
    double ring = 0, area = 0;
    const std::size_t n = profile.points.size();
    const auto add = [&](const LatheProfile::Point& a, const LatheProfile::Point& b) {
        // Integral of r^2 dh over a straight piece (a frustum's formula).
        ring += (a.radius * a.radius + a.radius * b.radius + b.radius * b.radius) / 3 * (b.h - a.h);
        area += (a.u * b.v - a.v * b.u) / 2;
    };
    for (std::size_t i = 0; i + 1 < n; ++i) add(profile.points[i], profile.points[i + 1]);
    if (profile.closed) {
        add(profile.points[n - 1], profile.points[0]);
    } else {
        // Ends led straight to the axis: those pieces have no height; nothing to add.
        area = 0;
    }
    return total_angle / 2 * ring - total_rise * area;
}

/// Normals of a turned profile in (radius, height), per span end, already pointing outwards.
struct SpanNormals {
    std::vector<DVec2> begin, end;
    bool any_sharp = false;
};

SpanNormals span_normals(const LatheProfile& profile, const Layout& layout, double sign, double smooth_angle) {
    SpanNormals normals;
    std::vector<DVec2> flat(layout.spans);
    for (std::size_t k = 0; k < layout.spans; ++k) {
        const auto &a = profile.points[k], &b = profile.points[layout.after(k)];
        const DVec2 n(b.h - a.h, a.radius - b.radius);
        const double length = glm::length(n);
        flat[k] = length > 0 ? n / length * sign : DVec2(1, 0);
    }
    normals.begin = normals.end = flat;
    const double cosine = std::cos(smooth_angle * degree);
    for (std::size_t i = 0; i < layout.points; ++i) {
        const std::size_t out = i, in = i == 0 ? layout.spans - 1 : i - 1;
        const bool has_out = out < layout.spans && layout.has_faces(out);
        const bool has_in = (i > 0 || profile.closed) && layout.has_faces(in);
        if (layout.pole[i]) {
            // A dome meets the axis squarely and is smooth there; a cone keeps the direction of its side.
            const DVec2 up(0, 1);
            if (has_out && std::abs(flat[out].y) > cosine) normals.begin[out] = up * std::copysign(1.0, flat[out].y);
            if (has_in && std::abs(flat[in].y) > cosine) normals.end[in] = up * std::copysign(1.0, flat[in].y);
            normals.any_sharp |=
                (has_out && std::abs(flat[out].y) <= cosine) || (has_in && std::abs(flat[in].y) <= cosine);
            continue;
        }
        if (!has_in || !has_out) continue;
        if (glm::dot(flat[in], flat[out]) < cosine) {
            normals.any_sharp = true;
            continue;
        }
        const DVec2 sum = glm::normalize(flat[in] + flat[out]);
        normals.end[in] = normals.begin[out] = sum;
    }
    return normals;
}

Vec3 newell_normal(const Array<Vec3>& points, const std::vector<Index>& loop) {
    DVec3 sum(0);
    for (std::size_t i = 0; i < loop.size(); ++i)
        sum += glm::cross(DVec3(points[loop[i]]), DVec3(points[loop[(i + 1) % loop.size()]]));
    const double length = glm::length(sum);
    return length > 0 ? Vec3(sum / length) : Vec3(0, 0, 1);
}

/// One turning, laid down in arrays that are sized once.
class Turning {
public:
    Turning(const LatheProfile& profile, const LatheOptions& options)
        : profile_(profile), options_(options), total_rise_(options.rise * options.turns) {
        total_angle_ = options.angle * options.turns * degree;
        if (profile.full_turn) total_angle_ = std::copysign(2 * pi, total_angle_);
        const double turns = profile.full_turn ? 1 : std::abs(options.turns);
        steps_ = std::max(profile.full_turn ? 3u : 1u, static_cast<Index>(std::lround(options.segments * turns)));
        layout_ = make_layout(profile, steps_, total_rise_ == 0);
        sign_ = swept_sign(profile, total_angle_, total_rise_) < 0 ? -1 : 1;
    }

    Mesh mesh() {
        lay_columns();
        lay_points();
        const bool can_cap =
            options_.caps && !profile_.full_turn && (profile_.closed || (total_rise_ == 0 && total_angle_ != 0));
        if (can_cap) runs_ = cap_runs(layout_, profile_.closed);
        size_topology();
        prepare_normals();
        measure_profile();
        uv_.resize(options_.uvs ? topology_->corner_vertex.size() : 0);
        corner_normal_.resize(corner_normals_ ? topology_->corner_vertex.size() : 0);
        for (std::size_t k = 0; k < layout_.spans; ++k) {
            stop_point();
            if (layout_.has_faces(k)) lay_span(k);
        }
        Index axis_edge = layout_.edge_count;
        for (const CapRun& run : runs_) lay_cap(run, axis_edge);
        topology_->face_offsets[face_] = corner_;
        return finished();
    }

    std::size_t cap_faces() const { return 2 * runs_.size(); }
    /// The polyline's point that each vertex was turned from.
    std::vector<Index> sources() const {
        std::vector<Index> out(layout_.vertex_count, 0);
        for (std::size_t i = 0; i < layout_.points; ++i)
            std::fill_n(out.begin() + layout_.vertex_base[i], layout_.pole[i] ? 1 : layout_.columns,
                        profile_.points[i].source);
        return out;
    }

private:
    /// Directions of the columns, once; everything else multiplies by them.
    void lay_columns() {
        const Index columns = layout_.columns;
        cosines_.resize(columns), sines_.resize(columns), lifts_.resize(columns);
        for (Index j = 0; j < columns; ++j) {
            const double t = static_cast<double>(j) / steps_;
            cosines_[j] = std::cos(total_angle_ * t);
            sines_[j] = std::sin(total_angle_ * t);
            lifts_[j] = total_rise_ * t;
        }
    }

    void lay_points() {
        const Frame& frame = options_.frame;
        positions_.resize(layout_.vertex_count);
        for (std::size_t i = 0; i < layout_.points; ++i) {
            const auto& p = profile_.points[i];
            const DVec3 base = frame.centre + frame.along * p.h;
            if (layout_.pole[i]) {
                positions_[layout_.vertex_base[i]] = Vec3(base);
                continue;
            }
            // p turned by the column's angle is p*cos + (p quarter-turned)*sin.
            const Vec3 origin(base), straight(frame.across * p.u + frame.over * p.v);
            const Vec3 quarter(frame.over * p.u - frame.across * p.v), up(frame.along);
            Vec3* __restrict row = positions_.data() + layout_.vertex_base[i];
            for (Index j = 0; j < layout_.columns; ++j)
                row[j] = origin + straight * static_cast<float>(cosines_[j]) + quarter * static_cast<float>(sines_[j]) +
                         up * static_cast<float>(lifts_[j]);
        }
    }

    /// Arrays of their final length, and the edges of the rings.
    void size_topology() {
        std::size_t wall_faces = 0, corners = 0, axis_edges = 0;
        for (std::size_t k = 0; k < layout_.spans; ++k) {
            if (!layout_.has_faces(k)) continue;
            wall_faces += steps_;
            corners += static_cast<std::size_t>(steps_) * (layout_.pole[k] || layout_.pole[layout_.after(k)] ? 3 : 4);
        }
        for (const CapRun& run : runs_) {
            corners += 2 * run.points.size();
            axis_edges += run.along_axis;
        }
        topology_->vertex_count = layout_.vertex_count;
        topology_->edges.resize(layout_.edge_count + axis_edges);
        topology_->face_offsets.resize(wall_faces + 2 * runs_.size() + 1);
        topology_->corner_vertex.resize(corners);
        topology_->corner_edge.resize(corners);
        for (std::size_t i = 0; i < layout_.points; ++i) {
            if (layout_.pole[i]) continue;
            auto* edge = topology_->edges.data() + layout_.ring_edge[i];
            const Index base = layout_.vertex_base[i];
            for (Index j = 0; j < steps_; ++j) edge[j] = {base + j, base + (j + 1 == layout_.columns ? 0 : j + 1)};
        }
    }

    void prepare_normals() {
        planar_normals_ = options_.normals && profile_.planar && total_rise_ == 0 && total_angle_ != 0;
        if (planar_normals_) normals_ = span_normals(profile_, layout_, sign_, options_.smooth_angle);
        corner_normals_ = planar_normals_ && (normals_.any_sharp || !runs_.empty());
        // The profile may stand at any angle about the axis.
        double heading_u = 1, heading_v = 0;
        for (const auto& p : profile_.points)
            if (p.radius > 0) {
                heading_u = p.u / p.radius;
                heading_v = p.v / p.radius;
                break;
            }
        const Frame& frame = options_.frame;
        out_straight_ = Vec3(frame.across * heading_u + frame.over * heading_v);
        out_quarter_ = Vec3(frame.over * heading_u - frame.across * heading_v);
        out_up_ = Vec3(frame.along);
    }

    /// Turns normals of the profile, in (radius, height), to a column. A copy by value: written rows of floats could
    /// otherwise be its own numbers, which would have to be read again each time.
    struct Heading {
        Vec3 straight, quarter, up;
        const double *cosines, *sines;
        Vec3 turned(const DVec2& n, Index j) const {
            return (straight * static_cast<float>(cosines[j]) + quarter * static_cast<float>(sines[j])) *
                       static_cast<float>(n.x) +
                   up * static_cast<float>(n.y);
        }
    };
    Heading heading() const { return {out_straight_, out_quarter_, out_up_, cosines_.data(), sines_.data()}; }

    /// Distance along the profile for v, share of the turn for u.
    void measure_profile() {
        const std::size_t points = layout_.points;
        along_.assign(points + 1, 0);
        for (std::size_t i = 1; i <= points; ++i) {
            const auto &a = profile_.points[i - 1], &b = profile_.points[i % points];
            along_[i] = along_[i - 1] + std::hypot(a.u - b.u, a.v - b.v, a.h - b.h);
        }
        whole_ = std::max(along_[layout_.spans], 1e-12);
        round_.resize(steps_ + 1);
        for (Index j = 0; j <= steps_; ++j) round_[j] = static_cast<float>(j) / static_cast<float>(steps_);
        begin_row_.resize(layout_.columns + 1), end_row_.resize(layout_.columns + 1);
    }

    /// The faces between a point of the profile and the next.
    void lay_span(std::size_t k) {
        const std::size_t next = layout_.after(k);
        auto* edge = topology_->edges.data() + layout_.span_edge[k];
        for (Index j = 0; j < layout_.columns; ++j) edge[j] = {layout_.vertex(k, j), layout_.vertex(next, j)};
        if (corner_normals_) {
            const Heading to = heading();
            const DVec2 begin = normals_.begin[k], end = normals_.end[k];
            Vec3 *const begin_row = begin_row_.data(), *const end_row = end_row_.data();
            const Index columns = layout_.columns, steps = steps_;
            for (Index j = 0; j <= steps; ++j) {
                const Index column = j == columns ? 0 : j;
                begin_row[j] = to.turned(begin, column);
                end_row[j] = to.turned(end, column);
            }
        }
        if (layout_.pole[k] || layout_.pole[next])
            lay_fan(k, next);
        else
            lay_quads(k, next);
    }

    /// Four corners in the order that faces outwards; written without branching on direction inside the loop, because
    /// this loop is the whole cost of a turned shape.
    void lay_quads(std::size_t k, std::size_t next) {
        const bool forward = sign_ > 0;
        const int a = 0, b = forward ? 1 : 3, c = 2, d = forward ? 3 : 1;  // slots of (k,j) (k,j+1) (next,j+1) (next,j)
        const int e_ring_low = forward ? 0 : 3, e_right = forward ? 1 : 2, e_ring_high = forward ? 2 : 1,
                  e_left = forward ? 3 : 0;
        const float v0 = v_at(k), v1 = v_at(k + 1);
        // Arrays of their own: told to the compiler, which cannot see it across functions.
        Index* __restrict cv = topology_->corner_vertex.data() + corner_;
        Index* __restrict ce = topology_->corner_edge.data() + corner_;
        Vec2* __restrict cu = options_.uvs ? uv_.data() + corner_ : nullptr;
        Vec3* __restrict cn = corner_normals_ ? corner_normal_.data() + corner_ : nullptr;
        Index* __restrict offset = topology_->face_offsets.data() + face_;
        const Index low = layout_.vertex_base[k], high = layout_.vertex_base[next], columns = layout_.columns,
                    steps = steps_, first = corner_, span_base = layout_.span_edge[k], ring_low = layout_.ring_edge[k],
                    ring_high = layout_.ring_edge[next];
        const float* const round = round_.data();
        const Vec3 *const begin_row = begin_row_.data(), *const end_row = end_row_.data();
        for (Index j = 0; j < steps; ++j, cv += 4, ce += 4) {
            const Index j1 = j + 1 == columns ? 0 : j + 1;
            offset[j] = first + 4 * j;
            cv[a] = low + j;
            cv[b] = low + j1;
            cv[c] = high + j1;
            cv[d] = high + j;
            ce[e_ring_low] = ring_low + j;
            ce[e_right] = span_base + j1;
            ce[e_ring_high] = ring_high + j;
            ce[e_left] = span_base + j;
            if (cu) {
                cu[a] = {round[j], v0};
                cu[b] = {round[j + 1], v0};
                cu[c] = {round[j + 1], v1};
                cu[d] = {round[j], v1};
                cu += 4;
            }
            if (cn) {
                cn[a] = begin_row[j];
                cn[b] = begin_row[j + 1];
                cn[c] = end_row[j + 1];
                cn[d] = end_row[j];
                cn += 4;
            }
        }
        corner_ += 4 * steps;
        face_ += steps;
    }

    /// Triangles: a pole, and two vertices of the ring beside it.
    void lay_fan(std::size_t k, std::size_t next) {
        const bool forward = sign_ > 0, pole_a = layout_.pole[k];
        const Index span_base = layout_.span_edge[k];
        const float v0 = v_at(k), v1 = v_at(k + 1), v_tip = pole_a ? v0 : v1, v_ring = pole_a ? v1 : v0;
        const std::vector<Vec3>&tip_row = pole_a ? begin_row_ : end_row_, &ring_row = pole_a ? end_row_ : begin_row_;
        for (Index j = 0; j < steps_; ++j) {
            const Index j1 = j + 1 == layout_.columns ? 0 : j + 1;
            topology_->face_offsets[face_++] = corner_;
            const Index ring_a = pole_a ? layout_.vertex(next, j1) : layout_.vertex(k, j);
            const Index ring_b = pole_a ? layout_.vertex(next, j) : layout_.vertex(k, j1);
            const Index tip = pole_a ? layout_.vertex_base[k] : layout_.vertex_base[next];
            const Index ring_edge = (pole_a ? layout_.ring_edge[next] : layout_.ring_edge[k]) + j;
            const Index edge_a = span_base + (pole_a ? j1 : j), edge_b = span_base + (pole_a ? j : j1);
            const Index vertices[3] = {tip, ring_a, ring_b};
            const Index edges[3] = {edge_a, ring_edge, edge_b};  // tip-a, a-b, b-tip
            const float us[3] = {(round_[j] + round_[j + 1]) / 2, round_[pole_a ? j + 1 : j],
                                 round_[pole_a ? j : j + 1]};
            Vec3 ns[3];
            if (corner_normals_) {
                ns[0] = glm::normalize(tip_row[j] + tip_row[j + 1]);
                ns[1] = ring_row[pole_a ? j + 1 : j];
                ns[2] = ring_row[pole_a ? j : j + 1];
            }
            for (int s = 0; s < 3; ++s) {
                const int from = forward ? s : (3 - s) % 3;
                topology_->corner_vertex[corner_] = vertices[from];
                topology_->corner_edge[corner_] = forward ? edges[s] : edges[2 - s];
                if (options_.uvs) uv_[corner_] = {us[from], from == 0 ? v_tip : v_ring};
                if (corner_normals_) corner_normal_[corner_] = ns[from];
                ++corner_;
            }
        }
    }

    /// Both ends of a run of the profile; `axis_edge` is the next edge along the axis to be given out.
    void lay_cap(const CapRun& run, Index& axis_edge) {
        const std::size_t count = run.points.size();
        if (run.along_axis)
            topology_->edges[axis_edge] = {layout_.vertex_base[run.points.front()],
                                           layout_.vertex_base[run.points.back()]};
        double low_u = 1e300, high_u = -1e300, low_h = 1e300, high_h = -1e300;
        for (Index i : run.points) {
            const auto& p = profile_.points[i];
            low_u = std::min(low_u, p.radius), high_u = std::max(high_u, p.radius);
            low_h = std::min(low_h, p.h), high_h = std::max(high_h, p.h);
        }
        const double size = std::max({high_u - low_u, high_h - low_h, 1e-12});
        for (int side = 0; side < 2; ++side) {
            const Index column = side == 0 ? 0 : layout_.columns - 1;
            const bool ascending = (side == 0) == (sign_ > 0);
            topology_->face_offsets[face_++] = corner_;
            std::vector<Index> loop(count);
            for (std::size_t s = 0; s < count; ++s) {
                const std::size_t slot = ascending ? s : count - 1 - s;
                const Index i = run.points[slot];
                loop[s] = layout_.vertex(i, column);
                const std::size_t span = ascending ? slot : (slot + count - 1) % count;  // span left by this corner
                const bool closing = run.along_axis && span == count - 1;
                topology_->corner_vertex[corner_ + s] = loop[s];
                topology_->corner_edge[corner_ + s] =
                    closing ? axis_edge : layout_.span_edge[run.points[span]] + column;
                if (options_.uvs)
                    uv_[corner_ + s] = {static_cast<float>((profile_.points[i].radius - low_u) / size),
                                        static_cast<float>((profile_.points[i].h - low_h) / size)};
            }
            if (corner_normals_) std::fill_n(corner_normal_.begin() + corner_, count, newell_normal(positions_, loop));
            corner_ += static_cast<Index>(count);
        }
        axis_edge += run.along_axis;
    }

    Mesh finished() {
        Mesh mesh(std::move(positions_), std::move(topology_));
        if (options_.uvs) mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uv_));
        if (corner_normals_) {
            mesh.attributes.set(Domain::corner, attribute_name::normal, std::move(corner_normal_));
        } else if (planar_normals_) {
            Array<Vec3> smooth(layout_.vertex_count);
            const Heading to = heading();
            for (std::size_t i = 0; i < layout_.points; ++i) {
                const bool has_out = i < layout_.spans && layout_.has_faces(i);
                const DVec2 n = has_out ? normals_.begin[i] : normals_.end[(i == 0 ? layout_.spans : i) - 1];
                const Index count = layout_.pole[i] ? 1 : layout_.columns;
                Vec3* const row = smooth.data() + layout_.vertex_base[i];
                for (Index j = 0; j < count; ++j) row[j] = to.turned(n, j);
            }
            mesh.attributes.set(Domain::vertex, attribute_name::normal, std::move(smooth));
        } else if (options_.normals) {
            mesh = with_normals_by_angle(mesh, options_.smooth_angle);
        }
        return mesh;
    }

    float v_at(std::size_t i) const { return static_cast<float>(along_[i] / whole_); }

    const LatheProfile& profile_;
    const LatheOptions& options_;
    double total_angle_ = 0, total_rise_ = 0, sign_ = 1, whole_ = 1;
    Index steps_ = 0;
    Layout layout_;
    std::vector<CapRun> runs_;
    std::vector<double> cosines_, sines_, lifts_, along_;
    std::vector<float> round_;
    SpanNormals normals_;
    bool planar_normals_ = false, corner_normals_ = false;
    Vec3 out_straight_{0}, out_quarter_{0}, out_up_{0};
    std::vector<Vec3> begin_row_, end_row_;  ///< normals of the span in hand, column by column
    Array<Vec3> positions_;
    std::shared_ptr<Topology> topology_ = std::make_shared<Topology>();
    Array<Vec2> uv_;
    Array<Vec3> corner_normal_;
    std::size_t face_ = 0;
    Index corner_ = 0;
};

}  // namespace

Mesh lathe(const Polyline& line, const LatheOptions& options, std::size_t* cap_faces) {
    if (cap_faces) *cap_faces = 0;
    const LatheProfile profile = prepare_profile(line, options);
    if (profile.points.size() < 2 || options.turns == 0 || (options.angle == 0 && options.rise == 0)) return {};
    Turning turning(profile, options);
    Mesh mesh = turning.mesh();
    if (!line.values.empty())
        columns_of(line.values, Domain::vertex).gather_into(mesh.attributes, Domain::vertex, turning.sources());
    if (cap_faces) *cap_faces = turning.cap_faces();
    return mesh;
}

}  // namespace bricol
