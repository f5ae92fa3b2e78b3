// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/command.h"

#include "app/window/main_window.h"
#include "core/ground/numbers.h"

namespace bricol {

namespace {

void say_measures(MainWindow& room) {
    const Session& session = room.session();
    const PartOutcome* part = session.made() ? session.made()->part(session.made_recipe(), session.part()) : nullptr;
    if (!part) return;
    const Measures& m = part->measures;
    room.say(QString("%1: %2 vertices, %3 edges, %4 faces, %5 triangles. Area %6 m²%7, %8, %9 piece(s), Euler "
                     "characteristic %10.")
                 .arg(QString::fromStdString(session.part()))
                 .arg(m.vertices)
                 .arg(m.edges)
                 .arg(m.faces)
                 .arg(m.triangles)
                 .arg(QString::fromStdString(format_number(m.area, 5)),
                      m.volume ? ", volume " + QString::fromStdString(format_number(*m.volume, 5)) + " m³" : "",
                      m.closed ? "closed" : QString("%1 border edges").arg(m.border_edges))
                 .arg(m.pieces)
                 .arg(m.euler),
             false);
}

constexpr Command check_table[] = {
    {.id = "check.findings",
     .text = "All findings",
     .key = "Ctrl+K",
     .run = [](MainWindow& room) { room.show_panel("findings"); }},
    {.id = "check.trace",
     .text = "Trace a spot",
     .key = "Ctrl+L",
     .tip = "Click the result: the steps that made that spot light up, with the numbers that move it",
     .run = [](MainWindow& room) { room.viewport().set_tracing(!room.viewport().tracing()); }},
    {.id = "check.trial",
     .text = "Trial run",
     .key = "Ctrl+Shift+B",
     .tip = "Where the recipe breaks when its dials are turned",
     .run = [](MainWindow& room) { room.show_panel("trial"); }},
    {.id = "check.measures",
     .text = "Measures",
     .key = "Ctrl+M",
     .tip = "Area, volume and whether the part holds together",
     .run = say_measures},
};

}  // namespace

std::span<const Command> check_commands() { return check_table; }

}  // namespace bricol
