// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>

#include "core/files/export.h"
#include "core/kernels/primitives.h"

using namespace bricol;

TEST_CASE("the guide's example format writes what it says", "[example]") {
    Shape box;
    box.mesh = make_box({1, 2, 3}, {1, 1, 1});
    const auto path = (std::filesystem::temp_directory_path() / "bricol_example.corners").string();
    REQUIRE_FALSE(export_shapes(std::vector<NamedShape>{{"block", std::make_shared<const Shape>(box)}}, path));
    std::ifstream file(path);
    std::string name;
    double x = 0, y = 0, z = 0;
    std::size_t lines = 0;
    while (file >> name >> x >> y >> z) {
        CHECK(name == "block");
        CHECK(std::abs(x) == Approx(500));
        CHECK(std::abs(y) == Approx(1000));
        ++lines;
    }
    CHECK(lines == 8);
    CHECK(suffix_words().find(".corners") != std::string::npos);
    std::filesystem::remove(path);
}
