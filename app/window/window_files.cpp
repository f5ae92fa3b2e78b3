// SPDX-License-Identifier: GPL-3.0-or-later
// Saving, opening and exporting from the room.
#include "app/window/main_window.h"

#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QSettings>

#include "app/document/step_edits.h"
#include "app/theme/theme.h"
#include "core/exchange/clip.h"
#include "core/exchange/export.h"
#include "core/exchange/kits.h"
#include "core/exchange/recipe_file.h"

namespace bricol {

bool MainWindow::save_kit(const std::string& step, const QString& path) {
    auto inside =
        recipe_inside(session_.recipe(), session_.part(), step, session_.kits(), session_.folder().toStdString());
    if (!inside) {
        session_.say(QString::fromStdString(inside.problem().text()), true);
        return false;
    }
    inside->title = QFileInfo(path).completeBaseName().toStdString();
    if (const auto problem = save_recipe(*inside, path.toStdString())) {
        session_.say(QString::fromStdString(problem->text()), true);
        return false;
    }
    const QString relative = session_.path().isEmpty()
                                 ? QFileInfo(path).absoluteFilePath()
                                 : QDir(session_.folder()).relativeFilePath(QFileInfo(path).absoluteFilePath());
    session_.edit(set_setting(session_.recipe(), session_.part(), step, "kit", relative.toStdString()),
                  "Save as kit recipe");
    session_.say("Saved " + QFileInfo(path).fileName() +
                 ". Any recipe can use it; it changes here when the file changes.");
    return true;
}

void MainWindow::save_kit_with_dialog(const std::string& step) {
    QString path = QFileDialog::getSaveFileName(this, "Save as kit recipe",
                                                session_.folder() + "/" + QString::fromStdString(step) + ".bricol",
                                                "Bricol recipes (*.bricol)");
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().isEmpty()) path += ".bricol";
    save_kit(step, path);
}

void MainWindow::save() {
    if (session_.path().isEmpty())
        save_as();
    else
        session_.save(session_.path());
}

void MainWindow::save_as() {
    QString path = QFileDialog::getSaveFileName(
        this, "Save the recipe", session_.path().isEmpty() ? session_.folder() + "/piece.bricol" : session_.path(),
        "Bricol recipes (*.bricol)");
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().isEmpty()) path += ".bricol";
    session_.save(path, true);
}

void MainWindow::open_with_dialog() {
    const QString path =
        QFileDialog::getOpenFileName(this, "Open a recipe", session_.folder(), "Bricol recipes (*.bricol)");
    if (!path.isEmpty()) open(path);
}

void MainWindow::export_with_dialog() {
    QSettings settings;
    const QString suffix = settings.value("exportSuffix", "glb").toString();
    const QString stem = session_.path().isEmpty() ? "piece" : QFileInfo(session_.path()).completeBaseName();
    QString path = QFileDialog::getSaveFileName(this, "Export", session_.folder() + "/" + stem + "." + suffix,
                                                "Shapes (*.glb *.obj *.ply *.stl)");
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().isEmpty()) path += "." + suffix;
    settings.setValue("exportSuffix", QFileInfo(path).suffix());
    export_to(path);
}

void MainWindow::export_to(const QString& path) {
    if (exporting_.joinable()) {
        stop_export_ = true;  // a newer export takes the place of one still at work
        exporting_.join();
    }
    stop_export_ = false;
    session_.say("Exporting " + QFileInfo(path).fileName() + " …");
    exporting_ = std::thread([this, path, recipe = session_.recipe(), kits = session_.kits(),
                              folder = session_.path().isEmpty() ? std::string() : session_.folder().toStdString(),
                              surroundings = session_.surroundings()] {
        // Made anew with the export levels, exactly as the command line does it.
        Maker maker;
        MakeOptions options;
        options.for_export = true;
        options.stop = &stop_export_;
        options.find_kit = kits;
        options.folder = folder;
        options.surroundings = surroundings;
        const Made made = maker.make(recipe, options);
        if (made.stopped) return;
        std::vector<NamedShape> shapes;
        for (std::size_t p = 0; p < recipe.parts.size(); ++p)
            if (!recipe.parts[p]->hidden) shapes.push_back({recipe.parts[p]->name, made.parts[p]->shape});
        const auto problem = export_shapes(shapes, path.toStdString());
        const QString text =
            problem ? QString::fromStdString(problem->text()) : "Exported " + QFileInfo(path).fileName();
        QMetaObject::invokeMethod(this, [this, text, failed = problem.has_value()] { session_.say(text, failed); });
    });
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (session_.changed() && !closing_) {
        event->ignore();
        unless_unsaved([this] {
            closing_ = true;
            close();
        });
        return;
    }
    session_.discard_autosave();
    QSettings settings;
    settings.setValue("geometry", saveGeometry());
    settings.setValue("across", across_->saveState());
    settings.setValue("down", down_->saveState());
    settings.setValue("shading", static_cast<int>(viewport_->shading()));
    event->accept();
}

}  // namespace bricol
