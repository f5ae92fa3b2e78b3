// SPDX-License-Identifier: GPL-3.0-or-later
// Runs the tests under the locale that the environment names, as a desktop program would be run.
#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>
#include <locale>

#include "core/ground/kept_memory.h"

int main(int count, char** arguments) {
    std::locale::global(std::locale(""));  // throws when the locale is not there: then nothing would have been tried
    bricol::keep_freed_memory();           // as the programs do
    return Catch::Session().run(count, arguments);
}
