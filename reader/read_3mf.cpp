// SPDX-License-Identifier: GPL-3.0-or-later
// 3MF Core Specification 1.3 (3MF Consortium): build items, objects of triangles, objects of other objects.
#include <Model/COM/NMR_DLLInterfaces.h>

#include <cmath>
#include <map>
#include <stdexcept>

#include "core/files/held_3mf.h"
#include "reader/readers.h"

namespace bricol::reader {

namespace {

void must(LIB3MFRESULT result, const char* what) {
    if (result != 0) throw std::runtime_error(std::string("It cannot be read as 3MF: no way to ") + what + ".");
}

using Matrix = std::array<float, 16>;  // columns one after another
constexpr Matrix unmoved{1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1};

Matrix times(const Matrix& a, const Matrix& b) {
    Matrix out{};
    for (std::size_t c = 0; c < 4; ++c)
        for (std::size_t r = 0; r < 4; ++r)
            for (std::size_t k = 0; k < 4; ++k) out[c * 4 + r] += a[k * 4 + r] * b[c * 4 + k];
    return out;
}

Matrix matrix_of(const NMR::MODELTRANSFORM& t) {
    Matrix out = unmoved;
    for (std::size_t row = 0; row < 3; ++row)
        for (std::size_t column = 0; column < 4; ++column) out[column * 4 + row] = t.m_fFields[row][column];
    return out;
}

double metres_of(DWORD unit) {
    switch (unit) {
        case NMR::MODELUNIT_MICROMETER:
            return 1e-6;
        case NMR::MODELUNIT_CENTIMETER:
            return 0.01;
        case NMR::MODELUNIT_INCH:
            return 0.0254;
        case NMR::MODELUNIT_FOOT:
            return 0.3048;
        case NMR::MODELUNIT_METER:
            return 1;
        default:
            return 0.001;
    }
}

/// sRGB as written (IEC 61966-2-1) to linear.
float linear(BYTE byte) {
    const float c = static_cast<float>(byte) / 255;
    return c <= 0.04045f ? c / 12.92f : std::pow((c + 0.055f) / 1.055f, 2.4f);
}

class ThreeMf {
public:
    wire::File read(const std::string& text) {
        must(NMR::lib3mf_createmodel(model_.out()), "begin");
        Held reader;
        must(NMR::lib3mf_model_queryreader(model_, "3mf", reader.out()), "find a reader");
        // The library only looks at the bytes, though it asks for them as though it changed them.
        must(NMR::lib3mf_reader_readfrombuffer(
                 reader, reinterpret_cast<BYTE*>(const_cast<char*>(text.data())), text.size()),
             "open it");
        DWORD unit = 0;
        must(NMR::lib3mf_model_getunit(model_, &unit), "find its unit");
        out_.metres = metres_of(unit);
        out_.up = 'z';  // section 3.1: right-handed, z away from the plate
        Held items;
        must(NMR::lib3mf_model_getbuilditems(model_, items.out()), "list what it builds");
        for (BOOL more = 0; NMR::lib3mf_builditemiterator_movenext(items, &more) == 0 && more;) {
            Held item, object;
            NMR::MODELTRANSFORM transform{};
            must(NMR::lib3mf_builditemiterator_getcurrent(items, item.out()), "take what it builds");
            must(NMR::lib3mf_builditem_getobjectresource(item, object.out()), "find an object");
            must(NMR::lib3mf_builditem_getobjecttransform(item, &transform), "find where an object stands");
            add_object(object, matrix_of(transform), 0);
        }
        return std::move(out_);
    }

private:
    static constexpr int deepest = 100;
    static constexpr std::size_t most_places = 1000000;

    template <class Get>
    std::string text_of(const Get& get) {
        ULONG needed = 0;
        if (get(nullptr, 0, &needed) != 0 || needed == 0 || needed > 100000) return {};
        std::string text(needed + 1, '\0');
        if (get(text.data(), needed + 1, &needed) != 0) return {};
        text.resize(std::char_traits<char>::length(text.c_str()));
        return text;
    }

    void add_object(NMR::PLib3MFBase* object, const Matrix& at, int depth) {
        if (depth > deepest) throw std::runtime_error("Its objects stand in one another too deeply.");
        if (out_.places.size() >= most_places) throw std::runtime_error("It has more than a million places.");
        BOOL is_mesh = 0;
        must(NMR::lib3mf_object_ismeshobject(object, &is_mesh), "look at an object");
        if (is_mesh) {
            wire::Place place;
            place.name = text_of([&](char* to, ULONG room, ULONG* needed) {
                return NMR::lib3mf_object_getnameutf8(object, to, room, needed);
            });
            place.matrix = at;
            place.meshes = {mesh_number(object)};
            out_.places.push_back(std::move(place));
            return;
        }
        DWORD parts = 0;
        must(NMR::lib3mf_componentsobject_getcomponentcount(object, &parts), "count the parts of an object");
        for (DWORD i = 0; i < parts; ++i) {
            Held component, inner;
            NMR::MODELTRANSFORM transform{};
            must(NMR::lib3mf_componentsobject_getcomponent(object, i, component.out()), "take a part");
            must(NMR::lib3mf_component_getobjectresource(component, inner.out()), "find a part's object");
            must(NMR::lib3mf_component_gettransform(component, &transform), "find where a part stands");
            add_object(inner, times(at, matrix_of(transform)), depth + 1);
        }
    }

    /// Each object once, however often it stands.
    std::uint32_t mesh_number(NMR::PLib3MFBase* object) {
        DWORD id = 0;
        must(NMR::lib3mf_resource_getresourceid(object, &id), "number an object");
        const auto [known, fresh] = numbers_.try_emplace(id, static_cast<std::uint32_t>(out_.meshes.size()));
        if (!fresh) return known->second;
        wire::Mesh mesh;
        DWORD vertices = 0, triangles = 0, got = 0;
        must(NMR::lib3mf_meshobject_getvertexcount(object, &vertices), "count points");
        must(NMR::lib3mf_meshobject_gettrianglecount(object, &triangles), "count triangles");
        std::vector<NMR::MODELMESHVERTEX> points(vertices);
        std::vector<NMR::MODELMESHTRIANGLE> faces(triangles);
        if (vertices > 0) must(NMR::lib3mf_meshobject_getvertices(object, points.data(), vertices, &got), "take points");
        if (triangles > 0)
            must(NMR::lib3mf_meshobject_gettriangleindices(object, faces.data(), triangles, &got), "take triangles");
        for (const auto& point : points)
            mesh.points.push_back({point.m_fPosition[0], point.m_fPosition[1], point.m_fPosition[2]});
        mesh.face_sizes.assign(triangles, 3);
        for (const auto& face : faces)
            mesh.corners.insert(mesh.corners.end(), {face.m_nIndices[0], face.m_nIndices[1], face.m_nIndices[2]});
        add_materials(object, triangles, mesh);
        out_.meshes.push_back(std::move(mesh));
        return known->second;
    }

    void add_materials(NMR::PLib3MFBase* object, DWORD triangles, wire::Mesh& mesh) {
        Held properties;
        if (triangles == 0 || NMR::lib3mf_meshobject_createpropertyhandler(object, properties.out()) != 0) return;
        std::vector<DWORD> groups(triangles), members(triangles);
        if (NMR::lib3mf_propertyhandler_getbasematerialarray(properties, groups.data(), members.data()) != 0) return;
        for (DWORD t = 0; t < triangles; ++t) mesh.materials.push_back(material_number(groups[t], members[t]));
    }

    std::uint32_t material_number(DWORD group, DWORD member) {
        constexpr std::uint32_t none = ~std::uint32_t(0);
        if (group == 0) return none;
        const auto [known, fresh] = materials_.try_emplace({group, member}, none);
        Held list;
        if (!fresh || NMR::lib3mf_model_getbasematerialbyid(model_, group, list.out()) != 0) return known->second;
        BYTE r = 0, g = 0, b = 0, a = 255;
        if (NMR::lib3mf_basematerial_getdisplaycolor(list, member, &r, &g, &b, &a) != 0) return none;
        wire::Material material;
        material.name = text_of([&](char* to, ULONG room, ULONG* needed) {
            return NMR::lib3mf_basematerial_getnameutf8(list, member, to, room, needed);
        });
        material.colour = {linear(r), linear(g), linear(b), static_cast<float>(a) / 255};
        out_.materials.push_back(std::move(material));
        return known->second = static_cast<std::uint32_t>(out_.materials.size() - 1);
    }

    Held model_;
    wire::File out_;
    std::map<DWORD, std::uint32_t> numbers_;
    std::map<std::pair<DWORD, DWORD>, std::uint32_t> materials_;
};

}  // namespace

wire::File read_3mf(const std::string& text) { return ThreeMf().read(text); }

}  // namespace bricol::reader
