// SPDX-License-Identifier: GPL-3.0-or-later
// The running window under Xvfb: time from a mouse move on a knot to the new picture, and from start to first picture.
// With names as arguments (knot, sticks, pier, twist, solids or one of its pieces, copies, sheet, look, variants) it
// measures only those.
#include <QAbstractEventDispatcher>
#include <QApplication>
#include <QElapsedTimer>
#include <QScrollBar>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>
#include <QWindow>
#include <algorithm>
#include <cstdio>
#include <functional>

#include "app/theme/theme.h"
#include "app/variants/variants_panel.h"
#include "app/window/main_window.h"
#include "core/ground/kept_memory.h"

using namespace bricol;

namespace {

class RoomBench {
public:
    RoomBench() {
        guard_.start(20);  // wakes a loop that waits for what never comes
        window_.resize(1280, 800);
        window_.move(0, 0);
        QObject::connect(&window_.viewport(), &Viewport::framePainted, [this] { painted_ = session_.made(); });
    }

    /// Opens the demo's buoy; tells how long after the start it is seen.
    void start(const QElapsedTimer& clock) {
        bool first = false;
        const auto watch = QObject::connect(&window_.viewport(), &Viewport::framePainted, [&] {
            if (first || !session_.made() || session_.made()->faces(session_.made_recipe()) == 0) return;
            first = true;
            std::printf("start to first picture of the demo: %lld ms\n", static_cast<long long>(clock.elapsed()));
        });
        window_.show();
        window_.open(DEMO_FILE);
        window_.activateWindow();
        if (!QTest::qWaitForWindowActive(&window_) || !QTest::qWaitFor([&] { return first; }, 10000)) std::exit(1);
        QObject::disconnect(watch);
        QTest::qWait(400);
        handle_ = window_.windowHandle();
    }

    void knot() { drag("knot drag", "body", "profile", View::front, 3, DVec3(0.1, 0, 0), 300); }

    /// The pier's plan curve, with its pieces made so fine that it has some 200 000 faces.
    void pier() {
        window_.open(PIER_FILE);
        wait_until_shown();
        for (const auto& [dial, value] : {std::pair{"fine", 0.03}, {"long", 100.0}})
            if (!session_.edit(turn_dial(session_.recipe(), dial, value), "Turn")) std::exit(1);
        wait_until_shown();
        std::printf("pier: %zu faces\n", session_.made()->faces(session_.made_recipe()));
        drag("knot drag on the pier's plan curve", "plan", "curve", View::top, 1, DVec3(0, 1.5, 0), 100);
    }

    /// A figure of 60 sticks with its flesh smoothed twice: a spine with arms of three bones each, the last of one
    /// pulled.
    void sticks() {
        Json knots = Json::array();
        const auto add = [&](std::array<double, 3> at, double girth, int from) {
            Json knot{{"id", knots.size() + 1}, {"at", at}, {"girth", girth}};
            knot[from > 0 ? "from" : "root"] = from > 0 ? Json(from) : Json(true);
            knots.push_back(knot);
            return static_cast<int>(knots.size());
        };
        int spine = add({0, 0, 0}, 0.15, 0);
        for (int i = 1; knots.size() < 60; ++i) {
            spine = add({0, 0, 0.5 * i}, 0.15, spine);
            for (const double side : {-1.0, 1.0})
                for (int j = 1, arm = spine; j <= 3 && knots.size() < 60; ++j)
                    arm = add({side * 0.35 * j, 0, 0.5 * i + 0.05 * j}, 0.1 / j, arm);
        }
        const Json recipe = {{"bricol", 1},
                             {"parts",
                              {{{"name", "figure"},
                                {"steps",
                                 {{{"id", "sticks"}, {"step", "sticks"}, {"knots", knots}},
                                  {{"id", "flesh"}, {"step", "flesh"}, {"rounds", 2}}}}}}}};
        QFile file(folder_.filePath("figure.bricol"));
        if (!file.open(QIODevice::WriteOnly)) std::exit(1);
        file.write(recipe.dump().c_str());
        file.close();
        window_.open(file.fileName());
        wait_until_shown();
        session_.choose("figure", "sticks");
        window_.viewport().set_view(View::front);
        QTest::qWait(400);
        std::printf("figure: %zu faces\n", session_.made()->faces(session_.made_recipe()));
        drag("stick knot pulled", DVec3(1.05, 0, 2.65), DVec3(0.15, 0, 0.1), 200);
    }

    /// Demo pieces turned, without and with dark corners, and how soon a finished picture begins to show.
    void look() {
        Viewport& view = window_.viewport();
        for (const char* piece :
             {"buoy", "capstan", "daymark", "winch", "lantern", "otter", "tree", "helmet", "rock"}) {
            window_.open(QString("%1/%2.bricol").arg(DEMO_FOLDER, piece));
            wait_until_shown();
            QTest::qWait(1500);
            double median[2];
            for (const bool dark : {false, true}) {
                view.set_occlusion(dark);
                QTest::qWait(400);
                turn(60);
                median[dark] = times_[times_.size() / 2];
            }
            view.set_occlusion(false);
            QElapsedTimer clock;
            clock.start();
            view.set_shading(shading_named("still"));
            if (!QTest::qWaitFor([&] { return view.stills().samples() > 0; }, 30000)) std::exit(1);
            const qint64 seen = clock.elapsed();
            view.set_shading(shading_named("clay"));
            QTest::qWait(200);
            std::printf("%-8s turned: median %5.1f ms a picture, with dark corners %5.1f ms; first look %lld ms\n",
                        piece, median[0], median[1], static_cast<long long>(seen));
            session_.discard_autosave();
        }
    }

    /// A thousand buoys on a sheet: the first twelve, all of them, and scrolling through while they are made and after.
    void variants() {
        window_.open(DEMO_FILE);
        wait_until_shown();
        window_.show_panel("variants");
        QTest::qWait(50);
        auto* panel = window_.findChild<VariantsPanel*>("variantsPanel");
        if (!panel) std::exit(1);
        QElapsedTimer clock;
        clock.start();
        panel->make(random_plan(session_.recipe(), usual_dials(session_.recipe()), 1000, 1));
        const auto drawn = [&] {
            return std::ranges::count_if(panel->sheet().cells(),
                                         [](const VariantCell& cell) { return !cell.picture.isNull(); });
        };
        if (!QTest::qWaitFor([&] { return drawn() >= 12; }, 20000)) std::exit(1);
        std::printf("variants of the buoy: the first twelve seen after %lld ms\n",
                    static_cast<long long>(clock.elapsed()));
        scroll(*panel, "while they are made");
        if (!QTest::qWaitFor([&] { return drawn() == 1000; }, 120000)) std::exit(1);
        std::printf("variants of the buoy: all 1 000 seen after %lld ms\n", static_cast<long long>(clock.elapsed()));
        scroll(*panel, "once all are there");
    }

    void scroll(VariantsPanel& panel, const char* when) {
        QScrollBar& bar = *panel.sheet().verticalScrollBar();
        std::vector<double> took;
        for (int step = 1; step <= 120; ++step) {
            QElapsedTimer one;
            one.start();
            bar.setValue(bar.maximum() * step / 120);
            panel.sheet().viewport()->repaint();
            QApplication::processEvents();
            took.push_back(static_cast<double>(one.nsecsElapsed()) * 1e-6);
        }
        std::ranges::sort(took);
        std::printf("variants of the buoy: scrolled %s, median %.1f ms, 19 of 20 within %.1f ms, worst %.1f ms\n", when,
                    took[took.size() / 2], took[took.size() * 19 / 20], took.back());
    }

    /// The day-mark's twist dial, landings and bars included.
    void daymark() {
        window_.open(DAYMARK_FILE);
        wait_until_shown();
        QTest::qWait(600);
        times_.clear();
        double longest_gap = 0;
        QElapsedTimer busy;
        auto* loop = QAbstractEventDispatcher::instance();
        const auto awake = QObject::connect(loop, &QAbstractEventDispatcher::awake, [&] { busy.start(); });
        const auto asleep = QObject::connect(loop, &QAbstractEventDispatcher::aboutToBlock, [&] {
            if (busy.isValid()) longest_gap = std::max(longest_gap, static_cast<double>(busy.nsecsElapsed()) / 1e6);
        });
        for (int i = 1; i <= 80; ++i) {
            QElapsedTimer one;
            one.start();
            session_.edit(turn_dial(session_.recipe(), "twist", 110 + 60 * std::sin(i * 0.1)), "Turn twist", "twist");
            while (!shown() && one.elapsed() < 5000) pass();
            times_.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
        }
        QObject::disconnect(awake), QObject::disconnect(asleep);
        std::sort(times_.begin(), times_.end());
        std::printf(
            "day-mark twist, dial to new picture, %zu turns: median %.1f ms, 95th percentile %.1f ms, largest %.1f ms; "
            "window busy at most %.1f ms at a time\n",
            times_.size(), times_[times_.size() / 2], times_[times_.size() * 95 / 100], times_.back(), longest_gap);
        session_.discard_autosave();
    }

    /// Every dial of the pieces that are made by booleans, from one end to the other.
    void solids(const std::function<bool(const char*)>& chosen) {
        for (const char* piece : {"capstan", "helmet", "rock", "daymark"}) {
            if (!chosen("solids") && !chosen(piece)) continue;
            window_.open(QString(DEMO_FOLDER) + "/" + piece + ".bricol");
            wait_until_shown();
            QTest::qWait(1500);
            for (const Dial& dial : Recipe(session_.recipe()).dials) {
                times_.clear();
                double first = 0, made = 0;
                constexpr int turns = 40;
                for (int i = 0; i <= turns; ++i) {
                    const double value = dial.low + (dial.high - dial.low) * i / turns;
                    const Recipe before = session_.recipe();
                    QElapsedTimer one;
                    one.start();
                    if (!session_.edit(turn_dial(before, dial.name, value), "Turn", QString::fromStdString(dial.name)))
                        continue;
                    while (!shown() && one.elapsed() < 5000) pass();
                    times_.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
                    made += session_.made()->milliseconds / turns;
                    if (i == 0) first = times_[0];
                }
                std::sort(times_.begin(), times_.end());
                std::printf(
                    "%s, “%s” through its range: median %.1f ms (%.1f of them for making, on average), largest %.1f "
                    "ms, the first %.1f ms\n",
                    piece, dial.name.c_str(), times_[times_.size() / 2], made, times_.back(), first);
                session_.edit(turn_dial(session_.recipe(), dial.name, dial.value), "Turn back");
                wait_until_shown();
                QTest::qWait(1500);  // the hand rests: stand-ins are made
            }
            session_.discard_autosave();
        }
    }

    /// 1 000 instances of a part of 10 000 faces, turned with the right button.
    void copies() {
        const QString copies = folder_.filePath("copies.bricol");
        QFile file(copies);
        if (!file.open(QIODevice::WriteOnly)) std::exit(1);
        file.write(
            R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"part","step":"torus","radius":0.02,"tube":0.008,"ring_segments":125,"tube_segments":80},
        {"id":"grid","step":"array","kind":"grid","counts":[40,25,1],"offset":[0.06,0.06,0.06]}]}]})");
        file.close();
        window_.open(copies);
        wait_until_shown();
        QTest::qWait(1500);
        turn(60);
        std::printf("1 000 instances of 10 000 faces, turned: median %.1f ms a picture, 95th percentile %.1f ms\n",
                    times_[times_.size() / 2], times_[times_.size() * 95 / 100]);
        session_.discard_autosave();

        // 10 000 copies of a pebble, turned.
        const QString many = folder_.filePath("many.bricol");
        QFile more(many);
        if (!more.open(QIODevice::WriteOnly)) std::exit(1);
        more.write(
            R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"ground","step":"grid","width":8,"depth":8},{"id":"spots","step":"scatter","count":10000},
        {"id":"pebble","step":"geodesic_sphere","radius":0.03,"frequency":4},{"id":"lay","step":"place_copies","in":{"shape":"spots","copy":"pebble"}}]}]})");
        more.close();
        window_.open(many);
        wait_until_shown();
        QTest::qWait(1500);
        turn(40);
        std::printf(
            "10 000 instances of 320 faces, turned: median %.1f ms a picture (%.1f a second), 95th percentile %.1f "
            "ms\n",
            times_[times_.size() / 2], 1000 / times_[times_.size() / 2], times_[times_.size() * 95 / 100]);
        session_.discard_autosave();
    }

    /// A sheet of 500 cards and over 800 wires: slid with the middle button, zoomed with the wheel.
    void sheet() {
        const auto named = [](int i) { return QString("s%1").arg(i).toStdString(); };
        Json steps = Json::array();
        for (int i = 0; i < 500; ++i) {
            Json one{{"id", named(i)}, {"step", i % 10 == 0 ? "point" : "merge"}};
            if (i % 10 != 0 && i > 20) one["in"] = {{"with", named(i - 11)}};
            steps.push_back(one);
        }
        const QString large = folder_.filePath("large.bricol");
        QFile graph(large);
        if (!graph.open(QIODevice::WriteOnly)) std::exit(1);
        graph.write(QByteArray::fromStdString(
            Json{{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", steps}}})}}.dump()));
        graph.close();
        window_.open(large);
        window_.show_panel("sheet");
        QTest::qWait(1500);
        StepSheet& sheet = window_.sheet();
        std::printf("sheet of %zu cards and %zu wires, %d x %d pixels:\n", sheet.cards().size(), sheet.wires().size(),
                    sheet.width(), sheet.height());
        const auto painting = [&](const char* name, double zoom, auto act) {
            sheet.fit(false);
            if (zoom > 0) sheet.zoom_by(zoom / sheet.zoom(), QPointF(sheet.width() / 2.0, sheet.height() / 2.0));
            times_.clear();
            for (int i = 0; i < 60; ++i) {
                QElapsedTimer one;
                one.start();
                act(i);
                sheet.repaint();
                QApplication::processEvents();
                times_.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
            }
            std::sort(times_.begin(), times_.end());
            std::printf("  %s: median %.1f ms a picture (%.0f a second), largest %.1f ms\n", name,
                        times_[times_.size() / 2], 1000 / times_[times_.size() / 2], times_.back());
        };
        const QPoint on_sheet = sheet.mapTo(&window_, QPoint(sheet.width() / 2, sheet.height() / 2));
        const auto slide = [&](int i) {
            if (i == 0) QTest::mousePress(handle_, Qt::MiddleButton, {}, on_sheet);
            const QPoint to = on_sheet + QPoint(i * 3 + 8, i % 5);
            QMouseEvent move(QEvent::MouseMove, to, window_.mapToGlobal(to), Qt::NoButton, Qt::MiddleButton, {});
            QApplication::sendEvent(handle_, &move);
            if (i == 59) QTest::mouseRelease(handle_, Qt::MiddleButton, {}, to);
        };
        painting("everything in sight, slid", 0, slide);
        painting("at half size, slid", 0.5, slide);
        painting("at full size, slid", 1, slide);
        painting("zoomed by the wheel", 0, [&](int i) {
            QWheelEvent wheel(on_sheet, window_.mapToGlobal(on_sheet), {}, {0, i < 30 ? 120 : -120}, Qt::NoButton, {},
                              Qt::NoScrollPhase, false);
            QApplication::sendEvent(handle_, &wheel);
        });
        session_.discard_autosave();
    }

private:
    /// Turns the view with the right button; a time for every new picture, shortest first.
    void turn(int moves) {
        const QPoint middle = window_.viewport().mapTo(&window_, window_.viewport().rect().center());
        QTest::mousePress(handle_, Qt::RightButton, {}, middle);
        times_.clear();
        for (int i = 1; i <= moves; ++i) {
            const QPoint to = middle + QPoint(2 * i, i % 7);
            const int before = window_.viewport().frames();
            QElapsedTimer one;
            one.start();
            QMouseEvent move(QEvent::MouseMove, to, window_.mapToGlobal(to), Qt::NoButton, Qt::RightButton, {});
            QApplication::sendEvent(handle_, &move);
            while (window_.viewport().frames() == before && one.elapsed() < 3000) pass();
            times_.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
        }
        QTest::mouseRelease(handle_, Qt::RightButton, {}, middle);
        std::sort(times_.begin(), times_.end());
    }

    /// Handles what has come, after sleeping until something comes, as a window does: a loop that spins would take one
    /// of two processors from those who make the shape.
    static void pass() { QApplication::processEvents(QEventLoop::WaitForMoreEvents); }

    /// Whether the picture shows the recipe as it is now.
    bool shown() const {
        return session_.made() && same(session_.made_recipe(), session_.recipe()) && painted_ == session_.made();
    }
    void wait_until_shown() {
        if (!QTest::qWaitFor([this] { return shown(); }, 20000)) std::exit(1);
    }

    /// Moves a knot of a drawn curve with the mouse; a time from every move to the picture that shows it.
    void drag(const char* what, const std::string& part, const std::string& step, View view, std::size_t number,
              const DVec3& along, int moves) {
        session_.choose(part, step);
        window_.viewport().set_view(view);
        QTest::qWait(400);
        drag(what, DVec3(window_.viewport().knot_tool().curves()[0].knots[number].at), along, moves);
    }
    void drag(const char* what, const DVec3& knot, const DVec3& along, int moves) {
        const auto at = [&](double share) {
            return window_.viewport().mapTo(&window_, window_.viewport().screen_of(knot + along * share).toPoint());
        };
        QTest::mousePress(handle_, Qt::LeftButton, {}, at(0));
        times_.clear();
        for (int i = 1; i <= moves; ++i) {
            const QPoint to = at(std::sin(i * 0.07)) + QPoint(0, i % 2);
            const Recipe before = session_.recipe();
            QElapsedTimer one;
            one.start();
            QMouseEvent move(QEvent::MouseMove, to, window_.mapToGlobal(to), Qt::NoButton, Qt::LeftButton,
                             Qt::ControlModifier);
            QApplication::sendEvent(handle_, &move);
            if (same(before, session_.recipe())) continue;  // the pointer stayed on its pixel
            while (!shown() && one.elapsed() < 2000) pass();
            times_.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
        }
        QTest::mouseRelease(handle_, Qt::LeftButton, {}, at(0));
        std::sort(times_.begin(), times_.end());
        std::printf(
            "%s, mouse move to new picture, %zu moves: median %.1f ms, 95th percentile %.1f ms, largest %.1f ms\n",
            what, times_.size(), times_[times_.size() / 2], times_[times_.size() * 95 / 100], times_.back());
        session_.discard_autosave();
    }

    MainWindow window_;
    Session& session_ = window_.session();
    QWindow* handle_ = nullptr;
    const Made* painted_ = nullptr;
    QTemporaryDir folder_;
    QTimer guard_;
    std::vector<double> times_;  ///< milliseconds
};

}  // namespace

int main(int count, char** arguments) {
    QElapsedTimer clock;
    clock.start();
    keep_freed_memory();
    QTemporaryDir home;
    qputenv("XDG_CONFIG_HOME", (home.path() + "/config").toUtf8());
    qputenv("XDG_DATA_HOME", (home.path() + "/data").toUtf8());
    QApplication application(count, arguments);
    const auto chosen = [&](const char* name) {
        return count < 2 || std::find_if(arguments + 1, arguments + count, [&](const char* a) {
                                return std::string_view(a) == name;
                            }) != arguments + count;
    };
    Q_INIT_RESOURCE(assets);
    theme::start();
    RoomBench bench;
    bench.start(clock);
    if (chosen("knot")) bench.knot();
    if (chosen("sticks")) bench.sticks();
    if (chosen("pier")) bench.pier();
    if (chosen("twist")) bench.daymark();
    bench.solids(chosen);
    if (chosen("copies")) bench.copies();
    if (chosen("sheet")) bench.sheet();
    if (chosen("look")) bench.look();
    if (chosen("variants")) bench.variants();
    return 0;
}
