// SPDX-License-Identifier: GPL-3.0-or-later
// Which elements an operation works on: all of them, or these. No empty mask stands for either.
#pragma once

#include <algorithm>
#include <optional>

#include "core/shape/sets.h"

namespace bricol {

class Selection {
public:
    /// All of them.
    Selection() = default;
    /// Those that are marked; elements beyond the end of the mask are not.
    Selection(Mask these) : these_(std::move(these)) {}
    static Selection none() { return Selection(Mask{}); }

    bool all() const { return !these_; }
    bool operator[](std::size_t element) const {
        return !these_ || (element < these_->size() && (*these_)[element] != 0);
    }
    /// The same as a mask of `count` elements.
    Mask mask(std::size_t count) const {
        Mask out(count, these_ ? 0 : 1);
        for (std::size_t i = 0; these_ && i < std::min(count, these_->size()); ++i) out[i] = (*these_)[i] != 0;
        return out;
    }

private:
    std::optional<Mask> these_;
};

}  // namespace bricol
