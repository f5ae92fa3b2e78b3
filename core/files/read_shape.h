// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes from files of other programs: OBJ, PLY, STL, glTF, GLB and 3MF. A process of its own reads them, which can do
// nothing but compute (reader/main.cpp); this one looks at every number it gets back.
#pragma once

#include "core/catalogue/file_shape.h"
#include "core/files/kits.h"
#include "core/files/reader_wire.h"

namespace bricol {

/// Endings of files that can be read, and how they are told: "*.obj *.ply …".
bool is_readable_shape(std::string_view path);

/// Reads files that steps name, up to 512 MB each, and keeps the last few. May be called from any thread; a stop of the
/// making ends the process at once; its time and memory are bounded by the size of the file.
ReadShape shape_reader(std::shared_ptr<FileFence> fence = nullptr);

/// What the reader process says of a file's content, and of what stands `beside` it and belongs to it. `suffix` without
/// a dot.
Result<wire::File> read_outside(const std::string& suffix, const std::string& content, const std::string& beside = {});

/// Turns that into a shape. Points of one mesh at the same place become one, as files split them where normals or UVs
/// differ; meshes that stand in several places become copies. Faces that name points there are not, or a point twice,
/// are left out and told. Names become sets of faces where there is more than one.
Result<FileShape> shape_of(const wire::File& file);

}  // namespace bricol
