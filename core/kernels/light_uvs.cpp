// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/light_uvs.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <numbers>
#include <unordered_map>

#include "core/ground/stop.h"
#include "core/kernels/measure.h"
#include "core/kernels/normals.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

struct Chart {
    std::vector<Index> faces;  ///< in the order they were reached from the first
    DVec3 right{1, 0, 0}, up{0, 1, 0};
    DVec2 low{0}, size{0}, at{0};  ///< its box in its own plane, and where that was packed (metres)
    bool turned = false;           ///< lies on its side
};

/// Twice the area of a face along its normal.
std::vector<DVec3> area_vectors(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    std::vector<DVec3> out(t.face_count(), DVec3(0));
    for (std::size_t f = 0; f < out.size(); ++f) {
        const auto loop = t.face(f);
        const DVec3 from((*mesh.positions)[loop[0]]);
        for (std::size_t k = 1; k + 1 < loop.size(); ++k)
            out[f] +=
                glm::cross(DVec3((*mesh.positions)[loop[k]]) - from, DVec3((*mesh.positions)[loop[k + 1]]) - from);
    }
    return out;
}

DVec3 unit(const DVec3& v, const DVec3& otherwise) {
    const double length = glm::length(v);
    return length > 0 ? v / length : otherwise;
}

class Charts {
public:
    Charts(const Mesh& mesh, double degrees)
        : mesh_(mesh),
          t_(*mesh.topology),
          areas_(area_vectors(mesh)),
          limit_(std::cos(degrees * std::numbers::pi / 180)) {}

    std::vector<Chart> all() {
        std::vector<Index> order(t_.face_count());
        for (std::size_t f = 0; f < order.size(); ++f) order[f] = static_cast<Index>(f);
        std::ranges::stable_sort(order, std::greater(), [&](Index f) { return glm::dot(areas_[f], areas_[f]); });
        std::vector<std::uint8_t> taken(order.size(), 0);
        std::vector<Chart> out;
        for (const Index f : order) {
            stop_point();
            if (!taken[f]) keep(grown(f, taken), out);
        }
        return out;
    }

    DVec2 flat(const Chart& chart, Index vertex) const {
        const DVec3 p((*mesh_.positions)[vertex]);
        return {glm::dot(p, chart.right), glm::dot(p, chart.up)};
    }

private:
    /// Faces reached over edges between two, as long as they stay near the mean direction of those before.
    std::vector<Index> grown(Index first, std::vector<std::uint8_t>& taken) const {
        std::vector<Index> faces;
        std::deque<Index> next{first};
        taken[first] = 1;
        DVec3 sum = areas_[first];
        const DVec3 start = unit(sum, DVec3(0));
        const Adjacency& near = t_.adjacency();
        while (!next.empty()) {
            const Index f = next.front();
            next.pop_front();
            faces.push_back(f);
            for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) {
                const auto beside = near.faces_of_edge(t_.corner_edge[c]);
                if (beside.size() != 2) continue;
                const Index g = beside[0] == f ? beside[1] : beside[0];
                const DVec3 way = unit(areas_[g], DVec3(0));
                // The mean wanders: held to the first face as well, so that no chart creeps round a corner.
                if (taken[g] || glm::dot(way, unit(sum, DVec3(0))) < limit_ || glm::dot(way, start) < limit_) continue;
                taken[g] = 1;
                sum += areas_[g];
                next.push_back(g);
            }
        }
        return faces;
    }

    /// Lays a chart flat; in halves, when it lies over itself.
    void keep(std::vector<Index> faces, std::vector<Chart>& out) const {
        Chart chart;
        chart.faces = std::move(faces);
        DVec3 sum(0);
        for (const Index f : chart.faces) sum += areas_[f];
        const DVec3 normal = unit(sum, DVec3(0, 0, 1));
        const DVec3 aside = std::abs(normal.z) < 0.9 ? DVec3(0, 0, 1) : DVec3(1, 0, 0);
        chart.right = glm::normalize(glm::cross(aside, normal));
        chart.up = glm::cross(normal, chart.right);
        if (chart.faces.size() > 1 && lies_over_itself(chart)) {
            const auto half = chart.faces.begin() + static_cast<std::ptrdiff_t>(chart.faces.size() / 2);
            keep({chart.faces.begin(), half}, out);
            keep({half, chart.faces.end()}, out);
            return;
        }
        lay_narrow(chart);
        if (chart.size.y > chart.size.x) {  // rows fill better with what lies
            chart.turned = true;
            std::swap(chart.size.x, chart.size.y);
        }
        out.push_back(std::move(chart));
    }

    /// Turns a chart in its plane to where its box is smallest, of sixteen ways within a quarter turn.
    void lay_narrow(Chart& chart) const {
        const DVec3 right = chart.right, up = chart.up;
        Chart tried = chart;
        double least = 1e300;
        for (int k = 0; k < 16; ++k) {
            const double angle = k * std::numbers::pi / 32;
            tried.right = right * std::cos(angle) + up * std::sin(angle);
            tried.up = up * std::cos(angle) - right * std::sin(angle);
            DVec2 low(1e300), high(-1e300);
            for (const Index f : chart.faces)
                for (const Index v : t_.face(f))
                    low = glm::min(low, flat(tried, v)), high = glm::max(high, flat(tried, v));
            const DVec2 size = high - low;
            if (size.x * size.y >= least * (1 - 1e-9)) continue;  // of equals the first, whatever the rounding
            least = size.x * size.y;
            chart.right = tried.right, chart.up = tried.up;
            chart.low = low, chart.size = size;
        }
    }

    /// Inside a chart every face looks the same way, so that it lies over itself only where its border crosses itself.
    bool lies_over_itself(const Chart& chart) const {
        std::unordered_map<Index, int> uses;
        for (const Index f : chart.faces)
            for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) ++uses[t_.corner_edge[c]];
        std::vector<std::array<Index, 2>> border;
        double length = 0;
        DVec2 low(1e300), high(-1e300);
        for (const Index f : chart.faces)
            for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) {
                const Index e = t_.corner_edge[c];
                if (uses[e] != 1) continue;
                border.push_back(t_.edges[e]);
                const DVec2 a = flat(chart, t_.edges[e][0]), b = flat(chart, t_.edges[e][1]);
                length += glm::length(b - a);
                low = glm::min(low, glm::min(a, b)), high = glm::max(high, glm::max(a, b));
            }
        if (border.size() < 4) return false;
        // Borders in the cells of a grid as wide as they are long on average.
        const double cell = std::max(length / static_cast<double>(border.size()), glm::length(high - low) / 512);
        if (!(cell > 0)) return false;
        std::unordered_map<std::int64_t, std::vector<std::size_t>> cells;
        for (std::size_t i = 0; i < border.size(); ++i) {
            stop_point(i);
            const DVec2 a = flat(chart, border[i][0]), b = flat(chart, border[i][1]);
            const glm::i64vec2 from((glm::min(a, b) - low) / cell), to((glm::max(a, b) - low) / cell);
            for (std::int64_t y = from.y; y <= to.y; ++y)
                for (std::int64_t x = from.x; x <= to.x; ++x) {
                    std::vector<std::size_t>& here = cells[y * 4096 + x];
                    for (const std::size_t other : here)
                        if (cross(chart, border[i], border[other])) return true;
                    here.push_back(i);
                }
        }
        return false;
    }

    bool cross(const Chart& chart, const std::array<Index, 2>& a, const std::array<Index, 2>& b) const {
        if (a[0] == b[0] || a[0] == b[1] || a[1] == b[0] || a[1] == b[1]) return false;
        const DVec2 p = flat(chart, a[0]), q = flat(chart, a[1]), r = flat(chart, b[0]), s = flat(chart, b[1]);
        const auto side = [](const DVec2& u, const DVec2& v, const DVec2& w) {
            return (v.x - u.x) * (w.y - u.y) - (v.y - u.y) * (w.x - u.x);
        };
        return side(p, q, r) * side(p, q, s) <= 0 && side(r, s, p) * side(r, s, q) <= 0;
    }

    const Mesh& mesh_;
    const Topology& t_;
    std::vector<DVec3> areas_;
    double limit_;
};

/// Lays the boxes in rows, tallest first, into a square of this side; false when they do not fit.
bool packed(std::vector<Chart>& charts, const std::vector<std::size_t>& order, double side, double gap) {
    DVec2 at(gap);
    double row = 0;
    for (const std::size_t i : order) {
        Chart& chart = charts[i];
        if (at.x + chart.size.x + gap > side) at = {gap, at.y + row + gap}, row = 0;
        if (at.x + chart.size.x + gap > side || at.y + chart.size.y + gap > side) return false;
        chart.at = at;
        at.x += chart.size.x + gap;
        row = std::max(row, chart.size.y);
    }
    return true;
}

}  // namespace

LightUvs with_light_uvs(const Mesh& mesh, double margin, double degrees) {
    LightUvs out{mesh, 0, 0};
    if (mesh.face_count() == 0) return out;
    Charts flatten(mesh, degrees);
    std::vector<Chart> charts = flatten.all();
    std::vector<std::size_t> order(charts.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::ranges::stable_sort(order, std::greater(), [&](std::size_t i) { return charts[i].size.y; });
    double least = 0;
    for (const Chart& chart : charts) least += chart.size.x * chart.size.y;
    // The smallest square that takes them all, by halving; gaps grow along with it, but never beyond half of it.
    const double gaps = std::min(margin, 0.5 / (std::sqrt(static_cast<double>(charts.size())) + 1));
    double low = std::sqrt(least), high = std::max(low, 1e-9);
    while (!packed(charts, order, high, gaps * high)) stop_point(), high *= 1.5;
    for (int round = 0; round < 24; ++round) {
        const double middle = (low + high) / 2;
        (packed(charts, order, middle, gaps * middle) ? high : low) = middle;
    }
    packed(charts, order, high, gaps * high);
    Array<Vec2> uvs(mesh.topology->corner_count());
    for (const Chart& chart : charts)
        for (const Index f : chart.faces)
            for (Index c = mesh.topology->face_offsets[f]; c < mesh.topology->face_offsets[f + 1]; ++c) {
                const DVec2 p = flatten.flat(chart, mesh.topology->corner_vertex[c]) - chart.low;
                // On its side: turned by a quarter, not mirrored.
                const DVec2 laid = chart.turned ? DVec2(p.y, chart.size.y - p.x) : p;
                uvs[c] = Vec2((chart.at + laid) / high);
            }
    out.charts = charts.size();
    out.mesh.attributes.set(Domain::corner, attribute_name::light_uv, std::move(uvs));
    const Triangles cut = triangulated(out.mesh);
    const auto& laid = *out.mesh.attributes.values<Vec2>(Domain::corner, attribute_name::light_uv);
    for (std::size_t i = 0; i < cut.count(); ++i) {
        const DVec2 a(laid[cut.corners[3 * i]]), b(laid[cut.corners[3 * i + 1]]), c(laid[cut.corners[3 * i + 2]]);
        out.covered += std::abs((b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x)) / 2;
    }
    return out;
}

}  // namespace bricol
