// SPDX-License-Identifier: GPL-3.0-or-later
// What a finished picture is taken of: shapes, lights, what surrounds them, and the camera.
#pragma once

#include <string>
#include <vector>

#include "core/shape/shape.h"

namespace bricol {

/// A lamp. All of them are unseen by the camera itself and seen in reflections.
struct StillLight {
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

/// Light from all around: a gradient over the heights.
struct StillSky {
    DVec3 above{1}, horizon{1}, below{1};  ///< linear
    double strength = 0;                   ///< radiance where the colour is 1 (W / m^2 sr)
};

struct StillCamera {
    DVec3 eye{0, -3, 1}, aim{0}, up{0, 0, 1};
    double focal = 50;    ///< millimetres
    double film = 36;     ///< width of the film (millimetres), along the picture's longer side
    double sharp_at = 0;  ///< distance of the sharp plane (metres); 0 for the aim's
    double f_number = 0;  ///< focal length over the aperture's width; 0 for sharp everywhere
    double exposure = 0;  ///< steps: one more is twice as bright
};

/// What lies behind the shapes where nothing is hit by a ray from the camera.
struct StillGround {
    DVec3 high{0.8}, low{0.9};  ///< linear, at the upper and lower edge of the picture
};

struct StillScene {
    std::vector<ShapePtr> shapes;
    std::vector<StillLight> lights;
    StillSky sky;
    StillCamera camera;
    StillGround ground;
    DVec3 plain_colour{0.58, 0.54, 0.44};  ///< of faces without a material
};

/// The focal plane's place and size follow the thin lens; the aperture is a disc. `side` is 0 to 1 across and down the
/// picture, `lens` a point of the unit disc. Gives the ray's start and unit direction.
struct StillRay {
    DVec3 from, way;
};
StillRay camera_ray(const StillCamera& camera, double aspect, const DVec2& side, const DVec2& lens);

/// A set of lights round a box of shapes that reads well: a large soft key from the upper left, a weaker fill, a rim
/// from behind, and a little sky; with a camera that sees all of the box from the front right.
StillScene framed_scene(std::vector<ShapePtr> shapes, double aspect);
/// A sheet that lies under the shapes and rises behind them in a bow, seen from the camera's side.
ShapePtr bent_backdrop(const std::vector<ShapePtr>& shapes, const StillCamera& camera, const DVec3& colour);

}  // namespace bricol
