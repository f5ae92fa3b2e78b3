// SPDX-License-Identifier: GPL-3.0-or-later
// The interface for other programs, from outside: a host in C, one in Python, and what an installed library offers.
#include <catch2/catch.hpp>
#include <fstream>

#include "tests/support/build.h"
#include "tests/support/folder.h"
#include "tests/support/node.h"

using namespace bricol::test;

namespace {

const std::string demo = std::string(SOURCE_FOLDER) + "/demo";

/// Runs a command; its output is told when it fails.
bool runs(const std::string& command, std::string* said = nullptr) {
    int code = 0;
    const std::string out = output_of(command + " 2>&1", &code);
    UNSCOPED_INFO(command << "\n" << out);
    if (said) *said = out;
    return code == 0;
}

}  // namespace

TEST_CASE("a host in C gets what the header promises, and a careless one is refused", "[host]") {
    CHECK(runs(std::string(HOST_CHECK) + " '" + demo + "/rack.bricol'"));
}

TEST_CASE("a host in Python needs nothing but the library", "[host]") {
    std::string said;
    REQUIRE(runs("LD_LIBRARY_PATH='" HOST_LIBRARY "' python3 '" SOURCE_FOLDER "/examples/python/stock_list.py' '" +
                     demo + "/rack.bricol' width 1.2 '240 cm'",
                 &said));
    CHECK(said ==
          "width 1.2: 468 triangles, 1.280 × 0.780 × 1.740 m\n"
          "width 240 cm: 468 triangles, 2.480 × 0.780 × 1.740 m\n");
    CHECK_FALSE(runs("LD_LIBRARY_PATH='" HOST_LIBRARY "' python3 '" SOURCE_FOLDER "/examples/python/stock_list.py' '" +
                         demo + "/rack.bricol' weight 1.2",
                     &said));
    CHECK_THAT(said, Catch::Contains("There is no dial “weight”: width"));
}

TEST_CASE("the shared library shows bricol_… and nothing else", "[host]") {
    std::string said;
    REQUIRE(runs("nm -D --defined-only '" HOST_LIBRARY
                 "/libbricol.so' | awk '$2 == \"T\" || $2 == \"D\" || $2 == \"B\" {print $3}'",
                 &said));
    std::istringstream lines(said);
    std::size_t count = 0;
    for (std::string line; std::getline(lines, line); ++count) {
        INFO(line);
        CHECK(line.starts_with("bricol_"));
    }
    CHECK(count > 25);
}

TEST_CASE("an installed library is found by pkg-config and by CMake", "[host]") {
    const Folder folder;
    const std::string prefix = folder / "usr";
    REQUIRE(runs("cmake --install '" HOST_BUILD "' --prefix '" + prefix + "' --component host"));
    std::string library;
    REQUIRE(runs("dirname $(find '" + prefix + "' -name bricol.pc)", &library));
    library.pop_back();  // the line's end
    {
        std::ofstream(folder / "engine.c")
            << "#include <bricol.h>\nint main(void) { return bricol_api_version() != BRICOL_API_VERSION; }\n";
    }
    REQUIRE(runs("cd '" + (folder.path.string()) +
                 "' && cc -std=c99 -Wall -Wextra -Werror -pedantic engine.c $(PKG_CONFIG_PATH='" + library +
                 "' pkg-config --define-prefix --cflags --libs bricol) -o engine"));
    CHECK(runs("LD_LIBRARY_PATH='" + library + "/..' '" + (folder / "engine") + "'"));
    {
        std::ofstream(folder / "CMakeLists.txt")
            << "cmake_minimum_required(VERSION 3.25)\nproject(engine C)\nfind_package(Bricol 0.1 REQUIRED)\n"
               "add_executable(engine engine.c)\ntarget_link_libraries(engine Bricol::bricol)\n";
    }
    REQUIRE(runs("cmake -G Ninja -S '" + folder.path.string() + "' -B '" + (folder / "b") + "' -DCMAKE_PREFIX_PATH='" +
                 prefix + "' && cmake --build '" + (folder / "b") + "'"));
    CHECK(runs("'" + (folder / "b/engine") + "'"));
}
