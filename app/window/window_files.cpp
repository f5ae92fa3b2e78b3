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
#include "core/recipe/clip.h"
#include "core/files/export.h"
#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

/// What a file dialog offers: "Shapes (*.glb *.obj …)".
QString shape_filter() {
    QStringList endings;
    for (const FormatInfo* format : all_formats()) endings << "*." + text_of(format->suffix);
    return "Shapes (" + endings.join(' ') + ")";
}

/// Every error of a made recipe, a line each: where it is and what it says.
QStringList error_lines(const Recipe& recipe, const Made& made) {
    QStringList lines;
    const auto add = [&](const std::vector<Finding>& findings, const std::string& where) {
        for (const Finding& finding : findings)
            if (finding.severity == Severity::error)
                lines << QString::fromStdString((where.empty() ? "" : where + ": ") + finding.text);
    };
    for (std::size_t p = 0; p < made.steps.size(); ++p)
        for (std::size_t s = 0; s < made.steps[p].size(); ++s)
            if (made.steps[p][s])
                add(made.steps[p][s]->findings, recipe.parts[p]->name + "." + recipe.parts[p]->steps[s]->id);
    for (std::size_t p = 0; p < made.parts.size(); ++p)
        if (made.parts[p]) add(made.parts[p]->findings, recipe.parts[p]->name);
    add(made.findings, "");
    return lines;
}

}  // namespace

bool MainWindow::save_kit(const std::string& step, const QString& path) {
    auto inside = recipe_inside(session_.recipe(), session_.part(), step, session_.environment().find_kit,
                                session_.folder().toStdString());
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
    QString path =
        QFileDialog::getSaveFileName(this, "Export", session_.folder() + "/" + stem + "." + suffix, shape_filter());
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().isEmpty()) path += "." + suffix;
    settings.setValue("exportSuffix", QFileInfo(path).suffix());
    export_to(path);
}

void MainWindow::stop_exporting() {
    stop_export_ = true;
    if (exporting_.joinable()) exporting_.join();
    stop_export_ = false;
}

bool MainWindow::end_work(std::chrono::milliseconds time) {
    const auto until = std::chrono::steady_clock::now() + time;
    stop_export_ = true;
    const bool ended = session_.worker().end_within(time);
    while (exports_ > 0 && std::chrono::steady_clock::now() < until)
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    return ended && exports_ == 0;
}

namespace {

/// Counts one while it lives.
class Counted {
public:
    explicit Counted(std::atomic<int>& count) : count_(count) { ++count_; }
    ~Counted() { --count_; }
    Counted(const Counted&) = delete;
    Counted& operator=(const Counted&) = delete;

private:
    std::atomic<int>& count_;
};

}  // namespace

void MainWindow::export_to(const QString& path) {
    stop_exporting();  // a newer export takes the place of one still at work
    session_.say("Exporting " + QFileInfo(path).fileName() + " …");
    exporting_ = std::thread([this, path, recipe = session_.recipe(), environment = session_.environment()] {
        const Counted at_work(exports_);
        // Made anew with the export levels, exactly as the command line does it.
        MakeOptions options;
        options.environment = environment;
        options.for_export = true;
        options.stop = &stop_export_;
        const auto made = std::make_shared<const Made>(Maker().make(recipe, options));
        if (made->stopped) return;
        const auto order = std::make_shared<ExportedShapes>(
            ExportedShapes{shapes_to_write(recipe, *made), shape_names(recipe, *made)});
        const QStringList errors = error_lines(recipe, *made);
        QMetaObject::invokeMethod(this, [this, path, order, errors] {
            if (errors.isEmpty())
                write_export(path, order);
            else
                ask_about_errors(path, order, errors);
        });
    });
}

void MainWindow::ask_about_errors(const QString& path, const std::shared_ptr<const ExportedShapes>& order,
                                  const QStringList& errors) {
    const QString many = errors.size() > 1 ? QString(", and %1 more").arg(errors.size() - 1) : QString();
    session_.say("Not exported: the recipe has errors.", true);
    notice(QString("Not exported to %1, because the recipe has errors: %2%3")
               .arg(QFileInfo(path).fileName(), errors[0], many),
           {{"Export anyway", [this, path, order] { write_export(path, order); }}});
}

void MainWindow::write_export(const QString& path, const std::shared_ptr<const ExportedShapes>& order) {
    stop_exporting();
    exporting_ = std::thread([this, path, order] {
        const Counted at_work(exports_);
        ExportOptions options;
        options.copied = &order->names;
        const auto problem = export_shapes(order->shapes, path.toStdString(), options);
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
    settings.setValue("shading", text_of(viewport_->shading().id));
    event->accept();
}

}  // namespace bricol
