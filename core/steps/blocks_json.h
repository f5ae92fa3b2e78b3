// SPDX-License-Identifier: GPL-3.0-or-later
// Blocks of a mixer as they stand in a recipe.
#pragma once

#include "core/formula/blocks.h"
#include "core/recipe/recipe.h"

namespace bricol {

/// `[{ "id": "depth", "block": "multiply", "a": "weight_read", "b": 0.2, "card": [x, y] }, …]`: an input is a number,
/// or the id of the block it comes from. A problem names the block.
inline Result<std::vector<MixBlock>> blocks_from(const Json& json) {
    std::vector<MixBlock> blocks;
    if (!json.is_array() || json.size() > 1000) return Problem{"A list of at most 1000 blocks is wanted.", "", ""};
    for (std::size_t i = 0; i < json.size(); ++i) {
        const Json& one = json[i];
        const auto text = [&](const char* key) {
            return one.is_object() && one.contains(key) && one[key].is_string() ? one[key].get<std::string>()
                                                                                : std::string();
        };
        MixBlock block;
        block.id = text("id"), block.kind = text("block"), block.what = text("what");
        if (block.id.empty() || block.kind.empty())
            return Problem{"A block needs “id” and “block”.", std::to_string(i), ""};
        for (const MixBlock& other : blocks)
            if (other.id == block.id)
                return Problem{"There are two blocks “" + block.id + "”.", std::to_string(i), "Give one another id."};
        if (one.contains("card") && one["card"].is_array() && one["card"].size() == 2 && one["card"][0].is_number() &&
            one["card"][1].is_number())
            block.at = {one["card"][0].get<double>(), one["card"][1].get<double>()};
        if (const BlockInfo* info = find_block(block.kind))
            for (const BlockInfo::Input& input : info->inputs) {
                const auto given = one.find(input.key);
                if (given == one.end()) continue;
                if (given->is_number())
                    block.inputs[std::string(input.key)].number = given->get<double>();
                else if (given->is_string())
                    block.inputs[std::string(input.key)].from = given->get<std::string>();
            }
        blocks.push_back(std::move(block));
    }
    return blocks;
}

}  // namespace bricol
