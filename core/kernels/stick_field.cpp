// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/stick_field.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace bricol {

BoneField::BoneField(const StickBone& bone, const StickKnot& from, const StickKnot& to)
    : from_(from.at),
      along_(bone.along),
      across_(bone.across),
      over_(glm::cross(bone.along, bone.across)),
      length_(bone.length),
      girth_{from.girth, to.girth},
      mean_{std::sqrt(from.girth.x * from.girth.y), std::sqrt(to.girth.x * to.girth.y)},
      roll_{bone.tilt + from.roll, bone.tilt + to.roll} {
    reach_ = std::max({from.girth.x, from.girth.y, to.girth.x, to.girth.y});
    slope_ = (mean_[0] - mean_[1]) / length_;
    rise_ = std::sqrt(std::max(0.0, 1 - slope_ * slope_));
    round_ = from.girth.x == from.girth.y && to.girth.x == to.girth.y;
}

FieldValue BoneField::at(const DVec3& point) const {
    const DVec3 away = point - from_;
    const double x = glm::dot(away, along_);
    double y = glm::dot(away, across_), z = glm::dot(away, over_);
    double squeeze_y = 1, squeeze_z = 1, c = 1, s = 0, scale = 1;
    if (!round_) {  // as though the section were round: each direction by its own share of the mean radius
        const double t = std::clamp(x / length_, 0.0, 1.0);
        const double roll = roll_[0] + (roll_[1] - roll_[0]) * t;
        c = std::cos(roll), s = std::sin(roll);
        const double turned = y * c + z * s;
        z = z * c - y * s, y = turned;
        const DVec2 girth = girth_[0] + (girth_[1] - girth_[0]) * t;
        const double mean = mean_[0] + (mean_[1] - mean_[0]) * t;
        squeeze_y = mean / girth.x, squeeze_z = mean / girth.y;
        y *= squeeze_y, z *= squeeze_z;
        scale = 1 / std::max({squeeze_y, squeeze_z, 1.0});
    }
    const double off = std::sqrt(y * y + z * z);
    FieldValue out;
    double way_x = 0, way_off = 0;
    const double touch = rise_ * x - slope_ * off;  // along the side, from where it touches the first ball
    const bool first_swallows = slope_ >= 1, second_swallows = slope_ <= -1;
    const bool by_first = first_swallows || (!second_swallows && touch <= 0);
    if (by_first || second_swallows || touch >= rise_ * length_) {
        const double end = by_first ? 0 : length_;
        const double far = std::sqrt(off * off + (x - end) * (x - end));
        out.distance = far - mean_[by_first ? 0 : 1];
        way_x = far > 0 ? (x - end) / far : (by_first ? -1 : 1), way_off = far > 0 ? off / far : 0;
    } else {
        out.distance = off * rise_ + x * slope_ - mean_[0];
        way_x = slope_, way_off = rise_;
    }
    double way_y = off > 0 ? y / off * way_off : way_off, way_z = off > 0 ? z / off * way_off : 0;
    if (!round_) {
        way_y *= squeeze_y, way_z *= squeeze_z;
        const double turned = way_y * c - way_z * s;
        way_z = way_y * s + way_z * c, way_y = turned;
    }
    out.way = along_ * way_x + across_ * way_y + over_ * way_z;
    if (!round_) out.distance *= scale, out.way *= scale;
    return out;
}

double BoneField::girth_near(const DVec3& point) const {
    const double t = std::clamp(share(point), 0.0, 1.0);
    return mean_[0] + (mean_[1] - mean_[0]) * t;
}

FieldValue flesh_field(std::span<const BoneField> all, std::span<const Index> these, const DVec3& point, double blend,
                       FieldBounds* bounds) {
    // Few bones are near any point: the nearest, and those that may blend with it or with one another.
    constexpr std::size_t most = FieldBounds::most;
    if (these.size() > most) bounds = nullptr;
    const bool known = bounds && bounds->known;
    // No distance to a round bone changes by more than the way that was gone.
    const double nearest = known ? bounds->nearest + bounds->moved : 1e30;
    std::array<FieldValue, most> near;
    std::array<double, most> girth, steepness;
    std::size_t count = 0;
    FieldValue best;
    bool round = true;  // the nearest is
    for (std::size_t k = 0; k < these.size(); ++k) {
        const Index b = these[k];
        // Beyond the widest valley with it a bone neither is the nearest nor blends with one that matters: of two at
        // distances d <= e a valley takes (1 - (e - d) / width)^2 width / 4 off d, which ends above the nearest.
        if (known && all[b].round() &&
            (bounds->least[k] -= bounds->moved) >= nearest + 4 * std::max(0.0, blend) * all[b].reach())
            continue;
        const FieldValue value = all[b].at(point);
        if (bounds) bounds->least[k] = value.distance;
        if (value.distance < best.distance) best = value, round = all[b].round();
        if (blend <= 0) continue;
        std::size_t at = count;
        if (count == most) {  // the furthest gives way
            at = 0;
            for (std::size_t i = 1; i < most; ++i)
                if (near[i].distance > near[at].distance) at = i;
            if (near[at].distance <= value.distance) continue;
        } else {
            ++count;
        }
        near[at] = value;
        girth[at] = all[b].girth_near(point);
        steepness[at] = glm::length(value.way);
    }
    if (bounds) bounds->known = round, bounds->nearest = best.distance;
    FieldValue out = best;
    for (std::size_t i = 0; i < count; ++i)
        for (std::size_t j = i + 1; j < count; ++j) {
            const double apart = std::abs(near[i].distance - near[j].distance);
            const double widest = 4 * blend * std::min(girth[i], girth[j]);
            if (apart >= widest) continue;
            // The widest valley takes most off the nearer one's distance: is that no nearer, none is.
            const double deepest = (1 - apart / widest) * (1 - apart / widest) * widest * 0.25;
            if (std::min(near[i].distance, near[j].distance) - deepest > out.distance) continue;
            const double cosine = glm::dot(near[i].way, near[j].way) / std::max(1e-12, steepness[i] * steepness[j]);
            const double width = widest * 0.5 * (1 - cosine);
            if (apart >= width) continue;
            const double h = 1 - apart / width;
            const std::size_t nearer = near[i].distance <= near[j].distance ? i : j, other = i + j - nearer;
            const double blended = near[nearer].distance - h * h * width * 0.25;
            if (blended < out.distance) {
                out.distance = blended;
                out.way = near[nearer].way + (near[other].way - near[nearer].way) * (0.5 * h);
            }
        }
    return out;
}

double flesh_reach(std::span<const BoneField> all, std::span<const Index> these, const DVec3& start, const DVec3& way) {
    // From beyond everything inward, by steps no longer than the distance to the flesh.
    double far = 0;
    for (const Index b : these)
        far = std::max({far, glm::dot(all[b].from() - start, way) + all[b].reach(),
                        glm::dot(all[b].to() - start, way) + all[b].reach()});
    double t = far;
    for (int step = 0; step < 64 && t > 0; ++step) {
        const FieldValue value = flesh_field(all, these, start + way * t, 0);
        if (value.distance <= 1e-7 * far) break;
        // Going straight in, a step by the slope along the way is exact for flat and near enough for round sides.
        const double slope = std::max(0.25, glm::dot(value.way, way));
        t -= value.distance / std::max(slope, 1.0);
    }
    return std::max(t, 0.0);
}

}  // namespace bricol
