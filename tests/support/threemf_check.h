// SPDX-License-Identifier: GPL-3.0-or-later
// What lib3mf reads from a file.
#pragma once

#include <string>
#include <vector>

#include "core/ground/types.h"

namespace bricol::test {

struct ThreeMfRead {
    std::size_t triangles = 0, objects = 0;  ///< of everything that is to be made, copies counted; in the file
    DVec3 low{1e300}, high{-1e300};
    bool millimetres = false;
    std::vector<std::string> materials;  ///< "name #alpha"
};
/// Fails the test when the file cannot be read.
ThreeMfRead read_3mf(const std::string& path);

}  // namespace bricol::test
