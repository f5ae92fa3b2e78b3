// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/hull.h"

#include <HACD/hacdHACD.h>
#include <cstdlib>
#include <mutex>
#include <set>

#include "core/ground/stop.h"

namespace bricol {

namespace {

bool look_for_stop(const char*, double, double, std::size_t) {
    stop_point();
    return true;
}

using Points = std::vector<HACD::Vec3<HACD::Real>>;
using Corners = std::vector<HACD::Vec3<long>>;

/// Groups are joined while their hull stays within `concavity` thousandths of the box's diagonal, and while there are
/// more than `least`. Points come back as they were handed over, to within rounding.
std::vector<Index> grouped(Points points, Corners corners, double concavity, std::size_t least) {
    // Its hulls shake flat points by rand(), which all threads share: the same numbers for the same shape.
    static std::mutex shaken;
    const std::lock_guard lock(shaken);
    std::srand(1);
    HACD::HACD parting;
    parting.SetPoints(points.data());
    parting.SetNPoints(points.size());
    parting.SetTriangles(corners.data());
    parting.SetNTriangles(corners.size());
    parting.SetScaleFactor(1000);
    parting.SetCompacityWeight(0.0001);
    parting.SetVolumeWeight(0);
    parting.SetNVerticesPerCH(64);
    parting.SetAddExtraDistPoints(true);
    parting.SetAddFacesPoints(true);
    parting.SetConcavity(concavity);
    parting.SetNClusters(least);
    parting.SetCallBack(look_for_stop);
    std::vector<Index> out(corners.size(), 0);
    if (parting.Compute(false, false))
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = static_cast<Index>(parting.GetPartition()[i]);
    return out;
}

}  // namespace

std::vector<Index> convex_groups(std::span<const Vec3> points, std::span<const Index> triangles, std::size_t most) {
    Points at;
    Corners corners;
    for (const Vec3& p : points)
        at.emplace_back(static_cast<double>(p.x), static_cast<double>(p.y), static_cast<double>(p.z));
    for (std::size_t i = 0; i + 2 < triangles.size(); i += 3)
        corners.emplace_back(triangles[i], triangles[i + 1], triangles[i + 2]);
    std::vector<Index> groups = grouped(at, corners, 20, 1);
    const std::set<Index> kinds(groups.begin(), groups.end());
    if (kinds.size() > most) groups = grouped(at, corners, 1e9, most);
    return groups;
}

}  // namespace bricol
