// SPDX-License-Identifier: GPL-3.0-or-later
// The Picture tab: cameras and lights by hand, looking through, the finished picture in the view and in files.
#include <QComboBox>
#include <QFileInfo>
#include <QToolButton>

#include "app/picture/picture_panel.h"
#include "app/viewport/shadings.h"
#include "tests/app/room.h"

namespace bricol::test {

namespace {

PicturePanel& open_picture_tab(Room& room) {
    room.key(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
    auto* panel = room.find<PicturePanel>("picturePanel");
    REQUIRE(panel);
    return *panel;
}
Viewport& view(Room& room) { return room.window.viewport(); }
Stage stage(Room& room) {
    room.settle();
    return stage_of(room.recipe(), *room.session().made());
}
/// Middle of a place of space, in the window.
QPoint seen(Room& room, const DVec3& at) { return room.in_window(&view(room), view(room).screen_of(at)); }
/// Waits for a finished picture of so many paths.
QImage still(Room& room, int samples) {
    // A guard against a hang, not a measure: beside other work software pictures have taken twenty seconds.
    REQUIRE(QTest::qWaitFor([&] { return view(room).stills().samples() >= samples; }, 60000));
    return *view(room).stills().picture((QSizeF(view(room).size()) * view(room).devicePixelRatioF()).toSize());
}
double mean_light(const QImage& image) {
    double sum = 0;
    for (int y = 0; y < image.height(); y += 3)
        for (int x = 0; x < image.width(); x += 3) sum += qGray(image.pixel(x, y));
    return sum / ((image.width() / 3) * (image.height() / 3));
}

}  // namespace

TEST_CASE("a camera is taken from the view, looked through and left again", "[app][picture]") {
    Room room(demo_file);
    open_picture_tab(room);
    const DVec3 eye = view(room).camera().eye();
    room.click(room.find<QToolButton>("addCamera"));
    Stage now = stage(room);
    REQUIRE(now.cameras.size() == 1);
    CHECK(now.cameras[0].part == "lights");
    CHECK(glm::distance(now.cameras[0].piece.eye, eye) < 0.01 * glm::length(eye));
    CHECK(room.session().step() == now.cameras[0].step);
    // The shape is what it was: a camera is no shape.
    CHECK(room.part("lights").measures.faces == 0);

    view(room).set_view(View::front);
    CHECK(glm::distance(view(room).camera().eye(), eye) > 0.1);
    room.click(room.find<QToolButton>("throughCamera"));
    REQUIRE(view(room).through());
    CHECK(glm::distance(view(room).camera().eye(), now.cameras[0].piece.eye) < 1e-6);
    // What the camera sees in its frame's corners is what the picture shows there.
    const StageCamera& camera = now.cameras[0].piece;
    const QRectF frame = picture_frame(view(room).size(), 1280.0 / 800);
    const StillRay ray = camera_ray(camera, 1280.0 / 800, {0, 0}, DVec2(0));
    const QPointF corner = view(room).screen_of(ray.from + ray.way * 3.0);
    CHECK(std::abs(corner.x() - frame.left()) < 1.5);
    CHECK(std::abs(corner.y() - frame.top()) < 1.5);
    // Leaning too: the view's corners stay the picture's.
    room.enter("number:roll", "20");
    const StageCamera leaning = stage(room).cameras[0].piece;
    CHECK(leaning.roll == 20);
    for (const DVec2& side : {DVec2(0, 0), DVec2(1, 0), DVec2(1, 1)}) {
        const StillRay at = camera_ray(leaning, 1280.0 / 800, side, DVec2(0));
        const QPointF drawn = view(room).screen_of(at.from + at.way * 3.0);
        CHECK(std::abs(drawn.x() - (frame.left() + side.x * frame.width())) < 1.5);
        CHECK(std::abs(drawn.y() - (frame.top() + side.y * frame.height())) < 1.5);
    }
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.settle();
    // A longer lens by its field: the view follows.
    const double before = view(room).camera().half_angle;
    room.enter("number:focal", "200");
    room.settle();
    CHECK(view(room).camera().half_angle < before * 0.6);
    // Any turn of the view leaves it, and the camera of the recipe stays.
    const QPoint middle = room.middle(&view(room));
    room.drag(middle, middle + QPoint(80, 10), {}, Qt::RightButton);
    CHECK_FALSE(view(room).through());
    CHECK(view(room).camera().half_angle == Camera::usual_half_angle);
    CHECK(stage(room).cameras[0].piece.eye == camera.eye);
    // And the other way round: it stands where the view looks from now.
    room.click(room.find<QPushButton>("fromView"));
    CHECK(glm::distance(stage(room).cameras[0].piece.eye, camera.eye) > 0.05);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(stage(room).cameras[0].piece.eye == camera.eye);
}

TEST_CASE("the sun is pulled round what is shown, and up and down the sky", "[app][picture]") {
    Room room(demo_file);
    open_picture_tab(room);
    room.click(room.find<QToolButton>("addSun"));
    view(room).set_handles(true);
    room.settle();
    const auto box = view(room).shown_box(true);
    REQUIRE(box);
    const auto towards = [&] { return glm::normalize(stage(room).lamps[0].piece.at - stage(room).lamps[0].piece.aim); };
    const auto grip = [&](const char* key) {
        const auto at = view(room).handle_tool().place_of(key);
        REQUIRE(at);
        return *at;
    };
    // Both grips stand round the middle of the shapes: one on the level, one where the light comes from.
    const double up = std::asin(towards().z),
                 radius = glm::distance(grip("above"), grip("bearing")) / (2 * std::sin(up / 2));
    const DVec3 middle = grip("above") - towards() * radius;
    CHECK(glm::distance(middle, box->centre()) < 0.05 * glm::length(box->size()));
    CHECK(grip("bearing").z == Approx(middle.z).margin(1e-6));
    const auto pull = [&](const char* key, const DVec3& to) {
        room.drag(seen(room, grip(key)), seen(room, to), Qt::ControlModifier);
        room.settle();
    };
    // A quarter further round the vertical, from above.
    view(room).set_view(View::top);
    QTest::qWait(400);
    const DVec3 arm = grip("bearing") - middle, before = towards();
    pull("bearing", middle + DVec3(-arm.y, arm.x, 0));
    CHECK(glm::distance(towards(), DVec3(-before.y, before.x, before.z)) < 0.03);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.settle();
    CHECK(glm::distance(towards(), before) < 1e-6);
    // From the side, square to the arc: up to half way to the zenith.
    room.enter("number:bearing", "0");
    view(room).set_view(View::front);
    QTest::qWait(400);
    pull("above", middle + DVec3(std::cos(glm::radians(70.0)), 0, std::sin(glm::radians(70.0))) * radius);
    CHECK(glm::degrees(std::asin(towards().z)) == Approx(70).margin(1.5));
}

TEST_CASE("a lamp is added, pulled by its handle, aimed by a click, and chosen by its outline", "[app][picture]") {
    Room room(demo_file);
    open_picture_tab(room);
    room.click(room.find<QToolButton>("addLamp"));
    const Stage before = stage(room);
    REQUIRE(before.lamps.size() == 1);
    // It gives the middle of what is shown 3 W/m^2.
    const StageLamp lamp = before.lamps[0].piece;
    const double distance = glm::distance(lamp.at, lamp.aim);
    const StepOutcome* outcome = room.session().outcome("lights", before.lamps[0].step);
    REQUIRE(outcome);
    CHECK(outcome->findings.empty());  // no setting that does not apply
    CHECK(lamp.strength == Approx(3 * std::numbers::pi * distance * distance).epsilon(0.01));
    view(room).camera().frame(Box{glm::min(lamp.at, DVec3(-1)), glm::max(lamp.at, DVec3(1))}, 1.5);
    view(room).set_handles(true);
    room.settle();
    const auto grip = view(room).handle_tool().place_of("width");
    REQUIRE(grip);
    CHECK(glm::distance(*grip, lamp.at) == Approx(lamp.width / 2));
    const QPoint from = seen(room, *grip);
    const QPointF way = view(room).screen_of(*grip) - view(room).screen_of(lamp.at);
    room.drag(from, from + way.toPoint());
    // Pulled out by as much again: twice as wide, within what snapping leaves.
    CHECK(stage(room).lamps[0].piece.width == Approx(2 * lamp.width).epsilon(0.1));
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(stage(room).lamps[0].piece.width == Approx(lamp.width));

    room.click(room.find<QPushButton>("aimByClick"));
    CHECK(view(room).asking_spot());
    const auto box = view(room).shown_box(true);
    REQUIRE(box);
    room.click(seen(room, box->centre()));
    CHECK_FALSE(view(room).asking_spot());
    const DVec3 aimed = stage(room).lamps[0].piece.aim;
    CHECK(aimed != lamp.aim);
    for (int i = 0; i < 3; ++i) {
        CHECK(aimed[i] > box->low[i] - 1e-3);
        CHECK(aimed[i] < box->high[i] + 1e-3);
    }
    // Another thing is chosen; a click on the outline's middle chooses the lamp.
    room.session().choose_part(room.recipe().parts[0]->name);
    room.click(seen(room, lamp.at));
    CHECK(room.session().part() == "lights");
    CHECK(room.session().step() == before.lamps[0].step);
}

TEST_CASE("the view refines into a finished picture, and goes back when something moves", "[app][picture]") {
    Room room(demo_file);
    room.window.resize(800, 600);  // each pixel is a few hundred paths here
    open_picture_tab(room);
    room.key(Qt::Key_8, Qt::ControlModifier);
    CHECK(view(room).shading().id == "still");
    const QImage first = still(room, 2);
    CHECK(mean_light(first) > 40);
    // It says how far it is.
    CHECK(view(room).stills().words().contains("paths"));
    const QPoint middle = room.middle(&view(room));
    room.press(middle, {}, Qt::RightButton);
    room.move(middle + QPoint(30, 0), {}, Qt::RightButton);
    CHECK(view(room).stills().samples() == 0);
    room.release(middle + QPoint(30, 0), {}, Qt::RightButton);
    still(room, 2);
    // Set out and all but one switched off: darker. Nothing of the shape is built again for another light.
    room.click(room.find<QPushButton>("setOutLights"));
    CHECK(stage(room).lamps.size() == 3);
    const double lit = mean_light(still(room, 4));
    for (int i = 0; i < 3; ++i) {
        std::vector<QToolButton*> eyes;
        for (auto* eye : room.window.findChildren<QToolButton*>("stageOn"))
            if (eye->isVisible() && eye->isChecked()) eyes.push_back(eye);
        REQUIRE(eyes.size() == static_cast<std::size_t>(4 - i));
        room.click(eyes.front());
    }
    CHECK(stage(room).lamps.empty());
    const double dark = mean_light(still(room, 4));
    CHECK(dark < 0.8 * lit);
    CHECK(view(room).stills().worker().built() <= 1);  // the sheet behind alone
    // One alone, while looking: the recipe does not change.
    for (int i = 0; i < 3; ++i) room.key(Qt::Key_Z, Qt::ControlModifier);
    const Recipe whole = room.recipe();
    REQUIRE(QTest::qWaitFor([&] { return room.find<QToolButton>("lightAlone") != nullptr; }, 2000));
    room.click(room.find<QToolButton>("lightAlone"));
    CHECK(mean_light(still(room, 4)) < lit);
    CHECK(same(whole, room.recipe()));
}

TEST_CASE("what is wrong with the recipe as a whole stands among the findings", "[app][picture]") {
    Room room(demo_file);
    for (int i = 0; i < 2; ++i) {
        open_picture_tab(room);
        room.click(room.find<QToolButton>("addSky"));
        room.settle();
    }
    room.key(Qt::Key_K, Qt::ControlModifier);
    REQUIRE(QTest::qWaitFor([&] { return room.find<QFrame>("finding:second-of-stage") != nullptr; }, 2000));
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.settle();
    REQUIRE(QTest::qWaitFor([&] { return room.find<QFrame>("finding:second-of-stage") == nullptr; }, 2000));
}

TEST_CASE("what glows is bright in the ordinary view too, and a coat shines", "[app][picture]") {
    const auto brightest = [](const char* more) {
        QTemporaryDir folder;
        const QString path = folder.filePath("ball.bricol");
        QFile file(path);
        REQUIRE(file.open(QIODevice::WriteOnly));
        file.write(
            QString(
                R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"s","step":"sphere","radius":0.5,"slices":48,"rings":32},
            {"id":"m","step":"material","kit":"own","colour":[0,0,0],"roughness":1%1}]}]})")
                .arg(more)
                .toUtf8());
        file.close();
        Room room(path);
        room.key(Qt::Key_6, Qt::ControlModifier);
        const QImage image = view(room).picture({200, 200});
        QColor most(0, 0, 0);
        for (int y = 75; y < 125; ++y)
            for (int x = 75; x < 125; ++x)  // the ball is 100 pixels wide
                if (image.pixelColor(x, y).lightness() > most.lightness()) most = image.pixelColor(x, y);
        return most;
    };
    const QColor plain = brightest(""), glowing = brightest(R"(,"glow":2,"glow_colour":[1,0.2,0.05])"),
                 coated = brightest(R"(,"coat":1)");
    CHECK(plain.lightness() < 90);
    CHECK(glowing.red() > 200);
    CHECK(glowing.red() > glowing.blue() + 60);
    CHECK(coated.lightness() > plain.lightness() + 8);
}

TEST_CASE("dark corners are switched by their key, darken creases and leave the ground", "[app][picture]") {
    Room room(QString(SOURCE_FOLDER) + "/demo/capstan.bricol");
    room.key(Qt::Key_1, Qt::ControlModifier);
    if (view(room).occlusion()) room.key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
    const QImage plain = view(room).picture({400, 300});
    room.key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(view(room).occlusion());
    const QImage dark = view(room).picture({400, 300});
    int darker = 0, lighter = 0;
    for (int y = 0; y < 300; ++y)
        for (int x = 0; x < 400; ++x) {
            darker += qGray(dark.pixel(x, y)) < qGray(plain.pixel(x, y)) - 12;
            lighter += qGray(dark.pixel(x, y)) > qGray(plain.pixel(x, y));
        }
    CHECK(darker > 800);  // between whelps and under mouldings
    CHECK(lighter == 0);
    CHECK(dark.pixel(5, 5) == plain.pixel(5, 5));
    room.key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(view(room).picture({400, 300}) == plain);
}

TEST_CASE("a picture and a turntable are taken beside the window", "[app][picture]") {
    Room room(demo_file);
    PicturePanel& panel = open_picture_tab(room);
    room.click(room.find<QToolButton>("addCamera"));
    room.settle();
    REQUIRE(QTest::qWaitFor([&] { return room.find<NumberField>("number:width") != nullptr; }, 2000));
    room.enter("number:width", "96");
    room.enter("number:height", "60");
    room.find<QSpinBox>("samples")->setValue(4);
    const QString file = room.folder.filePath("buoy.png");
    panel.take_picture(file);
    REQUIRE(QTest::qWaitFor([&] { return !panel.job().busy(); }, 20000));
    CHECK(QImage(file).size() == QSize(96, 60));
    // At a size of one's own.
    room.find<QSpinBox>("pictureWidth")->setValue(50);
    room.find<QSpinBox>("pictureHeight")->setValue(20);
    const QString small_file = room.folder.filePath("small.png");
    panel.take_picture(small_file);
    REQUIRE(QTest::qWaitFor([&] { return !panel.job().busy(); }, 20000));
    CHECK(QImage(small_file).size() == QSize(50, 20));
    room.find<QSpinBox>("pictureWidth")->setValue(0);
    room.find<QSpinBox>("pictureHeight")->setValue(0);
    const QString turn = room.folder.filePath("turn.webp");
    panel.take_row(turn, 3);
    REQUIRE(QTest::qWaitFor([&] { return !panel.job().busy(); }, 20000));
    CHECK(QFileInfo(turn).size() > 100);
    // Stopped on the way: the frames that are there stay.
    const QString stopped = room.folder.filePath("long");
    panel.take_row(stopped, 5000);
    REQUIRE(QTest::qWaitFor([&] { return QFileInfo::exists(stopped + "/0002.png"); }, 20000));
    room.click(room.find<QPushButton>("stopPicture"));
    REQUIRE(QTest::qWaitFor([&] { return !panel.job().busy(); }, 5000));
    CHECK(QFileInfo::exists(stopped + "/0000.png"));
    // Where it cannot be written it says so and the window stays.
    panel.take_picture("/proc/nowhere/buoy.png");
    REQUIRE(QTest::qWaitFor([&] { return !panel.job().busy(); }, 20000));
    QTest::qWait(20);
    CHECK(room.find<QLabel>("pictureSeen"));
}

}  // namespace bricol::test
