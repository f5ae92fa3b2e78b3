// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/svg_outline.h"

#include <fmt/format.h>

#include "core/kernels/transform.h"
#include "core/catalogue/draw_plane.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct SvgOutline {
    enum class Size { own, height };
    enum class Origin { base, middle, page };
    std::string file;
    Size size = Size::own;
    double height = 0.2;
    double scale = 1;
    Origin origin = Origin::base;
    FlatView plane = FlatView::front;
    int pieces = 8;
};

void run_svg_outline(const SvgOutline& s, StepRun& run) {
    if (s.file.empty()) {
        run.tell(Severity::error, "no-file", "No drawing has been chosen. Choose an SVG file.");
        return;
    }
    if (!run.read) {
        run.tell(Severity::error, "no-file", "Files cannot be read here.");
        return;
    }
    const auto text = run.read(s.file);
    if (!text) {
        run.tell(Severity::error, "no-file", text.problem().text());
        return;
    }
    auto outline = read_svg_outline(**text, static_cast<std::size_t>(200000 * run.raise_bounds));
    if (!outline) {
        run.tell(Severity::error, "bad-drawing", outline.problem().text());
        return;
    }
    Shape shape;
    shape.curves = std::move(outline->curves);
    for (const std::string& note : outline->notes) run.tell(Severity::note, "left-out", note);
    const auto box = box_of(shape);
    if (!box) {
        run.tell(Severity::caution, "empty-drawing", "There is no outline in the drawing.");
        run.give(std::move(shape));
        return;
    }
    double scale = s.scale;
    if (s.size == SvgOutline::Size::height) {
        if (box->size().z <= 0) {
            run.tell(Severity::error, "no-height", "The drawing has no height to fit. Use its own size.");
            return;
        }
        scale = s.height / box->size().z;
    }
    const SvgOutline::Origin origin = s.origin;
    const DVec3 pivot = origin == SvgOutline::Origin::page     ? DVec3(0)
                        : origin == SvgOutline::Origin::middle ? box->centre()
                                                               : DVec3(box->centre().x, 0, box->low.z);
    const FlatView plane = s.plane;
    for (Curve& curve : shape.curves) {
        curve.sampling.per_span = s.pieces;
        for (Knot& knot : curve.knots) {
            const auto placed = [&](const DVec3& v) {
                return Vec3(plane == FlatView::front  ? DVec3(v.x, 0, v.z)
                            : plane == FlatView::side ? DVec3(0, v.x, v.z)
                                                      : DVec3(v.x, v.z, 0));
            };
            knot.at = placed((DVec3(knot.at) - pivot) * scale);
            knot.in = placed(DVec3(knot.in) * scale);
            knot.out = placed(DVec3(knot.out) * scale);
        }
        curve.plane = flat_plane(plane);
    }
    run.give(std::move(shape));
}

const StepOf<SvgOutline> svg_outline_step(
    StepInfo{
        .key = "svg_outline",
        .name = "Outline from SVG",
        .family = Family::curves,
        .purpose = "Curves from a vector drawing, in its real size.",
        .words = "import drawing logo vector path file",
        .help =
            "Paths and basic shapes with their groups and transforms. Millimetres, centimetres, inches, points and "
            "pixels (96 to an inch) are kept; holes are curves inside others, as Fill and Sweep take them. The file "
            "stands beside the recipe and is read again when it changes.",
        .glyph = "M5 3h10l4 4v14H5z M8 16 C8 10 16 18 16 11 M7 15h2v2H7z M15 10h2v2h-2z",
        .gives = content_curves,
        .inputs = {},
        .telling = "{file}"},
    {file_of(&SvgOutline::file, "file", "File", "Drawings (*.svg)", "An SVG file beside this recipe."),
     choice_of(&SvgOutline::size, "size", "Size",
               {{SvgOutline::Size::own, "own", "its own"}, {SvgOutline::Size::height, "height", "to a height"}},
               "Real lengths of the drawing, or fitted."),
     when(length_of(&SvgOutline::height, "height", "Height", 1e-6, 2, "Of all outlines together."), "size=height"),
     when(number_of(&SvgOutline::scale, "scale", "Scale", 1e-6, 1e6, "A factor on the drawing's own size."),
          "size=own"),
     choice_of(&SvgOutline::origin, "origin", "Origin",
               {{SvgOutline::Origin::base, "base", "middle of its base"},
                {SvgOutline::Origin::middle, "middle", "its middle"},
                {SvgOutline::Origin::page, "page", "the page's corner"}},
               "What lies at the origin."),
     choice_of(&SvgOutline::plane, "plane", "Plane",
               {{FlatView::front, "front", "front"}, {FlatView::side, "side", "side"}, {FlatView::top, "top", "top"}},
               "The flat view it stands in."),
     sampling_of(&SvgOutline::pieces, "pieces")},
    run_svg_outline);

}  // namespace

}  // namespace bricol
