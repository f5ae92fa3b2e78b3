// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/viewport.h"

#include <QDir>
#include <QFileInfo>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/viewport/screen.h"
#include "core/kernels/flatten.h"
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
      no_renderer_reason_(no_renderer_reason),
      tool_(session, this),
      picks_(session, renderer, this),
      handles_(session, this) {
    setObjectName("viewport");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 180);
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
    pick_bar_ = new PickBar(picks_, this);
    pick_bar_->move(12, 44);

    rest_timer_.setSingleShot(true);
    rest_timer_.setInterval(180);
    connect(&rest_timer_, &QTimer::timeout, this, [this] {
        fine_ = true;
        stale_ = true;
        update();
    });
    places_timer_.setSingleShot(true);
    places_timer_.setInterval(4000);
    connect(&places_timer_, &QTimer::timeout, this, [this] {
        places_.clear();
        update();
    });
    connect(&tool_, &KnotTool::changed, this, qOverload<>(&QWidget::update));
    connect(&tool_, &KnotTool::planeChosen, this,
            [this](const DVec3& at, const DVec3& normal) { look_along(at, normal); });
    connect(&picks_, &PickTool::changed, this, [this] {
        if (picks_.picking() != picking_) {
            picking_ = picks_.picking();
            rebuild_scene();
            redraw(false);
        }
        update();
    });
    connect(&handles_, &HandleTool::changed, this, qOverload<>(&QWidget::update));
    connect(&session, &Session::madeChanged, this, [this] {
        rebuild_scene();
        redraw(false);
    });
    connect(&session, &Session::choiceChanged, this, [this] {
        rebuild_scene();
        redraw(false);
    });
    connect(&session, &Session::recipeChanged, this, [this] {
        // The new shape is on its way; only what the recipe itself shows (pictures, ghosts, hidden parts) is drawn at
        // once.
        if (rebuild_scene())
            redraw(false);
        else
            update();
    });
    connect(&session, &Session::fileChanged, this, [this] { framed_ = false; });
    refresh_chips();
}

void Viewport::set_shading(const ShadingInfo& shading) {
    shading_ = &shading;
    refresh_chips();
    redraw(false);
    emit viewChanged();
}

void Viewport::show_attribute(const std::string& name) {
    overlay_.name = name;
    set_shading(shading_named("attribute"));
}

void Viewport::look_along(const DVec3& at, const DVec3& normal) {
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

void Viewport::set_attribute_numbers(bool on) {
    overlay_.numbers = on;
    redraw(false);
}

void Viewport::set_attribute_arrows(bool on) {
    overlay_.arrows = on;
    redraw(false);
}

void Viewport::refresh_attribute_menu() {
    QMenu* menu = attribute_chip_->menu();
    menu->clear();
    for (const std::string& name : AttributeOverlay::names(shown_curves_)) {
        auto* item = menu->addAction(QString::fromStdString(name), this, [this, name] { show_attribute(name); });
        item->setCheckable(true);
        item->setChecked(name == overlay_.name);
    }
    if (menu->isEmpty()) menu->addAction("The shape has no attributes")->setEnabled(false);
    menu->addSeparator();
    const auto toggle = [&](const char* text, bool on, auto set) {
        auto* item = menu->addAction(text, this, [this, on, set] { (this->*set)(!on); });
        item->setCheckable(true);
        item->setChecked(on);
    };
    toggle("Write the numbers", overlay_.numbers, &Viewport::set_attribute_numbers);
    toggle("Draw directions as arrows", overlay_.arrows, &Viewport::set_attribute_arrows);
}

void Viewport::set_tracing(bool on) {
    if (tracing_ == on) return;
    tracing_ = on;
    setCursor(on ? Qt::CrossCursor : Qt::ArrowCursor);
    emit tracingChanged(on);
    update();
}

void Viewport::trace_at(const QPointF& at) {
    if (!renderer_ || !session_.made()) return;
    const glm::uvec2 found =
        renderer_->pick(scene_, camera_, size()).at(static_cast<int>(at.x()), static_cast<int>(at.y()));
    if (found.x == 0 || found.x > scene_.items.size()) return;
    const SceneItem& item = scene_.items[found.x - 1];
    const Triangles cut = triangulated(item.shape->mesh);
    if (found.y >= cut.count()) return;
    // Where the line of sight meets the triangle: of the copies the one it meets first.
    const Projector projector(camera_, width(), height());
    const Mesh& mesh = item.shape->mesh;
    double best = 1e300;
    DVec3 spot(0);
    for (const glm::mat4& place : *item.places) {
        std::array<DVec3, 3> corner;
        for (std::size_t k = 0; k < 3; ++k)
            corner[k] = DVec3(
                glm::dmat4(place) *
                glm::dvec4(DVec3((*mesh.positions)[mesh.topology->corner_vertex[cut.corners[3 * found.y + k]]]), 1));
        std::array<glm::dvec2, 3> s;
        for (std::size_t k = 0; k < 3; ++k) s[k] = projector.to_screen(corner[k]);
        const double area = (s[1].x - s[0].x) * (s[2].y - s[0].y) - (s[1].y - s[0].y) * (s[2].x - s[0].x);
        if (std::abs(area) < 1e-9) continue;
        // A triangle no larger than a pixel may be seen there although the pixel's middle lies beside it: held to its
        // edge.
        const double v = std::clamp(
            ((at.x() - s[0].x) * (s[2].y - s[0].y) - (at.y() - s[0].y) * (s[2].x - s[0].x)) / area, 0.0, 1.0);
        const double w = std::clamp(
            ((s[1].x - s[0].x) * (at.y() - s[0].y) - (s[1].y - s[0].y) * (at.x() - s[0].x)) / area, 0.0, 1.0 - v);
        const glm::dvec2 seen = s[0] * (1 - v - w) + s[1] * v + s[2] * w;
        if (std::hypot(seen.x - at.x(), seen.y - at.y()) > 4) continue;
        const DVec3 p = corner[0] * (1 - v - w) + corner[1] * v + corner[2] * w;
        if (const double away = glm::distance(p, camera_.eye()); away < best) best = away, spot = p;
    }
    if (best > 1e299) return;
    const Recipe& recipe = session_.made_recipe();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p)
        if (session_.made()->parts[p] && session_.made()->parts[p]->shape == item.root) {
            places_ = {Vec3(spot)};
            emit spotClicked(recipe.parts[p]->name, Vec3(spot), cut.face[found.y]);
            update();
            return;
        }
}

QImage Viewport::picture(QSize pixels) {
    if (!renderer_) return {};
    scene_.shading = shading_;
    scene_.grid = false;
    scene_.shadow = shadow_;
    scene_.paint = shading_->paints_attribute ? overlay_.paint(shown_curves_) : Paint{};
    return renderer_->render(scene_, camera_, pixels, true);
}

void Viewport::set_view(View view) {
    camera_.set_view(view);
    rebuild_scene();
    refresh_chips();
    redraw(false);
    emit viewChanged();
}

void Viewport::turn_by(double degrees) {
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
    redraw(false);
}

std::optional<Box> Viewport::shown_box(bool everything) const {
    std::optional<Box> box;
    const auto add = [&](const std::optional<Box>& other) {
        if (!other) return;
        if (!box) box = *other;
        box->low = glm::min(box->low, other->low);
        box->high = glm::max(box->high, other->high);
    };
    const Made* made = session_.made();
    if (!made) return box;
    const Recipe& recipe = session_.made_recipe();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        const bool chosen = part.name == session_.part();
        if (!made->parts[p] || (everything ? part.hidden : !chosen)) continue;
        const StepOutcome* peeked =
            chosen && !session_.peek().empty() ? made->step(recipe, part.name, session_.peek()) : nullptr;
        add(peeked ? box_of(*peeked->shape)
                   : made->parts[p]->measures.box);  // measured already: this is asked for at every picture
    }
    return box;
}

void Viewport::frame_choice() {
    if (const auto box = shown_box(false)) camera_.frame(*box, static_cast<double>(width()) / std::max(1, height()));
    redraw(false);
}

void Viewport::frame_all() {
    framed_ = true;
    auto box = shown_box(true);
    if (!box) box = Box{DVec3(-0.5, -0.5, 0), DVec3(0.5, 0.5, 1)};
    camera_.frame(*box, static_cast<double>(width()) / std::max(1, height()));
    redraw(false);
}

bool Viewport::rebuild_scene() {
    const Scene before = scene_;
    scene_.items.clear();
    shown_curves_.clear();
    const Made* made = session_.made();
    if (!made) return true;
    const Recipe& recipe = session_.made_recipe();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        const bool chosen = part.name == session_.part();
        const Part* now = session_.recipe().part(part.name);
        if (!now || !made->parts[p]) continue;
        const StepOutcome* peeked =
            chosen && !session_.peek().empty() ? made->step(recipe, part.name, session_.peek()) : nullptr;
        const ShapePtr shape = peeked ? peeked->shape : made->parts[p]->shape;
        const QColor clay = theme::part_clay(static_cast<int>(p));
        if (!now->hidden || chosen) {
            add_items(scene_, shape, clay, picks_.picking() && !chosen);  // nothing stands before what is picked on
            shown_curves_.push_back(shape);
        }
        for (std::size_t s = 0; s < part.steps.size(); ++s) {
            const Step* step = find_step(*now, part.steps[s]->id);
            const auto& outcome = made->steps[p][s];
            if (!step || !step->ghost || !outcome || outcome->shape == shape) continue;
            add_items(scene_, outcome->shape, theme::color(theme::Role::act), true);
            shown_curves_.push_back(outcome->shape);
        }
    }
    scene_.pictures.clear();
    for (const Picture& picture : session_.recipe().pictures) {
        const QString file = QFileInfo(QString::fromStdString(picture.file)).isAbsolute()
                                 ? QString::fromStdString(picture.file)
                                 : QDir(session_.folder()).filePath(QString::fromStdString(picture.file));
        auto [cached, fresh] = picture_cache_.try_emplace(file);
        if (fresh) {
            cached->second.load(file);
            if (cached->second.isNull())
                session_.say(QString("The picture %1 could not be read. The recipe keeps its place; put the file back "
                                     "or choose another.")
                                 .arg(file),
                             true);
        }
        if (cached->second.isNull()) continue;
        const double w = picture.height * cached->second.width() / cached->second.height();
        ScenePicture shown;
        shown.image = cached->second;
        shown.opacity = static_cast<float>(picture.opacity);
        DVec3 across(1, 0, 0), up(0, 0, 1);
        View view = View::front;
        if (picture.plane == "side") across = DVec3(0, 1, 0), view = View::side;
        if (picture.plane == "top") up = DVec3(0, 1, 0), view = View::top;
        shown.across = across * w;
        shown.up = up * picture.height;
        shown.corner = across * (picture.across - w / 2) + up * picture.up;
        shown.on_top = camera_.view == view;
        if (camera_.flat() && !shown.on_top) continue;
        if (!camera_.flat()) continue;  // in the free view it would only stand in the way
        scene_.pictures.push_back(std::move(shown));
    }
    if (!framed_ && shown_box(true)) {
        framed_ = true;
        frame_all();
    }
    refresh_chips();
    const auto same_item = [](const SceneItem& a, const SceneItem& b) {
        return a.shape == b.shape && a.root == b.root && a.ghost == b.ghost && a.clay == b.clay;
    };
    const auto same_picture = [](const ScenePicture& a, const ScenePicture& b) {
        return a.image.cacheKey() == b.image.cacheKey() && a.corner == b.corner && a.across == b.across &&
               a.up == b.up && a.opacity == b.opacity && a.on_top == b.on_top;
    };
    return !std::ranges::equal(before.items, scene_.items, same_item) ||
           !std::ranges::equal(before.pictures, scene_.pictures, same_picture);
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
        scene_.grid_step = nice_step();
        scene_.paint = shading_->paints_attribute ? overlay_.paint(shown_curves_) : Paint{};
        tool_.grid_step = picks_.grid_step = handles_.grid_step = scene_.grid_step;
        picture_ = renderer_->render(scene_, camera_, pixels, fine_);
        picture_.setDevicePixelRatio(ratio);
        stale_ = false;
        ++frames_;
    }
    painter.drawImage(0, 0, picture_);
    painter.setRenderHint(QPainter::Antialiasing);
    paint_curves(painter);
    if (shading_->paints_attribute) overlay_.draw(painter, camera_, size(), shown_curves_);
    picks_.paint(painter, camera_, size());
    handles_.paint(painter, camera_, size());
    tool_.paint(painter, camera_, size());
    for (const Vec3& place : places_) {
        painter.setPen(QPen(theme::color(theme::Role::caution), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(screen_of(DVec3(place)), 9, 9);
    }
    if (grid_) paint_grid_labels(painter);
    paint_scale_bar(painter);
    paint_tripod(painter);
    const bool nothing = session_.made() && !shown_box(true);
    if (nothing && !tool_.active()) {
        painter.setPen(theme::color(theme::Role::soft_ink));
        painter.setFont(theme::text_font(11));
        painter.drawText(rect(), Qt::AlignCenter,
                         "Nothing to see yet.\nPress / and type what to make: “drawn curve”, “box” …");
    } else if (tracing_) {
        paint_hint(painter, "Click a spot: the steps that made it light up on the strip and the sheet · Esc ends");
    } else if (picks_.picking()) {
        paint_hint(painter, picks_.moves() ? "Click to pick · pull what is picked · Shift adds · Ctrl takes away · "
                                             "figures and Enter finish a pull · Esc ends"
                                           : "Click or drag to pick · Shift adds · Ctrl takes away · double-click an "
                                             "edge for its loop · Esc ends");
    } else if (tool_.choosing_plane()) {
        paint_hint(painter, "Click a face of another part to draw in its plane · Esc ends");
    } else if (tool_.drawing()) {
        paint_hint(painter,
                   "Click to set knots · Shift straight · Ctrl without snapping · pull for a smooth knot · Enter ends");
    }
    emit framePainted();
}

void Viewport::paint_hint(QPainter& painter, const QString& text) const {
    painter.setFont(theme::text_font(9));
    const QRectF box(0, 0, painter.fontMetrics().horizontalAdvance(text) + 20, 22);
    const QRectF placed = box.translated((width() - box.width()) / 2, height() - 34);
    QColor ground = theme::color(theme::Role::card);
    ground.setAlphaF(0.86f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(ground);
    painter.drawRoundedRect(placed, 3, 3);
    painter.setPen(theme::color(theme::Role::soft_ink));
    painter.drawText(placed, Qt::AlignCenter, text);
}

void Viewport::paint_curves(QPainter& painter) const {
    const Projector projector(camera_, width(), height());
    painter.setPen(QPen(theme::color(theme::Role::ink), 1.4));
    painter.setBrush(Qt::NoBrush);
    for (const ShapePtr& shape : shown_curves_) {
        for (const Curve& curve : shape->curves) {
            const Polyline line = flatten(curve);
            QPolygonF drawn;
            for (const Vec3& p : line.points) drawn << point(projector.to_screen(DVec3(p)));
            if (line.closed && !drawn.isEmpty()) drawn << drawn.first();
            painter.drawPolyline(drawn);
        }
        if (shape->mesh.face_count() == 0 && shape->mesh.edge_count() == 0 &&
            !shape->mesh.empty()) {  // points alone, as scattering gives them
            QPolygonF dots;
            const std::size_t stride = std::max<std::size_t>(1, shape->mesh.vertex_count() / 20000);
            for (std::size_t i = 0; i < shape->mesh.vertex_count(); i += stride)
                dots << point(projector.to_screen(DVec3((*shape->mesh.positions)[i])));
            painter.setPen(
                QPen(theme::color(theme::Role::ink), dots.size() > 2000 ? 2 : 4, Qt::SolidLine, Qt::RoundCap));
            painter.drawPoints(dots);
            painter.setPen(QPen(theme::color(theme::Role::ink), 1.4));
        }
        if (shape->mesh.face_count() > 0 || shape->mesh.edge_count() > 20000) continue;
        for (const auto& [a, b] : shape->mesh.topology->edges)
            painter.drawLine(point(projector.to_screen(DVec3((*shape->mesh.positions)[a]))),
                             point(projector.to_screen(DVec3((*shape->mesh.positions)[b]))));
    }
}

void Viewport::paint_grid_labels(QPainter& painter) const {
    // In a flat view the strong lines carry their place, along the lower and the right edge.
    if (!camera_.flat()) return;
    const double pixel = camera_.metres_per_pixel(std::max(1, height()));
    double step = scene_.grid_step * 10;
    if (step / pixel > 400) step /= 5;
    const std::string unit = session_.recipe().unit;
    painter.setFont(theme::number_font(8));
    painter.setPen(theme::color(theme::Role::soft_ink));
    const auto label = [&](double place) {
        return QString::fromStdString(format_value(std::abs(place) < step * 0.01 ? 0 : place, Quantity::length, unit));
    };
    const double across = glm::dot(camera_.target, camera_.right()), up = glm::dot(camera_.target, camera_.up());
    const double half_width = width() / 2.0 * pixel, half_height = height() / 2.0 * pixel;
    for (double place = std::ceil((across - half_width) / step) * step; place < across + half_width; place += step) {
        const double x = (place - across) / pixel + width() / 2.0;
        if (x > 150 && x < width() - 110)
            painter.drawText(QRectF(x - 40, height() - 17, 80, 14), Qt::AlignCenter, label(place));
    }
    for (double place = std::ceil((up - half_height) / step) * step; place < up + half_height; place += step) {
        const double y = height() / 2.0 - (place - up) / pixel;
        if (y > 60 && y < height() - 60)
            painter.drawText(QRectF(width() - 68, y - 15, 62, 14), Qt::AlignRight | Qt::AlignVCenter, label(place));
    }
}

void Viewport::paint_scale_bar(QPainter& painter) const {
    const double pixel = camera_.metres_per_pixel(std::max(1, height()));
    double length = std::pow(10, std::floor(std::log10(pixel * 150)));
    for (const double factor : {5.0, 2.0})
        if (length * factor / pixel <= 150) {
            length *= factor;
            break;
        }
    const double w = length / pixel;
    const QPointF a(20, height() - 24), b(20 + w, height() - 24);
    painter.setPen(QPen(theme::color(theme::Role::ink), 1.3));
    painter.drawLine(a, b);
    for (const QPointF& p : {a, (a + b) / 2, b}) painter.drawLine(p - QPointF(0, 4), p + QPointF(0, 4));
    painter.setFont(theme::number_font(8.5));
    painter.drawText(QRectF(a.x(), a.y() - 22, w, 16), Qt::AlignCenter,
                     QString::fromStdString(format_value(length, Quantity::length, session_.recipe().unit)));
}

void Viewport::paint_tripod(QPainter& painter) const {
    using theme::Role;
    const QPointF centre = tripod_centre();
    struct Arm {
        DVec3 axis;
        Role role;
        const char* name;
    };
    Arm arms[] = {{{1, 0, 0}, Role::axis_x, "x"}, {{0, 1, 0}, Role::axis_y, "y"}, {{0, 0, 1}, Role::axis_z, "z"}};
    std::sort(std::begin(arms), std::end(arms), [&](const Arm& a, const Arm& b) {
        return glm::dot(a.axis, camera_.direction()) < glm::dot(b.axis, camera_.direction());
    });
    painter.setFont(theme::text_font(8.5, 600));
    for (const Arm& arm : arms) {
        const QPointF end =
            centre + QPointF(glm::dot(arm.axis, camera_.right()), -glm::dot(arm.axis, camera_.up())) * 30;
        painter.setPen(QPen(theme::color(arm.role), 2, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(centre, end);
        const QPointF away = end - centre;
        const double length = std::hypot(away.x(), away.y());
        if (length > 6)
            painter.drawText(QRectF(end + away / length * 9 - QPointF(8, 8), QSizeF(16, 16)), Qt::AlignCenter,
                             arm.name);
    }
}

bool Viewport::tripod_click(const QPointF& at) {
    const QPointF centre = tripod_centre(), off = at - centre;
    if (std::hypot(off.x(), off.y()) > 46) return false;
    const std::pair<DVec3, View> arms[] = {{{1, 0, 0}, View::side}, {{0, 1, 0}, View::front}, {{0, 0, 1}, View::top}};
    for (const auto& [axis, view] : arms) {
        const QPointF end = centre + QPointF(glm::dot(axis, camera_.right()), -glm::dot(axis, camera_.up())) * 34;
        if (std::hypot(at.x() - end.x(), at.y() - end.y()) < 13 &&
            std::hypot(end.x() - centre.x(), end.y() - centre.y()) > 12) {
            set_view(view);
            return true;
        }
    }
    set_view(View::free);
    return true;
}

void Viewport::show_places(const std::vector<Vec3>& places) {
    places_ = places;
    places_timer_.start();
    update();
}

void Viewport::resizeEvent(QResizeEvent*) {
    refresh_chips();
    redraw(false);
}

void Viewport::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    last_at_ = press_at_ = event->position();
    right_moved_ = false;
    if (event->button() == Qt::RightButton || event->button() == Qt::MiddleButton) {
        turning_ = event->button();
        return;
    }
    if (event->button() == Qt::LeftButton && tripod_click(event->position())) return;
    if (tracing_ && event->button() == Qt::LeftButton) {
        trace_at(event->position());
        return;
    }
    if (handles_.press(event, camera_, size()) || picks_.press(event, camera_, size())) return;
    if (!tool_.press(event, camera_, size())) choosing_ = event->button() == Qt::LeftButton;
}

void Viewport::mouseMoveEvent(QMouseEvent* event) {
    const QPointF by = event->position() - last_at_;
    last_at_ = event->position();
    if (turning_ == Qt::NoButton) {
        if (!handles_.move(event, camera_, size()) && !picks_.move(event, camera_, size()))
            tool_.move(event, camera_, size());
        return;
    }
    if ((event->position() - press_at_).manhattanLength() > 3) right_moved_ = true;
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
    if (handles_.release(event) || picks_.release(event, camera_, size()) || tool_.release(event, camera_, size()))
        return;
    if (choosing_ && (event->position() - press_at_).manhattanLength() < 4) choose_part_at(event->position());
    choosing_ = false;
}

void Viewport::choose_part_at(const QPointF& at) {
    if (!renderer_) return;
    const glm::uvec2 found =
        renderer_->pick(scene_, camera_, size()).at(static_cast<int>(at.x()), static_cast<int>(at.y()));
    if (found.x == 0 || found.x > scene_.items.size() || !session_.made()) return;
    const Recipe& recipe = session_.made_recipe();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        if (part.hidden || !session_.made()->parts[p] ||
            session_.made()->parts[p]->shape != scene_.items[found.x - 1].root)
            continue;
        if (part.name != session_.part()) session_.choose_part(part.name);
        const Triangles cut = triangulated(scene_.items[found.x - 1].shape->mesh);
        if (found.y < cut.count()) emit faceClicked(part.name, cut.face[found.y]);
        return;
    }
}

void Viewport::set_handles(bool on) {
    handles_.shown = on;
    update();
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* event) {
    if (!picks_.double_click(event, camera_, size()) && !tool_.double_click(event, camera_, size()))
        mousePressEvent(event);
}

void Viewport::wheelEvent(QWheelEvent* event) {
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
        const bool knots = tool_.active() && !session_.knots().empty(),
                   picks = picks_.picking() && !picks_.elements().empty();
        if ((key == Qt::Key_Delete || key == Qt::Key_Backspace) && (knots || picks)) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void Viewport::keyPressEvent(QKeyEvent* event) {
    if (tracing_ && event->key() == Qt::Key_Escape) {
        set_tracing(false);
        return;
    }
    if (!handles_.key(event) && !picks_.key(event, camera_, size()) && !tool_.key(event)) QWidget::keyPressEvent(event);
}

}  // namespace bricol
