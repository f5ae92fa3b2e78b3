// SPDX-License-Identifier: GPL-3.0-or-later
// The view as a finished picture that refines while the hand rests.
#pragma once

#include <QImage>
#include <QObject>

#include "app/document/session.h"
#include "app/still/still_worker.h"
#include "app/viewport/camera.h"
#include "core/still/staged.h"

namespace bricol {

class StillView : public QObject {
    Q_OBJECT
public:
    StillView(Session& session, QObject* parent);

    /// The light that shines alone, as "part.step"; empty for all.
    const std::string& only_light() const { return only_light_; }
    void set_only_light(const std::string& light);
    /// The standard backdrop, for recipes that have none.
    bool dark() const { return dark_; }
    void set_dark(bool dark);

    /// The hand rests: a picture of this view is begun. `lens` gives sharpness and exposure (null for none).
    void begin(const Camera& camera, const StageCamera* lens, QSize pixels);
    /// Something moved: the picture is no longer what is seen.
    void moved();
    /// The picture so far; null when there is none of what is seen.
    const QImage* picture(QSize pixels) const { return picture_.size() == pixels ? &picture_ : nullptr; }
    /// "64 of 256 paths · noise 2.1 %"; empty when there is no picture.
    QString words() const;
    int samples() const { return samples_; }
    StillWorker& worker() { return worker_; }
    static constexpr int most_samples = 512;

signals:
    void changed();
    /// What lights the shapes is another: the view draws anew.
    void lightChanged();

private:
    Session& session_;
    StillWorker worker_;
    QImage picture_;
    std::string only_light_;
    bool dark_ = false;
    int number_ = 0, samples_ = 0;
    double noise_ = 1;
};

/// The view's camera as pictures are taken through it, in a picture of that shape.
StageCamera stage_camera(const Camera& camera, double aspect);

}  // namespace bricol
