// SPDX-License-Identifier: GPL-3.0-or-later
// The sheet, the mixer's own sheet, the table, tracing, time and kits, with real mouse and keys; checked by the recipe
// and the shape.
#include <QClipboard>
#include <QComboBox>
#include <QHeaderView>
#include <QLineEdit>

#include "tests/app/on_sheet.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("strip and sheet are one: choice, peek and skip go both ways", "[sheet]") {
    OnSheet room(demo + "rock.bricol");
    room.click(room.on("cut"));
    CHECK(room.session().step() == "cut");
    room.key(Qt::Key_P);
    CHECK(room.session().peek() == "cut");
    room.key(Qt::Key_P);
    room.key(Qt::Key_K);
    room.settle();
    CHECK(room.step("rock", "cut").skipped);
    CHECK(room.part("rock").measures.closed);
    room.click_tab(0);
    room.click(room.card("soften"));
    room.click_tab(1);
    CHECK(room.sheet().chosen() == std::set<std::string>{"soften"});
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK_FALSE(room.step("rock", "cut").skipped);
}

TEST_CASE("cards are moved, one or several, and stay where they were put", "[sheet]") {
    QTemporaryDir folder;
    OnSheet room(small_recipe(folder));
    const QPointF before = room.sheet().card("ball")->rect.topLeft();
    room.drag(room.on("ball"), room.on("ball") + QPoint(60, 40));
    REQUIRE(room.step("p", "ball").at);
    const double zoom = room.sheet().zoom();
    CHECK((*room.step("p", "ball").at)[0] == Approx(before.x() + 60 / zoom).margin(2));
    CHECK((*room.step("p", "ball").at)[1] == Approx(before.y() + 40 / zoom).margin(2));
    // A band round everything, then all of them together.
    room.drag(room.in_window(&room.sheet(), QPoint(3, 3)),
              room.in_window(&room.sheet(), QPoint(room.sheet().width() - 4, room.sheet().height() - 4)));
    CHECK(room.sheet().chosen().size() == 5);
    room.drag(room.on("block"), room.on("block") + QPoint(-20, 30));
    for (const auto& s : room.the_part().steps) CHECK(s->at.has_value());
    // What is saved is opened the same.
    const QString path = folder.filePath("kept.bricol");
    REQUIRE(room.session().save(path));
    CHECK(load_recipe(path.toStdString())->part("p")->steps[2]->at == room.step("p", "ball").at);
    room.key(Qt::Key_T, Qt::ShiftModifier);
    CHECK_FALSE(room.step("p", "ball").at);
}

TEST_CASE("wires are pulled, moved, refused with the reason, and cut", "[sheet]") {
    QTemporaryDir folder;
    OnSheet room(small_recipe(folder));
    // From a tongue to a free notch.
    room.drag(room.out("block"), room.in("both", "and"));
    CHECK(room.source("both", "and") == "block");
    CHECK(room.part("p").measures.pieces == 3);
    // The same wire taken off its notch and put on another.
    room.drag(room.in("both", "and"), room.in("both", "also"));
    CHECK(room.source("both", "and").empty());
    CHECK(room.source("both", "also") == "block");
    // A circle is refused in words; nothing changes.
    const Recipe before = room.recipe();
    room.drag(room.out("both"), room.in("moved", "shape"));
    CHECK(same(before, room.recipe()));
    CHECK(room.said().contains("circle"));
    // Pulled off into the open it is cut.
    room.drag(room.in("both", "also"), room.in("both", "also") + QPoint(30, 70));
    CHECK(room.source("both", "also").empty());
    // A stroke with the right button cuts what it crosses.
    const QPointF a = room.sheet().card("moved")->output_at(), b = room.sheet().card("both")->input_at(0);
    const QPointF middle = (a + b) / 2;
    room.drag(room.on_sheet(middle + QPointF(0, -28)), room.on_sheet(middle + QPointF(0, 12)), {}, Qt::RightButton);
    CHECK(room.source("both", "shape").empty());
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.source("both", "shape") == "moved");
}

TEST_CASE("an input that cannot take a shape says why", "[sheet]") {
    QTemporaryDir folder;
    const QString path = folder.filePath("odd.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(
        R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"path","step":"circle"},{"id":"turned","step":"lathe"},{"id":"block","step":"box"},{"id":"both","step":"merge","in":{"with":"turned"}}]}]})");
    file.close();
    OnSheet room(path);
    const Recipe before = room.recipe();
    room.drag(room.out("block"), room.in("turned", "shape"));
    CHECK(same(before, room.recipe()));
    CHECK(room.said().contains("needs curves"));
    CHECK(room.said().contains("this is a mesh"));
}

TEST_CASE("steps are added at the pointer, from a wire, and between two", "[sheet]") {
    QTemporaryDir folder;
    OnSheet room(small_recipe(folder));
    room.drag(room.on_sheet(room.sheet().card("both")->rect.center()),
              room.on_sheet(room.sheet().card("both")->rect.center() + QPointF(160, 0)));
    room.sheet().fit(false);
    QTest::qWait(20);
    const std::size_t before = room.the_part().steps.size();
    // Into the open from a tongue: the add bar opens there and knows what is pulled.
    room.drag(room.out("both"), room.out("both") + QPoint(30, 60));
    REQUIRE(room.window.pointer_bar().isVisible());
    REQUIRE(room.window.pointer_bar().hasFocus());
    room.type("bend");
    room.key(Qt::Key_Return);
    room.settle();
    REQUIRE(room.the_part().steps.size() == before + 1);
    const std::string bend = room.session().step();
    CHECK(room.step("p", bend).type == "bend");
    CHECK(room.source(bend, "shape") == "both");
    CHECK(result_step(room.the_part())->id == bend);  // it followed the result, and is it now
    // At the pointer, linked to nothing; the result stays.
    room.sheet().setFocus();
    const QPoint free(40, room.sheet().height() - 40);
    const QPointF wanted = room.sheet().to_sheet(free);
    room.move(room.in_window(&room.sheet(), free), {}, Qt::NoButton);
    room.key(Qt::Key_Slash);
    REQUIRE(room.window.pointer_bar().isVisible());
    room.type("cone");
    room.key(Qt::Key_Return);
    room.settle();
    const std::string cone = room.session().step();
    CHECK(room.step("p", cone).type == "cone");
    REQUIRE(room.step("p", cone).at);
    CHECK((*room.step("p", cone).at)[0] == Approx(wanted.x()).margin(3));
    CHECK(result_step(room.the_part())->id == bend);
    CHECK(room.source("moved", "shape") == "block");  // nobody took it for the step before
    // On a wire: in between.
    const QPointF a = room.sheet().card("block")->output_at(), b = room.sheet().card("moved")->input_at(0);
    room.move(room.on_sheet((a + b) / 2), {}, Qt::NoButton);
    room.key(Qt::Key_Slash);
    room.type("twist");
    room.key(Qt::Key_Return);
    room.settle();
    const std::string twist = room.session().step();
    CHECK(room.step("p", twist).type == "twist");
    CHECK(room.source(twist, "shape") == "block");
    CHECK(room.source("moved", "shape") == twist);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.settle();
    CHECK(room.source("moved", "shape") == "block");
    // Escape leaves everything as it is.
    room.key(Qt::Key_Slash);
    room.key(Qt::Key_Escape);
    CHECK_FALSE(room.window.pointer_bar().isVisible());
    CHECK(room.the_part().steps.size() == before + 2);
}

TEST_CASE("a step that takes another part names one at once, from the sheet too", "[sheet]") {
    QTemporaryDir folder;
    const QString path = folder.filePath("two.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(
        R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"block","step":"box"}]},{"name":"post","steps":[{"id":"c","step":"cone"}]}]})");
    file.close();
    OnSheet room(path);
    room.sheet().setFocus();
    room.move(room.in_window(&room.sheet(), QPoint(60, room.sheet().height() - 60)), {}, Qt::NoButton);
    room.key(Qt::Key_Slash);
    REQUIRE(room.window.pointer_bar().isVisible());
    room.type("from part");
    room.key(Qt::Key_Return);
    room.settle();
    const std::string made = room.session().step();
    REQUIRE(room.step("p", made).type == "from_part");
    CHECK(room.step("p", made).settings.value("part", "") == "post");
    CHECK(room.session().outcome("p", made)->shape->mesh.face_count() == room.part("post").shape->mesh.face_count());
}

TEST_CASE("a number block is wired to a number by dropping it on the card", "[sheet]") {
    QTemporaryDir folder;
    const QString path = folder.filePath("numbers.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(
        R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"tall","step":"number","value":3},{"id":"rod","step":"cylinder"},{"id":"ease","step":"ramp","at":0.5,"from":1,"to":2}]}]})");
    file.close();
    OnSheet room(path);
    room.pick([&] { QTimer::singleShot(0, [&] { room.drag(room.out("tall"), room.on("rod")); }); }, "Height");
    room.settle();
    CHECK(room.step("p", "rod").settings["height"] == "= tall.value");
    CHECK(room.part("p").measures.box->high.z == Approx(3));
    // The hair-thin wire shows the same link that the details show.
    const auto& wires = room.sheet().wires();
    CHECK(std::ranges::any_of(wires, [](const GraphView::Wire& w) {
        return w.from == "tall" && w.to == "rod" && w.pen == GraphView::Pen::number;
    }));
    room.pick([&] { QTimer::singleShot(0, [&] { room.drag(room.out("ease"), room.on("rod")); }); }, "Height");
    room.settle();
    CHECK(room.step("p", "rod").settings["height"] == "= ease.value");
    CHECK(room.part("p").measures.box->high.z == Approx(1.5));
}

TEST_CASE("a wire is led through pins", "[sheet]") {
    QTemporaryDir folder;
    OnSheet room(small_recipe(folder));
    room.drag(room.on_sheet(room.sheet().card("both")->rect.center()),
              room.on_sheet(room.sheet().card("both")->rect.center() + QPointF(200, 0)));
    const QPointF a = room.sheet().card("moved")->output_at(), b = room.sheet().card("both")->input_at(0);
    const QPoint at = room.on_sheet({(a.x() + b.x()) / 2 - 40, a.y()});
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, at);
    QTest::qWait(10);
    REQUIRE(room.step("p", "both").via.count("shape") == 1);
    REQUIRE(room.step("p", "both").via.at("shape").size() == 1);
    const auto pin = room.step("p", "both").via.at("shape")[0];
    room.drag(room.on_sheet({pin[0], pin[1]}), room.on_sheet({pin[0], pin[1] + 70}));
    CHECK(room.step("p", "both").via.at("shape")[0][1] == Approx(pin[1] + 70).margin(3));
    const auto now = room.step("p", "both").via.at("shape")[0];
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, room.on_sheet({now[0], now[1]}));
    QTest::qWait(10);
    CHECK(room.step("p", "both").via.empty());
}

TEST_CASE("steps are duplicated, copied to another recipe, and deleted", "[sheet]") {
    QTemporaryDir folder;
    OnSheet room(small_recipe(folder));
    room.click(room.on("block"));
    room.click(room.on("moved"), Qt::ShiftModifier);
    room.key(Qt::Key_D, Qt::ControlModifier);
    room.settle();
    CHECK(room.the_part().steps.size() == 7);
    CHECK(room.source("moved2", "shape") == "block2");
    CHECK(room.step("p", "block2").settings["size"][0] == "= wide");
    CHECK(result_step(room.the_part())->id == "both");
    room.key(Qt::Key_C, Qt::ControlModifier);
    room.key(Qt::Key_Delete);
    CHECK(room.the_part().steps.size() == 5);
    OnSheet other(demo + "rock.bricol");
    other.sheet().setFocus();
    other.key(Qt::Key_V, Qt::ControlModifier);
    other.settle();
    CHECK(find_step(other.the_part(), "moved2"));
    CHECK(other.source("moved2", "shape") == "block2");
    CHECK(other.part("rock").result_step == "turn");
}

TEST_CASE("inputs are swapped by a key", "[sheet]") {
    OnSheet room(demo + "rock.bricol");
    room.click(room.on("cut"));
    room.key(Qt::Key_X);
    room.settle();
    CHECK(room.source("cut", "shape") == "balls");
    CHECK(room.source("cut", "with") == "rough");
    room.key(Qt::Key_X);
    CHECK(room.source("cut", "shape") == "rough");
}

TEST_CASE("steps are packed into a loop from the menu, its numbers turned, and opened again", "[sheet][kits]") {
    QTemporaryDir folder;
    OnSheet room(small_recipe(folder));
    const auto box = *room.part("p").measures.box;
    const double volume = *room.part("p").measures.volume;
    room.click(room.on("moved"));
    room.right_click(room.on("moved"), "Pack into “Again”");
    room.settle();
    const std::string loop = room.session().step();
    CHECK(room.step("p", loop).type == "again");
    // The block goes 2 m to the side in each of three rounds.
    CHECK(room.part("p").measures.box->high.x == Approx(box.high.x + 4).epsilon(1e-5));
    room.enter("number:rounds", "2");
    room.settle();
    CHECK(room.part("p").measures.box->high.x == Approx(box.high.x + 2).epsilon(1e-5));
    CHECK(*room.part("p").measures.volume == Approx(volume).epsilon(1e-5));
    room.key(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
    room.settle();
    CHECK(room.part("p").measures.box->high.x == Approx(box.high.x).epsilon(1e-5));
    CHECK(room.step("p", "moved").type == "transform");
}

TEST_CASE("steps are packed into one, its numbers turned, and opened again", "[sheet][kits]") {
    QTemporaryDir folder;
    OnSheet room(small_recipe(folder));
    const double volume = *room.part("p").measures.volume;
    room.click(room.on("block"));
    room.click(room.on("moved"), Qt::ShiftModifier);
    room.key(Qt::Key_P, Qt::ControlModifier);
    room.settle();
    CHECK(room.the_part().steps.size() == 4);
    CHECK(*room.part("p").measures.volume == Approx(volume));
    const std::string kit = room.session().step();
    REQUIRE(room.step("p", kit).settings["dials"]["wide"] == "= wide");
    room.enter("number:/dials/wide", "1.5");
    room.settle();
    CHECK(*room.part("p").measures.volume == Approx(volume + 0.5));
    // Saved as a kit recipe, the step uses the file, and follows it.
    const QString file = folder.filePath("crate.bricol");
    REQUIRE(room.session().save(folder.filePath("user.bricol")));
    REQUIRE(room.window.save_kit(kit, file));
    room.settle();
    CHECK(room.step("p", kit).settings["kit"] == "crate.bricol");
    CHECK(*room.part("p").measures.volume == Approx(volume + 0.5));
    auto inside = load_recipe(file.toStdString());
    REQUIRE(inside);
    auto taller = set_setting(*inside, "inside", "block", "/size/2", 3);
    REQUIRE(taller);
    REQUIRE_FALSE(save_recipe(*taller, file.toStdString()));
    REQUIRE(QTest::qWaitFor(
        [&] {
            return std::abs(*room.session().made()->part(room.session().made_recipe(), "p")->measures.volume -
                            (volume + 0.5 + 3)) < 1e-4;
        },
        5000));
    // Opened in place: the steps are back.
    room.sheet().setFocus();
    room.click(room.on(kit));
    room.key(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
    room.settle();
    CHECK(room.the_part().steps.size() == 5);
    CHECK(*room.part("p").measures.volume == Approx(volume + 0.5 + 3).margin(1e-4));
}

TEST_CASE("frames stand behind cards and take them along", "[sheet]") {
    QTemporaryDir folder;
    OnSheet room(small_recipe(folder));
    room.click(room.on("block"));
    room.click(room.on("moved"), Qt::ShiftModifier);
    room.key(Qt::Key_F);
    auto* name = room.find<QLineEdit>("sheetName");
    REQUIRE(name);
    room.type("base");
    room.key(Qt::Key_Return);
    REQUIRE(room.the_part().frames.size() == 1);
    CHECK(room.the_part().frames[0].title == "base");
    const SheetFrame frame = room.the_part().frames[0];
    const auto card = *room.step("p", "block").at;
    room.drag(room.on_sheet({frame.at[0] + frame.size[0] - 30, frame.at[1] + 10}),
              room.on_sheet({frame.at[0] + frame.size[0] - 30, frame.at[1] + 90}));
    CHECK(room.the_part().frames[0].at[1] == Approx(frame.at[1] + 80).margin(3));
    CHECK((*room.step("p", "block").at)[1] == Approx(card[1] + 80).margin(3));
}

TEST_CASE("the sheet zooms to the pointer, slides, fits and finds", "[sheet]") {
    OnSheet room(demo + "helmet.bricol");
    const QPoint at = room.on("plug");
    const QPointF there = room.sheet().to_sheet(room.sheet().mapFrom(&room.window, at));
    const double before = room.sheet().zoom();
    for (int i = 0; i < 4; ++i) room.wheel(at, 120);
    CHECK(room.sheet().zoom() > before * 1.5);
    const QPointF now = room.sheet().to_sheet(room.sheet().mapFrom(&room.window, at));
    CHECK(std::hypot(now.x() - there.x(), now.y() - there.y()) < 1);
    room.drag(at, at + QPoint(80, 50), {}, Qt::MiddleButton);
    const QPointF slid = room.sheet().to_sheet(room.sheet().mapFrom(&room.window, at + QPoint(80, 50)));
    CHECK(std::hypot(slid.x() - there.x(), slid.y() - there.y()) < 3);
    room.sheet().setFocus();
    room.key(Qt::Key_F, Qt::ControlModifier);
    REQUIRE(room.find<QLineEdit>("sheetFind"));
    room.type("bevel");
    room.key(Qt::Key_Return);
    CHECK(room.session().step() == "corners");
    const QPoint found = room.sheet().card_view_at("corners");
    CHECK(room.sheet().rect().contains(found));
    room.key(Qt::Key_Escape);
    room.sheet().setFocus();
    room.key(Qt::Key_Home, Qt::ShiftModifier);
    for (const auto& s : room.the_part().steps) CHECK(room.sheet().rect().contains(room.sheet().card_view_at(s->id)));
}

TEST_CASE("a mixer is wired on its own sheet", "[sheet][mixer]") {
    OnSheet room(demo + "fender-wired.bricol");
    const ShapePtr before = room.part("fender").shape;
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, room.on("shrink"));
    QTest::qWait(80);
    BlockGraph& graph = room.window.mixer().graph();
    REQUIRE(graph.isVisible());
    CHECK(graph.cards().size() == 7);
    const auto on = [&](const QPoint& at) { return room.in_window(&graph, at); };
    // The depth block's number, typed.
    room.click(on(graph.card_view_at("depth")));
    auto* field = room.find<QLineEdit>("blockInput:b");
    REQUIRE(field);
    room.click(field);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("0");
    room.key(Qt::Key_Return);
    room.settle();
    CHECK(room.step("fender", "shrink").settings["blocks"][4]["b"] == 0);
    const StepOutcome* flat = room.session().outcome("fender", "shrink");
    CHECK(*flat->shape->mesh.positions == *room.session().outcome("fender", "blur")->shape->mesh.positions);
    // Its wire cut and set again by hand.
    const QPoint in = on(graph.input_view_at("inward", "b"));
    room.drag(in, in + QPoint(0, 60));
    room.settle();
    CHECK_FALSE(room.step("fender", "shrink").settings["blocks"][5].contains("b"));
    room.drag(on(graph.output_view_at("depth")), on(graph.input_view_at("inward", "b")));
    room.settle();
    CHECK(room.step("fender", "shrink").settings["blocks"][5]["b"] == "depth");
    // A circle is refused.
    const Recipe held = room.recipe();
    room.drag(on(graph.output_view_at("inward")), on(graph.input_view_at("share", "a")));
    CHECK(same(held, room.recipe()));
    CHECK(room.said().contains("circle"));
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(*room.part("fender").shape->mesh.positions == *before->mesh.positions);
    auto* back = room.find<QPushButton>("mixerBack");
    room.click(back);
    CHECK(room.sheet().isVisible());
}

TEST_CASE("five hundred cards and eight hundred wires stay live", "[sheet]") {
    QTemporaryDir folder;
    const QString path = folder.filePath("large.bricol");
    Json steps = Json::array();
    for (int i = 0; i < 500; ++i) {
        if (i % 10 == 0) {
            steps.push_back({{"id", "s" + std::to_string(i)}, {"step", "point"}});
            continue;
        }
        Json one{{"id", "s" + std::to_string(i)}, {"step", "merge"}};
        if (i > 20) one["in"] = {{"with", "s" + std::to_string(i - 11)}};
        steps.push_back(one);
    }
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(QByteArray::fromStdString(
        Json{{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", steps}}})}}.dump()));
    file.close();
    OnSheet room(path);
    CHECK(room.sheet().cards().size() == 500);
    CHECK(room.sheet().wires().size() > 800);
    for (const auto& card : room.sheet().cards())
        for (const auto& other : room.sheet().cards())
            if (&card < &other) REQUIRE_FALSE(card.rect.intersects(other.rect));  // a tidy layout covers nothing
}
