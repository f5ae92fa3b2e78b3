// SPDX-License-Identifier: GPL-3.0-or-later
// The interface for other programs, from outside: a host in C, one in Python, and what an installed library offers.
#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <fstream>

#include "tests/support/build.h"
#include "tests/support/folder.h"
#include "tests/support/tried.h"
#include "tests/support/node.h"

using namespace bricol::test;

namespace {

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
    std::string pieces;
    for (const char* piece : {"rack", "lantern", "buoy", "winch", "pebble", "windsock"})
        pieces += " '" + demo_folder + "/" + piece + ".bricol'";
    CHECK(runs(HOST_CHECK + pieces));
}

TEST_CASE("a host in Python needs nothing but the library", "[host]") {
    std::string said;
    REQUIRE(runs("LD_LIBRARY_PATH='" HOST_LIBRARY "' python3 '" SOURCE_FOLDER "/examples/python/stock_list.py' '" +
                     demo_folder + "/rack.bricol' width 1.2 '240 cm'",
                 &said));
    CHECK(said ==
          "width 1.2: 468 triangles, 1.280 × 0.780 × 1.740 m\n"
          "width 240 cm: 468 triangles, 2.480 × 0.780 × 1.740 m\n");
    CHECK_FALSE(runs("LD_LIBRARY_PATH='" HOST_LIBRARY "' python3 '" SOURCE_FOLDER "/examples/python/stock_list.py' '" +
                         demo_folder + "/rack.bricol' weight 1.2",
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

TEST_CASE("an installed library is found by pkg-config and by CMake", "[host][wide]") {
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

TEST_CASE("the example host places three racks and makes them again under the mouse", "[host][wide]") {
    // The real window under Xvfb: a dial is dragged with the mouse, Escape leaves.
    const Folder folder;
    const std::string picture = folder / "host.ppm";
    std::string said;
    REQUIRE(runs("xvfb-run -a -s '-screen 0 1120x700x24' sh -c '\"" HOST_EXAMPLE "\" \"" + demo_folder +
                     "/rack.bricol\" --picture " + picture +
                     " & P=$!; sleep 3; xdotool mousemove 120 124 mousedown 1; sleep 0.2; for x in 130 170 209; do "
                     "xdotool mousemove $x 124; sleep 0.1; done; xdotool mouseup 1; sleep 1; "
                     "xdotool mousemove 60 30 mousemove 230 30 click 1; sleep 1; xdotool mousemove 100 164 click 1; "
                     "sleep 2; xdotool key Escape; wait $P'",
                 &said));
    INFO(said);
    // The width's bar runs from 0.6 m at x = 16 to 4 m at x = 264; the trays stand out by 4 cm on both sides.
    const double width = 0.6 + (209 - 16) / 248.0 * (4 - 0.6) + 0.08;
    CHECK(said.find(fmt::format("piece 1: 468 triangles, {:.3f} m wide", width)) != std::string::npos);
    CHECK(said.rfind("piece 3: 468 triangles") > said.rfind("piece 1:"));
    std::ifstream file(picture, std::ios::binary);
    std::string head;
    int across = 0, down = 0, most = 0;
    file >> head >> across >> down >> most;
    REQUIRE(across == 1120);
    file.get();
    std::string bytes(static_cast<std::size_t>(across) * static_cast<std::size_t>(down) * 3, 0);
    file.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    std::size_t oak = 0;  // warm: more red than blue by far, as no ground or sky is
    for (std::size_t y = 0; y < 700; ++y)
        for (std::size_t x = 300; x < 1120; ++x) {
            const auto* pixel = reinterpret_cast<const unsigned char*>(bytes.data()) + 3 * (y * 1120 + x);
            oak += pixel[0] > pixel[2] + 30;
        }
    CHECK(oak > 15000);
}
