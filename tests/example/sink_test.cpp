// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>

#include "core/files/recipe_file.h"
#include "core/make/make.h"

using namespace bricol;

TEST_CASE("sink lowers a shape by a share of its height") {
    const auto recipe = recipe_from_text(R"({"bricol":1,"parts":[{"name":"p","steps":[
        {"step":"box","size":[1,1,2]},{"step":"example_sink","share":0.25}]}]})");
    REQUIRE(recipe);
    const Made made = Maker().make(*recipe);
    CHECK(made.parts[0]->measures.box->low.z == Approx(-0.5));
}
