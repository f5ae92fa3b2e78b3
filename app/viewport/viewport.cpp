// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/viewport.h"

#include <QMenu>
#include <QPainter>
#include <QSettings>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/viewport/screen.h"
#include "app/viewport/stick_actions.h"
#include "app/viewport/spot.h"
#include "app/viewport/view_marks.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

constexpr std::pair<View, const char*> views[] = {
    {View::front, "front view"}, {View::side, "side view"}, {View::top, "top view"}, {View::free, "free view"}};
constexpr const char* view_keys[] = {"F5", "F6", "F7", "F8"};

}  // namespace

Viewport::Viewport(Session& session, Renderer* renderer, const QString& no_renderer_reason, QWidget* parent)
    : QWidget(parent),
      session_(session),
      renderer_(renderer),
      builder_(session),
      no_renderer_reason_(no_renderer_reason),
      tool_(session, this),
      sticks_(session, this),
      joints_(session, this),
      picks_(session, renderer, this),
      handles_(session, this),
      stills_(session, this) {
    setObjectName("viewport");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 180);
    occlusion_ = QSettings().value("occlusion").toBool();
    shadow_ = QSettings().value("shadow", true).toBool();
    const auto chip = [&](const char* name, int x) {
        auto* b = new QToolButton(this);
        b->setObjectName(name);
        b->setPopupMode(QToolButton::InstantPopup);
        b->setCursor(Qt::ArrowCursor);
        b->setFocusPolicy(Qt::TabFocus);
        b->move(x, 10);
        b->setMenu(new QMenu(b));
        return b;
    };
    shading_chip_ = chip("shadingChip", 12);
    view_chip_ = chip("viewChip", 130);
    for (const ShadingInfo* s : all_shadings())
        shading_chip_->menu()->addAction(QString("%1\t%2").arg(s->chip, s->key), this, [this, s] { set_shading(*s); });
    for (std::size_t i = 0; i < std::size(views); ++i)
        view_chip_->menu()->addAction(QString("%1\t%2").arg(views[i].second, view_keys[i]), this,
                                      [this, i] { set_view(views[i].first); });
    attribute_chip_ = chip("attributeChip", 250);
    attribute_chip_->setToolTip("Which attribute is shown, and how");
    connect(attribute_chip_->menu(), &QMenu::aboutToShow, this, &Viewport::refresh_attribute_menu);
    shading_chip_->setToolTip(
        QString("How the shape is drawn (%1 to %2)").arg(all_shadings().front()->key, all_shadings().back()->key));
    view_chip_->setToolTip("Where it is seen from (F5 to F8); right-drag turns, middle-drag slides, wheel zooms");
    peek_chip_ = new QLabel(this);
    peek_chip_->setObjectName("peekChip");
    box_chip_ = new QLabel(this);
    box_chip_->setObjectName("boxChip");
    box_chip_->setFont(theme::number_font(9));
    knot_bar_ = new KnotBar(session, tool_, this);
    knot_bar_->move(12, 44);
    stick_bar_ = new ToolBar<StickTool>("stickBar", sticks_, stick_actions(), this);
    stick_bar_->move(12, 44);
    stick_bar_->setVisible(sticks_.active());
    pick_bar_ = new PickBar(picks_, this);
    pick_bar_->move(12, 44);

    rest_timer_.setSingleShot(true);
    rest_timer_.setInterval(180);
    connect(&rest_timer_, &QTimer::timeout, this, [this] {
        // While a shape is being made, a fine picture of the one before would keep the new one waiting.
        if (session_.worker().busy() && since_redraw_.elapsed() < 2000) {
            rest_timer_.start();
            return;
        }
        fine_ = true;
        stale_ = true;
        update();
        begin_still();
    });
    connect(&stills_, &StillView::changed, this, qOverload<>(&QWidget::update));
    connect(&stills_, &StillView::lightChanged, this, [this] {
        light_scene();
        redraw(false);
    });
    places_timer_.setSingleShot(true);
    places_timer_.setInterval(4000);
    connect(&places_timer_, &QTimer::timeout, this, [this] {
        places_.clear();
        update();
    });
    marks_timer_.setSingleShot(true);
    connect(&marks_timer_, &QTimer::timeout, this, [this] {
        // A shape that is there in a moment is drawn with its marks: painting these twice would keep it waiting.
        if (marks_timer_.interval() == 0 && session_.worker().busy())
            marks_timer_.start(25);
        else
            update();
    });
    connect(&tool_, &KnotTool::changed, this, &Viewport::update_marks);
    connect(&sticks_, &StickTool::changed, this, [this] {
        stick_bar_->setVisible(sticks_.active());
        stick_bar_->refresh();
        update_marks();
    });
    connect(&joints_, &JointTool::changed, this, &Viewport::update_marks);
    connect(&tool_, &KnotTool::planeChosen, this,
            [this](const DVec3& at, const DVec3& normal) { look_along(at, normal); });
    connect(&picks_, &PickTool::changed, this, [this] {
        if (picks_.picking() != picking_) {
            picking_ = picks_.picking();
            rebuild_scene();
            redraw(false);
        }
        update_marks();
    });
    connect(&handles_, &HandleTool::changed, this, &Viewport::update_marks);
    framing_.setDuration(260);
    framing_.setEasingCurve(QEasingCurve::InOutQuad);
    // A finished picture is not begun again for what changes nothing that is seen.
    connect(&session, &Session::madeChanged, this, [this] {
        const bool lit = stage_changed(), other = rebuild_scene();
        follow_camera();
        frame_newcomers();
        marks_timer_.stop();
        lit || other || !shading_->still ? redraw(false) : update();
    });
    connect(&session.worker(), &Worker::drafted, this, [this] {
        if (rebuild_scene()) redraw(false);
    });
    connect(&session, &Session::choiceChanged, this,
            [this] { rebuild_scene() || !shading_->still ? redraw(false) : update(); });
    connect(&session, &Session::recipeChanged, this, [this] {
        // The new shape is on its way; only what the recipe itself shows (pictures, ghosts, hidden parts) is drawn at
        // once.
        if (rebuild_scene())
            redraw(false);
        else
            update_marks();
    });
    connect(&session, &Session::opened, this, [this] {
        framed_ = false;
        seen_.clear();
    });
    refresh_chips();
}

void Viewport::update_marks() {
    if (!marks_timer_.isActive()) marks_timer_.start(0);
}

void Viewport::set_shading(const ShadingInfo& shading) {
    shading_ = &shading;
    refresh_chips();
    redraw(false);
    emit viewChanged();
}

void Viewport::look_along(const DVec3& at, const DVec3& normal) {
    leave_camera();
    camera_.view = View::free;
    camera_.target = at;
    camera_.pitch = glm::degrees(std::asin(std::clamp(normal.z, -1.0, 1.0)));
    if (std::abs(normal.z) < 1 - 1e-9)
        camera_.yaw = glm::degrees(std::atan2(normal.y, normal.x));
    else
        camera_.yaw = -90;  // x to the right
    rebuild_scene();
    refresh_chips();
    redraw(false);
    emit viewChanged();
}

void Viewport::set_tracing(bool on) {
    if (tracing_ == on) return;
    tracing_ = on;
    setCursor(on ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
}

void Viewport::set_view(View view) {
    leave_camera();
    camera_.set_view(view);
    rebuild_scene();
    refresh_chips();
    redraw(false);
    emit viewChanged();
}

void Viewport::turn_by(double degrees) {
    leave_camera();
    camera_.turn(degrees, 0);
    refresh_chips();
    redraw(false);
    emit viewChanged();
}

void Viewport::set_grid(bool on) {
    grid_ = on;
    redraw(false);
}

void Viewport::set_shadow(bool on) {
    shadow_ = on;
    QSettings().setValue("shadow", on);
    redraw(false);
}

void Viewport::forget_pictures() { builder_.forget_pictures(); }

bool Viewport::rebuild_scene() {
    bool changed = true;
    unless_memory_ends([&] { changed = builder_.build(scene_, camera_, {picks_.picking(), sticks_.active()}); });
    light_scene();
    if (!framed_ && shown_box(true)) {
        framed_ = true;
        frame_all();
        // A wide scene framed as a whole shows next to nothing.
        if (builder_.mostly_specks()) stand_at_first_camera();
    }
    refresh_chips();
    return changed;
}

void Viewport::refresh_chips() {
    shading_chip_->setText(shading_->chip);
    for (const auto& [view, name] : views)
        if (view == camera_.view) view_chip_->setText(name);
    shading_chip_->adjustSize();
    view_chip_->adjustSize();
    view_chip_->move(shading_chip_->geometry().right() + 8, 10);
    int right = view_chip_->geometry().right() + 8;
    attribute_chip_->setVisible(shading_->paints_attribute);
    if (shading_->paints_attribute) {
        attribute_chip_->setText(overlay_.name.empty() ? "no attribute" : QString::fromStdString(overlay_.name) + "  ");
        attribute_chip_->adjustSize();
        attribute_chip_->move(right, 10);
        right = attribute_chip_->geometry().right() + 8;
    }
    const bool peeking = !session_.peek().empty();
    peek_chip_->setVisible(peeking);
    using theme::Role;
    if (peeking) {
        peek_chip_->setText("peek: " + QString::fromStdString(session_.peek()));
        peek_chip_->setStyleSheet(QString("background:%1;color:%2;border-radius:3px;padding:4px 8px;")
                                      .arg(theme::color(Role::chosen).name(), theme::color(Role::card).name()));
        peek_chip_->adjustSize();
        peek_chip_->move(right, 10);
    }
    const auto box = shown_box(false);
    box_chip_->setVisible(box.has_value());
    if (box) {
        const auto unit = find_unit(session_.recipe().unit)->factor;
        const DVec3 size = box->size();
        const auto n = [&](double v) { return QString::number(v / unit, 'f', unit == 1 ? 3 : unit == 0.01 ? 1 : 0); };
        box_chip_->setText(QString("%1 × %2 × %3 %4")
                               .arg(n(size.x), n(size.y), n(size.z), QString::fromStdString(session_.recipe().unit)));
        box_chip_->setToolTip("Size of the chosen part along x, y and z");
        // Styling is dear; only a change of theme asks for it.
        const QString style = QString("background:%1;border:1px solid %2;border-radius:3px;padding:3px 8px;")
                                  .arg(theme::color(Role::card).name(), theme::color(Role::line).name());
        if (box_chip_->styleSheet() != style) box_chip_->setStyleSheet(style);
        box_chip_->adjustSize();
    }
    box_chip_->move(width() - box_chip_->width() - 12, 10);
}

void Viewport::redraw(bool fine) {
    fine_ = fine;
    stale_ = true;
    if (shading_->still) stills_.moved();
    since_redraw_.start();
    rest_timer_.start();
    update();
}

double Viewport::nice_step() const {
    // Fine lines at least 16 pixels apart: 1, 10, 100 … of a millimetre.
    const double pixel = camera_.metres_per_pixel(std::max(1, height()));
    return std::pow(10, std::ceil(std::log10(pixel * 16)));
}

QPointF Viewport::screen_of(const DVec3& p) const { return point(Projector(camera_, width(), height()).to_screen(p)); }

void Viewport::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!renderer_) {
        painter.fillRect(rect(), theme::color(theme::Role::view_low));
        painter.setPen(theme::color(theme::Role::error));
        painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap,
                         "The shape cannot be drawn here. " + no_renderer_reason_);
        return;
    }
    const double ratio = devicePixelRatioF();
    const QSize pixels = (QSizeF(size()) * ratio).toSize();
    if (stale_ || picture_.size() != pixels) {
        scene_.shading = shading_;
        scene_.grid = grid_;
        scene_.plane = tool_.own_plane() ? std::optional(*tool_.own_plane()) : std::nullopt;
        scene_.shadow = shadow_;
        scene_.occlusion = occlusion_;
        scene_.grid_step = nice_step();
        scene_.paint = shading_->paints_attribute ? overlay_.paint(builder_.shapes()) : Paint{};
        tool_.grid_step = sticks_.grid_step = picks_.grid_step = handles_.grid_step = scene_.grid_step;
        unless_memory_ends([&] {
            picture_ = renderer_->render(scene_, camera_, pixels, fine_);
            picture_.setDevicePixelRatio(ratio);
            if (fine_) renderer_->prepare_moving(scene_);
        });
        stale_ = false;
        ++frames_;
    }
    const ViewFrame frame{camera_, size(), session_.recipe().unit};
    const QImage* still = shading_->still ? stills_.picture(pixels) : nullptr;
    if (still)
        painter.drawImage(rect(), *still);
    else
        painter.drawImage(0, 0, picture_);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!still) paint_curves(painter, frame, builder_.shapes());
    paint_stage_marks(painter);
    if (shading_->paints_attribute) overlay_.draw(painter, camera_, size(), builder_.shapes());
    picks_.paint(painter, camera_, size());
    handles_.paint(painter, camera_, size());
    tool_.paint(painter, camera_, size());
    sticks_.paint(painter, camera_, size());
    joints_.paint(painter, camera_, size());
    for (const Vec3& place : places_) {
        painter.setPen(QPen(theme::color(theme::Role::caution), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(screen_of(DVec3(place)), 9, 9);
    }
    if (grid_ && !still) paint_grid_labels(painter, frame, scene_.grid_step * 10);
    if (!still) paint_scale_bar(painter, frame);  // a picture's ground may be of any brightness
    paint_tripod(painter, frame);
    paint_words(painter);
    emit framePainted();
}

void Viewport::show_places(const std::vector<Vec3>& places) {
    places_ = places;
    places_timer_.start();
    update();
}

void Viewport::resizeEvent(QResizeEvent*) {
    follow_camera();
    refresh_chips();
    redraw(false);
}

void Viewport::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    last_at_ = press_at_ = event->position();
    right_moved_ = false;
    framing_.stop();
    if (event->button() == Qt::RightButton || event->button() == Qt::MiddleButton) {
        turning_ = event->button();
        return;
    }
    if (const auto view = view_at_tripod({camera_, size(), {}}, event->position());
        view && event->button() == Qt::LeftButton) {
        set_view(*view);
        return;
    }
    if (tracing_ && event->button() == Qt::LeftButton) {
        trace_at(event->position());
        return;
    }
    if (event->button() == Qt::LeftButton && press_stage(event->position())) return;
    if (handles_.press(event, camera_, size()) || picks_.press(event, camera_, size())) return;
    if (!tool_.press(event, camera_, size()) && !sticks_.press(event, camera_, size()) &&
        !joints_.press(event, camera_, size()))
        choosing_ = event->button() == Qt::LeftButton;
}

void Viewport::mouseMoveEvent(QMouseEvent* event) {
    const QPointF by = event->position() - last_at_;
    last_at_ = event->position();
    if (turning_ == Qt::NoButton) {
        if (!handles_.move(event, camera_, size()) && !picks_.move(event, camera_, size()))
            tool_.move(event, camera_, size()), sticks_.move(event, camera_, size()),
                joints_.move(event, camera_, size());
        return;
    }
    if ((event->position() - press_at_).manhattanLength() > 3) right_moved_ = true;
    leave_camera();
    if (turning_ == Qt::RightButton) {
        const bool was_flat = camera_.flat();
        camera_.turn(by.x() * 0.35, by.y() * 0.35);
        if (was_flat) rebuild_scene();
        refresh_chips();
    } else {
        camera_.slide(by.x(), -by.y(), height());
    }
    redraw(false);
    emit viewChanged();
}

void Viewport::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() == turning_) {
        turning_ = Qt::NoButton;
        if (event->button() == Qt::RightButton && !right_moved_ && tool_.drawing()) tool_.set_drawing(false);
        return;
    }
    if (handles_.release(event) || picks_.release(event, camera_, size()) || tool_.release(event, camera_, size()) ||
        sticks_.release(event, camera_, size()))
        return;
    if (choosing_ && (event->position() - press_at_).manhattanLength() < 4) choose_part_at(event->position());
    choosing_ = false;
}

void Viewport::set_handles(bool on) {
    handles_.shown = on;
    update();
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* event) {
    if (!picks_.double_click(event, camera_, size()) && !tool_.double_click(event, camera_, size()) &&
        !sticks_.double_click(event, camera_, size()))
        mousePressEvent(event);
}

void Viewport::wheelEvent(QWheelEvent* event) {
    framing_.stop();
    leave_camera();
    const double half = height() / 2.0;
    camera_.zoom(std::pow(0.999, event->angleDelta().y()), (event->position().x() - width() / 2.0) / half,
                 (half - event->position().y()) / half);
    redraw(false);
    emit viewChanged();
}

bool Viewport::event(QEvent* event) {
    // With knots or picks in hand, Delete means them and not the step.
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        const bool knots = (tool_.active() || sticks_.active()) && !session_.knots().empty(),
                   picks = picks_.picking() && !picks_.elements().empty();
        if ((key == Qt::Key_Delete || key == Qt::Key_Backspace) && (knots || picks)) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void Viewport::keyPressEvent(QKeyEvent* event) {
    if (spot_asked_ && event->key() == Qt::Key_Escape) {
        ask_spot(nullptr);
        return;
    }
    if (tracing_ && event->key() == Qt::Key_Escape) {
        set_tracing(false);
        return;
    }
    if (!handles_.key(event) && !picks_.key(event, camera_, size()) && !tool_.key(event) && !sticks_.key(event))
        QWidget::keyPressEvent(event);
}

}  // namespace bricol
