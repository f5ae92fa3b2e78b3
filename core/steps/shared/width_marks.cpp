// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/width_marks.h"

namespace bricol {

void warn_after_smoothing(StepRun& run, const Mesh& mesh, std::string_view what) {
    if (mesh.attributes.find(Domain::whole, attribute_name::smoothed))
        run.tell(Severity::caution, "after-smoothing",
                 fmt::format("This {} comes after a subdivision: the edges it looks for were smoothed away. Move it in "
                             "front of the subdivision.",
                             what));
}

void note_uneven_size(StepRun& run, const Mesh& mesh) {
    if (mesh.attributes.find(Domain::whole, attribute_name::uneven))
        run.tell(
            Severity::note, "uneven-size",
            "The shape was sized unevenly before. Widths here are real lengths and stay the same in every direction.");
}

}  // namespace bricol
