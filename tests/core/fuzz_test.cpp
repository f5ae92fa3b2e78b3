// SPDX-License-Identifier: GPL-3.0-or-later
// Mutated recipes through the loader and through making: anything may be refused, nothing may crash, hang or give NaN.
#include <catch2/catch.hpp>
#include <chrono>
#include <filesystem>

#include "core/files/recipe_file.h"
#include "core/make/make.h"
#include "core/recipe/edit.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

constexpr auto budget = std::chrono::seconds(12);

std::vector<std::string> seeds() {
    std::vector<std::string> texts;
    for (const auto& entry : std::filesystem::directory_iterator(std::string(SOURCE_FOLDER) + "/demo"))
        if (entry.path().extension() == ".bricol") texts.push_back(recipe_text(*load_recipe(entry.path().string())));
    Json steps = Json::array();
    for (const StepInfo* info : all_steps())
        steps.push_back(step("s_" + std::string(info->key), std::string(info->key)));
    texts.push_back(Json{{"bricol", 1}, {"parts", {{{"name", "all"}, {"steps", steps}}}}}.dump());
    return texts;
}

/// Breaks text in one place.
std::string mutated_text(std::string text, std::mt19937& random) {
    const std::size_t at = random() % text.size();
    switch (random() % 5) {
        case 0:
            text.resize(at);
            break;
        case 1:
            text[at] = static_cast<char>(random());
            break;
        case 2:
            text.erase(at, random() % 40);
            break;
        case 3:
            text.insert(at, text.substr(random() % text.size(), random() % 60));
            break;
        default:
            text.insert(at, std::string(1 + random() % 3, "[]{}\",:-e9"[random() % 10]));
            break;
    }
    return text;
}

Json odd_value(std::mt19937& random) {
    switch (random() % 12) {
        case 0:
            return nullptr;
        case 1:
            return -1e9;
        case 2:
            return 1e9;
        case 3:
            return 0;
        case 4:
            return "= 1/0";
        case 5:
            return "= profile.segments + turn.turn";
        case 6:
            return Json::array({1, "x"});
        case 7:
            return Json::object();
        case 8:
            return true;
        case 9:
            return "";
        case 10:
            return "= " + std::string(200, '(');
        default:
            return (static_cast<double>(random() % 2000) - 1000) / 100;
    }
}

/// Puts something odd somewhere in valid JSON.
void mutate_json(Json& json, std::mt19937& random) {
    Json* at = &json;
    while (at->is_structured() && !at->empty() && random() % 6 != 0) {
        auto it = at->begin();
        std::advance(it, random() % at->size());
        at = &*it;
    }
    *at = odd_value(random);
}

void try_it(const std::string& text, Maker& maker, std::size_t& opened) {
    const auto recipe = recipe_from_text(text, "fuzz");
    if (!recipe) {
        CHECK_FALSE(recipe.problem().text().empty());
        return;
    }
    ++opened;
    const Made made = maker.make(*recipe);
    for (const auto& part : made.parts) {
        bool finite = true;
        for (const Vec3& p : *part->shape->mesh.positions) finite &= std::isfinite(p.x + p.y + p.z);
        CHECK(finite);
        CHECK(sound(part->shape->mesh));
    }
    CHECK(recipe_from_text(recipe_text(*recipe)));
}

}  // namespace

TEST_CASE("mutated recipes never break the loader or making", "[fuzz]") {
    std::mt19937 random(20);
    const auto texts = seeds();
    Maker maker(64 << 20);
    std::size_t rounds = 0, opened = 0;
    const auto start = std::chrono::steady_clock::now();
    // At least so many, however slow the machine is.
    while (std::chrono::steady_clock::now() - start < budget || ((rounds <= 20 || opened <= 5) && rounds < 200)) {
        const std::string& seed = texts[random() % texts.size()];
        if (rounds++ % 2 == 0) {
            try_it(mutated_text(seed, random), maker, opened);
        } else {
            Json json = Json::parse(seed);
            for (unsigned i = 0; i < 1 + random() % 4; ++i) mutate_json(json, random);
            // Large but legal counts are the stress of other tests; here they would only eat the time.
            try_it(json.dump(), maker, opened);
        }
    }
    INFO(rounds << " rounds, " << opened << " opened");
    CHECK(rounds > 20);
    CHECK(opened > 5);
}
