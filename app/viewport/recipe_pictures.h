// SPDX-License-Identifier: GPL-3.0-or-later
// Makes recipe files one after the other behind the window, for pictures of them: the start page, the stock.
#pragma once

#include <QObject>
#include <QStringList>
#include <atomic>
#include <memory>
#include <thread>

#include "app/viewport/shape_picture.h"

namespace bricol {

class RecipePictures : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    ~RecipePictures() override;
    /// Once; whoever asks again is not heard.
    void start(const QStringList& paths);

signals:
    /// What the recipe makes; empty when it could not be read. Comes in the window's thread.
    void made(const QString& path, std::shared_ptr<const bricol::PartShapes> shapes);

private:
    std::thread making_;
    std::atomic<bool> stop_ = false;
};

}  // namespace bricol

Q_DECLARE_METATYPE(std::shared_ptr<const bricol::PartShapes>)
