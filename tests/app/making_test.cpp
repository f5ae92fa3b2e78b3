// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen of a making that takes long, in the real window: its progress, how far bodies have come, a stop.
#include <QFile>
#include <QLabel>
#include <QTemporaryDir>

#include "app/document/step_edits.h"
#include "app/theme/theme.h"
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("a long making shows progress, can be stopped, and the window goes on", "[app][make]") {
    Room room(demo_file);
    Recipe recipe = room.recipe();
    Step grid, smooth;
    grid.type = "grid";
    grid.settings = {{"across", 420}, {"deep", 420}};
    smooth.type = "subdivide";
    smooth.settings = {{"levels", 2}};
    std::string made;
    recipe = *add_part(recipe, "sea", &made);
    recipe = *insert_step(recipe, made, "", grid);
    recipe = *insert_step(recipe, made, "grid", smooth);
    const auto shown = room.session().made();
    room.session().edit(recipe, "Add the sea");
    REQUIRE(QTest::qWaitFor([&] { return room.find("stop") != nullptr; }, 5000));
    // The line says which step of which part, and its card on the strip has a bar that others have not.
    auto* words = room.window.findChild<QLabel*>("progressText");
    REQUIRE(words);
    REQUIRE(QTest::qWaitFor(
        [&] { return words->text().startsWith("Making “Subdivide” of " + QString::fromStdString(made)); }, 5000));
    room.session().choose(made, "subdivide");
    QTest::qWait(150);
    const QImage strip = room.window.strip().grab().toImage();
    const auto marked = [&](const char* step) {
        const QRect card = room.window.strip().card_rect(step);
        return strip.pixelColor(card.left() + 10, card.bottom() - 4) == theme::color(theme::Role::chosen);
    };
    CHECK(marked("subdivide"));
    CHECK_FALSE(marked("grid"));
    // While it works the window answers: turn the view.
    const double yaw = room.window.viewport().camera().yaw;
    room.drag(room.at(0, 0, 1.9), room.at(0, 0, 1.9) + QPoint(60, 0), {}, Qt::RightButton);
    CHECK(room.window.viewport().camera().yaw != yaw);
    room.click(room.find("stop"));
    CHECK(room.said().contains("Stopped"));
    CHECK(room.session().made() == shown);  // the last finished shape stays
    REQUIRE(QTest::qWaitFor([&] { return !room.session().worker().busy(); }, 20000));
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.settle();
    CHECK(room.recipe().parts.size() == 3);
}

namespace {

/// Two rings of 24 000 faces through one another, and a dial beside them: overlaps are looked for while the hand rests.
QString crossing_rings(const QTemporaryDir& folder) {
    QString path = folder.filePath("rings.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(R"({"bricol": 1, "dials": [{"name": "girth", "value": 0.5, "min": 0.1, "max": 2}], "parts": [
        {"name": "rings", "steps": [
            {"id": "a", "step": "torus", "ring_segments": 240, "tube_segments": 100},
            {"id": "b", "step": "torus", "in": {"shape": ""}, "ring_segments": 240, "tube_segments": 100},
            {"id": "c", "step": "transform", "move": [0.3, 0, 0]},
            {"id": "d", "step": "merge", "in": {"shape": "c", "with": "a"}}]},
        {"name": "block", "steps": [{"id": "k", "step": "box", "size": ["= girth", 1, 1]}]}]})");
    return path;
}

bool overlap_told(Room& room) {
    const PartOutcome* part = room.session().made()->part(room.session().made_recipe(), "rings");
    return part && std::ranges::any_of(part->findings, [](const Finding& f) { return f.code == "overlap"; });
}

}  // namespace

TEST_CASE("what is looked for at rest gives way to the hand, and is told when the hand rests again", "[app][make]") {
    QTemporaryDir folder;
    Room room(crossing_rings(folder));
    room.settle();
    Worker& worker = room.session().worker();
    REQUIRE(room.part("rings").measures.pieces == 2);
    REQUIRE(QTest::qWaitFor([&] { return worker.looking_through(); }, 5000));
    std::vector<double> girths;  // of what comes back, in order
    const auto listening = QObject::connect(&worker, &Worker::made, &room.window,
                                            [&](std::shared_ptr<const Made>, std::shared_ptr<const Recipe> of) {
                                                girths.push_back(of->dial("girth")->value);
                                            });
    room.session().edit(turn_dial(room.session().recipe(), "girth", 0.9), "Turn");
    REQUIRE(QTest::qWaitFor([&] { return !girths.empty(); }, 20000));
    CHECK(girths.front() == Approx(0.9));  // not the look at what was before
    CHECK_FALSE(overlap_told(room));
    CHECK(QTest::qWaitFor([&] { return overlap_told(room); }, 20000));
    QObject::disconnect(listening);
}

TEST_CASE("nothing is looked for while the view is being turned", "[app][make]") {
    QTemporaryDir folder;
    Room room(crossing_rings(folder));
    Worker& worker = room.session().worker();
    Viewport& view = room.window.viewport();
    REQUIRE(QTest::qWaitFor([&] { return worker.looking_through(); }, 5000));
    QPoint at = room.in_window(&view, QPoint(200, 300));
    const double yaw = view.camera().yaw;
    room.press(at, {}, Qt::RightButton);
    const auto turn = [&] {
        at += QPoint(2, 0);
        room.move(at, {}, Qt::RightButton);
    };
    turn();
    REQUIRE(QTest::qWaitFor([&] { return !worker.looking_through(); }, 3000));
    // Longer than the hand has to rest; the last look is not finished and none begins.
    int looks = 0;
    for (int n = 0; n < 40; ++n) {
        turn();
        QTest::qWait(50);
        looks += worker.looking_through();
    }
    CHECK(looks == 0);
    CHECK_FALSE(overlap_told(room));
    room.release(at, {}, Qt::RightButton);
    CHECK(view.camera().yaw != yaw);
    CHECK(QTest::qWaitFor([&] { return overlap_told(room); }, 20000));
}

TEST_CASE("bodies are seen on their way while they settle, over what was made before", "[app][make]") {
    Room room;
    // Lively ones that never come to rest, so that the making lasts, and a few that do.
    const auto pebbles = [](const char* count, const char* bounce) {
        return Json::parse(std::string(R"({"bricol": 1, "dials": [{"name": "time", "value": 0, "min": 0, "max": 30}],
          "parts": [{"name": "heap", "steps": [
            {"id": "stone", "step": "box", "size": [0.1, 0.08, 0.06]},
            {"id": "cloud", "step": "array", "kind": "grid", "counts": [5, 5, )") +
                           count + R"(], "offset": [0.12, 0.11, 0.1]},
            {"id": "high", "step": "transform", "move": [0, 0, 0.5]},
            {"id": "lie", "step": "settle", "stir": 1, "time": "= time",
             "damping": 0, "bounce": )" +
                           bounce + "}]}]}");
    };
    room.open_recipe(pebbles("24", "1"));
    Viewport& view = room.window.viewport();
    QTest::qWait(400);
    const auto before = view.picture({320, 200});
    const auto shown = room.session().made();
    Worker& worker = room.session().worker();
    std::vector<QImage> seen;
    std::vector<double> heights;  // of the drafts' middles
    const auto listening = QObject::connect(&worker, &Worker::drafted, &room.window, [&] {
        const auto drafts = worker.drafts();
        if (drafts.empty()) return;
        CHECK(drafts.size() == 1);
        CHECK(drafts[0].part == "heap");
        CHECK(drafts[0].step == "lie");
        heights.push_back(box_of(*drafts[0].shape)->centre().z);
        seen.push_back(view.picture({320, 200}));
    });
    room.session().edit(turn_dial(room.recipe(), "time", 30), "Turn");
    REQUIRE(QTest::qWaitFor([&] { return seen.size() >= 4; }, 20000));
    CHECK(room.session().made() == shown);  // still what was made before, with the bodies over it
    CHECK(seen.front() != before);
    CHECK(seen[1] != seen[3]);
    CHECK(heights[3] < heights[0]);  // they fall
    // The window answers meanwhile, and stopping takes the bodies away again.
    const double yaw = view.camera().yaw;
    room.drag(room.at(0.3, 0.3, 1), room.at(0.3, 0.3, 1) + QPoint(40, 0), {}, Qt::RightButton);
    CHECK(view.camera().yaw != yaw);
    REQUIRE(QTest::qWaitFor([&] { return room.find("stop") != nullptr; }, 5000));
    room.click(room.find("stop"));
    REQUIRE(QTest::qWaitFor([&] { return !worker.busy(); }, 5000));
    QTest::qWait(50);
    CHECK(worker.drafts().empty());
    CHECK(room.session().made() == shown);
    QObject::disconnect(listening);
    // A little heap comes to its end, and nothing of the way is left over it.
    room.open_recipe(pebbles("2", "0"));
    room.session().edit(turn_dial(room.recipe(), "time", 10), "Turn");
    REQUIRE(QTest::qWaitFor([&] { return room.session().made() && !worker.busy() && worker.drafts().empty(); }, 30000));
    CHECK(box_of(*room.part("heap").shape)->low.z < 0.01);
    QTest::qWait(300);
    const QImage end = view.picture({320, 200});
    QTest::qWait(1500);
    CHECK(view.picture({320, 200}) == end);
}

TEST_CASE("all parts that settle at once are seen on their way", "[app][make]") {
    Room room;
    Json steps = Json::parse(R"([{"id": "stone", "step": "box", "size": [0.1, 0.08, 0.06]},
        {"id": "cloud", "step": "array", "kind": "grid", "counts": [5, 5, 12], "offset": [0.12, 0.11, 0.1]},
        {"id": "high", "step": "transform", "move": [0, 0, 0.5]},
        {"id": "lie", "step": "settle", "stir": 1, "time": "= time", "damping": 0, "bounce": 1}])");
    Json parts = Json::array({{{"name", "near"}, {"steps", steps}}});
    steps[2]["move"] = Json::array({3, 0, 0.5});
    parts.push_back({{"name", "far"}, {"steps", steps}});
    room.open_recipe({{"bricol", 1},
                      {"dials", Json::array({{{"name", "time"}, {"value", 0}, {"min", 0}, {"max", 30}}})},
                      {"parts", parts}});
    Worker& worker = room.session().worker();
    room.session().edit(turn_dial(room.recipe(), "time", 30), "Turn");
    REQUIRE(QTest::qWaitFor([&] { return worker.drafts().size() == 2; }, 30000));
    std::set<std::string> names;
    for (const MakeDraft& draft : worker.drafts()) names.insert(draft.part);
    CHECK(names == std::set<std::string>{"far", "near"});
    room.click(room.find("stop"));
    REQUIRE(QTest::qWaitFor([&] { return !worker.busy() && worker.drafts().empty(); }, 5000));
}
