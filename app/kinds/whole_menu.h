// SPDX-License-Identifier: GPL-3.0-or-later
// The button beside a setting that is no number: it makes the whole setting a dial, or takes one that is there.
#pragma once

#include "app/kinds/editor.h"

namespace bricol {

/// Puts the button at the end of a setting's row, in the margin that rows without one leave free.
void add_whole_menu(QHBoxLayout* row, const EditorPlace& place);

}  // namespace bricol
