// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/put_back.h"

#include <algorithm>
#include <map>

#include "core/kernels/transform.h"

namespace bricol {

Shape put_back(TakenApart apart, std::span<const ApartMade> made, ApartBy by, bool keep) {
    std::map<std::uint64_t, std::vector<std::size_t>> by_hash;
    for (std::size_t i = 0; i < made.size(); ++i)
        if (made[i].shape && !made[i].shape->empty()) by_hash[made[i].hash].push_back(i);
    std::vector<std::vector<std::size_t>> groups;
    for (auto& [hash, members] : by_hash) groups.push_back(std::move(members));
    std::ranges::sort(groups);  // by their first elements
    Shape out;
    if (keep) out = std::move(apart.rest);
    std::vector<Mesh> meshes;
    if (!out.mesh.empty()) meshes.push_back(out.mesh);
    for (const auto& members : groups) {
        const ShapePtr& shape = made[members.front()].shape;
        const ApartElement& first = apart.elements[members.front()];
        if (by != ApartBy::copy && members.size() == 1 && glm::determinant(glm::dmat3(first.place)) > 0) {
            Shape placed = first.place == glm::dmat4(1) ? *shape : transformed(*shape, first.place);
            if (!placed.mesh.empty()) meshes.push_back(std::move(placed.mesh));
            out.curves.insert(out.curves.end(), placed.curves.begin(), placed.curves.end());
            out.instances.insert(out.instances.end(), placed.instances.begin(), placed.instances.end());
            continue;
        }
        Instances group;
        group.shape = shape;
        Array<std::int32_t> ids;
        std::vector<Index> sources;
        for (const std::size_t i : members) {
            group.places.push_back(glm::mat4(apart.elements[i].place));
            ids.push_back(static_cast<std::int32_t>(apart.elements[i].number));
            sources.push_back(static_cast<Index>(i));
        }
        apart.copies.gather_into(group.attributes, Domain::instance, sources);
        if (!group.attributes.find(Domain::instance, attribute_name::id))
            group.attributes.set(Domain::instance, attribute_name::id, std::move(ids));
        out.instances.push_back(std::move(group));
    }
    out.mesh = meshes.empty() ? Mesh() : joined_meshes(meshes);
    return out;
}

}  // namespace bricol
