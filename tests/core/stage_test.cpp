// SPDX-License-Identifier: GPL-3.0-or-later
// Cameras, lights, sky and backdrop as steps of a recipe, and rows of pictures taken through them.
#include <cstdlib>
#include <png.h>
#include <webp/demux.h>

#include "core/files/files.h"
#include "core/ground/stop.h"
#include "core/make/stage.h"
#include "core/still/frames.h"
#include "core/still/staged.h"
#include "tests/support/build.h"
#include "tests/support/folder.h"
#include "tests/support/light.h"
#include "tests/support/node.h"
#include "tests/support/tried.h"

namespace bricol::test {

namespace {

bool says(const Made& made, const std::string& code) {
    return std::ranges::any_of(made.findings, [&](const Finding& f) { return f.code == code; });
}
Tried tried_with_dials(const Json& steps, const Json& dials) { return tried(recipe_of(steps, dials)); }
Stage stage(const Tried& t) { return stage_of(t.recipe, t.made); }

}  // namespace

TEST_CASE("stage: cameras, lights and a backdrop come out of the recipe with their numbers", "[stage]") {
    const Json dials = Json::array({{{"name", "far"}, {"value", 2}, {"min", 0}, {"max", 9}}});
    const Tried t = tried_with_dials(
        {step("b", "box"),
         step("cam", "camera", {{"at", {"= far * 2", -1, "= key.at.z"}}, {"focal", 85}, {"width", 640}}),
         step("key", "lamp", {{"at", {0, 0, 3}}, {"strength", 100}, {"steps", 2}, {"width", 0.4}}),
         step("bulb", "lamp",
              {{"shape", "point"}, {"unit", "lumens"}, {"strength", 800}, {"hue", "colour"}, {"colour", {1, 0, 0}}}),
         step("noon", "sun", {{"bearing", 90}, {"above", 30}}), step("sky", "sky", {{"strength", 0.5}}),
         step("back", "backdrop", {{"kind", "plain"}, {"colour", {0.1, 0.2, 0.3}}})},
        dials);
    CHECK_FALSE(t.made.has_errors());
    // They stand beside the chain: the part is the box.
    CHECK(t.part().measures.faces == 6);
    const Stage s = stage(t);
    REQUIRE(s.cameras.size() == 1);
    CHECK(s.camera("cam")->piece.eye == DVec3(4, -1, 3));
    CHECK(s.camera("cam")->piece.focal == 85);
    CHECK(s.camera("cam")->piece.width == 640);
    CHECK(s.camera("other") == nullptr);
    REQUIRE(s.lamps.size() == 3);
    CHECK(s.lamps[0].piece.strength == Approx(400));
    CHECK(s.lamps[0].piece.width == 0.4);
    // 683 lm/W at 555 nm, V's integral 106.857 nm (CIE 1931), over 400 nm.
    CHECK(s.lamps[1].piece.strength == Approx(800 / 182.458).epsilon(1e-3));
    CHECK(s.lamps[1].piece.colour == DVec3(1, 0, 0));
    CHECK(s.lamps[2].piece.at.y == Approx(std::cos(std::numbers::pi / 6)));
    CHECK(s.lamps[2].piece.at.z == Approx(0.5));
    REQUIRE(s.sky);
    CHECK(s.sky->piece.strength == 0.5);
    REQUIRE(s.backdrop);
    CHECK(s.backdrop->piece.kind == StageBackdrop::Kind::plain);
    // The recipe as text keeps them.
    const auto again = recipe_from_text(recipe_text(t.recipe));
    REQUIRE(again);
    CHECK(same(*again, t.recipe));
}

TEST_CASE("stage: what is skipped or hidden is off; what nobody uses is told", "[stage]") {
    const Tried t =
        tried({step("b", "box"), step("key", "lamp", {{"skip", true}}), step("two", "sky"), step("three", "sky")});
    CHECK(stage(t).lamps.empty());
    CHECK(stage(t).sky->step == "two");
    CHECK(says(t.made, "second-of-stage"));
    const Tried dark = tried({step("b", "box"), step("key", "lamp", {{"skip", true}})});
    CHECK(stage(dark).lights_known);
    CHECK(says(dark.made, "lights-off"));
    // Nor do the lights inside a kit shine, unless the recipe has its own and so says what shines.
    const Json kit =
        Json::parse(recipe_text(recipe_of(Json::array({step("b", "box"), step("key", "lamp")}), Json::array())));
    MakeOptions options;
    options.environment.find_kit = kit_reader();
    const auto with = [&](const Json& more) {
        Json steps = Json::array({step("k", "recipe", {{"kit", kit}, {"in", {{"shape", ""}}}})});
        for (const Json& one : more) steps.push_back(one);
        return Maker().make(recipe_of(steps, Json::array()), options);
    };
    CHECK_FALSE(with(Json::array()).has_errors());
    CHECK(says(with(Json::array()), "kit-lights"));
    CHECK_FALSE(says(with(Json::array({step("sun", "sun")})), "kit-lights"));
    // A picture of it is dark: nothing shines on its own account.
    const StillScene scene = staged_scene({dark.part().shape}, stage(dark), {});
    CHECK(scene.lights.empty());
    CHECK(scene.sky.strength == 0);
    // Without any light of its own it has the standard ones.
    const Tried plain = tried({step("b", "box")});
    CHECK_FALSE(stage(plain).lights_known);
    CHECK(staged_scene({plain.part().shape}, stage(plain), {}).lights.size() == 3);
    // A camera below the ground is not shut in by a sheet.
    StageCamera below;
    below.eye = {3, -3, -4};
    StagedWishes from_below;
    from_below.camera = &below;
    CHECK(staged_scene({plain.part().shape}, stage(plain), from_below).shapes.size() == 1);
    CHECK(staged_scene({plain.part().shape}, stage(plain), {}).shapes.size() == 2);
    // One light alone.
    const Tried two = tried({step("b", "box"), step("a", "lamp"), step("c", "lamp", {{"strength", 7}})});
    StagedWishes wishes;
    wishes.only_light = "p.c";
    const StillScene alone = staged_scene({two.part().shape}, stage(two), wishes);
    REQUIRE(alone.lights.size() == 1);
    CHECK(alone.lights[0].strength == 7);
}

TEST_CASE("stage: mistakes are told where they are", "[stage]") {
    const Tried t = tried({step("b", "box"), step("cam", "camera", {{"at", {1, 1, 1}}, {"aim", {1, 1, 1}}}),
                           step("none", "camera", {{"focal", 0}}), step("flat", "lamp", {{"width", 0}}),
                           step("sky", "sky", {{"kind", "picture"}, {"file", "gone.exr"}}),
                           step("odd", "lamp", {{"brightness", 3}})});
    CHECK(t.finding("cam", "no-direction"));
    CHECK(t.finding("none", "out-of-range"));
    CHECK(t.finding("flat", "out-of-range"));
    CHECK(t.finding("sky", "sky-picture"));
    CHECK(t.finding("odd", "unknown-setting"));
    CHECK(stage(t).camera("cam") == nullptr);
    CHECK_FALSE(stage(t).sky);
    CHECK(t.part().measures.faces == 6);  // nothing of the shape is lost
}

TEST_CASE("stage: a lamp inside a solid is found, and out of it not", "[stage]") {
    MakeOptions thorough;
    thorough.thorough = true;
    const auto at = [&](double z) {
        return tried(recipe_of({step("b", "box", {{"size", {1, 1, 1}}}),
                                step("l", "lamp", {{"at", {0, 0, z}}, {"aim", {0, 0, 9}}})}),
                     thorough);
    };
    CHECK(says(at(0.2).made, "lamp-inside"));
    CHECK_FALSE(says(at(2).made, "lamp-inside"));
    // Its advice cures: moved out, it shines.
    const Tried moved = at(2);
    CHECK(stage(moved).lamps.size() == 1);
}

TEST_CASE("stage: a sky out of a file is read through the recipe's folder", "[stage]") {
    const Folder folder;
    std::string bytes = "#?RGBE\nFORMAT=32-bit_rle_rgbe\n\n-Y 1 +X 2\n";
    bytes += std::string("\x80\x80\x80\x81\x80\x80\x80\x81", 8);
    folder.write("sky.hdr", bytes);
    MakeOptions options;
    options.environment = environment_in(folder.path.string());
    const Tried t =
        tried(recipe_of({step("b", "box"), step("s", "sky", {{"kind", "picture"}, {"file", "sky.hdr"}})}), options);
    REQUIRE(stage(t).sky);
    REQUIRE(stage(t).sky->piece.picture);
    CHECK(stage(t).sky->piece.picture->pixels[0] == Vec3(1));
    folder.write("sky.hdr", bytes.substr(0, bytes.size() - 3));
    const Tried broken = tried(t.recipe, options);
    CHECK(broken.finding("s", "sky-picture"));
}

TEST_CASE("stage: every setting of camera, lamp, sun, sky and backdrop comes through", "[stage]") {
    const Tried t = tried(
        {step("b", "box"),
         step("c", "camera",
              {{"film", 24}, {"roll", 15}, {"f_number", 2.8}, {"sharp_at", 3}, {"height", 480}, {"exposure", -1.5}}),
         step("idle", "camera", {{"sharp_at", 3}}), step("d", "lamp", {{"shape", "disc"}, {"radius", 0.3}}),
         step("s", "lamp", {{"shape", "spot"}, {"angle", 25}, {"soft", 0.7}, {"kelvin", 2700}}),
         step("noon", "sun", {{"angle", 3}, {"unit", "lux"}, {"strength", 1000}, {"steps", -1}}),
         step("k", "sky",
              {{"above", {0.1, 0.2, 0.3}},
               {"horizon", {0.4, 0.5, 0.6}},
               {"below", {0.7, 0.8, 0.9}},
               {"steps", 1},
               {"strength", 0.25},
               {"seen", true}})});
    const Stage s = stage(t);
    const StageCamera& camera = s.camera("c")->piece;
    CHECK(camera.film == 24);
    CHECK(camera.roll == 15);
    CHECK(camera.f_number == 2.8);
    CHECK(camera.sharp_at == 3);
    CHECK(camera.height == 480);
    CHECK(camera.exposure == -1.5);
    CHECK(t.finding("idle", "idle-setting"));  // sharpness without an aperture
    REQUIRE(s.lamps.size() == 3);
    CHECK(s.lamps[0].piece.kind == StageLamp::Kind::disc);
    CHECK(s.lamps[0].piece.radius == 0.3);
    CHECK(s.lamps[1].piece.kind == StageLamp::Kind::spot);
    CHECK(s.lamps[1].piece.angle == 25);
    CHECK(s.lamps[1].piece.soft == 0.7);
    CHECK(s.lamps[1].piece.colour.z < 0.5 * s.lamps[1].piece.colour.x);
    CHECK(s.lamps[2].piece.angle == 3);
    CHECK(s.lamps[2].piece.strength == Approx(1000 / 182.458 / 2).epsilon(1e-3));
    CHECK(s.sky->piece.above == DVec3(0.1, 0.2, 0.3));
    CHECK(s.sky->piece.horizon == DVec3(0.4, 0.5, 0.6));
    CHECK(s.sky->piece.below == DVec3(0.7, 0.8, 0.9));
    CHECK(s.sky->piece.strength == 0.5);
    CHECK(s.sky->piece.seen);
    // Each kind of ground: a sheet, a plain that catches, a run of colours, nothing.
    const auto with = [&](const char* kind) {
        const Tried own =
            tried({step("b", "box"),
                   step("g", "backdrop", {{"kind", kind}, {"colour", {0.1, 0.2, 0.3}}, {"upper", {0.9, 0.8, 0.7}}})});
        return staged_scene({own.part().shape}, stage(own), {});
    };
    CHECK(with("bent").shapes.size() == 2);
    CHECK(with("bent").catcher == -1);
    CHECK(with("plain").catcher == 1);
    CHECK(with("gradient").shapes.size() == 1);
    CHECK(with("gradient").ground.high == DVec3(0.9, 0.8, 0.7));
    CHECK(with("gradient").ground.low == DVec3(0.1, 0.2, 0.3));
    CHECK(with("nothing").ground.clear);
}

TEST_CASE("stage: the command line takes stills and rows through the recipe's cameras", "[stage][cli][wide]") {
    const Folder folder;
    const auto run = [&](const std::string& arguments) {
        return std::system((std::string(command_path()) + " " + arguments + " >'" + (folder / "out") + "' 2>'" +
                            (folder / "err") + "'")
                               .c_str()) >>
               8;
    };
    const Json steps = Json::array(
        {step("b", "box", {{"size", {1, 0.6, 1}}}),
         step("near", "camera", {{"at", {0, -4, 0.5}}, {"aim", {0, 0, 0.5}}, {"width", 40}, {"height", 30}}),
         step("away", "camera", {{"at", {0, -4, 0.5}}, {"aim", {0, -9, 0.5}}, {"width", 24}, {"height", 24}}),
         step("g", "backdrop", {{"kind", "nothing"}})});
    folder.write("a.bricol", Json{{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", steps}}})}});
    const std::string from = "still '" + (folder / "a.bricol") + "' --samples 4 ";
    REQUIRE(run(from + "--json --out '" + (folder / "near.png") + "'") == 0);
    const Json report = Json::parse(*read_file(folder / "out"));
    CHECK(report["still"]["width"] == 40);
    CHECK(report["still"]["height"] == 30);
    CHECK(report["still"]["samples"] == 4);
    CHECK(report.contains("parts"));  // the whole report, findings among it
    // libpng's simplified reader: covered where the box is, see-through in the corner.
    const auto cover = [&](const std::string& name, std::size_t x, std::size_t y) {
        png_image image{};
        image.version = PNG_IMAGE_VERSION;
        REQUIRE(png_image_begin_read_from_file(&image, (folder / name).c_str()));
        image.format = PNG_FORMAT_RGBA;
        std::vector<std::uint8_t> bytes(PNG_IMAGE_SIZE(image));
        REQUIRE(png_image_finish_read(&image, nullptr, bytes.data(), 0, nullptr));
        return static_cast<int>(bytes[4 * (y * image.width + x) + 3]);
    };
    CHECK(cover("near.png", 20, 15) == 255);
    CHECK(cover("near.png", 1, 1) == 0);
    REQUIRE(run(from + "--camera away --out '" + (folder / "away.png") + "'") == 0);
    CHECK(cover("away.png", 12, 12) == 0);  // it looks the other way
    CHECK(run(from + "--camera none --out '" + (folder / "none.png") + "'") == 2);
    CHECK(read_file(folder / "err")->find("near") != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(folder / "none.png"));
    REQUIRE(run(from + "--backdrop plain --out '" + (folder / "plain.png") + "'") == 0);
    CHECK(cover("plain.png", 1, 1) == 255);
    // A row: the same on one thread and on four, each frame another, kept the next time.
    const std::string row = "turntable '" + (folder / "a.bricol") + "' --samples 2 --frames 3 ";
    REQUIRE(run(row + "--threads 1 --out '" + (folder / "one") + "'") == 0);
    REQUIRE(run(row + "--threads 4 --out '" + (folder / "four") + "'") == 0);
    for (const char* name : {"/0000.png", "/0001.png", "/0002.png"})
        CHECK(*read_file((folder / "one") + name) == *read_file((folder / "four") + name));
    CHECK(*read_file(folder / "one/0000.png") != *read_file(folder / "one/0001.png"));
    REQUIRE(run(row + "--json --out '" + (folder / "one") + "'") == 0);
    CHECK(Json::parse(*read_file(folder / "out"))["kept"] == 3);
    CHECK(run(row + "--out '" + (folder / "a.mp4") + "'") == 2);
}

TEST_CASE("frames: a row goes round once, keeps what is there, and makes anew what is of something else",
          "[stage][frames]") {
    const Folder folder;
    std::vector<int> taken;
    FrameRow row;
    row.frames = 5, row.out = folder / "turn.webp", row.made_of = "one";
    row.take = [&](int frame) -> Result<StillPicture> {
        taken.push_back(frame);
        StillPicture picture;
        picture.width = 12, picture.height = 8, picture.samples = 1;
        picture.colour = std::vector<Vec3>(96, Vec3(static_cast<float>(frame) * 0.2f, 0.5f, 0));
        if (taken.size() == 3) picture.stopped = true;
        return picture;
    };
    auto done = take_frames(row);
    REQUIRE(done);
    CHECK(done->stopped);
    CHECK(done->made == 2);
    CHECK_FALSE(std::filesystem::exists(folder / "turn.webp"));
    // It goes on where it was stopped.
    taken.clear();
    row.take = [&](int frame) -> Result<StillPicture> {
        taken.push_back(frame);
        StillPicture picture;
        picture.width = 12, picture.height = 8, picture.samples = 1;
        picture.colour = std::vector<Vec3>(96, Vec3(static_cast<float>(frame) * 0.2f, 0.5f, 0));
        return picture;
    };
    done = take_frames(row);
    REQUIRE(done);
    CHECK(taken == std::vector<int>{2, 3, 4});
    CHECK(done->kept == 2);
    CHECK_FALSE(std::filesystem::exists(folder / "turn.webp.frames"));
    // libwebp reads five frames, that loop for ever.
    const auto bytes = read_file(folder / "turn.webp");
    REQUIRE(bytes);
    const WebPData data{reinterpret_cast<const std::uint8_t*>(bytes->data()), bytes->size()};
    WebPDemuxer* demuxer = WebPDemux(&data);
    REQUIRE(demuxer);
    CHECK(WebPDemuxGetI(demuxer, WEBP_FF_FRAME_COUNT) == 5);
    CHECK(WebPDemuxGetI(demuxer, WEBP_FF_LOOP_COUNT) == 0);
    CHECK(WebPDemuxGetI(demuxer, WEBP_FF_CANVAS_WIDTH) == 12);
    WebPDemuxDelete(demuxer);
    // A folder: of something else it is made again, and what is not ours stays.
    row.out = folder / "pngs";
    taken.clear();
    REQUIRE(take_frames(row));
    folder.write("pngs/notes.png", std::string("mine"));
    row.made_of = "two";
    taken.clear();
    REQUIRE(take_frames(row));
    CHECK(taken.size() == 5);
    CHECK(std::filesystem::exists(folder / "pngs/notes.png"));
    CHECK(std::filesystem::exists(folder / "pngs/0004.png"));
    // Numbered pictures of somebody else's are neither taken for frames nor taken away.
    std::filesystem::create_directories(folder / "theirs");
    folder.write("theirs/0001.png", std::string("theirs"));
    row.out = folder / "theirs";
    CHECK_FALSE(take_frames(row));
    CHECK(*read_file(folder / "theirs/0001.png") == "theirs");
    // GIF: the header, and a size that is not nothing.
    row.out = folder / "turn.gif";
    REQUIRE(take_frames(row));
    const auto gif = read_file(folder / "turn.gif");
    REQUIRE(gif);
    CHECK(gif->substr(0, 6) == "GIF89a");
    CHECK(std::count(gif->begin(), gif->end(), ',') >= 5);  // an image begins with one
    // A folder that cannot be is words.
    folder.write("file", std::string("x"));
    row.out = folder / "file/inside";
    const auto refused = take_frames(row);
    REQUIRE_FALSE(refused);
    CHECK_FALSE(refused.problem().what.empty());
}

TEST_CASE("frames: shapes that turn on a table and a camera that goes round see the same shapes", "[stage][frames]") {
    const Tried t = tried({step("b", "box", {{"size", {1, 0.4, 0.2}}})});
    StagedWishes wishes;
    wishes.turn = FrameTurn::camera, wishes.turned = 0.25;
    StageCamera camera;
    camera.eye = {0, -5, 0}, camera.aim = {0, 0, 0};
    wishes.camera = &camera;
    const StillScene round = staged_scene({t.part().shape}, stage(t), wishes);
    CHECK(round.camera.eye.x == Approx(5));
    CHECK(round.camera.eye.y == Approx(0).margin(1e-9));
    wishes.turn = FrameTurn::shapes;
    const StillScene table = staged_scene({t.part().shape}, stage(t), wishes);
    CHECK(table.camera.eye.x == Approx(-5));
    // The light turns with the camera there: as seen from it, it stands where it stood.
    wishes.turn = FrameTurn::none;
    const StillScene still = staged_scene({t.part().shape}, stage(t), wishes);
    CHECK(glm::distance(still.lights[0].at, still.camera.eye) ==
          Approx(glm::distance(table.lights[0].at, table.camera.eye)));
    CHECK(glm::distance(still.lights[0].at, round.camera.eye) !=
          Approx(glm::distance(table.lights[0].at, table.camera.eye)));
}

}  // namespace bricol::test

TEST_CASE("stage: a picture that memory is too short for is refused, never taken of less", "[stage][released]") {
    if (sanitized()) return;  // the sanitisers' own memory is far beyond any such bound
    const Folder folder;
    Json parts = Json::array();
    for (const char* name : {"near", "far"})
        parts.push_back({{"name", name},
                         {"steps", Json::array({step("g", "grid", {{"across", 600}, {"deep", 600}}),
                                                step("r", "roughen", {{"height", 0.05}})})}});
    const std::string recipe = folder / "sheets.bricol";
    std::ofstream(recipe) << Json{{"bricol", 1}, {"budget", 1000000}, {"parts", parts}};
    const auto taken = [&](long kilobytes, int& code) {
        const std::string out = folder / "out.png";
        std::filesystem::remove(out);
        const std::string said =
            output_of("ulimit -v " + std::to_string(kilobytes) + "; " + std::string(command_path()) + " still '" +
                          recipe + "' --size 64x40 --samples 1 --threads 1 --out '" + out + "' 2>&1",
                      &code);
        INFO(kilobytes << " kB: " << said);
        if (code == 0) return std::string(*read_file(out));
        // Where a library cannot even begin its threads it ends the command by itself.
        CHECK((said.find("memory") != std::string::npos || said.find("pthread_create") != std::string::npos));
        CHECK_FALSE(std::filesystem::exists(out));
        return std::string();
    };
    int code = 0, refused = 0;
    const std::string whole = taken(8000000, code);
    REQUIRE(code == 0);
    for (long kilobytes = 450000; kilobytes <= 700000; kilobytes += 50000) {
        const std::string picture = taken(kilobytes, code);
        refused += code != 0;
        CHECK((code != 0 || picture == whole));
    }
    CHECK(refused > 0);
}
