// SPDX-License-Identifier: GPL-3.0-or-later
// Attributes and sets of knots, as columns over all of them and between two of them.
#pragma once

#include "core/shape/attributes.h"
#include "core/shape/curve.h"

namespace bricol {

/// What is carried at a share 0 to 1 of the way between two knots: numbers, vectors and colours blend; whole numbers
/// and sets are those of the nearer. One that only one of them has is 0 (COLOR_0 white) at the other.
KnotValues blended(const KnotValues& from, const KnotValues& to, double share);

/// What one knot carries in place of two that meet in it: numbers, vectors and colours of the middle, whole numbers of
/// the first, and every set that one of them is in.
KnotValues of_one_knot(const KnotValues& first, const KnotValues& second);

/// Every row's values as columns on `domain`, in the order names first appear. Rows without a name have 0 there
/// (COLOR_0 white). Where rows differ in type the widest holds all: bool, int, float, then vectors.
Attributes columns_of(std::span<const KnotValues> rows, Domain domain);
/// The same over the knots of curves, curve after curve; cheap when none carries anything.
Attributes columns_of_knots(const std::vector<Curve>& curves, Domain domain = Domain::knot);
bool knots_carry_values(const std::vector<Curve>& curves);

/// Gives every knot, curve after curve, its cell of a column as long as there are knots.
void give_knots(std::vector<Curve>& curves, std::string_view name, const Column& values);
/// The values of one element of a domain.
KnotValues values_at(const Attributes& attributes, Domain domain, std::size_t element);

/// Columns of `rows` blended for each new element between two of them; `share` 0 is the first. On `to`.
Attributes between_rows(std::span<const KnotValues> rows, std::span<const Index> first, std::span<const Index> second,
                        std::span<const float> share, Domain to);

}  // namespace bricol
