// SPDX-License-Identifier: GPL-3.0-or-later
// What of a recipe is shown, and how: shapes, ghosts, reference pictures.
#pragma once

#include <QImage>
#include <map>

#include "app/document/session.h"
#include "app/viewport/renderer.h"

namespace bricol {

class SceneBuilder {
public:
    explicit SceneBuilder(Session& session) : session_(session) {}

    /// Puts what was made into the scene; true when that differs from what was in it. With `picking` the other parts
    /// are ghosts, so that nothing stands before what is picked on.
    bool build(Scene& scene, const Camera& camera, bool picking);
    /// Shapes whose curves, points and values are drawn over the picture.
    const std::vector<ShapePtr>& shapes() const { return shapes_; }
    /// Box of what is shown of the chosen part, or of everything.
    std::optional<Box> shown_box(bool everything) const;
    void forget_pictures() { cache_.clear(); }

private:
    void add_parts(Scene& scene, bool picking);
    void add_pictures(Scene& scene, const Camera& camera);
    const QImage& picture(const QString& file);
    /// The step whose output is shown instead of the part's result.
    const StepOutcome* peeked(const Part& part) const;

    Session& session_;
    std::vector<ShapePtr> shapes_;
    std::map<QString, QImage> cache_;
};

}  // namespace bricol
