// SPDX-License-Identifier: GPL-3.0-or-later
// A box along the axes.
#pragma once

#include "core/ground/types.h"

namespace bricol {

/// Axis-aligned box in metres.
struct Box {
    DVec3 low{0}, high{0};

    /// A box with nothing in it, ready to be added to.
    static Box nothing() { return {DVec3(1e300), DVec3(-1e300)}; }
    void add(const DVec3& p) { low = glm::min(low, p), high = glm::max(high, p); }
    void add(const Box& other) { low = glm::min(low, other.low), high = glm::max(high, other.high); }
    /// Whether they have a point in common, borders included.
    bool touches(const Box& o) const {
        return low.x <= o.high.x && o.low.x <= high.x && low.y <= o.high.y && o.low.y <= high.y && low.z <= o.high.z &&
               o.low.z <= high.z;
    }
    DVec3 size() const { return high - low; }
    DVec3 centre() const { return (low + high) * 0.5; }
};

}  // namespace bricol
