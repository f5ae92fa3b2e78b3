// SPDX-License-Identifier: GPL-3.0-or-later
// glTF 2.0 binary (Khronos, ISO/IEC 12113:2022). Written straight from our arrays: a library would copy them first.
#include <nlohmann/json.hpp>

#include "core/exchange/export.h"
#include "core/kernels/split_vertices.h"

namespace bricol {

namespace {

constexpr int component_float = 5126, component_uint = 5125, target_vertices = 34962, target_indices = 34963;

template <class T>
std::string_view bytes_of(const Array<T>& values) {
    return {reinterpret_cast<const char*>(values.data()), values.size() * sizeof(T)};
}

void put_u32(std::string& out, std::uint32_t value) { out.append(reinterpret_cast<const char*>(&value), 4); }

}  // namespace

void write_glb(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    nlohmann::ordered_json json;
    json["asset"] = {{"version", "2.0"}, {"generator", "Bricol"}};
    json["scene"] = 0;
    json["scenes"] = nlohmann::ordered_json::array({{{"nodes", nlohmann::ordered_json::array()}}});
    json["materials"] = nlohmann::ordered_json::array(
        {{{"name", "plain"}, {"pbrMetallicRoughness", {{"baseColorFactor", {0.58, 0.54, 0.44, 1}}, {"metallicFactor", 0}, {"roughnessFactor", 0.8}}}}});
    std::vector<SplitMesh> meshes;
    std::size_t offset = 0;
    const auto view = [&](std::string_view bytes, int target) {
        json["bufferViews"].push_back({{"buffer", 0}, {"byteOffset", offset}, {"byteLength", bytes.size()}, {"target", target}});
        offset += bytes.size();
        return json["bufferViews"].size() - 1;
    };
    const auto accessor = [&](std::size_t view_number, int component, std::size_t count, const char* type) {
        json["accessors"].push_back({{"bufferView", view_number}, {"componentType", component}, {"count", count}, {"type", type}});
        return json["accessors"].size() - 1;
    };
    for (const NamedShape& named : shapes) {
        SplitMesh split = split_vertices(named.shape->mesh);
        Vec3 low(1e30f), high(-1e30f);
        const float scale = static_cast<float>(options.scale);
        for (Vec3& p : split.positions) {
            p = directed(p, *options.up) * scale;
            low = glm::min(low, p);
            high = glm::max(high, p);
        }
        for (Vec3& n : split.normals) n = directed(n, *options.up);
        for (Vec2& uv : split.uvs) uv.y = 1 - uv.y;

        nlohmann::ordered_json primitive;
        const std::size_t position = accessor(view(bytes_of(split.positions), target_vertices), component_float, split.positions.size(), "VEC3");
        json["accessors"][position]["min"] = {low.x, low.y, low.z};
        json["accessors"][position]["max"] = {high.x, high.y, high.z};
        primitive["attributes"]["POSITION"] = position;
        primitive["attributes"]["NORMAL"] = accessor(view(bytes_of(split.normals), target_vertices), component_float, split.normals.size(), "VEC3");
        if (!split.uvs.empty())
            primitive["attributes"]["TEXCOORD_0"] = accessor(view(bytes_of(split.uvs), target_vertices), component_float, split.uvs.size(), "VEC2");
        primitive["indices"] = accessor(view(bytes_of(split.triangles), target_indices), component_uint, split.triangles.size(), "SCALAR");
        primitive["material"] = 0;
        json["scenes"][0]["nodes"].push_back(meshes.size());
        json["nodes"].push_back({{"name", named.name}, {"mesh", meshes.size()}});
        json["meshes"].push_back({{"name", named.name}, {"primitives", nlohmann::ordered_json::array({primitive})}});
        meshes.push_back(std::move(split));
    }
    json["buffers"] = nlohmann::ordered_json::array({{{"byteLength", offset}}});

    std::string text = json.dump();
    text.resize((text.size() + 3) / 4 * 4, ' ');
    std::string head;
    put_u32(head, 0x46546C67);  // "glTF"
    put_u32(head, 2);
    put_u32(head, static_cast<std::uint32_t>(12 + 8 + text.size() + 8 + offset));
    put_u32(head, static_cast<std::uint32_t>(text.size()));
    put_u32(head, 0x4E4F534A);  // "JSON"
    head += text;
    put_u32(head, static_cast<std::uint32_t>(offset));
    put_u32(head, 0x004E4942);  // "BIN"
    sink(head);
    for (const SplitMesh& split : meshes) {
        sink(bytes_of(split.positions));
        sink(bytes_of(split.normals));
        sink(bytes_of(split.uvs));
        sink(bytes_of(split.triangles));
    }
}

}  // namespace bricol
