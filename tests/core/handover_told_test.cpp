// SPDX-License-Identifier: GPL-3.0-or-later
// What a hand-over says and leaves behind: notes, presets, the preview page in Chromium, bad input, a full disk.
#include <catch2/catch.hpp>
#include <charconv>
#include <filesystem>
#include <png.h>
#include <tbb/global_control.h>

#include "core/files/files.h"
#include "core/files/handover.h"
#include "core/recipe/recipe_json.h"
#include "tests/support/build.h"
#include "tests/support/handed.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

TEST_CASE("what a format has no place for is said", "[handover]") {
    const Folder folder;
    Json json = Json::parse(recipe_text(two_parts()));
    json["parts"][2]["steps"].push_back(step("r", "real_geometry"));
    json["parts"][2]["steps"].push_back(step("c", "colour", {{"colour", {1, 0.5, 0}}}));
    json["presets"].push_back({{"name", "Bad"}, {"dials", {{"girth", 0.3}}}});
    const auto done = handed(*recipe_from_text(json.dump()), folder.path / "out", [](HandoverOrder& order) {
        order.suffixes = {"stl", "3mf"};
        order.dressing.light_uvs = true;
        order.presets = true;
        order.options.cages = order.options.joined_copies = true;
    });
    REQUIRE_FALSE(done.problem);
    for (const char* words : {"STL files hold no materials", "STL files hold no colours", "3MF files hold no colours",
                              "STL files hold no second UVs", "3MF files hold no presets", "3MF files hold no values",
                              "joined in glTF alone", "USD alone"}) {
        INFO(words);
        CHECK(has(done.notes, words));
    }
    CHECK_FALSE(has(done.notes, "3MF files hold no materials"));
    // The list says them too.
    CHECK(Json::parse(*read_file((folder.path / "out/handover.json").string()))["notes"] == Json(done.notes));
    const auto all = handed(two_parts(), folder.path / "glb");
    CHECK(all.notes.empty());
}

TEST_CASE("a preset that breaks stays out and is named", "[handover]") {
    const Folder folder;
    const auto recipe = recipe_from_text(R"json({"bricol": 1, "title": "Post",
      "dials": [{"name": "n", "value": 1, "min": 1, "max": 6}],
      "presets": [{"name": "Good", "dials": {"n": 2}}, {"name": "Bad", "dials": {"n": 3}}],
      "parts": [{"name": "p", "steps": [{"id": "b", "step": "box", "size": ["= sqrt(0.5 - (n == 3))", 1, 1]}]}]})json");
    REQUIRE(recipe);
    const auto done = handed(*recipe, folder.path / "out", [](HandoverOrder& order) {
        order.suffixes = {"usda"};
        order.presets = true;
    });
    REQUIRE_FALSE(done.problem);
    CHECK(has(done.notes, "The preset “Bad” stays out"));
    const std::string text = *read_file((folder.path / "out/Post.usda").string());
    CHECK(text.find("\"Good\" {") != std::string::npos);
    CHECK(text.find("\"Bad\" {") == std::string::npos);
}

TEST_CASE("a hand-over gives the same bytes on any number of threads", "[handover][wide]") {
    const Folder folder;
    const auto all = [](HandoverOrder& order) {
        order.suffixes = {"glb", "usda", "obj", "ply", "stl", "3mf"};
        order.dressing.levels = {0.5, 0.2};
        order.dressing.collision = CollisionKind::pieces;
        order.dressing.light_uvs = true;
        order.presets = order.page = true;
        order.frames = FrameRange{0, 3, 25};
    };
    for (const std::size_t threads : {1, 4}) {
        const tbb::global_control held(tbb::global_control::max_allowed_parallelism, threads);
        const auto done = handed(two_parts(), folder.path / std::to_string(threads), all);
        REQUIRE_FALSE(done.problem);
        CHECK(done.files.size() == 8);  // six kinds, OBJ's materials, the page
    }
    const auto one = contents(folder.path / "1"), four = contents(folder.path / "4");
    REQUIRE(one.size() == four.size());
    for (const auto& [name, bytes] : one) {
        INFO(name);
        CHECK((four.at(name) == bytes));
    }
}

TEST_CASE("a hand-over tidies up after itself and leaves what is not its own", "[handover][bad input]") {
    const Folder folder;
    const fs::path out = folder.path / "out";
    REQUIRE_FALSE(handed(two_parts(), out, [](HandoverOrder& order) { order.suffixes = {"glb", "obj"}; }).problem);
    CHECK(fs::exists(out / "Quay_post.mtl"));
    { std::ofstream(out / "notes.txt") << "mine"; }
    REQUIRE_FALSE(handed(two_parts(), out).problem);
    CHECK_FALSE(fs::exists(out / "Quay_post.obj"));
    CHECK_FALSE(fs::exists(out / "Quay_post.mtl"));
    CHECK(*read_file((out / "notes.txt").string()) == "mine");
    // A file that was changed since stays; a stranger's file in the way refuses everything.
    REQUIRE_FALSE(handed(two_parts(), out, [](HandoverOrder& order) { order.suffixes = {"glb", "stl"}; }).problem);
    { std::ofstream(out / "Quay_post.stl") << "changed by hand"; }
    const auto changed = handed(two_parts(), out);
    CHECK(fs::exists(out / "Quay_post.stl"));
    CHECK(has(changed.notes, "Quay_post.stl was changed"));
    { std::ofstream(out / "Quay_post.ply") << "somebody else's"; }
    const std::string before = *read_file((out / "Quay_post.glb").string());
    const auto refused = handed(two_parts(), out, [](HandoverOrder& order) { order.suffixes = {"ply"}; });
    REQUIRE(refused.problem);
    CHECK_THAT(refused.problem->text(), Catch::Contains("not from a hand-over"));
    CHECK(*read_file((out / "Quay_post.ply").string()) == "somebody else's");
    // The file beside another counts as well.
    { std::ofstream(out / "Quay_post.mtl") << "mine too"; }
    CHECK(handed(two_parts(), out, [](HandoverOrder& order) { order.suffixes = {"obj"}; }).problem);
    CHECK(*read_file((out / "Quay_post.mtl").string()) == "mine too");
    CHECK(*read_file((out / "Quay_post.glb").string()) == before);
}

TEST_CASE("a hand-over that was broken off is taken up again", "[handover][bad input]") {
    const Folder folder;
    const fs::path out = folder.path / "out";
    std::atomic<bool> stop = false;
    const auto broken_off = handed(two_parts(), out, [&](HandoverOrder& order) {
        order.suffixes = {"glb", "stl", "ply"};
        order.making.stop = &stop;
        order.progress = [&](const std::string& what) { stop = what.find(".ply") != std::string::npos; };
    });
    CHECK(broken_off.stopped);
    CHECK(fs::exists(out / "Quay_post.stl"));
    CHECK_FALSE(fs::exists(out / "Quay_post.ply"));
    // It knows its files, and takes away what is not wanted any more.
    const auto again = handed(two_parts(), out);
    INFO((again.problem ? again.problem->text() : ""));
    CHECK_FALSE(again.problem);
    CHECK(fs::exists(out / "Quay_post.glb"));
    CHECK_FALSE(fs::exists(out / "Quay_post.stl"));
}

TEST_CASE("broken recipes, folders that cannot be and a raised stop are told", "[handover][bad input]") {
    const Folder folder;
    const auto broken =
        handed(recipe_of(Json::array({step("b", "box", {{"size", {"= sqrt(0 - 1)", 1, 1}}})})), folder.path / "a");
    CHECK(broken.broken);
    REQUIRE(broken.problem);
    CHECK_FALSE(fs::exists(folder.path / "a"));
    { std::ofstream(folder.path / "file") << ""; }
    const auto nowhere = handed(two_parts(), folder.path / "file/inside");
    REQUIRE(nowhere.problem);
    CHECK_THAT(nowhere.problem->text(), Catch::Contains("cannot be made"));
    std::atomic<bool> stop = true;
    const auto stopped =
        handed(two_parts(), folder.path / "b", [&](HandoverOrder& order) { order.making.stop = &stop; });
    CHECK(stopped.stopped);
    CHECK(stopped.files.empty());
    const auto empty = handed(recipe_of(Json::array()), folder.path / "c");
    REQUIRE(empty.problem);
    CHECK_THAT(empty.problem->text(), Catch::Contains("nothing to hand over"));
    // A frame that breaks.
    const auto later = handed(recipe_of(Json::array({step("b", "box", {{"size", {"= sqrt(2.5 - frame)", 1, 1}}})})),
                              folder.path / "d", [](HandoverOrder& order) {
                                  order.frames = FrameRange{0, 5, 25};
                              });
    REQUIRE(later.problem);
    CHECK_THAT(later.problem->text(), Catch::Contains("frame 3"));
}

TEST_CASE("the command hands over, and says what it cannot take", "[handover][command]") {
    const Folder folder;
    { std::ofstream(folder.path / "post.bricol") << recipe_text(two_parts()); }
    const std::string from = std::string(command_path()) + " handover '" + (folder / "post.bricol") + "' ";
    int code = 0;
    const Json done = Json::parse(output_of(from +
                                                "--kind .glb --kind usda --levels '50 %, 20%' --collision hull "
                                                "--collision-name 'hit_{part}_{n}' --pivot 0,0,0.5 --frames 0..2 "
                                                "--presets --page --unit cm --json --out '" +
                                                (folder / "out") + "'",
                                            &code));
    CHECK(code == 0);
    CHECK(done["files"].size() == 3);
    // `make` leaves one's own values out unless they are asked for.
    const std::string make = std::string(command_path()) + " make '" + (folder / "post.bricol") + "' --quiet --out '" +
                             (folder / "m.ply") + "' ";
    output_of(make, &code);
    CHECK(read_file(folder / "m.ply")->find("property float wear") == std::string::npos);
    output_of(make + "--values", &code);
    CHECK(read_file(folder / "m.ply")->find("property float wear") != std::string::npos);
    CHECK(read_file(folder / "out/Quay_post.usda")->find("def Xform \"hit_post_01\"") != std::string::npos);
    for (const auto& [options, words] :
         std::map<std::string, std::string>{{"--levels 50,60", "each less than the one before"},
                                            {"--levels lots", "in percent"},
                                            {"--pivot 1,2", "own, foot, middle"},
                                            {"--frames 3", "0..24"},
                                            {"--frames 5..5", "0..24"},
                                            {"--collision-name same", "{n}"},
                                            {"--kind docx", "Bricol writes"}}) {
        INFO(options);
        CHECK_THAT(output_of(from + options + " --out '" + (folder / "no") + "' 2>&1", &code), Catch::Contains(words));
        CHECK(code == 2);
        CHECK_FALSE(fs::exists(folder / "no"));
    }
}

TEST_CASE("the preview page shows its presets without a network", "[handover][page][outside][long]") {
    if (sanitized()) return;  // a browser is not watched; what writes the page is, in the tests above
    const Folder folder;
    REQUIRE_FALSE(handed(two_parts(), folder.path / "out", [](HandoverOrder& order) {
                      order.presets = order.page = true;
                  }).problem);
    const std::string page = "file://" + (folder.path / "out/preview.html").string();
    CHECK(read_file((folder.path / "out/preview.html").string())->find("<script src") == std::string::npos);
    // Debian's Chromium, without a network of any kind.
    const std::string chromium =
        "timeout 60 chromium --headless=new --no-sandbox --disable-gpu-sandbox --use-gl=angle "
        "--use-angle=swiftshader --enable-unsafe-swiftshader --host-resolver-rules='MAP * "
        "~NOTFOUND' --hide-scrollbars --user-data-dir='" +
        (folder / "profile") + "' --virtual-time-budget=2500 ";
    // A browser that does not start within its minute, as happens beside other work, is started again.
    const auto browsed = [&](const std::string& wish) {
        std::string out;
        for (int tries = 0, code = 1; tries < 3 && code != 0; ++tries)
            out = output_of(chromium + wish + " 2>/dev/null", &code);
        return out;
    };
    for (const auto& [hash, width] : std::map<std::string, double>{{"", 0.2}, {"#Stout%20one", 0.5}}) {
        INFO(hash);
        const std::string dom = browsed("--window-size=160,120 --dump-dom '" + page + hash + "'");
        const auto value = [&](const std::string& name) {
            const std::size_t at = dom.find("data-" + name + "=\"");
            REQUIRE(at != std::string::npos);
            const std::size_t from = at + name.size() + 7;
            return dom.substr(from, dom.find('"', from) - from);
        };
        CHECK(value("state") == (hash.empty() ? "0" : "1"));
        CHECK(value("triangles") == std::to_string(12 + 3 * (2 * 16 + 2 * 16 * 6)));
        const std::string high = value("high");
        double right = 0;
        std::from_chars(high.data(), high.data() + high.size(), right);
        CHECK(right == Approx(2 + width / 2).epsilon(1e-4));
        CHECK(dom.find(hash.empty() ? "<td>0.2 × 0.2 × 1 m, 6 faces, 12 triangles" : "<td>0.5 × 0.5 × 1 m") !=
              std::string::npos);
        CHECK(dom.find("aria-pressed=\"true\"") != std::string::npos);
    }
    // And it is a picture: something stands before the ground.
    browsed("--window-size=640,480 --screenshot='" + (folder / "page.png") + "' '" + page + "'");
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    REQUIRE(png_image_begin_read_from_file(&image, (folder / "page.png").c_str()));
    image.format = PNG_FORMAT_RGB;
    std::vector<png_byte> bytes(PNG_IMAGE_SIZE(image));
    REQUIRE(png_image_finish_read(&image, nullptr, bytes.data(), 0, nullptr));
    std::size_t drawn = 0;
    for (std::size_t y = 80; y < 300; ++y)
        for (std::size_t x = 0; x < 640; ++x) {
            const png_byte* here = bytes.data() + 3 * (y * image.width + x);
            drawn += std::abs(here[0] - bytes[3 * 60 * image.width]) > 40;
        }
    CHECK(drawn > 1500);
}

TEST_CASE("a disk that fills up amid a hand-over tells, leaves no halves, and the next one goes on",
          "[handover][bad input]") {
    // A limit on file size stands in for a full disk.
    const Folder folder;
    const std::string command = std::string(command_path()) +
                                " handover '" SOURCE_FOLDER "/demo/rack.bricol' --kind obj --kind glb --out '" +
                                (folder / "h") + "' --quiet 2>&1";
    int code = 0;
    const std::string said = output_of("bash -c \"ulimit -f 8; trap '' XFSZ; " + command + "\"", &code);
    INFO(said);
    CHECK(code == 3);
    CHECK(said.find("could not be written") != std::string::npos);
    for (const auto& entry : std::filesystem::directory_iterator(folder.path / "h"))
        CHECK(unfinished_of(entry.path().filename().string()).empty());
    output_of(command, &code);
    CHECK(code == 0);
    CHECK(std::filesystem::exists(folder / "h/handover.json"));
}
