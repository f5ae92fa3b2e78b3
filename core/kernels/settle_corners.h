// SPDX-License-Identifier: GPL-3.0-or-later
// Bullet's view of a convex body; for settle_bullet.cpp alone.
#pragma once

#include <LinearMath/btConvexHullComputer.h>
#include <algorithm>
#include <btBulletDynamicsCommon.h>
#include <cmath>
#include <vector>

#include "core/ground/types.h"

namespace bricol::bodies {

/// Bullet counts in single precision: in sizes of the middle body that is enough.
inline btVector3 vector(const DVec3& v) {
    return {static_cast<btScalar>(v.x), static_cast<btScalar>(v.y), static_cast<btScalar>(v.z)};
}

inline btScalar number(double v) { return static_cast<btScalar>(v); }

/// A convex form by its corners. Bullet's own looks at all of them for every way it is asked about, and that is half of
/// the time. A table gives a corner that lies nearly farthest, and from there it goes uphill along edges: on a convex
/// form the corner without a higher neighbour is the highest.
class Corners final : public btConvexInternalAabbCachingShape {
public:
    /// Corners without edges are all looked at.
    Corners(const btVector3* points, std::size_t count, double margin, const btConvexHullComputer* hull = nullptr)
        : points_(points, points + count) {
        m_shapeType = CUSTOM_CONVEX_SHAPE_TYPE;
        setMargin(number(margin));
        recalcLocalAabb();
        if (hull && count >= few && count < 10000) climb_by(*hull);
    }

    btVector3 localGetSupportingVertexWithoutMargin(const btVector3& way) const override {
        return points_[starts_.empty() ? farthest(way) : climbed(way, starts_[cell_of(way)])];
    }
    void batchedUnitVectorGetSupportingVertexWithoutMargin(const btVector3* ways, btVector3* out,
                                                           int count) const override {
        for (int i = 0; i < count; ++i) out[i] = localGetSupportingVertexWithoutMargin(ways[i]);
    }
    /// As tight as the corners are: Bullet's own turns the box of the unturned form, and boxes of bodies in a heap then
    /// overlap with far more than they touch.
    void getAabb(const btTransform& at, btVector3& low, btVector3& high) const override {
        for (int k = 0; k < 3; ++k) {
            const btVector3 way = at.getBasis()[k];  // the world's axis as the form sees it
            low[k] = at.getOrigin()[k] + localGetSupportingVertexWithoutMargin(-way).dot(way) - getMargin();
            high[k] = at.getOrigin()[k] + localGetSupportingVertexWithoutMargin(way).dot(way) + getMargin();
        }
    }
    void calculateLocalInertia(btScalar mass, btVector3& inertia) const override {
        btVector3 low, high;
        btConvexInternalAabbCachingShape::getAabb(btTransform::getIdentity(), low, high);
        const btVector3 side = high - low;  // as a box of that size
        inertia = btVector3(side.y() * side.y() + side.z() * side.z(), side.x() * side.x() + side.z() * side.z(),
                            side.x() * side.x() + side.y() * side.y()) *
                  (mass / 12);
    }
    const char* getName() const override { return "Corners"; }

private:
    static constexpr std::size_t few = 12;  ///< so many are as quickly looked at as climbed over
    static constexpr int cells = 8;         ///< of the table, along each side of a cube round the form

    std::size_t farthest(const btVector3& way) const {
        std::size_t best = 0;
        for (std::size_t i = 1; i < points_.size(); ++i)
            if (points_[i].dot(way) > points_[best].dot(way)) best = i;
        return best;
    }
    std::size_t climbed(const btVector3& way, std::size_t at) const {
        btScalar height = points_[at].dot(way);
        for (bool higher = true; higher;) {
            higher = false;
            for (std::uint32_t k = begins_[at]; k < begins_[at + 1]; ++k)
                if (const btScalar there = points_[neighbours_[k]].dot(way); there > height) {
                    height = there;
                    at = neighbours_[k];
                    higher = true;
                    break;
                }
        }
        return at;
    }
    /// Where a way leaves the cube: its side, and the cell there.
    static std::size_t cell_of(const btVector3& way) {
        const int axis = way.maxAxis(), least = way.minAxis();
        const int side = std::abs(way[axis]) >= std::abs(way[least]) ? axis : least;
        const btScalar reach = std::abs(way[side]);
        if (!(reach > 0)) return 0;
        const auto cell = [&](int k) {
            return std::clamp(static_cast<int>((way[k] / reach + 1) * (cells / 2)), 0, cells - 1);
        };
        const int face = 2 * side + (way[side] < 0 ? 1 : 0);
        return static_cast<std::size_t>((face * cells + cell((side + 1) % 3)) * cells + cell((side + 2) % 3));
    }
    void climb_by(const btConvexHullComputer& hull) {
        std::vector<std::vector<std::uint16_t>> beside(points_.size());
        for (int e = 0; e < hull.edges.size(); ++e)
            beside[static_cast<std::size_t>(hull.edges[e].getSourceVertex())].push_back(
                static_cast<std::uint16_t>(hull.edges[e].getTargetVertex()));
        for (const auto& list : beside) {
            begins_.push_back(static_cast<std::uint16_t>(neighbours_.size()));
            neighbours_.insert(neighbours_.end(), list.begin(), list.end());
        }
        begins_.push_back(static_cast<std::uint16_t>(neighbours_.size()));
        starts_.resize(6 * cells * cells);
        std::size_t last = 0;
        for (int face = 0; face < 6; ++face)
            for (int a = 0; a < cells; ++a)
                for (int b = 0; b < cells; ++b) {
                    btVector3 way;
                    const int side = face / 2;
                    way[side] = face % 2 ? -1.0f : 1.0f;
                    way[(side + 1) % 3] = (number(a) + 0.5f) / (cells / 2) - 1;
                    way[(side + 2) % 3] = (number(b) + 0.5f) / (cells / 2) - 1;
                    last = climbed(way, last);
                    starts_[static_cast<std::size_t>((face * cells + a) * cells + b)] =
                        static_cast<std::uint16_t>(last);
                }
    }

    std::vector<btVector3> points_;
    std::vector<std::uint16_t> begins_, neighbours_, starts_;
};

}  // namespace bricol::bodies
