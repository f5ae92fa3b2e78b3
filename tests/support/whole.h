// SPDX-License-Identifier: GPL-3.0-or-later
// All of a shape as one number: what "the same bytes" compares.
#pragma once

#include <cstring>

#include "core/catalogue/digest.h"
#include "core/shape/shape.h"

namespace bricol::test {

/// Everything that is told of a shape: places, topology, every attribute, materials, curves knot by knot, copies with
/// their places, attributes and shapes.
class Whole {
public:
    static std::uint64_t of(const Shape& shape) {
        Whole whole;
        whole.add(shape);
        return whole.digest_.hash();
    }

private:
    template <class T>
    void raw(const Array<T>& values) {
        digest_.add(std::string_view(reinterpret_cast<const char*>(values.data()), values.size() * sizeof(T)));
    }
    void add(const Attributes& attributes) {
        digest_.add(attributes.all().size());
        for (const Attribute& a : attributes.all()) {
            digest_.add(std::string_view(a.name)), digest_.add(static_cast<int>(a.domain));
            digest_.add(a.values->index());
            std::visit([&](const auto& values) { raw(values); }, *a.values);
        }
    }
    void add(const Mesh& mesh) {
        raw(*mesh.positions);
        const Topology& t = *mesh.topology;
        digest_.add(t.vertex_count);
        digest_.add(t.edges.size());
        for (const auto& [a, b] : t.edges) digest_.add(a), digest_.add(b);
        raw(t.face_offsets), raw(t.corner_vertex), raw(t.corner_edge);
        add(mesh.attributes);
        digest_.add(mesh.materials != nullptr);
        if (mesh.materials)
            for (const NumberedMaterial& numbered : *mesh.materials) {
                const Material& m = numbered.material;
                digest_.add(numbered.number), digest_.add(std::string_view(m.name)), digest_.add(m.colour);
                for (const float v : {m.metallic, m.roughness, m.transmission, m.ior, m.alpha}) digest_.add(v);
                digest_.add(m.double_sided);
            }
    }
    void add(const Curve& curve) {
        digest_.add(curve.closed), digest_.add(curve.sampling.per_span), digest_.add(curve.sampling.tolerance);
        digest_.add(std::string_view(curve.source_step)), digest_.add(curve.source_curve);
        digest_.add(curve.knots.size());
        for (const Knot& k : curve.knots) {
            digest_.add(k.at), digest_.add(k.in), digest_.add(k.out), digest_.add(static_cast<int>(k.kind));
            digest_.add(k.fillet), digest_.add(k.radius), digest_.add(k.roll), digest_.add(k.source);
        }
    }
    void add(const Shape& shape) {
        add(shape.mesh);
        digest_.add(shape.curves.size());
        for (const Curve& curve : shape.curves) add(curve);
        digest_.add(shape.instances.size());
        for (const Instances& group : shape.instances) {
            raw(group.places);
            add(group.attributes);
            add(*group.shape);
        }
    }
    Digest digest_;
};

}  // namespace bricol::test
