// SPDX-License-Identifier: GPL-3.0-or-later
// What steps that move points by an amount share: the chosen points, their ways, and giving the moved shape.
#pragma once

#include "core/kernels/normals.h"
#include "core/catalogue/settings.h"

namespace bricol {

/// Gives the run's shape with other positions; NORMAL is dropped, everything else carried.
inline void give_moved(StepRun& run, Array<Vec3> points) {
    Shape shape = run.shape();
    shape.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        shape.mesh.attributes.remove(domain, attribute_name::normal);
    run.give(std::move(shape));
}

/// A share per vertex: 0 outside the set that a setting names, else the attribute that another names (1 without one).
inline Array<float> shares(StepRun& run, const std::string& weight, const std::string& only) {
    const Mesh& mesh = run.shape().mesh;
    Array<float> out = run.weights(mesh, Domain::vertex, weight);
    if (!only.empty()) {
        const Mask mask = run.chosen(mesh, Domain::vertex, only);
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = mask[i] ? out[i] : 0.0f;
    }
    return out;
}

}  // namespace bricol
