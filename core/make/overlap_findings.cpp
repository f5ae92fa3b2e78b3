// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/overlap_findings.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

#include "core/formula/units.h"
#include "core/ground/words.h"
#include "core/kernels/overlap.h"
#include "core/make/graph.h"

namespace bricol {

namespace {

constexpr std::size_t most_bodies = 20000;
constexpr double most_overlap_faces = 6e6;  // triangles of pairs that stand alike in no other; some ten seconds

constexpr std::size_t most_faces_to_part = 20000;  // each pair is looked at some fifty times

/// In the unit that reads best: "3.2 cm³".
std::string volume_words(double cubic_metres) {
    if (cubic_metres >= 0.01) return format_number(cubic_metres, 3) + " m³";
    if (cubic_metres >= 1e-7) return format_number(cubic_metres * 1e6, 3) + " cm³";
    return format_number(cubic_metres * 1e9, 3) + " mm³";
}

/// A length, rounded up to three digits, so that what is advised is enough.
std::string length_words(double metres) {
    const std::string_view unit = field_unit("m", metres);
    const double shown = shown_value(metres, Quantity::length, unit);
    const double digit = std::pow(10, std::floor(std::log10(shown)) - 2);
    return format_number(std::ceil(shown / digit - 1e-9) * digit, 4) + " " + shown_unit(Quantity::length, unit);
}

/// What has to change between bodies so that every pair is clear; nothing when no one number does.
std::optional<double> clearing_all(const Bodies& bodies, std::vector<Overlap> pairs) {
    // Pairs that stand alike share the same volume, so the largest ones of different volume stand for all.
    std::ranges::stable_sort(pairs, std::greater{}, &Overlap::volume);
    constexpr std::size_t most = 6;
    double far = 0, last = -1;
    std::size_t looked_at = 0;
    for (const Overlap& pair : pairs) {
        if (std::abs(pair.volume - last) <= 1e-4 * pair.volume && last > 0) continue;
        if (++looked_at > most) break;
        last = pair.volume;
        const auto faces = [&](Index body) { return bodies.pieces[bodies.list[body].piece].soup.triangles.size(); };
        if (faces(pair.a) + faces(pair.b) > most_faces_to_part) return std::nullopt;
        const auto move = clearing_move(bodies, pair);
        if (!move || (far != 0 && (*move > 0) != (far > 0))) return std::nullopt;
        if (std::abs(*move) > std::abs(far)) far = *move;
    }
    return far != 0 ? std::optional(far) : std::nullopt;
}

std::string clearing_words(std::optional<double> move) {
    if (!move) return "";
    return fmt::format(" {} {} between them parts them.", length_words(std::abs(*move)), *move > 0 ? "more" : "less");
}

std::vector<Vec3> places_of(const std::vector<Overlap>& pairs) {
    std::vector<Vec3> places;
    for (std::size_t i = 0; i < pairs.size() && i < 32; ++i) places.emplace_back(pairs[i].where);
    return places;
}

void tell_inside(PartOutcome& outcome, const Bodies& bodies, const std::vector<Overlap>& pairs) {
    std::vector<Index> within;
    for (const Overlap& pair : pairs) {
        const auto size = [&](Index body) { return glm::length(bodies.list[body].box.size()); };
        within.push_back(size(pair.a) < size(pair.b) ? pair.a : pair.b);
    }
    std::ranges::sort(within);
    within.erase(std::unique(within.begin(), within.end()), within.end());
    outcome.findings.push_back({Severity::note,
                                "nested",
                                fmt::format("{} wholly inside another, unseen; the volume counts {} twice.",
                                            counted(within.size(), "closed piece lies", "closed pieces lie"),
                                            within.size() == 1 ? "it" : "them"),
                                {},
                                places_of(pairs)});
}

/// `what` is what runs into one another: "pieces", "copies".
void tell_crossing(PartOutcome& outcome, const Bodies& bodies, const std::vector<Overlap>& pairs, const char* code,
                   std::string_view what, std::string_view advice) {
    double volume = 0;
    for (const Overlap& pair : pairs) volume += pair.volume;
    const std::string count = counted(pairs.size(), "pair of ", "pairs of ") + std::string(what);
    const std::string runs = pairs.size() == 1 ? " runs" : " run";
    outcome.findings.push_back(
        {Severity::note,
         code,
         volume > 0
             ? fmt::format("{}{} into one another; {} in common, which the volume counts twice.{}{}", count, runs,
                           volume_words(volume), clearing_words(clearing_all(bodies, pairs)), advice)
             : fmt::format("{}{} through one another.{}", count, runs, clearing_words(clearing_all(bodies, pairs))),
         {},
         places_of(pairs)});
}

}  // namespace

void tell_overlaps(PartOutcome& outcome) {
    if (outcome.measures.pieces < 2 && outcome.measures.instances == 0) return;
    Bodies bodies;
    add_bodies(bodies, outcome.shape, 0, most_bodies);
    const Overlaps found = overlaps_of(bodies, Among::all, most_overlap_faces);
    if (!found.all || !bodies.all)
        outcome.not_looked_for += fmt::format("{}overlaps of all pieces and copies: there are too many",
                                              outcome.not_looked_for.empty() ? "" : "; ");
    std::vector<Overlap> inside, pieces, copies;
    for (const Overlap& pair : found.pairs) {
        const bool one = bodies.list[pair.a].copy == bodies.list[pair.b].copy;
        (pair.inside ? inside : one ? pieces : copies).push_back(pair);
    }
    if (!inside.empty()) tell_inside(outcome, bodies, inside);
    if (!pieces.empty())
        tell_crossing(outcome, bodies, pieces, "overlap", "pieces", " A Boolean makes one piece of them.");
    if (!copies.empty()) tell_crossing(outcome, bodies, copies, "copies-overlap", "copies", "");
}

std::vector<Finding> parts_in_one_another(const Recipe& recipe, const Made& made) {
    const Graph graph(recipe);
    std::vector<std::size_t> standing;  // parts that are seen and not taken up by another
    for (std::size_t p = 0; p < recipe.parts.size() && p < made.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        const int result = graph.result_of(recipe, part.name);
        if (!part.delivered() || !made.parts[p] || result < 0) continue;
        const auto elsewhere = [&](int n) { return graph.nodes[static_cast<std::size_t>(n)].part != p; };
        if (std::ranges::any_of(graph.nodes[static_cast<std::size_t>(result)].followers, elsewhere)) continue;
        standing.push_back(p);
    }
    if (standing.size() < 2) return {};
    Bodies bodies;
    for (const std::size_t p : standing) add_bodies(bodies, made.parts[p]->shape, static_cast<Index>(p), most_bodies);
    const Overlaps found = overlaps_of(bodies, Among::shapes, most_overlap_faces);
    struct Pair {
        double volume = 0;
        Vec3 where{0};
    };
    std::map<std::array<Index, 2>, Pair> parts;
    for (const Overlap& pair : found.pairs) {
        const Index a = bodies.list[pair.a].shape, b = bodies.list[pair.b].shape;
        Pair& both = parts[{std::min(a, b), std::max(a, b)}];
        if (both.volume == 0) both.where = Vec3(pair.where);
        both.volume += pair.volume;
    }
    std::vector<Finding> out;
    if (!parts.empty()) {
        const auto most = std::ranges::max_element(parts, {}, [](const auto& entry) { return entry.second.volume; });
        const auto name = [&](Index p) { return recipe.parts[p]->name; };
        Finding finding{
            Severity::note,
            "parts-overlap",
            fmt::format("{} into one another: {}“{}” and “{}”{}.",
                        counted(parts.size(), "pair of parts runs", "pairs of parts run"),
                        parts.size() > 1 ? "most of all " : "", name(most->first[0]), name(most->first[1]),
                        most->second.volume > 0 ? ", " + volume_words(most->second.volume) + " in common" : ""),
            {},
            {}};
        for (const auto& [key, pair] : parts)
            if (finding.places.size() < 32) finding.places.push_back(pair.where);
        out.push_back(std::move(finding));
    }
    if (!found.all || !bodies.all)
        out.push_back({Severity::note,
                       "parts-not-looked-through",
                       "There are too many faces to look for parts that run into one another.",
                       {},
                       {}});
    return out;
}

}  // namespace bricol
