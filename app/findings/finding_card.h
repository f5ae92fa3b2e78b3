// SPDX-License-Identifier: GPL-3.0-or-later
// One finding with its remedy and what shows where it is.
#pragma once

#include <functional>

#include "app/document/session.h"

namespace bricol {

/// Lines for a finding, with a button that carries out its remedy and one that shows its places; used by the details
/// and by the list of all findings.
QWidget* finding_card(Session& session, const std::string& part, const std::string& step, const Finding& finding,
                      std::function<void(const std::vector<Vec3>&)> show, QWidget* parent);

}  // namespace bricol
