// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/elements.h"
#include "core/formula/hidden_dials.h"
#include "core/formula/standing_fields.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

#include "core/kernels/stand_ins.h"
#include "core/kernels/choose.h"
#include "core/kernels/element_numbers.h"
#include "core/kernels/normals.h"
#include "core/ground/words.h"
#include "core/ground/numbers.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

/// Number of a component by its letter, or -1.
int component_of(std::string_view letter) {
    if (letter.size() != 1) return -1;
    const auto place = std::string_view("xyzw").find(letter[0]);
    if (place != std::string_view::npos) return static_cast<int>(place);
    const auto colour = std::string_view("rgba").find(letter[0]);
    return colour == std::string_view::npos ? -1 : static_cast<int>(colour);
}

template <class T>
constexpr int components = std::is_same_v<T, Vec2>   ? 2
                           : std::is_same_v<T, Vec3> ? 3
                           : std::is_same_v<T, Vec4> ? 4
                                                     : 1;

/// A shape taken apart for reading and writing on one domain. Columns are copied when they are first written. What
/// knots carry takes the place of the mesh's attributes while they are worked on.
class Elements {
public:
    Elements(const Shape& shape, Domain domain)
        : source_(shape), shape_(shape), came_in_(shape.mesh.positions), domain_(domain) {
        if (domain == Domain::instance)
            for (const Instances& group : shape_.instances) count_ += group.count();
        else if (domain == Domain::knot)
            count_ = shape_.knot_count(), shape_.mesh.attributes = columns_of_knots(shape.curves);
        else
            count_ = shape_.mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    }

    std::size_t count() const { return count_; }
    Domain domain() const { return domain_; }
    Shape taken() && {
        if (!stands_.empty()) regroup_copies(shape_.instances, stands_);
        if (domain_ == Domain::knot) {
            for (const Attribute& attribute : shape_.mesh.attributes.all())
                give_knots(shape_.curves, attribute.name, *attribute.values);
            shape_.mesh.attributes = source_.mesh.attributes;
        }
        return std::move(shape_);
    }

    std::vector<std::string> names() const {
        std::vector<std::string> list;
        for (const ElementName& name : element_names(shape_, domain_)) list.push_back(name.name);
        for (const auto& [name, values] : remembered_) list.push_back(name);
        return list;
    }

    std::optional<FieldReader> reader(const std::string& name) {
        if (const auto known = remembered_.find(name); known != remembered_.end()) {
            const auto* values = &known->second;
            return [values](std::size_t begin, std::span<double> out) {
                std::copy_n(values->begin() + static_cast<std::ptrdiff_t>(begin), out.size(), out.begin());
            };
        }
        if (name == "index")
            return [](std::size_t begin, std::span<double> out) {
                for (std::size_t i = 0; i < out.size(); ++i) out[i] = static_cast<double>(begin + i);
            };
        if (name == "count")
            return [n = count_](std::size_t, std::span<double> out) { std::ranges::fill(out, static_cast<double>(n)); };
        if (name == "share")
            return [n = count_](std::size_t begin, std::span<double> out) {
                for (std::size_t i = 0; i < out.size(); ++i)
                    out[i] = n > 1 ? static_cast<double>(begin + i) / static_cast<double>(n - 1) : 0;
            };
        if (find_standing_field(domain_, name)) {
            auto all = std::make_shared<const std::vector<double>>(standing_values(shape_, source_, domain_, name));
            return [all](std::size_t begin, std::span<double> out) {
                std::copy_n(all->begin() + static_cast<std::ptrdiff_t>(begin), out.size(), out.begin());
            };
        }
        if (domain_ == Domain::knot) return attribute_reader(name);
        if (domain_ == Domain::instance) return instance_reader(name);
        if (const auto axis = name.size() == 1 ? axis_letters.find(name[0]) : std::string_view::npos;
            axis != std::string_view::npos) {
            const auto positions = came_in_;
            const int a = static_cast<int>(axis);
            if (domain_ == Domain::vertex)
                return [positions, a](std::size_t begin, std::span<double> out) {
                    for (std::size_t i = 0; i < out.size(); ++i)
                        out[i] = static_cast<double>((*positions)[begin + i][a]);
                };
            const Mesh* mesh = &shape_.mesh;
            if (domain_ == Domain::corner)
                return [mesh, positions, a](std::size_t begin, std::span<double> out) {
                    for (std::size_t i = 0; i < out.size(); ++i)
                        out[i] = static_cast<double>((*positions)[mesh->topology->corner_vertex[begin + i]][a]);
                };
            return [mesh, d = domain_, a](std::size_t begin, std::span<double> out) {
                for (std::size_t i = 0; i < out.size(); ++i) out[i] = middle_of(*mesh, d, begin + i)[a];
            };
        }
        if (name.size() == 2 && name[0] == 'n' && axis_letters.find(name[1]) != std::string_view::npos &&
            domain_ != Domain::edge) {
            const auto list = normals();
            const int a = static_cast<int>(axis_letters.find(name[1]));
            return [list, a](std::size_t begin, std::span<double> out) {
                for (std::size_t i = 0; i < out.size(); ++i) out[i] = static_cast<double>((*list)[begin + i][a]);
            };
        }
        if ((name == "u" || name == "v") && domain_ == Domain::corner)
            if (const auto found = column(std::string(attribute_name::uv)))
                return column_reader(found, name == "u" ? 0 : 1);
        if (name == "length" && domain_ == Domain::edge) {
            const Mesh* mesh = &shape_.mesh;
            return [mesh](std::size_t begin, std::span<double> out) {
                for (std::size_t i = 0; i < out.size(); ++i) {
                    const auto& e = mesh->topology->edges[begin + i];
                    out[i] = glm::distance(DVec3((*mesh->positions)[e[0]]), DVec3((*mesh->positions)[e[1]]));
                }
            };
        }
        if (name == "area" && domain_ == Domain::face) {
            const Mesh* mesh = &shape_.mesh;
            return [mesh](std::size_t begin, std::span<double> out) {
                for (std::size_t i = 0; i < out.size(); ++i) out[i] = face_area(*mesh, begin + i);
            };
        }
        return attribute_reader(name);
    }

    /// Why a target cannot be written; empty when it can.
    std::string refusal(const std::string& target) const {
        if (target.starts_with("_") && target.size() > 1) return {};
        const StandingField* field = find_standing_field(domain_, target);
        if (field && field->writable) return {};
        if (field) {
            std::string all;
            for (const StandingField& one : standing_fields(domain_))
                if (one.writable) (all += all.empty() ? "" : ", ") += one.name;
            return fmt::format("“{}” cannot be written on {}; these can: {}.", target, plural_name(domain_), all);
        }
        const std::size_t dot = target.find('.');
        if (domain_ == Domain::knot && (target.substr(0, dot) == "in" || target.substr(0, dot) == "out"))
            return "Handles are written as in.x, in.y, in.z, out.x, out.y and out.z.";
        const bool place = target == "x" || target == "y" || target == "z";
        if (place && domain_ != Domain::vertex && domain_ != Domain::instance)
            return "Only vertices and instances can be moved; their places are read only here.";
        if (target == "index" || target == "count" || target == "share")
            return fmt::format("“{}” cannot be changed.", target);
        if ((target == "length" && domain_ == Domain::edge) || (target == "area" && domain_ == Domain::face))
            return fmt::format("“{}” is measured and cannot be changed.", target);
        if (target.size() == 2 && target[0] == 'n' && axis_letters.find(target[1]) != std::string_view::npos &&
            domain_ != Domain::vertex && domain_ != Domain::corner)
            return "Normals can be written on vertices and corners only.";
        if ((target == "u" || target == "v") && domain_ != Domain::corner) return "UVs stand on corners.";
        const std::string name = target.substr(0, dot);
        if (name.empty() || !std::isalpha(static_cast<unsigned char>(name[0])))
            return "The name of an attribute starts with a letter.";
        if (dot != std::string::npos && component_of(target.substr(dot + 1)) < 0)
            return "A component is one of .x .y .z .w or .r .g .b .a.";
        return {};
    }

    void write(const std::string& target, const std::vector<double>& values, const Selection& only) {
        if (target.starts_with("_")) {
            remembered_[target] = values;
            return;
        }
        const auto chosen = [&](std::size_t i) { return only[i] && std::isfinite(values[i]); };
        if (domain_ == Domain::instance && target == attribute_name::variant) {
            choose_shapes(values, chosen);
            return;
        }
        if (find_standing_field(domain_, target)) {
            write_standing(shape_, domain_, target, values, chosen);
            return;
        }
        const bool place = target.size() == 1 && axis_letters.find(target[0]) != std::string_view::npos;
        if (domain_ == Domain::instance) {
            write_instances(target, values, chosen);
            return;
        }
        Mesh& mesh = shape_.mesh;
        if (place) {
            Array<Vec3> points = *mesh.positions;
            const int a = static_cast<int>(axis_letters.find(target[0]));
            for (std::size_t i = 0; i < count_; ++i)
                if (chosen(i)) points[i][a] = static_cast<float>(values[i]);
            mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
            for (const Domain d : {Domain::vertex, Domain::corner}) mesh.attributes.remove(d, attribute_name::normal);
            return;
        }
        std::string name = target;
        int component = -1;
        if (target == "u" || target == "v") {
            name = attribute_name::uv, component = target == "v";
        } else if (target.size() == 2 && target[0] == 'n' && axis_letters.find(target[1]) != std::string_view::npos) {
            if (!mesh.attributes.find(domain_, attribute_name::normal))
                mesh.attributes.set(domain_, attribute_name::normal, Array<Vec3>(*normals()));
            name = attribute_name::normal, component = static_cast<int>(axis_letters.find(target[1]));
        } else if (const std::size_t dot = target.find('.'); dot != std::string::npos) {
            component = component_of(target.substr(dot + 1));
            name = target.substr(0, dot);
        }
        store(mesh.attributes, name, component, count_, 0, values, chosen);
    }

    /// How many shapes the copies are of.
    std::size_t shapes() const { return shape_.instances.size(); }

    Array<std::uint32_t> own_numbers() const {
        if (domain_ == Domain::knot) {
            Array<std::uint32_t> all(count_);
            std::iota(all.begin(), all.end(), 0u);
            return all;
        }
        if (domain_ != Domain::instance) return element_numbers(shape_.mesh, domain_);
        Array<std::uint32_t> all;
        for (const Instances& group : shape_.instances) {
            const auto part = element_numbers(group.attributes, Domain::instance, group.count());
            all.insert(all.end(), part.begin(), part.end());
        }
        return all;
    }

    Vec3 place_of(std::size_t element) const {
        if (const auto place = standing_place(shape_, domain_, element)) return *place;
        return domain_ == Domain::corner ? (*shape_.mesh.positions)[shape_.mesh.topology->corner_vertex[element]]
                                         : Vec3(middle_of(shape_.mesh, domain_, element));
    }

private:
    /// Which of the shapes stands where; carried out when all rows are done, so that they see the copies in one order.
    template <class Chosen>
    void choose_shapes(const std::vector<double>& values, const Chosen& chosen) {
        if (stands_.empty())
            for (std::size_t g = 0; g < shapes(); ++g) stands_.insert(stands_.end(), shape_.instances[g].count(), g);
        for (std::size_t i = 0; i < count_; ++i)
            if (chosen(i))
                stands_[i] =
                    static_cast<std::size_t>(std::clamp(std::round(values[i]), 0.0, static_cast<double>(shapes()) - 1));
    }
    static double face_area(const Mesh& mesh, std::size_t f) {
        const auto face = mesh.topology->face(f);
        DVec3 sum(0);
        const DVec3 a((*mesh.positions)[face[0]]);
        for (std::size_t i = 1; i + 1 < face.size(); ++i)
            sum += glm::cross(DVec3((*mesh.positions)[face[i]]) - a, DVec3((*mesh.positions)[face[i + 1]]) - a);
        return glm::length(sum) / 2;
    }

    std::shared_ptr<const Array<Vec3>> normals() {
        if (!normals_) {
            const Mesh& mesh = source_.mesh;
            if (const auto* given = mesh.attributes.values<Vec3>(domain_, attribute_name::normal))
                normals_ = std::make_shared<const Array<Vec3>>(*given);
            else if (domain_ == Domain::face)
                normals_ = std::make_shared<const Array<Vec3>>(face_normals(mesh));
            else if (domain_ == Domain::corner)
                normals_ = std::make_shared<const Array<Vec3>>(corner_normals(mesh));
            else
                normals_ = std::make_shared<const Array<Vec3>>(vertex_normals(mesh));
        }
        return normals_;
    }

    std::shared_ptr<const Column> column(const std::string& name) const {
        const Attribute* found = shape_.mesh.attributes.find(domain_, name);
        return found ? found->values : nullptr;
    }

    static std::optional<FieldReader> column_reader(std::shared_ptr<const Column> column, int component) {
        return std::visit(
            [&](const auto& values) -> std::optional<FieldReader> {
                using T = typename std::decay_t<decltype(values)>::value_type;
                if constexpr (components<T> == 1) {
                    if (component >= 0) return std::nullopt;
                    return [column, &values](std::size_t begin, std::span<double> out) {
                        for (std::size_t i = 0; i < out.size(); ++i) out[i] = static_cast<double>(values[begin + i]);
                    };
                } else {
                    if (component < 0 || component >= components<T>) return std::nullopt;
                    return [column, &values, component](std::size_t begin, std::span<double> out) {
                        for (std::size_t i = 0; i < out.size(); ++i)
                            out[i] = static_cast<double>(values[begin + i][component]);
                    };
                }
            },
            *column);
    }

    std::optional<FieldReader> attribute_reader(const std::string& name) const {
        const std::size_t dot = name.find('.');
        const auto found = column(name.substr(0, dot));
        if (!found) return std::nullopt;
        const int component = dot == std::string::npos ? -1 : component_of(name.substr(dot + 1));
        if (dot != std::string::npos && component < 0) return std::nullopt;
        return column_reader(found, component);
    }

    std::optional<FieldReader> instance_reader(const std::string& name) {
        auto all = std::make_shared<std::vector<double>>();
        const std::size_t dot = name.find('.');
        for (const Instances& group : shape_.instances) {
            const Attribute* found = group.attributes.find(Domain::instance, name.substr(0, dot));
            const auto read =
                found ? column_reader(found->values, dot == std::string::npos ? -1 : component_of(name.substr(dot + 1)))
                      : std::nullopt;
            if (!read) return std::nullopt;
            const std::size_t before = all->size();
            all->resize(before + group.count());
            (*read)(0, std::span(*all).subspan(before));
        }
        return [all](std::size_t begin, std::span<double> out) {
            std::copy_n(all->begin() + static_cast<std::ptrdiff_t>(begin), out.size(), out.begin());
        };
    }

    void write_instances(const std::string& target, const std::vector<double>& values, const auto& chosen) {
        std::size_t base = 0;
        const std::size_t dot = target.find('.');
        for (Instances& group : shape_.instances) {
            store(group.attributes, target.substr(0, dot),
                  dot == std::string::npos ? -1 : component_of(target.substr(dot + 1)), group.count(), base, values,
                  chosen);
            base += group.count();
        }
    }

    void store(Attributes& attributes, const std::string& name, int component, std::size_t n, std::size_t base,
               const std::vector<double>& values, const auto& chosen) {
        Column column;
        if (const Attribute* found = attributes.find(domain_, name)) {
            column = *found->values;
        } else if (component < 0) {
            column = Array<float>(n, 0);
        } else if (name == attribute_name::uv) {
            column = Array<Vec2>(n, Vec2(0));
        } else if (component == 3 || name == attribute_name::colour) {
            column = Array<Vec4>(n, Vec4(0, 0, 0, 1));
        } else {
            column = Array<Vec3>(n, Vec3(0));
        }
        std::visit(
            [&](auto& list) {
                using T = typename std::decay_t<decltype(list)>::value_type;
                for (std::size_t i = 0; i < n; ++i) {
                    if (!chosen(base + i)) continue;
                    const double value = values[base + i];
                    if constexpr (std::is_same_v<T, std::uint8_t>)
                        list[i] = value > 0.5;
                    else if constexpr (std::is_same_v<T, std::int32_t>)
                        list[i] = static_cast<std::int32_t>(std::clamp(std::round(value), -2147483648.0, 2147483647.0));
                    else if constexpr (std::is_same_v<T, float>)
                        list[i] = static_cast<float>(value);
                    else if (component < 0)
                        list[i] = T(static_cast<float>(value));  // all components alike
                    else if (component < components<T>)
                        list[i][component] = static_cast<float>(value);
                }
            },
            column);
        attributes.set(domain_, name, std::move(column));
    }

    const Shape& source_;
    Shape shape_;
    std::shared_ptr<const Array<Vec3>> came_in_;
    Domain domain_;
    std::size_t count_ = 0;
    std::shared_ptr<const Array<Vec3>> normals_;
    std::map<std::string, std::vector<double>> remembered_;
    std::vector<std::size_t> stands_;  ///< the shape at each copy, where a row says it
};

/// Works one row out; nothing when it cannot be read.
std::optional<std::vector<double>> worked_out(Elements& elements, const FormulaRow& row, std::size_t number,
                                              const Selection& only, std::vector<RowProblem>& problems) {
    const auto constants = without_hidden_dials(
        row, number, [&](const std::string& name) { return static_cast<bool>(elements.reader(name)); },
        fmt::format("is the value of every {} itself", domain_name(elements.domain())), problems);
    const auto program = FieldProgram::compile(row.text, constants);
    if (!program) {
        problems.push_back({number, "bad-formula", program.problem().text(), {}, {}, {}});
        return std::nullopt;
    }
    std::vector<FieldReader> readers;
    for (const std::string& name : program->names()) {
        auto reader = elements.reader(name);
        if (!reader) {
            const std::vector<std::string> known = elements.names();
            std::vector<std::string_view> words(known.begin(), known.end());
            for (const auto& [constant, value] : row.constants) words.push_back(constant);
            const std::string near(nearest_word(words, name));
            std::string text =
                fmt::format("Nothing on the {} here is called “{}”.", plural_name(elements.domain()), name);
            if (!near.empty()) text += fmt::format(" Did you mean “{}”?", near);
            problems.push_back({number, "unknown-name", std::move(text), name, near, {}});
            return std::nullopt;
        }
        readers.push_back(std::move(*reader));
    }
    std::vector<double> values(elements.count());
    const Array<std::uint32_t> own = program->uses_random() ? elements.own_numbers() : Array<std::uint32_t>{};
    std::size_t bad = work_out(*program, readers, own, values);
    while (bad < values.size() && (std::isfinite(values[bad]) || !only[bad])) ++bad;
    if (bad < values.size()) {
        std::size_t all = 0;
        RowProblem problem{number, "not-finite", {}, {}, {}, {}};
        for (std::size_t i = bad; i < values.size(); ++i)
            if (!std::isfinite(values[i]) && only[i]) {
                if (all++ < 16) problem.places.push_back(elements.place_of(i));
            }
        problem.text = fmt::format(
            "“{} ← {}” gives no finite number at {} {} ({} in all), which keep{} what {} had. Look for a division by "
            "zero or a root of a negative number.",
            row.target, row.text, domain_name(elements.domain()), bad, all, all == 1 ? "s" : "",
            all == 1 ? "it" : "they");
        problems.push_back(std::move(problem));
    }
    return values;
}

}  // namespace

RowsResult with_rows(const Shape& shape, Domain domain, std::span<const FormulaRow> rows, const Selection& only) {
    RowsResult result;
    Elements elements(shape, domain);
    for (std::size_t r = 0; r < rows.size(); ++r) {
        const FormulaRow& row = rows[r];
        if (const std::string refusal = elements.refusal(row.target); !refusal.empty()) {
            result.problems.push_back({r, "bad-target", refusal, {}, {}, {}});
            continue;
        }
        const auto values = worked_out(elements, row, r, only, result.problems);
        if (values && domain == Domain::instance && row.target == attribute_name::variant) {
            std::size_t outside = 0;
            for (std::size_t i = 0; i < values->size(); ++i)
                if (const double v = std::round((*values)[i]); only[i])
                    outside += v < 0 || v > static_cast<double>(elements.shapes()) - 1 ? 1 : 0;
            if (outside > 0)
                result.problems.push_back(
                    {r,
                     "no-such-shape",
                     fmt::format("{} of {} copies ask for a shape that is not there and get the nearest: there are {}, "
                                 "counted from 0.",
                                 outside, values->size(), elements.shapes()),
                     {},
                     {},
                     {}});
        }
        if (values) elements.write(row.target, *values, only);
    }
    result.shape = std::move(elements).taken();
    return result;
}

Result<Array<float>> values_by_formula(const Shape& shape, Domain domain, const FormulaRow& row,
                                       std::vector<RowProblem>& problems) {
    Elements elements(shape, domain);
    const auto values = worked_out(elements, row, 0, {}, problems);
    if (!values) return Problem{problems.empty() ? "The formula cannot be read." : problems.back().text, "", ""};
    Array<float> out(values->size());
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = std::isfinite((*values)[i]) ? static_cast<float>((*values)[i]) : 0.0f;
    return out;
}

}  // namespace bricol
