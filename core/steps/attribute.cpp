// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <fmt/format.h>

#include <algorithm>

#include "core/kernels/choose.h"
#include "core/kernels/element_numbers.h"
#include "core/kernels/noise.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/surface_finder.h"
#include "core/formula/elements.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_attribute(StepRun& run) {
    Shape shape = run.shape();
    Mesh& mesh = shape.mesh;
    const Domain domain = domain_of_plural(run.word("on"));
    const std::string& name = run.word("attribute");
    if (name.empty()) {
        run.tell(Severity::error, "no-name", "Give the attribute a name, so that later steps can ask for it.");
        return;
    }
    if (name == attribute_name::normal || name == attribute_name::uv || name == attribute_name::material) {
        run.tell(Severity::error, "taken-name",
                 fmt::format("“{}” belongs to the shape itself. Use another name, or the step that sets it.", name));
        return;
    }
    const std::size_t count = mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    const double from = run.number("from"), to = run.number("to");
    const std::string& by = run.word("by");
    std::vector<double> values(count, run.number("value"));
    const auto middle = [&](std::size_t i) {
        return domain == Domain::corner ? DVec3((*mesh.positions)[mesh.topology->corner_vertex[i]])
                                        : middle_of(mesh, domain, i);
    };
    if (by == "random") {
        const Array<std::uint32_t> own = element_numbers(mesh, domain);
        for (std::size_t i = 0; i < count; ++i)
            values[i] = from + (to - from) * random_share(own[i], static_cast<std::uint32_t>(run.integer("seed")));
    } else if (by == "axis" || by == "x" || by == "y" || by == "z") {
        const int axis = run.axis("axis");
        double low = 1e300, high = -1e300;
        for (std::size_t i = 0; i < count; ++i) {
            const double at = middle(i)[axis];
            low = std::min(low, at), high = std::max(high, at);
        }
        for (std::size_t i = 0; i < count; ++i)
            values[i] = from + (to - from) * (high > low ? (middle(i)[axis] - low) / (high - low) : 0);
    } else if (by == "distance") {
        ShapePtr other = run.input_pointer("other");
        if (other) other = real_geometry(other);
        const SurfaceFinder finder(other ? other->mesh : Mesh{});
        if (finder.empty() && (!other || other->mesh.empty())) {
            run.tell(Severity::error, "nothing-near",
                     "There is no other shape to measure the distance to. Link one to “other”.");
            return;
        }
        const double reach = run.number("reach");
        for (std::size_t i = 0; i < count; ++i) {
            double distance = 1e300;
            if (!finder.empty())
                distance = finder.nearest(middle(i)).distance;
            else
                for (const Vec3& p : *other->mesh.positions)
                    distance = std::min(distance, glm::distance(DVec3(p), middle(i)));
            values[i] = from + (to - from) * std::min(1.0, distance / std::max(reach, 1e-9));
        }
    } else if (by == "formula") {
        std::vector<RowProblem> problems;
        const auto& rows = run.as<std::vector<FormulaRow>>("rows");
        if (rows.empty())
            run.tell(Severity::note, "no-formula", "There is no formula yet; the value is 0.");
        else {
            const auto worked = values_by_formula(shape, domain, rows.front(), problems);
            run.report(problems, "rows");
            if (worked) values.assign(worked->begin(), worked->end());
        }
    }
    const Mask mask = run.word("only").empty() ? Mask(count, 1) : run.chosen(mesh, domain);
    const std::string& type = run.word("type");
    const Attribute* before = mesh.attributes.find(domain, name);
    const auto fill = [&]<class T>(T zero) {
        Array<T> column(count, zero);
        if (before)
            if (const auto* old = std::get_if<Array<T>>(before->values.get())) column = *old;
        for (std::size_t i = 0; i < count; ++i) {
            if (!mask[i]) continue;
            if constexpr (std::is_same_v<T, std::uint8_t>)
                column[i] = values[i] > 0.5;
            else if constexpr (std::is_same_v<T, std::int32_t>)
                column[i] = static_cast<std::int32_t>(std::clamp(std::round(values[i]), -2e9, 2e9));
            else if constexpr (std::is_same_v<T, Vec3>)
                column[i] = Vec3(run.vector("vector"));
            else
                column[i] = static_cast<float>(values[i]);
        }
        mesh.attributes.set(domain, name, std::move(column));
    };
    if (type == "whole")
        fill(std::int32_t(0));
    else if (type == "set")
        fill(std::uint8_t(0));
    else if (type == "vector")
        fill(Vec3(0));
    else
        fill(0.0f);
    run.give(std::move(shape));
}

const Registered attribute_step(StepInfo{
    .key = "attribute",
    .name = "Attribute",
    .family = Family::sets,
    .purpose = "Gives every element a named value: fixed, random, along an axis, by distance or by formula.",
    .words = "value weight mask field paint random falloff gradient variable",
    .help =
        "Later steps ask for the value by its name: to push by it, colour by it, scatter by it. Elements outside the "
        "set keep what they had, or 0. Random values belong to the element and stay with it while others come and go.",
    .glyph = "M4 20v-5h4v5z M10 20v-9h4v9z M16 20v-14h4v14z",
    .gives = 0,
    .inputs = {{"shape", "Mesh", content_faces | content_edges | content_points, true},
               {"other", "Other shape", content_faces | content_points | content_edges | content_instances, false}},
    .parameters =
        {new_set_of("attribute", "Name", "weight", "What later steps call it."),
         choice_of("on", "On",
                   {{"vertices", "vertices"}, {"edges", "edges"}, {"faces", "faces"}, {"corners", "corners"}},
                   "The kind of element that has the value."),
         choice_of("type", "Kind",
                   {{"number", "number"}, {"whole", "whole number"}, {"vector", "vector"}, {"set", "set"}},
                   "What each value is; a set is yes or no, above 0.5."),
         when(choice_of("by", "By",
                        {{"value", "one value"},
                         {"random", "random"},
                         {"axis", "along an axis"},
                         {"distance", "distance to a shape"},
                         {"formula", "a formula"}},
                        "Where the value comes from."),
              "type=number|whole|set"),
         when(number_of("value", "Value", 1, -1e6, 1e6, "The value everywhere."), "by=value"),
         when(vector_of("vector", "Vector", Quantity::plain, {0, 0, 1}, "The value everywhere."), "type=vector"),
         when(number_of("from", "From", 0, -1e6, 1e6, "At the low end, or the smallest."), "by=random|axis|distance"),
         when(number_of("to", "To", 1, -1e6, 1e6, "At the high end, or the largest."), "by=random|axis|distance"),
         when(seed_of(), "by=random"),
         when(axis_of("axis", "Axis", "z", "From the lowest to the highest element."), "by=axis"),
         when(length_of("reach", "Reach", 0.5, 1e-6, 5, "The distance at which the last value is reached."),
              "by=distance"),
         when(kind_of(ParameterKind::rows, "rows", "Formula",
                      "The first row's formula gives the value; it may use x, y, z, attributes and dials."),
              "by=formula"),
         only_of("Only the elements of this set.")},
    .telling = "{attribute}",
    .make = run_attribute});

}  // namespace

}  // namespace bricol
