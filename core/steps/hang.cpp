// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <fmt/format.h>
#include <limits>

#include "core/catalogue/settings.h"
#include "core/formula/formula.h"
#include "core/kernels/catenary.h"

namespace bricol {

namespace {

struct Hang {
    enum class By { slack, length };
    DVec3 from{0, 0, 1};
    DVec3 to{2, 0, 1};
    By by = By::slack;
    double slack = 0.1;
    double length = 2.2;
    double weight = 1;
    int pieces = 16;
    int segments = 4;
};

double length_between(const Hang& s, const DVec3& from, const DVec3& to) {
    return s.by == Hang::By::length ? s.length : glm::distance(from, to) * (1 + s.slack);
}

/// A number of the rope between From and To; none when it is too short.
template <class F>
double of_rope(const Hang& s, F number) {
    const auto rope = hung(s.from, s.to, length_between(s, s.from, s.to));
    return rope ? number(*rope) : std::numeric_limits<double>::quiet_NaN();
}

/// Rows of posts: the knots of each curve, the points of a mesh.
std::vector<std::vector<DVec3>> posts_of(const Shape& shape) {
    std::vector<std::vector<DVec3>> rows;
    for (const Curve& curve : shape.curves) {
        rows.emplace_back();
        for (const Knot& knot : curve.knots) rows.back().emplace_back(knot.at);
        if (curve.closed && curve.knots.size() > 2) rows.back().push_back(rows.back().front());
    }
    if (!shape.mesh.empty()) rows.emplace_back(shape.mesh.positions->begin(), shape.mesh.positions->end());
    if (!shape.instances.empty()) rows.emplace_back();
    for (const Instances& group : shape.instances)
        for (const glm::mat4& place : group.places) rows.back().emplace_back(place[3]);
    return rows;
}

void run_hang(const Hang& s, StepRun& run) {
    std::vector<std::vector<DVec3>> rows = posts_of(run.shape());
    if (rows.empty()) rows = {{s.from, s.to}};
    Shape shape;
    std::vector<Vec3> short_at;
    double short_by = 0;
    for (const std::vector<DVec3>& posts : rows) {
        if (posts.size() < 2) {
            run.tell(Severity::error, "too-few-points", "A rope hangs between two points at least.");
            continue;
        }
        if (run.too_many(static_cast<double>(posts.size()) * s.pieces, 1e6, "knots", "Use fewer posts or pieces."))
            return;
        Curve curve;
        curve.sampling.per_span = s.segments;
        for (std::size_t i = 0; i + 1 < posts.size(); ++i) {
            const double length = length_between(s, posts[i], posts[i + 1]),
                         apart = glm::distance(posts[i], posts[i + 1]);
            if (length <= 0 && apart == 0) continue;  // two posts in one place
            auto rope = hung(posts[i], posts[i + 1], length);
            if (!rope) {
                short_at.emplace_back((posts[i] + posts[i + 1]) / 2.0);
                short_by = std::max(short_by, apart);
                rope = hung(posts[i], posts[i + 1], apart);
                if (!rope) continue;
            }
            std::vector<Knot> knots = knots_along(*rope, s.pieces);
            if (!curve.knots.empty()) {
                knots.front().in = curve.knots.back().in;
                if (knots.front().in != Vec3(0)) knots.front().kind = KnotKind::free;
                curve.knots.pop_back();
            }
            curve.knots.insert(curve.knots.end(), knots.begin(), knots.end());
        }
        if (curve.knots.size() > 1) shape.curves.push_back(std::move(curve));
    }
    if (!short_at.empty()) {
        Finding& finding = run.tell(
            Severity::error, "too-short",
            fmt::format(
                "The rope is shorter than its ends are apart at {} place{}, where it is drawn straight. Give it {} "
                "m at least.",
                short_at.size(), short_at.size() == 1 ? "" : "s", format_number(short_by, 6)));
        finding.places = std::move(short_at);
    }
    run.give(std::move(shape));
}

const StepOf<Hang> hang_step(
    StepInfo{
        .key = "hang",
        .name = "Hang",
        .family = Family::curves,
        .purpose = "A rope or chain as it hangs between two points, or from post to post.",
        .words = "catenary rope chain cable line garland droop sag slack swing",
        .help =
            "The curve of even weight. By its slack, a share of the straight way, or by the length of rope between two "
            "posts. With points or curves before it, it hangs from each to the next. Formulas ask for its lowest point "
            "and the pulls at From and To: `= rope.pull_from`, in newtons by its weight a metre.",
        .glyph = "M3 5 C5 17 9 19 12 19 S19 17 21 5 M3 3v4 M21 3v4",
        .gives = content_curves,
        .inputs = {{"shape", "Posts", content_any, false}},
        .telling = "{by}"},
    {vector_of(&Hang::from, "from", "From", Quantity::length, "One end, when no posts are given."),
     vector_of(&Hang::to, "to", "To", Quantity::length, "The other end."),
     choice_of(&Hang::by, "by", "By", {{Hang::By::slack, "slack", "slack"}, {Hang::By::length, "length", "length"}},
               "What says how long the rope is."),
     when(number_of(&Hang::slack, "slack", "Slack", 0, 20, "How much longer than the straight way: 0.1 is a tenth."),
          "by=slack"),
     when(length_of(&Hang::length, "length", "Length", 0, 20, "Of rope, from each post to the next."), "by=length"),
     number_of(&Hang::weight, "weight", "Weight", 0, 1e6, "Newtons a metre of rope, for the pulls."),
     count_of(&Hang::pieces, "pieces", "Pieces", 1, 10000, 64, "Spans from post to post, equal along the rope."),
     count_of(&Hang::segments, "segments", "Segments", 1, 512, 16,
              "Straight pieces in each span, when points are needed.")},
    run_hang,
    {{"lowest", "Lowest", "Height of the lowest point between From and To (metres).",
      [](const Hang& s) { return of_rope(s, [](const Catenary& rope) { return rope.lowest(); }); }},
     {"pull_from", "Pull at From", "Newtons.",
      [](const Hang& s) { return of_rope(s, [&](const Catenary& rope) { return s.weight * rope.pull_from(); }); }},
     {"pull_to", "Pull at To", "Newtons.",
      [](const Hang& s) { return of_rope(s, [&](const Catenary& rope) { return s.weight * rope.pull_to(); }); }},
     {"rope", "Rope", "Its length between From and To (metres).",
      [](const Hang& s) { return length_between(s, s.from, s.to); }}});

}  // namespace

}  // namespace bricol
