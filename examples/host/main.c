/* SPDX-License-Identifier: GPL-3.0-or-later */
/* host RECIPE [--picture FILE.ppm]: three pieces of one recipe, each with dials of its own, made again while they are
 * dragged. Drag beside the panel to walk round, the wheel comes nearer, Escape leaves. Says every making on standard
 * output; the last frame is written when it is asked for. */
#include "host.h"

#include <GLFW/glfw3.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { pieces = 3 };

static struct piece piece[pieces];
static struct panel panel = {0, -1};
static double yaw = -0.42, pitch = 0.36, away = 9, last_x, last_y;
static int walking;

/* Side by side, however wide each has become, the row's middle in the middle; gives the row's length. */
static float place_pieces(void) {
    float length = 0;
    int i;
    for (i = 0; i < pieces; ++i) {
        piece[i].x = length + piece[i].width / 2;
        length += piece[i].width + 0.7f;
    }
    length -= 0.7f;
    for (i = 0; i < pieces; ++i) piece[i].x -= length / 2;
    return length;
}

static void make(int number) {
    piece_make(&piece[number]);
    printf("piece %d: %zu triangles, %.3f m wide, %.2f ms\n", number + 1, piece[number].triangles,
           (double)piece[number].width, piece[number].milliseconds);
    place_pieces();
    fflush(stdout);
}

static void on_button(GLFWwindow* window, int button, int action, int keys) {
    (void)keys;
    if (button != GLFW_MOUSE_BUTTON_LEFT) return;
    glfwGetCursorPos(window, &last_x, &last_y);
    walking = action == GLFW_PRESS && last_x >= PANEL_WIDTH;
    if (action == GLFW_RELEASE)
        panel.dragged = -1;
    else if (panel_press(&panel, piece, pieces, last_x, last_y))
        make(panel.chosen);
}

static void on_move(GLFWwindow* window, double x, double y) {
    (void)window;
    if (walking) {
        yaw -= 0.008 * (x - last_x);
        pitch = fmax(0.05, fmin(1.5, pitch + 0.006 * (y - last_y)));
    } else if (panel.dragged >= 0 && panel_drag(&panel, piece, x)) {
        make(panel.chosen);
    }
    last_x = x;
    last_y = y;
}

static void on_wheel(GLFWwindow* window, double x, double y) {
    (void)window, (void)x;
    away = fmax(2, fmin(40, away * pow(0.88, y)));
}

static void on_key(GLFWwindow* window, int key, int code, int action, int keys) {
    (void)code, (void)keys;
    if (key == GLFW_KEY_ESCAPE && action == GLFW_PRESS) glfwSetWindowShouldClose(window, 1);
}

static void look(int width, int height) {
    const double side = 0.02, top = side * height / width;
    glMatrixMode(GL_PROJECTION);
    glLoadIdentity();
    glFrustum(-side, side, -top, top, 0.05, 200);
    glMatrixMode(GL_MODELVIEW);
    glLoadIdentity();
    glTranslatef(0, 0, (float)-away);
    glRotatef((float)(pitch * 57.29578 - 90), 1, 0, 0);
    glRotatef((float)(yaw * 57.29578), 0, 0, 1);
    glTranslatef(0, 0, -0.8f);
}

static void lights(void) {
    static const float sun[4] = {-0.5f, -0.8f, 1.2f, 0}, sky[4] = {0.7f, 0.6f, 0.5f, 0};
    static const float warm[4] = {0.82f, 0.79f, 0.73f, 1}, cool[4] = {0.24f, 0.28f, 0.33f, 1}, ambient[4] = {0.30f, 0.31f, 0.33f, 1};
    glLightModelfv(GL_LIGHT_MODEL_AMBIENT, ambient);
    glLightfv(GL_LIGHT0, GL_POSITION, sun);
    glLightfv(GL_LIGHT0, GL_DIFFUSE, warm);
    glLightfv(GL_LIGHT1, GL_POSITION, sky);
    glLightfv(GL_LIGHT1, GL_DIFFUSE, cool);
    glEnable(GL_LIGHT0);
    glEnable(GL_LIGHT1);
    glEnable(GL_LIGHTING);
    glEnable(GL_COLOR_MATERIAL);
    glEnable(GL_NORMALIZE);
}

static void draw(GLFWwindow* window) {
    int width, height, i;
    glfwGetFramebufferSize(window, &width, &height);
    glClearColor(0.78f, 0.81f, 0.82f, 1);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST);
    glViewport(PANEL_WIDTH, 0, width - PANEL_WIDTH, height);
    look(width - PANEL_WIDTH, height);
    lights();
    ground_draw(14);
    for (i = 0; i < pieces; ++i) piece_draw(&piece[i]);
    glDisable(GL_LIGHTING);
    glDisable(GL_DEPTH_TEST);
    glViewport(0, 0, width, height);
    glMatrixMode(GL_PROJECTION);
    glLoadIdentity();
    glOrtho(0, width, height, 0, -1, 1);
    glMatrixMode(GL_MODELVIEW);
    glLoadIdentity();
    panel_draw(&panel, piece, pieces, height);
}

static int write_picture(GLFWwindow* window, const char* path) {
    int width, height, y;
    unsigned char* bytes;
    FILE* file = fopen(path, "wb");
    if (!file) return 1;
    glfwGetFramebufferSize(window, &width, &height);
    bytes = malloc((size_t)width * (size_t)height * 3);
    glPixelStorei(GL_PACK_ALIGNMENT, 1);
    glReadPixels(0, 0, width, height, GL_RGB, GL_UNSIGNED_BYTE, bytes);
    fprintf(file, "P6\n%d %d\n255\n", width, height);
    for (y = height - 1; y >= 0; --y) fwrite(bytes + (size_t)y * (size_t)width * 3, 3, (size_t)width, file);
    free(bytes);
    return fclose(file) != 0;
}

static int open_pieces(const char* path) {
    int i;
    for (i = 0; i < pieces; ++i) {
        bricol_dial dial = {sizeof dial};
        if (bricol_open(path, &piece[i].recipe)) return 1;
        /* Each begins with another value of the first number among its dials. */
        if (bricol_dial_at(piece[i].recipe, 0, &dial) == BRICOL_GOOD && dial.kind == BRICOL_DIAL_NUMBER)
            bricol_set_number(piece[i].recipe, dial.name, fmin(dial.high, dial.value * (0.7 + 0.35 * i)));
        make(i);
        if (!piece[i].made) return 1;
    }
    away = 2.5 + 1.1 * (double)place_pieces();
    return 0;
}

int main(int count, char** arguments) {
    const char* picture = count == 4 && !strcmp(arguments[2], "--picture") ? arguments[3] : NULL;
    GLFWwindow* window;
    int failed = 0;
    if (count != 2 && !picture) {
        fprintf(stderr, "host RECIPE.bricol [--picture FILE.ppm]\n");
        return 2;
    }
    if (open_pieces(arguments[1])) {
        fprintf(stderr, "%s\n", bricol_problem());
        return 3;
    }
    if (!glfwInit()) {
        fprintf(stderr, "There is no display.\n");
        return 3;
    }
    glfwWindowHint(GLFW_SAMPLES, 4);
    window = glfwCreateWindow(1120, 700, "Three pieces of one recipe", NULL, NULL);
    if (!window) {
        fprintf(stderr, "There is no OpenGL.\n");
        glfwTerminate();
        return 3;
    }
    glfwMakeContextCurrent(window);
    glfwSetMouseButtonCallback(window, on_button);
    glfwSetCursorPosCallback(window, on_move);
    glfwSetScrollCallback(window, on_wheel);
    glfwSetKeyCallback(window, on_key);
    while (!glfwWindowShouldClose(window)) {
        draw(window);
        if (glfwGetKey(window, GLFW_KEY_ESCAPE) != GLFW_PRESS) glfwSwapBuffers(window);
        glfwWaitEventsTimeout(0.05);
    }
    draw(window);
    if (picture) failed = write_picture(window, picture);
    glfwTerminate();
    {
        int i;
        for (i = 0; i < pieces; ++i) {
            bricol_free(piece[i].made);
            bricol_close(piece[i].recipe);
        }
    }
    return failed ? 3 : 0;
}
