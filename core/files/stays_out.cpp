// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/stays_out.h"

#include <fmt/format.h>
#include <set>

#include "core/files/own_values.h"
#include "core/kernels/real_geometry.h"
#include "core/shape/skeleton.h"

namespace bricol {

namespace {

/// What a shape and the shapes copied in it have, as `Keep` bits, and the artist's values on faces and copies by name.
unsigned held_by(const ShapePtr& shape, std::set<std::string>& on_faces, std::set<std::string>& on_copies) {
    unsigned out = materials_of(*shape).empty() ? 0 : Keep::materials;
    for (const PlacedMesh& placed : placed_meshes(shape)) {
        const Mesh& mesh = placed.shape->mesh;
        if (!placed.tints.empty() || !point_colours(mesh).empty()) out |= Keep::colours;
        if (mesh.skeleton && !mesh.skeleton->joints.empty()) out |= Keep::skins;
        if (!own_values(mesh, Domain::vertex).empty()) out |= Keep::values;
        for (const Attribute* one : own_values(mesh, Domain::face)) on_faces.insert(one->name);
        for (const Attribute* one : own_values(placed.values, Domain::instance)) on_copies.insert(one->name);
    }
    return out;
}

}  // namespace

std::vector<std::string> what_stays_out(const NamedShape& named, const FormatInfo& format, unsigned asked) {
    std::vector<std::string> out;
    std::set<std::string> on_faces, on_copies;
    const unsigned held = held_by(named.shape, on_faces, on_copies);
    const unsigned there = (held & (Keep::materials | Keep::colours | Keep::skins)) | (held & asked & Keep::values) |
                           (asked & ~Keep::values) | (named.motion ? Keep::motion : 0);
    constexpr std::pair<unsigned, std::string_view> words[] = {
        {Keep::motion, "no movement"},
        {Keep::levels, "neither levels nor shapes to collide with"},
        {Keep::presets, "no presets"},
        {Keep::values, "no values of your own"},
        {Keep::colours, "no colours of points and copies"},
        {Keep::materials, "no materials"},
        {Keep::light_uvs, "no second UVs"},
        {Keep::skins, "no joints"}};
    for (const auto& [kind, lack] : words)
        if ((there & kind) && !(format.keeps & kind))
            out.push_back(fmt::format("{} files hold {}.", format.name, lack));
    const auto tell = [&](unsigned kind, const std::set<std::string>& names, std::string_view where) {
        if (!(asked & Keep::values) || (format.keeps & kind)) return;
        for (const std::string& name : names)
            out.push_back(fmt::format("{}: “{}” stands on {}, for which {} files have no place.", named.name, name,
                                      where, format.name));
    };
    tell(Keep::on_faces, on_faces, "faces");
    tell(Keep::on_copies, on_copies, "copies");
    return out;
}

std::vector<std::string> what_no_file_holds(const Shape& shape) {
    std::vector<std::string> out;
    for (const Material& material : materials_of(shape))
        if (material.bump > 0 || material.rounding > 0)
            out.push_back(fmt::format(
                "{}: the relief and rounded edges of its material are for Bricol's own pictures and stay out "
                "of files.",
                material.name));
    return out;
}

}  // namespace bricol
