// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "cli/report.h"
#include "core/formula/units.h"
#include "core/ground/words.h"
#include "core/make/graph.h"

namespace bricol {

bool wanted(const std::vector<std::string>& parts, const std::string& name) {
    return parts.empty() || std::ranges::find(parts, name) != parts.end();
}

std::vector<FindingBehind> findings_behind(const Recipe& recipe, const Made& made,
                                           const std::vector<std::string>& parts) {
    std::vector<FindingBehind> out;
    if (parts.empty()) return out;
    const auto behind = steps_behind(recipe, parts);
    for (std::size_t p = 0; p < behind.size(); ++p) {
        if (wanted(parts, recipe.parts[p]->name)) continue;
        for (std::size_t s = 0; s < behind[p].size(); ++s)
            if (behind[p][s] && made.steps[p][s])
                for (const Finding& finding : made.steps[p][s]->findings)
                    out.push_back({*recipe.parts[p], *recipe.parts[p]->steps[s], finding});
    }
    return out;
}

namespace {

/// Square or cubic metres in the recipe's unit, or the next one in which the number can be read.
std::string power_text(double value, int power, std::string_view unit) {
    constexpr std::array<std::string_view, 3> units = {"mm", "cm", "m"};
    auto at = static_cast<std::size_t>(std::ranges::find(units, unit) - units.begin());
    if (at == units.size()) at = 2;
    const auto in = [&](std::size_t u) { return value / std::pow(find_unit(units[u])->factor, power); };
    while (at < 2 && std::abs(in(at)) >= 1e6) ++at;
    while (at > 0 && value != 0 && std::abs(in(at)) < 1e-3) --at;
    return fmt::format("{} {}{}", format_number(in(at), 5), units[at], power == 2 ? "²" : "³");
}

std::string finding_line(const Finding& f, const std::string& where, std::string_view unit) {
    std::string line = fmt::format("  {} at {}: {}\n", severity_name(f.severity), where, f.text);
    if (f.places.empty()) return line;
    line += "    at";
    for (std::size_t i = 0; i < std::min<std::size_t>(f.places.size(), 4); ++i) {
        const Vec3& p = f.places[i];
        line += fmt::format("{} ({}, {}, {})", i ? "," : "", format_value(double(p.x), Quantity::length, unit),
                            format_value(double(p.y), Quantity::length, unit),
                            format_value(double(p.z), Quantity::length, unit));
    }
    return line + (f.places.size() > 4 ? fmt::format(" and {} more\n", f.places.size() - 4) : "\n");
}

std::string part_text(const Recipe& recipe, const Part& part, const PartOutcome& outcome) {
    const Measures& m = outcome.measures;
    std::string out = fmt::format("\n{}\n  {}, {}, {}, {}, {}\n", part.name, counted(m.vertices, "vertex", "vertices"),
                                  counted(m.edges, "edge"), counted(m.faces, "face"), counted(m.triangles, "triangle"),
                                  counted(m.pieces, "piece"));
    if (m.curves > 0 || m.instances > 0)
        out += fmt::format("  {}, {}\n", counted(m.curves, "curve"), counted(m.instances, "copy", "copies"));
    if (m.box) {
        const DVec3 size = m.box->size();
        out += fmt::format("  {} × {} × {}\n", format_value(size.x, Quantity::length, recipe.unit),
                           format_value(size.y, Quantity::length, recipe.unit),
                           format_value(size.z, Quantity::length, recipe.unit));
    }
    if (m.faces > 0) {
        out += fmt::format("  area {}", power_text(m.area, 2, recipe.unit));
        if (m.volume) out += fmt::format(", volume {}", power_text(*m.volume, 3, recipe.unit));
        out += m.closed             ? ", closed"
               : m.border_edges > 0 ? fmt::format(", {}", counted(m.border_edges, "border edge"))
                                    : fmt::format(", {} of more than two faces", counted(m.non_manifold_edges, "edge"));
        out += fmt::format(", Euler characteristic {}\n", m.euler);
    }
    return out;
}

}  // namespace

std::string report_text(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts) {
    std::string out = fmt::format("{}: {}{}, {:.1f} ms\n", recipe.title.empty() ? "Recipe" : recipe.title,
                                  counted(made.faces(recipe), "face"),
                                  recipe.budget > 0 ? fmt::format(" of {}", recipe.budget) : "", made.milliseconds);
    for (const Finding& f : made.findings) out += fmt::format("  {}: {}\n", severity_name(f.severity), f.text);
    std::string not_looked_for;
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        if (!wanted(parts, part.name) || !made.parts[p]) continue;
        const PartOutcome& outcome = *made.parts[p];
        out += part_text(recipe, part, outcome);
        for (std::size_t s = 0; s < part.steps.size(); ++s)
            if (const auto& step = made.steps[p][s])
                for (const Finding& f : step->findings) out += finding_line(f, part.steps[s]->id, recipe.unit);
        for (const Finding& f : outcome.findings) out += finding_line(f, part.name, recipe.unit);
        if (!outcome.not_looked_for.empty()) not_looked_for = outcome.not_looked_for;
    }
    if (const auto behind = findings_behind(recipe, made, parts); !behind.empty()) {
        out += "\nIn parts these come from\n";
        for (const FindingBehind& one : behind)
            out += finding_line(one.finding, one.part.name + "." + one.step.id, recipe.unit);
    }
    if (!not_looked_for.empty()) out += fmt::format("\nNot looked for: {}.\n", not_looked_for);
    return out;
}

std::string errors_text(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts) {
    std::string out;
    for (std::size_t p = 0; p < recipe.parts.size(); ++p)
        for (std::size_t s = 0; wanted(parts, recipe.parts[p]->name) && s < recipe.parts[p]->steps.size(); ++s)
            if (const auto& step = made.steps[p][s])
                for (const Finding& f : step->findings)
                    if (f.severity == Severity::error)
                        out += fmt::format("bricol: error at {}.{}: {}\n", recipe.parts[p]->name,
                                           recipe.parts[p]->steps[s]->id, f.text);
    for (const FindingBehind& one : findings_behind(recipe, made, parts))
        if (one.finding.severity == Severity::error)
            out += fmt::format("bricol: error at {}.{}: {}\n", one.part.name, one.step.id, one.finding.text);
    return out;
}

}  // namespace bricol
