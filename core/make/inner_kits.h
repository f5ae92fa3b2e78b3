// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes inside recipes.
#pragma once

#include <map>

#include "core/make/make.h"

namespace bricol {

/// Hash of everything a kit's result may depend on, its own kits included. Each kit is looked into once, however often
/// it stands in others; `known` also stops those that contain themselves.
std::uint64_t content_of_kit(const Kit& kit, const MakeOptions& options, std::map<std::uint64_t, std::uint64_t>& known);

}  // namespace bricol
