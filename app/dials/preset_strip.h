// SPDX-License-Identifier: GPL-3.0-or-later
// Presets above the dials: one click goes there, the second goes back.
#pragma once

#include <QLineEdit>
#include <QWidget>

#include "app/document/session.h"

namespace bricol {

class PresetStrip : public QWidget {
    Q_OBJECT
public:
    explicit PresetStrip(Session& session, QWidget* parent = nullptr);
    /// Asks for a name under which the dials are kept as they stand.
    void ask_for_name(const std::string& renamed = {});

private:
    void rebuild();
    void refresh();
    void go(const std::string& name);
    void open_menu(const std::string& name, QWidget* at);
    void take_name();

    Session& session_;
    QLineEdit* name_;
    QWidget* buttons_;
    std::vector<std::string> names_;
    std::string gone_to_, renamed_;
    WrittenDials before_;  ///< how the dials stood before the last preset was gone to
};

}  // namespace bricol
