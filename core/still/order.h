// SPDX-License-Identifier: GPL-3.0-or-later
// A picture as it is asked for: by the command line, by the window, alone or in a row.
#pragma once

#include "core/make/make.h"
#include "core/still/frames.h"
#include "core/still/ray_scene.h"
#include "core/still/staged.h"

namespace bricol {

struct StillOrder {
    std::vector<std::string> parts;  ///< by name; empty for all that stand in the result
    std::string camera;              ///< by id or title; empty for the recipe's first, or one that frames the shapes
    int width = 0, height = 0;       ///< pixels; 0 for the camera's
    int samples = 64;                ///< paths a pixel
    double seconds = 0;              ///< 0 for no limit
    double wanted_noise = 0;         ///< share; 0 for no limit
    std::optional<StageBackdrop::Kind> backdrop;  ///< instead of the recipe's
    double exposure = 0;                          ///< steps more than the camera's
    bool dark = false;                            ///< the standard backdrop
    bool raw = false;                             ///< without the filter against noise
    StillCurve curve = StillCurve::filmic;
};

inline constexpr int least_picture_side = 8, most_picture_side = 16384;
inline constexpr double most_picture_pixels = 120e6;  ///< with what is known of each some 23 GB

struct OrderedStill {
    StillScene scene;
    StillOptions options;
    double memory = 0;  ///< bytes while it is made
};

/// The scene of an order, turned by a share of a whole turn. `framing` stands for the camera when the recipe has none
/// (null: one that frames these shapes). A problem when there is nothing to see, no such camera, or no room for it.
Result<OrderedStill> ordered_still(const StillOrder& order, const Recipe& recipe, const Made& made,
                                   const StageCamera* framing = nullptr, FrameTurn turn = FrameTurn::none,
                                   double turned = 0);

/// A row of pictures as it is asked for.
struct RowOrder {
    StillOrder still;
    int frames = 120;
    double first = 0;  ///< what formulas see as `frame` in the first one
    FrameTurn turn = FrameTurn::shapes;
};

/// Everything the frames of a row depend on, as text.
std::string row_note(const RowOrder& order, const Recipe& recipe, const Surroundings& surroundings);

/// Takes the pictures of a row one by one; what did not change from one to the next is not made or built again.
class FrameTaker {
public:
    /// `recipe` and what `making` points to stay while it lives.
    FrameTaker(const Recipe& recipe, MakeOptions making, RowOrder order);

    Result<StillPicture> take(int frame);
    /// The last making that had errors; null for none.
    const Made* with_errors() const { return with_errors_ ? &*with_errors_ : nullptr; }

private:
    const Recipe& recipe_;
    MakeOptions making_;
    RowOrder order_;
    Maker maker_;
    std::optional<StageCamera> framing_;
    std::shared_ptr<const RayScene> rays_;
    std::vector<ShapePtr> shapes_;  // that the rays meet
    std::optional<Made> with_errors_;
};

}  // namespace bricol
