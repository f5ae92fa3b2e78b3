// SPDX-License-Identifier: GPL-3.0-or-later
// Picking elements, pulling them, and the handles of steps, with real mouse and keys; checked by the shape that comes
// of it.
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A block of 3 x 3 x 3 faces a side, 1 m, standing on the ground, then the step under test.
QString block_recipe(const QTemporaryDir& folder, const std::string& step) {
    const QString path = folder.filePath("block.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(QByteArray::fromStdString(
        R"({"bricol":1,"unit":"mm","parts":[{"name":"block","steps":[{"id":"box","step":"box","size":[1,1,1],"along_x":3,"along_y":3,"along_z":3},)" +
        step + "]}]}"));
    return path;
}

struct Block {
    Room room;
    QTemporaryDir folder;
    std::string id;

    Block(const std::string& name, const std::string& step) : id(name) {
        REQUIRE(room.window.open(block_recipe(folder, step)));
        room.settle();
        room.click(room.card(id));
        INFO("part " << room.session().part() << " step " << room.session().step() << " said "
                     << room.said().toStdString());
        REQUIRE(room.session().step() == id);
        look_front();
    }
    void look_front() {
        room.key(Qt::Key_F5);
        room.key(Qt::Key_Home, Qt::ShiftModifier);
        QTest::qWait(30);
    }
    PickTool& picks() { return room.window.viewport().pick_tool(); }
    void start_picking() {
        auto* on = room.find<QToolButton>("pickOn");
        REQUIRE(on);
        if (!picks().picking()) room.click(on);
        REQUIRE(picks().picking());
        look_front();
    }
    /// Middle of the front side's face in column i, row j.
    QPoint front(int i, int j) { return room.at(-0.5 + (i + 0.5) / 3, -0.5, (j + 0.5) / 3); }
    std::size_t set_size(const std::string& name) {
        room.settle();
        const Mesh& mesh = room.part("block").shape->mesh;
        for (const SetInfo& set : sets_of(mesh))
            if (set.name == name) return set.size;
        return 0;
    }
    std::size_t written() {
        const Step& step = room.step("block", id);
        for (const char* key : {"places", "points"})
            if (step.settings.contains(key)) return step.settings[key].size();
        return 0;
    }
};

const char* choose_faces = R"({"id":"pick","step":"choose","set":"mine","what":"faces"})";

}  // namespace

TEST_CASE("faces are picked by click, added and taken away", "[app][pick]") {
    Block block("pick", choose_faces);
    block.start_picking();
    block.room.click(block.front(1, 1));
    CHECK(block.set_size("mine") == 1);
    block.room.click(block.front(0, 1));  // a plain click starts anew
    CHECK(block.set_size("mine") == 1);
    block.room.click(block.front(2, 1), Qt::ShiftModifier);
    CHECK(block.set_size("mine") == 2);
    block.room.click(block.front(0, 1), Qt::ControlModifier);
    CHECK(block.set_size("mine") == 1);
    // The picked face is the one that was clicked: front side, right column, middle row.
    const Mesh& mesh = block.room.part("block").shape->mesh;
    const Mask mask = *set_members(mesh, Domain::face, "mine");
    for (Index f = 0; f < mask.size(); ++f)
        if (mask[f]) CHECK(glm::distance(middle_of(mesh, Domain::face, f), DVec3(1.0 / 3, -0.5, 0.5)) < 1e-6);
    block.room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(block.set_size("mine") == 2);
    // Clicking beside the block lets go of everything.
    block.room.click(block.room.at(0.72, -0.5, 0.5));
    CHECK(block.written() == 0);
}

TEST_CASE("a box, a lasso and the brush pick what they cover, hidden faces only when asked", "[app][pick]") {
    Block block("pick", choose_faces);
    block.start_picking();
    const QPoint low = block.room.at(-0.56, -0.5, -0.05), high = block.room.at(0.7, -0.5, 1.05);
    block.room.drag(low, high);
    CHECK(block.set_size("mine") == 9);  // the front side only
    block.room.key(Qt::Key_T);
    CHECK(block.picks().see_through());
    block.room.drag(low, high);
    CHECK(block.set_size("mine") == 54);  // all six sides
    block.room.key(Qt::Key_T);

    SECTION("lasso") {
        block.room.click(block.room.find<QToolButton>("pickLasso"));
        // A triangle round the lower left six faces' middles.
        const QPoint a = block.room.at(-0.56, -0.5, -0.06), b = block.room.at(0.75, -0.5, -0.06),
                     c = block.room.at(-0.56, -0.5, 1.06);
        block.room.press(a);
        for (const auto& [from, to] : {std::pair{a, b}, {b, c}})
            for (int i = 1; i <= 6; ++i) block.room.move(from + (to - from) * i / 6);
        block.room.release(c);
        CHECK(block.set_size("mine") == 6);
    }
    SECTION("brush") {
        block.room.key(Qt::Key_Delete);
        CHECK(block.written() == 0);
        CHECK(block.room.recipe().part("block")->steps.size() == 2);  // the step is still there
        block.room.key(Qt::Key_I);
        block.room.drag(block.front(0, 2), block.front(2, 2));
        CHECK(block.set_size("mine") == 3);
        block.room.drag(block.front(1, 2), block.front(1, 0));
        CHECK(block.set_size("mine") == 5);
        block.room.key(Qt::Key_Z, Qt::ControlModifier);  // one stroke, one undo
        CHECK(block.set_size("mine") == 3);
    }
}

TEST_CASE("loops, rings, rows and faces that look alike", "[app][pick]") {
    Block block("pick", R"({"id":"pick","step":"choose","set":"mine","what":"edges"})");
    block.start_picking();
    block.room.key(Qt::Key_2);
    REQUIRE(block.picks().kind() == Domain::edge);
    // The upright edge between the first two columns, middle row.
    const QPoint edge = block.room.at(-0.5 + 1.0 / 3, -0.5, 0.5);
    block.room.click(edge);
    CHECK(block.set_size("mine") == 1);
    block.room.click(block.room.find<QToolButton>("pickLoop"));
    CHECK(block.set_size("mine") == 12);  // over the top, down the back and under
    block.room.click(edge);
    block.room.click(block.room.find<QToolButton>("pickRing"));
    CHECK(block.set_size("mine") == 12);  // sideways round all four sides
    QTest::mouseDClick(block.room.handle(), Qt::LeftButton, {}, edge);
    CHECK(block.set_size("mine") == 12);

    block.room.key(Qt::Key_3);
    block.room.click(block.front(1, 1));
    block.room.click(block.room.find<QToolButton>("pickAlike"));
    CHECK(block.written() == 9);
    block.room.click(block.front(1, 1));
    block.room.click(block.room.find<QToolButton>("pickGrow"));
    CHECK(block.written() == 5);
    block.room.click(block.room.find<QToolButton>("pickShrink"));
    CHECK(block.written() == 1);
}

TEST_CASE("picks are found again when the mesh above changes, and the lost ones reported", "[app][pick]") {
    Block block("pick", choose_faces);
    block.start_picking();
    block.room.click(block.front(2, 2));
    REQUIRE(block.set_size("mine") == 1);
    block.room.key(Qt::Key_Escape);
    block.room.click(block.room.card("box"));
    block.room.enter("number:size.x", "1500");  // wider: the pick goes along by its share of the box
    const Mesh& wide = block.room.part("block").shape->mesh;
    REQUIRE(block.set_size("mine") == 1);
    const Mask mask = *set_members(wide, Domain::face, "mine");
    for (Index f = 0; f < mask.size(); ++f)
        if (mask[f]) CHECK(middle_of(wide, Domain::face, f).x == Approx(0.5).margin(1e-6));
    for (const char* along : {"number:along_x", "number:along_y", "number:along_z"})
        block.room.enter(along, "1");  // no small faces any more
    block.room.enter("number:size.z", "200");
    block.room.settle();
    const StepOutcome* outcome = block.room.session().outcome("block", "pick");
    REQUIRE(outcome);
    CHECK(std::ranges::any_of(outcome->findings, [](const Finding& f) { return f.code == "lost-places"; }));
    CHECK(block.set_size("mine") == 0);
}

TEST_CASE("what is picked is pulled by its arrows, and figures finish the pull", "[app][pick]") {
    Block block("nudge", R"({"id":"nudge","step":"nudge"})");
    block.start_picking();
    block.room.key(Qt::Key_3);
    block.room.click(block.room.at(-1.0 / 3, -0.5, 5.0 / 6));
    CHECK(block.written() == 1);
    // The upward arrow starts at the middle of the face.
    const QPoint middle = block.room.at(-1.0 / 3, -0.5, 5.0 / 6);
    block.room.drag(middle - QPoint(0, 30), middle - QPoint(0, 90));
    const DVec3 high = block.room.part("block").measures.box->high;
    CHECK(high.z > 1.05);
    CHECK(high.x == Approx(0.5));
    block.room.type("250");  // millimetres, as the recipe shows them
    block.room.key(Qt::Key_Return);
    CHECK(block.room.part("block").measures.box->high.z == Approx(1.25));
    CHECK(block.room.part("block").measures.closed);
    block.room.key(Qt::Key_Z, Qt::ControlModifier);
    block.room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(block.room.part("block").measures.box->high.z == Approx(1));
    CHECK(block.written() == 1);  // the pick itself is an edit of its own
    // The soft radius takes the neighbourhood along.
    block.room.drag(middle - QPoint(0, 30), middle - QPoint(0, 90));
    const double hard = *block.room.part("block").measures.volume;
    block.room.enter("number:soft", "700");
    CHECK(*block.room.part("block").measures.volume > hard + 1e-3);
}

TEST_CASE("a cage point pulls the shape", "[app][pick]") {
    Block block("cage", R"({"id":"cage","step":"lattice"})");
    const QPoint corner = block.room.at(0.5, -0.5, 1);
    block.room.drag(corner, corner + QPoint(40, -30));
    CHECK(block.written() == 1);
    const DVec3 high = block.room.part("block").measures.box->high;
    CHECK(high.x > 0.52);
    CHECK(high.z > 1.01);
}

TEST_CASE("handles pull the numbers of the chosen step", "[app][handles]") {
    SECTION("a cut") {
        Block block("cut", R"({"id":"cut","step":"slice","at":0.5,"keep":"below"})");
        CHECK(block.room.part("block").measures.box->high.z == Approx(0.5));
        const auto at = block.room.window.viewport().handle_tool().place_of("at");
        REQUIRE(at);
        const QPoint from = block.room.at(at->x, at->y, at->z);
        block.room.drag(from, block.room.at(at->x, at->y, 0.8));
        const double pulled = block.room.part("block").measures.box->high.z;
        CHECK(pulled == Approx(0.8).margin(0.02));
        CHECK(block.room.step("block", "cut").settings["at"].get<double>() == Approx(pulled));
        block.room.type("300");
        block.room.key(Qt::Key_Return);
        CHECK(block.room.part("block").measures.box->high.z == Approx(0.3));
        CHECK(block.room.session().history().undo_name() == "Pull at");
    }
    SECTION("an angle, past its formula") {
        Block block("bend", R"({"id":"bend","step":"bend","angle":"= 60","axis":"z","toward":"x"})");
        const auto at = block.room.window.viewport().handle_tool().place_of("angle");
        REQUIRE(at);
        const DVec3 centre = block.room.part("block").measures.box->centre(), arm = *at - centre;
        const double more = glm::radians(30.0);
        // Pulled 30 degrees further round the axis across z and x, which is y.
        const DVec3 axis(0, 1, 0), to = arm * std::cos(more) + glm::cross(axis, arm) * std::sin(more) +
                                        axis * glm::dot(axis, arm) * (1 - std::cos(more));
        block.room.drag(block.room.at(at->x, at->y, at->z),
                        block.room.at(centre.x + to.x, centre.y + to.y, centre.z + to.z));
        CHECK(block.room.step("block", "bend").settings["angle"] == "= 60 + 30");
    }
    SECTION("a move, and Escape") {
        Block block("move", R"({"id":"move","step":"transform"})");
        const auto at = block.room.window.viewport().handle_tool().place_of("move");
        REQUIRE(at);
        const QPoint from = block.room.at(at->x, at->y, at->z);
        block.room.press(from + QPoint(30, 0));
        block.room.move(from + QPoint(60, 0));
        block.room.move(from + QPoint(90, 0));
        QTest::qWait(20);
        CHECK(block.room.part("block").measures.box->high.x > 0.55);
        CHECK(block.room.part("block").measures.box->high.z == Approx(1));  // along the arrow only
        block.room.key(Qt::Key_Escape);
        block.room.release(from + QPoint(90, 0));
        CHECK(block.room.part("block").measures.box->high.x == Approx(0.5));
    }
    SECTION("a soft radius, from the picked place, seen as rings") {
        Block block("n", R"({"id":"n","step":"nudge","places":[{"face":[0,0,1],"facing":[0,0,1],"move":[0,0,0.5]}]})");
        Room& room = block.room;
        CHECK(*room.part("block").measures.volume > 1);
        const double hard = room.part("block").measures.box->high.z;
        const QImage before = room.window.viewport().grab().toImage();
        const auto knob = room.window.viewport().handle_tool().place_of("soft");
        REQUIRE(knob);
        // Aslant, so that it does not lie on an arrow.
        const DVec3 out = glm::normalize(DVec3(1, -1, 0)), to = *knob + 0.6 * out;
        CHECK(glm::length(glm::cross(*knob - DVec3(0, 0, 1.5), out)) < 1e-6);
        room.drag(room.at(knob->x, knob->y, knob->z), room.at(to.x, to.y, to.z));
        const double soft = room.step("block", "n").settings["soft"].get<double>();
        CHECK(soft ==
              Approx(glm::dot(to - DVec3(0, 0, 1.5), out)).margin(0.03));  // the picked place is over the origin
        // The row below the lid followed by its share, the lid stayed where it was.
        CHECK(room.part("block").measures.box->high.z == Approx(hard));
        double third = 0;
        for (const Vec3& p : *room.part("block").shape->mesh.positions)
            if (std::abs(p.x) < 0.51f && p.z > 0.6f && p.z < 1.2f) third = std::max<double>(third, p.z);
        CHECK(third > 2.0 / 3 + 0.01);
        // The ring of the reach is drawn in the view.
        const DVec3 right = room.window.viewport().camera().right();
        const QPoint ring =
            room.window.viewport().mapFrom(&room.window, room.at(right.x * soft, right.y * soft, 1.5 + right.z * soft));
        const QImage now = room.window.viewport().grab().toImage();
        int changed = 0;
        for (int dx = -3; dx <= 3; ++dx)
            for (int dy = -3; dy <= 3; ++dy) {
                const QPoint p = ring + QPoint(dx, dy);
                if (now.rect().contains(p) && before.rect().contains(p)) changed += now.pixel(p) != before.pixel(p);
            }
        CHECK(changed > 3);
    }
    SECTION("hidden handles are not in the way") {
        Block block("move", R"({"id":"move","step":"transform"})");
        const auto at = block.room.window.viewport().handle_tool().place_of("move");
        REQUIRE(at);
        const QPoint from = block.room.at(at->x, at->y, at->z);
        block.room.key(Qt::Key_H);
        block.room.drag(from + QPoint(30, 0), from + QPoint(90, 0));
        CHECK(block.room.part("block").measures.box->high.x == Approx(0.5));
    }
}

TEST_CASE("a click on a part chooses it", "[app][pick]") {
    Room room(QString(SOURCE_FOLDER) + "/demo/winch.bricol");
    room.session().choose_part("base");
    room.key(Qt::Key_F8);
    room.key(Qt::Key_Home, Qt::ShiftModifier);
    QTest::qWait(30);
    room.session().choose("base", "plate");
    room.click(room.at(0.2, -0.28, 0.03));
    CHECK(room.session().part() == "base");
    const Box box = *box_of(*room.part("hoist_rope").shape);
    room.key(Qt::Key_F7);  // from above the rope on the barrel lies open between the cheeks
    room.key(Qt::Key_Home, Qt::ShiftModifier);
    QTest::qWait(30);
    room.session().choose("cap", "metal");
    room.click(room.at(box.centre().x, box.centre().y, box.high.z));
    CHECK(room.session().part() == "hoist_rope");
}

TEST_CASE("sets are offered by name and an unknown one is mended by its button", "[app][sets]") {
    Block block(
        "wall",
        R"({"id":"top","step":"choose","set":"lid","what":"faces","rule":"facing"},{"id":"wall","step":"extrude","only":"lidd"})");
    block.room.settle();
    const StepOutcome* outcome = block.room.session().outcome("block", "wall");
    REQUIRE(outcome);
    REQUIRE_FALSE(outcome->findings.empty());
    CHECK(outcome->findings[0].code == "unknown-set");
    QPushButton* mend = nullptr;
    for (QPushButton* button : block.room.window.findChildren<QPushButton*>())
        if (button->isVisible() && button->text().contains("lid")) mend = button;
    REQUIRE(mend);
    block.room.click(mend);
    CHECK(block.room.step("block", "wall").settings["only"] == "lid");
    CHECK(block.room.part("block").measures.box->high.z == Approx(1.1));
}
