// SPDX-License-Identifier: GPL-3.0-or-later
// Universal Scene Description as text (OpenUSD's crate-free "usda 1.0"): polygons, creases, sets of UVs, colours, the
// artist's own values, materials as UsdPreviewSurface, copies as instances of one prototype, what bodies bump into as
// guides, movement as time samples, presets as a variant set. Matrices have the move in their last row, as USD wants.
#include <algorithm>
#include <fmt/format.h>
#include <set>

#include "core/files/formats/text_rows.h"
#include "core/files/formats/usda_meshes.h"
#include "core/files/motion.h"
#include "core/kernels/real_geometry.h"

namespace bricol {

namespace {

/// Materials of everything in the file, each under a name of its own.
class UsdaMaterials {
public:
    UsdaMaterials(std::string root, std::span<const NamedShape> shapes, std::span<const PresetShapes> presets)
        : root_(std::move(root)) {
        const auto gather = [&](std::span<const NamedShape> list) {
            for (const NamedShape& named : list)
                for (const Material& material : materials_of(*named.shape)) add(material);
        };
        gather(shapes);
        for (const PresetShapes& preset : presets) gather(preset.shapes);
    }

    void write(UsdaText& out) const {
        if (order_.empty()) return;
        out.open("def Scope \"Materials\"");
        for (const auto& [name, m] : order_) {
            out.open(fmt::format("def Material \"{}\"", name));
            out.line(
                fmt::format("token outputs:surface.connect = </{}/Materials/{}/surface.outputs:surface>", root_, name));
            out.open("def Shader \"surface\"");
            out.line("uniform token info:id = \"UsdPreviewSurface\"");
            out.line("color3f inputs:diffuseColor = " + usda_tuple(m.colour));
            out.line(fmt::format("float inputs:metallic = {}", m.metallic));
            out.line(fmt::format("float inputs:roughness = {}", m.roughness));
            // UsdPreviewSurface knows no transmission: what lets light through is let through as a whole.
            const float opacity = m.transmission > 0 ? std::min(m.alpha, 1 - m.transmission) : m.alpha;
            if (opacity < 1) out.line(fmt::format("float inputs:opacity = {}", opacity));
            if (m.transmission > 0) out.line(fmt::format("float inputs:ior = {}", m.ior));
            if (m.coat > 0) {
                out.line(fmt::format("float inputs:clearcoat = {}", m.coat));
                out.line(fmt::format("float inputs:clearcoatRoughness = {}", m.coat_roughness));
            }
            if (m.emission != Vec3(0)) out.line("color3f inputs:emissiveColor = " + usda_tuple(m.emission));
            out.line("token outputs:surface");
            out.close();
            out.close();
        }
        out.close();
    }

    std::map<std::int32_t, std::string> paths() const {
        std::map<std::int32_t, std::string> out;
        for (const auto& [number, place] : places_)
            out[number] = fmt::format("</{}/Materials/{}>", root_, order_[place].first);
        return out;
    }

private:
    void add(const Material& material) {
        const auto [found, fresh] = places_.try_emplace(material_number(material), order_.size());
        if (fresh) order_.emplace_back(names_.fresh(material.name), material);
    }

    std::string root_;
    std::map<std::int32_t, std::size_t> places_;
    std::vector<std::pair<std::string, Material>> order_;
    UsdaNames names_;
};

class Usda {
public:
    Usda(const ExportOptions& options, const Sink& sink) : options_(options), out_(sink) {}

    void write(std::span<const NamedShape> shapes) {
        const std::string root = usda_name(options_.stem.empty() ? "asset" : options_.stem);
        const UsdaMaterials materials(root, shapes, options_.presets);
        materials_ = materials.paths();
        head(root, shapes);
        std::string presets_in_words;
        out_.line(fmt::format("def Xform \"{}\" (", root));
        out_.line("    kind = \"component\"");
        if (!options_.presets.empty()) {
            out_.line("    prepend variantSets = \"preset\"");
            out_.line("    variants = {");
            out_.line("        string preset = \"as_it_stands\"");
            out_.line("    }");
        }
        out_.line(")");
        out_.open();
        materials.write(out_);
        if (options_.presets.empty()) {
            add_all(shapes, "/" + root);
        } else {
            UsdaNames names;
            out_.open_here("variantSet \"preset\" = {");
            variant(names.fresh("as_it_stands"), shapes, "/" + root);
            for (const PresetShapes& preset : options_.presets)
                variant(names.fresh(preset.name), preset.shapes, "/" + root);
            out_.close();
        }
        out_.close();
        out_.flush();
    }

private:
    void head(const std::string& root, std::span<const NamedShape> shapes) {
        out_.line("#usda 1.0");
        out_.line("(");
        out_.line("    customLayerData = {");
        out_.line("        string creator = \"Bricol\"");
        out_.line("    }");
        out_.line(fmt::format("    defaultPrim = \"{}\"", root));
        out_.line(fmt::format("    metersPerUnit = {}", 1 / options_.scale));
        out_.line(fmt::format("    upAxis = \"{}\"", *options_.up == UpAxis::y ? "Y" : "Z"));
        for (const NamedShape& named : shapes) {
            if (!named.motion || named.motion->seconds.size() < 2) continue;
            const double rate = 1 / static_cast<double>(named.motion->seconds[1]);
            out_.line("    startTimeCode = 0");
            out_.line(fmt::format("    endTimeCode = {}", named.motion->seconds.size() - 1));
            out_.line(fmt::format("    timeCodesPerSecond = {:.6g}", rate));
            out_.line(fmt::format("    framesPerSecond = {:.6g}", rate));
            break;
        }
        out_.line(")");
        out_.line("");
    }

    void variant(const std::string& name, std::span<const NamedShape> shapes, const std::string& path) {
        out_.open_here(fmt::format("\"{}\" {{", name));
        add_all(shapes, path);
        out_.close();
    }

    void add_all(std::span<const NamedShape> shapes, const std::string& path) {
        UsdaNames names;
        names.fresh("Materials");
        for (const NamedShape& named : shapes) add(named, names.fresh(named.name), path);
    }

    void add(const NamedShape& named, const std::string& name, const std::string& path) {
        out_.open(fmt::format("def Xform \"{}\"", name));
        if (named.collision) out_.line("uniform token purpose = \"guide\"");
        // Lighter ones lie in the same place: what shows them chooses.
        if (named.level > 0) out_.line("token visibility = \"invisible\"");
        if (named.at != Vec3(0)) {
            const DVec3 at(directed(named.at, *options_.up) * static_cast<float>(options_.scale));
            out_.line(fmt::format("double3 xformOp:translate = ({}, {}, {})", at.x, at.y, at.z));
            out_.line("uniform token[] xformOpOrder = [\"xformOp:translate\"]");
        }
        const std::vector<PlacedMesh> placed = placed_meshes(named.shape);
        const PartMotion* moves =
            named.motion && named.motion->placed.size() == placed.size() ? named.motion.get() : nullptr;
        UsdaNames inner;
        for (std::size_t i = 0; i < placed.size(); ++i)
            add(named, placed[i], moves ? &moves->placed[i] : nullptr, inner, path + "/" + name);
        out_.close();
    }

    void add(const NamedShape& named, const PlacedMesh& placed, const PlacedMotion* moves, UsdaNames& names,
             const std::string& path) {
        if (placed.shape->mesh.face_count() == 0) return;
        const bool own = placed.shape == named.shape;
        std::string wanted = own ? named.name : "copied";
        if (!own && options_.copied)
            if (const auto found = options_.copied->find(placed.shape); found != options_.copied->end())
                wanted = found->second;
        const UsdaMesh mesh{options_, materials_, moves && !moves->points.empty() ? &moves->points : nullptr};
        const bool moving = moves && !moves->places.empty();
        if (!placed.tints.empty()) {  // USD's colour of an instance would take the place of the points' own
            mesh.write(out_, "def", names.fresh(wanted), written_out(placed)->mesh, {});
            return;
        }
        if (placed.places.size() == 1) {
            const bool stands = placed.places[0] == glm::mat4(1) && !moving;
            mesh.write(out_, "def", names.fresh(wanted), placed.shape->mesh,
                       stands ? std::vector<std::string>() : place_lines(placed, moves, 0));
            return;
        }
        const std::string prototype = names.fresh(wanted + "_once");
        mesh.write(out_, "class", prototype, placed.shape->mesh, {});
        for (std::size_t i = 0; i < placed.places.size(); ++i) {
            out_.line(fmt::format("def \"{}\" (", names.fresh(fmt::format("{}_{}", wanted, i + 1))));
            out_.line("    instanceable = true");
            out_.line(fmt::format("    prepend references = <{}/{}>", path, prototype));
            out_.line(")");
            out_.open();
            for (const std::string& line : place_lines(placed, moves, i)) out_.line(line);
            out_.close();
        }
    }

    std::vector<std::string> place_lines(const PlacedMesh& placed, const PlacedMotion* moves, std::size_t copy) const {
        std::vector<std::string> out;
        if (!moves || moves->places.empty()) {
            out.push_back("matrix4d xformOp:transform = " + usda_matrix(placed.places[copy], options_));
        } else {
            out.emplace_back("matrix4d xformOp:transform.timeSamples = {");
            for (std::size_t k = 0; k < moves->places.size(); ++k)
                out.push_back(fmt::format("    {}: {},", k, usda_matrix(moves->places[k][copy], options_)));
            out.emplace_back("}");
        }
        out.emplace_back("uniform token[] xformOpOrder = [\"xformOp:transform\"]");
        return out;
    }

    const ExportOptions& options_;
    UsdaText out_;
    std::map<std::int32_t, std::string> materials_;
};

void write_usda(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    Usda(options, sink).write(shapes);
}

const RegisteredFormat usda_format({.suffix = "usda",
                                    .name = "USD text",
                                    .customs = "metres, z up (written into the file)",
                                    .scale = 1,
                                    .up = UpAxis::z,
                                    .keeps = Keep::copies | Keep::motion | Keep::presets | Keep::levels | Keep::values |
                                             Keep::on_faces | Keep::colours | Keep::materials | Keep::light_uvs,
                                    .write = write_usda});

}  // namespace

}  // namespace bricol
