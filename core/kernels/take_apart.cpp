// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/take_apart.h"

#include <cmath>
#include <fmt/format.h>
#include <glm/gtc/matrix_transform.hpp>

#include "core/ground/numbers.h"
#include "core/ground/stop.h"
#include "core/ground/words.h"
#include "core/kernels/choose.h"
#include "core/kernels/normals.h"
#include "core/kernels/pieces.h"
#include "core/kernels/place_copies.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/remove_elements.h"
#include "core/kernels/transform.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

using Numbers = std::map<std::string, double>;

/// One value of a column by its name, or three by theirs; divided by how many are added up.
struct AddedUp {
    Numbers& numbers;
    double share;

    template <class T>
    void add(const std::string& name, const T& value) {
        if constexpr (std::is_arithmetic_v<T>)
            numbers[name] += static_cast<double>(value) * share;
        else
            for (int i = 0; i < T::length(); ++i)
                numbers[fmt::format("{}.{}", name, "xyzw"[i])] += static_cast<double>(value[i]) * share;
    }
};

/// The attributes of one element as numbers, or of several their means.
void add_attributes(const Attributes& attributes, Domain domain, std::span<const Index> elements, Numbers& numbers) {
    if (elements.empty()) return;
    AddedUp sum{numbers, 1.0 / static_cast<double>(elements.size())};
    for (const Attribute& attribute : attributes.all())
        if (attribute.domain == domain)
            std::visit(
                [&](const auto& values) {
                    for (const Index e : elements) sum.add(attribute.name, values[e]);
                },
                *attribute.values);
}

void add_place(const DVec3& at, Numbers& numbers) {
    numbers["at.x"] = at.x, numbers["at.y"] = at.y, numbers["at.z"] = at.z;
}

glm::dmat4 moved(const DVec3& by) { return glm::translate(glm::dmat4(1), by); }

/// The way back from where an element is taken to where it stood, and the element there.
ShapePtr brought(const Shape& shape, const glm::dmat4& place) {
    return std::make_shared<const Shape>(transformed(shape, glm::inverse(place)));
}

/// Takes one kind of elements out of a shape.
class Apart {
public:
    Apart(const Shape& shape, const ApartOptions& options) : shape_(shape), mesh_(shape.mesh), options_(options) {}

    TakenApart run() {
        out_.rest = shape_;
        switch (options_.by) {
            case ApartBy::piece:
                pieces();
                break;
            case ApartBy::face:
                faces();
                break;
            case ApartBy::curve:
                curves();
                break;
            case ApartBy::point:
                points();
                break;
            case ApartBy::copy:
                copies();
                break;
        }
        return std::move(out_);
    }

private:
    /// Whether the next element that may be taken is.
    bool takes() {
        stop_point(seen_);
        const std::size_t at = seen_++;
        return at >= options_.first && (at - options_.first) % std::max<std::size_t>(1, options_.every) == 0;
    }

    /// Puts an element down. `shape` gives it as it stands.
    void take(const Shape& shape, const glm::dmat4& place, const DVec3& at, std::size_t number, Numbers names) {
        add_place(at, names);
        if (options_.at_origin)
            out_.elements.push_back({brought(shape, place), place, number, std::move(names)});
        else
            out_.elements.push_back({std::make_shared<const Shape>(shape), glm::dmat4(1), number, std::move(names)});
    }

    void pieces() {
        const std::vector<MeshPiece> all = pieces_of(mesh_);
        out_.of = all.size();
        Mask taken(mesh_.face_count(), 0);
        for (std::size_t i = 0; i < all.size(); ++i) {
            const auto& faces = all[i].faces;
            if (std::ranges::none_of(faces, [&](Index f) { return options_.only[f]; }) || !takes()) continue;
            for (const Index f : faces) taken[f] = 1;
            Shape piece;
            piece.mesh = only_faces(mesh_, faces);
            Numbers names;
            std::vector<Index> own(std::max(piece.mesh.vertex_count(), piece.mesh.face_count()));
            for (std::size_t k = 0; k < own.size(); ++k) own[k] = static_cast<Index>(k);
            const std::span<const Index> whole(own);
            const Attributes& attributes = piece.mesh.attributes;
            add_attributes(attributes, Domain::face, whole.first(piece.mesh.face_count()), names);
            add_attributes(attributes, Domain::vertex, whole.first(piece.mesh.vertex_count()), names);
            const Box& box = all[i].box;
            const DVec3 foot(box.centre().x, box.centre().y, box.low.z);
            take(piece, moved(foot), foot, i, std::move(names));
        }
        if (!out_.elements.empty()) out_.rest.mesh = without_faces(mesh_, Selection(taken));
    }

    void faces() {
        const Array<Vec3> normals = face_normals(mesh_);
        out_.of = mesh_.face_count();
        Mask taken(mesh_.face_count(), 0);
        for (std::size_t f = 0; f < mesh_.face_count(); ++f) {
            if (!options_.only[f] || !takes()) continue;
            taken[f] = 1;
            const auto corners = mesh_.topology->face(f);
            const DVec3 z = DVec3(normals[f]), at = middle_of(mesh_, Domain::face, f),
                        edge = DVec3((*mesh_.positions)[corners[1]]) - DVec3((*mesh_.positions)[corners[0]]),
                        x = unit(edge - z * glm::dot(edge, z));
            glm::dmat4 place = moved(at);
            if (glm::length(x) > 0.5 && glm::length(z) > 0.5) {  // a face without area has no way of its own
                place[0] = glm::dvec4(x, 0);
                place[1] = glm::dvec4(glm::cross(z, x), 0);
                place[2] = glm::dvec4(z, 0);
            }
            Shape one;
            const auto number = static_cast<Index>(f);
            one.mesh = only_faces(mesh_, std::span(&number, 1));
            Numbers names;
            add_attributes(mesh_.attributes, Domain::face, std::span(&number, 1), names);
            take(one, place, at, f, std::move(names));
        }
        if (!out_.elements.empty()) out_.rest.mesh = without_faces(mesh_, Selection(taken));
    }

    void curves() {
        out_.of = shape_.curves.size();
        out_.rest.curves.clear();
        for (std::size_t c = 0; c < shape_.curves.size(); ++c) {
            const Curve& curve = shape_.curves[c];
            if (curve.knots.empty() || !options_.only[c] || !takes()) {
                out_.rest.curves.push_back(curve);
                continue;
            }
            Shape one;
            one.curves = {curve};
            const DVec3 at(curve.knots.front().at);
            const DVec3 end(curve.knots.back().at);
            Numbers names{{"knots", static_cast<double>(curve.knots.size())},
                          {"closed", curve.closed ? 1 : 0},
                          {"end.x", end.x},
                          {"end.y", end.y},
                          {"end.z", end.z}};
            const Attributes carried = columns_of_knots(one.curves, Domain::vertex);
            std::vector<Index> own(curve.knots.size());
            for (std::size_t k = 0; k < own.size(); ++k) own[k] = static_cast<Index>(k);
            add_attributes(carried, Domain::vertex, own, names);
            take(one, moved(at), at, c, std::move(names));
        }
    }

    void points() {
        out_.of = mesh_.vertex_count() + shape_.knot_count();
        const Array<Vec3> normals = mesh_.face_count() > 0 ? vertex_normals(mesh_) : Array<Vec3>();
        const auto* facing = mesh_.attributes.values<Vec3>(Domain::vertex, attribute_name::facing);
        const Adjacency& around = mesh_.topology->adjacency();
        Mask taken(mesh_.vertex_count(), 0);
        for (std::size_t v = 0; v < mesh_.vertex_count(); ++v) {
            if (!options_.only[v] || !takes()) continue;
            const auto number = static_cast<Index>(v);
            taken[v] = around.edges_of_vertex(number).empty();
            CopyPlace look;
            look.at = DVec3((*mesh_.positions)[v]);
            look.facing = facing ? DVec3((*facing)[v]) : normals.empty() ? DVec3(0) : DVec3(normals[v]);
            Shape one;
            one.mesh = Mesh({(*mesh_.positions)[v]}, make_topology(1, {}, {}));
            mesh_.attributes.gather_into(one.mesh.attributes, Domain::vertex, std::span(&number, 1));
            Numbers names;
            add_attributes(mesh_.attributes, Domain::vertex, std::span(&number, 1), names);
            take(one, glm::dmat4(copy_matrix(look, 2)), look.at, v, std::move(names));
        }
        if (std::ranges::find(taken, 1) != taken.end()) out_.rest.mesh = without_vertices(mesh_, Selection(taken));
        std::size_t number = mesh_.vertex_count();
        for (const Curve& curve : shape_.curves)
            for (const Knot& knot : curve.knots) {
                const std::size_t own = number++;
                if (!options_.only[own] || !takes()) continue;
                Shape one;
                one.mesh = Mesh({knot.at}, make_topology(1, {}, {}));
                one.mesh.attributes = columns_of(std::span(&knot.values, 1), Domain::vertex);
                Numbers names{{"radius", static_cast<double>(knot.radius)},
                              {"roll", glm::degrees(static_cast<double>(knot.roll))},
                              {"fillet", static_cast<double>(knot.fillet)}};
                const Index first = 0;
                add_attributes(one.mesh.attributes, Domain::vertex, std::span(&first, 1), names);
                take(one, moved(DVec3(knot.at)), DVec3(knot.at), own, std::move(names));
            }
    }

    void copies() {
        out_.rest.instances.clear();
        for (const Instances& group : shape_.instances) {
            std::vector<Index> kept, taken;
            for (std::size_t i = 0; i < group.count(); ++i) {
                const auto index = static_cast<Index>(i);
                const std::size_t number = out_.of++;
                if (!options_.only[number] || !takes()) {
                    kept.push_back(index);
                    continue;
                }
                taken.push_back(index);
                const glm::dmat4 place(group.places[i]);
                Numbers names;
                add_attributes(group.attributes, Domain::instance, std::span(&index, 1), names);
                add_place(DVec3(place[3]), names);
                if (options_.at_origin) {
                    out_.elements.push_back({group.shape, place, number, std::move(names)});
                } else {
                    const ShapePtr real = real_geometry(group.shape);
                    out_.elements.push_back({std::make_shared<const Shape>(transformed(*real, place)), glm::dmat4(1),
                                             number, std::move(names)});
                }
            }
            keep_attributes(group.attributes, taken);
            if (kept.empty()) continue;
            Instances rest;
            rest.shape = group.shape;
            for (const Index i : kept) rest.places.push_back(group.places[i]);
            group.attributes.gather_into(rest.attributes, Domain::instance, kept);
            out_.rest.instances.push_back(std::move(rest));
        }
    }

    void keep_attributes(const Attributes& of_group, const std::vector<Index>& taken) {
        if (taken.empty()) return;
        constexpr auto at = static_cast<std::size_t>(Domain::instance);
        std::array<std::size_t, 8> before{}, more{};
        more[at] = taken.size();
        before[at] = out_.elements.size() - taken.size();
        Attributes own;
        of_group.gather_into(own, Domain::instance, taken);
        out_.copies = before[at] == 0 ? own : joined(out_.copies, before, own, more);
    }

    const Shape& shape_;
    const Mesh& mesh_;
    const ApartOptions& options_;
    std::size_t seen_ = 0;
    TakenApart out_;
};

bool near(float a, float b, double within) {
    return std::abs(static_cast<double>(a) - static_cast<double>(b)) <= within;
}
template <int N>
bool near(const glm::vec<N, float>& a, const glm::vec<N, float>& b, double within) {
    for (int i = 0; i < N; ++i)
        if (!near(a[i], b[i], within)) return false;
    return true;
}
template <class T>
requires std::is_integral_v<T>
bool near(T a, T b, double) { return a == b; }

/// Elements that lie apart in the world differ by rounding when they are brought to the origin, and so do their
/// normals.
constexpr double same_share = 1e-6, same_value = 1e-5;

bool same_attributes(const Attributes& a, const Attributes& b) {
    if (a.all().size() != b.all().size()) return false;
    for (const Attribute& one : a.all()) {
        const Attribute* other = b.find(one.domain, one.name);
        if (!other || other->values->index() != one.values->index()) return false;
        if (other->values == one.values) continue;
        const bool same = std::visit(
            [&](const auto& values) {
                const auto& others = std::get<std::decay_t<decltype(values)>>(*other->values);
                return std::ranges::equal(values, others,
                                          [](const auto& x, const auto& y) { return near(x, y, same_value); });
            },
            *one.values);
        if (!same) return false;
    }
    return true;
}

bool same_curve(const Curve& a, const Curve& b, double within) {
    return a.closed == b.closed && std::ranges::equal(a.knots, b.knots, [&](const Knot& p, const Knot& q) {
               return p.kind == q.kind && near(p.at, q.at, within) && near(p.in, q.in, within) &&
                      near(p.out, q.out, within) && near(p.fillet, q.fillet, within) &&
                      near(p.radius, q.radius, same_value) && near(p.roll, q.roll, same_value);
           });
}

/// By how much a number of that size may be off after rounding to 32 bits, twice.
constexpr double rounding = 1.2e-7;

/// `far` is how far from the origin the farther of them stood (metres).
bool same_shape(const Shape& a, const Shape& b, double far) {
    const Topology &s = *a.mesh.topology, &t = *b.mesh.topology;
    if (a.mesh.vertex_count() != b.mesh.vertex_count() || s.face_offsets != t.face_offsets ||
        s.corner_vertex != t.corner_vertex || s.edges != t.edges || a.curves.size() != b.curves.size() ||
        !a.instances.empty() || !b.instances.empty())
        return false;
    const auto box = box_of(a);
    const double size = box ? std::max(glm::length(box->size()), glm::length(box->high)) : 0,
                 within = same_share * size + rounding * (far + size);
    return std::ranges::equal(*a.mesh.positions, *b.mesh.positions,
                              [&](const Vec3& p, const Vec3& q) { return near(p, q, within); }) &&
           std::ranges::equal(a.curves, b.curves,
                              [&](const Curve& c, const Curve& d) { return same_curve(c, d, within); }) &&
           same_attributes(a.mesh.attributes, b.mesh.attributes);
}

}  // namespace

TakenApart taken_apart(const Shape& shape, const ApartOptions& options) { return Apart(shape, options).run(); }

std::vector<std::size_t> alike(const std::vector<ApartElement>& elements) {
    std::vector<std::size_t> like(elements.size());
    // Only those of the same counts are compared, and of one shape that stands in many places only its address.
    std::map<const Shape*, std::size_t> by_address;
    std::map<std::array<std::size_t, 3>, std::vector<std::size_t>> firsts;
    for (std::size_t i = 0; i < elements.size(); ++i) {
        stop_point(i);
        const Shape& shape = *elements[i].shape;
        const auto [known, fresh] = by_address.try_emplace(&shape, i);
        if (!fresh) {
            like[i] = known->second;
            continue;
        }
        auto& candidates = firsts[{shape.mesh.vertex_count(), shape.mesh.face_count(), shape.knot_count()}];
        const auto same = std::ranges::find_if(candidates, [&](std::size_t first) {
            const double far =
                std::max(glm::length(DVec3(elements[first].place[3])), glm::length(DVec3(elements[i].place[3])));
            return same_shape(*elements[first].shape, shape, far);
        });
        like[i] = known->second = same == candidates.end() ? i : *same;
        if (same == candidates.end()) candidates.push_back(i);
    }
    return like;
}

}  // namespace bricol
