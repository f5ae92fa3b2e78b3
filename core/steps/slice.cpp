// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/slice.h"

#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_slice(StepRun& run) {
    Shape shape = run.shape();
    SliceOptions options;
    const std::string& across = run.word("across");
    if (across == "free") {
        options.normal = run.vector("normal");
        options.point = run.vector("point");
        if (glm::length(options.normal) < 1e-9) {
            run.tell(Severity::error, "no-direction", "The plane has no direction: all three numbers are 0.");
            return;
        }
    } else {
        const int axis = across == "x" ? 0 : across == "y" ? 1 : 2;
        options.normal = DVec3(0);
        options.normal[axis] = 1;
        options.point = DVec3(0);
        options.point[axis] = run.number("at");
    }
    const std::string& keep = run.word("keep");
    options.keep = keep == "above"   ? SliceKeep::above
                   : keep == "below" ? SliceKeep::below
                   : keep == "both"  ? SliceKeep::both
                                     : SliceKeep::edges_only;
    options.cap = run.toggle("cap");
    SliceResult result = sliced(shape.mesh, options);
    if (result.missed) run.tell(Severity::note, "missed", "The plane does not meet the shape.");
    if (result.mesh.empty())
        run.tell(Severity::caution, "nothing-left",
                 "Nothing is left on this side of the plane. Keep the other side, or move the plane.");
    if (result.caps.size() == result.mesh.face_count()) run.name_set(result.mesh, Domain::face, "set", result.caps);
    for (const Domain domain : {Domain::vertex, Domain::corner})
        result.mesh.attributes.remove(domain, attribute_name::normal);
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const Registered slice_step(StepInfo{
    .key = "slice",
    .name = "Slice",
    .family = Family::faces,
    .purpose = "Cuts a mesh by a plane and keeps a side, or both.",
    .words = "cut plane section knife trim half bisect",
    .help =
        "Keeps one side, both as pieces, or the whole with a new edge across it. The cut of a closed shape is closed.",
    .glyph = "M3 15 L21 6 M4 4h16v16h-16z",
    .inputs = {{"shape", "Mesh", content_faces, true}},
    .parameters =
        {choice_of("across", "Across", {{"z", "z, level"}, {"x", "x"}, {"y", "y"}, {"free", "a free direction"}},
                   "The plane stands across this axis."),
         when(pulled(offset_of("at", "At", 0, "Where the plane crosses the axis."), HandleKind::along, "across"),
              "across=x|y|z"),
         when(vector_of("normal", "Direction", Quantity::plain, {0, 0, 1}, "Square to the plane."), "across=free"),
         when(pulled(vector_of("point", "Through", Quantity::length, {0, 0, 0}, "A point on the plane."),
                     HandleKind::point),
              "across=free"),
         choice_of("keep", "Keep",
                   {{"above", "the far side"},
                    {"below", "the near side"},
                    {"both", "both, apart"},
                    {"edges_only", "all, with an edge"}},
                   "What stays."),
         toggle_of("cap", "Close the cut", true, "Fills the cut with faces."),
         new_set_of("set", "Cut as set", "", "A name for the new faces.")},
    .telling = "{across} at {at}",
    .make = run_slice});

}  // namespace

}  // namespace bricol
