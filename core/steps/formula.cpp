// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/elements.h"
#include "core/catalogue/settings.h"
#include "core/steps/shared/element_checks.h"

namespace bricol {

namespace {

struct FormulaSettings {
    Domain on = Domain::vertex;
    std::vector<FormulaRow> rows;
    std::string only;
};

void run_formula(const FormulaSettings& s, StepRun& run) {
    const auto& rows = s.rows;
    const Domain domain = s.on;
    if (rows.empty())
        run.tell(Severity::note, "no-rows", "There are no rows yet. Add one: a target, and what it gets.");
    if (!has_elements(run, domain)) return;
    look_for_deaf_targets(run, domain, rows);
    if (run.failed()) return;
    const Selection only = only_these(run, run.shape(), domain, s.only);
    RowsResult result = with_rows(run.shape(), domain, rows, only);
    // A name that stands on another kind of element is told apart from one that stands nowhere.
    for (RowProblem& problem : result.problems) {
        if (problem.code != "unknown-name") continue;
        const std::string& name = problem.missing;
        if (const std::string other = domain_with(run.shape(), name.substr(0, name.find('.')), domain);
            !other.empty()) {
            problem.code = "wrong-domain";
            problem.text = "“" + name + "” stands on every " + other + ", not on " + std::string(plural_name(domain)) +
                           ". Choose that kind of element, or make it there by an Attribute step.";
            problem.nearest.clear();
        }
    }
    run.report(result.problems, s.rows);
    run.give(std::move(result.shape));
}

const StepOf<FormulaSettings> formula_step(
    StepInfo{
        .key = "formula",
        .name = "Formula",
        .family = Family::sets,
        .purpose = "Works out places, normals, UVs or attributes by rows of formulas.",
        .words = "expression math script compute equation",
        .help =
            "A row says what an attribute gets, for every element at once: “z” gets “z + 0.1 * sin(360 * x)”. Rows see "
            "places and normals as they came in and attributes as the rows before left them; a target that "
            "starts with _ is only remembered for later rows. Angles are degrees. Names: x y z, nx ny nz, u v, index, "
            "count, share, every attribute, dials, step.number, frame and seed. Knots also have x y z, in.x out.x and "
            "so on "
            "for their handles, radius, roll and fillet, and know their curve and how far along it they are; copies "
            "have x y z, size, turn and variant, the number of the shape that stands there.",
        .glyph = "M4 7h7 M7.5 7 L6 19 M4.5 13h5 M13 12 L20 20 M20 12 L13 20",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "{rows}"},
    {choice_of(&FormulaSettings::on, "on", "On",
               {{Domain::vertex, "vertices", "vertices"},
                {Domain::edge, "edges", "edges"},
                {Domain::face, "faces", "faces"},
                {Domain::corner, "corners", "corners"},
                {Domain::instance, "instances", "instances"},
                {Domain::knot, "knots", "knots of curves"}},
               "The kind of element the rows run over."),
     kind_of(&FormulaSettings::rows, ParameterKind::rows, "rows", "Rows", "Each says what a target gets."),
     only_of(&FormulaSettings::only, "Only the elements of this set.")},
    run_formula);

}  // namespace

}  // namespace bricol
