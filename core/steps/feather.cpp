// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/feather.h"

#include <fmt/format.h>

#include "core/kernels/numbers_on.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Feather {
    std::string attribute = "weight";
    int rounds = 5;
    double strength = 0.5;
    std::string as;
    std::string only;
};

void run_feather(const Feather& s, StepRun& run) {
    Shape shape = run.shape();
    Mesh& mesh = shape.mesh;
    const std::string& name = s.attribute;
    if (name.empty()) {
        run.tell(Severity::error, "no-name", "Choose the attribute or set to feather.");
        return;
    }
    Array<float> values = run.weights(mesh, Domain::vertex, s.attribute);
    const Array<float> before = values;
    values = feathered(mesh, std::move(values), s.rounds, s.strength);
    if (!s.only.empty()) {
        const Mask mask = run.chosen(mesh, Domain::vertex, s.only);
        for (std::size_t i = 0; i < values.size(); ++i)
            if (!mask[i]) values[i] = before[i];
    }
    // A set that is feathered stays a set; its soft form stands beside it.
    const Attribute* old = mesh.attributes.find(Domain::vertex, name);
    const bool set = !old || std::holds_alternative<Array<std::uint8_t>>(*old->values);
    const std::string target = !s.as.empty() ? s.as : set ? name + "_soft" : name;
    mesh.attributes.set(Domain::vertex, target, std::move(values));
    run.give(std::move(shape));
}

const StepOf<Feather> feather_step(
    StepInfo{
        .key = "feather",
        .name = "Feather",
        .family = Family::sets,
        .purpose = "Blurs a value over neighbouring points.",
        .words = "blur smooth falloff soften spread weight diffuse",
        .help =
            "Every round takes each point's value towards the mean of its neighbours, so hard borders become slopes. A "
            "set stays as it is, and its soft form is kept beside it as numbers.",
        .glyph = "M3 18 C9 18 10 6 12 6 C14 6 15 18 21 18 M8 18v-4 M12 18v-9 M16 18v-4",
        .gives = 0,
        .inputs = {{"shape", "Mesh", content_faces | content_edges, true}},
        .telling = "{rounds} rounds"},
    {attribute_of(&Feather::attribute, "attribute", "Attribute", "The value or set to blur."),
     count_of(&Feather::rounds, "rounds", "Rounds", 0, 2000, 50, "How often; the slope grows with the root of it."),
     number_of(&Feather::strength, "strength", "Strength", 0, 1, "How far towards the neighbours in one round."),
     new_set_of(&Feather::as, "as", "Keep as", "Another name for the result; empty to replace the value."),
     only_of(&Feather::only, "Only the points of this set change.")},
    run_feather);

}  // namespace

}  // namespace bricol
