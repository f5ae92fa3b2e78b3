// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/place_copies.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/ground/cells.h"
#include "core/ground/stop.h"
#include "core/kernels/choose.h"
#include "core/kernels/normals.h"
#include "core/kernels/transform.h"

namespace bricol {

std::array<double, 4> shortest_turn(const DVec3& from, const DVec3& to) {
    const double a = glm::length(from), b = glm::length(to);
    if (!(a > 0) || !(b > 0)) return {1, 0, 0, 0};
    const DVec3 u = from / a, v = to / b;
    const double w = 1 + glm::dot(u, v);
    if (w < 1e-12) {  // opposite: half a turn about whatever is square to it
        const DVec3 other = std::abs(u.x) < 0.6 ? DVec3(1, 0, 0) : DVec3(0, 1, 0);
        const DVec3 axis = glm::normalize(glm::cross(u, other));
        return {0, axis.x, axis.y, axis.z};
    }
    const DVec3 c = glm::cross(u, v);
    const double length = std::sqrt(w * w + glm::dot(c, c));
    return {w / length, c.x / length, c.y / length, c.z / length};
}

glm::mat4 copy_matrix(const CopyPlace& place, int axis) {
    DVec3 own(0);
    own[axis] = 1;
    const auto [w, x, y, z] = shortest_turn(own, glm::length(place.facing) > 0 ? place.facing : own);
    // Columns of the rotation a unit quaternion stands for.
    const glm::dmat3 turn(1 - 2 * (y * y + z * z), 2 * (x * y + w * z), 2 * (x * z - w * y), 2 * (x * y - w * z),
                          1 - 2 * (x * x + z * z), 2 * (y * z + w * x), 2 * (x * z + w * y), 2 * (y * z - w * x),
                          1 - 2 * (x * x + y * y));
    const double angle = glm::radians(place.turn), c = std::cos(angle), s = std::sin(angle);
    glm::dmat3 spin(1);
    const int p = (axis + 1) % 3, q = (axis + 2) % 3;
    spin[p][p] = c, spin[p][q] = s, spin[q][p] = -s, spin[q][q] = c;
    const glm::dmat3 whole = turn * spin * place.size;
    glm::mat4 out(1);
    for (int i = 0; i < 3; ++i) out[i] = Vec4(Vec3(whole[i]), 0);
    out[3] = Vec4(Vec3(place.at), 1);
    return out;
}

std::vector<std::uint8_t> kept_apart(std::span<const DVec3> centres, std::span<const double> radii, double overlap) {
    std::vector<std::uint8_t> keep(centres.size(), 0);
    double largest = 0;
    for (const double r : radii) largest = std::max(largest, r);
    if (!(largest > 0)) return std::vector<std::uint8_t>(centres.size(), 1);
    const double width = 2 * largest;
    std::unordered_map<Cell, std::vector<std::size_t>, CellHash> cells;
    for (std::size_t i = 0; i < centres.size(); ++i) {
        stop_point(i);
        const Cell own = cell_of(centres[i], width);
        const bool taken = any_near(own, [&](const Cell& cell) {
            const auto found = cells.find(cell);
            return found != cells.end() && std::ranges::any_of(found->second, [&](std::size_t k) {
                       const double sunk = radii[i] + radii[k] - glm::distance(centres[i], centres[k]);
                       return sunk > overlap * 2 * std::min(radii[i], radii[k]) + 1e-12;
                   });
        });
        if (taken) continue;
        keep[i] = 1;
        cells[own].push_back(i);
    }
    return keep;
}

StandPoints stand_points(const Mesh& mesh, Domain on, const Mask& mask) {
    StandPoints out;
    out.domain = on == Domain::face ? Domain::face : Domain::vertex;
    out.attributes = mesh.attributes;
    const Array<Vec3> normals = out.domain == Domain::face ? face_normals(mesh) : vertex_normals(mesh);
    const bool faced = on != Domain::knot && mesh.face_count() > 0;
    for (std::size_t i = 0; i < mask.size(); ++i) {
        stop_point(i);
        if (!mask[i]) continue;
        out.at.push_back(middle_of(mesh, out.domain, i));
        out.facing.push_back(faced ? DVec3(normals[i]) : DVec3(0));
        out.source.push_back(i);
    }
    return out;
}

std::optional<std::vector<double>> numbers_at(const StandPoints& points, const std::string& name) {
    const Attribute* found = points.attributes.find(points.domain, name);
    if (!found) return std::nullopt;
    std::vector<double> out(points.at.size());
    std::visit(
        [&](const auto& values) {
            using T = typename std::decay_t<decltype(values)>::value_type;
            for (std::size_t i = 0; i < out.size(); ++i) {
                if constexpr (std::is_arithmetic_v<T>)
                    out[i] = static_cast<double>(values[points.source[i]]);
                else
                    out[i] = static_cast<double>(glm::length(values[points.source[i]]));
            }
        },
        *found->values);
    return out;
}

std::vector<Instances> copies_at(const StandPoints& points, std::span<const CopyPlace> places,
                                 std::span<const std::uint8_t> keep, std::span<const ShapePtr> shapes, int axis,
                                 const Array<Vec4>* colours) {
    const auto* ids = points.attributes.values<std::int32_t>(points.domain, attribute_name::id);
    std::vector<Instances> out;
    for (std::size_t v = 0; v < shapes.size(); ++v) {
        Instances group;
        group.shape = shapes[v];
        std::vector<std::size_t> members;
        for (std::size_t i = 0; i < places.size(); ++i)
            if (keep[i] && places[i].variant == static_cast<int>(v) && places[i].size != 0) members.push_back(i);
        if (members.empty()) continue;
        Array<std::int32_t> id(members.size());
        Array<Vec4> colour(colours ? members.size() : 0);
        for (std::size_t k = 0; k < members.size(); ++k) {
            stop_point(k);
            group.places.push_back(copy_matrix(places[members[k]], axis));
            id[k] = ids ? (*ids)[points.source[members[k]]] : static_cast<std::int32_t>(points.source[members[k]]);
            if (colours) colour[k] = (*colours)[points.source[members[k]]];
        }
        group.attributes.set(Domain::instance, attribute_name::id, std::move(id));
        if (colours) group.attributes.set(Domain::instance, attribute_name::colour, std::move(colour));
        out.push_back(std::move(group));
    }
    return out;
}

CopyBalls balls_round(std::span<const CopyPlace> places, std::span<const ShapePtr> shapes, int axis) {
    std::vector<DVec3> middles;
    std::vector<double> reaches;
    for (const ShapePtr& shape : shapes) {
        const auto box = box_of(*shape);
        middles.push_back(box ? box->centre() : DVec3(0));
        reaches.push_back(box ? std::max({box->size().x, box->size().y, box->size().z}) / 2 : 0);
    }
    CopyBalls out{std::vector<DVec3>(places.size()), std::vector<double>(places.size())};
    for (std::size_t i = 0; i < places.size(); ++i) {
        stop_point(i);
        const auto v = static_cast<std::size_t>(places[i].variant);
        out.centres[i] = DVec3(glm::dmat4(copy_matrix(places[i], axis)) * glm::dvec4(middles[v], 1));
        out.radii[i] = reaches[v] * std::abs(places[i].size);
    }
    return out;
}

}  // namespace bricol
