// SPDX-License-Identifier: GPL-3.0-or-later
// Number and vector blocks wired to one another: a formula drawn instead of typed. They are turned into formula rows,
// so that both forms run the same loop and give the same bytes.
#pragma once

#include <array>
#include <optional>

#include "core/formula/field.h"

namespace bricol {

/// What a block does.
struct BlockInfo {
    struct Input {
        std::string_view key, label;
        double standard = 0;
    };
    std::string_view key, label, help;
    std::vector<Input> inputs;
    /// What it gives per component, with "{key}" for its inputs; for "whole" blocks one text per component, cut at ';'.
    std::string_view formula;
    /// 0: as wide as its widest input; 1 or 3: always so, made from all components ("{a.x}").
    int width = 0;
    bool asks_name = false;  ///< has a text "what": the name that is read, or the target that is written
};
std::span<const BlockInfo> all_blocks();
const BlockInfo* find_block(std::string_view key);

/// An input of a block: a number, a formula for one value (worked out beforehand), or the id of another block, of which
/// `.x .y .z` may take one component.
struct BlockInput {
    double number = 0;
    std::string from;
};
struct MixBlock {
    std::string id, kind, what;
    std::map<std::string, BlockInput, std::less<>> inputs;
    std::array<double, 2> at{0, 0};  ///< place on the small sheet
};

/// Rows that work the blocks out, those that lead to no result left out. `is_vector` tells whether a name that is read
/// has three components. Problems: unknown blocks, links to nothing, circles spelled out, no result.
Result<std::vector<FormulaRow>> rows_of(std::span<const MixBlock> blocks,
                                        const std::function<bool(const std::string&)>& is_vector);

}  // namespace bricol
