// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/fuse.h"

#include <Eigen/Dense>
#include <algorithm>
#include <atomic>
#include <cmath>
#include <list>
#include <mutex>
#include <xxhash.h>

#include "core/ground/disjoint_sets.h"
#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/field_vdb.h"
#include "core/kernels/pieces.h"
#include "core/kernels/surface_finder.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

/// One closed surface of a mesh.
struct Shell {
    std::vector<Vec3> points;
    std::vector<std::array<Index, 3>> triangles;
    double volume = 0;
};

/// The surfaces that the faces of a piece make: the outer one first, hollows behind it.
std::vector<Shell> shells_of(const Mesh& mesh, std::span<const Index> faces) {
    const Topology& t = *mesh.topology;
    DisjointSets together(mesh.vertex_count());
    for (const Index f : faces)
        for (const Index v : t.face(f)) together.join(t.face(f)[0], v);
    std::vector<Shell> shells;
    std::vector<Index> shell_of(mesh.vertex_count(), no_index), number(mesh.vertex_count(), no_index);
    for (const Index f : faces) {
        const Index root = together.root(t.face(f)[0]);
        if (shell_of[root] == no_index) {
            shell_of[root] = static_cast<Index>(shells.size());
            shells.emplace_back();
        }
        Shell& shell = shells[shell_of[root]];
        const Triangles cut = triangulated(mesh, f, f + 1);
        for (std::size_t i = 0; i < cut.count(); ++i) {
            std::array<Index, 3> triangle;
            for (std::size_t c = 0; c < 3; ++c) {
                const Index v = t.corner_vertex[cut.corners[3 * i + c]];
                if (number[v] == no_index) {
                    number[v] = static_cast<Index>(shell.points.size());
                    shell.points.push_back((*mesh.positions)[v]);
                }
                triangle[c] = number[v];
            }
            shell.triangles.push_back(triangle);
            const DVec3 a(shell.points[triangle[0]]), b(shell.points[triangle[1]]), c(shell.points[triangle[2]]);
            shell.volume += glm::dot(a, glm::cross(b, c)) / 6;
        }
    }
    return shells;
}

/// Fields of shells made before, the oldest given up first.
class KeptFields {
public:
    DistanceField find_or_make(const Shell& shell, double cell, int band) {
        XXH3_state_t* state = XXH3_createState();
        XXH3_64bits_reset(state);
        XXH3_64bits_update(state, shell.points.data(), shell.points.size() * sizeof(Vec3));
        XXH3_64bits_update(state, shell.triangles.data(), shell.triangles.size() * sizeof(shell.triangles[0]));
        XXH3_64bits_update(state, &cell, sizeof cell);
        XXH3_64bits_update(state, &band, sizeof band);
        const std::uint64_t key = XXH3_64bits_digest(state);
        XXH3_freeState(state);
        {
            const std::lock_guard lock(mutex_);
            for (auto it = kept_.begin(); it != kept_.end(); ++it)
                if (it->key == key) {
                    kept_.splice(kept_.begin(), kept_, it);
                    return kept_.front().field;
                }
        }
        const DistanceField field = field_round(shell.points, shell.triangles, cell, band);
        const std::lock_guard lock(mutex_);
        ++made;
        kept_.push_front({key, field});
        std::size_t bytes = 0;
        for (auto it = kept_.begin(); it != kept_.end(); ++it) {
            const std::size_t with_it = bytes + it->field.bytes();
            if (with_it > most_bytes && it != kept_.begin()) {
                kept_.erase(it, kept_.end());
                break;
            }
            bytes = with_it;
        }
        bytes_ = bytes;
        return field;
    }
    void forget() {
        const std::lock_guard lock(mutex_);
        kept_.clear();
        bytes_ = 0;
    }
    std::size_t bytes() const { return bytes_; }
    std::atomic<std::size_t> made = 0;

private:
    static constexpr std::size_t most_bytes = 256u << 20;
    struct Entry {
        std::uint64_t key;
        DistanceField field;
    };
    std::list<Entry> kept_;
    std::atomic<std::size_t> bytes_ = 0;  // read by the window while others write
    std::mutex mutex_;
};

KeptFields& kept_fields() {
    static KeptFields fields;
    return fields;
}

int band_of(const FuseOptions& options) {
    const double rounds = options.smoothing == FuseSmoothing::none ? 0 : options.rounds;
    return static_cast<int>(std::ceil(3 + rounds + std::abs(options.offset) / options.cell));
}

/// The field of one mesh: all its pieces joined, each without its hollows.
DistanceField field_of(const Mesh& mesh, const FuseOptions& options) {
    const int band = band_of(options);
    DistanceField all;
    for (const MeshPiece& piece : pieces_of(mesh)) {
        stop_point();
        std::vector<Shell> shells = shells_of(mesh, piece.faces);
        std::stable_sort(shells.begin(), shells.end(),
                         [](const Shell& a, const Shell& b) { return std::abs(a.volume) > std::abs(b.volume); });
        DistanceField own;
        for (const Shell& shell : shells) {
            const DistanceField field = kept_fields().find_or_make(shell, options.cell, band);
            own = own ? combined(std::move(own), field, FuseKind::cut) : field;
        }
        all = all ? combined(std::move(all), own, FuseKind::join) : own;
    }
    return all;
}

/// Points of faces that were turned over by their moves go back to where they were, until no face is.
void take_back_folds(const Topology& t, const Array<Vec3>& old, Array<Vec3>& points) {
    const auto normal = [&](const Array<Vec3>& at, std::span<const Index> face, std::size_t c) {
        const DVec3 a(at[face[c]]), b(at[face[(c + 1) % face.size()]]),
            d(at[face[(c + face.size() - 1) % face.size()]]);
        return glm::cross(b - a, d - a);
    };
    for (bool any = true; any;) {
        any = false;
        for (Index f = 0; f < t.face_count(); ++f) {
            stop_point(f);
            const auto face = t.face(f);
            DVec3 before(0);
            for (std::size_t c = 0; c < face.size(); ++c) before += normal(old, face, c);
            bool folded = false;
            for (std::size_t c = 0; c < face.size(); ++c) {
                const DVec3 after = normal(points, face, c);
                const double size = glm::length(after), old_size = glm::length(before);
                folded |= size > 0.02 * old_size && glm::dot(after, before) < -0.2 * size * old_size;
            }
            if (!folded) continue;
            for (const Index v : face) any |= points[v] != old[v], points[v] = old[v];
        }
    }
}

/// Moves points to where the tangent planes of the shapes near them meet, so that ridges the cells cut off come back.
/// As dual contouring places its points (T. Ju, F. Losasso, S. Schaefer, J. Warren, "Dual contouring of Hermite data",
/// 2002), the planes taken from the shapes at the middles of the faces round a point.
void put_back_ridges(Mesh& mesh, const Mesh& sources, double cell, double offset) {
    const SurfaceFinder surface(sources);
    const Topology& t = *mesh.topology;
    const Array<Vec3>& old = *mesh.positions;
    struct Plane {
        DVec3 at{0}, normal{0};
    };
    std::vector<Plane> planes(t.face_count());
    parallel::each(parallel::Numbers<std::size_t>(0, planes.size(), 256), [&](const auto& range) {
        stop_point();
        for (std::size_t f = range.begin(); f != range.end(); ++f) {
            DVec3 middle(0);
            for (const Index v : t.face(f)) middle += DVec3(old[v]);
            middle /= static_cast<double>(t.face(f).size());
            const SurfaceHit hit = surface.nearest(middle, 2 * cell + std::abs(offset));
            if (!hit) continue;
            const auto& triangle = surface.triangles()[hit.triangle];
            const auto corner = [&](int c) {
                return DVec3(
                    (*sources.positions)[sources.topology->corner_vertex[triangle[static_cast<std::size_t>(c)]]]);
            };
            const DVec3 normal = glm::cross(corner(1) - corner(0), corner(2) - corner(0));
            if (glm::length(normal) > 0) planes[f] = {hit.at, glm::normalize(normal)};
        }
    });
    std::vector<std::vector<Index>> faces_at(mesh.vertex_count());
    for (Index f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        for (const Index v : t.face(f)) faces_at[v].push_back(f);
    }
    Array<Vec3> points = old;
    parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 256), [&](const auto& range) {
        stop_point();
        for (std::size_t v = range.begin(); v != range.end(); ++v) {
            Eigen::Matrix3d a = Eigen::Matrix3d::Zero();
            Eigen::Vector3d b = Eigen::Vector3d::Zero();
            const Eigen::Vector3d p(old[v].x, old[v].y, old[v].z);
            for (const Index f : faces_at[v]) {
                const Plane& plane = planes[f];
                if (plane.normal == DVec3(0)) continue;
                const Eigen::Vector3d n(plane.normal.x, plane.normal.y, plane.normal.z),
                    q(plane.at.x, plane.at.y, plane.at.z);
                a += n * n.transpose();
                b += n * (n.dot(q - p) + offset);
            }
            const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> parts(a);
            const double largest = parts.eigenvalues()[2];
            if (!(largest > 0)) continue;
            Eigen::Vector3d move = Eigen::Vector3d::Zero();
            for (int i = 0; i < 3; ++i)  // directions that the planes do not settle stay
                if (parts.eigenvalues()[i] > 0.1 * largest) {
                    const Eigen::Vector3d way = parts.eigenvectors().col(i);
                    move += way * (way.dot(b) / parts.eigenvalues()[i]);
                }
            if (move.norm() < 1.2 * cell) points[v] += Vec3(DVec3(move.x(), move.y(), move.z()));
        }
    });
    take_back_folds(t, old, points);
    mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
}

}  // namespace

FuseCost fuse_cost(double area, const FuseOptions& options) {
    const double squares = area / (options.cell * options.cell);
    const double thick = 2.0 * band_of(options);
    // Fields are kept in blocks of 8 x 8 x 8 cells of 4 bytes and a bit each; a surface goes through about twice as
    // many as its area fills, and the band reaches into their neighbours.
    const double blocks = 2 * squares / 64 * std::max(1.0, thick / 8);
    return {squares * thick, 3 * blocks * (512 * 4 + 128), 1.2 * squares};
}

FuseResult fused(std::span<const Mesh> meshes, const FuseOptions& options) {
    FuseResult out;
    DistanceField field = field_of(meshes[0], options);
    for (const Mesh& other : meshes.subspan(1)) {
        stop_point();
        const DistanceField own = field_of(other, options);
        if (!own) continue;
        field = field ? combined(std::move(field), own, options.kind) : own;
    }
    if (!field) {
        out.empty = true;
        return out;
    }
    if (options.smoothing != FuseSmoothing::none && options.rounds > 0)
        field = smoothed(std::move(field), options.smoothing, options.rounds);
    FieldMesh surface = surface_of(field, options.offset);
    if (surface.points.empty()) {
        out.empty = true;
        return out;
    }
    const auto count = static_cast<Index>(surface.points.size());
    Mesh mesh(std::move(surface.points), make_topology(count, std::move(surface.offsets), std::move(surface.corners)));
    const Mesh sources = joined_meshes(meshes);
    if (options.sharp) put_back_ridges(mesh, sources, options.cell, options.offset);
    out.mesh = with_attributes_from(std::move(mesh), sources);
    return out;
}

void forget_fields() { kept_fields().forget(); }
std::size_t kept_field_bytes() { return kept_fields().bytes(); }
std::size_t pieces_fielded() { return kept_fields().made; }

namespace {

/// What a ray comes through, one face after another.
class RayThrough {
public:
    RayThrough(const SurfaceFinder& surface, const DVec3& from, const DVec3& way, double past)
        : surface_(surface), from_(from), way_(way), past_(past) {}

    /// Goes on to the next face: 1 where the ray leaves a piece there, -1 where it enters one, 0 when no more is met.
    int next() {
        const SurfaceHit hit = met_++ < 64 ? surface_.along(from_ + way_ * gone_, way_) : SurfaceHit{};
        if (!hit) return 0;
        gone_ += hit.distance;
        at_ = gone_;
        gone_ += past_;
        const auto& t = surface_.triangles()[hit.triangle];
        const auto corner = [&](Index c) {
            return DVec3((*surface_.mesh().positions)[surface_.mesh().topology->corner_vertex[c]]);
        };
        const DVec3 a = corner(t[0]);
        return glm::dot(glm::cross(corner(t[1]) - a, corner(t[2]) - a), way_) > 0 ? 1 : -1;
    }
    double distance() const { return at_; }  ///< to the face that was met last

private:
    const SurfaceFinder& surface_;
    DVec3 from_, way_;
    double past_, gone_ = 0, at_ = 0;
    int met_ = 0;
};

/// Whether a place just off a face lies within other pieces: the ray leaves more than it enters.
bool lies_within(RayThrough ray) {
    int depth = 0;
    for (int turn = ray.next(); turn != 0; turn = ray.next()) depth += turn;
    return depth > 0;
}

}  // namespace

ThinnestWall thinnest_wall(const Mesh& mesh, std::size_t most_rays) {
    ThinnestWall out;
    const SurfaceFinder surface(mesh);
    const std::size_t count = surface.triangles().size(), step = std::max<std::size_t>(1, count / most_rays);
    const auto at = [&](Index corner) { return DVec3((*mesh.positions)[mesh.topology->corner_vertex[corner]]); };
    for (std::size_t i = 0; i < count; i += step) {
        stop_point(i);
        const auto& t = surface.triangles()[i];
        const DVec3 a = at(t[0]), b = at(t[1]), c = at(t[2]);
        DVec3 normal = glm::cross(b - a, c - a);
        const double size = std::sqrt(glm::length(normal));
        if (!(size > 0)) continue;
        normal = glm::normalize(normal);
        const DVec3 middle = (a + b + c) / 3.0;
        // From a little within, so that the face itself is not met; where pieces overlap the wall goes on to where the
        // last of them ends.
        const double off = 1e-4 * size;
        RayThrough inward(surface, middle - normal * off, -normal, off);
        int depth = 1;
        while (depth > 0 && off + inward.distance() < out.thickness) {
            const int turn = inward.next();
            if (turn == 0) break;
            depth -= turn;
        }
        if (depth > 0 || off + inward.distance() >= out.thickness) continue;
        if (lies_within(RayThrough(surface, middle + normal * off, normal, off))) continue;  // no wall begins there
        out.thickness = off + inward.distance(), out.where = middle;
    }
    return out;
}

}  // namespace bricol
