// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes from files of other programs: against what assimp, lib3mf and the formats' own papers say, and against files
// that are broken or mean harm.
#include <catch2/catch.hpp>

#include <assimp/Exporter.hpp>
#include <assimp/Importer.hpp>
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <cstdlib>
#include <fstream>
#include <random>
#include <sys/stat.h>
#include <thread>

#include "core/files/export.h"
#include "core/files/files.h"
#include "core/files/read_shape.h"
#include "core/ground/stop.h"
#include "core/kernels/pieces.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/transform.h"
#include "tests/support/folder.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

void write(const Folder& folder, const std::string& name, const std::string& text) {
    std::ofstream(folder.path / name, std::ios::binary) << text;
}

Tried read_in(const Folder& folder, Json settings) {
    MakeOptions options;
    options.environment = environment_in(folder.path.string());
    return tried(recipe_of(Json::array({step("it", "mesh_from_file", std::move(settings))})), options);
}

bool says(const Tried& made, const std::string& code, const std::string& words) {
    return std::ranges::any_of(made.step("it").findings, [&](const Finding& f) {
        return f.code == code && f.text.find(words) != std::string::npos;
    });
}

/// A wedge of five faces whose numbers are known: 3 long, 2 deep, 1 high; volume 3, two groups.
const char* const wedge_obj = R"(# a wedge
v 0 0 0
v 3 0 0
v 3 0 -2
v 0 0 -2
v 0 1 0
v 0 1 -2
vt 0 0
vt 1 0
vt 1 1
vt 0 1
g ground
f 1 4 3 2
g slope
f 2/1 3/2 6/3 5/4
g sides
f 1 2 5
f 4 6 3
f 1 5 6 4
)";

/// Places a program of our own where the reader is looked for, for as long as it lives.
class OtherReader {
public:
    explicit OtherReader(const std::string& path) { setenv("BRICOL_READER", path.c_str(), 1); }
    ~OtherReader() { unsetenv("BRICOL_READER"); }
};

std::string script(const Folder& folder, const std::string& text) {
    const std::string path = folder / "reader.sh";
    std::ofstream(path) << "#!/bin/sh\n" << text << "\n";
    chmod(path.c_str(), 0755);
    return path;
}

}  // namespace

TEST_CASE("an OBJ of polygons comes as polygons with its groups as sets, in real size", "[import]") {
    const Folder folder;
    write(folder, "wedge.obj", wedge_obj);
    const Tried made = read_in(folder, {{"file", "wedge.obj"}});
    REQUIRE(made.clean("it"));
    const Mesh& mesh = made.mesh("it");
    CHECK(mesh.vertex_count() == 6);
    CHECK(mesh.face_count() == 5);
    CHECK(sound(mesh));
    CHECK(made.part().measures.volume.value() == Approx(3).epsilon(1e-6));
    // y is up in it, so its height is along z here, and what went away from the viewer goes along y.
    CHECK(made.part().measures.box->size().z == Approx(1));
    CHECK(made.part().measures.box->size().y == Approx(2));
    for (const auto& [name, count] : {std::pair("ground", 1), std::pair("slope", 1), std::pair("sides", 3)}) {
        INFO(name);
        const auto* set = mesh.attributes.values<std::uint8_t>(Domain::face, name);
        REQUIRE(set);
        CHECK(std::ranges::count(*set, 1) == count);
    }
    CHECK(says(made, "guessed", "OBJ files do not say their unit: metres are taken."));
    CHECK(says(made, "guessed", "y is taken."));
    // Chosen, nothing is guessed any more.
    const Tried chosen = read_in(folder, {{"file", "wedge.obj"}, {"unit", "inch"}, {"up", "z"}, {"origin", "base"}});
    CHECK_FALSE(chosen.finding("it", "guessed"));
    CHECK(chosen.part().measures.volume.value() == Approx(3 * std::pow(0.0254, 3)).epsilon(1e-5));
    const auto box = *box_of(*chosen.step("it").shape);
    CHECK(box.low.z == Approx(0).margin(1e-7));
    CHECK(box.centre().x == Approx(0).margin(1e-7));
    CHECK(box.size().y == Approx(0.0254));
}

TEST_CASE("STL, PLY and glTF mean what their papers say", "[import]") {
    const Folder folder;
    SECTION("STL: a soup of triangles becomes one closed body, millimetres guessed") {
        std::string text = "solid t\n";
        const int faces[4][3] = {{0, 2, 1}, {0, 1, 3}, {1, 2, 3}, {0, 3, 2}};
        const int points[4][3] = {{0, 0, 0}, {10, 0, 0}, {0, 10, 0}, {0, 0, 10}};
        for (const auto& face : faces) {
            text += "facet normal 0 0 0\nouter loop\n";
            for (const int v : face)
                text += "vertex " + std::to_string(points[v][0]) + " " + std::to_string(points[v][1]) + " " +
                        std::to_string(points[v][2]) + "\n";
            text += "endloop\nendfacet\n";
        }
        write(folder, "t.stl", text + "endsolid t\n");
        const Tried made = read_in(folder, {{"file", "t.stl"}});
        REQUIRE(made.clean("it"));
        CHECK(made.mesh("it").vertex_count() == 4);
        CHECK(made.mesh("it").face_count() == 4);
        CHECK(made.part().measures.volume.value() == Approx(1e-6 / 6).epsilon(1e-5));  // a cube's sixth
        CHECK(says(made, "guessed", "millimetres are taken"));
    }
    SECTION("PLY: a quad with colours") {
        write(folder, "q.ply",
              "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n"
              "property uchar red\nproperty uchar green\nproperty uchar blue\nelement face 1\n"
              "property list uchar int vertex_indices\nend_header\n0 0 0 255 0 0\n2 0 0 255 0 0\n2 1 0 0 255 0\n"
              "0 1 0 0 0 255\n4 0 1 2 3\n");
        const Tried made = read_in(folder, {{"file", "q.ply"}});
        REQUIRE(made.clean("it"));
        CHECK(made.mesh("it").face_count() == 1);
        CHECK(made.part().measures.area == Approx(2));
        const auto& colours = column<Vec4>(made.mesh("it"), Domain::corner, attribute_name::colour);
        CHECK(colours[0].x == Approx(1));
        CHECK(colours[2].y == Approx(1));
        CHECK(colours[3].z == Approx(1));
    }
    SECTION("glTF: a node's place and material, twice the same mesh as copies") {
        // One triangle (0,0,0) (1,0,0) (0,1,0) as 32-bit floats, in the file itself.
        write(folder, "t.gltf", R"json({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0,1]}],
 "nodes":[{"mesh":0,"name":"left","translation":[-2,0,0]},{"mesh":0,"name":"right","translation":[2,0,0],"scale":[2,2,2]}],
 "meshes":[{"primitives":[{"attributes":{"POSITION":0},"material":0}]}],
 "materials":[{"name":"brass","pbrMetallicRoughness":{"baseColorFactor":[0.8,0.6,0.2,1],"metallicFactor":0.9,"roughnessFactor":0.3}}],
 "buffers":[{"byteLength":36,"uri":"data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}],
 "bufferViews":[{"buffer":0,"byteLength":36}],
 "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[1,1,0]}]})json");
        const Tried made = read_in(folder, {{"file", "t.gltf"}});
        REQUIRE(made.clean("it"));
        const Shape& shape = *made.step("it").shape;
        REQUIRE(shape.instances.size() == 1);
        CHECK(shape.instances[0].count() == 2);
        CHECK(made.part().measures.area == Approx(0.5 + 2));
        const auto materials = materials_of(shape);
        REQUIRE(materials.size() == 1);
        CHECK(materials[0].name == "brass");
        CHECK(materials[0].colour.y == Approx(0.6f));
        CHECK(materials[0].metallic == Approx(0.9f));
        CHECK(materials[0].roughness == Approx(0.3f));
        CHECK_FALSE(made.finding("it", "guessed"));                                 // metres and y up by the standard
        CHECK(box_of(*real_geometry(made.step("it").shape))->high.z == Approx(2));  // its y is our z
    }
}

TEST_CASE("what we write comes back the same in every format", "[import]") {
    const Folder folder;
    Tried piece = tried({step("a", "rounded_box", {{"size", {0.4, 0.3, 0.2}}}),
                         step("cut", "cylinder", {{"radius", 0.05}, {"height", 1}}),
                         Json{{"id", "b"}, {"step", "boolean"}, {"in", {{"shape", "a"}, {"with", "cut"}}}},
                         step("t", "triangulate"), step("m", "material", {{"colour", {0.7, 0.2, 0.1}}})});
    REQUIRE(piece.clean("m"));
    const Material painted = materials_of(*piece.step("m").shape).at(0);
    const NamedShape named{"p", piece.step("m").shape};
    const Measures before = piece.part().measures;
    for (const char* suffix : {"obj", "ply", "stl", "glb", "3mf"}) {
        INFO(suffix);
        const auto problem = export_shapes({&named, 1}, folder / ("x." + std::string(suffix)), {});
        REQUIRE_FALSE(problem);
        const Tried made = read_in(folder, {{"file", "x." + std::string(suffix)}});
        REQUIRE(made.clean("it"));
        CHECK(made.part().measures.volume.value() == Approx(*before.volume).epsilon(1e-5));
        CHECK(made.part().measures.area == Approx(before.area).epsilon(1e-5));
        CHECK(made.part().measures.box->size().x == Approx(before.box->size().x).epsilon(1e-5));
        CHECK(made.part().measures.box->size().z == Approx(before.box->size().z).epsilon(1e-5));
        CHECK_FALSE(made.part_says("open"));
        if (const std::string s = suffix; s == "obj" || s == "glb" || s == "3mf") {
            const auto materials = materials_of(*made.step("it").shape);
            REQUIRE(materials.size() == 1);
            CHECK(materials[0].colour.x == Approx(painted.colour.x).margin(0.004));  // 3MF has eight bits for it
        }
    }
}

TEST_CASE("an OBJ's materials are read from the files it names, and read again when they change", "[import]") {
    const Folder folder;
    std::filesystem::create_directory(folder.path / "props");
    std::string obj = wedge_obj;
    obj.insert(obj.find("g ground"), "mtllib old paint.mtl\nmtllib more.mtl\nusemtl sea\n");
    obj.insert(obj.find("g sides"), "usemtl pane\n");
    write(folder, "props/wedge.obj", obj);
    write(folder, "props/old paint.mtl", "newmtl sea\nKd 0.1 0.4 0.5\nNs 98\nillum 2\n");
    write(folder, "props/more.mtl",
          "newmtl pane\nKd 0.9 1 0.9\nPr 0.05\nPm 0\nNi 1.52\nd 1\nTf 0.8 0.8 0.8\nillum 6\n");
    MakeOptions options;
    options.environment = environment_in(folder.path.string());
    const Recipe recipe = recipe_of(Json::array({step("it", "mesh_from_file", {{"file", "props/wedge.obj"}})}));
    Maker maker;
    const auto outcome = [&](const Made& made) -> const StepOutcome& { return *made.step(recipe, "p", "it"); };
    const Made made = maker.make(recipe, options);
    CHECK(std::ranges::none_of(outcome(made).findings, [](const Finding& f) { return f.code == "left-out"; }));
    const Mesh& mesh = outcome(made).shape->mesh;
    CHECK(sound(mesh));
    const auto* numbers = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    REQUIRE(numbers);
    std::map<std::string, int> faces;
    std::map<std::string, Material> materials;
    for (const std::int32_t number : *numbers) {
        const Material* material = find_material(mesh.materials.get(), number);
        REQUIRE(material);
        ++faces[material->name], materials[material->name] = *material;
    }
    CHECK(faces == std::map<std::string, int>{{"pane", 3}, {"sea", 2}});
    CHECK(materials["sea"].colour.y == Approx(0.4f));
    CHECK(materials["sea"].transmission == 0);
    CHECK(materials["sea"].roughness == Approx(std::pow(0.02, 0.25)));  // alpha² = 2 / (98 + 2)
    CHECK(materials["pane"].transmission == Approx(0.8f));
    CHECK(materials["pane"].roughness == Approx(0.05f));
    CHECK(materials["pane"].ior == Approx(1.52f));
    // Another colour is seen although the OBJ is the same.
    write(folder, "props/old paint.mtl", "newmtl sea\nKd 0.7 0.4 0.5\n# other\n");
    const Made again = maker.make(recipe, options);
    CHECK(materials_of(*outcome(again).shape).at(0).colour.x == Approx(0.7f));
    // Without the file the faces stay, and it is said which is missing.
    std::filesystem::remove(folder.path / "props/more.mtl");
    const Made gone = maker.make(recipe, options);
    CHECK(outcome(gone).shape->face_count() == 5);
    CHECK(std::ranges::any_of(outcome(gone).findings, [](const Finding& f) {
        return f.code == "left-out" && f.text.find("“more.mtl”") != std::string::npos;
    }));
    // Files outside the recipe's folder are behind the fence, whoever names them.
    obj.replace(obj.find("more.mtl"), 8, "../../x.mtl");
    write(folder, "props/wedge.obj", obj);
    CHECK(says(read_in(folder, {{"file", "props/wedge.obj"}}), "left-out", "“../../x.mtl”"));
}

TEST_CASE("a body of several materials comes back as one body", "[import]") {
    const Folder folder;
    const Tried piece = tried({step("b", "box", {{"along_x", 3}}), step("t", "triangulate"),
                               step("top", "choose", {{"set", "top"}, {"rule", "facing"}}),
                               step("brass", "material", {{"kit", "brass"}, {"only", "top"}})});
    const NamedShape named{"p", piece.step("brass").shape};
    for (const char* suffix : {"obj", "glb", "3mf"}) {
        INFO(suffix);
        const std::string name = std::string("x.") + suffix;
        REQUIRE_FALSE(export_shapes({&named, 1}, folder / name, {}));
        const Tried made = read_in(folder, {{"file", name}});
        REQUIRE(made.clean("it"));
        CHECK(made.part().measures.closed);
        CHECK(made.part().measures.pieces == 1);
        CHECK(made.mesh("it").vertex_count() == piece.mesh("brass").vertex_count());
    }
}

TEST_CASE("files that assimp writes are read to what assimp reads of them", "[import]") {
    const Folder folder;
    const Tried piece = tried({step("a", "torus", {{"radius", 0.5}})});
    const NamedShape named{"p", piece.step("a").shape};
    REQUIRE_FALSE(export_shapes({&named, 1}, folder / "first.obj", {}));
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile(folder / "first.obj", aiProcess_Triangulate);
    REQUIRE(scene);
    for (const auto& [id, suffix] : {std::pair("obj", "obj"), std::pair("plyb", "ply"), std::pair("stlb", "stl"),
                                     std::pair("glb2", "glb"), std::pair("gltf2", "gltf")}) {
        INFO(id);
        const std::string name = std::string("second_") + id + "." + suffix;
        Assimp::Exporter exporter;
        REQUIRE(exporter.Export(scene, id, folder / name) == aiReturn_SUCCESS);
        const Tried made = read_in(folder, {{"file", name}, {"unit", "m"}, {"up", "y"}});
        if (std::string(suffix) == "gltf") {  // its numbers stand in a file of their own, which is not opened
            CHECK(made.finding("it", "no-file"));
            continue;
        }
        REQUIRE(made.clean("it"));
        Assimp::Importer again;
        const aiScene* theirs = again.ReadFile(folder / name, 0);
        REQUIRE(theirs);
        std::size_t faces = 0;
        for (unsigned m = 0; m < theirs->mNumMeshes; ++m) faces += theirs->mMeshes[m]->mNumFaces;
        CHECK(made.mesh("it").face_count() == faces);
        CHECK(made.part().measures.volume.value() == Approx(*piece.part().measures.volume).epsilon(1e-4));
    }
}

TEST_CASE("a file is read again when it changes, and told when it is gone", "[import]") {
    const Folder folder;
    write(folder, "w.obj", wedge_obj);
    MakeOptions options;
    options.environment = environment_in(folder.path.string());
    const Recipe recipe = recipe_of(Json::array({step("it", "mesh_from_file", {{"file", "w.obj"}})}));
    Maker maker;
    CHECK(maker.make(recipe, options).step(recipe, "p", "it")->shape->face_count() == 5);
    write(folder, "w.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
    CHECK(maker.make(recipe, options).step(recipe, "p", "it")->shape->face_count() == 1);
    std::filesystem::remove(folder.path / "w.obj");
    const Made gone = maker.make(recipe, options);
    REQUIRE(gone.step(recipe, "p", "it")->findings.size() == 1);
    CHECK_THAT(gone.step(recipe, "p", "it")->findings[0].text, Catch::Contains("is not there"));
    const Tried wrong = read_in(folder, {{"file", "w.txt"}});
    CHECK(says(wrong, "no-file", "OBJ, PLY, STL, GLB, glTF and 3MF can."));
    CHECK(says(read_in(folder, Json::object()), "no-file", "No file has been chosen"));
}

TEST_CASE("faces that cannot be are left out and counted, the others stay", "[import]") {
    wire::File file;
    wire::Mesh mesh;
    mesh.points = {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}, {0, 0, 0}, {std::nanf(""), 0, 0}};
    mesh.face_sizes = {4, 3, 3, 3, 2, 1, 9};
    mesh.corners = {0, 1, 2, 3, 0, 1, 77, 0, 4, 1, 0, 1, 1, 2, 3, 1};
    mesh.uvs.assign(6, {std::nanf(""), 1});
    file.meshes = {mesh};
    wire::Place place;
    place.matrix = {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1};
    place.meshes = {0};
    file.places = {place, place};
    file.places[1].meshes = {5};
    const auto read = shape_of(file);
    REQUIRE(read);
    CHECK(read->shape->mesh.face_count() == 1);
    CHECK(sound(read->shape->mesh));
    for (const Vec2& uv : column<Vec2>(read->shape->mesh, Domain::corner, attribute_name::uv)) CHECK(uv == Vec2(0, 1));
    REQUIRE(read->notes.size() == 3);
    CHECK(read->notes[0] == "4 faces were left out: they name points there are not, or are no wider than a line.");
    CHECK_THAT(read->notes[1], Catch::Contains("1 place was left out"));
    CHECK_THAT(read->notes[2], Catch::Contains("1 points"));
    CHECK_FALSE(shape_of(wire::File{}));
}

TEST_CASE("what comes back from the reader is taken apart with care", "[import]") {
    wire::File file;
    file.meshes.emplace_back().points = {{1, 2, 3}};
    file.notes = {"one"};
    const std::string whole = wire::packed(file);
    REQUIRE(wire::unpacked(whole));
    CHECK(wire::unpacked(whole)->meshes[0].points[0][1] == 2);
    for (std::size_t n = 0; n < whole.size(); ++n) CHECK_FALSE(wire::unpacked(std::string_view(whole).substr(0, n)));
    // A count far beyond what follows takes no memory.
    std::string huge = whole;
    const std::size_t at = whole.size() - sizeof(std::uint64_t);
    huge.replace(at, 8, std::string(8, '\x7f'));
    CHECK_FALSE(wire::unpacked(huge));
}

TEST_CASE("a reader that breaks, babbles or hangs ends alone", "[import]") {
    const Folder folder;
    write(folder, "w.obj", wedge_obj);
    const auto finding_of = [&](const std::string& text) {
        const OtherReader other(script(folder, text));
        const Tried made = read_in(folder, {{"file", "w.obj"}});
        REQUIRE(made.finding("it", "no-file"));
        return made.finding("it", "no-file")->text;
    };
    CHECK_THAT(finding_of("kill -SEGV $$"), Catch::Contains("broke down (signal 11)"));
    CHECK_THAT(finding_of("exit 3"), Catch::Contains("broke down"));
    CHECK_THAT(finding_of("echo nonsense"), Catch::Contains("broke down"));
    CHECK_THAT(finding_of("head -c 100000 /dev/zero"), Catch::Contains("broke down"));
    {
        const OtherReader other(folder / "none");
        CHECK(says(read_in(folder, {{"file", "w.obj"}}), "no-file", "does not start"));
    }
    // One that hangs is ended by the stop of the making.
    const OtherReader other(script(folder, "exec sleep 60"));
    std::atomic<bool> stop = false;
    std::jthread soon([&] {
        std::this_thread::sleep_for(std::chrono::milliseconds(200));
        stop = true;
    });
    MakeOptions options;
    options.environment = environment_in(folder.path.string());
    options.stop = &stop;
    const auto begun = std::chrono::steady_clock::now();
    const Made made =
        Maker().make(recipe_of(Json::array({step("it", "mesh_from_file", {{"file", "w.obj"}})})), options);
    CHECK(made.stopped);
    CHECK(std::chrono::steady_clock::now() - begun < std::chrono::seconds(20));  // and not sixty
}

TEST_CASE("the reader opens no other file than the one it is given", "[import]") {
    const Folder folder;
    // The same triangle with its numbers in a file beside it: readable by anybody, but not by a process shut in.
    std::string numbers(36, '\0');
    const float one = 1;
    std::memcpy(numbers.data() + 12, &one, 4), std::memcpy(numbers.data() + 28, &one, 4);
    write(folder, "t.bin", numbers);
    const std::string gltf = R"json({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0}],
 "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"buffers":[{"byteLength":36,"uri":")json" +
                             (folder / "t.bin") + R"json("}],"bufferViews":[{"buffer":0,"byteLength":36}],
 "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3"}]})json";
    write(folder, "t.gltf", gltf);
    Assimp::Importer open_world;
    REQUIRE(open_world.ReadFile(folder / "t.gltf", 0));
    CHECK(read_in(folder, {{"file", "t.gltf"}}).finding("it", "no-file"));
}

TEST_CASE("hostile files cost a finding and nothing else", "[import]") {
    const Folder folder;
    const auto survives = [](const std::string& suffix, const std::string& content) {
        const auto read = read_outside(suffix, content);
        if (!read) {
            CHECK_FALSE(read.problem().text().empty());
            return;
        }
        if (const auto shape = shape_of(*read)) CHECK(sound(shape->shape->mesh));
    };
    SECTION("written by hand") {
        std::string stl(84, '\0');
        std::memset(stl.data() + 80, 0xff, 4);  // four thousand million triangles in 84 bytes
        survives("stl", stl);
        survives("ply", "ply\nformat ascii 1.0\nelement vertex 4000000000\nproperty float x\nend_header\n");
        survives("ply",
                 "ply\nformat binary_little_endian 1.0\nelement vertex 2\nproperty list uint float x\nend_header\n"
                 "\xff\xff\xff\xff");
        survives("obj", "v 0 0 0\nf 1 2 3\nf -9 -9 -9\nf 999999999999 1 1\n");
        survives("obj", "f " + std::string(100000, '1') + "\n");
        survives("glb", std::string("glTF\x02\0\0\0\xff\xff\xff\xff\xff\xff\xff\xffJSON", 20));
        survives("gltf", std::string(200000, '['));
        survives("gltf",
                 R"({"asset":{"version":"2.0"},"nodes":[{"children":[0]}],"scenes":[{"nodes":[0]}],"scene":0})");
        survives("3mf", "PK\x03\x04 nonsense");
        survives("3mf", "");
        for (const char* suffix : {"obj", "ply", "stl", "glb", "gltf", "3mf"}) {
            survives(suffix, "");
            survives(suffix, std::string(5000, '\xff'));
        }
    }
    SECTION("good ones with bytes changed, cut off and doubled") {
        const Tried piece = tried({step("a", "box"), step("m", "material", {{"colour", {0.7, 0.2, 0.1}}})});
        const NamedShape named{"p", piece.step("m").shape};
        std::mt19937 random(7);
        for (const char* suffix : {"obj", "ply", "stl", "glb", "3mf"}) {
            INFO(suffix);
            const std::string path = folder / ("x." + std::string(suffix));
            REQUIRE_FALSE(export_shapes({&named, 1}, path, {}));
            const std::string good = *read_file(path);
            const int rounds = sanitized() ? 40 : 10;  // what goes wrong unseen is what is looked for
            for (int round = 0; round < rounds; ++round) {
                std::string bad = good;
                for (unsigned changes = 1 + random() % 12; changes > 0; --changes)
                    bad[random() % bad.size()] = static_cast<char>(random());
                if (round % 5 == 1) bad.resize(random() % bad.size());
                if (round % 5 == 2) bad.insert(random() % bad.size(), bad.substr(random() % bad.size(), 400));
                survives(suffix, bad);
            }
        }
    }
}
