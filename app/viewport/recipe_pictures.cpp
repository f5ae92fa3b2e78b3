// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/recipe_pictures.h"

#include <QFileInfo>

#include "core/files/kits.h"
#include "core/files/recipe_file.h"

namespace bricol {

namespace {

PartShapes shapes_of(const QString& path, const std::atomic<bool>& stop) {
    const auto recipe = load_recipe(path.toStdString());
    if (!recipe) return {};
    MakeOptions options;
    options.environment = environment_in(QFileInfo(path).absolutePath().toStdString());
    options.stop = &stop;
    return delivered_shapes(*recipe, Maker().make(*recipe, options));
}

}  // namespace

RecipePictures::~RecipePictures() {
    stop_ = true;
    if (making_.joinable()) making_.join();
}

void RecipePictures::start(const QStringList& paths) {
    if (making_.joinable()) return;
    making_ = std::thread([this, paths] {
        for (const QString& path : paths) {
            if (stop_) return;
            auto shapes = std::make_shared<const PartShapes>(shapes_of(path, stop_));
            QMetaObject::invokeMethod(this, [this, path, shapes] { emit made(path, shapes); });
        }
    });
}

}  // namespace bricol
