// SPDX-License-Identifier: GPL-3.0-or-later
// glTF 2.0 binary: a node per part, joints as a skin, copies as nodes that share a mesh, materials, UVs with the origin
// at the top as glTF wants, bounds on positions. glTF 2.0 binary (Khronos, ISO/IEC 12113:2022), with
// KHR_materials_transmission, _ior, _volume, _clearcoat and _emissive_strength. Written straight from our arrays: a
// library would copy them first.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <nlohmann/json.hpp>

#include "core/files/format.h"
#include "core/kernels/pose.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/split_vertices.h"
#include "core/ground/json.h"
#include "core/ground/numbers.h"

namespace bricol {

namespace {

using OrderedJson = nlohmann::ordered_json;

/// Instead of a material's place in the file.
constexpr std::size_t nothing_asked = ~std::size_t(0);

constexpr int component_float = 5126, component_uint = 5125, component_ushort = 5123, target_vertices = 34962,
              target_indices = 34963;

template <class T>
std::string_view bytes_of(const Array<T>& values) {
    return {reinterpret_cast<const char*>(values.data()), values.size() * sizeof(T)};
}

void put_u32(std::string& out, std::uint32_t value) { out.append(reinterpret_cast<const char*>(&value), 4); }

/// A number with as many digits as tell its float apart: files do not say 0.07000000029802322.
double short_number(float value) { return number_of_digits(fmt::format("{:.7g}", static_cast<double>(value))); }

OrderedJson material_json(const Material& m) {
    OrderedJson json{
        {"name", m.name},
        {"pbrMetallicRoughness",
         {{"baseColorFactor",
           {short_number(m.colour.x), short_number(m.colour.y), short_number(m.colour.z), short_number(m.alpha)}},
          {"metallicFactor", short_number(m.metallic)},
          {"roughnessFactor", short_number(m.roughness)}}}};
    if (m.alpha < 1) json["alphaMode"] = "BLEND";
    if (m.double_sided) json["doubleSided"] = true;
    if (m.transmission > 0) {
        json["extensions"]["KHR_materials_transmission"] = {{"transmissionFactor", short_number(m.transmission)}};
        json["extensions"]["KHR_materials_ior"] = {{"ior", short_number(m.ior)}};
    }
    const auto three = [](const Vec3& v) {
        return OrderedJson{short_number(v.x), short_number(v.y), short_number(v.z)};
    };
    if (m.transmission > 0 && m.tint_depth > 0)
        json["extensions"]["KHR_materials_volume"] = {{"thicknessFactor", short_number(m.tint_depth)},
                                                      {"attenuationDistance", short_number(m.tint_depth)},
                                                      {"attenuationColor", three(m.tint)}};
    if (m.coat > 0)
        json["extensions"]["KHR_materials_clearcoat"] = {{"clearcoatFactor", short_number(m.coat)},
                                                         {"clearcoatRoughnessFactor", short_number(m.coat_roughness)}};
    if (const float most = std::max({m.emission.x, m.emission.y, m.emission.z}); most > 0) {
        json["emissiveFactor"] = three(m.emission / most);
        json["extensions"]["KHR_materials_emissive_strength"] = {{"emissiveStrength", short_number(most)}};
    }
    return json;
}

/// The parts of one file while it is put together: JSON for the head, arrays for the body in the order they are
/// written.
class Glb {
public:
    explicit Glb(const ExportOptions& options) : options_(options) {
        json_["asset"] = {{"version", "2.0"}, {"generator", "Bricol"}};
        json_["scene"] = 0;
        json_["scenes"] = OrderedJson::array({{{"nodes", OrderedJson::array()}}});
    }

    void add(const NamedShape& named) {
        std::vector<PlacedMesh> placed = placed_meshes(named.shape);
        for (PlacedMesh& one : placed) {
            const bool written_out = !one.tints.empty() || std::ranges::any_of(one.places, sheared);
            const double faces =
                static_cast<double>(one.places.size()) * static_cast<double>(one.shape->mesh.face_count());
            if (written_out && faces > most_faces_written_out)
                throw std::length_error(
                    fmt::format("{}: glTF cannot hold sheared or tinted copies as copies, and written out they have "
                                "{:.3g} million faces",
                                named.name, faces / 1e6));
            if (!one.tints.empty()) {  // a node has no colour of its own: the points take it
                auto tinted = std::make_shared<Shape>();
                Attributes colours;
                colours.set(Domain::instance, attribute_name::colour, one.tints);
                auto alone = std::make_shared<Shape>();
                alone->mesh = one.shape->mesh;
                tinted->instances.push_back({alone, one.places, std::move(colours)});
                const ShapePtr real = real_geometry(tinted);
                one = {real, Array<glm::mat4>(1, glm::mat4(1)), {}};
                kept_.push_back(real);
            } else if (written_out) {  // glTF places only move, turn and size
                auto real = std::make_shared<Shape>();
                real->mesh = repeated(one.shape->mesh, one.places);
                one = {real, Array<glm::mat4>(1, glm::mat4(1)), {}};
                kept_.push_back(std::move(real));
            }
        }
        const bool plain = placed.size() == 1 && placed[0].places.size() == 1 && placed[0].places[0] == glm::mat4(1);
        OrderedJson node{{"name", named.name}};
        if (plain) {
            node["mesh"] = mesh_of(*placed[0].shape, named.name);
            const Mesh& mesh = placed[0].shape->mesh;
            if (mesh.skeleton && !mesh.skeleton->joints.empty() && mesh.skeleton->joints.size() <= 65535)
                node["skin"] = skin_of(mesh, named.name, node["mesh"]);
        } else {
            node["children"] = children_of(named, placed);
        }
        json_["scenes"][0]["nodes"].push_back(json_["nodes"].size());
        json_["nodes"].push_back(std::move(node));
    }

    void write(const Sink& sink) {
        if (!materials_.empty()) json_["materials"] = materials_;
        if (!extensions_.empty()) json_["extensionsUsed"] = extensions_;
        json_["buffers"] = OrderedJson::array({{{"byteLength", offset_}}});
        std::string text = json_text(json_);
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
        for (std::size_t m = 0; m < meshes_.size(); ++m) {
            const SplitMesh& split = meshes_[m];
            for (const std::string_view bytes :
                 {bytes_of(split.positions), bytes_of(split.normals), bytes_of(split.uvs), bytes_of(split.colours),
                  bytes_of(split.triangles)})
                sink(bytes);
            const auto skin = skins_.find(m);
            if (skin == skins_.end()) continue;
            sink(bytes_of(skin->second.weights.joints));
            sink(bytes_of(skin->second.weights.weights));
            sink(bytes_of(skin->second.inverses));
        }
    }

private:
    /// A node for everything that stands in a part: its own mesh under the part's name, what is copied under "part.1",
    /// "part.2", …, and each copy with its number behind, so that no two nodes or meshes of a file are called alike.
    OrderedJson children_of(const NamedShape& named, const std::vector<PlacedMesh>& placed) {
        OrderedJson children = OrderedJson::array();
        std::size_t copied = 0;
        for (const PlacedMesh& one : placed) {
            if (one.shape->mesh.face_count() == 0) continue;
            const bool own = one.shape == named.shape;
            const std::string name = own ? named.name : fmt::format("{}.{}", named.name, ++copied);
            const std::size_t mesh = mesh_of(*one.shape, name);
            for (std::size_t i = 0; i < one.places.size(); ++i) {
                children.push_back(json_["nodes"].size());
                json_["nodes"].push_back({{"name", own ? name + ".mesh" : fmt::format("{}.{}", name, i + 1)},
                                          {"mesh", mesh},
                                          {"matrix", directed_place(one.places[i])}});
            }
        }
        return children;
    }

    /// What a mesh's vertices follow, and the way back from where each joint stands.
    struct Skin {
        SkinWeights weights;
        Array<glm::mat4> inverses;
    };

    /// Nodes for the joints, each moved from its parent, and the weights of a mesh that has just been written.
    std::size_t skin_of(const Mesh& mesh, const std::string& name, std::size_t number) {
        const SplitMesh& split = meshes_[number];
        const SkinWeights own = skin_weights(mesh);
        Skin skin;
        skin.weights.joints.resize(split.positions.size());
        skin.weights.weights.resize(split.positions.size());
        for (std::size_t c = 0; c < split.corner.size(); ++c) {
            skin.weights.joints[split.corner[c]] = own.joints[mesh.topology->corner_vertex[c]];
            skin.weights.weights[split.corner[c]] = own.weights[mesh.topology->corner_vertex[c]];
        }
        const auto& joints = mesh.skeleton->joints;
        const std::size_t first = json_["nodes"].size();
        OrderedJson numbers = OrderedJson::array();
        std::vector<Vec3> at;
        for (std::size_t j = 0; j < joints.size(); ++j) {
            at.push_back(directed(Vec3(joints[j].at), *options_.up) * static_cast<float>(options_.scale));
            const Vec3 from = joints[j].parent == no_index ? Vec3(0) : at[joints[j].parent];
            const Vec3 by = at[j] - from;
            json_["nodes"].push_back({{"name", joints[j].name}, {"translation", {by.x, by.y, by.z}}});
            numbers.push_back(first + j);
            glm::mat4 inverse(1);
            inverse[3] = Vec4(-at[j], 1);
            skin.inverses.push_back(inverse);
            if (joints[j].parent == no_index)
                json_["scenes"][0]["nodes"].push_back(first + j);
            else
                json_["nodes"][first + joints[j].parent]["children"].push_back(first + j);
        }
        const std::size_t weights = accessor(view(bytes_of(skin.weights.joints), target_vertices), component_ushort,
                                             split.positions.size(), "VEC4");
        OrderedJson& primitives = json_["meshes"][number]["primitives"];
        const std::size_t shares = accessor(view(bytes_of(skin.weights.weights), target_vertices), component_float,
                                            split.positions.size(), "VEC4");
        for (OrderedJson& primitive : primitives) {
            primitive["attributes"]["JOINTS_0"] = weights;
            primitive["attributes"]["WEIGHTS_0"] = shares;
        }
        const std::size_t inverses = accessor(view(bytes_of(skin.inverses), 0), component_float, joints.size(), "MAT4");
        skins_.emplace(number, std::move(skin));
        json_["skins"].push_back({{"name", name}, {"joints", std::move(numbers)}, {"inverseBindMatrices", inverses}});
        return json_["skins"].size() - 1;
    }

    static bool sheared(const glm::mat4& m) {
        const Vec3 a(m[0]), b(m[1]), c(m[2]);
        return std::abs(glm::dot(a, b)) > 1e-5f * glm::length(a) * glm::length(b) ||
               std::abs(glm::dot(b, c)) > 1e-5f * glm::length(b) * glm::length(c) ||
               std::abs(glm::dot(c, a)) > 1e-5f * glm::length(c) * glm::length(a);
    }

    std::size_t material_of(std::int32_t number, const Material& material) {
        const auto [found, fresh] = material_index_.try_emplace(number, materials_.size());
        if (fresh) {
            materials_.push_back(material_json(material));
            if (materials_.back().contains("extensions"))
                for (const auto& [name, values] : materials_.back()["extensions"].items())
                    if (std::ranges::find(extensions_, name) == extensions_.end()) extensions_.push_back(name);
        }
        return found->second;
    }

    std::size_t view(std::string_view bytes, int target) {
        json_["bufferViews"].push_back({{"buffer", 0}, {"byteOffset", offset_}, {"byteLength", bytes.size()}});
        if (target != 0) json_["bufferViews"].back()["target"] = target;
        offset_ += bytes.size();
        return json_["bufferViews"].size() - 1;
    }
    std::size_t accessor(std::size_t view_number, int component, std::size_t count, const char* type) {
        json_["accessors"].push_back(
            {{"bufferView", view_number}, {"componentType", component}, {"count", count}, {"type", type}});
        return json_["accessors"].size() - 1;
    }

    /// Writes a shape's own mesh once, however often it stands; one primitive per material, sharing the vertices.
    std::size_t mesh_of(const Shape& shape, const std::string& name) {
        const auto [known, fresh] = mesh_index_.try_emplace(&shape, meshes_.size());
        if (!fresh) return known->second;
        SplitMesh split = split_vertices(shape.mesh);
        Vec3 low(1e30f), high(-1e30f);
        const float scale = static_cast<float>(options_.scale);
        for (Vec3& p : split.positions) {
            p = directed(p, *options_.up) * scale;
            low = glm::min(low, p);
            high = glm::max(high, p);
        }
        for (Vec3& n : split.normals) n = directed(n, *options_.up);
        for (Vec2& uv : split.uvs) uv.y = 1 - uv.y;
        const std::vector<std::pair<std::size_t, std::size_t>> runs = by_material(shape.mesh, split);

        OrderedJson attributes;
        const std::size_t position =
            accessor(view(bytes_of(split.positions), target_vertices), component_float, split.positions.size(), "VEC3");
        json_["accessors"][position]["min"] = {low.x, low.y, low.z};
        json_["accessors"][position]["max"] = {high.x, high.y, high.z};
        attributes["POSITION"] = position;
        attributes["NORMAL"] =
            accessor(view(bytes_of(split.normals), target_vertices), component_float, split.normals.size(), "VEC3");
        if (!split.uvs.empty())
            attributes["TEXCOORD_0"] =
                accessor(view(bytes_of(split.uvs), target_vertices), component_float, split.uvs.size(), "VEC2");
        if (!split.colours.empty()) {
            for (Vec4& c : split.colours) c = glm::clamp(c, Vec4(0), Vec4(1));  // glTF: linear, 0..1
            attributes["COLOR_0"] =
                accessor(view(bytes_of(split.colours), target_vertices), component_float, split.colours.size(), "VEC4");
        }
        const std::size_t indices = view(bytes_of(split.triangles), target_indices);
        OrderedJson primitives = OrderedJson::array();
        std::size_t begin = 0;
        for (const auto& [material, end] : runs) {
            const std::size_t run = accessor(indices, component_uint, end - begin, "SCALAR");
            if (begin > 0) json_["accessors"][run]["byteOffset"] = begin * sizeof(Index);
            primitives.push_back({{"attributes", attributes}, {"indices", run}});
            if (material != nothing_asked) primitives.back()["material"] = material;
            begin = end;
        }
        json_["meshes"].push_back({{"name", name}, {"primitives", std::move(primitives)}});
        meshes_.push_back(std::move(split));
        return known->second;
    }

    /// What faces without a material get: none, or white paint under colours of their own, which multiply it (glTF's
    /// own default is bare metal).
    std::size_t no_material(const Mesh& mesh) {
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
    std::vector<std::pair<std::size_t, std::size_t>> by_material(const Mesh& mesh, SplitMesh& split) {
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
        std::vector<std::pair<std::size_t, std::size_t>> ends;
        split.triangles.clear();
        for (const auto& [material, run] : runs) {
            split.triangles.insert(split.triangles.end(), run.begin(), run.end());
            ends.emplace_back(material, split.triangles.size());
        }
        return ends;
    }

    /// A place in the file's directions and units, column by column.
    OrderedJson directed_place(const glm::mat4& place) const {
        glm::mat4 turn(1);
        if (*options_.up == UpAxis::y) turn = glm::mat4(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1);
        glm::mat4 m = turn * place * glm::transpose(turn);
        m[3] = Vec4(Vec3(m[3]) * static_cast<float>(options_.scale), 1);
        OrderedJson json = OrderedJson::array();
        for (int c = 0; c < 4; ++c)
            for (int r = 0; r < 4; ++r) json.push_back(r == 3 ? (c == 3 ? 1.0 : 0.0) : static_cast<double>(m[c][r]));
        return json;
    }

    const ExportOptions& options_;
    OrderedJson json_, materials_ = OrderedJson::array();
    std::map<std::int32_t, std::size_t> material_index_;
    std::map<const Shape*, std::size_t> mesh_index_;
    std::vector<ShapePtr> kept_;  // so that no address in mesh_index_ is used twice
    std::vector<SplitMesh> meshes_;
    std::map<std::size_t, Skin> skins_;  // by the number of their mesh
    std::size_t offset_ = 0;
    std::vector<std::string> extensions_;  ///< in the order they were met
};

void write_glb(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    Glb file(options);
    for (const NamedShape& named : shapes) file.add(named);
    file.write(sink);
}

const RegisteredFormat glb_format({.suffix = "glb",
                                   .name = "Binary glTF",
                                   .customs = "metres, y up (glTF 2.0)",
                                   .scale = 1,
                                   .up = UpAxis::y,
                                   .keeps_copies = true,
                                   .most_bytes = 0xFFFFFFFF,
                                   .write = write_glb});

}  // namespace

}  // namespace bricol
