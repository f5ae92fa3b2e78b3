// SPDX-License-Identifier: GPL-3.0-or-later
// The running window under Xvfb: time from a mouse move on a knot to the new picture, and from start to first picture.
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
    QTemporaryDir home;
    qputenv("XDG_CONFIG_HOME", (home.path() + "/config").toUtf8());
    qputenv("XDG_DATA_HOME", (home.path() + "/data").toUtf8());
    QApplication application(count, arguments);
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
    session.choose("body", "profile");
    window.viewport().set_view(View::front);
    QTest::qWait(400);
    const DVec3 knot(window.viewport().knot_tool().curves()[0].knots[3].at);
    const auto at = [&](double across) { return window.viewport().mapTo(&window, window.viewport().screen_of(knot + DVec3(across, 0, 0)).toPoint()); };
    QWindow* handle = window.windowHandle();
    const Made* painted = nullptr;
    QObject::connect(&window.viewport(), &Viewport::framePainted, [&] { painted = session.made(); });
    QTest::mousePress(handle, Qt::LeftButton, {}, at(0));
    std::vector<double> times;
    for (int i = 1; i <= 300; ++i) {
        const QPoint to = at(0.10 * std::sin(i * 0.07)) + QPoint(0, i % 2);
        const Recipe before = session.recipe();
        QElapsedTimer one;
        one.start();
        QMouseEvent move(QEvent::MouseMove, to, window.mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::ControlModifier);
        QApplication::sendEvent(handle, &move);
        if (same(before, session.recipe())) continue;  // the pointer stayed on its pixel
        while (!(session.made() && same(session.made_recipe(), session.recipe()) && painted == session.made()) && one.elapsed() < 2000) QApplication::processEvents(QEventLoop::AllEvents, 1);
        times.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
    }
    QTest::mouseRelease(handle, Qt::LeftButton, {}, at(0));
    std::sort(times.begin(), times.end());
    std::printf("knot drag, mouse move to new picture, %zu moves: median %.1f ms, 95th percentile %.1f ms, largest %.1f ms\n", times.size(), times[times.size() / 2],
                times[times.size() * 95 / 100], times.back());
    session.discard_autosave();
    return 0;
}
