// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/field_vdb.h"

#include <openvdb/openvdb.h>
#include <openvdb/tools/Composite.h>
#include <openvdb/tools/Filter.h>
#include <openvdb/tools/MeshToVolume.h>
#include <openvdb/tools/VolumeToMesh.h>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"

// The library brings these templates compiled: only with its own adapter and interrupter are they not made anew here,
// which takes six minutes.
namespace bricol {

struct DistanceField::Grid {
    openvdb::FloatGrid::Ptr values;
};

namespace {

using FloatGrid = openvdb::FloatGrid;

void start_library() {
    static const bool once = [] {
        openvdb::initialize();
        return true;
    }();
    (void)once;
}

/// OpenVDB asks this from all its threads; they obey the stop of the thread that called.
class StopLooked : public openvdb::util::NullInterrupter {
public:
    StopLooked() : flag_(stop_of_thread()) {}
    bool wasInterrupted(int = -1) override {
        if (!flag_) return false;
        const auto* asked = flag_->load();
        return asked && asked->load();
    }
    void throw_if_stopped() {
        if (wasInterrupted()) throw Stopped{};
    }

private:
    std::shared_ptr<StopFlag> flag_;
};

/// The field's grid, or a copy when somebody else holds it too.
FloatGrid::Ptr own_grid(const DistanceField& field) {
    return field.alone() ? field.grid().values : field.grid().values->deepCopy();
}

DistanceField kept(FloatGrid::Ptr grid) {
    auto out = std::make_shared<DistanceField::Grid>();
    out->values = std::move(grid);
    return DistanceField(std::move(out));
}

}  // namespace

std::size_t DistanceField::bytes() const { return grid_ ? grid_->values->memUsage() : 0; }

DistanceField field_round(const std::vector<Vec3>& points, const std::vector<std::array<Index, 3>>& triangles,
                          double cell, int band) {
    start_library();
    StopLooked stop;
    std::vector<openvdb::Vec3s> places(points.size());  // in cells instead of metres
    for (std::size_t i = 0; i < points.size(); ++i) {
        const DVec3 p = DVec3(points[i]) / cell;
        places[i] = openvdb::Vec3s(static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z));
    }
    std::vector<openvdb::Vec3I> corners(triangles.size());
    for (std::size_t i = 0; i < triangles.size(); ++i)
        corners[i] = openvdb::Vec3I(triangles[i][0], triangles[i][1], triangles[i][2]);
    const openvdb::tools::QuadAndTriangleDataAdapter<openvdb::Vec3s, openvdb::Vec3I> mesh(places, corners);
    const auto transform = openvdb::math::Transform::createLinearTransform(cell);
    FloatGrid::Ptr grid = openvdb::tools::meshToVolume<FloatGrid>(
        stop.interrupter(), mesh, *transform, static_cast<float>(band), static_cast<float>(band), 0, nullptr);
    stop.throw_if_stopped();
    return kept(grid);
}

DistanceField combined(DistanceField first, const DistanceField& second, FuseKind kind) {
    // Both are used up by the library, so copies are handed over of what others hold.
    FloatGrid::Ptr a = own_grid(first), b = second.grid().values->deepCopy();
    stop_point();
    if (kind == FuseKind::join)
        openvdb::tools::csgUnion(*a, *b);
    else if (kind == FuseKind::cut)
        openvdb::tools::csgDifference(*a, *b);
    else
        openvdb::tools::csgIntersection(*a, *b);
    stop_point();
    return kept(a);
}

DistanceField smoothed(DistanceField field, FuseSmoothing smoothing, int rounds) {
    FloatGrid::Ptr grid = own_grid(field);
    StopLooked stop;
    openvdb::tools::Filter<FloatGrid, FloatGrid, openvdb::util::NullInterrupter> filter(*grid, &stop.interrupter());
    if (smoothing == FuseSmoothing::even) filter.mean(1, rounds);
    if (smoothing == FuseSmoothing::soft) filter.gaussian(1, rounds);
    if (smoothing == FuseSmoothing::edges) filter.median(1, rounds);
    stop.throw_if_stopped();
    return kept(grid);
}

FieldMesh surface_of(const DistanceField& field, double distance) {
    struct Meshed {
        FloatGrid::Ptr grid;
        std::vector<openvdb::Vec3s> points;
        std::vector<openvdb::Vec3I> triangles;
        std::vector<openvdb::Vec4I> quads;
    };
    // The library does not look for a stop here, and takes a tenth of a second for a fine field.
    const auto meshed = std::make_shared<Meshed>(Meshed{field.grid().values, {}, {}, {}});
    parallel::beside([meshed, distance] {
        openvdb::tools::volumeToMesh(*meshed->grid, meshed->points, meshed->triangles, meshed->quads, distance, 0.0,
                                     false);
    });
    const auto& [grid, points, triangles, quads] = *meshed;
    stop_point();
    FieldMesh out;
    out.points.reserve(points.size());
    for (const auto& p : points) out.points.emplace_back(p[0], p[1], p[2]);
    out.corners.reserve(quads.size() * 4);
    out.offsets.reserve(quads.size() + 1);
    for (const auto& quad : quads) {
        for (int corner = 3; corner >= 0; --corner) out.corners.push_back(quad[corner]);  // the library winds inward
        out.offsets.push_back(static_cast<Index>(out.corners.size()));
    }
    for (const auto& triangle : triangles) {
        for (int corner = 2; corner >= 0; --corner) out.corners.push_back(triangle[corner]);
        out.offsets.push_back(static_cast<Index>(out.corners.size()));
    }
    return out;
}

}  // namespace bricol
