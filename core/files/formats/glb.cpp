// SPDX-License-Identifier: GPL-3.0-or-later
// glTF 2.0 binary: a node per part, joints as a skin, copies as nodes that share a mesh, materials, UVs with the origin
// at the top as glTF wants, bounds on positions. glTF 2.0 binary (Khronos, ISO/IEC 12113:2022), with
// KHR_materials_transmission, _ior, _volume, _clearcoat and _emissive_strength, and EXT_mesh_gpu_instancing when asked
// for. Written straight from our arrays: a library would copy them first.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>
#include <set>

#include "core/files/formats/glb_meshes.h"
#include "core/files/formats/glb_motion.h"
#include "core/files/motion.h"
#include "core/files/own_values.h"
#include "core/kernels/pose.h"
#include "core/kernels/real_geometry.h"

namespace bricol {

namespace {

/// The nodes of one file.
class Glb {
public:
    explicit Glb(const ExportOptions& options) : options_(options), meshes_(body_, options), motion_(body_) {}

    void add(const NamedShape& named) {
        std::vector<PlacedMesh> placed = placed_meshes(named.shape);
        for (PlacedMesh& one : placed) keep_as_points(named, one);
        const PartMotion* moves = named.motion.get();
        if (moves && moves->placed.size() != placed.size()) moves = nullptr;
        const bool plain = placed.size() == 1 && placed[0].places.size() == 1 && placed[0].places[0] == glm::mat4(1);
        OrderedJson node{{"name", named.name}};
        if (named.at != Vec3(0)) {
            const Vec3 at = directed(named.at, *options_.up) * static_cast<float>(options_.scale);
            node["translation"] = {at.x, at.y, at.z};
        }
        if (plain) {
            const GlbMesh& mesh = mesh_of(placed[0], named.name, moves ? &moves->placed[0] : nullptr);
            node["mesh"] = mesh.number;
            const Skeleton* skeleton = placed[0].shape->mesh.skeleton.get();
            if (skeleton && !skeleton->joints.empty() && skeleton->joints.size() <= 65535)
                node["skin"] = skin_of(placed[0].shape->mesh, named, mesh);
        } else {
            node["children"] = children_of(named, placed, moves);
        }
        if (named.level > 0) node["extras"]["level"] = named.level;
        if (named.collision) node["extras"]["collision"] = true;
        body_.json["scenes"][0]["nodes"].push_back(node_count());
        const std::size_t number = body_.node(std::move(node));
        if (plain && moves) move(number, moves->placed[0], 0, moves->seconds, named.at);
    }

    void write(const Sink& sink) {
        meshes_.finish();
        motion_.finish();
        body_.write(sink);
    }

private:
    std::size_t node_count() const { return body_.json.contains("nodes") ? body_.json["nodes"].size() : 0; }

    /// Copies that glTF cannot hold as copies: it has no sheared places and no colour of a node.
    void keep_as_points(const NamedShape& named, PlacedMesh& one) {
        if (one.tints.empty() && std::ranges::none_of(one.places, sheared_place)) return;
        const double faces = static_cast<double>(one.places.size()) * static_cast<double>(one.shape->mesh.face_count());
        if (faces > most_faces_written_out)
            throw std::length_error(
                fmt::format("{}: glTF cannot hold sheared or tinted copies as copies, and written out they have "
                            "{:.3g} million faces",
                            named.name, faces / 1e6));
        one = {written_out(one), Array<glm::mat4>(1, glm::mat4(1)), {}, {}};
    }

    const GlbMesh& mesh_of(const PlacedMesh& one, const std::string& name, const PlacedMotion* moves) {
        if (!moves || moves->points.empty()) return meshes_.add(one.shape, name);
        auto own = std::make_shared<Shape>();  // others may stand still in the same shape
        own->mesh = one.shape->mesh;
        return meshes_.add(own, name, moves->points);
    }

    void move(std::size_t node, const PlacedMotion& moves, std::size_t copy, const std::vector<float>& seconds,
              const Vec3& at) {
        if (!moves.points.empty()) motion_.targets(node, seconds, moves.points.size());
        if (moves.places.empty()) return;
        std::vector<glm::mat4> places;
        for (const Array<glm::mat4>& now : moves.places) {
            glm::mat4 place = now[copy];
            place[3] += Vec4(at, 0);
            places.push_back(directed_place(place, options_));
        }
        motion_.places(node, seconds, places);
    }

    /// A node for everything that stands in a part: its own mesh under the part's name, what is copied under its own
    /// name behind that or "part.1", "part.2", …, and each copy with its number behind, so that no two nodes or meshes
    /// of a file are called alike.
    OrderedJson children_of(const NamedShape& named, const std::vector<PlacedMesh>& placed, const PartMotion* moves) {
        OrderedJson children = OrderedJson::array();
        std::size_t copied = 0;
        for (std::size_t p = 0; p < placed.size(); ++p) {
            const PlacedMesh& one = placed[p];
            if (one.shape->mesh.face_count() == 0) continue;
            const bool own = one.shape == named.shape;
            const std::string name = own ? named.name : copied_name(named, one.shape, ++copied);
            const PlacedMotion* motion = moves ? &moves->placed[p] : nullptr;
            const std::size_t mesh = mesh_of(one, name, motion).number;
            if (options_.joined_copies && one.places.size() > 1 && (!motion || motion->places.empty())) {
                children.push_back(joined_copies(name, mesh, one));
                if (motion) move(children.back(), *motion, 0, moves->seconds, Vec3(0));
                continue;
            }
            for (std::size_t i = 0; i < one.places.size(); ++i) {
                OrderedJson node{{"name", own ? name + ".mesh" : fmt::format("{}.{}", name, i + 1)},
                                 {"mesh", mesh},
                                 {"matrix", matrix_json(directed_place(one.places[i], options_))}};
                if (OrderedJson values = values_of(one, i); !values.empty()) node["extras"] = std::move(values);
                children.push_back(body_.node(std::move(node)));
                if (motion) move(children.back(), *motion, i, moves->seconds, Vec3(0));
            }
        }
        return children;
    }

    std::string copied_name(const NamedShape& named, const ShapePtr& shape, std::size_t number) {
        std::string name = fmt::format("{}.{}", named.name, number);
        if (!options_.copied) return name;
        if (const auto found = options_.copied->find(shape); found != options_.copied->end())
            name = fmt::format("{}.{}", named.name, found->second);
        const std::string first = name;
        for (int n = 2; !names_.insert(name).second; ++n) name = fmt::format("{}.{}", first, n);
        return name;
    }

    /// The artist's own values on one copy, under the names that files take.
    OrderedJson values_of(const PlacedMesh& copies, std::size_t copy) const {
        OrderedJson out;
        if (!options_.attributes) return out;
        const std::vector<const Attribute*> own = own_values(copies.values, Domain::instance);
        const std::vector<std::string> names = plain_names(own, false);
        for (std::size_t i = 0; i < own.size(); ++i) {
            const std::size_t width = value_width(*own[i]->values);
            OrderedJson value = OrderedJson::array();
            for (std::size_t k = 0; k < width; ++k) value.push_back(short_number(value_at(*own[i]->values, copy, k)));
            out[names[i]] = width == 1 ? value[0] : std::move(value);
        }
        return out;
    }

    std::size_t joined_copies(const std::string& name, std::size_t mesh, const PlacedMesh& copies) {
        Array<Vec3> moves, sizes;
        Array<Vec4> turns;
        for (const glm::mat4& place : copies.places) {
            const MovedTurnedSized one = taken_apart(directed_place(place, options_));
            moves.push_back(one.move);
            turns.push_back(one.turn);
            sizes.push_back(one.size);
        }
        OrderedJson attributes;
        attributes["TRANSLATION"] = body_.floats(std::move(moves), 0);
        attributes["ROTATION"] = body_.floats(std::move(turns), 0);
        attributes["SCALE"] = body_.floats(std::move(sizes), 0);
        if (options_.attributes) {
            const std::vector<const Attribute*> own = own_values(copies.values, Domain::instance);
            const std::vector<std::string> names = plain_names(own, true);
            std::vector<Index> every(copies.places.size());
            std::iota(every.begin(), every.end(), Index(0));
            for (std::size_t i = 0; i < own.size(); ++i)
                attributes["_" + names[i]] = body_.gathered(*own[i]->values, every, 0);
        }
        body_.extension("EXT_mesh_gpu_instancing", true);
        return body_.node({{"name", name + ".copies"},
                           {"mesh", mesh},
                           {"extensions", {{"EXT_mesh_gpu_instancing", {{"attributes", attributes}}}}}});
    }

    /// Nodes for the joints, each moved from its parent, and the weights of a mesh that has just been written.
    std::size_t skin_of(const Mesh& mesh, const NamedShape& named, const GlbMesh& written) {
        const SkinWeights own = skin_weights(mesh);
        SkinWeights weights;
        for (const Index corner : written.source) {
            weights.joints.push_back(own.joints[mesh.topology->corner_vertex[corner]]);
            weights.weights.push_back(own.weights[mesh.topology->corner_vertex[corner]]);
        }
        const auto& joints = mesh.skeleton->joints;
        const std::size_t first = node_count();
        const auto in_file = [&](const Vec3& v) {
            return directed(v, *options_.up) * static_cast<float>(options_.scale);
        };
        OrderedJson numbers = OrderedJson::array();
        std::vector<Vec3> at;
        Array<glm::mat4> inverses;
        for (std::size_t j = 0; j < joints.size(); ++j) {
            at.push_back(in_file(Vec3(joints[j].at)));
            const bool root = joints[j].parent == no_index;
            // A skinned node's own place is not looked at: the joints stand where the part does.
            const Vec3 by = !root                 ? at[j] - at[joints[j].parent]
                            : named.at == Vec3(0) ? at[j]
                                                  : at[j] + in_file(named.at);
            body_.node({{"name", joints[j].name}, {"translation", {by.x, by.y, by.z}}});
            numbers.push_back(first + j);
            glm::mat4 inverse(1);
            inverse[3] = Vec4(-at[j], 1);
            inverses.push_back(inverse);
            if (root)
                body_.json["scenes"][0]["nodes"].push_back(first + j);
            else
                body_.json["nodes"][first + joints[j].parent]["children"].push_back(first + j);
        }
        const std::size_t of_vertex = body_.accessor(body_.view(std::move(weights.joints), gltf::target_vertices),
                                                     gltf::component_ushort, written.vertices, "VEC4");
        const std::size_t shares = body_.accessor(body_.view(std::move(weights.weights), gltf::target_vertices),
                                                  gltf::component_float, written.vertices, "VEC4");
        for (OrderedJson& primitive : body_.json["meshes"][written.number]["primitives"]) {
            primitive["attributes"]["JOINTS_0"] = of_vertex;
            primitive["attributes"]["WEIGHTS_0"] = shares;
        }
        const std::size_t back =
            body_.accessor(body_.view(std::move(inverses), 0), gltf::component_float, joints.size(), "MAT4");
        body_.json["skins"].push_back(
            {{"name", named.name}, {"joints", std::move(numbers)}, {"inverseBindMatrices", back}});
        return body_.json["skins"].size() - 1;
    }

    /// Column by column.
    static OrderedJson matrix_json(const glm::mat4& m) {
        OrderedJson json = OrderedJson::array();
        for (int c = 0; c < 4; ++c)
            for (int r = 0; r < 4; ++r) json.push_back(r == 3 ? (c == 3 ? 1.0 : 0.0) : static_cast<double>(m[c][r]));
        return json;
    }

    const ExportOptions& options_;
    GlbBody body_;
    GlbMeshes meshes_;
    GlbMotion motion_;
    std::set<std::string> names_;  ///< of copied shapes
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
                                   .keeps = Keep::copies | Keep::motion | Keep::levels | Keep::values |
                                            Keep::on_copies | Keep::colours | Keep::materials | Keep::light_uvs |
                                            Keep::skins,
                                   .most_bytes = 0xFFFFFFFF,
                                   .write = write_glb});

}  // namespace

}  // namespace bricol
