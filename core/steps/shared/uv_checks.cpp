// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/uv_checks.h"

namespace bricol {

void tell_uvs(StepRun& run, const Mesh& mesh, bool unit, double limit) {
    const UvCheck check = checked_uvs(mesh, limit);
    if (!check.any) return;
    if (unit && check.outside > 0)
        run.tell(Severity::note, "uvs-outside",
                 fmt::format("UVs leave 0 to 1 on {} triangle{}: u runs from {:.3g} to {:.3g}, v from {:.3g} to "
                             "{:.3g}. Only a repeating picture fits there.",
                             check.outside, check.outside == 1 ? "" : "s", check.low.x, check.high.x, check.low.y,
                             check.high.y));
    if (check.flat > 0)
        run.tell(Severity::note, "uvs-flat",
                 fmt::format("{} triangle{} no room on the picture, because {} seen edge-on.", check.flat,
                             check.flat == 1 ? " has" : "s have", check.flat == 1 ? "it is" : "they are"));
    if (limit > 1 && check.stretched > 0)
        run.tell(Severity::note, "uvs-stretched",
                 fmt::format("A picture is stretched by up to {:.3g} on {} triangle{}, more than {:.3g}. Choose "
                             "another projection, or cut more seams.",
                             check.stretch, check.stretched, check.stretched == 1 ? "" : "s", limit))
            .places = {check.worst_at};
}

}  // namespace bricol
