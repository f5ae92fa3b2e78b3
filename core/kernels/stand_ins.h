// SPDX-License-Identifier: GPL-3.0-or-later
// Loose points that stand for knots or copies, so that steps written for points choose, move and mark those too.
#pragma once

#include <span>

#include "core/shape/sets.h"
#include "core/shape/shape.h"

namespace bricol {

/// A point for every knot, curve after curve, with what the knots carry. NORMAL is the way out of a closed curve in its
/// own plane, or to the right of an open one (as Offset curve has it); a straight curve's lies in the plane it was
/// drawn on.
Mesh points_of_knots(const std::vector<Curve>& curves);
/// Puts the knots where their points are; handles go along.
void move_knots(std::vector<Curve>& curves, const Array<Vec3>& points);

/// A point for every copy, group after group, with the values that copies carry (those a group has not are 0, colours
/// white). NORMAL is the copy's own upright.
Mesh points_of_copies(const std::vector<Instances>& groups);
/// Puts the copies where their points are; their turn and size stay.
void move_copies(std::vector<Instances>& groups, const Array<Vec3>& points);
/// Gives the copies one of their points' values, by its name.
void give_copies(std::vector<Instances>& groups, const Mesh& points, std::string_view name);
/// Lets another of the copied shapes stand at a place: for every copy, group after group, the number of its new group
/// (all below their count). Places and values stay; groups of which none is left go.
void regroup_copies(std::vector<Instances>& groups, std::span<const std::size_t> wanted);
/// The shape without the copies marked; groups of which none is left go.
void remove_copies(std::vector<Instances>& groups, const Array<std::uint8_t>& gone);
/// The curves without the knots marked; curves of which none is left go, and a closed one of fewer than three is open.
void remove_knots(std::vector<Curve>& curves, const Array<std::uint8_t>& gone);

/// Every attribute that stands on a shape: its mesh's, its knots', and its copies' (of these each name once, with the
/// values of the first group that has it).
Attributes attributes_on(const Shape& shape);
/// Every set that stands on it: its mesh's, its knots' and its copies'.
std::vector<SetInfo> sets_on(const Shape& shape);

}  // namespace bricol
