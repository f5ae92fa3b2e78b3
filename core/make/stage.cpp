// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/stage.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

#include "core/catalogue/step_info.h"
#include "core/kernels/overlap.h"

namespace bricol {

namespace {

constexpr std::size_t most_bodies_looked_at = 20000;

/// Every entry of the stage that was made; `on` says whether it counts.
template <class Met>
void each_piece(const Recipe& recipe, const Made& made, const Met& met) {
    for (std::size_t p = 0; p < recipe.parts.size() && p < made.steps.size(); ++p)
        for (std::size_t s = 0; s < made.steps[p].size(); ++s) {
            const Part& part = *recipe.parts[p];
            const StepOutcome* outcome = made.steps[p][s].get();
            if (outcome && outcome->stage) met(part, *part.steps[s], *outcome->stage, !part.hidden);
        }
}

template <class T>
OnStage<T> entry(const Part& part, const Step& step, T piece) {
    return {part.name, step.id, step.title, std::move(piece)};
}

/// How often a closed surface goes round a place: A. Van Oosterom and J. Strackee, "The solid angle of a plane
/// triangle", 1983.
double times_round(const TaggedTriangles& soup, const DVec3& at) {
    double sum = 0;
    for (const auto& corners : soup.triangles) {
        const DVec3 a = soup.points[corners[0]] - at, b = soup.points[corners[1]] - at,
                    c = soup.points[corners[2]] - at;
        const double la = glm::length(a), lb = glm::length(b), lc = glm::length(c);
        sum += 2 * std::atan2(glm::dot(a, glm::cross(b, c)),
                              la * lb * lc + glm::dot(a, b) * lc + glm::dot(b, c) * la + glm::dot(c, a) * lb);
    }
    return sum / (4 * std::numbers::pi);
}

/// The part whose solid a place lies in; null for none.
const Part* solid_round(const Recipe& recipe, const Made& made, const DVec3& at) {
    Bodies bodies;
    for (std::size_t p = 0; p < recipe.parts.size() && p < made.parts.size(); ++p)
        if (recipe.parts[p]->delivered() && made.parts[p])
            add_bodies(bodies, made.parts[p]->shape, static_cast<Index>(p), most_bodies_looked_at);
    for (const Body& body : bodies.list) {
        const BodyPiece& piece = bodies.pieces[body.piece];
        const bool near = glm::all(glm::greaterThan(at, body.box.low)) && glm::all(glm::lessThan(at, body.box.high));
        if (!near || !piece.closed) continue;
        if (std::abs(times_round(piece.soup, DVec3(glm::inverse(body.place) * glm::dvec4(at, 1)))) > 0.5)
            return recipe.parts[body.shape].get();
    }
    return nullptr;
}

std::string words_of(const Part& part, const Step& step) { return part.name + "." + step.id; }

}  // namespace

const OnStage<StageCamera>* Stage::camera(const std::string& name) const {
    const auto found = std::ranges::find_if(cameras, [&](const auto& c) { return c.step == name || c.title == name; });
    return found == cameras.end() ? nullptr : &*found;
}

bool has_lights(const Recipe& recipe) {
    for (const auto& part : recipe.parts)
        for (const auto& step : part->steps) {
            const StepInfo* info = find_step_info(step->type);
            if (info && info->family == Family::light && info->parameter("strength")) return true;
        }
    return false;
}

Stage stage_of(const Recipe& recipe, const Made& made) {
    Stage stage;
    stage.lights_known = has_lights(recipe);
    each_piece(recipe, made, [&](const Part& part, const Step& step, const StagePiece& piece, bool on) {
        if (!on) return;
        if (const auto* camera = std::get_if<StageCamera>(&piece.what))
            stage.cameras.push_back(entry(part, step, *camera));
        else if (const auto* lamp = std::get_if<StageLamp>(&piece.what))
            stage.lamps.push_back(entry(part, step, *lamp));
        else if (const auto* sky = std::get_if<StageSky>(&piece.what)) {
            if (!stage.sky) stage.sky = entry(part, step, *sky);
        } else if (!stage.backdrop)
            stage.backdrop = entry(part, step, std::get<StageBackdrop>(piece.what));
    });
    return stage;
}

std::vector<Finding> stage_findings(const Recipe& recipe, const Made& made, bool thorough) {
    std::vector<Finding> findings;
    const auto tell = [&](Severity severity, const char* code, std::string text) -> Finding& {
        return findings.emplace_back(Finding{severity, code, std::move(text), {}, {}});
    };
    const Stage stage = stage_of(recipe, made);
    each_piece(recipe, made, [&](const Part& part, const Step& step, const StagePiece& piece, bool on) {
        if (!on) return;
        const auto second = [&](const auto& first, const char* what) {
            if (first->part == part.name && first->step == step.id) return;
            tell(Severity::caution, "second-of-stage",
                 fmt::format("“{}” is a second {}; pictures use the first, “{}.{}”. Skip one of them.",
                             words_of(part, step), what, first->part, first->step));
        };
        if (std::holds_alternative<StageSky>(piece.what)) second(stage.sky, "sky");
        if (std::holds_alternative<StageBackdrop>(piece.what)) second(stage.backdrop, "backdrop");
        const auto* lamp = std::get_if<StageLamp>(&piece.what);
        if (!lamp || !thorough || lamp->kind == StageLamp::Kind::sun) return;
        if (const Part* round = solid_round(recipe, made, lamp->at))
            tell(Severity::caution, "lamp-inside",
                 fmt::format("The lamp “{}” stands inside the solid “{}”, so its light does not come out. Move it.",
                             words_of(part, step), round->name))
                .places = {Vec3(lamp->at)};
    });
    if (stage.lights_known && stage.lamps.empty() && !stage.sky)
        tell(Severity::note, "lights-off",
             "All lights of this recipe are off, so its pictures are dark. Switch one on, or take them all out for the "
             "standard lights.");
    return findings;
}

}  // namespace bricol
