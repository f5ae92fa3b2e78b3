// SPDX-License-Identifier: GPL-3.0-or-later
// What a dial is: its name, kind, range or words, heading, when it is shown, help.
#pragma once

#include <QFrame>
#include <functional>

#include "app/document/session.h"

namespace bricol {

/// `done` is called when the changed dial was taken.
QFrame* make_dial_form(Session& session, const Dial& dial, const std::function<void()>& done);

}  // namespace bricol
