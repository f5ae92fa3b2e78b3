// SPDX-License-Identifier: GPL-3.0-or-later
// Saving, exporting and getting work back, in the real window.
#include <QDialogButtonBox>
#include <QElapsedTimer>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <fstream>
#include <map>
#include <unistd.h>

#include "app/document/step_edits.h"
#include "core/files/export.h"
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

std::string content(const QString& path) {
    std::ifstream file(path.toStdString(), std::ios::binary);
    return {std::istreambuf_iterator<char>(file), {}};
}

}  // namespace

TEST_CASE("saving, reopening and exporting give the command line's bytes", "[app][files]") {
    Room room(demo_file);
    auto* field = room.find<NumberField>("dial:girth");
    room.click(field);
    room.type("1.1");
    room.key(Qt::Key_Return);
    const QString file = room.folder.filePath("mine.bricol");
    REQUIRE(room.session().save(file, true));
    CHECK_FALSE(room.session().changed());
    const Recipe saved = room.recipe();
    // Through the dialog: the name in it is written over.
    QString offered;
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, [&] {
        auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
        if (!dialog) return;
        look.stop();
        auto* name = dialog->findChild<QLineEdit*>();
        offered = name->text();
        name->setText(room.folder.filePath("window.glb"));
        QTest::mouseClick(dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Save), Qt::LeftButton);
    });
    look.start(50);
    room.click(field);  // with the hand in a field, too
    room.key(Qt::Key_E, Qt::ControlModifier);
    REQUIRE(QTest::qWaitFor([&] { return !offered.isEmpty(); }, 10000));
    CHECK(offered == "mine.glb");
    REQUIRE(QTest::qWaitFor([&] { return room.said().startsWith("Exported"); }, 10000));
    const QString command = QString("'%1' make '%2' --quiet --set girth=1.1 --out '%3'")
                                .arg(COMMAND_PATH, demo_file, room.folder.filePath("command.glb"));
    REQUIRE(system(command.toUtf8()) == 0);
    CHECK(content(room.folder.filePath("window.glb")) == content(room.folder.filePath("command.glb")));
    CHECK(content(room.folder.filePath("window.glb")).size() > 10000);
    Room other(file);
    CHECK(same(other.recipe(), saved));
}

TEST_CASE("an export from the window reads the files its steps name", "[app][files]") {
    Room room;
    REQUIRE(QFile::copy(QString(SOURCE_FOLDER) + "/demo/buoy-sketch.svg", room.folder.filePath("sketch.svg")));
    const QString file = room.folder.filePath("outline.bricol");
    REQUIRE_FALSE(write_file(
        file.toStdString(),
        R"({"bricol":1,"parts":[{"name":"plate","steps":[{"id":"o","step":"svg_outline","file":"sketch.svg"},{"id":"f","step":"fill"}]}]})"));
    REQUIRE(room.window.open(file));
    CHECK(room.part("plate").shape->mesh.face_count() > 0);
    room.window.export_to(room.folder.filePath("window.glb"));
    REQUIRE(QTest::qWaitFor([&] { return room.said().startsWith("Exported"); }, 10000));
    const QString command =
        QString("'%1' make '%2' --quiet --out '%3'").arg(COMMAND_PATH, file, room.folder.filePath("command.glb"));
    REQUIRE(system(command.toUtf8()) == 0);
    CHECK(content(room.folder.filePath("window.glb")) == content(room.folder.filePath("command.glb")));
    CHECK(content(room.folder.filePath("window.glb")).size() > 500);
}

TEST_CASE("a recipe with errors is exported only when it is asked for", "[app][files][bad input]") {
    Room room;
    const QString file = room.folder.filePath("broken.bricol"), out = room.folder.filePath("out.glb");
    REQUIRE_FALSE(write_file(
        file.toStdString(),
        R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"b","step":"box"},{"id":"d","step":"delete","only":"nothing"}]}]})"));
    REQUIRE(room.window.open(file));
    room.window.export_to(out);
    REQUIRE(QTest::qWaitFor([&] { return room.find("answer:Export anyway") != nullptr; }, 10000));
    CHECK_FALSE(QFile::exists(out));
    CHECK(room.find<QLabel>("noticeText")->text().contains("nothing"));
    room.click(room.find("answer:Export anyway"));
    REQUIRE(QTest::qWaitFor([&] { return room.said().startsWith("Exported"); }, 10000));
    CHECK(content(out).size() > 500);
    // Closed without an answer, nothing is written.
    QFile::remove(out);
    room.window.export_to(out);
    REQUIRE(QTest::qWaitFor([&] { return room.find("answer:Close") != nullptr; }, 10000));
    room.click(room.find("answer:Close"));
    QTest::qWait(500);  // writing would happen on a thread of its own
    CHECK_FALSE(QFile::exists(out));
}

TEST_CASE("someone else's change is not overwritten without asking", "[app][files][bad input]") {
    Room room(demo_file);
    const QString file = room.folder.filePath("shared.bricol");
    REQUIRE(room.session().save(file, true));
    REQUIRE_FALSE(write_file(file.toStdString(), content(file) + "\n"));
    room.session().edit(turn_dial(room.recipe(), "girth", 1.2), "Turn");
    const std::string theirs = content(file);
    room.key(Qt::Key_S, Qt::ControlModifier);
    CHECK(room.said().contains("changed by someone else"));
    CHECK(content(file) == theirs);
    room.click(room.find("answer:Save over it"));
    CHECK(content(file) != theirs);
    CHECK_FALSE(room.session().changed());
}

TEST_CASE("a file that cannot be written or read is told, and nothing is lost", "[app][files][bad input]") {
    Room room(demo_file);
    room.session().edit(turn_dial(room.recipe(), "girth", 1.2), "Turn");
    const Recipe mine = room.recipe();
    CHECK_FALSE(room.session().save("/nowhere/at/all.bricol"));
    CHECK(room.said().contains("could not be written"));
    CHECK(same(room.recipe(), mine));
    const QString broken = room.folder.filePath("broken.bricol");
    REQUIRE_FALSE(write_file(broken.toStdString(), content(demo_file).substr(0, 500)));
    CHECK_FALSE(room.window.open(broken));
    CHECK(room.said().contains("cut off"));
    CHECK(same(room.recipe(), mine));
}

TEST_CASE("work that never rests is kept all the same", "[app][files][alone]") {
    Room room(demo_file);
    const QDir folder(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave");
    // An edit every tenth of a second for eight seconds; a crash at any moment may cost the last five of them, and as
    // long as the disk takes to write: how long that is at worst, a file beside it tells.
    std::map<double, qint64> turned;  // the dial's value and when it was given
    QElapsedTimer clock;
    clock.start();
    qint64 most = 0, slowest_write = 0;
    for (int i = 0; clock.elapsed() < 8000; ++i) {
        const double value = 1 + i * 0.001;
        REQUIRE(room.session().edit(turn_dial(room.recipe(), "girth", value), "Turn"));
        turned[value] = clock.elapsed();
        QTest::qWait(100);
        if (i % 10 == 0) {
            const qint64 before = clock.elapsed();
            REQUIRE_FALSE(save_recipe(room.recipe(), folder.filePath("beside").toStdString()));
            slowest_write = std::max(slowest_write, clock.elapsed() - before);
        }
        qint64 kept = 0;
        for (const QString& name : folder.entryList({QString("%1-*.bricol").arg(getpid())}, QDir::Files))
            if (const auto saved = load_recipe(folder.filePath(name).toStdString()); saved && saved->dial("girth"))
                if (const auto at = turned.find(saved->dial("girth")->value); at != turned.end())
                    kept = std::max(kept, at->second);
        most = std::max(most, clock.elapsed() - kept);
    }
    INFO("slowest write " << slowest_write);
    CHECK(most < 5000 + 2 * slowest_write);
}

TEST_CASE("work that was never saved is recovered after a crash", "[app][files]") {
    QString autosave;
    Recipe work;
    {
        Room room(demo_file);
        room.session().edit(turn_dial(room.recipe(), "girth", 1.33), "Turn");
        work = room.recipe();
        const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave";
        REQUIRE(QTest::qWaitFor([&] { return !QDir(folder).entryList({"*.bricol"}, QDir::Files).isEmpty(); }, 5000));
        const QString mine = QDir(folder).filePath(QDir(folder).entryList({"*.bricol"}, QDir::Files).first());
        // A process that is gone: no process has this number on Linux.
        autosave = QDir(folder).filePath("4194999-1.bricol");
        REQUIRE(QFile::copy(mine, autosave));
    }
    REQUIRE(Session::recoverable().contains(autosave));
    Room room;
    room.window.show_start_page();
    QTest::qWait(50);
    room.click(room.find("recover"));
    room.settle();
    CHECK(room.recipe().dial("girth")->value == Approx(1.33));
    CHECK(room.session().changed());
    CHECK(room.session().path() == demo_file);
    CHECK_FALSE(QFile::exists(autosave));
}
