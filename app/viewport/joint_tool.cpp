// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/joint_tool.h"

#include "app/theme/theme.h"
#include "app/viewport/screen.h"
#include "app/viewport/view_marks.h"
#include "core/recipe/edit.h"

namespace bricol {

namespace {

constexpr double joint_reach = 11;  // pixels

}  // namespace

JointTool::JointTool(Session& session, QObject* parent) : QObject(parent), session_(session) {
    for (const auto signal : {&Session::recipeChanged, &Session::madeChanged, &Session::choiceChanged})
        connect(&session, signal, this, &JointTool::refresh);
}

void JointTool::refresh() {
    const bool was = active();
    key_.clear();
    skeleton_ = {};
    names_.clear();
    hot_ = -1;
    const Part* part = session_.chosen_part();
    const Step* step = session_.chosen_step();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    if (info && !step->skipped)
        for (const ParameterInfo& p : info->parameters)
            if (p.picks == "joints") key_ = p.key;
    if (!key_.empty()) {
        const StepOutcome* made = session_.outcome(session_.part(), step->id);
        // A step that failed still shows what it would turn.
        if (!made || !made->shape->mesh.skeleton)
            made = session_.outcome(session_.part(), source_of(*part, step_index(*part, step->id), "shape"));
        if (made && made->shape->mesh.skeleton) skeleton_ = *made->shape->mesh.skeleton;
        if (const auto written = step->settings.find(key_); written != step->settings.end() && written->is_string())
            for (const QString& name : QString::fromStdString(written->get<std::string>()).split(','))
                if (!name.trimmed().isEmpty()) names_ << name.trimmed();
    }
    if (was || active()) emit changed();
}

bool JointTool::named(const Joint& joint) const {
    const QString name = QString::fromStdString(joint.name), number = QString::number(joint.id);
    return names_.contains(name, Qt::CaseInsensitive) || (joint.id >= 0 && names_.contains(number));
}

int JointTool::joint_at(const glm::dvec2& pointer, const Camera& camera, const QSize& size) const {
    const Projector projector(camera, size.width(), size.height());
    int nearest = -1;
    double best = joint_reach;
    for (std::size_t j = 0; j < skeleton_.joints.size(); ++j)
        if (const double d = glm::distance(projector.to_screen(skeleton_.joints[j].at), pointer); d < best) {
            best = d;
            nearest = static_cast<int>(j);
        }
    return nearest;
}

void JointTool::move(const QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!active()) return;
    const int now = joint_at({event->position().x(), event->position().y()}, camera, size);
    if (now == hot_) return;
    hot_ = now;
    emit changed();
}

bool JointTool::press(const QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!active() || event->button() != Qt::LeftButton) return false;
    const int found = joint_at({event->position().x(), event->position().y()}, camera, size);
    if (found < 0) return false;
    const Joint& joint = skeleton_.joints[static_cast<std::size_t>(found)];
    const QString name = QString::fromStdString(joint.name);
    QStringList names = names_;
    if (!(event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier))) {
        names = {name};
    } else if (named(joint)) {
        names.removeIf([&](const QString& other) {
            return other.compare(name, Qt::CaseInsensitive) == 0 || other == QString::number(joint.id);
        });
    } else if (!(event->modifiers() & Qt::ControlModifier)) {
        names << name;
    }
    if (names != names_)
        session_.edit(set_setting(session_.recipe(), session_.part(), session_.step(), key_,
                                  Json(names.join(", ").toStdString())),
                      "Choose joints");
    return true;
}

QString JointTool::hint() {
    return "Click a joint to turn it · Shift adds one, or takes it away again · the turn is typed or dragged on the "
           "strip";
}

void JointTool::paint(QPainter& painter, const Camera& camera, const QSize& size) const {
    if (!active()) return;
    using theme::Role;
    const Projector projector(camera, size.width(), size.height());
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::color(Role::soft_ink), 1.2));
    for (const Joint& joint : skeleton_.joints)
        if (joint.parent != no_index)
            painter.drawLine(point(projector.to_screen(skeleton_.joints[joint.parent].at)),
                             point(projector.to_screen(joint.at)));
    for (std::size_t j = 0; j < skeleton_.joints.size(); ++j) {
        const Joint& joint = skeleton_.joints[j];
        const QPointF at = point(projector.to_screen(joint.at));
        const bool chosen = named(joint), hot = static_cast<int>(j) == hot_;
        const double radius = chosen || hot ? 6 : 4;
        painter.setPen(QPen(theme::color(chosen ? Role::chosen : Role::act), hot ? 2.4 : 1.4));
        painter.setBrush(theme::color(chosen ? Role::chosen : Role::card));
        painter.drawEllipse(at, radius, radius);
        if (!hot) continue;
        paint_tag(painter, at, QString::fromStdString(joint.name));
    }
}

}  // namespace bricol
