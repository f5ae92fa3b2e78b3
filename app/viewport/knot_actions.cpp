// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/knot_actions.h"

namespace bricol {

namespace {

bool any_knot(const KnotTool& t) { return t.chosen_count() > 0; }
bool several(const KnotTool& t) { return t.chosen_count() > 1; }

constexpr ToolAction<KnotTool> actions_on_knots[] = {
    {"knotDraw", "M4 20 L5 15 L16 4 L20 8 L9 19z M14 6 L18 10",
     "Draw: click to set knots, hold Shift for straight runs, pull for a smooth one; goes on from the chosen end", "D",
     [](KnotTool& t) { t.set_drawing(!t.drawing()); }, nullptr, [](const KnotTool& t) { return t.drawing(); }},
    {"knotCorner", "M4 18 L12 6 L20 18 M12 3.5 L14.5 6 L12 8.5 L9.5 6z", "Corner", "1",
     [](KnotTool& t) { t.set_kind(KnotKind::corner); }, any_knot,
     [](const KnotTool& t) { return t.chosen_kind() == KnotKind::corner; }},
    {"knotSmooth", "M4 18 C6 6 18 6 20 18 M12 6.5a2.5 2.5 0 1 0 0.01 5z", "Smooth: handles in one line", "2",
     [](KnotTool& t) { t.set_kind(KnotKind::smooth); }, any_knot,
     [](const KnotTool& t) { return t.chosen_kind() == KnotKind::smooth; }},
    {"knotFree", "M4 18 C4 12 8 8 12 8 C14 14 18 18 20 18 M9.8 5.8h4.4v4.4h-4.4z",
     "Free: two handles that do not know each other", "3", [](KnotTool& t) { t.set_kind(KnotKind::free); }, any_knot,
     [](const KnotTool& t) { return t.chosen_kind() == KnotKind::free; }},
    {"knotClosed", "M6 7 C12 2 20 8 18 15 C16 21 6 20 5 13 C4.8 10 5 8.5 6 7z", "Closed curve", nullptr,
     [](KnotTool& t) { t.set_closed(!t.closed()); }, nullptr, [](const KnotTool& t) { return t.closed(); }},
    {"knotInsert", "M3 18 L21 6 M12 7v10 M7 12h10",
     "Insert a knot between chosen neighbours; or double-click the curve", "I", [](KnotTool& t) { t.insert_between(); },
     several, nullptr},
    {"knotAlignAcross", "M12 3v18 M7 7h10v3h-10z M5 14h14v3h-14z", "Align: the same place across", nullptr,
     [](KnotTool& t) { t.align(0); }, several, nullptr},
    {"knotAlignUp", "M3 12h18 M7 7v10h3v-10z M14 5v14h3v-14z", "Align: the same height", nullptr,
     [](KnotTool& t) { t.align(1); }, several, nullptr},
    {"knotSplit", "M3 18 L10 11 M14 7 L21 3 M9 8 L15 14 M8 13.4h3v3", "Split the curve at the chosen knots", nullptr,
     [](KnotTool& t) { t.split(); }, any_knot, nullptr},
    {"knotJoin", "M3 19 L9 12 M21 5 L15 12 M9 12 C10 9 14 15 15 12",
     "Join the chosen end to the nearest end of another curve", nullptr, [](KnotTool& t) { t.join(); },
     [](const KnotTool& t) { return t.curves().size() > 1; }, nullptr},
    {"knotReverse", "M4 9h15 M15 5 L19 9 L15 13 M20 16H6", "Reverse: the end becomes the start", nullptr,
     [](KnotTool& t) { t.reverse(); }, [](const KnotTool& t) { return !t.curves().empty(); }, nullptr},
    {"knotDelete", "M5 7h14 M9 7V4h6v3 M7 7l1 13h8l1-13", "Delete the chosen knots", "Del",
     [](KnotTool& t) { t.remove_chosen(); }, any_knot, nullptr},
    {"knotWidths", "M12 4a8 8 0 1 0 0.01 0z M12 12 L17 7 M15.5 5.5h3v3h-3z",
     "Width and roll of the chosen knots: pull the grip out, or round", "W",
     [](KnotTool& t) { t.set_width_handles(!t.width_handles()); }, nullptr,
     [](const KnotTool& t) { return t.width_handles(); }},
    {"knotComb", "M4 18 C9 8 15 8 20 18 M6 14.6 L3.5 12 M9 11.4 L8 7.5 M12 10.5 V6 M15 11.4 L16 7.5 M18 14.6 L20.5 12",
     "Comb: how strongly the curve bends", "C", [](KnotTool& t) { t.set_comb(!t.comb()); }, nullptr,
     [](const KnotTool& t) { return t.comb(); }},
    {"knotSurfaces", "M3 17 C8 12 16 12 21 17 M12 4v7 M9.5 9 L12 11.5 L14.5 9",
     "On surfaces: knots are set on what other parts show under the pointer", "S",
     [](KnotTool& t) { t.set_on_surfaces(!t.on_surfaces()); }, nullptr,
     [](const KnotTool& t) { return t.on_surfaces(); }},
    {"knotPlane", "M4 15 L9 7 L20 9 L15 17z M12.5 12 L15 3 M12.8 4.6 L15 3 L16.6 5",
     "Draw on a face: click a face of another part to draw in its plane; what is drawn goes along", "F",
     [](KnotTool& t) { t.set_choosing_plane(!t.choosing_plane()); }, [](const KnotTool& t) { return t.has_plane(); },
     [](const KnotTool& t) { return t.choosing_plane(); }},
    {nullptr, nullptr, "Choose all knots of the curve", "Ctrl+A", [](KnotTool& t) { t.choose_all(); },
     [](const KnotTool& t) { return !t.curves().empty(); }, nullptr},
};

}  // namespace

std::span<const ToolAction<KnotTool>> knot_actions() { return actions_on_knots; }

}  // namespace bricol
