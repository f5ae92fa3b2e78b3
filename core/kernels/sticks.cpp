// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/sticks.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>

#include "core/ground/disjoint_sets.h"
#include "core/ground/stop.h"
#include "core/kernels/flatten.h"
#include "core/shape/sets.h"

namespace bricol {

namespace {

/// Knots and bones as they are found, before they are put in order.
struct LooseSticks {
    std::vector<StickKnot> knots;
    std::vector<std::array<Index, 2>> bones;
    std::vector<std::uint8_t> marked;  ///< of every knot: 1 for a root that somebody marked
};

bool finite(const DVec3& v) { return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z); }

void add_loose_edges(const Mesh& mesh, double girth, LooseSticks& out) {
    const auto& uses = mesh.topology->adjacency();
    const auto* girths = mesh.attributes.values<Vec2>(Domain::vertex, stick_name::girth);
    const auto* even = mesh.attributes.values<float>(Domain::vertex, stick_name::girth);
    const auto* rolls = mesh.attributes.values<float>(Domain::vertex, stick_name::roll);
    const auto* ids = mesh.attributes.values<std::int32_t>(Domain::vertex, attribute_name::id);
    const auto root = set_members(mesh, Domain::vertex, stick_name::root);
    const auto cut = set_members(mesh, Domain::vertex, stick_name::cut);
    const auto stiff = set_members(mesh, Domain::vertex, stick_name::stiff);
    std::vector<Index> number(mesh.vertex_count(), no_index);
    const auto knot = [&](Index v) {
        if (number[v] != no_index) return number[v];
        StickKnot made;
        made.at = DVec3((*mesh.positions)[v]);
        made.girth = girths ? DVec2((*girths)[v]) : DVec2(even ? (*even)[v] : girth);
        if (rolls) made.roll = glm::radians(static_cast<double>((*rolls)[v]));
        if (ids) made.id = (*ids)[v];
        made.cut = cut && (*cut)[v];
        made.joint = !(stiff && (*stiff)[v]);
        out.knots.push_back(made);
        out.marked.push_back(root && (*root)[v]);
        return number[v] = static_cast<Index>(out.knots.size() - 1);
    };
    std::vector<std::uint8_t> in_face(mesh.vertex_count(), 0);
    for (const Index v : mesh.topology->corner_vertex) in_face[v] = 1;
    for (Index e = 0; e < mesh.edge_count(); ++e)
        if (uses.faces_of_edge(e).empty()) {
            const auto [a, b] = mesh.topology->edges[e];
            const Index from = knot(a), to = knot(b);
            out.bones.push_back({from, to});
        }
    for (Index v = 0; v < mesh.vertex_count(); ++v)  // single points are figures of one knot
        if (!in_face[v] && number[v] == no_index) knot(v);
}

void add_curves(const Shape& shape, double girth, LooseSticks& out) {
    for (const Curve& curve : shape.curves) {
        const auto first = static_cast<Index>(out.knots.size());
        const Polyline line = flatten(curve);
        for (std::size_t i = 0; i < line.points.size(); ++i) {
            StickKnot knot;
            knot.at = DVec3(line.points[i]);
            knot.girth = DVec2(girth * (i < line.radius.size() ? line.radius[i] : 1.0f));
            if (i < line.roll.size()) knot.roll = line.roll[i];
            out.knots.push_back(knot);
            out.marked.push_back(0);
            if (i > 0) out.bones.push_back({first + static_cast<Index>(i - 1), first + static_cast<Index>(i)});
        }
        if (line.closed && line.points.size() > 2)
            out.bones.push_back({first + static_cast<Index>(line.points.size() - 1), first});
    }
}

/// Joins the ends of bones without length, drops what has no place and what stands twice.
void cleaned(LooseSticks& loose, Sticks& out) {
    DisjointSets same(loose.knots.size());
    double size = 0;
    for (const auto& [a, b] : loose.bones)
        if (const double length = glm::distance(loose.knots[a].at, loose.knots[b].at); std::isfinite(length))
            size = std::max(size, length);
    std::vector<std::array<Index, 2>> kept;
    std::set<std::array<Index, 2>> seen;
    for (const auto& [a, b] : loose.bones) {
        if (!finite(loose.knots[a].at) || !finite(loose.knots[b].at)) continue;
        if (glm::distance(loose.knots[a].at, loose.knots[b].at) <= 1e-6 * size) same.join(a, b), ++out.without_length;
    }
    std::vector<Index> number(loose.knots.size(), no_index);
    for (Index k = 0; k < loose.knots.size(); ++k) {
        if (!finite(loose.knots[k].at)) {
            ++out.not_finite;
            continue;
        }
        const Index by = same.root(k);
        if (number[by] == no_index) {
            number[by] = static_cast<Index>(out.knots.size());
            out.knots.push_back(loose.knots[k]);
        }
        number[k] = number[by];
    }
    for (const auto& [a, b] : loose.bones) {
        const Index from = number[a], to = number[b];
        if (from == no_index || to == no_index || from == to) continue;
        if (!seen.insert({std::min(from, to), std::max(from, to)}).second)
            ++out.doubled;
        else
            kept.push_back({from, to});
    }
    std::vector<std::uint8_t> marked(out.knots.size(), 0);
    for (Index k = 0; k < number.size(); ++k)
        if (number[k] != no_index && loose.marked[k]) marked[number[k]] = 1;
    loose.bones = std::move(kept);
    loose.marked = std::move(marked);
}

/// A girth that cannot be laid is a thousandth of the longest bone, and told.
void mend_girths(Sticks& sticks, double longest) {
    const double least = 1e-3 * (longest > 0 ? longest : 1);
    for (Index k = 0; k < sticks.knots.size(); ++k) {
        DVec2& girth = sticks.knots[k].girth;
        bool mended = false;
        for (int side = 0; side < 2; ++side)
            if (!(girth[side] > 0) || !std::isfinite(girth[side])) girth[side] = least, mended = true;
        if (mended) sticks.thin.push_back(k);
        if (!std::isfinite(sticks.knots[k].roll)) sticks.knots[k].roll = 0;
    }
}

/// The marked knot of each figure, or the one nearest the middle of its bones (weighed by their length).
std::vector<Index> roots_of(const Sticks& sticks, const LooseSticks& loose) {
    const auto count = static_cast<Index>(sticks.knots.size());
    DisjointSets figures(count);
    for (const auto& [a, b] : loose.bones) figures.join(a, b);
    std::vector<DVec3> middle(count, DVec3(0));
    std::vector<double> length(count, 0);
    for (const auto& [a, b] : loose.bones) {
        const double l = glm::distance(sticks.knots[a].at, sticks.knots[b].at);
        middle[figures.root(a)] += l * 0.5 * (sticks.knots[a].at + sticks.knots[b].at);
        length[figures.root(a)] += l;
    }
    std::vector<Index> best(count, no_index);
    std::vector<double> how_near(count, std::numeric_limits<double>::infinity());
    for (Index k = 0; k < count; ++k) {
        const Index figure = figures.root(k);
        const double far = loose.marked[k]      ? -1
                           : length[figure] > 0 ? glm::distance(sticks.knots[k].at, middle[figure] / length[figure])
                                                : 0;
        if (far < how_near[figure] || best[figure] == no_index) how_near[figure] = far, best[figure] = k;
    }
    std::vector<Index> out;
    for (Index k = 0; k < count; ++k)
        if (figures.root(k) == k) out.push_back(best[k]);
    std::sort(out.begin(), out.end());
    return out;
}

/// Any unit vector across a direction: the x axis led there, or y where the direction is x itself.
DVec3 across_of(const DVec3& along) {
    DVec3 across = DVec3(1, 0, 0) - along * along.x;
    if (glm::length(across) < 0.1) across = DVec3(0, 1, 0) - along * along.y;
    return glm::normalize(across);
}

/// `across` turned as little as it must be when `from` becomes `to`; half a turn is made about `across` itself.
DVec3 handed_on(const DVec3& across, const DVec3& from, const DVec3& to) {
    const DVec3 axis = glm::cross(from, to);
    const double c = glm::dot(from, to);
    DVec3 turned = across;
    if (c > -0.999999) turned = across * c + glm::cross(axis, across) + axis * (glm::dot(axis, across) / (1 + c));
    turned -= to * glm::dot(turned, to);
    return glm::normalize(turned);
}

/// Where the first girth of a bone lies: level, across it; of an upright one along x.
DVec3 level_way(const DVec3& along) {
    const DVec3 level = glm::cross(along, DVec3(0, 0, 1));
    const double lean = glm::length(level);
    DVec3 side = across_of(along);
    if (lean > 0.25) return level / lean;
    if (lean > 0) {
        if (glm::dot(side, level) < 0) side = -side;
        const double t = std::clamp((lean - 0.1) / 0.15, 0.0, 1.0);
        side = glm::normalize(side * (1 - t) + level / lean * t);
    }
    return side;
}

void walk_outward(const LooseSticks& loose, Sticks& out) {
    std::vector<std::vector<Index>> at(out.knots.size());
    for (Index b = 0; b < loose.bones.size(); ++b)
        for (const Index k : loose.bones[b]) at[k].push_back(b);
    out.parent.assign(out.knots.size(), no_index);
    std::vector<std::uint8_t> reached(out.knots.size(), 0), used(loose.bones.size(), 0);
    std::vector<StickBone> closing;
    for (const Index root : out.roots) {
        std::vector<Index> line{root};
        reached[root] = 1;
        for (std::size_t next = 0; next < line.size(); ++next) {
            stop_point();
            const Index knot = line[next];
            const Index in = out.parent[knot];
            DVec3 along(0), across(0);
            if (in != no_index) along = out.bones[in].along, across = out.bones[in].across;
            for (const Index b : at[knot]) {
                if (used[b]) continue;
                used[b] = 1;
                StickBone bone;
                bone.from = knot;
                bone.to = loose.bones[b][0] == knot ? loose.bones[b][1] : loose.bones[b][0];
                const DVec3 way = out.knots[bone.to].at - out.knots[knot].at;
                bone.length = glm::length(way);
                bone.along = way / bone.length;
                if (along == DVec3(0)) along = bone.along, across = across_of(along);  // the root's first bone
                bone.across = handed_on(across, along, bone.along);
                const DVec3 level = level_way(bone.along), over = glm::cross(bone.along, bone.across);
                bone.tilt = std::atan2(glm::dot(level, over), glm::dot(level, bone.across));
                if (reached[bone.to]) {
                    bone.closes = true;
                    closing.push_back(bone);
                    continue;
                }
                reached[bone.to] = 1;
                out.parent[bone.to] = static_cast<Index>(out.bones.size());
                out.bones.push_back(bone);
                line.push_back(bone.to);
            }
        }
    }
    out.bones.insert(out.bones.end(), closing.begin(), closing.end());
    out.bones_at.assign(out.knots.size(), {});
    for (Index b = 0; b < out.bones.size(); ++b) {
        out.bones_at[out.bones[b].from].push_back(b);
        out.bones_at[out.bones[b].to].push_back(b);
    }
}

}  // namespace

Sticks sticks_of(const Shape& shape, double girth) {
    LooseSticks loose;
    add_loose_edges(shape.mesh, girth, loose);
    add_curves(shape, girth, loose);
    Sticks out;
    cleaned(loose, out);
    double longest = 0;
    for (const auto& [a, b] : loose.bones) longest = std::max(longest, glm::distance(out.knots[a].at, out.knots[b].at));
    mend_girths(out, longest);
    out.roots = roots_of(out, loose);
    walk_outward(loose, out);
    return out;
}

Mesh mesh_of_sticks(const std::vector<StickKnot>& knots, const std::vector<std::array<Index, 2>>& bones,
                    const std::vector<Index>& roots) {
    const std::size_t n = knots.size();
    Array<Vec3> points(n);
    Array<Vec2> girths(n);
    Array<float> rolls(n);
    Array<std::int32_t> ids(n);
    for (std::size_t k = 0; k < n; ++k) {
        points[k] = Vec3(knots[k].at);
        girths[k] = Vec2(knots[k].girth);
        rolls[k] = static_cast<float>(glm::degrees(knots[k].roll));
        ids[k] = knots[k].id;
    }
    Mesh mesh(std::move(points), make_topology(static_cast<Index>(n), {}, {}, bones));
    mesh.attributes.set(Domain::vertex, stick_name::girth, std::move(girths));
    mesh.attributes.set(Domain::vertex, stick_name::roll, std::move(rolls));
    mesh.attributes.set(Domain::vertex, attribute_name::id, std::move(ids));
    const auto keep = [&](std::string_view name, const auto& is_in) {
        Mask mask(n, 0);
        for (Index k = 0; k < n; ++k) mask[k] = is_in(k);
        if (count_of(mask) > 0) keep_set(mesh, Domain::vertex, std::string(name), std::move(mask));
    };
    keep(stick_name::root, [&](Index k) { return std::find(roots.begin(), roots.end(), k) != roots.end(); });
    keep(stick_name::cut, [&](Index k) { return knots[k].cut; });
    keep(stick_name::stiff, [&](Index k) { return !knots[k].joint; });
    return mesh;
}

}  // namespace bricol
