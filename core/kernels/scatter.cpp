// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/scatter.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/ground/cells.h"
#include "core/ground/stop.h"
#include "core/kernels/noise.h"
#include "core/kernels/triangulate.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

/// Kept points by the cell they lie in; a cell is as wide as the spacing.
class Neighbours {
public:
    explicit Neighbours(double spacing) : spacing_(spacing) {}
    bool free(const Vec3& p) const {
        return !any_near(cell_of(DVec3(p), spacing_), [&](const Cell& cell) {
            const auto found = cells_.find(cell);
            if (found == cells_.end()) return false;
            for (Index i = found->second; i != no_index; i = next_[i])
                if (glm::distance(DVec3(points_[i]), DVec3(p)) < spacing_) return true;
            return false;
        });
    }
    void add(const Vec3& p) {
        const auto [at, fresh] = cells_.try_emplace(cell_of(DVec3(p), spacing_), no_index);
        next_.push_back(at->second);
        at->second = static_cast<Index>(points_.size());
        points_.push_back(p);
    }

private:
    double spacing_;
    std::unordered_map<Cell, Index, CellHash> cells_;
    std::vector<Index> next_;
    std::vector<Vec3> points_;
};

constexpr int tries = 64;

/// Throws darts until there are enough, or so many that hardly a place can be left.
std::vector<ScatterPoint> spaced(const ScatterOptions& options, double places, const auto& dart) {
    std::vector<ScatterPoint> kept;
    Neighbours near(options.spacing);
    const double darts = std::min(std::max(places, 1.0) * 30 + 1000, 200e6);
    constexpr std::size_t batch = 8192;
    std::vector<ScatterPoint> thrown(batch);
    for (std::size_t first = 0; first < static_cast<std::size_t>(darts) && kept.size() < options.count;
         first += batch) {
        stop_point();
        parallel::each(parallel::Numbers<std::size_t>(0, batch, 512), [&](const auto& range) {
            stop_point();
            for (std::size_t i = range.begin(); i < range.end(); ++i)
                thrown[i] = dart(static_cast<std::uint32_t>(first + i));
        });
        for (const ScatterPoint& point : thrown) {
            if (kept.size() >= options.count) break;
            if (point.number == no_index || !near.free(point.at)) continue;
            near.add(point.at);
            kept.push_back(point);
        }
    }
    return kept;
}

}  // namespace

ScatterSurface scatter_surface(const Mesh& mesh, const Selection& faces, std::span<const float> weights) {
    ScatterSurface out;
    const Triangles cut = triangulated(mesh);
    const Array<Vec3>& p = *mesh.positions;
    const Topology& t = *mesh.topology;
    out.corners.reserve(cut.count()), out.face.reserve(cut.count()), out.sums.reserve(cut.count()),
        out.places.reserve(cut.count()), out.most.reserve(cut.count());
    for (std::size_t i = 0; i < cut.count(); ++i) {
        stop_point(i);
        if (!faces[cut.face[i]]) continue;
        const std::array<Index, 3> corners = {cut.corners[3 * i], cut.corners[3 * i + 1], cut.corners[3 * i + 2]};
        const Index a = t.corner_vertex[corners[0]], b = t.corner_vertex[corners[1]], c = t.corner_vertex[corners[2]];
        const double area = glm::length(glm::cross(DVec3(p[b]) - DVec3(p[a]), DVec3(p[c]) - DVec3(p[a]))) / 2;
        float most = 1;
        double mean = 1;
        std::array<float, 3> own{1, 1, 1};
        if (!weights.empty()) {
            const float wa = std::clamp(weights[a], 0.0f, 1.0f), wb = std::clamp(weights[b], 0.0f, 1.0f),
                        wc = std::clamp(weights[c], 0.0f, 1.0f);
            own = {wa, wb, wc};
            most = std::max({wa, wb, wc});
            mean = (static_cast<double>(wa) + static_cast<double>(wb) + static_cast<double>(wc)) / 3;
        }
        if (!(area * mean > 0)) continue;
        out.area += area * mean;
        out.corners.push_back(corners);
        out.face.push_back(cut.face[i]);
        out.sums.push_back(out.area);
        out.places.push_back({p[a], p[b], p[c]});
        if (!weights.empty()) out.weights.push_back(own);
        out.most.push_back(most);
    }
    return out;
}

std::vector<ScatterPoint> scattered_on(const ScatterSurface& surface, const ScatterOptions& options) {
    if (surface.corners.empty()) return {};
    // Drawing a triangle from the running sum: a table of where each share begins makes the search short.
    const std::size_t n = surface.sums.size();
    std::vector<Index> begins(n + 1);
    for (std::size_t k = 0, i = 0; k <= n; ++k) {
        while (i + 1 < n && surface.sums[i] < surface.area * (static_cast<double>(k) / static_cast<double>(n))) ++i;
        begins[k] = static_cast<Index>(i);
    }
    const auto dart = [&](std::uint32_t number) {
        ScatterPoint out;
        out.number = number;
        const std::uint32_t own = mixed(number * 0x9e3779b9u + mixed(options.seed + 1));
        const double share = random_share(own, 0);
        const double wanted = share * surface.area;
        std::size_t i = begins[static_cast<std::size_t>(share * static_cast<double>(n))];
        while (i > 0 && surface.sums[i - 1] > wanted) --i;
        while (i + 1 < n && surface.sums[i] <= wanted) ++i;
        out.triangle = static_cast<Index>(i);
        const auto& [a, b, c] = surface.places[i];
        for (int attempt = 0; attempt < tries; ++attempt) {
            const double r = std::sqrt(random_share(own, 1 + 3 * static_cast<std::uint32_t>(attempt))),
                         s = random_share(own, 2 + 3 * static_cast<std::uint32_t>(attempt));
            out.share = Vec3(static_cast<float>(1 - r), static_cast<float>(r * (1 - s)), static_cast<float>(r * s));
            if (surface.weights.empty()) break;
            const auto& w = surface.weights[i];
            const float here = w[0] * out.share.x + w[1] * out.share.y + w[2] * out.share.z;
            if (random_share(own, 3 + 3 * static_cast<std::uint32_t>(attempt)) * static_cast<double>(surface.most[i]) <=
                static_cast<double>(here))
                break;
        }
        out.at = a * out.share.x + b * out.share.y + c * out.share.z;
        out.normal = glm::normalize(glm::cross(b - a, c - a));
        return out;
    };
    std::vector<ScatterPoint> points;
    if (options.spacing > 0) {
        // Discs of this diameter, thrown at random, fill a plane to 0.547 (J. Feder, "Random sequential adsorption",
        // 1980).
        points = spaced(options, surface.area / (options.spacing * options.spacing) * 0.7, dart);
    } else {
        points.resize(options.count);
        parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 2048), [&](const auto& range) {
            stop_point();
            for (std::size_t i = range.begin(); i < range.end(); ++i) points[i] = dart(static_cast<std::uint32_t>(i));
        });
    }
    return points;
}

std::vector<ScatterPoint> scattered_inside(const SurfaceFinder& closed, const ScatterOptions& options) {
    if (closed.empty()) return {};
    Vec3 low(1e30f), high(-1e30f);
    for (const Vec3& v : *closed.mesh().positions) low = glm::min(low, v), high = glm::max(high, v);
    const Vec3 size = high - low;
    const double box = static_cast<double>(size.x) * static_cast<double>(size.y) * static_cast<double>(size.z);
    if (!(box > 0)) return {};
    const auto dart = [&](std::uint32_t number) {
        ScatterPoint out;
        out.number = no_index;
        const std::uint32_t own = mixed(number * 0x9e3779b9u + mixed(options.seed + 1));
        for (int attempt = 0; attempt < tries * 8; ++attempt) {
            const auto k = static_cast<std::uint32_t>(attempt) * 3;
            out.at = low + size * Vec3(static_cast<float>(random_share(own, k)),
                                       static_cast<float>(random_share(own, k + 1)),
                                       static_cast<float>(random_share(own, k + 2)));
            if (!closed.inside(DVec3(out.at))) continue;
            out.number = number;
            break;
        }
        return out;
    };
    // Balls thrown at random fill space to 0.382 (D. Cooper, 1988).
    if (options.spacing > 0) return spaced(options, box / std::pow(options.spacing, 3) * 0.73, dart);
    std::vector<ScatterPoint> points(options.count);
    parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 256), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i < range.end(); ++i) points[i] = dart(static_cast<std::uint32_t>(i));
    });
    std::erase_if(points, [](const ScatterPoint& point) { return point.number == no_index; });
    return points;
}

}  // namespace bricol
