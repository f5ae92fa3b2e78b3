// SPDX-License-Identifier: GPL-3.0-or-later
// What feeds the inputs of a step.
#pragma once

#include <QVBoxLayout>
#include <functional>

#include "app/document/session.h"

namespace bricol {

/// A row per input that can be chosen, at the end of `rows`. `refused` is called when a link was not taken.
void add_input_rows(Session& session, const Step& step, const StepInfo& info, QVBoxLayout* rows,
                    std::function<void()> refused);

}  // namespace bricol
