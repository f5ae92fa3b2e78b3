// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/element_checks.h"

namespace bricol {

bool has_elements(StepRun& run, Domain domain) {
    const Shape& shape = run.shape();
    const bool copies = !shape.instances.empty(), curves = !shape.curves.empty();
    const std::size_t count = domain == Domain::instance ? (copies ? 1 : 0)
                              : domain == Domain::knot   ? shape.knot_count()
                                                         : shape.mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    if (count > 0) {
        std::string others;
        const auto add = [&](bool there, const char* what) {
            if (there) (others += others.empty() ? "" : ", ") += what;
        };
        add(!shape.mesh.empty() && (domain == Domain::knot || domain == Domain::instance), "the mesh");
        add(curves && domain != Domain::knot, "curves");
        add(copies && domain != Domain::instance, "instances");
        if (!others.empty())
            run.tell(Severity::note, "others-unchanged",
                     fmt::format("What else is there passes through unchanged: {}.", others));
        return true;
    }
    if (shape.empty()) return true;  // told elsewhere
    const std::string there =
        domain != Domain::instance && copies
            ? "These are instances: choose them as the kind of element, or put Real geometry before this step."
        : curves ? "These are curves: choose knots as the kind of element, or make edges or faces of them first."
                 : "Choose another kind of element.";
    run.tell(Severity::error, "wrong-domain", fmt::format("There are no {} here. {}", plural_name(domain), there));
    return false;
}

Selection only_these(StepRun& run, const Shape& shape, Domain domain, const std::string& only) {
    if (domain == Domain::instance && !only.empty())
        return run.selected(points_of_copies(shape.instances), Domain::vertex, only, domain);
    if (domain == Domain::knot && !only.empty())
        return run.selected(points_of_knots(shape.curves), Domain::vertex, only, domain);
    return domain == Domain::instance || domain == Domain::knot ? Selection() : run.selected(shape.mesh, domain, only);
}

void look_for_deaf_targets(StepRun& run, Domain domain, const std::vector<FormulaRow>& rows) {
    constexpr std::array<std::string_view, 2> deaf = {attribute_name::facing, "radius"};
    if (domain != Domain::instance) return;
    for (const FormulaRow& row : rows)
        if (const std::string_view name = std::string_view(row.target).substr(0, row.target.find('.'));
            std::ranges::find(deaf, name) != deaf.end())
            run.tell(
                Severity::error, "wrong-target",
                fmt::format("“{}” of a copy that stands cannot be changed yet. Give the points a value of that name "
                            "before Place copies.",
                            row.target));
}

}  // namespace bricol
