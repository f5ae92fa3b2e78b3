// SPDX-License-Identifier: GPL-3.0-or-later
// The running window under Xvfb: time from a mouse move on a knot to the new picture, and from start to first picture.
// With names as arguments (knot, pier, daymark, copies, sheet) it measures only those.
#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>
#include <QWindow>
#include <algorithm>
#include <cstdio>
#include <malloc.h>

#include "app/theme/theme.h"
#include "app/window/main_window.h"

using namespace bricol;

int main(int count, char** arguments) {
    QElapsedTimer clock;
    clock.start();
    mallopt(M_MMAP_THRESHOLD, 256 << 20);
    mallopt(M_TRIM_THRESHOLD, 512 << 20);
    QTemporaryDir home, folder;
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
    MainWindow window;
    window.resize(1280, 800);
    window.move(0, 0);
    bool first = false;
    QObject::connect(&window.viewport(), &Viewport::framePainted, [&] {
        if (!first && window.session().made() && window.session().made()->faces(window.session().made_recipe()) > 0) {
            first = true;
            std::printf("start to first picture of the demo: %lld ms\n", static_cast<long long>(clock.elapsed()));
        }
    });
    window.show();
    window.open(DEMO_FILE);
    window.activateWindow();
    if (!QTest::qWaitForWindowActive(&window) || !QTest::qWaitFor([&] { return first; }, 10000)) return 1;
    QTest::qWait(400);

    Session& session = window.session();
    const Made* painted = nullptr;
    QObject::connect(&window.viewport(), &Viewport::framePainted, [&] { painted = session.made(); });
    QWindow* handle = window.windowHandle();
    std::vector<double> times;
    const auto drag = [&](const char* what, const std::string& part, const std::string& step, View view,
                          std::size_t number, const DVec3& along, int moves) {
        session.choose(part, step);
        window.viewport().set_view(view);
        QTest::qWait(400);
        const DVec3 knot(window.viewport().knot_tool().curves()[0].knots[number].at);
        const auto at = [&](double share) {
            return window.viewport().mapTo(&window, window.viewport().screen_of(knot + along * share).toPoint());
        };
        QTest::mousePress(handle, Qt::LeftButton, {}, at(0));
        times.clear();
        for (int i = 1; i <= moves; ++i) {
            const QPoint to = at(std::sin(i * 0.07)) + QPoint(0, i % 2);
            const Recipe before = session.recipe();
            QElapsedTimer one;
            one.start();
            QMouseEvent move(QEvent::MouseMove, to, window.mapToGlobal(to), Qt::NoButton, Qt::LeftButton,
                             Qt::ControlModifier);
            QApplication::sendEvent(handle, &move);
            if (same(before, session.recipe())) continue;  // the pointer stayed on its pixel
            while (!(session.made() && same(session.made_recipe(), session.recipe()) && painted == session.made()) &&
                   one.elapsed() < 2000)
                QApplication::processEvents(QEventLoop::AllEvents, 1);
            times.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
        }
        QTest::mouseRelease(handle, Qt::LeftButton, {}, at(0));
        std::sort(times.begin(), times.end());
        std::printf(
            "%s, mouse move to new picture, %zu moves: median %.1f ms, 95th percentile %.1f ms, largest %.1f ms\n",
            what, times.size(), times[times.size() / 2], times[times.size() * 95 / 100], times.back());
        session.discard_autosave();
    };
    if (chosen("knot")) drag("knot drag", "body", "profile", View::front, 3, DVec3(0.1, 0, 0), 300);

    // The pier's plan curve, with its pieces made so fine that it has some 200 000 faces.
    if (chosen("pier")) {
        window.open(PIER_FILE);
        if (!QTest::qWaitFor(
                [&] {
                    return session.made() && same(session.made_recipe(), session.recipe()) && painted == session.made();
                },
                10000))
            return 1;
        for (const auto& [dial, value] : {std::pair{"fine", 0.03}, {"long", 100.0}})
            if (!session.edit(turn_dial(session.recipe(), dial, value), "Turn")) return 1;
        if (!QTest::qWaitFor(
                [&] {
                    return session.made() && same(session.made_recipe(), session.recipe()) && painted == session.made();
                },
                20000))
            return 1;
        std::printf("pier: %zu faces\n", session.made()->faces(session.made_recipe()));
        drag("knot drag on the pier's plan curve", "plan", "curve", View::top, 1, DVec3(0, 1.5, 0), 100);
    }

    // The day-mark's twist dial, landings and bars included.
    if (chosen("daymark")) {
        window.open(DAYMARK_FILE);
        if (!QTest::qWaitFor(
                [&] {
                    return session.made() && same(session.made_recipe(), session.recipe()) && painted == session.made();
                },
                10000))
            return 1;
        QTest::qWait(600);
        times.clear();
        double longest_gap = 0;
        for (int i = 1; i <= 80; ++i) {
            QElapsedTimer one, gap;
            one.start();
            session.edit(turn_dial(session.recipe(), "twist", 110 + 60 * std::sin(i * 0.1)), "Turn twist", "twist");
            while (!(session.made() && same(session.made_recipe(), session.recipe()) && painted == session.made()) &&
                   one.elapsed() < 5000) {
                gap.start();
                QApplication::processEvents(QEventLoop::AllEvents, 1);
                longest_gap = std::max(longest_gap, static_cast<double>(gap.nsecsElapsed()) / 1e6);
            }
            times.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
        }
        std::sort(times.begin(), times.end());
        std::printf(
            "day-mark twist, dial to new picture, %zu turns: median %.1f ms, 95th percentile %.1f ms, largest %.1f ms; "
            "window busy at most %.1f ms at a time\n",
            times.size(), times[times.size() / 2], times[times.size() * 95 / 100], times.back(), longest_gap);
        session.discard_autosave();
    }

    // 1 000 instances of a part of 10 000 faces, turned with the right button.
    if (chosen("copies")) {
        const QString copies = folder.filePath("copies.bricol");
        QFile file(copies);
        if (!file.open(QIODevice::WriteOnly)) return 1;
        file.write(
            R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"part","step":"torus","radius":0.02,"tube":0.008,"ring_segments":125,"tube_segments":80},
        {"id":"grid","step":"array","kind":"grid","counts":[40,25,1],"offset":[0.06,0.06,0.06]}]}]})");
        file.close();
        window.open(copies);
        if (!QTest::qWaitFor(
                [&] {
                    return session.made() && same(session.made_recipe(), session.recipe()) && painted == session.made();
                },
                10000))
            return 1;
        QTest::qWait(1500);
        const QPoint middle = window.viewport().mapTo(&window, window.viewport().rect().center());
        const auto turn = [&](int moves) {  // with the right button; a time for every new picture
            QTest::mousePress(handle, Qt::RightButton, {}, middle);
            times.clear();
            for (int i = 1; i <= moves; ++i) {
                const QPoint to = middle + QPoint(2 * i, i % 7);
                const int before = window.viewport().frames();
                QElapsedTimer one;
                one.start();
                QMouseEvent move(QEvent::MouseMove, to, window.mapToGlobal(to), Qt::NoButton, Qt::RightButton, {});
                QApplication::sendEvent(handle, &move);
                while (window.viewport().frames() == before && one.elapsed() < 3000)
                    QApplication::processEvents(QEventLoop::AllEvents, 1);
                times.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
            }
            QTest::mouseRelease(handle, Qt::RightButton, {}, middle);
            std::sort(times.begin(), times.end());
        };
        turn(60);
        std::printf("1 000 instances of 10 000 faces, turned: median %.1f ms a picture, 95th percentile %.1f ms\n",
                    times[times.size() / 2], times[times.size() * 95 / 100]);
        session.discard_autosave();

        // 10 000 copies of a pebble, turned.
        const QString many = folder.filePath("many.bricol");
        QFile more(many);
        if (!more.open(QIODevice::WriteOnly)) return 1;
        more.write(
            R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"ground","step":"grid","width":8,"depth":8},{"id":"spots","step":"scatter","count":10000},
        {"id":"pebble","step":"geodesic_sphere","radius":0.03,"frequency":4},{"id":"lay","step":"place_copies","in":{"shape":"spots","copy":"pebble"}}]}]})");
        more.close();
        window.open(many);
        if (!QTest::qWaitFor(
                [&] {
                    return session.made() && same(session.made_recipe(), session.recipe()) && painted == session.made();
                },
                10000))
            return 1;
        QTest::qWait(1500);
        turn(40);
        std::printf(
            "10 000 instances of 320 faces, turned: median %.1f ms a picture (%.1f a second), 95th percentile %.1f "
            "ms\n",
            times[times.size() / 2], 1000 / times[times.size() / 2], times[times.size() * 95 / 100]);
        session.discard_autosave();
    }

    // A sheet of 500 cards and over 800 wires: slid with the middle button, zoomed with the wheel.
    if (chosen("sheet")) {
        const auto named = [](int i) { return QString("s%1").arg(i).toStdString(); };
        Json steps = Json::array();
        for (int i = 0; i < 500; ++i) {
            Json one{{"id", named(i)}, {"step", i % 10 == 0 ? "point" : "merge"}};
            if (i % 10 != 0 && i > 20) one["in"] = {{"with", named(i - 11)}};
            steps.push_back(one);
        }
        const QString large = folder.filePath("large.bricol");
        QFile graph(large);
        if (!graph.open(QIODevice::WriteOnly)) return 1;
        graph.write(QByteArray::fromStdString(
            Json{{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", steps}}})}}.dump()));
        graph.close();
        window.open(large);
        window.show_panel("sheet");
        QTest::qWait(1500);
        StepSheet& sheet = window.sheet();
        std::printf("sheet of %zu cards and %zu wires, %d x %d pixels:\n", sheet.cards().size(), sheet.wires().size(),
                    sheet.width(), sheet.height());
        const auto painting = [&](const char* name, double zoom, auto act) {
            sheet.fit(false);
            if (zoom > 0) sheet.zoom_by(zoom / sheet.zoom(), QPointF(sheet.width() / 2.0, sheet.height() / 2.0));
            times.clear();
            for (int i = 0; i < 60; ++i) {
                QElapsedTimer one;
                one.start();
                act(i);
                sheet.repaint();
                QApplication::processEvents();
                times.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
            }
            std::sort(times.begin(), times.end());
            std::printf("  %s: median %.1f ms a picture (%.0f a second), largest %.1f ms\n", name,
                        times[times.size() / 2], 1000 / times[times.size() / 2], times.back());
        };
        const QPoint on_sheet = sheet.mapTo(&window, QPoint(sheet.width() / 2, sheet.height() / 2));
        const auto slide = [&](int i) {
            if (i == 0) QTest::mousePress(handle, Qt::MiddleButton, {}, on_sheet);
            const QPoint to = on_sheet + QPoint(i * 3 + 8, i % 5);
            QMouseEvent move(QEvent::MouseMove, to, window.mapToGlobal(to), Qt::NoButton, Qt::MiddleButton, {});
            QApplication::sendEvent(handle, &move);
            if (i == 59) QTest::mouseRelease(handle, Qt::MiddleButton, {}, to);
        };
        painting("everything in sight, slid", 0, slide);
        painting("at half size, slid", 0.5, slide);
        painting("at full size, slid", 1, slide);
        painting("zoomed by the wheel", 0, [&](int i) {
            QWheelEvent wheel(on_sheet, window.mapToGlobal(on_sheet), {}, {0, i < 30 ? 120 : -120}, Qt::NoButton, {},
                              Qt::NoScrollPhase, false);
            QApplication::sendEvent(handle, &wheel);
        });
        session.discard_autosave();
    }
    return 0;
}
