// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/stand_ins.h"

#include <algorithm>
#include <array>

#include "core/shape/knot_values.h"

namespace bricol {

namespace {

/// Mean direction round which a curve's knots turn (Newell's method); zero for a straight one.
DVec3 turned_about(const Curve& curve) {
    DVec3 sum(0);
    const std::size_t count = curve.knots.size();
    for (std::size_t k = 0; k < count; ++k)
        sum += glm::cross(DVec3(curve.knots[k].at) - DVec3(curve.knots[0].at),
                          DVec3(curve.knots[(k + 1) % count].at) - DVec3(curve.knots[0].at));
    double length = 0;
    for (std::size_t k = 0; k + 1 < count; ++k)
        length += glm::distance(DVec3(curve.knots[k].at), DVec3(curve.knots[k + 1].at));
    return glm::length(sum) > 1e-9 * length * length ? glm::normalize(sum) : DVec3(0);
}

DVec3 unit(const DVec3& v) {
    const double length = glm::length(v);
    return length > 0 ? v / length : DVec3(0);
}

/// Out of a closed curve, to the right of an open one.
std::vector<DVec3> ways_out(const Curve& curve) {
    const std::size_t count = curve.knots.size();
    const DVec3 drawn = glm::cross(DVec3(curve.plane.axes[0]), DVec3(curve.plane.axes[1]));
    DVec3 about = turned_about(curve);
    // What is right of an open curve is as one sees it in the plane it was drawn on, whichever way it bends.
    if (about == DVec3(0) || (!curve.closed && glm::dot(about, drawn) < 0)) about = about == DVec3(0) ? drawn : -about;
    std::vector<DVec3> out(count);
    const auto at = [&](std::size_t k) { return DVec3(curve.knots[k].at); };
    for (std::size_t k = 0; k < count; ++k) {
        const bool first = k == 0 && !curve.closed, last = k + 1 == count && !curve.closed;
        const DVec3 before = first ? DVec3(0) : unit(at(k) - at((k + count - 1) % count));
        const DVec3 after = last ? DVec3(0) : unit(at((k + 1) % count) - at(k));
        out[k] = unit(glm::cross(unit(before + after), about));
    }
    return out;
}

template <class F>
void each_place(std::vector<Instances>& groups, const F& f) {
    std::size_t i = 0;
    for (Instances& group : groups)
        for (glm::mat4& place : group.places) f(place, i++);
}

/// `edges` say who stands next to whom: how far a place may have gone and still be found is measured by them.
Mesh loose_points(Array<Vec3> points, Array<Vec3> normals, Array<std::array<Index, 2>> edges) {
    Mesh mesh;
    auto topology = std::make_shared<Topology>();
    topology->edges = std::move(edges);
    topology->vertex_count = static_cast<Index>(points.size());
    mesh.topology = std::move(topology);
    mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    mesh.attributes.set(Domain::vertex, attribute_name::normal, std::move(normals));
    return mesh;
}

}  // namespace

Mesh points_of_knots(const std::vector<Curve>& curves) {
    Array<Vec3> points, normals;
    Array<std::array<Index, 2>> edges;
    for (const Curve& curve : curves) {
        const auto first = static_cast<Index>(points.size()), count = static_cast<Index>(curve.knots.size());
        for (Index k = 0; k + 1 < count; ++k) edges.push_back({first + k, first + k + 1});
        if (curve.closed && count > 2) edges.push_back({first + count - 1, first});
        for (const Knot& knot : curve.knots) points.push_back(knot.at);
        for (const DVec3& way : ways_out(curve)) normals.push_back(Vec3(way));
    }
    Mesh mesh = loose_points(std::move(points), std::move(normals), std::move(edges));
    const Attributes carried = columns_of_knots(curves, Domain::vertex);
    for (const Attribute& attribute : carried.all()) mesh.attributes.set(attribute);
    return mesh;
}

void move_knots(std::vector<Curve>& curves, const Array<Vec3>& points) {
    std::size_t i = 0;
    for (Curve& curve : curves) {
        curve.source_step.clear();  // its knots no longer stand where they were drawn
        for (Knot& knot : curve.knots) knot.at = points[i++];
    }
}

Mesh points_of_copies(const std::vector<Instances>& groups) {
    Array<Vec3> points, normals;
    Array<std::array<Index, 2>> edges;
    for (const Instances& group : groups)
        for (const glm::mat4& place : group.places) {
            const auto own = static_cast<Index>(points.size());
            if (own > 0) edges.push_back({own - 1, own});
            points.emplace_back(place[3]);
            normals.push_back(Vec3(unit(DVec3(place[2]))));
        }
    Attributes all;
    std::size_t so_far = 0;
    for (const Instances& group : groups) {
        const std::array<std::size_t, 8> before{so_far, so_far, so_far, so_far, so_far, so_far, so_far, so_far};
        std::array<std::size_t, 8> own{};
        own.fill(group.count());
        all = so_far == 0 ? group.attributes : joined(all, before, group.attributes, own);
        so_far += group.count();
    }
    Mesh mesh = loose_points(std::move(points), std::move(normals), std::move(edges));
    for (const Attribute& attribute : all.all())
        if (attribute.domain == Domain::instance && column_size(*attribute.values) == so_far)
            mesh.attributes.set({attribute.name, Domain::vertex, attribute.values});
    return mesh;
}

void move_copies(std::vector<Instances>& groups, const Array<Vec3>& points) {
    each_place(groups, [&](glm::mat4& place, std::size_t i) { place[3] = Vec4(points[i], 1); });
}

void give_copies(std::vector<Instances>& groups, const Mesh& points, std::string_view name) {
    const Attribute* found = points.attributes.find(Domain::vertex, name);
    if (!found) return;
    std::size_t from = 0;
    for (Instances& group : groups) {
        std::visit(
            [&](const auto& column) {
                using Values = std::decay_t<decltype(column)>;
                const auto begin = column.begin() + static_cast<std::ptrdiff_t>(from);
                group.attributes.set(Domain::instance, name,
                                     Values(begin, begin + static_cast<std::ptrdiff_t>(group.count())));
            },
            *found->values);
        from += group.count();
    }
}

void regroup_copies(std::vector<Instances>& groups, std::span<const std::size_t> wanted) {
    const Mesh points = points_of_copies(groups);
    std::vector<Instances> out;
    for (const Instances& group : groups) out.emplace_back(group.shape);
    std::vector<std::vector<Index>> sources(groups.size());
    std::size_t i = 0;
    for (const Instances& group : groups)
        for (const glm::mat4& place : group.places) {
            out[wanted[i]].places.push_back(place);
            sources[wanted[i]].push_back(static_cast<Index>(i));
            ++i;
        }
    for (std::size_t g = 0; g < out.size(); ++g) {
        Attributes gathered;
        points.attributes.gather_into(gathered, Domain::vertex, sources[g]);
        for (const Attribute& attribute : gathered.all())
            if (attribute.name != attribute_name::normal)
                out[g].attributes.set({attribute.name, Domain::instance, attribute.values});
    }
    std::erase_if(out, [](const Instances& group) { return group.count() == 0; });
    groups = std::move(out);
}

void remove_copies(std::vector<Instances>& groups, const Array<std::uint8_t>& gone) {
    std::vector<Instances> left;
    std::size_t from = 0;
    for (const Instances& group : groups) {
        std::vector<Index> stay;
        for (std::size_t i = 0; i < group.count(); ++i)
            if (!gone[from + i]) stay.push_back(static_cast<Index>(i));
        from += group.count();
        if (stay.empty()) continue;
        Instances rest(group.shape);
        for (const Index i : stay) rest.places.push_back(group.places[i]);
        group.attributes.gather_into(rest.attributes, Domain::instance, stay);
        left.push_back(std::move(rest));
    }
    groups = std::move(left);
}

void remove_knots(std::vector<Curve>& curves, const Array<std::uint8_t>& gone) {
    std::size_t i = 0;
    for (Curve& curve : curves) {
        std::vector<Knot> left;
        for (Knot& knot : curve.knots)
            if (!gone[i++]) left.push_back(std::move(knot));
        if (left.size() < curve.knots.size()) curve.source_step.clear();  // numbers of knots are others now
        curve.knots = std::move(left);
        const bool bent = std::ranges::any_of(
            curve.knots, [](const Knot& knot) { return knot.in != Vec3(0) || knot.out != Vec3(0); });
        if (curve.knots.size() < (bent ? 2u : 3u)) curve.closed = false;
    }
    std::erase_if(curves, [](const Curve& curve) { return curve.knots.empty(); });
}

Attributes attributes_on(const Shape& shape) {
    Attributes all = shape.mesh.attributes;
    const Attributes of_knots = columns_of_knots(shape.curves);
    for (const Attribute& attribute : of_knots.all()) all.set(attribute);
    for (const Instances& group : shape.instances)
        for (const Attribute& attribute : group.attributes.all())
            if (!all.find(attribute.domain, attribute.name)) all.set(attribute);
    return all;
}

std::vector<SetInfo> sets_on(const Shape& shape) {
    std::vector<SetInfo> sets = sets_of(shape.mesh);
    const auto add = [&](const Attributes& attributes, Domain domain) {
        for (const Attribute& attribute : attributes.all()) {
            const auto* members = std::get_if<Mask>(attribute.values.get());
            if (!members || attribute.domain != domain) continue;
            const auto known = std::ranges::find_if(
                sets, [&](const SetInfo& one) { return one.domain == domain && one.name == attribute.name; });
            if (known == sets.end())
                sets.push_back({attribute.name, domain, count_of(*members)});
            else
                known->size += count_of(*members);
        }
    };
    add(columns_of_knots(shape.curves), Domain::knot);
    for (const Instances& group : shape.instances) add(group.attributes, Domain::instance);
    return sets;
}

}  // namespace bricol
