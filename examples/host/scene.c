/* SPDX-License-Identifier: GPL-3.0-or-later */
/* Pieces and the ground they stand on, drawn as plainly as OpenGL 1.1 can. */
#include "host.h"

#include <GL/gl.h>
#include <math.h>
#include <stdio.h>
#include <time.h>

static double milliseconds(void) {
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return 1e3 * (double)now.tv_sec + 1e-6 * (double)now.tv_nsec;
}

void piece_make(struct piece* piece) {
    bricol_made* made = NULL;
    const double from = milliseconds();
    const bricol_status status = bricol_make(piece->recipe, NULL, &made);
    float low = 1e30f, high = -1e30f;
    size_t i, v;
    piece->broken = status != BRICOL_GOOD;
    if (piece->broken) fprintf(stderr, "%s\n", bricol_problem());
    if (!made) return;
    bricol_free(piece->made);
    piece->made = made;
    piece->milliseconds = milliseconds() - from;
    piece->triangles = 0;
    for (i = 0; i < bricol_instance_count(made); ++i) {
        bricol_instance instance = {sizeof instance};
        bricol_mesh mesh = {sizeof mesh};
        if (bricol_instance_at(made, i, &instance) || bricol_mesh_at(made, instance.mesh, &mesh)) continue;
        piece->triangles += mesh.triangle_count;
        for (v = 0; v < mesh.vertex_count; ++v) {
            const float *p = mesh.positions + 3 * v, *m = instance.place;
            const float x = m[0] * p[0] + m[4] * p[1] + m[8] * p[2] + m[12];
            low = fminf(low, x);
            high = fmaxf(high, x);
        }
    }
    piece->width = high > low ? high - low : 0;
}

/* sRGB (IEC 61966-2-1) of a linear colour, for a picture that is not blended in linear light. */
static float screen(float linear) {
    return linear <= 0.0031308f ? 12.92f * linear : 1.055f * powf(linear, 1 / 2.4f) - 0.055f;
}

static void set_material(bricol_made* made, uint32_t number, const float* tint) {
    bricol_material material = {sizeof material};
    float shine[4] = {0, 0, 0, 1};
    int k;
    if (number == UINT32_MAX || bricol_material_at(made, number, &material)) {
        for (k = 0; k < 3; ++k) material.colour[k] = 0.5f;
        material.roughness = 0.9f;
    }
    for (k = 0; k < 3; ++k) shine[k] = 0.4f * (1 - material.roughness);
    glColor4f(screen(material.colour[0] * tint[0]), screen(material.colour[1] * tint[1]),
              screen(material.colour[2] * tint[2]), 1);
    glMaterialfv(GL_FRONT_AND_BACK, GL_SPECULAR, shine);
    glMaterialf(GL_FRONT_AND_BACK, GL_SHININESS, 4 + 60 * (1 - material.roughness));
}

void piece_draw(const struct piece* piece) {
    size_t i, r;
    glPushMatrix();
    glTranslatef(piece->x, piece->y, 0);
    glEnableClientState(GL_VERTEX_ARRAY);
    glEnableClientState(GL_NORMAL_ARRAY);
    for (i = 0; i < bricol_instance_count(piece->made); ++i) {
        bricol_instance instance = {sizeof instance};
        bricol_mesh mesh = {sizeof mesh};
        if (bricol_instance_at(piece->made, i, &instance) || bricol_mesh_at(piece->made, instance.mesh, &mesh)) continue;
        glPushMatrix();
        glMultMatrixf(instance.place);
        glVertexPointer(3, GL_FLOAT, 0, mesh.positions);
        glNormalPointer(GL_FLOAT, 0, mesh.normals);
        for (r = 0; r < mesh.run_count; ++r) {
            set_material(piece->made, mesh.runs[r].material, instance.tint);
            glDrawElements(GL_TRIANGLES, (GLsizei)(3 * mesh.runs[r].count), GL_UNSIGNED_INT,
                           mesh.triangles + 3 * mesh.runs[r].first);
        }
        glPopMatrix();
    }
    glDisableClientState(GL_VERTEX_ARRAY);
    glDisableClientState(GL_NORMAL_ARRAY);
    glPopMatrix();
}

void ground_draw(float reach) {
    int i;
    glDisable(GL_LIGHTING);
    glBegin(GL_QUADS);
    glColor3f(0.56f, 0.57f, 0.55f);
    glVertex3f(-reach, -reach, -0.004f);
    glVertex3f(reach, -reach, -0.004f);
    glColor3f(0.70f, 0.73f, 0.73f);
    glVertex3f(reach, reach, -0.004f);
    glVertex3f(-reach, reach, -0.004f);
    glEnd();
    glBegin(GL_LINES);
    for (i = -(int)reach; i <= (int)reach; ++i) { /* a line a metre */
        glColor3f(0.50f, 0.52f, 0.51f);
        glVertex3f((float)i, -reach, 0);
        glVertex3f((float)i, reach, 0);
        glVertex3f(-reach, (float)i, 0);
        glVertex3f(reach, (float)i, 0);
    }
    glEnd();
    glEnable(GL_LIGHTING);
}
