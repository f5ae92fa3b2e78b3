// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/formats/glb_meshes.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/files/motion.h"
#include "core/files/own_values.h"
#include "core/kernels/normals.h"

namespace bricol {

namespace {

/// Instead of a material's place in the file.
constexpr std::size_t nothing_asked = ~std::size_t(0);

}  // namespace

const GlbMesh& GlbMeshes::add(const ShapePtr& shape, const std::string& name, std::span<const Array<Vec3>> moved) {
    const auto [known, fresh] = written_.try_emplace(shape.get());
    GlbMesh& written = known->second;
    if (!fresh) return written;
    kept_.push_back(shape);
    const Mesh& mesh = shape->mesh;
    const std::vector<const Attribute*> on_corners =
        options_.attributes ? own_values(mesh, Domain::corner) : std::vector<const Attribute*>();
    SplitMesh split = split_vertices(mesh, on_corners);
    const float scale = static_cast<float>(options_.scale);
    for (Vec3& p : split.positions) p = directed(p, *options_.up) * scale;
    for (Vec3& n : split.normals) n = directed(n, *options_.up);
    for (Vec2& uv : split.uvs) uv.y = 1 - uv.y;
    for (Vec2& uv : split.light_uvs) uv.y = 1 - uv.y;
    written.vertices = split.positions.size();
    const Runs runs = by_material(mesh, split);

    OrderedJson attributes;
    attributes["POSITION"] = body_.bounded(std::move(split.positions), gltf::target_vertices);
    attributes["NORMAL"] = body_.floats(std::move(split.normals), gltf::target_vertices);
    if (!split.uvs.empty()) attributes["TEXCOORD_0"] = body_.floats(std::move(split.uvs), gltf::target_vertices);
    if (!split.light_uvs.empty()) {
        attributes["TEXCOORD_1"] = body_.floats(std::move(split.light_uvs), gltf::target_vertices);
        // glTF counts sets of UVs without a gap.
        if (!attributes.contains("TEXCOORD_0")) attributes["TEXCOORD_0"] = attributes["TEXCOORD_1"];
    }
    if (!split.colours.empty()) {
        for (Vec4& c : split.colours) c = glm::clamp(c, Vec4(0), Vec4(1));  // glTF: linear, 0..1
        attributes["COLOR_0"] = body_.floats(std::move(split.colours), gltf::target_vertices);
    }
    add_values(mesh, split, attributes);
    const std::size_t indices = body_.view(std::move(split.triangles), gltf::target_indices);
    written.source = std::move(split.source);
    const OrderedJson targets = targets_of(mesh, written, moved);
    OrderedJson primitives = OrderedJson::array();
    std::size_t begin = 0;
    for (const auto& [material, end] : runs) {
        const std::size_t run = body_.accessor(indices, gltf::component_uint, end - begin, "SCALAR");
        if (begin > 0) body_.json["accessors"][run]["byteOffset"] = begin * sizeof(Index);
        primitives.push_back({{"attributes", attributes}, {"indices", run}});
        if (material != nothing_asked) primitives.back()["material"] = material;
        if (!targets.empty()) primitives.back()["targets"] = targets;
        begin = end;
    }
    written.number = body_.json.contains("meshes") ? body_.json["meshes"].size() : 0;
    body_.json["meshes"].push_back({{"name", name}, {"primitives", std::move(primitives)}});
    if (!targets.empty()) body_.json["meshes"].back()["weights"] = std::vector<double>(targets.size(), 0.0);
    return written;
}

void GlbMeshes::finish() {
    if (!materials_.empty()) body_.json["materials"] = materials_;
}

/// Values of the artist's own, "_WEAR" for "wear".
void GlbMeshes::add_values(const Mesh& mesh, const SplitMesh& split, OrderedJson& attributes) {
    if (!options_.attributes) return;
    std::vector<const Attribute*> all = own_values(mesh, Domain::vertex);
    const std::size_t on_points = all.size();
    std::ranges::copy(own_values(mesh, Domain::corner), std::back_inserter(all));
    const std::vector<std::string> names = plain_names(all, true);
    Array<Index> points;
    if (on_points > 0)
        for (const Index corner : split.source) points.push_back(mesh.topology->corner_vertex[corner]);
    for (std::size_t i = 0; i < all.size(); ++i) {
        attributes["_" + names[i]] =
            body_.gathered(*all[i]->values, i < on_points ? points : split.source, gltf::target_vertices);
    }
}

/// How far every vertex lies from where it is written, and its normal from how it is, frame by frame.
OrderedJson GlbMeshes::targets_of(const Mesh& mesh, const GlbMesh& written, std::span<const Array<Vec3>> moved) {
    OrderedJson out = OrderedJson::array();
    const Array<Vec3> still = moved.empty() ? Array<Vec3>() : corner_normals(mesh);
    const float scale = static_cast<float>(options_.scale);
    for (const Array<Vec3>& points : moved) {
        const Array<Vec3> normals = moved_normals(mesh, points);
        Array<Vec3> by(written.source.size()), turned(written.source.size());
        for (std::size_t v = 0; v < by.size(); ++v) {
            const Index corner = written.source[v], vertex = mesh.topology->corner_vertex[corner];
            by[v] = directed(points[vertex] - (*mesh.positions)[vertex], *options_.up) * scale;
            turned[v] = directed(normals[corner] - still[corner], *options_.up);
        }
        OrderedJson target;
        target["POSITION"] = body_.bounded(std::move(by), gltf::target_vertices);
        target["NORMAL"] = body_.floats(std::move(turned), gltf::target_vertices);
        out.push_back(std::move(target));
    }
    return out;
}

std::size_t GlbMeshes::material_of(std::int32_t number, const Material& material) {
    const auto [found, fresh] = material_index_.try_emplace(number, materials_.size());
    if (fresh) {
        materials_.push_back(glb_material(material));
        if (materials_.back().contains("extensions"))
            for (const auto& [name, values] : materials_.back()["extensions"].items()) body_.extension(name);
    }
    return found->second;
}

/// What faces without a material get: none, or white paint under colours of their own, which multiply it (glTF's
/// own default is bare metal).
std::size_t GlbMeshes::no_material(const Mesh& mesh) {
    if (!mesh.attributes.find(Domain::vertex, attribute_name::colour) &&
        !mesh.attributes.find(Domain::corner, attribute_name::colour))
        return nothing_asked;
    Material painted;
    painted.name = "painted";
    painted.colour = Vec3(1);
    return material_of(-1, painted);
}

/// Puts triangles of one material behind one another; gives each material's place in the file and where its run
/// ends.
GlbMeshes::Runs GlbMeshes::by_material(const Mesh& mesh, SplitMesh& split) {
    const auto* numbers = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    const std::size_t none = no_material(mesh);
    if (!numbers || !mesh.materials) return {{none, split.triangles.size()}};
    std::map<std::size_t, Array<Index>> runs;
    for (std::size_t i = 0; i < split.triangle_face.size(); ++i) {
        const std::int32_t number = (*numbers)[split.triangle_face[i]];
        const Material* material = find_material(mesh.materials.get(), number);
        Array<Index>& run = runs[material ? material_of(number, *material) : none];
        run.insert(run.end(), split.triangles.begin() + static_cast<std::ptrdiff_t>(3 * i),
                   split.triangles.begin() + static_cast<std::ptrdiff_t>(3 * i + 3));
    }
    Runs ends;
    split.triangles.clear();
    for (const auto& [material, run] : runs) {
        split.triangles.insert(split.triangles.end(), run.begin(), run.end());
        ends.emplace_back(material, split.triangles.size());
    }
    return ends;
}

}  // namespace bricol
