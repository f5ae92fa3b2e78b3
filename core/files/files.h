// SPDX-License-Identifier: GPL-3.0-or-later
// Reading and writing whole files so that nothing is ever half written.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>

#include "core/ground/result.h"

namespace bricol {

/// Whole content of a file of at most `most_bytes`.
Result<std::string> read_file(const std::string& path, std::size_t most_bytes = std::size_t(256) << 20);

/// Writes through a temporary file in the same folder, flushed to the disk and then renamed over the target: either the
/// old file stays or the new one is complete. The old file's permissions are kept.
std::optional<Problem> write_file(const std::string& path, std::string_view content);

/// The same for content that is produced piece by piece. `produce` calls its argument with each piece.
using Sink = std::function<bool(std::string_view)>;
std::optional<Problem> write_file(const std::string& path, const std::function<void(const Sink&)>& produce);

/// What `name` was to become, when it is the name of a temporary file of `write_file`; empty when it is not. Such files
/// stay only where a writer was killed.
std::string unfinished_of(std::string_view name);

}  // namespace bricol
