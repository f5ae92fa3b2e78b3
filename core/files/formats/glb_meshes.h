// SPDX-License-Identifier: GPL-3.0-or-later
// Meshes and materials of a binary glTF file, each written once however often it stands.
#pragma once

#include "core/files/formats/glb_body.h"
#include "core/kernels/split_vertices.h"

namespace bricol {

/// A mesh as it stands in the file: what its vertices came from.
struct GlbMesh {
    std::size_t number = 0;
    std::size_t vertices = 0;
    Array<Index> source;  ///< a corner that each vertex came from
};

class GlbMeshes {
public:
    GlbMeshes(GlbBody& body, const ExportOptions& options) : body_(body), options_(options) {}

    /// The shape's own mesh, without copies. `moved` are its points in each frame, which become morph targets.
    const GlbMesh& add(const ShapePtr& shape, const std::string& name, std::span<const Array<Vec3>> moved = {});
    /// Puts the materials into the head.
    void finish();

private:
    using Runs = std::vector<std::pair<std::size_t, std::size_t>>;
    std::size_t material_of(std::int32_t number, const Material& material);
    std::size_t no_material(const Mesh& mesh);
    Runs by_material(const Mesh& mesh, SplitMesh& split);
    void add_values(const Mesh& mesh, const SplitMesh& split, OrderedJson& attributes);
    OrderedJson targets_of(const Mesh& mesh, const GlbMesh& written, std::span<const Array<Vec3>> moved);

    GlbBody& body_;
    const ExportOptions& options_;
    OrderedJson materials_ = OrderedJson::array();
    std::map<std::int32_t, std::size_t> material_index_;
    std::map<const Shape*, GlbMesh> written_;
    std::vector<ShapePtr> kept_;  // so that no address in written_ is used twice
};

}  // namespace bricol
