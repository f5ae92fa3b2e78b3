// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/run_step.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

#include "core/kernels/real_geometry.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

/// Gives a step that cannot work on instances real geometry; false when that would be too much.
bool write_out_copies(const StepInfo& info, StepRun& run) {
    bool can_run = true;
    for (const InputInfo& input : info.inputs) {
        if ((input.accepts & content_instances) || run.input(input.key).instances.empty()) continue;
        ShapePtr& given = run.inputs.find(input.key)->second;
        if (run.too_many(static_cast<double>(given->face_count()), most_faces, "faces of real geometry",
                         "Use fewer instances."))
            can_run = false;
        else
            given = real_geometry(given);
    }
    return can_run;
}

/// Tells inputs the step cannot use; false when there is one.
bool inputs_fit(const StepInfo& info, StepRun& run) {
    bool fit = true;
    for (const InputInfo& input : info.inputs) {
        const Shape& shape = run.input(input.key);
        // Faces and curves are known at once; only a step that lives on loose edges has them looked for.
        const bool plain = (shape.mesh.face_count() > 0 && (input.accepts & content_faces)) ||
                           (!shape.curves.empty() && (input.accepts & content_curves));
        if (plain || (content_of(shape) & input.accepts) != 0 || (!input.required && shape.empty())) continue;
        fit = false;
        run.tell(Severity::error, "wrong-input",
                 shape.empty() ? fmt::format("{} needs {} here, but there is nothing yet.", info.name,
                                             content_words(input.accepts))
                               : fmt::format("{} needs {}; this is {}.", info.name, content_words(input.accepts),
                                             content_found(shape)));
    }
    return fit;
}

void make_step(const StepInfo& info, StepRun& run) {
    try {
        if (info.make) info.make(run);
    } catch (const std::bad_alloc&) {
        run.tell(Severity::error, "out-of-memory", "There is not enough memory for this. Use smaller counts.");
    } catch (const std::exception& error) {
        run.tell(Severity::error, "failed", fmt::format("The step could not be made ({}).", error.what()));
    }
}

/// Metres from the origin. Beyond it squares and numbers of cells leave what steps behind can count with; the sun is a
/// hundred and fifty times as far.
constexpr float farthest = 1e9f;

bool within_reach(const Vec3& p) {
    return std::abs(p.x) <= farthest && std::abs(p.y) <= farthest && std::abs(p.z) <= farthest;  // false for nan
}

/// Whether all places of a shape can be worked with: points, knots with their handles, and copies.
bool within_reach(const Shape& shape) {
    for (const Curve& curve : shape.curves)
        for (const Knot& knot : curve.knots)
            if (!within_reach(knot.at) || !within_reach(knot.in) || !within_reach(knot.out)) return false;
    for (const Instances& group : shape.instances)
        for (const glm::mat4& place : group.places)
            for (int column = 0; column < 4; ++column)
                if (!within_reach(Vec3(place[column]))) return false;
    return std::ranges::all_of(*shape.mesh.positions, [](const Vec3& p) { return within_reach(p); });
}

/// Tells what is more than can be held, drawn and written; whatever the step counted beforehand.
bool within_bounds(StepRun& run, const Shape& shape) {
    const Weight weight = weight_of(shape);
    return !run.too_many(weight.faces, most_faces, "faces", "Use smaller counts.") &&
           !run.too_many(weight.points, most_points, "points", "Use smaller counts.") &&
           !run.too_many(weight.copies, most_copies, "copies", "Use fewer, or fewer inside one another.") &&
           !run.too_many(weight.standing, most_standing, "faces in all copies together",
                         "Use fewer copies, or a lighter shape.");
}

/// Tells what knots carry and nothing of the result does. Copies take what they stand by and keep no more of it; a step
/// that leaves nothing has said so.
void tell_values_that_end(StepRun& run, const Shape& passed) {
    const Shape& result = *run.result;
    if (!knots_carry_values(passed.curves) || (result.curves.empty() && result.mesh.empty())) return;
    const Attributes before = columns_of_knots(passed.curves), behind = columns_of_knots(result.curves);
    std::string lost;
    for (const Attribute& a : before.all()) {
        bool there = behind.find(Domain::knot, a.name) != nullptr;
        for (const Attribute& one : result.mesh.attributes.all()) there |= one.name == a.name;
        if (!there) lost += (lost.empty() ? "“" : ", “") + a.name + "”";
    }
    if (!lost.empty())
        run.tell(Severity::note, "values-end",
                 fmt::format("What the knots carry ends here: this step does not hand {} on.", lost));
}

}  // namespace

ShapePtr empty_shape() {
    static const auto empty = std::make_shared<const Shape>();
    return empty;
}

ShapePtr run_step(const StepInfo& info, StepRun& run, bool& failed) {
    const ShapePtr passed = run.input_pointer("shape") ? run.input_pointer("shape") : empty_shape();
    const bool copies_fit = write_out_copies(info, run);
    if (inputs_fit(info, run) && copies_fit) {
        make_step(info, run);
        if (info.aside) run.result = empty_shape();  // values, words, lamps: no shape
    }
    // These are told beside a result that stands.
    constexpr std::array<std::string_view, 3> beside = {"bad-value", "out-of-range", "inside"};
    failed = std::ranges::any_of(run.findings, [&](const Finding& f) {
        return f.severity == Severity::error && std::ranges::find(beside, f.code) == beside.end();
    });
    if (run.result && !within_reach(*run.result)) {
        run.tell(Severity::error, "not-finite",
                 "The numbers of this step lead to places more than a million kilometres away. Use smaller ones.");
        run.result = nullptr;
    } else if (run.result && run.result != passed && !within_bounds(run, *run.result)) {
        run.result = nullptr;
    }
    if (!failed && run.result && run.result != passed) tell_values_that_end(run, *passed);
    failed |= !run.result;
    return failed ? passed : run.result;
}

}  // namespace bricol
