// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/element_numbers.h"

#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/choose.h"
#include "core/kernels/noise.h"
#include "core/ground/parallel.h"

namespace bricol {

Array<std::uint32_t> element_numbers(const Attributes& attributes, Domain domain, std::size_t count) {
    Array<std::uint32_t> numbers(count);
    const auto* ids = attributes.values<std::int32_t>(domain, attribute_name::id);
    for (std::size_t i = 0; i < count; ++i)
        numbers[i] = mixed(static_cast<std::uint32_t>(ids ? (*ids)[i] : static_cast<std::int32_t>(i)));
    return numbers;
}

Array<std::uint32_t> element_numbers(const Mesh& mesh, Domain domain) {
    const std::size_t count = mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    if (mesh.attributes.values<std::int32_t>(domain, attribute_name::id))
        return element_numbers(mesh.attributes, domain, count);
    DVec3 low(0), size(0);
    if (!mesh.positions->empty()) {
        Vec3 a((*mesh.positions)[0]), b(a);
        for (const Vec3& p : *mesh.positions) a = glm::min(a, p), b = glm::max(b, p);
        low = DVec3(a), size = DVec3(b) - low;
    }
    const double largest = std::max({size.x, size.y, size.z, 1e-12});
    Array<std::uint32_t> numbers(count);
    parallel::each(parallel::Numbers<std::size_t>(0, count, 4096), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i < range.end(); ++i) {
            const DVec3 at = domain == Domain::corner ? DVec3((*mesh.positions)[mesh.topology->corner_vertex[i]])
                                                      : middle_of(mesh, domain, i);
            std::uint32_t h = 0;
            for (int a = 0; a < 3; ++a) {
                // A share of the box in steps of about 1/65 000; the odd factor and shift keep ordinary fractions off
                // the limits of a step.
                const double share = size[a] > largest * 1e-9 ? (at[a] - low[a]) / size[a] : 0;
                h = mixed(h ^ static_cast<std::uint32_t>(std::lround(share * 65521.37 + 0.23))) + 0x9e3779b9u;
            }
            numbers[i] = h;
        }
    });
    return numbers;
}

}  // namespace bricol
