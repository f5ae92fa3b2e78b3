// SPDX-License-Identifier: GPL-3.0-or-later
// The stock of standard parts: that every one of them can be made in every size, and that what it makes has the
// measures of its standard.
#include <catch2/catch.hpp>
#include <filesystem>
#include <fmt/format.h>
#include <glm/gtc/constants.hpp>

#include "core/files/stock.h"
#include "core/kernels/boolean.h"
#include "core/kernels/pieces.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/transform.h"
#include "tests/support/build.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

struct StockMade {
    Recipe recipe;
    Made made;

    Mesh mesh(const std::string& part) const {
        const ShapePtr shape = made.part(recipe, part)->shape;
        REQUIRE(shape);
        return real_geometry(shape)->mesh;
    }
    /// Errors and cautions of all steps and parts.
    std::vector<std::string> complaints() const {
        std::vector<std::string> out;
        const auto take = [&](const std::vector<Finding>& findings, const std::string& where) {
            for (const Finding& f : findings)
                if (f.severity != Severity::note) out.push_back(where + ": " + f.text);
        };
        for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
            for (std::size_t s = 0; s < made.steps[p].size(); ++s)
                take(made.steps[p][s]->findings, recipe.parts[p]->steps[s]->id);
            take(made.parts[p]->findings, recipe.parts[p]->name);
        }
        take(made.findings, "recipe");
        return out;
    }
};

Recipe stock_recipe(const std::string& name) {
    auto recipe = load_recipe(stock_path("stock:" + name));
    INFO((recipe ? "" : recipe.problem().text()));
    REQUIRE(recipe);
    return *recipe;
}

StockMade stock_made(const std::string& name, const WrittenDials& dials = {}) {
    StockMade out{stock_recipe(name), {}};
    for (const auto& [dial, value] : dials) {
        auto turned = turn_dial(out.recipe, dial, value);
        INFO((turned ? "" : turned.problem().text()));
        REQUIRE(turned);
        out.recipe = *turned;
    }
    MakeOptions options;
    options.environment = environment_in(stock_folder());
    out.made = Maker().make(out.recipe, options);
    return out;
}

double solid_volume(const Mesh& mesh) { return measure(mesh).volume.value_or(0); }

/// How much two solids have in common, cubic metres.
double in_common(const Mesh& a, const Mesh& b) {
    const auto common = boolean_of(a, std::span(&b, 1), BooleanKind::intersect);
    return common.mesh.empty() ? 0 : solid_volume(common.mesh);
}

/// Points of the mesh in the half plane y = 0, x > 0, as distance from the axis and height, upwards.
std::vector<std::array<double, 2>> half_section(const Mesh& mesh, double low, double high) {
    std::vector<std::array<double, 2>> points;
    for (const Vec3& p : *mesh.positions)
        if (std::abs(p.y) < 1e-7 && p.x > 0 && p.z > low && p.z < high)
            points.push_back({std::hypot(p.x, p.y), static_cast<double>(p.z)});
    std::ranges::sort(points, {}, [](const auto& p) { return p[1]; });
    return points;
}

const std::vector<std::string> thread_sizes = {"M3", "M4", "M5", "M6", "M8", "M10", "M12", "M16", "M20", "M24"};

}  // namespace

TEST_CASE("the stock is there, each part with its words and the source of its measures", "[stock]") {
    const auto& parts = stock_parts();
    CHECK(parts.size() >= 27);
    std::set<std::string> families;
    for (const StockPart& part : parts) {
        INFO(part.name);
        families.insert(part.family);
        CHECK_FALSE(part.title.empty());
        CHECK_FALSE(part.words.empty());
        CHECK(part.about.size() > 30);
        const Recipe recipe = stock_recipe(part.name.substr(6));
        CHECK(recipe.budget > 0);
        // Whoever gives a table of a standard says where it comes from.
        for (const auto& one : recipe.parts)
            for (const auto& step : one->steps)
                if (step->type == "list" && step->id == "sizes") {
                    CHECK(step->note.find("from memory") != std::string::npos);
                    CHECK(part.about.find("from memory") != std::string::npos);
                }
    }
    CHECK(families.size() == 5);
}

TEST_CASE("every part of the stock is made without complaint, closed and within its budget", "[stock]") {
    for (const StockPart& part : stock_parts()) {
        INFO(part.name);
        const StockMade made = stock_made(part.name.substr(6));
        const auto complaints = made.complaints();
        for (const std::string& text : complaints) UNSCOPED_INFO(text);
        CHECK(complaints.empty());
        std::size_t faces = 0;
        for (const auto& one : made.recipe.parts) {
            if (!one->delivered()) continue;
            const Mesh mesh = made.mesh(one->name);
            faces += mesh.face_count();
            const Measures measures = measure(mesh);
            CHECK(measures.volume.has_value());  // closed
            CHECK(measures.volume.value_or(-1) > 0);
        }
        CHECK(faces > 0);
        CHECK(faces <= made.recipe.budget);
    }
}

TEST_CASE("a choice's dial makes every size and every fineness of a part, none with a complaint", "[stock][wide]") {
    for (const StockPart& part : stock_parts()) {
        const Recipe recipe = stock_recipe(part.name.substr(6));
        for (const Dial& dial : recipe.dials) {
            if (dial.kind != DialKind::choice) continue;
            std::set<std::size_t> different;
            for (const std::string& word : dial.choices) {
                if (sanitized() && word != dial.choices.back()) continue;
                INFO(part.name << ", " << dial.name << " " << word);
                const StockMade made = stock_made(part.name.substr(6), {{dial.name, word}});
                const auto complaints = made.complaints();
                for (const std::string& text : complaints) UNSCOPED_INFO(text);
                CHECK(complaints.empty());
                std::size_t hash = 0;
                for (const auto& one : made.made.parts) hash = hash * 31 + one->shape->mesh.positions->size();
                different.insert(hash);
                const Mesh mesh = made.mesh(made.recipe.parts.front()->name);
                CHECK(measure(mesh).volume.value_or(-1) > 0);
            }
        }
    }
}

TEST_CASE("every part has three levels, each lighter than the one before and of the same size", "[stock][wide]") {
    for (const StockPart& part : stock_parts()) {
        INFO(part.name);
        std::vector<std::size_t> faces;
        std::vector<DVec3> sizes;
        for (const std::string level : {"near", "middle", "far"}) {
            const StockMade made = stock_made(part.name.substr(6), {{"detail", level}});
            CHECK(made.complaints().empty());
            faces.push_back(made.made.faces(made.recipe));
            std::optional<Box> whole;
            for (std::size_t p = 0; p < made.recipe.parts.size(); ++p)
                if (const auto box = box_of(*made.made.parts[p]->shape); box && made.recipe.parts[p]->delivered())
                    whole = whole ? Box{glm::min(whole->low, box->low), glm::max(whole->high, box->high)} : *box;
            REQUIRE(whole);
            sizes.push_back(whole->size());
        }
        CHECK(faces[1] <= 0.85 * static_cast<double>(faces[0]));
        CHECK(faces[2] < faces[1]);
        // A circle of eight sides is 8 % narrower across its flats than across its corners.
        for (int axis = 0; axis < 3; ++axis) CHECK(sizes[2][axis] == Approx(sizes[0][axis]).epsilon(0.09));
    }
}

TEST_CASE("every dial of every part goes to both its ends without an error", "[stock][wide]") {
    for (const StockPart& part : stock_parts()) {
        const Recipe recipe = stock_recipe(part.name.substr(6));
        for (const Dial& dial : recipe.dials) {
            if (dial.kind != DialKind::number || (sanitized() && dial.name != "bore")) continue;
            for (const double end : {dial.low, dial.high}) {
                INFO(part.name << ", " << dial.name << " " << end);
                const StockMade made = stock_made(part.name.substr(6), {{dial.name, end}});
                CHECK_FALSE(made.made.has_errors());
                for (const auto& one : made.made.parts) CHECK((one->measures.closed || one->measures.faces == 0));
            }
        }
    }
}

TEST_CASE("a measure a part has no room for is held back, told, and not told once it fits", "[stock]") {
    const auto told = [](const StockMade& made) {
        for (const auto& part : made.made.steps)
            for (const auto& one : part)
                for (const Finding& f : one->findings)
                    if (f.code == "held-back") return f.text;
        return std::string();
    };
    for (const auto& [name, dial, asked] : {std::tuple{"spur-gear", "bore", 0.2},
                                            {"bevel-gear", "width", 0.1},
                                            {"sprocket", "roller", 0.012},
                                            {"hand-wheel", "rim", 0.05},
                                            {"knob", "bore", 0.03},
                                            {"cleat", "plate", 0.02},
                                            {"stud", "lower", 0.2},
                                            {"compression-spring", "length", 0.02}}) {
        INFO(name);
        const std::string text = told(stock_made(name, {{dial, asked}}));
        const std::size_t at = text.find("Ask for ");
        REQUIRE(at != std::string::npos);
        const std::string advised = text.substr(at + 8, text.find(" or ", at) - at - 8);
        const double metres =
            Json::parse(advised.substr(0, advised.find(' '))).get<double>() / (advised.ends_with(" mm") ? 1000 : 1);
        CHECK(told(stock_made(name, {{dial, metres}})).empty());
    }
}

// Pitch and minor diameters of ISO 724, coarse threads; from memory. Flank angle 60° of ISO 68-1.
TEST_CASE("threads have the angle of ISO 68-1 and the pitch diameters of ISO 724", "[stock][wide]") {
    const std::map<std::string, std::array<double, 4>> table = {
        // d, P, d2, d1 in millimetres
        {"M3", {3, 0.5, 2.675, 2.459}},      {"M4", {4, 0.7, 3.545, 3.242}},   {"M5", {5, 0.8, 4.480, 4.134}},
        {"M6", {6, 1, 5.350, 4.917}},        {"M8", {8, 1.25, 7.188, 6.647}},  {"M10", {10, 1.5, 9.026, 8.376}},
        {"M12", {12, 1.75, 10.863, 10.106}}, {"M16", {16, 2, 14.701, 13.835}}, {"M20", {20, 2.5, 18.376, 17.294}},
        {"M24", {24, 3, 22.051, 20.752}}};
    for (const std::string& size : thread_sizes) {
        INFO(size);
        const auto [d, pitch, d2, d1] = table.at(size);
        const StockMade made = stock_made("threaded-rod", {{"size", size}, {"length", 0.06}});
        const auto points = half_section(made.mesh("rod"), 0.02, 0.04);
        REQUIRE(points.size() > 20);
        double least = 1, most = 0;
        for (const auto& p : points) least = std::min(least, p[0]), most = std::max(most, p[0]);
        CHECK(2000 * most == Approx(d).margin(0.001));
        CHECK(2000 * least == Approx(d1).margin(0.001));
        // Flanks: runs from root to crest. Where they pass the pitch radius, ridge and groove are equally wide.
        std::vector<double> crossings, angles;
        for (std::size_t i = 0; i + 1 < points.size(); ++i) {
            const double rise = points[i + 1][0] - points[i][0], along = points[i + 1][1] - points[i][1];
            if (std::abs(rise) < 0.4 * (most - least)) continue;
            angles.push_back(std::atan2(along, std::abs(rise)) * 180 / glm::pi<double>());
            crossings.push_back(points[i][1] + along * (d2 / 2000 - points[i][0]) / rise);
        }
        REQUIRE(crossings.size() > 8);
        for (const double angle : angles) CHECK(angle == Approx(30).margin(0.05));
        for (std::size_t i = 0; i + 1 < crossings.size(); ++i)
            CHECK(1000 * (crossings[i + 1] - crossings[i]) == Approx(pitch / 2).margin(0.002));
    }
}

TEST_CASE("a nut turns onto its bolt: there is a place where both fit, and half a pitch on they do not",
          "[stock][released]") {
    for (const std::string size : {"M6", "M12", "M20"}) {
        INFO(size);
        const double pitch = size == "M6" ? 0.001 : size == "M12" ? 0.00175 : 0.0025;
        const Mesh nut = stock_made("hex-nut", {{"size", size}}).mesh("nut");
        const Mesh rod = stock_made("threaded-rod", {{"size", size}, {"length", 0.06}}).mesh("rod");
        double least = 1, most = 0;
        for (int i = 0; i < 8; ++i) {
            const double common = in_common(nut, placed(rod, {0, 0, -0.02 - pitch * i / 8}));
            least = std::min(least, common);
            most = std::max(most, common);
        }
        CHECK(most > 0.02 * solid_volume(nut));
        // The step of an eighth of a pitch may miss the free place by a sixteenth.
        CHECK(least < 0.1 * most);
    }
}

TEST_CASE("a bolt of the stock is as long, wide and high as ISO 4014 has it", "[stock]") {
    // Across flats, height of the head, thread length up to 125 mm; from memory.
    const std::map<std::string, std::array<double, 3>> table = {
        {"M8", {13, 5.3, 22}}, {"M12", {18, 7.5, 30}}, {"M20", {30, 12.5, 46}}};
    for (const auto& [size, numbers] : table) {
        INFO(size);
        const Mesh bolt = stock_made("hex-bolt", {{"size", size}, {"length", 0.08}}).mesh("bolt");
        const Box box = *measure(bolt).box;
        CHECK(1000 * box.low.z == Approx(-80).margin(0.001));
        CHECK(1000 * box.high.z == Approx(numbers[1]).margin(0.001));
        CHECK(1000 * (box.high.y - box.low.y) == Approx(numbers[0]).margin(0.001));
        // The lowest place of the shank without a thread.
        double shank = 1;
        for (const Vec3& p : *bolt.positions)
            if (std::hypot(p.x, p.y) > 0.0005 * std::stod(size.substr(1)) - 1e-6 &&
                p.z > -0.08 + 0.001 * numbers[2] - 1e-6)
                shank = std::min(shank, static_cast<double>(p.z));
        CHECK(1000 * shank == Approx(numbers[2] - 80).margin(0.01));
    }
}

TEST_CASE("gears mesh: through a whole tooth they overlap by less than their play, and a little off they collide",
          "[stock][released]") {
    struct Pair {
        int wheel, pinion;
    };
    for (const auto [wheel, pinion] : {Pair{36, 18}, Pair{24, 24}, Pair{60, 13}}) {
        INFO(wheel << " and " << pinion);
        const auto at = [&](double turn) {
            return stock_made("gear-pair", {{"wheel", wheel}, {"pinion", pinion}, {"turn", turn}, {"play", 0.0001}});
        };
        const StockMade first = at(0);
        // Common practice: a = m (z1 + z2) / 2.
        if (pinion % 2 == 0)  // else its box is not symmetrical
            CHECK(measure(first.mesh("pinion_gear")).box->centre().x ==
                  Approx(0.004 * (wheel + pinion) / 2).margin(1e-4));
        const double tooth = solid_volume(first.mesh("wheel_gear")) / wheel;
        for (int i = 0; i < 8; ++i) {
            const StockMade turned = at(360.0 / wheel * i / 8);
            INFO("at " << i << " eighths of a tooth");
            CHECK(in_common(turned.mesh("wheel_gear"), turned.mesh("pinion_gear")) < 0.002 * tooth);
        }
        // The test can fail: a pinion a sixth of a tooth off runs into the wheel.
        const Mesh off = placed(placed(first.mesh("pinion_gear"), {-0.004 * (wheel + pinion) / 2, 0, 0}),
                                {0.004 * (wheel + pinion) / 2, 0, 0}, {0, 0, 60.0 / pinion});
        CHECK(in_common(first.mesh("wheel_gear"), off) > 0.01 * tooth);
    }
}

TEST_CASE("bevel gears at a right angle mesh about their common apex, equal ones and others", "[stock][released]") {
    for (const auto [first, second] : {std::array{24, 24}, std::array{30, 20}}) {
        INFO(first << " and " << second);
        const Mesh a = stock_made("bevel-gear", {{"teeth", first}, {"mate", second}}).mesh("gear");
        const Mesh b = stock_made("bevel-gear", {{"teeth", second}, {"mate", first}}).mesh("gear");
        const double tooth = solid_volume(a) / first;
        const auto common = [&](double turn, double ahead) {
            const Mesh turned = placed(b, DVec3(0), {0, 0, 180.0 / second + ahead - turn * first / second});
            return in_common(placed(a, DVec3(0), {0, 0, turn}), placed(turned, DVec3(0), {0, -90, 0}));
        };
        for (int i = 0; i < 8; ++i) CHECK(common(360.0 / first * i / 8, 0) < 0.002 * tooth);
        CHECK(common(0, 90.0 / second) > 0.01 * tooth);
    }
}

TEST_CASE("a tooth's flank is an involute of its base circle", "[stock]") {
    // Points of the involute: angle tan(a) - a from its root, at radius rb / cos(a). Teeth stand symmetrically about
    // the angle 0; half a tooth is pi / (2 z) at the pitch circle (play 0).
    const int teeth = 30;
    const double module = 0.004, pitch_radius = module * teeth / 2;
    const double base = pitch_radius * std::cos(glm::radians(20.0));
    const auto involute = [](double a) { return std::tan(a) - a; };
    const Mesh gear = stock_made("spur-gear", {{"teeth", teeth}, {"play", 0}}).mesh("gear");
    std::size_t seen = 0;
    for (const Vec3& p : *gear.positions) {
        const double r = std::hypot(p.x, p.y), angle = std::abs(std::atan2(p.y, p.x));
        if (r < base * 1.001 || r > pitch_radius + module * 0.999 || angle > glm::pi<double>() / teeth * 0.9) continue;
        const double half =
            glm::pi<double>() / (2 * teeth) + involute(glm::radians(20.0)) - involute(std::acos(base / r));
        CHECK(r * std::abs(angle - half) < 2e-6);
        ++seen;
    }
    CHECK(seen > 20);
    const Box box = *measure(gear).box;
    CHECK(box.high.x == Approx(pitch_radius + module).margin(1e-6));
}

TEST_CASE("chains have the proportions of their standards, and no link runs into the next", "[stock]") {
    // Pitch, outside width and length in bar thicknesses: ISO 1834 and ISO 1704, from memory.
    struct Chain {
        const char* name;
        double pitch, width, length;
    };
    for (const Chain& chain : {Chain{"short-link-chain", 3, 3.5, 5}, Chain{"stud-link-chain", 4, 3.6, 6}}) {
        INFO(chain.name);
        const double d = 0.02;
        const StockMade made = stock_made(chain.name, {{"d", d}, {"links", 4}});
        auto links = pieces_of(made.mesh("chain"));
        REQUIRE(links.size() == 4);
        std::ranges::sort(links, {}, [](const MeshPiece& p) { return p.box.centre().x; });
        for (std::size_t i = 0; i + 1 < links.size(); ++i)
            CHECK(links[i + 1].box.centre().x - links[i].box.centre().x == Approx(chain.pitch * d).margin(1e-6));
        const DVec3 size(links[0].box.size());
        CHECK(size.x == Approx(chain.length * d).margin(0.01 * d));
        CHECK(std::max(size.y, size.z) == Approx(chain.width * d).margin(0.01 * d));
        const Mesh link = made.mesh("link");
        CHECK(in_common(link, placed(link, {chain.pitch * d, 0, 0}, {90, 0, 0})) < 1e-4 * solid_volume(link));
        // Taut links touch; drawn farther they would run into one another: the check above can fail.
        CHECK(in_common(link, placed(link, {1.1 * chain.pitch * d, 0, 0}, {90, 0, 0})) > 1e-3 * solid_volume(link));
    }
}

TEST_CASE("springs have the length of their wire", "[stock]") {
    // A helix of n turns, mean diameter D and pitch p: n sqrt((pi D)^2 + p^2). Only the middle turns have it.
    const StockMade made = stock_made(
        "compression-spring",
        {{"wire", 0.004}, {"middle", 0.03}, {"length", 0.09}, {"turns", 8}, {"ground", false}, {"fine", 48}});
    const double pitch = (0.09 - 2 * 1.53 * 0.004) / 6;
    const double expected =
        6 * std::hypot(glm::pi<double>() * 0.03, pitch) + 2 * std::hypot(glm::pi<double>() * 0.03, 1.03 * 0.004);
    // The section has 12 sides: its area is 6 sin(30°) r².
    CHECK(solid_volume(made.mesh("spring")) == Approx(expected * 3 * 0.002 * 0.002).epsilon(0.01));
    CHECK(measure(made.mesh("spring")).box->size().z == Approx(0.09).margin(0.0002));
}

TEST_CASE("a recipe anywhere names parts of the stock, and what is not there is told with the nearest", "[stock]") {
    MakeOptions options;
    options.environment = environment_in(std::string(SOURCE_FOLDER) + "/tests");  // fenced in
    const Tried made = tried(
        recipe_of(Json::array({step("bolt", "recipe", {{"kit", "stock:hex-bolt"}, {"dials", {{"size", "M8"}}}})})),
        options);
    CHECK(made.clean("bolt"));
    CHECK(measure(made.mesh("bolt")).box->high.z == Approx(0.0053).margin(1e-6));
    const Tried wrong = tried(recipe_of(Json::array({step("bolt", "recipe", {{"kit", "stock:hex-bold"}})})), options);
    REQUIRE(wrong.finding("bolt", "no-kit"));
    CHECK(wrong.finding("bolt", "no-kit")->text.find("stock:hex-bolt") != std::string::npos);
    // A name cannot lead out of the folder.
    CHECK(std::filesystem::path(stock_path("stock:../demo/buoy")).parent_path() ==
          std::filesystem::path(stock_folder()));
    // A gear pair names its gears beside itself.
    const Tried pair =
        tried(recipe_of(Json::array({step("pair", "recipe", {{"kit", "stock:gear-pair"}, {"part", "*"}})})), options);
    CHECK(pair.clean("pair"));
}
