// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/loops.h"

#include "core/ground/progress.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

struct Again {
    enum class Give { last, rounds, all };
    KitWritten kit;
    std::string part, preset;
    DialValues dials;
    int rounds = 3;
    Give give = Give::last;
};

/// Several shapes as one.
Shape together(const std::vector<ShapePtr>& shapes) {
    if (shapes.size() == 1) return *shapes.front();
    Shape out;
    std::vector<Mesh> meshes;
    for (const ShapePtr& shape : shapes) {
        if (!shape->mesh.empty()) meshes.push_back(shape->mesh);
        out.curves.insert(out.curves.end(), shape->curves.begin(), shape->curves.end());
        out.instances.insert(out.instances.end(), shape->instances.begin(), shape->instances.end());
    }
    if (!meshes.empty()) out.mesh = joined_meshes(meshes);
    return out;
}

void run_again(const Again& s, StepRun& run) {
    if (no_inner(run)) return;
    ShapePtr now = run.input_pointer("shape");
    if (!now) now = std::make_shared<const Shape>();
    std::vector<ShapePtr> given;
    if (s.give == Again::Give::all && !now->empty()) given.push_back(now);
    InnerFindings findings;
    std::uint64_t hash = 0;
    double faces = 0;
    int done = 0;
    for (; done < s.rounds; ++done) {
        stop_point();
        InnerWanted wanted{s.kit, s.part, s.preset, s.dials};
        add_loop_name(wanted.names, "again", "nth", done + 1.0);
        add_loop_name(wanted.names, "again", "rounds", s.rounds);
        add_loop_name(wanted.names, "again", "share", s.rounds > 1 ? done / (s.rounds - 1.0) : 0);
        wanted.given = now;
        wanted.given_hash = hash;
        auto made = run.inner(wanted);
        if (!made) {
            run.tell(Severity::error, "no-kit", made.problem().text());
            return;
        }
        const bool wrong = std::ranges::any_of(
            made->findings, [](const Finding& finding) { return finding.severity == Severity::error; });
        findings.add(std::move(made->findings), static_cast<std::size_t>(done));
        now = made->shape;
        hash = made->hash;
        if (now->empty()) break;
        const Weight weight = weight_of(*now);
        faces = s.give == Again::Give::last ? weight.faces : faces + weight.faces;
        if (run.too_many(faces, most_faces, fmt::format("faces after round {}", done + 1), "Use fewer rounds.") ||
            run.too_many(weight.standing, most_standing, fmt::format("faces of copies after round {}", done + 1),
                         "Use fewer rounds."))
            return;
        if (s.give != Again::Give::last) given.push_back(now);
        progress_of_work((done + 1.0) / s.rounds);
        if (wrong) break;  // every next round would only repeat it
    }
    findings.tell(run, "round", "rounds", static_cast<std::size_t>(s.rounds), 1);
    if (now->empty() && done < s.rounds)
        run.tell(Severity::caution, "empty",
                 fmt::format("The recipe makes nothing in round {}: the rounds end there.", done + 1));
    if (s.give == Again::Give::last) given = {now};
    if (given.empty()) return;
    run.give(together(given));
}

const StepOf<Again> again_step(
    StepInfo{.key = "again",
             .name = "Again",
             .family = Family::copies,
             .purpose = "Makes the recipe inside several times, each time from what it made before.",
             .words = "loop iterate repeat recursive feedback rounds growth branching nested",
             .help = "The recipe inside gets the shape as its given shape in the first round, and its own result in "
                     "every next one. Its formulas know nth (from 1), rounds and share (0 in the first to 1 in the "
                     "last); in rows of a Formula step they are again.nth and so on. A dial of such a name is turned "
                     "to it.",
             .glyph = "M5 12a7 7 0 1 1 2 5 M7 21v-4h4 M12 8v4l3 2",
             .gives = content_any,
             .inputs = inner_inputs(content_any),
             .telling = "{rounds} rounds",
             .loop_names = {"nth", "rounds", "share"}},
    inner_settings(&Again::kit, &Again::part, &Again::preset, &Again::dials) +
        Settings<Again>{
            count_of(&Again::rounds, "rounds", "Rounds", 0, 1000, 12, "How often; 0 leaves the shape as it is."),
            choice_of(&Again::give, "give", "Gives",
                      {{Again::Give::last, "last", "the last round"},
                       {Again::Give::rounds, "rounds", "every round"},
                       {Again::Give::all, "all", "every round and the beginning"}},
                      "What stays: the last round's result alone, all rounds' together, or these and the shape that "
                      "came in.")},
    run_again);

}  // namespace

}  // namespace bricol
