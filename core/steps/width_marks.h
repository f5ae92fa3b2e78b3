// SPDX-License-Identifier: GPL-3.0-or-later
// Marks on a shape by which steps that measure a width know what happened to it before.
#pragma once

#include <fmt/format.h>

#include "core/catalogue/settings.h"

namespace bricol {

inline void mark(Mesh& mesh, std::string_view name) {
    mesh.attributes.set(Domain::whole, name, Array<std::uint8_t>(1, 1));
}

/// A step that shapes edges has little to hold on to once they were smoothed away.
inline void warn_after_smoothing(StepRun& run, const Mesh& mesh, std::string_view what) {
    if (mesh.attributes.find(Domain::whole, attribute_name::smoothed))
        run.tell(Severity::caution, "after-smoothing",
                 fmt::format("This {} comes after a subdivision: the edges it looks for were smoothed away. Move it in "
                             "front of the subdivision.",
                             what));
}

/// Widths are real lengths; somebody who sized unevenly before may expect them stretched as well.
inline void note_uneven_size(StepRun& run, const Mesh& mesh) {
    if (mesh.attributes.find(Domain::whole, attribute_name::uneven))
        run.tell(
            Severity::note, "uneven-size",
            "The shape was sized unevenly before. Widths here are real lengths and stay the same in every direction.");
}

}  // namespace bricol
