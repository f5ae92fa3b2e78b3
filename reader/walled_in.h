// SPDX-License-Identifier: GPL-3.0-or-later
// Shuts this process in before it looks at a file from somebody else.
#pragma once

#include <cstddef>

namespace bricol::reader {

/// Bounds address space and processor time. False when the system refuses.
bool bound_resources(std::size_t most_bytes, unsigned most_seconds);

/// From here on the process may compute, take memory and use the files it has open; everything else (opening files,
/// the network, other processes) fails with EPERM. By a seccomp filter (Linux, Documentation/userspace-api/
/// seccomp_filter). False when the system has none.
bool wall_in();

}  // namespace bricol::reader
