// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/made_numbers.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <vector>

#include "core/ground/numbers.h"
#include "core/ground/words.h"
#include "core/kernels/curve_edit.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

struct BoxWord {
    std::string_view word, says;
};
struct CountWord {
    std::string_view word;
    int dimensions;
    std::string_view says;
};
constexpr std::array<BoxWord, 4> box_words = {{{"size", "of the box round it"},
                                               {"low", "the box's least"},
                                               {"high", "the box's greatest"},
                                               {"middle", "the box's middle"}}};
constexpr std::array<CountWord, 9> count_words = {{{"length", 1, "of its curves together"},
                                                   {"area", 2, "of its faces"},
                                                   {"volume", 3, "when it is closed"},
                                                   {"faces", 0, "copies' included"},
                                                   {"points", 0, "copies' included"},
                                                   {"edges", 0, "copies' included"},
                                                   {"curves", 0, ""},
                                                   {"copies", 0, "standing instances"},
                                                   {"pieces", 0, "that hang together"}}};
constexpr std::array<std::string_view, 3> value_words = {"least", "most", "mean"};

/// The first word of a path, which loses it.
std::string_view taken_word(std::string_view& path) {
    const std::size_t dot = path.find('.');
    const std::string_view word = path.substr(0, dot);
    path = dot == std::string_view::npos ? std::string_view{} : path.substr(dot + 1);
    return word;
}

/// 0, 1, 2 for x, y, z; -1 for anything else.
int axis_of(std::string_view word) {
    const std::size_t at = word.size() == 1 ? axis_letters.find(word) : std::string_view::npos;
    return at == std::string_view::npos ? -1 : static_cast<int>(at);
}

Problem not_made(std::string what, std::string remedy = {}) { return {std::move(what), "", std::move(remedy)}; }

Problem not_there(std::string_view word, std::span<const std::string_view> known) {
    const std::string_view near = nearest_word(known, word);
    std::string all;
    for (const std::string_view one : known) (all += all.empty() ? "" : ", ") += one;
    return not_made(fmt::format("What was made has no number “{}”.", word),
                    near.empty() ? "There are: " + all + "." : fmt::format("Did you mean “{}”?", near));
}

Result<double> of_box(const std::optional<Box>& box, std::string_view word, std::string_view axis_word) {
    const int axis = axis_of(axis_word);
    if (axis < 0)
        return not_made(fmt::format("“{}” has three numbers.", word), fmt::format("Write {}.x, .y or .z.", word));
    if (!box) return not_made("Nothing was made there, so it has no place and no size.");
    const DVec3 numbers = word == "size"   ? box->size()
                          : word == "low"  ? box->low
                          : word == "high" ? box->high
                                           : box->centre();
    return numbers[axis];
}

bool is_box_word(std::string_view word) {
    return std::ranges::find(box_words, word, &BoxWord::word) != box_words.end();
}

/// One value of a column as a number; `component` of a vector.
double number_at(const Column& column, std::size_t i, int component) {
    return std::visit(
        [&](const auto& values) -> double {
            using T = std::decay_t<decltype(values[0])>;
            if constexpr (std::is_arithmetic_v<T>)
                return static_cast<double>(values[i]);
            else
                return static_cast<double>(values[i][component]);
        },
        column);
}

int components_of(const Column& column) {
    const std::string_view type = column_type(column);
    return type.starts_with("vec") ? type[3] - '0' : 1;
}

/// The columns of a name: the shape's own, on the first kind of element that has it, or else its copies'.
std::vector<std::shared_ptr<const Column>> columns_of(const Shape& shape, std::string_view name) {
    for (const Domain domain :
         {Domain::vertex, Domain::face, Domain::corner, Domain::edge, Domain::curve, Domain::whole})
        if (const Attribute* found = shape.mesh.attributes.find(domain, name)) return {found->values};
    const Attributes knots = columns_of_knots(shape.curves);
    if (const Attribute* found = knots.find(Domain::knot, name)) return {found->values};
    std::vector<std::shared_ptr<const Column>> out;
    for (const Instances& group : shape.instances)
        if (const Attribute* found = group.attributes.find(Domain::instance, name)) out.push_back(found->values);
    return out;
}

Result<double> of_values(const Shape& shape, std::string_view word, std::string_view rest) {
    const std::string_view whole = rest;
    const std::string_view name = taken_word(rest);
    if (name.empty()) return not_made(fmt::format("“{}” of what?", word), fmt::format("Write {}.weight, say.", word));
    const std::vector<std::shared_ptr<const Column>> columns = columns_of(shape, name);
    if (columns.empty())
        return not_made(fmt::format("What was made has no attribute and no set “{}”.", name),
                        "Set it in a step before.");
    const int count = components_of(*columns.front());
    const std::size_t letter = rest.size() == 1 ? std::string_view("xyzw").find(rest) : std::string_view::npos;
    const int component = rest.empty() ? 0 : letter == std::string_view::npos ? -1 : static_cast<int>(letter);
    if (component < 0 || component >= count || (count > 1 && rest.empty()))
        return not_made(count > 1 ? fmt::format("“{}” has {} numbers.", name, count)
                                  : fmt::format("“{}” has one number, not “{}”.", name, whole),
                        count > 1 ? fmt::format("Write {}.{}.x, say.", word, name) : "");
    double least = 1e300, most = -1e300, sum = 0;
    std::size_t elements = 0;
    for (const auto& column : columns)
        for (std::size_t i = 0; i < column_size(*column); ++i, ++elements) {
            const double value = number_at(*column, i, component);
            least = std::min(least, value), most = std::max(most, value), sum += value;
        }
    if (elements == 0) return not_made(fmt::format("Nothing was made that could have “{}”.", name));
    return word == "least" ? least : word == "most" ? most : sum / static_cast<double>(elements);
}

double area_of(const Mesh& mesh, std::size_t f) {
    const auto face = mesh.topology->face(f);
    const Array<Vec3>& p = *mesh.positions;
    DVec3 sum(0);
    for (std::size_t i = 1; i + 1 < face.size(); ++i)
        sum += glm::cross(DVec3(p[face[i]]) - DVec3(p[face[0]]), DVec3(p[face[i + 1]]) - DVec3(p[face[0]]));
    return glm::length(sum) / 2;
}

/// What is in a set, in numbers.
struct InSet {
    double faces = 0, points = 0, edges = 0, area = 0;
    Box box = Box::nothing();
};

std::optional<InSet> measured_set(const Mesh& mesh, std::string_view name) {
    const auto set_of = [&](Domain domain) { return mesh.attributes.values<std::uint8_t>(domain, name); };
    const auto *faces = set_of(Domain::face), *points = set_of(Domain::vertex), *edges = set_of(Domain::edge);
    if (!faces && !points && !edges) return std::nullopt;
    InSet in;
    std::vector<bool> touched(mesh.vertex_count());
    for (std::size_t f = 0; faces && f < faces->size(); ++f) {
        if (!(*faces)[f]) continue;
        ++in.faces;
        in.area += area_of(mesh, f);
        for (const Index v : mesh.topology->face(f)) touched[v] = true;
    }
    for (std::size_t e = 0; edges && e < edges->size(); ++e)
        if ((*edges)[e]) {
            ++in.edges;
            for (const Index v : mesh.topology->edges[e]) touched[v] = true;
        }
    for (std::size_t v = 0; points && v < points->size(); ++v)
        if ((*points)[v]) touched[v] = true;
    for (std::size_t v = 0; v < touched.size(); ++v)
        if (touched[v]) {
            ++in.points;
            in.box.add(DVec3((*mesh.positions)[v]));
        }
    return in;
}

Result<double> of_set(const Mesh& mesh, std::string_view rest) {
    const std::string_view name = taken_word(rest), word = taken_word(rest);
    const auto in = measured_set(mesh, name);
    if (!in) return not_made(fmt::format("What was made has no set “{}”.", name), "Choose one in a step before.");
    if (is_box_word(word)) return of_box(in->points > 0 ? std::optional(in->box) : std::nullopt, word, rest);
    if (word == "area" && rest.empty()) return in->area;
    if (word == "faces" && rest.empty()) return in->faces;
    if (word == "points" && rest.empty()) return in->points;
    if (word == "edges" && rest.empty()) return in->edges;
    return not_there(
        word, std::array<std::string_view, 8>{"size", "low", "high", "middle", "area", "faces", "points", "edges"});
}

}  // namespace

std::vector<MadePath> made_paths() {
    std::vector<MadePath> out;
    for (const auto& [word, says] : box_words)
        for (const char axis : axis_letters) out.push_back({fmt::format("{}.{}", word, axis), 1, says});
    for (const auto& [word, dimensions, says] : count_words) out.push_back({std::string(word), dimensions, says});
    return out;
}

const Measures& MadeNumbers::measures() const {
    if (!measures_) measures_ = measured(*shape_);
    return *measures_;
}

const std::optional<Box>& MadeNumbers::box() const {
    if (!box_) box_ = box_of(*shape_);
    return *box_;
}

Result<double> MadeNumbers::worked_out(std::string_view path) const {
    std::string_view rest = path;
    const std::string_view word = taken_word(rest);
    if (is_box_word(word)) return of_box(box(), word, rest);
    if (std::ranges::find(value_words, word) != value_words.end()) return of_values(*shape_, word, rest);
    if (word == "in") return of_set(shape_->mesh, rest);
    if (!rest.empty() || std::ranges::find(count_words, word, &CountWord::word) == count_words.end()) {
        std::vector<std::string_view> known;
        for (const BoxWord& one : box_words) known.push_back(one.word);
        for (const CountWord& one : count_words) known.push_back(one.word);
        known.insert(known.end(), value_words.begin(), value_words.end());
        known.emplace_back("in");
        return not_there(path, known);
    }
    if (word == "length") {
        if (shape_->curves.empty()) return not_made("What was made there has no curves, so it has no length.");
        double sum = 0;
        for (const Curve& curve : shape_->curves) sum += length_of(curve);
        return sum;
    }
    const Measures& m = measures();
    if (word == "volume") {
        if (m.volume) return *m.volume;
        return not_made("What was made there is not closed, so it has no volume.", "Close it, or ask for its area.");
    }
    return word == "area"     ? m.area
           : word == "faces"  ? static_cast<double>(m.faces)
           : word == "points" ? static_cast<double>(m.vertices)
           : word == "edges"  ? static_cast<double>(m.edges)
           : word == "curves" ? static_cast<double>(m.curves)
           : word == "copies" ? static_cast<double>(m.instances)
                              : static_cast<double>(m.pieces);
}

Result<double> MadeNumbers::at(std::string_view path) const {
    const std::scoped_lock lock(mutex_);
    if (const auto known = known_.find(path); known != known_.end()) return known->second;
    Result<double> found = worked_out(path);
    if (found && !std::isfinite(*found)) found = not_made("That is not a finite number.");
    return known_.emplace(std::string(path), std::move(found)).first->second;
}

}  // namespace bricol
