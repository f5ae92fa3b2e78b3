// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/formats/glb_body.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/files/own_values.h"
#include "core/ground/numbers.h"

namespace bricol {

namespace {

void put_u32(std::string& out, std::uint32_t value) { out.append(reinterpret_cast<const char*>(&value), 4); }

}  // namespace

double short_number(float value) { return number_of_digits(fmt::format("{:.7g}", static_cast<double>(value))); }

OrderedJson glb_material(const Material& m) {
    OrderedJson out{
        {"name", m.name},
        {"pbrMetallicRoughness",
         {{"baseColorFactor",
           {short_number(m.colour.x), short_number(m.colour.y), short_number(m.colour.z), short_number(m.alpha)}},
          {"metallicFactor", short_number(m.metallic)},
          {"roughnessFactor", short_number(m.roughness)}}}};
    if (m.alpha < 1) out["alphaMode"] = "BLEND";
    if (m.double_sided) out["doubleSided"] = true;
    if (m.transmission > 0) {
        out["extensions"]["KHR_materials_transmission"] = {{"transmissionFactor", short_number(m.transmission)}};
        out["extensions"]["KHR_materials_ior"] = {{"ior", short_number(m.ior)}};
    }
    const auto three = [](const Vec3& v) {
        return OrderedJson{short_number(v.x), short_number(v.y), short_number(v.z)};
    };
    if (m.transmission > 0 && m.tint_depth > 0)
        out["extensions"]["KHR_materials_volume"] = {{"thicknessFactor", short_number(m.tint_depth)},
                                                     {"attenuationDistance", short_number(m.tint_depth)},
                                                     {"attenuationColor", three(m.tint)}};
    if (m.coat > 0)
        out["extensions"]["KHR_materials_clearcoat"] = {{"clearcoatFactor", short_number(m.coat)},
                                                        {"clearcoatRoughnessFactor", short_number(m.coat_roughness)}};
    if (const float most = std::max({m.emission.x, m.emission.y, m.emission.z}); most > 0) {
        out["emissiveFactor"] = three(m.emission / most);
        out["extensions"]["KHR_materials_emissive_strength"] = {{"emissiveStrength", short_number(most)}};
    }
    return out;
}

GlbBody::GlbBody() {
    json["asset"] = {{"version", "2.0"}, {"generator", "Bricol"}};
    json["scene"] = 0;
    json["scenes"] = OrderedJson::array({{{"nodes", OrderedJson::array()}}});
}

std::size_t GlbBody::view_of(std::string_view bytes, int target, std::shared_ptr<const void> kept) {
    json["bufferViews"].push_back({{"buffer", 0}, {"byteOffset", offset_}, {"byteLength", bytes.size()}});
    if (target != 0) json["bufferViews"].back()["target"] = target;
    offset_ += (bytes.size() + 3) / 4 * 4;
    pieces_.emplace_back(bytes, std::move(kept));
    return json["bufferViews"].size() - 1;
}

std::size_t GlbBody::accessor(std::size_t view_number, int component, std::size_t count, const char* type) {
    json["accessors"].push_back(
        {{"bufferView", view_number}, {"componentType", component}, {"count", count}, {"type", type}});
    return json["accessors"].size() - 1;
}

std::size_t GlbBody::floats(Array<float> values, int target) {
    const std::size_t count = values.size();
    return accessor(view(std::move(values), target), gltf::component_float, count, "SCALAR");
}
std::size_t GlbBody::floats(Array<Vec2> values, int target) {
    const std::size_t count = values.size();
    return accessor(view(std::move(values), target), gltf::component_float, count, "VEC2");
}
std::size_t GlbBody::floats(Array<Vec3> values, int target) {
    const std::size_t count = values.size();
    return accessor(view(std::move(values), target), gltf::component_float, count, "VEC3");
}
std::size_t GlbBody::floats(Array<Vec4> values, int target) {
    const std::size_t count = values.size();
    return accessor(view(std::move(values), target), gltf::component_float, count, "VEC4");
}

std::size_t GlbBody::gathered(const Column& column, std::span<const Index> source, int target) {
    const auto as = [&]<class T>(T) {
        Array<T> values(source.size());
        for (std::size_t i = 0; i < source.size(); ++i)
            if constexpr (std::is_same_v<T, float>)
                values[i] = value_at(column, source[i], 0);
            else
                for (int k = 0; k < T::length(); ++k)
                    values[i][k] = value_at(column, source[i], static_cast<std::size_t>(k));
        return floats(std::move(values), target);
    };
    switch (value_width(column)) {
        case 1:
            return as(0.0f);
        case 2:
            return as(Vec2(0));
        case 3:
            return as(Vec3(0));
        default:
            return as(Vec4(0));
    }
}

std::size_t GlbBody::bounded(Array<Vec3> values, int target) {
    Vec3 low(1e30f), high(-1e30f);
    for (const Vec3& p : values) low = glm::min(low, p), high = glm::max(high, p);
    const std::size_t number = floats(std::move(values), target);
    json["accessors"][number]["min"] = {low.x, low.y, low.z};
    json["accessors"][number]["max"] = {high.x, high.y, high.z};
    return number;
}
std::size_t GlbBody::bounded(Array<float> values) {
    const auto [low, high] = std::ranges::minmax(values);
    const std::size_t number = floats(std::move(values), 0);
    json["accessors"][number]["min"] = {low};
    json["accessors"][number]["max"] = {high};
    return number;
}

std::size_t GlbBody::node(OrderedJson node) {
    json["nodes"].push_back(std::move(node));
    return json["nodes"].size() - 1;
}

void GlbBody::extension(const std::string& name, bool required) {
    if (std::ranges::find(extensions_, name) == extensions_.end()) extensions_.push_back(name);
    if (required && std::ranges::find(required_, name) == required_.end()) required_.push_back(name);
}

void GlbBody::write(const Sink& sink) {
    if (!extensions_.empty()) json["extensionsUsed"] = extensions_;
    if (!required_.empty()) json["extensionsRequired"] = required_;
    json["buffers"] = OrderedJson::array({{{"byteLength", offset_}}});
    std::string text = json_text(json);
    text.resize((text.size() + 3) / 4 * 4, ' ');
    std::string head;
    put_u32(head, 0x46546C67);  // "glTF"
    put_u32(head, 2);
    put_u32(head, static_cast<std::uint32_t>(12 + 8 + text.size() + 8 + offset_));
    put_u32(head, static_cast<std::uint32_t>(text.size()));
    put_u32(head, 0x4E4F534A);  // "JSON"
    head += text;
    put_u32(head, static_cast<std::uint32_t>(offset_));
    put_u32(head, 0x004E4942);  // "BIN"
    sink(head);
    for (const auto& [bytes, kept] : pieces_) {
        sink(bytes);
        if (bytes.size() % 4 != 0) sink(std::string(4 - bytes.size() % 4, '\0'));
    }
}

}  // namespace bricol
