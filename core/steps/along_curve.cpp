// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/along_path.h"

#include <glm/gtc/matrix_transform.hpp>

#include "core/kernels/transform.h"
#include "core/steps/path_checks.h"

namespace bricol {

namespace {

/// Which way a copy looks: the directions its own axes go to.
struct Look {
    DVec3 along, right, up;
};

Look look_of(const std::string& way, const DVec3& along, const Station& here) {
    Look look;
    look.along = along;
    if (way == "level") {
        const DVec3 flat(along.x, along.y, 0);
        look.along = glm::length(flat) > 1e-9 ? glm::normalize(flat) : DVec3(1, 0, 0);
        look.up = {0, 0, 1};
    } else {
        look.up = here.up - look.along * glm::dot(here.up, look.along);
        look.up = glm::length(look.up) > 1e-9 ? glm::normalize(look.up) : here.up;
    }
    look.right = glm::cross(look.along, look.up);
    return look;
}

/// Matrix that takes the copy's own axis to `along`, keeping it right-handed: x ahead, y left and z up, or turned on
/// from there.
glm::dmat3 turned_to(const Look& look, int axis) {
    glm::dmat3 m;
    m[axis] = look.along;
    m[(axis + 1) % 3] = axis == 2 ? look.up : axis == 1 ? look.up : -look.right;
    m[(axis + 2) % 3] = glm::cross(m[axis], m[(axis + 1) % 3]);
    return m;
}

/// What neighbouring copies leave between them, or how far they sink into one another (metres).
void report_gaps(StepRun& run, const Path& path, const std::vector<AlongPlace>& places, double own) {
    if (places.size() < 2 || own <= 0) return;
    double least = 1e300, most = -1e300;
    Vec3 where(0);
    const std::size_t pairs = path.closed ? places.size() : places.size() - 1;
    for (std::size_t i = 0; i < pairs; ++i) {
        const AlongPlace &a = places[i], &b = places[(i + 1) % places.size()];
        const double gap = glm::distance((a.a + a.b) * 0.5, (b.a + b.b) * 0.5) - own;
        if (gap < least) least = gap, where = Vec3((a.b + b.a) * 0.5);
        if (i + 1 < places.size()) most = std::max(most, gap);
    }
    const double small = 0.002 * own;
    if (least < -small)
        run.tell(Severity::note, "copies-overlap",
                 fmt::format("Neighbouring copies overlap by up to {}, measured along the path. Space them by {} for "
                             "copies that just touch.",
                             format_value(-least, Quantity::length, "m"), format_value(own, Quantity::length, "m")))
            .places = {where};
    else if (most > small && run.word("by") != "count" && run.word("by") != "spacing" && run.number("gap") == 0)
        run.tell(Severity::note, "copies-apart",
                 fmt::format("Neighbouring copies stand up to {} apart.", format_value(most, Quantity::length, "m")))
            .places = {where};
}

void run_along_curve(StepRun& run) {
    const ShapePtr copy = run.input_pointer("copy");
    const auto box = copy ? box_of(*copy) : std::nullopt;
    if (!box) {
        run.tell(Severity::error, "nothing-to-place",
                 "There is nothing to place: the shape at “copy” is empty. Link one that has geometry.");
        return;
    }
    const std::vector<Path> paths = paths_of(run, run.shape(), path_options(run));
    if (paths.empty()) return;
    const int axis = run.axis("axis");
    const std::string &by = run.word("by"), &look = run.word("look");
    AlongOptions options;
    using By = AlongOptions::By;
    options.by = by == "count" ? By::count : by == "spacing" ? By::spacing : by == "touching" ? By::touching : By::fit;
    options.count = run.integer("count");
    options.spacing = run.number("spacing");
    options.own = box->size()[axis] * run.number("scale");
    options.gap = by == "touching" || by == "fit" ? run.number("gap") : 0;
    options.start = run.number("start");
    options.end = run.number("end");
    options.stiff = run.toggle("stiff");
    if ((by == "touching" || by == "fit") && options.own + options.gap <= 1e-9) {
        run.tell(Severity::error, "no-length",
                 "The copy has no length along its own axis, so none can follow another. Choose another axis, or give "
                 "a count or a spacing.");
        return;
    }
    double copies = 0;
    for (const Path& path : paths) copies += copies_along(path, options);
    if (run.too_many(copies, run.number("most"), "copies", "Use a larger spacing, or raise the bound.")) return;

    Instances group;
    group.shape = copy;
    double left_over = 0;
    std::vector<float> shares;
    for (const Path& path : paths) {
        if (options.start + options.end > path.whole) {
            run.tell(Severity::caution, "no-room",
                     fmt::format("The gaps at start and end leave nothing of a path of {}.",
                                 format_value(path.whole, Quantity::length, "m")));
            continue;
        }
        const AlongPlaces result = places_along(path, options);
        report_gaps(run, path, result.places, options.own);
        left_over = std::max(left_over, result.left_over);
        for (std::size_t i = 0; i < result.places.size(); ++i) {
            const AlongPlace& place = result.places[i];
            const Station here = path.at((place.from + place.to) / 2);
            const DVec3 chord = place.b - place.a;
            const Look way =
                look_of(look, options.stiff && glm::length(chord) > 1e-12 ? glm::normalize(chord) : here.along, here);
            const glm::dmat3 turn = look == "same" ? glm::dmat3(1) : turned_to(way, axis);
            const double roll =
                glm::radians(run.number("roll") + run.number("roll_each") * static_cast<double>(i)) + here.roll;
            DVec3 own_axis(0);
            own_axis[axis] = 1;
            DVec3 size(run.number("scale") * (run.toggle("by_radius") ? here.radius : 1));
            if (options.stiff && run.toggle("stretch") && box->size()[axis] > 1e-12)
                size[axis] = glm::length(chord) / box->size()[axis];
            // Stiff and fitted copies sit by their box, whatever their origin; others by their origin.
            DVec3 pivot(0);
            if (options.stiff || by == "touching" || by == "fit") pivot[axis] = box->centre()[axis];
            glm::dmat4 m = glm::translate(glm::dmat4(1), (place.a + place.b) * 0.5);
            m = m * glm::dmat4(turn) * glm::rotate(glm::dmat4(1), roll, own_axis) * glm::scale(glm::dmat4(1), size) *
                glm::translate(glm::dmat4(1), -pivot);
            group.places.push_back(glm::mat4(m));
            shares.push_back(static_cast<float>((place.from + place.to) / 2 / path.whole));
        }
    }
    if (group.places.empty())
        run.tell(Severity::caution, "no-room", "No copy fits on the path. Make it longer, or the copies shorter.");
    if (left_over > 0 && left_over > 0.01 * options.own && (by == "spacing" || by == "touching"))
        run.tell(Severity::note, "left-over",
                 fmt::format("{} of the path behind the last copy stay free.",
                             format_value(left_over, Quantity::length, "m")))
            .remedy = Remedy{"Spread them over the path", {{"", "by", "fit"}}, {}};
    Shape out;
    if (run.toggle("keep_path")) out = run.shape();
    Array<std::int32_t> id(group.places.size());
    for (std::size_t i = 0; i < id.size(); ++i) id[i] = static_cast<std::int32_t>(i);
    group.attributes.set(Domain::instance, attribute_name::id, std::move(id));
    group.attributes.set(Domain::instance, "along", Array<float>(shares.begin(), shares.end()));
    if (!group.places.empty()) out.instances.push_back(std::move(group));
    run.give(std::move(out));
}

const Registered along_curve_step(StepInfo{
    .key = "along_curve",
    .name = "Along curve",
    .family = Family::copies,
    .purpose = "Copies of a shape along a path.",
    .words = "array path chain beads fence follow repeat spline duplicate",
    .help = "By a count, a spacing, one touching the next, or as many as fit. Copies look along the path, may roll "
            "from one to the next (chain links: 90°), and stiff ones span straight from end to end so that they touch "
            "in bends as well.",
    .glyph = "M3 18 C8 4 15 22 21 6 M4 13h4v4h-4z M10 10h4v4h-4z M16 9h4v4h-4z",
    .gives = content_instances,
    .inputs = {{"shape", "Path", content_curves | content_edges, true}, {"copy", "Copy", content_any, true}},
    .parameters =
        {choice_of("by", "By", {{"count", "count"}, {"spacing", "spacing"}, {"touching", "touching"}, {"fit", "fit"}},
                   "What decides where copies stand."),
         when(count_of("count", "Copies", 12, 1, 1000000, 64, "From the start to the end of each path."), "by=count"),
         when(length_of("spacing", "Spacing", 0.2, 1e-6, 2, "From one copy to the next."), "by=spacing"),
         when(offset_of("gap", "Gap", 0, "Left between one copy and the next; negative sinks them into one another."),
              "by=touching|fit"),
         toggle_of("stiff", "Stiff", false, "Both ends of a copy lie on the path: links and planks that do not bend."),
         when(toggle_of("stretch", "Stretch to its place", false,
                        "Sizes each copy along the path to span its place exactly."),
              "stiff"),
         axis_of("axis", "Own axis", "x", "The axis of the copy that lies along the path."),
         choice_of("look", "Look",
                   {{"along", "along the path"}, {"level", "along it, level"}, {"same", "all the same way"}},
                   "Which way copies are turned."),
         frames_of(), up_of(), angle_of("roll", "Roll", 0, -360, 360, "Of the first copy about the path."),
         angle_of("roll_each", "Roll per copy", 0, -360, 360, "Added from one copy to the next."),
         number_of("scale", "Scale", 1, 1e-6, 1000, "A factor on every copy."),
         toggle_of("by_radius", "Size by knots", false, "Copies take on the radius of the path's knots as a factor."),
         length_of("start", "Start gap", 0, 0, 1, "Left free at the start."),
         length_of("end", "End gap", 0, 0, 1, "Left free at the end."),
         toggle_of("keep_path", "Keep the path", false, "Passes the path along with the copies."),
         number_of("most", "Bound", 10000, 1, 1000000,
                   "More copies than this are refused; raise it when you mean it.")},
    .telling = "by {by}",
    .make = run_along_curve});

}  // namespace

}  // namespace bricol
