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

    /// What the pointer works on: the other parts are ghosts while elements are picked, the part itself while the
    /// sticks inside it are drawn.
    struct AtWork {
        bool picking = false, sticks = false;
    };
    /// Puts what was made into the scene; true when that differs from what was in it.
    bool build(Scene& scene, const Camera& camera, const AtWork& work);
    /// Shapes whose curves, points and values are drawn over the picture.
    const std::vector<ShapePtr>& shapes() const { return shapes_; }
    /// Box of what is shown of the chosen part, or of everything but for grounds under the rest.
    std::optional<Box> shown_box(bool everything) const;
    /// Whether half of the parts would be no larger than a fortieth of the picture if all of it were framed.
    bool mostly_specks() const;
    void forget_pictures() { cache_.clear(); }

private:
    std::vector<Box> boxes_of_parts(bool everything) const;
    void add_parts(Scene& scene, const AtWork& work);
    /// What steps at work have so far, seen through over what was made before.
    void add_drafts(Scene& scene);
    void add_pictures(Scene& scene, const Camera& camera);
    const QImage& picture(const QString& file);
    /// The step whose output is shown instead of the part's result.
    const StepOutcome* peeked(const Part& part) const;

    Session& session_;
    std::vector<ShapePtr> shapes_;
    std::map<QString, QImage> cache_;
};

}  // namespace bricol
