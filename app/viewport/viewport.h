// SPDX-License-Identifier: GPL-3.0-or-later
// The picture of the shape: what is shown, from where, and what is drawn over it.
#pragma once

#include <QElapsedTimer>
#include <QLabel>
#include <QTimer>
#include <QVariantAnimation>
#include <QToolButton>
#include <QWidget>
#include <functional>
#include <new>
#include <set>
#include <utility>

#include "app/document/session.h"
#include "app/viewport/attribute_overlay.h"
#include "app/viewport/camera.h"
#include "app/viewport/knot_bar.h"
#include "app/viewport/handle_tool.h"
#include "app/viewport/knot_tool.h"
#include "app/viewport/pick_bar.h"
#include "app/viewport/pick_tool.h"
#include "app/viewport/renderer.h"
#include "app/viewport/scene_builder.h"
#include "app/viewport/joint_tool.h"
#include "app/viewport/stage_marks.h"
#include "app/viewport/still_view.h"
#include "app/viewport/stick_tool.h"
#include "app/viewport/tool_bar.h"

namespace bricol {

class Viewport : public QWidget {
    Q_OBJECT
public:
    Viewport(Session& session, Renderer* renderer, const QString& no_renderer_reason, QWidget* parent = nullptr);

    Camera& camera() { return camera_; }
    /// Null where there is no usable OpenGL.
    Renderer* renderer() const { return renderer_; }
    KnotTool& knot_tool() { return tool_; }
    StickTool& stick_tool() { return sticks_; }
    JointTool& joint_tool() { return joints_; }
    PickTool& pick_tool() { return picks_; }
    HandleTool& handle_tool() { return handles_; }
    void set_handles(bool on);
    const ShadingInfo& shading() const { return *shading_; }
    void set_shading(const ShadingInfo& shading);
    void set_view(View view);
    /// Turns the view about the vertical (degrees).
    void turn_by(double degrees);
    void frame_choice();
    void frame_all();
    /// What attribute shading shows, and what is written beside the elements.
    const AttributeOverlay& overlay() const { return overlay_; }
    void show_attribute(const std::string& name);
    void set_attribute_numbers(bool on);
    void set_attribute_arrows(bool on);
    /// Steps light up for the spot that is clicked next.
    void set_tracing(bool on);
    bool tracing() const { return tracing_; }
    /// The picture as it is drawn now, at a size of one's own (for picture sequences).
    QImage picture(QSize pixels);
    /// The view as a finished picture, while the shading is Still.
    StillView& stills() { return stills_; }
    /// Shows what a camera of the recipe sees, with its frame, and follows it; any move of the view leaves it.
    void look_through(const std::optional<StageName>& camera);
    const std::optional<StageName>& through() const { return through_; }
    void set_guides(bool thirds, bool margin);
    bool thirds() const { return thirds_; }
    bool margin() const { return margin_; }
    /// Outlines of cameras and lamps, beside when one of them is chosen.
    void set_stage_shown(bool on);
    /// The next click on a shape gives its place; Esc gives none.
    void ask_spot(std::function<void(const DVec3& at)> got);
    bool asking_spot() const { return static_cast<bool>(spot_asked_); }
    void set_grid(bool on);
    bool grid() const { return grid_; }
    void set_shadow(bool on);
    bool shadow() const { return shadow_; }
    /// Dark corners where light from all around hardly reaches.
    void set_occlusion(bool on);
    bool occlusion() const { return occlusion_; }
    /// Shows where a finding is.
    void show_places(const std::vector<Vec3>& places);
    /// Where a point of space is drawn, in pixels of this widget.
    QPointF screen_of(const DVec3& point) const;
    /// Box of what is shown of the chosen part, or of everything.
    std::optional<Box> shown_box(bool everything) const;
    /// Pictures painted since the start, and the time from a new shape's arrival to its picture (milliseconds).
    int frames() const { return frames_; }
    void forget_pictures();

signals:
    void viewChanged();
    /// Another camera is looked through, or none.
    void throughChanged();
    void spotClicked(const std::string& part, const bricol::Vec3& at, std::size_t face);
    /// A face of the shape that is shown was clicked.
    void faceClicked(const std::string& part, std::size_t face);
    void framePainted();

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    /// What is shown, from the recipe and what was made; true when the picture must be drawn anew.
    bool rebuild_scene();
    /// Draws nothing, and says why, when there is no memory for it; the room and the recipe stay.
    template <class Draw>
    void unless_memory_ends(const Draw& draw) {
        try {
            draw();
            told_no_memory_ = false;
        } catch (const std::bad_alloc&) {
            scene_.items.clear();
            picture_ = {};
            if (!std::exchange(told_no_memory_, true))
                session_.say(
                    "There is not enough memory to draw this. Hide parts or use smaller counts; nothing of the "
                    "recipe is lost.",
                    true);
        }
    }
    bool told_no_memory_ = false;
    /// Moves the camera so that a part seen for the first time is not outside the picture.
    void frame_newcomers();
    /// Turns so that a plane through `at` is seen face on.
    void look_along(const DVec3& at, const DVec3& normal);
    /// Paints knots, handles and the like anew, with the shape that is on its way if it comes in time.
    void update_marks();
    void redraw(bool fine);
    void follow_camera();
    void leave_camera();
    /// Looks from where the recipe's first camera stands, with the usual lens.
    void stand_at_first_camera();
    bool press_stage(const QPointF& at);
    void paint_stage_marks(QPainter& painter);
    /// Whether cameras, lights or backdrop differ from those seen last.
    bool stage_changed();
    /// Gives the scene the lamps that throw its shadow.
    void light_scene();
    void begin_still();
    bool stage_wanted() const;
    double nice_step() const;
    void paint_words(QPainter& painter);
    void refresh_chips();

    Session& session_;
    Renderer* renderer_;
    SceneBuilder builder_;
    QString no_renderer_reason_;
    Camera camera_;
    Scene scene_;
    const ShadingInfo* shading_ = &shading_named("wire_over_clay");
    bool grid_ = true, shadow_ = true, occlusion_ = false;
    /// Chooses the part that is seen at a pixel.
    void choose_part_at(const QPointF& at);
    void trace_at(const QPointF& at);
    /// The part whose result an item of the scene was made of.
    const Part* part_of(const SceneItem& item) const;

    KnotTool tool_;
    StickTool sticks_;
    JointTool joints_;
    PickTool picks_;
    HandleTool handles_;
    KnotBar* knot_bar_;
    ToolBar<StickTool>* stick_bar_;
    PickBar* pick_bar_;
    AttributeOverlay overlay_;
    void refresh_attribute_menu();
    bool tracing_ = false;
    QToolButton *shading_chip_, *view_chip_, *attribute_chip_;
    QLabel *box_chip_, *peek_chip_;
    QImage picture_;
    bool stale_ = true, fine_ = false, framed_ = false;
    QTimer rest_timer_, places_timer_, marks_timer_;
    QElapsedTimer since_redraw_;
    QPointF last_at_, press_at_;
    Qt::MouseButton turning_ = Qt::NoButton;
    bool right_moved_ = false, choosing_ = false, picking_ = false;
    std::vector<Vec3> places_;
    int frames_ = 0;
    std::set<std::string> seen_;  ///< parts that had form before
    StillView stills_;
    std::optional<StageName> through_;
    std::optional<StageCamera> lens_;  ///< of the camera that is looked through
    std::vector<std::shared_ptr<const StagePiece>> stage_seen_;
    bool thirds_ = false, margin_ = false, stage_shown_ = false;
    std::function<void(const DVec3&)> spot_asked_;
    QVariantAnimation framing_;
};

}  // namespace bricol
