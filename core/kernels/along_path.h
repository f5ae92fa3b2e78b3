// SPDX-License-Identifier: GPL-3.0-or-later
// Where copies stand along a path.
#pragma once

#include "core/kernels/path.h"

namespace bricol {

struct AlongOptions {
    enum class By : std::uint8_t {
        count,     ///< so many, the first at the start and the last at the end
        spacing,   ///< so far from middle to middle
        touching,  ///< one behind another, each as long as it is
        fit        ///< as many as there is room for, spread over the whole
    } by = By::count;
    int count = 12;
    double spacing = 0.2;       ///< metres
    double own = 0.1;           ///< length of a copy along the path (metres)
    double gap = 0;             ///< between touching or fitted copies
    double start = 0, end = 0;  ///< left free at either end
    bool stiff = false;         ///< both ends of a copy lie on the path and it spans straight between them
};

/// One copy: where it begins and ends along the path. Both the same when it sits on one place.
struct AlongPlace {
    double from = 0, to = 0;  ///< metres along the path
    DVec3 a{0}, b{0};         ///< the places there
};
struct AlongPlaces {
    std::vector<AlongPlace> places;
    double left_over = 0;  ///< metres of the path behind the last copy that no copy fills
    double piece = 0;      ///< straight length of each stiff copy's place
};

/// How many copies that would be, as a number that may be huge.
double copies_along(const Path& path, const AlongOptions& options);
/// Stiff copies follow one another by straight distance: each place begins where the one before ends (plus the gap).
AlongPlaces places_along(const Path& path, const AlongOptions& options);

/// How a copy stands on its place.
struct AlongStance {
    enum class Look : std::uint8_t { along, level, same } look = Look::along;
    int axis = 0;     ///< its own axis that lies along the path
    double roll = 0;  ///< radians about that axis, besides the path's own
    DVec3 size{1};    ///< factors along its own axes
    DVec3 pivot{0};   ///< what of it stands on the place (metres, in its own coordinates)
};
/// The copy's matrix. Its axes stay right-handed: the one named ahead, the next to the left of the path, or up.
glm::mat4 copy_on(const AlongPlace& place, const Station& here, bool straight, const AlongStance& stance);

/// The nearest length beyond `from` whose place is `distance` away in a straight line; negative when the path ends
/// before.
double step_along(const Path& path, double from, double distance);

}  // namespace bricol
