// SPDX-License-Identifier: GPL-3.0-or-later
// Finished parts to files other programs read.
#pragma once

#include "core/files/format.h"

namespace bricol {

/// Writes every shape that has faces; kind by suffix. Refused, with the reason: an unknown suffix, nothing with faces,
/// a file that cannot be written.
std::optional<Problem> export_shapes(std::span<const NamedShape> shapes, const std::string& path,
                                     const ExportOptions& options = {});

}  // namespace bricol
