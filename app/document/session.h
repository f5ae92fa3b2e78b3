// SPDX-License-Identifier: GPL-3.0-or-later
// The open document: recipe, history, file, what is made of it, and what the artist has chosen. Views send edits here
// and look at the result; they never talk to one another.
#pragma once

#include <QElapsedTimer>
#include <QFileSystemWatcher>
#include <QObject>
#include <QString>
#include <QTimer>
#include <future>
#include <set>

#include "app/document/worker.h"
#include "core/files/kits.h"
#include "core/recipe/edit.h"
#include "core/recipe/history.h"

namespace bricol {

class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(QObject* parent = nullptr);
    ~Session() override;

    // ---- document
    const Recipe& recipe() const { return history_.now(); }
    /// Takes an edit into the history, or says why it was refused. Edits with the same `merge` in a row are one undo.
    bool edit(const Edited& edited, const QString& name, const QString& merge = {});
    void part_edits() { history_.part_edits(); }
    void undo();
    void redo();
    const History& history() const { return history_; }

    void start_new(Recipe recipe, const QString& path = {});
    bool open(const QString& path);
    /// Saves; false when it failed or needs an answer (then `asked` was emitted).
    bool save(const QString& path, bool over_others = false);
    QString path() const { return path_; }
    QString folder() const;
    bool changed() const;
    /// Autosaved work of sessions that ended without saving: files, newest first.
    static QStringList recoverable();
    /// The recipe that autosaved work belongs to; empty for one that was never saved.
    static QString autosave_of(const QString& autosave);
    bool recover(const QString& autosave);
    void discard_autosave();

    // ---- making
    const Made* made() const { return made_.get(); }
    const Recipe& made_recipe() const { return *made_recipe_; }
    const StepOutcome* outcome(const std::string& part, const std::string& step) const;
    Worker& worker() { return worker_; }
    /// Works out numbers of the recipe as it stands; what was made is that of the last making.
    Resolver resolver() const;
    /// What the recipe is made with: the one way to it for the worker, exports and traces.
    Environment environment() const;
    /// Lets this recipe read files outside its folder, now and whenever it is opened again.
    void allow_outside();
    /// Frame and seed that formulas see; changing them makes the recipe again.
    Surroundings surroundings() const { return surroundings_; }
    void set_surroundings(Surroundings surroundings);

    // ---- choice
    const std::string& part() const { return part_; }
    const std::string& step() const { return step_; }
    const std::string& peek() const { return peek_; }  ///< step whose output is shown; empty for the result
    const std::set<int>& knots() const { return knots_; }
    int curve() const { return curve_; }
    void choose_part(const std::string& part);
    void choose(const std::string& part, const std::string& step);
    void set_peek(const std::string& step);
    void choose_knots(int curve, std::set<int> knots);
    const Part* chosen_part() const { return recipe().part(part_); }
    const Step* chosen_step() const;

    /// Copied link: the full name of a number ("body.turn.segments" or a dial).
    std::string copied_link;
    double copied_value = 0;

    void say(const QString& text, bool error = false) { emit said(text, error); }

signals:
    void recipeChanged();
    void madeChanged();
    void choiceChanged();
    void knotsChanged();
    void fileChanged();
    /// Another recipe is in hand.
    void opened();
    void said(const QString& text, bool error);
    /// The recipe names files outside its folder; they were not read.
    void outsideRefused(const QStringList& files);
    /// The file was changed by someone else since it was opened or saved.
    void asked(const QString& path);

private:
    void changed_recipe(const Recipe& before);
    void remake();
    void watch_kits();
    void place_fence();
    void tell_refused();
    std::set<std::string> told_refused_;
    void autosave();
    void autosaved(const QString& why_not);
    /// Stays with what was chosen in `before`, under its name now; what is gone gives way to the result.
    void keep_choice_valid(const Recipe& before);

    Surroundings surroundings_;
    const std::shared_ptr<FileFence> fence_;
    const Environment readers_;  ///< kits and files, kept until they change
    QFileSystemWatcher* kit_watcher_;
    Worker worker_;
    History history_;
    Recipe saved_;
    std::shared_ptr<const Made> made_;
    std::shared_ptr<const Recipe> made_recipe_;
    QString path_, autosave_path_;
    std::uint64_t file_hash_ = 0;
    std::string part_, step_, peek_;
    std::set<int> knots_;
    int curve_ = 0;
    QTimer autosave_timer_;
    bool autosave_at_work_ = false, autosave_due_ = false;  ///< due: again as soon as the one at work is done
    QElapsedTimer unsaved_since_;
    std::future<void> autosaving_;  ///< on a thread of its own: a slow disk must not hold up the window
};

}  // namespace bricol
