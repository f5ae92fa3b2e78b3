// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panels/panel.h"

#include <algorithm>
#include <vector>

namespace bricol {

namespace {

std::vector<const PanelInfo*>& panels() {
    static std::vector<const PanelInfo*> all;
    return all;
}

}  // namespace

RegisteredPanel::RegisteredPanel(const PanelInfo& info) {
    const auto rank = [](const PanelInfo* p) { return std::pair{p->side, p->place}; };
    panels().insert(std::ranges::upper_bound(panels(), std::pair{info.side, info.place}, {}, rank),
                    new PanelInfo(info));
}

std::span<const PanelInfo* const> all_panels() { return panels(); }

}  // namespace bricol
