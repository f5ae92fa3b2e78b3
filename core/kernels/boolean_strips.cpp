// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean_strips.h"

#include <algorithm>

#include "core/ground/box.h"
#include "core/ground/stop.h"

namespace bricol {

SideWays::SideWays(const std::vector<KeptSide>& sides) {
    ways_.reserve(sides.size());
    for (Index i = 0; i < sides.size(); ++i) ways_.push_back({key(sides[i].from, sides[i].to), i});
    std::sort(ways_.begin(), ways_.end(),
              [](const Way& a, const Way& b) { return std::tie(a.key, a.side) < std::tie(b.key, b.side); });
}

std::span<const SideWays::Way> SideWays::between(Index from, Index to) const {
    const auto [first, last] = std::ranges::equal_range(ways_, key(from, to), {}, &Way::key);
    return {first, last};
}

namespace {

/// One polygon's sides that run there and back along one another.
class Strips {
public:
    Strips(const std::vector<DVec3>& points, const std::vector<KeptSide>& sides, double reach,
           std::vector<TakenEnd>& taken, std::vector<std::array<Index, 2>>& same)
        : points_(points), sides_(sides), reach_(reach), taken_(taken), same_(same) {}

    void look_at(Index i, Index j) const {
        const DVec3 one = way(i), other = way(j);
        if (!(glm::dot(one, other) < 0)) return;
        const bool first_longer = glm::dot(one, one) >= glm::dot(other, other);
        const Index longer = first_longer ? i : j, shorter = first_longer ? j : i;
        const DVec3 from = points_[sides_[longer].from], along = first_longer ? one : other;
        const double length = glm::length(along);
        const auto off = [&](const DVec3& p) { return glm::length(glm::cross(p - from, along)) / length; };
        const DVec3 &p = points_[sides_[shorter].from], &q = points_[sides_[shorter].to];
        if (!(length > 0) || off(p) > reach_ || off(q) > reach_) return;
        const double at_p = glm::dot(p - from, along) / length, at_q = glm::dot(q - from, along) / length;
        if (std::min(length, at_p) - std::max(0.0, at_q) <= reach_) return;  // at_q < at_p: it runs back
        take(longer, sides_[shorter].from, at_p, length);
        take(longer, sides_[shorter].to, at_q, length);
        const double short_length = at_p - at_q;
        take(shorter, sides_[longer].from, at_p, short_length);
        take(shorter, sides_[longer].to, at_p - length, short_length);
    }

private:
    DVec3 way(Index side) const { return points_[sides_[side].to] - points_[sides_[side].from]; }
    void take(Index side, Index point, double at, double whole) const {
        const KeptSide& into = sides_[side];
        const Index end = at <= reach_ ? into.from : into.to;
        if (at > reach_ && at < whole - reach_)
            taken_.push_back({side, at, point});
        else if (at >= -reach_ && at <= whole + reach_ && point != end)
            same_.push_back({point, end});
    }

    const std::vector<DVec3>& points_;
    const std::vector<KeptSide>& sides_;
    const double reach_;
    std::vector<TakenEnd>& taken_;
    std::vector<std::array<Index, 2>>& same_;
};

}  // namespace

void ends_along_sides(const std::vector<DVec3>& points, const std::vector<KeptSide>& sides,
                      const std::array<std::size_t, 2>& range, double reach, std::vector<TakenEnd>& taken,
                      std::vector<std::array<Index, 2>>& same) {
    const auto [first, last] = range;
    Box box = Box::nothing();
    for (std::size_t i = first; i < last; ++i) box.add(points[sides[i].from]);
    const DVec3 size = box.high - box.low;
    const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    struct Span {
        double low, high;
        Index side;
    };
    std::vector<Span> spans;
    spans.reserve(last - first);
    for (std::size_t i = first; i < last; ++i) {
        const double a = points[sides[i].from][axis], b = points[sides[i].to][axis];
        spans.push_back({std::min(a, b), std::max(a, b), static_cast<Index>(i)});
    }
    std::sort(spans.begin(), spans.end(),
              [](const Span& a, const Span& b) { return std::tie(a.low, a.side) < std::tie(b.low, b.side); });
    const Strips strips(points, sides, reach, taken, same);
    for (std::size_t i = 0; i < spans.size(); ++i) {
        stop_point(i);
        for (std::size_t j = i + 1; j < spans.size() && spans[j].low <= spans[i].high + reach; ++j)
            strips.look_at(spans[i].side, spans[j].side);
    }
}

}  // namespace bricol
