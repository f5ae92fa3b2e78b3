/* SPDX-License-Identifier: GPL-3.0-or-later */
/* A small host: an engine's place is taken by a ground, three pieces of one recipe, and their dials. */
#ifndef HOST_H
#define HOST_H

#include <bricol.h>

/* A recipe that stands on the ground. */
struct piece {
    bricol_recipe* recipe;
    bricol_made* made;
    float x, y;        /* where it stands, metres */
    float width;       /* of its box, metres */
    double milliseconds; /* its last making took */
    size_t triangles;
    int broken;
};

/* Makes it again; the old shape stays when that fails. */
void piece_make(struct piece* piece);
void piece_draw(const struct piece* piece);
void ground_draw(float reach);

/* The panel on the left, `height` pixels high. */
#define PANEL_WIDTH 280
struct panel {
    int chosen;  /* piece */
    int dragged; /* dial, or -1 */
};
void panel_draw(const struct panel* panel, const struct piece* pieces, int count, int height);
/* The mouse went down, or moved while it is down; whether a dial was turned. */
int panel_press(struct panel* panel, struct piece* pieces, int count, double x, double y);
int panel_drag(struct panel* panel, struct piece* pieces, double x);

#endif
