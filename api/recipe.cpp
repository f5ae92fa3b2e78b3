// SPDX-License-Identifier: GPL-3.0-or-later
// Opening recipes and turning their dials for other programs.
#include "api/recipe.h"

#include <filesystem>
#include <fmt/format.h>

#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "core/ground/version.h"
#include "core/recipe/edit.h"
#include "core/recipe/recipe_json.h"

namespace bricol::api {

namespace {

thread_local std::string problem_words;

bricol_status keep_recipe(Result<Recipe> recipe, const std::string& folder, bricol_recipe** out) {
    if (!recipe) return failed(BRICOL_FILE, recipe.problem());
    auto open = std::make_shared<OpenRecipe>();
    open->recipe = std::move(*recipe);
    open->environment = environment_in(folder);
    open->note_words();
    *out = reinterpret_cast<bricol_recipe*>(recipes().keep(std::move(open)));
    return BRICOL_GOOD;
}

/// Turns one dial; `written` makes the value as the recipe's file would write it.
/// `kind` empty for dials of any.
template <class Written>
bricol_status turn(bricol_recipe* handle, const char* name, std::optional<DialKind> kind, Written written) {
    return guarded([&]() -> bricol_status {
        const auto open = recipes().find(handle);
        if (!open) return no_recipe();
        if (!name) return wrong_use("The dial's name is null.");
        const std::lock_guard lock(open->mutex);
        const Dial* dial = open->recipe.dial(name);
        // A dial that is not there is refused below, with the names that are.
        if (dial && kind && dial->kind != *kind)
            return failed(BRICOL_WRONG_USE, {fmt::format("The dial “{}” is a {}, not a {}.", name,
                                                         dial_kind_word(dial->kind), dial_kind_word(*kind)),
                                             "", "Ask bricol_dial_at for its kind, or set it as text."});
        const Result<Json> value = dial ? written(*dial) : Result<Json>(Json(0));
        if (!value) return failed(BRICOL_WRONG_USE, value.problem());
        auto turned_recipe = with_dials(open->recipe, {{name, *value}}, Outside::refused);
        if (!turned_recipe) return failed(BRICOL_WRONG_USE, turned_recipe.problem());
        open->recipe = std::move(*turned_recipe);
        open->note_words();
        return BRICOL_GOOD;
    });
}

}  // namespace

Handles<OpenRecipe>& recipes() {
    static Handles<OpenRecipe> all;
    return all;
}

bricol_status failed(bricol_status status, const Problem& problem) {
    try {
        problem_words = problem.text();
    } catch (...) {
        problem_words.clear();
    }
    return status;
}
bricol_status wrong_use(const char* what, const char* remedy) {
    try {
        return failed(BRICOL_WRONG_USE, {what, "", remedy});
    } catch (...) {  // no memory even for the words
        return BRICOL_WRONG_USE;
    }
}
bricol_status no_recipe() {
    return wrong_use("This is no open recipe.", "It is null, or it was closed; open one with bricol_open.");
}

void OpenRecipe::note_words() {
    words.clear();
    choices.clear();
    const auto keep = [&](const std::string& text) { return words.emplace_back(text).c_str(); };
    headings = dial_headings(recipe.dials);
    for (const Dial& dial : recipe.dials) {
        std::vector<const char*>& list = choices.emplace_back();
        for (const std::string& word : dial.choices) list.push_back(keep(word));
    }
    preset_names.clear();
    for (const Preset& preset : recipe.presets) preset_names.push_back(keep(preset.name));
}

}  // namespace bricol::api

using namespace bricol;
using namespace bricol::api;

uint32_t bricol_api_version(void) { return BRICOL_API_VERSION; }
const char* bricol_version(void) {
    static const std::string words(version());
    return words.c_str();
}
const char* bricol_problem(void) { return problem_words.c_str(); }

bricol_status bricol_open(const char* path, bricol_recipe** out) {
    return guarded([&]() -> bricol_status {
        if (!path || !out) return wrong_use("A path and a place for the recipe are wanted; one of them is null.");
        *out = nullptr;
        return keep_recipe(load_recipe(path), std::filesystem::path(path).parent_path().string(), out);
    });
}

bricol_status bricol_open_text(const char* text, const char* folder, bricol_recipe** out) {
    return guarded([&]() -> bricol_status {
        if (!text || !out) return wrong_use("A text and a place for the recipe are wanted; one of them is null.");
        *out = nullptr;
        return keep_recipe(recipe_from_text(text), folder ? folder : "", out);
    });
}

void bricol_close(bricol_recipe* recipe) {
    bricol_stop(recipe);
    recipes().drop(recipe);
}

size_t bricol_dial_count(bricol_recipe* recipe) {
    const auto open = recipes().find(recipe);
    if (!open) return 0;
    const std::lock_guard lock(open->mutex);
    return open->recipe.dials.size();
}

bricol_status bricol_dial_at(bricol_recipe* recipe, size_t index, bricol_dial* out) {
    return guarded([&]() -> bricol_status {
        const auto open = recipes().find(recipe);
        if (!open) return no_recipe();
        const std::lock_guard lock(open->mutex);
        if (index >= open->recipe.dials.size()) return wrong_use("There are not so many dials.");
        const Dial& dial = open->recipe.dials[index];
        bricol_dial info{};
        info.name = dial.name.c_str();
        info.heading = open->headings[index].c_str();
        info.help = dial.help.c_str();
        info.unit = dial.unit.c_str();
        info.kind = static_cast<bricol_dial_kind>(dial.kind);
        info.shown = dial_shown(open->recipe.dials, dial);
        info.value = dial.value, info.low = dial.low, info.high = dial.high;
        for (int k = 0; k < 3; ++k) info.colour[k] = dial.colour[k];
        info.choice_count = dial.choices.size();
        info.choices = open->choices[index].data();
        return hand_out(info, out) ? BRICOL_GOOD : wrong_use("The struct is null, or its size is not set.");
    });
}

bricol_status bricol_set_number(bricol_recipe* recipe, const char* dial, double value) {
    return turn(recipe, dial, DialKind::number, [&](const Dial&) -> Result<Json> { return Json(value); });
}
bricol_status bricol_set_choice(bricol_recipe* recipe, const char* dial, const char* word) {
    if (!word) return wrong_use("The word is null.");
    return turn(recipe, dial, DialKind::choice, [&](const Dial&) -> Result<Json> { return Json(word); });
}
bricol_status bricol_set_toggle(bricol_recipe* recipe, const char* dial, int on) {
    return turn(recipe, dial, DialKind::toggle, [&](const Dial&) -> Result<Json> { return Json(on != 0); });
}
bricol_status bricol_set_colour(bricol_recipe* recipe, const char* dial, double red, double green, double blue) {
    return turn(recipe, dial, DialKind::colour, [&](const Dial&) -> Result<Json> { return Json::array({red, green, blue}); });
}
bricol_status bricol_set_text(bricol_recipe* recipe, const char* dial, const char* text) {
    if (!text) return wrong_use("The text is null.");
    return turn(recipe, dial, std::nullopt, [&](const Dial& about) { return typed_dial(about, text); });
}

size_t bricol_preset_count(bricol_recipe* recipe) {
    const auto open = recipes().find(recipe);
    if (!open) return 0;
    const std::lock_guard lock(open->mutex);
    return open->preset_names.size();
}
const char* bricol_preset_name(bricol_recipe* recipe, size_t index) {
    const auto open = recipes().find(recipe);
    if (!open) return nullptr;
    const std::lock_guard lock(open->mutex);
    return index < open->preset_names.size() ? open->preset_names[index] : nullptr;
}
bricol_status bricol_apply_preset(bricol_recipe* recipe, const char* name) {
    return guarded([&]() -> bricol_status {
        const auto open = recipes().find(recipe);
        if (!open) return no_recipe();
        if (!name) return wrong_use("The preset's name is null.");
        const std::lock_guard lock(open->mutex);
        auto turned_recipe = apply_preset(open->recipe, name);
        if (!turned_recipe) return failed(BRICOL_WRONG_USE, turned_recipe.problem());
        open->recipe = std::move(*turned_recipe);
        open->note_words();
        return BRICOL_GOOD;
    });
}

bricol_status bricol_set_frame(bricol_recipe* recipe, double frame) {
    const auto open = recipes().find(recipe);
    if (!open) return no_recipe();
    const std::lock_guard lock(open->mutex);
    open->environment.surroundings.frame = frame;
    return BRICOL_GOOD;
}
bricol_status bricol_set_seed(bricol_recipe* recipe, double seed) {
    const auto open = recipes().find(recipe);
    if (!open) return no_recipe();
    const std::lock_guard lock(open->mutex);
    open->environment.surroundings.seed = seed;
    return BRICOL_GOOD;
}
