// SPDX-License-Identifier: GPL-3.0-or-later
// Days on which something goes wrong: the power goes, memory ends, files lie where nobody asked for them.
#include <QDir>
#include <QSettings>
#include <QStandardPaths>
#include <chrono>
#include <csignal>
#include <ctime>
#include <fcntl.h>
#include <fstream>
#include <random>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include "app/start/start_page.h"
#include "core/files/files.h"
#include "core/inspect/variant_plan.h"
#include "core/recipe/recipe_json.h"
#include "core/recipe/settings.h"
#include "tests/app/room.h"
#include "tests/support/scarce_memory.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// Milliseconds of a clock that all processes share.
qint64 now() {
    return std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::steady_clock::now().time_since_epoch())
        .count();
}

QString autosaves() { return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave"; }

/// One process that edits until it is killed, in a home of its own.
struct Editing {
    QTemporaryDir home;
    pid_t process = 0;

    Editing() {
        std::vector<std::string> kept;
        for (char** variable = environ; *variable; ++variable) {
            const std::string text = *variable;
            if (text.rfind("BRICOL_TEST_HOME=", 0) != 0 && text.rfind("QT_QPA_PLATFORM=", 0) != 0) kept.push_back(text);
        }
        kept.push_back("BRICOL_TEST_HOME=" + home.path().toStdString());
        kept.push_back("QT_QPA_PLATFORM=offscreen");  // nobody clicks in it
        std::vector<char*> environment;
        for (std::string& text : kept) environment.push_back(text.data());
        environment.push_back(nullptr);
        std::string self = "/proc/self/exe", name = "a process that edits until it is killed";
        char* arguments[] = {self.data(), name.data(), nullptr};
        posix_spawn_file_actions_t quiet;
        posix_spawn_file_actions_init(&quiet);
        posix_spawn_file_actions_addopen(&quiet, STDOUT_FILENO, "/dev/null", O_WRONLY, 0);
        posix_spawn_file_actions_addopen(&quiet, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
        REQUIRE(posix_spawn(&process, self.c_str(), &quiet, nullptr, arguments, environment.data()) == 0);
        posix_spawn_file_actions_destroy(&quiet);
    }
    /// Every edit: the dial's value and when it was given.
    std::vector<std::pair<double, qint64>> edits() const {
        std::vector<std::pair<double, qint64>> all;
        std::ifstream file(home.filePath("edits").toStdString());
        double value = 0;
        for (qint64 when = 0; file >> value >> when;) all.emplace_back(value, when);
        return all;
    }
    /// The value that was kept; nothing when there is no autosave that opens.
    std::optional<double> kept() const {
        QDir all(home.path());
        std::optional<double> value;
        for (const char* folder : {"data/bricol-test/bricol-test/autosave", "data/bricol-test/autosave"})
            for (const QFileInfo& file : QDir(all.filePath(folder)).entryInfoList({"*.bricol"}, QDir::Files))
                if (const auto recipe = load_recipe(file.absoluteFilePath().toStdString()))
                    value = std::max(value.value_or(0), recipe->dial("girth")->value);
        return value;
    }
    void kill() {
        ::kill(process, SIGKILL);
        waitpid(process, nullptr, 0);
    }
};

}  // namespace

TEST_CASE("a process that edits until it is killed", "[.victim]") {
    MainWindow window;
    window.show();
    REQUIRE(window.open(demo_file));
    std::ofstream log(QDir(qEnvironmentVariable("BRICOL_TEST_HOME")).filePath("edits").toStdString());
    for (int i = 1;; ++i) {
        const double value = 1 + i * 0.0001;
        REQUIRE(window.session().edit(turn_dial(window.session().recipe(), "girth", value), "Turn"));
        log.precision(17);
        log << value << ' ' << now() << std::endl;
        QTest::qWait(250);
    }
}

TEST_CASE("no kill at any moment loses more than five seconds", "[app][files][alone]") {
    std::mt19937 chance(11);
    std::uniform_int_distribution<int> after(200, 6000);  // milliseconds of editing
    int with_autosave = 0;
    for (int wave = 0; wave < 3; ++wave) {
        std::vector<std::unique_ptr<Editing>> all;
        std::vector<int> lives;
        for (int i = 0; i < 5; ++i) {
            all.push_back(std::make_unique<Editing>());
            lives.push_back(after(chance));
        }
        std::vector<bool> over(all.size(), false);
        const qint64 begun = now();
        for (std::size_t left = all.size(); left > 0 && now() - begun < 60000;) {
            QTest::qWait(20);
            for (std::size_t i = 0; i < all.size(); ++i) {
                if (over[i]) continue;
                const auto edits = all[i]->edits();
                if (edits.empty() || now() - edits.front().second < lives[i]) continue;
                all[i]->kill();
                const qint64 killed = now();
                over[i] = true;
                --left;
                const std::optional<double> kept = all[i]->kept();
                with_autosave += kept.has_value();
                qint64 lost_since = killed;
                for (const auto& [value, when] : all[i]->edits())
                    if (value > kept.value_or(0) + 1e-9) lost_since = std::min(lost_since, when);
                INFO("killed after " << lives[i] << " ms of editing");
                CHECK(killed - lost_since < 5000);
            }
        }
        CHECK(std::ranges::find(over, false) == over.end());  // every one edited, and was killed
        for (std::size_t i = 0; i < all.size(); ++i)
            if (!over[i]) all[i]->kill();
    }
    CHECK(with_autosave > 5);
}

TEST_CASE("unsaved work is offered when its recipe is opened itself", "[app][files]") {
    Recipe work = *load_recipe(demo_file.toStdString());
    work.dials[0].value = 1.25;
    work.extra["autosave_of"] = demo_file.toStdString();
    Room room;
    QDir().mkpath(autosaves());
    const QString autosave = QDir(autosaves()).filePath("4194998-1.bricol");  // of a process that is gone
    REQUIRE_FALSE(save_recipe(work, autosave.toStdString()));

    REQUIRE(room.window.open(demo_file));
    room.settle();
    CHECK(room.said().contains("Unsaved work on buoy.bricol"));
    CHECK_FALSE(room.session().changed());
    room.click(room.find("answer:Recover it"));
    room.settle();
    CHECK(room.recipe().dials[0].value == 1.25);
    CHECK(room.session().path() == demo_file);
    CHECK(room.session().changed());

    REQUIRE_FALSE(save_recipe(work, autosave.toStdString()));
    room.session().discard_autosave();
    REQUIRE(room.window.open(demo_file));
    room.click(room.find("answer:Throw it away"));
    CHECK_FALSE(QFile::exists(autosave));
    REQUIRE(room.window.open(demo_file));
    CHECK_FALSE(room.said().contains("Unsaved"));
}

TEST_CASE("the start page says whose unsaved work it keeps, with one bar at its side", "[app][start]") {
    Recipe work = *load_recipe(demo_file.toStdString());
    work.extra["autosave_of"] = demo_file.toStdString();
    QDir().mkpath(autosaves());
    const QString autosave = QDir(autosaves()).filePath("4194997-1.bricol");
    REQUIRE_FALSE(save_recipe(work, autosave.toStdString()));
    Room room;
    room.window.show_start_page();
    QTest::qWait(100);
    auto* row = room.find<QFrame>("recoveryRow");
    REQUIRE(row);
    CHECK(row->findChild<QLabel*>()->text().contains("buoy.bricol"));
    // The bar's colour stands at the left edge and nowhere else in the row.
    const QImage seen = row->grab().toImage();
    const QColor bar = seen.pixelColor(1, seen.height() / 2);
    int columns = 0;
    for (int x = 0; x < seen.width(); ++x) columns += seen.pixelColor(x, seen.height() / 2) == bar;
    CHECK(columns == 3);
    QFile::remove(autosave);
}

namespace {

/// Milliseconds that this thread has worked: a machine that pauses, or works for others, does not count.
double worked_here() {
    timespec now{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
    return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) / 1e6;
}

}  // namespace

TEST_CASE("the start page stands before its pictures are made", "[app][start][alone]") {
    Room room;
    room.window.show_start_page();
    // The first event round paints the page; what takes long happens beside it.
    QElapsedTimer clock;
    clock.start();
    double longest = 0;
    const auto pictures = [&] {
        int count = 0;
        for (QLabel* label : room.window.findChildren<QLabel*>()) count += !label->pixmap(Qt::ReturnByValue).isNull();
        return count;
    };
    QApplication::processEvents();
    CHECK(pictures() == 0);
    CHECK(room.find("open:buoy.bricol") != nullptr);
    const int wanted = static_cast<int>(QDir(demo_folder()).entryList({"*.bricol"}, QDir::Files).size());
    while (pictures() < wanted && clock.elapsed() < 60000) {
        const double before = worked_here();
        QTest::qWait(5);
        longest = std::max(longest, worked_here() - before);
    }
    CHECK(pictures() == wanted);
    INFO(longest);
    CHECK(longest < 1000);  // no recipe is made on the window's thread
}

TEST_CASE("leaving the start page does not wait for its pictures", "[app][start]") {
    Room room;
    room.window.show_start_page();
    QTest::qWait(30);
    room.click(room.find("open:buoy.bricol"));
    room.settle();
    CHECK(room.recipe().parts.size() == 3);
}

TEST_CASE("files outside the recipe's folder are read when the artist has said so, once", "[app][files]") {
    Room room;
    QDir folder(room.folder.path());
    REQUIRE(folder.mkdir("inside"));
    const Recipe kit = *load_recipe(demo_file.toStdString());
    REQUIRE_FALSE(save_recipe(kit, folder.filePath("kit.bricol").toStdString()));
    Recipe recipe;
    recipe.parts.push_back(std::make_shared<Part>());
    auto part = std::make_shared<Part>();
    part->name = "p";
    auto step = std::make_shared<Step>();
    step->id = "k";
    step->type = "recipe";
    step->settings = {{"kit", "../kit.bricol"}};
    part->steps.push_back(step);
    recipe.parts = {part};
    const QString file = folder.filePath("inside/piece.bricol");
    REQUIRE_FALSE(save_recipe(recipe, file.toStdString()));

    REQUIRE(room.window.open(file));
    room.settle();
    CHECK(room.session().outcome("p", "k")->shape->empty());
    CHECK(room.said().remove(QChar(0x200B)).contains("kit.bricol"));
    room.click(room.find("answer:Read them from now on"));
    REQUIRE(QTest::qWaitFor([&] { return !room.session().outcome("p", "k")->shape->empty(); }, 5000));
    // Nobody is asked a second time.
    REQUIRE(room.window.open(demo_file));
    room.settle();
    REQUIRE(room.window.open(file));
    room.settle();
    CHECK_FALSE(room.session().outcome("p", "k")->shape->empty());
    CHECK_FALSE(room.said().contains("outside"));
    QSettings().remove("outsideAllowed");
}

TEST_CASE("want of memory while drawing is told, and the room goes on", "[app][view]") {
    Room room(demo_file);
    Step ball;
    ball.id = "ball";
    ball.type = "sphere";
    ball.settings = {{"slices", 600}, {"rings", 300}};
    const std::string part = room.recipe().parts[0]->name;
    const Recipe before = room.recipe();
    {
        const ScarceMemory scarce(std::size_t(16) << 20);  // less than what the graphics card is to be given
        REQUIRE(room.session().edit(insert_step(room.recipe(), part, room.session().step(), ball), "Add"));
        QTest::qWait(1500);
        CHECK(scarce.refused() > 0);
        CHECK(room.said().contains("not enough memory"));
    }
    CHECK(find_step(*room.recipe().part(part), "ball"));
    room.session().undo();
    room.settle();
    CHECK(same(room.recipe(), before));
    QTest::qWait(300);
    const QImage seen = room.window.viewport().picture({200, 150});
    REQUIRE_FALSE(seen.isNull());
    int changes = 0;
    for (int x = 1; x < 200; ++x) changes += seen.pixelColor(x, 75) != seen.pixelColor(x - 1, 75);
    CHECK(changes > 10);  // the shape is there again
}

TEST_CASE("a file name of the longest kind does not push anything off the screen", "[app][layout][bad input]") {
    Room room;
    const QString name = QString(200, 'n') + ".bricol";
    Recipe recipe = *load_recipe(demo_file.toStdString());
    const std::string part = recipe.parts[0]->name;
    Step step;
    step.id = "k";
    step.type = "recipe";
    step.settings = {{"kit", std::string(240, 'k')}};
    const auto with_kit = insert_step(recipe, part, recipe.parts[0]->steps.back()->id, step);
    REQUIRE(with_kit);
    const QString file = room.folder.filePath(name);
    REQUIRE_FALSE(save_recipe(*with_kit, file.toStdString()));
    REQUIRE(room.window.open(file));
    room.settle();
    QTest::qWait(100);
    CHECK(room.window.minimumSizeHint().width() <= 1280);
    CHECK(room.window.width() <= 1280);
    room.session().choose(part, "k");
    room.settle();
    int cards = 0;
    for (QWidget* card : room.window.findChildren<QWidget*>(QRegularExpression("^finding:.*"))) {
        if (!card->isVisible()) continue;
        ++cards;
        CHECK(room.in_window(card, card->rect().topRight()).x() < room.window.width());
    }
    CHECK(cards > 0);  // the missing kit is told there, by its whole name
}

TEST_CASE("a file name that is not UTF-8 is refused with words", "[app][files][bad input]") {
    Room room(demo_file);
    CHECK_FALSE(room.window.open(QFile::decodeName("/tmp/caf\xE9.bricol")));
    CHECK(room.said().contains("UTF-8"));
    CHECK(room.recipe().parts.size() == 3);
}

TEST_CASE("a part that is added far outside the view is brought into it", "[app][view]") {
    Room room(demo_file);
    const auto outside = [&] {
        const QPointF at = room.window.viewport().screen_of({60, 0, 0.5});
        return !QRectF(room.window.viewport().rect()).contains(at);
    };
    REQUIRE(outside());
    Recipe recipe = room.recipe();
    auto part = std::make_shared<Part>();
    part->name = "far";
    for (const auto& [id, type, settings] :
         {std::tuple{"b", "box", Json::object()}, std::tuple{"m", "transform", Json{{"move", {60, 0, 0}}}}}) {
        auto step = std::make_shared<Step>();
        step->id = id;
        step->type = type;
        step->settings = settings;
        part->steps.push_back(step);
    }
    recipe.parts.push_back(part);
    REQUIRE(room.session().edit(Edited(recipe), "New part"));
    room.settle();
    CHECK(QTest::qWaitFor([&] { return !outside(); }, 2000));
    // The artist's own view is left alone from then on.
    QTest::qWait(400);
    room.wheel(room.middle(&room.window.viewport()), 2400);
    const double distance = room.window.viewport().camera().distance;
    room.session().edit(turn_dial(room.recipe(), "girth", 1.2), "Turn");
    room.settle();
    QTest::qWait(300);
    CHECK(room.window.viewport().camera().distance == distance);
}

TEST_CASE("a save does not move the view", "[app][view][files]") {
    Room room(demo_file);
    room.wheel(room.middle(&room.window.viewport()), 1200);
    const double distance = room.window.viewport().camera().distance;
    REQUIRE(room.session().save(room.folder.filePath("mine.bricol"), true));
    room.session().edit(turn_dial(room.recipe(), "girth", 1.2), "Turn");
    room.settle();
    CHECK(room.window.viewport().camera().distance == distance);
}

TEST_CASE("chosen knots stay chosen when the view changes, and numbers typed then reach them", "[app][profile]") {
    Room room;
    room.window.start_profile();
    room.settle();
    room.key(Qt::Key_Escape);
    room.session().choose_knots(0, {1});
    REQUIRE(room.session().knots() == std::set<int>{1});
    for (const Qt::Key view : {Qt::Key_F8, Qt::Key_F7, Qt::Key_F5}) {
        room.key(view);
        QTest::qWait(50);
        CHECK(room.session().knots() == std::set<int>{1});
    }
    const QPoint middle = room.middle(&room.window.viewport());
    room.drag(middle, middle + QPoint(60, 20), {}, Qt::RightButton);
    CHECK(room.session().knots() == std::set<int>{1});
    room.drag(middle, middle + QPoint(30, 20), {}, Qt::MiddleButton);
    CHECK(room.session().knots() == std::set<int>{1});
}

TEST_CASE("quitting does not wait for what is still being made", "[app][make][alone]") {
    Room room(demo_file);
    Recipe recipe = room.recipe();
    // Some seconds of work: a fine ball less another that lies almost in it.
    const std::string part = recipe.parts[0]->name, last = recipe.parts[0]->steps.back()->id;
    Step ball, other, cut;
    ball.id = "ball", ball.type = "geodesic_sphere", ball.settings = {{"frequency", 100}};
    other.id = "other", other.type = "geodesic_sphere", other.settings = {{"frequency", 99}};
    cut.id = "cut", cut.type = "boolean";
    recipe = *insert_step(recipe, part, last, ball);
    recipe = *insert_step(recipe, part, "ball", other);
    recipe = *insert_step(recipe, part, "other", cut);
    recipe = *link_input(recipe, part, "cut", "shape", "ball");
    recipe = *link_input(recipe, part, "cut", "with", "other");
    REQUIRE(room.session().edit(Edited(recipe), "Add"));
    REQUIRE(QTest::qWaitFor([&] { return room.session().worker().busy(); }, 5000));
    QTest::qWait(300);
    REQUIRE(room.session().worker().busy());  // or nothing is tried
    QElapsedTimer clock;
    clock.start();
    CHECK(room.window.end_work(std::chrono::seconds(1)));
    CHECK(clock.elapsed() < 1000);
}

TEST_CASE("a window may close at any moment of a making", "[app][make]") {
    for (int i = 0; i < 10; ++i) {
        Room room(QString(SOURCE_FOLDER) + "/demo/capstan.bricol");
        REQUIRE_FALSE(room.recipe().dials.empty());
        const Dial& dial = room.recipe().dials.front();
        REQUIRE(room.session().edit(turn_dial(room.recipe(), dial.name, dial_at(dial, 0.1 * i)), "Turn"));
        QTest::qWait(7 * i);
        room.session().edit(turn_dial(room.recipe(), dial.name, dial_at(dial, 0.95)), "Turn");
        QTest::qWait(i);
    }
    // What was left behind does not come back to those that are gone.
    QTest::qWait(100);
    Room room(demo_file);
    CHECK(room.part("body").measures.closed);
}
