// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet/sheet_actions.h"

namespace bricol {

namespace {

constexpr ToolAction<StepSheet> actions_on_sheet[] = {
    {nullptr, nullptr, "Find a step and add it where the pointer is", "/", [](StepSheet& t) { t.add_at_pointer(); }},
    {nullptr, nullptr, "Swap the first two inputs", "X", [](StepSheet& t) { t.swap_inputs(); }},
    {nullptr, nullptr, "Put a frame round the chosen cards", "F", [](StepSheet& t) { t.frame_chosen(); }},
    {nullptr, nullptr, "Find a card by its name, note or kind", "Ctrl+F", [](StepSheet& t) { t.find(); }},
    {nullptr, nullptr, "Tidy what was not placed by hand", "T", [](StepSheet& t) { t.tidy(false); }},
    {nullptr, nullptr, "Tidy everything", "Shift+T", [](StepSheet& t) { t.tidy(true); }},
    {nullptr, nullptr, "Fit the chosen cards, or all", "Home", [](StepSheet& t) { t.fit(t.chosen().size() > 1); }},
    {nullptr, nullptr, "Fit all cards", "Shift+Home", [](StepSheet& t) { t.fit(false); }},
    {nullptr, nullptr, "Pack the chosen steps into one", "Ctrl+P", [](StepSheet& t) { t.pack_chosen(); }},
    {nullptr, nullptr, "The overview, on or off", "O", [](StepSheet& t) { t.set_overview(!t.overview()); }},
    {nullptr, nullptr, "Closer", "+", [](StepSheet& t) { t.zoom_by(1.18, t.rect().center()); }},
    {nullptr, nullptr, "Farther", "-", [](StepSheet& t) { t.zoom_by(1 / 1.18, t.rect().center()); }},
};

}  // namespace

std::span<const ToolAction<StepSheet>> sheet_actions() { return actions_on_sheet; }

}  // namespace bricol
