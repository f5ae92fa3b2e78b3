// SPDX-License-Identifier: GPL-3.0-or-later
// What may vary: the recipe's dials.
#pragma once

#include <QFrame>
#include <QScrollArea>
#include <QVBoxLayout>
#include <map>

#include "app/details/number_field.h"
#include "app/dials/slider.h"
#include "app/document/session.h"

namespace bricol {

class DialsPanel : public QFrame {
    Q_OBJECT
public:
    explicit DialsPanel(Session& session, QWidget* parent = nullptr);

private:
    struct Row {
        NumberField* field;
        Slider* slider;
    };
    void rebuild();
    void refresh();
    void add_row(const Dial& dial);
    QWidget* make_editor(const Dial& dial);
    void open_menu(const std::string& name, QWidget* at);

    Session& session_;
    QScrollArea* scroll_;
    QVBoxLayout* rows_ = nullptr;
    std::map<std::string, Row> shown_;
    std::vector<std::string> names_;
    std::string editing_;
};

}  // namespace bricol
