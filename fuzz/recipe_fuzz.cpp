// SPDX-License-Identifier: GPL-3.0-or-later
// Any text as a recipe: read or refused, and what was read is written and read again to the same.
#include <cstdlib>
#include <string_view>

#include "core/recipe/recipe_json.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace bricol;
    const auto recipe = recipe_from_text(std::string_view(reinterpret_cast<const char*>(data), size));
    if (!recipe) return 0;
    const auto again = recipe_from_text(recipe_text(*recipe));
    if (!again || !same(*recipe, *again)) std::abort();
    return 0;
}
