// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes to look at while a step is still at work on them.
#pragma once

#include <functional>

#include "core/shape/shape.h"

namespace bricol {

/// Who looks at drafts of the work on this thread while the scope lives; nobody when it is given nothing.
class DraftScope {
public:
    explicit DraftScope(std::function<void(ShapePtr)> seen);
    ~DraftScope();
    DraftScope(const DraftScope&) = delete;
    DraftScope& operator=(const DraftScope&) = delete;

private:
    friend bool draft_wanted();
    friend void show_draft(ShapePtr shape);
    std::function<void(ShapePtr)> seen_;
    DraftScope* before_;
    std::int64_t last_ = 0;  ///< when the last was shown, in ticks of the steady clock
};

/// Whether somebody looks, and the last draft is old enough for another (60 ms). Asked before one is put together.
bool draft_wanted();
/// Shows how far the work is. What is shown is no result: nothing may depend on it.
void show_draft(ShapePtr shape);

}  // namespace bricol
