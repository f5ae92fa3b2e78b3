// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/alignment.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/slice.h"
#include "core/kernels/whole_pieces.h"

namespace bricol {

namespace {

std::size_t piece_of(const std::vector<double>& distance, double where) {
    const auto next = std::upper_bound(distance.begin(), distance.end(), where);
    return static_cast<std::size_t>(
        std::clamp<std::ptrdiff_t>(next - distance.begin() - 1, 0, static_cast<std::ptrdiff_t>(distance.size()) - 2));
}

}  // namespace

double HeightLine::at(double where) const {
    if (distance.empty()) return 0;
    if (where <= distance.front() || distance.size() == 1) return height.front();
    if (where >= distance.back()) return height.back();
    const std::size_t i = piece_of(distance, where);
    return height[i] + (height[i + 1] - height[i]) * (where - distance[i]) / (distance[i + 1] - distance[i]);
}

double HeightLine::slope_at(double where) const {
    if (distance.size() < 2 || where < distance.front() || where > distance.back()) return 0;
    const std::size_t i = piece_of(distance, where);
    return (height[i + 1] - height[i]) / (distance[i + 1] - distance[i]);
}

HeightLine height_line(const Polyline& line, bool* turns_back) {
    *turns_back = false;
    HeightLine out;
    if (line.points.empty()) return out;
    DVec3 low(1e300), high(-1e300);
    for (const Vec3& p : line.points) low = glm::min(low, DVec3(p)), high = glm::max(high, DVec3(p));
    const int axis = high.x - low.x >= high.y - low.y ? 0 : 1;
    for (const Vec3& p : line.points) out.distance.push_back(p[axis]), out.height.push_back(p.z);
    if (out.distance.front() > out.distance.back())
        std::reverse(out.distance.begin(), out.distance.end()), std::reverse(out.height.begin(), out.height.end());
    HeightLine clean;
    for (std::size_t i = 0; i < out.distance.size(); ++i) {
        if (!clean.distance.empty() && out.distance[i] < clean.distance.back() - 1e-9) {
            *turns_back = true;
            return {};
        }
        if (!clean.distance.empty() && out.distance[i] - clean.distance.back() < 1e-9) {
            clean.height.back() = out.height[i];
            continue;
        }
        clean.distance.push_back(out.distance[i]);
        clean.height.push_back(out.height[i]);
    }
    return clean;
}

int StraightLengths::over(double whole) const {
    return pieces > 0 ? pieces : static_cast<int>(std::min(pieces_up_to(whole, longest), 1e7));
}

HeightLine in_pieces(const HeightLine& line, const StraightLengths& lengths) {
    if (!lengths.any() || line.distance.size() < 2) return line;
    const double whole = line.distance.back() - line.distance.front();
    const int pieces = lengths.over(whole);
    HeightLine out;
    for (int i = 0; i <= pieces; ++i) {
        out.distance.push_back(line.distance.front() + whole * i / pieces);
        out.height.push_back(line.at(out.distance.back()));
    }
    return out;
}

Polyline in_lengths(const Polyline& line, const StraightLengths& lengths) {
    if (!lengths.any()) return line;
    const Path path = make_path(line, {});
    if (path.empty()) return line;
    Polyline out;
    out.closed = path.closed;
    const auto pieces = std::max(path.closed ? 3 : 1, lengths.over(path.whole));
    for (int i = 0; i < pieces + (path.closed ? 0 : 1); ++i)
        out.points.push_back(Vec3(path.at(path.whole * i / pieces).at));
    out.sharp.assign(out.points.size(), 0);
    out.knot.assign(out.points.size(), -1);
    return out;
}

std::vector<double> joints_of(const Path& plan, bool in_lengths) {
    std::vector<double> out;
    for (std::size_t i = 0; i < plan.size(); ++i) {
        const bool end = i == 0 || (!plan.closed && i + 1 == plan.size());
        if (!end && (in_lengths || plan.sharp[i])) out.push_back(plan.length[i]);
    }
    return out;
}

std::vector<double> joints_of(const Path* plan, const StraightLengths& along, const HeightLine& heights,
                              const StraightLengths& up, double begin) {
    std::vector<double> places;
    if (plan) places = joints_of(*plan, along.any());
    if (up.any() && heights.distance.size() > 2)
        places.insert(places.end(), heights.distance.begin() + 1, heights.distance.end() - 1);
    for (double& place : places) place += begin;
    std::ranges::sort(places);
    return places;
}

Polyline ground_plan(Polyline line, double* off) {
    *off = 0;
    for (Vec3& p : line.points) *off = std::max(*off, std::abs(static_cast<double>(p.z))), p.z = 0;
    for (DVec3& t : line.tangent) t.z = 0, t = glm::length(t) > 1e-9 ? glm::normalize(t) : DVec3(0);
    return line;
}

Path straight_path(const Vec3& along) {
    Polyline line;
    line.points = {Vec3(0), along};
    return make_path(line, {true, {0, 0, 1}, true});
}

std::vector<Vec3> sharp_corners(const Polyline& line) {
    std::vector<Vec3> corners;
    for (std::size_t i = 1; i + 1 < line.points.size() && i < line.sharp.size(); ++i)
        if (line.sharp[i]) corners.push_back(line.points[i]);
    return corners;
}

Bend tightest_bend(const Path& path) {
    Bend tight;
    for (std::size_t i = 0; i < path.size(); ++i)
        if (const double radius = path.bend_at(i); !path.sharp[i] && radius < tight.radius)
            tight = {radius, Vec3(path.points[i].at)};
    return tight;
}

double steepest_of(const HeightLine& heights) {
    double worst = 0;
    for (std::size_t i = 0; i + 1 < heights.distance.size(); ++i)
        worst = std::max(worst, std::abs(heights.slope_at((heights.distance[i] + heights.distance[i + 1]) / 2)));
    return worst;
}

Mesh cut_across(Mesh mesh, int axis, std::span<const double> places) {
    SliceOptions options;
    options.normal = DVec3(0);
    options.normal[axis] = 1;
    options.keep = SliceKeep::edges_only;
    for (const double place : places) {
        options.point = DVec3(0);
        options.point[axis] = place;
        SliceResult cut = sliced(mesh, options);
        if (!cut.missed) mesh = std::move(cut.mesh);
        stop_point();
    }
    return mesh;
}

Alignment::Alignment(const Path& plan, HeightLine heights) : rails_(plan, true), heights_(std::move(heights)) {
    const std::size_t n = heights_.distance.size();
    if (n < 2) return;
    finder_.resize(2 * n);
    const double first = heights_.distance.front(), whole = heights_.distance.back() - first;
    for (std::size_t slot = 0, i = 0; slot < finder_.size(); ++slot) {
        const double where = first + whole * static_cast<double>(slot) / static_cast<double>(finder_.size());
        while (i + 2 < n && heights_.distance[i + 1] <= where) ++i;
        finder_[slot] = static_cast<std::uint32_t>(i);
    }
}

double Alignment::height_at(double along) const {
    const auto& d = heights_.distance;
    if (finder_.empty() || along <= d.front() || along >= d.back()) return heights_.at(along);
    const double share = (along - d.front()) / (d.back() - d.front()) * static_cast<double>(finder_.size());
    std::size_t i = finder_[std::min(static_cast<std::size_t>(share), finder_.size() - 1)];
    while (i + 2 < d.size() && d[i + 1] <= along) ++i;
    while (i > 0 && d[i] > along) --i;
    return heights_.height[i] + (heights_.height[i + 1] - heights_.height[i]) * (along - d[i]) / (d[i + 1] - d[i]);
}

DVec3 Alignment::at(double along, double left, double up) const {
    DVec3 p = rails_.at(along, -left, 0);
    p.z = up + height_at(along);
    return p;
}

}  // namespace bricol
