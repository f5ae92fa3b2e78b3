// SPDX-License-Identifier: GPL-3.0-or-later
// Panels round the picture; each registers itself in a file of its own.
#pragma once

#include <QString>
#include <functional>
#include <span>
#include <string_view>

class QWidget;

namespace bricol {

class Session;
class Viewport;

enum class PanelSide { left, right, band };

/// What a panel is made with.
struct PanelPlace {
    Session& session;
    Viewport& viewport;
    QWidget* parent;
    std::function<void(const QString& title)> retitle;  ///< another title on its tab, a count for example
};

struct PanelInfo {
    std::string_view id;  ///< "table"
    const char* title;    ///< on its tab, in the band
    const char* tip;
    PanelSide side;
    int place;          ///< from the top, or the left
    bool tall = false;  ///< in the band: wants more room than a row of cards
    QWidget* (*make)(const PanelPlace& place);
};

/// Registers a panel: one at file level, in the panel's own file.
class RegisteredPanel {
public:
    explicit RegisteredPanel(const PanelInfo& info);
};

/// By side and place.
std::span<const PanelInfo* const> all_panels();

}  // namespace bricol
