// SPDX-License-Identifier: GPL-3.0-or-later
// A recipe of two parts that is handed over, and what came of it.
#pragma once

#include <catch2/catch.hpp>
#include <filesystem>
#include <map>

#include "core/files/files.h"
#include "core/files/handover.h"
#include "tests/support/folder.h"
#include "tests/support/node.h"
#include "tests/support/tried.h"

namespace bricol::test {

/// Two parts: a post that turns with `frame`, and a row of three sheared-free copies of a ball with a value on points.
inline Recipe two_parts() {
    auto recipe = recipe_from_text(R"({"bricol": 1, "title": "Quay post",
      "dials": [{"name": "girth", "value": 0.2, "min": 0.1, "max": 1, "unit": "m"}],
      "presets": [{"name": "Stout one", "dials": {"girth": 0.5}}],
      "parts": [
        {"name": "post", "steps": [
          {"id": "b", "step": "box", "size": ["= girth", "= girth", 1]},
          {"id": "t", "step": "transform", "turn": [0, 0, "= frame * 10"], "move": [2, 0, 0]},
          {"id": "m", "step": "material", "kit": "brass"}]},
        {"name": "ball", "hidden": true, "steps": [
          {"id": "s", "step": "sphere", "radius": 0.1, "slices": 16, "rings": 8, "origin": "centre"},
          {"id": "w", "step": "attribute", "attribute": "wear", "value": 0.25}]},
        {"name": "row", "steps": [
          {"id": "from", "step": "from_part", "part": "ball"},
          {"id": "a", "step": "array", "count": 3, "offset": [0, 0.5, 0]}]}]})");
    INFO((recipe ? "" : recipe.problem().text()));
    REQUIRE(recipe);
    return *recipe;
}

inline HandoverReport handed(const Recipe& recipe, const std::filesystem::path& folder,
                             const std::function<void(HandoverOrder&)>& set = {}) {
    HandoverOrder order{recipe, {}, folder.string()};
    order.making.environment = environment_in("");
    order.options.attributes = true;
    if (set) set(order);
    return hand_over(order);
}

inline const nlohmann::json* node_called(const nlohmann::json& read, const std::string& name) {
    for (const auto& one : read["nodes"])
        if (one["name"] == name) return &one;
    return nullptr;
}

inline std::vector<std::string> names_in(const nlohmann::json& read) {
    std::vector<std::string> out;
    for (const auto& one : read["nodes"]) out.push_back(one["name"]);
    return out;
}

inline bool has(const std::vector<std::string>& list, const std::string& text) {
    return std::ranges::any_of(list, [&](const std::string& one) { return one.find(text) != std::string::npos; });
}

}  // namespace bricol::test
