// SPDX-License-Identifier: GPL-3.0-or-later
// What stands round the shapes of a recipe for its pictures: cameras, lamps, a sky, a backdrop.
#pragma once

#include <memory>
#include <string>
#include <variant>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// A lamp. All of them are unseen by the camera itself and seen in reflections.
struct StageLamp {
    enum class Kind : std::uint8_t {
        rectangle,  ///< shines to one side, all over alike (Lambert)
        disc,
        sun,    ///< from far away, out of a disc in the sky
        point,  ///< a ball of no size, into all directions alike
        spot    ///< a point that shines into a cone
    };
    Kind kind = Kind::rectangle;
    std::string name;
    DVec3 at{0, 0, 1};             ///< metres
    DVec3 aim{0, 0, 0};            ///< what it looks at (metres); a sun shines from `at` towards it
    double width = 1, height = 1;  ///< of a rectangle (metres)
    double radius = 0.5;           ///< of a disc (metres)
    double angle = 0.53;           ///< a sun's disc, or the whole cone of a spot (degrees)
    double soft = 0.2;             ///< share of a spot's half angle in which it fades
    DVec3 colour{1};               ///< linear; scaled so that it changes the hue alone
    /// Radiant flux in watts; of a sun the irradiance on a surface square to it, in watts a square metre.
    double strength = 10;
};

/// Light from all around as a picture: rows from straight up to straight down, each once round the vertical from -x
/// over +y, +x and -y back to -x: +x stands in the picture's middle, and what is right in it is right to the eye.
struct SkyPicture {
    int width = 0, height = 0;
    std::vector<Vec3> pixels;  ///< linear, row by row
};

/// Light from all around: a gradient over the heights, or a picture.
struct StageSky {
    DVec3 above{1}, horizon{1}, below{1};  ///< linear
    double strength = 0;                   ///< radiance where the colour is 1 (W / m^2 sr)
    std::shared_ptr<const SkyPicture> picture;
    double turn = 0;    ///< of the picture about the vertical (degrees)
    bool seen = false;  ///< behind the shapes as well
};

struct StageCamera {
    DVec3 eye{0, -3, 1}, aim{0}, up{0, 0, 1};
    double focal = 50;              ///< millimetres
    double film = 36;               ///< width of the film (millimetres), along the picture's longer side
    double roll = 0;                ///< degrees; the picture's upper side leans to the right
    double sharp_at = 0;            ///< distance of the sharp plane (metres); 0 for the aim's
    double f_number = 0;            ///< focal length over the aperture's width; 0 for sharp everywhere
    double exposure = 0;            ///< steps: one more is twice as bright
    double flat = 0;                ///< height of what a flat view shows (metres); 0 for a lens
    int width = 960, height = 600;  ///< pixels
};

/// What lies under and behind the shapes.
struct StageBackdrop {
    enum class Kind : std::uint8_t {
        nothing,   ///< what is not covered stays see-through
        plain,     ///< one colour, that catches shadow and glow at the shapes' foot
        bent,      ///< a sheet that lies under the shapes and rises behind them
        gradient,  ///< from one colour to another, without a ground
    };
    Kind kind = Kind::bent;
    DVec3 colour{0.50, 0.49, 0.46}, high{0.4, 0.39, 0.36};  ///< linear; `high` of a gradient's upper edge
};

/// What one entry of a recipe puts there.
struct StagePiece {
    std::variant<StageCamera, StageLamp, StageSky, StageBackdrop> what;
};

}  // namespace bricol
