// SPDX-License-Identifier: GPL-3.0-or-later
// A binary glTF file while it is put together: JSON for its head, arrays for its body in the order they come.
#pragma once

#include <memory>
#include <span>
#include <nlohmann/json.hpp>

#include "core/files/format.h"
#include "core/ground/json.h"

namespace bricol {

using OrderedJson = nlohmann::ordered_json;

namespace gltf {
inline constexpr int component_float = 5126, component_uint = 5125, component_ushort = 5123, target_vertices = 34962,
                     target_indices = 34963;
}

class GlbBody {
public:
    GlbBody();

    OrderedJson json;

    /// Takes an array into the body; gives the number of its view. `target` 0 for what is no vertex and no index.
    template <class T>
    std::size_t view(Array<T> values, int target) {
        auto kept = std::make_shared<const Array<T>>(std::move(values));
        const std::string_view bytes{reinterpret_cast<const char*>(kept->data()), kept->size() * sizeof(T)};
        return view_of(bytes, target, std::move(kept));
    }
    std::size_t accessor(std::size_t view_number, int component, std::size_t count, const char* type);
    /// Both at once, for vectors of floats, one a vertex or a key.
    std::size_t floats(Array<float> values, int target);
    std::size_t floats(Array<Vec2> values, int target);
    std::size_t floats(Array<Vec3> values, int target);
    std::size_t floats(Array<Vec4> values, int target);
    /// The numbers of a column, as floats: those of element source[i] for the i-th.
    std::size_t gathered(const Column& column, std::span<const Index> source, int target);
    /// The same with the least and the most of every number, as positions and times must have them.
    std::size_t bounded(Array<Vec3> values, int target);
    std::size_t bounded(Array<float> values);

    std::size_t node(OrderedJson node);
    /// Names an extension the file uses; one it cannot do without when `required`.
    void extension(const std::string& name, bool required = false);

    void write(const Sink& sink);

private:
    std::size_t view_of(std::string_view bytes, int target, std::shared_ptr<const void> kept);

    std::vector<std::pair<std::string_view, std::shared_ptr<const void>>> pieces_;
    std::size_t offset_ = 0;
    std::vector<std::string> extensions_, required_;  ///< in the order they were met
};

/// A material as glTF 2.0 has it, extensions among it.
OrderedJson glb_material(const struct Material& material);
/// A number with as many digits as tell its float apart: files do not say 0.07000000029802322.
double short_number(float value);

}  // namespace bricol
