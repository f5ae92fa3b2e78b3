// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/ask_made.h"
#include "core/inspect/trace.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/catalogue/kind.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/surface_finder.h"
#include "core/kernels/transform.h"
#include "core/recipe/edit.h"

namespace bricol {

std::string_view trace_role_name(TraceRole role) {
    constexpr std::array<std::string_view, 5> names = {"made it", "moved it", "placed it", "fed it", "coloured it"};
    return names[static_cast<std::size_t>(role)];
}

namespace {

bool same_faces(const Mesh& a, const Mesh& b) {
    return a.topology == b.topology || (a.vertex_count() == b.vertex_count() && a.face_count() == b.face_count() &&
                                        a.topology->content_hash() == b.topology->content_hash());
}

/// A place told by its triangle and corner weights on another mesh of the same faces.
DVec3 carried(const SurfaceFinder& finder, const SurfaceHit& hit, const Mesh& to) {
    const auto& corners = finder.triangles()[hit.triangle];
    DVec3 sum(0);
    for (std::size_t k = 0; k < 3; ++k)
        sum += DVec3((*to.positions)[to.topology->corner_vertex[corners[k]]]) * hit.share[static_cast<int>(k)];
    return sum;
}

double size_of(const Shape& shape) {
    const auto box = box_of(shape);
    return box ? std::max({box->size().x, box->size().y, box->size().z}) : 0;
}

class Walk {
public:
    Walk(const Recipe& recipe, const Made& made) : recipe_(recipe), made_(made) {}

    void part(const std::string& name, const DVec3& spot) {
        const Part* part = recipe_.part(name);
        const Step* result = part ? result_step(*part) : nullptr;
        if (result) visit(name, result->id, spot);
    }
    std::vector<TracedStep> steps() const {
        std::vector<TracedStep> list(found_.rbegin(), found_.rend());
        return list;
    }

private:
    void light(const std::string& part, const std::string& step, TraceRole role) {
        for (TracedStep& known : found_)
            if (known.part == part && known.step == step) return;
        found_.push_back({part, step, role});
    }

    /// Goes on behind an input.
    void source(const std::string& part, std::size_t step, const std::string& input, const DVec3& spot, bool all) {
        const std::string from = whence(*recipe_.part(part), step, input);
        if (from.starts_with("part:")) {
            const Part* other = recipe_.part(from.substr(5));
            const Step* result = other ? result_step(*other) : nullptr;
            if (result) visit(other->name, result->id, spot, all);
        } else if (!from.empty()) {
            visit(part, from, spot, all);
        }
    }

    using Inputs = std::vector<std::pair<std::string, ShapePtr>>;  ///< by their keys; none is empty

    /// A spot on the result of a step, on its way back.
    struct At {
        const std::string& part;
        const std::string& id;
        std::size_t step;
        const DVec3& spot;
        const Inputs& inputs;
        const Shape& out;
    };

    void visit(const std::string& part_name, const std::string& id, const DVec3& spot, bool all = false) {
        if (++visits_ > 5000 || !seen_.insert(part_name + "\n" + id).second) return;
        const Part& part = *recipe_.part(part_name);
        const std::size_t s = step_index(part, id);
        if (s == part.steps.size()) return;
        const Step& step = *part.steps[s];
        const StepInfo* info = find_step_info(step.type);
        const StepOutcome* outcome = made_.step(recipe_, part_name, id);
        if (!info || !outcome) return;
        if (step.skipped) {
            source(part_name, s, "shape", spot, all);
            return;
        }
        const Inputs inputs = inputs_of(part, s, *info);
        if (all) {  // what fed a shape without a surface: everything behind it had a hand in it
            light(part_name, id, TraceRole::fed);
            for (const auto& [key, shape] : inputs) source(part_name, s, key, spot, true);
            return;
        }
        if (inputs.empty()) {
            light(part_name, id, TraceRole::made);
            return;
        }
        const At at{part_name, id, s, spot, inputs, *outcome->shape};
        passed_on(at) || through_copies(at) || through_same_faces(at) || through_other_surfaces(at);
    }

    /// Where an input comes from: another step, or a part that a setting names.
    std::string whence(const Part& part, std::size_t s, const std::string& key) const {
        const Step& step = *part.steps[s];
        std::string from = source_of(part, s, key);
        if (!from.empty()) return from;
        const auto written = step.settings.find(key);
        if (written == step.settings.end() || !written->is_string()) return {};
        return recipe_.part(written->get<std::string>()) ? "part:" + written->get<std::string>() : std::string();
    }

    Inputs inputs_of(const Part& part, std::size_t s, const StepInfo& info) const {
        Inputs inputs;
        const auto add = [&](const std::string& key) {
            const std::string from = whence(part, s, key);
            ShapePtr shape;
            if (from.starts_with("part:")) {
                const PartOutcome* other = made_.part(recipe_, from.substr(5));
                shape = other ? other->shape : nullptr;
            } else if (const StepOutcome* before = from.empty() ? nullptr : made_.step(recipe_, part.name, from)) {
                shape = before->shape;
            }
            if (shape && !shape->empty()) inputs.emplace_back(key, shape);
        };
        for (const InputInfo& input : info.inputs) add(std::string(input.key));
        for (const ParameterInfo& p : info.parameters)
            if (p.kind == ParameterKind::part) add(std::string(p.key));
        return inputs;
    }

    /// The step gave an input as it is.
    bool passed_on(const At& at) {
        const auto same = std::ranges::find_if(at.inputs, [&](const auto& in) { return in.second.get() == &at.out; });
        if (same == at.inputs.end()) return false;
        source(at.part, at.step, same->first, at.spot, false);
        return true;
    }

    /// The spot lies on a copy: back through its place.
    bool through_copies(const At& at) {
        double best = 1e300;
        const Instances* group = nullptr;
        std::size_t copy = 0;
        for (const Instances& g : at.out.instances) {
            const SurfaceFinder finder(real_geometry(g.shape)->mesh);
            for (std::size_t i = 0; i < g.count(); ++i) {
                const DVec3 local(glm::inverse(glm::dmat4(g.places[i])) * glm::dvec4(at.spot, 1));
                const SurfaceHit hit = finder.nearest(local);
                if (!hit) continue;
                const double away = glm::distance(DVec3(glm::dmat4(g.places[i]) * glm::dvec4(hit.at, 1)), at.spot);
                if (away < best) best = away, group = &g, copy = i;
            }
        }
        if (!group) return false;
        const SurfaceFinder own(at.out.mesh);
        if (const SurfaceHit plain = own.nearest(at.spot); plain && best >= plain.distance) return false;
        const DVec3 local(glm::inverse(glm::dmat4(group->places[copy])) * glm::dvec4(at.spot, 1));
        const DVec3 stands(group->places[copy][3]);
        bool passed = false;  // an input that already holds these copies only passes them on
        for (const auto& [key, shape] : at.inputs)
            for (const Instances& before : shape->instances)
                if (before.shape == group->shape && before.places == group->places) {
                    source(at.part, at.step, key, at.spot, false);
                    passed = true;
                }
        if (passed) return true;
        light(at.part, at.id, TraceRole::placed);
        for (const auto& [key, shape] : at.inputs)
            source(at.part, at.step, key, shape == group->shape ? local : stands,
                   shape != group->shape && shape->mesh.face_count() == 0);
        return true;
    }

    /// An input has the same faces: the step moved or coloured them, or left them alone.
    bool through_same_faces(const At& at) {
        const SurfaceFinder finder(at.out.mesh);
        const SurfaceHit here = finder.nearest(at.spot);
        for (const auto& [key, shape] : at.inputs)
            if (here && shape->mesh.face_count() > 0 && same_faces(shape->mesh, at.out.mesh)) {
                const DVec3 before = carried(finder, here, shape->mesh);
                if (glm::distance(before, here.at) > 1e-7 + 1e-6 * size_of(at.out))
                    light(at.part, at.id, TraceRole::moved);
                else if (looks_differ(shape->mesh, at.out.mesh))
                    light(at.part, at.id, TraceRole::coloured);
                source(at.part, at.step, key, before, false);
                return true;
            }
        return false;
    }

    /// Another surface: either the spot lies on one that came in, or the step made it.
    bool through_other_surfaces(const At& at) {
        double best = 1e300;
        std::string nearest;
        DVec3 there = at.spot;
        bool any_surface = false;
        for (const auto& [key, shape] : at.inputs) {
            const ShapePtr real = real_geometry(shape);
            if (real->mesh.face_count() == 0) continue;
            any_surface = true;
            const SurfaceHit hit = SurfaceFinder(real->mesh).nearest(at.spot);
            if (hit && hit.distance < best) best = hit.distance, nearest = key, there = hit.at;
        }
        if (any_surface && best <= 1e-6 + 1e-5 * size_of(at.out)) {
            source(at.part, at.step, nearest, there, false);
            return true;
        }
        light(at.part, at.id, TraceRole::made);
        for (const auto& [key, shape] : at.inputs) {
            if (shape->mesh.face_count() == 0 && shape->instances.empty())
                source(at.part, at.step, key, at.spot, true);
            else if (key == nearest)
                source(at.part, at.step, key, there, false);
        }
        return true;
    }

    static bool looks_differ(const Mesh& a, const Mesh& b) {
        for (const auto& [domain, name] : {std::pair{Domain::face, attribute_name::material},
                                           {Domain::vertex, attribute_name::colour},
                                           {Domain::corner, attribute_name::colour}}) {
            const Attribute *x = a.attributes.find(domain, name), *y = b.attributes.find(domain, name);
            if ((x != nullptr) != (y != nullptr) || (x && x->values != y->values && !(*x->values == *y->values)))
                return true;
        }
        return false;
    }

    const Recipe& recipe_;
    const Made& made_;
    std::vector<TracedStep> found_;
    std::set<std::string> seen_;
    std::size_t visits_ = 0;
};

}  // namespace

Trace trace_spot(const Recipe& recipe, const Made& made, const std::string& part, const DVec3& spot) {
    Walk walk(recipe, made);
    walk.part(part, spot);
    return {walk.steps(), {}};
}

void find_moving_numbers(Trace& trace, const Recipe& recipe, const std::string& part, const DVec3& spot, Maker& maker,
                         const MakeOptions& options, std::size_t most) {
    const Made made = maker.make(recipe, options);
    const PartOutcome* now = made.part(recipe, part);
    if (made.stopped || !now) return;
    const ShapePtr before = real_geometry(now->shape);
    const SurfaceFinder finder(before->mesh);
    const SurfaceHit here = finder.nearest(spot);
    if (!here) return;
    const auto look = [&](TracedNumber number, const Edited& edited) {
        if (!edited || (options.stop && *options.stop)) return;
        const Made again = maker.make(*edited, options);
        const PartOutcome* then = again.part(*edited, part);
        if (again.stopped || !then) return;
        const ShapePtr after = real_geometry(then->shape);
        if (after->mesh.face_count() == 0) return;
        number.moves = same_faces(before->mesh, after->mesh)
                           ? glm::distance(carried(finder, here, after->mesh), here.at)
                           : SurfaceFinder(after->mesh).nearest(here.at).distance;
        if (number.moves > 1e-7) trace.numbers.push_back(std::move(number));
    };
    std::size_t tried = 0;
    for (const Dial& dial : recipe.dials) {
        if (tried++ >= most) break;
        const double range = dial.high - dial.low;
        double change = dial.unit == "count" ? 1 : std::max(std::abs(dial.value) * 0.01, range * 0.002);
        if (dial.value + change > dial.high) change = -change;
        look({"", "", dial.name, -1, dial.name, dial.value, change, 0},
             turn_dial(recipe, dial.name, dial.value + change));
    }
    Resolver resolver(recipe, options.environment.surroundings, asking(recipe, &made));
    for (const TracedStep& traced : trace.steps) {
        const Part* holder = recipe.part(traced.part);
        const Step* step = holder ? find_step(*holder, traced.step) : nullptr;
        const StepInfo* info = step ? find_step_info(step->type) : nullptr;
        if (!info) continue;
        std::vector<Finding> ignored;
        const Values values = resolver.parameters(*holder, *step, *info, ignored);
        for (const ParameterInfo& p : info->parameters) {
            if (!asked_for(*info, p, values)) continue;
            const std::string key(p.key);
            const auto settings = step->settings.find(key);
            const Json* written = settings == step->settings.end() ? nullptr : &*settings;
            for (const NumberOf& number : numbers_of(p)) {
                if (written_number(written, number).is_string()) continue;  // follows another number
                if (tried++ >= most) return;
                const double value = number_in(values.find(key)->second, number);
                double change = p.quantity == Quantity::count
                                    ? 1
                                    : std::max(std::abs(value) * 0.01, (p.soft_high - p.soft_low) * 0.002);
                if (value + change > p.high) change = -change;
                const std::string name = traced.step + "." + key + std::string(number.suffix);
                look({traced.part, traced.step, key, number.component, name, value, change, 0},
                     set_setting(recipe, traced.part, traced.step, key,
                                 with_number(p, written, number, value + change)));
            }
        }
    }
    std::ranges::stable_sort(trace.numbers,
                             [](const TracedNumber& a, const TracedNumber& b) { return a.moves > b.moves; });
}

}  // namespace bricol
