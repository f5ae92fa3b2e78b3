// SPDX-License-Identifier: GPL-3.0-or-later
// The same recipe gives the same shapes, to the last bit of everything in them, and a changed setting is made again.
#include <catch2/catch.hpp>
#include <filesystem>
#include <tbb/global_control.h>

#include "core/catalogue/kind.h"
#include "tests/support/build.h"
#include "tests/support/tried.h"
#include "tests/support/whole.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

namespace {

/// A number for every step of a making: its whole shape and what was told.
std::vector<std::uint64_t> fingerprints(const Recipe& recipe, bool for_export) {
    MakeOptions options;
    options.environment = environment_in(demo_folder);
    options.for_export = for_export;
    const Made made = Maker().make(recipe, options);
    std::vector<std::uint64_t> numbers;
    for (const auto& part : made.steps)
        for (const auto& outcome : part) {
            Digest digest;
            digest.add(Whole::of(*outcome->shape));
            for (const Finding& f : outcome->findings) {
                digest.add(std::string_view(f.text));
                for (const Vec3& place : f.places) digest.add(place);
            }
            numbers.push_back(digest.hash());
        }
    return numbers;
}

/// Something else that may be written for a setting, kind by kind; null where there is nothing else to write.
Json another(const ParameterInfo& p) {
    switch (p.kind) {
        case ParameterKind::number:
            return p.standard + 1 <= p.high ? p.standard + 1 : (p.low + p.standard) / 2;
        case ParameterKind::vector:
            return {p.standard_vector.x, p.standard_vector.y, p.standard_vector.z + 0.25};
        case ParameterKind::choice:
            return p.choices.size() > 1 ? Json(p.choices[1].key) : Json();
        case ParameterKind::toggle:
            return p.standard == 0;
        case ParameterKind::text:
        case ParameterKind::part:
        case ParameterKind::set:
        case ParameterKind::attribute:
        case ParameterKind::file:
        case ParameterKind::kit:
        case ParameterKind::preset:
            return "something_else";
        case ParameterKind::curves:
            return Json::array({{{"knots", Json::array({{{"at", {0, 0}}}, {{"at", {1, 0}}}})}}});
        case ParameterKind::places:
            return Json::array({{{"face", {1, 2, 3}}}});
        case ParameterKind::colour:
            return {0.125, 0.25, 0.5};
        case ParameterKind::ramp:
            return {{"knots", Json::array({{0, 0.5}, {1, 0.25}})}};
        case ParameterKind::gradient:
            return {{"stops", Json::array({{{"at", 0}, {"colour", {1, 0, 0}}}})}};
        case ParameterKind::rows:
            return Json::array({{{"target", "z"}, {"formula", "z + 1"}}});
        case ParameterKind::points:
            return Json::array({Json::array({1, 2, 3})});
        case ParameterKind::lists:
            return Json::array({Json::array({0, 1, 2})});
        case ParameterKind::blocks:
            return Json::array({{{"id", "x"}, {"block", "add"}, {"a", 1}}});
        case ParameterKind::sticks:
            return Json::array({{{"id", 1}, {"at", {0, 0, 0}}}, {{"id", 2}, {"from", 1}, {"at", {0, 0, 1}}}});
        case ParameterKind::table:
            return {{"heads", {"a"}}, {"rows", Json::array({Json::array({"M3", 1})})}};
        case ParameterKind::row:
            return "M3";
        case ParameterKind::dials:
            return {{"width", 2}};
    }
    return nullptr;
}

std::uint64_t hash_of(const StepInfo& info, const Json& settings) {
    const Recipe recipe = recipe_of(Json::array({step("s", std::string(info.key), settings)}));
    return tried(recipe).step("s").hash;
}

}  // namespace

TEST_CASE("every demo piece is the same, all of it, on 1, 2 and 4 threads", "[make][deterministic][demo][released]") {
    std::size_t pieces = 0;
    for (const auto& entry : fs::directory_iterator(demo_folder)) {
        // The scene is made of the others.
        if (entry.path().extension() != ".bricol" || entry.path().stem() == "quay") continue;
        const Recipe recipe = *load_recipe(entry.path().string());
        for (const bool for_export : {false, true}) {
            if (for_export && test::sanitized()) continue;  // the threads are what matters here
            std::vector<std::uint64_t> first;
            for (const std::size_t threads : {1, 2, 4}) {
                if (for_export && threads == 2) continue;
                const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
                const auto numbers = fingerprints(recipe, for_export);
                INFO(entry.path().filename() << " on " << threads << " threads");
                if (threads == 1)
                    first = numbers;
                else
                    CHECK(numbers == first);
                CHECK(numbers.size() > 1);
            }
        }
        ++pieces;
    }
    CHECK(pieces >= 21);
}

TEST_CASE("a changed setting is made again, whatever its kind", "[make]") {
    std::map<std::string_view, std::size_t> kinds;
    for (const StepInfo* info : all_steps()) {
        const std::uint64_t plain = hash_of(*info, Json::object());
        CHECK(plain == hash_of(*info, Json::object()));
        for (const ParameterInfo& p : info->parameters) {
            const Json other = another(p);
            if (other.is_null()) continue;
            INFO(info->key << "." << p.key);
            CHECK(hash_of(*info, {{std::string(p.key), other}}) != plain);
            ++kinds[kind_info(p).name()];
        }
    }
    CHECK(kinds.size() == 24);  // every kind there is
}

TEST_CASE("a shape differs as soon as anything in it does", "[make]") {
    const Shape plain = *tried({step("b", "box")}).step("b").shape;
    const std::uint64_t number = Whole::of(plain);
    Shape changed = plain;
    changed.mesh.attributes.set(Domain::vertex, "w", Array<float>(8, 0.0f));
    CHECK(Whole::of(changed) != number);
    changed = plain;
    changed.curves.emplace_back();
    CHECK(Whole::of(changed) != number);
    changed = plain;
    changed.instances.emplace_back(std::make_shared<const Shape>(plain), Array<glm::mat4>{glm::mat4(1)});
    CHECK(Whole::of(changed) != number);
    changed = plain;
    Array<Vec3> points = *plain.mesh.positions;
    points[3].x = std::nextafter(points[3].x, 9.0f);
    changed.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    CHECK(Whole::of(changed) != number);
}
