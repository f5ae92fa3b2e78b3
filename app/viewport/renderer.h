// SPDX-License-Identifier: GPL-3.0-or-later
// Makes pictures of shapes with OpenGL 4.5 on a surfaceless EGL context: no window, no display, the same pixels
// anywhere.
#pragma once

#include <QColor>
#include <QImage>
#include <memory>
#include <optional>
#include <vector>

#include "app/viewport/camera.h"
#include "app/viewport/gpu_mesh.h"
#include "app/viewport/shadings.h"
#include "core/shape/shape.h"
#include "core/shape/stage.h"

namespace bricol {

struct SceneItem {
    ShapePtr shape;  ///< its own mesh is drawn, at every place
    Places places;
    QColor clay;
    bool ghost = false;
    bool helper = false;  ///< wire in the view, nothing in pictures
    bool cage = false;    ///< subdivided: draw only edges that are sharp
    ShapePtr root;        ///< the shape that was added
    Tints tints;
};

struct ScenePicture {
    QImage image;
    DVec3 corner{0}, across{1, 0, 0}, up{0, 0, 1};  ///< lower left corner and the two sides (metres)
    float opacity = 0.5f;
    bool on_top = false;  ///< drawn over the shape, for tracing
};

struct Scene {
    std::vector<SceneItem> items;
    std::vector<ScenePicture> pictures;
    const ShadingInfo* shading = &shading_named("clay");
    Paint paint;                   ///< for shadings that show an attribute
    std::vector<StageLamp> lamps;  ///< that throw the shadow on the ground
    StageSky sky;
    bool grid = true, shadow = true, occlusion = false;
    double grid_step = 0.1;          ///< metres between fine lines
    std::optional<DrawPlane> plane;  ///< the grid lies in it; else in the ground, or the plane of a flat view
};

/// Adds a shape's mesh and its instances.
void add_items(Scene& scene, const ShapePtr& shape, const QColor& clay, bool ghost = false, bool helper = false);

/// What each pixel shows: the item's number in the scene plus one (0 for nothing), and its triangle.
struct PickPicture {
    QSize size;
    std::vector<glm::uvec2> pixels;
    glm::uvec2 at(int x, int y) const {
        return x >= 0 && y >= 0 && x < size.width() && y < size.height()
                   ? pixels[static_cast<std::size_t>(y) * size.width() + x]
                   : glm::uvec2(0);
    }
};

class Renderer {
public:
    /// Null when there is no usable OpenGL; `why` then says so in plain words.
    static std::unique_ptr<Renderer> create(QString* why);
    virtual ~Renderer() = default;
    /// `fine` draws with four samples a pixel, for when the hand rests.
    virtual QImage render(const Scene& scene, const Camera& camera, QSize pixels, bool fine) = 0;
    /// Ghosts do not count.
    virtual PickPicture pick(const Scene& scene, const Camera& camera, QSize pixels) = 0;
    virtual QString driver() const = 0;
    /// Triangles that were drawn for the last picture, shadow included.
    virtual std::size_t triangles() const = 0;
    /// While the hand rests: begins to make stand-ins for what would be too heavy to draw in full when it moves again.
    /// Not part of a picture: those nobody turns need none.
    virtual void prepare_moving(const Scene& scene) = 0;
    /// Waits for stand-ins that are being made for pictures while the hand moves.
    virtual void finish_preparing() = 0;
};

}  // namespace bricol
