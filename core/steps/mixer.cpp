// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>

#include "core/formula/elements.h"
#include "core/catalogue/settings.h"
#include "core/steps/shared/element_checks.h"

namespace bricol {

namespace {

struct Mixer {
    Domain on = Domain::vertex;
    std::vector<MixBlock> blocks;
    std::string only;
};

void run_mixer(const Mixer& s, StepRun& run) {
    const Domain domain = s.on;
    const Shape& shape = run.shape();
    const auto& blocks = s.blocks;
    if (blocks.empty()) {
        if (run.failed()) return;  // they could not be read, which was told
        run.tell(Severity::note, "no-blocks", "There are no blocks yet. Open the mixer's own sheet and add some.");
        return;
    }
    if (!has_elements(run, domain)) return;
    const std::vector<ElementName> names = element_names(shape, domain);
    const auto is_vector = [&](const std::string& name) {
        return std::ranges::any_of(
            names, [&](const ElementName& n) { return n.name == name + ".x" || n.name == name + ".r"; });
    };
    const auto rows = rows_of(blocks, is_vector);
    if (!rows) {
        run.tell(Severity::error, "bad-blocks", rows.problem().text());
        return;
    }
    look_for_deaf_targets(run, domain, *rows);
    if (run.failed()) return;
    const Selection only = only_these(run, shape, domain, s.only);
    RowsResult result = with_rows(shape, domain, *rows, only);
    run.report(result.problems, *rows);
    run.give(std::move(result.shape));
}

const StepOf<Mixer> mixer_step(
    StepInfo{
        .key = "mixer",
        .name = "Mixer",
        .family = Family::sets,
        .purpose = "A formula wired from blocks instead of typed.",
        .words = "nodes math blend blocks wired expression graph",
        .help =
            "Its own small sheet holds blocks that read values, reckon with them and write the result. It runs as the "
            "same loop as a Formula step and gives the same bytes for the same sums.",
        .glyph = "M3 6h5v4h-5z M3 14h5v4h-5z M8 8 H12 V12 H15 M8 16 H12 V12 M15 10h6v4h-6z",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "{blocks}"},
    {choice_of(&Mixer::on, "on", "On",
               {{Domain::vertex, "vertices", "vertices"},
                {Domain::edge, "edges", "edges"},
                {Domain::face, "faces", "faces"},
                {Domain::instance, "instances", "instances"},
                {Domain::knot, "knots", "knots of curves"}},
               "The kind of element the blocks run over."),
     kind_of(&Mixer::blocks, ParameterKind::blocks, "blocks", "Blocks", "What is wired to what."),
     only_of(&Mixer::only, "Only the elements of this set.")},
    run_mixer);

}  // namespace

}  // namespace bricol
