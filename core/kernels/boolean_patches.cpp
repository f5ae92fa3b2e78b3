// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean_patches.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <numeric>
#include <set>
#include <tuple>
#include <unordered_map>

#include "core/ground/stop.h"
#include "core/kernels/box_cells.h"
#include "core/ground/disjoint_sets.h"
#include "core/ground/box.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

std::vector<Box> boxes_of(const TaggedTriangles& soup) {
    std::vector<Box> boxes(soup.triangles.size(), Box::nothing());
    parallel::each(tbb::blocked_range<std::size_t>(0, boxes.size(), 8192), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i)
            for (const Index v : soup.triangles[i]) boxes[i].add(soup.points[v]);
    });
    return boxes;
}

/// One solid taken apart: all its points, old ones first, and its triangles with those near the cut refined.
struct Side {
    std::vector<DVec3> points;
    std::vector<std::array<Index, 3>> triangles;
    std::vector<Index> tags;
    std::vector<std::uint8_t> on_line;  // per point
    std::set<std::pair<Index, Index>> lines;
    std::vector<Index> patch;  // per triangle
    Index patches = 0;
};

/// True when all of one triangle lies clearly to one side of the other's plane, so that they cannot meet.
bool clearly_apart(const TaggedTriangles& a, Index i, const TaggedTriangles& b, Index j) {
    const auto one_side = [](const TaggedTriangles& x, Index k, const TaggedTriangles& y, Index l) {
        const auto &t = x.triangles[k], &u = y.triangles[l];
        const DVec3 p = x.points[t[0]], normal = glm::cross(x.points[t[1]] - p, x.points[t[2]] - p);
        const DVec3 d0 = y.points[u[0]] - p, d1 = y.points[u[1]] - p, d2 = y.points[u[2]] - p;
        const double h0 = glm::dot(normal, d0), h1 = glm::dot(normal, d1), h2 = glm::dot(normal, d2);
        // Rounding is some 1e-15 of the sizes involved: this is far from it.
        const double doubt = 1e-9 * glm::length(normal) *
                             std::max({glm::length(d0), glm::length(d1), glm::length(d2), 1e-6 * glm::length(p)});
        return (h0 > doubt && h1 > doubt && h2 > doubt) || (h0 < -doubt && h1 < -doubt && h2 < -doubt);
    };
    return one_side(a, i, b, j) || one_side(b, j, a, i);
}

/// Adds triangles until no two fans of the masked ones touch in nothing but a point: halfedges cannot hold such a pair.
/// Where that happens the whole neighbourhood of the point is taken in.
void close_fans(const TaggedTriangles& soup, Mask& mask) {
    for (int round = 0; round < 12; ++round) {
        // At a point with one open fan there is one more edge that ends there unmatched than starts; with two fans,
        // two.
        std::unordered_map<std::uint64_t, std::int32_t> border;
        for (std::size_t i = 0; i < mask.size(); ++i) {
            if (!mask[i]) continue;
            for (int k = 0; k < 3; ++k) {
                const Index from = soup.triangles[i][k], to = soup.triangles[i][(k + 1) % 3];
                if (const auto back = border.find(std::uint64_t(to) << 32 | from); back != border.end())
                    border.erase(back);
                else
                    border[std::uint64_t(from) << 32 | to] = 1;
            }
        }
        std::unordered_map<Index, int> starts;
        Mask pinched(soup.points.size(), 0);
        bool any = false;
        for (const auto& [edge, one] : border)
            if (++starts[static_cast<Index>(edge >> 32)] > 1) pinched[edge >> 32] = 1, any = true;
        if (!any) return;
        for (std::size_t i = 0; i < mask.size(); ++i)
            for (const Index v : soup.triangles[i])
                if (pinched[v]) mask[i] = 1;
    }
}

/// The masked triangles on their own; `old_number` says which point of the whole each of its points is.
TaggedTriangles part_of(const TaggedTriangles& soup, const Mask& mask, std::vector<Index>& old_number) {
    TaggedTriangles part;
    std::vector<Index> number(soup.points.size(), no_index);
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        stop_point(i);
        if (!mask[i]) continue;
        std::array<Index, 3> t{};
        for (int k = 0; k < 3; ++k) {
            Index& n = number[soup.triangles[i][k]];
            if (n == no_index) {
                n = static_cast<Index>(part.points.size());
                part.points.push_back(soup.points[soup.triangles[i][k]]);
                old_number.push_back(soup.triangles[i][k]);
            }
            t[k] = n;
        }
        part.triangles.push_back(t);
        part.tags.push_back(soup.tags[i]);
    }
    return part;
}

/// A piece of the neighbourhood of the cut, refined: whose points are old ones first.
struct RefinedPiece {
    RefinedTriangles refined;
    std::vector<Index> old_number;
};

Side side_of(const TaggedTriangles& soup, const Mask& near, std::span<const RefinedPiece> pieces) {
    Side side;
    side.points = soup.points;
    for (std::size_t i = 0; i < soup.triangles.size(); ++i)
        if (!near[i]) side.triangles.push_back(soup.triangles[i]), side.tags.push_back(soup.tags[i]);
    for (const auto& [refined, old_number] : pieces) {
        const TaggedTriangles& fine = refined.soup;
        // New points in the order of where they are: CGAL numbers them as memory happens to lie.
        std::vector<Index> fresh(fine.points.size() - old_number.size()), number(fine.points.size());
        std::iota(fresh.begin(), fresh.end(), static_cast<Index>(old_number.size()));
        const auto key = [&](Index i) { return std::tie(fine.points[i].x, fine.points[i].y, fine.points[i].z); };
        std::sort(fresh.begin(), fresh.end(), [&](Index a, Index b) { return key(a) < key(b); });
        std::copy(old_number.begin(), old_number.end(), number.begin());
        for (const Index i : fresh) {
            number[i] = static_cast<Index>(side.points.size());
            side.points.push_back(fine.points[i]);
        }
        std::vector<std::pair<Index, std::array<Index, 3>>> order;
        for (std::size_t i = 0; i < fine.triangles.size(); ++i) {
            stop_point(i);
            std::array<Index, 3> t = {number[fine.triangles[i][0]], number[fine.triangles[i][1]],
                                      number[fine.triangles[i][2]]};
            std::rotate(t.begin(), std::min_element(t.begin(), t.end()), t.end());
            order.emplace_back(fine.tags[i], t);
        }
        std::sort(order.begin(), order.end());
        for (const auto& [tag, t] : order) side.triangles.push_back(t), side.tags.push_back(tag);
        for (const auto& [a, b] : refined.lines) side.lines.insert(std::minmax(number[a], number[b]));
    }
    side.on_line.assign(side.points.size(), 0);
    for (const auto& [a, b] : side.lines) side.on_line[a] = side.on_line[b] = 1;
    return side;
}

/// Near triangles fall into groups that have nothing to do with one another: neither share points nor touch the same
/// triangle of the other. Each group can be refined on its own, so they are, side by side; small ones go together. The
/// grouping does not depend on the number of threads.
std::vector<std::array<Mask, 2>> groups_of(const std::array<const TaggedTriangles*, 2>& soups,
                                           const std::array<Mask, 2>& near) {
    std::array<std::size_t, 3> base = {0, soups[0]->points.size(), soups[0]->points.size() + soups[1]->points.size()};
    DisjointSets groups(base[2]);
    for (int s = 0; s < 2; ++s)
        for (std::size_t i = 0; i < near[s].size(); ++i)
            if (near[s][i])
                for (const Index v : soups[s]->triangles[i])
                    groups.join(static_cast<Index>(base[s] + soups[s]->triangles[i][0]),
                                static_cast<Index>(base[s] + v));
    std::vector<Box> boxes_b;
    std::vector<Index> number_b;
    Box all = Box::nothing();
    for (Index j = 0; j < near[1].size(); ++j) {
        if (!near[1][j]) continue;
        Box box = Box::nothing();
        for (const Index v : soups[1]->triangles[j]) box.add(soups[1]->points[v]);
        all.add(box.low), all.add(box.high);
        boxes_b.push_back(box);
        number_b.push_back(j);
    }
    const BoxCells cells(boxes_b, all, 3);
    for (std::size_t i = 0; i < near[0].size(); ++i) {
        if (!near[0][i]) continue;
        Box box = Box::nothing();
        for (const Index v : soups[0]->triangles[i]) box.add(soups[0]->points[v]);
        cells.each(box, [&](std::size_t cell) {
            for (const Index j : cells.members(cell))
                if (box.touches(boxes_b[j]) && !clearly_apart(*soups[0], static_cast<Index>(i), *soups[1], number_b[j]))
                    groups.join(soups[0]->triangles[i][0],
                                static_cast<Index>(base[1] + soups[1]->triangles[number_b[j]][0]));
        });
    }
    constexpr std::size_t enough = 400;  // triangles, below which another group comes along
    std::map<Index, std::size_t> chunk_of;
    std::vector<std::array<Mask, 2>> chunks;
    std::vector<std::size_t> size;
    std::map<Index, std::size_t> count;
    for (int s = 0; s < 2; ++s)
        for (std::size_t i = 0; i < near[s].size(); ++i)
            if (near[s][i]) ++count[groups.root(static_cast<Index>(base[s] + soups[s]->triangles[i][0]))];
    for (const auto& [group, triangles] : count) {
        if (chunks.empty() || size.back() >= enough) {
            chunks.push_back({Mask(near[0].size(), 0), Mask(near[1].size(), 0)});
            size.push_back(0);
        }
        chunk_of[group] = chunks.size() - 1;
        size.back() += triangles;
    }
    for (int s = 0; s < 2; ++s)
        for (std::size_t i = 0; i < near[s].size(); ++i)
            if (near[s][i])
                chunks[chunk_of[groups.root(static_cast<Index>(base[s] + soups[s]->triangles[i][0]))]][s][i] = 1;
    return chunks;
}

/// Numbers the patches: what hangs together without stepping over a line.
void find_patches(Side& side) {
    const std::size_t n = side.points.size();
    DisjointSets patches(n + side.triangles.size());
    // Round a point off the lines all triangles belong together; the others are joined over edges that are no lines.
    std::vector<Index> node(side.triangles.size(), no_index);
    std::map<std::pair<Index, Index>, Index> over;
    for (std::size_t i = 0; i < side.triangles.size(); ++i) {
        stop_point(i);
        const auto& t = side.triangles[i];
        for (const Index v : t)
            if (!side.on_line[v]) node[i] == no_index ? void(node[i] = v) : void(patches.join(node[i], v));
        if (node[i] == no_index) node[i] = static_cast<Index>(n + i);
        for (int k = 0; k < 3; ++k) {
            const Index a = t[k], b = t[(k + 1) % 3];
            if (!side.on_line[a] || !side.on_line[b]) continue;
            const std::pair<Index, Index> edge = std::minmax(a, b);
            if (side.lines.contains(edge)) continue;
            const auto [found, first] = over.try_emplace(edge, node[i]);
            if (!first) patches.join(found->second, node[i]);
        }
    }
    std::vector<Index> number(n + side.triangles.size(), no_index);
    side.patch.resize(side.triangles.size());
    for (std::size_t i = 0; i < side.triangles.size(); ++i) {
        stop_point(i);
        Index& p = number[patches.root(node[i])];
        if (p == no_index) p = side.patches++;
        side.patch[i] = p;
    }
}

/// Answers whether points lie inside a solid, by counting what lies above them.
class Inside {
public:
    explicit Inside(const TaggedTriangles& soup, const std::vector<Box>& boxes)
        : soup_(soup), boxes_(boxes), all_(bounds(boxes)), cells_(boxes, all_, 2) {
        size_ = glm::length(all_.high - all_.low);
    }
    /// Nothing when it is too close to say.
    std::optional<bool> operator()(const DVec3& p) const {
        if (p.x < all_.low.x || p.x > all_.high.x || p.y < all_.low.y || p.y > all_.high.y || p.z < all_.low.z ||
            p.z > all_.high.z)
            return false;
        std::size_t above = 0;
        bool unsure = false;
        Box point = Box::nothing();
        point.add(p);
        cells_.each(point, [&](std::size_t cell) {
            for (const Index i : cells_.members(cell)) {
                const Box& box = boxes_[i];
                if (p.x < box.low.x || p.x > box.high.x || p.y < box.low.y || p.y > box.high.y ||
                    p.z > box.high.z + 1e-9 * size_)
                    continue;
                const auto& t = soup_.triangles[i];
                const DVec3 a = soup_.points[t[0]] - p, b = soup_.points[t[1]] - p, c = soup_.points[t[2]] - p;
                const double u = b.x * c.y - b.y * c.x, v = c.x * a.y - c.y * a.x, w = a.x * b.y - a.y * b.x,
                             sum = u + v + w;
                const double edge = std::max({glm::dot(b - a, b - a), glm::dot(c - b, c - b), glm::dot(a - c, a - c)}),
                             sliver = 1e-10 * edge;
                const bool inside =
                    (u > sliver && v > sliver && w > sliver) || (u < -sliver && v < -sliver && w < -sliver);
                const bool outside =
                    (u < -sliver || v < -sliver || w < -sliver) && (u > sliver || v > sliver || w > sliver);
                if (!inside) {
                    unsure |= !outside;
                    continue;
                }
                const double height = (u * a.z + v * b.z + w * c.z) / sum;
                unsure |= std::abs(height) < 1e-9 * size_;
                above += height > 0;
            }
        });
        return unsure ? std::nullopt : std::optional(above % 2 == 1);
    }

private:
    static Box bounds(const std::vector<Box>& boxes) {
        Box all = Box::nothing();
        for (const Box& box : boxes) all.add(box.low), all.add(box.high);
        return all;
    }
    const TaggedTriangles& soup_;
    const std::vector<Box>& boxes_;
    Box all_;
    BoxCells cells_;
    double size_ = 0;
};

/// Inside the other solid or not, per patch; nothing when some patch cannot tell.
std::optional<std::vector<std::uint8_t>> patches_inside(const Side& side, const Inside& inside) {
    // The largest triangles of each patch are asked first.
    std::vector<std::vector<std::pair<double, Index>>> largest(side.patches);
    for (Index i = 0; i < side.triangles.size(); ++i) {
        stop_point(i);
        const auto& t = side.triangles[i];
        const double area =
            glm::length(glm::cross(side.points[t[1]] - side.points[t[0]], side.points[t[2]] - side.points[t[0]]));
        auto& list = largest[side.patch[i]];
        if (list.size() == 6 && area <= list.back().first) continue;
        const auto place = std::upper_bound(list.begin(), list.end(), area,
                                            [](double wanted, const auto& entry) { return wanted > entry.first; });
        list.insert(place, {area, i});
        if (list.size() > 6) list.pop_back();
    }
    std::vector<std::uint8_t> answer(side.patches, 2);
    parallel::each(Index(0), side.patches, [&](Index p) {
        for (const auto& [area, i] : largest[p])
            for (const DVec3& share : {DVec3(0.36, 0.33, 0.31), DVec3(0.55, 0.21, 0.24), DVec3(0.19, 0.24, 0.57)}) {
                const auto& t = side.triangles[i];
                if (const auto in = inside(side.points[t[0]] * share.x + side.points[t[1]] * share.y +
                                           side.points[t[2]] * share.z)) {
                    answer[p] = *in;
                    return;
                }
            }
    });
    if (std::ranges::find(answer, 2) != answer.end()) return std::nullopt;
    return answer;
}

}  // namespace

std::array<Mask, 2> near_one_another(const TaggedTriangles& a, const TaggedTriangles& b) {
    const std::vector<Box> boxes_a = boxes_of(a), boxes_b = boxes_of(b);
    Box all_a = Box::nothing(), all_b = all_a, common = all_a;
    for (const Box& box : boxes_a) all_a.add(box.low), all_a.add(box.high);
    for (const Box& box : boxes_b) all_b.add(box.low), all_b.add(box.high);
    std::array<Mask, 2> near = {Mask(boxes_a.size(), 0), Mask(boxes_b.size(), 0)};
    if (!all_a.touches(all_b)) return near;
    common.low = glm::max(all_a.low, all_b.low), common.high = glm::min(all_a.high, all_b.high);
    const BoxCells cells(boxes_b, common, 3);
    parallel::each(tbb::blocked_range<std::size_t>(0, boxes_a.size(), 2048), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            if (!boxes_a[i].touches(common)) continue;
            cells.each(boxes_a[i], [&](std::size_t cell) {
                for (const Index j : cells.members(cell))
                    if (boxes_a[i].touches(boxes_b[j]) && !clearly_apart(a, static_cast<Index>(i), b, j)) {
                        near[0][i] = 1;
                        std::atomic_ref(near[1][j]).store(1, std::memory_order_relaxed);
                    }
            });
        }
    });
    return near;
}

namespace {

struct Refinement {
    std::array<Mask, 2> near;
    std::array<std::vector<RefinedPiece>, 2> pieces;
};

/// Both refined where they are near one another, group by group; nothing when CGAL refuses one.
std::optional<Refinement> refined_near(const TaggedTriangles& a, const TaggedTriangles& b) {
    const std::array<const TaggedTriangles*, 2> soups = {&a, &b};
    Refinement out;
    out.near = near_one_another(a, b);
    parallel::each(0, 2, [&](int s) { close_fans(*soups[s], out.near[s]); });
    if (std::ranges::find(out.near[0], 1) == out.near[0].end()) return out;
    const auto chunks = groups_of(soups, out.near);
    for (auto& list : out.pieces) list.resize(chunks.size());
    std::atomic<bool> refused = false;
    parallel::each(std::size_t(0), chunks.size(), [&](std::size_t c) {
        const TaggedTriangles near_a = part_of(a, chunks[c][0], out.pieces[0][c].old_number),
                              near_b = part_of(b, chunks[c][1], out.pieces[1][c].old_number);
        auto refined = corefined_triangles(near_a, near_b);
        if (!refined) {
            refused = true;
            return;
        }
        for (int s = 0; s < 2; ++s) out.pieces[s][c].refined = std::move((*refined)[s]);
    });
    if (refused) return std::nullopt;
    return out;
}

}  // namespace

std::optional<TaggedTriangles> sheet_by_patches(const TaggedTriangles& sheet, const TaggedTriangles& solid,
                                                bool keep_inside) {
    const auto refinement = refined_near(sheet, solid);
    if (!refinement) return std::nullopt;
    Side side = side_of(sheet, refinement->near[0], refinement->pieces[0]);
    find_patches(side);
    const std::vector<Box> boxes = boxes_of(solid);
    const auto inside = patches_inside(side, Inside(solid, boxes));
    if (!inside) return std::nullopt;
    TaggedTriangles out;
    std::vector<Index> number(side.points.size(), no_index);
    for (std::size_t i = 0; i < side.triangles.size(); ++i) {
        stop_point(i);
        if (((*inside)[side.patch[i]] != 0) != keep_inside) continue;
        std::array<Index, 3> t{};
        for (int k = 0; k < 3; ++k) {
            Index& n = number[side.triangles[i][k]];
            if (n == no_index) {
                n = static_cast<Index>(out.points.size());
                out.points.push_back(side.points[side.triangles[i][k]]);
            }
            t[k] = n;
        }
        out.triangles.push_back(t);
        out.tags.push_back(side.tags[i]);
    }
    return out;
}

std::optional<TaggedTriangles> boolean_by_patches(const TaggedTriangles& a, const TaggedTriangles& b,
                                                  BooleanKind kind) {
    const std::array<const TaggedTriangles*, 2> soups = {&a, &b};
    const auto refinement = refined_near(a, b);
    if (!refinement) return std::nullopt;
    std::array<Side, 2> sides;
    parallel::each(0, 2, [&](int s) {
        sides[s] = side_of(*soups[s], refinement->near[s], refinement->pieces[s]);
        find_patches(sides[s]);
    });
    if (sides[0].lines.size() != sides[1].lines.size()) return std::nullopt;
    std::array<std::optional<std::vector<std::uint8_t>>, 2> inside;
    parallel::each(0, 2, [&](int s) {
        const std::vector<Box> boxes = boxes_of(*soups[1 - s]);
        inside[s] = patches_inside(sides[s], Inside(*soups[1 - s], boxes));
    });
    if (!inside[0] || !inside[1]) return std::nullopt;

    // Points on the lines are the same in both, to the last bit.
    std::map<std::tuple<double, double, double>, Index> shared;
    TaggedTriangles out;
    std::map<std::pair<Index, Index>, int> along;  // uses of line edges, for the check
    for (int s = 0; s < 2; ++s) {
        const Side& side = sides[s];
        const bool wanted_inside = kind == BooleanKind::intersect || (kind == BooleanKind::subtract && s == 1);
        const bool turned = kind == BooleanKind::subtract && s == 1;
        std::vector<Index> number(side.points.size(), no_index);
        for (std::size_t i = 0; i < side.triangles.size(); ++i) {
            stop_point(i);
            if (((*inside[s])[side.patch[i]] != 0) != wanted_inside) continue;
            std::array<Index, 3> t{};
            for (int k = 0; k < 3; ++k) {
                const Index v = side.triangles[i][k];
                if (number[v] == no_index) {
                    number[v] = static_cast<Index>(out.points.size());
                    if (side.on_line[v]) {
                        const auto& p = side.points[v];
                        const auto [found, first] = shared.try_emplace({p.x, p.y, p.z}, number[v]);
                        number[v] = found->second;
                    }
                    if (number[v] == out.points.size()) out.points.push_back(side.points[v]);
                }
                t[k] = number[v];
            }
            if (turned) std::swap(t[1], t[2]);
            for (int k = 0; k < 3; ++k)
                if (side.on_line[side.triangles[i][turned ? (3 - k) % 3 : k]] &&
                    side.on_line[side.triangles[i][turned ? (5 - k) % 3 : (k + 1) % 3]]) {
                    const Index p = t[k], q = t[(k + 1) % 3];
                    along[std::minmax(p, q)] += p < q ? 1 : 1000;
                }
            out.triangles.push_back(t);
            out.tags.push_back(side.tags[i]);
        }
    }
    // Every edge between such points runs once each way; anything else means that a patch was judged wrongly.
    for (const auto& [edge, uses] : along)
        if (uses != 1001) return std::nullopt;
    return out;
}

}  // namespace bricol
