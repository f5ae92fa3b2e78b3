// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/standing_fields.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

#include "core/ground/numbers.h"

namespace bricol {

namespace {

constexpr std::array<StandingField, 14> of_knots = {{{"x", "place in metres"},
                                                     {"y", "place in metres"},
                                                     {"z", "place in metres"},
                                                     {"in.x", "handle towards the knot before, from the knot"},
                                                     {"in.y", "handle towards the knot before, from the knot"},
                                                     {"in.z", "handle towards the knot before, from the knot"},
                                                     {"out.x", "handle towards the next knot, from the knot"},
                                                     {"out.y", "handle towards the next knot, from the knot"},
                                                     {"out.z", "handle towards the next knot, from the knot"},
                                                     {"radius", "factor on what is swept along"},
                                                     {"roll", "degrees about the curve"},
                                                     {"fillet", "radius of a rounded corner in metres"},
                                                     {"curve", "number of its curve from 0", false},
                                                     {"along", "place on its own curve from 0 to 1, by knots", false}}};

constexpr std::array<StandingField, 6> of_copies = {
    {{"x", "place in metres"},
     {"y", "place in metres"},
     {"z", "place in metres"},
     {"size", "factor on the copied shape"},
     {"turn", "degrees it is turned further about its own upright; reads 0"},
     {"variant", "number of the shape that stands there, among all that are copied, from 0"}}};

/// 0, 1, 2 for a name that ends in .x, .y, .z or is one of them.
int axis_at_end(std::string_view name) { return static_cast<int>(axis_letters.find(name.back())); }

double knot_value(const Knot& knot, const Knot& came_in, std::string_view name) {
    if (name.size() == 1) return static_cast<double>(came_in.at[axis_at_end(name)]);
    if (name.starts_with("in.")) return static_cast<double>(knot.in[axis_at_end(name)]);
    if (name.starts_with("out.")) return static_cast<double>(knot.out[axis_at_end(name)]);
    if (name == "radius") return static_cast<double>(knot.radius);
    if (name == "roll") return static_cast<double>(knot.roll) / degree;
    return static_cast<double>(knot.fillet);
}

void write_knot(Knot& knot, std::string_view name, double value) {
    const auto number = static_cast<float>(value);
    if (name.size() == 1) {
        knot.at[axis_at_end(name)] = number;
    } else if (name.starts_with("in.") || name.starts_with("out.")) {
        (name.starts_with("in.") ? knot.in : knot.out)[axis_at_end(name)] = number;
        if (number != 0) knot.kind = KnotKind::free;
    } else if (name == "radius") {
        knot.radius = std::max(number, 0.0f);
    } else if (name == "roll") {
        knot.roll = static_cast<float>(value * degree);
    } else {
        knot.fillet = std::max(number, 0.0f);
    }
}

double size_of(const glm::mat4& place) { return std::cbrt(std::abs(glm::determinant(glm::dmat3(glm::dmat4(place))))); }

void write_copy(glm::mat4& place, std::string_view name, double value) {
    if (name.size() == 1) {
        place[3][axis_at_end(name)] = static_cast<float>(value);
    } else if (name == "size") {
        const double now = size_of(place);
        if (now > 0)
            for (int i = 0; i < 3; ++i) place[i] *= static_cast<float>(value / now);
    } else {
        place = glm::mat4(glm::rotate(glm::dmat4(place), value * degree, DVec3(0, 0, 1)));
    }
}

}  // namespace

std::span<const StandingField> standing_fields(Domain domain) {
    if (domain == Domain::knot) return of_knots;
    if (domain == Domain::instance) return of_copies;
    return {};
}

const StandingField* find_standing_field(Domain domain, std::string_view name) {
    const auto fields = standing_fields(domain);
    const auto found = std::ranges::find(fields, name, &StandingField::name);
    return found == fields.end() ? nullptr : &*found;
}

std::vector<double> standing_values(const Shape& now, const Shape& came_in, Domain domain, std::string_view name) {
    std::vector<double> out;
    if (domain == Domain::knot) {
        for (std::size_t c = 0; c < now.curves.size(); ++c) {
            const std::vector<Knot>& knots = now.curves[c].knots;
            for (std::size_t k = 0; k < knots.size(); ++k)
                out.push_back(
                    name == "curve" ? static_cast<double>(c)
                    : name == "along"
                        ? (knots.size() > 1 ? static_cast<double>(k) / static_cast<double>(knots.size() - 1) : 0)
                        : knot_value(knots[k], came_in.curves[c].knots[k], name));
        }
        return out;
    }
    for (std::size_t g = 0; g < now.instances.size(); ++g)
        for (std::size_t i = 0; i < now.instances[g].count(); ++i)
            out.push_back(name.size() == 1 ? static_cast<double>(came_in.instances[g].places[i][3][axis_at_end(name)])
                          : name == "size" ? size_of(now.instances[g].places[i])
                          : name == "variant" ? static_cast<double>(g)
                                              : 0);
    return out;
}

void write_standing(Shape& shape, Domain domain, std::string_view name, std::span<const double> values,
                    const std::function<bool(std::size_t)>& chosen) {
    std::size_t at = 0;
    if (domain == Domain::knot) {
        for (Curve& curve : shape.curves)
            for (Knot& knot : curve.knots) {
                if (chosen(at)) write_knot(knot, name, values[at]);
                ++at;
            }
        return;
    }
    for (Instances& group : shape.instances)
        for (glm::mat4& place : group.places) {
            if (chosen(at)) write_copy(place, name, values[at]);
            ++at;
        }
}

std::optional<Vec3> standing_place(const Shape& shape, Domain domain, std::size_t element) {
    if (domain == Domain::knot)
        for (const Curve& curve : shape.curves) {
            if (element < curve.knots.size()) return curve.knots[element].at;
            element -= curve.knots.size();
        }
    if (domain == Domain::instance)
        for (const Instances& group : shape.instances) {
            if (element < group.count()) return Vec3(group.places[element][3]);
            element -= group.count();
        }
    return std::nullopt;
}

}  // namespace bricol
