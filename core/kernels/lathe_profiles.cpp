// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/lathe_profiles.h"

#include "core/ground/stop.h"

namespace bricol {

LathedProfiles lathed_profiles(std::span<const Polyline> profiles, const LatheOptions& options) {
    LathedProfiles out;
    std::vector<Mesh> meshes;
    for (const Polyline& profile : profiles) {
        stop_point();
        std::size_t caps = 0;
        Mesh mesh = lathe(profile, options, &caps);
        const std::size_t faces = mesh.face_count();
        for (Mask* mask : {&out.start, &out.end}) mask->resize(mask->size() + faces, 0);
        for (std::size_t c = 0; c < caps; ++c) (c % 2 == 0 ? out.start : out.end)[out.start.size() - caps + c] = 1;
        out.faults.push_back(check_profile(profile, options));
        if (mesh.empty())
            ++out.empty;
        else
            meshes.push_back(std::move(mesh));
    }
    if (!meshes.empty()) out.mesh = joined_meshes(meshes);
    return out;
}

}  // namespace bricol
