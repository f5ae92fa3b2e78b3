// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/dressing.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/ground/stop.h"
#include "core/kernels/hull.h"
#include "core/kernels/light_uvs.h"
#include "core/kernels/lighter.h"
#include "core/kernels/pieces.h"
#include "core/kernels/primitives.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/transform.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

/// A shape with every mesh in it turned into another, each once however often it stands.
class MeshMap {
public:
    MeshMap(std::function<Mesh(const Mesh&)> turn, ShapeNames& names) : turn_(std::move(turn)), names_(names) {}

    ShapePtr of(const ShapePtr& shape) {
        if (!shape) return shape;
        if (const auto found = done_.find(shape); found != done_.end()) return found->second;
        auto out = std::make_shared<Shape>(*shape);
        if (shape->mesh.face_count() > 0) out->mesh = turn_(shape->mesh);
        for (Instances& group : out->instances) group.shape = of(group.shape);
        if (const auto name = names_.find(shape); name != names_.end()) names_[out] = name->second;
        return done_[shape] = out;
    }

private:
    std::function<Mesh(const Mesh&)> turn_;
    ShapeNames& names_;
    std::map<ShapePtr, ShapePtr> done_;
};

DVec3 pivot_of(const Shape& shape, const Dressing& dressing) {
    if (dressing.pivot == Pivot::own) return DVec3(0);
    if (dressing.pivot == Pivot::point) return dressing.point;
    const auto box = box_of(shape);
    if (!box) return DVec3(0);
    const DVec3 middle = box->centre();
    return dressing.pivot == Pivot::foot ? DVec3(middle.x, middle.y, box->low.z) : middle;
}

std::size_t triangles_standing(const Shape& shape) {
    std::size_t count = shape.mesh.face_count() > 0 ? triangulated(shape.mesh).count() : 0;
    for (const Instances& group : shape.instances) count += group.count() * triangles_standing(*group.shape);
    return count;
}

std::vector<Mesh> collision_of(const Mesh& mesh, const Dressing& dressing, const std::string& part,
                               std::vector<std::string>& notes) {
    std::vector<Mesh> out;
    if (dressing.collision == CollisionKind::hull) {
        out.push_back(convex_hull(*mesh.positions));
    } else if (dressing.collision == CollisionKind::pieces) {
        out = convex_pieces(mesh, dressing.most_pieces);
    } else {
        std::vector<MeshPiece> pieces = pieces_of(mesh);
        std::ranges::stable_sort(pieces, std::greater(), &MeshPiece::size);
        for (const MeshPiece& piece : pieces) {
            if (out.size() == dressing.most_pieces) break;
            const DVec3 size = piece.box.size();
            if (std::min({size.x, size.y, size.z}) <= 0) continue;
            Shape box;
            box.mesh = make_box(size, {1, 1, 1});
            box.mesh.attributes.remove(Domain::corner, attribute_name::uv);
            out.push_back(transformed(box, placement(piece.box.centre(), DVec3(0), DVec3(1), DVec3(0))).mesh);
        }
    }
    std::erase_if(out, [](const Mesh& one) { return one.face_count() == 0; });
    const std::size_t loose = mesh.topology->ties().pieces;
    if (out.empty()) notes.push_back(fmt::format("{}: a flat shape has nothing to collide with.", part));
    if (dressing.collision != CollisionKind::hull && loose > dressing.most_pieces)
        notes.push_back(
            fmt::format("{}: of {} loose pieces the {} largest got a shape to collide with.", part, loose, out.size()));
    return out;
}

std::string collision_name(const std::string& pattern, const std::string& part, std::size_t number) {
    std::string out = pattern;
    const auto put = [&](std::string_view mark, const std::string& value) {
        for (std::size_t at = out.find(mark); at != std::string::npos; at = out.find(mark, at + value.size()))
            out.replace(at, mark.size(), value);
    };
    put("{part}", part);
    put("{n}", fmt::format("{:02}", number));
    return out;
}

void add_levels(const NamedShape& whole, const Dressing& dressing, ShapeNames& names, std::vector<NamedShape>& out,
                std::vector<std::string>& notes) {
    const std::size_t all = triangles_standing(*whole.shape);
    for (std::size_t k = 0; k < dressing.levels.size(); ++k) {
        stop_point();
        const double share = dressing.levels[k];
        MeshMap lighten(
            [&](const Mesh& mesh) {
                const auto count = static_cast<double>(triangulated(mesh).count());
                return lighter(mesh, std::max<std::size_t>(4, static_cast<std::size_t>(count * share + 0.5)));
            },
            names);
        NamedShape level = whole;
        level.name = fmt::format("{}_LOD{}", whole.name, k + 1);
        level.shape = lighten.of(whole.shape);
        level.level = static_cast<int>(k + 1);
        const std::size_t left = triangles_standing(*level.shape);
        if (static_cast<double>(left) > 1.1 * share * static_cast<double>(all) + 4)
            notes.push_back(
                fmt::format("{}: level {} has {} triangles instead of {}: with fewer it would lose its form.",
                            whole.name, k + 1, left, static_cast<std::size_t>(share * static_cast<double>(all) + 0.5)));
        out.push_back(std::move(level));
    }
}

/// One part and everything that goes with it.
std::vector<NamedShape> dressed_one(const NamedShape& named, const Dressing& dressing, MeshMap& map_light,
                                    ShapeNames& names, std::vector<std::string>& notes) {
    std::vector<NamedShape> out;
    NamedShape whole = named;
    const DVec3 pivot = pivot_of(*named.shape, dressing);
    if (pivot != DVec3(0)) {
        whole.shape =
            std::make_shared<const Shape>(transformed(*named.shape, placement(-pivot, DVec3(0), DVec3(1), DVec3(0))));
        whole.at += Vec3(pivot);
    }
    if (dressing.light_uvs) whole.shape = map_light.of(whole.shape);
    out.push_back(whole);
    add_levels(whole, dressing, names, out, notes);
    if (!dressing.levels.empty()) out[0].name += "_LOD0";
    if (dressing.collision == CollisionKind::none) return out;
    const double faces = weight_of(*whole.shape).standing;
    if (faces > most_faces_written_out) {
        notes.push_back(fmt::format("{}: with {:.3g} million faces it is too heavy for shapes to collide with.",
                                    named.name, faces / 1e6));
        return out;
    }
    std::size_t number = 0;
    for (Mesh& mesh : collision_of(real_geometry(whole.shape)->mesh, dressing, named.name, notes)) {
        Shape solid;
        solid.mesh = std::move(mesh);
        NamedShape one{collision_name(dressing.collision_name, named.name, ++number),
                       std::make_shared<const Shape>(std::move(solid))};
        one.at = whole.at;
        one.collision = true;
        out.push_back(std::move(one));
    }
    return out;
}

}  // namespace

std::vector<NamedShape> dressed(std::span<const NamedShape> shapes, const Dressing& dressing, ShapeNames& names,
                                std::vector<std::string>& notes, DressingMemory* memory) {
    std::vector<NamedShape> all;
    MeshMap map_light(
        [](const Mesh& mesh) {
            stop_point();
            return with_light_uvs(mesh).mesh;
        },
        names);
    for (const NamedShape& named : shapes) {
        if (!named.shape || named.shape->face_count() == 0) continue;
        if (memory)
            if (const auto known = memory->find({named.shape, named.name}); known != memory->end()) {
                all.insert(all.end(), known->second.begin(), known->second.end());
                continue;
            }
        const std::vector<NamedShape> out = dressed_one(named, dressing, map_light, names, notes);
        if (memory) memory->emplace(std::pair(named.shape, named.name), out);
        all.insert(all.end(), out.begin(), out.end());
    }
    return all;
}

}  // namespace bricol
