// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/array.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <map>
#include <span>
#include <vector>

#include "core/ground/stop.h"
#include "core/kernels/whole_pieces.h"

namespace bricol {

Array<glm::mat4> straight_places(int count, const DVec3& step) {
    Array<glm::mat4> places;
    for (int i = 0; i < count; ++i)
        places.push_back(glm::mat4(glm::translate(glm::dmat4(1), step * static_cast<double>(i))));
    return places;
}

int count_to_fill(double length, double spacing) {
    if (spacing <= 0 || length <= 0) return 1;
    return static_cast<int>(std::clamp(whole_pieces_in(length, spacing), 1.0, 1e7));
}

Array<glm::mat4> radial_places(int count, int axis, const DVec3& centre, double degrees, double rise, bool turn_copies,
                               const DVec3& pivot) {
    DVec3 along(0);
    along[axis] = 1;
    Array<glm::mat4> places;
    for (int i = 0; i < count; ++i) {
        // Whole turns are taken off first, so that copy 7 of 6 stands exactly on copy 1.
        const double angle = glm::radians(std::remainder(degrees * i, 360.0));
        const glm::dmat4 turn =
            glm::translate(glm::rotate(glm::translate(glm::dmat4(1), centre), angle, along), -centre);
        const glm::dmat4 lift = glm::translate(glm::dmat4(1), along * (rise * i));
        const glm::dmat4 stand =
            turn_copies ? turn : glm::translate(glm::dmat4(1), DVec3(turn * glm::dvec4(pivot, 1)) - pivot);
        places.push_back(glm::mat4(lift * stand));
    }
    return places;
}

double angle_between(int count, double total) {
    if (count <= 1) return 0;
    return std::abs(std::abs(total) - 360) < 1e-9 ? total / count : total / (count - 1);
}

Array<glm::mat4> repeated_places(int count, const glm::dmat4& step) {
    Array<glm::mat4> places;
    glm::dmat4 at(1);
    for (int i = 0; i < count; ++i, at = at * step) places.push_back(glm::mat4(at));
    return places;
}

Array<glm::mat4> grid_places(const std::array<int, 3>& counts, const DVec3& step) {
    Array<glm::mat4> places;
    for (int z = 0; z < counts[2]; ++z)
        for (int y = 0; y < counts[1]; ++y)
            for (int x = 0; x < counts[0]; ++x)
                places.push_back(glm::mat4(glm::translate(glm::dmat4(1), step * DVec3(x, y, z))));
    return places;
}

namespace {

/// A number that faces with the same vertices have in common, in whatever order they go round them.
std::uint64_t sum_of_corners(std::span<const Index> corners) {
    std::uint64_t sum = 0;
    for (const Index v : corners) {
        std::uint64_t x = (v + 1) * 0x9e3779b97f4a7c15ull;  // splitmix64
        x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9ull, x = (x ^ (x >> 27)) * 0x94d049bb133111ebull;
        sum += x ^ (x >> 31);
    }
    return sum;
}

struct SummedFace {
    std::uint64_t sum;
    Index face;
};

/// The faces that share their sum with another one, and a few that by chance do not; by sum, then by face.
std::vector<SummedFace> faces_of_same_sum(const Topology& t) {
    const std::size_t slots = std::bit_ceil(8 * t.face_count() + 1);
    std::vector<std::uint8_t> seen(slots, 0);
    std::vector<std::uint64_t> sums(t.face_count());
    for (Index f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        sums[f] = sum_of_corners(t.face(f));
        std::uint8_t& times = seen[sums[f] & (slots - 1)];
        if (times < 2) ++times;
    }
    std::vector<SummedFace> same;
    for (Index f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        if (seen[sums[f] & (slots - 1)] == 2) same.push_back({sums[f], f});
    }
    std::size_t asked = 0;
    std::ranges::sort(same, [&asked](const SummedFace& a, const SummedFace& b) {
        stop_point(++asked);
        return a.sum != b.sum ? a.sum < b.sum : a.face < b.face;
    });
    return same;
}

/// Marks the doubled ones of faces that go round the same vertices.
void mark_doubled(const Topology& t, std::span<const SummedFace> faces, Array<std::uint8_t>& doubled) {
    // Corners from the smallest vertex on: the same list for a repeat, the reversed one for a face back to back.
    const auto ring_of = [&](Index f, bool reversed) {
        std::vector<Index> ring(t.face(f).begin(), t.face(f).end());
        if (reversed) std::ranges::reverse(ring);
        std::ranges::rotate(ring, std::ranges::min_element(ring));
        return ring;
    };
    std::map<std::vector<Index>, Index> standing;
    for (const auto& [sum, f] : faces) {
        stop_point(f);
        if (const auto back = standing.find(ring_of(f, true)); back != standing.end()) {
            doubled[f] = doubled[back->second] = 1;
            standing.erase(back);
        } else if (!standing.emplace(ring_of(f, false), f).second) {
            doubled[f] = 1;
        }
    }
}

}  // namespace

Array<std::uint8_t> doubled_faces(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    Array<std::uint8_t> doubled(t.face_count(), 0);
    const std::vector<SummedFace> same = faces_of_same_sum(t);
    for (std::size_t i = 0, end = 0; i < same.size(); i = end) {
        stop_point(i);
        while (end < same.size() && same[end].sum == same[i].sum) ++end;
        if (end > i + 1) mark_doubled(t, std::span(same).subspan(i, end - i), doubled);
    }
    return doubled;
}

}  // namespace bricol
