/* SPDX-License-Identifier: GPL-3.0-or-later */
/* The dials of the chosen piece as bars that are dragged. Texts are drawn with stb_easy_font. */
#include "host.h"

#include <GL/gl.h>
#include <stdio.h>
#include <string.h>

#include <stb/stb_easy_font.h>

enum { margin = 16, first = 96, row = 40, bar = 20 };

static void box(float x, float y, float w, float h, float red, float green, float blue) {
    glColor3f(red, green, blue);
    glBegin(GL_QUADS);
    glVertex2f(x, y);
    glVertex2f(x + w, y);
    glVertex2f(x + w, y + h);
    glVertex2f(x, y + h);
    glEnd();
}

static void text(float x, float y, float size, const char* words) {
    static char vertices[60000];
    const int quads = stb_easy_font_print(0, 0, (char*)words, NULL, vertices, sizeof vertices);
    glPushMatrix();
    glTranslatef(x, y, 0);
    glScalef(size, size, 1);
    glEnableClientState(GL_VERTEX_ARRAY);
    glVertexPointer(2, GL_FLOAT, 16, vertices);
    glDrawArrays(GL_QUADS, 0, 4 * quads);
    glDisableClientState(GL_VERTEX_ARRAY);
    glPopMatrix();
}

static int is_bar(const bricol_dial* dial) { return dial->kind != BRICOL_DIAL_COLOUR && dial->shown; }

/* The dial whose bar lies at a height, or -1. */
static int dial_at(const struct piece* piece, double y) {
    const size_t count = bricol_dial_count(piece->recipe);
    size_t i;
    int place = 0;
    for (i = 0; i < count; ++i) {
        bricol_dial dial = {sizeof dial};
        if (bricol_dial_at(piece->recipe, i, &dial) || !is_bar(&dial)) continue;
        if (y >= first + place * row && y < first + place * row + bar + 14) return (int)i;
        ++place;
    }
    return -1;
}

static void words_of(const bricol_dial* dial, char* out, size_t size) {
    if (dial->kind == BRICOL_DIAL_CHOICE)
        snprintf(out, size, "%s", dial->choices[(size_t)dial->value]);
    else if (dial->kind == BRICOL_DIAL_TOGGLE)
        snprintf(out, size, "%s", dial->value != 0 ? "yes" : "no");
    else
        snprintf(out, size, "%.4g %s", dial->value, strcmp(dial->unit, "count") ? dial->unit : "");
}

void panel_draw(const struct panel* panel, const struct piece* pieces, int count, int height) {
    const struct piece* piece = &pieces[panel->chosen];
    const size_t dials = bricol_dial_count(piece->recipe);
    char line[160];
    size_t i;
    int k, place = 0;
    box(0, 0, PANEL_WIDTH, (float)height, 0.16f, 0.18f, 0.19f);
    for (k = 0; k < count; ++k) {
        const float w = (PANEL_WIDTH - 2.f * margin) / (float)count;
        const int on = k == panel->chosen;
        box(margin + (float)k * w, 16, w - 6, 30, on ? 0.62f : 0.26f, on ? 0.44f : 0.29f, on ? 0.20f : 0.30f);
        glColor3f(0.94f, 0.94f, 0.92f);
        snprintf(line, sizeof line, "piece %d", k + 1);
        text(margin + (float)k * w + 12, 26, 1.4f, line);
    }
    glColor3f(0.72f, 0.75f, 0.75f);
    snprintf(line, sizeof line, "%zu triangles, made in %.1f ms%s", piece->triangles, piece->milliseconds,
             piece->broken ? ", with errors" : "");
    text(margin, 64, 1.3f, line);
    for (i = 0; i < dials; ++i) {
        bricol_dial dial = {sizeof dial};
        const float top = first + (float)(place * row);
        char value[64];
        double share;
        if (bricol_dial_at(piece->recipe, i, &dial) || !is_bar(&dial)) continue;
        share = dial.high > dial.low ? (dial.value - dial.low) / (dial.high - dial.low) : 0;
        box(margin, top + 14, PANEL_WIDTH - 2 * margin, bar - 8, 0.25f, 0.28f, 0.29f);
        box(margin, top + 14, (float)share * (PANEL_WIDTH - 2 * margin), bar - 8, 0.62f, 0.44f, 0.20f);
        glColor3f(0.90f, 0.91f, 0.89f);
        words_of(&dial, value, sizeof value);
        snprintf(line, sizeof line, "%s  %s", dial.name, value);
        text(margin, top, 1.3f, line);
        ++place;
    }
}

int panel_press(struct panel* panel, struct piece* pieces, int count, double x, double y) {
    panel->dragged = -1;
    if (x >= PANEL_WIDTH) return 0;
    if (y >= 16 && y < 46) {
        const int chosen = (int)((x - margin) / ((PANEL_WIDTH - 2. * margin) / count));
        if (chosen >= 0 && chosen < count) panel->chosen = chosen;
        return 0;
    }
    panel->dragged = dial_at(&pieces[panel->chosen], y);
    return panel_drag(panel, pieces, x);
}

int panel_drag(struct panel* panel, struct piece* pieces, double x) {
    struct piece* piece = &pieces[panel->chosen];
    bricol_dial dial = {sizeof dial};
    double share = (x - margin) / (PANEL_WIDTH - 2. * margin), value;
    bricol_status status = BRICOL_GOOD;
    if (panel->dragged < 0 || bricol_dial_at(piece->recipe, (size_t)panel->dragged, &dial)) return 0;
    share = share < 0 ? 0 : share > 1 ? 1 : share;
    value = dial.low + share * (dial.high - dial.low);
    if (dial.kind == BRICOL_DIAL_TOGGLE)
        status = bricol_set_toggle(piece->recipe, dial.name, share > 0.5);
    else if (dial.kind == BRICOL_DIAL_CHOICE)
        status = bricol_set_choice(piece->recipe, dial.name, dial.choices[(size_t)(value + 0.5)]);
    else
        status = bricol_set_number(piece->recipe, dial.name, strcmp(dial.unit, "count") ? value : (double)(long)(value + 0.5));
    if (status) fprintf(stderr, "%s\n", bricol_problem());
    return status == BRICOL_GOOD;
}
