// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean_shadows.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/ground/disjoint_sets.h"
#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/box_cells.h"

namespace bricol {

namespace {

/// Crossings of the edges of one surface with the triangles of the other, edge by edge.
template <class Cross>
std::vector<Crossing> found(const ShadowSurface& edges, const ShadowSurface& triangles, const Cross& cross) {
    std::vector<Crossing> all;
    if (!edges.box().touches(triangles.box())) return all;
    Box common;
    common.low = glm::max(edges.box().low, triangles.box().low);
    common.high = glm::min(edges.box().high, triangles.box().high);
    const BoxCells cells(triangles.boxes(), common, 3);
    constexpr std::size_t block = 4096;
    const std::size_t n = edges.edges().size(), blocks = (n + block - 1) / block;
    std::vector<std::vector<Crossing>> parts(blocks);
    parallel::each(std::size_t(0), blocks, [&](std::size_t b) {
        std::vector<Index> near;
        for (std::size_t e = b * block; e < std::min(n, (b + 1) * block); ++e) {
            stop_point(e);
            const Box box = edges.edge_box(static_cast<Index>(e));
            if (!box.touches(common)) continue;
            near.clear();
            const DVec3 &low = edges.points()[edges.edges()[e].low], &high = edges.points()[edges.edges()[e].high];
            cells.touching(box, triangles.boxes(), [&](Index t) {
                const auto& [a, b2, c] = triangles.soup().triangles[t];
                if (!passes_by(low, high, triangles.points()[a], triangles.points()[b2], triangles.points()[c]))
                    near.push_back(t);
            });
            std::sort(near.begin(), near.end());
            for (const Index t : near)
                if (auto crossing = cross(static_cast<Index>(e), t)) parts[b].push_back(*crossing);
        }
    });
    for (const auto& part : parts) all.insert(all.end(), part.begin(), part.end());
    return all;
}

/// Winding numbers of the other surface round every point: counted for one point of each piece, and from there along
/// the edges by what they cross.
template <class Round>
std::vector<std::int32_t> windings(const ShadowSurface& surface, const ShadowSurface& other,
                                   const std::vector<Crossing>& crossings, const Round& round) {
    const std::size_t n = surface.points().size(), edges = surface.edges().size();
    std::vector<std::int32_t> change(edges, 0);
    for (const Crossing& crossing : crossings) change[crossing.edge] += crossing.enters;
    // What hangs together over edges that cross nothing has one number.
    DisjointSets alike(n);
    for (std::size_t e = 0; e < edges; stop_point(e), ++e)
        if (change[e] == 0) alike.join(surface.edges()[e].low, surface.edges()[e].high);
    struct Step {
        Index from, to;
        std::int32_t by;
    };
    std::vector<Step> steps;
    for (std::size_t e = 0; e < edges; stop_point(e), ++e)
        if (change[e] != 0) {
            const Index a = alike.root(surface.edges()[e].low), b = alike.root(surface.edges()[e].high);
            steps.push_back({a, b, change[e]});
            steps.push_back({b, a, -change[e]});
        }
    std::sort(steps.begin(), steps.end(),
              [](const Step& a, const Step& b) { return std::tie(a.from, a.to, a.by) < std::tie(b.from, b.to, b.by); });
    std::vector<std::uint8_t> used(n, 0);
    for (const auto& edge : surface.edges()) used[edge.low] = used[edge.high] = 1;
    constexpr std::int32_t unknown = std::numeric_limits<std::int32_t>::min();
    std::vector<std::int32_t> number(n, unknown);
    std::optional<BoxCells> columns;
    std::size_t asked = 0;
    constexpr std::size_t few = 6;  // so many are looked for among all, sooner than sorting them into cells
    std::vector<Index> queue;
    for (Index v = 0; v < n; ++v) {
        if (!used[v] || alike.root(v) != v || number[v] != unknown) continue;
        stop_point();
        std::int32_t sum = 0;
        Box column = Box::nothing();
        column.add(surface.points()[v]);
        column.low.z = -1e300, column.high.z = 1e300;
        if (column.touches(other.box()) && ++asked <= few) {
            for (Index t = 0; t < other.boxes().size(); ++t) {
                stop_point(t);
                if (column.touches(other.boxes()[t])) sum += round(v, t);
            }
        } else if (column.touches(other.box())) {
            if (!columns) columns.emplace(other.boxes(), other.box(), 2);
            columns->each(column, [&](std::size_t cell) {
                for (const Index t : columns->members(cell))
                    if (column.touches(other.boxes()[t])) sum += round(v, t);
            });
        }
        number[v] = sum;
        queue.assign(1, v);
        for (std::size_t i = 0; i < queue.size(); ++i) {
            const auto first = std::ranges::lower_bound(steps, queue[i], {}, &Step::from);
            for (auto step = first; step != steps.end() && step->from == queue[i]; ++step)
                if (number[step->to] == unknown) {
                    number[step->to] = number[queue[i]] + step->by;
                    queue.push_back(step->to);
                }
        }
    }
    for (Index v = 0; v < n; ++v) number[v] = used[v] ? number[alike.root(v)] : 0;
    return number;
}

Box box_of(const TaggedTriangles& soup) {
    Box box = Box::nothing();
    for (const auto& t : soup.triangles)
        for (const Index v : t) box.add(soup.points[v]);
    return box;
}

/// A surface in two: the polygons with something above, below or in the other one's box, and those beyond, which
/// neither cross it nor are seen from it along z.
class Parted {
public:
    Parted(const TaggedTriangles& soup, const Box& other) : soup_(soup) {
        Box column = other;
        column.low.z = -1e300, column.high.z = 1e300;
        std::vector<std::uint8_t> near;  // by tag, so that no polygon falls apart
        std::size_t count = 0;
        for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
            stop_point(i);
            Box box = Box::nothing();
            for (const Index v : soup.triangles[i]) box.add(soup.points[v]);
            if (soup.tags[i] >= near.size()) near.resize(soup.tags[i] + std::size_t(1), 0);
            if (box.touches(column)) near[soup.tags[i]] = 1, ++count;
        }
        if (2 * count > soup.triangles.size()) return;  // not worth it
        part_ = TaggedTriangles{soup.points, {}, {}};
        for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
            const bool here = near[soup.tags[i]];
            (here ? part_->triangles : beyond_.triangles).push_back(soup.triangles[i]);
            (here ? part_->tags : beyond_.tags).push_back(soup.tags[i]);
        }
    }
    const TaggedTriangles& near() const { return part_ ? *part_ : soup_; }
    const Beyond* beyond() const { return &beyond_; }

private:
    const TaggedTriangles& soup_;
    std::optional<TaggedTriangles> part_;
    Beyond beyond_;
};

}  // namespace

Crossed crossings_of(const ShadowSurface& p, const ShadowSurface& q, bool closed_p, bool closed_q) {
    const Shadows shadows(p, q);
    Crossed out;
    parallel::together([&] { out.of_p = found(p, q, [&](Index e, Index t) { return shadows.edge_of_p(e, t); }); },
                       [&] { out.of_q = found(q, p, [&](Index e, Index t) { return shadows.edge_of_q(e, t); }); });
    parallel::together(
        [&] {
            if (closed_q)
                out.winding_p = windings(p, q, out.of_p, [&](Index v, Index t) { return shadows.winding_at_p(v, t); });
        },
        [&] {
            if (closed_p)
                out.winding_q = windings(q, p, out.of_q, [&](Index v, Index t) { return shadows.winding_at_q(v, t); });
        });
    return out;
}

TaggedTriangles boolean_by_shadows(const TaggedTriangles& a, const TaggedTriangles& b, BooleanKind kind) {
    if (a.triangles == b.triangles && a.points == b.points)  // the same twice leaves all or nothing
        return kind == BooleanKind::subtract ? TaggedTriangles{} : a;
    const Parted near_a(a, box_of(b)), near_b(b, box_of(a));
    const Box reach = box_of(near_b.near());
    std::optional<ShadowSurface> held_p, held_q;
    parallel::together([&] { held_p.emplace(near_a.near(), kind == BooleanKind::unite ? 1 : -1, &reach); },
                       [&] { held_q.emplace(near_b.near(), 0); });
    const ShadowSurface &p = *held_p, &q = *held_q;
    const Crossed crossed = crossings_of(p, q, true, true);
    Keeping keeping;
    if (kind == BooleanKind::unite) keeping = {1, 1, -1};
    if (kind == BooleanKind::subtract) keeping = {1, 0, -1};
    if (kind == BooleanKind::intersect) keeping = {0, 0, 1};
    return kept_parts(p, q, crossed, keeping, nullptr, {near_a.beyond(), near_b.beyond()});
}

TaggedTriangles sheet_by_shadows(const TaggedTriangles& sheet, const TaggedTriangles& solid, bool keep_inside,
                                 std::vector<std::array<DVec3, 2>>* lines) {
    const Parted near_sheet(sheet, box_of(solid)), near_solid(solid, box_of(sheet));
    const ShadowSurface q(near_sheet.near(), 0), p(near_solid.near(), 1, &q.box());
    const Crossed crossed = crossings_of(p, q, true, false);
    return kept_parts(p, q, crossed, {0, keep_inside ? 0 : 1, keep_inside ? 1 : -1, false, true}, lines,
                      {nullptr, near_sheet.beyond()});
}

}  // namespace bricol
