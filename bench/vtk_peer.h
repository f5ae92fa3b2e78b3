// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <memory>
#include <vector>

/// VTK's turning filter on a profile of (radius, height), as its manual uses it: unwelded, without normals.
class VtkLathe {
public:
    VtkLathe(const std::vector<std::pair<double, double>>& profile, int segments);
    ~VtkLathe();
    std::size_t run();  ///< number of cells made

private:
    struct Parts;
    std::unique_ptr<Parts> parts_;
};

/// VTK's tube filter along a line whose radius varies by scalar; normals and texture coordinates made, as a peer of a
/// sweep. Set up once.
class VtkTube {
public:
    VtkTube(const std::vector<double>& places, const std::vector<double>& radii, int sides);
    ~VtkTube();
    std::size_t run();  ///< number of cells made

private:
    struct Parts;
    std::unique_ptr<Parts> parts_;
};
