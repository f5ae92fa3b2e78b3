// SPDX-License-Identifier: GPL-3.0-or-later
// A dial as it stands in the panel: a number with its slider, a row of words, a box to tick, a swatch.
#pragma once

#include <QWidget>
#include <functional>

#include "app/document/session.h"

namespace bricol {

/// "bollard_height" → "Bollard height"
QString spoken_dial(const std::string& name);
Quantity dial_quantity(const Dial& dial);
/// The unit in which its numbers are shown.
QString dial_unit(const Session& session, const Dial& dial);

struct DialRow {
    QWidget* line = nullptr;
    std::function<void(const Dial&)> show;  ///< the dial as it stands now
};

/// `open_menu` opens the dial's menu below the widget it is given.
DialRow make_dial_row(Session& session, const Dial& dial, const std::function<void(QWidget*)>& open_menu);

}  // namespace bricol
