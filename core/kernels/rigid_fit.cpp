// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/rigid_fit.h"

#include <Eigen/Geometry>

namespace bricol {

namespace {

RigidFit fitted(const Eigen::Matrix3Xd& a, const Eigen::Matrix3Xd& b, bool sized) {
    RigidFit out;
    const Eigen::Matrix4d fit = Eigen::umeyama(a, b, sized);
    for (int c = 0; c < 4; ++c)
        for (int r = 0; r < 4; ++r) out.place[c][r] = fit(r, c);
    const Eigen::Matrix3Xd carried = (fit.topLeftCorner<3, 3>() * a).colwise() + fit.topRightCorner<3, 1>();
    out.worst = (carried - b).colwise().norm().maxCoeff();
    return out;
}

}  // namespace

RigidFit rigid_fit(std::span<const Vec3> from, std::span<const Vec3> to) {
    Eigen::Matrix3Xd a(3, from.size()), b(3, to.size());
    for (std::size_t i = 0; i < from.size(); ++i) {
        const auto k = static_cast<Eigen::Index>(i);
        a.col(k) = Eigen::Vector3d(from[i].x, from[i].y, from[i].z);
        b.col(k) = Eigen::Vector3d(to[i].x, to[i].y, to[i].z);
    }
    const RigidFit moved = fitted(a, b, false), sized = fitted(a, b, true);
    return sized.worst < 0.5 * moved.worst &&
                   moved.worst > 1e-6 * (b.rowwise().maxCoeff() - b.rowwise().minCoeff()).norm()
               ? sized
               : moved;
}

}  // namespace bricol
