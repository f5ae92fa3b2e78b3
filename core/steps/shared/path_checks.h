// SPDX-License-Identifier: GPL-3.0-or-later
// What steps along a path share: its parameters, and what can be wrong with it.
#pragma once

#include <cmath>
#include <fmt/format.h>

#include "core/kernels/path.h"
#include "core/catalogue/settings.h"

namespace bricol {

enum class Frames { least, up };

template <class T>
Setting<T> frames_of(Frames T::*f) {
    return choice_of(
        f, "frames", "Across", {{Frames::least, "least", "turns least"}, {Frames::up, "up", "keeps upright"}},
        "How the directions across the path are found: without turning about it, or as upright as it lets them.");
}
template <class T>
Setting<T> up_of(DVec3 T::*f) {
    return when(vector_of(f, "up", "Up", Quantity::plain, "What upright means."), "frames=up");
}

PathOptions path_options(Frames frames, const DVec3& up);

/// The paths among an input's curves and loose edges; what cannot be one is told.
std::vector<Path> paths_of(StepRun& run, const Shape& shape, const PathOptions& options);

/// The first line of an input, its own sampling made finer where that is asked for; nothing when there is none. `what`
/// is what the input is called where there are several, which is told.
std::optional<Polyline> first_line(StepRun& run, std::string_view key, const char* what);

/// What is said where a bend of `radius` has something reach `needs` inwards (metres).
std::string tight_bend_text(std::string_view what, double radius, double needs, std::size_t places);

/// Ends that nearly follow an axis, but not quite: end rings stand askew by as much. Within half to fifteen degrees it
/// is taken for an oversight.
void look_at_ends(StepRun& run, const std::vector<Path>& paths);

/// A bent path in so few pieces that its corners show, or in so many that nobody sees them. Both are judged by the path
/// seen whole, its box 1 000 pixels long: how far the pieces stand off the arc through their ends (for small turns
/// their length times the turn, by 8).
void look_at_pieces(StepRun& run, const std::vector<Path>& paths);

}  // namespace bricol
