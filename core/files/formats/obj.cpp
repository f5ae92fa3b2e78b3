// SPDX-License-Identifier: GPL-3.0-or-later
// Wavefront OBJ: an object per part, groups by the sets of its faces, polygons as they are, colours behind the points,
// materials in a file beside it.
#include <algorithm>
#include <fmt/format.h>
#include <map>

#include "core/files/format.h"
#include "core/files/own_values.h"
#include "core/files/formats/text_rows.h"
#include "core/kernels/split_vertices.h"

namespace bricol {

namespace {

/// A name as OBJ takes it: without blanks.
std::string bare(std::string name) {
    std::ranges::replace_if(
        name, [](char c) { return c == ' ' || c == '\t' || c == '\n'; }, '_');
    return name.empty() ? "own" : name;
}

/// What each material is called in the file, by its number: two of one name are told apart.
class MaterialNames {
public:
    explicit MaterialNames(std::span<const NamedShape> shapes) {
        for (const NamedShape& named : shapes) {
            const auto* numbers =
                named.shape->mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
            if (!numbers || !named.shape->mesh.materials) continue;
            for (const NumberedMaterial& one : *named.shape->mesh.materials)
                if (std::ranges::find(*numbers, one.number) != numbers->end()) add(one);
        }
    }
    /// Empty for faces without a material.
    std::string_view of(std::int32_t number) const {
        const auto found = names_.find(number);
        return found == names_.end() ? std::string_view{} : found->second;
    }
    const std::vector<NumberedMaterial>& all() const { return all_; }

private:
    void add(const NumberedMaterial& one) {
        if (names_.contains(one.number)) return;
        const std::string wanted = bare(one.material.name);
        std::string name = wanted;
        const auto taken = [&] {
            return std::ranges::any_of(names_, [&](const auto& other) { return other.second == name; });
        };
        for (int n = 2; taken(); ++n) name = fmt::format("{}_{}", wanted, n);
        names_[one.number] = name;
        all_.push_back(one);
    }

    std::map<std::int32_t, std::string> names_;
    std::vector<NumberedMaterial> all_;  ///< in the order they were met
};

/// The line before a face that stands in other sets or has another material than the one before it.
class FaceHeads {
public:
    FaceHeads(const NamedShape& named, const MaterialNames& materials) : materials_(materials) {
        const Mesh& mesh = named.shape->mesh;
        numbers_ = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
        for (const Attribute& attribute : mesh.attributes.all())
            if (attribute.domain == Domain::face)
                if (const auto* flags = std::get_if<Array<std::uint8_t>>(attribute.values.get());
                    flags && !flags->empty())
                    sets_.emplace_back(bare(attribute.name), flags);
        part_ = bare(named.name);
    }
    std::string before(std::size_t face) const {
        std::string head;
        if (!sets_.empty() && (face == 0 || !same_sets(face))) head += groups(face);
        if (numbers_ && (face == 0 || (*numbers_)[face] != (*numbers_)[face - 1])) {
            const std::string_view name = materials_.of((*numbers_)[face]);
            if (!name.empty()) head += fmt::format("usemtl {}\n", name);
        }
        return head;
    }

private:
    bool same_sets(std::size_t face) const {
        return std::ranges::all_of(
            sets_, [&](const auto& set) { return ((*set.second)[face] != 0) == ((*set.second)[face - 1] != 0); });
    }
    std::string groups(std::size_t face) const {
        std::string line = "g " + part_;
        for (const auto& [name, flags] : sets_)
            if ((*flags)[face] != 0) line += fmt::format(" {}.{}", part_, name);
        return line + "\n";
    }

    const MaterialNames& materials_;
    const Array<std::int32_t>* numbers_ = nullptr;
    std::vector<std::pair<std::string, const Array<std::uint8_t>*>> sets_;
    std::string part_;
};

void vector_row(RowBuffer& out, std::string_view key, const Vec3& v) {
    out.add(key);
    out.add(v.x), out.add(' ');
    out.add(v.y), out.add(' ');
    out.add(v.z);
}

/// Where the numbers of a part's points begin in the file.
struct Bases {
    std::size_t vertex = 1, variant = 1, uv = 1;
};

void write_points(const Mesh& mesh, const SplitMesh& split, const ExportOptions& options, const Sink& sink) {
    const float scale = static_cast<float>(options.scale);
    const Array<Vec4> colours = point_colours(mesh);
    write_rows(mesh.vertex_count(), sink, [&](RowBuffer& out, std::size_t i) {
        out.room(160);
        vector_row(out, "v ", directed((*mesh.positions)[i], *options.up) * scale);
        if (!colours.empty()) vector_row(out, " ", Vec3(colours[i]));
        out.add('\n');
    });
    write_rows(split.uvs.size(), sink, [&](RowBuffer& out, std::size_t i) {
        out.room(60);
        out.add("vt ");
        out.add(split.uvs[i].x), out.add(' ');
        out.add(split.uvs[i].y), out.add('\n');
    });
    write_rows(split.normals.size(), sink, [&](RowBuffer& out, std::size_t i) {
        out.room(80);
        vector_row(out, "vn ", directed(split.normals[i], *options.up));
        out.add('\n');
    });
}

void write_faces(const NamedShape& named, const SplitMesh& split, const MaterialNames& materials, const Bases& bases,
                 const Sink& sink) {
    const Topology& t = *named.shape->mesh.topology;
    const FaceHeads heads(named, materials);
    write_rows(t.face_count(), sink, [&](RowBuffer& out, std::size_t f) {
        const std::string head = heads.before(f);
        out.room(head.size() + 4 + (t.face_offsets[f + 1] - t.face_offsets[f]) * 64);
        out.add(head);
        out.add('f');
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            out.add(' ');
            out.add(bases.vertex + t.corner_vertex[c]);
            out.add('/');
            if (!split.uvs.empty()) out.add(bases.uv + split.corner[c]);
            out.add('/');
            out.add(bases.variant + split.corner[c]);
        }
        out.add('\n');
    });
}

void write_obj(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    sink(fmt::format("# Bricol\n# {} units a metre, {} up\n", options.scale, *options.up == UpAxis::y ? "y" : "z"));
    const MaterialNames materials(shapes);
    if (!materials.all().empty()) sink(fmt::format("mtllib {}.mtl\n", options.stem));
    Bases bases;
    for (const NamedShape& named : shapes) {
        const Mesh& mesh = named.shape->mesh;
        const SplitMesh split = split_vertices(mesh);
        sink(fmt::format("o {}\n", named.name));
        write_points(mesh, split, options, sink);
        write_faces(named, split, materials, bases, sink);
        bases.vertex += mesh.vertex_count();
        bases.variant += split.normals.size();
        bases.uv += split.uvs.size();
    }
}

/// Kd, Ke, d, Ni as the format has had them from its start; Pr and Pm for roughness and metal are common practice.
/// Colours are linear, as they are inside.
void write_mtl(std::span<const NamedShape> shapes, const Sink& sink) {
    const MaterialNames materials(shapes);
    std::string text = "# Bricol\n";
    const auto three = [](const Vec3& v) { return fmt::format("{:.6g} {:.6g} {:.6g}", v.x, v.y, v.z); };
    for (const NumberedMaterial& one : materials.all()) {
        const Material& m = one.material;
        text += fmt::format("\nnewmtl {}\nKd {}\nKs 0 0 0\nd {:.6g}\nNi {:.6g}\nPr {:.6g}\nPm {:.6g}\n",
                            materials.of(one.number), three(m.colour), m.alpha, m.ior, m.roughness, m.metallic);
        if (m.transmission > 0) text += fmt::format("Tf {}\n", three(Vec3(m.transmission)));
        if (m.emission != Vec3(0)) text += fmt::format("Ke {}\n", three(m.emission));
        text += m.transmission > 0 ? "illum 6\n" : "illum 2\n";
    }
    sink(text);
}

const RegisteredFormat obj_format({.suffix = "obj",
                                   .name = "Wavefront OBJ",
                                   .customs = "metres, y up (common practice)",
                                   .scale = 1,
                                   .up = UpAxis::y,
                                   .keeps = Keep::levels | Keep::colours | Keep::materials,
                                   .write = write_obj,
                                   .beside = "mtl",
                                   .write_beside = write_mtl});

}  // namespace

}  // namespace bricol
