// SPDX-License-Identifier: GPL-3.0-or-later
// Meshes, materials and places of copies on the graphics card, uploaded once and found again. Needs a current context.
#pragma once

#include <future>
#include <list>
#include <memory>

#include "app/viewport/stand_in.h"
#include "core/shape/shape.h"

namespace bricol {

/// Where the copies of one mesh stand; one identity for a mesh that stands alone.
using Places = std::shared_ptr<const Array<glm::mat4>>;
Places standing_alone();
/// Colours of copies, one a place; null when all are white.
using Tints = std::shared_ptr<const Array<Vec4>>;

struct GpuMesh {
    unsigned buffer = 0, array = 0, materials = 0;  ///< OpenGL names
    int count = 0;                                  ///< vertices, three a triangle
    bool closed = false;
    bool light = false;                ///< a stand-in, with marks for sharp edges only
    bool glass = false, solid = true;  ///< some faces let light through; some do not
};

/// One copy as the shader reads it.
struct GpuPlace {
    glm::mat4 place;
    Vec4 tint;  ///< as on a screen; alpha 0 where nothing was given
};

struct GpuPlaces {
    unsigned buffer = 0;
    int plain = 0, mirrored = 0;  ///< mirrored ones stand behind the others: their faces run the other way round
};

class MeshStore {
public:
    MeshStore() = default;
    MeshStore(const MeshStore&) = delete;
    MeshStore& operator=(const MeshStore&) = delete;

    /// The mesh, or when `most_triangles` is less than it has a simplified stand-in without edge marks.
    const GpuMesh& mesh(const Mesh& mesh, std::size_t most_triangles = ~std::size_t(0), const Paint& paint = {});
    /// For pictures while the hand moves: the stand-in that `prepare` made for meshes of this topology, or the whole
    /// mesh while there is none.
    const GpuMesh& moving(const Mesh& mesh, const Paint& paint = {});
    /// Begins to make a stand-in of about so many triangles on another thread, once for a topology.
    void prepare(const Mesh& mesh, std::size_t triangles);
    /// Waits for those under way; for tests and measurements.
    void finish_preparing();
    const GpuPlaces& places(const Places& places, const Tints& tints = {});

private:
    const GpuMesh& kept(const Mesh& mesh, std::size_t triangles, const StandIn* light, const Paint& paint);

    struct KeptMesh {
        std::array<const void*, 6> key{};
        Paint paint;
        std::size_t triangles = 0;
        bool light = false;                      ///< a stand-in for moving pictures
        std::weak_ptr<const Array<Vec3>> alive;  // an address may be used again by another mesh
        GpuMesh gpu;
    };
    struct KeptStandIn {
        std::weak_ptr<const Topology> of;
        std::shared_future<StandIn> light;
    };
    struct KeptPlaces {
        std::weak_ptr<const Array<glm::mat4>> places;
        GpuPlaces gpu;
    };
    std::list<KeptMesh> meshes_;
    std::list<KeptStandIn> stand_ins_;
    std::list<KeptPlaces> places_;
};

}  // namespace bricol
