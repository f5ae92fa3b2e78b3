// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/pick_actions.h"

#include <algorithm>

namespace bricol {

namespace {

bool in_hand(const PickTool& t) { return t.picking(); }
bool any(const PickTool& t) { return t.picking() && !t.elements().empty(); }
bool offers(const PickTool& t, Domain kind) { return std::ranges::find(t.kinds(), kind) != t.kinds().end(); }

constexpr ToolAction<PickTool> actions_on_picks[] = {
    {"pickOn", "M5 4 L12 20 L14 13 L20 11z", "Pick in the view: click, or drag; Shift adds, Ctrl takes away", "D",
     [](PickTool& t) { t.set_picking(!t.picking()); }, nullptr, [](const PickTool& t) { return t.picking(); }},
    {"pickThrough", "M4 8h10v10h-10z M8 4h12v12h-3 M8 4v2", "See-through: what is hidden behind can be picked too", "T",
     [](PickTool& t) { t.set_see_through(!t.see_through()); }, in_hand,
     [](const PickTool& t) { return t.see_through(); }},
    {"pickVertices", "M5 18 L12 6 L19 18 M12 3.6a2.4 2.4 0 1 0 0.01 4.8z", "Vertices", "1",
     [](PickTool& t) { t.set_kind(Domain::vertex); },
     [](const PickTool& t) { return t.picking() && offers(t, Domain::vertex); },
     [](const PickTool& t) { return t.kind() == Domain::vertex; }},
    {"pickEdges", "M5 18 L12 5 M6 19.5 L13 6.5 M12 5 L19 18 L5 18", "Edges; double-click picks a loop", "2",
     [](PickTool& t) { t.set_kind(Domain::edge); },
     [](const PickTool& t) { return t.picking() && offers(t, Domain::edge); },
     [](const PickTool& t) { return t.kind() == Domain::edge; }},
    {"pickFaces", "M5 18 L12 5 L19 18z M8.5 16 L12 9.5 M11 16 L13.6 11.6 M13.6 16 L15 13.8", "Faces", "3",
     [](PickTool& t) { t.set_kind(Domain::face); },
     [](const PickTool& t) { return t.picking() && offers(t, Domain::face); },
     [](const PickTool& t) { return t.kind() == Domain::face; }},
    {"pickBox", "M4 6h3 M9 6h3 M14 6h3 M19 6v3 M19 11v3 M19 16v2h-3 M13 18h-3 M8 18h-3 M4 16v-3 M4 11v-3", "Drag a box",
     "B", [](PickTool& t) { t.set_with(PickWith::box); }, in_hand,
     [](const PickTool& t) { return t.with() == PickWith::box; }},
    {"pickLasso",
     "M12 5 C18 5 20 8 20 10 C20 14 16 15 12 15 C7 15 4 13 4 10 C4 7 7 5 12 5z M8 14.5 C6 16 7 18 9 18 C10.5 18 10.5 "
     "20 9 20.5",
     "Draw a lasso", "O", [](PickTool& t) { t.set_with(PickWith::lasso); }, in_hand,
     [](const PickTool& t) { return t.with() == PickWith::lasso; }},
    {"pickPaint",
     "M19 4 L12 11 L14 13 L20 6z M11 12 C8 12 7.5 14.5 7 16 C6.6 17.4 5.5 18 4 18.5 C8 20.5 13 19 13.5 14.5z",
     "Paint with a brush", "I", [](PickTool& t) { t.set_with(PickWith::paint); }, in_hand,
     [](const PickTool& t) { return t.with() == PickWith::paint; }},
    {"pickLoop", "M4 12a8 4 0 1 0 16 0a8 4 0 1 0 -16 0 M12 16v4 M12 4v4", "Whole loops of the picked edges", "L",
     [](PickTool& t) { t.loop(); }, [](const PickTool& t) { return any(t) && t.kind() == Domain::edge; }, nullptr},
    {"pickRing", "M4 9 C9 6 15 6 20 9 M4 16 C9 13 15 13 20 16 M7 8v6.6 M12 7v6.6 M17 8v6.6",
     "Whole rings of the picked edges", "R", [](PickTool& t) { t.ring(); },
     [](const PickTool& t) { return any(t) && t.kind() == Domain::edge; }, nullptr},
    {"pickAlike", "M4 17 L10 14 L16 17 L10 20z M10 11V4 M7.5 6.5 L10 4 L12.5 6.5 M17 13V7 M15.4 8.8 L17 7 L18.6 8.8",
     "All faces that look the same way", "F", [](PickTool& t) { t.same_facing(); },
     [](const PickTool& t) { return any(t) && t.kind() == Domain::face; }, nullptr},
    {"pickGrow", "M9 9h6v6h-6z M12 6V3 M12 21v-3 M6 12H3 M21 12h-3", "Grow by one row", "+",
     [](PickTool& t) { t.grow(); }, any, nullptr},
    {"pickShrink", "M9 9h6v6h-6z M12 3v3 M10.5 4.7 L12 6.2 L13.5 4.7 M12 21v-3 M3 12h3 M21 12h-3", "Shrink by one row",
     "-", [](PickTool& t) { t.shrink(); }, any, nullptr},
    {"pickClear", "M5 7h14 M9 7V4h6v3 M7 7l1 13h8l1-13", "Forget the picks", "Del", [](PickTool& t) { t.clear(); },
     [](const PickTool& t) { return t.picking() && !t.elements().empty(); }, nullptr},
    {nullptr, nullptr, "Pick everything", "Ctrl+A", [](PickTool& t) { t.everything(); }, in_hand, nullptr},
};

}  // namespace

std::span<const ToolAction<PickTool>> pick_actions() { return actions_on_picks; }

}  // namespace bricol
