// SPDX-License-Identifier: GPL-3.0-or-later
// The joints of a body, seen and chosen in the view while a step that turns joints is chosen.
#pragma once

#include <QMouseEvent>
#include <QObject>
#include <QPainter>
#include <QStringList>

#include "app/document/session.h"
#include "app/viewport/camera.h"
#include "core/shape/skeleton.h"

namespace bricol {

class JointTool : public QObject {
    Q_OBJECT
public:
    JointTool(Session& session, QObject* parent);

    /// True when the chosen step turns joints and there are some.
    bool active() const { return !key_.empty() && !skeleton_.joints.empty(); }
    bool press(const QMouseEvent* event, const Camera& camera, const QSize& size);
    void move(const QMouseEvent* event, const Camera& camera, const QSize& size);
    void paint(QPainter& painter, const Camera& camera, const QSize& size) const;
    static QString hint();
    const Skeleton& skeleton() const { return skeleton_; }

signals:
    void changed();

private:
    void refresh();
    int joint_at(const glm::dvec2& pointer, const Camera& camera, const QSize& size) const;
    bool named(const Joint& joint) const;

    Session& session_;
    std::string key_;    ///< the step's parameter that names joints
    Skeleton skeleton_;  ///< as it stands behind the step
    QStringList names_;
    int hot_ = -1;
};

}  // namespace bricol
