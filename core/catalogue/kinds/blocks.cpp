// SPDX-License-Identifier: GPL-3.0-or-later
// A small graph of number blocks: [{ "id": "depth", "block": "multiply", "a": "weight_read", "b": 0.2,
// "card": [x, y] }, …]. An input is a number, a formula, or the id of the block it comes from.
#include <algorithm>
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

std::string block_text(const Json& one, const char* key) {
    return one.is_object() && one.contains(key) && one[key].is_string() ? one[key].get<std::string>() : std::string();
}

void read_inputs(const Json& one, const std::string& at, MixBlock& block, Reading& reading) {
    const BlockInfo* info = find_block(block.kind);
    if (!info) return;
    for (const BlockInfo::Input& input : info->inputs) {
        const auto given = one.find(std::string(input.key));
        if (given == one.end()) continue;
        BlockInput& in = block.inputs[std::string(input.key)];
        if (given->is_string() && !given->get_ref<const std::string&>().starts_with('='))
            in.from = given->get<std::string>();
        else if (const auto number = reading.number(*given))
            in.number = *number;
        else
            reading.tell(fmt::format("{}/{}", at, input.key), number.problem().text());
    }
}

class BlocksKind final : public SignedKind {
    std::string_view name() const override { return "blocks"; }
    Value standard(const ParameterInfo&) const override { return std::vector<MixBlock>{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        std::vector<MixBlock> blocks;
        const auto refused = [&](const std::string& where, const std::string& what) {
            reading.tell(where, what, "bad-blocks");
            return std::vector<MixBlock>{};
        };
        if (!written.is_array() || written.size() > 1000)
            return refused(std::string(p.key), "A list of at most 1000 blocks is wanted.");
        for (std::size_t i = 0; i < written.size(); ++i) {
            const Json& one = written[i];
            const std::string at = fmt::format("{}/{}", p.key, i);
            MixBlock block;
            block.id = block_text(one, "id"), block.kind = block_text(one, "block"),
            block.what = block_text(one, "what");
            if (block.id.empty() || block.kind.empty()) return refused(at, "A block needs “id” and “block”.");
            if (std::ranges::find(blocks, block.id, &MixBlock::id) != blocks.end())
                return refused(at, "There are two blocks “" + block.id + "”. Give one another id.");
            read_inputs(one, at, block, reading);
            blocks.push_back(std::move(block));
        }
        return blocks;
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& blocks = std::get<std::vector<MixBlock>>(value);
        digest.add(blocks.size());
        for (const MixBlock& block : blocks) {
            digest.add(std::string_view(block.id)), digest.add(std::string_view(block.kind));
            digest.add(std::string_view(block.what)), digest.add(block.inputs.size());
            for (const auto& [key, input] : block.inputs)
                digest.add(std::string_view(key)), digest.add(input.number), digest.add(std::string_view(input.from));
        }
    }
    Json schema(const ParameterInfo&) const override {
        return list_schema({{"type", "object"},
                            {"properties",
                             {{"id", {{"$ref", "#/$defs/name"}}},
                              {"block", {{"type", "string"}}},
                              {"what", {{"type", "string"}}},
                              {"card", numbers_schema(2, 2)}}},
                            {"required", {"id", "block"}}});
    }
    std::string told(const ParameterInfo&, const Shown& shown) const override {
        const std::size_t count = shown.written ? shown.written->size() : 0;
        return fmt::format("{} block{}", count, count == 1 ? "" : "s");
    }
};

}  // namespace

const Kind& blocks() {
    static const BlocksKind kind;
    return kind;
}

}  // namespace bricol::kinds
