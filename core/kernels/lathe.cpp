// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/lathe.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/ground/numbers.h"

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

}  // namespace

Frame axis_frame(int axis, const DVec3& centre) {
    Frame frame;
    frame.centre = centre;
    const DVec3 unit[3] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
    frame.across = unit[(axis + 1) % 3];
    frame.over = unit[(axis + 2) % 3];
    frame.along = unit[axis];
    return frame;
}

LatheProfile prepare_profile(const Polyline& line, const LatheOptions& options) {
    LatheProfile profile;
    profile.closed = line.closed;
    const double total_angle = options.angle * options.turns, total_rise = options.rise * options.turns;
    profile.full_turn = total_rise == 0 && std::abs(total_angle) > 360 - 1e-6;
    const Frame& frame = options.frame;

    for (std::size_t i = 0; i < line.points.size(); ++i) {
        stop_point(i);
        const DVec3 p = DVec3(line.points[i]) - frame.centre;
        LatheProfile::Point point{};
        point.u = glm::dot(p, frame.across);
        point.v = glm::dot(p, frame.over);
        point.h = glm::dot(p, frame.along);
        point.knot = i < line.knot.size() ? line.knot[i] : -1;
        point.sharp = i < line.sharp.size() && line.sharp[i];
        if (!profile.points.empty()) {
            const auto& last = profile.points.back();
            if (std::hypot(point.u - last.u, point.v - last.v, point.h - last.h) < 1e-7) {
                ++profile.repeats;
                continue;
            }
        }
        profile.points.push_back(point);
    }
    if (profile.points.size() > 1) {
        const auto &first = profile.points.front(), &last = profile.points.back();
        if (std::hypot(first.u - last.u, first.v - last.v, first.h - last.h) < 1e-7) {
            profile.points.pop_back();
            if (profile.closed)
                ++profile.repeats;
            else
                profile.closed = profile.points.size() > 2;
        }
    }
    if (profile.points.size() < 2) {
        profile.points.clear();
        return profile;
    }

    // The direction of the point farthest from the axis is "outwards" for sides and for telling what crosses.
    double far_u = 1, far_v = 0, farthest = 0;
    for (const auto& p : profile.points)
        if (const double r = std::hypot(p.u, p.v); r > farthest) {
            farthest = r;
            far_u = p.u / r;
            far_v = p.v / r;
        }
    double low = 1e300, high = -1e300, off_plane = 0;
    for (const auto& p : profile.points) {
        const double s = p.u * far_u + p.v * far_v;
        low = std::min(low, s);
        high = std::max(high, s);
        off_plane = std::max(off_plane, std::abs(p.v * far_u - p.u * far_v));
    }
    double shift = 0;
    if (options.side == AxisSide::inner) shift = -low;
    if (options.side == AxisSide::middle) shift = -(low + high) / 2;
    if (options.side == AxisSide::outer) shift = -high;
    profile.planar = off_plane < 1e-6 && (low + shift > -1e-9 || high + shift < 1e-9);
    const bool axis_matters = total_angle != 0;
    for (auto& p : profile.points) {
        p.u += shift * far_u;
        p.v += shift * far_v;
        p.radius = std::hypot(p.u, p.v);
        if (axis_matters && p.radius <= options.weld) p.u = p.v = p.radius = 0;
    }
    // Two neighbours that welding put on one spot are one point.
    if (axis_matters) {
        const auto same = [](const LatheProfile::Point& a, const LatheProfile::Point& b) {
            return a.radius == 0 && b.radius == 0 && std::abs(a.h - b.h) < 1e-7;
        };
        profile.points.erase(std::unique(profile.points.begin(), profile.points.end(), same), profile.points.end());
    }
    // Lead open ends to the axis, so that the solid closes.
    if (options.caps && !profile.closed && axis_matters && total_rise == 0 && profile.points.size() > 1) {
        const auto on_axis = [](LatheProfile::Point end) {
            end.u = end.v = end.radius = 0;
            end.knot = -1;
            end.sharp = false;
            return end;
        };
        if (profile.points.front().radius > 0) {
            profile.points.front().sharp = true;
            profile.points.insert(profile.points.begin(), on_axis(profile.points.front()));
        }
        if (profile.points.back().radius > 0) {
            profile.points.back().sharp = true;
            profile.points.push_back(on_axis(profile.points.back()));
        }
    }
    return profile;
}

namespace {

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

}  // namespace

Mesh lathe(const Polyline& line, const LatheOptions& options) {
    const LatheProfile profile = prepare_profile(line, options);
    if (profile.points.size() < 2) return {};
    double total_angle = options.angle * options.turns * degree;
    const double total_rise = options.rise * options.turns;
    if (total_angle == 0 && total_rise == 0) return {};
    if (profile.full_turn) total_angle = std::copysign(2 * std::numbers::pi, total_angle);
    const double turns = profile.full_turn ? 1 : std::abs(options.turns);
    const Index least = profile.full_turn ? 3 : 1;
    const Index steps = std::max(least, static_cast<Index>(std::lround(options.segments * turns)));
    const bool poles_weld = total_rise == 0;
    const Layout layout = make_layout(profile, steps, poles_weld);
    const double sign = swept_sign(profile, total_angle, total_rise) < 0 ? -1 : 1;
    const bool forward = sign > 0;
    const std::size_t points = layout.points;
    const Index columns = layout.columns;

    // Directions of the columns, once; everything else multiplies by them.
    std::vector<double> cosines(columns), sines(columns), lifts(columns);
    for (Index j = 0; j < columns; ++j) {
        const double t = static_cast<double>(j) / steps;
        cosines[j] = std::cos(total_angle * t);
        sines[j] = std::sin(total_angle * t);
        lifts[j] = total_rise * t;
    }
    const Frame& frame = options.frame;
    Array<Vec3> positions(layout.vertex_count);
    for (std::size_t i = 0; i < points; ++i) {
        const auto& p = profile.points[i];
        const DVec3 base = frame.centre + frame.along * p.h;
        if (layout.pole[i]) {
            positions[layout.vertex_base[i]] = Vec3(base);
            continue;
        }
        // p turned by the column's angle is p*cos + (p quarter-turned)*sin.
        const Vec3 origin(base), straight(frame.across * p.u + frame.over * p.v);
        const Vec3 quarter(frame.over * p.u - frame.across * p.v), up(frame.along);
        Vec3* row = positions.data() + layout.vertex_base[i];
        for (Index j = 0; j < columns; ++j)
            row[j] = origin + straight * static_cast<float>(cosines[j]) + quarter * static_cast<float>(sines[j]) +
                     up * static_cast<float>(lifts[j]);
    }

    // Caps first as lists, so that every array below can be sized once.
    const bool can_cap = options.caps && !profile.full_turn && (profile.closed || (poles_weld && total_angle != 0));
    const std::vector<CapRun> runs = can_cap ? cap_runs(layout, profile.closed) : std::vector<CapRun>{};
    std::size_t wall_faces = 0, wall_corners = 0, cap_corners = 0, axis_edges = 0;
    for (std::size_t k = 0; k < layout.spans; ++k) {
        if (!layout.has_faces(k)) continue;
        wall_faces += steps;
        wall_corners += static_cast<std::size_t>(steps) * (layout.pole[k] || layout.pole[layout.after(k)] ? 3 : 4);
    }
    for (const CapRun& run : runs) {
        cap_corners += 2 * run.points.size();
        axis_edges += run.along_axis;
    }

    auto topology = std::make_shared<Topology>();
    topology->vertex_count = layout.vertex_count;
    topology->edges.resize(layout.edge_count + axis_edges);
    topology->face_offsets.resize(wall_faces + 2 * runs.size() + 1);
    topology->corner_vertex.resize(wall_corners + cap_corners);
    topology->corner_edge.resize(wall_corners + cap_corners);
    for (std::size_t i = 0; i < points; ++i) {
        if (layout.pole[i]) continue;
        auto* edge = topology->edges.data() + layout.ring_edge[i];
        const Index base = layout.vertex_base[i];
        for (Index j = 0; j < steps; ++j) edge[j] = {base + j, base + (j + 1 == columns ? 0 : j + 1)};
    }

    const bool planar_normals = options.normals && profile.planar && total_rise == 0 && total_angle != 0;
    SpanNormals normals;
    if (planar_normals) normals = span_normals(profile, layout, sign, options.smooth_angle);
    const bool corner_normals = planar_normals && (normals.any_sharp || !runs.empty());
    // The profile may stand at any angle about the axis.
    double heading_u = 1, heading_v = 0;
    for (const auto& p : profile.points)
        if (p.radius > 0) {
            heading_u = p.u / p.radius;
            heading_v = p.v / p.radius;
            break;
        }
    const Vec3 out_straight(frame.across * heading_u + frame.over * heading_v);
    const Vec3 out_quarter(frame.over * heading_u - frame.across * heading_v), up(frame.along);
    const auto turned = [&](const DVec2& n, Index j) {
        return (out_straight * static_cast<float>(cosines[j]) + out_quarter * static_cast<float>(sines[j])) *
                   static_cast<float>(n.x) +
               up * static_cast<float>(n.y);
    };

    std::vector<double> along(points + 1, 0);  // distance along the profile, for v
    for (std::size_t i = 1; i <= points; ++i) {
        const auto &a = profile.points[i - 1], &b = profile.points[i % points];
        along[i] = along[i - 1] + std::hypot(a.u - b.u, a.v - b.v, a.h - b.h);
    }
    const double whole = std::max(along[layout.spans], 1e-12);
    Column uv_column = Array<Vec2>(options.uvs ? wall_corners + cap_corners : 0);
    Column normal_column = Array<Vec3>(corner_normals ? wall_corners + cap_corners : 0);
    auto& uv = std::get<Array<Vec2>>(uv_column);
    auto& corner_normal = std::get<Array<Vec3>>(normal_column);
    std::vector<float> round(steps + 1);
    for (Index j = 0; j <= steps; ++j) round[j] = static_cast<float>(j) / static_cast<float>(steps);

    std::size_t face = 0;
    Index corner = 0;
    std::vector<Vec3> begin_row(columns + 1), end_row(columns + 1);
    for (std::size_t k = 0; k < layout.spans; ++k) {
        stop_point();
        if (!layout.has_faces(k)) continue;
        const std::size_t next = layout.after(k);
        auto* edge = topology->edges.data() + layout.span_edge[k];
        for (Index j = 0; j < columns; ++j) edge[j] = {layout.vertex(k, j), layout.vertex(next, j)};
        const float v0 = static_cast<float>(along[k] / whole), v1 = static_cast<float>(along[k + 1] / whole);
        if (corner_normals)
            for (Index j = 0; j <= steps; ++j) {
                const Index column = j == columns ? 0 : j;
                begin_row[j] = turned(normals.begin[k], column);
                end_row[j] = turned(normals.end[k], column);
            }
        const bool pole_a = layout.pole[k], pole_b = layout.pole[next];
        const Index span_base = layout.span_edge[k];
        // Four corners (or three at a pole) in the order that faces outwards; written without branching on direction
        // inside the loop, because this loop is the whole cost of a turned shape.
        const int a = 0, b = forward ? 1 : 3, c = 2, d = forward ? 3 : 1;  // slots of (k,j) (k,j+1) (next,j+1) (next,j)
        const int e_ring_low = forward ? 0 : 3, e_right = forward ? 1 : 2, e_ring_high = forward ? 2 : 1,
                  e_left = forward ? 3 : 0;
        if (!pole_a && !pole_b) {
            Index* cv = topology->corner_vertex.data() + corner;
            Index* ce = topology->corner_edge.data() + corner;
            Vec2* cu = options.uvs ? uv.data() + corner : nullptr;
            Vec3* cn = corner_normals ? corner_normal.data() + corner : nullptr;
            Index* offset = topology->face_offsets.data() + face;
            const Index low = layout.vertex_base[k], high = layout.vertex_base[next];
            for (Index j = 0; j < steps; ++j, cv += 4, ce += 4) {
                const Index j1 = j + 1 == columns ? 0 : j + 1;
                offset[j] = corner + 4 * j;
                cv[a] = low + j;
                cv[b] = low + j1;
                cv[c] = high + j1;
                cv[d] = high + j;
                ce[e_ring_low] = layout.ring_edge[k] + j;
                ce[e_right] = span_base + j1;
                ce[e_ring_high] = layout.ring_edge[next] + j;
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
            corner += 4 * steps;
            face += steps;
            continue;
        }
        for (Index j = 0; j < steps; ++j) {
            const Index j1 = j + 1 == columns ? 0 : j + 1;
            topology->face_offsets[face++] = corner;
            // Triangle: pole, and the ring's two vertices.
            const Index ring_a = pole_a ? layout.vertex(next, j1) : layout.vertex(k, j);
            const Index ring_b = pole_a ? layout.vertex(next, j) : layout.vertex(k, j1);
            const Index tip = pole_a ? layout.vertex_base[k] : layout.vertex_base[next];
            const Index ring_edge = (pole_a ? layout.ring_edge[next] : layout.ring_edge[k]) + j;
            const Index edge_a = span_base + (pole_a ? j1 : j), edge_b = span_base + (pole_a ? j : j1);
            const float middle = (round[j] + round[j + 1]) / 2, v_tip = pole_a ? v0 : v1, v_ring = pole_a ? v1 : v0;
            const Index vertices[3] = {tip, ring_a, ring_b};
            const Index edges[3] = {edge_a, ring_edge, edge_b};  // tip-a, a-b, b-tip
            const float us[3] = {middle, round[pole_a ? j + 1 : j], round[pole_a ? j : j + 1]};
            Vec3 ns[3];
            if (corner_normals) {
                const auto& tip_row = pole_a ? begin_row : end_row;
                const auto& ring_row = pole_a ? end_row : begin_row;
                ns[0] = glm::normalize(tip_row[j] + tip_row[j + 1]);
                ns[1] = ring_row[pole_a ? j + 1 : j];
                ns[2] = ring_row[pole_a ? j : j + 1];
            }
            for (int s = 0; s < 3; ++s) {
                const int from = forward ? s : (3 - s) % 3;
                topology->corner_vertex[corner] = vertices[from];
                topology->corner_edge[corner] = forward ? edges[s] : edges[2 - s];
                if (options.uvs) uv[corner] = {us[from], from == 0 ? v_tip : v_ring};
                if (corner_normals) corner_normal[corner] = ns[from];
                ++corner;
            }
        }
    }

    Index axis_edge = layout.edge_count;
    for (const CapRun& run : runs) {
        const std::size_t count = run.points.size();
        if (run.along_axis)
            topology->edges[axis_edge] = {layout.vertex_base[run.points.front()],
                                          layout.vertex_base[run.points.back()]};
        double low_u = 1e300, high_u = -1e300, low_h = 1e300, high_h = -1e300;
        for (Index i : run.points) {
            const auto& p = profile.points[i];
            low_u = std::min(low_u, p.radius), high_u = std::max(high_u, p.radius);
            low_h = std::min(low_h, p.h), high_h = std::max(high_h, p.h);
        }
        const double size = std::max({high_u - low_u, high_h - low_h, 1e-12});
        for (int side = 0; side < 2; ++side) {
            const Index column = side == 0 ? 0 : columns - 1;
            const bool ascending = (side == 0) == forward;
            topology->face_offsets[face++] = corner;
            std::vector<Index> loop(count);
            for (std::size_t s = 0; s < count; ++s) {
                const std::size_t slot = ascending ? s : count - 1 - s;
                const Index i = run.points[slot];
                loop[s] = layout.vertex(i, column);
                const std::size_t span = ascending ? slot : (slot + count - 1) % count;  // span left by this corner
                const bool closing = run.along_axis && span == count - 1;
                topology->corner_vertex[corner + s] = loop[s];
                topology->corner_edge[corner + s] = closing ? axis_edge : layout.span_edge[run.points[span]] + column;
                if (options.uvs)
                    uv[corner + s] = {static_cast<float>((profile.points[i].radius - low_u) / size),
                                      static_cast<float>((profile.points[i].h - low_h) / size)};
            }
            if (corner_normals) std::fill_n(corner_normal.begin() + corner, count, newell_normal(positions, loop));
            corner += static_cast<Index>(count);
        }
        axis_edge += run.along_axis;
    }
    topology->face_offsets[face] = corner;

    Mesh mesh(std::move(positions), std::move(topology));
    if (options.uvs) mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uv_column));
    if (corner_normals) {
        mesh.attributes.set(Domain::corner, attribute_name::normal, std::move(normal_column));
    } else if (planar_normals) {
        Array<Vec3> smooth(layout.vertex_count);
        for (std::size_t i = 0; i < points; ++i) {
            const bool has_out = i < layout.spans && layout.has_faces(i);
            const DVec2 n = has_out ? normals.begin[i] : normals.end[(i == 0 ? layout.spans : i) - 1];
            for (Index j = 0; j < (layout.pole[i] ? 1 : columns); ++j) smooth[layout.vertex_base[i] + j] = turned(n, j);
        }
        mesh.attributes.set(Domain::vertex, attribute_name::normal, std::move(smooth));
    } else if (options.normals) {
        mesh = with_normals_by_angle(mesh, options.smooth_angle);
    }
    return mesh;
}

}  // namespace bricol
