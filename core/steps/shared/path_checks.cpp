// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/path_checks.h"

namespace bricol {

PathOptions path_options(Frames frames, const DVec3& up) {
    PathOptions options;
    options.fixed_up = frames == Frames::up;
    if (options.fixed_up && glm::length(up) > 1e-9) options.up = glm::normalize(up);
    return options;
}

std::vector<Path> paths_of(StepRun& run, const Shape& shape, const PathOptions& options) {
    std::vector<Path> paths;
    std::size_t empty = 0, repeats = 0;
    for (const Polyline& line : lines_of(shape)) {
        Path path = make_path(line, options);
        if (path.empty()) {
            ++empty;
            continue;
        }
        repeats += path.repeats;
        paths.push_back(std::move(path));
    }
    if (paths.empty())
        run.tell(Severity::error, "empty-path", "There is no path: a curve needs two knots at different places.");
    else if (empty > 0)
        run.tell(Severity::note, "empty-path",
                 fmt::format("{} of {} curves have no length and were left out.", empty, empty + paths.size()));
    if (repeats > 0)
        run.tell(Severity::note, "repeated-points",
                 fmt::format("{} point{} of the path on the one before and {} left out.", repeats,
                             repeats == 1 ? " sits" : "s sit", repeats == 1 ? "was" : "were"));
    std::vector<Vec3> upright;
    for (const Path& path : paths) upright.insert(upright.end(), path.upright.begin(), path.upright.end());
    if (options.fixed_up && !upright.empty()) {
        Finding& finding =
            run.tell(Severity::caution, "upright-path",
                     fmt::format("The path runs straight along “up” at {} point{}, where upright means nothing: the "
                                 "frame before was kept. Let it turn least, or choose another up.",
                                 upright.size(), upright.size() == 1 ? "" : "s"));
        finding.places = std::move(upright);
        finding.remedy = Remedy{"Let it turn least", {{"", "frames", "least"}}, {}};
    }
    std::size_t turned = 0;
    for (const Path& path : paths) turned += path.turned_over.size();
    if (turned > 0) {
        Finding& finding = run.tell(
            Severity::note, "past-vertical",
            fmt::format(
                "The path passes a vertical {}; behind it the section stands on its other side, because turning "
                "over there would lead it through itself. Let it turn least for a path like this.",
                turned == 1 ? "once" : fmt::format("{} times", turned)));
        for (const Path& path : paths)
            finding.places.insert(finding.places.end(), path.turned_over.begin(), path.turned_over.end());
        finding.remedy = Remedy{"Let it turn least", {{"", "frames", "least"}}, {}};
    }
    return paths;
}

std::optional<Polyline> first_line(StepRun& run, std::string_view key, const char* what) {
    const ShapePtr given = run.input_pointer(key);
    if (!given) return std::nullopt;
    std::vector<Polyline> lines = lines_of(finer(*given));
    std::erase_if(lines, [](const Polyline& line) { return line.points.size() < 2; });
    if (lines.empty()) return std::nullopt;
    if (lines.size() > 1)
        run.tell(Severity::note, "several-paths",
                 fmt::format("There are {} curves at “{}”; the first is used.", lines.size(), what));
    return lines.front();
}

std::string tight_bend_text(std::string_view what, double radius, double needs, std::size_t places) {
    const std::string reach = format_value(needs, Quantity::length, "m");
    return fmt::format(
        "The path bends with a radius of {} where the {} reaches {} inwards: it folds into itself {}. A bend of at "
        "least {} fits.",
        format_value(radius, Quantity::length, "m"), what, reach,
        places == 1 ? "there" : fmt::format("at {} places", places), reach);
}

void look_at_ends(StepRun& run, const std::vector<Path>& paths) {
    double worst = 0;
    std::vector<Vec3> places;
    for (const Path& path : paths) {
        if (path.closed) continue;
        for (const Station* end : {&path.points.front(), &path.points.back()}) {
            const DVec3 a = glm::abs(end->along);
            const double off = glm::degrees(std::acos(std::min(1.0, std::max({a.x, a.y, a.z}))));
            if (off > 0.5 && off < 15) places.push_back(Vec3(end->at)), worst = std::max(worst, off);
        }
    }
    if (places.empty()) return;
    run.tell(Severity::note, "end-tilted",
             fmt::format("{} end ring{} askew by up to {:.3g}°. Resample can hold the path's ends along an axis.",
                         places.size(), places.size() == 1 ? " stands" : "s stand", worst))
        .places = std::move(places);
}

void look_at_pieces(StepRun& run, const std::vector<Path>& paths) {
    constexpr double screen = 1000;  // pixels; common practice for "fills a window"
    double widest = 0, off = 0, needless = 0, pieces = 0;
    std::vector<Vec3> coarse;
    for (const Path& path : paths) {
        DVec3 low(1e300), high(-1e300);
        for (const Station& s : path.points) low = glm::min(low, s.at), high = glm::max(high, s.at);
        const double pixel = std::max(glm::distance(low, high), 1e-12) / screen;
        for (std::size_t i = 0; i < path.size(); ++i) {
            const double turn = path.turn_at(i),
                         before = path.length[i] - (i > 0         ? path.length[i - 1]
                                                    : path.closed ? path.length.back() - path.whole
                                                                  : path.length[i]);
            const double stands_off = before * turn / 8 / pixel;
            pieces += 1;
            needless += stands_off < 0.02;
            if (path.sharp[i] || turn < glm::radians(12.0) || stands_off < 4) continue;
            coarse.push_back(Vec3(path.points[i].at));
            widest = std::max(widest, glm::degrees(turn));
            off = std::max(off, stands_off);
        }
    }
    if (!coarse.empty())
        run.tell(Severity::note, "coarse-path",
                 fmt::format("Seen whole on a screen the path's pieces stand {:.0f} pixels off its bends and turn by "
                             "up to {:.3g}°: it looks broken. Give its curve more pieces per bend.",
                             off, widest))
            .places = std::move(coarse);
    else if (pieces > 1000 && needless > 0.9 * pieces)
        run.tell(Severity::note, "fine-path",
                 fmt::format("The path has {} pieces, most of them less than a fiftieth of a pixel off its bends when "
                             "seen whole: finer than anyone sees. Fewer pieces per bend do.",
                             static_cast<std::size_t>(pieces)));
}

}  // namespace bricol
