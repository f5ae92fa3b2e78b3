// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/read_shape.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <mutex>
#include <set>
#include <xxhash.h>

#include "core/files/beside.h"
#include "core/files/files.h"
#include "core/files/format.h"
#include "core/ground/stop.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/transform.h"
#include "core/kernels/weld.h"

namespace bricol {

namespace {

constexpr std::array<std::string_view, 6> readable = {"obj", "ply", "stl", "glb", "gltf", "3mf"};

std::string suffix_of(std::string_view path) {
    std::string suffix = std::filesystem::path(path).extension().string();
    if (!suffix.empty()) suffix.erase(0, 1);
    for (char& c : suffix) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return suffix;
}

/// What was wrong with single faces, counted over all meshes.
struct LeftOut {
    std::size_t faces = 0, places = 0, bent = 0;
    void tell(std::vector<std::string>& notes) const {
        if (faces > 0)
            notes.push_back(
                fmt::format("{} face{} left out: they name points there are not, or are no wider than a line.", faces,
                            faces == 1 ? " was" : "s were"));
        if (places > 0)
            notes.push_back(
                fmt::format("{} place{} left out: they name meshes there are not, or have no finite matrix.", places,
                            places == 1 ? " was" : "s were"));
        if (bent > 0) notes.push_back(fmt::format("{} points that are no finite places were put at the origin.", bent));
    }
};

bool finite(const Vec3& v) { return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z); }

/// Points by their bits: files split them where normals or UVs differ, and write the same numbers for both. A table of
/// numbers with free places between, as millions of points go through it.
class KnownPlaces {
public:
    KnownPlaces(Array<Vec3>& points, std::size_t most)
        : points_(points), table_(std::bit_ceil(2 * most + 2), no_index) {}

    /// The number of the point at this place, which is added when there was none.
    Index number(const Vec3& at) {
        for (std::size_t slot = XXH3_64bits(&at, sizeof at) & (table_.size() - 1);;
             slot = (slot + 1) & (table_.size() - 1)) {
            if (table_[slot] == no_index) {
                table_[slot] = static_cast<Index>(points_.size());
                points_.push_back(at);
                return table_[slot];
            }
            if (points_[table_[slot]] == at) return table_[slot];
        }
    }

private:
    Array<Vec3>& points_;
    std::vector<Index> table_;
};

/// One mesh of a file as a mesh of ours.
class MeshReading {
public:
    MeshReading(const wire::Mesh& from, const std::vector<Material>& materials, LeftOut& left_out)
        : from_(from), materials_(materials), left_out_(left_out) {}

    Mesh run() {
        join_points();
        take_faces();
        const auto topology =
            make_topology(static_cast<Index>(points_.size()), std::move(offsets_), std::move(corners_), loose_);
        Mesh mesh(std::move(points_), topology);
        add_corners(mesh, from_.normals, attribute_name::normal, [](const auto& n) {
            const Vec3 v(n[0], n[1], n[2]);
            const float length = glm::length(v);
            return length > 0 && std::isfinite(length) ? v / length : Vec3(0, 0, 1);
        });
        add_corners(mesh, from_.uvs, attribute_name::uv,
                    [](const auto& uv) { return Vec2(number(uv[0]), number(uv[1])); });
        add_corners(mesh, from_.colours, attribute_name::colour,
                    [](const auto& c) { return Vec4(number(c[0]), number(c[1]), number(c[2]), number(c[3])); });
        add_materials(mesh);
        return mesh;
    }

private:
    static float number(float v) { return std::isfinite(v) ? v : 0; }

    void join_points() {
        KnownPlaces known(points_, from_.points.size());
        joined_.reserve(from_.points.size());
        for (std::size_t i = 0; i < from_.points.size(); ++i) {
            stop_point(i);
            const auto& p = from_.points[i];
            // -0 and 0 are one place.
            Vec3 at(p[0] + 0.0f, p[1] + 0.0f, p[2] + 0.0f);
            if (!finite(at)) at = Vec3(0), ++left_out_.bent;
            joined_.push_back(known.number(at));
        }
    }

    void take_faces() {
        offsets_.push_back(0);
        std::size_t at = 0;
        std::vector<std::size_t> corners;
        for (std::size_t f = 0; f < from_.face_sizes.size(); ++f) {
            stop_point(f);
            const std::size_t size = from_.face_sizes[f];
            if (size > from_.corners.size() - at) {
                left_out_.faces += from_.face_sizes.size() - f;
                return;
            }
            corners.clear();
            bool whole = true;
            for (std::size_t c = at; c < at + size; ++c) {
                whole = whole && from_.corners[c] < joined_.size();
                // A point that comes again at once is one corner.
                if (whole && (corners.empty() || point(c) != point(corners.back()))) corners.push_back(c);
            }
            at += size;
            while (corners.size() > 1 && point(corners.front()) == point(corners.back())) corners.pop_back();
            if (whole && size == 2 && corners.size() == 2)
                loose_.push_back({point(corners[0]), point(corners[1])});
            else if (whole && corners.size() >= 3 && all_different(corners))
                take(f, corners);
            else if (size >= 2 || !whole)
                ++left_out_.faces;
        }
    }

    void take(std::size_t face, const std::vector<std::size_t>& corners) {
        for (const std::size_t c : corners) {
            corners_.push_back(point(c));
            source_.push_back(from_.corners[c]);
        }
        offsets_.push_back(static_cast<Index>(corners_.size()));
        face_source_.push_back(face);
    }

    bool all_different(const std::vector<std::size_t>& corners) const {
        if (corners.size() == 3) return point(corners[0]) != point(corners[2]);
        std::vector<Index> points;
        for (const std::size_t c : corners) points.push_back(point(c));
        std::ranges::sort(points);
        return std::ranges::adjacent_find(points) == points.end();
    }

    Index point(std::size_t corner) const { return joined_[from_.corners[corner]]; }

    template <class T, class Make>
    void add_corners(Mesh& mesh, const std::vector<T>& values, std::string_view name, const Make& make) const {
        if (values.size() != from_.points.size() || source_.empty()) return;
        Array<decltype(make(values[0]))> out;
        out.reserve(source_.size());
        for (const std::uint32_t point : source_) out.push_back(make(values[point]));
        mesh.attributes.set(Domain::corner, name, std::move(out));
    }

    void add_materials(Mesh& mesh) const {
        if (from_.materials.empty() || materials_.empty() || face_source_.empty()) return;
        Array<std::int32_t> numbers;
        MaterialList used;
        for (const std::size_t f : face_source_) {
            const std::size_t at = from_.materials.size() == 1 ? 0 : f;
            const std::uint32_t wanted = at < from_.materials.size() ? from_.materials[at] : ~std::uint32_t(0);
            if (wanted >= materials_.size()) {
                numbers.push_back(0);
                continue;
            }
            const std::int32_t number = material_number(materials_[wanted]);
            numbers.push_back(number);
            if (!find_material(&used, number)) used.push_back({number, materials_[wanted]});
        }
        if (used.empty()) return;
        mesh.attributes.set(Domain::face, attribute_name::material, std::move(numbers));
        mesh.materials = std::make_shared<const MaterialList>(std::move(used));
    }

    const wire::Mesh& from_;
    const std::vector<Material>& materials_;
    LeftOut& left_out_;
    Array<Vec3> points_;
    std::vector<Index> joined_;  ///< point of the file → point
    Array<Index> offsets_, corners_;
    std::vector<std::uint32_t> source_;     ///< corner → point of the file
    std::vector<std::size_t> face_source_;  ///< face → face of the file
    std::vector<std::array<Index, 2>> loose_;
};

Material material_of(const wire::Material& from) {
    Material out;
    const auto share = [](float v) { return std::isfinite(v) ? std::clamp(v, 0.0f, 1.0f) : 0.0f; };
    out.name = from.name;
    out.colour = Vec3(share(from.colour[0]), share(from.colour[1]), share(from.colour[2]));
    out.alpha = share(from.colour[3]);
    out.metallic = share(from.metallic), out.roughness = share(from.roughness);
    out.transmission = share(from.transmission);
    if (std::isfinite(from.ior) && from.ior >= 1 && from.ior <= 4) out.ior = from.ior;
    for (int i = 0; i < 3; ++i) {
        const float glow = from.emission[static_cast<std::size_t>(i)];
        out.emission[i] = std::isfinite(glow) ? std::clamp(glow, 0.0f, 1e6f) : 0;
    }
    out.double_sided = from.double_sided != 0;
    return out;
}

/// Everything that stands in a file, put together.
class FileReading {
public:
    explicit FileReading(const wire::File& file) : file_(file) {
        for (const wire::Material& material : file.materials) materials_.push_back(material_of(material));
    }

    Result<FileShape> run() {
        count_places();
        Shape shape;
        std::vector<Mesh> meshes;
        for (const wire::Place& place : file_.places) {
            glm::mat4 matrix;
            std::copy(place.matrix.begin(), place.matrix.end(), &matrix[0][0]);
            if (!usable(place, matrix)) {
                ++left_out_.places;
                continue;
            }
            const ShapePtr whole = whole_of(place);
            if (whole->mesh.empty()) continue;
            const auto key = place.meshes;
            if (stands_[key] > 1) {
                const auto [group, fresh] = group_of_.try_emplace(key, shape.instances.size());
                if (fresh) shape.instances.emplace_back(whole);
                shape.instances[group->second].places.push_back(matrix);
            } else {
                meshes.push_back(matrix == glm::mat4(1) ? whole->mesh : transformed(*whole, glm::dmat4(matrix)).mesh);
                names_.push_back(place.name);
            }
        }
        if (!meshes.empty()) shape.mesh = joined_meshes(meshes);
        if (file_.one_list && meshes.size() > 1) join_over_names(shape.mesh);
        add_sets(meshes, shape.mesh);
        FileShape out;
        out.notes = file_.notes;
        if (std::set<std::string>(names_.begin(), names_.end()).size() > most_sets)
            out.notes.push_back(fmt::format("Only the first {} names in it became sets.", most_sets));
        left_out_.tell(out.notes);
        if (shape.empty()) return Problem{"There is nothing in it to be seen: no faces, edges or points.", "", ""};
        out.shape = std::make_shared<const Shape>(std::move(shape));
        return out;
    }

private:
    void count_places() {
        for (const wire::Place& place : file_.places) ++stands_[place.meshes];
    }

    bool usable(const wire::Place& place, const glm::mat4& matrix) const {
        for (int c = 0; c < 4; ++c)
            if (!finite(Vec3(matrix[c]))) return false;
        return std::ranges::all_of(place.meshes, [&](std::uint32_t m) { return m < file_.meshes.size(); });
    }

    ShapePtr whole_of(const wire::Place& place) {
        if (const auto known = made_.find(place.meshes); known != made_.end()) return known->second;
        std::vector<Mesh> meshes;
        for (const std::uint32_t m : place.meshes)
            meshes.push_back(MeshReading(file_.meshes[m], materials_, left_out_).run());
        auto shape = std::make_shared<Shape>();
        if (!meshes.empty()) shape->mesh = meshes.size() == 1 ? std::move(meshes[0]) : joined_meshes(meshes);
        if (meshes.size() > 1) join_over_names(shape->mesh);  // one body, parted by its materials
        return made_[place.meshes] = std::move(shape);
    }

    /// Faces of different names may share points. Bodies that only touch stay apart: where joining would tie more than
    /// two faces to an edge, nothing is joined.
    static void join_over_names(Mesh& mesh) {
        WeldResult joined = weld(mesh, 0);
        if (joined.collapsed_faces == 0 &&
            joined.mesh.topology->ties().non_manifold_edges <= mesh.topology->ties().non_manifold_edges)
            mesh = std::move(joined.mesh);
    }

    /// Names as sets of faces, where there are several to be told apart.
    void add_sets(const std::vector<Mesh>& meshes, Mesh& all) const {
        std::map<std::string, Array<std::uint8_t>> sets;
        std::size_t from = 0;
        for (std::size_t i = 0; i < meshes.size(); ++i) {
            const std::size_t count = meshes[i].face_count();
            if (!names_[i].empty() && sets.size() < most_sets) {
                auto& mask = sets.try_emplace(names_[i], all.face_count(), std::uint8_t(0)).first->second;
                std::fill_n(mask.begin() + static_cast<std::ptrdiff_t>(from), count, std::uint8_t(1));
            }
            from += count;
        }
        if (sets.size() < 2) return;
        for (auto& [name, mask] : sets) all.attributes.set(Domain::face, name, std::move(mask));
    }

    static constexpr std::size_t most_sets = 256;

    const wire::File& file_;
    std::vector<Material> materials_;
    LeftOut left_out_;
    std::map<std::vector<std::uint32_t>, std::size_t> stands_, group_of_;
    std::map<std::vector<std::uint32_t>, ShapePtr> made_;
    std::vector<std::string> names_;  ///< of the meshes that stand once
};

using Read = std::shared_ptr<const FileShape>;

/// The last few files read, by their content.
struct KeptShapes {
    std::mutex mutex;
    std::vector<std::pair<std::uint64_t, Read>> list;  ///< newest last
    static constexpr std::size_t most = 4;

    Read find(std::uint64_t content) {
        const std::scoped_lock lock(mutex);
        const auto known = std::ranges::find(list, content, &std::pair<std::uint64_t, Read>::first);
        return known == list.end() ? nullptr : known->second;
    }
    void keep(std::uint64_t content, Read read) {
        const std::scoped_lock lock(mutex);
        if (list.size() == most) list.erase(list.begin());
        list.emplace_back(content, std::move(read));
    }
};

/// Unit and up as the file says, or as files of its kind usually mean them, with a word that it was guessed.
void settle_customs(const wire::File& file, const std::string& suffix, FileShape& shape) {
    const FormatInfo* format = find_format("." + suffix);
    shape.metres = file.metres > 0 && std::isfinite(file.metres) ? file.metres : format ? 1 / format->scale : 1;
    shape.y_up = file.up ? file.up == 'y' : format && format->up == UpAxis::y;
    std::string kind = suffix;
    for (char& c : kind) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    if (!(file.metres > 0))
        shape.guessed_unit = fmt::format("{} files do not say their unit: {} taken.", kind,
                                         shape.metres < 0.5 ? "millimetres are" : "metres are");
    if (!file.up)
        shape.guessed_up =
            fmt::format("{} files do not say which way is up: {} is taken.", kind, shape.y_up ? "y" : "z");
}

}  // namespace

bool is_readable_shape(std::string_view path) { return std::ranges::find(readable, suffix_of(path)) != readable.end(); }

Result<FileShape> shape_of(const wire::File& file) { return FileReading(file).run(); }

ReadShape shape_reader(std::shared_ptr<FileFence> fence) {
    auto kept = std::make_shared<KeptShapes>();
    return [kept, files = file_reader(std::move(fence))](const std::string& name,
                                                         const std::string& folder) -> Result<Read> {
        const std::string suffix = suffix_of(name);
        if (!name.empty() && !is_readable_shape(name))
            return Problem{fmt::format("“{}” is no file of shapes that can be read.", name), "",
                           "OBJ, PLY, STL, GLB, glTF and 3MF can."};
        const auto text = files(name, folder);
        if (!text) return text.problem();
        const Beside beside = read_materials(name, **text, folder, files);
        std::uint64_t content = XXH3_64bits_withSeed((*text)->data(), (*text)->size(), suffix.size() + suffix[0]);
        for (const std::string* more : {&beside.text, beside.missing.empty() ? nullptr : &beside.missing.front()})
            if (more) content = XXH3_64bits_withSeed(more->data(), more->size(), content);
        if (Read known = kept->find(content)) return known;
        auto file = read_outside(suffix, **text, beside.text);
        if (!file) return file.problem();
        file->notes.insert(file->notes.end(), beside.missing.begin(), beside.missing.end());
        auto shape = shape_of(*file);
        if (!shape) return shape.problem();
        settle_customs(*file, suffix, *shape);
        Read read = std::make_shared<const FileShape>(std::move(*shape));
        kept->keep(content, read);
        return read;
    };
}

}  // namespace bricol
