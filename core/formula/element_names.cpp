// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/elements.h"

#include "core/formula/standing_fields.h"
#include "core/ground/numbers.h"
#include "core/shape/knot_values.h"

namespace bricol {

std::vector<ElementName> element_names(const Shape& shape, Domain domain) {
    std::vector<ElementName> list;
    const bool stands = domain == Domain::instance || domain == Domain::knot, movable = domain == Domain::vertex;
    for (const StandingField& field : standing_fields(domain))
        list.push_back({std::string(field.name), std::string(field.help)});
    for (const char axis : axis_letters)
        if (!stands) list.push_back({std::string(1, axis), movable ? "place in metres" : "middle in metres"});
    if (domain != Domain::edge && !stands)
        for (const char axis : axis_letters) list.push_back({std::string("n") + axis, "normal"});
    const bool has_uv = shape.mesh.attributes.find(Domain::corner, attribute_name::uv) != nullptr;
    if (domain == Domain::corner && has_uv)
        list.push_back({"u", "across the texture"}), list.push_back({"v", "up the texture"});
    if (domain == Domain::edge) list.push_back({"length", "in metres"});
    if (domain == Domain::face) list.push_back({"area", "in square metres"});
    list.push_back({"index", "number from 0"}), list.push_back({"count", "how many there are"}),
        list.push_back({"share", "index from 0 to 1"});
    const auto add = [&](const Attributes& attributes) {
        for (const Attribute& a : attributes.all()) {
            if (a.domain != domain) continue;
            const std::string type(column_type(*a.values));
            if (!type.starts_with("vec")) {
                list.push_back({a.name, type == "bool" ? "set" : type});
                continue;
            }
            const std::string_view letters = a.name == attribute_name::colour ? "rgba" : "xyzw";
            for (int i = 0; i < type[3] - '0'; ++i)
                list.push_back({a.name + "." + letters[static_cast<std::size_t>(i)], type});
        }
    };
    if (domain == Domain::knot)
        add(columns_of_knots(shape.curves));
    else if (domain != Domain::instance)
        add(shape.mesh.attributes);
    else if (!shape.instances.empty())
        add(shape.instances.front().attributes);
    return list;
}

std::string domain_with(const Shape& shape, std::string_view attribute, Domain not_on) {
    for (const Attribute& a : shape.mesh.attributes.all())
        if (a.name == attribute && a.domain != not_on) return std::string(domain_name(a.domain));
    if (not_on != Domain::knot && columns_of_knots(shape.curves).find(Domain::knot, attribute)) return "knot";
    for (const Instances& group : shape.instances)
        if (not_on != Domain::instance && group.attributes.find(Domain::instance, attribute)) return "instance";
    return {};
}

}  // namespace bricol
