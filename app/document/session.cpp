// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/session.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>
#include <csignal>
#include <unistd.h>
#include <utility>

#include "app/document/renamed.h"
#include "core/make/ask_made.h"
#include "core/files/beside.h"
#include "core/files/kits.h"
#include "core/files/files.h"
#include "core/files/recipe_file.h"
#include "core/recipe/settings.h"

namespace bricol {

namespace {

QString autosave_folder() {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave";
    QDir().mkpath(folder);
    return folder;
}

/// Setting with the recipes that may read files outside their folder.
const char* const outside_allowed = "outsideAllowed";

std::uint64_t hash_of(const std::string& text) { return std::hash<std::string>{}(text); }

std::uint64_t hash_of_file(const QString& path) {
    const auto text = read_file(path.toStdString());
    return text ? hash_of(*text) : 0;
}

}  // namespace

Session::Session(QObject* parent)
    : QObject(parent),
      fence_(std::make_shared<FileFence>("")),
      readers_(environment_in({}, {}, fence_)),
      kit_watcher_(new QFileSystemWatcher(this)),
      worker_(this),
      history_(Recipe{}) {
    // Saving replaces a file, so its watch is gone with the old one: set anew a moment later.
    connect(kit_watcher_, &QFileSystemWatcher::fileChanged, this,
            [this] { QTimer::singleShot(60, this, &Session::remake); });
    made_recipe_ = std::make_shared<const Recipe>();
    connect(&worker_, &Worker::made, this,
            [this](std::shared_ptr<const Made> made, std::shared_ptr<const Recipe> recipe) {
                made_ = std::move(made);
                made_recipe_ = std::move(recipe);
                emit madeChanged();
                tell_refused();
            });
    connect(&worker_, &Worker::failed, this, [this](const QString& why) { say(why, true); });
    autosave_timer_.setSingleShot(true);
    autosave_timer_.setInterval(2000);
    connect(&autosave_timer_, &QTimer::timeout, this, &Session::autosave);
    static int number = 0;
    autosave_path_ = QString("%1/%2-%3.bricol").arg(autosave_folder()).arg(getpid()).arg(++number);
}

Session::~Session() = default;

bool Session::edit(const Edited& edited, const QString& name, const QString& merge) {
    if (!edited) {
        say(QString::fromStdString(edited.problem().text()), true);
        return false;
    }
    if (same(*edited, recipe())) return true;
    const Recipe before = recipe();
    history_.add(*edited, name.toStdString(), merge.toStdString());
    changed_recipe(before);
    return true;
}

void Session::undo() {
    if (!history_.can_undo()) return;
    say("Undone: " + QString::fromStdString(history_.undo_name()));
    const Recipe before = recipe();
    history_.undo();
    changed_recipe(before);
}

void Session::redo() {
    if (!history_.can_redo()) return;
    say("Done again: " + QString::fromStdString(history_.redo_name()));
    const Recipe before = recipe();
    history_.redo();
    changed_recipe(before);
}

void Session::changed_recipe(const Recipe& before) {
    keep_choice_valid(before);
    emit recipeChanged();
    remake();
    // Not put off by edit after edit; and where so much is to do that no timer gets its turn, the edit itself saves.
    if (!autosave_timer_.isActive()) {
        unsaved_since_.start();
        autosave_timer_.start();
    } else if (unsaved_since_.hasExpired(autosave_timer_.interval())) {
        autosave_timer_.stop();
        autosave();
    }
}

void Session::remake() {
    worker_.request(recipe(), environment());
    watch_kits();
}

Environment Session::environment() const {
    Environment environment = readers_;
    environment.surroundings = surroundings_;
    if (!path_.isEmpty()) environment.folder = folder().toStdString();
    return environment;
}

void Session::place_fence() {
    const QStringList allowed = QSettings().value(outside_allowed).toStringList();
    fence_->enclose(path_.isEmpty() ? "" : folder().toStdString(), allowed.contains(path_));
    told_refused_.clear();
}

void Session::allow_outside() {
    QSettings settings;
    QStringList allowed = settings.value(outside_allowed).toStringList();
    if (!allowed.contains(path_)) allowed << path_;
    settings.setValue(outside_allowed, allowed);
    place_fence();
    remake();
}

void Session::tell_refused() {
    std::set<std::string> refused = fence_->refused();
    if (refused == told_refused_) return;
    told_refused_ = std::move(refused);
    QStringList files;
    for (const std::string& file : told_refused_) files << QString::fromStdString(file);
    if (!files.isEmpty()) emit outsideRefused(files);
}

void Session::set_surroundings(Surroundings surroundings) {
    if (surroundings == surroundings_) return;
    surroundings_ = surroundings;
    remake();
}

void Session::watch_kits() {
    // Kit recipes beside this one: when a file changes, what uses it is made again.
    QStringList wanted;
    for (const auto& part : recipe().parts)
        for (const auto& step : part->steps)
            each_file_name(*step, [&](const std::string& name) {
                const std::string path = kit_path(name, folder().toStdString());
                wanted << QString::fromStdString(path);
                for (const std::string& more : material_paths(path)) wanted << QString::fromStdString(more);
            });
    wanted.removeDuplicates();
    const QStringList watched = kit_watcher_->files();
    for (const QString& file : watched)
        if (!wanted.contains(file)) kit_watcher_->removePath(file);
    for (const QString& file : wanted)
        if (!watched.contains(file) && QFile::exists(file)) kit_watcher_->addPath(file);
}

void Session::start_new(Recipe recipe, const QString& path) {
    history_ = History(recipe);
    saved_ = std::move(recipe);
    path_ = path;
    place_fence();
    file_hash_ = 0;
    made_.reset();
    part_.clear();
    step_.clear();
    peek_.clear();
    knots_.clear();
    keep_choice_valid(history_.now());
    emit opened();
    emit fileChanged();
    emit recipeChanged();
    emit choiceChanged();
    remake();
}

bool Session::open(const QString& path) {
    if (path.contains(QChar::ReplacementCharacter)) {  // what Qt makes of letters it cannot read
        say(QString(
                "The name “%1” is not written in UTF-8, so it cannot be shown or kept in a recipe. Rename the file, "
                "then open it.")
                .arg(QFileInfo(path).fileName()),
            true);
        return false;
    }
    auto recipe = load_recipe(path.toStdString());
    if (!recipe) {
        say(QString::fromStdString(recipe.problem().text()), true);
        return false;
    }
    start_new(std::move(*recipe), QFileInfo(path).absoluteFilePath());
    file_hash_ = hash_of_file(path_);
    emit fileChanged();
    return true;
}

bool Session::save(const QString& path, bool over_others) {
    const QString target = QFileInfo(path).absoluteFilePath();
    if (!over_others && target == path_ && file_hash_ != 0) {
        const std::uint64_t there = hash_of_file(target);
        if (there != 0 && there != file_hash_) {
            emit asked(target);
            return false;
        }
    }
    const std::string text = recipe_text(recipe());
    auto problem = would_not_open(text);  // what stands in the file stays until something better is known to be better
    if (!problem) problem = write_file(target.toStdString(), text);
    if (problem) {
        say(QString::fromStdString(problem->text()), true);
        return false;
    }
    const bool moved = path_ != target;
    path_ = target;
    if (moved) {
        place_fence();
        remake();
    }
    file_hash_ = hash_of(text);
    saved_ = recipe();
    discard_autosave();
    say("Saved " + QFileInfo(target).fileName());
    emit fileChanged();
    return true;
}

QString Session::folder() const { return path_.isEmpty() ? QDir::homePath() : QFileInfo(path_).absolutePath(); }

bool Session::changed() const { return !same(saved_, recipe()); }

void Session::autosave() {
    if (!changed()) {
        discard_autosave();
        return;
    }
    if (autosave_at_work_) {
        autosave_due_ = true;  // the disk is busy with the one before; as soon as that is written
        return;
    }
    Recipe copy = recipe();
    copy.extra["autosave_of"] = path_.toStdString();
    autosave_at_work_ = true;
    autosaving_ = std::async(std::launch::async, [this, copy, path = autosave_path_.toStdString()] {
        const auto problem = save_recipe(copy, path);
        const QString why = problem ? "Autosave failed. " + QString::fromStdString(problem->text()) : QString();
        QMetaObject::invokeMethod(
            this, [this, why] { autosaved(why); }, Qt::QueuedConnection);
    });
}

void Session::autosaved(const QString& why_not) {
    autosave_at_work_ = false;
    if (!why_not.isEmpty()) say(why_not, true);
    if (std::exchange(autosave_due_, false)) autosave();
}

void Session::discard_autosave() {
    autosave_timer_.stop();
    autosave_due_ = false;
    if (autosaving_.valid()) autosaving_.wait();
    QFile::remove(autosave_path_);
}

QStringList Session::recoverable() {
    QStringList found;
    for (const QFileInfo& file : QDir(autosave_folder()).entryInfoList({"*.bricol"}, QDir::Files, QDir::Time)) {
        const auto owner = file.baseName().section('-', 0, 0).toLongLong();
        if (owner > 0 && (owner == getpid() || ::kill(static_cast<pid_t>(owner), 0) == 0)) continue;  // still at work
        found << file.absoluteFilePath();
    }
    return found;
}

QString Session::autosave_of(const QString& autosave) {
    const auto recipe = load_recipe(autosave.toStdString());
    if (!recipe || !recipe->extra.contains("autosave_of") || !recipe->extra["autosave_of"].is_string()) return {};
    return QString::fromStdString(recipe->extra["autosave_of"].get<std::string>());
}

bool Session::recover(const QString& autosave) {
    auto recipe = load_recipe(autosave.toStdString());
    if (!recipe) {
        say(QString::fromStdString(recipe.problem().text()), true);
        return false;
    }
    const QString original = autosave_of(autosave);
    (*recipe).extra.erase("autosave_of");
    start_new(std::move(*recipe));
    saved_ = Recipe{};  // recovered work counts as unsaved
    path_ = original;
    place_fence();
    remake();
    file_hash_ = original.isEmpty() ? 0 : hash_of_file(original);
    QFile::remove(autosave);
    this->autosave();
    emit fileChanged();
    return true;
}

Resolver Session::resolver() const {
    return Resolver(recipe(), surroundings_, made_ ? asking(*made_recipe_, made_.get()) : asking(recipe(), nullptr));
}

const StepOutcome* Session::outcome(const std::string& part, const std::string& step) const {
    return made_ ? made_->step(*made_recipe_, part, step) : nullptr;
}

const Step* Session::chosen_step() const {
    const Part* part = chosen_part();
    return part ? find_step(*part, step_) : nullptr;
}

void Session::keep_choice_valid(const Recipe& before) {
    const std::string part = part_, step = step_, peek = peek_;
    part_ = part_now(before, recipe(), part);
    const Part *was = before.part(part), *chosen = chosen_part();
    if (was && chosen) {
        step_ = step_now(*was, *chosen, step);
        peek_ = step_now(*was, *chosen, peek);
    }
    if (!chosen) {
        // The first that is shown: helpers such as paths and outlines are often hidden and stand before it.
        const auto& parts = recipe().parts;
        const auto shown = std::ranges::find_if(parts, [](const auto& p) { return p->delivered(); });
        part_ = parts.empty() ? "" : shown != parts.end() ? (*shown)->name : parts.front()->name;
        step_.clear();
        chosen = chosen_part();
    }
    if (!chosen || !find_step(*chosen, step_)) {
        const Step* result = chosen ? result_step(*chosen) : nullptr;
        step_ = result ? result->id : "";
        knots_.clear();
    }
    if (!chosen || (!peek_.empty() && !find_step(*chosen, peek_))) peek_.clear();
    if (part != part_ || step != step_ || peek != peek_) emit choiceChanged();
}

void Session::choose_part(const std::string& part) {
    if (part == part_) return;
    const Part* wanted = recipe().part(part);
    const Step* result = wanted ? result_step(*wanted) : nullptr;
    choose(part, result ? result->id : "");
}

void Session::choose(const std::string& part, const std::string& step) {
    if (part == part_ && step == step_) return;
    if (part != part_) peek_.clear();
    part_ = part;
    step_ = step;
    knots_.clear();
    curve_ = 0;
    emit choiceChanged();
}

void Session::set_peek(const std::string& step) {
    if (step == peek_) return;
    peek_ = step;
    emit choiceChanged();
}

void Session::choose_knots(int curve, std::set<int> knots) {
    if (curve == curve_ && knots == knots_) return;
    curve_ = curve;
    knots_ = std::move(knots);
    emit knotsChanged();
}

}  // namespace bricol
