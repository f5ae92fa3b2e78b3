// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/knot_values.h"

#include <algorithm>

namespace bricol {

namespace {

using Cell = decltype(KnotValue::value);

const KnotValue* find_value(const KnotValues& values, std::string_view name) {
    const auto found = std::ranges::find(values, name, &KnotValue::name);
    return found == values.end() ? nullptr : &*found;
}

/// What stands where nothing was said.
Cell missing(const Cell& like, std::string_view name) {
    return std::visit(
        [&](const auto& cell) -> Cell {
            using T = std::decay_t<decltype(cell)>;
            return name == attribute_name::colour ? T(1) : T(0);
        },
        like);
}

template <class T>
constexpr int numbers_in = std::is_same_v<T, Vec2>   ? 2
                           : std::is_same_v<T, Vec3> ? 3
                           : std::is_same_v<T, Vec4> ? 4
                                                     : 1;

/// A cell as another type that is no narrower: a number fills all components, a shorter vector the first.
template <class T>
T widened(const Cell& cell) {
    return std::visit(
        [](const auto& from) -> T {
            using From = std::decay_t<decltype(from)>;
            if constexpr (numbers_in<T> == 1 && numbers_in<From> == 1) {
                return static_cast<T>(from);
            } else if constexpr (numbers_in<From> == 1) {
                return T(static_cast<float>(from));
            } else {
                T out(0);
                if constexpr (numbers_in < T >> 1)
                    for (int i = 0; i < std::min(numbers_in<T>, numbers_in<From>); ++i) out[i] = from[i];
                return out;
            }
        },
        cell);
}

Cell blended_cell(const Cell& from, const Cell& to, double share) {
    if (from.index() != to.index()) return share < 0.5 ? from : to;
    return std::visit(
        [&](const auto& a) -> Cell {
            using T = std::decay_t<decltype(a)>;
            const T& b = std::get<T>(to);
            if constexpr (std::is_integral_v<T>)
                return share < 0.5 ? a : b;
            else
                return static_cast<T>(a + (b - a) * static_cast<float>(share));
        },
        from);
}

/// Every name with a cell of the widest type it is carried in, in the order names first appear.
KnotValues names_in(std::span<const KnotValues> rows) {
    KnotValues names;
    for (const KnotValues& row : rows)
        for (const KnotValue& one : row) {
            const auto known = std::ranges::find(names, one.name, &KnotValue::name);
            if (known == names.end())
                names.push_back(one);
            else if (one.value.index() > known->value.index())
                known->value = one.value;
        }
    return names;
}

/// The column of that name, row by row as `cell_of` says.
template <class CellOf>
Column column_of_cells(const KnotValue& like, std::size_t rows, const CellOf& cell_of) {
    return std::visit(
        [&](const auto& widest) -> Column {
            using T = std::decay_t<decltype(widest)>;
            Array<T> column(rows);
            for (std::size_t i = 0; i < rows; ++i) column[i] = widened<T>(cell_of(i));
            return column;
        },
        like.value);
}

Cell cell_in(const KnotValues& row, const KnotValue& like) {
    const KnotValue* found = find_value(row, like.name);
    return found ? found->value : missing(like.value, like.name);
}

std::vector<KnotValues> rows_of_knots(const std::vector<Curve>& curves) {
    std::vector<KnotValues> rows;
    for (const Curve& curve : curves)
        for (const Knot& knot : curve.knots) rows.push_back(knot.values);
    return rows;
}

}  // namespace

KnotValues blended(const KnotValues& from, const KnotValues& to, double share) {
    if (from.empty() && to.empty()) return {};
    KnotValues out;
    for (const KnotValue& a : from) out.push_back({a.name, blended_cell(a.value, cell_in(to, a), share)});
    for (const KnotValue& b : to)
        if (!find_value(from, b.name)) out.push_back({b.name, blended_cell(missing(b.value, b.name), b.value, share)});
    return out;
}

KnotValues of_one_knot(const KnotValues& first, const KnotValues& second) {
    KnotValues out = blended(first, second, 0.5);
    for (KnotValue& one : out) {
        const KnotValue *a = find_value(first, one.name), *b = find_value(second, one.name);
        if (std::holds_alternative<std::uint8_t>(one.value)) {
            const auto in = [](const KnotValue* value) { return value && widened<float>(value->value) > 0; };
            one.value = static_cast<std::uint8_t>(in(a) || in(b));
        } else if (std::holds_alternative<std::int32_t>(one.value) && a) {
            one.value = a->value;
        }
    }
    return out;
}

Attributes columns_of(std::span<const KnotValues> rows, Domain domain) {
    Attributes out;
    for (const KnotValue& like : names_in(rows))
        out.set(domain, like.name,
                column_of_cells(like, rows.size(), [&](std::size_t i) { return cell_in(rows[i], like); }));
    return out;
}

bool knots_carry_values(const std::vector<Curve>& curves) {
    return std::ranges::any_of(curves, [](const Curve& curve) {
        return std::ranges::any_of(curve.knots, [](const Knot& knot) { return !knot.values.empty(); });
    });
}

Attributes columns_of_knots(const std::vector<Curve>& curves, Domain domain) {
    return knots_carry_values(curves) ? columns_of(rows_of_knots(curves), domain) : Attributes{};
}

void give_knots(std::vector<Curve>& curves, std::string_view name, const Column& values) {
    std::visit(
        [&](const auto& column) {
            std::size_t i = 0;
            for (Curve& curve : curves)
                for (Knot& knot : curve.knots) {
                    const auto known = std::ranges::find(knot.values, name, &KnotValue::name);
                    if (known == knot.values.end())
                        knot.values.push_back({std::string(name), column[i]});
                    else
                        known->value = column[i];
                    ++i;
                }
        },
        values);
}

KnotValues values_at(const Attributes& attributes, Domain domain, std::size_t element) {
    KnotValues out;
    for (const Attribute& attribute : attributes.all())
        if (attribute.domain == domain)
            std::visit(
                [&](const auto& column) {
                    out.push_back({attribute.name, column[element]});
                },
                *attribute.values);
    return out;
}

Attributes between_rows(std::span<const KnotValues> rows, std::span<const Index> first, std::span<const Index> second,
                        std::span<const float> share, Domain to) {
    Attributes out;
    for (const KnotValue& like : names_in(rows)) {
        const Cell none = missing(like.value, like.name);
        std::vector<Cell> cells(rows.size(), none);
        for (std::size_t r = 0; r < rows.size(); ++r) cells[r] = cell_in(rows[r], like);
        out.set(to, like.name, column_of_cells(like, first.size(), [&](std::size_t i) {
                    return blended_cell(cells[first[i]], cells[second[i]], static_cast<double>(share[i]));
                }));
    }
    return out;
}

}  // namespace bricol
