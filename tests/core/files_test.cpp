// SPDX-License-Identifier: GPL-3.0-or-later
// Files: atomic saving, and export read back by others.
#include <assimp/Importer.hpp>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <catch2/catch.hpp>
#include <cstring>
#include <map>
#include <set>
#include <filesystem>
#include <fstream>
#include <sys/stat.h>
#include <unistd.h>

#include "core/files/export.h"
#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "core/kernels/primitives.h"
#include "core/kernels/split_vertices.h"
#include "core/kernels/triangulate.h"
#include "core/shape/sets.h"
#include "core/ground/colour.h"
#include "core/make/make.h"
#include "core/recipe/edit.h"
#include "core/recipe/recipe_json.h"
#include "tests/support/folder.h"
#include "tests/support/tried.h"
#include "tests/support/build.h"
#include "tests/support/node.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

namespace {

std::string content(const std::string& path) {
    std::ifstream file(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(file), {}};
}

std::vector<NamedShape> parts_of(const std::string& path) {
    const Recipe recipe = *load_recipe(path);
    Maker maker;
    MakeOptions options;
    options.for_export = true;
    options.environment.find_kit = kit_reader();
    options.environment.folder = fs::path(path).parent_path().string();
    const Made made = maker.make(recipe, options);
    std::vector<NamedShape> shapes;
    for (std::size_t p = 0; p < recipe.parts.size(); ++p)
        shapes.push_back({recipe.parts[p]->name, made.parts[p]->shape});
    return shapes;
}

/// Volume, area and box of everything a file holds, as assimp reads it.
struct Read {
    double volume = 0, area = 0;
    DVec3 low{1e9}, high{-1e9};
    std::size_t triangles = 0;
    bool uvs = true, normals = true;
};
Read read_back(const std::string& path) {
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile(path, aiProcess_Triangulate | aiProcess_PreTransformVertices);
    INFO(importer.GetErrorString());
    REQUIRE(scene);
    Read read;
    for (unsigned m = 0; m < scene->mNumMeshes; ++m) {
        const aiMesh& mesh = *scene->mMeshes[m];
        read.uvs &= mesh.HasTextureCoords(0);
        read.normals &= mesh.HasNormals();
        const auto at = [&](unsigned i) {
            return DVec3(mesh.mVertices[i].x, mesh.mVertices[i].y, mesh.mVertices[i].z);
        };
        for (unsigned i = 0; i < mesh.mNumVertices; ++i)
            read.low = glm::min(read.low, at(i)), read.high = glm::max(read.high, at(i));
        for (unsigned f = 0; f < mesh.mNumFaces; ++f) {
            const DVec3 a = at(mesh.mFaces[f].mIndices[0]), b = at(mesh.mFaces[f].mIndices[1]),
                        c = at(mesh.mFaces[f].mIndices[2]);
            read.volume += glm::dot(a, glm::cross(b, c)) / 6;
            read.area += glm::length(glm::cross(b - a, c - a)) / 2;
            ++read.triangles;
        }
    }
    return read;
}

}  // namespace

TEST_CASE("exported shapes read back the same, in every format", "[export][outside]") {
    // Read by assimp 5.2. Sizes: GLB, OBJ, PLY in metres, STL in millimetres; GLB and OBJ have y up.
    const Folder folder;
    const auto shapes = parts_of(buoy_file);
    double volume = 0, area = 0;
    std::size_t triangles = 0;
    std::optional<Box> box;
    for (const NamedShape& s : shapes) {
        const Measures m = measured(*s.shape);
        volume += *m.volume;
        area += m.area;
        triangles += m.triangles;
        if (!box) box = m.box;
        box->low = glm::min(box->low, m.box->low);
        box->high = glm::max(box->high, m.box->high);
    }
    for (const std::string suffix : {"glb", "obj", "ply", "stl"}) {
        INFO(suffix);
        const std::string path = folder / ("buoy." + suffix);
        REQUIRE_FALSE(export_shapes(shapes, path));
        const Read read = read_back(path);
        const double scale = suffix == "stl" ? 1000 : 1;
        CHECK(read.triangles == triangles);
        CHECK(read.volume == Approx(volume * scale * scale * scale).epsilon(1e-4));
        CHECK(read.area == Approx(area * scale * scale).epsilon(1e-4));
        const bool y_up = suffix == "glb" || suffix == "obj";
        CHECK(read.high[y_up ? 1 : 2] == Approx(box->high.z * scale).epsilon(1e-5));
        CHECK(read.high.x == Approx(box->high.x * scale).epsilon(1e-5));
        CHECK(read.normals == (suffix != "ply"));  // its hard edges have no place on points
        if (suffix == "glb" || suffix == "obj") CHECK(read.uvs);
        const std::string first = content(path);
        REQUIRE_FALSE(export_shapes(shapes, path));
        CHECK(content(path) == first);
    }
}

TEST_CASE("GLB passes the Khronos validator", "[export][outside][released]") {
    const Folder folder;
    std::string files;
    std::vector<std::string> names;
    for (const auto& entry : fs::directory_iterator(std::string(SOURCE_FOLDER) + "/demo")) {
        if (entry.path().extension() != ".bricol") continue;
        const auto shapes = parts_of(entry.path().string());
        names.push_back(entry.path().stem().string());
        const std::string file = folder / (names.back() + ".glb");
        REQUIRE_FALSE(export_shapes(shapes, file));
        files += " '" + file + "'";
    }
    const auto reports = node("validate_glb.mjs", files);
    REQUIRE(reports.size() == names.size());
    for (std::size_t i = 0; i < names.size(); ++i) {
        const auto& report = reports[i];
        INFO(names[i] << report.dump(1));
        CHECK(report["errors"] == 0);
        CHECK(report["warnings"] == 0);
        CHECK(report["triangles"].get<std::size_t>() > 300);  // the smallest pieces are a pebble and a rack
    }
}

TEST_CASE("GLB writes copies as nodes that share a mesh, and materials as glTF has them", "[export]") {
    const Folder folder;
    const auto json_of = [&](const std::string& demo) {
        REQUIRE_FALSE(
            export_shapes(parts_of(std::string(SOURCE_FOLDER) + "/demo/" + demo + ".bricol"), folder / "a.glb"));
        const std::string bytes = content(folder / "a.glb");
        std::uint32_t length = 0;
        std::memcpy(&length, bytes.data() + 12, 4);
        return nlohmann::json::parse(bytes.substr(20, length));
    };
    const auto wheel = json_of("wheel");
    std::map<std::size_t, int> uses;
    std::size_t spoke_nodes = 0;
    for (const auto& node : wheel["nodes"]) {
        if (node.contains("mesh")) ++uses[node["mesh"].get<std::size_t>()];
        if (node.value("name", "") == "spokes") spoke_nodes = node["children"].size();
    }
    CHECK(spoke_nodes == 8);
    CHECK(std::ranges::any_of(
        uses, [](const auto& use) { return use.second == 9; }));  // the spoke itself and its eight copies
    CHECK(std::ranges::any_of(uses, [](const auto& use) { return use.second == 16; }));  // one brace in both sets
    std::set<std::string> names;
    for (const auto& material : wheel["materials"]) names.insert(material["name"].get<std::string>());
    CHECK(names.contains("oiled teak"));
    CHECK(names.contains("brass"));
    const auto mark = json_of("daymark");
    bool glass = false;
    for (const auto& material : mark["materials"])
        if (material["name"] == "lantern glass")
            glass = material["extensions"]["KHR_materials_transmission"]["transmissionFactor"] == 0.94 &&
                    material["doubleSided"] == true;
    CHECK(glass);
    CHECK(mark["extensionsUsed"].size() == 2);
    for (const auto& mesh : mark["meshes"])
        if (mesh["name"] == "skin") CHECK(mesh["primitives"].size() == 2);  // bars and panes
    // Other formats get the copies written out: as many triangles as the report says.
    const auto shapes = parts_of(std::string(SOURCE_FOLDER) + "/demo/wheel.bricol");
    REQUIRE_FALSE(export_shapes(shapes, folder / "a.stl"));
    std::size_t triangles = 0;
    for (const NamedShape& named : shapes) triangles += measured(*named.shape).triangles;
    CHECK(content(folder / "a.stl").size() == 84 + 50 * triangles);
}

TEST_CASE("GLB calls no two nodes or meshes alike, and writes no material nobody asked for", "[export]") {
    const Folder folder;
    const auto json_of = [&](const std::vector<NamedShape>& shapes) {
        REQUIRE_FALSE(export_shapes(shapes, folder / "a.glb"));
        const std::string bytes = content(folder / "a.glb");
        std::uint32_t length = 0;
        std::memcpy(&length, bytes.data() + 12, 4);
        return nlohmann::json::parse(bytes.substr(20, length));
    };
    for (const char* demo : {"wheel", "pier", "otter", "winch"}) {
        INFO(demo);
        const auto json = json_of(parts_of(std::string(SOURCE_FOLDER) + "/demo/" + demo + ".bricol"));
        for (const char* list : {"nodes", "meshes"}) {
            std::set<std::string> names;
            for (const auto& one : json[list]) CHECK(names.insert(one.at("name").get<std::string>()).second);
        }
    }
    const Tried bare = tried(recipe_of(Json::array({step("b", "box")})));
    const auto plain = json_of({{"p", bare.part().shape}});
    CHECK_FALSE(plain.contains("materials"));
    CHECK_FALSE(plain["meshes"][0]["primitives"][0].contains("material"));
    // Colours on the points are multiplied with a material's: white paint leaves them as they are.
    const Tried coloured = tried(recipe_of(Json::array({step("b", "box"), step("c", "colour")})));
    const auto painted = json_of({{"p", coloured.part().shape}});
    REQUIRE(painted["materials"].size() == 1);
    CHECK(painted["materials"][0]["pbrMetallicRoughness"]["baseColorFactor"] == nlohmann::json({1, 1, 1, 1}));
    CHECK(painted["materials"][0]["pbrMetallicRoughness"]["metallicFactor"] == 0);
}

TEST_CASE("OBJ writes materials beside it, groups by set and colours behind the points", "[export][outside]") {
    const Folder folder;
    const Tried it = tried(recipe_of(
        Json::array({step("b", "box"), step("s", "choose", {{"set", "top"}, {"rule", "facing"}}),
                     step("m", "material",
                          {{"kit", "own"}, {"called", "sea green"}, {"colour", {0.5, 0.6, 0.7}}, {"metallic", 0.25}}),
                     step("n", "material",
                          {{"only", "top"},
                           {"kit", "own"},
                           {"called", "sea green"},
                           {"colour", {1, 0, 0}},
                           {"glow", 2},
                           {"glow_colour", {1, 0.5, 0}}}),
                     step("c", "colour", {{"colour", {0.2, 0.4, 0.8}}})})));
    REQUIRE(it.clean("n"));
    REQUIRE(it.clean("c"));
    REQUIRE_FALSE(export_shapes(std::vector<NamedShape>{{"crate", it.part().shape}}, folder / "my crate.obj"));
    const std::string text = content(folder / "my crate.obj");
    CHECK_THAT(text, Catch::Contains("mtllib my crate.mtl\n") && Catch::Contains("usemtl sea_green\n") &&
                         Catch::Contains("usemtl sea_green_2\n"));
    // Read by assimp 5.2.
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile(folder / "my crate.obj", 0);
    REQUIRE(scene);
    std::map<std::string, aiColor3D> kd, ke;
    for (unsigned m = 0; m < scene->mNumMaterials; ++m) {
        const aiMaterial& material = *scene->mMaterials[m];
        aiColor3D d, e;
        material.Get(AI_MATKEY_COLOR_DIFFUSE, d);
        material.Get(AI_MATKEY_COLOR_EMISSIVE, e);
        kd[material.GetName().C_Str()] = d;
        ke[material.GetName().C_Str()] = e;
    }
    CHECK(kd["sea_green"].g == Approx(to_linear(0.6)).margin(1e-5));
    CHECK(kd["sea_green_2"].r == Approx(1));
    CHECK(ke["sea_green_2"].r == Approx(2));
    unsigned faces = 0;
    for (unsigned m = 0; m < scene->mNumMeshes; ++m) {
        faces += scene->mMeshes[m]->mNumFaces;
        REQUIRE(scene->mMeshes[m]->HasVertexColors(0));
        CHECK(scene->mMeshes[m]->mColors[0][0].b == Approx(0.8));
    }
    CHECK(faces == 6);
    CHECK_FALSE(fs::exists(folder / "plain.mtl"));
    REQUIRE_FALSE(
        export_shapes(std::vector<NamedShape>{{"box", tried(recipe_of(Json::array({step("b", "box")}))).part().shape}},
                      folder / "plain.obj"));
    CHECK_FALSE(fs::exists(folder / "plain.mtl"));
    CHECK(content(folder / "plain.obj").find("mtllib") == std::string::npos);
}

TEST_CASE("PLY holds colours as a screen shows them", "[export][outside]") {
    const Folder folder;
    const Tried it =
        tried(recipe_of(Json::array({step("b", "box"), step("c", "colour", {{"colour", {0.2, 0.5, 1}}})})));
    REQUIRE_FALSE(export_shapes(std::vector<NamedShape>{{"p", it.part().shape}}, folder / "a.ply"));
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile(folder / "a.ply", 0);
    REQUIRE(scene);
    REQUIRE(scene->mMeshes[0]->HasVertexColors(0));
    const aiColor4D& colour = scene->mMeshes[0]->mColors[0][0];
    // sRGB of IEC 61966-2-1: half the light is byte 188.
    CHECK(colour.g == Approx(188 / 255.0).margin(0.5 / 255));
    CHECK(colour.b == Approx(1));
    CHECK(colour.a == Approx(1));
}

TEST_CASE("the PLY holds each point once, UVs on faces, and values of one's own", "[export]") {
    const Folder folder;
    Mesh box = make_box({1, 1, 1}, {1, 1, 1});
    box.attributes.set(Domain::vertex, "wear", Array<float>{0, 0.25f, 0.5f, 0.75f, 1, 1, 1, 1});
    keep_set(box, Domain::face, "the lid", Mask{0, 0, 0, 0, 0, 1});
    const auto shape = std::make_shared<const Shape>(shape_of(box));
    REQUIRE_FALSE(export_shapes(std::vector<NamedShape>{{"box", shape}}, folder / "box.ply"));
    const std::string bytes = content(folder / "box.ply");
    CHECK(bytes.find("element vertex 8\n") != std::string::npos);
    CHECK(bytes.find("element face 6\n") != std::string::npos);
    CHECK(bytes.find("wear") == std::string::npos);
    // x y z of 8 points; a count and 4 points, a count and 8 numbers of UVs for each of 6 faces.
    CHECK(bytes.size() - bytes.find("end_header\n") - 11 == 8 * 12 + 6 * (4 + 16 + 4 + 32));
    ExportOptions options;
    options.attributes = true;
    REQUIRE_FALSE(export_shapes(std::vector<NamedShape>{{"box", shape}}, folder / "box.ply", options));
    const std::string more = content(folder / "box.ply");
    CHECK(more.find("property float wear\n") != std::string::npos);
    CHECK(more.find("property float the_lid\n") != std::string::npos);
    const std::size_t body = more.find("end_header\n") + 11;
    CHECK(more.size() - body == 8 * 16 + 6 * (4 + 16 + 4 + 32 + 4));
    float third = 0, lid = 0;
    std::memcpy(&third, more.data() + body + 2 * 16 + 12, 4);
    std::memcpy(&lid, more.data() + more.size() - 4, 4);
    CHECK(third == 0.5f);
    CHECK(lid == 1);
    // A ball has no hard edge: its points have normals.
    const auto ball = std::make_shared<const Shape>(shape_of(make_sphere(1, 16, 8)));
    REQUIRE_FALSE(export_shapes(std::vector<NamedShape>{{"ball", ball}}, folder / "ball.ply"));
    CHECK(content(folder / "ball.ply").find("property float nz") != std::string::npos);
    CHECK(read_back(folder / "ball.ply").triangles == triangulated(ball->mesh).count());
}

TEST_CASE("nothing to write and wrong endings are told", "[export][bad input]") {
    const Folder folder;
    CHECK(export_shapes({}, folder / "a.glb")->text().find("nothing to write") != std::string::npos);
    CHECK(export_shapes({}, folder / "a.xyz")->text().find(".glb") != std::string::npos);
    const auto shape = std::make_shared<const Shape>(shape_of(make_box({1, 1, 1}, {1, 1, 1})));
    const auto problem = export_shapes(std::vector<NamedShape>{{"box", shape}}, folder / "no/such/folder/a.glb");
    REQUIRE(problem);
    CHECK(problem->text().find("does not exist") != std::string::npos);
}

TEST_CASE("saving is atomic and loses nothing", "[files][bad input]") {
    const Folder folder;
    Recipe recipe = *load_recipe(buoy_file);
    REQUIRE_FALSE(save_recipe(recipe, folder / "a.bricol"));
    CHECK(same(*load_recipe(folder / "a.bricol"), recipe));
    const std::string before = content(folder / "a.bricol");
    CHECK(save_recipe(recipe, folder / "missing/a.bricol"));
    CHECK(save_recipe(recipe, folder.path.string()));
    CHECK(load_recipe(folder / "nothing.bricol").problem().text().find("does not exist") != std::string::npos);
    CHECK(load_recipe(folder.path.string()).problem().text().find("not a file") != std::string::npos);
    // A pipe or a device is never replaced by a file.
    REQUIRE(mkfifo((folder / "pipe").c_str(), 0600) == 0);
    CHECK(write_file(folder / "pipe", "x")->text().find("not a plain file") != std::string::npos);
    CHECK(fs::is_fifo(folder / "pipe"));
    fs::remove(folder / "pipe");
    CHECK(content(folder / "a.bricol") == before);
    for (const auto& entry : fs::directory_iterator(folder.path))
        CHECK(entry.path().filename() == "a.bricol");  // no litter
    fs::permissions(folder / "a.bricol", fs::perms(0640));
    REQUIRE_FALSE(save_recipe(recipe, folder / "a.bricol"));
    CHECK(fs::status(folder / "a.bricol").permissions() == fs::perms(0640));
}

TEST_CASE("a disk that fills up leaves the old file", "[files][bad input]") {
    // A limit on file size stands in for a full disk: writing fails in the middle.
    const Folder folder;
    REQUIRE_FALSE(write_file(folder / "a.txt", "old"));
    const std::string command = std::string("ulimit -f 8; trap '' XFSZ; '") + test::command_path() + "' make '" +
                                buoy_file + "' --quiet --out " + (folder / "a.glb") + " 2>&1";
    REQUIRE_FALSE(write_file(folder / "a.glb", "old"));
    int code = 0;
    const std::string said = output_of("bash -c \"" + command + "\"", &code);
    INFO(said);
    CHECK(code == 3);
    CHECK(said.find("could not be written") != std::string::npos);
    CHECK(content(folder / "a.glb") == "old");
}

TEST_CASE("GLB writes what a material gives out, lets through and is coated with", "[export][outside]") {
    const Folder folder;
    const Tried t = tried({step("b", "box"), step("m", "material",
                                                  {{"kit", "own"},
                                                   {"colour", {1, 1, 1}},
                                                   {"transmission", 1},
                                                   {"tint_depth", 0.02},
                                                   {"tint", {0.5, 0.25, 1}},
                                                   {"glow", 8},
                                                   {"glow_colour", {1, 0.5, 0.25}},
                                                   {"coat", 0.75},
                                                   {"coat_roughness", 0.25}})});
    REQUIRE_FALSE(export_shapes(std::vector<NamedShape>{{"p", t.part().shape}}, folder / "a.glb"));
    const auto report = node("validate_glb.mjs", folder / "a.glb");
    INFO(report.dump(1));
    CHECK(report["errors"] == 0);
    CHECK(report["warnings"] == 0);
    const std::string bytes = content(folder / "a.glb");
    std::uint32_t length = 0;
    std::memcpy(&length, bytes.data() + 12, 4);
    const auto json = nlohmann::json::parse(bytes.substr(20, length));
    const auto& m = json.at("materials").back();  // the first is that of faces without one
    const auto& more = m["extensions"];
    CHECK(m["emissiveFactor"] == nlohmann::json{1, 0.5, 0.25});
    CHECK(more["KHR_materials_emissive_strength"]["emissiveStrength"] == 8);
    CHECK(more["KHR_materials_clearcoat"]["clearcoatFactor"] == 0.75);
    CHECK(more["KHR_materials_clearcoat"]["clearcoatRoughnessFactor"] == 0.25);
    CHECK(more["KHR_materials_volume"]["attenuationDistance"] == 0.02);
    CHECK(more["KHR_materials_volume"]["attenuationColor"] == nlohmann::json{0.5, 0.25, 1});
    CHECK(json["extensionsUsed"].size() == 5);
    // None of it where nothing asks for it; and written without effect it is told.
    const Tried plain = tried(
        {step("b", "box"), step("m", "material", {{"kit", "oak"}, {"coat_roughness", 0.3}, {"bump_size", {1, 1, 1}}})});
    const Finding* idle = plain.finding("m", "idle-setting");
    REQUIRE(idle);
    CHECK(idle->text.find("coat") != std::string::npos);
    CHECK(idle->text.find("bump") != std::string::npos);
    REQUIRE_FALSE(export_shapes(std::vector<NamedShape>{{"p", plain.part().shape}}, folder / "b.glb"));
    CHECK(content(folder / "b.glb").find("KHR_") == std::string::npos);
}

TEST_CASE("the published schema accepts every demo recipe and refuses wrong ones", "[schema][outside]") {
    // Validator: ajv 8 (JSON Schema 2020-12).
    const Folder folder;
    std::string files;
    std::size_t count = 0;
    for (const auto& entry : fs::directory_iterator(std::string(SOURCE_FOLDER) + "/demo"))
        if (entry.path().extension() == ".bricol") files += " '" + entry.path().string() + "'", ++count;
    for (const char* wrong : {R"({"bricol":2,"parts":[]})",
                              R"({"bricol":1,"parts":[{"name":"p","steps":[{"step":"lathe","segments":"many"}]}]})",
                              R"({"bricol":1,"parts":[{"name":"p","steps":[{"step":"wobble"}]}]})"}) {
        const std::string path = folder / ("wrong" + std::to_string(files.size()) + ".bricol");
        write_file(path, wrong);
        files += " " + path;
    }
    const auto errors = node("validate_schema.mjs", "'" SOURCE_FOLDER "/docs/recipe.schema.json'" + files);
    INFO(errors.dump(1));
    REQUIRE(errors.size() == count + 3);
    for (std::size_t i = 0; i < errors.size(); ++i) CHECK(errors[i].empty() == (i < count));
}
