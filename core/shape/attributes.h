// SPDX-License-Identifier: GPL-3.0-or-later
// Named, typed columns of values on the elements of a shape, shared until somebody writes.
#pragma once

#include <span>
#include <string_view>
#include <variant>

#include "core/ground/types.h"

namespace bricol {

/// What a column has one value for.
enum class Domain : std::uint8_t { vertex, edge, face, corner, curve, knot, instance, whole };

/// Plain English name of a domain ("vertex").
std::string_view domain_name(Domain domain);
/// And of several ("vertices").
std::string_view plural_name(Domain domain);
/// The domain whose plural that is; vertices for any other word.
Domain domain_of_plural(std::string_view plural);

/// The values of one attribute. Booleans are bytes, so that threads may write neighbours.
using Column =
    std::variant<Array<std::uint8_t>, Array<std::int32_t>, Array<float>, Array<Vec2>, Array<Vec3>, Array<Vec4>>;

/// Number of values in a column.
std::size_t column_size(const Column& column);
/// Bytes held by a column.
std::size_t column_bytes(const Column& column);
/// "bool", "int", "float", "vec2", "vec3" or "vec4".
std::string_view column_type(const Column& column);

/// Well-known names; glTF 2.0's where glTF has one.
namespace attribute_name {
inline constexpr std::string_view normal = "NORMAL";        ///< vec3, vertex or corner, unit length
inline constexpr std::string_view uv = "TEXCOORD_0";        ///< vec2, corner
inline constexpr std::string_view light_uv = "TEXCOORD_1";  ///< vec2, corner: without overlaps, for baked light
inline constexpr std::string_view crease = "crease";        ///< float, edge: subdivision sharpness 0..10
inline constexpr std::string_view bevel = "bevel";          ///< float, edge: share of a bevel's width, 0..1
inline constexpr std::string_view material = "material";    ///< int, face: number of a material, 0 for none
inline constexpr std::string_view colour =
    "COLOR_0";  ///< vec4, vertex or corner: linear red, green, blue and alpha, 0..1
inline constexpr std::string_view id =
    "id";  ///< int, vertex or instance: the element's own number, kept while others come and go
inline constexpr std::string_view weight = "weight";  ///< float, vertex: how much a step does there, 0..1
inline constexpr std::string_view facing = "facing";  ///< vec3, vertex: the way a copy placed there looks
inline constexpr std::string_view size = "size";      ///< float, vertex: factor on a copy placed there
inline constexpr std::string_view turn =
    "turn";  ///< float, vertex: degrees a copy placed there is turned about its facing
inline constexpr std::string_view variant = "variant";  ///< int, vertex: which of several shapes stands there
// Marks on the whole shape, by which later steps know what happened to it.
inline constexpr std::string_view smoothed = "smoothed";      ///< bool: went through a subdivision
inline constexpr std::string_view uneven = "sized_unevenly";  ///< bool: was sized by different factors
inline constexpr std::string_view even_width = "even_width";  ///< bool: has bevels or walls of even width
inline constexpr std::string_view corner = "corner";          ///< float, vertex: subdivision sharpness 0..10
}  // namespace attribute_name

struct Attribute {
    std::string name;
    Domain domain{};
    std::shared_ptr<const Column> values;
};

/// The attributes of a shape. A boolean column on vertices, edges or faces is a *set*.
class Attributes {
public:
    Attributes();
    Attributes(const Attributes&);
    Attributes(Attributes&&) noexcept;
    Attributes& operator=(const Attributes&);
    Attributes& operator=(Attributes&&) noexcept;
    ~Attributes();

    /// The attribute, or null.
    const Attribute* find(Domain domain, std::string_view name) const;
    /// The values when they exist with this very type, else null.
    template <class T>
    const Array<T>* values(Domain domain, std::string_view name) const {
        const Attribute* found = find(domain, name);
        return found ? std::get_if<Array<T>>(found->values.get()) : nullptr;
    }
    /// Adds or replaces.
    void set(Domain domain, std::string_view name, Column values);
    void set(Attribute attribute);
    void remove(Domain domain, std::string_view name);
    /// Drops every attribute of a domain.
    void remove_all(Domain domain);
    std::span<const Attribute> all() const& { return list_; }
    std::span<const Attribute> all() const&& = delete;  // would outlive what it looks at

    /// Copies this object's columns of `domain` into `target`, taking element `source[i]` for new element i.
    void gather_into(Attributes& target, Domain domain, std::span<const Index> source) const;

private:
    std::vector<Attribute> list_;
};

/// Columns of `first` followed by those of `second`; an attribute missing on one side is zero there
/// (COLOR_0 white), one of the whole is the first's, or else the second's.
/// Sizes are the element counts per domain of either side, in the order of `Domain`.
Attributes joined(const Attributes& first, std::span<const std::size_t> first_sizes, const Attributes& second,
                  std::span<const std::size_t> second_sizes);

}  // namespace bricol
