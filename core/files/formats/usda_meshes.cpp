// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/formats/usda_meshes.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/files/motion.h"
#include "core/files/own_values.h"
#include "core/kernels/normals.h"

namespace bricol {

std::string usda_name(std::string_view name) {
    std::string out;
    for (const char c : name) {
        const bool letter = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9');
        out += letter ? c : '_';
    }
    if (out.empty() || (out[0] >= '0' && out[0] <= '9')) out.insert(out.begin(), '_');
    return out;
}

std::string UsdaNames::fresh(std::string_view name) {
    const std::string first = usda_name(name);
    std::string out = first;
    for (int n = 2; !taken_.insert(out).second; ++n) out = fmt::format("{}_{}", first, n);
    return out;
}

std::string usda_tuple(const Vec3& v) { return fmt::format("({}, {}, {})", v.x, v.y, v.z); }

std::string usda_matrix(const glm::mat4& place, const ExportOptions& options) {
    const glm::mat4 m = directed_place(place, options);
    std::string out = "(";
    for (int c = 0; c < 4; ++c)
        out += fmt::format("{}({}, {}, {}, {})", c > 0 ? ", " : " ", m[c][0], m[c][1], m[c][2], c == 3 ? 1 : 0);
    return out + " )";
}

void UsdaText::line(std::string_view text) {
    text_.append(4 * depth_, ' ');
    text_ += text;
    text_ += '\n';
    if (text_.size() > std::size_t(1) << 20) flush();
}

void UsdaText::open(std::string_view text) {
    if (!text.empty()) line(text);
    line("{");
    ++depth_;
}

void UsdaText::open_here(std::string_view text) {
    line(text);
    ++depth_;
}

void UsdaText::close() {
    --depth_;
    line("}");
}

void UsdaText::list(std::string_view head, std::size_t count, const std::function<void(std::string&, std::size_t)>& put,
                    std::string_view behind) {
    text_.append(4 * depth_, ' ');
    text_ += head;
    text_ += '[';
    for (std::size_t i = 0; i < count; ++i) {
        if (i > 0) text_ += ", ";
        put(text_, i);
        if (text_.size() > std::size_t(1) << 20) flush();
    }
    text_ += ']';
    text_ += behind;
    text_ += '\n';
}

void UsdaText::flush() {
    sink_(text_);
    text_.clear();
}

namespace {

constexpr std::string_view at_corners = " (\n            interpolation = \"faceVarying\"\n        )";
constexpr std::string_view at_points = " (\n            interpolation = \"vertex\"\n        )";
constexpr std::string_view at_faces = " (\n            interpolation = \"uniform\"\n        )";

void put_vec3(std::string& out, const Vec3& v) {
    fmt::format_to(std::back_inserter(out), "({}, {}, {})", v.x, v.y, v.z);
}
void put_vec2(std::string& out, const Vec2& v) { fmt::format_to(std::back_inserter(out), "({}, {})", v.x, v.y); }

/// Whether the mesh is a cage: some edge or corner says how sharp it stays when it is smoothed.
bool is_cage(const Mesh& mesh) {
    const auto any = [&](Domain domain, std::string_view name) {
        const auto* values = mesh.attributes.values<float>(domain, name);
        return values && std::ranges::any_of(*values, [](float v) { return v > 0; });
    };
    return any(Domain::edge, attribute_name::crease) || any(Domain::vertex, attribute_name::corner);
}

void write_creases(UsdaText& out, const Mesh& mesh) {
    if (const auto* sharp = mesh.attributes.values<float>(Domain::edge, attribute_name::crease)) {
        std::vector<Index> edges;
        for (Index e = 0; e < sharp->size(); ++e)
            if ((*sharp)[e] > 0) edges.push_back(e);
        const auto number = [](std::string& text, auto value) {
            fmt::format_to(std::back_inserter(text), "{}", value);
        };
        out.list("int[] creaseIndices = ", 2 * edges.size(),
                 [&](std::string& text, std::size_t i) { number(text, mesh.topology->edges[edges[i / 2]][i % 2]); });
        out.list("int[] creaseLengths = ", edges.size(), [&](std::string& text, std::size_t) { text += '2'; });
        out.list("float[] creaseSharpnesses = ", edges.size(),
                 [&](std::string& text, std::size_t i) { number(text, (*sharp)[edges[i]]); });
    }
    if (const auto* sharp = mesh.attributes.values<float>(Domain::vertex, attribute_name::corner)) {
        std::vector<Index> corners;
        for (Index v = 0; v < sharp->size(); ++v)
            if ((*sharp)[v] > 0) corners.push_back(v);
        out.list("int[] cornerIndices = ", corners.size(),
                 [&](std::string& text, std::size_t i) { fmt::format_to(std::back_inserter(text), "{}", corners[i]); });
        out.list("float[] cornerSharpnesses = ", corners.size(), [&](std::string& text, std::size_t i) {
            fmt::format_to(std::back_inserter(text), "{}", (*sharp)[corners[i]]);
        });
    }
}

void write_colours(UsdaText& out, const Mesh& mesh) {
    const auto* corners = mesh.attributes.values<Vec4>(Domain::corner, attribute_name::colour);
    const auto* colours = corners ? corners : mesh.attributes.values<Vec4>(Domain::vertex, attribute_name::colour);
    if (!colours) return;
    const std::string_view where = corners ? at_corners : at_points;
    out.list(
        "color3f[] primvars:displayColor = ", colours->size(),
        [&](std::string& text, std::size_t i) { put_vec3(text, Vec3((*colours)[i])); }, where);
    if (std::ranges::any_of(*colours, [](const Vec4& c) { return c.w < 1; }))
        out.list(
            "float[] primvars:displayOpacity = ", colours->size(),
            [&](std::string& text, std::size_t i) { fmt::format_to(std::back_inserter(text), "{}", (*colours)[i].w); },
            where);
}

/// The artist's own values on points, corners and faces.
void write_values(UsdaText& out, const Mesh& mesh) {
    std::vector<const Attribute*> all;
    for (const Domain domain : {Domain::vertex, Domain::corner, Domain::face})
        std::ranges::copy(own_values(mesh, domain), std::back_inserter(all));
    const std::vector<std::string> names = plain_names(all, false);
    for (std::size_t i = 0; i < all.size(); ++i) {
        const Column& column = *all[i]->values;
        const std::size_t width = value_width(column);
        constexpr std::string_view types[] = {"float", "float2", "float3", "float4"};
        const std::string_view where = all[i]->domain == Domain::vertex   ? at_points
                                       : all[i]->domain == Domain::corner ? at_corners
                                                                          : at_faces;
        out.list(
            fmt::format("{}[] primvars:{} = ", types[width - 1], usda_name(names[i])), column_size(column),
            [&](std::string& text, std::size_t e) {
                if (width > 1) text += '(';
                for (std::size_t k = 0; k < width; ++k)
                    fmt::format_to(std::back_inserter(text), "{}{}", k > 0 ? ", " : "", value_at(column, e, k));
                if (width > 1) text += ')';
            },
            where);
    }
}

void write_materials(UsdaText& out, const Mesh& mesh, const std::map<std::int32_t, std::string>& paths) {
    const auto* numbers = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    if (!numbers || !mesh.materials) return;
    std::map<std::int32_t, std::vector<std::size_t>> faces;
    for (std::size_t f = 0; f < numbers->size(); ++f) faces[(*numbers)[f]].push_back(f);
    for (const auto& [number, members] : faces)
        if (const Material* material = find_material(mesh.materials.get(), number);
            material && material->double_sided) {
            out.line("uniform bool doubleSided = 1");
            break;
        }
    if (faces.size() == 1) {
        if (const auto path = paths.find(faces.begin()->first); path != paths.end())
            out.line("rel material:binding = " + path->second);
        return;
    }
    out.line("uniform token subsetFamily:materialBind:familyType = \"nonOverlapping\"");
    UsdaNames names;
    for (const auto& [number, members] : faces) {
        const auto path = paths.find(number);
        if (path == paths.end()) continue;
        const std::string& at = path->second;
        const std::size_t slash = at.rfind('/');
        out.line(fmt::format("def GeomSubset \"{}\" (", names.fresh(at.substr(slash + 1, at.size() - slash - 2))));
        out.line("    prepend apiSchemas = [\"MaterialBindingAPI\"]");
        out.line(")");
        out.open();
        out.line("uniform token elementType = \"face\"");
        out.line("uniform token familyName = \"materialBind\"");
        out.list("int[] indices = ", members.size(),
                 [&](std::string& text, std::size_t i) { fmt::format_to(std::back_inserter(text), "{}", members[i]); });
        out.line("rel material:binding = " + at);
        out.close();
    }
}

}  // namespace

void UsdaMesh::write(UsdaText& out, std::string_view specifier, const std::string& name, const Mesh& mesh,
                     const std::vector<std::string>& lines) const {
    const Topology& t = *mesh.topology;
    const float scale = static_cast<float>(options.scale);
    const auto in_file = [&](const Vec3& p) { return directed(p, *options.up) * scale; };
    out.line(fmt::format("{} Mesh \"{}\" (", specifier, name));
    out.line("    prepend apiSchemas = [\"MaterialBindingAPI\"]");
    out.line(")");
    out.open();
    for (const std::string& line : lines) out.line(line);
    const bool cage = options.cages && is_cage(mesh);
    out.line(fmt::format("uniform token subdivisionScheme = \"{}\"", cage ? "catmullClark" : "none"));
    Vec3 low(1e30f), high(-1e30f);
    for (const Vec3& p : *mesh.positions) low = glm::min(low, in_file(p)), high = glm::max(high, in_file(p));
    out.line(fmt::format("float3[] extent = [{}, {}]", usda_tuple(low), usda_tuple(high)));
    out.list("int[] faceVertexCounts = ", t.face_count(), [&](std::string& text, std::size_t f) {
        fmt::format_to(std::back_inserter(text), "{}", t.face_offsets[f + 1] - t.face_offsets[f]);
    });
    out.list("int[] faceVertexIndices = ", t.corner_count(), [&](std::string& text, std::size_t c) {
        fmt::format_to(std::back_inserter(text), "{}", t.corner_vertex[c]);
    });
    const auto put_points = [&](std::string_view head, const Array<Vec3>& points, std::string_view behind) {
        out.list(
            head, points.size(), [&](std::string& text, std::size_t i) { put_vec3(text, in_file(points[i])); }, behind);
    };
    const auto put_normals = [&](std::string_view head, const Array<Vec3>& normals, std::string_view behind) {
        out.list(
            head, normals.size(),
            [&](std::string& text, std::size_t i) { put_vec3(text, directed(normals[i], *options.up)); }, behind);
    };
    put_points("point3f[] points = ", *mesh.positions, {});
    if (!cage) put_normals("normal3f[] normals = ", corner_normals(mesh), at_corners);
    if (moved) {
        out.open_here("point3f[] points.timeSamples = {");
        for (std::size_t k = 0; k < moved->size(); ++k) put_points(fmt::format("{}: ", k), (*moved)[k], ",");
        out.close();
        if (!cage) {
            out.open_here("normal3f[] normals.timeSamples = {");
            for (std::size_t k = 0; k < moved->size(); ++k) {
                put_normals(fmt::format("{}: ", k), moved_normals(mesh, (*moved)[k]), ",");
            }
            out.close();
        }
    }
    const auto put_uvs = [&](std::string_view kind, std::string_view attribute) {
        if (const auto* uvs = mesh.attributes.values<Vec2>(Domain::corner, attribute))
            out.list(
                fmt::format("texCoord2f[] primvars:{} = ", kind), uvs->size(),
                [&](std::string& text, std::size_t i) { put_vec2(text, (*uvs)[i]); }, at_corners);
    };
    put_uvs("st", attribute_name::uv);
    put_uvs("st1", attribute_name::light_uv);
    write_colours(out, mesh);
    write_creases(out, mesh);
    if (options.attributes) write_values(out, mesh);
    write_materials(out, mesh, materials);
    out.close();
}

}  // namespace bricol
