// SPDX-License-Identifier: GPL-3.0-or-later
// The house stays as its plan says.
#include <catch2/catch.hpp>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <regex>
#include <set>
#include <sstream>
#include <unistd.h>

#include "cli/report.h"
#include "core/files/files.h"
#include "core/files/recipe_file.h"
#include "tests/support/shapes.h"

using namespace bricol;
namespace fs = std::filesystem;

namespace {

std::string content(const fs::path& path) {
    std::ifstream file(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(file), {}};
}

std::vector<fs::path> sources(const std::string& folder) {
    std::vector<fs::path> list;
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(SOURCE_FOLDER) / folder))
        if (entry.path().extension() == ".cpp" || entry.path().extension() == ".h") list.push_back(entry.path());
    return list;
}

}  // namespace

namespace {

const std::vector<std::string> storeys = {"ground", "shape", "kernels", "formula", "catalogue",
                                          "recipe", "steps", "make",    "inspect", "files"};

/// Whether a file of these lines gets through the preprocessor as part of a storey.
bool compiles_in(std::size_t storey, const std::string& lines) {
    const fs::path file = fs::temp_directory_path() / ("bricol_include_" + std::to_string(getpid()) + ".cpp");
    std::ofstream(file) << lines;
    std::string command = std::string(COMPILER) + " -std=c++20 -E";
    for (std::size_t s = 0; s <= storey; ++s)
        if (s == storey || storeys[s] != "steps") command += " -I" + std::string(STOREYS) + "/" + storeys[s];
    const int failed = std::system((command + " " + file.string() + " >/dev/null 2>&1").c_str());
    fs::remove(file);
    return failed == 0;
}

}  // namespace

TEST_CASE("a storey sees those below it and none above", "[house]") {
    const std::vector<std::string> doors = {"core/ground/types.h",
                                            "core/shape/mesh.h",
                                            "core/kernels/weld.h",
                                            "core/formula/units.h",
                                            "core/catalogue/kind.h",
                                            "core/recipe/edit.h",
                                            "",
                                            "core/make/make.h",
                                            "core/inspect/trace.h",
                                            "core/files/kits.h"};
    for (std::size_t storey = 0; storey < storeys.size(); ++storey) {
        std::string below, above;  // with all they include in turn; the doors alone
        for (std::size_t other = 0; other < storeys.size(); ++other) {
            if (doors[other].empty()) continue;
            if (other <= storey)
                below += "#include \"" + doors[other] + "\"\n";
            else
                above += "#if __has_include(\"" + doors[other] + "\")\n#error \"seen\"\n#endif\n";
        }
        INFO(storeys[storey]);
        CHECK(compiles_in(storey, below));
        CHECK(compiles_in(storey, above));
        // What is seen is told: the lowest storey is.
        CHECK_FALSE(compiles_in(storey, "#if __has_include(\"core/ground/types.h\")\n#error \"seen\"\n#endif\n"));
    }
}

TEST_CASE("the core knows no interface, and steps do not know one another", "[house]") {
    const std::regex include("#include [<\"]([^>\"]+)[>\"]");
    const std::regex interface("^(Q[A-Z]|q[a-z]+\\.h|Qt|app/|cli/|epoxy|GL/)");
    std::size_t seen = 0;
    for (const fs::path& file : sources("core")) {
        const std::string text = content(file);
        for (std::sregex_iterator it(text.begin(), text.end(), include), end; it != end; ++it) {
            const std::string name = (*it)[1];
            INFO(file << " includes " << name);
            ++seen;
            CHECK_FALSE(std::regex_search(name, interface));
            if (!name.starts_with("core/steps/")) continue;
            CHECK(name.starts_with("core/steps/shared/"));  // none includes another step's file
        }
    }
    CHECK(seen > 100);
}

TEST_CASE("loops on several threads can be put inside each other", "[house]") {
    // TBB's own loops stand in one file: for the reason above, and because each costs every reader a second of
    // compiling.
    const std::regex bare(R"(tbb::(parallel_(for|reduce|invoke|deterministic_reduce|scan|sort)|blocked_range)\b)");
    for (const std::string folder : {"core", "app", "cli"})
        for (const auto& file : sources(folder)) {
            INFO(file.string() << ": use core/ground/parallel.h");
            if (file.filename() != "parallel.cpp") CHECK_FALSE(std::regex_search(content(file), bare));
        }
}

TEST_CASE("no step is known by name outside its own file", "[house]") {
    // A remedy may put a Flip behind an inside-out result; a step has a note, which is also a step.
    const std::set<std::pair<std::string, std::string>> meant = {{"part_findings.cpp", "flip"},
                                                                 {"read_json.cpp", "note"}};
    const std::regex by_name(
        "(?:type|key)\\s*(?:==|!=|=)\\s*\"([a-z_0-9]+)\"|(?:find_step_info\\(|\\{\\}, )\"([a-z_0-9]+)\"");
    std::size_t seen = 0;
    for (const std::string folder :
         {"core/kernels", "core/catalogue", "core/recipe", "core/make", "core/inspect", "core/files", "cli", "app"})
        for (const fs::path& file : sources(folder)) {
            const std::string text = content(file);
            ++seen;
            for (std::sregex_iterator it(text.begin(), text.end(), by_name), end; it != end; ++it) {
                const std::string key = (*it)[1].matched ? (*it)[1] : (*it)[2];
                if (!find_step_info(key) || meant.contains({file.filename().string(), key})) continue;
                FAIL_CHECK(file << " names " << key);
            }
        }
    CHECK(seen > 200);
}

TEST_CASE("files and functions stay small enough to read in one go", "[house]") {
    // As the formatter lays them out: a function begins at a line that ends in "{" and ends at the brace under it.
    const std::regex begins(R"(^( {0,4})[A-Za-z~][^=]*\)( const| noexcept| override)* \{$)"),
        other(R"(^ *(namespace|class|struct|enum|union|if|for|while|switch|extern|TEST_CASE|do|else)\b)");
    for (const std::string folder : {"core", "app", "cli", "bench"})
        for (const auto& file : sources(folder)) {
            std::istringstream text(content(file));
            std::size_t number = 0, begun = 0;
            std::string line, ends;
            while (std::getline(text, line)) {
                ++number;
                std::smatch match;
                if (ends.empty() && std::regex_match(line, match, begins) && !std::regex_search(line, other)) {
                    begun = number;
                    ends = match[1].str() + "}";
                } else if (!ends.empty() && line.starts_with(ends)) {
                    INFO(file.string() << ":" << begun);
                    CHECK(number - begun < 80);
                    ends.clear();
                }
            }
            INFO(file.string());
            CHECK(number <= 500);
        }
}

TEST_CASE("one step, one file", "[house]") {
    std::set<std::string> files;
    for (const fs::path& file : sources("core/steps")) {
        if (file.parent_path().filename() == "shared") continue;
        INFO(file);
        CHECK(file.extension() == ".cpp");
        files.insert(file.stem().string());
    }
    CHECK(files.size() == all_steps().size());
}

TEST_CASE("every step is tried by name in a test that is about it", "[house]") {
    // These run every step in the same way; they do not count.
    const std::set<std::string> general = {"make_test.cpp", "bad_input_test.cpp", "fuzz_test.cpp", "house_test.cpp",
                                           "same_bytes_test.cpp"};
    std::string tests;
    for (const fs::path& file : sources("tests/core"))
        if (!general.contains(file.filename().string())) tests += content(file);
    for (const StepInfo* info : all_steps()) {
        INFO(info->key);
        const std::string key(info->key);
        CHECK((tests.find("\"" + key + "\"") != std::string::npos ||
               tests.find("\"step\":\"" + key + "\"") != std::string::npos));
    }
}

TEST_CASE("no parameter has a name that the file keeps for itself", "[house]") {
    const std::set<std::string_view> taken = {"id", "step", "name", "note", "skip", "ghost", "in", "card", "via"};
    for (const StepInfo* info : all_steps())
        for (const ParameterInfo& p : info->parameters) {
            INFO(info->key << "." << p.key);
            CHECK_FALSE(taken.contains(p.key));
        }
}

TEST_CASE("generated documents are up to date", "[house][docs]") {
    CHECK(content(fs::path(SOURCE_FOLDER) / "docs/STEPS.md") == steps_manual());
    CHECK(content(fs::path(SOURCE_FOLDER) / "docs/FORMULAS.md") == formulas_manual());
    CHECK(content(fs::path(SOURCE_FOLDER) / "docs/recipe.schema.json") == pretty_json(recipe_schema()));
}

TEST_CASE("the guides' examples are the ones that are built and tested", "[house][docs]") {
    for (const auto& [guide, example] : {std::pair{"docs/ADDING_A_STEP.md", "tests/example/sink.cpp"},
                                         std::pair{"docs/ADDING_A_FORMAT.md", "tests/example/corner_list.cpp"},
                                         std::pair{"docs/ADDING_A_KIND.md", "core/catalogue/kinds/toggle.cpp"},
                                         std::pair{"docs/ADDING_A_PANEL.md", "app/panels/table_panel.cpp"},
                                         std::pair{"docs/ADDING_A_SHADING.md", "app/viewport/shadings/clay.cpp"}}) {
        const std::string text = content(fs::path(SOURCE_FOLDER) / example);
        INFO(guide);
        REQUIRE(text.size() > 500);
        CHECK(content(fs::path(SOURCE_FOLDER) / guide).find(text) != std::string::npos);
    }
}

TEST_CASE("the demo recipes are written as the program writes them", "[house][demo]") {
    for (const char* folder : {"demo", "kits"})
        for (const auto& entry : fs::directory_iterator(fs::path(SOURCE_FOLDER) / folder))
            if (entry.path().extension() == ".bricol")
                CHECK(content(entry.path()) == recipe_text(*load_recipe(entry.path().string())));
}

// Run by hand after a recipe was changed outside: core_tests "[.rewrite]".
TEST_CASE("the demo recipes are written anew", "[.rewrite]") {
    for (const char* folder : {"demo", "kits"})
        for (const auto& entry : fs::directory_iterator(fs::path(SOURCE_FOLDER) / folder))
            if (entry.path().extension() == ".bricol")
                CHECK_FALSE(write_file(entry.path(), recipe_text(*load_recipe(entry.path().string()))));
}
