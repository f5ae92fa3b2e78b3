// SPDX-License-Identifier: GPL-3.0-or-later
// Formulas on the elements of a shape: what they can read there, and writing what they say.
#pragma once

#include "core/formula/field.h"
#include "core/shape/sets.h"
#include "core/shape/shape.h"
#include "core/shape/selection.h"

namespace bricol {

/// A name a formula can read on a domain, and what it is.
struct ElementName {
    std::string name, help;
};
/// Every name on that domain of this shape: its place, normal and number, and its attributes; vectors by component
/// (`flow.x`, colours also by `.r .g .b .a`). On instances those of the first group.
std::vector<ElementName> element_names(const Shape& shape, Domain domain);

/// What went wrong in a row; the other rows were still worked out.
struct RowProblem {
    std::size_t row = 0;
    std::string code;  ///< "unknown-name", "bad-formula", "bad-target", "not-finite", "wrong-domain"
    std::string text;
    std::string missing;  ///< the name that is not there, when one is not
    std::string nearest;  ///< the name that may have been meant
    std::vector<Vec3> places;
};
struct RowsResult {
    Shape shape;
    std::vector<RowProblem> problems;
};
/// Works the rows out one after another and writes them to the elements that `only`
/// marks. Targets are x, y, z, nx, ny, nz, u, v as the domain has them, or an attribute: an existing
/// one keeps its type; a new one is a float, or a vec3 (vec4 for COLOR_0) when named by component. An element whose
/// value is not finite keeps what it had. Rows see places and normals as they came in, so that x, y and z can be worked
/// out from one another, and attributes as the rows before left them. Targets that start with `_` are only remembered
/// for later rows.
RowsResult with_rows(const Shape& shape, Domain domain, std::span<const FormulaRow> rows, const Selection& only);

/// One value per element by a formula, as for a rule; empty with a problem when it cannot be read.
Result<Array<float>> values_by_formula(const Shape& shape, Domain domain, const FormulaRow& row,
                                       std::vector<RowProblem>& problems);

/// The domain that has an attribute, when the wanted one has not; "vertex" and so on, or empty.
std::string domain_with(const Shape& shape, std::string_view attribute, Domain not_on);

}  // namespace bricol
