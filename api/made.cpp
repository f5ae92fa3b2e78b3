// SPDX-License-Identifier: GPL-3.0-or-later
// Making recipes for other programs, and what came of it as plain arrays.
#include <limits>

#include "api/recipe.h"
#include "core/files/delivered.h"
#include "core/files/export.h"
#include "core/inspect/told.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/split_vertices.h"

namespace bricol::api {

namespace {

/// A finding's texts, kept for the host.
struct Told {
    Severity severity;
    std::string code, part, step, text;
};

struct MadeMesh {
    std::string name;
    SplitMesh arrays;
    std::vector<bricol_run> runs;
};

/// Everything a host can ask for, made once and never changed.
struct Taken {
    std::vector<NamedShape> shapes;
    ShapeNames names;
    std::vector<MadeMesh> meshes;
    std::vector<std::pair<std::size_t, bricol_instance>> instances;  // part, the rest
    std::vector<std::pair<std::int32_t, Material>> materials;
    std::vector<Told> told;
    std::map<const Shape*, std::size_t> known;  // mesh of each shape

    void take(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts);

private:
    std::size_t mesh_of(const PlacedMesh& placed, const std::string& part);
    void sort_by_material(const Mesh& mesh, MadeMesh& out);
    std::uint32_t material_of(const Mesh& mesh, std::int32_t number);
};

std::uint32_t Taken::material_of(const Mesh& mesh, std::int32_t number) {
    for (std::size_t i = 0; i < materials.size(); ++i)
        if (materials[i].first == number) return static_cast<std::uint32_t>(i);
    const Material* found = find_material(mesh.materials.get(), number);
    if (!found) return std::numeric_limits<std::uint32_t>::max();
    materials.emplace_back(number, *found);
    return static_cast<std::uint32_t>(materials.size() - 1);
}

void Taken::sort_by_material(const Mesh& mesh, MadeMesh& out) {
    const auto* numbers = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    std::map<std::uint32_t, Array<Index>> runs;
    for (std::size_t i = 0; i < out.arrays.triangle_face.size(); ++i) {
        const std::uint32_t material = numbers ? material_of(mesh, (*numbers)[out.arrays.triangle_face[i]])
                                               : std::numeric_limits<std::uint32_t>::max();
        for (std::size_t k = 0; k < 3; ++k) runs[material].push_back(out.arrays.triangles[3 * i + k]);
    }
    out.arrays.triangles.clear();
    for (const auto& [material, run] : runs) {
        out.runs.push_back({material, static_cast<std::uint32_t>(out.arrays.triangles.size() / 3),
                            static_cast<std::uint32_t>(run.size() / 3)});
        out.arrays.triangles.insert(out.arrays.triangles.end(), run.begin(), run.end());
    }
}

std::size_t Taken::mesh_of(const PlacedMesh& placed, const std::string& part) {
    const auto [found, fresh] = known.try_emplace(placed.shape.get(), meshes.size());
    if (!fresh) return found->second;
    const auto name = names.find(placed.shape);
    MadeMesh& out = meshes.emplace_back();
    out.name = name == names.end() ? part : name->second;
    out.arrays = split_vertices(placed.shape->mesh);
    sort_by_material(placed.shape->mesh, out);
    return found->second;
}

void Taken::take(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts) {
    shapes = shapes_to_write(recipe, made, parts);
    names = shape_names(recipe, made);
    for (std::size_t s = 0; s < shapes.size(); ++s)
        for (const PlacedMesh& placed : placed_meshes(shapes[s].shape)) {
            if (placed.shape->mesh.face_count() == 0) continue;
            stop_point();
            bricol_instance instance{};
            instance.mesh = mesh_of(placed, shapes[s].name);
            for (std::size_t i = 0; i < placed.places.size(); ++i) {
                for (int c = 0; c < 4; ++c)
                    for (int r = 0; r < 4; ++r) instance.place[4 * c + r] = placed.places[i][c][r];
                const Vec4 tint = placed.tints.empty() ? Vec4(1) : placed.tints[i];
                for (int k = 0; k < 4; ++k) instance.tint[k] = tint[k];
                instances.emplace_back(s, instance);
            }
        }
    each_told(recipe, made,
              [&](const std::string& part, const std::string& step, const std::vector<Finding>& findings) {
                  for (const Finding& finding : findings)
                      told.push_back({finding.severity, finding.code, part, step, finding.text});
              });
}

Handles<Taken>& all_made() {
    static Handles<Taken> all;
    return all;
}

bricol_status nothing_made() {
    return wrong_use("This was not made.", "It is null, or it was freed; make it with bricol_make.");
}

/// Fills a struct with the index-th of something.
template <class T, class Fill>
bricol_status give(bricol_made* made, std::size_t index, T* out, std::size_t (*count)(const Taken&), Fill fill) {
    return guarded([&]() -> bricol_status {
        const auto taken = all_made().find(made);
        if (!taken) return nothing_made();
        if (index >= count(*taken)) return wrong_use("There are not so many.");
        T info{};
        fill(*taken, info);
        return hand_out(info, out) ? BRICOL_GOOD : wrong_use("The struct is null, or its size is not set.");
    });
}

std::size_t count_meshes(const Taken& taken) { return taken.meshes.size(); }
std::size_t count_materials(const Taken& taken) { return taken.materials.size(); }
std::size_t count_instances(const Taken& taken) { return taken.instances.size(); }
std::size_t count_told(const Taken& taken) { return taken.told.size(); }

std::size_t counted(bricol_made* made, std::size_t (*count)(const Taken&)) {
    const auto taken = all_made().find(made);
    return taken ? count(*taken) : 0;
}

template <class T>
const float* floats(const Array<T>& values) {
    return values.empty() ? nullptr : &values.data()->x;
}

/// Says that a making is under way, for bricol_stop.
class UnderWay {
public:
    explicit UnderWay(OpenRecipe& open) : open_(open) {
        open_.stop = false;
        open_.making = true;
    }
    ~UnderWay() { open_.making = false; }
    UnderWay(const UnderWay&) = delete;
    UnderWay& operator=(const UnderWay&) = delete;

private:
    OpenRecipe& open_;
};

}  // namespace

}  // namespace bricol::api

using namespace bricol;
using namespace bricol::api;

bricol_status bricol_make(bricol_recipe* recipe, const char* part, bricol_made** out) {
    return guarded([&]() -> bricol_status {
        if (!out) return wrong_use("The place for what is made is null.");
        *out = nullptr;
        const auto open = recipes().find(recipe);
        if (!open) return no_recipe();
        const std::lock_guard lock(open->mutex);
        std::vector<std::string> parts;
        if (part) {
            if (!open->recipe.part(part)) return failed(BRICOL_WRONG_USE, {"There is no such part.", part, ""});
            parts.emplace_back(part);
        }
        const UnderWay under_way(*open);
        MakeOptions options;
        options.environment = open->environment;
        options.for_export = true;
        options.stop = &open->stop;
        const Made made = open->maker.make(open->recipe, options);
        if (made.stopped) throw Stopped();
        const StopScope scope(&open->stop);
        auto taken = std::make_shared<Taken>();
        taken->take(open->recipe, made, parts);
        *out = reinterpret_cast<bricol_made*>(all_made().keep(std::move(taken)));
        if (!made.has_errors(open->recipe, parts)) return BRICOL_GOOD;
        return failed(BRICOL_BROKEN, {"The recipe has errors.", open->recipe.title, "Read its findings."});
    });
}

void bricol_stop(bricol_recipe* recipe) {
    if (const auto open = recipes().find(recipe); open && open->making) open->stop = true;
}

void bricol_free(bricol_made* made) { all_made().drop(made); }

size_t bricol_mesh_count(bricol_made* made) { return counted(made, count_meshes); }
bricol_status bricol_mesh_at(bricol_made* made, size_t index, bricol_mesh* out) {
    return give(made, index, out, count_meshes, [&](const Taken& taken, bricol_mesh& info) {
        const MadeMesh& mesh = taken.meshes[index];
        info.name = mesh.name.c_str();
        info.vertex_count = mesh.arrays.positions.size();
        info.triangle_count = mesh.arrays.triangles.size() / 3;
        info.run_count = mesh.runs.size();
        info.positions = floats(mesh.arrays.positions);
        info.normals = floats(mesh.arrays.normals);
        info.uvs = floats(mesh.arrays.uvs);
        info.colours = floats(mesh.arrays.colours);
        info.triangles = mesh.arrays.triangles.data();
        info.runs = mesh.runs.data();
    });
}

size_t bricol_material_count(bricol_made* made) { return counted(made, count_materials); }
bricol_status bricol_material_at(bricol_made* made, size_t index, bricol_material* out) {
    return give(made, index, out, count_materials, [&](const Taken& taken, bricol_material& info) {
        const Material& material = taken.materials[index].second;
        info.name = material.name.c_str();
        for (int k = 0; k < 3; ++k) info.colour[k] = material.colour[k], info.emission[k] = material.emission[k];
        info.alpha = material.alpha;
        info.metallic = material.metallic;
        info.roughness = material.roughness;
        info.transmission = material.transmission;
        info.ior = material.ior;
        info.double_sided = material.double_sided;
    });
}

size_t bricol_instance_count(bricol_made* made) { return counted(made, count_instances); }
bricol_status bricol_instance_at(bricol_made* made, size_t index, bricol_instance* out) {
    return give(made, index, out, count_instances, [&](const Taken& taken, bricol_instance& info) {
        info = taken.instances[index].second;
        info.part = taken.shapes[taken.instances[index].first].name.c_str();
    });
}

size_t bricol_finding_count(bricol_made* made) { return counted(made, count_told); }
bricol_status bricol_finding_at(bricol_made* made, size_t index, bricol_finding* out) {
    return give(made, index, out, count_told, [&](const Taken& taken, bricol_finding& info) {
        const Told& told = taken.told[index];
        info.severity = static_cast<bricol_severity>(told.severity);
        info.code = told.code.c_str();
        info.part = told.part.c_str();
        info.step = told.step.c_str();
        info.text = told.text.c_str();
    });
}

bricol_status bricol_write(bricol_made* made, const char* path) {
    return guarded([&]() -> bricol_status {
        const auto taken = all_made().find(made);
        if (!taken) return nothing_made();
        if (!path) return wrong_use("The path is null.");
        ExportOptions options;
        options.copied = &taken->names;
        const auto problem = export_shapes(taken->shapes, path, options);
        return problem ? failed(BRICOL_FILE, *problem) : BRICOL_GOOD;
    });
}
