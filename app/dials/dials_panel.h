// SPDX-License-Identifier: GPL-3.0-or-later
// What may vary: the recipe's dials, under their headings, and the presets above them.
#pragma once

#include <QFrame>
#include <QScrollArea>
#include <QVBoxLayout>
#include <map>

#include "app/dials/dial_row.h"
#include "app/dials/preset_strip.h"

namespace bricol {

class DialsPanel : public QFrame {
    Q_OBJECT
public:
    explicit DialsPanel(Session& session, QWidget* parent = nullptr);

private:
    QHBoxLayout* make_head();
    void add_one();
    void rebuild();
    void refresh();
    void add_row(const Dial& dial);
    void open_menu(const std::string& name, QWidget* at);

    Session& session_;
    PresetStrip* presets_;
    QScrollArea* scroll_;
    QVBoxLayout* rows_ = nullptr;
    std::map<std::string, DialRow> shown_;
    std::vector<std::string> laid_out_;  ///< what decides which rows stand where, dial by dial
    std::string editing_;
};

}  // namespace bricol
