// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inspect/element_values.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/formula/units.h"
#include "core/kernels/choose.h"
#include "core/kernels/measure.h"
#include "core/kernels/stand_ins.h"

namespace bricol {

namespace {

int components_of(const Column& column) {
    const std::string_view type = column_type(column);
    return type.starts_with("vec") ? type[3] - '0' : 1;
}

double component(const Column& column, std::size_t i, int component) {
    return std::visit(
        [&](const auto& values) -> double {
            using T = typename std::decay_t<decltype(values)>::value_type;
            if (i >= values.size()) return 0;
            if constexpr (std::is_arithmetic_v<T>)
                return static_cast<double>(values[i]);
            else
                return static_cast<double>(values[i][std::max(0, component)]);
        },
        column);
}

}  // namespace

ColumnSpread spread_of(const Column& column) {
    ColumnSpread out;
    const std::size_t n = column_size(column);
    for (int c = 0; n > 0 && c < components_of(column); ++c) {
        double least = 1e300, most = -1e300, sum = 0;
        for (std::size_t i = 0; i < n; ++i) {
            const double v = component(column, i, c);
            least = std::min(least, v), most = std::max(most, v), sum += v;
        }
        out.least.push_back(least), out.mean.push_back(sum / static_cast<double>(n)), out.most.push_back(most);
    }
    return out;
}

ElementValues::ElementValues(ShapePtr shape, Domain domain, const std::string& set)
    : shape_(std::move(shape)), domain_(domain), stored_(domain) {
    if (!shape_) return;
    if (domain == Domain::knot) stand_in_for_knots();
    list_fields();
    const bool may_have_sets =
        domain == Domain::vertex || domain == Domain::edge || domain == Domain::face || domain == Domain::knot;
    const auto members = set.empty() || !may_have_sets ? std::nullopt : set_members(shape_->mesh, stored_, set);
    has_set_ = set.empty() || members.has_value();
    const std::size_t n = count();
    rows_.reserve(n);
    for (std::size_t i = 0; i < n; ++i)
        if (!members || (*members)[i]) rows_.push_back(static_cast<std::uint32_t>(i));
}

/// Points with the knots' own numbers as values.
void ElementValues::stand_in_for_knots() {
    stored_ = Domain::vertex;
    Shape points;
    points.mesh = points_of_knots(shape_->curves);
    points.mesh.attributes.remove(Domain::vertex, attribute_name::normal);
    Array<std::int32_t> curve;
    Array<float> radius, roll, fillet;
    for (std::size_t c = 0; c < shape_->curves.size(); ++c)
        for (const Knot& knot : shape_->curves[c].knots) {
            curve.push_back(static_cast<std::int32_t>(c));
            radius.push_back(knot.radius);
            roll.push_back(glm::degrees(knot.roll));
            fillet.push_back(knot.fillet);
        }
    points.mesh.attributes.set(Domain::vertex, "curve", std::move(curve));
    points.mesh.attributes.set(Domain::vertex, "radius", std::move(radius));
    points.mesh.attributes.set(Domain::vertex, "roll", std::move(roll));
    points.mesh.attributes.set(Domain::vertex, "fillet", std::move(fillet));
    shape_ = std::make_shared<const Shape>(std::move(points));
}

void ElementValues::list_fields() {
    for (int axis = 0; axis < 3; ++axis)
        fields_.push_back({std::string(1, "xyz"[axis]), {}, nullptr, -1, static_cast<Worked>(axis + 1)});
    if (domain_ == Domain::vertex || domain_ == Domain::face)
        fields_.push_back({domain_ == Domain::vertex ? "edges" : "corners", {}, nullptr, -1, Worked::neighbours});
    if (domain_ == Domain::edge || domain_ == Domain::face)
        fields_.push_back({domain_ == Domain::edge ? "length" : "area", {}, nullptr, -1, Worked::size});
    const auto add = [&](const Attributes& attributes, bool shared) {
        for (const Attribute& a : attributes.all()) {
            if (a.domain != stored_) continue;
            const auto known = [&](const Field& f) { return f.attribute == a.name; };
            if (std::ranges::any_of(fields_, known)) continue;
            const int n = components_of(*a.values);
            for (int c = 0; c < n; ++c) {
                std::string name = a.name;
                if (n > 1) name += fmt::format(".{}", (a.name == attribute_name::colour ? "rgba" : "xyzw")[c]);
                fields_.push_back({name, a.name, shared ? nullptr : a.values, n > 1 ? c : -1, Worked::none});
            }
        }
    };
    if (domain_ == Domain::instance)
        for (const Instances& group : shape_->instances) add(group.attributes, true);
    else
        add(shape_->mesh.attributes, false);
}

std::size_t ElementValues::count() const {
    if (domain_ == Domain::whole) return 0;
    if (domain_ != Domain::instance) return shape_->mesh.domain_sizes()[static_cast<std::size_t>(stored_)];
    std::size_t n = 0;
    for (const Instances& group : shape_->instances) n += group.count();
    return n;
}

std::string ElementValues::name(std::size_t column) const {
    return column == 0 ? std::string(domain_name(domain_)) : fields_[column - 1].name;
}

bool ElementValues::yes_or_no(std::size_t column) const {
    return column > 0 && fields_[column - 1].values && column_type(*fields_[column - 1].values) == "bool";
}

std::pair<const Instances*, std::size_t> ElementValues::instance(std::size_t element) const {
    for (const Instances& group : shape_->instances) {
        if (element < group.count()) return {&group, element};
        element -= group.count();
    }
    return {nullptr, 0};
}

Vec3 ElementValues::place(std::size_t element) const {
    if (domain_ == Domain::instance) {
        const auto [group, i] = instance(element);
        return group ? Vec3(group->places[i][3]) : Vec3(0);
    }
    if (domain_ == Domain::corner) return (*shape_->mesh.positions)[shape_->mesh.topology->corner_vertex[element]];
    return Vec3(middle_of(shape_->mesh, stored_, element));
}

double ElementValues::value(std::size_t element, std::size_t column) const {
    if (column == 0) return static_cast<double>(element);
    const Field& field = fields_[column - 1];
    const Topology& t = *shape_->mesh.topology;
    switch (field.worked) {
        case Worked::x:
        case Worked::y:
        case Worked::z:
            return static_cast<double>(place(element)[static_cast<int>(field.worked) - 1]);
        case Worked::neighbours:
            return domain_ == Domain::vertex
                       ? static_cast<double>(t.adjacency().edges_of_vertex(static_cast<Index>(element)).size())
                       : static_cast<double>(t.face(element).size());
        case Worked::size: {
            const Array<Vec3>& p = *shape_->mesh.positions;
            if (domain_ == Domain::edge)
                return glm::distance(DVec3(p[t.edges[element][0]]), DVec3(p[t.edges[element][1]]));
            DVec3 sum(0);
            const auto face = t.face(element);
            for (std::size_t i = 1; i + 1 < face.size(); ++i)
                sum += glm::cross(DVec3(p[face[i]]) - DVec3(p[face[0]]), DVec3(p[face[i + 1]]) - DVec3(p[face[0]]));
            return glm::length(sum) / 2;
        }
        case Worked::none:
            break;
    }
    if (domain_ != Domain::instance) return component(*field.values, element, field.component);
    const auto [group, i] = instance(element);
    const Attribute* found = group ? group->attributes.find(Domain::instance, field.attribute) : nullptr;
    return found ? component(*found->values, i, field.component) : 0;
}

std::optional<ElementValues::Spread> ElementValues::spread(std::size_t column,
                                                           const std::vector<std::uint32_t>& elements) const {
    if (elements.empty()) return std::nullopt;
    Spread out{1e300, 0, -1e300, 0};
    const auto n = static_cast<double>(elements.size());
    for (const std::uint32_t i : elements) {
        const double v = value(i, column);
        out.least = std::min(out.least, v), out.most = std::max(out.most, v), out.mean += v / n;
    }
    double squares = 0;
    for (const std::uint32_t i : elements) squares += std::pow(value(i, column) - out.mean, 2);
    out.deviation = std::sqrt(squares / n);
    return out;
}

std::vector<std::pair<std::string, std::string>> whole_values(const Shape& shape) {
    const Measures m = measured(shape);
    std::vector<std::pair<std::string, std::string>> out{
        {"vertices", std::to_string(m.vertices)}, {"edges", std::to_string(m.edges)},
        {"faces", std::to_string(m.faces)},       {"triangles", std::to_string(m.triangles)},
        {"pieces", std::to_string(m.pieces)},     {"curves", std::to_string(m.curves)},
        {"copies", std::to_string(m.instances)},  {"closed", m.closed ? "yes" : "no"},
        {"area (m²)", format_number(m.area, 7)},
    };
    if (m.volume) out.emplace_back("volume (m³)", format_number(*m.volume, 7));
    for (const SetInfo& one : sets_on(shape))
        out.emplace_back(fmt::format("set {}", one.name), fmt::format("{} {}", one.size, plural_name(one.domain)));
    for (const Attribute& a : shape.mesh.attributes.all())
        if (a.domain == Domain::whole && column_size(*a.values) > 0)
            out.emplace_back(a.name, format_number(component(*a.values, 0, 0)));
    return out;
}

}  // namespace bricol
