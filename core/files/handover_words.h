// SPDX-License-Identifier: GPL-3.0-or-later
// Settings of a hand-over as people type them. Refused in words, with what would do.
#pragma once

#include "core/files/handover.h"

namespace bricol {

/// "50, 25" or "50 %, 25 %": shares of the triangles in percent, each less than the one before; none for nothing.
Result<std::vector<double>> typed_levels(const std::string& text);

/// "own", "foot", "middle", or a point in metres: "0, 0, 1.2".
std::optional<Problem> read_pivot(const std::string& text, Dressing& dressing);

/// "0..24": both ends are made; none for nothing.
Result<std::optional<FrameRange>> typed_frames(const std::string& text, double rate);

/// Kinds of file, with or without a dot before them.
std::optional<Problem> read_kinds(const std::vector<std::string>& kinds, HandoverOrder& order);

/// A pattern of names for shapes to collide with must tell them apart.
std::optional<Problem> collision_name_problem(const std::string& pattern);

}  // namespace bricol
