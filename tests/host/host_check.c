/* SPDX-License-Identifier: GPL-3.0-or-later */
/* A host in plain C: everything bricol.h promises, and everything a careless one does. Prints what fails. */
#define _DEFAULT_SOURCE
#include <bricol.h>

#include <math.h>
#include <pthread.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

static int failures = 0;
#define CHECK(truth)                                                                       \
    do {                                                                                   \
        if (!(truth)) {                                                                    \
            ++failures;                                                                    \
            printf("%s:%d: %s  (%s)\n", __FILE__, __LINE__, #truth, bricol_problem()); \
        }                                                                                  \
    } while (0)

static const char block[] =
    "{\"bricol\": 1, \"dials\": ["
    "{\"name\": \"girth\", \"value\": 1, \"min\": 0.5, \"max\": 4, \"unit\": \"m\", \"help\": \"across\"},"
    "{\"name\": \"style\", \"kind\": \"choice\", \"value\": \"plain\", \"choices\": [\"plain\", \"tall\"]},"
    "{\"name\": \"lid\", \"kind\": \"toggle\", \"value\": false},"
    "{\"name\": \"paint\", \"kind\": \"colour\", \"value\": [0.2, 0.4, 0.6], \"when\": \"lid\"}],"
    "\"presets\": [{\"name\": \"Big\", \"dials\": {\"girth\": 3}}],"
    "\"parts\": [{\"name\": \"block\", \"steps\": ["
    "{\"id\": \"b\", \"step\": \"box\", \"size\": [\"= girth\", 1, \"= 1 + style\"], \"origin\": \"centre\"},"
    "{\"id\": \"m\", \"step\": \"material\", \"kit\": \"own\", \"colour\": \"= paint\"},"
    "{\"id\": \"a\", \"step\": \"array\", \"count\": 2, \"offset\": [0, 3, 0]}]}]}";

/* A ball that takes seconds: a hundred thousand faces made even. */
static const char slow[] =
    "{\"bricol\": 1, \"parts\": [{\"name\": \"p\", \"steps\": ["
    "{\"id\": \"s\", \"step\": \"sphere\", \"slices\": 400, \"rings\": 300},"
    "{\"id\": \"r\", \"step\": \"remesh\", \"edge\": 0.004}]}]}";

static double width_of(bricol_made* made) {
    bricol_mesh mesh = {sizeof mesh};
    double low = 1e30, high = -1e30;
    size_t v;
    CHECK(bricol_mesh_at(made, 0, &mesh) == BRICOL_GOOD);
    for (v = 0; v < mesh.vertex_count; ++v) {
        low = fmin(low, mesh.positions[3 * v]);
        high = fmax(high, mesh.positions[3 * v]);
    }
    return high - low;
}

static bricol_recipe* opened(const char* text) {
    bricol_recipe* recipe = NULL;
    CHECK(bricol_open_text(text, NULL, &recipe) == BRICOL_GOOD);
    return recipe;
}

static void dials(void) {
    bricol_recipe* recipe = opened(block);
    bricol_dial dial = {sizeof dial};
    bricol_made *made = NULL, *again = NULL;
    CHECK(bricol_dial_count(recipe) == 4);
    CHECK(bricol_dial_at(recipe, 0, &dial) == BRICOL_GOOD);
    CHECK(strcmp(dial.name, "girth") == 0 && dial.value == 1 && dial.low == 0.5 && dial.high == 4);
    CHECK(strcmp(dial.help, "across") == 0 && strcmp(dial.unit, "m") == 0 && dial.kind == BRICOL_DIAL_NUMBER);
    CHECK(bricol_dial_at(recipe, 1, &dial) == BRICOL_GOOD);
    CHECK(dial.kind == BRICOL_DIAL_CHOICE && dial.choice_count == 2 && strcmp(dial.choices[1], "tall") == 0);
    CHECK(bricol_dial_at(recipe, 3, &dial) == BRICOL_GOOD);
    CHECK(dial.kind == BRICOL_DIAL_COLOUR && dial.colour[2] == 0.6 && !dial.shown);

    CHECK(bricol_make(recipe, NULL, &made) == BRICOL_GOOD);
    CHECK(fabs(width_of(made) - 1) < 1e-6);
    CHECK(bricol_set_number(recipe, "girth", 2) == BRICOL_GOOD);
    CHECK(bricol_set_choice(recipe, "style", "tall") == BRICOL_GOOD);
    CHECK(bricol_set_toggle(recipe, "lid", 1) == BRICOL_GOOD);
    CHECK(bricol_set_colour(recipe, "paint", 1, 0.5, 0.25) == BRICOL_GOOD);
    CHECK(bricol_dial_at(recipe, 3, &dial) == BRICOL_GOOD && dial.shown && dial.colour[0] == 1);
    CHECK(bricol_make(recipe, "block", &again) == BRICOL_GOOD);
    CHECK(fabs(width_of(again) - 2) < 1e-6);
    CHECK(fabs(width_of(made) - 1) < 1e-6); /* what was made before is as it was */
    CHECK(bricol_set_text(recipe, "girth", "350 cm") == BRICOL_GOOD);
    CHECK(bricol_dial_at(recipe, 0, &dial) == BRICOL_GOOD && fabs(dial.value - 3.5) < 1e-12);
    CHECK(bricol_preset_count(recipe) == 1 && strcmp(bricol_preset_name(recipe, 0), "Big") == 0);
    CHECK(bricol_apply_preset(recipe, "Big") == BRICOL_GOOD);
    CHECK(bricol_dial_at(recipe, 0, &dial) == BRICOL_GOOD && dial.value == 3);
    bricol_close(recipe);
    CHECK(fabs(width_of(again) - 2) < 1e-6); /* and outlives its recipe */
    bricol_free(made);
    bricol_free(again);
}

static void arrays(void) {
    bricol_recipe* recipe = opened(block);
    bricol_made* made = NULL;
    bricol_mesh mesh = {sizeof mesh};
    bricol_material material = {sizeof material};
    bricol_instance instance = {sizeof instance};
    double volume = 0;
    size_t t, k;
    CHECK(bricol_make(recipe, NULL, &made) == BRICOL_GOOD);
    CHECK(bricol_mesh_count(made) == 1 && bricol_instance_count(made) == 2 && bricol_material_count(made) == 1);
    CHECK(bricol_mesh_at(made, 0, &mesh) == BRICOL_GOOD);
    CHECK(mesh.triangle_count == 12 && mesh.vertex_count == 24 && mesh.uvs && !mesh.colours);
    for (t = 0; t < mesh.triangle_count; ++t) { /* outward: the divergence theorem gives the box */
        const float* p[3];
        for (k = 0; k < 3; ++k) p[k] = mesh.positions + 3 * mesh.triangles[3 * t + k];
        volume += (p[0][0] * (p[1][1] * p[2][2] - p[1][2] * p[2][1]) + p[0][1] * (p[1][2] * p[2][0] - p[1][0] * p[2][2]) +
                   p[0][2] * (p[1][0] * p[2][1] - p[1][1] * p[2][0])) /
                  6;
    }
    CHECK(fabs(volume - 1) < 1e-6);
    for (k = 0; k < mesh.vertex_count; ++k) {
        const float* n = mesh.normals + 3 * k;
        CHECK(fabs(sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]) - 1) < 1e-5);
    }
    CHECK(mesh.run_count == 1 && mesh.runs[0].count == 12 && mesh.runs[0].material == 0);
    CHECK(bricol_material_at(made, 0, &material) == BRICOL_GOOD);
    CHECK(fabs(material.colour[1] - 0.4) < 1e-6);
    CHECK(bricol_instance_at(made, 1, &instance) == BRICOL_GOOD);
    CHECK(strcmp(instance.part, "block") == 0 && instance.place[13] == 3 && instance.tint[0] == 1);
    bricol_free(made);
    bricol_close(recipe);
}

static void carelessness(void) {
    bricol_recipe *recipe = opened(block), *none = NULL;
    bricol_made* made = NULL;
    bricol_dial dial = {sizeof dial};
    bricol_mesh mesh = {0};
    struct {
        size_t size;
        const char* name;
    } old = {sizeof old, NULL}; /* a host of an older version, which knows less */
    CHECK(bricol_open(NULL, &none) == BRICOL_WRONG_USE && bricol_open("x", NULL) == BRICOL_WRONG_USE);
    CHECK(bricol_open("/no/such/file.bricol", &none) == BRICOL_FILE && !none);
    CHECK(strstr(bricol_problem(), "does not exist") != NULL);
    CHECK(bricol_open_text("{", NULL, &none) == BRICOL_FILE && !none);
    CHECK(bricol_set_number(recipe, "girth", 9) == BRICOL_WRONG_USE && strlen(bricol_problem()) > 10);
    CHECK(bricol_set_number(recipe, "girth", NAN) == BRICOL_WRONG_USE);
    CHECK(bricol_set_number(recipe, "girt", 1) == BRICOL_WRONG_USE && strstr(bricol_problem(), "girth") != NULL);
    CHECK(bricol_set_number(recipe, "style", 1) == BRICOL_WRONG_USE);
    CHECK(bricol_set_choice(recipe, "style", "broad") == BRICOL_WRONG_USE && strstr(bricol_problem(), "tall") != NULL);
    CHECK(bricol_set_text(recipe, "girth", "a lot") == BRICOL_WRONG_USE);
    CHECK(bricol_set_number(recipe, NULL, 1) == BRICOL_WRONG_USE && bricol_set_choice(recipe, "style", NULL) == BRICOL_WRONG_USE);
    CHECK(bricol_dial_at(recipe, 4, &dial) == BRICOL_WRONG_USE && bricol_dial_at(recipe, 0, NULL) == BRICOL_WRONG_USE);
    CHECK(bricol_dial_at(recipe, 0, (bricol_dial*)&old) == BRICOL_GOOD && strcmp(old.name, "girth") == 0 && old.size == sizeof old);
    CHECK(bricol_apply_preset(recipe, "Small") == BRICOL_WRONG_USE);
    CHECK(bricol_make(recipe, "lid", &made) == BRICOL_WRONG_USE && !made);
    CHECK(bricol_make(recipe, NULL, NULL) == BRICOL_WRONG_USE);
    CHECK(bricol_make(recipe, NULL, &made) == BRICOL_GOOD);
    CHECK(bricol_mesh_at(made, 0, &mesh) == BRICOL_WRONG_USE); /* without a size */
    CHECK(bricol_write(made, "/no/such/folder/a.glb") == BRICOL_FILE);
    bricol_free(made);
    bricol_free(made); /* twice, and null */
    bricol_free(NULL);
    CHECK(bricol_mesh_count(made) == 0 && bricol_mesh_at(made, 0, &mesh) == BRICOL_WRONG_USE);
    CHECK(bricol_write(made, "a.glb") == BRICOL_WRONG_USE);
    bricol_close(recipe);
    bricol_close(recipe);
    bricol_close(NULL);
    bricol_stop(recipe);
    bricol_stop(NULL);
    CHECK(bricol_dial_count(recipe) == 0 && bricol_make(recipe, NULL, &made) == BRICOL_WRONG_USE);
    CHECK(bricol_preset_name(recipe, 0) == NULL && bricol_set_frame(NULL, 1) == BRICOL_WRONG_USE);
    CHECK(bricol_make((bricol_recipe*)&failures, NULL, &made) == BRICOL_WRONG_USE); /* any pointer at all */
}

static void broken(void) {
    bricol_recipe* recipe = opened(
        "{\"bricol\": 1, \"parts\": [{\"name\": \"p\", \"steps\": [{\"id\": \"b\", \"step\": \"box\", \"size\": [\"= sqrt(0 - "
        "1)\", 1, 1]}]}]}");
    bricol_made* made = NULL;
    bricol_finding finding = {sizeof finding};
    size_t i;
    int errors = 0;
    CHECK(bricol_make(recipe, NULL, &made) == BRICOL_BROKEN && made);
    for (i = 0; i < bricol_finding_count(made); ++i) {
        CHECK(bricol_finding_at(made, i, &finding) == BRICOL_GOOD);
        errors += finding.severity == BRICOL_ERROR && strcmp(finding.step, "b") == 0;
    }
    CHECK(errors > 0);
    bricol_free(made);
    bricol_close(recipe);
}

struct making {
    bricol_recipe* recipe;
    bricol_status status;
};
static void* make_slow(void* given) {
    struct making* making = given;
    bricol_made* made = NULL;
    making->status = bricol_make(making->recipe, NULL, &made);
    bricol_free(made);
    return NULL;
}
static double seconds(void) {
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (double)now.tv_sec + 1e-9 * (double)now.tv_nsec;
}

static void stopped(void) {
    struct making making = {opened(slow), BRICOL_GOOD};
    pthread_t thread;
    struct timespec wait = {0, 150000000};
    double from;
    pthread_create(&thread, NULL, make_slow, &making);
    nanosleep(&wait, NULL);
    from = seconds();
    bricol_stop(making.recipe);
    pthread_join(thread, NULL);
    CHECK(making.status == BRICOL_STOPPED);
    CHECK(seconds() - from < 5);
    bricol_close(making.recipe);
}

static void* make_many(void* given) {
    const int which = *(int*)given;
    int round;
    for (round = 0; round < 20; ++round) {
        bricol_recipe* recipe = opened(block);
        bricol_made* made = NULL;
        const double girth = 0.5 + 0.1 * which + 0.05 * round;
        CHECK(bricol_set_number(recipe, "girth", girth) == BRICOL_GOOD);
        CHECK(bricol_make(recipe, NULL, &made) == BRICOL_GOOD);
        CHECK(fabs(width_of(made) - girth) < 1e-6);
        bricol_free(made);
        bricol_close(recipe);
    }
    return NULL;
}
static void many(void) {
    pthread_t threads[4];
    int numbers[4], i;
    for (i = 0; i < 4; ++i) {
        numbers[i] = i;
        pthread_create(&threads[i], NULL, make_many, &numbers[i]);
    }
    for (i = 0; i < 4; ++i) pthread_join(threads[i], NULL);
}

/* Formulas see `frame` and `seed`; what was made is written by the ending of the file's name. */
static void surroundings(void) {
    bricol_recipe* recipe = opened(
        "{\"bricol\": 1, \"parts\": [{\"name\": \"p\", \"steps\": [{\"id\": \"b\", \"step\": \"box\", \"size\": [\"= 1 + frame + 10 * "
        "seed\", 1, 1]}]}]}");
    bricol_made* made = NULL;
    char path[] = "/tmp/bricol-host-XXXXXX.stl";
    FILE* file;
    int place;
    CHECK(bricol_set_frame(recipe, 2) == BRICOL_GOOD && bricol_set_seed(recipe, 3) == BRICOL_GOOD);
    CHECK(bricol_make(recipe, NULL, &made) == BRICOL_GOOD);
    CHECK(fabs(width_of(made) - 33) < 1e-4);
    place = mkstemps(path, 4);
    CHECK(place >= 0 && bricol_write(made, path) == BRICOL_GOOD);
    file = fopen(path, "rb");
    CHECK(file && fseek(file, 0, SEEK_END) == 0 && ftell(file) == 84 + 12 * 50); /* binary STL: 50 bytes a triangle */
    if (file) fclose(file);
    remove(path);
    bricol_free(made);
    bricol_close(recipe);
}

/* A piece of the demo at the middle of each of its ranges: made, or broken with findings, but never refused. */
static void middles(const char* path) {
    bricol_recipe* recipe = NULL;
    bricol_made* made = NULL;
    bricol_dial dial = {sizeof dial};
    size_t i;
    int turned = 0;
    CHECK(bricol_open(path, &recipe) == BRICOL_GOOD);
    for (i = 0; i < bricol_dial_count(recipe); ++i) {
        CHECK(bricol_dial_at(recipe, i, &dial) == BRICOL_GOOD);
        if (dial.kind != BRICOL_DIAL_NUMBER) continue;
        CHECK(bricol_set_number(recipe, dial.name, strcmp(dial.unit, "count") ? (dial.low + dial.high) / 2 : floor((dial.low + dial.high) / 2)) == BRICOL_GOOD);
        ++turned;
    }
    CHECK(turned > 0);
    CHECK(bricol_make(recipe, NULL, &made) == BRICOL_GOOD && bricol_instance_count(made) > 0);
    bricol_free(made);
    bricol_close(recipe);
}

int main(int count, char** arguments) {
    CHECK(bricol_api_version() == BRICOL_API_VERSION && strlen(bricol_version()) > 2);
    dials();
    arrays();
    carelessness();
    broken();
    surroundings();
    stopped();
    many();
    if (count > 1) { /* the drying rack, with three settings of its own, as a host places it */
        bricol_recipe* rack = NULL;
        double width[3];
        int i;
        CHECK(bricol_open(arguments[1], &rack) == BRICOL_GOOD);
        for (i = 0; i < 3; ++i) {
            bricol_made* made = NULL;
            CHECK(bricol_set_number(rack, "width", 1 + i) == BRICOL_GOOD);
            CHECK(bricol_make(rack, NULL, &made) == BRICOL_GOOD);
            width[i] = width_of(made);
            bricol_free(made);
        }
        CHECK(fabs(width[1] - width[0] - 1) < 1e-5 && fabs(width[2] - width[1] - 1) < 1e-5);
        bricol_close(rack);
    }
    for (; count > 2; --count) middles(arguments[count - 1]);
    if (failures) printf("%d failed\n", failures);
    return failures != 0;
}
