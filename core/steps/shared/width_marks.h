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
void warn_after_smoothing(StepRun& run, const Mesh& mesh, std::string_view what);

/// Widths are real lengths; somebody who sized unevenly before may expect them stretched as well.
void note_uneven_size(StepRun& run, const Mesh& mesh);

}  // namespace bricol
