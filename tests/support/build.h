// SPDX-License-Identifier: GPL-3.0-or-later
// What differs between the two programs that run the same test objects.
#pragma once

namespace bricol::test {

/// Whether the core under test is watched by sanitisers: about ten times slower, so long rows of tries are cut short.
bool sanitized();
/// The `bricol` command of the same kind, a path.
const char* command_path();

}  // namespace bricol::test
