// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/displace.h"

namespace bricol {

void give_moved(StepRun& run, Array<Vec3> points) {
    Shape shape = run.shape();
    shape.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        shape.mesh.attributes.remove(domain, attribute_name::normal);
    run.give(std::move(shape));
}

Array<float> shares(StepRun& run, const std::string& weight, const std::string& only) {
    const Mesh& mesh = run.shape().mesh;
    Array<float> out = run.weights(mesh, Domain::vertex, weight);
    if (!only.empty()) {
        const Mask mask = run.chosen(mesh, Domain::vertex, only);
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = mask[i] ? out[i] : 0.0f;
    }
    return out;
}

}  // namespace bricol
