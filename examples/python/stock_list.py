#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Makes a recipe at several settings of one dial and prints what each takes: triangles, box, materials.

    LD_LIBRARY_PATH=build/api examples/python/stock_list.py demo/rack.bricol length 1.2 1.8 2.4

Uses libbricol through ctypes alone; nothing is compiled.
"""
import ctypes as c
import sys


class Mesh(c.Structure):
    _fields_ = [("size", c.c_size_t), ("name", c.c_char_p), ("vertex_count", c.c_size_t),
                ("triangle_count", c.c_size_t), ("run_count", c.c_size_t), ("positions", c.POINTER(c.c_float)),
                ("normals", c.POINTER(c.c_float)), ("uvs", c.POINTER(c.c_float)), ("colours", c.POINTER(c.c_float)),
                ("triangles", c.POINTER(c.c_uint32)), ("runs", c.c_void_p)]


class Instance(c.Structure):
    _fields_ = [("size", c.c_size_t), ("part", c.c_char_p), ("mesh", c.c_size_t), ("place", c.c_float * 16),
                ("tint", c.c_float * 4)]


class Dial(c.Structure):
    _fields_ = [("size", c.c_size_t), ("name", c.c_char_p), ("heading", c.c_char_p), ("help", c.c_char_p),
                ("unit", c.c_char_p), ("kind", c.c_int), ("shown", c.c_int), ("value", c.c_double),
                ("low", c.c_double), ("high", c.c_double), ("colour", c.c_double * 3), ("choice_count", c.c_size_t),
                ("choices", c.POINTER(c.c_char_p))]


class Bricol:
    """The few functions that are used here."""

    def __init__(self):
        self.lib = c.CDLL("libbricol.so.1")
        self.lib.bricol_problem.restype = c.c_char_p
        for count in ("dial", "mesh", "instance"):
            function = getattr(self.lib, f"bricol_{count}_count")
            function.restype, function.argtypes = c.c_size_t, [c.c_void_p]
        if self.lib.bricol_api_version() < 1:
            raise SystemExit("This libbricol is too old.")

    def must(self, status):
        if status > 1:  # 1: made, with errors among its findings
            raise SystemExit(self.lib.bricol_problem().decode())

    def open(self, path):
        recipe = c.c_void_p()
        self.must(self.lib.bricol_open(path.encode(), c.byref(recipe)))
        return recipe

    def dials(self, recipe):
        for i in range(self.lib.bricol_dial_count(recipe)):
            dial = Dial(size=c.sizeof(Dial))
            self.must(self.lib.bricol_dial_at(recipe, c.c_size_t(i), c.byref(dial)))
            yield dial

    def made(self, recipe):
        made = c.c_void_p()
        self.must(self.lib.bricol_make(recipe, None, c.byref(made)))
        meshes = []
        for i in range(self.lib.bricol_mesh_count(made)):
            meshes.append(Mesh(size=c.sizeof(Mesh)))
            self.must(self.lib.bricol_mesh_at(made, c.c_size_t(i), c.byref(meshes[-1])))
        low, high, triangles = [1e30] * 3, [-1e30] * 3, 0
        for i in range(self.lib.bricol_instance_count(made)):
            one = Instance(size=c.sizeof(Instance))
            self.must(self.lib.bricol_instance_at(made, c.c_size_t(i), c.byref(one)))
            mesh, m = meshes[one.mesh], one.place
            triangles += mesh.triangle_count
            for v in range(mesh.vertex_count):
                p = mesh.positions[3 * v:3 * v + 3]
                for axis in range(3):
                    x = m[12 + axis] + sum(m[4 * k + axis] * p[k] for k in range(3))
                    low[axis], high[axis] = min(low[axis], x), max(high[axis], x)
        self.lib.bricol_free(made)
        return triangles, [b - a for a, b in zip(low, high)]


def main():
    if len(sys.argv) < 4:
        raise SystemExit(__doc__.strip())
    path, name, values = sys.argv[1], sys.argv[2], sys.argv[3:]
    bricol = Bricol()
    recipe = bricol.open(path)
    if name not in [dial.name.decode() for dial in bricol.dials(recipe)]:
        raise SystemExit(f"There is no dial “{name}”: " +
                         ", ".join(dial.name.decode() for dial in bricol.dials(recipe)))
    for value in values:
        bricol.must(bricol.lib.bricol_set_text(recipe, name.encode(), value.encode()))
        triangles, size = bricol.made(recipe)
        print(f"{name} {value}: {triangles} triangles, " + " × ".join(f"{s:.3f}" for s in size) + " m")
    bricol.lib.bricol_close(recipe)


if __name__ == "__main__":
    main()
