// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/field_vdb.h"

#include <openvdb/openvdb.h>
#include <openvdb/tools/Composite.h>
#include <openvdb/tools/Filter.h>
#include <openvdb/tools/MeshToVolume.h>
#include <openvdb/tools/VolumeToMesh.h>

#include "core/ground/stop.h"

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
class StopLooked {
public:
    StopLooked() : flag_(stop_of_thread()) {}
    void start(const char* = nullptr) {}
    void end() {}
    bool wasInterrupted(int = -1) {
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

/// Triangles as OpenVDB reads them, in cells instead of metres.
struct TrianglesInCells {
    const std::vector<Vec3>& points;
    const std::vector<std::array<Index, 3>>& triangles;
    double per_metre;

    std::size_t polygonCount() const { return triangles.size(); }
    std::size_t pointCount() const { return points.size(); }
    std::size_t vertexCount(std::size_t) const { return 3; }
    void getIndexSpacePoint(std::size_t n, std::size_t v, openvdb::Vec3d& p) const {
        const Vec3& q = points[triangles[n][v]];
        p = openvdb::Vec3d(q.x * per_metre, q.y * per_metre, q.z * per_metre);
    }
};

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
    const TrianglesInCells mesh{points, triangles, 1 / cell};
    const auto transform = openvdb::math::Transform::createLinearTransform(cell);
    FloatGrid::Ptr grid = openvdb::tools::meshToVolume<FloatGrid>(stop, mesh, *transform, static_cast<float>(band),
                                                                  static_cast<float>(band));
    stop.throw_if_stopped();
    return kept(grid);
}

DistanceField combined(const DistanceField& first, const DistanceField& second, FuseKind kind) {
    // Both are used up by the library, so copies are handed over.
    FloatGrid::Ptr a = first.grid().values->deepCopy(), b = second.grid().values->deepCopy();
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

DistanceField smoothed(const DistanceField& field, FuseSmoothing smoothing, int rounds) {
    FloatGrid::Ptr grid = field.grid().values->deepCopy();
    StopLooked stop;
    openvdb::tools::Filter<FloatGrid, FloatGrid, StopLooked> filter(*grid, &stop);
    if (smoothing == FuseSmoothing::even) filter.mean(1, rounds);
    if (smoothing == FuseSmoothing::soft) filter.gaussian(1, rounds);
    if (smoothing == FuseSmoothing::edges) filter.median(1, rounds);
    stop.throw_if_stopped();
    return kept(grid);
}

FieldMesh surface_of(const DistanceField& field, double distance) {
    openvdb::tools::VolumeToMesh mesher(distance, 0.0, false);
    mesher(*field.grid().values);
    stop_point();
    FieldMesh out;
    out.points.resize(mesher.pointListSize());
    for (std::size_t i = 0; i < out.points.size(); ++i) {
        const auto& p = mesher.pointList()[i];
        out.points[i] = Vec3(p[0], p[1], p[2]);
    }
    for (std::size_t list = 0; list < mesher.polygonPoolListSize(); ++list) {
        const auto& pool = mesher.polygonPoolList()[list];
        const auto add = [&](std::initializer_list<Index> polygon) {
            // The library winds them inward.
            for (auto corner = std::rbegin(polygon); corner != std::rend(polygon); ++corner)
                out.corners.push_back(*corner);
            out.offsets.push_back(static_cast<Index>(out.corners.size()));
        };
        for (std::size_t q = 0; q < pool.numQuads(); ++q) {
            const auto& quad = pool.quad(q);
            add({quad[0], quad[1], quad[2], quad[3]});
        }
        for (std::size_t t = 0; t < pool.numTriangles(); ++t) {
            const auto& triangle = pool.triangle(t);
            add({triangle[0], triangle[1], triangle[2]});
        }
    }
    return out;
}

}  // namespace bricol
