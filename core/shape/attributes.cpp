// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/attributes.h"

#include <algorithm>
#include <array>

#include "core/ground/stop.h"

namespace bricol {

std::string_view domain_name(Domain domain) {
    constexpr std::array<std::string_view, 8> names = {"vertex", "edge", "face",     "corner",
                                                       "curve",  "knot", "instance", "whole"};
    return names[static_cast<std::size_t>(domain)];
}

std::string_view plural_name(Domain domain) {
    constexpr std::array<std::string_view, 8> names = {"vertices", "edges", "faces",     "corners",
                                                       "curves",   "knots", "instances", "wholes"};
    return names[static_cast<std::size_t>(domain)];
}

Domain domain_of_plural(std::string_view plural) {
    for (const Domain domain :
         {Domain::vertex, Domain::edge, Domain::face, Domain::corner, Domain::curve, Domain::knot, Domain::instance})
        if (plural_name(domain) == plural) return domain;
    return Domain::vertex;
}

std::size_t column_size(const Column& column) {
    return std::visit([](const auto& values) { return values.size(); }, column);
}

std::size_t column_bytes(const Column& column) {
    return std::visit([](const auto& values) { return values.size() * sizeof(values[0]); }, column);
}

std::string_view column_type(const Column& column) {
    constexpr std::array<std::string_view, 6> names = {"bool", "int", "float", "vec2", "vec3", "vec4"};
    return names[column.index()];
}

Attributes::Attributes() = default;
Attributes::Attributes(const Attributes&) = default;
Attributes::Attributes(Attributes&&) noexcept = default;
Attributes& Attributes::operator=(const Attributes&) = default;
Attributes& Attributes::operator=(Attributes&&) noexcept = default;
Attributes::~Attributes() = default;

const Attribute* Attributes::find(Domain domain, std::string_view name) const {
    for (const Attribute& attribute : list_)
        if (attribute.domain == domain && attribute.name == name) return &attribute;
    return nullptr;
}

void Attributes::set(Domain domain, std::string_view name, Column values) {
    set(Attribute{std::string(name), domain, std::make_shared<const Column>(std::move(values))});
}

void Attributes::set(Attribute attribute) {
    for (Attribute& existing : list_)
        if (existing.domain == attribute.domain && existing.name == attribute.name) {
            existing = std::move(attribute);
            return;
        }
    list_.push_back(std::move(attribute));
}

void Attributes::remove(Domain domain, std::string_view name) {
    std::erase_if(list_, [&](const Attribute& a) { return a.domain == domain && a.name == name; });
}

void Attributes::remove_all(Domain domain) {
    std::erase_if(list_, [&](const Attribute& a) { return a.domain == domain; });
}

void Attributes::gather_into(Attributes& target, Domain domain, std::span<const Index> source) const {
    for (const Attribute& attribute : list_) {
        if (attribute.domain != domain) continue;
        stop_point();
        Column gathered = std::visit(
            [&](const auto& values) -> Column {
                std::decay_t<decltype(values)> out(source.size());
                for (std::size_t i = 0; i < source.size(); ++i) out[i] = values[source[i]];
                return out;
            },
            *attribute.values);
        target.set(domain, attribute.name, std::move(gathered));
    }
}

namespace {

/// What stands where a shape had no such attribute: nothing, or for colours the white that leaves the material as it
/// is.
template <class T>
T missing(std::string_view name) {
    return name == attribute_name::colour ? T(1) : T(0);
}

}  // namespace

Attributes joined(const Attributes& first, std::span<const std::size_t> first_sizes, const Attributes& second,
                  std::span<const std::size_t> second_sizes) {
    Attributes out;
    const auto size_of = [](std::span<const std::size_t> sizes, Domain domain) {
        return sizes[static_cast<std::size_t>(domain)];
    };
    for (const Attribute& attribute : first.all()) {
        stop_point();
        if (attribute.domain == Domain::whole) {
            out.set(attribute);
            continue;
        }
        Column values = *attribute.values;
        const Attribute* other = second.find(attribute.domain, attribute.name);
        const std::size_t more = size_of(second_sizes, attribute.domain);
        std::visit(
            [&](auto& mine) {
                const auto* theirs = other ? std::get_if<std::decay_t<decltype(mine)>>(other->values.get()) : nullptr;
                if (theirs)
                    mine.insert(mine.end(), theirs->begin(), theirs->end());
                else
                    mine.resize(mine.size() + more,
                                missing<typename std::decay_t<decltype(mine)>::value_type>(attribute.name));
            },
            values);
        out.set(attribute.domain, attribute.name, std::move(values));
    }
    for (const Attribute& attribute : second.all()) {
        stop_point();
        if (first.find(attribute.domain, attribute.name)) continue;
        if (attribute.domain == Domain::whole) {
            out.set(attribute);
            continue;
        }
        Column values = std::visit(
            [&](const auto& theirs) -> Column {
                using Values = std::decay_t<decltype(theirs)>;
                Values mine(size_of(first_sizes, attribute.domain),
                            missing<typename Values::value_type>(attribute.name));
                mine.insert(mine.end(), theirs.begin(), theirs.end());
                return mine;
            },
            *attribute.values);
        out.set(attribute.domain, attribute.name, std::move(values));
    }
    return out;
}

}  // namespace bricol
