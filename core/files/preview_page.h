// SPDX-License-Identifier: GPL-3.0-or-later
// One file of HTML in which an asset turns: everything it needs is inside, nothing is fetched.
#pragma once

#include "core/files/format.h"

namespace bricol {

struct PreviewState {
    std::string name;
    std::vector<NamedShape> shapes;
    std::vector<std::pair<std::string, std::string>> numbers;  ///< what is listed below: a name, and words about it
};

struct PreviewPage {
    std::string title;
    std::vector<PreviewState> states;  ///< a button each; the first is shown
};

/// Shapes go in as binary glTF. Refused: a file that cannot be written.
std::optional<Problem> write_preview(const PreviewPage& page, const std::string& path);

}  // namespace bricol
