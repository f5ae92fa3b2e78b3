// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "core/kernels/boolean.h"
#include "core/kernels/measure.h"

namespace bricol {

namespace {

double area_of(const Mesh& mesh) {
    Shape shape;
    shape.mesh = mesh;
    return measured(shape).area;
}

}  // namespace

bool left_as_it_was(const BooleanResult& result, const Mesh& body) {
    if (result.from_cutter.size() != body.face_count() || result.mesh.face_count() != body.face_count()) return false;
    const double area = area_of(body), volume = std::abs(signed_volume(body));
    return std::abs(area_of(result.mesh) - area) <= 1e-7 * area &&
           std::abs(std::abs(signed_volume(result.mesh)) - volume) <= 1e-9 * volume;
}

}  // namespace bricol
