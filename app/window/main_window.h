// SPDX-License-Identifier: GPL-3.0-or-later
// The room: parts and dials on the left, the shape in the middle, the step in hand on the right, the strip below.
#pragma once

#include <QElapsedTimer>
#include <QLabel>
#include <QMainWindow>
#include <QMenuBar>
#include <QProgressBar>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <atomic>
#include <memory>
#include <thread>

#include "app/addbar/add_bar.h"
#include "app/details/details_panel.h"
#include "app/document/session.h"
#include "app/parts/parts_panel.h"
#include "app/start/start_page.h"
#include "app/sheet/sheet_pages.h"
#include "app/strip/strip_view.h"
#include "app/table/attribute_table.h"
#include "app/time/time_bar.h"
#include "app/trace/trace_panel.h"
#include "app/viewport/viewport.h"
#include "app/window/band.h"
#include "core/files/delivered.h"

namespace bricol {

/// What an export writes.
struct ExportedShapes {
    std::vector<NamedShape> shapes;
    ShapeNames names;
};

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    Session& session() { return session_; }
    Viewport& viewport() { return *viewport_; }
    StripView& strip() { return *strip_; }
    AddBar& add_bar() { return *add_bar_; }
    AddBar& pointer_bar() { return *pointer_bar_; }
    StepSheet& sheet() { return sheets_->steps(); }
    MixerSheet& mixer() { return sheets_->mixer(); }
    AttributeTable& table() { return *table_; }
    TimeBar& time_bar() { return *time_bar_; }
    TracePanel& trace_panel() { return *trace_; }
    /// Brings a panel of the band below to the front.
    void show_panel(std::string_view id);
    /// The one in front.
    std::string_view panel() const;
    /// Writes the recipe of a recipe step to a file of its own and lets the step use that.
    bool save_kit(const std::string& step, const QString& path);
    bool open(const QString& path);
    /// A drawn curve and a lathe, in the front view, with the pen in hand.
    void start_profile();
    void show_start_page();
    /// Ends what works beside the window; whether it obeyed in this time.
    bool end_work(std::chrono::milliseconds time);
    /// Makes the recipe with its export levels and writes it, on a thread of its own; says when it is done.
    void export_to(const QString& path);

    void choose_reference_picture();

    // What commands do.
    /// A line under the menus that goes away by itself.
    void say(const QString& text, bool error);
    /// One that stays until it is answered.
    void notice(const QString& text, std::vector<std::pair<QString, std::function<void()>>> answers);
    /// Asks in the notice line whether unsaved work may go; then runs `next`.
    void unless_unsaved(std::function<void()> next);
    void save();
    void save_as();
    void open_with_dialog();
    void export_with_dialog();
    void save_kit_with_dialog(const std::string& step);
    bool on_sheet() const;
    QFrame& left() { return *left_; }
    QWidget& right() { return *right_; }
    QFrame& band_frame() { return *band_; }

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    void make_menus();
    void layout_room();
    QWidget* make_top_bar();
    void make_notice();
    void make_progress();
    void show_progress();
    void make_side_panels();
    void fit_band(bool tall);
    void refresh_status();
    void refresh_undo();
    void leave_start_page();
    void offer_recovery();
    void follow_recipe();
    void share_left_side();

    std::unique_ptr<Renderer> renderer_;
    Session session_;
    QMenuBar* menu_bar_;
    AddBar *add_bar_, *pointer_bar_;
    SheetPages* sheets_;
    AttributeTable* table_;
    TimeBar* time_bar_;
    TracePanel* trace_;
    QLabel *file_label_, *status_label_;
    PartsPanel* parts_;
    QStackedWidget* middle_;
    Viewport* viewport_;
    StartPage* start_page_ = nullptr;
    StripView* strip_;
    Band* band_;
    QFrame *notice_, *left_;
    QStackedWidget* right_;
    QLabel* notice_text_;
    QHBoxLayout* notice_row_;
    QFrame* progress_;
    QLabel* progress_text_;
    QProgressBar* progress_bar_;
    QTimer progress_timer_, notice_timer_;
    QSplitter *across_, *down_, *left_split_;
    bool left_side_by_hand_ = false;
    QAction *undo_, *redo_;
    bool closing_ = false, band_tall_ = false;
    void stop_exporting();
    /// Writes made shapes on a thread of their own; says when it is done.
    void write_export(const QString& path, const std::shared_ptr<const ExportedShapes>& order);
    /// Shows the errors of what would be exported, and asks.
    void ask_about_errors(const QString& path, const std::shared_ptr<const ExportedShapes>& order,
                          const QStringList& errors);
    std::thread exporting_;
    std::atomic<bool> stop_export_ = false;
    std::atomic<int> exports_ = 0;  ///< at work
};

}  // namespace bricol
