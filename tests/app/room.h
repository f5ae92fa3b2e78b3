// SPDX-License-Identifier: GPL-3.0-or-later
// The real window, driven by real mouse and key events.
#pragma once

#include <QAbstractItemView>
#include <QApplication>
#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>
#include <QWheelEvent>
#include <QWindow>
#include <catch2/catch.hpp>

#include "app/window/main_window.h"
#include "core/files/recipe_file.h"

namespace bricol::test {

inline const QString demo_file = QString(SOURCE_FOLDER) + "/demo/buoy.bricol";

class Room {
public:
    MainWindow window;
    QTemporaryDir folder;
    static inline int patience = 5000;  ///< milliseconds for a making to be shown

    explicit Room(const QString& recipe = {}) {
        window.resize(1280, 800);
        window.move(0, 0);
        window.show();
        window.activateWindow();
        REQUIRE(QTest::qWaitForWindowExposed(&window));
        REQUIRE(QTest::qWaitForWindowActive(&window));
        if (!recipe.isEmpty()) REQUIRE(window.open(recipe));
        settle();
    }
    ~Room() { window.session().discard_autosave(); }

    /// Writes a recipe to a file of its own and opens it.
    void open_recipe(const Json& recipe) {
        const QString file = folder.filePath("written.bricol");
        QFile out(file);
        REQUIRE(out.open(QIODevice::WriteOnly));
        out.write(recipe.dump().c_str());
        out.close();
        REQUIRE(window.open(file));
        settle();
    }
    Session& session() { return window.session(); }
    const Recipe& recipe() { return window.session().recipe(); }

    /// Waits until what is shown was made of the recipe in hand.
    void settle() {
        REQUIRE(QTest::qWaitFor([&] { return session().made() && same(session().made_recipe(), recipe()); }, patience));
        QTest::qWait(20);
    }
    const PartOutcome& part(const std::string& name) {
        settle();
        const PartOutcome* outcome = session().made()->part(session().made_recipe(), name);
        REQUIRE(outcome);
        return *outcome;
    }
    const Step& step(const std::string& part, const std::string& id) {
        const Part* p = recipe().part(part);
        REQUIRE(p);
        const Step* s = find_step(*p, id);
        REQUIRE(s);
        return *s;
    }

    /// A panel of the band, brought to the front by Ctrl, Shift and its key.
    template <class Panel>
    Panel& panel(Qt::Key letter, const QString& name) {
        key(letter, Qt::ControlModifier | Qt::ShiftModifier);
        auto* found = find<Panel>(name);
        REQUIRE(found);
        QTest::qWait(30);
        return *found;
    }

    /// Scrolls to it, as one does before one clicks.
    static void bring_into_sight(QWidget* widget) {
        for (QWidget* w = widget->parentWidget(); w; w = w->parentWidget())
            if (auto* area = qobject_cast<QScrollArea*>(w)) area->ensureWidgetVisible(widget, 0, 20);
    }
    QWindow* handle() { return window.windowHandle(); }
    QPoint in_window(QWidget* widget, const QPoint& at) { return widget->mapTo(&window, at); }
    QPoint in_window(QWidget* widget, const QPointF& at) { return in_window(widget, at.toPoint()); }
    QPoint middle(QWidget* widget) { return in_window(widget, widget->rect().center()); }

    void press(const QPoint& at, Qt::KeyboardModifiers keys = {}, Qt::MouseButton button = Qt::LeftButton) {
        QTest::mousePress(handle(), button, keys, at);
    }
    void move(const QPoint& at, Qt::KeyboardModifiers keys = {}, Qt::MouseButtons buttons = Qt::LeftButton) {
        QMouseEvent event(QEvent::MouseMove, at, window.mapToGlobal(at), Qt::NoButton, buttons, keys);
        QApplication::sendEvent(handle(), &event);
    }
    void release(const QPoint& at, Qt::KeyboardModifiers keys = {}, Qt::MouseButton button = Qt::LeftButton) {
        QTest::mouseRelease(handle(), button, keys, at);
    }
    void click(const QPoint& at, Qt::KeyboardModifiers keys = {}, Qt::MouseButton button = Qt::LeftButton) {
        press(at, keys, button);
        release(at, keys, button);
        QTest::qWait(5);
    }
    void click(QWidget* widget, Qt::KeyboardModifiers keys = {}) {
        REQUIRE(widget);
        REQUIRE(widget->isVisible());
        bring_into_sight(widget);
        click(middle(widget), keys);
    }
    void drag(const QPoint& from, const QPoint& to, Qt::KeyboardModifiers keys = {},
              Qt::MouseButton button = Qt::LeftButton) {
        press(from, keys, button);
        for (int i = 1; i <= 8; ++i) {
            move(from + (to - from) * i / 8, keys, button);
            QTest::qWait(2);
        }
        release(to, keys, button);
        QTest::qWait(5);
    }
    void wheel(const QPoint& at, int delta) {
        QWheelEvent event(at, window.mapToGlobal(at), {}, {0, delta}, Qt::NoButton, {}, Qt::NoScrollPhase, false);
        QApplication::sendEvent(handle(), &event);
    }
    void key(Qt::Key key, Qt::KeyboardModifiers keys = {}) {
        QTest::keyClick(handle(), key, keys);
        QTest::qWait(5);
    }
    void type(const QString& text) {
        for (const QChar c : text)
            QTest::sendKeyEvent(QTest::Click, handle(), static_cast<Qt::Key>(c.toUpper().unicode()), QString(c), {});
    }
    template <class Widget = QWidget>
    Widget* find(const QString& name) {
        for (Widget* widget : window.findChildren<Widget*>(name))
            if (widget->isVisible()) return widget;
        return nullptr;
    }
    /// Types into a number field as a person does: click, type over, Enter.
    void enter(const QString& field, const QString& text) {
        auto* widget = find<NumberField>(field);
        INFO(field.toStdString());
        REQUIRE(widget);
        click(widget);
        REQUIRE(widget->hasFocus());
        key(Qt::Key_A, Qt::ControlModifier);
        type(text);
        key(Qt::Key_Return);
    }
    /// Opens a menu by an action and picks an entry of it by its text, and one of the menu that opens then, and so on.
    template <class Open, class... Inner>
    void pick(Open open, const QString& entry, const Inner&... inner) {
        open();
        QWidget* menu = nullptr;
        for (const QString& wanted : {entry, QString(inner)...}) {
            REQUIRE(QTest::qWaitFor(
                [&] { return QApplication::activePopupWidget() && QApplication::activePopupWidget() != menu; }, 2000));
            menu = QApplication::activePopupWidget();
            choose_in(qobject_cast<QMenu*>(menu), wanted);
        }
    }
    /// Opens a combo box and clicks on an entry of its list.
    void choose_entry(const QString& name, int entry) {
        auto* combo = find<QComboBox>(name);
        INFO(name.toStdString());
        REQUIRE(combo);
        click(combo);
        QTest::qWait(QApplication::doubleClickInterval() + 50);  // a list that has just opened takes no click
        REQUIRE(QApplication::activePopupWidget());
        QWidget* list = combo->view()->window();
        const QPoint at =
            combo->view()->viewport()->mapTo(list, combo->view()->visualRect(combo->model()->index(entry, 0)).center());
        QTest::mouseMove(list->windowHandle(), at);
        QTest::mousePress(list->windowHandle(), Qt::LeftButton, {}, at);
        QTest::mouseRelease(list->windowHandle(), Qt::LeftButton, {}, at);
        QTest::qWait(30);
    }
    QString said() {
        auto* notice = find<QFrame>("notice");
        if (!notice) return {};
        return notice->findChild<QLabel*>()->text();
    }
    QPoint card(const std::string& id) {
        const QRect rect = window.strip().card_rect(id);
        REQUIRE_FALSE(rect.isEmpty());
        return in_window(&window.strip(), rect.center());
    }
    /// Pixel of a point of space, in the window.
    QPoint at(double x, double y, double z) {
        return in_window(&window.viewport(), window.viewport().screen_of({x, y, z}));
    }

private:
    void choose_in(QMenu* menu, const QString& entry) {
        REQUIRE(menu);
        for (QAction* action : menu->actions()) {
            if (!action->text().startsWith(entry)) continue;
            REQUIRE(action->isEnabled());
            const QPoint at = menu->actionGeometry(action).center();
            QTest::mouseMove(menu->windowHandle(), at);
            QTest::mousePress(menu->windowHandle(), Qt::LeftButton, {}, at);
            QTest::mouseRelease(menu->windowHandle(), Qt::LeftButton, {}, at);
            QTest::qWait(10);
            return;
        }
        FAIL("no menu entry " << entry.toStdString());
    }
};

}  // namespace bricol::test
