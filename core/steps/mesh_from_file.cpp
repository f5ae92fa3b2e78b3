// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/file_shape.h"
#include "core/catalogue/settings.h"
#include "core/kernels/transform.h"

namespace bricol {

namespace {

struct MeshFromFile {
    enum class Unit { own, mm, cm, m, inch, foot };
    enum class Up { own, y, z };
    enum class Origin { own, base, middle };
    std::string file;
    Unit unit = Unit::own;
    Up up = Up::own;
    double scale = 1;
    Origin origin = Origin::own;
    bool normals = true;
};

double metres_of(MeshFromFile::Unit unit, double own) {
    switch (unit) {
        case MeshFromFile::Unit::mm:
            return 0.001;
        case MeshFromFile::Unit::cm:
            return 0.01;
        case MeshFromFile::Unit::m:
            return 1;
        case MeshFromFile::Unit::inch:
            return 0.0254;
        case MeshFromFile::Unit::foot:
            return 0.3048;
        case MeshFromFile::Unit::own:
            break;
    }
    return own;
}

Shape without_normals(Shape shape) {
    shape.mesh.attributes.remove(Domain::corner, attribute_name::normal);
    for (Instances& group : shape.instances) group.shape = std::make_shared<const Shape>(without_normals(*group.shape));
    return shape;
}

void run_mesh_from_file(const MeshFromFile& s, StepRun& run) {
    if (!run.read_shape) {
        run.tell(Severity::error, "no-file", "Files of shapes cannot be read here.");
        return;
    }
    const auto read = run.read_shape(s.file);
    if (!read) {
        run.tell(Severity::error, "no-file", read.problem().text());
        return;
    }
    const FileShape& file = **read;
    const Weight weight = weight_of(*file.shape);
    if (run.too_many(weight.faces, most_faces, "faces", "Make the file lighter first.") ||
        run.too_many(weight.points, most_points, "points", "Make the file lighter first."))
        return;
    for (const std::string& note : file.notes) run.tell(Severity::caution, "left-out", note);
    if (s.unit == MeshFromFile::Unit::own && !file.guessed_unit.empty())
        run.tell(Severity::note, "guessed", file.guessed_unit + " Choose another under “unit”.");
    if (s.up == MeshFromFile::Up::own && !file.guessed_up.empty())
        run.tell(Severity::note, "guessed", file.guessed_up + " Choose another under “up”.");
    glm::dmat4 matrix(metres_of(s.unit, file.metres) * s.scale);
    matrix[3][3] = 1;
    const bool y_up = s.up == MeshFromFile::Up::own ? file.y_up : s.up == MeshFromFile::Up::y;
    if (y_up) matrix = placement(DVec3(0), DVec3(90, 0, 0), DVec3(1), DVec3(0)) * matrix;
    Shape shape = transformed(s.normals ? *file.shape : without_normals(*file.shape), matrix);
    if (const auto box = box_of(shape); box && s.origin != MeshFromFile::Origin::own) {
        DVec3 to = -box->centre();
        if (s.origin == MeshFromFile::Origin::base) to.z = -box->low.z;
        shape = transformed(shape, placement(to, DVec3(0), DVec3(1), DVec3(0)));
    }
    if (const auto box = box_of(shape); box && glm::length(box->size()) > 2000)
        run.tell(Severity::caution, "huge",
                 "It is more than two kilometres long. If it is meant to be smaller, choose its unit under “unit”.");
    run.give(std::move(shape));
}

const StepOf<MeshFromFile> mesh_from_file_step(
    StepInfo{
        .key = "mesh_from_file",
        .name = "Mesh from file",
        .family = Family::make,
        .purpose = "A shape from a file of another program.",
        .words = "import load obj ply stl glb gltf 3mf scan open",
        .help = "OBJ, PLY, STL, GLB, glTF and 3MF, in real size: the unit and the way up come from the file, or from "
                "what files of its kind usually mean, which is told. Points that the file holds several times, for "
                "normals or UVs that differ, are one. Materials, UVs, colours and normals come along, an OBJ's "
                "materials from the files it names; names of objects "
                "become sets of faces when there are several; what stands in many places becomes copies. The file "
                "stands beside the recipe and is read again when it changes, outside this program, so that a broken "
                "one does no harm.",
        .glyph = "M5 3h9l5 5v13H5z M14 3v5h5 M9 17l3-5 3 5z",
        .gives = content_any,
        .inputs = {},
        .telling = "{file}"},
    {file_of(&MeshFromFile::file, "file", "File", "Shapes (*.obj *.ply *.stl *.glb *.gltf *.3mf)",
             "An OBJ, PLY, STL, GLB, glTF or 3MF file beside this recipe."),
     choice_of(&MeshFromFile::unit, "unit", "Unit",
               {{MeshFromFile::Unit::own, "own", "its own"},
                {MeshFromFile::Unit::mm, "mm", "millimetres"},
                {MeshFromFile::Unit::cm, "cm", "centimetres"},
                {MeshFromFile::Unit::m, "m", "metres"},
                {MeshFromFile::Unit::inch, "inch", "inches"},
                {MeshFromFile::Unit::foot, "foot", "feet"}},
               "What the numbers in the file mean."),
     choice_of(
         &MeshFromFile::up, "up", "Up",
         {{MeshFromFile::Up::own, "own", "its own"}, {MeshFromFile::Up::y, "y", "y"}, {MeshFromFile::Up::z, "z", "z"}},
         "Which axis of the file points up."),
     number_of(&MeshFromFile::scale, "scale", "Scale", 1e-6, 1e6, "A factor on its own size."),
     choice_of(&MeshFromFile::origin, "origin", "Origin",
               {{MeshFromFile::Origin::own, "own", "its own"},
                {MeshFromFile::Origin::base, "base", "middle of its base"},
                {MeshFromFile::Origin::middle, "middle", "its middle"}},
               "What lies at the origin."),
     toggle_of(&MeshFromFile::normals, "normals", "Keep its normals", "Off lets later steps find them anew.")},
    run_mesh_from_file);

}  // namespace

}  // namespace bricol
