// SPDX-License-Identifier: GPL-3.0-or-later
// The command line: what it says, what it writes, and how it exits.
#include <catch2/catch.hpp>
#include <filesystem>

#include "core/files/export.h"
#include "core/files/recipe_file.h"
#include "core/recipe/edit.h"
#include "core/recipe/recipe_json.h"
#include "tests/support/build.h"
#include "tests/support/folder.h"
#include "tests/support/node.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

TEST_CASE("the command line says what it should and exits as it should", "[cli]") {
    const Folder folder;
    const auto run = [&](const std::string& arguments, int& code) {
        return output_of(std::string("'") + test::command_path() + "' " + arguments + " 2>/dev/null", &code);
    };
    int code = -1;
    const Json report =
        Json::parse(run("make '" + buoy_file + "' --set girth=1.1 --out " + (folder / "b.glb") + " --json", code));
    CHECK(code == 0);
    CHECK(report["parts"][0]["closed"] == true);
    CHECK(report["parts"][0]["box"]["size"][0].get<double>() == Approx(1.1));
    CHECK(report["parts"][0]["euler"] == 2);
    CHECK(read_file(folder / "b.glb")->starts_with("glTF"));
    run("make '" + buoy_file + "' --quiet --threads 1 --set girth=1.1 --out " + (folder / "c.glb"), code);
    CHECK(*read_file(folder / "b.glb") == *read_file(folder / "c.glb"));
    run("make '" + buoy_file + "' --quiet --set 'girth=110 cm' --out " + (folder / "d.glb"), code);
    CHECK(*read_file(folder / "b.glb") == *read_file(folder / "d.glb"));
    CHECK(Json::parse(run("dials '" + buoy_file + "' --json", code))["dials"][0]["name"] == "girth");
    CHECK(Json::parse(run("steps --json", code))["steps"].size() == all_steps().size());
    CHECK(run("steps lathe", code).find("segments") != std::string::npos);
    run("make '" + buoy_file + "' --set girth=99", code);
    CHECK(code == 2);
    run("make '" + buoy_file + "' --set nobody=1", code);
    CHECK(code == 2);
    run("make '" + buoy_file + "' --part nobody", code);
    CHECK(code == 2);
    run("fly", code);
    CHECK(code == 2);
    run("make /nowhere.bricol", code);
    CHECK(code == 3);
    write_file(folder / "cut.bricol", read_file(buoy_file)->substr(0, 300));
    run("check " + (folder / "cut.bricol"), code);
    CHECK(code == 3);
    write_file(folder / "odd.bricol", R"({"bricol":1,"parts":[{"name":"p","steps":[{"step":"lathe"}]}]})");
    const Json odd = Json::parse(run("check --json " + (folder / "odd.bricol"), code));
    CHECK(code == 1);
    CHECK(odd["errors"] == true);
    CHECK(odd["parts"][0]["steps"][0]["findings"][0]["severity"] == "error");
}

TEST_CASE("a helper part is made and can be taken from, but stands in no file and no count", "[cli][helper]") {
    const Folder folder;
    const auto recipe = [&](const char* flag) {
        const std::string path = folder / (std::string("parts") + flag + ".bricol");
        Json crown{{"name", "crown"}, {"steps", Json::array({{{"id", "b"}, {"step", "box"}}})}};
        if (*flag) crown[flag] = true;
        write_file(
            path,
            Json{{"bricol", 1},
                 {"parts", Json::array({crown,
                                        {{"name", "leaves"},
                                         {"steps", Json::array({{{"id", "c"}, {"step", "from_part"}, {"part", "crown"}},
                                                                {{"id", "t"}, {"step", "triangulate"}}})}}})}}
                .dump());
        return path;
    };
    int code = 0;
    const auto faces_written = [&](const std::string& path, const std::string& more) {
        const std::string out = folder / "out.obj";
        fs::remove(out);
        output_of(std::string("'") + test::command_path() + "' make '" + path + "' --quiet --out " + out + more, &code);
        const std::string text = *read_file(out);
        std::size_t faces = 0;
        for (std::size_t at = text.find("\nf "); at != std::string::npos; at = text.find("\nf ", at + 1)) ++faces;
        return faces;
    };
    CHECK(faces_written(recipe(""), "") == 6 + 12);
    CHECK(faces_written(recipe("helper"), "") == 12);
    CHECK(code == 0);
    CHECK(faces_written(recipe("helper"), " --part crown") == 6);  // asked for by name it is given
    const auto read = load_recipe(recipe("helper"));
    REQUIRE(read);
    CHECK(read->part("crown")->helper);
    const Made made = Maker().make(*read, {});
    CHECK(made.faces(*read) == 12);
    const auto edited = set_helper(*read, "crown", false);
    REQUIRE(edited);
    CHECK(recipe_text(*edited).find("helper") == std::string::npos);
    CHECK(recipe_text(*read).find("\"helper\": true") != std::string::npos);
}
