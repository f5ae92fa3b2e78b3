// SPDX-License-Identifier: GPL-3.0-or-later
// Undo and redo: a list of recipes with the name of the edit that led to each.
#pragma once

#include "core/recipe/recipe.h"

namespace bricol {

class History {
public:
    explicit History(Recipe first) { entries_.push_back({std::move(first), "", ""}); }

    const Recipe& now() const { return entries_[at_].recipe; }
    /// Adds a state. Edits in a row with the same non-empty `merge` key are one undo step (a drag, typing on a dial).
    void add(Recipe recipe, std::string name, std::string merge = {});
    /// Ends merging, so that the next edit is an undo step of its own even with the same key.
    void part_edits() { entries_[at_].merge.clear(); }

    bool can_undo() const { return at_ > 0; }
    bool can_redo() const { return at_ + 1 < entries_.size(); }
    std::string undo_name() const { return can_undo() ? entries_[at_].name : ""; }
    std::string redo_name() const { return can_redo() ? entries_[at_ + 1].name : ""; }
    void undo() { at_ -= can_undo(); }
    void redo() { at_ += can_redo(); }
    std::size_t position() const { return at_; }

private:
    struct Entry {
        Recipe recipe;
        std::string name, merge;
    };
    static constexpr std::size_t most_ = 500;
    std::vector<Entry> entries_;
    std::size_t at_ = 0;
};

}  // namespace bricol
