// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/drape.h"

#include <fmt/format.h>

#include "core/kernels/remove_elements.h"
#include "core/kernels/flatten.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/slice.h"
#include "core/kernels/transform.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Drape {
    enum class Fit { fill, size };
    enum class Base { low, middle, zero };
    enum class Trim { cut, drop, keep };
    double amount = 1;
    Fit fit = Fit::fill;
    DVec3 origin{0, 0, 0};
    DVec3 size{1, 1, 0};
    Base base = Base::low;
    double lift = 0;
    Trim trim = Trim::cut;
    double stretch = 2;
};

/// What lies beyond the surface's rectangle of UVs is cut off.
Mesh trimmed(const Mesh& mesh, const DVec3& low, const DVec3& high) {
    Mesh out = mesh;
    for (int axis = 0; axis < 2; ++axis)
        for (const bool lower : {true, false}) {
            SliceOptions cut;
            cut.normal = DVec3(0);
            cut.normal[axis] = 1;
            cut.point = lower ? low : high;
            cut.keep = lower ? SliceKeep::above : SliceKeep::below;
            cut.cap = true;
            const Box box = *box_of([&] {
                Shape shape;
                shape.mesh = out;
                return shape;
            }());
            if (lower ? box.low[axis] >= low[axis] - 1e-9 : box.high[axis] <= high[axis] + 1e-9) continue;
            out = sliced(out, cut).mesh;
            if (out.empty()) return out;
        }
    return out;
}

/// Curves go along by their knots and handles; spans that leave the surface's UVs end there.
void lay_curves(const Drape& s, StepRun& run, Shape& shape, const DrapeSurface& surface,
                const DrapeSurface::Options& options) {
    std::vector<Curve> laid;
    std::size_t missed = 0;
    for (Curve curve : shape.curves) {
        curve.knots = with_handles(curve);
        std::vector<Vec3> points;
        for (const Knot& knot : curve.knots)
            for (const Vec3& p : {knot.at, knot.at + knot.in, knot.at + knot.out}) points.push_back(p);
        const DrapeSurface::Draped result = surface.draped(points, options);
        // Handles may reach over the border; a knot may not.
        std::vector<Curve> stretches(1, curve);
        stretches.back().knots.clear();
        for (std::size_t k = 0; k < curve.knots.size(); ++k) {
            if (result.missed[3 * k]) {
                ++missed;
                if (s.trim == Drape::Trim::keep)
                    stretches.back().knots.push_back(curve.knots[k]);
                else if (!stretches.back().knots.empty())
                    stretches.push_back(stretches.back()), stretches.back().knots.clear();
                continue;
            }
            Knot knot = curve.knots[k];
            const DVec3 at = result.points[3 * k];
            if (knot.kind == KnotKind::smooth) knot.kind = KnotKind::free;
            if (knot.in != Vec3(0)) knot.in = result.missed[3 * k + 1] ? knot.in : Vec3(result.points[3 * k + 1] - at);
            if (knot.out != Vec3(0))
                knot.out = result.missed[3 * k + 2] ? knot.out : Vec3(result.points[3 * k + 2] - at);
            knot.at = Vec3(at);
            stretches.back().knots.push_back(knot);
        }
        for (Curve& stretch : stretches) {
            stretch.closed = curve.closed && stretch.knots.size() == curve.knots.size();
            stretch.source_step.clear();
            if (stretch.knots.size() > 1) laid.push_back(std::move(stretch));
        }
    }
    if (missed > 0)
        run.tell(Severity::note, "curves-missed",
                 fmt::format("{} knot{} of curves beside the surface's UVs and {}.", missed,
                             missed == 1 ? " lies" : "s lie", s.trim == Drape::Trim::keep ? "stay flat" : "went"));
    shape.curves = std::move(laid);
}

/// How the pattern's size and place relate to the UV square.
DrapeSurface::Options options_of(const Drape& s, const DrapeSurface& surface, const Box& box) {
    DrapeSurface::Options options;
    options.amount = s.amount;
    options.lift = s.lift;
    if (s.fit == Drape::Fit::fill) {
        options.size = DVec2(box.size()) / (surface.high() - surface.low());
        options.origin = DVec3(DVec2(box.low) - surface.low() * options.size, 0);
    } else {
        options.size = DVec2(s.size);
        options.origin = s.origin;
    }
    options.origin.z = s.base == Drape::Base::zero ? 0 : s.base == Drape::Base::low ? box.low.z : box.centre().z;
    return options;
}

/// What lies beside the surface's UVs is cut away. False, and told, when nothing is left.
bool cut_to_surface(StepRun& run, Shape& shape, const DrapeSurface& surface, const DrapeSurface::Options& options) {
    const DVec3 low = options.origin + DVec3(surface.low() * options.size, 0),
                high = options.origin + DVec3(surface.high() * options.size, 0);
    if (surface.rectangular()) {
        shape.mesh = trimmed(shape.mesh, low, high);
    } else {
        DrapeSurface::Trimmed cut = surface.trimmed(shape.mesh, options);
        shape.mesh = std::move(cut.mesh);
        if (cut.refused)
            run.tell(
                Severity::caution, "overlapping-uvs",
                "The surface's UVs lie over one another, so the pattern was not cut along their border. Unwrap the "
                "surface without overlaps.");
    }
    if (!shape.mesh.empty() || !shape.curves.empty()) return true;
    run.tell(Severity::error, "nothing-left",
             "The pattern lies wholly beside the surface's UVs. Move it, or set the place of the UV square.");
    return false;
}

/// The pattern's mesh laid on the surface.
void lay_mesh(const Drape& s, StepRun& run, Shape& shape, const DrapeSurface& surface,
              const DrapeSurface::Options& options) {
    const DrapeSurface::Draped result = surface.draped(*shape.mesh.positions, options);
    std::size_t missed = 0;
    std::vector<Vec3> lost;
    for (std::size_t i = 0; i < result.missed.size(); ++i)
        if (result.missed[i]) {
            ++missed;
            if (lost.size() < 32) lost.push_back((*shape.mesh.positions)[i]);
        }
    Array<Vec3> points(result.points.size());
    for (std::size_t i = 0; i < points.size(); ++i) points[i] = Vec3(result.points[i]);
    const Mask gone(result.missed.begin(), result.missed.end());
    shape.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        shape.mesh.attributes.remove(domain, attribute_name::normal);
    if (missed == 0) return;
    if (s.trim != Drape::Trim::keep) shape.mesh = without_vertices(shape.mesh, gone);
    run.tell(Severity::caution, "missed",
             fmt::format("{} of {} points lie beside the surface's UVs and {}.", missed, result.missed.size(),
                         s.trim == Drape::Trim::keep ? "stay flat" : "went, with the faces on them"))
        .places = std::move(lost);
}

void tell_of_surface(const Drape& s, StepRun& run, const DrapeSurface& surface, const DrapeSurface::Options& options,
                     const Box& box) {
    if (surface.outside() > 0)
        run.tell(Severity::note, "uvs-outside",
                 fmt::format("{} triangles of the surface have UVs outside 0 to 1.", surface.outside()));
    if (surface.folded() > 0)
        run.tell(Severity::note, "uvs-folded",
                 fmt::format("{} triangles of the surface have no area in UV and take no pattern.", surface.folded()));
    if (options.amount <= 0) return;
    const auto [least, most] = surface.stretch(options.size);
    if (s.stretch > 1 && (most > s.stretch || least < 1 / s.stretch))
        run.tell(Severity::note, "stretched",
                 fmt::format("On the surface the pattern is between {:.3g} and {:.3g} times as long as flat. Size the "
                             "UV square to the surface, or unwrap it more evenly.",
                             least, most));
    std::vector<Vec3> crossing = surface.crossings(options, box.low.z - options.origin.z + options.lift,
                                                   box.high.z - options.origin.z + options.lift);
    if (crossing.empty()) return;
    const std::size_t count = crossing.size();
    if (crossing.size() > 64) crossing.resize(64);
    run.tell(Severity::caution, "pattern-crosses",
             fmt::format("The surface bends more tightly than the pattern is thick at {} place{}: the pattern "
                         "goes through itself there. Make it thinner, or bend less.",
                         count, count == 1 ? "" : "s"))
        .places = std::move(crossing);
}

void run_drape(const Drape& s, StepRun& run) {
    const ShapePtr pattern = real_geometry(run.input_pointer("shape")),
                   onto = run.input_pointer("onto") ? real_geometry(run.input_pointer("onto")) : nullptr;
    if (!onto || onto->mesh.face_count() == 0) {
        run.tell(Severity::error, "nothing-to-drape-on", "The shape at “onto” has no faces. Link a surface with UVs.");
        return;
    }
    const DrapeSurface surface(onto->mesh);
    if (surface.empty()) {
        run.tell(Severity::error, "no-uvs",
                 "The surface has no UVs to lay the pattern by. Put UV or Unwrap behind it.");
        return;
    }
    const auto box = box_of(*pattern);
    if (!box) return;
    const DrapeSurface::Options options = options_of(s, surface, *box);
    if (options.size.x <= 0 || options.size.y <= 0) {
        run.tell(Severity::error, "no-size",
                 "The pattern has no length along x or y to lay on the surface. Give it one, or set the size of the UV "
                 "square.");
        return;
    }
    Shape shape = *pattern;
    if (s.trim == Drape::Trim::cut && s.fit != Drape::Fit::fill && !shape.mesh.empty() &&
        !cut_to_surface(run, shape, surface, options))
        return;
    lay_mesh(s, run, shape, surface, options);
    lay_curves(s, run, shape, surface, options);
    tell_of_surface(s, run, surface, options, *box);
    run.give(std::move(shape));
}

const StepOf<Drape> drape_step(
    StepInfo{
        .key = "drape",
        .name = "Drape",
        .family = Family::bend,
        .purpose = "Lays a flat pattern on a surface by its UVs, thickness along the normals.",
        .words = "wrap pattern mesh surface uv flow weave net map tile",
        .help =
            "The pattern lies flat, seen from above: x and y become u and v, z stands off the surface. From flat (0) "
            "to on (1) the surface itself goes the way, so the pattern keeps its thickness. Curves go along by their "
            "knots: resample them first to follow the surface closely. What hangs over the UVs' border is cut off.",
        .glyph = "M3 7 C8 4 16 4 21 7 V13 C16 10 8 10 3 13z M3 20 C8 14 16 14 21 20 M9 5v6 M15 5v6",
        .gives = 0,
        .inputs = {{"shape", "Pattern", content_faces | content_curves | content_instances, true},
                   {"onto", "Onto", content_faces | content_instances, true}},
        .telling = "{amount}"},
    {number_of(&Drape::amount, "amount", "From flat to on", 0, 1, "0 leaves it flat, 1 lays it on."),
     choice_of(&Drape::fit, "fit", "Pattern",
               {{Drape::Fit::fill, "fill", "fills the surface"}, {Drape::Fit::size, "size", "has its own size"}},
               "Whether the pattern's box is the surface's whole rectangle of UVs."),
     when(pulled(vector_of(&Drape::origin, "origin", "UV origin", Quantity::length,
                           "Where u and v are 0 on the flat pattern."),
                 HandleKind::point),
          "fit=size"),
     when(vector_of(&Drape::size, "size", "UV square", Quantity::length, "Length of u and of v on the flat pattern."),
          "fit=size"),
     choice_of(&Drape::base, "base", "On the surface",
               {{Drape::Base::low, "low", "its underside"},
                {Drape::Base::middle, "middle", "its middle"},
                {Drape::Base::zero, "zero", "height 0"}},
               "Which height of the pattern lies on the surface."),
     offset_of(&Drape::lift, "lift", "Lift", "Off the surface."),
     choice_of(&Drape::trim, "trim", "At the border",
               {{Drape::Trim::cut, "cut", "cut"},
                {Drape::Trim::drop, "drop", "drop faces that hang over"},
                {Drape::Trim::keep, "keep", "keep"}},
               "What happens to what lies beside the surface's UVs; what was closed is closed again."),
     number_of(&Drape::stretch, "stretch", "Stretch over", 0, 100,
               "Factor by which the pattern may be longer or shorter than flat; 0 for any.")},
    run_drape);

}  // namespace

}  // namespace bricol
