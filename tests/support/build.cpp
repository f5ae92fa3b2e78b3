// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/build.h"

namespace bricol::test {

bool sanitized() { return BRICOL_SANITIZED; }
const char* command_path() { return COMMAND_PATH; }

}  // namespace bricol::test
