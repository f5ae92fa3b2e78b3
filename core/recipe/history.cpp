// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/history.h"

namespace bricol {

void History::add(Recipe recipe, std::string name, std::string merge) {
    const bool follows = !merge.empty() && at_ > 0 && entries_[at_].merge == merge;
    entries_.resize(at_ + 1);
    if (follows) {
        entries_[at_].recipe = std::move(recipe);
        return;
    }
    entries_.push_back({std::move(recipe), std::move(name), std::move(merge)});
    if (entries_.size() > most_) entries_.erase(entries_.begin());
    at_ = entries_.size() - 1;
}

}  // namespace bricol
