// SPDX-License-Identifier: GPL-3.0-or-later
// Values in the table and as colours, a spot traced to its steps, frames in time: by real mouse and key events.
#include <QClipboard>
#include <QComboBox>
#include <QHeaderView>
#include <QLineEdit>

#include "tests/app/on_sheet.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("the table lists values, sorts, filters by set, and copies", "[table]") {
    OnSheet room(demo + "fender.bricol");
    room.session().choose("fender", "blur");
    room.click_tab(2);
    room.settle();
    AttributeModel& model = room.window.table().model();
    const Mesh& mesh = room.session().outcome("fender", "blur")->shape->mesh;
    CHECK(model.rowCount() == static_cast<int>(mesh.vertex_count()));
    int weight = 0;
    for (int c = 0; c < model.columnCount(); ++c)
        if (model.headerData(c, Qt::Horizontal).toString() == "weight") weight = c;
    REQUIRE(weight > 0);
    const auto& values = *mesh.attributes.values<float>(Domain::vertex, "weight");
    // A click on the head sorts; a second one the other way round.
    QTableView& view = room.window.table().view();
    view.horizontalHeader()->resizeSections(QHeaderView::ResizeToContents);
    const QPoint head =
        room.in_window(view.horizontalHeader()->viewport(), QPoint(view.columnViewportPosition(weight) + 8, 8));
    room.click(head);
    room.click(head);
    const float most = *std::ranges::max_element(values);
    CHECK(model.value(model.element(0), weight) == Approx(static_cast<double>(most)));
    // Only a set.
    auto* set = room.find<QComboBox>("tableSet");
    set->setCurrentIndex(set->findData("stained"));
    emit set->activated(set->currentIndex());
    const auto members_found = set_members(mesh, Domain::vertex, "stained");
    REQUIRE(members_found);
    const Mask& members = *members_found;
    const std::size_t stained = count_of(members);
    CHECK(model.rowCount() == static_cast<int>(stained));
    double sum = 0;
    for (std::size_t i = 0; i < members.size(); ++i)
        if (members[i]) sum += static_cast<double>(values[i]);
    CHECK(model.statistics(weight).contains("mean " + QString::number(sum / static_cast<double>(stained), 'g', 5)));
    room.click(room.find<QPushButton>("tableCopy"));
    const QStringList lines = QApplication::clipboard()->text().split('\n', Qt::SkipEmptyParts);
    CHECK(lines.size() == static_cast<int>(stained) + 1);
    CHECK(lines[0].contains("weight"));
    // From the view back to the row.
    room.session().set_peek("");
    room.session().choose("fender", "smooth_out");
    room.settle();
    room.key(Qt::Key_F5);
    room.window.viewport().frame_all();
    QTest::qWait(50);
    room.click(room.at(0, -0.095, 0.52));
    CHECK(model.domain() == Domain::face);
    REQUIRE(view.currentIndex().isValid());
    const Vec3 there = model.place(model.element(view.currentIndex().row()));
    INFO(there.x << " " << there.y << " " << there.z);
    CHECK(glm::distance(there, Vec3(0, -0.19f, 0.52f)) < 0.05f);
    room.session().choose("fender", "blur");
    auto* kinds = room.find<QComboBox>("tableDomain");
    kinds->setCurrentIndex(kinds->findData(static_cast<int>(Domain::vertex)));
    // Another kind of element, and the whole.
    set->setCurrentIndex(0);
    emit set->activated(0);
    auto* domain = room.find<QComboBox>("tableDomain");
    domain->setCurrentIndex(domain->findData(static_cast<int>(Domain::edge)));
    CHECK(model.rowCount() == static_cast<int>(mesh.edge_count()));
    domain->setCurrentIndex(domain->findData(static_cast<int>(Domain::whole)));
    CHECK(model.data(model.index(0, 1)).toString() == QString::number(mesh.vertex_count()));
}

TEST_CASE("a set of knots is listed in the table and chosen where a step asks for one", "[table][knots]") {
    OnSheet room(demo + "fender.bricol");
    room.open_recipe(Json::parse(R"({"bricol": 1, "parts": [{"name": "p", "steps": [
        {"id": "r", "step": "rectangle", "width": 2, "height": 1},
        {"id": "tips", "step": "choose", "set": "tips", "what": "knots", "rule": "nth"},
        {"id": "soft", "step": "fillet", "radius": 0.1}]}]})"));
    room.session().choose("p", "tips");
    room.click_tab(2);
    room.settle();
    auto* domain = room.find<QComboBox>("tableDomain");
    domain->setCurrentIndex(domain->findData(static_cast<int>(Domain::knot)));
    emit domain->activated(domain->currentIndex());
    AttributeModel& model = room.window.table().model();
    REQUIRE(model.rowCount() == 4);
    int member = 0, fillet = 0;
    for (int c = 0; c < model.columnCount(); ++c) {
        const QString head = model.headerData(c, Qt::Horizontal).toString();
        if (head == "tips") member = c;
        if (head == "fillet") fillet = c;
    }
    REQUIRE(member > 0);
    CHECK(model.data(model.index(0, member)).toString() == "yes");
    CHECK(model.data(model.index(1, member)).toString() != "yes");
    auto* set = room.find<QComboBox>("tableSet");
    REQUIRE(set->findData("tips") > 0);
    set->setCurrentIndex(set->findData("tips"));
    emit set->activated(set->currentIndex());
    CHECK(model.rowCount() == 2);
    // The list of sets at the fillet offers it; with it two corners of four are rounded.
    room.session().choose("p", "soft");
    room.settle();
    auto* only = room.find<QComboBox>("set:only");
    REQUIRE(only);
    REQUIRE(only->findData("tips") > 0);
    only->setCurrentIndex(only->findData("tips"));
    emit only->activated(only->currentIndex());
    room.settle();
    const auto& knots = room.session().outcome("p", "soft")->shape->curves[0].knots;
    CHECK(std::ranges::count_if(knots, [](const Knot& knot) { return knot.fillet > 0; }) == 2);
    // The table follows: the two that are listed are the rounded ones.
    REQUIRE(fillet > 0);
    REQUIRE(model.rowCount() == 2);
    for (int row = 0; row < 2; ++row) CHECK(model.value(model.element(row), fillet) == Approx(0.1));
}

TEST_CASE("a formula row is typed in the details", "[details]") {
    OnSheet room(demo + "fender.bricol");
    room.click(room.on("shrink"));
    QTest::qWait(30);
    auto* formula = room.find<QLineEdit>("cell:rows:2:1");
    REQUIRE(formula);
    room.click(formula);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("z + 0.5");
    room.key(Qt::Key_Return);
    room.settle();
    CHECK(room.step("fender", "shrink").settings["rows"][2]["formula"] == "z + 0.5");
    float low = 1e9f;
    for (const Vec3& p : *room.part("fender").shape->mesh.positions) low = std::min(low, p.z);
    CHECK(low > 0.4f);
    room.click(room.find<QPushButton>("addRow:rows"));
    CHECK(room.step("fender", "shrink").settings["rows"].size() == 4);
    room.click(room.find<QToolButton>("removeRow:rows:3"));
    CHECK(room.step("fender", "shrink").settings["rows"].size() == 3);
}

TEST_CASE("an attribute is seen as colours", "[view]") {
    OnSheet room(demo + "fender.bricol");
    room.session().choose("fender", "blur");
    room.session().set_peek("blur");
    room.click_tab(0);
    room.window.viewport().frame_all();
    room.settle();
    room.key(Qt::Key_5);
    room.key(Qt::Key_F5);
    room.key(Qt::Key_7, Qt::ControlModifier);
    QTest::qWait(300);
    CHECK(room.window.viewport().shading().id == "attribute");
    CHECK(room.window.viewport().overlay().name == "weight");
    const QImage picture = room.window.viewport().grab().toImage();
    const auto pixel = [&](double x, double y, double z) {
        return QColor(picture.pixel(room.window.viewport().screen_of({x, y, z}).toPoint()));
    };
    const QColor wet = pixel(0, -0.095, 0.095), dry = pixel(0, -0.095, 0.525);
    CHECK(wet.lightness() > dry.lightness() + 90);  // the scale rises in lightness from 0 to 1
}

TEST_CASE("a click traces a spot to its steps", "[trace]") {
    OnSheet room(demo + "quay-racks.bricol");
    room.click_tab(0);
    room.window.viewport().frame_all();
    room.settle();
    room.key(Qt::Key_L, Qt::ControlModifier);
    REQUIRE(room.window.viewport().tracing());
    // The tall rack's top, seen from above.
    room.key(Qt::Key_F7);
    QTest::qWait(50);
    room.click(room.at(0.22, 0, 2.12));
    REQUIRE_FALSE(room.window.trace_panel().found().steps.empty());
    std::vector<std::string> ids;
    for (const TracedStep& s : room.window.trace_panel().found().steps) ids.push_back(s.step);
    CHECK(std::ranges::find(ids, "tall") != ids.end());
    CHECK(std::ranges::find(ids, "tall_at") != ids.end());
    CHECK(std::ranges::find(ids, "low") == ids.end());
    REQUIRE(QTest::qWaitFor([&] { return !room.window.trace_panel().found().numbers.empty(); }, 8000));
    bool gap = false, askew = false;
    for (const TracedNumber& n : room.window.trace_panel().found().numbers)
        gap |= n.name == "gap", askew |= n.name == "askew";
    CHECK(gap);          // moves the tall rack
    CHECK_FALSE(askew);  // turns the small one only
    room.key(Qt::Key_Escape);
    CHECK_FALSE(room.window.viewport().tracing());
}

TEST_CASE("a click traces a spot among triangles smaller than a pixel", "[trace]") {
    OnSheet room(demo + "rock.bricol");
    room.click_tab(0);
    room.key(Qt::Key_F8);
    room.window.viewport().frame_all();
    room.settle();
    room.key(Qt::Key_L, Qt::ControlModifier);
    room.click(room.in_window(&room.window.viewport(), QRect(QPoint(0, 0), room.window.viewport().size()).center()));
    REQUIRE_FALSE(room.window.trace_panel().found().steps.empty());
    CHECK(std::ranges::any_of(room.window.trace_panel().found().steps,
                              [](const TracedStep& s) { return s.step == "fine"; }));
}

TEST_CASE("frames turn a shape once round, play, and are written as pictures", "[time]") {
    QTemporaryDir folder;
    const QString path = folder.filePath("turn.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(
        R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"b","step":"box","size":[1,2,1]},{"id":"t","step":"transform","turn":[0,0,"= frame"]}]}]})");
    file.close();
    Room room(path);
    room.key(Qt::Key_T, Qt::ControlModifier);
    TimeBar& time = room.window.time_bar();
    REQUIRE(time.isVisible());
    time.set_range(0, 359);
    const auto at = [&](int frame) {
        time.set_frame(frame);
        REQUIRE(QTest::qWaitFor([&] { return !room.session().worker().busy() && room.session().made(); }, 3000));
        QTest::qWait(30);
        float most = 0;
        for (const Vec3& p : *room.session().made()->parts[0]->shape->mesh.positions) most = std::max(most, p.x);
        return most;
    };
    CHECK(at(0) == Approx(0.5f));
    CHECK(at(90) == Approx(1.0f));
    CHECK(at(45) == Approx(std::sqrt(0.5f) * 1.5f));
    time.set_range(0, 3);
    time.set_frame(0);
    auto* play = room.find<QPushButton>("play");
    room.click(play);
    CHECK(time.playing());
    std::set<int> seen;
    REQUIRE(QTest::qWaitFor(
        [&] {
            seen.insert(time.frame());
            return seen.size() == 4 && time.frame() == 0;
        },
        5000));  // all of them, and round again
    room.click(play);
    CHECK_FALSE(time.playing());
    int done = -1;
    QObject::connect(&time, &TimeBar::picturesDone, [&](int n) { done = n; });
    time.set_range(0, 90);
    time.set_range(88, 91);
    time.write_pictures(folder.path(), "spin", QSize(320, 240));
    REQUIRE(QTest::qWaitFor([&] { return done == 4; }, 10000));
    const QImage first(folder.filePath("spin-0088.png")), last(folder.filePath("spin-0091.png"));
    CHECK(first.size() == QSize(320, 240));
    CHECK_FALSE(first == last);
    room.key(Qt::Key_T, Qt::ControlModifier);
}
