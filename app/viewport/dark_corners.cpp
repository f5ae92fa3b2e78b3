// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/dark_corners.h"

#include <cmath>

#include "core/still/occlusion.h"

namespace bricol {

void darken_corners(QImage& image, const std::vector<float>& window_depth, const Camera& camera) {
    DepthView view;
    view.width = image.width(), view.height = image.height();
    view.flat = camera.flat();
    const double tangent = std::tan(glm::radians(camera.half_angle));
    view.half_height = static_cast<float>(view.flat ? camera.distance * tangent : tangent);
    const auto [near, far] = camera.depth_range();
    view.depth.resize(window_depth.size(), 0);
    for (std::size_t i = 0; i < window_depth.size(); ++i) {
        const auto d = static_cast<double>(window_depth[i]);
        if (d >= 1) continue;
        // Metres from the nearest plane on, so that depths in a flat view are positive too.
        view.depth[i] = static_cast<float>(view.flat ? (far - near) * d : near * far / (far - d * (far - near)));
    }
    const std::vector<float> light = occlusion(view, static_cast<float>(0.09 * camera.distance));
    for (int y = 0; y < image.height(); ++y) {
        auto* row = reinterpret_cast<QRgb*>(image.scanLine(y));
        const float* own = &light[static_cast<std::size_t>(y) * static_cast<std::size_t>(image.width())];
        for (int x = 0; x < image.width(); ++x) {
            if (own[x] >= 1) continue;
            const auto dark = [&](int value) { return static_cast<int>(static_cast<float>(value) * own[x]); };
            row[x] = qRgb(dark(qRed(row[x])), dark(qGreen(row[x])), dark(qBlue(row[x])));
        }
    }
}

}  // namespace bricol
