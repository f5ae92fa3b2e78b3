// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/bevel_fans.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"

namespace bricol {

namespace {

constexpr double steepest = 5;  // a slide is never longer than this many widths, however flat the angle

}  // namespace

BevelFans::BevelFans(const Mesh& mesh, const BevelOptions& options, std::span<const float> edge_width,
                     std::span<const float> vertex_width)
    : mesh_(mesh),
      t_(*mesh.topology),
      p_(*mesh.positions),
      options_(options),
      flat_(face_normals(mesh)),
      edge_width_(edge_width),
      vertex_width_(vertex_width) {
    previous_.resize(t_.corner_count());
    next_.resize(t_.corner_count());
    face_.resize(t_.corner_count());
    for (std::size_t f = 0; f < t_.face_count(); ++f)
        for (Index c = t_.face_offsets[f], end = t_.face_offsets[f + 1]; c < end; ++c) {
            previous_[c] = t_.prior_in(f, c);
            next_[c] = t_.next_in(f, c);
            face_[c] = static_cast<Index>(f);
        }
    at_offsets_.assign(t_.vertex_count + 1, 0);
    for (Index v : t_.corner_vertex) ++at_offsets_[v + 1];
    for (std::size_t i = 1; i < at_offsets_.size(); ++i) at_offsets_[i] += at_offsets_[i - 1];
    at_.resize(t_.corner_count());
    Array<Index> cursor(at_offsets_.begin(), at_offsets_.end());
    for (Index c = 0; c < t_.corner_count(); ++c) at_[cursor[t_.corner_vertex[c]]++] = c;
}

void BevelFans::lay_out_all() {
    corner_.assign(t_.corner_count(), {});
    group_ = DisjointSets(t_.vertex_count);
    for (Index e = 0; e < edge_width_.size(); ++e)
        if (edge_width_[e] > 0) join(t_.edges[e][0], t_.edges[e][1]);
    for (Index v = 0; v < t_.vertex_count; ++v) stop_point(v), lay_out(v);
    hold();
}

double BevelFans::slide_length(const Fan& fan, Index bevel, Index slide) const {
    const double sine = glm::length(glm::cross(direction(fan, bevel), direction(fan, slide)));
    return edge_width_[edge_of(fan, bevel)] / std::max(sine, 1 / steepest);
}

DVec3 BevelFans::meeting(const Fan& fan, Index corner) const {
    const Index c = corner_of(fan, corner);
    const DVec3 first = direction(fan, corner), second = direction(fan, corner + 1), up(flat_[face_[c]]);
    const double w1 = edge_width_[edge_of(fan, corner)], w2 = edge_width_[edge_of(fan, corner + 1)];
    const double sine = glm::dot(up, glm::cross(first, second));
    const DVec3 across = unit(unit(glm::cross(up, first)) - unit(glm::cross(up, second)));
    if (std::abs(sine) < 0.02) return across * std::max(w1, w2);  // nearly one straight line
    const DVec3 met = (first * w2 + second * w1) / sine;
    const double length = glm::length(met), most = steepest * std::max(w1, w2);
    return length > most ? met * (most / length) : met;
}

void BevelFans::lay_out(Index v) {
    const std::span<const Index> corners(at_.data() + at_offsets_[v], at_.data() + at_offsets_[v + 1]);
    bool touched = !vertex_width_.empty() && vertex_width_[v] > 0;
    if (!touched && !edge_width_.empty())
        for (const Index c : corners) touched |= edge_width_[outgoing(c)] > 0 || edge_width_[incoming(c)] > 0;
    if (!touched) return;
    used_.assign(corners.size(), 0);
    const auto find = [&](auto edge_at, Index edge) {
        for (std::size_t i = 0; i < corners.size(); ++i)
            if (!used_[i] && edge_at(corners[i]) == edge) return i;
        return corners.size();
    };
    const auto out = [this](Index c) { return outgoing(c); };
    const auto in = [this](Index c) { return incoming(c); };
    const auto walk = [&](std::size_t start) {
        Fan fan;
        fan.vertex = v;
        fan.first = static_cast<Index>(fan_corners_.size());
        for (std::size_t i = start; i < corners.size(); i = find(out, in(corners[i])), ++fan.count) {
            used_[i] = 1;
            fan_corners_.push_back(corners[i]);
            if (fan.count > 0 && in(corners[i]) == out(corners[start])) {
                ++fan.count;
                break;
            }
        }
        fan.closed = fan.count > 1 && in(fan_corners_.back()) == out(corners[start]);
        settle(fan);
    };
    for (std::size_t i = 0; i < corners.size(); ++i)  // borders first: their fans start where they are open
        if (!used_[i] && std::ranges::none_of(corners, [&](Index c) { return in(c) == out(corners[i]); })) walk(i);
    for (std::size_t i = 0; i < corners.size(); ++i)
        if (!used_[i]) walk(i);
}

void BevelFans::settle(Fan fan) {
    if (!vertex_width_.empty()) {
        settle_vertex(fan);
        return;
    }
    const Index n = fan.edges();
    marked_.clear();
    for (Index i = 0; i < n; ++i)
        if (bevels(fan, i)) marked_.push_back(i);
    if (marked_.empty()) return;
    if (fan.closed) {  // start at a bevelled edge
        std::rotate(fan_corners_.begin() + fan.first, fan_corners_.begin() + fan.first + marked_[0],
                    fan_corners_.begin() + fan.first + fan.count);
        const Index shift = marked_[0];
        for (Index& i : marked_) i -= shift;
    }
    const std::size_t m = marked_.size();
    if (fan.closed && m == 1) {
        outer_side(fan, 0, n - 1);
    } else {
        for (std::size_t k = 0; k + 1 < m || (fan.closed && k < m); ++k)
            between(fan, marked_[k], k + 1 < m ? marked_[k + 1] : n);
        if (!fan.closed) {
            run_out(fan, marked_.back(), n - 1 - marked_.back(), true);
            run_out(fan, marked_.front(), marked_.front(), false);
        }
    }
    fans_.push_back(fan);
}

void BevelFans::between(Fan& fan, Index from, Index to) {
    const Index inner = to - from - 1;  // edges in between that are not bevelled
    if (inner == 0) {
        give(fan, from, {mover(meeting(fan, from))});
        return;
    }
    const double first = slide_length(fan, from, from + 1), last = slide_length(fan, to % fan.edges(), to - 1);
    Index before = no_index;
    for (Index k = 1; k <= inner; ++k) {
        const double share = inner == 1 ? 0.5 : static_cast<double>(k - 1) / (inner - 1);
        const Index here = mover(direction(fan, from + k) * (first + (last - first) * share));
        if (k == 1)
            give(fan, from, {here});
        else
            give(fan, from + k - 1, {before, here});
        before = here;
    }
    give(fan, to - 1, {before});
}

void BevelFans::outer_side(Fan& fan, Index bevel, Index count) {
    const Index first = mover(direction(fan, bevel + 1) * slide_length(fan, bevel, bevel + 1));
    if (count == 1) {
        give(fan, 0, {first});
        give(fan, 1, {first});
        return;
    }
    const Index last = mover(direction(fan, bevel + count) * slide_length(fan, bevel, bevel + count));
    give(fan, 0, {first});
    give(fan, count, {last});
    if (count == 2) {
        give(fan, 1, {first, last});
        return;
    }
    fan.keeps_vertex = true;
    const Index stay = mover(DVec3(0));
    give(fan, 1, {first, stay});
    for (Index k = 2; k + 1 < count; ++k) give(fan, k, {stay});
    give(fan, count - 1, {stay, last});
}

void BevelFans::run_out(Fan& fan, Index bevel, Index count, bool after) {
    const Index edge = after ? bevel + 1 : bevel - 1;
    const Index slide = mover(direction(fan, edge) * slide_length(fan, bevel, edge));
    give(fan, after ? bevel : bevel - 1, {slide});
    if (count == 1) return;
    fan.keeps_vertex = true;
    const Index stay = mover(DVec3(0));
    if (after) {
        give(fan, bevel + 1, {slide, stay});
        for (Index k = bevel + 2; k < fan.count; ++k) give(fan, k, {stay});
    } else {
        give(fan, bevel - 2, {stay, slide});
        for (Index k = 0; k + 2 < bevel; ++k) give(fan, k, {stay});
    }
}

void BevelFans::settle_vertex(Fan& fan) {
    const double width = vertex_width_[fan.vertex];
    Index first = no_index, before = no_index;
    for (Index i = 0; i < fan.count; ++i) {
        if (i == 0) first = before = mover(direction(fan, 0) * width);
        const Index after = fan.closed && i + 1 == fan.count ? first : mover(direction(fan, i + 1) * width);
        give(fan, i, {before, after});
        before = after;
    }
    fans_.push_back(fan);
}

void BevelFans::hold() {
    share_.assign(t_.vertex_count, 1);
    if (!options_.hold) return;
    const auto velocity = [&](Index c, bool leaving) {
        const CornerList& list = corner_[c];
        if (list.count == 0) return DVec3(0);
        return movers_[pool_[list.first + (leaving ? 0 : list.count - 1)]].velocity;
    };
    for (Index c = 0; c < t_.corner_count(); ++c) {
        stop_point(c);
        const Index d = next_[c], v = t_.corner_vertex[c], w = t_.corner_vertex[d];
        if (corner_[c].count == 0 && corner_[d].count == 0) continue;
        const DVec3 along = at(w) - at(v);
        const double length = glm::length(along);
        if (length == 0) continue;
        // The side starts at the point nearest its own edge and ends at the last one of the next corner.
        const double closing = glm::dot(velocity(c, true) - velocity(d, false), along / length);
        if (closing <= 0 || closing * 1.001 < length) continue;
        const double most = 0.98 * length / closing;
        for (const Index end : {v, w}) share_[root(end)] = std::min(share_[root(end)], most);
    }
}

}  // namespace bricol
