/* SPDX-License-Identifier: GPL-3.0-or-later */
/* Bricol's recipes made by other programs: open one, turn its dials, make it, take the arrays.
 *
 * Plain C. No function throws or ends the program; each says how it went, and bricol_problem() says it in words. Handles
 * are numbers that are never used twice: one that was freed, or null, is refused and does no harm. Different recipes may
 * be used from different threads at once; one recipe is worked on by one thread at a time, others wait (bricol_stop does
 * not). Lengths are metres, angles degrees, colours linear 0..1, z points up, triangles turn against the clock seen from
 * outside, UVs have their origin at the bottom left.
 *
 * Every struct begins with its size, which the caller sets: newer versions add fields at the end alone. */
#ifndef BRICOL_H
#define BRICOL_H

#include <stddef.h>
#include <stdint.h>

#if defined(__GNUC__)
#define BRICOL_API __attribute__((visibility("default")))
#else
#define BRICOL_API
#endif

#ifdef __cplusplus
extern "C" {
#endif

/* Grows when functions or fields are added; what was there stays. */
#define BRICOL_API_VERSION 1
BRICOL_API uint32_t bricol_api_version(void);
/* The program's own version, "0.1.0". */
BRICOL_API const char* bricol_version(void);

typedef enum bricol_status {
    BRICOL_GOOD = 0,
    BRICOL_BROKEN = 1,    /* made, but the recipe has error findings; what could be made is there */
    BRICOL_WRONG_USE = 2, /* a handle, name, number or pointer that cannot be */
    BRICOL_FILE = 3,      /* a file that cannot be read or written */
    BRICOL_STOPPED = 4,   /* bricol_stop was called */
    BRICOL_MEMORY = 5     /* there was not enough */
} bricol_status;

typedef struct bricol_recipe bricol_recipe;
typedef struct bricol_made bricol_made;

/* What went wrong in this thread's last call that did not return BRICOL_GOOD, in a sentence or two; never null. Holds
 * until the thread's next such call. */
BRICOL_API const char* bricol_problem(void);

/* Opens a recipe file, or the text of one (UTF-8); `folder` is where kits and drawings it names are looked for, null for
 * none. Kits and drawings outside the recipe's folder are not read. */
BRICOL_API bricol_status bricol_open(const char* path, bricol_recipe** out);
BRICOL_API bricol_status bricol_open_text(const char* text, const char* folder, bricol_recipe** out);
BRICOL_API void bricol_close(bricol_recipe* recipe);

/* ---- Dials ---- */

typedef enum bricol_dial_kind {
    BRICOL_DIAL_NUMBER = 0,
    BRICOL_DIAL_CHOICE = 1, /* `value` is the place in `choices` */
    BRICOL_DIAL_TOGGLE = 2, /* `value` is 0 or 1 */
    BRICOL_DIAL_COLOUR = 3
} bricol_dial_kind;

/* Texts hold until the recipe is closed or one of its dials is turned. */
typedef struct bricol_dial {
    size_t size;
    const char* name;
    const char* heading; /* the group it stands in; empty for none */
    const char* help;
    const char* unit; /* "m", "deg", "count" for whole numbers, or empty */
    bricol_dial_kind kind;
    int shown; /* 0 while the recipe hides it because of another dial */
    double value, low, high;
    double colour[3];
    size_t choice_count;
    const char* const* choices;
} bricol_dial;

BRICOL_API size_t bricol_dial_count(bricol_recipe* recipe);
BRICOL_API bricol_status bricol_dial_at(bricol_recipe* recipe, size_t index, bricol_dial* out);
/* Numbers outside the range are refused, as are other kinds of dials. */
BRICOL_API bricol_status bricol_set_number(bricol_recipe* recipe, const char* dial, double value);
BRICOL_API bricol_status bricol_set_choice(bricol_recipe* recipe, const char* dial, const char* word);
BRICOL_API bricol_status bricol_set_toggle(bricol_recipe* recipe, const char* dial, int on);
BRICOL_API bricol_status bricol_set_colour(bricol_recipe* recipe, const char* dial, double red, double green,
                                           double blue);
/* As a person types it: "110 cm", "fluted", "yes", "#7a4b20". */
BRICOL_API bricol_status bricol_set_text(bricol_recipe* recipe, const char* dial, const char* text);

BRICOL_API size_t bricol_preset_count(bricol_recipe* recipe);
BRICOL_API const char* bricol_preset_name(bricol_recipe* recipe, size_t index); /* null beyond the last */
BRICOL_API bricol_status bricol_apply_preset(bricol_recipe* recipe, const char* name);

/* What formulas see as `frame` and `seed`. */
BRICOL_API bricol_status bricol_set_frame(bricol_recipe* recipe, double frame);
BRICOL_API bricol_status bricol_set_seed(bricol_recipe* recipe, double seed);

/* ---- Making ---- */

/* Makes the parts that are delivered, or one part (`part` not null). Only what has changed since the last time is made
 * again. What comes out is independent of the recipe: it holds until it is freed, whatever happens to the recipe. With
 * BRICOL_BROKEN `out` is set, with everything else that is not BRICOL_GOOD it is null. */
BRICOL_API bricol_status bricol_make(bricol_recipe* recipe, const char* part, bricol_made** out);
/* From any thread: ends the making that is under way in this recipe, which returns BRICOL_STOPPED. Without one nothing
 * happens. */
BRICOL_API void bricol_stop(bricol_recipe* recipe);
BRICOL_API void bricol_free(bricol_made* made);

typedef struct bricol_material {
    size_t size;
    const char* name;
    float colour[3], alpha, metallic, roughness;
    float emission[3];
    float transmission, ior;
    int double_sided;
} bricol_material;

/* A run of triangles with one material. */
typedef struct bricol_run {
    uint32_t material; /* UINT32_MAX for none */
    uint32_t first;    /* triangle */
    uint32_t count;
} bricol_run;

/* One mesh, however often it stands. Arrays hold as long as what was made; those that are not there are null. */
typedef struct bricol_mesh {
    size_t size;
    const char* name;
    size_t vertex_count, triangle_count, run_count;
    const float* positions; /* 3 a vertex */
    const float* normals;   /* 3 a vertex, unit length */
    const float* uvs;       /* 2 a vertex */
    const float* colours;   /* 4 a vertex */
    const uint32_t* triangles; /* 3 vertices each */
    const bricol_run* runs;
} bricol_mesh;

/* A mesh that stands somewhere. */
typedef struct bricol_instance {
    size_t size;
    const char* part;
    size_t mesh;
    float place[16]; /* column by column: the last four are the move */
    float tint[4];   /* multiplies the colours */
} bricol_instance;

typedef enum bricol_severity { BRICOL_NOTE = 0, BRICOL_CAUTION = 1, BRICOL_ERROR = 2 } bricol_severity;

typedef struct bricol_finding {
    size_t size;
    bricol_severity severity;
    const char* code; /* "open", "crossing-faces", … */
    const char* part;
    const char* step; /* empty when it is about the part */
    const char* text;
} bricol_finding;

BRICOL_API size_t bricol_mesh_count(bricol_made* made);
BRICOL_API bricol_status bricol_mesh_at(bricol_made* made, size_t index, bricol_mesh* out);
BRICOL_API size_t bricol_material_count(bricol_made* made);
BRICOL_API bricol_status bricol_material_at(bricol_made* made, size_t index, bricol_material* out);
BRICOL_API size_t bricol_instance_count(bricol_made* made);
BRICOL_API bricol_status bricol_instance_at(bricol_made* made, size_t index, bricol_instance* out);
BRICOL_API size_t bricol_finding_count(bricol_made* made);
BRICOL_API bricol_status bricol_finding_at(bricol_made* made, size_t index, bricol_finding* out);

/* Writes it as `bricol make --out` does; the kind of file by its ending. */
BRICOL_API bricol_status bricol_write(bricol_made* made, const char* path);

#ifdef __cplusplus
}
#endif

#endif
