// SPDX-License-Identifier: GPL-3.0-or-later
#include <epoxy/gl.h>
//
#include "app/viewport/gpu_mesh.h"

#include <algorithm>
#include <array>
#include <bit>

#include "app/viewport/mesh_buffer.h"
#include "core/ground/colour.h"

namespace bricol {

namespace {

constexpr std::size_t most_meshes = 96, most_place_lists = 64;

/// As the shader's block: three vectors a material, 64 of them; 0 stands for faces without one.
unsigned material_block(const Mesh& mesh) {
    std::array<Vec4, 3 * most_materials> block{};
    // Colours of their own are shown as they are: what they tint is white.
    const bool painted = mesh.attributes.find(Domain::vertex, attribute_name::colour) ||
                         mesh.attributes.find(Domain::corner, attribute_name::colour);
    block[0] = Vec4(Vec3(painted ? 1.0f : 0.5f), 1), block[1] = Vec4(0, 0.8f, 0, 1.5f);
    if (mesh.materials)
        for (std::size_t i = 0; i + 1 < most_materials && i < mesh.materials->size(); ++i) {
            const Material& m = (*mesh.materials)[i].material;
            block[3 * i + 3] = Vec4(m.colour, m.alpha);
            block[3 * i + 4] = Vec4(m.metallic, m.roughness, m.transmission, m.ior);
            block[3 * i + 5] = Vec4(m.emission, m.coat);
        }
    unsigned buffer = 0;
    glCreateBuffers(1, &buffer);
    glNamedBufferData(buffer, sizeof block, block.data(), GL_STATIC_DRAW);
    return buffer;
}

}  // namespace

Places standing_alone() {
    static const Places alone = std::make_shared<const Array<glm::mat4>>(1, glm::mat4(1));
    return alone;
}

const GpuMesh& MeshStore::mesh(const Mesh& mesh, std::size_t most_triangles, const Paint& paint) {
    const std::size_t full =
        mesh.topology->corner_count() - std::min(mesh.topology->corner_count(), 2 * mesh.face_count());
    const std::size_t wanted = most_triangles >= full ? 0 : std::bit_ceil(std::max<std::size_t>(12, most_triangles));
    return kept(mesh, wanted >= full ? 0 : wanted, nullptr, paint);  // 0: all of them
}

void MeshStore::prepare(const Mesh& mesh, std::size_t triangles) {
    std::erase_if(stand_ins_, [](const KeptStandIn& s) {
        return s.of.expired() && s.light.wait_for(std::chrono::seconds(0)) == std::future_status::ready;
    });
    for (const KeptStandIn& s : stand_ins_)
        if (s.of.lock() == mesh.topology) return;
    stand_ins_.push_back({mesh.topology, std::async(std::launch::async, [mesh, triangles] {
                                             return stand_in(mesh, triangles, true);
                                         }).share()});
}

void MeshStore::finish_preparing() {
    for (const KeptStandIn& s : stand_ins_) s.light.wait();
}

const GpuMesh& MeshStore::moving(const Mesh& mesh, const Paint& paint) {
    if (paint.attribute.empty())
        for (const KeptStandIn& s : stand_ins_)
            if (s.of.lock() == mesh.topology &&
                s.light.wait_for(std::chrono::seconds(0)) == std::future_status::ready && s.light.get().topology)
                return kept(mesh, s.light.get().face.size(), &s.light.get(), paint);
    return kept(mesh, 0, nullptr, paint);
}

const GpuMesh& MeshStore::kept(const Mesh& mesh, std::size_t triangles, const StandIn* light, const Paint& paint) {
    const auto column = [&](Domain domain, std::string_view name) -> const void* {
        const Attribute* found = mesh.attributes.find(domain, name);
        return found ? found->values.get() : nullptr;
    };
    const void* normals = column(Domain::vertex, attribute_name::normal);
    const std::string shown = paint.attribute.substr(0, paint.attribute.find('.'));
    const void* painted = nullptr;
    for (const Domain d : {Domain::corner, Domain::vertex, Domain::face, Domain::edge})
        if (!painted && !shown.empty()) painted = column(d, shown);
    const void* colours = column(Domain::corner, attribute_name::colour);
    const std::array<const void*, 6> key = {mesh.positions.get(),
                                            mesh.topology.get(),
                                            normals ? normals : column(Domain::corner, attribute_name::normal),
                                            column(Domain::face, attribute_name::material),
                                            colours ? colours : column(Domain::vertex, attribute_name::colour),
                                            painted};
    for (auto it = meshes_.begin(); it != meshes_.end(); ++it)
        if (it->key == key && it->triangles == triangles && it->light == (light != nullptr) && it->paint == paint &&
            it->alive.lock()) {
            meshes_.splice(meshes_.begin(), meshes_, it);
            return meshes_.front().gpu;
        }
    while (meshes_.size() > most_meshes) {
        const GpuMesh& old = meshes_.back().gpu;
        for (const unsigned buffer : {old.buffer, old.materials}) glDeleteBuffers(1, &buffer);
        glDeleteVertexArrays(1, &old.array);
        meshes_.pop_back();
    }
    KeptMesh kept{key, paint, triangles, light != nullptr, mesh.positions, {}};
    GpuMesh& gpu = kept.gpu;
    const Mesh drawn = light ? light->of(mesh) : mesh;
    const Array<DrawVertex> vertices =
        triangles == 0 || light ? draw_vertices(drawn, paint) : proxy_vertices(drawn, triangles, paint);
    const Adjacency& near = drawn.topology->adjacency();
    gpu.closed = true;
    for (Index e = 0; e < drawn.edge_count() && gpu.closed; ++e) gpu.closed = near.faces_of_edge(e).size() == 2;
    gpu.solid = false;
    const auto* numbers = drawn.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    for (std::size_t f = 0; f < drawn.face_count() && !(gpu.glass && gpu.solid); ++f) {
        const Material* own = numbers ? find_material(drawn.materials.get(), (*numbers)[f]) : nullptr;
        (own && own->transmission > 0.5f ? gpu.glass : gpu.solid) = true;
    }
    gpu.light = light != nullptr;
    gpu.count = static_cast<int>(vertices.size());
    glCreateBuffers(1, &gpu.buffer);
    glNamedBufferData(gpu.buffer, static_cast<GLsizeiptr>(vertices.size() * sizeof(DrawVertex)), vertices.data(),
                      GL_STATIC_DRAW);
    gpu.materials = material_block(mesh);
    glCreateVertexArrays(1, &gpu.array);
    glVertexArrayVertexBuffer(gpu.array, 0, gpu.buffer, 0, sizeof(DrawVertex));
    glVertexArrayBindingDivisor(gpu.array, 1, 1);
    for (unsigned slot = 0; slot < 9; ++slot) {
        glEnableVertexArrayAttrib(gpu.array, slot);
        glVertexArrayAttribBinding(gpu.array, slot, slot < 3 || slot == 8 ? 0 : 1);
        if (slot >= 3 && slot < 8) glVertexArrayAttribFormat(gpu.array, slot, 4, GL_FLOAT, GL_FALSE, 16 * (slot - 3));
    }
    glVertexArrayAttribFormat(gpu.array, 0, 3, GL_FLOAT, GL_FALSE, offsetof(DrawVertex, position));
    glVertexArrayAttribFormat(gpu.array, 1, 4, GL_INT_2_10_10_10_REV, GL_TRUE, offsetof(DrawVertex, normal));
    glVertexArrayAttribIFormat(gpu.array, 2, 1, GL_UNSIGNED_INT, offsetof(DrawVertex, mask));
    glVertexArrayAttribFormat(gpu.array, 8, 4, GL_UNSIGNED_BYTE, GL_TRUE, offsetof(DrawVertex, tint));
    meshes_.push_front(std::move(kept));
    return meshes_.front().gpu;
}

const GpuPlaces& MeshStore::places(const Places& places, const Tints& tints) {
    for (auto it = places_.begin(); it != places_.end(); ++it)
        if (it->places.lock() == places) {
            places_.splice(places_.begin(), places_, it);
            return places_.front().gpu;
        }
    while (places_.size() > most_place_lists) {
        glDeleteBuffers(1, &places_.back().gpu.buffer);
        places_.pop_back();
    }
    Array<GpuPlace> sorted(places->size());
    for (std::size_t i = 0; i < sorted.size(); ++i)
        sorted[i] = {(*places)[i], tints && i < tints->size() ? Vec4(Vec3(screen_from_linear(DVec3((*tints)[i]))), 1)
                                                              : Vec4(1, 1, 1, 0)};
    const auto middle = std::stable_partition(
        sorted.begin(), sorted.end(), [](const GpuPlace& p) { return glm::determinant(glm::mat3(p.place)) >= 0; });
    GpuPlaces gpu;
    gpu.plain = static_cast<int>(middle - sorted.begin());
    gpu.mirrored = static_cast<int>(sorted.end() - middle);
    glCreateBuffers(1, &gpu.buffer);
    glNamedBufferData(gpu.buffer, static_cast<GLsizeiptr>(sorted.size() * sizeof(GpuPlace)), sorted.data(),
                      GL_STATIC_DRAW);
    places_.push_front({places, gpu});
    return places_.front().gpu;
}

}  // namespace bricol
