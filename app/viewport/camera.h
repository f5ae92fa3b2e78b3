// SPDX-License-Identifier: GPL-3.0-or-later
// Where the artist looks from. Metres; z is up.
#pragma once

#include <glm/glm.hpp>
#include <glm/gtc/matrix_transform.hpp>
#include <utility>

#include "core/kernels/transform.h"

namespace bricol {

enum class View { free, front, side, top };

class Camera {
public:
    DVec3 target{0, 0, 0.5};
    double distance = 4;  ///< from the target; also sets the size of flat views
    double yaw = -60;     ///< degrees round z; the eye of the front view stands at -y (yaw -90)
    double pitch = 22;    ///< degrees above the ground
    View view = View::free;

    bool flat() const { return view != View::free; }
    DVec3 direction() const;  ///< from the target towards the eye
    DVec3 eye() const { return target + direction() * distance; }
    DVec3 right() const;
    DVec3 up() const;
    glm::dmat4 view_matrix() const;
    glm::dmat4 projection(double aspect) const;
    /// The nearest and the farthest depth that is drawn (metres before the eye).
    std::pair<double, double> depth_range() const;

    void set_view(View wanted);
    void turn(double degrees_across, double degrees_up);
    /// Moves the target so that the point under the pointer follows it; pixels, in a picture `height` high.
    void slide(double right_pixels, double up_pixels, double height);
    /// Zooms by a factor (below 1 is nearer) keeping what is at the pointer in place; pointer in -1..1 of half height.
    void zoom(double factor, double pointer_x, double pointer_y);
    /// Fits a box into the picture.
    void frame(const Box& box, double aspect);
    /// Metres that one pixel covers at the target's depth.
    double metres_per_pixel(double height) const;

    static constexpr double usual_half_angle = 16;  ///< degrees; a long lens keeps turned shapes true
    double half_angle = usual_half_angle;           ///< from the middle to the upper edge (degrees)
    double roll = 0;                                ///< degrees; the upper side leans to the right
    /// Back to the usual lens, upright, with what is looked at as large as before.
    void use_usual_lens();
};

/// A point in space on the picture and back.
class Projector {
public:
    Projector(const Camera& camera, double width, double height);
    /// Pixels from the upper left; `depth` is positive before the eye.
    glm::dvec2 to_screen(const DVec3& point, double* depth = nullptr) const;
    /// Where the ray through a pixel meets a plane; false when it runs beside it.
    bool on_plane(const glm::dvec2& pixel, const DVec3& origin, const DVec3& normal, DVec3& out) const;

private:
    glm::dmat4 matrix_, inverse_;
    double width_, height_;
};

}  // namespace bricol
