// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/stick_actions.h"

namespace bricol {

namespace {

bool any_stick(const StickTool& t) { return t.chosen_count() > 0; }

constexpr ToolAction<StickTool> actions_on_sticks[] = {
    {"stickPull", "M5 19 L12 12 M5 21a2 2 0 1 0 0-4a2 2 0 1 0 0 4 M12 12 L19 5 M14 5h5v5",
     "Pull out: a pull at a knot draws a new one out of it (Alt moves instead); off, it moves the knot", "D",
     [](StickTool& t) { t.set_pulling_out(!t.pulling_out()); }, nullptr,
     [](const StickTool& t) { return t.pulling_out(); }},
    {"stickSlide", "M3 19 L21 7 M9 15a2 2 0 1 0 0-4a2 2 0 1 0 0 4 M14 6 L17 8 L16 11",
     "Slide: knots go along their bones only", "S", [](StickTool& t) { t.set_sliding(!t.sliding()); }, nullptr,
     [](const StickTool& t) { return t.sliding(); }},
    {"stickInsert", "M3 18 L21 6 M12 7v10 M7 12h10",
     "Insert a knot in the middle of the bone that leads here; or double-click the bone", "I",
     [](StickTool& t) { t.insert_before(); }, any_stick, nullptr},
    {"stickSplit2", "M4 18 L20 6 M8 17a2 2 0 1 0 0-4a2 2 0 1 0 0 4 M16 11a2 2 0 1 0 0-4a2 2 0 1 0 0 4",
     "Split into two along the bone", "2", [](StickTool& t) { t.split(2); }, any_stick, nullptr},
    {"stickSplit3",
     "M3 20 L21 4 M6 19a2 2 0 1 0 0-4a2 2 0 1 0 0 4 M12 14a2 2 0 1 0 0-4a2 2 0 1 0 0 4 M18 9a2 2 0 1 0 0-4a2 2 0 1 0 0 "
     "4",
     "Split into three along the bone", "3", [](StickTool& t) { t.split(3); }, any_stick, nullptr},
    {"stickJoin", "M4 5 L12 12 L4 19 M20 5 L12 12 M12 14a2 2 0 1 0 0-4a2 2 0 1 0 0 4",
     "Join the chosen knots into one, in their middle", "J", [](StickTool& t) { t.join(); },
     [](const StickTool& t) { return t.chosen_count() > 1; }, nullptr},
    {"stickCut", "M4 18 L9 14 M15 10 L20 6 M9 8 L15 16", "Cut the bone that leads here", "X",
     [](StickTool& t) { t.cut(); }, any_stick, nullptr},
    {"stickRoot", "M12 3v10 M12 13 L6 20 M12 13 L18 20 M12 13v8 M9 6h6", "Root: the body is held here when it is posed",
     "R", [](StickTool& t) { t.mark_root(); }, any_stick,
     [](const StickTool& t) { return t.all_chosen(&DrawnStick::root); }},
    {"stickFlat", "M7 20V8h10v12 M4 8h16", "Flat end instead of a round one", "F",
     [](StickTool& t) { t.toggle_flat(); }, any_stick,
     [](const StickTool& t) { return t.all_chosen(&DrawnStick::cut); }},
    {"stickJoint", "M4 20 L12 12 L20 17 M12 14.5a2.5 2.5 0 1 0 0-5a2.5 2.5 0 1 0 0 5 M15 4 A8 8 0 0 1 20 10",
     "Joint: can be turned when the body is posed", "P", [](StickTool& t) { t.toggle_joint(); }, any_stick,
     [](const StickTool& t) { return t.all_chosen(&DrawnStick::joint); }},
    {"stickDelete", "M5 7h14 M9 7V4h6v3 M7 7l1 13h8l1-13",
     "Delete the chosen knots; what hung on one then hangs on the one before", "Del",
     [](StickTool& t) { t.remove_chosen(); }, any_stick, nullptr},
    {nullptr, nullptr, "Choose all knots of the figure", "Ctrl+A", [](StickTool& t) { t.choose_all(); },
     [](const StickTool& t) { return !t.knots().empty(); }, nullptr},
};

}  // namespace

std::span<const ToolAction<StickTool>> stick_actions() { return actions_on_sticks; }

}  // namespace bricol
