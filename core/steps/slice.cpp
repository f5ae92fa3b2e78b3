// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/slice.h"

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct SliceSettings {
    enum class Across { z, x, y, free };
    enum class Keep { above, below, both, edges_only };
    Across across = Across::z;
    double at = 0;
    DVec3 normal{0, 0, 1};
    DVec3 point{0, 0, 0};
    Keep keep = Keep::above;
    bool cap = true;
    std::string set;
};

void run_slice(const SliceSettings& s, StepRun& run) {
    Shape shape = run.shape();
    SliceOptions options;
    const SliceSettings::Across across = s.across;
    if (across == SliceSettings::Across::free) {
        options.normal = s.normal;
        options.point = s.point;
        if (glm::length(options.normal) < 1e-9) {
            run.tell(Severity::error, "no-direction", "The plane has no direction: all three numbers are 0.");
            return;
        }
    } else {
        const int axis = across == SliceSettings::Across::x ? 0 : across == SliceSettings::Across::y ? 1 : 2;
        options.normal = DVec3(0);
        options.normal[axis] = 1;
        options.point = DVec3(0);
        options.point[axis] = s.at;
    }
    const SliceSettings::Keep keep = s.keep;
    options.keep = keep == SliceSettings::Keep::above   ? SliceKeep::above
                   : keep == SliceSettings::Keep::below ? SliceKeep::below
                   : keep == SliceSettings::Keep::both  ? SliceKeep::both
                                                        : SliceKeep::edges_only;
    options.cap = s.cap;
    SliceResult result = sliced(shape.mesh, options);
    if (result.missed) run.tell(Severity::note, "missed", "The plane does not meet the shape.");
    if (result.mesh.empty())
        run.tell(Severity::caution, "nothing-left",
                 "Nothing is left on this side of the plane. Keep the other side, or move the plane.");
    if (result.caps.size() == result.mesh.face_count()) run.name_set(result.mesh, Domain::face, s.set, result.caps);
    for (const Domain domain : {Domain::vertex, Domain::corner})
        result.mesh.attributes.remove(domain, attribute_name::normal);
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const StepOf<SliceSettings> slice_step(
    StepInfo{
        .key = "slice",
        .name = "Slice",
        .family = Family::faces,
        .purpose = "Cuts a mesh by a plane and keeps a side, or both.",
        .words = "cut plane section knife trim half bisect",
        .help =
            "Keeps one side, both as pieces, or the whole with a new edge across it. The cut of a closed "
            "shape is closed. A floor that is to stay inside a leaning wall is made thick first and then shared with "
            "the solid inside of the wall (Boolean, intersection): pulled straight up or down from a cut, its "
            "edge stands out of the wall on one side.",
        .glyph = "M3 15 L21 6 M4 4h16v16h-16z",
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{across} at {at}"},
    {choice_of(&SliceSettings::across, "across", "Across",
               {{SliceSettings::Across::z, "z", "z, level"},
                {SliceSettings::Across::x, "x", "x"},
                {SliceSettings::Across::y, "y", "y"},
                {SliceSettings::Across::free, "free", "a free direction"}},
               "The plane stands across this axis."),
     when(pulled(offset_of(&SliceSettings::at, "at", "At", "Where the plane crosses the axis."), HandleKind::along,
                 "across"),
          "across=x|y|z"),
     when(vector_of(&SliceSettings::normal, "normal", "Direction", Quantity::plain, "Square to the plane."),
          "across=free"),
     when(pulled(vector_of(&SliceSettings::point, "point", "Through", Quantity::length, "A point on the plane."),
                 HandleKind::point),
          "across=free"),
     choice_of(&SliceSettings::keep, "keep", "Keep",
               {{SliceSettings::Keep::above, "above", "the far side"},
                {SliceSettings::Keep::below, "below", "the near side"},
                {SliceSettings::Keep::both, "both", "both, apart"},
                {SliceSettings::Keep::edges_only, "edges_only", "all, with an edge"}},
               "What stays."),
     toggle_of(&SliceSettings::cap, "cap", "Close the cut", "Fills the cut with faces."),
     new_set_of(&SliceSettings::set, "set", "Cut as set", "A name for the new faces.")},
    run_slice);

}  // namespace

}  // namespace bricol
