// SPDX-License-Identifier: GPL-3.0-or-later
#include <QVBoxLayout>

#include "app/kinds/editor.h"
#include "app/details/number_row.h"

namespace bricol {

namespace {

Editor vector_editor(const EditorPlace& place) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    std::array<NumberRow*, 3> rows{};
    for (int i = 0; i < 3; ++i) {
        rows[static_cast<std::size_t>(i)] =
            new NumberRow(*place.session, {place.part, place.step, place.key(), i, ""}, place.info,
                          i == 0 ? place.name() + " x" : QString("      ") + "xyz"[i], box);
        column->addWidget(rows[static_cast<std::size_t>(i)]);
    }
    return {box, [rows, info = place.info](const Values& values) {
                if (const auto* value = value_in<DVec3>(values, info))
                    for (int i = 0; i < 3; ++i) rows[static_cast<std::size_t>(i)]->refresh((*value)[i]);
            }};
}

const EditorOf vector_kind(ParameterKind::vector, vector_editor);

}  // namespace

}  // namespace bricol
