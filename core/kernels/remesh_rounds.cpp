// SPDX-License-Identifier: GPL-3.0-or-later
// The rounds of remeshing: split, join, turn, even out.
#include <algorithm>
#include <cmath>
#include <numbers>
#include <queue>

#include "core/ground/parallel.h"
#include "core/ground/progress.h"
#include "core/ground/stop.h"
#include "core/kernels/even_triangles.h"
#include "core/kernels/remesh.h"
#include "core/kernels/surface_finder.h"

namespace bricol {

namespace {

/// An edge in a queue. It is stale when the edge has another length by now, or is gone.
struct QueuedEdge {
    double length2;
    Index side;
};

DVec3 normal_of(const SurfaceFinder& surface, Index triangle) {
    const auto& corners = surface.triangles()[triangle];
    const Mesh& mesh = surface.mesh();
    const auto at = [&](std::size_t k) { return DVec3((*mesh.positions)[mesh.topology->corner_vertex[corners[k]]]); };
    const DVec3 normal = glm::cross(at(1) - at(0), at(2) - at(0));
    return normal / std::max(glm::length(normal), 1e-300);
}

class RemeshRounds {
public:
    RemeshRounds(EvenTriangles& triangles, const RemeshOptions& options) : t_(triangles), o_(options) {
        longest2_ = std::pow(o_.edge * 4 / 3, 2);
        shortest2_ = std::pow(o_.edge * 4 / 5, 2);
        lengths_ = o_.lengths;
        lengths_.resize(lengths_.empty() ? 0 : t_.point.size(), o_.edge);
    }
    void hold_lines(const std::vector<DVec3>& normals);
    /// A round up to evening out, which alone asks for the surface.
    void cut() {
        split_long();
        // Joining is held back where stars would grow; turning takes them apart, so both go in turn.
        for (int pass = 0; pass < 40; ++pass) {
            const std::size_t before = t_.alive();
            join_short();
            t_.drop_gone();  // what comes next goes over all there are, again and again
            turn_even();
            if (static_cast<double>(before - t_.alive()) < 0.001 * static_cast<double>(before)) break;
        }
    }
    void run(const SurfaceFinder& surface, bool first_is_cut) {
        for (int round = 0; round < o_.rounds; ++round) {
            progress_of_work(o_.share_before + (o_.share_behind - o_.share_before) * round / o_.rounds);
            if (round > 0 || !first_is_cut) cut();
            even_out(surface);
        }
    }

private:
    void split_long();
    void join_short();
    void turn_even();
    void even_out(const SurfaceFinder& surface);
    bool may_split(Index h) const;
    /// Of the two half-edges of an edge the one that stands for it.
    bool first_of_edge(Index h) const { return t_.twin[h] == no_index || h < t_.twin[h]; }

    /// The edge's length squared, as it counts: where another length is wanted there it is measured against that.
    double length2(Index h) const {
        if (lengths_.empty()) return t_.length2(h);
        const double wanted = (lengths_[t_.from[h]] + lengths_[t_.to(h)]) / (2 * o_.edge);
        return t_.length2(h) / (wanted * wanted);
    }
    /// All edges of such lengths (squared).
    template <class Wanted>
    std::vector<QueuedEdge> edges_whose(const Wanted& wanted) const {
        std::vector<QueuedEdge> edges;
        for (Index h = 0; h < t_.from.size(); ++h) {
            stop_point(h);
            if (t_.gone(h) || !first_of_edge(h)) continue;
            if (const double now = length2(h); wanted(now)) edges.push_back({now, h});
        }
        return edges;
    }
    double longest_at(Index v) const {
        return lengths_.empty() ? longest2_ : longest2_ * std::pow(lengths_[v] / o_.edge, 2);
    }

    EvenTriangles& t_;
    const RemeshOptions& o_;
    double longest2_ = 0, shortest2_ = 0;
    std::vector<double> lengths_;
};

/// Holds borders, and edges whose triangles turn by more than the angle; a vertex on a held line may move along it
/// unless the line ends, forks or bends there.
void RemeshRounds::hold_lines(const std::vector<DVec3>& normals) {
    const double least = std::cos(o_.hold_angle * std::numbers::pi / 180);
    for (Index h = 0; h < t_.from.size(); ++h) {
        stop_point(h);
        const Index other = t_.twin[h];
        if (other == no_index) {
            t_.held[h] = 1;
            continue;
        }
        const DVec3 &a = normals[h / 3], &b = normals[other / 3];
        t_.held[h] = o_.hold_angle < 180 && glm::dot(a, b) < least * glm::length(a) * glm::length(b);
        const std::array<Index, 2> ends{std::min(t_.alias[t_.from[h]], t_.alias[t_.to(h)]),
                                        std::max(t_.alias[t_.from[h]], t_.alias[t_.to(h)])};
        if (std::ranges::binary_search(o_.held_edges, ends)) t_.held[h] = 1;
    }
    for (Index v = 0; v < t_.leaving.size(); ++v) {
        stop_point(v);
        if (t_.leaving[v] == no_index || t_.hold[v] == VertexHold::corner) continue;
        std::vector<DVec3> ways;
        bool border = false;
        const auto look = [&](Index h, Index far) {
            border |= t_.twin[h] == no_index;
            if (t_.held[h]) ways.push_back(glm::normalize(t_.point[far] - t_.point[v]));
        };
        for (const Index h : t_.around(v)) {
            look(h, t_.to(h));
            if (const Index last = EvenTriangles::prior(h); t_.twin[last] == no_index) look(last, t_.from[last]);
        }
        constexpr double straight = -0.866;  // a bend of 30 degrees is a corner
        if (ways.empty()) continue;
        t_.hold[v] = ways.size() == 2 && glm::dot(ways[0], ways[1]) < straight && !(border && o_.hold_borders)
                         ? VertexHold::line
                         : VertexHold::corner;
    }
}

/// With borders that stay, an inner edge is only split where it is the longest of its triangles: beside a long border
/// edge there would be no end of splitting.
bool RemeshRounds::may_split(Index h) const {
    if (!o_.hold_borders) return true;
    for (const Index side : {h, t_.twin[h]}) {
        if (side == no_index) return false;
        for (const Index e : {EvenTriangles::next(side), EvenTriangles::prior(side)})
            if (t_.twin[e] == no_index && t_.length2(e) > t_.length2(h)) return false;
    }
    return true;
}

void RemeshRounds::split_long() {
    const auto shorter = [](const QueuedEdge& a, const QueuedEdge& b) {
        return a.length2 != b.length2 ? a.length2 < b.length2 : a.side > b.side;
    };
    std::priority_queue queue(shorter, edges_whose([this](double now) { return now > longest2_; }));
    const auto ask = [&](Index h) {
        if (!first_of_edge(h)) h = t_.twin[h];
        if (const double now = length2(h); now > longest2_) queue.push({now, h});
    };
    for (std::size_t round = 0; !queue.empty(); ++round) {
        stop_point(round);
        const auto [queued, h] = queue.top();
        queue.pop();
        if (length2(h) != queued || !may_split(h)) continue;
        const Index one = t_.from[h], two = t_.to(h), middle = t_.split(h);
        if (!lengths_.empty()) lengths_.push_back((lengths_[one] + lengths_[two]) / 2);
        for (const Index e : t_.around(middle)) {
            ask(e);
            ask(EvenTriangles::next(e));  // its number may be another now, and the queue knows the old one
            if (const Index last = EvenTriangles::prior(e); t_.twin[last] == no_index) ask(last);
        }
    }
}

void RemeshRounds::join_short() {
    const auto longer = [](const QueuedEdge& a, const QueuedEdge& b) {
        return a.length2 != b.length2 ? a.length2 > b.length2 : a.side > b.side;
    };
    std::priority_queue queue(longer, edges_whose([this](double now) { return now < shortest2_; }));
    const auto ask = [&](Index h) {
        if (!first_of_edge(h)) h = t_.twin[h];
        if (const double now = length2(h); now < shortest2_) queue.push({now, h});
    };
    std::vector<Index> touched;
    for (std::size_t round = 0; !queue.empty(); ++round) {
        stop_point(round);
        const auto [queued, h] = queue.top();
        queue.pop();
        if (t_.gone(h) || length2(h) != queued) continue;
        const Index other = t_.twin[h];
        // A border edge has one half-edge, yet its start may be led to its end as well as its end to its start.
        if (t_.can_join(h, longest_at(t_.to(h))))
            t_.join(h, touched);
        else if (other != no_index && t_.can_join(other, longest_at(t_.to(other))))
            t_.join(other, touched);
        else
            continue;
        for (const Index e : touched) ask(e);
    }
}

/// Turns edges where that brings the numbers of triangles round their four vertices nearer to six, on borders to three.
void RemeshRounds::turn_even() {
    // How many triangles more than wanted every vertex has.
    std::vector<int> more(t_.point.size(), -6);
    for (Index h = 0; h < t_.from.size(); ++h) {
        stop_point(h);
        if (t_.gone(h)) continue;
        ++more[t_.from[h]];
        if (t_.twin[h] == no_index) more[t_.from[h]] += 3;
    }
    const auto off = [&](Index v, int change) { return (more[v] + change) * (more[v] + change) - more[v] * more[v]; };
    for (Index h = 0; h < t_.from.size(); ++h) {
        stop_point(h);
        if (t_.gone(h) || t_.held[h] || !first_of_edge(h) || t_.twin[h] == no_index) continue;
        const Index a = t_.from[h], b = t_.to(h), c = t_.from[EvenTriangles::prior(h)],
                    d = t_.from[EvenTriangles::prior(t_.twin[h])];
        if (off(a, -1) + off(b, -1) + off(c, 1) + off(d, 1) < 0 && t_.can_turn(h)) {
            t_.turn(h);
            --more[a], --more[b], ++more[c], ++more[d];
        }
    }
}

/// Moves free vertices to the middle of their neighbours along the surface, and back onto the old surface.
void RemeshRounds::even_out(const SurfaceFinder& surface) {
    std::vector<Index> moved;
    for (Index v = 0; v < t_.leaving.size(); ++v)
        if (t_.leaving[v] != no_index && t_.hold[v] == VertexHold::free) moved.push_back(v);
    // Where each would go is reckoned from where all stand, on all threads.
    Array<Vec3> wanted(moved.size());
    std::vector<DVec3> normals(moved.size(), DVec3(0));
    parallel::each(parallel::Numbers<std::size_t>(0, moved.size(), 512), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i < range.end(); ++i) {
            const Index v = moved[i];
            DVec3 middle(0);
            std::size_t count = 0;
            t_.each_around(v, [&](Index h) {
                middle += t_.point[t_.to(h)], normals[i] += t_.normal(h / 3);
                ++count;
            });
            middle /= static_cast<double>(count);
            const double size = glm::length(normals[i]);
            normals[i] = size > 0 ? normals[i] / size : DVec3(0);  // without area there is no way along the surface
            wanted[i] = Vec3(size > 0 ? middle + normals[i] * glm::dot(normals[i], t_.point[v] - middle) : t_.point[v]);
        }
    });
    std::vector<SurfaceHit> hits(moved.size());
    surface.nearest(wanted, hits, o_.edge);
    for (std::size_t i = 0; i < moved.size(); ++i) {
        stop_point(i);
        // Through a thin wall the nearest place may lie on its far side.
        if (!hits[i] || glm::dot(normal_of(surface, hits[i].triangle), normals[i]) < 0.2) continue;
        DVec3& at = t_.point[moved[i]];
        bool good = true;
        t_.each_around(moved[i], [&](Index h) {
            const DVec3 &p = t_.point[t_.to(h)], &q = t_.point[t_.from[EvenTriangles::prior(h)]];
            good = good && glm::dot(glm::cross(p - at, q - at), glm::cross(p - hits[i].at, q - hits[i].at)) > 0;
        });
        if (good) at = hits[i].at;
    }
}

}  // namespace

bool remesh_cut(EvenTriangles& work, RemeshTriangles& soup, const RemeshOptions& options) {
    if (!work.build(std::move(soup.points), soup.triangles)) return false;
    RemeshRounds rounds(work, options);
    // A triangle without area lies as its face does.
    std::vector<DVec3> normals(soup.triangles.size());
    for (std::size_t f = 0; f < normals.size(); ++f) {
        stop_point(f);
        normals[f] = work.normal(static_cast<Index>(f));
        if (!(glm::dot(normals[f], normals[f]) > 0) && f < soup.face_normals.size()) normals[f] = soup.face_normals[f];
    }
    rounds.hold_lines(normals);
    if (options.rounds > 0) rounds.cut();
    return true;
}

void remesh_rest(EvenTriangles& work, const RemeshOptions& options, const SurfaceFinder& surface) {
    RemeshRounds(work, options).run(surface, true);
}

bool remesh_evenly(EvenTriangles& work, RemeshTriangles& soup, const RemeshOptions& options,
                   const SurfaceFinder& surface) {
    if (!remesh_cut(work, soup, options)) return false;
    remesh_rest(work, options, surface);
    return true;
}

void remesh_further(EvenTriangles& work, const RemeshOptions& options, const SurfaceFinder& surface) {
    RemeshRounds(work, options).run(surface, false);
}

bool remesh_triangles(RemeshTriangles& soup, const RemeshOptions& options, const SurfaceFinder& surface) {
    EvenTriangles work;
    if (!remesh_evenly(work, soup, options, surface)) return false;
    soup = remesh_soup(work);
    return true;
}

RemeshTriangles remesh_soup(const EvenTriangles& work) {
    RemeshTriangles soup;
    std::vector<Index> number(work.point.size(), no_index);
    for (Index h = 0; h < work.from.size(); h += 3) {
        stop_point(h / 3);
        if (work.gone(h)) continue;
        std::array<Index, 3> triangle{};
        for (Index k = 0; k < 3; ++k) {
            const Index v = work.alias[work.from[h + k]];
            if (number[v] == no_index) {
                number[v] = static_cast<Index>(soup.points.size());
                soup.points.push_back(work.point[v]);
            }
            triangle[k] = number[v];
        }
        soup.triangles.push_back(triangle);
    }
    return soup;
}

}  // namespace bricol
