// SPDX-License-Identifier: GPL-3.0-or-later
// The core's text in the interface's.
#pragma once

#include <QString>
#include <string_view>

namespace bricol {

inline QString text_of(std::string_view text) {
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

/// The same with places where a line may be broken inside words that are too long for one, such as file names: a label
/// is never narrower than its longest word.
inline QString breakable(const QString& text) {
    constexpr int longest = 24;
    QString out;
    int run = 0;
    for (const QChar letter : text) {
        run = letter.isSpace() ? 0 : run + 1;
        out += letter;
        if (run >= longest && !letter.isHighSurrogate()) {
            out += QChar(0x200B);
            run = 0;
        }
    }
    return out;
}

}  // namespace bricol
