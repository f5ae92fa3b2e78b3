// SPDX-License-Identifier: GPL-3.0-or-later
// What the reader process hands back about a file of shapes, and how it is packed into bytes. The process that reads
// it trusts nothing of it: every length is checked against what is left.
#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <cstring>
#include <optional>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

namespace bricol::wire {

struct Material {
    std::string name;
    std::array<float, 4> colour{0.8f, 0.8f, 0.8f, 1};  ///< linear
    std::array<float, 3> emission{0, 0, 0};
    float metallic = 0, roughness = 0.8f, transmission = 0, ior = 1.5f;
    std::uint8_t double_sided = 0;
};

struct Mesh {
    std::string name;
    std::vector<std::array<float, 3>> points;
    std::vector<std::uint32_t> face_sizes, corners;  ///< points of each face; two make a loose edge, one a point
    std::vector<std::array<float, 3>> normals;       ///< of points; empty for none, as the next two
    std::vector<std::array<float, 2>> uvs;
    std::vector<std::array<float, 4>> colours;
    std::vector<std::uint32_t> materials;  ///< of faces, or one for all of them; numbers beyond the list mean none
};

/// Meshes that stand in one place under one name.
struct Place {
    std::string name;
    std::array<float, 16> matrix{};  ///< columns one after another
    std::vector<std::uint32_t> meshes;
};

struct File {
    std::string failed;         ///< why nothing could be read; empty when all is well
    double metres = 0;          ///< one unit; 0 when the file does not say
    std::uint8_t up = 0;        ///< 'y' or 'z'; 0 when the file does not say
    std::uint8_t one_list = 0;  ///< its meshes take their points from one list and may share them
    std::vector<std::string> notes;
    std::vector<Material> materials;
    std::vector<Mesh> meshes;
    std::vector<Place> places;
};

/// Writes and reads the same fields in the same order: `Stream` is a Packer or an Unpacker.
template <class Stream>
void each_field(Stream& s, Material& m) {
    s(m.name), s(m.colour), s(m.emission), s(m.metallic), s(m.roughness), s(m.transmission), s(m.ior),
        s(m.double_sided);
}
template <class Stream>
void each_field(Stream& s, Mesh& m) {
    s(m.name), s(m.points), s(m.face_sizes), s(m.corners), s(m.normals), s(m.uvs), s(m.colours), s(m.materials);
}
template <class Stream>
void each_field(Stream& s, Place& p) {
    s(p.name), s(p.matrix), s(p.meshes);
}
template <class Stream>
void each_field(Stream& s, File& f) {
    s(f.failed), s(f.metres), s(f.up), s(f.one_list), s(f.notes), s(f.materials), s(f.meshes), s(f.places);
}

/// What reading one file may cost, by its size: broken ones can ask for any amount of either.
inline constexpr unsigned seconds_for(std::size_t bytes) {
    return 5 + static_cast<unsigned>(std::min<std::size_t>(bytes / 1000000, 300));
}
inline constexpr std::size_t memory_for(std::size_t bytes) {
    constexpr std::size_t least = std::size_t(512) << 20, most = std::size_t(6) << 30;
    return std::min(most, least + 64 * std::min(bytes, most));
}

inline constexpr std::string_view mark = "bricol shapes 1\n";

template <class T>
concept Plain = std::is_trivially_copyable_v<T>;

class Packer {
public:
    std::string bytes{mark};

    template <Plain T>
    void operator()(const T& value) {
        raw(&value, sizeof value);
    }
    void operator()(std::string& text) { size(text.size()), raw(text.data(), text.size()); }
    template <class T>
    void operator()(std::vector<T>& list) {
        size(list.size());
        if constexpr (Plain<T>)
            raw(list.data(), list.size() * sizeof(T));
        else
            for (T& one : list) (*this)(one);
    }
    template <class T>
    requires(!Plain<T>) void operator()(T& value) { each_field(*this, value); }

private:
    void size(std::uint64_t n) { (*this)(n); }
    void raw(const void* data, std::size_t n) {
        if (n > 0) bytes.append(static_cast<const char*>(data), n);
    }
};

/// Ends with `good` false as soon as something does not fit; everything read after that stays empty.
class Unpacker {
public:
    explicit Unpacker(std::string_view bytes) : left_(bytes) {
        good = left_.starts_with(mark);
        if (good) left_.remove_prefix(mark.size());
    }
    bool good = true;

    template <Plain T>
    void operator()(T& value) {
        raw(&value, sizeof value);
    }
    void operator()(std::string& text) {
        const std::size_t n = size(1);
        text.assign(left_.substr(0, n));
        left_.remove_prefix(n);
    }
    template <class T>
    void operator()(std::vector<T>& list) {
        const std::size_t n = size(Plain<T> ? sizeof(T) : 1);
        if constexpr (Plain<T>) {
            list.resize(n);
            raw(list.data(), n * sizeof(T));
        } else {
            for (std::size_t i = 0; i < n && good; ++i) (*this)(list.emplace_back());
        }
    }
    template <class T>
    requires(!Plain<T>) void operator()(T& value) { each_field(*this, value); }

private:
    /// How many follow, each of at least so many bytes; 0 when there is not room for them.
    std::size_t size(std::size_t each) {
        std::uint64_t n = 0;
        (*this)(n);
        if (n > left_.size() / each) good = false;
        return good ? static_cast<std::size_t>(n) : 0;
    }
    void raw(void* to, std::size_t n) {
        if (!good || n > left_.size()) {
            good = false;
            return;
        }
        if (n > 0) std::memcpy(to, left_.data(), n);
        left_.remove_prefix(n);
    }
    std::string_view left_;
};

inline std::string packed(File file) {
    Packer packer;
    std::size_t size = 1000;
    for (const Mesh& mesh : file.meshes)
        size += 64 + mesh.points.size() * 24 + mesh.uvs.size() * 8 + mesh.colours.size() * 16 +
                (mesh.face_sizes.size() + mesh.corners.size() + mesh.materials.size()) * 4;
    packer.bytes.reserve(size);
    packer(file);
    return std::move(packer.bytes);
}
inline std::optional<File> unpacked(std::string_view bytes) {
    Unpacker unpacker(bytes);
    File file;
    unpacker(file);
    if (!unpacker.good) return std::nullopt;
    return file;
}

}  // namespace bricol::wire
