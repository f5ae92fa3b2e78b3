// SPDX-License-Identifier: GPL-3.0-or-later
// Small helpers for making things in tests.
#pragma once

#include <random>

#include "core/ground/numbers.h"
#include "core/kernels/measure.h"
#include "core/kernels/lathe.h"
#include "core/kernels/transform.h"
#include "core/make/make.h"

namespace bricol::test {

/// Corner knots in the front plane.
inline Curve profile(const std::vector<std::pair<double, double>>& places, bool closed = false) {
    Curve curve;
    curve.closed = closed;
    for (const auto& [x, z] : places) {
        Knot knot;
        knot.at = Vec3(static_cast<float>(x), 0, static_cast<float>(z));
        curve.knots.push_back(knot);
    }
    return curve;
}

inline Shape shape_of(Mesh mesh) {
    Shape shape;
    shape.mesh = std::move(mesh);
    return shape;
}

inline Measures measure(const Mesh& mesh) { return measured(shape_of(mesh)); }

/// Every array has the length its domain asks for, indices are in range, edges belong to their corners.
bool sound(const Mesh& mesh);

/// Whether every place and every normal of a mesh is a number.
bool finite(const Mesh& mesh);

inline Json step(const std::string& id, const std::string& type, Json settings = Json::object()) {
    Json json{{"id", id}, {"step", type}};
    for (const auto& [key, value] : settings.items()) json[key] = value;
    return json;
}

/// Whether two places are the same but for rounding of floats, metres.
inline bool near(const DVec3& a, const DVec3& b, double within = 1e-5) { return glm::distance(a, b) < within; }

/// A box of one metre, step “a”.
inline const Json cube = step("a", "box", {{"size", {1, 1, 1}}});

/// A curve drawn in a plane, its curves as the text a recipe holds.
inline Json drawn(const std::string& id, const char* curves, const char* plane = "front") {
    return step(id, "drawn_curve", {{"plane", plane}, {"curves", Json::parse(curves)}});
}

/// Rows of a formula step: what each sets, and by which formula.
inline Json rows(std::initializer_list<std::pair<const char*, const char*>> lines) {
    Json out = Json::array();
    for (const auto& [target, formula] : lines) out.push_back({{"target", target}, {"formula", formula}});
    return out;
}

/// A mesh moved in metres, turned in degrees and sized.
inline Mesh placed(const Mesh& mesh, const DVec3& move, const DVec3& turn = DVec3(0), const DVec3& size = DVec3(1)) {
    return transformed(shape_of(mesh), placement(move, turn, size, DVec3(0))).mesh;
}

}  // namespace bricol::test
