// SPDX-License-Identifier: GPL-3.0-or-later
// The key map as a page in the room.
#pragma once

class QWidget;

namespace bricol {

/// Lays the key map over the room; Esc or a click on Close takes it away.
void show_key_page(QWidget& room);

}  // namespace bricol
