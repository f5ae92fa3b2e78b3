// SPDX-License-Identifier: GPL-3.0-or-later
// Bodies round sticks: against closed forms of swept balls, by Euler's formula over random figures, and by what moves
// when one number does.
#include <numbers>
#include <numeric>
#include <random>

#include "core/kernels/boolean.h"
#include "core/kernels/branching.h"
#include "core/kernels/flesh.h"
#include "core/kernels/pieces.h"
#include "core/kernels/stick_field.h"
#include "tests/support/build.h"
#include "tests/support/tried.h"
#include "tests/support/whole.h"

namespace bricol::test {

namespace {

StickKnot knot(const DVec3& at, double girth) {
    StickKnot k;
    k.at = at;
    k.girth = DVec2(girth);
    return k;
}

Sticks sticks(const std::vector<StickKnot>& knots, const std::vector<std::array<Index, 2>>& bones,
              const std::vector<Index>& roots = {}) {
    return sticks_of(shape_of(mesh_of_sticks(knots, bones, roots)), 0.05);
}

Mesh body(const Sticks& s, int rounds, double blend = 0) {
    FleshOptions options;
    options.rounds = rounds;
    options.blend = blend;
    return flesh_of(s, options).mesh;
}

bool all_quads(const Mesh& mesh) {
    for (std::size_t f = 0; f < mesh.face_count(); ++f)
        if (mesh.topology->face(f).size() != 4) return false;
    return mesh.face_count() > 0;
}

bool closed(const Mesh& mesh) {
    const Ties& ties = mesh.topology->ties();
    return ties.border_edges == 0 && ties.non_manifold_edges == 0 && ties.turned_edges == 0;
}

std::ptrdiff_t euler(const Mesh& mesh) {
    return static_cast<std::ptrdiff_t>(mesh.vertex_count()) - static_cast<std::ptrdiff_t>(mesh.edge_count()) +
           static_cast<std::ptrdiff_t>(mesh.face_count());
}

/// A tree of `count` knots, at most six bones at each and 40 degrees between them, girths from 0.02 to 0.4 and bones
/// half as long again as the girths at their ends.
Sticks random_tree(std::mt19937& chance, int count) {
    const auto between = [&](double low, double high) {
        return low + (high - low) * static_cast<double>(chance() >> 8) / (1u << 24);
    };
    const auto girth = [&] { return std::exp(between(std::log(0.02), std::log(0.4))); };
    std::vector<StickKnot> knots{knot(DVec3(0), girth())};
    std::vector<std::array<Index, 2>> bones;
    std::vector<std::vector<DVec3>> ways(1);
    for (int i = 1; i < count; ++i)
        for (int tries = 0; tries < 200; ++tries) {
            const auto from = static_cast<Index>(chance() % knots.size());
            if (ways[from].size() >= 6) continue;
            DVec3 way(between(-1, 1), between(-1, 1), between(-1, 1));
            if (glm::length(way) < 0.1 || glm::length(way) > 1) continue;
            way = glm::normalize(way);
            if (std::ranges::any_of(ways[from], [&](const DVec3& w) { return glm::dot(w, way) > 0.766; })) continue;
            StickKnot next = knot(DVec3(0), girth());
            next.at = knots[from].at + way * (1.5 * (next.girth.x + knots[from].girth.x) + between(0, 1));
            if (chance() % 4 == 0) next.girth.y *= between(0.4, 1);
            ways[from].push_back(way);
            ways.push_back({-way});
            bones.push_back({from, static_cast<Index>(knots.size())});
            knots.push_back(next);
            break;
        }
    return sticks(knots, bones);
}

}  // namespace

TEST_CASE("on a way past a body no distance changes by what was known of it before", "[flesh]") {
    std::mt19937 chance(11);
    const auto between = [&](double low, double high) {
        return low + (high - low) * static_cast<double>(chance() >> 8) / (1u << 24);
    };
    std::size_t compared = 0, different = 0;
    for (int figure = 0; figure < 40; ++figure) {
        Sticks s = random_tree(chance, 12);
        if (figure % 2)
            for (StickKnot& k : s.knots) k.girth.y *= between(0.3, 3);  // flattened: their distances are bounds alone
        std::vector<BoneField> fields;
        for (const StickBone& bone : s.bones) fields.emplace_back(bone, s.knots[bone.from], s.knots[bone.to]);
        std::vector<Index> all(fields.size());
        std::iota(all.begin(), all.end(), Index(0));
        for (int way = 0; way < 60; ++way) {
            const DVec3 start = s.knots[chance() % s.knots.size()].at,
                        along = glm::normalize(DVec3(between(-1, 1), between(-1, 1), 1.1));
            const double blend = way % 3 * 0.5;
            FieldBounds bounds;
            double t = between(0, 1);
            for (int step = 0; step < 8; ++step) {
                const FieldValue plain = flesh_field(fields, all, start + along * t, blend),
                                 quick = flesh_field(fields, all, start + along * t, blend, &bounds);
                ++compared;
                different += plain.distance != quick.distance || plain.way != quick.way;
                const double next = t + between(-0.3, 0.3) / (step + 1);
                bounds.moved = std::abs(next - t) * (1 + 1e-9);
                t = next;
            }
        }
    }
    CHECK(compared == 40 * 60 * 8);
    CHECK(different == 0);
}

TEST_CASE("flesh: a bone's body nears the hull of its two balls as it gets finer", "[flesh][outside]") {
    // Closed form: two caps and a frustum. The error of a fine polyhedron on a smooth body falls with the square.
    for (const auto& [r, s] : {std::pair{0.2, 0.2}, {0.3, 0.1}, {0.05, 0.25}}) {
        INFO(r << " " << s);
        const Sticks one = sticks({knot(DVec3(0), r), knot(DVec3(0.3, 0.4, 1.2), s)}, {{0, 1}});
        const double length = 1.3, sine = (r - s) / length;
        const auto cap = [](double radius, double h) { return pi * h * h * (radius - h / 3); };
        const double a = r * std::sqrt(1 - sine * sine), b = s * std::sqrt(1 - sine * sine);
        const double h = length + s * sine - r * sine;
        // The side touches the first ball r sine along the bone: what lies before that is a cap.
        const double exact = cap(r, r + r * sine) + pi * h * (a * a + a * b + b * b) / 3 + cap(s, s - s * sine);
        double before = 0;
        for (int rounds = 2; rounds <= 4; ++rounds) {
            const double error = std::abs(measure(body(one, rounds)).volume.value() / exact - 1);
            // A polygon of n sides in a circle lacks 2 pi^2 / (3 n^2) of its area; n is 4 at first and doubles.
            CHECK(error < 0.75 / std::pow(4, rounds));
            if (before > 0) CHECK(before / error == Approx(4).epsilon(0.25));
            before = error;
        }
    }
}

TEST_CASE("flesh: the distance to a tapered bone is that to the hull of its balls", "[flesh][outside]") {
    // By brute force: the least distance to the balls in between, whose centres and radii go in straight lines.
    std::mt19937 chance(5);
    const auto number = [&] { return static_cast<double>(chance() >> 8) / (1u << 24); };
    StickKnot a = knot(DVec3(0.1, 0.2, 0.3), 0.3), b = knot(DVec3(1, -0.4, 0.5), 0.1);
    const Sticks one = sticks({a, b}, {{0, 1}}, {0});
    const BoneField field(one.bones[0], one.knots[0], one.knots[1]);
    for (int i = 0; i < 200; ++i) {
        const DVec3 p(3 * number() - 1, 3 * number() - 1.5, 3 * number() - 1);
        double least = 1e9;
        for (int k = 0; k <= 20000; ++k) {
            const double t = k / 20000.0;
            least = std::min(least, glm::distance(p, glm::mix(a.at, b.at, t)) - (0.3 - 0.2 * t));
        }
        const FieldValue value = field.at(p);
        CHECK(value.distance == Approx(least).margin(1e-6));
        const double ahead = field.at(p + value.way * 1e-5).distance;
        CHECK(ahead - value.distance == Approx(1e-5).epsilon(0.01));
    }
}

TEST_CASE("flesh: random figures are closed, all quads, of the sphere's Euler characteristic, sticks within",
          "[flesh]") {
    std::mt19937 chance(11);
    const int trees = sanitized() ? 40 : 1000;
    int without_finding = 0, crossing = 0, outside = 0;
    for (int i = 0; i < trees; ++i) {
        const Sticks tree = random_tree(chance, 2 + static_cast<int>(chance() % 59));
        FleshOptions options;
        options.rounds = i % 3;
        options.weights = false;
        const Flesh flesh = flesh_of(tree, options);
        INFO("tree " << i << " of " << tree.knots.size() << " knots");
        REQUIRE(closed(flesh.mesh));
        REQUIRE(all_quads(flesh.mesh));
        REQUIRE(euler(flesh.mesh) == 2);
        REQUIRE(measure(flesh.mesh).volume.value() > 0);
        if (!flesh.narrow.empty() || !flesh.swallowed.empty() || !flesh.crossing.empty()) continue;
        ++without_finding;
        if (options.rounds > 0) crossing += !crossing_faces(flesh.mesh, 1).empty();
        std::vector<Index> faces(flesh.mesh.face_count());
        std::iota(faces.begin(), faces.end(), 0);
        bool within = true;
        for (const StickBone& bone : tree.bones)
            for (const double t : {0.0, 0.5, 1.0}) {
                const DVec3 on = glm::mix(tree.knots[bone.from].at, tree.knots[bone.to].at, t);
                within &= winding_number(flesh.mesh, faces, on) > 0.5;
            }
        outside += !within;
    }
    INFO(without_finding << " without a finding, " << outside << " with sticks outside, " << crossing << " crossing");
    CHECK(outside * 100 <= without_finding);
    CHECK(without_finding > trees / 5);
    // Folds where a thin limb flares between thick ones are rare, and told where faces cross.
    CHECK(crossing * 8 < without_finding);
}

TEST_CASE("flesh: nothing jumps when one girth grows by a hundredth", "[flesh]") {
    std::mt19937 chance(23);
    double worst = 0;
    int trees = 0, far = 0;
    for (int i = 0; i < (sanitized() ? 20 : 200); ++i) {
        Sticks tree = random_tree(chance, 2 + static_cast<int>(chance() % 19));
        const Mesh before = body(tree, 2, 0.5);
        const std::size_t k = chance() % tree.knots.size();
        const double change = 0.01 * tree.knots[k].girth.x;
        tree.knots[k].girth *= 1.01;
        const Mesh after = body(tree, 2, 0.5);
        REQUIRE(after.topology->content_hash() == before.topology->content_hash());
        double most = 0;
        for (std::size_t v = 0; v < after.vertex_count(); ++v)
            most = std::max(most, static_cast<double>(glm::distance((*after.positions)[v], (*before.positions)[v])));
        ++trees;
        far += most > 15 * change;
        worst = std::max(worst, most / change);
    }
    // At a fork the crotch of two limbs moves 1 / sin(half their angle) times as far as their girth grows, and more
    // where they flare towards one another.
    INFO("of " << trees << " figures " << far << " moved a point by more than 15 times the change, the worst by "
               << worst);
    CHECK(far * 20 <= trees);
    CHECK(worst < 100);
}

TEST_CASE("flesh: every way of sharing a knot among its bones gives rings of four that close the ball", "[flesh]") {
    std::mt19937 chance(3);
    for (int n = 3; n <= 24; ++n)
        for (int again = 0; again < 20; ++again) {
            std::vector<DVec3> ways;
            for (int i = 0; i < n; ++i) {
                DVec3 way;
                do
                    for (int c = 0; c < 3; ++c) way[c] = static_cast<double>(chance() >> 8) / (1u << 23) - 1;
                while (glm::length(way) < 0.1);
                if (again % 4 == 0) way.z = 0;  // all in one plane
                ways.push_back(glm::normalize(way));
            }
            const Branching b = branching_of(ways);
            // Seen as faces the rings are a closed surface round the knot.
            Array<Index> offsets{0}, corners;
            for (const auto& ring : b.rings) {
                corners.insert(corners.end(), ring.begin(), ring.end());
                offsets.push_back(static_cast<Index>(corners.size()));
            }
            Array<Vec3> points;
            for (const DVec3& p : b.points) {
                CHECK(glm::length(p) == Approx(1));
                points.emplace_back(p);
            }
            const auto count = static_cast<Index>(points.size());
            const Mesh ball(std::move(points), make_topology(count, std::move(offsets), std::move(corners)));
            INFO(n << " ways, try " << again);
            CHECK(closed(ball));
            CHECK(euler(ball) == 2);
        }
}

TEST_CASE("flesh: the six ways of the axes share the ball as a cube's faces do", "[flesh]") {
    const std::array<DVec3, 6> ways{DVec3(1, 0, 0), {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
    const Branching cube = branching_of(ways);
    CHECK(cube.points.size() == 8);
    for (const DVec3& p : cube.points)
        for (int c = 0; c < 3; ++c) CHECK(std::abs(p[c]) == Approx(1 / std::sqrt(3.0)).margin(1e-5));
}

TEST_CASE("flesh: weights sum to one and joints hang as the sticks do", "[flesh][pose]") {
    const Tried t = tried({step("s", "sticks",
                                {{"knots",
                                  {{{"id", 1}, {"at", {0, 0, 0}}, {"girth", 0.2}, {"name", "hip"}, {"root", true}},
                                   {{"id", 2}, {"from", 1}, {"at", {0, 0, 1}}, {"girth", 0.1}, {"name", "knee"}},
                                   {{"id", 3}, {"from", 2}, {"at", {0, 0.2, 2}}, {"girth", 0.1}, {"joint", false}},
                                   {{"id", 4}, {"from", 3}, {"at", {0, 0, 2.5}}, {"girth", 0.05}}}}}),
                           step("f", "flesh", {{"rounds", 2}})});
    const Mesh& mesh = t.mesh("f");
    REQUIRE(mesh.skeleton);
    REQUIRE(mesh.skeleton->joints.size() == 2);  // the third is left out, the last ends a limb
    CHECK(mesh.skeleton->joints[0].name == "hip");
    CHECK(mesh.skeleton->joints[1].name == "knee");
    CHECK(mesh.skeleton->joints[1].parent == 0);
    CHECK(mesh.skeleton->joints[1].at == DVec3(0, 0, 1));
    const auto& hip = column<float>(mesh, Domain::vertex, "hip");
    const auto& knee = column<float>(mesh, Domain::vertex, "knee");
    for (std::size_t v = 0; v < mesh.vertex_count(); ++v) {
        CHECK(hip[v] + knee[v] == Approx(1));
        if ((*mesh.positions)[v].z < 0.5f) CHECK(hip[v] == 1);
        if ((*mesh.positions)[v].z > 1.5f) CHECK(knee[v] == 1);
    }
}

TEST_CASE("flesh: what is wrong with sticks is told, with numbers that cure it", "[flesh][findings]") {
    const auto made = [](const Json& knots, Json settings = Json::object()) {
        return tried({step("s", "sticks", {{"knots", knots}}), step("f", "flesh", std::move(settings))});
    };
    const Tried alone = made({{{"id", 1}, {"at", {0, 0, 0}}}});
    CHECK(alone.finding("f", "no-bone"));
    CHECK(euler(alone.mesh("f")) == 2);
    const Tried swallowed = made({{{"id", 1}, {"at", {0, 0, 0}}, {"girth", 0.5}},
                                  {{"id", 2}, {"from", 1}, {"at", {0, 0, 0.2}}, {"girth", 0.1}},
                                  {{"id", 3}, {"from", 1}, {"at", {2, 0, 0}}, {"girth", 0.1}}});
    CHECK(swallowed.finding("f", "swallowed"));
    CHECK(closed(swallowed.mesh("f")));
    const Tried thin =
        made({{{"id", 1}, {"at", {0, 0, 0}}, {"girth", 0}}, {{"id", 2}, {"from", 1}, {"at", {0, 0, 1}}}});
    CHECK(thin.finding("f", "no-girth"));
    const Tried apart = made({{{"id", 1}, {"at", {0, 0, 0}}}, {{"id", 2}, {"from", 9}, {"at", {0, 0, 1}}}});
    CHECK(apart.finding("s", "bad-value"));
    CHECK(made({{{"id", 1}, {"from", 2}, {"at", {0, 0, 0}}}, {{"id", 2}, {"from", 1}, {"at", {0, 0, 1}}}})
              .finding("s", "doubled-bones"));
    CHECK(
        made({{{"id", 1}, {"at", {0, 0, 0}}}, {{"id", 2}, {"from", 1}, {"at", {0, 0, 0}}}}).finding("f", "no-length"));
    // The angle told for a narrow fork is one that fits.
    const auto fork = [&](double degrees) {
        const double half = degrees * pi / 360;
        return made({{{"id", 1}, {"at", {0, 0, -1}}, {"girth", 0.2}},
                     {{"id", 2}, {"from", 1}, {"at", {0, 0, 0}}, {"girth", 0.2}},
                     {{"id", 3}, {"from", 2}, {"at", {std::sin(half), 0, std::cos(half)}}, {"girth", 0.2}},
                     {{"id", 4}, {"from", 2}, {"at", {-std::sin(half), 0, std::cos(half)}}, {"girth", 0.2}}});
    };
    const Tried narrow = fork(12);
    REQUIRE(narrow.finding("f", "narrow-fork"));
    const std::string text = narrow.finding("f", "narrow-fork")->text;
    const std::size_t at = text.find("from ");
    REQUIRE(at != std::string::npos);
    const int fits = std::stoi(text.substr(at + 5));
    CHECK(fits > 12);
    CHECK_FALSE(fork(fits + 1).finding("f", "narrow-fork"));
}

TEST_CASE("flesh: limbs that run through one another are told, and merged to one when asked", "[flesh][findings]") {
    const Json crossing = {{{"id", 1}, {"at", {0, 0, 0}}, {"girth", 0.1}},
                           {{"id", 2}, {"from", 1}, {"at", {0, 0, 1}}, {"girth", 0.1}},
                           {{"id", 3}, {"from", 2}, {"at", {1, 0, 1}}, {"girth", 0.1}},
                           {{"id", 4}, {"from", 3}, {"at", {1, 0, 0.5}}, {"girth", 0.1}},
                           {{"id", 5}, {"from", 4}, {"at", {-1, 0, 0.5}}, {"girth", 0.08}}};
    const Tried left = tried({step("s", "sticks", {{"knots", crossing}}), step("f", "flesh", {{"near", "leave"}})});
    REQUIRE(left.finding("f", "limbs-meet"));
    CHECK(left.finding("f", "limbs-meet")->severity == Severity::caution);
    CHECK_FALSE(crossing_faces(left.mesh("f"), 1).empty());
    const Tried merged = tried({step("s", "sticks", {{"knots", crossing}}), step("f", "flesh")});
    CHECK(closed(merged.mesh("f")));
    CHECK(crossing_faces(merged.mesh("f"), 1).empty());
    CHECK(euler(merged.mesh("f")) == 0);  // the two limbs and their way back make one ring
    CHECK(merged.mesh("f").skeleton);
}

TEST_CASE("flesh: ten thousand knots and girths from a micrometre to a kilometre are made or refused in words",
          "[flesh][bad]") {
    std::mt19937 chance(1);
    Json knots = Json::array({{{"id", 1}, {"at", {0, 0, 0}}}});
    const int count = sanitized() ? 1000 : 10000;
    for (int i = 2; i <= count; ++i) {
        const auto by = [&] { return static_cast<double>(chance() % 2001) / 1000.0 - 1; };
        const int from = std::max(1, i - 1 - static_cast<int>(chance() % 50));
        const Json& at = knots[static_cast<std::size_t>(from - 1)]["at"];
        const double girths[] = {1e-6, 0.02, 0.05, i % 3000 == 0 ? 1e3 : 0.03};
        knots.push_back({{"id", i},
                         {"from", from},
                         {"at", {at[0].get<double>() + by(), at[1].get<double>() + by(), at[2].get<double>() + by()}},
                         {"girth", girths[chance() % 4]}});
    }
    const Tried t =
        tried({step("s", "sticks", {{"knots", knots}}), step("f", "flesh", {{"rounds", 1}, {"joints", false}})});
    CHECK(closed(t.mesh("f")));
    if (!sanitized()) {
        // With a weight of every point for every joint it would be tens of gigabytes; the advice cures it, as above.
        const Tried heavy = tried({step("s", "sticks", {{"knots", knots}}), step("f", "flesh", {{"rounds", 1}})});
        REQUIRE(heavy.finding("f", "too-many"));
        CHECK(heavy.finding("f", "too-many")->text.find("Switch the joints off") != std::string::npos);
    }
    Json star = Json::array({{{"id", 1}, {"at", {0, 0, 0}}}});
    for (int i = 2; i < 40; ++i) star.push_back({{"id", i}, {"from", 1}, {"at", {std::cos(i), std::sin(i), 0.1 * i}}});
    CHECK(tried({step("s", "sticks", {{"knots", star}}), step("f", "flesh")}).finding("f", "too-many-bones"));
}

TEST_CASE("flesh: a loop of bones becomes a ring", "[flesh]") {
    const Tried t = tried({step("c", "circle", {{"radius", 1}}), step("f", "flesh", {{"girth", 0.1}, {"rounds", 1}})});
    CHECK(t.finding("f", "loop"));
    CHECK(closed(t.mesh("f")));
    CHECK(all_quads(t.mesh("f")));
    CHECK(euler(t.mesh("f")) == 0);
}

TEST_CASE("flesh: a ring of bones that leads back into the ball of its root is closed", "[flesh][bad]") {
    // The root's ball holds two more knots; the way back into it is found before the way within it.
    const Sticks ring = sticks(
        {knot(DVec3(0), 1), knot(DVec3(3, 0, 0), 0.2), knot(DVec3(0.3, 0, 0), 0.1), knot(DVec3(0.3, 0.3, 0), 0.1)},
        {{0, 1}, {0, 2}, {1, 3}, {2, 3}}, {0});
    for (const int rounds : {0, 2}) {
        const Mesh mesh = body(ring, rounds, 0.5);
        CHECK(closed(mesh));
        CHECK(all_quads(mesh));
    }
}

TEST_CASE("flesh: sticks, mirrored, follow what is drawn on one side", "[flesh][steps]") {
    const Json half = {{{"id", 1}, {"at", {0.01, 0, 0}}},
                       {{"id", 2}, {"from", 1}, {"at", {0.5, 0, 1}}, {"girth", 0.04}}};
    const auto made = [&](Json settings) {
        settings["knots"] = half;
        return tried({step("s", "sticks", std::move(settings)), step("f", "flesh", {{"rounds", 1}, {"blend", 0}})});
    };
    const Tried mirrored = made({{"mirror", "x"}});
    CHECK(mirrored.mesh("s").vertex_count() == 3);
    CHECK(mirrored.mesh("s").edge_count() == 2);
    CHECK((*mirrored.mesh("s").positions)[0].x == 0);
    const Box box = *mirrored.part().measures.box;
    CHECK(box.high.x == Approx(-box.low.x));
    CHECK(made({{"mirror", "x"}, {"middle", 0.001}}).finding("s", "two-figures"));
    CHECK(made({{"mirror", "x"}, {"middle", 1}}).finding("s", "all-in-the-middle"));
    CHECK(made({{"mirror", "y"}}).finding("s", "all-in-the-middle"));
    CHECK(tried({step("s", "sticks")}).finding("s", "no-knots"));
}

TEST_CASE("flesh: flat ends lie in a plane, rings and girth do what they say", "[flesh][steps]") {
    const auto made = [](Json knot, Json settings) {
        return tried(
            {step("s", "sticks",
                  {{"knots", {{{"id", 1}, {"at", {0, 0, 0}}, {"girth", 0.2}, {"flat", true}}, std::move(knot)}}}),
             step("f", "flesh", std::move(settings))});
    };
    const Json end = {{"id", 2}, {"from", 1}, {"at", {0, 0, 1}}, {"girth", 0.2}};
    const Tried flat = made(end, {{"rounds", 3}});
    CHECK(flat.part().measures.box->low.z == Approx(0).margin(1e-6));
    CHECK(flat.part().measures.box->size().x == Approx(0.4).epsilon(0.01));
    const double quads = static_cast<double>(made(end, {{"rounds", 0}}).mesh("f").face_count());
    CHECK(made(end, {{"rounds", 0}, {"rings", 3}}).mesh("f").face_count() == Approx(quads + 12));
    CHECK(made(end, {{"rounds", 2}}).mesh("f").face_count() == Approx(16 * quads));
    const Json wide = {{"id", 2}, {"from", 1}, {"at", {0, 0, 1}}, {"girth", {0.4, 0.1}}};
    const Box box = *made(wide, {{"rounds", 3}}).part().measures.box;
    CHECK(box.size().x == Approx(0.8).epsilon(0.03));
    CHECK(box.size().y == Approx(0.4).epsilon(0.03));
    Json rolled = wide;
    rolled["roll"] = 90;
    CHECK(made(rolled, {{"rounds", 3}}).part().measures.box->size().y == Approx(0.8).epsilon(0.03));
    const Tried curve = tried({step("l", "line"), step("f", "flesh", {{"girth", 0.1}})});
    CHECK(measure(curve.mesh("f")).box->size().z < 1.3);
    CHECK(tried({step("b", "box"), step("f", "flesh")}).finding("f", "no-sticks"));
}

TEST_CASE("flesh: a softer blend fills the crotch of a fork", "[flesh][steps]") {
    const auto volume = [](double blend) {
        const Sticks fork = sticks({knot(DVec3(0, 0, -1), 0.2), knot(DVec3(0), 0.2), knot(DVec3(1, 0, 0.6), 0.2),
                                    knot(DVec3(-1, 0, 0.6), 0.2)},
                                   {{0, 1}, {1, 2}, {1, 3}});
        return measure(body(fork, 3, blend)).volume.value();
    };
    CHECK(volume(0.5) > 1.005 * volume(0));
    CHECK(volume(1) > volume(0.5));
}

}  // namespace bricol::test
