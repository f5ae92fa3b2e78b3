// SPDX-License-Identifier: GPL-3.0-or-later
// The core's text in the interface's.
#pragma once

#include <QString>
#include <string_view>

namespace bricol {

inline QString text_of(std::string_view text) {
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

}  // namespace bricol
