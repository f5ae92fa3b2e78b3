// SPDX-License-Identifier: GPL-3.0-or-later
// 3D Manufacturing Format by lib3mf: one object a part, copies as components, materials as base materials, units told.
// 3MF Core Specification and Materials Extension (3MF Consortium).
#include <Model/COM/NMR_DLLInterfaces.h>
#include <algorithm>
#include <clocale>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <locale>
#include <memory>
#include <stdexcept>

#include "core/files/format.h"
#include "core/files/held_3mf.h"
#include "core/ground/colour.h"
#include "core/ground/stop.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

void must(LIB3MFRESULT result, const char* what) {
    if (result != 0)
        throw std::length_error(fmt::format("lib3mf refused to {} (0x{:x})", what, static_cast<unsigned>(result)));
}

/// The unit whose length the file's numbers have; metres for none of those 3MF knows.
DWORD unit_of(double per_metre) {
    constexpr std::pair<double, NMR::eModelUnit> known[] = {{1e6, NMR::MODELUNIT_MICROMETER},
                                                            {1000, NMR::MODELUNIT_MILLIMETER},
                                                            {100, NMR::MODELUNIT_CENTIMETER},
                                                            {1 / 0.0254, NMR::MODELUNIT_INCH},
                                                            {1 / 0.3048, NMR::MODELUNIT_FOOT}};
    for (const auto& [scale, unit] : known)
        if (std::abs(per_metre / scale - 1) < 1e-6) return static_cast<DWORD>(unit);
    return static_cast<DWORD>(NMR::MODELUNIT_METER);
}

/// lib3mf writes places through streams, which write thousands as the program's locale does, and leaves the locale
/// changed: plain numbers while this lives, and everything as it was behind it.
class PlainNumbers {
public:
    PlainNumbers() : of_c_(std::setlocale(LC_ALL, nullptr)) {
        if (before_ != std::locale::classic()) std::locale::global(std::locale::classic());
    }
    ~PlainNumbers() {
        if (before_ != std::locale::classic()) std::locale::global(before_);
        std::setlocale(LC_ALL, of_c_.c_str());
    }
    PlainNumbers(const PlainNumbers&) = delete;
    PlainNumbers& operator=(const PlainNumbers&) = delete;

private:
    std::locale before_;
    std::string of_c_;
};

class ThreeMf {
public:
    explicit ThreeMf(const ExportOptions& options) : options_(options) {
        must(NMR::lib3mf_createmodel(model_.out()), "begin a file");
        must(NMR::lib3mf_model_setunit(model_, unit_of(options.scale)), "take the unit");
        must(NMR::lib3mf_model_setbuilduuidutf8(model_, uuid().c_str()), "take a number");
    }

    void add(const NamedShape& named) {
        // A file may only point back: meshes stand before the parts they are copied into.
        std::vector<PlacedMesh> placed = placed_meshes(named.shape);
        std::erase_if(placed, [](const PlacedMesh& one) { return one.shape->mesh.face_count() == 0; });
        std::vector<std::unique_ptr<Held>> objects;
        for (const PlacedMesh& one : placed) {
            objects.push_back(std::make_unique<Held>());
            mesh_of(one.shape->mesh, named.name, *objects.back());
        }
        if (placed.size() == 1 && placed[0].places.size() == 1) {
            stand(*objects[0], placed[0].places[0], named.at);
            return;
        }
        Held whole;
        must(NMR::lib3mf_model_addcomponentsobject(model_, whole.out()), "take a part");
        must(NMR::lib3mf_object_setnameutf8(whole, named.name.c_str()), "name a part");
        must(NMR::lib3mf_object_setuuidutf8(whole, uuid().c_str()), "number a part");
        for (std::size_t i = 0; i < placed.size(); ++i)
            for (const glm::mat4& place : placed[i].places) {
                stop_point();
                NMR::MODELTRANSFORM where = transform(place);
                Held component;
                must(NMR::lib3mf_componentsobject_addcomponent(whole, *objects[i], &where, component.out()),
                     "take a copy");
                must(NMR::lib3mf_component_setuuidutf8(component, uuid().c_str()), "number a copy");
            }
        stand(whole, glm::mat4(1), named.at);
    }

    std::string bytes() {
        const PlainNumbers plain;
        Held writer;
        must(NMR::lib3mf_model_querywriter(model_, "3mf", writer.out()), "write 3MF");
        ULONG64 size = 0;
        must(NMR::lib3mf_writer_getstreamsize(writer, &size), "measure the file");
        std::string out(size, '\0');
        must(NMR::lib3mf_writer_writetobuffer(writer, reinterpret_cast<BYTE*>(out.data()), size), "write the file");
        without_clock(out);
        return out;
    }

private:
    /// Puts an object into what is to be made.
    void stand(Held& object, glm::mat4 place, const Vec3& at) {
        place[3] += Vec4(at, 0);
        NMR::MODELTRANSFORM where = transform(place);
        Held item;
        must(NMR::lib3mf_model_addbuilditem(model_, object, &where, item.out()), "place a part");
        must(NMR::lib3mf_builditem_setuuidutf8(item, uuid().c_str()), "number a place");
    }

    /// Numbers that lib3mf would draw at random, in the order they are asked for: the same recipe, the same bytes.
    std::string uuid() { return fmt::format("b71c0100-0000-4000-8000-{:012x}", ++numbers_); }

    NMR::MODELTRANSFORM transform(const glm::mat4& place) const {
        const glm::mat4 m = directed_place(place, options_);
        NMR::MODELTRANSFORM out{};
        for (int r = 0; r < 3; ++r)
            for (int c = 0; c < 4; ++c) out.m_fFields[r][c] = m[c][r];
        return out;
    }

    void mesh_of(const Mesh& mesh, const std::string& name, Held& object) {
        std::vector<NMR::MODELMESHVERTEX> points;
        for (const Vec3& p : *mesh.positions) {
            const Vec3 at = directed(p, *options_.up) * static_cast<float>(options_.scale);
            points.push_back({{at.x, at.y, at.z}});
        }
        const Triangles cut = triangulated(mesh);
        std::vector<NMR::MODELMESHTRIANGLE> triangles;
        std::vector<Index> faces;
        for (std::size_t i = 0; i < cut.count(); ++i) {
            const auto v = [&](std::size_t k) { return mesh.topology->corner_vertex[cut.corners[3 * i + k]]; };
            if (v(0) == v(1) || v(1) == v(2) || v(2) == v(0)) continue;
            triangles.push_back({{v(0), v(1), v(2)}});
            faces.push_back(cut.face[i]);
        }
        must(NMR::lib3mf_model_addmeshobject(model_, object.out()), "take a mesh");
        must(NMR::lib3mf_object_setnameutf8(object, name.c_str()), "name a mesh");
        must(NMR::lib3mf_object_setuuidutf8(object, uuid().c_str()), "number a mesh");
        must(NMR::lib3mf_meshobject_setgeometry(object, points.data(), static_cast<DWORD>(points.size()),
                                                triangles.data(), static_cast<DWORD>(triangles.size())),
             "take a mesh's triangles");
        materials_of_faces(mesh, faces, object);
    }

    void materials_of_faces(const Mesh& mesh, const std::vector<Index>& faces, Held& object) {
        const auto* numbers = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
        if (!numbers || !mesh.materials) return;
        std::vector<NMR::ModelResourceID> groups(faces.size(), 0);
        std::vector<DWORD> places(faces.size(), 0);
        bool any = false;
        for (std::size_t i = 0; i < faces.size(); ++i) {
            const std::int32_t number = (*numbers)[faces[i]];
            const Material* material = find_material(mesh.materials.get(), number);
            if (!material) continue;
            any = true;
            places[i] = place_of(number, *material);
            groups[i] = group_;
        }
        if (!any) return;
        Held handler;
        must(NMR::lib3mf_meshobject_createpropertyhandler(object, handler.out()), "colour a mesh");
        must(NMR::lib3mf_propertyhandler_setbasematerialarray(handler, groups.data(), places.data()), "colour a mesh");
        // Triangles without a property take the object's, which a file with properties must have.
        Held usual;
        must(NMR::lib3mf_object_createdefaultpropertyhandler(object, usual.out()), "colour a mesh");
        must(NMR::lib3mf_defaultpropertyhandler_setbasematerial(usual, group_, places.front()), "colour a mesh");
    }

    DWORD place_of(std::int32_t number, const Material& material) {
        if (const auto found = places_.find(number); found != places_.end()) return found->second;
        if (places_.empty()) {
            must(NMR::lib3mf_model_addbasematerialgroup(model_, materials_.out()), "take materials");
            must(NMR::lib3mf_basematerial_getresourceid(materials_, &group_), "number materials");
        }
        const auto byte = [](float linear) {
            return static_cast<BYTE>(std::lround(to_screen(std::clamp(static_cast<double>(linear), 0.0, 1.0)) * 255));
        };
        DWORD place = 0;
        must(NMR::lib3mf_basematerial_addmaterialutf8(materials_, material.name.c_str(), byte(material.colour.x),
                                                      byte(material.colour.y), byte(material.colour.z), &place),
             "take a material");
        must(NMR::lib3mf_basematerial_setdisplaycolorrgba(materials_, place, byte(material.colour.x),
                                                          byte(material.colour.y), byte(material.colour.z), 255),
             "take a material's colour");
        return places_[number] = place;
    }

    /// Takes the time of day out of the container's entries (PKWARE's ZIP, APPNOTE 4.3.7 and 4.3.12).
    static void without_clock(std::string& zip) {
        const auto u32 = [&](std::size_t at) {
            std::uint32_t value = 0;
            std::memcpy(&value, zip.data() + at, 4);
            return value;
        };
        const auto u16 = [&](std::size_t at) { return u32(at) & 0xFFFFU; };
        constexpr std::uint32_t first_of_1980 = 0x00210000;  // time 0, date 1980-01-01
        const std::size_t end = zip.rfind("PK\x05\x06");
        if (end == std::string::npos || end + 20 > zip.size()) return;
        std::size_t entry = u32(end + 16);
        for (std::uint32_t left = u16(end + 10); left > 0 && entry + 46 <= zip.size() && u32(entry) == 0x02014b50;
             --left) {
            const std::size_t local = u32(entry + 42);
            std::memcpy(zip.data() + entry + 12, &first_of_1980, 4);
            if (local + 30 <= zip.size()) std::memcpy(zip.data() + local + 10, &first_of_1980, 4);
            entry += 46 + u16(entry + 28) + u16(entry + 30) + u16(entry + 32);
        }
    }

    const ExportOptions& options_;
    Held model_, materials_;
    DWORD group_ = 0;
    std::map<std::int32_t, DWORD> places_;
    std::uint64_t numbers_ = 0;
};

void write_3mf(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    ThreeMf file(options);
    for (const NamedShape& named : shapes) file.add(named);
    sink(file.bytes());
}

const RegisteredFormat threemf_format({.suffix = "3mf",
                                       .name = "3MF",
                                       .customs = "millimetres, z up (3MF)",
                                       .scale = 1000,
                                       .up = UpAxis::z,
                                       .keeps = Keep::copies | Keep::materials,
                                       .write = write_3mf});

}  // namespace

}  // namespace bricol
