// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/threemf_check.h"

#include <Model/COM/NMR_DLLInterfaces.h>
#include <stdexcept>

namespace bricol::test {

namespace {

void must(LIB3MFRESULT result) {
    if (result != 0) throw std::runtime_error("lib3mf cannot read this");
}

template <class See>
void each(NMR::PLib3MFModelResourceIterator* list, See see) {
    for (;;) {
        BOOL more = false;
        must(NMR::lib3mf_resourceiterator_movenext(list, &more));
        if (!more) break;
        NMR::PLib3MFModelResource* one = nullptr;
        must(NMR::lib3mf_resourceiterator_getcurrent(list, &one));
        see(one);
        NMR::lib3mf_release(one);
    }
    NMR::lib3mf_release(list);
}

glm::dmat4 matrix(const NMR::MODELTRANSFORM& place) {
    glm::dmat4 out(1);
    for (int r = 0; r < 3; ++r)
        for (int c = 0; c < 4; ++c) out[c][r] = static_cast<double>(place.m_fFields[r][c]);
    return out;
}

/// An object, and what it is put together from, where it stands.
void add(NMR::PLib3MFModelObjectResource* object, const glm::dmat4& place, ThreeMfRead& out) {
    BOOL is_mesh = false;
    must(NMR::lib3mf_object_ismeshobject(object, &is_mesh));
    DWORD count = 0;
    if (!is_mesh) {
        must(NMR::lib3mf_componentsobject_getcomponentcount(object, &count));
        for (DWORD i = 0; i < count; ++i) {
            NMR::PLib3MFModelComponent* component = nullptr;
            NMR::PLib3MFModelObjectResource* inner = nullptr;
            NMR::MODELTRANSFORM where{};
            must(NMR::lib3mf_componentsobject_getcomponent(object, i, &component));
            must(NMR::lib3mf_component_getobjectresource(component, &inner));
            must(NMR::lib3mf_component_gettransform(component, &where));
            add(inner, place * matrix(where), out);
            NMR::lib3mf_release(inner);
            NMR::lib3mf_release(component);
        }
        return;
    }
    must(NMR::lib3mf_meshobject_gettrianglecount(object, &count));
    out.triangles += count;
    must(NMR::lib3mf_meshobject_getvertexcount(object, &count));
    std::vector<NMR::MODELMESHVERTEX> points(count);
    must(NMR::lib3mf_meshobject_getvertices(object, points.data(), count, nullptr));
    for (const NMR::MODELMESHVERTEX& p : points) {
        const DVec3 at(place * glm::dvec4(p.m_fPosition[0], p.m_fPosition[1], p.m_fPosition[2], 1));
        out.low = glm::min(out.low, at), out.high = glm::max(out.high, at);
    }
}

}  // namespace

ThreeMfRead read_3mf(const std::string& path) {
    ThreeMfRead out;
    NMR::PLib3MFModel* model = nullptr;
    must(NMR::lib3mf_createmodel(&model));
    NMR::PLib3MFModelReader* reader = nullptr;
    must(NMR::lib3mf_model_queryreader(model, "3mf", &reader));
    must(NMR::lib3mf_reader_readfromfileutf8(reader, path.c_str()));
    NMR::lib3mf_release(reader);
    DWORD unit = 0;
    must(NMR::lib3mf_model_getunit(model, &unit));
    out.millimetres = unit == static_cast<DWORD>(NMR::MODELUNIT_MILLIMETER);
    NMR::PLib3MFModelResourceIterator* list = nullptr;
    must(NMR::lib3mf_model_getobjects(model, &list));
    each(list, [&](NMR::PLib3MFModelResource*) { ++out.objects; });
    must(NMR::lib3mf_model_getbasematerials(model, &list));
    each(list, [&](NMR::PLib3MFModelResource* group) {
        DWORD count = 0;
        must(NMR::lib3mf_basematerial_getcount(group, &count));
        for (DWORD i = 0; i < count; ++i) {
            char name[256] = {};
            ULONG length = 0;
            BYTE red = 0, green = 0, blue = 0, alpha = 0;
            must(NMR::lib3mf_basematerial_getnameutf8(group, i, name, 255, &length));
            must(NMR::lib3mf_basematerial_getdisplaycolor(group, i, &red, &green, &blue, &alpha));
            char digits[4] = {};
            std::snprintf(digits, sizeof digits, "%02x", alpha);
            out.materials.push_back(std::string(name) + " #" + digits);
        }
    });
    NMR::PLib3MFModelBuildItemIterator* items = nullptr;
    must(NMR::lib3mf_model_getbuilditems(model, &items));
    for (;;) {
        BOOL more = false;
        must(NMR::lib3mf_builditemiterator_movenext(items, &more));
        if (!more) break;
        NMR::PLib3MFModelBuildItem* item = nullptr;
        NMR::PLib3MFModelObjectResource* object = nullptr;
        NMR::MODELTRANSFORM place{};
        must(NMR::lib3mf_builditemiterator_getcurrent(items, &item));
        must(NMR::lib3mf_builditem_getobjectresource(item, &object));
        must(NMR::lib3mf_builditem_getobjecttransform(item, &place));
        add(object, matrix(place), out);
        NMR::lib3mf_release(object);
        NMR::lib3mf_release(item);
    }
    NMR::lib3mf_release(items);
    NMR::lib3mf_release(model);
    return out;
}

}  // namespace bricol::test
