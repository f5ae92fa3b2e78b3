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
#include "core/catalogue/settings.h"
#include "core/formula/standing_fields.h"
#include "core/steps/shared/marked.h"
#include "core/ground/parallel.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

struct AttributeSettings {
    enum class Type { number, whole, vector, set };
    enum class By { value, random, axis, distance, formula };
    std::string attribute = "weight";
    Domain on = Domain::vertex;
    Type type = Type::number;
    By by = By::value;
    double value = 1;
    DVec3 vector{0, 0, 1};
    double from = 0;
    double to = 1;
    int seed = 1;
    Axis axis = Axis::z;
    double reach = 0.5;
    std::vector<FormulaRow> rows;
    std::string only;
};

DVec3 middle_on(const Mesh& mesh, Domain domain, std::size_t i) {
    return domain == Domain::corner ? DVec3((*mesh.positions)[mesh.topology->corner_vertex[i]])
                                    : middle_of(mesh, domain, i);
}

void by_axis(const AttributeSettings& s, const Mesh& mesh, Domain domain, std::vector<double>& values) {
    const int axis = index_of(s.axis);
    double low = 1e300, high = -1e300;
    for (std::size_t i = 0; i < values.size(); ++i) {
        const double at = middle_on(mesh, domain, i)[axis];
        low = std::min(low, at), high = std::max(high, at);
    }
    for (std::size_t i = 0; i < values.size(); ++i) {
        const double at = middle_on(mesh, domain, i)[axis];
        values[i] = s.from + (s.to - s.from) * (high > low ? (at - low) / (high - low) : 0);
    }
}

/// False, and told, when there is nothing to measure to.
bool by_distance(const AttributeSettings& s, StepRun& run, const Mesh& mesh, Domain domain,
                 std::vector<double>& values) {
    ShapePtr other = run.input_pointer("other");
    if (other) other = real_geometry(other);
    const SurfaceFinder finder(other ? other->mesh : Mesh{});
    if (finder.empty() && (!other || other->mesh.empty())) {
        run.tell(Severity::error, "nothing-near",
                 "There is no other shape to measure the distance to. Link one to “other”.");
        return false;
    }
    parallel::each(std::size_t(0), values.size(), [&](std::size_t i) {
        stop_point();
        const DVec3 at = middle_on(mesh, domain, i);
        double distance = 1e300;
        if (!finder.empty())
            distance = finder.nearest(at).distance;
        else
            for (const Vec3& p : *other->mesh.positions) distance = std::min(distance, glm::distance(DVec3(p), at));
        values[i] = s.from + (s.to - s.from) * std::min(1.0, distance / std::max(s.reach, 1e-9));
    });
    return true;
}

void by_formula(const AttributeSettings& s, StepRun& run, const Shape& shape, std::vector<double>& values) {
    if (s.rows.empty()) {
        run.tell(Severity::note, "no-formula", "There is no formula yet; the value is 0.");
        return;
    }
    std::vector<RowProblem> problems;
    const auto worked = values_by_formula(shape, s.on, s.rows.front(), problems);
    run.report(problems, s.rows);
    if (worked) values.assign(worked->begin(), worked->end());
}

/// A column of one type: what was there, and the values where the mask says so.
template <class T>
Array<T> column_of(const AttributeSettings& s, const Attribute* before, std::span<const double> values,
                   const Mask& mask) {
    Array<T> column(values.size(), T(0));
    if (before)
        if (const auto* old = std::get_if<Array<T>>(before->values.get())) column = *old;
    for (std::size_t i = 0; i < values.size(); ++i) {
        if (!mask[i]) continue;
        if constexpr (std::is_same_v<T, std::uint8_t>)
            column[i] = values[i] > 0.5;
        else if constexpr (std::is_same_v<T, std::int32_t>)
            column[i] = static_cast<std::int32_t>(std::clamp(std::round(values[i]), -2e9, 2e9));
        else if constexpr (std::is_same_v<T, Vec3>)
            column[i] = Vec3(s.vector);
        else
            column[i] = static_cast<float>(values[i]);
    }
    return column;
}

void run_attribute(const AttributeSettings& s, StepRun& run) {
    Shape shape = run.shape();
    MarkedElements marked(run, shape, s.on);
    if (!marked.there()) return;
    Mesh& mesh = marked.mesh();
    const Domain domain = marked.domain();
    const std::string& name = s.attribute;
    if (name.empty()) {
        run.tell(Severity::error, "no-name", "Give the attribute a name, so that later steps can ask for it.");
        return;
    }
    if (name == attribute_name::normal || name == attribute_name::uv || name == attribute_name::material) {
        run.tell(Severity::error, "taken-name",
                 fmt::format("“{}” belongs to the shape itself. Use another name, or the step that sets it.", name));
        return;
    }
    if (s.on == Domain::knot && find_standing_field(Domain::knot, name)) {
        run.tell(Severity::error, "taken-name",
                 fmt::format("“{}” is a number that every knot has already. Set it by a Formula step on knots, or use "
                             "another name.",
                             name));
        return;
    }
    const std::size_t count = mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    std::vector<double> values(count, s.value);
    using By = AttributeSettings::By;
    if (s.by == By::random) {
        const Array<std::uint32_t> own = element_numbers(mesh, domain);
        for (std::size_t i = 0; i < count; ++i)
            values[i] = s.from + (s.to - s.from) * random_share(own[i], static_cast<std::uint32_t>(s.seed));
    } else if (s.by == By::axis) {
        by_axis(s, mesh, domain, values);
    } else if (s.by == By::distance) {
        if (!by_distance(s, run, mesh, domain, values)) return;
    } else if (s.by == By::formula) {
        by_formula(s, run, shape, values);
    }
    const Mask mask = s.only.empty() ? Mask(count, 1) : run.chosen(mesh, domain, s.only);
    const Attribute* before = mesh.attributes.find(domain, name);
    using Type = AttributeSettings::Type;
    if (s.type == Type::whole)
        mesh.attributes.set(domain, name, column_of<std::int32_t>(s, before, values, mask));
    else if (s.type == Type::set)
        mesh.attributes.set(domain, name, column_of<std::uint8_t>(s, before, values, mask));
    else if (s.type == Type::vector)
        mesh.attributes.set(domain, name, column_of<Vec3>(s, before, values, mask));
    else
        mesh.attributes.set(domain, name, column_of<float>(s, before, values, mask));
    marked.keep(name);
    run.give(std::move(shape));
}

const StepOf<AttributeSettings> attribute_step(
    StepInfo{
        .key = "attribute",
        .name = "Attribute",
        .family = Family::sets,
        .purpose = "Gives every element a named value: fixed, random, along an axis, by distance or by formula.",
        .words = "value weight mask field paint random falloff gradient variable",
        .help = "Later steps ask for the value by its name: to push by it, colour by it, scatter by it. Elements "
                "outside the "
                "set keep what they had, or 0. Random values belong to the element and stay with it while others come "
                "and go.",
        .glyph = "M4 20v-5h4v5z M10 20v-9h4v9z M16 20v-14h4v14z",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true},
                   {"other", "Other shape", content_faces | content_points | content_edges | content_instances, false}},
        .telling = "{attribute}"},
    {new_set_of(&AttributeSettings::attribute, "attribute", "Name", "What later steps call it."),
     choice_of(&AttributeSettings::on, "on", "On",
               {{Domain::vertex, "vertices", "vertices"},
                {Domain::edge, "edges", "edges"},
                {Domain::face, "faces", "faces"},
                {Domain::corner, "corners", "corners"},
                {Domain::instance, "instances", "copies"},
                {Domain::knot, "knots", "knots"}},
               "The kind of element that has the value."),
     choice_of(&AttributeSettings::type, "type", "Kind",
               {{AttributeSettings::Type::number, "number", "number"},
                {AttributeSettings::Type::whole, "whole", "whole number"},
                {AttributeSettings::Type::vector, "vector", "vector"},
                {AttributeSettings::Type::set, "set", "set"}},
               "What each value is; a set is yes or no, above 0.5."),
     when(choice_of(&AttributeSettings::by, "by", "By",
                    {{AttributeSettings::By::value, "value", "one value"},
                     {AttributeSettings::By::random, "random", "random"},
                     {AttributeSettings::By::axis, "axis", "along an axis"},
                     {AttributeSettings::By::distance, "distance", "distance to a shape"},
                     {AttributeSettings::By::formula, "formula", "a formula"}},
                    "Where the value comes from."),
          "type=number|whole|set"),
     when(number_of(&AttributeSettings::value, "value", "Value", -1e6, 1e6, "The value everywhere."), "by=value"),
     when(vector_of(&AttributeSettings::vector, "vector", "Vector", Quantity::plain, "The value everywhere."),
          "type=vector"),
     when(number_of(&AttributeSettings::from, "from", "From", -1e6, 1e6, "At the low end, or the smallest."),
          "by=random|axis|distance"),
     when(number_of(&AttributeSettings::to, "to", "To", -1e6, 1e6, "At the high end, or the largest."),
          "by=random|axis|distance"),
     when(seed_of(&AttributeSettings::seed), "by=random"),
     when(axis_of(&AttributeSettings::axis, "axis", "Axis",
                  "From the lowest to the highest element of the whole shape, also when only a set gets the value."),
          "by=axis"),
     when(length_of(&AttributeSettings::reach, "reach", "Reach", 1e-6, 5,
                    "The distance at which the last value is reached."),
          "by=distance"),
     when(kind_of(&AttributeSettings::rows, ParameterKind::rows, "rows", "Formula",
                  "The first row's formula gives the value; it may use x, y, z, attributes and dials."),
          "by=formula"),
     only_of(&AttributeSettings::only, "Only the elements of this set.")},
    run_attribute);

}  // namespace

}  // namespace bricol
