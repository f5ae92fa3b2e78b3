// SPDX-License-Identifier: GPL-3.0-or-later
#include <assimp/BaseImporter.h>
#include <assimp/GltfMaterial.h>
#include <assimp/IOSystem.hpp>
#include <assimp/Importer.hpp>
#include <assimp/MemoryIOWrapper.h>
#include <assimp/ObjMaterial.h>
#include <assimp/importerdesc.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include "reader/readers.h"

namespace bricol::reader {

namespace {

std::string words(const aiString& text) { return {text.data, text.length}; }

/// Leaves only the importers of this kind of file: no other one's code ever sees it.
void keep_only(Assimp::Importer& importer, const std::string& suffix) {
    for (std::size_t i = importer.GetImporterCount(); i-- > 0;) {
        Assimp::BaseImporter* loader = importer.GetImporter(i);
        std::set<std::string> known;
        loader->GetExtensionList(known);
        if (!known.contains(suffix)) {
            importer.UnregisterLoader(loader);
            delete loader;
        }
    }
}

/// The one file, and under every other name what was given as its materials: once, so that they are not read twice
/// where it names several.
class GivenFiles final : public Assimp::IOSystem {
public:
    GivenFiles(std::string name, std::string_view text, std::string_view materials)
        : name_(std::move(name)), text_(text), materials_(materials) {}
    bool Exists(const char* path) const override { return path == name_ || !materials_.empty(); }
    char getOsSeparator() const override { return '/'; }
    Assimp::IOStream* Open(const char* path, const char*) override {
        const std::string_view what = path == name_ ? text_ : std::exchange(materials_, {});
        if (what.empty()) return nullptr;
        return new Assimp::MemoryIOStream(reinterpret_cast<const std::uint8_t*>(what.data()), what.size());
    }
    void Close(Assimp::IOStream* stream) override { delete stream; }

private:
    std::string name_;
    std::string_view text_, materials_;
};

/// What OBJ's material files say in their own way. Pr and Pm for roughness and metal are common practice; without them
/// the exponent Ns gives the roughness that reflects alike (B. Walter and others, "Microfacet models for refraction
/// through rough surfaces", 2007, of Phong's: alpha² = 2 / (n + 2); glTF's roughness is the root of alpha). Illumination
/// models 4, 6, 7 and 9 let light through, as much as the filter Tf (Wavefront's appendix B1).
void take_obj_surface(const aiMaterial& from, wire::Material& out) {
    if (from.Get(AI_MATKEY_ROUGHNESS_FACTOR, out.roughness) != AI_SUCCESS)
        if (float exponent = 0; from.Get(AI_MATKEY_SHININESS, exponent) == AI_SUCCESS && exponent > 0)
            out.roughness = std::pow(2 / (exponent + 2), 0.25f);
    from.Get(AI_MATKEY_METALLIC_FACTOR, out.metallic);
    int model = 0;
    aiColor3D filter(1, 1, 1);
    from.Get(AI_MATKEY_OBJ_ILLUM, model), from.Get(AI_MATKEY_COLOR_TRANSPARENT, filter);
    if (model == 4 || model == 6 || model == 7 || model == 9)
        out.transmission = std::clamp((filter.r + filter.g + filter.b) / 3, 0.0f, 1.0f);
}

wire::Material material_of(const aiMaterial& from, bool gltf) {
    wire::Material out;
    if (aiString name; from.Get(AI_MATKEY_NAME, name) == AI_SUCCESS) out.name = words(name);
    aiColor4D colour(0.8f, 0.8f, 0.8f, 1);
    if (from.Get(AI_MATKEY_BASE_COLOR, colour) != AI_SUCCESS) from.Get(AI_MATKEY_COLOR_DIFFUSE, colour);
    out.colour = {colour.r, colour.g, colour.b, colour.a};
    if (float opacity = 1; !gltf && from.Get(AI_MATKEY_OPACITY, opacity) == AI_SUCCESS) out.colour[3] = opacity;
    if (gltf) {
        out.metallic = out.roughness = 1;  // glTF 2.0, section 5.22
        from.Get(AI_MATKEY_METALLIC_FACTOR, out.metallic);
        from.Get(AI_MATKEY_ROUGHNESS_FACTOR, out.roughness);
        from.Get(AI_MATKEY_TRANSMISSION_FACTOR, out.transmission);
    }
    from.Get(AI_MATKEY_REFRACTI, out.ior);
    if (aiColor3D glow; from.Get(AI_MATKEY_COLOR_EMISSIVE, glow) == AI_SUCCESS)
        out.emission = {glow.r, glow.g, glow.b};
    if (int both = 0; from.Get(AI_MATKEY_TWOSIDED, both) == AI_SUCCESS) out.double_sided = both != 0;
    return out;
}

wire::Mesh mesh_of(const aiMesh& from) {
    wire::Mesh out;
    out.name = words(from.mName);
    const auto three = [](const aiVector3D& v) {
        return std::array<float, 3>{static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
    };
    const std::size_t n = from.mNumVertices;
    out.points.reserve(n);
    for (std::size_t i = 0; i < n; ++i) out.points.push_back(three(from.mVertices[i]));
    for (std::size_t i = 0; from.HasNormals() && i < n; ++i) out.normals.push_back(three(from.mNormals[i]));
    for (std::size_t i = 0; from.HasTextureCoords(0) && i < n; ++i)
        out.uvs.push_back({from.mTextureCoords[0][i].x, from.mTextureCoords[0][i].y});
    for (std::size_t i = 0; from.HasVertexColors(0) && i < n; ++i) {
        const aiColor4D& c = from.mColors[0][i];
        out.colours.push_back({c.r, c.g, c.b, c.a});
    }
    out.face_sizes.reserve(from.mNumFaces);
    out.corners.reserve(3 * std::size_t(from.mNumFaces));
    for (std::size_t f = 0; f < from.mNumFaces; ++f) {
        const aiFace& face = from.mFaces[f];
        out.face_sizes.push_back(face.mNumIndices);
        out.corners.insert(out.corners.end(), face.mIndices, face.mIndices + face.mNumIndices);
    }
    out.materials = {from.mMaterialIndex};
    return out;
}

/// A node's own meshes, then its children's; on a stack of its own, as files may nest as deeply as they like.
void add_places(const aiNode& root, wire::File& out) {
    struct Open {
        const aiNode* node;
        aiMatrix4x4 above;
    };
    std::vector<Open> open{{&root, aiMatrix4x4()}};
    while (!open.empty()) {
        const auto [node, above] = open.back();
        open.pop_back();
        const aiMatrix4x4 matrix = above * node->mTransformation;
        if (node->mNumMeshes > 0) {
            wire::Place place;
            place.name = words(node->mName);
            for (unsigned column = 0; column < 4; ++column)
                for (unsigned row = 0; row < 4; ++row)
                    place.matrix[column * 4 + row] = static_cast<float>(matrix[row][column]);
            place.meshes.assign(node->mMeshes, node->mMeshes + node->mNumMeshes);
            out.places.push_back(std::move(place));
        }
        for (unsigned c = node->mNumChildren; c-- > 0;) open.push_back({node->mChildren[c], matrix});
    }
}

}  // namespace

wire::File read_by_assimp(const std::string& suffix, std::string_view text, std::string_view materials) {
    auto& importer = *new Assimp::Importer;  // the process ends before it would be worth taking apart
    keep_only(importer, suffix);
    importer.SetPropertyBool(AI_CONFIG_IMPORT_NO_SKELETON_MESHES, true);
    const std::string name = "shapes." + suffix;
    importer.SetIOHandler(new GivenFiles(name, text, materials));
    const aiScene* scene = importer.ReadFile(name, 0);
    wire::File out;
    if (!scene || !scene->mRootNode) {
        out.failed = importer.GetErrorString();
        return out;
    }
    const bool gltf = suffix == "glb" || suffix == "gltf";
    if (gltf) out.metres = 1, out.up = 'y';  // glTF 2.0, section 3.4
    for (unsigned m = 0; m < scene->mNumMaterials; ++m) {
        out.materials.push_back(material_of(*scene->mMaterials[m], gltf));
        if (suffix == "obj") take_obj_surface(*scene->mMaterials[m], out.materials.back());
    }
    out.meshes.reserve(scene->mNumMeshes);
    for (unsigned m = 0; m < scene->mNumMeshes; ++m) out.meshes.push_back(mesh_of(*scene->mMeshes[m]));
    add_places(*scene->mRootNode, out);
    out.one_list = suffix == "obj";
    if (scene->mNumTextures > 0) out.notes.emplace_back("Pictures on materials are left out.");
    if (scene->mNumAnimations > 0) out.notes.emplace_back("Animations are left out.");
    return out;
}

}  // namespace bricol::reader
