// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>

#include "core/shape/material_kit.h"
#include "core/catalogue/settings.h"
#include "core/ground/colour.h"

namespace bricol {

namespace {

struct MaterialSettings {
    std::string kit;
    std::string only;
    std::string called = "own";
    DVec3 colour{0.6, 0.55, 0.5};
    double metallic = 0;
    double roughness = 0.6;
    double transmission = 0;
    double ior = 1.5;
    double alpha = 1;
    double glow = 0;
    DVec3 glow_colour{1, 0.9, 0.75};
    double coat = 0;
    double coat_roughness = 0.05;
    double tint_depth = 0;
    DVec3 tint{0.7, 0.9, 0.8};
    double bump = 0;
    DVec3 bump_size{0.01};
    double rounding = 0;
    bool double_sided = false;
};

/// What is the same for materials of the kit and of one's own: light given out, a clear coat, relief, rounded edges.
void add_finish(const MaterialSettings& s, Material& material) {
    if (s.glow > 0) material.emission = Vec3(s.glow_colour * s.glow);
    if (s.coat > 0)
        material.coat = static_cast<float>(s.coat), material.coat_roughness = static_cast<float>(s.coat_roughness);
    if (s.bump > 0) material.bump = static_cast<float>(s.bump), material.bump_size = Vec3(s.bump_size);
    material.rounding = static_cast<float>(s.rounding);
}

void run_material(const MaterialSettings& s, StepRun& run) {
    Shape shape = run.shape();
    Mesh& mesh = shape.mesh;
    Material material;
    if (const Material* kit = kit_material(s.kit)) {
        material = *kit;
    } else {
        const DVec3 colour = s.colour;
        for (int i = 0; i < 3; ++i) material.colour[i] = static_cast<float>(to_linear(std::clamp(colour[i], 0.0, 1.0)));
        material.metallic = static_cast<float>(s.metallic);
        material.roughness = static_cast<float>(s.roughness);
        material.transmission = static_cast<float>(s.transmission);
        material.ior = static_cast<float>(s.ior);
        material.alpha = static_cast<float>(s.alpha);
        if (s.tint_depth > 0) material.tint = Vec3(s.tint), material.tint_depth = static_cast<float>(s.tint_depth);
        material.name = s.called.empty() ? "own" : s.called;
    }
    add_finish(s, material);
    material.double_sided = s.double_sided;
    const std::int32_t number = material_number(material);
    const Mask mask = run.chosen(mesh, Domain::face, s.only);
    const auto* before = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    Array<std::int32_t> column = before ? *before : Array<std::int32_t>(mesh.face_count(), 0);
    for (std::size_t f = 0; f < column.size(); ++f)
        if (mask[f]) column[f] = number;
    mesh.attributes.set(Domain::face, attribute_name::material, std::move(column));
    mesh.materials = united(mesh.materials, std::make_shared<const MaterialList>(MaterialList{{number, material}}));
    run.give(std::move(shape));
}

std::vector<Choice> kit_choices() {
    static const std::vector<std::string> labels = [] {
        std::vector<std::string> list;
        for (const KitMaterial& entry : material_kit()) list.push_back(entry.material.name);
        return list;
    }();
    std::vector<Choice> choices;
    std::size_t i = 0;
    for (const KitMaterial& entry : material_kit()) choices.push_back({entry.key, labels[i++]});
    choices.push_back({"own", "values of your own"});
    return choices;
}

const StepOf<MaterialSettings> material_step(
    StepInfo{
        .key = "material",
        .name = "Material",
        .family = Family::look,
        .purpose = "What faces are made of: paint, metal, wood, glass.",
        .words = "shader color colour pbr metal rough glass texture surface",
        .help =
            "One of the kit, or metal and roughness values of your own, with light passing through for glass. On a set "
            "or on everything; later steps carry it.",
        .glyph = "M4 12a8 8 0 1 0 16 0a8 8 0 1 0 -16 0 M12 4 C7 8 7 16 12 20 M7 6 C10 9 15 9 17.5 6.2",
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{kit}"},
    {choice_of(&MaterialSettings::kit, "kit", "Material", kit_choices(), "From the kit, or values of your own."),
     only_of(&MaterialSettings::only, "Only the faces of this set."),
     when(new_set_of(&MaterialSettings::called, "called", "Called", "What it is called in exported files."), "kit=own"),
     when(screen_colour_of(&MaterialSettings::colour, "colour", "Colour",
                           "Red, green and blue, 0 to 1, as on the screen."),
          "kit=own"),
     when(number_of(&MaterialSettings::metallic, "metallic", "Metal", 0, 1,
                    "0 for paint, wood and glass, 1 for bare metal."),
          "kit=own"),
     when(number_of(&MaterialSettings::roughness, "roughness", "Roughness", 0, 1, "0 polished, 1 matt."), "kit=own"),
     when(number_of(&MaterialSettings::transmission, "transmission", "Light through", 0, 1,
                    "Share of the light that passes: glass."),
          "kit=own"),
     when(number_of(&MaterialSettings::ior, "ior", "Refraction", 1, 2.5,
                    "Index of refraction; 1.5 for glass, 1.33 for water."),
          "kit=own"),
     when(number_of(&MaterialSettings::alpha, "alpha", "Cover", 0, 1, "Below 1 it is see-through without refraction."),
          "kit=own"),
     when(length_of(
              &MaterialSettings::tint_depth, "tint_depth", "Tinted within", 0, 0.2,
              "How much of it light passes until no more than the tint is left; 0 for no tint. Closed shapes alone "
              "have an inside."),
          "transmission>0"),
     when(colour_of(&MaterialSettings::tint, "tint", "Tint", "What is left of white light by then."), "tint_depth>0"),
     number_of(&MaterialSettings::glow, "glow", "Glow", 0, 1e6,
               "Light given out: watts a square metre and steradian where its colour is 1."),
     when(colour_of(&MaterialSettings::glow_colour, "glow_colour", "Glow colour", "Of the light given out."), "glow>0"),
     number_of(&MaterialSettings::coat, "coat", "Clear coat", 0, 1, "A layer of varnish over all: 0 none, 1 whole."),
     when(number_of(&MaterialSettings::coat_roughness, "coat_roughness", "Coat roughness", 0, 1, "0 polished, 1 matt."),
          "coat>0"),
     length_of(&MaterialSettings::bump, "bump", "Relief", 0, 0.005,
               "Height of a fine random relief, in the light of pictures alone: grain, casting skin, fibre."),
     when(vector_of(&MaterialSettings::bump_size, "bump_size", "Relief size", Quantity::length,
                    "Of its bumps along x, y and z; long in one direction for grain."),
          "bump>0"),
     length_of(&MaterialSettings::rounding, "rounding", "Rounded edges", 0, 0.02,
               "Hard edges catch light as if rounded by this radius, in pictures alone."),
     toggle_of(&MaterialSettings::double_sided, "double_sided", "Both sides", "Draws the back of open sheets too.")},
    run_material);

}  // namespace

}  // namespace bricol
