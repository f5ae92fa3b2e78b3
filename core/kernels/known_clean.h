// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <memory>
#include <mutex>
#include <vector>

#include "core/shape/mesh.h"

namespace bricol {

/// Operands that were looked through and do not cross themselves: while a dial turns most stay what they were.
class KnownClean {
public:
    bool has(const Mesh& mesh) {
        const std::scoped_lock lock(mutex_);
        return std::ranges::any_of(known_, [&](const Known& one) {
            return one.positions.lock() == mesh.positions && one.topology.lock() == mesh.topology;
        });
    }
    void add(const Mesh& mesh) {
        const std::scoped_lock lock(mutex_);
        std::erase_if(known_, [](const Known& one) { return one.positions.expired() || one.topology.expired(); });
        constexpr std::size_t most = 256;
        if (known_.size() == most) known_.erase(known_.begin());
        known_.push_back({mesh.positions, mesh.topology});
    }

private:
    struct Known {
        std::weak_ptr<const Array<Vec3>> positions;
        std::weak_ptr<const Topology> topology;
    };
    std::mutex mutex_;
    std::vector<Known> known_;
};

}  // namespace bricol
