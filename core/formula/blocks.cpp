// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/blocks.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/ground/words.h"
#include "core/ground/numbers.h"

namespace bricol {

std::span<const BlockInfo> all_blocks() {
    static const std::vector<BlockInfo> blocks = {
        {"read", "Read", "The place, the normal, or an attribute of the element.", {}, "", 0, true},
        {"number", "Number", "One number for every element.", {{"value", "Value", 1}}, "{value}", 1},
        {"vector", "Vector", "Three numbers as one.", {{"x", "x"}, {"y", "y"}, {"z", "z"}}, "{x};{y};{z}", 3},
        {"add", "Add", "Both together.", {{"a", "A"}, {"b", "B"}}, "{a} + {b}"},
        {"subtract", "Subtract", "B taken from A.", {{"a", "A"}, {"b", "B"}}, "{a} - {b}"},
        {"multiply", "Multiply", "A times B.", {{"a", "A", 1}, {"b", "B", 1}}, "{a} * {b}"},
        {"divide", "Divide", "A by B.", {{"a", "A", 1}, {"b", "B", 1}}, "{a} / {b}"},
        {"power", "Power", "A to the power of B.", {{"a", "A", 1}, {"b", "B", 2}}, "{a} ^ {b}"},
        {"least", "Least", "The smaller one.", {{"a", "A"}, {"b", "B"}}, "min({a}, {b})"},
        {"most", "Most", "The larger one.", {{"a", "A"}, {"b", "B"}}, "max({a}, {b})"},
        {"remainder", "Remainder", "What is left of A after whole Bs.", {{"a", "A"}, {"b", "B", 1}}, "mod({a}, {b})"},
        {"absolute", "Without sign", "How far from 0.", {{"a", "A"}}, "abs({a})"},
        {"root", "Square root", "Of A.", {{"a", "A", 1}}, "sqrt({a})"},
        {"whole", "Whole", "Rounded to a whole number.", {{"a", "A"}}, "round({a})"},
        {"sine", "Sine", "Of an angle in degrees.", {{"a", "Angle"}}, "sin({a})"},
        {"cosine", "Cosine", "Of an angle in degrees.", {{"a", "Angle"}}, "cos({a})"},
        {"between",
         "Hold between",
         "Kept between two limits.",
         {{"a", "A"}, {"low", "Low"}, {"high", "High", 1}},
         "clamp({a}, {low}, {high})"},
        {"blend",
         "Blend",
         "From A to B by a share.",
         {{"a", "A"}, {"b", "B", 1}, {"share", "Share", 0.5}},
         "mix({a}, {b}, {share})"},
        {"ease",
         "Ease",
         "0 below the low limit, 1 above the high one, eased between.",
         {{"a", "A"}, {"low", "Low"}, {"high", "High", 1}},
         "smoothstep({a}, {low}, {high})"},
        {"compare", "Is less", "1 where A is less than B, else 0.", {{"a", "A"}, {"b", "B"}}, "{a} < {b}"},
        {"pick",
         "Pick",
         "A where the test is not 0, else B.",
         {{"test", "Test"}, {"a", "A", 1}, {"b", "B"}},
         "{test} ? {a} : {b}"},
        {"noise",
         "Noise",
         "Smooth random numbers in space.",
         {{"place", "Place"}, {"octaves", "Octaves", 3}},
         "fractal({place.x}, {place.y}, {place.z}, {octaves.x})",
         1},
        {"random",
         "Random",
         "A number 0..1 that belongs to the element.",
         {{"stream", "Stream", 1}},
         "random({stream.x})",
         1},
        {"length", "Length", "Of a vector.", {{"a", "A"}}, "sqrt({a.x} * {a.x} + {a.y} * {a.y} + {a.z} * {a.z})", 1},
        {"dot",
         "Dot product",
         "How far two vectors point the same way.",
         {{"a", "A"}, {"b", "B"}},
         "{a.x} * {b.x} + {a.y} * {b.y} + {a.z} * {b.z}",
         1},
        {"cross",
         "Cross product",
         "The vector square to both.",
         {{"a", "A"}, {"b", "B"}},
         "{a.y} * {b.z} - {a.z} * {b.y};{a.z} * {b.x} - {a.x} * {b.z};{a.x} * {b.y} - {a.y} * {b.x}",
         3},
        {"write",
         "Write",
         "Puts a value into the place, the normal or an attribute.",
         {{"value", "Value"}},
         "",
         0,
         true}};
    return blocks;
}

const BlockInfo* find_block(std::string_view key) {
    for (const BlockInfo& info : all_blocks())
        if (info.key == key) return &info;
    return nullptr;
}

namespace {

/// The rows of one set of blocks.
class Wiring {
public:
    Wiring(std::span<const MixBlock> blocks, const std::function<bool(const std::string&)>& is_vector)
        : blocks_(blocks), is_vector_(is_vector) {}

    Result<std::vector<FormulaRow>> rows() {
        try {
            bool any = false;
            for (const MixBlock& block : blocks_)
                if (block.kind == "write")
                    any = true, write(block);
                else if (!find_block(block.kind))
                    throw Problem{fmt::format("There is no block “{}”.", block.kind), block.id, ""};
            if (!any)
                return Problem{"Nothing is written, so the mixer changes nothing.", "",
                               "Add a Write block and wire a value to it."};
        } catch (const Problem& problem) {
            return problem;
        }
        return std::move(rows_);
    }

private:
    const MixBlock& named(const std::string& id, const std::string& by) const {
        for (const MixBlock& block : blocks_)
            if (block.id == id) return block;
        std::vector<std::string_view> words;
        for (const MixBlock& block : blocks_) words.push_back(block.id);
        const std::string_view near = nearest_word(words, id);
        throw Problem{fmt::format("There is no block “{}” to take a value from.", id), by,
                      near.empty() ? "" : fmt::format("Did you mean “{}”?", near)};
    }

    /// Name of a component of a block's value in formulas.
    static std::string name(const MixBlock& block, int width, int component) {
        return width == 1 ? "_" + block.id
                          : fmt::format("_{}_{}", block.id, axis_letters[static_cast<std::size_t>(component)]);
    }

    /// Makes the rows of a block once; gives how wide it is.
    int made(const MixBlock& block) {
        if (const auto known = widths_.find(block.id); known != widths_.end()) return known->second;
        if (std::ranges::find(path_, block.id) != path_.end() || path_.size() > 500) {
            std::string circle;
            for (auto at = std::ranges::find(path_, block.id); at != path_.end(); ++at) circle += *at + " → ";
            throw Problem{"These blocks feed one another in a circle: " + circle + block.id + ".", block.id,
                          "Cut one of the wires."};
        }
        path_.push_back(block.id);
        const int width = block.kind == "read" ? read(block) : compute(block);
        path_.pop_back();
        return widths_[block.id] = width;
    }

    int read(const MixBlock& block) {
        const bool place = block.what == "position", normal = block.what == "normal";
        const int width = place || normal || is_vector_(block.what) ? 3 : 1;
        if (block.what.empty()) throw Problem{"A Read block needs the name of what it reads.", block.id, ""};
        for (int c = 0; c < width; ++c) {
            const std::string axis(1, axis_letters[static_cast<std::size_t>(c)]);
            rows_.push_back({name(block, width, c),
                             place        ? axis
                             : normal     ? "n" + axis
                             : width == 3 ? block.what + "." + axis
                                          : block.what,
                             {}});
        }
        return width;
    }

    struct Wire {
        std::string text[3];  ///< per component
        int width = 1;
    };
    Wire wire(const MixBlock& block, const BlockInfo::Input& input) {
        Wire wire;
        const auto given = block.inputs.find(input.key);
        if (given == block.inputs.end() || given->second.from.empty()) {
            const double number = given == block.inputs.end() ? input.standard : given->second.number;
            for (std::string& text : wire.text) text = fmt::format("({:.17g})", number);
            return wire;
        }
        const std::string& from = given->second.from;
        const std::size_t dot = from.find('.');
        const MixBlock& source = named(from.substr(0, dot), block.id);
        const int width = made(source);
        int component = -1;
        if (dot != std::string::npos) {
            const auto at = dot + 2 == from.size() ? axis_letters.find(from[dot + 1]) : std::string_view::npos;
            if (at == std::string_view::npos) throw Problem{"A component is one of .x .y .z.", block.id, ""};
            component = static_cast<int>(at);
        }
        wire.width = component >= 0 ? 1 : width;
        for (int c = 0; c < 3; ++c) wire.text[c] = name(source, width, component >= 0 ? component : width == 1 ? 0 : c);
        return wire;
    }

    static std::string filled(std::string_view formula, const std::map<std::string, Wire, std::less<>>& wires,
                              int component) {
        std::string out;
        for (std::size_t i = 0; i < formula.size();) {
            if (formula[i] != '{') {
                out += formula[i++];
                continue;
            }
            const std::size_t end = formula.find('}', i);
            std::string_view key = formula.substr(i + 1, end - i - 1);
            int c = component;
            if (const std::size_t dot = key.find('.'); dot != std::string_view::npos)
                c = static_cast<int>(axis_letters.find(key[dot + 1])), key = key.substr(0, dot);
            out += wires.find(key)->second.text[c];
            i = end + 1;
        }
        return out;
    }

    int compute(const MixBlock& block) {
        const BlockInfo* info = find_block(block.kind);
        if (!info) throw Problem{fmt::format("There is no block “{}”.", block.kind), block.id, ""};
        std::map<std::string, Wire, std::less<>> wires;
        int widest = 1;
        for (const BlockInfo::Input& input : info->inputs) {
            Wire one = wire(block, input);
            widest = std::max(widest, one.width);
            wires.emplace(std::string(input.key), std::move(one));
        }
        const int width = info->width == 0 ? widest : info->width;
        std::string_view left = info->formula;
        for (int c = 0; c < width; ++c) {
            const std::size_t cut = left.find(';');
            rows_.push_back({name(block, width, c), filled(left.substr(0, cut), wires, c), {}});
            if (cut != std::string_view::npos) left.remove_prefix(cut + 1);
        }
        return width;
    }

    void write(const MixBlock& block) {
        if (block.what.empty()) throw Problem{"A Write block needs the name of what it writes.", block.id, ""};
        const Wire value = wire(block, find_block("write")->inputs.front());
        const bool place = block.what == "position", normal = block.what == "normal";
        if (!place && !normal && value.width == 1) {
            rows_.push_back({block.what, value.text[0], {}});
            return;
        }
        for (int c = 0; c < 3; ++c) {
            const std::string axis(1, axis_letters[static_cast<std::size_t>(c)]);
            rows_.push_back({place ? axis : normal ? "n" + axis : block.what + "." + axis, value.text[c], {}});
        }
    }

    std::span<const MixBlock> blocks_;
    const std::function<bool(const std::string&)>& is_vector_;
    std::vector<FormulaRow> rows_;
    std::map<std::string, int> widths_;
    std::vector<std::string> path_;
};

}  // namespace

Result<std::vector<FormulaRow>> rows_of(std::span<const MixBlock> blocks,
                                        const std::function<bool(const std::string&)>& is_vector) {
    return Wiring(blocks, is_vector).rows();
}

}  // namespace bricol
