// SPDX-License-Identifier: GPL-3.0-or-later
// What a finished picture is taken of: shapes, lights, what surrounds them, and the camera.
#pragma once

#include <string>
#include <vector>

#include "core/shape/shape.h"
#include "core/shape/stage.h"

namespace bricol {

/// What lies behind the shapes where a ray from the camera hits nothing.
struct StillGround {
    DVec3 high{0.8}, low{0.9};  ///< linear, at the upper and lower edge of the picture
    bool clear = false;         ///< nothing: the picture is see-through there
};

struct StillScene {
    std::vector<ShapePtr> shapes;
    std::vector<StageLamp> lights;
    StageSky sky;
    StageCamera camera;
    StillGround ground;
    std::int32_t catcher = -1;             ///< of the shapes a plain that shows the ground, its shadows and its glow
    DVec3 plain_colour{0.58, 0.54, 0.44};  ///< of faces without a material
};

struct StillRay {
    DVec3 from, way;  ///< `way` is unit
};

/// A camera as the rays through it. The focal plane's place and size follow the thin lens; the aperture is a disc.
class CameraRays {
public:
    CameraRays(const StageCamera& camera, double aspect);
    /// `side` is 0 to 1 across and down the picture, `lens` a point of the unit disc.
    StillRay through(const DVec2& side, const DVec2& lens) const;
    /// Whether it asks for the point of the lens.
    bool blurs() const { return blurs_; }

private:
    DVec3 eye_, ahead_, right_, up_;  // the film's sides seen from the lens, a unit away
    DVec3 lens_right_{0}, lens_up_{0};
    double sharp_ = 0;
    bool flat_, blurs_ = false;
};
/// One of them.
StillRay camera_ray(const StageCamera& camera, double aspect, const DVec2& side, const DVec2& lens);

/// A camera that sees all of the shapes' box from the front right.
StageCamera framing_camera(const std::vector<ShapePtr>& shapes, double aspect);
/// A set of lights round a box of shapes that reads well from the camera's side: a large soft key from the upper left,
/// a weaker fill, a rim from behind, and a little sky.
StillScene framed_scene(std::vector<ShapePtr> shapes, const StageCamera& camera);
/// A sheet that lies under the shapes and rises behind them in a bow, seen from the camera's side.
ShapePtr bent_backdrop(const std::vector<ShapePtr>& shapes, const StageCamera& camera, const DVec3& colour);
/// A plain that lies under the shapes, as far as one sees.
ShapePtr plain_ground(const std::vector<ShapePtr>& shapes, const DVec3& colour);

}  // namespace bricol
