// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/along_path.h"

#include "core/kernels/transform.h"
#include "core/steps/shared/path_checks.h"
#include "core/catalogue/settings.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

struct AlongCurve {
    enum class SpacedBy { count, spacing, touching, fit };
    SpacedBy by = SpacedBy::count;
    int count = 12;
    bool touch = false;
    double spacing = 0.2;
    double gap = 0;
    bool stiff = false;
    bool stretch = false;
    Axis axis = Axis::x;
    AlongStance::Look look = AlongStance::Look::along;
    Frames frames = Frames::least;
    DVec3 up{0, 0, 1};
    double roll = 0;
    double roll_each = 0;
    double scale = 1;
    bool by_radius = false;
    double start = 0;
    double end = 0;
    bool keep_path = false;
    double most = 10000;
};

/// Whether copies follow one another by their own length.
bool by_length(const AlongCurve& s) {
    return s.by == AlongCurve::SpacedBy::touching || s.by == AlongCurve::SpacedBy::fit;
}

/// Whether so many copies are sized to follow one another over the whole path.
bool touches(const AlongCurve& s) { return s.by == AlongCurve::SpacedBy::count && s.touch; }

/// What neighbouring copies leave between them (metres).
void report_gaps(const AlongCurve& s, StepRun& run, const std::vector<AlongPlace>& places, double own) {
    if (places.size() < 2 || own <= 0) return;
    double most = -1e300;
    Vec3 where(0);
    for (std::size_t i = 0; i + 1 < places.size(); ++i) {
        const AlongPlace &a = places[i], &b = places[i + 1];
        const double gap = glm::distance((a.a + a.b) * 0.5, (b.a + b.b) * 0.5) - own;
        if (gap > most) most = gap, where = Vec3((a.b + b.a) * 0.5);
    }
    const double small = 0.002 * own;
    if (most > small && s.by != AlongCurve::SpacedBy::count && s.by != AlongCurve::SpacedBy::spacing && s.gap == 0)
        run.tell(Severity::note, "copies-apart",
                 fmt::format("Neighbouring copies stand up to {} apart.", format_value(most, Quantity::length, "m")))
            .places = {where};
}

AlongOptions options_of(const AlongCurve& s, const Box& box) {
    using By = AlongOptions::By;
    AlongOptions options;
    options.by = s.by == AlongCurve::SpacedBy::count      ? By::count
                 : s.by == AlongCurve::SpacedBy::spacing  ? By::spacing
                 : s.by == AlongCurve::SpacedBy::touching ? By::touching
                                                          : By::fit;
    options.count = s.count;
    options.spacing = s.spacing;
    options.own = box.size()[index_of(s.axis)] * s.scale;
    options.gap = by_length(s) ? s.gap : 0;
    options.start = s.start;
    options.end = s.end;
    options.stiff = s.stiff;
    return options;
}

/// The matrix of the copy with that number along its path.
glm::mat4 copy_place(const AlongCurve& s, const Box& box, const AlongPlace& place, const Station& here,
                     std::size_t number, double fitted) {
    AlongStance stance;
    stance.look = s.look;
    stance.axis = index_of(s.axis);
    stance.roll = glm::radians(s.roll + s.roll_each * static_cast<double>(number));
    stance.size = DVec3(s.scale * fitted * (s.by_radius ? here.radius : 1));
    if (s.stiff && s.stretch && box.size()[stance.axis] > 1e-12)
        stance.size[stance.axis] = glm::length(place.b - place.a) / box.size()[stance.axis];
    // Stiff and fitted copies sit by their box, whatever their origin; others by their origin.
    if (s.stiff || by_length(s) || touches(s)) stance.pivot[stance.axis] = box.centre()[stance.axis];
    return copy_on(place, here, s.stiff, stance);
}

void run_along_curve(const AlongCurve& s, StepRun& run) {
    const ShapePtr copy = run.input_pointer("copy");
    const auto box = copy ? box_of(*copy) : std::nullopt;
    if (!box) {
        run.tell(Severity::error, "nothing-to-place",
                 "There is nothing to place: the shape at “copy” is empty. Link one that has geometry.");
        return;
    }
    const std::vector<Path> paths = paths_of(run, run.shape(), path_options(s.frames, s.up));
    if (paths.empty()) return;
    const AlongOptions options = options_of(s, *box);
    if ((by_length(s) || touches(s)) && options.own + options.gap <= 1e-9) {
        run.tell(Severity::error, "no-length",
                 "The copy has no length along its own axis, so none can follow another. Choose another axis, or give "
                 "a count or a spacing.");
        return;
    }
    double copies = 0;
    for (const Path& path : paths) copies += copies_along(path, options);
    if (run.too_many(copies, s.most, "copies", "Use a larger spacing, or raise the bound.")) return;

    Instances group;
    group.shape = copy;
    double left_over = 0;
    std::vector<float> shares;
    std::vector<KnotValues> values;
    for (const Path& path : paths) {
        if (options.start + options.end > path.whole) {
            run.tell(Severity::caution, "no-room",
                     fmt::format("The gaps at start and end leave nothing of a path of {}.",
                                 format_value(path.whole, Quantity::length, "m")));
            continue;
        }
        AlongOptions here = options;
        double fitted = 1;
        if (touches(s)) {  // so many, each as long as its share of the path
            here.by = AlongOptions::By::touching;
            const double own = std::max(0.0, path.whole - options.start - options.end) / s.count;
            fitted = options.own > 0 ? own / options.own : 1;
            here.own = own * (1 - 1e-9);
        }
        const AlongPlaces result = places_along(path, here);
        if (touches(s) && result.places.size() != static_cast<std::size_t>(s.count))
            run.tell(Severity::note, "fewer-copies",
                     fmt::format("{} of {} copies fit: straight ones take a shorter way than the path round bends.",
                                 result.places.size(), s.count));
        report_gaps(s, run, result.places, options.own);
        left_over = std::max(left_over, result.left_over);
        for (std::size_t i = 0; i < result.places.size(); ++i) {
            const AlongPlace& place = result.places[i];
            const double middle = (place.from + place.to) / 2;
            group.places.push_back(copy_place(s, *box, place, path.at(middle), i, fitted));
            shares.push_back(static_cast<float>(middle / path.whole));
            values.push_back(path.values_at(middle));
        }
    }
    if (group.places.empty())
        run.tell(Severity::caution, "no-room", "No copy fits on the path. Make it longer, or the copies shorter.");
    if (left_over > 0 && left_over > 0.01 * options.own &&
        (s.by == AlongCurve::SpacedBy::spacing || s.by == AlongCurve::SpacedBy::touching))
        run.tell(Severity::note, "left-over",
                 fmt::format("{} of the path behind the last copy stay free.",
                             format_value(left_over, Quantity::length, "m")))
            .remedy = Remedy{"Spread them over the path", {{"", run.key_of(s.by), "fit"}}, {}};
    Shape out;
    if (s.keep_path) out = run.shape();
    group.attributes = columns_of(values, Domain::instance);
    Array<std::int32_t> id(group.places.size());
    for (std::size_t i = 0; i < id.size(); ++i) id[i] = static_cast<std::int32_t>(i);
    group.attributes.set(Domain::instance, attribute_name::id, std::move(id));
    group.attributes.set(Domain::instance, "along", Array<float>(shares.begin(), shares.end()));
    if (!group.places.empty()) out.instances.push_back(std::move(group));
    run.give(std::move(out));
}

const StepOf<AlongCurve> along_curve_step(
    StepInfo{
        .key = "along_curve",
        .name = "Along curve",
        .family = Family::copies,
        .purpose = "Copies of a shape along a path.",
        .words = "array path chain beads fence follow repeat spline duplicate",
        .help =
            "By a count, a spacing, one touching the next, or as many as fit. Copies look along the path, may roll "
            "from one to the next (chain links: 90°), and stiff ones span straight from end to end so that they touch "
            "in bends as well.",
        .glyph = "M3 18 C8 4 15 22 21 6 M4 13h4v4h-4z M10 10h4v4h-4z M16 9h4v4h-4z",
        .gives = content_instances,
        .inputs = {{"shape", "Path", content_curves | content_edges, true}, {"copy", "Copy", content_any, true}},
        .telling = "by {by}"},
    {choice_of(&AlongCurve::by, "by", "By",
               {{AlongCurve::SpacedBy::count, "count", "count"},
                {AlongCurve::SpacedBy::spacing, "spacing", "spacing"},
                {AlongCurve::SpacedBy::touching, "touching", "touching"},
                {AlongCurve::SpacedBy::fit, "fit", "fit"}},
               "What decides where copies stand."),
     when(count_of(&AlongCurve::count, "count", "Copies", 1, 1000000, 64, "From the start to the end of each path."),
          "by=count"),
     when(toggle_of(&AlongCurve::touch, "touch", "Touching",
                    "Sizes the copies so that each touches the next and they fill the path."),
          "by=count"),
     when(length_of(&AlongCurve::spacing, "spacing", "Spacing", 1e-6, 2, "From one copy to the next."), "by=spacing"),
     when(offset_of(&AlongCurve::gap, "gap", "Gap",
                    "Left between one copy and the next; negative sinks them into one another."),
          "by=touching|fit"),
     toggle_of(&AlongCurve::stiff, "stiff", "Stiff",
               "Both ends of a copy lie on the path: links and planks that do not bend."),
     when(toggle_of(&AlongCurve::stretch, "stretch", "Stretch to its place",
                    "Sizes each copy along the path to span its place exactly."),
          "stiff"),
     axis_of(&AlongCurve::axis, "axis", "Own axis", "The axis of the copy that lies along the path."),
     choice_of(&AlongCurve::look, "look", "Look",
               {{AlongStance::Look::along, "along", "along the path"},
                {AlongStance::Look::level, "level", "along it, level"},
                {AlongStance::Look::same, "same", "all the same way"}},
               "Which way copies are turned."),
     frames_of(&AlongCurve::frames), up_of(&AlongCurve::up),
     angle_of(&AlongCurve::roll, "roll", "Roll", -360, 360, "Of the first copy about the path."),
     angle_of(&AlongCurve::roll_each, "roll_each", "Roll per copy", -360, 360, "Added from one copy to the next."),
     number_of(&AlongCurve::scale, "scale", "Scale", 1e-6, 1000, "A factor on every copy."),
     toggle_of(&AlongCurve::by_radius, "by_radius", "Size by knots",
               "Copies take on the radius of the path's knots as a factor."),
     length_of(&AlongCurve::start, "start", "Start gap", 0, 1, "Left free at the start."),
     length_of(&AlongCurve::end, "end", "End gap", 0, 1, "Left free at the end."),
     toggle_of(&AlongCurve::keep_path, "keep_path", "Keep the path", "Passes the path along with the copies."),
     number_of(&AlongCurve::most, "most", "Bound", 1, 1000000,
               "More copies than this are refused; raise it when you mean it.")},
    run_along_curve);

}  // namespace

}  // namespace bricol
