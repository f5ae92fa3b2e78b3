// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/editor.h"
#include "app/details/number_row.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

Editor number_editor(const EditorPlace& place) {
    auto* row =
        new NumberRow(*place.session, {place.part, place.step, place.key(), -1, ""}, place.info, place.name(), nullptr);
    return {row, [row, info = place.info](const Values& values) {
                if (const auto* value = value_in<double>(values, info)) row->refresh(*value);
            }};
}

const EditorOf number_kind(ParameterKind::number, number_editor);

}  // namespace

}  // namespace bricol
