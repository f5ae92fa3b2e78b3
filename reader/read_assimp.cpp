// SPDX-License-Identifier: GPL-3.0-or-later
#include <assimp/BaseImporter.h>
#include <assimp/GltfMaterial.h>
#include <assimp/Importer.hpp>
#include <assimp/importerdesc.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <cmath>
#include <set>

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

wire::File read_by_assimp(const std::string& suffix, const std::string& text) {
    auto& importer = *new Assimp::Importer;  // the process ends before it would be worth taking apart
    keep_only(importer, suffix);
    importer.SetPropertyBool(AI_CONFIG_IMPORT_NO_SKELETON_MESHES, true);
    const aiScene* scene = importer.ReadFileFromMemory(text.data(), text.size(), 0, suffix.c_str());
    wire::File out;
    if (!scene || !scene->mRootNode) {
        out.failed = importer.GetErrorString();
        return out;
    }
    const bool gltf = suffix == "glb" || suffix == "gltf";
    if (gltf) out.metres = 1, out.up = 'y';  // glTF 2.0, section 3.4
    for (unsigned m = 0; m < scene->mNumMaterials; ++m) out.materials.push_back(material_of(*scene->mMaterials[m], gltf));
    out.meshes.reserve(scene->mNumMeshes);
    for (unsigned m = 0; m < scene->mNumMeshes; ++m) out.meshes.push_back(mesh_of(*scene->mMeshes[m]));
    add_places(*scene->mRootNode, out);
    out.one_list = suffix == "obj";
    if (scene->mNumTextures > 0) out.notes.emplace_back("Pictures on materials are left out.");
    if (scene->mNumAnimations > 0) out.notes.emplace_back("Animations are left out.");
    if (suffix == "obj" && text.find("mtllib") != std::string::npos)
        out.notes.emplace_back(
            "Its materials stand in a file of their own, which is not read: faces come without them, sets of the same "
            "names tell where they were.");
    return out;
}

}  // namespace bricol::reader
