// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers on a shape's elements as a table: what the window's table and the command line show.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/shape/shape.h"

namespace bricol {

/// Least, mean and most of the numbers of a column, component by component; empty without any.
struct ColumnSpread {
    std::vector<double> least, mean, most;
};
ColumnSpread spread_of(const Column& column);

/// Elements of one domain as rows, their numbers as columns: the element's own number, place, neighbours, attributes by
/// component. Reads the shape in place, so a million rows cost nothing until they are looked at.
class ElementValues {
public:
    ElementValues() = default;
    /// Members of a set only when it is named and the domain can have sets; see `has_set`.
    ElementValues(ShapePtr shape, Domain domain, const std::string& set = {});

    Domain domain() const { return domain_; }
    /// What is read; for knots points that stand for them.
    const ShapePtr& shape() const { return shape_; }
    /// False when a set was named that is not there.
    bool has_set() const { return has_set_; }
    /// The elements listed, ascending.
    const std::vector<std::uint32_t>& rows() const { return rows_; }
    /// Columns, the element's number among them as the first.
    std::size_t columns() const { return shape_ ? fields_.size() + 1 : 0; }
    std::string name(std::size_t column) const;
    bool yes_or_no(std::size_t column) const;
    double value(std::size_t element, std::size_t column) const;
    /// Where the element lies: its middle, an instance's origin (metres).
    Vec3 place(std::size_t element) const;

    struct Spread {
        double least = 0, mean = 0, most = 0;
        double deviation = 0;  ///< standard deviation of all rows (not of a sample)
    };
    /// Of a column over some of the elements; nothing without any.
    std::optional<Spread> spread(std::size_t column, const std::vector<std::uint32_t>& elements) const;

private:
    enum class Worked : std::uint8_t { none, x, y, z, neighbours, size };
    struct Field {
        std::string name, attribute;
        std::shared_ptr<const Column> values;  ///< null for what is worked out, and for instances
        int component = -1;
        Worked worked = Worked::none;
    };
    void list_fields();
    void stand_in_for_knots();
    std::size_t count() const;
    /// The group of an instance and its number there.
    std::pair<const Instances*, std::size_t> instance(std::size_t element) const;

    ShapePtr shape_;
    Domain domain_ = Domain::vertex;
    Domain stored_ = Domain::vertex;  ///< where the values lie on the shape's mesh: on its points for knots
    bool has_set_ = true;
    std::vector<Field> fields_;
    std::vector<std::uint32_t> rows_;
};

/// What is worth saying of a shape as a whole, by name: counts, area, volume, sets, values on the whole.
std::vector<std::pair<std::string, std::string>> whole_values(const Shape& shape);

}  // namespace bricol
