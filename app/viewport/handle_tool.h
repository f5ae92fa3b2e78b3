// SPDX-License-Identifier: GPL-3.0-or-later
// The handles of the chosen step: its places, spans, centres and angles, pulled where they are.
#pragma once

#include <QMouseEvent>
#include <QObject>
#include <QPainter>

#include "app/document/session.h"
#include "app/document/step_edits.h"
#include "app/viewport/arrows.h"
#include "app/viewport/typed_number.h"

namespace bricol {

class HandleTool : public QObject {
    Q_OBJECT
public:
    HandleTool(Session& session, QObject* parent);

    double grid_step = 0.1;
    bool shown = true;
    /// Number of handles of the chosen step.
    std::size_t count() const { return handles_.size(); }
    /// Where the handle of a number is drawn; nothing when it has none just now.
    std::optional<DVec3> place_of(const std::string& key) const;

    // Each returns true when the event is used.
    bool press(const QMouseEvent* event, const Camera& camera, const QSize& size);
    bool move(const QMouseEvent* event, const Camera& camera, const QSize& size);
    bool release(const QMouseEvent* event);
    bool key(const QKeyEvent* event);
    bool holding() const { return held_ >= 0; }
    void paint(QPainter& painter, const Camera& camera, const QSize& size) const;

signals:
    void changed();

private:
    struct Handle {
        const ParameterInfo* info = nullptr;
        DVec3 origin{0};  ///< what it starts from
        DVec3 at{0};      ///< where it is caught
        DVec3 axis{0, 0, 1};
        bool in_space = false;  ///< its number is `vector`, otherwise `value`
        double value = 0;
        double zero = 0;  ///< degrees from where angles about its axis begin to where its own do
        DVec3 vector{0};
        std::vector<DVec3> picked;  ///< when it starts from picked places: where they are now
    };
    void refresh();
    std::optional<Handle> handle_of(const ParameterInfo& info, const Values& values, const std::optional<Box>& before,
                                    const std::optional<Box>& after) const;
    /// Where an angle handle's knob turns, and its radius.
    static DVec3 spoke(const Handle& handle, double degrees);
    bool catches(const Handle& handle, const Projector& projector, const glm::dvec2& pointer, int& grip) const;
    static void paint_reach(QPainter& painter, const Handle& handle, const Camera& camera, const Projector& projector);
    void send(const Handle& from, double value, const DVec3& vector);
    void finish_typed();
    /// Box of all that was made; nothing when there is nothing.
    std::optional<Box> everything() const;

    Session& session_;
    std::vector<Handle> handles_;
    double span_ = 1;  ///< size of what is shown of the step (metres)
    int held_ = -1, last_ = -1, grip_ = arrows::none, hot_ = -1, hot_grip_ = arrows::none, pull_number_ = 0;
    std::optional<Box> after_;
    glm::dvec2 from_{0}, pointer_{0};
    Handle before_;
    Recipe recipe_before_;
    TypedNumber typed_;
};

}  // namespace bricol
